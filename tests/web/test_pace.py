"""When a page asks for what has changed."""

from __future__ import annotations

from typing import Any

import pytest

from .conftest import Modules

PACE = "/src/shell/pace.ts"

#: Lets changes come at their moments on a clock of the test's own, and gives the moments at which the page asked.
RUN = """(() => {
    let time = 0, due = null;
    const asked = [], random = Math.random;
    Math.random = () => share;
    const set = globalThis.setTimeout;
    const clear = globalThis.clearTimeout;
    globalThis.setTimeout = (work, wait) => { due = { at: time + wait, work }; return 1; };
    globalThis.clearTimeout = () => { due = null; };
    const pace = module.makePace(() => asked.push(Math.round(time)), () => time);
    const until = (moment) => { while (due && due.at <= moment) { const one = due; due = null; time = one.at; one.work(); } time = moment; };
    for (const [at, changes] of heard) { until(at); pace.hear(changes); }
    until(1e6);
    globalThis.setTimeout = set; globalThis.clearTimeout = clear; Math.random = random;
    return asked;
})()"""


def asked(modules: Modules, heard: list[list[int]], share: float = 0.0) -> list[int]:
    answer: Any = modules(PACE, RUN, heard=heard, share=share)
    return answer  # type: ignore[no-any-return]


def test_one_change_after_quiet_is_asked_for_at_once(modules: Modules) -> None:
    assert asked(modules, [[1000, 1]]) == [1000]
    assert asked(modules, [[1000, 1], [9000, 1]]) == [1000, 9000]


@pytest.mark.parametrize("share", [0.0, 0.5, 0.99])
def test_twenty_changes_in_four_seconds_take_six_questions_and_a_second_after_the_last(modules: Modules, share: float) -> None:
    moments = asked(modules, [[200 * n, 1] for n in range(20)], share)
    assert len(moments) <= 6
    assert 3800 <= moments[-1] <= 4900


@pytest.mark.parametrize("share", [0.0, 0.99])
def test_the_last_of_twenty_quick_changes_is_asked_for_soon_after_it(modules: Modules, share: float) -> None:
    """Changes of one second are not waited for as long as if they went on."""
    moments = asked(modules, [[n * 250, 5] for n in range(4)], share)
    assert moments[-1] - 750 <= 600
    assert len(moments) == 2


def test_the_faster_changes_come_the_longer_it_waits(modules: Modules) -> None:
    slow = asked(modules, [[250 * n, 1] for n in range(80)])
    fast = asked(modules, [[250 * n, 5] for n in range(80)])
    assert len(fast) < len(slow) / 2
    assert fast[-1] >= 250 * 79


def test_pages_that_hear_the_same_spread_out(modules: Modules) -> None:
    moments = {asked(modules, [[0, 1]], share)[0] for share in (0.0, 0.3, 0.6, 0.9)}
    assert len(moments) == 4
    assert max(moments) <= 150
