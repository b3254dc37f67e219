"""Goals below goals: no circle, and what of a tree somebody sees."""

from __future__ import annotations

from collections.abc import Collection, Mapping

from ..common.errors import RuleError
from .model import Goal


def check_tie(goals: Mapping[str, Goal], goal_id: str, parent_id: str | None) -> None:
    """Raises RuleError where a goal would come to stand below itself."""
    at, seen = parent_id, set()
    while at is not None and at not in seen:
        if at == goal_id:
            raise RuleError("A goal cannot stand below itself. Choose another.", "parent_id")
        seen.add(at)
        found = goals.get(at)
        at = found.parent_id if found else None


def branch(goals: Mapping[str, Goal], goal_id: str) -> dict[str, Goal]:
    """A goal and all that stand below it, by id: what the way of that goal follows from."""
    below: dict[str | None, list[Goal]] = {}
    for one in goals.values():
        below.setdefault(one.parent_id, []).append(one)
    found, waiting = {goal_id: goals[goal_id]}, [goal_id]
    while waiting:
        for one in below.get(waiting.pop(), ()):
            if one.id not in found:
                found[one.id] = one
                waiting.append(one.id)
    return found


def shown_parent(goals: Mapping[str, Goal], shown: Collection[str], one: Goal) -> str | None:
    """Below which goal one stands for who sees only some: the nearest above it that is shown."""
    at, seen = one.parent_id, {one.id}
    while at is not None and at not in shown and at not in seen:
        seen.add(at)
        found = goals.get(at)
        at = found.parent_id if found else None
    return at if at in shown else None
