"""What lies on people by day."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rhodonite.core.common.errors import RuleError
from rhodonite.core.resources.capacity import Absence, Capacity
from rhodonite.core.resources.load import NOBODY, Bookable, PlanLoad, Span, columns, line, load_of, tasks_line
from rhodonite.core.schedule.plan import Plan
from rhodonite.core.tasks.model import Booking, Project, Task

from ..make import NOW, OFFICE, PROJECT, at, days, plan, task

USUAL = Capacity(OFFICE)
WEEK = columns(date(2027, 3, 15), date(2027, 3, 19), "day")


def booked(*tasks: Any, capacities: dict[str, Capacity] | None = None) -> PlanLoad:
    return load_of(plan(*tasks), capacities or {}, USUAL)


def hours(load: PlanLoad, who: str, span: Span = WEEK, capacity: Capacity | None = USUAL) -> Any:
    return line(Bookable(who, capacity, capacity), span, {"LAN": load}, ())


def test_bookings_of_several_tasks_add_up_and_what_exceeds_the_day_is_over() -> None:
    load = booked(
        task("a", bookings=(Booking("x", 5 * 300),), **days("3-15", 5)),
        task("b", bookings=(Booking("x", 2 * 240),), **days("3-16", 2)),
    )
    found = hours(load, "x")
    assert found.bands == {"LAN": [300, 540, 540, 300, 300]}
    assert found.capacity == [450] * 5
    assert found.over == [0, 90, 90, 0, 0]
    assert found.days_over == 2


def test_a_day_without_capacity_is_over_by_all_that_is_booked_on_it() -> None:
    gone = Capacity(OFFICE, absences=[Absence("1", "x", "leave", at("3-1 00:00"), at("4-1 00:00"))])
    load = booked(task("a", bookings=(Booking("x", 120),), **days("3-15", 1)), capacities={"x": gone})
    found = line(Bookable("x", gone, USUAL), WEEK, {"LAN": load}, ())
    assert found.over[0] == 120
    assert found.away == [450] * 5


def test_what_is_estimated_and_not_booked_is_not_given_to_anyone() -> None:
    load = booked(task("a", effort=1800, bookings=(Booking("x", 1080),), **days("3-15", 3)))
    assert hours(load, NOBODY, capacity=None).bands == {"LAN": [240, 240, 240, 0, 0]}


def test_other_projects_count_without_a_name() -> None:
    load = booked(task("a", bookings=(Booking("x", 300),), **days("3-15", 1)))
    found = line(Bookable("x", USUAL), WEEK, {}, (load, load))
    assert (found.bands, found.other, found.over) == ({}, [600, 0, 0, 0, 0], [150, 0, 0, 0, 0])


def test_dropped_work_lies_on_nobody_and_finished_work_where_it_was_done() -> None:
    load = booked(
        task("a", state_id="dropped", bookings=(Booking("x", 300),), **days("3-15", 1)),
        task("b", state_id="done", actual_start=at("3-17"), actual_finish=at("3-17 17:30"), percent=100,
             bookings=(Booking("x", 60),), **days("3-15", 1)),
    )  # fmt: skip
    assert hours(load, "x").bands == {"LAN": [0, 0, 60, 0, 0]}


def test_bookings_without_dates_lie_nowhere_and_are_counted() -> None:
    load = booked(task("a", bookings=(Booking("x", 300),)))
    assert (load.by_who, load.undated) == ({}, ["a"])


def test_a_week_is_over_by_its_full_days_whatever_its_free_ones() -> None:
    load = booked(task("a", bookings=(Booking("x", 600),), **days("3-15", 1)))
    found = hours(load, "x", columns(date(2027, 3, 17), date(2027, 3, 24), "week"))
    assert found.bands == {"LAN": [600, 0]}
    assert found.capacity == [2250, 2250]
    assert found.over == [150, 0]


def test_tasks_are_counted_where_somebody_owns_them_or_helps() -> None:
    load = booked(
        task("a", owner_id="x", **days("3-15", 3)), task("b", owner_id="y", helpers=("x",), **days("3-17", 1)),
        task("c", owner_id="x", state_id="done", percent=100, **days("3-15", 5)),
    )  # fmt: skip
    assert tasks_line(Bookable("x", USUAL), WEEK, {"LAN": load}, ()).bands == {"LAN": [1, 1, 2, 0, 0]}


def test_columns_are_whole_weeks_and_months() -> None:
    weeks = columns(date(2027, 3, 17), date(2027, 3, 23), "week")
    assert [date.fromordinal(edge) for edge in weeks.edges] == [date(2027, 3, 15), date(2027, 3, 22), date(2027, 3, 29)]
    months = columns(date(2027, 12, 24), date(2028, 1, 2), "month")
    assert [date.fromordinal(edge) for edge in months.edges] == [date(2027, 12, 1), date(2028, 1, 1), date(2028, 2, 1)]
    for first, last, by in ((date(2027, 3, 2), date(2027, 3, 1), "day"), (date(2020, 1, 1), date(2027, 1, 1), "day")):
        with pytest.raises(RuleError):
            columns(first, last, by)  # type: ignore[arg-type]


bookings = st.lists(
    st.tuples(st.sampled_from("xyz"), st.integers(0, 6000), st.sampled_from(["even", "front", "back"])), max_size=4
).map(lambda found: tuple({who: Booking(who, minutes, shape) for who, minutes, shape in found}.values()))  # type: ignore[arg-type]


@settings(max_examples=60)
@given(st.lists(st.tuples(st.integers(1, 28), st.integers(1, 12), bookings), min_size=1, max_size=12))
def test_load_by_day_sums_to_hours_by_booking(tasks: list[tuple[int, int, tuple[Booking, ...]]]) -> None:
    made = [
        replace(task(f"t{n}", **days(f"3-{day}", length)), bookings=several) for n, (day, length, several) in enumerate(tasks)
    ]
    load = booked(*made)
    whole = columns(date(2027, 2, 1), date(2027, 5, 31), "month")
    for who in "xyz":
        in_all = sum(one.minutes for each in made for one in each.bookings if one.who == who)
        assert sum(map(sum, hours(load, who, whole).bands.values())) == in_all
        by_day = columns(date(2027, 2, 1), date(2027, 5, 31), "day")
        assert sum(hours(load, who, whole).over) == sum(hours(load, who, by_day).over)


# what was spent


RECORDING = replace(PROJECT, time=True)


def recorded(task: Task, spent: dict[str, dict[int, int]], project: Project = RECORDING) -> dict[str, dict[int, int]]:
    """What one task lays on people where time is recorded."""
    made = Plan(project, OFFICE, [task], NOW)
    return load_of(made, {}, USUAL, {task.id: spent} if spent else {}).by_who


WEDNESDAY = NOW.toordinal()


def test_what_is_spent_lies_in_the_past_and_what_is_left_ahead() -> None:
    begun = task("a", state_id="doing", bookings=(Booking("tomas", 1200),), **days("3-15", 5))
    lies = recorded(begun, {"tomas": {WEDNESDAY - 2: 300, WEDNESDAY - 1: 100}})["tomas"]
    assert (lies[WEDNESDAY - 2], lies[WEDNESDAY - 1]) == (300, 100)
    assert sum(lies.values()) == 1200
    assert set(lies) == {WEDNESDAY - 2, WEDNESDAY - 1, WEDNESDAY, WEDNESDAY + 1, WEDNESDAY + 2}


def test_more_than_booked_leaves_nothing_and_a_late_task_lies_on_today() -> None:
    late = task("a", state_id="doing", bookings=(Booking("tomas", 300), Booking("yuki", 120)), **days("3-08", 2))
    lies = recorded(late, {"tomas": {WEDNESDAY - 5: 400}})
    assert lies == {"tomas": {WEDNESDAY - 5: 400}, "yuki": {WEDNESDAY: 120}}


def test_hours_of_people_without_a_booking_come_off_their_crew() -> None:
    crewed = task("a", state_id="doing", bookings=(Booking("crew", 600, resource=True),), **days("3-15", 5))
    lies = recorded(crewed, {"tomas": {WEDNESDAY - 1: 200}})
    assert (sum(lies["crew"].values()), sum(lies["tomas"].values())) == (400, 200)


def test_of_finished_work_only_what_was_entered_lies_anywhere() -> None:
    done = task("a", state_id="done", bookings=(Booking("tomas", 600),), percent=100, actual_start=at("3-08"),
                actual_finish=at("3-09 17:00"), **days("3-08", 2))  # fmt: skip
    assert recorded(done, {"tomas": {WEDNESDAY - 9: 200}})["tomas"] == {WEDNESDAY - 9: 200}
    assert sum(recorded(done, {})["tomas"].values()) == 600  # nobody entered anything: what was booked stands for it


def test_where_no_time_is_recorded_bookings_lie_as_before() -> None:
    begun = task("a", state_id="doing", bookings=(Booking("tomas", 900),), **days("3-15", 5))
    assert recorded(begun, {}, PROJECT)["tomas"][WEDNESDAY - 2] == 180
    assert WEDNESDAY - 2 not in recorded(begun, {})["tomas"]


@given(st.integers(1, 3000), st.integers(0, 1500), st.integers(0, 1500), st.sampled_from(["even", "front", "back"]))
def test_spent_and_left_never_fall_short_of_what_is_booked(booked: int, monday: int, tuesday: int, shape: str) -> None:
    begun = task("a", state_id="doing", bookings=(Booking("tomas", booked, shape),), **days("3-15", 5))  # type: ignore[arg-type]
    spent = {day: minutes for day, minutes in ((WEDNESDAY - 2, monday), (WEDNESDAY - 1, tuesday)) if minutes}
    lies = recorded(begun, {"tomas": spent} if spent else {})["tomas"]
    assert sum(lies.values()) == max(booked, monday + tuesday)
