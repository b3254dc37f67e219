"""The plan file in and out of a project."""

from __future__ import annotations

from copy import copy
from dataclasses import replace
from typing import Any

from pymysql.cursors import Cursor

from ..core.calendars import datetime_of
from ..core.model import Link, Project
from ..core.network import PlanInput, PlanTask
from ..core.plan import Plan
from ..core.schedule import Schedule
from ..formats.plan_file import PlanFile, read_text, to_plan, write_plan
from ..store import projects as project_rows
from .context import Actor, AlreadyDone, Log, new_id, open_project
from .plans import make_calendar, see_plan
from .projects import as_it_stood
from .ripples import reschedule, write_fields
from .tasks import NewTask, insert_tasks


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
    """Bring all tasks and links of a plan file into a project, with the calendars that tasks of it have of their own. The
    project keeps its own calendar. Returns how many tasks.

    Raises:
        FileError: the file is not valid; the sentence names the place and the reason.
        Forbidden: it brings calendars that the project has none of, which only a lead may add.
    """
    document: PlanFile = read_text(text, PlanFile, name)
    plan = to_plan(document, name)
    Schedule(plan)  # what would make a circle is refused before anything is written
    ids = {task.id: new_id() for task in plan.tasks}
    above = {task.parent_id for task in plan.tasks}
    project = open_project(cur, actor, code, "edit")
    try:
        with as_it_stood(cur, actor, project.id, f"imported {len(ids)} tasks from a plan file") as (log, before):
            own, now = _own_calendars(cur, actor, log, before.project, plan, document)
            held = copy(before)
            held.project = now
            ordered = _parents_first(plan.tasks)
            new = [
                NewTask(
                    ids[one.id],
                    one.name or one.id,
                    ids[one.parent_id] if one.parent_id else None,
                    "end",
                    _fields(one, above, own),
                )
                for one in ordered
            ]
            insert_tasks(cur, actor, log, held, new)
            for one in ordered:
                fields = _progress(one, held) if one.id not in above else {}
                links = tuple(
                    Link(ids[link.from_id], link.type, link.lag, link.elapsed) for link in plan.links if link.to_id == one.id
                )
                if links:
                    fields["waits_for"] = links
                made = log.tasks[ids[one.id]]
                write_fields(cur, log, made, {k: v for k, v in fields.items() if getattr(made, k) != v})
            reschedule(cur, actor, log, before, project=now)
    except AlreadyDone:
        pass
    return len(ids)


def _own_calendars(
    cur: Cursor, actor: Actor, log: Log, project: Project, plan: PlanInput, document: PlanFile
) -> tuple[dict[str, str | None], Project]:
    """The ids of the calendars that tasks of a file have, by their keys in it, None for the project's own; and the project
    with those added that it had none of by that name."""
    used = {task.calendar for task in plan.tasks if task.calendar} - {plan.calendar}
    by_name = {calendar.name: one for one, calendar in project.calendars.items()}
    found: dict[str, str | None] = {plan.calendar: None}
    for part in document.calendars:
        name = (part.name or part.id)[:120]
        if part.id in used and name in by_name:
            found[part.id] = by_name[name]
        elif part.id in used:
            open_project(cur, actor, project.code, "manage")  # whose lead decides on its calendars
            found[part.id] = calendar_id = new_id()
            data = part.model_dump(mode="json", by_alias=True)
            log.record("calendar", calendar_id, "name", None, name)
            project_rows.write_calendar(cur, calendar_id, project.id, name, data["week"], data["exceptions"], main=False)
            made = make_calendar(data["week"], data["exceptions"], name)
            project = replace(project, calendars={**project.calendars, calendar_id: made})
    return found, project


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


def _fields(task: PlanTask, above: set[str | None], own: dict[str, str | None]) -> dict[str, Any]:
    fields: dict[str, Any] = {}
    if task.deadline is not None:
        fields["deadline"] = datetime_of(task.deadline)
    if task.id in above:
        return fields
    if task.milestone:
        fields["kind"] = "milestone"
    elif task.duration is not None:
        fields |= {"duration": task.duration, "elapsed": task.elapsed}
    if task.calendar:
        fields["calendar_id"] = own[task.calendar]
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
