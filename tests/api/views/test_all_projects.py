"""Views and sheets over all projects."""

from __future__ import annotations

import json
import uuid
from collections.abc import Callable
from typing import Any
from urllib.parse import quote, urlencode

import pytest

from rhodonite.core.people.model import Person
from tests.conftest import Caller


@pytest.fixture
def two(ines: Caller, people: dict[str, Person]) -> Caller:
    """Two projects that share a field by name, each with tasks."""
    ines("POST", "/projects", {"code": "BAR", "name": "Barge", "start_day": "2027-03-08"})
    for code, unit, weights in (("LAN", "kg", {"Cast": 12, "Cut": 3}), ("BAR", "kg", {"Caulk": 5})):
        field = str(uuid.uuid4())
        ines(
            "POST",
            f"/projects/{code}/defined/fields",
            {"id": field, "name": "Weight", "settings": {"type": "number", "unit": unit}},
        )
        for title, weight in weights.items():
            ines.edit(ines.add(title, code), code, **{f"own.{field}": weight})
    ines.edit(ines.rows()["Cast"], owner_id=people["member"].id)
    ines.edit(ines.rows("BAR")["Caulk"], "BAR", owner_id=people["member"].id)
    return ines


WEIGHT = "named.number.kg.weight"


def across(caller: Caller, where: Any = None, expect: int | None = None, query: dict[str, str] | None = None, **view: Any) -> Any:
    asked = {**(query or {}), **({"where": json.dumps(where)} if where else {})}
    return caller("POST", f"/view?{urlencode(asked)}", view, expect=expect)


def titles(answer: Any) -> list[str]:
    return [f"{one['code']} {one['row']['title']}" for one in answer["rows"]]


def test_tasks_of_all_projects_are_shown_grouped_and_summed(two: Caller) -> None:
    assert titles(across(two)) == ["BAR Caulk", "LAN Cast", "LAN Cut"]
    answer = across(two, columns=[{"key": WEIGHT, "foot": "sum"}, {"key": "state"}], groups=["project"], sorts=[{"key": WEIGHT}])
    assert [(one["names"], one["feet"][WEIGHT], one["tasks"]) for one in answer["groups"]] == [
        (["Barge"], "5 kg", 1),
        (["Lantern Room Restoration"], "15 kg", 2),
    ]
    assert answer["feet"][WEIGHT] == "20 kg"
    assert titles(answer) == ["BAR Caulk", "LAN Cut", "LAN Cast"]
    assert set(answer["words"][WEIGHT].values()) == {"12 kg", "3 kg", "5 kg"}
    assert len(answer["words"]["state"]) == 3


def test_clauses_ask_all_projects_and_name_some(two: Caller) -> None:
    assert titles(across(two, {"all": [[WEIGHT, "least", 5]]})) == ["BAR Caulk", "LAN Cast"]
    project = two("GET", "/projects/BAR")["id"]
    assert titles(across(two, {"all": [["project", "any", [project]]]})) == ["BAR Caulk"]
    where = {"any": [["project", "any", [project]], ["title", "contains", "cut"]]}
    assert titles(across(two, where)) == ["BAR Caulk", "LAN Cut"]
    said = two("GET", f"/clauses?where={quote(json.dumps({'all': [[WEIGHT, 'least', 5], ['project', 'any', [project]]]}))}")
    assert said["clauses"] == ["weight is at least 5 kg", "project is Barge"]
    assert "no such field" in across(two, {"all": [["own.gone", "filled"]]}, 422)["errors"][0]["detail"]


def test_a_field_that_one_project_lacks_has_no_value_there(two: Caller) -> None:
    field = {"id": str(uuid.uuid4()), "name": "Berth", "settings": {"type": "text"}}
    two("POST", "/projects/BAR/defined/fields", field)
    two.edit(two.rows("BAR")["Caulk"], "BAR", **{f"own.{field['id']}": "North quay"})
    berth = "named.text..berth"
    assert titles(across(two, {"all": [[berth, "contains", "quay"]]})) == ["BAR Caulk"]
    assert titles(across(two, {"all": [[berth, "empty"]]})) == ["LAN Cast", "LAN Cut"]


def test_an_owner_narrows_and_tints_count(two: Caller, sign_in: Callable[[str], Caller], people: dict[str, Person]) -> None:
    tomas = sign_in("member")
    tint = {"id": "t", "name": "Heavy", "where": {"all": [[WEIGHT, "more", 10]]}, "colour": "ember", "covers": ["row"]}
    answer = across(tomas, query={"owner": "me"}, tints=[tint])
    assert titles(answer) == ["BAR Caulk", "LAN Cast"]
    assert answer["tint_counts"][0]["shows"] == 1
    assert (answer["shown"], answer["unowned"]) == (2, 0)
    assert across(tomas)["unowned"] == 1


def test_nobody_sees_work_of_projects_that_they_may_not(two: Caller, sign_in: Callable[[str], Caller]) -> None:
    two("PATCH", "/projects/BAR", {"revision": 999, "private": True})
    assert titles(across(sign_in("member"))) == ["LAN Cast", "LAN Cut"]
    assert across(sign_in("guest"))["rows"] == []
    names = {one["key"]: one["choices"] for one in sign_in("member")("GET", "/columns")["columns"]}
    assert list(names["project"].values()) == ["Lantern Room Restoration"]


def test_sheets_on_the_desk_are_kept_shown_and_opened_by_who_may(two: Caller, sign_in: Callable[[str], Caller]) -> None:
    tomas, mila = sign_in("member"), sign_in("guest")
    body = {"id": str(uuid.uuid4()), "name": "Heavy work", "view": {"lens": "all_work", "groups": ["project"]}}
    two("POST", "/sheets", body)
    assert tomas("GET", "/sheets") == []
    two("PATCH", f"/sheets/{body['id']}", {"seen_by": "project"})
    assert [one["name"] for one in tomas("GET", "/sheets")] == ["Heavy work"]
    assert two("GET", "/projects/LAN/sheets") == []  # they stand on the desk alone
    tomas("PATCH", f"/sheets/{body['id']}", {"name": "Mine"}, expect=403)
    sign_in("administrator")("PATCH", f"/sheets/{body['id']}", {"name": "Heavy"})
    mila("POST", "/sheets", {"name": "For all", "seen_by": "project", "view": {"lens": "all_work"}}, expect=403)
    mila("POST", "/sheets", {"name": "My own", "view": {"lens": "all_work"}})
    two("POST", "/sheets", {"name": "Board", "view": {"lens": "board"}}, expect=422)
    two("DELETE", f"/sheets/{body['id']}")
    assert tomas("GET", "/sheets") == []


def test_what_a_view_shows_comes_as_csv(two: Caller) -> None:
    tint = {"id": "t", "name": "Heavy", "where": {"all": [[WEIGHT, "more", 10]]}, "colour": "ember", "covers": ["row"]}
    view = {"columns": [{"key": "project"}, {"key": WEIGHT}], "sorts": [{"key": WEIGHT, "down": True}], "tints": [tint]}
    text = two("GET", f"/tasks.csv?view={quote(json.dumps(view))}").content.decode("utf-8-sig")
    assert text.splitlines() == [
        "Code,Title,Project,Weight,Tint",
        "LAN 1,Cast,Lantern Room Restoration,12 kg,Heavy",
        "BAR 1,Caulk,Barge,5 kg,",
        "LAN 2,Cut,Lantern Room Restoration,3 kg,",
    ]
    two("GET", "/tasks.csv?view=nonsense", expect=422)


def test_whoever_owns_nothing_sees_an_empty_view_and_not_a_refusal(two: Caller, sign_in: Callable[[str], Caller]) -> None:
    tint = {"id": "t", "name": "Late", "where": {"all": [["late", "yes"]]}, "colour": "ember", "covers": ["row"]}
    answer = across(sign_in("administrator"), query={"owner": "me"}, groups=["project"], tints=[tint])
    assert (answer["rows"], answer["shown"]) == ([], 0)


def test_a_tint_on_a_field_that_the_shown_projects_lack_catches_nothing(two: Caller) -> None:
    field = {"id": str(uuid.uuid4()), "name": "Berth", "settings": {"type": "text"}}
    two("POST", "/projects/BAR/defined/fields", field)
    where = {"all": [["named.text..berth", "filled"]]}
    tint = {"id": "t", "name": "Berthed", "where": where, "colour": "ember", "covers": ["row"]}
    lantern = two("GET", "/projects/LAN")["id"]
    answer = across(two, {"all": [["project", "any", [lantern]]]}, tints=[tint])
    assert titles(answer) == ["LAN Cast", "LAN Cut"]
    assert answer["tint_counts"][0]["holds"] == 0


def test_a_team_without_people_holds_nothing(two: Caller, sign_in: Callable[[str], Caller]) -> None:
    team = str(uuid.uuid4())
    sign_in("administrator")("POST", "/teams", {"id": team, "name": "Nobody yet"})
    assert across(two, query={"owner": team})["rows"] == []
    assert two("GET", f"/projects/LAN/scope?owner={team}")["ids"] == []
