"""Summary tasks, health, scope, horizon, curves and readings."""

from __future__ import annotations

from dataclasses import replace
from datetime import date

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rhodonite.core.common.calendars import WorkingCalendar, read_hours
from rhodonite.core.overview.horizon import horizon
from rhodonite.core.overview.progress import PercentChange, done_against_plan
from rhodonite.core.overview.readings import project_reading, task_reading
from rhodonite.core.people.viewer import Viewer
from rhodonite.core.schedule.plan import Plan, judged_at
from rhodonite.core.tasks.model import Link, Task
from rhodonite.core.views.scope import Scope, select

from ..make import DAY, NOW, OFFICE, PROJECT, at, days, plan, task

NAMES = {"x": "Ines O.", "y": "Tomas B."}


def test_a_summary_spans_the_tasks_under_it() -> None:
    made = plan(task("s"), task("a", "s", **days("3-15", 3)), task("b", "s", **days("3-22", 2)))
    row = made.rows["s"]
    assert (row.start, row.finish) == (at("3-15"), at("3-23 17:30"))
    assert row.duration == 7 * DAY
    assert (row.is_summary, row.tasks_below) == (True, 2)


def test_percent_is_weighted_by_duration() -> None:
    # 3 days at 100 % and 1 day at 0 %: 75 %
    made = plan(task("s"), task("a", "s", percent=100, state_id="done", **days("3-1", 3)), task("b", "s", **days("3-8", 1)))
    assert made.rows["s"].percent == 75


def test_percent_is_weighted_by_effort_where_there_is_any() -> None:
    # 10 h at 50 %, 30 h at 10 %: 8 of 40 h; the task without effort weighs nothing
    made = plan(
        task("s"),
        task("a", "s", percent=50, effort=600, **days("3-1", 3)),
        task("b", "s", percent=10, effort=1800, **days("3-1", 3)),
        task("c", "s", percent=100, state_id="done", **days("3-1", 9)),
    )
    assert made.rows["s"].percent == 20
    assert made.rows["s"].effort == 2400


def test_a_task_without_a_duration_weighs_a_day_and_a_milestone_nothing() -> None:
    made = plan(
        task("s"),
        task("a", "s", percent=100, state_id="done"),
        task("b", "s", **days("3-8", 3)),
        task("m", "s", kind="milestone", finish=at("3-30"), duration=0),
    )
    assert made.rows["s"].percent == 25


def test_percent_is_a_hundred_only_when_all_is_done() -> None:
    made = plan(task("s"), task("a", "s", percent=99, **days("3-1", 300)), task("b", "s", percent=100, state_id="done"))
    assert made.rows["s"].percent == 99


def test_dropped_tasks_count_nowhere() -> None:
    made = plan(task("s"), task("a", "s", percent=50, **days("3-1", 3)), task("b", "s", state_id="dropped", **days("6-1", 30)))
    assert made.rows["s"].percent == 50
    assert made.rows["s"].finish == at("3-3 17:30")


@pytest.mark.parametrize(
    ("states", "expected"),
    [(("ready", "ready"), "queued"), (("ready", "doing"), "active"), (("ready", "done"), "active"), (("done", "done"), "finished"),
     (("done", "dropped"), "finished"), (("dropped", "dropped"), "dropped")],
)  # fmt: skip
def test_the_class_of_a_summary(states: tuple[str, str], expected: str) -> None:
    made = plan(task("s"), *(task(f"t{i}", "s", state_id=state) for i, state in enumerate(states)))
    assert made.rows["s"].state_class == expected


def test_health_of_tasks() -> None:
    made = plan(
        task("late", **days("3-8", 3)),
        task("held", held_reason="rain", **days("3-16", 5)),
        task("waits", **days("3-15", 9)),
        task("fine", state_id="doing", **days("3-15", 9)),
        task("bare"),
        task("broken", deadline=at("3-18"), **days("3-17", 9)),
    )
    found = {one: made.rows[one].health for one in made.rows}
    assert found == {
        "late": "slipping", "held": "strained", "waits": "strained", "fine": "steady", "bare": "not_judged", "broken": "slipping",
    }  # fmt: skip


@pytest.mark.parametrize(
    ("tasks", "health"),
    [
        ([], "not_judged"),
        ([task("a")], "not_judged"),
        ([task("a", state_id="doing", **days("3-15", 9))], "steady"),
        ([task("a", **days("3-8", 2)), task("b", **days("3-15", 9))], "strained"),
        ([task("a", **days("3-8", 2))], "slipping"),
        ([task("a", state_id="doing", deadline=at("3-19"), **days("3-15", 9))], "slipping"),
        ([task("a", state_id="done", percent=100, **days("3-8", 2))], "steady"),
    ],
)
def test_health_of_projects(tasks: list[Task], health: str) -> None:
    from rhodonite.core.tasks.health import project_health

    assert project_health(plan(*tasks).sums(), NOW) == health


@st.composite
def changes(draw: st.DrawFn) -> list[list[Task]]:
    """Some steps, each changing some of eight tasks in any way that keeps the tree a tree."""
    steps = []
    for _ in range(draw(st.integers(1, 5))):
        found = []
        for index in draw(st.lists(st.integers(0, 7), min_size=1, max_size=4, unique=True)):
            parent = draw(st.sampled_from([None, *range(index)]))
            dates = days("3-08", draw(st.integers(1, 9))) if draw(st.booleans()) else {}
            found.append(
                task(
                    f"t{index}",
                    None if parent is None else f"t{parent}",
                    state_id=draw(st.sampled_from(["ready", "doing", "done", "dropped"])),
                    percent=draw(st.integers(0, 100)),
                    effort=draw(st.sampled_from([None, 60, 600])),
                    owner_id=draw(st.sampled_from([None, "x"])),
                    place=draw(st.sampled_from("ABC")) + str(index),
                    **dates,
                )
            )
        steps.append(found)
    return steps


@settings(max_examples=150, deadline=None)
@given(changes())
def test_a_plan_kept_up_to_date_equals_one_made_anew(steps: list[list[Task]]) -> None:
    start = [task(f"t{i}", place=f"A{i}") for i in range(8)]
    kept = plan(*start)
    for step in steps:
        before, rows = kept, dict(kept.rows)
        kept, touched = kept.followed(step)
        assert before.rows == rows  # whoever reads it still is not disturbed
        anew = Plan(PROJECT, OFFICE, kept.tasks.values(), NOW)
        assert kept.rows == anew.rows
        assert kept.sums() == anew.sums()
        assert kept.forecast.finish == anew.forecast.finish
        assert {t.id for t in step} <= touched


NIGHT = WorkingCalendar([read_hours([("20:00", "24:00")], "x")] * 2 + [()] * 5, ())
WITH_NIGHT = replace(PROJECT, calendars={"night": NIGHT})


@st.composite
def over_night(draw: st.DrawFn) -> list[Task]:
    """Changes of single tasks that are worked by day, at night or through, and wait for those before them."""
    found = []
    for _ in range(draw(st.integers(1, 5))):
        index = draw(st.integers(0, 5))
        elapsed = draw(st.booleans())
        found.append(
            task(
                f"t{index}",
                duration=draw(st.sampled_from([90, 240, DAY, 3 * DAY])),
                elapsed=elapsed,
                calendar_id=None if elapsed else draw(st.sampled_from([None, "night"])),
                waits_for=tuple(
                    Link(f"t{one}", "FS", draw(st.sampled_from([0, 45])))
                    for one in draw(st.sets(st.integers(0, 5)))
                    if one < index
                ),
                place=f"A{index}",
            )
        )
    return found


@settings(max_examples=300, deadline=None)
@given(over_night())
def test_a_plan_of_several_calendars_is_kept_up_to_date(steps: list[Task]) -> None:
    """How late a task may finish can move over hours that are not worked while its slack stays."""
    kept = Plan(WITH_NIGHT, OFFICE, [task(f"t{i}", duration=DAY, place=f"A{i}") for i in range(6)], NOW)
    for step in steps:
        kept, _ = kept.followed([step])
        anew = Plan(WITH_NIGHT, OFFICE, kept.tasks.values(), NOW)
        assert kept.rows == anew.rows


def test_what_goes_to_the_bin_leaves_the_plan() -> None:
    made = plan(task("s"), task("a", "s", **days("3-1", 3)), task("b", "s"))
    made, touched = made.followed(
        [made.tasks["a"].with_fields({"deleted_at": NOW}), made.tasks["b"].with_fields({"deleted_at": NOW})]
    )
    assert touched == {"a", "b", "s"}
    assert set(made.rows) == {"s"}
    assert not made.rows["s"].is_summary
    made, _ = made.followed([made.tasks["a"].with_fields({"deleted_at": None})])
    assert made.rows["s"].finish == at("3-3 17:30")


def test_time_is_judged_by_the_quarter() -> None:
    assert judged_at(at("3-17 09:44")) == at("3-17 09:30")


SCOPED = plan(
    task("s", title="Glazing", number=1),
    task("a", "s", number=2, title="Measure bars", owner_id="x", state_id="done", percent=100, **days("3-1", 3)),
    task("b", "s", number=3, title="Order panes", owner_id="y", **days("3-8", 2)),
    task("c", number=4, title="Wet panes", kind="defect", held_reason="rain", **days("3-22", 2)),
    task("d", number=42, title="Think"),
)


@pytest.mark.parametrize(
    ("scope", "ids"),
    [
        (Scope(), "s a b c d"),
        (Scope(kinds=("defect",)), "c"),
        (Scope(owners=("me",)), "a"),
        (Scope(owners=("nobody",)), "s c d"),
        (Scope(owners=("y", "nobody")), "s b c d"),
        (Scope(classes=("finished",)), "a"),
        (Scope(states=("ready",)), "b c d"),
        (Scope(text="panes"), "b c"),
        (Scope(text="PANES wet"), "c"),
        (Scope(text="42"), "d"),
        (Scope(late=True), "s b"),
        (Scope(unowned=True), "s c d"),
        (Scope(held=True), "c"),
        (Scope(since=date(2027, 3, 9), until=date(2027, 3, 12)), "s b"),
        (Scope(since=date(2027, 3, 10)), "c"),
        (Scope(kinds=("task",), owners=("x", "y"), classes=("queued",)), "b"),
    ],
)
def test_scopes(scope: Scope, ids: str) -> None:
    assert set(select(SCOPED, scope, Viewer("x")).ids) == set(ids.split())


def test_a_selection_counts_no_summary() -> None:
    found = select(SCOPED, Scope(), Viewer("x"))
    assert (found.shown, found.total, found.late, found.unowned, found.held) == (4, 4, 1, 2, 1)


def test_the_horizon_counts_tasks_at_work_by_week() -> None:
    made = plan(
        task("a", **days("3-08", 8)),
        task("b", **days("3-16", 1)),
        task("m", kind="milestone", finish=at("3-31"), start=at("3-31"), duration=0),
        task("x", state_id="dropped", **days("1-1", 99)),
        task("bare"),
    )
    found = horizon(made.rows.values(), NOW)
    counts = {week.monday.isoformat(): (week.tasks, week.finishing) for week in found.weeks}
    assert counts["2027-03-08"] == (1, 0)
    assert counts["2027-03-15"] == (2, 2)
    assert counts["2027-03-22"] == (0, 0)
    assert [row.task.id for row in found.milestones] == ["m"]
    assert sum(week.late for week in found.weeks) == 1  # b finished on Tuesday in the plan


def test_the_horizon_of_nothing_is_this_week() -> None:
    assert horizon([], NOW).weeks[0].monday == date(2027, 3, 15)


def test_done_against_plan() -> None:
    made = plan(task("a", percent=50, **days("3-15", 2)), task("b", **days("3-17", 2)))
    curve = {
        p.day: p
        for p in done_against_plan(made, [PercentChange("a", at("3-15 12:00"), 20), PercentChange("a", at("3-16 12:00"), 50)])
    }
    assert curve[date(2027, 3, 14)].planned == 0
    assert curve[date(2027, 3, 15)].planned == pytest.approx(25)
    assert curve[date(2027, 3, 18)].planned == pytest.approx(100)
    assert curve[date(2027, 3, 15)].done == pytest.approx(10)
    assert curve[date(2027, 3, 17)].done == pytest.approx(25)
    assert curve[date(2027, 3, 18)].done is None


def test_there_is_no_curve_without_dates() -> None:
    assert done_against_plan(plan(task("a")), []) == []


def test_the_reading_of_a_project_says_what_matters() -> None:
    text = project_reading(
        plan(
            task("a", title="Order panes", owner_id="x", pushes=2, **days("3-08", 2)),
            task("b", title="Cast bars", owner_id="y", held_reason="foundry sand", held_since=at("3-15"), **days("3-16", 3)),
            task("c", title="Fit panes", **days("3-22", 2)),
        ),
        NAMES,
    )
    assert "0 % done" in text
    assert "planned to finish on **23 Mar**" in text
    assert "One task is late: **Order panes** (Ines O.), by 5 days and pushed twice." in text
    assert "**Cast bars** has been held for 2 working days by foundry sand." in text
    assert "**1 task** has no owner." in text
    assert "2 tasks are due in the next seven days." in text


def test_the_reading_of_an_empty_and_of_a_finished_project() -> None:
    assert "Nothing is written down yet" in project_reading(plan(), NAMES)
    done = task("a", state_id="done", percent=100, actual_finish=NOW, **days("3-08", 2))
    assert "**finished**: 1 task." in project_reading(plan(done), NAMES)


def test_the_reading_of_tasks() -> None:
    made = plan(
        task("s", title="Glazing", owner_id="x"),
        task("a", "s", owner_id="x", helpers=("y",), deadline=at("3-10"), pushes=1, **days("3-08", 2)),
        task("b", "s", **days("3-17", 1)),
        task("c", "s", state_id="done", percent=100, actual_finish=at("3-12 12:00"), **days("3-08", 2)),
        task("d", "s"),
    )
    say = {one: task_reading(made, made.rows[one], NAMES) for one in made.rows}
    assert say["a"] == (
        "**Ines O.** answers for it: 2 d, 0 % done. Tomas B. helps. It is **5 days late**. Its deadline of **10 Mar** is broken. "
        "Its finish has been pushed once. It has **no slack**: its deadline is the end."
    )
    assert "**Nobody** answers for it yet" in say["b"]
    assert "due **today**" in say["b"]
    assert "finished on **12 Mar**, 2 days after its planned finish" in say["c"]
    assert "**no dates** yet" in say["d"]
    assert say["s"].startswith("**Ines O.** answers for it. 1 of 4 tasks under it finished")


def test_days_late_in_a_row_follow_the_clock() -> None:
    made = plan(task("a", **days("3-08", 2)), now=at("3-10 09:00"))
    assert made.rows["a"].late_days == 1
    later = Plan(PROJECT, OFFICE, made.tasks.values(), at("3-17 09:30"))
    assert later.rows["a"].late_days == 5
    assert replace(later.rows["a"], late_days=1) == replace(made.rows["a"])
