"""Checks of a plan's soundness: what makes its dates worth less than they look, and what mends it."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

from ..tasks.model import OPEN_CLASSES, Link
from .plan import Plan, Row


@dataclass(frozen=True, slots=True)
class Check:
    """One check and the tasks concerned.

    Attributes:
        kind: stable; names the check.
        says: what is wrong, and why it matters.
        fix: what mending does, in words; empty where only a person can.
    """

    kind: str
    title: str
    says: str
    fix: str
    tasks: list[str]


Edit = dict[str, Any]


def check_plan(plan: Plan, longest_days: float = 20) -> list[Check]:
    """Every check in the order in which it is worth looking, those that find nothing included.

    Args:
        longest_days: working days; a task that lasts longer is hard to judge while it runs.
    """

    def concerned(kind: str, find: _Find) -> list[str]:
        found = _long(plan, longest_days) if kind == "long" else find(plan)
        return sorted(found, key=lambda one: plan.tasks[one].number)

    return [
        Check(kind, title.format(longest_days), says, fix, concerned(kind, find)) for kind, title, says, fix, find, _ in _CHECKS
    ]


def mend(plan: Plan, kind: str, task_id: str) -> Edit | None:
    """The fields that mend what a check found at a task; None where only a person can."""
    for name, _, _, _, _, how in _CHECKS:
        if name == kind and how is not None:
            return how(plan, task_id)
    return None


def _open_leaves(plan: Plan) -> Iterator[Row]:
    return (row for row in plan.leaves() if row.state_class in OPEN_CLASSES)


def _linked(plan: Plan) -> tuple[set[str], set[str]]:
    """The tasks that something waits for, and those that wait; a link on a summary task counts for all below it."""
    before: set[str] = set()
    after: set[str] = set()
    for task in plan.tasks.values():
        if task.deleted_at is not None:
            continue
        for link in task.waits_for:
            if link.from_id in plan.rows:
                after |= {task.id, *plan.outline.below(task.id)}
                before |= {link.from_id, *plan.outline.below(link.from_id)}
    return before, after


def _no_predecessor(plan: Plan) -> Iterator[str]:
    _, waiting = _linked(plan)
    first = min((row.start for row in _open_leaves(plan) if row.start), default=None)
    for row in _open_leaves(plan):
        dated = row.start is not None and row.state_class == "queued"
        if dated and row.task.id not in waiting and row.start != first:
            yield row.task.id


def _no_successor(plan: Plan) -> Iterator[str]:
    waited_for, _ = _linked(plan)
    last = plan.schedule.finish
    for row in _open_leaves(plan):
        index = plan.schedule.net.index.get(row.task.id)
        if index is not None and row.finish and row.task.id not in waited_for and plan.schedule.finishes[index] != last:
            yield row.task.id


def _fighting_pins(plan: Plan) -> Iterator[str]:
    return iter(dict.fromkeys(one.task for one in plan.schedule.conflicts() if one.kind == "link_broken_by_pin"))


def _negative_slack(plan: Plan) -> Iterator[str]:
    return (row.task.id for row in _open_leaves(plan) if row.slack is not None and row.slack < 0)


def _long(plan: Plan, longest_days: float = 20) -> Iterator[str]:
    for row in _open_leaves(plan):
        if row.duration is not None and row.duration > longest_days * row.day_minutes:
            yield row.task.id


def _leads(plan: Plan) -> Iterator[str]:
    return (row.task.id for row in _open_leaves(plan) if any(link.lag < 0 for link in row.task.waits_for))


def _finished_without_date(plan: Plan) -> Iterator[str]:
    return (row.task.id for row in plan.leaves() if row.state_class == "finished" and row.task.actual_finish is None)


def _undated(plan: Plan) -> Iterator[str]:
    for row in _open_leaves(plan):
        above = row.task.parent_id
        if row.finish is None and row.start is None and above is not None and plan.rows[above].finish is not None:
            yield row.task.id


def _links_on_summaries(plan: Plan) -> Iterator[str]:
    for task in plan.tasks.values():
        if task.id not in plan.rows:
            continue
        ends = [link.from_id for link in task.waits_for if link.from_id in plan.rows]
        if ends and (plan.outline.is_summary(task.id) or any(plan.outline.is_summary(one) for one in ends)):
            yield task.id


def _unpin(plan: Plan, task_id: str) -> Edit:
    return {"constraint_type": "asap", "constraint_at": None}


def _without_leads(plan: Plan, task_id: str) -> Edit:
    links = plan.tasks[task_id].waits_for
    return {"waits_for": tuple(Link(one.from_id, one.type, max(0, one.lag), one.elapsed and one.lag > 0) for one in links)}


def _date_finish(plan: Plan, task_id: str) -> Edit | None:
    finish = plan.tasks[task_id].finish
    return {"actual_finish": min(finish, plan.now)} if finish else None


def _one_day(plan: Plan, task_id: str) -> Edit:
    return {"duration": plan.calendar.day_minutes}


_Find = Callable[[Plan], Iterator[str]]
_Mend = Callable[[Plan, str], Edit | None]
_CHECKS: tuple[tuple[str, str, str, str, _Find, _Mend | None], ...] = (
    ("negative_slack", "Dates that cannot be met", "What must follow is due sooner than these can be done.", "", _negative_slack, None),
    ("fighting_pins", "Pins that fight links", "A date set by hand holds the task before what it waits for is done.",
     "Take the pin off, so that its links find its dates", _fighting_pins, _unpin),
    ("no_predecessor", "Waits for nothing", "It starts with the project, or on a day set by hand, and no delay elsewhere will move it.", "",
     _no_predecessor, None),
    ("no_successor", "Nothing waits for it", "However late it is, no other date will show it.", "", _no_successor, None),
    ("leads", "Leads", "It begins before what it waits for is done; two tasks in a row say it more clearly.",
     "Let it wait for the end", _leads, _without_leads),
    ("long", "Longer than {:g} days", "A long task is hard to judge while it runs. Split it into parts that end.", "",
     _long, None),
    ("undated", "Undated under dated ones", "The dates above it do not count it.", "Let it last a day", _undated, _one_day),
    ("finished_without_date", "Finished without a date", "When it was done is not written down.",
     "Take its planned finish", _finished_without_date, _date_finish),
    ("links_on_summaries", "Links to summary tasks", "Which of the tasks below is waited for cannot be seen.", "",
     _links_on_summaries, None),
)  # fmt: skip
