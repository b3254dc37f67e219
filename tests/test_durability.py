"""What was acknowledged is kept: server and MariaDB are killed in the middle of writes."""

from __future__ import annotations

import os
import shutil
import signal
import threading
import urllib.error
import uuid
from collections.abc import Iterator
from pathlib import Path

import pytest

from tests.conftest import make_folder
from tests.running import Running, Visitor, wait_until


@pytest.fixture
def running() -> Iterator[Running]:
    folder = make_folder("killed")  # what a killed process has written is there in memory too
    one = Running(folder)
    one.start()
    yield one
    one.stop(signal.SIGKILL)
    shutil.rmtree(folder, ignore_errors=True)


class Writer(threading.Thread):
    """Writes tasks one after the other, each until it is acknowledged, and notes those that were."""

    def __init__(self, visitor: Visitor, code: str) -> None:
        super().__init__(daemon=True)
        self._visitor = visitor
        self._code = code
        self.acknowledged: list[str] = []
        self.refused: list[str] = []
        self.stopping = threading.Event()

    def run(self) -> None:
        while not self.stopping.is_set():
            task, change = str(uuid.uuid4()), str(uuid.uuid4())
            body = {"tasks": [{"id": task, "title": f"Task {task}"}]}
            while not self.stopping.is_set():
                try:
                    self._visitor("POST", f"/projects/{self._code}/tasks?since=9999999.99999999.0", body, change, timeout=20)
                except urllib.error.HTTPError as error:
                    self.refused.append(f"{error.code} {error.headers.get('Content-Type')}")
                    continue
                except OSError:
                    continue  # no answer: the same change is sent again, as the web application does
                self.acknowledged.append(task)
                break


def test_no_acknowledged_write_is_lost(running: Running) -> None:
    ines = Visitor(running, "Ines Oduya")
    ines("POST", "/projects", {"code": "KILL", "name": "Kill", "start_day": "2027-03-08"})
    writers = [Writer(Visitor(running, "Ines Oduya"), "KILL") for _ in range(3)]
    for writer in writers:
        writer.start()

    def written() -> int:
        return sum(len(writer.acknowledged) for writer in writers)

    for victim in ("rhodonite.server.process", "mariadbd", "rhodonite.server.process"):
        before = written()
        wait_until(lambda before=before: written() > before + 20)
        for process in running.parts(victim):
            os.kill(process, signal.SIGKILL)
    before = written()
    wait_until(lambda: written() > before + 20)
    for writer in writers:
        writer.stopping.set()
    for writer in writers:
        writer.join()
    # while the database was away nobody was left without a word on what to do
    assert {one for writer in writers for one in writer.refused} <= {"503 application/problem+json"}
    rows = ines("GET", "/projects/KILL/tasks")["rows"]
    kept = [row["id"] for row in rows]
    assert {task for writer in writers for task in writer.acknowledged} <= set(kept)
    assert len(kept) == len(set(kept))
    assert sorted(row["number"] for row in rows) == list(range(1, len(rows) + 1))


def test_a_kill_in_the_middle_of_a_running_timer_loses_nothing(running: Running) -> None:
    ines = Visitor(running, "Ines Oduya")
    ines("POST", "/projects", {"code": "KILL", "name": "Kill", "start_day": "2027-03-08"})
    ines("PATCH", "/projects/KILL", {"revision": 99, "time": True})
    task = str(uuid.uuid4())
    ines("POST", "/projects/KILL/tasks", {"tasks": [{"id": task, "title": "Grind prisms"}]})
    began = ines("PUT", "/timer", {"task_id": task, "note": "the east panel"})["timer"]
    for victim in ("rhodonite.server.process", "mariadbd"):
        for process in running.parts(victim):
            os.kill(process, signal.SIGKILL)
        wait_until(lambda: ines("GET", "/timer")["timer"] == began | {"minutes": ines("GET", "/timer")["timer"]["minutes"]})
    running.stop(signal.SIGKILL)
    wait_until(lambda: not Path(f"/proc/{(running.folder / 'lock').read_text()}").exists())
    running.start()
    ines = Visitor(running, "Ines Oduya")
    runs = ines("GET", "/timer")["timer"]
    assert (runs["started_at"], runs["note"]) == (began["started_at"], "the east panel")

    # stopped while everything is killed: the same request, sent until it is answered, makes one entry
    def stop(change: str = str(uuid.uuid4())) -> bool:
        ines("POST", "/timer/stop", {"minutes": 95}, change, timeout=20)
        return True

    killer = threading.Timer(0.005, lambda: [os.kill(one, signal.SIGKILL) for one in running.parts("")])
    killer.start()
    wait_until(stop)
    killer.join()
    wait_until(lambda: ines("GET", "/timer")["timer"] is None)
    found = ines("GET", f"/tasks/{task}/time")["entries"]
    assert [(one["minutes"], one["note"]) for one in found] == [(95, "the east panel")]


def test_everything_killed_at_once_is_there_next_time(running: Running) -> None:
    ines = Visitor(running, "Ines Oduya")
    ines("POST", "/projects", {"code": "KILL", "name": "Kill", "start_day": "2027-03-08"})
    ines("POST", "/projects/KILL/tasks", {"tasks": [{"title": "Still here"}]})
    running.stop(signal.SIGKILL)  # the supervisor; its parts follow it
    wait_until(lambda: not Path(f"/proc/{(running.folder / 'lock').read_text()}").exists())
    running.start()
    rows = Visitor(running, "Ines Oduya")("GET", "/projects/KILL/tasks")["rows"]
    assert [row["title"] for row in rows] == ["Still here"]


def test_ctrl_c_stops_all_of_it(running: Running) -> None:
    parts = running.parts("")
    assert len(parts) >= 4  # MariaDB, two servers, the worker
    assert running.stop() == 0
    assert not [part for part in parts if Path(f"/proc/{part}").exists()]
    running.start()
