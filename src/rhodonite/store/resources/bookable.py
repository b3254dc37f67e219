"""Who can be booked when: capacities of people, their absences, crews and roles."""

from __future__ import annotations

import json
from collections.abc import Collection
from datetime import datetime
from typing import Any

from pymysql.cursors import Cursor

from ...core.resources.bookable import Common, Kept, Resource
from ...core.resources.capacity import Absence
from ..common.database import fetch_all, fetch_one, places


def mark(cur: Cursor) -> str:
    """Is another after every change to who can be booked."""
    row = fetch_one(cur, "SELECT mark FROM bookable")
    return str(row[0]) if row else ""


def mark_anew(cur: Cursor) -> None:
    """Set another mark, which locks all of this until the transaction ends."""
    cur.execute("INSERT INTO bookable (id) VALUES (1) ON DUPLICATE KEY UPDATE mark = UUID()")


def common(cur: Cursor) -> Common:
    """What holds for all."""
    row = fetch_one(cur, "SELECT week, absence_kinds, currency, closed FROM bookable")
    if row is None:
        return Common()
    return Common(json.loads(row[0]) if row[0] else None, tuple(json.loads(row[1])), row[2], tuple(json.loads(row[3])))


def set_common(cur: Cursor, wanted: Common) -> None:
    """Write what holds for all."""
    cur.execute(
        "UPDATE bookable SET week = %s, absence_kinds = %s, currency = %s, closed = %s",
        (
            json.dumps(wanted.week) if wanted.week else None,
            json.dumps(list(wanted.absence_kinds), ensure_ascii=False),
            wanted.currency,
            json.dumps([dict(one) for one in wanted.closed], ensure_ascii=False),
        ),
    )


def capacities(cur: Cursor) -> dict[str, Kept]:
    """By person what was set of their capacity."""
    rows = fetch_all(cur, "SELECT person_id, week, share, first_day, last_day FROM capacities")
    return {row[0]: Kept(json.loads(row[1]) if row[1] else None, *row[2:]) for row in rows}


def set_capacity(cur: Cursor, person_id: str, kept: Kept) -> None:
    """Write the capacity of a person."""
    cur.execute(
        "REPLACE INTO capacities (person_id, week, share, first_day, last_day) VALUES (%s, %s, %s, %s, %s)",
        (person_id, json.dumps(kept.week) if kept.week else None, kept.share, kept.first, kept.last),
    )


_ABSENCE = "id, person_id, kind, start, end, note"


def absences(cur: Cursor) -> list[Absence]:
    """All absences, the earliest first."""
    rows = fetch_all(cur, f"SELECT {_ABSENCE} FROM absences WHERE deleted_at IS NULL ORDER BY start, id")
    return [Absence(*row) for row in rows]


def absence(cur: Cursor, absence_id: str) -> tuple[Absence, bool] | None:
    """One absence, and whether it is still there."""
    row = fetch_one(cur, f"SELECT {_ABSENCE}, deleted_at IS NULL FROM absences WHERE id = %s", (absence_id,))
    return (Absence(*row[:-1]), bool(row[-1])) if row else None


def count_absences(cur: Cursor, person_id: str) -> int:
    """How many absences of a person are kept."""
    row = fetch_one(cur, "SELECT COUNT(*) FROM absences WHERE person_id = %s AND deleted_at IS NULL", (person_id,))
    assert row is not None
    return int(row[0])


def insert_absence(cur: Cursor, one: Absence) -> None:
    """Add an absence."""
    cur.execute(
        f"INSERT INTO absences ({_ABSENCE}) VALUES (%s, %s, %s, %s, %s, %s)",
        (one.id, one.person_id, one.kind, one.start, one.end, one.note),
    )


def update_absence(cur: Cursor, one: Absence, deleted_at: datetime | None = None) -> None:
    """Write an absence anew."""
    cur.execute(
        "UPDATE absences SET kind = %s, start = %s, end = %s, note = %s, deleted_at = %s WHERE id = %s",
        (one.kind, one.start, one.end, one.note, deleted_at, one.id),
    )


def _resource(row: tuple[Any, ...]) -> Resource:
    return Resource(row[0], row[1], row[2], float(row[3]), row[4], row[5])


_RESOURCE = "id, project_id, name, people, kind, unit"


def resources(cur: Cursor) -> list[Resource]:
    """All resources, in order of name."""
    rows = fetch_all(cur, f"SELECT {_RESOURCE} FROM resources WHERE deleted_at IS NULL ORDER BY name, id")
    return [_resource(row) for row in rows]


def resource_names(cur: Cursor) -> dict[str, str]:
    """Names by id, of those that are gone too: what was written of them is read all the same."""
    return {row[0]: row[1] for row in fetch_all(cur, "SELECT id, name FROM resources")}


def resources_by_id(cur: Cursor, ids: Collection[str]) -> dict[str, tuple[Resource, bool]]:
    """Some resources, and whether each is still there."""
    if not ids:
        return {}
    sql = f"SELECT {_RESOURCE}, deleted_at IS NULL FROM resources WHERE id IN ({places(len(ids))})"
    return {row[0]: (_resource(row), bool(row[-1])) for row in fetch_all(cur, sql, tuple(ids))}


def insert_resource(cur: Cursor, one: Resource) -> None:
    """Add a resource."""
    cur.execute(
        f"INSERT INTO resources ({_RESOURCE}) VALUES (%s, %s, %s, %s, %s, %s)",
        (one.id, one.project_id, one.name, one.people, one.kind, one.unit),
    )


def update_resource(cur: Cursor, one: Resource, deleted_at: datetime | None = None) -> None:
    """Write a resource anew."""
    cur.execute(
        "UPDATE resources SET name = %s, people = %s, unit = %s, deleted_at = %s WHERE id = %s",
        (one.name, one.people, one.unit, deleted_at, one.id),
    )
