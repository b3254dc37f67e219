"""What portfolios join."""

from __future__ import annotations

import json
from datetime import datetime
from typing import Any

from pymysql.cursors import Cursor

from ...core.portfolio.parts import Part
from ..common.database import fetch_all, fetch_one, places

_SELECT = "SELECT id, portfolio_id, part_id, place, shows, states FROM portfolio_parts"


def _part(row: tuple[Any, ...]) -> Part:
    return Part(row[0], row[1], row[2], row[3], row[4], json.loads(row[5]))


def lock_parts(cur: Cursor) -> dict[str, list[Part]]:
    """By portfolio its parts; all portfolios are locked until the transaction ends, so that no two join each other at once."""
    ids = [row[0] for row in fetch_all(cur, "SELECT id FROM projects WHERE portfolio ORDER BY id")]
    if ids:
        fetch_all(cur, f"SELECT id FROM projects WHERE id IN ({places(len(ids))}) ORDER BY id FOR UPDATE", tuple(ids))
    return every_part(cur)


def every_part(cur: Cursor) -> dict[str, list[Part]]:
    """By portfolio its parts, in their order: few in an installation."""
    found: dict[str, list[Part]] = {}
    for row in fetch_all(cur, f"{_SELECT} WHERE deleted_at IS NULL ORDER BY portfolio_id, place, id"):
        found.setdefault(row[1], []).append(_part(row))
    return found


def parts_of(cur: Cursor, portfolio_id: str) -> list[Part]:
    """The parts of one portfolio, in their order."""
    return [
        _part(row)
        for row in fetch_all(cur, f"{_SELECT} WHERE portfolio_id = %s AND deleted_at IS NULL ORDER BY place, id", (portfolio_id,))
    ]


def part(cur: Cursor, portfolio_id: str, part_id: str) -> Part | None:
    """A part by its id, taken away or not."""
    row = fetch_one(cur, f"{_SELECT} WHERE id = %s AND portfolio_id = %s", (part_id, portfolio_id))
    return _part(row) if row else None


def insert(cur: Cursor, one: Part) -> None:
    """Join a part."""
    cur.execute(
        "INSERT INTO portfolio_parts (id, portfolio_id, part_id, place, shows, states) VALUES (%s, %s, %s, %s, %s, %s)",
        (one.id, one.portfolio_id, one.part_id, one.place, one.shows, json.dumps(dict(one.states))),
    )


def update(cur: Cursor, one: Part) -> None:
    """Write what is shown of a part."""
    cur.execute(
        "UPDATE portfolio_parts SET place = %s, shows = %s, states = %s WHERE id = %s",
        (one.place, one.shows, json.dumps(dict(one.states)), one.id),
    )


def set_deleted(cur: Cursor, one_id: str, at: datetime | None) -> None:
    """Take a part out, or with None bring it back."""
    cur.execute("UPDATE portfolio_parts SET deleted_at = %s WHERE id = %s", (at, one_id))
