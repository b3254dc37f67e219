"""Days as people write and say them. Nothing here knows the clock: today is passed in."""

from __future__ import annotations

import re
from datetime import date, datetime, timedelta

from .bounds import LONGEST_TYPED, check_day
from .errors import RuleError

_DAYS = ("monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday")
_MONTHS = (
    "january", "february", "march", "april", "may", "june",
    "july", "august", "september", "october", "november", "december",
)  # fmt: skip
_DAY_MONTH = re.compile(r"(\d{1,2})(?:st|nd|rd|th)?\.?\s+([a-z]{3,9})\.?(?:,?\s+(\d{4}))?")
_MONTH_DAY = re.compile(r"([a-z]{3,9})\.?\s+(\d{1,2})(?:st|nd|rd|th)?(?:,?\s+(\d{4}))?")
_NUMBERS = re.compile(r"(\d{1,2})[./](\d{1,2})(?:[./](\d{4}|\d{2})?)?")
_AHEAD = re.compile(r"(?:in\s+|\+\s*)(\d{1,3})\s*(d|days?|w|weeks?)")
# Dates are shown as "Fri 26 Mar", so they are typed over in that form: the weekday adds nothing.
_WEEKDAY_FIRST = re.compile(
    r"(?:mon|tue|wed|thu|fri|sat|sun)[a-z]*,?\s+(?=\d{1,2}(?:st|nd|rd|th)?\.?\s+[a-z]{3}|\d{1,2}[./]|\d{4}-|[a-z]{3,9}\.?\s+\d)"
)
_TIME = re.compile(r"(?:\s+at)?\s+(\d{1,2}):(\d{2})$")


def read_moment(text: str, today: date, *, month_first: bool = False) -> date | datetime:
    """Read a day, with a time of day where one is given.

    Understood: ``2027-03-08``, ``2027-03-08T09:00``, ``8 Mar``, ``Mar 8 2027``, ``8.3.2027``, ``8/3``, ``today``,
    ``tomorrow``, ``yesterday``, ``fri``, ``next fri``, ``next week``, ``end of month``, ``+3d``, ``in 2 weeks``;
    each may be followed by a time such as ``14:30``.

    Args:
        text: what was typed.
        today: the day that relative words count from.
        month_first: read ``3/8`` as 8 March.

    Raises:
        RuleError: the text is no date, or one that no plan can hold.
    """
    if len(text) > LONGEST_TYPED:
        raise RuleError("That is too long for a date. Write it as 8 Mar, fri, tomorrow or 2027-03-08.")
    cleaned = _WEEKDAY_FIRST.sub("", " ".join(text.strip().lower().split()), count=1)
    try:
        iso = datetime.fromisoformat(cleaned) if re.search(r"\d[t ]\d", cleaned) else date.fromisoformat(cleaned)
    except ValueError:
        pass
    else:
        return check_day(iso.replace(tzinfo=None) if isinstance(iso, datetime) else iso)
    clock = _TIME.search(cleaned)
    if clock and int(clock[1]) < 24 and int(clock[2]) < 60:
        day = _read_day(cleaned[: clock.start()], today, month_first)
        if day:
            check_day(day)
            return datetime(day.year, day.month, day.day, int(clock[1]), int(clock[2]))
    day = _read_day(cleaned, today, month_first)
    if day is None:
        raise RuleError(f"“{text.strip()}” is no date. Write it as 8 Mar, fri, tomorrow or 2027-03-08.")
    return check_day(day)


def read_day(text: str, today: date, *, month_first: bool = False) -> date:
    """Read a day, leaving out any time of day. Raises RuleError as ``read_moment`` does."""
    moment = read_moment(text, today, month_first=month_first)
    return moment.date() if isinstance(moment, datetime) else moment


def _read_day(text: str, today: date, month_first: bool) -> date | None:
    fixed = {"today": 0, "tod": 0, "tomorrow": 1, "tom": 1, "yesterday": -1}.get(text)
    if fixed is not None:
        return today + timedelta(days=fixed)
    return _by_weekday(text, today) or _by_distance(text, today) or _by_calendar(text, today, month_first)


def _by_weekday(text: str, today: date) -> date | None:
    skip = 7 if text.startswith("next ") else 0
    word = text.removeprefix("next ").removeprefix("this ").removeprefix("on ")
    if len(word) < 3:
        return None
    for index, name in enumerate(_DAYS):
        if name.startswith(word) or (word == "tues" and index == 1) or (word == "thurs" and index == 3):
            ahead = (index - today.weekday()) % 7
            monday_next = today + timedelta(days=7 - today.weekday())
            return monday_next + timedelta(days=index) if skip else today + timedelta(days=ahead)
    return None


def _by_distance(text: str, today: date) -> date | None:
    if text == "next week":
        return today + timedelta(days=7 - today.weekday())
    if text in {"end of month", "month end"}:
        return _first_of_next_month(today) - timedelta(days=1)
    if text in {"end of week", "week end"}:
        return today + timedelta(days=(4 - today.weekday()) % 7)
    if text == "next month":
        return _first_of_next_month(today)
    ahead = _AHEAD.fullmatch(text)
    if ahead:
        return today + timedelta(days=int(ahead[1]) * (7 if ahead[2].startswith("w") else 1))
    return None


def _first_of_next_month(today: date) -> date:
    return (today.replace(day=1) + timedelta(days=32)).replace(day=1)


def _by_calendar(text: str, today: date, month_first: bool) -> date | None:
    if found := _DAY_MONTH.fullmatch(text):
        return _made(int(found[1]), _month(found[2]), found[3], today)
    if found := _MONTH_DAY.fullmatch(text):
        return _made(int(found[2]), _month(found[1]), found[3], today)
    if found := _NUMBERS.fullmatch(text):
        first, second = int(found[1]), int(found[2])
        if (month_first and first <= 12) or second > 12:
            first, second = second, first
        return _made(first, second, found[3], today)
    return None


def _month(word: str) -> int | None:
    return next((i for i, name in enumerate(_MONTHS, 1) if name.startswith(word) or (word == "sept" and i == 9)), None)


def _made(day: int, month: int | None, year: str | None, today: date) -> date | None:
    """A date; where no year is given, the one that lies nearest to today."""
    if month is None:
        return None
    years = [int(year) + (2000 if len(year) == 2 else 0)] if year else [today.year + k for k in (0, -1, 1)]
    found = []
    for one in years:
        try:
            found.append(date(one, month, day))
        except ValueError:
            continue
    return min(found, key=lambda d: abs((d - today).days), default=None)


def say_day(day: date, today: date | None = None) -> str:
    """A day as people say it: ``18 Jun``, with the year where it is not that of today."""
    name = f"{day.day} {_MONTHS[day.month - 1][:3].title()}"
    return name if today is None or day.year == today.year else f"{name} {day.year}"
