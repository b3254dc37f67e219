"""Similar finished work, and help with texts."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import Request
from pydantic import BaseModel, Field

from ...core.overview.similar import Range
from ...formats.html import clean
from ...services.overview import similar
from ...standins.text_help import TextHelp
from ..common.inputs import Id, make_router
from ..common.use import Using, needs

router = make_router("tasks")


class RangeOut(BaseModel):
    """Minutes: the least, the middle and the most."""

    least: int
    middle: int
    most: int


class SimilarTask(BaseModel):
    """A finished task that is like another."""

    id: str
    code: str
    number: int
    title: str
    took: int | None = Field(description="Working minutes from its start to its finish")
    effort: int | None = Field(description="Minutes that were planned")
    spent: int | None = Field(description="Minutes that people entered")
    alike: float = Field(description="From 0 to 1")


class SimilarOut(BaseModel):
    """Finished work that is like a task, and the ranges of what it took."""

    tasks: list[SimilarTask]
    took: RangeOut | None
    effort: RangeOut | None
    spent: RangeOut | None
    estimate: int | None = Field(
        description="Minutes that the task may be estimated at: the median of what was spent, else planned"
    )


class DescriptionIn(BaseModel):
    """What a description is to be made of."""

    points: list[Annotated[str, Field(max_length=2000)]] = Field(
        max_length=40, examples=[["Twelve bars in gunmetal", "old profile"]]
    )
    tone: Literal["plain", "friendly", "formal"] = "plain"
    length: Literal["short", "medium", "long"] = "medium"
    again: int = Field(0, ge=0, le=1000, description="How often one was asked for before")


class DescriptionOut(BaseModel):
    """A proposed description. Nothing has been inserted."""

    html: str
    source: str = Field(description="Who wrote it: “stand-in”, or the address of the service")


class TasksIn(BaseModel):
    """How often tasks were asked for before."""

    again: int = Field(0, ge=0, le=1000)


class TasksOut(BaseModel):
    """Proposed tasks. Nothing has been inserted."""

    titles: list[str]
    source: str


def _range(one: Range | None) -> RangeOut | None:
    return RangeOut(least=one.least, middle=one.middle, most=one.most) if one else None


def _help(request: Request) -> TextHelp:
    return request.app.state.text_help  # type: ignore[no-any-return]


@router.get("/tasks/{task_id}/similar", openapi_extra=needs("see"))
def read_similar(task_id: Id, use: Using) -> SimilarOut:
    """Finished work that is like a task, with the range of durations and effort that it took."""
    found = use.read(similar.read_similar, task_id)
    return SimilarOut(
        tasks=[
            SimilarTask(
                id=one.work.id,
                code=found.projects[one.work.project_id].code,
                number=one.work.number,
                title=one.work.title,
                took=one.work.took,
                effort=one.work.effort,
                spent=one.work.spent,
                alike=one.alike,
            )
            for one in found.found
        ],
        took=_range(found.took),
        effort=_range(found.effort),
        spent=_range(found.spent),
        estimate=found.estimate,
    )


@router.post("/tasks/{task_id}/proposals/description", openapi_extra=needs("see"))
def propose_description(task_id: Id, body: DescriptionIn, use: Using, request: Request) -> DescriptionOut:
    """Propose a description from talking points. It only proposes."""
    wish = use.read(similar.description_wish, task_id, body.points, body.tone, body.length, body.again)
    proposed = _help(request).describe(wish)
    return DescriptionOut(html=clean(proposed.html), source=proposed.source)


@router.post("/tasks/{task_id}/proposals/tasks", openapi_extra=needs("see"))
def propose_tasks(task_id: Id, body: TasksIn, use: Using, request: Request) -> TasksOut:
    """Propose tasks that a task could be made of. It only proposes."""
    proposed = _help(request).propose_tasks(use.read(similar.tasks_wish, task_id, body.again))
    return TasksOut(titles=list(proposed.titles), source=proposed.source)
