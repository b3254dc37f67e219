"""The dispatch tray stands in for mail: what would be sent is kept, and can be read on a page."""

from __future__ import annotations

from datetime import datetime

from pymysql.cursors import Cursor

from ..store.common.dispatches import insert_dispatch


def send_mail(cur: Cursor, dispatch_id: str, at: datetime, *, to: str, subject: str, body: str) -> None:
    """Put a mail into the tray, in the transaction that causes it."""
    insert_dispatch(cur, dispatch_id, "mail", to, subject, body, at)
