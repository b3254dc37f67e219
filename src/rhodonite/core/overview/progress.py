"""Done against plan over time, from what the journal recorded."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from ..schedule.plan import Plan, Row
from ..tasks.rollup import percent_done


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


@dataclass(slots=True)
class HowFar:
    """How far some work is, and how far it should be by its dates. Minutes, and percent-minutes of them that are done or planned.

    Attributes:
        dated_effort, dated_duration: of the work that has dates, by which alone something is planned.
        tasks, finished, late: counts.
    """

    effort: int = 0
    effort_done: int = 0
    duration: int = 0
    duration_done: int = 0
    dated_effort: int = 0
    effort_planned: int = 0
    dated_duration: int = 0
    duration_planned: int = 0
    tasks: int = 0
    finished: int = 0
    late: int = 0

    def add(self, other: HowFar) -> None:
        """Take in that of other work."""
        for name in HowFar.__slots__:
            setattr(self, name, getattr(self, name) + getattr(other, name))

    @property
    def percent(self) -> int:
        """Percent done, by ``percent_done``."""
        return percent_done(self)

    @property
    def planned(self) -> int | None:
        """Percent that should be done by now, weighted in the same way; None where nothing has dates."""
        if self.dated_effort:
            return self.effort_planned // self.dated_effort
        return self.duration_planned // self.dated_duration if self.dated_duration else None


def how_far(rows: Iterable[Row], plan: Plan) -> HowFar:
    """How far some work of a plan is; dropped work counts nowhere, milestones weigh nothing.

    By now each task should be as far as working time has passed between its start and finish.
    """
    found, calendar, now = HowFar(), plan.calendar, plan.now
    usual = calendar.day_minutes
    for row in rows:
        if row.state_class == "dropped":
            continue
        found.tasks += 1
        found.finished += row.state_class == "finished"
        found.late += row.late_days > 0
        task = row.task
        if task.kind == "milestone":
            continue
        effort, duration, percent = task.effort or 0, task.duration or usual, task.percent
        found.effort += effort
        found.effort_done += effort * percent
        found.duration += duration
        found.duration_done += duration * percent
        if row.start is None or row.finish is None:
            continue
        found.dated_effort += effort
        found.dated_duration += duration
        share = 0
        if row.finish <= now:
            share = 100
        elif row.start < now:
            length = calendar.minutes_between(row.start, row.finish)
            share = 100 * calendar.minutes_between(row.start, now) // length if length else 0
        found.effort_planned += effort * share
        found.duration_planned += duration * share
    return found


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
