"""The documents of a plan as models: what stands in a plan file and in a file of changes, each field with its bound.

``plan_file`` reads and writes them. The JSON Schemas in ``docs/`` are generated from these models.
"""

from __future__ import annotations

import json
from datetime import date
from decimal import Decimal
from typing import Annotated, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, NaiveDatetime, model_validator

from ..core.common.bounds import MOST_BOOKED_DAYS, MOST_PEOPLE
from ..core.tasks.model import BookingShape, ConstraintType, LinkType, ResourceKind

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
    """What tasks share or use up: a person, a crew, a machine; a material by its unit; a fixed cost."""

    id: str
    name: str = ""
    kind: ResourceKind = "labour"
    unit: str = Field("", max_length=40, description="Of a material")
    capacity: float = Field(1, gt=0, le=1_000_000, description="Units that there are at once")
    calendar: str | None = Field(None, description="When it can be taken; null: whenever a task runs")
    absences: list[AbsencePart] = []


class BookingPart(Part):
    """What a task takes of a resource: of labour units while it runs, or minutes in all, from which the units follow; of a
    material or a fixed cost an amount."""

    task: str
    resource: str
    units: float | None = Field(None, gt=0, le=1_000_000, description="Of the capacity; half a person is 0.5")
    minutes: int | None = Field(None, ge=0, le=LONGEST)
    shape: BookingShape = Field("even", description="How the minutes lie over the task: most at first, most at last, by day")
    by_day: list[Annotated[int, Field(ge=0, le=24 * 60 * MOST_PEOPLE)]] = Field(
        [],
        max_length=MOST_BOOKED_DAYS,
        description="The minutes of each working day from the first on, where they are set by day",
    )
    amount: Decimal | None = Field(
        None, gt=0, max_digits=15, decimal_places=3, description="Units of a material, or a sum in the project’s currency"
    )


class PlanFile(Part):
    """A plan."""

    format: Literal["rhodonite-plan/1"]
    project: ProjectPart
    calendars: list[CalendarPart] = Field(min_length=1)
    tasks: list[TaskPart] = []
    links: list[LinkPart] = []
    resources: list[ResourcePart] = []
    bookings: list[BookingPart] = []
    left_out: list[str] = Field([], description="What the project has and this file does not hold, in words")


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


SCHEMAS: dict[str, type[BaseModel]] = {"plan-file.schema.json": PlanFile, "changes-file.schema.json": ChangesFile}


def schema_text(model: type[BaseModel]) -> str:
    """The JSON Schema of a document, as it lies in ``docs/``."""
    return json.dumps(model.model_json_schema(by_alias=True), indent=2) + "\n"
