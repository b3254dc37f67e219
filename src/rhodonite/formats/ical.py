"""Tasks as an iCalendar (RFC 5545): dated work as events, the rest as to-dos."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime

from icalendar import Calendar, Event, Todo


@dataclass(frozen=True, slots=True)
class Entry:
    """A task in a calendar. Moments carry their zone.

    Attributes:
        uid: the same for the same task at all times, so that a subscriber changes it rather than adding another.
        changed: when it was last changed.
        status: ``NEEDS-ACTION``, ``IN-PROCESS`` or ``COMPLETED``.
    """

    uid: str
    title: str
    start: datetime | None
    finish: datetime | None
    url: str
    words: str
    percent: int
    status: str
    changed: datetime


def write_calendar(name: str, entries: Iterable[Entry]) -> bytes:
    """The calendar as text."""
    calendar = Calendar()
    calendar.add("prodid", "-//Rhodonite//Rhodonite//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", name)
    calendar.add("refresh-interval;value=duration", "PT1H")
    for entry in entries:
        calendar.add_component(_event(entry) if entry.start and entry.finish else _todo(entry))
    return calendar.to_ical()  # type: ignore[no-any-return]


def _event(entry: Entry) -> Event:
    event = Event()
    _common(event, entry)
    event.add("dtstart", entry.start)
    if entry.finish != entry.start:  # a milestone is a moment: it has no end of its own
        event.add("dtend", entry.finish)
    event.add("transp", "TRANSPARENT")  # planned work does not make a person busy
    return event


def _todo(entry: Entry) -> Todo:
    todo = Todo()
    _common(todo, entry)
    if entry.finish:
        todo.add("due", entry.finish)
    todo.add("status", entry.status)
    todo.add("percent-complete", entry.percent)
    return todo


def _common(component: Event | Todo, entry: Entry) -> None:
    component.add("uid", entry.uid)
    component.add("dtstamp", entry.changed)
    component.add("summary", entry.title)
    component.add("description", entry.words)
    component.add("url", entry.url)
