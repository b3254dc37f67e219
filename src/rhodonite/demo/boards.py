"""The demo's boards: two streams of work in the kiosk project, with steps, lanes, a backlog by quarter, limits and blanks."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any

from ..core.tasks.model import State
from ..services.common.context import Actor, new_id
from ..services.tasks import custom_fields as definitions
from ..services.tasks import projects, tasks, workflow
from ..store.common.database import Database

LATEST = 2**31 - 1
"""A revision after which nobody has changed anything."""


@dataclass(frozen=True, slots=True)
class Board:
    """What is arranged on the board of a project.

    Attributes:
        name: of the main workflow.
        columns: by state what is set of it.
        split: by state its steps, and the limit of the first.
        streams: further workflows: name, kinds, and what becomes of the states that each begins with.
        lanes: name, settings; a kind in ``where`` is named.
        backlog: by period, which begins with so many quarters from now, the titles that lie in it.
        in_lanes: by lane the titles that are put into it by hand.
        blanks: name and what it makes; kinds are named.
    """

    name: str
    columns: Mapping[str, Mapping[str, Any]]
    split: Mapping[str, tuple[str, str, int | None]]
    streams: tuple[tuple[str, tuple[str, ...], Mapping[str, Mapping[str, Any]]], ...]
    lanes: tuple[tuple[str, Mapping[str, Any]], ...]
    backlog: tuple[tuple[str, int | None, tuple[str, ...]], ...]
    in_lanes: Mapping[str, tuple[str, ...]]
    blanks: tuple[tuple[str, Mapping[str, Any]], ...]


BOARDS = {
    "KIO": Board(
        name="Features",
        columns={
            "Ready": {"entry_rule": "Worded so that a visitor would understand it"},
            "Under way": {"column_limit": 3},
            "In review": {"limit": 2, "exit_rule": "Tried on a machine, in the rain"},
        },
        split={"Under way": ("Building", "Ready to try", 1)},
        streams=(
            ("Repairs", ("defect",), {
                "Ready": {"name": "Reported", "entry_rule": "With a picture and the number of the machine"},
                "Under way": {"name": "On the pier", "limit": 2},
                "In review": {"name": "Watched for a week"},
                "Finished": {"name": "Closed"},
            }),
        ),
        lanes=(
            ("Urgent", {"shape": "triangle", "colour": "ember", "limit": 1, "joins": ("Under way", "In review")}),
            ("Tickets", {"shape": "drop", "colour": "violet", "where": {"all": [["kind", "any", ["story"]]]}}),
        ),
        backlog=(
            ("This quarter", 0, ("Refund before sailing", "Nightly figures to the site office")),
            ("Next quarter", 1, ("Screen reader walk-through", "Ticket in Welsh and Breton")),
            ("Later", None, ("Buy for a whole class",)),
        ),
        in_lanes={"Urgent": ("Pay by card",)},
        blanks=(
            ("Fault on a machine", {"kind": "defect", "fields": {"priority": "must", "effort": 240},
                                    "checks": ["Picture of the screen", "Number of the machine", "Started anew once"]}),
            ("Story with its trial", {"kind": "story", "fields": {"priority": "should"}, "below": [
                {"title": "Word it with two visitors", "fields": {"effort": 120}},
                {"title": "Build it", "fields": {"effort": 960}},
                {"title": "Try it on the pier", "fields": {"effort": 240}, "checks": ["Dry", "Wet", "In the dark"]},
            ]}),
        ),
    ),
}  # fmt: skip


def arrange_board(database: Database, who: Callable[[], Actor], code: str, ids: Mapping[str, str], today: date) -> None:
    """Arrange the board of a project, as its lead would.

    Args:
        who: gives the lead, with an id of its own for each change.
        ids: of tasks, by their titles.
        today: from which quarters are counted.
    """
    board = BOARDS.get(code)
    if board is None:
        return

    def write(service: Callable[..., Any], *args: Any) -> None:
        database.write(service, who(), code, *args)

    def states() -> dict[str, State]:
        """Of the main workflow, by name."""
        return {one.name: one for one in database.read(projects.read_project, who(), code).project.states if not one.workflow_id}

    kinds = {one.name: one.id for one in database.read(projects.read_project, who(), code).defined}
    write(projects.edit_project, LATEST, {"workflow_name": board.name})
    for name, (first, second, limit) in board.split.items():
        write(workflow.split_state, states()[name].id, new_id(), first, second)
        write(workflow.edit_state, states()[name].id, {"limit": limit})
    for name, fields in board.columns.items():
        write(workflow.edit_state, states()[name].id, dict(fields))
    for name, through, columns in board.streams:
        _add_stream(database, who, code, name, [kinds.get(one, one) for one in through], columns)
    lanes = {name: new_id() for name, _ in board.lanes}
    for name, settings in board.lanes:
        write(definitions.add_definition, "lane", lanes[name], name, _lane(settings, states(), kinds))
    for name, quarters, titles in board.backlog:
        period = new_id()
        write(definitions.add_definition, "period", period, name, _quarter(today, quarters))
        write(tasks.edit_tasks, [tasks.TaskEdit(ids[one], LATEST, {"period_id": period}) for one in titles])
    for name, titles in board.in_lanes.items():
        write(tasks.edit_tasks, [tasks.TaskEdit(ids[one], LATEST, {"lane_id": lanes[name]}) for one in titles])
    for name, task in board.blanks:
        made = {**task, "kind": kinds.get(task["kind"], task["kind"])}
        write(definitions.add_definition, "blank", new_id(), name, {"task": made})


def _add_stream(
    database: Database, who: Callable[[], Actor], code: str, name: str, kinds: list[str], columns: Mapping[str, Any]
) -> None:
    stream = new_id()
    database.write(definitions.add_definition, who(), code, "workflow", stream, name, {"kinds": kinds})
    project = database.read(projects.read_project, who(), code).project
    for state in project.states_of(stream):
        if state.name in columns:
            database.write(workflow.edit_state, who(), code, state.id, dict(columns[state.name]))


def _lane(settings: Mapping[str, Any], states: Mapping[str, State], kinds: Mapping[str, str]) -> dict[str, Any]:
    made = dict(settings)
    if "joins" in made:
        made["joins"] = [[states[one].id for one in made["joins"]]]
    if "where" in made:
        ((joined, clauses),) = made["where"].items()
        made["where"] = {joined: [[key, operator, [kinds.get(one, one) for one in some]] for key, operator, some in clauses]}
    return made


def _quarter(today: date, ahead: int | None) -> dict[str, Any]:
    """The days of the quarter that lies so many after that of a day; none for what has no end."""
    if ahead is None:
        return {}
    month = (today.month - 1) // 3 * 3 + ahead * 3
    first = date(today.year + month // 12, month % 12 + 1, 1)
    after = date(first.year + (first.month + 2) // 12, (first.month + 2) % 12 + 1, 1)
    return {"first": first.isoformat(), "last": (after - timedelta(days=1)).isoformat()}
