"""Tied work: what fields that point to tasks of other projects carry across, and how far what is tied is.

Who reads sees of the other side what they may see there, and how much more there is. How far an item is that takes its percent
from what it is tied to is the same for all: it says no more than its own percent.
"""

from __future__ import annotations

import uuid
from collections import defaultdict
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.errors import RuleError
from ...core.people.access import may_in_project
from ...core.schedule.plan import Plan, Row
from ...core.tasks import rules as task_rules
from ...core.tasks.custom_fields import CustomField
from ...core.tasks.model import Project, Task
from ...core.views.catalogue import Catalogue
from ...core.views.tied import TiedTask, Ties, carried_name, carried_type, tied_percent, tied_to, value_of
from ...store.tasks import projects as project_rows
from ...store.tasks import ties as tie_rows
from ...store.tasks.ties import Tie
from ..common.context import Actor, Log, open_project, writing
from ..common.pipeline import (
    After,
    Way,
    as_before,
    follow_on,
    knows_ties_of_fields,
    reschedule,
    says_before_bin,
    says_before_move,
    step,
)
from ..common.plan_cache import PLANS, CachedPlan, read_meta, see_plan
from ..common.task_writes import write_many
from ..tasks.projects import every_visible_project
from .views import catalogue_of, knows_ties

FARTHEST = 10
"""How many ties progress runs along, from item to item."""


def tied_fields(project: Project) -> list[CustomField]:
    """The fields of a project that point to work of others."""
    return [one for one in project.fields if one.type == "tied"]


@knows_ties
def ties_of(cur: Cursor, actor: Actor, held: CachedPlan) -> Ties | None:
    """What the tasks of a plan are tied to, as far as the person may see it; None where nothing can be."""
    if not tied_fields(held.plan.project):
        return None
    wanted = {one: tied_to(held.plan, one) for one in held.plan.rows}
    where = tie_rows.projects_of_tasks(cur, {each for fields in wanted.values() for some in fields.values() for each in some})
    seen = _seen(cur, actor, set(where.values()))
    by_item: dict[str, dict[str, list[TiedTask]]] = {}
    hidden: dict[str, dict[str, int]] = {}
    for item, fields in wanted.items():
        for field, ids in fields.items():
            there = [one for one in ids if one in where]
            found = [tied for one in there if (tied := _tied(seen, where[one], one))]
            by_item.setdefault(item, {})[field] = found
            hidden.setdefault(item, {})[field] = len(there) - len(found)
    return Ties(by_item, hidden)


def _seen(cur: Cursor, actor: Actor, project_ids: Collection[str]) -> dict[str, Catalogue]:
    """By project its columns, for those that the person may see."""
    if not project_ids:
        return {}
    visible = every_visible_project(cur, actor)
    outside = replace(actor, draft=None)  # a draft is of one project
    return {
        one: catalogue_of(cur, outside, see_plan(cur, outside, visible[one][0]), ties=False)
        for one in project_ids
        if one in visible
    }


def _tied(seen: Mapping[str, Catalogue], project_id: str, task_id: str) -> TiedTask | None:
    columns = seen.get(project_id)
    row = columns.plan.rows.get(task_id) if columns else None
    return TiedTask(row, columns) if columns and row else None


@dataclass(frozen=True, slots=True)
class CarriedField:
    """One field of the other side.

    Attributes:
        name: as the field that carries names it.
        value: as it is typed there, where it can be; else in words.
        words: as it is shown.
        field: under which it is edited there; None where it is only read.
    """

    name: str
    called: str
    type: str
    words: str
    field: str | None


@dataclass(frozen=True, slots=True)
class TiedItem:
    """A task of another project, as an item that is tied to it shows it."""

    project: Project
    row: Row
    state: str
    may_edit: bool
    carried: list[CarriedField]


@dataclass(frozen=True, slots=True)
class TiedOfField:
    """What one field of a task is tied to, and how many more there are that the reader may not see."""

    field: CustomField
    tied: list[TiedItem]
    hidden: int


EDITED_AS = {
    "state": "state_id", "owner": "owner_id", "start": "start", "finish": "finish", "deadline": "deadline", "percent": "percent",
    "priority": "priority", "effort": "effort",
}  # fmt: skip
"""Of what is carried the fields that are edited on this side, by what they are called on the other."""


def read_tied(cur: Cursor, actor: Actor, code: str) -> dict[str, list[TiedOfField]]:
    """By task of a project what it is tied to, with the fields that are carried across."""
    project = open_project(cur, actor, code, "see")
    held = see_plan(cur, actor, project)
    ties = ties_of(cur, actor, held)
    if ties is None:
        return {}
    roles = every_visible_project(cur, actor)
    fields = {one.id: one for one in tied_fields(held.plan.project)}
    return {
        item: [
            TiedOfField(fields[one], [_item(fields[one], tied, roles) for tied in found], ties.more(item, one))
            for one, found in by_field.items()
        ]
        for item, by_field in ties.by_item.items()
    }


def _item(field: CustomField, tied: TiedTask, roles: Mapping[str, tuple[Project, str]]) -> TiedItem:
    project, role = roles[tied.columns.plan.project.id]
    carried = [_carried(name, tied) for name in field.carries]
    state = tied.columns.say("state", tied.row.state_id)
    return TiedItem(project, tied.row, state, may_in_project(role, "edit") and project.archived_at is None, carried)


def _carried(name: str, tied: TiedTask) -> CarriedField:
    value = value_of(tied, name)
    words = tied.columns.say(_column_of(name, tied), value) if carried_type(name) != "text" else str(value or "")
    edited = EDITED_AS.get(name)
    if edited in task_rules.COMPUTED_ON_SUMMARY and tied.row.is_summary:
        edited = None
    if edited is None and (own := _own_field(name, tied)) is not None:
        edited = own.key if own.type not in {"computed", "tasks", "tied", "person", "choice", "choices", "yes_no"} else None
    return CarriedField(name, carried_name(name), carried_type(name), words, edited)


def _own_field(name: str, tied: TiedTask) -> CustomField | None:
    wanted = carried_name(name).casefold()
    return next((one for one in tied.columns.plan.project.fields if one.name.casefold() == wanted), None)


def _column_of(name: str, tied: TiedTask) -> str:
    own = _own_field(name, tied) if name not in EDITED_AS else None
    return own.key if own and name not in tied.columns.columns else name


# --- progress


@step("tied")
def _follow(cur: Cursor, actor: Actor, log: Log, plan: Plan, _: After) -> None:
    """What is tied anew is looked at and noted; and items that are tied to what was changed go on with it.

    Raises:
        RuleError: something is tied to what cannot be seen, to its own project, or in a circle.
    """
    if log.in_draft:
        return
    _note_ties(cur, actor, log, plan)
    follow_ties(cur, actor, log, plan)


@says_before_bin
def say_what_loses_its_tie(cur: Cursor, actor: Actor, plan: Plan, ids: Collection[str]) -> list[str]:
    """The items of other projects, of those that the person sees, that are tied to tasks that go into the bin."""
    return _say_untied(cur, actor, plan.project.id, ids)


@says_before_move
def say_what_is_untied(cur: Cursor, way: Way) -> list[str]:
    """The same of tasks that move to another project, where they get numbers and ids of their own."""
    return _say_untied(cur, way.actor, way.source.id, way.copies) if way.moves else []


def _say_untied(cur: Cursor, actor: Actor, project_id: str, ids: Collection[str]) -> list[str]:
    ties = [one for one in tie_rows.ties_to(cur, project_id) if one[2] in set(ids)]
    visible = every_visible_project(cur, actor) if ties else {}
    there = tie_rows.projects_of_tasks(cur, {one[0] for one in ties})  # those in the bin have lost theirs
    items = {item for item, _, _, item_project, _ in ties if item_project in visible and item in there}
    if not items:
        return []
    return [
        "An item of another project loses its tie."
        if len(items) == 1
        else f"{len(items)} items of other projects lose their ties."
    ]


def follow_undone(cur: Cursor, actor: Actor, log: Log, plan: Plan) -> None:
    """As above after a change was taken back: what was tied before may be tied again."""
    _note_ties(cur, actor, log, plan, check=False)
    follow_ties(cur, actor, log, plan)


def _note_ties(cur: Cursor, actor: Actor, log: Log, plan: Plan, *, check: bool = True) -> None:
    fields = tied_fields(plan.project)
    if not fields:
        return
    if check:
        moved = [one for one, task in log.tasks.items() if one in plan.tasks and plan.tasks[one].parent_id != task.parent_id]
        if moved:
            after, _ = plan.followed(list(log.tasks.values()))
            _check_no_circle(cur, actor, after, [after.tasks[one] for top in moved for one in (top, *after.outline.below(top))])
    changed = [
        task
        for one, task in log.tasks.items()
        if any(task.own.get(f.id) != (plan.tasks[one].own.get(f.id) if one in plan.tasks else None) for f in fields)
    ]
    if not changed:
        return
    wanted = {each for task in changed for f in fields for each in task.own.get(f.id) or ()}
    where = tie_rows.projects_of_tasks(cur, wanted)
    if check:
        _check(cur, actor, plan, changed, fields, where)
    ties: list[Tie] = [
        (task.id, f.id, each, plan.project.id, where[each])
        for task in changed
        for f in fields
        for each in task.own.get(f.id) or ()
        if each in where
    ]
    tie_rows.set_ties(cur, [task.id for task in changed], ties)
    _take_percents(cur, actor, log, plan, changed)


def _check(
    cur: Cursor, actor: Actor, plan: Plan, changed: Collection[Task], fields: Collection[CustomField], where: Mapping[str, str]
) -> None:
    visible = every_visible_project(cur, actor)
    for task in changed:
        for one in fields:
            before = plan.tasks[task.id].own.get(one.id) if task.id in plan.tasks else None
            new = set(task.own.get(one.id) or ()) - set(before or ())
            if any(where.get(each) not in visible for each in new):
                raise RuleError("That task is gone, or you may not see it. Choose another.", one.key)
            if any(where[each] == plan.project.id for each in new):
                raise RuleError("That task is of this project. Tie work of another, or choose a field of tasks.", one.key)
            if one.progress and task.id in _reached(cur, actor, [(where[each], each) for each in new], plan.project.id):
                raise RuleError("That is tied to this task already, so neither could say how far it is. Choose another.", one.key)


def _check_no_circle(cur: Cursor, actor: Actor, plan: Plan, items: Iterable[Task]) -> None:
    """Look whether the progress of a task would come, along ties, from itself or from what it stands under.

    Args:
        plan: as the change leaves it.
        items: those that may have come into a circle.

    Raises:
        RuleError: it would.
    """
    progress = [one for one in tied_fields(plan.project) if one.progress]
    for item in items:
        tied = [each for one in progress for each in item.own.get(one.id) or ()]
        if not tied or item.deleted_at is not None:
            continue
        where = tie_rows.projects_of_tasks(cur, tied)
        reached = _reached(cur, actor, [(where[one], one) for one in tied if one in where], plan.project.id, plan)
        if reached & {item.id, *plan.outline.ancestors(item.id)}:
            said = f"How far “{item.title}” is would come, along ties, from itself. Untie it first, or leave it where it is."
            raise RuleError(said, progress[0].key)


@knows_ties_of_fields
def follow_changed_fields(cur: Cursor, actor: Actor, log: Log, plan: Plan) -> None:
    """Items of a project are as far as what they are tied to, from the moment on that a field says so, is there again, or the
    project goes on after it was archived.

    Raises:
        RuleError: progress would go in a circle.
    """
    row = project_rows.project(cur, log.project.id)
    assert row is not None
    if row.archived_at is not None:
        return
    project, calendar, agreed = read_meta(cur, row)
    fields = [one for one in tied_fields(project) if one.progress]
    tasks = {**plan.tasks, **log.tasks}
    items = [task for task in tasks.values() if task.deleted_at is None and any(task.own.get(one.id) for one in fields)]
    if not items:
        return
    after = Plan(project, calendar, tasks.values(), plan.now, agreed)
    _check_no_circle(cur, actor, after, items)
    moves = _moves(cur, actor, after, items)
    write_many(cur, log, moves, tasks)
    if moves:
        actor = replace(actor, consent=None)
        reschedule(cur, actor, log, plan, project=project)
        follow_ties(cur, actor, log, plan)


def _reached(cur: Cursor, actor: Actor, tied: Sequence[tuple[str, str]], back_in: str, now: Plan | None = None) -> set[str]:
    """The tasks of one project on which the progress of tasks of others depends, along any number of ties.

    Args:
        tied: these, each with its project before it.
        now: of that project its plan as a change leaves it, where that is not committed yet.
    """
    found: set[str] = set()
    ways = [*tied]
    seen: set[tuple[str, str]] = set()
    while ways:
        at, one = ways.pop()
        if (at, one) in seen or len(seen) > 10_000:
            continue
        seen.add((at, one))
        project = project_rows.project(cur, at)
        if project is None:
            continue
        plan = now if now is not None and at == back_in else PLANS.at(cur, project, actor.clock.now()).plan
        below = [one, *plan.outline.below(one)] if one in plan.rows else []
        if at == back_in:
            found.update(below)
        fields = {f.id for f in tied_fields(plan.project) if f.progress}
        if not fields:
            continue
        ids = [each for task in below for field, some in tied_to(plan, task).items() if field in fields for each in some]
        ways += [(where, each) for each, where in tie_rows.projects_of_tasks(cur, ids).items()]
    return found


def _take_percents(cur: Cursor, actor: Actor, log: Log, plan: Plan, items: Collection[Task]) -> None:
    """Items whose ties were changed are as far as what they are tied to now."""
    write_many(cur, log, _moves(cur, actor, plan, items), {**plan.tasks, **log.tasks})


def _moves(
    cur: Cursor, actor: Actor, plan: Plan, items: Collection[Task], now: Mapping[str, Plan] | None = None
) -> dict[str, dict[str, Any]]:
    """By item what changes of it where it is to be as far as what it is tied to.

    Args:
        now: by project plans that are not committed yet.
    """
    progress = [f.id for f in tied_fields(plan.project) if f.progress]
    wanted = {
        task.id: ids
        for task in items
        if not plan.outline.is_summary(task.id) and (ids := [each for one in progress for each in task.own.get(one) or ()])
    }
    rows = _rows(cur, actor, {each for ids in wanted.values() for each in ids}, now)
    moves: dict[str, dict[str, Any]] = {}
    for task in items:
        if task.id in wanted:
            percent = tied_percent(rows[each] for each in wanted[task.id] if each in rows)
            if fields := _percent_fields(plan, task, percent, actor):
                moves[task.id] = fields
    return moves


def _percent_fields(plan: Plan, task: Task, percent: int, actor: Actor) -> dict[str, Any]:
    if task.percent == percent:
        return {}
    return task_rules.change(
        task, {"percent": percent}, project=plan.project, calendar=plan.calendar, now=actor.clock.now(), follows_ties=True
    )


def _rows(cur: Cursor, actor: Actor, ids: Collection[str], now: Mapping[str, Plan] | None = None) -> dict[str, Row]:
    """The rows of some tasks by their ids, whoever may see them.

    Args:
        now: by project plans that are not committed yet.
    """
    by_project: dict[str, list[str]] = defaultdict(list)
    for task, project_id in tie_rows.projects_of_tasks(cur, ids).items():
        by_project[project_id].append(task)
    projects = project_rows.projects_by_id(cur, by_project)
    found: dict[str, Row] = {}
    for project_id, some in by_project.items():
        given = (now or {}).get(project_id)
        plan = given or PLANS.at(cur, projects[project_id], actor.clock.now()).plan
        found |= {one: plan.rows[one] for one in some if one in plan.rows}
    return found


def follow_ties(cur: Cursor, actor: Actor, log: Log, plan: Plan, depth: int = 0, now: Mapping[str, Plan] | None = None) -> None:
    """Items of other projects that take their percent from what was changed go on with it.

    Args:
        plan: as it stood before.
        depth: along how many ties this has come.
        now: by project plans as this change has left them so far.
    """
    ties = tie_rows.ties_to(cur, log.project.id)
    if not ties or depth >= FARTHEST or log.in_draft:
        return
    after, touched = plan.followed(list(log.tasks.values()))
    plans = {**(now or {}), log.project.id: after}
    by_project: dict[str, set[str]] = defaultdict(set)
    for item, _, task, project_id, _ in ties:
        if task in touched or task in log.tasks:
            by_project[project_id].add(item)
    for project_id, items in sorted(by_project.items()):
        if project_id not in plans:
            _go_on(cur, actor, log.change.id, project_id, items, plans, depth)


def _go_on(
    cur: Cursor, actor: Actor, change_id: str, project_id: str, items: Collection[str], plans: Mapping[str, Plan], depth: int
) -> None:
    project = project_rows.project(cur, project_id)
    if project is None or project.archived_at is not None:
        return
    plan = PLANS.at(cur, project, actor.clock.now()).plan
    there = [task for one in items if (task := plan.tasks.get(one)) is not None and not task.deleted_at]
    moves = _moves(cur, actor, plan, there, plans)
    if not moves:
        return
    its_own = str(uuid.uuid5(uuid.UUID(change_id), project_id))
    other = replace(actor, change_id=its_own, draft=None, consent=None)
    with writing(cur, other, project_id, "went on with what is tied to it") as log:
        before = PLANS.at(cur, as_before(log), actor.clock.now()).plan
        write_many(cur, log, moves, before.tasks)
        follow_on(cur, other, log, before)
        follow_ties(cur, other, log, before, depth + 1, plans)
