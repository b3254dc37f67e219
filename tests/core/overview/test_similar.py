"""Similar finished work: by words and fields."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from rhodonite.core.overview.similar import DoneWork, Similar, offered_estimate, range_of, similar_work, stem, words_of


def done(title: str, took: int | None = None, kind: str = "task", **own: object) -> DoneWork:
    return DoneWork(title, "p", len(title), title, kind, took, None, own)


WORK = [
    done("Cast twelve bars", 900),
    done("Casting of bronze bars"),
    done("Paint the rail"),
    done("Order glass panes"),
    done("Cast a bell"),
]


def test_words_are_compared_by_their_stems() -> None:
    assert words_of("Casting the replacement bars") == ["cast", "replacement", "bar"]
    assert [stem(one) for one in ("panes", "pane", "ladies", "ring", "sand")] == ["pan", "pane", "lady", "ring", "sand"]


def test_the_likest_stands_first_and_what_shares_nothing_is_left_out() -> None:
    assert [one.work.title for one in similar_work("Cast bars", "task", {}, WORK)][:2] == [
        "Cast twelve bars",
        "Casting of bronze bars",
    ]
    assert "Paint the rail" not in {one.work.title for one in similar_work("Cast bars", "task", {}, WORK)}
    assert similar_work("Of the", "task", {}, WORK) == []


def test_a_rare_word_weighs_more_than_a_common_one() -> None:
    found = similar_work("Cast bell", "task", {}, WORK)
    assert found[0].work.title == "Cast a bell"


def test_the_same_field_decides_between_equals() -> None:
    pair = [done("Cast bars now", metal="iron"), done("Cast bars then", metal="bronze")]
    assert similar_work("Cast bars", "task", {"metal": "bronze"}, pair)[0].work.title == "Cast bars then"


@given(st.lists(st.text("abc ", max_size=12), max_size=8), st.text("abc ", max_size=12))
def test_alikeness_lies_between_nothing_and_one(titles: list[str], title: str) -> None:
    found = similar_work(title, "task", {}, [done(one) for one in titles])
    assert all(0 <= one.alike <= 1 for one in found)
    assert [one.alike for one in found] == sorted((one.alike for one in found), reverse=True)


@given(st.lists(st.one_of(st.none(), st.integers(1, 10_000))))
def test_the_middle_lies_between_the_least_and_the_most(amounts: list[int | None]) -> None:
    found = range_of(amounts)
    known = [one for one in amounts if one]
    assert (found is None) == (not known)
    if found:
        assert found.least == min(known) <= found.middle <= found.most == max(known)


def spent(*amounts: int | None) -> list[Similar]:
    return [Similar(DoneWork(str(n), "p", n, "Cast", "task", None, 600, {}, one), 1.0) for n, one in enumerate(amounts)]


def test_the_estimate_that_is_offered_is_the_median_of_what_was_spent_else_planned() -> None:
    assert offered_estimate(spent(300, 500, 900)) == 510  # whole half hours
    assert offered_estimate(spent(None, 100, None)) == 90
    assert offered_estimate(spent(None, None)) == 600
    assert offered_estimate([]) is None
