"""Working time: a week of intervals with exceptions by date, and arithmetic on it in whole minutes.

With W(t) the number of working minutes before t, adding a duration d to a start s gives the earliest t with
W(t) = W(s) + d. W is kept as minutes accumulated by interval, so a conversion costs one binary search.
"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from functools import cached_property
from itertools import pairwise

from .bounds import FIRST_DAY, LAST_DAY, MINUTES_A_DAY, MOST_EXCEPTION_DAYS, MOST_EXCEPTIONS, MOST_INTERVALS
from .errors import RuleError

WEEKDAYS = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
EPOCH = date(1970, 1, 1).toordinal()
Hours = tuple[tuple[int, int], ...]
_ANCHOR = 20_000  # days after the epoch: in 2024
_BLOCK = 512
_LONGEST_EXCEPTION = 3660  # days
# The table of working time reaches ten years beyond the days that a plan can hold, and no further: what lies beyond is
# reckoned as its end, so that no number that was let in once can take all memory.
_FLOOR = FIRST_DAY.replace(year=FIRST_DAY.year - 10).toordinal()
_CEILING = LAST_DAY.replace(year=LAST_DAY.year + 10).toordinal()
_FIRST_MINUTE = (_FLOOR - EPOCH) * MINUTES_A_DAY
_LAST_MINUTE = (_CEILING - EPOCH) * MINUTES_A_DAY


@dataclass(frozen=True, slots=True)
class CalendarException:
    """Days on which a calendar differs: closed where ``hours`` is empty, else worked in those hours."""

    first: date
    last: date
    hours: tuple[tuple[int, int], ...] = ()
    name: str = ""


def minute_of(at: datetime) -> int:
    """Whole minutes from 1970-01-01 00:00 to a naive local datetime."""
    return (at.toordinal() - EPOCH) * MINUTES_A_DAY + at.hour * 60 + at.minute


def datetime_of(minute: int) -> datetime:
    """The naive local datetime of a minute number; the inverse of ``minute_of``, but that none lies beyond the calendars' table."""
    minute = min(max(minute, _FIRST_MINUTE), _LAST_MINUTE)
    day, rest = divmod(minute, MINUTES_A_DAY)
    return datetime.fromordinal(EPOCH + day) + timedelta(minutes=rest)


def read_hours(pairs: Iterable[Sequence[str]], where: str = "week") -> Hours:
    """Read intervals such as ``[["09:00", "13:00"], ["14:00", "17:30"]]`` into minutes of the day.

    Raises:
        RuleError: a time that cannot be read, an interval that ends before it starts, two that overlap, or too many.
    """
    pairs = list(pairs)
    if len(pairs) > MOST_INTERVALS:
        raise RuleError(f"A day has {MOST_INTERVALS} intervals of work at most ({where}).", where)
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


_MOST_KNOWN = 100_000


class WorkingCalendar:
    """A week of working intervals with exceptions.

    Planning reckons in *positions*: with w = W(t), a position is ``2 * w + side``. In a gap between two intervals all
    minutes share one w; side 0 is its earliest minute (where work closes: a finish), side 1 its latest (where work
    opens: a start). So adding a duration is one addition, and what is earlier is less.

    Args:
        week: seven tuples of (start, end) minutes of the day, Monday first.
        exceptions: days that differ; a later one wins over an earlier one.
        name: what people call it.

    Raises:
        RuleError: the week holds no working time at all, or the exceptions are too many, too long, or lie where no plan does.
    """

    def __init__(self, week: Sequence[Hours], exceptions: Iterable[CalendarException] = (), name: str = "") -> None:
        self.name = name
        self.week: tuple[Hours, ...] = tuple(tuple(hours) for hours in week)
        self.exceptions = tuple(exceptions)
        if len(self.week) != len(WEEKDAYS):
            raise RuleError("A working week has seven days.", "week")
        if not any(self.week):
            raise RuleError("A calendar needs working time on at least one weekday. Add hours to a day.", "week")
        self._special: dict[int, Hours] = {}
        check_exceptions(self.exceptions)
        for exception in self.exceptions:
            first, last = exception.first.toordinal(), exception.last.toordinal()
            self._special.update(dict.fromkeys(range(first, last + 1), exception.hours))
        totals = [sum(b - a for a, b in hours) for hours in self.week]
        worked = [total for total in totals if total]
        self.day_minutes = max(worked, key=worked.count)
        """The usual daily working time: what people mean by a day."""
        # The working intervals of the days [_first, _end), as minute numbers, with W at the opening of each. W is
        # nought at the anchor for ever, so that positions stay good while the table grows at either end.
        self._first = self._end = EPOCH + _ANCHOR
        self._opens: list[int] = []
        self._closes: list[int] = []
        self._before: list[int] = []
        self._low = self._high = 0
        self._positions: dict[int, int] = {}  # found before: plans ask for the same openings and closings again
        self._grow_up(self._end + _BLOCK)
        self._grow_down(self._first - _BLOCK)

    def hours(self, day: date) -> Hours:
        """The working intervals of one day, as minutes of the day."""
        return self._hours(day.toordinal())

    def is_working_day(self, day: date) -> bool:
        """True where the day has any working time."""
        return bool(self.hours(day))

    def exception_on(self, day: date) -> CalendarException | None:
        """The exception that gives a day its hours, if one does."""
        return next((one for one in reversed(self.exceptions) if one.first <= day <= one.last), None)

    def _hours(self, ordinal: int) -> Hours:
        special = self._special.get(ordinal)
        return self.week[(ordinal - 1) % 7] if special is None else special

    def _grow_up(self, end: int) -> None:
        for ordinal in range(self._end, end):
            midnight = (ordinal - EPOCH) * MINUTES_A_DAY
            for a, b in self._hours(ordinal):
                self._opens.append(midnight + a)
                self._closes.append(midnight + b)
                self._before.append(self._high)
                self._high += b - a
        self._end = max(self._end, end)

    def _grow_down(self, first: int) -> None:
        opens, closes, before = [], [], []
        for ordinal in range(self._first - 1, first - 1, -1):
            midnight = (ordinal - EPOCH) * MINUTES_A_DAY
            for a, b in reversed(self._hours(ordinal)):
                self._low -= b - a
                opens.append(midnight + a)
                closes.append(midnight + b)
                before.append(self._low)
        self._opens[:0], self._closes[:0], self._before[:0] = opens[::-1], closes[::-1], before[::-1]
        self._first = min(self._first, first)

    def _cover(self, minute: int) -> None:
        """Let the table reach from before a minute to after it, with an interval on either side, as far as it may reach."""
        ordinal = EPOCH + minute // MINUTES_A_DAY
        if ordinal >= self._end:
            self._grow_up(min(ordinal + _BLOCK, _CEILING))
        if ordinal < self._first:
            self._grow_down(max(ordinal - _BLOCK, _FLOOR))
        self._reach(
            lambda: bool(self._closes) and self._closes[-1] > minute, lambda: bool(self._opens) and self._opens[0] <= minute
        )

    def _cover_work(self, work: int) -> None:
        """Let the table reach from before a number of working minutes to after it, as far as it may reach."""
        self._reach(lambda: self._high > work, lambda: self._low < work)

    def _reach(self, high_enough: Callable[[], bool], low_enough: Callable[[], bool]) -> None:
        while not high_enough() and self._end < _CEILING:
            self._grow_up(min(self._end + _BLOCK, _CEILING))
        while not low_enough() and self._first > _FLOOR:
            self._grow_down(max(self._first - _BLOCK, _FLOOR))

    def position(self, minute: int) -> int:
        """The first position at or after a minute: of a minute in a gap the opening that follows, side 1."""
        found = self._positions.get(minute)
        if found is None:
            index, rest, length = self._find(minute)
            at_opening = rest == 0 or rest > length
            found = 2 * (self._before[index] + min(rest, length)) + at_opening
            if len(self._positions) >= _MOST_KNOWN:
                self._positions.clear()
            self._positions[minute] = found
        return found

    def position_before(self, minute: int) -> int:
        """The last position at or before a minute: of a minute in a gap the closing that it follows, side 0."""
        index, rest, length = self._find(minute)
        return 2 * (self._before[index] + min(rest, length)) + (rest < length)

    def _find(self, minute: int) -> tuple[int, int, int]:
        """The interval that opened last, the minutes since, and its length."""
        if not self._opens or minute < self._opens[0] or minute >= self._closes[-1]:
            self._cover(minute)
            minute = min(max(minute, self._opens[0]), self._closes[-1])
        index = bisect_right(self._opens, minute) - 1
        opens = self._opens[index]
        return index, minute - opens, self._closes[index] - opens

    def minute(self, position: int) -> int:
        """The minute number of a position: the inverse of ``position``, save that minutes within a gap are one."""
        work, side = position >> 1, position & 1
        if not self._low < work < self._high:
            self._cover_work(work)
            if work <= self._low:
                return self._opens[0]
            if work >= self._high:
                return self._closes[-1]
        index = (bisect_right(self._before, work) if side else bisect_left(self._before, work)) - 1
        return self._opens[index] + work - self._before[index]

    def stretches(self, start: int, end: int) -> list[tuple[int, int]]:
        """The stretches of work from one minute number to another, each from its opening to its closing."""
        self._cover(start)
        self._cover(end)
        found = []
        for index in range(bisect_right(self._closes, start), bisect_left(self._opens, end)):
            found.append((max(self._opens[index], start), min(self._closes[index], end)))
        return found

    def worked_before(self, minute: int) -> int:
        """W(t): working minutes from a fixed day to t, negative before it; use differences only."""
        return self.position(minute) >> 1

    def between(self, start: int, end: int) -> int:
        """Working minutes from one minute number to another; negative where the second lies before the first."""
        return self.worked_before(end) - self.worked_before(start)

    def add(self, start: int, duration: int) -> int:
        """The earliest minute t with W(t) = W(start) + duration, for a duration of one minute or more.

        A negative duration counts back to the latest t with W(t) = W(start) - |duration|. A duration of nothing
        gives the start itself.
        """
        if duration == 0:
            return start
        return self.minute(2 * (self.worked_before(start) + duration) + (duration < 0))

    def next_working(self, minute: int) -> int:
        """The first minute at or after this one at which work goes on: where a start may stand."""
        return self.minute(self.position(minute) | 1)

    def last_working(self, minute: int) -> int:
        """The latest minute at or before this one at which work ends or goes on: where a finish may stand."""
        return self.minute(self.position(minute) & ~1)

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

    @cached_property
    def elapsed(self) -> WorkingCalendar:
        """The same openings and closings, but that durations run through nights and holidays."""
        return _Elapsed(self)


class _Elapsed(WorkingCalendar):
    def __init__(self, hours: WorkingCalendar) -> None:
        super().__init__(hours.week, hours.exceptions, hours.name)
        self.day_minutes = MINUTES_A_DAY

    def add_to(self, start: datetime, duration: int) -> datetime:
        return datetime_of(minute_of(start) + duration).replace(second=start.second)

    def minutes_between(self, start: datetime, end: datetime) -> int:
        return int((end - start).total_seconds() // 60)


def check_exceptions(exceptions: Sequence[CalendarException]) -> None:
    """Raises RuleError where the exceptions of a calendar are too many, run backwards, are too long or lie where no plan does."""
    if len(exceptions) > MOST_EXCEPTIONS:
        raise RuleError(f"A calendar has {MOST_EXCEPTIONS} exceptions at most. Join days that follow one another.", "exceptions")
    days = 0
    for one in exceptions:
        if one.last < one.first:
            raise RuleError(f"The exception {one.name!r} ends before it starts.", "exceptions")
        if (one.last - one.first).days > _LONGEST_EXCEPTION:
            raise RuleError(f"The exception {one.name!r} is longer than ten years.", "exceptions")
        if one.first < FIRST_DAY or one.last > LAST_DAY:
            raise RuleError(f"The exception {one.name!r} must lie between {FIRST_DAY.year} and {LAST_DAY.year}.", "exceptions")
        days += (one.last - one.first).days + 1
    if days > MOST_EXCEPTION_DAYS:
        raise RuleError(f"The exceptions of a calendar cover {MOST_EXCEPTION_DAYS} days at most.", "exceptions")


_OFFICE: Hours = ((9 * 60, 13 * 60), (14 * 60, 17 * 60 + 30))
OFFICE_WEEK: tuple[Hours, ...] = (_OFFICE,) * 5 + ((),) * 2
"""The week a new project starts with: Monday to Friday, 09:00 to 13:00 and 14:00 to 17:30."""
