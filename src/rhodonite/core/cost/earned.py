"""Earned value: agreed cost of what was to be done, agreed cost of what is done, and what it really cost.

Names and formulas as in ANSI/EIA-748 (Earned Value Management Systems); also Project Management Institute, The Standard for
Earned Value Management, 2019.
"""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from decimal import ROUND_HALF_EVEN, Decimal
from itertools import accumulate
from types import MappingProxyType

from ..common.calendars import WorkingCalendar
from ..schedule.agreed import AgreedTask
from ..schedule.plan import Plan
from ..tasks.hours import hours_of
from .costs import CostLine, Expense, SpentEntry, expense_cost
from .money import Prices, half_even

FORMULAS: Mapping[str, tuple[str, str]] = {
    "BAC": ("budget at completion", "the agreed cost of all tasks"),
    "PV": (
        "planned value",
        "the agreed cost of what was to be done by the status day, each task linear over its agreed working minutes",
    ),
    "EV": ("earned value", "the agreed cost of each task × its percent done"),
    "AC": ("actual cost", "what was spent: entries at the rates of their days, material used, sums spent"),
    "SV": ("schedule variance", "EV − PV"),
    "CV": ("cost variance", "EV − AC"),
    "SPI": ("schedule performance index", "EV / PV"),
    "CPI": ("cost performance index", "EV / AC"),
    "EAC": ("estimate at completion", "AC + (BAC − EV) / CPI"),
    "ETC": ("estimate to complete", "EAC − AC"),
    "VAC": ("variance at completion", "BAC − EAC"),
}
"""By its trade name what a figure is and how it is reckoned."""
SOURCE = "ANSI/EIA-748, Earned Value Management Systems"
INDEX_DECIMALS = Decimal("0.001")
MOST_POINTS = 160
NOTHING_DONE: Mapping[str, int] = MappingProxyType({})


@dataclass(frozen=True, slots=True)
class EarnedValue:
    """The figures of one status day, in minor units; indices as numbers. What has no divisor is None, and ``why`` says so."""

    bac: int
    pv: int
    ev: int
    ac: int
    spi: Decimal | None
    cpi: Decimal | None
    eac: int | None
    why: str = ""

    @property
    def sv(self) -> int:
        """Schedule variance."""
        return self.ev - self.pv

    @property
    def cv(self) -> int:
        """Cost variance."""
        return self.ev - self.ac

    @property
    def etc(self) -> int | None:
        """Estimate to complete."""
        return None if self.eac is None else self.eac - self.ac

    @property
    def vac(self) -> int | None:
        """Variance at completion."""
        return None if self.eac is None else self.bac - self.eac


def earned_value(bac: int, pv: int, ev: int, ac: int) -> EarnedValue:
    """All figures from the four that are summed.

    >>> earned_value(100_000, 50_000, 40_000, 50_000).eac
    125000
    """
    why = []
    if not pv:
        why.append("Nothing was to be done by now, so there is no SPI.")
    if not ac:
        why.append("Nothing is spent yet, so there is no CPI, and no EAC.")
    elif not ev:
        why.append("Nothing is earned yet, so there is no EAC: CPI is nothing.")
    eac = ac + half_even((bac - ev) * ac, ev) if ev and ac else None
    return EarnedValue(bac, pv, ev, ac, _index(ev, pv), _index(ev, ac), eac, " ".join(why))


def _index(number: int, divisor: int) -> Decimal | None:
    return (Decimal(number) / divisor).quantize(INDEX_DECIMALS, rounding=ROUND_HALF_EVEN) if divisor else None


def planned_value(agreed: AgreedTask, cost: int, at: datetime, calendar: WorkingCalendar) -> int:
    """How much of a task's agreed cost was to be earned by a moment: linear over its agreed working minutes.

    Args:
        cost: agreed, in minor units.
        calendar: by which the task works.
    """
    start, finish = agreed.start or agreed.finish, agreed.finish or agreed.start
    if start is None or finish is None or at < start:
        return 0
    whole = calendar.minutes_between(start, finish)
    if at >= finish or whole <= 0:
        return cost
    return half_even(cost * calendar.minutes_between(start, at), whole)


def agreed_costs(plan: Plan, to_minor: Callable[[Decimal], int]) -> dict[str, int]:
    """The agreed cost of each task that has none below it, in minor units; empty where cost was not agreed."""
    return {
        one: to_minor(agreed.cost) for one, agreed in plan.agreed.items() if agreed.cost is not None and not agreed.is_summary
    }


def agreed_below(plan: Plan, costs: Mapping[str, int]) -> dict[str, int]:
    """The agreed cost of each task with all below it, and of the project under its id, in minor units.

    Args:
        costs: as ``agreed_costs`` gives them. Tasks that are in the bin by now were agreed all the same.
    """
    if not costs:
        return {}
    found: dict[str, int] = {}
    for task_id, _, _ in reversed(list(plan.outline.walk())):
        found[task_id] = costs.get(task_id, 0) + sum(found[one] for one in plan.outline.children.get(task_id, ()))
    return found | {plan.project.id: sum(costs.values())}


def spent_by_day(
    plan: Plan,
    lines_of: Mapping[str, Sequence[CostLine]],
    prices: Prices,
    entries: Mapping[str, Sequence[SpentEntry]],
    expenses: Mapping[str, Sequence[Expense]],
) -> list[tuple[int, int]]:
    """Ordinals of days with what was spent on them, in minor units. Where no time is recorded, the hours that count as spent
    lie on the day of the status.

    Args:
        lines_of, entries, expenses: by task.
    """
    found: list[tuple[int, int]] = []
    if plan.project.time:
        for task_id in entries:
            found += [(day, prices.of_hours(who, ((day, minutes),)) or 0) for who, day, minutes, _ in entries[task_id]]
    else:
        labour = (one.cost.spent for lines in lines_of.values() for one in lines if one.of == "labour")
        found.append((plan.now.toordinal(), sum(labour)))
    for task_id in expenses:
        found += [(one.day.toordinal(), expense_cost(one, prices)) for one in expenses[task_id]]
    return found


def measure(plan: Plan, costs: Mapping[str, int], ac: int, at: datetime, in_bin: Mapping[str, int] = NOTHING_DONE) -> EarnedValue:
    """The figures of a plan on a status day.

    Args:
        costs: agreed, by task.
        ac: what was spent by then.
        at: the end of the status day, or now.
        in_bin: of agreed tasks that are in the bin by now their percent done. What was earned by them stays earned, as what was
            spent on them stays spent.
    """
    bac = pv = ev = 0
    for task_id, cost in costs.items():
        bac += cost
        pv += planned_value(plan.agreed[task_id], cost, at, _calendar(plan, task_id))
        row = plan.rows.get(task_id)
        ev += half_even(cost * (row.percent if row else in_bin.get(task_id, 0)), 100)
    return earned_value(bac, pv, ev, ac)


def _calendar(plan: Plan, task_id: str) -> WorkingCalendar:
    task = plan.tasks.get(task_id)
    return hours_of(task, plan.project, plan.calendar) if task else plan.calendar


@dataclass(frozen=True, slots=True)
class CurvePoint:
    """The curves at the end of one day, in minor units; ``earned`` and ``spent`` are None in days to come."""

    day: date
    planned: int
    earned: int | None
    spent: int | None


def curves(
    plan: Plan,
    costs: Mapping[str, int],
    percents: Mapping[str, Sequence[tuple[date, int]]],
    spent_on: Iterable[tuple[int, int]],
    today: date,
    figures: EarnedValue | None = None,
) -> list[CurvePoint]:
    """Planned, earned and spent by week, from the first day of the agreed plan, or on which anything was spent, to the last.

    Args:
        costs: agreed, by task.
        percents: by task the days on which its percent done changed, in order, with what it became.
        spent_on: ordinals of days with what was spent on them, in minor units, in any order.
        figures: as ``measure`` gives them for now, so that curve and figures say the same of today.
    """
    by_day: dict[int, int] = {}
    for ordinal, amount in spent_on:
        by_day[ordinal] = by_day.get(ordinal, 0) + amount
    days = _days(plan, costs, by_day, today)
    ordinals = [day.toordinal() for day in days]
    planned, earned, spent = ([0] * (len(days) + 1) for _ in range(3))  # what is added at each point
    for ordinal, amount in by_day.items():
        spent[bisect_left(ordinals, ordinal)] += amount
    for task_id, cost in costs.items():
        _add_planned(planned, days, ordinals, plan.agreed[task_id], cost, _calendar(plan, task_id))
        before = 0
        for at, percent in percents.get(task_id, ()):
            value = half_even(cost * percent, 100)
            earned[bisect_left(ordinals, at.toordinal())] += value - before
            before = value
    sums = zip(days, accumulate(planned), accumulate(earned), accumulate(spent), strict=False)
    return [
        CurvePoint(day, figures.pv, figures.ev, figures.ac)
        if day == today and figures is not None
        else CurvePoint(day, pv, ev if day <= today else None, ac if day <= today else None)
        for day, pv, ev, ac in sums
    ]


def _add_planned(
    added: list[int], days: Sequence[date], ordinals: Sequence[int], agreed: AgreedTask, cost: int, calendar: WorkingCalendar
) -> None:
    """Add what one task was to earn up to each point; only the points within its dates are looked at."""
    start, finish = agreed.start or agreed.finish, agreed.finish or agreed.start
    if start is None or finish is None:
        return
    before = 0
    for index in range(bisect_left(ordinals, start.toordinal()), len(days)):
        value = planned_value(agreed, cost, datetime.combine(days[index], time.max), calendar)
        added[index] += value - before
        before = value
        if ordinals[index] >= finish.toordinal():
            return


def _days(plan: Plan, costs: Mapping[str, int], by_day: Mapping[int, int], today: date) -> list[date]:
    """The last day of each week; today is among them."""
    agreed = [plan.agreed[one] for one in costs]
    starts = [one.start.date() for one in agreed if one.start] + [date.fromordinal(one) for one in by_day]
    ends = [one.finish.date() for one in agreed if one.finish]
    if not starts:
        return []
    first, last = min(starts), max([*ends, today])
    step = 7 * max(1, -(-((last - first).days // 7 + 1) // MOST_POINTS))
    friday = first + timedelta(days=(4 - first.weekday()) % 7)
    found = {first - timedelta(days=1), today, last}
    while friday < last:
        found.add(friday)
        friday += timedelta(days=step)
    return sorted(found)
