"""A project's plan as people see it: every task with what is computed for it, kept up to date change by change."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Container, Iterable, Mapping
from copy import copy
from dataclasses import dataclass, replace
from datetime import datetime
from types import MappingProxyType
from typing import Any

from ..common.calendars import WorkingCalendar, datetime_of, minute_of
from ..common.errors import RuleError
from ..tasks.health import project_health, task_health
from ..tasks.hours import hours_of
from ..tasks.lateness import breaks_deadline, days_late, is_late
from ..tasks.model import OPEN_CLASSES, Health, Project, Task
from ..tasks.outline import Outline
from ..tasks.rollup import Sums, leaf_sums, total
from ..tasks.typed_links import write_links
from .agreed import AgreedTask, variance
from .network import Network
from .planning import PROGRESS_FIELDS, follow, network_after, planning_fields, readable_schedule
from .schedule import Schedule

JUDGED_EVERY = 15
"""Minutes: what depends on the time of day (late, health) is judged anew each quarter of an hour."""


def judged_at(now: datetime) -> datetime:
    """The quarter of an hour that a moment falls into: the time that lateness and health are judged for."""
    return now.replace(minute=now.minute // JUDGED_EVERY * JUDGED_EVERY, second=0, microsecond=0)


@dataclass(frozen=True, slots=True)
class Row:
    """A task with what is computed for it. For a summary task, dates, percent and state come from those under it.

    ``day_minutes`` are those of a day of its duration: 24 hours where that is elapsed.
    ``slack`` is the total slack in working minutes, None where a task is undated, and ``late_finish`` how late it may
    finish where there is some; ``waits`` its links as they are typed. ``agreed`` is what was promised in the current
    agreed plan, ``variance`` the working minutes by which the finish lies after that. ``held`` says in words what holds it.
    ``booked`` are the minutes that are booked of its effort, ``spent`` those that people entered. ``waits_open`` counts the unfinished tasks that it waits for by a link, ``awaited`` the unfinished ones that wait for it.
    """

    task: Task
    is_summary: bool
    start: datetime | None
    finish: datetime | None
    duration: int | None
    day_minutes: int
    effort: int | None
    percent: int
    state_id: str
    state_class: str
    health: Health
    late_days: int
    breaks_deadline: bool
    late_below: int
    tasks_below: int
    finished_below: int
    slack: int | None
    late_finish: datetime | None
    critical: bool
    waits: str
    agreed: AgreedTask | None
    variance: int | None
    held: str | None
    waits_open: int = 0
    awaited: int = 0
    booked: int = 0
    spent: int = 0


def backlog_period(row: Row, periods: Container[str]) -> str | None:
    """The period of the backlog in which a task lies that has not been pulled.

    Args:
        periods: the ids of those that the project has.
    """
    one = row.task.period_id
    return one if one in periods and row.state_class == "queued" and not row.is_summary else None


def on_vein(before: Row, after: Row) -> bool:
    """True where a link between two tasks lies on the chain that decides the finish: what waits is critical, and what it
    waits for is too, or was until it was finished."""
    return after.critical and (before.critical or (before.slack is not None and before.slack <= 0))


def _waiting_for(tasks: Iterable[Task]) -> dict[str, frozenset[str]]:
    """By task those that wait for it by a link."""
    found: dict[str, set[str]] = defaultdict(set)
    for task in tasks:
        for link in task.waits_for:
            found[link.from_id].add(task.id)
    return {one: frozenset(waiting) for one, waiting in found.items()}


class Plan:
    """The tasks of one project and the row of each, at one revision.

    A plan does not change once it is made: ``followed`` makes the next one, which shares what is the same. So several may
    read it at once, and go on reading while the next one is made.

    Args:
        project: with its workflow.
        calendar: the project's working calendar.
        tasks: all of them, those in the bin included.
        now: the time that lateness is judged for.
        agreed: what was promised of each task in the current agreed plan.
    """

    def __init__(
        self,
        project: Project,
        calendar: WorkingCalendar,
        tasks: Iterable[Task],
        now: datetime,
        agreed: Mapping[str, AgreedTask] = MappingProxyType({}),
    ) -> None:
        self.project = project
        self.agreed = agreed
        self.calendar = calendar
        self.now = now
        self.tasks: dict[str, Task] = {task.id: task for task in tasks}
        self.outline = Outline(self.tasks)
        self._class = {state.id: state.state_class for state in project.states}
        self._sums: dict[str, Sums] = {}
        self.rows: dict[str, Row] = {}
        self.schedule = readable_schedule(project, calendar, self.tasks)
        self._slack = self._slack_of_all()
        self._late = self._late_marks()
        self._informed: Network | None = None
        self._forecast: Schedule | None = None
        self._progressed: frozenset[str] = frozenset()
        self._after: dict[str, frozenset[str]] = _waiting_for(self.tasks.values())
        order = [task_id for task_id, _, _ in self.outline.walk()]
        for task_id in reversed(order):
            self._sum_up(task_id)
        for task_id in reversed(order):
            self._compute(task_id)

    def followed(self, changed: Iterable[Task]) -> tuple[Plan, set[str]]:
        """The plan with changed tasks, and the ids of all tasks whose row may differ in it, those gone included."""
        after = copy(self)
        after.tasks, after.rows, after._sums = dict(self.tasks), dict(self.rows), dict(self._sums)
        after._after, after.outline = dict(self._after), self.outline.over(after.tasks)
        if self._informed is not None:
            after.schedule, after._progressed = self.schedule.knowing(self._informed), frozenset()
        after._informed = None
        return after, after._take_over(list(changed))

    def _take_over(self, changed: list[Task]) -> set[str]:
        was = {task.id: self.tasks[task.id] for task in changed if task.id in self.tasks}
        touched: set[str] = set()
        parents: set[str] = set()
        neighbours: set[str] = set()
        moved, gone_or_back, progressed = False, set(), set(self._progressed)
        replaced: list[tuple[Task | None, Task]] = []
        planning = planning_fields(self.project)
        for task in changed:
            before = self.tasks.get(task.id)
            self.tasks[task.id] = task
            replaced.append((before, task))
            touched.add(task.id)
            if before is not None and before.deleted_at != task.deleted_at:
                gone_or_back.add(task.id)
            if before is None or any(getattr(before, name) != getattr(task, name) for name in PROGRESS_FIELDS):
                progressed.add(task.id)
                self._forecast = None
            moved = moved or before is None or any(getattr(before, name) != getattr(task, name) for name in planning)
            parents.update(one.parent_id for one in (before, task) if one and one.parent_id)
            self._note_links(before, task)
            neighbours |= {link.from_id for one in (before, task) if one for link in one.waits_for}
        if moved or gone_or_back:
            self._forecast = None
        self._progressed = frozenset(progressed)
        self.outline.replace(replaced)
        if moved:
            touched |= self._schedule_again(was, [task.id for task in changed])
        if gone_or_back:  # what waits for a task in the bin no longer says so
            touched |= {t.id for t in self.tasks.values() if any(link.from_id in gone_or_back for link in t.waits_for)}
        above = set(parents)
        for parent in parents:
            above.update(self.outline.ancestors(parent))
        again = touched | above
        for task_id in sorted(again, key=lambda one: -len(self.outline.ancestors(one))):
            if self.tasks[task_id].deleted_at is None:
                self._sum_up(task_id)
            else:
                self.rows.pop(task_id, None)
                self._sums.pop(task_id, None)
        for task_id in again & self._sums.keys():
            self._compute(task_id)
        for task_id in again:  # what stands at the other ends of their links
            neighbours |= self._after.get(task_id, frozenset()) | {link.from_id for link in self.tasks[task_id].waits_for}
        return again | self._count_links(neighbours - again)

    def _note_links(self, before: Task | None, after: Task) -> None:
        """Keep which tasks wait for which."""
        for link in before.waits_for if before else ():
            self._after[link.from_id] = self._after.get(link.from_id, frozenset()) - {after.id}
        for link in after.waits_for:
            self._after[link.from_id] = self._after.get(link.from_id, frozenset()) | {after.id}

    def _count_links(self, ids: Iterable[str]) -> set[str]:
        """Count anew what some tasks wait for and what waits for them. Returns those whose row differs now."""
        differ = set()
        for task_id in ids:
            row = self.rows.get(task_id)
            if row is None:
                continue
            waits_open, awaited = self._open_links(row.task, row.state_class)
            if (row.waits_open, row.awaited) != (waits_open, awaited):
                self.rows[task_id] = replace(row, waits_open=waits_open, awaited=awaited)
                differ.add(task_id)
        return differ

    def _open_links(self, task: Task, state_class: str) -> tuple[int, int]:
        """How many unfinished tasks an unfinished one waits for, and how many wait for it."""
        if state_class not in OPEN_CLASSES:
            return 0, 0
        after = self._after.get(task.id)
        before = {link.from_id for link in task.waits_for} if task.waits_for else ()
        return sum(map(self._is_open, before)), sum(map(self._is_open, after)) if after else 0

    def _is_open(self, task_id: str) -> bool:
        sums = self._sums.get(task_id)
        if sums is None:  # it is in the bin
            return False
        is_leaf = not self.outline.children.get(task_id)
        return (self._class[self.tasks[task_id].state_id] if is_leaf else sums.state_class) in OPEN_CLASSES

    def _schedule_again(self, was: Mapping[str, Task], changed: list[str]) -> set[str]:
        """Returns the ids of tasks whose slack, or how late they may finish, differs."""
        before, late = self._slack, self._late
        self.schedule = self._following(was, changed)
        self._slack = self._slack_of_all()
        differ = {one for one, slack in self._slack.items() if before.get(one) != slack}
        self._late = self._late_marks()
        differ |= {task_id for task_id, mark in self._late.items() if late.get(task_id) != mark}
        return (differ | (before.keys() - self._slack.keys())) & self.rows.keys()

    def _late_marks(self) -> dict[str, int]:
        """By task a number that differs where it may finish at another time."""
        return {task.id: mark for task, mark in zip(self.schedule.plan.tasks, self.schedule.late_marks(), strict=True)}

    def _following(self, was: Mapping[str, Task], changed: Iterable[str]) -> Schedule:
        try:
            return follow(self.schedule, self.project, self.calendar, was, self.tasks, changed)
        except RuleError:
            return readable_schedule(self.project, self.calendar, self.tasks)

    def _slack_of_all(self) -> dict[str, int]:
        rows = zip(self.schedule.plan.tasks, self.schedule.total, strict=True)
        return {task.id: total for task, total in rows if total is not None}

    def _sum_up(self, task_id: str) -> None:
        """What stands under it must have been summed up before."""
        task = self.tasks[task_id]
        children = self.outline.children.get(task_id)
        if not children:
            self._sums[task_id] = leaf_sums(task, self._class[task.state_id], self.now, self.calendar.day_minutes)
            return
        sums = self._sums[task_id] = total(self._sums[child] for child in children)
        sums.spent += task.spent
        sums.broken += breaks_deadline(task, sums.finish, sums.state_class, self.now)

    def _compute(self, task_id: str) -> None:
        """All sums must be there before."""
        task = self.tasks[task_id]
        if self.outline.children.get(task_id):
            self._compute_summary(task, self._sums[task_id])
            return
        state_class = self._class[task.state_id]
        waits_open, awaited = self._open_links(task, state_class)
        self.rows[task_id] = Row(
            task=task,
            is_summary=False,
            start=task.start,
            finish=task.finish,
            duration=task.duration,
            day_minutes=self._day_minutes(task),
            effort=task.effort,
            percent=task.percent,
            state_id=task.state_id,
            state_class=state_class,
            health=task_health(task, state_class, self.now),
            late_days=self._late_days(task.finish, state_class),
            breaks_deadline=breaks_deadline(task, task.finish, state_class, self.now),
            late_below=0,
            tasks_below=0,
            finished_below=0,
            slack=self._slack.get(task_id),
            late_finish=self._late_finish(task_id) if state_class in OPEN_CLASSES else None,
            critical=self._is_critical(task_id) and state_class in OPEN_CLASSES,
            waits=self._waits(task),
            held=self._held(task),
            waits_open=waits_open,
            awaited=awaited,
            booked=task.booked,
            spent=task.spent,
            **self._against_agreed(task_id, task.finish),
        )

    def _compute_summary(self, task: Task, sums: Sums) -> None:
        state_class = sums.state_class
        waits_open, awaited = self._open_links(task, state_class)
        state = self.project.first_state(state_class)  # type: ignore[arg-type]
        dated = sums.start is not None and sums.finish is not None
        self.rows[task.id] = Row(
            task=task,
            is_summary=True,
            start=sums.start,
            finish=sums.finish,
            duration=self.calendar.minutes_between(sums.start, sums.finish) if dated else None,  # type: ignore[arg-type]
            day_minutes=self.calendar.day_minutes,
            effort=sums.effort or None,
            percent=sums.percent,
            state_id=state.id if state else task.state_id,
            state_class=state_class,
            health=project_health(sums, self.now),
            late_days=self._late_days(sums.finish, state_class),
            breaks_deadline=breaks_deadline(task, sums.finish, state_class, self.now),
            late_below=sums.late,
            tasks_below=sums.tasks,
            finished_below=sums.finished,
            slack=self._slack.get(task.id),
            late_finish=None,
            critical=self._is_critical(task.id) and state_class in OPEN_CLASSES,
            waits=self._waits(task),
            held=None,
            waits_open=waits_open,
            awaited=awaited,
            booked=sums.booked,
            spent=sums.spent,
            **self._against_agreed(task.id, sums.finish),
        )

    @property
    def forecast(self) -> Schedule:
        """The dates to be expected from what has been done by now."""
        if self._forecast is None:
            if self._informed is None:
                self._informed = self._network_with_progress()
            self._forecast = Schedule(self._informed, minute_of(self.now))
        return self._forecast

    def _network_with_progress(self) -> Network:
        """The plan does not look at progress, so its network may not know of it yet."""
        if not self._progressed:
            return self.schedule.base
        was = {one: self.tasks[one] for one in self._progressed}
        net = network_after(self.schedule, self.project, self.calendar, was, self.tasks, was)
        return net or readable_schedule(self.project, self.calendar, self.tasks).base

    def _against_agreed(self, task_id: str, finish: datetime | None) -> dict[str, Any]:
        agreed = self.agreed.get(task_id)
        return {"agreed": agreed, "variance": variance(finish, agreed.finish, self.calendar) if agreed else None}

    def _is_critical(self, task_id: str) -> bool:
        slack = self._slack.get(task_id)
        return slack is not None and slack <= self.schedule.plan.critical_limit

    def _late_finish(self, task_id: str) -> datetime | None:
        """How late a task may finish before the project does, where that is later than planned."""
        if self._slack.get(task_id, 0) <= 0:
            return None
        return datetime_of(self.schedule.late_finish(self.schedule.net.index[task_id]))

    def _day_minutes(self, task: Task) -> int:
        # as nearly all: no need to look further
        if not task.elapsed and task.calendar_id is None and not self.project.people_time:
            return self.calendar.day_minutes
        return hours_of(task, self.project, self.calendar).day_minutes

    def _waits(self, task: Task) -> str:
        return write_links(task.waits_for, self.tasks, self.calendar.day_minutes) if task.waits_for else ""

    def _held(self, task: Task) -> str | None:
        if task.held_by_id is None:
            return task.held_reason
        holder = self.tasks.get(task.held_by_id)
        return holder.title if holder else "another task"

    def _late_days(self, finish: datetime | None, state_class: str) -> int:
        if finish is None or not is_late(finish, state_class, self.now):
            return 0
        return days_late(finish, self.now, self.calendar)

    def sums(self) -> Sums:
        """The sums over the whole project."""
        return total(self._sums[one] for one in self.outline.children.get(None, ()))

    def awaited_by(self, task_id: str) -> list[Row]:
        """The rows of the tasks that wait for one by a link."""
        return [row for row in self.rows.values() if any(link.from_id == task_id for link in row.task.waits_for)]

    def leaves(self) -> list[Row]:
        """The rows of all tasks that have none under them."""
        return [row for row in self.rows.values() if not row.is_summary]

    def ordered(self) -> list[tuple[Row, int, str]]:
        """All rows in outline order, with depth and outline number."""
        return [(self.rows[task_id], depth, number) for task_id, depth, number in self.outline.walk()]
