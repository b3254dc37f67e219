"""Rates: the one that holds is the last that begins on the day or before."""

from __future__ import annotations

from datetime import date
from decimal import Decimal

import pytest

from rhodonite.core.common.errors import RuleError
from rhodonite.core.resources.rates import MOST_RATES, Rate, check_rates, rate_on

FIRST, APRIL = Rate(None, Decimal("31.00")), Rate(date(2027, 4, 1), Decimal("32.50"))


def test_a_rate_holds_from_its_day_on_and_changes_nothing_before() -> None:
    rates = check_rates([APRIL, FIRST])
    assert rates == [FIRST, APRIL]
    assert rate_on(rates, date(2027, 3, 31)) == Decimal("31.00")
    assert rate_on(rates, date(2027, 4, 1)) == rate_on(rates, date(2030, 1, 1)) == Decimal("32.50")
    assert rate_on([APRIL], date(2027, 3, 31)) is None


@pytest.mark.parametrize(
    "wrong",
    [
        [FIRST, Rate(None, Decimal(1))],
        [Rate(None, Decimal(-1))],
        [Rate(None, Decimal("NaN"))],
        [Rate(None, Decimal("1.00001"))],
        [Rate(None, Decimal(10**10))],
        [Rate(date(1, 1, 1), Decimal(1))],
        [Rate(date(2027, 1, 1 + n % 28), Decimal(n)) for n in range(MOST_RATES + 1)],
    ],
)
def test_rates_that_cannot_be_are_refused(wrong: list[Rate]) -> None:
    with pytest.raises(RuleError):
        check_rates(wrong)
