"""What the board shows in which cell, and where a slip that is put down comes to stand."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from .conftest import Modules

SHAPE = "/src/board/shape.ts"
NOW = "2027-03-17T09:42:00"
PROJECT = {
    "kinds": [{"key": "task", "name": "Task"}, {"key": "defect", "name": "Defect"}],
    "fields": [{"id": "f1", "name": "Safe", "type": "yes_no", "choices": []}],
    "states": [
        {"id": "q", "name": "Ready", "state_class": "queued", "workflow_id": None, "step_of": None, "step": ""},
        {"id": "d", "name": "Finished", "state_class": "finished", "workflow_id": None, "step_of": None, "step": ""},
    ],
    "workflow_name": "Main", "workflows": [], "lanes": [], "periods": [],
}  # fmt: skip


def slip(one: str, place: str = "a", state: str = "q", number: int = 1, **more: Any) -> dict[str, Any]:
    return {
        "id": one, "title": one, "number": number, "board_place": place, "state_id": state, "state_class": "queued",
        "is_summary": False, "actual_finish": None, "owner_id": None, "parent_id": None, "kind": "task", "priority": None,
        "own": {}, "lane_id": None, "period_id": None, **more,
    }  # fmt: skip


def shown(modules: Modules, rows: list[dict[str, Any]], inside: list[str] | None = None, days: int = 14) -> list[str]:
    code = "module.slipsOf(rows, inside && new Set(inside), new Date(now), days).map((one) => one.id)"
    return modules(SHAPE, code, rows=rows, inside=inside, now=NOW, days=days)


GIVEN = """{project, outline: rows.map((row) => ({row})), board,
        people: new Map(Object.entries(people).map(([id, name]) => [id, {id, name}]))}"""


def lanes(modules: Modules, by: str, rows: list[dict[str, Any]], people: dict[str, str] | None = None) -> list[list[str]]:
    code = f"module.frameOf(rows, by, {GIVEN}).ways[0].lanes.map((one) => [one.id, one.name])"
    return modules(SHAPE, code, project=PROJECT, by=by, rows=rows, people=people or {}, board=None)


def test_slips_stand_in_their_order_without_summary_tasks(modules: Modules) -> None:
    rows = [slip("b", "m"), slip("a", "c"), slip("whole", "a", is_summary=True), slip("tie 2", "z", number=2), slip("tie 1", "z")]
    assert shown(modules, rows) == ["a", "b", "tie 1", "tie 2"]
    assert shown(modules, rows, inside=["b"]) == ["b"]


@pytest.mark.parametrize(
    ("finished", "seen"), [("2027-03-16T12:00", True), ("2027-03-04T12:00", True), ("2027-02-20T12:00", False)]
)
def test_what_finished_long_ago_is_left_out(modules: Modules, finished: str, seen: bool) -> None:
    row = slip("a", state_class="finished", actual_finish=finished)
    assert shown(modules, [row]) == (["a"] if seen else [])


def test_rows_follow_the_order_of_their_field_and_what_has_none_comes_last(modules: Modules) -> None:
    rows = [slip("1"), slip("2", priority="wont"), slip("3", priority="must"), slip("4", priority="should")]
    assert [name for _, name in lanes(modules, "priority", rows)] == ["must", "should", "won’t", "No priority"]
    rows = [slip("1", owner_id="z"), slip("2"), slip("3", owner_id="a"), slip("4", owner_id="z")]
    people = {"z": "Zoltan Mbeki", "a": "Anke Vos"}
    assert [name for _, name in lanes(modules, "owner", rows, people)] == ["Anke Vos", "Zoltan Mbeki", "No owner"]


def test_rows_by_summary_task_stand_as_in_the_outline(modules: Modules) -> None:
    rows = [slip("Zinc"), slip("Arch"), slip("1", parent_id="Arch"), slip("2", parent_id="Zinc")]
    assert [name for _, name in lanes(modules, "parent", rows)] == ["Zinc", "Arch", "Under nothing"]


def test_a_custom_field_makes_rows_too_and_nothing_makes_one(modules: Modules) -> None:
    rows = [slip("1", own={"f1": True}), slip("2")]
    assert [name for _, name in lanes(modules, "own.f1", rows)] == ["yes", "No safe"]
    assert lanes(modules, "none", rows) == [["", ""]]


def place(modules: Modules, moved: str, cell: str, before: str | None, rows: list[dict[str, Any]], by: str = "none") -> Any:
    code = f"""(() => {{ const frame = module.frameOf(rows, by, {GIVEN});
        const shape = {{...frame, slipsIn: module.sorted(rows, frame.cellOf, null)}};
        const at = shape.cells.get(cell) ?? {{key: cell, states: [cell.slice(cell.lastIndexOf('|') + 1)]}};
        return module.placeIn(moved, at, before, rows, shape); }})()"""
    return modules(SHAPE, code, project=PROJECT, by=by, moved=moved, cell=cell, before=before, rows=rows, people={}, board=None)


ROWS = [slip("a", "b"), slip("b", "d"), slip("c", "f"), slip("x", "c", state="d")]


@pytest.mark.parametrize(
    ("moved", "cell", "before", "after"),
    [
        ("x", "|q", "b", "a"),
        ("x", "|q", None, "c"),
        ("x", "|q", "a", None),
        ("a", "|q", "c", "b"),
        ("a", "|q", None, "c"),
        ("a", "|d", "x", None),
        ("a", "|d", None, "x"),
    ],
)
def test_a_slip_stands_behind_the_one_above_it(
    modules: Modules, moved: str, cell: str, before: str | None, after: str | None
) -> None:
    assert place(modules, moved, cell, before, ROWS)["after"] == after


def test_on_top_of_a_row_it_stands_behind_what_the_column_has_before_that_row(modules: Modules) -> None:
    rows = [slip("a", "b", priority="must"), slip("b", "d", priority="could"), slip("m", "z", state="d", priority="must")]
    assert place(modules, "m", "could|q", "b", rows, by="priority")["after"] == "a"
    assert place(modules, "m", "should|q", None, rows, by="priority")["after"] == "b"


@settings(max_examples=60, deadline=None)
@given(st.data())
def test_what_is_shown_at_once_stands_where_it_was_put(modules: Modules, data: st.DataObject) -> None:
    names = list("abcdef")
    rows = [slip(name, place, number=index) for index, (name, place) in enumerate(zip(names, "bdfhjl", strict=True))]
    moved, before = data.draw(st.sampled_from(names)), data.draw(st.sampled_from([*names, None]))
    if moved == before:
        return
    shown_place = place(modules, moved, "|q", before, rows)["shown"]
    rows = [{**row, "board_place": shown_place} if row["id"] == moved else row for row in rows]
    order = shown(modules, rows)
    assert order[order.index(moved) + 1 :][:1] == ([before] if before else [])


def test_a_slip_put_to_finished_shows_finished_at_once(modules: Modules) -> None:
    code = "module.shownIn(row, {fields: {'own.f1': true, period_id: null}}, project.states[1], 'k', project, new Date(now))"
    given_to = modules(SHAPE, code, row=slip("a", own={"f2": 3}), project=PROJECT, now=NOW)
    assert (given_to["state_class"], given_to["percent"], given_to["board_place"]) == ("finished", 100, "k")
    assert given_to["own"] == {"f1": True, "f2": 3}


STREAMS = {
    **PROJECT,
    "states": [
        *PROJECT["states"],
        {"id": "s1", "name": "Building", "state_class": "active", "workflow_id": None, "step_of": None, "step": "doing"},
        {"id": "s2", "name": "Building: picked", "state_class": "active", "workflow_id": None, "step_of": "s1", "step": "picked"},
        {"id": "r", "name": "Reported", "state_class": "queued", "workflow_id": "fix", "step_of": None, "step": ""},
    ],
    "workflows": [{"id": "fix", "name": "Repairs"}],
    "lanes": [{"id": "urgent", "name": "Urgent", "workflow": None, "cells": {"s1": 1}}],
    "periods": [{"id": "later", "name": "Later"}],
}  # fmt: skip
BOARD = {
    "lanes": {"ruled": "urgent", "hand": "urgent"},
    "cells": {"urgent": [{"states": ["q"], "skipped": True}, {"states": ["s1", "s2"], "skipped": False}, {"states": ["d"], "skipped": False}]},
}  # fmt: skip


@pytest.mark.parametrize(
    ("row", "cell"),
    [
        (slip("plain"), "|q"),
        (slip("ruled", state="s2", state_class="active"), "urgent|s1"),  # of a joined cell the first column names it
        (slip("ruled"), "urgent|q"),  # in a column that the lane skips it stands all the same
        (slip("waits", period_id="later"), "~later|q"),
        (slip("pulled", state="s1", state_class="active", period_id="later"), "|s1"),
        (slip("fault", state="r"), "|r"),
        (slip("ruled", state="r"), "|r"),  # that lane is of another workflow
        (slip("waits", state="r", period_id="later"), "~later|r"),
        (slip("put", lane_id="urgent", state="d", state_class="finished"), "urgent|d"),
        (slip("put", lane_id="gone"), "|q"),
    ],
)
def test_a_slip_stands_in_one_cell(modules: Modules, row: dict[str, Any], cell: str) -> None:
    code = f"""(() => {{ const frame = module.frameOf(rows, 'lanes', {GIVEN});
        const at = frame.cellOf(rows[0]);
        return [at, [...frame.cells.values()].filter((one) => one.key === at).length]; }})()"""
    found = modules(SHAPE, code, project=STREAMS, rows=[row], people={}, board=BOARD)
    assert found == [cell, 1]
