"""Time entries, timers and weeks."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rhodonite.core.common.errors import Forbidden, RuleError
from rhodonite.core.tasks.model import Booking
from rhodonite.core.time.entries import (
    TimeEntry,
    Timer,
    check_entry,
    check_open,
    entry_of,
    is_forgotten,
    may_change,
    may_enter,
    minutes_until,
    monday_of,
    ran_for,
    state_of_week,
)
from tests.core.make import task as make_task

TODAY = date(2027, 3, 17)
ENTRY = TimeEntry("e", "p", "t", "tomas", TODAY, 90)


@pytest.mark.parametrize(
    ("wrong", "field"),
    [
        ({"minutes": 0}, "minutes"),
        ({"minutes": 24 * 60 + 1}, "minutes"),
        ({"day": TODAY + timedelta(days=1)}, "day"),
        ({"day": date(1901, 1, 1)}, "day"),
        ({"started": 24 * 60}, "started"),
        ({"note": "x" * 501}, "note"),
    ],
)
def test_an_entry_that_cannot_be_says_which_field_is_wrong(wrong: dict[str, object], field: str) -> None:
    with pytest.raises(RuleError) as refused:
        check_entry(replace(ENTRY, **wrong), TODAY)  # type: ignore[arg-type]
    assert refused.value.field == field


@given(started=st.integers(0, 1439), minutes=st.integers(1, 1439))
def test_from_when_to_when_gives_the_minutes_between_also_past_midnight(started: int, minutes: int) -> None:
    assert minutes_until(started, (started + minutes) % 1440) == minutes


def test_from_a_time_to_the_same_is_a_whole_day() -> None:
    assert minutes_until(540, 540) == 1440


@given(st.dates(date(1971, 1, 1), date(2199, 1, 1)))
def test_a_week_begins_on_its_monday(day: date) -> None:
    monday = monday_of(day)
    assert monday.weekday() == 0
    assert 0 <= (day - monday).days < 7


@pytest.mark.parametrize(
    ("role", "at_work", "may"),
    [("lead", False, True), ("contributor", False, True), ("viewer", False, False), ("commenter", True, True), ("viewer", True, True),
     (None, True, False)],
)  # fmt: skip
def test_who_may_enter_time_on_a_task(role: str | None, at_work: bool, may: bool) -> None:
    task = make_task("t", bookings=(Booking("tomas", 60),) if at_work else ())
    assert may_enter(role, task, "tomas") is may


def test_hours_are_changed_by_whose_they_are_and_by_leads() -> None:
    assert may_change("viewer", "tomas", "tomas")
    assert may_change("lead", "tomas", "ines")
    assert not may_change("contributor", "tomas", "ines")


@pytest.mark.parametrize(
    ("state", "leads", "is_open"),
    [
        (None, False, True),
        ("returned", False, True),
        ("handed_in", False, False),
        ("handed_in", True, True),
        ("accepted", True, False),
    ],
)
def test_what_was_handed_in_or_accepted_is_closed(state: str | None, leads: bool, is_open: bool) -> None:
    closed = {("tomas", monday_of(TODAY), "p"): state} if state else {}
    if is_open:
        check_open(closed, ENTRY, leads=leads)  # type: ignore[arg-type]
    else:
        with pytest.raises(Forbidden):
            check_open(closed, ENTRY, leads=leads)  # type: ignore[arg-type]


def test_a_timer_counts_whole_minutes_and_at_least_one() -> None:
    begun = Timer("tomas", "t", datetime(2027, 3, 17, 9))
    assert ran_for(begun, datetime(2027, 3, 17, 9, 0, 20)) == 1
    assert ran_for(begun, datetime(2027, 3, 17, 10, 30, 29)) == 90
    assert ran_for(begun, datetime(2027, 3, 17, 8)) == 1  # a clock that was set back takes nothing away


def test_a_timer_becomes_an_entry_on_the_day_on_which_it_was_started() -> None:
    timer = Timer("tomas", "t", datetime(2027, 3, 17, 22), "grinding", billable=False)
    made = entry_of(timer, "e", "p", datetime(2027, 3, 17, 23), 150)
    assert made == TimeEntry("e", "p", "t", "tomas", TODAY, 150, 23 * 60, "grinding", False)


def test_a_timer_is_forgotten_after_more_than_a_days_work() -> None:
    assert not is_forgotten(480, 240)  # who works half days may work a whole one
    assert is_forgotten(481, 240)
    assert not is_forgotten(600, 600)
    assert is_forgotten(601, 600)


@pytest.mark.parametrize(
    ("states", "whole"),
    [
        ([], "open"),
        ([None], "open"),
        (["accepted", None], "open"),
        (["accepted", "handed_in"], "handed_in"),
        (["returned", "handed_in", "accepted"], "returned"),
        (["accepted", "accepted"], "accepted"),
    ],
)
def test_how_a_week_stands_over_its_projects(states: list[str | None], whole: str) -> None:
    assert state_of_week(states) == whole  # type: ignore[arg-type]
