"""Repeating tasks: rules in words, and the days that they give."""

from __future__ import annotations

from datetime import date, timedelta
from itertools import islice

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rhodonite.core.calendars import OFFICE_WEEK, WorkingCalendar
from rhodonite.core.errors import RuleError
from rhodonite.core.model import CalendarException
from rhodonite.core.repeats import Repeat, check_repeat, days_of, read_repeat, read_rule, say_rule, write_repeat
from tests.core.make import OFFICE

TODAY = date(2027, 3, 17)


@pytest.mark.parametrize(
    ("words", "rule"),
    [
        ("every day", "FREQ=DAILY"),
        ("every 3 days", "FREQ=DAILY;INTERVAL=3"),
        ("weekly", "FREQ=WEEKLY"),
        ("every working day", "FREQ=WEEKLY;BYDAY=MO,TU,WE,TH,FR"),
        ("every second Tuesday", "FREQ=WEEKLY;INTERVAL=2;BYDAY=TU"),
        ("every Monday, Wednesday and Friday", "FREQ=WEEKLY;BYDAY=MO,WE,FR"),
        ("every 3 weeks on Thursday", "FREQ=WEEKLY;INTERVAL=3;BYDAY=TH"),
        ("last working day of the month", "FREQ=MONTHLY;BYDAY=MO,TU,WE,TH,FR;BYSETPOS=-1"),
        ("the second Tuesday of the month", "FREQ=MONTHLY;BYDAY=2TU"),
        ("the 15th of each month", "FREQ=MONTHLY;BYMONTHDAY=15"),
        ("last day of the month", "FREQ=MONTHLY;BYMONTHDAY=-1"),
        ("every year on 3 May", "FREQ=YEARLY;BYMONTH=5;BYMONTHDAY=3"),
        ("every month, 6 times", "FREQ=MONTHLY;COUNT=6"),
        ("every week until 30 Apr", "FREQ=WEEKLY;UNTIL=20270430T235959"),
    ],
)
def test_rules_are_read_and_said_again(words: str, rule: str) -> None:
    assert read_rule(words, TODAY) == rule
    assert read_rule(say_rule(rule, TODAY), TODAY) == rule


@pytest.mark.parametrize("words", ["", "sometimes", "every", "every 0th moon", "the 40th of each month", "every second"])
def test_what_is_no_rule_says_so(words: str) -> None:
    with pytest.raises(RuleError, match="is no rule"):
        read_rule(words, TODAY)


def given_days(rule: str, first: str, count: int, calendar: WorkingCalendar = OFFICE, **more: object) -> list[str]:
    repeat = Repeat(rule, first, **more)  # type: ignore[arg-type]
    return [day.isoformat()[5:] for _, day in islice(days_of(repeat, calendar), count)]


def test_the_days_of_a_rule() -> None:
    # 16 March 2027 is a Tuesday
    assert given_days("FREQ=WEEKLY;INTERVAL=2;BYDAY=TU", "2027-03-16", 3) == ["03-30", "04-13", "04-27"]
    assert given_days("FREQ=MONTHLY;BYDAY=MO,TU,WE,TH,FR;BYSETPOS=-1", "2027-03-31", 3) == ["04-30", "05-31", "06-30"]
    assert given_days("FREQ=DAILY;COUNT=3", "2027-03-16", 9) == ["03-17", "03-18"]  # the first is the task itself


def test_a_day_that_is_not_worked_moves_to_the_next_that_is() -> None:
    closed = WorkingCalendar(OFFICE_WEEK, (CalendarException(date(2027, 3, 30), date(2027, 3, 31)),))
    assert given_days("FREQ=WEEKLY;BYDAY=TU", "2027-03-23", 2, closed) == ["04-01", "04-06"]
    assert given_days("FREQ=WEEKLY;BYDAY=TU", "2027-03-23", 1, closed, off_holidays=False) == ["03-30"]
    assert given_days("FREQ=MONTHLY;BYMONTHDAY=20", "2027-03-20", 2) == ["04-20", "05-20"]


@given(
    st.sampled_from(["DAILY", "WEEKLY", "MONTHLY"]),
    st.integers(1, 12),
    st.dates(date(2027, 1, 1), date(2028, 12, 31)),
    st.booleans(),
)
def test_days_go_on_and_are_worked_where_that_is_asked(unit: str, interval: int, first: date, off: bool) -> None:
    repeat = Repeat(f"FREQ={unit};INTERVAL={interval}", first.isoformat(), off_holidays=off)
    found = list(islice(days_of(repeat, OFFICE), 8))
    rule_days = [day for day, _ in found]
    assert rule_days == sorted(set(rule_days))
    assert all(day > first for day in rule_days)
    assert all(stands.weekday() < 5 for _, stands in found) or not off
    assert all(timedelta(0) <= stands - day <= timedelta(days=2) for day, stands in found)


def test_a_repeat_survives_being_kept_and_is_checked() -> None:
    repeat = Repeat("FREQ=DAILY", "2027-03-17", "ahead", 3, last="2027-03-20", by="x")
    assert read_repeat(write_repeat(repeat)) == repeat
    for bad in (Repeat("FREQ=SOMETIMES", "2027-03-17"), Repeat("FREQ=DAILY", "2027-03-17", "ahead", 99)):
        with pytest.raises(RuleError):
            check_repeat(bad)
