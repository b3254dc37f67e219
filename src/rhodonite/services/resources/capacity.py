"""Who can be booked when: read for all, and written down."""

from __future__ import annotations

import threading
from collections import Counter, defaultdict
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, replace
from datetime import date, datetime
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.bounds import MOST_ABSENCES
from ...core.common.calendars import OFFICE_WEEK, WEEKDAYS, WorkingCalendar, write_hours
from ...core.common.errors import Missing, RuleError
from ...core.resources.bookable import (
    Common,
    Kept,
    Resource,
    Staff,
    check_absence,
    check_capacity,
    check_currency,
    check_resource,
    clean_kinds,
    may_read_reason,
)
from ...core.resources.capacity import Absence, Capacity
from ...store.common.database import from_json, to_json
from ...store.common.journal import Entry
from ...store.people import people as people_rows
from ...store.resources import bookable as rows
from ...store.tasks import projects as project_rows
from ..common.context import Actor, AlreadyDone, once, open_project, writing
from ..common.pipeline import follow_other_time
from ..common.plan_cache import kept_calendar, make_calendar


@dataclass(frozen=True, slots=True)
class Capacities:
    """The capacity of everybody at one mark.

    Attributes:
        staff: what they are made of.
        by_who: of people and resources that differ from the usual.
        present: of people as if nobody were ever away.
        usual: of whoever nothing was said of.
    """

    mark: str
    staff: Staff
    by_who: dict[str, Capacity]
    present: dict[str, Capacity]
    usual: Capacity

    def of(self, who: str) -> Capacity:
        """The capacity of a person or resource."""
        return self.by_who.get(who, self.usual)


OFFICE = {day: write_hours(hours) for day, hours in zip(WEEKDAYS, OFFICE_WEEK, strict=True) if hours}
"""Office hours, as calendars keep a week."""
EVERYBODY = "00000000-0000-0000-0000-000000000000"
"""Stands in the journal for what holds for all."""
_lock = threading.Lock()
_held: dict[str, Capacities] = {}


def read_capacities(cur: Cursor) -> Capacities:
    """The capacity of everybody; made anew only where it has changed."""
    mark = rows.mark(cur)
    with _lock:
        held = _held.get("now")
    if held is not None and held.mark == mark:
        return held
    made = make_capacities(mark, read_staff(cur))
    with _lock:
        _held["now"] = made
    return made


def read_staff(cur: Cursor) -> Staff:
    """What capacities are made of."""
    return Staff(rows.common(cur), rows.capacities(cur), rows.absences(cur), rows.resources(cur))


def make_capacities(mark: str, staff: Staff) -> Capacities:
    """The capacity of everybody, from what was written down."""
    common = staff.common
    closed = [dict(one) for one in common.closed]
    everyone = kept_calendar(common.week or OFFICE, closed) if common.week or closed else WorkingCalendar(OFFICE_WEEK)
    away: dict[str, list[Absence]] = defaultdict(list)
    for one in staff.absences:
        away[one.person_id].append(one)
    by_who: dict[str, Capacity] = {}
    present: dict[str, Capacity] = {}
    for person_id in staff.kept.keys() | away.keys():
        kept = staff.kept.get(person_id, Kept())
        hours = kept_calendar(kept.week, closed) if kept.week else everyone
        bounds = (kept.first, kept.last)
        present[person_id] = Capacity(hours, kept.share, (), *bounds)
        by_who[person_id] = Capacity(hours, kept.share, away[person_id], *bounds) if away[person_id] else present[person_id]
    for crew in staff.resources:
        if crew.kind != "labour":
            continue
        by_who[crew.id] = present[crew.id] = Capacity(everyone, people=crew.people)
    return Capacities(mark, staff, by_who, present, Capacity(everyone))


def readable_staff(cur: Cursor, actor: Actor) -> Staff:
    """What capacities are made of, as the person may read it: why others are away is for managers, crews are those of the
    organisation, for who reads this may not see the projects of the others.

    Raises:
        Forbidden: the actor is a guest.
    """
    actor.require("see_people")
    staff = read_capacities(cur).staff
    hidden = [one if may_read_reason(actor.person.role, one.person_id == actor.person.id) else _without_reason(one)
              for one in staff.absences]  # fmt: skip
    return replace(staff, absences=hidden, resources=[one for one in staff.resources if one.project_id is None])


def _without_reason(one: Absence) -> Absence:
    return replace(one, kind="", note="")


@once
def set_common(cur: Cursor, actor: Actor, fields: dict[str, Any]) -> None:
    """Write the organisation's working time (``week`` and ``closed`` days), its kinds of absence and the currency of rates.

    Raises:
        Forbidden: the actor is no administrator.
        RuleError: hours that cannot be, or kinds without names.
    """
    actor.require("administer")
    with writing(cur, actor, None, "changed the organisation’s working time") as log:
        rows.mark_anew(cur)
        before = rows.common(cur)
        wanted = dict(fields)
        if "absence_kinds" in wanted:
            wanted["absence_kinds"] = clean_kinds(wanted["absence_kinds"])
        if "currency" in wanted:
            wanted["currency"] = check_currency(wanted["currency"])
        if "closed" in wanted:
            wanted["closed"] = tuple(wanted["closed"])
        after = replace(before, **wanted)
        make_calendar(after.week or OFFICE, [dict(one) for one in after.closed])
        for name in wanted:
            if getattr(before, name) != getattr(after, name):
                log.record("bookable", EVERYBODY, name, getattr(before, name), getattr(after, name))
        rows.set_common(cur, after)
    follow_other_time(cur, actor)


@once
def set_capacity(cur: Cursor, actor: Actor, person_id: str, fields: dict[str, Any]) -> None:
    """Write a person's capacity: any of ``week``, ``share``, ``first`` and ``last``.

    Raises:
        Forbidden: the actor is neither manager nor administrator.
        RuleError: a share, days or hours that cannot be.
    """
    actor.require("plan_people")
    person = people_rows.person(cur, person_id)
    if person is None:
        raise Missing("person")
    with writing(cur, actor, None, f"changed the capacity of {person.name}"[:80]) as log:
        rows.mark_anew(cur)
        before = rows.capacities(cur).get(person_id, Kept())
        after = replace(before, **fields)
        check_capacity(after)
        if after.week is not None:
            make_calendar(after.week, [])
        for name in fields:
            if getattr(before, name) != getattr(after, name):
                log.record("capacity", person_id, name, getattr(before, name), getattr(after, name))
        rows.set_capacity(cur, person_id, after)
    follow_other_time(cur, actor)


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
        rows.insert_absence(cur, absence)
        log.record("absence", absence.id, "created", None, _said(absence))
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
                rows.insert_absence(cur, one)
                log.record("absence", one.id, "created", None, _said(one))
                added += 1
    except AlreadyDone:
        return 0
    follow_other_time(cur, actor)
    return added


@contextmanager
def naming_line(line: int) -> Iterator[None]:
    """What is wrong with a row of a file is told with its line."""
    try:
        yield
    except RuleError as error:
        raise RuleError(f"Line {line}: {error.sentence}", "file") from error


def _said(one: Absence) -> dict[str, str]:
    return {"person_id": one.person_id, "start": one.start.isoformat(), "end": one.end.isoformat()}


def _open_absence(cur: Cursor, actor: Actor, absence_id: str, *, gone: bool = False) -> Absence:
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
        before = _open_absence(cur, actor, absence_id)
        after = replace(before, **fields)
        check_absence(after, (*rows.common(cur).absence_kinds, before.kind))
        for name in fields:
            if getattr(before, name) != getattr(after, name):
                log.record("absence", absence_id, name, getattr(before, name), getattr(after, name))
        rows.update_absence(cur, after)
    follow_other_time(cur, actor)


@once
def delete_absence(cur: Cursor, actor: Actor, absence_id: str) -> None:
    """Take an absence away."""
    with writing(cur, actor, None, "took an absence away") as log:
        before = _open_absence(cur, actor, absence_id)
        log.record("absence", absence_id, "deleted_at", None, actor.clock.utc())
        rows.update_absence(cur, before, actor.clock.utc())
    follow_other_time(cur, actor)


def whose(cur: Cursor, actor: Actor, code: str | None) -> str | None:
    """The id of the project whose crews and roles are changed; None for those of the organisation.

    Raises:
        Missing, Forbidden: the actor may not edit the project, or for the organisation not plan people.
    """
    if code is None:
        actor.require("plan_people")
        return None
    return open_project(cur, actor, code, "edit").id


def list_resources(cur: Cursor, actor: Actor, code: str) -> list[Resource]:
    """The crews and roles that can be booked in a project: its own, and those of the organisation."""
    project = open_project(cur, actor, code, "see")
    return [one for one in read_capacities(cur).staff.resources if one.project_id in {None, project.id}]


@once
def add_resource(cur: Cursor, actor: Actor, code: str | None, wanted: Resource) -> None:
    """Add a crew or a role to be filled, a material or a fixed cost: to a project, or without one to the organisation.

    Raises:
        Missing, Forbidden: as ``whose``.
        RuleError: no name, one that there is already, a size that cannot be, or a material without a unit.
    """
    project_id = whose(cur, actor, code)
    made = check_resource(replace(wanted, project_id=project_id))
    with writing(cur, actor, None, f"added {made.name}"[:80]) as log:
        rows.mark_anew(cur)
        _check_name(cur, made)
        rows.insert_resource(cur, made)
        log.record("resource", made.id, "created", None, {"name": made.name, "people": made.people, "kind": made.kind})


def insert_resources(cur: Cursor, actor: Actor, code: str | None, read: Sequence[tuple[int, Resource]]) -> int:
    """Add the resources of a file, each with its line; one of the same name and kind stays as it is. Returns how many are new.

    Raises:
        Missing, Forbidden, RuleError: as ``add_resource``, naming the line.
    """
    project_id = whose(cur, actor, code)
    try:
        with writing(cur, actor, None, f"added {len(read)} resources from a file") as log:
            rows.mark_anew(cur)
            there = {(one.name.casefold(), one.kind) for one in rows.resources(cur) if one.project_id in {None, project_id}}
            added = 0
            for line, wanted in read:
                with naming_line(line):
                    made = check_resource(replace(wanted, project_id=project_id))
                    if (made.name.casefold(), made.kind) in there:
                        continue
                    _check_name(cur, made)
                there.add((made.name.casefold(), made.kind))
                rows.insert_resource(cur, made)
                log.record("resource", made.id, "created", None, {"name": made.name, "people": made.people, "kind": made.kind})
                added += 1
            return added
    except AlreadyDone:
        return 0


def _check_name(cur: Cursor, one: Resource) -> None:
    for other in rows.resources(cur):  # not those of other projects: that they are there is not for everybody to know
        if other.id != one.id and other.project_id in {None, one.project_id} and other.name.casefold() == one.name.casefold():
            raise RuleError(f"There is {one.name} already. Choose another name.", "name")


def _open_resource(cur: Cursor, project_id: str | None, resource_id: str, *, gone: bool = False) -> Resource:
    rows.mark_anew(cur)
    found = rows.resources_by_id(cur, [resource_id]).get(resource_id)
    if found is None or found[1] is gone or found[0].project_id != project_id:
        raise Missing("resource")
    return found[0]


@once
def edit_resource(cur: Cursor, actor: Actor, code: str | None, resource_id: str, fields: dict[str, Any]) -> None:
    """Change a resource: its ``name``, how many ``people`` a crew has, or the ``unit`` of a material. Raises as
    ``add_resource``."""
    project_id = whose(cur, actor, code)
    with writing(cur, actor, None, "changed a crew or role") as log:
        before = _open_resource(cur, project_id, resource_id)
        after = check_resource(replace(before, **fields))
        _check_name(cur, after)
        for name in fields:
            if getattr(before, name) != getattr(after, name):
                log.record("resource", resource_id, name, getattr(before, name), getattr(after, name))
        rows.update_resource(cur, after)


@once
def delete_resource(cur: Cursor, actor: Actor, code: str | None, resource_id: str) -> None:
    """Take a crew or role away. What is booked of it stays written on its tasks."""
    project_id = whose(cur, actor, code)
    with writing(cur, actor, None, "took a crew or role away") as log:
        before = _open_resource(cur, project_id, resource_id)
        log.record("resource", resource_id, "deleted_at", None, actor.clock.utc())
        rows.update_resource(cur, before, actor.clock.utc())


@once
def _bring_resource_back(cur: Cursor, actor: Actor, code: str | None, resource_id: str) -> None:
    project_id = whose(cur, actor, code)
    with writing(cur, actor, None, "brought back a crew or role") as log:
        found = _open_resource(cur, project_id, resource_id, gone=True)
        _check_name(cur, found)
        log.record("resource", resource_id, "deleted_at", actor.clock.utc(), None)
        rows.update_resource(cur, found)


@once
def _bring_absence_back(cur: Cursor, actor: Actor, absence_id: str) -> None:
    with writing(cur, actor, None, "brought back an absence") as log:
        found = _open_absence(cur, actor, absence_id, gone=True)
        log.record("absence", absence_id, "deleted_at", actor.clock.utc(), None)
        rows.update_absence(cur, found)
    follow_other_time(cur, actor)


_READ: dict[str, Any] = {"start": datetime.fromisoformat, "end": datetime.fromisoformat, "first": date.fromisoformat,
                         "last": date.fromisoformat, "absence_kinds": tuple, "closed": tuple}  # fmt: skip


def take_back(cur: Cursor, actor: Actor, subject: str, subject_id: str, entries: Sequence[Entry]) -> None:
    """Take back what a change did to who can be booked.

    Raises:
        Missing, Forbidden: the actor may not change it.
        RuleError: it was changed again since.
    """
    _check_unchanged(cur, subject, subject_id, entries)
    old = {
        entry.field: None if (value := from_json(entry.old)) is None else _READ.get(entry.field, _as_it_is)(value)
        for entry in entries
    }
    if subject == "absence":
        if "created" in old:
            delete_absence(cur, actor, subject_id)
        elif "deleted_at" in old:
            _bring_absence_back(cur, actor, subject_id)
        else:
            edit_absence(cur, actor, subject_id, old)
    elif subject == "resource":
        code = _code_of(cur, subject_id)
        if "created" in old:
            delete_resource(cur, actor, code, subject_id)
        elif "deleted_at" in old:
            _bring_resource_back(cur, actor, code, subject_id)
        else:
            edit_resource(cur, actor, code, subject_id, old)
    elif subject == "capacity":
        set_capacity(cur, actor, subject_id, old)
    else:
        set_common(cur, actor, old)


def take_file_back(cur: Cursor, actor: Actor, subject: str, entries: Sequence[Entry]) -> None:
    """Take back what a file brought, absences or resources; or bring back what was so taken back.

    Raises:
        Missing, Forbidden: the actor may not change them, or one of them is there no more.
    """
    gone = entries[0].field == "created" or from_json(entries[0].new) is None  # whether they are to go
    ids = list(dict.fromkeys(entry.subject_id for entry in entries))
    now = actor.clock.utc()
    what = f"{'took away' if gone else 'brought back'} {len(ids)} {subject}s"
    with writing(cur, actor, None, what) as log:
        for one in ids:
            if subject == "absence":
                rows.update_absence(cur, _open_absence(cur, actor, one, gone=not gone), now if gone else None)
            else:
                found = _open_resource(cur, whose(cur, actor, _code_of(cur, one)), one, gone=not gone)
                rows.update_resource(cur, found, now if gone else None)
            log.record(subject, one, "deleted_at", None if gone else now, now if gone else None)
    if subject == "absence":
        follow_other_time(cur, actor)


def _as_it_is(value: Any) -> Any:
    return value


def _code_of(cur: Cursor, resource_id: str) -> str | None:
    found = rows.resources_by_id(cur, [resource_id]).get(resource_id)
    if found is None or found[0].project_id is None:
        return None
    project = project_rows.project(cur, found[0].project_id)
    return project.code if project else None


def _check_unchanged(cur: Cursor, subject: str, subject_id: str, entries: Sequence[Entry]) -> None:
    now = _now(cur, subject, subject_id)
    for entry in entries:
        if entry.field in {"created", "deleted_at"} or now is None:
            continue
        if from_json(to_json(getattr(now, entry.field))) != from_json(entry.new):
            raise RuleError("It was changed again since, so this cannot be taken back. Change it by hand.")


def _now(cur: Cursor, subject: str, subject_id: str) -> Absence | Resource | Kept | Common | None:
    if subject == "absence":
        found = rows.absence(cur, subject_id)
        return found[0] if found else None
    if subject == "resource":
        one = rows.resources_by_id(cur, [subject_id]).get(subject_id)
        return one[0] if one else None
    return rows.capacities(cur).get(subject_id, Kept()) if subject == "capacity" else rows.common(cur)
