"""The plan file: an open JSON document by which a plan is exchanged, kept under version control and computed.

``rhodonite-plan/1`` is the plan, ``rhodonite-schedule/1`` what is computed from it; ``rhodonite-changes/1`` are changes
to it and ``rhodonite-ripple/1`` what they carry on. ``plan_document`` says what stands in them.
"""

from __future__ import annotations

import json
from collections.abc import Iterable, Sequence
from datetime import datetime
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from ..core.common.bounds import MINUTES_A_DAY
from ..core.common.calendars import (
    WEEKDAYS,
    CalendarException,
    WorkingCalendar,
    datetime_of,
    minute_of,
    read_hours,
    write_hours,
)
from ..core.common.errors import RuleError
from ..core.resources.capacity import without
from ..core.resources.serial_scheme import Demand, Taker
from ..core.schedule.network import PlanInput, PlanLink, PlanTask
from .plan_document import (
    LONGEST,
    BookingPart,
    CalendarPart,
    ChangesFile,
    ConstraintPart,
    LinkName,
    LinkPart,
    PlanFile,
    ProjectPart,
    ResourcePart,
    TaskPart,
)


class FileError(RuleError):
    """A document that is not valid: the sentence names the place and the reason."""


def read_document(path: Path, model: type[PlanFile] | type[ChangesFile]) -> Any:
    """Read and check a JSON document.

    Raises:
        FileError: it cannot be read, is no JSON, or does not fit the model.
    """
    try:
        text = path.read_text("utf-8")
    except (OSError, UnicodeDecodeError) as error:
        raise FileError(f"{path} cannot be read: {getattr(error, 'strerror', None) or error}.") from error
    return read_text(text, model, str(path))


def read_text(text: str, model: type[PlanFile] | type[ChangesFile], name: str) -> Any:
    """As ``read_document``, of a text that was read already."""
    try:
        return model.model_validate(json.loads(text))
    except json.JSONDecodeError as error:
        raise FileError(f"{name}, line {error.lineno}, column {error.colno}: this is no JSON: {error.msg}.") from error
    except ValidationError as error:
        first = error.errors()[0]
        raise FileError(f"{name}, {say_place(first['loc'])}: {first['msg'].removeprefix('Value error, ')}.") from error


HELD = frozenset(
    {
        "title", "parent_id", "place", "kind", "duration", "elapsed", "calendar_id", "constraint_type", "constraint_at", "deadline",
        "percent", "actual_start", "actual_finish", "start", "finish", "waits_for", "bookings",
    }
)  # fmt: skip
"""Fields of a task that a plan file holds; of kinds only whether it is a milestone."""
NOT_HELD: dict[str, tuple[str, str]] = {
    "number": ("number of a task", "numbers of tasks"), "owner_id": ("owner", "owners"), "helpers": ("task’s helpers", "tasks’ helpers"),
    "state_id": ("state", "states"), "priority": ("priority", "priorities"), "effort": ("estimate", "estimates"),
    "marks": ("task’s marks", "tasks’ marks"), "own": ("task’s own fields", "tasks’ own fields"),
    "held_reason": ("reason to be held", "reasons to be held"), "held_by_id": ("task held by another", "tasks held by another"),
    "repeats": ("repeat", "repeats"), "keeps": ("choice of what stays when hours change", "choices of what stays when hours change"),
    "lane_id": ("lane set by hand", "lanes set by hand"), "period_id": ("place in the backlog", "places in the backlog"),
    "checks": ("task’s checklists", "tasks’ checklists"), "checks_done": ("", ""),
}  # fmt: skip
"""Fields of a task that it does not hold, and how each is counted in words; nothing for what another counts."""


def say_place(place: Iterable[int | str]) -> str:
    """``tasks[3].duration`` for a place in a document."""
    text = "".join(f"[{part}]" if isinstance(part, int) else f".{part}" for part in place)
    return text.removeprefix(".") or "the whole document"


def to_plan(document: PlanFile, name: str = "plan") -> PlanInput:
    """The plan that a document describes.

    Raises:
        FileError: hours that cannot be, or a task, parent or calendar that is named and not there.
    """
    calendars = {}
    for index, one in enumerate(document.calendars):
        if one.id in calendars:
            raise FileError(f"{name}, calendars[{index}].id: another calendar is called {one.id!r}.")
        try:
            calendars[one.id] = to_calendar(one)
        except RuleError as error:
            raise FileError(f"{name}, calendars[{index}]: {error.sentence}") from error
    _check_names(document, calendars, name)
    return PlanInput(
        start=minute_of(document.project.start),
        calendar=document.project.calendar,
        calendars=calendars,
        tasks=[_to_task(task) for task in document.tasks],
        links=[PlanLink(link.source, link.target, link.type, link.lag, link.elapsed) for link in document.links],
        milestones_close=document.project.milestones == "closing",
        before_start=document.project.before_start,
        critical_limit=document.project.critical_slack,
    )


def _check_names(document: PlanFile, calendars: dict[str, WorkingCalendar], name: str) -> None:
    if document.project.calendar not in calendars:
        raise FileError(f"{name}, project.calendar: there is no calendar {document.project.calendar!r}.")
    seen: set[str] = set()
    known = {task.id for task in document.tasks}
    for index, task in enumerate(document.tasks):
        where = f"{name}, tasks[{index}]"
        if task.id in seen:
            raise FileError(f"{where}.id: another task has the id {task.id!r}.")
        seen.add(task.id)
        if task.parent is not None and task.parent not in known:
            raise FileError(f"{where}.parent: there is no task {task.parent!r}.")
        if task.calendar is not None and task.calendar not in calendars:
            raise FileError(f"{where}.calendar: there is no calendar {task.calendar!r}.")
        if task.actual_finish and task.actual_start and task.actual_finish < task.actual_start:
            raise FileError(f"{where}.actual_finish: it lies before the actual start.")
    for index, link in enumerate(document.links):
        for field, end in (("from", link.source), ("to", link.target)):
            if end not in known:
                raise FileError(f"{name}, links[{index}].{field}: there is no task {end!r}.")


def to_calendar(part: CalendarPart) -> WorkingCalendar:
    """The calendar that a document describes. Raises RuleError where its hours cannot be."""
    return WorkingCalendar(
        [read_hours(part.week.get(day, []), day) for day in WEEKDAYS],  # type: ignore[call-overload]
        [CalendarException(e.first, e.last, read_hours(e.hours, "exceptions"), e.name) for e in part.exceptions],
    )


def _to_task(part: TaskPart) -> PlanTask:
    return PlanTask(
        id=part.id,
        name=part.name,
        parent_id=part.parent,
        duration=part.duration,
        milestone=part.milestone,
        elapsed=part.elapsed,
        calendar=part.calendar,
        constraint=part.constraint.type,
        at=_minute(part.constraint.at) if part.constraint.type not in {"asap", "alap"} else None,
        deadline=_minute(part.deadline),
        percent=part.percent,
        actual_start=_minute(part.actual_start),
        actual_finish=_minute(part.actual_finish),
        planned_start=_minute(part.planned_start),
        planned_finish=_minute(part.planned_finish),
    )


def _minute(at: datetime | None) -> int | None:
    return None if at is None else minute_of(at)


def changed(document: PlanFile, changes: ChangesFile) -> PlanFile:
    """The plan with changes made to it.

    Raises:
        FileError: a change to a task that is not there, or a link to be removed that is not there.
    """
    project = document.project.model_copy(update={"start": changes.start} if changes.start else {})
    calendars = {one.id: one for one in [*document.calendars, *changes.calendars]}
    tasks = {task.id: task for task in document.tasks}
    links = list(document.links)
    for index, new in enumerate(changes.add_tasks):
        if new.id in tasks:
            raise FileError(f"add_tasks[{index}].id: the plan has a task {new.id!r} already.")
        tasks[new.id] = new
    for index, change in enumerate(changes.change_tasks):
        if change.id not in tasks:
            raise FileError(f"change_tasks[{index}].id: the plan has no task {change.id!r}.")
        touched = {field: getattr(change, field) for field in change.model_fields_set}
        tasks[change.id] = tasks[change.id].model_copy(update=touched)
    for index, removed in enumerate(changes.remove_tasks):
        if removed not in tasks:
            raise FileError(f"remove_tasks[{index}]: the plan has no task {removed!r}.")
    gone = _with_below(tasks, set(changes.remove_tasks))
    for index, name in enumerate(changes.remove_links):
        kept = [one for one in links if not _is_named(one, name)]
        if len(kept) == len(links):
            raise FileError(f"remove_links[{index}]: the plan has no such link.")
        links = kept
    links = [one for one in [*links, *changes.add_links] if one.source not in gone and one.target not in gone]
    return PlanFile(
        format="rhodonite-plan/1",
        project=project,
        calendars=list(calendars.values()),
        tasks=[task for task in tasks.values() if task.id not in gone],
        links=links,
    )


def _with_below(tasks: dict[str, TaskPart], gone: set[str]) -> set[str]:
    while True:
        more = {task.id for task in tasks.values() if task.parent in gone and task.id not in gone}
        if not more:
            return gone
        gone = gone | more


def _is_named(link: LinkPart, name: LinkName) -> bool:
    return (link.source, link.target) == (name.source, name.target) and name.type in {None, link.type}


def write_calendar(calendar_id: str, name: str, calendar: WorkingCalendar) -> CalendarPart:
    """A calendar as a part of a plan file."""
    week = {day: hours for day, hours in zip(WEEKDAYS, map(write_hours, calendar.week), strict=True) if hours}
    exceptions = [
        {"from": e.first.isoformat(), "to": e.last.isoformat(), "hours": write_hours(e.hours), "name": e.name}
        for e in calendar.exceptions
    ]
    return CalendarPart.model_validate({"id": calendar_id, "name": name, "week": week, "exceptions": exceptions})


def write_plan(
    plan: PlanInput,
    name: str,
    resources: Sequence[ResourcePart] = (),
    bookings: Sequence[BookingPart] = (),
    left_out: Sequence[str] = (),
) -> PlanFile:
    """A plan as a document; ``to_plan`` is the inverse.

    Args:
        left_out: in words what the project has and the file does not hold.
    """

    def moment(minute: int | None) -> datetime | None:
        return None if minute is None else datetime_of(minute)

    return PlanFile(
        format="rhodonite-plan/1",
        project=ProjectPart(
            name=name,
            start=datetime_of(plan.start),
            calendar=plan.calendar,
            milestones="closing" if plan.milestones_close else "opening",
            before_start=plan.before_start,
            critical_slack=plan.critical_limit,
        ),
        calendars=[write_calendar(key, calendar.name, calendar) for key, calendar in plan.calendars.items()],
        tasks=[
            TaskPart(
                id=task.id,
                name=task.name,
                parent=task.parent_id,
                milestone=task.milestone,
                duration=None if task.duration is None else min(task.duration, LONGEST),
                elapsed=task.elapsed,
                calendar=task.calendar,
                constraint=ConstraintPart(type=task.constraint, at=moment(task.at)),
                deadline=moment(task.deadline),
                percent=task.percent,
                actual_start=moment(task.actual_start),
                actual_finish=moment(task.actual_finish),
                planned_start=moment(task.planned_start),
                planned_finish=moment(task.planned_finish),
            )
            for task in plan.tasks
        ],
        links=[
            LinkPart(source=link.from_id, target=link.to_id, type=link.type, lag=link.lag, elapsed=link.elapsed)
            for link in plan.links
        ],
        resources=list(resources),
        bookings=list(bookings),
        left_out=list(left_out),
    )


def to_takers(document: PlanFile, plan: PlanInput, name: str) -> tuple[list[Taker], list[Demand]]:
    """Who and what is shared in a plan, and what its tasks take of them; what is used up is left out.

    Args:
        plan: what the document says but for these.
        name: of the file, for errors.

    Raises:
        FileError: a booking or a resource names something that is not there.
    """
    takers = [_taker(one, plan, name) for one in document.resources if one.kind == "labour"]
    known = {one.id for one in document.resources}
    shared = {one.id for one in takers}
    if len(known) < len(document.resources):
        raise FileError(f"{name}, resources: two of them have the same id. Each needs its own.")
    tasks = {task.id: task for task in plan.tasks}
    demands = []
    for one in document.bookings:
        if one.task not in tasks or one.resource not in known:
            gone = one.task if one.task not in tasks else one.resource
            raise FileError(f"{name}, bookings: {gone!r} is not there.")
        if one.resource not in shared:
            continue
        demands.append(Demand(one.task, one.resource, _units(one, tasks[one.task], plan)))
    return takers, demands


def _units(one: BookingPart, task: PlanTask, plan: PlanInput) -> float:
    if one.units is not None or one.minutes is None:
        return 1.0 if one.units is None else one.units
    calendar = plan.calendars[task.calendar or plan.calendar]
    duration = calendar.day_minutes if task.duration is None else task.duration
    return one.minutes / duration if duration else 0.0


def _taker(one: ResourcePart, plan: PlanInput, name: str) -> Taker:
    if one.calendar is not None and one.calendar not in plan.calendars:
        raise FileError(f"{name}, resources: {one.id} works by the calendar {one.calendar!r}, which is not there.")
    hours = plan.calendars[one.calendar] if one.calendar else None
    if one.absences:
        spans = [(away.first, away.last) for away in one.absences if away.last > away.first]
        hours = without(hours or _always(), spans)
    return Taker(one.id, one.capacity, hours)


def _always() -> WorkingCalendar:
    return WorkingCalendar((((0, MINUTES_A_DAY),),) * 7)
