"""Who can be booked when: capacities, absences, crews and roles."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated

from pydantic import AfterValidator, BaseModel, Field, NaiveDatetime

from ...core.common.bounds import MOST_EXCEPTIONS
from ...core.resources.bookable import ABSENCE_KINDS, Resource
from ...core.resources.capacity import Absence
from ...core.tasks.model import ResourceKind
from ...services.common.context import new_id
from ...services.resources import absences, bookable_resources, capacity
from ..common.inputs import Changes, Day, Id, Name, make_router
from ..common.use import Using, needs
from ..tasks.projects import CalendarExceptionModel

router = make_router("resources")

Hours = Annotated[
    list[Annotated[list[Annotated[str, Field(max_length=5)]], Field(min_length=2, max_length=2)]], Field(max_length=12)
]
Week = Annotated[dict[Annotated[str, Field(max_length=3)], Hours], Field(max_length=7)]
WEEK_EXAMPLE = {"mon": [["09:00", "13:00"]], "tue": [["09:00", "13:00"]]}


class CapacityOut(BaseModel):
    """What was set of a person's capacity."""

    person_id: str
    week: dict[str, list[list[str]]] | None = Field(description="Their own hours; none: the organisation's")
    share: int = Field(description="Of the working day that can be booked, in a hundred")
    first: date | None
    last: date | None


class AbsenceOut(BaseModel):
    """Time in which a person cannot be booked, local. Why is told to them and to managers; to others it is empty."""

    id: str
    person_id: str
    kind: str
    start: datetime
    end: datetime
    note: str


class ResourceOut(BaseModel):
    """A crew or a role to be filled, a material, a fixed cost."""

    id: str
    project_id: str | None = Field(description="None: the organisation's")
    name: str
    people: float = Field(description="Of labour, how many work side by side")
    kind: ResourceKind
    unit: str = Field(description="Of a material")


class BookableOut(BaseModel):
    """Everything that capacities are made of."""

    week: dict[str, list[list[str]]] | None = Field(description="The organisation's hours; none: office hours")
    absence_kinds: list[str] = Field(description="All of them, those that every organisation has first")
    capacities: list[CapacityOut]
    absences: list[AbsenceOut]
    resources: list[ResourceOut] = Field(description="Those of the organisation")
    currency: str = Field(description="Of rates, by its three letters")
    closed: list[CalendarExceptionModel] = Field(description="Days on which nobody works")


class CommonEdit(Changes):
    """What holds for all."""

    may_be_null = frozenset({"week"})

    week: Week | None = Field(None, examples=[WEEK_EXAMPLE])
    absence_kinds: Annotated[list[Name], Field(max_length=30)] | None = Field(
        None, description="Those of its own", examples=[["parental leave"]]
    )
    currency: Annotated[str, Field(min_length=3, max_length=3)] | None = Field(None, examples=["EUR"])
    closed: Annotated[list[CalendarExceptionModel], Field(max_length=MOST_EXCEPTIONS)] | None = Field(
        None, description="Days on which nobody works"
    )


class CapacityEdit(Changes):
    """What changes of a person's capacity."""

    may_be_null = frozenset({"week", "first", "last"})

    week: Week | None = Field(None, examples=[WEEK_EXAMPLE])
    share: Annotated[int, Field(ge=1, le=100)] | None = None
    first: Day | None = None
    last: Day | None = None


Note = Annotated[str, Field(max_length=300)]
Moment = Annotated[NaiveDatetime, AfterValidator(lambda at: at.replace(second=0, microsecond=0))]
"""Local, to the minute."""
Kind = Annotated[str, Field(max_length=60, examples=["leave"])]
Unit = Annotated[str, Field(max_length=200, examples=["pc"])]


class AbsenceNew(BaseModel):
    """Time in which a person cannot be booked, from a moment to another, local. Whole days run from midnight to midnight."""

    id: Id = Field(default_factory=new_id)
    person_id: Id
    kind: Kind
    start: Moment
    end: Moment
    note: Note = ""


class AbsenceEdit(Changes):
    """What changes of an absence."""

    kind: Kind | None = None
    start: Moment | None = None
    end: Moment | None = None
    note: Note | None = None


class ResourceNew(BaseModel):
    """A crew or a role to be filled, a material, a fixed cost."""

    id: Id = Field(default_factory=new_id)
    name: Name = Field(examples=["Outside scaffolders"])
    people: float = Field(1, gt=0, le=1000)
    kind: ResourceKind = "labour"
    unit: Unit = ""

    def resource(self) -> Resource:
        """As services take it."""
        return Resource(self.id, None, self.name, self.people, self.kind, self.unit)


class ResourceEdit(Changes):
    """What changes of a resource."""

    name: Name | None = None
    people: float | None = Field(None, gt=0, le=1000)
    unit: Unit | None = None


@router.get("/bookable", openapi_extra=needs("see_people"))
def read_bookable(use: Using) -> BookableOut:
    """Who can be booked when."""
    staff = use.read(capacity.readable_staff)
    return BookableOut(
        week=staff.common.week,
        absence_kinds=[*ABSENCE_KINDS, *staff.common.absence_kinds],
        capacities=[
            CapacityOut(person_id=who, week=one.week, share=one.share, first=one.first, last=one.last)
            for who, one in staff.kept.items()
        ],
        absences=[AbsenceOut.model_validate(one, from_attributes=True) for one in staff.absences],
        resources=[ResourceOut.model_validate(one, from_attributes=True) for one in staff.resources],
        currency=staff.common.currency,
        closed=[CalendarExceptionModel.model_validate(dict(one)) for one in staff.common.closed],
    )


@router.patch("/bookable", openapi_extra=needs("administer"), status_code=204)
def edit_common(body: CommonEdit, use: Using) -> None:
    """Write the organisation's working time, or its kinds of absence."""
    closed = [one.model_dump(mode="json", by_alias=True) for one in body.closed or ()]
    use.write(capacity.set_common, {**body.sent, "closed": closed} if body.closed is not None else body.sent)


@router.patch("/people/{person_id}/capacity", openapi_extra=needs("plan_people"), status_code=204)
def edit_capacity(person_id: Id, body: CapacityEdit, use: Using) -> None:
    """Write when, and for which share of their day, a person can be booked."""
    use.write(capacity.set_capacity, person_id, body.sent)


@router.post("/absences", openapi_extra=needs("see_people"), status_code=204)
def add_absence(body: AbsenceNew, use: Using) -> None:
    """Write down when one is away oneself, or as a manager when anybody is."""
    use.write(absences.add_absence, Absence(body.id, body.person_id, body.kind, body.start, body.end, body.note))


@router.patch("/absences/{absence_id}", openapi_extra=needs("see_people"), status_code=204)
def edit_absence(absence_id: Id, body: AbsenceEdit, use: Using) -> None:
    """Change an absence."""
    use.write(absences.edit_absence, absence_id, body.sent)


@router.delete("/absences/{absence_id}", openapi_extra=needs("see_people"), status_code=204)
def delete_absence(absence_id: Id, use: Using) -> None:
    """Take an absence away."""
    use.write(absences.delete_absence, absence_id)


@router.get("/projects/{code}/resources", openapi_extra=needs("see"))
def list_resources(code: str, use: Using) -> list[ResourceOut]:
    """The crews and roles that can be booked in a project: its own, and those of the organisation."""
    found = use.read(bookable_resources.list_resources, code)
    return [ResourceOut.model_validate(one, from_attributes=True) for one in found]


@router.post("/resources", openapi_extra=needs("plan_people"), status_code=204)
def add_resource(body: ResourceNew, use: Using) -> None:
    """Add a crew or a role to be filled, for every project."""
    use.write(bookable_resources.add_resource, None, body.resource())


@router.patch("/resources/{resource_id}", openapi_extra=needs("plan_people"), status_code=204)
def edit_resource(resource_id: Id, body: ResourceEdit, use: Using) -> None:
    """Change a crew or role of the organisation."""
    use.write(bookable_resources.edit_resource, None, resource_id, body.sent)


@router.delete("/resources/{resource_id}", openapi_extra=needs("plan_people"), status_code=204)
def delete_resource(resource_id: Id, use: Using) -> None:
    """Take a crew or role of the organisation away."""
    use.write(bookable_resources.delete_resource, None, resource_id)


@router.post("/projects/{code}/resources", openapi_extra=needs("edit"), status_code=204)
def add_own_resource(code: str, body: ResourceNew, use: Using) -> None:
    """Add a crew or a role to be filled, for this project."""
    use.write(bookable_resources.add_resource, code, body.resource())


@router.patch("/projects/{code}/resources/{resource_id}", openapi_extra=needs("edit"), status_code=204)
def edit_own_resource(code: str, resource_id: Id, body: ResourceEdit, use: Using) -> None:
    """Change a crew or role of this project."""
    use.write(bookable_resources.edit_resource, code, resource_id, body.sent)


@router.delete("/projects/{code}/resources/{resource_id}", openapi_extra=needs("edit"), status_code=204)
def delete_own_resource(code: str, resource_id: Id, use: Using) -> None:
    """Take a crew or role of this project away."""
    use.write(bookable_resources.delete_resource, code, resource_id)
