"""Hours booked on a task: effort = duration × units, and who helps."""

from __future__ import annotations

from fractions import Fraction
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rhodonite.core.common.errors import RuleError
from rhodonite.core.tasks.booked import Wish, read_booking, scaled, settle_bookings, squeezed, units_of, write_booking
from rhodonite.core.tasks.model import Booking, Fields, Task
from rhodonite.core.tasks.rules import change
from rhodonite.core.tasks.typed_fields import read_fields

from ..make import DAY, NOW, OFFICE, PROJECT, at, days, plan, task

HOUR = 60
X, Y, Z = (f"00000000-0000-0000-0000-00000000000{n}" for n in range(3))


def changed(one: Task, **wanted: Any) -> dict[str, Any]:
    return change(one, wanted, project=PROJECT, calendar=OFFICE, now=NOW)


def typed(one: Task, **wanted: Any) -> dict[str, Any]:
    return changed(one, **read_fields(wanted, plan(one), NOW, one))


SIX_DAYS = task("a", owner_id=X, effort=30 * HOUR, bookings=(Booking(X, 18 * HOUR), Booking(Y, 12 * HOUR)), helpers=(Y,),
                **days("3-15", 6))  # fmt: skip


def test_thirty_hours_over_six_days_cut_to_four_with_the_load_kept_are_twenty() -> None:
    fields = changed(SIX_DAYS, duration=4 * DAY, on_length="units")
    assert fields["bookings"] == (Booking(X, 12 * HOUR), Booking(Y, 8 * HOUR))  # still 3 and 2 h a day
    assert fields["effort"] == 20 * HOUR


def test_the_same_with_the_hours_kept_changes_no_booking() -> None:
    assert "bookings" not in changed(SIX_DAYS, duration=4 * DAY, on_length="hours")
    assert "bookings" not in changed(SIX_DAYS, duration=4 * DAY)


def test_what_a_task_keeps_is_remembered() -> None:
    fields = changed(SIX_DAYS, duration=4 * DAY, keeps="units")
    assert fields["keeps"] == "units"
    assert sum(one.minutes for one in fields["bookings"]) == 20 * HOUR
    longer = changed(SIX_DAYS.with_fields({"keeps": "units"}), finish=at("3-24 17:30"))
    assert sum(one.minutes for one in longer["bookings"]) == 40 * HOUR


def test_where_units_stay_the_longest_booking_decides_the_length() -> None:
    keeps = SIX_DAYS.with_fields({"keeps": "units"})
    fields = changed(keeps, bookings=(Wish(X, 9 * HOUR), Wish(Y, 8 * HOUR)))  # half of it, and two thirds
    assert fields["duration"] == 4 * DAY
    assert fields["bookings"] == (Booking(X, 9 * HOUR), Booking(Y, 8 * HOUR))


def test_where_hours_stay_the_length_follows_units() -> None:
    keeps = task("a", keeps="hours", bookings=(Booking(X, 3 * DAY),), **days("3-15", 3))
    fields = changed(keeps, bookings=(Wish(X, units=50),))
    assert fields["duration"] == 6 * DAY
    assert "bookings" not in fields  # the same hours


def test_elsewhere_hours_follow_units() -> None:
    assert changed(task("a", **days("3-15", 4)), bookings=(Wish(X, units=25),))["bookings"] == (Booking(X, DAY),)
    with pytest.raises(RuleError):
        changed(task("a"), bookings=(Wish(X, units=25),))


def test_dates_that_are_typed_with_the_hours_are_kept() -> None:
    keeps = SIX_DAYS.with_fields({"keeps": "units"})
    assert changed(keeps, bookings=(Wish(X, 9 * HOUR),), duration=2 * DAY)["duration"] == 2 * DAY


def test_who_is_booked_helps_and_who_helps_no_more_is_booked_no_more() -> None:
    fields = changed(task("a", owner_id=X), bookings=(Wish(X, 60), Wish(Y, 60), Wish(Z, 60, resource=True)))
    assert fields["helpers"] == (Y,)
    assert changed(SIX_DAYS, helpers=())["bookings"] == (Booking(X, 18 * HOUR),)


def test_hours_of_the_owner_go_to_the_next_owner() -> None:
    assert changed(SIX_DAYS, owner_id=Z)["bookings"] == (Booking(Z, 18 * HOUR), Booking(Y, 12 * HOUR))
    fields = changed(SIX_DAYS, owner_id=Y)  # who has hours already
    assert "bookings" not in fields


def test_a_share_of_the_day() -> None:
    assert units_of(Booking(X, 18 * HOUR), 6 * DAY) == 40
    assert units_of(Booking(X, 60), None) is None


@given(st.integers(0, 10**6), st.integers(1, 10**5), st.integers(1, 10**5))
def test_units_are_kept_by_every_stretch_but_for_rounding(minutes: int, before: int, after: int) -> None:
    cut = scaled(Booking(X, minutes), Fraction(after, before))
    assert abs(Fraction(cut.minutes, after) - Fraction(minutes, before)) <= Fraction(1, 2 * after)


def test_of_hours_by_day_the_last_fall_away_or_are_repeated() -> None:
    one = Booking(X, 180, "by_day", (60, 120))
    assert scaled(one, Fraction(1, 2)) == Booking(X, 60, "by_day", (60,))
    assert scaled(one, Fraction(2)) == Booking(X, 420, "by_day", (60, 120, 120, 120))


def test_bookings_are_read_from_what_is_sent() -> None:
    fields = typed(
        task("a", **days("3-15", 2)),
        bookings=[{"who": X, "minutes": "10 h"}, {"who": Y, "units": 50, "shape": "front"}, {"who": Z, "by_day": [60, 0, 30]}],
    )
    assert fields["bookings"] == (Booking(X, 600), Booking(Y, DAY, "front"), Booking(Z, 90, "by_day", (60, 0, 30)))


@pytest.mark.parametrize(
    "sent",
    [
        "Tomas 10 h", [{"who": "Tomas", "minutes": 60}], [{"who": X}], [{"who": X, "minutes": -5}], [{"who": X, "units": 0}],
        [{"who": X, "minutes": 60, "shape": "steep"}], [{"who": X, "by_day": [1500]}], [{"who": X, "by_day": "60"}],
        [{"who": X, "minutes": 60}, {"who": X, "minutes": 30}], [{"who": X, "minutes": 10**9}], [{"who": X, "units": True}],
        [{"who": X, "minutes": 60, "resource": "yes"}],
    ],
)  # fmt: skip
def test_bookings_that_cannot_be_are_refused(sent: Any) -> None:
    with pytest.raises(RuleError):
        typed(task("a", **days("3-15", 2)), bookings=sent)


def test_what_stays_is_one_of_three() -> None:
    with pytest.raises(RuleError):
        changed(SIX_DAYS, keeps="everything")


def test_hours_of_a_summary_task_are_those_below() -> None:
    made = plan(
        task("s", bookings=(Booking(X, 999),)),
        task("b", "s", bookings=(Booking(X, 60),)),
        task("c", "s", bookings=(Booking(Y, 30),)),
    )
    assert made.rows["s"].booked == 90


def test_bookings_come_back_as_they_were_kept() -> None:
    one = Booking(X, 90, "by_day", (60, 30), True)
    assert read_booking(write_booking(one)) == one


@given(st.lists(st.integers(0, 600), min_size=1, max_size=40), st.integers(1, 40))
def test_hours_set_by_day_stay_within_a_shorter_task(by_day: list[int], days: int) -> None:
    booking = Booking("t", sum(by_day), "by_day", tuple(by_day))
    found = squeezed(booking, Fraction(days, len(by_day)))
    assert sum(found.by_day) == sum(by_day) == found.minutes
    assert len(found.by_day) == min(days, len(by_day))
    assert max(found.by_day) <= max(by_day) * -(-len(by_day) // days) + 1


def test_hours_set_by_day_keep_their_course_over_fewer_days() -> None:
    stands = task("a", duration=1350, bookings=(Booking("t", 600, "by_day", (300, 60, 240)),))
    fields: Fields = {"duration": 900}
    settle_bookings(stands, fields, {"duration": 900, "on_length": "hours"})
    assert fields["bookings"][0].by_day == (330, 270)
