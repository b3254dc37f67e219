"""Budgets: whether what something will have cost stays within what it may, warned of before it is passed."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from ..common.errors import RuleError
from ..schedule.plan import Row
from .costs import Cost

Worry = Literal["", "near", "over"]
NEAR = 95
"""In a hundred of a budget: above it, it is nearly used up."""


@dataclass(frozen=True, slots=True)
class Standing:
    """A cost against what is allowed, in minor units.

    Attributes:
        budget, agreed: None where there is none.
        variance: what is left of the budget, or where there is none of the agreed cost, at completion; less than nothing
            where it is passed. None where there is neither.
        used: at completion in a hundred of the budget, rounded down.
        worry: ``near`` above 95 % of the budget at completion, ``over`` where that is passed.
    """

    budget: int | None
    agreed: int | None
    variance: int | None
    used: int | None
    worry: Worry


def standing_of(cost: Cost, budget: int | None, agreed: int | None) -> Standing:
    """How a cost stands.

    >>> standing_of(Cost(spent=80, to_come=16), 100, None).worry
    'near'
    """
    allowed = budget if budget is not None else agreed
    variance = None if allowed is None else allowed - cost.at_completion
    used = 100 * cost.at_completion // budget if budget else None
    return Standing(budget, agreed, variance, used, worry_of(cost.at_completion, budget))


def check_budget(row: Row, amount: Decimal | None) -> None:
    """Raises RuleError where a task is given a budget that has none of its own: only deliverables and summary tasks have."""
    if amount is not None and not (row.is_summary or row.task.kind == "deliverable"):
        raise RuleError("A budget is set for the project, a deliverable or a task with others below it.", "task_id")


def worry_of(at_completion: int, budget: int | None) -> Worry:
    """Whether a budget is passed at completion, or nearly."""
    if budget is None:
        return ""
    if at_completion > budget:
        return "over"
    return "near" if at_completion * 100 > budget * NEAR else ""
