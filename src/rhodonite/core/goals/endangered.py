"""Which goals a change of a plan endangers: what they count would be finished only after they end."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime

from .model import Goal


@dataclass(frozen=True, slots=True)
class Endangered:
    """A goal, and what of it would come too late by a change.

    Attributes:
        title: of the goal; ``last``: the day on which it ends.
        worst: the id of the task that would be finished last, and ``finish`` when.
        count: how many of those that it counts come too late only now; ``saved``: how many no longer do.
    """

    goal_id: str
    title: str
    last: date
    worst: str | None
    finish: datetime | None
    count: int
    saved: int


def endangered(
    goals: Sequence[Goal],
    counted: Mapping[str, Collection[str]],
    before: Mapping[str, datetime | None],
    after: Mapping[str, datetime | None],
) -> list[Endangered]:
    """The goals of which something would come too late by a change, or no longer does.

    Args:
        counted: by goal the ids of the unfinished tasks that it counts.
        before, after: by task that moves, its finish.
    """
    found = []
    for goal in goals:
        late: list[tuple[datetime, str]] = []
        saved = 0
        for task_id in counted.get(goal.id, ()):
            if task_id not in after:
                continue
            was, now = before.get(task_id), after[task_id]
            was_late, is_late = goal.ends_before(was and was.date()), goal.ends_before(now and now.date())
            if is_late and not was_late and now is not None:
                late.append((now, task_id))
            saved += was_late and not is_late
        if late or saved:
            finish, worst = max(late, default=(None, None))
            found.append(Endangered(goal.id, goal.title, goal.last, worst, finish, len(late), saved))
    return sorted(found, key=lambda one: (-one.count, one.title))
