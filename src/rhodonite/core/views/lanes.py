"""Lanes: in which row of the board a task lies."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from ..common.errors import RuleError
from ..cost.shown import PREFIX
from ..people.viewer import ME, MY_TEAM, Viewer
from ..schedule.plan import Plan, Row
from ..tasks.boards import Lane
from ..tasks.workflow import workflow_of
from .columns import Columns
from .conditions import Test, holding, read_group


def check_rule(where: Mapping[str, Any] | None, columns: Columns) -> None:
    """Raises RuleError where tasks cannot fall into a lane by a condition: it is the same for every reader, so it asks neither
    who reads nor what anything costs, and it does not ask for lanes."""
    group = read_group(where)
    for clause in group.clauses:
        several = clause.value if isinstance(clause.value, list | tuple) else [clause.value]
        column = columns.columns.get(clause.key)
        if (
            clause.key.startswith(PREFIX)
            or clause.key == "lane"
            or (column is not None and not column.asked)
            or {ME, MY_TEAM} & {one for one in several if isinstance(one, str)}
        ):
            raise RuleError(
                "The rule of a lane asks neither for cost, nor for lanes, nor who reads it. Choose other clauses.", "where"
            )
    holding(group, columns, Viewer(""))


def _tests(lanes: Sequence[Lane], columns: Columns) -> list[tuple[Lane, Test]]:
    """The lanes that have a rule, in order; one that cannot be read any more takes nothing."""
    found = []
    for lane in lanes:
        try:
            check_rule(lane.where, columns)
            group = read_group(lane.where)
        except RuleError:
            continue
        if group.parts:
            found.append((lane, holding(group, columns, Viewer(""))))
    return found


def lanes_of_tasks(plan: Plan, columns: Columns, *, by_hand: bool = True) -> dict[str, str]:
    """By task the lane in which it lies: that into which it was put by hand, else the first whose rule holds for it.

    Only lanes of the workflow through which it goes are asked; a task that no lane takes is not named. Grows with tasks × lanes.

    Args:
        columns: of the plan, without lanes.
        by_hand: False for where the rules alone would put each.
    """
    project = plan.project
    if not project.lanes:
        return {}
    tests = _tests(project.lanes, columns)
    by_id = {lane.id: lane for lane in project.lanes} if by_hand else {}
    ways = {state.id: workflow_of(project, state.id) for state in project.states}
    found: dict[str, str] = {}
    for task_id, row in plan.rows.items():
        if row.is_summary:
            continue
        lane = _lane_of(row, ways.get(row.state_id), by_id, tests)
        if lane is not None:
            found[task_id] = lane
    return found


def _lane_of(row: Row, workflow: str | None, by_id: Mapping[str, Lane], tests: Sequence[tuple[Lane, Test]]) -> str | None:
    by_hand = by_id.get(row.task.lane_id or "")
    if by_hand is not None and by_hand.workflow == workflow:
        return by_hand.id
    return next((lane.id for lane, test in tests if lane.workflow == workflow and test(row)), None)
