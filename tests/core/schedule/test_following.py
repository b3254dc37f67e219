"""A schedule that follows changes is the one that is computed anew."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from rhodonite.core.schedule.planning import follow, schedule_of
from rhodonite.core.tasks.model import Link, Task

from ..make import DAY, NOW, OFFICE, PROJECT, at, days, plan, task

CHANGES: list[dict[str, Any]] = [
    {"duration": 2 * DAY},
    {"duration": None, "start": None, "finish": None, "constraint_type": "asap", "constraint_at": None},
    {"constraint_type": "must_start", "constraint_at": at("3-20")},
    {"deadline": at("3-12 17:30")},
    {"percent": 40, "actual_start": at("3-09"), "state_id": "doing"},
    {"state_id": "dropped"},
    {"kind": "milestone", "duration": 0},
    {"waits_for": ()},
    {"deleted_at": NOW},
    {"title": "Renamed"},
]


def whole() -> dict[str, Task]:
    tasks = [task("s"), task("a", "s", **days("3-08", 3)), task("b", "s", duration=DAY, waits_for=(Link("a", "SS", DAY),)),
             task("c", duration=3 * DAY, waits_for=(Link("b", "FF"), Link("a"))), task("d", **days("3-10", 1), waits_for=(Link("s", "SS"),)),
             task("e", duration=0, kind="milestone", waits_for=(Link("c", "FS", DAY), Link("s")))]  # fmt: skip
    return {one.id: one for one in tasks}


@settings(max_examples=150, deadline=None)
@given(st.lists(st.tuples(st.sampled_from("abcde"), st.sampled_from(CHANGES)), min_size=1, max_size=4))
def test_following_is_computing_anew(changes: list[tuple[str, dict[str, Any]]]) -> None:
    was = whole()
    schedule = schedule_of(PROJECT, OFFICE, was)
    for name, fields in changes:
        now = {**was, name: replace(was[name], **fields)}
        schedule = follow(schedule, PROJECT, OFFICE, was, now, [name])
        anew = schedule_of(PROJECT, OFFICE, now)
        was = now
        rows = {t.id: schedule.times(i) for i, t in enumerate(schedule.plan.tasks)}
        assert rows == {t.id: anew.times(i) for i, t in enumerate(anew.plan.tasks)}
        assert schedule.conflicts() == anew.conflicts()
        assert schedule.finish == anew.finish


def test_a_plan_whose_links_close_a_cycle_can_still_be_read() -> None:
    tasks = [task("a", **days("3-08", 2), waits_for=(Link("b"),)), task("b", **days("3-09", 1), waits_for=(Link("a"),))]
    made = plan(*tasks)
    assert made.rows["a"].finish == at("3-09 17:30")
    assert made.schedule.plan.links == []
