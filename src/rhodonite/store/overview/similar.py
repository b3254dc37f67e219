"""Finished tasks whose titles share words with another."""

from __future__ import annotations

import json
from collections.abc import Collection
from typing import Any

from pymysql.cursors import Cursor

from ..common.database import fetch_all, places


def finished_like(cur: Cursor, words: Collection[str], project_ids: Collection[str], limit: int) -> list[tuple[Any, ...]]:
    """Finished tasks with any of some words, the best first.

    Returns:
        (id, project_id, number, title, kind, actual_start, actual_finish, effort, own, spent)
    """
    if not words or not project_ids:
        return []
    query = " ".join(f"{word}*" for word in words)
    sql = f"""SELECT t.id, t.project_id, t.number, t.title, t.kind, t.actual_start, t.actual_finish, t.effort, t.own, t.spent
      FROM tasks t JOIN states s ON s.id = t.state_id AND s.state_class = 'finished'
      WHERE MATCH (t.title) AGAINST (%s IN BOOLEAN MODE) AND t.deleted_at IS NULL
        AND t.project_id IN ({places(len(project_ids))})
      ORDER BY MATCH (t.title) AGAINST (%s IN BOOLEAN MODE) DESC, t.actual_finish DESC LIMIT %s"""
    rows = fetch_all(cur, sql, (query, *project_ids, query, limit))
    return [(*row[:8], json.loads(row[8]), row[9]) for row in rows]


def below(cur: Cursor, task_ids: Collection[str]) -> list[tuple[str, str]]:
    """(task, title) of the living tasks right below some."""
    if not task_ids:
        return []
    sql = f"SELECT parent_id, title FROM tasks WHERE parent_id IN ({places(len(task_ids))}) AND deleted_at IS NULL ORDER BY place"
    return [(row[0], row[1]) for row in fetch_all(cur, sql, tuple(task_ids))]


def ticked(cur: Cursor, task_ids: Collection[str]) -> list[tuple[str, str]]:
    """(task, text) of what stands in the checklists of some tasks."""
    if not task_ids:
        return []
    sql = f"SELECT task_id, text FROM checks WHERE task_id IN ({places(len(task_ids))}) AND deleted_at IS NULL ORDER BY place"
    return [(row[0], row[1]) for row in fetch_all(cur, sql, tuple(task_ids))]
