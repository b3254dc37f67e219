"""Taking a change back: the journal says what each field was."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import replace
from datetime import datetime
from typing import Any

from pymysql.cursors import Cursor

from ..core.access import ProjectAction
from ..core.errors import RuleError
from ..store import journal as journal_rows
from ..store import parts as part_rows
from ..store import projects as project_rows
from ..store import tasks as task_rows
from ..store.database import from_json
from . import definitions, sheets, teams, templates
from .context import Actor, AlreadyDone, Log, Missing, check_project, pair_of, writing
from .drafts import undo_in_draft
from .notices import tell_of_tasks
from .plans import PLANS
from .ripples import reschedule, write_fields
from .values import from_plain
from .words import write_part_words

SETTLED = frozenset({"sheet", "team", "template", *definitions.WORDS})
"""What else than tasks and drafts can be taken back: each kind of thing by its own service."""
Before = dict[str, dict[str, Any]]


def undo_change(cur: Cursor, actor: Actor, change_id: str) -> str | None:
    """Take back a change; where it was to two projects at once, what it did to the other as well. See ``_undo``."""
    code = _undo(cur, actor, change_id)
    pair = pair_of(change_id)
    if journal_rows.change(cur, pair) is not None:
        _undo(cur, replace(actor, change_id=pair_of(actor.change_id)), pair)
    return code


def _undo(cur: Cursor, actor: Actor, change_id: str) -> str | None:
    """Take back a change, as a change of its own, which can be taken back in turn.

    Returns:
        The code of the project; None where it was to none.

    Raises:
        Missing: there is no such change.
        RuleError: it cannot be taken back here, was taken back already, or others have changed the same fields since.
    """
    change = journal_rows.change(cur, change_id)
    if change is None:
        raise Missing("change")
    if change.project_id is None:
        entries = journal_rows.entries_of(cur, change_id)
        if entries and entries[0].subject in SETTLED:
            return _undo_settled(cur, actor, change, entries, None)
        if not entries or entries[0].subject != "draft":
            raise Missing("change")
        return undo_in_draft(cur, actor, change, entries)
    actor = replace(actor, draft=None)  # what was done to the plan is taken back there, wherever the person is now
    project = project_rows.project(cur, change.project_id)
    if project is None:
        raise Missing("change")
    entries = journal_rows.entries_of(cur, change_id)
    if entries and entries[0].subject in SETTLED:
        return _undo_settled(cur, actor, change, entries, project.code)
    own_words = change.person_id == actor.person.id and all(entry.subject == "comment" for entry in entries)
    needed: ProjectAction = "comment" if own_words else "edit"  # who may say something may take it back
    check_project(actor, project, project_rows.members(cur, project.id).get(actor.person.id), needed)
    if change.undone_by is not None and change.undone_by != actor.change_id:
        raise RuleError("That change was taken back already.")
    on_parts = [entry for entry in entries if entry.subject in part_rows.KINDS]
    entries = [entry for entry in entries if entry.subject not in part_rows.KINDS]
    if any(entry.subject != "task" for entry in entries):
        raise RuleError("Only changes to tasks can be taken back here. Change the settings of the project by hand.")
    try:
        with writing(cur, actor, project.id, f"took back: {change.what.removeprefix('took back: ')}"[:80]) as log:
            before = _values_before(entries, actor.clock.now())
            tasks = {task.id: task for task in task_rows.tasks_by_id(cur, list(before))}
            parts = _parts_before(on_parts, actor.clock.utc())
            _check_untouched(cur, actor, change, before | {part_id: fields for (_, part_id), fields in parts.items()})
            _put_back(cur, log, parts)
            _check_states(cur, project.id, before)
            with PLANS.hold(cur, replace(log.project, revision=log.revision - 1), actor.clock.now()) as held:
                for task_id, fields in before.items():
                    changed = {k: v for k, v in fields.items() if _now(cur, tasks[task_id], k) != v}
                    write_fields(cur, log, tasks[task_id], changed)
                reschedule(cur, replace(actor, consent=None), log, held.plan)
                tell_of_tasks(cur, actor, log, held.plan)
            journal_rows.mark_undone(cur, change_id, actor.change_id)
    except AlreadyDone:
        pass
    return project.code


def _undo_settled(
    cur: Cursor, actor: Actor, change: journal_rows.Change, entries: list[journal_rows.Entry], code: str | None
) -> str | None:
    """Take back what a change did to a sheet, a team, a kept checklist, or something that a project defines; they say who may."""
    subject, subject_id = entries[0].subject, entries[0].subject_id
    if change.undone_by == actor.change_id:
        return code  # the request is a repeat
    if change.undone_by is not None:
        raise RuleError("That change was taken back already.")
    if subject == "sheet":
        sheets.take_back(cur, actor, code, subject_id, entries)
    elif subject == "team":
        teams.take_back(cur, actor, subject_id, entries)
    elif code is not None and subject == "template":
        templates.take_back(cur, actor, code, entries)
    elif code is not None:
        definitions.take_back(cur, actor, code, subject, subject_id, entries)
    journal_rows.mark_undone(cur, change.id, actor.change_id)
    return code


def _now(cur: Cursor, task: Any, name: str) -> Any:
    return task_rows.description(cur, task.id) if name == "description" else task.value(name)


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


def _parts_before(entries: list[journal_rows.Entry], now: datetime) -> dict[tuple[Any, str], dict[str, Any]]:
    """For each part that a change touched the fields as they were; what was added is taken away."""
    before: dict[tuple[Any, str], dict[str, Any]] = defaultdict(dict)
    created = {(entry.subject, entry.subject_id) for entry in entries if entry.field == "created"}
    for entry in reversed(entries):
        key = (entry.subject, entry.subject_id)
        if key in created:
            before[key] = {"deleted_at": now}
        elif entry.field != "done":  # those are words for done_at, which stands beside it
            old = from_json(entry.old)
            before[key][entry.field] = datetime.fromisoformat(old) if old and entry.field.endswith("_at") else old
    return before


def _put_back(cur: Cursor, log: Log, parts: dict[tuple[Any, str], dict[str, Any]]) -> None:
    left: set[str] = set()  # what was merged goes back to the task that it came from
    for (kind, part_id), fields in parts.items():
        part: Any = part_rows.part(cur, part_rows.KINDS[kind], part_id)
        for name, value in fields.items():
            log.record(kind, part_id, name, getattr(part, name), value)
        left.add(part.task_id)
        part_rows.update(cur, type(part), part_id, fields)
        write_part_words(cur, log.project.id, part_rows.part(cur, type(part), part_id))
    hang_on = part_rows.tasks_of(cur, {kind: {one for k, one in parts if k == kind} for kind, _ in parts})
    part_rows.recount(cur, {*hang_on.values(), *left}, log.revision)


def _check_untouched(cur: Cursor, actor: Actor, change: journal_rows.Change, before: Before) -> None:
    for subject, field, _, person in journal_rows.changed_since(cur, list(before), change.revision):
        if field in before[subject] and person != actor.person.id:
            raise RuleError("Somebody else has changed this since, so it cannot be taken back. Change it by hand.", field)


def _check_states(cur: Cursor, project_id: str, before: Before) -> None:
    known = {state.id for state in project_rows.states(cur, project_id)}
    if any(fields.get("state_id", next(iter(known))) not in known for fields in before.values()):
        raise RuleError("The state that the task stood in has been deleted, so this cannot be taken back.")
