"""Calendars that other programs subscribe to, by a secret in their address."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from pymysql.cursors import Cursor

from .database import fetch_all, fetch_one


@dataclass(frozen=True, slots=True)
class Subscription:
    """Who made it, and of what: a project, or with None all work of that person."""

    id: str
    person_id: str
    project_id: str | None
    at: datetime


_SELECT = "SELECT id, person_id, project_id, at FROM subscriptions"


def by_secret(cur: Cursor, secret_hash: str) -> Subscription | None:
    """The subscription with a secret, unless it was withdrawn."""
    row = fetch_one(cur, f"{_SELECT} WHERE secret_hash = %s", (secret_hash,))
    return Subscription(*row) if row else None


def of_person(cur: Cursor, person_id: str) -> list[Subscription]:
    """What a person has made, the latest first."""
    return [Subscription(*row) for row in fetch_all(cur, f"{_SELECT} WHERE person_id = %s ORDER BY at DESC", (person_id,))]


def insert(cur: Cursor, one: Subscription, secret_hash: str) -> None:
    """Add a subscription."""
    cur.execute(
        "INSERT INTO subscriptions (id, person_id, project_id, secret_hash, at) VALUES (%s, %s, %s, %s, %s)",
        (one.id, one.person_id, one.project_id, secret_hash, one.at),
    )


def delete(cur: Cursor, subscription_id: str) -> None:
    """Withdraw a subscription: its address answers no more."""
    cur.execute("DELETE FROM subscriptions WHERE id = %s", (subscription_id,))
