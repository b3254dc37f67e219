"""Makes plans for the tests of the core, with as few words as possible."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from rhodonite.core.common.calendars import OFFICE_WEEK, WorkingCalendar
from rhodonite.core.schedule.plan import Plan
from rhodonite.core.tasks.model import Project, State, Task

NOW = datetime(2027, 3, 17, 9, 30)  # a Wednesday
OFFICE = WorkingCalendar(OFFICE_WEEK)
DAY = OFFICE.day_minutes

STATES = (
    State("ready", "Ready", "queued", "A"),
    State("doing", "Under way", "active", "B"),
    State("review", "In review", "active", "C"),
    State("done", "Finished", "finished", "D"),
    State("dropped", "Dropped", "dropped", "E"),
)
PROJECT = Project("p", "LAN", "Lantern", "", None, NOW.date(), False, None, 1, 1, STATES, {})


def at(text: str) -> datetime:
    """``3-08`` or ``3-08 14:00`` in 2027."""
    day, _, clock = text.partition(" ")
    month, number = day.split("-")
    hour, minute = (clock or "09:00").split(":")
    return datetime(2027, int(month), int(number), int(hour), int(minute))


def task(task_id: str, parent: str | None = None, **fields: Any) -> Task:
    """A task whose place and number follow from its id."""
    number = fields.pop("number", sum(ord(c) * 31**i for i, c in enumerate(task_id)) % 9999)
    place = fields.pop("place", task_id)
    state = fields.pop("state_id", "ready")
    return Task(task_id, "p", number, parent, place, fields.pop("kind", "task"), fields.pop("title", task_id),
                fields.pop("owner_id", None), state, place, **fields)  # fmt: skip


def days(start: str, length: int, **fields: Any) -> dict[str, Any]:
    """Dates of a task: it starts at 09:00 and lasts so many working days."""
    begin = at(start)
    held = {"constraint_type": "start_no_earlier", "constraint_at": begin}
    return {"start": begin, "duration": length * DAY, "finish": OFFICE.add_to(begin, length * DAY), **held, **fields}


def plan(*tasks: Task, now: datetime = NOW) -> Plan:
    """A plan on the office calendar."""
    return Plan(PROJECT, OFFICE, tasks, now)
