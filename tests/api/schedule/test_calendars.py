"""Calendars of single tasks, and durations that run through nights, through the API."""

from __future__ import annotations

import json
import uuid
from typing import Any

import pytest

from tests.api.schedule.test_planning import ask, chain, finishes  # noqa: F401
from tests.conftest import Caller

NIGHT = {"week": {day: [["20:00", "24:00"]] for day in ("mon", "tue", "wed", "thu", "fri", "sat", "sun")}, "exceptions": []}


def add_calendar(caller: Caller, name: str = "Night shift", **fields: Any) -> str:
    """Add a calendar of four hours every night; returns its id."""
    calendar_id = str(uuid.uuid4())
    caller("PUT", f"/projects/LAN/calendars/{calendar_id}", {"name": name, **NIGHT, **fields})
    return calendar_id


def test_a_task_works_by_its_own_calendar_and_others_by_the_projects(chain: Caller) -> None:  # noqa: F811
    night = add_calendar(chain)
    assert [(one["id"], one["name"]) for one in chain("GET", "/projects/LAN")["calendars"]] == [(night, "Night shift")]
    pour = chain.edit(chain.rows()["Pour"], calendar_id=night, duration="2 d")
    # Dig ends on the 17th at 17:30: two nights of four hours follow, then Cure a working day after
    assert (pour["duration"], pour["day_minutes"]) == (480, 240)
    rows = chain.rows()
    assert (rows["Pour"]["start"], rows["Pour"]["finish"]) == ("2027-03-17T20:00:00", "2027-03-19T00:00:00")
    assert rows["Cure"]["finish"][:10] == "2027-03-23"
    assert "calendar none → Night shift" in chain("GET", f"/tasks/{pour['id']}")["history"][0]["lines"]


def test_a_task_that_gets_another_calendar_lasts_as_long(ines: Caller) -> None:
    night = add_calendar(ines)
    row = ines.edit(ines.add("Cast", start="2027-03-15", duration="8 h"), calendar_id=night)
    assert (row["duration"], row["start"], row["finish"]) == (480, "2027-03-15T20:00:00", "2027-03-17T00:00:00")
    back = ines.edit(row, calendar_id=None)
    assert (back["duration"], back["calendar_id"]) == (480, None)


def test_changing_a_calendar_moves_what_works_by_it_through_the_ripple(chain: Caller) -> None:  # noqa: F811
    night = add_calendar(chain)
    chain.edit(chain.rows()["Pour"], calendar_id=night, duration="2 d")
    later = {"name": "Night shift", "week": {"sat": [["20:00", "24:00"]]}, "exceptions": []}
    address = f"/projects/LAN/calendars/{night}"
    told = chain("PUT", address, later, expect=409, headers={"Rhodonite-Ripple": "ask"})["ripple"]
    assert {move["title"] for move in told["moves"]} == {"Pour", "Cure", "Done"}
    chain("PUT", address, later, headers={"Rhodonite-Ripple": f"all {told['revision']}"})
    assert finishes(chain)["Pour"] == "2027-03-28"


def test_a_calendar_is_deleted_once_no_task_works_by_it(chain: Caller) -> None:  # noqa: F811
    night = add_calendar(chain)
    row = chain.edit(chain.rows()["Pour"], calendar_id=night)
    refused = chain("DELETE", f"/projects/LAN/calendars/{night}", expect=422)
    assert refused["detail"] == "“Pour” works by this calendar. Give them another first."
    chain.edit(row, calendar_id=None)
    assert chain("DELETE", f"/projects/LAN/calendars/{night}")["calendars"] == []
    assert "not in the project" in chain.edit(chain.rows()["Pour"], expect=422, calendar_id=night)["detail"]


@pytest.mark.parametrize(
    ("name", "fields", "words"),
    [("", {}, "needs a name"), ("night SHIFT", {}, "already"), ("Empty", {"week": {}}, "at least one weekday")],
)
def test_a_calendar_that_cannot_be_is_refused(ines: Caller, name: str, fields: Any, words: str) -> None:
    add_calendar(ines)
    body = {"name": name, **NIGHT, **fields}
    assert words in ines("PUT", f"/projects/LAN/calendars/{uuid.uuid4()}", body, expect=422)["detail"]


def test_an_elapsed_duration_runs_through_nights_and_holidays(chain: Caller) -> None:  # noqa: F811
    cure = chain.edit(chain.rows()["Cure"], duration="3 days elapsed", waits_for="Pour")
    assert (cure["duration"], cure["elapsed"], cure["day_minutes"]) == (3 * 1440, True, 1440)
    rows = chain.rows()
    # Pour ends on Friday at 17:30: what is elapsed goes on from there, over the weekend
    assert (rows["Cure"]["start"], rows["Cure"]["finish"]) == ("2027-03-22T09:00:00", "2027-03-25T09:00:00")
    assert "3 d elapsed" in chain("GET", f"/tasks/{cure['id']}")["reading"]
    plain = chain.edit(cure, duration="2 d")
    assert (plain["elapsed"], plain["duration"], plain["finish"][:10]) == (False, 900, "2027-03-23")


def test_an_elapsed_task_is_stretched_dragged_and_taken_back(chain: Caller) -> None:  # noqa: F811
    cure = chain.edit(chain.rows()["Cure"], duration="3 days elapsed", waits_for="")
    moved = chain.edit(cure, start="2027-03-16")
    assert (moved["start"], moved["finish"]) == ("2027-03-16T09:00:00", "2027-03-19T09:00:00")
    edit = {"tasks": [{"id": moved["id"], "revision": moved["revision"], "fields": {"stretch_to": "2027-03-20T09:00"}}]}
    change = chain("PATCH", "/projects/LAN/tasks", edit)["change"]
    assert chain.rows()["Cure"]["duration"] == 4 * 1440
    chain("POST", f"/changes/{change}/undo")
    assert chain.rows()["Cure"]["finish"] == "2027-03-19T09:00:00"


def test_a_plan_file_keeps_calendars_and_elapsed_durations(chain: Caller) -> None:  # noqa: F811
    night = add_calendar(chain)
    chain.edit(chain.rows()["Pour"], calendar_id=night, duration="2 d")
    chain.edit(chain.rows()["Cure"], duration="3 days elapsed")
    file = chain.client.get("/api/projects/LAN/plan.json").content
    chain("POST", "/projects", {"code": "MIL", "name": "Tide Mill", "start_day": "2027-03-08"})
    chain("POST", "/projects/MIL/plan.json", files={"file": ("plan.json", file)})
    again = chain.rows("MIL")
    for title, row in chain.rows().items():
        same = ("start", "finish", "duration", "elapsed")
        assert {name: again[title][name] for name in same} == {name: row[name] for name in same}, title
    calendars = chain("GET", "/projects/MIL")["calendars"]
    assert [(one["name"], one["week"]) for one in calendars] == [("Night shift", NIGHT["week"])]
    assert again["Pour"]["calendar_id"] == calendars[0]["id"]
    chain("POST", "/projects/MIL/plan.json", files={"file": ("plan.json", file)})  # a second time it is there already
    assert len(chain("GET", "/projects/MIL")["calendars"]) == 1
    assert {part["name"] for part in json.loads(file)["calendars"]} == {"Lantern Room Restoration: working time", "Night shift"}


def test_a_csv_keeps_elapsed_durations(chain: Caller) -> None:  # noqa: F811
    chain.edit(chain.rows()["Cure"], duration="3 days elapsed")
    text = chain.client.get("/api/projects/LAN/tasks.csv?column=title&column=duration").text
    assert "3 d elapsed" in text
    chain("POST", "/projects", {"code": "MIL", "name": "Tide Mill", "start_day": "2027-03-08"})
    matching = {"matching": json.dumps(["title", "duration"])}
    chain("POST", "/projects/MIL/csv", files={"file": ("t.csv", text.encode())}, data=matching)
    assert chain.rows("MIL")["Cure"]["elapsed"] is True


def test_only_a_lead_brings_calendars_in_with_a_plan_file(chain: Caller, sign_in: Any, people: dict[str, Any]) -> None:  # noqa: F811
    chain.edit(chain.rows()["Pour"], calendar_id=add_calendar(chain))
    file = chain.client.get("/api/projects/LAN/plan.json").content
    chain("POST", "/projects", {"code": "MIL", "name": "Tide Mill", "start_day": "2027-03-08"})
    chain("PUT", f"/projects/MIL/members/{people['member'].id}", {"role": "contributor"})
    tomas = sign_in("member")
    refused = tomas("POST", "/projects/MIL/plan.json", files={"file": ("plan.json", file)}, expect=403)
    assert "Ask a lead to bring it in" in refused["detail"]
    assert chain.rows("MIL") == {}
    chain("POST", "/projects/MIL/plan.json", files={"file": ("plan.json", file)})
    tomas("POST", "/projects/MIL/plan.json", files={"file": ("plan.json", file)})  # it has them now


def test_another_calendar_leaves_work_that_has_begun_by_other_hours_alone(chain: Caller) -> None:  # noqa: F811
    dig = chain.edit(chain.rows()["Dig"], percent=10)
    ready = chain.edit(dig, finish="2027-03-18")
    add_calendar(chain)
    assert chain.rows()["Dig"]["finish"] == ready["finish"]


@pytest.mark.parametrize(("field", "value"), [("elapsed", "yes"), ("calendar_id", ["x"]), ("calendar_id", "nowhere")])
def test_hours_that_cannot_be_are_refused(ines: Caller, field: str, value: Any) -> None:
    assert ines.edit(ines.add("Dig"), expect=422, **{field: value})["errors"][0]["field"] == field


def test_work_that_has_begun_lasts_as_long_by_the_hours_that_are_new(ines: Caller) -> None:
    """Where it stands is not computed, but how long it takes is: two days of 7.5 h, by four hours a night, are nearly four nights."""
    night = add_calendar(ines)
    begun = [ines.add(title, start="2027-03-15", duration="15 h") for title in ("Cast", "Grind")]
    for row in begun:
        row = ines.edit(row, calendar_id=night)
        ines.edit(row, percent=10)
    before = {title: row["finish"] for title, row in ines.rows().items()}
    half = {"name": "Night shift", "week": {day: [["22:00", "24:00"]] for day in NIGHT["week"]}, "exceptions": []}
    changed = str(uuid.uuid4())
    ines("PUT", f"/projects/LAN/calendars/{night}", half, headers={"Rhodonite-Change": changed})
    after = ines.rows()
    for title in ("Cast", "Grind"):
        assert after[title]["start"] == "2027-03-15T20:00:00"  # it began, so it stays where it began
        assert after[title]["duration"] == 900
        assert after[title]["finish"] > before[title]
    assert after["Cast"]["finish"] == "2027-03-22T23:00:00"  # 15 h at two a night: seven nights and an hour
    ines("POST", f"/changes/{changed}/undo")
    assert {title: row["finish"] for title, row in ines.rows().items()} == before
