"""Tasks as they go into the tables and come back."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from rhodonite.core.common.ordering import place_between
from rhodonite.core.people.model import Person
from rhodonite.core.tasks.model import Link, Task
from rhodonite.services.common.context import Actor, Clock, new_id
from rhodonite.services.tasks.projects import NewProject, create_project
from rhodonite.store.common.database import Database
from rhodonite.store.tasks import projects as project_rows
from rhodonite.store.tasks import tasks as task_rows

AT = datetime(2027, 3, 17, 9, 42)
PLACE = place_between(None, None)

words = st.text(st.characters(exclude_categories=["Cs"]), min_size=1, max_size=60)
moments = st.none() | st.datetimes(datetime(2000, 1, 1), datetime(2099, 12, 31)).map(lambda at: at.replace(microsecond=0))
values = st.none() | st.booleans() | st.integers(-(2**53), 2**53) | words | st.lists(words, max_size=3)
ids = st.uuids().map(str)


@pytest.fixture
def bare(database: Database, people: dict[str, Person], clock: Clock) -> Task:
    """A task with nothing but a title, of a project that is there."""
    new = NewProject(new_id(), "ROU", "Round trip", "", AT.date(), False)
    database.write(create_project, Actor(people["manager"], clock), new)
    state = database.read(project_rows.states, new.id)[0]
    return Task(new_id(), new.id, 1, None, PLACE, "task", "Bare", None, state.id, PLACE, revision=1)


def written_and_read(database: Database, tasks: list[Task]) -> list[Task]:
    """Write tasks into empty tables, and read them again in the same order."""

    def use(cur: Any) -> list[Task]:
        cur.execute("DELETE FROM tasks")
        task_rows.insert_tasks(cur, tasks, {}, AT)
        found = {task.id: replace(task, changed_at=None) for task in task_rows.tasks_of(cur, tasks[0].project_id)}
        assert {one.id: replace(one, changed_at=None) for one in task_rows.tasks_by_id(cur, list(found))} == found
        return [found[task.id] for task in tasks]

    return database.write(use)


@settings(max_examples=80, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(
    fields=st.fixed_dictionaries(
        {
            "title": words,
            "held_reason": st.none() | words,
            "own": st.dictionaries(ids, values, max_size=3),
            "repeats": st.none() | st.dictionaries(st.sampled_from("abc"), values, max_size=2),
            "marks": st.lists(ids, max_size=3).map(tuple),
            "start": moments,
            "held_since": moments,
            "deadline": moments,
            "elapsed": st.booleans(),
            "duration": st.none() | st.integers(0, 10**6),
        }
    )
)
def test_a_task_comes_back_as_it_was_written(database: Database, bare: Task, fields: dict[str, Any]) -> None:
    task = replace(bare, **fields)
    assert written_and_read(database, [task]) == [task]


def test_every_character_comes_back(database: Database, bare: Task) -> None:
    awkward = "".join(map(chr, [*range(1, 0x250), *range(0x2000, 0x2070), 0xFEFF, 0xFFFD, 0x1F6A2, 0x10FFFF]))
    task = replace(bare, repeats={"a": awkward}, own={"a": awkward})
    assert written_and_read(database, [task]) == [task]


def test_helpers_and_links_come_back_in_their_order(database: Database, bare: Task, people: dict[str, Person]) -> None:
    first, second = replace(bare, id=new_id()), replace(bare, id=new_id(), number=2)
    helpers = tuple(people[one].id for one in ("other", "administrator", "member"))
    waits = (
        Link(second.id, "SS", -90, elapsed=True),
        Link(first.id, "FF", 450, elapsed=False),
        Link(second.id, "FS", 0, elapsed=False),
    )
    last = replace(bare, number=3, helpers=helpers, waits_for=waits)
    assert written_and_read(database, [first, second, last]) == [first, second, last]
    assert database.read(task_rows.tasks_by_id, []) == []


def test_only_what_changed_since_is_read_the_bin_included(database: Database, bare: Task) -> None:
    old, new, gone = (
        replace(bare, revision=3),
        replace(bare, id=new_id(), number=2, revision=5),
        replace(bare, id=new_id(), number=3),
    )
    gone = replace(gone, revision=6, deleted_at=AT)
    database.write(task_rows.insert_tasks, [old, new, gone], {}, AT)
    found = database.read(task_rows.tasks_changed, bare.project_id, 3)
    assert {(one.id, one.deleted_at) for one in found} == {(new.id, None), (gone.id, AT)}
    assert [one.id for one in database.read(task_rows.tasks_in_bin, bare.project_id, 10)] == [gone.id]
    assert database.read(task_rows.tasks_changed, bare.project_id, 6) == []


def test_few_that_changed_and_many_are_read_alike(database: Database, bare: Task, people: dict[str, Person]) -> None:
    first = replace(bare, revision=2)
    waits, helpers = (Link(first.id, "FS", 450, elapsed=False),), (people["other"].id, people["member"].id)
    later = [replace(bare, id=new_id(), number=n, revision=n, waits_for=waits, helpers=helpers) for n in range(2, 452)]
    database.write(task_rows.insert_tasks, [first, *later], {}, AT)
    for since in (440, 10):
        found = sorted(database.read(task_rows.tasks_changed, bare.project_id, since), key=lambda one: one.number)
        assert [replace(one, changed_at=None) for one in found] == [one for one in later if one.revision > since]


def test_what_is_too_long_to_come_together_comes_apart(database: Database, bare: Task, people: dict[str, Person]) -> None:
    tasks = [replace(bare, id=new_id(), number=n, title=f"Course {n} of the wall") for n in range(1, 30)]
    waits = tuple(Link(one.id, "FS", lag, elapsed=False) for lag, one in enumerate(reversed(tasks)))
    helpers = tuple(people[one].id for one in ("other", "administrator", "member"))
    tasks.append(replace(bare, number=30, waits_for=waits, helpers=helpers))

    def use(cur: Any) -> list[Task]:
        task_rows.insert_tasks(cur, tasks, {}, AT)
        cur.execute("SET @kept = @@group_concat_max_len, SESSION group_concat_max_len = 1000")
        found = task_rows.tasks_of(cur, bare.project_id)
        cur.execute("SET SESSION group_concat_max_len = @kept")
        return sorted(found, key=lambda one: one.number)

    assert [replace(one, changed_at=None) for one in database.write(use)] == tasks
