"""A dashboard of twelve panels over everything, against bare SQL of the same rows; what it costs first, and after an edit."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import orjson

from .goals import TASKS, bare_ms, timed_ms
from .report import Line, Report

OPEN = {"state_class": ["queued", "active"]}
PANELS: list[dict[str, Any]] = [
    {"kind": "figure", "scope": OPEN},
    {"kind": "figure", "scope": {**OPEN, "late": True}},
    {"kind": "figure", "scope": OPEN, "options": {"measure": "sum", "of": "effort"}},
    {"kind": "chart", "scope": OPEN, "options": {"by": ["owner"]}},
    {"kind": "chart", "options": {"by": ["project", "class"], "measure": "sum", "of": "effort", "shape": "stacked"}},
    {"kind": "chart", "scope": {"where": '{"all": [["finish", "within", 90]]}'}, "options": {"by": ["finish"], "period": "week"}},
    {"kind": "tasks", "scope": {**OPEN, "late": True}, "options": {"columns": ["owner", "late_days"], "sort": "late_days", "down": True}},
    {"kind": "tasks", "scope": {"unowned": True}},
    {"kind": "milestones"},
    {"kind": "progress"},
    {"kind": "projects"},
    {"kind": "people", "scope": OPEN},
]  # fmt: skip


def measure_dashboard(report: Report, url: str, ask: Callable[..., bytes], code: str, task_id: str, tasks: int) -> None:
    """What the panels show when a dashboard is opened that nobody looked at, and after an edit of one task."""

    def edit(n: int) -> None:
        fields = {"percent": 10 + n}
        ask("PATCH", f"/projects/{code}/tasks", {"tasks": [{"id": task_id, "revision": 10**8, "fields": fields}]})

    # a sentence of its own each time, so that nothing that was counted before is of use; the plans are in hand
    wide = orjson.loads(ask("POST", "/dashboards", {"name": "All", "panels": PANELS}))["id"]
    reference = bare_ms(url, TASKS)
    first = orjson.loads(ask("POST", f"/dashboards/{wide}/answers", {}))
    assert not [one["problem"] for one in first if one["problem"]]
    fresh = timed_ms(lambda: ask("POST", f"/dashboards/{wide}/answers", {"scope": {"where": _another()}}))
    report.add(Line(f"12 panels over {tasks:,} tasks that nobody has asked for", fresh, "ms", reference, most=1000))
    known = {one["id"]: one["mark"] for one in first}
    after = timed_ms(lambda: ask("POST", f"/dashboards/{wide}/answers", {"known": known}), edit)
    report.add(Line("the same after an edit of one task", after, "ms", reference))


_asked = [0]


def _another() -> str:
    """A condition that holds for all work, and was not asked before."""
    _asked[0] += 1
    return f'{{"all": [["number", "least", -{_asked[0]}]]}}'
