"""Replan from today, shift work to a new start, and check and mend a plan's soundness."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.dates import say_day
from ...core.common.errors import RuleError
from ...core.schedule.replan import replanned, shifted
from ...core.schedule.soundness import Check, check_plan, mend
from ...store.tasks import projects as project_rows
from ..common.context import Actor, once, open_project
from ..common.pipeline import changing, changing_project, reschedule
from ..common.plan_cache import see_plan
from ..common.task_writes import write_many
from ..people.people import read_preferences
from ..tasks.tasks import counted, living

FURTHEST_STATUS = 3653


@once
def replan(cur: Cursor, actor: Actor, code: str, status_day: date | None = None) -> None:
    """Copy the forecast into the plan.

    Args:
        status_day: the day at whose opening what is done was looked at; None for now.

    Raises:
        RuleError: the two are the same, or the day lies years away.
    """
    now = actor.clock.now().replace(second=0)
    if status_day is not None and abs((status_day - now.date()).days) > FURTHEST_STATUS:
        raise RuleError("The status day lies more than ten years away. Choose one nearer to today.", "status_day")
    what = "replanned from today" if status_day is None else f"replanned from {say_day(status_day, now.date())}"
    with changing(cur, actor, code, what, whole=True) as (log, held):
        edits = replanned(held.plan, held.plan.calendar.start_of_day(status_day) if status_day else now)
        if not edits:
            raise RuleError("The plan is what is to be expected already: nothing is late or ahead.")
        write_many(cur, log, edits, held.plan.tasks)


@once
def shift(cur: Cursor, actor: Actor, code: str, task_id: str | None, to: date) -> None:
    """Shift a whole project, or a task with all under it, so that the first of it starts on a day.

    Raises:
        RuleError: nothing of it can be shifted.
    """
    if task_id is not None:
        with changing(cur, actor, code, "shifted a branch", whole=True) as (log, held):
            living(held.plan, task_id)
            edits, _ = shifted(held.plan, task_id, to)
            write_many(cur, log, edits, held.plan.tasks)
        return
    project = open_project(cur, actor, code, "manage")
    with changing_project(cur, actor, project.id, "shifted the project") as (log, plan):
        edits, start = shifted(plan, None, to)
        write_many(cur, log, edits, plan.tasks)
        assert start is not None
        log.record("project", project.id, "start_day", plan.project.start_day, start)
        project_rows.update_project(cur, project.id, {"start_day": start})
        reschedule(cur, actor, log, plan, project=replace(plan.project, start_day=start), whole=True)


def read_soundness(cur: Cursor, actor: Actor, code: str) -> tuple[list[Check], dict[str, tuple[int, str]]]:
    """The checks of a plan, with number and title of every task concerned."""
    project = open_project(cur, actor, code, "see")
    longest = read_preferences(cur, actor).longest_days
    held = see_plan(cur, actor, project)
    checks = check_plan(held.plan, longest)
    tasks = held.plan.tasks
    return checks, {one: (tasks[one].number, tasks[one].title) for check in checks for one in check.tasks}


@once
def mend_tasks(cur: Cursor, actor: Actor, code: str, kind: str, ids: list[str]) -> None:
    """Mend what a check found at some tasks. Raises RuleError where only a person can."""
    with changing(cur, actor, code, f"mended {counted(len(ids))}: {kind.replace('_', ' ')}"[:80]) as (log, held):
        mended: dict[str, dict[str, Any]] = {}
        for one in ids:
            task = living(held.plan, one)
            fields = mend(held.plan, kind, one)
            if fields is None:
                raise RuleError("This cannot be mended by itself. Open the task and change it.")
            mended[one] = {k: v for k, v in fields.items() if getattr(task, k) != v}
        write_many(cur, log, mended, held.plan.tasks)
