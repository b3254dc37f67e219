"""Moving only what was touched: what has to give way so that every other task stays where it is.

A touched task that its links hold back becomes a pin. A task that would move later loses its links to touched ones;
one that would move earlier is kept from it by a start-no-earlier-than. What still moves then is held the same way.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from .calendars import WorkingCalendar, datetime_of, minute_of
from .dates import say_day
from .model import Project, Task
from .planning import schedule_of
from .ripple import Move, moves_between
from .schedule import Schedule

Edits = dict[str, dict[str, Any]]
_BY_LINKS = 2  # rounds in which only links to touched tasks give way
_ROUNDS = 6


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


def give_way(tasks: Mapping[str, Task], touched: Iterable[str], moves: Iterable[Move], *, by_links: bool = True) -> Edits:
    """The fields by which tasks that would move no longer do, as far as it can be seen in one round.

    Args:
        tasks: all tasks with the change.
        touched: the ids of those that may move.
        moves: what moves with the change.
        by_links: True where only links to touched tasks give way; what waits for those in turn may then stay by itself.
    """
    free = set(touched)
    edits: Edits = {}
    for move in moves:
        if move.task in free or move.start_before is None:
            continue
        task = tasks[move.task]
        kept = tuple(link for link in task.waits_for if link.from_id not in free)
        tied = len(kept) < len(task.waits_for)
        if tied and move.by > 0:
            edits[move.task] = {"waits_for": kept}
        elif tied or not by_links:
            kind = "must_start" if move.by > 0 else "start_no_earlier"
            edits[move.task] = {"constraint_type": kind, "constraint_at": datetime_of(move.start_before)}
    return edits


def leave_others(
    before: Schedule,
    was: Mapping[str, Task],
    changed: Mapping[str, Task],
    held: Iterable[Waiting],
    project: Project,
    calendar: WorkingCalendar,
) -> Edits:
    """The fields, by task, by which a change moves nothing but what it touched.

    Args:
        before: the schedule of ``was``, all tasks before the change.
        changed: the tasks that it touched, as they are now.
        held: those of them that cannot stand where they were put.
    """
    tasks = {**was, **changed}
    edits: Edits = {}

    def make(more: Edits) -> None:
        for task_id, fields in more.items():
            edits.setdefault(task_id, {}).update(fields)
            tasks[task_id] = tasks[task_id].with_fields(fields)

    make(pins_for(held))
    for attempt in range(_ROUNDS):
        moves = [move for move in moves_between(before, schedule_of(project, calendar, tasks), calendar) if move.task in was]
        more = give_way(tasks, changed, moves, by_links=attempt < _BY_LINKS)
        if not more and attempt >= _BY_LINKS:
            break
        make(more)
    return edits


def say_edits(edits: Edits, tasks: Mapping[str, Task], today: date) -> list[str]:
    """What the edits do, in words: ``“Pour” no longer waits for “Dig”``.

    Args:
        tasks: as they were before these edits.
    """
    said = []
    for task_id, fields in edits.items():
        task = tasks[task_id]
        kept = fields.get("waits_for", task.waits_for)
        dropped = [link for link in task.waits_for if link not in kept]
        said += [f"“{task.title}” no longer waits for “{tasks[link.from_id].title}”" for link in dropped]
        if "constraint_at" in fields:
            verb = "is pinned to" if fields["constraint_type"] == "must_start" else "starts no earlier than"
            said.append(f"“{task.title}” {verb} {say_day(fields['constraint_at'].date(), today)}")
    return said
