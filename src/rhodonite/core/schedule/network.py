"""A plan as a network: tasks and summary tasks as numbered nodes, links as offsets between their ends.

The precedence diagramming method (J. W. Fondahl, "A non-computer approach to the critical path method for the
construction industry", 1961) knows four types of link with lag. Here each is one inequality between two *ends*: node n
has its start at ``2 * n`` and its finish at ``2 * n + 1``. A summary task has two nodes, one for its start and one for
its finish, and the tasks below it lie between them.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from ..common.calendars import WorkingCalendar
from ..common.errors import RuleError
from ..tasks.model import ConstraintType, LinkType


@dataclass(frozen=True, slots=True)
class PlanLink:
    """``to_id`` waits for ``from_id``. The lag is minutes, less than nothing for a lead: working minutes of the
    project's calendar, or where ``elapsed`` minutes that run through nights and holidays."""

    from_id: str
    to_id: str
    type: LinkType = "FS"
    lag: int = 0
    elapsed: bool = False


@dataclass(frozen=True, slots=True)
class PlanTask:
    """What planning needs of a task. Moments are minute numbers (``calendars.minute_of``), durations minutes.

    Attributes:
        duration: None where nobody has said; a linked or dated task then lasts a day.
        elapsed: True where the duration runs through nights and holidays.
        calendar: the key of its own calendar; None for the project's.
        at: the moment of the constraint.
        planned_start: with ``planned_finish`` where a task stands that has begun: the plan no longer moves it.
    """

    id: str
    name: str = ""
    parent_id: str | None = None
    duration: int | None = None
    milestone: bool = False
    elapsed: bool = False
    calendar: str | None = None
    constraint: ConstraintType = "asap"
    at: int | None = None
    deadline: int | None = None
    percent: int = 0
    actual_start: int | None = None
    actual_finish: int | None = None
    planned_start: int | None = None
    planned_finish: int | None = None


@dataclass(frozen=True, slots=True)
class PlanInput:
    """A plan to be scheduled.

    Attributes:
        start: the minute from which the project may begin.
        calendar: the key of the project's calendar.
        milestones_close: where what a milestone waits for ends at closing time: True leaves it at that moment, False
            moves it, as any start, to the next working minute.
        before_start: True where a task whose start or finish was set by hand may begin before the project does.
        critical_limit: working minutes of slack up to which a task counts as critical.
    """

    start: int
    calendar: str
    calendars: Mapping[str, WorkingCalendar]
    tasks: Sequence[PlanTask]
    links: Sequence[PlanLink] = ()
    milestones_close: bool = False
    before_start: bool = False
    critical_limit: int = 0


LEAF, OPENING, CLOSING, UNDATED = 0, 1, 2, 3
_NONE: list[int] = []  # never written to


class Network:
    """The nodes and links of a plan in an order in which each comes after what it waits for.

    Attributes:
        below: the indexes of the tasks under each task.
        start_node, finish_node: by the task's index in ``plan.tasks``; the same node for a task without tasks under it.
        role: of each node: ``LEAF``, the ``OPENING`` or ``CLOSING`` of a summary task, or ``UNDATED``.
        task_of: the index of each node's task.
        calendars: of each node.
        work: twice the working minutes of each node (positions count in halves).
        from_end, to_end, gives, allows: of each tie. The ties are all links, and after them those that hold tasks
            between the two nodes of a summary task. Tie k joins the end ``from_end[k]`` to the end ``to_end[k]``. Where
            both lie on one calendar and no time elapses it is one inequality either way: the start of the later node
            is at least the early ``from_end[k]`` plus ``gives[k]``, and the finish of the earlier node at most the
            late ``to_end[k]`` plus ``allows[k]``.
        before, after: for each node the numbers of the ties into it and out of it; those that must be reckoned in
            minutes stand in ``before_slow`` and ``after_slow`` instead.

    Raises:
        RuleError: a parent or an end of a link that is not there, a link to itself or to a task above it, or a
            cycle, whose tasks are named in order.
    """

    def __init__(self, plan: PlanInput) -> None:
        self.plan = plan
        self.tasks = plan.tasks
        self.index = {task.id: i for i, task in enumerate(plan.tasks)}
        if len(self.index) < len(plan.tasks):
            raise RuleError("Two tasks of the plan have the same id. Each needs its own.", "tasks")
        if plan.calendar not in plan.calendars:
            raise RuleError(f"The plan has no calendar {plan.calendar!r}. Add it, or name one that is there.", "calendar")
        self.parent = self._parents()
        self.below: list[list[int]] = [_NONE] * len(plan.tasks)
        for i, above in enumerate(self.parent):
            if above >= 0:
                if not self.below[above]:
                    self.below[above] = []
                self.below[above].append(i)
        self.is_summary = [bool(below) for below in self.below]
        self.ends = [self._ends_of(link) for link in plan.links]
        self._number()
        self._connect()
        self.order = self._sort()

    def _parents(self) -> list[int]:
        found = []
        for task in self.tasks:
            if task.parent_id is None:
                found.append(-1)
            elif task.parent_id in self.index:
                found.append(self.index[task.parent_id])
            else:
                raise RuleError(f"{_named(task)} stands under {task.parent_id!r}, which is not there.", "parent")
        self._check_no_parent_cycle(found)
        return found

    def _check_no_parent_cycle(self, parent: list[int]) -> None:
        settled: set[int] = set()
        for index in range(len(parent)):
            path: list[int] = []
            at = index
            while at >= 0 and at not in settled:
                if at in path:
                    raise RuleError(f"{_named(self.tasks[at])} stands under itself.", "parent")
                path.append(at)
                at = parent[at]
            settled.update(path)

    def _ends_of(self, link: PlanLink) -> tuple[int, int]:
        try:
            i, j = self.index[link.from_id], self.index[link.to_id]
        except KeyError as error:
            raise RuleError(f"A link names the task {error.args[0]!r}, which is not there.", "links") from error
        if i == j:
            raise RuleError(f"{_named(self.tasks[i])} cannot wait for itself.", "links")
        for below, above in ((i, j), (j, i)):
            at = self.parent[below] if self.is_summary[above] else -1
            while at >= 0:
                if at == above:
                    raise RuleError(
                        f"{_named(self.tasks[below])} stands under {_named(self.tasks[above])} and cannot be linked with it.",
                        "links",
                    )
                at = self.parent[at]
        return i, j

    def _number(self) -> None:
        """Give each task its node or two. A summary task that nothing is tied to needs none."""
        plan = self.plan
        project = plan.calendars[plan.calendar]
        linked = {i for ends in self.ends for i in ends}
        self.calendars: list[WorkingCalendar] = []
        self.role: list[int] = []
        self.task_of: list[int] = []
        self.work: list[int] = []
        self.start_node = [-1] * len(self.tasks)
        self.finish_node = [-1] * len(self.tasks)
        self.particular: list[int] = []
        """Nodes whose task has more to be minded than a duration and links."""
        for i, task in enumerate(self.tasks):
            calendar = project if task.calendar is None else self._calendar_of(task)
            bare = task.at is None and task.deadline is None
            if self.below[i]:
                if i in linked or not bare:
                    self.start_node[i] = self._add(i, OPENING, project, 0, not bare)
                    self.finish_node[i] = self._add(i, CLOSING, project, 0, True)
                continue
            undated = task.duration is None and i not in linked and _is_undated(task)
            role = UNDATED if undated else LEAF
            node = self._add(i, role, calendar, 2 * _duration(task, calendar), _is_particular(task))
            self.start_node[i] = self.finish_node[i] = node

    def _calendar_of(self, task: PlanTask) -> WorkingCalendar:
        assert task.calendar is not None
        if task.calendar not in self.plan.calendars:
            raise RuleError(f"{_named(task)} works by the calendar {task.calendar!r}, which is not there.", "calendar")
        return self.plan.calendars[task.calendar]

    def _add(self, task: int, role: int, calendar: WorkingCalendar, work: int, particular: bool) -> int:
        node = len(self.role)
        self.role.append(role)
        self.task_of.append(task)
        self.calendars.append(calendar)
        self.work.append(work)
        if particular:
            self.particular.append(node)
        return node

    def _connect(self) -> None:
        count = len(self.role)
        self.before: list[list[int]] = [_NONE] * count
        self.after: list[list[int]] = [_NONE] * count
        self.before_slow: dict[int, list[int]] = {}
        self.after_slow: dict[int, list[int]] = {}
        self.from_end: list[int] = []
        self.to_end: list[int] = []
        self.gives: list[int] = []
        self.allows: list[int] = []
        project = self.plan.calendars[self.plan.calendar]
        calendars, work, start_node, finish_node = self.calendars, self.work, self.start_node, self.finish_node
        one_calendar = all(calendar is project for calendar in calendars)
        lasting = any(task.elapsed for task in self.tasks)
        for link, (i, j) in zip(self.plan.links, self.ends, strict=True):
            kind, lag = link.type, link.lag
            if kind == "FS":
                n, m = finish_node[i], start_node[j]
                self._append(n, m, 2 * n + 1, 2 * m, 2 * lag, -2 * lag)
            elif kind == "SS":
                n, m = start_node[i], start_node[j]
                self._append(n, m, 2 * n, 2 * m, 2 * lag, work[n] - 2 * lag)
            elif kind == "FF":
                n, m = finish_node[i], finish_node[j]
                self._append(n, m, 2 * n + 1, 2 * m + 1, 2 * lag - work[m], -2 * lag)
            else:
                n, m = start_node[i], finish_node[j]
                self._append(n, m, 2 * n, 2 * m + 1, 2 * lag - work[m], work[n] - 2 * lag)
            if lasting or not one_calendar or (lag and (link.elapsed or not work[m])):
                self._slow_down(len(self.gives) - 1, link, project)
        self._enclose(lasting or not one_calendar)

    def _append(self, n: int, m: int, from_end: int, to_end: int, gives: int, allows: int) -> None:
        number = len(self.gives)
        self.from_end.append(from_end)
        self.to_end.append(to_end)
        self.gives.append(gives)
        self.allows.append(allows)
        before, after = self.before[m], self.after[n]
        if before:
            before.append(number)
        else:
            self.before[m] = [number]
        if after:
            after.append(number)
        else:
            self.after[n] = [number]

    def _slow_down(self, number: int, link: PlanLink | None, project: WorkingCalendar) -> None:
        """Take a tie out of the fast ones where two calendars meet or time elapses at either end or between."""
        n, m = self.from_end[number] >> 1, self.to_end[number] >> 1
        elapsed = self.tasks[self.task_of[n]].elapsed or self.tasks[self.task_of[m]].elapsed
        one = self.calendars[n] is self.calendars[m]
        # a lag ends at a closing, a lead at an opening: a moment without duration stands at the one or the other
        moment = not self.work[m]
        plain = link is None or link.lag == 0 or (not link.elapsed and self.calendars[n] is project and not moment)
        if elapsed or not one or not plain:
            self.before[m].remove(number)
            self.after[n].remove(number)
            self.before_slow.setdefault(m, []).append(number)
            self.after_slow.setdefault(n, []).append(number)

    def _enclose(self, mixed: bool) -> None:
        """Put what lies under a summary task between its two nodes."""
        if not any(role == OPENING for role in self.role):
            return
        for i in range(len(self.tasks)):
            n, m = self.start_node[i], self.finish_node[i]
            if n < 0 or self.role[n] == UNDATED:
                continue
            at = self.parent[i]
            while at >= 0 and self.start_node[at] < 0:
                at = self.parent[at]
            if at >= 0:
                self._tie(self.start_node[at], n, 2 * self.start_node[at], 2 * n, mixed)
                self._tie(m, self.finish_node[at], 2 * m + 1, 2 * self.finish_node[at] + 1, mixed)
            if n != m:
                self._tie(n, m, 2 * n, 2 * m + 1, mixed)

    def _tie(self, n: int, m: int, from_end: int, to_end: int, mixed: bool) -> None:
        self._append(n, m, from_end, to_end, 0, 0)
        if mixed:
            self._slow_down(len(self.gives) - 1, None, self.plan.calendars[self.plan.calendar])

    def is_linked(self, task_id: str) -> bool:
        """True where a link begins or ends at a task."""
        n, count = self.finish_node[self.index[task_id]], len(self.plan.links)
        ties = (*self.before[n], *self.after[n], *self.before_slow.get(n, ()), *self.after_slow.get(n, ()))
        return any(number < count for number in ties)

    def with_tasks(self, changed: Mapping[str, PlanTask]) -> Network | None:
        """A copy in which tasks have other dates, durations or progress; None where the network itself would differ."""
        copy = object.__new__(Network)
        copy.__dict__.update(self.__dict__)
        tasks, copy.work = list(self.tasks), list(self.work)
        copy.gives, copy.allows = list(self.gives), list(self.allows)
        particular = set(self.particular)
        for task_id, task in changed.items():
            index = self.index.get(task_id, -1)
            n = self.finish_node[index] if index >= 0 else -1
            if n < 0 or self.is_summary[index] or not self._is_alike(n, self.tasks[index], task):
                return None
            tasks[index] = task
            copy._last(n, 2 * _duration(task, self.calendars[n]))
            (particular.add if _is_particular(task) else particular.discard)(n)
        copy.tasks, copy.particular = tasks, sorted(particular)
        copy.plan = replace(self.plan, tasks=tasks)
        return copy

    def _is_alike(self, n: int, before: PlanTask, after: PlanTask) -> bool:
        structure = ("parent_id", "milestone", "elapsed", "calendar")
        if any(getattr(before, name) != getattr(after, name) for name in structure):
            return False
        if (self.work[n] == 0) != (_duration(after, self.calendars[n]) == 0):
            return False  # a lag on a moment without duration is reckoned otherwise
        if self.role[n] == UNDATED or _is_undated(after):
            return self.role[n] == LEAF and self.is_linked(before.id)
        return True

    def _last(self, n: int, work: int) -> None:
        """Let a task last longer or less, in the offsets that hold its duration."""
        longer = work - self.work[n]
        if not longer:
            return
        self.work[n] = work
        for number in self.before[n]:
            if self.to_end[number] & 1:
                self.gives[number] -= longer
        for number in self.after[n]:
            if not self.from_end[number] & 1:
                self.allows[number] += longer

    def retied(self, number: int, node: int) -> Network:
        """A copy in which a link out of the start of a summary task comes out of the start of a task below it."""
        copy = object.__new__(Network)
        copy.__dict__.update(self.__dict__)
        was = self.from_end[number] >> 1
        copy.from_end, copy.allows, copy.after = list(self.from_end), list(self.allows), list(self.after)
        copy.before, copy.before_slow = [list(one) for one in self.before], {n: list(s) for n, s in self.before_slow.items()}
        copy.after_slow = {n: list(s) for n, s in self.after_slow.items()}
        copy.from_end[number] = 2 * node
        if number in copy.after[was]:
            copy.after[was] = [one for one in copy.after[was] if one != number]
            copy.after[node] = [*copy.after[node], number]
            copy.allows[number] += self.work[node] - self.work[was]
            copy._slow_down(number, self.plan.links[number], self.plan.calendars[self.plan.calendar])
        else:
            copy.after_slow[was].remove(number)
            copy.after_slow.setdefault(node, []).append(number)
        copy.order = copy._sort()
        return copy

    def _sort(self) -> list[int]:
        """A. B. Kahn, "Topological sorting of large networks", 1962."""
        waits = [len(before) for before in self.before]
        for n, slow in self.before_slow.items():
            waits[n] += len(slow)
        order = [n for n, count in enumerate(waits) if count == 0]
        after, after_slow, to_end = self.after, self.after_slow, self.to_end
        for n in order:  # it grows while it is read
            for number in after[n]:
                m = to_end[number] >> 1
                waits[m] -= 1
                if waits[m] == 0:
                    order.append(m)
            if after_slow:
                for number in after_slow.get(n, _NONE):
                    m = to_end[number] >> 1
                    waits[m] -= 1
                    if waits[m] == 0:
                        order.append(m)
        if len(order) < len(waits):
            raise self._cycle_error(waits)
        return order

    def _cycle_error(self, waits: list[int]) -> RuleError:
        """Walk back from any node that never got free: what it waits for is not free either, so the walk closes."""
        at = next(n for n, count in enumerate(waits) if count > 0)
        seen: dict[int, int] = {}
        path: list[int] = []
        while at not in seen:
            seen[at] = len(path)
            path.append(at)
            nodes = [self.from_end[number] >> 1 for number in self.before[at] + self.before_slow.get(at, _NONE)]
            at = next(node for node in nodes if waits[node] > 0)
        cycle = path[seen[at] :][::-1]
        names = list(dict.fromkeys(_named(self.tasks[self.task_of[n]]) for n in cycle))
        smallest = names.index(min(names))
        names = names[smallest:] + names[:smallest]
        return RuleError(f"These tasks would wait for one another in a circle: {' → '.join([*names, names[0]])}.", "links")


def _duration(task: PlanTask, calendar: WorkingCalendar) -> int:
    """In minutes; where nobody has said, a usual day."""
    if task.milestone:
        return 0
    return calendar.day_minutes if task.duration is None else task.duration


def _is_particular(task: PlanTask) -> bool:
    """True where there is more to a task than a duration and links."""
    bare = task.at is None and task.deadline is None and not task.percent and not task.elapsed and task.constraint != "alap"
    return not bare or task.actual_start is not None or task.planned_start is not None or task.actual_finish is not None


def _is_undated(task: PlanTask) -> bool:
    nothing = task.duration is None and task.at is None
    return nothing and task.actual_start is None and task.actual_finish is None and task.planned_start is None


def _named(task: PlanTask) -> str:
    return f"“{task.name or task.id}”"
