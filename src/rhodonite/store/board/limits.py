"""When limits of the board were passed."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from datetime import datetime

from pymysql.cursors import Cursor

from ..common.database import fetch_all, places


@dataclass(frozen=True, slots=True)
class Spell:
    """A time beyond a limit. Instants are UTC.

    Attributes:
        until: None while it lasts.
        most: the most that stood there; ``at_most``: the limit then.
        reason: why it was passed; ``person_id``: who said so.
    """

    id: str
    place: str
    since: datetime
    until: datetime | None
    most: int
    at_most: int
    reason: str = ""
    person_id: str | None = None


_SELECT = "SELECT id, place, since, until, most, at_most, reason, person_id FROM limit_spells"


def open_spells(cur: Cursor, project_id: str) -> dict[str, Spell]:
    """By place those that last."""
    rows = fetch_all(cur, f"{_SELECT} WHERE project_id = %s AND until IS NULL", (project_id,))
    return {row[1]: Spell(*row) for row in rows}


def spells_since(cur: Cursor, project_id: str, since: datetime, most: int) -> list[Spell]:
    """Those that lasted at some time since a moment, the latest first."""
    sql = f"{_SELECT} WHERE project_id = %s AND (until IS NULL OR until > %s) ORDER BY since DESC, id LIMIT %s"
    return [Spell(*row) for row in fetch_all(cur, sql, (project_id, since, most))]


def insert_spells(cur: Cursor, project_id: str, spells: Collection[Spell]) -> None:
    """Note that limits were passed."""
    cur.executemany(
        "INSERT INTO limit_spells (id, project_id, place, since, until, most, at_most, reason, person_id)"
        " VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s)",
        [(s.id, project_id, s.place, s.since, s.until, s.most, s.at_most, s.reason, s.person_id) for s in spells],
    )


def grow_spell(cur: Cursor, spell: Spell) -> None:
    """Write the most that stands beyond a limit, and why."""
    cur.execute(
        "UPDATE limit_spells SET most = %s, at_most = %s, reason = %s, person_id = %s WHERE id = %s",
        (spell.most, spell.at_most, spell.reason, spell.person_id, spell.id),
    )


def end_spells(cur: Cursor, ids: Collection[str], at: datetime) -> None:
    """Note that no more stands there than may."""
    if ids:
        cur.execute(f"UPDATE limit_spells SET until = %s WHERE id IN ({places(len(ids))})", (at, *ids))
