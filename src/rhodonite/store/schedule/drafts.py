"""Drafts and what they keep of each task."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from pymysql.cursors import Cursor

from ...core.schedule.drafts import Draft, Kept
from ..common.database import fetch_all, fetch_one, from_json, to_json

# a draft is done once it was applied, unless that was taken back
_SELECT = """SELECT d.id, d.project_id, d.name, d.person_id, d.shared, d.version, d.at, c.id
  FROM drafts d LEFT JOIN changes c ON c.id = d.applied AND c.undone_by IS NULL"""
FromPlain = Callable[[str, Any], Any]


def _draft(row: tuple[Any, ...], kept: Kept) -> Draft:
    return Draft(row[0], row[1], row[2], row[3], bool(row[4]), row[5], row[6], kept, row[7])


def drafts_of(cur: Cursor, project_id: str, person_id: str) -> list[tuple[Draft, int]]:
    """The drafts of a project that a person may see, the latest first, each with how many tasks it changes.

    What they keep is left out.
    """
    sql = f"""{_SELECT} WHERE d.project_id = %s AND d.deleted_at IS NULL AND (d.shared OR d.person_id = %s)
      AND c.id IS NULL ORDER BY d.at DESC, d.id DESC LIMIT 200"""
    rows = fetch_all(cur, sql, (project_id, person_id))
    sql = """SELECT t.draft_id, COUNT(*) FROM draft_tasks t JOIN drafts d ON d.id = t.draft_id
      WHERE d.project_id = %s AND d.deleted_at IS NULL GROUP BY t.draft_id"""
    counts = dict(fetch_all(cur, sql, (project_id,)))
    return [(_draft(row, {}), counts.get(row[0], 0)) for row in rows]


def draft(cur: Cursor, draft_id: str, from_plain: FromPlain, *, lock: bool = False, deleted: bool = False) -> Draft | None:
    """A draft with what it keeps.

    Args:
        from_plain: turns the kept value of a field back into that of a task.
        lock: True where it is about to be changed.
        deleted: True for one that was thrown away, else one that was not.
    """
    if lock:
        fetch_one(cur, "SELECT id FROM drafts WHERE id = %s FOR UPDATE", (draft_id,))
    row = fetch_one(cur, f"{_SELECT} WHERE d.id = %s AND (d.deleted_at IS NOT NULL) = %s", (draft_id, deleted))
    if row is None:
        return None
    kept: Kept = {
        task_id: {name: (from_plain(name, was), from_plain(name, new)) for name, (was, new) in from_json(text).items()}
        for task_id, text in fetch_all(cur, "SELECT task_id, kept FROM draft_tasks WHERE draft_id = %s", (draft_id,))
    }
    return _draft(row, kept)


def project_of(cur: Cursor, draft_id: str, task_id: str) -> str | None:
    """The project of a draft that keeps something of a task."""
    row = fetch_one(
        cur,
        "SELECT d.project_id FROM drafts d JOIN draft_tasks t ON t.draft_id = d.id AND t.task_id = %s WHERE d.id = %s",
        (task_id, draft_id),
    )
    return row[0] if row else None


def insert(cur: Cursor, one: Draft) -> None:
    """Add a draft, without what it keeps."""
    cur.execute(
        "INSERT INTO drafts (id, project_id, name, person_id, shared, at) VALUES (%s, %s, %s, %s, %s, %s)",
        (one.id, one.project_id, one.name, one.person_id, one.shared, one.at),
    )


def write_kept(cur: Cursor, draft_id: str, kept: Mapping[str, dict[str, tuple[Any, Any]]]) -> None:
    """Write what a draft keeps of some tasks, in plain form, and count its version up; nothing left removes the task."""
    gone = [(draft_id, task_id) for task_id, fields in kept.items() if not fields]
    if gone:
        cur.executemany("DELETE FROM draft_tasks WHERE draft_id = %s AND task_id = %s", gone)
    rows = [(draft_id, task_id, to_json(fields)) for task_id, fields in kept.items() if fields]
    if rows:
        cur.executemany(
            "INSERT INTO draft_tasks (draft_id, task_id, kept) VALUES (%s, %s, %s) ON DUPLICATE KEY UPDATE kept = VALUES(kept)",
            rows,
        )
    cur.execute("UPDATE drafts SET version = version + 1 WHERE id = %s", (draft_id,))


def update(cur: Cursor, draft_id: str, fields: dict[str, Any]) -> None:
    """Set columns of a draft; the names come from the services, never from a request."""
    assert fields.keys() <= {"name", "shared", "applied", "deleted_at"}
    sets = ", ".join(f"{name} = %s" for name in fields)
    cur.execute(f"UPDATE drafts SET {sets} WHERE id = %s", (*fields.values(), draft_id))
