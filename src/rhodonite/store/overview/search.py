"""Finding by words, in the database's full-text index."""

from __future__ import annotations

import re
from collections.abc import Collection
from typing import Any

from pymysql.cursors import Cursor

from ..common.database import fetch_all, places


def words_query(text: str) -> str:
    """A boolean full-text query: every word, as the beginning of a word. Empty where nothing can be looked up."""
    words = re.findall(r"\w+", text, re.UNICODE)
    return " ".join(f"+{word}*" for word in words if len(word) > 2) or " ".join(f"+{word}*" for word in words)


MOST_RANKED = 2_000
_FOUND = "t.id, t.project_id, t.number, t.title, t.state_id, t.owner_id, t.percent, t.finish"


def find_tasks(cur: Cursor, text: str, project_ids: Collection[str], limit: int) -> list[tuple[Any, ...]]:
    """Living tasks that have every word in their title, or else in one of the texts that hang on them, the best first.

    Args:
        project_ids: those that the person may see.

    Returns:
        (id, project_id, number, title, state_id, owner_id, percent, finish, source, words): where it was found, and the
        text there; both None for the title.
    """
    query = words_query(text)
    if not project_ids or not query:
        return []
    # A title that begins with the text comes first, then by the index's own score. A word that stands everywhere tells
    # little: of more than MOST_RANKED titles only so many are held against each other.
    by_title = f"""SELECT {_FOUND}, NULL, NULL FROM (
        SELECT id, MATCH (title) AGAINST (%s IN BOOLEAN MODE) AS score FROM tasks
        WHERE MATCH (title) AGAINST (%s IN BOOLEAN MODE) AND deleted_at IS NULL AND project_id IN ({places(len(project_ids))})
        LIMIT %s) c
      JOIN tasks t ON t.id = c.id
      ORDER BY c.score + IF(t.title LIKE %s, 100, 0) + IF(t.title LIKE %s, 10, 0) DESC, t.number LIMIT %s"""
    like = text.strip().replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_")
    found = fetch_all(cur, by_title, (query, query, *project_ids, MOST_RANKED, f"{like}%", f"%{like}%", limit))
    if len(found) < limit:
        known = {row[0] for row in found}
        found += [row for row in _by_words(cur, query, project_ids, limit) if row[0] not in known][: limit - len(found)]
    return found


def _by_words(cur: Cursor, query: str, project_ids: Collection[str], limit: int) -> list[tuple[Any, ...]]:
    sql = f"""SELECT {_FOUND}, w.source, w.words FROM (
        SELECT task_id, source, words, MATCH (words) AGAINST (%s IN BOOLEAN MODE) AS score FROM task_words
        WHERE MATCH (words) AGAINST (%s IN BOOLEAN MODE) AND project_id IN ({places(len(project_ids))})
        ORDER BY score DESC LIMIT %s) w
      JOIN tasks t ON t.id = w.task_id AND t.deleted_at IS NULL ORDER BY w.score DESC, t.number"""
    rows = fetch_all(cur, sql, (query, query, *project_ids, limit * 4))
    return list({row[0]: row for row in reversed(rows)}.values())[::-1]


def find_task_by_number(cur: Cursor, project_id: str, number: int) -> list[tuple[Any, ...]]:
    """The living task with a number, in the form of ``find_tasks``."""
    return fetch_all(
        cur,
        f"SELECT {_FOUND}, NULL, NULL FROM tasks t WHERE project_id = %s AND number = %s AND deleted_at IS NULL",
        (project_id, number),
    )
