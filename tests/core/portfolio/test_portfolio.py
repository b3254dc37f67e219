"""Portfolios: what is shown of a part, in which column, and what holds it up at the bottom of the tree."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rhodonite.core.common.errors import RuleError
from rhodonite.core.portfolio.blocking import forecasts, what_holds_up
from rhodonite.core.portfolio.parts import (
    LARGER_ITEMS,
    Part,
    check_no_circle,
    check_part,
    chosen,
    column_of,
    health_of_tied,
    reaches,
)
from rhodonite.core.schedule.plan import Plan
from rhodonite.core.tasks.model import Health, Link, State
from tests.core.make import PROJECT, STATES, at, days, plan, task

NODES = "pqrstu"


@given(st.lists(st.tuples(st.sampled_from(NODES), st.sampled_from(NODES)), max_size=30))
def test_no_portfolio_contains_itself_whatever_is_joined(wishes: list[tuple[str, str]]) -> None:
    joins: dict[str, set[str]] = {}
    for portfolio, joined in wishes:
        try:
            check_no_circle(joins, portfolio, replace(PROJECT, id=joined))
        except RuleError:
            assert portfolio == joined or portfolio in reaches(joins, joined)
            continue
        joins.setdefault(portfolio, set()).add(joined)
    assert all(one not in reaches(joins, one) for one in NODES)


def mill() -> Plan:
    """Two deliverables, one below the other's, and loose work."""
    return plan(
        task("roof", kind="deliverable", title="Roof"),
        task("r1", "roof", title="Rafters", **days("3-15", 2), state_id="doing", actual_start=at("3-15")),
        task("r2", "roof", title="Slates", **days("3-22", 5), waits_for=(Link("r1"),)),
        task("hall", title="Hall"),
        task("floor", "hall", kind="deliverable", title="Floor"),
        task("f1", "floor", title="Boards", **days("3-22", 1), held_reason="no oak"),
        task("f2", "floor", title="Wax", **days("4-12", 1)),
        task("loose", title="Loose"),
    )


@pytest.mark.parametrize(
    ("shows", "titles"),
    [
        ("deliverables", ["Floor", "Roof"]),
        ("kind:task", ["Hall", "Loose", "Rafters", "Slates"]),
        ("level:1", ["Hall", "Loose", "Roof"]),
        ("level:2", ["Floor", "Loose", "Rafters", "Slates"]),
    ],
)
def test_what_is_shown_of_a_part(shows: str, titles: list[str]) -> None:
    assert [row.task.title for row in chosen(mill(), shows)] == titles


def test_what_holds_an_item_up_is_at_the_beginning_of_the_chain_at_the_bottom_of_the_tree() -> None:
    made = mill()
    found = what_holds_up(made, "roof", forecasts(made))
    assert found is not None
    # the slates decide the finish of the roof, and they wait for the rafters, which have begun and are late
    assert (found.row.task.title, found.path, found.why) == ("Rafters", (), "1 d late")
    floor = what_holds_up(made, "floor", forecasts(made))
    assert floor is not None
    assert (floor.row.task.title, floor.why) == ("Boards", "held: no oak")  # held goes before what is only later
    hall = what_holds_up(made, "hall", forecasts(made))
    assert hall is not None
    assert hall.path == ("Floor",)


def test_what_is_finished_is_held_up_by_nothing_and_a_holder_is_followed() -> None:
    made = plan(
        task("a", title="A", state_id="done", percent=100, actual_finish=at("3-16")),
        task("b", title="B", held_by_id="c", held_since=at("3-16")),
        task("c", title="C", **days("3-29", 1)),
    )
    assert what_holds_up(made, "a", forecasts(made)) is None
    assert what_holds_up(made, "gone", {}) is None
    found = what_holds_up(made, "b", forecasts(made))
    assert found is not None
    assert (found.row.task.title, found.why) == ("C", "expected 29 Mar")


def test_larger_items_come_in_outline_order() -> None:
    made = plan(task("b", place="b"), task("a", place="a"), task("c", "a", place="a"), task("d", "a", place="b"))
    assert [row.task.id for row in chosen(made, LARGER_ITEMS)] == ["c", "d", "b"]


def test_a_row_stands_in_the_column_of_its_class_or_that_to_which_its_state_is_mapped() -> None:
    columns = [State("idea", "Idea", "queued", "a"), State("making", "Making", "active", "b"), State("shown", "Shown", "active", "c"),
               State("there", "There", "finished", "d")]  # fmt: skip
    rows = plan(
        task("a"), task("b", state_id="review"), task("c", state_id="dropped"), task("s"), task("t", "s", state_id="review")
    ).rows
    part = Part("x", "p", "q", "a", states={"review": "shown"})
    assert [column_of(rows[one], part, columns) for one in "abc"] == ["idea", "shown", None]
    assert column_of(rows["s"], part, columns) == "making"  # a summary task is in no state of its own
    assert column_of(rows["b"], replace(part, states={"review": "gone"}), columns) == "making"
    assert column_of(rows["a"], None, STATES) == "ready"
    assert column_of(rows["a"], None, columns) == "idea"  # of another workflow: by its class


@pytest.mark.parametrize("shows", ["all", "kind:nothing", "level:0", "level:x", "level:10", ""])
def test_what_cannot_be_shown_is_refused(shows: str) -> None:
    with pytest.raises(RuleError):
        check_part(Part("x", "p", "q", "a", shows), PROJECT, PROJECT)


def test_states_that_are_gone_are_refused() -> None:
    check_part(Part("x", "p", "q", "a", "level:2", {"ready": "doing"}), PROJECT, PROJECT)
    for states in ({"gone": "doing"}, {"ready": "gone"}):
        with pytest.raises(RuleError, match="no longer in its workflow"):
            check_part(Part("x", "p", "q", "a", states=states), PROJECT, PROJECT)


@pytest.mark.parametrize(
    ("own", "past", "tied", "judged"),
    [
        ("steady", 5, ["slipping"], "steady"),  # it has dates of its own
        ("not_judged", None, [], "not_judged"),
        ("not_judged", None, ["not_judged"], "not_judged"),
        ("not_judged", None, ["steady", "not_judged"], "steady"),
        ("not_judged", -3, ["steady", "strained"], "strained"),
        ("not_judged", 0, ["slipping"], "strained"),
        ("not_judged", 1, ["steady"], "slipping"),
    ],
)
def test_an_item_without_dates_is_judged_by_what_it_is_tied_to(
    own: Health, past: int | None, tied: list[Health], judged: Health
) -> None:
    assert health_of_tied(own, past, tied) == judged
