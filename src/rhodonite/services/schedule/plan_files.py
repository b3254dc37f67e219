"""The plan file in and out of a project."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping
from copy import copy
from dataclasses import replace
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.calendars import WorkingCalendar, datetime_of
from ...core.common.errors import Forbidden
from ...core.people.access import may_in_organisation
from ...core.resources.serial_scheme import Taker
from ...core.schedule.network import PlanInput, PlanTask
from ...core.schedule.plan import Plan
from ...core.schedule.schedule import Schedule
from ...core.tasks.hours import OWN_TIME
from ...core.tasks.model import Link, Project
from ...formats.plan_document import PlanFile
from ...formats.plan_file import read_text, to_plan, to_takers, write_plan
from ...store.tasks import projects as project_rows
from ..common.context import Actor, AlreadyDone, Log, new_id, open_project
from ..common.jobs import work
from ..common.pipeline import changing_project, reschedule, who_can_be_booked
from ..common.plan_cache import make_calendar, see_plan
from ..common.progress import Progress, silent
from ..common.task_writes import write_many
from ..tasks.tasks import NewTask, insert_tasks


def export_plan(cur: Cursor, actor: Actor, code: str) -> bytes:
    """A project's plan as a plan file, its tasks in outline order."""
    project = open_project(cur, actor, code, "see")
    held = see_plan(cur, actor, project)
    plan = _told(actor, held.plan, held.plan.forecast.plan)  # it knows of progress too
    order = {task_id: index for index, (task_id, _, _) in enumerate(held.plan.outline.walk())}
    ordered = sorted(plan.tasks, key=lambda task: order[task.id])
    takers, booked = _booked(cur, actor, held.plan) if held.plan.project.books else ([], [])
    known = {task.id for task in ordered}
    document = write_plan(replace(plan, tasks=ordered), project.name, takers, [one for one in booked if one[0] in known])
    return document.model_dump_json(by_alias=True, indent=1).encode()


def _told(actor: Actor, held: Plan, plan: PlanInput) -> PlanInput:
    """A plan with the calendars of people under keys that do not name them; without, for who may not see people."""
    keys = {who: f"own-time-{number}" for number, who in enumerate(held.project.people_time, 1)}
    if not keys:
        return plan
    if not may_in_organisation(actor.person.role, "see_people"):
        keys = dict.fromkeys(keys, plan.calendar)
    calendars = {key: one for key, one in plan.calendars.items() if key not in keys}
    for who, key in keys.items():
        calendars.setdefault(key, plan.calendars[who])
    tasks = [replace(task, calendar=keys.get(task.calendar or "", task.calendar)) for task in plan.tasks]
    return replace(plan, tasks=tasks, calendars=calendars)


def _booked(cur: Cursor, actor: Actor, plan: Plan) -> tuple[list[tuple[Taker, str]], list[tuple[str, str, int]]]:
    """Who is booked in a plan, as far as the person may know them, and each booking of hours."""
    named = {one.id: one for one in who_can_be_booked(cur, actor, plan.project.code)}
    booked = [
        (row.task.id, one.who, one.minutes)
        for row in plan.leaves()
        for one in row.task.bookings
        if one.of == "labour" and one.who in named
    ]
    used = {who: named[who] for _, who, _ in booked}
    return [(Taker(who, one.people), one.name) for who, one in used.items()], booked


def import_plan(cur: Cursor, actor: Actor, code: str, text: str, name: str, progress: Progress = silent) -> int:
    """Bring all tasks and links of a plan file into a project, with the calendars that they are planned by. The project
    keeps its own calendar: tasks of a file that has another as its own get that one. Returns how many tasks.

    Raises:
        FileError: the file is not valid; the sentence names the place and the reason.
        Forbidden: it brings calendars that the project has none of, which only a lead may add.
    """
    progress("reading", 0)
    document: PlanFile = read_text(text, PlanFile, name)
    plan = to_plan(document, name)
    progress("checking", 0.2)
    Schedule(plan)  # what would make a circle is refused before anything is written
    ids = {task.id: new_id() for task in plan.tasks}
    above = {task.parent_id for task in plan.tasks}
    bookings = _bookings_in(cur, actor, code, document, plan, name)
    links: dict[str, list[Link]] = defaultdict(list)
    for link in plan.links:
        links[link.to_id].append(Link(ids[link.from_id], link.type, link.lag, link.elapsed))
    project = open_project(cur, actor, code, "edit")
    try:
        with changing_project(cur, actor, project.id, f"imported {len(ids)} tasks from a plan file") as (log, before):
            own, now = _own_calendars(cur, actor, log, before, plan, document)
            held = copy(before)
            held.project = now
            ordered = _parents_first(plan.tasks)
            new = [
                NewTask(
                    ids[one.id],
                    one.name or one.id,
                    ids[one.parent_id] if one.parent_id else None,
                    "end",
                    _fields(one, above, own, plan.calendar) | ({"bookings": found} if (found := bookings.get(one.id)) else {}),
                    waits_for=tuple(links[one.id]),
                )
                for one in ordered
            ]
            insert_tasks(cur, actor, log, held, new, progress=progress)
            begun: dict[str, dict[str, Any]] = {}
            for one in ordered:
                fields = _progress(one, held) if one.id not in above else {}
                made = log.tasks[ids[one.id]]
                begun[made.id] = {name: value for name, value in fields.items() if getattr(made, name) != value}
            write_many(cur, log, begun, dict(log.tasks))
            progress("planning", 0.9)
            reschedule(cur, actor, log, before, project=now)
    except AlreadyDone:
        pass
    return len(ids)


def _bookings_in(
    cur: Cursor, actor: Actor, code: str, document: PlanFile, plan: PlanInput, name: str
) -> dict[str, list[dict[str, Any]]]:
    """By task of a file its bookings as they are sent: of those who can be booked here by the same name."""
    project = open_project(cur, actor, code, "edit")
    if not document.bookings or not project.books:
        return {}
    by_name = {one.name.casefold(): one for one in who_can_be_booked(cur, actor, project.code) if one.of == "labour"}
    _, demands = to_takers(document, plan, name)
    called = {one.id: one.name.casefold() for one in document.resources}
    durations = {task.id: task.duration or 0 for task in plan.tasks}
    found: dict[str, list[dict[str, Any]]] = defaultdict(list)
    for demand, part in zip(demands, document.bookings, strict=True):
        who = by_name.get(called[demand.resource])
        if who is None or any(one["who"] == who.id for one in found[demand.task]):
            continue
        minutes = part.minutes if part.minutes is not None else int(demand.units * durations[demand.task])
        found[demand.task].append({"who": who.id, "resource": who.resource, "minutes": minutes})
    return found


@work("plan file")
def import_job(cur: Cursor, actor: Actor, given: Mapping[str, Any], data: bytes, progress: Progress) -> dict[str, Any]:
    """``import_plan`` as a job."""
    return {"tasks": import_plan(cur, actor, given["code"], data.decode("utf-8-sig"), given["name"], progress)}


def _own_calendars(
    cur: Cursor, actor: Actor, log: Log, before: Plan, plan: PlanInput, document: PlanFile
) -> tuple[dict[str, str | None], Project]:
    """The ids of the calendars that tasks of a file are planned by, by their keys in it, None for the project's own; and the
    project with those added that it had none of by that name, or another."""
    project = before.project
    used = {task.calendar or plan.calendar for task in plan.tasks}
    found: dict[str, str | None] = {plan.calendar: None}
    for part in document.calendars:
        data = part.model_dump(mode="json", by_alias=True)
        name = (part.name or part.id)[:120]
        hours = make_calendar(data["week"], data["exceptions"], name)
        if name == OWN_TIME:  # of one person, here for the one who works on the task now, if anybody's counts
            found[part.id] = None
            continue
        if part.id not in used or (part.id == plan.calendar and _same(hours, before.calendar)):
            continue
        there = next((one for one, each in project.calendars.items() if each.name == name and _same(each, hours)), None)
        if there is not None:
            found[part.id] = there
            continue
        _check_may_bring(cur, actor, project, name)
        found[part.id] = calendar_id = new_id()
        log.record("calendar", calendar_id, "name", None, name)
        project_rows.insert_calendar(cur, calendar_id, project.id, name, data["week"], data["exceptions"], main=False)
        project = replace(project, calendars={**project.calendars, calendar_id: hours})
    return found, project


def _check_may_bring(cur: Cursor, actor: Actor, project: Project, name: str) -> None:
    """Raises Forbidden for those who do not decide on the calendars of a project."""
    try:
        open_project(cur, actor, project.code, "manage")
    except Forbidden as error:
        raise Forbidden(
            f"The file is planned by the calendar “{name}”, which {project.code} has not. Ask a lead to bring it in."
        ) from error


def _same(one: WorkingCalendar, other: WorkingCalendar) -> bool:
    """True where two calendars are worked at the same times."""
    return one.week == other.week and set(one.exceptions) == set(other.exceptions)


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


def _fields(task: PlanTask, above: set[str | None], own: dict[str, str | None], main: str) -> dict[str, Any]:
    fields: dict[str, Any] = {}
    if task.deadline is not None:
        fields["deadline"] = datetime_of(task.deadline)
    if task.id in above:
        return fields
    if task.milestone:
        fields["kind"] = "milestone"
    elif task.duration is not None:
        fields |= {"duration": task.duration, "elapsed": task.elapsed}
    if own[task.calendar or main]:
        fields["calendar_id"] = own[task.calendar or main]
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
