"""Locks by which uses of the program take turns. They are taken in one order everywhere: the organisation, people, a project,
then rows of it. So no two uses ever wait for each other."""

from __future__ import annotations

from collections.abc import Collection

from pymysql.cursors import Cursor

from .database import fetch_one, transaction_of

ORGANISATION = "00000000-0000-0000-0000-000000000000"


def lock_organisation(cur: Cursor) -> None:
    """Let changes to something of the whole organisation take turns, until the transaction ends."""
    _lock(cur, ORGANISATION)


def lock_people(cur: Cursor, ids: Collection[str]) -> None:
    """Let changes to the hours of some people take turns, until the transaction ends."""
    for one in sorted(set(ids)):
        _lock(cur, one)


def lock_project(cur: Cursor, project_id: str) -> None:
    """Lock a project before anything is decided by what it holds; ``writing`` locks it too, but counts it up."""
    fetch_one(cur, "SELECT id FROM projects WHERE id = %s FOR UPDATE", (project_id,))


def _lock(cur: Cursor, lock_id: str) -> None:
    with transaction_of(cur).opening():
        cur.execute("INSERT INTO locks (id) VALUES (%s) ON DUPLICATE KEY UPDATE id = VALUES(id)", (lock_id,))
