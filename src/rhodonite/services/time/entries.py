"""Time entries: written, changed and taken away, by who spent the hours or by leads of the project."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.durations import say_hours
from ...core.common.errors import Forbidden, Missing, RuleError
from ...core.people.access import may_in_project
from ...core.schedule.plan import Plan
from ...core.tasks.model import Project, Task
from ...core.time.entries import (
    Closed,
    TimeEntry,
    as_read_by,
    check_entry,
    check_may_enter,
    check_not_charged,
    check_open,
    check_whole_day,
    is_open,
    may_change,
    may_enter,
    monday_of,
)
from ...store.common.database import from_json
from ...store.common.journal import Entry
from ...store.common.locks import lock_people
from ...store.people import people as people_rows
from ...store.tasks import projects as project_rows
from ...store.tasks import tasks as task_rows
from ...store.time import entries as rows
from ..common.clashes import check_clash
from ..common.context import Actor, Log, check_not_archived, once, open_project, open_task, writing
from ..common.pipeline import Way, comes_along, says_before_bin, says_before_move
from ..common.plan_cache import PLANS

MOST_AT_ONCE = 5_000
MOST_GOING_OVER = 1_000_000
MOST_LISTED = 200
"""Entries of a task that are shown; the report has all."""
FIELDS = frozenset({"task_id", "day", "minutes", "started", "note", "billable"})
"""Of an entry what can be changed: whose it is stays."""


@dataclass(frozen=True, slots=True)
class EntryEdit:
    """Changed fields of one entry, and the revision of it that the person saw when editing."""

    id: str
    revision: int
    fields: dict[str, Any]


@dataclass(frozen=True, slots=True)
class Ground:
    """A project whose time is entered, with the role of who enters it."""

    project: Project
    role: str | None

    @property
    def leads(self) -> bool:
        """True where they may change the hours of others."""
        return may_in_project(self.role, "manage")


def open_ground(cur: Cursor, actor: Actor, code: str) -> Ground:
    """The project in which time is entered.

    Raises:
        Missing, Forbidden: the person may not see it, or it is archived.
        RuleError: it records no time.
    """
    project = open_project(cur, actor, code, "see")
    check_not_archived(project)
    if not project.time:
        raise RuleError(f"{project.code} records no time. A lead switches that on in the settings of the project.", "time")
    return Ground(project, actor.role_in(project, project_rows.members(cur, project.id).get(actor.person.id)))


@once
def add_entries(cur: Cursor, actor: Actor, code: str, new: Sequence[TimeEntry]) -> None:
    """Write time down, all of it or none.

    Args:
        new: ``project_id`` is not looked at.

    Raises:
        Missing, Forbidden: a task that is not there, or on which the person may not enter time; somebody else's hours
            without being a lead; a week that is closed.
        RuleError: hours that cannot be.
    """
    actor = replace(actor, draft=None)  # it was spent in truth
    ground = open_ground(cur, actor, code)
    _check_count(new)
    lock_people(cur, [one.person_id for one in new])  # a day has 24 hours over all projects
    with writing(cur, actor, ground.project.id, _what("entered", new), seen=ground.project) as log:
        made = [replace(one, project_id=ground.project.id, note=one.note.strip()) for one in new]
        _check_new(cur, actor, ground, made)
        insert_entries(cur, actor, log, made)


def insert_entries(cur: Cursor, actor: Actor, log: Log, made: Sequence[TimeEntry]) -> None:
    """Write entries that may be, and their journal, within a change that is open."""
    _check_days(cur, made)
    rows.insert(cur, made, log.revision)
    rows.recount(cur, {one.task_id for one in made}, log.revision)
    for one in made:
        log.record("time", one.id, "created", None, written(one))


def written(one: TimeEntry) -> dict[str, Any]:
    """An entry as the journal keeps it."""
    return {
        "task_id": one.task_id, "person_id": one.person_id, "day": one.day.isoformat(), "minutes": one.minutes,
        "started": one.started, "note": one.note, "billable": one.billable,
    }  # fmt: skip


def _what(did: str, entries: Sequence[TimeEntry]) -> str:
    return f"{did} {say_hours(sum(one.minutes for one in entries))}"


def _check_count(items: Sequence[Any]) -> None:
    if not 1 <= len(items) <= MOST_AT_ONCE:
        raise RuleError(f"Send between one and {MOST_AT_ONCE} entries at once.", "entries")


def _check_new(cur: Cursor, actor: Actor, ground: Ground, made: Sequence[TimeEntry]) -> None:
    closed = closed_weeks(cur, made)
    others = {one.person_id for one in made} - {actor.person.id}
    if others and not ground.leads:
        raise Forbidden("You enter your own hours; those of others are entered by a lead of the project.")
    if others and not others <= {one.id for one in people_rows.all_people(cur) if one.active}:
        raise RuleError("That person is not in the organisation any more. Choose another.", "person_id")
    today = actor.clock.now().date()
    for one in made:
        check_entry(one, today)
        check_open(closed, one, leads=ground.leads)
    _check_tasks(cur, actor, ground, made)


def _check_tasks(cur: Cursor, actor: Actor, ground: Ground, entries: Sequence[TimeEntry]) -> None:
    """Raises Missing or Forbidden where the actor may not enter time on the task of an entry."""
    tasks = {one.id: one for one in task_rows.tasks_by_id(cur, {one.task_id for one in entries})}
    for one in entries:
        task = tasks.get(one.task_id)
        if task is None or task.project_id != ground.project.id or task.deleted_at is not None:
            raise Missing("task")
        check_may_enter(ground.role, task, actor.person.id)


def closed_weeks(cur: Cursor, entries: Iterable[TimeEntry]) -> Closed:
    """How the weeks stand in which some entries lie."""
    weeks: dict[str, set[date]] = defaultdict(set)
    for one in entries:
        weeks[one.person_id].add(monday_of(one.day))
    return {(h.person_id, h.monday, h.project_id): h.state for who, days in weeks.items() for h in rows.handed(cur, who, days)}


def _check_days(cur: Cursor, entries: Sequence[TimeEntry]) -> None:
    """Raises RuleError where a day would have more hours than there are, with those of other projects."""
    by_person: dict[str, list[TimeEntry]] = defaultdict(list)
    for one in entries:
        by_person[one.person_id].append(one)
    for who, several in by_person.items():
        on = rows.minutes_on(cur, who, {one.day for one in several}, {one.id for one in several})
        for one in several:
            on[one.day] = on.get(one.day, 0) + one.minutes
            check_whole_day(on[one.day], one.day)


@once
def edit_entries(cur: Cursor, actor: Actor, code: str, edits: Sequence[EntryEdit]) -> None:
    """Change entries of a project: any of ``FIELDS``.

    Raises:
        Clash: somebody else changed the same field since.
        Missing, Forbidden, RuleError: as ``add_entries``.
    """
    actor = replace(actor, draft=None)
    ground = open_ground(cur, actor, code)
    _check_count(edits)
    _lock_whose(cur, [one.id for one in edits])
    with writing(cur, actor, ground.project.id, f"changed {_counted(edits)}", seen=ground.project) as log:
        before = _open(cur, actor, ground, [one.id for one in edits])
        check_clash(cur, actor, "hours", before, edits)
        after = []
        for edit in edits:
            was = before[edit.id]
            fields = {name: value.strip() if name == "note" else value for name, value in edit.fields.items()}
            after.append(replace(was, **fields))
        _check_edited(cur, actor, ground, before, after)
        for one in after:
            log.record_changes("time", one.id, before[one.id], one, FIELDS)
        _write(cur, log, [*before.values()], after)


def _lock_whose(cur: Cursor, ids: Sequence[str]) -> None:
    """Lock the hours of those whose entries these are; whose an entry is never changes."""
    lock_people(cur, [entry.person_id for entry, _ in rows.entries_by_id(cur, set(ids)).values()])


def _check_edited(cur: Cursor, actor: Actor, ground: Ground, before: Mapping[str, TimeEntry], after: Sequence[TimeEntry]) -> None:
    """What an entry was and what it becomes must both be open; only one that goes to another task is asked for its right there."""
    closed = closed_weeks(cur, after)
    for one in after:
        check_entry(one, actor.clock.now().date())
        check_open(closed, one, leads=ground.leads)
    _check_tasks(cur, actor, ground, [one for one in after if one.task_id != before[one.id].task_id])
    _check_days(cur, after)


def _write(cur: Cursor, log: Log, before: Sequence[TimeEntry], after: Sequence[TimeEntry], gone: datetime | None = None) -> None:
    rows.update(cur, after, log.revision, gone)
    rows.recount(cur, {one.task_id for one in (*before, *after)}, log.revision)


def _open(cur: Cursor, actor: Actor, ground: Ground, ids: Sequence[str], *, gone: bool = False) -> dict[str, TimeEntry]:
    """Entries of a project that the actor may change.

    Raises:
        Missing: one is not there.
        Forbidden: one is somebody else's, or its week is closed.
    """
    found = rows.entries_by_id(cur, set(ids))
    for one in ids:
        if one not in found or found[one][1] is gone or found[one][0].project_id != ground.project.id:
            raise Missing("time entry")
    opened = {one: found[one][0] for one in ids}
    closed = closed_weeks(cur, opened.values())
    for each in opened.values():
        if not may_change(ground.role, each.person_id, actor.person.id):
            raise Forbidden("Those are somebody else’s hours. They change them, or a lead of the project.")
        check_open(closed, each, leads=ground.leads)
        check_not_charged(each)
    return opened


def _counted(items: Sequence[Any]) -> str:
    return "a time entry" if len(items) == 1 else f"{len(items)} time entries"


Also = Callable[[Log], None] | None


@once
def delete_entries(cur: Cursor, actor: Actor, code: str, ids: Sequence[str]) -> None:
    """Take entries away. Raises as ``edit_entries``."""
    _set_gone(cur, actor, code, ids, gone=True)


def _set_gone(cur: Cursor, actor: Actor, code: str, ids: Sequence[str], *, gone: bool, also: Also = None) -> None:
    actor = replace(actor, draft=None)
    ground = open_ground(cur, actor, code)
    _check_count(ids)
    ids = list(dict.fromkeys(ids))
    what = f"{'took away' if gone else 'brought back'} {_counted(ids)}"
    _lock_whose(cur, ids)
    with writing(cur, actor, ground.project.id, what, seen=ground.project) as log:
        opened = list(_open(cur, actor, ground, ids, gone=not gone).values())
        now = actor.clock.utc()
        if not gone:
            _check_days(cur, opened)
        for one in opened:
            log.record("time", one.id, "deleted_at", None if gone else now, now if gone else None)
        _write(cur, log, opened, opened, now if gone else None)
        if also is not None:
            also(log)


_READ: dict[str, Callable[[Any], Any]] = {"day": date.fromisoformat}


@once
def take_back(cur: Cursor, actor: Actor, code: str, entries: Sequence[Entry], also: Also = None) -> None:
    """Take back what a change did to time entries.

    Args:
        also: what is done besides where they go or come back, in the same change.

    Raises:
        Missing, Forbidden: the actor may not change them.
        RuleError: one was changed again since.
    """
    first = entries[0].field
    ids = list(dict.fromkeys(one.subject_id for one in entries))
    if first == "created":
        _set_gone(cur, actor, code, ids, gone=True, also=also)
    elif first == "deleted_at":
        _set_gone(cur, actor, code, ids, gone=from_json(entries[0].old) is not None, also=also)
    else:
        now = rows.entries_by_id(cur, ids)
        edits: dict[str, dict[str, Any]] = defaultdict(dict)
        for one in entries:
            read = _READ.get(one.field, lambda value: value)
            if one.subject_id in now and getattr(now[one.subject_id][0], one.field) != read(from_json(one.new)):
                raise RuleError("The hours were changed again since. Change them by hand.")
            edits[one.subject_id][one.field] = read(from_json(one.old))
        edit_entries(cur, actor, code, [EntryEdit(one, 2**31 - 1, fields) for one, fields in edits.items()])


@comes_along
def move_along(cur: Cursor, log: Log, way: Way) -> None:
    """The open hours of tasks that move to another project go with them; a copy begins without."""
    if way.moves:
        rows.move_timers(cur, way.copies.items() if way.target.time else ())
        _go_over(cur, log, way.copies, _split_by_open(cur, way)[0])


def _split_by_open(cur: Cursor, way: Way) -> tuple[list[TimeEntry], list[TimeEntry]]:
    """The hours of tasks that move: those that go with them, and those that stay behind.

    What was submitted or accepted was so for its project, and what was invoiced stands on a sheet of it: that stays where it
    is. So does all of it where the other project records no time.
    """
    found = rows.entries_of_tasks(cur, list(way.copies), MOST_GOING_OVER)
    closed = closed_weeks(cur, found)
    goes = [one for one in found if way.target.time and is_open(closed, one)]
    going = {one.id for one in goes}
    return goes, [one for one in found if one.id not in going]


@says_before_move
def say_what_stays(cur: Cursor, way: Way) -> list[str]:
    """The hours that do not come along."""
    if not way.moves:
        return []
    stays = sum(one.minutes for one in _split_by_open(cur, way)[1])
    if not stays:
        return []
    why = "are submitted, accepted or invoiced" if way.target.time else f"cannot go: {way.target.code} records no time"
    return [f"{say_hours(stays)} {why}: they stay in {way.source.code} and count there."]


@says_before_bin
def say_what_is_kept(cur: Cursor, actor: Actor, plan: Plan, ids: Collection[str]) -> list[str]:
    """The hours on tasks that go into the bin: they stay."""
    if not plan.project.time:
        return []
    minutes = sum(plan.tasks[one].spent for one in ids)
    return [f"{say_hours(minutes)} recorded stay in time sheets, reports and costs."] if minutes else []


def hours_go_over(cur: Cursor, log: Log, over: Mapping[str, str]) -> None:
    """Let the hours of tasks be those of others in their project.

    Args:
        over: by task the one that gets them.
    """
    rows.move_timers(cur, over.items())
    _go_over(cur, log, over, rows.entries_of_tasks(cur, list(over), MOST_GOING_OVER))


def _go_over(cur: Cursor, log: Log, over: Mapping[str, str], found: Sequence[TimeEntry]) -> None:
    _give(cur, log, {one.id: replace(one, task_id=over[one.task_id], project_id=log.project.id) for one in found}, found)


def put_back(cur: Cursor, log: Log, entries: Sequence[Entry]) -> None:
    """Take back, within a change that is open, that hours went from one task to another."""
    found = {one: entry for one, (entry, _) in rows.entries_by_id(cur, {one.subject_id for one in entries}).items()}
    back: dict[str, TimeEntry] = {}
    closed = closed_weeks(cur, found.values())
    for one in entries:
        was, now = from_json(one.old), found.get(one.subject_id)
        project_id = task_rows.project_of(cur, was) if one.field == "task_id" else None
        if now is None or project_id is None or now.task_id != from_json(one.new):
            raise RuleError("The hours of the task were changed since, so this cannot be taken back.")
        if project_id != now.project_id and not is_open(closed, now):
            raise RuleError("Hours of the task were submitted, accepted or invoiced since. Return them first, then take it back.")
        back[now.id] = replace(now, task_id=was, project_id=project_id)
    _give(cur, log, back, list(found.values()))


def _give(cur: Cursor, log: Log, after: Mapping[str, TimeEntry], before: Sequence[TimeEntry]) -> None:
    """Write entries that belong to other tasks than before. A task of another project is counted without a revision of it: it
    goes to the bin, or comes from there, in a change of its own."""
    rows.update(cur, [after[one.id] for one in before], log.revision)
    for one in before:
        log.record("time", one.id, "task_id", one.task_id, after[one.id].task_id)
    touched = {(one.project_id, one.task_id) for one in (*before, *after.values())}
    rows.recount(cur, {task for project, task in touched if project == log.project.id}, log.revision)
    rows.recount(cur, {task for project, task in touched if project != log.project.id}, None)


@dataclass(frozen=True, slots=True)
class OnTask:
    """The time of one task.

    Attributes:
        people: by person the minutes on the task itself, and with all below it; the most first. A guest is told of their own.
        entries: the latest on the task itself.
        more: how many older ones there are not told of.
    """

    project: Project
    task: Task
    people: list[tuple[str, int, int]]
    spent: int
    below: int
    estimate: int | None
    entries: list[TimeEntry]
    more: bool
    may_enter: bool
    leads: bool
    closed: Closed


def read_task_time(cur: Cursor, actor: Actor, task_id: str) -> OnTask:
    """What was spent on a task, by person, on it and on everything below."""
    actor = replace(actor, draft=None)
    project = open_task(cur, actor, task_id)
    held = PLANS.at(cur, project, actor.clock.now())
    row = held.plan.rows.get(task_id)
    if row is None:
        raise Missing("task")
    on: dict[str, int] = defaultdict(int)
    under: dict[str, int] = defaultdict(int)
    for at, who, minutes in rows.minutes_by_person(cur, [task_id, *held.plan.outline.below(task_id)]):
        under[who] += minutes
        on[who] += minutes if at == task_id else 0
    listed = rows.entries_of_tasks(cur, [task_id], MOST_LISTED + 1)
    role = actor.role_in(project, held.plan.project.members.get(actor.person.id))
    leads, guest = may_in_project(role, "manage"), actor.person.role == "guest"
    shown = [as_read_by(one, actor.person.id, leads=leads, guest=guest) for one in listed[:MOST_LISTED]]
    if guest and not leads:
        under = {one: minutes for one, minutes in under.items() if one == actor.person.id}
    enters = project.time and project.archived_at is None and may_enter(role, row.task, actor.person.id)
    return OnTask(
        held.plan.project, row.task, [(who, on[who], under[who]) for who in sorted(under, key=lambda one: (-under[one], one))],
        row.task.spent, row.spent, row.effort, [one for one in shown if one], len(listed) > MOST_LISTED, enters, leads,
        closed_weeks(cur, listed[:MOST_LISTED]),
    )  # fmt: skip


def check_readable(cur: Cursor, actor: Actor, code: str) -> None:
    """Raises Missing where the person may not see the project."""
    open_project(cur, actor, code, "see")
