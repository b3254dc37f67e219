"""Goals through the API: how far they are, by hand and by themselves; who sees them; notes, closing, undo."""

from __future__ import annotations

import uuid
from collections.abc import Callable
from typing import Any

import pytest

from rhodonite.core.people.model import Person
from rhodonite.services.common.context import Clock
from rhodonite.services.goals import notes
from rhodonite.store.common.database import Database, fetch_all
from tests.conftest import Caller

from ..time.test_time import later

SignIn = Callable[[str], Caller]
HALF = {"first": "2027-01-01", "last": "2027-06-30"}


@pytest.fixture
def lan_id(ines: Caller) -> str:
    """The id of the project LAN."""
    return str(ines("GET", "/projects/LAN")["id"])


def aim(caller: Caller, title: str, expect: int | None = None, **more: Any) -> Any:
    return caller("POST", "/goals", {"title": title, **HALF, **more}, expect=expect)


def tree(caller: Caller) -> dict[str, dict[str, Any]]:
    return {one["title"]: one for one in caller("GET", "/goals")["goals"]}


def hand(start: str = "12", target: str = "20", **more: Any) -> dict[str, Any]:
    return {"kind": "hand", "start": start, "target": target, "decimals": 1, **more}


def enter(caller: Caller, goal: dict[str, Any], value: str, day: str = "2027-03-10", expect: int | None = None) -> Any:
    return caller("POST", f"/goals/{goal['id']}/values", {"day": day, "value": value}, expect=expect)


def test_from_12_to_20_standing_at_15_is_37_and_a_half_percent(ines: Caller) -> None:
    goal = aim(ines, "Panes a week", measure=hand(sign="panes"))
    assert (goal["how"]["percent"], goal["how"]["health"], goal["reading"]) == (None, None, "No value was entered yet.")
    enter(ines, goal, "14", "2027-03-12")
    enter(ines, goal, "13", "2027-02-01")
    enter(ines, goal, "15", "2027-03-16")
    how = tree(ines)["Panes a week"]["how"]
    assert (how["value"], how["percent"], how["far"]) == ("15", "37.5", "15.0 of 20.0 panes")
    assert (how["expected"], how["health"]) == ("42.0", "steady")  # 76 of 181 days
    assert how["why"] == "37.5 %, 42 % expected by now: 4.5 points behind."


@pytest.mark.parametrize(
    ("value", "health"), [("14", "slipping"), ("12.5", "slipping"), ("12", "strained"), ("11", "steady"), ("5", "steady")]
)
def test_a_goal_may_go_down(ines: Caller, value: str, health: str) -> None:
    goal = aim(ines, "Queue at the pier", measure=hand("14", "6", sign="min"))
    enter(ines, goal, value)
    assert tree(ines)["Queue at the pier"]["how"]["health"] == health


@pytest.mark.parametrize(
    ("wrong", "field"),
    [
        ({"title": " "}, "title"), ({"last": "2026-12-31"}, "last"), ({"last": "2047-12-31"}, "last"),
        ({"measure": hand("5", "5")}, "target"), ({"measure": hand("1.25", "5")}, "start"), ({"belongs": "team"}, "whose"),
        ({"measure": {"kind": "tasks"}}, "projects"), ({"measure": hand(steps=[{"day": "2027-08-01", "value": "13"}])}, "steps"),
        ({"measure": hand(steps=[{"day": "2027-03-01", "value": "13"}, {"day": "2027-02-01", "value": "14"}])}, "steps"),
        ({"belongs": "person", "whose": str(uuid.uuid4())}, "whose"), ({"people": {str(uuid.uuid4()): "read"}}, "people"),
    ],
)  # fmt: skip
def test_a_goal_that_cannot_be_is_refused(ines: Caller, wrong: dict[str, Any], field: str) -> None:
    assert aim(ines, wrong.pop("title", "A goal"), 422, **wrong)["errors"][0]["field"] == field


def test_a_goal_above_others_is_their_weighted_mean(ines: Caller) -> None:
    top = aim(ines, "Every building surveyed", measure={"kind": "goals"})
    heavy = aim(ines, "Mill", parent_id=top["id"], weight=3, measure=hand("0", "10"))
    light = aim(ines, "Pier", parent_id=top["id"], measure=hand("0", "10"))
    aim(ines, "Tower", parent_id=top["id"], measure=hand("0", "10"))  # of which nothing is known
    enter(ines, heavy, "10")
    enter(ines, light, "2")
    how = tree(ines)["Every building surveyed"]["how"]
    assert (how["percent"], how["far"]) == ("80.0", "80 % of 2 goals")
    ines("PATCH", f"/goals/{light['id']}", {"version": 1, "weight": 1, "parent_id": None})
    assert tree(ines)["Every building surveyed"]["how"]["percent"] == "100.0"


def test_no_goal_stands_below_itself(ines: Caller) -> None:
    a = aim(ines, "A")
    b = aim(ines, "B", parent_id=a["id"])
    c = aim(ines, "C", parent_id=b["id"])
    for one, below in ((a, c), (a, b), (b, b)):
        answer = ines("PATCH", f"/goals/{one['id']}", {"version": 9, "parent_id": below["id"]}, expect=422)
        assert answer["errors"][0]["field"] == "parent_id"


def test_a_goal_measures_itself_from_milestones_and_by_effort(ines: Caller, lan_id: str) -> None:
    for title in ("Kiosk sells", "Lens relit", "Mill opens"):
        ines.add(title, kind="milestone", start="2027-04-01")
    ines.add("Cast bars", effort="30 h", percent=50)
    ines.add("Set panes", effort="10 h")
    ines.add("No effort")
    marks = aim(ines, "Three places open", measure={"kind": "tasks", "counts": "milestones", "projects": [lan_id]})
    work = aim(ines, "Lantern relit", measure={"kind": "tasks", "by": "effort", "projects": [lan_id]})
    assert tree(ines)["Three places open"]["how"]["far"] == "0 of 3 milestones"
    assert (tree(ines)["Lantern relit"]["how"]["percent"], tree(ines)["Lantern relit"]["how"]["far"]) == (
        "37.5",
        "37.5 % of 40 h",
    )
    done = ines.rows()["Kiosk sells"]
    states = {one["state_class"]: one["id"] for one in ines("GET", "/projects/LAN")["states"]}
    ines.edit(done, state_id=states["finished"])
    ines.edit(ines.rows()["Cast bars"], state_id=states["finished"])
    detail = ines("GET", f"/goals/{marks['id']}")
    assert (detail["how"]["far"], detail["how"]["percent"]) == ("1 of 3 milestones", "33.3")
    assert [one["title"] for one in detail["counted"][0]["items"]] == ["Lens relit", "Mill opens", "Kiosk sells"]
    assert tree(ines)["Lantern relit"]["how"]["percent"] == "75.0"
    assert "1 task has no effort, and counts for nothing." in ines("GET", f"/goals/{work['id']}")["reading"]
    served = ines("GET", "/projects/LAN/goals")
    assert [(one["goal"]["title"], one["adds"]) for one in served] == [
        ("Three places open", "1 of 3 milestones"), ("Lantern relit", "30 of 40 h")]  # fmt: skip


def test_a_sentence_narrows_what_is_counted(ines: Caller, lan_id: str, people: dict[str, Person]) -> None:
    ines.add("Mine", owner_id=people["manager"].id, effort="4 h", percent=100)
    ines.add("Another’s", owner_id=people["member"].id, effort="4 h")
    where = '{"all": [["owner", "any", ["me"]]]}'
    measure = {"kind": "tasks", "by": "effort", "projects": [lan_id], "where": where}
    aim(ines, "My part", measure=measure)
    assert tree(ines)["My part"]["how"]["far"].endswith("of 4 h")
    tried = ines("POST", "/goals/measure", {"measure": measure, **HALF})
    assert (tried["how"]["percent"], tried["counted"][0]["total"]) == ("100.0", "240")
    bad = {**measure, "where": '{"all": [["nonsense", "is", "x"]]}'}
    aim(ines, "Wrong", 422, measure=bad)
    money = {**measure, "where": '{"all": [["cost.planned", "over", "5"]]}'}
    aim(ines, "Money", 422, measure=money)


def test_the_sum_of_a_field_is_a_measure(ines: Caller, lan_id: str) -> None:
    own = str(uuid.uuid4())
    ines("POST", "/projects/LAN/defined/fields", {"id": own, "name": "Points", "settings": {"type": "number"}})
    for title, points in (("A", 5), ("B", 8)):
        ines.add(title, **{f"own.{own}": points})
    fields = ines("POST", "/goals/measure", {"measure": {"kind": "field", "projects": [lan_id]}, **HALF})["fields"]
    key = next(key for key, name in fields.items() if name == "Points")
    assert not any(one.startswith("cost.") for one in fields)
    aim(
        ines,
        "Points",
        measure={"kind": "field", "field": key, "projects": [lan_id], "start": "0", "target": "52", "sign": "points"},
    )
    how = tree(ines)["Points"]["how"]
    assert (how["value"], how["percent"], how["far"]) == ("13", "25.0", "13 of 52 points")


def test_expected_follows_the_steps_that_were_set(ines: Caller) -> None:
    steps = [{"day": "2027-03-17", "value": "13"}, {"day": "2027-05-31", "value": "18"}]
    goal = aim(ines, "Stepped", measure=hand(steps=steps))
    enter(ines, goal, "13")
    how = tree(ines)["Stepped"]["how"]
    assert (how["expected"], how["percent"], how["health"]) == ("12.5", "12.5", "steady")
    assert how["why"].endswith("just where it should be.")


def test_who_sees_a_goal_and_who_may_do_what(ines: Caller, sign_in: SignIn, people: dict[str, Person]) -> None:
    other, guest = people["other"], people["guest"]
    open_to_all = aim(ines, "For everyone")
    secret = aim(ines, "For two", seen_by="people", people={guest.id: "read", other.id: "edit"})
    member = sign_in("member")
    assert set(tree(member)) == {"For everyone"}
    member("GET", f"/goals/{secret['id']}", expect=404)
    assert set(tree(sign_in("guest"))) == {"For two"}
    assert set(tree(sign_in("administrator"))) == {"For everyone", "For two"}
    for caller, expect in ((member, 403), (sign_in("other"), 403)):
        caller("PATCH", f"/goals/{open_to_all['id']}", {"version": 1, "title": "Mine"}, expect=expect)
        caller("POST", f"/goals/{open_to_all['id']}/values", {"day": "2027-03-01", "value": "3"}, expect=expect)
        caller("POST", f"/goals/{open_to_all['id']}/close", {"outcome": "met"}, expect=expect)
        caller("DELETE", f"/goals/{open_to_all['id']}", expect=expect)
    said = {"sections": [{"name": "", "text": "The tower counts too"}]}
    member("POST", f"/goals/{open_to_all['id']}/notes", said)
    member("POST", f"/goals/{open_to_all['id']}/notes", {**said, "health": "slipping"}, expect=403)
    sign_in("guest")("POST", f"/goals/{secret['id']}/notes", said, expect=403)
    sign_in("other")("PATCH", f"/goals/{secret['id']}", {"version": 1, "title": "For three"})
    sign_in("other")(
        "POST", f"/goals/{secret['id']}/notes", {**said, "health": "slipping", "people": [people["member"].id]}, expect=422
    )
    aim(member, "Ours", 403)
    assert aim(member, "My own", belongs="person", whose=people["member"].id)["right"] == "edit"
    aim(sign_in("guest"), "None", 403, belongs="person", whose=guest.id)


def test_a_goal_tells_nothing_of_a_project_that_the_reader_does_not_see(ines: Caller, sign_in: SignIn) -> None:
    admin = sign_in("administrator")
    made = admin("POST", "/projects", {"code": "OPN", "name": "Opening", "start_day": "2027-03-08", "private": True})
    admin(
        "POST",
        "/projects/OPN/tasks",
        {"tasks": [{"title": "Secret supper", "fields": {"start": "2027-08-02", "duration": "1 d"}}]},
    )
    measure = {"kind": "tasks", "projects": [made["id"]]}
    goal = aim(admin, "Open the house", measure=measure)
    aim(ines, "Spy", 404, measure=measure)
    ines("POST", "/goals/measure", {"measure": measure, **HALF}, expect=404)
    seen = ines("GET", f"/goals/{goal['id']}")
    assert (seen["counted"], seen["codes"], seen["hidden"], seen["how"]["far"]) == ([], [], 1, "0 of 1 task")
    assert "Secret" not in str(seen)
    assert "OPN" not in str(seen)
    assert "Secret supper" in admin("GET", f"/goals/{goal['id']}")["reading"]


def test_progress_notes_judge_tell_and_are_read(ines: Caller, sign_in: SignIn, people: dict[str, Person]) -> None:
    goal = aim(ines, "Visitors", measure=hand("0", "100", decimals=0, sign="visitors"), rhythm="weekly")
    assert goal["due"] == "2027-03-24"  # a week from now: nothing is due from before it was set
    assert "due since" not in goal["reading"]
    tomas, other = sign_in("member"), sign_in("other")
    tomas("PUT", f"/goals/{goal['id']}/following", {"on": True})
    sections = [{"name": "Reached", "text": "the kiosk sells"}, {"name": "Next", "text": "  "}]
    note = {"health": "strained", "value": "60", "sections": sections, "people": [people["other"].id]}
    change = ines("POST", f"/goals/{goal['id']}/notes", note)["change"]
    detail = tomas("GET", f"/goals/{goal['id']}")
    assert (detail["how"]["health"], detail["how"]["proposed"], detail["how"]["value"]) == ("strained", "steady", "60")
    assert "Its latest note says strained; by the figures it is steady." in detail["reading"]
    assert [(one["value"], one["sections"]) for one in detail["notes"]] == [
        ("60", [{"name": "Reached", "text": "the kiosk sells"}])
    ]
    assert detail["due"] == "2027-03-24"
    for caller in (tomas, other):
        group = next(one for one in caller("GET", "/notices")["groups"] if one["goal_id"] == goal["id"])
        assert group["notices"][0]["words"] == "says it is strained. Reached: the kiosk sells"
    mails = sign_in("administrator")("GET", "/dispatches")
    assert [one["recipient"] for one in mails if one["subject"] == "Visitors"] == [people["other"].email]
    other("POST", f"/goals/{goal['id']}/read")
    ines("POST", f"/goals/{goal['id']}/read")
    assert ines("GET", f"/goals/{goal['id']}")["notes"][0]["readers"] == [people["other"].id]
    ines("POST", f"/changes/{change}/undo")
    after = ines("GET", f"/goals/{goal['id']}")
    assert (after["notes"], after["values"], after["how"]["health"]) == ([], [], None)


def test_closing_keeps_the_last_value_and_opening_again_changes_nothing_else(ines: Caller) -> None:
    goal = aim(ines, "Glaze the dome", measure=hand("0", "10"))
    enter(ines, goal, "9")
    before = ines("GET", f"/goals/{goal['id']}")
    assert "word" in str(ines("POST", f"/goals/{goal['id']}/close", {"outcome": "partly_met"}, expect=422))
    change = ines("POST", f"/goals/{goal['id']}/close", {"outcome": "partly_met", "word": "One pane is still in the kiln"})[
        "change"
    ]
    closed = ines("GET", f"/goals/{goal['id']}")
    assert (closed["outcome"], closed["how"]["value"], closed["how"]["percent"]) == ("partly_met", "9", "90.0")
    assert closed["reading"] == "Closed: **partly met** at 9.0 of 10.0. One pane is still in the kiln"
    enter(ines, goal, "10", expect=422)
    ines("PATCH", f"/goals/{goal['id']}", {"version": 9, "title": "Other"}, expect=422)
    ines("POST", f"/changes/{change}/undo")
    after = ines("GET", f"/goals/{goal['id']}")
    assert {**after, "version": 0} == {**before, "version": 0}


def test_a_goal_is_changed_taken_away_and_brought_back(ines: Caller, sign_in: SignIn) -> None:
    top = aim(ines, "Top")
    middle = aim(ines, "Middle", parent_id=top["id"], description="<p>Why <script>alert(1)</script>it matters</p>")
    aim(ines, "Bottom", parent_id=middle["id"])
    assert middle["description"] == "<p>Why it matters</p>"
    change = ines("PATCH", f"/goals/{middle['id']}", {"version": 1, "title": " The  middle "})["change"]
    clash = sign_in("administrator")("PATCH", f"/goals/{middle['id']}", {"version": 1, "title": "Centre"}, expect=409)
    assert (clash["clashes"][0]["theirs"], clash["clashes"][0]["yours"]) == ("The middle", "Centre")
    sign_in("administrator")("PATCH", f"/goals/{middle['id']}", {"version": 1, "weight": 4})
    ines("POST", f"/changes/{change}/undo")
    gone = ines("DELETE", f"/goals/{middle['id']}")["change"]
    assert tree(ines)["Bottom"]["parent_id"] == top["id"]
    ines("POST", f"/changes/{gone}/undo")
    assert (tree(ines)["Bottom"]["parent_id"], tree(ines)["Middle"]["weight"]) == (middle["id"], 4)


def test_the_purpose_and_the_sections_are_the_managers(ines: Caller, sign_in: SignIn) -> None:
    change = ines(
        "PUT", "/goals/purpose", {"purpose": "Keep the coast’s working buildings working.", "sections": ["Reached", "Stuck"]}
    )["change"]
    page = sign_in("member")("GET", "/goals")
    assert (page["purpose"], page["sections"], page["may_aim"]) == (
        "Keep the coast’s working buildings working.",
        ["Reached", "Stuck"],
        False,
    )
    sign_in("member")("PUT", "/goals/purpose", {"purpose": "x"}, expect=403)
    ines("PUT", "/goals/purpose", {"sections": ["A", "a"]}, expect=422)
    ines("POST", f"/changes/{change}/undo")
    assert ines("GET", "/goals")["sections"] == ["Reached", "In the way", "Next"]


def test_the_ripple_says_which_goal_a_change_endangers(ines: Caller, lan_id: str) -> None:
    lift = ines.add("Lift the lens", start="2027-06-21", duration="2 d")
    ines.add("Lens relit", kind="milestone", waits_for=str(lift["number"]))
    aim(ines, "Open by midsummer", measure={"kind": "tasks", "counts": "milestones", "projects": [lan_id]})
    aim(ines, "Hidden", seen_by="people", measure={"kind": "tasks", "projects": [lan_id]})
    body = {"tasks": [{"id": lift["id"], "revision": 999, "fields": {"duration": "10 d"}}]}
    found = ines("POST", "/projects/LAN/ripple", body)["goals"]
    assert [(one["title"], one["worst"], one["count"]) for one in found if one["title"] == "Open by midsummer"] == [
        ("Open by midsummer", "Lens relit", 1)]  # fmt: skip
    asked = ines("PATCH", "/projects/LAN/tasks", body, expect=409, headers={"Rhodonite-Ripple": "ask 0"})["ripple"]
    assert {one["title"] for one in asked["goals"]} == {"Open by midsummer", "Hidden"}
    ines("PATCH", "/projects/LAN/tasks", body)
    body["tasks"][0]["fields"] = {"duration": "2 d"}
    back = ines("POST", "/projects/LAN/ripple", body)["goals"]
    assert [(one["count"], one["saved"]) for one in back if one["title"] == "Open by midsummer"] == [(0, 1)]


def test_goals_go_out_as_tables(ines: Caller) -> None:
    top = aim(ines, "=Top", measure={"kind": "goals"})
    enter(ines, aim(ines, "Below", parent_id=top["id"], measure=hand("0", "10")), "5")
    lines = ines("GET", "/goals.csv").text.splitlines()
    assert lines[1].startswith("'=Top,,Ines Oduya")
    assert ",50.0," in lines[2]
    assert ines("GET", "/goals.xlsx").content[:2] == b"PK"


def test_nobody_finds_out_by_counts_what_stands_in_a_project_that_they_do_not_see(
    ines: Caller, sign_in: SignIn, people: dict[str, Person]
) -> None:
    admin, member = sign_in("administrator"), sign_in("member")
    made = admin("POST", "/projects", {"code": "OPN", "name": "Opening", "start_day": "2027-03-08", "private": True})
    admin("POST", "/projects/OPN/tasks", {"tasks": [{"title": "Secret supper"}]})
    measure = {"kind": "tasks", "projects": [made["id"]]}
    goal = aim(admin, "Open the house", measure=measure, owner_id=people["member"].id)
    probe = {**measure, "where": '{"all": [["title", "contains", "supper"]]}'}
    answer = member("PATCH", f"/goals/{goal['id']}", {"version": 1, "measure": probe}, expect=403)
    assert "projects that you may not see" in answer["detail"]
    steps = {**measure, "steps": [{"day": "2027-04-01", "value": "50"}]}
    member("PATCH", f"/goals/{goal['id']}", {"version": 1, "measure": steps, "title": "Open it"})
    member("PATCH", f"/goals/{goal['id']}", {"version": 2, "measure": {"kind": "hand"}})
    ines("GET", f"/goals/{goal['id']}")


def test_notices_of_a_goal_go_with_the_right_to_it(ines: Caller, sign_in: SignIn, people: dict[str, Person]) -> None:
    member = people["member"].id
    goal = aim(ines, "For two", seen_by="people", people={member: "read"})
    tomas = sign_in("member")
    assert [one["title"] for one in tomas("GET", "/notices")["groups"]] == ["For two"]
    assert tomas("GET", "/notices/count")["unread"] == 1
    ines("PATCH", f"/goals/{goal['id']}", {"version": 1, "people": {}})
    assert tomas("GET", "/notices")["groups"] == []
    assert tomas("GET", "/notices/count")["unread"] == 0


def test_an_owner_is_asked_once_for_each_note_that_is_due(
    ines: Caller, sign_in: SignIn, people: dict[str, Person], database: Database, clock: Clock
) -> None:
    goal = aim(ines, "Visitors", measure=hand(), rhythm="weekly", owner_id=people["member"].id)
    aim(ines, "Quiet", measure=hand())
    tomas = sign_in("member")
    tomas("PATCH", "/session/preferences", {"mail": {"goal_due": "at_once"}})
    assert not tree(tomas)["Visitors"]["is_due"]
    assert database.write(notes.remind, clock, "http://here") == 0
    later(clock, days=7)
    assert tree(tomas)["Visitors"]["is_due"]
    assert not tree(tomas)["Quiet"]["is_due"]
    assert [database.write(notes.remind, clock, "http://here") for _ in range(2)] == [1, 0]
    said = "is asked for a progress note, due 24 Mar"
    group = next(one for one in tomas("GET", "/notices")["groups"] if one["goal_id"] == goal["id"])
    assert said in [one["words"] for one in group["notices"]]
    sql = "SELECT body FROM dispatches WHERE body LIKE %s"
    mails = database.read(lambda cur: fetch_all(cur, sql, ("%asked for a progress note%",)))
    assert mails[0][0].startswith(f"{people['member'].name} {said}\n\nVisitors\nhttp://here/goals")
    tomas("POST", f"/goals/{goal['id']}/notes", {"health": "steady"})
    assert not tree(tomas)["Visitors"]["is_due"]
    assert tomas("GET", "/goals/due") == []


def test_what_comes_after_the_end_of_a_goal_is_late(ines: Caller, lan_id: str) -> None:
    ines.add("Gate", kind="milestone", start="2027-07-02")
    ines.add("Roof", kind="milestone", start="2027-06-30")
    ines.add("Some day", kind="milestone")
    goal = aim(ines, "Open", measure={"kind": "tasks", "counts": "milestones", "projects": [lan_id]})
    items = ines("GET", f"/goals/{goal['id']}")["counted"][0]["items"]
    assert {one["title"]: one["late"] for one in items} == {"Roof": False, "Gate": True, "Some day": False}


def test_goals_come_in_from_a_table_and_go_as_they_came(ines: Caller, sign_in: SignIn, people: dict[str, Person]) -> None:
    member = people["member"]
    table = (
        "Goal,Below,E-mail,Belongs to,First day,Last day,Start,Target,Unit\n"
        f"Visitors,,{member.email},organisation,2027-01-01,2027-12-31,0,120000,visitors\n"
        "Shorter queue,Visitors,,,2027-01-01,2027-06-30,14.5,6,min\n"
    )

    def bring(caller: Caller, text: str, status: int = 200, **more: Any) -> Any:
        answer = caller.client.post("/api/goals/table", files={"file": ("goals.csv", text.encode())}, **more)
        assert answer.status_code == status, answer.text
        return answer.json()

    brought = bring(ines, table)
    assert (brought["added"], brought["known"]) == (2, 0)
    goals = {one["title"]: one for one in ines("GET", "/goals")["goals"]}
    assert goals["Visitors"]["owner_id"] == member.id
    assert goals["Shorter queue"]["parent_id"] == goals["Visitors"]["id"]
    assert goals["Shorter queue"]["start"].startswith("14.5 min")
    assert bring(ines, table)["known"] == 2
    wrong = bring(ines, table + "Lost,Nowhere,,,2027-01-01,2027-06-30,0,1,\n", 422)
    assert wrong["detail"].startswith("Line 4: there is no goal “Nowhere”")
    bring(sign_in("member"), table, 403)
    out = ines("GET", "/goals.csv").content.decode("utf-8-sig").splitlines()
    assert len(out) == 3
    ines("POST", f"/changes/{brought['change']}/undo")
    assert ines("GET", "/goals")["goals"] == []
    assert bring(ines, "\n".join(out))["added"] == 2  # what went out comes in
    pdf = ines("GET", "/goals.pdf")
    assert pdf.content.startswith(b"%PDF")


def test_a_closed_goal_says_what_was_reached(ines: Caller, lan_id: str) -> None:
    for title in ("Gate", "Roof"):
        ines.add(title, start="2027-03-08", duration="1 d")
    ines.edit(ines.rows()["Gate"], percent=100)
    goal = aim(ines, "Open", measure={"kind": "tasks", "projects": [lan_id]})
    ines("POST", f"/goals/{goal['id']}/close", {"outcome": "partly_met", "word": "the roof waits"})
    assert ines("GET", f"/goals/{goal['id']}")["how"]["far"] == "1 of 2 tasks"
    ines.edit(ines.rows()["Roof"], percent=100)
    assert ines("GET", f"/goals/{goal['id']}")["how"]["far"] == "1 of 2 tasks"


def test_who_may_only_comment_changes_no_figure_of_the_goal_above(ines: Caller, sign_in: SignIn) -> None:
    plain, summed = aim(ines, "Plain", measure=hand()), aim(ines, "Summed", measure={"kind": "goals"})
    tomas = sign_in("member")
    mine = {"belongs": "person", "whose": tomas("GET", "/session")["person"]["id"]}
    own = aim(tomas, "Mine", parent_id=plain["id"], measure=hand(), **mine)
    aim(tomas, "Heavy", 403, parent_id=summed["id"], weight=1000, measure=hand(), **mine)
    tomas("PATCH", f"/goals/{own['id']}", {"version": own["version"], "parent_id": summed["id"]}, expect=403)


def test_a_goal_tells_nothing_of_a_hidden_one_below_it(ines: Caller, sign_in: SignIn) -> None:
    above = aim(ines, "Summed", measure={"kind": "goals"})
    hidden = aim(ines, "Hidden", parent_id=above["id"], seen_by="people", measure=hand("0", "100"))
    ines("POST", f"/goals/{hidden['id']}/values", {"day": "2027-03-01", "value": "37"})
    assert tree(ines)["Summed"]["how"]["percent"] == "37.0"
    assert tree(sign_in("member"))["Summed"]["how"]["percent"] is None


def test_milestones_are_judged_by_their_own_dates(ines: Caller, lan_id: str) -> None:
    ines.add("Gate", kind="milestone", start="2027-06-01")
    ines.add("Roof", kind="milestone", start="2027-06-20")
    goal = aim(ines, "Open", measure={"kind": "tasks", "counts": "milestones", "projects": [lan_id]})
    assert goal["how"]["health"] == "steady"
    ines.add("Bell", kind="milestone", start="2027-03-15")
    assert ines("GET", f"/goals/{goal['id']}")["how"]["expected"] == "33.3"


def test_a_change_that_endangers_a_goal_is_shown_though_nothing_else_moves(ines: Caller, lan_id: str) -> None:
    gate = ines.add("Gate", start="2027-06-01", duration="1 d")
    aim(ines, "Open", measure={"kind": "tasks", "projects": [lan_id]})
    edit = {"tasks": [{"id": gate["id"], "revision": 999, "fields": {"start": "2027-08-02"}}]}
    asked = ines("PATCH", "/projects/LAN/tasks", edit, expect=409, headers={"Rhodonite-Ripple": "ask 0"})
    assert [one["title"] for one in asked["ripple"]["goals"]] == ["Open"]
