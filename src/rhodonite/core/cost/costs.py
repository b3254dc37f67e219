"""What tasks cost: planned from bookings, spent from entries and expenses, and what is still to come.

- Planned: hours × the rate of each day, units × the cost of a unit, fixed sums; each booking rounded once.
- Spent: each entry at the rate of its day, material used, sums spent. Where a project records no time, the hours booked
  count as spent as far as their task is done.
- To come: of work that is not finished what is left of its hours, at the rates of the days ahead. Of a material or a fixed
  sum what was not used or spent yet; once work is finished nothing, unless nothing at all was entered of it: bills follow.
- At completion: spent and to come.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, datetime
from decimal import Decimal
from types import MappingProxyType

from ..resources.capacity import Capacity
from ..resources.load import NO_DATES, Known, lay_one
from ..resources.spent import ahead, has_begun, left_of
from ..schedule.plan import Plan
from ..tasks.model import OPEN_CLASSES, Booking, Fields, ResourceKind, Task
from .money import PARTS, Prices, half_even, to_minor

SpentEntry = tuple[str, int, int, bool]
"""Person, ordinal of the day, minutes, billable."""


@dataclass(frozen=True, slots=True)
class Expense:
    """What was used of a material, or spent as a sum, on a task on a day.

    Attributes:
        resource_id: the material or fixed cost that was booked; None for a sum that nobody planned.
        units: of a material; ``amount``: of a sum, in the currency of the project. One of them.
    """

    id: str
    project_id: str
    task_id: str
    resource_id: str | None
    day: date
    units: Decimal | None
    amount: Decimal | None
    note: str
    person_id: str
    revision: int = 0


@dataclass(slots=True)
class Cost:
    """Minor units: planned, spent, still to come.

    Attributes:
        unpriced: minutes of people of whom no rate is known, booked or entered: they are in none of the sums.
    """

    planned: int = 0
    spent: int = 0
    to_come: int = 0
    unpriced: int = 0

    @property
    def at_completion(self) -> int:
        """What it will have cost in the end."""
        return self.spent + self.to_come

    def add(self, other: Cost) -> None:
        """Take in another."""
        self.planned += other.planned
        self.spent += other.spent
        self.to_come += other.to_come
        self.unpriced += other.unpriced


@dataclass(slots=True)
class CostLine:
    """What one person or resource costs on one task.

    Attributes:
        who: the id; empty for sums that nobody planned.
        booked, used: minutes, thousandths of a unit, or thousandths of the currency.
    """

    who: str
    of: ResourceKind
    cost: Cost
    booked: int = 0
    used: int = 0


NOTHING: Mapping[str, Sequence[Expense]] = MappingProxyType({})


@dataclass(frozen=True, slots=True)
class Ground:
    """What cost is reckoned from beside the tasks.

    Attributes:
        prices: that hold in the project.
        capacities, usual: of people, by which hours lie over days.
        known: times that person and task have in common, found before.
    """

    prices: Prices
    capacities: Mapping[str, Capacity]
    usual: Capacity
    known: Known = field(default_factory=dict)


def cost_lines(
    task: Task, plan: Plan, ground: Ground, entries: Sequence[SpentEntry] = (), expenses: Sequence[Expense] = (),
    dates: Fields = NO_DATES,
) -> list[CostLine]:  # fmt: skip
    """What each person and resource costs on one task; their sum is what it costs.

    Args:
        entries: the hours that were entered on it, which count where time is recorded; ``expenses``: what was used and spent.
        dates: ``start`` and ``finish`` where they are others than those of the task.
    """
    state_class = plan.project.state(task.state_id).state_class
    span = span_of(task, state_class, plan.now, dates)
    lines: dict[str, CostLine] = {}
    minutes: dict[str, int] = defaultdict(int)
    for who, day, spent, _ in entries if plan.project.time else ():
        minutes[who] += spent
        _enter(lines, who, day, spent, ground.prices)
    left = _left(task, state_class, plan, minutes)
    begun = has_begun(task, state_class, entered=bool(minutes))
    for booking in () if state_class == "dropped" else task.bookings:
        line = lines.setdefault(booking.who, CostLine(booking.who, booking.of, Cost()))
        if booking.of == "labour":
            _labour(line, booking, task, plan, ground, span, left[booking.who], begun=begun)
        else:
            line.booked = booking.amount
            line.cost.planned += _of_amount(booking.of, booking.who, booking.amount, ground.prices, span[0])
    for one in expenses:
        _spend(lines, one, ground.prices)
    for line in lines.values():
        if line.of != "labour":
            _rest(line, ground.prices, max(span[0], plan.now) if state_class in OPEN_CLASSES else span[0],
                  is_open=state_class in OPEN_CLASSES)  # fmt: skip
    return list(lines.values())


def lines_of(
    task: Task, plan: Plan, ground: Ground, entries: Sequence[SpentEntry] = (), expenses: Sequence[Expense] = (),
    dates: Fields = NO_DATES,
) -> list[CostLine]:  # fmt: skip
    """The same of a task wherever it stands: what was booked on one that has tasks below it by now does not count."""
    if not (task.bookings or entries or expenses):
        return []
    bare = replace(task, bookings=()) if task.bookings and plan.outline.is_summary(task.id) else task
    return cost_lines(bare, plan, ground, entries, expenses, dates)


def lines_in_bin(
    plan: Plan, prices: Prices, entries: Sequence[SpentEntry] = (), expenses: Sequence[Expense] = ()
) -> list[CostLine]:
    """What was spent on a task that is in the bin: it stays spent, while nothing of it is planned or to come any more."""
    lines: dict[str, CostLine] = {}
    for who, day, spent, _ in entries if plan.project.time else ():
        _enter(lines, who, day, spent, prices)
    for one in expenses:
        _spend(lines, one, prices)
    return list(lines.values())


def span_of(task: Task, state_class: str, now: datetime, dates: Fields = NO_DATES) -> tuple[datetime, datetime]:
    """From when to when the hours of a task lie: what has no dates costs what it would cost today."""
    if state_class == "finished" and task.actual_start and task.actual_finish:
        return task.actual_start, task.actual_finish
    start, finish = dates.get("start", task.start), dates.get("finish", task.finish)
    start, finish = start or finish or now, finish or start or now
    return start, max(start, finish)


def _left(task: Task, state_class: str, plan: Plan, spent: Mapping[str, int]) -> dict[str, int]:
    """Minutes left of each labour booking; of work that is done or dropped none."""
    if state_class not in OPEN_CLASSES:
        return {one.who: 0 for one in task.bookings}
    if plan.project.time:
        return left_of(task, spent)
    return {one.who: one.minutes - half_even(one.minutes * task.percent, 100) for one in task.bookings if one.of == "labour"}


def _enter(lines: dict[str, CostLine], who: str, day: int, minutes: int, prices: Prices) -> None:
    line = lines.setdefault(who, CostLine(who, "labour", Cost()))
    cost = prices.of_hours(who, ((day, minutes),))
    line.used += minutes
    if cost is None:
        line.cost.unpriced += minutes
    else:
        line.cost.spent += cost


def _labour(
    line: CostLine, booking: Booking, task: Task, plan: Plan, ground: Ground, span: tuple[datetime, datetime], left: int, *,
    begun: bool,
) -> None:  # fmt: skip
    line.booked = booking.minutes
    if booking.who not in ground.prices.steps:
        line.cost.unpriced += left if plan.project.time else booking.minutes
        return
    planned = _hours_cost(booking, task, plan, ground, span)
    line.cost.planned += planned
    if not plan.project.time:  # then the hours booked stand for those that were spent, as far as the work is done
        if left == 0:
            to_come = 0
        elif left == booking.minutes:
            to_come = planned
        else:
            to_come = half_even(planned * left, booking.minutes)
        line.used += booking.minutes - left
        line.cost.to_come += to_come
        line.cost.spent += planned - to_come
    elif left:
        whole = left == booking.minutes and not begun
        rest = booking if whole else Booking(booking.who, left, resource=booking.resource)
        line.cost.to_come += planned if whole else _hours_cost(rest, task, plan, ground, ahead(span, plan.now))


def _hours_cost(booking: Booking, task: Task, plan: Plan, ground: Ground, span: tuple[datetime, datetime]) -> int:
    first = span[0].toordinal()
    by_day: Sequence[tuple[int, int]] = ((first, booking.minutes),)
    last = span[1].toordinal() if booking.shape != "by_day" else first + 10 * len(booking.by_day) + 10
    if ground.prices.changes_within(booking.who, first, last):
        laid = lay_one(booking, task, span, plan, ground.capacities, ground.usual, ground.known)
        by_day = tuple(laid.by_day.items())
    return ground.prices.of_hours(booking.who, by_day) or 0


def _of_amount(of: ResourceKind, who: str, thousandths: int, prices: Prices, at: datetime) -> int:
    if of == "fixed":
        return prices.fixed(thousandths)
    return prices.of_units(who, thousandths, at.toordinal()) or 0


def expense_cost(one: Expense, prices: Prices) -> int:
    """What an expense costs, in minor units: units at the rate of their day, a sum as it is."""
    if one.units is not None:
        return prices.of_units(one.resource_id or "", int(one.units * PARTS), one.day.toordinal()) or 0
    return to_minor(one.amount, prices.decimals) if one.amount is not None else 0


def _spend(lines: dict[str, CostLine], one: Expense, prices: Prices) -> None:
    of: ResourceKind = "material" if one.units is not None else "fixed"
    line = lines.setdefault(one.resource_id or "", CostLine(one.resource_id or "", of, Cost()))
    line.used += int((one.units if one.units is not None else one.amount or 0) * PARTS)
    line.cost.spent += expense_cost(one, prices)


def _rest(line: CostLine, prices: Prices, at: datetime, *, is_open: bool) -> None:
    """What is still to come of a material or a sum that was booked."""
    rest = line.booked - line.used if is_open or not line.used else 0
    if rest > 0:
        line.cost.to_come += line.cost.planned if not line.used else _of_amount(line.of, line.who, rest, prices, at)


@dataclass(slots=True)
class Costs:
    """What a plan costs.

    Attributes:
        of_task: of each task itself, those below it left out.
        below: of each task with all below it.
        by_who: by person or resource, empty for sums that nobody planned.
        in_bin: what was spent on tasks that are in the bin by now.
        whole: of the project, with what was spent on tasks in the bin: money spent stays spent.
    """

    of_task: dict[str, Cost]
    below: dict[str, Cost]
    by_who: dict[str, CostLine]
    in_bin: Cost
    whole: Cost


def own_cost(lines: Iterable[CostLine]) -> Cost:
    """The sum of some lines."""
    total = Cost()
    for one in lines:
        total.add(one.cost)
    return total


def sum_up(plan: Plan, lines_of: Mapping[str, Sequence[CostLine]]) -> Costs:
    """Sum what tasks cost up their tree, and by person and resource.

    Args:
        lines_of: by task what each costs on it, for those that cost anything, tasks in the bin among them.
    """
    of_task = {one: own_cost(lines) for one, lines in lines_of.items() if one in plan.rows}
    below: dict[str, Cost] = {}
    for task_id, _, _ in reversed(list(plan.outline.walk())):
        children = plan.outline.children.get(task_id)
        if not children:
            below[task_id] = of_task.get(task_id) or Cost()
            continue
        total = Cost()
        for child in children:
            total.add(below[child])
        if own := of_task.get(task_id):
            total.add(own)
        below[task_id] = total
    by_who: dict[str, CostLine] = {}
    in_bin = Cost()
    for task_id, lines in lines_of.items():
        if task_id not in plan.rows:
            in_bin.add(own_cost(lines))
        for one in lines:
            line = by_who.setdefault(one.who, CostLine(one.who, one.of, Cost()))
            line.cost.add(one.cost)
            line.booked += one.booked
            line.used += one.used
    whole = own_cost(CostLine("", "labour", below[one]) for one in plan.outline.children.get(None, ()))
    whole.add(in_bin)
    return Costs(of_task, below, by_who, in_bin, whole)
