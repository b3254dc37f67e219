"""An installation that has data comes up to date, from every version on."""

from __future__ import annotations

import json
from collections.abc import Iterator
from datetime import datetime
from typing import Any

import pytest

from rhodonite.core.talk.parts import Comment
from rhodonite.server.mariadb import OwnMariaDB
from rhodonite.store.common import migrate as migrating
from rhodonite.store.common.database import Database, fetch_all
from rhodonite.store.common.migrate import migrate, migrations
from rhodonite.store.overview import search as search_rows
from rhodonite.store.people import people as people_rows
from rhodonite.store.talk import parts as part_rows
from rhodonite.store.tasks import projects as project_rows
from rhodonite.store.tasks import tasks as task_rows

AT = datetime(2027, 3, 8)
PERSON, PROJECT, STATE, CALENDAR, TASK = (f"0192f0c1-0000-7000-8000-00000000000{n}" for n in range(1, 6))


@pytest.fixture(scope="module")
def own(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Database]:
    """A MariaDB beside that of the other tests."""
    one = OwnMariaDB(tmp_path_factory.mktemp("coming-up-to-date"))
    one.make()
    one.start()
    database = Database(one.url, 2)
    yield database
    database.close()
    one.stop()


@pytest.fixture
def empty(own: Database) -> Database:
    """The same without any tables."""

    def drop(cur: Any) -> None:
        cur.execute("SET FOREIGN_KEY_CHECKS = 0")
        for (name,) in fetch_all(cur, "SELECT table_name FROM information_schema.tables WHERE table_schema = DATABASE()"):
            cur.execute(f"DROP TABLE `{name}`")
        cur.execute("SET FOREIGN_KEY_CHECKS = 1")

    own.write(drop)
    return own


def fill(cur: Any) -> None:
    """What an installation held before links, drafts and calendars of tasks were there."""
    cur.execute("INSERT INTO people (id, name, email, role, created_at) VALUES (%s, 'Ines Oduya', 'i@corvane.example', 'manager', %s)",
                (PERSON, AT))  # fmt: skip
    cur.execute("INSERT INTO projects (id, code, name, description, start_day, created_at, changed_at)"
                " VALUES (%s, 'LAN', 'Lantern', '', '2027-03-08', %s, %s)", (PROJECT, AT, AT))  # fmt: skip
    cur.execute("INSERT INTO calendars (id, project_id, name, week, exceptions) VALUES (%s, %s, 'Week', %s, '[]')",
                (CALENDAR, PROJECT, '{"mon": [["09:00", "17:00"]]}'))  # fmt: skip
    cur.execute("INSERT INTO states (id, project_id, name, state_class, place) VALUES (%s, %s, 'Ready', 'queued', 'a')",
                (STATE, PROJECT))  # fmt: skip
    cur.execute("INSERT INTO tasks (id, project_id, number, place, kind, title, state_id, board_place, start, finish, duration,"
                " created_at, revision) VALUES (%s, %s, 1, 'a', 'task', 'Dig', %s, 'a', %s, %s, 480, %s, 1)",
                (TASK, PROJECT, STATE, datetime(2027, 3, 8, 9), datetime(2027, 3, 8, 17), AT))  # fmt: skip


@pytest.mark.parametrize("version", [2, 3, 4, 5, 6, 7])
def test_what_was_written_before_is_there_after(empty: Database, version: int, monkeypatch: pytest.MonkeyPatch) -> None:
    everything = migrations()
    monkeypatch.setattr(migrating, "migrations", lambda: everything[:version])
    migrate(empty)
    empty.write(fill)
    if version < 7:  # descriptions were plain text
        empty.write(lambda cur: cur.execute("UPDATE tasks SET description = %s", ("Two metres & more\nby <hand>",)))
    monkeypatch.setattr(migrating, "migrations", lambda: everything)
    assert migrate(empty) == [name for number, name, _ in everything if number > version]
    task = empty.read(task_rows.tasks_of, PROJECT)[0]
    assert (task.title, task.start, task.duration, task.elapsed, task.calendar_id) == (
        "Dig",
        datetime(2027, 3, 8, 9),
        480,
        False,
        None,
    )
    if version < 7:
        assert empty.read(task_rows.description, TASK) == "<p>Two metres &amp; more</p><p>by &lt;hand&gt;</p>"
        assert empty.read(search_rows.find_tasks, "metres", [PROJECT], 5)[0][8] == "description"
    assert (task.own, task.marks, task.repeats, task.held_by_id) == ({}, (), None, None)
    assert task.constraint_type == ("start_no_earlier" if version == 2 else "asap")
    assert empty.read(project_rows.calendar, PROJECT)[:2] == (CALENDAR, {"mon": [["09:00", "17:00"]]})
    assert empty.read(project_rows.other_calendars, PROJECT) == []
    assert empty.read(people_rows.preferences, PERSON) == {}


def test_what_has_another_name_by_now_is_found_under_it(empty: Database, monkeypatch: pytest.MonkeyPatch) -> None:
    """Sheets over all projects, and what people gave comments, as they were kept before version 14."""
    everything = migrations()
    monkeypatch.setattr(migrating, "migrations", lambda: everything[:13])
    migrate(empty)
    empty.write(fill)
    before = json.dumps({"lens": "everything", "query": "late=true"})

    def keep(cur: Any) -> None:
        cur.execute(
            "INSERT INTO sheets (id, person_id, name, place, view) VALUES (%s, %s, 'Late', 'a', %s)", (STATE, PERSON, before)
        )
        cur.execute("INSERT INTO comments (id, task_id, person_id, at, body, signs) VALUES (%s, %s, %s, %s, '<p>Hm</p>', %s)",
                    (CALENDAR, TASK, PERSON, AT, json.dumps({"agree": [PERSON]})))  # fmt: skip
        cur.execute("INSERT INTO changes (id, revision, person_id, at, what) VALUES (%s, 0, %s, %s, 'x')", (TASK, PERSON, AT))
        for subject, one, field, old in (("sheet", STATE, "view", before), ("comment", CALENDAR, "signs", "{}")):
            cur.execute("INSERT INTO journal (change_id, revision, person_id, at, subject, subject_id, field, old, new)"
                        " VALUES (%s, 0, %s, %s, %s, %s, %s, %s, %s)", (TASK, PERSON, AT, subject, one, field, old, old))  # fmt: skip

    empty.write(keep)
    monkeypatch.setattr(migrating, "migrations", lambda: everything)
    migrate(empty)
    [(view,)] = empty.read(lambda cur: list(fetch_all(cur, "SELECT view FROM sheets")))
    assert json.loads(view) == {"lens": "all_work", "query": "late=true"}
    said = empty.read(part_rows.of_task, Comment, TASK)
    assert [one.reactions for one in said] == [{"agree": [PERSON]}]
    journal = empty.read(lambda cur: list(fetch_all(cur, "SELECT subject, field, old, new FROM journal ORDER BY id")))
    assert [(subject, field) for subject, field, *_ in journal] == [("sheet", "view"), ("comment", "reactions")]
    assert [json.loads(one)["lens"] for one in journal[0][2:]] == ["all_work", "all_work"]
    [project] = empty.read(project_rows.all_projects)
    assert project.lenses == ("brief", "outline", "board", "schedule")
