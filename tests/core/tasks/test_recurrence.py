"""Repeating tasks: rules in words, and the days that they give."""

from __future__ import annotations

import contextlib
from datetime import date, timedelta
from itertools import islice

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rhodonite.core.common.calendars import OFFICE_WEEK, CalendarException, WorkingCalendar
from rhodonite.core.common.errors import RuleError
from rhodonite.core.tasks.recurrence import Repeat, check_repeat, days_of, read_repeat, write_repeat
from rhodonite.core.tasks.recurrence_words import note_on, read_rule, say_rule
from tests.core.make import OFFICE

TODAY = date(2027, 3, 17)


@pytest.mark.parametrize(
    ("words", "rule"),
    [
        ("every day", "FREQ=DAILY"),
        ("every 3 days", "FREQ=DAILY;INTERVAL=3"),
        ("weekly", "FREQ=WEEKLY"),
        ("every working day", "FREQ=DAILY;X-WORKDAY=EVERY"),
        ("every weekday", "FREQ=WEEKLY;BYDAY=MO,TU,WE,TH,FR"),
        ("every second Tuesday", "FREQ=WEEKLY;INTERVAL=2;BYDAY=TU"),
        ("every Monday, Wednesday and Friday", "FREQ=WEEKLY;BYDAY=MO,WE,FR"),
        ("every 3 weeks on Thursday", "FREQ=WEEKLY;INTERVAL=3;BYDAY=TH"),
        ("last working day of the month", "FREQ=MONTHLY;X-WORKDAY=LAST"),
        ("the first working day of each quarter", "FREQ=MONTHLY;INTERVAL=3;X-WORKDAY=FIRST"),
        ("quarterly", "FREQ=MONTHLY;INTERVAL=3"),
        ("yearly", "FREQ=YEARLY"),
        ("annually", "FREQ=YEARLY"),
        ("fortnightly", "FREQ=WEEKLY;INTERVAL=2"),
        ("every fortnight on Friday", "FREQ=WEEKLY;INTERVAL=2;BYDAY=FR"),
        ("every other month", "FREQ=MONTHLY;INTERVAL=2"),
        ("every first Monday", "FREQ=MONTHLY;BYDAY=1MO"),
        ("every last Friday of the month", "FREQ=MONTHLY;BYDAY=-1FR"),
        ("first and third Tuesday of every month", "FREQ=MONTHLY;BYDAY=1TU,3TU"),
        ("on the 1st and 15th", "FREQ=MONTHLY;BYMONTHDAY=1,15"),
        ("monthly on the 5th", "FREQ=MONTHLY;BYMONTHDAY=5"),
        ("the 31st of each month", "FREQ=MONTHLY;BYMONTHDAY=31"),
        ("the 31st or the last day of each month", "FREQ=MONTHLY;BYMONTHDAY=28,29,30,31;BYSETPOS=-1"),
        ("on 3 May each year", "FREQ=YEARLY;BYMONTH=5;BYMONTHDAY=3"),
        ("every year on the 3rd of May and November", "FREQ=YEARLY;BYMONTH=5,11;BYMONTHDAY=3"),
        ("the first Monday of May each year", "FREQ=YEARLY;BYMONTH=5;BYDAY=1MO"),
        ("on Mondays and Thursdays", "FREQ=WEEKLY;BYDAY=MO,TH"),
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


@pytest.mark.parametrize(
    ("words", "said"),
    [
        ("", "was not understood"),
        ("every", "was not understood"),
        ("every blue moon", "“blue” in “every blue moon” was not understood. Nearest to it is “every month”"),
        ("every second", "Nearest to it is “every second Tuesday”"),
        ("evry second tuesday", "“evry”.*“every second Tuesday”"),
        ("the 40th of each month", "no such day"),
        ("every year on 30 february", "February has no day 30"),
        ("FREQ=SECONDLY", "“FREQ=SECONDLY” cannot stand in a rule"),
        ("FREQ=DAILY;BYSECOND=1", "BYSECOND"),
        ("FREQ=DAILY;INTERVAL=1000000000", "INTERVAL"),
        ("FREQ=WEEKLY;" + "BYDAY=MO;" * 20, "BYDAY=MO"),
    ],
)
def test_what_is_no_rule_says_what_was_not_understood(words: str, said: str) -> None:
    with pytest.raises(RuleError, match=said):
        read_rule(words, TODAY)


@pytest.mark.parametrize("word", ["mon,", "monday", "monday, ", "and ", ",", "every ", "1st and "])
def test_no_text_takes_long_to_refuse_or_read(word: str) -> None:
    """A grammar that tries again and again would not end on these."""
    for text in (word * 60 + "x", "every " + word * 60 + "!", word * 5000):
        with contextlib.suppress(RuleError):
            read_rule(text, TODAY)


def test_working_days_are_those_of_the_calendar() -> None:
    closed = WorkingCalendar(OFFICE_WEEK, (CalendarException(date(2027, 4, 29), date(2027, 5, 3)),))
    assert given_days("FREQ=MONTHLY;X-WORKDAY=LAST", "2027-03-31", 2, closed) == ["04-28", "05-31"]
    assert given_days("FREQ=MONTHLY;X-WORKDAY=FIRST", "2027-04-01", 2, closed) == ["05-04", "06-01"]
    six_days = WorkingCalendar((*OFFICE_WEEK[:5], OFFICE_WEEK[0], ()))
    assert given_days("FREQ=DAILY;X-WORKDAY=EVERY", "2027-03-18", 3, six_days) == ["03-19", "03-20", "03-22"]


def test_days_that_come_to_stand_on_one_are_one() -> None:
    # Saturday and Sunday both stand for Monday, which the rule gives too
    assert given_days("FREQ=DAILY", "2027-03-18", 4) == ["03-19", "03-22", "03-23", "03-24"]


def test_short_months_are_left_out_or_take_their_last_day() -> None:
    assert given_days("FREQ=MONTHLY;BYMONTHDAY=31", "2027-03-31", 2, off_holidays=False) == ["05-31", "07-31"]
    both = "FREQ=MONTHLY;BYMONTHDAY=28,29,30,31;BYSETPOS=-1"
    assert given_days(both, "2027-03-31", 3, off_holidays=False) == ["04-30", "05-31", "06-30"]
    assert "Months without a 31st are left out" in note_on("FREQ=MONTHLY;BYMONTHDAY=31")
    assert note_on(both) == note_on("FREQ=MONTHLY;BYMONTHDAY=15") == ""


def test_a_rule_in_the_tables_that_is_none_gives_no_day() -> None:
    assert given_days("FREQ=SECONDLY", "2027-03-31", 3) == []
    assert say_rule("FREQ=SECONDLY", TODAY) == "by a rule that cannot be read"
    # as it was kept before calendars were asked
    assert say_rule("FREQ=MONTHLY;BYDAY=MO,TU,WE,TH,FR;BYSETPOS=-1", TODAY) == "the last working day of the month"


def test_a_rule_that_gives_no_day_is_refused() -> None:
    with pytest.raises(RuleError, match="no day in the next thirty years"):
        check_repeat(Repeat("FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30", "2027-03-17"))


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
