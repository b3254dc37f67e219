"""Load: the hours and tasks that lie on people by day, over one project or all, and by how much they are too many."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, datetime, timedelta
from types import MappingProxyType
from typing import Literal

from ..common.errors import RuleError
from ..schedule.plan import Plan, Row
from ..tasks.hours import hours_of
from ..tasks.model import OPEN_CLASSES, Booking, Fields, Task
from .capacity import Capacity
from .spent import NOTHING, ByDay, Spent, ahead, has_begun, left_of
from .spread import Laid, Together

NOBODY = ""
"""Stands for hours that are not given to anyone."""
By = Literal["day", "week", "month"]
MOST_COLUMNS = 400
MOST_DAYS = 1_900
"""Days that are reckoned at once: five years."""


@dataclass(frozen=True, slots=True)
class OnTask:
    """The hours of one booking over the days."""

    task_id: str
    booking: Booking
    laid: Laid


@dataclass(slots=True)
class PlanLoad:
    """What one plan lays on people.

    Attributes:
        by_who: minutes by person or resource, by the ordinal of the day; of ``NOBODY`` what is estimated and not booked; of a
            material thousandths of its unit.
        booked: the bookings behind them.
        at_work: by person the tasks that they own or help with, each with the ordinals of its first and last day.
        undated: the ids of tasks with bookings that have no dates, and so lie nowhere.
        spent: what was entered, by task and person; in a project that records time.
    """

    by_who: dict[str, dict[int, int]] = field(default_factory=dict)
    booked: dict[str, list[OnTask]] = field(default_factory=lambda: defaultdict(list))
    at_work: dict[str, list[tuple[str, int, int]]] = field(default_factory=lambda: defaultdict(list))
    undated: list[str] = field(default_factory=list)
    spent: Spent = field(default_factory=dict)
    _of_task: dict[str, list[tuple[str, Mapping[int, int]]]] = field(default_factory=dict)

    def of_task(self, task_id: str) -> Sequence[tuple[str, Mapping[int, int]]]:
        """What one task lays on people and crews: who, and minutes by the ordinal of the day."""
        if not self._of_task and self.booked:
            found: dict[str, list[tuple[str, Mapping[int, int]]]] = defaultdict(list)
            for who, several in self.booked.items():
                for one in several:
                    if one.booking.of == "labour":
                        found[one.task_id].append((who, one.laid.by_day))
            self._of_task = found
        return self._of_task.get(task_id, ())


def load_of(plan: Plan, capacities: Mapping[str, Capacity], usual: Capacity, spent: Spent = MappingProxyType({})) -> PlanLoad:
    """Lay the bookings of a plan over the days.

    Dropped tasks lay nothing on anybody. A finished one lies on the days between its actual start and finish. Where time is
    recorded, hours that were entered lie on their days, also those of tasks that were dropped since, and of a task that has
    begun what is left of its bookings lies from now on.

    Args:
        capacities: by person or resource.
        usual: of whoever has none of their own, and of hours that nobody has yet.
        spent: what was entered; nothing where no time is recorded.
    """
    load = PlanLoad(spent=spent)
    known: Known = {}
    for row in plan.rows.values():
        done = spent.get(row.task.id, NOTHING)
        if row.is_summary or row.state_class == "dropped":
            for who, by_day in done.items():
                _note(load, row.task.id, Booking(who, 0), Laid(dict(by_day)))
            continue
        span = _span(row)
        if span is None:
            if row.task.bookings:
                load.undated.append(row.task.id)
            for who, by_day in done.items():
                _note(load, row.task.id, Booking(who, 0), Laid(dict(by_day)))
            continue
        for booking, laid in _lay_spent(
            _spread_out(row, done), row.task, row.state_class, span, plan, capacities, usual, known, done
        ):
            _note(load, row.task.id, booking, laid)
        if row.state_class in OPEN_CLASSES and row.task.kind != "milestone":
            for person in {row.task.owner_id or NOBODY, *row.task.helpers}:
                load.at_work[person].append((row.task.id, span[0].toordinal(), span[1].toordinal()))
    return load


def _note(load: PlanLoad, task_id: str, booking: Booking, laid: Laid) -> None:
    by_day = load.by_who.setdefault(booking.who, {})
    for ordinal, minutes in laid.by_day.items():
        by_day[ordinal] = by_day.get(ordinal, 0) + minutes
    load.booked[booking.who].append(OnTask(task_id, booking, laid))


NO_DATES: Fields = MappingProxyType({})  # type: ignore[assignment]
Known = dict[tuple[int, int, bool], Together]
"""By a capacity and the hours of tasks the time that they have in common, found before."""


def lay_task(
    task: Task,
    plan: Plan,
    capacities: Mapping[str, Capacity],
    usual: Capacity,
    known: Known | None = None,
    dates: Fields = NO_DATES,
    spent: Mapping[str, ByDay] = NOTHING,
) -> Iterable[tuple[str, Mapping[int, int]]]:
    """The hours of one task that is not finished, as it would be: who, and minutes by the ordinal of the day.

    Args:
        known: kept by whoever lays many.
        dates: ``start`` and ``finish`` where they are others than those of the task.
        spent: what was entered on it, by person.
    """
    start, finish = dates.get("start", task.start), dates.get("finish", task.finish)
    start, finish = start or finish, finish or start
    if start is None or finish is None or not (task.bookings or spent):
        return
    state_class = plan.project.state(task.state_id).state_class
    if state_class not in OPEN_CLASSES:
        return
    span = (start, max(start, finish))
    labour = [one for one in task.bookings if one.of == "labour"]
    known = {} if known is None else known
    for booking, laid in _lay_spent(labour, task, state_class, span, plan, capacities, usual, known, spent):
        yield booking.who, laid.by_day


def lay_one(
    booking: Booking, task: Task, span: tuple[datetime, datetime], plan: Plan, capacities: Mapping[str, Capacity],
    usual: Capacity, known: Known,
) -> Laid:  # fmt: skip
    """One booking over the days from a start to a finish; the others as for ``lay_task``."""
    [(_, laid)] = _lay([booking], task, span, plan, capacities, usual, known)
    return laid


def _lay_spent(
    bookings: Iterable[Booking], task: Task, state_class: str, span: tuple[datetime, datetime], plan: Plan,
    capacities: Mapping[str, Capacity], usual: Capacity, known: Known, spent: Mapping[str, ByDay],
) -> Iterable[tuple[Booking, Laid]]:  # fmt: skip
    """Lay bookings as ``_lay`` does, and where time is recorded what was entered on the days on which it was spent."""
    begun = plan.project.time and has_begun(task, state_class, entered=bool(spent))
    if not begun and not spent:
        yield from _lay(bookings, task, span, plan, capacities, usual, known)
        return
    rest, left = ahead(span, plan.now), left_of(task, {who: sum(by_day.values()) for who, by_day in spent.items()})
    waits = dict(spent)
    for booking in bookings:
        if booking.of != "labour":
            yield from _lay([booking], task, span, plan, capacities, usual, known)
            continue
        minutes = left.get(booking.who, booking.minutes) if begun else 0  # of finished work nothing is left
        laid = _rest(booking, minutes, task, rest, span, plan, capacities, usual, known)
        yield booking, _with(laid, waits.pop(booking.who, {}))
    for who, by_day in waits.items():
        yield Booking(who, 0), Laid(dict(by_day))


def _rest(
    booking: Booking, minutes: int, task: Task, rest: tuple[datetime, datetime], span: tuple[datetime, datetime], plan: Plan,
    capacities: Mapping[str, Capacity], usual: Capacity, known: Known,
) -> Laid:  # fmt: skip
    """What is left of a booking. Hours that were set by day stay on their days, as far as those are still to come and sum up."""
    if not minutes:
        return Laid({})
    if booking.shape == "by_day":
        [(_, laid)] = _lay([booking], task, span, plan, capacities, usual, known)
        coming = {day: value for day, value in laid.by_day.items() if day >= rest[0].toordinal()}
        if sum(coming.values()) == minutes:
            return Laid(coming, laid.outside)
    [(_, laid)] = _lay([Booking(booking.who, minutes)], task, rest, plan, capacities, usual, known)
    return laid


def _with(laid: Laid, entered: ByDay) -> Laid:
    by_day = dict(laid.by_day)
    for day, minutes in entered.items():
        by_day[day] = by_day.get(day, 0) + minutes
    return Laid(by_day, laid.outside)


def _lay(
    bookings: Iterable[Booking], task: Task, span: tuple[datetime, datetime], plan: Plan,
    capacities: Mapping[str, Capacity], usual: Capacity, known: Known,
) -> Iterable[tuple[Booking, Laid]]:  # fmt: skip
    hours = hours_of(task, plan.project, plan.calendar)
    for booking in bookings:
        capacity = capacities.get(booking.who, usual)
        key = (id(capacity), id(hours), task.elapsed)
        if (pair := known.get(key)) is None:
            pair = known[key] = Together(capacity, hours, elapsed=task.elapsed)
        yield booking, pair.lay(booking, *span)


def _span(row: Row) -> tuple[datetime, datetime] | None:
    task = row.task
    if row.state_class == "finished" and task.actual_start and task.actual_finish:
        return task.actual_start, task.actual_finish
    start, finish = row.start or row.finish, row.finish or row.start
    return (start, finish) if start and finish else None


def _spread_out(row: Row, spent: Mapping[str, ByDay]) -> Iterable[Booking]:
    """The bookings of a task, and what of its estimate nobody has. Of a material its amount is laid out as minutes are; a fixed
    cost lies on nobody."""
    for one in row.task.bookings:
        if one.of == "labour":
            yield one
        elif one.of == "material":
            yield replace(one, minutes=one.amount)
    booked = {one.who for one in row.task.bookings}
    besides = sum(sum(by_day.values()) for who, by_day in spent.items() if who not in booked)
    left = (row.effort or 0) - row.task.booked - besides
    if left > 0 and row.state_class in OPEN_CLASSES:
        yield Booking(NOBODY, left)


@dataclass(frozen=True, slots=True)
class Span:
    """The columns of a load: from the first day of each, as an ordinal, to the first of the next."""

    edges: tuple[int, ...]

    @property
    def first(self) -> int:
        """The ordinal of the first day."""
        return self.edges[0]

    @property
    def days(self) -> int:
        """How many days there are in all."""
        return self.edges[-1] - self.edges[0]


def columns(first: date, last: date, by: By) -> Span:
    """The days, weeks or months from one day to another, each whole.

    Raises:
        RuleError: the last lies before the first, or there are too many.
    """
    if last < first:
        raise RuleError("The last day lies before the first. Choose them again.", "last")
    if (last - first).days > MOST_DAYS:
        raise RuleError("Load is shown for five years at most. Choose fewer days.", "last")
    edges: list[date] = [_begin(first, by)]
    while edges[-1] <= last:
        edges.append(_next(edges[-1], by))
    if len(edges) - 1 > MOST_COLUMNS:
        raise RuleError("That are more days than can be shown. Choose weeks, or fewer days.", "last")
    return Span(tuple(edge.toordinal() for edge in edges))


def _begin(day: date, by: By) -> date:
    if by == "day":
        return day
    return day - timedelta(days=day.weekday()) if by == "week" else day.replace(day=1)


def _next(day: date, by: By) -> date:
    if by == "month":
        return day.replace(year=day.year + 1, month=1) if day.month == 12 else day.replace(month=day.month + 1)
    return day + timedelta(days=1 if by == "day" else 7)


@dataclass(frozen=True, slots=True)
class Line:
    """The load of one person or resource, by column.

    Attributes:
        capacity: bookable minutes.
        away: minutes that would be bookable but for absences.
        bands: by project its minutes, or where tasks are counted its tasks.
        other: the same of projects that the reader may not see.
        over: minutes beyond capacity, summed over the days, so that a free day hides no full one.
        days_over: on how many days.
    """

    who: str
    capacity: list[int]
    away: list[int]
    bands: dict[str, list[int]]
    other: list[int]
    over: list[int]
    days_over: int


@dataclass(frozen=True, slots=True)
class Bookable:
    """Whose load is asked for.

    Attributes:
        capacity: None for hours that nobody has.
        present: the same without absences.
    """

    who: str
    capacity: Capacity | None
    present: Capacity | None = None


def line(one: Bookable, span: Span, loads: Mapping[str, PlanLoad], hidden: Sequence[PlanLoad]) -> Line:
    """The hours of one person or resource.

    Args:
        loads: by project, those that the reader may see.
        hidden: the others, which count without names.
    """
    total = [0] * span.days
    bands = {key: by_day for key, load in loads.items() if any(by_day := _by_day(load, one.who, span, total))}
    other = [0] * span.days
    for load in hidden:
        other = [a + b for a, b in zip(other, _by_day(load, one.who, span, total), strict=True)]
    if one.capacity is None:
        nothing = [0] * (len(span.edges) - 1)
        return Line(one.who, nothing, nothing, _summed_all(bands, span), _summed(other, span), nothing, 0)
    days = range(span.first, span.edges[-1])
    capacity = [one.capacity.on(day) for day in days]
    away = [one.present.on(day) - has for day, has in zip(days, capacity, strict=True)] if one.present else [0] * span.days
    over = [max(0, has - may) for has, may in zip(total, capacity, strict=True)]
    return Line(one.who, _summed(capacity, span), _summed(away, span), _summed_all(bands, span), _summed(other, span),
                _summed(over, span), sum(map(bool, over)))  # fmt: skip


def tasks_line(one: Bookable, span: Span, loads: Mapping[str, PlanLoad], hidden: Sequence[PlanLoad]) -> Line:
    """How many open tasks one person owns or helps with, by column; nothing is said of capacity."""
    nothing = [0] * (len(span.edges) - 1)
    bands = {key: counted for key, load in loads.items() if any(counted := _count(load, one.who, span))}
    other = list(nothing)
    for load in hidden:
        other = [a + b for a, b in zip(other, _count(load, one.who, span), strict=True)]
    return Line(one.who, nothing, nothing, bands, other, nothing, 0)


def _by_day(load: PlanLoad, who: str, span: Span, total: list[int]) -> list[int]:
    found = [0] * span.days
    first, days = span.first, span.days
    for ordinal, minutes in load.by_who.get(who, {}).items():
        index = ordinal - first
        if 0 <= index < days:
            found[index] += minutes
            total[index] += minutes
    return found


def _count(load: PlanLoad, who: str, span: Span) -> list[int]:
    counted = []
    at_work = load.at_work.get(who, ())
    for first, end in zip(span.edges, span.edges[1:], strict=False):
        counted.append(sum(begin < end and last >= first for _, begin, last in at_work))
    return counted


def _summed(by_day: Sequence[int], span: Span) -> list[int]:
    if span.days == len(span.edges) - 1:
        return list(by_day)
    first = span.first
    return [sum(by_day[a - first : b - first]) for a, b in zip(span.edges, span.edges[1:], strict=False)]


def _summed_all(bands: Mapping[str, Sequence[int]], span: Span) -> dict[str, list[int]]:
    return {key: _summed(by_day, span) for key, by_day in bands.items()}


def within_days(laid: Laid, first: int, end: int) -> int:
    """The minutes of a booking from one day to before another, by their ordinals."""
    return sum(minutes for ordinal, minutes in laid.by_day.items() if first <= ordinal < end)
