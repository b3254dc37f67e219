"""What hangs on a task: comments, files, checklists and relations. One shape of table, so one set of statements."""

from __future__ import annotations

import json
from collections.abc import Collection, Iterable, Iterator, Mapping
from dataclasses import fields
from datetime import datetime
from typing import Any, TypeVar

from pymysql.cursors import Cursor

from ...core.talk.parts import Check, Checklist, Comment, File, Part, PartKind, Relation
from ..common.database import fetch_all, fetch_one, places

Kind = TypeVar("Kind", Comment, File, Checklist, Check, Relation)

_TABLES: dict[type[Part], str] = {
    Comment: "comments",
    File: "files",
    Checklist: "checklists",
    Check: "checks",
    Relation: "relations",
}
KINDS: dict[PartKind, type[Part]] = {
    "comment": Comment,
    "file": File,
    "checklist": Checklist,
    "check": Check,
    "relation": Relation,
}
NAMES: dict[type[Part], PartKind] = {made: name for name, made in KINDS.items()}
_ORDER = {"comments": "at, id", "files": "at, id", "checklists": "place, id", "checks": "place, id", "relations": "id"}


def _columns(kind: type[Part]) -> list[str]:
    return [one.name for one in fields(kind)]


def _select(kind: type[Part]) -> str:
    return f"SELECT {', '.join(_columns(kind))} FROM {_TABLES[kind]}"


def _made(kind: type[Kind], row: tuple[Any, ...]) -> Kind:
    values = dict(zip(_columns(kind), row, strict=True))
    if "reactions" in values:
        values["reactions"] = json.loads(values["reactions"])
    if "inline" in values:
        values["inline"] = bool(values["inline"])
    return kind(**values)


def of_task(cur: Cursor, kind: type[Kind], task_id: str) -> list[Kind]:
    """The parts of one kind that hang on a task, in their order."""
    table = _TABLES[kind]
    rows = fetch_all(cur, f"{_select(kind)} WHERE task_id = %s AND deleted_at IS NULL ORDER BY {_ORDER[table]}", (task_id,))
    return [_made(kind, row) for row in rows]


def of_tasks(cur: Cursor, kind: type[Kind], task_ids: Collection[str]) -> list[Kind]:
    """The parts of one kind that hang on some tasks, in their order."""
    if not task_ids:
        return []
    sql = f"{_select(kind)} WHERE task_id IN ({places(len(task_ids))}) AND deleted_at IS NULL ORDER BY {_ORDER[_TABLES[kind]]}"
    return [_made(kind, row) for row in fetch_all(cur, sql, tuple(task_ids))]


def first_pictures(cur: Cursor, project_id: str) -> dict[str, str]:
    """By task the picture that was attached to it first."""
    sql = """SELECT f.task_id, f.id FROM files f JOIN tasks t ON t.id = f.task_id
      WHERE t.project_id = %s AND t.files > 0 AND t.deleted_at IS NULL AND f.deleted_at IS NULL AND NOT f.inline
        AND f.media_type IN ('image/png', 'image/jpeg', 'image/gif', 'image/webp') ORDER BY f.at DESC, f.id DESC"""
    return {row[0]: row[1] for row in fetch_all(cur, sql, (project_id,))}  # the earliest comes last, and stays


def part(cur: Cursor, kind: type[Kind], part_id: str) -> Kind | None:
    """One part by its id, taken away or not."""
    row = fetch_one(cur, f"{_select(kind)} WHERE id = %s", (part_id,))
    return _made(kind, row) if row else None


def relations_to(cur: Cursor, task_id: str) -> list[Relation]:
    """The relations that other tasks have to one."""
    rows = fetch_all(cur, f"{_select(Relation)} WHERE to_id = %s AND deleted_at IS NULL ORDER BY id", (task_id,))
    return [_made(Relation, row) for row in rows]


def insert(cur: Cursor, parts: Iterable[Part]) -> None:
    """Add parts, all of one kind."""
    parts = list(parts)
    if not parts:
        return
    names = _columns(type(parts[0]))
    cur.executemany(
        f"INSERT INTO {_TABLES[type(parts[0])]} ({', '.join(names)}) VALUES ({places(len(names))})",
        [tuple(_plain(name, getattr(one, name)) for name in names) for one in parts],
    )


def update(cur: Cursor, kind: type[Part], part_id: str, changes: Mapping[str, Any]) -> None:
    """Set columns of a part; the names come from the services, never from a request."""
    assert changes.keys() <= set(_columns(kind)) - {"id"}
    sets = ", ".join(f"{name} = %s" for name in changes)
    values = [_plain(name, value) for name, value in changes.items()]
    cur.execute(f"UPDATE {_TABLES[kind]} SET {sets} WHERE id = %s", (*values, part_id))


def _plain(name: str, value: Any) -> Any:
    return json.dumps(value) if name == "reactions" else value


def ids_of_kind(cur: Cursor, kind: type[Part], task_id: str) -> list[str]:
    """The ids of the parts of one kind that hang on a task."""
    rows = fetch_all(cur, f"SELECT id FROM {_TABLES[kind]} WHERE task_id = %s AND deleted_at IS NULL", (task_id,))
    return [row[0] for row in rows]


def ids_of(cur: Cursor, task_id: str) -> list[str]:
    """The ids of everything that hangs on a task, what was taken away included."""
    sql = " UNION ALL ".join(f"SELECT id FROM {table} WHERE task_id = %s" for table in _TABLES.values())
    return [row[0] for row in fetch_all(cur, sql, (task_id,) * len(_TABLES))]


def tasks_of(cur: Cursor, ids: Mapping[PartKind, Collection[str]]) -> dict[str, str]:
    """The task that each part hangs on, by the part's id."""
    found: dict[str, str] = {}
    for name, some in ids.items():
        if some:
            sql = f"SELECT id, task_id FROM {_TABLES[KINDS[name]]} WHERE id IN ({places(len(some))})"
            found.update(fetch_all(cur, sql, tuple(some)))
    return found


def recount(cur: Cursor, task_ids: Collection[str], revision: int) -> None:
    """Count anew what hangs on tasks, and mark them as changed."""
    if not task_ids:
        return
    cur.execute(
        f"""UPDATE tasks t SET t.revision = %s,
          t.comments = (SELECT COUNT(*) FROM comments c WHERE c.task_id = t.id AND c.deleted_at IS NULL),
          t.files = (SELECT COUNT(*) FROM files f WHERE f.task_id = t.id AND f.deleted_at IS NULL AND NOT f.inline),
          t.checks = (SELECT COUNT(*) FROM checks i JOIN checklists l ON l.id = i.checklist_id AND l.deleted_at IS NULL
            WHERE i.task_id = t.id AND i.deleted_at IS NULL),
          t.checks_done = (SELECT COUNT(*) FROM checks i JOIN checklists l ON l.id = i.checklist_id AND l.deleted_at IS NULL
            WHERE i.task_id = t.id AND i.deleted_at IS NULL AND i.done_at IS NOT NULL)
          WHERE t.id IN ({places(len(task_ids))})""",
        (revision, *task_ids),
    )


PIECE = 1 << 20


def write_pieces(cur: Cursor, file_id: str, data: bytes) -> None:
    """Keep the bytes of a file."""
    for position in range(0, len(data), PIECE):
        cur.execute(
            "INSERT INTO file_pieces (file_id, position, piece) VALUES (%s, %s, %s)",
            (file_id, position // PIECE, data[position : position + PIECE]),
        )


def read_pieces(cur: Cursor, file_id: str) -> Iterator[bytes]:
    """The bytes of a file, piece by piece."""
    for (piece,) in fetch_all(cur, "SELECT piece FROM file_pieces WHERE file_id = %s ORDER BY position", (file_id,)):
        yield piece


def copy_pieces(cur: Cursor, copies: Mapping[str, str]) -> None:
    """Keep the bytes of files for copies of them as well: by file the copy."""
    if not copies:
        return
    cur.execute(
        "INSERT INTO file_pieces (file_id, position, piece)"
        " SELECT CAST(m.copy_id AS UUID), p.position, p.piece FROM file_pieces p"
        " JOIN JSON_TABLE(%s, '$[*]' COLUMNS (id CHAR(36) PATH '$[0]', copy_id CHAR(36) PATH '$[1]')) m"
        " ON p.file_id = CAST(m.id AS UUID)",
        (json.dumps(list(copies.items())),),
    )


def write_words(cur: Cursor, subject_id: str, task_id: str, project_id: str, source: str, words: str) -> None:
    """Keep words for the search; empty ones take them away."""
    write_many_words(cur, [(subject_id, task_id, project_id, source, words)])


def write_many_words(cur: Cursor, rows: Collection[tuple[str, str, str, str, str]]) -> None:
    """The same for several: (subject, task, project, source, words)."""
    empty = [row[0] for row in rows if not row[4]]
    filled = [(*row[:4], row[4][:LONGEST_WORDS]) for row in rows if row[4]]
    if empty:
        cur.execute(f"DELETE FROM task_words WHERE subject_id IN ({places(len(empty))})", tuple(empty))
    if filled:
        cur.executemany(
            "INSERT INTO task_words (subject_id, task_id, project_id, source, words) VALUES (%s, %s, %s, %s, %s)"
            " ON DUPLICATE KEY UPDATE task_id = VALUES(task_id), project_id = VALUES(project_id), words = VALUES(words)",
            filled,
        )


LONGEST_WORDS = 500_000


def templates(cur: Cursor, project_id: str) -> list[tuple[str, str, list[str]]]:
    """The checklists that a project keeps for loading: (id, name, items)."""
    sql = "SELECT id, name, items FROM checklist_templates WHERE project_id = %s ORDER BY name, id"
    return [(one, name, json.loads(items)) for one, name, items in fetch_all(cur, sql, (project_id,))]


def insert_template(cur: Cursor, template_id: str, project_id: str, name: str, items: list[str]) -> None:
    """Keep a checklist for loading."""
    cur.execute(
        "INSERT INTO checklist_templates (id, project_id, name, items) VALUES (%s, %s, %s, %s)",
        (template_id, project_id, name, json.dumps(items)),
    )


def delete_template(cur: Cursor, template_id: str) -> None:
    """Keep a checklist for loading no longer."""
    cur.execute("DELETE FROM checklist_templates WHERE id = %s", (template_id,))


def concerned(cur: Cursor, task_ids: Collection[str]) -> list[tuple[str, str, str | None]]:
    """(task, person, None) of everybody who has said something, and (task, person, how) of what people said of following."""
    if not task_ids:
        return []
    some = places(len(task_ids))
    sql = f"""SELECT DISTINCT task_id, person_id, NULL FROM comments WHERE task_id IN ({some}) AND deleted_at IS NULL
      UNION ALL SELECT task_id, person_id, how FROM followers WHERE task_id IN ({some})"""
    return [(row[0], row[1], row[2]) for row in fetch_all(cur, sql, (*task_ids, *task_ids))]


def followings(cur: Cursor, task_ids: Collection[str]) -> list[tuple[str, str, str]]:
    """(task, person, how) of what people said of following themselves."""
    if not task_ids:
        return []
    sql = f"SELECT task_id, person_id, how FROM followers WHERE task_id IN ({places(len(task_ids))})"
    return [(row[0], row[1], row[2]) for row in fetch_all(cur, sql, tuple(task_ids))]


def insert_followings(cur: Cursor, rows: Collection[tuple[str, str, str]]) -> None:
    """Keep what people said of following tasks: (task, person, how)."""
    if rows:
        cur.executemany("INSERT INTO followers (task_id, person_id, how) VALUES (%s, %s, %s)", list(rows))


def set_following(cur: Cursor, task_id: str, person_id: str, how: str | None) -> None:
    """Keep what a person said of following a task; None for nothing."""
    if how is None:
        cur.execute("DELETE FROM followers WHERE task_id = %s AND person_id = %s", (task_id, person_id))
        return
    cur.execute(
        "INSERT INTO followers (task_id, person_id, how) VALUES (%s, %s, %s) ON DUPLICATE KEY UPDATE how = VALUES(how)",
        (task_id, person_id, how),
    )


def moment(value: Any) -> Any:
    """A moment after a journey through JSON."""
    return datetime.fromisoformat(value) if isinstance(value, str) else value


def counts(cur: Cursor, project_id: str) -> tuple[int, int, int, int]:
    """How many comments, files and relations hang on the tasks of a project, and how often somebody chose to follow one."""
    on = "SELECT COUNT(*) FROM {} p JOIN tasks t ON t.id = p.task_id WHERE t.project_id = %s AND t.deleted_at IS NULL"
    hanging = [on.format(table) + " AND p.deleted_at IS NULL" for table in ("comments", "files", "relations")]
    found = [fetch_one(cur, sql, (project_id,)) for sql in [*hanging, on.format("followers")]]
    comments, files, relations, followers = (row[0] if row else 0 for row in found)
    return comments, files, relations, followers
