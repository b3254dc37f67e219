"""The field in the masthead."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from fastapi import Query
from pydantic import BaseModel, Field

from ...core.tasks.model import ResourceKind
from ...services.common.context import new_id
from ...services.overview import search
from ..common.inputs import Code, Id, make_router
from ..common.use import Using, needs

router = make_router("find")


class FoundTaskOut(BaseModel):
    """A task that was found."""

    id: str
    code: str
    number: int
    title: str
    state_class: str
    owner_id: str | None
    percent: int
    finish: datetime | None
    source: str | None = Field(description="Where it was found, unless in the title: description, comment, file or field")
    excerpt: str | None


class FoundProject(BaseModel):
    """A project that was found."""

    code: str
    name: str


class FoundPerson(BaseModel):
    """A person who was found."""

    id: str
    name: str
    title: str


class FoundResource(BaseModel):
    """A crew, role, material or fixed cost that was found."""

    id: str
    name: str
    kind: ResourceKind
    code: str | None = Field(description="Of the project whose it is; none: the organisation's")


class FoundGoal(BaseModel):
    """A goal that was found."""

    id: str
    title: str
    owner_id: str
    closed: bool


class FoundPageOut(BaseModel):
    """A page that has a name."""

    name: str
    to: str = Field(description="Its address within Rhodonite")
    what: str


class FoundOut(BaseModel):
    """What was found, the best first."""

    tasks: list[FoundTaskOut]
    projects: list[FoundProject]
    people: list[FoundPerson]
    resources: list[FoundResource]
    goals: list[FoundGoal]
    pages: list[FoundPageOut] = Field(description="Dashboards and kept reports")


class LineIn(BaseModel):
    """A line, and the project on the screen."""

    line: str = Field(max_length=2000, examples=["Survey the gallery rail, Tomas, 6h, by fri, in MIL"])
    code: Code | None = None


class LineNew(LineIn):
    """A line to be written down as a task."""

    id: Id = Field(default_factory=new_id)


class PhraseOut(BaseModel):
    """One phrase and what it was taken for."""

    phrase: str
    field: str
    says: str


class LineOut(BaseModel):
    """What a line says."""

    title: str
    code: str | None
    understood: list[PhraseOut]
    notes: list[str]


class WrittenOut(BaseModel):
    """The task that was written down."""

    code: str
    title: str
    id: str
    change: str


@router.get("/find", openapi_extra=needs("person"))
def find_text(text: Annotated[str, Query(max_length=10_000)], use: Using, code: Code | None = None) -> FoundOut:
    """Find tasks, projects, people, crews, roles and materials; with ``code`` in that project alone."""
    found = use.read(search.find, text, code)
    return FoundOut(
        tasks=[FoundTaskOut(**{name: getattr(t, name) for name in FoundTaskOut.model_fields}) for t in found.tasks],
        projects=[FoundProject(code=p.code, name=p.name) for p in found.projects],
        people=[FoundPerson(id=p.id, name=p.name, title=p.title) for p in found.people],
        resources=[FoundResource.model_validate(one, from_attributes=True) for one in found.resources],
        goals=[FoundGoal(id=one.id, title=one.title, owner_id=one.owner_id, closed=not one.is_open) for one in found.goals],
        pages=[FoundPageOut.model_validate(one, from_attributes=True) for one in found.pages],
    )


@router.post("/lines/read", openapi_extra=needs("person"))
def read_line(body: LineIn, use: Using) -> LineOut:
    """Read a line without writing anything."""
    answer = use.read(search.understand, body.line, body.code)
    return LineOut(
        title=answer.line.title,
        code=answer.project.code if answer.project else None,
        understood=[PhraseOut(phrase=u.phrase, field=u.field, says=u.says) for u in answer.line.understood],
        notes=answer.line.notes,
    )


@router.post("/lines", openapi_extra=needs("person"), status_code=201)
def write_line(body: LineNew, use: Using) -> WrittenOut:
    """Write the task that a line says. Needs the right to edit its project."""
    code, title = use.write(search.write_line, body.line, body.code, body.id)
    return WrittenOut(code=code, title=title, id=body.id, change=use.actor.change_id)
