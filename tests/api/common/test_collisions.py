"""Two at once: whoever changes another field of the same thing finds their own change and the other's there afterwards, of what
only one may do one does it, and nobody is told of a deadlock."""

from __future__ import annotations

import threading
import uuid
from collections.abc import Callable, Sequence
from typing import Any

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient

from rhodonite.core.people.model import Person
from rhodonite.services.common.context import Clock
from rhodonite.services.people.people import _open_session
from rhodonite.store.common.database import Database
from tests.conftest import Caller
from tests.memory import check_memory

from .routes import Walk, call, filled
from .tables import Tables, read_tables
from .test_undo_everything import WRITES

ROUNDS = 20
PARTS = 4

PAIRS: dict[tuple[str, str], tuple[Any, Any]] = {
    ("PATCH", "/api/people/{person_id}"): ({"title": "Keeper {n}"}, {"name": "Mila {n}"}),
    ("PATCH", "/api/projects/{code}"): ({"revision": 999, "description": "{n}"}, {"revision": 999, "client": "City {n}"}),
    ("PATCH", "/api/projects/{code}/states/{state_id}"): ({"limit": "{#}"}, {"name": "Review {n}"}),
    ("PATCH", "/api/projects/{code}/parts/{part_id}"): ({"shows": "level:{n}"}, {"states": {}}),
    ("PATCH", "/api/projects/{code}/tasks"): (
        {"tasks": [{"id": "{task_id}", "revision": 999, "fields": {"percent": "{#}"}}]},
        {"tasks": [{"id": "{task_id}", "revision": 999, "fields": {"title": "Bars {n}"}}]},
    ),
    ("PATCH", "/api/projects/{code}/agreed/{plan_id}"): ({"name": "Signed {n}"}, {"note": "{n}"}),
    ("PATCH", "/api/projects/{code}/drafts/{draft_id}"): ({"name": "Crew {n}"}, {"shared": True}),
    ("PATCH", "/api/session/preferences"): ({"ripple_days": "{#}"}, {"digest_hour": "{#}"}),
    ("PATCH", "/api/comments/{comment_id}"): ({"resolved": True}, {"body": "<p>{n}</p>"}),
    ("PATCH", "/api/checks/{check_id}"): ({"done": True}, {"text": "Sand {n}"}),
    ("PATCH", "/api/projects/{code}/defined/{sort}/{definition_id}"): ({"settings": {"shape": "star"}}, {"name": "Mark {n}"}),
    ("PATCH", "/api/projects/{code}/sheets/{sheet_id}"): (
        {"name": "Ours {n}"}, {"send_on": "{%7}", "send_to": ["{self_id}"]},
    ),
    ("PATCH", "/api/sheets/{sheet_id}"): ({"name": "Ours {n}"}, {"send_on": "{%7}", "send_to": ["{self_id}"]}),
    ("PATCH", "/api/teams/{team_id}"): ({"name": "Crew {n}"}, {"people": ["{self_id}"]}),
    ("PATCH", "/api/bookable"): ({"absence_kinds": ["kind {n}"]}, {"closed": [{"from": "2027-05-{nn}", "to": "2027-05-{nn}"}]}),
    ("PATCH", "/api/people/{person_id}/capacity"): ({"share": "{#}"}, {"first": "2027-05-{nn}"}),
    ("PATCH", "/api/absences/{absence_id}"): ({"note": "{n}"}, {"end": "2027-04-{nn}T00:00"}),
    ("PATCH", "/api/resources/{resource_id}"): ({"people": "{#}"}, {"name": "Divers {n}"}),
    ("PATCH", "/api/projects/{code}/resources/{resource_id}"): ({"people": "{#}"}, {"name": "Divers {n}"}),
    ("PATCH", "/api/projects/{code}/time"): (
        {"entries": [{"id": "{entry_id}", "revision": 999, "minutes": "{#}"}]},
        {"entries": [{"id": "{entry_id}", "revision": 999, "note": "{n}"}]},
    ),
    ("PATCH", "/api/projects/{code}/invoices/{invoice_id}"): ({"note": "{n}"}, {"client": "City {n}"}),
    ("PATCH", "/api/projects/{code}/expenses"): (
        {"expenses": [{"id": "{expense_id}", "revision": 999, "amount": "{n}"}]},
        {"expenses": [{"id": "{expense_id}", "revision": 999, "note": "{n}"}]},
    ),
    ("PATCH", "/api/goals/{goal_id}"): ({"version": 999, "title": "Goal {n}"}, {"version": 999, "text": "{n}"}),
    ("PATCH", "/api/dashboards/{dashboard_id}"): ({"version": 999, "name": "Ours {n}"}, {"version": 999, "turn": "{#}"}),
    ("PATCH", "/api/dashboards/{dashboard_id}/panels/{panel_id}"): (
        {"version": 999, "width": 4}, {"version": 999, "title": "Panel {n}"},
    ),
    ("PATCH", "/api/timer"): ({"note": "pour {n}"}, {"billable": False}),
}  # fmt: skip
"""Of routes that change several fields of a thing two changes of different fields; ``{n}`` is the round."""
ENDS_THE_SESSION = frozenset({"/api/session/password"})
ONE_FIELD = {
    "PATCH /api/files/{file_id}": "it changes the name alone",
    "PATCH /api/checklists/{list_id}": "it changes the name, or the place, which the next one sorts out",
}


def _with_round(value: Any, n: int) -> Any:
    """A body of one round."""
    if value == "{#}":
        return n + 1
    if value == "{%7}":
        return n % 7
    if isinstance(value, str):
        return value.replace("{nn}", f"{n + 8:02}").replace("{n}", str(n + 1))
    if isinstance(value, dict):
        return {key: _with_round(one, n) for key, one in value.items()}
    return [_with_round(one, n) for one in value] if isinstance(value, list) else value


class Two:
    """Two browsers of one person, which send at the same moment."""

    def __init__(self, app: FastAPI, database: Database, clock: Clock, person: Person) -> None:
        self.callers = []
        for _ in range(2):
            client = TestClient(app, raise_server_exceptions=False)
            client.cookies.set("rhodonite_session", database.write(_open_session, clock, person).token)
            self.callers.append(Caller(client))

    def at_once(self, sends: Sequence[Callable[[Caller], int]]) -> list[int]:
        """The statuses of what both send."""
        gate, statuses = threading.Barrier(2), [0, 0]

        def run(index: int) -> None:
            gate.wait()
            statuses[index] = sends[index](self.callers[index])

        threads = [threading.Thread(target=run, args=(index,)) for index in range(2)]
        for one in threads:
            one.start()
        for one in threads:
            one.join()
        return statuses


@pytest.fixture
def two(app: FastAPI, database: Database, clock: Clock, people: dict[str, Person], sign_in: Any) -> Two:
    return Two(app, database, clock, people["administrator"])


def test_every_route_that_changes_fields_has_a_pair() -> None:
    changing = {(method, path) for method, path in WRITES if method == "PATCH"}
    assert changing == PAIRS.keys() | {tuple(one.split(" ", 1)) for one in ONE_FIELD}


def _changed(before: Tables, after: Tables) -> dict[tuple[str, Any, str], Any]:
    """The cells that differ, with what stands in them now."""
    found = {}
    for table, rows in after.items():
        for key, row in rows.items():
            was = before.get(table, {}).get(key)
            for name, value in row.items():
                if was is not None and was[name] != value:
                    found[table, key, name] = value
    return found


@pytest.mark.parametrize("part", range(PARTS))
def test_two_fields_changed_at_once_are_both_changed(
    part: int, two: Two, sign_in: Callable[[str], Caller], people: dict[str, Person], database: Database, clock: Clock
) -> None:
    walk = Walk(sign_in, people, database, "administrator")
    wrong: list[str] = []
    for method, path in list(PAIRS)[part::PARTS]:
        words = walk.words_for(method, path) | {"self_id": walk.person.id}
        bodies = PAIRS[method, path]

        def send(body: Any, n: int, caller: Caller, path: str = path, method: str = method, words: Any = words) -> int:
            return caller.client.request(method, filled(path, words), json=filled(_with_round(body, n), words)).status_code

        # what each changes, found by doing one after the other
        first = read_tables(database)
        statuses = [send(bodies[0], 0, walk.caller)]
        second = read_tables(database)
        statuses.append(send(bodies[1], 0, walk.caller))
        cells = [_changed(first, second), _changed(second, read_tables(database))]
        if max(statuses) >= 400:
            wrong.append(f"{method} {path}: {statuses} one after the other")
            continue
        lost = refused = 0
        for n in range(1, ROUNDS):
            got = two.at_once([lambda caller, n=n, body=body: send(body, n, caller) for body in bodies])
            if max(got) >= 500:
                wrong.append(f"{method} {path}: {got} at once")
            refused += sum(one >= 400 for one in got)
            together = read_tables(database)
            # the same again, one after the other, changes nothing where both had arrived
            for body, status in zip(bodies, got, strict=True):
                if status < 400:
                    send(body, n, walk.caller)
            left = _changed(together, read_tables(database))
            lost += bool(left.keys() & (cells[0].keys() | cells[1].keys()))
        if lost:
            wrong.append(f"{method} {path}: {lost} of {ROUNDS - 1} lost a change, {refused} were refused")
    check_memory(database, clock)
    assert not wrong, "\n".join(wrong)


@pytest.mark.parametrize("part", range(PARTS))
def test_the_same_sent_twice_at_once_is_answered(
    part: int, two: Two, sign_in: Callable[[str], Caller], people: dict[str, Person], database: Database, clock: Clock
) -> None:
    """Every route, with one change each: no deadlock and no confusion reaches who sent it. With one id for both it is one change."""
    walk = Walk(sign_in, people, database, "administrator")
    wrong: list[str] = []
    for method, path in WRITES[part::PARTS]:
        if path in ENDS_THE_SESSION:
            continue
        for alike in (True, False):  # the same change sent again, then two changes
            try:
                words = walk.words_for(method, path)
            except (AssertionError, StopIteration):  # it cannot be done twice
                assert not alike
                break
            change = str(uuid.uuid4())
            for caller in two.callers:
                caller.client.headers.pop("Rhodonite-Change", None)
                if alike:
                    caller.client.headers["Rhodonite-Change"] = change
            got = two.at_once([lambda caller, words=words: call(caller, method, path, words)] * 2)  # noqa: B023
            if max(got) >= 500 or (alike and min(got) >= 400):
                wrong.append(f"{method} {path}: {got} {'with one id' if alike else ''}")
    check_memory(database, clock)
    assert not wrong, "\n".join(wrong)


# what only one may do, or what must hold over all that are at it


def _as(app: FastAPI, database: Database, clock: Clock, person: Person) -> Caller:
    client = TestClient(app, raise_server_exceptions=False)
    client.cookies.set("rhodonite_session", database.write(_open_session, clock, person).token)
    return Caller(client)


def _all_at_once(sends: Sequence[Callable[[], Any]]) -> list[Any]:
    """What several uses give that begin at the same moment."""
    gate, found = threading.Barrier(len(sends)), [None] * len(sends)

    def run(index: int) -> None:
        gate.wait()
        found[index] = sends[index]()

    threads = [threading.Thread(target=run, args=(index,)) for index in range(len(sends))]
    for one in threads:
        one.start()
    for one in threads:
        one.join()
    return found


@pytest.fixture
def hours(sign_in: Callable[[str], Caller], people: dict[str, Person]) -> tuple[Caller, list[tuple[str, dict[str, Any]]]]:
    """Three projects in which Tomas enters time, each with a task."""
    lead = sign_in("administrator")
    tasks = []
    for code in ("LAN", "MIL", "SEA"):
        lead("POST", "/projects", {"code": code, "name": code, "start_day": "2027-03-08"})
        lead("PATCH", f"/projects/{code}", {"revision": 99, "time": True, "costs": True})
        lead("PUT", f"/projects/{code}/members/{people['member'].id}", {"role": "contributor"})
        tasks.append((code, lead.add("Glaze", code)))
    return lead, tasks


def test_a_day_has_24_hours_however_many_enter_at_once(
    hours: Any, app: FastAPI, database: Database, clock: Clock, people: dict[str, Person]
) -> None:
    lead, tasks = hours
    callers = [_as(app, database, clock, people["member"]) for _ in tasks]
    for n in range(5):
        day = f"2027-03-{n + 8:02}"

        def send(index: int, day: str = day) -> int:
            code, task = tasks[index]
            body = {"entries": [{"task_id": task["id"], "day": day, "minutes": 600}]}
            return callers[index].client.post(f"/api/projects/{code}/time", json=body).status_code

        assert sorted(_all_at_once([lambda index=index: send(index) for index in range(3)])) == [201, 201, 422]
        report = lead("GET", f"/time-report?first={day}&last={day}&by=person")
        assert report["total"]["minutes"] == 1200


def test_a_week_is_accepted_or_withdrawn_not_both(
    hours: Any, app: FastAPI, database: Database, clock: Clock, people: dict[str, Person]
) -> None:
    lead, tasks = hours
    tomas = _as(app, database, clock, people["member"])
    for n in range(8):
        day = f"2027-0{1 + n // 4}-{4 + 7 * (n % 4):02}"
        for code, task in tasks:
            tomas("POST", f"/projects/{code}/time", {"entries": [{"task_id": task["id"], "day": day, "minutes": 60}]})
        tomas("POST", "/time-sheet/hand-in", {"day": day})
        judged = {"person_id": people["member"].id, "day": day, "accept": True}
        statuses = _all_at_once(
            [
                lambda judged=judged: lead.client.post("/api/time-sheet/judge", json=judged).status_code,
                lambda day=day: tomas.client.post("/api/time-sheet/take-back", json={"day": day}).status_code,
            ]
        )
        state = tomas("GET", f"/time-sheet?day={day}")["state"]
        assert (statuses[0] < 300, statuses[1] < 300, state) in {(True, False, "accepted"), (False, True, "open")}, statuses


@pytest.mark.parametrize(
    ("table", "line"),
    [("time", "Task,Day,Hours\n1,2027-03-{nn},1.5"), ("expenses", "Task,Day,Amount\n1,2027-03-{nn},12.40")],
)
def test_the_same_table_imported_twice_at_once_comes_in_once(
    table: str, line: str, hours: Any, app: FastAPI, database: Database, clock: Clock, people: dict[str, Person]
) -> None:
    callers = [_as(app, database, clock, people["administrator"]) for _ in range(2)]
    for n in range(6):
        file = line.replace("{nn}", f"{n + 8:02}").encode()

        def send(caller: Caller, file: bytes = file) -> Any:
            return caller.client.post(f"/api/projects/LAN/{table}/table", files={"file": ("t.csv", file)}).json()

        found = _all_at_once([lambda caller=caller: send(caller) for caller in callers])
        assert sorted(one["added"] for one in found) == [0, 1], found


def test_a_timer_and_edits_of_its_project_wait_for_each_other_only(
    hours: Any, app: FastAPI, database: Database, clock: Clock, people: dict[str, Person]
) -> None:
    lead, tasks = hours
    tomas = [_as(app, database, clock, people["member"]) for _ in range(2)]
    for n in range(12):
        code, task = tasks[n % 3]
        entry = {"entries": [{"task_id": task["id"], "day": "2027-03-15", "minutes": 1}]}
        edit = {"tasks": [{"id": task["id"], "revision": 999, "fields": {"owner_id": [people["member"].id, None][n % 2]}}]}
        statuses = _all_at_once(
            [
                lambda task=task: tomas[0].client.put("/api/timer", json={"task_id": task["id"]}).status_code,
                lambda code=code, entry=entry: tomas[1].client.post(f"/api/projects/{code}/time", json=entry).status_code,
                lambda code=code, edit=edit: lead.client.patch(f"/api/projects/{code}/tasks", json=edit).status_code,
            ]
        )
        assert max(statuses) < 300, statuses
