"""Repeating tasks: the next ones are written when the last is finished, or ahead."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date, timedelta
from itertools import islice, takewhile
from typing import Any

from pymysql.cursors import Cursor

from ...core.people.access import may_in_project
from ...core.schedule.plan import Plan
from ...core.tasks.copying import BookableThere, matched
from ...core.tasks.model import Project, Task
from ...core.tasks.recurrence import Repeat, check_repeat, days_of, moved_by, read_repeat, write_repeat
from ...core.tasks.recurrence_words import note_on, read_rule, say_rule
from ...store.people import people as people_rows
from ...store.talk import parts as part_rows
from ...store.tasks import projects as project_rows
from ...store.tasks import tasks as task_rows
from ..common.context import Actor, Clock, Log, new_id, open_project
from ..common.pipeline import After, Way, bring_along, changing, step
from ..common.plan_cache import PLANS
from ..common.task_writes import write_fields
from .copying import bookable_there
from .tasks import NewTask, insert_tasks

SHOWN = 10


@dataclass(frozen=True, slots=True)
class RepeatPreview:
    """A rule in words as it was understood, the days that it gives next, and what people should know of it."""

    says: str
    note: str
    days: list[date]


def preview_repeat(cur: Cursor, actor: Actor, code: str, words: str, first: date, off_holidays: bool) -> RepeatPreview:
    """What a rule would give. Raises RuleError where it cannot be read."""
    project = open_project(cur, actor, code, "see")
    repeat = Repeat(read_rule(words, actor.clock.now().date()), first.isoformat(), off_holidays=off_holidays)
    check_repeat(repeat)
    held = PLANS.at(cur, project, actor.clock.now())
    days = [stands for _, stands in islice(days_of(repeat, held.plan.calendar), SHOWN)]
    return RepeatPreview(say_rule(repeat.rule, actor.clock.now().date()), note_on(repeat.rule), days)


@step("recur")
def follow_repeats(cur: Cursor, actor: Actor, log: Log, plan: Plan, _: After) -> None:
    """Write the tasks that follow from a change: the next one of a task that it finished, or those that are kept ahead.

    Args:
        plan: as it stood before; ``log.tasks`` holds what was changed.
    """
    if log.in_draft:
        return
    for task in [one for one in log.tasks.values() if one.repeats and one.deleted_at is None]:
        repeat = read_repeat(task.repeats)
        assert repeat is not None
        before = plan.tasks.get(task.id)
        finished = plan.project.state(task.state_id).state_class == "finished"
        was = before is not None and plan.project.state(before.state_id).state_class == "finished"
        last = date.fromisoformat(repeat.last) if repeat.last else None
        if repeat.mode == "finished" and finished and not was:
            _next_one(cur, actor, log, plan, task, repeat, last)
        elif (
            repeat.mode == "ahead" and (before is None or before.repeats != task.repeats) and not _is_dropped(task, plan.project)
        ):
            make_ahead(cur, actor, log, plan, task, repeat)


def _next_one(cur: Cursor, actor: Actor, log: Log, plan: Plan, task: Task, repeat: Repeat, last: date | None) -> None:
    """The next one carries the rule on; the one that is finished stands alone."""
    found = next(days_of(repeat, plan.calendar, last), None)
    write_fields(cur, log, log.tasks[task.id], {"repeats": None})
    if found is None:
        return
    made = _write_one(cur, actor, log, plan, task, found[1], bookable_there(cur, plan.project.id))
    write_fields(cur, log, log.tasks[made], {"repeats": write_repeat(replace(repeat, last=found[0].isoformat()))})


def make_ahead(cur: Cursor, actor: Actor, log: Log, plan: Plan, task: Task, repeat: Repeat) -> int:
    """Write those that are missing of the ones to be kept ahead of today. Returns how many."""
    today = actor.clock.now().date()
    last = date.fromisoformat(repeat.last) if repeat.last else None
    wanted = [one for one, _ in islice(days_of(repeat, plan.calendar, today), repeat.ahead)]
    if not wanted or (last and last >= wanted[-1]):
        return 0
    since = max(last or date.min, today - timedelta(days=1))  # what was missed while nobody looked stays missed
    days = list(takewhile(lambda one: one[0] <= wanted[-1], days_of(repeat, plan.calendar, since)))
    bookable = bookable_there(cur, plan.project.id)
    for _, stands in days:
        _write_one(cur, actor, log, plan, task, stands, bookable)
    current = log.tasks.get(task.id, task)
    write_fields(cur, log, current, {"repeats": write_repeat(replace(repeat, last=days[-1][0].isoformat()))})
    return len(days)


def _write_one(cur: Cursor, actor: Actor, log: Log, plan: Plan, task: Task, day: date, bookable: BookableThere) -> str:
    """Write one more of a task on a day, with its description, checklists and attachments, and without who has left since.
    Returns its id."""
    fields: dict[str, Any] = matched(task, plan.project, plan.project, is_summary=False, bookable=bookable).fields
    title = fields.pop("title")
    for name in ("start", "finish", "deadline"):
        fields.pop(name, None)
    if deadline := moved_by(task.deadline, task.start or task.finish, day):
        fields["deadline"] = deadline
    fields["finish" if task.kind == "milestone" or task.duration is None else "start"] = day
    made = new_id()
    new = NewTask(made, title, task.parent_id, "end", fields, task_rows.description(cur, task.id))
    insert_tasks(cur, actor, log, plan, [new])
    bring_along(cur, log, Way(actor, {task.id: made}, plan.project, plan.project))
    part_rows.recount(cur, [made], log.revision)
    return made


def _is_dropped(task: Task, project: Project) -> bool:
    """True for work that is given up, such as a duplicate that was merged: no more of it is written, until it is opened again."""
    return project.state(task.state_id).state_class == "dropped"


def keep_ahead(cur: Cursor, clock: Clock, project_id: str) -> int:
    """Write what is to be kept ahead in a project, in the name of those who asked for it. Returns how many tasks."""
    project = project_rows.project(cur, project_id)
    if project is None or project.archived_at is not None:
        return 0
    held = PLANS.at(cur, project, clock.now())
    due = [
        task
        for task in held.plan.tasks.values()
        if task.repeats and task.deleted_at is None and not _is_dropped(task, held.plan.project)
    ]
    made = 0
    for task in due:
        repeat = read_repeat(task.repeats)
        person = people_rows.person(cur, repeat.by) if repeat and repeat.by else None
        if repeat is None or repeat.mode != "ahead" or person is None or not person.active:
            continue
        today = clock.now().date()
        wanted = [one for one, _ in islice(days_of(repeat, held.plan.calendar, today), repeat.ahead)]
        if wanted and (repeat.last is None or repeat.last < wanted[-1].isoformat()):
            actor = Actor(person, clock)
            role = actor.role_in(project, project_rows.members(cur, project.id).get(person.id))
            if may_in_project(role, "edit"):  # who asked for it may have left the project since
                with changing(cur, actor, project.code, f"repeated “{task.title}”"[:80]) as (log, now):
                    made += make_ahead(cur, actor, log, now.plan, task, repeat)
    return made
