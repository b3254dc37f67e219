"""How far a plan reaches: the bounds of dates, durations and counts, so that nothing that is sent can take all memory or
all time. Whatever comes in is held to them; what lies in the tables already is read without harm."""

from __future__ import annotations

import re
from datetime import date, datetime
from typing import TypeVar

from .errors import RuleError

FIRST_DAY = date(1970, 1, 1)
LAST_DAY = date(2200, 12, 31)
MINUTES_A_DAY = 24 * 60

LONGEST_DURATION = 3653 * MINUTES_A_DAY
"""Minutes of a duration or a lag: ten years on the clock, some 45 years of working days."""
MOST_EFFORT = 1_000_000 * 60
"""Minutes of effort of one task: a million hours."""
MOST_BOOKINGS = 100
"""Bookings of one task."""
MOST_BOOKED_DAYS = 1_000
"""Days for which the hours of a booking are set by hand."""
MOST_ABSENCES = 400
"""Absences of one person, and those of the past that are kept with them."""
MOST_EXCEPTIONS = 2_000
"""Exceptions of a working calendar; a dozen years of public holidays are some 250."""
MOST_EXCEPTION_DAYS = 20_000
MOST_INTERVALS = 12
"""Intervals of work in one day."""
MOST_LINKS_OF_A_TASK = 200
MOST_LINKS = 40_000
"""Links in one project."""
MOST_TASKS = 50_000
"""Living tasks in one project."""
MOST_PEOPLE = 500
"""People named in one list: helpers of a task, readers of a sheet, a team."""
LONGEST_TYPED = 500
"""Characters of what is typed as a date, a duration or a number."""

Moment = TypeVar("Moment", date, datetime)


def check_day(day: Moment, field: str | None = None) -> Moment:
    """A day or moment that a plan can hold.

    Raises:
        RuleError: it lies before 1970 or after 2200.
    """
    at = day.date() if isinstance(day, datetime) else day
    if not FIRST_DAY <= at <= LAST_DAY:
        raise RuleError(f"Choose a day from {FIRST_DAY.year} to {LAST_DAY.year}.", field)
    return day


def check_length(minutes: int, field: str | None = None) -> int:
    """Minutes of a duration or lag that a plan can hold; less than nothing for a lead. Raises RuleError where they are too many."""
    if abs(minutes) > LONGEST_DURATION:
        raise RuleError("That is longer than a plan can hold. Ten years on the clock are the most.", field)
    return minutes


_ID = re.compile(r"[0-9a-fA-F]{8}(-[0-9a-fA-F]{4}){3}-[0-9a-fA-F]{12}")


def is_id(value: object) -> bool:
    """True for a text that has the form of a UUID."""
    return isinstance(value, str) and _ID.fullmatch(value) is not None
