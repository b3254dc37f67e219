"""What a project defines for its tasks itself: fields, kinds and marks."""

from __future__ import annotations

from typing import Any, Literal

from fastapi import APIRouter
from pydantic import BaseModel, Field

from ..core.own import FieldType, OwnField, OwnKind, ProjectMark
from ..services import definitions
from ..services.context import new_id
from .use import Using, needs

router = APIRouter(tags=["projects"])
Sort = Literal["fields", "kinds", "marks"]


class OptionModel(BaseModel):
    """One of the list that a field chooses from."""

    id: str = Field(default_factory=new_id)
    name: str
    colour: str = "slate"


class FieldOut(BaseModel):
    """A field that a project has added to its tasks. Its values stand in ``own`` of a task, by its id."""

    id: str
    name: str
    type: FieldType
    help: str
    unit: str
    decimals: int
    options: list[OptionModel]
    formula: str
    kinds: list[str] = Field(description="The kinds of task that have it; all where empty")
    default: Any
    required_from: str | None = Field(description="The state from which on it must be filled")
    target_kind: str | None


class KindOut(BaseModel):
    """A kind of task that a project has added."""

    id: str
    name: str
    shape: str
    colour: str
    states: list[str] = Field(description="The states that its tasks pass through; all where empty")


class MarkOut(BaseModel):
    """A sign that people put on a task to draw attention."""

    id: str
    name: str
    shape: str
    colour: str


class DefinitionNew(BaseModel):
    """A field, kind or mark to be added. ``settings`` are the other fields of FieldOut, KindOut or MarkOut."""

    id: str = Field(default_factory=new_id)
    name: str
    settings: dict[str, Any] = Field({}, examples=[{"type": "number", "unit": "kg", "decimals": 1}])


class DefinitionEdit(BaseModel):
    """What changes; ``after_id`` is the one to stand behind, null the first place."""

    name: str | None = None
    settings: dict[str, Any] = {}
    after_id: str | None = None


def field_out(one: OwnField) -> FieldOut:
    """A field as the API gives it."""
    return FieldOut(
        **{name: getattr(one, name) for name in ("id", "name", "type", "help", "unit", "decimals", "formula", "default")},
        options=[OptionModel(id=option.id, name=option.name, colour=option.colour) for option in one.options],
        kinds=list(one.kinds),
        required_from=one.required_from,
        target_kind=one.target_kind,
    )


def kind_out(one: OwnKind) -> KindOut:
    """A kind as the API gives it."""
    return KindOut(id=one.id, name=one.name, shape=one.shape, colour=one.colour, states=list(one.states))


def mark_out(one: ProjectMark) -> MarkOut:
    """A mark as the API gives it."""
    return MarkOut(id=one.id, name=one.name, shape=one.shape, colour=one.colour)


_SORTS: dict[Sort, str] = {"fields": "field", "kinds": "kind", "marks": "mark"}


@router.post("/projects/{code}/defined/{sort}", openapi_extra=needs("manage"), status_code=204)
def add_definition(code: str, sort: Sort, body: DefinitionNew, use: Using) -> None:
    """Add a field, kind or mark."""
    use.write(definitions.add_definition, code, _SORTS[sort], body.id, body.name, body.settings)


@router.patch("/projects/{code}/defined/{sort}/{definition_id}", openapi_extra=needs("manage"), status_code=204)
def edit_definition(code: str, sort: Sort, definition_id: str, body: DefinitionEdit, use: Using) -> None:
    """Change or move a field, kind or mark."""
    use.write(definitions.edit_definition, code, _SORTS[sort], definition_id, body.model_dump(exclude_unset=True))


@router.delete("/projects/{code}/defined/{sort}/{definition_id}", openapi_extra=needs("manage"), status_code=204)
def delete_definition(code: str, sort: Sort, definition_id: str, use: Using) -> None:
    """Take a field, kind or mark away; what tasks have in it is kept."""
    use.write(definitions.delete_definition, code, _SORTS[sort], definition_id)


@router.post("/projects/{code}/defined/{sort}/{definition_id}/restore", openapi_extra=needs("manage"), status_code=204)
def restore_definition(code: str, sort: Sort, definition_id: str, use: Using) -> None:
    """Put back what was taken away."""
    use.write(definitions.restore_definition, code, _SORTS[sort], definition_id)
