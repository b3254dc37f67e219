"""Taking a change back: the journal says what each field was."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import replace
from datetime import datetime
from typing import Any

from pymysql.cursors import Cursor

from ..core.errors import RuleError
from ..store import journal as journal_rows
from ..store import projects as project_rows
from ..store import tasks as task_rows
from ..store.database import from_json
from .context import Actor, AlreadyDone, Missing, check_project, writing
from .drafts import undo_in_draft
from .plans import PLANS
from .ripples import reschedule, write_fields
from .values import from_plain

Before = dict[str, dict[str, Any]]


def undo_change(cur: Cursor, actor: Actor, change_id: str) -> str:
    """Take back what a change did to tasks, as a change of its own, which can be taken back in turn.

    Returns:
        The code of the project.

    Raises:
        Missing: there is no such change.
        RuleError: it was not a change to tasks, was taken back already, or others have changed the same fields since.
    """
    change = journal_rows.change(cur, change_id)
    if change is None:
        raise Missing("change")
    if change.project_id is None:
        entries = journal_rows.entries_of(cur, change_id)
        if not entries or entries[0].subject != "draft":
            raise Missing("change")
        return undo_in_draft(cur, actor, change, entries)
    actor = replace(actor, draft=None)  # what was done to the plan is taken back there, wherever the person is now
    project = project_rows.project(cur, change.project_id)
    if project is None:
        raise Missing("change")
    check_project(actor, project, project_rows.members(cur, project.id).get(actor.person.id), "edit")
    if change.undone_by is not None and change.undone_by != actor.change_id:
        raise RuleError("That change was taken back already.")
    entries = journal_rows.entries_of(cur, change_id)
    if any(entry.subject != "task" for entry in entries):
        raise RuleError("Only changes to tasks can be taken back here. Change the settings of the project by hand.")
    try:
        with writing(cur, actor, project.id, f"took back: {change.what.removeprefix('took back: ')}"[:80]) as log:
            before = _values_before(entries, actor.clock.now())
            tasks = {task.id: task for task in task_rows.tasks_by_id(cur, list(before))}
            _check_untouched(cur, actor, change, before)
            _check_states(cur, project.id, before)
            with PLANS.hold(cur, replace(log.project, revision=log.revision - 1), actor.clock.now()) as held:
                for task_id, fields in before.items():
                    changed = {k: v for k, v in fields.items() if _now(cur, tasks[task_id], k) != v}
                    write_fields(cur, log, tasks[task_id], changed)
                reschedule(cur, replace(actor, consent=None), log, held.plan)
            journal_rows.mark_undone(cur, change_id, actor.change_id)
    except AlreadyDone:
        pass
    return project.code


def _now(cur: Cursor, task: Any, name: str) -> Any:
    return task_rows.description(cur, task.id) if name == "description" else getattr(task, name)


def _values_before(entries: list[journal_rows.Entry], now: datetime) -> Before:
    """For each task the fields as they were. A task that was written down goes to the bin, and only that."""
    before: Before = defaultdict(dict)
    created = {entry.subject_id for entry in entries if entry.field == "created"}
    for entry in reversed(entries):  # the first of several entries on one field says what it was
        if entry.subject_id not in created:
            before[entry.subject_id][entry.field] = from_plain(entry.field, from_json(entry.old))
    for subject in created:
        before[subject] = {"deleted_at": now}
    return before


def _check_untouched(cur: Cursor, actor: Actor, change: journal_rows.Change, before: Before) -> None:
    for subject, field, _, person in journal_rows.changed_since(cur, list(before), change.revision):
        if field in before[subject] and person != actor.person.id:
            raise RuleError("Somebody else has changed this since, so it cannot be taken back. Change it by hand.", field)


def _check_states(cur: Cursor, project_id: str, before: Before) -> None:
    known = {state.id for state in project_rows.states(cur, project_id)}
    if any(fields.get("state_id", next(iter(known))) not in known for fields in before.values()):
        raise RuleError("The state that the task stood in has been deleted, so this cannot be taken back.")
