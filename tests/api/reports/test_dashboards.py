"""Dashboards through the API: kept, shared, changed panel by panel, and what their panels count by the rights of who reads."""

from __future__ import annotations

import json
import uuid
from collections.abc import Callable
from typing import Any

import pytest

from rhodonite.core.people.model import Person
from tests.conftest import Caller, state_id

SignIn = Callable[[str], Caller]


@pytest.fixture
def lan(ines: Caller, people: dict[str, Person]) -> Caller:
    """Work of two people: one task late, one under way, one finished, one of nobody; a milestone; efforts."""
    member = people["member"].id
    ines("PUT", f"/projects/LAN/members/{member}", {"role": "contributor"})
    ines.add("Order panes", start="2027-03-08", duration="2 d", effort="8 h", owner_id=member)
    ines.add("Cast bars", start="2027-03-09", duration="3 d", effort="10 h", owner_id=member, percent=50)
    ines.add("Set panes", start="2027-03-22", duration="3 d", effort="6 h")
    ines.add("Glazing signed off", kind="milestone", start="2027-03-26")
    ines.edit(ines.rows()["Order panes"], state_id=state_id(ines, "Finished"))
    ines.edit(ines.rows()["Cast bars"], state_id=state_id(ines, "Under way"))
    return ines


def keep(caller: Caller, *panels: dict[str, Any], **more: Any) -> str:
    body = {"name": "Monday with the crews", "panels": list(panels), **more}
    found: str = caller("POST", "/dashboards", body, expect=201)["id"]
    return found


def shown(caller: Caller, board: str) -> list[Any]:
    return [one["answer"] or one["problem"] for one in caller("POST", f"/dashboards/{board}/answers", {})]


def csv(caller: Caller, path: str) -> list[str]:
    lines: list[str] = caller("GET", path).content.decode("utf-8-sig").splitlines()
    return lines


def panel(kind: str, scope: dict[str, Any] | None = None, **options: Any) -> dict[str, Any]:
    return {"kind": kind, "scope": scope or {}, "options": options}


def by(chart: Any) -> dict[str, Any]:
    """A chart as a table: by mark, and where there are several series by series, the values."""
    several = len(chart["series"]) > 1
    return {
        mark["name"]: {one["name"]: row[at] for one, row in zip(chart["series"], chart["values"], strict=True)}
        if several
        else chart["values"][0][at]
        for at, mark in enumerate(chart["marks"])
    }


def test_a_chart_counts_and_sums_by_one_and_two_fields(lan: Caller) -> None:
    board = keep(
        lan,
        panel("chart", by=["owner"]),
        panel("chart", by=["owner", "class"], measure="sum", of="effort", shape="stacked"),
        panel("chart", by=["finish"], period="week"),
        panel("chart", by=["owner"], measure="mean", of="effort"),
    )
    one, two, three, four = shown(lan, board)
    assert by(one) == {"Tomas Brekke": 2, "no owner": 2}
    assert by(two) == {
        "Tomas Brekke": {"queued": 0, "active": 10, "finished": 8},
        "no owner": {"queued": 6, "active": 0, "finished": 0},
    }
    assert by(three) == {"8 Mar": 2, "15 Mar": 0, "22 Mar": 2}
    assert by(four) == {"Tomas Brekke": 9, "no owner": 6}
    assert (two["unit"], two["heads"]) == ("h", ["Owner", "Class of state", "Effort in h"])


def test_every_bar_opens_the_tasks_that_it_counts(lan: Caller) -> None:
    board = keep(lan, panel("chart", {"state_class": ["queued", "active"]}, by=["owner", "finish"], period="month"))
    (told,) = lan("POST", f"/dashboards/{board}/answers", {})
    chart, scope = told["answer"], told["scope"]
    for at, mark in enumerate(chart["marks"]):
        for row, series in zip(chart["tasks"], chart["series"], strict=True):
            where = json.dumps({"all": [*mark["where"], *series["where"]]})
            found = lan("POST", f"/view?state_class=queued&state_class=active&where={where}", {})
            assert found["shown"] == row[at], (mark, series)
    assert scope["state_class"] == ["queued", "active"]


def test_the_sentence_of_a_dashboard_narrows_each_of_its_panels(lan: Caller, people: dict[str, Person]) -> None:
    member = people["member"].id
    board = keep(lan, panel("figure"), panel("figure", {"state_class": ["active"]}), panel("tasks"), scope={"owner": [member]})
    every, active, tasks = shown(lan, board)
    assert (every["said"], active["said"], every["of"]) == ("2", "1", "tasks")
    assert [one["title"] for one in tasks["items"]] == ["Order panes", "Cast bars"]
    told = lan("POST", f"/dashboards/{board}/answers", {})
    assert told[1]["scope"]["owner"] == [member]
    assert told[1]["scope"]["state_class"] == ["active"]


def test_a_figure_has_a_target_and_what_it_was_before(lan: Caller) -> None:
    board = keep(
        lan, panel("figure", {"state_class": ["finished"]}, target="4", trend=True), panel("figure", measure="sum", of="effort")
    )
    one, two = shown(lan, board)
    assert (one["said"], one["target"], one["percent"], one["met"]) == ("1", "4", 25, False)
    assert [each["value"] for each in one["trend"]] == [*["0"] * 8, "1"]
    assert one["change"].startswith("1 more than on ")
    assert (two["said"], two["of"], two["target"]) == ("24 h", "effort", "")


def test_what_a_dashboard_shows_is_told_once_and_then_what_changed(lan: Caller) -> None:
    board = keep(lan, panel("figure", {"state_class": ["finished"]}), panel("tasks", {"owner": ["nobody"]}))
    first = lan("POST", f"/dashboards/{board}/answers", {})
    known = {one["id"]: one["mark"] for one in first}
    again = lan("POST", f"/dashboards/{board}/answers", {"known": known})
    assert [(one["same"], one["answer"]) for one in again] == [(True, None), (True, None)]
    lan.edit(lan.rows()["Cast bars"], state_id=state_id(lan, "Finished"))
    then = lan("POST", f"/dashboards/{board}/answers", {"known": known})
    assert [one["same"] for one in then] == [False, True]
    assert then[0]["answer"]["said"] == "2"


def test_a_list_has_tints_and_lines_say_what_they_count(lan: Caller) -> None:
    late = {"id": "a", "name": "Late", "where": {"all": [["late", "yes"]]}, "colour": "ember", "sign": "triangle"}
    every = {"id": "b", "name": "Any", "where": {"all": [["number", "least", 1]]}, "colour": "moss"}
    board = keep(lan, panel("tasks", tints=[late, every]), panel("progress"))
    tasks, progress = shown(lan, board)
    tints = {one["title"]: (one["tint"]["name"], one["tint"]["sign"]) for one in tasks["items"]}
    assert tints["Cast bars"] == ("Late", "triangle")
    assert tints["Set panes"] == ("Any", "square")
    assert lan("GET", f"/dashboards/{board}")["panels"][0]["options"]["tints"][0]["where"] == late["where"]
    assert progress["lines"][0]["to"] == ""
    money = {**late, "where": {"all": [["cost.planned", "least", 1]]}}
    lan("POST", f"/dashboards/{board}/panels", panel("tasks", tints=[money]), expect=422)


def test_a_panel_of_the_reader_alone_shows_each_their_own(lan: Caller, sign_in: SignIn) -> None:
    board = keep(lan, panel("people", mine=True), seen_by="everyone")
    assert [(one["name"], one["open"]) for one in shown(lan, board)[0]["people"]] == [("Ines Oduya", 0)]
    assert [(one["name"], one["open"]) for one in shown(sign_in("member"), board)[0]["people"]] == [("Tomas Brekke", 1)]


def test_dashboards_and_kept_reports_are_found_by_name(lan: Caller, sign_in: SignIn) -> None:
    board = keep(lan)
    lan("POST", "/sheets", {"name": "Crews that are late", "view": {"lens": "all_work"}})
    found = lan("GET", "/find?text=crews")["pages"]
    assert [(one["name"], one["what"]) for one in found] == [
        ("Crews that are late", "a kept report"),
        ("Monday with the crews", "a dashboard"),
    ]
    assert found[1]["to"] == f"/reports/dashboard/{board}"
    assert sign_in("member")("GET", "/find?text=crews")["pages"] == []


def test_people_stand_side_by_side_with_what_they_have_in_hand(lan: Caller) -> None:
    board = keep(lan, panel("people"))
    (found,) = shown(lan, board)
    assert [(one["name"], one["open"], one["active"], one["late"]) for one in found["people"]] == [
        ("Tomas Brekke", 1, 1, 1),
        ("Without an owner", 2, 0, 0),
    ]
    assert found["people"][0]["items"][0]["words"] == ["Under way"]


def test_progress_projects_milestones_and_the_rest(lan: Caller) -> None:
    board = keep(lan, panel("progress"), panel("projects"), panel("milestones"), panel("goals"), panel("reports"), panel("text", text="<p>Hello <script>x</script></p>"))  # fmt: skip
    progress, projects, milestones, goals, reports, text = shown(lan, board)
    # of 24 hours 8 and half of 10 are done; planned by Wednesday the 17th are the first two tasks
    assert [(one["percent"], one["expected"]) for one in progress["lines"]] == [(54, 75)]
    assert progress["lines"][0]["note"] == "1 of 4 tasks finished, 1 late"
    assert [(one["code"], one["percent"], one["health"]) for one in projects["lines"]] == [("LAN", 54, "strained")]
    assert [one["title"] for one in milestones["items"]] == ["Glazing signed off"]
    assert (goals["lines"], reports["lines"]) == ([], [])
    assert text["html"] == "<p>Hello </p>"


def test_a_panel_that_cannot_says_why_and_the_others_stand(lan: Caller) -> None:
    board = keep(lan, panel("chart", by=["named.one_of..nothing"]), panel("cost"), panel("figure"))
    first, second, third = shown(lan, board)
    assert first == "No project that is shown has that field. Choose another."
    assert second == "No project here reckons cost that you may see."
    assert third["said"] == "4"


@pytest.mark.parametrize(
    ("wrong", "pointer"),
    [
        (panel("chart"), "by"),
        (panel("chart", by=["owner", "owner"]), "by"),
        (panel("chart", by=["owner"], measure="sum"), "of"),
        (panel("chart", shape="scatter", of="effort"), "against"),
        (panel("chart", {"late": True}, over_time=True), "where"),
        (panel("chart", over_time=True, measure="mean", of="effort"), "measure"),
        (panel("figure", {"held": True}, trend=True), "where"),
        (panel("figure", {"where": '{"all": [["cost.planned", "least", 5]]}'}), "where"),
    ],
)
def test_a_panel_that_cannot_be_is_refused_with_why(lan: Caller, wrong: dict[str, Any], pointer: str) -> None:
    board = keep(lan)
    refused = lan("POST", f"/dashboards/{board}/panels", wrong, expect=422)
    assert refused["errors"][0]["field"] == pointer, refused


def test_work_over_time_is_counted_as_it_stood_then(lan: Caller) -> None:
    board = keep(lan, panel("chart", by=["class"], over_time=True, period="day", last=3, shape="area"))
    (chart,) = shown(lan, board)
    table = by(chart)
    assert list(table) == ["15 Mar", "16 Mar", "today"]
    assert table["today"] == {"queued": 2, "active": 1, "finished": 1}
    assert table["16 Mar"] == {"queued": 0, "active": 0, "finished": 0}  # it was written down today


def test_a_dashboard_that_asks_for_what_is_known_of_today_alone_counts_no_earlier_day(lan: Caller) -> None:
    board = keep(lan, panel("chart", by=["class"], over_time=True), panel("figure", trend=True), scope={"late": True})
    chart, figure = shown(lan, board)
    assert chart.startswith("What was counted in earlier weeks follows from states in the journal.")
    assert (figure["said"], figure["trend"], figure["change"]) == ("1", [], "")


def test_everybody_sees_by_their_own_rights(lan: Caller, sign_in: SignIn, people: dict[str, Person]) -> None:
    lan("PATCH", "/projects/LAN", {"revision": lan("GET", "/projects/LAN")["revision"], "private": True})
    lan("PUT", f"/projects/LAN/members/{people['member'].id}", {"role": None})
    board = keep(lan, panel("figure"), panel("tasks"), panel("chart", by=["owner"]), panel("people"), panel("projects"), seen_by="everyone")  # fmt: skip
    tomas = sign_in("member")
    figure, tasks, chart, side, projects = shown(tomas, board)
    assert (figure["said"], tasks["items"], side["people"], projects["lines"]) == ("0", [], [], [])
    assert chart == "There is no project here that you may see."
    assert "panes" not in json.dumps(tomas("GET", f"/dashboards/{board}"))


def test_a_dashboard_is_seen_and_changed_by_whom_it_is_for(lan: Caller, sign_in: SignIn, people: dict[str, Person]) -> None:
    tomas, guest = sign_in("member"), sign_in("guest")
    own = keep(lan, panel("figure"))
    tomas("GET", f"/dashboards/{own}", expect=404)
    tomas("POST", f"/dashboards/{own}/answers", {}, expect=404)
    named = keep(lan, panel("figure"), seen_by="people", people=[people["member"].id])
    assert tomas("GET", f"/dashboards/{named}")["may_change"] is False
    tomas("PATCH", f"/dashboards/{named}", {"version": 1, "name": "Mine"}, expect=403)
    tomas("POST", f"/dashboards/{named}/panels", panel("figure"), expect=403)
    tomas("DELETE", f"/dashboards/{named}", expect=403)
    copy = tomas("POST", "/dashboards", {"name": "Copy", "like": named}, expect=201)["id"]
    assert tomas("GET", f"/dashboards/{copy}")["panels"][0]["kind"] == "figure"
    guest("POST", "/dashboards", {"name": "All", "seen_by": "everyone"}, expect=403)
    assert {one["name"] for one in tomas("GET", "/dashboards")} == {"Monday with the crews", "Copy"}
    of_project = keep(lan, panel("figure"), code="LAN", seen_by="everyone")
    guest("GET", f"/dashboards/{of_project}", expect=404)
    tomas("POST", "/dashboards", {"name": "No", "code": "SEA"}, expect=404)


def test_a_dashboard_of_a_project_shows_its_work_alone(lan: Caller) -> None:
    lan("POST", "/projects", {"code": "MIL", "name": "Tide Mill", "start_day": "2027-03-01"})
    lan("POST", "/projects/MIL/tasks", {"tasks": [{"title": "Elsewhere"}]})
    board = keep(lan, panel("tasks"), panel("progress"), code="LAN")
    tasks, progress = shown(lan, board)
    assert {one["code"] for one in tasks["items"]} == {"LAN"}
    assert [one["name"] for one in progress["lines"]] == ["Lantern Room Restoration"]


def test_panels_move_change_and_go_and_all_of_it_is_taken_back(lan: Caller) -> None:
    board = keep(lan, panel("figure"), panel("tasks"), panel("progress"))
    path = f"/dashboards/{board}"
    first, second, third = (one["id"] for one in lan("GET", path)["panels"])

    def order() -> list[str]:
        return [one["id"] for one in lan("GET", path)["panels"]]

    moved = lan("PATCH", f"{path}/panels/{third}", {"version": 1, "after_id": None})
    assert order() == [third, first, second]
    lan("POST", f"/changes/{moved['change']}/undo")
    assert order() == [first, second, third]
    resized = lan(
        "PATCH", f"{path}/panels/{first}", {"version": 1, "width": 4, "title": " Open  work ", "options": {"target": "3"}}
    )
    one = lan("GET", path)["panels"][0]
    assert (one["width"], one["title"], one["options"]["target"], one["version"]) == (4, "Open work", "3", 2)
    lan("POST", f"/changes/{resized['change']}/undo")
    one = lan("GET", path)["panels"][0]
    assert (one["width"], one["title"], one["options"]["target"]) == (6, "", None)
    gone = lan("DELETE", f"{path}/panels/{second}")
    assert order() == [first, third]
    lan("POST", f"/changes/{gone['change']}/undo")
    assert order() == [first, second, third]
    away = lan("DELETE", path)
    lan("GET", path, expect=404)
    lan("POST", f"/changes/{away['change']}/undo")
    renamed = lan("PATCH", path, {"version": 3, "name": "Tuesday", "scope": {"late": True}})
    lan("POST", f"/changes/{renamed['change']}/undo")
    assert (lan("GET", path)["name"], lan("GET", path)["scope"]["late"]) == ("Monday with the crews", False)


def test_two_who_change_one_dashboard_lose_nothing(lan: Caller, sign_in: SignIn) -> None:
    board = keep(lan, panel("figure"), panel("tasks"), seen_by="everyone")
    path, other = f"/dashboards/{board}", sign_in("administrator")
    first, second = (one["id"] for one in lan("GET", path)["panels"])
    other("PATCH", f"{path}/panels/{first}", {"version": 1, "title": "Theirs"})
    lan("PATCH", f"{path}/panels/{second}", {"version": 1, "title": "Mine"})
    lan("PATCH", f"{path}/panels/{first}", {"version": 1, "width": 3})  # another field of the same panel
    clash = lan("PATCH", f"{path}/panels/{first}", {"version": 1, "title": "Mine"}, expect=409)
    assert clash["clashes"][0]["theirs"] == "Theirs"
    assert [(one["title"], one["width"]) for one in lan("GET", path)["panels"]] == [("Theirs", 3), ("Mine", 6)]


def test_a_panel_is_had_as_a_table_and_looked_at_before_it_is_kept(lan: Caller) -> None:
    board = keep(lan, panel("tasks", columns=["owner", "effort"]), panel("chart", by=["owner", "class"]))
    one, two = (each["id"] for each in lan("GET", f"/dashboards/{board}")["panels"])
    table = csv(lan, f"/dashboards/{board}/panels/{one}.csv")
    assert table[:2] == ["Code,Title,Owner,Effort", "LAN 1,Order panes,Tomas Brekke,8 h"]
    assert csv(lan, f"/dashboards/{board}/panels/{two}.csv")[0] == "Owner,queued,active,finished"
    tried = lan("POST", f"/dashboards/{board}/preview", panel("figure", {"kind": ["milestone"]}))
    assert tried["answer"]["said"] == "1"
    lan("GET", f"/dashboards/{board}/panels/{uuid.uuid4()}.csv", expect=404)
