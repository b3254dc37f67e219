"""The workflows of a project: states, the steps of a stage, and which way tasks go."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.errors import Missing, RuleError
from ...core.common.ordering import make_room
from ...core.schedule.plan import Plan
from ...core.tasks import rules as task_rules
from ...core.tasks.model import Project, State, StateClass, Task
from ...core.tasks.workflow import (
    check_classes,
    check_state,
    check_whole_state,
    mapped_state,
    route,
    split,
    steps_of,
    unsplit,
    workflow_of,
)
from ...store.tasks import projects as project_rows
from ...store.tasks import tasks as task_rows
from ..common.context import Actor, Log, once, open_project
from ..common.pipeline import After, changing_project, follow_on, step
from ..common.task_writes import write_many

_FIELDS = ("name", "state_class", "limit", "place", "step", "column_limit", "entry_rule", "exit_rule")


@dataclass(frozen=True, slots=True)
class NewState:
    """A state to be added.

    Attributes:
        workflow_id: None for the main one.
        after_id: the state to stand behind, None for the first place; ``"end"``: behind those of its class.
    """

    id: str
    name: str
    state_class: StateClass
    limit: int | None = None
    workflow_id: str | None = None
    after_id: str | None = "end"


@once
def add_state(cur: Cursor, actor: Actor, code: str, new: NewState) -> None:
    """Add a state to a workflow. Raises RuleError where it cannot be."""
    project = open_project(cur, actor, code, "manage")
    with changing_project(cur, actor, project.id, f"added the state {new.name}"[:80]) as (log, _):
        states = _of_workflow(project_rows.states(cur, project.id), new.workflow_id)
        if not states:
            raise Missing("workflow")
        name = check_state(states, new.name, new.state_class, new.limit)
        after = _end_of_class(states, new.state_class) if new.after_id == "end" else _end_of_stage(states, new.after_id)
        place = _room(cur, log, states, after, 1)[0]
        project_rows.insert_state(cur, project.id, State(new.id, name, new.state_class, place, new.limit, new.workflow_id))
        log.record("state", new.id, "created", None, {"name": name, "state_class": new.state_class})


def _of_workflow(states: Iterable[State], workflow_id: str | None) -> list[State]:
    return [one for one in states if one.workflow_id == workflow_id]


def _end_of_class(states: Sequence[State], state_class: str) -> str | None:
    last = max((n for n, one in enumerate(states) if one.state_class == state_class), default=len(states) - 1)
    return states[last].id


def _end_of_stage(states: Sequence[State], state_id: str | None) -> str | None:
    """The last step of the stage in which a state is, so that nothing comes between its steps."""
    state = next((one for one in states if one.id == state_id), None)
    return steps_of(states, state.step_of or state.id)[-1].id if state else None


def _room(cur: Cursor, log: Log, others: Sequence[State], after_id: str | None, count: int) -> list[str]:
    """Places behind a state; those that make room are written."""
    room = make_room(others, after_id, count)
    for one in others:
        if one.id in room.others:
            log.record("state", one.id, "place", one.place, room.others[one.id])
            project_rows.update_state(cur, replace(one, place=room.others[one.id]))
    return room.places


def _state_of(states: Sequence[State], state_id: str) -> State:
    found = next((state for state in states if state.id == state_id), None)
    if found is None:
        raise Missing("state")
    return found


@once
def edit_state(cur: Cursor, actor: Actor, code: str, state_id: str, fields: dict[str, Any]) -> None:
    """Rename a state, change its class, limits or rules, or move it: ``after_id`` is the state to stand behind, or None.

    What is a split stage as a whole changes and moves with all of its steps.

    Raises:
        RuleError: a name that is taken, a limit below one, or a workflow left without a needed class.
    """
    project = open_project(cur, actor, code, "manage")
    with changing_project(cur, actor, project.id, "changed the workflow") as (log, _):
        every = project_rows.states(cur, project.id)
        state = _state_of(every, state_id)
        if "after_id" in fields:
            _move(cur, log, _of_workflow(every, state.workflow_id), state, fields["after_id"])
            every = project_rows.states(cur, project.id)
        states = _of_workflow(every, state.workflow_id)
        state = _state_of(states, state_id)
        if state.step_of and fields.get("state_class", state.state_class) != state.state_class:
            raise RuleError("A step is of the class of its stage. Change that of the first step.", "state_class")
        after = replace(state, **{k: v for k, v in fields.items() if k in _FIELDS and k != "place"})
        if state.step_of and "step" in fields and "name" not in fields:
            head = _state_of(states, state.step_of)
            if state.name == _whole_name(head.name, state.step):
                after = replace(after, name=_whole_name(head.name, after.step))
        after = check_whole_state(states, after)
        changed = {after.id: after} | {one.id: one for one in _following(states, state, after)}
        check_classes([changed.get(one.id, one) for one in states])
        _write(cur, log, states, changed.values())


def _following(states: Sequence[State], before: State, after: State) -> Iterable[State]:
    """The further steps of a stage follow the name and the class of its first."""
    for one in states:
        if one.step_of == before.id:
            name = _whole_name(after.name, one.step) if one.name == _whole_name(before.name, one.step) else one.name
            yield check_whole_state(
                [s for s in states if s.id != before.id], replace(one, name=name, state_class=after.state_class)
            )


def _whole_name(stage: str, step: str) -> str:
    """What a further step is called, until somebody names it otherwise."""
    return f"{stage}: {' '.join(step.split())}"[:60]


def _write(cur: Cursor, log: Log, before: Sequence[State], after: Iterable[State]) -> None:
    was = {one.id: one for one in before}
    for one in after:
        log.record_changes("state", one.id, was[one.id], one, _FIELDS)
        project_rows.update_state(cur, one)


def _move(cur: Cursor, log: Log, states: Sequence[State], state: State, after_id: str | None) -> None:
    """Put a stage with its steps behind another, or a step elsewhere within its stage."""
    stage = steps_of(states, state.step_of or state.id)
    if state.step_of:
        if after_id not in {one.id for one in stage if one.id != state.id}:
            raise RuleError("A step stays within its stage, behind its first step. Join it to the stage instead.", "after_id")
        moved = [state]
    else:
        moved, after_id = stage, _end_of_stage([one for one in states if one not in stage], after_id)
    others = [one for one in states if one not in moved]
    places = _room(cur, log, others, after_id, len(moved))
    _write(cur, log, states, [replace(one, place=place) for one, place in zip(moved, places, strict=True)])


@once
def split_state(cur: Cursor, actor: Actor, code: str, state_id: str, new_id: str, first: str, second: str) -> None:
    """Split a stage into two steps, or add a step behind one. What stands in it stays in the first.

    Raises:
        RuleError: names that do not differ.
    """
    project = open_project(cur, actor, code, "manage")
    with changing_project(cur, actor, project.id, "split a stage") as (log, _):
        every = project_rows.states(cur, project.id)
        state = _state_of(every, state_id)
        states = _of_workflow(every, state.workflow_id)
        here, behind = split(states, state, new_id, first, second, _room(cur, log, states, state.id, 1)[0])
        _write(cur, log, states, [here])
        project_rows.insert_state(cur, project.id, behind)
        log.record("state", new_id, "created", None, {"name": behind.name, "state_class": behind.state_class})


@once
def join_state(cur: Cursor, actor: Actor, code: str, state_id: str) -> None:
    """Join a further step to its stage: what stands in it moves to the first step. Raises RuleError where it is none."""
    project = open_project(cur, actor, code, "manage")
    with changing_project(cur, actor, project.id, "joined a step to its stage") as (log, plan):
        every = project_rows.states(cur, project.id)
        state = _state_of(every, state_id)
        states = _of_workflow(every, state.workflow_id)
        head = unsplit(states, state)
        _take_away(cur, actor, log, plan, [state], head)
        _write(cur, log, states, [head])


@once
def delete_state(cur: Cursor, actor: Actor, code: str, state_id: str, move_to: str | None) -> None:
    """Delete a state, of a split stage all steps. Tasks that stand in it move to another.

    Raises:
        RuleError: tasks stand in it and no other place is given, or it is the last of a needed class.
    """
    project = open_project(cur, actor, code, "manage")
    with changing_project(cur, actor, project.id, "deleted a state") as (log, plan):
        every = project_rows.states(cur, project.id)
        state = _state_of(every, state_id)
        states = _of_workflow(every, state.workflow_id)
        doomed = [state] if state.step_of else steps_of(states, state.id)
        check_classes([one for one in states if one not in doomed])
        target = next((one for one in every if one.id == move_to and one not in doomed), None)
        _take_away(cur, actor, log, plan, doomed, target)
        if state.step_of:
            _write(cur, log, states, [unsplit(states, state)])


def _take_away(cur: Cursor, actor: Actor, log: Log, plan: Plan, doomed: Sequence[State], target: State | None) -> None:
    """Take states away. Tasks that stand in them go to another, with all that follows from being there."""
    for one in doomed:
        standing = task_rows.tasks_in_state(cur, one.id)
        if standing and target is None:
            count = sum(t.deleted_at is None for t in standing)
            raise RuleError(f"{count} tasks stand in {one.name}. Choose the state that they move to.", "move_to")
        if target is not None:
            moved = {task.id: _moved(task, one, target, plan, actor) for task in standing}
            write_many(cur, log, moved, {task.id: task for task in standing})
        log.record("state", one.id, "deleted", {"name": one.name, "state_class": one.state_class}, None)
        project_rows.set_state_deleted(cur, one.id, actor.clock.utc())
    if log.tasks:
        follow_on(cur, actor, log, plan)


def _moved(task: Task, state: State, target: State, plan: Plan, actor: Actor) -> dict[str, Any]:
    if task.id not in plan.rows or plan.outline.is_summary(task.id) or state.state_class == target.state_class:
        return {"state_id": target.id}
    now = actor.clock.now()
    return task_rules.change(task, {"state_id": target.id}, project=plan.project, calendar=plan.calendar, now=now)


def rerouted(project: Project, tasks: Iterable[Task], all_tasks: Mapping[str, Task], now: Any) -> dict[str, dict[str, Any]]:
    """By task what puts it into the workflow that it is to go through, for those that stand in another.

    Args:
        project: as it is now.
        all_tasks: by id, as they are now.
    """

    def above(task_id: str) -> str | None:
        return all_tasks[task_id].parent_id if task_id in all_tasks else None

    found: dict[str, dict[str, Any]] = {}
    for task in tasks:
        wanted = route(task, project, above)
        if task.deleted_at is None and workflow_of(project, task.state_id) != wanted:
            found[task.id] = {"state_id": mapped_state(project.state(task.state_id), project, wanted).id, "state_since": now}
    return found


@step("route")
def _follow_route(cur: Cursor, actor: Actor, log: Log, plan: Plan, _: After) -> None:
    """A task that becomes of another kind, or comes under another branch, goes on in the workflow of that."""
    if not plan.project.workflows:
        return
    now = {**plan.tasks, **log.tasks}
    concerned: dict[str, Task] = {}
    for one, task in log.tasks.items():
        before = plan.tasks.get(one)
        if before is None or (before.kind, before.parent_id) == (task.kind, task.parent_id):
            continue
        below = plan.outline.below(one) if before.parent_id != task.parent_id else []
        concerned |= {each: now[each] for each in [one, *below]}
    elsewhere = {
        one: task
        for one, task in concerned.items()
        if route(plan.tasks[one], plan.project, lambda at: plan.tasks[at].parent_id) != route(task, plan.project, _above(now))
    }
    write_many(cur, log, rerouted(plan.project, elsewhere.values(), now, actor.clock.now()), now)


def _above(tasks: Mapping[str, Task]) -> Any:
    return lambda task_id: tasks[task_id].parent_id if task_id in tasks else None
