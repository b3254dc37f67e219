"""Time on paper: worked days are wide, days that are not worked are narrow strips."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from ...core.common.calendars import WorkingCalendar
from .letters import fit
from .marks import Mark, Path, Rect, Text

REST = 0.22
"""The width of a day without work, as a part of a worked one's."""
BAND, RULE, INK, INK_2, ROSE = "#f0ecef", "#e4dee3", "#231a24", "#5a4e5c", "#b23a63"


@dataclass(frozen=True, slots=True)
class Day:
    """A day on the axis. ``opens`` and ``closes`` are minutes of the day."""

    day: date
    x: float
    width: float
    worked: bool
    opens: int
    closes: int


class TimeAxis:
    """From moments to places.

    Args:
        first, last: the days at its ends.
        width: of the whole axis, in points.
    """

    def __init__(self, calendar: WorkingCalendar, first: date, last: date, width: float) -> None:
        days = [first + timedelta(days=n) for n in range((last - first).days + 1)]
        hours = [calendar.hours(day) for day in days]
        self.unit = width / sum(1.0 if one else REST for one in hours)
        self.width = width
        self.days: list[Day] = []
        x = 0.0
        for day, one in zip(days, hours, strict=True):
            wide = self.unit * (1.0 if one else REST)
            self.days.append(Day(day, x, wide, bool(one), one[0][0] if one else 0, one[-1][1] if one else 1440))
            x += wide

    def x(self, at: datetime) -> float:
        """Where a moment lies; what is outside lies at the ends."""
        index = (at.date() - self.days[0].day).days
        if index < 0:
            return 0.0
        if index >= len(self.days):
            return self.width
        day = self.days[index]
        part = (at.hour * 60 + at.minute - day.opens) / max(1, day.closes - day.opens)
        return day.x + day.width * min(1.0, max(0.0, part))

    def within(self, left: float, right: float) -> Iterator[Day]:
        """The days of which something lies between two places."""
        return (day for day in self.days if day.x + day.width > left and day.x < right)

    def heads(self, left: float, right: float, height: float, size: float) -> Iterator[Mark]:
        """Two lines of labels: weeks over days, months over weeks, or years over months."""
        for day in self.within(left, right):
            if words := self._upper(day):
                yield Text(day.x + 2, height * 0.42, words, size, INK_2)
            text, room = self._lower(day)
            if text and (text := fit(text, room, size * 0.92)):
                yield Text(day.x + 2, height * 0.86, text, size * 0.92, INK_2)

    def _upper(self, day: Day) -> str:
        one = day.day
        if self.unit >= 11:
            return f"{one:%a} {one.day} {one:%b}" if one.weekday() == 0 else ""
        if one.day != 1 and day is not self.days[0]:
            return ""
        if self.unit >= 2.4:
            return f"{one:%B %Y}" if one.day <= 20 else ""
        return f"{one:%Y}" if one.month == 1 or (day is self.days[0] and one.month <= 9) else ""

    def _lower(self, day: Day) -> tuple[str, float]:
        one = day.day
        if self.unit >= 11:
            return (f"{one:%a}"[0] if self.unit < 22 else f"{one:%a}"[0] + f" {one.day}", day.width) if day.worked else ("", 0)
        if self.unit >= 2.4:
            return (str(one.day), self.unit * 5) if one.weekday() == 0 else ("", 0)
        if one.day != 1:
            return "", 0
        if self.unit >= 0.9:
            return f"{one:%b}", self.unit * 20
        return (f"Q{one.month // 3 + 1}", self.unit * 60) if one.month % 3 == 1 else ("", 0)

    def ground(self, left: float, right: float, height: float, now: datetime) -> Iterator[Mark]:
        """Days without work shaded, lines where weeks or months begin, and now."""
        for day in self.within(left, right):
            if not day.worked and self.unit >= 2.4:
                yield Rect(day.x, 0, day.width, height, fill=BAND)
            elif (self.unit >= 11 and day.day.weekday() == 0) or day.day.day == 1:
                yield Path(((day.x, 0), (day.x, height)), stroke=RULE, line=0.6)
        if self.days[0].day <= now.date() <= self.days[-1].day:
            yield Path(((self.x(now), 0), (self.x(now), height)), stroke=ROSE, line=1)
