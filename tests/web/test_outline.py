"""The outline of a page: rows taken over, put in order, dropped and pasted."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rhodonite.core.common.dates import read_moment
from rhodonite.core.common.durations import read_duration
from rhodonite.core.resources.typed_bookings import Named, read_bookings

from .conftest import Modules

TODAY = date(2027, 3, 17)

MERGE = "/src/tasks/merge.ts"
DROPPING = "/src/tasks/outline/dropping.ts"
CELLS = "/src/tasks/outline/cells.ts"


def row(one: str, parent: str | None = None, place: str = "a", number: int = 1, **more: Any) -> dict[str, Any]:
    return {"id": one, "parent_id": parent, "place": place, "number": number, "title": one, **more}


def merged(modules: Modules, held: Any, mark: str, rows: list[Any], gone: list[str], complete: bool = False) -> Any:
    code = """(() => { const rows = module.mergeRows(held && {mark: held.mark, byId: new Map(held.rows.map((one) => [one.id, one]))},
        {mark, rows: fresh, gone, complete}); return [rows.mark, [...rows.byId.values()].map((one) => one.title)]; })()"""
    return modules(MERGE, code, held=held, mark=mark, fresh=rows, gone=gone, complete=complete)


def test_rows_that_changed_are_taken_over_and_those_gone_let_go(modules: Modules) -> None:
    held = {"mark": "5.1.0", "rows": [row("a"), row("b"), row("c")]}
    assert merged(modules, held, "6.1.0", [row("b", title="B"), row("d")], ["c"]) == ["6.1.0", ["a", "B", "d"]]
    assert merged(modules, held, "6.1.0", [row("d")], [], complete=True) == ["6.1.0", ["d"]]
    assert merged(modules, held, "6.1.0", [], []) == ["6.1.0", ["a", "b", "c"]]
    assert merged(modules, None, "6.1.0", [row("d")], []) == ["6.1.0", ["d"]]


def test_an_answer_that_was_overtaken_brings_nothing_unless_it_holds_all(modules: Modules) -> None:
    held = {"mark": "12.1.0", "rows": [row("a", title="new")]}
    assert merged(modules, held, "9.9.9", [row("a", title="old")], []) == ["12.1.0", ["new"]]
    assert merged(modules, held, "9.9.9", [row("a", title="old")], [], complete=True) == ["9.9.9", ["old"]]


def outline(modules: Modules, rows: list[dict[str, Any]]) -> list[str]:
    code = "module.outlineOf(new Map(rows.map((one) => [one.id, one]))).map((one) => one.number + ' ' + one.row.id + ' ' + one.depth)"
    return list(modules(MERGE, code, rows=rows))


def test_rows_stand_by_place_then_number_and_without_their_parent_at_the_top(modules: Modules) -> None:
    rows = [
        row("late", place="b"),
        row("x", "early", "m", 4),
        row("early"),
        row("y", "early", "m", 3),
        row("lost", "unknown", "c"),
    ]
    assert outline(modules, rows) == ["1 early 0", "1.1 y 1", "1.2 x 1", "2 late 0", "3 lost 0"]


@settings(max_examples=30, deadline=None)
@given(st.lists(st.tuples(st.integers(-1, 20), st.sampled_from("abc")), min_size=1, max_size=20))
def test_every_row_stands_once_and_below_its_parent(modules: Modules, steps: list[tuple[int, str]]) -> None:
    rows = [row(f"t{n}", f"t{above}" if 0 <= above < n else None, place, n) for n, (above, place) in enumerate(steps)]
    lines = [line.split() for line in outline(modules, rows)]
    assert sorted(one for _, one, _ in lines) == sorted(one["id"] for one in rows)
    seen: dict[str, tuple[str, int]] = {}
    parents = {one["id"]: one["parent_id"] for one in rows}
    for number, one, depth in lines:
        if parents[one] is not None:
            above = seen[parents[one]]  # a parent stands before what is under it
            assert number.startswith(above[0] + ".")
            assert int(depth) == above[1] + 1
        seen[one] = (number, int(depth))


#  a
#    b
#      c
#  d
TREE = [row("a"), row("b", "a"), row("c", "b"), row("d", place="b")]
DEPTHS = {"a": 0, "b": 1, "c": 2, "d": 0}


@pytest.mark.parametrize(
    ("index", "level", "moving", "parent", "after"),
    [
        (0, 3, "", None, None),  # above all: first at the top
        (1, 0, "", "a", None),  # between a and b nothing stands but below a
        (3, 3, "", "c", None),  # under c, however far to the right
        (3, 2, "", "b", "c"),
        (3, 1, "", "a", "b"),
        (3, 0, "", None, "a"),
        (9, 0, "", None, "d"),
        (9, 5, "", "d", None),
        (4, 1, "d", "a", "b"),  # what moves is no place to stand under
        (2, 1, "bc", "a", None),
    ],
)
def test_where_a_row_is_dropped(
    modules: Modules, index: int, level: int, moving: str, parent: str | None, after: str | None
) -> None:
    rows = [{"row": one, "depth": DEPTHS[one["id"]], "number": ""} for one in TREE]
    code = "module.dropAt({index, level}, rows, new Set(moving))"
    drop = modules(DROPPING, code, index=index, level=level, rows=rows, moving=list(moving))
    assert (drop["parent_id"], drop["after_id"]) == (parent, after)


PROJECT = {
    "states": [{"id": "s1", "name": "Ready", "label": "Ready"}, {"id": "s2", "name": "Under way", "label": "Under way"}],
    "fields": [],
    "kinds": [],
    "day_minutes": 450,
}
PEOPLE = [{"id": "p1", "name": "Tomas Brekke", "short": "Tomas B."}]
COLUMNS = [
    {"id": "title", "head": "Task", "field": "title", "typed": True},
    {"id": "state", "head": "State", "field": "state_id", "typed": False},
    {"id": "owner", "head": "Owner", "field": "owner_id", "typed": False},
    {"id": "priority", "head": "Priority", "field": "priority", "typed": False},
    {"id": "finish", "head": "Finish", "field": "finish", "typed": True},
]
ROWS = [row("r1", is_summary=False, kind="task"), row("r2", is_summary=True, kind="task")]


def pasted(modules: Modules, text: str) -> Any:
    people = "{active: people, byId: new Map(people.map((one) => [one.id, one]))}"
    code = f"module.pasteCells(text, rows, columns, project, {people})"
    return modules(CELLS, code, text=text, rows=ROWS, columns=COLUMNS, project=PROJECT, people=PEOPLE)


def test_a_block_of_cells_becomes_edits(modules: Modules) -> None:
    assert pasted(modules, "Cast\tunder way\ttomas b.\twon’t\tfri\r\n") == [
        {"id": "r1", "fields": {"title": "Cast", "state_id": "s2", "owner_id": "p1", "priority": "wont", "finish": "fri"}}
    ]
    # of a summary task state and finish are computed: they stay
    assert pasted(modules, "A\nB\tReady\t\t\tmon")[1] == {
        "id": "r2",
        "fields": {"title": "B", "owner_id": None, "priority": None},
    }


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("A\nB\nC", "The block has 3 lines, but only 2 tasks follow"),
        ("A\tReady\t\t\tmon\tmore", "wider than the columns"),
        ("A\tSomewhere", "“Somewhere” is no state here"),
        ("A\tReady\tNobody", "“Nobody” is no owner here"),
        ("A\t", "“” is no state here"),
    ],
)
def test_a_block_that_does_not_fit_says_why_and_changes_nothing(modules: Modules, text: str, says: str) -> None:
    answer = pasted(modules, text)
    assert says in answer
    assert answer.endswith("Nothing was pasted.")


@settings(max_examples=25, deadline=None)
@given(
    st.integers(1, 5000),
    st.datetimes(datetime(2027, 1, 4), datetime(2027, 12, 30)).map(lambda one: one.replace(second=0, microsecond=0)),
)
def test_copied_cells_give_the_same_values_where_they_are_pasted(modules: Modules, effort: int, moment: datetime) -> None:
    """What is shown is rounded: what is copied is not."""
    columns = [{"id": one, "head": one, "field": one, "typed": True} for one in ("effort", "start", "deadline", "people")]
    at = moment.isoformat(timespec="seconds")
    booked = [{"who": "p1", "minutes": effort, "resource": False}]
    one = row("r1", is_summary=False, kind="task", effort=effort, start=at, deadline=at, bookings=booked)
    people = "{active: people, byId: new Map(people.map((one) => [one.id, one]))}"
    code = f"module.copyCells([one], columns, project, {people}, new Date('2027-03-17T09:30'))"
    text = modules(CELLS, code, one=one, columns=columns, project=PROJECT, people=PEOPLE)
    hours, start, deadline, who = text.split("\t")
    assert read_duration(hours, 450, bare="hour") == effort
    assert read_moment(start, TODAY) == read_moment(deadline, TODAY) == moment
    assert [(each.who.id, each.minutes) for each in read_bookings(who, [Named("p1", "Tomas Brekke")], 450, 0)] == [("p1", effort)]
