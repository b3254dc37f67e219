"""The ripple: what a change carries on, as it is shown before it is applied."""

from __future__ import annotations

from datetime import date, datetime
from decimal import Decimal
from typing import Annotated, Any

from fastapi import FastAPI, Query, Request
from fastapi.responses import Response
from pydantic import BaseModel, Field

from ...core.common.bounds import MOST_PEOPLE
from ...core.common.calendars import datetime_of
from ...core.cost.money import to_amount
from ...core.schedule.ripple import Move
from ...core.tasks.typed_fields import LONGEST_WAITS
from ...services.schedule import planning
from ...services.schedule.reschedule import NeedsConsent, RippleAnswer
from ..common.inputs import MB, Id, make_router
from ..common.problems import problem
from ..common.use import Using, needs
from ..tasks.tasks import LinkOut, TasksEdit

Typed = Annotated[str, Query(max_length=LONGEST_WAITS)]
router = make_router("planning")

MOST_GOALS = 20
MOST_MOVES = 2000
"""As many moves are told one by one; the count tells of all."""


class MoveOut(BaseModel):
    """A task that stands elsewhere than before."""

    id: str
    title: str
    start_before: datetime | None
    finish_before: datetime | None
    start: datetime | None
    finish: datetime | None
    minutes: int = Field(description="Working minutes by which it moves; less than nothing: to an earlier time")
    touched: bool = Field(description="True where it is this task that was changed")


class NamedTask(BaseModel):
    """A task by its title."""

    id: str
    title: str


class WaitingOut(NamedTask):
    """A task that cannot stand where it was put."""

    wanted: datetime
    start: datetime
    waits_for: str | None


class EffectOut(BaseModel):
    """What a change does to one person."""

    who: str
    more: int = Field(description="Minutes over capacity that it brings")
    less: int = Field(description="Minutes over capacity that it takes away")
    first: date
    last: date


class PassedOut(BaseModel):
    """A budget that a change passes."""

    id: str = Field(description="Of the project or of a task")
    title: str = Field(description="Empty for the project")
    by: Decimal


class MoneyOut(BaseModel):
    """What a change does to money."""

    currency: str
    planned_before: Decimal
    planned: Decimal
    at_completion_before: Decimal
    at_completion: Decimal
    passed: list[PassedOut] = Field(description="Budgets that are passed at completion by the change and were not before")
    kept: list[NamedTask] = Field(description="Budgets that were passed and are no longer; the project without a title")


class EndangeredOut(BaseModel):
    """A goal of which something would come too late by a change, or no longer does."""

    id: str
    title: str
    last: date = Field(description="The day on which it ends")
    worst: str | None = Field(description="What of it would be finished last")
    finish: datetime | None
    count: int = Field(description="How many of those that it counts come too late only now")
    saved: int = Field(description="How many no longer do")


class RippleOut(BaseModel):
    """What a change carries on."""

    revision: int = Field(description="Of the project that it was made from: send it to apply what was shown")
    moved: int = Field(description="Tasks that move besides those touched")
    moves: list[MoveOut]
    finish_before: datetime
    finish: datetime
    milestones: list[MoveOut]
    deadlines_missed: list[NamedTask]
    deadlines_met: list[NamedTask]
    pins_contradicted: list[NamedTask]
    became_critical: list[NamedTask]
    no_longer_critical: list[NamedTask]
    people: list[EffectOut] = Field(description="Who becomes over, or no longer is, where hours are planned")
    money: MoneyOut | None = Field(description="Null where nothing of it changes, and for who may not see cost")
    goals: list[EndangeredOut]
    announced: list[str] = Field(description="What the change does besides, in sentences")
    waiting: list[WaitingOut]
    can_alone: bool = Field(description="True where “only” can be")
    alone: list[str] = Field(description="All that “only” does, in words, where “alone” asked for it")
    can_try: bool = Field(description="True where a draft can keep the change")


class WhyOut(BaseModel):
    """Why a task stands where it does, in words, with what it waits for and what waits for it."""

    start: str
    slack: str
    conflicts: list[str]
    late_start: datetime | None
    late_finish: datetime | None
    free_slack: int | None
    forecast_start: datetime | None
    forecast_finish: datetime | None


class UnderstoodLink(LinkOut):
    """A typed link, with what was understood."""

    words: str


def ripple_out(answer: RippleAnswer) -> RippleOut:
    """An answer as the API gives it."""
    touched = set(answer.touched)
    titles = answer.titles

    def move(one: Move) -> MoveOut:
        return MoveOut(
            id=one.task,
            title=titles[one.task],
            start_before=_at(one.start_before),
            finish_before=_at(one.finish_before),
            start=_at(one.start_after),
            finish=_at(one.finish_after),
            minutes=one.by,
            touched=one.task in touched,
        )

    def named(ids: list[str]) -> list[NamedTask]:
        return [NamedTask(id=one, title=titles[one]) for one in ids]

    result = answer.ripple
    return RippleOut(
        revision=answer.revision,
        moved=sum(one.task not in touched for one in result.moved),
        moves=[move(one) for one in result.moved[:MOST_MOVES]],
        finish_before=datetime_of(result.finish_before),
        finish=datetime_of(result.finish_after),
        milestones=[move(one) for one in result.milestones],
        deadlines_missed=named(result.deadlines_missed),
        deadlines_met=named(result.deadlines_met),
        pins_contradicted=named(result.pins_contradicted),
        became_critical=named(result.became_critical),
        no_longer_critical=named(result.no_longer_critical),
        people=[
            EffectOut(who=one.who, more=one.more, less=one.less, first=one.first, last=one.last)
            for one in answer.people[:MOST_PEOPLE]
        ],
        money=_money(answer),
        goals=[
            EndangeredOut(
                id=one.goal_id,
                title=one.title,
                last=one.last,
                worst=titles[one.worst] if one.worst else None,
                finish=one.finish,
                count=one.count,
                saved=one.saved,
            )
            for one in answer.goals[:MOST_GOALS]
        ],
        announced=answer.announced,
        waiting=[
            WaitingOut(id=one.task, title=titles[one.task], wanted=one.wanted, start=one.start, waits_for=one.waits_for)
            for one in answer.waiting
        ],
        can_alone=answer.can_alone,
        alone=answer.alone,
        can_try=answer.can_try,
    )


def _money(answer: RippleAnswer) -> MoneyOut | None:
    found = answer.money
    if not found:
        return None

    def amount(minor: int) -> Decimal:
        return to_amount(minor, found.decimals)

    return MoneyOut(
        currency=found.currency,
        planned_before=amount(found.planned_before),
        planned=amount(found.planned),
        at_completion_before=amount(found.at_completion_before),
        at_completion=amount(found.at_completion),
        passed=[PassedOut(id=one, title=answer.titles.get(one, ""), by=amount(by)) for one, by in found.passed],
        kept=[NamedTask(id=one, title=answer.titles.get(one, "")) for one in found.kept],
    )


def _at(minute: int | None) -> datetime | None:
    return None if minute is None else datetime_of(minute)


def add_handler(app: FastAPI) -> None:
    """Turn a change that wants to be seen first into a problem document with its ripple."""

    @app.exception_handler(NeedsConsent)
    def ripple(_: Request, error: NeedsConsent) -> Response:
        return problem(409, "ripple", error.sentence, ripple=ripple_out(error.answer).model_dump(mode="json"))


@router.post("/projects/{code}/ripple", openapi_extra=needs("edit", 8 * MB))
def preview_ripple(code: str, body: TasksEdit, use: Using) -> RippleOut:
    """What edits of tasks would carry on. Nothing is changed."""
    edits: list[tuple[str, dict[str, Any]]] = [(one.id, one.fields) for one in body.tasks]
    return ripple_out(use.read(planning.preview_ripple, code, edits))


@router.get("/tasks/{task_id}/why", openapi_extra=needs("see"))
def read_why(task_id: Id, use: Using) -> WhyOut:
    """Why a task stands where it does."""
    return WhyOut(**use.read(planning.read_why, task_id))


@router.get("/projects/{code}/waits-for", openapi_extra=needs("see"))
def understand_links(code: str, text: Typed, use: Using, task_id: Id | None = None) -> list[UnderstoodLink]:
    """What is understood of a text such as ``12 + 2 days, start with 15``."""
    found = use.read(planning.understand_links, code, text, task_id)
    return [
        UnderstoodLink(from_id=link.from_id, type=link.type, lag=link.lag, elapsed=link.elapsed, words=words)
        for link, words in found
    ]
