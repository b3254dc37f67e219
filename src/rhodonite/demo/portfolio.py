"""The demo's portfolio over all projects, with two larger items of its own that are tied to their deliverables."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from datetime import date

from ..core.tasks.custom_fields import CustomField
from ..services.common.context import Actor, new_id
from ..services.portfolio.parts import NewPart, join_part, start_portfolio
from ..services.portfolio.shown import read_portfolio
from ..services.tasks import projects, tasks, workflow
from ..store.common.database import Database

CODE = "COAST"
LATEST = 2**31 - 1
COLUMNS = {"Ready": "Ahead", "Under way": "In the works", "In review": "Being tried", "Finished": "Open to visitors"}
"""By the name of a state that every workflow begins with what it is called on the board of the portfolio."""
PARTS = ("LAN", "MIL", "SEA", "FOS", "KIO", "OPN")
SHOWS = "level:1"
ITEMS: Mapping[str, tuple[str, str, int, Mapping[str, tuple[str, ...]]]] = {
    "The light is lit again": ("IN", "must", 40, {"LAN": ("Glazing", "Lens and drive", "Handing over"), "OPN": ("Programme",)}),
    "Visitors come in by the tide mill": (
        "ZM",
        "should",
        28,
        {"MIL": ("Shell and services", "Visitor rooms"), "KIO": ("Buying a ticket",)},
    ),
}
"""By title the owner, the priority, in how many days it is to be there, and by project the titles that it is tied to."""


def lay_out(database: Database, as_: Callable[[str], Actor], today: date, days: Callable[[int], date]) -> None:
    """Start the portfolio, join every project, and tie its items.

    Args:
        as_: gives somebody by their initials, with an id of its own for each change.
        today: on which it starts; ``days`` gives the day so many working days from it.
    """
    name, what = (
        "All along the coast",
        "What the trustees look at: every project, and what it takes to open the light and the mill.",
    )
    new = projects.NewProject(new_id(), CODE, name, what, today, False)
    database.write(start_portfolio, as_("IN"), new)
    started = database.read(projects.read_project, as_("IN"), CODE)
    for state in started.project.states:
        if state.name in COLUMNS:
            database.write(workflow.edit_state, as_("IN"), CODE, state.id, {"name": COLUMNS[state.name]})
    for code in PARTS:
        part = NewPart(new_id(), code, SHOWS, {})
        database.write(join_part, as_("IN"), CODE, part)
    tied = next(one for one in started.defined if isinstance(one, CustomField) and one.type == "tied")
    _add_items(database, as_, tied.key, days)


def _add_items(database: Database, as_: Callable[[str], Actor], field: str, days: Callable[[int], date]) -> None:
    shown = database.read(read_portfolio, as_("IN"), CODE)
    for title, (owner, priority, ahead, ties) in ITEMS.items():
        ids = [
            found[0]
            for code, names in ties.items()
            for name in names
            if (found := [i.row.task.id for i in shown.items if i.project.code == code and i.row.task.title == name])
        ]
        fields = {"owner_id": as_(owner).person.id, "priority": priority, "deadline": days(ahead).isoformat()}
        task_id = new_id()
        database.write(tasks.add_tasks, as_("IN"), CODE, [tasks.NewTask(task_id, title, None, "end", fields)])
        database.write(tasks.edit_tasks, as_("IN"), CODE, [tasks.TaskEdit(task_id, LATEST, {field: ids})])
