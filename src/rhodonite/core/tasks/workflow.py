"""A project's workflow: its states, and what may be done to them."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import replace

from ..common.errors import RuleError
from .model import BRIEF_PARTS, LENSES, LIMIT_RULES, STATE_CLASSES, Project, State, StateClass, Task

LONGEST_RULE = 1000
LARGEST_LIMIT = 10_000

DEFAULT_STATES: tuple[tuple[str, StateClass], ...] = (
    ("Ready", "queued"),
    ("Under way", "active"),
    ("In review", "active"),
    ("Finished", "finished"),
    ("Dropped", "dropped"),
)
"""The workflow that a new project starts with."""

_NEEDED: tuple[StateClass, ...] = ("queued", "active", "finished")


def check_state(states: Sequence[State], name: str, state_class: str, limit: int | None, own_id: str | None = None) -> str:
    """Check a state that is added or changed. Returns its name, trimmed.

    Args:
        states: of its workflow.

    Raises:
        RuleError: no name, a name that is taken, an unknown class, or a limit below one.
    """
    trimmed = " ".join(name.split())
    if not trimmed or len(trimmed) > 60:
        raise RuleError("Give the state a name of at most 60 characters.", "name")
    if any(s.name.lower() == trimmed.lower() and s.id != own_id for s in states):
        raise RuleError(f"The workflow has a state called {trimmed} already. Choose another name.", "name")
    if state_class not in STATE_CLASSES:
        raise RuleError(f"A state belongs to one of these classes: {', '.join(STATE_CLASSES)}.", "state_class")
    if limit is not None and limit < 1:
        raise RuleError("A limit is one or more. Leave it empty for no limit.", "limit")
    return trimmed


def check_whole_state(states: Sequence[State], state: State) -> State:
    """Check a state with all of its settings. Returns it, tidied.

    Args:
        states: of its workflow, as they are.

    Raises:
        RuleError: as ``check_state``; a limit below one, or a rule that is too long.
    """
    name = check_state(states, state.name, state.state_class, state.limit, state.id)
    for limit in (state.limit, state.column_limit):
        if limit is not None and not 1 <= limit <= LARGEST_LIMIT:
            raise RuleError(f"A limit lies between 1 and {LARGEST_LIMIT}. Leave it empty for no limit.", "limit")
    if max(len(state.entry_rule), len(state.exit_rule)) > LONGEST_RULE:
        raise RuleError(f"A rule has {LONGEST_RULE} characters at most.", "entry_rule")
    step = " ".join(state.step.split())
    if len(step) > 60:
        raise RuleError("Give the step a name of at most 60 characters.", "step")
    return replace(state, name=name, step=step, entry_rule=state.entry_rule.strip(), exit_rule=state.exit_rule.strip())


def check_classes(states: Sequence[State]) -> None:
    """Raises RuleError where a workflow would be left without a queued, an active or a finished state."""
    for workflow in dict.fromkeys(state.workflow_id for state in states) or [None]:
        held = {state.state_class for state in states if state.workflow_id == workflow}
        for needed in _NEEDED:
            if needed not in held:
                raise RuleError(f"A workflow needs at least one {needed} state. Add another one first.", "state_class")


def check_limit_rule(rule: str) -> str:
    """Raises RuleError unless it says what happens where a limit is passed."""
    if rule not in LIMIT_RULES:
        raise RuleError(f"Choose what happens beyond a limit: {', '.join(LIMIT_RULES)}.", "limit_rule")
    return rule


def steps_of(states: Iterable[State], state_id: str) -> list[State]:
    """The steps of a stage, from the state that is its first one on; of a stage that is not split that state alone."""
    return [one for one in states if state_id in (one.id, one.step_of)]


def split(states: Sequence[State], state: State, new_id: str, first: str, second: str, place: str) -> tuple[State, State]:
    """Split a stage, or the last step of one, so that work in it stands in one of two steps.

    Args:
        states: of its workflow.
        state: that is split; it becomes the step ``first``, and what stands in it stays there.
        new_id, second, place: of the step behind it.

    Returns:
        both, as they become.

    Raises:
        RuleError: a name that cannot be, or one that the stage has already.
    """
    head = next((one for one in states if one.id == state.step_of), state)
    before = " ".join(first.split()) or state.step
    after = " ".join(second.split())
    taken = {one.step.casefold() for one in steps_of(states, head.id) if one.id != state.id}
    if not before or not after or len({before.casefold(), after.casefold()} | taken) < len(taken) + 2:
        raise RuleError("Give both steps names that differ.", "second")
    here = replace(state, step=before)
    if state.id == head.id and not state.step:  # what was the limit of the column stays that of the column
        here = replace(here, column_limit=state.limit, limit=None)
    behind = State(new_id, f"{head.name}: {after}"[:60], head.state_class, place, None, head.workflow_id, head.id, after)
    return here, check_whole_state(states, behind)


def unsplit(states: Sequence[State], step: State) -> State:
    """The first step of a stage as it becomes when another of its steps is joined to it.

    Raises:
        RuleError: it is no further step.
    """
    head = next((one for one in states if one.id == step.step_of), None)
    if head is None:
        raise RuleError("Only a further step is joined to its stage. Delete a state, and choose where its tasks go.", "state_id")
    if len(steps_of(states, head.id)) > 2:
        return head
    return replace(head, step="", limit=head.column_limit, column_limit=None)


def route(task: Task, project: Project, above: Callable[[str], str | None]) -> str | None:
    """The workflow that a task is to go through: that of the nearest branch in which it stands, else that of its kind.

    Args:
        above: gives the task above one.

    Returns:
        the id; None for the main one.
    """
    branches = {branch: one.id for one in project.workflows for branch in one.branches}
    at: str | None = task.id if branches else None
    while at is not None:
        if at in branches:
            return branches[at]
        at = task.parent_id if at == task.id else above(at)
    return next((one.id for one in project.workflows if task.kind in one.kinds), None)


def mapped_state(state: State, project: Project, workflow_id: str | None) -> State:
    """The state of another workflow that answers to one: of the same name, else the one that stands as far within its class.

    Args:
        workflow_id: None for the main one.
    """
    there = project.states_of(workflow_id)
    for one in there:
        if one.name.casefold() == state.name.casefold() and one.state_class == state.state_class:
            return one
    before = [one for one in project.states_of(state.workflow_id) if one.state_class == state.state_class]
    after = [one for one in there if one.state_class == state.state_class]
    if after:
        return after[min(before.index(state) if state in before else 0, len(after) - 1)]
    wanted: StateClass = "active" if state.state_class == "queued" else "queued" if state.state_class == "active" else "finished"
    return next((one for one in there if one.state_class == wanted), there[0])


def workflow_of(project: Project, state_id: str) -> str | None:
    """The workflow to which a state belongs; None for the main one, or where there is no such state."""
    return next((one.workflow_id for one in project.states if one.id == state_id), None)


def check_brief(parts: Sequence[str]) -> tuple[str, ...]:
    """The parts that a project's brief is to have, each once, in the order in which they are given.

    Raises:
        RuleError: none at all, or one that there is none of.
    """
    if not parts or not set(parts) <= set(BRIEF_PARTS):
        raise RuleError(f"Choose one or more of these parts: {', '.join(BRIEF_PARTS)}.", "brief")
    return tuple(dict.fromkeys(parts))


def check_lenses(lenses: Sequence[str]) -> tuple[str, ...]:
    """The lenses that are to stand in a project's sheet bar, each once, in their usual order.

    Raises:
        RuleError: none at all, or one that there is none of.
    """
    if not lenses or not set(lenses) <= set(LENSES):
        raise RuleError(f"Choose one or more of these lenses: {', '.join(LENSES)}.", "lenses")
    return tuple(one for one in LENSES if one in lenses)


def dropped_state(project: Project, state_id: str) -> State | None:
    """Where what stands in a state goes that is dropped: within its workflow, or where that has no such state in the main one."""
    return project.first_state("dropped", workflow_of(project, state_id)) or project.first_state("dropped")
