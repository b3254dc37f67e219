"""What people do: read rows, ask the core, write rows and journal in one transaction. Permissions are checked here.

What areas register is imported here, so that it is there wherever a service is called from: the steps that follow a
change of tasks, what comes along with a copy, and the work of jobs.
"""

from .cost import budgets, costs
from .resources import booking, levelling, load, own_time
from .schedule import drafts, plan_files, reschedule
from .talk import copies, notices
from .tasks import csv_import, recurrence, tasks
from .time import entries, ledger

__all__ = [
    "booking",
    "budgets",
    "copies",
    "costs",
    "csv_import",
    "drafts",
    "entries",
    "ledger",
    "levelling",
    "load",
    "notices",
    "own_time",
    "plan_files",
    "recurrence",
    "reschedule",
    "tasks",
]
