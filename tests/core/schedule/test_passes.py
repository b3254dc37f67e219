"""Worked networks, whose answers were found with pencil and paper, and what is refused."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, datetime
from typing import Any

import pytest

from rhodonite.core.common.calendars import OFFICE_WEEK, CalendarException, WorkingCalendar, datetime_of, minute_of
from rhodonite.core.common.errors import RuleError
from rhodonite.core.schedule.network import PlanInput, PlanLink, PlanTask
from rhodonite.core.schedule.ripple import ripple
from rhodonite.core.schedule.schedule import Schedule
from rhodonite.core.tasks.model import LinkType

from ..make import DAY, at

HOLIDAY = CalendarException(date(2027, 3, 11), date(2027, 3, 12), (), "spring holiday")
OFFICE = WorkingCalendar(OFFICE_WEEK)
WITH_HOLIDAY = WorkingCalendar(OFFICE_WEEK, [HOLIDAY])
NIGHTS = WorkingCalendar([((22 * 60, 24 * 60),)] * 7)
CALENDARS = {"office": OFFICE, "holiday": WITH_HOLIDAY, "nights": NIGHTS}
MONDAY = minute_of(at("3-08"))


def task(name: str, days: float | None = None, **fields: Any) -> PlanTask:
    return PlanTask(name, name, duration=None if days is None else round(days * DAY), **fields)


def plan(*tasks: PlanTask, links: str = "", calendar: str = "office", **fields: Any) -> PlanInput:
    """``links``: ``a>b`` or ``a SS b +1``, with commas; the lag is in days."""
    made = []
    for text in filter(None, (part.strip() for part in links.split(","))):
        first, kind, second, *lag = text.replace(">", " FS ").split()
        made.append(PlanLink(first, second, kind, round(float(lag[0]) * DAY) if lag else 0))  # type: ignore[arg-type]
    return PlanInput(MONDAY, calendar, CALENDARS, tasks, made, **fields)


def dates(schedule: Schedule, name: str) -> tuple[datetime, datetime]:
    times = schedule.times(schedule.net.index[name])
    assert times is not None
    return datetime_of(times.start), datetime_of(times.finish)


def slack(schedule: Schedule, name: str) -> tuple[float, float]:
    index = schedule.net.index[name]
    total, free = schedule.total[index], schedule.free_slack()[index]
    assert total is not None
    assert free is not None
    return total / DAY, free / DAY


def why(schedule: Schedule, name: str) -> Any:
    because = schedule.because(schedule.net.index[name])
    assert because is not None
    return because


def test_two_paths_through_a_week() -> None:
    """a 3 d, then b 4 d and c 2 d side by side, then d 1 d: b decides, c can slip two days."""
    schedule = Schedule(plan(task("a", 3), task("b", 4), task("c", 2), task("d", 1), links="a>b, a>c, b>d, c>d"))
    assert dates(schedule, "a") == (at("3-08"), at("3-10 17:30"))
    assert dates(schedule, "b") == (at("3-11"), at("3-16 17:30"))
    assert dates(schedule, "c") == (at("3-11"), at("3-12 17:30"))
    assert dates(schedule, "d") == (at("3-17"), at("3-17 17:30"))
    assert [slack(schedule, one) for one in "abcd"] == [(0, 0), (0, 0), (2, 2), (0, 0)]
    assert [schedule.is_critical(schedule.net.index[one]) for one in "abcd"] == [True, True, False, True]
    assert why(schedule, "d").link == PlanLink("b", "d")
    assert why(schedule, "a").kind == "project_start"


@pytest.mark.parametrize(
    ("kind", "lag", "start", "finish"),
    [
        ("FS", 0, "3-11", "3-12 17:30"),
        ("FS", 1, "3-12", "3-15 17:30"),
        ("FS", -1, "3-10", "3-11 17:30"),
        ("SS", 0, "3-08", "3-09 17:30"),
        ("SS", 2, "3-10", "3-11 17:30"),
        ("FF", 0, "3-09", "3-10 17:30"),
        ("FF", 1, "3-10", "3-11 17:30"),
        ("SF", 3, "3-09", "3-10 17:30"),
        ("SF", 0, "3-08", "3-09 17:30"),  # it would begin before the project
    ],
)
def test_each_type_of_link_with_lag_and_lead(kind: LinkType, lag: float, start: str, finish: str) -> None:
    schedule = Schedule(plan(task("a", 3), task("b", 2), links=f"a {kind} b {lag}"))
    assert dates(schedule, "b") == (at(start), at(finish))


def test_a_holiday_is_skipped_and_named() -> None:
    schedule = Schedule(plan(task("a", 3), task("b", 1), links="a>b", calendar="holiday"))
    assert dates(schedule, "b") == (at("3-15"), at("3-15 17:30"))
    assert why(schedule, "b").exception == "spring holiday"
    assert why(schedule, "a").exception is None


def test_elapsed_lag_and_duration_run_through_the_weekend() -> None:
    pour = PlanLink("pour", "walk", "FS", 3 * 1440, elapsed=True)
    made = plan(task("pour", 5), task("walk", 1), PlanTask("cure", duration=2 * 1440, elapsed=True))
    schedule = Schedule(replace(made, links=[pour, PlanLink("pour", "cure")]))
    assert dates(schedule, "pour")[1] == at("3-12 17:30")  # a Friday
    assert dates(schedule, "walk")[0] == at("3-16 09:00")  # Monday 17:30 is no time to begin
    assert dates(schedule, "cure") == (at("3-15 09:00"), at("3-17 09:00"))


def test_a_task_may_work_by_a_calendar_of_its_own() -> None:
    schedule = Schedule(plan(task("a", 1), PlanTask("guard", duration=180, calendar="nights"), links="a>guard"))
    assert dates(schedule, "guard") == (at("3-08 22:00"), at("3-09 23:00"))


@pytest.mark.parametrize(
    ("kind", "moment", "start", "total"),
    [
        ("start_no_earlier", "3-10", "3-10", 2),
        ("start_no_earlier", "3-13 10:00", "3-15", -1),
        ("finish_no_earlier", "3-11 17:30", "3-10", 2),
        ("start_no_later", "3-09", "3-08", 1),
        ("finish_no_later", "3-08 17:30", "3-08", -1),
        ("must_start", "3-11", "3-11", 1),
        ("must_finish", "3-12 17:30", "3-11", 1),
        ("alap", None, "3-12", 4),
    ],
)
def test_the_eight_constraints(kind: Any, moment: str | None, start: str, total: float) -> None:
    """x 2 d beside a 6 d: the project would finish on Monday 15 March at noon of the day's end."""
    held = task("x", 2, constraint=kind, at=minute_of(at(moment)) if moment else None)
    schedule = Schedule(plan(task("a", 6), held))
    assert dates(schedule, "x")[0] == at(start)
    if kind != "start_no_earlier" or moment == "3-10":
        assert slack(schedule, "x")[0] == total
    else:
        assert datetime_of(schedule.finish) == at("3-16 17:30")


def test_a_pin_holds_against_its_links_and_says_by_how_much() -> None:
    pinned = task("b", 1, constraint="must_start", at=minute_of(at("3-09")))
    schedule = Schedule(plan(task("a", 3), pinned, task("c", 1), links="a>b, b>c"))
    assert dates(schedule, "b")[0] == at("3-09")
    (conflict,) = schedule.conflicts()
    assert (conflict.kind, conflict.task, conflict.link, conflict.minutes) == (
        "link_broken_by_pin", "b", PlanLink("a", "b"), 2 * DAY,
    )  # fmt: skip
    assert slack(schedule, "a")[0] == -2
    assert why(schedule, "b").kind == "pin"


def test_a_missed_deadline_shows_as_slack_below_nothing() -> None:
    schedule = Schedule(plan(task("a", 3), task("b", 2, deadline=minute_of(at("3-11 17:30"))), links="a>b"))
    assert [slack(schedule, one)[0] for one in "ab"] == [-1, -1]
    assert [(one.kind, one.task, one.minutes) for one in schedule.conflicts()] == [("deadline_missed", "b", DAY)]


def test_as_late_as_possible_closes_up_a_chain() -> None:
    late = {"constraint": "alap"}
    schedule = Schedule(plan(task("a", 5), task("x", 1, **late), task("y", 1, **late), task("z", 1), links="x>y, y>z, a>z"))
    assert dates(schedule, "y")[0] == at("3-12")
    assert dates(schedule, "x")[0] == at("3-11")
    assert why(schedule, "x").kind == "as_late_as_possible"


def test_a_link_on_a_summary_task_holds_all_below_it() -> None:
    tasks = (task("S"), task("b", 2, parent_id="S"), task("c", 1, parent_id="S"))
    schedule = Schedule(plan(task("a", 3), *tasks, task("d", 1), links="a>S, S>d"))
    assert dates(schedule, "c")[0] == at("3-11")
    assert dates(schedule, "S") == (at("3-11"), at("3-12 17:30"))
    assert dates(schedule, "d")[0] == at("3-15")
    assert (why(schedule, "b").through, why(schedule, "b").link) == ("S", PlanLink("a", "S"))
    assert slack(schedule, "c") == (1, 1)


@pytest.mark.parametrize(("closes", "moment"), [(True, "3-10 17:30"), (False, "3-11 09:00")])
def test_a_milestone_closes_a_day_or_opens_the_next(closes: bool, moment: str) -> None:
    schedule = Schedule(plan(task("a", 3), PlanTask("m", milestone=True), links="a>m", milestones_close=closes))
    assert dates(schedule, "m") == (at(moment), at(moment))


def test_a_linked_task_without_a_duration_lasts_a_day_and_one_without_anything_is_undated() -> None:
    schedule = Schedule(plan(task("a"), task("b"), task("loose"), links="a>b"))
    assert dates(schedule, "b") == (at("3-09"), at("3-09 17:30"))
    assert schedule.times(schedule.net.index["loose"]) is None


def test_a_date_set_by_hand_may_lie_before_the_project_where_the_plan_says_so() -> None:
    early = task("b", 1, parent_id="S", constraint="start_no_earlier", at=minute_of(at("3-03")))
    tasks = (task("S"), early, task("c", 1, parent_id="S"), task("d", 1))
    bound, free = (Schedule(plan(*tasks, links="S>d", before_start=one)) for one in (False, True))
    assert dates(bound, "b")[0] == at("3-08")
    assert dates(free, "b")[0] == at("3-03")
    assert dates(free, "c")[0] == at("3-08")  # nobody set its start
    assert dates(Schedule(plan(*tasks, before_start=True), minute_of(at("3-09"))), "b")[0] == at("3-09")


def test_the_forecast_keeps_what_is_done_and_puts_the_rest_behind_today() -> None:
    done = task("a", 2, actual_start=minute_of(at("3-08")), actual_finish=minute_of(at("3-11 12:00")), percent=100)
    running = task("b", 4, actual_start=minute_of(at("3-11 14:00")), percent=25)
    made = plan(done, running, task("c", 1), task("d", 1), links="a>b, b>c")
    ahead = Schedule(made, minute_of(at("3-15")))
    assert dates(ahead, "a") == (at("3-08"), at("3-11 12:00"))
    assert dates(ahead, "b") == (at("3-11 14:00"), at("3-17 17:30"))  # three of its four days are left
    assert dates(ahead, "c")[0] == at("3-18")
    assert dates(ahead, "d")[0] == at("3-15")
    assert why(ahead, "d").kind == "status_day"
    assert dates(Schedule(made), "c")[0] == at("3-16")  # the plan does not look at what was done


def test_what_is_left_still_waits_for_its_links() -> None:
    begun_too_soon = task("b", 2, actual_start=minute_of(at("3-08")), percent=50)
    ahead = Schedule(plan(task("a", 3), begun_too_soon, links="a>b"), MONDAY)
    assert dates(ahead, "b") == (at("3-08"), at("3-11 17:30"))


def test_a_part_done_before_anybody_noted_a_start_counts_too() -> None:
    half = task("b", 4, percent=50)
    ahead = Schedule(plan(task("a", 5), half, task("c", 1), links="a FF b, b SF c +2"), MONDAY)
    assert dates(ahead, "b") == (at("3-11"), at("3-12 17:30"))
    assert slack(ahead, "b")[0] == 0


def test_work_that_has_begun_stands_where_it_stood() -> None:
    begun = task("b", 2, planned_start=minute_of(at("3-08 11:00")), planned_finish=minute_of(at("3-12 17:30")))
    schedule = Schedule(plan(task("a", 3), begun, task("c", 1), links="a>b, b>c"))
    assert dates(schedule, "b") == (at("3-08 11:00"), at("3-12 17:30"))
    assert dates(schedule, "c")[0] == at("3-15")
    assert why(schedule, "b").kind == "begun"


@pytest.mark.parametrize(
    ("links", "tasks", "words"),
    [
        ("a>b, b>c, c>a", "abc", "“a” → “b” → “c” → “a”"),
        ("b>c, c>b, a>b", "abc", "“b” → “c” → “b”"),
        ("a>a", "a", "“a” cannot wait for itself"),
        ("a>z", "a", "'z', which is not there"),
    ],
)
def test_links_that_cannot_be_are_refused(links: str, tasks: str, words: str) -> None:
    with pytest.raises(RuleError) as caught:
        Schedule(plan(*(task(one, 1) for one in tasks), links=links))
    assert words in caught.value.sentence


def test_a_task_is_not_linked_with_one_above_it_nor_round_by_way_of_it() -> None:
    tree = (task("S"), task("T", parent_id="S"), task("a", 1, parent_id="T"), task("b", 1))
    with pytest.raises(RuleError, match="“a” stands under “S”"):
        Schedule(plan(*tree, links="S>a"))
    with pytest.raises(RuleError, match="“S”"):
        Schedule(plan(*tree, links="a>b, b>S"))


def test_a_ripple_tells_what_moves_and_what_it_breaks() -> None:
    tasks = [task("a", 3), task("b", 2, deadline=minute_of(at("3-12 17:30"))), PlanTask("m", milestone=True), task("c", 2)]
    before = Schedule(plan(*tasks, links="a>b, b>m", milestones_close=True))
    after = Schedule(plan(task("a", 4), *tasks[1:], links="a>b, b>m", milestones_close=True))
    found = ripple(before, after)
    assert [(move.task, move.by / DAY) for move in found.moved] == [("a", 1), ("b", 1), ("m", 1)]
    assert [move.task for move in found.milestones] == ["m"]
    assert found.deadlines_missed == ["b"]
    assert (datetime_of(found.finish_before), datetime_of(found.finish_after)) == (at("3-12 17:30"), at("3-15 17:30"))
    assert ripple(after, before).deadlines_met == ["b"]


@pytest.mark.parametrize("order", [(0, 1), (1, 0)])
def test_of_two_links_between_the_same_ends_the_same_one_is_named_whatever_their_order(order: tuple[int, int]) -> None:
    links = (PlanLink("a", "b"), PlanLink("a", "b", elapsed=True))
    tasks = [PlanTask("a", duration=60), PlanTask("b", duration=60)]
    plan = PlanInput(minute_of(at("3-15")), "office", {"office": OFFICE}, tasks, [links[one] for one in order])
    because = Schedule(plan).because(1)
    assert because is not None
    assert because.link == links[0]
