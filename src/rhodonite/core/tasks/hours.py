"""By which hours a task is worked."""

from __future__ import annotations

from ..common.calendars import WorkingCalendar
from .model import Project, Task

OWN_TIME = "own time of one person"
"""The name of a calendar of ``people_time``: whose it is, and why they are away, is not for every reader."""


def only_person(task: Task) -> str | None:
    """Who alone works on a task: the one person whose hours are booked, else its owner where nobody helps."""
    booked = [one for one in task.bookings if one.of == "labour"]
    if booked:
        return booked[0].who if len(booked) == 1 and not booked[0].resource else None
    return None if task.helpers else task.owner_id


def calendar_key(task: Task, project: Project) -> str | None:
    """The key of the calendar of a task, in ``project.calendars`` or ``project.people_time``; None: the project's own.

    One that the task was given comes first; then, where the project says so, the time of its only person.
    """
    if task.calendar_id in project.calendars:
        return task.calendar_id
    if project.people_time and task.kind != "milestone":
        who = only_person(task)
        return who if who in project.people_time else None
    return None


def hours_of(task: Task, project: Project, calendar: WorkingCalendar) -> WorkingCalendar:
    """The calendar that a task's duration is reckoned on: its own, that of its only person, else the project's; around the
    clock where it is elapsed."""
    key = calendar_key(task, project)
    own = calendar if key is None else project.calendars.get(key) or project.people_time[key]
    return own.elapsed if task.elapsed else own
