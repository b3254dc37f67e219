"""Cost by month."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from decimal import Decimal
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from rhodonite.core.cost.costs import Expense, Ground, cost_lines, sum_up
from rhodonite.core.cost.money import prices_of
from rhodonite.core.cost.months import by_month, share_out
from rhodonite.core.resources.capacity import Capacity
from rhodonite.core.resources.rates import Rate
from rhodonite.core.schedule.plan import Plan
from rhodonite.core.tasks.model import Booking, Task

from ..make import NOW, OFFICE, PROJECT, days, task

TODAY = NOW.toordinal()
EURO = prices_of(
    {("cara", "cost"): [Rate(None, Decimal("32.50")), Rate(date(2027, 4, 1), Decimal("33.37"))]}, "cost", "EUR", Decimal(1)
)


def months(
    one: Task, *, timed: bool = True, entries: Any = (), expenses: Any = ()
) -> dict[tuple[int, int], tuple[int, int, int]]:
    made = Plan(replace(PROJECT, time=timed), OFFICE, [one], NOW)
    ground = Ground(EURO, {}, Capacity(OFFICE))
    lines = {one.id: cost_lines(one, made, ground, entries, expenses)}
    found = by_month(made, lines, ground, {one.id: entries}, {one.id: expenses})
    whole = sum_up(made, lines).whole
    for name in ("planned", "spent", "to_come"):
        assert sum(getattr(each, name) for each in found) == getattr(whole, name)
    return {(each.year, each.month): (each.planned, each.spent, each.to_come) for each in found}


def test_hours_lie_in_their_months_at_the_rates_of_their_days() -> None:
    # 24 to 30 March and 1 to 6 April, ten days of an hour
    assert months(task("a", bookings=(Booking("cara", 600),), **days("3-25", 10))) == {
        (2027, 3): (5 * 3250, 0, 5 * 3250),
        (2027, 4): (5 * 3337, 0, 5 * 3337),
    }


def test_what_is_spent_lies_on_its_days_and_months_between_are_there() -> None:
    begun = task("a", state_id="doing", bookings=(Booking("cara", 600),), **days("3-15", 2))
    spent = Expense("e", "p", "a", None, date(2027, 1, 9), None, Decimal("10"), "", "x")
    found = months(begun, entries=[("cara", TODAY - 20, 60, True)], expenses=[spent])
    assert found[2027, 1] == (0, 1000, 0)
    assert found[2027, 2] == (0, 3250, 0)
    assert found[2027, 3] == (32_500, 0, 29_250)


@given(st.integers(0, 10**7), st.lists(st.integers(0, 10**6), min_size=1, max_size=9))
def test_what_is_shared_out_sums_to_the_whole(whole: int, weights: list[int]) -> None:
    found = share_out(whole, [((2027, n + 1), weight) for n, weight in enumerate(weights)])
    assert sum(found.values()) == (whole if any(weights) else 0)
    assert all(0 <= amount <= whole for amount in found.values())


@given(
    st.integers(1, 6000), st.sampled_from(["even", "front", "back"]), st.integers(1, 60), st.integers(0, 100), st.booleans(),
    st.lists(st.tuples(st.just("cara"), st.integers(TODAY - 60, TODAY), st.integers(1, 600), st.booleans()), max_size=5),
)  # fmt: skip
def test_months_sum_to_what_the_task_costs(booked: int, shape: Any, length: int, percent: int, timed: bool, entries: Any) -> None:
    begun = task("a", state_id="doing", percent=percent, bookings=(Booking("cara", booked, shape),), **days("3-01", length))
    months(begun, timed=timed, entries=entries)
