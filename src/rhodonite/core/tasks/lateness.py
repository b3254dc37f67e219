"""When work is late, pushed or due."""

from __future__ import annotations

from datetime import datetime, timedelta

from ..common.calendars import WorkingCalendar
from .model import OPEN_CLASSES, Fields, Project, Task


def is_push(task: Task, fields: Fields, project: Project) -> bool:
    """True where a change moves the planned finish of unfinished work to a later day."""
    finish = fields.get("finish")
    if finish is None or task.finish is None or project.state(task.state_id).state_class not in OPEN_CLASSES:
        return False
    return bool(finish.date() > task.finish.date())


def is_late(finish: datetime | None, state_class: str, now: datetime) -> bool:
    """A task is late when its planned finish is past and it is not finished."""
    return finish is not None and state_class in OPEN_CLASSES and finish < now


def breaks_deadline(task: Task, finish: datetime | None, state_class: str, now: datetime) -> bool:
    """True where open work is planned past its deadline, or the deadline itself is past."""
    if task.deadline is None or state_class not in OPEN_CLASSES:
        return False
    return task.deadline < now or (finish is not None and finish > task.deadline)


def days_late(finish: datetime, now: datetime, calendar: WorkingCalendar) -> int:
    """Working days since a planned finish, at least one."""
    return max(1, int(calendar.minutes_between(finish, now) / calendar.day_minutes + 0.5))


def due_within(finish: datetime | None, now: datetime, days: int) -> bool:
    """True where a finish lies ahead, within so many calendar days."""
    return finish is not None and now <= finish and finish.date() <= now.date() + timedelta(days=days)
