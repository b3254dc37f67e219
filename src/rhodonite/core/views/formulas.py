"""Formulas of computed fields, in plain words: ``Unit price × Count``, ``if Finish > Deadline then "late" else ""``,
``sum of Cost below``, ``working days from Start to Finish``.

A formula is read into a tree once, by recursive descent, and evaluated for each task. It can only reckon: there is
nothing in it that could call out, loop or take long; numbers, texts and nesting are bounded. What has no value gives
nothing; what cannot be reckoned gives an error in its cell that names what it was asked to put together. Halves are
rounded away from zero.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Protocol

from ..common.errors import RuleError
from .formula_values import FormulaError, Value, compare, has, reckon, round_to, total, wrong_of

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

        def chosen(around: Surroundings) -> Value:
            held = holds(around)
            if isinstance(held, FormulaError):
                return held
            return then(around) if held is True else otherwise(around)

        return chosen

    def _or(self) -> Evaluate:
        sides = [self._and()]
        while self._take("or"):
            sides.append(self._and())
        return sides[0] if len(sides) == 1 else _joined(sides, any)

    def _and(self) -> Evaluate:
        sides = [self._not()]
        while self._take("and"):
            sides.append(self._not())
        return sides[0] if len(sides) == 1 else _joined(sides, all)

    def _not(self) -> Evaluate:
        turns = 0
        while self._take("not"):
            turns += 1
        inner = self._compared()
        if not turns:
            return inner

        def turned(around: Surroundings) -> Value:
            value = inner(around)
            return value if isinstance(value, FormulaError) else (value is True) == (turns % 2 == 0)

        return turned

    def _compared(self) -> Evaluate:
        left = self._sum()
        if self._take("has"):
            wanted = self._sum()
            return lambda around: has(left(around), wanted(around))
        if sign := self._take("=", "<>", "<", "<=", ">", ">="):
            right = self._sum()
            return lambda around: compare(sign, left(around), right(around))
        return left

    def _sum(self) -> Evaluate:
        return self._chain(self._product, "+", "-")

    def _product(self) -> Evaluate:
        return self._chain(self._one, "*", "/")

    def _chain(self, part: Callable[[], Evaluate], *signs: str) -> Evaluate:
        """Parts joined by signs, reckoned from left to right: one after the other, however many they are."""
        first = part()
        rest: list[tuple[str, Evaluate]] = []
        while sign := self._take(*signs):
            rest.append((sign, part()))
        if not rest:
            return first

        def reckoned(around: Surroundings) -> Value:
            value = first(around)
            for sign, one in rest:
                value = reckon(sign, value, one(around))
            return value

        return reckoned

    def _one(self) -> Evaluate:
        signs = 0
        while self._take("-"):
            signs += 1
        inner = self._bare()
        if not signs:
            return inner
        return lambda around: reckon("*", Decimal(-1 if signs % 2 else 1), inner(around))

    def _bare(self) -> Evaluate:
        """A number, a text, a field, or something in parentheses."""
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
        return lambda around: round_to(inner(around), places)

    def _days(self, working: bool) -> Evaluate:
        self._need("from")
        first = self._sum()
        self._need("to")
        last = self._sum()

        def days(around: Surroundings) -> Value:
            begin, end = first(around), last(around)
            if wrong := wrong_of(begin, end):
                return wrong
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


def _joined(sides: Sequence[Evaluate], how: Callable[[Iterable[bool]], bool]) -> Evaluate:
    def joined(around: Surroundings) -> Value:
        values = [side(around) for side in sides]
        return wrong_of(*values) or how(value is True for value in values)

    return joined


def circle_in(uses: Mapping[str, Collection[str]]) -> list[str]:
    """Fields that ask for one another in a circle, in order, the first again at the end; empty where there is none.

    Args:
        uses: by field those that it asks for on the same task.
    """
    done: set[str] = set()
    for start in uses:
        path: list[str] = [start]
        ways = [iter(sorted(uses.get(start, ())))]
        while ways:
            following = next(ways[-1], None)
            if following is None:
                ways.pop()
                done.add(path.pop())
            elif following in path:
                return [*path[path.index(following) :], following]
            elif following in uses and following not in done:
                path.append(following)
                ways.append(iter(sorted(uses[following])))
    return []
