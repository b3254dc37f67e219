"""What lenses show besides rows: the scope, the horizon, the brief, one task, what happened, the desk."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Any

import orjson
from fastapi import Query, Request
from fastapi.responses import Response
from pydantic import BaseModel, Field

from ...core.overview.horizon import Horizon
from ...core.schedule.plan import Row
from ...core.talk.notices import Following
from ...core.tasks.health import PROJECT_RULE
from ...core.tasks.model import Health
from ...core.views.scope import Scope
from ...formats.rows import json_around, json_array
from ...services.common.context import Clock
from ...services.overview import desk, lenses
from ..common.inputs import Id, make_router
from ..common.packed import packed
from ..common.use import Using, needs
from ..talk.parts import ChecklistOut, CommentOut, FileOut, FollowerOut, RelatedOut, hanging_out
from ..tasks.tasks import RowsOut, TaskRow, read_mark, row_out, rows_document
from ..views.asked import Scoped

router = make_router("lenses")


class FactsOut(BaseModel):
    """The facts of the title line."""

    health: Health
    health_rule: str
    percent: int
    start: datetime | None
    finish: datetime | None
    tasks: int
    finished: int
    late: int
    unowned: int
    held: int
    forecast: datetime | None = Field(description="The finish to be expected from what has been done by now")
    agreed: datetime | None = Field(description="The finish of the current agreed plan")
    agreed_days: int = Field(description="Working days by which the planned finish lies after the agreed one")
    forecast_days: int = Field(description="Working days by which the forecast finish lies after the planned one")
    next_milestone: TaskRow | None


class StateCountOut(BaseModel):
    """How many tasks of the scope stand in a state, and since when the one that stands longest does."""

    state_id: str
    tasks: int
    oldest_since: datetime | None


class ScopeOut(BaseModel):
    """What a scope sentence leaves. ``ids`` is null where it leaves nothing out."""

    ids: list[str] | None
    shown: int
    total: int
    late: int
    unowned: int
    held: int
    states: list[StateCountOut]
    facts: FactsOut
    revision: int


class WeekOut(BaseModel):
    """One week of the horizon."""

    monday: date
    tasks: int
    finishing: int
    late: int


class HorizonOut(BaseModel):
    """The strip of time above every lens."""

    weeks: list[WeekOut]
    milestones: list[TaskRow]


class PageOut(BaseModel):
    """What every page of a project shows."""

    rows: RowsOut
    scope: ScopeOut
    horizon: HorizonOut


PageMark = Annotated[str | None, Query(max_length=60, description="The mark of the rows that one holds; none: all rows")]


class PointOut(BaseModel):
    """One day of done against plan, in percent of the work there is now."""

    day: date
    planned: float
    done: float | None


class LastChange(BaseModel):
    """Who changed something last."""

    person_id: str
    at: datetime
    what: str


class OverloadOut(BaseModel):
    """By how much somebody is booked over in a week, by all of their work."""

    who: str
    monday: date
    minutes: int


class BriefOut(BaseModel):
    """How a project stands. In the reading, ``**`` marks what is set in bold."""

    reading: str
    over: list[OverloadOut] = Field(description="Of the project's people, in the weeks ahead, the worst first")
    facts: FactsOut
    late: list[TaskRow]
    due: list[TaskRow]
    unowned: list[TaskRow]
    held: list[TaskRow]
    states: list[StateCountOut]
    curve: list[PointOut]
    last_change: LastChange | None


class HappeningOut(BaseModel):
    """One change in words."""

    id: str
    revision: int
    person_id: str
    at: datetime
    what: str
    lines: list[str]
    may_undo: bool = Field(description="True where the person who asks is offered to take it back")
    task_ids: list[str]
    undone: bool


class NeighbourOut(BaseModel):
    """A task at the other end of a link."""

    id: str
    number: int
    title: str
    state_class: str
    percent: int
    finish: datetime | None


class NamedInOut(BaseModel):
    """A task that names another in a field that points to tasks."""

    field: str
    task: NeighbourOut


def _neighbour(row: Row) -> NeighbourOut:
    return NeighbourOut(
        id=row.task.id,
        number=row.task.number,
        title=row.task.title,
        state_class=row.state_class,
        percent=row.percent,
        finish=row.finish,
    )


class TaskOut(BaseModel):
    """One task in full."""

    code: str
    row: TaskRow
    outline: str
    above: list[dict[str, str]]
    description: str
    reading: str
    history: list[HappeningOut]
    created_by: str | None
    comments: list[CommentOut]
    files: list[FileOut]
    checklists: list[ChecklistOut]
    relations: list[RelatedOut]
    followers: list[FollowerOut]
    waits_for: list[NeighbourOut]
    awaited_by: list[NeighbourOut]
    computed: dict[str, str] = Field(description="Of the project's computed fields, by id, in words")
    named_in: list[NamedInOut] = Field(description="The tasks that name it in a field that points to tasks")
    following: Following | None = Field(description="What one said of following it oneself")


class DeskItemOut(BaseModel):
    """One task on the desk."""

    code: str
    state: str
    row: TaskRow
    section: str
    mine: bool
    time: bool = Field(description="True where time can be entered on it")


class DeskOut(BaseModel):
    """One person's open work over all projects."""

    items: list[DeskItemOut]
    horizon: HorizonOut
    over: str = Field(description="That one is booked for too much in the weeks ahead, in words; empty where one is not")


def _facts(facts: lenses.Facts) -> FactsOut:
    sums = facts.sums
    return FactsOut(
        health=facts.health,
        health_rule=PROJECT_RULE,
        percent=sums.percent,
        start=sums.start,
        finish=sums.finish,
        tasks=sums.tasks,
        finished=sums.finished,
        late=sums.late,
        unowned=sums.unowned,
        held=sums.held,
        forecast=facts.forecast,
        agreed=facts.agreed,
        agreed_days=facts.agreed_days,
        forecast_days=facts.forecast_days,
        next_milestone=row_out(facts.next_milestone) if facts.next_milestone else None,
    )


def _states(counts: list[lenses.StateCount]) -> list[StateCountOut]:
    return [StateCountOut(state_id=c.state_id, tasks=c.tasks, oldest_since=c.oldest_since) for c in counts]


def _horizon(horizon: Horizon) -> HorizonOut:
    return HorizonOut(
        weeks=[WeekOut(monday=w.monday, tasks=w.tasks, finishing=w.finishing, late=w.late) for w in horizon.weeks],
        milestones=[row_out(row) for row in horizon.milestones],
    )


def _happening(use: Any, happening: lenses.Happening) -> HappeningOut:
    change = happening.change
    return HappeningOut(
        id=change.id,
        revision=change.revision,
        person_id=change.person_id,
        at=use.actor.clock.local(change.at),
        what=change.what,
        lines=happening.lines,
        may_undo=happening.may_undo,
        task_ids=happening.subjects,
        undone=change.undone_by is not None,
    )


def _said(answer: BaseModel) -> bytes:
    return answer.model_dump_json().encode()


def _scope(answer: lenses.ScopeAnswer, scope: Scope) -> ScopeOut:
    chosen = answer.selection
    return ScopeOut(
        ids=None if scope.is_everything else chosen.ids,
        shown=chosen.shown,
        total=chosen.total,
        late=chosen.late,
        unowned=chosen.unowned,
        held=chosen.held,
        states=_states(answer.states),
        facts=_facts(answer.facts),
        revision=answer.revision,
    )


@router.get("/projects/{code}/page", openapi_extra=needs("see"), response_model=PageOut)
def read_page(code: str, use: Using, request: Request, scope: Scoped, mark: PageMark = None) -> Response:
    """What a page of a project shows: its rows or what changed of them, what the sentence leaves, the horizon."""
    since = read_mark(mark)
    page = use.read(lenses.read_page, code, scope)

    def around() -> bytes:
        said = _scope(page.scope(), scope), _horizon(page.horizon())
        return b',"scope":%s,"horizon":%s}' % tuple(map(_said, said))

    def whole() -> bytes:
        return b'{"rows":' + rows_document(page.held, since) + page.held.answers.once(page.asked, around)

    return packed(request, page.held, (page.asked, since), whole)


@router.get("/projects/{code}/scope", openapi_extra=needs("see"))
def read_scope(code: str, use: Using, scope: Scoped) -> ScopeOut:
    """Which tasks of a project are within a scope, and the facts of the project."""
    return _scope(use.read(lenses.read_page, code, scope).scope(), scope)


@router.get("/projects/{code}/horizon", openapi_extra=needs("see"))
def read_horizon(code: str, use: Using, scope: Scoped) -> HorizonOut:
    """The horizon: weeks and milestones of the work within a scope."""
    return _horizon(use.read(lenses.read_page, code, scope).horizon())


def _brief(page: lenses.BriefPage, clock: Clock) -> BriefOut:
    brief, last = page.brief, page.brief.last_change
    return BriefOut(
        reading=" ".join(filter(None, (brief.reading, page.over_said, page.cost_said))),
        over=[OverloadOut(who=one.who, monday=one.monday, minutes=one.minutes) for one in page.over],
        facts=_facts(brief.facts),
        late=[row_out(row) for row in brief.late],
        due=[row_out(row) for row in brief.due],
        unowned=[row_out(row) for row in brief.unowned],
        held=[row_out(row) for row in brief.held],
        states=_states(brief.states),
        curve=[
            PointOut(day=p.day, planned=round(p.planned, 2), done=None if p.done is None else round(p.done, 2))
            for p in brief.curve
        ],
        last_change=LastChange(person_id=last.person_id, at=clock.local(last.at), what=last.what) if last else None,
    )


@router.get("/projects/{code}/brief", openapi_extra=needs("see"), response_model=BriefOut)
def read_brief(code: str, use: Using, request: Request) -> Response | BriefOut:
    """How a project stands."""
    page = use.read(lenses.read_brief, code)
    if page.asked is None:
        return _brief(page, use.actor.clock)
    return packed(request, page.held, ("said", page.asked), lambda: _said(_brief(page, use.actor.clock)))


@router.get("/projects/{code}/activity", openapi_extra=needs("see"))
def read_activity(code: str, use: Using, before: Annotated[int, Query(ge=0, le=2**31 - 1)] | None = None) -> list[HappeningOut]:
    """What happened in a project, the latest first. ``before`` is the revision to go on from."""
    return [_happening(use, one) for one in use.read(lenses.read_activity, code, before)]


@router.get("/tasks/{task_id}", openapi_extra=needs("see"))
def read_task(task_id: Id, use: Using) -> TaskOut:
    """One task in full."""
    detail = use.read(lenses.read_task, task_id)
    return TaskOut(
        code=detail.project.code,
        row=row_out(detail.row),
        outline=detail.number,
        above=[{"id": one, "title": title} for one, title in detail.above],
        description=detail.description,
        reading=detail.reading,
        history=[_happening(use, one) for one in detail.history],
        created_by=detail.created_by,
        waits_for=[_neighbour(row) for row in detail.waits_for],
        awaited_by=[_neighbour(row) for row in detail.awaited_by],
        computed=detail.computed,
        named_in=[NamedInOut(field=name, task=_neighbour(row)) for name, row in detail.named_in],
        **hanging_out(use.actor, detail.hanging),
    )


@router.get("/desk", openapi_extra=needs("person"), response_model=DeskOut)
def read_desk(use: Using) -> Response:
    """What one owns or helps with and is not finished, over all projects."""
    found = use.read(desk.read_desk)
    items = json_array([_desk_item(one) for one in found.items])
    horizon = _horizon(found.horizon).model_dump_json().encode()
    return Response(
        b'{"items":%s,"horizon":%s,"over":%s}' % (items, horizon, orjson.dumps(found.over)), media_type="application/json"
    )


def _desk_item(item: desk.DeskItem) -> bytes:
    """In the form of DeskItemOut."""
    state = item.project.state(item.row.state_id).name
    values = {"code": item.project.code, "state": state, "section": item.section, "mine": item.mine, "time": item.project.time}
    return json_around(values, "row", item.encoded)
