"""The values that formulas reckon with: numbers, texts, dates and lists; what combines with what, and how it is said."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date, timedelta
from decimal import Decimal

from ..common.rounding import rounded

LONGEST_RESULT = 2000
LARGEST = Decimal(10) ** 18


class FormulaError(str):
    """The value of a cell that cannot be reckoned: a sentence that says why. Whatever uses it has the same error."""

    __slots__ = ()


Value = Decimal | str | bool | date | tuple[str, ...] | None
"""A tuple holds the names of a list of which several can be chosen."""


def wrong_of(*values: Value) -> FormulaError | None:
    """The first error among some values."""
    return next((value for value in values if isinstance(value, FormulaError)), None)


def sort_of(value: Value) -> str:
    """What a value is, in a word for people."""
    if isinstance(value, bool):
        return "yes or no"
    if isinstance(value, Decimal):
        return "a number"
    if isinstance(value, date):
        return "a date"
    return "a list" if isinstance(value, tuple) else "nothing" if value is None else "a text"


def reckon(sign: str, left: Value, right: Value) -> Value:
    """Arithmetic. A date and a number give a date, two dates a number of days, a text and anything a text by ``+``.

    Returns:
        Nothing where a side has no value or is divided by nought; an error that names both where they cannot be put together, or the result is
        larger than a cell can hold.
    """
    if wrong := wrong_of(left, right):
        return wrong
    if sign == "+" and (isinstance(left, str) or isinstance(right, str)):
        return _bounded(say(left) + say(right))
    if left is None or right is None:
        return None
    if isinstance(left, date):
        return _from_date(sign, left, right)
    if not isinstance(left, Decimal) or not isinstance(right, Decimal):
        return _cannot(left, _SIGN_WORDS[sign], right)
    try:
        if sign == "/":
            return _bounded(left / right) if right else None
        return _bounded(left + right if sign == "+" else left - right if sign == "-" else left * right)
    except ArithmeticError:
        return FormulaError("a number too large to reckon with")


_SIGN_WORDS = {"+": "+", "-": "-", "*": "×", "/": "÷"}


def _cannot(left: Value, sign: str, right: Value) -> FormulaError:
    return FormulaError(f"{sort_of(left)} {sign} {sort_of(right)} cannot be")


def _bounded(value: Decimal | str) -> Value:
    if isinstance(value, str):
        return value if len(value) <= LONGEST_RESULT else FormulaError(f"a text of more than {LONGEST_RESULT} characters")
    return value if value.is_finite() and abs(value) < LARGEST else FormulaError("a number too large to reckon with")


def _from_date(sign: str, left: date, right: Value) -> Value:
    if sign == "-" and isinstance(right, date):
        return Decimal((left - right).days)
    if isinstance(right, Decimal) and sign in {"+", "-"}:
        try:
            return left + timedelta(days=int(right if sign == "+" else -right))
        except OverflowError:
            return FormulaError("a date that no calendar has")
    return _cannot(left, _SIGN_WORDS[sign], right)


def compare(sign: str, left: Value, right: Value) -> Value:
    """A comparison. Texts compare without regard to case. What has no value is equal to nothing alone, and never less.

    Returns:
        yes or no; an error that names both where they are of two sorts.
    """
    if wrong := wrong_of(left, right):
        return wrong
    if isinstance(left, tuple) and isinstance(right, str):
        left = say(left)
    if isinstance(left, str) and isinstance(right, str):
        left, right = left.casefold(), right.casefold()
    if left is None or right is None:
        return {"=": left is right, "<>": left is not right}.get(sign, False)
    if sort_of(left) != sort_of(right):
        return _cannot(left, {"<>": "≠", "<=": "≤", ">=": "≥"}.get(sign, sign), right)
    if sign in {"=", "<>"}:
        return (left == right) == (sign == "=")
    if isinstance(left, bool | tuple):
        return _cannot(left, {"<=": "≤", ">=": "≥"}.get(sign, sign), right)
    less, equal = left < right, left == right  # type: ignore[operator]
    return {"<": less, "<=": less or equal, ">": not less and not equal, ">=": not less}[sign]


def has(left: Value, wanted: Value) -> Value:
    """True where a list has an entry of that name, or a text those words; without regard to case."""
    if wrong := wrong_of(left, wanted):
        return wrong
    if left is None or wanted is None:
        return False
    if not isinstance(wanted, str) or not isinstance(left, str | tuple):
        return _cannot(left, "has", wanted)
    if isinstance(left, tuple):
        return wanted.casefold() in {one.casefold() for one in left}
    return wanted.casefold() in left.casefold()


def total(how: str, values: Iterable[Value]) -> Value:
    """``sum``, ``average``, ``least`` or ``most`` of what has a value; the last two of dates as well. One error makes one."""
    values = list(values)
    if wrong := wrong_of(*values):
        return wrong
    found = [one for one in values if isinstance(one, Decimal | date)]
    if how in {"least", "most"}:
        alike = [one for one in found if type(one) is type(found[0])]
        return (min if how == "least" else max)(alike) if alike else None
    numbers = [one for one in found if isinstance(one, Decimal)]
    if not numbers:
        return None
    try:
        return _bounded(sum(numbers, Decimal(0)) / (len(numbers) if how == "average" else 1))
    except ArithmeticError:
        return FormulaError("a number too large to reckon with")


def round_to(value: Value, places: int) -> Value:
    if value is None or isinstance(value, FormulaError):
        return value
    return rounded(value, places) if isinstance(value, Decimal) else FormulaError(f"{sort_of(value)} cannot be rounded")


def say(value: Value) -> str:
    """A value in words."""
    if value is None:
        return ""
    if isinstance(value, tuple):
        return ", ".join(value)
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, Decimal):
        return f"{value.normalize():f}" if value else "0"
    return value.isoformat() if isinstance(value, date) else value
