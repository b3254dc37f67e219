"""What the outline shows: rows in scope and under unfolded tasks, groups and orders of a view, columns and the texts in them."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from .conftest import Modules

ARRANGED = "/src/tasks/outline/arranged.ts"
COLUMNS = "/src/tasks/outline/columns.ts"
LENS = "/src/tasks/lens.ts"

#: The gallery stands above cases and glass, glass above two panes; the shop stands beside the gallery.
TREE = [
    ("gallery", None, 0),
    ("cases", "gallery", 1),
    ("glass", "gallery", 1),
    ("north", "glass", 2),
    ("south", "glass", 2),
    ("shop", None, 0),
]


def outline() -> list[dict[str, Any]]:
    return [{"row": {"id": one, "parent_id": parent}, "depth": depth, "number": ""} for one, parent, depth in TREE]


def seen(modules: Modules, inside: list[str] | None = None, folded: list[str] | None = None) -> list[str]:
    code = """module.visibleRows(all, inside && new Set(inside), new Set(folded))
        .map((one) => one.row.id + (one.dim ? ' dim' : '') + (one.hasBelow ? ' +' : ''))"""
    return list(modules(LENS, code, all=outline(), inside=inside, folded=folded or []))


def test_all_rows_are_seen_and_those_with_rows_below_can_be_folded(modules: Modules) -> None:
    assert seen(modules) == ["gallery +", "cases", "glass +", "north", "south", "shop"]


@pytest.mark.parametrize(
    ("folded", "wanted"),
    [
        (["glass"], ["gallery +", "cases", "glass +", "shop"]),
        (["gallery"], ["gallery +", "shop"]),
        (["gallery", "glass"], ["gallery +", "shop"]),
        (["shop"], ["gallery +", "cases", "glass +", "north", "south", "shop"]),
        (["never heard of"], ["gallery +", "cases", "glass +", "north", "south", "shop"]),
    ],
)
def test_nothing_is_seen_under_a_folded_row(modules: Modules, folded: list[str], wanted: list[str]) -> None:
    assert seen(modules, folded=folded) == wanted


@pytest.mark.parametrize(
    ("inside", "wanted"),
    [
        (["south"], ["gallery dim +", "glass dim +", "south"]),
        (["glass"], ["gallery dim +", "glass +"]),
        (["cases", "shop"], ["gallery dim +", "cases", "shop"]),
        ([], []),
    ],
)
def test_rows_in_scope_stand_under_the_pale_rows_above_them(modules: Modules, inside: list[str], wanted: list[str]) -> None:
    shown = seen(modules, inside)
    assert [one.removesuffix(" +") for one in shown] == [one.removesuffix(" +") for one in wanted]


@settings(max_examples=40, deadline=None)
@given(st.sets(st.sampled_from([one for one, _, _ in TREE])), st.sets(st.sampled_from([one for one, _, _ in TREE])))
def test_what_is_in_scope_is_seen_unless_it_is_folded_away(modules: Modules, inside: set[str], folded: set[str]) -> None:
    shown = [one.split()[0] for one in seen(modules, sorted(inside), sorted(folded))]
    parents = {one: parent for one, parent, _ in TREE}

    def above(one: str) -> list[str]:
        parent = parents[one]
        return [parent, *above(parent)] if parent else []

    for one in inside:
        assert (one in shown) == (not folded & set(above(one)))
    for one in shown:
        assert one in inside or any(one in above(other) for other in inside)


def arranged(modules: Modules, view: dict[str, Any], answer: dict[str, Any] | None) -> list[str]:
    code = """module.arranged(all, null, new Set(), view, answer ?? undefined)
        .map((item) => item.head ? (item.outer ? '== ' : '= ') + item.head.name : item.one.row.id + ' ' + item.one.depth)"""
    return list(modules(ARRANGED, code, all=outline(), view=view, answer=answer))


def test_without_groups_and_order_rows_stand_as_the_tree_does(modules: Modules) -> None:
    tree = ["gallery 0", "cases 1", "glass 1", "north 2", "south 2", "shop 0"]
    assert arranged(modules, {}, None) == tree
    assert arranged(modules, {"groups": [], "sorts": []}, {"ids": ["shop"], "groups": None, "outer": {}}) == tree


def test_the_tree_stands_until_the_answer_has_come(modules: Modules) -> None:
    assert arranged(modules, {"sorts": [{"key": "title"}]}, None)[1] == "cases 1"
    assert arranged(modules, {"groups": ["owner"]}, {"ids": ["shop"], "groups": None, "outer": {}})[1] == "cases 1"


def test_in_an_order_of_its_own_rows_stand_flat_and_what_has_gone_is_left_out(modules: Modules) -> None:
    answer = {"ids": ["south", "deleted meanwhile", "cases"], "groups": None, "outer": {}}
    assert arranged(modules, {"sorts": [{"key": "title"}]}, answer) == ["south 0", "cases 0"]


def test_inner_groups_stand_under_the_head_of_their_outer_group_once(modules: Modules) -> None:
    def group(*path: str, ids: list[str]) -> dict[str, Any]:
        return {"name": path[-1], "path": list(path), "ids": ids}

    groups = [
        group("Ana", "late", ids=["north"]),
        group("Ana", "soon", ids=["south"]),
        group("Ben", "soon", ids=["shop", "cases"]),
    ]
    outer = {"Ana": group("Ana", ids=[]), "Ben": group("Ben", ids=[])}
    lines = arranged(modules, {"groups": ["owner", "health"]}, {"ids": None, "groups": groups, "outer": outer})
    assert lines == ["== Ana", "= late", "north 0", "= soon", "south 0", "== Ben", "= soon", "shop 0", "cases 0"]
    flat = [group("Ana", ids=["north"]), group("Ben", ids=["shop"])]
    assert arranged(modules, {"groups": ["owner"]}, {"ids": None, "groups": flat, "outer": outer}) == [
        "= Ana",
        "north 0",
        "= Ben",
        "shop 0",
    ]


@pytest.mark.parametrize(
    ("width", "links", "wanted"),
    [
        (240, True, ["title"]),
        (350, True, ["title", "owner", "finish"]),
        (480, True, ["title", "owner", "finish"]),
        (760, False, ["title", "state", "owner", "start", "finish", "duration"]),
        (1280, False, ["title", "state", "owner", "priority", "start", "finish", "duration", "deadline", "percent"]),
        (1280, True, ["title", "state", "owner", "priority", "start", "finish", "duration", "deadline", "percent", "waits"]),
    ],
)
def test_there_are_as_many_columns_as_there_is_room_for(modules: Modules, width: int, links: bool, wanted: list[str]) -> None:
    assert modules(COLUMNS, "module.columnsFor(width, links).map((one) => one.id)", width=width, links=links) == wanted


@settings(max_examples=25, deadline=None)
@given(st.integers(480, 2000), st.integers(0, 400))
def test_more_room_never_takes_a_column_away(modules: Modules, width: int, more: int) -> None:
    narrow, wide = (modules(COLUMNS, "module.columnsFor(w, true).map((one) => one.id)", w=w) for w in (width, width + more))
    assert set(narrow) <= set(wide)


FIELDS = [
    {"id": "f1", "name": "Glass area", "type": "number", "kinds": ["task"], "decimals": 1, "unit": "m2", "options": []},
    {
        "id": "f2",
        "name": "Firms",
        "type": "several",
        "kinds": [],
        "options": [{"id": "o1", "name": "Vantongeren"}, {"id": "o2", "name": "Ossory"}],
    },
    {"id": "f3", "name": "Cost a day", "type": "computed", "kinds": [], "options": []},
]
PROJECT = {"fields": FIELDS, "day_minutes": 450, "states": [{"id": "s1", "name": "in the shop"}], "kinds": []}
CATALOGUE = {
    "columns": [
        {"key": "title", "name": "Task", "type": "text"},
        {"key": "finish", "name": "Finish", "type": "date"},
        {"key": "agreed_finish", "name": "Agreed", "type": "date"},
        {"key": "marks", "name": "Marks", "type": "list"},
        {"key": "own.f1", "name": "Glass area", "type": "number"},
        {"key": "own.f3", "name": "Cost a day", "type": "number"},
    ]
}


def test_a_view_names_its_columns_in_its_order_and_the_title_stands_first(modules: Modules) -> None:
    shown = [
        {"key": "agreed_finish"}, {"key": "own.f1", "width": 9999, "foot": "sum"}, {"key": "title"},
        {"key": "own.f3", "width": 3}, {"key": "marks"}, {"key": "own.taken_away"},
    ]  # fmt: skip
    code = "module.columnsOf(shown, catalogue, project).map((one) => [one.id, one.head, one.width, Boolean(one.readOnly), one.foot ?? null])"
    assert modules(COLUMNS, code, shown=shown, catalogue=CATALOGUE, project=PROJECT) == [
        ["title", "Task", 0, False, None],
        ["agreed", "Agreed", 78, False, None],
        ["own.f1", "Glass area", 600, False, "sum"],
        ["own.f3", "Cost a day", 40, True, None],
        ["marks", "Marks", 124, True, None],
    ]


def task(**more: Any) -> dict[str, Any]:
    plain = {
        "id": "t",
        "title": "Pane",
        "kind": "task",
        "is_summary": False,
        "state_id": "s1",
        "state_class": "queued",
        "own": {},
        "percent": 0,
    }
    return {**plain, **more}


@pytest.mark.parametrize(
    ("column", "row", "fixed"),
    [
        ("duration", {}, False),
        ("duration", {"is_summary": True}, True),
        ("owner", {"is_summary": True}, False),
        ("slack", {}, True),
        ("own.f1", {}, False),
        ("own.f1", {"kind": "milestone"}, True),
        ("own.f2", {"kind": "milestone"}, False),
    ],
)
def test_what_is_computed_or_foreign_to_the_kind_is_not_edited(
    modules: Modules, column: str, row: dict[str, Any], fixed: bool
) -> None:
    code = "module.isFixed(row, {id: column, readOnly: false}, project)"
    assert modules(COLUMNS, code, row=task(**row), column=column, project=PROJECT) is fixed


@pytest.mark.parametrize(
    ("column", "row", "text"),
    [
        ("title", {}, "Pane"),
        ("state", {}, "in the shop"),
        ("state", {"is_summary": True, "state_class": "active"}, "active"),
        ("state", {"state_id": "taken away"}, ""),
        ("percent", {}, ""),
        ("percent", {"state_class": "active"}, "0 %"),
        ("percent", {"percent": 40}, "40 %"),
        ("start", {"kind": "milestone", "start": "2027-03-17T09:00"}, ""),
        ("duration", {"kind": "milestone"}, ""),
        ("deadline", {"deadline": None}, ""),
        ("actual_start", {"is_summary": True, "actual_start": "2027-03-17T09:00"}, ""),
        ("own.f1", {"own": {"f1": 1234.5}}, "1,234.5 m2"),
        ("own.f1", {"own": {"f1": 2}}, "2.0 m2"),
        ("own.f2", {"own": {"f2": ["o2", "o1"]}}, "Ossory, Vantongeren"),
        ("own.f2", {"own": {}}, ""),
        ("own.f3", {}, "12 a day"),
        ("unheard of", {}, ""),
    ],
)  # fmt: skip
def test_the_text_of_a_cell(modules: Modules, column: str, row: dict[str, Any], text: str) -> None:
    code = "module.cellText(row, column, project, new Date('2027-03-17T09:42'), undefined, {'own.f3': {t: '12 a day'}})"
    assert modules(COLUMNS, code, row=task(**row), column=column, project=PROJECT) == text


def test_values_of_own_fields_in_words(modules: Modules) -> None:
    code = "values.map((value) => module.ownText(field, value, {byId: new Map([['p1', {name: 'Ines Oduya'}]])}))"
    said = modules(
        "/src/tasks/custom-fields.ts", code, field={"options": []}, values=[True, False, None, "p1", "https://corvane.example"]
    )
    assert said == ["yes", "no", "", "Ines Oduya", "https://corvane.example"]
