"""Replanning, shifting, soundness and agreed plans, on plans small enough to see through."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rhodonite.core.common.calendars import minute_of
from rhodonite.core.common.errors import RuleError
from rhodonite.core.schedule.agreed import AgreedTask, agreed_finish, differences, variance, whole_days
from rhodonite.core.schedule.plan import Plan
from rhodonite.core.schedule.planning import computed_dates, schedule_of
from rhodonite.core.schedule.replan import on_grid, replanned, shifted
from rhodonite.core.schedule.schedule import Schedule
from rhodonite.core.schedule.soundness import check_plan, mend
from rhodonite.core.tasks.model import Link, Task

from ..make import DAY, NOW, OFFICE, PROJECT, at, days, plan, task


def settled(made: Plan, edits: dict[str, dict[str, Any]]) -> Plan:
    """The plan with edits made and all dates computed."""
    tasks = {one.id: one.with_fields(edits.get(one.id, {})) for one in made.tasks.values()}
    moves = computed_dates(schedule_of(made.project, OFFICE, tasks), tasks)
    return Plan(made.project, OFFICE, [one.with_fields(moves.get(one.id, {})) for one in tasks.values()], made.now)


def begun(name: str, start: str, length: int, percent: int, **fields: Any) -> Task:
    return task(name, state_id="doing", percent=percent, actual_start=at(start), **days(start, length), **fields)


@settings(max_examples=60, deadline=None)
@given(st.lists(st.tuples(st.integers(1, 6), st.integers(0, 99), st.booleans()), min_size=2, max_size=6))
def test_a_replanned_plan_is_its_own_forecast(steps: list[tuple[int, int, bool]]) -> None:
    """A chain of tasks, some of them begun: after replanning the plan is what was forecast, and stays so."""
    tasks: list[Task] = []
    for index, (length, percent, has_begun) in enumerate(steps):
        name, waits = f"t{index}", (Link(f"t{index - 1}"),) if index % 3 else ()
        one = begun(name, "3-10", length, percent) if has_begun else task(name, **days("3-09", length))
        tasks.append(one.with_fields({"waits_for": waits}))
    before = settled(plan(*tasks), {})
    ahead = Schedule(before.schedule.base, minute_of(NOW))
    after = settled(before, replanned(before, NOW))
    assert after.schedule.starts == ahead.starts
    assert after.schedule.finishes == ahead.finishes
    assert replanned(after, NOW) == {}


def test_a_pin_that_is_past_moves_to_today_and_stays_a_pin() -> None:
    pinned = task("a", **(days("3-08", 2) | {"constraint_type": "must_start"}))
    edits = replanned(plan(pinned), NOW)
    assert edits == {"a": {"constraint_at": NOW}}  # that it is a pin stays as it is


@pytest.mark.parametrize(("grid", "starts"), [(1, "3-17 09:42"), (15, "3-17 09:45"), (30, "3-17 10:00"), (60, "3-17 10:00")])
def test_replanned_starts_fall_on_the_grid_of_the_project(grid: int, starts: str) -> None:
    project = replace(PROJECT, start_grid=grid)
    made = Plan(project, OFFICE, [task("a", **days("3-08", 2)), task("b", **days("3-08", 1))], at("3-17 09:42"))
    edits = replanned(made, at("3-17 09:42"))
    assert {fields["constraint_at"] for fields in edits.values()} == {at(starts)}
    assert on_grid(at(starts), grid) == at(starts)


def test_the_grid_goes_on_over_midnight() -> None:
    assert on_grid(at("3-17 23:55"), 15) == at("3-18 00:00")


def test_finished_work_takes_its_actual_dates() -> None:
    done = task(
        "a", state_id="done", percent=100, actual_start=at("3-09 10:00"), actual_finish=at("3-11 12:00"), **days("3-08", 2)
    )
    assert replanned(plan(done), NOW) == {"a": {"start": at("3-09 10:00"), "finish": at("3-11 12:00")}}


def test_shifting_a_branch_moves_hands_and_leaves_links_and_what_has_begun() -> None:
    made = settled(
        plan(task("s"), task("a", "s", **days("3-22", 2)), task("b", "s", duration=DAY, waits_for=(Link("a"),)),
             begun("c", "3-15", 1, 50, parent="s"), task("d", **days("3-22", 1))),
        {},
    )  # fmt: skip
    edits, start = shifted(made, "s", date(2027, 3, 29))
    assert edits == {"a": {"constraint_at": at("3-29")}}
    assert start is None
    assert settled(made, edits).tasks["b"].start == at("3-31")
    with pytest.raises(RuleError, match="has begun, or has no dates"):
        shifted(made, "c", date(2027, 3, 29))


def test_shifting_to_an_earlier_day_keeps_the_time_of_day() -> None:
    made = settled(plan(task("a", **(days("3-24", 1) | {"constraint_at": at("3-24 11:00")}))), {})
    edits, start = shifted(made, None, date(2027, 3, 15))  # the project starts on the 17th
    assert edits == {"a": {"constraint_at": at("3-22 11:00")}}
    assert start == date(2027, 3, 15)


def found(made: Plan) -> dict[str, list[str]]:
    return {check.kind: check.tasks for check in check_plan(made) if check.tasks}


def test_a_sound_plan_has_nothing_to_mend() -> None:
    chain = [task("a", **days("3-17", 2)), task("b", duration=DAY, waits_for=(Link("a"),))]
    assert found(settled(plan(*chain), {})) == {}


def test_a_day_set_by_hand_is_no_predecessor() -> None:
    first, later = task("a", **days("3-17", 2)), task("b", **days("3-22", 1))
    waits = task("c", duration=DAY, waits_for=(Link("b"),))
    assert found(settled(plan(first, later, waits), {}))["no_predecessor"] == ["b"]


def test_each_check_finds_its_tasks() -> None:
    made = settled(
        plan(
            task("s"), task("a", "s", **days("3-17", 25)), task("u", "s"),
            task("p", **(days("3-18", 1) | {"constraint_type": "must_start"}), waits_for=(Link("a"),)),
            task("l", duration=DAY, waits_for=(Link("p", "FS", -60), Link("s"))),
            task("f", state_id="done", percent=100, **days("3-08", 1)),
        ),
        {},
    )  # fmt: skip
    assert found(made) == {
        "negative_slack": ["a"],
        "fighting_pins": ["p"],
        "leads": ["l"],
        "long": ["a"],
        "undated": ["u"],
        "finished_without_date": ["f"],
        "links_on_summaries": ["l"],
    }
    assert mend(made, "fighting_pins", "p") == {"constraint_type": "asap", "constraint_at": None}
    assert mend(made, "leads", "l") == {"waits_for": (Link("p"), Link("s"))}
    assert mend(made, "undated", "u") == {"duration": DAY}
    assert mend(made, "finished_without_date", "f") == {"actual_finish": at("3-08 17:30")}
    assert mend(made, "long", "a") is None
    assert mend(made, "unheard_of", "a") is None


def agreed(finish: str, length: int = 1) -> AgreedTask:
    return AgreedTask(at("3-08"), at(finish), length * DAY, None)


def test_differences_are_told_by_their_effect_on_the_finish() -> None:
    before = {"a": agreed("3-10 17:30"), "b": agreed("3-10 17:30"), "c": agreed("3-10 17:30"), "gone": agreed("3-09 17:30")}
    after = {"a": agreed("3-11 17:30"), "b": agreed("3-15 17:30"), "c": agreed("3-10 17:30"), "new": agreed("3-09 17:30")}
    told = differences(before, after, OFFICE, {"a": 0, "b": 5 * DAY})
    assert [(one.task_id, one.kind, one.by // DAY, one.effect // DAY) for one in told] == [
        ("a", "moved", 1, 1), ("b", "moved", 3, 0), ("gone", "gone", 0, 0), ("new", "added", 0, 0),
    ]  # fmt: skip


def test_a_delay_reaches_the_finish_less_the_slack_that_there_was() -> None:
    before = {"a": agreed("3-10 17:30"), "b": agreed("3-12 17:30"), "c": agreed("3-09 17:30")}
    after = {"a": agreed("3-15 17:30"), "b": agreed("3-12 17:30"), "c": agreed("3-12 17:30")}
    (a, c) = differences(before, after, OFFICE, {"a": 0, "c": DAY}, {"a": 2 * DAY, "c": 3 * DAY})
    assert (a.by // DAY, a.effect // DAY) == (3, 1)
    assert (c.by // DAY, c.effect // DAY) == (3, 0)


def test_variance_is_working_time_either_way() -> None:
    assert variance(at("3-15 17:30"), at("3-12 17:30"), OFFICE) == DAY
    assert variance(at("3-12 17:30"), at("3-15 17:30"), OFFICE) == -DAY
    assert variance(None, at("3-15"), OFFICE) is None
    assert (whole_days(round(1.6 * DAY), OFFICE), whole_days(-DAY, OFFICE), whole_days(None, OFFICE)) == (2, -1, 0)
    assert agreed_finish({"a": agreed("3-10"), "b": agreed("3-12"), "c": AgreedTask(None, None, None, None)}) == at("3-12")
    assert agreed_finish({}) is None


def test_rows_say_how_far_they_are_from_what_was_agreed() -> None:
    made = Plan(PROJECT, OFFICE, [task("s"), task("a", "s", **days("3-17", 3))], NOW, {"a": agreed("3-18 17:30")})
    assert (made.rows["a"].variance, made.rows["s"].variance) == (DAY, None)
