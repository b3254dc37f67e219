"""Time entries: hours that somebody spent on a task, and the timer that counts them while they are spent."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from typing import Literal

from ..common.bounds import MINUTES_A_DAY, check_day
from ..common.dates import say_day
from ..common.durations import say_hours
from ..common.errors import Forbidden, RuleError
from ..people.access import may_in_project
from ..tasks.model import Task

LONGEST_NOTE = 500
USUAL_DAY = 8 * 60
"""Minutes of a day's work of somebody of whom nothing else is known."""

WeekState = Literal["handed_in", "accepted", "returned"]
WEEK_STATES: tuple[WeekState, ...] = ("handed_in", "accepted", "returned")
Closed = Mapping[tuple[str, date, str], WeekState]
"""By person, Monday and project how a week stands that was handed in."""


@dataclass(frozen=True, slots=True)
class TimeEntry:
    """Minutes that a person spent on a task on a day.

    Attributes:
        started: the minute of the day at which it began; None where only the hours are known. It may last past midnight.
        billable: True where it can be charged to a client.
        revision: of its project at its last change.
        invoice_id: of the invoice sheet on which it is charged.
    """

    id: str
    project_id: str
    task_id: str
    person_id: str
    day: date
    minutes: int
    started: int | None = None
    note: str = ""
    billable: bool = True
    revision: int = 0
    invoice_id: str | None = None


@dataclass(frozen=True, slots=True)
class Timer:
    """What a person works on now.

    Attributes:
        started_at: the instant in UTC at which it was started.
    """

    person_id: str
    task_id: str
    started_at: datetime
    note: str = ""
    billable: bool = True


def monday_of(day: date) -> date:
    """The first day of the week that a day lies in."""
    return day - timedelta(days=day.weekday())


def check_entry(one: TimeEntry, today: date) -> TimeEntry:
    """An entry that can be, its note without blanks at the ends.

    Raises:
        RuleError: no minutes or more than a day has, a day that is still to come, or a note that is too long.
    """
    check_day(one.day, "day")
    if one.day > today:
        raise RuleError(f"Time is entered once it was spent. Choose a day up to today, {say_day(today)}.", "day")
    if not 1 <= one.minutes <= MINUTES_A_DAY:
        raise RuleError("Enter between a minute and 24 hours.", "minutes")
    if one.started is not None and not 0 <= one.started < MINUTES_A_DAY:
        raise RuleError("Say when it began as a time of day, such as 9:15.", "started")
    if len(one.note) > LONGEST_NOTE:
        raise RuleError(f"A note has {LONGEST_NOTE} characters at most. Write the rest as a comment on the task.", "note")
    return one


def check_whole_day(minutes: int, day: date) -> None:
    """Raises RuleError where the entries of one person on one day are longer than the day."""
    if minutes > MINUTES_A_DAY:
        raise RuleError(f"{say_day(day)} would have {say_hours(minutes)}. Shorten one of its entries.", "minutes")


def minutes_until(started: int, end: int) -> int:
    """The minutes from one minute of a day to another, which lies on the next day where it is not later."""
    return (end - started) % MINUTES_A_DAY or MINUTES_A_DAY


def is_at_work(task: Task, person_id: str) -> bool:
    """True for who owns a task, helps with it or is booked on it."""
    return person_id in {task.owner_id, *task.helpers} or any(one.who == person_id for one in task.bookings)


def may_enter(role: str | None, task: Task, person_id: str) -> bool:
    """True where a person may enter time of their own on a task: contributors on any, others on the tasks that they work on.

    Args:
        role: theirs in the project.
    """
    return may_in_project(role, "edit") or (may_in_project(role, "see") and is_at_work(task, person_id))


def check_may_enter(role: str | None, task: Task, person_id: str) -> None:
    """Raises Forbidden where a person may not enter time of their own on a task; as ``may_enter``."""
    if not may_enter(role, task, person_id):
        raise Forbidden(
            "You are not at work on this task: a contributor enters time on any, others where they are owner, helper or booked."
        )


def may_change(role: str | None, writer_id: str, person_id: str) -> bool:
    """True where a person may change an entry of ``writer_id``: their own, or as a lead of the project anybody's."""
    return writer_id == person_id or may_in_project(role, "manage")


def check_open(closed: Closed, one: TimeEntry, *, leads: bool) -> None:
    """Look whether the week of an entry can still be changed.

    Args:
        leads: True for a lead of its project, who may mend what was handed in but not accepted.

    Raises:
        Forbidden: its hours were accepted, or were handed in and wait for a lead.
    """
    state = closed.get((one.person_id, monday_of(one.day), one.project_id))
    week = f"The week of {say_day(monday_of(one.day))}"
    if state == "accepted":
        raise Forbidden(f"{week} was accepted, so its hours are closed. A lead can return it.")
    if state == "handed_in" and not leads:
        raise Forbidden(f"{week} was handed in. Take it back to change its hours.")


def as_read_by(one: TimeEntry, person_id: str, *, leads: bool, guest: bool) -> TimeEntry | None:
    """An entry as a person may read it: when on a day somebody worked is for them and for who leads the project.

    Args:
        guest: True for a guest of the organisation, who reads nothing of the hours of others.
    """
    if leads or one.person_id == person_id:
        return one
    return None if guest else replace(one, started=None)


def is_open(closed: Closed, one: TimeEntry) -> bool:
    """True for an entry that nobody has submitted, accepted or invoiced."""
    state = closed.get((one.person_id, monday_of(one.day), one.project_id))
    return one.invoice_id is None and state in {None, "returned"}


def check_not_charged(one: TimeEntry) -> None:
    """Raises Forbidden for an entry on an invoice sheet: what was charged is not changed behind it."""
    if one.invoice_id is not None:
        raise Forbidden("Those hours stand on an invoice sheet. Take them off it to change them.")


def ran_for(timer: Timer, now: datetime) -> int:
    """Whole minutes that a timer has run, at least one: what was begun counts.

    Args:
        now: an instant in UTC.
    """
    seconds = max(0.0, (now - timer.started_at).total_seconds())
    return max(1, round(seconds / 60))


def is_forgotten(minutes: int, day_minutes: int) -> bool:
    """True where a timer has run for longer than a day's work: then it is asked what it really was.

    Args:
        minutes: that it has run.
        day_minutes: that the person works on a usual day.
    """
    return minutes > max(day_minutes, USUAL_DAY)


def entry_of(timer: Timer, entry_id: str, project_id: str, started: datetime, minutes: int) -> TimeEntry:
    """The entry that a timer becomes. It lies on the day on which the timer was started.

    Args:
        started: the local time at which it was started.
        minutes: that it ran, or that somebody says it really was.
    """
    at = started.hour * 60 + started.minute
    return TimeEntry(
        entry_id, project_id, timer.task_id, timer.person_id, started.date(), minutes, at, timer.note, timer.billable
    )


@dataclass(frozen=True, slots=True)
class Handed:
    """A person's week in one project, once it was handed in.

    Attributes:
        word: of the lead who returned or accepted it.
        by_id: who handed it in, accepted or returned it.
    """

    person_id: str
    monday: date
    project_id: str
    state: WeekState
    word: str
    by_id: str
    at: datetime


def state_of_week(states: Collection[WeekState | None]) -> WeekState | Literal["open"]:
    """How a week stands over all projects: open while one of them is, then returned, handed in, accepted.

    Args:
        states: of each project with hours in it; None where they were not handed in.
    """
    if not states or None in states:
        return "open"
    for one in ("returned", "handed_in"):
        if one in states:
            return one
    return "accepted"
