"""Reading the dispatch tray."""

from __future__ import annotations

from typing import Any

from pymysql.cursors import Cursor

from ...store.common.dispatches import latest_dispatches
from .context import Actor


def read_tray(cur: Cursor, actor: Actor) -> list[tuple[Any, ...]]:
    """The newest messages: (id, channel, recipient, subject, body, sent_at), times in local time.

    They hold invitation links, so only an administrator reads them.
    """
    actor.require("administer")
    return [(*row[:5], actor.clock.local(row[5])) for row in latest_dispatches(cur, 300)]
