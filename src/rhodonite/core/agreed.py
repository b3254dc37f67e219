"""Agreed plans: what was promised, and how far the plan has moved from it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, datetime
from types import MappingProxyType

from .calendars import WorkingCalendar


@dataclass(frozen=True, slots=True)
class AgreedTask:
    """The promised dates, duration and effort (minutes) of one task."""

    start: datetime | None
    finish: datetime | None
    duration: int | None
    effort: int | None
    is_summary: bool = False


@dataclass(frozen=True, slots=True)
class AgreedPlan:
    """A frozen copy of a plan under a name and a day."""

    id: str
    project_id: str
    name: str
    day: date
    note: str
    is_current: bool
    person_id: str
    at: datetime


@dataclass(frozen=True, slots=True)
class Difference:
    """How a task stands in two plans.

    Attributes:
        by: working minutes by which the second finishes later.
        effect: how many of them reach the finish of the project, for the task has no slack to take them up.
        kind: whether it moved, or stands in one of the two only.
    """

    task_id: str
    before: AgreedTask | None
    after: AgreedTask | None
    by: int
    effect: int
    kind: str


def variance(now: datetime | None, agreed: datetime | None, calendar: WorkingCalendar) -> int | None:
    """Working minutes by which a finish lies after the agreed one; None where either is missing."""
    return calendar.minutes_between(agreed, now) if now is not None and agreed is not None else None


def whole_days(minutes: int | None, calendar: WorkingCalendar) -> int:
    """Working minutes in days, to the nearest whole one; less than nothing where a finish lies before the agreed one."""
    return round((minutes or 0) / calendar.day_minutes)


def agreed_finish(tasks: Mapping[str, AgreedTask]) -> datetime | None:
    """The finish of an agreed plan: the latest of its tasks."""
    return max((task.finish for task in tasks.values() if task.finish is not None), default=None)


def differences(
    before: Mapping[str, AgreedTask],
    after: Mapping[str, AgreedTask],
    calendar: WorkingCalendar,
    slack: Mapping[str, int | None] = MappingProxyType({}),
) -> list[Difference]:
    """The tasks that differ between two plans, those with the most effect on the finish first, then those that finish
    later by most. Summary tasks are left out.

    Args:
        slack: total slack of each task now, in working minutes; one that is not named has none.
    """
    slip = variance(agreed_finish(after), agreed_finish(before), calendar) or 0
    found = []
    for task_id in before.keys() | after.keys():
        old, new = before.get(task_id), after.get(task_id)
        if (old or new).is_summary:  # type: ignore[union-attr]
            continue
        if old is None or new is None:
            found.append(Difference(task_id, old, new, 0, 0, "added" if old is None else "gone"))
        elif (old.start, old.finish, old.duration, old.effort) != (new.start, new.finish, new.duration, new.effort):
            by = variance(new.finish, old.finish, calendar) or 0
            effect = max(0, min(by - max(0, slack.get(task_id, 0) or 0), slip))  # none has more than there is
            found.append(Difference(task_id, old, new, by, effect, "moved"))

    def order(one: Difference) -> tuple[bool, int, int, datetime, str]:
        stands = one.after or one.before
        start = stands.start if stands else None
        return one.kind != "moved", -one.effect, -one.by, start or datetime.max, one.task_id

    found.sort(key=order)
    return found
