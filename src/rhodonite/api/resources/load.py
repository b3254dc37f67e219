"""The load of people, and what lies behind it."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Any, Literal

from fastapi import Query
from pydantic import BaseModel, Field

from ...core.resources.load import By
from ...services.resources import load, mends
from ...services.resources.load import Count
from ..common.inputs import Day, Id, make_router
from ..common.use import Using, needs
from ..tasks.tasks import TaskRow, row_out

router = make_router("resources")


class LoadLineOut(BaseModel):
    """The load of one person, crew or role, by column: minutes, or where tasks are counted their number."""

    who: str = Field(description="Empty for hours that are not given to anyone")
    kind: Literal["person", "resource", "material", "nobody"]
    name: str
    team: str
    unit: str = Field("", description="Of a material, whose amounts are thousandths of it")
    capacity: list[int]
    away: list[int] = Field(description="Minutes that could be booked but for absences")
    bands: dict[str, list[int]] = Field(description="By code of the project")
    other: list[int] = Field(description="Of projects that one may not see")
    over: list[int] = Field(description="Minutes beyond capacity, summed by day")
    days_over: int


class LoadOut(BaseModel):
    """The load of many."""

    columns: list[date] = Field(description="The first day of each")
    end: date = Field(description="The day after the last column")
    projects: dict[str, str] = Field(description="Names by code")
    lines: list[LoadLineOut] = Field(description="People by team, then crews and roles, then what nobody has")
    undated: int = Field(description="Tasks with bookings that have no dates, and so lie nowhere")


class CellTaskOut(BaseModel):
    """One task behind a load."""

    code: str
    row: TaskRow
    minutes: int = Field(description="Of this person on it, within the days asked for")
    booked: int = Field(description="Their minutes on it in all")
    outside: int = Field(description="Minutes that lie where person and task have no time in common")
    may_edit: bool


class CellOut(BaseModel):
    """What lies on one person from one day to another."""

    tasks: list[CellTaskOut]
    other: int = Field(description="Minutes of projects that one may not see")
    capacity: int


class MendEffectOut(BaseModel):
    """What a mend does to one person."""

    who: str
    more: int
    less: int


class MendStepOut(BaseModel):
    """A change of one task."""

    kind: Literal["move", "give", "stretch", "split"]
    row: TaskRow
    fields: dict[str, Any] = Field(description="To be sent as an edit of the task")
    days: int = Field(description="Working days by which the task moves or lasts longer, or on which it rests")
    minutes: int = Field(description="Minutes that are given")
    to: str | None
    free: int = Field(description="Minutes that the other has free in those days")
    done: int = Field(description="Finished tasks of such a title that the other worked on")


class MendOut(BaseModel):
    """A way to take an overload away, or a part of it, with its whole effect."""

    code: str
    steps: list[MendStepOut] = Field(description="The changes that it takes, sent together")
    relief: int = Field(description="Minutes over that it takes away")
    remains: int = Field(description="Minutes over that are left on these days")
    others: int = Field(description="Other tasks that move")
    finish_before: date
    finish: date
    people: list[MendEffectOut]


Everywhere = Annotated[bool, Query(description="False: of this project alone")]


def _out(found: load.Load) -> LoadOut:
    edges = [date.fromordinal(edge) for edge in found.span.edges]
    return LoadOut(
        columns=edges[:-1],
        end=edges[-1],
        projects=found.projects,
        lines=[
            LoadLineOut(
                who=one.id, kind=one.kind, name=one.name, team=one.team, unit=one.unit, capacity=each.capacity, away=each.away,
                bands=each.bands, other=each.other, over=each.over, days_over=each.days_over,
            )
            for one, each in zip(found.who, found.lines, strict=True)
        ],
        undated=found.undated,
    )  # fmt: skip


def _cell(found: load.Cell) -> CellOut:
    tasks = [
        CellTaskOut(
            code=one.project.code, row=row_out(one.row), minutes=one.minutes, booked=one.booked, outside=one.outside,
            may_edit=one.may_edit,
        )
        for one in found.tasks
    ]  # fmt: skip
    return CellOut(tasks=tasks, other=found.other, capacity=found.capacity)


@router.get("/projects/{code}/load", openapi_extra=needs("see"))
def read_project_load(
    code: str, use: Using, first: Day, last: Day, by: By = "day", count: Count = "hours", everywhere: Everywhere = True
) -> LoadOut:
    """The load of a project's people, over all projects or this one alone."""
    return _out(use.read(load.read_load, code, first, last, by, everywhere=everywhere, count=count))


@router.get("/load", openapi_extra=needs("see_people"))
def read_load(use: Using, first: Day, last: Day, by: By = "day", count: Count = "hours") -> LoadOut:
    """The load of everybody over all projects; those that one may not see count without names."""
    return _out(use.read(load.read_load, None, first, last, by, count=count))


@router.get("/projects/{code}/load/tasks", openapi_extra=needs("see"))
def read_project_cell(
    code: str, use: Using, first: Day, last: Day, who: Id | Literal["nobody"] = "nobody", everywhere: Everywhere = True
) -> CellOut:
    """The bookings behind the load of one person of a project."""
    return _cell(use.read(load.read_cell, code, _who(who), first, last, everywhere=everywhere))


@router.get("/load/tasks", openapi_extra=needs("see_people"))
def read_cell(use: Using, first: Day, last: Day, who: Id | Literal["nobody"] = "nobody") -> CellOut:
    """The bookings behind the load of one person."""
    return _cell(use.read(load.read_cell, None, _who(who), first, last))


def _mend(one: mends.Offered) -> MendOut:
    steps = [
        MendStepOut(
            kind=mend.kind,
            row=row_out(row),
            fields=dict(mend.fields),
            days=mend.days,
            minutes=mend.minutes,
            to=mend.to,
            free=mend.free,
            done=mend.done,
        )
        for mend, row in one.steps
    ]
    return MendOut(
        code=one.project.code, steps=steps, relief=one.relief, remains=one.remains, others=one.others,
        finish_before=one.finish_before, finish=one.finish,
        people=[MendEffectOut(who=each.who, more=each.more, less=each.less) for each in one.people],
    )  # fmt: skip


@router.get("/projects/{code}/load/mends", openapi_extra=needs("see"))
def read_project_mends(code: str, use: Using, who: Id, first: Day, last: Day, everywhere: Everywhere = True) -> list[MendOut]:
    """Ways to take away by how much somebody of a project is over, in projects that one may edit: the least harmful first."""
    return [_mend(one) for one in use.read(mends.find_mends, code, who, first, last, everywhere=everywhere)]


@router.get("/load/mends", openapi_extra=needs("see_people"))
def read_mends(use: Using, who: Id, first: Day, last: Day) -> list[MendOut]:
    """Ways to take away by how much somebody is over, in projects that one may edit."""
    return [_mend(one) for one in use.read(mends.find_mends, None, who, first, last)]


def _who(who: str) -> str:
    return "" if who == "nobody" else who
