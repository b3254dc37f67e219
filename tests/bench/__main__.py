"""Measures Rhodonite at size: ``./rhodonite bench``. Ratios are against bare SQL in the same run; machines are noisy.

A project of 10,000 tasks stands in an installation of 100,000, on a MariaDB and server processes of its own.
"""

from __future__ import annotations

import http.client
import json
import os
import shutil
import statistics
import tempfile
import time
from collections.abc import Callable
from datetime import date, datetime, timedelta
from itertools import cycle, pairwise
from pathlib import Path
from typing import Any

import orjson
import pymysql
from playwright.sync_api import sync_playwright

from rhodonite.core.common.calendars import OFFICE_WEEK, WorkingCalendar
from rhodonite.core.common.ordering import places_between
from rhodonite.core.people.model import Person
from rhodonite.core.tasks.model import Task
from rhodonite.server.mariadb import OwnMariaDB, free_port
from rhodonite.server.settings import Settings
from rhodonite.server.supervisor import Supervisor, open_port
from rhodonite.services.common.context import Actor, Clock, new_id
from rhodonite.services.people.people import _open_session
from rhodonite.services.tasks.projects import NewProject, create_project
from rhodonite.store.common.database import Database, connection_settings
from rhodonite.store.common.migrate import migrate
from rhodonite.store.people import people as people_rows
from rhodonite.store.tasks import projects as project_rows
from rhodonite.store.tasks import tasks as task_rows

from .planning import measure_planning

BIG, OTHERS, OTHER_SIZE = 10_000, 10, 9_000
ROUNDS = 15
CALENDAR = WorkingCalendar(OFFICE_WEEK)


def median_ms(work: Callable[[], Any], rounds: int = ROUNDS) -> float:
    """The median time of some work, in milliseconds, after one round to warm up."""
    work()
    times = []
    for _ in range(rounds):
        began = time.perf_counter()
        work()
        times.append((time.perf_counter() - began) * 1000)
    return statistics.median(times)


def fill(database: Database, clock: Clock) -> tuple[str, str]:
    """Make people and projects. Returns a session token and the id of a task of the big project."""
    people = [Person(new_id(), f"Person {n}", f"p{n}@corvane.example", "manager", "", n % 12, True) for n in range(20)]
    for person in people:
        database.write(people_rows.insert_person, person, None, clock.utc())
    leaves = []
    for index in range(OTHERS + 1):
        code = f"P{index}" if index else "BIG"
        new = NewProject(new_id(), code, f"Project {code}", "", date(2027, 1, 4), False)
        database.write(create_project, Actor(people[0], clock), new)
        leaves.append(fill_project(database, clock, new.id, people, OTHER_SIZE if index else BIG))
    return database.write(_open_session, clock, people[0]).token, leaves[0]


def fill_project(database: Database, clock: Clock, project_id: str, people: list[Person], size: int) -> str:
    """Write tasks in three levels, twenty to a parent. Returns the id of a leaf."""

    def write(cur: Any) -> str:
        states = project_rows.states(cur, project_id)
        places = places_between(None, None, size)
        made: list[Task] = []
        parents: list[str | None] = [None]
        for n in range(size):
            depth = 0 if n % 200 == 0 else 1 if n % 20 == 1 else 2
            task_id = new_id()
            start = CALENDAR.start_of_day(date(2027, 1, 4) + timedelta(days=n % 500))
            duration = 450 * (1 + n % 7)
            made.append(
                Task(
                    task_id, project_id, n + 1, parents[depth], places[n], "task", f"Task {n + 1} on the {n % 97}th stone of the pier",
                    people[n % 20].id if n % 9 else None, states[n % 3].id, places[n], start=start,
                    finish=CALENDAR.add_to(start, duration), duration=duration, constraint_type="start_no_earlier",
                    constraint_at=start, percent=(n * 7) % 90, state_since=datetime(2027, 1, 4), revision=1,
                )
            )  # fmt: skip
            parents = [*parents[: depth + 1], task_id]
        task_rows.insert_tasks(cur, made, {}, clock.utc())
        leaves = [one for index, one in enumerate(made) if index % 200 and index % 20 != 1]
        links = [(b.id, a.id) for a, b in pairwise(leaves) if b.number % 12] + [
            (b.id, a.id) for a, b in zip(leaves, leaves[40:], strict=False) if b.number % 5 < 3
        ]
        cur.executemany("INSERT INTO links (to_id, from_id, link_type) VALUES (%s, %s, 'FS')", links)
        cur.execute(  # each has a description of a dozen words
            "INSERT INTO task_words (subject_id, task_id, project_id, source, words) SELECT id, id, project_id, 'description',"
            " CONCAT('Set the ', number %% 97, 'th block of granite by crane ', number %% 13, ' at low water, marker q', number)"
            " FROM tasks WHERE project_id = %s",
            (project_id,),
        )
        cur.execute("UPDATE projects SET next_number = %s WHERE id = %s", (size + 1, project_id))
        return made[-1].id

    return database.write(write)


class Client:
    """One kept connection to the server."""

    def __init__(self, port: int, token: str) -> None:
        self._connection = http.client.HTTPConnection("127.0.0.1", port, timeout=120)
        self._headers = {"Cookie": f"rhodonite_session={token}", "Rhodonite-Client": "bench", "Content-Type": "application/json"}

    def __call__(self, method: str, path: str, body: Any = None) -> bytes:
        self._connection.request(method, f"/api{path}", None if body is None else json.dumps(body), self._headers)
        answer = self._connection.getresponse()
        data = answer.read()
        assert answer.status < 300, data[:400]
        return data


def report(name: str, ours: float, reference: float, aim: str) -> None:
    """One line of figures."""
    print(f"{name:<46} {ours:9.2f} ms   reference {reference:9.2f} ms   ratio {ours / reference:6.2f}   (aim: {aim})", flush=True)


def measure_server(url: str, port: int, token: str, task_id: str) -> None:
    """Answers against bare SQL of the same rows with their JSON; one edit against a bare UPDATE with commit."""
    connection = pymysql.connect(**connection_settings(url))
    cur = connection.cursor()
    columns = ", ".join(task_rows.COLUMNS)
    cur.execute("SELECT id FROM projects WHERE code = 'BIG'")
    project_id = cur.fetchone()[0]

    def bare_rows() -> bytes:
        cur.execute(f"SELECT {columns} FROM tasks WHERE project_id = %s AND deleted_at IS NULL", (project_id,))
        return orjson.dumps([dict(zip(task_rows.COLUMNS, row, strict=True)) for row in cur.fetchall()])

    client = Client(port, token)
    reference = median_ms(bare_rows)
    began = time.perf_counter()
    late = {"groups": ["project"], "columns": [{"key": "effort", "foot": "sum"}], "sorts": [{"key": "finish"}]}
    client("POST", "/view?late=true", late)  # waits for what the server reads ahead, so that nothing else runs from here on
    report("all plans in hand after a start", (time.perf_counter() - began) * 1000, reference, "no aim")
    report("10,000 rows for outline and board", median_ms(lambda: client("GET", "/projects/BIG/tasks")), reference, "at most 2")
    report(
        "scope of the outline",
        median_ms(lambda: client("GET", "/projects/BIG/scope?text=stone&state_class=active")),
        reference,
        "no aim",
    )
    report("brief", median_ms(lambda: client("GET", "/projects/BIG/brief"), 5), reference, "no aim")
    report("list of all work over 100,000 tasks", median_ms(lambda: client("GET", "/projects")), reference, "no aim")
    report("desk over 100,000 tasks", median_ms(lambda: client("GET", "/desk"), 5), reference, "no aim")
    for what, text in (("a title", "4242"), ("a word that all titles have", "stone"), ("a word of a description", "q4242")):
        found = median_ms(lambda text=text: client("GET", f"/find?text={text}"))  # type: ignore[misc]
        report(f"finding {what} in 100,000 tasks", found, reference, "100 ms")
    view = {
        "groups": ["owner", "state"],
        "columns": [{"key": "effort", "foot": "sum"}],
        "tints": [{"id": "t", "name": "Late", "where": {"all": [["late", "yes"]]}, "colour": "ember", "covers": ["row"]}],
    }
    report(
        "groups, sums and tints of 10,000", median_ms(lambda: client("POST", "/projects/BIG/view", view), 5), reference, "no aim"
    )
    report("everything late in 100,000", median_ms(lambda: client("POST", "/view?late=true", late), 5), reference, "no aim")
    mine = median_ms(lambda: client("POST", "/view?owner=me&late=true", late), 5)
    report("everything late of mine in 100,000", mine, reference, "no aim")
    out = median_ms(lambda: client("GET", "/projects/BIG/tasks.csv"), 3)
    report("10,000 tasks as CSV with all columns", out, reference, "no aim")
    today = datetime.now().date().isoformat()
    report(
        "the plan of a day beside the plan",
        median_ms(lambda: client("GET", f"/projects/BIG/compare?first={today}"), 3),
        reference,
        "no aim",
    )
    numbers = iter(range(100_000))

    def bare_edit() -> None:
        cur.execute("UPDATE tasks SET percent = %s WHERE id = %s", (next(numbers) % 90, task_id))
        connection.commit()

    mark = orjson.loads(client("GET", "/projects/BIG/tasks"))["mark"]

    def edit() -> None:
        nonlocal mark
        body = {"tasks": [{"id": task_id, "revision": 10**8, "fields": {"percent": next(numbers) % 90}}]}
        mark = orjson.loads(client("PATCH", f"/projects/BIG/tasks?since={mark}", body))["mark"]

    report("one edit, with journal, permissions and answer", median_ms(edit, 60), median_ms(bare_edit, 60), "at most 4")
    cur.execute("SELECT t.id FROM tasks t WHERE t.project_id = %s AND t.deleted_at IS NULL AND NOT EXISTS"
                " (SELECT 1 FROM tasks c WHERE c.parent_id = t.id) ORDER BY t.number LIMIT 1000", (project_id,))  # fmt: skip
    thousand = [row[0] for row in cur.fetchall()]
    priorities = cycle(["must", "should", "could"])

    def edit_many() -> None:
        nonlocal mark
        fields = {"priority": next(priorities)}
        body = {"tasks": [{"id": one, "revision": 10**8, "fields": fields} for one in thousand]}
        mark = orjson.loads(client("PATCH", f"/projects/BIG/tasks?since={mark}", body))["mark"]

    print(f"{'1,000 tasks changed in one request':<46} {median_ms(edit_many, 5):9.0f} ms   (aim: under 1,000 ms)", flush=True)
    cur.execute("SELECT t.id FROM tasks t JOIN links l ON l.from_id = t.id WHERE t.project_id = %s AND t.state_id ="
                " (SELECT MIN(state_id) FROM tasks WHERE project_id = t.project_id) ORDER BY t.number LIMIT 400, 1", (project_id,))  # fmt: skip
    row = cur.fetchone()
    assert row is not None
    body = {"tasks": [{"id": row[0], "revision": 10**8, "fields": {"duration": "9 d"}}]}
    moved = orjson.loads(client("POST", "/projects/BIG/ripple", body))["moved"]
    ripple = median_ms(lambda: client("POST", "/projects/BIG/ripple", body))
    print(f"{f'a ripple over 10,000 tasks that moves {moved}':<46} {ripple:9.0f} ms   (aim: under 150 ms)", flush=True)
    connection.close()


def measure_browser(port: int, token: str) -> None:
    """First rows seen, and frames while scrolling at 3,000 pixels (a hundred rows) a second."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=["--no-sandbox", "--disable-gpu"])
        context = browser.new_context(viewport={"width": 1280, "height": 800})
        context.add_cookies([{"name": "rhodonite_session", "value": token, "url": f"http://127.0.0.1:{port}"}])
        page = context.new_page()
        times = []
        for _ in range(5):
            page.goto("about:blank")
            began = time.perf_counter()
            page.goto(f"http://127.0.0.1:{port}/p/BIG/outline", wait_until="commit")
            page.locator("[role=row][data-row]").first.wait_for()
            times.append((time.perf_counter() - began) * 1000)
        print(f"{'first rows of 10,000 seen in Chromium':<46} {statistics.median(times):9.0f} ms   (aim: under 1,500 ms)")
        for lens, selector in (("outline", "[role=treegrid]"), ("schedule", "[data-bar]")):
            page.goto(f"http://127.0.0.1:{port}/p/BIG/{lens}")
            page.locator(selector).first.wait_for()
            _say_frames(f"frames while scrolling the {lens}", page.evaluate(SCROLL, selector))
        _say_frames("frames while zooming the schedule", page.evaluate(ZOOM))
        browser.close()


def _say_frames(name: str, frames: dict[str, float]) -> None:
    print(f"{name:<46} {frames['rate']:9.0f} a second, slowest {frames['slowest']:.0f} ms   (aim: 50 or more)", flush=True)


SCROLL = """selector => new Promise(done => {
  let box = document.querySelector(selector);
  while (box && !(box.scrollHeight > box.clientHeight + 10 && getComputedStyle(box).overflowY !== 'visible')) box = box.parentElement;
  const times = []; const seconds = 4;
  const step = now => {
    times.push(now);
    box.scrollTop = (now - times[0]) * 3;
    if (now - times[0] < seconds * 1000) requestAnimationFrame(step);
    else {
      const gaps = times.slice(1).map((at, index) => at - times[index]);
      done({rate: gaps.length / ((times.at(-1) - times[0]) / 1000), slowest: Math.max(...gaps)});
    }
  };
  requestAnimationFrame(step);
})"""


# in and out again, a wheel click each frame, with the pointer in the middle of the bars
ZOOM = """() => new Promise(done => {
  const box = document.querySelector('[data-bar]').closest('.overflow-auto').getBoundingClientRect();
  const at = {clientX: box.left + box.width * 0.7, clientY: box.top + box.height / 2, ctrlKey: true, bubbles: true, cancelable: true};
  const target = document.elementFromPoint(at.clientX, at.clientY);
  const times = [];
  const step = now => {
    times.push(now);
    target.dispatchEvent(new WheelEvent('wheel', {...at, deltaY: times.length % 60 < 30 ? -40 : 40}));
    if (now - times[0] < 4000) requestAnimationFrame(step);
    else {
      const gaps = times.slice(1).map((moment, index) => moment - times[index]);
      done({rate: gaps.length / ((times.at(-1) - times[0]) / 1000), slowest: Math.max(...gaps)});
    }
  };
  requestAnimationFrame(step);
})"""


def main() -> None:
    """Make the installation, start the server on it, measure."""
    folder = Path(tempfile.mkdtemp(prefix="rhodonite-bench-"))
    os.environ.pop("RHODONITE_NOW", None)
    own = OwnMariaDB(folder / "mariadb")
    own.make()
    own.start()
    database = Database(own.url, 4)
    supervisor = None
    try:
        migrate(database)
        settings = Settings(database_url=own.url, data=folder, port=free_port(), workers=1)
        (folder / "metrics").mkdir()
        print(f"Filling in {BIG + OTHERS * OTHER_SIZE:,} tasks ...", flush=True)
        token, task_id = fill(database, settings.clock())
        supervisor = Supervisor(settings, open_port("127.0.0.1", settings.port), None)
        supervisor.start()
        measure_planning()
        measure_server(own.url, settings.port, token, task_id)
        measure_browser(settings.port, token)
    finally:
        if supervisor:
            supervisor.stop()
        database.close()
        own.stop()
        shutil.rmtree(folder, ignore_errors=True)


if __name__ == "__main__":
    main()
