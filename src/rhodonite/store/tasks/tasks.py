"""Tasks and their helpers."""

from __future__ import annotations

import json
from collections import defaultdict
from collections.abc import Collection, Iterable, Mapping, Sequence
from datetime import datetime
from sys import intern
from typing import Any

from orjson import JSONDecodeError, loads
from pymysql.cursors import Cursor

from ...core.tasks.booked import read_booking, write_booking
from ...core.tasks.model import Link, Task
from ..common.database import fetch_all, fetch_one, places

COLUMNS = (
    "id", "project_id", "number", "parent_id", "place", "kind", "title", "owner_id", "state_id", "board_place",
    "held_reason", "held_since", "held_by_id", "held_minutes", "priority", "start", "finish", "duration", "elapsed", "calendar_id", "constraint_type", "constraint_at", "deadline", "effort", "percent",
    "actual_start", "actual_finish", "state_since", "pushes", "marks", "own", "repeats", "bookings", "keeps", "comments", "files", "checks", "checks_done", "spent", "lane_id", "period_id", "deleted_at", "revision",
)  # fmt: skip
# a row comes as one JSON array: the driver reads each column in Python, which takes twice as long as all of this
_ROW = f"JSON_ARRAY({', '.join(f't.{name}' for name in COLUMNS)}, c.at)"
_FROM = "FROM tasks t LEFT JOIN changes c ON c.project_id = t.project_id AND c.revision = t.revision"
_SELECT = f"SELECT {_ROW} {_FROM}"
_TOGETHER = 200
"""So many tasks share a row of the answer where there are many, for the same reason."""
_MOMENTS = (
    "held_since", "start", "finish", "constraint_at", "deadline", "actual_start", "actual_finish", "state_since", "deleted_at",
)  # fmt: skip
_WHEN = (*(COLUMNS.index(name) for name in _MOMENTS), len(COLUMNS))
_SHARED = [COLUMNS.index(name) for name in ("project_id", "parent_id", "kind", "owner_id", "state_id", "constraint_type")]
"""What many rows have in common, and so is held once."""
_ELAPSED, _MARKS, _BOOKINGS = (COLUMNS.index(name) for name in ("elapsed", "marks", "bookings"))
_AS_JSON = {"marks", "own", "repeats", "bookings"}
_COUNTED = {"comments", "files", "checks", "checks_done", "spent"}
_WRITABLE = frozenset(COLUMNS) - {"id", "project_id", "number"} - _COUNTED | {"description"}


Others = tuple[Mapping[str, list[str]], Mapping[str, list[Link]]]
"""By task the people who help with it, and what it waits for."""


def _task(row: list[Any], helpers: Mapping[str, list[str]], links: Mapping[str, list[Link]]) -> Task:
    for index in _WHEN:
        if row[index] is not None:
            row[index] = datetime.fromisoformat(row[index])
    for index in _SHARED:
        if row[index] is not None:
            row[index] = intern(row[index])
    row[_ELAPSED] = row[_ELAPSED] == 1  # the database knows no booleans
    row[_MARKS] = tuple(row[_MARKS])
    row[_BOOKINGS] = tuple(map(read_booking, row[_BOOKINGS]))
    return Task(*(*row, tuple(helpers.get(row[0], ())), tuple(links.get(row[0], ()))))


def _column(name: str, value: Any) -> Any:
    """A value as its column keeps it."""
    if name == "bookings":
        value = [write_booking(one) for one in value]
    return json.dumps(value, ensure_ascii=False) if name in _AS_JSON and value is not None else value


def _with_others(cur: Cursor, rows: list[tuple[Any, ...]]) -> list[Task]:
    read = [loads(row) for (row,) in rows]
    ids = [row[0] for row in read]
    helpers, links = _by_task(_others(cur, f"IN ({places(len(ids))})", ids)) if ids else ({}, {})
    return [_task(row, helpers, links) for row in read]


def _others(cur: Cursor, which: str, args: Sequence[Any]) -> list[tuple[Any, ...]]:
    """Helpers and links of some tasks in their order: (task, person, None, 0, 0) and (task, other task, type, lag, elapsed).

    They come neither ordered nor as JSON: for that the database would make a table on the disk.

    Args:
        which: of what tasks they are, as a condition on the id.
    """
    sql = f"""SELECT task_id, person_id, NULL, 0, 0, position FROM helpers WHERE task_id {which}
      UNION ALL SELECT to_id, from_id, link_type, lag, elapsed, position FROM links WHERE to_id {which}"""
    return [one[:-1] for one in sorted(fetch_all(cur, sql, (*args, *args)), key=lambda one: one[-1])]


def _by_task(others: Iterable[Sequence[Any]]) -> Others:
    helpers: dict[str, list[str]] = defaultdict(list)
    links: dict[str, list[Link]] = defaultdict(list)
    for task_id, other_id, link_type, lag, elapsed in others:
        if link_type is None:
            helpers[task_id].append(other_id)
        else:
            links[task_id].append(Link(other_id, link_type, lag, elapsed == 1))
    return helpers, links


def tasks_of(cur: Cursor, project_id: str) -> list[Task]:
    """The living tasks of a project."""
    return _tasks_where(cur, "project_id = %s AND deleted_at IS NULL", (project_id,))


def tasks_changed(cur: Cursor, project_id: str, since: int) -> list[Task]:
    """The tasks of a project that changed after a revision, those that went to the bin included."""
    few = f"{_SELECT} WHERE t.project_id = %s AND t.revision > %s LIMIT {_TOGETHER + 1}"
    rows = fetch_all(cur, few, (project_id, since))
    if len(rows) > _TOGETHER:
        return _tasks_where(cur, "project_id = %s AND revision > %s", (project_id, since))
    return _with_others(cur, rows)


def _tasks_where(cur: Cursor, condition: str, args: Sequence[Any]) -> list[Task]:
    """The tasks, maybe thousands, for which a condition on their columns holds."""
    which = f"IN (SELECT id FROM tasks WHERE {condition})"
    by = f"GROUP BY t.number DIV {_TOGETHER}"
    rows = _arrays(cur, f"SELECT COUNT(*), JSON_ARRAYAGG({_ROW}) {_FROM} WHERE t.id {which} {by}", args)
    if rows is None:
        rows = [loads(row) for (row,) in fetch_all(cur, f"{_SELECT} WHERE t.id {which}", args)]
    together = f"""SELECT COUNT(*), JSON_ARRAYAGG(JSON_ARRAY(o.task_id, o.person_id, NULL, 0, 0) ORDER BY o.position)
        FROM helpers o JOIN tasks t ON t.id = o.task_id WHERE o.task_id {which} {by}
      UNION ALL
      SELECT COUNT(*), JSON_ARRAYAGG(JSON_ARRAY(o.to_id, o.from_id, o.link_type, o.lag, o.elapsed) ORDER BY o.position)
        FROM links o JOIN tasks t ON t.id = o.to_id WHERE o.to_id {which} {by}"""
    others = _arrays(cur, together, (*args, *args))
    helpers, links = _by_task(_others(cur, which, args) if others is None else others)
    return [_task(row, helpers, links) for row in rows]


def _arrays(cur: Cursor, together: str, args: Sequence[Any]) -> list[list[Any]] | None:
    """The arrays in all rows of an answer; None where the database has cut some off, as it makes no longer ones.

    Args:
        together: a query for few rows, each of a count and an array of so many arrays.
    """
    found: list[list[Any]] = []
    for count, some in fetch_all(cur, together, args):
        try:
            read = loads(some)
        except JSONDecodeError:
            return None
        if len(read) != count:
            return None
        found += read
    return found


def tasks_by_id(cur: Cursor, ids: Collection[str]) -> list[Task]:
    """Tasks by id, wherever they are."""
    if not ids:
        return []
    rows = fetch_all(cur, f"{_SELECT} WHERE t.id IN ({places(len(ids))})", tuple(ids))
    return _with_others(cur, rows)


def tasks_in_bin(cur: Cursor, project_id: str, limit: int) -> list[Task]:
    """What was deleted, the latest first."""
    rows = fetch_all(
        cur,
        f"{_SELECT} WHERE t.project_id = %s AND t.deleted_at IS NOT NULL ORDER BY t.deleted_at DESC, t.number LIMIT %s",
        (project_id, limit),
    )
    return _with_others(cur, rows)


def description(cur: Cursor, task_id: str) -> str:
    """The description of a task."""
    row = fetch_one(cur, "SELECT description FROM tasks WHERE id = %s", (task_id,))
    return row[0] if row else ""


def descriptions_of(cur: Cursor, task_ids: Collection[str]) -> dict[str, str]:
    """The descriptions of some tasks, by their ids."""
    if not task_ids:
        return {}
    return dict(fetch_all(cur, f"SELECT id, description FROM tasks WHERE id IN ({places(len(task_ids))})", tuple(task_ids)))


def descriptions(cur: Cursor, project_id: str) -> dict[str, str]:
    """The descriptions of a project's tasks, by their ids, those without one left out."""
    sql = "SELECT id, description FROM tasks WHERE project_id = %s AND deleted_at IS NULL AND description <> ''"
    return dict(fetch_all(cur, sql, (project_id,)))


def projects_with_repeats(cur: Cursor) -> list[str]:
    """The projects in which tasks repeat."""
    rows = fetch_all(cur, "SELECT DISTINCT project_id FROM tasks WHERE repeats IS NOT NULL AND deleted_at IS NULL")
    return [row[0] for row in rows]


def any_exists(cur: Cursor, ids: Collection[str]) -> bool:
    """True where any of some ids is that of a task."""
    return bool(ids) and fetch_one(cur, f"SELECT 1 FROM tasks WHERE id IN ({places(len(ids))}) LIMIT 1", tuple(ids)) is not None


def project_of(cur: Cursor, task_id: str) -> str | None:
    """The project that a task belongs to."""
    row = fetch_one(cur, "SELECT project_id FROM tasks WHERE id = %s", (task_id,))
    return row[0] if row else None


def insert_tasks(cur: Cursor, tasks: Iterable[Task], descriptions: dict[str, str], at: datetime) -> None:
    """Add tasks, parents before those under them."""
    tasks = list(tasks)
    names = [*COLUMNS, "description", "created_at"]
    cur.executemany(
        f"INSERT INTO tasks ({', '.join(names)}) VALUES ({places(len(names))})",
        [(*(_column(name, getattr(task, name)) for name in COLUMNS), descriptions.get(task.id, ""), at) for task in tasks],
    )
    write_helpers(cur, {task.id: task.helpers for task in tasks if task.helpers})
    write_links(cur, {task.id: task.waits_for for task in tasks if task.waits_for})  # when all are there: they name one another


def update_task(cur: Cursor, task_id: str, fields: dict[str, Any], revision: int) -> None:
    """Set columns of a task and its revision; the names come from the core, never from a request."""
    columns = {name: value for name, value in fields.items() if name not in {"helpers", "waits_for"}}
    assert columns.keys() <= _WRITABLE
    sets = "".join(f"{name} = %s, " for name in columns)
    values = [_column(name, value) for name, value in columns.items()]
    cur.execute(f"UPDATE tasks SET {sets}revision = %s WHERE id = %s", (*values, revision, task_id))
    if "helpers" in fields:
        write_helpers(cur, {task_id: fields["helpers"]})
    if "waits_for" in fields:
        write_links(cur, {task_id: fields["waits_for"]})


def update_tasks(cur: Cursor, changes: Mapping[str, Mapping[str, Any]], revision: int) -> None:
    """Set columns of many tasks, each its own, in a statement for all that change the same columns.

    Args:
        changes: by task the fields, as for ``update_task``.
    """
    alike: dict[tuple[str, ...], list[dict[str, Any]]] = defaultdict(list)
    for task_id, fields in changes.items():
        columns = {name: value for name, value in fields.items() if name not in {"helpers", "waits_for"}}
        assert columns.keys() <= _WRITABLE
        plain = {name: str(value) if isinstance(value, datetime) else _column(name, value) for name, value in columns.items()}
        alike[tuple(sorted(columns))].append({"id": task_id, **plain})
    write_helpers(cur, {one: fields["helpers"] for one, fields in changes.items() if "helpers" in fields})
    write_links(cur, {one: fields["waits_for"] for one, fields in changes.items() if "waits_for" in fields})
    for names, rows in alike.items():
        columns_sql = "".join(f", {name} {_JSON_TYPES.get(name, 'LONGTEXT')} PATH '$.{name}'" for name in names)
        sets = "".join(f"t.{name} = m.{name}, " for name in names)
        for first in range(0, len(rows), _MOST_MOVES):
            cur.execute(
                f"UPDATE tasks t JOIN JSON_TABLE(%s, '$[*]' COLUMNS (id CHAR(36) PATH '$.id'{columns_sql})) m"
                f" ON t.id = CAST(m.id AS UUID) SET {sets}t.revision = %s",
                (json.dumps(rows[first : first + _MOST_MOVES]), revision),
            )


_JSON_TYPES = dict.fromkeys(_MOMENTS, "DATETIME") | dict.fromkeys(
    ("duration", "effort", "percent", "pushes", "elapsed", "held_minutes"), "INT"
)


def move_tasks(cur: Cursor, moves: Mapping[str, Mapping[str, Any]], revision: int) -> None:
    """Write computed dates of many tasks at once.

    Args:
        moves: by task the fields that differ: any of ``start``, ``finish`` and ``duration``.
    """
    rows = [
        {"id": task_id, "duration": fields.get("duration")}
        | {name: fields[name].strftime("%Y-%m-%d %H:%M:%S") if name in fields else None for name in ("start", "finish")}
        for task_id, fields in moves.items()
    ]
    for first in range(0, len(rows), _MOST_MOVES):
        cur.execute(
            "UPDATE tasks t JOIN JSON_TABLE(%s, '$[*]' COLUMNS (id CHAR(36) PATH '$.id', start DATETIME PATH '$.start',"
            " finish DATETIME PATH '$.finish', duration INT PATH '$.duration')) m ON t.id = CAST(m.id AS UUID)"
            " SET t.start = COALESCE(m.start, t.start), t.finish = COALESCE(m.finish, t.finish),"
            " t.duration = COALESCE(m.duration, t.duration), t.revision = %s",
            (json.dumps(rows[first : first + _MOST_MOVES]), revision),
        )


_MOST_MOVES = 5000


def write_links(cur: Cursor, links: Mapping[str, Iterable[Link]]) -> None:
    """Replace what tasks wait for: the links by the task that waits."""
    _clear(cur, "links", "to_id", links)
    rows = [
        (task_id, link.from_id, link.type, link.lag, link.elapsed, index)
        for task_id, several in links.items()
        for index, link in enumerate(several)
    ]
    if rows:
        cur.executemany(
            "INSERT INTO links (to_id, from_id, link_type, lag, elapsed, position) VALUES (%s, %s, %s, %s, %s, %s)", rows
        )


def write_helpers(cur: Cursor, helpers: Mapping[str, Iterable[str]]) -> None:
    """Replace the helpers of tasks: the people by the task."""
    _clear(cur, "helpers", "task_id", helpers)
    rows = [(task_id, person_id, index) for task_id, people in helpers.items() for index, person_id in enumerate(people)]
    if rows:
        cur.executemany("INSERT INTO helpers (task_id, person_id, position) VALUES (%s, %s, %s)", rows)


def _clear(cur: Cursor, table: str, column: str, ids: Iterable[str]) -> None:
    all_ids = list(ids)
    for first in range(0, len(all_ids), _MOST_MOVES):
        some = all_ids[first : first + _MOST_MOVES]
        cur.execute(f"DELETE FROM {table} WHERE {column} IN ({places(len(some))})", tuple(some))


def open_tasks_for(cur: Cursor, person_id: str) -> list[tuple[str, str]]:
    """(project, task) of the living, unfinished tasks that a person owns or helps with, in projects that are not archived.

    Summary tasks are left out: their dates are computed from the tasks under them.
    """
    open_leaf = """JOIN states s ON s.id = t.state_id AND s.state_class IN ('queued', 'active')
      JOIN projects p ON p.id = t.project_id AND p.archived_at IS NULL
      WHERE t.deleted_at IS NULL AND NOT EXISTS (SELECT 1 FROM tasks c WHERE c.parent_id = t.id AND c.deleted_at IS NULL)"""
    rows = fetch_all(
        cur,
        f"(SELECT t.project_id, t.id FROM tasks t {open_leaf} AND t.owner_id = %s) UNION"
        f" (SELECT t.project_id, t.id FROM helpers h JOIN tasks t ON t.id = h.task_id {open_leaf} AND h.person_id = %s)"
        " LIMIT 2000",
        (person_id, person_id),
    )
    return [(row[0], row[1]) for row in rows]


def projects_owned_in(cur: Cursor, people: Collection[str]) -> set[str]:
    """The projects in which any of some people owns a task."""
    query = f"SELECT DISTINCT project_id FROM tasks WHERE owner_id IN ({places(len(people))}) AND deleted_at IS NULL"
    return {row[0] for row in fetch_all(cur, query, tuple(people))}


def tasks_in_state(cur: Cursor, state_id: str) -> list[Task]:
    """Every task in a state, those in the bin included."""
    return _with_others(cur, fetch_all(cur, f"{_SELECT} WHERE t.state_id = %s", (state_id,)))
