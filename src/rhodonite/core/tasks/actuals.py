"""When work really began and finished, and what follows from that."""

from __future__ import annotations

from datetime import datetime

from ..common.calendars import WorkingCalendar
from ..common.dates import say_day
from ..common.errors import RuleError
from .hours import hours_of
from .model import Fields, Project, Task


def read_actuals(fields: Fields, hours: WorkingCalendar, now: datetime) -> Fields:
    """The actual dates that were typed. A day without a time is its opening for a start, and its closing for a finish."""
    typed = {name: fields[name] for name in ("actual_start", "actual_finish") if name in fields}
    for name, value in typed.items():
        if value is None:
            continue
        if not isinstance(value, datetime):
            value = hours.start_of_day(value) if name == "actual_start" else hours.end_of_day(value)
            if value.date() == now.date():
                value = min(value, now.replace(second=0, microsecond=0))
        if value.date() > now.date():
            raise RuleError("What has really happened lies in the past. Choose today or an earlier day.", name)
        fields[name] = value.replace(second=0, microsecond=0)
    return {name: fields[name] for name in typed}


def class_for_actuals(typed: Fields, before: str) -> str | None:
    """The class that a typed actual date moves a task to, or None where it stays."""
    if typed.get("actual_finish") is not None and before != "finished":
        return "finished"
    return "active" if typed.get("actual_start") is not None and before == "queued" else None


def begun_at(task: Task, fields: Fields, now: datetime) -> datetime:
    """When work that is under way is taken to have begun: as planned, where that is past."""
    start: datetime | None = fields.get("start", task.start)
    return min(start, now) if start else now


def begun_before(task: Task, fields: Fields, project: Project, calendar: WorkingCalendar, now: datetime) -> datetime:
    """When work that was finished at once is taken to have begun: as planned, else as long ago as it was to take."""
    start: datetime | None = fields.get("start", task.start)
    duration: int | None = fields.get("duration", task.duration)
    if start is not None and start <= now:
        return start
    return hours_of(task, project, calendar).add_to(now, -duration).replace(second=0) if duration else now


def check_actuals(task: Task, fields: Fields, after: str, typed: Fields) -> None:
    """Raises RuleError where actual dates and state tell different things."""
    start, finish = (fields.get(name, getattr(task, name)) for name in ("actual_start", "actual_finish"))
    if typed and start is not None and finish is not None and finish < start:
        raise RuleError(f"It cannot have finished, {say_day(finish.date())}, before it began, {say_day(start.date())}.",
                        next(iter(typed)))  # fmt: skip
    if "actual_start" in typed and start is None and after in {"active", "finished"}:
        raise RuleError("What has begun has a start. Move the task back to a queued state to clear it.", "actual_start")
    if "actual_finish" in typed and finish is None and after == "finished":
        raise RuleError("What is finished has a finish. Move the task to another state to clear it.", "actual_finish")
    if "actual_finish" in typed and finish is not None and after != "finished":
        raise RuleError("Only what is finished has an actual finish. Move the task to a finished state.", "actual_finish")
    if "actual_start" in typed and start is not None and after == "queued":
        raise RuleError("Work that is queued has not begun. Move the task to an active state.", "actual_start")
