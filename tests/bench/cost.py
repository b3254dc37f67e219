"""The costs of 10,000 tasks with 50,000 bookings and 100,000 time entries, against bare SQL of the same rows."""

from __future__ import annotations

import time
from collections.abc import Callable
from decimal import Decimal
from statistics import median
from typing import Any

import orjson
import pymysql

from rhodonite.store.common.database import connection_settings

from .report import Line, Report

SIZE, PEOPLE, BOOKED, ENTERED = 10_000, 200, 5, 10
"""Tasks, people, bookings of a task, and entries on it."""
ROUNDS = 5


def spend(url: str) -> None:
    """Give each task five bookings of an hour and more, and ten entries; each person a rate that changes once."""
    connection = pymysql.connect(**connection_settings(url))
    cur = connection.cursor()
    cur.execute("UPDATE projects SET hours = TRUE, time = TRUE, costs = TRUE, revision = revision + 1, meta_revision = revision")
    cur.execute("SELECT id FROM people ORDER BY id")
    people = [row[0] for row in cur.fetchall()]
    cur.execute("SELECT t.id, t.project_id, t.number, p.revision FROM tasks t JOIN projects p ON p.id = t.project_id")
    tasks = cur.fetchall()
    cur.executemany(
        "INSERT INTO rates (who, kind, first_day, amount) VALUES (%s, 'cost', %s, %s)",
        [(one, day, Decimal(amount)) for one in people for day, amount in (("1000-01-01", "32.50"), ("2027-03-01", "34"))],
    )
    booked = [
        (orjson.dumps([[people[(number + n) % len(people)], 60 * (n + 1), "even", [], False] for n in range(BOOKED)]).decode(),
         60 * ENTERED, revision, task_id)
        for task_id, _, number, revision in tasks
    ]  # fmt: skip
    cur.executemany("UPDATE tasks SET bookings = %s, spent = %s, revision = %s WHERE id = %s", booked)
    entered = [
        (project_id, task_id, people[(number + n) % len(people)], n, revision)
        for task_id, project_id, number, revision in tasks
        for n in range(ENTERED)
    ]
    cur.executemany(
        "INSERT INTO time_entries (id, project_id, task_id, person_id, day, minutes, billable, revision)"
        " VALUES (UUID(), %s, %s, %s, DATE_ADD('2027-02-01', INTERVAL %s DAY), 60, TRUE, %s)",
        entered,
    )
    connection.commit()
    connection.close()


def measure_costs(report: Report, url: str, ask: Callable[..., bytes]) -> None:
    """The costs as the lens asks for them: after an edit, and reckoned anew once a rate has changed."""
    connection = pymysql.connect(**connection_settings(url))
    cur = connection.cursor()

    def bare() -> bytes:
        cur.execute("SELECT id, parent_id, start, finish, percent, bookings FROM tasks WHERE deleted_at IS NULL")
        rows: list[Any] = [[*row[:2], str(row[2]), str(row[3]), row[4], orjson.loads(row[5])] for row in cur.fetchall()]
        cur.execute("SELECT task_id, person_id, day, minutes, billable FROM time_entries WHERE deleted_at IS NULL")
        rows += [[*row[:2], str(row[2]), *row[3:]] for row in cur.fetchall()]
        return orjson.dumps(rows)

    def timed(work: Callable[[], Any], before: Callable[[int], None] = lambda _: None) -> float:
        took = []
        for n in range(ROUNDS):
            before(n)
            began = time.perf_counter()
            work()
            took.append((time.perf_counter() - began) * 1000)
        return median(took)

    reference = timed(bare)
    found = orjson.loads(ask("GET", "/projects/BIG/costs"))  # with the plan in hand
    assert len(found["rows"]) == SIZE, len(found["rows"])
    first = orjson.loads(ask("GET", "/projects/BIG/tasks"))["rows"][-1]["id"]

    def edit(n: int) -> None:
        fields = {"title": f"Edit {n} of a task"}
        ask("PATCH", "/projects/BIG/tasks", {"tasks": [{"id": first, "revision": 10**8, "fields": fields}]})

    def reprice(n: int) -> None:
        ask("PUT", "/rates", {"who": found_person, "rates": [{"amount": str(33 + n)}]})

    found_person = orjson.loads(ask("GET", "/people"))[0]["id"]
    name = f"costs of {SIZE:,} tasks with {SIZE * BOOKED:,} bookings and {SIZE * ENTERED:,} entries"
    report.add(
        Line(
            f"{name}, after an edit",
            timed(lambda: ask("GET", "/projects/BIG/costs"), edit),
            "ms",
            reference,
            most=2,
            by_ratio=True,
        )
    )
    report.add(
        Line(
            f"{name}, after a rate has changed",
            timed(lambda: ask("GET", "/projects/BIG/costs"), reprice),
            "ms",
            reference,
            most=2,
            by_ratio=True,
        )
    )
    report.add(
        Line("the same by month and person", timed(lambda: ask("GET", "/projects/BIG/costs/months"), reprice), "ms", reference)
    )
    connection.close()
