"""Fields of a project's own, conditions, tints and views."""

from __future__ import annotations

import json
from dataclasses import replace
from datetime import date
from decimal import Decimal
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rhodonite.core.common.errors import RuleError
from rhodonite.core.people.viewer import Viewer
from rhodonite.core.schedule.plan import Plan
from rhodonite.core.tasks.custom_fields import CustomField, CustomKind, Option, ProjectMark
from rhodonite.core.tasks.custom_values import read_value
from rhodonite.core.tasks.defining import check_definition, definition_of, settings_of
from rhodonite.core.tasks.model import Link, Project
from rhodonite.core.tasks.rules import change
from rhodonite.core.views.catalogue import Catalogue
from rhodonite.core.views.conditions import OPERATORS, Clause, Group, holding, read_group, say_clause, write_group
from rhodonite.core.views.tints import Tint, tinted
from rhodonite.core.views.view import Shown, Sort, View, arrange, read_view
from tests.core.make import NOW, OFFICE, PROJECT, at, days, task

PRICE = CustomField("price", "Price", "money", "a", unit="EUR", decimals=2)
COUNT = CustomField("count", "Pieces", "number", "b")
STONE = CustomField("stone", "Stone", "choice", "c", options=(Option("slate", "Slate"), Option("lime", "Limestone")))
TOTAL = CustomField(
    "total", "Total", "computed", "d", decimals=2, formula="if has tasks below then sum of Total below else Price × Pieces"
)
WAXED = CustomField("waxed", "Waxed", "yes_no", "e")
STORY = CustomKind("story", "story", "a", states=("ready", "doing", "done"))
WATCH = ProjectMark("watch", "watch this", "a")
OWN = replace(PROJECT, fields=(PRICE, COUNT, STONE, TOTAL, WAXED), kinds=(STORY,), marks=(WATCH,))


def plan(*tasks: Any, project: Project = OWN) -> Plan:
    return Plan(project, OFFICE, tasks, NOW)


def made() -> Plan:
    return plan(
        task("s", title="Steps"),
        task("a", "s", title="Treads", own={"price": 12.5, "count": 4, "stone": "slate"}, owner_id="ines", **days("3-15", 1)),
        task("b", "s", title="Risers", own={"price": 3, "count": 10, "stone": "lime"}, **days("3-18", 2)),
        task(
            "c",
            title="Wax",
            own={"waxed": True},
            waits_for=(Link("b"),),
            held_reason="rain",
            deadline=at("4-05"),
            **days("3-22", 1),
        ),
    )


def caught(where: Any, of: Plan | None = None, me: str = "ines") -> set[str]:
    one = of or made()
    test = holding(read_group(where), Catalogue(one, {"ines": "Ines", "tomas": "Tomas"}), Viewer(me))
    return {task_id for task_id, row in one.rows.items() if test(row)}


def test_computed_fields_reckon_from_others_and_from_below() -> None:
    catalogue = Catalogue(made(), {})
    values = {one: catalogue.computed(TOTAL, one) for one in "sabc"}
    assert values == {"a": Decimal("50.00"), "b": Decimal("30.00"), "s": Decimal("80.00"), "c": None}


def test_a_field_that_asks_for_itself_has_no_value() -> None:
    loop = CustomField("x", "Loop", "computed", "z", formula="Loop + 1")
    one = plan(task("a"), project=replace(PROJECT, fields=(loop,)))
    assert Catalogue(one, {}).computed(loop, "a") is None


@pytest.mark.parametrize(
    ("clause", "found"),
    [
        (["deadline", "within", 21], {"c"}),
        (["deadline", "within", 18], set()),
        (["finish", "past", 7], {"a"}),
        (["start", "before", "2027-03-18"], {"s", "a"}),
        (["start", "this_week"], {"s", "a", "b"}),
        (["start", "next_week"], {"c"}),
        (["owner", "any", ["me"]], {"a"}),
        (["owner", "any", ["nobody"]], {"s", "b", "c"}),
        (["owner", "none", ["me", "nobody"]], set()),
        (["own.stone", "any", ["slate", "lime"]], {"a", "b"}),
        (["own.stone", "empty"], {"s", "c"}),
        (["own.price", "least", "3"], {"a", "b"}),
        (["own.price", "more", 3], {"a"}),
        (["own.total", "least", 60], {"s"}),
        (["own.waxed", "yes"], {"c"}),
        (["own.waxed", "no"], {"s", "a", "b"}),
        (["title", "contains", "RISE"], {"b"}),
        (["held", "yes"], {"c"}),
        (["held_by", "is", "rain"], {"c"}),
        (["late", "yes"], {"a"}),
        (["waits", "yes"], {"c"}),
        (["awaited", "yes"], {"b"}),
        (["duration", "least", 2], {"s", "b"}),
    ],
)
def test_clauses_catch(clause: list[Any], found: set[str]) -> None:
    assert caught({"all": [clause]}) == found


def test_and_or_groups() -> None:
    late, held, stone = ["late", "yes"], ["held", "yes"], ["own.stone", "filled"]
    assert caught({"any": [late, held]}) == {"a", "c"}
    assert caught({"all": [{"any": [late, held]}, stone]}) == {"a"}
    assert caught({"all": []}) == set("sabc")


@pytest.mark.parametrize(
    "where",
    ["{", "[]", '{"all": [["late"]]}', '{"both": []}', '{"all": [["title", "contains", ""]]}', '{"all": [["gone", "yes"]]}',
     '{"all": [["own.price", "least", "much"]]}', '{"all": [["start", "before", "soon"]]}', '{"all": [["title", "least", 3]]}',
     '{"all": ' * 9 + "[]" + "}" * 9],
)  # fmt: skip
def test_a_condition_that_cannot_be_says_so(where: str) -> None:
    with pytest.raises(RuleError):
        caught(where)


def test_clauses_read_as_words() -> None:
    catalogue = Catalogue(made(), {"ines": "Ines Oduya"})

    def said(*clause: Any) -> str:
        return say_clause(Clause(*clause), catalogue)

    assert said("deadline", "within", 21) == "deadline is within the next 3 weeks"
    assert said("unchanged", "least", 10) == "days unchanged is at least 10 d"
    assert said("owner", "any", ["me", "ines"]) == "owner is me or Ines Oduya"
    assert said("waits", "yes") == "waits for something unfinished"
    assert said("own.waxed", "no") == "waxed is not yes"


CLAUSES = st.sampled_from(
    [("late", "yes"), ("held", "no"), ("own.price", "least", 3), ("title", "contains", "e"), ("start", "this_week")]
)
GROUPS = st.recursive(
    CLAUSES.map(lambda one: Clause(*one)),
    lambda inner: st.builds(Group, st.sampled_from(["all", "any"]), st.lists(inner, max_size=3).map(tuple)),
    max_leaves=8,
).map(lambda one: one if isinstance(one, Group) else Group("all", (one,)))


@given(GROUPS)
def test_conditions_survive_being_kept(group: Group) -> None:
    if write_group(group):
        assert read_group(json.dumps(write_group(group))) == group


@given(GROUPS, GROUPS)
def test_any_is_the_union_and_all_the_meeting(left: Group, right: Group) -> None:
    one = made()
    each = [caught(write_group(side), one) for side in (left, right)]
    assert caught({"all": [write_group(left), write_group(right)]}, one) == each[0] & each[1]
    assert caught({"any": [write_group(left), write_group(right)]}, one) == each[0] | each[1]


@pytest.mark.parametrize("key", list(Catalogue(made(), {}).columns))
def test_every_operator_of_every_column_can_be_asked(key: str) -> None:
    catalogue = Catalogue(made(), {"ines": "Ines"})
    values = {"text": "e", "number": 3, "date": "2027-03-18", "one_of": ["x"], "several_of": ["x"]}
    kind = catalogue.columns[key].type
    for operator in OPERATORS[kind]:
        value = 7 if operator in {"within", "past"} else values.get(kind)
        clause = Clause(key, operator, value)
        assert say_clause(clause, catalogue)
        test = holding(Group("all", (clause,)), catalogue, Viewer("ines"))
        assert {test(row) for row in made().rows.values()} <= {True, False}


def test_values_are_read_as_they_are_typed() -> None:
    def read(field: CustomField, typed: Any) -> Any:
        return read_value(field, typed, date(2027, 3, 17))

    assert [read(PRICE, one) for one in ("12,5", "1,200.50", "1200 EUR", "")] == [12.5, 1200.5, 1200.0, None]
    assert read(COUNT, "3.6") == 4
    assert [read(STONE, one) for one in ("slate", "LIMESTONE", None)] == ["slate", "lime", None]
    assert read(CustomField("d", "Day", "date", "a"), "next mon") == "2027-03-22"
    assert read(CustomField("l", "Page", "link", "a"), "corvane.example/a") == "https://corvane.example/a"
    for field, typed in (
        (PRICE, "dear"),
        (STONE, "marble"),
        (WAXED, "perhaps"),
        (TOTAL, 3),
        (CustomField("l", "P", "link", "a"), "javascript:x"),
    ):
        with pytest.raises(RuleError):
            read(field, typed)


@pytest.mark.parametrize("one", [PRICE, COUNT, STONE, TOTAL, WAXED, STORY, WATCH])
def test_definitions_survive_being_kept(one: Any) -> None:
    sort = {CustomField: "field", CustomKind: "kind", ProjectMark: "mark"}[type(one)]
    assert definition_of(sort, one.id, one.name, one.place, json.loads(json.dumps(settings_of(one)))) == one


@pytest.mark.parametrize(
    "one",
    [
        replace(PRICE, id="x"),
        replace(PRICE, id="x", name=" "),
        replace(PRICE, id="x", name="Title"),
        replace(STONE, id="x", name="Other", options=()),
        replace(STONE, id="x", name="Other", options=(Option("1", "A"), Option("2", "a"))),
        replace(PRICE, id="x", name="Other", required_from="gone"),
        replace(PRICE, id="x", name="Other", default="dear"),
        replace(PRICE, id="x", name="2nd"),
    ],
)
def test_a_definition_that_cannot_be_says_so(one: CustomField) -> None:
    with pytest.raises(RuleError):
        check_definition(one, [PRICE], OWN, {"title"})


def changed(before: Any, project: Project = OWN, **wanted: Any) -> dict[str, Any]:
    wanted = {name.replace("own_", "own."): value for name, value in wanted.items()}
    return change(before, wanted, project=project, calendar=OFFICE, now=NOW)


def test_a_field_is_required_from_a_state_on() -> None:
    needed = replace(OWN, fields=(replace(PRICE, required_from="doing"),))
    with pytest.raises(RuleError, match="Fill in Price first"):
        changed(task("a"), needed, state_id="review")
    assert changed(task("a"), needed, state_id="dropped")["state_id"] == "dropped"
    assert changed(task("a"), needed, state_id="review", own_price=3)["own.price"] == 3
    assert changed(task("a", state_id="doing"), needed, title="B") == {"title": "B", "actual_start": NOW}


def test_a_kind_has_its_own_way_through_the_states() -> None:
    assert changed(task("a", state_id="review", actual_start=NOW), kind="story")["state_id"] == "ready"
    with pytest.raises(RuleError, match="do not pass through In review"):
        changed(task("a", kind="story"), state_id="review")
    with pytest.raises(RuleError, match="Choose a kind"):
        changed(task("a"), kind="gone")


def test_only_marks_of_the_project_can_be_put_on() -> None:
    assert changed(task("a"), marks=("watch",)) == {"marks": ("watch",)}
    with pytest.raises(RuleError):
        changed(task("a"), marks=("gone",))


def tint(one: str, *where: Any, **more: Any) -> Tint:
    return Tint(one, one, read_group({"all": list(where)}), "ember", **more)


def test_the_first_tint_that_holds_wins_and_the_rest_say_what_it_took() -> None:
    one = made()
    rules = (tint("open", ["class", "any", ["queued"]]), tint("late", ["late", "yes"]))
    found, counts = tinted(list(one.rows.values()), rules, Catalogue(one, {}), Viewer("ines"))
    assert {given["row"] for given in found.values()} == {"open"}
    late = counts[1]
    assert (late.holds, late.shows, late.taken, late.hidden, late.move_before) == (1, 0, {"open": 1}, True, "open")
    mended, counts = tinted(list(one.rows.values()), rules[::-1], Catalogue(one, {}), Viewer("ines"))
    assert mended["a"]["row"] == "late"
    assert not any(count.hidden for count in counts)


def test_a_tint_of_a_cell_is_not_in_the_way_of_one_of_the_row() -> None:
    one = made()
    rules = (tint("cell", ["late", "yes"], covers=("cell",), cell="finish"), tint("row", ["late", "yes"], covers=("row",)))
    found, counts = tinted(list(one.rows.values()), rules, Catalogue(one, {}), Viewer("ines"))
    assert found["a"] == {"cell:finish": "cell", "row": "row"}
    assert [count.shows for count in counts] == [1, 1]


@given(st.permutations(["late", "held", "waits", "awaited", "own.waxed"]))
def test_each_task_that_a_tint_holds_for_is_shown_or_taken(keys: list[str]) -> None:
    one = made()
    rules = [tint(key, [key, "yes"]) for key in keys]
    _, counts = tinted(list(one.rows.values()), rules, Catalogue(one, {}), Viewer("ines"))
    for count in counts:
        assert count.holds == count.shows + sum(count.taken.values())


def arranged(**view: Any) -> Any:
    one = made()
    return arrange([row for row, _, _ in one.ordered()], View(**view), Catalogue(one, {"ines": "Ines"}), Viewer("ines"))


def test_groups_have_names_order_and_sums() -> None:
    found = arranged(groups=("own.stone",), columns=(Shown("own.price", foot="sum"), Shown("duration", foot="average")))
    assert [(one.names, one.ids) for one in found.groups] == [
        (("Slate",), ["a"]),
        (("Limestone",), ["b"]),
        (("no stone",), ["c"]),
    ]
    assert [one.feet["own.price"] for one in found.groups] == ["12.50 EUR", "3.00 EUR", ""]
    # the summary task above is left out: 1, 2 and 1 days
    assert found.feet == {"own.price": "15.50 EUR", "duration": "1.3 d"}


def test_two_levels_of_groups() -> None:
    found = arranged(groups=("owner", "late"), columns=(Shown("own.price", foot="sum"),))
    assert [one.names for one in found.groups] == [("Ines", "Late: yes"), ("no owner", "Late: no")]
    assert found.outer[""].feet == {"own.price": "3.00 EUR"}


def test_what_has_no_value_stands_last_whichever_way_it_is_sorted() -> None:
    assert arranged(sorts=(Sort("own.price"),)).ids == ["b", "a", "c"]
    assert arranged(sorts=(Sort("own.price", down=True),)).ids == ["a", "b", "c"]
    assert arranged(sorts=(Sort("own.waxed"), Sort("title", down=True))).ids == ["c", "a", "b"]


def test_a_view_is_read_from_what_was_kept() -> None:
    view = read_view({"columns": [{"key": "effort", "foot": "sum"}], "groups": ["owner"], "sorts": [{"key": "finish", "down": True}],
                      "tints": [{"id": "1", "name": "Late", "where": {"all": [["late", "yes"]]}, "colour": "ember", "covers": ["row"]}]})  # fmt: skip
    assert view.columns == (Shown("effort", foot="sum"),)
    assert view.tints[0].where == Group("all", (Clause("late", "yes"),))
    with pytest.raises(RuleError):
        read_view({"sorts": [{}]})


def test_the_time_held_counts_what_was_and_what_is() -> None:
    one = plan(
        task("a", held_minutes=900),
        task("b", held_minutes=450, held_reason="rain", held_since=at("3-15 09:00")),  # two days and a half hour ago
        task("c"),
    )
    catalogue = Catalogue(one, {})
    said = {row.task.id: catalogue.say("time_held", catalogue.column("time_held").value(row)) for row in one.rows.values()}
    assert said == {"a": "2 d", "b": "3.07 d", "c": "0 d"}
