"""Drafts: changes kept beside the plan under a name, to be tried, compared, and applied or thrown away.

A draft keeps for each field of a task what it was in the plan when it was changed, and what it is to be. So it can be
laid over the plan as that goes on, and says where the plan has changed the same field since.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from .errors import RuleError
from .model import OWN, Task
from .plan import Plan
from .planning import computed_dates, follow
from .schedule import Schedule

Kept = dict[str, dict[str, tuple[Any, Any]]]
"""By task and field: what it was in the plan, and what it is to be."""

_NOT_KEPT = frozenset({"created", "parent_id", "place", "deleted_at", "description"})
_FOLLOWS = frozenset({"start", "finish", "board_place", "state_since", "held_since"})
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
    """True for a change that a draft does not keep: it tries dates, links, people and states of tasks, while the shape
    of the outline and what is written stay the plan's own."""
    return subject != "task" or field in _NOT_KEPT


def note_change(kept: Kept, in_plan: Task, before: Task, after: Task) -> dict[str, tuple[Any, Any]]:
    """What a draft keeps of a task once the draft's task has changed; empty where it is as in the plan again.

    Args:
        in_plan: the task in the plan.
        before, after: the task in the draft, before and after the change.
    """
    fields = dict(kept.get(in_plan.id, {}))
    names = [name for name in Task.__slots__ if name != "own"] + [OWN + one for one in before.own.keys() | after.own.keys()]
    for name in names:
        old, new = before.value(name), after.value(name)
        if old == new or name in {"revision", "pushes"}:  # to try a later day is no push
            continue
        fields[name] = (in_plan.value(name), new)
    return {name: (was, new) for name, (was, new) in fields.items() if in_plan.value(name) != new}


def refusal() -> RuleError:
    """What is said where a draft cannot keep a change."""
    return RuleError(
        "A draft tries dates, links, people and states. Write, move, describe and delete tasks in the plan: leave the draft first."
    )


def lay_over(plan: Plan, kept: Kept) -> dict[str, Task]:
    """The tasks that stand differently in a draft, as they are there: those that it changes, and those that follow.

    What the plan has no place for any more (a deleted state, a task in the bin) is left out. Where links of the draft
    would now close a circle with those of the plan, the links of the plan stay.
    """
    tasks = plan.tasks
    changed = {one: tasks[one].with_fields(fields) for one, fields in _fitting(plan, kept).items()}
    try:
        schedule = _followed(plan, changed)
    except RuleError:
        changed = {one: task.with_fields({"waits_for": tasks[one].waits_for}) for one, task in changed.items()}
        schedule = _followed(plan, changed)
    all_tasks = {**tasks, **changed}
    for task_id, moved in computed_dates(schedule, all_tasks).items():
        changed[task_id] = all_tasks[task_id].with_fields(moved)
    return changed


def _followed(plan: Plan, changed: Mapping[str, Task]) -> Schedule:
    return follow(plan.schedule, plan.project, plan.calendar, plan.tasks, {**plan.tasks, **changed}, changed)


def _fitting(plan: Plan, kept: Kept) -> dict[str, dict[str, Any]]:
    project, tasks = plan.project, plan.tasks
    states = {state.id for state in project.states}
    found = {}
    for task_id, fields in kept.items():
        task = tasks.get(task_id)
        if task is not None and task.deleted_at is None:
            found[task_id] = {
                name: new
                for name, (_, new) in fields.items()
                if (name != "state_id" or new in states) and (name != "calendar_id" or new is None or new in project.calendars)
            }
    return found


def to_apply(plan: Plan, kept: Kept) -> dict[str, dict[str, Any]]:
    """The fields that applying a draft sets in the plan, by task."""
    wanted = {
        task_id: {name: new for name, new in fields.items() if plan.tasks[task_id].value(name) != new}
        for task_id, fields in _fitting(plan, kept).items()
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
        if name not in _FOLLOWS and tasks[task_id].value(name) not in (was, new)
    ]
