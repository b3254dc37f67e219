"""Time entries, the timer of each person, and weeks that were handed in."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Sequence
from datetime import date, datetime
from sys import intern
from typing import Any

from pymysql.cursors import Cursor

from ...core.time.entries import Handed, TimeEntry, Timer
from ...core.time.report import Piece
from ..common.database import fetch_all, fetch_one, places

ENTRY_COLUMNS = "id, project_id, task_id, person_id, day, minutes, started, note, billable, revision, invoice_id"


def read_entry(row: tuple[Any, ...]) -> TimeEntry:
    """An entry from its columns."""
    return TimeEntry(row[0], row[1], row[2], row[3], row[4], row[5], row[6], row[7], bool(row[8]), row[9], row[10])


def entries_by_id(cur: Cursor, ids: Collection[str]) -> dict[str, tuple[TimeEntry, bool]]:
    """Some entries, and whether each is still there."""
    if not ids:
        return {}
    sql = f"SELECT {ENTRY_COLUMNS}, deleted_at IS NULL FROM time_entries WHERE id IN ({places(len(ids))})"
    return {row[0]: (read_entry(row), bool(row[-1])) for row in fetch_all(cur, sql, tuple(ids))}


def entries_of_tasks(cur: Cursor, task_ids: Collection[str], limit: int) -> list[TimeEntry]:
    """The latest entries on some tasks, the latest first."""
    if not task_ids:
        return []
    sql = f"SELECT {ENTRY_COLUMNS} FROM time_entries WHERE task_id IN ({places(len(task_ids))}) AND deleted_at IS NULL"
    return [read_entry(row) for row in fetch_all(cur, f"{sql} ORDER BY day DESC, id DESC LIMIT %s", (*task_ids, limit))]


def minutes_by_person(cur: Cursor, task_ids: Collection[str]) -> list[tuple[str, str, int]]:
    """(task, person, minutes) of some tasks."""
    if not task_ids:
        return []
    sql = f"""SELECT task_id, person_id, SUM(minutes) FROM time_entries
      WHERE task_id IN ({places(len(task_ids))}) AND deleted_at IS NULL GROUP BY task_id, person_id"""
    return [(row[0], row[1], int(row[2])) for row in fetch_all(cur, sql, tuple(task_ids))]


def entries_of_person(cur: Cursor, person_id: str, first: date, last: date) -> list[TimeEntry]:
    """A person's entries from one day to another, the earliest first."""
    sql = f"SELECT {ENTRY_COLUMNS} FROM time_entries WHERE person_id = %s AND day BETWEEN %s AND %s AND deleted_at IS NULL"
    return [read_entry(row) for row in fetch_all(cur, f"{sql} ORDER BY day, started, id", (person_id, first, last))]


def minutes_on(cur: Cursor, person_id: str, days: Collection[date], but: Collection[str]) -> dict[date, int]:
    """By day the minutes of a person's entries, leaving some out."""
    if not days:
        return {}
    without = f" AND id NOT IN ({places(len(but))})" if but else ""
    sql = f"""SELECT day, SUM(minutes) FROM time_entries WHERE person_id = %s AND day IN ({places(len(days))})
      AND deleted_at IS NULL{without} GROUP BY day"""
    return {row[0]: int(row[1]) for row in fetch_all(cur, sql, (person_id, *days, *but))}


def insert(cur: Cursor, entries: Iterable[TimeEntry], revision: int) -> None:
    """Write entries."""
    rows = [(e.id, e.project_id, e.task_id, e.person_id, e.day, e.minutes, e.started, e.note, e.billable, revision, None)
            for e in entries]  # fmt: skip
    if rows:
        cur.executemany(f"INSERT INTO time_entries ({ENTRY_COLUMNS}) VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s)", rows)


def update(cur: Cursor, entries: Iterable[TimeEntry], revision: int, deleted_at: datetime | None = None) -> None:
    """Write entries anew; whose they are stays."""
    cur.executemany(
        "UPDATE time_entries SET project_id = %s, task_id = %s, day = %s, minutes = %s, started = %s, note = %s, billable = %s,"
        " revision = %s, deleted_at = %s WHERE id = %s",
        [(e.project_id, e.task_id, e.day, e.minutes, e.started, e.note, e.billable, revision, deleted_at, e.id) for e in entries],
    )


def recount(cur: Cursor, task_ids: Collection[str], revision: int | None) -> None:
    """Count the minutes of tasks anew, and mark them as changed at a revision; None: they are marked otherwise."""
    if task_ids:
        cur.execute(
            f"""UPDATE tasks t SET t.revision = COALESCE(%s, t.revision), t.spent = (SELECT COALESCE(SUM(e.minutes), 0)
              FROM time_entries e WHERE e.task_id = t.id AND e.deleted_at IS NULL) WHERE t.id IN ({places(len(task_ids))})""",
            (revision, *task_ids),
        )


Spending = tuple[str, int, int, bool]
"""Person, ordinal of the day, minutes, billable: of one entry."""


def spendings(cur: Cursor, project_id: str, task_ids: Collection[str] | None) -> dict[str, list[Spending]]:
    """By task what was entered on it.

    Args:
        task_ids: of which tasks of the project; None: of all.
    """
    some = f" AND task_id IN ({places(len(task_ids))})" if task_ids is not None else ""
    sql = f"""SELECT task_id, person_id, TO_DAYS(day) - TO_DAYS('0001-01-01') + 1, minutes, billable FROM time_entries
      WHERE project_id = %s AND deleted_at IS NULL{some}"""
    found: dict[str, list[Spending]] = {}
    for task_id, person_id, day, minutes, billable in fetch_all(cur, sql, (project_id, *(task_ids or ()))):
        found.setdefault(intern(task_id), []).append((intern(person_id), day, minutes, billable == 1))
    return found


def move_timers(cur: Cursor, to: Iterable[tuple[str, str]]) -> None:
    """Let timers run on for other tasks: (task, the other) each."""
    cur.executemany("UPDATE timers SET task_id = %s WHERE task_id = %s", [(other, task) for task, other in to])


def pieces(
    cur: Cursor,
    project_ids: Collection[str],
    own: str | None,
    first: date,
    last: date,
    people: Sequence[str],
    billable: bool | None,
) -> list[Piece]:
    """Hours by person, task and day.

    Args:
        project_ids: whose entries are read; besides them all of ``own``, a person.
        people: whose hours only; empty: everybody's.
        billable: only those that are, or only those that are not.
    """
    seen = [f"project_id IN ({places(len(project_ids))})"] if project_ids else []
    seen += ["person_id = %s"] if own else []
    if not seen:
        return []
    where, args = f"day BETWEEN %s AND %s AND deleted_at IS NULL AND ({' OR '.join(seen)})", [first, last, *project_ids]
    args += [own] if own else []
    if people:
        where, args = f"{where} AND person_id IN ({places(len(people))})", [*args, *people]
    if billable is not None:
        where, args = f"{where} AND billable = %s", [*args, billable]
    sql = f"""SELECT person_id, project_id, task_id, day, billable, SUM(minutes), COUNT(*) FROM time_entries WHERE {where}
      GROUP BY person_id, project_id, task_id, day, billable"""
    return [Piece(row[0], row[1], row[2], row[3], bool(row[4]), int(row[5]), row[6]) for row in fetch_all(cur, sql, tuple(args))]


def entries_between(
    cur: Cursor, project_ids: Collection[str], own: str | None, first: date, last: date, limit: int
) -> list[TimeEntry]:
    """The entries of some projects, and all of one's own, the earliest first."""
    seen = [f"project_id IN ({places(len(project_ids))})"] if project_ids else []
    seen += ["person_id = %s"] if own else []
    sql = f"SELECT {ENTRY_COLUMNS} FROM time_entries WHERE day BETWEEN %s AND %s AND deleted_at IS NULL AND ({' OR '.join(seen)})"
    args = (first, last, *project_ids, *([own] if own else []), limit)
    return (
        [read_entry(row) for row in fetch_all(cur, f"{sql} ORDER BY day, person_id, started, id LIMIT %s", args)] if seen else []
    )


# timers


def timer(cur: Cursor, person_id: str) -> Timer | None:
    """The timer of a person, where it runs."""
    row = fetch_one(cur, "SELECT person_id, task_id, started_at, note, billable FROM timers WHERE person_id = %s", (person_id,))
    return Timer(row[0], row[1], row[2], row[3], bool(row[4])) if row else None


def set_timer(cur: Cursor, one: Timer) -> None:
    """Let a timer run, in place of the one that does."""
    cur.execute(
        "REPLACE INTO timers (person_id, task_id, started_at, note, billable) VALUES (%s, %s, %s, %s, %s)",
        (one.person_id, one.task_id, one.started_at, one.note, one.billable),
    )


def end_timer(cur: Cursor, person_id: str) -> None:
    """Let a person's timer run no more."""
    cur.execute("DELETE FROM timers WHERE person_id = %s", (person_id,))


def timers_of(cur: Cursor, people: Collection[str]) -> dict[str, str]:
    """By person what is another whenever their timer is: started, changed or stopped."""
    if not people:
        return {}
    sql = f"SELECT person_id, CONCAT(task_id, started_at, billable, note) FROM timers WHERE person_id IN ({places(len(people))})"
    return {row[0]: row[1] for row in fetch_all(cur, sql, tuple(people))}


# weeks that were handed in


def handed(cur: Cursor, person_id: str, mondays: Collection[date]) -> list[Handed]:
    """How some weeks of a person stand, by project; those that were never handed in are not there."""
    if not mondays:
        return []
    sql = f"""SELECT person_id, monday, project_id, state, word, by_id, at FROM handed_weeks
      WHERE person_id = %s AND monday IN ({places(len(mondays))})"""
    return [Handed(*row) for row in fetch_all(cur, sql, (person_id, *mondays))]


def waiting(cur: Cursor, project_ids: Collection[str]) -> list[Handed]:
    """The weeks that wait for a lead of some projects, the earliest first."""
    if not project_ids:
        return []
    sql = f"""SELECT person_id, monday, project_id, state, word, by_id, at FROM handed_weeks
      WHERE project_id IN ({places(len(project_ids))}) AND state = 'handed_in' ORDER BY monday, at"""
    return [Handed(*row) for row in fetch_all(cur, sql, tuple(project_ids))]


def set_handed(cur: Cursor, one: Handed) -> None:
    """Write how a week stands in a project."""
    cur.execute(
        "REPLACE INTO handed_weeks (person_id, monday, project_id, state, word, by_id, at) VALUES (%s, %s, %s, %s, %s, %s, %s)",
        (one.person_id, one.monday, one.project_id, one.state, one.word, one.by_id, one.at),
    )


def take_handed_back(cur: Cursor, person_id: str, monday: date, project_id: str) -> None:
    """Let a week be open again in a project."""
    cur.execute(
        "DELETE FROM handed_weeks WHERE person_id = %s AND monday = %s AND project_id = %s", (person_id, monday, project_id)
    )


def weeks_with_hours(cur: Cursor, person_id: str, first: date, last: date) -> dict[tuple[date, str], int]:
    """By Monday and project the minutes of a person."""
    sql = """SELECT DATE_SUB(day, INTERVAL WEEKDAY(day) DAY) AS monday, project_id, SUM(minutes) FROM time_entries
      WHERE person_id = %s AND day BETWEEN %s AND %s AND deleted_at IS NULL GROUP BY monday, project_id"""
    return {(row[0], row[1]): int(row[2]) for row in fetch_all(cur, sql, (person_id, first, last))}


def minutes_of_weeks(cur: Cursor, weeks: Sequence[tuple[str, date, str]]) -> dict[tuple[str, date, str], int]:
    """The minutes of some weeks, by person, Monday and project."""
    if not weeks:
        return {}
    one = "(person_id = %s AND project_id = %s AND day BETWEEN %s AND DATE_ADD(%s, INTERVAL 6 DAY))"
    args = [each for who, monday, project_id in weeks for each in (who, project_id, monday, monday)]
    sql = f"""SELECT person_id, DATE_SUB(day, INTERVAL WEEKDAY(day) DAY) AS monday, project_id, SUM(minutes) FROM time_entries
      WHERE deleted_at IS NULL AND ({" OR ".join([one] * len(weeks))}) GROUP BY person_id, monday, project_id"""
    return {(row[0], row[1], row[2]): int(row[3]) for row in fetch_all(cur, sql, tuple(args))}
