"""By which hours a task is worked."""

from __future__ import annotations

from ..common.calendars import WorkingCalendar
from .model import Project, Task


def hours_of(task: Task, project: Project, calendar: WorkingCalendar) -> WorkingCalendar:
    """The calendar that a task's duration is reckoned on: its own, else the project's; around the clock where it is
    elapsed."""
    own = project.calendars.get(task.calendar_id or "", calendar)
    return own.elapsed if task.elapsed else own
