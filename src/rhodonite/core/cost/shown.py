"""The money of a plan as columns show it, for who may see it."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from decimal import Decimal

from ..schedule.plan import Row
from .budgets import standing_of
from .costs import Cost
from .money import to_amount

PREFIX = "cost."
"""Stands before the key of every column that shows money which is not a field of the project's own."""


@dataclass(frozen=True, slots=True)
class Money:
    """What tasks cost, each with all below it.

    Attributes:
        below, budgets, agreed: by task, in minor units.
    """

    currency: str
    decimals: int
    below: Mapping[str, Cost]
    budgets: Mapping[str, int]
    agreed: Mapping[str, int]

    def columns(self) -> list[tuple[str, str, Callable[[Row], Decimal | None]]]:
        """Key, name and value of each column."""
        return [
            (f"{PREFIX}budget", "Budget", lambda row: self._amount(self.budgets.get(row.task.id))),
            (f"{PREFIX}planned", "Planned cost", lambda row: self._of(row, lambda cost: cost.planned)),
            (f"{PREFIX}spent", "Cost spent", lambda row: self._of(row, lambda cost: cost.spent)),
            (f"{PREFIX}to_come", "Cost to come", lambda row: self._of(row, lambda cost: cost.to_come)),
            (f"{PREFIX}at_completion", "Cost at completion", lambda row: self._of(row, lambda cost: cost.at_completion)),
            (f"{PREFIX}agreed", "Agreed cost", lambda row: self._amount(self.agreed.get(row.task.id))),
            (f"{PREFIX}variance", "Cost variance", self._variance),
        ]

    def _amount(self, minor: int | None) -> Decimal | None:
        return None if minor is None else to_amount(minor, self.decimals)

    def _of(self, row: Row, part: Callable[[Cost], int]) -> Decimal | None:
        cost = self.below.get(row.task.id)
        return self._amount(part(cost)) if cost and (cost.planned or cost.spent or cost.to_come) else None

    def _variance(self, row: Row) -> Decimal | None:
        one = row.task.id
        cost = self.below.get(one)
        return self._amount(standing_of(cost, self.budgets.get(one), self.agreed.get(one)).variance) if cost else None
