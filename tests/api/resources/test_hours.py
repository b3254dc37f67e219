"""Hours of people: bookings on tasks, capacity, absences, crews and roles, and the load that comes of them."""

from __future__ import annotations

import json
import uuid
from typing import Any

import orjson
import pytest

from rhodonite.core.people.model import Person
from rhodonite.services.common import jobs
from rhodonite.services.common.context import Clock
from rhodonite.services.common.jobs import run_next
from rhodonite.store.common import jobs as job_rows
from rhodonite.store.common.database import Database
from tests.conftest import Caller

HOUR = 60
SPAN = "first=2027-03-15&last=2027-03-19"


@pytest.fixture
def lan(ines: Caller) -> Caller:
    """A project that plans hours."""
    ines("PATCH", "/projects/LAN", {"revision": 99, "hours": True})
    return ines


def booked(who: str, hours: float, **more: Any) -> dict[str, Any]:
    return {"who": who, "minutes": int(hours * HOUR), **more}


def line(load: dict[str, Any], who: str) -> dict[str, Any]:
    return next(one for one in load["lines"] if one["who"] == who)


def test_hours_bring_their_lens_and_take_it_along(ines: Caller) -> None:
    assert "load" not in ines("GET", "/projects/LAN")["lenses"]
    ines("PATCH", "/projects/LAN", {"revision": 99, "hours": True})
    assert ines("GET", "/projects/LAN")["lenses"][-1] == "load"
    columns = {one["key"] for one in ines("GET", "/projects/LAN/columns")["columns"]}
    assert {"booked", "open", "people"} <= columns
    change = ines("PATCH", "/projects/LAN", {"revision": 99, "hours": False})
    assert change["hours"] is False
    assert "load" not in ines("GET", "/projects/LAN")["lenses"]


def test_thirty_hours_leave_twelve_for_the_next_and_are_cut_with_the_length(lan: Caller, people: dict[str, Person]) -> None:
    tomas, yuki = people["member"].id, people["other"].id
    task = lan.add("Cast bars", owner_id=tomas, effort="30 h", start="2027-03-15", duration="6 d")
    row = lan.edit(task, bookings=[booked(tomas, 18)])
    assert (row["booked"], row["open"]) == (18 * HOUR, 12 * HOUR)
    read = lan(
        "POST",
        "/projects/LAN/bookings/read",
        {"task_id": row["id"], "text": f"{people['member'].name} 18 h, {people['other'].name}"},
    )
    assert [one["minutes"] for one in read] == [18 * HOUR, 12 * HOUR]
    row = lan.edit(row, bookings=[{k: one[k] for k in ("who", "minutes", "resource")} for one in read])
    assert (row["open"], row["helpers"]) == (0, [yuki])
    row = lan.edit(row, duration="4 d", on_length="units")
    assert [one["minutes"] for one in row["bookings"]] == [12 * HOUR, 8 * HOUR]
    assert row["effort"] == 20 * HOUR
    load = lan("GET", f"/projects/LAN/load?{SPAN}")
    assert line(load, tomas)["bands"]["LAN"] == [180, 180, 180, 180, 0]
    assert line(load, yuki)["bands"]["LAN"] == [120, 120, 120, 120, 0]


def test_bookings_are_journalled_taken_back_and_told_in_words(lan: Caller, people: dict[str, Person]) -> None:
    who = people["member"]
    task = lan.add("Cast bars", start="2027-03-15", duration="2 d")
    body = {"tasks": [{"id": task["id"], "revision": 99, "fields": {"bookings": [booked(who.id, 10)]}}]}
    change = lan("PATCH", "/projects/LAN/tasks", body)["change"]
    lines = [one for happening in lan("GET", f"/tasks/{task['id']}")["history"] for one in happening["lines"]]
    assert f"booked none → {who.name} 10 h" in lines
    lan("POST", f"/changes/{change}/undo")
    row = lan.rows()["Cast bars"]
    assert (row["bookings"], row["helpers"]) == ([], [])


def test_nobody_is_booked_who_is_not_there(lan: Caller, people: dict[str, Person]) -> None:
    task = lan.add("Cast bars")
    for more in ({}, {"resource": True}):
        refused = lan.edit(task, expect=422, bookings=[booked(str(uuid.uuid4()), 3, **more)])
        assert "not" in refused["detail"]
    assert lan.rows()["Cast bars"]["bookings"] == []


def test_a_crew_is_booked_like_a_person(lan: Caller) -> None:
    crew = str(uuid.uuid4())
    lan("POST", "/projects/LAN/resources", {"id": crew, "name": "Outside scaffolders", "people": 2})
    lan("POST", "/projects/LAN/resources", {"name": "outside scaffolders"}, expect=422)
    lan.edit(lan.add("Scaffold", start="2027-03-15", duration="1 d"), bookings=[booked(crew, 16, resource=True)])
    found = line(lan("GET", f"/projects/LAN/load?{SPAN}"), crew)
    assert (found["kind"], found["capacity"][0], found["over"][0]) == ("resource", 900, 60)
    other = {"code": "MIL", "name": "Mill", "start_day": "2027-03-08"}
    lan("POST", "/projects", other)
    elsewhere = lan.add("Scaffold", "MIL")
    lan.edit(elsewhere, "MIL", expect=422, bookings=[booked(crew, 3, resource=True)])


def test_capacity_absences_and_the_share_of_the_day_count(lan: Caller, people: dict[str, Person]) -> None:
    who = people["member"].id
    lan.edit(lan.add("Glaze", start="2027-03-15", duration="5 d"), bookings=[booked(who, 20)])
    lan("PATCH", f"/people/{who}/capacity", {"share": 80})
    away = str(uuid.uuid4())
    lan(
        "POST",
        "/absences",
        {"id": away, "person_id": who, "kind": "leave", "start": "2027-03-17T00:00", "end": "2027-03-18T00:00"},
    )
    found = line(lan("GET", f"/load?{SPAN}"), who)
    assert found["capacity"] == [360, 360, 0, 360, 360]
    assert found["away"] == [0, 0, 360, 0, 0]
    assert found["bands"]["LAN"] == [300, 300, 0, 300, 300]
    lan("DELETE", f"/absences/{away}")
    assert line(lan("GET", f"/load?{SPAN}"), who)["bands"]["LAN"] == [240] * 5
    assert line(lan("GET", "/load?first=2027-03-15&last=2027-03-21&by=week"), who)["bands"]["LAN"] == [1200]


def test_why_somebody_is_away_is_for_them_and_managers(lan: Caller, sign_in: Any, people: dict[str, Person]) -> None:
    member, other = sign_in("member"), sign_in("other")
    away = {
        "person_id": people["member"].id,
        "kind": "illness",
        "note": "flu",
        "start": "2027-03-17T00:00",
        "end": "2027-03-18T00:00",
    }
    member("POST", "/absences", away)
    seen = {
        who: caller("GET", "/bookable")["absences"][0] for who, caller in (("own", member), ("manager", lan), ("other", other))
    }
    assert [(seen[who]["kind"], seen[who]["note"]) for who in seen] == [("illness", "flu"), ("illness", "flu"), ("", "")]
    other("POST", "/absences", away, expect=403)
    other("DELETE", f"/absences/{seen['other']['id']}", expect=403)
    other("PATCH", f"/people/{people['other'].id}/capacity", {"share": 50}, expect=403)
    member("DELETE", f"/absences/{seen['own']['id']}")


def test_what_one_may_not_see_counts_as_other_work(lan: Caller, sign_in: Any, people: dict[str, Person]) -> None:
    boss, who = sign_in("administrator"), people["member"].id
    boss("POST", "/projects", {"code": "SEC", "name": "Secret", "start_day": "2027-03-08", "private": True})
    boss("PATCH", "/projects/SEC", {"revision": 99, "hours": True})
    boss.edit(boss.add("Hidden", "SEC", start="2027-03-15", duration="1 d"), "SEC", bookings=[booked(who, 9)])
    for path in ("/load", "/projects/LAN/load"):
        lan.edit(lan.add("Seen", start="2027-03-16", duration="1 d"), bookings=[booked(who, 1)])
        found = lan("GET", f"{path}?{SPAN}")
        assert "SEC" not in str(found)
        assert line(found, who)["other"] == [540, 0, 0, 0, 0]
        assert line(found, who)["over"][0] == 90
    cell = lan("GET", f"/load/tasks?{SPAN}&who={who}")
    assert (cell["other"], {one["row"]["title"] for one in cell["tasks"]}) == (540, {"Seen"})
    alone = lan("GET", f"/projects/LAN/load?{SPAN}&everywhere=false")
    assert line(alone, who)["other"] == [0] * 5


def test_a_guest_sees_the_hours_of_their_project_alone(lan: Caller, sign_in: Any, people: dict[str, Person]) -> None:
    who, guest = people["member"].id, sign_in("guest")
    lan("PUT", f"/projects/LAN/members/{people['guest'].id}", {"role": "viewer"})
    lan("POST", "/projects", {"code": "MIL", "name": "Mill", "start_day": "2027-03-08"})
    lan("PATCH", "/projects/MIL", {"revision": 99, "hours": True})
    lan.edit(lan.add("Elsewhere", "MIL", start="2027-03-15", duration="1 d"), "MIL", bookings=[booked(who, 9)])
    lan.edit(lan.add("Here", start="2027-03-15", duration="1 d"), bookings=[booked(who, 2)])
    found = line(guest("GET", f"/projects/LAN/load?{SPAN}"), who)
    assert (found["bands"], found["other"][0]) == ({"LAN": [120, 0, 0, 0, 0]}, 0)
    guest("GET", f"/load?{SPAN}", expect=403)
    named = {one["id"] for one in guest("GET", "/projects/LAN/bookable")}
    assert people["other"].id not in named


def test_changes_to_who_can_be_booked_are_taken_back(lan: Caller, people: dict[str, Person]) -> None:
    who, crew = people["member"].id, str(uuid.uuid4())
    change = str(uuid.uuid4())
    lan("PATCH", f"/people/{who}/capacity", {"share": 60, "last": "2027-06-30"}, headers={"Rhodonite-Change": change})
    lan("POST", f"/changes/{change}/undo")
    kept = lan("GET", "/bookable")["capacities"][0]
    assert (kept["share"], kept["last"]) == (100, None)
    made, gone = str(uuid.uuid4()), str(uuid.uuid4())
    lan("POST", "/resources", {"id": crew, "name": "Divers"}, headers={"Rhodonite-Change": made})
    lan("DELETE", f"/resources/{crew}", headers={"Rhodonite-Change": gone})
    lan("POST", f"/changes/{gone}/undo")
    assert [one["name"] for one in lan("GET", "/bookable")["resources"]] == ["Divers"]
    lan("POST", f"/changes/{made}/undo")
    assert lan("GET", "/bookable")["resources"] == []


def test_crews_of_a_project_are_told_to_nobody_who_may_not_see_it(lan: Caller, sign_in: Any) -> None:
    boss = sign_in("administrator")
    boss("POST", "/projects", {"code": "SEC", "name": "Secret", "start_day": "2027-03-08", "private": True})
    boss("POST", "/projects/SEC/resources", {"name": "Night divers"})
    for path in ("/bookable", "/projects/LAN/resources", "/projects/LAN/bookable"):
        assert "Night divers" not in str(lan("GET", path))
    lan("POST", "/resources", {"name": "Night divers"})  # not even by a refusal


def test_absences_are_local(lan: Caller, people: dict[str, Person]) -> None:
    away = {"person_id": people["member"].id, "kind": "leave", "start": "2027-03-17T00:00+02:00", "end": "2027-03-18T00:00"}
    lan("POST", "/absences", away, expect=422)


def test_tasks_are_counted_in_projects_that_plan_no_hours_too(ines: Caller, people: dict[str, Person]) -> None:
    ines.add("A", owner_id=people["member"].id, start="2027-03-15", duration="2 d")
    found = line(ines("GET", f"/load?{SPAN}&count=tasks"), people["member"].id)
    assert found["bands"] == {"LAN": [1, 1, 0, 0, 0]}
    assert line(ines("GET", f"/load?{SPAN}"), people["member"].id)["bands"] == {}


def test_kinds_of_absence_are_the_organisations(lan: Caller, sign_in: Any, people: dict[str, Person]) -> None:
    boss = sign_in("administrator")
    boss("PATCH", "/bookable", {"absence_kinds": ["parental leave"]})
    assert boss("GET", "/bookable")["absence_kinds"] == ["leave", "illness", "training", "parental leave"]
    away = {"person_id": people["member"].id, "start": "2027-03-17T00:00", "end": "2027-03-18T00:00"}
    boss("POST", "/absences", {**away, "kind": "parental leave"})
    boss("POST", "/absences", {**away, "kind": "sailing"}, expect=422)


def test_the_organisations_hours_hold_for_whoever_has_none_of_their_own(
    lan: Caller, sign_in: Any, people: dict[str, Person]
) -> None:
    boss, who = sign_in("administrator"), people["member"].id
    mornings = {day: [["09:00", "13:00"]] for day in ("mon", "tue", "wed", "thu")}
    boss("PATCH", "/bookable", {"week": mornings})
    assert line(lan("GET", f"/load?{SPAN}"), who)["capacity"] == [240, 240, 240, 240, 0]
    lan("PATCH", f"/people/{who}/capacity", {"week": {"fri": [["09:00", "11:00"]]}})
    assert line(lan("GET", f"/load?{SPAN}"), who)["capacity"] == [0, 0, 0, 0, 120]
    boss("PATCH", "/bookable", {"week": {"mon": [["13:00", "09:00"]]}}, expect=422)


def test_bookings_go_into_a_draft_and_come_out_of_it(lan: Caller, people: dict[str, Person]) -> None:
    who = people["member"].id
    task = lan.add("Glaze", start="2027-03-15", duration="5 d")
    draft = {"Rhodonite-Draft": lan("POST", "/projects/LAN/drafts", {"name": "Second crew"})["id"]}
    edit = {"tasks": [{"id": task["id"], "revision": 99, "fields": {"bookings": [booked(who, 5)]}}]}
    lan("PATCH", "/projects/LAN/tasks", edit, headers=draft)
    assert lan("GET", "/projects/LAN/tasks", headers=draft)["rows"][0]["booked"] == 5 * HOUR
    assert line(lan("GET", f"/projects/LAN/load?{SPAN}", headers=draft), who)["bands"] == {"LAN": [60] * 5}
    assert lan.rows()["Glaze"]["booked"] == 0


def test_what_a_change_of_length_does_is_shown_before_it_is_made(lan: Caller, people: dict[str, Person]) -> None:
    who = people["member"]
    task = lan.add("Cast bars", effort="30 h", start="2027-03-15", duration="6 d")
    ask = {"task_id": task["id"], "fields": {"duration": "4 d"}}
    assert lan("POST", "/projects/LAN/bookings/length", ask) is None
    row = lan.edit(task, bookings=[booked(who.id, 18)])
    found = lan("POST", "/projects/LAN/bookings/length", ask)
    assert found["bookings"] == [
        {"who": who.id, "name": who.name, "minutes": 18 * HOUR, "a_day": 180, "cut": 12 * HOUR, "by_day": False, "raised": 270}
    ]
    assert (found["effort"], found["effort_cut"]) == (30 * HOUR, 20 * HOUR)
    lan.edit(row, keeps="hours")
    assert lan("POST", "/projects/LAN/bookings/length", ask) is None


def test_brief_and_desk_say_who_is_over_and_when(lan: Caller, sign_in: Any, people: dict[str, Person]) -> None:
    who, member = people["member"], sign_in("member")
    assert member("GET", "/desk")["over"] == ""
    lan.edit(lan.add("Glaze", owner_id=who.id, start="2027-03-22", duration="2 d"), bookings=[booked(who.id, 26)])
    brief = lan("GET", "/projects/LAN/brief")
    assert brief["over"] == [{"who": who.id, "monday": "2027-03-22", "minutes": 11 * HOUR}]
    assert brief["reading"].endswith(f"**{who.short} is booked 11 h over** in the week of 22 Mar.")
    assert member("GET", "/desk")["over"] == "You are booked 11 h over in the week of 22 Mar."
    lan("POST", "/projects", {"code": "MIL", "name": "Mill", "start_day": "2027-03-08"})
    lan("PATCH", "/projects/MIL", {"revision": 99, "hours": True})
    lan.edit(lan.add("Pegs", "MIL", start="2027-03-23", duration="1 d"), "MIL", bookings=[booked(who.id, 2)])
    assert lan("GET", "/projects/LAN/brief")["over"][0]["minutes"] == 13 * HOUR  # work of other projects counts
    lan("PATCH", "/projects/LAN", {"revision": 99, "hours": False})
    assert lan("GET", "/projects/LAN/brief")["over"] == []


def test_people_and_hours_go_out_and_come_in_as_csv(lan: Caller, people: dict[str, Person]) -> None:
    task = lan.add("Glaze", effort="15 h", start="2027-03-22", duration="2 d")
    typed = f"{people['member'].name} 10 h, {people['other'].name} 5h"
    row = lan.edit(task, bookings=typed)
    assert [one["minutes"] for one in row["bookings"]] == [10 * HOUR, 5 * HOUR]
    out = lan.client.get("/api/projects/LAN/tasks.csv?column=title&column=effort&column=people").content
    assert f"{people['member'].name} 10 h; {people['other'].name} 5 h" in out.decode("utf-8-sig")
    lan("POST", "/projects", {"code": "COP", "name": "Copy", "start_day": "2027-03-08"})
    files, matching = {"file": ("t.csv", out)}, {"matching": '["title", "effort", "people"]'}
    assert lan.client.post("/api/projects/COP/csv", files=files, data=matching).is_success
    assert lan.rows("COP")["Glaze"]["bookings"] == [{**one, "units": None} for one in row["bookings"]]  # it has no length


def test_the_ripple_says_who_becomes_over_and_who_no_longer_is(lan: Caller, people: dict[str, Person]) -> None:
    busy, free = people["member"].id, people["other"].id
    first = lan.add("Cast", start="2027-03-15", duration="1 d")
    after = lan.add("Glaze", duration="1 d", waits_for=str(first["number"]))
    lan.edit(after, bookings=[booked(busy, 6), booked(free, 9)])  # Tuesday: the second over by 1.5 h
    lan.edit(lan.add("Other", start="2027-03-18", duration="1 d"), bookings=[booked(busy, 5)])  # Thursday
    body = {"tasks": [{"id": first["id"], "revision": 99, "fields": {"duration": "3 d"}}]}
    asked = lan("PATCH", "/projects/LAN/tasks", body, headers={"Rhodonite-Ripple": "ask"}, expect=409)["ripple"]
    shown = lan("POST", "/projects/LAN/ripple", body)
    for ripple in (asked, shown):  # Glaze moves to Thursday: 11 h of the first
        assert [(one["who"], one["more"], one["less"], one["first"], one["last"]) for one in ripple["people"]] == [
            (busy, 210, 0, "2027-03-18", "2027-03-18"),
            (free, 90, 90, "2027-03-16", "2027-03-18"),
        ]


def test_levelling_is_proposed_as_a_draft_that_can_be_applied(lan: Caller, people: dict[str, Person]) -> None:
    who = people["member"].id
    lan.edit(lan.add("Long", start="2027-03-22", duration="10 d"), keeps="hours")
    for title in ("Cast", "Glaze"):
        lan.edit(lan.add(title, start="2027-03-22", duration="2 d"), bookings=[booked(who, 12)])
    body = {"first": "2027-03-22", "last": "2027-04-30", "within_slack": True}
    found = lan("POST", "/projects/LAN/level", body)
    assert (found["moved"], found["still"]) == (1, [{"who": who, "before": 540, "after": 0, "without_room": 0}])
    assert found["finish"] == found["finish_before"]
    span = "first=2027-03-22&last=2027-03-26"
    assert line(lan("GET", f"/projects/LAN/load?{span}"), who)["days_over"] == 2  # the plan is as it was
    draft = {"Rhodonite-Draft": found["draft_id"]}
    assert line(lan("GET", f"/projects/LAN/load?{span}", headers=draft), who)["bands"]["LAN"] == [360, 360, 360, 360, 0]
    lan("POST", f"/projects/LAN/drafts/{found['draft_id']}/apply")
    assert line(lan("GET", f"/projects/LAN/load?{span}"), who)["days_over"] == 0
    assert lan("POST", "/projects/LAN/level", body)["draft_id"] is None  # nothing has to move any more


def test_other_projects_are_minded_when_one_is_levelled(lan: Caller, people: dict[str, Person]) -> None:
    who = people["member"].id
    lan("POST", "/projects", {"code": "OAK", "name": "Oak", "start_day": "2027-03-01"})
    lan("PATCH", "/projects/OAK", {"revision": 99, "hours": True})
    lan.edit(lan.add("Kiosk", code="OAK", start="2027-03-22", duration="2 d"), code="OAK", bookings=[booked(who, 15)])
    lan.edit(lan.add("Long", start="2027-03-22", duration="10 d"), keeps="hours")
    lan.edit(lan.add("Cast", start="2027-03-22", duration="2 d"), bookings=[booked(who, 12)])
    found = lan("POST", "/projects/LAN/level", {"first": "2027-03-22", "last": "2027-04-30"})
    assert (found["moved"], found["still"]) == (1, [{"who": who, "before": 720, "after": 0, "without_room": 0}])
    draft = {"Rhodonite-Draft": found["draft_id"]}
    load = lan("GET", "/projects/LAN/load?first=2027-03-22&last=2027-03-26", headers=draft)
    assert line(load, who)["bands"] == {"LAN": [0, 0, 360, 360, 0], "OAK": [450, 450, 0, 0, 0]}


def test_what_must_not_move_does_not_and_only_those_chosen_are_levelled(lan: Caller, people: dict[str, Person]) -> None:
    who, other = people["member"].id, people["other"].id
    lan.edit(lan.add("Long", start="2027-03-22", duration="10 d"), keeps="hours")
    top = lan.add("Cast all")
    cast = lan.add("Cast", parent=top["id"], start="2027-03-22", duration="2 d")
    glaze = lan.add("Glaze", start="2027-03-22", duration="2 d")
    for task in (cast, glaze):
        lan.edit(task, bookings=[booked(who, 12), booked(other, 12)])
    body = {"first": "2027-03-22", "last": "2027-04-30"}

    def moved_by(**more: Any) -> list[str]:
        draft = lan("POST", "/projects/LAN/level", {**body, **more})["draft_id"]
        rows = lan("GET", "/projects/LAN/tasks", headers={"Rhodonite-Draft": draft})["rows"] if draft else []
        return [row["title"] for row in rows if row["title"] in {"Cast", "Glaze"} and not row["start"].startswith("2027-03-22")]

    assert moved_by(keeping=[top["id"]]) == ["Glaze"]
    assert moved_by(keeping=[glaze["id"]]) == ["Cast"]
    assert moved_by(keeping=[cast["id"], glaze["id"]]) == []
    found = lan("POST", "/projects/LAN/level", {**body, "whom": [who]})
    assert [one["who"] for one in found["still"]] == [who]


def test_the_worker_looks_for_a_better_proposal_and_can_be_cancelled(
    lan: Caller, people: dict[str, Person], database: Database, clock: Clock, monkeypatch: pytest.MonkeyPatch
) -> None:
    who = people["member"].id
    lan.edit(lan.add("Long", start="2027-03-22", duration="10 d"), keeps="hours")
    for title in ("Cast", "Glaze"):
        lan.edit(lan.add(title, start="2027-03-22", duration="2 d"), bookings=[booked(who, 12)])
    body = {"first": "2027-03-22", "last": "2027-04-30", "seconds": 2}
    asked = lan("POST", "/projects/LAN/level", body)
    assert asked["draft_id"] is None
    assert run_next(database, clock, "")
    found = lan("GET", f"/jobs/{asked['job']}")
    assert (found["stage"], found["levelled"]["moved"]) == ("done", 1)
    lan("GET", f"/projects/LAN/drafts/{found['levelled']['draft_id']}/comparison")
    monkeypatch.setattr(jobs, "TELL_EVERY", 0)
    monkeypatch.setattr(job_rows, "tell", lambda cur, job_id, *_: not job_rows.end(cur, job_id, "cancelled", None, clock.utc()))
    asked = lan("POST", "/projects/LAN/level", body)
    assert run_next(database, clock, "")
    assert lan("GET", f"/jobs/{asked['job']}")["stage"] == "cancelled"
    assert len(lan("GET", "/projects/LAN/drafts")) == 1


def test_where_there_is_no_room_it_is_said(lan: Caller, people: dict[str, Person]) -> None:
    who = people["member"].id
    for title in ("Cast", "Glaze"):
        lan.edit(lan.add(title, start="2027-03-22", duration="2 d"), bookings=[booked(who, 12)])
    body = {"first": "2027-03-22", "last": "2027-04-30"}
    found = lan("POST", "/projects/LAN/level", body)
    assert (found["draft_id"], found["still"]) == (None, [{"who": who, "before": 540, "after": 540, "without_room": 1}])
    further = lan("POST", "/projects/LAN/level", {**body, "within_slack": False})
    assert further["finish"] > further["finish_before"]
    lan("PATCH", "/projects/LAN", {"revision": 99, "hours": False})
    lan("POST", "/projects/LAN/level", body, expect=422)


def test_mends_are_ranked_by_harm_and_do_what_they_say(lan: Caller, people: dict[str, Person]) -> None:
    who, free = people["member"].id, people["other"].id
    for person in (who, free):
        lan("PUT", f"/projects/LAN/members/{person}", {"role": "contributor"})
    lan.edit(lan.add("Polish the other panes", owner_id=free, start="2027-03-08", duration="1 d"), percent=100)
    lan.add("Long", start="2027-03-22", duration="15 d")
    for title in ("Cast bars", "Glaze the panes"):
        lan.edit(lan.add(title, start="2027-03-22", duration="2 d"), bookings=[booked(who, 12)])
    ask = f"/projects/LAN/load/mends?who={who}&first=2027-03-22&last=2027-03-26"
    found = lan("GET", ask)
    assert {one["steps"][0]["kind"] for one in found} >= {"move", "give"}
    assert all(one["relief"] == 9 * HOUR and one["finish"] == one["finish_before"] for one in found[:3])
    assert all((one["remains"], len(one["steps"])) == (0, 1) for one in found[:3])
    steps = [one["steps"][0] for one in found]
    give = next(one for one in steps if one["kind"] == "give" and one["row"]["title"] == "Glaze the panes")
    assert (give["to"], give["done"], give["minutes"]) == (free, 1, 12 * HOUR)
    for mend in found[:3]:
        change = take(lan, mend)
        load = lan("GET", "/projects/LAN/load?first=2027-03-15&last=2027-04-30")
        assert [one["days_over"] for one in load["lines"]] == [0] * len(load["lines"]), mend
        lan("POST", f"/changes/{change}/undo")


def test_whom_a_mend_harms_is_judged_by_all_work(lan: Caller, people: dict[str, Person]) -> None:
    who, busy = people["member"].id, people["other"].id
    for person in (who, busy):
        lan("PUT", f"/projects/LAN/members/{person}", {"role": "contributor"})
    lan("POST", "/projects", {"code": "MIL", "name": "Mill", "start_day": "2027-03-08"})
    lan("PATCH", "/projects/MIL", {"revision": 99, "hours": True})
    lan.edit(lan.add("Elsewhere", "MIL", start="2027-03-22", duration="5 d"), "MIL", bookings=[booked(busy, 35)])
    for title in ("Cast", "Glaze"):
        lan.edit(lan.add(title, start="2027-03-22", duration="2 d"), bookings=[booked(who, 12)])
    ask = f"/projects/LAN/load/mends?who={who}&first=2027-03-22&last=2027-03-26&everywhere=false"
    assert busy not in {step["to"] for one in lan("GET", ask) for step in one["steps"]}


def take(caller: Caller, mend: dict[str, Any]) -> str:
    """Apply a way out; returns the change."""
    edits = [{"id": one["row"]["id"], "revision": 999, "fields": one["fields"]} for one in mend["steps"]]
    return str(caller("PATCH", "/projects/LAN/tasks", {"tasks": edits})["change"])


def test_what_no_single_change_takes_away_is_taken_away_by_several(lan: Caller, people: dict[str, Person]) -> None:
    """Four tasks of a full day each on one day: 22.5 h too many, of which each can take a third."""
    who = people["member"].id
    lan("PUT", f"/projects/LAN/members/{who}", {"role": "contributor"})
    lan.add("Long", start="2027-03-22", duration="30 d")
    for n, priority in enumerate(("must", "should", "could", "wont")):
        task = lan.add(f"Pane {n}", start="2027-03-22", duration="1 d", priority=priority)
        lan.edit(task, bookings=[booked(who, 7.5)])
    found = lan("GET", f"/projects/LAN/load/mends?who={who}&first=2027-03-22&last=2027-03-22")
    together, single = found[0], found[1]
    assert (len(together["steps"]), together["relief"], together["remains"]) == (3, 22.5 * HOUR, 0)
    assert (len(single["steps"]), single["relief"], single["remains"]) == (1, 7.5 * HOUR, 15 * HOUR)
    assert single["steps"][0]["row"]["title"] == "Pane 3"  # what is least missed is touched first
    change = take(lan, together)
    load = lan("GET", "/projects/LAN/load?first=2027-03-15&last=2027-04-30")
    assert sum(one["days_over"] for one in load["lines"]) == 0
    lan("POST", f"/changes/{change}/undo")


def test_an_overload_in_a_project_that_one_may_only_read_has_no_mend(
    lan: Caller, sign_in: Any, people: dict[str, Person]
) -> None:
    who = people["other"].id
    for title in ("Cast", "Glaze"):
        lan.edit(lan.add(title, start="2027-03-22", duration="2 d"), bookings=[booked(who, 12)])
    span = f"who={who}&first=2027-03-22&last=2027-03-26"
    assert sign_in("member")("GET", f"/projects/LAN/load/mends?{span}") == []
    assert sign_in("member")("GET", f"/load/mends?{span}") == []


def resource(lan: Caller, name: str, **fields: Any) -> str:
    made = str(uuid.uuid4())
    lan("POST", "/projects/LAN/resources", {"id": made, "name": name, **fields})
    return made


def test_materials_and_fixed_costs_are_booked_by_amount(lan: Caller, people: dict[str, Person]) -> None:
    panes = resource(lan, "Glass panes", kind="material", unit="pc")
    permit = resource(lan, "Permit", kind="fixed")
    task = lan.add("Glaze", start="2027-03-15", duration="3 d")
    who = people["member"]
    row = lan.edit(task, bookings=f"{who.name} 6 h, glass panes 4 pc, permit 350")
    assert [(one["of"], one["minutes"], one["amount"]) for one in row["bookings"]] == [
        ("labour", 360, 0), ("material", 0, 4000), ("fixed", 0, None)]  # fmt: skip
    assert [one["booked"] for one in lan("GET", f"/tasks/{row['id']}/cost")["lines"]] == [360, 4000, 350_000]
    assert (row["booked"], row["helpers"]) == (360, [who.id])
    load = lan("GET", f"/projects/LAN/load?{SPAN}")
    assert [(one["kind"], one["name"], one["unit"]) for one in load["lines"] if one["who"] in {panes, permit}] == [
        ("material", "Glass panes", "pc")
    ]
    found = line(load, panes)
    assert (sum(found["bands"]["LAN"]), found["over"], found["capacity"]) == (4000, [0] * 5, [0] * 5)
    cell = lan("GET", f"/projects/LAN/load/tasks?who={panes}&{SPAN}")
    assert [(one["minutes"], one["booked"]) for one in cell["tasks"]] == [(4000, 4000)]
    row = lan.edit(row, duration="6 d", on_length="units")
    assert [(one["minutes"], one["amount"]) for one in row["bookings"]] == [(720, 0), (0, 4000), (0, None)]
    answer = lan.client.get("/api/projects/LAN/tasks.csv?column=title&column=people")
    assert f"{who.name} 12 h; Glass panes 4; Permit 350.00" in answer.text
    lines = [one for happening in lan("GET", f"/tasks/{row['id']}")["history"] for one in happening["lines"]]
    assert any("Glass panes 4, Permit 350.00" in one for one in lines)


def test_what_is_booked_is_booked_as_it_can_be(lan: Caller) -> None:
    panes = resource(lan, "Glass panes", kind="material", unit="pc")
    task = lan.add("Glaze", start="2027-03-15", duration="3 d")
    for wrong in (
        {"who": panes, "resource": True, "minutes": 60},
        {"who": panes, "resource": True, "of": "fixed", "amount": 5000},
        {"who": panes, "resource": True, "of": "material", "amount": 0},
        {"who": panes, "resource": True, "of": "material", "amount": 1.5},
        {"who": panes, "of": "material", "amount": 1000},
    ):
        body = {"tasks": [{"id": task["id"], "revision": 99, "fields": {"bookings": [wrong]}}]}
        lan("PATCH", "/projects/LAN/tasks", body, expect=422)
    lan("POST", "/projects/LAN/resources", {"name": "Sand", "kind": "material"}, expect=422)
    lan("POST", "/projects/LAN/bookings/read", {"task_id": task["id"], "text": "Glass panes"}, expect=422)
    read = lan("POST", "/projects/LAN/bookings/read", {"task_id": task["id"], "text": "Glass panes 2.5"})
    assert [(one["amount"], one["said"]) for one in read] == [(2500, "Glass panes: 2.5 pc")]


def test_rates_hold_from_a_day_on_are_taken_back_and_hidden(lan: Caller, people: dict[str, Person], sign_in: Any) -> None:
    who, administrator = people["member"].id, sign_in("administrator")
    rates = [{"first": "2027-04-01", "amount": "32.50"}, {"first": None, "amount": "31"}]
    administrator("PUT", "/rates", {"who": who, "kind": "cost", "rates": rates})
    change = {"Rhodonite-Change": str(uuid.uuid4())}
    administrator("PUT", "/rates", {"who": who, "kind": "billing", "rates": [{"amount": "58"}]}, headers=change)
    found = {
        one["kind"]: [(each["first"], float(each["amount"])) for each in one["rates"]] for one in administrator("GET", "/rates")
    }
    assert found == {"cost": [(None, 31.0), ("2027-04-01", 32.5)], "billing": [(None, 58.0)]}
    administrator("POST", f"/changes/{change['Rhodonite-Change']}/undo")
    assert [one["kind"] for one in administrator("GET", "/rates")] == ["cost"]
    member = sign_in("member")
    member("GET", "/rates", expect=403)
    member("PUT", "/rates", {"who": who, "kind": "cost", "rates": []}, expect=403)
    administrator("PUT", "/rates", {"who": who, "rates": [{"amount": "-1"}]}, expect=422)
    administrator("PUT", "/rates", {"who": str(uuid.uuid4()), "rates": []}, expect=404)
    panes, permit = resource(lan, "Glass panes", kind="material", unit="pc"), resource(lan, "Permit", kind="fixed")
    lan("PUT", "/projects/LAN/rates", {"who": panes, "rates": [{"amount": "18.75"}]})
    assert [one["who"] for one in lan("GET", "/projects/LAN/rates")] == [panes]
    assert panes not in {one["who"] for one in administrator("GET", "/rates")}
    lan("PUT", "/projects/LAN/rates", {"who": permit, "rates": [{"amount": "1"}]}, expect=422)
    lan("PUT", "/projects/LAN/rates", {"who": who, "rates": []}, expect=404)
    administrator("PUT", "/rates", {"who": panes, "rates": []}, expect=404)


def test_on_closed_days_of_the_organisation_nobody_has_capacity(lan: Caller, people: dict[str, Person], sign_in: Any) -> None:
    administrator, who = sign_in("administrator"), people["member"].id
    lan.edit(lan.add("Cast", start="2027-03-15", duration="2 d"), bookings=[booked(who, 1)])
    closed = [{"from": "2027-03-17", "to": "2027-03-17", "hours": [], "name": "Harbour day"}]
    administrator("PATCH", "/bookable", {"closed": closed, "currency": "chf"})
    assert line(lan("GET", f"/projects/LAN/load?{SPAN}"), who)["capacity"] == [450, 450, 0, 450, 450]
    staff = administrator("GET", "/bookable")
    assert (staff["currency"], staff["closed"]) == ("CHF", closed)
    administrator("PATCH", "/bookable", {"currency": "12X"}, expect=422)
    administrator("PATCH", "/bookable", {"closed": [{"from": "2027-03-18", "to": "2027-03-17"}]}, expect=422)


def test_a_role_is_replaced_by_a_person_on_many_tasks(lan: Caller, people: dict[str, Person]) -> None:
    role = resource(lan, "Stone cutter, to be found")
    who, other = people["member"].id, people["other"].id
    first, second, third = (lan.add(title, start="2027-03-15", duration="2 d", effort="20 h") for title in ("A", "B", "C"))
    lan.edit(first, bookings=[booked(role, 10, resource=True, shape="front")])
    lan.edit(second, bookings=[booked(who, 2), booked(role, 6, resource=True)])
    lan.edit(third, bookings=[booked(other, 4)])
    change = {"Rhodonite-Change": str(uuid.uuid4())}
    for _ in range(2):  # sent again it is the same change
        lan("POST", "/projects/LAN/bookings/give", {"who": role, "to": who}, headers=change)
    rows = lan.rows()
    assert [(one["who"], one["minutes"], one["shape"]) for one in rows["A"]["bookings"]] == [(who, 600, "front")]
    assert [(one["who"], one["minutes"]) for one in rows["B"]["bookings"]] == [(who, 480)]
    assert [one["who"] for one in rows["C"]["bookings"]] == [other]
    assert rows["A"]["helpers"] == [who]
    lan("POST", "/projects/LAN/bookings/give", {"who": "nobody", "to": other, "task_ids": [third["id"]]})
    assert [one["minutes"] for one in lan.rows()["C"]["bookings"]] == [1200]
    lan("POST", "/projects/LAN/bookings/give", {"who": role, "to": who}, expect=422)  # nobody has any more
    lan("POST", "/projects/LAN/bookings/give", {"who": who, "to": str(uuid.uuid4())}, expect=422)
    lan("POST", f"/changes/{change['Rhodonite-Change']}/undo")
    assert [one["who"] for one in lan.rows()["A"]["bookings"]] == [role]


def test_resources_and_absences_go_out_and_come_in_as_tables(lan: Caller, people: dict[str, Person], sign_in: Any) -> None:
    resource(lan, "Glass panes", kind="material", unit="pc")
    resource(lan, "Divers", people=2.5)
    administrator = sign_in("administrator")
    administrator("POST", "/projects", {"code": "COP", "name": "Copy", "start_day": "2027-03-15"})
    for kind in ("csv", "xlsx"):
        out = lan.client.get(f"/api/projects/LAN/resources.{kind}")
        assert out.is_success
        found = administrator("POST", "/projects/COP/resources/table", files={"file": (f"r.{kind}", out.content)})
        assert (found["added"], found["known"]) == ((2, 0) if kind == "csv" else (0, 2))
    copied = administrator("GET", "/projects/COP/resources")
    assert [(one["name"], one["kind"], one["people"], one["unit"]) for one in copied] == [
        ("Divers", "labour", 2.5, ""), ("Glass panes", "material", 1.0, "pc")]  # fmt: skip
    who = people["member"]
    file = f"Person;From;To;Kind;Note\n{who.name};2027-03-16;2027-03-17;leave;Harbour walk\n{who.email};2027-03-18 13:00;2027-03-18 17:30;;"
    found = administrator("POST", "/absences/table", files={"file": ("a.csv", file.encode())})
    assert found["added"] == 2
    lan.edit(lan.add("Cast", start="2027-03-15", duration="2 d"), bookings=[booked(who.id, 1)])
    assert line(lan("GET", f"/projects/LAN/load?{SPAN}"), who.id)["capacity"] == [450, 0, 0, 240, 450]
    out = administrator("GET", "/absences.xlsx").content
    assert administrator("POST", "/absences/table", files={"file": ("a.xlsx", out)})["known"] == 2
    other = sign_in("other")
    assert "Harbour walk" not in other.client.get("/api/absences.csv").text
    other("POST", "/absences/table", files={"file": ("a.csv", file.encode())}, expect=403)
    wrong = f"Person,From\n{who.name},2027-05-01\nNobody at all,2027-05-02".encode()
    refused = administrator("POST", "/absences/table", files={"file": ("a.csv", wrong)}, expect=422)
    assert "Line 3" in refused["detail"]
    assert len(administrator("GET", "/bookable")["absences"]) == 2  # all rows or none
    back = {"Rhodonite-Change": str(uuid.uuid4())}
    administrator("POST", f"/changes/{found['change']}/undo", headers=back)
    assert administrator("GET", "/bookable")["absences"] == []
    administrator("POST", f"/changes/{back['Rhodonite-Change']}/undo")
    assert len(administrator("GET", "/bookable")["absences"]) == 2


def test_a_task_whose_only_person_is_away_waits_where_the_project_says_so(
    lan: Caller, people: dict[str, Person], sign_in: Any
) -> None:
    who, other = people["member"].id, people["other"].id
    first = lan.add("Cast", start="2027-03-15", duration="2 d")
    then = lan.add("Glaze", duration="1 d", waits_for=str(first["number"]))
    lan.edit(first, bookings=[booked(who, 4)])
    shared = lan.add("Carry", start="2027-03-15", duration="2 d")
    lan.edit(shared, bookings=[booked(who, 4), booked(other, 4)])
    away = {"id": str(uuid.uuid4()), "person_id": who, "kind": "leave", "start": "2027-03-16T00:00", "end": "2027-03-18T00:00"}
    member = sign_in("member")
    member("POST", "/absences", away)
    assert lan.rows()["Cast"]["finish"].startswith("2027-03-16")  # the project has not said so
    lan("PATCH", "/projects/LAN", {"revision": 99, "own_time": True})
    plan = orjson.loads(lan.client.get("/api/projects/LAN/plan.json").content)
    assert [one["calendar"] for one in plan["tasks"]] == ["own-time-1", None, None]
    assert who not in {one["id"] for one in plan["calendars"]}

    def finishes() -> dict[str, str]:
        return {title: row["finish"][:10] for title, row in lan.rows().items()}

    assert finishes() == {"Cast": "2027-03-18", "Glaze": "2027-03-19", "Carry": "2027-03-16"}
    assert lan.rows()["Cast"]["duration"] == 900
    member("PATCH", f"/absences/{away['id']}", {"end": "2027-03-17T00:00"})
    assert finishes()["Cast"] == "2027-03-17"
    change = {"Rhodonite-Change": str(uuid.uuid4())}
    for _ in range(2):  # sent again it is the same change
        member("DELETE", f"/absences/{away['id']}", headers=change)
    assert finishes() == {"Cast": "2027-03-16", "Glaze": "2027-03-17", "Carry": "2027-03-16"}
    member("POST", f"/changes/{change['Rhodonite-Change']}/undo")
    assert finishes()["Cast"] == "2027-03-17"
    before = len(lan("GET", "/projects/LAN/activity"))
    sign_in("administrator")("POST", "/absences", {**away, "id": str(uuid.uuid4()), "person_id": other})
    assert len(lan("GET", "/projects/LAN/activity")) == before  # it concerns no task alone
    lan.edit(lan.rows()["Cast"], bookings=[booked(people["manager"].id, 4)])  # who is not away
    assert finishes()["Glaze"] == "2027-03-17"
    lan.edit(lan.rows()["Cast"], bookings=[booked(who, 4)])
    assert finishes()["Glaze"] == "2027-03-18"
    assert lan.rows()["Glaze"]["id"] == then["id"]
    lan("PATCH", "/projects/LAN", {"revision": 99, "own_time": False})
    assert finishes() == {"Cast": "2027-03-16", "Glaze": "2027-03-17", "Carry": "2027-03-16"}


def test_who_books_too_much_strains_the_project_alike_for_every_reader(lan: Caller, people: dict[str, Person]) -> None:
    task = lan.add("Cast", start="2027-03-22", duration="2 d")
    assert lan("GET", "/projects/LAN/brief")["facts"]["health"] == "steady"
    lan.edit(task, bookings=[booked(people["member"].id, 20)])
    assert lan("GET", "/projects/LAN/brief")["facts"]["health"] == "strained"
    assert lan("GET", "/projects/LAN/scope")["facts"]["health"] == "strained"
    assert {one["code"]: one["health"] for one in lan("GET", "/projects")}["LAN"] == "strained"
    lan.edit(lan.rows()["Cast"], bookings=[booked(people["member"].id, 12)])
    assert lan("GET", "/projects/LAN/brief")["facts"]["health"] == "steady"


def test_crews_are_found_by_who_may_see_their_project(lan: Caller, sign_in: Any) -> None:
    resource(lan, "Harbour scaffolders")
    assert [(one["name"], one["code"]) for one in lan("GET", "/find?text=scaff")["resources"]] == [("Harbour scaffolders", "LAN")]
    lan("PATCH", "/projects/LAN", {"revision": 99, "private": True})
    assert sign_in("other")("GET", "/find?text=scaff")["resources"] == []


def test_bookings_leave_and_come_with_the_plan_file(lan: Caller, people: dict[str, Person]) -> None:
    who = people["member"]
    crew = resource(lan, "Divers", people=2)
    lan.edit(lan.add("Cast", start="2027-03-22", duration="2 d"), bookings=[booked(who.id, 5), booked(crew, 8, resource=True)])
    file = lan.client.get("/api/projects/LAN/plan.json").content
    plan = orjson.loads(file)
    assert {(one["name"], one["capacity"]) for one in plan["resources"]} == {(who.name, 1.0), ("Divers", 2.0)}
    assert sorted(one["minutes"] for one in plan["bookings"]) == [300, 480]
    lan("POST", "/projects", {"code": "COP", "name": "Copy", "start_day": "2027-03-15"})
    lan("PATCH", "/projects/COP", {"revision": 99, "hours": True})
    lan("POST", "/projects/COP/plan.json", files={"file": ("plan.json", file)}, expect=422)  # nobody has said who the divers are
    left_out = {"answers": json.dumps({"bookings": {"Divers": None}})}
    lan("POST", "/projects/COP/plan.json", files={"file": ("plan.json", file)}, data=left_out)
    rows = lan("GET", "/projects/COP/tasks")["rows"]
    assert [[(one["who"], one["minutes"]) for one in row["bookings"]] for row in rows] == [[(who.id, 300)]]  # COP has no divers


def test_a_copy_in_another_project_keeps_what_can_be_booked_there(lan: Caller, people: dict[str, Person]) -> None:
    who = people["member"].id
    panes, divers = resource(lan, "Glass panes", kind="material", unit="pc"), resource(lan, "Divers")
    used = {"who": panes, "resource": True, "of": "material", "amount": 4000}
    task = lan.edit(
        lan.add("Glaze", start="2027-03-22", duration="2 d"),
        bookings=[booked(who, 5), booked(divers, 8, resource=True), used],
    )
    lan("POST", "/projects", {"code": "COP", "name": "Copy", "start_day": "2027-03-15"})
    lan("PATCH", "/projects/COP", {"revision": 99, "hours": True})
    there = str(uuid.uuid4())
    lan("POST", "/projects/COP/resources", {"id": there, "name": "glass panes", "kind": "material", "unit": "pc"})
    wish = {"ids": {task["id"]: str(uuid.uuid4())}, "code": "COP"}
    assert lan("POST", "/projects/LAN/copies/preview", wish)["lost"] == [
        "The booking of Divers of 1 task: COP has none of that name."
    ]
    lan("POST", "/projects/LAN/copies", wish)
    row = lan.rows("COP")["Glaze"]
    assert [(one["who"], one["minutes"], one["amount"]) for one in row["bookings"]] == [(who, 300, 0), (there, 0, 4000)]


def test_what_repeats_goes_on_without_who_has_left(lan: Caller, people: dict[str, Person], sign_in: Any) -> None:
    who, other = people["member"].id, people["other"].id
    task = lan.add("Clean the lens", start="2027-03-15", duration="1 d")
    lan.edit(task, owner_id=other, bookings=[booked(who, 2), booked(other, 3)])
    sign_in("administrator")("PATCH", f"/people/{other}", {"active": False})
    lan.edit(lan.rows()["Clean the lens"], repeats={"words": "every Monday", "mode": "ahead", "ahead": 2})
    rows = lan("GET", "/projects/LAN/tasks")["rows"]
    made = [row for row in rows if row["title"] == "Clean the lens" and row["id"] != task["id"]]
    assert made
    assert all(([one["who"] for one in row["bookings"]], row["owner_id"]) == ([who], None) for row in made)


def test_a_length_is_changed_without_asking_where_only_material_is_booked(lan: Caller) -> None:
    panes = resource(lan, "Glass panes", kind="material", unit="pc")
    task = lan.add("Glaze", start="2027-03-22", duration="2 d")
    lan.edit(task, bookings=[{"who": panes, "resource": True, "of": "material", "amount": 4000}])
    body = {"task_id": task["id"], "fields": {"duration": "4 d"}}
    assert lan("POST", "/projects/LAN/bookings/length", body) is None
