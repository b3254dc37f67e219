"""A plan of the application to be levelled: its people as what is shared, its bookings as what tasks take of them."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass
from datetime import datetime

from ..common.calendars import datetime_of
from ..schedule.plan import Plan
from ..tasks.hours import hours_of
from ..tasks.model import OPEN_CLASSES, Booking, Fields, Task
from .capacity import FULL_SHARE, Capacity
from .levelling import Demand, Levelled, Taker, level

PEAK = 2
"""Of hours that rise or fall over a task, how many times the even ones their most are."""


@dataclass(frozen=True, slots=True)
class Proposal:
    """What levelling proposes.

    Attributes:
        fields: by task what holds it where it is to stand; tasks that only follow by their links are not among them.
        moved: the ids of all that stand elsewhere.
        over: by person the tasks for which there was no room.
        finish_before, finish: of the project.
    """

    fields: dict[str, Fields]
    moved: list[str]
    over: dict[str, list[str]]
    finish_before: datetime
    finish: datetime


def propose(
    plan: Plan,
    capacities: Mapping[str, Capacity],
    usual: Capacity,
    *,
    whom: Collection[str],
    first: datetime,
    last: datetime,
    within_slack: bool = False,
) -> Proposal:
    """Move work of a plan so that some people are not over.

    What has begun, is pinned, may start or finish no later than a date, or begins outside the days that are asked for stays
    where it is. Absences are minded by how hours lie over a task, not here: work goes on over them.

    Args:
        whom: the people, crews and roles.
        first, last: between which work may be moved.
        within_slack: True where nothing may move the finish.
    """
    net = plan.schedule.base
    day = plan.calendar.day_minutes
    takers = [Taker(who, _units_of(capacities.get(who, usual), day)) for who in sorted(whom)]
    rows = [row for row in plan.leaves() if row.state_class in OPEN_CLASSES]
    demands = [
        Demand(row.task.id, booking.who, _units(booking, row.task, plan))
        for row in rows
        for booking in row.task.bookings
        if booking.who in whom
    ]
    still = [
        row.task.id
        for row in rows
        if row.start is None or not first <= row.start <= last or row.task.constraint_type.endswith("no_later")
    ]
    found = level(net.plan, takers, demands, within_slack=within_slack, still=still)
    return Proposal(
        {one: {"constraint_type": "start_no_earlier", "constraint_at": at} for one, at in _held(found).items()},
        found.moved,
        found.over,
        datetime_of(plan.schedule.finish),
        datetime_of(found.schedule.finish),
    )


def _units_of(capacity: Capacity, day: int) -> float:
    """The share of a day of the project for which somebody can be booked."""
    return max(capacity.hours.day_minutes * capacity.share * capacity.people / FULL_SHARE / day, 0.01)


def _units(booking: Booking, task: Task, plan: Plan) -> float:
    """The most of a day that a booking takes."""
    if not task.duration:
        return 0.0
    day = hours_of(task, plan.project, plan.calendar).day_minutes
    if booking.shape == "by_day":
        return max(booking.by_day, default=0) / day
    return booking.minutes / task.duration * (1 if booking.shape == "even" else PEAK)


def _held(found: Levelled) -> dict[str, datetime]:
    """The tasks that were put later for want of room, and where each starts."""
    schedule = found.schedule
    starts = {task.id: start for task, start in zip(schedule.plan.tasks, schedule.starts, strict=True)}
    return {one: datetime_of(at) for one in found.delayed if (at := starts[one]) is not None}
