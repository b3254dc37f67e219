"""Laws over the whole of store, services and core: any sequence of uses, on a real MariaDB."""

from __future__ import annotations

import random
from typing import Any

import orjson
import pytest

from rhodonite.core.people.model import Person
from rhodonite.services.common.context import Actor, Clock
from rhodonite.services.common.plan_cache import PLANS, PlanCache
from rhodonite.store.common.database import Database, fetch_all
from rhodonite.store.tasks import projects as project_rows
from tests.conftest import Caller, state_id


class Hand:
    """Does things to a project at random, as people do, and notes each change.

    Args:
        caller: the person who acts.
        seed: makes a run repeatable.
    """

    def __init__(self, caller: Caller, seed: int, people: dict[str, Person]) -> None:
        self._caller = caller
        self._chance = random.Random(seed)
        self._people = [person.id for person in people.values()]
        self._states = [state["id"] for state in caller("GET", "/projects/LAN")["states"]]
        self.changes: list[str] = []

    def _rows(self) -> list[dict[str, Any]]:
        return self._caller("GET", "/projects/LAN/tasks")["rows"]

    def _some(self, rows: list[dict[str, Any]], most: int = 3) -> list[dict[str, Any]]:
        return self._chance.sample(rows, min(len(rows), self._chance.randint(1, most)))

    def _send(self, method: str, path: str, body: Any) -> None:
        """Send something; what a rule refuses is no change."""
        answer = self._caller.client.request(method, f"/api/projects/LAN/tasks{path}", json=body)
        assert answer.status_code in {200, 422}, answer.text
        if answer.status_code == 200:
            self.changes.append(answer.json()["change"])

    def act(self) -> None:
        """One use, chosen at random."""
        rows = self._rows()
        if len(rows) < 4:
            return self._add(rows)
        return self._chance.choice(
            [
                self._add,
                self._edit,
                self._edit,
                self._edit,
                self._link,
                self._link,
                self._move,
                self._step,
                self._drop,
                self._delete,
            ]
        )(rows)

    def _add(self, rows: list[dict[str, Any]]) -> None:
        parent = self._chance.choice([None, *(row["id"] for row in rows if row["kind"] != "milestone")])
        body = {
            "title": f"Task {self._chance.randint(1, 999)}",
            "parent_id": parent,
            "after_id": self._chance.choice([None, "end"]),
        }
        self._send("POST", "", {"tasks": [body]})

    def _edit(self, rows: list[dict[str, Any]]) -> None:
        pick = self._chance.choice
        fields = pick(
            [
                {"title": f"Renamed {self._chance.randint(1, 999)}"},
                {"start": f"2027-03-{self._chance.randint(1, 28):02}", "duration": f"{self._chance.randint(1, 9)} d"},
                {"finish": f"2027-04-{self._chance.randint(1, 28):02}"},
                {"percent": self._chance.randint(0, 100)},
                {"state_id": pick(self._states)},
                {"owner_id": pick([None, *self._people])},
                {"helpers": self._chance.sample(self._people, 2)},
                {"held_reason": pick(["rain", ""])},
                {"kind": pick(["task", "milestone", "defect"])},
                {"effort": f"{self._chance.randint(1, 40)}"},
                {"deadline": pick(["2027-03-20", None])},
                {"push_to": "next mon"},
                {"duration": f"{self._chance.randint(1, 9)} d"},
                {"constraint_type": pick(["must_start", "must_finish", "asap", "alap", "finish_no_later"])},
                {"start": None},
                {"description": f"Text {self._chance.randint(1, 99)}"},
            ]
        )
        edits = [{"id": row["id"], "revision": row["revision"], "fields": fields} for row in self._some(rows)]
        self._send("PATCH", "", {"tasks": edits})

    def _link(self, rows: list[dict[str, Any]]) -> None:
        lag = self._chance.choice([0, 0, 450, -225])
        kind = self._chance.choice(["FS", "FS", "SS", "FF", "SF"])
        waits = [{"from_id": row["id"], "type": kind, "lag": lag, "elapsed": lag > 0} for row in self._some(rows, 2)]
        task = self._chance.choice(rows)
        self._send("PATCH", "", {"tasks": [{"id": task["id"], "revision": task["revision"], "fields": {"waits_for": waits}}]})

    def _move(self, rows: list[dict[str, Any]]) -> None:
        parent = self._chance.choice([None, *(row["id"] for row in rows)])
        body = {
            "ids": [row["id"] for row in self._some(rows)],
            "parent_id": parent,
            "after_id": self._chance.choice([None, "end"]),
        }
        self._send("POST", "/move", body)

    def _step(self, rows: list[dict[str, Any]]) -> None:
        how = self._chance.choice(["indent", "outdent", "up", "down"])
        self._send("POST", "/step", {"ids": [row["id"] for row in self._some(rows)], "how": how})

    def _drop(self, rows: list[dict[str, Any]]) -> None:
        leaves = [row for row in rows if not row["is_summary"]]
        body = {"ids": [row["id"] for row in self._some(leaves, 2)], "state_id": self._chance.choice(self._states)}
        self._send("POST", "/drop", body | {"after_id": self._chance.choice([None, leaves[0]["id"]])})

    def _delete(self, rows: list[dict[str, Any]]) -> None:
        self._send("POST", "/delete", {"ids": [self._chance.choice(rows)["id"]]})


def shown(caller: Caller) -> dict[str, dict[str, Any]]:
    """The rows by id, but for the revision, which only ever counts up."""
    rows = caller("GET", "/projects/LAN/tasks")["rows"]
    return {row["id"]: {key: value for key, value in row.items() if key != "revision"} for row in rows}


@pytest.fixture
def hand(request: pytest.FixtureRequest, ines: Caller, people: dict[str, Person]) -> Hand:
    return Hand(ines, request.param, people)


SEEDS = [3, 14, 159, 2653]


@pytest.mark.parametrize("hand", SEEDS, indirect=True)
def test_a_plan_followed_change_by_change_equals_one_read_anew(
    hand: Hand, ines: Caller, database: Database, clock: Clock
) -> None:
    """A process that reads only what changed holds what one that starts now reads."""
    follower = PlanCache()

    def held(cur: Any, plans: PlanCache) -> dict[str, bytes]:
        project = project_rows.project_by_code(cur, "LAN")
        assert project is not None
        return dict(plans.at(cur, project, clock.now()).encoded)

    for _ in range(12):
        for _ in range(3):
            hand.act()
        assert database.read(held, follower) == database.read(held, PlanCache())


@pytest.mark.parametrize("hand", SEEDS, indirect=True)
def test_a_client_that_asks_for_changes_holds_what_the_server_holds(hand: Hand, ines: Caller, clock: Clock) -> None:
    """Merging what changed since a mark, through any changes and the passing of time, gives all rows."""
    mine: dict[str, dict[str, Any]] = {}
    mark = ""
    for round_number in range(14):
        hand.act()
        hand.act()
        if round_number % 5 == 4:
            clock.set(clock.now().replace(day=clock.now().day + 2))
        answer = ines("GET", "/projects/LAN/tasks", params={"since": mark} if mark else {})
        if answer["complete"]:
            mine = {}
        mine |= {row["id"]: row for row in answer["rows"]}
        for gone in answer["gone"]:
            mine.pop(gone, None)
        mark = answer["mark"]
        assert mine == {row["id"]: row for row in ines("GET", "/projects/LAN/tasks")["rows"]}


@pytest.mark.parametrize("hand", SEEDS, indirect=True)
def test_taking_everything_back_leaves_what_was_there_before(hand: Hand, ines: Caller) -> None:
    """Every use has an exact opposite: undone in reverse order, nothing remains."""
    for _ in range(6):
        hand.act()
    before, done = shown(ines), len(hand.changes)
    for _ in range(25):
        hand.act()
    after = shown(ines)
    undone = [ines("POST", f"/changes/{change}/undo")["change"] for change in reversed(hand.changes[done:])]
    assert shown(ines) == before
    for change in reversed(undone):  # and all of it can be done again
        ines("POST", f"/changes/{change}/undo")
    assert shown(ines) == after


@pytest.mark.parametrize("hand", SEEDS[:2], indirect=True)
def test_the_journal_leads_from_nothing_to_what_is_there(hand: Hand, ines: Caller, database: Database) -> None:
    """Played from the first entry to the last, the journal gives the tasks as they are stored."""
    for _ in range(40):
        hand.act()
    entries = database.read(fetch_all, "SELECT subject_id, field, new FROM journal WHERE subject = 'task' ORDER BY id")
    played: dict[str, dict[str, Any]] = {}
    for subject, field, new in entries:
        played.setdefault(subject, {})[field] = None if new is None else orjson.loads(new)
    tracked = ["parent_id", "owner_id", "percent", "title", "state_id", "held_reason", "kind", "pushes", "duration"]
    stored = database.read(fetch_all, f"SELECT id, {', '.join(tracked)} FROM tasks")
    for task_id, *values in stored:
        for field, value in zip(tracked, values, strict=True):
            told = played[task_id].get(
                field, {"title": played[task_id]["created"]["title"], "percent": 0, "kind": "task", "pushes": 0}.get(field)
            )
            assert told == value, (task_id, field)


def test_numbers_are_never_given_twice(ines: Caller) -> None:
    first = ines.add("A")
    ines("POST", "/projects/LAN/tasks/delete", {"ids": [first["id"]]})
    assert ines.add("B")["number"] == first["number"] + 1


def test_a_plan_that_was_let_go_is_read_again(ines: Caller, database: Database, actor: Actor) -> None:
    ines.add("A")
    mark = ines("GET", "/projects/LAN/tasks")["mark"]
    ines.add("B")
    PLANS.clear()
    answer = ines("GET", "/projects/LAN/tasks", params={"since": mark})
    assert answer["complete"]
    assert {row["title"] for row in answer["rows"]} == {"A", "B"}


def test_a_deleted_state_is_not_put_back_by_undo(ines: Caller) -> None:
    row = ines.add("A", state_id=state_id(ines, "In review"))
    body = {"tasks": [{"id": row["id"], "revision": row["revision"], "fields": {"state_id": state_id(ines, "Ready")}}]}
    change = ines("PATCH", "/projects/LAN/tasks", body)["change"]
    ines("DELETE", f"/projects/LAN/states/{state_id(ines, 'In review')}?move_to={state_id(ines, 'Ready')}")
    assert "has been deleted" in ines("POST", f"/changes/{change}/undo", expect=422)["detail"]
