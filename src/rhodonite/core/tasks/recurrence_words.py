"""Rules of repeating in words: read from what people type, and said again."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from datetime import date, datetime
from difflib import get_close_matches

from ..common.dates import read_day, say_day
from ..common.errors import RuleError
from .recurrence import LONGEST, WORKDAY, WORKING_WEEK, Repeat, check_repeat, parts_of

EXAMPLES = (
    "every day", "every working day", "every weekday", "every week", "every second Tuesday", "every Monday and Thursday",
    "every 2 weeks", "fortnightly", "every first Monday", "the last Friday of the month", "the first working day of the month",
    "the last working day of the month", "the last day of the month", "on the 1st and 15th", "the 31st or the last day of each month",
    "every month", "every 3 months", "quarterly", "every year", "on 3 May each year", "every 2 weeks, 10 times",
    "every month until 31 Dec",
)  # fmt: skip
"""What can be written, for a hint beside what cannot be."""
_DAYS = {"mo": "Monday", "tu": "Tuesday", "we": "Wednesday", "th": "Thursday", "fr": "Friday", "sa": "Saturday", "su": "Sunday"}
_UNITS = {"day": "DAILY", "week": "WEEKLY", "month": "MONTHLY", "year": "YEARLY"}
_MONTHS = ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec")
_LONG_MONTHS = (
    "January", "February", "March", "April", "May", "June", "July", "August", "September", "October", "November", "December",
)  # fmt: skip
_ORDINALS = {"first": 1, "second": 2, "third": 3, "fourth": 4, "fifth": 5, "last": -1}
_FILLERS = frozenset({"on", "the", "of", "and", "or", ",", "in", "for", "a", "per", "every", "each"})
_UNIT_WORDS = {"day": "day", "week": "week", "month": "month", "quarter": "quarter", "year": "year", "fortnight": "fortnight"}
_ADVERBS = {
    "daily": "day", "weekly": "week", "monthly": "month", "quarterly": "quarter", "yearly": "year", "annually": "year",
    "fortnightly": "fortnight",
}  # fmt: skip
_NUMBERS = {"one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "eight": 8, "nine": 9, "ten": 10, "twelve": 12}


@dataclass(slots=True)
class _Said:
    """The words of a rule, sorted by what they are."""

    weekdays: list[str] = field(default_factory=list)
    months: list[int] = field(default_factory=list)
    units: list[str] = field(default_factory=list)
    ordinals: list[int] = field(default_factory=list)
    nths: list[int] = field(default_factory=list)
    numbers: list[int] = field(default_factory=list)
    working: bool = False
    weekday: bool = False
    other: bool = False


def read_rule(text: str, today: date) -> str:
    """Read a rule from words: ``every second Tuesday``, ``last working day of the month``, ``every 2 weeks, 10 times``.

    Each word is looked at once, so no text takes long.

    Returns:
        An RRULE of RFC 5545, without its name; see ``WORKDAY``.

    Raises:
        RuleError: it cannot be read; it quotes what was not understood, and the nearest that is.
    """
    if len(text) > LONGEST:
        raise RuleError("That rule is too long. Write it as every second Tuesday.", "repeat")
    cleaned = " ".join(text.lower().replace(",", " , ").split())
    if cleaned.startswith("freq="):
        return _checked(cleaned.upper().replace(" ", ""))
    body, end = _read_end(cleaned, today)
    said = _sorted_words(body, text)
    for reader in (_on_working_days, _on_weekdays, _in_named_months, _on_days_of_the_month, _every):
        if rule := reader(said):
            return _checked(rule + end)
    raise _not_understood(text)


def _checked(rule: str) -> str:
    try:
        parts = parts_of(rule)
    except ValueError as error:
        raise RuleError(f"“{error.args[0][:60]}” cannot stand in a rule. Write it as every second Tuesday.", "repeat") from error
    days = [int(one) for one in parts.get("BYMONTHDAY", "1").split(",")]
    months = [int(one) for one in parts.get("BYMONTH", "1").split(",")]
    if not all(1 <= abs(one) <= 31 for one in days) or not all(1 <= one <= 12 for one in months):
        raise RuleError("A month has no such day. Write it as the 15th of each month.", "repeat")
    if "BYMONTH" in parts and "BYMONTHDAY" in parts:
        for month in months:
            longest = 29 if month == 2 else 30 if month in {4, 6, 9, 11} else 31
            if min(abs(one) for one in days) > longest:
                raise RuleError(f"{_LONG_MONTHS[month - 1]} has no day {min(days)}. Choose another day.", "repeat")
    return rule


def _not_understood(text: str, word: str | None = None) -> RuleError:
    quoted = f"“{word}” in “{text.strip()[:80]}”" if word else f"“{text.strip()[:80]}”"
    nearest = get_close_matches(" ".join(text.lower().split()), EXAMPLES, 1, 0.0)
    return RuleError(f"{quoted} was not understood. Nearest to it is “{nearest[0] if nearest else EXAMPLES[4]}”.", "repeat")


def _read_end(text: str, today: date) -> tuple[str, str]:
    words = text.split()
    if len(words) > 2 and words[-1] == "times" and words[-2].isdigit() and len(words[-2]) < 5:
        return " ".join(words[:-2]).rstrip(" ,"), f";COUNT={max(1, int(words[-2]))}"
    if "until" in words:
        at = words.index("until")
        return " ".join(words[:at]).rstrip(" ,"), f";UNTIL={read_day(' '.join(words[at + 1 :]), today):%Y%m%d}T235959"
    return text, ""


def _sorted_words(body: str, text: str) -> _Said:
    said = _Said()
    for word in body.split():
        single = word[:-1] if word.endswith("s") and len(word) > 3 else word
        number = re.fullmatch(r"(\d{1,3})(st|nd|rd|th)?", word)
        if word in _FILLERS:
            continue
        if number:
            (said.nths if number[2] else said.numbers).append(int(number[1]))
        elif word in _NUMBERS:
            said.numbers.append(_NUMBERS[word])
        elif word == "other":
            said.other = True
        elif word in _ORDINALS:
            said.ordinals.append(_ORDINALS[word])
        elif word in _ADVERBS:
            said.units.append(_ADVERBS[word])
        elif single in _UNIT_WORDS:
            said.units.append(_UNIT_WORDS[single])
        elif word == "working" or single == "workday":
            said.working = True
        elif single == "weekday":
            said.weekday = True
        elif day := _weekday_of(single):
            said.weekdays.append(day)
        elif month := _month_of(word):
            said.months.append(month)
        else:
            raise _not_understood(text, word)
    return said


def _weekday_of(word: str) -> str | None:
    short = {"tue": "tu", "tues": "tu", "wed": "we", "thu": "th", "thur": "th", "thurs": "th"}
    if word in short:
        return short[word].upper()
    return next(
        (code.upper() for code, name in _DAYS.items() if len(word) > 2 and word in {name.lower(), name.lower()[:3]}), None
    )


def _month_of(word: str) -> int | None:
    names = ((n, one.lower()) for n, one in enumerate(_LONG_MONTHS, 1))
    return next((n for n, name in names if word in {name, name[:3]} or (word == "sept" and n == 9)), None)


def _interval(said: _Said) -> int:
    """How many units lie between: ``every 3 months``, ``every other week``, ``quarterly``."""
    many = said.numbers[0] if said.numbers else 2 if said.other else 1
    return many * (3 if "quarter" in said.units else 2 if "fortnight" in said.units else 1)


def _with_interval(freq: str, many: int) -> str:
    return f"FREQ={freq}" + (f";INTERVAL={many}" if many > 1 else "")


def _on_working_days(said: _Said) -> str | None:
    if not (said.working or said.weekday) or said.weekdays or said.months or said.nths:
        return None
    if said.ordinals in ([1], [-1]):
        return _with_interval("MONTHLY", _interval(said)) + f";{WORKDAY}={'FIRST' if said.ordinals[0] == 1 else 'LAST'}"
    if said.ordinals or said.numbers or said.other:
        return None
    return f"FREQ=DAILY;{WORKDAY}=EVERY" if said.working else f"FREQ=WEEKLY;BYDAY={WORKING_WEEK}"


def _on_weekdays(said: _Said) -> str | None:
    """On weekdays: in the month (``the last Friday``, ``every first Monday``), or every so many weeks."""
    if not said.weekdays or said.nths:
        return None
    days = list(dict.fromkeys(said.weekdays))
    of_month = {"month", "quarter"} & set(said.units)
    if said.ordinals and (of_month or said.months or len(said.ordinals) > 1 or said.ordinals[0] in {1, -1}):
        placed = ",".join(f"{nth}{day}" for nth in said.ordinals for day in days)
        if said.months:
            return f"FREQ=YEARLY;BYMONTH={','.join(map(str, said.months))};BYDAY={placed}"
        return _with_interval("MONTHLY", _interval(said)) + f";BYDAY={placed}"
    if of_month or said.months or len(said.ordinals) > 1:
        return None
    many = said.ordinals[0] if said.ordinals else _interval(said)
    return _with_interval("WEEKLY", many) + f";BYDAY={','.join(days)}"


def _in_named_months(said: _Said) -> str | None:
    """On a day of named months: ``on 3 May each year``."""
    days = said.nths or said.numbers
    if not said.months or not days or said.weekdays:
        return None
    return f"FREQ=YEARLY;BYMONTH={','.join(map(str, said.months))};BYMONTHDAY={','.join(map(str, days))}"


def _on_days_of_the_month(said: _Said) -> str | None:
    """On days of the month by their number: ``on the 1st and 15th``, ``the last day of the month``, ``the 31st or the last day``."""
    if said.weekdays or said.months or {"week", "fortnight", "year"} & set(said.units):
        return None
    every = _with_interval("MONTHLY", _interval(said))
    if said.nths and said.ordinals == [-1] and len(said.nths) == 1 and said.nths[0] > 28:
        return every + f";BYMONTHDAY={','.join(str(one) for one in range(28, said.nths[0] + 1))};BYSETPOS=-1"
    if said.nths and not said.ordinals:
        return every + f";BYMONTHDAY={','.join(map(str, sorted(set(said.nths))))}"
    if said.ordinals in ([1], [-1]) and "day" in said.units:
        return every + f";BYMONTHDAY={said.ordinals[0]}"
    return None


def _every(said: _Said) -> str | None:
    """Every so many days, weeks, months or years."""
    if len(said.units) != 1 or said.weekdays or said.months or said.nths or len(said.ordinals) > 1 or len(said.numbers) > 1:
        return None
    unit = {"quarter": "month", "fortnight": "week"}.get(said.units[0], said.units[0])
    many = _interval(said) * (said.ordinals[0] if said.ordinals else 1)
    return _with_interval(_UNITS[unit], many) if many > 0 else None


def note_on(rule: str) -> str:
    """What people should know of a rule: what becomes of a day that short months have not. Empty where there is nothing."""
    parts = dict(part.split("=", 1) for part in rule.upper().split(";") if "=" in part)
    days = [int(one) for one in parts.get("BYMONTHDAY", "").split(",") if one]
    if parts.get("FREQ") != "MONTHLY" or len(days) != 1 or days[0] < 29:
        return ""
    nth = _nth(days[0])
    return f"Months without a {nth} are left out. Write “the {nth} or the last day of each month” where they should not be."


def say_rule(rule: str, today: date) -> str:
    """A rule in words, which ``read_rule`` reads again."""
    try:
        parts = parts_of(rule)
    except ValueError:
        return "by a rule that cannot be read"
    return _say_body(parts) + _say_end(parts, today)


def say_repeat(repeat: Repeat, today: date) -> str:
    """How a task repeats as one line, which ``read_repeat_line`` reads again: ``every second Tuesday; from 2027-03-09; 3 ahead``.
    A rule that words do not hold exactly stands as an RRULE."""
    words = say_rule(repeat.rule, today)
    try:
        exact = parts_of(read_rule(words, today)) == parts_of(repeat.rule)
    except (RuleError, ValueError):
        exact = False
    parts = [words if exact else repeat.rule.replace(";", " "), f"from {repeat.first}"]
    parts += [f"{repeat.ahead} ahead"] if repeat.mode == "ahead" else []
    parts += [f"made up to {repeat.last}"] if repeat.last else []
    parts += [] if repeat.off_holidays else ["also on days off"]
    return "; ".join(parts)


def read_repeat_line(text: str, today: date, first: date) -> Repeat:
    """The inverse of ``say_repeat``.

    Args:
        first: from which it counts, where the line does not say.

    Raises:
        RuleError: a part that cannot be read.
    """
    rule, *parts = [part.strip() for part in text.split(";")]
    if rule.upper().startswith("FREQ="):
        rule = rule.replace(" ", ";")
    repeat = Repeat(read_rule(rule, today), first.isoformat())
    for part in parts:
        if found := re.fullmatch(r"(from|made up to) (.+)", part, re.IGNORECASE):
            day = read_day(found[2], today).isoformat()
            repeat = replace(repeat, first=day) if found[1].lower() == "from" else replace(repeat, last=day)
        elif found := re.fullmatch(r"(\d{1,2}) ahead", part, re.IGNORECASE):
            repeat = replace(repeat, mode="ahead", ahead=int(found[1]))
        elif part.lower() == "also on days off":
            repeat = replace(repeat, off_holidays=False)
        elif part:
            raise RuleError(
                f"“{part[:60]}” was not understood. Write it as every second Tuesday; from 2027-03-09; 3 ahead.", "repeat"
            )
    check_repeat(repeat)
    return repeat


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
    days, numbers, which = parts.get("BYDAY", ""), parts.get("BYMONTHDAY", ""), parts.get(WORKDAY)
    of_month = "of the month" if interval == 1 else f"every {interval} months"
    if which == "EVERY":
        return "every working day"
    if which:
        return f"the {which.lower()} working day {of_month}"
    if unit == "month" and days:
        return f"the {_joined(_say_placed(one) for one in days.split(','))} {of_month}"
    if unit == "month" and numbers:
        return _say_numbers(numbers, parts.get("BYSETPOS"), interval)
    if unit == "year" and "BYMONTH" in parts:
        months = _joined(_MONTHS[int(one) - 1].title() for one in parts["BYMONTH"].split(","))
        day = (
            f"the {_joined(_say_placed(one) for one in days.split(','))} of {months}"
            if days
            else f"{_joined((numbers or '1').split(','))} {months}"
        )
        return f"every year on {day}"
    if unit == "week" and days == WORKING_WEEK and interval == 1:
        return "every weekday"
    if unit == "week" and days:
        said = _joined(_DAYS[one.lower()] for one in days.split(","))
        return (
            f"every {said}" if interval == 1 else f"every second {said}" if interval == 2 else f"every {interval} weeks on {said}"
        )
    return f"every {unit}" if interval == 1 else f"every {interval} {unit}s"


def _joined(words: Iterable[str]) -> str:
    *most, last = list(words) or [""]
    return f"{', '.join(most)} and {last}" if most else last


def _say_placed(one: str) -> str:
    ordinal = next((word for word, number in _ORDINALS.items() if one[:-2] and number == int(one[:-2])), "")
    return f"{ordinal} {_DAYS[one[-2:].lower()]}".strip()


def _say_numbers(numbers: str, position: str | None, interval: int) -> str:
    every = "of each month" if interval == 1 else f"every {interval} months"
    found = [int(one) for one in numbers.split(",")]
    if position == "-1" and found[0] == 28:
        return f"the {_nth(found[-1])} or the last day {every}"
    return f"the {_joined('last day' if one == -1 else _nth(one) for one in found)} {'of the month' if found == [-1] and interval == 1 else every}"


def _nth(number: int) -> str:
    ending = "th" if 10 <= number % 100 <= 20 else {1: "st", 2: "nd", 3: "rd"}.get(number % 10, "th")
    return f"{number}{ending}"
