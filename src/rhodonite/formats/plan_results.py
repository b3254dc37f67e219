"""What was computed of a plan file, as JSON: dates with their reasons, and ripples."""

from __future__ import annotations

from typing import Any

from ..core.common.calendars import (
    datetime_of,
)
from ..core.resources.levelling import Levelled
from ..core.schedule.network import PlanTask
from ..core.schedule.ripple import Move, Ripple
from ..core.schedule.schedule import Because, Schedule


def _say(minute: int | None) -> str | None:
    return None if minute is None else datetime_of(minute).strftime("%Y-%m-%dT%H:%M")


def write_schedule(schedule: Schedule) -> dict[str, Any]:
    """A schedule as the document ``rhodonite-schedule/1``."""
    free = schedule.free_slack()
    return {
        "format": "rhodonite-schedule/1",
        "start": _say(schedule.start),
        "finish": _say(schedule.finish),
        "tasks": [_write_task(schedule, index, free[index]) for index in range(len(schedule.plan.tasks))],
        "conflicts": [
            {"kind": one.kind, "task": one.task}
            | ({"link": [one.link.from_id, one.link.to_id, one.link.type]} if one.link else {})
            | {"minutes": one.minutes}
            for one in schedule.conflicts()
        ],
    }


def write_levelled(found: Levelled) -> dict[str, Any]:
    """A levelled plan: its schedule, with what levelling did."""
    said = {
        "makespan_minutes": found.makespan,
        "lower_bound": found.lower_bound,
        "moved": len(found.moved),
        "method": found.method,
        "over": [{"resource": resource, "tasks": tasks} for resource, tasks in sorted(found.over.items())],
    }
    return {**write_schedule(found.schedule), "levelling": said}


def _write_task(schedule: Schedule, index: int, free: int | None) -> dict[str, Any]:
    times = schedule.times(index)
    task = schedule.plan.tasks[index]
    names = ("early_start", "early_finish", "late_start", "late_finish", "start", "finish")
    because = schedule.because(index)
    return {
        "id": task.id,
        **{name: _say(getattr(times, name)) if times else None for name in names},
        "total_slack": times.total_slack if times else None,
        "free_slack": free,
        "critical": times.critical if times else False,
        "because": write_because(because, task) if because else {"kind": "undated"},
    }


def write_because(because: Because, task: PlanTask) -> dict[str, Any]:
    """Why a start is where it is, as a document."""
    written: dict[str, Any] = {"kind": because.kind}
    if because.link is not None:
        written |= {"from": because.link.from_id, "type": because.link.type}
        if because.link.to_id != task.id and because.through is None:
            written["to"] = because.link.to_id
    if because.kind in {"constraint", "pin"}:
        written["constraint"] = task.constraint
    if because.through is not None:
        written["through"] = because.through
    if because.exception is not None:
        written["exception"] = because.exception
    return written


def write_ripple(result: Ripple) -> dict[str, Any]:
    """A ripple as the document ``rhodonite-ripple/1``."""

    def move(one: Move) -> dict[str, Any]:
        return {
            "id": one.task,
            "start_before": _say(one.start_before),
            "finish_before": _say(one.finish_before),
            "start_after": _say(one.start_after),
            "finish_after": _say(one.finish_after),
            "minutes": one.by,
        }

    return {
        "format": "rhodonite-ripple/1",
        "finish_before": _say(result.finish_before),
        "finish_after": _say(result.finish_after),
        "moved": [move(one) for one in result.moved],
        "milestones": [one.task for one in result.milestones],
        "deadlines_missed": result.deadlines_missed,
        "deadlines_met": result.deadlines_met,
        "pins_contradicted": result.pins_contradicted,
        "became_critical": result.became_critical,
        "no_longer_critical": result.no_longer_critical,
    }
