"""Planning: what a change would carry on, and why a task stands where it does."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.calendars import datetime_of
from ...core.common.dates import say_day
from ...core.common.errors import Missing
from ...core.overview.readings import conflict_sentences, slack_sentence, why_sentence
from ...core.tasks.model import Link, Task
from ...core.tasks.typed_links import TaskNames, read_links, say_link
from ...store.common import journal as journal_rows
from ...store.people import people as people_rows
from ..common.context import Actor, open_project, open_task
from ..common.plan_cache import see_plan
from ..tasks.tasks import changed_fields, living
from .reschedule import RippleAnswer, preview


def preview_ripple(cur: Cursor, actor: Actor, code: str, edits: Sequence[tuple[str, dict[str, Any]]]) -> RippleAnswer:
    """What edits of tasks would carry on. Nothing is stored.

    Raises:
        RuleError: an edit breaks a rule, or the links would close a cycle.
    """
    project = open_project(cur, actor, code, "edit")
    held = see_plan(cur, actor, project)
    changed: dict[str, Task] = {}
    for task_id, fields in edits:
        task = changed.get(task_id) or living(held.plan, task_id)
        changed[task_id] = task.with_fields(changed_fields(cur, actor, held.plan, task, fields))
    return preview(cur, actor, held.plan, changed, project.revision)


def read_why(cur: Cursor, actor: Actor, task_id: str) -> dict[str, Any]:
    """Why a task stands where it does, its late dates and free slack, and what is forecast."""
    project = open_task(cur, actor, task_id)
    held = see_plan(cur, actor, project)
    plan = held.plan
    row = plan.rows.get(task_id)
    if row is None:
        raise Missing("task")
    index = plan.schedule.net.index.get(task_id)
    times = plan.schedule.times(index) if index is not None else None
    ahead = plan.forecast.times(index) if index is not None else None
    return {
        "start": why_sentence(plan, task_id, _set_by(cur, actor, row.task)),
        "slack": slack_sentence(plan, row),
        "conflicts": conflict_sentences(plan, task_id),
        "late_start": datetime_of(times.late_start) if times else None,
        "late_finish": datetime_of(times.late_finish) if times else None,
        "free_slack": plan.schedule.free_slack()[index] if index is not None else None,
        "forecast_start": datetime_of(ahead.start) if ahead else None,
        "forecast_finish": datetime_of(ahead.finish) if ahead else None,
    }


def _set_by(cur: Cursor, actor: Actor, task: Task) -> str | None:
    """Who set the constraint of a task and when, from the journal."""
    for _, person_id, at, _, field, _, _ in journal_rows.history_of(cur, [task.id], 400):
        if field in {"constraint_at", "constraint_type"}:
            person = people_rows.person(cur, person_id)
            day = say_day(actor.clock.local(at).date(), actor.clock.now().date())
            return f"{person.short} on {day}" if person else None
    return None


def understand_links(cur: Cursor, actor: Actor, code: str, text: str, task_id: str | None) -> list[tuple[Link, str]]:
    """What is understood of typed links, each in words. Raises RuleError where a part cannot be read."""
    project = open_project(cur, actor, code, "see")
    held = see_plan(cur, actor, project)
    plan = held.plan
    task = plan.tasks.get(task_id or "")
    day = plan.calendar.day_minutes
    links = read_links(text, task, TaskNames(plan.tasks.values(), plan.project.code), day)
    return [(link, say_link(link, plan.tasks[link.from_id].title, day)) for link in links]
