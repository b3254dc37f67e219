"""Repeating tasks through the API, on a real MariaDB."""

from __future__ import annotations

import uuid
from datetime import datetime
from typing import Any

import pytest

from rhodonite.server.worker import keep_all_ahead
from rhodonite.services.common.context import Clock
from rhodonite.services.tasks.recurrence import keep_ahead
from rhodonite.store.common.database import Database
from tests.conftest import Caller, state_id


def all_starts(caller: Caller) -> list[str]:
    rows = caller("GET", "/projects/LAN/tasks")["rows"]
    return sorted(row["start"][5:10] for row in rows)


def repeating(caller: Caller, **how: Any) -> dict[str, Any]:
    row = caller.add("Check the lamp", start="2027-03-16", duration="1 d", deadline="2027-03-18")
    caller("POST", f"/tasks/{row['id']}/checklists", {"name": "Lamp", "items": ["Glass wiped"]})
    return caller.edit(row, repeats={"words": "every second Tuesday", **how})


def test_the_next_one_is_made_when_the_last_is_finished(ines: Caller) -> None:
    row = repeating(ines)
    assert row["repeats"]["words"] == "every second Tuesday"
    change = {"Rhodonite-Change": str(uuid.uuid4())}
    edit = {"tasks": [{"id": row["id"], "revision": 999, "fields": {"state_id": state_id(ines, "Finished")}}]}
    ines("PATCH", "/projects/LAN/tasks", edit, headers=change)
    rows = {one["start"][5:10]: one for one in ines("GET", "/projects/LAN/tasks")["rows"]}
    assert list(rows) == ["03-16", "03-30"]
    made = rows["03-30"]
    assert (made["deadline"][:10], made["percent"], made["checks"], made["checks_done"]) == ("2027-04-01", 0, 1, 0)
    assert (rows["03-16"]["repeats"], made["repeats"]["words"]) == (None, "every second Tuesday")
    ines("POST", f"/changes/{change['Rhodonite-Change']}/undo")
    assert all_starts(ines) == ["03-16"]


def test_some_are_kept_ahead_as_time_goes_on(ines: Caller, database: Database, clock: Clock) -> None:
    repeating(ines, mode="ahead", ahead=2)
    assert all_starts(ines) == ["03-16", "03-30", "04-13"]
    project = ines("GET", "/projects/LAN")["id"]
    assert database.write(keep_ahead, clock, project) == 0
    clock.set(datetime(2027, 4, 1, 9, 0))
    assert database.write(keep_ahead, clock, project) == 1
    assert all_starts(ines) == ["03-16", "03-30", "04-13", "04-27"]


def test_days_that_were_missed_are_not_made_up_for(ines: Caller, database: Database, clock: Clock) -> None:
    repeating(ines, mode="ahead", ahead=1)
    project, now = ines("GET", "/projects/LAN")["id"], clock.now()
    clock.set(datetime(2028, 3, 14, 9, 0))  # a Tuesday that the rule gives
    assert database.write(keep_ahead, clock, project) == 2
    clock.set(now)  # the session of a year ago
    assert all_starts(ines) == ["03-14", "03-16", "03-28", "03-30"]


def test_a_rule_that_ends_makes_no_more(ines: Caller) -> None:
    row = repeating(ines, words="every week, 2 times")
    finished = state_id(ines, "Finished")
    ines.edit(row, state_id=finished)
    second = next(one for one in ines("GET", "/projects/LAN/tasks")["rows"] if one["start"][5:10] == "03-23")
    ines.edit(second, state_id=finished)
    assert all_starts(ines) == ["03-16", "03-23"]


def test_a_rule_is_previewed_and_refused_in_words(ines: Caller) -> None:
    found = ines("GET", "/projects/LAN/repeats?words=last working day of the month&first=2027-03-31")
    assert found["says"] == "the last working day of the month"
    assert (found["days"][:2], len(found["days"])) == (["2027-04-30", "2027-05-31"], 10)
    row = ines.add("Check", start="2027-03-16", duration="1 d")
    assert "“sometimes” in “sometimes” was not understood" in ines.edit(row, expect=422, repeats={"words": "sometimes"})["detail"]
    assert ines.edit(repeating(ines), repeats=None)["repeats"] is None


def test_whoever_left_the_project_stops_only_what_they_asked_for(
    ines: Caller, sign_in: Any, people: Any, database: Database, clock: Clock
) -> None:
    ines("PUT", f"/projects/LAN/members/{people['guest'].id}", {"role": "contributor"})
    mila = sign_in("guest")
    theirs = mila.add("Wind the clock", start="2027-03-16", duration="1 d")
    mila.edit(theirs, repeats={"words": "every week", "mode": "ahead", "ahead": 1})
    repeating(ines, mode="ahead", ahead=1)
    ines("PUT", f"/projects/LAN/members/{people['guest'].id}", {"role": None})
    clock.set(datetime(2027, 4, 1, 9, 0))
    assert database.write(keep_ahead, clock, ines("GET", "/projects/LAN")["id"]) == 1
    titles = [row["title"] for row in ines("GET", "/projects/LAN/tasks")["rows"]]
    assert (titles.count("Check the lamp"), titles.count("Wind the clock")) == (3, 2)


def test_a_project_that_fails_keeps_no_other_from_being_done(
    ines: Caller, database: Database, clock: Clock, monkeypatch: pytest.MonkeyPatch
) -> None:
    ines("POST", "/projects", {"code": "BAR", "name": "Barge", "start_day": "2027-03-08"})
    repeating(ines, mode="ahead", ahead=1)
    pump = ines.add("Pump", "BAR", start="2027-03-16", duration="1 d")
    ines.edit(pump, "BAR", repeats={"words": "every week", "mode": "ahead", "ahead": 1})
    done: list[str] = []

    def fails_first(cur: Any, clock: Clock, project_id: str) -> None:
        done.append(project_id)
        if len(done) == 1:
            raise RuntimeError("the lamp went out")

    monkeypatch.setattr("rhodonite.server.worker.keep_ahead", fails_first)
    keep_all_ahead(database, clock)
    assert len(done) == 2


def test_work_that_is_dropped_repeats_no_more(ines: Caller, database: Database, clock: Clock) -> None:
    states = {one["name"]: one["id"] for one in ines("GET", "/projects/LAN")["states"]}
    ines.add("Oil the gears", duration="1 d", start="2027-03-17")
    ines.edit(ines.rows()["Oil the gears"], repeats={"words": "every week", "mode": "ahead", "ahead": 2})
    rows = ines("GET", "/projects/LAN/tasks")["rows"]
    first = next(row for row in rows if row["repeats"])
    ines.edit(first, state_id=states["Dropped"])
    later = Clock(clock.zone, datetime(2027, 6, 1, 9))
    assert database.write(keep_ahead, later, ines("GET", "/projects/LAN")["id"]) == 0
    assert len(ines("GET", "/projects/LAN/tasks")["rows"]) == len(rows)
