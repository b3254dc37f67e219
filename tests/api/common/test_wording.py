"""What the journal, the brief and the search say: words that people act on."""

from __future__ import annotations

from typing import Any

import pytest

from rhodonite.core.people.model import Person
from tests.conftest import Caller, state_id


def lines(caller: Caller, row: dict[str, Any]) -> list[str]:
    """What the last change to a task is said to have done."""
    return caller("GET", f"/tasks/{row['id']}")["history"][0]["lines"]


@pytest.mark.parametrize(
    ("fields", "said"),
    [
        ({"title": "B"}, ["title A → B"]),
        ({"priority": "wont"}, ["priority none → won’t"]),
        ({"start": "2027-03-18", "duration": "2 d"}, ["start none → 18 Mar", "duration none → 2 d", "finish none → 19 Mar"]),
        ({"deadline": "2028-01-03"}, ["deadline none → 3 Jan 2028"]),
        ({"percent": 40}, ["percent done 0 % → 40 %", "state Ready → Under way"]),
        ({"effort": "12"}, ["effort none → 12 h"]),
        ({"held_reason": "rain"}, ["held none → rain"]),
        ({"description": "Long"}, ["description rewritten"]),
        ({"kind": "defect"}, ["kind task → defect"]),
    ],
)
def test_history_says_what_changed(ines: Caller, fields: dict[str, Any], said: list[str]) -> None:
    row = ines.edit(ines.add("A"), **fields)
    assert sorted(lines(ines, row)) == sorted(said)


def test_history_names_people_states_and_places(ines: Caller, people: dict[str, Person]) -> None:
    top = ines.add("Glazing")
    row = ines.edit(ines.add("A"), owner_id=people["member"].id, helpers=[people["other"].id])
    assert sorted(lines(ines, row)) == ["helpers none → Yuki Hartmann", "owner none → Tomas Brekke"]
    row = ines.edit(row, state_id=state_id(ines, "Finished"))
    assert sorted(lines(ines, row)) == ["percent done 0 % → 100 %", "state Ready → Finished"]
    ines("POST", "/projects/LAN/tasks/move", {"ids": [row["id"]], "parent_id": top["id"]})
    assert lines(ines, row) == ["place in the outline none → under Glazing"]


def test_activity_sums_up_a_change_to_many(ines: Caller) -> None:
    rows = [ines.add(f"T{number}") for number in range(9)]
    body = {"tasks": [{"id": row["id"], "revision": row["revision"], "fields": {"priority": "must"}} for row in rows]}
    ines("PATCH", "/projects/LAN/tasks", body)
    first = ines("GET", "/projects/LAN/activity")[0]
    assert first["what"] == "changed priority of 9 tasks"
    assert len(first["lines"]) == 7
    assert first["lines"][-1] == "and 3 more"


def test_activity_goes_on_page_by_page(ines: Caller) -> None:
    for number in range(70):
        ines.add(f"T{number}")
    first = ines("GET", "/projects/LAN/activity")
    second = ines("GET", f"/projects/LAN/activity?before={first[-1]['revision']}")
    assert len(first) == 60
    assert second[0]["revision"] == first[-1]["revision"] - 1
    assert not {one["id"] for one in first} & {one["id"] for one in second}


def test_settings_are_in_the_activity_too(ines: Caller, people: dict[str, Person]) -> None:
    ines("PUT", f"/projects/LAN/members/{people['member'].id}", {"role": "viewer"})
    assert ines("GET", "/projects/LAN/activity")[0]["lines"] == ["Tomas Brekke: role none → viewer"]
    ines("PATCH", "/projects/LAN", {"revision": 999, "name": "Lens", "start_day": "2027-04-01"})
    assert sorted(ines("GET", "/projects/LAN/activity")[0]["lines"]) == [
        "name Lantern Room Restoration → Lens", "start day 8 Mar → 1 Apr",
    ]  # fmt: skip


def test_an_undone_change_is_marked(ines: Caller) -> None:
    row = ines.add("A")
    answer = ines("PATCH", "/projects/LAN/tasks", {"tasks": [{"id": row["id"], "revision": 99, "fields": {"title": "B"}}]})
    ines("POST", f"/changes/{answer['change']}/undo")
    told = ines("GET", "/projects/LAN/activity")
    assert told[0]["what"] == "took back: changed title"
    assert [one["undone"] for one in told[:2]] == [False, True]


def test_the_brief_orders_what_needs_a_decision(ines: Caller) -> None:
    for title, start in (("First", "2027-03-08"), ("Second", "2027-03-10"), ("Last", "2027-03-15")):
        ines.add(title, start=start, duration="1 d")
    ines.add("Dropped", start="2027-02-01", duration="1 d", state_id=state_id(ines, "Dropped"))
    ines.add("Done", start="2027-02-01", duration="1 d", percent=100)
    brief = ines("GET", "/projects/LAN/brief")
    assert [row["title"] for row in brief["late"]] == ["First", "Second", "Last"]
    assert [row["late_days"] for row in brief["late"]] == [6, 4, 1]
    assert brief["facts"]["tasks"] == 4
    assert brief["last_change"]["what"] == "added a task"


def test_the_curve_comes_from_the_journal(ines: Caller, clock: Any) -> None:
    row = ines.add("A", start="2027-03-15", duration="4 d")
    row = ines.edit(row, percent=25)
    clock.set(clock.now().replace(day=18))
    ines.edit(row, percent=60)
    curve = {point["day"]: point for point in ines("GET", "/projects/LAN/brief")["curve"]}
    assert [curve[f"2027-03-{day}"]["done"] for day in (16, 17, 18)] == [0, 25, 60]
    assert curve["2027-03-16"]["planned"] == 50


@pytest.mark.parametrize(
    "path", ["/projects/NOPE", "/projects/NOPE/tasks", "/tasks/01900000-0000-7000-8000-000000000000", "/nowhere"]
)
def test_what_is_not_there_is_said_to_be_missing(ines: Caller, path: str) -> None:
    problem = ines("GET", path, expect=404)
    assert problem["type"] == "/problems/missing"
    assert problem["detail"].endswith(".")


@pytest.mark.parametrize(
    ("method", "path", "body"),
    [
        ("POST", "/projects", {"name": "X"}),
        ("POST", "/projects/LAN/tasks", {"tasks": []}),
        ("POST", "/projects/LAN/tasks/step", {"ids": ["x"], "how": "sideways"}),
        ("POST", "/session", {"email": "x"}),
        ("GET", "/projects/LAN/tasks?since=yesterday", None),
        ("GET", "/projects/LAN/scope?since=soon", None),
    ],
)
def test_requests_that_cannot_be_read_name_the_field(ines: Caller, method: str, path: str, body: Any) -> None:
    problem = ines(method, path, body, expect=422)
    assert problem["errors"][0]["field"]
    assert problem["type"] in {"/problems/invalid-request", "/problems/rule-broken"}


def test_the_api_is_documented(ines: Caller) -> None:
    document = ines("GET", "/openapi.json")
    for path, operations in document["paths"].items():
        for method, operation in operations.items():
            assert operation.get("description"), (method, path)
            assert operation["x-needs"], (method, path)
    for name, schema in document["components"]["schemas"].items():
        if name not in {"HTTPValidationError", "ValidationError"} and not name.startswith("Body_"):
            assert schema.get("description"), name


def test_pages_are_served_for_every_address(ines: Caller) -> None:
    for path in ("/", "/p/LAN/outline", "/invitation/x"):
        answer = ines.client.get(path)
        assert answer.status_code == 200
        assert '<div id="root">' in answer.text
        assert "default-src 'self'" in answer.headers["content-security-policy"]
    assert ines.client.get("/../pyproject.toml").text.startswith("<!doctype html>")
    asset = ines.client.get("/").text.split('src="/assets/')[1].split('"')[0]
    assert "immutable" in ines.client.get(f"/assets/{asset}").headers["cache-control"]


def test_files_are_sent_as_small_as_who_asks_can_read_them(ines: Caller) -> None:
    asset = ines.client.get("/").text.split('src="/assets/')[1].split('"')[0]
    sizes = []
    for taken, coding in (("gzip, deflate, br, zstd", "br"), ("gzip", "gzip"), ("identity", None)):
        answer = ines.client.head(f"/assets/{asset}", headers={"accept-encoding": taken})
        assert answer.headers.get("content-encoding") == coding
        assert answer.headers["content-type"].startswith("text/javascript")
        sizes.append(int(answer.headers["content-length"]))
    assert sizes == sorted(sizes)
    plain = ines.client.get(f"/assets/{asset}", headers={"accept-encoding": "identity"})
    assert ines.client.get(f"/assets/{asset}", headers={"accept-encoding": "gzip"}).text == plain.text


@pytest.mark.parametrize(("text", "day"), [("fri", "2027-03-19"), ("8 Mar", "2027-03-08"), ("in 2 weeks", "2027-03-31")])
def test_a_day_that_is_typed_is_read_as_everywhere(ines: Caller, text: str, day: str) -> None:
    assert ines("GET", f"/days?text={text}") == {"day": day}


@pytest.mark.parametrize("text", ["someday", "", "30 Feb", "1 Jan 1066", "9" * 400])
def test_a_day_that_cannot_be_read_says_so(ines: Caller, text: str) -> None:
    assert ines("GET", f"/days?text={text}", expect=422)["detail"]
