"""How far goals are: worked examples, and the laws that hold of all of them."""

from __future__ import annotations

from datetime import date, datetime, timedelta
from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rhodonite.core.common.errors import RuleError
from rhodonite.core.goals.measures import Facts, expected_by, measure_all, percent_of, propose_health
from rhodonite.core.goals.model import Goal, Measure, Step, Value, check_goal
from rhodonite.core.goals.rhythm import after, say_period
from rhodonite.core.goals.tree import check_tie, shown_parent

FIRST, LAST = date(2027, 1, 1), date(2027, 4, 10)  # a hundred days
AT = datetime(2027, 1, 1, 9)


def aim(one: str, above: str | None = None, **more: object) -> Goal:
    return Goal(one, one, "ines", FIRST, LAST, AT, above, **more)  # type: ignore[arg-type]


def value(of: str, number: str) -> list[Value]:
    return [Value(f"v{of}", of, FIRST, Decimal(number), "ines", AT)]


@pytest.mark.parametrize(
    ("start", "target", "now", "percent"),
    [("12", "20", "15", "37.5"), ("14", "6", "11.6", "30.0"), ("0", "3", "1", "33.3"), ("0", "100", "140", "100.0"),
     ("0", "100", "-5", "0.0"), ("-10", "10", "0", "50.0"), ("6", "14", "5", "0.0")],
)  # fmt: skip
def test_how_much_of_the_way(start: str, target: str, now: str, percent: str) -> None:
    assert percent_of(Measure(start=Decimal(start), target=Decimal(target)), Decimal(now)) == Decimal(percent)


@pytest.mark.parametrize(
    ("day", "steps", "expected"),
    [
        (FIRST, (), "1.0"), (date(2027, 2, 19), (), "50.0"), (LAST, (), "100.0"), (date(2026, 12, 1), (), "0.0"),
        (date(2028, 1, 1), (), "100.0"), (date(2027, 1, 10), (Step(date(2027, 1, 10), Decimal(40)),), "40.0"),
        (date(2027, 1, 5), (Step(date(2027, 1, 10), Decimal(40)),), "20.0"),
        (date(2027, 2, 24), (Step(date(2027, 1, 10), Decimal(40)),), "70.0"),
    ],
)  # fmt: skip
def test_where_it_should_be_by_now(day: date, steps: tuple[Step, ...], expected: str) -> None:
    assert expected_by(Measure("goals", steps=steps), FIRST, LAST, day) == Decimal(expected)


@pytest.mark.parametrize(
    ("percent", "expected", "health"),
    [("50", "50", "steady"), ("45", "50", "steady"), ("44.9", "50", "strained"), ("30", "50", "strained"), ("29.9", "50", "slipping"),
     ("99.9", "0", "steady")],
)  # fmt: skip
def test_health_follows_the_distance(percent: str, expected: str, health: str) -> None:
    assert propose_health(Decimal(percent), Decimal(expected), LAST, FIRST)[0] == health


def test_once_the_period_is_over_what_is_not_reached_is_slipping() -> None:
    late = LAST + timedelta(days=1)
    assert propose_health(Decimal("99.9"), Decimal(100), LAST, late) == ("slipping", "Its period is over at 99.9 %.")
    assert propose_health(Decimal(100), Decimal(100), LAST, late)[0] == "steady"
    assert propose_health(None, Decimal(50), LAST, FIRST)[0] is None


numbers = st.decimals(-1000, 1000, places=1)


@given(numbers, numbers, numbers)
def test_a_percentage_lies_between_nothing_and_a_hundred(start: Decimal, target: Decimal, now: Decimal) -> None:
    if start != target:
        assert 0 <= percent_of(Measure(start=start, target=target), now) <= 100


@given(st.lists(st.tuples(numbers, st.integers(1, 1000)), min_size=1, max_size=8))
def test_a_goal_lies_between_those_below_it(below: list[tuple[Decimal, int]]) -> None:
    goals = {"top": aim("top", measure=Measure("goals"))}
    values = {}
    for index, (number, weight) in enumerate(below):
        goals[f"g{index}"] = aim(f"g{index}", "top", weight=weight)
        values[f"g{index}"] = value(f"g{index}", f"{number:f}")
    found = measure_all(goals, Facts(values=values), FIRST)
    percents = [found[f"g{index}"].percent for index in range(len(below))]
    assert min(percents) <= found["top"].percent <= max(percents)  # type: ignore[type-var, operator]


@given(st.integers(0, 120), st.integers(0, 120))
def test_what_is_expected_never_falls(one: int, other: int) -> None:
    early, late = sorted((FIRST + timedelta(days=one - 5), FIRST + timedelta(days=other - 5)))
    measure = Measure(
        "goals", steps=(Step(FIRST + timedelta(days=30), Decimal(60)), Step(FIRST + timedelta(days=60), Decimal(70)))
    )
    assert expected_by(measure, FIRST, LAST, early) <= expected_by(measure, FIRST, LAST, late)


def test_goals_at_any_depth_are_measured_and_what_was_withdrawn_does_not_count() -> None:
    goals = {"a": aim("a", measure=Measure("goals")), "b": aim("b", "a", measure=Measure("goals")), "c": aim("c", "b"),
             "d": aim("d", "b", outcome="withdrawn", closed_at=AT, closed_percent=Decimal(10))}  # fmt: skip
    found = measure_all(goals, Facts(values={"c": value("c", "60")}), FIRST)
    assert [found[one].percent for one in "abcd"] == [Decimal(60), Decimal(60), Decimal(60), Decimal(10)]


def test_what_a_note_says_stands_beside_what_the_figures_say() -> None:
    found = measure_all({"a": aim("a")}, Facts(values={"a": value("a", "100")}, said={"a": "slipping"}), FIRST)["a"]
    assert (found.health, found.proposed) == ("slipping", "steady")


def test_no_circle_and_the_nearest_that_is_seen() -> None:
    goals = {"a": aim("a"), "b": aim("b", "a"), "c": aim("c", "b")}
    check_tie(goals, "c", "a")
    for one, above in (("a", "c"), ("a", "a"), ("b", "c")):
        with pytest.raises(RuleError):
            check_tie(goals, one, above)
    assert shown_parent(goals, {"a", "c"}, goals["c"]) == "a"
    assert shown_parent(goals, {"c"}, goals["c"]) is None


@pytest.mark.parametrize(
    ("first", "last", "said"),
    [((2027, 1, 1), (2027, 12, 31), "2027"), ((2027, 7, 1), (2027, 12, 31), "second half of 2027"),
     ((2027, 4, 1), (2027, 6, 30), "second quarter of 2027"), ((2027, 2, 1), (2027, 4, 30), "1 Feb 2027 to 30 Apr 2027"),
     ((2027, 10, 1), (2028, 3, 31), "1 Oct 2027 to 31 Mar 2028")],
)  # fmt: skip
def test_what_a_period_is_called(first: tuple[int, int, int], last: tuple[int, int, int], said: str) -> None:
    assert say_period(date(*first), date(*last)) == said


def test_a_rhythm_ends_on_the_last_day_of_a_shorter_month() -> None:
    assert after(date(2027, 11, 30), "quarterly") == date(2028, 2, 29)
    assert after(date(2027, 3, 3), "fortnightly") == date(2027, 3, 17)


def test_the_largest_and_the_smallest_of_a_goal() -> None:
    for wrong in (
        aim("a", weight=0),
        aim("a", measure=Measure(decimals=9)),
        aim("a", measure=Measure(target=Decimal(10) ** 20)),
        aim(""),
    ):
        with pytest.raises(RuleError):
            check_goal(wrong)
