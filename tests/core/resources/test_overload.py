"""Overload in words."""

from __future__ import annotations

from datetime import date

import pytest

from rhodonite.core.resources.load import Line, columns
from rhodonite.core.resources.overload import Overload, overloads, say_overloads, say_own

TODAY = date(2027, 3, 17)
SPAN = columns(date(2027, 3, 15), date(2027, 4, 4), "week")


def line(who: str, *over: int) -> Line:
    return Line(who, [0] * 3, [0] * 3, {}, [0] * 3, list(over), sum(map(bool, over)))


def test_the_worst_comes_first() -> None:
    found = overloads([line("x", 0, 60, 0), line("y", 30, 0, 240)], SPAN)
    assert [(one.who, one.monday.day, one.minutes) for one in found] == [("y", 29, 240), ("x", 22, 60), ("y", 15, 30)]


@pytest.mark.parametrize(
    ("found", "said"),
    [
        ([], ""),
        ([Overload("x", date(2027, 3, 22), 660)], "**Callum is booked 11 h over** in the week of 22 Mar."),
        ([Overload("x", date(2027, 3, 15), 90), Overload("y", date(2027, 3, 15), 60)],
         "**Callum is booked 1.5 h over** this week; 1 more is over too."),
    ],
)  # fmt: skip
def test_it_is_said_in_a_sentence(found: list[Overload], said: str) -> None:
    assert say_overloads(found, {"x": "Callum"}, TODAY) == said


def test_one_is_told_of_the_first_week_oneself() -> None:
    found = [Overload("x", date(2027, 4, 5), 660), Overload("x", date(2027, 3, 15), 30)]
    assert say_own(found, TODAY) == "You are booked 0.5 h over this week, and over in one more week."
    assert say_own([], TODAY) == ""
