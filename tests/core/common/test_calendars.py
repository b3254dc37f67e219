"""Working time, checked against a slow and obvious method that looks at every minute."""

from __future__ import annotations

from datetime import date, datetime, timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rhodonite.core.common.calendars import (
    OFFICE_WEEK,
    CalendarException,
    WorkingCalendar,
    datetime_of,
    minute_of,
    read_hours,
    write_hours,
)
from rhodonite.core.common.errors import RuleError

OFFICE = WorkingCalendar(OFFICE_WEEK)
HOLIDAY = CalendarException(date(2027, 4, 2), date(2027, 4, 5), (), "spring holiday")
FAIR = CalendarException(date(2027, 4, 10), date(2027, 4, 10), ((600, 720),), "fair on a Saturday")


@st.composite
def calendars(draw: st.DrawFn) -> WorkingCalendar:
    def hours() -> tuple[tuple[int, int], ...]:
        marks = sorted(draw(st.lists(st.integers(0, 1440), max_size=4, unique=True)))
        return tuple((marks[i], marks[i + 1]) for i in range(0, len(marks) - 1, 2))

    week = [hours() for _ in range(7)]
    if not any(week):
        week[2] = ((480, 960),)
    exceptions = [
        CalendarException(date(2027, 3, 1) + timedelta(days=first), date(2027, 3, 1) + timedelta(days=first + length), hours())
        for first, length in draw(st.lists(st.tuples(st.integers(0, 30), st.integers(0, 6)), max_size=3))
    ]
    return WorkingCalendar(week, exceptions)


def works(calendar: WorkingCalendar, minute: int) -> bool:
    """True where work goes on during the minute that begins here."""
    at = datetime_of(minute)
    return any(a <= at.hour * 60 + at.minute < b for a, b in calendar.hours(at.date()))


START = minute_of(datetime(2027, 3, 8))
MOMENTS = st.integers(START, START + 20 * 1440)


@settings(max_examples=60, deadline=None)
@given(calendars(), MOMENTS, st.integers(1, 900))
def test_adding_walks_minute_by_minute(calendar: WorkingCalendar, start: int, duration: int) -> None:
    minute, left = start, duration
    while left:
        left -= works(calendar, minute)
        minute += 1
    assert calendar.add(start, duration) == minute


@settings(max_examples=60, deadline=None)
@given(calendars(), MOMENTS, st.integers(1, 900))
def test_going_back_walks_minute_by_minute(calendar: WorkingCalendar, start: int, duration: int) -> None:
    minute, left = start, duration
    while left:
        minute -= 1
        left -= works(calendar, minute)
    assert calendar.add(start, -duration) == minute


@settings(max_examples=60, deadline=None)
@given(calendars(), MOMENTS, MOMENTS)
def test_between_counts_the_worked_minutes(calendar: WorkingCalendar, a: int, b: int) -> None:
    low, high = min(a, b), max(a, b)
    counted = sum(works(calendar, minute) for minute in range(low, high))
    assert calendar.between(a, b) == (counted if a <= b else -counted)


@settings(max_examples=60, deadline=None)
@given(calendars(), MOMENTS)
def test_next_and_last_working_minute(calendar: WorkingCalendar, minute: int) -> None:
    expected = minute
    while not works(calendar, expected):
        expected += 1
    assert calendar.next_working(minute) == expected
    expected = minute
    while not works(calendar, expected - 1):
        expected -= 1
    assert calendar.last_working(minute) == expected


@given(calendars(), MOMENTS, st.integers(0, 5000), st.integers(0, 5000))
def test_adding_in_two_steps_is_adding_at_once(calendar: WorkingCalendar, start: int, a: int, b: int) -> None:
    assert calendar.add(calendar.add(start, a), b) == calendar.add(start, a + b)


def test_a_task_that_ends_on_friday_finishes_on_friday() -> None:
    assert OFFICE.add_to(datetime(2027, 3, 15, 9), 5 * 450) == datetime(2027, 3, 19, 17, 30)


def test_lunch_is_left_out() -> None:
    assert OFFICE.add_to(datetime(2027, 3, 15, 12), 120) == datetime(2027, 3, 15, 15)


def test_exceptions_close_days_and_open_others() -> None:
    calendar = WorkingCalendar(OFFICE_WEEK, [HOLIDAY, FAIR])
    assert not calendar.is_working_day(date(2027, 4, 2))
    assert calendar.is_working_day(date(2027, 4, 10))
    # Thursday 1 April 16:30, an hour left; then Friday to Monday are closed
    assert calendar.add_to(datetime(2027, 4, 1, 16, 30), 120) == datetime(2027, 4, 6, 10)
    assert calendar.minutes_between(datetime(2027, 4, 10), datetime(2027, 4, 12)) == 120


def test_days_begin_and_end_where_work_does() -> None:
    assert OFFICE.start_of_day(date(2027, 3, 20)) == datetime(2027, 3, 22, 9)
    assert OFFICE.end_of_day(date(2027, 3, 21)) == datetime(2027, 3, 19, 17, 30)
    assert OFFICE.end_of_day(date(2027, 3, 19)) == datetime(2027, 3, 19, 17, 30)


def test_the_usual_day_is_the_most_common_one() -> None:
    short_friday = (*OFFICE_WEEK[:4], ((540, 780),), (), ())
    assert WorkingCalendar(short_friday).day_minutes == 450


@pytest.mark.parametrize("year", [1994, 2019, 2090])
def test_far_dates_are_reached_both_ways(year: int) -> None:
    monday = OFFICE.start_of_day(date(year, 6, 1))
    assert OFFICE.add_to(OFFICE.add_to(monday, 450 * 300), -450 * 300) == monday


def test_a_calendar_without_work_is_refused() -> None:
    with pytest.raises(RuleError, match="at least one weekday"):
        WorkingCalendar([()] * 7)


def test_a_rest_without_end_is_refused() -> None:
    closed = CalendarException(date(2027, 1, 1), date(2038, 12, 1))
    with pytest.raises(RuleError):
        WorkingCalendar(OFFICE_WEEK, [closed])


def test_hours_are_read_and_written() -> None:
    assert read_hours([["14:00", "17:30"], ["09:00", "13:00"]]) == ((540, 780), (840, 1050))
    assert write_hours(((540, 780),)) == [["09:00", "13:00"]]
    assert read_hours([["20:00", "24:00"]]) == ((1200, 1440),)


@pytest.mark.parametrize(
    "pairs", [[["17:00", "09:00"]], [["09:00", "12:00"], ["11:00", "13:00"]], [["nine", "ten"]], [["09:00"]]]
)
def test_hours_that_cannot_be_are_refused(pairs: list[list[str]]) -> None:
    with pytest.raises(RuleError):
        read_hours(pairs)
