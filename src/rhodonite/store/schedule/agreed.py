"""Agreed plans and the dates that were promised in them."""

from __future__ import annotations

from collections.abc import Collection, Iterable
from datetime import date, datetime
from typing import Any

from pymysql.cursors import Cursor

from ...core.schedule.agreed import AgreedPlan, AgreedTask
from ..common.database import fetch_all, places

_SELECT = "SELECT id, project_id, name, day, note, is_current, person_id, at FROM agreed_plans"


def agreed_plans(cur: Cursor, project_id: str) -> list[AgreedPlan]:
    """The agreed plans of a project, the latest first."""
    rows = fetch_all(cur, f"{_SELECT} WHERE project_id = %s AND deleted_at IS NULL ORDER BY day DESC, at DESC", (project_id,))
    return [AgreedPlan(row[0], row[1], row[2], row[3], row[4], bool(row[5]), row[6], row[7]) for row in rows]


def _by_task(rows: list[tuple[Any, ...]]) -> dict[str, AgreedTask]:
    return {row[0]: AgreedTask(row[1], row[2], row[3], row[4], bool(row[5]), row[6]) for row in rows}


def agreed_tasks(cur: Cursor, plan_id: str) -> dict[str, AgreedTask]:
    """What was promised of each task."""
    sql = "SELECT task_id, start, finish, duration, effort, is_summary, cost FROM agreed_tasks WHERE plan_id = %s"
    return _by_task(fetch_all(cur, sql, (plan_id,)))


def current_tasks(cur: Cursor, project_id: str) -> dict[str, AgreedTask]:
    """What was promised in the current agreed plan of a project; empty where none is."""
    sql = """SELECT a.task_id, a.start, a.finish, a.duration, a.effort, a.is_summary, a.cost FROM agreed_tasks a
      JOIN agreed_plans p ON p.id = a.plan_id WHERE p.project_id = %s AND p.is_current AND p.deleted_at IS NULL"""
    return _by_task(fetch_all(cur, sql, (project_id,)))


def agreed_finishes(cur: Cursor, project_ids: Collection[str]) -> dict[str, datetime]:
    """The finish of the current agreed plan of several projects."""
    if not project_ids:
        return {}
    sql = f"""SELECT p.project_id, MAX(a.finish) FROM agreed_plans p JOIN agreed_tasks a ON a.plan_id = p.id
      WHERE p.is_current AND p.deleted_at IS NULL AND a.finish IS NOT NULL AND p.project_id IN ({places(len(project_ids))}) GROUP BY p.project_id"""
    return {row[0]: row[1] for row in fetch_all(cur, sql, tuple(project_ids))}


def insert_plan(cur: Cursor, plan: AgreedPlan, tasks: Iterable[tuple[str, AgreedTask]]) -> None:
    """Write an agreed plan with its tasks."""
    cur.execute(
        "INSERT INTO agreed_plans (id, project_id, name, day, note, is_current, person_id, at)"
        " VALUES (%s, %s, %s, %s, %s, %s, %s, %s)",
        (plan.id, plan.project_id, plan.name, plan.day, plan.note, plan.is_current, plan.person_id, plan.at),
    )
    rows = [(plan.id, task_id, t.start, t.finish, t.duration, t.effort, t.is_summary, t.cost) for task_id, t in tasks]
    if rows:
        cur.executemany(
            "INSERT INTO agreed_tasks (plan_id, task_id, start, finish, duration, effort, is_summary, cost)"
            " VALUES (%s, %s, %s, %s, %s, %s, %s, %s)",
            rows,
        )


def choose_current(cur: Cursor, project_id: str, plan_id: str | None) -> None:
    """Make one agreed plan of a project the current one, or none."""
    cur.execute("UPDATE agreed_plans SET is_current = (id <=> %s) WHERE project_id = %s", (plan_id, project_id))


def update_plan(cur: Cursor, plan_id: str, name: str, day: date, note: str) -> None:
    """Change the words of an agreed plan; its dates are frozen."""
    cur.execute("UPDATE agreed_plans SET name = %s, day = %s, note = %s WHERE id = %s", (name, day, note, plan_id))


def set_deleted(cur: Cursor, plan_id: str, at: datetime | None) -> None:
    """Delete an agreed plan, or with None bring it back."""
    cur.execute("UPDATE agreed_plans SET deleted_at = %s WHERE id = %s", (at, plan_id))


def has_costs(cur: Cursor, project_id: str) -> bool:
    """True where a plan of a project was agreed with costs, and is still there."""
    sql = """SELECT 1 FROM agreed_plans p JOIN agreed_tasks t ON t.plan_id = p.id
      WHERE p.project_id = %s AND p.deleted_at IS NULL AND t.cost > 0 LIMIT 1"""
    return bool(fetch_all(cur, sql, (project_id,)))
