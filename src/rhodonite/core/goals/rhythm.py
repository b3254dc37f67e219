"""When a progress note is due, and what a period is called."""

from __future__ import annotations

from calendar import monthrange
from datetime import date, timedelta

from ..common.dates import say_day
from .model import Goal, Rhythm

_MONTHS: dict[Rhythm, int] = {"monthly": 1, "quarterly": 3}
_DAYS: dict[Rhythm, int] = {"weekly": 7, "fortnightly": 14}


def after(day: date, rhythm: Rhythm) -> date:
    """The day on which the next note is due after one on a day; a month later on its last day where it has fewer.

    >>> after(date(2027, 1, 31), "monthly")
    datetime.date(2027, 2, 28)
    """
    if rhythm in _DAYS:
        return day + timedelta(days=_DAYS[rhythm])
    months = day.year * 12 + day.month - 1 + _MONTHS[rhythm]
    year, month = divmod(months, 12)
    return date(year, month + 1, min(day.day, monthrange(year, month + 1)[1]))


def next_due(goal: Goal, noted: date | None) -> date | None:
    """When the next progress note of a goal is due; None where none is asked for: no rhythm, or it was closed.

    Args:
        noted: the day of the latest note that judges it.
    """
    if goal.rhythm is None or not goal.is_open:
        return None
    return after(max(noted or goal.at.date(), goal.first), goal.rhythm)  # nothing is due from before it was set


def is_due(due: date | None, today: date) -> bool:
    """True where the day has come on which something is due."""
    return due is not None and due <= today


def say_period(first: date, last: date) -> str:
    """What a period is called: ``first quarter of 2027``, ``second half of 2027``, ``2027``, else its days.

    >>> say_period(date(2027, 1, 1), date(2027, 6, 30))
    'first half of 2027'
    """
    year = first.year
    ends_month = (last + timedelta(days=1)).day == 1
    if first.day == 1 and ends_month and last.year == year:
        months = last.month - first.month + 1
        if months == 12:
            return str(year)
        if months == 6 and first.month in {1, 7}:
            return f"{'first' if first.month == 1 else 'second'} half of {year}"
        if months == 3 and first.month % 3 == 1:
            return f"{('first', 'second', 'third', 'fourth')[first.month // 3]} quarter of {year}"
    return f"{say_day(first)} {year} to {say_day(last)} {last.year}"
