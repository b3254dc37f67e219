"""Undo and redo of every kind of change: undo restores the tables, redo restores what the change made of them, or both are
refused with a reason."""

from __future__ import annotations

import uuid
from collections.abc import Callable
from typing import Any

import pytest

from rhodonite.core.people.model import Person
from rhodonite.store.common.database import Database, fetch_one
from tests.conftest import Caller

from .routes import OPEN, STREAMS, Walk, call, routes
from .tables import differing, read_tables

WRITES = [(method, path) for method, path, _ in routes() if method != "GET" and path not in OPEN | STREAMS]
NOT_JOURNALLED = {
    "PUT /api/session/password": "a password is not put back",
    "PUT /api/tasks/{task_id}/following": "one click puts it back, and it is nobody else’s",
    "PUT /api/goals/{goal_id}/following": "the same",
    "POST /api/subscriptions": "an address is withdrawn, not forgotten",
    "DELETE /api/subscriptions/{subscription_id}": "an address that was withdrawn must not come back",
}
"""Routes that write nothing that could be taken back, and why."""
PARTS = 8


def _undo(caller: Caller, change: str, headers: dict[str, str] | None = None) -> tuple[int, str, str]:
    """Takes a change back: status, what was said, and the id of that change."""
    own = str(uuid.uuid4())
    answer = caller.client.post(f"/api/changes/{change}/undo", headers={"Rhodonite-Change": own} | (headers or {}))
    said = answer.json().get("detail", "") if answer.content and answer.status_code >= 400 else ""
    return answer.status_code, said, own


def _look(walk: Walk, method: str, path: str) -> list[str]:
    """What is wrong with taking back what a route does, and doing it again."""
    words = walk.words_for(method, path)
    change = str(uuid.uuid4())
    before = read_tables(walk.database)
    walk.caller.client.headers["Rhodonite-Change"] = change
    try:
        status = call(walk.caller, method, path, words)
    finally:
        del walk.caller.client.headers["Rhodonite-Change"]
    assert status < 400, f"{method} {path}: {status}"
    written = walk.database.read(fetch_one, "SELECT what FROM changes WHERE id = %s", (change,))
    done = read_tables(walk.database)
    if written is None:
        changed = differing(before, done)
        return [f"not journalled: {changed[:3]}"] if changed and f"{method} {path}" not in NOT_JOURNALLED else []
    status, said, undoing = _undo(walk.caller, change)
    if status >= 400:
        return [] if status in {403, 409, 422} and len(said) > 20 else [f"undo: {status} {said}"]
    undone = read_tables(walk.database)
    if wrong := differing(before, undone):
        return ["undo does not restore: ", *wrong]
    status, said, redoing = _undo(walk.caller, undoing)
    if status >= 400:
        return [] if status in {403, 409, 422} and len(said) > 20 else [f"redo: {status} {said}"]
    redone = read_tables(walk.database)
    if wrong := differing(done, redone):
        return ["redo does not restore: ", *wrong]
    status, said, _ = _undo(walk.caller, redoing)
    if status >= 400:
        return [f"undo after redo: {status} {said}"]
    return [f"undo after redo: {one}" for one in differing(before, read_tables(walk.database))]


@pytest.mark.parametrize("part", range(PARTS))
def test_every_change_is_taken_back_and_done_again(
    part: int, sign_in: Callable[[str], Caller], people: dict[str, Person], database: Database
) -> None:
    walk = Walk(sign_in, people, database, "administrator")
    wrong: dict[str, Any] = {}
    for method, path in WRITES[part::PARTS]:
        if found := _look(walk, method, path):
            wrong[f"{method} {path}"] = found
    assert not wrong, "\n".join(f"{route}\n    " + "\n    ".join(map(str, some[:6])) for route, some in wrong.items())
