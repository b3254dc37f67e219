"""The things the rules speak of. Dates of a plan are naive datetimes in the project's local time."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from datetime import date, datetime
from decimal import Decimal
from typing import TYPE_CHECKING, Any, Literal

if TYPE_CHECKING:
    from ..common.calendars import WorkingCalendar
    from .boards import Blank, Lane, Period, Workflow
    from .custom_fields import CustomField, CustomKind, ProjectMark

StateClass = Literal["queued", "active", "finished", "dropped"]
Kind = Literal["task", "milestone", "deliverable", "defect", "risk", "request"]
Priority = Literal["must", "should", "could", "wont"]
Health = Literal["steady", "strained", "slipping", "not_judged"]

LinkType = Literal["FS", "SS", "FF", "SF"]
ConstraintType = Literal[
    "asap", "alap", "start_no_earlier", "start_no_later", "finish_no_earlier", "finish_no_later", "must_start", "must_finish"
]

STATE_CLASSES: tuple[StateClass, ...] = ("queued", "active", "finished", "dropped")
KINDS: tuple[Kind, ...] = ("task", "milestone", "deliverable", "defect", "risk", "request")
KIND_PLURALS: dict[Kind, str] = {
    "task": "tasks", "milestone": "milestones", "deliverable": "deliverables", "defect": "defects", "risk": "risks",
    "request": "requests",
}  # fmt: skip
PRIORITIES: tuple[Priority, ...] = ("must", "should", "could", "wont")
"""From the most pressing on."""
PRIORITY_WORDS: dict[str, str] = {"must": "must", "should": "should", "could": "could", "wont": "won’t"}
LINK_TYPES: tuple[LinkType, ...] = ("FS", "SS", "FF", "SF")
CONSTRAINT_TYPES: tuple[ConstraintType, ...] = (
    "asap", "alap", "start_no_earlier", "start_no_later", "finish_no_earlier", "finish_no_later", "must_start", "must_finish",
)  # fmt: skip
CONSTRAINT_WORDS: dict[str, str] = {
    "asap": "as soon as possible",
    "alap": "as late as possible",
    "start_no_earlier": "start no earlier than",
    "start_no_later": "start no later than",
    "finish_no_earlier": "finish no earlier than",
    "finish_no_later": "finish no later than",
    "must_start": "must start on",
    "must_finish": "must finish on",
}
LENSES: tuple[str, ...] = ("brief", "portfolio", "outline", "board", "schedule", "load", "costs")
"""The lenses on one project, in the order in which they stand in its sheet bar."""
BRIEF_PARTS: tuple[str, ...] = ("reading", "states", "curve", "decisions", "goals", "report", "over", "due", "changed")
"""The parts of a project's brief, in their usual order."""
USUAL_LENSES = ("brief", "outline", "board", "schedule")
"""Those of a project that plans no hours and reckons no cost."""
PINS = frozenset({"must_start", "must_finish"})
OPEN_CLASSES = frozenset({"queued", "active"})
OWN = "own."
"""Stands before the id of one of a project's own fields, where it is named among the fields of a task."""


BookingShape = Literal["even", "front", "back", "by_day"]
ResourceKind = Literal["labour", "material", "fixed"]
Keeps = Literal["hours", "length", "units"]
KEEPS: tuple[Keeps, ...] = ("hours", "length", "units")
"""Which of effort, duration and units stays where another of them changes."""

Fields = dict[str, Any]
"""Changed fields of a task, by name."""


LimitRule = Literal["warn", "ask", "refuse"]
LIMIT_RULES: tuple[LimitRule, ...] = ("warn", "ask", "refuse")
"""What happens where a change would pass a limit: it is told, a reason is asked for and kept, or it is refused."""


@dataclass(frozen=True, slots=True)
class State:
    """A stage of a workflow of a project, or where a stage is split one of its steps.

    Attributes:
        limit: of tasks that stand in it.
        workflow_id: of the workflow that it belongs to; None for the main one.
        step_of: where it is a further step of a split stage, the id of the state that is the first step; it follows that.
        step: where its stage is split, what it is called there; ``name`` says the whole.
        column_limit: of tasks in all steps of a stage; kept with the first step.
        entry_rule, exit_rule: in words, what holds for tasks that come and go.
    """

    id: str
    name: str
    state_class: StateClass
    place: str
    limit: int | None = None
    workflow_id: str | None = None
    step_of: str | None = None
    step: str = ""
    column_limit: int | None = None
    entry_rule: str = ""
    exit_rule: str = ""


@dataclass(frozen=True, slots=True)
class Link:
    """What one task waits for. The lag is minutes, less than nothing for a lead: working minutes of the project's
    calendar, or where ``elapsed`` minutes that run through nights and holidays."""

    from_id: str
    type: LinkType = "FS"
    lag: int = 0
    elapsed: bool = False


@dataclass(frozen=True, slots=True)
class Booking:
    """Hours of one person or resource on one task, and how they lie over it; or so many units of a material, or a fixed sum.

    Attributes:
        who: the id of the person or resource.
        minutes: in all; nothing of material and fixed costs.
        shape: even over the time that person and task have in common, falling or rising over it, or by day.
        by_day: the minutes of each working day of the person, from the first on which the task stands. So they move with it.
    """

    who: str
    minutes: int
    shape: BookingShape = "even"
    by_day: tuple[int, ...] = ()
    resource: bool = False
    """True where ``who`` is a resource: a crew or a role to be filled, a material, a fixed cost."""
    of: ResourceKind = "labour"
    amount: int = 0
    """Of a material thousandths of its unit, of a fixed cost thousandths of the currency."""


@dataclass(frozen=True, slots=True)
class Task:
    """The unit of work, as it is stored. Durations and effort are minutes.

    Attributes:
        elapsed: True where the duration runs through nights and holidays.
        calendar_id: of its own calendar; None for the project's.
        held_by_id: the task that holds it; when that is finished, it is held no more.
        held_minutes: working minutes that it was held before.
        marks: ids of the project's marks that are on it.
        own: values of the project's own fields, by the field's id.
        repeats: how it repeats, as ``core.tasks.recurrence`` keeps it.
        bookings: hours of people and resources on it.
        keeps: which of hours, length and units stays where another changes; None: it is asked.
        comments, files, checks, checks_done: how many hang on it.
        spent: minutes of its time entries.
        lane_id: the lane of the board that it was put into by hand; None: the first whose rule holds for it.
        period_id: the period of the backlog in which it lies, until it is pulled.
        changed_at: the instant, in UTC, of its last change.
    """

    id: str
    project_id: str
    number: int
    parent_id: str | None
    place: str
    kind: str
    title: str
    owner_id: str | None
    state_id: str
    board_place: str
    held_reason: str | None = None
    held_since: datetime | None = None
    held_by_id: str | None = None
    held_minutes: int = 0
    priority: Priority | None = None
    start: datetime | None = None
    finish: datetime | None = None
    duration: int | None = None
    elapsed: bool = False
    calendar_id: str | None = None
    constraint_type: ConstraintType = "asap"
    constraint_at: datetime | None = None
    deadline: datetime | None = None
    effort: int | None = None
    percent: int = 0
    actual_start: datetime | None = None
    actual_finish: datetime | None = None
    state_since: datetime | None = None
    pushes: int = 0
    marks: tuple[str, ...] = ()
    own: Mapping[str, Any] = field(default_factory=dict, hash=False)
    repeats: Mapping[str, Any] | None = field(default=None, hash=False)
    bookings: tuple[Booking, ...] = ()
    keeps: Keeps | None = None
    comments: int = 0
    files: int = 0
    checks: int = 0
    checks_done: int = 0
    spent: int = 0
    lane_id: str | None = None
    period_id: str | None = None
    deleted_at: datetime | None = None
    revision: int = 0
    changed_at: datetime | None = None
    helpers: tuple[str, ...] = ()
    waits_for: tuple[Link, ...] = ()

    @property
    def is_held(self) -> bool:
        """True where it cannot go on, for a reason or because of another task."""
        return self.held_reason is not None or self.held_by_id is not None

    def with_fields(self, fields: Mapping[str, Any]) -> Task:
        """A copy with some fields changed; ``own.`` and an id is one of the project's own fields."""
        own = {name[len(OWN) :]: value for name, value in fields.items() if name.startswith(OWN)}
        if not own:
            return replace(self, **fields)
        rest = {name: value for name, value in fields.items() if not name.startswith(OWN)}
        after = {name: value for name, value in {**self.own, **own}.items() if value is not None}
        return replace(self, **rest, own=after)

    @property
    def booked(self) -> int:
        """Minutes of people's work that are booked."""
        return sum(one.minutes for one in self.bookings)

    def value(self, name: str) -> Any:
        """The value of a field, one of the project's own included."""
        return self.own.get(name[len(OWN) :]) if name.startswith(OWN) else getattr(self, name)


@dataclass(frozen=True, slots=True)
class Project:
    """An intention with a start, a lead, members, a calendar, a workflow and tasks."""

    id: str
    code: str
    name: str
    description: str
    lead_id: str | None
    start_day: date
    private: bool
    archived_at: datetime | None
    revision: int
    meta_revision: int
    states: tuple[State, ...] = ()
    members: dict[str, str] = field(default_factory=dict)
    calendars: Mapping[str, WorkingCalendar] = field(default_factory=dict)
    """By id those that tasks may have beside the project's own."""
    fields: tuple[CustomField, ...] = ()
    kinds: tuple[CustomKind, ...] = ()
    marks: tuple[ProjectMark, ...] = ()
    start_grid: int = 15
    """Minutes: starts that are computed from now fall on whole ones of these."""
    hours: bool = False
    """True where hours of people are planned."""
    own_time: bool = False
    """True where the time of a task's only person drives its dates."""
    people_time: Mapping[str, WorkingCalendar] = field(default_factory=dict)
    """By person when they work in this project; only of those whose time drives dates."""
    time: bool = False
    """True where the hours that people spend are recorded."""
    costs: bool = False
    """True where it is reckoned what the work costs."""
    currency: str | None = None
    """Its own; None: that of the organisation."""
    exchange: Decimal = Decimal(1)
    """How many of its currency one of the organisation's buys."""
    client: str = ""
    """For whom the work is done, as it stands on invoice sheets."""
    lenses: tuple[str, ...] = USUAL_LENSES
    """Those that stand in its sheet bar; the others can be opened all the same."""
    brief: tuple[str, ...] = BRIEF_PARTS
    """The parts of its brief, in their order."""
    portfolio: bool = False
    """True where it joins other projects, and its tasks are larger items."""
    workflow_name: str = "Main"
    """Of the workflow that every project has."""
    limit_rule: LimitRule = "warn"
    person_limit: int | None = None
    """Of tasks that one person has under way in it."""
    workflows: tuple[Workflow, ...] = ()
    """Those beside the main one."""
    lanes: tuple[Lane, ...] = ()
    periods: tuple[Period, ...] = ()
    """Of the backlog."""
    blanks: tuple[Blank, ...] = ()

    @property
    def books(self) -> bool:
        """True where tasks take bookings: of hours that are planned, or of what is reckoned as cost."""
        return self.hours or self.costs

    def state(self, state_id: str) -> State:
        """The state with this id. Raises KeyError where the workflow has none."""
        for state in self.states:
            if state.id == state_id:
                return state
        raise KeyError(state_id)

    def states_of(self, workflow_id: str | None) -> tuple[State, ...]:
        """The states of one workflow, in order; None for the main one."""
        return tuple(one for one in self.states if one.workflow_id == workflow_id)

    def first_state(self, state_class: StateClass, workflow_id: str | None = None) -> State | None:
        """The first state of a class in the order of a workflow; None for the main one."""
        return next((s for s in self.states if s.state_class == state_class and s.workflow_id == workflow_id), None)

    def state_label(self, state: State) -> str:
        """What a state is called among all of the project: with its workflow, where another has a state of that name."""
        same = sum(one.name.casefold() == state.name.casefold() for one in self.states) if self.workflows else 1
        return f"{state.name} ({self.name_of_workflow(state.workflow_id)})" if same > 1 else state.name

    def name_of_workflow(self, workflow_id: str | None) -> str:
        """What a workflow is called; None for the main one."""
        return next((one.name for one in self.workflows if one.id == workflow_id), self.workflow_name)
