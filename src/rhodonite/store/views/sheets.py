"""Sheets: views that people keep under a name."""

from __future__ import annotations

import json
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from pymysql.cursors import Cursor

from ..common.database import fetch_all, fetch_one, places


@dataclass(frozen=True, slots=True)
class Sheet:
    """A view under a name. ``view`` is JSON as the interface keeps it, once ``core.views`` has read it.

    Attributes:
        send_on: the day of the week (0 is Monday) on which what it shows is sent; None: it is not.
        send_to: the people who get it; ``sent``: the day on which they got it last.
    """

    id: str
    project_id: str | None
    person_id: str
    name: str
    place: str
    seen_by: str
    people: tuple[str, ...]
    is_default: bool
    view: dict[str, Any]
    version: int = 1
    deleted_at: datetime | None = None
    send_on: int | None = None
    send_to: tuple[str, ...] = ()
    sent: date | None = None


_COLUMNS = (
    "id, project_id, person_id, name, place, seen_by, people, is_default, view, version, deleted_at, send_on, send_to, sent"
)


def _made(row: tuple[Any, ...]) -> Sheet:
    values = [*row[:6], _named(row[6]), bool(row[7]), json.loads(row[8]), *row[9:12], _named(row[12]), row[13]]
    return Sheet(*values)


def _named(kept: str) -> tuple[str, ...]:
    people = json.loads(kept)
    return tuple(one for one in people if isinstance(one, str)) if isinstance(people, list) else ()


def of_project(cur: Cursor, project_id: str | None) -> list[Sheet]:
    """All sheets of a project, or with None those over all projects."""
    where = "project_id = %s" if project_id else "project_id IS NULL"
    args = (project_id,) if project_id else ()
    return [_made(row) for row in fetch_all(cur, f"SELECT {_COLUMNS} FROM sheets WHERE {where} AND deleted_at IS NULL"
                                                 " ORDER BY place, id", args)]  # fmt: skip


def sheet(cur: Cursor, sheet_id: str, *, lock: bool = False) -> Sheet | None:
    """One sheet, taken away or not.

    Args:
        lock: True where it is about to be changed.
    """
    row = fetch_one(cur, f"SELECT {_COLUMNS} FROM sheets WHERE id = %s{' FOR UPDATE' if lock else ''}", (sheet_id,))
    return _made(row) if row else None


def insert(cur: Cursor, one: Sheet) -> None:
    """Add a sheet."""
    cur.execute(
        f"INSERT INTO sheets ({_COLUMNS}) VALUES ({places(14)})",
        (
            one.id, one.project_id, one.person_id, one.name, one.place, one.seen_by, json.dumps(one.people), one.is_default,
            json.dumps(one.view), one.version, one.deleted_at, one.send_on, json.dumps(one.send_to), one.sent,
        ),
    )  # fmt: skip


def update(cur: Cursor, one: Sheet) -> None:
    """Write a sheet anew; whose it is and where it belongs stays."""
    cur.execute(
        "UPDATE sheets SET name = %s, place = %s, seen_by = %s, people = %s, is_default = %s, view = %s, version = %s,"
        " deleted_at = %s, send_on = %s, send_to = %s, sent = %s WHERE id = %s",
        (
            one.name, one.place, one.seen_by, json.dumps(one.people), one.is_default, json.dumps(one.view), one.version,
            one.deleted_at, one.send_on, json.dumps(one.send_to), one.sent, one.id,
        ),
    )  # fmt: skip


def clear_default(cur: Cursor, project_id: str) -> None:
    """No sheet of a project is its default any more."""
    cur.execute("UPDATE sheets SET is_default = FALSE WHERE project_id = %s AND is_default", (project_id,))


def to_send(cur: Cursor) -> list[Sheet]:
    """The sheets that are sent once a week."""
    sql = f"SELECT {_COLUMNS} FROM sheets WHERE send_on IS NOT NULL AND deleted_at IS NULL ORDER BY id"
    return [_made(row) for row in fetch_all(cur, sql)]


def mark_sent(cur: Cursor, sheet_id: str, day: date) -> bool:
    """Note that what a sheet shows is sent on a day. False where it was already, by another worker."""
    return cur.execute("UPDATE sheets SET sent = %s WHERE id = %s AND (sent IS NULL OR sent < %s)", (day, sheet_id, day)) > 0
