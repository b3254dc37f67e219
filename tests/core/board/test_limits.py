"""Limits of the board: what counts where, and what a change passes."""

from __future__ import annotations

from collections import Counter
from dataclasses import replace

from hypothesis import given
from hypothesis import strategies as st

from rhodonite.core.board.limits import Limits, has_limits
from rhodonite.core.schedule.plan import Plan
from rhodonite.core.tasks.boards import Lane, Period
from rhodonite.core.tasks.model import State, Task
from tests.core.make import NOW, OFFICE, PROJECT, task

READY, DOING, PICKED, DONE = (
    State("ready", "Ready", "queued", "a"),
    State("doing", "Building", "active", "b", limit=2, step="Doing", column_limit=3),
    State("picked", "Building: Picked", "active", "c", step_of="doing", step="Picked"),
    State("done", "Finished", "finished", "d"),
)
URGENT = Lane("urgent", "Urgent", "a", limit=1, joins=(("doing", "picked"),), cells={"doing": 1})
LIMITED = replace(
    PROJECT, states=(READY, DOING, PICKED, DONE), lanes=(URGENT,), periods=(Period("q2", "Next", "a"),), person_limit=2
)


def counted(*tasks: Task) -> Counter[str]:
    plan = Plan(LIMITED, OFFICE, tasks, NOW)
    return Limits(LIMITED).counted(plan, {one.id: one.lane_id for one in tasks if one.lane_id})


def test_a_split_stage_counts_as_a_whole_and_each_step_by_itself() -> None:
    found = counted(task("a", state_id="doing"), task("b", state_id="picked"), task("c", state_id="ready"))
    assert found == {"step:doing": 1, "column:doing": 2}


def test_a_lane_counts_open_work_and_a_joined_cell_all_of_its_columns() -> None:
    found = counted(
        task("a", state_id="picked", lane_id="urgent"), task("b", state_id="ready", lane_id="urgent"),
        task("c", state_id="done", lane_id="urgent"),
    )  # fmt: skip
    assert found == {"column:doing": 1, "lane:urgent": 2, "cell:urgent:doing": 1}


def test_what_lies_in_the_backlog_counts_nowhere() -> None:
    assert counted(task("a", state_id="ready", lane_id="urgent", period_id="q2")) == {}
    assert counted(task("a", state_id="ready", lane_id="urgent", period_id="gone")) == {"lane:urgent": 1}


def test_a_person_counts_by_what_they_have_under_way() -> None:
    found = counted(
        *(task(one, state_id="picked", owner_id="ines") for one in "abc"), task("d", state_id="ready", owner_id="ines"),
        task("e", state_id="doing", owner_id="tomas"),
    )  # fmt: skip
    assert (found["person:ines"], found["person:tomas"]) == (3, 1)
    limits = Limits(LIMITED, {"ines": "Ines Oduya", "tomas": "Tomas Brekke"}.__getitem__)
    over = [(one.place.name, one.count, one.place.limit) for one in limits.standing(found) if one.is_over]
    assert over == [("Building", 4, 3), ("Ines Oduya", 3, 2)]


def test_only_what_grows_beyond_its_limit_is_passed() -> None:
    limits = Limits(LIMITED)
    one_over = {"step:doing": 3}
    assert [each.place.key for each in limits.passed({}, one_over)] == ["step:doing"]
    assert limits.passed(one_over, one_over) == []  # it stood beyond its limit before
    assert limits.passed({"step:doing": 4}, one_over) == []


@given(st.lists(st.tuples(st.sampled_from(["ready", "doing", "picked", "done"]), st.booleans()), max_size=8))
def test_steps_never_count_more_than_their_stage(standing: list[tuple[str, bool]]) -> None:
    tasks = [task(str(n), state_id=state, lane_id="urgent" if urgent else None) for n, (state, urgent) in enumerate(standing)]
    found = counted(*tasks)
    assert found["step:doing"] <= found["column:doing"] == sum(state in {"doing", "picked"} for state, _ in standing)
    assert found["cell:urgent:doing"] <= found["lane:urgent"]


def test_a_project_without_limits_has_none() -> None:
    assert has_limits(LIMITED)
    assert not has_limits(replace(PROJECT, states=(READY, PICKED, DONE)))
