"""Time: entries, the timer, weeks that are handed in, reports and tables."""

from __future__ import annotations

import csv
import io
import threading
import uuid
from collections.abc import Callable
from datetime import timedelta
from typing import Any

import pytest

from rhodonite.core.people.model import Person
from rhodonite.services.common.context import Clock
from tests.conftest import Caller

DAY = "2027-03-17"  # a Wednesday
SignIn = Callable[[str], Caller]


@pytest.fixture
def lan(ines: Caller, people: dict[str, Person]) -> Caller:
    """A project that records time, with Tomas as a contributor and Yuki as a viewer."""
    ines("PATCH", "/projects/LAN", {"revision": 99, "time": True})
    ines("PUT", f"/projects/LAN/members/{people['member'].id}", {"role": "contributor"})
    return ines


def enter(caller: Caller, task: dict[str, Any], minutes: int, day: str = DAY, expect: int | None = None, **more: Any) -> Any:
    body = {"entries": [{"id": str(uuid.uuid4()), "task_id": task["id"], "day": day, "minutes": minutes, **more}]}
    answer = caller("POST", "/projects/LAN/time", body, expect=expect)
    return answer if expect and expect >= 400 else {"id": body["entries"][0]["id"], **answer}


def entries(caller: Caller, task: dict[str, Any]) -> list[dict[str, Any]]:
    return caller("GET", f"/tasks/{task['id']}/time")["entries"]


def test_time_is_entered_on_tasks_and_summed_up_the_tree(lan: Caller, sign_in: SignIn, people: dict[str, Person]) -> None:
    tomas = sign_in("member")
    lens = lan.add("Lens")
    bars = lan.add("Cast bars", parent=lens["id"], effort="10 h")
    enter(tomas, bars, 90, note=" first pour ")
    enter(lan, lens, 60)
    assert lan.rows()["Cast bars"]["spent"] == 90
    assert lan.rows()["Lens"]["spent"] == 150
    found = lan("GET", f"/tasks/{lens['id']}/time")
    assert (found["spent"], found["below"], found["estimate"]) == (60, 150, 600)
    assert [(one["person_id"], one["minutes"], one["below"]) for one in found["people"]] == [
        (people["member"].id, 0, 90),
        (people["manager"].id, 60, 60),
    ]
    assert entries(lan, bars)[0]["note"] == "first pour"


def test_a_project_that_records_no_time_takes_none(ines: Caller) -> None:
    task = ines.add("Cast bars")
    assert "records no time" in enter(ines, task, 60, expect=422)["detail"]
    assert "spent" not in {one["key"] for one in ines("GET", "/projects/LAN/columns")["columns"]}
    ines("PATCH", "/projects/LAN", {"revision": 99, "time": True})
    enter(ines, task, 60)
    assert {"spent", "unspent"} <= {one["key"] for one in ines("GET", "/projects/LAN/columns")["columns"]}


def test_who_only_reads_enters_time_where_they_are_at_work(lan: Caller, sign_in: SignIn, people: dict[str, Person]) -> None:
    yuki = sign_in("other")
    task = lan.add("Cast bars")
    assert "not at work" in enter(yuki, task, 60, expect=403)["detail"]
    lan.edit(task, owner_id=people["other"].id)
    enter(yuki, task, 60)
    assert "lead" in enter(yuki, task, 60, person_id=people["member"].id, expect=403)["detail"]
    enter(lan, task, 30, person_id=people["member"].id)  # a lead enters those of others
    assert lan.rows()["Cast bars"]["spent"] == 90


def test_entries_are_changed_by_their_owner_or_a_lead_and_taken_back(lan: Caller, sign_in: SignIn) -> None:
    tomas, yuki = sign_in("member"), sign_in("other")
    bars, pane = lan.add("Cast bars"), lan.add("Set a pane")
    made = enter(tomas, bars, 90)
    edit = {"entries": [{"id": made["id"], "revision": 999, "minutes": 45, "task_id": pane["id"], "billable": False}]}
    assert yuki("PATCH", "/projects/LAN/time", edit, expect=403)["detail"].startswith("Those are somebody else")
    change = lan("PATCH", "/projects/LAN/time", edit)["change"]
    assert (lan.rows()["Cast bars"]["spent"], lan.rows()["Set a pane"]["spent"]) == (0, 45)
    lan("POST", f"/changes/{change}/undo")
    assert (lan.rows()["Cast bars"]["spent"], lan.rows()["Set a pane"]["spent"]) == (90, 0)
    gone = tomas("POST", "/projects/LAN/time/delete", {"ids": [made["id"]]})["change"]
    assert entries(lan, bars) == []
    tomas("POST", f"/changes/{gone}/undo")
    assert [one["minutes"] for one in entries(lan, bars)] == [90]
    tomas("POST", f"/changes/{made['change']}/undo")
    assert lan.rows()["Cast bars"]["spent"] == 0
    said = [one for happening in lan("GET", "/projects/LAN/activity") for one in happening["lines"]]
    assert any("Cast bars: 1.5 h of Tomas Brekke on 17 Mar" in one for one in said)


def test_two_who_change_the_same_hours_are_shown_both(lan: Caller, sign_in: SignIn) -> None:
    tomas = sign_in("member")
    bars = lan.add("Cast bars")
    made = enter(tomas, bars, 90)
    seen = entries(lan, bars)[0]["revision"]
    tomas("PATCH", "/projects/LAN/time", {"entries": [{"id": made["id"], "revision": seen, "minutes": 60}]})
    clash = lan("PATCH", "/projects/LAN/time", {"entries": [{"id": made["id"], "revision": seen, "minutes": 30}]}, expect=409)
    assert (clash["clashes"][0]["yours"], clash["clashes"][0]["theirs"]) == (30, 60)
    lan("PATCH", "/projects/LAN/time", {"entries": [{"id": made["id"], "revision": seen, "note": "merged"}]})
    assert (entries(lan, bars)[0]["minutes"], entries(lan, bars)[0]["note"]) == (60, "merged")


def test_a_day_holds_no_more_than_its_hours_over_all_projects(lan: Caller) -> None:
    task = lan.add("Cast bars")
    enter(lan, task, 20 * 60)
    assert "25 h" in enter(lan, task, 5 * 60, expect=422)["detail"]
    enter(lan, task, 4 * 60)
    assert enter(lan, task, 60, day="2027-03-18", expect=422)["errors"][0]["field"] == "day"


def test_a_sent_again_entry_is_written_once(lan: Caller) -> None:
    task = lan.add("Cast bars")
    body = {"entries": [{"id": str(uuid.uuid4()), "task_id": task["id"], "day": DAY, "minutes": 60}]}
    for _ in range(2):
        lan("POST", "/projects/LAN/time", body, headers={"Rhodonite-Change": "0190a6f2-7c1e-7d3a-9f54-2b1c8e6d4a10"})
    assert len(entries(lan, task)) == 1


def test_hours_go_with_a_task_that_moves_or_is_merged(lan: Caller) -> None:
    lan("POST", "/projects", {"code": "MIL", "name": "Mill", "start_day": "2027-03-08"})
    lan("PATCH", "/projects/MIL", {"revision": 99, "time": True})
    bars, pane = lan.add("Cast bars"), lan.add("Set a pane")
    enter(lan, bars, 60)
    enter(lan, pane, 30)
    merged = {"task_id": pane["id"], "into_id": bars["id"]}
    change = lan("POST", "/projects/LAN/tasks/merge", merged)["change"]
    assert lan.rows()["Cast bars"]["spent"] == 90
    lan("POST", f"/changes/{change}/undo")
    assert (lan.rows()["Cast bars"]["spent"], lan.rows()["Set a pane"]["spent"]) == (60, 30)
    lan("POST", "/projects/LAN/tasks/merge", merged)
    moved = {"ids": {bars["id"]: str(uuid.uuid4())}, "code": "MIL", "moves": True}
    change = lan("POST", "/projects/LAN/copies", moved)["change"]
    assert lan.rows("MIL")["Cast bars"]["spent"] == 90
    lan("POST", f"/changes/{change}/undo")
    assert lan.rows()["Cast bars"]["spent"] == 90
    lan("POST", "/projects/LAN/copies", {**moved, "ids": {bars["id"]: str(uuid.uuid4())}})
    assert lan.rows("MIL")["Cast bars"]["spent"] == 90
    report = lan("GET", f"/time-report?first={DAY}&last={DAY}&by=project")
    assert [(report["labels"]["project"][one["keys"][0]], one["minutes"]) for one in report["lines"]] == [("MIL Mill", 90)]


# the timer


def running(caller: Caller) -> Any:
    return caller("GET", "/timer")["timer"]


def later(clock: Clock, **by: float) -> None:
    clock.set(clock.now() + timedelta(**by))


def test_a_timer_runs_on_every_page_and_becomes_an_entry(lan: Caller, clock: Clock) -> None:
    bars = lan.add("Cast bars")
    lan("PUT", "/timer", {"task_id": bars["id"], "note": "second pour"})
    later(clock, minutes=50)
    timer = running(lan)
    assert (timer["code"], timer["title"], timer["minutes"], timer["forgotten"]) == ("LAN", "Cast bars", 50, False)
    lan("PATCH", "/timer", {"billable": False})
    later(clock, minutes=10)
    assert lan("POST", "/timer/stop", {})["timer"] is None
    made = entries(lan, bars)[0]
    assert (made["minutes"], made["started"], made["note"], made["billable"]) == (60, 9 * 60 + 30, "second pour", False)


def test_one_timer_a_person_the_next_stops_the_one_before(lan: Caller, clock: Clock) -> None:
    bars, pane = lan.add("Cast bars"), lan.add("Set a pane")
    lan("PUT", "/timer", {"task_id": bars["id"]})
    later(clock, minutes=20)
    lan("PUT", "/timer", {"task_id": bars["id"]})  # runs on
    later(clock, minutes=10)
    lan("PUT", "/timer", {"task_id": pane["id"]})
    assert [one["minutes"] for one in entries(lan, bars)] == [30]
    assert running(lan)["title"] == "Set a pane"
    lan("DELETE", "/timer")
    assert running(lan) is None
    assert entries(lan, pane) == []
    assert "No timer of yours runs" in lan("POST", "/timer/stop", {}, expect=422)["detail"]


def test_two_clicks_in_two_browsers_make_one_timer(lan: Caller) -> None:
    tasks = [lan.add("Cast bars"), lan.add("Set a pane")]
    clicks = [threading.Thread(target=lan, args=("PUT", "/timer", {"task_id": task["id"]})) for task in tasks]
    for one in clicks:
        one.start()
    for one in clicks:
        one.join()
    timer = running(lan)
    other = next(task for task in tasks if task["id"] != timer["task_id"])
    assert [one["minutes"] for one in entries(lan, other)] == [1]
    lan("POST", "/timer/stop", {})
    assert sum(len(entries(lan, task)) for task in tasks) == 2


def test_a_forgotten_timer_asks_what_it_really_was(lan: Caller, clock: Clock) -> None:
    bars, pane = lan.add("Cast bars"), lan.add("Set a pane")
    lan("PUT", "/timer", {"task_id": bars["id"]})
    later(clock, hours=21)
    assert running(lan)["forgotten"] is True
    for refused in (lan("POST", "/timer/stop", {}, expect=422), lan("PUT", "/timer", {"task_id": pane["id"]}, expect=422)):
        assert refused["errors"][0]["field"] == "minutes"
        assert "17 Mar, 09:30" in refused["detail"]
    lan("POST", "/timer/stop", {"minutes": 240, "note": "until lunch"})
    made = entries(lan, bars)[0]
    assert (made["day"], made["minutes"], made["note"]) == (DAY, 240, "until lunch")


def test_a_timer_of_a_task_that_is_gone_keeps_its_time(lan: Caller, clock: Clock) -> None:
    bars = lan.add("Cast bars")
    lan("PUT", "/timer", {"task_id": bars["id"]})
    lan("POST", "/projects/LAN/tasks/delete", {"ids": [bars["id"]]})
    later(clock, minutes=30)
    lan("POST", "/timer/stop", {})
    report = lan("GET", f"/time-report?first={DAY}&last={DAY}&by=person")
    assert report["total"]["minutes"] == 30


# weeks


def sheet(caller: Caller, **asked: str) -> Any:
    return caller("GET", "/time-sheet", params=asked)


def test_a_week_is_handed_in_returned_with_a_word_and_accepted(
    lan: Caller, sign_in: SignIn, people: dict[str, Person], clock: Clock
) -> None:
    tomas, who = sign_in("member"), people["member"].id
    bars = lan.add("Cast bars")
    tomas("POST", "/time-sheet/hand-in", {"day": DAY}, expect=422)
    made = enter(tomas, bars, 300)
    handed = tomas("POST", "/time-sheet/hand-in", {"day": DAY})["change"]
    assert sheet(tomas)["state"] == "handed_in"
    assert "handed in" in enter(tomas, bars, 60, expect=403)["detail"]
    tomas("POST", f"/changes/{handed}/undo")
    assert sheet(tomas)["state"] == "open"
    tomas("POST", "/time-sheet/hand-in", {"day": DAY})
    waiting = lan("GET", "/time-sheets")["waiting"]
    assert [(one["person_id"], one["monday"], one["minutes"]) for one in waiting] == [(who, "2027-03-15", 300)]
    judged = {"person_id": who, "day": DAY}
    assert "word" in lan("POST", "/time-sheet/judge", {**judged, "accept": False}, expect=422)["detail"]
    lan("POST", "/time-sheet/judge", {**judged, "accept": False, "word": "Friday is missing"})
    assert [(one["word"], one["code"]) for one in tomas("GET", "/time-sheets")["returned"]] == [("Friday is missing", "LAN")]
    enter(tomas, bars, 60, day="2027-03-16")
    tomas("POST", "/time-sheet/hand-in", {"day": DAY})
    change = lan("POST", "/time-sheet/judge", {**judged, "accept": True})["change"]
    assert sheet(tomas)["state"] == "accepted"
    edit = {"entries": [{"id": made["id"], "revision": 999, "minutes": 10}]}
    for caller in (tomas, lan):  # closed for everybody
        assert "accepted" in caller("PATCH", "/projects/LAN/time", edit, expect=403)["detail"]
        caller("POST", "/projects/LAN/time/delete", {"ids": [made["id"]]}, expect=403)
    assert tomas("POST", f"/changes/{change}/undo", expect=403)["detail"].startswith("That is for a lead")
    lan("POST", f"/changes/{change}/undo")
    assert sheet(tomas)["state"] == "handed_in"


def test_nobody_accepts_their_own_hours(lan: Caller, sign_in: SignIn, people: dict[str, Person]) -> None:
    enter(lan, lan.add("Cast bars"), 60)
    lan("POST", "/time-sheet/hand-in", {"day": DAY})
    judged = {"person_id": people["manager"].id, "day": DAY, "accept": True}
    assert "own hours" in lan("POST", "/time-sheet/judge", judged, expect=403)["detail"]
    assert lan("GET", "/time-sheets")["waiting"] == []
    sign_in("administrator")("POST", "/time-sheet/judge", judged)
    assert sheet(lan)["state"] == "accepted"


def test_the_hours_of_others_are_read_by_leads_of_their_projects(lan: Caller, sign_in: SignIn, people: dict[str, Person]) -> None:
    tomas, who = sign_in("member"), people["member"].id
    lan("POST", "/projects", {"code": "MIL", "name": "Mill", "start_day": "2027-03-08", "private": True})
    lan("PATCH", "/projects/MIL", {"revision": 99, "time": True})
    lan("PUT", f"/projects/MIL/members/{who}", {"role": "contributor"})
    wheel = lan.add("Turn the wheel", "MIL")
    tomas("POST", "/projects/MIL/time", {"entries": [{"task_id": wheel["id"], "day": DAY, "minutes": 60}]})
    enter(tomas, lan.add("Cast bars"), 30)
    sign_in("other")("GET", "/time-sheet", params={"person_id": who}, expect=403)
    lan("PUT", f"/projects/LAN/members/{people['other'].id}", {"role": "lead"})
    seen = sheet(sign_in("other"), person_id=who)
    assert ([one["title"] for one in seen["rows"]], seen["other"][2]) == (["Cast bars"], 60)
    assert [one["title"] for one in sheet(tomas)["rows"]] == ["Cast bars", "Turn the wheel"]


def test_the_sheet_offers_last_weeks_tasks_and_what_one_is_at_work_on(
    lan: Caller, sign_in: SignIn, people: dict[str, Person]
) -> None:
    tomas = sign_in("member")
    bars, done = lan.add("Cast bars"), lan.add("Old work")
    lan.add("Set a pane", owner_id=people["member"].id, start="2027-03-18", duration="1 d")
    lan.add("Next month", owner_id=people["member"].id, start="2027-04-18", duration="1 d")
    enter(tomas, bars, 60, day="2027-03-10")
    enter(tomas, done, 60, day="2027-03-10")
    lan.edit(done, percent=100)
    assert [(one["title"], one["why"]) for one in sheet(tomas)["offered"]] == [
        ("Cast bars", "last_week"),
        ("Set a pane", "at_work"),
    ]
    assert sheet(tomas)["capacity"] == [450, 450, 450, 450, 450, 0, 0]


# reports and tables


def test_the_report_tells_what_one_may_see_and_ones_own(lan: Caller, sign_in: SignIn, people: dict[str, Person]) -> None:
    tomas, guest = sign_in("member"), sign_in("guest")
    bars = lan.add("Cast bars", effort="4 h")
    enter(tomas, bars, 90)
    enter(lan, bars, 60, billable=False, day="2027-03-10")
    asked = "/time-report?first=2027-03-01&last=2027-03-31"
    report = lan("GET", f"{asked}&by=task&by=week")
    assert [(one["minutes"], one["billable"], one["estimate"]) for one in report["lines"]] == [
        (150, 90, 240),
        (60, 0, None),
        (90, 90, None),
    ]
    assert report["labels"]["week"] == {"2027-03-08": "week of 8 Mar", "2027-03-15": "week of 15 Mar"}
    assert list(report["labels"]["task"].values()) == ["LAN 1 Cast bars"]
    assert guest("GET", asked)["total"]["minutes"] == 0
    only = lan("GET", f"{asked}&people={people['member'].id}&billable=true&projects=lan")
    assert only["total"]["minutes"] == 90
    assert lan("GET", f"{asked}&billable=false")["total"]["minutes"] == 60
    lan("GET", f"{asked}&by=person&by=person", expect=422)
    rows = list(csv.reader(io.StringIO(lan("GET", asked.replace("report?", "report.csv?") + "&by=task").text.lstrip("\ufeff"))))
    assert rows == [
        ["Task", "Hours", "Hours to be charged", "Entries", "Estimate in hours"],
        ["LAN 1 Cast bars", "2.5", "1.5", "2", "4"],
    ]


def test_entries_go_out_and_come_in_as_tables(lan: Caller, sign_in: SignIn) -> None:
    tomas = sign_in("member")
    bars = lan.add("Cast bars")
    made = enter(tomas, bars, 100, started=9 * 60 + 5, note="second pour")
    out = lan("GET", f"/projects/LAN/time.csv?first={DAY}&last={DAY}").content
    send = {"file": ("time.csv", out)}
    assert lan("POST", "/projects/LAN/time/table", files=send)["known"] == 1
    tomas("POST", "/projects/LAN/time/delete", {"ids": [made["id"]]})
    brought = lan("POST", "/projects/LAN/time/table", files=send)
    assert (brought["added"], brought["known"]) == (1, 0)
    found = entries(lan, bars)[0]
    assert (found["minutes"], found["started"], found["note"], found["person_id"]) != made
    assert (found["minutes"], found["started"], found["note"]) == (100, 545, "second pour")
    lan("POST", f"/changes/{brought['change']}/undo")
    assert entries(lan, bars) == []
    wrong = {"file": ("time.csv", b"Task,Day,Hours\n1,2027-03-16,2\n77,2027-03-16,2")}
    assert lan("POST", "/projects/LAN/time/table", files=wrong, expect=422)["detail"].startswith("Line 3")
    assert entries(lan, bars) == []


def test_xlsx_of_entries_can_be_had(lan: Caller) -> None:
    enter(lan, lan.add("Cast bars"), 60)
    assert lan("GET", f"/time.xlsx?first={DAY}&last={DAY}").content[:2] == b"PK"
    assert lan("GET", f"/projects/LAN/time.xlsx?first={DAY}&last={DAY}").content[:2] == b"PK"


def test_time_is_real_also_within_a_draft(lan: Caller) -> None:
    bars = lan.add("Cast bars")
    draft = lan("POST", "/projects/LAN/drafts", {"name": "Second crew"})["id"]
    body = {"entries": [{"task_id": bars["id"], "day": DAY, "minutes": 60}]}
    lan("POST", "/projects/LAN/time", body, headers={"Rhodonite-Draft": draft})
    assert lan.rows()["Cast bars"]["spent"] == 60
