"""Moving only what was touched: nothing else moves, by as few constraints as that takes, and all of it is said before."""

from __future__ import annotations

from datetime import date
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rhodonite.core.schedule.isolate import Isolated, isolate, pins_for, say_isolated, waiting
from rhodonite.core.schedule.plan import Plan
from rhodonite.core.schedule.planning import schedule_of
from rhodonite.core.schedule.ripple import moves_between
from rhodonite.core.tasks.model import Link, Task

from ..make import DAY, OFFICE, PROJECT, at, days, plan, task
from .test_replan import settled

TODAY = date(2027, 3, 17)


def after(was: Plan, *edits: tuple[str, dict[str, Any]]) -> dict[str, Task]:
    """What a change touches, as it is then."""
    return {one: was.tasks[one].with_fields(fields) for one, fields in edits}


def alone(was: Plan, changed: dict[str, Task]) -> Isolated:
    schedule = schedule_of(PROJECT, OFFICE, {**was.tasks, **changed})
    held = waiting(was.tasks, changed, schedule, OFFICE)
    return isolate(was.schedule, was.tasks, changed, held, PROJECT, OFFICE)


def moved(was: Plan, changed: dict[str, Task], found: Isolated) -> set[str]:
    """The tasks that move once a change and all that it needs are made, beside those that it touched."""
    tasks = {**was.tasks, **changed}
    tasks |= {one: tasks[one].with_fields(fields) for one, fields in found.edits.items()}
    moves = moves_between(was.schedule, schedule_of(PROJECT, OFFICE, tasks), OFFICE)
    return {one.task for one in moves} - changed.keys()


def chain() -> Plan:
    """Dig for three days from Wednesday, then Pour for two, then Cure for one."""
    return settled(
        plan(
            task("dig", title="Dig", **days("3-17", 3)),
            task("pour", title="Pour", duration=2 * DAY, waits_for=(Link("dig"),)),
            task("cure", title="Cure", duration=DAY, waits_for=(Link("pour"),)),
        ),
        {},
    )


def test_a_task_that_gets_longer_no_longer_pushes_the_one_after_it() -> None:
    was = chain()
    changed = after(was, ("dig", {"duration": 5 * DAY}))
    found = alone(was, changed)
    # without its link Pour would begin with the project; Cure follows Pour, which stays, and needs nothing
    kept = {"waits_for": (), "constraint_type": "start_no_earlier", "constraint_at": at("3-22 09:00")}
    assert found.edits == {"pour": kept}
    assert found.still == []
    assert moved(was, changed, found) == set()
    assert say_isolated(found, was.tasks, TODAY) == ["“Pour” no longer waits for “Dig”", "“Pour” starts no earlier than 22 Mar"]


def test_a_task_that_gets_shorter_draws_nothing_forward() -> None:
    was = chain()
    changed = after(was, ("dig", {"duration": DAY}))
    found = alone(was, changed)
    assert found.edits == {"pour": {"constraint_type": "start_no_earlier", "constraint_at": at("3-22 09:00")}}
    assert moved(was, changed, found) == set()
    assert say_isolated(found, was.tasks, TODAY) == ["“Pour” starts no earlier than 22 Mar"]


def test_a_task_put_before_what_it_waits_for_is_pinned_there() -> None:
    was = chain()
    changed = after(was, ("pour", {"constraint_type": "start_no_earlier", "constraint_at": at("3-18 09:00")}))
    schedule = schedule_of(PROJECT, OFFICE, {**was.tasks, **changed})
    held = waiting(was.tasks, changed, schedule, OFFICE)
    assert [(one.task, one.wanted, one.start, one.waits_for) for one in held] == [
        ("pour", at("3-18 09:00"), at("3-22 09:00"), "Dig"),
    ]
    assert pins_for(held) == {"pour": {"constraint_type": "must_start", "constraint_at": at("3-18 09:00")}}
    found = alone(was, changed)
    assert found.edits["pour"] == {"constraint_type": "must_start", "constraint_at": at("3-18 09:00")}
    assert moved(was, changed, found) == set()


def test_a_start_that_was_set_before_and_one_that_can_be_kept_wait_for_nothing() -> None:
    was = chain()
    for fields in ({"title": "Dig deeper"}, {"constraint_at": at("3-24 09:00")}):
        changed = after(was, ("dig", fields))
        assert waiting(was.tasks, changed, schedule_of(PROJECT, OFFICE, {**was.tasks, **changed}), OFFICE) == []


def test_what_pushes_twice_loses_one_link_at_a_time() -> None:
    was = settled(
        plan(
            task("dig", **days("3-17", 3)),
            task("form", **days("3-17", 2)),
            task("pour", duration=DAY, waits_for=(Link("dig"), Link("form"))),
        ),
        {},
    )
    changed = after(was, ("dig", {"duration": 6 * DAY}))
    found = alone(was, changed)
    # what is left of its links would let it begin a day sooner: it is kept from that too
    assert found.edits["pour"]["waits_for"] == (Link("form"),)
    assert found.edits["pour"]["constraint_at"] == at("3-22 09:00")
    assert moved(was, changed, found) == set()


def test_tasks_under_a_summary_task_that_is_pushed_stay() -> None:
    was = settled(
        plan(
            task("dig", **days("3-17", 3)),
            task("house", title="House", waits_for=(Link("dig"),)),
            task("wall", "house", duration=DAY),
            task("roof", "house", duration=DAY, waits_for=(Link("wall"),)),
        ),
        {},
    )
    changed = after(was, ("dig", {"duration": 5 * DAY}))
    found = alone(was, changed)
    assert moved(was, changed, found) == set()
    assert found.edits["house"] == {"waits_for": ()}


def test_what_replaces_a_constraint_is_said() -> None:
    held = task("a", title="Pour", constraint_type="start_no_later", constraint_at=at("3-19"), waits_for=(Link("dig"),))
    found = Isolated({"a": {"constraint_type": "must_start", "constraint_at": at("3-18")}}, ["b"])
    said = say_isolated(found, {"a": held, "b": task("b", title="Cure")}, TODAY)
    assert said == ["“Pour” is pinned to 18 Mar, instead of start no later than 19 Mar", "“Cure” moves all the same"]


@settings(max_examples=60, deadline=None)
@given(
    st.lists(st.tuples(st.integers(1, 4), st.lists(st.integers(0, 6), max_size=2)), min_size=3, max_size=7),
    st.integers(0, 6),
    st.integers(1, 8),
)
def test_nothing_else_moves_or_it_is_said(steps: list[tuple[int, list[int]]], touched: int, length: int) -> None:
    tasks = []
    for index, (lasting, waits) in enumerate(steps):
        links = tuple(Link(f"t{one}") for one in sorted(set(waits)) if one < index)
        held = {} if links else days("3-17", lasting)
        tasks.append(task(f"t{index}", **{**held, "duration": lasting * DAY, "waits_for": links}))
    was = settled(plan(*tasks), {})
    changed = after(was, (f"t{touched % len(steps)}", {"duration": length * DAY}))
    found = alone(was, changed)
    assert moved(was, changed, found) == set(found.still)
    assert found.still == []


@pytest.mark.parametrize("length", [2, 5])
def test_no_constraint_is_left_that_is_not_needed(length: int) -> None:
    """Three tasks wait for the touched one, and one for all of them: it stays by itself."""
    was = settled(
        plan(
            task("dig", **days("3-17", 3)),
            *(task(name, duration=DAY, waits_for=(Link("dig"),)) for name in ("a", "b", "c")),
            task("end", duration=DAY, waits_for=(Link("a"), Link("b"), Link("c"))),
        ),
        {},
    )
    changed = after(was, ("dig", {"duration": length * DAY}))
    found = alone(was, changed)
    assert moved(was, changed, found) == set()
    assert "end" not in found.edits
    for one in found.edits:  # without any of them, something moves
        fewer = Isolated({name: fields for name, fields in found.edits.items() if name != one}, [])
        assert moved(was, changed, fewer)
