"""The laws that dates and slack keep, on random networks, against a slow and obvious method."""

from __future__ import annotations

import random
from dataclasses import replace
from datetime import date

from hypothesis import assume, example, given, settings
from hypothesis import strategies as st

from rhodonite.core.common.calendars import CalendarException, WorkingCalendar, minute_of
from rhodonite.core.schedule.network import PlanInput, PlanLink, PlanTask
from rhodonite.core.schedule.ripple import ripple
from rhodonite.core.schedule.schedule import Schedule
from rhodonite.core.tasks.model import LINK_TYPES

from ..make import at
from .slow_schedule import SlowSchedule

MONDAY = minute_of(at("3-08 09:00"))
# a dozen working minutes a day, so that the slow method need not walk far
SHORT = WorkingCalendar([((540, 546), (550, 556))] * 5 + [()] * 2,
                        [CalendarException(date(2027, 3, 10), date(2027, 3, 10), (), "holiday")])  # fmt: skip
ODD = WorkingCalendar([()] + [((535, 545),)] * 2 + [()] + [((544, 552),)] * 3)
CALENDARS = {"short": SHORT, "odd": ODD}


@st.composite
def plans(draw: st.DrawFn, *, calendars: bool = True, bound: bool = True, nested: bool = True) -> PlanInput:
    """A plan of a few tasks. Links run from a task to one that is written down later, so that none closes a cycle."""
    count = draw(st.integers(1, 6))
    parents: list[str | None] = [None] * count
    if nested:
        parents = [draw(st.sampled_from([None, None, "S0", "S1"])) for _ in range(count)]
    tasks = []
    for i in range(count):
        kinds = ["asap", "asap", "asap", "start_no_earlier", "finish_no_earlier"] + (["must_start"] if bound else [])
        kind = draw(st.sampled_from(kinds))
        moment = MONDAY + draw(st.integers(0, 6)) * 1440 + draw(st.integers(-60, 60)) if kind != "asap" else None
        milestone = draw(st.integers(0, 5)) == 0
        tasks.append(
            PlanTask(
                f"t{i}",
                parent_id=parents[i],
                duration=0 if milestone else draw(st.integers(1, 30)),
                milestone=milestone,
                calendar=draw(st.sampled_from([None, None, "odd"])) if calendars else None,
                elapsed=calendars and draw(st.integers(0, 7)) == 0,
                constraint=kind,
                at=moment,
            )
        )
    tasks += [PlanTask(name) for name in sorted({p for p in parents if p})]
    links = []
    for _ in range(draw(st.integers(0, 7))):
        i, j = sorted((draw(st.integers(0, count - 1)), draw(st.integers(0, count - 1))))
        if i < j:
            lag = draw(st.sampled_from([0, 0, 0, 5, 12, 17, -4, -12]))
            elapsed = calendars and draw(st.integers(0, 5)) == 0
            links.append(PlanLink(f"t{i}", f"t{j}", draw(st.sampled_from(LINK_TYPES)), lag, elapsed))
    return PlanInput(MONDAY, "short", CALENDARS, tasks, links, milestones_close=draw(st.booleans()))


@st.composite
def plans_with_linked_summaries(draw: st.DrawFn) -> PlanInput:
    """Two summary tasks, the second waiting for the first, with a task before and one after."""

    def task(name: str, parent: str | None) -> PlanTask:
        return PlanTask(name, parent_id=parent, duration=draw(st.integers(1, 20)))

    tasks = [PlanTask("S0"), PlanTask("S1"), task("a", "S0"), task("b", "S0"), task("c", "S1"), task("d", "S1"),
             task("before", None), task("after", None)]  # fmt: skip
    types = st.sampled_from(["FS", "SS"])
    links = [PlanLink("S0", "S1", draw(types), draw(st.sampled_from([0, 6, -3]))), PlanLink("before", "S0", draw(types)),
             PlanLink("S1", "after", draw(st.sampled_from(LINK_TYPES)))]  # fmt: skip
    if draw(st.booleans()):
        links.append(PlanLink("a", "b", draw(st.sampled_from(LINK_TYPES))))
    return PlanInput(MONDAY, "short", CALENDARS, tasks, links)


def dates(schedule: Schedule) -> dict[str, tuple[int | None, int | None]]:
    rows = zip(schedule.plan.tasks, schedule.starts, schedule.finishes, schedule.net.is_summary, strict=True)
    return {task.id: (start, finish) for task, start, finish, above in rows if not above}


def slow_dates(plan: PlanInput) -> dict[str, tuple[int | None, int | None]]:
    slow = SlowSchedule(plan)
    return {task: (slow.start[task], slow.finish[task]) for task in slow.start}


@settings(max_examples=150, deadline=None)
@given(plans())
def test_dates_are_those_of_the_slow_method(plan: PlanInput) -> None:
    assert dates(Schedule(plan)) == slow_dates(plan)


@settings(max_examples=60, deadline=None)
@given(plans_with_linked_summaries())
def test_links_on_summary_tasks_act_on_their_start_and_finish_as_a_whole(plan: PlanInput) -> None:
    assert dates(Schedule(plan)) == slow_dates(plan)


@settings(max_examples=60, deadline=None)
@given(plans(bound=False, nested=False), st.data())
def test_slack_is_what_its_name_says(plan: PlanInput, data: st.DataObject) -> None:
    # the opening of a day and the closing before it are the same working time: a milestone there may stand at either
    assume(plan.milestones_close or not any(task.duration == 0 for task in plan.tasks))
    assume(not any(task.elapsed for task in plan.tasks))
    schedule, slow = Schedule(plan), SlowSchedule(plan)
    index = data.draw(st.integers(0, len(plan.tasks) - 1))
    task, total, free = plan.tasks[index].id, schedule.total[index], schedule.free_slack()[index]
    assert total is not None
    assert free is not None
    assert slow.delayed(task, total).end == slow.end
    assert slow.delayed(task, total + 1).end > slow.end
    others = {one: at for one, at in slow.start.items() if one != task}

    def starts_of_others(by: int) -> dict[str, int]:
        return {one: at for one, at in slow.delayed(task, by).start.items() if one != task}

    assert starts_of_others(free) == others
    assert starts_of_others(free + 1) != others or slow.delayed(task, free + 1).end > slow.end


@settings(max_examples=100, deadline=None)
@given(plans())
def test_no_task_starts_before_its_links_allow_unless_pinned_and_reported(plan: PlanInput) -> None:
    schedule, slow = Schedule(plan), SlowSchedule(plan)
    at_index = dict(zip((task.id for task in plan.tasks), range(len(plan.tasks)), strict=True))
    reported = {(one.link.from_id, one.link.to_id, one.link.type) for one in schedule.conflicts() if one.link}
    for link in plan.links:
        index = at_index[link.to_id]
        task = plan.tasks[index]
        times = schedule.times(index)
        assert times is not None
        end = times.early_start if link.type[1] == "S" else times.early_finish
        short_by = slow.calendar(task).between(end, slow.given(link))
        assert short_by <= 0 or (link.from_id, link.to_id, link.type) in reported or (task.elapsed and link.type[1] == "F")


@settings(max_examples=100, deadline=None)
@given(plans(bound=False), st.data())
def test_adding_a_link_makes_nothing_earlier(plan: PlanInput, data: st.DataObject) -> None:
    assume(len(plan.links) > 0)
    dropped = data.draw(st.integers(0, len(plan.links) - 1))
    fewer = replace(plan, links=[link for i, link in enumerate(plan.links) if i != dropped])
    with_link, without = dates(Schedule(plan)), dates(Schedule(fewer))
    for task in plan.tasks:
        if task.id in with_link:
            assert (with_link[task.id][0] or 0) >= (without[task.id][0] or 0)


@settings(max_examples=60, deadline=None)
@given(plans(), st.randoms(use_true_random=False))
def test_the_order_of_the_lists_changes_nothing(plan: PlanInput, chance: random.Random) -> None:
    tasks, links = list(plan.tasks), list(plan.links)
    chance.shuffle(tasks)
    chance.shuffle(links)
    one, other = Schedule(plan), Schedule(replace(plan, tasks=tasks, links=links))
    for schedule, mate in ((one, other), (other, one)):
        for index, task in enumerate(schedule.plan.tasks):
            twin = mate.net.index[task.id]
            assert schedule.times(index) == mate.times(twin)
            assert schedule.because(index) == mate.because(twin)
            assert schedule.free_slack()[index] == mate.free_slack()[twin]
    assert one.conflicts() == sorted(one.conflicts(), key=lambda c: one.conflicts().index(c))
    assert set(map(str, one.conflicts())) == set(map(str, other.conflicts()))


@settings(max_examples=60, deadline=None)
@given(plans())
def test_the_forecast_on_the_start_day_without_progress_is_the_plan(plan: PlanInput) -> None:
    assert dates(Schedule(plan, plan.start)) == dates(Schedule(plan))


@settings(max_examples=60, deadline=None)
@given(plans(), st.integers(0, 12), st.lists(st.integers(0, 100), min_size=6, max_size=6))
def test_the_forecast_puts_no_unfinished_work_before_the_status_day(plan: PlanInput, days: int, done: list[int]) -> None:
    status = MONDAY + days * 1440
    started = [
        replace(task, percent=percent, actual_start=MONDAY) if percent and task.id.startswith("t") else task
        for task, percent in zip(plan.tasks, [*done, 0, 0], strict=False)
    ]
    schedule = Schedule(replace(plan, tasks=started), status)
    for task, start, finish in zip(schedule.plan.tasks, schedule.starts, schedule.finishes, strict=True):
        if not task.id.startswith("t") or start is None or finish is None:
            continue
        if task.actual_start is not None:
            assert start == MONDAY
            calendar = CALENDARS[task.calendar or "short"]
            left = -(-(task.duration or 0) * (100 - task.percent) // 100)
            assert task.elapsed or calendar.between(status, finish) >= left
        else:
            assert start >= status


@settings(max_examples=60, deadline=None)
@given(plans(), plans())
def test_a_ripple_there_and_back_is_nothing(plan: PlanInput, other: PlanInput) -> None:
    before, after = (
        Schedule(plan),
        Schedule(replace(plan, links=[], tasks=[replace(t, deadline=other.start) for t in plan.tasks])),
    )
    assert not ripple(before, Schedule(plan))
    there, back = ripple(before, after), ripple(after, before)
    assert {move.task: (move.start_before, move.start_after) for move in there.moved} == {
        move.task: (move.start_after, move.start_before) for move in back.moved
    }
    assert set(there.deadlines_missed) == set(back.deadlines_met)
    assert set(there.became_critical) == set(back.no_longer_critical)
    assert (there.finish_before, there.finish_after) == (back.finish_after, back.finish_before)


@settings(max_examples=60, deadline=None)
@given(plans(bound=False, calendars=False))
@example(PlanInput(MONDAY, "short", CALENDARS, [PlanTask("a", duration=5, deadline=MONDAY)]))
def test_every_plan_has_a_critical_chain_to_its_finish(plan: PlanInput) -> None:
    schedule = Schedule(plan)
    last = [i for i, finish in enumerate(schedule.finishes) if finish == schedule.finish]
    assert any(schedule.is_critical(i) for i in last)
