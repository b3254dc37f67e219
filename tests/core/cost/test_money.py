"""Money in whole minor units, rounded once."""

from __future__ import annotations

from datetime import date
from decimal import ROUND_HALF_EVEN, Decimal
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rhodonite.core.common.currencies import check_exchange, decimals_of
from rhodonite.core.common.errors import RuleError
from rhodonite.core.cost.money import check_amount, half_even, prices_of, to_amount, to_minor
from rhodonite.core.resources.rates import Rate

ONE = Decimal(1)
DAY = date(2027, 3, 17).toordinal()


@given(st.integers(-(10**12), 10**12), st.integers(1, 10**6))
def test_halves_go_to_the_even_one_as_decimals_do(number: int, divisor: int) -> None:
    assert half_even(number, divisor) == round(Fraction(number, divisor))


@given(st.decimals(-(10**9), 10**9, allow_nan=False, places=4), st.sampled_from([0, 2, 3]))
def test_minor_units_are_what_decimal_rounds_to(amount: Decimal, decimals: int) -> None:
    rounded = amount.quantize(Decimal(1).scaleb(-decimals), rounding=ROUND_HALF_EVEN)
    assert to_amount(to_minor(amount, decimals), decimals) == rounded


@pytest.mark.parametrize(("currency", "decimals"), [("EUR", 2), ("JPY", 0), ("KWD", 3), ("XXX", 2)])
def test_currencies_have_the_minor_units_of_the_standard(currency: str, decimals: int) -> None:
    assert decimals_of(currency) == decimals


def prices(*rates: Rate, currency: str = "EUR", exchange: Decimal = ONE, own: frozenset[str] = frozenset()):  # type: ignore[no-untyped-def]
    return prices_of({("x", "cost"): rates, ("x", "billing"): [Rate(None, Decimal(99))]}, "cost", currency, exchange, own)


def test_hours_are_priced_at_the_rate_of_their_day_and_rounded_once() -> None:
    changing = prices(Rate(None, Decimal("30")), Rate(date(2027, 3, 17), Decimal("32.50")))
    assert changing.of_hours("x", [(DAY - 1, 60), (DAY, 120)]) == 3000 + 6500
    # three times 20 minutes at 10.00 are 3.33 each, but 10.00 together
    assert prices(Rate(None, Decimal(10))).of_hours("x", [(DAY, 20), (DAY + 1, 20), (DAY + 2, 20)]) == 1000
    assert changing.of_hours("nobody", [(DAY, 60)]) is None


def test_before_its_first_day_a_rate_costs_nothing() -> None:
    assert prices(Rate(date(2027, 3, 17), Decimal(10))).of_hours("x", [(DAY - 1, 60), (DAY, 60)]) == 1000


def test_a_project_in_another_currency_pays_at_its_exchange_rate_but_for_what_is_its_own() -> None:
    rate = Rate(None, Decimal("10"))
    assert prices(rate, currency="JPY", exchange=Decimal("163.25")).of_hours("x", [(DAY, 90)]) == 2449  # 2448.75
    assert prices(rate, currency="JPY", exchange=Decimal("163.25"), own=frozenset({"x"})).of_hours("x", [(DAY, 90)]) == 15


def test_units_and_fixed_sums_are_thousandths() -> None:
    glass = prices(Rate(None, Decimal("18.75")))
    assert glass.of_units("x", 4_000, DAY) == 7500
    assert glass.of_units("x", 1_333, DAY) == 2499
    assert glass.fixed(350_000) == 35_000
    assert prices(Rate(None, ONE), currency="KWD").fixed(1_234) == 1_234


def test_a_change_within_days_is_one_that_begins_after_the_first() -> None:
    changing = prices(Rate(None, Decimal("30")), Rate(date(2027, 3, 17), Decimal("32.50")))
    assert changing.changes_within("x", DAY - 1, DAY)
    assert not changing.changes_within("x", DAY, DAY + 5)
    assert not changing.changes_within("x", DAY - 9, DAY - 1)


@given(
    st.lists(st.tuples(st.integers(0, 400), st.decimals(0, 500, allow_nan=False, places=2)), min_size=1, max_size=5, unique_by=lambda one: one[0]),
    st.lists(st.tuples(st.integers(DAY - 500, DAY - 1), st.integers(0, 600)), max_size=6),
    st.decimals(0, 500, allow_nan=False, places=2),
)  # fmt: skip
def test_a_later_rate_changes_no_earlier_cost(
    rates: list[tuple[int, Decimal]], hours: list[tuple[int, int]], later: Decimal
) -> None:
    known = [Rate(date.fromordinal(DAY - 500 + at), amount) for at, amount in sorted(rates) if DAY - 500 + at < DAY]
    if known:
        before = prices(*known).of_hours("x", hours)
        assert prices(*known, Rate(date.fromordinal(DAY), later)).of_hours("x", hours) == before


@pytest.mark.parametrize("wrong", ["0", "-1", "NaN", "1.123456789"])
def test_an_exchange_rate_that_cannot_be_is_refused(wrong: str) -> None:
    with pytest.raises(RuleError):
        check_exchange(Decimal(wrong))


@pytest.mark.parametrize("wrong", ["-0.01", "NaN", "Infinity", "1.2345", "1e13"])
def test_a_sum_that_cannot_be_is_refused(wrong: str) -> None:
    with pytest.raises(RuleError):
        check_amount(Decimal(wrong), "amount", 3)


def test_a_sum_has_no_more_decimals_than_its_currency() -> None:
    assert check_amount(Decimal("12.40"), "amount", 2) == Decimal("12.4")
    with pytest.raises(RuleError, match="more decimals than can be kept here: 2"):
        check_amount(Decimal("12.405"), "amount", 2)
    with pytest.raises(RuleError, match="here: none"):
        check_amount(Decimal("12.5"), "amount", 0)
