"""Formulas of computed fields, in plain words: ``Unit price × Count``, ``if Finish > Deadline then "late" else ""``,
``sum of Cost below``, ``working days from Start to Finish``.

A formula is read into a tree once, by recursive descent, and evaluated for each task. It can only reckon: there is
nothing in it that could call out, loop or take long. What has no value gives nothing, and so does what cannot be.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from decimal import Decimal, InvalidOperation
from typing import Protocol

from .errors import RuleError

Value = Decimal | str | bool | date | None
LONGEST = 2000
DEEPEST = 40


class Surroundings(Protocol):
    """What a formula can ask about the task that it is evaluated for."""

    def value(self, key: str) -> Value:
        """The value of a field."""

    def below(self, key: str) -> Iterable[Value]:
        """The values of a field of the tasks right below."""

    def working_days(self, first: date, last: date) -> Decimal:
        """Working days from the beginning of one day to the end of another."""

    @property
    def today(self) -> date:
        """The day that the plan is read at."""


Evaluate = Callable[[Surroundings], Value]


@dataclass(frozen=True, slots=True)
class Formula:
    """A formula that has been read.

    Attributes:
        text: as it was typed.
        uses: keys of the fields that it asks for on the task itself.
        sums: keys of the fields that it asks for on the tasks below.
    """

    text: str
    evaluate: Evaluate
    uses: frozenset[str]
    sums: frozenset[str]


_TOKEN = re.compile(
    r"""\s*(?:(?P<date>\d{4}-\d{2}-\d{2})|(?P<number>\d+(?:\.\d+)?)|"(?P<text>[^"]*)"|(?P<sign><=|>=|<>|[-+*/×÷=≠<>≤≥(),])|(?P<word>[^\W\d][\w']*))""",
    re.UNICODE,
)
_COUNT = re.compile(r"\s*count\s+below\b", re.IGNORECASE)  # a field may be called Count
_SIGNS = {"≠": "<>", "≤": "<=", "≥": ">=", "×": "*", "÷": "/"}
_SUMS = ("sum", "average", "least", "most")


def read_formula(text: str, names: Mapping[str, str]) -> Formula:
    """Read a formula.

    Args:
        text: as it was typed.
        names: the key of each field that can be named, by its name in lower case.

    Raises:
        RuleError: it cannot be read; the sentence says where, and what is wanted there.
    """
    if len(text) > LONGEST:
        raise RuleError(f"A formula has {LONGEST} characters at most.", "formula")
    if not text.strip():
        raise RuleError("Write a formula, such as Unit price × Count.", "formula")
    reader = _Reader(text, names)
    evaluate = reader.whole()
    return Formula(text, evaluate, frozenset(reader.uses), frozenset(reader.sums))


class _Reader:
    def __init__(self, text: str, names: Mapping[str, str]) -> None:
        self.text = text
        self.at = 0
        self.depth = 0
        self.uses: set[str] = set()
        self.sums: set[str] = set()
        self._names = sorted(names.items(), key=lambda pair: -len(pair[0]))  # the longest name that fits is meant

    def whole(self) -> Evaluate:
        found = self._either()
        if self.text[self.at :].strip():
            raise self._wrong("an operator, such as + or ×, or the end")
        return found

    def _wrong(self, wanted: str) -> RuleError:
        rest = self.text[self.at :].strip()
        where = f"at “{rest[:24]}”" if rest else "at its end"
        return RuleError(f"The formula cannot be read {where}: {wanted} is wanted there.", "formula")

    def _peek(self) -> tuple[str, str] | None:
        found = _TOKEN.match(self.text, self.at)
        if found is None:
            return None
        kind = str(found.lastgroup)
        token = found[kind]
        return kind, (_SIGNS.get(token, token) if kind == "sign" else token.lower() if kind == "word" else token)

    def _take(self, *tokens: str) -> str | None:
        """Go past the next word or sign, where it is one of these."""
        found = self._peek()
        if found and found[0] in {"sign", "word"} and found[1] in tokens:
            match = _TOKEN.match(self.text, self.at)
            assert match is not None
            self.at = match.end()
            return found[1]
        return None

    def _need(self, token: str) -> None:
        if self._take(token) is None:
            raise self._wrong(f"“{token}”")

    def _either(self) -> Evaluate:
        self.depth += 1
        if self.depth > DEEPEST:
            raise RuleError("That formula is nested too deeply. Split it into two fields.", "formula")
        found = self._if() if self._take("if") else self._or()
        self.depth -= 1
        return found

    def _if(self) -> Evaluate:
        holds = self._either()
        self._need("then")
        then = self._either()
        otherwise = self._either() if self._take("else") else _nothing
        return lambda around: then(around) if holds(around) is True else otherwise(around)

    def _or(self) -> Evaluate:
        found = self._and()
        while self._take("or"):
            found = _joined(found, self._and(), any)
        return found

    def _and(self) -> Evaluate:
        found = self._not()
        while self._take("and"):
            found = _joined(found, self._not(), all)
        return found

    def _not(self) -> Evaluate:
        if self._take("not"):
            inner = self._not()
            return lambda around: inner(around) is not True
        return self._compared()

    def _compared(self) -> Evaluate:
        left = self._sum()
        if sign := self._take("=", "<>", "<", "<=", ">", ">="):
            right = self._sum()
            return lambda around: compare(sign, left(around), right(around))
        return left

    def _sum(self) -> Evaluate:
        found = self._product()
        while sign := self._take("+", "-"):
            found = _reckoned(sign, found, self._product())
        return found

    def _product(self) -> Evaluate:
        found = self._one()
        while sign := self._take("*", "/"):
            found = _reckoned(sign, found, self._one())
        return found

    def _one(self) -> Evaluate:
        if self._take("-"):
            return _reckoned("-", lambda _: Decimal(0), self._one())
        if self._take("("):
            found = self._either()
            self._need(")")
            return found
        if not _COUNT.match(self.text, self.at) and (name := self._name()):
            self.uses.add(name)
            return lambda around: around.value(name)
        token = self._peek()
        if token is None:
            raise self._wrong("a number, a text in quotes, or the name of a field")
        if token[0] in {"number", "text", "date"}:
            match = _TOKEN.match(self.text, self.at)
            assert match is not None
            value = self._literal(*token)
            self.at = match.end()
            return lambda _: value
        return self._words()

    def _literal(self, kind: str, text: str) -> Value:
        if kind == "number":
            return Decimal(text)
        if kind == "text":
            return text
        try:
            return date.fromisoformat(text)
        except ValueError as error:
            raise self._wrong("a date that there is, such as 2027-03-17") from error

    def _words(self) -> Evaluate:
        if self._take("today"):
            return lambda around: around.today
        if word := self._take("yes", "no"):
            return lambda _: word == "yes"
        if self._take("nothing"):
            return _nothing
        if self._take("count"):
            self._need("below")
            return lambda around: Decimal(sum(1 for _ in around.below("number")))
        if word := self._take(*_SUMS):
            self._need("of")
            key = self._name()
            if key is None:
                raise self._wrong("the name of a field")
            self._need("below")
            self.sums.add(key)
            return lambda around: total(word, around.below(key))
        if self._take("round"):
            return self._rounded()
        working = self._take("working")
        if self._take("days"):
            return self._days(working is not None)
        raise self._wrong("the name of a field, a number or a text in quotes")

    def _rounded(self) -> Evaluate:
        self._need("(")
        inner = self._either()
        places = 0
        if self._take(","):
            token = self._peek()
            if token is None or token[0] != "number" or not token[1].isdigit() or len(token[1]) > 1:
                raise self._wrong("how many decimals, from 0 to 9")
            places = int(token[1])
            match = _TOKEN.match(self.text, self.at)
            assert match is not None
            self.at = match.end()
        self._need(")")
        return lambda around: _round(inner(around), places)

    def _days(self, working: bool) -> Evaluate:
        self._need("from")
        first = self._sum()
        self._need("to")
        last = self._sum()

        def days(around: Surroundings) -> Value:
            begin, end = first(around), last(around)
            if not isinstance(begin, date) or not isinstance(end, date):
                return None
            return around.working_days(begin, end) if working else Decimal((end - begin).days)

        return days

    def _name(self) -> str | None:
        """The key of the field that is named next, and go past it."""
        start = self.at + len(self.text[self.at :]) - len(self.text[self.at :].lstrip())
        rest = self.text[start:].lower()
        for name, key in self._names:
            if rest.startswith(name) and not re.match(r"\w", rest[len(name) :]):
                self.at = start + len(name)
                return key
        return None


def _nothing(_: Surroundings) -> Value:
    return None


def _joined(left: Evaluate, right: Evaluate, how: Callable[[Iterable[bool]], bool]) -> Evaluate:
    return lambda around: how(side(around) is True for side in (left, right))


def _reckoned(sign: str, left: Evaluate, right: Evaluate) -> Evaluate:
    return lambda around: reckon(sign, left(around), right(around))


def reckon(sign: str, left: Value, right: Value) -> Value:
    """Arithmetic. A date and a number give a date, two dates a number of days, a text and anything a text by ``+``."""
    if sign == "+" and (isinstance(left, str) or isinstance(right, str)):
        return say(left) + say(right)
    if isinstance(left, date):
        return _from_date(sign, left, right)
    if not isinstance(left, Decimal) or not isinstance(right, Decimal):
        return None
    try:
        if sign == "/":
            return left / right if right else None
        return left + right if sign == "+" else left - right if sign == "-" else left * right
    except (InvalidOperation, OverflowError):
        return None


def _from_date(sign: str, left: date, right: Value) -> Value:
    if sign == "-" and isinstance(right, date):
        return Decimal((left - right).days)
    if isinstance(right, Decimal) and sign in {"+", "-"}:
        try:
            return left + timedelta(days=int(right if sign == "+" else -right))
        except OverflowError:
            return None
    return None


def compare(sign: str, left: Value, right: Value) -> bool:
    """A comparison. Texts compare without regard to case; things of two sorts are never equal, and none is less."""
    if isinstance(left, str) and isinstance(right, str):
        left, right = left.casefold(), right.casefold()
    if sign in {"=", "<>"}:
        same = type(left) is type(right) and left == right
        return same if sign == "=" else not same
    if left is None or type(left) is not type(right) or isinstance(left, bool):
        return False
    less, equal = left < right, left == right  # type: ignore[operator]
    return {"<": less, "<=": less or equal, ">": not less and not equal, ">=": not less}[sign]


def total(how: str, values: Iterable[Value]) -> Value:
    """``sum``, ``average``, ``least`` or ``most`` of what has a value; the last two of dates as well."""
    found = [one for one in values if isinstance(one, Decimal | date)]
    if how in {"least", "most"}:
        alike = [one for one in found if type(one) is type(found[0])]
        return (min if how == "least" else max)(alike) if alike else None
    numbers = [one for one in found if isinstance(one, Decimal)]
    if not numbers:
        return None
    return sum(numbers, Decimal(0)) / (len(numbers) if how == "average" else 1)


def _round(value: Value, places: int) -> Value:
    return round(value, places) if isinstance(value, Decimal) and value.is_finite() else None


def say(value: Value) -> str:
    """A value in words."""
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, Decimal):
        return f"{value.normalize():f}" if value else "0"
    return value.isoformat() if isinstance(value, date) else value
