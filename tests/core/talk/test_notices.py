"""Who is told of a change, and why."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from rhodonite.core.talk.notices import MOST_OF_A_KIND, Touch, can_start_now, followers, notices_of
from rhodonite.core.tasks.model import Link, Task
from tests.core.make import PROJECT, task


def told(touch: Touch, actor: str = "ines", **more: dict[str, object]) -> set[tuple[str, str, str]]:
    """(person, kind, reason) of the notices of one touched task."""
    one = touch.after.id
    found = notices_of({one: touch}, {one: more.get("writers", {})}, {one: more.get("said", {})}, actor)  # type: ignore[dict-item]
    return {(notice.person_id, notice.kind, notice.reason) for notice in found}


def touch(before: Task | None, *fields: str, **values: object) -> Touch:
    """A task that changed."""
    after = (before or task("a")).with_fields(values)
    return Touch(before, after, frozenset({*fields, *values}))


OWNED = task("a", owner_id="tomas", helpers=("yuki",))


def test_the_owner_and_helpers_are_told_but_not_who_did_it() -> None:
    assert told(touch(OWNED, state_id="doing")) == {("tomas", "state", "owner"), ("yuki", "state", "helper")}
    assert told(touch(OWNED, state_id="doing"), actor="tomas") == {("yuki", "state", "helper")}


def test_a_task_given_and_taken_is_told_to_both() -> None:
    assert told(touch(OWNED, owner_id="mila")) == {("mila", "given", "owner"), ("tomas", "given", "owner")}


def test_what_matters_most_is_told_once() -> None:
    found = told(touch(OWNED, state_id="doing", held_reason="rain", title="B"))
    assert found == {("tomas", "held", "owner"), ("yuki", "held", "helper")}


def test_who_only_follows_is_not_told_of_small_changes() -> None:
    said = {"mila": "follows"}
    assert ("mila", "dates", "follower") in told(touch(OWNED, finish=None), said=said)
    assert not any(one == "mila" for one, _, _ in told(touch(OWNED, title="B"), said=said))


def test_who_left_is_not_told_and_who_muted_only_when_given_it() -> None:
    assert told(touch(OWNED, state_id="doing"), said={"tomas": "muted", "yuki": "muted"}) == set()
    assert told(touch(OWNED, owner_id="mila"), said={"mila": "muted"}) >= {("mila", "given", "owner")}
    assert "mila" not in followers(OWNED, ["mila"], {"mila": "left"})


def test_an_owner_cannot_leave_what_they_answer_for() -> None:
    assert followers(OWNED, [], {"tomas": "left"})["tomas"] == "owner"


@given(st.integers(1, 40))
def test_many_of_a_kind_become_one_that_counts_them(count: int) -> None:
    touched = {f"t{n}": touch(task(f"t{n}", owner_id="tomas"), state_id="doing") for n in range(count)}
    found = notices_of(touched, {}, {}, "ines")
    assert len(found) == (count if count <= MOST_OF_A_KIND else 1)
    assert sorted(one for notice in found for one in notice.task_ids) == sorted(touched)


def test_a_task_can_start_when_the_last_that_it_waited_for_is_finished() -> None:
    waits = task("c", owner_id="yuki", waits_for=(Link("a"), Link("b")))
    tasks = {"a": task("a", state_id="done"), "b": task("b"), "c": waits}
    finished = {"a": touch(task("a"), state_id="done")}
    assert can_start_now(tasks, finished, PROJECT) == []
    tasks["b"] = task("b", state_id="dropped")
    assert can_start_now(tasks, finished, PROJECT) == ["c"]
    assert can_start_now({**tasks, "c": waits.with_fields({"state_id": "doing"})}, finished, PROJECT) == []


def test_a_link_to_the_start_does_not_wait_for_the_finish() -> None:
    tasks = {"a": task("a", state_id="done"), "c": task("c", waits_for=(Link("a", "SS"),))}
    assert can_start_now(tasks, {"a": touch(task("a"), state_id="done")}, PROJECT) == []
