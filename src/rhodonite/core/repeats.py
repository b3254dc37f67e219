"""Repeating tasks: rules of RFC 5545 read from words and said in words, and the days that they give."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from dataclasses import asdict, dataclass
from datetime import date, datetime, timedelta
from itertools import islice
from typing import Any, Literal

from dateutil.rrule import rrulestr

from .calendars import WorkingCalendar
from .dates import read_day, say_day
from .errors import RuleError

Mode = Literal["ahead", "finished"]
MOST_AHEAD = 12
LONGEST = 300
_LOOKED_AT = 5000

_DAYS = {"mo": "Monday", "tu": "Tuesday", "we": "Wednesday", "th": "Thursday", "fr": "Friday", "sa": "Saturday", "su": "Sunday"}
_WORKING = "MO,TU,WE,TH,FR"
_UNITS = {"day": "DAILY", "week": "WEEKLY", "month": "MONTHLY", "year": "YEARLY"}
_ORDINALS = {"first": 1, "second": 2, "third": 3, "fourth": 4, "fifth": 5, "last": -1, "other": 2}
_NUMBERS = {"two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "ten": 10, "twelve": 12}
_MONTHS = ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec")
_WEEKDAY = r"(mon|tues?|wed(?:nes)?|thu(?:rs)?|fri|sat(?:ur)?|sun)(?:day)?s?"


@dataclass(frozen=True, slots=True)
class Repeat:
    """How a task repeats.

    Attributes:
        rule: an RRULE of RFC 5545, without its name.
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
        rrulestr(repeat.rule, dtstart=_noon(date.fromisoformat(repeat.first)))
    except (ValueError, TypeError) as error:
        raise RuleError("That rule cannot be read. Write it as every second Tuesday.", "repeat") from error


def days_of(repeat: Repeat, calendar: WorkingCalendar, after: date | None = None) -> Iterator[tuple[date, date]]:
    """The days that a rule gives, the first one left out, each with the day on which the work really stands.

    Args:
        after: only later days of the rule.
    """
    first = date.fromisoformat(repeat.first)
    since = max(first, after) if after else first
    for at in islice(rrulestr(repeat.rule, dtstart=_noon(first)).xafter(_noon(since)), _LOOKED_AT):
        day = at.date()
        yield day, calendar.start_of_day(day).date() if repeat.off_holidays else day


def _noon(day: date) -> datetime:
    return datetime(day.year, day.month, day.day, 12)


def read_rule(text: str, today: date) -> str:
    """Read a rule from words: ``every second Tuesday``, ``last working day of the month``, ``every 2 weeks, 10 times``.

    Returns:
        An RRULE of RFC 5545, without its name.

    Raises:
        RuleError: it cannot be read.
    """
    cleaned = " ".join(text.lower().replace(",", " , ").split())
    if len(cleaned) > LONGEST:
        raise RuleError("That rule is too long. Write it as every second Tuesday.", "repeat")
    if cleaned.upper().startswith("FREQ="):
        return cleaned.upper().replace(" ", "")
    body, end = _read_end(cleaned, today)
    for reader in (_of_the_month, _of_the_year, _on_weekdays, _every):
        if rule := reader(body):
            return rule + end
    raise RuleError(
        f"“{text.strip()}” is no rule. Write it as every second Tuesday, every 2 weeks or last working day of the month.",
        "repeat",
    )


def _read_end(text: str, today: date) -> tuple[str, str]:
    if found := re.search(r"\s*,?\s*(\d{1,4}) times$", text):
        return text[: found.start()], f";COUNT={found[1]}"
    if found := re.search(r"\s*,?\s*until (.+)$", text):
        return text[: found.start()], f";UNTIL={read_day(found[1], today):%Y%m%d}T235959"
    return text, ""


def _weekday(text: str) -> str:
    return text[:2].upper()


def _of_the_month(text: str) -> str | None:
    every = r"(?:of (?:the|each|every) month|every month)"
    if found := re.fullmatch(rf"(?:the |on the )?(first|last) (?:working day|weekday) {every}", text):
        return f"FREQ=MONTHLY;BYDAY={_WORKING};BYSETPOS={_ORDINALS[found[1]]}"
    if found := re.fullmatch(rf"(?:the |on the )?(first|second|third|fourth|last) {_WEEKDAY} {every}", text):
        return f"FREQ=MONTHLY;BYDAY={_ORDINALS[found[1]]}{_weekday(found[2])}"
    if re.fullmatch(rf"(?:the |on the )?last day {every}", text):
        return "FREQ=MONTHLY;BYMONTHDAY=-1"
    found = re.fullmatch(rf"(?:the |on the )?(\d{{1,2}})(?:st|nd|rd|th)? {every}", text)
    found = found or re.fullmatch(r"every month on the (\d{1,2})(?:st|nd|rd|th)?", text)
    return f"FREQ=MONTHLY;BYMONTHDAY={int(found[1])}" if found and 1 <= int(found[1]) <= 31 else None


def _of_the_year(text: str) -> str | None:
    found = re.fullmatch(r"every year on (?:the )?(\d{1,2})(?:st|nd|rd|th)?(?: of)? ([a-z]{3,9})", text)
    month = next((n for n, name in enumerate(_MONTHS, 1) if found and found[2].startswith(name)), None)
    return f"FREQ=YEARLY;BYMONTH={month};BYMONTHDAY={int(found[1])}" if found and month else None


def _on_weekdays(text: str) -> str | None:
    if text in {"every weekday", "every working day", "each working day"}:
        return f"FREQ=WEEKLY;BYDAY={_WORKING}"
    found = re.fullmatch(
        rf"(?:every|each) (?:(second|other|third|fourth|\d{{1,2}})(?:st|nd|rd|th)? )?((?:{_WEEKDAY}(?: ?(?:,|and|or) ?)*)+)", text
    )
    found = found or re.fullmatch(rf"every (\d{{1,2}}|two|three|four) weeks on ((?:{_WEEKDAY}(?: ?(?:,|and|or) ?)*)+)", text)
    if not found:
        return None
    days = ",".join(dict.fromkeys(_weekday(one) for one in re.findall(_WEEKDAY, found[2])))
    return _with_interval("WEEKLY", found[1]) + f";BYDAY={days}"


def _every(text: str) -> str | None:
    usual = {"daily": "DAILY", "weekly": "WEEKLY", "monthly": "MONTHLY", "yearly": "YEARLY", "fortnightly": "WEEKLY;INTERVAL=2"}
    if text in usual:
        return f"FREQ={usual[text]}"
    found = re.fullmatch(
        r"(?:every|each) (?:(second|other|third|fourth|\d{1,3}|two|three|four|five|six|ten|twelve) )?(day|week|month|year)s?",
        text,
    )
    return _with_interval(_UNITS[found[2]], found[1]) if found else None


def _with_interval(unit: str, number: str | None) -> str:
    many = int(number) if number and number.isdigit() else _ORDINALS.get(number or "", _NUMBERS.get(number or "", 1))
    return f"FREQ={unit}" + (f";INTERVAL={many}" if many > 1 else "")


def say_rule(rule: str, today: date) -> str:
    """A rule in words, which ``read_rule`` reads again."""
    parts = dict(part.split("=", 1) for part in rule.upper().split(";") if "=" in part)
    return _say_body(parts) + _say_end(parts, today)


def _say_end(parts: Mapping[str, str], today: date) -> str:
    if "COUNT" in parts:
        return f", {parts['COUNT']} times"
    if "UNTIL" in parts:
        day = datetime.strptime(parts["UNTIL"][:8], "%Y%m%d").date()
        return f", until {say_day(day, None)} {day.year}"
    return ""


def _say_body(parts: Mapping[str, str]) -> str:
    unit = next((word for word, name in _UNITS.items() if name == parts.get("FREQ")), "day")
    interval = int(parts.get("INTERVAL", "1"))
    days = parts.get("BYDAY", "")
    if unit == "month" and days == _WORKING and parts.get("BYSETPOS") in {"1", "-1"}:
        return f"the {'first' if parts['BYSETPOS'] == '1' else 'last'} working day of the month"
    if unit == "month" and (found := re.fullmatch(r"(-?\d)([A-Z]{2})", days)):
        ordinal = next(word for word, number in _ORDINALS.items() if number == int(found[1]))
        return f"the {ordinal} {_DAYS[found[2].lower()]} of the month"
    if unit == "month" and "BYMONTHDAY" in parts:
        return (
            "the last day of the month" if parts["BYMONTHDAY"] == "-1" else f"the {_nth(int(parts['BYMONTHDAY']))} of each month"
        )
    if unit == "year" and "BYMONTH" in parts:
        return f"every year on {parts.get('BYMONTHDAY', '1')} {_MONTHS[int(parts['BYMONTH']) - 1].title()}"
    if unit == "week" and days == _WORKING and interval == 1:
        return "every working day"
    if unit == "week" and days:
        names = [_DAYS[one.lower()] for one in days.split(",")]
        said = " and ".join([", ".join(names[:-1]), names[-1]] if len(names) > 1 else names)
        return (
            f"every {said}" if interval == 1 else f"every second {said}" if interval == 2 else f"every {interval} weeks on {said}"
        )
    return f"every {unit}" if interval == 1 else f"every {interval} {unit}s"


def _nth(number: int) -> str:
    ending = "th" if 10 <= number % 100 <= 20 else {1: "st", 2: "nd", 3: "rd"}.get(number % 10, "th")
    return f"{number}{ending}"


def moved_by(value: datetime | None, start: datetime | None, day: date) -> datetime | None:
    """A moment that lies as far from a day as it lies from the start now."""
    if value is None or start is None:
        return None
    return value + timedelta(days=(day - start.date()).days)
