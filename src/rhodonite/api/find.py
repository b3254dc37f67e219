"""The field in the masthead, and CSV coming in."""

from __future__ import annotations

import json
from datetime import datetime
from typing import Annotated

from fastapi import APIRouter, File, Form, UploadFile
from pydantic import BaseModel, Field

from ..core.errors import RuleError
from ..services import find, transfer
from ..services.context import new_id
from .use import Using, needs

router = APIRouter(tags=["find and transfer"])
LARGEST_FILE = 8 * 1024 * 1024


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


class FoundOut(BaseModel):
    """What was found, the best first."""

    tasks: list[FoundTaskOut]
    projects: list[FoundProject]
    people: list[FoundPerson]


class LineIn(BaseModel):
    """A line, and the project on the screen."""

    line: str = Field(max_length=2000, examples=["Survey the gallery rail, Tomas, 6h, by fri, in MIL"])
    code: str | None = None


class LineNew(LineIn):
    """A line to be written down as a task."""

    id: str = Field(default_factory=new_id)


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


class ProblemOut(BaseModel):
    """A cell that cannot be read."""

    line: int
    column: str
    reason: str


class PreviewOut(BaseModel):
    """What a file would bring."""

    fields: dict[str, str]
    heads: list[str]
    matching: list[str | None]
    first_rows: list[list[str]]
    tasks: int
    nested: int
    problems: list[ProblemOut]
    more_problems: int


class ImportedOut(BaseModel):
    """How many tasks came in."""

    tasks: int
    change: str


@router.get("/find", openapi_extra=needs("person"))
def find_text(text: str, use: Using, code: str | None = None) -> FoundOut:
    """Find tasks, projects and people; with ``code`` in that project alone."""
    found = use.read(find.find, text, code)
    return FoundOut(
        tasks=[FoundTaskOut(**{name: getattr(t, name) for name in FoundTaskOut.model_fields}) for t in found.tasks],
        projects=[FoundProject(code=p.code, name=p.name) for p in found.projects],
        people=[FoundPerson(id=p.id, name=p.name, title=p.title) for p in found.people],
    )


@router.post("/lines/read", openapi_extra=needs("person"))
def read_line(body: LineIn, use: Using) -> LineOut:
    """Read a line without writing anything."""
    answer = use.read(find.understand, body.line, body.code)
    return LineOut(
        title=answer.line.title,
        code=answer.project.code if answer.project else None,
        understood=[PhraseOut(phrase=u.phrase, field=u.field, says=u.says) for u in answer.line.understood],
        notes=answer.line.notes,
    )


@router.post("/lines", openapi_extra=needs("person"), status_code=201)
def write_line(body: LineNew, use: Using) -> WrittenOut:
    """Write the task that a line says. Needs the right to edit its project."""
    code, title = use.write(find.write_line, body.line, body.code, body.id)
    return WrittenOut(code=code, title=title, id=body.id, change=use.actor.change_id)


def _read_upload(file: UploadFile) -> bytes:
    data = file.file.read(LARGEST_FILE + 1)
    if len(data) > LARGEST_FILE:
        raise RuleError("The file is larger than 8 MB. Split it.", "file")
    return data


def _read_matching(text: str | None) -> list[str | None] | None:
    if text is None:
        return None
    try:
        matching = json.loads(text)
    except ValueError as error:
        raise RuleError("The matching of columns cannot be read.", "matching") from error
    if not isinstance(matching, list):
        raise RuleError("The matching of columns is a list.", "matching")
    return [str(name) if name else None for name in matching]


@router.post("/projects/{code}/csv/preview", openapi_extra=needs("edit"))
def preview_csv(
    code: str, use: Using, file: Annotated[UploadFile, File()], matching: Annotated[str | None, Form()] = None
) -> PreviewOut:
    """Read a CSV file without writing anything. ``matching`` is a JSON list of fields, one a column."""
    preview = use.read(transfer.preview_csv, code, _read_upload(file), _read_matching(matching))
    return PreviewOut(
        fields=use.read(transfer.fields_of_csv, code),
        heads=preview.heads,
        matching=preview.matching,
        first_rows=preview.first_rows,
        tasks=preview.tasks,
        nested=preview.nested,
        problems=[ProblemOut(line=p.line, column=p.column, reason=p.reason) for p in preview.problems],
        more_problems=preview.more_problems,
    )


@router.post("/projects/{code}/csv", openapi_extra=needs("edit"), status_code=201)
def import_csv(code: str, use: Using, file: Annotated[UploadFile, File()], matching: Annotated[str, Form()]) -> ImportedOut:
    """Bring all rows of a CSV file in as tasks, or none."""
    count = use.write(transfer.import_csv, code, _read_upload(file), _read_matching(matching) or [])
    return ImportedOut(tasks=count, change=use.actor.change_id)
