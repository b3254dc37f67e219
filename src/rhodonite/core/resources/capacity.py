"""Capacity: the working time for which a person or a crew can be booked."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from ..common.bounds import MINUTES_A_DAY
from ..common.calendars import EPOCH, CalendarException, Hours, WorkingCalendar, minute_of

FULL_SHARE = 100
"""In a hundred: all of the working day can be booked."""


@dataclass(frozen=True, slots=True)
class Absence:
    """Time in which a person cannot be booked: from a moment to another, local.

    Attributes:
        kind: leave, illness, training, or one that the organisation names.
        note: why, for those who may read it.
    """

    id: str
    person_id: str
    kind: str
    start: datetime
    end: datetime
    note: str = ""


class Capacity:
    """The working minutes for which somebody can be booked, after absences and their bookable share.

    Args:
        calendar: by which they work.
        share: of the working day that can be booked, in a hundred; what is left is for mail, meetings and the like.
        absences: any, in any order; they may overlap.
        first, last: the days from which and until which they can be booked; None: without end.
        people: how many work side by side, for a crew.

    Attributes:
        hours: the calendar less the absences. A conversion on it costs one binary search.
        away: from and to which moments they are absent.
    """

    def __init__(
        self,
        calendar: WorkingCalendar,
        share: int = FULL_SHARE,
        absences: Iterable[Absence] = (),
        first: date | None = None,
        last: date | None = None,
        people: float = 1,
    ) -> None:
        self.share = share
        self.people = people
        self.away = tuple((one.start, one.end) for one in absences)
        self.hours = without(calendar, self.away) if self.away else calendar
        self._first = 0 if first is None else (first.toordinal() - EPOCH) * MINUTES_A_DAY
        self._last = None if last is None else (last.toordinal() - EPOCH + 1) * MINUTES_A_DAY
        self._known: dict[int, int] = {}

    def minutes(self, start: datetime, end: datetime) -> int:
        """Bookable working minutes from one moment to another; whole, rounded down."""
        begin, stop = max(minute_of(start), self._first), minute_of(end)
        if self._last is not None:
            stop = min(stop, self._last)
        worked = self.hours.between(begin, stop) if stop > begin else 0
        return int(worked * self.share * self.people) // FULL_SHARE

    def on(self, ordinal: int) -> int:
        """Bookable minutes of one day, by its proleptic Gregorian ordinal."""
        found = self._known.get(ordinal)
        if found is None:
            worked = sum(end - start for start, end in self.hours_on(ordinal))
            found = self._known[ordinal] = int(worked * self.share * self.people) // FULL_SHARE
        return found

    def hours_on(self, ordinal: int) -> Hours:
        """The intervals of one day in which they work, as minutes of the day."""
        midnight = (ordinal - EPOCH) * MINUTES_A_DAY
        if midnight < self._first or (self._last is not None and midnight >= self._last):
            return ()
        return self.hours.hours(date.fromordinal(ordinal))


def without(calendar: WorkingCalendar, spans: Sequence[tuple[datetime, datetime]]) -> WorkingCalendar:
    """A calendar less some spans of time.

    Args:
        spans: from a moment to another; they may overlap, and lie where no work would be.
    """
    partly: dict[int, list[tuple[int, int]]] = defaultdict(list)
    closed: list[tuple[int, int]] = []
    for start, end in spans:
        first, last = start.toordinal(), (end - timedelta(microseconds=1)).toordinal()
        begin, stop = _of_day(start), _of_day(end) or MINUTES_A_DAY
        if first == last:
            partly[first].append((begin, stop))
            continue
        if begin:
            partly[first].append((begin, MINUTES_A_DAY))
            first += 1
        if stop < MINUTES_A_DAY:
            partly[last].append((0, stop))
            last -= 1
        if first <= last:
            closed.append((first, last))
    exceptions = [*calendar.exceptions]
    for ordinal, taken in partly.items():
        day = date.fromordinal(ordinal)
        exceptions.append(CalendarException(day, day, _less(calendar.hours(day), taken), "away"))
    exceptions += [CalendarException(date.fromordinal(a), date.fromordinal(b), (), "away") for a, b in closed]
    return WorkingCalendar(calendar.week, exceptions, calendar.name)


def in_common(one: WorkingCalendar, other: WorkingCalendar, name: str = "") -> WorkingCalendar | None:
    """The working time that two calendars have in common; None where no usual week has any."""
    week = [shared_hours(a, b) for a, b in zip(one.week, other.week, strict=True)]
    if not any(week):
        return None
    closed = [each for each in (*one.exceptions, *other.exceptions) if not each.hours]
    open_days = {
        date.fromordinal(ordinal)
        for each in (*one.exceptions, *other.exceptions)
        if each.hours
        for ordinal in range(each.first.toordinal(), each.last.toordinal() + 1)
    }
    partly = [CalendarException(day, day, shared_hours(one.hours(day), other.hours(day))) for day in sorted(open_days)]
    shut = [CalendarException(each.first, each.last, ()) for each in closed]
    # a day that is closed by one exception and opened by a later one of the same calendar is among the open days
    return WorkingCalendar(week, [*shut, *partly], name)


def shared_hours(one: Hours, other: Hours) -> Hours:
    """The time of a day that lies in both."""
    return tuple((max(a, c), min(b, d)) for a, b in one for c, d in other if min(b, d) > max(a, c))


def _of_day(at: datetime) -> int:
    return at.hour * 60 + at.minute


def _less(hours: Hours, taken: Iterable[tuple[int, int]]) -> Hours:
    left = list(hours)
    for begin, stop in taken:
        cut: list[tuple[int, int]] = []
        for start, end in left:
            cut += [(a, b) for a, b in ((start, min(end, begin)), (max(start, stop), end)) if b > a]
        left = cut
    return tuple(left)
