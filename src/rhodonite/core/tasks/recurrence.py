"""Repeating tasks: rules of RFC 5545 read from words and said in words, and the days that they give."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from dataclasses import asdict, dataclass
from datetime import date, datetime, timedelta
from itertools import islice
from typing import Any, Literal

from dateutil.rrule import rrule, rrulestr

from ..common.bounds import LAST_DAY
from ..common.calendars import OFFICE_WEEK, WorkingCalendar
from ..common.errors import RuleError

Mode = Literal["ahead", "finished"]
MOST_AHEAD = 12
LONGEST = 300
WORKING_WEEK = "MO,TU,WE,TH,FR"
_LOOKED_AT = 5000
_FURTHEST = timedelta(days=30 * 366)  # within which a rule must give a day
WORKDAY = "X-WORKDAY"
"""Beside the parts of RFC 5545: FIRST or LAST of the month, or EVERY one, by the calendar of the project."""
_PARTS: dict[str, re.Pattern[str]] = {
    "FREQ": re.compile(r"DAILY|WEEKLY|MONTHLY|YEARLY"),
    "INTERVAL": re.compile(r"[1-9]\d{0,2}"),
    "COUNT": re.compile(r"[1-9]\d{0,3}"),
    "UNTIL": re.compile(r"\d{8}(T\d{6}Z?)?"),
    "BYDAY": re.compile(r"[+-]?\d?(?:MO|TU|WE|TH|FR|SA|SU)(?:,[+-]?\d?(?:MO|TU|WE|TH|FR|SA|SU)){0,13}"),
    "BYMONTHDAY": re.compile(r"-?\d{1,2}(?:,-?\d{1,2}){0,30}"),
    "BYMONTH": re.compile(r"\d{1,2}(?:,\d{1,2}){0,11}"),
    "BYSETPOS": re.compile(r"-?\d{1,2}"),
    "WKST": re.compile(r"MO|TU|WE|TH|FR|SA|SU"),
    WORKDAY: re.compile(r"FIRST|LAST|EVERY"),
}


@dataclass(frozen=True, slots=True)
class Repeat:
    """How a task repeats.

    Attributes:
        rule: an RRULE of RFC 5545, without its name; ``X-WORKDAY`` may stand in it.
        first: the day of the task itself, from which the rule counts.
        mode: made ``ahead``, or when the last one is ``finished``.
        ahead: how many are kept ahead.
        off_holidays: True where a day that is not worked stands for the next one that is.
        last: the day, by the rule, of the last one that was made.
        by: the id of the person who asked for it, in whose name the next ones are written.
    """

    rule: str
    first: str
    mode: Mode = "finished"
    ahead: int = 1
    off_holidays: bool = True
    last: str | None = None
    by: str | None = None


def read_repeat(kept: Mapping[str, Any] | None) -> Repeat | None:
    """A repeat from the form that it is kept in."""
    return Repeat(**kept) if kept else None


def write_repeat(repeat: Repeat) -> dict[str, Any]:
    """The inverse of ``read_repeat``."""
    return asdict(repeat)


def check_repeat(repeat: Repeat) -> None:
    """Raises RuleError where a repeat cannot be."""
    if repeat.mode not in {"ahead", "finished"} or not 1 <= repeat.ahead <= MOST_AHEAD:
        raise RuleError(f"Say whether the next ones are made ahead, 1 to {MOST_AHEAD}, or when the last is finished.", "repeat")
    try:
        parts_of(repeat.rule)
        found = next(days_of(repeat, WorkingCalendar(OFFICE_WEEK)), None)
    except (ValueError, TypeError) as error:
        raise RuleError("That rule cannot be read. Write it as every second Tuesday.", "repeat") from error
    if found is None and "COUNT" not in repeat.rule and "UNTIL" not in repeat.rule:
        raise RuleError("That rule gives no day in the next thirty years. Write it as every second Tuesday.", "repeat")


def parts_of(rule: str) -> dict[str, str]:
    """The parts of a rule by name. Raises ValueError where one is unknown, stands twice, or has a value that it cannot have."""
    parts: dict[str, str] = {}
    for part in filter(None, rule.upper().split(";")):
        name, _, value = part.partition("=")
        if name in parts or name not in _PARTS or not _PARTS[name].fullmatch(value):
            raise ValueError(part)
        parts[name] = value
    if "FREQ" not in parts:
        raise ValueError(rule)
    if parts.get("BYDAY") == WORKING_WEEK and parts["FREQ"] == "MONTHLY" and parts.get("BYSETPOS") in {"1", "-1"}:
        parts[WORKDAY] = "FIRST" if parts.pop("BYSETPOS") == "1" else "LAST"  # as it was kept before calendars were asked
        del parts["BYDAY"]
    return parts


def days_of(repeat: Repeat, calendar: WorkingCalendar, after: date | None = None) -> Iterator[tuple[date, date]]:
    """The days that a rule gives, the first one left out, each with the day on which the work really stands.

    Days that would come to stand on one day are one. What lies in the tables and is no rule gives no day.

    Args:
        calendar: by which days are worked.
        after: only later days of the rule.
    """
    first = date.fromisoformat(repeat.first)
    since = max(first, after) if after else first
    try:
        parts = parts_of(repeat.rule)
    except ValueError:
        return
    which = parts.pop(WORKDAY, None)
    if which in {"FIRST", "LAST"}:
        parts["BYMONTHDAY"] = "1" if which == "FIRST" else "-1"
    furthest = min(since + _FURTHEST, LAST_DAY)
    stood = _stands(since, which, repeat, calendar)
    if which == "LAST" and stood > since:
        stood = since
    for at in islice(_rule(parts, first).xafter(_noon(since)), _LOOKED_AT):
        day = at.date()
        if day > furthest:
            return
        if which == "EVERY" and not calendar.is_working_day(day):
            continue
        stands = _stands(day, which, repeat, calendar)
        if stands > stood and stands > first:
            stood = stands
            yield day, stands


def _rule(parts: Mapping[str, str], first: date) -> rrule:
    found = rrulestr(";".join(f"{name}={value}" for name, value in parts.items()), dtstart=_noon(first))
    assert isinstance(found, rrule)
    return found


def _stands(day: date, which: str | None, repeat: Repeat, calendar: WorkingCalendar) -> date:
    """The day on which work of a day of the rule stands: one that is worked, where that is asked."""
    if which == "LAST":
        return calendar.end_of_day(day).date()
    return calendar.start_of_day(day).date() if which or repeat.off_holidays else day


def _noon(day: date) -> datetime:
    return datetime(day.year, day.month, day.day, 12)


def moved_by(value: datetime | None, start: datetime | None, day: date) -> datetime | None:
    """A moment that lies as far from a day as it lies from the start now."""
    if value is None or start is None:
        return None
    return value + timedelta(days=(day - start.date()).days)
