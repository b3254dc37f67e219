"""The plan file: an open JSON document by which a plan is exchanged, kept under version control and computed.

``rhodonite-plan/1`` is the plan, ``rhodonite-schedule/1`` what is computed from it; ``rhodonite-changes/1`` are changes
to it and ``rhodonite-ripple/1`` what they carry on. The JSON Schemas in ``docs/`` are generated from these models.
"""

from __future__ import annotations

import json
from collections.abc import Iterable, Sequence
from datetime import date, datetime
from pathlib import Path
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, NaiveDatetime, ValidationError, model_validator

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
from ..core.tasks.model import ConstraintType, LinkType

Moment = Annotated[NaiveDatetime, AfterValidator(lambda at: at.replace(second=0, microsecond=0))]
Weekday = Literal["mon", "tue", "wed", "thu", "fri", "sat", "sun"]
LONGEST = 100 * 366 * 24 * 60
"""Minutes: no duration or lag is longer than a hundred years."""


class Part(BaseModel):
    """A part of a document. A field that is not known is refused, so that a slip of the pen is found."""

    model_config = ConfigDict(extra="forbid", populate_by_name=True)


class ProjectPart(Part):
    """The project: its start and its calendar."""

    name: str = ""
    start: Moment = Field(description="The moment from which the project may begin, in its local time")
    calendar: str = Field(description="The id of the project's calendar")
    milestones: Literal["opening", "closing"] = Field(
        "opening",
        description="Where a milestone stands when what it waits for ends at closing time: at the next opening, or there",
    )
    before_start: bool = Field(
        False, description="True: a task whose start or finish was set by hand may begin before the project does"
    )
    critical_slack: int = Field(0, description="Working minutes of total slack up to which a task is critical")


class ExceptionPart(Part):
    """Days that differ from the week: closed where there are no hours."""

    first: date = Field(alias="from")
    last: date = Field(alias="to")
    hours: list[tuple[str, str]] = []
    name: str = ""


class CalendarPart(Part):
    """A working calendar. A weekday left out has no working time."""

    id: str
    name: str = ""
    week: dict[Weekday, list[tuple[str, str]]]
    exceptions: list[ExceptionPart] = []


class ConstraintPart(Part):
    """A constraint on the dates of a task, and the moment that it speaks of."""

    type: ConstraintType = "asap"
    at: Moment | None = None

    @model_validator(mode="after")
    def _has_moment(self) -> ConstraintPart:
        if self.type not in {"asap", "alap"} and self.at is None:
            raise ValueError(f"{self.type} needs a moment: give “at”")
        return self


class TaskPart(Part):
    """A task. Durations are working minutes of its calendar, or minutes where ``elapsed``."""

    id: str
    name: str = ""
    parent: str | None = None
    milestone: bool = False
    duration: int | None = Field(None, ge=0, le=LONGEST)
    elapsed: bool = False
    calendar: str | None = Field(None, description="The id of its own calendar; null: the project's")
    constraint: ConstraintPart = ConstraintPart()
    deadline: Moment | None = None
    percent: int = Field(0, ge=0, le=100)
    actual_start: Moment | None = None
    actual_finish: Moment | None = None
    planned_start: Moment | None = Field(
        None, description="With planned_finish, where a task stands that has begun: the plan does not move it"
    )
    planned_finish: Moment | None = None


class LinkPart(Part):
    """A link: ``to`` waits for ``from``. The lag is minutes, negative for a lead."""

    source: str = Field(alias="from")
    target: str = Field(alias="to")
    type: LinkType = "FS"
    lag: int = Field(0, ge=-LONGEST, le=LONGEST)
    elapsed: bool = Field(False, description="True where the lag runs through nights and holidays")


class AbsencePart(Part):
    """When a resource is not there."""

    first: Moment = Field(alias="from")
    last: Moment = Field(alias="to")


class ResourcePart(Part):
    """What tasks share: a person, a crew, a machine."""

    id: str
    name: str = ""
    kind: Literal["labour"] = "labour"
    capacity: float = Field(1, gt=0, le=1_000_000, description="Units that there are at once")
    calendar: str | None = Field(None, description="When it can be taken; null: whenever a task runs")
    absences: list[AbsencePart] = []


class BookingPart(Part):
    """What a task takes of a resource while it runs: units, or minutes in all, from which the units follow."""

    task: str
    resource: str
    units: float | None = Field(None, gt=0, le=1_000_000, description="Of the capacity; half a person is 0.5")
    minutes: int | None = Field(None, ge=0, le=LONGEST)


class PlanFile(Part):
    """A plan."""

    format: Literal["rhodonite-plan/1"]
    project: ProjectPart
    calendars: list[CalendarPart] = Field(min_length=1)
    tasks: list[TaskPart] = []
    links: list[LinkPart] = []
    resources: list[ResourcePart] = []
    bookings: list[BookingPart] = []


class TaskChange(Part):
    """Fields of one task to be changed; what is left out stays."""

    id: str
    name: str | None = None
    parent: str | None = None
    milestone: bool | None = None
    duration: int | None = Field(None, ge=0, le=LONGEST)
    elapsed: bool | None = None
    calendar: str | None = None
    constraint: ConstraintPart | None = None
    deadline: Moment | None = None
    percent: int | None = Field(None, ge=0, le=100)
    actual_start: Moment | None = None
    actual_finish: Moment | None = None
    planned_start: Moment | None = None
    planned_finish: Moment | None = None


class LinkName(Part):
    """A link by its ends; without a type, all links between them."""

    source: str = Field(alias="from")
    target: str = Field(alias="to")
    type: LinkType | None = None


class ChangesFile(Part):
    """Changes to a plan, made in this order: project, calendars, tasks, links."""

    format: Literal["rhodonite-changes/1"]
    start: Moment | None = Field(None, description="A new start of the project")
    calendars: list[CalendarPart] = Field([], description="Calendars that replace those of the same id, or are added")
    add_tasks: list[TaskPart] = []
    change_tasks: list[TaskChange] = []
    remove_tasks: list[str] = Field([], description="Tasks that go, with their links; those under them go too")
    add_links: list[LinkPart] = []
    remove_links: list[LinkName] = []


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


SCHEMAS: dict[str, type[BaseModel]] = {"plan-file.schema.json": PlanFile, "changes-file.schema.json": ChangesFile}


def schema_text(model: type[BaseModel]) -> str:
    """The JSON Schema of a document, as it lies in ``docs/``."""
    return json.dumps(model.model_json_schema(by_alias=True), indent=2) + "\n"


def write_plan(
    plan: PlanInput, name: str, takers: Sequence[tuple[Taker, str]] = (), booked: Sequence[tuple[str, str, int]] = ()
) -> PlanFile:
    """A plan as a document; ``to_plan`` is the inverse.

    Args:
        takers: who is booked, each with the name.
        booked: task, who, and minutes.
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
        resources=[ResourcePart(id=one.id, name=called, capacity=one.capacity) for one, called in takers],
        bookings=[BookingPart(task=task, resource=who, minutes=min(minutes, LONGEST)) for task, who, minutes in booked],
    )


def to_takers(document: PlanFile, plan: PlanInput, name: str) -> tuple[list[Taker], list[Demand]]:
    """The resources of a plan, and what its tasks take of them.

    Args:
        plan: what the document says but for these.
        name: of the file, for errors.

    Raises:
        FileError: a booking or a resource names something that is not there.
    """
    takers = [_taker(one, plan, name) for one in document.resources]
    known = {one.id for one in takers}
    if len(known) < len(takers):
        raise FileError(f"{name}, resources: two of them have the same id. Each needs its own.")
    tasks = {task.id: task for task in plan.tasks}
    demands = []
    for one in document.bookings:
        if one.task not in tasks or one.resource not in known:
            gone = one.task if one.task not in tasks else one.resource
            raise FileError(f"{name}, bookings: {gone!r} is not there.")
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
