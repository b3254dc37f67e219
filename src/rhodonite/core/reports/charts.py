"""Charts: tasks counted, or a number of theirs summed or averaged, by one or two fields.

What a plan adds is a tally, and tallies add up: so a change to one project counts anew that one alone.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from decimal import Decimal
from typing import Any

from ..common.dates import say_day
from ..common.errors import RuleError
from ..common.rounding import rounded
from ..schedule.plan import Row
from ..views.columns import Column, Raw
from ..views.conditions import Clause
from .dashboards import MeasureBy, Period

MOST_MARKS, MOST_SERIES = 24, 8
"""Of a chart: what else there is becomes one that stands for the others."""
MOST_POINTS = 1_000
OTHERS = "others"
_IN_ORDER = frozenset({"class", "priority", "health", "state"})
"""Fields whose values are shown in their order; the values of others by how much there is of each."""
Path = tuple[str, ...]


@dataclass(slots=True)
class Tally:
    """Tasks, and the sum of a number over those that have it."""

    tasks: int = 0
    filled: int = 0
    total: Decimal = Decimal(0)

    def add(self, other: Tally) -> None:
        """Take in another."""
        self.tasks += other.tasks
        self.filled += other.filled
        self.total += other.total

    def measured(self, measure: MeasureBy) -> Decimal | None:
        """Tasks, the sum, or the mean over the tasks that have the number; None where that is of none."""
        if measure == "count":
            return Decimal(self.tasks)
        if not self.filled:
            return None
        return self.total if measure == "sum" else self.total / self.filled


Tallies = dict[Path, Tally]
Number = Callable[[Row], Raw]


def check_grouping(column: Column) -> Column:
    """A field by which a chart can group. Raises RuleError for texts, numbers and what points to tasks."""
    if column.type in {"text", "number"} or (column.own is not None and column.own.type == "tasks"):
        raise RuleError(f"A chart cannot group by {column.name}. Choose a field with values to choose from, or a date.", "by")
    return column


def check_summed(column: Column) -> Column:
    """A field that can be summed. Raises RuleError for what is no number that everybody may see."""
    if column.type != "number" or column.money:
        raise RuleError(f"{column.name} cannot be summed. Choose a number.", "of")
    return column


def keys_by(column: Column, period: Period) -> Callable[[Row], Path]:
    """By which keys a task counts: ids, ``yes``, ``no``, the first day of a period; an empty text where it has no value.

    A field with several values counts a task for each of them.
    """
    value = column.value
    if column.type == "several_of":
        return lambda row: raw if isinstance(raw := value(row), tuple) and raw else ("",)
    if column.type == "date":
        starts: dict[date, Path] = {}  # of few days there are many tasks

        def start(row: Row) -> Path:
            day = value(row)
            if not isinstance(day, date):
                return ("",)
            if day not in starts:
                starts[day] = (start_of(day, period).isoformat(),)
            return starts[day]

        return start
    if column.type == "yes_no":
        return lambda row: ("yes" if value(row) is True else "no",)
    return lambda row: ("" if (raw := value(row)) is None else str(raw),)


def start_of(day: date, period: Period) -> date:
    """The first day of the period in which a day lies; weeks begin on Monday."""
    if period == "day":
        return day
    if period == "week":
        return day - timedelta(days=day.weekday())
    return day.replace(day=1) if period == "month" else day.replace(month=(day.month - 1) // 3 * 3 + 1, day=1)


def next_start(start: date, period: Period) -> date:
    """The first day of the period after the one that begins on a day."""
    if period in {"day", "week"}:
        return start + timedelta(days=1 if period == "day" else 7)
    return start_of(start + timedelta(days=32 if period == "month" else 95), period)


def tally(rows: Iterable[Row], by: Sequence[Callable[[Row], Path]], number: Number | None) -> Tallies:
    """Count tasks by the keys of one or two fields, or by none.

    Args:
        number: of which the sum is wanted.
    """
    if number is None:
        if not by:
            return {(): Tally(sum(1 for _ in rows))}
        paths = _paths_of(by)
        return {path: Tally(tasks) for path, tasks in Counter(path for row in rows for path in paths(row)).items()}
    found: Tallies = {}
    paths = _paths_of(by)
    for row in rows:
        amount = number(row)
        for path in paths(row):
            one = found.get(path)
            if one is None:
                one = found[path] = Tally()
            one.tasks += 1
            if isinstance(amount, Decimal):
                one.filled += 1
                one.total += amount
    return found


def _paths_of(by: Sequence[Callable[[Row], Path]]) -> Callable[[Row], Sequence[Path]]:
    """Under which paths a task counts."""
    if not by:
        return lambda _: ((),)
    first = by[0]
    if len(by) == 1:
        return lambda row: [(key,) for key in first(row)]
    second = by[1]
    return lambda row: [(one, other) for one in first(row) for other in second(row)]


def merged(parts: Iterable[Mapping[Path, Tally]]) -> Tallies:
    """The tallies of several plans together."""
    found: Tallies = {}
    for part in parts:
        for path, one in part.items():
            found.setdefault(path, Tally()).add(one)
    return found


@dataclass(frozen=True, slots=True)
class Mark:
    """A value on an axis of a chart, and the clauses that leave its tasks; none where they cannot be asked for by clauses."""

    key: str
    name: str
    where: tuple[Clause, ...] = ()


@dataclass(frozen=True, slots=True)
class Chart:
    """A chart.

    Attributes:
        heads: what the marks are, what the series are where there are several, and what is measured.
        values: by series and mark; None where there is nothing to measure.
        tasks: how many, of the same.
        in_time: whether the marks are days or periods, one after the other.
    """

    heads: tuple[str, str, str]
    marks: tuple[Mark, ...]
    series: tuple[Mark, ...]
    values: tuple[tuple[Decimal | None, ...], ...]
    tasks: tuple[tuple[int, ...], ...]
    unit: str
    decimals: int
    in_time: bool = False


def make_chart(
    found: Mapping[Path, Tally], columns: Sequence[Column], period: Period, measure: MeasureBy, of: Column | None
) -> Chart:
    """A chart of what was tallied by one or two fields.

    Args:
        columns: the fields, with the names of all values.
        of: the number that is summed or averaged.
    """
    marks = _axis(found, columns[0], 0, period, measure, MOST_MARKS)
    series = _axis(found, columns[1], 1, period, measure, MOST_SERIES) if len(columns) > 1 else {"": Mark("", _said(measure, of))}
    cells: Tallies = {}
    for path, one in found.items():
        key = path[0] if path[0] in marks else OTHERS
        other = (path[1] if path[1] in series else OTHERS) if len(path) > 1 else ""
        cells.setdefault((key, other), Tally()).add(one)
    decimals = 0 if measure == "count" or of is None else max(of.decimals, 1 if measure == "mean" else 0)
    rows = [[cells.get((mark, one)) for mark in marks] for one in series]
    return Chart(
        (columns[0].name, columns[1].name if len(columns) > 1 else "", _said(measure, of)),
        tuple(marks.values()),
        tuple(series.values()),
        tuple(tuple(_value(one, measure, decimals) for one in row) for row in rows),
        tuple(tuple(one.tasks if one else 0 for one in row) for row in rows),
        of.unit if of is not None and measure != "count" else "",
        decimals,
        columns[0].type == "date",
    )


def _value(one: Tally | None, measure: MeasureBy, decimals: int) -> Decimal | None:
    value = one.measured(measure) if one else None
    if value is None:
        return None if measure == "mean" else Decimal(0)
    return rounded(value, decimals)


def _said(measure: MeasureBy, of: Column | None) -> str:
    if measure == "count" or of is None:
        return "Tasks"
    return f"{of.name}{f' in {of.unit}' if of.unit else ''}{', mean' if measure == 'mean' else ''}"


def _axis(found: Mapping[Path, Tally], column: Column, at: int, period: Period, measure: MeasureBy, most: int) -> dict[str, Mark]:
    sums: dict[str, Tally] = {}
    for path, one in found.items():
        sums.setdefault(path[at], Tally()).add(one)
    if column.type == "date":
        keys = _days(sums, period, most)
    else:
        keys = _values(sums, column, measure)
    if len(keys) > most:
        largest = sorted(keys, key=lambda key: -_size(sums.get(key), measure)) if column.type != "date" else keys[::-1]
        kept = set(largest[: most - 1])
        keys = [key for key in keys if key in kept]
        keys = [OTHERS, *keys] if column.type == "date" else [*keys, OTHERS]
    return {key: Mark(key, *_mark(column, key, period)) for key in keys}


def _size(one: Tally | None, measure: MeasureBy) -> Decimal:
    return (one.measured("sum" if measure == "sum" else "count") if one else None) or Decimal(0)


def _values(sums: Mapping[str, Tally], column: Column, measure: MeasureBy) -> list[str]:
    """The keys of an axis: in the order of their values, or the largest first; those without a value last."""
    places = {key: index for index, key in enumerate(column.choices)}
    if column.type == "yes_no" or column.key in _IN_ORDER:
        return sorted(sums, key=lambda key: (not key, places.get(key, len(places)), key == "no", key))
    return sorted(sums, key=lambda key: (not key, -_size(sums[key], measure), column.choices.get(key, key).casefold(), key))


def _days(sums: Mapping[str, Tally], period: Period, most: int) -> list[str]:
    """The periods of an axis, those between without tasks too; the latest where there are more than can be shown."""
    days = sorted(date.fromisoformat(key) for key in sums if key)
    found: list[str] = []
    if days:
        at, last = days[0], days[-1]
        if (last - at).days > most * {"day": 1, "week": 7, "month": 31, "quarter": 92}[period]:
            found = [one.isoformat() for one in days]  # far apart: only those that have any
        else:
            while at <= last:
                found.append(at.isoformat())
                at = next_start(at, period)
    return found + ([""] if "" in sums else [])


def _mark(column: Column, key: str, period: Period) -> tuple[str, tuple[Clause, ...]]:
    """The name of a value, and the clauses that leave its tasks."""
    if key == OTHERS:
        return ("earlier" if column.type == "date" else "others"), ()
    if column.type == "yes_no":
        return f"{column.name}: {key}", (Clause(column.key, key),)
    if not key:
        return f"no {column.name[0].lower()}{column.name[1:]}", (Clause(column.key, "empty"),)
    if column.type == "date":
        first = date.fromisoformat(key)
        last = next_start(first, period) - timedelta(days=1)
        after, before = first - timedelta(days=1), last + timedelta(days=1)
        return say_period(first, period), (
            Clause(column.key, "after", after.isoformat()),
            Clause(column.key, "before", before.isoformat()),
        )
    return column.choices.get(key, "gone"), (Clause(column.key, "any", [key]),)


def say_period(first: date, period: Period) -> str:
    """A period in words, by its first day."""
    if period in {"day", "week"}:
        return say_day(first)
    return f"{first:%b %Y}" if period == "month" else f"{first.year}, quarter {(first.month + 2) // 3}"


@dataclass(frozen=True, slots=True)
class Point:
    """A task on a scatter chart."""

    task_id: str
    across: Decimal
    up: Decimal


def points(rows: Iterable[Row], across: Number, up: Number) -> list[Point]:
    """The tasks that have both of two numbers."""
    found = []
    for row in rows:
        x, y = across(row), up(row)
        if isinstance(x, Decimal) and isinstance(y, Decimal):
            found.append(Point(row.task.id, x, y))
    return found


def thinned(found: Sequence[Any], most: int = MOST_POINTS) -> list[Any]:
    """As many as can be shown, evenly out of all."""
    if len(found) <= most:
        return list(found)
    return [found[index * len(found) // most] for index in range(most)]


def in_time(chart: Chart, days: Sequence[tuple[date, str]]) -> Chart:
    """A chart by day with a mark for each of some days, where nothing was counted too.

    Args:
        days: each with its words, in order. Marks and series ask for no clauses: what stood there then is not what they leave now.
    """
    places = {mark.key: index for index, mark in enumerate(chart.marks)}
    marks = [Mark(day.isoformat(), words) for day, words in days]
    none: Decimal | None = Decimal(0)
    return replace(
        chart,
        in_time=True,
        marks=tuple(marks),
        series=tuple(Mark(one.key, one.name) for one in chart.series),
        values=tuple(tuple(row[places[one.key]] if one.key in places else none for one in marks) for row in chart.values),
        tasks=tuple(tuple(row[places[one.key]] if one.key in places else 0 for one in marks) for row in chart.tasks),
    )
