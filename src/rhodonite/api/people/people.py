"""The people of the organisation, and the dispatch tray."""

from __future__ import annotations

from datetime import datetime
from urllib.parse import quote

from fastapi import Response
from pydantic import BaseModel, EmailStr, Field

from ...services.common import dispatches
from ...services.people import people
from ..common.inputs import Changes, Id, Name, make_router
from ..common.use import Using, needs
from .sessions import PersonOut

router = make_router("people")


class Invite(BaseModel):
    """Somebody to be invited."""

    name: str = Field(max_length=120, examples=["Noor Castellan"])
    email: EmailStr
    role: Name = Field("member", examples=["member"])
    title: str = Field("", max_length=120)


class PersonEdit(Changes):
    """Changed fields of a person."""

    name: str | None = Field(None, max_length=120)
    role: Name | None = None
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
    files: dict[str, str] = Field(description="What hangs on it: by id the name")


@router.get("/people", openapi_extra=needs("person"))
def list_people(use: Using) -> list[PersonOut]:
    """Everyone. A guest sees those who share a project with them."""
    return [PersonOut.of(person) for person in use.read(people.list_people)]


@router.post("/people", openapi_extra=needs("administer"), status_code=201)
def invite(body: Invite, use: Using) -> PersonOut:
    """Invite somebody by a link; the mail goes to the dispatch tray."""
    return PersonOut.of(use.write(people.invite, body.name, body.email, body.role, body.title))


@router.patch("/people/{person_id}", openapi_extra=needs("administer"))
def edit_person(person_id: Id, body: PersonEdit, use: Using) -> PersonOut:
    """Change a person's name, title or role, or end their access."""
    return PersonOut.of(use.write(people.edit_person, person_id, body.sent))


@router.get("/dispatches", openapi_extra=needs("administer"))
def list_dispatches(use: Using) -> list[DispatchOut]:
    """The dispatch tray: everything that was sent, the newest first."""
    keys = ("id", "channel", "recipient", "subject", "body", "sent_at", "files")
    return [DispatchOut(**dict(zip(keys, row, strict=True))) for row in use.read(dispatches.read_tray)]


@router.get("/dispatches/files/{mail_file_id}", openapi_extra=needs("administer"), response_class=Response)
def read_dispatch_file(mail_file_id: Id, use: Using) -> Response:
    """A file that hangs on a message."""
    name, media, body = use.read(dispatches.read_file, mail_file_id)
    return Response(body, media_type=media, headers={"Content-Disposition": f"attachment; filename*=UTF-8''{quote(name)}"})
