"""What a project costs by month. The months of each line sum to it, so that the table sums to what is shown beside it."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date

from ..resources.load import lay_one
from ..resources.spent import ahead
from ..schedule.plan import Plan
from ..tasks.model import OPEN_CLASSES, Booking, Task
from .costs import CostLine, Expense, Ground, SpentEntry, expense_cost, span_of
from .money import half_even

Month = tuple[int, int]
"""Year and month."""
ByMonth = dict[Month, int]


@dataclass(frozen=True, slots=True)
class MonthCost:
    """Minor units of one month."""

    year: int
    month: int
    planned: int
    spent: int
    to_come: int


def share_out(whole: int, weights: Iterable[tuple[Month, int]]) -> ByMonth:
    """Divide a sum by weights, in minor units that sum to it: each month gets the rounded sum up to its end, less that before.

    Args:
        weights: by month, in order; not less than nothing.
    """
    listed = list(weights)
    total = sum(weight for _, weight in listed)
    found: ByMonth = {}
    before = run = 0
    for month, weight in listed:
        run += weight
        upto = half_even(whole * run, total) if total else 0
        found[month] = found.get(month, 0) + upto - before
        before = upto
    return found


def month_of(ordinal: int) -> Month:
    """The month that a day lies in."""
    day = date.fromordinal(ordinal)
    return day.year, day.month


class _Table:
    """Sums by month of the three."""

    def __init__(self) -> None:
        self.planned: ByMonth = defaultdict(int)
        self.spent: ByMonth = defaultdict(int)
        self.to_come: ByMonth = defaultdict(int)

    def add(self, into: ByMonth, by_month: ByMonth) -> None:
        for month, amount in by_month.items():
            into[month] += amount


def by_month(
    plan: Plan,
    lines_of: Mapping[str, Sequence[CostLine]],
    ground: Ground,
    entries: Mapping[str, Sequence[SpentEntry]],
    expenses: Mapping[str, Sequence[Expense]],
) -> list[MonthCost]:
    """Planned, spent and to come by month, in order, the months between that have nothing included.

    Args: as for ``costs.cost_lines``, by task.
    """
    table = _Table()
    for task_id, lines in lines_of.items():
        if task_id in plan.rows:  # of one in the bin only what was spent is left
            task = plan.tasks[task_id]
            bookings = {} if plan.outline.is_summary(task_id) else {one.who: one for one in task.bookings}
            for line in lines:
                _add_line(table, line, task, bookings.get(line.who), plan, ground)
        for who, day, minutes, _ in entries.get(task_id, ()) if plan.project.time else ():
            table.spent[month_of(day)] += ground.prices.of_hours(who, ((day, minutes),)) or 0
        for one in expenses.get(task_id, ()):
            table.spent[one.day.year, one.day.month] += expense_cost(one, ground.prices)
    return _rows(table)


def _add_line(table: _Table, line: CostLine, task: Task, booking: Booking | None, plan: Plan, ground: Ground) -> None:
    state_class = plan.project.state(task.state_id).state_class
    span = span_of(task, state_class, plan.now)
    first = month_of(span[0].toordinal())
    coming = month_of(max(span[0], plan.now).toordinal()) if state_class in OPEN_CLASSES else first
    if booking is None or booking.of != "labour":
        table.planned[first] += line.cost.planned
        table.to_come[coming] += line.cost.to_come
        return
    laid = lay_one(booking, task, span, plan, ground.capacities, ground.usual, ground.known).by_day
    table.add(table.planned, share_out(line.cost.planned, _weights(laid, booking, ground)))
    if not plan.project.time:
        _add_as_done(table, line, laid, booking, plan, ground, first)
    elif line.cost.to_come:
        rest = replace(booking, minutes=line.booked, shape="even", by_day=())
        later = lay_one(rest, task, ahead(span, plan.now), plan, ground.capacities, ground.usual, ground.known).by_day
        table.add(table.to_come, share_out(line.cost.to_come, _weights(later, booking, ground)))


def _add_as_done(
    table: _Table, line: CostLine, laid: Mapping[int, int], booking: Booking, plan: Plan, ground: Ground, first: Month
) -> None:
    """Where no time is recorded what counts as spent lies on the days up to today, the rest on those after it."""
    today = plan.now.toordinal()
    past = {day: minutes for day, minutes in laid.items() if day <= today}
    coming = {day: minutes for day, minutes in laid.items() if day > today}
    now = (plan.now.year, plan.now.month)
    table.add(table.spent, share_out(line.cost.spent, _weights(past, booking, ground)) if past else {first: line.cost.spent})
    table.add(
        table.to_come, share_out(line.cost.to_come, _weights(coming, booking, ground)) if coming else {now: line.cost.to_come}
    )


def _weights(laid: Mapping[int, int], booking: Booking, ground: Ground) -> list[tuple[Month, int]]:
    """What the hours of each month cost, exactly; where that is nothing, the hours themselves."""
    days = sorted(laid)
    priced: ByMonth = {}
    hours: ByMonth = {}
    for day in days:
        month = month_of(day)
        hours[month] = hours.get(month, 0) + laid[day]
        priced[month] = priced.get(month, 0) + ground.prices.exactly(booking.who, day, laid[day])
    return list((priced if any(priced.values()) else hours).items())


def _rows(table: _Table) -> list[MonthCost]:
    months = sorted(month for some in (table.planned, table.spent, table.to_come) for month, amount in some.items() if amount)
    if not months:
        return []
    found: list[MonthCost] = []
    (year, month), last = months[0], months[-1]
    while (year, month) <= last:
        key = (year, month)
        found.append(MonthCost(year, month, table.planned.get(key, 0), table.spent.get(key, 0), table.to_come.get(key, 0)))
        year, month = (year + 1, 1) if month == 12 else (year, month + 1)
    return found
