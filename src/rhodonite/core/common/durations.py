"""Durations and hours as people write them: ``3 days``, ``6h``, ``half a day``, ``1d 4h``, ``90 min``, ``0:50``, ``1½ h``; and
how much of each day: ``3h a day``, ``3 h/day``, ``half days``. Whatever takes hours reads them by this."""

from __future__ import annotations

import re
from fractions import Fraction

from .bounds import LONGEST_TYPED
from .errors import RuleError

_UNITS = {
    "w": "week", "wk": "week", "wks": "week", "week": "week", "weeks": "week",
    "d": "day", "day": "day", "days": "day",
    "h": "hour", "hr": "hour", "hrs": "hour", "hour": "hour", "hours": "hour",
    "m": "minute", "min": "minute", "mins": "minute", "minute": "minute", "minutes": "minute",
}  # fmt: skip
_CLOCK = re.compile(r"(\d{1,5}):([0-5]\d)(?:\s*(?:h|hours?))?")
_RATE = re.compile(
    r"(?P<amount>.+?)\s*(?:/\s*|\b(?:an?|per|each|every)\s+)(?:working\s+)?(?:d|day)|(?P<daily>.+?)\s+daily|(?P<part>half|full|whole)\s+days"
)
_PARTS = {"¼": ".25", "½": ".5", "¾": ".75"}
_PART = re.compile(r"(?P<number>\d+(?:[.,]\d+)?|half(?:\s+an?(?=\s))?|\ban?(?=\s))\s*(?P<unit>[a-z]+)", re.IGNORECASE)
_LONGEST = 100_000_000


def read_duration(text: str, day_minutes: int, week_days: int = 5, *, bare: str | None = "day") -> int:
    """Read a duration into working minutes.

    Args:
        text: what was typed.
        day_minutes: working minutes of a usual day; a week is ``week_days`` of them.
        week_days: days worked in a usual week.
        bare: the unit of a number without one; None refuses such a number.

    Raises:
        RuleError: the text is no duration.
    """
    if len(text) > LONGEST_TYPED:
        raise RuleError("That is too long for a duration. Write it as 3 days, 6 h or 1 d 4 h.", "duration")
    sizes = {"week": day_minutes * week_days, "day": day_minutes, "hour": 60, "minute": 1}
    cleaned = re.sub(r"(\d*)([¼½¾])", lambda found: f"{found[1] or 0}{_PARTS[found[2]]}", text.strip().lower())
    if clock := _CLOCK.fullmatch(cleaned):
        return _whole(int(clock[1]) * 60 + int(clock[2]))
    if _says_a_rate(cleaned):
        raise RuleError(f"“{text}” says how much of each day. Say how long in all, such as 3 days or 6 h.", "duration")
    if bare and re.fullmatch(r"\d+(?:[.,]\d+)?", cleaned):
        return _whole(float(cleaned.replace(",", ".")) * sizes[bare])
    total, position = 0.0, 0
    for part in _PART.finditer(cleaned):
        unit = _UNITS.get(part["unit"])
        if unit is None or cleaned[position : part.start()].strip(" ,and") or part["number"] == "":
            raise _unreadable(text)
        total += _number(part["number"]) * sizes[unit]
        position = part.end()
    if position == 0 or cleaned[position:].strip():
        raise _unreadable(text)
    return _whole(total)


def _says_a_rate(cleaned: str) -> bool:
    found = _RATE.fullmatch(cleaned)
    return bool(found and (found["part"] or re.search(r"\d", cleaned)))


def read_rate(text: str, day_minutes: int) -> Fraction | None:
    """Read how much of each day: ``3h a day``, ``3 h/day``, ``90 min daily``, ``half days``, ``50 %``.

    Returns:
        Minutes of a day of ``day_minutes``; None where the text says no such thing.

    Raises:
        RuleError: the amount before *a day* is no duration.
    """
    cleaned = text.strip().lower()
    if percent := re.fullmatch(r"(\d+(?:[.,]\d+)?)\s*%(?:\s+of\s+(?:the|each|every)\s+day)?", cleaned):
        return Fraction(percent[1].replace(",", ".")) * day_minutes / 100
    if not _says_a_rate(cleaned):
        return None
    found = _RATE.fullmatch(cleaned)
    assert found is not None
    if found["part"]:
        return Fraction(day_minutes, 2 if found["part"] == "half" else 1)
    return Fraction(read_duration(found["amount"] or found["daily"], day_minutes, bare="hour"))


def read_length(text: str, day_minutes: int) -> tuple[int, bool]:
    """Read a duration that may say ``elapsed``, such as ``3 days elapsed``: a day is 24 hours then, a week seven days.

    Returns:
        Its minutes, and whether it runs through nights and holidays.

    Raises:
        RuleError: the text is no duration.
    """
    bare = re.sub(r"\belapsed\b", " ", text, flags=re.IGNORECASE)
    if bare != text:
        return read_duration(bare, 24 * 60, 7), True
    return read_duration(text, day_minutes), False


def say_length(minutes: int, day_minutes: int, elapsed: bool) -> str:
    """The inverse of ``read_length``."""
    return f"{say_duration(minutes, 24 * 60)} elapsed" if elapsed else say_duration(minutes, day_minutes)


def _number(text: str) -> float:
    if text.startswith("half"):
        return 0.5
    return 1.0 if text in {"a", "an"} else float(text.replace(",", "."))


def _whole(minutes: float) -> int:
    if not minutes <= _LONGEST:
        raise RuleError("That duration is longer than a plan can hold.", "duration")
    return round(minutes)


def _unreadable(text: str) -> RuleError:
    return RuleError(f"“{text}” is no duration. Write it as 3 days, 6 h or 1 d 4 h.", "duration")


def say_duration(minutes: int, day_minutes: int) -> str:
    """Write working minutes in days where they come out whole or in halves, else in hours and minutes."""
    if minutes == 0:
        return "none"
    halves = minutes * 2 / day_minutes
    if halves >= 1 and halves == int(halves) and minutes >= day_minutes / 2:
        return f"{minutes / day_minutes:g} d"
    days, rest = divmod(minutes, day_minutes)
    parts = [f"{days} d"] if days else []
    if rest >= 60:
        parts.append(f"{rest / 60:g} h" if rest % 60 in {0, 30} else f"{rest // 60} h {rest % 60} min")
    elif rest:
        parts.append(f"{rest} min")
    return " ".join(parts)


def say_hours(minutes: int) -> str:
    """Write minutes of people's work: in hours, with minutes where they do not come out in quarters."""
    hours, rest = divmod(minutes, 60)
    if rest % 15 == 0:
        return f"{minutes / 60:g} h"
    return f"{hours} h {rest} min" if hours else f"{rest} min"
