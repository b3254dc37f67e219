"""What a lead defines for a project: fields, kinds and marks of its tasks; workflows, lanes, periods and blanks of its board."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import replace
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.errors import Missing, RuleError
from ...core.common.ordering import Room, make_room, places_between
from ...core.schedule.plan import Plan
from ...core.tasks.boards import Lane, Workflow
from ...core.tasks.custom_fields import CustomField, CustomKind, Definition
from ...core.tasks.defining import cells_there, check_definition, definition_of, settings_of
from ...core.tasks.model import KINDS, Project, State
from ...core.tasks.workflow import DEFAULT_STATES, mapped_state, route
from ...core.views.catalogue import Catalogue
from ...core.views.formulas import circle_in, read_formula
from ...core.views.lanes import check_rule
from ...store.common.database import from_json, to_json
from ...store.common.journal import Entry
from ...store.tasks import custom_fields as definition_rows
from ...store.tasks import projects as project_rows
from ...store.tasks import tasks as task_rows
from ..common.context import Actor, Log, new_id, once, open_project
from ..common.pipeline import changing_project
from ..common.plan_cache import read_meta
from ..common.task_writes import write_many
from .workflow import rerouted

WORDS = {"field": "field", "kind": "kind of task", "mark": "mark"}
ON_BOARD = {"workflow": "workflow", "lane": "lane", "period": "period of the backlog", "blank": "blank"}
_CALLED = WORDS | ON_BOARD


def of_sort(project: Project, sort: str) -> Sequence[Definition]:
    """The fields, kinds or marks of a project."""
    every: dict[str, Sequence[Definition]] = {
        "field": project.fields, "kind": project.kinds, "mark": project.marks, "workflow": project.workflows,
        "lane": project.lanes, "period": project.periods, "blank": project.blanks,
    }  # fmt: skip
    return every[sort]


@once
def add_definition(cur: Cursor, actor: Actor, code: str, sort: str, one_id: str, name: str, settings: dict[str, Any]) -> None:
    """Add a field, kind or mark behind the others.

    Raises:
        RuleError: a name that is taken, or settings that cannot be.
    """
    project = open_project(cur, actor, code, "manage")
    with changing_project(cur, actor, project.id, f"added the {_CALLED[sort]} {name}"[:80]) as (log, plan):
        others = of_sort(plan.project, sort)
        one = _made(sort, one_id, name, make_room(others, "end", 1).places[0], settings)
        _check(one, others, plan)
        definition_rows.insert(cur, project.id, sort, one)
        log.record(sort, one.id, "created", None, {"name": one.name, **settings_of(one)})
        if isinstance(one, Workflow):
            _add_states(cur, log, project.id, one.id)
            _reroute(cur, actor, log, plan)


def _add_states(cur: Cursor, log: Log, project_id: str, workflow_id: str) -> None:
    """Give a new workflow the states that every workflow begins with."""
    for (name, state_class), place in zip(DEFAULT_STATES, places_between(None, None, len(DEFAULT_STATES)), strict=True):
        state = State(new_id(), name, state_class, place, workflow_id=workflow_id)
        project_rows.insert_state(cur, project_id, state)
        log.record("state", state.id, "created", None, {"name": name, "state_class": state_class})


def _reroute(cur: Cursor, actor: Actor, log: Log, plan: Plan) -> None:
    """Where other kinds or branches go through a workflow, what stands elsewhere goes on in the one that it is to go through.

    Only tasks whose way is another than before move: who was put elsewhere by hand stays there.
    """
    row = project_rows.project(cur, log.project.id)
    assert row is not None
    now, _, _ = read_meta(cur, row)
    living = {one: task for one, task in plan.tasks.items() if task.deleted_at is None}

    def above(task_id: str) -> str | None:
        return living[task_id].parent_id if task_id in living else None

    moved = [task for task in living.values() if route(task, plan.project, above) != route(task, now, above)]
    write_many(cur, log, rerouted(now, moved, living, actor.clock.now()), living)


def _made(sort: str, one_id: str, name: str, place: str, settings: dict[str, Any]) -> Definition:
    return definition_of(sort, one_id, " ".join(name.split()), place, settings)


def _check(one: Definition, others: Sequence[Definition], plan: Plan) -> None:
    known: set[str] = set()
    if isinstance(one, CustomField):
        catalogue = Catalogue(plan, {})
        known = {column.name.casefold() for column in catalogue.columns.values() if column.own is None}
        if one.type == "computed":
            others_by_name = {name: key for name, key in catalogue.names().items() if key != one.key}
            formula = read_formula(one.formula, others_by_name | {one.name.casefold(): one.key})
            _check_circle(one, formula.uses, catalogue)
    elif isinstance(one, CustomKind):
        known = set(KINDS)
    elif isinstance(one, Lane):
        check_rule(one.where, Catalogue(plan, {}))
    check_definition(one, others, plan.project, known)


def _check_circle(one: CustomField, uses: Collection[str], catalogue: Catalogue) -> None:
    """Raises RuleError where computed fields would ask for one another in a circle. Of the tasks below they may."""
    circle = circle_in({**{key: formula.uses for key, formula in catalogue.formulas.items()}, one.key: uses})
    if circle:
        names = {key: column.name for key, column in catalogue.columns.items()} | {one.key: one.name}
        said = " asks for ".join(names.get(key, "a field") for key in circle)
        raise RuleError(f"{said}: none of them could be computed. Name other fields.", "formula")


@once
def edit_definition(cur: Cursor, actor: Actor, code: str, sort: str, one_id: str, changes: dict[str, Any]) -> None:
    """Change the name or the settings of a field, kind or mark, or move it: ``after_id`` is the one to stand behind.

    Raises:
        Missing: there is none.
        RuleError: a name that is taken, settings that cannot be, or another type for a field.
    """
    project = open_project(cur, actor, code, "manage")
    with changing_project(cur, actor, project.id, f"changed a {_CALLED[sort]}"[:80]) as (log, plan):
        every = of_sort(plan.project, sort)
        before = next((one for one in every if one.id == one_id), None)
        if before is None:
            raise Missing(_CALLED[sort])
        if isinstance(before, Lane):
            before = cells_there(before, plan.project)
        others = [one for one in every if one.id != one_id]
        room = make_room(others, changes["after_id"], 1) if "after_id" in changes else Room([before.place], {})
        place = room.places[0]
        for other in others:
            if other.id in room.others:
                log.record(sort, other.id, "place", other.place, room.others[other.id])
                definition_rows.update(cur, replace(other, place=room.others[other.id]))
        place = changes.get("place", place)  # where it stood, when a move is taken back
        settings = {**settings_of(before), **changes.get("settings", {})}
        one = _made(sort, one_id, changes.get("name", before.name), place, settings)
        if isinstance(one, CustomField) and isinstance(before, CustomField) and one.type != before.type:
            raise RuleError("The type of a field stays. Add another field and move the values over.", "type")
        _check(one, others, plan)
        old, new = _values_of(before), _values_of(one)
        for key, value in new.items():
            if old[key] != value:
                log.record(sort, one_id, key, old[key], value)
        definition_rows.update(cur, one)
        if isinstance(one, Workflow):
            _reroute(cur, actor, log, plan)


def _values_of(one: Definition) -> dict[str, Any]:
    return settings_of(one) | {"name": one.name, "place": one.place}


@once
def delete_definition(cur: Cursor, actor: Actor, code: str, sort: str, one_id: str, move_to: str | None = None) -> None:
    """Take it away. What tasks have in a field is kept, and is there again when it is put back.

    Args:
        move_to: where what stands in a lane or a period goes; None for nowhere. Of a workflow the one in which its tasks go on;
            None for the main one.

    Raises:
        Missing: there is none.
        RuleError: tasks are of this kind.
    """
    project = open_project(cur, actor, code, "manage")
    with changing_project(cur, actor, project.id, f"took away a {_CALLED[sort]}"[:80]) as (log, plan):
        one = next((each for each in of_sort(plan.project, sort) if each.id == one_id), None)
        if one is None:
            raise Missing(_CALLED[sort])
        if sort == "kind" and (standing := sum(row.task.kind == one_id for row in plan.rows.values())):
            said = "1 task is" if standing == 1 else f"{standing} tasks are"
            raise RuleError(f"{said} of the kind {one.name}. Give it another kind first.", "kind")
        if move_to is not None and move_to not in {each.id for each in of_sort(plan.project, sort)} - {one_id}:
            raise RuleError(f"There is no such {_CALLED[sort]} to move to. Choose another.", "move_to")
        if sort in {"lane", "period"}:
            field = f"{sort}_id"
            there = {each: {field: move_to} for each, task in plan.tasks.items() if task.value(field) == one_id}
            write_many(cur, log, there, plan.tasks)
        if sort == "workflow":
            _leave_workflow(cur, actor, log, plan, one_id, move_to)
        log.record(sort, one_id, "deleted", {"name": one.name, **settings_of(one)}, None)
        definition_rows.set_deleted(cur, one_id, actor.clock.utc())


def _leave_workflow(cur: Cursor, actor: Actor, log: Log, plan: Plan, workflow_id: str, move_to: str | None) -> None:
    """What stands in a workflow goes on in another; its states and its lanes go with it."""
    project, now = plan.project, actor.clock.now()
    states = project.states_of(workflow_id)
    target = {one.id: mapped_state(one, project, move_to).id for one in states}
    for state in states:
        standing = task_rows.tasks_in_state(cur, state.id)  # with what lies in the bin, and may come back
        moved = {task.id: {"state_id": target[state.id], "state_since": now} for task in standing}
        write_many(cur, log, moved, {task.id: task for task in standing})
        log.record("state", state.id, "deleted", {"name": state.name, "state_class": state.state_class}, None)
        project_rows.set_state_deleted(cur, state.id, actor.clock.utc())
    for lane in project.lanes:
        if lane.workflow == workflow_id:
            log.record("lane", lane.id, "deleted", {"name": lane.name, **settings_of(lane)}, None)
            definition_rows.set_deleted(cur, lane.id, actor.clock.utc())


@once
def restore_definition(cur: Cursor, actor: Actor, code: str, sort: str, one_id: str) -> None:
    """Put back what was taken away, with the values that tasks had in it."""
    project = open_project(cur, actor, code, "manage")
    found = definition_rows.definition(cur, project.id, one_id)
    if found is None or found[0] != sort:
        raise Missing(_CALLED[sort])
    with changing_project(cur, actor, project.id, f"put back the {_CALLED[sort]} {found[1].name}"[:80]) as (log, plan):
        others = [one for one in of_sort(plan.project, sort) if one.id != one_id]
        _check(replace(found[1]), others, plan)
        log.record(sort, one_id, "restored", None, {"name": found[1].name})
        definition_rows.set_deleted(cur, one_id, None)


def take_back(cur: Cursor, actor: Actor, code: str, sort: str, one_id: str, entries: Sequence[Entry]) -> None:
    """Take back what a change did to a field, kind or mark.

    Raises:
        RuleError: it was changed again since, or tasks are of the kind that would go.
    """
    what = entries[0].field
    if what in {"created", "restored"}:
        delete_definition(cur, actor, code, sort, one_id)
    elif what == "deleted":
        restore_definition(cur, actor, code, sort, one_id)
    else:
        project = open_project(cur, actor, code, "manage")
        found = definition_rows.definition(cur, project.id, one_id)
        if found is None or any(to_json(_values_of(found[1])[entry.field]) != entry.new for entry in entries):
            raise RuleError(f"The {WORDS[sort]} was changed again since, so this cannot be taken back. Change it by hand.")
        old = {entry.field: from_json(entry.old) for entry in entries}
        apart: dict[str, Any] = {name: old.pop(name) for name in ("name", "place") if name in old}
        edit_definition(cur, actor, code, sort, one_id, {**apart, "settings": old})
