"""People, their sessions and invitations."""

from __future__ import annotations

import json
from collections.abc import Collection
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from pymysql.cursors import Cursor

from ...core.people.model import Person
from ..common.database import fetch_all, fetch_one, places

_COLUMNS = "p.id, p.name, p.email, p.role, p.title, p.colour, p.active, p.password_hash IS NOT NULL"


def _person(row: tuple[Any, ...]) -> Person:
    return Person(*(*row[:6], bool(row[6]), bool(row[7])))


def all_people(cur: Cursor) -> list[Person]:
    """Everyone, in order of name."""
    return [_person(row) for row in fetch_all(cur, f"SELECT {_COLUMNS} FROM people p ORDER BY p.name, p.id")]


def people_by_age(cur: Cursor) -> list[Person]:
    """Everyone, in the order in which they were added."""
    return [_person(row) for row in fetch_all(cur, f"SELECT {_COLUMNS} FROM people p ORDER BY p.created_at, p.id")]


def person(cur: Cursor, person_id: str) -> Person | None:
    """One person."""
    row = fetch_one(cur, f"SELECT {_COLUMNS} FROM people p WHERE p.id = %s", (person_id,))
    return _person(row) if row else None


def lock_person(cur: Cursor, person_id: str) -> Person | None:
    """One person, locked until the transaction ends."""
    row = fetch_one(cur, f"SELECT {_COLUMNS} FROM people p WHERE p.id = %s FOR UPDATE", (person_id,))
    return _person(row) if row else None


def person_by_email(cur: Cursor, email: str) -> tuple[Person, str | None] | None:
    """The person with an e-mail address, and the hash of their password."""
    row = fetch_one(cur, f"SELECT {_COLUMNS}, p.password_hash FROM people p WHERE p.email = %s", (email,))
    return (_person(row), row[8]) if row else None


def password_hash(cur: Cursor, person_id: str) -> str | None:
    """The hash of a person's password."""
    row = fetch_one(cur, "SELECT password_hash FROM people WHERE id = %s", (person_id,))
    return row[0] if row else None


def preferences(cur: Cursor, person_id: str) -> dict[str, Any]:
    """What a person has set for themselves, as it is kept."""
    row = fetch_one(cur, "SELECT preferences FROM people WHERE id = %s", (person_id,))
    return json.loads(row[0]) if row and row[0] else {}


def preferences_of(cur: Cursor, ids: Collection[str]) -> dict[str, dict[str, Any]]:
    """What several people have set for themselves."""
    if not ids:
        return {}
    rows = fetch_all(cur, f"SELECT id, preferences FROM people WHERE id IN ({places(len(ids))})", tuple(ids))
    return {one: json.loads(kept) for one, kept in rows if kept}


def set_preferences(cur: Cursor, person_id: str, values: dict[str, Any]) -> None:
    """Keep what a person has set for themselves."""
    cur.execute("UPDATE people SET preferences = %s WHERE id = %s", (json.dumps(values), person_id))


def insert_person(cur: Cursor, person: Person, password_hash: str | None, at: datetime) -> None:
    """Add a person."""
    cur.execute(
        "INSERT INTO people (id, name, email, role, title, colour, active, password_hash, created_at)"
        " VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s)",
        (person.id, person.name, person.email, person.role, person.title, person.colour, person.active, password_hash, at),
    )


def update_person(cur: Cursor, person_id: str, fields: dict[str, Any]) -> None:
    """Set columns of a person; the names come from the services, never from a request."""
    assert fields.keys() <= {"name", "role", "title", "active", "password_hash", "colour"}
    sets = ", ".join(f"{name} = %s" for name in fields)
    cur.execute(f"UPDATE people SET {sets} WHERE id = %s", (*fields.values(), person_id))
    if {"role", "active"} & fields.keys():
        access_changed(cur)


def count_administrators(cur: Cursor) -> int:
    """How many active administrators there are, locked so that two cannot leave at once."""
    row = fetch_all(cur, "SELECT id FROM people WHERE role = 'administrator' AND active FOR UPDATE")
    return len(row)


def insert_session(cur: Cursor, token_hash: bytes, person_id: str, at: datetime, until: datetime) -> None:
    """Open a session, and sweep out those that have ended."""
    cur.execute("DELETE FROM sessions WHERE expires_at < %s LIMIT 100", (at,))
    cur.execute(
        "INSERT INTO sessions (token_hash, person_id, created_at, expires_at) VALUES (%s, %s, %s, %s)",
        (token_hash, person_id, at, until),
    )


def session_person(cur: Cursor, token_hash: bytes, at: datetime) -> Person | None:
    """The active person whose session this is."""
    row = fetch_one(
        cur,
        f"SELECT {_COLUMNS} FROM sessions s JOIN people p ON p.id = s.person_id"
        " WHERE s.token_hash = %s AND s.expires_at > %s AND p.active",
        (token_hash, at),
    )
    return _person(row) if row else None


def sessions(cur: Cursor, at: datetime) -> dict[bytes, tuple[str, datetime]]:
    """The sessions that last at a moment: by the hash of their token the person, and until when."""
    sql = "SELECT token_hash, person_id, expires_at FROM sessions WHERE expires_at > %s"
    return {bytes(row[0]): (row[1], row[2]) for row in fetch_all(cur, sql, (at,))}


def delete_session(cur: Cursor, token_hash: bytes) -> None:
    """End one session."""
    cur.execute("DELETE FROM sessions WHERE token_hash = %s", (token_hash,))
    access_changed(cur)


def delete_sessions_of(cur: Cursor, person_id: str, but: bytes = b"") -> None:
    """End all sessions of a person but one."""
    cur.execute("DELETE FROM sessions WHERE person_id = %s AND token_hash <> %s", (person_id, but.ljust(32, b"\0")))
    access_changed(cur)


def insert_attempt(cur: Cursor, email: str, address: str, at: datetime) -> None:
    """Note a sign-in that failed."""
    cur.execute("INSERT INTO sign_in_attempts (email, address, at) VALUES (%s, %s, %s)", (email, address, at))


@dataclass(frozen=True, slots=True)
class Attempts:
    """How many sign-ins failed: for an e-mail from one address, from that address, and for the e-mail from anywhere."""

    both: int
    address: int
    email: int


def count_attempts(cur: Cursor, email: str, address: str, since: datetime) -> Attempts:
    """How many sign-ins failed since a moment."""
    row = fetch_one(
        cur,
        "SELECT (SELECT COUNT(*) FROM sign_in_attempts WHERE email = %s AND address = %s AND at > %s),"
        " (SELECT COUNT(*) FROM sign_in_attempts WHERE address = %s AND at > %s),"
        " (SELECT COUNT(*) FROM sign_in_attempts WHERE email = %s AND at > %s)",
        (email, address, since, address, since, email, since),
    )
    assert row is not None
    return Attempts(*row)


def clear_attempts(cur: Cursor, email: str, address: str, before: datetime) -> None:
    """Forget the failed sign-ins of an e-mail from an address, and old ones of anyone."""
    cur.execute("DELETE FROM sign_in_attempts WHERE email = %s AND address = %s", (email, address))
    cur.execute("DELETE FROM sign_in_attempts WHERE at < %s LIMIT 1000", (before,))


MOST_BROWSERS = 20


def knows_browser(cur: Cursor, token_hash: bytes, person_id: str) -> bool:
    """True where a person has signed in with a browser before."""
    sql = "SELECT 1 FROM known_browsers WHERE token_hash = %s AND person_id = %s"
    return fetch_one(cur, sql, (token_hash, person_id)) is not None


def keep_browser(cur: Cursor, token_hash: bytes, person_id: str, at: datetime) -> None:
    """Remember a browser in which a person has signed in; of many those that were used last."""
    cur.execute(
        "INSERT INTO known_browsers (token_hash, person_id, seen_at) VALUES (%s, %s, %s) ON DUPLICATE KEY UPDATE seen_at = VALUES(seen_at)",
        (token_hash, person_id, at),
    )
    sql = "SELECT token_hash FROM known_browsers WHERE person_id = %s ORDER BY seen_at DESC LIMIT %s, 1000"
    old = [row[0] for row in fetch_all(cur, sql, (person_id, MOST_BROWSERS))]
    if old:
        cur.execute(f"DELETE FROM known_browsers WHERE token_hash IN ({places(len(old))})", tuple(old))


def forget_browsers(cur: Cursor, person_id: str, but: bytes = b"") -> None:
    """Forget the browsers of a person, all but one."""
    cur.execute("DELETE FROM known_browsers WHERE person_id = %s AND token_hash <> %s", (person_id, but.ljust(32, b"\0")))


def access_changed(cur: Cursor) -> None:
    """Note that somebody's access may have ended, so that live streams look again."""
    cur.execute("INSERT INTO access_version (id, version) VALUES (1, 1) ON DUPLICATE KEY UPDATE version = version + 1")


def access_version(cur: Cursor) -> int:
    """How often that was noted."""
    row = fetch_one(cur, "SELECT version FROM access_version WHERE id = 1")
    return int(row[0]) if row else 0


def insert_invitation(cur: Cursor, token_hash: bytes, person_id: str, by: str, at: datetime, until: datetime) -> None:
    """Keep an invitation; earlier ones for the same person end."""
    cur.execute("DELETE FROM invitations WHERE person_id = %s AND accepted_at IS NULL", (person_id,))
    cur.execute(
        "INSERT INTO invitations (token_hash, person_id, invited_by, created_at, expires_at) VALUES (%s, %s, %s, %s, %s)",
        (token_hash, person_id, by, at, until),
    )


def open_invitation(cur: Cursor, token_hash: bytes, at: datetime) -> Person | None:
    """The person that an open invitation is for, locked until the transaction ends."""
    row = fetch_one(
        cur,
        f"SELECT {_COLUMNS} FROM invitations i JOIN people p ON p.id = i.person_id"
        " WHERE i.token_hash = %s AND i.accepted_at IS NULL AND i.expires_at > %s AND p.active FOR UPDATE",
        (token_hash, at),
    )
    return _person(row) if row else None


def accept_invitation(cur: Cursor, token_hash: bytes, at: datetime) -> None:
    """Mark an invitation as used."""
    cur.execute("UPDATE invitations SET accepted_at = %s WHERE token_hash = %s", (at, token_hash))


def organisation(cur: Cursor) -> tuple[str, bool] | None:
    """The name of the organisation, and whether it is the demo."""
    row = fetch_one(cur, "SELECT name, demo FROM organisation WHERE id = 1")
    return (row[0], bool(row[1])) if row else None


def set_organisation(cur: Cursor, name: str, demo: bool, at: datetime) -> None:
    """Name the organisation."""
    cur.execute(
        "INSERT INTO organisation (id, name, demo, created_at) VALUES (1, %s, %s, %s)"
        " ON DUPLICATE KEY UPDATE name = VALUES(name), demo = VALUES(demo)",
        (name, demo, at),
    )


def beat(cur: Cursor, part: str, at: datetime) -> None:
    """Say that a part of the program is alive."""
    cur.execute("INSERT INTO heartbeats (part, at) VALUES (%s, %s) ON DUPLICATE KEY UPDATE at = VALUES(at)", (part, at))


def last_beat(cur: Cursor, part: str) -> datetime | None:
    """When a part last said that it is alive."""
    row = fetch_one(cur, "SELECT at FROM heartbeats WHERE part = %s", (part,))
    return row[0] if row else None


def people_sharing_projects(cur: Cursor, person_id: str) -> set[str]:
    """Everyone who is a member of, or owns a task in, a project that a person is a member of."""
    rows = fetch_all(
        cur,
        "SELECT m.person_id FROM members mine JOIN members m ON m.project_id = mine.project_id WHERE mine.person_id = %s"
        " UNION SELECT t.owner_id FROM members mine JOIN tasks t ON t.project_id = mine.project_id"
        " WHERE mine.person_id = %s AND t.owner_id IS NOT NULL",
        (person_id, person_id),
    )
    return {row[0] for row in rows}
