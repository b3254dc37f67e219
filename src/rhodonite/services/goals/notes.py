"""What is said of goals: values, progress notes, who read them, and reminders of those that are due."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal

from pymysql.cursors import Cursor

from ...core.common.errors import Missing, RuleError
from ...core.goals.access import right_in
from ...core.goals.measures import Item, Standing, measure_all
from ...core.goals.model import (
    COUNTING,
    Goal,
    GoalHealth,
    Measure,
    ProgressNote,
    Right,
    Value,
    check_measure,
    check_new_value,
    check_open,
    clean_sections,
)
from ...core.goals.readings import read_goal
from ...core.goals.rhythm import is_due, next_due
from ...core.goals.tree import branch
from ...store.common.database import from_json
from ...store.common.journal import Entry
from ...store.goals import goals as rows
from ...store.people import people as people_rows
from ..common.context import Actor, Clock, new_id, once, writing
from ..tasks.projects import every_visible_project
from . import measuring, telling
from .seen import Shown, noted_days, open_goal, shown_to

MOST_NOTES = 200
MOST_VALUES = 2_000


@dataclass(frozen=True, slots=True)
class CountedProject:
    """What a project that the reader sees adds to a goal."""

    code: str
    name: str
    done: Decimal
    total: Decimal
    items: tuple[Item, ...]
    unclear: str


@dataclass(frozen=True, slots=True)
class NoteShown:
    """A progress note, and who has read it."""

    note: ProgressNote
    readers: list[str]
    value: Decimal | None


@dataclass(frozen=True, slots=True)
class GoalDetail:
    """A goal in full.

    Attributes:
        reading: how it stands, in sentences.
        below: the goals right below it that the reader sees.
        hidden: how many of the projects that it counts the reader does not see.
    """

    shown: Shown
    reading: str
    values: list[Value]
    notes: list[NoteShown]
    followers: list[str]
    above: Goal | None
    below: list[Shown]
    counted: list[CountedProject]


def read_detail(cur: Cursor, actor: Actor, goal_id: str) -> GoalDetail:
    """A goal in full. Raises Missing where the person may not see it."""
    actor = replace(actor, draft=None)
    goal = open_goal(cur, actor, goal_id, "read")
    every = rows.goals(cur)
    stand = measuring.standings(cur, actor, branch(every, goal_id))
    shown = {one.goal.id: one for one in shown_to(cur, actor, every, stand)}
    mine, below = shown[goal_id], [one for one in shown.values() if one.parent_id == goal_id]
    counted = _counted(cur, actor, goal)
    notes, values = rows.notes(cur, goal_id, MOST_NOTES), rows.values(cur, goal_id).get(goal_id, [])
    by_note = {one.note_id: one.value for one in values if one.note_id}
    readers = rows.readers(cur, [one.id for one in notes])
    items = [(each.code, item) for each in counted for item in each.items]
    reading = read_goal(
        goal, mine.standing, items, [(one.goal, one.standing) for one in below], mine.due, actor.clock.now().date()
    )
    return GoalDetail(
        mine, reading, values, [NoteShown(one, readers.get(one.id, []), by_note.get(one.id)) for one in notes],
        rows.followers(cur, goal_id), every[mine.parent_id] if mine.parent_id else None, below, counted,
    )  # fmt: skip


def _counted(cur: Cursor, actor: Actor, goal: Goal) -> list[CountedProject]:
    """Project by project, of those that the reader sees, what it adds."""
    if goal.measure.kind not in COUNTING:
        return []
    seen = every_visible_project(cur, actor)
    ground = measuring.ground_of(cur, actor, [goal])
    return [
        CountedProject(seen[one][0].code, seen[one][0].name, part.done, part.total, part.items, part.unclear)
        for one, part in measuring.parts_of(cur, actor, ground, goal).items()
        if one in seen
    ]


@once
def add_value(cur: Cursor, actor: Actor, goal_id: str, value_id: str, day: date, value: Decimal) -> None:
    """Say where a goal that is measured by hand stood on a day.

    Raises:
        Missing, Forbidden: as ``open_goal``.
        RuleError: it was closed, measures itself, the day is still to come, or the value cannot be.
    """
    actor = replace(actor, draft=None)
    open_goal(cur, actor, goal_id, "edit")
    with writing(cur, actor, None, "entered the value of a goal") as log:
        rows.count_up(cur)
        goal = open_goal(cur, actor, goal_id, "edit")
        one = Value(value_id, goal_id, day, value, actor.person.id, actor.clock.utc())
        _check_new_value(cur, goal, one, actor.clock.now().date())
        rows.insert_value(cur, one)
        log.record("goal_value", value_id, "created", None, {"goal_id": goal_id, "day": day.isoformat(), "value": f"{value:f}"})


def _check_new_value(cur: Cursor, goal: Goal, one: Value, today: date) -> None:
    check_new_value(goal, one, today)
    if rows.count_values(cur, goal.id) >= MOST_VALUES:
        raise RuleError(f"A goal has {MOST_VALUES:,} values at most. Take some away.", "value")


@once
def set_value_gone(cur: Cursor, actor: Actor, goal_id: str, value_id: str, *, gone: bool) -> None:
    """Take a value away, or bring it back. Raises as ``add_value``."""
    actor = replace(actor, draft=None)
    goal = open_goal(cur, actor, goal_id, "edit")
    check_open(goal)
    one = rows.value(cur, value_id)
    if one is None or one.goal_id != goal_id or (one.deleted_at is not None) is gone:
        raise Missing("value")
    with writing(cur, actor, None, "took away a value of a goal" if gone else "brought back a value of a goal") as log:
        rows.count_up(cur)
        at = actor.clock.utc() if gone else None
        log.record("goal_value", value_id, "deleted_at", one.deleted_at, at)
        rows.set_value_gone(cur, value_id, at)


@dataclass(frozen=True, slots=True)
class NewNote:
    """A note to be written; with ``value`` where the goal stands, with ``health`` how it is judged."""

    id: str
    health: GoalHealth | None
    value: Decimal | None
    sections: tuple[tuple[str, str], ...]
    people: tuple[str, ...]


@once
def write_note(cur: Cursor, actor: Actor, goal_id: str, new: NewNote) -> None:
    """Write a progress note, which followers and those to whom it goes are told of.

    Raises:
        Missing, Forbidden: the person may not see the goal, may say nothing of it, or judges it without being allowed to edit it.
        RuleError: it says nothing, was closed, or the value cannot be.
    """
    actor = replace(actor, draft=None)
    judges = new.health is not None or new.value is not None
    wanted: Right = "edit" if judges else "comment"
    open_goal(cur, actor, goal_id, wanted)
    with writing(cur, actor, None, "wrote a progress note") as log:
        rows.count_up(cur)
        goal = open_goal(cur, actor, goal_id, wanted)
        sections = clean_sections(new.sections)
        if not sections and new.health is None:
            raise RuleError("Say something, or judge how it stands.", "sections")
        if judges:
            check_open(goal)
        people = _recipients(cur, goal, new.people)
        note = ProgressNote(new.id, goal_id, actor.person.id, actor.clock.utc(), new.health, sections, people)
        rows.insert_note(cur, note)
        if new.value is not None:
            value = Value(new_id(), goal_id, actor.clock.now().date(), new.value, actor.person.id, note.at, note.id)
            _check_new_value(cur, goal, value, value.day)
            rows.insert_value(cur, value)
        log.record("goal_note", new.id, "created", None, {"goal_id": goal_id})
        rows.follow(cur, goal_id, [actor.person.id])
        telling.tell_followers(cur, actor, goal, "goal", _said(note), people)


def _recipients(cur: Cursor, goal: Goal, people: Sequence[str]) -> tuple[str, ...]:
    """Those to whom a note is sent. Raises RuleError where one of them may not see the goal."""
    known = {one.id: one for one in people_rows.all_people(cur) if one.active}
    for one in people:
        if one not in known:
            raise RuleError("Somebody to whom it goes is not in the organisation any more.", "people")
        if right_in(goal, known[one]) is None:
            raise RuleError(f"{known[one].name} may not see the goal. Name them in it first.", "people")
    return tuple(dict.fromkeys(people))


def _said(note: ProgressNote) -> str:
    texts = "; ".join(f"{name}: {text}" if name else text for name, text in note.sections)
    judged = f"says it is {note.health}. " if note.health else "says: "
    return f"{judged}{texts}".strip()


@once
def set_note_gone(cur: Cursor, actor: Actor, note_id: str, *, gone: bool) -> None:
    """Take a progress note away with the value that it said, or bring it back: its writer, and who may edit the goal.

    Raises:
        Missing, Forbidden: the person may not.
        RuleError: the goal was closed.
    """
    actor = replace(actor, draft=None)
    note = rows.note(cur, note_id)
    if note is None or (note.deleted_at is not None) is gone:
        raise Missing("progress note")
    goal = open_goal(cur, actor, note.goal_id, "comment")
    if note.person_id != actor.person.id:
        open_goal(cur, actor, note.goal_id, "edit")
    check_open(goal)
    with writing(cur, actor, None, "took away a progress note" if gone else "brought back a progress note") as log:
        rows.count_up(cur)
        at = actor.clock.utc() if gone else None
        log.record("goal_note", note_id, "deleted_at", note.deleted_at, at)
        rows.set_note_gone(cur, note_id, at)


def take_back(cur: Cursor, actor: Actor, subject: str, subject_id: str, entries: Sequence[Entry]) -> None:
    """Take back what a change did to a value or a progress note. Raises as what does it."""
    gone = entries[0].field == "created" or from_json(entries[0].old) is not None
    if subject == "goal_note":
        set_note_gone(cur, actor, subject_id, gone=gone)
        return
    one = rows.value(cur, subject_id)
    if one is None:
        raise Missing("value")
    set_value_gone(cur, actor, one.goal_id, subject_id, gone=gone)


def mark_read(cur: Cursor, actor: Actor, goal_id: str) -> None:
    """Note that a person has read what is said of a goal."""
    open_goal(cur, replace(actor, draft=None), goal_id, "read")
    rows.mark_read(cur, goal_id, actor.person.id, actor.clock.utc())


# what is due


def due_of(cur: Cursor, actor: Actor) -> list[tuple[Goal, date]]:
    """The goals of a person whose progress note is due, the longest first."""
    today = actor.clock.now().date()
    mine = [one for one in rows.goals(cur).values() if one.owner_id == actor.person.id and one.is_open and one.rhythm]
    if not mine:
        return []
    noted = noted_days(cur, actor.clock)
    due = [(one, day) for one in mine if (day := next_due(one, noted.get(one.id))) is not None and is_due(day, today)]
    return sorted(due, key=lambda one: (one[1], one[0].title))


def remind(cur: Cursor, clock: Clock, address: str) -> int:
    """Tell owners once of each progress note that is due. Returns how many were told."""
    today, noted = clock.now().date(), noted_days(cur, clock)
    people = {one.id: one for one in people_rows.all_people(cur) if one.active}
    due = [
        (people[one.owner_id], one, day)
        for one in rows.goals(cur).values()
        if (day := next_due(one, noted.get(one.id))) is not None and is_due(day, today) and one.owner_id in people
        and (one.reminded is None or one.reminded < day)
    ]  # fmt: skip
    wishes = people_rows.preferences_of(cur, {owner.id for owner, _, _ in due})
    for owner, one, day in due:
        rows.set_reminded(cur, one.id, today)
        telling.remind(cur, Actor(owner, clock, address=address), one, day, wishes.get(owner.id, {}))
    return len(due)


@dataclass(frozen=True, slots=True)
class Tried:
    """What a measure would find now; ``fields``: those that can be summed, by key."""

    goal: Goal
    standing: Standing
    counted: list[CountedProject]
    fields: dict[str, str]


def try_measure(cur: Cursor, actor: Actor, measure: Measure, first: date, last: date) -> Tried:
    """What a measure would find now.

    Raises:
        Missing: a project that the person may not see.
        RuleError: a measure that cannot be.
    """
    actor = replace(actor, draft=None)
    seen = every_visible_project(cur, actor)
    if any(one not in seen for one in measure.projects):
        raise Missing("project")
    goal = Goal("", "", actor.person.id, first, last, actor.clock.utc(), measure=measure)
    fields = measuring.fields_of(cur, actor, [seen[one][0] for one in measure.projects])
    if measure.kind == "field" and not measure.field:
        return Tried(goal, Standing(), [], fields)
    check_measure(measure, first, last)
    measuring.check_counting(cur, actor, goal)
    facts = replace(measuring.facts_of(cur, actor, [goal]), values={}, said={})
    return Tried(goal, measure_all({goal.id: goal}, facts, actor.clock.now().date())[goal.id], _counted(cur, actor, goal), fields)
