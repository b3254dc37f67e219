"""The dispatch tray: everything that was sent, kept where it can be read."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from pymysql.cursors import Cursor

from .database import fetch_all


def insert_dispatch(cur: Cursor, dispatch_id: str, channel: str, recipient: str, subject: str, body: str, at: datetime) -> None:
    """Keep one message."""
    cur.execute(
        "INSERT INTO dispatches (id, channel, recipient, subject, body, sent_at) VALUES (%s, %s, %s, %s, %s, %s)",
        (dispatch_id, channel, recipient, subject, body, at),
    )


def latest_dispatches(cur: Cursor, limit: int) -> list[tuple[Any, ...]]:
    """The newest messages: (id, channel, recipient, subject, body, sent_at)."""
    return fetch_all(
        cur,
        "SELECT id, channel, recipient, subject, body, sent_at FROM dispatches ORDER BY sent_at DESC, id DESC LIMIT %s",
        (limit,),
    )
