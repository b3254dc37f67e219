"""Tasks as a calendar that other programs follow, read back by the library that reads calendars."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime
from zoneinfo import ZoneInfo

from icalendar import Calendar

from rhodonite.formats.ical import Entry, write_calendar

ZONE = ZoneInfo("Europe/London")
PANE = Entry(
    "t1@corvane.example", "Cut, fit; seal", datetime(2027, 3, 17, 9, tzinfo=ZONE), datetime(2027, 3, 19, 17, 30, tzinfo=ZONE),
    "https://corvane.example/p/LAN/tasks/1", "Owner: Ines Oduya\nReady", 40, "IN-PROCESS", datetime(2027, 3, 16, tzinfo=ZONE),
)  # fmt: skip


def test_dated_work_is_an_event_that_makes_nobody_busy() -> None:
    calendar = Calendar.from_ical(write_calendar("Lantern Room", [PANE]))
    assert calendar["x-wr-calname"] == "Lantern Room"
    [event] = calendar.walk("VEVENT")
    assert (str(event["summary"]), str(event["uid"])) == ("Cut, fit; seal", "t1@corvane.example")
    assert event.decoded("dtstart") == PANE.start
    assert event.decoded("dtend") == PANE.finish
    assert event["transp"] == "TRANSPARENT"
    assert str(event["description"]) == PANE.words


def test_a_milestone_is_a_moment_and_has_no_end() -> None:
    [event] = Calendar.from_ical(write_calendar("x", [replace(PANE, start=PANE.finish)])).walk("VEVENT")
    assert event.decoded("dtstart") == PANE.finish
    assert "dtend" not in event


def test_work_without_dates_is_to_do() -> None:
    calendar = Calendar.from_ical(write_calendar("x", [replace(PANE, start=None), replace(PANE, start=None, finish=None)]))
    due, loose = calendar.walk("VTODO")
    assert due.decoded("due") == PANE.finish
    assert "due" not in loose
    assert (due["status"], due["percent-complete"]) == ("IN-PROCESS", 40)
