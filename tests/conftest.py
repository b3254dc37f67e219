"""A real MariaDB for the whole run, a clean one for each test, and clients that are signed in."""

from __future__ import annotations

import asyncio
import shutil
import tempfile
import uuid
from collections.abc import Callable, Coroutine, Iterator
from concurrent.futures import ThreadPoolExecutor
from datetime import datetime
from pathlib import Path
from typing import Any, TypeVar
from zoneinfo import ZoneInfo

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient
from hypothesis import settings

from rhodonite.core.people.model import Person
from rhodonite.server.application import make_app
from rhodonite.server.mariadb import OwnMariaDB
from rhodonite.server.settings import Settings
from rhodonite.services.common.context import Actor, Clock, new_id
from rhodonite.store.common.database import Database, fetch_all, fetch_one
from rhodonite.store.common.migrate import migrate
from rhodonite.store.people import people as people_rows
from tests.memory import check_memory

settings.register_profile("no clock", deadline=None)  # how long a machine takes is no matter of a test
settings.load_profile("no clock")

Result = TypeVar("Result")
NOW = datetime(2027, 3, 17, 9, 30)
ROLES = ("administrator", "manager", "member", "guest")


MEMORY = Path("/dev/shm")
NEEDED = 2 * 2**30


def make_folder(name: str) -> Path:
    """A folder for what a test run throws away: in memory where there is room, so that no disk is waited for."""
    roomy = MEMORY.is_dir() and shutil.disk_usage(MEMORY).free > NEEDED
    return Path(tempfile.mkdtemp(prefix=f"rhodonite-{name}-", dir=MEMORY if roomy else None))


@pytest.fixture(scope="session")
def mariadb() -> Iterator[Database]:
    """One MariaDB on loopback for each worker of the run, in memory."""
    folder = make_folder("mariadb")
    own = OwnMariaDB(folder, durable=False)
    own.make()
    own.start()
    database = Database(own.url, 8)
    migrate(database)
    yield database
    database.close()
    own.stop()
    shutil.rmtree(folder, ignore_errors=True)


@pytest.fixture(scope="session")
def tables(mariadb: Database) -> list[str]:
    """The names of all tables that a test may fill."""
    names = mariadb.read(fetch_all, "SELECT table_name FROM information_schema.tables WHERE table_schema = DATABASE()")
    return [name for (name,) in names if name != "migrations"]


@pytest.fixture
def database(mariadb: Database, tables: list[str]) -> Database:
    """The database, emptied."""

    def clear(cur: Any) -> None:
        filled = fetch_one(cur, "SELECT " + ", ".join(f"EXISTS (SELECT 1 FROM `{name}`)" for name in tables))
        assert filled is not None
        cur.execute("SET FOREIGN_KEY_CHECKS = 0")
        for name, some in zip(tables, filled, strict=True):
            if some:
                cur.execute(f"DELETE FROM `{name}`")
        cur.execute("SET FOREIGN_KEY_CHECKS = 1")

    mariadb.write(clear)
    return mariadb


@pytest.fixture
def clock() -> Clock:
    """A clock that stands still until a test moves it."""
    return Clock(ZoneInfo("UTC"), NOW)


@pytest.fixture
def people(database: Database, clock: Clock) -> dict[str, Person]:
    """One person of each role in the organisation, and a second member."""
    names = {
        "administrator": "Beatrix Eze",
        "manager": "Ines Oduya",
        "member": "Tomas Brekke",
        "guest": "Mila Farouk",
        "other": "Yuki Hartmann",
    }
    made = {}
    for index, (key, name) in enumerate(names.items()):
        email = f"{name.split()[0].lower()}@corvane.example"
        person = Person(new_id(), name, email, key if key in ROLES else "member", "", index, True)
        database.write(people_rows.insert_person, person, None, clock.utc())
        made[key] = person
    return made


class Caller:
    """Calls the API as one person, with the headers that the web application sends.

    Every refusal of a change is followed by ``after_refusal``: it must leave nothing behind in memory.
    """

    def __init__(self, client: TestClient, after_refusal: Callable[[], None] = lambda: None) -> None:
        self.client, self.after_refusal = client, after_refusal
        client.headers["Rhodonite-Client"] = "test"

    def __call__(self, method: str, path: str, body: Any = None, *, expect: int | None = None, **kwargs: Any) -> Any:
        """The JSON of an answer; the status must be ``expect``, else a good one."""
        if body is not None:
            kwargs["json"] = body
        answer = self.client.request(method, f"/api{path}", **kwargs)
        wanted = answer.status_code == expect if expect else answer.is_success
        assert wanted, f"{method} {path}: {answer.status_code} {answer.text[:500]}"
        if method != "GET" and answer.is_client_error:
            self.after_refusal()
        is_json = answer.content and answer.headers.get("content-type", "").split(";")[0].endswith("json")
        return answer.json() if is_json else answer

    def rows(self, code: str = "LAN") -> dict[str, dict[str, Any]]:
        """The rows of a project by title."""
        return {row["title"]: row for row in self("GET", f"/projects/{code}/tasks")["rows"]}

    def add(self, title: str, code: str = "LAN", parent: str | None = None, **fields: Any) -> dict[str, Any]:
        """Write a task down and return its row."""
        task_id = str(uuid.uuid4())
        body = {"tasks": [{"id": task_id, "title": title, "parent_id": parent, "fields": fields}]}
        rows = self("POST", f"/projects/{code}/tasks", body)["rows"]
        return next(row for row in rows if row["id"] == task_id)

    def edit(self, row: dict[str, Any], code: str = "LAN", expect: int | None = None, **fields: Any) -> Any:
        """Change fields of a task as it was seen in a row; returns its row after."""
        body = {"tasks": [{"id": row["id"], "revision": row["revision"], "fields": fields}]}
        answer = self("PATCH", f"/projects/{code}/tasks", body, expect=expect)
        return answer if expect and expect >= 400 else next(one for one in answer["rows"] if one["id"] == row["id"])


@pytest.fixture(scope="session")
def app(mariadb: Database) -> FastAPI:
    """The application, built once: nothing in it outlives a test but the clock, which each test sets."""
    return make_app(Settings(database_url="mysql://unused@127.0.0.1/unused"), mariadb)


@pytest.fixture
def sign_in(app: FastAPI, database: Database, clock: Clock, people: dict[str, Person]) -> Iterator[Callable[[str], Caller]]:
    """Callers by role: ``sign_in("member")``."""
    from rhodonite.services.common.plan_cache import PLANS
    from rhodonite.services.people.people import _open_session

    PLANS.clear()
    app.state.clock = clock
    opened: dict[str, Caller] = {}

    def enter(role: str) -> Caller:
        if role not in opened:
            client = TestClient(app, raise_server_exceptions=False)
            if role != "nobody":
                client.cookies.set("rhodonite_session", database.write(_open_session, clock, people[role]).token)
            opened[role] = Caller(client, lambda: check_memory(database, clock))
        return opened[role]

    yield enter
    check_memory(database, clock)


@pytest.fixture
def ines(sign_in: Callable[[str], Caller]) -> Caller:
    """A manager with a project, LAN, that she leads."""
    caller = sign_in("manager")
    caller("POST", "/projects", {"code": "lan", "name": "Lantern Room Restoration", "start_day": "2027-03-08"})
    return caller


@pytest.fixture
def actor(people: dict[str, Person], clock: Clock) -> Actor:
    """The manager, for calling services."""
    return Actor(people["manager"], clock)


def state_id(caller: Caller, name: str, code: str = "LAN") -> str:
    """The id of a state by its name."""
    return next(state["id"] for state in caller("GET", f"/projects/{code}")["states"] if state["name"] == name)


def run_apart(doing: Coroutine[Any, Any, Result]) -> Result:
    """Run a coroutine on a thread of its own: where a browser is driven in the same process, a loop runs on this one."""
    with ThreadPoolExecutor(1) as apart:
        return apart.submit(asyncio.run, doing).result()
