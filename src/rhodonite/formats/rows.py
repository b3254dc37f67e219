"""A task row as JSON: the form in which lenses receive it. ``api.tasks.tasks.TaskRow`` documents the same fields."""

from __future__ import annotations

from typing import Any

import orjson

from ..core.schedule.plan import Row
from ..core.tasks.booked import units_of
from ..core.tasks.model import Task
from ..core.tasks.recurrence_words import say_rule


def row_values(row: Row) -> dict[str, Any]:
    """The fields of a row. For a summary task the computed values stand in for its own."""
    task = row.task
    return {
        "id": task.id,
        "number": task.number,
        "parent_id": task.parent_id,
        "place": task.place,
        "kind": task.kind,
        "title": task.title,
        "owner_id": task.owner_id,
        "helpers": task.helpers,
        "state_id": row.state_id,
        "state_class": row.state_class,
        "state_since": task.state_since,
        "board_place": task.board_place,
        "held_reason": task.held_reason,
        "held_since": task.held_since,
        "held_by_id": task.held_by_id,
        "held": row.held,
        "held_minutes": task.held_minutes,
        "priority": task.priority,
        "start": row.start,
        "finish": row.finish,
        "duration": row.duration,
        "day_minutes": row.day_minutes,
        "elapsed": task.elapsed and not row.is_summary,
        "calendar_id": task.calendar_id,
        "constraint_type": task.constraint_type,
        "constraint_at": task.constraint_at,
        "waits_for": [{"from_id": w.from_id, "type": w.type, "lag": w.lag, "elapsed": w.elapsed} for w in task.waits_for],
        "waits": row.waits,
        "waits_open": row.waits_open,
        "awaited": row.awaited,
        "slack": row.slack,
        "late_finish": row.late_finish,
        "critical": row.critical,
        "agreed_start": row.agreed.start if row.agreed else None,
        "agreed_finish": row.agreed.finish if row.agreed else None,
        "variance": row.variance,
        "deadline": task.deadline,
        "effort": row.effort,
        "booked": row.booked,
        "spent": row.spent,
        "open": None if row.effort is None else row.effort - row.booked,
        "bookings": [
            {
                "who": b.who,
                "minutes": b.minutes,
                "shape": b.shape,
                "by_day": b.by_day,
                "resource": b.resource,
                "units": units_of(b, task.duration) if b.of == "labour" else None,
                "of": b.of,
                "amount": None if b.of == "fixed" else b.amount,  # a sum is for who may see cost, and this for all
            }
            for b in task.bookings
        ],
        "keeps": task.keeps,
        "lane_id": task.lane_id,
        "period_id": task.period_id,
        "percent": row.percent,
        "actual_start": task.actual_start,
        "actual_finish": task.actual_finish,
        "pushes": task.pushes,
        "marks": task.marks,
        "own": task.own,
        "repeats": repeat_words(task),
        "comments": task.comments,
        "files": task.files,
        "checks": task.checks,
        "checks_done": task.checks_done,
        "is_summary": row.is_summary,
        "health": row.health,
        "late_days": row.late_days,
        "breaks_deadline": row.breaks_deadline,
        "late_below": row.late_below,
        "tasks_below": row.tasks_below,
        "finished_below": row.finished_below,
        "revision": task.revision,
    }


def repeat_words(task: Task) -> dict[str, Any] | None:
    """How a task repeats, with the rule in words."""
    if not task.repeats or (task.start is None and task.finish is None):
        return None
    at = task.start or task.finish
    assert at is not None
    kept = {name: task.repeats[name] for name in ("mode", "ahead", "off_holidays")}
    return {"words": say_rule(task.repeats["rule"], at.date()), **kept}


def row_json(row: Row) -> bytes:
    """The fields of a row, encoded."""
    return bytes(memoryview(orjson.dumps(row_values(row))))  # a copy: what orjson gives keeps the room it was written in


def json_around(values: dict[str, Any], name: str, encoded: bytes) -> bytes:
    """An object of some values and one more, which is encoded already.

    Args:
        values: at least one.
    """
    return b'%s,"%s":%s}' % (orjson.dumps(values)[:-1], name.encode(), encoded)


def json_array(parts: list[bytes]) -> bytes:
    """Join encoded values into one array."""
    return b"[" + b",".join(parts) + b"]"
