"""Where the keys of the grid lead that outline, schedule and lists share."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from .conftest import Modules

KEYS = "/src/parts/grid/keys.ts"
EXTENT = {"rows": 10, "cells": 4, "page": 3}
PLAIN = {"ctrlKey": False, "metaKey": False, "altKey": False, "shiftKey": False}


def after(modules: Modules, key: str, row: int, cell: int, extent: Any = None, **held: bool) -> list[int] | None:
    spot = modules(
        KEYS, "module.spotAfter(pressed, spot, extent)",
        pressed={"key": key, **PLAIN, **held}, spot={"row": row, "cell": cell}, extent=extent or EXTENT,
    )  # fmt: skip
    return spot and [spot["row"], spot["cell"]]


@pytest.mark.parametrize(
    ("key", "held", "leads"),
    [
        ("ArrowDown", {}, [5, 1]),
        ("ArrowUp", {}, [3, 1]),
        ("ArrowRight", {}, [4, 2]),
        ("ArrowLeft", {}, [4, 0]),
        ("PageDown", {}, [7, 1]),
        ("PageUp", {}, [1, 1]),
        ("Home", {}, [4, 0]),
        ("End", {}, [4, 3]),
        ("Home", {"ctrlKey": True}, [0, 1]),
        ("End", {"metaKey": True}, [9, 1]),
        ("Tab", {}, [4, 2]),
        ("Tab", {"shiftKey": True}, [4, 0]),
        ("ArrowDown", {"shiftKey": True}, [5, 1]),
        ("ArrowDown", {"altKey": True}, None),
        ("a", {}, None),
        ("Enter", {}, None),
    ],
)
def test_a_key_leads_to_a_spot(modules: Modules, key: str, held: dict[str, bool], leads: list[int] | None) -> None:
    assert after(modules, key, 4, 1, **held) == leads


def test_tab_leaves_the_grid_at_either_end_of_a_row(modules: Modules) -> None:
    assert after(modules, "Tab", 4, 3) is None
    assert after(modules, "Tab", 4, 0, shiftKey=True) is None


@settings(max_examples=60, deadline=None)
@given(st.data())
def test_no_key_leads_out_of_the_grid(modules: Modules, data: st.DataObject) -> None:
    extent = {name: data.draw(st.integers(1, 30), name) for name in ("rows", "cells", "page")}
    row, cell = data.draw(st.integers(0, extent["rows"] - 1)), data.draw(st.integers(0, extent["cells"] - 1))
    key = data.draw(
        st.sampled_from(["ArrowDown", "ArrowUp", "ArrowLeft", "ArrowRight", "PageDown", "PageUp", "Home", "End", "Tab"])
    )
    held = {name: data.draw(st.booleans(), name) for name in ("ctrlKey", "shiftKey")}
    there = after(modules, key, row, cell, extent, **held)
    if there is not None:
        assert 0 <= there[0] < extent["rows"]
        assert 0 <= there[1] < extent["cells"]


@pytest.mark.parametrize(
    ("start", "end", "chosen"),
    [("b", "d", "bcd"), ("d", "b", "bcd"), ("c", "c", "c"), ("gone", "d", "d"), ("b", "gone", ["gone"])],
)
def test_rows_between_two_are_chosen_whichever_stands_first(modules: Modules, start: str, end: str, chosen: str) -> None:
    assert modules(KEYS, "[...module.between(ids, from, to)]", ids=list("abcde"), **{"from": start, "to": end}) == list(chosen)


@pytest.mark.parametrize(
    ("key", "held", "writes"), [("x", {}, True), (" ", {}, True), ("x", {"ctrlKey": True}, False), ("F2", {}, False)]
)
def test_only_a_character_begins_to_write(modules: Modules, key: str, held: dict[str, bool], writes: bool) -> None:
    assert modules(KEYS, "module.writes(pressed)", pressed={"key": key, **PLAIN, **held}) is writes
