"""Plans that this process holds in memory, each brought up to date by reading only what changed.

Nothing is lost when a process ends: what is held is a copy of the tables at a revision.
"""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from datetime import date, datetime

from pymysql.cursors import Cursor

from ..core.agreed import AgreedTask
from ..core.calendars import WEEKDAYS, WorkingCalendar, read_hours
from ..core.drafts import Draft, lay_over
from ..core.model import CalendarException, Project, Task
from ..core.own import OwnField, OwnKind, ProjectMark
from ..core.plan import Plan, judged_at
from ..formats.rows import row_json
from ..store import agreed as agreed_rows
from ..store import definitions as definition_rows
from ..store import drafts as draft_rows
from ..store import projects as project_rows
from ..store import tasks as task_rows
from .context import Actor, Missing
from .values import from_plain

MOST_TASKS_HELD = 250_000
MOST_MARKS = 2_000


def make_calendar(week: dict[str, list[list[str]]], exceptions: list[dict[str, object]], name: str = "") -> WorkingCalendar:
    """Build a calendar from its kept form. Raises RuleError where that is not valid."""
    return WorkingCalendar(
        [read_hours(week.get(day, []), day) for day in WEEKDAYS],
        [
            CalendarException(
                date.fromisoformat(str(one["from"])),
                date.fromisoformat(str(one["to"])),
                read_hours(one.get("hours") or [], "exceptions"),  # type: ignore[arg-type]
                str(one.get("name") or ""),
            )
            for one in exceptions
        ],
        name,
    )


@dataclass(frozen=True, slots=True, order=True)
class Mark:
    """When a row last changed: at which revision, or by the mere passing of time at which quarter of an hour; in a draft
    also at which version of it."""

    revision: int
    quarter: int
    version: int = 0


@dataclass(slots=True)
class HeldPlan:
    """One plan with its rows encoded, and for each row when it last changed.

    Attributes:
        stood: the marks at which this process has held the plan, the latest last. Whoever stands at another is sent
            everything: what moved there and moved back is not known here.
    """

    plan: Plan
    mark: Mark
    stood: OrderedDict[Mark, None] = field(default_factory=OrderedDict)
    encoded: dict[str, bytes] = field(default_factory=dict)
    changed: dict[str, Mark] = field(default_factory=dict)
    gone: dict[str, Mark] = field(default_factory=dict)
    lock: threading.RLock = field(default_factory=threading.RLock)

    def stand(self, mark: Mark) -> None:
        """The plan is held at another mark from now on."""
        self.mark = mark
        self.stood[mark] = None
        while len(self.stood) > MOST_MARKS:
            self.stood.popitem(last=False)

    def rows_json(self, since: Mark | None) -> tuple[bool, list[bytes], list[str]]:
        """The rows for somebody who stands at a mark: (complete, encoded rows, ids gone)."""
        if since is not None and not _after(self.mark, since):
            return False, [], []
        if since is None or since not in self.stood:
            return True, list(self.encoded.values()), []
        rows = [self.encoded[one] for one, mark in self.changed.items() if _after(mark, since) and one in self.encoded]
        return False, rows, [one for one, mark in self.gone.items() if _after(mark, since)]


def _after(mark: Mark, since: Mark) -> bool:
    return mark.revision > since.revision or mark.quarter > since.quarter or mark.version > since.version


def _quarter(now: datetime) -> int:
    return int(judged_at(now).timestamp()) // 900


class Plans:
    """The plans held by this process, the least used let go first. Safe for use by several threads."""

    def __init__(self) -> None:
        self._held: OrderedDict[str, HeldPlan] = OrderedDict()
        self._lock = threading.Lock()
        self._loading: dict[str, threading.Lock] = {}

    @contextmanager
    def hold(self, cur: Cursor, project: Project, now: datetime) -> Iterator[HeldPlan]:
        """The plan of a project, at least as new as ``project.revision``. It stands still within the block.

        Args:
            project: as read in this transaction (a writer passes it as it was before its own change).
        """
        with self._lock:
            held = self._held.get(project.id)
            loading = self._loading.setdefault(project.id, threading.Lock())
        if held is None:
            with loading:
                with self._lock:
                    held = self._held.get(project.id)
                if held is None:
                    held = self._load(cur, project, now)
                    self._keep(project.id, held)
        else:
            with self._lock:
                if project.id in self._held:
                    self._held.move_to_end(project.id)
        with held.lock:
            self._refresh(cur, held, project, now)
            yield held

    @contextmanager
    def hold_draft(self, cur: Cursor, project: Project, draft: Draft, now: datetime) -> Iterator[HeldPlan]:
        """The plan of a project with a draft laid over it, as ``hold``."""
        with self.hold(cur, project, now) as base:
            mark = Mark(base.mark.revision, base.mark.quarter, draft.version)
            held = self._held.get(draft.id)
            if held is None:
                held = _encode(_drafted(base.plan, draft), mark)
                self._keep(draft.id, held)
            with held.lock:
                # who reads a moment that lies before the last change of the draft is given what is held
                if held.mark != mark and held.mark.version <= mark.version:
                    self._follow(held, base.plan, draft, mark)
                yield held

    def _follow(self, held: HeldPlan, base: Plan, draft: Draft, mark: Mark) -> None:
        before = held.plan
        if mark.quarter == held.mark.quarter and base.project.meta_revision == before.project.meta_revision:
            tasks = {**base.tasks, **lay_over(base, draft.kept)}
            touched = before.update([task for one, task in tasks.items() if before.tasks.get(one) != task])
        else:
            held.plan = _drafted(base, draft)
            touched = _differing(before, held.plan)
        for task_id in touched:
            self._note(held, task_id, mark)
        held.stand(mark)

    def _keep(self, key: str, held: HeldPlan) -> None:
        with self._lock:
            self._held[key] = held
            total = sum(len(one.plan.tasks) for one in self._held.values())
            while total > MOST_TASKS_HELD and len(self._held) > 1:
                _, dropped = self._held.popitem(last=False)
                total -= len(dropped.plan.tasks)

    def _load(self, cur: Cursor, project: Project, now: datetime) -> HeldPlan:
        whole, calendar, agreed = _read_meta(cur, project)
        plan = Plan(whole, calendar, task_rows.tasks_of(cur, project.id), judged_at(now), agreed)
        return _encode(plan, Mark(project.revision, _quarter(now)))

    def _refresh(self, cur: Cursor, held: HeldPlan, project: Project, now: datetime) -> None:
        mark = Mark(max(project.revision, held.mark.revision), max(_quarter(now), held.mark.quarter))
        if mark == held.mark:
            return
        changed = []
        if mark.revision > held.mark.revision:
            changed = task_rows.tasks_changed(cur, project.id, held.mark.revision)
        if project.meta_revision > held.plan.project.meta_revision or mark.quarter > held.mark.quarter:
            self._rebuild(cur, held, project, {task.id: task for task in changed}, mark, now)
        else:
            for task_id in held.plan.update(changed):
                self._note(held, task_id, mark)
        held.stand(mark)

    def _rebuild(
        self, cur: Cursor, held: HeldPlan, project: Project, changed: dict[str, object], mark: Mark, now: datetime
    ) -> None:
        before = held.plan
        whole, calendar, agreed = before.project, before.calendar, before.agreed
        if project.meta_revision > whole.meta_revision:
            whole, calendar, agreed = _read_meta(cur, project)
        tasks = {**before.tasks, **changed}
        held.plan = Plan(whole, calendar, tasks.values(), judged_at(now), agreed)  # type: ignore[arg-type]
        for task_id in _differing(before, held.plan):
            self._note(held, task_id, mark)

    def _note(self, held: HeldPlan, task_id: str, mark: Mark) -> None:
        row = held.plan.rows.get(task_id)
        if row is None:
            held.encoded.pop(task_id, None)
            held.changed.pop(task_id, None)
            held.gone[task_id] = mark
        else:
            held.encoded[task_id] = row_json(row)
            held.changed[task_id] = mark
            held.gone.pop(task_id, None)


def _encode(plan: Plan, mark: Mark) -> HeldPlan:
    return HeldPlan(plan, mark, OrderedDict({mark: None}), {task_id: row_json(row) for task_id, row in plan.rows.items()})


def _differing(before: Plan, after: Plan) -> set[str]:
    return {one for one in before.rows.keys() | after.rows.keys() if before.rows.get(one) != after.rows.get(one)}


def _drafted(base: Plan, draft: Draft) -> Plan:
    tasks: dict[str, Task] = {**base.tasks, **lay_over(base, draft.kept)}
    return Plan(base.project, base.calendar, tasks.values(), base.now, base.agreed)


_READ_APART = {"states", "members", "calendars", "fields", "kinds", "marks"}


def _read_meta(cur: Cursor, project: Project) -> tuple[Project, WorkingCalendar, dict[str, AgreedTask]]:
    """A project with its workflow and members, its calendar, and what was promised of its tasks."""
    _, week, exceptions = project_rows.calendar(cur, project.id)
    defined = [one for _, one in definition_rows.of_project(cur, project.id)]
    whole = Project(
        **{name: getattr(project, name) for name in project.__slots__ if name not in _READ_APART},
        states=project_rows.states(cur, project.id),
        members=project_rows.members(cur, project.id),
        calendars={one: make_calendar(w, e, name) for one, name, w, e in project_rows.other_calendars(cur, project.id)},
        fields=tuple(one for one in defined if isinstance(one, OwnField)),
        kinds=tuple(one for one in defined if isinstance(one, OwnKind)),
        marks=tuple(one for one in defined if isinstance(one, ProjectMark)),
    )
    return whole, make_calendar(week, exceptions), agreed_rows.current_tasks(cur, project.id)


PLANS = Plans()
"""The plans of this process: a cache of committed rows, so one for all is enough."""


def take_in_hand(cur: Cursor, project: Project, now: datetime) -> None:
    """Hold the plan of a project from now on, so that whoever asks for it first does not wait for it."""
    with PLANS.hold(cur, project, now):
        pass


def open_draft(cur: Cursor, actor: Actor, project: Project, draft_id: str, *, lock: bool = False) -> Draft:
    """A draft of a project. Raises Missing where there is none, it is another's own, or it was applied."""
    draft = draft_rows.draft(cur, draft_id, from_plain, lock=lock)
    if draft is None or draft.project_id != project.id or draft.applied is not None:
        raise Missing("draft")
    if not draft.shared and draft.person_id != actor.person.id:
        raise Missing("draft")
    return draft


@contextmanager
def see_plan(cur: Cursor, actor: Actor, project: Project) -> Iterator[HeldPlan]:
    """The plan as a person sees it: with the draft that they are in laid over it."""
    now = actor.clock.now()
    if actor.draft is None:
        with PLANS.hold(cur, project, now) as held:
            yield held
    else:
        with PLANS.hold_draft(cur, project, open_draft(cur, actor, project, actor.draft), now) as held:
            yield held
