"""What holds an item up, at the bottom of the tree: the task that has to move first."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime

from ..common.calendars import datetime_of
from ..common.dates import say_day
from ..schedule.plan import Plan, Row
from ..tasks.model import OPEN_CLASSES

LONGEST_CHAIN = 1000


@dataclass(frozen=True, slots=True)
class Blocker:
    """The task that holds an item up.

    Attributes:
        path: the titles of what stands between, from the item down to the task; empty where it is the item itself.
        why: in words: what it is held by, how late it is, or when it is expected.
    """

    row: Row
    path: tuple[str, ...]
    why: str


def forecasts(plan: Plan) -> dict[str, datetime]:
    """By task when it is expected to finish, from what has been done by now; only those that are dated."""
    forecast = plan.forecast
    return {
        task.id: datetime_of(finish)
        for task, finish in zip(forecast.plan.tasks, forecast.finishes, strict=True)
        if finish is not None
    }


def what_holds_up(plan: Plan, item_id: str, expected: Mapping[str, datetime]) -> Blocker | None:
    """The task that decides when an item is finished, at the bottom of the tree and at the beginning of the chain.

    Of the open tasks under the item that which is expected to finish last; from there back to the unfinished task that it waits
    for, of several again the one that is expected last, until one waits for nothing that is not finished. What is held goes
    before what is only expected late: of the open tasks under the item a held one is begun with.

    Args:
        expected: by task when it is expected to finish.

    Returns:
        None where the item is finished or dropped, or nothing under it is open.
    """
    row = plan.rows.get(item_id)
    if row is None or row.state_class not in OPEN_CLASSES:
        return None
    leaves = [plan.rows[one] for one in [item_id, *plan.outline.below(item_id)] if not plan.rows[one].is_summary]
    open_leaves = [one for one in leaves if one.state_class in OPEN_CLASSES]
    if not open_leaves:
        return None
    held = [one for one in open_leaves if one.held]
    at = _latest(held or open_leaves, expected)
    at = _first_of_chain(plan, at, expected)
    return Blocker(at, _path(plan, item_id, at), _why(at, plan, expected))


def _latest(rows: list[Row], expected: Mapping[str, datetime]) -> Row:
    return max(rows, key=lambda row: (expected.get(row.task.id) or row.finish or datetime.min, -row.task.number))


def _first_of_chain(plan: Plan, at: Row, expected: Mapping[str, datetime]) -> Row:
    seen = {at.task.id}
    for _ in range(LONGEST_CHAIN):
        if at.task.held_by_id in plan.rows and at.task.held_by_id not in seen:
            at = plan.rows[at.task.held_by_id or ""]
        else:
            before = [plan.rows[link.from_id] for link in at.task.waits_for if link.from_id in plan.rows]
            waited = [one for one in before if one.state_class in OPEN_CLASSES and not one.is_summary and one.task.id not in seen]
            if not waited:
                return at
            at = _latest(waited, expected)
        seen.add(at.task.id)
    return at


def _path(plan: Plan, item_id: str, at: Row) -> tuple[str, ...]:
    """The titles from under the item down to the task; from the top where it stands elsewhere."""
    above = plan.outline.ancestors(at.task.id)
    if item_id in above:
        above = above[: above.index(item_id)]
    return tuple(plan.rows[one].task.title for one in reversed(above))


def _why(row: Row, plan: Plan, expected: Mapping[str, datetime]) -> str:
    if row.held:
        return f"held: {row.held}"
    if row.late_days:
        return f"{row.late_days} d late"
    at = expected.get(row.task.id) or row.finish
    if at is None:
        return "not dated"
    return f"expected {say_day(at.date(), plan.now.date())}"
