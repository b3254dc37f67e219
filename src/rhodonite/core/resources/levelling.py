"""Levelling: moving work so that no resource is taken beyond its capacity.

Resource-constrained project scheduling. R. Kolisch and S. Hartmann, "Heuristic algorithms for solving the
resource-constrained project scheduling problem: classification and computational analysis", 1999, for the serial schedule
generation scheme and priority rules; P. Tormos and A. Lova, 2001, for forward-backward improvement.

The scheme is the forward pass of the schedule itself, in another order: a task is placed where its links, constraints and
calendar allow it, and then later until there is room. So links of all types, lags, calendars and summary tasks hold as in
the plan. A task takes its units from its start to its finish.
"""

from __future__ import annotations

import itertools
import random
from collections import defaultdict
from collections.abc import Callable, Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from heapq import heapify, heappop, heappush
from typing import Literal

from ..common.calendars import WorkingCalendar
from ..schedule.network import LEAF, Network, PlanInput
from ..schedule.passes import FAR, THROUGH
from ..schedule.schedule import Schedule
from .exact import MOST, Shares, better_order
from .profile import Profile

Rule = Literal["late_start", "late_finish", "early_start", "slack", "most_after"]
RULES: tuple[Rule, ...] = ("late_start", "late_finish", "early_start", "slack", "most_after")
_MANY = 3_000
"""Tasks from which on fewer rules are tried, so that there is an answer at once."""
_AT_ONCE, _MOST_TRIED = 30_000, 300
"""Further orders that are tried where nobody waits for more: so many tasks placed in all, and so many orders at most."""
_TRIES = 5_000
_TURNS = 6


@dataclass(frozen=True, slots=True)
class Taker:
    """What is to be shared: a person, a crew, a machine.

    Attributes:
        capacity: units that there are at once.
        hours: when it can be taken; None: whenever a task runs.
        taken: what other plans take of it, as minutes from and to, and units.
    """

    id: str
    capacity: float = 1
    hours: WorkingCalendar | None = None
    taken: Sequence[tuple[int, int, float]] = ()


@dataclass(frozen=True, slots=True)
class Demand:
    """The units of a resource that a task takes while it runs."""

    task: str
    resource: str
    units: float = 1


@dataclass(frozen=True, slots=True)
class Levelled:
    """A levelled plan.

    Attributes:
        schedule: with the dates of every task.
        moved: the ids of tasks that stand elsewhere than in the plan.
        delayed: of them those that wait for room; the others follow by their links.
        over: by resource the tasks for which there was no room where they may stand, so that it stays over.
        makespan: working minutes of the project's calendar from the start of the project to its finish.
        lower_bound: below which it cannot be.
        method: which rule and improvement gave it.
    """

    schedule: Schedule
    moved: list[str]
    delayed: list[str]
    over: dict[str, list[str]]
    makespan: int
    lower_bound: int
    method: str


class _Scheme(Schedule):
    """The serial scheme. ``_place`` is one turn of the forward pass, which for its speed has no function for it.

    Args:
        net: of the plan.
        demands: by node, its resources and units.
        takers: by id.
        first: by node its priority: the least is placed first.
        limits: by node the position that its finish must not pass: for what must not move what comes after it.
    """

    def __init__(
        self,
        net: Network,
        demands: Mapping[int, Sequence[tuple[str, float]]],
        takers: Mapping[str, Taker],
        first: Sequence[float],
        limits: Mapping[int, int],
    ) -> None:
        self._demands, self._takers, self._first, self._limits = demands, takers, first, limits
        self.over: dict[str, list[str]] = {}
        self.delayed: list[int] = []
        super().__init__(net)

    def _put_late(self, n: int, room: int, stand: list[int]) -> None:
        """As late as possible is as soon as there is room: what is levelled stays where it was put."""

    def _forward(self) -> None:
        net = self.net
        self.profiles = {one.id: _profile(one) for one in self._takers.values()}
        self.over = defaultdict(list)
        self.delayed = []
        still = [n for n in self._demands if n in self._fixed or n in self._pins]
        for n in still:  # what stands still is there before all others
            self._place(n)
            self._take(n)
        waiting = [len(before) for before in net.before]
        for n, slow in net.before_slow.items():
            waiting[n] += len(slow)
        ready = [(self._first[n], n) for n in net.order if not waiting[n]]
        heapify(ready)
        while ready:
            _, n = heappop(ready)
            self._place(n)
            if n in self._demands and n not in self._fixed and n not in self._pins:
                self._find_room_for(n)
                self._take(n)
            for number in (*net.after[n], *net.after_slow.get(n, ())):
                m = net.to_end[number] >> 1
                waiting[m] -= 1
                if not waiting[m]:
                    heappush(ready, (self._first[m] if net.role[m] == LEAF else -FAR, m))

    def _place(self, n: int, least: int = -FAR) -> None:
        """Put a node where its links, its constraint and its calendar allow it, and not before a position."""
        net, early, links = self.net, self._early, len(self.plan.links)
        best, cause = self._floor[n], self._causes_at_first[n]
        for number in net.before[n]:
            bound = early[net.from_end[number]] + self._gives_now[number]
            if bound > best:
                best, cause = bound, number
            elif bound == best and number < links:
                cause = self._first_link(cause, number)
        if n in net.before_slow:
            best, cause = self._bounds_in_minutes(n, best, cause)
        best = max(best, least)
        self._cause[n] = cause if cause < links else THROUGH - (net.from_end[cause] >> 1)
        if n in self._special:
            self._place_special(n, best)
            return
        minutes = self._work[n]
        if minutes or (net.role[n] == LEAF and not self.plan.milestones_close):
            best |= 1
        early[2 * n] = best
        early[2 * n + 1] = best + minutes - 1 if minutes else best

    def _prepare(self) -> None:
        super()._prepare()
        self._causes_at_first = list(self._cause)
        self._gives_now = self._gives()

    def _span(self, n: int) -> tuple[int, int]:
        return self._minute(2 * n), self._minute(2 * n + 1)

    def _take(self, n: int) -> None:
        start, finish = self._span(n)
        for resource, units in self._demands[n]:
            self.profiles[resource].add(start, finish, units)

    def _find_room_for(self, n: int) -> None:
        """Put a node that was placed later, until there is room; back where it was where there is none that it may have."""
        limit, first = self._limits.get(n, FAR), self._early[2 * n]
        for _ in range(_TRIES):
            start, finish = self._span(n)
            if self._early[2 * n + 1] > limit:
                break
            later = self._next(n, start, finish)
            if later is None:
                if self._early[2 * n] != first:
                    self.delayed.append(n)
                return
            position = self.net.calendars[n].position(later)
            self._place(n, max(position, self._early[2 * n] + 1))
        self._place(n, first)
        self._note_over(n)

    def _note_over(self, n: int) -> None:
        start, finish = self._span(n)
        for resource, units in self._demands[n]:
            if self.profiles[resource].room_after(start, finish, units) is not None or self._away(resource, n, start, finish):
                self.over[resource].append(self.net.tasks[self.net.task_of[n]].id)

    def _next(self, n: int, start: int, finish: int) -> int | None:
        """None where there is room from a minute to another; else the minute before which there is none."""
        for resource, units in self._demands[n]:
            later = self.profiles[resource].room_after(start, finish, units)
            if later is None:
                later = self._away(resource, n, start, finish)
            if later is not None:
                return later
        return None

    def _away(self, resource: str, n: int, start: int, finish: int) -> int | None:
        """The minute at which a resource is back, where it is away while a task would run."""
        hours = self._takers[resource].hours
        if hours is None:
            return None
        for opens, closes in self._runs(n, start, finish):
            if hours.between(opens, closes) < closes - opens:
                gone = hours.next_working(opens)
                if gone > opens:
                    return gone
                # it works at first: it is back after the end of that stretch
                worked = hours.last_working(closes)
                return hours.next_working(max(worked, opens + 1))
        return None

    def _runs(self, n: int, start: int, finish: int) -> Sequence[tuple[int, int]]:
        return [(start, finish)] if self._elapsed(n) else self.net.calendars[n].stretches(start, finish)


def _profile(taker: Taker) -> Profile:
    made = Profile(taker.capacity)
    for begin, end, units in taker.taken:
        made.add(begin, end, units)
    return made


class _Bounds(Schedule):
    """How late each task may be so that nothing that stands still is pushed: the end of the project bounds nothing."""

    def _project_finish(self) -> list[int]:
        self._ceiling = {}
        return [FAR // 4] * len(self.net.role)


def level(
    plan: PlanInput,
    takers: Sequence[Taker],
    demands: Sequence[Demand],
    *,
    within_slack: bool = False,
    still: Collection[str] = (),
    seed: int = 1,
    goes_on: Callable[[int], bool] | None = None,
) -> Levelled:
    """Move tasks so that no resource is taken beyond its capacity, the project finishing as early as that can be found.

    Args:
        plan: to be levelled; what has begun or is pinned does not move.
        takers: the resources; ``demands``: what tasks take of them.
        within_slack: True where nothing may move beyond its total slack; what then stays over is reported.
        still: the ids of tasks that must not move.
        seed: of the chance by which further orders are tried.
        goes_on: asked again and again, with how many orders were tried, whether there is time to look for a better one; it
            may raise, which ends it. None: an answer at once, always the same.

    Raises:
        RuleError: what ``Network`` refuses.
    """
    before = Schedule(plan)
    if still:
        plan = _held(plan, before, still)
    net = Network(plan)
    base = Schedule(net)
    by_node = _by_node(net, takers, demands)
    limits = _limits(net, base, within_slack=within_slack, still=still)
    shared = {one.id: one for one in takers}
    # where calendars meet, slack in one of them may be a moment more in another: then less of it is taken
    for part in (1.0, 0.5, 0.0) if within_slack else (1.0,):
        allowed = limits if part == 1 else {n: base._early[2 * n + 1] + int(part * _room(base, n, limits)) for n in limits}
        search = _Search(base, by_node, shared, allowed)
        bound = _look(search, len(net.tasks), seed, goes_on)
        if search.best.finish <= base.finish or not within_slack:
            break
    return _result(search.best, before, by_node, shared, search.method, bound)


def _room(base: Schedule, n: int, limits: Mapping[int, int]) -> int:
    return max(0, limits[n] - base._early[2 * n + 1])


def _look(search: _Search, tasks: int, seed: int, goes_on: Callable[[int], bool] | None) -> int | None:
    """Try what there is time for. Returns the minutes that the project lasts at least, if that was found."""
    search.by_rules()
    search.by_chance(random.Random(seed), min(_AT_ONCE // max(tasks, 1), _MOST_TRIED), goes_on)
    if goes_on and search.demands and not search.is_best and goes_on(search.tried):
        if len(search.demands) <= MOST:
            return search.exactly(goes_on, seed)
        search.by_chance(random.Random(seed + 1), None, goes_on)
    return None


class _Search:
    """The best of the levelled plans that were made.

    Args:
        base: the plan where nothing is shared.
        demands, takers, limits: as for ``_Scheme``.

    Attributes:
        best: of those that were made.
        method: by which it was found.
    """

    best: _Scheme

    def __init__(
        self,
        base: Schedule,
        demands: Mapping[int, Sequence[tuple[str, float]]],
        takers: Mapping[str, Taker],
        limits: Mapping[int, int],
    ) -> None:
        self.base, self.demands, self.takers, self.limits = base, demands, takers, limits
        self.method = ""
        self.tried = 0

    @property
    def is_best(self) -> bool:
        """True where nothing can be better."""
        return self.best.finish == self.base.finish and not self.best.over

    def _attempt(self, first: Sequence[float], name: str) -> _Scheme:
        made = _Scheme(self.base.net, self.demands, self.takers, first, self.limits)
        if not self.method or _rank(made) < _rank(self.best):
            self.best, self.method = made, name
        return made

    def _attempt_turned(self, made: _Scheme, name: str) -> _Scheme:
        """Forward-backward improvement: placed anew in the order in which all would start if they were put late."""
        return self._attempt(_justified(made, self.demands, self.takers), f"{name}, forward and backward")

    def by_rules(self) -> None:
        """Try the rules, each improved for as long as that helps."""
        many = len(self.base.net.tasks) > _MANY
        for rule in ("early_start", *(one for one in (RULES[:2] if many else RULES) if one != "early_start")):
            made = self._attempt(_priorities(self.base, rule), rule)  # type: ignore[arg-type]
            for _ in range(1 if many else _TURNS):
                turned = self._attempt_turned(made, rule)
                if _rank(turned) >= _rank(made):
                    break
                made = turned

    def by_chance(self, chance: random.Random, most: int | None, goes_on: Callable[[int], bool] | None = None) -> None:
        """Try orders near the best one, so many at most, while there is time."""
        spread = _spread(self.base)
        for _ in _counted(most):
            if self.is_best or not self.demands or (goes_on and not goes_on(self.tried)):
                return
            self.tried += 1
            wide = spread * chance.uniform(0.2, 2)
            made = self._attempt([one + chance.gauss(0, wide) for one in _starts(self.best)], "sampled")
            self._attempt_turned(made, "sampled")

    def exactly(self, goes_on: Callable[[int], bool], seed: int) -> int | None:
        """Look for a better order by constraint programming. Returns the minutes that the project lasts at least, if found."""
        made = self.best
        moving = {n: several for n, several in self.demands.items() if n not in made._fixed and n not in made._pins}
        profiles = {who: _profile(one) for who, one in self.takers.items()}
        for n in self.demands.keys() - moving.keys():
            for who, units in self.demands[n]:
                profiles[who].add(*made._span(n), units)
        capacities = {who: one.capacity for who, one in self.takers.items()}
        shares = Shares(capacities, moving, {who: list(one.steps()) for who, one in profiles.items()}, self.limits)
        found = better_order(made, shares, lambda: goes_on(self.tried), over=bool(made.over), seed=seed)
        if found is None:
            return None
        self._attempt_turned(self._attempt(found.starts, "constraint programming"), "constraint programming")
        return found.bound


def _counted(most: int | None) -> Iterator[int]:
    return itertools.count() if most is None else iter(range(most))


def _rank(made: _Scheme) -> tuple[int, int]:
    return sum(map(len, made.over.values())), made.finish


def _held(plan: PlanInput, base: Schedule, still: Collection[str]) -> PlanInput:
    """The plan with tasks pinned where they stand."""
    tasks = []
    for index, task in enumerate(plan.tasks):
        start = base.starts[index]
        if task.id in still and not base.net.is_summary[index] and start is not None and task.planned_start is None:
            task = replace(task, constraint="must_start", at=start)
        tasks.append(task)
    return replace(plan, tasks=tasks)


def _by_node(net: Network, takers: Sequence[Taker], demands: Sequence[Demand]) -> dict[int, list[tuple[str, float]]]:
    known = {one.id: one for one in takers}
    found: dict[int, list[tuple[str, float]]] = defaultdict(list)
    for one in demands:
        index = net.index.get(one.task)
        taker = known.get(one.resource)
        if index is None or taker is None or net.is_summary[index]:
            continue
        n = net.finish_node[index]
        if net.role[n] == LEAF and net.work[n] and one.units > 0:
            found[n].append((one.resource, min(one.units, taker.capacity)))  # who takes more than there is takes all
    return found


def _limits(net: Network, base: Schedule, *, within_slack: bool, still: Collection[str]) -> dict[int, int]:
    if within_slack:
        base.total  # noqa: B018  the late dates are found by asking for them
        return {n: base._own_late.get(2 * n + 1, base._late[2 * n + 1]) for n in range(len(net.role)) if net.role[n] == LEAF}
    if not (still or base._pins):
        return {}
    bounds = _Bounds(net)
    bounds.total  # noqa: B018
    late = ((n, bounds._own_late.get(2 * n + 1, bounds._late[2 * n + 1])) for n in range(len(net.role)))
    return {n: limit for n, limit in late if limit < FAR // 8}


def _starts(made: Schedule) -> list[float]:
    return [float(made._early[2 * n]) for n in range(len(made.net.role))]


def _spread(base: Schedule) -> float:
    work = [one for one in base.net.work if one]
    return sum(work) / len(work) if work else 1.0


def _priorities(base: Schedule, rule: Rule) -> list[float]:
    """By node: the least is placed first. Ties are broken by the number of the node, so that the same plan gives the same."""
    base.total  # noqa: B018  the late dates are found by asking for them
    net, late, early = base.net, base._late, base._early
    count = len(net.role)
    if rule == "early_start":
        return _starts(base)
    if rule == "late_start":
        return [float(base._own_late.get(2 * n, late[2 * n])) for n in range(count)]
    if rule == "late_finish":
        return [float(base._own_late.get(2 * n + 1, late[2 * n + 1])) for n in range(count)]
    if rule == "slack":
        return [float(base._own_late.get(2 * n, late[2 * n]) - early[2 * n]) for n in range(count)]
    weight = [0.0] * count
    for n in reversed(net.order):
        after = (*net.after[n], *net.after_slow.get(n, ()))
        weight[n] = net.work[n] + max((weight[net.to_end[number] >> 1] for number in after), default=0.0)
    return [-one for one in weight]


def _justified(made: _Scheme, demands: Mapping[int, Sequence[tuple[str, float]]], takers: Mapping[str, Taker]) -> list[float]:
    """Where each task would start if all were put as late as they can be, the last first: the order for the next pass.

    It is reckoned in positions of each calendar, as if there were one; the next pass minds them all again.
    """
    net, work, early = made.net, made._work, made._early
    allows, count = made._allows(), len(net.role)
    right = [0] * (2 * count)
    profiles = {one: Profile(taker.capacity) for one, taker in takers.items()}  # not what others take: an order is all it gives
    finish = max((early[2 * n + 1] for n in range(count) if net.role[n] == LEAF), default=0)
    done = [False] * count
    for n in sorted(range(count), key=lambda n: (-early[2 * n + 1], -early[2 * n], -n)):
        limit = finish
        for number in net.after[n]:
            to = net.to_end[number]
            if done[to >> 1]:
                limit = min(limit, right[to] + allows[number])
        for number in net.after_slow.get(n, ()):
            to = net.to_end[number]
            if done[to >> 1]:
                limit = min(limit, right[to])
        length = max(work[n] - 1, 0)
        for _ in range(_TRIES):
            end, begin = limit, limit - length
            sooner = next(
                (
                    room
                    for resource, units in demands.get(n, ())
                    if (room := profiles[resource].room_after(-end, -begin, units)) is not None
                ),
                None,
            )
            if sooner is None:
                break
            limit = -sooner
        right[2 * n], right[2 * n + 1] = limit - length, limit
        done[n] = True
        for resource, units in demands.get(n, ()):
            profiles[resource].add(-limit, length - limit, units)
    return [float(right[2 * n]) for n in range(count)]


def _result(
    best: _Scheme,
    before: Schedule,
    demands: Mapping[int, Sequence[tuple[str, float]]],
    takers: Mapping[str, Taker],
    method: str,
    least: int | None,
) -> Levelled:
    calendar = best.plan.calendars[best.plan.calendar]
    net = best.net
    moved = [
        task.id
        for index, task in enumerate(net.tasks)
        if not net.is_summary[index]
        and (best.starts[index], best.finishes[index]) != (before.starts[index], before.finishes[index])
    ]
    makespan = calendar.between(before.start, best.finish)
    bound = max(calendar.between(before.start, before.finish), least or 0)
    by_resource: dict[str, float] = defaultdict(float)
    heads: dict[str, int] = {}
    for n, several in demands.items():
        if net.calendars[n] is not calendar or best._elapsed(n):
            continue
        for resource, units in several:
            by_resource[resource] += best._work[n] / 2 * units / takers[resource].capacity
            head = before._early[2 * n] >> 1
            heads[resource] = min(heads.get(resource, head), head)
    start = calendar.position(before.start) >> 1
    for resource, minutes in by_resource.items():
        bound = max(bound, heads[resource] - start + int(minutes))
    delayed = [net.tasks[net.task_of[n]].id for n in best.delayed]
    return Levelled(best, moved, delayed, dict(best.over), makespan, min(bound, makespan), method)
