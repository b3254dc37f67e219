"""The lifecycle of whatever is attached to a task: each cell of the table in ``lifecycle.py`` is tried."""

from __future__ import annotations

import uuid
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest

from rhodonite.core.people.model import Person
from tests.conftest import Caller

from ..time.test_time import DAY, enter
from .lifecycle import COLUMNS, TABLE, write_table

FOLIO = Path(__file__).parents[3] / "web" / "src" / "shell" / "folio" / "index.tsx"
DOCS = Path(__file__).parents[3] / "docs" / "lifecycle.md"


class World:
    """LAN and MIL with all that is attached to tasks in them switched on, led by Ines."""

    def __init__(self, lead: Caller, tomas: Caller, boss: Caller, people: dict[str, Person]) -> None:
        self.lead, self.tomas, self.boss, self.who = lead, tomas, boss, people
        lead("POST", "/projects", {"code": "MIL", "name": "Tide Mill", "start_day": "2027-03-08"})
        lead("POST", "/projects", {"code": "SEA", "name": "Seabirds", "start_day": "2027-03-08"})
        for code in ("LAN", "MIL"):
            lead("PATCH", f"/projects/{code}", {"revision": 99, "hours": True, "time": True, "costs": True})
            lead("PUT", f"/projects/{code}/members/{people['member'].id}", {"role": "contributor"})
        self.task = lead.add("Glaze", start="2027-03-15", duration="5 d")

    def define(self, sort: str, name: str, code: str = "LAN", **settings: Any) -> str:
        made = str(uuid.uuid4())
        self.lead("POST", f"/projects/{code}/defined/{sort}", {"id": made, "name": name, "settings": settings})
        return made

    def edit(self, **fields: Any) -> None:
        self.lead.edit(self.lead.rows()["Glaze"], **fields)

    def row(self, code: str, task_id: str) -> dict[str, Any]:
        rows = self.lead("GET", f"/projects/{code}/tasks")["rows"]
        found: dict[str, Any] = next(one for one in rows if one["id"] == task_id)
        return found

    def detail(self, task_id: str) -> Any:
        return self.lead("GET", f"/tasks/{task_id}")

    def accept(self) -> None:
        self.tomas("POST", "/time-sheet/hand-in", {"day": DAY})
        self.lead("POST", "/time-sheet/judge", {"person_id": self.who["member"].id, "day": DAY, "accept": True})


Attach = Callable[[World], None]
Look = Callable[[World, str, str], Any]
"""What is attached to a task: of a world, the code of its project and its id. Nothing, 0 or an empty list: nothing is."""


def _field(name: str) -> Look:
    return lambda world, code, task_id: world.row(code, task_id)[name]


def _booked(world: World, code: str, task_id: str) -> Any:
    return [[one["who"], one["minutes"], one["by_day"], one["amount"]] for one in world.row(code, task_id)["bookings"]]


def _entered(world: World, code: str, task_id: str) -> Any:
    return sum(one["minutes"] for one in world.lead("GET", f"/tasks/{task_id}/time")["entries"])


def _expenses(world: World, code: str, task_id: str) -> Any:
    return [one["amount"] for one in world.lead("GET", f"/tasks/{task_id}/cost")["expenses"]]


def _invoice(world: World) -> None:
    enter(world.tomas, world.task, 60)
    world.lead("POST", "/projects/LAN/invoices", {"id": str(uuid.uuid4()), "client": "City", "first": DAY, "last": DAY})


def _accepted(world: World) -> None:
    enter(world.tomas, world.task, 60)
    world.accept()


def _expense(world: World) -> None:
    world.lead("POST", "/projects/LAN/expenses", {"expenses": [{"task_id": world.task["id"], "day": DAY, "amount": "12.40"}]})


def _sum(world: World) -> None:
    permit = str(uuid.uuid4())
    world.lead.client.post("/api/resources", json={"id": permit, "name": "Permit", "kind": "fixed"})
    world.edit(bookings=[{"who": permit, "resource": True, "of": "fixed", "amount": 350_500}])


def _calendar(world: World) -> None:
    night = str(uuid.uuid4())
    world.lead("PUT", f"/projects/LAN/calendars/{night}", {"name": "Night", "week": {"mon": [["20:00", "24:00"]]}})
    world.edit(calendar_id=night)


def _file(world: World) -> None:
    world.lead.client.post(f"/api/tasks/{world.task['id']}/files", files={"file": ("plan.txt", b"north rail")})


def _tie(world: World) -> None:
    other = world.lead.add("Nest boxes", "SEA")
    fields = [world.define("fields", "Work", code, type="tied", carries=["percent"]) for code in ("LAN", "MIL")]
    world.edit(**{f"own.{fields[0]}": [other["id"]]})


def _tied(world: World, code: str, task_id: str) -> Any:
    return list(world.row(code, task_id)["own"].values())


def _own_field(world: World) -> None:
    world.edit(**{f"own.{world.define('fields', 'Weight', type='number')}": 12})


def _checks(world: World, code: str, task_id: str) -> Any:
    return [[each["text"] for each in one["checks"]] for one in world.detail(task_id)["checklists"]]


ATTACHED: dict[str, tuple[Attach, Look]] = {
    "owner": (lambda w: w.edit(owner_id=w.who["member"].id), _field("owner_id")),
    "helper": (lambda w: w.edit(helpers=[w.who["member"].id]), _field("helpers")),
    "priority": (lambda w: w.edit(priority="must"), _field("priority")),
    "effort": (lambda w: w.edit(effort="12 h"), _field("effort")),
    "deadline": (lambda w: w.edit(deadline="2027-04-09"), _field("deadline")),
    "what is kept when hours change": (lambda w: w.edit(keeps="length"), _field("keeps")),
    "pin": (
        lambda w: w.edit(constraint_type="must_start", constraint_at="2027-03-22T09:00"),
        lambda w, code, one: w.row(code, one)["constraint_type"] == "must_start" and w.row(code, one)["constraint_at"],
    ),
    "kind of the project": (
        lambda w: w.edit(kind=w.define("kinds", "Inspection")),
        lambda w, code, one: w.row(code, one)["kind"] != "task" and w.row(code, one)["kind"],
    ),
    "mark": (lambda w: w.edit(marks=[w.define("marks", "Watch")]), _field("marks")),
    "field of its own": (_own_field, _tied),
    "lane": (lambda w: w.edit(lane_id=w.define("lanes", "North")), _field("lane_id")),
    "period": (lambda w: w.edit(period_id=w.define("periods", "Spring")), _field("period_id")),
    "calendar of its own": (_calendar, _field("calendar_id")),
    "percent done": (lambda w: w.edit(percent=40), _field("percent")),
    "held": (lambda w: w.edit(held_reason="no glass"), _field("held_reason")),
    "repeat": (lambda w: w.edit(repeats={"words": "every week"}), lambda w, c, one: (w.row(c, one)["repeats"] or {}).get("words")),
    "booking": (lambda w: w.edit(bookings=[{"who": w.who["member"].id, "minutes": 600}]), _booked),
    "hours by day": (lambda w: w.edit(bookings=[{"who": w.who["member"].id, "by_day": [300, 60, 240]}]), _booked),
    "fixed sum": (_sum, _booked),
    "hours recorded": (lambda w: enter(w.tomas, w.task, 60), _entered),
    "hours accepted": (_accepted, _entered),
    "hours invoiced": (_invoice, _entered),
    "expense": (_expense, _expenses),
    "description": (lambda w: w.edit(description="<p>north rail</p>"), lambda w, _, one: w.detail(one)["description"]),
    "checklist": (
        lambda w: w.lead("POST", f"/tasks/{w.task['id']}/checklists", {"name": "Foundry", "items": ["Sand"]}), _checks,
    ),
    "file": (_file, lambda w, _, one: [each["name"] for each in w.detail(one)["files"]]),
    "comment": (
        lambda w: w.lead("POST", f"/tasks/{w.task['id']}/comments", {"body": "<p>Sand comes</p>"}),
        lambda w, _, one: [each["body"] for each in w.detail(one)["comments"]],
    ),
    "tie to another project": (_tie, _tied),
}  # fmt: skip


@pytest.fixture
def world(ines: Caller, sign_in: Any, people: dict[str, Person]) -> World:
    return World(ines, sign_in("member"), sign_in("administrator"), people)


def _copied(world: World, code: str, *, moves: bool = False) -> tuple[str, list[str]]:
    """A task's copy, with what was said beforehand of what does not come along."""
    there = str(uuid.uuid4())
    body = {"ids": {world.task["id"]: there}, "code": code, "moves": moves}
    lost = world.lead("POST", "/projects/LAN/copies/preview", body)["lost"]
    world.lead("POST", "/projects/LAN/copies", body)
    return there, lost


def _happen(world: World, column: str) -> tuple[str, str, list[str]]:
    """Let something happen to the task. Returns the code and id of where to look, and what was said beforehand."""
    lead, task_id = world.lead, world.task["id"]
    if column == "restored":
        lead("POST", "/projects/LAN/tasks/delete", {"ids": [task_id]})
        lead("POST", "/projects/LAN/tasks/restore", {"ids": [task_id]})
    elif column == "undone":
        change = lead("POST", "/projects/LAN/tasks/delete", {"ids": [task_id]})["change"]
        lead("POST", f"/changes/{change}/undo")
    elif column == "archived":
        for archived in (True, False):
            lead("PATCH", "/projects/LAN", {"revision": 999, "archived": archived})
    elif column == "merged":
        into = lead.add("Glaze again", start="2027-03-15", duration="5 d")
        lead("POST", "/projects/LAN/tasks/merge", {"task_id": task_id, "into_id": into["id"]})
        return "LAN", into["id"], [_MERGED]
    elif column == "left":
        world.boss("PATCH", f"/people/{world.who['member'].id}", {"active": False})
    elif column == "copied_here":
        return "LAN", *_copied(world, "LAN")
    else:
        return "MIL", *_copied(world, "MIL", moves=column == "moved")
    return "LAN", task_id, []


_MERGED = "It keeps its people, dates and fields, and leaves the backlog."
"""As the page says before two tasks are merged."""


def _judge(before: Any, after: Any, said: list[str], column: str, stays: bool) -> str:
    if after == before:
        return "follows"
    if after:
        return f"becomes another: {before} → {after}"
    if stays and said:
        return "stays"
    if said:
        return "dropped, announced"
    return "begins anew" if column.startswith("copied") else "lost without a word"


@pytest.mark.parametrize("column", COLUMNS)
@pytest.mark.parametrize("name", ATTACHED)
def test_what_is_attached_does_as_the_table_says(name: str, column: str, world: World) -> None:
    attach, look = ATTACHED[name]
    attach(world)
    before = look(world, "LAN", world.task["id"])
    assert before, f"{name} was not attached"
    code, task_id, said = _happen(world, column)
    if column == "merged":
        stays = look(world, "LAN", world.task["id"]) == before
    else:
        stays = column == "moved" and world.lead("GET", f"/time-report?first={DAY}&last={DAY}&by=project")["total"]["minutes"] > 0
    assert _judge(before, look(world, code, task_id), said, column, stays) == TABLE[name][column]


def test_everything_that_is_attached_is_in_the_table_and_in_the_docs() -> None:
    assert ATTACHED.keys() == TABLE.keys()
    assert all(cells.keys() == COLUMNS.keys() for cells in TABLE.values())
    assert _MERGED in " ".join(FOLIO.read_text().split())
    assert DOCS.read_text() == write_table(), "Write it anew: python -m tests.api.common.write_lifecycle"
