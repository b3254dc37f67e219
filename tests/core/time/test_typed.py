"""Hours as they are typed."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rhodonite.core.common.errors import RuleError
from rhodonite.core.time.typed import read_hours


@pytest.mark.parametrize(
    ("text", "minutes", "started"),
    [
        ("2", 120, None),
        ("1:30", 90, None),
        ("0:05", 5, None),
        ("1,5", 90, None),
        ("1.25 h", 75, None),
        ("45 min", 45, None),
        ("2h 30m", 150, None),
        ("half a day", 240, None),
        ("9:15-11", 105, 555),
        ("9-17:30", 510, 540),
        ("from 9 to 10.30", 90, 540),
        ("22:00 – 02:00", 240, 22 * 60),
        ("13 until 24", 660, 780),
        (" 8 - 8 ", 1440, 480),
    ],
)
def test_hours_are_read(text: str, minutes: int, started: int | None) -> None:
    assert read_hours(text) == (minutes, started)


@pytest.mark.parametrize("text", ["", "soon", "0", "25", "9-25", "9:75-10", "1:75", "-2", "x" * 600, "9:15-"])
def test_what_is_no_time_is_refused_with_examples(text: str) -> None:
    with pytest.raises(RuleError) as refused:
        read_hours(text)
    assert refused.value.field in {"minutes", "duration"}


@given(st.integers(1, 24 * 60 - 1))
def test_hours_and_minutes_come_back_as_typed(minutes: int) -> None:
    assert read_hours(f"{minutes // 60}:{minutes % 60:02}") == (minutes, None)
