"""Views: every field by which work is shown, groups, sums, tints, and the sheets that keep them."""

from __future__ import annotations

from typing import Any

from fastapi import APIRouter
from pydantic import BaseModel, Field

from ..core.catalogue import ColumnType
from ..core.conditions import OPERATORS
from ..services import views
from ..services.context import new_id
from .lenses import Scoped
from .use import Using, needs

router = APIRouter(tags=["views"])


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


class CatalogueOut(BaseModel):
    """All columns, and by type the operators of clauses in words."""

    columns: list[ColumnOut]
    operators: dict[str, dict[str, str]]


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


class ViewIn(BaseModel):
    """A view: columns, groups, sorts and tints."""

    columns: list[dict[str, Any]] = Field([], examples=[[{"key": "effort", "foot": "sum"}]], max_length=40)
    groups: list[str] = Field([], max_length=2)
    sorts: list[dict[str, Any]] = Field([], examples=[[{"key": "finish", "down": False}]], max_length=4)
    tints: list[dict[str, Any]] = Field([], max_length=40)


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


class SayOut(BaseModel):
    """Each clause of a condition in words."""

    clauses: list[str]


class SheetOut(BaseModel):
    """A sheet."""

    id: str
    name: str
    person_id: str
    mine: bool
    seen_by: str
    people: list[str]
    is_default: bool
    view: dict[str, Any]
    version: int


class SheetNew(BaseModel):
    """A view to be kept under a name."""

    id: str = Field(default_factory=new_id)
    name: str
    seen_by: str = "private"
    people: list[str] = []
    view: dict[str, Any] = Field(examples=[{"lens": "outline", "where": {"all": [["late", "yes"]]}, "groups": ["owner"]}])


class SheetEdit(BaseModel):
    """What changes of a sheet."""

    name: str | None = None
    seen_by: str | None = None
    people: list[str] | None = None
    is_default: bool | None = None
    view: dict[str, Any] | None = None
    after_id: str | None = None


@router.get("/projects/{code}/columns", openapi_extra=needs("see"))
def read_columns(code: str, use: Using) -> CatalogueOut:
    """Every field by which the tasks of a project can be shown, asked for, grouped and sorted."""
    catalogue = use.read(views.read_catalogue, code)
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
            )
            for one in catalogue.columns.values()
        ],
        operators={kind: dict(some) for kind, some in OPERATORS.items()},
    )


@router.post("/projects/{code}/view", openapi_extra=needs("see"))
def show_view(code: str, body: ViewIn, use: Using, scope: Scoped) -> ViewOut:
    """Group, sort, sum and colour the tasks within a sentence. It only reads."""
    answer = use.read(views.show_view, code, scope, body.model_dump())
    arranged = answer.arranged

    def group(one: Any) -> ViewGroupOut:
        return ViewGroupOut(path=list(one.path), names=list(one.names), ids=one.ids, feet=one.feet, tasks=one.tasks)

    return ViewOut(
        ids=arranged.ids,
        groups=[group(one) for one in arranged.groups] if arranged.groups is not None else None,
        outer={value: group(one) for value, one in arranged.outer.items()},
        feet=arranged.feet,
        tints=arranged.tints,
        tint_counts=[
            TintCountOut(**{name: getattr(one, name) for name in TintCountOut.model_fields}) for one in arranged.tint_counts
        ],
        words=answer.words,
        revision=answer.revision,
    )


@router.get("/projects/{code}/clauses", openapi_extra=needs("see"))
def say_clauses(code: str, use: Using, where: str = "") -> SayOut:
    """Each clause of a condition in words, or why it cannot be."""
    return SayOut(clauses=use.read(views.say_where, code, where))


@router.get("/projects/{code}/sheets", openapi_extra=needs("see"))
def list_sheets(code: str, use: Using) -> list[SheetOut]:
    """The sheets that one sees: one's own, those for one, and the project's."""
    return [
        SheetOut(
            id=one.id, name=one.name, person_id=one.person_id, mine=one.person_id == use.actor.person.id, seen_by=one.seen_by,
            people=list(one.people), is_default=one.is_default, view=one.view, version=one.version,
        )
        for one in use.read(views.list_sheets, code)
    ]  # fmt: skip


@router.post("/projects/{code}/sheets", openapi_extra=needs("see"), status_code=204)
def keep_sheet(code: str, body: SheetNew, use: Using) -> None:
    """Keep a view under a name. One for the whole project needs a contributor."""
    use.write(views.keep_sheet, code, body.id, body.name, body.seen_by, body.people, body.view)


@router.patch("/projects/{code}/sheets/{sheet_id}", openapi_extra=needs("see"), status_code=204)
def edit_sheet(code: str, sheet_id: str, body: SheetEdit, use: Using) -> None:
    """Change a sheet of one's own; a lead changes any."""
    use.write(views.edit_sheet, code, sheet_id, body.model_dump(exclude_unset=True))


@router.delete("/projects/{code}/sheets/{sheet_id}", openapi_extra=needs("see"), status_code=204)
def delete_sheet(code: str, sheet_id: str, use: Using) -> None:
    """Take a sheet of one's own away; a lead any."""
    use.write(views.delete_sheet, code, sheet_id)
