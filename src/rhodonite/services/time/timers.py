"""The timer: one a person. It runs in the database, so nothing is lost with a browser or a process."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.dates import say_day
from ...core.common.errors import Forbidden, Missing, RuleError
from ...core.tasks.model import Project, Task
from ...core.time.entries import Timer, check_entry, check_may_enter, check_open, entry_of, is_forgotten, ran_for
from ...store.common.database import from_json, to_json
from ...store.common.journal import Entry
from ...store.common.locks import lock_people
from ...store.tasks import projects as project_rows
from ...store.tasks import tasks as task_rows
from ...store.time import entries as rows
from ..common.context import Actor, Log, once, open_task, pair_of, writing
from ..resources.capacity import read_capacities
from ..tasks.projects import visible_projects
from .entries import Ground, closed_weeks, insert_entries, open_ground, take_back


@dataclass(frozen=True, slots=True)
class Running:
    """A timer that runs.

    Attributes:
        project, task: None where the person may see them no more; the time is theirs all the same.
        started: the local time at which it was started.
        minutes: that it has run.
        forgotten: True where that is longer than a day's work, so that it is asked what it really was.
    """

    timer: Timer
    project: Project | None
    task: Task | None
    started: datetime
    minutes: int
    forgotten: bool


def read_timer(cur: Cursor, actor: Actor) -> Running | None:
    """One's own timer, where it runs."""
    timer = rows.timer(cur, actor.person.id)
    if timer is None:
        return None
    actor = replace(actor, draft=None)
    try:
        project: Project | None = open_task(cur, actor, timer.task_id)
    except (Missing, Forbidden):
        project = None
    task = task_rows.tasks_by_id(cur, [timer.task_id])[0] if project else None
    minutes = ran_for(timer, actor.clock.utc())
    return Running(timer, project, task, actor.clock.local(timer.started_at), minutes, _forgotten(cur, actor, timer, minutes))


def is_used(cur: Cursor, actor: Actor) -> bool:
    """True where a project that the person may see records time."""
    return any(project.time for project, _ in visible_projects(cur, actor))


def _forgotten(cur: Cursor, actor: Actor, timer: Timer, minutes: int) -> bool:
    day = actor.clock.local(timer.started_at).toordinal()
    return is_forgotten(minutes, read_capacities(cur).of(actor.person.id).on(day))


@once
def start_timer(cur: Cursor, actor: Actor, task_id: str, note: str, billable: bool) -> None:
    """Start to count the time of a task. Another that runs is stopped first, and becomes an entry; the same runs on.

    Raises:
        Missing, Forbidden: the person may not see the task, or not enter time on it.
        RuleError: the project records no time; the timer that runs was forgotten, so that it must be said what it was.
    """
    actor = replace(actor, draft=None)
    lock_people(cur, [actor.person.id])
    running = rows.timer(cur, actor.person.id)
    if running is not None and running.task_id == task_id:
        return
    project = open_task(cur, actor, task_id)
    ground = open_ground(cur, actor, project.code)
    task = task_rows.tasks_by_id(cur, [task_id])[0]
    if task.deleted_at is not None:
        raise Missing("task")
    check_may_enter(ground.role, task, actor.person.id)
    if running is not None:
        _stop(cur, replace(actor, change_id=pair_of(actor.change_id)), running, None)
    made = Timer(actor.person.id, task_id, actor.clock.utc(), note.strip(), billable)
    with writing(cur, actor, None, "started the timer") as log:
        rows.set_timer(cur, made)
        log.record("timer", actor.person.id, "task_id", running.task_id if running else None, task_id)


@once
def edit_timer(cur: Cursor, actor: Actor, note: str | None, billable: bool | None) -> None:
    """Say what the time that is counted goes into, and whether it can be charged. Raises RuleError where no timer runs."""
    lock_people(cur, [actor.person.id])
    before = _running(cur, actor)
    after = replace(
        before, note=before.note if note is None else note.strip(), billable=before.billable if billable is None else billable
    )
    with writing(cur, replace(actor, draft=None), None, "changed the timer") as log:
        log.record_changes("timer", actor.person.id, before, after, ("note", "billable"))
        rows.set_timer(cur, after)


def _running(cur: Cursor, actor: Actor) -> Timer:
    found = rows.timer(cur, actor.person.id)
    if found is None:
        raise RuleError("No timer of yours runs. It may have been stopped elsewhere.", "timer")
    return found


@once
def stop_timer(cur: Cursor, actor: Actor, minutes: int | None, note: str | None) -> None:
    """Stop the timer: what it counted becomes an entry on the day on which it was started.

    Args:
        minutes: what it really was; needed where it has run for longer than a day's work.
        note: in place of that of the timer.

    Raises:
        RuleError: no timer runs; it was forgotten, and it is not said what it was; a day that would be longer than 24 hours.
        Forbidden: the week was accepted meanwhile.
    """
    actor = replace(actor, draft=None)
    lock_people(cur, [actor.person.id])
    running = _running(cur, actor)
    _stop(cur, actor, running if note is None else replace(running, note=note.strip()), minutes)


def _stop(cur: Cursor, actor: Actor, running: Timer, minutes: int | None) -> None:
    """Make an entry of a timer. It is written though the task may be in the bin by now: the time was spent."""
    ran = ran_for(running, actor.clock.utc())
    started = actor.clock.local(running.started_at)
    if minutes is None and _forgotten(cur, actor, running, ran):
        raise RuleError(
            f"The timer has run since {say_day(started.date())}, {started:%H:%M}: longer than a day’s work. Say how long it really was.",
            "minutes",
        )
    project_id = task_rows.project_of(cur, running.task_id)
    project = project_rows.project(cur, project_id) if project_id else None
    assert project is not None  # the timer's task is held by its row
    made = entry_of(running, str(uuid.uuid5(uuid.UUID(actor.change_id), "entry")), project.id, started, minutes or ran)
    check_entry(made, max(actor.clock.now().date(), started.date()))
    role = actor.role_in(project, project_rows.members(cur, project.id).get(actor.person.id))
    with writing(cur, actor, project.id, "stopped the timer", seen=project) as log:
        check_open(closed_weeks(cur, [made]), made, leads=Ground(project, role).leads)
        rows.end_timer(cur, actor.person.id)
        insert_entries(cur, actor, log, [made])
        log.record("timer", running.person_id, "stopped", _kept(running), None)


def _kept(timer: Timer) -> dict[str, Any]:
    return {"task_id": timer.task_id, "started_at": timer.started_at, "note": timer.note, "billable": timer.billable}


def put_back(cur: Cursor, actor: Actor, code: str, entries: Sequence[Entry]) -> None:
    """Take back that a timer was stopped: it runs on, as if it had never been, and its entry goes. Or stop it again.

    Args:
        entries: of the change, about the timer and its entry.

    Raises:
        Forbidden: it is another person's.
        RuleError: another timer of theirs runs by now, or this one does no more.
    """
    one = next(entry for entry in entries if entry.subject == "timer")
    was, became = from_json(one.old), from_json(one.new)
    if one.subject_id != actor.person.id:
        raise Forbidden("That is somebody else’s timer. They take it back themselves, or a lead changes the hours.")
    lock_people(cur, [actor.person.id])
    running = rows.timer(cur, actor.person.id)
    if (running is None) != (became is None) or (running is not None and to_json(_kept(running)) != one.new):
        raise RuleError("Another timer of yours was started or stopped since. Stop it, and change the hours by hand.", "timer")

    def turn(log: Log) -> None:
        if was is None:
            rows.end_timer(cur, actor.person.id)
        else:
            started = datetime.fromisoformat(was["started_at"])
            rows.set_timer(cur, Timer(actor.person.id, was["task_id"], started, was["note"], was["billable"]))
        log.record("timer", one.subject_id, "stopped", became, was)

    take_back(cur, actor, code, [entry for entry in entries if entry.subject == "time"], turn)


@once
def discard_timer(cur: Cursor, actor: Actor) -> None:
    """Stop the timer without an entry: it ran by mistake. Raises RuleError where none runs."""
    lock_people(cur, [actor.person.id])
    running = _running(cur, actor)
    with writing(cur, replace(actor, draft=None), None, "discarded the timer") as log:
        log.record("timer", actor.person.id, "task_id", running.task_id, None)
        rows.end_timer(cur, actor.person.id)
