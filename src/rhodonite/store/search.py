"""Finding by words, in the database's full-text index."""

from __future__ import annotations

import re
from collections.abc import Collection
from typing import Any

from pymysql.cursors import Cursor

from .database import fetch_all, places


def words_query(text: str) -> str:
    """A boolean full-text query: every word, as the beginning of a word. Empty where nothing can be looked up."""
    words = re.findall(r"\w+", text, re.UNICODE)
    return " ".join(f"+{word}*" for word in words if len(word) > 2) or " ".join(f"+{word}*" for word in words)


def find_tasks(cur: Cursor, text: str, project_ids: Collection[str], limit: int) -> list[tuple[Any, ...]]:
    """Living tasks whose title or description has every word, the best first.

    Args:
        project_ids: those that the person may see.

    Returns:
        (id, project_id, number, title, state_id, owner_id, percent, finish, score)
    """
    if not project_ids or not words_query(text):
        return []
    query = words_query(text)
    # A title that begins with the text comes first, then by the index's own score.
    sql = f"""SELECT t.id, t.project_id, t.number, t.title, t.state_id, t.owner_id, t.percent, t.finish,
        MATCH (t.title, t.description) AGAINST (%s IN BOOLEAN MODE)
          + IF(t.title LIKE %s, 100, 0) + IF(t.title LIKE %s, 10, 0) AS score
      FROM tasks t WHERE MATCH (t.title, t.description) AGAINST (%s IN BOOLEAN MODE)
        AND t.deleted_at IS NULL AND t.project_id IN ({places(len(project_ids))})
      ORDER BY score DESC, t.number LIMIT %s"""
    like = text.strip().replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_")
    return fetch_all(cur, sql, (query, f"{like}%", f"%{like}%", query, *project_ids, limit))


def find_task_by_number(cur: Cursor, project_id: str, number: int) -> list[tuple[Any, ...]]:
    """The living task with a number, in the form of ``find_tasks``."""
    return fetch_all(
        cur,
        "SELECT id, project_id, number, title, state_id, owner_id, percent, finish, 1000 FROM tasks"
        " WHERE project_id = %s AND number = %s AND deleted_at IS NULL",
        (project_id, number),
    )
