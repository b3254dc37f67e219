"""Names in a CSV file that are not known: the nearest that is."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from difflib import get_close_matches

from ..core.tasks.model import State

_STATE_WORDS = {
    "finished": {"done", "closed", "complete", "completed", "finished", "resolved"},
    "active": {"in progress", "doing", "started", "under way", "active", "ongoing"},
    "queued": {"to do", "not started", "new", "planned", "queued", "waiting", "open"},
    "dropped": {"cancelled", "canceled", "dropped", "rejected", "abandoned"},
}


def nearest(name: str, text: str, choices: Mapping[str, str], states: Sequence[State]) -> str | None:
    """The id whose name is nearly this one; of states also the first of a class that such a word usually means."""
    if name == "state":
        word = " ".join(text.casefold().split())
        for state in states:
            if word == state.state_class or word in _STATE_WORDS[state.state_class]:
                return state.id
    by_words = {words.casefold(): one for one, words in choices.items()}
    near = get_close_matches(text[:200].casefold(), list(by_words), 1, 0.8)
    return by_words[near[0]] if near else None
