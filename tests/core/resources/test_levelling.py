"""Levelling: no link and no capacity is broken, nothing moves without need, and the classic instances come out well."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Sequence
from datetime import date
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rhodonite.core.common.calendars import CalendarException, WorkingCalendar, minute_of
from rhodonite.core.resources.capacity import without
from rhodonite.core.resources.levelling import Levelled, level
from rhodonite.core.resources.profile import Profile
from rhodonite.core.resources.serial_scheme import Demand, Taker
from rhodonite.core.schedule.network import PlanInput, PlanLink, PlanTask
from rhodonite.core.schedule.schedule import Schedule

from ..make import DAY, OFFICE, at

START = minute_of(at("3-8"))
ALWAYS = WorkingCalendar((((0, 1440),),) * 7)
CALENDARS = {
    "office": OFFICE,
    "holidays": WorkingCalendar(OFFICE.week, [CalendarException(date(2027, 3, 10), date(2027, 3, 11), (), "fair")]),
    "always": ALWAYS,
}


def a_plan(tasks: Sequence[PlanTask], links: Sequence[PlanLink] = (), calendar: str = "office", **more: Any) -> PlanInput:
    return PlanInput(START, calendar, CALENDARS, tasks, links, milestones_close=True, **more)


def spans(found: Levelled) -> dict[str, tuple[int, int]]:
    rows = zip(found.schedule.plan.tasks, found.schedule.starts, found.schedule.finishes, strict=True)
    return {task.id: (start, finish) for task, start, finish in rows if start is not None and finish is not None}


def check_capacity(found: Levelled, takers: Sequence[Taker], demands: Sequence[Demand]) -> None:
    """Of each resource no more is taken at any minute than there is, counted minute by minute at the starts of tasks."""
    at_task, capacity = spans(found), {one.id: one.capacity for one in takers}
    over = {task for tasks in found.over.values() for task in tasks}
    by_resource: dict[str, list[tuple[int, int, float]]] = defaultdict(list)
    for one in demands:
        if one.task in at_task and one.task not in over:
            by_resource[one.resource].append((*at_task[one.task], min(one.units, capacity[one.resource])))
    for resource, several in by_resource.items():
        for moment, _, _ in several:
            assert sum(units for start, finish, units in several if start <= moment < finish) <= capacity[resource] + 1e-6


def check_links(found: Levelled) -> None:
    """Laid out again with each task held no earlier than where it stands, the plan is the same: so every link holds."""
    at_task = spans(found)
    held = [
        PlanTask(**{name: getattr(task, name) for name in task.__slots__} | {"constraint": "start_no_earlier", "at": at_task[task.id][0]})
        if task.id in at_task and task.constraint not in {"must_start", "must_finish"} and task.planned_start is None
        and not found.schedule.net.is_summary[found.schedule.net.index[task.id]]
        else task
        for task in found.schedule.plan.tasks
    ]  # fmt: skip
    plan = found.schedule.plan
    again = Schedule(PlanInput(plan.start, plan.calendar, plan.calendars, held, plan.links, milestones_close=True))
    assert (again.starts, again.finishes) == (found.schedule.starts, found.schedule.finishes)


def test_two_tasks_of_one_person_stand_one_after_the_other() -> None:
    plan = a_plan([PlanTask("a", duration=2 * DAY), PlanTask("b", duration=DAY)])
    found = level(plan, [Taker("x")], [Demand("a", "x"), Demand("b", "x")])
    assert found.makespan == 3 * DAY == found.lower_bound
    check_capacity(found, [Taker("x")], [Demand("a", "x"), Demand("b", "x")])


def test_halves_of_a_person_run_side_by_side() -> None:
    plan = a_plan([PlanTask("a", duration=DAY), PlanTask("b", duration=DAY), PlanTask("c", duration=DAY)])
    demands = [Demand(one, "x", 0.5) for one in "abc"]
    assert level(plan, [Taker("x")], demands).makespan == 2 * DAY


def test_who_is_away_is_waited_for() -> None:
    hours = without(ALWAYS, [(at("3-9 00:00"), at("3-11 00:00"))])
    plan = a_plan([PlanTask("a", duration=2 * DAY)])
    found = level(plan, [Taker("x", hours=hours)], [Demand("a", "x")])
    assert spans(found)["a"] == (minute_of(at("3-11")), minute_of(at("3-12 17:30")))
    assert found.over == {}


def test_within_slack_nothing_moves_the_finish_and_what_stays_over_is_said() -> None:
    plan = a_plan(
        [
            PlanTask("long", duration=5 * DAY),
            PlanTask("a", duration=3 * DAY),
            PlanTask("b", duration=2 * DAY),
            PlanTask("c", duration=2 * DAY),
        ]
    )
    demands = [Demand(one, "x") for one in "abc"]
    found = level(plan, [Taker("x")], demands, within_slack=True)
    assert found.schedule.finish == Schedule(plan).finish
    assert sum(map(len, found.over.values())) == 1
    assert level(plan, [Taker("x")], demands).makespan == 7 * DAY


def test_pins_what_has_begun_and_what_must_not_move_stay_where_they_are() -> None:
    begun = (minute_of(at("3-8")), minute_of(at("3-9 17:30")))
    plan = a_plan(
        [
            PlanTask("begun", duration=2 * DAY, planned_start=begun[0], planned_finish=begun[1], actual_start=begun[0]),
            PlanTask("pinned", duration=DAY, constraint="must_start", at=minute_of(at("3-11"))),
            PlanTask("still", duration=DAY),
            PlanTask("free", duration=2 * DAY),
        ]
    )
    demands = [Demand(one.id, "x") for one in plan.tasks]
    found = level(plan, [Taker("x")], demands, still=["still"])
    stand, before = spans(found), Schedule(plan)
    for task in ("begun", "pinned", "still"):
        assert stand[task][0] == before.starts[before.net.index[task]]
    assert stand["free"] == (minute_of(at("3-12")), minute_of(at("3-15 17:30")))  # two days in a row, after them all


def test_a_pin_is_not_pushed_by_what_comes_before_it() -> None:
    plan = a_plan(
        [
            PlanTask("a", duration=2 * DAY),
            PlanTask("b", duration=2 * DAY),
            PlanTask("pin", duration=DAY, constraint="must_start", at=minute_of(at("3-10"))),
        ],
        [PlanLink("a", "pin"), PlanLink("b", "pin")],
    )
    found = level(plan, [Taker("x")], [Demand("a", "x"), Demand("b", "x")])
    assert found.schedule.conflicts() == []
    assert sum(map(len, found.over.values())) == 1  # one of them stays over: it may not stand later


tasks_of = st.lists(st.integers(1, 4), min_size=2, max_size=14)
kinds = st.sampled_from(["FS", "SS", "FF", "SF"])


@st.composite
def plans(draw: Any) -> tuple[PlanInput, list[Taker], list[Demand]]:
    lengths = draw(tasks_of)
    count = len(lengths)
    tasks = [
        PlanTask(f"t{n}", duration=length * DAY // 2, calendar=draw(st.sampled_from([None, None, "holidays", "always"])),
                 parent_id=None, elapsed=draw(st.sampled_from([False, False, False, True])))
        for n, length in enumerate(lengths)
    ]  # fmt: skip
    if draw(st.booleans()):
        top = PlanTask("top")
        tasks = [
            top,
            *(
                PlanTask(**{name: getattr(one, name) for name in one.__slots__} | {"parent_id": "top"}) if n % 3 == 0 else one
                for n, one in enumerate(tasks)
            ),
        ]
    pairs = draw(st.lists(st.tuples(st.integers(0, count - 1), st.integers(0, count - 1)), max_size=12))
    links = {
        (a, b): PlanLink(f"t{a}", f"t{b}", draw(kinds), draw(st.sampled_from([0, 0, 60, DAY, -60])))
        for a, b in pairs if a < b
    }  # fmt: skip
    takers = [Taker("x"), Taker("y", 2.0)]
    demands = [
        Demand(one.id, draw(st.sampled_from("xy")), draw(st.sampled_from([0.5, 1, 1, 2])))
        for one in tasks if one.id != "top" and draw(st.booleans())
    ]  # fmt: skip
    return a_plan(tasks, list(links.values())), takers, demands


@settings(max_examples=120, deadline=None)
@given(plans())
def test_no_link_and_no_capacity_is_ever_broken(made: tuple[PlanInput, list[Taker], list[Demand]]) -> None:
    plan, takers, demands = made
    found = level(plan, takers, demands, goes_on=lambda tried: tried < 3)
    assert not found.over
    check_capacity(found, takers, demands)
    check_links(found)
    assert found.makespan >= found.lower_bound


@settings(max_examples=60, deadline=None)
@given(plans())
def test_where_nothing_is_over_nothing_changes(made: tuple[PlanInput, list[Taker], list[Demand]]) -> None:
    plan, _, demands = made
    plenty = [Taker("x", 100), Taker("y", 100)]
    found = level(plan, plenty, demands)
    before = Schedule(plan)
    assert found.moved == []
    assert (found.schedule.starts, found.schedule.finishes) == (before.starts, before.finishes)


@settings(max_examples=40, deadline=None)
@given(plans())
def test_within_slack_the_finish_stays(made: tuple[PlanInput, list[Taker], list[Demand]]) -> None:
    plan, takers, demands = made
    found = level(plan, takers, demands, within_slack=True, goes_on=lambda _: False)
    assert found.schedule.finish <= Schedule(plan).finish
    check_capacity(found, takers, demands)


# The instances of Fisher and Thompson, 1963: machine and length by job; a job is a chain, a machine a resource of one
SIX = """2 1 0 3 1 6 3 7 5 3 4 6/1 8 2 5 4 10 5 10 0 10 3 4/2 5 3 4 5 8 0 9 1 1 4 7
1 5 0 5 2 5 3 3 4 8 5 9/2 9 1 3 4 5 5 4 0 3 3 1/1 3 3 3 5 9 0 10 4 4 2 1"""
TEN = """0 29 1 78 2 9 3 36 4 49 5 11 6 62 7 56 8 44 9 21/0 43 2 90 4 75 9 11 3 69 1 28 6 46 5 46 7 72 8 30
1 91 0 85 3 39 2 74 8 90 5 10 7 12 6 89 9 45 4 33/1 81 2 95 0 71 4 99 6 9 8 52 7 85 3 98 9 22 5 43
2 14 0 6 1 22 5 61 3 26 4 69 8 21 7 49 9 72 6 53/2 84 1 2 5 52 3 95 8 48 9 72 0 47 6 65 4 6 7 25
1 46 0 37 3 61 2 13 6 32 5 21 9 32 8 89 7 30 4 55/2 31 0 86 1 46 5 74 4 32 6 88 8 19 9 48 7 36 3 79
0 76 1 69 3 76 5 51 2 85 9 11 6 40 7 89 4 26 8 74/1 85 0 13 2 61 6 7 8 64 9 76 5 47 3 52 4 90 7 45"""


def job_shop(text: str) -> tuple[PlanInput, list[Taker], list[Demand]]:
    tasks, links, demands = [], [], []
    for job, line in enumerate(text.replace("\n", "/").split("/")):
        numbers = list(map(int, line.split()))
        for step in range(len(numbers) // 2):
            tasks.append(PlanTask(f"{job}.{step}", duration=numbers[2 * step + 1]))
            demands.append(Demand(f"{job}.{step}", f"m{numbers[2 * step]}"))
            if step:
                links.append(PlanLink(f"{job}.{step - 1}", f"{job}.{step}"))
    return a_plan(tasks, links, "always"), [Taker(one) for one in sorted({d.resource for d in demands})], demands


@pytest.mark.parametrize(("text", "optimum"), [(SIX, 55), (TEN, 930)])
def test_classic_job_shops_come_within_fifteen_percent_at_once(text: str, optimum: int) -> None:
    plan, takers, demands = job_shop(text)
    found = level(plan, takers, demands)
    check_capacity(found, takers, demands)
    check_links(found)
    assert optimum <= found.makespan <= optimum * 1.15
    assert found.lower_bound <= optimum


def for_looks(most: int) -> Callable[[int], bool]:
    """Goes on for so many questions after the orders by chance: ten a second."""
    left = [most]

    def goes_on(tried: int) -> bool:
        left[0] -= tried >= 3
        return left[0] > 0

    return goes_on


@pytest.mark.parametrize("text", [SIX])
def test_the_best_order_is_found_and_known_to_be_the_best(text: str) -> None:
    plan, takers, demands = job_shop(text)
    found = level(plan, takers, demands, goes_on=for_looks(600))
    check_capacity(found, takers, demands)
    check_links(found)
    assert (found.makespan, found.lower_bound) == (55, 55)


def test_a_plan_that_rules_do_not_level_best_is_levelled_better_by_search() -> None:
    plan, takers, demands = job_shop(TEN)
    at_once = level(plan, takers, demands, goes_on=lambda _: False)
    found = level(plan, takers, demands, goes_on=for_looks(40))
    check_capacity(found, takers, demands)
    check_links(found)
    assert 930 <= found.makespan < at_once.makespan
    assert found.lower_bound <= 930


@settings(max_examples=12, deadline=None)
@given(plans(), st.booleans())
def test_what_the_search_finds_breaks_no_link_and_no_capacity(
    made: tuple[PlanInput, list[Taker], list[Demand]], within_slack: bool
) -> None:
    plan, takers, demands = made
    at_once = level(plan, takers, demands, within_slack=within_slack, goes_on=lambda _: False)
    found = level(plan, takers, demands, within_slack=within_slack, goes_on=for_looks(20))
    check_capacity(found, takers, demands)
    check_links(found)
    assert sum(map(len, found.over.values())) <= sum(map(len, at_once.over.values()))
    assert found.makespan >= found.lower_bound


def test_a_search_that_is_cancelled_ends_at_once() -> None:
    plan, takers, demands = job_shop(TEN)

    def cancel(tried: int) -> bool:
        if tried >= 3:
            raise InterruptedError
        return True

    with pytest.raises(InterruptedError):
        level(plan, takers, demands, goes_on=cancel)


def test_what_others_take_is_left_to_them() -> None:
    plan = a_plan([PlanTask("a", duration=DAY), PlanTask("b", duration=DAY)])
    monday = minute_of(at("3-8 00:00"))
    taker = Taker("x", taken=[(monday, monday + 1440, 0.5), (monday + 1440, monday + 2880, 1)])
    for goes_on in (None, for_looks(20)):
        found = level(plan, [taker], [Demand("a", "x", 0.5), Demand("b", "x", 1)], goes_on=goes_on)
        assert spans(found)["a"][0] == minute_of(at("3-8"))
        assert spans(found)["b"][0] == minute_of(at("3-10"))


def test_the_same_plan_and_seed_give_the_same() -> None:
    plan, takers, demands = job_shop(SIX)
    assert spans(level(plan, takers, demands, seed=7)) == spans(level(plan, takers, demands, seed=7))


def test_a_profile_says_where_there_is_room() -> None:
    profile = Profile(2)
    profile.add(10, 20, 2)
    profile.add(20, 30, 1)
    profile.add(30, 40, 2)
    assert profile.room_after(0, 10, 2) is None
    assert profile.room_after(0, 11, 1) == 20
    assert profile.room_after(20, 30, 1) is None
    assert profile.room_after(15, 16, 2) == 40
    assert profile.most() == 2
