"""Teams: named groups of people."""

from __future__ import annotations

from collections.abc import Collection

from pymysql.cursors import Cursor

from ...core.people.model import Team
from ..common.database import fetch_all


def all_teams(cur: Cursor) -> list[Team]:
    """All teams with their people, in order of name."""
    people: dict[str, set[str]] = {}
    for team_id, person_id in fetch_all(cur, "SELECT team_id, person_id FROM team_members"):
        people.setdefault(team_id, set()).add(person_id)
    rows = fetch_all(cur, "SELECT id, name FROM teams ORDER BY name, id")
    return [Team(one, name, frozenset(people.get(one, ()))) for one, name in rows]


def lock_teams(cur: Cursor) -> list[Team]:
    """All teams, locked until the transaction ends, so that two of one name cannot be made at once."""
    fetch_all(cur, "SELECT id FROM teams FOR UPDATE")
    return all_teams(cur)


def insert_team(cur: Cursor, team: Team) -> None:
    """Add a team."""
    cur.execute("INSERT INTO teams (id, name) VALUES (%s, %s)", (team.id, team.name))
    _insert_members(cur, team.id, team.people)


def update_team(cur: Cursor, team: Team) -> None:
    """Write a team anew."""
    cur.execute("UPDATE teams SET name = %s WHERE id = %s", (team.name, team.id))
    cur.execute("DELETE FROM team_members WHERE team_id = %s", (team.id,))
    _insert_members(cur, team.id, team.people)


def _insert_members(cur: Cursor, team_id: str, people: Collection[str]) -> None:
    cur.executemany("INSERT INTO team_members (team_id, person_id) VALUES (%s, %s)", [(team_id, one) for one in sorted(people)])


def delete_team(cur: Cursor, team_id: str) -> None:
    """Take a team away."""
    cur.execute("DELETE FROM teams WHERE id = %s", (team_id,))
