"""The dispatch tray stands in for mail: what would be sent is kept, and can be read on a page."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from pymysql.cursors import Cursor

from ..store.common.dispatches import insert_dispatch, insert_file


@dataclass(frozen=True, slots=True)
class MailFile:
    """A file that hangs on a mail."""

    id: str
    name: str
    media: str
    body: bytes


def send_mail(
    cur: Cursor, dispatch_id: str, at: datetime, *, to: str, subject: str, body: str, files: Sequence[MailFile] = ()
) -> None:
    """Put a mail into the tray, in the transaction that causes it."""
    insert_dispatch(cur, dispatch_id, "mail", to, subject, body, at)
    for one in files:
        insert_file(cur, one.id, dispatch_id, one.name, one.media, one.body)
