"""Fields of tasks, written down with their journal and the words by which they are found. In a draft only the journal."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.errors import Taken
from ...core.schedule.drafts import refusal
from ...core.tasks.model import OWN, Task
from ...formats.html import words_of
from ...store.talk import parts as part_rows
from ...store.tasks import tasks as task_rows
from .context import Actor, Log
from .journal_codec import plain
from .search_index import write_field_words

_JOURNALLED_AT_FIRST = (
    "parent_id", "owner_id", "start", "finish", "duration", "constraint_type", "constraint_at", "state_id", "percent",
    "waits_for", "bookings",
)  # fmt: skip


def write_made(cur: Cursor, actor: Actor, log: Log, made: Sequence[Task], described: Mapping[str, str]) -> None:
    """Write new tasks, those above before those below, and their journal. In a draft only their journal.

    Args:
        described: by task its description, cleaned.

    Raises:
        RuleError: one has a description, and this is a draft.
        Taken: this is a draft, and one has the id of a task that there is.
    """
    if log.in_draft and described:
        raise refusal()
    if log.in_draft and task_rows.any_exists(cur, [task.id for task in made]):
        raise Taken
    if made and not log.in_draft:
        task_rows.insert_tasks(cur, made, dict(described), actor.clock.utc())
        words = [
            (task.id, task.id, task.project_id, "description", words_of(described[task.id]))
            for task in made
            if task.id in described
        ]
        part_rows.write_many_words(cur, words)
        write_field_words(cur, [task for task in made if task.own])
    for task in made:
        log.tasks[task.id] = task
        log.record("task", task.id, "created", None, {"number": task.number, "title": task.title})
        for name in _JOURNALLED_AT_FIRST:
            value = getattr(task, name)
            if value and value != "asap":
                log.record("task", task.id, name, None, plain(name, value))


def write_many(cur: Cursor, log: Log, changes: Mapping[str, dict[str, Any]], tasks: Mapping[str, Task]) -> None:
    """Write changed fields of many tasks, and their journal, in a few statements. Descriptions are not among them.

    Args:
        changes: the fields by task.
        tasks: as they were before.
    """
    changes = {task_id: fields for task_id, fields in changes.items() if fields}
    for task_id, fields in changes.items():
        task = tasks[task_id]
        for name, value in fields.items():
            log.record("task", task_id, name, plain(name, task.value(name)), plain(name, value))
        log.tasks[task_id] = log.tasks.get(task_id, task).with_fields(fields)
    if changes and not log.in_draft:
        columns = {task_id: columns_of(fields, log.tasks[task_id]) for task_id, fields in changes.items()}
        task_rows.update_tasks(cur, columns, log.revision)
        write_field_words(cur, [log.tasks[one] for one, fields in columns.items() if "own" in fields])


def columns_of(fields: Mapping[str, Any], after: Task) -> dict[str, Any]:
    """The columns that changed fields are kept in: the project's own fields stand together in one."""
    columns = {name: value for name, value in fields.items() if not name.startswith(OWN)}
    return columns | ({"own": after.own} if len(columns) < len(fields) else {})


def write_fields(cur: Cursor, log: Log, task: Task, fields: dict[str, Any]) -> None:
    """Write changed fields of a task, and their journal."""
    if not fields:
        return
    for name, value in fields.items():
        old = task_rows.description(cur, task.id) if name == "description" else task.value(name)
        log.record("task", task.id, name, plain(name, old), plain(name, value))
    now = log.tasks.get(task.id, task)
    after = now.with_fields({name: value for name, value in fields.items() if name != "description"})
    log.tasks[task.id] = after
    if not log.in_draft:
        columns = columns_of(fields, after)
        task_rows.update_task(cur, task.id, columns, log.revision)
        if "own" in columns:
            write_field_words(cur, [after])
        if "description" in fields:
            words = words_of(fields["description"])
            part_rows.write_words(cur, task.id, task.id, task.project_id, "description", words)


def write_moves(cur: Cursor, log: Log, tasks: dict[str, Task], moves: dict[str, dict[str, Any]]) -> None:
    """Write computed dates, with their journal."""
    for task_id, fields in moves.items():
        task = tasks[task_id]
        for name, value in fields.items():
            log.record("task", task_id, name, getattr(task, name), value)
        tasks[task_id] = log.tasks[task_id] = task.with_fields(fields)
    if moves:
        task_rows.move_tasks(cur, moves, log.revision)
