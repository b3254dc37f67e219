"""Tied work: what tasks point to in other projects, and what is carried across."""

from __future__ import annotations

from datetime import datetime

from pydantic import BaseModel, Field

from ...core.tasks.model import Health, StateClass
from ...services.views import tied
from ..common.inputs import make_router
from ..common.use import Using, needs

router = make_router("tied work")


class CarriedOut(BaseModel):
    """One field of the other side."""

    name: str
    called: str
    type: str
    words: str
    field: str | None = Field(description="Under which it is edited in its own project; null where it is only read")


class TiedOut(BaseModel):
    """A task of another project, edited there with its own revision."""

    task_id: str
    code: str
    number: int
    title: str
    revision: int
    kind: str
    state: str
    state_class: StateClass
    health: Health
    percent: int
    finish: datetime | None
    is_summary: bool
    may_edit: bool
    carried: list[CarriedOut]


class TiedFieldOut(BaseModel):
    """What one field of a task is tied to."""

    field_id: str
    name: str
    tied: list[TiedOut]
    hidden: int = Field(description="How many more there are that the reader may not see")


@router.get("/projects/{code}/tied", openapi_extra=needs("see"))
def read_tied(code: str, use: Using) -> dict[str, list[TiedFieldOut]]:
    """By task what it is tied to in other projects, as far as one may see it."""
    found = use.read(tied.read_tied, code)
    return {
        item: [
            TiedFieldOut(field_id=one.field.id, name=one.field.name, tied=[_tied(each) for each in one.tied], hidden=one.hidden)
            for one in fields
        ]
        for item, fields in found.items()
    }


def _tied(one: tied.TiedItem) -> TiedOut:
    task, row = one.row.task, one.row
    return TiedOut(
        task_id=task.id,
        code=one.project.code,
        number=task.number,
        title=task.title,
        revision=task.revision,
        kind=task.kind,
        state=one.state,
        state_class=row.state_class,
        health=row.health,
        percent=row.percent,
        finish=row.finish,
        is_summary=row.is_summary,
        may_edit=one.may_edit,
        carried=[
            CarriedOut(name=each.name, called=each.called, type=each.type, words=each.words, field=each.field)
            for each in one.carried
        ],
    )
