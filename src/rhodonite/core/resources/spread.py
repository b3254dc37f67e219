"""How the hours of a booking lie over the days of its task."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime

from ..common.bounds import MINUTES_A_DAY
from ..common.calendars import Hours, WorkingCalendar
from ..tasks.model import Booking, BookingShape
from .capacity import Capacity

_LOOKS_AHEAD = 3700
"""Days within which the working days of hours set by day are looked for."""
_ALL_DAY: Hours = ((0, MINUTES_A_DAY),)


def spread(minutes: int, shape: BookingShape, common: Sequence[int]) -> list[int]:
    """Lay minutes over some days, in whole minutes that sum to them.

    Let C be the common minutes of all days and c of those up to a day's end. Of the booking there lies by then: even
    c/C; falling (weights from 2 to 0) 2c/C - (c/C)^2; rising (c/C)^2. What rounding down leaves goes to the earliest days.

    Args:
        minutes: of the booking.
        shape: ``even``, ``front`` or ``back``.
        common: the minutes that person and task have in common, by day; not nothing on all of them.

    Returns:
        The booking's minutes by day, as many as ``common`` has.
    """
    whole = sum(common)
    laid: list[int] = []
    before = 0
    for some in common:
        after = before + some
        if shape == "even":
            laid.append(minutes * some // whole)
        elif shape == "back":
            laid.append(minutes * (after * after - before * before) // (whole * whole))
        else:
            laid.append(minutes * (2 * whole * some - after * after + before * before) // (whole * whole))
        before = after
    left = minutes - sum(laid)
    for index, some in enumerate(common):
        if left and some:
            laid[index] += 1
            left -= 1
    return laid


@dataclass(frozen=True, slots=True)
class Laid:
    """A booking over the days.

    Attributes:
        by_day: minutes by the ordinal of the day.
        outside: minutes that lie where person and task have no time in common.
    """

    by_day: dict[int, int]
    outside: int = 0


class Together:
    """The time that one person and the tasks of one calendar have in common."""

    def __init__(self, capacity: Capacity, task_hours: WorkingCalendar, *, elapsed: bool = False) -> None:
        self._capacity = capacity
        self._task_hours = task_hours
        self._elapsed = elapsed
        self._known: dict[tuple[int, int, int], int] = {}

    def days(self, start: datetime, finish: datetime) -> tuple[int, list[int]]:
        """The ordinal of the first day from a start to a finish, and the common minutes of each day."""
        first, last = start.toordinal(), finish.toordinal()
        begin, stop = start.hour * 60 + start.minute, finish.hour * 60 + finish.minute
        if first == last:
            return first, [self._within(first, begin, stop)]
        between = [self._within(ordinal, 0, MINUTES_A_DAY) for ordinal in range(first + 1, last)]
        return first, [self._within(first, begin, MINUTES_A_DAY), *between, self._within(last, 0, stop)]

    def lay(self, booking: Booking, start: datetime, finish: datetime) -> Laid:
        """A booking on a task that stands from a start to a finish. Where they have no minute in common it lies on the
        first day."""
        if booking.shape == "by_day":
            return self._lay_by_day(booking, start, finish)
        first, common = self.days(start, finish)
        if not any(common):
            return Laid({first: booking.minutes} if booking.minutes else {}, booking.minutes)
        laid = spread(booking.minutes, booking.shape, common)
        return Laid({first + n: minutes for n, minutes in enumerate(laid) if minutes})

    def _lay_by_day(self, booking: Booking, start: datetime, finish: datetime) -> Laid:
        first, last = start.toordinal(), finish.toordinal()
        by_day: dict[int, int] = {}
        outside, index = 0, 0
        for ordinal in range(first, first + _LOOKS_AHEAD):
            if index == len(booking.by_day):
                break
            if self._capacity.hours_on(ordinal):
                minutes = booking.by_day[index]
                index += 1
                if minutes:
                    by_day[ordinal] = minutes
                    outside += minutes if ordinal > last else 0
        left = sum(booking.by_day[index:])
        if left:
            by_day[first] = by_day.get(first, 0) + left
        return Laid(by_day, outside + left)

    def _within(self, ordinal: int, begin: int, stop: int) -> int:
        """The common minutes of a day from one minute of it to another: many tasks begin and end at the same."""
        key = (ordinal, begin, stop)
        found = self._known.get(key)
        if found is None:
            found = self._known[key] = self._count(ordinal, begin, stop)
        return found

    def _count(self, ordinal: int, begin: int, stop: int) -> int:
        mine = self._capacity.hours_on(ordinal)
        if not mine:
            return 0
        return sum(
            max(0, min(a_end, b_end, stop) - max(a_start, b_start, begin))
            for a_start, a_end in mine
            for b_start, b_end in self._of_task(ordinal)
        )

    def _of_task(self, ordinal: int) -> Hours:
        return _ALL_DAY if self._elapsed else self._task_hours.hours(date.fromordinal(ordinal))
