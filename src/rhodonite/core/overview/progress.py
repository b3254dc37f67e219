"""Done against plan over time, from what the journal recorded."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from ..schedule.plan import Plan, Row


@dataclass(frozen=True, slots=True)
class PercentChange:
    """One change of a task's percent done."""

    task_id: str
    at: datetime
    percent: int


@dataclass(frozen=True, slots=True)
class Point:
    """One day of the curve, both in percent of the work there is now; ``done`` is None for days to come."""

    day: date
    planned: float
    done: float | None


MOST_POINTS = 120


def done_against_plan(plan: Plan, changes: Iterable[PercentChange]) -> list[Point]:
    """Two curves over the days of a plan: the work that its dates say, and the work that was done.

    Planned: each task counts in step with working time between its planned start and finish. Done: each task's
    last recorded percent by the end of that day. Both are weighted as percent done is (by effort where any task
    has effort, else by duration) over the tasks that stand in the plan now.

    Args:
        plan: as it stands, with its ``now``.
        changes: every recorded change of percent, oldest first.
    """
    rows = [row for row in plan.leaves() if row.state_class != "dropped" and row.task.kind != "milestone"]
    by_effort = any(row.effort for row in rows)
    weights = {row.task.id: _weight(row, by_effort, plan.calendar.day_minutes) for row in rows}
    whole = sum(weights.values())
    dated = [row for row in rows if row.start and row.finish]
    if not whole or not dated:
        return []
    first = min(row.start for row in dated).date()  # type: ignore[type-var, union-attr]
    last = max(max(row.finish for row in dated).date(), plan.now.date())  # type: ignore[type-var, union-attr]
    every = max(1, (last - first).days // MOST_POINTS + 1)
    days = [first + timedelta(days=n) for n in range(-1, (last - first).days + every, every)]
    if plan.now.date() not in days and first <= plan.now.date() <= last:
        days = sorted([*days, plan.now.date()])
    done = _done_by_day(days, list(changes), weights, plan.now.date())
    planned = _planned_by_day(days, dated, weights, plan)
    return [
        Point(day, 100 * p / whole, None if day > plan.now.date() else 100 * d / whole)
        for day, p, d in zip(days, planned, done, strict=True)
    ]


def _weight(row: Row, by_effort: bool, day_minutes: int) -> int:
    return (row.effort or 0) if by_effort else (row.duration or day_minutes)


def _done_by_day(days: list[date], changes: list[PercentChange], weights: dict[str, int], today: date) -> list[float]:
    percents: dict[str, int] = {}
    total, index, sums = 0.0, 0, []
    for day in days:
        while index < len(changes) and changes[index].at.date() <= min(day, today):
            change = changes[index]
            index += 1
            if change.task_id in weights:
                total += weights[change.task_id] * (change.percent - percents.get(change.task_id, 0)) / 100
                percents[change.task_id] = change.percent
        sums.append(total)
    return sums


def _planned_by_day(days: list[date], rows: list[Row], weights: dict[str, int], plan: Plan) -> list[float]:
    """Each task is a ramp in working time; ramps are summed by their ends, in one sweep over the days."""
    calendar = plan.calendar
    clock = [calendar.minutes_between(calendar.start_of_day(days[0]), _evening(day)) for day in days]
    origin = calendar.start_of_day(days[0])
    events: list[tuple[float, float, float]] = []  # (working minute, change of slope, jump)
    for row in rows:
        assert row.start is not None
        assert row.finish is not None
        begin, end = calendar.minutes_between(origin, row.start), calendar.minutes_between(origin, row.finish)
        weight = weights[row.task.id]
        if end > begin:
            slope = weight / (end - begin)
            events += [(begin, slope, 0.0), (end, -slope, 0.0)]
        else:
            events.append((end, 0.0, float(weight)))
    events.sort()
    at, slope, level, index, sums = 0.0, 0.0, 0.0, 0, []
    for minute in clock:
        while index < len(events) and events[index][0] <= minute:
            when, change, jump = events[index]
            level += slope * (when - at) + jump
            at, slope = when, slope + change
            index += 1
        level += slope * (minute - at)
        at = minute
        sums.append(level)
    return sums


def _evening(day: date) -> datetime:
    return datetime(day.year, day.month, day.day) + timedelta(days=1)
