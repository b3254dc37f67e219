"""Goals that measure themselves, and the draft of a status report, against bare SQL of the same rows."""

from __future__ import annotations

import json
import time
import uuid
from collections.abc import Callable
from statistics import median
from typing import Any

import orjson
import pymysql

from rhodonite.store.common.database import connection_settings

from .report import Line, Report

PROJECTS, SIZE, PEOPLE = 20, 500, 50
GOALS = 2_000
ROUNDS = 5
TASKS = "SELECT id, parent_id, title, owner_id, state_id, effort, percent, finish FROM tasks WHERE deleted_at IS NULL"


def aim(url: str) -> None:
    """Set goals: one in ten stands above the nine after it, which count the tasks of a project by effort or number, narrowed."""
    connection = pymysql.connect(**connection_settings(url))
    cur = connection.cursor()
    cur.execute("SELECT id FROM projects ORDER BY code")
    projects = [row[0] for row in cur.fetchall()]
    cur.execute("SELECT id FROM people ORDER BY id")
    people = [row[0] for row in cur.fetchall()]
    rows, tied, top = [], [], ""
    for n in range(GOALS):
        one, project = str(uuid.uuid4()), projects[n % len(projects)]
        measure = {
            "kind": "tasks" if n % 10 else "goals", "unit": "number", "sign": "", "decimals": 0, "start": "0", "target": "100",
            "projects": [project] if n % 10 else [], "where": "" if n % 2 else '{"all": [["owner", "any", ["me"]]]}', "counts": "tasks",
            "by": "effort" if n % 3 else "count", "field": "", "steps": [],
        }  # fmt: skip
        top = top if n % 10 else one
        rows.append((one, f"Goal {n}", people[n % len(people)], top if n % 10 else None, json.dumps(measure)))
        if n % 10:
            tied.append((one, project))
    cur.executemany(
        "INSERT INTO goals (id, title, owner_id, first_day, last_day, at, parent_id, belongs, description, seen_by, people, measure)"
        " VALUES (%s, %s, %s, '2027-01-01', '2027-12-31', NOW(), %s, 'organisation', '', 'everyone', '{}', %s)",
        rows,
    )
    cur.executemany("INSERT INTO goal_projects (goal_id, project_id) VALUES (%s, %s)", tied)
    connection.commit()
    connection.close()


def timed_ms(work: Callable[[], Any], before: Callable[[int], None] = lambda _: None) -> float:
    """The median time of some work in milliseconds, each time after something else was done."""
    took = []
    for n in range(ROUNDS):
        before(n)
        began = time.perf_counter()
        work()
        took.append((time.perf_counter() - began) * 1000)
    return median(took)


def bare_ms(url: str, *asked: str) -> float:
    """How long bare SQL takes for some rows, encoded as JSON."""
    connection = pymysql.connect(**connection_settings(url))
    cur = connection.cursor()

    def read() -> bytes:
        rows: list[Any] = []
        for sql in asked:
            cur.execute(sql)
            rows += [[str(each) for each in row] for row in cur.fetchall()]
        return orjson.dumps(rows)

    found = timed_ms(read)
    connection.close()
    return found


def measure_goals(report: Report, url: str, ask: Callable[..., bytes], code: str, task_id: str) -> None:
    """All goals as their place asks for them, after an edit of one of the tasks that they count."""
    found = orjson.loads(ask("GET", "/goals"))  # with the plans in hand
    assert len(found["goals"]) == GOALS, len(found["goals"])
    assert any(one["how"]["percent"] for one in found["goals"])

    def edit(n: int) -> None:
        fields = {"percent": 10 + n}
        ask("PATCH", f"/projects/{code}/tasks", {"tasks": [{"id": task_id, "revision": 10**8, "fields": fields}]})

    reference = bare_ms(url, TASKS, "SELECT * FROM goals")
    name = f"{GOALS:,} goals that measure themselves from {PROJECTS * SIZE:,} tasks, after an edit"
    report.add(Line(name, timed_ms(lambda: ask("GET", "/goals"), edit), "ms", reference, most=2, by_ratio=True))


def measure_draft(report: Report, url: str, ask: Callable[..., bytes], task_id: str, size: int) -> None:
    """The draft of a status report after an edit."""
    ask("GET", "/projects/BIG/reports/draft")

    def edit(n: int) -> None:
        ask("PATCH", "/projects/BIG/tasks", {"tasks": [{"id": task_id, "revision": 10**8, "fields": {"title": f"Edit {n}"}}]})

    reference = bare_ms(url, TASKS)
    took = timed_ms(lambda: ask("GET", "/projects/BIG/reports/draft"), edit)
    report.add(Line(f"draft of a status report of {size:,} tasks, after an edit", took, "ms", reference, most=300))
