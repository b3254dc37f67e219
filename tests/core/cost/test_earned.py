"""Earned value of a textbook project, to the cent."""

from __future__ import annotations

from datetime import date, datetime, timedelta
from decimal import Decimal
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rhodonite.core.cost.earned import FORMULAS, agreed_costs, curves, earned_value, measure, planned_value
from rhodonite.core.cost.money import to_minor
from rhodonite.core.schedule.agreed import AgreedTask
from rhodonite.core.schedule.plan import Plan

from ..make import DAY, NOW, OFFICE, PROJECT, at, days, task


def agreed(start: str, length: int, cost: str | None) -> AgreedTask:
    begin = at(start)
    return AgreedTask(begin, OFFICE.add_to(begin, length * DAY), length * DAY, None, False, Decimal(cost) if cost else None)


def cents(amount: Decimal) -> int:
    return to_minor(amount, 2)


def textbook() -> Plan:
    """Four stages of a wall, a week each at 10,000.00, agreed from 1 March. On Wednesday of the third week the first is done,
    the second to 100, the third to 20 percent; 24,000.00 are spent."""
    tasks = [
        task("a", state_id="done", percent=100, **days("3-01", 5)),
        task("b", state_id="done", percent=100, **days("3-08", 5)),
        task("c", state_id="doing", percent=20, **days("3-15", 5)),
        task("d", **days("3-22", 5)),
    ]
    promised = {one: agreed(start, 5, "10000") for one, start in zip("abcd", ("3-01", "3-08", "3-15", "3-22"), strict=True)}
    return Plan(PROJECT, OFFICE, tasks, datetime(2027, 3, 17, 17, 0), promised)


def test_a_textbook_project_to_the_cent() -> None:
    plan = textbook()
    found = measure(plan, agreed_costs(plan, cents), 2_400_000, at("3-17 17:30"))
    assert (found.bac, found.pv, found.ev, found.ac) == (4_000_000, 2_600_000, 2_200_000, 2_400_000)
    assert (found.sv, found.cv) == (-400_000, -200_000)
    assert (found.spi, found.cpi) == (Decimal("0.846"), Decimal("0.917"))
    assert found.eac == 2_400_000 + round((4_000_000 - 2_200_000) / (2_200_000 / 2_400_000))
    assert found.eac == 4_363_636
    assert (found.etc, found.vac) == (1_963_636, -363_636)
    assert found.why == ""


@pytest.mark.parametrize(
    ("figures", "missing", "why"),
    [((100, 0, 0, 0), {"spi", "cpi", "eac"}, "Nothing was to be done"), ((100, 50, 0, 40), {"eac"}, "Nothing is earned"),
     ((100, 50, 40, 0), {"cpi", "eac"}, "Nothing is spent")],
)  # fmt: skip
def test_what_has_no_divisor_is_not_given_and_says_why(figures: tuple[int, int, int, int], missing: set[str], why: str) -> None:
    found = earned_value(*figures)
    assert {name for name in ("spi", "cpi", "eac") if getattr(found, name) is None} == missing
    assert why in found.why
    assert (found.etc is None) == (found.vac is None) == (found.eac is None)


def test_planned_value_is_linear_over_working_minutes() -> None:
    week = agreed("3-15", 5, "1000")
    assert planned_value(week, 100_000, at("3-14"), OFFICE) == 0
    assert planned_value(week, 100_000, at("3-15 17:30"), OFFICE) == 20_000
    assert planned_value(week, 100_000, at("3-16 12:15"), OFFICE) in range(28_000, 30_001)
    assert planned_value(week, 100_000, at("3-20 12:00"), OFFICE) == 100_000
    assert planned_value(AgreedTask(None, None, None, None), 500, at("3-20"), OFFICE) == 0


def test_a_plan_agreed_without_cost_measures_nothing() -> None:
    plan = Plan(PROJECT, OFFICE, [task("a", **days("3-15", 5))], NOW, {"a": agreed("3-15", 5, None)})
    assert agreed_costs(plan, cents) == {}


def test_the_curves_meet_the_figures_of_today() -> None:
    plan = textbook()
    costs = agreed_costs(plan, cents)
    today = date(2027, 3, 17)
    percents = {"a": [(date(2027, 3, 5), 100)], "b": [(date(2027, 3, 9), 50), (date(2027, 3, 12), 100)], "c": [(today, 20)]}
    spent = [(date(2027, 3, 5).toordinal(), 1_400_000), (date(2027, 3, 16).toordinal(), 1_000_000)]
    points = {one.day: one for one in curves(plan, costs, percents, spent, today)}
    assert (points[today].planned, points[today].earned, points[today].spent) == (2_600_000, 2_200_000, 2_400_000)
    friday = points[date(2027, 3, 12)]
    assert (friday.planned, friday.earned, friday.spent) == (2_000_000, 2_000_000, 1_400_000)
    last = max(points)
    assert (points[last].planned, points[last].earned) == (4_000_000, None)
    assert min(points) == date(2027, 2, 28)
    assert points[date(2027, 2, 28)].planned == 0


TASKS = st.lists(
    st.tuples(st.integers(0, 40), st.integers(1, 20), st.integers(0, 10**6), st.integers(0, 100)), min_size=1, max_size=6
)


@given(TASKS, st.integers(0, 60))
def test_curves_grow_and_end_at_what_was_agreed(tasks: list[tuple[int, int, int, int]], passed: int) -> None:
    begin = date(2027, 3, 1)
    today = begin + timedelta(days=passed)
    promised: dict[str, Any] = {}
    costs = {}
    for n, (after, length, cost, _) in enumerate(tasks):
        start = OFFICE.add_to(at("3-01"), after * DAY + 1)
        promised[str(n)] = AgreedTask(start, OFFICE.add_to(start, length * DAY), length * DAY, None, False, Decimal(cost))
        costs[str(n)] = cost
    plan = Plan(PROJECT, OFFICE, [], NOW, promised)
    points = curves(plan, costs, {}, [], today)
    planned = [one.planned for one in points]
    assert planned == sorted(planned)
    assert planned[-1] == sum(costs.values())
    assert all((one.earned is None) == (one.day > today) for one in points)
    for one in points:
        end = datetime.combine(one.day, datetime.max.time())
        assert one.planned == sum(planned_value(promised[name], cost, end, OFFICE) for name, cost in costs.items())


def test_every_figure_says_what_it_is_and_how_it_is_reckoned() -> None:
    assert set(FORMULAS) == {"PV", "EV", "AC", "SV", "CV", "SPI", "CPI", "BAC", "EAC", "ETC", "VAC"}
