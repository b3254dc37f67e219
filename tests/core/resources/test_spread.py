"""How the hours of a booking lie over the days."""

from __future__ import annotations

from datetime import date, timedelta

from hypothesis import given
from hypothesis import strategies as st

from rhodonite.core.resources.capacity import Absence, Capacity
from rhodonite.core.resources.spread import Together, spread
from rhodonite.core.tasks.model import Booking

from ..make import OFFICE, at

MONDAY = date(2027, 3, 15).toordinal()
commons = st.lists(st.integers(0, 600), min_size=1, max_size=40).filter(any)
shapes = st.sampled_from(["even", "front", "back"])


@given(st.integers(0, 10**7), shapes, commons)
def test_hours_are_conserved_and_lie_only_where_there_is_time(minutes: int, shape: str, common: list[int]) -> None:
    laid = spread(minutes, shape, common)  # type: ignore[arg-type]
    assert sum(laid) == minutes
    assert all(one >= 0 and (some or not one) for one, some in zip(laid, common, strict=True))


@given(st.integers(0, 10**6), st.integers(1, 30), st.integers(1, 600))
def test_even_hours_on_equal_days_differ_by_a_minute_at_most_the_first_days_having_more(
    minutes: int, days: int, some: int
) -> None:
    laid = spread(minutes, "even", [some] * days)
    assert max(laid) - min(laid) <= 1
    assert laid == sorted(laid, reverse=True)


def test_falling_and_rising_hours_by_hand() -> None:
    # over two equal days the weights 2 to 1 and 1 to 0: three quarters, then one
    assert spread(400, "front", [450, 450]) == [300, 100]
    assert spread(400, "back", [450, 450]) == [100, 300]
    # over four: 7, 5, 3 and 1 of sixteen parts
    assert spread(1600, "front", [60] * 4) == [700, 500, 300, 100]


@given(st.integers(0, 10**6), commons)
def test_rising_is_falling_read_from_the_end_but_for_the_minutes_that_are_left(minutes: int, common: list[int]) -> None:
    front, back = spread(minutes, "front", common), spread(minutes, "back", common[::-1])[::-1]
    assert all(abs(a - b) <= 1 for a, b in zip(front, back, strict=True))


def laid(booking: Booking, start: str, finish: str, capacity: Capacity | None = None) -> dict[int, int]:
    """Minutes by the number of days after a Monday."""
    found = Together(capacity or Capacity(OFFICE), OFFICE).lay(booking, at(start), at(finish))
    assert sum(found.by_day.values()) == booking.minutes
    return {ordinal - MONDAY: minutes for ordinal, minutes in found.by_day.items()}


def test_thirty_hours_over_six_days_are_five_a_day_without_the_weekend() -> None:
    assert laid(Booking("x", 1800), "3-15", "3-22 17:30") == dict.fromkeys((0, 1, 2, 3, 4, 7), 300)


def test_a_day_that_the_task_shares_in_part_has_its_part() -> None:
    # from Monday 14:00, 210 of 450 minutes, to Tuesday's end
    assert laid(Booking("x", 660), "3-15 14:00", "3-16 17:30") == {0: 210, 1: 450}


def test_who_is_away_works_on_the_other_days() -> None:
    capacity = Capacity(OFFICE, absences=[Absence("1", "x", "leave", at("3-16 00:00"), at("3-18 00:00"))])
    assert laid(Booking("x", 600), "3-15", "3-19 17:30", capacity) == {0: 200, 3: 200, 4: 200}


def test_hours_without_any_common_time_lie_on_the_first_day_and_are_told_of() -> None:
    capacity = Capacity(OFFICE, absences=[Absence("1", "x", "leave", at("3-1 00:00"), at("4-1 00:00"))])
    found = Together(capacity, OFFICE).lay(Booking("x", 600), at("3-16"), at("3-17 17:30"))
    assert found.by_day == {MONDAY + 1: 600}
    assert found.outside == 600


def test_hours_by_day_move_with_the_task_over_the_persons_working_days() -> None:
    booking = Booking("x", 360, "by_day", (120, 0, 240))
    assert laid(booking, "3-15", "3-17 17:30") == {0: 120, 2: 240}
    assert laid(booking, "3-18", "3-22 17:30") == {3: 120, 7: 240}  # Thursday, Friday, then Monday


def test_hours_by_day_that_reach_beyond_the_task_are_told_of() -> None:
    found = Together(Capacity(OFFICE), OFFICE).lay(Booking("x", 360, "by_day", (120, 240)), at("3-15"), at("3-15 17:30"))
    assert found.outside == 240


def test_elapsed_work_meets_a_person_in_all_of_their_hours() -> None:
    found = Together(Capacity(OFFICE), OFFICE, elapsed=True).lay(Booking("x", 900), at("3-15 00:00"), at("3-17 00:00"))
    assert found.by_day == {MONDAY: 450, MONDAY + 1: 450}


@given(
    st.integers(0, 5000),
    shapes,
    st.integers(0, 30 * 24 * 60),
    st.integers(0, 20 * 24 * 60),
    st.integers(0, 30),
    st.integers(1, 9),
)
def test_no_absence_loses_hours(minutes: int, shape: str, start: int, length: int, first: int, days: int) -> None:
    begin = at("3-1 00:00") + timedelta(minutes=start)
    gone = at("3-1 00:00") + timedelta(days=first)
    capacity = Capacity(OFFICE, absences=[Absence("1", "x", "leave", gone, gone + timedelta(days=days))])
    booking = Booking("x", minutes, shape)  # type: ignore[arg-type]
    found = Together(capacity, OFFICE).lay(booking, begin, begin + timedelta(minutes=length))
    assert sum(found.by_day.values()) == minutes
    if not found.outside:
        assert all(capacity.on(ordinal) for ordinal in found.by_day)
