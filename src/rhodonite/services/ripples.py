"""The ripple: after every change the plan is computed anew, and what moves is written, or first shown.

A change asks by ``Consent``. Without one it is applied. With ``ask`` it is applied where nothing else moves, or
nothing by more than the person's threshold; else it is refused with its ripple. ``all`` and ``only`` apply what was
shown, as long as the project stands at the revision that the ripple was made from.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

from pymysql.cursors import Cursor

from ..core.alone import Waiting, give_way, leave_others, pins_for, say_edits, waiting
from ..core.calendars import WorkingCalendar
from ..core.drafts import not_kept
from ..core.model import OWN, Project, Task
from ..core.plan import Plan
from ..core.planning import PLANNING_FIELDS, computed_dates, follow, schedule_of
from ..core.ripple import Ripple, ripple
from ..core.schedule import Schedule
from ..formats.html import words_of
from ..store import parts as part_rows
from ..store import tasks as task_rows
from .context import Actor, Consent, Log
from .values import plain
from .words import write_field_words

MOST_WORDS = 20


@dataclass(frozen=True, slots=True)
class RippleAnswer:
    """A ripple as it is shown.

    Attributes:
        revision: of the project that it was made from.
        touched: the tasks that were changed themselves.
        alone: what applying the change to them alone does, in words; empty where that cannot be.
        can_try: True where a draft can keep the change.
    """

    ripple: Ripple
    revision: int
    touched: list[str]
    waiting: list[Waiting]
    alone: list[str]
    titles: dict[str, str]
    can_try: bool = False


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
            can_try = project is None and calendar is None and not any(not_kept(e.subject, e.field) for e in log.entries)
            _show_first(plan, log, consent, tasks, after, hours, {} if whole else log.tasks, can_try)
        elif consent.kind == "only" and not whole:
            held = waiting(plan.tasks, log.tasks, after, hours)
            edits = leave_others(plan.schedule, plan.tasks, dict(log.tasks), held, now, hours)
            for task_id, fields in edits.items():
                write_fields(cur, log, tasks[task_id], fields)
            tasks |= log.tasks
            after = schedule_of(now, hours, tasks)
    write_moves(cur, log, tasks, computed_dates(after, tasks))


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
    can_try: bool,
) -> None:
    result = ripple(plan.schedule, after)
    others = [move for move in result.moved if move.task not in touched]
    held = waiting(plan.tasks, touched, after, calendar)
    slight = consent.kind == "ask" and all(abs(move.by) <= consent.days * calendar.day_minutes for move in others)
    if slight and not held and (not others or not result.deadlines_missed):
        return
    raise NeedsConsent(replace(_answer(plan, touched, tasks, result, held, log.revision - 1), can_try=can_try))


def preview(plan: Plan, changed: dict[str, Task], revision: int) -> RippleAnswer:
    """What changed tasks would carry on. Raises RuleError as ``reschedule`` does."""
    tasks = {**plan.tasks, **changed}
    after = follow(plan.schedule, plan.project, plan.calendar, plan.tasks, tasks, changed)
    held = waiting(plan.tasks, changed, after, plan.calendar)
    return _answer(plan, changed, tasks, ripple(plan.schedule, after), held, revision)


def _answer(
    plan: Plan, touched: dict[str, Task], tasks: dict[str, Task], result: Ripple, held: list[Waiting], revision: int
) -> RippleAnswer:
    # what gives way at first sight: to follow it to its end would cost several schedules for words that few ask for
    alone = pins_for(held) | give_way(tasks, touched, result.moved) if touched else {}
    return RippleAnswer(
        ripple=result,
        revision=revision,
        touched=list(touched),
        waiting=held,
        alone=say_edits(alone, tasks, plan.now.date())[:MOST_WORDS],
        titles={one: tasks[one].title for one in named_in(result) | {one.task for one in held}},
    )


def named_in(result: Ripple) -> set[str]:
    """The ids of all tasks that a ripple names."""
    several = (result.deadlines_missed, result.deadlines_met, result.pins_contradicted, result.became_critical,
               result.no_longer_critical)  # fmt: skip
    return {move.task for move in result.moved} | {one for ids in several for one in ids}


def write_many(cur: Cursor, log: Log, changes: Mapping[str, dict[str, Any]], tasks: Mapping[str, Task]) -> None:
    """Write changed fields of many tasks, and their journal, in a few statements. Descriptions are not among them.

    Args:
        changes: the fields by task.
        tasks: as they were before.
    """
    changes = {task_id: fields for task_id, fields in changes.items() if fields}
    for task_id, fields in changes.items():
        task = tasks[task_id]
        for name, value in fields.items():
            log.record("task", task_id, name, plain(name, task.value(name)), plain(name, value))
        log.tasks[task_id] = task.with_fields(fields)
    if changes and not log.in_draft:
        columns = {task_id: columns_of(fields, log.tasks[task_id]) for task_id, fields in changes.items()}
        task_rows.update_tasks(cur, columns, log.revision)
        write_field_words(cur, [log.tasks[one] for one, fields in columns.items() if "own" in fields])


def columns_of(fields: Mapping[str, Any], after: Task) -> dict[str, Any]:
    """The columns that changed fields are kept in: the project's own fields stand together in one."""
    columns = {name: value for name, value in fields.items() if not name.startswith(OWN)}
    return columns | ({"own": after.own} if len(columns) < len(fields) else {})


def write_fields(cur: Cursor, log: Log, task: Task, fields: dict[str, Any]) -> None:
    """Write changed fields of a task, and their journal."""
    if not fields:
        return
    for name, value in fields.items():
        old = task_rows.description(cur, task.id) if name == "description" else task.value(name)
        log.record("task", task.id, name, plain(name, old), plain(name, value))
    now = log.tasks.get(task.id, task)
    after = now.with_fields({name: value for name, value in fields.items() if name != "description"})
    log.tasks[task.id] = after
    if not log.in_draft:
        columns = columns_of(fields, after)
        task_rows.update_task(cur, task.id, columns, log.revision)
        if "own" in columns:
            write_field_words(cur, [after])
        if "description" in fields:
            words = words_of(fields["description"])
            part_rows.write_words(cur, task.id, task.id, task.project_id, "description", words)
