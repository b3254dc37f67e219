"""Places between siblings, and the tree."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rhodonite.core.common.errors import RuleError
from rhodonite.core.common.ordering import DIGITS, place_between, places_between
from rhodonite.core.tasks.outline import Line, Outline, move, nest, read_lines, step

from ..make import NOW, task


@given(st.lists(st.integers(0, 200), max_size=60))
def test_there_is_always_room_between(choices: list[int]) -> None:
    row: list[str] = []
    for choice in choices:
        index = choice % (len(row) + 1)
        low = row[index - 1] if index else None
        high = row[index] if index < len(row) else None
        row.insert(index, place_between(low, high))
        assert row == sorted(set(row))
        assert not any(key.endswith(DIGITS[0]) for key in row)


@given(st.integers(0, 300), st.booleans(), st.booleans())
def test_many_places_come_in_order(count: int, open_low: bool, open_high: bool) -> None:
    low, high = None if open_low else "A001", None if open_high else "A002"
    keys = places_between(low, high, count)
    assert len(keys) == count
    assert keys == sorted(set(keys))
    assert all((low is None or low < key) and (high is None or key < high) for key in keys)


def test_ten_thousand_appended_keys_stay_short() -> None:
    assert max(map(len, places_between(None, None, 10_000))) <= 4


def test_keys_out_of_order_are_refused() -> None:
    with pytest.raises(ValueError, match="no place"):
        place_between("B", "A")


def tree() -> Outline:
    """a(b(c), d), e"""
    tasks = [task("a"), task("b", "a"), task("c", "b"), task("d", "a"), task("e")]
    return Outline({t.id: t for t in tasks})


def apply(outline: Outline, placings: list) -> Outline:
    tasks = dict(outline.tasks)
    for placing in placings:
        tasks[placing.task_id] = tasks[placing.task_id].with_fields({"parent_id": placing.parent_id, "place": placing.place})
    return Outline(tasks)


def shape(outline: Outline) -> str:
    return " ".join(f"{number}{task_id}" for task_id, _, number in outline.walk())


def test_the_walk_gives_numbers_and_depths() -> None:
    assert shape(tree()) == "1a 1.1b 1.1.1c 1.2d 2e"
    assert [depth for _, depth, _ in tree().walk()] == [0, 1, 2, 1, 0]
    assert tree().number_of("c") == "1.1.1"
    assert tree().below("a") == ["b", "c", "d"]
    assert tree().ancestors("c") == ["b", "a"]


def test_tasks_in_the_bin_are_left_out() -> None:
    tasks = dict(tree().tasks)
    tasks["d"] = tasks["d"].with_fields({"deleted_at": NOW})
    assert shape(Outline(tasks)) == "1a 1.1b 1.1.1c 2e"


def test_moving_takes_along_what_stands_under() -> None:
    assert shape(apply(tree(), move(tree(), ["b"], None, "e"))) == "1a 1.1d 2e 3b 3.1c"
    assert shape(apply(tree(), move(tree(), ["e"], "a", None))) == "1a 1.1e 1.2b 1.2.1c 1.3d"
    assert shape(apply(tree(), move(tree(), ["b", "c", "d"], None, None))) == "1b 1.1c 2d 3a 4e"


def test_moving_behind_a_task_that_moves_too() -> None:
    assert shape(apply(tree(), move(tree(), ["b", "d"], "a", "b"))) == "1a 1.1b 1.1.1c 1.2d 2e"


def test_a_task_cannot_stand_under_itself() -> None:
    with pytest.raises(RuleError, match="under itself"):
        move(tree(), ["a"], "c", "end")


@pytest.mark.parametrize(
    ("ids", "how", "expected"),
    [
        (["e"], "indent", "1a 1.1b 1.1.1c 1.2d 1.3e"),
        (["d"], "indent", "1a 1.1b 1.1.1c 1.1.2d 2e"),
        (["a"], "indent", "1a 1.1b 1.1.1c 1.2d 2e"),
        (["b"], "outdent", "1a 1.1d 2b 2.1c 3e"),
        (["e"], "outdent", "1a 1.1b 1.1.1c 1.2d 2e"),
        (["d"], "up", "1a 1.1d 1.2b 1.2.1c 2e"),
        (["a"], "down", "1e 2a 2.1b 2.1.1c 2.2d"),
        (["e"], "down", "1a 1.1b 1.1.1c 1.2d 2e"),
        (["b", "d"], "outdent", "1a 2b 2.1c 3d 4e"),
    ],
)
def test_steps(ids: list[str], how: str, expected: str) -> None:
    assert shape(apply(tree(), step(tree(), ids, how))) == expected  # type: ignore[arg-type]


def test_pasted_lines_become_titles_and_depths() -> None:
    text = "Glazing\n\tMeasure bars\n\t\t- Count them\n\n  * Order panes\n1. Lens\n2.1 Motor\nBudget 2.5 rise"
    assert read_lines(text) == [
        Line("Glazing", 0), Line("Measure bars", 1), Line("Count them", 2), Line("Order panes", 1), Line("Lens", 0),
        Line("Motor", 0), Line("Budget 2.5 rise", 0),
    ]  # fmt: skip


def test_nesting_follows_depth() -> None:
    assert nest(read_lines("a\n b\n  c\n d\ne")) == [None, 0, 1, 0, None]


@given(st.text(alphabet="ab \t\n-1.", max_size=80))
def test_any_text_can_be_pasted(text: str) -> None:
    lines = read_lines(text)
    assert all(line.title.strip() for line in lines)
    assert all(parent is None or parent < index for index, parent in enumerate(nest(lines)))
