"""Mends: what each says it does, it does."""

from __future__ import annotations

from collections import defaultdict
from datetime import date
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from rhodonite.core.resources.capacity import Capacity
from rhodonite.core.resources.load import load_of
from rhodonite.core.resources.mends import Mend, People, finished_work, mends, times_done
from rhodonite.core.schedule.plan import Plan
from rhodonite.core.tasks.model import Booking, Task
from rhodonite.core.tasks.rules import change
from rhodonite.core.tasks.typed_fields import read_fields

from ..make import DAY, NOW, OFFICE, PROJECT, days, plan, task

X, Y = "00000000-0000-0000-0000-00000000000a", "00000000-0000-0000-0000-00000000000b"
USUAL = Capacity(OFFICE)
WEEK = range(date(2027, 3, 22).toordinal(), date(2027, 3, 27).toordinal())


def people_of(made: Plan) -> People:
    load: dict[str, dict[int, int]] = defaultdict(dict, load_of(made, {}, USUAL).by_who)
    return People({}, USUAL, load)


def found_in(made: Plan, others: tuple[str, ...] = (X, Y)) -> list[Mend]:
    return mends(made, X, WEEK, people_of(made), others)


def applied(made: Plan, mend: Mend) -> Plan:
    one = made.tasks[mend.task_id]
    fields = read_fields(mend.fields, made, NOW, one)
    after = one.with_fields(change(one, fields, project=PROJECT, calendar=OFFICE, now=NOW))
    if after.constraint_at != one.constraint_at and after.duration:  # the schedule puts it there
        assert after.constraint_at is not None
        after = after.with_fields({"start": after.constraint_at, "finish": OFFICE.add_to(after.constraint_at, after.duration)})
    return made.followed([after])[0]


def booked(name: str, start: str, length: int, minutes: int, **more: Any) -> Task:
    return task(name, bookings=(Booking(X, minutes),), **days(start, length), **more)


LONG = task("long", **days("3-22", 20))


def test_a_task_moves_no_further_than_it_must_and_its_hours_are_given_or_stretched() -> None:
    made = plan(LONG, booked("a", "3-22", 2, 2 * 330), booked("b", "3-22", 2, 2 * 330))
    kinds = {(one.task_id, one.kind): one for one in found_in(made)}
    assert kinds["a", "move"].days == 2
    assert kinds["a", "move"].fields["constraint_at"] == "2027-03-24T09:00"
    assert kinds["a", "give"].to == Y
    assert kinds["a", "stretch"].days == 4  # 120 minutes of 330 are left a day: 2.75 times as long, in whole days
    assert all(one.relief == 420 for one in kinds.values())


def test_work_that_has_begun_is_pinned_or_has_no_slack_is_not_moved() -> None:
    begun = booked("a", "3-22", 2, 720, state_id="doing", actual_start=NOW)
    made = plan(begun, booked("b", "3-22", 2, 720))
    assert not [one for one in found_in(made) if one.kind == "move"]


def test_work_is_split_around_the_days_that_are_full() -> None:
    made = plan(LONG, booked("a", "3-22", 5, 5 * 300), booked("b", "3-23", 2, 2 * 330))
    split = next(one for one in found_in(made) if one.kind == "split" and one.task_id == "a")
    assert split.days == 2
    after = applied(made, split).tasks["a"]
    assert after.bookings[0].by_day == (300, 0, 0, 300, 300, 300, 300)
    assert after.duration == 7 * DAY
    assert not any(one.task_id == "b" and one.kind == "split" for one in found_in(made))  # it would rest at once


def test_who_has_done_such_work_is_given_it_first() -> None:
    z = "00000000-0000-0000-0000-00000000000c"
    made = plan(
        LONG,
        booked("a", "3-22", 2, 720, title="Turn the paddle pegs"),
        booked("b", "3-22", 2, 720),
        task("done", owner_id=z, state_id="done", percent=100, title="Paddle pegs for the model", **days("3-1", 1)),
    )
    give = next(one for one in found_in(made, (X, Y, z)) if one.kind == "give" and one.task_id == "a")
    assert (give.to, give.done) == (z, 1)
    assert times_done(finished_work(made), Y, "Turn the paddle pegs") == 0


rows = st.lists(st.tuples(st.integers(15, 30), st.integers(1, 5), st.integers(60, 3000)), min_size=1, max_size=6)


@settings(max_examples=80, deadline=None)
@given(rows, rows)
def test_a_mend_that_is_applied_does_what_it_said(mine: list[tuple[int, int, int]], theirs: list[tuple[int, int, int]]) -> None:
    tasks = [booked(f"x{n}", f"3-{day}", length, minutes) for n, (day, length, minutes) in enumerate(mine)]
    tasks += [
        task(f"y{n}", bookings=(Booking(Y, minutes),), **days(f"3-{day}", length))
        for n, (day, length, minutes) in enumerate(theirs)
    ]
    made = plan(LONG, *tasks)
    before = people_of(made)
    over = [day for day in WEEK if before.over(X, [day])]
    for mend in found_in(made):
        after = people_of(applied(made, mend))
        assert before.over(X, over) - after.over(X, over) == mend.relief > 0
        for who in (X, Y):
            for day in range(date(2027, 3, 1).toordinal(), date(2027, 6, 1).toordinal()):
                assert after.over(who, [day]) <= before.over(who, [day])
        if mend.kind != "give":
            task_after = applied(made, mend).tasks[mend.task_id]
            assert task_after.booked == made.tasks[mend.task_id].booked
        assert mend.kind != "stretch" or (applied(made, mend).tasks[mend.task_id].duration or 0) % DAY == 0
