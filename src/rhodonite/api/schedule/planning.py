"""Agreed plans, replanning, soundness."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date, datetime
from typing import Annotated

from fastapi import Query
from fastapi.responses import Response
from pydantic import BaseModel, Field

from ...core.schedule.agreed import AgreedPlan, Difference
from ...services.schedule import agreed, replan
from ..common.inputs import Changes, Day, Id, Ids, Name, make_router
from ..common.use import Using, needs
from ..tasks.tasks import RowsOut, Since, rows_response

Which = Annotated[str, Query(max_length=40)]
router = make_router("planning")


class AgreedOut(BaseModel):
    """A frozen copy of the plan under a name and a day."""

    id: str
    name: str
    day: date
    note: str
    is_current: bool
    person_id: str
    at: datetime


class AgreedNew(BaseModel):
    """The plan as it stands is to be agreed."""

    name: str = Field(max_length=120, examples=["Signed by the council"])
    day: Day
    note: str = Field("", max_length=2000)


class AgreedEdit(Changes):
    """Make an agreed plan the current one, or rename it."""

    is_current: bool | None = None
    name: str | None = Field(None, max_length=120)


class DifferenceOut(BaseModel):
    """A task that stands differently in two plans."""

    id: str
    number: int
    title: str
    kind: str = Field(description="moved, added or gone")
    start_before: datetime | None
    finish_before: datetime | None
    start: datetime | None
    finish: datetime | None
    minutes: int = Field(description="Working minutes by which it finishes later")
    effect: int = Field(description="How many of them reach the finish of the project")


class ComparisonOut(BaseModel):
    """Two plans side by side."""

    finish_before: datetime | None
    finish: datetime | None
    minutes: int
    tasks: list[DifferenceOut]


class ReplanIn(BaseModel):
    """From which day to replan."""

    status_day: Day | None = Field(None, description="At whose opening what is done was looked at; none: now")


class ShiftIn(BaseModel):
    """Shift a project, or a task with all under it, to a new start."""

    task_id: Id | None = None
    start: Day


class ConcernedTask(BaseModel):
    """A task that a check found."""

    id: str
    number: int
    title: str


class CheckOut(BaseModel):
    """A check of the plan's soundness and the tasks concerned."""

    kind: str
    title: str
    says: str
    fix: str = Field(description="What mending does; empty where only a person can")
    tasks: list[ConcernedTask]


class Mend(BaseModel):
    """Mend what a check found at some tasks."""

    kind: Name
    ids: Ids


def difference_out(one: Difference, tasks: Mapping[str, tuple[int, str]]) -> DifferenceOut:
    """A difference with the number and title of its task."""
    number, title = tasks[one.task_id]
    return DifferenceOut(
        id=one.task_id,
        number=number,
        title=title,
        kind=one.kind,
        start_before=one.before.start if one.before else None,
        finish_before=one.before.finish if one.before else None,
        start=one.after.start if one.after else None,
        finish=one.after.finish if one.after else None,
        minutes=one.by,
        effect=one.effect,
    )


def _agreed(plans: list[AgreedPlan]) -> list[AgreedOut]:
    return [AgreedOut(**{name: getattr(one, name) for name in AgreedOut.model_fields}) for one in plans]


@router.get("/projects/{code}/agreed", openapi_extra=needs("see"))
def list_agreed(code: str, use: Using) -> list[AgreedOut]:
    """The agreed plans of a project, the latest first."""
    return _agreed(use.read(agreed.list_agreed, code))


@router.post("/projects/{code}/agreed", openapi_extra=needs("manage"), status_code=201)
def agree(code: str, body: AgreedNew, use: Using) -> list[AgreedOut]:
    """Freeze the plan as it stands, and make it the current agreed plan."""
    use.write(agreed.agree, code, body.name, body.day, body.note)
    return _agreed(use.read(agreed.list_agreed, code))


@router.patch("/projects/{code}/agreed/{plan_id}", openapi_extra=needs("manage"))
def edit_agreed(code: str, plan_id: Id, body: AgreedEdit, use: Using) -> list[AgreedOut]:
    """Make an agreed plan the current one, or none; rename it."""
    use.write(agreed.edit_agreed, code, plan_id, current=body.is_current, name=body.name)
    return _agreed(use.read(agreed.list_agreed, code))


@router.delete("/projects/{code}/agreed/{plan_id}", openapi_extra=needs("manage"))
def delete_agreed(code: str, plan_id: Id, use: Using) -> list[AgreedOut]:
    """Delete an agreed plan."""
    use.write(agreed.delete_agreed, code, plan_id)
    return _agreed(use.read(agreed.list_agreed, code))


@router.get("/projects/{code}/compare", openapi_extra=needs("see"))
def compare(code: str, use: Using, first: Which, second: Which = agreed.NOW) -> ComparisonOut:
    """Two plans side by side: the id of an agreed plan, a day (the plan as it stood when it began), or “now”."""
    found = use.read(agreed.compare, code, first, second)
    return ComparisonOut(
        finish_before=found.finish_before,
        finish=found.finish_after,
        minutes=found.by,
        tasks=[difference_out(one, found.titles) for one in found.differences],
    )


@router.post("/projects/{code}/replan", openapi_extra=needs("edit"), response_model=RowsOut)
def replan_plan(code: str, use: Using, body: ReplanIn | None = None, since: Since = None) -> Response:
    """Copy the forecast of now, or of a status day, into the plan."""
    use.write(replan.replan, code, body.status_day if body else None)
    return rows_response(use, code, since)


@router.post("/projects/{code}/shift", openapi_extra=needs("edit"), response_model=RowsOut)
def shift(code: str, body: ShiftIn, use: Using, since: Since = None) -> Response:
    """Shift a task with all under it to a new start; the whole project, which needs its lead."""
    use.write(replan.shift, code, body.task_id, body.start)
    return rows_response(use, code, since)


@router.get("/projects/{code}/soundness", openapi_extra=needs("see"))
def read_soundness(code: str, use: Using) -> list[CheckOut]:
    """Checks of the plan's soundness, each with the tasks concerned."""
    checks, names = use.read(replan.read_soundness, code)
    return [
        CheckOut(
            kind=one.kind,
            title=one.title,
            says=one.says,
            fix=one.fix,
            tasks=[ConcernedTask(id=task, number=names[task][0], title=names[task][1]) for task in one.tasks],
        )
        for one in checks
    ]


@router.post("/projects/{code}/soundness/mend", openapi_extra=needs("edit"), response_model=RowsOut)
def mend(code: str, body: Mend, use: Using, since: Since = None) -> Response:
    """Mend what a check found at some tasks."""
    use.write(replan.mend_tasks, code, body.kind, body.ids)
    return rows_response(use, code, since)
