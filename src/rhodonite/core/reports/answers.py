"""What panels show: in one of a few shapes, each of which can be read as a table too."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from decimal import Decimal
from typing import Literal

from ..common.dates import say_day
from ..common.errors import RuleError
from ..common.rounding import rounded
from ..schedule.plan import Row
from ..tasks.model import OPEN_CLASSES, Health, Project
from ..views.columns import Column, Columns
from ..views.conditions import Clause
from ..views.tints import Tint
from .charts import Chart, Tally
from .dashboards import Better, Options


@dataclass(frozen=True, slots=True)
class Item:
    """A task of a list.

    Attributes:
        words: its values in the columns of the list.
        may_edit: whether the reader may change it.
        tint: that colours its row.
    """

    project: Project
    row: Row
    words: tuple[str, ...] = ()
    may_edit: bool = False
    tint: Tint | None = None

    @property
    def code(self) -> str:
        """What it is called by: LAN 12."""
        return f"{self.project.code} {self.row.task.number}"


@dataclass(frozen=True, slots=True)
class TasksAnswer:
    """Tasks, the first of ``shown``; ``late``: how many of these are."""

    heads: tuple[str, ...]
    items: tuple[Item, ...]
    shown: int
    late: int


@dataclass(frozen=True, slots=True)
class FigureAnswer:
    """One figure.

    Attributes:
        said: the value in words; ``of``: what it measures.
        target: in words, from which side it is met (``better``), ``percent``: of it, rounded down, ``met``; where there is one.
        trend: what it was at the end of weeks, the last today; ``change``: since the first of them, in words.
    """

    value: Decimal | None
    said: str
    of: str
    tasks: int
    target: str = ""
    better: Better = "up"
    percent: int | None = None
    met: bool | None = None
    trend: tuple[tuple[date, Decimal], ...] = ()
    change: str = ""


@dataclass(frozen=True, slots=True)
class Line:
    """One thing with how far it is.

    Attributes:
        code: of a project.
        to: what opens, as an address within Rhodonite; empty where that is the work that the panel counts, narrowed by ``where``.
        percent, expected: how far, and how far by now; None where that is not said.
        worry: whether ``note`` tells of trouble.
    """

    name: str
    code: str
    to: str
    percent: int | None
    expected: int | None
    health: Health | None
    note: str
    worry: bool = False
    where: tuple[Clause, ...] = ()


@dataclass(frozen=True, slots=True)
class LinesAnswer:
    """Things one under the other. ``heads``: what they are, how far, and the rest."""

    heads: tuple[str, str, str]
    lines: tuple[Line, ...]


@dataclass(frozen=True, slots=True)
class PersonWork:
    """What one person has in hand: open tasks, the late ones first.

    Attributes:
        person_id: None for work that nobody owns.
        active, late: how many tasks of ``open``.
        booked, capacity: minutes of this week; None where no hours are planned, or the reader does not see them. ``over``:
            minutes beyond what its days have room for.
    """

    person_id: str | None
    name: str
    open: int
    active: int
    late: int
    items: tuple[Item, ...]
    booked: int | None = None
    capacity: int | None = None
    over: int = 0


@dataclass(frozen=True, slots=True)
class PeopleAnswer:
    """People side by side; ``more``: how many others have work."""

    people: tuple[PersonWork, ...]
    more: int = 0


@dataclass(frozen=True, slots=True)
class ScatterPoint:
    """A task by two numbers."""

    item: Item
    across: Decimal
    up: Decimal


@dataclass(frozen=True, slots=True)
class ScatterAnswer:
    """Tasks by two numbers, of ``shown`` that have both; ``heads``: the numbers."""

    heads: tuple[str, str]
    points: tuple[ScatterPoint, ...]
    shown: int


@dataclass(frozen=True, slots=True)
class TextAnswer:
    """A text, as HTML."""

    html: str


Answer = TasksAnswer | FigureAnswer | LinesAnswer | PeopleAnswer | ScatterAnswer | TextAnswer | Chart
AnswerKind = Literal["tasks", "figure", "lines", "people", "scatter", "text", "chart"]
KIND_OF: Mapping[type, AnswerKind] = {
    TasksAnswer: "tasks", FigureAnswer: "figure", LinesAnswer: "lines", PeopleAnswer: "people", ScatterAnswer: "scatter",
    TextAnswer: "text", Chart: "chart",
}  # fmt: skip

Table = tuple[list[str], list[list[str]]]


def figure(tally: Tally, options: Options, of: Column | None, trend: Sequence[tuple[date, Decimal]] = ()) -> FigureAnswer:
    """A figure against its target.

    Args:
        of: the number that is measured; None where tasks are counted.
        trend: what it was before, oldest first, without today.
    """
    value = tally.measured(options.measure)
    if value is None and options.measure == "sum":
        value = Decimal(0)
    decimals = 0 if of is None else max(of.decimals, 1 if options.measure == "mean" else 0)
    named = "tasks" if of is None else f"{of.name[0].lower()}{of.name[1:]}{', mean' if options.measure == 'mean' else ''}"
    if value is None:
        return FigureAnswer(None, "–", named, tally.tasks)
    value = rounded(value, decimals)
    unit = of.unit if of else ""
    points = (*trend, (date.max, value)) if trend else ()
    return FigureAnswer(
        value,
        say_amount(value, unit),
        named,
        tally.tasks,
        target=say_amount(options.target, unit) if options.target is not None else "",
        better=options.better,
        percent=int(100 * value / options.target) if options.target else None,
        met=None if options.target is None else value >= options.target if options.better == "up" else value <= options.target,
        trend=points,
        change=say_change(trend[0][0], trend[0][1], value, unit) if trend else "",
    )


def say_amount(value: Decimal, unit: str) -> str:
    """An amount as people read it: ``1,240.5 h``."""
    said = f"{value:,f}"
    return f"{said.rstrip('0').rstrip('.') if '.' in said else said} {unit}".strip()


def say_change(since: date, before: Decimal, now: Decimal, unit: str) -> str:
    """What became of an amount: ``12 more than on 3 Feb``."""
    if now == before:
        return f"as on {say_day(since)}"
    return f"{say_amount(abs(now - before), unit)} {'more' if now > before else 'less'} than on {say_day(since)}"


def order_of(columns: Columns, column: Column, row: Row) -> tuple[int, str | Decimal | date | int]:
    """By what tasks of several projects are sorted: what has values in an order of its own by that, else by names."""
    raw = column.value(row)
    if raw is None or raw in {"", ()}:
        return 1, 0
    if column.type in {"one_of", "several_of"}:
        if column.key in {"class", "priority", "health"}:
            return 0, list(column.choices).index(str(raw)) if str(raw) in column.choices else len(column.choices)
        return 0, columns.say(column.key, raw).casefold()
    if isinstance(raw, bool):
        return 0, int(not raw)
    return 0, raw.casefold() if isinstance(raw, str) else raw  # type: ignore[return-value]


def is_near(row: Row, today: date, days: int) -> bool:
    """True for a milestone that comes within some days or is late, or was reached as many days ago at most."""
    if row.task.kind != "milestone" or row.state_class == "dropped" or row.finish is None:
        return False
    first, last = today - timedelta(days=days), today + timedelta(days=days)
    if row.state_class in OPEN_CLASSES:
        return row.finish.date() <= last
    return first <= (row.task.actual_finish or row.finish).date() <= last


def in_turn(row: Row) -> tuple[bool, bool, datetime, int]:
    """In which order a person looks at their work: what is late first, then what is under way, then by finish."""
    return row.late_days == 0, row.state_class != "active", row.finish or datetime.max, row.task.number


def find_column(columns: Columns, key: str) -> Column:
    """A field by its key. Raises RuleError where no project has it."""
    found = columns.columns.get(key)
    if found is None:
        raise RuleError("No project that is shown has that field. Choose another.", "of")
    return found


def table_of(answer: Answer) -> Table:
    """What a panel shows as a table: heads and rows, for files, paper, and who cannot see a chart."""
    if isinstance(answer, TasksAnswer):
        rows = [[one.code, one.row.task.title, *one.words] for one in answer.items]
        return ["Code", "Title", *answer.heads], rows
    if isinstance(answer, FigureAnswer):
        return _figure_table(answer)
    if isinstance(answer, LinesAnswer):
        return [answer.heads[0], answer.heads[1], "Expected", "Health", answer.heads[2]], [
            [f"{one.code} {one.name}".strip(), _percent(one.percent), _percent(one.expected), one.health or "", one.note]
            for one in answer.lines
        ]
    if isinstance(answer, PeopleAnswer):
        return ["Person", "Code", "Title", "State", "Finish", "Days late"], [
            [one.name, item.code, item.row.task.title, item.words[0] if item.words else "",
             item.row.finish.date().isoformat() if item.row.finish else "", str(item.row.late_days or "")]
            for one in answer.people
            for item in one.items
        ]  # fmt: skip
    if isinstance(answer, ScatterAnswer):
        return ["Code", "Title", *answer.heads], [
            [one.item.code, one.item.row.task.title, _plain(one.across), _plain(one.up)] for one in answer.points
        ]
    if isinstance(answer, Chart):
        return chart_table(answer)
    return [], []


def _figure_table(answer: FigureAnswer) -> Table:
    rows = [[say_day(day) if day < date.max else "today", _plain(value)] for day, value in answer.trend]
    return ["Day", answer.of.capitalize()], rows or [["today", answer.said]]


def chart_table(chart: Chart) -> Table:
    """A chart as a table: a row for each mark, a column for each series."""
    several = len(chart.series) > 1 or bool(chart.heads[1])
    heads = [chart.heads[0], *(one.name for one in chart.series)] if several else [chart.heads[0], chart.heads[2]]
    return heads, [
        [mark.name, *("" if row[at] is None else _plain(row[at] or Decimal(0)) for row in chart.values)]
        for at, mark in enumerate(chart.marks)
    ]


def _percent(value: int | None) -> str:
    return "" if value is None else f"{value} %"


def _plain(value: Decimal) -> str:
    return f"{value:f}"
