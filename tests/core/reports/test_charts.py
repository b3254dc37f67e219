"""Charts by their laws: tallies add up, every task stands in a bar; worked examples of periods, means and others."""

from __future__ import annotations

from datetime import date, datetime, timedelta
from decimal import Decimal
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rhodonite.core.common.errors import RuleError
from rhodonite.core.reports.charts import (
    MOST_MARKS,
    OTHERS,
    Chart,
    check_grouping,
    check_summed,
    keys_by,
    make_chart,
    merged,
    next_start,
    start_of,
    tally,
    thinned,
)
from rhodonite.core.reports.dashboards import Period
from rhodonite.core.schedule.plan import Row
from rhodonite.core.views.catalogue import Catalogue
from rhodonite.core.views.columns import Column

from ..make import days, plan, task

PEOPLE = {"t": "Tomas", "c": "Callum", "y": "Yuki"}


def rows_of(*tasks: Any) -> tuple[list[Row], Catalogue]:
    made = plan(*tasks)
    return made.leaves(), Catalogue(made, PEOPLE)


def chart_of(catalogue: Catalogue, rows: list[Row], by: list[str], measure: Any = "count", of: str = "", period: Period = "month") -> Chart:  # fmt: skip
    columns = [catalogue.column(key) for key in by]
    number = catalogue.column(of) if of else None
    found = tally(rows, [keys_by(one, period) for one in columns], number.value if number else None)
    return make_chart(found, columns, period, measure, number)


def table(chart: Chart) -> dict[str, list[Decimal | None]]:
    return {mark.name: [row[at] for row in chart.values] for at, mark in enumerate(chart.marks)}


some_tasks = st.lists(
    st.tuples(st.sampled_from([None, "t", "c", "y"]), st.sampled_from(["ready", "doing", "done"]), st.integers(0, 40)),
    max_size=30,
)


def made_of(some: list[tuple[str | None, str, int]]) -> list[Any]:
    return [
        task(f"n{index:03}", owner_id=owner, state_id=state, effort=hours * 60 or None, **days("3-08", 1 + hours % 20))
        for index, (owner, state, hours) in enumerate(some)
    ]


@given(some_tasks, st.integers(0, 30), st.sampled_from([["owner"], ["owner", "class"], ["finish"], ["class", "finish"]]))
def test_tallies_of_parts_are_that_of_the_whole(some: list[Any], cut: int, by: list[str]) -> None:
    rows, catalogue = rows_of(*made_of(some))
    keys = [keys_by(catalogue.column(key), "week") for key in by]
    effort = catalogue.column("effort").value
    whole = tally(rows, keys, effort)
    assert merged([tally(rows[:cut], keys, effort), tally(rows[cut:], keys, effort)]) == whole
    # what is counted alone is counted the same
    assert {path: one.tasks for path, one in tally(rows, keys, None).items()} == {path: one.tasks for path, one in whole.items()}


@given(some_tasks, st.sampled_from([["owner"], ["owner", "class"], ["finish", "owner"], ["class"]]))
def test_every_task_stands_in_one_bar(some: list[Any], by: list[str]) -> None:
    rows, catalogue = rows_of(*made_of(some))
    chart = chart_of(catalogue, rows, by, "sum", "effort", "week")
    assert sum(sum(row) for row in chart.tasks) == len(rows)
    effort = sum((Decimal(row.effort or 0) / 60 for row in rows), Decimal(0))
    assert abs(sum((value or Decimal(0) for row in chart.values for value in row), Decimal(0)) - effort) < Decimal("0.1")


@given(st.dates(date(2020, 1, 1), date(2030, 12, 31)), st.sampled_from(["day", "week", "month", "quarter"]))
def test_a_day_lies_in_its_period(day: date, period: Period) -> None:
    start = start_of(day, period)
    assert start <= day < next_start(start, period)
    assert start_of(next_start(start, period) - timedelta(days=1), period) == start


def test_days_without_tasks_between_stand_there_too() -> None:
    rows, catalogue = rows_of(task("a", **days("3-08", 1)), task("b", **days("3-22", 1)), task("c"))
    chart = chart_of(catalogue, rows, ["finish"], period="week")
    assert table(chart) == {"8 Mar": [1], "15 Mar": [0], "22 Mar": [1], "no finish": [1]}
    assert [(one.key, one.operator, one.value) for one in chart.marks[0].where] == [
        ("finish", "after", "2027-03-07"),
        ("finish", "before", "2027-03-15"),
    ]


def test_means_are_over_the_tasks_that_have_the_number() -> None:
    rows, catalogue = rows_of(
        task("a", owner_id="t", effort=120), task("b", owner_id="t", effort=60), task("c", owner_id="t"), task("d", owner_id="y")
    )
    chart = chart_of(catalogue, rows, ["owner"], "mean", "effort")
    assert table(chart) == {"Tomas": [Decimal("1.5")], "Yuki": [None]}
    assert (chart.unit, chart.heads[2]) == ("h", "Effort in h, mean")


def test_classes_stand_in_their_order_and_people_by_how_much() -> None:
    rows, catalogue = rows_of(
        task("a", owner_id="y", state_id="done"), task("b", owner_id="t"), task("c", owner_id="t", state_id="doing"), task("d")
    )
    chart = chart_of(catalogue, rows, ["owner", "class"])
    assert [one.name for one in chart.marks] == ["Tomas", "Yuki", "no owner"]
    assert [one.name for one in chart.series] == ["queued", "active", "finished"]


def test_what_there_is_no_room_for_is_one_more() -> None:
    rows, _ = rows_of(*(task(f"n{n:02}") for n in range(40)))
    many = Column("who", "Who", "one_of", lambda row: row.task.id, choices={f"n{n:02}": f"N {n}" for n in range(40)})
    found = tally(rows, [keys_by(many, "month")], None)
    chart = make_chart(found, [many], "month", "count", None)
    assert len(chart.marks) == MOST_MARKS
    assert (chart.marks[-1].key, chart.marks[-1].where, chart.values[0][-1]) == (OTHERS, (), 40 - MOST_MARKS + 1)


def test_what_can_be_grouped_and_summed() -> None:
    _, catalogue = rows_of(task("a"))
    for key in ("title", "effort"):
        with pytest.raises(RuleError, match="cannot group by"):
            check_grouping(catalogue.column(key))
    with pytest.raises(RuleError, match="cannot be summed"):
        check_summed(catalogue.column("finish"))


def test_points_are_thinned_evenly() -> None:
    assert thinned(list(range(10)), 5) == [0, 2, 4, 6, 8]
    assert thinned([1, 2], 5) == [1, 2]
    assert datetime.max.year == 9999
