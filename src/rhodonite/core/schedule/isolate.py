"""Moving only what was touched: what has to give way so that every other task stays where it is.

A touched task that its links hold back becomes a pin. Of the tasks that would move only those give way that are the first
to move, for what waits for them stays by itself then: one that would move later loses the link to a touched task that
pushes it; one that would move earlier is kept from it by a start-no-earlier-than. This is repeated until nothing else moves.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from ..common.calendars import WorkingCalendar, datetime_of, minute_of
from ..common.dates import say_day
from ..tasks.model import CONSTRAINT_WORDS, Project, Task
from .network import PlanLink
from .planning import schedule_of
from .ripple import Move, moves_between
from .schedule import Schedule

Edits = dict[str, dict[str, Any]]
_ROUNDS = 16
_MOST_TRIED = 20
"""Constraints of which it is tried whether they are needed."""


@dataclass(frozen=True, slots=True)
class Isolated:
    """What a change needs to move nothing but what it touched.

    Attributes:
        edits: the fields of other tasks, and pins of touched ones, by task.
        still: the ids of tasks that move all the same.
    """

    edits: Edits
    still: list[str]


@dataclass(frozen=True, slots=True)
class Waiting:
    """A task that does not stand where it was put: it waits for something, or is pinned.

    Attributes:
        wanted: the start that was asked for.
        start: where it stands.
        waits_for: the title of the task that holds it, where one does.
    """

    task: str
    wanted: datetime
    start: datetime
    waits_for: str | None


def waiting(was: Mapping[str, Task], changed: Mapping[str, Task], after: Schedule, calendar: WorkingCalendar) -> list[Waiting]:
    """The tasks whose start was set in a change and that cannot stand there.

    Args:
        was: all tasks before the change.
        changed: those that it touched, as they are now.
        after: the schedule with the change.
    """
    found = []
    for task_id, task in changed.items():
        before, at = was.get(task_id), task.constraint_at
        if task.constraint_type != "start_no_earlier" or at is None or (before is not None and before.constraint_at == at):
            continue
        index = after.net.index.get(task_id)
        start = after.starts[index] if index is not None else None
        if index is None or start is None or calendar.between(minute_of(at), start) <= 0 or task.actual_start:
            continue
        because = after.because(index)
        link = because.link if because else None
        title = was[link.from_id].title if link and link.from_id in was else None
        found.append(Waiting(task_id, at, datetime_of(start), title))
    return found


def pins_for(held: Iterable[Waiting]) -> Edits:
    """The pins by which touched tasks stand where they were put."""
    return {one.task: {"constraint_type": "must_start", "constraint_at": one.wanted} for one in held}


def isolate(
    before: Schedule,
    was: Mapping[str, Task],
    changed: Mapping[str, Task],
    held: Iterable[Waiting],
    project: Project,
    calendar: WorkingCalendar,
) -> Isolated:
    """By which fields a change moves nothing but what it touched.

    Args:
        before: the schedule of ``was``, all tasks before the change.
        changed: the tasks that it touched, as they are now.
        held: those of them that cannot stand where they were put.
    """
    tasks = {**was, **changed}
    edits: Edits = {}

    def moving(with_these: Mapping[str, Task]) -> tuple[Schedule, dict[str, Move]]:
        after = schedule_of(project, calendar, with_these)
        moves = moves_between(before, after, calendar)
        return after, {
            one.task: one for one in moves if one.task in was and one.task not in changed and one.start_before is not None
        }

    def make(more: Edits) -> None:
        for task_id, fields in more.items():
            edits.setdefault(task_id, {}).update(fields)
            tasks[task_id] = tasks[task_id].with_fields(fields)

    make(pins_for(held))
    for _ in range(_ROUNDS):
        after, moves = moving(tasks)
        more = _first_to_give_way(before, after, tasks, changed, moves)
        if not more:
            break
        make(more)
    _, moves = moving(tasks)
    _leave_out_needless(edits, tasks, was, changed, len(moves), lambda with_these: len(moving(with_these)[1]))
    return Isolated(edits, sorted(moves))


def _first_to_give_way(
    before: Schedule, after: Schedule, tasks: Mapping[str, Task], changed: Mapping[str, Task], moves: Mapping[str, Move]
) -> Edits:
    """The fields that keep those in their place that nothing else moves, but what was touched."""
    moved = _with_above(moves, tasks)
    free = _with_above(changed, tasks)
    edits: Edits = {}
    fields: dict[str, Any] | None
    for task_id, move in moves.items():
        later = (move.start_after or 0) > (move.start_before or 0)
        link = _deciding(after if later else before, task_id)
        if link is not None and link.from_id in moved and link.from_id not in free:
            continue  # it follows another, and stays where that one does
        if later and link is not None and link.from_id in free:
            giving, fields = link.to_id, _without(tasks[link.to_id], link)
        else:
            giving, fields = task_id, _held_in_place(tasks[task_id], move)
        if fields is not None:
            edits.setdefault(giving, fields)  # one link at a time: the others may not push it
    return edits


def _deciding(schedule: Schedule, task_id: str) -> PlanLink | None:
    """The link that decides where a task starts, where one does."""
    index = schedule.net.index.get(task_id)
    because = schedule.because(index) if index is not None else None
    return because.link if because else None


def _held_in_place(task: Task, move: Move) -> dict[str, Any] | None:
    """The constraint that keeps a task where it stood; None where it is kept already as well as it can be."""
    assert move.start_before is not None
    now, at = (task.constraint_type, task.constraint_at), datetime_of(move.start_before)
    later = (move.start_after or 0) > move.start_before
    kind = "must_start" if later or now == ("start_no_earlier", at) else "start_no_earlier"
    return None if now == (kind, at) else {"constraint_type": kind, "constraint_at": at}


def _without(task: Task, gone: PlanLink) -> dict[str, Any]:
    return {"waits_for": tuple(one for one in task.waits_for if (one.from_id, one.type) != (gone.from_id, gone.type))}


def _with_above(ids: Iterable[str], tasks: Mapping[str, Task]) -> set[str]:
    """Some tasks and all that they stand under."""
    found: set[str] = set()
    for one in ids:
        at: str | None = one
        while at is not None and at not in found and at in tasks:
            found.add(at)
            at = tasks[at].parent_id
    return found


def _leave_out_needless(
    edits: Edits,
    tasks: dict[str, Task],
    was: Mapping[str, Task],
    changed: Mapping[str, Task],
    moves: int,
    count: Callable[[Mapping[str, Task]], int],
) -> None:
    """Take out constraints without which no more tasks move."""
    set_by = [one for one, fields in edits.items() if "constraint_type" in fields and one not in changed]
    for task_id in set_by[:_MOST_TRIED] if len(set_by) > 1 else ():
        old = {"constraint_type": was[task_id].constraint_type, "constraint_at": was[task_id].constraint_at}
        if count({**tasks, task_id: tasks[task_id].with_fields(old)}) > moves:
            continue
        tasks[task_id] = tasks[task_id].with_fields(old)
        edits[task_id] = {name: value for name, value in edits[task_id].items() if name not in old}
        if not edits[task_id]:
            del edits[task_id]


def say_isolated(alone: Isolated, tasks: Mapping[str, Task], today: date) -> list[str]:
    """What it needs, in words: ``“Pour” no longer waits for “Dig”``.

    Args:
        tasks: as they were before these edits.
    """
    said = []
    for task_id, fields in alone.edits.items():
        task = tasks[task_id]
        kept = fields.get("waits_for", task.waits_for)
        dropped = [link for link in task.waits_for if link not in kept]
        said += [f"“{task.title}” no longer waits for “{tasks[link.from_id].title}”" for link in dropped]
        if "constraint_at" in fields:
            verb = "is pinned to" if fields["constraint_type"] == "must_start" else "starts no earlier than"
            instead = f", instead of {_constraint(task, today)}" if task.constraint_at is not None else ""
            said.append(f"“{task.title}” {verb} {say_day(fields['constraint_at'].date(), today)}{instead}")
    return said + [f"“{tasks[one].title}” moves all the same" for one in alone.still]


def _constraint(task: Task, today: date) -> str:
    assert task.constraint_at is not None
    return f"{CONSTRAINT_WORDS[task.constraint_type]} {say_day(task.constraint_at.date(), today)}"
