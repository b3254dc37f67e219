"""Working time: a week of intervals with exceptions by date, and arithmetic on it in whole minutes.

With W(t) the number of working minutes before t, adding a duration d to a start s gives the earliest t with
W(t) = W(s) + d. W is kept as minutes accumulated by day, so a conversion costs one binary search.
"""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterable, Sequence
from datetime import date, datetime, time, timedelta
from itertools import pairwise

from .errors import RuleError
from .model import CalendarException

MINUTES_A_DAY = 24 * 60
WEEKDAYS = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
EPOCH = date(1970, 1, 1).toordinal()
Hours = tuple[tuple[int, int], ...]
_BLOCK = 512
# A calendar may be closed for long, but not for ever: past this many days without work, adding time is refused.
_LONGEST_REST = 4000


def minute_of(at: datetime) -> int:
    """Whole minutes from 1970-01-01 00:00 to a naive local datetime."""
    return (at.toordinal() - EPOCH) * MINUTES_A_DAY + at.hour * 60 + at.minute


def datetime_of(minute: int) -> datetime:
    """The naive local datetime of a minute number; the inverse of ``minute_of``."""
    day, rest = divmod(minute, MINUTES_A_DAY)
    return datetime.fromordinal(EPOCH + day) + timedelta(minutes=rest)


def read_hours(pairs: Iterable[Sequence[str]], where: str = "week") -> Hours:
    """Read intervals such as ``[["09:00", "13:00"], ["14:00", "17:30"]]`` into minutes of the day.

    Raises:
        RuleError: a time that cannot be read, an interval that ends before it starts, or two that overlap.
    """
    read: list[tuple[int, int]] = []
    for pair in pairs:
        try:
            start, end = (_minutes(text) for text in pair)
        except ValueError as error:
            raise RuleError(f"Write working hours as pairs of times such as 09:00 and 17:30 ({where}).", where) from error
        if end <= start:
            raise RuleError(f"Working hours must end after they start: {pair[0]} to {pair[1]} does not.", where)
        read.append((start, end))
    read.sort()
    for (_, before), (after, _) in pairwise(read):
        if after < before:
            raise RuleError("Two intervals of working hours overlap. Join them into one.", where)
    return tuple(read)


def _minutes(text: str) -> int:
    if text == "24:00":
        return MINUTES_A_DAY
    at = time.fromisoformat(text)
    return at.hour * 60 + at.minute


def write_hours(hours: Hours) -> list[list[str]]:
    """The inverse of ``read_hours``."""
    return [[f"{a // 60:02}:{a % 60:02}", f"{b // 60:02}:{b % 60:02}"] for a, b in hours]


class WorkingCalendar:
    """A week of working intervals with exceptions.

    Args:
        week: seven tuples of (start, end) minutes of the day, Monday first.
        exceptions: days that differ; a later one wins over an earlier one.

    Raises:
        RuleError: the week and the exceptions hold no working time at all.
    """

    def __init__(self, week: Sequence[Hours], exceptions: Iterable[CalendarException] = ()) -> None:
        self.week: tuple[Hours, ...] = tuple(tuple(hours) for hours in week)
        self.exceptions = tuple(exceptions)
        if len(self.week) != len(WEEKDAYS):
            raise RuleError("A working week has seven days.", "week")
        if not any(self.week):
            raise RuleError("A calendar needs working time on at least one weekday. Add hours to a day.", "week")
        self._special: dict[int, Hours] = {}
        for exception in self.exceptions:
            first, last = exception.first.toordinal(), exception.last.toordinal()
            if last < first:
                raise RuleError(f"The exception {exception.name!r} ends before it starts.", "exceptions")
            if last - first > _LONGEST_REST:
                raise RuleError(f"The exception {exception.name!r} is longer than ten years.", "exceptions")
            self._special.update(dict.fromkeys(range(first, last + 1), exception.hours))
        totals = [sum(b - a for a, b in hours) for hours in self.week]
        worked = [total for total in totals if total]
        self.day_minutes = max(worked, key=worked.count)
        """The usual daily working time: what people mean by a day."""
        self._totals = totals
        # _sums[i] is the working time from the first held day up to the start of held day i.
        self._origin = EPOCH + 18000
        self._sums = [0]

    def hours(self, day: date) -> Hours:
        """The working intervals of one day, as minutes of the day."""
        return self._hours(day.toordinal())

    def is_working_day(self, day: date) -> bool:
        """True where the day has any working time."""
        return bool(self.hours(day))

    def _hours(self, ordinal: int) -> Hours:
        special = self._special.get(ordinal)
        return self.week[(ordinal - 1) % 7] if special is None else special

    def _day_total(self, ordinal: int) -> int:
        special = self._special.get(ordinal)
        return self._totals[(ordinal - 1) % 7] if special is None else sum(b - a for a, b in special)

    def _hold(self, ordinal: int) -> None:
        """Extend the accumulated sums so that they cover this day."""
        if ordinal < self._origin:
            first = ordinal - _BLOCK
            sums = [0]
            for day in range(first, self._origin):
                sums.append(sums[-1] + self._day_total(day))
            offset = sums.pop()
            self._sums = sums + [offset + value for value in self._sums]
            self._origin = first
        while ordinal - self._origin >= len(self._sums) - 1:
            start = self._origin + len(self._sums) - 1
            for day in range(start, start + _BLOCK):
                self._sums.append(self._sums[-1] + self._day_total(day))

    def worked_before(self, minute: int) -> int:
        """W(t): working minutes before t, counted from an origin that may move; use differences only."""
        day, rest = divmod(minute, MINUTES_A_DAY)
        ordinal = EPOCH + day
        self._hold(ordinal)
        done = self._sums[ordinal - self._origin]
        for start, end in self._hours(ordinal):
            if rest <= start:
                break
            done += min(rest, end) - start
        return done

    def between(self, start: int, end: int) -> int:
        """Working minutes from one minute number to another; negative where the second lies before the first."""
        self._hold(EPOCH + start // MINUTES_A_DAY)
        self._hold(EPOCH + end // MINUTES_A_DAY)
        return self.worked_before(end) - self.worked_before(start)

    def add(self, start: int, duration: int) -> int:
        """The earliest minute t with W(t) = W(start) + duration, for a duration of one minute or more.

        A negative duration counts back to the latest t with W(t) = W(start) - |duration|. A duration of nothing
        gives the start itself.
        """
        if duration == 0:
            return start
        return self._back(start, -duration) if duration < 0 else self._forward(start, duration)

    def _forward(self, start: int, duration: int) -> int:
        self._hold(EPOCH + start // MINUTES_A_DAY)
        wanted = self.worked_before(start) + duration
        self._reach(wanted)
        # The first held day whose end has all the wanted time behind it.
        index = bisect_left(self._sums, wanted) - 1
        rest = wanted - self._sums[index]
        ordinal = self._origin + index
        for begin, end in self._hours(ordinal):
            if rest <= end - begin:
                return (ordinal - EPOCH) * MINUTES_A_DAY + begin + rest
            rest -= end - begin
        raise AssertionError("the sums and the hours of a day disagree")

    def _reach(self, wanted: int) -> None:
        idle = 0
        while self._sums[-1] < wanted:
            before = self._sums[-1]
            self._hold(self._origin + len(self._sums) - 1)
            idle = idle + _BLOCK if self._sums[-1] == before else 0
            if idle > _LONGEST_REST:
                raise RuleError("The calendar has no working time for ten years. Shorten its exceptions.", "calendar")

    def _back(self, start: int, duration: int) -> int:
        ordinal = EPOCH + start // MINUTES_A_DAY
        self._hold(ordinal)
        idle = 0
        while self.worked_before(start) < duration:
            before = self.worked_before(start)
            self._hold(self._origin - 1)
            idle = idle + _BLOCK if self.worked_before(start) == before else 0
            if idle > _LONGEST_REST:
                raise RuleError("The calendar has no working time for ten years. Shorten its exceptions.", "calendar")
        wanted = self.worked_before(start) - duration
        # The last minute with that sum: skip the days without work that follow.
        index = bisect_left(self._sums, wanted + 1) - 1
        rest = wanted - self._sums[index]
        ordinal = self._origin + index
        for begin, end in self._hours(ordinal):
            if rest < end - begin:
                return (ordinal - EPOCH) * MINUTES_A_DAY + begin + rest
            rest -= end - begin
        raise AssertionError("the sums and the hours of a day disagree")

    def next_working(self, minute: int) -> int:
        """The first minute at or after this one at which work goes on: where a start may stand."""
        return self._back(self._forward(minute, 1), 1) if not self._works_at(minute) else minute

    def _works_at(self, minute: int) -> bool:
        day, rest = divmod(minute, MINUTES_A_DAY)
        return any(start <= rest < end for start, end in self._hours(EPOCH + day))

    def last_working(self, minute: int) -> int:
        """The latest minute at or before this one at which work ends or goes on: where a finish may stand."""
        day, rest = divmod(minute, MINUTES_A_DAY)
        if any(start < rest <= end for start, end in self._hours(EPOCH + day)):
            return minute
        return self._forward(self._back(minute, 1), 1)

    def start_of_day(self, day: date) -> datetime:
        """When work opens on this day, or on the next day worked."""
        return datetime_of(self.next_working((day.toordinal() - EPOCH) * MINUTES_A_DAY))

    def end_of_day(self, day: date) -> datetime:
        """When work closes on this day, or on the last day worked before it."""
        return datetime_of(self.last_working((day.toordinal() + 1 - EPOCH) * MINUTES_A_DAY))

    def add_to(self, start: datetime, duration: int) -> datetime:
        """``add`` on datetimes. A duration of nothing gives the start itself."""
        return datetime_of(self.add(minute_of(start), duration))

    def minutes_between(self, start: datetime, end: datetime) -> int:
        """``between`` on datetimes."""
        return self.between(minute_of(start), minute_of(end))

    def days_between(self, start: datetime, end: datetime) -> float:
        """Working days from one datetime to another, in the calendar's usual day."""
        return self.minutes_between(start, end) / self.day_minutes


_OFFICE: Hours = ((9 * 60, 13 * 60), (14 * 60, 17 * 60 + 30))
OFFICE_WEEK: tuple[Hours, ...] = (_OFFICE,) * 5 + ((),) * 2
"""The week a new project starts with: Monday to Friday, 09:00 to 13:00 and 14:00 to 17:30."""
