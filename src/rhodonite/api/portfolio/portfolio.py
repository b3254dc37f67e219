"""Portfolios: what they join, and what they show."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from fastapi.responses import Response
from pydantic import BaseModel, Field

from ...core.common.counts import count_of
from ...core.common.dates import say_day
from ...core.portfolio.items import Item
from ...core.tasks.model import Health, StateClass
from ...formats.portfolio_pdf import write_portfolio_pdf
from ...services.common.context import new_id
from ...services.portfolio import parts, shown, tables
from ...services.tasks import projects
from ..common.inputs import After, Changes, Id, make_router
from ..common.tables import TableKind, table_answer, writer_of
from ..common.use import Using, needs
from ..tasks.custom_fields import MarkOut, mark_out
from ..tasks.projects import CodeOut, ProjectNew

router = make_router("portfolios")
Shows = Annotated[str, Field(max_length=80, examples=["deliverables", "kind:defect", "level:2"])]
States = Annotated[dict[Id, Id], Field(max_length=100, description="By a state of the part the state in whose column it stands")]


class PartNew(BaseModel):
    """A project, or another portfolio, that is to be joined."""

    id: Id = Field(default_factory=new_id)
    code: str = Field(max_length=20)
    shows: Shows = "deliverables"
    states: States = {}


class PartEdit(Changes):
    """What changes of a part; ``after_id`` is the one to stand behind, null the first place."""

    may_be_null = frozenset({"after_id"})

    shows: Shows | None = None
    states: States | None = None
    after_id: After = None


class StandsOut(BaseModel):
    """A column of the portfolio: a state of its main workflow."""

    id: str
    name: str
    state_class: StateClass


class HoldsUpOut(BaseModel):
    """The task that has to move first, at the bottom of the tree."""

    task_id: str
    code: str
    number: int
    title: str
    owner_id: str | None
    path: list[str] = Field(description="Titles of what stands between, from the item down")
    why: str
    itself: bool = Field(description="True where it is the item itself")


class PortfolioItemOut(BaseModel):
    """A larger item of the portfolio, or of a part what is shown of it."""

    task_id: str
    code: str
    number: int
    title: str
    kind: str
    owner_id: str | None
    revision: int
    column: str | None
    state: str
    state_id: str
    state_class: StateClass
    lane_id: str | None = Field(description="Of the portfolio’s own board, by hand or by rule")
    health: Health
    percent: int
    start: datetime | None
    finish: datetime | None
    expected: datetime | None = Field(description="When it is expected to finish, from what has been done by now")
    promised: datetime | None = Field(description="The agreed finish; where there is none the deadline")
    past: int | None = Field(description="Working days by which it is expected after that")
    late_days: int
    held: str | None
    troubled: bool = Field(description="Late, held, slipping, or expected after what was promised")
    marks: list[str]
    tasks_below: int
    finished_below: int
    holds_up: HoldsUpOut | None
    needs: list[str] = Field(description="Items of the same part that it waits for")
    tied: list[str] = Field(description="Tasks of other projects that it is tied to, also those that are not shown")


class PartOut(BaseModel):
    """A part as a whole."""

    id: str
    code: str
    name: str
    portfolio: bool
    shows: str
    states: dict[str, str]
    depth: int
    through: str = Field(description="The portfolio by which it comes in; empty for this one, and where one may not see that")
    may_mark: bool
    marks: list[MarkOut] = Field(description="Those that its team puts on tasks")
    health: Health
    percent: int
    start: datetime | None
    finish: datetime | None
    expected: datetime | None
    agreed: datetime | None
    agreed_days: int
    late: int
    held: int
    items: int


class PortfolioOut(BaseModel):
    """A portfolio as one may see it."""

    columns: list[StandsOut]
    parts: list[PartOut]
    items: list[PortfolioItemOut] = Field(description="Its own first, then those of the parts in their order")
    hidden_parts: int = Field(description="How many more parts there are that one may not see")
    hidden_items: int = Field(description="How many more items these have")


@router.post("/portfolios", openapi_extra=needs("create_project"), status_code=201)
def start_portfolio(body: ProjectNew, use: Using) -> CodeOut:
    """Start a portfolio."""
    return CodeOut(code=use.write(parts.start_portfolio, projects.NewProject(**body.model_dump())))


@router.get("/projects/{code}/portfolio", openapi_extra=needs("see"))
def read_portfolio(code: str, use: Using) -> PortfolioOut:
    """The items of a portfolio and of its parts, to any depth, with what holds each up."""
    found = use.read(shown.read_portfolio, code)
    there = {one.row.task.id for one in found.items}
    return PortfolioOut(
        columns=[StandsOut(id=s.id, name=s.name, state_class=s.state_class) for s in found.project.states_of(None)],
        parts=[_part(one) for one in found.parts],
        items=[_item(one, there) for one in found.items],
        hidden_parts=found.hidden_parts,
        hidden_items=found.hidden_items,
    )


@router.get("/projects/{code}/portfolio.pdf", openapi_extra=needs("see"), response_class=Response)
def print_portfolio(code: str, use: Using) -> Response:
    """A portfolio as one may see it, on paper."""
    found, lines = use.read(tables.on_paper, code)
    now = use.actor.clock.now()
    said = f"as {use.actor.person.name} sees it, {now:%A} {say_day(now.date())}"
    more = f", {count_of(found.hidden_parts, 'more part')} not shown" if found.hidden_parts else ""
    body = write_portfolio_pdf(found.project.name, said, lines, more, now)
    headers = {"Content-Disposition": f'attachment; filename="{found.project.code} portfolio.pdf"'}
    return Response(body, media_type="application/pdf", headers=headers)


@router.get("/projects/{code}/portfolio.{form}", openapi_extra=needs("see"), response_class=Response)
def export_portfolio(code: str, form: TableKind, use: Using) -> Response:
    """The items of a portfolio as a table."""
    return table_answer(use, writer_of(form)(tables.HEADS, use.read(tables.items_out, code)), form, f"{code.upper()} portfolio")


def _item(one: Item, there: set[str]) -> PortfolioItemOut:
    row, task = one.row, one.row.task
    return PortfolioItemOut(
        task_id=task.id,
        code=one.project.code,
        number=task.number,
        title=task.title,
        kind=task.kind,
        owner_id=task.owner_id,
        revision=task.revision,
        column=one.column,
        state=one.state,
        state_id=row.state_id,
        state_class=row.state_class,
        lane_id=one.lane,
        health=one.health,
        percent=row.percent,
        start=one.start,
        finish=row.finish,
        expected=one.expected,
        promised=one.promised,
        past=one.past,
        late_days=row.late_days,
        held=row.held,
        troubled=one.troubled,
        marks=list(task.marks),
        tasks_below=row.tasks_below,
        finished_below=row.finished_below,
        holds_up=_holds_up(one),
        needs=[each for each in one.needs if each in there],
        tied=list(one.tied),
    )


def _holds_up(one: Item) -> HoldsUpOut | None:
    if one.blocker is None:
        return None
    task = one.blocker.row.task
    return HoldsUpOut(
        task_id=task.id,
        code=one.blocks_in.code,
        number=task.number,
        title=task.title,
        owner_id=task.owner_id,
        path=list(one.blocker.path),
        why=one.blocker.why,
        itself=task.id == one.row.task.id,
    )


def _part(one: shown.PartLine) -> PartOut:
    return PartOut(
        id=one.part.id,
        code=one.project.code,
        name=one.project.name,
        portfolio=one.project.portfolio,
        shows=one.part.shows,
        states=dict(one.part.states),
        depth=one.depth,
        through=one.through,
        may_mark=shown.may_mark(one.role, one.project),
        marks=[mark_out(mark) for mark in one.project.marks],
        health=one.health,
        percent=one.percent,
        start=one.start,
        finish=one.finish,
        expected=one.expected,
        agreed=one.agreed,
        agreed_days=one.agreed_days,
        late=one.late,
        held=one.held,
        items=one.items,
    )


@router.post("/projects/{code}/parts", openapi_extra=needs("manage"), status_code=204)
def join_part(code: str, body: PartNew, use: Using) -> None:
    """Join a project, or another portfolio."""
    use.write(parts.join_part, code, parts.NewPart(**body.model_dump()))


@router.patch("/projects/{code}/parts/{part_id}", openapi_extra=needs("manage"), status_code=204)
def edit_part(code: str, part_id: Id, body: PartEdit, use: Using) -> None:
    """Change what is shown of a part, or move it."""
    use.write(parts.edit_part, code, part_id, body.sent)


@router.delete("/projects/{code}/parts/{part_id}", openapi_extra=needs("manage"), status_code=204)
def leave_part(code: str, part_id: Id, use: Using) -> None:
    """Take a part out; what is tied to its work stays tied."""
    use.write(parts.leave_part, code, part_id)
