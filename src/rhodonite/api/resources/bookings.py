"""Who can be booked in a project, and what people type of it."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import Response
from pydantic import BaseModel, Field

from ...core.resources.typed_bookings import LONGEST
from ...core.tasks.model import BookingShape, ResourceKind
from ...services.resources import booking
from ...services.tasks.tasks import MOST_AT_ONCE
from ..common.inputs import Fields, Id, make_router
from ..common.use import Using, needs
from ..tasks.tasks import RowsOut, Since, rows_response

router = make_router("resources")


class NamedOut(BaseModel):
    """Who or what can be booked."""

    id: str
    name: str
    resource: bool = Field(description="True for a crew or a role to be filled, a material, a fixed cost")
    of: ResourceKind
    unit: str = Field(description="Of a material")


class TypedBookings(BaseModel):
    """Bookings as they are typed."""

    task_id: Id
    text: Annotated[str, Field(max_length=LONGEST, examples=["Tomas 10h, Yuki 50 %"])]


class UnderstoodOut(BaseModel):
    """One booking that was understood."""

    who: str
    resource: bool
    minutes: int | None = Field(description="None where a share of the day was typed")
    units: float | None
    of: ResourceKind = "labour"
    amount: int = Field(0, description="Thousandths of a material’s unit, or of the currency")
    shape: BookingShape = "even"
    by_day: list[int] = Field([], description="Minutes of each day, where they are set by day")
    said: str = Field(description="The same in words")


@router.get("/projects/{code}/bookable", openapi_extra=needs("see"))
def list_bookable(code: str, use: Using) -> list[NamedOut]:
    """Who can be booked in a project: people, crews and roles."""
    return [NamedOut.model_validate(one, from_attributes=True) for one in use.read(booking.bookable, code)]


@router.post("/projects/{code}/bookings/read", openapi_extra=needs("edit"))
def read_bookings(code: str, body: TypedBookings, use: Using) -> list[UnderstoodOut]:
    """What typed bookings mean; nothing is written. Send what comes of it as the field ``bookings`` of the task."""
    return [
        UnderstoodOut(
            who=one.who.id,
            resource=one.who.resource,
            minutes=one.minutes,
            units=one.units,
            of=one.who.of,
            amount=one.amount,
            shape=one.shape,
            by_day=list(one.by_day),
            said=one.said,
        )
        for one in use.read(booking.read_typed, code, body.task_id, body.text)
    ]


class HandedOver(BaseModel):
    """Whose hours become whose."""

    who: Id | Literal["nobody"] = Field(description="A person, crew or role; nobody: hours of the estimate that are open")
    to: Id
    task_ids: Annotated[list[Id], Field(min_length=1, max_length=MOST_AT_ONCE)] | None = Field(
        None, description="None: all tasks of the project that are not finished"
    )


@router.post("/projects/{code}/bookings/give", openapi_extra=needs("edit"), response_model=RowsOut)
def hand_over(code: str, body: HandedOver, use: Using, since: Since = None) -> Response:
    """Make the hours of one another's on some tasks, such as those of a role of the person who fills it."""
    use.write(booking.hand_over, code, "" if body.who == "nobody" else body.who, body.to, body.task_ids)
    return rows_response(use, code, since)


class LengthAsked(BaseModel):
    """A change of a task's length, as it would be sent."""

    task_id: Id
    fields: Fields


class ChoiceOut(BaseModel):
    """What becomes of one booking."""

    who: str
    name: str
    minutes: int
    a_day: int = Field(description="Minutes a day of the task, as it stands")
    cut: int = Field(description="Minutes in all where the load a day is kept")
    by_day: bool = Field(description="Hours are set by day: what is said of a day is the average")
    raised: int = Field(description="Minutes a day where the hours are kept")


class StretchedOut(BaseModel):
    """What a change of length does to the hours of a task, whichever way is chosen."""

    was: int
    becomes: int
    day_minutes: int
    effort: int | None
    effort_cut: int | None
    bookings: list[ChoiceOut]


@router.post("/projects/{code}/bookings/length", openapi_extra=needs("edit"))
def preview_length(code: str, body: LengthAsked, use: Using) -> StretchedOut | None:
    """What a change of length would do to the hours booked on a task: null where nobody needs to be asked."""
    found = use.read(booking.preview_length, code, body.task_id, body.fields)
    if found is None:
        return None
    return StretchedOut(
        was=found.was, becomes=found.becomes, day_minutes=found.day_minutes,
        effort=found.task.effort, effort_cut=found.effort,
        bookings=[
            ChoiceOut(
                who=one.who,
                name=found.names.get(one.who, "Somebody"),
                minutes=one.minutes,
                a_day=one.minutes * found.day_minutes // found.was,
                cut=cut.minutes,
                by_day=one.shape == "by_day",
                raised=one.minutes * found.day_minutes // found.becomes,
            )
            for one, cut in zip(found.task.bookings, found.cut, strict=True)
            if one.of == "labour"
        ],
    )  # fmt: skip
