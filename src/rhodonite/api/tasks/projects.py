"""Projects, their members, workflow and calendar."""

from __future__ import annotations

from datetime import date, datetime
from decimal import Decimal
from typing import Annotated, Any, ClassVar, Literal

from pydantic import BaseModel, Field

from ...core.common.bounds import MOST_EXCEPTIONS, MOST_INTERVALS
from ...core.tasks.health import PROJECT_RULE
from ...core.tasks.model import Health, LimitRule, StateClass
from ...core.tasks.workflow import LONGEST_RULE
from ...services.common.context import new_id
from ...services.schedule import calendars
from ...services.tasks import projects, workflow
from ..common.inputs import MB, After, Changes, Day, Id, Name, Revision, make_router
from ..common.use import Using, needs
from .custom_fields import DefinedOut, defined_out

router = make_router("projects")
Weekday = Literal["mon", "tue", "wed", "thu", "fri", "sat", "sun"]
Intervals = Annotated[
    list[Annotated[list[Annotated[str, Field(max_length=8)]], Field(min_length=2, max_length=2)]],
    Field(max_length=MOST_INTERVALS),
]
"""Pairs of times, such as 09:00 and 13:00."""


Limit = Annotated[int, Field(ge=1, le=10_000)] | None
"""Of tasks in a state; none for no limit. Below one it is refused."""


class StateOut(BaseModel):
    """A state of the workflow."""

    id: str
    name: str
    label: str = Field(description="What it is called among all of the project: with its workflow, where names are alike")
    state_class: StateClass
    limit: int | None = Field(description="Of tasks that stand in it")
    workflow_id: str | None = Field(description="None: the main workflow")
    step_of: str | None = Field(description="Where it is a further step of a split stage, the state that is its first step")
    step: str = Field(description="Where its stage is split, what it is called there")
    column_limit: int | None = Field(description="Of tasks in all steps of the stage; kept with its first")
    entry_rule: str
    exit_rule: str


class CalendarExceptionModel(BaseModel):
    """Days that differ from the week: closed where there are no hours."""

    first: Day = Field(alias="from")
    last: Day = Field(alias="to")
    hours: Intervals = []
    name: str = Field("", max_length=120)
    model_config = {"populate_by_name": True}


class CalendarModel(BaseModel):
    """Working hours by weekday, and the days that differ."""

    week: dict[Weekday, Intervals] = Field(examples=[{"mon": [["09:00", "13:00"], ["14:00", "17:30"]]}])
    exceptions: list[CalendarExceptionModel] = Field([], max_length=MOST_EXCEPTIONS)


class CalendarEdit(CalendarModel):
    """A calendar that tasks may have beside the project's own."""

    name: str = Field(max_length=120, examples=["Night shift"])


class NamedCalendar(CalendarEdit):
    """The same, as it is kept."""

    id: str


class ProjectOut(DefinedOut):
    """A project with all that a lens needs besides its tasks."""

    id: str
    code: str
    name: str
    description: str
    lead_id: str | None
    start_day: date
    start_grid: int = Field(description="Minutes: starts that are computed from now fall on whole ones of these")
    lenses: list[str] = Field(description="Those that stand in its sheet bar")
    brief: list[str] = Field(description="The parts of its brief, in their order")
    hours: bool = Field(description="True where hours of people are planned")
    own_time: bool = Field(description="True where the time of a task’s only person drives its dates")
    time: bool = Field(description="True where the hours that people spend are recorded")
    client: str = Field(description="For whom the work is done")
    costs: bool = Field(description="True where it is reckoned what the work costs")
    currency: str | None = Field(description="Its own; null: that of the organisation")
    exchange: Decimal = Field(description="How many of its currency one of the organisation’s buys")
    private: bool
    archived: bool
    revision: int
    role: str
    may: list[str]
    members: dict[str, str]
    states: list[StateOut]
    calendar: CalendarModel
    day_minutes: int = Field(description="Working minutes of a usual day")
    calendars: list[NamedCalendar] = Field(description="Those that tasks may have beside the project's own")
    portfolio: bool = Field(description="True where it joins other projects, and its tasks are larger items")
    workflow_name: str = Field(description="Of the main workflow")
    limit_rule: LimitRule = Field(description="Whether passing a limit is told, asked about or refused")
    person_limit: int | None = Field(description="Of tasks that one person has under way")


class ProjectLineOut(BaseModel):
    """A project in the list of all work."""

    id: str
    code: str
    name: str
    lead_id: str | None
    private: bool
    portfolio: bool
    archived: bool
    revision: int
    role: str
    health: Health
    health_rule: str
    percent: int
    start: datetime | None
    finish: datetime | None
    tasks: int
    finished: int
    late: int
    unowned: int
    held: int
    agreed_days: int | None = Field(description="Working days by which it finishes after its agreed date, where one is agreed")


class ProjectNew(BaseModel):
    """A project to be started."""

    id: Id = Field(default_factory=new_id, description="UUID of version 7, made by the client")
    code: str = Field(max_length=20, examples=["LAN"])
    name: str = Field(max_length=200, examples=["Lantern Room Restoration"])
    description: str = Field("", max_length=20_000)
    start_day: Day
    private: bool = False
    lead_id: Id | None = None


class ProjectEdit(Changes):
    """Changed fields of a project, and the revision that they were edited at."""

    may_be_null: ClassVar[frozenset[str]] = frozenset({"currency", "person_limit"})

    revision: Revision
    code: str | None = Field(None, max_length=20)
    name: str | None = Field(None, max_length=200)
    description: str | None = Field(None, max_length=20_000)
    lead_id: Id | None = None
    start_day: Day | None = None
    start_grid: Annotated[int, Field(ge=1, le=60)] | None = None
    lenses: Annotated[list[Name], Field(max_length=20)] | None = None
    brief: Annotated[list[Name], Field(max_length=20)] | None = Field(None, description="Its parts, in their order")
    hours: bool | None = None
    own_time: bool | None = None
    time: bool | None = None
    client: Annotated[str, Field(max_length=200)] | None = None
    costs: bool | None = None
    currency: Annotated[str, Field(max_length=3)] | None = Field(None, description="null: that of the organisation")
    exchange: Annotated[Decimal, Field(gt=0, max_digits=17, decimal_places=8)] | None = None
    workflow_name: Annotated[str, Field(max_length=60)] | None = None
    limit_rule: LimitRule | None = None
    person_limit: Limit = Field(None, description="null: no limit")
    private: bool | None = None
    archived: bool | None = None


class MemberEdit(BaseModel):
    """A role in the project; none takes the person out."""

    role: Name | None


class StateNew(BaseModel):
    """A state to be added: behind another, or at the end of its class."""

    id: Id = Field(default_factory=new_id)
    name: str = Field(max_length=60)
    state_class: StateClass
    limit: Limit = None
    workflow_id: Id | None = Field(None, description="null: the main workflow")
    after_id: After = "end"


class StateEdit(Changes):
    """Changed fields of a state. ``after_id`` is the state to stand behind; null puts it first."""

    may_be_null = frozenset({"limit", "column_limit", "after_id"})

    name: str | None = Field(None, max_length=60)
    state_class: StateClass | None = None
    limit: Limit = None
    column_limit: Limit = None
    step: str | None = Field(None, max_length=60)
    entry_rule: str | None = Field(None, max_length=LONGEST_RULE)
    exit_rule: str | None = Field(None, max_length=LONGEST_RULE)
    after_id: After = None


class StateSplit(BaseModel):
    """The steps into which a stage is split: that which the state becomes, and the one behind it."""

    id: Id = Field(default_factory=new_id, description="Of the step behind it")
    first: str = Field(max_length=60, examples=["doing"])
    second: str = Field(max_length=60, examples=["ready to go on"])


_OF_STATE = (
    "id", "name", "state_class", "limit", "workflow_id", "step_of", "step", "column_limit", "entry_rule", "exit_rule",
)  # fmt: skip


class CodeOut(BaseModel):
    """A code that is free."""

    code: str


def _out(detail: projects.ProjectDetail) -> ProjectOut:
    project = detail.project
    return ProjectOut(
        id=project.id,
        code=project.code,
        name=project.name,
        description=project.description,
        lead_id=project.lead_id,
        start_day=project.start_day,
        start_grid=project.start_grid,
        lenses=list(project.lenses),
        brief=list(project.brief),
        hours=project.hours,
        own_time=project.own_time,
        time=project.time,
        client=project.client,
        costs=project.costs,
        currency=project.currency,
        exchange=project.exchange,
        private=project.private,
        archived=project.archived_at is not None,
        revision=project.revision,
        role=detail.role,
        may=projects.may(detail),
        members=project.members,
        states=[StateOut(label=project.state_label(s), **{name: getattr(s, name) for name in _OF_STATE}) for s in project.states],
        calendar=CalendarModel.model_validate({"week": detail.week, "exceptions": detail.exceptions}),
        day_minutes=detail.day_minutes,
        calendars=[
            NamedCalendar.model_validate({"id": one, "name": name, "week": week, "exceptions": exceptions})
            for one, name, week, exceptions in detail.others
        ],
        portfolio=project.portfolio,
        workflow_name=project.workflow_name,
        limit_rule=project.limit_rule,
        person_limit=project.person_limit,
        **defined_out(detail.defined),
    )


@router.get("/projects", openapi_extra=needs("person"))
def list_projects(use: Using, archived: bool = False) -> list[ProjectLineOut]:
    """All projects that one may see."""
    return [
        ProjectLineOut(
            id=line.project.id,
            code=line.project.code,
            name=line.project.name,
            lead_id=line.project.lead_id,
            private=line.project.private,
            portfolio=line.project.portfolio,
            archived=line.project.archived_at is not None,
            revision=line.project.revision,
            role=line.role,
            health=line.health,
            health_rule=PROJECT_RULE,
            percent=line.sums.percent,
            start=line.sums.start,
            finish=line.sums.finish,
            tasks=line.sums.tasks,
            finished=line.sums.finished,
            late=line.sums.late,
            unowned=line.sums.unowned,
            held=line.sums.held,
            agreed_days=line.agreed_days,
        )
        for line in use.read(projects.list_projects, archived=archived)
    ]


@router.get("/project-codes", openapi_extra=needs("create_project"))
def suggest_code(name: Name, use: Using) -> CodeOut:
    """A free code for a name."""
    return CodeOut(code=use.read(projects.suggest_code, name))


@router.post("/projects", openapi_extra=needs("create_project"), status_code=201)
def create_project(body: ProjectNew, use: Using) -> ProjectOut:
    """Start a project."""
    code = use.write(projects.create_project, projects.NewProject(**body.model_dump()))
    return _out(use.read(projects.read_project, code))


@router.get("/projects/{code}", openapi_extra=needs("see"))
def read_project(code: str, use: Using) -> ProjectOut:
    """One project."""
    return _out(use.read(projects.read_project, code))


@router.patch("/projects/{code}", openapi_extra=needs("manage"))
def edit_project(code: str, body: ProjectEdit, use: Using) -> ProjectOut:
    """Change a project; archive or restore it."""
    fields = {name: value for name, value in body.sent.items() if name != "revision"}
    return _out(use.read(projects.read_project, use.write(projects.edit_project, code, body.revision, fields)))


@router.put("/projects/{code}/members/{person_id}", openapi_extra=needs("manage"))
def set_member(code: str, person_id: Id, body: MemberEdit, use: Using) -> ProjectOut:
    """Give a person a role in a project, or take them out."""
    use.write(projects.set_member, code, person_id, body.role)
    return _out(use.read(projects.read_project, code))


@router.put("/projects/{code}/calendar", openapi_extra=needs("manage", MB))
def set_calendar(code: str, body: CalendarModel, use: Using) -> ProjectOut:
    """Replace the working calendar."""
    use.write(calendars.set_calendar, code, *kept(body))
    return _out(use.read(projects.read_project, code))


@router.put("/projects/{code}/calendars/{calendar_id}", openapi_extra=needs("manage", MB))
def write_other_calendar(code: str, calendar_id: Id, body: CalendarEdit, use: Using) -> ProjectOut:
    """Add or change a calendar that tasks may have; the client makes its id."""
    use.write(calendars.write_other, code, calendar_id, body.name, *kept(body))
    return _out(use.read(projects.read_project, code))


@router.delete("/projects/{code}/calendars/{calendar_id}", openapi_extra=needs("manage"))
def delete_other_calendar(code: str, calendar_id: Id, use: Using) -> ProjectOut:
    """Delete a calendar by which no task works."""
    use.write(calendars.delete_other, code, calendar_id)
    return _out(use.read(projects.read_project, code))


def kept(calendar: CalendarModel) -> tuple[dict[str, Any], list[dict[str, Any]]]:
    """A calendar's week and exceptions, as they are kept."""
    return {str(day): hours for day, hours in calendar.week.items()}, [
        one.model_dump(mode="json", by_alias=True) for one in calendar.exceptions
    ]


@router.post("/projects/{code}/states", openapi_extra=needs("manage"), status_code=201)
def add_state(code: str, body: StateNew, use: Using) -> ProjectOut:
    """Add a state to the workflow."""
    use.write(workflow.add_state, code, workflow.NewState(**body.model_dump()))
    return _out(use.read(projects.read_project, code))


@router.patch("/projects/{code}/states/{state_id}", openapi_extra=needs("manage"))
def edit_state(code: str, state_id: Id, body: StateEdit, use: Using) -> ProjectOut:
    """Rename a state, change its class, limits or rules, or move it."""
    use.write(workflow.edit_state, code, state_id, body.sent)
    return _out(use.read(projects.read_project, code))


@router.delete("/projects/{code}/states/{state_id}", openapi_extra=needs("manage"))
def delete_state(code: str, state_id: Id, use: Using, move_to: Id | None = None) -> ProjectOut:
    """Delete a state; its tasks move to another."""
    use.write(workflow.delete_state, code, state_id, move_to)
    return _out(use.read(projects.read_project, code))


@router.post("/projects/{code}/states/{state_id}/steps", openapi_extra=needs("manage"), status_code=201)
def split_state(code: str, state_id: Id, body: StateSplit, use: Using) -> ProjectOut:
    """Split a stage into two steps, or add a step behind one."""
    use.write(workflow.split_state, code, state_id, body.id, body.first, body.second)
    return _out(use.read(projects.read_project, code))


@router.post("/projects/{code}/states/{state_id}/join", openapi_extra=needs("manage"))
def join_state(code: str, state_id: Id, use: Using) -> ProjectOut:
    """Join a further step to its stage; its tasks move to the first step."""
    use.write(workflow.join_state, code, state_id)
    return _out(use.read(projects.read_project, code))
