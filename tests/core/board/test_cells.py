"""Where a slip stands: each state in one cell of a lane, each task in one lane, whatever is joined and skipped."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rhodonite.core.board.cells import cell_of, cells_of
from rhodonite.core.common.errors import RuleError
from rhodonite.core.schedule.plan import Plan
from rhodonite.core.tasks.boards import Lane, blank_fault
from rhodonite.core.tasks.defining import cells_there, check_definition, definition_of, kept_definition, settings_of
from rhodonite.core.tasks.model import State
from rhodonite.core.views.catalogue import Catalogue
from rhodonite.core.views.lanes import check_rule, lanes_of_tasks
from tests.core.make import NOW, OFFICE, PROJECT, task

STATES = tuple(State(f"s{n}", f"S{n}", "active", f"{n}") for n in range(6))
BOARD = replace(PROJECT, states=(*PROJECT.states, *STATES))


@st.composite
def lanes(draw: st.DrawFn) -> Lane:
    """A lane over six states: some runs that do not meet, some states that it skips."""
    how = draw(st.lists(st.sampled_from(["own", "joined", "skipped"]), min_size=6, max_size=6))
    joins: list[list[str]] = []
    for at in range(1, 6):
        if how[at] != "joined":
            continue
        if joins and joins[-1][1] == f"s{at - 1}":
            joins[-1][1] = f"s{at}"
        else:
            joins.append([f"s{at - 1}", f"s{at}"])
    taken = {f"s{n}" for a, b in joins for n in range(int(a[1]), int(b[1]) + 1)}
    skips = tuple(f"s{n}" for n in range(6) if how[n] == "skipped" and f"s{n}" not in taken)
    return Lane("l", "L", "a", joins=tuple((a, b) for a, b in joins), skips=skips)


@given(lanes())
def test_each_state_stands_in_one_cell(lane: Lane) -> None:
    cells = cells_of(STATES, lane)
    assert [state for cell in cells for state in cell.states] == [state.id for state in STATES]
    assert {cell.state_id for cell in cells if cell.skipped} == set(lane.skips)
    assert all(len(cell.states) == 1 for cell in cells if cell.skipped)


def test_what_is_said_of_states_that_are_gone_is_left_out() -> None:
    lane = Lane("l", "L", "a", joins=(("s1", "s2"), ("s4", "gone")), skips=("gone", "s5"), cells={"gone": 2, "s0": 1})
    project = replace(PROJECT, states=STATES)
    assert [cell.states for cell in cells_of(STATES, lane)] == [("s0",), ("s1", "s2"), ("s3",), ("s4",), ("s5",)]
    there = cells_there(lane, project)
    assert (there.joins, there.skips, there.cells) == ((("s1", "s2"),), ("s5",), {"s0": 1})
    assert cell_of(project, lane, "s2") == cells_of(STATES, lane)[1]
    assert cell_of(project, lane, "ready") is None


@pytest.mark.parametrize(
    ("settings", "words"),
    [
        ({"joins": [["s2", "s1"]]}, "run from a column to a later one"),
        ({"joins": [["s1", "s2"], ["s2", "s3"]]}, "joined once"),
        ({"joins": [["s1", "s2"]], "skips": ["s2"]}, "either joins a column or skips it"),
        ({"skips": ["nowhere"]}, "no longer in the workflow"),
        ({"skips": [state.id for state in STATES]}, "one column at least"),
        ({"shape": "blob"}, "Choose a sign"),
        ({"workflow": "gone"}, "That workflow is gone"),
    ],
)
def test_a_lane_that_cannot_be_is_refused(settings: dict[str, object], words: str) -> None:
    project = replace(PROJECT, states=STATES)
    with pytest.raises(RuleError, match=words):
        check_definition(definition_of("lane", "l", "L", "a", settings), [], project, [])


@pytest.mark.parametrize("settings", [{"limit": 0}, {"limit": True}, {"joins": [["a"]]}, {"cells": {"s1": "2"}}, {"where": [1]}])
def test_settings_of_the_wrong_form_are_refused(settings: dict[str, object]) -> None:
    with pytest.raises(RuleError):
        definition_of("lane", "l", "L", "a", settings)
    assert kept_definition("lane", "l", "L", "a", settings).broken == tuple(settings)


def test_settings_come_back_as_they_were_kept() -> None:
    lane = Lane("l", "L", "a", limit=2, joins=(("s1", "s2"),), skips=("s4",), cells={"s0": 3}, where={"all": [["late", "yes"]]})
    assert definition_of("lane", "l", "L", "a", settings_of(lane)) == lane
    for sort, settings in (
        ("period", {"first": "2027-04-01", "last": "2027-06-30"}),
        ("workflow", {"kinds": ["defect"], "branches": ["x"]}),
        ("blank", {"task": {"kind": "defect", "checks": ["Picture"], "below": [{"title": "Try it"}]}}),
    ):
        assert settings_of(definition_of(sort, "x", "X", "a", settings)) == settings


def test_a_task_lies_in_one_lane_by_hand_or_by_the_first_rule_that_holds() -> None:
    late = {"all": [["kind", "any", ["defect"]]]}
    must = {"all": [["priority", "any", ["must"]]]}
    project = replace(
        PROJECT,
        lanes=(Lane("faults", "Faults", "a", where=late), Lane("must", "Must", "b", where=must), Lane("hand", "By hand", "c")),
    )
    plan = Plan(
        project,
        OFFICE,
        [
            task("a", kind="defect", priority="must"),
            task("b", priority="must"),
            task("c", priority="must", lane_id="hand"),
            task("d", lane_id="gone"),
            task("s"),
            task("e", "s", kind="defect"),
        ],
        NOW,
    )
    columns = Catalogue(plan, {})
    assert lanes_of_tasks(plan, columns) == {"a": "faults", "b": "must", "c": "hand", "e": "faults"}
    assert lanes_of_tasks(plan, columns, by_hand=False)["c"] == "must"
    column = columns.column("lane")
    assert {one: column.value(row) for one, row in plan.rows.items()}["c"] == "hand"


@pytest.mark.parametrize(
    "clause", [["owner", "any", ["me"]], ["owner", "any", ["my_team"]], ["lane", "any", ["x"]], ["cost.planned", "least", 5]]
)
def test_a_rule_is_the_same_for_every_reader(clause: list[object]) -> None:
    with pytest.raises(RuleError, match="asks neither"):
        check_rule({"all": [clause]}, Catalogue(Plan(PROJECT, OFFICE, [], NOW), {}))


def test_a_blank_is_bounded() -> None:
    deep: dict[str, object] = {"title": "x"}
    for _ in range(6):
        deep = {"title": "x", "below": [deep]}
    assert blank_fault({"title": "", "below": [{"title": "Try it"}]}) is None
    assert "levels deep" in (blank_fault(deep) or "")
    assert "60 tasks" in (blank_fault({"below": [{"title": "x"}] * 60}) or "")
    assert "title" in (blank_fault({"below": [{"title": ""}]}) or "")
    assert blank_fault({"owner": "x"})
    assert blank_fault({"checks": [""]})
    assert blank_fault([])
