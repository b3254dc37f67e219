"""Sheets: views that people keep under a name."""

from __future__ import annotations

import json
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from pymysql.cursors import Cursor

from ..common.database import fetch_all, fetch_one


@dataclass(frozen=True, slots=True)
class Sheet:
    """A view under a name. ``view`` is JSON as the interface keeps it, once ``core.views`` has read it."""

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


_COLUMNS = "id, project_id, person_id, name, place, seen_by, people, is_default, view, version, deleted_at"


def _made(row: tuple[Any, ...]) -> Sheet:
    people = json.loads(row[6])
    named = tuple(one for one in people if isinstance(one, str)) if isinstance(people, list) else ()
    return Sheet(*(*row[:6], named, bool(row[7]), json.loads(row[8]), *row[9:]))


def of_project(cur: Cursor, project_id: str | None) -> list[Sheet]:
    """All sheets of a project, or with None those over all projects."""
    where = "project_id = %s" if project_id else "project_id IS NULL"
    args = (project_id,) if project_id else ()
    return [_made(row) for row in fetch_all(cur, f"SELECT {_COLUMNS} FROM sheets WHERE {where} AND deleted_at IS NULL"
                                                 " ORDER BY place, id", args)]  # fmt: skip


def sheet(cur: Cursor, sheet_id: str) -> Sheet | None:
    """One sheet, taken away or not."""
    row = fetch_one(cur, f"SELECT {_COLUMNS} FROM sheets WHERE id = %s", (sheet_id,))
    return _made(row) if row else None


def insert(cur: Cursor, one: Sheet) -> None:
    """Add a sheet."""
    cur.execute(
        f"INSERT INTO sheets ({_COLUMNS}) VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s)",
        (
            one.id, one.project_id, one.person_id, one.name, one.place, one.seen_by, json.dumps(one.people), one.is_default,
            json.dumps(one.view), one.version, one.deleted_at,
        ),
    )  # fmt: skip


def update(cur: Cursor, one: Sheet) -> None:
    """Write a sheet anew; whose it is and where it belongs stays."""
    cur.execute(
        "UPDATE sheets SET name = %s, place = %s, seen_by = %s, people = %s, is_default = %s, view = %s, version = %s,"
        " deleted_at = %s WHERE id = %s",
        (
            one.name, one.place, one.seen_by, json.dumps(one.people), one.is_default, json.dumps(one.view), one.version,
            one.deleted_at, one.id,
        ),
    )  # fmt: skip


def clear_default(cur: Cursor, project_id: str) -> None:
    """No sheet of a project is its default any more."""
    cur.execute("UPDATE sheets SET is_default = FALSE WHERE project_id = %s AND is_default", (project_id,))
