"""Columns: what is known of a field by which work is shown, and how its values are said and ordered."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal
from typing import Any, Literal

from ..common.errors import RuleError
from ..schedule.plan import Row
from ..tasks.custom_fields import CustomField
from .formula_values import FormulaError, Value

ColumnType = Literal["text", "number", "date", "yes_no", "one_of", "several_of"]
"""How a column compares: ``one_of`` and ``several_of`` hold ids, which ``choices`` name."""
Raw = Value


@dataclass(frozen=True, slots=True)
class Column:
    """One field by which work is shown.

    Attributes:
        key: stable; of the project's own fields ``own.`` and the id.
        unit: of numbers: ``d``, ``h``, ``%`` or the field's own.
        choices: for ``one_of`` and ``several_of`` the name of each id, in their order.
        own: the project's own field behind it.
        asked: False where a sentence cannot ask for it, because it differs by who reads.
        money: True for a sum in a currency, which is shown with all its decimals.
    """

    key: str
    name: str
    type: ColumnType
    value: Callable[[Row], Raw]
    unit: str = ""
    decimals: int = 0
    choices: Mapping[str, str] = field(default_factory=dict)
    own: CustomField | None = None
    money: bool = False
    asked: bool = True


class Columns:
    """Fields by which work is shown, and how their values are said and ordered.

    Args:
        people: names by id, for what names people.
        teams: names by id, for clauses that name teams.
        today: for clauses that count days from it.
    """

    columns: dict[str, Column]

    def __init__(self, people: Mapping[str, str], teams: Mapping[str, str], today: date) -> None:
        self.people = people
        self.teams = teams
        self.today = today
        self.columns = {}
        self._orders: dict[str, dict[str, int]] = {}

    def column(self, key: str) -> Column:
        """A column by its key. Raises RuleError where there is none."""
        found = self.columns.get(key)
        if found is None:
            raise RuleError("That field is not in the project any more. Choose another.", key)
        return found

    def say(self, key: str, raw: Raw) -> str:
        """A value in words."""
        column = self.columns[key]
        if raw is None or raw == ():
            return ""
        if isinstance(raw, FormulaError):
            return f"error: {raw}"
        if isinstance(raw, tuple):
            return ", ".join(column.choices.get(one, "gone") for one in raw)
        if column.type == "one_of":
            return column.choices.get(str(raw), "gone")
        if isinstance(raw, bool):
            return "yes" if raw else "no"
        if isinstance(raw, Decimal):
            number = f"{raw:,.{column.decimals}f}" if column.own or column.money else f"{raw.normalize():f}" if raw else "0"
            return f"{number} {column.unit}".strip()
        return raw.isoformat() if isinstance(raw, date) else raw

    def order_of(self, column: Column, row: Row) -> tuple[Any, ...]:
        """By what rows are sorted: values in their order, those without one last."""
        raw = column.value(row)
        if raw is None or raw in {"", ()} or isinstance(raw, FormulaError):
            return (1,)
        if column.type in {"one_of", "several_of"}:
            places = self._places(column)
            first = raw[0] if isinstance(raw, tuple) else str(raw)
            return 0, places.get(first, len(places))
        return 0, raw.casefold() if isinstance(raw, str) else raw

    def _places(self, column: Column) -> dict[str, int]:
        if column.key not in self._orders:
            self._orders[column.key] = {one: index for index, one in enumerate(column.choices)}
        return self._orders[column.key]
