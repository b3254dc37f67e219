"""Looking for a better order of work than rules give: constraint programming, started from what the rules found.

The model is that of resource-constrained project scheduling with intervals and cumulative resources (P. Baptiste, C. Le Pape
and W. Nuijten, "Constraint-based scheduling", 2001); the solver is CP-SAT of OR-Tools. It is reckoned on the working time of
the project. What works by another calendar, or on while nobody works, stands in it for as long as it lasted before, so what is
found is an order only: ``levelling`` places every task by it, and minds them all.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from threading import Thread
from typing import Any

from ..schedule.schedule import Schedule

MOST = 2_000
"""Tasks with demands up to which it is tried: above that a better order is found sooner by chance."""
_UNIT = 1_000
"""Units of a resource are whole numbers there: thousandths."""
_LOOK_EVERY = 0.1
"""Seconds between two questions whether to go on."""
_OVER = 1 << 40
"""What a task without room costs, against a minute of the finish."""
_WORKERS = 2


@dataclass(frozen=True, slots=True)
class Order:
    """What was found.

    Attributes:
        starts: by node, in minutes of work of the project's calendar from its start.
        bound: minutes that the project lasts at least; None where the model is not the plan itself.
    """

    starts: list[float]
    bound: int | None


@dataclass(frozen=True, slots=True)
class Shares:
    """What is to be shared.

    Attributes:
        capacities: by resource its units.
        demands: by node what it takes of resources.
        taken: by resource what is taken already, as minutes from and to, and units.
        limits: by node the position that its finish must not pass.
    """

    capacities: Mapping[str, float]
    demands: Mapping[int, Sequence[tuple[str, float]]]
    taken: Mapping[str, Sequence[tuple[int, int, float]]]
    limits: Mapping[int, int]


class _Model:
    """A plan as variables: by node its start, in minutes of work of the project's calendar from its start."""

    def __init__(self, made: Schedule, shares: Shares, over: bool) -> None:
        from ortools.sat.python import cp_model  # which takes half a second, and is needed here alone

        self.cp = cp_model
        self.model: Any = cp_model.CpModel()
        self.made, self.net, self.shares = made, made.net, shares
        self.calendar = made.plan.calendars[made.plan.calendar]
        self.zero = self.calendar.position(made.start) >> 1
        self.own = [calendar is self.calendar and not made._elapsed(n) for n, calendar in enumerate(self.net.calendars)]
        self.is_plan = all(self.own) and not self.net.before_slow
        spans = [self._span(n) for n in range(len(self.net.role))]
        self.sizes = [finish - start for start, finish in spans]
        self.hints = [start for start, _ in spans]
        self.horizon = max((finish for _, finish in spans), default=0)
        self.starts = [self._start(n) for n in range(len(self.net.role))]
        self._link()
        self.without_room: list[Any] = []
        self._share(over)
        self.finish = self.model.new_int_var(0, self.horizon, "")
        for n, start in enumerate(self.starts):
            self.model.add(self.finish >= start + self.sizes[n])
        self.model.minimize(self.finish + _OVER * sum(self.without_room))

    def _at(self, minute: int) -> int:
        return (self.calendar.position(minute) >> 1) - self.zero

    def _span(self, n: int) -> tuple[int, int]:
        made = self.made
        if self.own[n] and made._work[n]:
            start = (made._early[2 * n] >> 1) - self.zero
            return start, start + (made._work[n] >> 1)
        start = self._at(made._minute(2 * n))
        return start, max(start, self._at(made._minute(2 * n + 1)))

    def _start(self, n: int) -> Any:
        made, hint = self.made, self.hints[n]
        if n in made._fixed or n in made._pins or n in made._started:
            return self.model.new_int_var(hint, hint, "")
        least = min(hint, 0 if made._floor[n] < 0 else self._from(n, made._floor[n]))
        last = self.horizon - self.sizes[n]
        if n in self.shares.limits:
            last = min(last, self._from(n, self.shares.limits[n]) - self.sizes[n])
        start = self.model.new_int_var(least, max(hint, last), "")
        self.model.add_hint(start, hint)
        return start

    def _from(self, n: int, position: int) -> int:
        """A position on a node's calendar as minutes of work of the project."""
        if self.own[n]:
            return (position >> 1) - self.zero
        return self._at(self.net.calendars[n].minute(position | 1))

    def _end(self, end: int) -> tuple[Any, int]:
        """The position of an end of a node, which is twice the variable and what comes to it."""
        n = end >> 1
        work = 2 * self.sizes[n]
        if not work:
            return self.starts[n], 0 if self.made.plan.milestones_close else 1
        return self.starts[n], work if end & 1 else 1

    def _link(self) -> None:
        net, gives = self.net, self.made._gives()
        for n in range(len(net.role)):
            for number in net.before[n]:
                before, more = self._end(net.from_end[number])
                start, own = self._end(2 * n)
                if self.own[n] and self.own[net.from_end[number] >> 1]:
                    self.model.add(start >= before - (own - more - gives[number]) // 2)  # positions are half minutes: rounded up
                elif net.from_end[number] & 1:
                    self.model.add(start >= before + self.sizes[net.from_end[number] >> 1])
            for number in net.before_slow.get(n, ()):
                end = net.from_end[number]
                if end & 1 and not net.to_end[number] & 1:
                    self.model.add(self.starts[n] >= self.starts[end >> 1] + self.sizes[end >> 1])

    def _share(self, over: bool) -> None:
        """Let no resource be taken beyond its capacity, but where that cannot be for some tasks."""
        by_resource: dict[str, list[tuple[Any, int]]] = defaultdict(list)
        for n, several in self.shares.demands.items():
            start, size = self.starts[n], self.sizes[n]
            if over:
                room = self.model.new_bool_var("")
                self.model.add_hint(room, True)
                interval = self.model.new_optional_fixed_size_interval_var(start, size, room, "")
                self.without_room.append(1 - room)
            else:
                interval = self.model.new_fixed_size_interval_var(start, size, "")
            for resource, units in several:
                by_resource[resource].append((interval, max(1, round(units * _UNIT))))
        for resource, takes in by_resource.items():
            most = round(self.shares.capacities[resource] * _UNIT)
            for begin, end, units in self.shares.taken.get(resource, ()):
                first, last = self._at(begin), self._at(end)
                if last > max(first, 0):
                    fixed = self.model.new_fixed_size_interval_var(first, last - first, "")
                    takes.append((fixed, min(most, round(units * _UNIT))))
            if all(2 * units > most for _, units in takes):
                self.model.add_no_overlap([one for one, _ in takes])
            else:
                self.model.add_cumulative([one for one, _ in takes], [units for _, units in takes], most)


def better_order(made: Schedule, shares: Shares, goes_on: Callable[[], bool], *, over: bool, seed: int = 1) -> Order | None:
    """Look for an order of work by which a plan finishes earlier, or fewer tasks are without room.

    Args:
        made: the plan as it was levelled by rules.
        goes_on: asked ten times a second whether there is time; it may raise, which ends the search.
        over: True where some tasks may be without room.
        seed: of chance.

    Returns:
        None where nothing was found in that time.
    """
    built = _Model(made, shares, over)
    solver = built.cp.CpSolver()
    solver.parameters.num_workers = _WORKERS
    solver.parameters.random_seed = seed
    outcome: list[int] = []
    search = Thread(target=lambda: outcome.append(solver.solve(built.model)), name="level", daemon=True)
    search.start()
    try:
        while search.is_alive() and goes_on():
            search.join(_LOOK_EVERY)
    finally:
        while search.is_alive():  # which it does not hear before it has begun
            solver.stop_search()
            search.join(_LOOK_EVERY)
    if not outcome or outcome[0] not in (built.cp.OPTIMAL, built.cp.FEASIBLE):
        return None
    starts = [float(solver.value(one)) for one in built.starts]
    bound = int(solver.best_objective_bound) if built.is_plan and not over else None
    return Order(starts, bound)
