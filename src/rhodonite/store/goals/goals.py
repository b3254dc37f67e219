"""Goals with their values, notes, followers, and the projects that they count."""

from __future__ import annotations

import json
from collections import defaultdict
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal
from typing import Any

from pymysql.cursors import Cursor

from ...core.goals.model import USUAL_SECTIONS, Goal, Measure, ProgressNote, Step, Value
from ..common.database import fetch_all, fetch_one, places

_COLUMNS = (
    "id, title, owner_id, first_day, last_day, at, parent_id, belongs, whose, description, seen_by, people, weight, measure,"
    " rhythm, outcome, word, closed_at, closed_value, closed_percent, closed_done, closed_total, reminded, version, deleted_at"
)


@dataclass(frozen=True, slots=True)
class GoalSettings:
    """What the organisation is there for, the sections of notes, and the count of all changes to goals."""

    purpose: str
    sections: tuple[str, ...]
    version: int


def settings(cur: Cursor) -> GoalSettings:
    """The settings of goals."""
    row = fetch_one(cur, "SELECT purpose, sections, version FROM goal_settings WHERE id = 1")
    if row is None:
        return GoalSettings("", USUAL_SECTIONS, 0)
    return GoalSettings(row[0], tuple(json.loads(row[1])) if row[1] else USUAL_SECTIONS, int(row[2]))


def version(cur: Cursor) -> int:
    """Another number after every change to a goal."""
    row = fetch_one(cur, "SELECT version FROM goal_settings WHERE id = 1")
    return int(row[0]) if row else 0


def set_settings(cur: Cursor, purpose: str, sections: Sequence[str]) -> None:
    """Write them, once they were counted up."""
    cur.execute("UPDATE goal_settings SET purpose = %s, sections = %s WHERE id = 1", (purpose, json.dumps(list(sections))))


def count_up(cur: Cursor) -> None:
    """Note that a goal changes: whoever else changes one waits until this is done."""
    cur.execute("INSERT INTO goal_settings (id) VALUES (1) ON DUPLICATE KEY UPDATE version = version + 1")


def written_measure(one: Measure) -> dict[str, Any]:
    """A measure as the tables and the journal keep it."""
    return {
        "kind": one.kind, "unit": one.unit, "sign": one.sign, "decimals": one.decimals, "start": f"{one.start:f}",
        "target": f"{one.target:f}", "projects": list(one.projects), "where": one.where, "counts": one.counts, "by": one.by,
        "field": one.field, "steps": [[step.day.isoformat(), f"{step.value:f}"] for step in one.steps],
    }  # fmt: skip


def read_measure(kept: Mapping[str, Any]) -> Measure:
    """The inverse of ``written_measure``."""
    return Measure(
        kept["kind"], kept["unit"], kept["sign"], kept["decimals"], Decimal(kept["start"]), Decimal(kept["target"]),
        tuple(kept["projects"]), kept["where"], kept["counts"], kept["by"], kept["field"],
        tuple(Step(date.fromisoformat(day), Decimal(value)) for day, value in kept["steps"]),
    )  # fmt: skip


def bare(value: Decimal) -> Decimal:
    """A number without noughts behind its decimals, and written out."""
    found = value.normalize()
    return (
        found.quantize(Decimal(1)) if isinstance(found.as_tuple().exponent, int) and found == found.to_integral_value() else found
    )


def _made(row: tuple[Any, ...]) -> Goal:
    value, done, total = (None if row[n] is None else bare(row[n]) for n in (18, 20, 21))
    measure = read_measure(json.loads(row[13]))
    fields = [*row[:11], json.loads(row[11]), row[12], measure, *row[14:18], value, row[19], done, total, *row[22:]]
    return Goal(*fields)


def _flat(one: Goal) -> tuple[Any, ...]:
    return (
        one.title, one.owner_id, one.first, one.last, one.parent_id, one.belongs, one.whose, one.description, one.seen_by,
        json.dumps(dict(one.people)), one.weight, json.dumps(written_measure(one.measure)), one.rhythm, one.outcome, one.word,
        one.closed_at, one.closed_value, one.closed_percent, one.closed_done, one.closed_total, one.reminded, one.version, one.deleted_at,
    )  # fmt: skip


def goals(cur: Cursor) -> dict[str, Goal]:
    """All goals that were not taken away, by id."""
    return {
        row[0]: _made(row)
        for row in fetch_all(cur, f"SELECT {_COLUMNS} FROM goals WHERE deleted_at IS NULL ORDER BY first_day, at, id")
    }


def goal(cur: Cursor, goal_id: str) -> Goal | None:
    """One goal, taken away or not."""
    row = fetch_one(cur, f"SELECT {_COLUMNS} FROM goals WHERE id = %s", (goal_id,))
    return _made(row) if row else None


def goals_by_id(cur: Cursor, ids: Collection[str]) -> list[Goal]:
    """Some goals that were not taken away."""
    if not ids:
        return []
    sql = f"SELECT {_COLUMNS} FROM goals WHERE deleted_at IS NULL AND id IN ({places(len(ids))})"
    return [_made(row) for row in fetch_all(cur, sql, tuple(ids))]


def count(cur: Cursor) -> int:
    """How many goals there are."""
    row = fetch_one(cur, "SELECT COUNT(*) FROM goals WHERE deleted_at IS NULL")
    return int(row[0]) if row else 0


def goals_of_project(cur: Cursor, project_id: str) -> list[Goal]:
    """The open goals that count the work of a project."""
    names = ", ".join(f"g.{one}" for one in _COLUMNS.split(", "))
    sql = f"SELECT {names} FROM goal_projects p JOIN goals g ON g.id = p.goal_id WHERE p.project_id = %s AND g.deleted_at IS NULL AND g.closed_at IS NULL"
    return [_made(row) for row in fetch_all(cur, f"{sql} ORDER BY g.first_day, g.at, g.id", (project_id,))]


def insert(cur: Cursor, one: Goal) -> None:
    """Add a goal."""
    names = (
        "title, owner_id, first_day, last_day, parent_id, belongs, whose, description, seen_by, people, weight, measure, rhythm,"
        " outcome, word, closed_at, closed_value, closed_percent, closed_done, closed_total, reminded, version, deleted_at"
    )
    cur.execute(f"INSERT INTO goals (id, at, {names}) VALUES ({places(25)})", (one.id, one.at, *_flat(one)))
    _tie(cur, one)


def update(cur: Cursor, one: Goal) -> None:
    """Write a goal anew."""
    cur.execute(
        "UPDATE goals SET title = %s, owner_id = %s, first_day = %s, last_day = %s, parent_id = %s, belongs = %s, whose = %s,"
        " description = %s, seen_by = %s, people = %s, weight = %s, measure = %s, rhythm = %s, outcome = %s, word = %s,"
        " closed_at = %s, closed_value = %s, closed_percent = %s, closed_done = %s, closed_total = %s, reminded = %s, version = %s, deleted_at = %s WHERE id = %s",
        (*_flat(one), one.id),
    )
    _tie(cur, one)


def _tie(cur: Cursor, one: Goal) -> None:
    cur.execute("DELETE FROM goal_projects WHERE goal_id = %s", (one.id,))
    if one.measure.kind in {"tasks", "field"} and one.measure.projects:
        cur.executemany(
            "INSERT INTO goal_projects (goal_id, project_id) VALUES (%s, %s)", [(one.id, each) for each in one.measure.projects]
        )


def set_reminded(cur: Cursor, goal_id: str, day: date) -> None:
    """Note up to which day the owner of a goal was reminded."""
    cur.execute("UPDATE goals SET reminded = %s WHERE id = %s", (day, goal_id))


# values

_VALUES = "id, goal_id, day, value, person_id, at, note_id, deleted_at"


def _value(row: tuple[Any, ...]) -> Value:
    fields = [*row[:3], bare(row[3]), *row[4:]]
    return Value(*fields)


def values(cur: Cursor, goal_id: str | None = None) -> dict[str, list[Value]]:
    """By goal its values, the earliest first; of one goal, or of all."""
    where, args = ("AND goal_id = %s", (goal_id,)) if goal_id else ("", ())
    found: dict[str, list[Value]] = defaultdict(list)
    for row in fetch_all(cur, f"SELECT {_VALUES} FROM goal_values WHERE deleted_at IS NULL {where} ORDER BY day, at, id", args):
        found[row[1]].append(_value(row))
    return found


def latest_values(cur: Cursor) -> dict[str, list[Value]]:
    """By goal its latest value."""
    sql = (
        f"SELECT {_VALUES} FROM (SELECT v.*, ROW_NUMBER() OVER (PARTITION BY goal_id ORDER BY day DESC, at DESC, id DESC) AS nth"
        " FROM goal_values v WHERE deleted_at IS NULL) ranked WHERE nth = 1"
    )
    return {row[1]: [_value(row)] for row in fetch_all(cur, sql)}


def count_values(cur: Cursor, goal_id: str) -> int:
    """How many values a goal has."""
    row = fetch_one(cur, "SELECT COUNT(*) FROM goal_values WHERE goal_id = %s AND deleted_at IS NULL", (goal_id,))
    return int(row[0]) if row else 0


def value(cur: Cursor, value_id: str) -> Value | None:
    """One value, taken away or not."""
    row = fetch_one(cur, f"SELECT {_VALUES} FROM goal_values WHERE id = %s", (value_id,))
    return _value(row) if row else None


def insert_value(cur: Cursor, one: Value) -> None:
    """Add a value."""
    row = (one.id, one.goal_id, one.day, one.value, one.person_id, one.at, one.note_id, one.deleted_at)
    cur.execute(f"INSERT INTO goal_values ({_VALUES}) VALUES ({places(8)})", row)


def set_value_gone(cur: Cursor, value_id: str, at: datetime | None) -> None:
    """Take a value away, or bring it back."""
    cur.execute("UPDATE goal_values SET deleted_at = %s WHERE id = %s", (at, value_id))


# notes

_NOTES = "id, goal_id, person_id, at, health, sections, people, deleted_at"


def _note(row: tuple[Any, ...]) -> ProgressNote:
    sections = tuple((name, text) for name, text in json.loads(row[5]))
    fields = [*row[:5], sections, tuple(json.loads(row[6])), row[7]]
    return ProgressNote(*fields)


def notes(cur: Cursor, goal_id: str, limit: int) -> list[ProgressNote]:
    """The notes of a goal, the latest first."""
    sql = f"SELECT {_NOTES} FROM goal_notes WHERE goal_id = %s AND deleted_at IS NULL ORDER BY at DESC, id DESC LIMIT %s"
    return [_note(row) for row in fetch_all(cur, sql, (goal_id, limit))]


def note(cur: Cursor, note_id: str) -> ProgressNote | None:
    """One note, taken away or not."""
    row = fetch_one(cur, f"SELECT {_NOTES} FROM goal_notes WHERE id = %s", (note_id,))
    return _note(row) if row else None


def latest_notes(cur: Cursor) -> dict[str, tuple[str, datetime]]:
    """By goal the health that its latest note judges, and when."""
    sql = (
        "SELECT goal_id, health, at FROM (SELECT n.*, ROW_NUMBER() OVER (PARTITION BY goal_id ORDER BY at DESC, id DESC) AS nth"
        " FROM goal_notes n WHERE deleted_at IS NULL AND health IS NOT NULL) ranked WHERE nth = 1"
    )
    return {row[0]: (row[1], row[2]) for row in fetch_all(cur, sql)}


def insert_note(cur: Cursor, one: ProgressNote) -> None:
    """Add a note."""
    row = (
        one.id,
        one.goal_id,
        one.person_id,
        one.at,
        one.health,
        json.dumps(one.sections),
        json.dumps(one.people),
        one.deleted_at,
    )
    cur.execute(f"INSERT INTO goal_notes ({_NOTES}) VALUES ({places(8)})", row)


def set_note_gone(cur: Cursor, note_id: str, at: datetime | None) -> None:
    """Take a note away with the value that it says, or bring both back."""
    cur.execute("UPDATE goal_notes SET deleted_at = %s WHERE id = %s", (at, note_id))
    cur.execute("UPDATE goal_values SET deleted_at = %s WHERE note_id = %s", (at, note_id))


def readers(cur: Cursor, note_ids: Collection[str]) -> dict[str, list[str]]:
    """By note the ids of those who read it, the first first."""
    found: dict[str, list[str]] = defaultdict(list)
    if note_ids:
        sql = f"SELECT note_id, person_id FROM goal_note_readers WHERE note_id IN ({places(len(note_ids))}) ORDER BY at"
        for note_id, person_id in fetch_all(cur, sql, tuple(note_ids)):
            found[note_id].append(person_id)
    return found


def mark_read(cur: Cursor, goal_id: str, person_id: str, at: datetime) -> None:
    """Note that a person has read the notes of a goal that others wrote."""
    cur.execute(
        "INSERT IGNORE INTO goal_note_readers (note_id, person_id, at)"
        " SELECT id, %s, %s FROM goal_notes WHERE goal_id = %s AND person_id <> %s AND deleted_at IS NULL",
        (person_id, at, goal_id, person_id),
    )


# followers


def followers(cur: Cursor, goal_id: str) -> list[str]:
    """The ids of those who follow a goal."""
    return [
        row[0] for row in fetch_all(cur, "SELECT person_id FROM goal_followers WHERE goal_id = %s ORDER BY person_id", (goal_id,))
    ]


def followed_by(cur: Cursor, person_id: str) -> set[str]:
    """The ids of the goals that a person follows."""
    return {row[0] for row in fetch_all(cur, "SELECT goal_id FROM goal_followers WHERE person_id = %s", (person_id,))}


def follow(cur: Cursor, goal_id: str, people: Iterable[str]) -> None:
    """Let people follow a goal."""
    rows = [(goal_id, one) for one in people]
    if rows:
        cur.executemany("INSERT IGNORE INTO goal_followers (goal_id, person_id) VALUES (%s, %s)", rows)


def leave(cur: Cursor, goal_id: str, person_id: str) -> None:
    """Let a person follow a goal no more."""
    cur.execute("DELETE FROM goal_followers WHERE goal_id = %s AND person_id = %s", (goal_id, person_id))


def find(cur: Cursor, text: str, limit: int) -> list[str]:
    """The ids of goals whose title holds all words of a text."""
    words = [f"%{one.replace('!', '!!').replace('%', '!%').replace('_', '!_')}%" for one in text.split()]
    where = " AND ".join(["title LIKE %s ESCAPE '!'"] * len(words))
    sql = f"SELECT id FROM goals WHERE deleted_at IS NULL AND {where} ORDER BY closed_at IS NOT NULL, title LIMIT %s"
    return [row[0] for row in fetch_all(cur, sql, (*words, limit))] if words else []
