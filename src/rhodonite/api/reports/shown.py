"""What panels show, as it is told."""

from __future__ import annotations

from datetime import date, datetime
from decimal import Decimal
from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field

from ...core.reports import dashboards as rules
from ...core.reports.answers import (
    Answer,
    FigureAnswer,
    Item,
    LinesAnswer,
    PeopleAnswer,
    ScatterAnswer,
    TasksAnswer,
    TextAnswer,
)
from ...core.reports.charts import Chart, Mark
from ...core.tasks.model import Health
from ...core.views.conditions import Clause, Group, write_group
from .panels import PanelScope


class PanelTint(BaseModel):
    """What colours a row."""

    name: str
    colour: str
    sign: str


class PanelItem(BaseModel):
    """A task of a panel."""

    code: str = Field(description="Of its project")
    id: str
    number: int
    title: str
    kind: str
    state_class: str
    owner_id: str | None
    health: Health
    percent: int
    start: datetime | None
    finish: datetime | None
    late_days: int
    held: str | None
    revision: int
    words: list[str] = Field(description="Its values in the columns of the list")
    may_edit: bool = Field(description="Of people side by side: whether one may hand it over")
    tint: PanelTint | None


class PanelTasks(BaseModel):
    """Tasks, the first of ``shown``."""

    kind: Literal["tasks"] = "tasks"
    heads: list[str]
    items: list[PanelItem]
    shown: int
    late: int


class TrendPoint(BaseModel):
    """What a figure was at the end of a day."""

    day: date | None = Field(description="None: now")
    value: Decimal


class PanelFigure(BaseModel):
    """One figure."""

    kind: Literal["figure"] = "figure"
    value: Decimal | None
    said: str
    of: str
    tasks: int
    target: str
    better: rules.Better
    percent: int | None = Field(description="Of the target")
    met: bool | None
    trend: list[TrendPoint]
    change: str = Field(description="Since the first of the trend, in words")


class PanelLine(BaseModel):
    """One thing with how far it is."""

    name: str
    code: str
    to: str = Field(description="What opens: an address within Rhodonite; empty where that is the work that the panel counts")
    percent: int | None
    expected: int | None
    health: Health | None
    note: str
    worry: bool
    where: list[list[Any]] = Field(description="What narrows the work that the panel counts to this line")


class PanelLines(BaseModel):
    """Things one under the other."""

    kind: Literal["lines"] = "lines"
    heads: list[str]
    lines: list[PanelLine]


class PersonWorkOut(BaseModel):
    """What one person has in hand."""

    person_id: str | None
    name: str
    open: int
    active: int
    late: int
    booked: int | None = Field(description="Minutes of this week, of all their work")
    capacity: int | None
    over: int = Field(description="Minutes beyond what the days of this week have room for")
    items: list[PanelItem]


class PanelPeople(BaseModel):
    """People side by side."""

    kind: Literal["people"] = "people"
    people: list[PersonWorkOut]
    more: int


class ScatterTask(BaseModel):
    """A task by two numbers."""

    code: str
    id: str
    number: int
    title: str
    across: float
    up: float


class PanelScatter(BaseModel):
    """Tasks by two numbers."""

    kind: Literal["scatter"] = "scatter"
    heads: list[str]
    points: list[ScatterTask]
    shown: int


class PanelText(BaseModel):
    """A text."""

    kind: Literal["text"] = "text"
    html: str


class ChartMark(BaseModel):
    """A value on an axis, and the clauses that leave its tasks."""

    key: str
    name: str
    where: list[list[Any]] = Field(description="Empty where its tasks cannot be asked for by clauses")


class ChartOut(BaseModel):
    """A chart: by series and mark the values, and how many tasks."""

    kind: Literal["chart"] = "chart"
    heads: list[str]
    marks: list[ChartMark]
    series: list[ChartMark]
    values: list[list[float | None]]
    tasks: list[list[int]]
    unit: str
    decimals: int
    in_time: bool = Field(description="True where the marks are days or periods, one after the other")


OneOut = PanelTasks | PanelFigure | PanelLines | PanelPeople | PanelScatter | PanelText | ChartOut
AnswerOut = Annotated[OneOut, Field(discriminator="kind")]


class PanelAnswerOut(BaseModel):
    """What a panel shows; without an answer a sentence that says why."""

    id: str
    mark: str = Field(description="Another when it shows something else")
    same: bool = Field(description="True where that is known already, and nothing more is told")
    scope: PanelScope | None = Field(description="The one sentence that leaves what it counts")
    answer: AnswerOut | None
    problem: str


def item_out(one: Item) -> PanelItem:
    """A task as it is told."""
    row, task = one.row, one.row.task
    return PanelItem.model_construct(
        code=one.project.code, id=task.id, number=task.number, title=task.title, kind=task.kind, state_class=row.state_class,
        owner_id=task.owner_id, health=row.health, percent=row.percent, start=row.start, finish=row.finish,
        late_days=row.late_days, held=row.held, revision=task.revision, words=list(one.words), may_edit=one.may_edit,
        tint=PanelTint(name=one.tint.name, colour=one.tint.colour, sign=one.tint.sign) if one.tint else None,
    )  # fmt: skip


def _mark_out(one: Mark) -> ChartMark:
    return ChartMark(key=one.key, name=one.name, where=[_clause(each) for each in one.where])


def _clause(one: Clause) -> list[Any]:
    found: list[Any] = write_group(Group("all", (one,)))["all"][0]
    return found


def answer_out(answer: Answer) -> OneOut:
    """What a panel shows, as it is told."""
    if isinstance(answer, TasksAnswer):
        items = [item_out(one) for one in answer.items]
        return PanelTasks(heads=list(answer.heads), items=items, shown=answer.shown, late=answer.late)
    if isinstance(answer, FigureAnswer):
        trend = [TrendPoint(day=None if day == date.max else day, value=value) for day, value in answer.trend]
        return PanelFigure(
            value=answer.value, said=answer.said, of=answer.of, tasks=answer.tasks, target=answer.target, better=answer.better, percent=answer.percent,
            met=answer.met, trend=trend, change=answer.change,
        )  # fmt: skip
    if isinstance(answer, LinesAnswer):
        lines = [
            PanelLine(
                **{name: getattr(one, name) for name in PanelLine.model_fields} | {"where": [_clause(each) for each in one.where]}
            )
            for one in answer.lines
        ]
        return PanelLines(heads=list(answer.heads), lines=lines)
    if isinstance(answer, PeopleAnswer):
        return _people_out(answer)
    if isinstance(answer, ScatterAnswer):
        points = [
            ScatterTask(code=one.item.project.code, id=one.item.row.task.id, number=one.item.row.task.number,
                     title=one.item.row.task.title, across=float(one.across), up=float(one.up))
            for one in answer.points
        ]  # fmt: skip
        return PanelScatter(heads=list(answer.heads), points=points, shown=answer.shown)
    return PanelText(html=answer.html) if isinstance(answer, TextAnswer) else _chart_out(answer)


def _people_out(answer: PeopleAnswer) -> PanelPeople:
    return PanelPeople(
        people=[
            PersonWorkOut(
                person_id=one.person_id, name=one.name, open=one.open, active=one.active, late=one.late, booked=one.booked,
                capacity=one.capacity, over=one.over, items=[item_out(each) for each in one.items],
            )
            for one in answer.people
        ],
        more=answer.more,
    )  # fmt: skip


def _chart_out(chart: Chart) -> ChartOut:
    return ChartOut(
        heads=list(chart.heads),
        marks=[_mark_out(one) for one in chart.marks],
        series=[_mark_out(one) for one in chart.series],
        values=[[None if value is None else float(value) for value in row] for row in chart.values],
        tasks=[list(row) for row in chart.tasks],
        unit=chart.unit,
        decimals=chart.decimals,
        in_time=chart.in_time,
    )
