"""The load of 200 people over 180 days with 50,000 bookings, against bare SQL of the same rows; levelling."""

from __future__ import annotations

import random
import time
from collections.abc import Callable
from typing import Any

import orjson
import pymysql

from rhodonite.core.resources.levelling import Demand, Taker, level
from rhodonite.store.common.database import connection_settings

from .planning import network
from .report import Line, Report

PROJECTS, SIZE, PEOPLE = 10, 5_000, 200
SPAN = "first=2027-01-04&last=2027-07-02"


def book(url: str) -> None:
    """Give each task a booking, and let each project plan hours."""
    connection = pymysql.connect(**connection_settings(url))
    cur = connection.cursor()
    cur.execute("UPDATE projects SET hours = TRUE, revision = revision + 1, meta_revision = revision")
    cur.execute(
        "UPDATE tasks t JOIN projects q ON q.id = t.project_id"
        " JOIN (SELECT id, ROW_NUMBER() OVER (ORDER BY id) - 1 AS n FROM people) p ON p.n = t.number MOD %s"
        " SET t.bookings = CONCAT('[[\"', p.id, '\",900,\"even\",[],false]]'), t.revision = q.revision",
        (PEOPLE,),
    )
    connection.commit()
    connection.close()


def measure_load(report: Report, url: str, ask: Callable[[str, str], bytes], median_ms: Callable[..., float]) -> None:
    """The load as the page asks for it, once plans are in hand."""
    connection = pymysql.connect(**connection_settings(url))
    cur = connection.cursor()

    def bare() -> bytes:
        cur.execute("SELECT id, start, finish, bookings FROM tasks WHERE deleted_at IS NULL AND bookings <> '[]'")
        return orjson.dumps([[one, str(start), str(finish), orjson.loads(text)] for one, start, finish, text in cur.fetchall()])

    reference = median_ms(bare, 5)
    found = orjson.loads(ask("GET", f"/load?{SPAN}"))  # lays the bookings out, which is kept with each plan
    assert len(found["columns"]) == 180
    name = f"load of {PEOPLE} people over 180 days with {PROJECTS * SIZE:,} bookings"
    report.add(Line(name, median_ms(lambda: ask("GET", f"/load?{SPAN}"), 7), "ms", reference, most=300))
    connection.close()


def measure_levelling(report: Report) -> None:
    """Levelling 10,000 tasks of 200 people."""
    plan, chance = network(10_000), random.Random(1)
    demands = [Demand(task.id, f"p{chance.randrange(PEOPLE)}", chance.choice([0.5, 0.5, 1])) for task in plan.tasks]
    takers: list[Any] = [Taker(f"p{n}") for n in range(PEOPLE)]
    began = time.perf_counter()
    found = level(plan, takers, demands)
    assert not found.over
    report.add(Line("levelling 10,000 tasks of 200 people", (time.perf_counter() - began) * 1000, "ms", most=5000))
