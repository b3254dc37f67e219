"""Reading the dispatch tray."""

from __future__ import annotations

from typing import Any

from pymysql.cursors import Cursor

from ...core.common.errors import Missing
from ...store.common import dispatches as rows
from .context import Actor


def read_tray(cur: Cursor, actor: Actor) -> list[tuple[Any, ...]]:
    """The newest messages: (id, channel, recipient, subject, body, sent_at, files), times in local time, files by id.

    They hold invitation links, so only an administrator reads them.
    """
    actor.require("administer")
    found = rows.latest_dispatches(cur, 300)
    files: dict[str, dict[str, str]] = {}
    for file_id, dispatch_id, name in rows.files_of(cur, [row[0] for row in found]):
        files.setdefault(dispatch_id, {})[file_id] = name
    return [(*row[:5], actor.clock.local(row[5]), files.get(row[0], {})) for row in found]


def read_file(cur: Cursor, actor: Actor, file_id: str) -> tuple[str, str, bytes]:
    """A file that hangs on a message: its name, media type and bytes. Raises Missing, or Forbidden but for an administrator."""
    actor.require("administer")
    found = rows.file(cur, file_id)
    if found is None:
        raise Missing("file")
    return found[0], found[1], bytes(found[2])
