"""What people have in hand, and which milestones are near."""

from __future__ import annotations

from datetime import date
from decimal import Decimal

import pytest

from rhodonite.core.reports.answers import is_near
from rhodonite.core.reports.charts import Chart, Mark, in_time
from rhodonite.core.reports.hands import MOST_OF_A_PERSON, Hand, in_hand
from tests.core.make import PROJECT, at, days, plan, task


def test_open_work_is_counted_by_person_and_the_first_of_several_plans_comes_first() -> None:
    late = plan(
        task("a", title="Late", owner_id="ines", **days("3-01", 2), state_id="doing"),
        task("b", title="Ready", owner_id="ines", **days("4-01", 2)),
        task("c", owner_id="ines", state_id="done"),
        task("d"),
    )
    found = in_hand(PROJECT, list(late.rows.values()))
    assert {who: (hand.open, hand.active, hand.late) for who, hand in found.items()} == {"ines": (2, 1, 1), None: (1, 0, 0)}
    whole = Hand()
    many = plan(*(task(f"t{n}", owner_id="ines", **days("5-03", 1)) for n in range(MOST_OF_A_PERSON)))
    whole.add(in_hand(PROJECT, list(many.rows.values()))["ines"])
    whole.add(found["ines"])
    first = [one.row.task.title for one in whole.firsts()]
    assert first[:2] == ["Late", "Ready"]
    assert (whole.open, len(first)) == (MOST_OF_A_PERSON + 2, MOST_OF_A_PERSON)


@pytest.mark.parametrize(
    ("fields", "near"),
    [
        ({"finish": at("3-31")}, True),
        ({"finish": at("4-01")}, False),
        ({"finish": at("1-04")}, True),  # late, however long
        ({"finish": at("3-03"), "state_id": "done", "actual_finish": at("3-03")}, True),
        ({"finish": at("3-02"), "state_id": "done", "actual_finish": at("3-02")}, False),
        ({"finish": at("3-17"), "kind": "task"}, False),
        ({}, False),
    ],
)
def test_milestones_are_near_that_come_soon_are_late_or_were_just_reached(fields: dict[str, object], near: bool) -> None:
    dated = {"start": fields["finish"], "duration": 0} if "finish" in fields else {}
    row = plan(task("m", **{"kind": "milestone", **dated, **fields})).rows["m"]
    assert is_near(row, date(2027, 3, 17), 14) is near


def test_days_without_a_count_stand_in_time_too() -> None:
    marks, series = (Mark("2027-03-10", "10 Mar"),), (Mark("active", "active"),)
    chart = Chart(("Day", "Class", "Tasks"), marks, series, ((Decimal(4),),), ((4,),), "", 0)
    found = in_time(chart, [(date(2027, 3, 3), "3 Mar"), (date(2027, 3, 10), "10 Mar")])
    assert ([one.name for one in found.marks], found.values, found.tasks) == (["3 Mar", "10 Mar"], ((0, 4),), ((0, 4),))
