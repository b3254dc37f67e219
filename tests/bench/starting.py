"""What it costs to be there: memory of a process, the time from a start to the first answer, the start of a command."""

from __future__ import annotations

import json
import statistics
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from rhodonite.server.mariadb import free_port
from rhodonite.server.settings import ROOT, Settings
from rhodonite.server.supervisor import Supervisor, open_port

from .report import Line, Report

# Reads all plans as a server process does, in a process of its own, and prints bytes before and after, and tasks.
_HOLD = """
import gc, sys
from zoneinfo import ZoneInfo
from rhodonite.server.process import COLLECT_EVERY, warm_up
from rhodonite.server.application import make_app
from rhodonite.services.common.context import Clock
from rhodonite.services.common.plan_cache import PLANS
from rhodonite.store.common.database import Database

def held():
    return int(next(line for line in open("/proc/self/status") if line.startswith("VmRSS")).split()[1]) * 1024

gc.set_threshold(*COLLECT_EVERY)
before = held()
warm_up(Database(sys.argv[1], 2), Clock(ZoneInfo("UTC")))
print(before, held(), PLANS.tasks_held)
"""


def _python(*args: str) -> str:
    done = subprocess.run([sys.executable, *args], env={"PYTHONPATH": str(ROOT / "src"), "PATH": "/usr/bin:/bin"},
                          capture_output=True, text=True, check=True)  # fmt: skip
    return done.stdout


def measure_memory(report: Report, url: str) -> None:
    """What the plans of all projects take of the memory of a process."""
    before, after, tasks = map(int, _python("-c", _HOLD, url).split())
    report.add(Line("memory of a process for each task that it holds", (after - before) / tasks / 1000, "kB", most=1.5))


def measure_start(report: Report, settings: Settings) -> None:
    """From the start of the processes, the database being there, until they answer."""
    again = settings.model_copy(update={"port": free_port()})
    began = time.perf_counter()
    supervisor = Supervisor(again, open_port("127.0.0.1", again.port), None)
    supervisor.start()
    report.add(Line("ready after a start with data", (time.perf_counter() - began) * 1000, "ms", most=3000))
    supervisor.stop()


def measure_compute(report: Report) -> None:
    """The command line on a plan of a single task: nearly all of it is the start."""
    week = {day: [["09:00", "17:00"]] for day in ("mon", "tue", "wed", "thu", "fri")}
    plan = {
        "format": "rhodonite-plan/1",
        "project": {"name": "Sill", "start": "2027-03-08T09:00", "calendar": "usual"},
        "calendars": [{"id": "usual", "week": week}],
        "tasks": [{"id": "a", "name": "Order panes", "duration": 450}],
    }
    times = []
    with tempfile.TemporaryDirectory() as folder:
        file = Path(folder, "plan.json")
        file.write_text(json.dumps(plan), "utf-8")
        for _ in range(5):
            began = time.perf_counter()
            _python("-m", "rhodonite", "compute", "schedule", str(file))
            times.append((time.perf_counter() - began) * 1000)
    report.add(Line("rhodonite compute, on a plan of one task", statistics.median(times), "ms", most=300))
