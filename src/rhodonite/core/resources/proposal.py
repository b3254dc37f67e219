"""A plan of the application to be levelled: its people as what is shared, its bookings as what tasks take of them."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from ..common.bounds import MINUTES_A_DAY
from ..common.calendars import EPOCH, WorkingCalendar, datetime_of, minute_of
from ..schedule.network import PlanInput
from ..schedule.plan import Plan
from ..schedule.schedule import Schedule
from ..tasks.hours import hours_of
from ..tasks.model import OPEN_CLASSES, Booking, Fields, Task
from .capacity import FULL_SHARE, Capacity, without
from .effects import minutes_moved
from .levelling import Levelled, level
from .load import NOBODY, PlanLoad
from .serial_scheme import Demand, Taker
from .worthwhile import worth_moving

_ALWAYS = WorkingCalendar((((0, MINUTES_A_DAY),),) * 7)
PEAK = 2
"""Of hours that rise or fall over a task, how many times the even ones their most are."""


@dataclass(frozen=True, slots=True)
class Proposal:
    """What levelling proposes.

    Attributes:
        fields: by task what holds it where it is to stand; tasks that only follow by their links are not among them.
        moved: the ids of all that stand elsewhere.
        over: by person the tasks for which there was no room.
        still: by person the minutes by which they are over, before and after; who is never over is not among them.
        finish_before, finish: of the project.
    """

    fields: dict[str, Fields]
    moved: list[str]
    over: dict[str, list[str]]
    still: dict[str, tuple[int, int]]
    finish_before: datetime
    finish: datetime


def propose(
    plan: Plan,
    capacities: Mapping[str, Capacity],
    usual: Capacity,
    *,
    load: PlanLoad,
    others: Sequence[PlanLoad],
    whom: Collection[str],
    first: datetime,
    last: datetime,
    within_slack: bool = False,
    keeping: Iterable[str] = (),
    goes_on: Callable[[int], bool] | None = None,
) -> Proposal:
    """Move work of a plan so that some people are not over. What other plans lay on them stays where it is.

    What has begun, is pinned, may start or finish no later than a date, or begins outside the days that are asked for stays
    where it is. Work waits for who is absent. What was so found is held against how hours really lie, day by day: nobody is
    more overbooked by it, all together are less, and no move is among it that helps nobody.

    Args:
        load: of the plan as it stands; ``others``: of all other plans.
        whom: the people, crews and roles.
        first, last: between which work may be moved.
        within_slack: True where nothing may move the finish.
        keeping: the ids of tasks that must not move, nor any below them.
        goes_on: as for ``level``.
    """
    net = plan.schedule.base
    day = plan.calendar.day_minutes
    takers = [
        Taker(
            who,
            _units_of(capacities.get(who, usual), day),
            hours=_present(capacities.get(who, usual)),
            taken=_taken(who, others, first.toordinal(), day),
        )
        for who in sorted(whom)
    ]
    rows = [row for row in plan.leaves() if row.state_class in OPEN_CLASSES]
    kept = {each for one in keeping if one in plan.rows for each in (one, *plan.outline.below(one))}
    demands = [
        Demand(row.task.id, booking.who, _units(booking, row.task, plan))
        for row in rows
        for booking in row.task.bookings
        if booking.who in whom and booking.of == "labour"
    ]
    still = [
        row.task.id
        for row in rows
        if row.task.id in kept or row.start is None or not first <= row.start <= last
        or row.task.constraint_type.endswith("no_later")
    ]  # fmt: skip
    found = level(net.plan, takers, demands, within_slack=within_slack, still=still, goes_on=goes_on)
    held = _held(found)

    def over_with(chosen: Sequence[str]) -> dict[str, tuple[int, int]]:
        moved = minutes_moved(plan, {}, _dates(_laid_out(net.plan, held, chosen), plan), load, capacities, usual)
        who = {*whom, *(one for one in moved if one != NOBODY)}
        return _still_over(who, first.toordinal(), [load, *others], moved, lambda one: capacities.get(one, usual))

    before = {who: minutes for who, (minutes, _) in over_with([]).items()}
    chosen = worth_moving(
        sorted(held, key=lambda one: (held[one], one)),
        before,
        lambda some: {who: after for who, (_, after) in over_with(some).items()},
    )
    schedule = _laid_out(net.plan, held, chosen)
    stays = over_with(chosen)
    return Proposal(
        {one: {"constraint_type": "start_no_earlier", "constraint_at": held[one]} for one in chosen},
        list(_dates(schedule, plan)),
        {who: tasks for who, tasks in found.over.items() if stays.get(who, (0, 0))[1]},
        {who: minutes for who, minutes in stays.items() if who in whom},
        datetime_of(plan.schedule.finish),
        datetime_of(schedule.finish),
    )


def _present(capacity: Capacity) -> WorkingCalendar | None:
    """When somebody is not absent, by day and night: a task works by hours of its own. None where they never are."""
    return without(_ALWAYS, capacity.away) if capacity.away else None


def _laid_out(base: PlanInput, held: Mapping[str, datetime], chosen: Collection[str]) -> Schedule:
    """The plan where some tasks are put later and no others."""
    if not chosen:
        return Schedule(base)
    moved = set(chosen)
    tasks = [
        replace(task, constraint="start_no_earlier", at=minute_of(held[task.id])) if task.id in moved else task
        for task in base.tasks
    ]
    return Schedule(replace(base, tasks=tasks))


def _dates(schedule: Schedule, plan: Plan) -> dict[str, Fields]:
    """The dates of tasks that stand elsewhere than in the plan."""
    found: dict[str, Fields] = {}
    for task, start, finish in zip(schedule.plan.tasks, schedule.starts, schedule.finishes, strict=True):
        row = plan.rows.get(task.id)
        if row is None or row.is_summary or start is None or finish is None:
            continue
        dates = {"start": datetime_of(start), "finish": datetime_of(finish)}
        if (row.start, row.finish) != (dates["start"], dates["finish"]):
            found[task.id] = dates
    return found


def _taken(who: str, others: Iterable[PlanLoad], first: int, day: int) -> list[tuple[int, int, float]]:
    """What other plans take of somebody from a day on, as shares of the day of the project."""
    minutes: dict[int, int] = defaultdict(int)
    for load in others:
        for ordinal, value in load.by_who.get(who, {}).items():
            if ordinal >= first:
                minutes[ordinal] += value
    midnights = (((ordinal - EPOCH) * MINUTES_A_DAY, value) for ordinal, value in sorted(minutes.items()))
    return [(at, at + MINUTES_A_DAY, value / day) for at, value in midnights]


def _still_over(
    whom: Iterable[str],
    first: int,
    loads: Sequence[PlanLoad],
    moved: Mapping[str, Mapping[int, int]],
    capacity_of: Callable[[str], Capacity],
) -> dict[str, tuple[int, int]]:
    found: dict[str, tuple[int, int]] = {}
    for who in whom:
        capacity, total, change = capacity_of(who), defaultdict[int, int](int), moved.get(who, {})
        for load in loads:
            for ordinal, minutes in load.by_who.get(who, {}).items():
                total[ordinal] += minutes
        before = after = 0
        for ordinal in total.keys() | change.keys():
            if ordinal >= first:
                may, minutes = capacity.on(ordinal), total.get(ordinal, 0)
                before += max(0, minutes - may)
                after += max(0, minutes + change.get(ordinal, 0) - may)
        if before or after:
            found[who] = (before, after)
    return found


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
