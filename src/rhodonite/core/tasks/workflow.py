"""A project's workflow: its states, and what may be done to them."""

from __future__ import annotations

from collections.abc import Sequence

from ..common.errors import RuleError
from .model import LENSES, STATE_CLASSES, State, StateClass

DEFAULT_STATES: tuple[tuple[str, StateClass], ...] = (
    ("Ready", "queued"),
    ("Under way", "active"),
    ("In review", "active"),
    ("Finished", "finished"),
    ("Dropped", "dropped"),
)
"""The workflow that a new project starts with."""

_NEEDED: tuple[StateClass, ...] = ("queued", "active", "finished")


def check_state(states: Sequence[State], name: str, state_class: str, limit: int | None, own_id: str | None = None) -> str:
    """Check a state that is added or changed. Returns its name, trimmed.

    Raises:
        RuleError: no name, a name that is taken, an unknown class, or a limit below one.
    """
    trimmed = " ".join(name.split())
    if not trimmed or len(trimmed) > 60:
        raise RuleError("Give the state a name of at most 60 characters.", "name")
    if any(s.name.lower() == trimmed.lower() and s.id != own_id for s in states):
        raise RuleError(f"The workflow has a state called {trimmed} already. Choose another name.", "name")
    if state_class not in STATE_CLASSES:
        raise RuleError(f"A state belongs to one of these classes: {', '.join(STATE_CLASSES)}.", "state_class")
    if limit is not None and limit < 1:
        raise RuleError("A limit is one or more. Leave it empty for no limit.", "limit")
    return trimmed


def check_classes(states: Sequence[State]) -> None:
    """Raises RuleError where a workflow would be left without a queued, an active or a finished state."""
    held = {state.state_class for state in states}
    for needed in _NEEDED:
        if needed not in held:
            raise RuleError(f"A workflow needs at least one {needed} state. Add another one first.", "state_class")


def check_lenses(lenses: Sequence[str]) -> tuple[str, ...]:
    """The lenses that are to stand in a project's sheet bar, each once, in their usual order.

    Raises:
        RuleError: none at all, or one that there is none of.
    """
    if not lenses or not set(lenses) <= set(LENSES):
        raise RuleError(f"Choose one or more of these lenses: {', '.join(LENSES)}.", "lenses")
    return tuple(one for one in LENSES if one in lenses)
