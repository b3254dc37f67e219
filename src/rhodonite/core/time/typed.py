"""Hours as people type them into a cell: ``2``, ``1:30``, ``1,5 h``, ``45 min``, ``9:15-11``."""

from __future__ import annotations

import re

from ..common.bounds import LONGEST_TYPED, MINUTES_A_DAY
from ..common.durations import read_duration
from ..common.errors import RuleError
from .entries import USUAL_DAY, minutes_until

_CLOCK = r"(\d{1,2})(?:[:.h](\d{2}))?"
_FROM_TO = re.compile(rf"(?:from\s+)?{_CLOCK}\s*(?:-|–|to|until)\s*{_CLOCK}")
_HOURS_MINUTES = re.compile(r"(\d{1,2}):([0-5]\d)")


def read_hours(text: str) -> tuple[int, int | None]:
    """Read hours, or from when to when.

    Returns:
        Minutes, and the minute of the day at which they began; None where only hours were typed.

    Raises:
        RuleError: the text is neither, or less than a minute, or more than a day.

    >>> read_hours("1:30")
    (90, None)
    >>> read_hours("9:15-11")
    (105, 555)
    """
    cleaned = " ".join(text.lower().split())
    if len(text) <= LONGEST_TYPED and (between := _FROM_TO.fullmatch(cleaned)):
        begin, end = (_clock(between[at], between[at + 1], text) for at in (1, 3))
        return minutes_until(begin, end % MINUTES_A_DAY), begin
    clock = _HOURS_MINUTES.fullmatch(cleaned)
    minutes = int(clock[1]) * 60 + int(clock[2]) if clock else _duration(text)
    if not 1 <= minutes <= MINUTES_A_DAY:
        raise RuleError("Enter between a minute and 24 hours.", "minutes")
    return minutes, None


def _duration(text: str) -> int:
    try:
        return read_duration(text, USUAL_DAY, bare="hour")
    except RuleError as error:
        raise _unreadable(text) from error


def _clock(hours: str, minutes: str | None, text: str) -> int:
    at = int(hours) * 60 + int(minutes or 0)
    if int(hours) > 24 or int(minutes or 0) > 59 or at > MINUTES_A_DAY:
        raise _unreadable(text)
    return at


def _unreadable(text: str) -> RuleError:
    return RuleError(f"“{text.strip()[:40]}” is no time. Write it as 2, 1:30, 45 min or 9:15-11.", "minutes")
