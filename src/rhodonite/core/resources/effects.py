"""What a change of tasks does to people: who becomes over by it, or no longer is, by how much and on which days."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date

from ..schedule.plan import Plan
from ..tasks.model import OPEN_CLASSES, Fields, Task
from .capacity import Capacity
from .load import NO_DATES, NOBODY, Known, PlanLoad, lay_task
from .spent import NOTHING


@dataclass(frozen=True, slots=True)
class Effect:
    """What becomes of one person.

    Attributes:
        more: minutes over that a change brings; ``less``: minutes over that it takes away.
        first, last: of the days on which that is.
    """

    who: str
    more: int
    less: int
    first: date
    last: date


def effects(
    plan: Plan,
    after: Mapping[str, Task],
    moves: Mapping[str, Fields],
    load: PlanLoad,
    others: Iterable[PlanLoad],
    capacities: Mapping[str, Capacity],
    usual: Capacity,
) -> list[Effect]:
    """Who becomes over by a change, or ceases to be, those first who are over by more than before.

    Only the days are looked at on which something of what changed lies.

    Args:
        plan: before the change.
        after: the tasks that differ in more than their dates, as they would be.
        moves: of others, and of these, the dates that they get.
        load: of that plan before; ``others``: of all other plans.
        capacities, usual: as for ``load_of``.
    """
    moved = minutes_moved(plan, after, moves, load, capacities, usual)
    loads = [load, *others]
    found = [_effect(who, days, loads, capacities.get(who, usual)) for who, days in moved.items() if who != NOBODY]
    return sorted((one for one in found if one), key=lambda one: (one.less - one.more, one.who))


def minutes_moved(
    plan: Plan,
    after: Mapping[str, Task],
    moves: Mapping[str, Fields],
    load: PlanLoad,
    capacities: Mapping[str, Capacity],
    usual: Capacity,
) -> dict[str, dict[int, int]]:
    """By person and ordinal of the day the minutes that a change of tasks brings, less than nothing where it takes them away.

    Args:
        after, moves, load: as for ``effects``.
    """
    moved: dict[str, dict[int, int]] = defaultdict(lambda: defaultdict(int))
    known: Known = {}
    for task_id in after.keys() | moves.keys():
        if plan.outline.is_summary(task_id):
            continue
        row = plan.rows.get(task_id)
        for who, minutes in load.of_task(task_id) if row and row.state_class in OPEN_CLASSES else ():
            if who == NOBODY:
                continue
            by_day = moved[who]
            for ordinal, value in minutes.items():
                by_day[ordinal] -= value
        task = after.get(task_id) or plan.tasks.get(task_id)
        if task is None or task.deleted_at is not None or not (task.bookings or task_id in load.spent):
            continue
        dates, spent = moves.get(task_id, NO_DATES), load.spent.get(task_id, NOTHING)
        for who, minutes in lay_task(task, plan, capacities, usual, known, dates, spent):
            by_day = moved[who]
            for ordinal, value in minutes.items():
                by_day[ordinal] += value
    return moved


def _effect(who: str, moved: Mapping[int, int], loads: Iterable[PlanLoad], capacity: Capacity) -> Effect | None:
    by_day = [load.by_who[who] for load in loads if who in load.by_who]
    more = less = 0
    days: list[int] = []
    for ordinal, change in moved.items():
        if not change:
            continue
        was, may = sum(one.get(ordinal, 0) for one in by_day), capacity.on(ordinal)
        by = max(0, was + change - may) - max(0, was - may)
        if by:
            days.append(ordinal)
            more, less = (more + by, less) if by > 0 else (more, less - by)
    return Effect(who, more, less, date.fromordinal(min(days)), date.fromordinal(max(days))) if days else None
