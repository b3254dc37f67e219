"""How goals are told in words, and which of them a change endangers."""

from __future__ import annotations

from datetime import date, datetime
from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rhodonite.core.common.errors import RuleError
from rhodonite.core.goals.endangered import endangered
from rhodonite.core.goals.measures import Item, Part, Standing
from rhodonite.core.goals.model import Measure, Value, check_new_value, check_outcome
from rhodonite.core.goals.readings import read_goal, say_how_far, say_measured, say_part, say_start
from rhodonite.core.goals.rhythm import is_due, next_due
from rhodonite.core.goals.tree import branch

from .test_measures import AT, LAST, aim

TODAY = date(2027, 3, 17)
TASKS = Measure("tasks", projects=("p",), counts="milestones")


@pytest.mark.parametrize(
    ("measure", "how", "said"),
    [
        (Measure(sign="min", decimals=1, target=Decimal(6)), Standing(Decimal("11.6"), Decimal(30)), "11.6 of 6.0 min"),
        (Measure(), Standing(), ""),
        (TASKS, Standing(None, Decimal("33.3"), done=Decimal(1), total=Decimal(3)), "1 of 3 milestones"),
        (TASKS, Standing(None, Decimal(100), done=Decimal(1), total=Decimal(1)), "1 of 1 milestone"),
        (Measure("tasks", by="effort"), Standing(None, Decimal("42.0"), done=Decimal(1), total=Decimal(38_400)), "42 % of 640 h"),
        (Measure("goals"), Standing(None, Decimal(50), done=Decimal(0), total=Decimal(1)), "50 % of 1 goal"),
    ],
)  # fmt: skip
def test_how_far_in_words(measure: Measure, how: Standing, said: str) -> None:
    assert say_how_far(aim("a", measure=measure), how) == said


@pytest.mark.parametrize(
    ("measure", "codes", "hidden", "said"),
    [
        (Measure(), (), 0, "by hand"),
        (Measure("goals"), (), 0, "from the goals below"),
        (TASKS, ("LAN", "MIL"), 0, "from milestones of LAN and MIL, by number"),
        (TASKS, ("LAN",), 2, "from milestones of LAN and 2 more, by number"),
        (TASKS, (), 1, "from milestones of 1 project, by number"),
        (Measure("field"), ("LAN",), 0, "the sum of a field of LAN"),
        (Measure("tasks", by="effort"), ("A", "B", "C"), 0, "from tasks of A, B and C, by effort"),
    ],
)
def test_how_it_is_measured_in_words(measure: Measure, codes: tuple[str, ...], hidden: int, said: str) -> None:
    assert say_measured(measure, codes, hidden) == said


def test_what_a_project_adds_in_words() -> None:
    assert say_part(TASKS, Part(Decimal(2), Decimal(5))) == "2 of 5 milestones"
    assert say_part(Measure("tasks", by="effort"), Part(Decimal(720), Decimal(2400))) == "12 of 40 h"
    assert say_part(Measure("field", sign="m²"), Part(Decimal(1200))) == "1,200 m²"
    assert say_part(TASKS, Part(unclear="There is no such field.")) == "There is no such field."
    assert (say_start(Measure(start=Decimal(14), sign="min")), say_start(TASKS)) == ("14 min", "")


def item(name: str, finish: str | None, slack: int | None = 60, *, finished: bool = False) -> tuple[str, Item]:
    return "LAN", Item(name, 1, name, datetime.fromisoformat(finish) if finish else None, finished, slack, 480)


def test_a_goal_names_what_comes_too_late_what_slips_below_and_what_is_due() -> None:
    goal = aim("a", measure=TASKS, rhythm="weekly")
    items = [item("Gate", "2027-04-12T12:00", 0), item("Roof", "2027-04-13T12:00"), item("Done", "2027-05-01T12:00", finished=True),
             item("In time", "2027-04-10T23:00"), item("Some day", None)]  # fmt: skip
    how = Standing(None, Decimal(20), Decimal(76), Decimal(1), Decimal(5), "slipping", "", "strained", 0)
    below = [(aim("b"), Standing(health="slipping")), (aim("c"), Standing(health="steady"))]
    said = read_goal(goal, how, items, below, date(2027, 3, 10), TODAY)
    assert said == (
        "**1 of 5 milestones** (20 %) are reached; by now it should be at 76 %. "
        "**Gate** is planned for 12 Apr, 2 days after the goal ends, and has no slack. "
        "**Roof** is planned for 13 Apr, 3 days after the goal ends. "
        "1 of what it counts has no date. "
        "Slipping below it: **b**. "
        "Its latest note says strained; by the figures it is slipping. "
        "A progress note is **due since 10 Mar**."
    )


def test_a_closed_goal_says_how_it_ended_and_asks_for_nothing() -> None:
    goal = aim("a", outcome="partly_met", word="The sand came late.", closed_at=AT, rhythm="weekly")
    said = read_goal(goal, Standing(Decimal(40), Decimal(40)), [], [], None, TODAY)
    assert said == "Closed: **partly met** at 40 of 100. The sand came late."
    assert next_due(goal, None) is None


def test_a_note_is_due_from_its_day_on() -> None:
    due = next_due(aim("a", rhythm="weekly"), date(2027, 3, 10))
    assert due == TODAY
    assert is_due(due, TODAY)
    assert not is_due(due, date(2027, 3, 16))
    assert not is_due(None, TODAY)


@pytest.mark.parametrize(
    ("goal", "day", "value"),
    [
        (aim("a", outcome="met", closed_at=AT), TODAY, "1"),
        (aim("a", measure=TASKS), TODAY, "1"),
        (aim("a"), date(2027, 3, 18), "1"),
        (aim("a"), TODAY, "1.5"),
    ],
)
def test_a_value_that_cannot_be(goal: object, day: date, value: str) -> None:
    with pytest.raises(RuleError):
        check_new_value(goal, Value("v", "a", day, Decimal(value), "ines", AT), TODAY)  # type: ignore[arg-type]
    check_new_value(aim("a"), Value("v", "a", TODAY, Decimal(1), "ines", AT), TODAY)


def test_only_what_was_met_needs_no_word() -> None:
    check_outcome("met", "")
    for outcome in ("partly_met", "not_met", "withdrawn"):
        with pytest.raises(RuleError):
            check_outcome(outcome, "")  # type: ignore[arg-type]


def test_a_branch_is_a_goal_and_all_below_it() -> None:
    goals = {"a": aim("a"), "b": aim("b", "a"), "c": aim("c", "b"), "d": aim("d", "a"), "e": aim("e")}
    assert set(branch(goals, "b")) == {"b", "c"}
    assert set(branch(goals, "a")) == {"a", "b", "c", "d"}


def at(day: int) -> datetime:
    return datetime(2027, 4, day, 17)


def test_a_change_endangers_what_comes_too_late_only_by_it() -> None:
    before: dict[str, datetime | None] = {"a": at(9), "b": at(10), "c": at(12), "d": at(12), "e": None}
    after: dict[str, datetime | None] = {"a": at(11), "b": at(14), "c": at(13), "d": at(10), "e": at(1)}
    found = endangered([aim("g")], {"g": ["a", "b", "c", "d", "e", "not moved"]}, before, after)
    assert [(one.count, one.saved, one.worst, one.finish) for one in found] == [(2, 1, "b", at(14))]
    assert endangered([aim("g")], {"g": ["e"]}, before, after) == []


finishes = st.dictionaries(st.sampled_from("abcdef"), st.one_of(st.none(), st.integers(1, 20).map(at)))


@given(finishes, finishes)
def test_what_a_change_does_its_way_back_undoes(before: dict[str, datetime | None], after: dict[str, datetime | None]) -> None:
    both = before.keys() & after.keys()
    before, after = ({one: some[one] for one in both} for some in (before, after))
    there = endangered([aim("g")], {"g": list(both)}, before, after)
    back = endangered([aim("g")], {"g": list(both)}, after, before)
    late = [one for one in both if (finish := after[one]) is not None and finish.date() > LAST]
    counts = [(one.count, one.saved) for one in there]
    assert counts == [(one.saved, one.count) for one in back]
    assert sum(count for count, _ in counts) <= len(late)
