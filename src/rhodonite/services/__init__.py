"""What people do: read rows, ask the core, write rows and journal in one transaction. Permissions are checked here.

What areas register is imported here, so that it is there wherever a service is called from: the steps that follow a
change of tasks, what comes along with a copy, and the work of jobs.
"""

from .board import blanks, limits
from .cost import budgets, costs
from .goals import on_projects
from .portfolio import parts
from .resources import booking, levelling, load, own_time
from .schedule import drafts, plan_files, reschedule
from .talk import copies, notices
from .tasks import csv_import, recurrence, tasks
from .time import entries, ledger
from .views import csv_export, tied

__all__ = [
    "blanks",
    "booking",
    "budgets",
    "copies",
    "costs",
    "csv_export",
    "csv_import",
    "drafts",
    "entries",
    "ledger",
    "levelling",
    "limits",
    "load",
    "notices",
    "on_projects",
    "own_time",
    "parts",
    "plan_files",
    "recurrence",
    "reschedule",
    "tasks",
    "tied",
]
