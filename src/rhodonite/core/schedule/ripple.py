"""What a change carries on: two schedules of one plan, before and after, compared."""

from __future__ import annotations

from collections.abc import Collection, Iterable
from dataclasses import dataclass

from ..common.calendars import WorkingCalendar
from .schedule import Schedule


@dataclass(frozen=True, slots=True)
class Move:
    """A task that stands elsewhere than before. Moments are minute numbers, None where it had or has no date.

    Attributes:
        by: working minutes of the project's calendar by which the finish moved, or the start where only that did.
    """

    task: str
    start_before: int | None
    finish_before: int | None
    start_after: int | None
    finish_after: int | None
    by: int


@dataclass(frozen=True, slots=True)
class Ripple:
    """What a change carries on. Tasks are named by id, the largest moves first; summary tasks are left out of
    ``moved``, for they only follow."""

    moved: list[Move]
    finish_before: int
    finish_after: int
    milestones: list[Move]
    deadlines_missed: list[str]
    deadlines_met: list[str]
    pins_contradicted: list[str]
    became_critical: list[str]
    no_longer_critical: list[str]

    def __bool__(self) -> bool:
        """True where anything changes at all."""
        return bool(self.moved or self.became_critical or self.no_longer_critical or self.finish_before != self.finish_after
                    or self.deadlines_missed or self.deadlines_met or self.pins_contradicted)  # fmt: skip


def ripple(before: Schedule, after: Schedule) -> Ripple:
    """Compare the plan without a change and with it. Nothing is stored.

    Args:
        before, after: schedules of the same project; tasks are matched by id, and may be new or gone.
    """
    calendar = after.plan.calendars[after.plan.calendar]
    moves = moves_between(before, after, calendar)
    critical_before, critical_after = _critical(before), _critical(after)
    missed_before, missed_after = _missed(before), _missed(after)
    known = before.net.index.keys() & after.net.index.keys()
    broken = _contradicted(after) - _contradicted(before)
    return Ripple(
        moved=moves,
        finish_before=before.finish,
        finish_after=after.finish,
        milestones=[move for move in moves if _is_milestone(move.task, before, after)],
        deadlines_missed=_ordered(missed_after - missed_before, after),
        deadlines_met=_ordered((missed_before - missed_after) & known, after),
        pins_contradicted=_ordered(broken, after),
        became_critical=_ordered((critical_after - critical_before), after),
        no_longer_critical=_ordered((critical_before - critical_after) & known, after),
    )


def _is_milestone(task: str, before: Schedule, after: Schedule) -> bool:
    one = after if task in after.net.index else before
    return one.plan.tasks[one.net.index[task]].milestone


def moves_between(before: Schedule, after: Schedule, calendar: WorkingCalendar) -> list[Move]:
    """The tasks whose dates differ, the largest moves first, then by start and id."""
    found = []
    for task, was, now in _pairs(before, after):
        if was != now:
            found.append(Move(task, was[0], was[1], now[0], now[1], _by(was, now, calendar)))
    found.sort(key=lambda move: (-abs(move.by), move.start_after or 0, move.task))
    return found


Span = tuple[int | None, int | None]


def _pairs(before: Schedule, after: Schedule) -> Iterable[tuple[str, Span, Span]]:
    """Each task with its start and finish in both."""
    if before.net.index is after.net.index:  # one network: the same tasks in the same order
        old, new = zip(before.starts, before.finishes, strict=True), zip(after.starts, after.finishes, strict=True)
        for task, was, now, above in zip(after.plan.tasks, old, new, after.net.is_summary, strict=True):
            if was != now and not above:
                yield task.id, was, now
        return
    was_at, now_at = _dates(before), _dates(after)
    for name in was_at.keys() | now_at.keys():
        yield name, was_at.get(name, (None, None)), now_at.get(name, (None, None))


def _dates(schedule: Schedule) -> dict[str, Span]:
    summary = schedule.net.is_summary
    rows = zip(schedule.plan.tasks, schedule.starts, schedule.finishes, summary, strict=True)
    return {task.id: (start, finish) for task, start, finish, above in rows if not above}


def _by(was: Span, now: Span, calendar: WorkingCalendar) -> int:
    for one in (1, 0):
        old, new = was[one], now[one]
        if old is not None and new is not None and old != new:
            return calendar.between(old, new)
    return 0


def _critical(schedule: Schedule) -> set[str]:
    limit, summary = schedule.plan.critical_limit, schedule.net.is_summary
    rows = zip(schedule.plan.tasks, schedule.total, summary, strict=True)
    return {task.id for task, total, above in rows if total is not None and total <= limit and not above}


def _missed(schedule: Schedule) -> set[str]:
    rows = zip(schedule.plan.tasks, schedule.finishes, strict=True)
    return {task.id for task, finish in rows if task.deadline is not None and finish is not None and finish > task.deadline}


def _contradicted(schedule: Schedule) -> set[str]:
    return {one.task for one in schedule.conflicts() if one.kind == "link_broken_by_pin"}


def _ordered(ids: Collection[str], schedule: Schedule) -> list[str]:
    index = schedule.net.index
    starts = schedule.starts
    return sorted(ids, key=lambda one: (starts[index[one]] or 0, one) if one in index else (0, one))
