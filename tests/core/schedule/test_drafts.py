"""Drafts by their laws: laid over the plan, put back, followed by a plan that goes on."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from rhodonite.core.schedule.drafts import Kept, lay_over, new_tasks, note_change, overtaken, to_apply
from rhodonite.core.schedule.plan import Plan
from rhodonite.core.schedule.planning import computed_dates, schedule_of
from rhodonite.core.schedule.ripple import ripple
from rhodonite.core.tasks.model import Link, Task
from tests.core.make import DAY, NOW, OFFICE, PROJECT, at, plan, task

steps = st.lists(st.tuples(st.integers(0, 5), st.integers(1, 9)), max_size=8)


def made() -> dict[str, Task]:
    """Six tasks of two days in a row, each waiting for the one before, with their dates."""
    rows = {f"t{n}": task(f"t{n}", duration=2 * DAY, waits_for=(Link(f"t{n - 1}"),) if n else ()) for n in range(6)}
    return settled(rows)


def standing(rows: dict[str, Task]) -> Plan:
    return plan(*rows.values())


def settled(rows: dict[str, Task]) -> dict[str, Task]:
    moves = computed_dates(schedule_of(PROJECT, OFFICE, rows), rows)
    return {one: row.with_fields(moves.get(one, {})) for one, row in rows.items()}


def drawn(tasks: dict[str, Task], changes: list[tuple[int, int]]) -> Kept:
    """A draft in which tasks were given other durations, one after the other."""
    kept: Kept = {}
    for n, days in changes:
        name = f"t{n}"
        before = {**tasks, **lay_over(standing(tasks), kept)}[name]
        kept = kept | {name: note_change(kept, tasks[name], before, before.with_fields({"duration": days * DAY}))}
        kept = {one: fields for one, fields in kept.items() if fields}
    return kept


@given(steps)
def test_a_draft_shows_what_the_plan_would_be_once_it_is_applied(changes: list[tuple[int, int]]) -> None:
    tasks = made()
    kept = drawn(tasks, changes)
    shown = {**tasks, **lay_over(standing(tasks), kept)}
    fields = to_apply(standing(tasks), kept)
    applied = settled({one: row.with_fields(fields.get(one, {})) for one, row in tasks.items()})
    assert shown == applied
    assert not ripple(schedule_of(PROJECT, OFFICE, shown), schedule_of(PROJECT, OFFICE, applied))


@given(steps)
def test_put_back_to_what_they_were_nothing_is_kept(changes: list[tuple[int, int]]) -> None:
    tasks = made()
    assert drawn(tasks, [*changes, *((n, 2) for n, _ in changes)]) == {}


@given(steps, st.integers(0, 5), st.integers(1, 9))
def test_a_draft_follows_a_plan_that_goes_on(changes: list[tuple[int, int]], n: int, days: int) -> None:
    tasks = made()
    kept = drawn(tasks, changes)
    later = settled({**tasks, f"t{n}": tasks[f"t{n}"].with_fields({"duration": days * DAY})})
    shown = {**later, **lay_over(standing(later), kept)}
    drafted = {one: fields["duration"][1] for one, fields in kept.items() if "duration" in fields}
    for one, row in shown.items():
        assert row.duration == drafted.get(one, later[one].duration)
    told = {one for one, field in overtaken(standing(later), kept) if field == "duration"}
    name = f"t{n}"
    expected = name in drafted and later[name].duration not in (2 * DAY, drafted[name])
    assert told == ({name} if expected else set())


def test_an_empty_draft_is_the_plan() -> None:
    assert lay_over(standing(made()), {}) == {}
    assert to_apply(standing(made()), {}) == {}


def test_what_the_plan_has_no_place_for_is_left_out() -> None:
    tasks = made()
    kept: Kept = {
        "t0": {"state_id": ("ready", "gone"), "percent": (0, 40)},
        "t1": {"calendar_id": (None, "gone"), "percent": (0, 20)},
        "nobody": {"percent": (0, 10)},
        "t2": {"percent": (0, 30)},
    }
    tasks["t2"] = tasks["t2"].with_fields({"deleted_at": at("3-16")})
    shown = lay_over(standing(tasks), kept)
    assert (shown["t0"].state_id, shown["t0"].percent, shown["t1"].calendar_id) == ("ready", 40, None)
    assert not {"nobody", "t2"} & shown.keys()
    assert to_apply(standing(tasks), kept) == {"t0": {"percent": 40}, "t1": {"percent": 20}}


def test_links_that_would_close_a_circle_with_the_plans_give_way() -> None:
    tasks = made()
    free: dict[str, Any] = {"waits_for": ((Link("t0"),), ())}
    kept: Kept = {"t1": free, "t0": {"waits_for": ((), (Link("t5"),)), "duration": (2 * DAY, 3 * DAY)}}
    cut = replace(tasks["t1"], waits_for=())
    assert lay_over(standing({**tasks, "t1": cut}), kept)["t0"].waits_for == (Link("t5"),)
    again = {"t0": kept["t0"]}  # without the cut the circle closes: the plan's links stay, the duration is kept
    shown = lay_over(standing(tasks), again)["t0"]
    assert (shown.waits_for, shown.duration) == ((), 3 * DAY)


def kept_by(tasks: dict[str, Task], *changes: tuple[str, dict[str, Any]], made: tuple[Task, ...] = ()) -> Kept:
    """A draft that makes some tasks and then changes fields of others."""
    kept: Kept = {task.id: note_change({}, None, None, task) for task in made}
    for name, fields in changes:
        before = {**tasks, **lay_over(standing(tasks), kept)}[name]
        kept[name] = note_change(kept, tasks.get(name), before, before.with_fields(fields))
    return {one: fields for one, fields in kept.items() if fields}


NEW = task("n", number=40, title="Second coat", duration=DAY, waits_for=(Link("t5"),))


def test_a_draft_makes_tasks_that_stand_and_are_planned_as_others() -> None:
    tasks = made()
    kept = kept_by(tasks, ("t0", {"duration": 3 * DAY}), made=(NEW,))
    shown = lay_over(standing(tasks), kept)
    assert (shown["n"].number, shown["n"].title, shown["n"].waits_for) == (40, "Second coat", (Link("t5"),))
    assert shown["n"].start is not None
    assert shown["t5"].finish is not None
    assert shown["n"].start > shown["t5"].finish
    (new,) = new_tasks(standing(tasks), kept)
    applied = settled(
        {**{one: row.with_fields(to_apply(standing(tasks), kept).get(one, {})) for one, row in tasks.items()}, "n": new}
    )
    assert applied == {**tasks, **shown}


def test_what_a_draft_made_and_deleted_again_it_does_not_keep() -> None:
    tasks = made()
    assert kept_by(tasks, ("n", {"deleted_at": NOW}), made=(NEW,)) == {}
    kept = kept_by(tasks, ("n", {"title": "Third coat"}), made=(NEW,))
    assert lay_over(standing(tasks), kept)["n"].title == "Third coat"


def test_a_draft_deletes_and_puts_elsewhere() -> None:
    tasks = made()
    kept = kept_by(
        tasks, ("t5", {"deleted_at": NOW}), ("t4", {"parent_id": "n", "place": "c"}), made=(NEW.with_fields({"waits_for": ()}),)
    )
    drafted = Plan(PROJECT, OFFICE, {**tasks, **lay_over(standing(tasks), kept)}.values(), NOW)
    assert "t5" not in drafted.rows
    assert drafted.outline.children["n"] == ["t4"]
    assert to_apply(standing(tasks), kept)["t5"] == {"deleted_at": NOW}


def test_a_place_that_is_gone_or_below_itself_is_left() -> None:
    tasks = made()
    kept = kept_by(tasks, ("t4", {"parent_id": "t3", "place": "c"}), made=(NEW.with_fields({"parent_id": "t3"}),))
    tasks["t3"] = tasks["t3"].with_fields({"parent_id": "t4"})  # the plan goes on
    assert to_apply(standing(tasks), kept) == {}
    tasks["t3"] = tasks["t3"].with_fields({"parent_id": None, "deleted_at": NOW})
    assert to_apply(standing(tasks), kept) == {}
    assert new_tasks(standing(tasks), kept)[0].parent_id is None
