"""Links as people write them."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rhodonite.core.common.errors import RuleError
from rhodonite.core.tasks.model import LINK_TYPES, Link
from rhodonite.core.tasks.typed_links import TaskNames, read_links, say_link, write_links

from ..make import DAY, task

TASKS = {
    one.id: one
    for one in (
        task("a", number=1, title="Order curved panes"),
        task("b", number=12, title="Cast bars"),
        task("c", number=15, title="Fit bars, dry run"),
        task("d", number=16, title="Cast bars again"),
        task("e", number=20, title="Seal"),
        task("f", number=21, title="Seal"),
    )
}


def read(text: str) -> tuple[Link, ...]:
    return read_links(text, TASKS["a"], TaskNames(TASKS.values(), "LAN"), DAY)


@pytest.mark.parametrize(
    ("text", "links"),
    [
        ("", ()),
        ("12", (Link("b"),)),
        ("LAN 12", (Link("b"),)),
        ("#12", (Link("b"),)),
        ("12 + 2 days", (Link("b", "FS", 2 * DAY),)),
        ("12+2d", (Link("b", "FS", 2 * DAY),)),
        ("LAN 12-4h", (Link("b", "FS", -240),)),
        ("start with 12+1d elapsed", (Link("b", "SS", 1440, True),)),
        ("cast bars again", (Link("d"),)),
        ("start with 12", (Link("b", "SS"),)),
        ("finish with 15 - 4 h", (Link("c", "FF", -240),)),
        ("finish once 15 starts + 1 d", (Link("c", "SF", DAY),)),
        ("12, start with 15 + half a day", (Link("b"), Link("c", "SS", DAY // 2))),
        ("12 + 3 d elapsed", (Link("b", "FS", 3 * 1440, True),)),
        ("after cast bars", (Link("b"),)),
        ("Fit bars, dry run + 1 h, 12", (Link("c", "FS", 60), Link("b"))),
        ("fit", (Link("c"),)),
        ("12, 12 + 1 d", (Link("b", "FS", DAY),)),
    ],
)
def test_what_is_understood(text: str, links: tuple[Link, ...]) -> None:
    assert read(text) == links


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("99", "There is no task LAN 99"),
        ("1", "cannot wait for itself"),
        ("Paint", "No task is called “Paint”"),
        ("seal", "2 tasks are called “seal”: write the number of one (20, 21)"),
        ("12 + 2 moons", "“2 moons” is no lag. Write it as 12 + 2 d"),
        ("12 + soon", "“soon” is no lag"),
        ("finish with 12+soon", "“soon” is no lag"),
        ("12-15", "“15” is no lag"),
    ],
)
def test_what_is_not_understood_says_what_to_do(text: str, words: str) -> None:
    with pytest.raises(RuleError) as caught:
        read(text)
    assert words in caught.value.sentence


LINKS = st.builds(Link, st.sampled_from("bcde"), st.sampled_from(LINK_TYPES), st.sampled_from([0, 60, -90, DAY, -3 * DAY]))


@given(st.lists(LINKS, max_size=4, unique_by=lambda link: (link.from_id, link.type)))
def test_what_is_written_is_read_back(links: list[Link]) -> None:
    assert read(write_links(links, TASKS, DAY)) == tuple(links)


def test_links_in_words() -> None:
    assert say_link(Link("a", "FS", DAY), "Order panes", DAY) == "waits for Order panes to finish, plus 1 d"
    assert say_link(Link("a", "SS", -120), "Order panes", DAY) == "starts when Order panes starts, less 2 h"
