"""Levelling: moving work so that no resource is taken beyond its capacity.

Resource-constrained project scheduling. R. Kolisch and S. Hartmann, "Heuristic algorithms for solving the
resource-constrained project scheduling problem: classification and computational analysis", 1999, for the serial schedule
generation scheme and priority rules; P. Tormos and A. Lova, 2001, for forward-backward improvement.
"""

from __future__ import annotations

import itertools
import random
from collections import defaultdict
from collections.abc import Callable, Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from ..schedule.network import LEAF, Network, PlanInput
from ..schedule.passes import FAR
from ..schedule.schedule import Schedule
from .exact import MOST, Shares, better_order
from .profile import Profile
from .serial_scheme import TRIES, Bounds, Demand, Scheme, Taker, profile_of

Rule = Literal["late_start", "late_finish", "early_start", "slack", "most_after"]
RULES: tuple[Rule, ...] = ("late_start", "late_finish", "early_start", "slack", "most_after")
_MANY = 3_000
"""Tasks from which on fewer rules are tried, so that there is an answer at once."""
_AT_ONCE, _MOST_TRIED = 30_000, 300
"""Further orders that are tried where nobody waits for more: so many tasks placed in all, and so many orders at most."""
_TURNS = 6


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
    most = 1 if tasks > _MANY else min(_AT_ONCE // max(tasks, 1), _MOST_TRIED)
    search.by_chance(random.Random(seed), most, goes_on)
    if goes_on and search.demands and not search.is_best and goes_on(search.tried):
        if len(search.demands) <= MOST:
            return search.exactly(goes_on, seed)
        search.by_chance(random.Random(seed + 1), None, goes_on)
    return None


class _Search:
    """The best of the levelled plans that were made.

    Args:
        base: the plan where nothing is shared.
        demands, takers, limits: as for ``Scheme``.

    Attributes:
        best: of those that were made.
        method: by which it was found.
    """

    best: Scheme

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

    def _attempt(self, first: Sequence[float], name: str) -> Scheme:
        made = Scheme(self.base.net, self.demands, self.takers, first, self.limits)
        if not self.method or _rank(made) < _rank(self.best):
            self.best, self.method = made, name
        return made

    def _attempt_turned(self, made: Scheme, name: str) -> Scheme:
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
        profiles = {who: profile_of(one) for who, one in self.takers.items()}
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


def _rank(made: Scheme) -> tuple[int, int]:
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
    bounds = Bounds(net)
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


def _justified(made: Scheme, demands: Mapping[int, Sequence[tuple[str, float]]], takers: Mapping[str, Taker]) -> list[float]:
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
        for _ in range(TRIES):
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
    best: Scheme,
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
