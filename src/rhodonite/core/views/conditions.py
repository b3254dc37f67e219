"""Conditions on tasks: clauses over any field, joined by and, or. Scope sentences, tints and sheets are made of them."""

from __future__ import annotations

import json
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from decimal import Decimal, InvalidOperation
from typing import Any

from ..common.errors import RuleError
from ..people.viewer import ME, MY_TEAM, NOBODY, Viewer
from ..schedule.plan import Row
from .columns import Column, Columns, ColumnType, Raw

LONGEST = 20_000
DEEPEST = 6
MOST_CLAUSES = 60
MOST_VALUES = 500
LONGEST_VALUE = 2000

OPERATORS: dict[ColumnType, dict[str, str]] = {
    "text": {"contains": "contains", "lacks": "does not contain", "is": "is", "empty": "is empty", "filled": "is filled"},
    "number": {
        "is": "is", "least": "is at least", "most": "is at most", "more": "is more than", "less": "is less than",
        "empty": "is empty", "filled": "is filled",
    },
    "date": {
        "within": "is within the next", "past": "was within the last", "before_today": "is before today", "before": "is before",
        "after": "is after", "on": "is on", "this_week": "is this week", "next_week": "is next week", "this_month": "is this month",
        "empty": "is empty", "filled": "is filled",
    },
    "yes_no": {"yes": "is so", "no": "is not so"},
    "one_of": {"any": "is", "none": "is not", "empty": "is empty", "filled": "is filled"},
    "several_of": {"any": "has", "all": "has all of", "none": "has none of", "empty": "is empty", "filled": "is filled"},
}  # fmt: skip
BARE = frozenset({"empty", "filled", "yes", "no", "before_today", "this_week", "next_week", "this_month"})
"""Operators that need no value."""
FIRST: dict[ColumnType, tuple[str, Any]] = {
    "text": ("contains", ""), "number": ("least", 1), "date": ("within", 7), "yes_no": ("yes", None), "one_of": ("any", []),
    "several_of": ("any", []),
}  # fmt: skip
"""By type the operator and the value with which a clause begins that somebody adds."""


@dataclass(frozen=True, slots=True)
class Clause:
    """One clause: a field, an operator of its type, and the value that it is held against."""

    key: str
    operator: str
    value: Any = None


@dataclass(frozen=True, slots=True)
class Group:
    """Clauses and groups, all or any of which must hold. An empty one always holds."""

    joined: str = "all"
    parts: tuple[Clause | Group, ...] = ()

    @property
    def clauses(self) -> list[Clause]:
        """Every clause in it, however deep."""
        return [one for part in self.parts for one in (part.clauses if isinstance(part, Group) else [part])]


Test = Callable[[Row], bool]


def read_group(kept: str | Mapping[str, Any] | None) -> Group:
    """A condition from the form that addresses and sheets keep it in: ``{"all": [["deadline", "within", 21], {"any": []}]}``.

    Raises:
        RuleError: it is of another form, too long or too deep.
    """
    if not kept:
        return Group()
    wrong = RuleError("That condition cannot be read. Choose its clauses again.", "where")
    try:
        value = kept
        if isinstance(kept, str):
            if len(kept) > LONGEST:
                raise wrong
            value = json.loads(kept)
        group = _group(value, 0)
    except (ValueError, TypeError, AttributeError, RecursionError) as error:
        raise wrong from error
    if len(group.clauses) > MOST_CLAUSES:
        raise RuleError(f"A condition has {MOST_CLAUSES} clauses at most.", "where")
    return group


def _group(value: Any, depth: int) -> Group:
    if depth > DEEPEST:
        raise ValueError("too deep")
    ((joined, parts),) = value.items()
    if joined not in {"all", "any"}:
        raise ValueError(joined)
    return Group(joined, tuple(_group(one, depth + 1) if isinstance(one, Mapping) else _clause(*one) for one in parts))


def _clause(key: str, operator: str, value: Any = None) -> Clause:
    if not isinstance(key, str) or not isinstance(operator, str) or len(key) > LONGEST_VALUE:
        raise ValueError("no clause")
    several = value if isinstance(value, list | tuple) else [value]
    if len(several) > MOST_VALUES or not all(_is_value(one) for one in several):
        raise ValueError("no value")
    return Clause(key, operator, value)


def _is_value(one: Any) -> bool:
    return one is None or (isinstance(one, str) and len(one) <= LONGEST_VALUE) or isinstance(one, bool | int | float)


def write_group(group: Group) -> dict[str, Any]:
    """The inverse of ``read_group``."""
    parts: list[Any] = [
        write_group(one) if isinstance(one, Group) else [one.key, one.operator, *([] if one.value is None else [one.value])]
        for one in group.parts
    ]
    return {group.joined: parts}


def holding(group: Group, catalogue: Columns, viewer: Viewer) -> Test:
    """A condition made ready to be asked of many rows.

    Args:
        viewer: for clauses that say “me” or “my team”.

    Raises:
        RuleError: a field that is not there any more, an operator that it does not have, or a value that cannot be.
    """
    tests = [
        holding(one, catalogue, viewer) if isinstance(one, Group) else clause_holding(one, catalogue, viewer)
        for one in group.parts
    ]
    if not tests:
        return lambda _: True
    if len(tests) == 1:
        return tests[0]
    if group.joined == "any":
        return lambda row: any(test(row) for test in tests)
    return lambda row: all(test(row) for test in tests)


def clause_holding(clause: Clause, catalogue: Columns, viewer: Viewer) -> Test:
    """One clause made ready. Raises RuleError as ``holding``."""
    column = catalogue.column(clause.key)
    if not column.asked:
        raise RuleError(f"{column.name} differs by who reads it, so it cannot be asked for. Choose another field.", clause.key)
    if clause.operator not in OPERATORS[column.type]:
        raise RuleError(f"{column.name} cannot be asked that. Choose the clause again.", clause.key)
    if clause.operator not in BARE and clause.value in (None, "", []):
        raise RuleError(f"Say what {column.name} {OPERATORS[column.type][clause.operator]}.", clause.key)
    holds = _MAKERS[column.type](column, clause, catalogue, viewer)
    value = column.value
    return lambda row: holds(value(row))


Holds = Callable[[Raw], bool]


def _filled(operator: str) -> Holds | None:
    if operator == "empty":
        return lambda raw: raw is None or raw in {"", ()}
    return (lambda raw: raw is not None and raw not in {"", ()}) if operator == "filled" else None


def _on_text(column: Column, clause: Clause, _: Columns, __: Viewer) -> Holds:
    if bare := _filled(clause.operator):
        return bare
    wanted = str(clause.value).casefold()
    if clause.operator == "is":
        return lambda raw: str(raw or "").casefold() == wanted
    contains = clause.operator == "contains"
    return lambda raw: (wanted in str(raw or "").casefold()) == contains


def _on_number(column: Column, clause: Clause, _: Columns, __: Viewer) -> Holds:
    if bare := _filled(clause.operator):
        return bare
    wanted = _number(column, clause.value)
    compare: dict[str, Callable[[Decimal], bool]] = {
        "is": lambda n: n == wanted,
        "least": lambda n: n >= wanted,
        "most": lambda n: n <= wanted,
        "more": lambda n: n > wanted,
        "less": lambda n: n < wanted,
    }
    holds = compare[clause.operator]
    return lambda raw: isinstance(raw, Decimal) and holds(raw)


def _number(column: Column, value: Any) -> Decimal:
    try:
        found = Decimal(str(value).replace(",", "."))
    except InvalidOperation as error:
        raise RuleError(f"Write a number for {column.name}.", column.key) from error
    if not found.is_finite():
        raise RuleError(f"Write a number for {column.name}.", column.key)
    return found


def _on_date(column: Column, clause: Clause, catalogue: Columns, __: Viewer) -> Holds:
    if bare := _filled(clause.operator):
        return bare
    first, last = _span(column, clause, catalogue.today)
    return lambda raw: isinstance(raw, date) and first <= raw <= last


def _span(column: Column, clause: Clause, today: date) -> tuple[date, date]:
    """The days between which a date must lie, both among them."""
    operator, value = clause.operator, clause.value
    if operator in {"within", "past"}:
        days = int(min(max(_number(column, value), Decimal(0)), Decimal(36_500)))
        return (today, today + timedelta(days=days)) if operator == "within" else (today - timedelta(days=days), today)
    if operator == "before_today":
        return date.min, today - timedelta(days=1)
    if operator in {"this_week", "next_week"}:
        monday = today - timedelta(days=today.weekday()) + timedelta(days=7 if operator == "next_week" else 0)
        return monday, monday + timedelta(days=6)
    if operator == "this_month":
        following = (today.replace(day=1) + timedelta(days=32)).replace(day=1)
        return today.replace(day=1), following - timedelta(days=1)
    try:
        day = date.fromisoformat(str(value)[:10])
    except ValueError as error:
        raise RuleError(f"Choose a day for {column.name}.", column.key) from error
    one = timedelta(days=1)
    if operator == "before":
        return date.min, (day - one if day > date.min else day)
    return (day + one if day < date.max else day, date.max) if operator == "after" else (day, day)


def _on_yes_no(_: Column, clause: Clause, __: Columns, ___: Viewer) -> Holds:
    wanted = clause.operator == "yes"
    return lambda raw: (raw is True) == wanted


def _wanted(clause: Clause, viewer: Viewer) -> frozenset[str]:
    several = clause.value if isinstance(clause.value, list | tuple) else [clause.value]
    return viewer.people(str(one) for one in several)


def _on_one_of(_: Column, clause: Clause, __: Columns, viewer: Viewer) -> Holds:
    if bare := _filled(clause.operator):
        return bare
    wanted, among = _wanted(clause, viewer), clause.operator == "any"
    return lambda raw: ((NOBODY if raw is None else str(raw)) in wanted) == among


def _on_several_of(_: Column, clause: Clause, __: Columns, viewer: Viewer) -> Holds:
    if bare := _filled(clause.operator):
        return bare
    wanted = _wanted(clause, viewer)

    def has(raw: Raw) -> set[str]:
        return wanted & set(raw) if isinstance(raw, tuple) else set()  # type: ignore[return-value]

    if clause.operator == "all":
        return lambda raw: len(has(raw)) == len(wanted)
    among = clause.operator == "any"
    return lambda raw: bool(has(raw)) == among


_MAKERS: dict[ColumnType, Callable[[Column, Clause, Columns, Viewer], Holds]] = {
    "text": _on_text,
    "number": _on_number,
    "date": _on_date,
    "yes_no": _on_yes_no,
    "one_of": _on_one_of,
    "several_of": _on_several_of,
}


def say_clause(clause: Clause, catalogue: Columns) -> str:
    """A clause in words, to be read after “that”: ``deadline is within the next 21 days``, ``is late``.

    Raises:
        RuleError: a field or an operator that there is none of.
    """
    column = catalogue.column(clause.key)
    operators = OPERATORS[column.type]
    if clause.operator not in operators:
        raise RuleError(f"{column.name} cannot be asked that. Choose the clause again.", clause.key)
    name = column.name[0].lower() + column.name[1:]
    if column.type == "yes_no":
        return _say_yes_no(column.key, name, clause.operator == "yes")
    words = f"{name} {operators[clause.operator]}"
    if clause.operator in BARE:
        return words
    if clause.operator in {"within", "past"}:
        return f"{words} {_say_days(clause.value)}"
    if column.type in {"one_of", "several_of"}:
        ids = clause.value if isinstance(clause.value, list | tuple) else [clause.value]
        known = {**column.choices, **catalogue.teams, ME: "me", MY_TEAM: "my team", NOBODY: "nobody"}
        named = [known.get(str(one), "gone") for one in ids]
        return f"{words} {_either(named)}"
    return f"{words} {clause.value}{f' {column.unit}' if column.unit and column.type == 'number' else ''}"


_YES_NO = {
    "late": ("is late", "is not late"),
    "held": ("is held", "is not held"),
    "critical": ("is critical", "is not critical"),
    "waits": ("waits for something unfinished", "waits for nothing unfinished"),
    "awaited": ("is waited for", "is not waited for"),
    "pinned": ("is pinned", "is not pinned"),
    "summary": ("has tasks below", "has no tasks below"),
    "past_deadline": ("is past its deadline", "is not past its deadline"),
}


def _say_yes_no(key: str, name: str, wanted: bool) -> str:
    yes, no = _YES_NO.get(key, (f"{name} is yes", f"{name} is not yes"))
    return yes if wanted else no


def _say_days(value: Any) -> str:
    days = int(float(value))
    if days and days % 7 == 0:
        return f"{days // 7} week{'s' if days > 7 else ''}"
    return f"{days} day{'' if days == 1 else 's'}"


def _either(names: Sequence[str]) -> str:
    *most, last = names or ["nothing"]
    return f"{', '.join(most)} or {last}" if most else last
