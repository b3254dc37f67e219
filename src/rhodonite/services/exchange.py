"""The plan file in and out of a project."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from pymysql.cursors import Cursor

from ..core.calendars import datetime_of
from ..core.model import Link
from ..core.network import PlanTask
from ..core.plan import Plan
from ..core.schedule import Schedule
from ..formats.plan_file import FileError, PlanFile, read_text, to_plan, write_plan
from .context import Actor, AlreadyDone, new_id, open_project
from .plans import see_plan
from .ripples import write_fields
from .tasks import NewTask, changing, insert_tasks


def export_plan(cur: Cursor, actor: Actor, code: str) -> bytes:
    """A project's plan as a plan file, its tasks in outline order."""
    project = open_project(cur, actor, code, "see")
    with see_plan(cur, actor, project) as held:
        plan = held.plan.forecast.plan  # it knows of progress too
        order = {task_id: index for index, (task_id, _, _) in enumerate(held.plan.outline.walk())}
        ordered = sorted(plan.tasks, key=lambda task: order[task.id])
        document = write_plan(replace(plan, tasks=ordered), project.name)
    return document.model_dump_json(by_alias=True, indent=1).encode()


def import_plan(cur: Cursor, actor: Actor, code: str, text: str, name: str) -> int:
    """Bring all tasks and links of a plan file into a project. Its calendars are not taken over. Returns how many tasks.

    Raises:
        FileError: the file is not valid; the sentence names the place and the reason.
    """
    document: PlanFile = read_text(text, PlanFile, name)
    plan = to_plan(document, name)
    Schedule(plan)  # what would make a circle is refused before anything is written
    for index, task in enumerate(plan.tasks):
        if task.elapsed or task.calendar not in {None, plan.calendar}:
            what = "an elapsed duration" if task.elapsed else "a calendar of its own"
            raise FileError(f"{name}, tasks[{index}]: a task in a project cannot have {what} yet. Take it out of the file.")
    ids = {task.id: new_id() for task in plan.tasks}
    above = {task.parent_id for task in plan.tasks}
    try:
        with changing(cur, actor, code, f"imported {len(ids)} tasks from a plan file") as (log, held):
            ordered = _parents_first(plan.tasks)
            new = [
                NewTask(
                    ids[one.id], one.name or one.id, ids[one.parent_id] if one.parent_id else None, "end", _fields(one, above)
                )
                for one in ordered
            ]
            insert_tasks(cur, actor, log, held.plan, new)
            for one in ordered:
                fields = _progress(one, held.plan) if one.id not in above else {}
                links = tuple(
                    Link(ids[link.from_id], link.type, link.lag, link.elapsed) for link in plan.links if link.to_id == one.id
                )
                if links:
                    fields["waits_for"] = links
                made = log.tasks[ids[one.id]]
                write_fields(cur, log, made, {k: v for k, v in fields.items() if getattr(made, k) != v})
    except AlreadyDone:
        pass
    return len(ids)


def _parents_first(tasks: Any) -> list[PlanTask]:
    by_id = {task.id: task for task in tasks}
    order: dict[str, PlanTask] = {}

    def place(task: PlanTask) -> None:
        if task.id not in order:
            if task.parent_id is not None:
                place(by_id[task.parent_id])
            order[task.id] = task

    for task in tasks:
        place(task)
    return list(order.values())


def _fields(task: PlanTask, above: set[str | None]) -> dict[str, Any]:
    fields: dict[str, Any] = {}
    if task.deadline is not None:
        fields["deadline"] = datetime_of(task.deadline)
    if task.id in above:
        return fields
    if task.milestone:
        fields["kind"] = "milestone"
    elif task.duration is not None:
        fields["duration"] = task.duration
    if task.constraint not in {"asap", "alap"} and task.at is not None:
        fields |= {"constraint_type": task.constraint, "constraint_at": datetime_of(task.at)}
    elif task.constraint == "alap":
        fields["constraint_type"] = "alap"
    return fields


def _progress(task: PlanTask, plan: Plan) -> dict[str, Any]:
    """The state, percent and actual dates of work that has begun."""
    if task.actual_start is None and task.actual_finish is None and not task.percent:
        return {}
    state = plan.project.first_state("finished" if task.actual_finish is not None else "active")
    planned = (task.planned_start or task.actual_start, task.planned_finish or task.actual_finish)
    fields = {
        "percent": 100 if task.actual_finish is not None else task.percent,
        "actual_start": datetime_of(task.actual_start) if task.actual_start is not None else None,
        "actual_finish": datetime_of(task.actual_finish) if task.actual_finish is not None else None,
        "start": datetime_of(planned[0]) if planned[0] is not None else None,
    }
    if planned[0] is not None:
        finish = planned[1] if planned[1] is not None else plan.calendar.add(planned[0], task.duration or 0)
        fields["finish"] = datetime_of(finish)
    return fields | ({"state_id": state.id} if state else {})
