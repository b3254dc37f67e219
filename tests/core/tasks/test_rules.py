"""What follows from a change to a task."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rhodonite.core.common.errors import RuleError
from rhodonite.core.overview.desk import desk_section
from rhodonite.core.tasks.lateness import breaks_deadline, days_late, is_late
from rhodonite.core.tasks.model import Task
from rhodonite.core.tasks.rules import change

from ..make import DAY, NOW, OFFICE, PROJECT, at, days, task


def changed(one: Task, is_summary: bool = False, percent_before: int = 0, **wanted: Any) -> dict[str, Any]:
    return change(
        one, wanted, project=PROJECT, calendar=OFFICE, now=NOW, is_summary=is_summary, percent_before_finish=percent_before
    )


DATED = task("a", **days("3-15", 3))  # Monday to Wednesday


def test_start_and_duration_give_the_finish() -> None:
    fields = changed(task("a"), start=date(2027, 3, 15), duration=3 * DAY)
    assert fields["finish"] == at("3-17 17:30")


def test_start_and_finish_give_the_duration() -> None:
    fields = changed(task("a"), start=date(2027, 3, 15), finish=date(2027, 3, 22))
    assert fields["duration"] == 6 * DAY


def test_finish_and_duration_give_the_start() -> None:
    fields = changed(task("a"), finish=date(2027, 3, 19), duration=2 * DAY)
    assert fields["start"] == at("3-18")


def test_a_moved_start_keeps_the_duration() -> None:
    fields = changed(DATED, start=date(2027, 3, 18))
    assert fields == {"start": at("3-18"), "finish": at("3-22 17:30"), "constraint_at": at("3-18"), "pushes": 1}


def test_a_moved_finish_keeps_the_start() -> None:
    assert changed(DATED, finish=date(2027, 3, 16)) == {"finish": at("3-16 17:30"), "duration": 2 * DAY}


def test_a_new_duration_keeps_the_start() -> None:
    assert changed(DATED, duration=DAY)["finish"] == at("3-15 17:30")


def test_one_date_alone_stands_alone() -> None:
    held = {"constraint_type": "finish_no_earlier", "constraint_at": at("3-19 17:30")}
    assert changed(task("a"), finish=date(2027, 3, 19)) == {"finish": at("3-19 17:30"), **held}
    assert changed(task("a", finish=at("3-19 17:30")), start=date(2027, 3, 18))["duration"] == 2 * DAY


def test_clearing_a_date_clears_the_duration() -> None:
    assert changed(DATED, finish=None) == {"finish": None, "duration": None}
    held = {"constraint_type": "finish_no_earlier", "constraint_at": DATED.finish}
    assert changed(DATED, start=None) == {"start": None, "duration": None, **held}
    assert changed(DATED, duration=None) == {"duration": None, "finish": None}


def test_a_day_off_moves_to_working_time() -> None:
    fields = changed(task("a"), start=date(2027, 3, 20), finish=date(2027, 3, 28))
    assert (fields["start"], fields["finish"]) == (at("3-22"), at("3-26 17:30"))


def test_a_finish_before_the_start_is_refused() -> None:
    with pytest.raises(RuleError, match="before the start") as caught:
        changed(DATED, finish=date(2027, 3, 12))
    assert caught.value.field == "finish"


def test_a_milestone_is_a_moment() -> None:
    fields = changed(task("a", kind="milestone"), finish=date(2027, 3, 19))
    held = {"constraint_type": "finish_no_earlier", "constraint_at": at("3-19 17:30")}
    assert fields == {"start": at("3-19 17:30"), "finish": at("3-19 17:30"), "duration": 0, **held}
    assert changed(DATED, kind="milestone")["start"] == DATED.finish


@given(st.dates(date(2027, 1, 1), date(2027, 12, 1)), st.integers(1, 40 * DAY))
def test_the_three_always_agree(start: date, duration: int) -> None:
    fields = changed(task("a"), start=start, duration=duration)
    assert OFFICE.minutes_between(fields["start"], fields["finish"]) == duration
    back = changed(task("b"), finish=fields["finish"], duration=duration)
    assert back["start"] == fields["start"]


def test_finishing_sets_all_that_follows() -> None:
    fields = changed(task("a", held_reason="rain", held_since=NOW), state_id="done")
    assert fields == {
        "state_id": "done", "percent": 100, "actual_finish": NOW, "actual_start": NOW, "state_since": NOW,
        "held_reason": None, "held_since": None,
    }  # fmt: skip


def test_a_hundred_percent_finishes() -> None:
    assert changed(task("a", state_id="doing", actual_start=at("3-10")), percent=100)["state_id"] == "done"


def test_less_than_a_hundred_opens_again() -> None:
    fields = changed(task("a", state_id="done", percent=100, actual_start=at("3-10"), actual_finish=NOW), percent=60)
    assert (fields["state_id"], fields["actual_finish"], fields["percent"]) == ("doing", None, 60)


def test_opening_again_goes_back_to_the_percent_before() -> None:
    done = task("a", state_id="done", percent=100, actual_start=at("3-10"), actual_finish=NOW)
    assert changed(done, state_id="review", percent_before=80)["percent"] == 80
    queued = changed(done, state_id="ready", percent_before=80)
    assert (queued["percent"], queued["actual_start"]) == (0, None)


def test_the_first_move_to_an_active_state_starts() -> None:
    assert changed(task("a"), state_id="doing")["actual_start"] == NOW
    assert "actual_start" not in changed(task("a", state_id="doing", actual_start=at("3-10")), state_id="review")


def test_holding_notes_since_when() -> None:
    assert changed(task("a"), held_reason=" rain ") == {"held_reason": "rain", "held_since": NOW}
    held = task("a", held_reason="rain", held_since=at("3-10"))
    assert changed(held, held_reason="storm") == {"held_reason": "storm"}
    # five working days of 7.5 h and the half hour since this morning
    assert changed(held, held_reason="") == {"held_reason": None, "held_since": None, "held_minutes": 5 * 450 + 30}


def test_a_later_finish_is_a_push() -> None:
    assert changed(DATED, finish=date(2027, 3, 19))["pushes"] == 1
    assert "pushes" not in changed(DATED, finish=date(2027, 3, 16))
    assert "pushes" not in changed(task("a"), finish=date(2027, 3, 19))
    assert "pushes" not in changed(DATED.with_fields({"state_id": "done", "percent": 100}), finish=date(2027, 3, 19))


def test_pushing_work_that_has_not_begun_moves_it() -> None:
    fields = changed(DATED, push_to=date(2027, 3, 18))
    assert fields == {"start": at("3-16"), "finish": at("3-18 17:30"), "constraint_at": at("3-16"), "pushes": 1}


def test_pushing_work_that_has_begun_stretches_it() -> None:
    fields = changed(DATED.with_fields({"state_id": "doing", "actual_start": at("3-15")}), push_to=date(2027, 3, 18))
    assert fields == {"finish": at("3-18 17:30"), "duration": 4 * DAY, "pushes": 1}


def test_pushing_to_a_day_off_goes_on_to_the_next_worked() -> None:
    assert changed(DATED, push_to=date(2027, 3, 20))["finish"] == at("3-22 17:30")
    held = {"constraint_type": "finish_no_earlier", "constraint_at": at("3-18 17:30")}
    assert changed(task("a"), push_to=date(2027, 3, 18)) == {"finish": at("3-18 17:30"), **held}


def test_an_owner_is_no_helper() -> None:
    helped = task("a", helpers=("x", "y"))
    assert changed(helped, owner_id="x") == {"owner_id": "x", "helpers": ("y",)}
    assert changed(task("a", owner_id="x"), helpers=("x", "y", "y"))["helpers"] == ("y",)


@pytest.mark.parametrize("name", ["start", "finish", "duration", "percent", "state_id", "effort"])
def test_what_is_computed_on_a_summary_is_not_typed(name: str) -> None:
    with pytest.raises(RuleError, match="computed from the tasks under it") as caught:
        changed(task("a"), is_summary=True, **{name: None})
    assert caught.value.field == name


@pytest.mark.parametrize(
    ("name", "value"),
    [("title", "  "), ("title", "x" * 501), ("kind", "epic"), ("priority", "urgent"), ("percent", 101), ("percent", -1),
     ("duration", -5), ("effort", -5), ("state_id", "nowhere")],
)  # fmt: skip
def test_what_cannot_be_is_refused(name: str, value: object) -> None:
    with pytest.raises(RuleError) as caught:
        changed(task("a"), **{name: value})
    assert caught.value.field == name


def test_nothing_changed_is_nothing() -> None:
    assert changed(DATED, title="a", start=DATED.start, priority=None) == {}


def test_late_is_past_and_not_finished() -> None:
    yesterday = at("3-16 17:30")
    assert is_late(yesterday, "active", NOW)
    assert is_late(yesterday, "queued", NOW)
    assert not is_late(yesterday, "finished", NOW)
    assert not is_late(yesterday, "dropped", NOW)
    assert not is_late(None, "active", NOW)
    assert not is_late(at("3-17 17:30"), "active", NOW)


def test_days_late_count_working_days() -> None:
    assert days_late(at("3-12 17:30"), NOW, OFFICE) == 2
    assert days_late(at("3-16 17:30"), NOW, OFFICE) == 1


def test_a_deadline_is_broken_by_the_plan_or_by_time() -> None:
    one = task("a", deadline=at("3-19 17:30"))
    assert not breaks_deadline(one, at("3-19 17:30"), "active", NOW)
    assert breaks_deadline(one, at("3-22 17:30"), "active", NOW)
    assert breaks_deadline(one, None, "active", at("3-20"))
    assert not breaks_deadline(one, at("3-22 17:30"), "finished", at("3-25"))


@pytest.mark.parametrize(
    ("finish", "section"),
    [
        (None, "undated"),
        ("3-16 17:30", "late"),
        ("3-17 17:30", "today"),
        ("3-18 17:30", "this_week"),
        ("3-21", "this_week"),
        ("3-22", "later"),
    ],
)
def test_sections_of_the_desk(finish: str | None, section: str) -> None:
    moment: datetime | None = at(finish) if finish else None
    assert desk_section(moment, "active", NOW) == section
