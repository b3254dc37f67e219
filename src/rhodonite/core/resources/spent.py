"""What of bookings was worked already, and what is left of them: the past is what people entered, the rest lies ahead."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime, time
from types import MappingProxyType

from ..tasks.model import OPEN_CLASSES, Task

ByDay = Mapping[int, int]
"""Minutes by the ordinal of the day."""
Spent = Mapping[str, Mapping[str, ByDay]]
"""By task and person the minutes that were entered, by day."""
NOTHING: Mapping[str, ByDay] = MappingProxyType({})


def has_begun(task: Task, state_class: str, *, entered: bool) -> bool:
    """True where work on an open task has begun, or hours were entered on it."""
    return state_class in OPEN_CLASSES and (state_class == "active" or task.actual_start is not None or entered)


def left_of(task: Task, spent: Mapping[str, int]) -> dict[str, int]:
    """Minutes left of each labour booking: what is booked less what that person spent, never below nothing.

    Hours of people without a booking come off those of crews and roles, which enter none themselves, in their order.

    Args:
        spent: minutes by person.
    """
    booked = {one.who for one in task.bookings if one.of == "labour"}
    besides = sum(minutes for who, minutes in spent.items() if who not in booked)
    left: dict[str, int] = {}
    for one in task.bookings:
        if one.of != "labour":
            continue
        taken = min(one.minutes, besides) if one.resource else spent.get(one.who, 0)
        besides -= taken if one.resource else 0
        left[one.who] = max(0, one.minutes - taken)
    return left


def ahead(span: tuple[datetime, datetime], now: datetime) -> tuple[datetime, datetime]:
    """The part of a task's dates in which what is left lies: from now on; the rest of today where its finish has passed."""
    start = max(span[0], now)
    return start, span[1] if span[1] > start else datetime.combine(start.date(), time.max)
