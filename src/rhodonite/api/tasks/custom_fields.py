"""What a project defines for its tasks itself: fields, kinds and marks."""

from __future__ import annotations

from typing import Any, Literal

from fastapi.exceptions import RequestValidationError
from pydantic import BaseModel, ConfigDict, Field, ValidationError

from ...core.tasks.custom_fields import (
    LONGEST_TEXT,
    MOST_OF_A_SORT,
    MOST_OPTIONS,
    CustomField,
    CustomKind,
    FieldType,
    ProjectMark,
)
from ...services.common.context import new_id
from ...services.tasks import custom_fields
from ..common.inputs import After, Changes, Id, Name, make_router
from ..common.use import Using, needs

router = make_router("projects")
Sort = Literal["fields", "kinds", "marks"]


class OptionModel(BaseModel):
    """One of the list that a field chooses from."""

    id: str = Field(default_factory=new_id, min_length=1, max_length=60)
    name: Name
    colour: Name = "slate"


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
    broken: list[str] = Field(description="Settings that cannot be read and stand as if nobody had set them")


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


class FieldSettings(BaseModel):
    """What can be set of a field."""

    model_config = ConfigDict(extra="forbid", strict=True)

    type: FieldType | None = None
    help: str = Field("", max_length=500)
    unit: str = Field("", max_length=20)
    decimals: int = Field(0, ge=0, le=6)
    options: list[OptionModel] = Field([], max_length=MOST_OPTIONS)
    formula: str = Field("", max_length=LONGEST_TEXT)
    kinds: list[Name] = Field([], max_length=MOST_OF_A_SORT)
    default: Any = None
    required_from: Id | None = None
    target_kind: Name | None = None


class KindSettings(BaseModel):
    """What can be set of a kind of task."""

    model_config = ConfigDict(extra="forbid", strict=True)

    shape: Name = "square"
    colour: Name = "slate"
    states: list[Id] = Field([], max_length=MOST_OF_A_SORT)


class MarkSettings(BaseModel):
    """What can be set of a mark."""

    model_config = ConfigDict(extra="forbid", strict=True)

    shape: Name = "flag"
    colour: Name = "rose"


class DefinitionNew(BaseModel):
    """A field, kind or mark to be added. ``settings`` are those of FieldSettings, KindSettings or MarkSettings."""

    id: Id = Field(default_factory=new_id)
    name: Name
    settings: dict[str, Any] = Field({}, max_length=20, examples=[{"type": "number", "unit": "kg", "decimals": 1}])


class DefinitionEdit(Changes):
    """What changes; ``after_id`` is the one to stand behind, null the first place."""

    may_be_null = frozenset({"after_id"})

    name: Name | None = None
    settings: dict[str, Any] = Field({}, max_length=20)
    after_id: After = None


def field_out(one: CustomField) -> FieldOut:
    """A field as the API gives it."""
    return FieldOut(
        **{name: getattr(one, name) for name in ("id", "name", "type", "help", "unit", "decimals", "formula", "default")},
        options=[OptionModel(id=option.id, name=option.name, colour=option.colour) for option in one.options],
        kinds=list(one.kinds),
        required_from=one.required_from,
        target_kind=one.target_kind,
        broken=list(one.broken),
    )


def kind_out(one: CustomKind) -> KindOut:
    """A kind as the API gives it."""
    return KindOut(id=one.id, name=one.name, shape=one.shape, colour=one.colour, states=list(one.states))


def mark_out(one: ProjectMark) -> MarkOut:
    """A mark as the API gives it."""
    return MarkOut(id=one.id, name=one.name, shape=one.shape, colour=one.colour)


_SETTINGS: dict[Sort, type[BaseModel]] = {"fields": FieldSettings, "kinds": KindSettings, "marks": MarkSettings}


def _checked(sort: Sort, settings: dict[str, Any]) -> dict[str, Any]:
    """Settings of the form that their sort has. Raises RequestValidationError where they are of another."""
    try:
        return _SETTINGS[sort].model_validate(settings).model_dump(exclude_unset=True)
    except ValidationError as error:
        wrong = [
            {**one, "loc": ("body", "settings", *one["loc"])} for one in error.errors(include_input=False, include_url=False)
        ]
        raise RequestValidationError(wrong) from error


_SORTS: dict[Sort, str] = {"fields": "field", "kinds": "kind", "marks": "mark"}


@router.post("/projects/{code}/defined/{sort}", openapi_extra=needs("manage"), status_code=204)
def add_definition(code: str, sort: Sort, body: DefinitionNew, use: Using) -> None:
    """Add a field, kind or mark."""
    use.write(custom_fields.add_definition, code, _SORTS[sort], body.id, body.name, _checked(sort, body.settings))


@router.patch("/projects/{code}/defined/{sort}/{definition_id}", openapi_extra=needs("manage"), status_code=204)
def edit_definition(code: str, sort: Sort, definition_id: Id, body: DefinitionEdit, use: Using) -> None:
    """Change or move a field, kind or mark."""
    changes = body.sent | ({"settings": _checked(sort, body.settings)} if body.settings else {})
    use.write(custom_fields.edit_definition, code, _SORTS[sort], definition_id, changes)


@router.delete("/projects/{code}/defined/{sort}/{definition_id}", openapi_extra=needs("manage"), status_code=204)
def delete_definition(code: str, sort: Sort, definition_id: Id, use: Using) -> None:
    """Take a field, kind or mark away; what tasks have in it is kept."""
    use.write(custom_fields.delete_definition, code, _SORTS[sort], definition_id)


@router.post("/projects/{code}/defined/{sort}/{definition_id}/restore", openapi_extra=needs("manage"), status_code=204)
def restore_definition(code: str, sort: Sort, definition_id: Id, use: Using) -> None:
    """Put back what was taken away."""
    use.write(custom_fields.restore_definition, code, _SORTS[sort], definition_id)
