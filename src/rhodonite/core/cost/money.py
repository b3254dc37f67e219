"""Money: whole minor units of one currency, so that sums of what is shown are what is shown.

An amount is reckoned exactly and rounded once, half-even, to the minor unit of its currency (cents); everything above is a
sum of such amounts.
"""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from ..common.currencies import decimals_of
from ..common.errors import RuleError
from ..resources.rates import MOST_AMOUNT, Rate, Rates

SCALE = 10**12
"""Rates are whole numbers of so many to one: four decimals of a rate, eight of an exchange rate."""
RATE_DECIMALS = 4
HOUR = 60
PARTS = 1_000
"""Thousandths: amounts of material and fixed costs are whole numbers of them."""


def half_even(number: int, divisor: int) -> int:
    """A quotient rounded to a whole number, halves to the even one.

    Args:
        divisor: more than nothing.

    >>> half_even(5, 2), half_even(7, 2), half_even(-5, 2)
    (2, 4, -2)
    """
    whole, rest = divmod(number, divisor)
    twice = 2 * rest
    return whole + (twice > divisor or (twice == divisor and whole % 2 == 1))


def to_minor(amount: Decimal, decimals: int) -> int:
    """An amount in minor units, rounded half-even."""
    sign, digits, exponent = amount.as_tuple()
    assert isinstance(exponent, int)  # a finite number
    number = int("".join(map(str, digits))) * (-1 if sign else 1)
    shift = exponent + decimals
    return number * 10**shift if shift >= 0 else half_even(number, 10**-shift)


def to_amount(minor: int, decimals: int) -> Decimal:
    """The inverse of ``to_minor``: with all decimals of the currency."""
    return Decimal(minor).scaleb(-decimals)


def check_amount(amount: Decimal, field: str, decimals: int) -> Decimal:
    """A sum that somebody types. Raises RuleError where it is less than nothing, too much, or has more decimals than it may."""
    if not amount.is_finite() or not 0 <= amount <= MOST_AMOUNT * 1_000:
        raise RuleError("A sum lies between nothing and a million million.", field)
    if -int(amount.normalize().as_tuple().exponent) > decimals:
        raise RuleError(f"{amount:f} has more decimals than can be kept here: {decimals or 'none'}. Round it.", field)
    return amount


Steps = tuple[tuple[int, ...], tuple[int, ...]]
"""Ordinals of the first day of each rate, and the rates, scaled; the first holds from the beginning."""


@dataclass(frozen=True, slots=True)
class Prices:
    """What an hour of somebody, or a unit of a material, costs in the currency of one project.

    Attributes:
        decimals: of its minor unit.
        steps: by who their rates.
    """

    decimals: int
    steps: Mapping[str, Steps]

    def of_hours(self, who: str, minutes_on: Sequence[tuple[int, int]]) -> int | None:
        """What minutes by the ordinal of the day cost, rounded once; None of somebody without a rate."""
        return self._priced(who, minutes_on, HOUR)

    def of_units(self, who: str, thousandths: int, day: int) -> int | None:
        """What an amount of a material costs at the rate of a day; None where there is none."""
        return self._priced(who, ((day, thousandths),), PARTS)

    def fixed(self, thousandths: int) -> int:
        """A sum in the currency itself, in minor units."""
        return half_even(thousandths * 10**self.decimals, PARTS)

    def rate_on(self, who: str, day: date) -> Decimal | None:
        """The rate of somebody on a day, with four decimals at most; None where they have none, nothing before the first begins."""
        found = self.steps.get(who)
        if found is None:
            return None
        scaled = found[1][max(0, bisect_right(found[0], day.toordinal()) - 1)]
        return (Decimal(scaled) / SCALE).quantize(Decimal(1).scaleb(-RATE_DECIMALS)).normalize()

    def changes_within(self, who: str, first: int, last: int) -> bool:
        """True where a rate of somebody begins after the first of some days and not after the last, by their ordinals."""
        found = self.steps.get(who)
        return found is not None and len(found[0]) > 1 and any(first < day <= last for day in found[0])

    def exactly(self, who: str, day: int, minutes: int) -> int:
        """What minutes on a day cost, as a number that only compares to others of the same person; nothing without a rate."""
        found = self.steps.get(who)
        return found[1][max(0, bisect_right(found[0], day) - 1)] * minutes if found else 0

    def _priced(self, who: str, amounts: Sequence[tuple[int, int]], per: int) -> int | None:
        found = self.steps.get(who)
        if found is None:
            return None
        days, rates = found
        if len(rates) == 1:
            total = rates[0] * sum(amount for _, amount in amounts)
        else:
            total = sum(rates[max(0, bisect_right(days, day) - 1)] * amount for day, amount in amounts)
        return half_even(total * 10**self.decimals, per * SCALE)


def prices_of(rates: Rates, kind: str, currency: str, exchange: Decimal, own: frozenset[str] = frozenset()) -> Prices:
    """The prices that hold in a project.

    A rate that begins on a day does not hold before it: what lies earlier costs nothing until then.

    Args:
        rates: of people and resources, in the currency of the organisation.
        kind: ``cost`` or ``billing``.
        exchange: how many of the project's currency one of the organisation's buys.
        own: the ids of resources that are the project's own, whose rates are in its currency already.
    """
    one = Decimal(1)
    steps = {
        who: _steps(several, one if who in own else exchange) for (who, of), several in rates.items() if of == kind and several
    }
    return Prices(decimals_of(currency), steps)


def _steps(rates: Sequence[Rate], exchange: Decimal) -> Steps:
    before = () if rates[0].first is None else (0,)
    days = tuple(1 if one.first is None else one.first.toordinal() for one in rates)
    amounts = tuple(int(one.amount * exchange * SCALE) for one in rates)
    return (1, *days) if before else days, (*before, *amounts)
