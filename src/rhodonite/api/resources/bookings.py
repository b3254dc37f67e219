"""Who can be booked in a project, and what people type of it."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field

from ...services.resources import booking
from ..common.inputs import Id, make_router
from ..common.use import Using, needs

router = make_router("resources")


class NamedOut(BaseModel):
    """Who can be booked."""

    id: str
    name: str
    resource: bool = Field(description="True for a crew or a role to be filled")


class TypedBookings(BaseModel):
    """Bookings as they are typed."""

    task_id: Id
    text: Annotated[str, Field(max_length=2_000, examples=["Tomas 10h, Yuki 50 %"])]


class UnderstoodOut(BaseModel):
    """One booking that was understood."""

    who: str
    resource: bool
    minutes: int | None = Field(description="None where a share of the day was typed")
    units: float | None
    said: str = Field(description="The same in words")


@router.get("/projects/{code}/bookable", openapi_extra=needs("see"))
def list_bookable(code: str, use: Using) -> list[NamedOut]:
    """Who can be booked in a project: people, crews and roles."""
    return [NamedOut(id=one.id, name=one.name, resource=one.resource) for one in use.read(booking.bookable, code)]


@router.post("/projects/{code}/bookings/read", openapi_extra=needs("edit"))
def read_bookings(code: str, body: TypedBookings, use: Using) -> list[UnderstoodOut]:
    """What typed bookings mean; nothing is written. Send what comes of it as the field ``bookings`` of the task."""
    return [
        UnderstoodOut(who=one.who.id, resource=one.who.resource, minutes=one.minutes, units=one.units, said=one.said)
        for one in use.read(booking.read_typed, code, body.task_id, body.text)
    ]
