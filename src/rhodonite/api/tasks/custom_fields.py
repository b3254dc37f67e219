"""What a project defines itself: fields, kinds and marks of its tasks; workflows, lanes, periods and blanks of its board."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from typing import Annotated, Any, Literal

from fastapi.exceptions import RequestValidationError
from pydantic import BaseModel, ConfigDict, Field, ValidationError

from ...core.tasks.boards import MOST_IN_A_BLANK, Blank, Lane, Period, Workflow
from ...core.tasks.custom_fields import (
    LONGEST_TEXT,
    MOST_CARRIED,
    MOST_OF_A_SORT,
    MOST_OPTIONS,
    CustomField,
    CustomKind,
    Definition,
    FieldType,
    ProjectMark,
)
from ...core.tasks.defining import settings_of
from ...core.tasks.workflow import LARGEST_LIMIT
from ...services.common.context import new_id
from ...services.tasks import custom_fields
from ..common.inputs import After, Changes, Id, Name, make_router
from ..common.use import Using, needs

router = make_router("projects")
Sort = Literal["fields", "kinds", "marks", "workflows", "lanes", "periods", "blanks"]


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
    carries: list[str] = Field(
        description="Of a field that points to work of other projects the fields of that shown on this side"
    )
    progress: bool = Field(description="Of such a field: the percent done of the task comes from what it is tied to")
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


class WorkflowOut(BaseModel):
    """A way that work goes beside the main one. Its states name it."""

    id: str
    name: str
    kinds: list[str] = Field(description="The kinds of task that go through it")
    branches: list[str] = Field(description="Ids of tasks: all that stands under them goes through it")


class LaneOut(BaseModel):
    """A row of the board."""

    id: str
    name: str
    workflow: str | None = Field(description="Of whose board; null: the main one")
    limit: int | None = Field(description="Of open tasks in it")
    shape: str
    colour: str
    where: dict[str, Any] | None = Field(description="The condition by which tasks fall into it")
    joins: list[list[str]] = Field(description="Runs of columns that are one cell: first and last state")
    skips: list[str] = Field(description="States that its tasks do not pass through")
    cells: dict[str, int] = Field(description="Limits of its cells, by the (first) state")


class PeriodOut(BaseModel):
    """A stretch of the backlog."""

    id: str
    name: str
    first: date | None
    last: date | None


class BlankOut(BaseModel):
    """A prepared task that the add line of a cell offers."""

    id: str
    name: str
    task: dict[str, Any] = Field(description="title (empty: what is typed), kind, fields, checks and below, a list of the same")


class DefinedOut(BaseModel):
    """What a project defines itself."""

    fields: list[FieldOut] = Field(description="Of its own")
    kinds: list[KindOut] = Field(description="Of its own, beside those that every project has")
    marks: list[MarkOut]
    workflows: list[WorkflowOut] = Field(description="Beside the main one")
    lanes: list[LaneOut]
    periods: list[PeriodOut] = Field(description="Of the backlog")
    blanks: list[BlankOut]


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
    carries: list[Annotated[str, Field(max_length=80)]] = Field([], max_length=MOST_CARRIED)
    progress: bool = False


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


Limit = Annotated[int, Field(ge=1, le=LARGEST_LIMIT)]


class WorkflowSettings(BaseModel):
    """What can be set of a workflow."""

    model_config = ConfigDict(extra="forbid", strict=True)

    kinds: list[Name] = Field([], max_length=MOST_OF_A_SORT)
    branches: list[Id] = Field([], max_length=MOST_OF_A_SORT)


class LaneSettings(BaseModel):
    """What can be set of a lane."""

    model_config = ConfigDict(extra="forbid", strict=True)

    workflow: Id | None = None
    limit: Limit | None = None
    shape: Name = "square"
    colour: Name = "slate"
    where: dict[str, Any] | None = None
    joins: list[Annotated[list[Id], Field(min_length=2, max_length=2)]] = Field([], max_length=MOST_OF_A_SORT)
    skips: list[Id] = Field([], max_length=MOST_OF_A_SORT)
    cells: dict[Id, Limit] = Field({}, max_length=MOST_OF_A_SORT)


class PeriodSettings(BaseModel):
    """What can be set of a period of the backlog."""

    model_config = ConfigDict(extra="forbid", strict=True)

    first: Annotated[str, Field(max_length=10)] | None = None
    last: Annotated[str, Field(max_length=10)] | None = None


class BlankSettings(BaseModel):
    """What can be set of a blank: the task that it makes, with those below it."""

    model_config = ConfigDict(extra="forbid", strict=True)

    task: dict[str, Any] = Field({}, max_length=5, description=f"{MOST_IN_A_BLANK} tasks at most")


class DefinitionNew(BaseModel):
    """What is to be added. ``settings`` are those of its sort: FieldSettings, KindSettings, MarkSettings, WorkflowSettings,
    LaneSettings, PeriodSettings, BlankSettings."""

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
        **{
            name: getattr(one, name)
            for name in ("id", "name", "type", "help", "unit", "decimals", "formula", "default", "progress")
        },
        carries=list(one.carries),
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


def defined_out(defined: Sequence[Definition]) -> dict[str, Any]:
    """What a project defines, by the names of ``DefinedOut``."""
    plain: dict[str, tuple[type[Any], type[BaseModel]]] = {
        "workflows": (Workflow, WorkflowOut), "lanes": (Lane, LaneOut), "periods": (Period, PeriodOut), "blanks": (Blank, BlankOut),
    }  # fmt: skip
    return {
        "fields": [field_out(one) for one in defined if isinstance(one, CustomField)],
        "kinds": [kind_out(one) for one in defined if isinstance(one, CustomKind)],
        "marks": [mark_out(one) for one in defined if isinstance(one, ProjectMark)],
    } | {
        name: [
            model.model_validate({"id": one.id, "name": one.name, **settings_of(one)}) for one in defined if isinstance(one, sort)
        ]
        for name, (sort, model) in plain.items()
    }


_SETTINGS: dict[Sort, type[BaseModel]] = {
    "fields": FieldSettings, "kinds": KindSettings, "marks": MarkSettings, "workflows": WorkflowSettings, "lanes": LaneSettings,
    "periods": PeriodSettings, "blanks": BlankSettings,
}  # fmt: skip


def _checked(sort: Sort, settings: dict[str, Any]) -> dict[str, Any]:
    """Settings of the form that their sort has. Raises RequestValidationError where they are of another."""
    try:
        return _SETTINGS[sort].model_validate(settings).model_dump(exclude_unset=True)
    except ValidationError as error:
        wrong = [
            {**one, "loc": ("body", "settings", *one["loc"])} for one in error.errors(include_input=False, include_url=False)
        ]
        raise RequestValidationError(wrong) from error


_SORTS: dict[Sort, str] = {
    "fields": "field", "kinds": "kind", "marks": "mark", "workflows": "workflow", "lanes": "lane", "periods": "period",
    "blanks": "blank",
}  # fmt: skip


@router.post("/projects/{code}/defined/{sort}", openapi_extra=needs("manage"), status_code=204)
def add_definition(code: str, sort: Sort, body: DefinitionNew, use: Using) -> None:
    """Add a field, kind or mark; a workflow, lane, period or blank."""
    use.write(custom_fields.add_definition, code, _SORTS[sort], body.id, body.name, _checked(sort, body.settings))


@router.patch("/projects/{code}/defined/{sort}/{definition_id}", openapi_extra=needs("manage"), status_code=204)
def edit_definition(code: str, sort: Sort, definition_id: Id, body: DefinitionEdit, use: Using) -> None:
    """Change it, or move it behind another."""
    changes = body.sent | ({"settings": _checked(sort, body.settings)} if body.settings else {})
    use.write(custom_fields.edit_definition, code, _SORTS[sort], definition_id, changes)


@router.delete("/projects/{code}/defined/{sort}/{definition_id}", openapi_extra=needs("manage"), status_code=204)
def delete_definition(code: str, sort: Sort, definition_id: Id, use: Using, move_to: Id | None = None) -> None:
    """Take it away; what tasks have in a field is kept. What stands in a lane or a period moves to another, or to none; what
    goes through a workflow goes on in another, or in the main one."""
    use.write(custom_fields.delete_definition, code, _SORTS[sort], definition_id, move_to)


@router.post("/projects/{code}/defined/{sort}/{definition_id}/restore", openapi_extra=needs("manage"), status_code=204)
def restore_definition(code: str, sort: Sort, definition_id: Id, use: Using) -> None:
    """Put back what was taken away."""
    use.write(custom_fields.restore_definition, code, _SORTS[sort], definition_id)
