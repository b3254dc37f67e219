"""Taking back what is no task: sheets, teams, and what a project defines."""

from __future__ import annotations

import uuid
from collections.abc import Callable
from typing import Any

import pytest

from rhodonite.core.people.model import Person
from tests.conftest import Caller

VIEW = {"lens": "outline", "groups": ["owner"]}
ACROSS = {"lens": "all_work", "groups": ["project"]}


def new() -> str:
    return str(uuid.uuid4())


def does(caller: Caller, method: str, path: str, body: Any = None) -> str:
    """Make a change, and return its id."""
    change = new()
    caller(method, path, body, headers={"Rhodonite-Change": change})
    return change


def undo(caller: Caller, change: str, expect: int | None = None) -> Any:
    """Take a change back; gives the id of the change that did, or the refusal."""
    answer = caller("POST", f"/changes/{change}/undo", expect=expect, headers={"Rhodonite-Change": new()})
    return answer if expect else answer["change"]


def without_version(state: Any) -> Any:
    return [{name: value for name, value in one.items() if name != "version"} for one in state]


@pytest.mark.parametrize(("at", "view"), [("/projects/LAN/sheets", VIEW), ("/sheets", ACROSS)])
def test_every_change_of_a_sheet_is_taken_back_and_done_again(ines: Caller, at: str, view: dict[str, Any]) -> None:
    one, other = new(), new()
    changes = [
        ("POST", at, {"id": one, "name": "Bars", "view": view}),
        ("POST", at, {"id": other, "name": "Panes", "view": view}),
        ("PATCH", f"{at}/{one}", {"name": "Twelve bars", "seen_by": "project"}),
        ("PATCH", f"{at}/{one}", {"after_id": other}),
        ("PATCH", f"{at}/{one}", {"view": {**view, "groups": ["state"]}}),
        ("DELETE", f"{at}/{other}", None),
    ]
    states, done = [ines("GET", at)], []
    for method, path, body in changes:
        done.append(does(ines, method, path, body))
        states.append(ines("GET", at))
    assert [one["name"] for one in states[-1]] == ["Twelve bars"]
    back = []
    for change, before in zip(reversed(done), reversed(states[:-1]), strict=True):
        back.append(undo(ines, change))
        assert without_version(ines("GET", at)) == without_version(before)
    for change, after in zip(reversed(back), states[1:], strict=True):
        undo(ines, change)
        assert without_version(ines("GET", at)) == without_version(after)


def test_a_sheet_that_was_changed_again_is_not_taken_back(ines: Caller, sign_in: Callable[[str], Caller]) -> None:
    one = new()
    does(ines, "POST", "/projects/LAN/sheets", {"id": one, "name": "Bars", "seen_by": "project", "view": VIEW})
    first = does(ines, "PATCH", f"/projects/LAN/sheets/{one}", {"name": "Twelve bars"})
    does(sign_in("administrator"), "PATCH", f"/projects/LAN/sheets/{one}", {"name": "All bars"})
    assert "changed again since" in undo(ines, first, 422)["detail"]
    assert ines("GET", "/projects/LAN/sheets")[0]["name"] == "All bars"


def test_others_take_back_nothing_of_mine_and_do_not_read_its_name(
    ines: Caller, sign_in: Callable[[str], Caller], people: dict[str, Person]
) -> None:
    ines("PUT", f"/projects/LAN/members/{people['member'].id}", {"role": "contributor"})
    tomas = sign_in("member")
    one = new()
    change = does(ines, "POST", "/projects/LAN/sheets", {"id": one, "name": "Who slows us down", "view": VIEW})
    undo(tomas, change, 404)
    does(ines, "PATCH", f"/projects/LAN/sheets/{one}", {"name": "Who slows us down most"})
    does(ines, "DELETE", f"/projects/LAN/sheets/{one}")
    said = tomas.client.get("/api/projects/LAN/activity").text
    assert "kept a sheet of their own" in said
    assert "Who slows us down" not in said


def test_what_a_project_defines_is_taken_back_and_done_again(ines: Caller) -> None:
    one, other = new(), new()
    at = "/projects/LAN/defined/fields"
    changes = [
        ("POST", at, {"id": one, "name": "Weight", "settings": {"type": "number", "unit": "kg"}}),
        ("POST", at, {"id": other, "name": "Maker", "settings": {"type": "text"}}),
        ("PATCH", f"{at}/{one}", {"name": "Mass", "settings": {"unit": "t", "decimals": 2}}),
        ("PATCH", f"{at}/{one}", {"after_id": other}),
        ("DELETE", f"{at}/{other}", None),
        ("POST", f"{at}/{other}/restore", None),
    ]

    def defined() -> Any:
        return ines("GET", "/projects/LAN")["fields"]

    states, done = [defined()], []
    for method, path, body in changes:
        done.append(does(ines, method, path, body))
        states.append(defined())
    assert [field["name"] for field in states[-1]] == ["Maker", "Mass"]
    back = []
    for change, before in zip(reversed(done), reversed(states[:-1]), strict=True):
        back.append(undo(ines, change))
        assert defined() == before
    for change, after in zip(reversed(back), states[1:], strict=True):
        undo(ines, change)
        assert defined() == after


def test_what_was_defined_is_said_in_words(ines: Caller) -> None:
    one, at = new(), "/projects/LAN/defined/fields"
    does(ines, "POST", at, {"id": one, "name": "Weight", "settings": {"type": "number"}})
    does(ines, "PATCH", f"{at}/{one}", {"name": "Mass", "settings": {"unit": "t", "kinds": ["defect"]}})
    does(ines, "DELETE", f"{at}/{one}")
    deleted, changed, added = ines("GET", "/projects/LAN/activity")[:3]
    assert (added["what"], added["lines"], deleted["lines"]) == ("added the field Weight", [], [])
    assert changed["lines"] == ["unit none → t", "kinds changed", "name Weight → Mass"]


def test_values_come_back_with_their_field(ines: Caller) -> None:
    field = new()
    does(ines, "POST", "/projects/LAN/defined/fields", {"id": field, "name": "Weight", "settings": {"type": "number"}})
    ines.edit(ines.add("Cast bars"), **{f"own.{field}": 12})
    gone = does(ines, "DELETE", f"/projects/LAN/defined/fields/{field}")
    undo(ines, gone)
    assert ines.rows()["Cast bars"]["own"] == {field: 12}


def test_only_who_may_define_takes_it_back(ines: Caller, sign_in: Callable[[str], Caller], people: dict[str, Person]) -> None:
    ines("PUT", f"/projects/LAN/members/{people['member'].id}", {"role": "contributor"})
    change = does(ines, "POST", "/projects/LAN/defined/marks", {"name": "wet", "settings": {}})
    assert "needs a lead" in undo(sign_in("member"), change, 403)["detail"]


def test_a_kind_that_tasks_are_of_stays(ines: Caller) -> None:
    kind = new()
    change = does(ines, "POST", "/projects/LAN/defined/kinds", {"id": kind, "name": "story", "settings": {}})
    ines.edit(ines.add("Sign in"), kind=kind)
    assert "1 task is of the kind story" in undo(ines, change, 422)["detail"]


def test_a_team_is_taken_back_and_done_again(sign_in: Callable[[str], Caller], people: dict[str, Person]) -> None:
    administrator, team = sign_in("administrator"), new()
    changes = [
        ("POST", "/teams", {"id": team, "name": "Glazing crew", "people": [people["member"].id]}),
        ("PATCH", f"/teams/{team}", {"name": "Glass crew", "people": [people["member"].id, people["other"].id]}),
        ("DELETE", f"/teams/{team}", None),
    ]
    states, done = [administrator("GET", "/teams")], []
    for method, path, body in changes:
        done.append(does(administrator, method, path, body))
        states.append(administrator("GET", "/teams"))
    undo(sign_in("manager"), done[-1], 403)
    back = []
    for change, before in zip(reversed(done), reversed(states[:-1]), strict=True):
        back.append(undo(administrator, change))
        assert administrator("GET", "/teams") == before
    undo(administrator, done[0], 422)  # it was taken back already
    undo(administrator, back[-1])
    assert administrator("GET", "/teams") == states[1]
    does(administrator, "PATCH", f"/teams/{team}", {"name": "Crew"})
    assert "changed again since" in undo(administrator, back[-2], 422)["detail"]


def test_a_kept_checklist_comes_back(ines: Caller) -> None:
    def kept() -> list[tuple[str, list[str]]]:
        return [(one["name"], one["items"]) for one in ines("GET", "/projects/LAN/checklists")]

    row = ines.add("Cast bars")
    lists = [
        ines("POST", f"/tasks/{row['id']}/checklists", {"name": "Foundry", "items": items})["id"]
        for items in (["Sand"], ["Sand", "Pour"])
    ]
    does(ines, "POST", "/projects/LAN/checklists", {"id": new(), "checklist_id": lists[0]})
    replaced = does(ines, "POST", "/projects/LAN/checklists", {"id": new(), "checklist_id": lists[1]})
    assert kept() == [("Foundry", ["Sand", "Pour"])]
    back = undo(ines, replaced)
    assert kept() == [("Foundry", ["Sand"])]
    undo(ines, back)
    assert kept() == [("Foundry", ["Sand", "Pour"])]
    gone = does(ines, "DELETE", f"/projects/LAN/checklists/{ines('GET', '/projects/LAN/checklists')[0]['id']}")
    assert kept() == []
    undo(ines, gone)
    assert kept() == [("Foundry", ["Sand", "Pour"])]


def test_a_checklist_of_another_project_is_not_kept(
    ines: Caller, sign_in: Callable[[str], Caller], people: dict[str, Person]
) -> None:
    ines("POST", "/projects", {"code": "OWN", "name": "Own", "start_day": "2027-03-08", "private": True})
    secret = ines("POST", f"/tasks/{ines.add('Plans', 'OWN')['id']}/checklists", {"name": "Secret", "items": ["Sell it"]})["id"]
    ines("PUT", f"/projects/LAN/members/{people['member'].id}", {"role": "contributor"})
    sign_in("member")("POST", "/projects/LAN/checklists", {"checklist_id": secret}, expect=404)
