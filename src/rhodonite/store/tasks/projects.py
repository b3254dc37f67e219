"""Projects with their members, workflow and calendar."""

from __future__ import annotations

import json
from collections.abc import Collection
from dataclasses import replace
from datetime import datetime
from typing import Any

from pymysql.cursors import Cursor

from ...core.tasks.model import Project, State
from ..common.database import fetch_all, fetch_one, places, transaction_of

_COLUMNS = "id, code, name, description, lead_id, start_day, private, archived_at, revision, meta_revision, start_grid, lenses, hours, own_time, time, client, costs, currency, exchange, brief, workflow_name, limit_rule, person_limit, portfolio"

_STATE = ", ".join(
    f"s.{name}"
    for name in (
        "id", "name", "state_class", "place", "at_most", "workflow_id", "step_of", "step", "column_limit", "entry_rule", "exit_rule",
    )
)  # fmt: skip


def _project(row: tuple[Any, ...]) -> Project:
    return replace(
        Project(*(*row[:6], bool(row[6]), *row[7:10])),
        start_grid=row[10],
        lenses=tuple(row[11].split(",")),
        hours=bool(row[12]),
        own_time=bool(row[13]),
        time=bool(row[14]),
        client=row[15],
        costs=bool(row[16]),
        currency=row[17],
        exchange=row[18].normalize(),
        brief=tuple(row[19].split(",")),
        workflow_name=row[20],
        limit_rule=row[21],
        person_limit=row[22],
        portfolio=bool(row[23]),
    )


def project_by_code(cur: Cursor, code: str) -> Project | None:
    """A project without its states and members."""
    row = fetch_one(cur, f"SELECT {_COLUMNS} FROM projects WHERE code = %s", (code,))
    return _project(row) if row else None


def project_and_role(cur: Cursor, code: str, person_id: str) -> tuple[Project, str | None] | None:
    """A project without its states and members, and the role that a person has in it."""
    columns = ", ".join(f"p.{name.strip()}" for name in _COLUMNS.split(","))
    row = fetch_one(
        cur,
        f"SELECT {columns}, m.role FROM projects p LEFT JOIN members m ON m.project_id = p.id AND m.person_id = %s WHERE p.code = %s",
        (person_id, code),
    )
    return (_project(row[:-1]), row[-1]) if row else None


def project(cur: Cursor, project_id: str) -> Project | None:
    """A project without its states and members."""
    row = fetch_one(cur, f"SELECT {_COLUMNS} FROM projects WHERE id = %s", (project_id,))
    return _project(row) if row else None


def projects_by_id(cur: Cursor, ids: Collection[str]) -> dict[str, Project]:
    """Some projects by their id, without states and members."""
    if not ids:
        return {}
    sql = f"SELECT {_COLUMNS} FROM projects WHERE id IN ({places(len(ids))})"
    return {row[0]: _project(row) for row in fetch_all(cur, sql, tuple(ids))}


def code_of_draft(cur: Cursor, draft_id: str) -> str | None:
    """The code of the project that a draft is of."""
    row = fetch_one(cur, "SELECT p.code FROM drafts d JOIN projects p ON p.id = d.project_id WHERE d.id = %s", (draft_id,))
    return row[0] if row else None


def all_projects(cur: Cursor, *, archived: bool = False) -> list[Project]:
    """All projects that are (not) archived, in order of name, without states and members."""
    test = "IS NOT NULL" if archived else "IS NULL"
    return [
        _project(row) for row in fetch_all(cur, f"SELECT {_COLUMNS} FROM projects WHERE archived_at {test} ORDER BY name, id")
    ]


def roles_of(cur: Cursor, person_id: str) -> dict[str, str]:
    """The roles that a person has, by project."""
    return dict(fetch_all(cur, "SELECT project_id, role FROM members WHERE person_id = %s", (person_id,)))


def all_members(cur: Cursor) -> list[tuple[str, str, str]]:
    """(person, project, role) of everybody who is a member of a project."""
    return [(row[0], row[1], row[2]) for row in fetch_all(cur, "SELECT person_id, project_id, role FROM members")]


def members(cur: Cursor, project_id: str) -> dict[str, str]:
    """The roles in a project, by person."""
    return dict(fetch_all(cur, "SELECT person_id, role FROM members WHERE project_id = %s", (project_id,)))


def states(cur: Cursor, project_id: str) -> tuple[State, ...]:
    """The states of a project in order, those of the main workflow before those of the others."""
    sql = f"""SELECT {_STATE} FROM states s LEFT JOIN definitions d ON d.id = s.workflow_id
      WHERE s.project_id = %s AND s.deleted_at IS NULL AND d.deleted_at IS NULL
      ORDER BY s.workflow_id IS NOT NULL, d.place, s.workflow_id, s.place, s.id"""
    return tuple(State(*row) for row in fetch_all(cur, sql, (project_id,)))


def calendar(cur: Cursor, project_id: str) -> tuple[str, dict[str, Any], list[dict[str, Any]]]:
    """The calendar of a project: its id, week and exceptions as they are kept."""
    row = fetch_one(cur, "SELECT id, week, exceptions FROM calendars WHERE project_id = %s AND main", (project_id,))
    assert row is not None
    return row[0], json.loads(row[1]), json.loads(row[2])


def other_calendars(cur: Cursor, project_id: str) -> list[tuple[str, str, dict[str, Any], list[dict[str, Any]]]]:
    """The calendars that tasks may have beside the project's own, by name: (id, name, week, exceptions)."""
    sql = "SELECT id, name, week, exceptions FROM calendars WHERE project_id = %s AND NOT main AND deleted_at IS NULL ORDER BY name, id"
    return [(row[0], row[1], json.loads(row[2]), json.loads(row[3])) for row in fetch_all(cur, sql, (project_id,))]


def revisions(cur: Cursor) -> list[tuple[str, str, int, int]]:
    """(id, code, revision, revision of its last change to more than tasks) of every project: what live updates watch."""
    return list(fetch_all(cur, "SELECT id, code, revision, meta_revision FROM projects"))


def insert_project(cur: Cursor, project: Project, at: datetime) -> None:
    """Add a project, without states, members and calendar."""
    cur.execute(
        "INSERT INTO projects (id, code, name, description, lead_id, start_day, private, created_at, changed_at, portfolio,"
        " lenses) VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s)",
        (
            project.id, project.code, project.name, project.description, project.lead_id, project.start_day,
            project.private, at, at, project.portfolio, ",".join(project.lenses),
        ),
    )  # fmt: skip


def update_project(cur: Cursor, project_id: str, fields: dict[str, Any]) -> None:
    """Set columns of a project; the names come from the services, never from a request."""
    assert fields.keys() <= {
        "name",
        "code",
        "description",
        "lead_id",
        "start_day",
        "private",
        "archived_at",
        "start_grid",
        "lenses",
        "brief",
        "hours",
        "own_time",
        "time",
        "client",
        "costs",
        "currency",
        "exchange",
        "workflow_name",
        "limit_rule",
        "person_limit",
    }
    sets = ", ".join(f"{name} = %s" for name in fields)
    cur.execute(f"UPDATE projects SET {sets} WHERE id = %s", (*map(_plain, fields.values()), project_id))


def _plain(value: Any) -> Any:
    return ",".join(value) if isinstance(value, tuple) else value


def calendars(cur: Cursor, project_ids: Collection[str]) -> dict[str, tuple[dict[str, Any], list[Any]]]:
    """Week and exceptions of several projects."""
    if not project_ids:
        return {}
    sql = f"SELECT project_id, week, exceptions FROM calendars WHERE main AND project_id IN ({places(len(project_ids))})"
    return {row[0]: (json.loads(row[1]), json.loads(row[2])) for row in fetch_all(cur, sql, tuple(project_ids))}


def count_up(
    cur: Cursor, project_id: str, at: datetime, change_id: str, *, meta: bool, seen: Project | None = None
) -> Project | None:
    """Lock a project, count its revision up by one and return it. The lock makes its writers take turns.

    Args:
        seen: the project as it was read before: it is read again only where somebody else has counted it up since.

    Returns:
        None where there is no such project, or the change was written before.
    """
    also = ", meta_revision = revision" if meta else ""  # assignments go from left to right
    cur.execute(
        f"UPDATE projects SET revision = LAST_INSERT_ID(revision + 1){also}, changed_at = %s WHERE id = %s"
        " AND NOT EXISTS (SELECT 1 FROM changes WHERE id = %s)",
        (at, project_id, change_id),
    )
    if not cur.rowcount:
        return None
    revision = cur.lastrowid  # what LAST_INSERT_ID was given
    transaction_of(cur).counted[project_id] = revision
    if seen is None or seen.revision + 1 != revision:
        return project(cur, project_id)
    return replace(seen, revision=revision, meta_revision=revision if meta else seen.meta_revision)


def take_numbers(cur: Cursor, project_id: str, count: int) -> int:
    """Take numbers for new tasks; returns the first. The project must be locked."""
    row = fetch_one(cur, "SELECT next_number FROM projects WHERE id = %s", (project_id,))
    assert row is not None
    cur.execute("UPDATE projects SET next_number = next_number + %s WHERE id = %s", (count, project_id))
    return int(row[0])


def set_member(cur: Cursor, project_id: str, person_id: str, role: str | None) -> None:
    """Give a person a role in a project, or take it away."""
    if role is None:
        cur.execute("DELETE FROM members WHERE project_id = %s AND person_id = %s", (project_id, person_id))
    else:
        cur.execute(
            "INSERT INTO members (project_id, person_id, role) VALUES (%s, %s, %s) ON DUPLICATE KEY UPDATE role = VALUES(role)",
            (project_id, person_id, role),
        )


def insert_state(cur: Cursor, project_id: str, state: State) -> None:
    """Add a state."""
    cur.execute(
        "INSERT INTO states (id, project_id, name, state_class, place, at_most, workflow_id, step_of, step, column_limit,"
        " entry_rule, exit_rule) VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s)",
        (
            state.id,
            project_id,
            state.name,
            state.state_class,
            state.place,
            state.limit,
            state.workflow_id,
            state.step_of,
            state.step,
            state.column_limit,
            state.entry_rule,
            state.exit_rule,
        ),
    )  # fmt: skip


def update_state(cur: Cursor, state: State) -> None:
    """Write a changed state."""
    cur.execute(
        "UPDATE states SET name = %s, state_class = %s, place = %s, at_most = %s, step_of = %s, step = %s, column_limit = %s,"
        " entry_rule = %s, exit_rule = %s WHERE id = %s",
        (
            state.name,
            state.state_class,
            state.place,
            state.limit,
            state.step_of,
            state.step,
            state.column_limit,
            state.entry_rule,
            state.exit_rule,
            state.id,
        ),
    )  # fmt: skip


def set_state_deleted(cur: Cursor, state_id: str, at: datetime | None) -> None:
    """Delete a state in which no task stands, or with None bring it back."""
    cur.execute("UPDATE states SET deleted_at = %s WHERE id = %s", (at, state_id))


def insert_calendar(
    cur: Cursor, calendar_id: str, project_id: str, name: str, week: Any, exceptions: Any, *, main: bool = True
) -> None:
    """Add a calendar to a project.

    Args:
        main: True for the project's own, False for one that tasks may have.
    """
    cur.execute(
        "INSERT INTO calendars (id, project_id, main, name, week, exceptions) VALUES (%s, %s, %s, %s, %s, %s)",
        (calendar_id, project_id, main, name, json.dumps(week), json.dumps(exceptions)),
    )


def update_calendar(cur: Cursor, calendar_id: str, name: str, week: Any, exceptions: Any) -> None:
    """Write a calendar anew; the project that it belongs to stays."""
    cur.execute(
        "UPDATE calendars SET name = %s, week = %s, exceptions = %s WHERE id = %s",
        (name, json.dumps(week), json.dumps(exceptions), calendar_id),
    )


def set_calendar_deleted(cur: Cursor, calendar_id: str, at: datetime | None) -> None:
    """Delete a calendar by which no living task works, or with None bring it back."""
    cur.execute("UPDATE calendars SET deleted_at = %s WHERE id = %s AND NOT main", (at, calendar_id))


def totals(cur: Cursor, project_ids: Collection[str], now: datetime) -> dict[str, tuple[Any, ...]]:
    """Sums over the leaves of several projects, for ``core.tasks.rollup.Sums``.

    What counts as late or broken is defined in core; these are the same words in SQL so that a list of projects
    needs no tasks, and a test holds the two together.

    Args:
        now: the time that lateness is judged for.

    Returns:
        By project: (start, finish, effort, effort_done, duration, duration_done, tasks, finished, begun, late,
        broken, unowned, held). ``duration`` leaves out tasks without one, which are counted after these.
    """
    if not project_ids:
        return {}
    late = "s.state_class IN ('queued', 'active') AND t.finish < %s"
    sql = f"""
        SELECT t.project_id, MIN(COALESCE(t.start, t.finish)), MAX(COALESCE(t.finish, t.start)),
          SUM(IF(t.kind = 'milestone', 0, COALESCE(t.effort, 0))),
          SUM(IF(t.kind = 'milestone', 0, COALESCE(t.effort, 0) * t.percent)),
          SUM(IF(t.kind = 'milestone', 0, COALESCE(t.duration, 0))),
          SUM(IF(t.kind = 'milestone', 0, COALESCE(t.duration, 0) * t.percent)),
          COUNT(*), SUM(s.state_class = 'finished'), SUM(s.state_class <> 'queued'),
          SUM(COALESCE({late}, 0)),
          SUM(s.state_class IN ('queued', 'active') AND t.deadline IS NOT NULL
              AND (t.deadline < %s OR COALESCE(t.finish > t.deadline, 0))),
          SUM(s.state_class IN ('queued', 'active') AND t.owner_id IS NULL),
          SUM(s.state_class IN ('queued', 'active') AND (t.held_reason IS NOT NULL OR t.held_by_id IS NOT NULL)),
          SUM(t.kind <> 'milestone' AND COALESCE(t.duration, 0) = 0),
          SUM(IF(t.kind <> 'milestone' AND COALESCE(t.duration, 0) = 0, t.percent, 0))
        FROM tasks t JOIN states s ON s.id = t.state_id
        LEFT JOIN (SELECT DISTINCT parent_id FROM tasks
                   WHERE deleted_at IS NULL AND parent_id IS NOT NULL AND project_id IN ({places(len(project_ids))})) above
          ON above.parent_id = t.id
        WHERE t.deleted_at IS NULL AND t.project_id IN ({places(len(project_ids))}) AND s.state_class <> 'dropped'
          AND above.parent_id IS NULL
        GROUP BY t.project_id"""
    return {row[0]: row[1:] for row in fetch_all(cur, sql, (now, now, *project_ids, *project_ids))}


def summary_deadlines(cur: Cursor, project_ids: Collection[str]) -> list[tuple[str, str]]:
    """(project, task) of summary tasks that carry a deadline: few, and judged by the plan itself."""
    if not project_ids:
        return []
    sql = f"""SELECT t.project_id, t.id FROM tasks t WHERE t.project_id IN ({places(len(project_ids))})
      AND t.deleted_at IS NULL AND t.deadline IS NOT NULL
      AND EXISTS (SELECT 1 FROM tasks c WHERE c.parent_id = t.id AND c.deleted_at IS NULL)"""
    return [(row[0], row[1]) for row in fetch_all(cur, sql, tuple(project_ids))]


def exists_code(cur: Cursor, code: str, but: str | None = None) -> bool:
    """True where another project has this code."""
    row = fetch_one(cur, "SELECT id FROM projects WHERE code = %s", (code,))
    return row is not None and row[0] != but


def codes(cur: Cursor) -> set[str]:
    """Every code in use."""
    return {row[0] for row in fetch_all(cur, "SELECT code FROM projects")}
