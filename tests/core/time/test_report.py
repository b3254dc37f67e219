"""Reports of time: sums of what is shown are what is shown."""

from __future__ import annotations

from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rhodonite.core.common.errors import RuleError
from rhodonite.core.time.report import BYS, Piece, TaskFacts, check_asked, make_report

DAY = date(2027, 3, 1)
FACTS = {"t0": TaskFacts("task", 600), "t1": TaskFacts("defect", None), "t2": TaskFacts("task", 120)}
PIECES = st.builds(
    Piece,
    person_id=st.sampled_from(["tomas", "yuki"]),
    project_id=st.sampled_from(["lan", "mil"]),
    task_id=st.sampled_from(list(FACTS)),
    day=st.integers(0, 60).map(lambda days: DAY + timedelta(days=days)),
    billable=st.booleans(),
    minutes=st.integers(1, 900),
    entries=st.integers(1, 4),
)


@given(st.lists(PIECES, max_size=40), st.lists(st.sampled_from(BYS), min_size=1, max_size=3, unique=True))
def test_each_group_is_the_sum_of_the_groups_within_it(pieces: list[Piece], by: list[str]) -> None:
    report = make_report(pieces, by, FACTS)  # type: ignore[arg-type]
    for line in [report.total, *report.lines]:
        within = [one for one in report.lines if len(one.keys) == len(line.keys) + 1 and one.keys[:-1] == line.keys]
        if len(line.keys) < len(by):
            for name in ("minutes", "billable", "entries"):
                assert getattr(line, name) == sum(getattr(one, name) for one in within)
    assert report.total.minutes == sum(one.minutes for one in pieces)
    assert len({one.keys for one in report.lines}) == len(report.lines)


@given(st.lists(PIECES, min_size=1, max_size=20))
def test_a_group_stands_before_those_within_it(pieces: list[Piece]) -> None:
    seen: set[tuple[str, ...]] = {()}
    for line in make_report(pieces, ("project", "person", "week"), FACTS).lines:
        assert line.keys[:-1] in seen
        seen.add(line.keys)


def piece(who: str, task: str, day: date, minutes: int, billable: bool = True) -> Piece:
    return Piece(who, "lan", task, day, billable, minutes, 1)


def test_times_follow_each_other_and_all_else_begins_with_the_most_hours() -> None:
    some = [
        piece("yuki", "t0", DAY + timedelta(days=8), 60),
        piece("tomas", "t1", DAY, 300),
        piece("tomas", "t0", DAY + timedelta(days=1), 30),
    ]
    assert [one.keys[0] for one in make_report(some, ("person",), FACTS).lines] == ["tomas", "yuki"]
    assert [one.keys[0] for one in make_report(some, ("day",), FACTS).lines] == ["2027-03-01", "2027-03-02", "2027-03-09"]
    assert [one.keys[0] for one in make_report(some, ("week",), FACTS).lines] == ["2027-03-01", "2027-03-08"]
    assert [one.keys[0] for one in make_report(some, ("month",), FACTS).lines] == ["2027-03"]


def test_estimates_are_told_where_only_tasks_are_grouped_each_once() -> None:
    some = [piece("yuki", "t0", DAY, 60), piece("tomas", "t0", DAY, 30), piece("tomas", "t2", DAY, 15, False)]
    by_kind = make_report(some, ("kind", "task"), FACTS)
    assert [(one.keys, one.estimate) for one in by_kind.lines] == [(("task",), 720), (("task", "t0"), 600), (("task", "t2"), 120)]
    assert all(one.estimate is None for one in make_report(some, ("person", "task"), FACTS).lines)
    assert by_kind.total.estimate == 720
    assert by_kind.total.billable == 90


@pytest.mark.parametrize(
    ("first", "last", "by"),
    [(DAY, DAY - timedelta(days=1), ["person"]), (DAY, DAY + timedelta(days=4000), ["person"]), (DAY, DAY, []),
     (DAY, DAY, ["person", "person"]), (DAY, DAY, ["colour"]), (DAY, DAY, ["person", "project", "task", "day"])],
)  # fmt: skip
def test_what_cannot_be_asked_is_refused(first: date, last: date, by: list[str]) -> None:
    with pytest.raises(RuleError):
        check_asked(first, last, by)
