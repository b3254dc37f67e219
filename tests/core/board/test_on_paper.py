"""The board on paper: each slip once, whatever makes the rows."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rhodonite.core.board.on_paper import PaperBoard, boards_on_paper, fitting, slips_of
from rhodonite.core.common.errors import RuleError
from rhodonite.core.schedule.plan import Plan
from rhodonite.core.tasks.boards import Lane, Period, Workflow
from rhodonite.core.tasks.model import State, Task
from rhodonite.core.views.catalogue import Catalogue
from tests.core.make import NOW, OFFICE, PROJECT, task

STATES = (
    State("ready", "Ready", "queued", "a"),
    State("doing", "Building", "active", "b", limit=2, step="Doing", column_limit=3),
    State("picked", "Building: Picked", "active", "c", step_of="doing", step="Picked"),
    State("done", "Finished", "finished", "d"),
    State("told", "Told", "queued", "e", workflow_id="repairs"),
    State("mended", "Mended", "finished", "f", workflow_id="repairs"),
)
URGENT = Lane("urgent", "Urgent", "a", joins=(("doing", "picked"),), skips=("ready",))
HOUSE = replace(
    PROJECT, states=STATES, lanes=(URGENT,), periods=(Period("q2", "Next", "a"), Period("q3", "Later", "b")),
    workflows=(Workflow("repairs", "Repairs", "a", kinds=("defect",)),),
)  # fmt: skip


def boards(by: str, *tasks: Task) -> list[PaperBoard]:
    plan = Plan(HOUSE, OFFICE, tasks, NOW)
    lanes = {one.id: one.lane_id for one in tasks if one.lane_id}
    slips = slips_of(plan.rows.values(), NOW.date(), 14)
    return boards_on_paper(plan, slips, by, lanes, Catalogue(plan, {"ines": "Ines Oduya"}))


def laid(board: PaperBoard) -> dict[str, list[list[str]]]:
    return {row.name: [[one.task.id for one in cell.slips] for cell in row.cells] for row in board.rows}


@st.composite
def works(draw: st.DrawFn) -> list[Task]:
    """A few tasks in any state, lane, period and order, of anybody."""
    many = draw(st.integers(0, 12))
    return [
        task(
            f"t{n}", state_id=draw(st.sampled_from([one.id for one in STATES])), place=draw(st.sampled_from("abc")),
            lane_id=draw(st.sampled_from([None, "urgent"])), period_id=draw(st.sampled_from([None, "q2", "gone"])),
            owner_id=draw(st.sampled_from([None, "ines"])), priority=draw(st.sampled_from([None, "high"])),
        )
        for n in range(many)
    ]  # fmt: skip


@given(works(), st.sampled_from(["none", "lanes", "parent", "owner", "kind", "priority"]))
def test_each_slip_lies_in_one_cell_and_cells_fill_the_columns(tasks: list[Task], by: str) -> None:
    found = boards(by, *tasks)
    lying = [one.task.id for board in found for row in board.rows for cell in row.cells for one in cell.slips]
    assert sorted(lying) == sorted(one.id for one in tasks)
    assert all(sum(cell.span for cell in row.cells) == len(board.heads) for board in found for row in board.rows)


def test_lanes_workflows_and_the_backlog_lie_where_they_do_on_the_board() -> None:
    found = boards(
        "lanes", task("a", state_id="ready"), task("b", state_id="picked", lane_id="urgent", place="b"),
        task("c", state_id="doing", lane_id="urgent", place="a"), task("d", state_id="ready", period_id="q3"),
        task("e", state_id="told", kind="defect"),
    )  # fmt: skip
    assert [one.name for one in found] == ["Main: backlog", "Main", "Repairs"]
    assert [(one.name, one.count) for one in found[0].heads] == [("Next", 0), ("Later", 1)]
    assert [(one.name, one.count, one.limit) for one in found[1].heads] == [
        ("Ready", 1, None), ("Building: Doing", 1, 2), ("Building: Picked", 1, None), ("Finished", 0, None),
    ]  # fmt: skip
    assert [one.stage for one in found[1].heads] == [None, (2, 3), None, None]
    assert laid(found[1]) == {"Urgent": [[], ["c", "b"], []], "Everything else": [["a"], [], [], []]}
    assert [(cell.span, cell.skipped) for cell in found[1].rows[0].cells] == [(1, True), (2, False), (1, False)]
    assert laid(found[2]) == {"": [["e"], []]}


def test_rows_are_named_by_what_a_field_holds() -> None:
    found = boards("owner", task("a", state_id="ready", owner_id="ines"), task("b", state_id="ready"))
    assert laid(found[0]) == {"Ines Oduya": [["a"], [], [], []], "No owner": [["b"], [], [], []]}
    found = boards("parent", task("p", title="Lantern room"), task("a", "p", state_id="ready"), task("b", state_id="done"))
    assert laid(found[0]) == {"Lantern room": [["a"], [], [], []], "Under nothing": [[], [], [], ["b"]]}
    with pytest.raises(RuleError):
        boards("own.gone", task("a", state_id="ready"))


def test_what_was_finished_long_ago_is_not_on_it() -> None:
    def finished(days: int) -> Task:
        return task(f"d{days}", state_id="done", actual_finish=datetime.combine(NOW.date() - timedelta(days), NOW.time()))

    plan = Plan(HOUSE, OFFICE, [finished(13), finished(14)], NOW)
    assert [row.task.id for row in slips_of(plan.rows.values(), NOW.date(), 14)] == ["d13"]


def test_of_too_many_the_first_of_each_column_go_on_paper() -> None:
    plan = Plan(HOUSE, OFFICE, [task(f"r{n}", state_id="ready") for n in range(6)] + [task("x", state_id="done")], NOW)
    slips = [plan.rows[one] for one in ("r0", "r1", "r2", "r3", "r4", "r5", "x")]
    assert [row.task.id for row in fitting(slips, 3)] == ["r0", "r1", "x"]
    assert fitting(slips, 7) == slips
