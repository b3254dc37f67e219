"""Agreed plans: what was promised, and how far the plan has moved from it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal
from types import MappingProxyType

from ..common.calendars import WorkingCalendar


@dataclass(frozen=True, slots=True)
class AgreedTask:
    """The promised dates, duration and effort (minutes) of one task; its cost, in the currency of the project, where that was
    agreed too, and it has no tasks below."""

    start: datetime | None
    finish: datetime | None
    duration: int | None
    effort: int | None
    is_summary: bool = False
    cost: Decimal | None = None


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


def _effect(by: int, slip: int, slack: int, slack_before: int) -> int:
    """How much of a delay reaches the finish: nothing where slack is left; none has more than there is."""
    return 0 if slack > 0 else max(0, min(by - max(0, slack_before), slip))


def agreed_finish(tasks: Mapping[str, AgreedTask]) -> datetime | None:
    """The finish of an agreed plan: the latest of its tasks."""
    return max((task.finish for task in tasks.values() if task.finish is not None), default=None)


Slack = Mapping[str, int | None]
"""By task its total slack in working minutes; one that is not named is not known to have any."""
UNKNOWN: Slack = MappingProxyType({})


def differences(
    before: Mapping[str, AgreedTask],
    after: Mapping[str, AgreedTask],
    calendar: WorkingCalendar,
    slack: Slack = UNKNOWN,
    slack_before: Slack = UNKNOWN,
) -> list[Difference]:
    """The tasks that differ between two plans, those with the most effect on the finish first, then those that finish
    later by most. What is a summary task in either is left out.

    Args:
        slack: in the second plan; a task that has some there does not decide the finish.
        slack_before: in the first; so much of its delay did not reach the finish.
    """
    slip = variance(agreed_finish(after), agreed_finish(before), calendar) or 0
    found = []
    for task_id in before.keys() | after.keys():
        old, new = before.get(task_id), after.get(task_id)
        if any(one is not None and one.is_summary for one in (old, new)):
            continue
        if old is None or new is None:
            found.append(Difference(task_id, old, new, 0, 0, "added" if old is None else "gone"))
        elif (old.start, old.finish, old.duration, old.effort) != (new.start, new.finish, new.duration, new.effort):
            by = variance(new.finish, old.finish, calendar) or 0
            effect = _effect(by, slip, slack.get(task_id) or 0, slack_before.get(task_id) or 0)
            found.append(Difference(task_id, old, new, by, effect, "moved"))

    def order(one: Difference) -> tuple[bool, int, int, datetime, str]:
        stands = one.after or one.before
        start = stands.start if stands else None
        return one.kind != "moved", -one.effect, -one.by, start or datetime.max, one.task_id

    found.sort(key=order)
    return found
