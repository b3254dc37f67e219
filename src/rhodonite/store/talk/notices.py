"""Notices: messages to one person in the program."""

from __future__ import annotations

from collections.abc import Collection, Iterable
from dataclasses import astuple, dataclass, fields
from datetime import datetime
from typing import Any

from pymysql.cursors import Cursor

from ..common.database import fetch_all, fetch_one, places


@dataclass(frozen=True, slots=True)
class Notice:
    """One message, of a task, of several, or of a goal, which is in no project. ``words`` say what happened, without who and where."""

    id: str
    person_id: str
    project_id: str | None
    task_id: str | None
    kind: str
    reason: str
    by_id: str
    at: datetime
    words: str
    comment_id: str | None = None
    read_at: datetime | None = None
    for_digest: bool = False
    goal_id: str | None = None


_NAMES = [one.name for one in fields(Notice)]
_SELECT = f"SELECT {', '.join(_NAMES)} FROM notices"


def insert(cur: Cursor, notices: Iterable[Notice]) -> None:
    """Write notices."""
    rows = [astuple(one) for one in notices]
    if rows:
        cur.executemany(f"INSERT INTO notices ({', '.join(_NAMES)}) VALUES ({places(len(_NAMES))})", rows)


def latest(cur: Cursor, person_id: str, unread: bool, limit: int) -> list[Notice]:
    """A person's newest notices."""
    where = "person_id = %s AND read_at IS NULL" if unread else "person_id = %s"
    return [
        Notice(*row) for row in fetch_all(cur, f"{_SELECT} WHERE {where} ORDER BY at DESC, id DESC LIMIT %s", (person_id, limit))
    ]


def count_unread(cur: Cursor, person_id: str, project_ids: Collection[str]) -> int:
    """How many of some projects a person has not read."""
    if not project_ids:
        return 0
    sql = f"SELECT COUNT(*) FROM notices WHERE person_id = %s AND read_at IS NULL AND project_id IN ({places(len(project_ids))})"
    row = fetch_one(cur, sql, (person_id, *project_ids))
    return int(row[0]) if row else 0


def unread_of(cur: Cursor, person_ids: Collection[str]) -> dict[str, int]:
    """How many notices each of some people has not read, of all projects; those with none are left out."""
    if not person_ids:
        return {}
    sql = f"SELECT person_id, COUNT(*) FROM notices WHERE read_at IS NULL AND person_id IN ({places(len(person_ids))}) GROUP BY 1"
    return {row[0]: int(row[1]) for row in fetch_all(cur, sql, tuple(person_ids))}


def mark_read(cur: Cursor, person_id: str, ids: Collection[str] | None, read_at: datetime | None) -> None:
    """Mark a person's notices as read, or with None as unread; all of them where no ids are given."""
    if ids is None:
        cur.execute("UPDATE notices SET read_at = %s WHERE person_id = %s AND read_at IS NULL", (read_at, person_id))
    elif ids:
        cur.execute(
            f"UPDATE notices SET read_at = %s WHERE person_id = %s AND id IN ({places(len(ids))})", (read_at, person_id, *ids)
        )


def waiting_for_digest(cur: Cursor, before: datetime) -> list[Notice]:
    """The notices that a daily digest is to tell, of all people, the oldest first."""
    return [
        Notice(*row) for row in fetch_all(cur, f"{_SELECT} WHERE for_digest AND at < %s ORDER BY person_id, at, id", (before,))
    ]


def told(cur: Cursor, ids: Collection[str]) -> None:
    """Note that a digest has told these."""
    if ids:
        cur.execute(f"UPDATE notices SET for_digest = FALSE WHERE id IN ({places(len(ids))})", tuple(ids))


def unread_goals(cur: Cursor, person_id: str) -> list[Notice]:
    """A person's notices of goals that are not read."""
    sql = f"{_SELECT} WHERE person_id = %s AND read_at IS NULL AND goal_id IS NOT NULL LIMIT 1000"
    return [Notice(*row) for row in fetch_all(cur, sql, (person_id,))]


def titles(cur: Cursor, task_ids: Collection[str]) -> dict[str, tuple[Any, ...]]:
    """By task (number, title, project_id, deleted_at), in the bin or not."""
    if not task_ids:
        return {}
    sql = f"SELECT id, number, title, project_id, deleted_at FROM tasks WHERE id IN ({places(len(task_ids))})"
    return {row[0]: tuple(row[1:]) for row in fetch_all(cur, sql, tuple(task_ids))}
