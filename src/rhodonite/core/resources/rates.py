"""Rates: what an hour of somebody, or a unit of a material, costs or is charged at, from a day on."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Literal, get_args

from ..common.bounds import check_day
from ..common.errors import RuleError

RateKind = Literal["cost", "billing"]
RATE_KINDS = get_args(RateKind)
MOST_RATES = 100
"""That are kept of one person and kind."""
MOST_AMOUNT = Decimal(10) ** 9
DECIMALS = 4


@dataclass(frozen=True, slots=True)
class Rate:
    """An amount an hour, or a unit, in the currency of the organisation.

    Attributes:
        first: the day from which it holds; None: from the beginning.
    """

    first: date | None
    amount: Decimal


Rates = Mapping[tuple[str, RateKind], Sequence[Rate]]
"""By who and kind, the earliest first."""


def rate_on(rates: Sequence[Rate], day: date) -> Decimal | None:
    """The amount that holds on a day: that of the last rate that begins on it or before; None where none does."""
    found = None
    for one in rates:
        if one.first is None or one.first <= day:
            found = one.amount
    return found


def check_rates(rates: Sequence[Rate]) -> list[Rate]:
    """Rates in order of their days. Raises RuleError where they cannot be."""
    if len(rates) > MOST_RATES:
        raise RuleError(f"{MOST_RATES} rates are kept of one at most. Take old ones away first.", "rates")
    if len({one.first for one in rates}) < len(rates):
        raise RuleError("Two rates begin on the same day. Keep one of them.", "rates")
    for one in rates:
        if one.first is not None:
            check_day(one.first, "first")
        if not one.amount.is_finite() or not 0 <= one.amount <= MOST_AMOUNT:
            raise RuleError("A rate lies between nothing and a thousand million.", "amount")
        if -int(one.amount.as_tuple().exponent) > DECIMALS:
            raise RuleError(f"A rate has {DECIMALS} decimals at most.", "amount")
    return sorted(rates, key=lambda one: one.first or date.min)
