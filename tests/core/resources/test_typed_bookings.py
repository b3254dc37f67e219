"""Bookings as people type them."""

from __future__ import annotations

from contextlib import suppress
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rhodonite.core.common.errors import RuleError
from rhodonite.core.resources.typed_bookings import Named, read_bookings
from rhodonite.core.tasks.booked import say_booked
from rhodonite.core.tasks.model import Booking

KNOWN = [
    Named("t", "Tomas Brekke"),
    Named("y", "Yuki Hartmann"),
    Named("s", "Outside scaffolders", True),
    Named("o", "Tora Brand"),
]


def read(text: str, left: int = 0) -> list[tuple[str, int | None, float | None]]:
    return [(one.who.id, one.minutes, one.units) for one in read_bookings(text, KNOWN, 450, left)]


@pytest.mark.parametrize(
    ("text", "wanted"),
    [
        ("Tomas 10h, Yuki 5h", [("t", 600, None), ("y", 300, None)]),
        ("yuki hartmann 7,5 h; scaffolders 2 d", [("y", 450, None), ("s", 900, None)]),
        ("Brekke 1 d 2 h", [("t", 570, None)]),
        ("Yuki: 50 %", [("y", None, 50.0)]),
        ("Yuki 12", [("y", 720, None)]),
        ("Yuki 3h a day", [("y", None, 40.0)]),
        ("Yuki 3 h/day, Tomas half days", [("y", None, 40.0), ("t", None, 50.0)]),
        ("Yuki: 90 min per day", [("y", None, 20.0)]),
        ("Yuki 3 h daily", [("y", None, 40.0)]),
        ("Yuki 50 % of the day", [("y", None, 50.0)]),
        ("Yuki half a day", [("y", 225, None)]),
        ("Yuki a day", [("y", 450, None)]),
        ("Yuki 0:50", [("y", 50, None)]),
        ("Yuki 1½ h", [("y", 90, None)]),
        ("", []),
    ],
)
def test_names_and_amounts_are_understood(text: str, wanted: list[tuple[str, int | None, float | None]]) -> None:
    assert read(text) == wanted


def test_a_name_alone_takes_what_is_open() -> None:
    assert read("Tomas 18 h, Yuki", 1800) == [("t", 1080, None), ("y", 720, None)]
    with pytest.raises(RuleError, match="how many hours"):
        read("Yuki", 0)


@pytest.mark.parametrize(
    "text", ["To 3 h", "Callum 3 h", "10 h", "Yuki 3 h, Hartmann 2 h", "Yuki 3 bananas", "Yuki 0 %", "Yuki x %", "y" * 3000]
)
def test_what_cannot_be_understood_is_said(text: str) -> None:
    with pytest.raises(RuleError):
        read(text)


def test_it_says_what_was_understood() -> None:
    assert [one.said for one in read_bookings("tomas 90 min, yuki 50%", KNOWN, 450, 0)] == [
        "Tomas Brekke: 1.5 h", "Yuki Hartmann: 50 % of the day",
    ]  # fmt: skip


@given(st.text(max_size=60))
def test_any_text_is_read_or_refused_in_words(text: str) -> None:
    found = []
    with suppress(RuleError):
        found = read_bookings(text, KNOWN, 450, 60)
    assert len({one.who.id for one in found}) == len(found)


@pytest.mark.parametrize(
    ("text", "amount", "said"),
    [
        ("Glass panes 12", 12_000, "Glass panes: 12 pc"),
        ("glass 2,5 pc", 2_500, "Glass panes: 2.5 pc"),
        ("Permit 1,350.00", 1_350_000, "Permit: 1350.00"),
        ("Permit 350", 350_000, "Permit: 350.00"),
    ],
)
def test_amounts_are_read_as_they_are_shown(text: str, amount: int, said: str) -> None:
    known = [Named("g", "Glass panes", True, "material", "pc"), Named("p", "Permit", True, "fixed")]
    (one,) = read_bookings(text, known, 450, 0)
    assert (one.amount, one.minutes, one.said) == (amount, None, said)


def test_a_name_may_end_in_a_number() -> None:
    known = [
        Named("c", "Crane 2", True, "fixed"),
        Named("n", "Crane 21", True),
        Named("g", "Glass panes", True, "material", "pc"),
    ]

    def found(text: str) -> list[tuple[str, int | None, int]]:
        return [(one.who.id, one.minutes, one.amount) for one in read_bookings(text, known, 450, 0)]

    assert found("Crane 2") == [("c", None, 0)]
    assert found("crane 2 350") == [("c", None, 350_000)]
    assert found("Crane 21 4 h; Crane 2: 12.50") == [("n", 240, 0), ("c", None, 12_500)]
    assert found("Glass panes 12") == [("g", None, 12_000)]


def test_a_name_may_have_signs_in_it() -> None:
    known = [*KNOWN, Named("c", "Stone cutter, to be found", True), Named("x", "Stone cutter", True)]
    found = read_bookings("Stone cutter, to be found 16 h, Stone cutter 3 h; Tomas 2 h", known, 450, 0)
    assert [(one.who.id, one.minutes) for one in found] == [("c", 960), ("x", 180), ("t", 120)]


@pytest.mark.parametrize(
    ("text", "shape", "by_day", "minutes"),
    [
        ("Yuki 10 h most at first", "front", (), 600),
        ("Yuki 50 % most at last", "back", (), None),
        ("Yuki 2 × 5 h + 0 h + 75 min", "by_day", (300, 300, 0, 75), 675),
        ("Yuki 3h + 1h", "by_day", (180, 60), 240),
    ],
)
def test_how_hours_lie_may_be_typed(text: str, shape: str, by_day: tuple[int, ...], minutes: int | None) -> None:
    [one] = read_bookings(text, KNOWN, 450, 0)
    assert (one.shape, one.by_day, one.minutes) == (shape, by_day, minutes)


@given(
    st.sampled_from(["even", "front", "back"]),
    st.integers(1, 6_000),
    st.lists(st.integers(0, 1_440), max_size=12),
)
def test_what_is_written_exactly_is_read_back(shape: Any, minutes: int, by_day: list[int]) -> None:
    booking = Booking("t", sum(by_day), "by_day", tuple(by_day)) if by_day else Booking("t", minutes, shape)
    [one] = read_bookings(f"Tomas Brekke {say_booked(booking, exact=True)}", KNOWN, 450, 0)
    assert (one.minutes, one.shape, one.by_day) == (booking.minutes, booking.shape, booking.by_day)
