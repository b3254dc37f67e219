"""Tables of tasks coming in, as CSV or XLSX. A long file is read by the worker: the answer then names the job that tells how
far it is."""

from __future__ import annotations

from dataclasses import asdict
from typing import Annotated, Any

from fastapi import Form
from pydantic import BaseModel, Field, TypeAdapter, ValidationError

from ...core.common.errors import RuleError
from ...services.common import jobs
from ...services.common.context import open_project
from ...services.tasks import csv_import
from ...services.tasks.csv_import import LONG, Wanted, job_input, rows_of
from ..common.inputs import MB, make_router
from ..common.tables import LARGEST_TABLE, TableFile, read_upload
from ..common.use import Use, Using, needs

router = make_router("csv files")

_Matching = TypeAdapter(Annotated[list[Annotated[str, Field(max_length=80)] | None], Field(max_length=500)])
_Text = Annotated[str, Field(max_length=10_000)]
_Answers = TypeAdapter(
    Annotated[
        dict[Annotated[str, Field(max_length=80)], Annotated[dict[_Text, _Text | None], Field(max_length=1000)]],
        Field(max_length=100),
    ]
)
MatchingForm = Annotated[str | None, Form(max_length=MB, description="A JSON list: the field of each column, or null")]
AnswersForm = Annotated[
    str | None,
    Form(
        max_length=MB,
        description="JSON: by field (people, bookings, state, kind, marks, calendar, or the key of an own field) and name in the"
        " file the id that it means, or null to leave it out",
    ),
]


class ProblemOut(BaseModel):
    """A cell that cannot be read, or that is not kept as it stands."""

    line: int
    column: str
    reason: str


class UnknownOut(BaseModel):
    """A name in the file that nothing here has: ``means`` is the id that it is taken for, null to leave it out."""

    field: str
    text: str
    rows: int
    means: str | None
    answered: bool


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
    remarks: list[ProblemOut]
    unknown: list[UnknownOut]
    choices: dict[str, dict[str, str]] = Field(description="By field what its names can mean: names by id")


class LookOut(BaseModel):
    """What a file would bring, or the job that reads it, whose answer is the same."""

    preview: PreviewOut | None = None
    job: str | None = None


class ImportedOut(BaseModel):
    """How many tasks came in, or the job that brings them in."""

    tasks: int | None = None
    change: str
    job: str | None = None


def _wanted(matching: str | None, answers: str | None) -> Wanted:
    try:
        columns = _Matching.validate_json(matching) if matching else None
    except ValidationError as error:
        raise RuleError("The matching of columns is a list of fields, null where a column is left out.", "matching") from error
    return Wanted(columns, read_answers(answers))


def read_answers(answers: str | None) -> dict[str, dict[str, str | None]]:
    """By field and name what names in a file mean. Raises RuleError where that is no such thing."""
    try:
        return _Answers.validate_json(answers) if answers else {}
    except ValidationError as error:
        raise RuleError("Say by field and name what each name means, an id or null.", "answers") from error


def _start(use: Use, kind: str, code: str, wanted: Wanted, data: bytes) -> str:
    def start(cur: Any, actor: Any) -> str:
        project = open_project(cur, actor, code, "edit")
        return jobs.start_job(cur, actor, kind, project.id, job_input(actor, code, wanted), data).id

    return use.write(start)


@router.post("/projects/{code}/csv/preview", openapi_extra=needs("edit", file=LARGEST_TABLE))
def preview_csv(code: str, use: Using, file: TableFile, matching: MatchingForm = None, answers: AnswersForm = None) -> LookOut:
    """Read a table without writing anything."""
    data, wanted = read_upload(file), _wanted(matching, answers)
    if rows_of(data) > LONG:
        return LookOut(job=_start(use, "csv preview", code, wanted, data))
    return LookOut(preview=PreviewOut.model_validate(asdict(use.read(csv_import.preview_csv, code, data, wanted))))


@router.post("/projects/{code}/csv", openapi_extra=needs("edit", file=LARGEST_TABLE), status_code=201)
def import_csv(code: str, use: Using, file: TableFile, matching: MatchingForm = None, answers: AnswersForm = None) -> ImportedOut:
    """Bring all rows of a table in as tasks, or none."""
    data, wanted = read_upload(file), _wanted(matching, answers)
    if rows_of(data) > LONG:
        return ImportedOut(change=use.actor.change_id, job=_start(use, "csv import", code, wanted, data))
    return ImportedOut(tasks=use.write(csv_import.import_csv, code, data, wanted), change=use.actor.change_id)
