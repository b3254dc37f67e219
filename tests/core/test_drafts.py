"""Drafts by their laws: laid over the plan, put back, followed by a plan that goes on."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from rhodonite.core.drafts import Kept, lay_over, note_change, overtaken, to_apply
from rhodonite.core.model import Link, Task
from rhodonite.core.plan import Plan
from rhodonite.core.planning import computed_dates, schedule_of
from rhodonite.core.ripple import ripple
from tests.core.make import DAY, OFFICE, PROJECT, at, plan, task

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
