"""Changes and the journal: who, when, what it was, what it became."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from orjson import dumps
from pymysql.cursors import Cursor

from .database import fetch_all, fetch_one, places, start_again_if_taken


@dataclass(frozen=True, slots=True)
class Entry:
    """One field of one subject that changed. ``old`` and ``new`` are JSON."""

    subject: str
    subject_id: str
    field: str
    old: str | None
    new: str | None


@dataclass(frozen=True, slots=True)
class Change:
    """One use of the program that wrote something."""

    id: str
    project_id: str | None
    revision: int
    person_id: str
    at: datetime
    what: str
    undone_by: str | None


def change(cur: Cursor, change_id: str) -> Change | None:
    """A change by its id."""
    row = fetch_one(
        cur, "SELECT id, project_id, revision, person_id, at, what, undone_by FROM changes WHERE id = %s", (change_id,)
    )
    return Change(*row) if row else None


def insert_change(cur: Cursor, change: Change) -> None:
    """Write a change down. Where another writes the same at this moment, the transaction starts again and finds it done."""
    with start_again_if_taken():
        cur.execute(
            "INSERT INTO changes (id, project_id, revision, person_id, at, what) VALUES (%s, %s, %s, %s, %s, %s)",
            (change.id, change.project_id, change.revision, change.person_id, change.at, change.what),
        )


def mark_undone(cur: Cursor, change_id: str, by: str) -> None:
    """Note that a change was taken back by another. Where it had taken back one itself, that holds again."""
    cur.execute("UPDATE changes SET undone_by = NULL WHERE undone_by = %s", (change_id,))
    cur.execute("UPDATE changes SET undone_by = %s WHERE id = %s", (by, change_id))


def insert_entries(cur: Cursor, change: Change, entries: Iterable[Entry]) -> None:
    """Write the fields that a change touched.

    Many go as JSON: the driver would write thousands of values into the text of a statement one by one. For that the
    database makes a table on the disk, which is not worth it for few.
    """
    entries = list(entries)
    common = (change.id, change.project_id, change.revision, change.person_id, change.at)
    if len(entries) <= _FEW:
        cur.executemany(
            f"{_INTO} VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s)",
            [(*common, one.subject, one.subject_id, one.field, one.old, one.new) for one in entries],
        )
        return
    for some in _pieces(dumps((one.subject, one.subject_id, one.field, one.old, one.new)) for one in entries):
        cur.execute(
            f"{_INTO} SELECT %s, %s, %s, %s, %s, e.subject, e.subject_id, e.field, e.old, e.new FROM JSON_TABLE(%s, '$[*]' COLUMNS ("
            " number FOR ORDINALITY, subject VARCHAR(16) PATH '$[0]', subject_id CHAR(36) PATH '$[1]',"
            " field VARCHAR(40) PATH '$[2]', old LONGTEXT PATH '$[3]', new LONGTEXT PATH '$[4]')) e ORDER BY e.number",
            (*common, f"[{some}]"),
        )


def _pieces(rows: Iterable[bytes]) -> Iterator[str]:
    """Rows joined by commas, some at a time, so that no statement becomes larger than the database takes."""
    some: list[bytes] = []
    size = 0
    for row in rows:
        if some and size + len(row) > _LARGEST:
            yield b",".join(some).decode()
            some, size = [], 0
        some.append(row)
        size += len(row)
    if some:
        yield b",".join(some).decode()


_INTO = "INSERT INTO journal (change_id, project_id, revision, person_id, at, subject, subject_id, field, old, new)"
_FEW = 50
"""Entries up to which they are written one by one."""
_LARGEST = 1_000_000
"""Bytes of entries that are written by one statement, unless one alone is larger."""


def entries_of(cur: Cursor, change_id: str) -> list[Entry]:
    """What a change wrote, in order."""
    sql = "SELECT subject, subject_id, field, old, new FROM journal WHERE change_id = %s ORDER BY id"
    return [Entry(*row) for row in fetch_all(cur, sql, (change_id,))]


def changed_since(cur: Cursor, ids: Collection[str], revision: int) -> list[tuple[str, str, int, str]]:
    """(subject, field, revision, person) of every change to some subjects after a revision."""
    if not ids:
        return []
    sql = f"SELECT subject_id, field, revision, person_id FROM journal WHERE subject_id IN ({places(len(ids))}) AND revision > %s"
    return [(row[0], row[1], row[2], row[3]) for row in fetch_all(cur, sql, (*ids, revision))]


def take_out(cur: Cursor, change_id: str) -> None:
    """Take a change out that wrote nothing."""
    cur.execute("DELETE FROM changes WHERE id = %s", (change_id,))


def activity(cur: Cursor, project_id: str, before: int | None, limit: int) -> list[tuple[Any, ...]]:
    """The newest changes of a project before a revision: (id, revision, person, at, what, undone_by)."""
    sql = "SELECT id, revision, person_id, at, what, undone_by FROM changes WHERE project_id = %s AND revision < %s"
    return fetch_all(cur, f"{sql} ORDER BY revision DESC LIMIT %s", (project_id, before or 2**31 - 1, limit))


def entries_of_changes(cur: Cursor, ids: Collection[str], limit: int = 5000) -> list[tuple[Any, ...]]:
    """What several changes wrote: (change, subject, subject_id, field, old, new)."""
    if not ids:
        return []
    sql = f"""SELECT change_id, subject, subject_id, field, old, new FROM journal
      WHERE change_id IN ({places(len(ids))}) ORDER BY id LIMIT %s"""
    return fetch_all(cur, sql, (*ids, limit))


def history_of(cur: Cursor, subjects: Collection[str], limit: int) -> list[tuple[Any, ...]]:
    """What was changed on some subjects, the newest first: (change, person, at, subject, field, old, new)."""
    sql = f"""SELECT change_id, person_id, at, subject, field, old, new FROM journal
      WHERE subject_id IN ({places(len(subjects))}) ORDER BY id DESC LIMIT %s"""
    return fetch_all(cur, sql, (*subjects, limit))


def field_history(cur: Cursor, project_id: str, field: str) -> list[tuple[Any, ...]]:
    """Every change of one field in a project, oldest first: (subject, at, new)."""
    return fetch_all(
        cur, "SELECT subject_id, at, new FROM journal WHERE project_id = %s AND field = %s ORDER BY id", (project_id, field)
    )


def state_history(cur: Cursor, project_id: str) -> list[tuple[Any, ...]]:
    """When each task of a project was written down, and every change of its state, oldest first: (task, at, field, old, new)."""
    return fetch_all(
        cur,
        "SELECT subject_id, at, field, old, new FROM journal WHERE project_id = %s AND field IN ('created', 'state_id')"
        " AND subject = 'task' ORDER BY id",
        (project_id,),
    )


def first_values_since(
    cur: Cursor, project_id: str, since: datetime, fields: Collection[str]
) -> list[tuple[str, str, str | None]]:
    """(subject, field, old) of the first change of each field of each task after an instant: what it was then."""
    sql = f"""SELECT j.subject_id, j.field, j.old FROM journal j JOIN (
        SELECT MIN(id) AS id FROM journal WHERE project_id = %s AND subject = 'task' AND at >= %s
        AND field IN ({places(len(fields))}) GROUP BY subject_id, field) f ON f.id = j.id"""
    return [(row[0], row[1], row[2]) for row in fetch_all(cur, sql, (project_id, since, *fields))]


def last_value_before(cur: Cursor, subject_id: str, field: str, value: str) -> str | None:
    """What a field was when it last became a value."""
    row = fetch_one(
        cur,
        "SELECT old FROM journal WHERE subject_id = %s AND field = %s AND new = %s ORDER BY id DESC LIMIT 1",
        (subject_id, field, value),
    )
    return row[0] if row else None
