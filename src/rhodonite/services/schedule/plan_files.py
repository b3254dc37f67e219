"""The plan file in and out of a project."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Iterable, Mapping, Sequence
from copy import copy
from dataclasses import dataclass, replace
from decimal import Decimal
from types import MappingProxyType
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.calendars import WorkingCalendar, datetime_of
from ...core.common.errors import Forbidden, RuleError
from ...core.people.access import may_in_organisation, may_in_project
from ...core.resources.typed_bookings import Named
from ...core.schedule.network import PlanInput, PlanTask
from ...core.schedule.plan import Plan
from ...core.schedule.schedule import Schedule
from ...core.tasks.booked import PARTS
from ...core.tasks.hours import OWN_TIME
from ...core.tasks.model import Booking, Link, Project
from ...formats.csv_names import nearest
from ...formats.csv_tasks import Unknown
from ...formats.plan_document import LONGEST, AbsencePart, BookingPart, PlanFile, ResourcePart
from ...formats.plan_file import NOT_HELD, read_text, to_plan, to_takers, write_plan
from ...store.tasks import projects as project_rows
from ..common.context import Actor, AlreadyDone, Log, new_id, open_project
from ..common.jobs import work
from ..common.left_out import Counted, Format, leaves_out, left_out
from ..common.pipeline import absences_seen, changing_project, reschedule, who_can_be_booked
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
    known = {task.id for task in ordered}
    resources, bookings = _booked(cur, actor, held.plan, known) if held.plan.project.books else ([], [])
    document = write_plan(replace(plan, tasks=ordered), project.name, resources, bookings, left_out(cur, actor, held, "plan"))
    return document.model_dump_json(by_alias=True, indent=1).encode()


def read_left_out(cur: Cursor, actor: Actor, code: str) -> dict[Format, list[str]]:
    """By format what a file of a project does not hold, in words."""
    held = see_plan(cur, actor, open_project(cur, actor, code, "see"))
    return {"table": left_out(cur, actor, held, "table"), "plan": left_out(cur, actor, held, "plan")}


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


def _booked(cur: Cursor, actor: Actor, plan: Plan, known: set[str]) -> tuple[list[ResourcePart], list[BookingPart]]:
    """Who and what is booked on tasks, as far as the person may know it; sums only for who may see cost.

    Args:
        known: the tasks that are in the file.
    """
    named = {one.id: one for one in who_can_be_booked(cur, actor, plan.project.code)}
    role = actor.role_in(plan.project, plan.project.members.get(actor.person.id))
    money = may_in_project(role, "see_costs")
    booked = [
        (task_id, one)
        for task_id in known
        for one in plan.tasks[task_id].bookings
        if one.who in named and (one.of != "fixed" or money)
    ]
    booked.sort(key=lambda each: (plan.tasks[each[0]].number, each[1].who))
    used = {one.who: named[one.who] for _, one in booked}
    away: dict[str, list[AbsencePart]] = defaultdict(list)
    for absence in absences_seen(cur, actor):
        if absence.person_id in used and absence.end.date() >= plan.project.start_day:
            away[absence.person_id].append(AbsencePart(first=absence.start, last=absence.end))
    resources = [
        ResourcePart(id=who, name=one.name, kind=one.of, unit=one.unit, capacity=one.people, absences=away[who])
        for who, one in used.items()
    ]
    return resources, [_booking_part(task_id, one) for task_id, one in booked]


def _booking_part(task_id: str, one: Booking) -> BookingPart:
    if one.of != "labour":
        return BookingPart(task=task_id, resource=one.who, amount=Decimal(one.amount) / PARTS)
    minutes = min(one.minutes, LONGEST)
    return BookingPart(task=task_id, resource=one.who, minutes=minutes, shape=one.shape, by_day=list(one.by_day))


@leaves_out
def _fields_left_out(_cur: Cursor, _actor: Actor, plan: Plan, into: Format) -> Iterable[Counted]:
    """Fields of tasks that a plan file does not hold, by how many tasks have them."""
    if into != "plan":
        return
    rows = list(plan.rows.values())
    first = {one.id for one in plan.project.states if one.state_class == "queued"}
    for name, (one, several) in NOT_HELD.items():
        if name == "state_id":
            yield sum(row.task.state_id not in first for row in rows if not row.is_summary), one, several
        elif name != "number" and one:
            yield sum(bool(row.task.value(name)) for row in rows), one, several
    yield sum(row.task.kind not in {"task", "milestone"} for row in rows), "kind", "kinds"


@dataclass(frozen=True, slots=True)
class PlanPreview:
    """What a plan file would bring: how many tasks, names that nobody here has, and what these can mean: names by id.

    Attributes:
        left_out: in words what the file says and is not brought in.
    """

    tasks: int
    unknown: list[Unknown]
    choices: dict[str, dict[str, str]]
    left_out: list[str]


Means = Mapping[str, str | None]
"""By name in a file, the id of who or what can be booked that it means; None to leave its bookings out."""


def preview_plan(cur: Cursor, actor: Actor, code: str, text: str, name: str) -> PlanPreview:
    """What a plan file would bring. Raises FileError where it is not valid."""
    project = open_project(cur, actor, code, "edit")
    document: PlanFile = read_text(text, PlanFile, name)
    known = who_can_be_booked(cur, actor, project.code) if project.books else []
    unknown = _unknown(document, known) if project.books else []
    away = sum(bool(one.absences) for one in document.resources)
    left = [f"the absences of {away} {'person' if away == 1 else 'people'}, which are kept under People"] if away else []
    if document.bookings and not project.books:
        left.append(f"{len(document.bookings)} bookings, for this project plans no hours: switch them on in its settings")
    choices = {"bookings": {one.id: one.name for one in known}} if unknown else {}
    return PlanPreview(len(document.tasks), unknown, choices, left)


def _unknown(document: PlanFile, known: Sequence[Named]) -> list[Unknown]:
    """The names of a file that are booked and that nobody, or nothing of that sort, has here; the nearest is proposed."""
    found = _by_name(known)
    rows = Counter(one.resource for one in document.bookings)
    unknown = []
    for one in document.resources:
        called = one.name or one.id
        if rows[one.id] and (called.casefold(), one.kind) not in found:
            choices = {each.id: each.name for each in known if each.of == one.kind}
            unknown.append(Unknown("bookings", called, rows[one.id], nearest("bookings", called, choices, ())))
    return unknown


def _by_name(known: Sequence[Named]) -> dict[tuple[str, str], Named]:
    """Who and what can be booked, by name and sort, where the name is that of one alone."""
    many = Counter((one.name.casefold(), one.of) for one in known)
    return {key: one for one in known if many[key := (one.name.casefold(), one.of)] == 1}


def import_plan(
    cur: Cursor, actor: Actor, code: str, text: str, name: str, means: Means = MappingProxyType({}), progress: Progress = silent
) -> int:
    """Bring all tasks and links of a plan file into a project, with the calendars that they are planned by. The project
    keeps its own calendar: tasks of a file that has another as its own get that one. Returns how many tasks.

    Raises:
        RuleError: who is booked is called as nobody here, and ``means`` does not say who that is.
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
    bookings = _bookings_in(cur, actor, code, document, plan, name, means)
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
    cur: Cursor, actor: Actor, code: str, document: PlanFile, plan: PlanInput, name: str, means: Means
) -> dict[str, list[dict[str, Any]]]:
    """By task of a file its bookings as they are sent.

    Raises:
        RuleError: a name is nobody's here, and nobody has said what it means; its ``field`` is ``answers``.
    """
    project = open_project(cur, actor, code, "edit")
    if not document.bookings or not project.books:
        return {}
    to_takers(document, plan, name)  # what names something that is not there is refused
    known = who_can_be_booked(cur, actor, project.code)
    whom = _whom(document, known, means)
    durations = {task.id: task.duration or 0 for task in plan.tasks}
    found: dict[str, list[dict[str, Any]]] = defaultdict(list)
    for part in document.bookings:
        who = whom.get(part.resource)
        if who is not None:
            _add_booking(found[part.task], _booking_in(part, who, durations[part.task]))
    return found


def _add_booking(there: list[dict[str, Any]], new: dict[str, Any]) -> None:
    """Put a booking among those of a task: what two names in a file mean alike is put together."""
    same = next((one for one in there if one["who"] == new["who"]), None)
    if same is None:
        there.append(new)
    elif "amount" in same:
        same["amount"] += new["amount"]
    else:
        same |= {"minutes": _minutes_of(same) + _minutes_of(new), "shape": "even", "by_day": []}


def _minutes_of(booking: Mapping[str, Any]) -> int:
    return sum(booking["by_day"]) if booking["shape"] == "by_day" else int(booking["minutes"])


def _whom(document: PlanFile, known: Sequence[Named], means: Means) -> dict[str, Named | None]:
    """By resource of a file who or what it is here."""
    said = {name.casefold(): one for name, one in means.items()}
    asked = [one.text for one in _unknown(document, known) if one.text.casefold() not in said]
    if asked:
        names = ", ".join(f"“{text[:60]}”" for text in asked[:5])
        raise RuleError(f"Say who or what is meant by {names}, or that it is left out. Nothing was imported.", "answers")
    by_id, by_name = {one.id: one for one in known}, _by_name(known)
    return {
        one.id: by_name.get((called, one.kind)) or by_id.get(said.get(called) or "")
        for one in document.resources
        if (called := (one.name or one.id).casefold())
    }


def _booking_in(part: BookingPart, who: Named, duration: int) -> dict[str, Any]:
    if who.of != "labour":
        amount = part.amount if part.amount is not None else Decimal(part.units or 1)
        return {"who": who.id, "resource": True, "of": who.of, "amount": int(amount * PARTS)}
    minutes = part.minutes if part.minutes is not None else int((part.units or 1) * duration)
    return {"who": who.id, "resource": who.resource, "minutes": minutes, "shape": part.shape, "by_day": part.by_day}


@work("plan file")
def import_job(cur: Cursor, actor: Actor, given: Mapping[str, Any], data: bytes, progress: Progress) -> dict[str, Any]:
    """``import_plan`` as a job."""
    return {
        "tasks": import_plan(cur, actor, given["code"], data.decode("utf-8-sig"), given["name"], given.get("means", {}), progress)
    }


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
