"""What projects define for their tasks themselves: fields, kinds and marks."""

from __future__ import annotations

import json
from datetime import datetime
from typing import Any

from pymysql.cursors import Cursor

from ...core.tasks.custom_fields import Definition
from ...core.tasks.defining import kept_definition, settings_of
from ..common.database import fetch_all, fetch_one

_SELECT = "SELECT id, sort, name, place, settings FROM definitions"


def of_project(cur: Cursor, project_id: str) -> list[tuple[str, Definition]]:
    """(sort, definition) of all that a project defines, in order."""
    rows = fetch_all(cur, f"{_SELECT} WHERE project_id = %s AND deleted_at IS NULL ORDER BY sort, place, id", (project_id,))
    return [(row[1], _made(row)) for row in rows]


def definition(cur: Cursor, project_id: str, one_id: str) -> tuple[str, Definition] | None:
    """One definition of a project by its id, taken away or not, with its sort."""
    row = fetch_one(cur, f"{_SELECT} WHERE id = %s AND project_id = %s", (one_id, project_id))
    return (row[1], _made(row)) if row else None


def _made(row: tuple[Any, ...]) -> Definition:
    one_id, sort, name, place, settings = row
    return kept_definition(sort, one_id, name, place, json.loads(settings))


def insert(cur: Cursor, project_id: str, sort: str, one: Definition) -> None:
    """Add a definition."""
    cur.execute(
        "INSERT INTO definitions (id, project_id, sort, name, place, settings) VALUES (%s, %s, %s, %s, %s, %s)",
        (one.id, project_id, sort, one.name, one.place, json.dumps(settings_of(one))),
    )


def update(cur: Cursor, one: Definition) -> None:
    """Write a changed definition."""
    cur.execute(
        "UPDATE definitions SET name = %s, place = %s, settings = %s WHERE id = %s",
        (one.name, one.place, json.dumps(settings_of(one)), one.id),
    )


def set_deleted(cur: Cursor, one_id: str, at: datetime | None) -> None:
    """Take a definition away, or put it back."""
    cur.execute("UPDATE definitions SET deleted_at = %s WHERE id = %s", (at, one_id))
