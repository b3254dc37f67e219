"""The people of the organisation, and the dispatch tray."""

from __future__ import annotations

from datetime import datetime

from fastapi import APIRouter, Request
from pydantic import BaseModel, EmailStr, Field

from ..services import dispatches, people
from .sessions import PersonOut
from .use import Using, base_url, needs

router = APIRouter(tags=["people"])


class Invite(BaseModel):
    """Somebody to be invited."""

    name: str = Field(max_length=120, examples=["Noor Castellan"])
    email: EmailStr
    role: str = Field("member", examples=["member"])
    title: str = Field("", max_length=120)


class PersonEdit(BaseModel):
    """Changed fields of a person."""

    name: str | None = Field(None, max_length=120)
    role: str | None = None
    title: str | None = Field(None, max_length=120)
    active: bool | None = None


class DispatchOut(BaseModel):
    """Something that was sent."""

    id: str
    channel: str
    recipient: str
    subject: str
    body: str
    sent_at: datetime


@router.get("/people", openapi_extra=needs("person"))
def list_people(use: Using) -> list[PersonOut]:
    """Everyone. A guest sees those who share a project with them."""
    return [PersonOut.of(person) for person in use.read(people.list_people)]


@router.post("/people", openapi_extra=needs("administer"), status_code=201)
def invite(body: Invite, request: Request, use: Using) -> PersonOut:
    """Invite somebody by a link; the mail goes to the dispatch tray."""
    return PersonOut.of(use.write(people.invite, body.name, body.email, body.role, body.title, base_url(request)))


@router.patch("/people/{person_id}", openapi_extra=needs("administer"))
def edit_person(person_id: str, body: PersonEdit, use: Using) -> PersonOut:
    """Change a person's name, title or role, or end their access."""
    fields = {name: value for name, value in body.model_dump(exclude_unset=True).items() if value is not None}
    return PersonOut.of(use.write(people.edit_person, person_id, fields))


@router.get("/dispatches", openapi_extra=needs("administer"))
def list_dispatches(use: Using) -> list[DispatchOut]:
    """The dispatch tray: everything that was sent, the newest first."""
    keys = ("id", "channel", "recipient", "subject", "body", "sent_at")
    return [DispatchOut(**dict(zip(keys, row, strict=True))) for row in use.read(dispatches.read_tray)]
