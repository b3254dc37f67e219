"""Which tasks are tied to which tasks of other projects."""

from __future__ import annotations

from collections.abc import Collection, Iterable

from pymysql.cursors import Cursor

from ..common.database import fetch_all, places

Tie = tuple[str, str, str, str, str]
"""The task that is tied, the field, the task that it is tied to, and the projects of both tasks."""


def set_ties(cur: Cursor, item_ids: Collection[str], ties: Iterable[Tie]) -> None:
    """Write anew what some tasks are tied to."""
    if item_ids:
        cur.execute(f"DELETE FROM ties WHERE item_id IN ({places(len(item_ids))})", tuple(item_ids))
    rows = list(ties)
    if rows:
        cur.executemany(
            "INSERT INTO ties (item_id, field_id, task_id, item_project, task_project) VALUES (%s, %s, %s, %s, %s)", rows
        )


def ties_to(cur: Cursor, project_id: str) -> list[Tie]:
    """What is tied to tasks of a project."""
    sql = "SELECT item_id, field_id, task_id, item_project, task_project FROM ties WHERE task_project = %s"
    return [tuple(row) for row in fetch_all(cur, sql, (project_id,))]


def projects_of_tasks(cur: Cursor, task_ids: Collection[str]) -> dict[str, str]:
    """By task its project, of those that are there."""
    if not task_ids:
        return {}
    sql = f"SELECT id, project_id FROM tasks WHERE deleted_at IS NULL AND id IN ({places(len(task_ids))})"
    return {row[0]: row[1] for row in fetch_all(cur, sql, tuple(task_ids))}
