"""Measures Rhodonite at size: ``./rhodonite bench``. Ratios are against bare SQL in the same run; machines are noisy.

A project of 10,000 tasks stands in an installation of 100,000, on a MariaDB and server processes of its own.
"""

from __future__ import annotations

import gc
import http.client
import json
import os
import shutil
import statistics
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from itertools import cycle, pairwise
from pathlib import Path
from typing import Any

import orjson
import pymysql

from rhodonite.core.common.calendars import OFFICE_WEEK, WorkingCalendar
from rhodonite.core.common.ordering import places_between
from rhodonite.core.people.model import Person
from rhodonite.core.tasks.model import Task
from rhodonite.server.mariadb import OwnMariaDB, free_port
from rhodonite.server.process import COLLECT_EVERY
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

from . import cost, dashboards, goals, load, portfolio
from .browser import measure_board, measure_browser
from .crowd import PEOPLE, crowd
from .load import measure_levelling, measure_load, plan_hours
from .planning import PASSES, measure_planning
from .report import Line, Report
from .starting import measure_compute, measure_memory, measure_start

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


def fill(
    database: Database, clock: Clock, projects: int, size: int, working: int, biggest: int
) -> tuple[list[str], str, list[Person]]:
    """Make people and projects. Returns the codes, the id of a task of the first project, and the people."""
    people = [
        Person(new_id(), f"Person {n}", f"p{n}@corvane.example", "manager", "", n % 12, True) for n in range(max(20, working))
    ]
    for person in people:
        database.write(people_rows.insert_person, person, None, clock.utc())
    codes, leaves = [], []
    for index in range(projects):
        code = f"P{index}" if index else "BIG"
        new = NewProject(new_id(), code, f"Project {code}", "", date(2027, 1, 4), False)
        database.write(create_project, Actor(people[0], clock), new)
        leaves.append(fill_project(database, clock, new.id, people[:20], size if index else biggest))
        codes.append(code)
    return codes, leaves[0], people[:working]


def fill_more(database: Database, clock: Clock, person: Person) -> None:
    """A small project, and one in which 5,000 of 10,000 tasks wait for the first, in ten rows."""
    for code, write in (("SMALL", lambda one: fill_project(database, clock, one, [person], 150)),
                        ("CHAIN", lambda one: fill_chain(database, clock, one))):  # fmt: skip
        new = NewProject(new_id(), code, f"Project {code}", "", date(2027, 1, 4), False)
        database.write(create_project, Actor(person, clock), new)
        write(new.id)


def fill_chain(database: Database, clock: Clock, project_id: str) -> None:
    """Write ten rows of 500 tasks that wait for one another, all of them for the first, and 5,000 that wait for nothing."""

    def write(cur: Any) -> None:
        state = project_rows.states(cur, project_id)[0]
        places = places_between(None, None, BIG)
        start = CALENDAR.start_of_day(date(2027, 1, 4))
        made = [
            Task(
                new_id(), project_id, n + 1, None, place, "task", f"Course {n + 1} of the wall", None, state.id, place, start=start,
                finish=CALENDAR.add_to(start, 450), duration=450, state_since=start, revision=1,
            )
            for n, place in enumerate(places)
        ]  # fmt: skip
        task_rows.insert_tasks(cur, made, {}, clock.utc())
        rows = [made[n : n + 500] for n in range(1, 5001, 500)]
        links = [(after.id, before.id) for row in rows for before, after in pairwise([made[0], *row])]
        cur.executemany("INSERT INTO links (to_id, from_id, link_type) VALUES (%s, %s, 'FS')", links)
        cur.execute("UPDATE projects SET next_number = %s WHERE id = %s", (BIG + 1, project_id))

    database.write(write)


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
                    people[n % len(people)].id if n % 9 else None, states[n % 3].id, places[n], start=start,
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


def measure_server(report: Report, url: str, port: int, token: str, task_id: str) -> None:
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

    def say(name: str, value: float, **aims: Any) -> None:
        report.add(Line(name, value, "ms", reference, **aims))

    began = time.perf_counter()
    late = {"groups": ["project"], "columns": [{"key": "effort", "foot": "sum"}], "sorts": [{"key": "finish"}]}
    client("POST", "/view?late=true", late)  # waits for what the server reads ahead, so that nothing else runs from here on
    say("all plans of 100,000 tasks in hand after a start", (time.perf_counter() - began) * 1000, most=6000)
    say(
        "10,000 rows, scope and horizon for a page", median_ms(lambda: client("GET", "/projects/BIG/page")), most=2, by_ratio=True
    )
    scope = median_ms(lambda: client("GET", "/projects/BIG/scope?text=stone&state_class=active"))
    say("scope of the outline", scope)
    say("brief", median_ms(lambda: client("GET", "/projects/BIG/brief"), 5))
    say("list of all work over 100,000 tasks", median_ms(lambda: client("GET", "/projects")), most=150)
    say("desk over 100,000 tasks", median_ms(lambda: client("GET", "/desk"), 5), most=150)
    for what, text in (("a title", "4242"), ("a word that all titles have", "stone"), ("a word of a description", "q4242")):
        found = median_ms(lambda text=text: client("GET", f"/find?text={text}"))  # type: ignore[misc]
        say(f"finding {what} in 100,000 tasks", found, most=100)
    view = {
        "groups": ["owner", "state"],
        "columns": [{"key": "effort", "foot": "sum"}],
        "tints": [{"id": "t", "name": "Late", "where": {"all": [["late", "yes"]]}, "colour": "ember", "covers": ["row"]}],
    }
    say("groups, sums and tints of 10,000", median_ms(lambda: client("POST", "/projects/BIG/view", view), 5))
    say("all work that is late, of 100,000", median_ms(lambda: client("POST", "/view?late=true", late), 5), most=150)
    say("all work of mine that is late, of 100,000", median_ms(lambda: client("POST", "/view?owner=me&late=true", late), 5))
    say("10,000 tasks as CSV with all columns", median_ms(lambda: client("GET", "/projects/BIG/tasks.csv"), 3))
    today = datetime.now().date().isoformat()
    say("the plan of a day beside the plan", median_ms(lambda: client("GET", f"/projects/BIG/compare?first={today}"), 3))
    measure_edits(report, connection, client, project_id, task_id)
    cur.execute("SELECT t.id FROM tasks t JOIN projects p ON p.id = t.project_id AND p.code = 'CHAIN' ORDER BY t.number LIMIT 1")
    measure_ripple(report, client, cur.fetchone()[0], url)
    connection.close()


def measure_edits(report: Report, connection: Any, client: Client, project_id: Any, task_id: str) -> None:
    """One edit against the same rows and journal in one transaction by bare SQL; many; a ripple."""
    cur = connection.cursor()
    numbers = iter(range(100_000))

    def bare_edit() -> None:
        n = next(numbers)
        cur.execute("SELECT revision FROM projects WHERE id = %s FOR UPDATE", (project_id,))
        cur.execute("UPDATE projects SET revision = revision + 1 WHERE id = %s", (project_id,))
        change = new_id()
        cur.execute(
            "INSERT INTO changes (id, project_id, revision, person_id, at, what) SELECT %s, id, revision, lead_id, NOW(6), 'x'"
            " FROM projects WHERE id = %s",
            (change, project_id),
        )
        cur.execute("UPDATE tasks SET percent = %s, revision = %s WHERE id = %s", (n % 90, n, task_id))
        cur.execute(
            "INSERT INTO journal (change_id, project_id, revision, person_id, at, subject, subject_id, field, old, new)"
            " SELECT %s, id, revision, lead_id, NOW(6), 'task', %s, 'percent', '1', '2' FROM projects WHERE id = %s",
            (change, task_id, project_id),
        )
        connection.commit()

    mark = orjson.loads(client("GET", "/projects/BIG/tasks"))["mark"]

    def edit() -> None:
        nonlocal mark
        body = {"tasks": [{"id": task_id, "revision": 10**8, "fields": {"percent": next(numbers) % 90}}]}
        mark = orjson.loads(client("PATCH", f"/projects/BIG/tasks?since={mark}", body))["mark"]

    ours = median_ms(edit, 60)
    report.add(Line("one edit, with permissions, rules and answer", ours, "ms", median_ms(bare_edit, 60), most=3, by_ratio=True))
    cur.execute("SELECT t.id FROM tasks t WHERE t.project_id = %s AND t.deleted_at IS NULL AND NOT EXISTS"
                " (SELECT 1 FROM tasks c WHERE c.parent_id = t.id) ORDER BY t.number LIMIT 1000", (project_id,))  # fmt: skip
    thousand = [row[0] for row in cur.fetchall()]
    priorities = cycle(["must", "should", "could"])

    def edit_many() -> None:
        nonlocal mark
        fields = {"priority": next(priorities)}
        body = {"tasks": [{"id": one, "revision": 10**8, "fields": fields} for one in thousand]}
        mark = orjson.loads(client("PATCH", f"/projects/BIG/tasks?since={mark}", body))["mark"]

    report.add(Line("1,000 tasks changed in one request", median_ms(edit_many, 5), "ms", most=1000))


def measure_ripple(report: Report, client: Client, first: str, url: str) -> None:
    """The change of a duration that moves 5,000 of 10,000 tasks: shown, and written.

    Args:
        first: the task that the others wait for.
    """

    def body(days: int) -> dict[str, Any]:
        return {"tasks": [{"id": first, "revision": 10**8, "fields": {"duration": f"{days} d"}}]}

    mark = orjson.loads(client("PATCH", "/projects/CHAIN/tasks", body(2)))["mark"]  # which lays all of them out
    moved = int(orjson.loads(client("POST", "/projects/CHAIN/ripple", body(9)))["moved"])
    passes = next(line.value for line in report.lines if line.name == PASSES)
    shown = median_ms(lambda: client("POST", "/projects/CHAIN/ripple", body(9)), 7)
    name = f"a ripple over 10,000 tasks that moves {moved:,}"
    report.add(Line(f"{name}: shown, against both passes", shown, "ms", passes, most=3, by_ratio=True))
    days = cycle([9, 8])
    written = median_ms(lambda: client("PATCH", f"/projects/CHAIN/tasks?since={mark}", body(next(days))), 3)
    report.add(Line(f"{name}: written, and answered", written, "ms", most=1000))
    plan_hours(url, "CHAIN")
    client("POST", "/projects/CHAIN/ripple", body(9))  # lays the bookings out, which is kept with the plan
    with_hours = median_ms(lambda: client("POST", "/projects/CHAIN/ripple", body(9)), 7)
    report.add(Line(f"{name}: shown with a booking on each, against without", with_hours, "ms", shown, most=2, by_ratio=True))


def measure_crowds(report: Report) -> None:
    """Two hundred people at once, each crowd on an installation of its own."""
    for projects, size, aims in ((1, 2000, (40, 250, 600, 1000)), (20, 500, (None, 120, None, None))):
        with installation(projects, size, PEOPLE) as made:
            if projects == 1:
                measure_board(report, made.port, made.tokens[0])
                portfolio.measure_moves(report, made.port, made.tokens[0])
            figures = crowd(made.port, made.tokens, made.codes)
        where = f"200 people on {projects} {'project' if projects == 1 else 'projects'} of {size:,}"
        assert figures.answers, figures.wrong
        report.add(Line(f"{where}: what went wrong", len(figures.wrong), "", most=0))
        report.add(Line(f"{where}: median", figures.median, "ms", most=aims[0]))
        report.add(Line(f"{where}: 95 of 100 answers", figures.at(95), "ms", most=aims[1]))
        report.add(Line(f"{where}: 99 of 100 answers", figures.at(99), "ms", most=aims[2]))
        report.add(Line(f"{where}: the slowest change to reach another", max(figures.reach) * 1000, "ms", most=aims[3]))


@dataclass(frozen=True, slots=True)
class Installation:
    """A server on tables of its own."""

    url: str
    port: int
    codes: list[str]
    tokens: list[str]
    task_id: str
    settings: Settings


@contextmanager
def installation(
    projects: int, size: int, people: int, *, biggest: int | None = None, workers: int = 2
) -> Iterator[Installation]:
    """Make one, with projects filled with tasks, and stop it again.

    Args:
        people: how many are signed in.
        biggest: tasks of the first project, where it has more than the others.
    """
    folder = Path(tempfile.mkdtemp(prefix="rhodonite-bench-"))
    own = OwnMariaDB(folder / "mariadb")
    own.make()
    own.start()
    database = Database(own.url, 4)
    supervisor = None
    try:
        migrate(database)
        settings = Settings(database_url=own.url, data=folder, port=free_port(), workers=workers)
        (folder / "metrics").mkdir()
        clock = settings.clock()
        print(f"Filling in {(biggest or size) + (projects - 1) * size:,} tasks ...", flush=True)
        codes, task_id, working = fill(database, clock, projects, size, people, biggest or size)
        if biggest:
            fill_more(database, clock, working[0])
        tokens = [database.write(_open_session, clock, one).token for one in working]
        supervisor = Supervisor(settings, open_port("127.0.0.1", settings.port), None)
        supervisor.start()
        yield Installation(own.url, settings.port, codes, tokens, task_id, settings)
    finally:
        if supervisor:
            supervisor.stop()
        database.close()
        own.stop()
        shutil.rmtree(folder, ignore_errors=True)


def somebody_else(made: Installation) -> Callable[[int], None]:
    """What another person does to the first task of the large project."""
    client = Client(made.port, made.tokens[1])
    held = orjson.loads(client("GET", "/projects/BIG/tasks"))
    first = min(held["rows"], key=lambda row: row["number"])["id"]
    mark = held["mark"]

    def edit(n: int) -> None:
        nonlocal mark
        body = {"tasks": [{"id": first, "revision": 10**8, "fields": {"title": f"Edit {n} by somebody else"}}]}
        mark = orjson.loads(client("PATCH", f"/projects/BIG/tasks?since={mark}", body))["mark"]

    return edit


def main() -> None:
    """Measure, and write down what came of it."""
    os.environ.pop("RHODONITE_NOW", None)
    gc.set_threshold(*COLLECT_EVERY)  # as a server process has it
    report = Report()
    report.feel()
    measure_planning(report)
    report.feel()
    with installation(OTHERS + 1, OTHER_SIZE, 20, biggest=BIG, workers=1) as made:
        measure_server(report, made.url, made.port, made.tokens[0], made.task_id)
        ask = Client(made.port, made.tokens[0])
        dashboards.measure_dashboard(report, made.url, ask, "BIG", made.task_id, BIG + OTHERS * OTHER_SIZE)
        measure_browser(report, made.port, made.tokens[0], somebody_else(made))
        measure_memory(report, made.url)
        measure_start(report, made.settings)
    measure_compute(report)
    measure_levelling(report)
    with installation(load.PROJECTS, load.SIZE, load.PEOPLE, workers=1) as made:
        load.book(made.url)
        measure_load(report, made.url, Client(made.port, made.tokens[0]), median_ms)
    with installation(1, cost.SIZE, cost.PEOPLE, workers=1) as made:
        cost.spend(made.url)
        cost.measure_costs(report, made.url, Client(made.port, made.tokens[0]))
        goals.measure_draft(report, made.url, Client(made.port, made.tokens[0]), made.task_id, cost.SIZE)
    with installation(goals.PROJECTS, goals.SIZE, goals.PEOPLE, workers=1) as made:
        goals.aim(made.url)
        goals.measure_goals(report, made.url, Client(made.port, made.tokens[0]), "BIG", made.task_id)
    with installation(portfolio.PROJECTS, portfolio.SIZE, portfolio.PEOPLE, workers=1) as made:
        ask = Client(made.port, made.tokens[0])
        portfolio.join_all(ask)
        portfolio.measure_portfolio(report, made.url, ask, "BIG", made.task_id)
    report.feel()
    measure_crowds(report)
    report.feel()
    worse = report.write(ABOUT)
    print("\nNothing is worse by a third than last time." if not worse else "\nWorse by a third than last time:")
    for line in worse:
        print(f"  {line}")


ABOUT = """a project of 10,000 tasks in an
installation of 100,000; and crowds of 200 people, each of whom does something every 3 to 6 seconds (35 in 100 looks for what has
changed, 25 open brief, scope or desk, 25 edit, of which one in twenty moves all that waits, 10 find, 5 open a task) and follows the
live stream, who come within 20 seconds and stay for 60."""


if __name__ == "__main__":
    main()
