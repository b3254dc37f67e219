"""Fields, kinds and marks of a project's own, views and sheets, through the API on a real MariaDB."""

from __future__ import annotations

import json
import uuid
from collections.abc import Callable
from typing import Any
from urllib.parse import quote

import pytest

from rhodonite.core.people.model import Person
from tests.conftest import Caller, state_id


def define(caller: Caller, sort: str, name: str, **settings: Any) -> str:
    one = str(uuid.uuid4())
    caller("POST", f"/projects/LAN/defined/{sort}", {"id": one, "name": name, "settings": settings})
    return one


def shown(caller: Caller, where: Any = None, **view: Any) -> Any:
    query = f"?where={quote(json.dumps(where))}" if where else ""
    return caller("POST", f"/projects/LAN/view{query}", view)


@pytest.fixture
def tomas(ines: Caller, sign_in: Callable[[str], Caller], people: dict[str, Person]) -> Caller:
    """A contributor of the project."""
    ines("PUT", f"/projects/LAN/members/{people['member'].id}", {"role": "contributor"})
    return sign_in("member")


def test_a_field_is_defined_filled_changed_and_taken_back(ines: Caller) -> None:
    weight = define(ines, "fields", "Weight", type="number", unit="kg", decimals=1, help="Of one bar")
    row = ines.edit(ines.add("Cast bars"), **{f"own.{weight}": "12,5 kg"})
    assert row["own"] == {weight: 12.5}
    change = {"Rhodonite-Change": str(uuid.uuid4())}
    edit = {"tasks": [{"id": row["id"], "revision": row["revision"], "fields": {f"own.{weight}": 14}}]}
    ines("PATCH", "/projects/LAN/tasks", edit, headers=change)
    assert "Weight 12.5 kg → 14.0 kg" in [line for h in ines("GET", f"/tasks/{row['id']}")["history"] for line in h["lines"]]
    ines("POST", f"/changes/{change['Rhodonite-Change']}/undo")
    assert ines.rows()["Cast bars"]["own"] == {weight: 12.5}
    assert ines.edit(ines.rows()["Cast bars"], **{f"own.{weight}": ""})["own"] == {}
    problem = ines.edit(ines.rows()["Cast bars"], expect=422, **{f"own.{weight}": "heavy"})
    assert problem["errors"][0]["field"] == f"own.{weight}"


def test_many_tasks_get_their_own_values_at_once(ines: Caller) -> None:
    weight = define(ines, "fields", "Weight", type="number")
    rows = [ines.add(f"Bar {n}") for n in range(4)]
    edits = [{"id": r["id"], "revision": r["revision"], "fields": {f"own.{weight}": n}} for n, r in enumerate(rows)]
    ines("PATCH", "/projects/LAN/tasks", {"tasks": edits})
    assert [row["own"][weight] for row in ines.rows().values()] == [0, 1, 2, 3]


def test_values_of_own_fields_are_found(ines: Caller) -> None:
    note = define(ines, "fields", "Maker", type="text")
    metal = define(ines, "fields", "Metal", type="choice", options=[{"id": "g", "name": "Gunmetal"}])
    row = ines.edit(ines.add("Cast bars"), **{f"own.{note}": "Brekke foundry", f"own.{metal}": "g"})
    for text in ("foundry", "gunmetal"):
        (found,) = ines("GET", f"/find?text={text}")["tasks"]
        assert (found["source"], found["excerpt"]) == ("field", "Maker: Brekke foundry Metal: Gunmetal")
    ines.edit(ines.rows()["Cast bars"], **{f"own.{note}": None, f"own.{metal}": None})
    assert ines("GET", "/find?text=foundry")["tasks"] == []
    assert row["own"][note] == "Brekke foundry"


def test_two_people_fill_two_fields_of_one_task(ines: Caller, tomas: Caller) -> None:
    first, second = define(ines, "fields", "First", type="text"), define(ines, "fields", "Second", type="text")
    row = ines.add("Cast bars")
    ines.edit(row, **{f"own.{first}": "a"})
    assert tomas.edit(row, **{f"own.{second}": "b"})["own"] == {first: "a", second: "b"}
    clash = tomas.edit(row, expect=409, **{f"own.{first}": "c"})["clashes"][0]
    assert (clash["theirs"], clash["yours"]) == ("a", "c")


def test_defaults_required_fields_and_what_was_taken_away(ines: Caller) -> None:
    checked = define(ines, "fields", "Checked by", type="text", required_from=state_id(ines, "In review"))
    define(ines, "fields", "Metal", type="choice", options=[{"id": "g", "name": "Gunmetal"}], default="g")
    row = ines.add("Cast bars")
    assert list(row["own"].values()) == ["g"]
    problem = ines.edit(row, expect=422, state_id=state_id(ines, "In review"))
    assert "Fill in Checked by first" in problem["detail"]
    row = ines.edit(row, state_id=state_id(ines, "In review"), **{f"own.{checked}": "Noor"})
    ines("DELETE", f"/projects/LAN/defined/fields/{checked}")
    assert [one["name"] for one in ines("GET", "/projects/LAN")["fields"]] == ["Metal"]
    ines("POST", f"/projects/LAN/defined/fields/{checked}/restore")
    assert ines.rows()["Cast bars"]["own"][checked] == "Noor"


def test_kinds_and_marks_are_the_projects_own(ines: Caller) -> None:
    story, mark = (
        define(ines, "kinds", "story", shape="star"),
        define(ines, "marks", "ask the harbour", shape="flag", colour="rose"),
    )
    row = ines.edit(ines.add("Cast bars"), kind=story, marks=[mark])
    assert (row["kind"], row["marks"]) == (story, [mark])
    refused = ines("DELETE", f"/projects/LAN/defined/kinds/{story}", expect=422)
    assert "1 task is of the kind story" in refused["detail"]
    ines("POST", "/projects/LAN/defined/kinds", {"name": "Story"}, expect=422)
    ines("POST", "/projects/LAN/defined/marks", {"name": "x", "settings": {"shape": "unicorn"}}, expect=422)


def test_computed_fields_and_columns(ines: Caller) -> None:
    price, pieces = (
        define(ines, "fields", "Price", type="money", unit="EUR", decimals=2),
        define(ines, "fields", "Pieces", type="number"),
    )
    total = define(ines, "fields", "Total", type="computed", decimals=2, unit="EUR",
                   formula="if has tasks below then sum of Total below else Price × Pieces")  # fmt: skip
    problem = ines(
        "POST",
        "/projects/LAN/defined/fields",
        {"name": "Bad", "settings": {"type": "computed", "formula": "Prise × 2"}},
        expect=422,
    )
    assert "at “Prise × 2”" in problem["detail"]
    above = ines.add("Steps")
    for title, count in (("Treads", 4), ("Risers", 10)):
        ines("POST", "/projects/LAN/tasks", {"tasks": [{"title": title, "parent_id": above["id"]}]})
        row = ines.edit(ines.rows()[title], **{f"own.{price}": 3, f"own.{pieces}": count})
    row = ines.edit(row, effort="6 h")
    built_in = shown(ines, columns=[{"key": key} for key in ("effort", "number", "kind", "start")])["words"]
    assert {key: said[row["id"]] for key, said in built_in.items()} == {
        "effort": "6 h",
        "number": str(row["number"]),
        "kind": "task",
    }
    answer = shown(ines, columns=[{"key": f"own.{total}", "foot": "sum"}])
    assert answer["words"][f"own.{total}"] == {
        above["id"]: "42.00 EUR",
        row["id"]: "30.00 EUR",
        ines.rows()["Treads"]["id"]: "12.00 EUR",
    }
    assert answer["feet"] == {f"own.{total}": "42.00 EUR"}
    found = {one["name"]: one for one in ines("GET", "/projects/LAN/columns")["columns"]}
    assert (found["Total"]["type"], found["Owner"]["people"], found["State"]["type"]) == ("number", True, "one_of")


def test_a_sentence_may_ask_of_any_field(ines: Caller) -> None:
    ines.add("Late", start="2027-03-10", duration="1 d")
    ines.add("Coming", start="2027-03-22", duration="1 d")
    where = quote(json.dumps({"any": [["late", "yes"], ["start", "within", 3]]}))
    assert ines("GET", f"/projects/LAN/scope?where={where}")["shown"] == 1
    assert ines("GET", f"/projects/LAN/tasks.csv?where={where}&column=title") is not None
    said = ines("GET", f"/projects/LAN/clauses?where={where}")["clauses"]
    assert said == ["is late", "start is within the next 3 days"]
    ines("GET", "/projects/LAN/scope?where=nonsense", expect=422)


def test_groups_sorts_and_tints(ines: Caller, people: dict[str, Person]) -> None:
    late = ines.add("Late", start="2027-03-10", duration="1 d", owner_id=people["member"].id)
    soon = ines.add("Coming", start="2027-03-22", duration="1 d")
    tints = [{"id": "t", "name": "Late", "where": {"all": [["late", "yes"]]}, "colour": "ember", "covers": ["row"]}]
    answer = shown(ines, groups=["owner"], tints=tints)
    assert [(one["names"], one["ids"]) for one in answer["groups"]] == [
        (["Tomas Brekke"], [late["id"]]),
        (["no owner"], [soon["id"]]),
    ]
    assert answer["tints"] == {late["id"]: {"row": "t"}}
    assert answer["tint_counts"][0]["shows"] == 1
    assert shown(ines, sorts=[{"key": "title"}])["ids"] == [soon["id"], late["id"]]
    ines("POST", "/projects/LAN/view", {"groups": ["gone"]}, expect=422)


def kept(caller: Caller, name: str, **more: Any) -> str:
    one = str(uuid.uuid4())
    caller("POST", "/projects/LAN/sheets", {"id": one, "name": name, "view": {"lens": "outline"}, **more})
    return one


def names(caller: Caller) -> list[str]:
    return [one["name"] for one in caller("GET", "/projects/LAN/sheets")]


def test_sheets_are_seen_by_whom_they_are_for(ines: Caller, tomas: Caller, people: dict[str, Person]) -> None:
    kept(ines, "Mine")
    kept(ines, "Ours", seen_by="project")
    kept(ines, "For Tomas", seen_by="people", people=[people["member"].id])
    kept(ines, "For Yuki", seen_by="people", people=[people["other"].id])
    assert names(ines) == ["Mine", "Ours", "For Tomas", "For Yuki"]
    assert names(tomas) == ["Ours", "For Tomas"]


def test_a_sheet_is_changed_by_its_owner_or_a_lead(ines: Caller, tomas: Caller) -> None:
    ours, theirs = kept(ines, "Ours", seen_by="project"), kept(tomas, "Theirs", seen_by="project")
    tomas("PATCH", f"/projects/LAN/sheets/{ours}", {"name": "No"}, expect=403)
    ines("PATCH", f"/projects/LAN/sheets/{theirs}", {"after_id": None, "is_default": True})
    assert names(tomas) == ["Theirs", "Ours"]
    ines("PATCH", f"/projects/LAN/sheets/{ours}", {"is_default": True})
    assert [one["is_default"] for one in tomas("GET", "/projects/LAN/sheets")] == [False, True]
    tomas("PATCH", f"/projects/LAN/sheets/{theirs}", {"is_default": True}, expect=403)
    tomas("DELETE", f"/projects/LAN/sheets/{theirs}")
    assert names(ines) == ["Ours"]
    ines("POST", "/projects/LAN/sheets", {"name": "Bad", "view": {"lens": "moon"}}, expect=422)


def test_own_fields_go_out_and_come_in_as_csv(ines: Caller, people: dict[str, Person]) -> None:
    define(ines, "fields", "Weight", type="number", unit="kg", decimals=1)
    define(ines, "fields", "Metal", type="choice", options=[{"id": "g", "name": "Gunmetal"}])
    define(ines, "fields", "Inspector", type="person")
    text = "Title,Weight,Metal,Inspector\nCast bars,12.5,gunmetal,Yuki Hartmann\nPaint,,,\n"

    def sent(path: str, **data: str) -> Any:
        return ines.client.post(f"/api/projects/LAN/csv{path}", files={"file": ("t.csv", text.encode())}, data=data).json()

    preview = sent("/preview")["preview"]
    assert (preview["problems"], [preview["fields"][one] for one in preview["matching"]]) == (
        [],
        ["Title", "Weight", "Metal", "Inspector"],
    )
    sent("", matching=json.dumps(preview["matching"]))
    keys = preview["matching"][1:]
    assert [ines.rows()["Cast bars"]["own"][key[4:]] for key in keys] == [12.5, "g", people["other"].id]
    query = "&".join(f"column={key}" for key in ["title", *keys, "held_by"])
    out = ines.client.get(f"/api/projects/LAN/tasks.csv?{query}").text.removeprefix("\ufeff").splitlines()
    assert out == ["Title,Weight,Metal,Inspector,Held by", "Cast bars,12.5,Gunmetal,Yuki Hartmann,", "Paint,,,,"]
    text = "Title,Weight\nCast bars,heavy\n"
    assert "“heavy” is no number" in sent("/preview")["preview"]["problems"][0]["reason"]


def test_a_number_that_is_rounded_says_so(ines: Caller) -> None:
    define(ines, "fields", "Weight", type="number", unit="kg", decimals=1)
    key = next(f"own.{one['id']}" for one in ines("GET", "/projects/LAN")["fields"] if one["name"] == "Weight")
    row = ines.add("Cast bars")

    def typed(text: Any) -> Any:
        body = {"tasks": [{"id": row["id"], "revision": 9_999, "fields": {key: text}}]}
        return ines("PATCH", "/projects/LAN/tasks", body)["remarks"]

    assert typed("12.25 kg") == ["Weight: 12.25 kg is kept as 12.3."]
    assert ines.rows()["Cast bars"]["own"][key[4:]] == 12.3
    assert typed("12.50") == typed("1,200") == typed(None) == typed(7) == []


def test_exports_and_print_name_the_tints(ines: Caller) -> None:
    ines.edit(ines.add("Cast bars"), start="2027-03-10", duration="1 d")
    ines.edit(ines.add("Cut bars"), start="2027-03-11", duration="1 d")
    tint = {
        "id": "t",
        "name": "Foundry",
        "where": {"all": [["title", "contains", "cast"]]},
        "colour": "ember",
        "covers": ["row", "bar"],
    }
    view = quote(json.dumps({"tints": [tint]}))
    csv = ines("GET", f"/projects/LAN/tasks.csv?column=title&view={view}").content.decode("utf-8-sig")
    assert csv.splitlines() == ["Title,Tint", "Cast bars,Foundry", "Cut bars,"]
    assert "Foundry" in ines("GET", f"/projects/LAN/print?view={view}")["svg"]
    assert "Foundry" not in ines("GET", "/projects/LAN/print")["svg"]
    gone = quote(json.dumps({"tints": [{**tint, "where": {"all": [["own.gone", "filled"]]}}]}))
    assert "not in the project any more" in ines("GET", f"/projects/LAN/print?view={gone}", expect=422)["errors"][0]["detail"]


def test_a_field_that_points_to_tasks_has_its_other_side(ines: Caller) -> None:
    story, release = define(ines, "kinds", "story"), define(ines, "kinds", "release")
    field = define(ines, "fields", "Stories", type="tasks", kinds=[release], target_kind=story)
    login, search = (ines.edit(ines.add(title), kind=story) for title in ("Sign in", "Search"))
    for title, stories in (("Spring", [login["id"], search["id"]]), ("Summer", [search["id"]])):
        ines.edit(ines.edit(ines.add(title), kind=release), **{f"own.{field}": stories})
    named = ines("GET", f"/tasks/{search['id']}")["named_in"]
    assert [(one["field"], one["task"]["title"]) for one in named] == [("Stories", "Spring"), ("Stories", "Summer")]
    key = f"in.{field}"
    answer = shown(ines, {"all": [["kind", "any", [story]]]}, groups=[key], columns=[{"key": key}])
    assert [(one["names"], one["tasks"]) for one in answer["groups"]] == [(["Spring"], 2)]  # under the first that names it
    assert answer["words"][key][search["id"]] == "Spring, Summer"
    summer = ines.rows()["Summer"]["id"]
    assert shown(ines, {"all": [[key, "any", [summer]]]}, sorts=[{"key": "title"}])["ids"] == [search["id"]]


def test_the_type_of_a_field_stays_and_a_kind_in_use_too(ines: Caller) -> None:
    weight, story = define(ines, "fields", "Weight", type="number"), define(ines, "kinds", "story")
    refused = ines("PATCH", f"/projects/LAN/defined/fields/{weight}", {"settings": {"type": "text"}}, expect=422)
    assert "The type of a field stays" in refused["detail"]
    ines.edit(ines.add("Sign in"), kind=story)
    refused = ines("DELETE", f"/projects/LAN/defined/kinds/{story}", expect=422)
    assert refused["detail"] == "1 task is of the kind story. Give it another kind first."
    for sort in ("fields", "kinds", "marks"):
        nowhere = f"/projects/LAN/defined/{sort}/{uuid.uuid4()}"
        ines("PATCH", nowhere, {"name": "X"}, expect=404)
        ines("DELETE", nowhere, expect=404)
        ines("POST", f"{nowhere}/restore", expect=404)
    ines("POST", f"/projects/LAN/defined/marks/{weight}/restore", expect=404)  # it is a field


def test_fields_stand_in_the_order_that_a_lead_gives_them(ines: Caller) -> None:
    ids = [define(ines, "fields", name, type="text") for name in ("One", "Two", "Three")]
    ines("PATCH", f"/projects/LAN/defined/fields/{ids[2]}", {"after_id": None})
    assert [one["name"] for one in ines("GET", "/projects/LAN")["fields"]] == ["Three", "One", "Two"]
    ines("PATCH", f"/projects/LAN/defined/fields/{ids[2]}", {"after_id": ids[0]})
    assert [one["name"] for one in ines("GET", "/projects/LAN")["fields"]] == ["One", "Three", "Two"]


def test_only_what_everybody_sees_opens_first_and_a_name_is_needed(ines: Caller) -> None:
    mine = kept(ines, "Mine")
    refused = ines("PATCH", f"/projects/LAN/sheets/{mine}", {"is_default": True}, expect=422)
    assert "Only a sheet that a whole project sees" in refused["detail"]
    for name in ("", "   ", "x" * 121):
        assert ines("PATCH", f"/projects/LAN/sheets/{mine}", {"name": name}, expect=422)["errors"][0]["field"] == "name"
    ines("PATCH", f"/projects/LAN/sheets/{uuid.uuid4()}", {"name": "X"}, expect=404)


def test_a_change_of_a_sheet_is_not_taken_back_once_it_was_changed_again(ines: Caller) -> None:
    mine = kept(ines, "Mine")
    first = str(uuid.uuid4())
    ines("PATCH", f"/projects/LAN/sheets/{mine}", {"name": "Late work"}, headers={"Rhodonite-Change": first})
    ines("PATCH", f"/projects/LAN/sheets/{mine}", {"name": "Late and held"})
    refused = ines("POST", f"/changes/{first}/undo", expect=422)
    assert "changed again since" in refused["detail"]
    assert names(ines) == ["Late and held"]


def scoped(caller: Caller, clause: list[Any]) -> Any:
    return caller("GET", f"/projects/LAN/scope?where={quote(json.dumps({'all': [clause]}))}")


FILLED = {"text": "sand", "number": 2, "date": 5, "one_of": ["x"], "several_of": ["x"]}


def test_a_clause_begun_on_any_field_can_be_asked_once_it_has_its_value(ines: Caller) -> None:
    catalogue = ines("GET", "/projects/LAN/columns")
    assert {column["type"] for column in catalogue["columns"]} <= set(catalogue["first"])
    for column in catalogue["columns"]:
        operator, *value = catalogue["first"][column["type"]]
        assert operator in catalogue["operators"][column["type"]]
        assert (operator in catalogue["bare"]) == (not value)
        clause = [column["key"], operator, *([FILLED[column["type"]]] if value else [])]
        answer = scoped(ines, clause)
        assert answer["shown"] <= answer["total"], column


def test_every_operator_is_asked_with_a_value_or_needs_none(ines: Caller) -> None:
    ines.add("Cast bars")
    catalogue = ines("GET", "/projects/LAN/columns")
    keys = {column["type"]: column["key"] for column in catalogue["columns"]}
    for kind, operators in catalogue["operators"].items():
        for operator in operators:
            value = "2027-03-20" if kind == "date" and operator in {"before", "after", "on"} else FILLED.get(kind)
            clause = [keys[kind], operator] if operator in catalogue["bare"] else [keys[kind], operator, value]
            assert scoped(ines, clause)["total"] == 1, clause
