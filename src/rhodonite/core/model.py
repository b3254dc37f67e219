"""The things the rules speak of. Dates of a plan are naive datetimes in the project's local time."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from datetime import date, datetime
from typing import TYPE_CHECKING, Any, Literal

if TYPE_CHECKING:
    from .calendars import WorkingCalendar

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
PRIORITIES: tuple[Priority, ...] = ("must", "should", "could", "wont")
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
PINS = frozenset({"must_start", "must_finish"})
OPEN_CLASSES = frozenset({"queued", "active"})


@dataclass(frozen=True, slots=True)
class Person:
    """Someone who signs in, owns tasks and can be booked."""

    id: str
    name: str
    email: str
    role: str
    title: str
    colour: int
    active: bool
    can_sign_in: bool = False

    @property
    def short(self) -> str:
        """First name and the initial of the last: ``Tomas B.``"""
        parts = self.name.split()
        return f"{parts[0]} {parts[-1][0]}." if len(parts) > 1 else self.name


@dataclass(frozen=True, slots=True)
class State:
    """A step of a project's workflow."""

    id: str
    name: str
    state_class: StateClass
    place: str
    limit: int | None = None


@dataclass(frozen=True, slots=True)
class Link:
    """What one task waits for. The lag is minutes, less than nothing for a lead: working minutes of the project's
    calendar, or where ``elapsed`` minutes that run through nights and holidays."""

    from_id: str
    type: LinkType = "FS"
    lag: int = 0
    elapsed: bool = False


@dataclass(frozen=True, slots=True)
class Task:
    """The unit of work, as it is stored. Durations and effort are minutes.

    Attributes:
        elapsed: True where the duration runs through nights and holidays.
        calendar_id: of its own calendar; None for the project's.
    """

    id: str
    project_id: str
    number: int
    parent_id: str | None
    place: str
    kind: Kind
    title: str
    owner_id: str | None
    state_id: str
    board_place: str
    held_reason: str | None = None
    held_since: datetime | None = None
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
    deleted_at: datetime | None = None
    revision: int = 0
    helpers: tuple[str, ...] = ()
    waits_for: tuple[Link, ...] = ()

    def with_fields(self, fields: dict[str, Any]) -> Task:
        """A copy with some fields changed."""
        return replace(self, **fields)


@dataclass(frozen=True, slots=True)
class CalendarException:
    """Days on which a calendar differs: closed where ``hours`` is empty, else worked in those hours."""

    first: date
    last: date
    hours: tuple[tuple[int, int], ...] = ()
    name: str = ""


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

    def state(self, state_id: str) -> State:
        """The state with this id. Raises KeyError where the workflow has none."""
        for state in self.states:
            if state.id == state_id:
                return state
        raise KeyError(state_id)

    def first_state(self, state_class: StateClass) -> State | None:
        """The first state of a class in the order of the workflow."""
        return next((s for s in self.states if s.state_class == state_class), None)
