"""Time sheets: one person's hours of a week as a grid, handed in, accepted or returned."""

from __future__ import annotations

import uuid
from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from typing import Literal

from pymysql.cursors import Cursor

from ...core.common.dates import say_day
from ...core.common.errors import Forbidden, Missing, RuleError
from ...core.people.access import may_in_organisation, may_in_project
from ...core.people.model import Person
from ...core.schedule.plan import Row
from ...core.tasks.model import OPEN_CLASSES, Project, Task
from ...core.time.entries import (
    LONGEST_NOTE,
    Handed,
    TimeEntry,
    WeekState,
    is_at_work,
    may_enter,
    monday_of,
    state_of_week,
)
from ...store.common.database import from_json
from ...store.common.journal import Entry
from ...store.common.locks import lock_people
from ...store.people import people as people_rows
from ...store.tasks import tasks as task_rows
from ...store.time import entries as rows
from ..common.context import Actor, Log, once, writing
from ..common.plan_cache import PLANS
from ..resources.capacity import read_capacities
from ..tasks.projects import every_visible_project

MOST_OFFERED = 24
"""Tasks that are offered for a week beside those with hours in it."""
DAYS = 7


@dataclass(frozen=True, slots=True)
class SheetRow:
    """A task with its hours of the week.

    Attributes:
        entries: on it, the earliest first.
        may_enter: whether the person who reads may enter hours here; ``leads``: also where the week was handed in.
        why: of a task without hours, why it is offered: it had some the week before, or they are at work on it.
        finished: True where the task is done or dropped; ``in_bin``: where it was deleted, while its hours stay.
    """

    project: Project
    task: Task
    entries: list[TimeEntry]
    may_enter: bool
    leads: bool = False
    why: Literal["", "last_week", "at_work"] = ""
    finished: bool = False
    in_bin: bool = False


@dataclass(frozen=True, slots=True)
class InProject:
    """How the week stands in one project.

    Attributes:
        handed: None where it was not handed in.
        may_judge: whether the reader may accept or return it.
    """

    project: Project
    minutes: int
    handed: Handed | None
    may_judge: bool


@dataclass(frozen=True, slots=True)
class TimeSheet:
    """One person's week.

    Attributes:
        other: minutes by day on projects that the reader may not see.
        capacity: bookable minutes by day.
        mine: True for one's own.
    """

    person: Person
    monday: date
    rows: list[SheetRow]
    offered: list[SheetRow]
    other: list[int]
    capacity: list[int]
    projects: list[InProject]
    state: WeekState | Literal["open"]
    mine: bool


@dataclass(frozen=True, slots=True)
class _Seen:
    """The projects that a reader may see, with the role in each, by id."""

    by_id: dict[str, tuple[Project, str]]

    def leads(self, project_id: str) -> bool:
        return project_id in self.by_id and may_in_project(self.by_id[project_id][1], "manage")


def _seen(cur: Cursor, actor: Actor) -> _Seen:
    return _Seen(every_visible_project(cur, actor))


def read_sheet(cur: Cursor, actor: Actor, person_id: str | None, day: date | None) -> TimeSheet:
    """The week of a person in which a day lies: one's own, or another's as far as one leads the projects.

    Args:
        person_id: None for one's own; ``day``: None for this week.

    Raises:
        Missing: there is no such person.
        Forbidden: another's, of somebody who plans nobody's time and leads no project.
    """
    actor = replace(actor, draft=None)
    who = _whose(cur, actor, person_id)
    monday = monday_of(day or actor.clock.now().date())
    seen, mine = _seen(cur, actor), who.id == actor.person.id
    if not mine and not may_in_organisation(actor.person.role, "plan_people"):
        seen = _Seen({one: both for one, both in seen.by_id.items() if seen.leads(one)})
        if not seen.by_id:
            raise Forbidden("The hours of others are read by leads of their projects, and by who plans the time of people.")
    entries = rows.entries_of_person(cur, who.id, monday - timedelta(days=DAYS), monday + timedelta(days=DAYS - 1))
    found, other = _rows(cur, actor, seen, [one for one in entries if one.day >= monday], monday, mine=mine)
    offered = _offered(cur, actor, seen, who, {one.task.id for one in found}, entries, monday) if mine else []
    capacity = read_capacities(cur).of(who.id)
    days = range(monday.toordinal(), monday.toordinal() + DAYS)
    projects = _in_projects(cur, actor, seen, who, monday)
    state = state_of_week([one.handed.state if one.handed else None for one in projects if one.minutes])
    return TimeSheet(who, monday, found, offered, other, [capacity.on(one) for one in days], projects, state, mine)


def _whose(cur: Cursor, actor: Actor, person_id: str | None) -> Person:
    if person_id is None or person_id == actor.person.id:
        return actor.person
    found = people_rows.person(cur, person_id)
    if found is None:
        raise Missing("person")
    return found


def _rows(
    cur: Cursor, actor: Actor, seen: _Seen, entries: Sequence[TimeEntry], monday: date, *, mine: bool
) -> tuple[list[SheetRow], list[int]]:
    by_task: dict[tuple[str, str], list[TimeEntry]] = defaultdict(list)
    for one in entries:
        by_task[one.project_id, one.task_id].append(one)
    found, other = [], [0] * DAYS
    binned: dict[str, list[TimeEntry]] = {}
    for (project_id, task_id), several in by_task.items():
        made = _row(cur, actor, seen, project_id, task_id, several, mine=mine)
        if made is not None:
            found.append(made)
        elif project_id in seen.by_id:
            binned[task_id] = several
        else:
            for one in several:
                other[(one.day - monday).days] += one.minutes
    for task in task_rows.tasks_by_id(cur, list(binned)) if binned else ():
        project = seen.by_id[task.project_id][0]
        found.append(SheetRow(project, task, binned[task.id], False, seen.leads(project.id), in_bin=True))
    found.sort(key=lambda one: (one.project.code, one.task.number))
    return found, other


def _row(
    cur: Cursor, actor: Actor, seen: _Seen, project_id: str, task_id: str, entries: list[TimeEntry], *, mine: bool
) -> SheetRow | None:
    if project_id not in seen.by_id:
        return None
    project, role = seen.by_id[project_id]
    row = PLANS.at(cur, project, actor.clock.now()).plan.rows.get(task_id)
    if row is None:
        return None
    open_to = project.time and project.archived_at is None
    enters = open_to and (may_enter(role, row.task, actor.person.id) if mine else seen.leads(project_id))
    finished = row.state_class not in OPEN_CLASSES
    return SheetRow(project, row.task, entries, enters, seen.leads(project_id), finished=finished)


def _offered(
    cur: Cursor, actor: Actor, seen: _Seen, who: Person, shown: set[str], entries: Iterable[TimeEntry], monday: date
) -> list[SheetRow]:
    """The tasks of the week before, then those that the person is at work on in these days."""
    found: dict[str, SheetRow] = {}
    for one in entries:
        if one.day < monday and one.task_id not in shown and one.task_id not in found:
            before = _row(cur, actor, seen, one.project_id, one.task_id, [], mine=True)
            if before is not None and before.may_enter and not before.finished:
                found[one.task_id] = replace(before, why="last_week")
    at_work: list[tuple[Row, SheetRow]] = []
    for project, role in seen.by_id.values():
        if not project.time or project.archived_at is not None:
            continue
        for row in PLANS.at(cur, project, actor.clock.now()).plan.leaves():
            if row.task.id not in shown | found.keys() and _is_on(row, who.id, monday) and may_enter(role, row.task, who.id):
                at_work.append((row, SheetRow(project, row.task, [], True, seen.leads(project.id), "at_work")))
    at_work.sort(key=lambda both: _soonest(both[0]))
    return [*found.values(), *(one for _, one in at_work)][:MOST_OFFERED]


def _soonest(row: Row) -> tuple[bool, bool, datetime | None, int]:
    return row.state_class != "active", row.finish is None, row.finish, row.task.number


def _is_on(row: Row, person_id: str, monday: date) -> bool:
    """True for open work of a person that has begun, or is to begin before the week is over."""
    if row.state_class not in OPEN_CLASSES or row.task.kind == "milestone" or not is_at_work(row.task, person_id):
        return False
    return row.state_class == "active" or (row.start is not None and row.start.date() < monday + timedelta(days=DAYS))


def _in_projects(cur: Cursor, actor: Actor, seen: _Seen, who: Person, monday: date) -> list[InProject]:
    hours = rows.weeks_with_hours(cur, who.id, monday, monday + timedelta(days=DAYS - 1))
    handed = {one.project_id: one for one in rows.handed(cur, who.id, [monday])}
    found = []
    for project_id in {one for _, one in hours} | handed.keys():
        if project_id in seen.by_id:
            judges = seen.leads(project_id) and _may_judge(actor, who.id)
            minutes = hours.get((monday, project_id), 0)
            found.append(InProject(seen.by_id[project_id][0], minutes, handed.get(project_id), judges))
    return sorted(found, key=lambda one: one.project.code)


def _may_judge(actor: Actor, person_id: str) -> bool:
    """Nobody accepts their own hours, but for administrators, above whom there is nobody."""
    return person_id != actor.person.id or actor.person.role == "administrator"


# handing in


@once
def hand_in(cur: Cursor, actor: Actor, day: date) -> None:
    """Hand in one's own week, in every project with hours in it that was not handed in yet.

    Raises:
        RuleError: there is nothing to hand in.
    """
    actor, monday = replace(actor, draft=None), monday_of(day)
    lock_people(cur, [actor.person.id])
    hours = rows.weeks_with_hours(cur, actor.person.id, monday, monday + timedelta(days=DAYS - 1))
    with writing(cur, actor, None, f"handed in the week of {say_day(monday)}") as log:
        handed = {one.project_id: one for one in rows.handed(cur, actor.person.id, [monday])}
        waits = [one for _, one in hours if one not in handed or handed[one].state == "returned"]
        if not waits:
            raise RuleError("Nothing of this week is left to be handed in.")
        for project_id in sorted(waits):
            _set(cur, actor, log, actor.person.id, monday, project_id, handed.get(project_id), "handed_in", "")


@once
def take_week_back(cur: Cursor, actor: Actor, day: date) -> None:
    """Take back one's own week where it was handed in and not accepted yet. Raises RuleError where nothing waits."""
    actor, monday = replace(actor, draft=None), monday_of(day)
    lock_people(cur, [actor.person.id])
    with writing(cur, actor, None, f"took back the week of {say_day(monday)}") as log:
        waits = [one for one in rows.handed(cur, actor.person.id, [monday]) if one.state == "handed_in"]
        if not waits:
            raise RuleError("Nothing of this week waits for a lead: it is open, or was accepted.")
        for one in sorted(waits, key=lambda one: one.project_id):
            _set(cur, actor, log, actor.person.id, monday, one.project_id, one, None, "")


@once
def judge(cur: Cursor, actor: Actor, person_id: str, day: date, codes: Sequence[str] | None, accept: bool, word: str) -> None:
    """Accept a person's week, which closes its hours, or return it with a word on why, in projects that one leads.

    Args:
        codes: the projects; None: all that one leads.

    Raises:
        Missing: there is no such person, or nothing of the week waits for the actor.
        Forbidden: it is one's own week.
        RuleError: it is returned without a word.
    """
    actor, monday, word = replace(actor, draft=None), monday_of(day), word.strip()
    who = _whose(cur, actor, person_id)
    if not _may_judge(actor, who.id):
        raise Forbidden("Nobody accepts their own hours. Another lead, a manager or an administrator does.")
    if not accept and not word:
        raise RuleError("Say in a word why the week is returned, so that it can be mended.", "word")
    if len(word) > LONGEST_NOTE:
        raise RuleError(f"{LONGEST_NOTE} characters are the most. Write the rest as a comment on the task.", "word")
    seen = _seen(cur, actor)
    lock_people(cur, [who.id])
    with writing(
        cur, actor, None, f"{'accepted' if accept else 'returned'} the week of {say_day(monday)} of {who.name}"[:80]
    ) as log:
        wanted = None if codes is None else {one.upper() for one in codes}
        mine = [
            one
            for one in rows.handed(cur, who.id, [monday])
            if seen.leads(one.project_id) and (wanted is None or seen.by_id[one.project_id][0].code in wanted)
            if one.state == "handed_in" or (one.state == "accepted" and not accept)
        ]
        if not mine:
            raise Missing("week that waits for you")
        for one in sorted(mine, key=lambda one: one.project_id):
            _set(cur, actor, log, who.id, monday, one.project_id, one, "accepted" if accept else "returned", word)


def _set(
    cur: Cursor, actor: Actor, log: Log, person_id: str, monday: date, project_id: str, before: Handed | None,
    state: WeekState | None, word: str, by: tuple[str, datetime] | None = None,
) -> None:  # fmt: skip
    """Write how a week stands in a project; the project is counted up, so that whoever looks at it hears of it.

    Args:
        by: who brought it to that state and when, where it is not the actor now.
    """
    apart = replace(actor, change_id=str(uuid.uuid5(uuid.UUID(actor.change_id), project_id)))
    with writing(cur, apart, project_id, log.change.what):
        pass
    if state is None:
        rows.take_handed_back(cur, person_id, monday, project_id)
    else:
        rows.set_handed(cur, Handed(person_id, monday, project_id, state, word, *(by or (actor.person.id, actor.clock.utc()))))
    old = {"project_id": project_id, "state": before.state if before else None, "word": before.word if before else "",
           "by": [before.by_id, before.at.isoformat()] if before else None}  # fmt: skip
    new = {"project_id": project_id, "state": state, "word": word}
    log.record("week", person_id, monday.isoformat(), old, new)


def take_back(cur: Cursor, actor: Actor, person_id: str, entries: Sequence[Entry]) -> None:
    """Take back what was done to a week: what was handed in is open again, what was accepted waits again, and the reverse.

    Raises:
        Forbidden: it is for others to do.
        RuleError: it stands otherwise by now.
    """
    actor = replace(actor, draft=None)
    seen = _seen(cur, actor)
    monday = date.fromisoformat(entries[0].field)
    lock_people(cur, [person_id])
    with writing(cur, actor, None, f"took back what was done to the week of {say_day(monday)}") as log:
        now = {one.project_id: one for one in rows.handed(cur, person_id, [monday])}
        for one in entries:
            was, became = from_json(one.old), from_json(one.new)
            project_id, is_now = was["project_id"], now.get(was["project_id"])
            if (is_now.state if is_now else None) != became["state"]:
                raise RuleError("The week stands otherwise by now. Hand it in or judge it by hand.")
            own = person_id == actor.person.id and "accepted" not in {was["state"], became["state"]}
            if not own and not (seen.leads(project_id) and _may_judge(actor, person_id)):
                raise Forbidden("That is for a lead of the project to take back.")
            by = (was["by"][0], datetime.fromisoformat(was["by"][1])) if was.get("by") else None
            _set(cur, actor, log, person_id, monday, project_id, is_now, was["state"], was["word"], by)


@dataclass(frozen=True, slots=True)
class Waiting:
    """A week that waits for the actor to accept it, or was returned to them."""

    person: Person
    handed: Handed
    project: Project
    minutes: int


def read_waiting(cur: Cursor, actor: Actor) -> list[Waiting]:
    """The weeks that wait for one, in the projects that one leads: the earliest first."""
    seen = _seen(cur, actor)
    led = [one for one in seen.by_id if seen.leads(one)]
    found = [one for one in rows.waiting(cur, led) if _may_judge(actor, one.person_id)]
    return _with_hours(cur, seen, found)


def read_returned(cur: Cursor, actor: Actor) -> list[Waiting]:
    """One's own weeks that were returned, of the last quarter of a year."""
    monday = monday_of(actor.clock.now().date())
    weeks = [monday - timedelta(weeks=n) for n in range(13)]
    return _with_hours(
        cur, _seen(cur, actor), [one for one in rows.handed(cur, actor.person.id, weeks) if one.state == "returned"]
    )


def _with_hours(cur: Cursor, seen: _Seen, found: Sequence[Handed]) -> list[Waiting]:
    people = {one.id: one for one in people_rows.all_people(cur)}
    minutes = rows.minutes_of_weeks(cur, [(one.person_id, one.monday, one.project_id) for one in found])
    return [
        Waiting(
            people[one.person_id], one, seen.by_id[one.project_id][0], minutes.get((one.person_id, one.monday, one.project_id), 0)
        )
        for one in found
        if one.project_id in seen.by_id
    ]
