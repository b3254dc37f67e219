"""Durations and dates as people write them."""

from __future__ import annotations

from datetime import date, datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rhodonite.core.common.dates import read_day, read_moment, say_day
from rhodonite.core.common.durations import read_duration, read_rate, say_duration
from rhodonite.core.common.errors import RuleError

TODAY = date(2027, 3, 17)  # a Wednesday


@pytest.mark.parametrize(
    ("text", "minutes"),
    [("3 days", 1350), ("3", 1350), ("6h", 360), ("half a day", 225), ("1d 4h", 690), ("90 min", 90), ("2 weeks", 4500),
     ("1.5 d", 675), ("1,5 d", 675), ("an hour", 60), ("1 day and 2 hours", 570), ("0", 0)],
)  # fmt: skip
def test_durations_are_read(text: str, minutes: int) -> None:
    assert read_duration(text, 450) == minutes


@pytest.mark.parametrize("text", ["", "soon", "3 moons", "days", "3 d ays", "x 3 days", "3 days x", "-1 d", "99999999 weeks"])
def test_what_is_no_duration_is_refused(text: str) -> None:
    with pytest.raises(RuleError):
        read_duration(text, 450)


def test_a_bare_number_can_be_refused() -> None:
    with pytest.raises(RuleError):
        read_duration("3", 450, bare=None)


@given(st.integers(1, 100_000), st.sampled_from([60, 240, 450, 480, 720, 1440]))
def test_what_is_said_is_read_again(minutes: int, day: int) -> None:
    assert read_duration(say_duration(minutes, day), day) == minutes


@pytest.mark.parametrize(
    ("text", "day"),
    [("today", (3, 17)), ("tomorrow", (3, 18)), ("fri", (3, 19)), ("Friday", (3, 19)), ("wed", (3, 17)), ("next mon", (3, 22)),
     ("next fri", (3, 26)), ("next week", (3, 22)), ("end of month", (3, 31)), ("+3d", (3, 20)), ("in 2 weeks", (3, 31)),
     ("8 Mar", (3, 8)), ("8 march", (3, 8)), ("Mar 8", (3, 8)), ("8.3.", (3, 8)), ("8/3", (3, 8)), ("8.3.2027", (3, 8)),
     ("2027-03-08", (3, 8)), ("3rd april", (4, 3)), ("3/25", (3, 25)), ("end of week", (3, 19)), ("next month", (4, 1)), ("Fri 26 Mar", (3, 26)),
     ("Tuesday, 9 Mar 2027", (3, 9)), ("wed mar 31", (3, 31))],
)  # fmt: skip
def test_days_are_read(text: str, day: tuple[int, int]) -> None:
    assert read_day(text, TODAY) == date(2027, *day)


def test_a_day_without_a_year_is_the_nearest() -> None:
    assert read_day("20 Dec", date(2027, 1, 5)) == date(2026, 12, 20)
    assert read_day("3 Jan", date(2026, 12, 20)) == date(2027, 1, 3)
    assert read_day("29 Feb 2028", TODAY) == date(2028, 2, 29)


def test_months_may_come_first() -> None:
    assert read_day("3/8/2027", TODAY, month_first=True) == date(2027, 3, 8)
    assert read_day("3/8/2027", TODAY) == date(2027, 8, 3)


def test_a_time_may_follow() -> None:
    assert read_moment("fri 14:30", TODAY) == datetime(2027, 3, 19, 14, 30)
    assert read_moment("2027-03-08T09:00", TODAY) == datetime(2027, 3, 8, 9)
    assert read_moment("8 Mar at 9:15", TODAY) == datetime(2027, 3, 8, 9, 15)


@pytest.mark.parametrize("text", ["", "soon", "31 Feb", "13.13.2027", "fr", "40 Mar", "m", "2027-13-01"])
def test_what_is_no_date_is_refused(text: str) -> None:
    with pytest.raises(RuleError):
        read_moment(text, TODAY)


@given(st.dates(date(2026, 10, 1), date(2027, 8, 30)))
def test_a_day_that_is_said_is_read_again(day: date) -> None:
    assert read_day(say_day(day, TODAY), TODAY) == day


@pytest.mark.parametrize(
    ("text", "minutes"),
    [("0:50", 50), ("1:30 h", 90), ("1½ h", 90), ("½ day", 225), ("half a day", 225)],
)
def test_hours_are_read_however_people_write_them(text: str, minutes: int) -> None:
    assert read_duration(text, 450) == minutes


@pytest.mark.parametrize(
    ("text", "minutes"),
    [
        ("3h a day", 180),
        ("3 h/day", 180),
        ("90 min per day", 90),
        ("half days", 225),
        ("full days", 450),
        ("2:30 daily", 150),
        ("50 %", 225),
        ("2 each day", 120),
    ],
)
def test_how_much_of_each_day_is_read(text: str, minutes: int) -> None:
    assert read_rate(text, 450) == minutes


@pytest.mark.parametrize("text", ["3h a day", "3 h/day", "half days"])
def test_how_much_of_each_day_is_no_length(text: str) -> None:
    with pytest.raises(RuleError, match="of each day"):
        read_duration(text, 450)


@pytest.mark.parametrize("text", ["a day", "3 days", "1 d 4 h", "half a day", "nonsense"])
def test_a_length_is_not_read_as_how_much_of_each_day(text: str) -> None:
    assert read_rate(text, 450) is None
