"""Levelling a plan: nobody is more overbooked by it, and no move helps nobody."""

from __future__ import annotations

from datetime import date, datetime, timedelta
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from rhodonite.core.resources.capacity import Absence, Capacity
from rhodonite.core.resources.load import PlanLoad, load_of
from rhodonite.core.resources.proposal import Proposal, propose
from rhodonite.core.resources.worthwhile import worth_moving
from rhodonite.core.schedule.plan import Plan
from rhodonite.core.tasks.model import Booking

from ..make import DAY, OFFICE, at, days, plan, task

USUAL = Capacity(OFFICE)
FIRST, LAST = datetime(2027, 3, 1), datetime(2027, 5, 30)


def booked(name: str, start: str, length: int, *bookings: tuple[str, int], **more: Any) -> Any:
    """A task with hours of people, in minutes."""
    return task(name, bookings=tuple(Booking(who, minutes) for who, minutes in bookings), **days(start, length), **more)


def levelled(made: Plan, capacities: dict[str, Capacity], whom: str = "xyz", others: list[PlanLoad] | None = None) -> Proposal:
    load = load_of(made, capacities, USUAL)
    return propose(made, capacities, USUAL, load=load, others=others or [], whom=set(whom), first=FIRST, last=LAST)


def away(*spans: tuple[str, str]) -> Capacity:
    return Capacity(OFFICE, 100, [Absence(str(n), "x", "leave", at(a), at(b)) for n, (a, b) in enumerate(spans)])


def test_two_full_tasks_at_once_are_put_one_after_the_other() -> None:
    found = levelled(plan(booked("a", "3-22", 2, ("x", 2 * DAY)), booked("b", "3-22", 2, ("x", 2 * DAY))), {})
    assert len(found.fields) == 1
    assert found.still == {"x": (2 * DAY, 0)}


def test_work_waits_for_who_is_absent() -> None:
    made = plan(booked("a", "3-22", 1, ("x", DAY)), booked("b", "3-22", 1, ("x", DAY)))
    found = levelled(made, {"x": away(("3-23 00:00", "3-25 00:00"))})
    (dates,) = found.fields.values()
    assert dates["constraint_at"] == at("3-25 09:00")
    assert found.still["x"][1] == 0


def test_nothing_is_moved_where_that_helps_nobody() -> None:
    """One task alone is more than a day holds: wherever it stands, it stays so."""
    found = levelled(plan(booked("a", "3-22", 1, ("x", 2 * DAY)), booked("b", "3-29", 1, ("x", DAY // 2))), {})
    assert found.fields == {}
    assert found.moved == []
    assert found.still == {"x": (DAY, DAY)}


def test_work_does_not_land_on_days_that_other_projects_fill() -> None:
    other = load_of(plan(booked("o", "3-23", 3, ("x", 3 * DAY))), {}, USUAL)
    made = plan(booked("a", "3-22", 1, ("x", DAY)), booked("b", "3-22", 1, ("x", DAY)))
    (dates,) = levelled(made, {}, others=[other]).fields.values()
    assert dates["constraint_at"] == at("3-26 09:00")


TASKS = st.lists(
    st.tuples(
        st.integers(0, 14), st.integers(1, 6), st.lists(st.tuples(st.sampled_from("xyz"), st.integers(60, 2500)), max_size=2),
        st.booleans(),
    ),
    min_size=2, max_size=7,
)  # fmt: skip


@settings(max_examples=60)
@given(TASKS, st.lists(st.tuples(st.integers(0, 25), st.integers(1, 6)), max_size=3), st.integers(40, 100))
def test_nobody_is_more_overbooked_and_all_together_are_less(tasks: Any, leaves: Any, share: int) -> None:
    monday = date(2027, 3, 22)
    made = plan(
        *(
            booked(
                f"t{n}", f"{day.month}-{day.day:02}", length, *dict(bookings).items(),
                **({"percent": 40, "actual_start": at(f"{day.month}-{day.day:02} 09:00"), "state_id": "doing"} if begun else {}),
            )
            for n, (after, length, bookings, begun) in enumerate(tasks)
            for day in [monday + timedelta(days=after + 2 * (after // 5))]
        )
    )  # fmt: skip
    spans = [(datetime.combine(monday + timedelta(days=a), datetime.min.time()), a + b) for a, b in leaves]
    absences = [
        Absence(str(n), "x", "leave", a, datetime.combine(monday + timedelta(days=b), datetime.min.time()))
        for n, (a, b) in enumerate(spans)
    ]
    capacities = {"x": Capacity(OFFICE, share, absences), "y": Capacity(OFFICE, share)}
    found = levelled(made, capacities)
    assert all(after <= before for before, after in found.still.values())
    if found.fields:
        assert sum(after for _, after in found.still.values()) < sum(before for before, _ in found.still.values())
    assert bool(found.fields) == bool(found.moved)


def test_moves_that_help_only_together_are_found_and_useless_ones_left_out() -> None:
    def attempt(moved: Any) -> dict[str, int]:
        """b and c help together, a does nothing, d harms."""
        return {"x": 10 - 6 * ({"b", "c"} <= set(moved)), "y": 5 * ("d" in moved)}

    assert worth_moving("abcd", {"x": 10}, attempt) == ["b", "c"] or worth_moving("bcad", {"x": 10}, attempt) == ["b", "c"]
    assert worth_moving("d", {"x": 10}, attempt) == []
    assert worth_moving("", {"x": 10}, attempt) == []
