"""Several workflows and split stages: which way a task goes, and what answers to its state there."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rhodonite.core.common.errors import RuleError
from rhodonite.core.tasks.boards import Period, Workflow
from rhodonite.core.tasks.defining import check_definition
from rhodonite.core.tasks.model import Project, State
from rhodonite.core.tasks.rules import change
from rhodonite.core.tasks.workflow import check_classes, dropped_state, mapped_state, route, split, steps_of, unsplit, workflow_of
from tests.core.make import NOW, OFFICE, PROJECT, task

REPAIRS = Workflow("fix", "Repairs", "a", kinds=("defect",), branches=("pier",))
STATES = (
    State("ready", "Ready", "queued", "a"),
    State("doing", "Doing", "active", "b"),
    State("review", "In review", "active", "c"),
    State("done", "Finished", "finished", "d"),
    State("dropped", "Dropped", "dropped", "e"),
    State("f-new", "Reported", "queued", "a", workflow_id="fix"),
    State("f-pier", "On the pier", "active", "b", workflow_id="fix"),
    State("f-done", "Finished", "finished", "c", workflow_id="fix"),
)
TWO = replace(PROJECT, states=STATES, workflows=(REPAIRS,), periods=(Period("q2", "Next", "a"),))


def way(kind: str, *above: str) -> str | None:
    chain = ["t", *above]
    one = task("t", above[0] if above else None, kind=kind)
    return route(one, TWO, lambda at: chain[chain.index(at) + 1] if at in chain[:-1] else None)


def test_a_branch_decides_before_the_kind() -> None:
    assert way("task") is None
    assert way("defect") == "fix"
    assert way("task", "gate", "pier") == "fix"
    assert way("task", "gate") is None


@given(st.sampled_from(STATES), st.sampled_from([None, "fix"]))
def test_what_answers_to_a_state_is_of_the_workflow_and_of_its_class_where_that_has_one(
    state: State, workflow: str | None
) -> None:
    found = mapped_state(state, TWO, workflow)
    assert found.workflow_id == workflow
    classes = {one.state_class for one in TWO.states_of(workflow)}
    assert found.state_class == state.state_class or state.state_class not in classes
    assert mapped_state(found, TWO, found.workflow_id) == found


def test_states_of_the_same_name_answer_to_one_another() -> None:
    by_id = {state.id: state for state in STATES}
    assert mapped_state(by_id["done"], TWO, "fix").id == "f-done"
    assert mapped_state(by_id["review"], TWO, "fix").id == "f-pier"
    assert mapped_state(by_id["dropped"], TWO, "fix").id == "f-done"
    assert [TWO.state_label(by_id[one]) for one in ("done", "f-done", "ready")] == [
        "Finished (Main)",
        "Finished (Repairs)",
        "Ready",
    ]


def test_a_task_goes_on_within_its_workflow() -> None:
    one = task("t", kind="defect", state_id="f-new")
    begun = change(one, {"percent": 30}, project=TWO, calendar=OFFICE, now=NOW)
    assert begun["state_id"] == "f-pier"
    assert change(one.with_fields(begun), {"percent": 100}, project=TWO, calendar=OFFICE, now=NOW)["state_id"] == "f-done"
    assert dropped_state(TWO, "f-pier") == STATES[4]  # repairs drop nothing of their own
    assert workflow_of(TWO, "f-pier") == "fix"
    assert workflow_of(TWO, "gone") is None


def test_what_lies_in_the_backlog_waits_in_the_first_state_and_is_pulled_by_going_on() -> None:
    laid = change(task("t", state_id="f-new"), {"period_id": "q2"}, project=TWO, calendar=OFFICE, now=NOW)
    assert laid == {"period_id": "q2"}
    with pytest.raises(RuleError, match="has begun"):
        change(task("t", state_id="doing"), {"period_id": "q2"}, project=TWO, calendar=OFFICE, now=NOW)
    with pytest.raises(RuleError, match="not in the backlog"):
        change(task("t", state_id="ready"), {"period_id": "gone"}, project=TWO, calendar=OFFICE, now=NOW)
    pulled = change(task("t", state_id="ready", period_id="q2"), {"percent": 10}, project=TWO, calendar=OFFICE, now=NOW)
    assert (pulled["state_id"], pulled["period_id"]) == ("doing", None)


def test_a_stage_is_split_and_joined_again() -> None:
    main = TWO.states_of(None)
    doing = replace(main[1], limit=3)
    states = [main[0], doing, *main[2:]]
    here, behind = split(states, doing, "new", "Building", "Ready to go on", "b5")
    assert (here.step, here.limit, here.column_limit) == ("Building", None, 3)
    assert (behind.name, behind.step, behind.step_of, behind.state_class) == (
        "Doing: Ready to go on",
        "Ready to go on",
        "doing",
        "active",
    )
    whole = [main[0], here, behind, *main[2:]]
    assert steps_of(whole, "doing") == [here, behind]
    assert unsplit(whole, behind) == doing
    with pytest.raises(RuleError, match="names that differ"):
        split(whole, behind, "x", "", "building", "b7")
    with pytest.raises(RuleError, match="Only a further step"):
        unsplit(whole, here)


def test_every_workflow_needs_its_classes() -> None:
    check_classes(STATES)
    with pytest.raises(RuleError, match="at least one active"):
        check_classes([one for one in STATES if one.id != "f-pier"])


def test_what_goes_through_one_workflow_goes_through_no_other() -> None:
    def check(project: Project, **settings: tuple[str, ...]) -> None:
        check_definition(Workflow("w", "Trials", "b", **settings), project.workflows, project, [])

    check(TWO, kinds=("risk",))
    for settings in ({"kinds": ("defect",)}, {"branches": ("pier",)}):
        with pytest.raises(RuleError, match="Repairs already"):
            check(TWO, **settings)
    with pytest.raises(RuleError, match="main workflow is called"):
        check_definition(Workflow("w", "main", "b"), (), TWO, [])
