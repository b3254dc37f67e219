"""Two tasks that become one, and a task that becomes a project."""

from __future__ import annotations

from dataclasses import replace
from html import escape

from pymysql.cursors import Cursor

from ...core.common.errors import RuleError
from ...core.people.access import may_in_project
from ...core.talk.parts import Check, Checklist, Comment, File, Relation
from ...core.tasks.workflow import dropped_state
from ...formats.html import words_of
from ...store.talk import parts as part_rows
from ...store.tasks import projects as project_rows
from ...store.tasks import tasks as task_rows
from ..common.context import Actor, new_id, once, open_task, pair_of
from ..common.pipeline import changing
from ..common.plan_cache import PLANS
from ..common.task_writes import write_fields, write_many
from ..cost.budgets import expenses_go_over
from ..tasks.copying import CopyWish, copy_tasks
from ..tasks.projects import NewProject, create_project
from ..tasks.tasks import NewTask, add_tasks, apply_edit, living
from ..time.entries import hours_go_over
from .parts import followers_of, say


@once
def merge_tasks(cur: Cursor, actor: Actor, code: str, task_id: str, into_id: str) -> None:
    """Make two tasks one: what hangs on the first, its description, the tasks below it and its followers go over to the
    second; the first is dropped, as a duplicate of it.

    Raises:
        RuleError: they are the same, one stands below the other, or the workflow has no state for what is dropped.
    """
    with changing(cur, actor, code, "merged two tasks") as (log, held):
        plan = held.plan
        task, into = living(plan, task_id), living(plan, into_id)
        if task_id == into_id or task_id in plan.outline.ancestors(into_id) or into_id in plan.outline.ancestors(task_id):
            raise RuleError("Choose a task that is neither the same nor above or below it.", "into_id")
        dropped = dropped_state(plan.project, plan.tasks[task_id].state_id)
        if dropped is None:
            raise RuleError("The workflow has no state of the class dropped. Add one in the settings.", "state_id")
        people = followers_of(cur, actor, task).people
        texts = [text for text in (task_rows.description(cur, into_id), task_rows.description(cur, task_id)) if text]
        for kind in (Comment, File, Checklist, Check):
            for part_id in part_rows.ids_of_kind(cur, kind, task_id):
                log.record(part_rows.NAMES[kind], part_id, "task_id", task_id, into_id)
                part_rows.update(cur, kind, part_id, {"task_id": into_id})
        if len(texts) == 2 or (texts and not task_rows.description(cur, into_id)):
            write_fields(cur, log, into, {"description": "<hr>".join(texts)})
        children = plan.outline.children.get(task_id, [])
        places = plan.outline.room_in(into_id, "end", len(children)).places
        below = {one: {"parent_id": into_id, "place": place} for one, place in zip(children, places, strict=True)}
        write_many(cur, log, below, plan.tasks)
        for person in people:
            part_rows.set_following(cur, into_id, person, "follows")
        relation = Relation(new_id(), task_id, into_id, "duplicate")
        part_rows.insert(cur, [relation])
        log.record("relation", relation.id, "created", None, {"words": f"duplicate of {into.title}"})
        if not plan.outline.is_summary(task_id):
            apply_edit(cur, actor, log, plan, task_id, {"state_id": dropped.id})
        part_rows.recount(cur, [task_id, into_id], log.revision)
        hours_go_over(cur, log, {task_id: into_id})
        expenses_go_over(cur, log, {task_id: into_id})


def make_project(cur: Cursor, actor: Actor, task_id: str, new: NewProject) -> str:
    """Start a project from a task: the tasks below it and the lines of its checklists become tasks there. The task stays,
    and says where its project is. Returns the project's code.

    Raises:
        Missing: there is no such task, or the person may not see it.
        Forbidden: the person may not start projects.
    """
    source = open_task(cur, actor, task_id)
    description = words_of(task_rows.description(cur, task_id))
    code = create_project(cur, actor, replace(new, description=new.description or description))
    held = PLANS.at(cur, source, actor.clock.now())
    below = list(held.plan.outline.children.get(task_id, ()))
    if below:
        copy_tasks(
            cur, replace(actor, change_id=pair_of(actor.change_id)), source.code, CopyWish({one: new_id() for one in below}, code)
        )
    ticks = [NewTask(new_id(), one.text) for one in part_rows.of_task(cur, Check, task_id) if one.done_at is None]
    if ticks:
        add_tasks(cur, replace(actor, change_id=pair_of(pair_of(actor.change_id))), code, ticks)
    if may_in_project(actor.role_in(source, project_rows.members(cur, source.id).get(actor.person.id)), "comment"):
        named = f'<a href="/p/{code}/brief">{code} {escape(new.name)}</a>'
        body = "<p>It became a project of its own.</p>" if new.private else f"<p>It became the project {named}.</p>"
        chained = pair_of(pair_of(pair_of(actor.change_id)))  # the same where the request is sent again
        say(cur, replace(actor, change_id=chained), task_id, pair_of(chained), body, None)
    return code
