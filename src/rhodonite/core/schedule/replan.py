"""Replanning: copy the forecast into the plan, or shift work to a new start. Both give the fields that change."""

from __future__ import annotations

from collections.abc import Collection, Iterable
from datetime import date, datetime, timedelta
from typing import Any

from ..common.calendars import datetime_of, minute_of
from ..common.errors import RuleError
from ..tasks.model import OPEN_CLASSES, PINS, Task
from .plan import Plan, Row
from .schedule import Schedule

Edits = dict[str, dict[str, Any]]


START_GRIDS = (1, 15, 30, 60)
"""Minutes of the day on which the starts of a project can fall."""


def on_grid(at: datetime, minutes: int) -> datetime:
    """The next whole so many minutes of the day; the moment itself where it is whole.

    >>> on_grid(datetime(2027, 3, 17, 9, 42), 15)
    datetime.datetime(2027, 3, 17, 9, 45)
    """
    past = (at.hour * 60 + at.minute) % minutes
    begun = timedelta(minutes=minutes - past) if past or at.second or at.microsecond else timedelta()
    return at.replace(second=0, microsecond=0) + begun


def replanned(plan: Plan, status: datetime) -> Edits:
    """The fields by which the plan becomes the forecast of a status day.

    Finished tasks take their actual dates, and what has begun the finish to be expected; what has not begun and would
    start before the status day starts no earlier than it. A pin that is past moves to the status day. The rest follows
    by its links. Starts fall on the grid of the project.
    """
    ahead = Schedule(plan.forecast.base, minute_of(on_grid(status, plan.project.start_grid)))
    edits: Edits = {}
    for index, row in enumerate(ahead.plan.tasks):
        times = ahead.times(index)
        if times is None or ahead.net.is_summary[index]:
            continue
        task, start, finish = plan.tasks[row.id], datetime_of(times.start), datetime_of(times.finish)
        because = ahead.because(index)
        if row.planned_start is not None:
            fields: dict[str, Any] = {"start": start, "finish": finish}
        elif because is not None and because.kind == "status_day":
            fields = _no_earlier(task, start, finish)
        else:
            continue
        fields = {name: value for name, value in fields.items() if getattr(task, name) != value}
        if fields:
            edits[task.id] = fields
    return edits


def _no_earlier(task: Task, start: datetime, finish: datetime) -> dict[str, Any]:
    on_finish = task.kind == "milestone" or task.constraint_type == "must_finish"
    kind = task.constraint_type if task.constraint_type in PINS else "finish_no_earlier" if on_finish else "start_no_earlier"
    return {"constraint_type": kind, "constraint_at": finish if on_finish else start}


def shifted(plan: Plan, top: str | None, to: date) -> tuple[Edits, date | None]:
    """The fields that shift the whole project, or a task with all under it, to a new start.

    Dates set by hand move by as many working minutes as the start does; dates that are computed follow. Deadlines stay:
    they are somebody else's. Work that has begun stays where it is.

    Args:
        top: the task to shift with all under it; None for the whole project.
        to: the day on which the first of it is to start.

    Returns:
        The fields by task, and the new start day of the project where all of it is shifted.

    Raises:
        RuleError: there is nothing to shift.
    """
    ids = [top, *plan.outline.below(top)] if top is not None else list(plan.rows)
    rows = [plan.rows[one] for one in ids if not plan.rows[one].is_summary and plan.rows[one].state_class in OPEN_CLASSES]
    waiting = [row for row in rows if row.start is not None and row.task.actual_start is None]
    if top is not None and not waiting:
        raise RuleError("Nothing under this task can be shifted: it has begun, or has no dates.")
    target = plan.calendar.start_of_day(to)
    began = plan.project.start_day if top is None else min(row.start for row in waiting if row.start).date()
    first = plan.calendar.start_of_day(began)
    if top is not None:
        first = min(row.start for row in waiting if row.start is not None)
    by = plan.calendar.minutes_between(first, target)
    return _shifts(plan, waiting, by, set(ids) if top is not None else None), (to if top is None else None)


def shifted_by(plan: Plan, ids: Collection[str], days: float) -> Edits:
    """The fields that shift some tasks, with all under them, by working days; as ``shifted`` in all else.

    Args:
        days: of the project's calendar; less than nothing for an earlier day.

    Raises:
        RuleError: nothing of it can be shifted.
    """
    within = {one for top in ids if top in plan.rows for one in (top, *plan.outline.below(top))}
    rows = [plan.rows[one] for one in within]
    waiting = [
        row
        for row in rows
        if not row.is_summary and row.state_class in OPEN_CLASSES and row.task.actual_start is None and (row.start or row.finish)
    ]
    if not waiting:
        raise RuleError("None of these can be shifted: they have begun, or have no dates.", "days")
    return _shifts(plan, waiting, round(days * plan.calendar.day_minutes), within)


def _shifts(plan: Plan, waiting: Iterable[Row], by: int, within: set[str] | None) -> Edits:
    """What was set by hand moves by so many working minutes. Where only some tasks move, so do those whose dates nobody
    set, but for what follows one that moves too."""
    edits: Edits = {}
    for row in waiting:
        task = row.task
        if task.constraint_at is not None:
            edits[task.id] = {"constraint_at": _moved(plan, task.constraint_at, by, "start" in task.constraint_type)}
        elif within is not None and row.start is not None and not _follows_within(plan, task, within):
            edits[task.id] = {"constraint_type": "start_no_earlier", "constraint_at": _moved(plan, row.start, by, True)}
    return edits if by else {}


def _follows_within(plan: Plan, task: Task, ids: set[str]) -> bool:
    """True where a task waits for one that is shifted too, so that it follows by itself."""
    return any(link.from_id in ids for link in task.waits_for)


def _moved(plan: Plan, at: datetime, by: int, is_start: bool) -> datetime:
    position = plan.calendar.position(minute_of(at)) >> 1
    return datetime_of(plan.calendar.minute(2 * (position + by) + is_start))
