"""Calendars that other programs subscribe to, by a secret in their address."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from pymysql.cursors import Cursor

from ..common.database import fetch_all, fetch_one


@dataclass(frozen=True, slots=True)
class Subscription:
    """Who made it, and of what: a project, or with None all work of that person."""

    id: str
    person_id: str
    project_id: str | None
    at: datetime
    expires_at: datetime
    read_at: datetime | None = None


_SELECT = "SELECT id, person_id, project_id, at, expires_at, read_at FROM subscriptions"


def by_secret(cur: Cursor, secret_hash: str, at: datetime) -> Subscription | None:
    """The subscription with a secret, unless it was withdrawn or has ended."""
    row = fetch_one(cur, f"{_SELECT} WHERE secret_hash = %s AND expires_at > %s", (secret_hash, at))
    return Subscription(*row) if row else None


def of_person(cur: Cursor, person_id: str) -> list[Subscription]:
    """What a person has made, the latest first."""
    return [Subscription(*row) for row in fetch_all(cur, f"{_SELECT} WHERE person_id = %s ORDER BY at DESC", (person_id,))]


def insert(cur: Cursor, one: Subscription, secret_hash: str) -> None:
    """Add a subscription."""
    cur.execute(
        "INSERT INTO subscriptions (id, person_id, project_id, secret_hash, at, expires_at) VALUES (%s, %s, %s, %s, %s, %s)",
        (one.id, one.person_id, one.project_id, secret_hash, one.at, one.expires_at),
    )


def note_read(cur: Cursor, subscription_id: str, at: datetime) -> None:
    """Note that a program has read it."""
    cur.execute("UPDATE subscriptions SET read_at = %s WHERE id = %s", (at, subscription_id))


def delete(cur: Cursor, subscription_id: str) -> None:
    """Withdraw a subscription: its address answers no more."""
    cur.execute("DELETE FROM subscriptions WHERE id = %s", (subscription_id,))
