"""Plans that this process holds in memory, each brought up to date by reading only what changed.

Nothing is lost when a process ends: what is held is a copy of the tables at a revision.
"""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, datetime
from typing import Any, Literal

import structlog
from pymysql.cursors import Cursor

from ...core.common.bounds import MOST_EXCEPTION_DAYS, MOST_EXCEPTIONS
from ...core.common.calendars import (
    OFFICE_WEEK,
    WEEKDAYS,
    CalendarException,
    Hours,
    WorkingCalendar,
    check_exceptions,
    read_hours,
)
from ...core.common.errors import Missing, RuleError
from ...core.schedule.agreed import AgreedTask
from ...core.schedule.drafts import Draft, lay_over
from ...core.schedule.plan import Plan, judged_at
from ...core.tasks.boards import Blank, Lane, Period, Workflow
from ...core.tasks.custom_fields import CustomField, CustomKind, Definition, ProjectMark
from ...core.tasks.model import Project, Task
from ...formats.rows import row_json
from ...store.common.database import transaction_of
from ...store.schedule import agreed as agreed_rows
from ...store.schedule import drafts as draft_rows
from ...store.tasks import custom_fields as definition_rows
from ...store.tasks import projects as project_rows
from ...store.tasks import tasks as task_rows
from .answers import Answers
from .context import Actor
from .journal_codec import from_plain

log = structlog.get_logger()
MOST_TASKS_HELD = 250_000
MOST_MARKS = 2_000


def make_calendar(
    week: Mapping[str, list[list[str]]], exceptions: Sequence[Mapping[str, Any]], name: str = ""
) -> WorkingCalendar:
    """Build a calendar from the form that it is kept in. Raises RuleError where that is not valid."""
    return WorkingCalendar(
        [read_hours(week.get(day, []), day) for day in WEEKDAYS], [_exception(one) for one in exceptions], name
    )


def _exception(one: Mapping[str, Any]) -> CalendarException:
    return CalendarException(
        date.fromisoformat(str(one["from"])),
        date.fromisoformat(str(one["to"])),
        read_hours(one.get("hours") or [], "exceptions"),
        str(one.get("name") or ""),
    )


def kept_calendar(week: Any, exceptions: Any, name: str = "") -> WorkingCalendar:
    """A calendar as it lies in the tables. What of it cannot be is left out, so that a project can be read all the same."""
    try:
        return make_calendar(week, exceptions, name)
    except (RuleError, ValueError, TypeError, KeyError, AttributeError):
        log.warning("a calendar is not valid; what of it cannot be is left out", calendar=name)
    hours = [_kept_hours(week, day) for day in WEEKDAYS]
    readable: list[CalendarException] = []
    for one in exceptions[:MOST_EXCEPTIONS] if isinstance(exceptions, list) else ():
        try:
            read = _exception(one)
            check_exceptions([read])
        except (RuleError, ValueError, TypeError, KeyError, AttributeError):
            continue
        readable.append(read)
    while sum((one.last - one.first).days + 1 for one in readable) > MOST_EXCEPTION_DAYS:
        readable.pop()
    return WorkingCalendar(hours if any(hours) else OFFICE_WEEK, readable, name)


def _kept_hours(week: Any, day: str) -> Hours:
    try:
        return read_hours(week.get(day) or [], day)
    except (RuleError, ValueError, TypeError, AttributeError):
        return ()


@dataclass(frozen=True, slots=True, order=True)
class Mark:
    """When a row last changed: at which revision, or by the mere passing of time at which quarter of an hour; in a draft
    also at which version of it."""

    revision: int
    quarter: int
    version: int = 0


@dataclass(frozen=True, slots=True)
class CachedPlan:
    """One plan at one mark, with its rows encoded, and for each row when it last changed.

    It does not change: a change to the plan makes another. So nobody who reads it waits for anybody else.

    Attributes:
        stood: the marks at which this process has held the plan, the latest last; one list for all that follow each other.
            Whoever stands at another is sent everything: what moved there and moved back is not known here.
        answers: what was made of the plan, for whoever asks the same.
    """

    plan: Plan
    mark: Mark
    stood: OrderedDict[Mark, None]
    encoded: Mapping[str, bytes]
    changed: Mapping[str, Mark] = field(default_factory=dict)
    gone: Mapping[str, Mark] = field(default_factory=dict)
    answers: Answers = field(default_factory=Answers)

    def rows_json(self, since: Mark | None) -> tuple[bool, list[bytes], list[str]]:
        """The rows for somebody who stands at a mark: (complete, encoded rows, ids gone)."""
        if since is not None and not _after(self.mark, since):
            return False, [], []
        if since is None or since not in self.stood:
            return True, list(self.encoded.values()), []
        rows = [self.encoded[one] for one, mark in self.changed.items() if _after(mark, since) and one in self.encoded]
        return False, rows, [one for one, mark in self.gone.items() if _after(mark, since)]

    def followed(self, plan: Plan, mark: Mark, touched: Iterable[str]) -> CachedPlan:
        """The same at a later mark.

        Args:
            touched: the tasks whose row differs, those gone included.
        """
        encoded, changed, gone = dict(self.encoded), dict(self.changed), dict(self.gone)
        for task_id in touched:
            row = plan.rows.get(task_id)
            if row is None:
                encoded.pop(task_id, None)
                changed.pop(task_id, None)
                gone[task_id] = mark
            else:
                encoded[task_id] = row_json(row)
                changed[task_id] = mark
                gone.pop(task_id, None)
        self.stood[mark] = None
        while len(self.stood) > MOST_MARKS:
            self.stood.popitem(last=False)
        return CachedPlan(plan, mark, self.stood, encoded, changed, gone)


def _after(mark: Mark, since: Mark) -> bool:
    return mark.revision > since.revision or mark.quarter > since.quarter or mark.version > since.version


def _quarter(now: datetime) -> int:
    return int(judged_at(now).timestamp()) // 900


Key = tuple[Literal["project", "draft"], str]
"""Of what a plan is: the ids of drafts come from clients, and one may be that of a project."""


class PlanCache:
    """The plans held by this process, the least used let go first. Safe for use by several threads."""

    def __init__(self) -> None:
        self._held: OrderedDict[Key, CachedPlan] = OrderedDict()
        self._lock = threading.Lock()
        self._following: dict[Key, threading.Lock] = {}

    def clear(self) -> None:
        """Let go of all of them."""
        with self._lock:
            self._held.clear()

    @property
    def projects(self) -> list[str]:
        """The ids of the projects whose plans are held, the least used first."""
        with self._lock:
            return [one for kind, one in self._held if kind == "project"]

    @property
    def tasks_held(self) -> int:
        """How many tasks the plans that are held have together."""
        with self._lock:
            return sum(len(one.plan.tasks) for one in self._held.values())

    def holding(self, cur: Cursor, plan: Plan) -> CachedPlan | None:
        """What is held of this very plan, with the answers that were made of it."""
        key: Key = ("project", plan.project.id)
        own = transaction_of(cur).kept(("plan", key))
        if own is not None and own.plan is plan:
            return own  # type: ignore[no-any-return]
        with self._lock:
            held = self._held.get(key)
        return _of_transaction(cur, key, held) if held is not None and held.plan is plan else None

    def at(self, cur: Cursor, project: Project, now: datetime) -> CachedPlan:
        """The plan of a project, at least as new as ``project.revision``.

        A transaction that has written may see rows that are never committed, so what it reads then is kept in it alone.

        Args:
            project: as read in this transaction (a writer passes it as it was before its own change).
        """
        key: Key = ("project", project.id)
        if _is_own(cur, project):
            return self._own(cur, key, lambda held: self._brought_up(cur, held, project, now))
        held = self._used(key)
        if not (held and held.mark.revision >= project.revision and held.mark.quarter >= _quarter(now)):
            with self._lock_of(key):  # one follows, and whoever comes meanwhile takes what it has made
                held = self._brought_up(cur, self._held.get(key), project, now)
                self._keep(key, held)
        return _of_transaction(cur, key, held)

    def draft_at(self, cur: Cursor, project: Project, draft: Draft, now: datetime) -> CachedPlan:
        """The plan of a project with a draft laid over it, as ``at``."""
        base = self.at(cur, project, now)
        key: Key = ("draft", draft.id)
        if transaction_of(cur).writes:
            return self._own(cur, key, lambda held: _draft_brought_up(held, base, draft))
        with self._lock_of(key):
            held = _draft_brought_up(self._held.get(key), base, draft)
            self._keep(key, held)
        return _of_transaction(cur, key, held)

    def _own(self, cur: Cursor, key: Key, bring_up: Callable[[CachedPlan | None], CachedPlan]) -> CachedPlan:
        """A plan as this transaction alone sees it, from what is held for all."""
        transaction = transaction_of(cur)
        before = transaction.kept(("plan", key))
        if before is None and (shared := self._used(key)) is not None:
            before = replace(shared, stood=OrderedDict(shared.stood), answers=Answers(shared.answers, transaction))
        own = bring_up(before)
        transaction.keep(("plan", key), own)
        return own

    def _brought_up(self, cur: Cursor, held: CachedPlan | None, project: Project, now: datetime) -> CachedPlan:
        return self._load(cur, project, now) if held is None else self._refreshed(cur, held, project, now)

    def _used(self, key: Key) -> CachedPlan | None:
        with self._lock:
            held = self._held.get(key)
            if held is not None:
                self._held.move_to_end(key)
            return held

    def _lock_of(self, key: Key) -> threading.Lock:
        with self._lock:
            return self._following.setdefault(key, threading.Lock())

    def _keep(self, key: Key, held: CachedPlan) -> None:
        with self._lock:
            self._held[key] = held
            self._held.move_to_end(key)
            total = sum(len(one.plan.tasks) for one in self._held.values())
            while total > MOST_TASKS_HELD and len(self._held) > 1:
                _, dropped = self._held.popitem(last=False)
                total -= len(dropped.plan.tasks)

    def _load(self, cur: Cursor, project: Project, now: datetime) -> CachedPlan:
        whole, calendar, agreed = read_meta(cur, project)
        plan = Plan(whole, calendar, task_rows.tasks_of(cur, project.id), judged_at(now), agreed)
        return _encode(plan, Mark(project.revision, _quarter(now)))

    def _refreshed(self, cur: Cursor, held: CachedPlan, project: Project, now: datetime) -> CachedPlan:
        mark = Mark(max(project.revision, held.mark.revision), max(_quarter(now), held.mark.quarter))
        if mark == held.mark:
            return held
        changed = []
        if mark.revision > held.mark.revision:
            changed = task_rows.tasks_changed(cur, project.id, held.mark.revision)
        if project.meta_revision <= held.plan.project.meta_revision and mark.quarter == held.mark.quarter:
            plan, touched = held.plan.followed(changed)
            return held.followed(plan, mark, touched)
        plan = _made_anew(cur, held.plan, project, {task.id: task for task in changed}, now)
        return held.followed(plan, mark, _differing(held.plan, plan))


def _made_anew(cur: Cursor, before: Plan, project: Project, changed: Mapping[str, Task], now: datetime) -> Plan:
    whole, calendar, agreed = before.project, before.calendar, before.agreed
    if project.meta_revision > whole.meta_revision:
        whole, calendar, agreed = read_meta(cur, project)
    return Plan(whole, calendar, {**before.tasks, **changed}.values(), judged_at(now), agreed)


def _is_own(cur: Cursor, project: Project) -> bool:
    """True where a plan that is read now may have rows that this transaction has not committed."""
    transaction = transaction_of(cur)
    counted = transaction.counted.get(project.id)
    return bool(transaction.writes) or (counted is not None and project.revision >= counted)


def _of_transaction(cur: Cursor, key: Key, held: CachedPlan) -> CachedPlan:
    """What is held for all as a transaction has it in hand: one that may write makes answers of its own."""
    transaction = transaction_of(cur)
    if not transaction.may_write:
        return held
    bound = transaction.bound.get(key)
    if bound is None or bound.plan is not held.plan:
        bound = transaction.bound[key] = replace(held, answers=Answers(held.answers, transaction))
    return bound


def _draft_brought_up(held: CachedPlan | None, base: CachedPlan, draft: Draft) -> CachedPlan:
    mark = Mark(base.mark.revision, base.mark.quarter, draft.version)
    if held is None:
        return _encode(_drafted(base.plan, draft), mark)
    # who reads a moment that lies before the last change of the draft is given what is held
    if held.mark != mark and held.mark.version <= mark.version:
        return _draft_followed(held, base.plan, draft, mark)
    return held


def _draft_followed(held: CachedPlan, base: Plan, draft: Draft, mark: Mark) -> CachedPlan:
    before = held.plan
    if mark.quarter != held.mark.quarter or base.project.meta_revision != before.project.meta_revision:
        plan = _drafted(base, draft)
        return held.followed(plan, mark, _differing(before, plan))
    tasks = {**base.tasks, **lay_over(base, draft.kept)}
    for task_id in before.tasks.keys() - tasks.keys():  # the draft had made it, and has it no more
        tasks[task_id] = before.tasks[task_id].with_fields({"deleted_at": base.now})
    plan, touched = before.followed([task for one, task in tasks.items() if before.tasks.get(one) != task])
    return held.followed(plan, mark, touched)


def _encode(plan: Plan, mark: Mark) -> CachedPlan:
    return CachedPlan(plan, mark, OrderedDict({mark: None}), {task_id: row_json(row) for task_id, row in plan.rows.items()})


def _differing(before: Plan, after: Plan) -> set[str]:
    return {one for one in before.rows.keys() | after.rows.keys() if before.rows.get(one) != after.rows.get(one)}


def _drafted(base: Plan, draft: Draft) -> Plan:
    tasks: dict[str, Task] = {**base.tasks, **lay_over(base, draft.kept)}
    return Plan(base.project, base.calendar, tasks.values(), base.now, base.agreed)


_DEFINED: dict[str, type[Definition]] = {
    "fields": CustomField, "kinds": CustomKind, "marks": ProjectMark, "workflows": Workflow, "lanes": Lane, "periods": Period,
    "blanks": Blank,
}  # fmt: skip
"""What a project defines itself, by the name that its list has among its fields."""
_READ_APART = {"states", "members", "calendars", "people_time", *_DEFINED}
PeopleTime = Callable[[Cursor, WorkingCalendar], Mapping[str, WorkingCalendar]]
_people_time: list[PeopleTime] = []


def knows_the_time_of_people(function: PeopleTime) -> PeopleTime:
    """Registers what gives by person when they work, within the working time of a project."""
    _people_time[:] = [function]
    return function


def calendar_name(project: Project) -> str:
    """What the calendar of a project itself is called."""
    return f"{project.name}: working time"[:120]


def read_meta(cur: Cursor, project: Project) -> tuple[Project, WorkingCalendar, dict[str, AgreedTask]]:
    """A project with its workflow and members, its calendar, and what was promised of its tasks."""
    _, week, exceptions = project_rows.calendar(cur, project.id)
    calendar = kept_calendar(week, exceptions, calendar_name(project))
    defined = [one for _, one in definition_rows.of_project(cur, project.id)]
    whole = Project(
        **{name: getattr(project, name) for name in project.__slots__ if name not in _READ_APART},
        states=project_rows.states(cur, project.id),
        members=project_rows.members(cur, project.id),
        calendars={one: kept_calendar(w, e, name) for one, name, w, e in project_rows.other_calendars(cur, project.id)},
        **{name: tuple(one for one in defined if isinstance(one, sort)) for name, sort in _DEFINED.items()},  # type: ignore[arg-type]
        people_time=_people_time[0](cur, calendar) if project.own_time else {},
    )
    return whole, calendar, agreed_rows.current_tasks(cur, project.id)


PLANS = PlanCache()
"""The plans of this process: a cache of committed rows, so one for all is enough."""


def with_bin(cur: Cursor, plan: Plan, ids: Iterable[str]) -> dict[str, Task]:
    """Some tasks of a plan by their ids, those in the bin too, which a plan that was read anew does not hold."""
    wanted = set(ids)
    found = {one: plan.tasks[one] for one in wanted & plan.tasks.keys()}
    rest = task_rows.tasks_by_id(cur, wanted - found.keys())
    return found | {task.id: task for task in rest if task.project_id == plan.project.id}


def take_in_hand(cur: Cursor, project: Project, now: datetime) -> None:
    """Hold the plan of a project from now on, so that whoever asks for it first does not wait for it."""
    PLANS.at(cur, project, now)


def open_draft(cur: Cursor, actor: Actor, project: Project, draft_id: str, *, lock: bool = False) -> Draft:
    """A draft of a project. Raises Missing where there is none, it is another's own, or it was applied."""
    draft = draft_rows.draft(cur, draft_id, from_plain, lock=lock)
    if draft is None or draft.project_id != project.id or draft.applied is not None:
        raise Missing("draft")
    if not draft.shared and draft.person_id != actor.person.id:
        raise Missing("draft")
    return draft


def see_plan(cur: Cursor, actor: Actor, project: Project) -> CachedPlan:
    """The plan as a person sees it: with the draft that they are in laid over it."""
    now = actor.clock.now()
    if actor.draft is None:
        return PLANS.at(cur, project, now)
    return PLANS.draft_at(cur, project, open_draft(cur, actor, project, actor.draft), now)
