"""Tasks: write them down, change them, move them, delete and restore them."""

from __future__ import annotations

from collections import ChainMap
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.bounds import MOST_TASKS
from ...core.common.errors import Clash, Missing, RuleError
from ...core.common.ordering import place_between
from ...core.resources.typed_bookings import Named, read_bookings, sent
from ...core.schedule.drafts import refusal
from ...core.schedule.plan import Plan
from ...core.talk.parts import Check, Checklist
from ...core.tasks import rules as task_rules
from ...core.tasks.booked import without_sums
from ...core.tasks.custom_fields import defaults
from ...core.tasks.custom_values import say_rounding
from ...core.tasks.model import OWN, Link, Project, Task
from ...core.tasks.typed_fields import read_fields
from ...core.tasks.typed_links import write_links
from ...core.tasks.workflow import route
from ...formats.html import people_in
from ...store.common import journal as journal_rows
from ...store.people import people as people_rows
from ...store.talk import parts as part_rows
from ...store.tasks import projects as project_rows
from ...store.tasks import tasks as task_rows
from ..common.context import LONGEST_WHAT, Actor, Log, new_id, once, open_project
from ..common.pipeline import After, changing, step, who_can_be_booked
from ..common.plan_cache import CachedPlan, see_plan
from ..common.progress import Progress, silent, told
from ..common.search_index import write_part_words, written
from ..common.task_writes import write_fields, write_made, write_many

MOST_AT_ONCE = 5000


@dataclass(frozen=True, slots=True)
class NewTask:
    """A task to be written down. The id is made by the client, so that a repeated request is harmless.

    ``fields`` are those of ``core.tasks.rules.change``; ``after_id`` is the sibling to stand behind, None for the first
    place, ``"end"`` for the last. ``waits_for``, ``held_by`` and, by own field, ``points`` name other new tasks by their ids.
    ``checklists`` are by name the things to tick, each with whether it is done.
    """

    id: str
    title: str
    parent_id: str | None = None
    after_id: str | None = "end"
    fields: dict[str, Any] = field(default_factory=dict)
    description: str = ""
    waits_for: tuple[Link, ...] = ()
    points: dict[str, list[str]] = field(default_factory=dict)
    held_by: str | None = None
    checklists: Sequence[tuple[str, Sequence[tuple[str, bool]]]] = ()


@dataclass(frozen=True, slots=True)
class TaskEdit:
    """Changed fields of one task, and the revision of the row that the person saw when editing."""

    id: str
    revision: int
    fields: dict[str, Any]


def read_plan(cur: Cursor, actor: Actor, code: str) -> CachedPlan:
    """The plan of a project as the person sees it."""
    return see_plan(cur, actor, open_project(cur, actor, code, "see"))


@step("release")
def _let_go(cur: Cursor, actor: Actor, log: Log, plan: Plan, _: After) -> None:
    """What was held by a task that is done goes on by itself."""
    tasks = ChainMap(log.tasks, plan.tasks)
    now = actor.clock.now()
    free = {
        one: task_rules.change(tasks[one], {"held_by_id": None}, project=plan.project, calendar=plan.calendar, now=now)
        for one in task_rules.released(tasks, log.tasks, plan.project)
    }
    write_many(cur, log, free, tasks)


@once
def add_tasks(cur: Cursor, actor: Actor, code: str, new: Sequence[NewTask]) -> None:
    """Write tasks down, in the order given; a parent stands before the tasks under it.

    Raises:
        RuleError: a title or a field that cannot be, or a place that does not exist.
    """
    check_count(len(new))
    with changing(cur, actor, code, f"added {counted(len(new))}") as (log, held):
        insert_tasks(cur, actor, log, held.plan, new)


def insert_tasks(
    cur: Cursor,
    actor: Actor,
    log: Log,
    plan: Plan,
    new: Sequence[NewTask],
    ready: Mapping[str, dict[str, Any]] | None = None,
    progress: Progress = silent,
) -> None:
    """Write new tasks and their journal within a change that is open.

    Args:
        ready: by id the fields as ``wanted_fields`` gives them, where they are known already.
    """
    if len(plan.rows) + len(new) > MOST_TASKS:
        raise RuleError(f"A project holds {MOST_TASKS} tasks at most. Start another for these.")
    number = project_rows.take_numbers(cur, plan.project.id, len(new))
    made: list[Task] = []
    seen = Seen()
    places, make_room = _places(plan, new)
    for offset, (one, place) in enumerate(zip(told(new, new, progress, "writing", 0.5, 0.6), places, strict=True)):
        fields = wanted_fields(cur, actor, plan, one, seen) if ready is None else ready[one.id]
        bare = replace(_bare(plan, one, actor.clock.now()), number=number + offset, place=place)
        task = bare.with_fields({**fields, **one.points})
        task = replace(task, board_place=seen.next_place(plan, task.state_id))
        made.append(replace(task, revision=log.revision, waits_for=one.waits_for or task.waits_for))
    write_many(cur, log, {one: {"place": place} for one, place in make_room.items()}, plan.tasks)
    described = {one.id: written(one.description, "description") for one in new if one.description}
    progress("writing", 0.6)
    write_made(cur, actor, log, made, described)
    held = {"held_reason": None, "held_since": actor.clock.now()}
    by_task = {one.id: {"held_by_id": one.held_by, **held} for one in new if one.held_by}  # once those that hold are there
    write_many(cur, log, by_task, dict(log.tasks))
    _hang_checklists(cur, actor, log, new)
    progress("planning", 0.8)


def _hang_checklists(cur: Cursor, actor: Actor, log: Log, new: Sequence[NewTask]) -> None:
    """Write the checklists of new tasks. Raises RuleError in a draft, which holds none."""
    listed = [one for one in new if one.checklists]
    if not listed:
        return
    if log.in_draft:
        raise refusal()
    lists: list[Checklist] = []
    checks: list[Check] = []
    for one in listed:
        last = ""
        for name, items in one.checklists:
            last = place_between(last or None, None)
            made = Checklist(new_id(), one.id, name, last)
            lists.append(made)
            at = ""
            for text, done in items:
                at = place_between(at or None, None)
                ticked = (actor.clock.utc(), actor.person.id) if done else (None, None)
                checks.append(Check(new_id(), one.id, made.id, text, at, *ticked))
    part_rows.insert(cur, lists)
    part_rows.insert(cur, checks)
    write_part_words(cur, log.project.id, *lists, *checks)
    part_rows.recount(cur, [one.id for one in listed], log.revision)
    for one in listed:
        many = len(one.checklists)
        log.record("task", one.id, "hanging", None, f"{many} checklist{'s' if many > 1 else ''}")


def _bare(plan: Plan, new: NewTask, now: datetime) -> Task:
    kind = str(new.fields.get("kind") or "task")
    task = Task(new.id, plan.project.id, 0, new.parent_id, "", kind.lower(), "", None, "", "")
    first = plan.project.first_state("queued", _route_of(plan, task))
    assert first is not None
    return replace(task, kind="task", state_id=first.id, state_since=now)


def _route_of(plan: Plan, task: Task) -> str | None:
    """The workflow that a new task is to go through."""
    above = (lambda at: plan.tasks[at].parent_id if at in plan.tasks else None) if plan.project.workflows else None
    return route(task, plan.project, above) if above else None


def wanted_fields(cur: Cursor, actor: Actor, plan: Plan, new: NewTask, seen: Seen) -> dict[str, Any]:
    """The fields that were asked for of a new task, and what follows from them.

    Raises:
        RuleError: a field that cannot be.
    """
    now = actor.clock.now()
    given = defaults(plan.project, str(new.fields.get("kind") or "task"))
    wanted = read_fields({"title": new.title, **given, **with_bookings(cur, actor, plan, new.fields, 0, seen)}, plan, now)
    if wanted.get("repeats"):
        wanted["repeats"] = {**wanted["repeats"], "by": actor.person.id}
    _check_people(cur, plan, wanted, seen)
    return task_rules.change(_bare(plan, new, now), wanted, project=plan.project, calendar=plan.calendar, now=now)


def _places(plan: Plan, new: Sequence[NewTask]) -> tuple[list[str], dict[str, str]]:
    """A place for each new task, and new places by id of those that make room.

    Those that follow one another under one parent share the room there.
    """
    others: dict[str, str] = {}
    known = {one.id for one in new}
    places: dict[str, str] = {}
    last: dict[str | None, str] = {}
    runs: list[list[NewTask]] = []
    open_run: dict[str | None, list[NewTask]] = {}
    for one in new:
        if one.parent_id in known:
            places[one.id] = last[one.parent_id] = place_between(last.get(one.parent_id), None)
            continue
        if one.parent_id is not None and one.parent_id not in plan.rows:
            raise RuleError("The task to stand under is gone. Choose another place.", "parent_id")
        run = open_run.get(one.parent_id)
        if run and (one.after_id == run[-1].id or one.after_id == run[0].after_id == "end"):
            run.append(one)
        else:
            open_run[one.parent_id] = [one]
            runs.append(open_run[one.parent_id])
    for run in runs:
        parent, after = run[0].parent_id, run[0].after_id
        if after is not None and after not in plan.outline.children.get(parent, ()):
            after = "end"
        room = plan.outline.room_in(parent, after, len(run))
        places |= zip([one.id for one in run], room.places, strict=True)
        others |= room.others
    return [places[one.id] for one in new], others


MOST_REMARKS = 5


def remarks_on(project: Project, edits: Sequence[Mapping[str, Any]]) -> list[str]:
    """What is worth a word about edits that were made: numbers with more decimals than their field keeps.

    Args:
        project: with its fields.
        edits: the fields of each, as they were typed.
    """
    defined = {one.key: one for one in project.fields}
    said = (say_rounding(defined[name], value) for fields in edits for name, value in fields.items() if name in defined)
    return [one for one in said if one][:MOST_REMARKS]


@once
def edit_tasks(cur: Cursor, actor: Actor, code: str, edits: Sequence[TaskEdit]) -> None:
    """Change fields of tasks. Different fields changed by two people merge.

    Raises:
        Clash: somebody else changed the same field since the revision that the edit was made from.
        RuleError: the change breaks a rule.
    """
    check_count(len(edits))
    with changing(cur, actor, code, _what(edits)) as (log, held):
        _check_clash(cur, actor, held.plan, edits)
        seen = Seen()
        many: dict[str, dict[str, Any]] = {}
        for edit in edits:
            fields = edited_fields(cur, actor, held.plan, edit.id, edit.fields, seen)
            if edit.id in many:  # a second edit of one task comes after the first
                write_many(cur, log, many, held.plan.tasks)
                many = {}
            if "description" in fields:
                log.named[edit.id] = _named_anew(cur, edit.id, fields["description"])
                write_fields(cur, log, held.plan.tasks[edit.id], fields)
            else:
                many[edit.id] = fields
        write_many(cur, log, many, held.plan.tasks)


def _named_anew(cur: Cursor, task_id: str, text: str) -> list[str]:
    before = people_in(task_rows.description(cur, task_id))
    return [one for one in people_in(text) if one not in before]


def _what(edits: Sequence[TaskEdit]) -> str:
    names = {name for edit in edits for name in edit.fields}
    words = {
        "owner_id": "owner", "state_id": "state", "held_reason": "held", "push_to": "finish (pushed)", "percent": "percent done",
        "stretch_to": "finish", "constraint_type": "constraint", "constraint_at": "constraint", "waits_for": "links",
    }  # fmt: skip
    fields = sorted({"own fields" if name.startswith(OWN) else words.get(name, name) for name in names})
    of = f" of {counted(len(edits))}" if len(edits) > 1 else ""
    said = f"changed {', '.join(fields)}{of}"
    return said if len(said) <= LONGEST_WHAT else f"changed {len(fields)} fields{of}"


@dataclass(slots=True)
class Seen:
    """What one change has looked up already, so that many edits look it up once.

    Attributes:
        people: who are known to be in the organisation.
        last: by state the last place in its column of the board.
        bookable: who can be booked, once somebody has typed a booking.
    """

    people: set[str] = field(default_factory=set)
    last: dict[str, str | None] = field(default_factory=dict)
    bookable: Sequence[Named] | None = None

    def next_place(self, plan: Plan, state_id: str) -> str:
        """A place behind all others in a column."""
        if state_id not in self.last:
            self.last[state_id] = _last_in_column(plan, state_id)
        self.last[state_id] = place = place_between(self.last[state_id], None)
        return place


def apply_edit(
    cur: Cursor, actor: Actor, log: Log, plan: Plan, task_id: str, wanted: Mapping[str, Any], seen: Seen | None = None
) -> None:
    """Write one edit and what follows from it."""
    fields = edited_fields(cur, actor, plan, task_id, wanted, seen or Seen())
    write_fields(cur, log, plan.tasks[task_id], fields)


def edited_fields(cur: Cursor, actor: Actor, plan: Plan, task_id: str, wanted: Mapping[str, Any], seen: Seen) -> dict[str, Any]:
    """Every field that an edit sets, with what follows from it."""
    task = living(plan, task_id)
    fields = changed_fields(cur, actor, plan, task, wanted, seen)
    if "state_id" in fields and "board_place" not in fields:
        fields["board_place"] = seen.next_place(plan, fields["state_id"])
    if "description" in wanted:
        text = wanted["description"] or ""
        if task_rows.description(cur, task_id) != text:
            fields["description"] = written(text, "description")
    return fields


def changed_fields(
    cur: Cursor, actor: Actor, plan: Plan, task: Task, wanted: Mapping[str, Any], seen: Seen | None = None
) -> dict[str, Any]:
    """The fields that an edit sets, those that follow from it included; the description is left out."""
    now = actor.clock.now()
    seen = seen or Seen()
    wanted = with_bookings(cur, actor, plan, wanted, task.effort or 0, seen)
    fields = read_fields({name: value for name, value in wanted.items() if name != "description"}, plan, now, task)
    if fields.get("repeats"):
        fields["repeats"] = {**fields["repeats"], "by": actor.person.id}
    _check_people(cur, plan, fields, seen)
    return task_rules.change(
        task,
        fields,
        project=plan.project,
        calendar=plan.calendar,
        now=now,
        is_summary=plan.outline.is_summary(task.id),
        percent_before_finish=_percent_before(cur, plan, task, fields),
    )


def with_bookings(cur: Cursor, actor: Actor, plan: Plan, wanted: Mapping[str, Any], effort: int, seen: Seen) -> Mapping[str, Any]:
    """Fields in which bookings are typed, with what they mean.

    Args:
        effort: minutes of the estimate, of which a name without an amount takes what is open.
    """
    text = wanted.get("bookings")
    if not isinstance(text, str):
        return wanted
    if seen.bookable is None:
        seen.bookable = who_can_be_booked(cur, actor, plan.project.code)
    return {**wanted, "bookings": sent(read_bookings(text, seen.bookable, plan.calendar.day_minutes, effort))}


def _last_in_column(plan: Plan, state_id: str) -> str | None:
    return max((t.board_place for t in plan.tasks.values() if t.state_id == state_id and t.deleted_at is None), default=None)


def _percent_before(cur: Cursor, plan: Plan, task: Task, fields: Mapping[str, Any]) -> int:
    """Where a finished task is opened again: the percent it had before it was finished."""
    if plan.project.state(task.state_id).state_class != "finished" or "state_id" not in fields:
        return 0
    before = journal_rows.last_value_before(cur, task.id, "percent", "100")
    return int(before) if before else 0


def _check_people(cur: Cursor, plan: Plan, fields: Mapping[str, Any], seen: Seen) -> None:
    """Raises RuleError where an owner, a helper, or the person in a field of the project's own is nobody of the organisation."""
    named = {"owner_id": [fields["owner_id"]] if fields.get("owner_id") else [], "helpers": list(fields.get("helpers", ()))}
    named |= {one.key: [fields[one.key]] for one in plan.project.fields if one.type == "person" and fields.get(one.key)}
    for name, people in named.items():
        for person_id in people:
            if person_id in seen.people:
                continue
            found = people_rows.person(cur, person_id)
            if found is None or not found.active:
                raise RuleError("That person is not in the organisation any more. Choose another.", name)
            seen.people.add(person_id)


def living(plan: Plan, task_id: str) -> Task:
    """A task that is not in the bin. Raises Missing where there is none."""
    task = plan.tasks.get(task_id)
    if task is None or task.deleted_at is not None:
        raise Missing("task")
    return task


# A field that was touched clashes with others that settle it: two of start, finish and duration give the third.
_TOUCHES = {
    "push_to": {"start", "finish", "duration"},
    "stretch_to": {"finish", "duration"},
    "percent": {"percent", "state_id"},
    "state_id": {"state_id"},
}


def _check_clash(cur: Cursor, actor: Actor, plan: Plan, edits: Sequence[TaskEdit]) -> None:
    stale = [edit for edit in edits if edit.id in plan.tasks and plan.tasks[edit.id].revision > edit.revision]
    if not stale:
        return
    since = {edit.id: edit.revision for edit in stale}
    changed: dict[tuple[str, str], str] = {}
    for subject, name, revision, person in journal_rows.changed_since(cur, list(since), min(since.values())):
        if revision > since[subject] and person != actor.person.id:
            changed[subject, name] = person
    clashes = [
        {
            "task_id": edit.id,
            "field": name,
            "yours": edit.fields[name],
            "theirs": _shown(plan, edit.id, touched, cur),
            "by": changed[edit.id, touched],
        }
        for edit in stale
        for name in edit.fields
        for touched in sorted(_TOUCHES.get(name, {name}))
        if (edit.id, touched) in changed and _shown(plan, edit.id, touched, cur) != edit.fields[name]
    ]
    if clashes:
        raise Clash("Somebody else changed the same field while you were editing. Choose which value stays.", clashes)


def _shown(plan: Plan, task_id: str, name: str, cur: Cursor) -> Any:
    task = plan.tasks[task_id]
    if name == "description":
        return task_rows.description(cur, task.id)
    if name == "waits_for":
        return write_links(task.waits_for, plan.tasks, plan.calendar.day_minutes)
    if name == "bookings":
        return without_sums(task.bookings)
    value = task.value(name) if name.startswith(OWN) else getattr(task, name, None)
    return value.isoformat() if isinstance(value, datetime) else list(value) if isinstance(value, tuple) else value


def counted(number: int) -> str:
    """``a task``, ``3 tasks``."""
    return "a task" if number == 1 else f"{number} tasks"


def check_count(number: int) -> None:
    """Raises RuleError where more are changed at once than can be."""
    if number > MOST_AT_ONCE:
        raise RuleError(f"That is {number} tasks at once; {MOST_AT_ONCE} is the most. Do it in parts.")
