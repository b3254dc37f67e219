"""The horizon: the strip of time above every lens, with the tasks at work in each week."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from ..schedule.plan import Row
from ..tasks.model import OPEN_CLASSES

LONGEST = 260
"""Weeks: a horizon is five years long at most."""


@dataclass(frozen=True, slots=True)
class Week:
    """One week, from its Monday: tasks at work in it, those of them that finish in it, and those late."""

    monday: date
    tasks: int
    finishing: int
    late: int


@dataclass(frozen=True, slots=True)
class Horizon:
    """Weeks from the first dated work to the last, today always within."""

    weeks: list[Week]
    milestones: list[Row]


def monday_of(day: date) -> date:
    """The Monday of a day's week."""
    return day - timedelta(days=day.weekday())


def _week_of(day: date) -> int:
    """The number of a day's week: weeks begin on Mondays, as the first day of the calendar was one."""
    return (day.toordinal() - 1) // 7


def horizon(rows: Iterable[Row], now: datetime) -> Horizon:
    """Count tasks by week. Summary tasks and dropped ones do not count; an undated task has no week."""
    dated: list[tuple[Row, date, date]] = []
    milestones: list[Row] = []
    for row in rows:
        start, finish = row.start or row.finish, row.finish or row.start
        if start is None or finish is None or row.is_summary or row.state_class == "dropped":
            continue
        if row.task.kind == "milestone":
            milestones.append(row)
        else:
            dated.append((row, start.date(), finish.date()))
    moments = [now.date()] + [_day(row) for row in milestones]
    first = monday_of(min(moments + [begin for _, begin, _ in dated]))
    first_week = _week_of(first)
    last_week = _week_of(max(moments + [end for _, _, end in dated]))
    count = min(last_week - first_week + 3, LONGEST)
    tasks, finishing, late = [0] * (count + 1), [0] * count, [0] * count
    for row, first_day, last_day in dated:
        begin, end = _week_of(first_day) - first_week, _week_of(last_day) - first_week
        if begin >= count:
            continue
        tasks[begin] += 1  # a difference array: sums up to the tasks at work
        tasks[min(end + 1, count)] -= 1
        if end < count:
            finishing[end] += 1
            late[end] += row.late_days > 0 and row.state_class in OPEN_CLASSES
    at_work, weeks = 0, []
    for index in range(count):
        at_work += tasks[index]
        weeks.append(Week(first + timedelta(weeks=index), at_work, finishing[index], late[index]))
    milestones.sort(key=lambda row: (_day(row), row.task.number))
    return Horizon(weeks, milestones)


def _day(row: Row) -> date:
    at = row.finish or row.start
    assert at is not None
    return at.date()
