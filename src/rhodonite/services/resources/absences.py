"""When people are away: written down by themselves, or by who plans the time of others."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.bounds import MOST_ABSENCES
from ...core.common.errors import Missing, RuleError
from ...core.resources.bookable import check_absence
from ...core.resources.capacity import Absence
from ...formats.csv_table import naming_line
from ...store.people import people as people_rows
from ...store.resources import bookable as rows
from ..common.context import Actor, AlreadyDone, Log, once, writing
from ..common.pipeline import follow_other_time


def _check_may_write(actor: Actor, person_id: str) -> None:
    actor.require("see_people" if person_id == actor.person.id else "plan_people")


@once
def add_absence(cur: Cursor, actor: Actor, absence: Absence) -> None:
    """Write down when a person is away.

    Raises:
        Forbidden: it is another's, and the actor is neither manager nor administrator.
        RuleError: an unknown kind, days that cannot be, or too many absences.
    """
    _check_may_write(actor, absence.person_id)
    person = people_rows.person(cur, absence.person_id)
    if person is None:
        raise Missing("person")
    with writing(cur, actor, None, f"entered that {person.name} is away"[:80]) as log:
        rows.mark_anew(cur)
        check_absence(absence, rows.common(cur).absence_kinds)
        if rows.count_absences(cur, absence.person_id) >= MOST_ABSENCES:
            raise RuleError(f"{MOST_ABSENCES} absences are kept for one person. Take old ones away first.", "start")
        _insert(cur, log, absence)
    follow_other_time(cur, actor)


def insert_absences(cur: Cursor, actor: Actor, read: Sequence[tuple[int, Absence]]) -> int:
    """Write down the absences of a file, each with its line; one that is there already stays as it is. Returns how many are new.

    Raises:
        Forbidden, RuleError: as ``add_absence``, naming the line.
    """
    for _, one in read:
        _check_may_write(actor, one.person_id)
    try:
        with writing(cur, actor, None, f"entered {len(read)} absences from a file") as log:
            rows.mark_anew(cur)
            kinds = rows.common(cur).absence_kinds
            there = {(one.person_id, one.start, one.end) for one in rows.absences(cur)}
            kept = Counter(who for who, _, _ in there)
            added = 0
            for line, one in read:
                if (key := (one.person_id, one.start, one.end)) in there:
                    continue
                with naming_line(line):
                    check_absence(one, kinds)
                    kept[one.person_id] += 1
                    if kept[one.person_id] > MOST_ABSENCES:
                        raise RuleError(f"{MOST_ABSENCES} absences are kept for one person.", "start")
                there.add(key)
                _insert(cur, log, one)
                added += 1
    except AlreadyDone:
        return 0
    follow_other_time(cur, actor)
    return added


def _insert(cur: Cursor, log: Log, one: Absence) -> None:
    rows.insert_absence(cur, one)
    said = {"person_id": one.person_id, "start": one.start.isoformat(), "end": one.end.isoformat()}
    log.record("absence", one.id, "created", None, said)


def open_absence(cur: Cursor, actor: Actor, absence_id: str, *, gone: bool = False) -> Absence:
    """One to be changed, locked. Raises Missing, or Forbidden where it is not for the actor to change."""
    actor.require("see_people")
    rows.mark_anew(cur)  # which locks it
    found = rows.absence(cur, absence_id)
    if found is None or found[1] is gone:
        raise Missing("absence")
    _check_may_write(actor, found[0].person_id)
    return found[0]


@once
def edit_absence(cur: Cursor, actor: Actor, absence_id: str, fields: dict[str, Any]) -> None:
    """Change an absence: any of ``kind``, ``start``, ``end`` and ``note``. Raises as ``add_absence``."""
    with writing(cur, actor, None, "changed an absence") as log:
        before = open_absence(cur, actor, absence_id)
        after = replace(before, **fields)
        check_absence(after, (*rows.common(cur).absence_kinds, before.kind))
        log.record_changes("absence", absence_id, before, after, fields)
        rows.update_absence(cur, after)
    follow_other_time(cur, actor)


@once
def delete_absence(cur: Cursor, actor: Actor, absence_id: str) -> None:
    """Take an absence away."""
    with writing(cur, actor, None, "took an absence away") as log:
        before = open_absence(cur, actor, absence_id)
        log.record("absence", absence_id, "deleted_at", None, actor.clock.utc())
        rows.update_absence(cur, before, actor.clock.utc())
    follow_other_time(cur, actor)


@once
def bring_absence_back(cur: Cursor, actor: Actor, absence_id: str) -> None:
    """Bring an absence back that was taken away."""
    with writing(cur, actor, None, "brought back an absence") as log:
        found = open_absence(cur, actor, absence_id, gone=True)
        log.record("absence", absence_id, "deleted_at", actor.clock.utc(), None)
        rows.update_absence(cur, found)
    follow_other_time(cur, actor)
