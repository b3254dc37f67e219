"""Work as it was at the end of each of some periods: the class in which each task stood then, by the journal."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from decimal import Decimal

from ..schedule.plan import Row
from .charts import Number, Path, Tallies, Tally, next_start, start_of
from .dashboards import Period


@dataclass(frozen=True, slots=True)
class StateChange:
    """A task came into being, or into another state; in local time."""

    task_id: str
    at: datetime
    state_id: str | None
    """None where it was only then written down, and its first state is told by the change after that."""
    before: str | None = None


@dataclass(frozen=True, slots=True)
class ClassHistory:
    """When a task came into being, and from when on it stood in which class."""

    since: date
    days: tuple[date, ...]
    classes: tuple[str, ...]

    def at(self, day: date) -> str | None:
        """The class in which it stood at the end of a day; None before it was there."""
        if day < self.since:
            return None
        return self.classes[max(0, bisect_right(self.days, day) - 1)]


def ends_of(today: date, period: Period, last: int) -> list[date]:
    """The last days of the latest periods, in order; of the one that is not over, today."""
    starts = [start_of(today, period)]
    while len(starts) < last:
        starts.append(start_of(starts[-1] - timedelta(days=1), period))
    return [*(next_start(one, period) - timedelta(days=1) for one in reversed(starts[1:])), today]


def histories(changes: Iterable[StateChange], classes: Mapping[str, str], now: Mapping[str, str]) -> dict[str, ClassHistory]:
    """The history of each task.

    Args:
        changes: oldest first.
        classes: by state its class; of a state that was deleted since nothing is known, and its class is that after it.
        now: by task its class today.
    """
    by_task: dict[str, list[StateChange]] = {}
    for one in changes:
        by_task.setdefault(one.task_id, []).append(one)
    return {task_id: _history(by_task.get(task_id, ()), classes, present) for task_id, present in now.items()}


def _history(changes: Sequence[StateChange], classes: Mapping[str, str], present: str) -> ClassHistory:
    since = changes[0].at.date() if changes else date.min  # of what no journal tells: it was always there
    moves = [one for one in changes if one.state_id is not None]
    first = next((one.before for one in moves), None)
    days: list[date] = [since]
    found: list[str] = [classes.get(first or "", present)]
    for one in moves:
        days.append(one.at.date())
        found.append(classes.get(one.state_id or "", present))
    found[-1] = present  # whatever the journal says, it ends as it is
    return ClassHistory(since, tuple(days), tuple(found))


def counted_then(
    rows: Iterable[Row], ends: Sequence[date], history: Mapping[str, ClassHistory], classes: frozenset[str],
    by: Callable[[Row], Path] | None, by_class: bool, number: Number | None,
) -> Tallies:  # fmt: skip
    """Count tasks at the end of each day.

    Args:
        rows: those that the sentence leaves, but for classes.
        classes: in one of which a task must have stood then; empty: any but dropped.
        by: keys of a field as it is today; ``by_class``: the class as it was then instead.
        number: of which the sum is wanted, as it is today.

    Returns:
        By day and key.
    """
    found: Tallies = {}
    for row in rows:
        past = history.get(row.task.id)
        if past is None:
            continue
        amount = number(row) if number else None
        keys = by(row) if by else ("",)
        for day in ends:
            stood = past.at(day)
            if stood is None or (stood not in classes if classes else stood == "dropped"):
                continue
            for key in (stood,) if by_class else keys:
                one = found.setdefault((day.isoformat(), key), Tally())
                one.tasks += 1
                if isinstance(amount, Decimal):
                    one.filled += 1
                    one.total += amount
    return found
