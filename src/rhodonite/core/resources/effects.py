"""What a change of tasks does to people: who becomes over by it, or no longer is, by how much and on which days."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date

from ..schedule.plan import Plan
from ..tasks.model import Fields, Task
from .capacity import Capacity
from .load import NO_DATES, NOBODY, Known, PlanLoad, lay_task


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
    moved = minutes_moved(plan, after, moves, capacities, usual)
    loads = [load, *others]
    found = [_effect(who, days, loads, capacities.get(who, usual)) for who, days in moved.items() if who != NOBODY]
    return sorted((one for one in found if one), key=lambda one: (one.less - one.more, one.who))


def minutes_moved(
    plan: Plan,
    after: Mapping[str, Task],
    moves: Mapping[str, Fields],
    capacities: Mapping[str, Capacity],
    usual: Capacity,
) -> dict[str, dict[int, int]]:
    """By person and ordinal of the day the minutes that a change of tasks brings, less than nothing where it takes them away.

    Args:
        after, moves: as for ``effects``.
    """
    moved: dict[str, dict[int, int]] = defaultdict(lambda: defaultdict(int))
    known: Known = {}
    for task_id in after.keys() | moves.keys():
        before = plan.tasks.get(task_id)
        task = after.get(task_id, before)
        if plan.outline.is_summary(task_id):
            continue
        for sign, one, dates in ((-1, before, NO_DATES), (1, task, moves.get(task_id, NO_DATES))):
            if one is None or one.deleted_at is not None or not one.bookings:
                continue
            for who, minutes in lay_task(one, plan, capacities, usual, known, dates):
                for ordinal, value in minutes.items():
                    moved[who][ordinal] += sign * value
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
