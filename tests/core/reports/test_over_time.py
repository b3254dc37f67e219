"""Work as it was: the class of each task at the end of a day, by the journal."""

from __future__ import annotations

from datetime import date, datetime
from decimal import Decimal

from hypothesis import given
from hypothesis import strategies as st

from rhodonite.core.reports.over_time import ClassHistory, StateChange, counted_then, ends_of, histories

from ..make import STATES, plan, task

CLASSES = {one.id: one.state_class for one in STATES}


def at(day: int, hour: int = 12) -> datetime:
    return datetime(2027, 3, day, hour)


def test_a_task_is_counted_as_it_stood_at_the_end_of_each_day() -> None:
    changes = [
        StateChange("a", at(8), None),
        StateChange("a", at(9), "doing", "ready"),
        StateChange("a", at(11, 8), "review", "doing"),
        StateChange("a", at(11, 17), "done", "review"),
        StateChange("b", at(10), None),
    ]
    history = histories(changes, CLASSES, {"a": "finished", "b": "queued", "c": "active"})
    past = [history["a"].at(date(2027, 3, day)) for day in (7, 8, 9, 10, 11, 17)]
    assert past == [None, "queued", "active", "active", "finished", "finished"]
    assert [history["b"].at(date(2027, 3, day)) for day in (9, 10)] == [None, "queued"]
    assert history["c"].at(date(2020, 1, 1)) == "active"  # of what no journal tells it was always so


def test_counts_by_class_then_and_by_a_field_of_today() -> None:
    made = plan(task("a", state_id="done", owner_id="t", effort=60), task("b", owner_id="y"), task("c", state_id="dropped"))
    history = histories(
        [
            StateChange("a", at(8), None),
            StateChange("a", at(10), "done", "ready"),
            StateChange("b", at(9), None),
            StateChange("c", at(8), None),
        ],
        CLASSES,
        {"a": "finished", "b": "queued", "c": "dropped"},
    )
    ends = [date(2027, 3, day) for day in (8, 9, 10)]
    by_class = counted_then(made.leaves(), ends, history, frozenset(), None, True, None)
    assert {path: one.tasks for path, one in by_class.items()} == {
        ("2027-03-08", "queued"): 1,
        ("2027-03-09", "queued"): 2,
        ("2027-03-10", "finished"): 1,
        ("2027-03-10", "queued"): 1,
    }
    still_open = frozenset({"queued", "active"})
    by_owner = counted_then(
        made.leaves(),
        ends,
        history,
        still_open,
        lambda row: (row.task.owner_id or "",),
        False,
        lambda row: Decimal(row.effort or 0),
    )
    assert {path: (one.tasks, one.total) for path, one in by_owner.items()} == {
        ("2027-03-08", "t"): (1, 60),
        ("2027-03-09", "t"): (1, 60),
        ("2027-03-09", "y"): (1, 0),
        ("2027-03-10", "y"): (1, 0),
    }


@given(st.sampled_from(["day", "week", "month", "quarter"]), st.integers(2, 40), st.dates(date(2025, 1, 1), date(2029, 1, 1)))
def test_periods_end_one_after_the_other_and_the_last_today(period: str, last: int, today: date) -> None:
    ends = ends_of(today, period, last)  # type: ignore[arg-type]
    assert len(ends) == last
    assert ends == sorted(set(ends))
    assert ends[-1] == today


@given(st.lists(st.tuples(st.integers(1, 28), st.sampled_from(sorted(CLASSES))), max_size=12))
def test_whatever_the_journal_says_it_ends_as_it_is(moves: list[tuple[int, str]]) -> None:
    moves = sorted(moves)
    changes = [StateChange("a", at(1, 0), None), *(StateChange("a", at(day), state, "ready") for day, state in moves)]
    (history,) = histories(changes, CLASSES, {"a": "active"}).values()
    assert isinstance(history, ClassHistory)
    assert history.at(date(2027, 3, 31)) == "active"
