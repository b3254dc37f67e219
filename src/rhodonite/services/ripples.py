"""The ripple: after every change the plan is computed anew, and what moves is written, or first shown.

A change asks by ``Consent``. Without one it is applied. With ``ask`` it is applied where nothing else moves, or
nothing by more than the person's threshold; else it is refused with its ripple. ``all`` and ``only`` apply what was
shown, as long as the project stands at the revision that the ripple was made from.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from pymysql.cursors import Cursor

from ..core.calendars import WorkingCalendar, datetime_of, minute_of
from ..core.dates import say_day
from ..core.model import Link, Project, Task
from ..core.plan import Plan
from ..core.planning import PLANNING_FIELDS, computed_dates, follow, schedule_of
from ..core.ripple import Ripple, ripple
from ..core.schedule import Schedule
from ..store import tasks as task_rows
from .context import Actor, Consent, Log


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


@dataclass(frozen=True, slots=True)
class RippleAnswer:
    """A ripple as it is shown.

    Attributes:
        revision: of the project that it was made from.
        touched: the tasks that were changed themselves.
        alone: what applying the change to them alone does, in words; empty where that cannot be.
    """

    ripple: Ripple
    revision: int
    touched: list[str]
    waiting: list[Waiting]
    alone: list[str]
    titles: dict[str, str]


class NeedsConsent(Exception):
    """A change moves more than what was touched, and the person is to see that first."""

    def __init__(self, answer: RippleAnswer) -> None:
        super().__init__("This change moves other tasks. Look at what it carries on, then apply it or put it back.")
        self.sentence = str(self)
        self.answer = answer


def reschedule(
    cur: Cursor,
    actor: Actor,
    log: Log,
    plan: Plan,
    *,
    project: Project | None = None,
    calendar: WorkingCalendar | None = None,
    whole: bool = False,
) -> None:
    """Compute the plan with what was changed, and write the dates of every task that moves.

    Args:
        plan: as it stood before the change; ``log.tasks`` holds what was changed.
        project, calendar: where the change is to these, as they are now.
        whole: True where nobody touched a single task, so that everything that moves is shown.

    Raises:
        NeedsConsent: the person asked to be shown first what else moves.
        RuleError: the links would close a cycle, or join a task to one above it.
    """
    now, hours = project or plan.project, calendar or plan.calendar
    if project is None and calendar is None and not _concerns_planning(plan, log):
        return
    tasks = {**plan.tasks, **log.tasks}
    after = follow(plan.schedule, now, hours, plan.tasks, tasks, log.tasks)
    consent = actor.consent
    if consent is not None:
        if consent.kind == "ask" or consent.revision != log.revision - 1:
            _show_first(plan, log, consent, tasks, after, hours, {} if whole else log.tasks)
        elif consent.kind == "only" and not whole:
            after = leave_others(cur, log, plan, tasks, after, now, hours)
    write_moves(cur, log, tasks, computed_dates(after, tasks, hours))


def _concerns_planning(plan: Plan, log: Log) -> bool:
    for task_id, task in log.tasks.items():
        before = plan.tasks.get(task_id)
        if before is None:
            if task.start or task.finish or task.duration is not None or task.waits_for or task.parent_id:
                return True
        elif any(getattr(before, name) != getattr(task, name) for name in PLANNING_FIELDS):
            return True
    return False


def write_moves(cur: Cursor, log: Log, tasks: dict[str, Task], moves: dict[str, dict[str, Any]]) -> None:
    """Write computed dates, with their journal."""
    for task_id, fields in moves.items():
        task = tasks[task_id]
        for name, value in fields.items():
            log.record("task", task_id, name, getattr(task, name), value)
        tasks[task_id] = log.tasks[task_id] = task.with_fields(fields)
    if moves:
        task_rows.move_tasks(cur, moves, log.revision)


def _show_first(
    plan: Plan,
    log: Log,
    consent: Consent,
    tasks: dict[str, Task],
    after: Schedule,
    calendar: WorkingCalendar,
    touched: dict[str, Task],
) -> None:
    result = ripple(plan.schedule, after)
    others = [move for move in result.moved if move.task not in touched]
    waiting = _waiting(plan, touched, after)
    slight = consent.kind == "ask" and all(abs(move.by) <= consent.days * calendar.day_minutes for move in others)
    if slight and not waiting and (not others or not result.deadlines_missed):
        return
    raise NeedsConsent(_answer(plan, touched, tasks, result, waiting, log.revision - 1))


def preview(plan: Plan, changed: dict[str, Task], revision: int) -> RippleAnswer:
    """What changed tasks would carry on. Raises RuleError as ``reschedule`` does."""
    tasks = {**plan.tasks, **changed}
    after = follow(plan.schedule, plan.project, plan.calendar, plan.tasks, tasks, changed)
    return _answer(plan, changed, tasks, ripple(plan.schedule, after), _waiting(plan, changed, after), revision)


def _answer(
    plan: Plan, changed: dict[str, Task], tasks: dict[str, Task], result: Ripple, waiting: list[Waiting], revision: int
) -> RippleAnswer:
    return RippleAnswer(
        ripple=result,
        revision=revision,
        touched=list(changed),
        waiting=waiting,
        alone=_say_alone(plan, changed, tasks, result, waiting),
        titles={one: tasks[one].title for one in _named_in(result) | {one.task for one in waiting}},
    )


def _named_in(result: Ripple) -> set[str]:
    several = (result.deadlines_missed, result.deadlines_met, result.pins_contradicted, result.became_critical,
               result.no_longer_critical)  # fmt: skip
    return {move.task for move in result.moved} | {one for ids in several for one in ids}


def _waiting(plan: Plan, changed: dict[str, Task], after: Schedule) -> list[Waiting]:
    """The tasks whose start was set in this change and that cannot stand there."""
    found = []
    for task_id, task in changed.items():
        before = plan.tasks.get(task_id)
        at = task.constraint_at
        if task.constraint_type != "start_no_earlier" or at is None or (before is not None and before.constraint_at == at):
            continue
        index = after.net.index.get(task_id)
        start = after.starts[index] if index is not None else None
        if index is None or start is None or plan.calendar.between(minute_of(at), start) <= 0 or task.actual_start:
            continue
        because = after.because(index)
        link = because.link if because else None
        title = plan.tasks[link.from_id].title if link and link.from_id in plan.tasks else None
        found.append(Waiting(task_id, at, datetime_of(start), title))
    return found


def _say_alone(plan: Plan, changed: dict[str, Task], tasks: dict[str, Task], result: Ripple, waiting: list[Waiting]) -> list[str]:
    """What ``only`` does, in words; the same steps as ``leave_others``, as far as they can be seen at once."""
    if not changed:
        return []
    today = plan.now.date()
    said = [f"“{tasks[one.task].title}” is pinned to {say_day(one.wanted.date(), today)}" for one in waiting]
    for move in result.moved:
        task = tasks[move.task]
        if move.task in changed:
            continue
        links = [link for link in task.waits_for if link.from_id in changed]
        if links and move.by > 0:
            said += [f"“{task.title}” no longer waits for “{tasks[link.from_id].title}”" for link in links]
        elif links and task.start is not None:
            said.append(f"“{task.title}” starts no earlier than {say_day(task.start.date(), today)}")
    return said[:20]


def leave_others(
    cur: Cursor, log: Log, plan: Plan, tasks: dict[str, Task], after: Schedule, project: Project, calendar: WorkingCalendar
) -> Schedule:
    """Let nothing move but what was touched.

    A touched task that its links hold back becomes a pin. A task that would move later loses its link to a touched
    one; one that would move earlier is kept from it by a start-no-earlier-than. What still moves is pinned.
    """
    touched = set(log.tasks)
    for one in _waiting(plan, log.tasks, after):
        _set(cur, log, tasks, one.task, {"constraint_type": "must_start", "constraint_at": one.wanted})
    for attempt in range(6):
        after = schedule_of(project, calendar, tasks)
        moves = [move for move in ripple(plan.schedule, after).moved if move.task not in touched and move.task in plan.tasks]
        if not moves:
            break
        for move in moves:
            task = tasks[move.task]
            kept = tuple(link for link in task.waits_for if link.from_id not in touched)
            if move.start_before is None:
                continue
            if move.by > 0 and len(kept) < len(task.waits_for):
                _set(cur, log, tasks, move.task, {"waits_for": kept})
            elif move.by < 0 and attempt < 2:
                _hold(cur, log, tasks, move.task, "start_no_earlier", move.start_before)
            elif attempt >= 2:
                _hold(cur, log, tasks, move.task, "must_start", move.start_before)
    return schedule_of(project, calendar, tasks)


def _hold(cur: Cursor, log: Log, tasks: dict[str, Task], task_id: str, kind: str, at: int) -> None:
    _set(cur, log, tasks, task_id, {"constraint_type": kind, "constraint_at": datetime_of(at)})


def _set(cur: Cursor, log: Log, tasks: dict[str, Task], task_id: str, fields: dict[str, Any]) -> None:
    write_fields(cur, log, tasks[task_id], fields)
    tasks[task_id] = log.tasks[task_id]


def write_fields(cur: Cursor, log: Log, task: Task, fields: dict[str, Any]) -> None:
    """Write changed fields of a task, and their journal."""
    if not fields:
        return
    for name, value in fields.items():
        old = task_rows.description(cur, task.id) if name == "description" else getattr(task, name)
        log.record("task", task.id, name, plain(name, old), plain(name, value))
    task_rows.update_task(cur, task.id, fields, log.revision)
    now = log.tasks.get(task.id, task)
    log.tasks[task.id] = now.with_fields({name: value for name, value in fields.items() if name != "description"})


def plain(name: str, value: Any) -> Any:
    """A value as the journal keeps it: links as lists."""
    if name == "waits_for":
        return [[link.from_id, link.type, link.lag, link.elapsed] for link in value or ()]
    return value


def links_of(value: Any) -> tuple[Link, ...]:
    """The inverse of ``plain`` for links."""
    return tuple(Link(*one) for one in value or ())
