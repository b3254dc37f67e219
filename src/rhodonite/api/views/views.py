"""Views: every field by which work is shown, groups, sums and tints; of a project and over all of them."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import Query
from fastapi.responses import Response
from pydantic import BaseModel, Field

from ...core.views.columns import Columns, ColumnType
from ...core.views.conditions import BARE, FIRST, LONGEST, OPERATORS
from ...core.views.tints import COVERS, MOST_TINTS, Covers
from ...core.views.view import MOST_COLUMNS, MOST_GROUPS, MOST_SORTS, Arranged, Foot, PlaceLens, ProjectLens, ViewGroup, read_view
from ...services.views import all_projects as across
from ...services.views import csv_export, views
from ..common.inputs import MB, make_router
from ..common.tables import TableKind, table_answer, writer_of
from ..common.use import Using, needs
from ..tasks.tasks import TaskRow, row_out
from .asked import Scoped, Viewed, Words

router = make_router("views")


class ColumnOut(BaseModel):
    """A field by which work is shown, and the operators that a clause on it may have."""

    key: str
    name: str
    type: ColumnType
    unit: str
    decimals: int
    choices: dict[str, str] = Field(description="Of fields that hold ids the name of each; people are left out")
    people: bool = Field(description="True where the ids are people's")
    help: str
    asked: bool = Field(True, description="True where a sentence can ask for it")


class CatalogueOut(BaseModel):
    """All columns, and by type the operators of clauses in words."""

    columns: list[ColumnOut]
    operators: dict[str, dict[str, str]]
    bare: list[str] = Field(description="Operators that need no value")
    first: dict[str, list[Any]] = Field(
        description="By type the operator, and the value if it has one, of a clause that is added"
    )


class ViewGroupOut(BaseModel):
    """Rows that have the same value."""

    path: list[str]
    names: list[str]
    ids: list[str]
    feet: dict[str, str]
    tasks: int


class TintCountOut(BaseModel):
    """What a tint catches."""

    id: str
    shows: int = Field(description="Tasks that it colours now")
    holds: int = Field(description="Tasks that its condition holds for")
    taken: dict[str, int] = Field(description="By the id of an earlier tint how many of these that one took")
    hidden: bool = Field(description="True where earlier tints take all of its tasks")
    move_before: str | None = Field(description="The tint before which it would have to stand to show")


Key = Annotated[str, Field(max_length=200)]
Condition = Annotated[str, Field(max_length=LONGEST)] | Annotated[dict[str, Any], Field(max_length=1)]
"""Clauses over any field, as JSON or its text: {"all": [["late", "yes"], ["deadline", "within", 21]]}."""


class ShownIn(BaseModel):
    """A column that is shown."""

    key: Key
    width: int | None = Field(None, ge=20, le=4000, description="Pixels")
    foot: Foot | None = Field(None, description="What stands at its foot")


class SortIn(BaseModel):
    """By what is sorted."""

    key: Key
    down: bool = False


class TintIn(BaseModel):
    """A colour that is given by a condition; of several the first that holds."""

    id: Key
    name: Key
    where: Condition | None = None
    colour: Key
    sign: Key = "square"
    covers: list[Covers] = Field(["row", "slip", "bar"], max_length=len(COVERS))
    cell: Key | None = Field(None, description="The column whose cell is coloured, where “cell” is covered")


class ViewIn(BaseModel):
    """A view: columns, groups, sorts and tints."""

    columns: list[ShownIn] = Field([], examples=[[{"key": "effort", "foot": "sum"}]], max_length=MOST_COLUMNS)
    groups: list[Key] = Field([], max_length=MOST_GROUPS)
    sorts: list[SortIn] = Field([], examples=[[{"key": "finish", "down": False}]], max_length=MOST_SORTS)
    tints: list[TintIn] = Field([], max_length=MOST_TINTS)


class ViewKept(ViewIn):
    """A view as a sheet keeps it."""

    lens: ProjectLens | PlaceLens
    query: str = Field("", max_length=60_000, description="The sentence and the rest, as the address of a page has it")
    where: Condition | None = None

    def kept(self) -> dict[str, Any]:
        """The form in which it is kept: without what it leaves to the usual."""
        return self.model_dump(exclude_unset=True)


class ViewOut(BaseModel):
    """A view made for the tasks within the sentence."""

    ids: list[str] | None
    groups: list[ViewGroupOut] | None
    outer: dict[str, ViewGroupOut]
    feet: dict[str, str]
    tints: dict[str, dict[str, str]]
    tint_counts: list[TintCountOut]
    words: dict[str, dict[str, str]] = Field(description="By column that is only read, by task, its value in words")
    revision: int


class AcrossRowOut(BaseModel):
    """A task with the code of its project."""

    code: str
    row: TaskRow


class AcrossOut(ViewOut):
    """A view over all projects. ``ids`` and ``rows`` hold the first tasks, the counts all."""

    rows: list[AcrossRowOut]
    shown: int = Field(description="Tasks that the sentence leaves")
    late: int
    unowned: int
    held: int


class SayOut(BaseModel):
    """Each clause of a condition in words."""

    clauses: list[str]


@router.get("/projects/{code}/columns", openapi_extra=needs("see"))
def read_columns(code: str, use: Using) -> CatalogueOut:
    """Every field by which the tasks of a project can be shown, asked for, grouped and sorted."""
    return _catalogue_out(use.read(views.read_catalogue, code))


@router.get("/columns", openapi_extra=needs("person"))
def read_columns_of_all(use: Using) -> CatalogueOut:
    """Every field by which the tasks of all projects can be shown together."""
    return _catalogue_out(use.read(across.read_columns))


def _catalogue_out(catalogue: Columns) -> CatalogueOut:
    people = {
        key
        for key, column in catalogue.columns.items()
        if key in {"owner", "helpers"} or (column.own and column.own.type == "person")
    }
    return CatalogueOut(
        columns=[
            ColumnOut(
                key=one.key,
                name=one.name,
                type=one.type,
                unit=one.unit,
                decimals=one.decimals,
                choices={} if one.key in people or (one.own and one.own.type == "tasks") else dict(one.choices),
                people=one.key in people,
                help=one.own.help if one.own else "",
                asked=one.asked,
            )
            for one in catalogue.columns.values()
        ],
        operators={kind: dict(some) for kind, some in OPERATORS.items()},
        bare=sorted(BARE),
        first={kind: [operator] if operator in BARE else [operator, value] for kind, (operator, value) in FIRST.items()},
    )


@router.post("/projects/{code}/view", openapi_extra=needs("see", MB))
def show_view(code: str, body: ViewIn, use: Using, scope: Scoped, in_words: bool = False) -> ViewOut:
    """Group, sort, sum and colour the tasks within a sentence. It only reads. In words: the values of all its columns."""
    answer = use.read(views.show_view, code, scope, body.model_dump(), in_words=in_words)
    return ViewOut(**_arranged_out(answer.arranged), words=answer.words, revision=answer.revision)


@router.post("/view", openapi_extra=needs("person", MB))
def show_view_of_all(body: ViewIn, use: Using, scope: Scoped) -> AcrossOut:
    """Group, sort, sum and colour the tasks of all projects that one may see. It only reads."""
    answer = use.read(across.show_across, scope, read_view(body.model_dump()))
    return AcrossOut(
        **_arranged_out(answer.arranged),
        words=answer.words,
        revision=0,
        rows=[AcrossRowOut(code=one.project.code, row=row_out(one.row)) for one in answer.rows],
        shown=answer.shown,
        late=answer.late,
        unowned=answer.unowned,
        held=answer.held,
    )


@router.get("/projects/{code}/tasks.{form}", openapi_extra=needs("see"), response_class=Response)
def export_tasks(code: str, form: TableKind, use: Using, scope: Scoped, view: Viewed, column: Words = []) -> Response:  # noqa: B006
    """The tasks within a scope as a table, with the columns chosen; tints are named in a column of their own."""
    body = use.read(csv_export.export_tasks, code, scope, column, view.tints, writer_of(form))
    return table_answer(use, body, form, f"{code.upper()} tasks")


@router.get("/tasks.{form}", openapi_extra=needs("person"), response_class=Response)
def export_tasks_of_all(form: TableKind, use: Using, scope: Scoped, view: Viewed) -> Response:
    """What a view over all projects shows, as a table."""
    return table_answer(use, use.read(across.export_tasks, scope, view, writer_of(form)), form, "ALL tasks")


def _arranged_out(arranged: Arranged) -> dict[str, Any]:
    def group(one: ViewGroup) -> ViewGroupOut:
        return ViewGroupOut(path=list(one.path), names=list(one.names), ids=one.ids, feet=one.feet, tasks=one.tasks)

    return {
        "ids": arranged.ids,
        "groups": [group(one) for one in arranged.groups] if arranged.groups is not None else None,
        "outer": {value: group(one) for value, one in arranged.outer.items()},
        "feet": arranged.feet,
        "tints": arranged.tints,
        "tint_counts": [
            TintCountOut(**{name: getattr(one, name) for name in TintCountOut.model_fields}) for one in arranged.tint_counts
        ],
    }


@router.get("/projects/{code}/clauses", openapi_extra=needs("see"))
def say_clauses(code: str, use: Using, where: Annotated[str, Query(max_length=LONGEST)] = "") -> SayOut:
    """Each clause of a condition in words, or why it cannot be."""
    return SayOut(clauses=use.read(views.say_where, code, where))


@router.get("/clauses", openapi_extra=needs("person"))
def say_clauses_of_all(use: Using, where: Annotated[str, Query(max_length=LONGEST)] = "") -> SayOut:
    """Each clause of a condition over all projects in words, or why it cannot be."""
    return SayOut(clauses=use.read(across.say_where, where))
