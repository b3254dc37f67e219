"""Drafts: changes kept beside the plan under a name, to be tried, compared, and applied or thrown away.

A draft keeps for each field of a task what it was in the plan when it was changed, and what it is to be. So it can be
laid over the plan as that goes on, and says where the plan has changed the same field since.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from ..common.errors import RuleError
from ..tasks.custom_fields import kind_exists
from ..tasks.model import OWN, Task
from .plan import Plan
from .planning import computed_dates, follow
from .schedule import Schedule

Kept = dict[str, dict[str, tuple[Any, Any]]]
"""By task and field: what it was in the plan, and what it is to be."""

CREATED = "created"
"""Stands among what is kept of a task that the draft has made: its number."""
_NOT_KEPT = frozenset({"description"})
_FOLLOWS = frozenset({"start", "finish", "place", "board_place", "state_since", "held_since"})
"""What follows from other fields, and so is no matter of its own between a draft and the plan."""


@dataclass(frozen=True, slots=True)
class Draft:
    """Changes to a project kept under a name.

    Attributes:
        shared: True where everybody who sees the project may see it; only its maker changes it.
        version: counts its changes.
        at: when it was made (UTC).
        applied: the change by which it was applied to the plan.
    """

    id: str
    project_id: str
    name: str
    person_id: str
    shared: bool
    version: int
    at: datetime
    kept: Kept
    applied: str | None = None


def not_kept(subject: str, field: str) -> bool:
    """True for a change that a draft does not keep: it tries tasks with their dates, links, people, states and places in
    the outline, while what is written about them and hangs on them stays the plan's own."""
    return subject != "task" or field in _NOT_KEPT


_OF_THE_ROW = frozenset(
    {"id", "project_id", "number", "own", "revision", "pushes", "comments", "files", "checks", "checks_done", "changed_at"}
)
"""What a task that only a draft has does not keep among its fields."""


def note_change(kept: Kept, in_plan: Task | None, before: Task | None, after: Task) -> dict[str, tuple[Any, Any]]:
    """What a draft keeps of a task once the draft's task has changed; empty where it is as in the plan again.

    Args:
        in_plan: the task in the plan; None for one that the draft has made.
        before, after: the task in the draft, before and after the change; None before it was made.
    """
    if in_plan is None:
        return _note_new(after)
    assert before is not None
    fields = dict(kept.get(in_plan.id, {}))
    names = [name for name in Task.__slots__ if name != "own"] + [OWN + one for one in before.own.keys() | after.own.keys()]
    for name in names:
        old, new = before.value(name), after.value(name)
        if old == new or name in {"revision", "pushes"}:  # to try a later day is no push
            continue
        fields[name] = (in_plan.value(name), new)
    return {name: (was, new) for name, (was, new) in fields.items() if in_plan.value(name) != new}


def _note_new(task: Task) -> dict[str, tuple[Any, Any]]:
    """What a draft keeps of a task that it has made: all of it; nothing once it is deleted again."""
    if task.deleted_at is not None:
        return {}
    fields = {name: getattr(task, name) for name in Task.__slots__ if name not in _OF_THE_ROW}
    fields |= {OWN + one: value for one, value in task.own.items()}
    return {CREATED: (None, task.number)} | {name: (None, value) for name, value in fields.items() if value not in (None, ())}


def refusal() -> RuleError:
    """What is said where a draft cannot keep a change."""
    return RuleError(
        "A draft tries tasks, dates, links, people and states. Describe tasks, and hang comments, files and checklists on them,"
        " in the plan: leave the draft first."
    )


def lay_over(plan: Plan, kept: Kept) -> dict[str, Task]:
    """The tasks that stand differently in a draft, as they are there: those that it makes and changes, and those that follow.

    What the plan has no place for any more (a deleted state, a task in the bin, a place below itself) is left out. Where links of the draft
    would now close a circle with those of the plan, the links of the plan stay.
    """
    tasks = plan.tasks
    made = {task.id: task for task in new_tasks(plan, kept)}
    changed = made | {one: tasks[one].with_fields(fields) for one, fields in _fitting(plan, kept, made).items()}
    try:
        schedule = _followed(plan, changed)
    except RuleError:
        changed = {
            one: task.with_fields({"waits_for": tasks[one].waits_for if one in tasks else ()}) for one, task in changed.items()
        }
        schedule = _followed(plan, changed)
    all_tasks = {**tasks, **changed}
    for task_id, moved in computed_dates(schedule, all_tasks).items():
        changed[task_id] = all_tasks[task_id].with_fields(moved)
    return changed


def _followed(plan: Plan, changed: Mapping[str, Task]) -> Schedule:
    return follow(plan.schedule, plan.project, plan.calendar, plan.tasks, {**plan.tasks, **changed}, changed)


def _fitting(plan: Plan, kept: Kept, made: Mapping[str, Task]) -> dict[str, dict[str, Any]]:
    """What is kept of the plan's own tasks, as far as the plan has a place for it.

    Args:
        made: the tasks that the draft makes, under which others may stand.
    """
    project, tasks = plan.project, plan.tasks
    states = {state.id for state in project.states}
    found: dict[str, dict[str, Any]] = {}
    for task_id, fields in kept.items():
        task = tasks.get(task_id)
        if task is not None and task.deleted_at is None:
            found[task_id] = {
                name: new
                for name, (_, new) in fields.items()
                if name != CREATED
                and (name != "state_id" or new in states)
                and (name != "calendar_id" or new is None or new in project.calendars)
            }
    known = tasks.keys() | made.keys()
    found = {one: _naming_known(fields, known) for one, fields in found.items()}
    gone = {one for one, fields in found.items() if fields.get("deleted_at") is not None}
    _leave_where_no_place(found, {**tasks, **made}, gone)
    return found


def _naming_known(fields: dict[str, Any], known: Collection[str]) -> dict[str, Any]:
    """Fields without what names a task that is nowhere: one that the draft had made, and has no more."""
    if fields.get("held_by_id") is not None and fields["held_by_id"] not in known:
        fields = {**fields, "held_by_id": None}
    if any(link.from_id not in known for link in fields.get("waits_for") or ()):
        fields = {**fields, "waits_for": tuple(link for link in fields["waits_for"] if link.from_id in known)}
    return fields


def _leave_where_no_place(found: dict[str, dict[str, Any]], tasks: Mapping[str, Task], gone: Collection[str]) -> None:
    """Let those stay where they are in the plan whose new place is gone, or lies below themselves."""
    parents = {one: fields.get("parent_id", tasks[one].parent_id) for one, fields in found.items() if one not in gone}

    def reaches_top(task_id: str) -> bool:
        seen: set[str] = set()
        at: str | None = task_id
        while at is not None:
            if at in seen or at not in tasks or tasks[at].deleted_at is not None or at in gone:
                return False
            seen.add(at)
            at = parents.get(at, tasks[at].parent_id)
        return True

    for task_id in parents:
        if "parent_id" in found[task_id] and not reaches_top(task_id):
            found[task_id] = {name: new for name, new in found[task_id].items() if name not in {"parent_id", "place"}}
            parents[task_id] = tasks[task_id].parent_id


def new_tasks(plan: Plan, kept: Kept) -> list[Task]:
    """The tasks that a draft has made, those above before those below; what the plan has no place for any more stands at the top."""
    living = {one for one, task in plan.tasks.items() if task.deleted_at is None}
    drawn = {one: fields for one, fields in kept.items() if CREATED in fields and one not in living}
    known = plan.tasks.keys() | drawn.keys()
    made = {one: _made(plan, one, fields, known) for one, fields in drawn.items()}
    order: dict[str, Task] = {}

    def place(task: Task, above: tuple[str, ...] = ()) -> None:
        if task.id in order:
            return
        parent = made.get(task.parent_id or "")
        if parent is not None and parent.id not in above:
            place(parent, (*above, task.id))
        fits = task.parent_id is None or task.parent_id in living or task.parent_id in order
        order[task.id] = task if fits else task.with_fields({"parent_id": None})

    for task in sorted(made.values(), key=lambda one: one.number):
        place(task)
    return list(order.values())


def _made(plan: Plan, task_id: str, fields: Mapping[str, tuple[Any, Any]], known: Collection[str]) -> Task:
    project = plan.project
    first = project.first_state("queued")
    assert first is not None
    values = _naming_known({name: new for name, (_, new) in fields.items() if name != CREATED}, known)
    if values.get("state_id") not in {state.id for state in project.states}:
        values["state_id"] = first.id
    if values.get("calendar_id") not in project.calendars:
        values["calendar_id"] = None
    if not kind_exists(str(values.get("kind")), project):
        values["kind"] = "task"
    number = int(fields[CREATED][1])
    return Task(task_id, project.id, number, None, "", "task", "", None, first.id, "").with_fields(values)


def to_apply(plan: Plan, kept: Kept) -> dict[str, dict[str, Any]]:
    """The fields that applying a draft sets in the plan, by task; those that it makes are ``new_tasks``.

    What it made before, and was taken back since, comes out of the bin.
    """
    made = {task.id: task for task in new_tasks(plan, kept)}
    fitting = _fitting(plan, kept, made)
    for task in made.values():
        if task.id in plan.tasks:
            names = [name for name in Task.__slots__ if name not in _OF_THE_ROW]
            fitting[task.id] = {name: getattr(task, name) for name in names} | {
                OWN + one: value for one, value in task.own.items()
            }
    wanted = {
        task_id: {name: new for name, new in fields.items() if plan.tasks[task_id].value(name) != new}
        for task_id, fields in fitting.items()
    }
    return {task_id: fields for task_id, fields in wanted.items() if fields}


def overtaken(plan: Plan, kept: Kept) -> list[tuple[str, str]]:
    """(task, field) where the plan has changed since the draft did: applying it would put its own value over that."""
    tasks = plan.tasks
    return [
        (task_id, name)
        for task_id, fields in kept.items()
        if task_id in tasks and tasks[task_id].deleted_at is None
        for name, (was, new) in fields.items()
        if name not in _FOLLOWS and name != CREATED and tasks[task_id].value(name) not in (was, new)
    ]
