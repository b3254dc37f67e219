"""Tasks: write them down, change them, move them, delete and restore them."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, field, replace
from datetime import datetime
from typing import Any

from pymysql.cursors import Cursor

from ..core import tasks as task_rules
from ..core.access import ProjectAction
from ..core.dates import read_moment
from ..core.durations import read_duration, read_length
from ..core.errors import RuleError
from ..core.links import read_links, write_links
from ..core.model import LINK_TYPES, OWN, Link, Task
from ..core.own import defaults, read_value
from ..core.places import place_between
from ..core.plan import Plan
from ..core.repeats import Repeat, check_repeat, read_rule, write_repeat
from ..formats.html import clean, people_in, words_of
from ..store import journal as journal_rows
from ..store import parts as part_rows
from ..store import people as people_rows
from ..store import projects as project_rows
from ..store import tasks as task_rows
from .context import Actor, AlreadyDone, Clash, Log, Missing, open_project, writing
from .drafts import drafting
from .notices import tell_of_comment, tell_of_tasks
from .plans import PLANS, HeldPlan, Mark, see_plan
from .ripples import reschedule, write_fields, write_many
from .values import plain
from .words import write_field_words

MOST_AT_ONCE = 5000
LONGEST_LAG = 50 * 366 * 24 * 60


@dataclass(frozen=True, slots=True)
class RowsAnswer:
    """Rows for a client: everything where ``complete``, else what changed since it last asked."""

    mark: Mark
    complete: bool
    rows: list[bytes]
    gone: list[str]


@dataclass(frozen=True, slots=True)
class NewTask:
    """A task to be written down. The id is made by the client, so that a repeated request is harmless.

    ``fields`` are those of ``core.tasks.change``; ``after_id`` is the sibling to stand behind, None for the first
    place, ``"end"`` for the last.
    """

    id: str
    title: str
    parent_id: str | None = None
    after_id: str | None = "end"
    fields: dict[str, Any] = field(default_factory=dict)
    description: str = ""


@dataclass(frozen=True, slots=True)
class TaskEdit:
    """Changed fields of one task, and the revision of the row that the person saw when editing."""

    id: str
    revision: int
    fields: dict[str, Any]


def read_rows(cur: Cursor, actor: Actor, code: str, since: Mark | None) -> RowsAnswer:
    """All rows of a project, or those that changed since a mark."""
    project = open_project(cur, actor, code, "see")
    with see_plan(cur, actor, project) as held:
        complete, rows, gone = held.rows_json(since)
        return RowsAnswer(held.mark, complete, rows, gone)


@contextmanager
def changing(
    cur: Cursor, actor: Actor, code: str, what: str, action: ProjectAction = "edit", *, whole: bool = False
) -> Iterator[tuple[Log, HeldPlan]]:
    """Open a change to a project's tasks, with its plan as it stands before.

    Args:
        whole: True where the change is to the plan as a whole, so that everything that moves is shown in its ripple.
    """
    project = open_project(cur, actor, code, action)
    if actor.draft is not None:
        with drafting(cur, actor, project, actor.draft, what) as (log, held):
            yield log, held
        return
    with writing(cur, actor, project.id, what) as log:
        before = replace(log.project, revision=log.revision - 1)
        with PLANS.hold(cur, before, actor.clock.now()) as held:
            yield log, held
            _let_go(cur, actor, log, held.plan)
            from .repeats import follow_repeats  # it writes tasks itself

            follow_repeats(cur, actor, log, held.plan)
            reschedule(cur, actor, log, held.plan, whole=whole)
            tell_of_tasks(cur, actor, log, held.plan)


def _let_go(cur: Cursor, actor: Actor, log: Log, plan: Plan) -> None:
    """What was held by a task that is done goes on by itself."""
    tasks = {**plan.tasks, **log.tasks}
    for task_id in task_rules.released(tasks, log.tasks, plan.project):
        fields = task_rules.change(
            tasks[task_id], {"held_by_id": None}, project=plan.project, calendar=plan.calendar, now=actor.clock.now()
        )
        write_fields(cur, log, tasks[task_id], fields)


def add_tasks(cur: Cursor, actor: Actor, code: str, new: Sequence[NewTask]) -> None:
    """Write tasks down, in the order given; a parent stands before the tasks under it.

    Raises:
        RuleError: a title or a field that cannot be, or a place that does not exist.
    """
    check_count(len(new))
    try:
        with changing(cur, actor, code, f"added {counted(len(new))}") as (log, held):
            insert_tasks(cur, actor, log, held.plan, new)
    except AlreadyDone:
        return


def insert_tasks(cur: Cursor, actor: Actor, log: Log, plan: Plan, new: Sequence[NewTask]) -> None:
    """Write new tasks and their journal within a change that is open."""
    number = project_rows.take_numbers(cur, plan.project.id, len(new))
    first = plan.project.first_state("queued")
    assert first is not None
    board_place = _last_in_column(plan, first.id)
    made: list[Task] = []
    seen = Seen()
    for offset, (one, place) in enumerate(zip(new, _places(plan, new), strict=True)):
        board_place = place_between(board_place, None)
        bare = Task(
            id=one.id,
            project_id=plan.project.id,
            number=number + offset,
            parent_id=one.parent_id,
            place=place,
            kind="task",
            title="",
            owner_id=None,
            state_id=first.id,
            board_place=board_place,
            state_since=actor.clock.now(),
            revision=log.revision,
        )
        made.append(_with_wanted(cur, actor, plan, bare, one, seen))
    described = {one.id: clean(one.description) for one in new if one.description}
    task_rows.insert_tasks(cur, made, described, actor.clock.utc())
    for task_id, text in described.items():
        part_rows.write_words(cur, task_id, task_id, plan.project.id, "description", words_of(text))
    write_field_words(cur, [task for task in made if task.own])
    for task in made:
        log.tasks[task.id] = task
        log.record("task", task.id, "created", None, {"number": task.number, "title": task.title})
        for name in _JOURNALLED_AT_FIRST:
            value = getattr(task, name)
            if value and value != "asap":
                log.record("task", task.id, name, None, plain(name, value))


_JOURNALLED_AT_FIRST = (
    "parent_id", "owner_id", "start", "finish", "duration", "constraint_type", "constraint_at", "state_id", "percent",
    "waits_for",
)  # fmt: skip


def _with_wanted(cur: Cursor, actor: Actor, plan: Plan, bare: Task, new: NewTask, seen: Seen) -> Task:
    """A new task with the fields that were asked for and what follows from them."""
    now = actor.clock.now()
    given = defaults(plan.project, str(new.fields.get("kind") or "task"))
    wanted = read_fields({"title": new.title, **given, **new.fields}, plan, now)
    if wanted.get("owner_id") or wanted.get("helpers"):
        _check_people(cur, [wanted["owner_id"]] if wanted.get("owner_id") else [], wanted.get("helpers", ()), seen)
    fields = task_rules.change(bare, wanted, project=plan.project, calendar=plan.calendar, now=now)
    return bare.with_fields(fields)


def _places(plan: Plan, new: Sequence[NewTask]) -> list[str]:
    """A place for each new task. Those that follow one another under one parent share the room there."""
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
        places |= zip([one.id for one in run], plan.outline.places_in(parent, after, len(run)), strict=True)
    return [places[one.id] for one in new]


def read_fields(fields: Mapping[str, Any], plan: Plan, now: datetime, task: Task | None = None) -> dict[str, Any]:
    """Read what people typed: dates and durations may be text such as ``next fri`` and ``3 days``, links ``12 + 2 d``.

    Raises:
        RuleError: a field that is not known, or text that cannot be read.
    """
    read: dict[str, Any] = {}
    own = fields.get("calendar_id", task.calendar_id if task else None)
    calendar = plan.project.calendars.get(own, plan.calendar) if isinstance(own, str) else plan.calendar
    for name, value in fields.items():
        if name.startswith(OWN):
            read[name] = _read_own(name, value, plan, now)
            continue
        if name not in task_rules.EDITABLE:
            raise RuleError(f"A task has no field called {name}.", name)
        if isinstance(value, str) and not value.strip() and name not in {"title", "held_reason"}:
            value = None
        try:
            if isinstance(value, str) and name in {"start", "finish", "deadline", "push_to", "stretch_to", "constraint_at"}:
                value = read_moment(value, now.date())
                if name == "push_to" and isinstance(value, datetime):
                    value = value.date()
            elif isinstance(value, str) and name == "duration":
                value, read["elapsed"] = read_length(value, calendar.day_minutes)
            elif isinstance(value, str) and name == "effort":
                value = read_duration(value, plan.calendar.day_minutes, bare="hour")
            elif name == "percent":
                value = _read_percent(value)
            elif name == "repeats":
                value = _read_repeat(value, task, now)
            elif name == "held_by_id" and value is not None and value not in plan.rows:
                raise RuleError("The task that holds it is gone. Choose another.", name)
            elif name == "waits_for":
                value = _read_waits(value, task, plan)
        except RuleError as error:
            raise RuleError(error.sentence, name) from error
        read[name] = value
    for name in ("push_to", "stretch_to"):
        if name in read and read[name] is None:
            raise RuleError("Say which day the finish moves to.", name)
    if "helpers" in read:
        read["helpers"] = tuple(read["helpers"] or ())
    if "marks" in read:
        read["marks"] = tuple(dict.fromkeys(read["marks"] or ()))
    return read


def _read_repeat(value: Any, task: Task | None, now: datetime) -> dict[str, Any] | None:
    """How a task is to repeat: a rule in words or as an RRULE, counted from the day on which the task stands."""
    if value is None:
        return None
    if not isinstance(value, Mapping) or "words" not in value:
        raise RuleError("Say how it repeats in “words”, such as every second Tuesday.", "repeats")
    at = (task.start or task.finish) if task else None
    rule = read_rule(str(value["words"]), now.date())
    repeat = Repeat(
        rule,
        (at or now).date().isoformat(),
        value.get("mode", "finished"),
        int(value.get("ahead") or 1),
        bool(value.get("off_holidays", True)),
    )
    check_repeat(repeat)
    return write_repeat(repeat)


def _read_own(name: str, value: Any, plan: Plan, now: datetime) -> Any:
    """A value of one of the project's own fields."""
    one = next((each for each in plan.project.fields if each.key == name), None)
    if one is None:
        raise RuleError("That field is not in the project any more. Load the page again.", name)
    read = read_value(one, value, now.date())
    if one.type == "tasks" and read and (gone := [each for each in read if each not in plan.rows]):
        raise RuleError(f"{len(gone)} of these tasks are gone. Choose again.", name)
    return read


def _read_waits(value: Any, task: Task | None, plan: Plan) -> tuple[Link, ...]:
    if value is None or isinstance(value, str):
        return read_links(value or "", task, plan.tasks, plan.project.code, plan.calendar.day_minutes)
    found: dict[tuple[str, str], Link] = {}
    for one in value:
        try:
            link = Link(str(one["from_id"]), one.get("type", "FS"), int(one.get("lag", 0)), bool(one.get("elapsed")))
        except (TypeError, KeyError, ValueError, AttributeError) as error:
            raise RuleError("A link needs from_id, and may have type, lag and elapsed.", "waits_for") from error
        if link.type not in LINK_TYPES or abs(link.lag) > LONGEST_LAG:
            raise RuleError("A link is of type FS, SS, FF or SF, with a lag of at most fifty years.", "waits_for")
        if link.from_id not in plan.rows:
            raise RuleError("The task to wait for is gone. Choose another.", "waits_for")
        if task is not None and link.from_id == task.id:
            raise RuleError("A task cannot wait for itself. Name another.", "waits_for")
        found[link.from_id, link.type] = link
    return tuple(found.values())


def _read_percent(value: Any) -> int:
    try:
        return int(str(value if value is not None else 0).strip().rstrip("%").strip())
    except ValueError as error:
        raise RuleError("Write percent done as a number from 0 to 100.", "percent") from error


def edit_tasks(cur: Cursor, actor: Actor, code: str, edits: Sequence[TaskEdit]) -> None:
    """Change fields of tasks. Different fields changed by two people merge.

    Raises:
        Clash: somebody else changed the same field since the revision that the edit was made from.
        RuleError: the change breaks a rule.
    """
    check_count(len(edits))
    try:
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
                    _tell_the_named(cur, actor, held.plan, edit.id, fields["description"])
                    write_fields(cur, log, held.plan.tasks[edit.id], fields)
                else:
                    many[edit.id] = fields
            write_many(cur, log, many, held.plan.tasks)
    except AlreadyDone:
        return


def _tell_the_named(cur: Cursor, actor: Actor, plan: Plan, task_id: str, text: str) -> None:
    before = people_in(task_rows.description(cur, task_id))
    named = [one for one in people_in(text) if one not in before]
    if named:
        tell_of_comment(cur, actor, plan.project, plan.tasks[task_id], words_of(text), named, None, everyone=False)


def _what(edits: Sequence[TaskEdit]) -> str:
    names = {name for edit in edits for name in edit.fields}
    words = {
        "owner_id": "owner", "state_id": "state", "held_reason": "held", "push_to": "finish (pushed)", "percent": "percent done",
        "stretch_to": "finish", "constraint_type": "constraint", "constraint_at": "constraint", "waits_for": "links",
    }  # fmt: skip
    return f"changed {', '.join(sorted({words.get(name, name) for name in names}))}"[:80] + (
        f" of {counted(len(edits))}" if len(edits) > 1 else ""
    )


@dataclass(slots=True)
class Seen:
    """What one change has looked up already, so that many edits look it up once.

    Attributes:
        people: who are known to be in the organisation.
        last: by state the last place in its column of the board.
    """

    people: set[str] = field(default_factory=set)
    last: dict[str, str | None] = field(default_factory=dict)

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
    if "description" in wanted and task_rows.description(cur, task_id) != wanted["description"]:
        fields["description"] = clean(str(wanted["description"] or ""))
    return fields


def changed_fields(
    cur: Cursor, actor: Actor, plan: Plan, task: Task, wanted: Mapping[str, Any], seen: Seen | None = None
) -> dict[str, Any]:
    """The fields that an edit sets, those that follow from it included; the description is left out."""
    now = actor.clock.now()
    fields = read_fields({name: value for name, value in wanted.items() if name != "description"}, plan, now, task)
    if fields.get("repeats"):
        fields["repeats"] = {**fields["repeats"], "by": actor.person.id}
    person = fields.get("owner_id")
    _check_people(cur, [person] if person else [], fields.get("helpers", ()), seen or Seen())
    return task_rules.change(
        task,
        fields,
        project=plan.project,
        calendar=plan.calendar,
        now=now,
        is_summary=plan.outline.is_summary(task.id),
        percent_before_finish=_percent_before(cur, plan, task, fields),
    )


def _last_in_column(plan: Plan, state_id: str) -> str | None:
    return max((t.board_place for t in plan.tasks.values() if t.state_id == state_id and t.deleted_at is None), default=None)


def _percent_before(cur: Cursor, plan: Plan, task: Task, fields: Mapping[str, Any]) -> int:
    """Where a finished task is opened again: the percent it had before it was finished."""
    if plan.project.state(task.state_id).state_class != "finished" or "state_id" not in fields:
        return 0
    before = journal_rows.last_value_before(cur, task.id, "percent", "100")
    return int(before) if before else 0


def _check_people(cur: Cursor, owners: Sequence[str], helpers: Sequence[str], seen: Seen) -> None:
    for person_id in dict.fromkeys([*owners, *helpers]):
        if person_id in seen.people:
            continue
        found = people_rows.person(cur, person_id)
        if found is None or not found.active:
            raise RuleError("That person is not in the organisation any more. Choose another.", "owner_id")
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
    value = task.value(name) if name.startswith(OWN) else getattr(task, name, None)
    return value.isoformat() if isinstance(value, datetime) else list(value) if isinstance(value, tuple) else value


def counted(number: int) -> str:
    """``a task``, ``3 tasks``."""
    return "a task" if number == 1 else f"{number} tasks"


def check_count(number: int) -> None:
    """Raises RuleError where more are changed at once than can be."""
    if number > MOST_AT_ONCE:
        raise RuleError(f"That is {number} tasks at once; {MOST_AT_ONCE} is the most. Do it in parts.")
