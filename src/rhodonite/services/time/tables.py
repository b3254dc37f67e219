"""Time entries that come in as a table: all rows of a file, or none."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping

from pymysql.cursors import Cursor

from ...core.common.dates import read_day
from ...core.common.durations import read_duration
from ...core.common.errors import RuleError
from ...core.people.model import Person
from ...core.schedule.plan import Plan
from ...core.time.entries import TimeEntry
from ...formats.csv_table import naming_line
from ...store.common.locks import lock_people, lock_project
from ...store.people import people as people_rows
from ...store.time import entries as rows
from ..common.context import Actor, new_id
from ..common.plan_cache import PLANS
from ..resources.tables import Brought, numbers_of, read_rows, task_in
from .entries import MOST_AT_ONCE, add_entries, open_ground
from .reports import ENTRY_HEADS


def entries_in(cur: Cursor, actor: Actor, code: str, data: bytes) -> Brought:
    """Bring the time entries of a file into a project. One that is there already, of the same person, task, day and minutes,
    stays as it is.

    Raises:
        RuleError: a row that cannot be, with its line.
        Missing, Forbidden: as for entering them by hand.
    """
    ground = open_ground(cur, actor, code)
    plan = PLANS.at(cur, ground.project, actor.clock.now()).plan
    people, numbers = people_rows.all_people(cur), numbers_of(plan)
    read = []
    for line, row in read_rows(data, ENTRY_HEADS, needs=("task", "day", "hours"), most=MOST_AT_ONCE):
        with naming_line(line):
            read.append(_entry(row, plan, numbers, people, actor))
    if not read:
        raise RuleError("The file has no rows with hours.", "file")
    days = [one.day for one in read]
    lock_people(cur, [one.person_id for one in read])
    lock_project(cur, ground.project.id)  # what the same file brings at this moment is there then
    there = Counter(
        (one.person_id, one.task_id, one.day, one.minutes, one.note)
        for one in rows.entries_between(cur, [plan.project.id], None, min(days), max(days), 10**6)
    )
    new = []
    for one in read:
        key = (one.person_id, one.task_id, one.day, one.minutes, one.note)
        if there[key]:
            there[key] -= 1
        else:
            new.append(one)
    if new:
        add_entries(cur, actor, code, new)
    return Brought(len(new), len(read) - len(new))


def _entry(row: dict[str, str], plan: Plan, numbers: Mapping[str, str], people: list[Person], actor: Actor) -> TimeEntry:
    if row["project"] and row["project"].upper() != plan.project.code:
        raise RuleError(
            f"This row is of {row['project'][:20]}, and this is {plan.project.code}. Bring each project’s hours in there.", "file"
        )
    day = read_day(row["day"], actor.clock.now().date())
    minutes = read_duration(row["hours"].replace(",", "."), 8 * 60, bare="hour")
    started = _time(row["from"]) if row["from"] else None
    billable = row["billable"].casefold() not in {"no", "false", "0"}
    return TimeEntry(new_id(), plan.project.id, task_in(row["task"], numbers, plan.project.code), _person(row, people, actor), day, minutes, started,
                     row["note"], billable)  # fmt: skip


def _person(row: dict[str, str], people: list[Person], actor: Actor) -> str:
    if not row["person"] and not row["e-mail"]:
        return actor.person.id
    named = [one for one in people if row["e-mail"] and one.email.casefold() == row["e-mail"].casefold()]
    named = named or [one for one in people if not row["e-mail"] and one.name.casefold() == row["person"].casefold()]
    if len(named) != 1:
        raise RuleError(f"Nobody alone is called {(row['e-mail'] or row['person'])[:60]}. Use the e-mail.", "file")
    return named[0].id


def _time(text: str) -> int:
    hours, _, minutes = text.partition(":")
    if not (hours.isdigit() and minutes.isdigit() and int(hours) < 24 and int(minutes) < 60):
        raise RuleError(f"“{text[:20]}” is no time of day. Write it as 9:15.", "file")
    return int(hours) * 60 + int(minutes)
