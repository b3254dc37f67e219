"""The two passes at size, against the same recurrences on a general graph library, and how their time grows."""

from __future__ import annotations

import math
import random
import statistics
import time
from collections.abc import Callable
from datetime import date
from typing import Any

import networkx as nx

from rhodonite.core.common.calendars import OFFICE_WEEK, CalendarException, WorkingCalendar, minute_of
from rhodonite.core.schedule.network import Network, PlanInput, PlanLink, PlanTask
from rhodonite.core.schedule.schedule import Schedule

from .report import Line, Report

CALENDAR = WorkingCalendar(OFFICE_WEEK, [CalendarException(date(2027, 4, 2), date(2027, 4, 5), (), "spring holiday")])
PASSES = "both passes, 10,000 tasks and 15,000 links"
START = minute_of(CALENDAR.start_of_day(date(2027, 3, 8)))


def network(size: int, seed: int = 7) -> PlanInput:
    """So many tasks with half as many links again, of all types, most of them near one another."""
    chance = random.Random(seed)
    tasks = [PlanTask(f"t{i}", duration=225 * chance.randint(1, 12)) for i in range(size)]
    links = []
    for _ in range(size * 3 // 2):
        a = chance.randrange(size - 1)
        b = min(size - 1, a + 1 + int(chance.expovariate(1 / 20)))
        kind = chance.choice(["FS"] * 7 + ["SS", "FF", "SF"])
        links.append(PlanLink(f"t{a}", f"t{b}", kind, chance.choice([0, 0, 0, 450, -225])))  # type: ignore[arg-type]
    return PlanInput(START, "office", {"office": CALENDAR}, tasks, links)


def graph_of(plan: PlanInput) -> nx.MultiDiGraph:
    """The same network as a graph."""
    graph = nx.MultiDiGraph()
    graph.add_nodes_from((task.id, {"duration": task.duration}) for task in plan.tasks)
    graph.add_edges_from((link.from_id, link.to_id, {"type": link.type, "lag": link.lag}) for link in plan.links)
    return graph


def passes_on_graph(graph: nx.MultiDiGraph) -> int:
    """Topological order, then earliest and latest dates by the same four inequalities, without calendars."""
    durations = dict(graph.nodes(data="duration"))
    order = list(nx.topological_sort(graph))
    start: dict[str, int] = {}
    for task in order:
        best = 0
        for other, _, link in graph.in_edges(task, data=True):
            bound = start[other] + link["lag"] + (durations[other] if link["type"][0] == "F" else 0)
            best = max(best, bound - (durations[task] if link["type"][1] == "F" else 0))
        start[task] = best
    finish = max(start[task] + durations[task] for task in order)
    late: dict[str, int] = {}
    for task in reversed(order):
        best = finish - durations[task]
        for _, other, link in graph.out_edges(task, data=True):
            bound = late[other] - link["lag"] + (durations[other] if link["type"][1] == "F" else 0)
            best = min(best, bound - (durations[task] if link["type"][0] == "F" else 0))
        late[task] = best
    return finish


def _median(work: Callable[[], Any], rounds: int) -> float:
    times = []
    for _ in range(rounds):
        began = time.perf_counter()
        work()
        times.append(time.perf_counter() - began)
    return statistics.median(times) * 1000


def _laid_out(plan: PlanInput) -> None:
    schedule = Schedule(plan)
    assert schedule.finishes
    assert schedule.total


def measure_planning(report: Report) -> None:
    """What planning costs; the reference is the same on a graph of networkx, without calendars."""
    plan = network(10_000)
    graph, net = graph_of(plan), Network(plan)
    theirs = _median(lambda: passes_on_graph(graph), 9)
    passes = _median(lambda: Schedule(net).total, 9)
    whole = _median(lambda: _laid_out(plan), 9)
    report.add(Line(PASSES, passes, "ms", theirs, most=0.5, by_ratio=True))
    report.add(Line("the same with building the network, and dates", whole, "ms", theirs))
    sizes = (1_000, 10_000, 100_000)
    times = [_median(lambda plan=network(size): _laid_out(plan), 5) for size in sizes]  # type: ignore[misc]
    power = math.log(times[-1] / times[0]) / math.log(sizes[-1] / sizes[0])
    report.add(Line("growth of network and passes from 1,000 to 100,000 tasks: power", power, "", most=1.15))
