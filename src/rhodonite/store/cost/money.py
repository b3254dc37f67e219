"""Budgets of projects and deliverables, and expenses."""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection, Iterable
from datetime import datetime
from decimal import Decimal
from typing import Any

from pymysql.cursors import Cursor

from ...core.cost.costs import Expense
from ..common.database import fetch_all, places


def budgets(cur: Cursor, project_id: str) -> dict[str, Decimal]:
    """By the id of the project or of a task what it may cost."""
    rows = fetch_all(cur, "SELECT subject_id, amount FROM budgets WHERE project_id = %s", (project_id,))
    return {row[0]: row[1].normalize() for row in rows}


def set_budget(cur: Cursor, project_id: str, subject_id: str, amount: Decimal | None) -> None:
    """Write what a project or a task may cost; None: nothing is said of it any more."""
    if amount is None:
        cur.execute("DELETE FROM budgets WHERE subject_id = %s", (subject_id,))
    else:
        cur.execute("REPLACE INTO budgets (subject_id, project_id, amount) VALUES (%s, %s, %s)", (subject_id, project_id, amount))


_EXPENSE = "id, project_id, task_id, resource_id, day, units, amount, note, person_id, revision"


def _expense(row: tuple[Any, ...]) -> Expense:
    return Expense(row[0], row[1], row[2], row[3], row[4], row[5], row[6], row[7], row[8], row[9])


def expenses(cur: Cursor, project_id: str, task_ids: Collection[str] | None = None) -> list[Expense]:
    """The expenses of a project, or on some of its tasks, the latest first."""
    if task_ids is not None and not task_ids:
        return []
    some = f" AND task_id IN ({places(len(task_ids))})" if task_ids is not None else ""
    sql = f"SELECT {_EXPENSE} FROM expenses WHERE project_id = %s AND deleted_at IS NULL{some} ORDER BY day DESC, id DESC"
    return [_expense(row) for row in fetch_all(cur, sql, (project_id, *(task_ids or ())))]


def expenses_by_id(cur: Cursor, ids: Collection[str]) -> dict[str, tuple[Expense, bool]]:
    """Some expenses, and whether each is still there."""
    if not ids:
        return {}
    sql = f"SELECT {_EXPENSE}, deleted_at IS NULL FROM expenses WHERE id IN ({places(len(ids))})"
    return {row[0]: (_expense(row), bool(row[-1])) for row in fetch_all(cur, sql, tuple(ids))}


def counts_on(cur: Cursor, task_ids: Collection[str]) -> Counter[str]:
    """How many expenses some tasks have."""
    if not task_ids:
        return Counter()
    sql = f"SELECT task_id, COUNT(*) FROM expenses WHERE task_id IN ({places(len(task_ids))}) AND deleted_at IS NULL GROUP BY task_id"
    return Counter(dict(fetch_all(cur, sql, tuple(task_ids))))


def insert_expenses(cur: Cursor, new: Collection[Expense], revision: int) -> None:
    """Write expenses."""
    rows = [(e.id, e.project_id, e.task_id, e.resource_id, e.day, e.units, e.amount, e.note, e.person_id, revision) for e in new]
    cur.executemany(f"INSERT INTO expenses ({_EXPENSE}) VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s)", rows)


def update_expenses(cur: Cursor, several: Iterable[Expense], revision: int, deleted_at: datetime | None = None) -> None:
    """Write expenses anew; on what it was spent, and by whom it was entered, stays."""
    cur.executemany(
        "UPDATE expenses SET project_id = %s, task_id = %s, day = %s, units = %s, amount = %s, note = %s, revision = %s,"
        " deleted_at = %s WHERE id = %s",
        [(e.project_id, e.task_id, e.day, e.units, e.amount, e.note, revision, deleted_at, e.id) for e in several],
    )


def touch(cur: Cursor, task_ids: Collection[str], revision: int) -> None:
    """Mark tasks as changed."""
    if task_ids:
        cur.execute(f"UPDATE tasks SET revision = %s WHERE id IN ({places(len(task_ids))})", (revision, *task_ids))


def expenses_on(cur: Cursor, task_ids: Collection[str]) -> list[Expense]:
    """All expenses on some tasks."""
    if not task_ids:
        return []
    sql = f"SELECT {_EXPENSE} FROM expenses WHERE task_id IN ({places(len(task_ids))}) AND deleted_at IS NULL"
    return [_expense(row) for row in fetch_all(cur, sql, tuple(task_ids))]
