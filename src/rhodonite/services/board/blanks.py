"""Blanks: prepared tasks that the add line of a cell offers, kept from tasks that there are."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.errors import Missing, RuleError
from ...core.schedule.plan import Plan
from ...core.talk.parts import Check
from ...core.tasks.boards import DEEPEST_BLANK, MOST_CHECKS, MOST_IN_A_BLANK
from ...core.tasks.model import OWN, Task
from ...store.talk import parts as part_rows
from ..common.context import Actor, new_id, once, open_project
from ..common.pipeline import changing
from ..common.plan_cache import see_plan
from ..tasks.custom_fields import add_definition
from ..tasks.tasks import NewTask, insert_tasks, living

_KEPT = ("priority", "effort", "duration", "elapsed", "marks")
_CHECKLIST = "To tick"


@dataclass(frozen=True, slots=True)
class FromBlank:
    """A task to be made from a blank.

    Attributes:
        id: made by the client.
        title: empty for that of the blank.
        fields: what the cell sets; where the blank has tasks below, these take them.
    """

    id: str
    blank_id: str
    title: str = ""
    parent_id: str | None = None
    fields: Mapping[str, Any] = field(default_factory=dict)


@once
def add_from_blank(cur: Cursor, actor: Actor, code: str, wish: FromBlank) -> None:
    """Write down what a blank makes: its task, with what is to be ticked and the tasks below.

    Raises:
        Missing: there is no such blank.
        RuleError: it has no title and none is typed, or a field of it cannot be any more.
    """
    with changing(cur, actor, code, "added a task from a blank") as (log, held):
        blank = next((one for one in held.plan.project.blanks if one.id == wish.blank_id), None)
        if blank is None:
            raise Missing("blank")
        insert_tasks(cur, actor, log, held.plan, _tasks_of(blank.task, wish))


def _tasks_of(task: Mapping[str, Any], wish: FromBlank) -> list[NewTask]:
    """The tasks that a blank makes, parents first."""
    new: list[NewTask] = []

    def add(one: Mapping[str, Any], task_id: str, parent_id: str | None, title: str) -> None:
        below = one.get("below") or []
        kind = {"kind": one["kind"]} if one.get("kind") else {}
        fields = {**kind, **one.get("fields", {}), **({} if below else wish.fields)}
        lists = [(_CHECKLIST, [(text, False) for text in one["checks"]])] if one.get("checks") else ()
        new.append(NewTask(task_id, title, parent_id, "end", fields, checklists=lists))
        for each in below:
            add(each, new_id(), task_id, each["title"])

    add(task, wish.id, wish.parent_id, wish.title or task.get("title", ""))
    return new


@once
def keep_blank(cur: Cursor, actor: Actor, code: str, blank_id: str, name: str, task_id: str) -> None:
    """Keep a task, with what is to be ticked and the tasks below it, as a blank.

    Raises:
        RuleError: it holds more than a blank can.
    """
    project = open_project(cur, actor, code, "manage")
    plan = see_plan(cur, actor, project).plan
    task = living(plan, task_id)
    ids = [task_id, *plan.outline.below(task_id)]
    if len(ids) > MOST_IN_A_BLANK:
        raise RuleError(f"A blank makes {MOST_IN_A_BLANK} tasks at most, and this is {len(ids)}. Keep a smaller one.", "task_id")
    texts: dict[str, list[str]] = {}
    for one in part_rows.of_tasks(cur, Check, ids):
        texts.setdefault(one.task_id, []).append(one.text)
    add_definition(cur, actor, code, "blank", blank_id, name, {"task": _kept(plan, task, texts, 1)})


def _kept(plan: Plan, task: Task, checks: Mapping[str, list[str]], depth: int) -> dict[str, Any]:
    if depth > DEEPEST_BLANK:
        raise RuleError(f"A blank is {DEEPEST_BLANK} levels deep at most. Keep a smaller one.", "task_id")
    below = [_kept(plan, plan.tasks[one], checks, depth + 1) for one in plan.outline.children.get(task.id, ())]
    kept = {
        "title": task.title if depth > 1 else "",
        "kind": task.kind,
        "fields": {} if below else dict(_fields(plan, task)),
        "checks": checks.get(task.id, [])[:MOST_CHECKS],
        "below": below,
    }
    return {name: value for name, value in kept.items() if value or name == "title"}


def _fields(plan: Plan, task: Task) -> Iterator[tuple[str, Any]]:
    for name in _KEPT:
        value = getattr(task, name)
        if value and not (task.kind == "milestone" and name in {"duration", "elapsed"}):
            yield name, list(value) if isinstance(value, tuple) else value
    for one in plan.project.fields:  # what points to tasks and people is of the one task
        if one.type not in {"computed", "tasks", "tied", "person"} and task.own.get(one.id) is not None:
            yield OWN + one.id, task.own[one.id]
