"""Answers that are kept with what they are made of: made once, and within bounds."""

from __future__ import annotations

import pytest

from rhodonite.services.common.answers import MOST, MOST_BYTES, Answers


def test_what_was_made_is_given_again_and_none_is_an_answer_too() -> None:
    answers, made = Answers(), []
    for _ in range(3):
        assert answers.once("nothing", lambda: made.append(1)) is None
    assert len(made) == 1


def test_an_answer_may_be_made_of_another() -> None:
    answers = Answers()
    assert answers.once("whole", lambda: answers.once("part", lambda: 2) * 3) == 6


def test_what_fails_is_made_anew() -> None:
    answers = Answers()
    with pytest.raises(ZeroDivisionError):
        answers.once("a", lambda: 1 // 0)
    assert answers.once("a", lambda: 5) == 5


@pytest.mark.parametrize(("ways", "size"), [(10 * MOST, 10), (20, MOST_BYTES // 3), (3, MOST_BYTES + 1)])
def test_however_many_ways_somebody_asks_the_memory_is_bounded(ways: int, size: int) -> None:
    answers = Answers()
    for n in range(ways):
        assert len(answers.once(n, lambda: bytes(size))) == size
        assert len(answers._made) <= MOST
        assert sum(map(len, answers._made.values())) == answers._bytes <= MOST_BYTES
