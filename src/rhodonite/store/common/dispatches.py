"""The dispatch tray: everything that was sent, kept where it can be read."""

from __future__ import annotations

from collections.abc import Collection
from datetime import datetime
from typing import Any

from pymysql.cursors import Cursor

from .database import fetch_all, fetch_one, places


def insert_dispatch(cur: Cursor, dispatch_id: str, channel: str, recipient: str, subject: str, body: str, at: datetime) -> None:
    """Keep one message."""
    cur.execute(
        "INSERT INTO dispatches (id, channel, recipient, subject, body, sent_at) VALUES (%s, %s, %s, %s, %s, %s)",
        (dispatch_id, channel, recipient, subject, body, at),
    )


def insert_file(cur: Cursor, file_id: str, dispatch_id: str, name: str, media: str, body: bytes) -> None:
    """Hang a file on a message."""
    cur.execute(
        "INSERT INTO dispatch_files (id, dispatch_id, name, media, body) VALUES (%s, %s, %s, %s, %s)",
        (file_id, dispatch_id, name, media, body),
    )


def files_of(cur: Cursor, dispatch_ids: Collection[str]) -> list[tuple[Any, ...]]:
    """What hangs on some messages: (id, message, name)."""
    if not dispatch_ids:
        return []
    sql = f"SELECT id, dispatch_id, name FROM dispatch_files WHERE dispatch_id IN ({places(len(dispatch_ids))}) ORDER BY name"
    return fetch_all(cur, sql, tuple(dispatch_ids))


def file(cur: Cursor, file_id: str) -> tuple[Any, ...] | None:
    """A file that hangs on a message: (name, media, body)."""
    return fetch_one(cur, "SELECT name, media, body FROM dispatch_files WHERE id = %s", (file_id,))


def latest_dispatches(cur: Cursor, limit: int) -> list[tuple[Any, ...]]:
    """The newest messages: (id, channel, recipient, subject, body, sent_at)."""
    return fetch_all(
        cur,
        "SELECT id, channel, recipient, subject, body, sent_at FROM dispatches ORDER BY sent_at DESC, id DESC LIMIT %s",
        (limit,),
    )
