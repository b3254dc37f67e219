"""The time report: hours grouped by whom, where, on what and when, with sums that are sums of what is shown."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Literal, get_args

from ..common.errors import RuleError
from .entries import monday_of

By = Literal["person", "project", "task", "kind", "day", "week", "month", "billable"]
BYS: tuple[By, ...] = get_args(By)
MOST_GROUPINGS = 3
MOST_LINES = 20_000
MOST_DAYS = 3_700
_IN_TIME = frozenset({"day", "week", "month"})
_OF_TASKS = frozenset({"project", "task", "kind"})


@dataclass(frozen=True, slots=True)
class Piece:
    """Minutes of one person on one task on one day, of so many entries."""

    person_id: str
    project_id: str
    task_id: str
    day: date
    billable: bool
    minutes: int
    entries: int


@dataclass(frozen=True, slots=True)
class TaskFacts:
    """What a report says of a task beside its hours: its kind, and minutes of its estimate."""

    kind: str
    estimate: int | None


@dataclass(frozen=True, slots=True)
class ReportLine:
    """A group with its sums.

    Attributes:
        keys: of the group and those above it, from the outermost on: ids, days as ISO text, ``yes`` or ``no``.
        estimate: minutes, summed over the tasks in the group; None where it is grouped by more than tasks, or none has one.
    """

    keys: tuple[str, ...]
    minutes: int
    billable: int
    entries: int
    estimate: int | None


@dataclass(frozen=True, slots=True)
class Report:
    """Lines, each group before those within it, and the sum of the outermost."""

    by: tuple[By, ...]
    lines: list[ReportLine]
    total: ReportLine


def check_asked(first: date, last: date, by: Sequence[str]) -> tuple[By, ...]:
    """What is asked of a report, read.

    Raises:
        RuleError: the last day lies before the first, they are too far apart, or the groups cannot be.
    """
    if last < first:
        raise RuleError("The last day lies before the first. Choose them again.", "last")
    if (last - first).days > MOST_DAYS:
        raise RuleError("A report reaches over ten years at most. Choose fewer days.", "last")
    known: tuple[By, ...] = tuple(one for name in by for one in BYS if one == name)
    if len(known) != len(by) or len(set(by)) != len(by) or not 1 <= len(by) <= MOST_GROUPINGS:
        raise RuleError(f"Group by one to {MOST_GROUPINGS} of {', '.join(BYS)}, each once.", "by")
    return known


def make_report(pieces: Iterable[Piece], by: Sequence[By], tasks: Mapping[str, TaskFacts]) -> Report:
    """Group hours.

    Args:
        tasks: by id what is said of each task of the pieces.

    Raises:
        RuleError: there would be more lines than can be shown.
    """
    keys = [_key_of(one, tasks) for one in by]
    sums: dict[tuple[str, ...], _Sum] = defaultdict(_Sum)
    whole = _Sum()
    for piece in pieces:
        key: tuple[str, ...] = ()
        whole.add(piece)
        for find in keys:
            key = (*key, find(piece))
            sums[key].add(piece)
        if len(sums) > MOST_LINES:
            raise RuleError(f"That would be more than {MOST_LINES} lines. Group by less, or choose fewer days.", "by")

    def order(key: tuple[str, ...]) -> tuple[tuple[bool, int, str], ...]:
        """Times as they follow each other, all else the most hours first."""
        return tuple(
            (False, 0, one) if by[depth] in _IN_TIME else (True, -sums[key[: depth + 1]].minutes, one)
            for depth, one in enumerate(key)
        )

    lines = [sums[key].line(key, by, tasks) for key in sorted(sums, key=order)]
    return Report(tuple(by), lines, whole.line((), ("project",), tasks))


class _Sum:
    """What a group sums up to."""

    def __init__(self) -> None:
        self.minutes = 0
        self.billable = 0
        self.entries = 0
        self.tasks: set[str] = set()

    def add(self, piece: Piece) -> None:
        self.minutes += piece.minutes
        self.billable += piece.minutes if piece.billable else 0
        self.entries += piece.entries
        self.tasks.add(piece.task_id)

    def line(self, key: tuple[str, ...], by: Sequence[By], tasks: Mapping[str, TaskFacts]) -> ReportLine:
        estimates = [tasks[one].estimate for one in self.tasks if one in tasks]
        known = [one for one in estimates if one]
        told = set(by[: max(1, len(key))]) <= _OF_TASKS and known
        return ReportLine(key, self.minutes, self.billable, self.entries, sum(known) if told else None)


def _key_of(by: By, tasks: Mapping[str, TaskFacts]) -> Callable[[Piece], str]:
    finds: dict[By, Callable[[Piece], str]] = {
        "person": lambda one: one.person_id,
        "project": lambda one: one.project_id,
        "task": lambda one: one.task_id,
        "kind": lambda one: tasks[one.task_id].kind if one.task_id in tasks else "task",
        "day": lambda one: one.day.isoformat(),
        "week": lambda one: monday_of(one.day).isoformat(),
        "month": lambda one: one.day.strftime("%Y-%m"),
        "billable": lambda one: "yes" if one.billable else "no",
    }
    return finds[by]
