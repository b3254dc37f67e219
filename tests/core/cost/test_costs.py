"""What tasks cost, by worked examples and laws."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, datetime
from decimal import Decimal
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rhodonite.core.cost.costs import CostLine, Expense, Ground, cost_lines, own_cost, sum_up
from rhodonite.core.cost.money import prices_of
from rhodonite.core.resources.capacity import Capacity
from rhodonite.core.resources.rates import Rate, Rates
from rhodonite.core.schedule.plan import Plan
from rhodonite.core.tasks.model import Booking, Project, Task

from ..make import NOW, OFFICE, PROJECT, at, days, task

TIMED = replace(PROJECT, time=True)
TODAY = NOW.toordinal()
USUAL = Capacity(OFFICE)
RATES: Rates = {
    ("cara", "cost"): [Rate(None, Decimal("32.50"))],
    ("yuki", "cost"): [Rate(None, Decimal("30")), Rate(date(2027, 3, 17), Decimal("40"))],
    ("panes", "cost"): [Rate(None, Decimal("18.75"))],
}
EURO = prices_of(RATES, "cost", "EUR", Decimal(1))
GLASS = Booking("panes", 0, resource=True, of="material", amount=4_000)
PERMIT = Booking("permit", 0, resource=True, of="fixed", amount=350_000)


def lines(
    one: Task, *, entries: Any = (), expenses: Any = (), project: Project = TIMED, now: datetime = NOW
) -> dict[str, CostLine]:
    made = Plan(project, OFFICE, [one], now)
    return {line.who: line for line in cost_lines(one, made, Ground(EURO, {}, USUAL), entries, expenses)}


def cost(one: Task, **more: Any) -> tuple[int, int, int]:
    total = own_cost(lines(one, **more).values())
    return total.planned, total.spent, total.to_come


def used(units: str | None = None, amount: str | None = None, of: str | None = "panes") -> Expense:
    return Expense(
        "e", "p", "a", of, date(2027, 3, 16), Decimal(units) if units else None, Decimal(amount) if amount else None, "", "x"
    )


def test_six_hours_of_a_glazier_and_four_panes_cost_270() -> None:
    glazing = task("a", bookings=(Booking("cara", 360), GLASS), **days("3-22", 1))
    assert cost(glazing) == (27_000, 0, 27_000)
    assert [line.cost.planned for line in lines(glazing).values()] == [19_500, 7_500]


def test_a_rate_that_changes_in_the_middle_of_a_task_holds_from_its_day() -> None:
    # 30 h even over Monday to Friday are 6 h a day: 12 h at 30, 18 h at 40
    assert cost(task("a", bookings=(Booking("yuki", 1800),), **days("3-15", 5)))[0] == 12 * 3000 + 18 * 4000
    # most at first: less of it at the later rate
    assert cost(task("a", bookings=(Booking("yuki", 1800, "front"),), **days("3-15", 5)))[0] < 108_000


def test_what_is_spent_is_at_the_rate_of_its_day_and_what_is_left_at_those_ahead() -> None:
    begun = task("a", state_id="doing", bookings=(Booking("yuki", 1800),), **days("3-15", 5))
    assert cost(begun, entries=[("yuki", TODAY - 2, 360, True), ("yuki", TODAY - 1, 240, True)]) == (108_000, 30_000, 20 * 4000)


def test_more_than_planned_leaves_nothing_to_come() -> None:
    begun = task("a", state_id="doing", bookings=(Booking("cara", 60),), **days("3-15", 5))
    assert cost(begun, entries=[("cara", TODAY - 1, 90, True)]) == (3250, 4875, 0)


def test_each_entry_is_rounded_so_that_their_sum_is_what_is_shown() -> None:
    done = task("a", state_id="done", **days("3-08", 2))
    third = [("cara", TODAY - 1, 1, True)] * 3  # a minute is 0.541…
    assert cost(done, entries=third)[1] == 3 * 54


def test_people_without_a_rate_are_counted_and_not_guessed() -> None:
    found = lines(task("a", bookings=(Booking("nobody", 300),), **days("3-22", 1)), entries=[("zoe", TODAY - 1, 45, True)])
    assert (found["nobody"].cost.unpriced, found["zoe"].cost.unpriced) == (300, 45)
    assert own_cost(found.values()).at_completion == 0


def test_where_no_time_is_recorded_the_hours_count_as_far_as_the_work_is_done() -> None:
    begun = task("a", state_id="doing", percent=40, bookings=(Booking("cara", 600),), **days("3-15", 5))
    assert cost(begun, project=PROJECT) == (32_500, 13_000, 19_500)
    assert cost(replace(begun, state_id="done", percent=100), project=PROJECT) == (32_500, 32_500, 0)


@pytest.mark.parametrize(
    ("state", "expenses", "expected"),
    [
        ("ready", [], (42_500, 0, 42_500)),
        ("doing", [used("3")], (42_500, 5_625, 36_875)),
        ("doing", [used("5")], (42_500, 9_375, 35_000)),
        ("done", [], (42_500, 0, 42_500)),  # bills follow
        ("done", [used("3"), used(amount="349.90", of="permit")], (42_500, 40_615, 0)),
        ("doing", [used(amount="12.34", of=None)], (42_500, 1_234, 42_500)),
        ("dropped", [used("3")], (0, 5_625, 0)),
    ],
)
def test_material_and_sums_are_spent_as_they_are_entered(
    state: str, expenses: list[Expense], expected: tuple[int, int, int]
) -> None:
    assert cost(task("a", state_id=state, bookings=(GLASS, PERMIT), **days("3-15", 5)), expenses=expenses) == expected


def test_undated_work_costs_what_it_would_cost_today() -> None:
    assert cost(task("a", bookings=(Booking("yuki", 60),)))[0] == 4000
    assert cost(task("a", bookings=(Booking("yuki", 60),)), now=at("3-10"))[0] == 3000


BOOKED = st.lists(
    st.builds(
        Booking, st.sampled_from(["cara", "yuki", "zoe"]), st.integers(0, 3000), st.sampled_from(["even", "front", "back"])
    ),
    max_size=3,
    unique_by=lambda one: one.who,
)
ENTERED = st.lists(st.tuples(st.sampled_from(["cara", "yuki", "zoe"]), st.integers(TODAY - 9, TODAY), st.integers(1, 600), st.booleans()), max_size=4)  # fmt: skip
TREE = st.lists(st.tuples(BOOKED, ENTERED, st.sampled_from(["ready", "doing", "done", "dropped"]), st.integers(0, 3)), min_size=1, max_size=8)  # fmt: skip


@given(TREE)
def test_the_cost_of_a_parent_is_the_sum_of_its_children_and_of_people_that_of_the_project(tree: list[Any]) -> None:
    tasks = [task("A"), task("A1", "A"), task("B")]
    entered = {}
    for n, (booked, entries, state, parent) in enumerate(tree):
        name = f"t{n}"
        under = [None, "A", "A1", "B"][parent]
        tasks.append(task(name, under, state_id=state, bookings=tuple(booked), **days("3-15", 5)))
        entered[name] = entries
    made = Plan(TIMED, OFFICE, tasks, NOW)
    ground = Ground(EURO, {}, USUAL)
    found = {
        one.id: cost_lines(one, made, ground, entered.get(one.id, ())) for one in tasks if not made.outline.is_summary(one.id)
    }
    costs = sum_up(made, found)
    for name in ("planned", "spent", "to_come", "unpriced"):
        for parent, children in made.outline.children.items():
            if parent is not None:
                assert getattr(costs.below[parent], name) == sum(getattr(costs.below[one], name) for one in children)
        assert getattr(costs.whole, name) == sum(getattr(own_cost(one), name) for one in found.values())
        assert getattr(costs.whole, name) == sum(getattr(line.cost, name) for line in costs.by_who.values())
    assert costs.whole.at_completion == costs.whole.spent + costs.whole.to_come
