"""Dates, slack and the vein of a plan, and why each date is where it is: what comes of the two passes."""

from __future__ import annotations

from copy import copy
from dataclasses import dataclass
from datetime import date
from typing import Literal

from ..common.bounds import MINUTES_A_DAY
from ..common.calendars import EPOCH
from .network import LEAF, Network, PlanInput, PlanLink
from .passes import BEGUN, CONSTRAINT, FAR, LATE, PIN, PROJECT_START, STATUS_DAY, THROUGH, Passes

BecauseKind = Literal["project_start", "status_day", "link", "constraint", "pin", "begun", "as_late_as_possible"]
_KINDS: dict[int, BecauseKind] = {
    PROJECT_START: "project_start",
    STATUS_DAY: "status_day",
    CONSTRAINT: "constraint",
    PIN: "pin",
    BEGUN: "begun",
    LATE: "as_late_as_possible",
}


@dataclass(frozen=True, slots=True)
class Because:
    """What decided a computed start.

    Attributes:
        link: the link, where one did.
        through: the id of the summary task above whose own link or constraint it was.
        exception: the name of the days not worked that moved the start on, where some did.
    """

    kind: BecauseKind
    link: PlanLink | None = None
    through: str | None = None
    exception: str | None = None


@dataclass(frozen=True, slots=True)
class Conflict:
    """Dates that cannot all be met, and the working minutes by which they are not.

    ``link_broken_by_pin``: a pin stands against a link.
    ``constraint_missed``: a no-later-than constraint. ``deadline_missed``: a deadline.
    """

    kind: Literal["link_broken_by_pin", "constraint_missed", "deadline_missed"]
    task: str
    minutes: int
    link: PlanLink | None = None


@dataclass(frozen=True, slots=True)
class Times:
    """The dates of one task as minute numbers, slack in working minutes of its calendar.

    ``start`` and ``finish`` are where the task is placed; they differ from the early dates for *as late as possible*.
    """

    early_start: int
    early_finish: int
    late_start: int
    late_finish: int
    start: int
    finish: int
    total_slack: int
    critical: bool


class Schedule(Passes):
    """The dates of every task of a plan.

    Args:
        plan, status: as for ``Passes``.

    Attributes:
        start, finish: of the project, as minute numbers; both the project start where nothing is dated.

    Raises:
        RuleError: what ``Network`` refuses.
    """

    def __init__(self, plan: PlanInput | Network, status: int | None = None) -> None:
        super().__init__(plan, status)
        self._dated: tuple[list[int | None], list[int | None]] | None = None
        self._total: list[int | None] | None = None

    def knowing(self, net: Network) -> Schedule:
        """The same schedule with a network that differs only in what it does not look at: progress."""
        self._need_late()  # what is found for one of them is not found anew for the other
        other = copy(self)
        other.base = net
        return other

    # Results, by the index of each task in the plan

    def _placed_minute(self, end: int) -> int:
        position = self._placed.get(end)
        return self._minute(end) if position is None else self.net.calendars[end >> 1].minute(position)

    def _late_minute(self, end: int) -> int:
        self._need_late()
        given = self._given_late.get(end)
        return self.net.calendars[end >> 1].minute(self._own_late.get(end, self._late[end])) if given is None else given

    @property
    def starts(self) -> list[int | None]:
        """Where each task starts, as a minute number; None where it is undated."""
        return self._dates()[0]

    @property
    def finishes(self) -> list[int | None]:
        """Where each task finishes, as a minute number; None where it is undated."""
        return self._dates()[1]

    @property
    def start(self) -> int:
        """The minute at which the first task starts; the project start where nothing is dated."""
        return min((at for at in self.starts if at is not None), default=self.plan.start)

    def _dates(self) -> tuple[list[int | None], list[int | None]]:
        if self._dated is None:
            self._dated = self._find_dates()
        return self._dated

    def _find_dates(self) -> tuple[list[int | None], list[int | None]]:
        """Minutes of all tasks; those of a summary task are the extremes of what lies below it."""
        net, early = self.net, self._early
        starts: list[int | None] = [None] * len(net.tasks)
        finishes: list[int | None] = [None] * len(net.tasks)
        known: dict[int, int] = {}
        odd = self._given or self._placed
        for i, n in enumerate(net.finish_node):
            if n < 0 or net.role[n] != LEAF:
                continue
            calendar = net.calendars[n]
            if calendar is not self._project or (odd and (2 * n in odd or 2 * n + 1 in odd or 2 * n in self._placed)):
                start, finish = self._placed_minute(2 * n), self._placed_minute(2 * n + 1)
            else:
                at, to = early[2 * n], early[2 * n + 1]
                if (start := known.get(at, FAR)) == FAR:
                    start = known[at] = calendar.minute(at)
                if (finish := known.get(to, FAR)) == FAR:
                    finish = known[to] = calendar.minute(to)
            starts[i], finishes[i] = start, finish
            above = net.parent[i]
            while above >= 0:
                first, last = starts[above], finishes[above]
                if first is None or first > start:
                    starts[above] = start
                if last is None or last < finish:
                    finishes[above] = finish
                above = net.parent[above]
        return starts, finishes

    @property
    def total(self) -> list[int | None]:
        """The total slack of each task in working minutes; of a summary task the least of those below it."""
        if self._total is None:
            self._need_late()
            own, late, early = self._own_late, self._late, self._early
            slack = [(late[end] >> 1) - (early[end] >> 1) for end in range(1, len(late), 2)]
            for end in own:
                n = end >> 1
                at = 2 * n if self._elapsed(n) else 2 * n + 1
                slack[n] = (own[at] >> 1) - (early[at] >> 1)
            self._total = self._least_below(slack)
        return self._total

    def free_slack(self) -> list[int | None]:
        """The free slack of each task in working minutes; of a summary task the least of those below it."""
        if self._room is None:
            self._room = self._find_room()
        return self._least_below([(room >> 1) - (self._early[2 * n + 1] >> 1) for n, room in enumerate(self._room)])

    def _least_below(self, by_node: list[int]) -> list[int | None]:
        net = self.net
        found: list[int | None] = [None] * len(net.tasks)
        for i, n in enumerate(net.finish_node):
            if n >= 0 and net.role[n] == LEAF:
                value = found[i] = by_node[n]
                above = net.parent[i]
                while above >= 0:
                    least = found[above]
                    if least is None or least > value:
                        found[above] = value
                    above = net.parent[above]
        return found

    def is_critical(self, index: int) -> bool:
        """True where a task has no slack, or no more than the plan's limit."""
        total = self.total[index]
        return total is not None and total <= self.plan.critical_limit

    def late_finish(self, index: int) -> int:
        """How late a task that is dated may finish, by its index; not for summary tasks."""
        return self._late_minute(2 * self.net.finish_node[index] + 1)

    def late_marks(self) -> list[int]:
        """By index a number that differs where ``late_finish`` does, for the time that one calendar stays: the slack may be the same
        where that moves over hours that are not worked. Cheaper than the minutes themselves; of summary tasks without meaning."""
        self._need_late()
        own, late, given = self._own_late, self._late, self._given_late
        ends = [2 * n + 1 for n in self.net.finish_node]
        if not own and not given:
            return [late[end] for end in ends]
        return [~given[end] if end in given else own.get(end, late[end]) for end in ends]

    def times(self, index: int) -> Times | None:
        """The dates of a task by its index; None where it is undated."""
        start, finish, total = self.starts[index], self.finishes[index], self.total[index]
        if start is None or finish is None or total is None:
            return None
        n = self.net.finish_node[index]
        if self.net.is_summary[index]:
            below = [one for i in self.net.below[index] if (one := self.times(i)) is not None]
            early_start, early_finish = min(t.early_start for t in below), max(t.early_finish for t in below)
            late_start, late_finish = min(t.late_start for t in below), max(t.late_finish for t in below)
        else:
            early_start, early_finish = self._minute(2 * n), self._minute(2 * n + 1)
            late_start, late_finish = self._late_minute(2 * n), self._late_minute(2 * n + 1)
        return Times(early_start, early_finish, late_start, late_finish, start, finish, total, self.is_critical(index))

    def because(self, index: int) -> Because | None:
        """What decided the start of a task by its index; None where it is undated. Of a summary task: of its first."""
        net = self.net
        if self.starts[index] is None:
            return None
        if net.is_summary[index]:
            first = min(
                (i for i in self.net.below[index] if self.starts[i] is not None),
                key=lambda i: (self.starts[i], net.tasks[i].id),
            )
            return self.because(first)
        n = net.start_node[index]
        through = None
        cause = self._cause[n]
        while cause <= THROUGH:
            node = THROUGH - cause
            through, cause = net.tasks[net.task_of[node]].id, self._cause[node]
        exception = self._moved_on_by(n)
        if cause >= 0:
            return Because("link", self.plan.links[cause], through, exception)
        return Because(_KINDS[cause], None, through, exception)

    def _moved_on_by(self, n: int) -> str | None:
        """The exception of the calendar that lies between what decided a start and the start itself."""
        calendar = self.net.calendars[n]
        if not calendar.exceptions or 2 * n in self._given or self._cause[n] in {LATE, BEGUN}:
            return None
        opens = self._minute(2 * n)
        last = EPOCH + opens // MINUTES_A_DAY - 1
        for ordinal in range(last, EPOCH + self._decided(n) // MINUTES_A_DAY - 1, -1):
            exception = calendar.exception_on(date.fromordinal(ordinal))
            if exception is not None and not exception.hours:
                return exception.name or "days not worked"
            if calendar.is_working_day(date.fromordinal(ordinal)):
                return None
        return None

    def _decided(self, n: int) -> int:
        """The minute that a start would have had, were there no calendar."""
        cause, task = self._cause[n], self.net.tasks[self.net.task_of[n]]
        if cause in {CONSTRAINT, PIN} and task.at is not None and "start" in task.constraint:
            return task.at
        if cause == PROJECT_START:
            return self.plan.start
        if cause == STATUS_DAY and self.status is not None:
            return self.status
        if cause >= 0 and self.plan.links[cause].type[1] == "S":
            return self._lagged(self._minute(self.net.from_end[cause]), cause)
        return self._minute(2 * n)

    def conflicts(self) -> list[Conflict]:
        """What cannot all be met: links against pins, missed no-later-than constraints and deadlines."""
        found: list[Conflict] = []
        net = self.net
        for n in sorted(self._pins):
            found += self._broken_links(n)
        for task, start, finish, n in zip(net.tasks, self.starts, self.finishes, net.finish_node, strict=True):
            if finish is None or start is None or (task.at is None and task.deadline is None):
                continue
            calendar = net.calendars[n] if n >= 0 else self._project
            if task.at is not None and task.constraint.endswith("no_later"):
                late = calendar.between(task.at, start if task.constraint == "start_no_later" else finish)
                if late > 0:
                    found.append(Conflict("constraint_missed", task.id, late))
            if task.deadline is not None and (late := calendar.between(task.deadline, finish)) > 0:
                found.append(Conflict("deadline_missed", task.id, late))
        return found

    def _broken_links(self, n: int) -> list[Conflict]:
        net = self.net
        at = self._early[2 * n] >> 1
        bounds = [(number, self._early[net.from_end[number]] + net.gives[number]) for number in net.before[n]]
        bounds += [(number, self._bound_in_minutes(n, number)) for number in net.before_slow.get(n, ())]
        task = net.tasks[net.task_of[n]].id
        found = [
            (link.from_id, link.type, Conflict("link_broken_by_pin", task, (bound >> 1) - at, link))
            for number, bound in bounds
            if (bound >> 1) > at and (link := self._link(number)) is not None
        ]
        return [conflict for *_, conflict in sorted(found, key=lambda one: one[:2])]
