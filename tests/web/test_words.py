"""The sentence in the address, conditions, and what is said of dates and durations."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rhodonite.core.common.durations import say_duration

from .conftest import Modules

CONDITIONS = "/src/views/conditions.ts"
SCOPE = "/src/views/scope.ts"
SAY = "/src/parts/format.ts"
TEXT = st.text(st.characters(exclude_categories=["Cs"]), max_size=12)


def test_clauses_that_are_not_finished_are_not_asked(modules: Modules) -> None:
    group = {
        "all": [
            ["title", "contains", ""],
            ["late", "yes"],
            {"any": [["owner", "any", []], ["owner", "any", ["p1"]]]},
            {"any": []},
        ]
    }
    asked = modules(CONDITIONS, "module.asked(group)", group=group)
    assert asked == {"all": [["late", "yes"], {"any": [["owner", "any", ["p1"]]]}]}


@pytest.mark.parametrize("text", ["", "{", "nonsense"])
def test_an_address_that_cannot_be_read_asks_for_nothing(modules: Modules, text: str) -> None:
    assert modules(CONDITIONS, "module.readWhere(text)", text=text) == {"all": []}
    assert modules(CONDITIONS, "module.writeWhere(module.readWhere(text))", text=text) == ""


@pytest.mark.parametrize(("kind", "clause"), [("text", ["k", "contains", ""]), ("yes_no", ["k", "yes"])])
def test_a_first_clause_is_the_one_that_the_server_begins_with(modules: Modules, kind: str, clause: list[Any]) -> None:
    catalogue = {"first": {"text": ["contains", ""], "yes_no": ["yes"]}}
    assert modules(CONDITIONS, "module.firstClause({key: 'k', type: kind}, catalogue)", kind=kind, catalogue=catalogue) == clause


@pytest.mark.parametrize(
    ("clause", "can"),
    [
        (["late", "yes"], True), (["title", "contains", "sand"], True), (["effort", "least", 0], True), (["owner", "any", ["p"]], True),
        (["title", "contains", ""], False), (["owner", "any", []], False), (["finish", "before", None], False),
    ],
)  # fmt: skip
def test_a_clause_without_its_value_cannot_be_asked_yet(modules: Modules, clause: list[Any], can: bool) -> None:
    assert modules(CONDITIONS, "module.whole(clause)", clause=clause) is can


SCOPES = st.fixed_dictionaries(
    {
        **{name: st.lists(TEXT.filter(bool), max_size=3) for name in ("kind", "owner", "state", "state_class")},
        **dict.fromkeys(("text", "where"), TEXT),
        **{name: st.none() | TEXT.filter(bool) for name in ("since", "until")},
        **{name: st.booleans() for name in ("late", "unowned", "held")},
    }
)


@settings(max_examples=50, deadline=None)
@given(SCOPES)
def test_a_sentence_in_the_address_is_read_again(modules: Modules, scope: dict[str, Any]) -> None:
    code = "module.readScope(new URLSearchParams(module.writeScope(new URLSearchParams('view=x'), scope).toString()))"
    assert modules(SCOPE, code, scope=scope) == scope


def test_what_is_kept_with_the_lens_is_sentence_view_and_draft(modules: Modules) -> None:
    code = "module.keptParams(new URLSearchParams('owner=p1&open=first&draft=d&view=%7B%7D&late=1'))"
    assert modules(SCOPE, code) == "?owner=p1&late=1&draft=d&view=%7B%7D"


@settings(max_examples=60, deadline=None)
@given(st.integers(1, 20_000), st.sampled_from([240, 450, 480, 1440]))
def test_page_and_server_say_durations_alike(modules: Modules, minutes: int, day: int) -> None:
    assert modules(SAY, "module.sayDuration(minutes, day)", minutes=minutes, day=day) == say_duration(minutes, day)


def test_counts_and_hours(modules: Modules) -> None:
    code = "[module.count(1, 'task'), module.count(3000, 'task'), module.count(2, 'entry', 'entries'), module.sayHours(90), module.times(2)]"
    assert modules(SAY, code) == ["1 task", "3,000 tasks", "2 entries", "1.5 h", "twice"]


@pytest.mark.parametrize(("at", "said"), [("2027-03-08T09:00:00", "8 Mar"), ("2028-03-08T09:00:00", "8 Mar 2028"), (None, "")])
def test_a_day_of_another_year_names_it(modules: Modules, at: str | None, said: str) -> None:
    assert modules(SAY, "module.sayDay(at, new Date('2027-03-17T09:42'))", at=at) == said
