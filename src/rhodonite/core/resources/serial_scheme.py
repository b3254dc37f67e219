"""The serial schedule generation scheme: tasks placed one after another, each where there is room for it.

R. Kolisch and S. Hartmann, "Heuristic algorithms for solving the resource-constrained project scheduling problem:
classification and computational analysis", 1999.

The scheme is the forward pass of the schedule itself, in another order: a task is placed where its links, constraints and
calendar allow it, and then later until there is room. So links of all types, lags, calendars and summary tasks hold as in
the plan. A task takes its units from its start to its finish.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from heapq import heapify, heappop, heappush

from ..common.calendars import WorkingCalendar
from ..schedule.network import LEAF, Network
from ..schedule.passes import FAR, THROUGH
from ..schedule.schedule import Schedule
from .profile import Profile

TRIES = 5_000
"""Places that are looked at for one task."""


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


class Scheme(Schedule):
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
        self.profiles = {one.id: profile_of(one) for one in self._takers.values()}
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
        for _ in range(TRIES):
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


def profile_of(taker: Taker) -> Profile:
    """What is taken of somebody before any task of the plan is placed."""
    made = Profile(taker.capacity)
    for begin, end, units in taker.taken:
        made.add(begin, end, units)
    return made


class Bounds(Schedule):
    """How late each task may be so that nothing that stands still is pushed: the end of the project bounds nothing."""

    def _project_finish(self) -> list[int]:
        self._ceiling = {}
        return [FAR // 4] * len(self.net.role)
