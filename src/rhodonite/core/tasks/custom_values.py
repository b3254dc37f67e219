"""Values of a project's own fields: what was typed, read into the form in which it is kept."""

from __future__ import annotations

import re
from datetime import date, datetime
from decimal import Decimal, InvalidOperation
from typing import Any

from ..common.bounds import LONGEST_TYPED, check_day, is_id
from ..common.dates import read_day
from ..common.errors import RuleError
from ..common.rounding import rounded
from .custom_fields import LONGEST_NUMBER, LONGEST_TEXT, LONGEST_TYPED_VALUE, MOST_OF_A_SORT, CustomField


def read_value(field: CustomField, typed: Any, today: date) -> Any:
    """Read what was typed into a field, into the form that it is kept in.

    Returns:
        text and link: str; number and money: a number; date: ISO text; yes_no: bool; person: id; choice: an option's
        id; choices and tasks: a list of ids. None for nothing.

    Raises:
        RuleError: it cannot be read, or the field is computed.
    """
    if field.type == "computed":
        raise RuleError(f"{field.name} is computed. Change what it is computed from.", field.key)
    if typed is None or (isinstance(typed, str) and not typed.strip()) or typed == []:
        return None
    if not isinstance(typed, str | int | float | Decimal | date | list | tuple) or len(str(typed)) > LONGEST_TYPED_VALUE:
        raise RuleError(f"That is too long for {field.name}, or nothing that it holds.", field.key)
    try:
        return _READERS[field.type](field, typed, today)
    except RuleError as error:
        raise RuleError(error.sentence, field.key) from error


def _text(field: CustomField, typed: Any, _: date) -> str:
    if isinstance(typed, list | tuple):
        raise RuleError(f"{field.name} holds a text.")
    text = str(typed).strip()
    if len(text) > LONGEST_TEXT:
        raise RuleError(f"{field.name} has {LONGEST_TEXT} characters at most.")
    return text


def _exact(field: CustomField, typed: Any) -> Decimal:
    """A number as it was typed, with all its decimals."""
    if isinstance(typed, bool | list | tuple) or len(str(typed)) > LONGEST_NUMBER:
        raise RuleError(f"Write {field.name} as a number, such as 1200 or 12.5.")
    text = str(typed).replace(field.unit, "") if field.unit else str(typed)
    cleaned = re.sub(r"[\s’']", "", text)
    if re.fullmatch(r"-?\d{1,3}(,\d{3})+(\.\d+)?", cleaned):
        cleaned = cleaned.replace(",", "")
    try:
        number = Decimal(cleaned.replace(",", "."))
    except InvalidOperation as error:
        raise RuleError(f"“{typed}” is no number. Write {field.name} as 1200 or 12.5.") from error
    if not number.is_finite() or abs(number) >= 10**15:
        raise RuleError(f"{field.name} is too large.")
    return number


def _number(field: CustomField, typed: Any, _: date) -> float | int:
    number = rounded(_exact(field, typed), field.decimals)
    return float(number) if field.decimals else int(number)


def say_rounding(field: CustomField, typed: Any) -> str | None:
    """What to say where a number was typed with more decimals than its field keeps; None where it is kept as typed."""
    if field.type not in {"number", "money"} or typed is None or not str(typed).strip():
        return None
    exact = _exact(field, typed)
    kept = rounded(exact, field.decimals)
    return None if kept == exact else f"{field.name}: {typed} is kept as {kept:f}."


def _date(_: CustomField, typed: Any, today: date) -> str:
    if isinstance(typed, list | tuple) or len(str(typed)) > LONGEST_TYPED:
        raise RuleError("Write a date as 8 Mar, fri or 2027-03-08.")
    day = typed.date() if isinstance(typed, datetime) else typed if isinstance(typed, date) else read_day(str(typed), today)
    return check_day(day).isoformat()


_YES = {"yes", "y", "true", "1", "x", "✓"}


_NO = {"no", "n", "false", "0", "-"}


def _yes_no(field: CustomField, typed: Any, _: date) -> bool:
    word = str(typed).strip().lower()
    if word not in _YES | _NO:
        raise RuleError(f"Write yes or no for {field.name}.")
    return word in _YES


def _option(field: CustomField, typed: Any) -> str:
    text = str(typed).strip()
    for option in field.options:
        if text == option.id or text.casefold() == option.name.casefold():
            return option.id
    raise RuleError(f"“{text}” is not in the list of {field.name}. Choose {', '.join(o.name for o in field.options[:12])}.")


def _options(field: CustomField, typed: Any, _: date) -> list[str]:
    several = typed if isinstance(typed, list | tuple) else re.split(r"[;,]", str(typed))
    found = [_option(field, one) for one in several if str(one).strip()]
    return list(dict.fromkeys(found))


def _link(field: CustomField, typed: Any, _: date) -> str:
    address = str(typed).strip()
    if re.match(r"(?!https?:|mailto:)[a-z][a-z0-9+.-]*:(?!\d)", address, re.I):
        raise RuleError(f"{field.name} leads to pages only: begin it with https:// or http://.")
    if "://" not in address and not address.startswith("mailto:"):
        address = f"https://{address}"
    if not re.fullmatch(r"(https?://[^\s/]+\S*|mailto:\S+@\S+)", address) or len(address) > LONGEST_TEXT:
        raise RuleError(f"Write {field.name} as an address, such as https://corvane.example/plans.")
    return address


def _person(field: CustomField, typed: Any, _: date) -> str:
    if not isinstance(typed, str) or not is_id(typed):
        raise RuleError(f"{field.name} holds a person. Choose one.")
    return typed.lower()


def _ids(field: CustomField, typed: Any, _: date) -> list[str]:
    several = typed if isinstance(typed, list | tuple) else [typed]
    if len(several) > MOST_OF_A_SORT or not all(is_id(one) for one in several):
        raise RuleError(f"{field.name} holds tasks, {MOST_OF_A_SORT} at most. Choose them.")
    return list(dict.fromkeys(one.lower() for one in several))


_READERS: dict[str, Any] = {
    "text": _text,
    "number": _number,
    "money": _number,
    "date": _date,
    "yes_no": _yes_no,
    "person": _person,
    "choice": lambda field, typed, _: _option(field, typed),
    "choices": _options,
    "link": _link,
    "tasks": _ids,
    "tied": _ids,
}
