"""Who can be booked when: read for all, the organisation's hours, and the capacity of people."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.calendars import OFFICE_WEEK, WEEKDAYS, WorkingCalendar, write_hours
from ...core.common.currencies import check_currency
from ...core.common.errors import Missing
from ...core.people.access import may_in_organisation
from ...core.resources.bookable import (
    Kept,
    Staff,
    check_capacity,
    clean_kinds,
    may_read_reason,
)
from ...core.resources.capacity import Absence, Capacity
from ...store.people import people as people_rows
from ...store.resources import bookable as rows
from ...store.tasks import projects as project_rows
from ..common.context import Actor, once, writing
from ..common.held import Held
from ..common.pipeline import check_currency_change, follow_other_time, knows_absences
from ..common.plan_cache import PLANS, kept_calendar, make_calendar


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
_held: Held[Capacities] = Held("capacities", 1)


def read_capacities(cur: Cursor) -> Capacities:
    """The capacity of everybody; made anew only where it has changed."""
    mark = rows.mark(cur)
    held = _held.get(cur, "now")
    if held is not None and held.mark == mark:
        return held
    made = make_capacities(mark, read_staff(cur))
    _held.put(cur, "now", made)
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


@knows_absences
def _absences_seen(cur: Cursor, actor: Actor) -> Sequence[Absence]:
    may = may_in_organisation(actor.person.role, "see_people")
    return readable_staff(cur, actor).absences if may else ()


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
            for project in project_rows.all_projects(cur) if wanted["currency"] != before.currency else ():
                if project.currency is None:
                    check_currency_change(cur, PLANS.at(cur, project, actor.clock.now()).plan, wanted["currency"])
        if "closed" in wanted:
            wanted["closed"] = tuple(wanted["closed"])
        after = replace(before, **wanted)
        make_calendar(after.week or OFFICE, [dict(one) for one in after.closed])
        log.record_changes("bookable", EVERYBODY, before, after, wanted)
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
        log.record_changes("capacity", person_id, before, after, fields)
        rows.set_capacity(cur, person_id, after)
    follow_other_time(cur, actor)
