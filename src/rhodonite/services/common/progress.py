"""How far something long is."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sized
from typing import TypeVar

Progress = Callable[[str, float], None]
"""Takes what is being done, in words, and how much of the whole is done, from 0 to 1. It may raise to stop the work."""
Item = TypeVar("Item")
EVERY = 200


def silent(_: str, __: float) -> None:
    """Tells nobody."""


def told(items: Iterable[Item], of: Sized, progress: Progress, doing: str, first: float, last: float) -> Iterator[Item]:
    """Go through items and tell how far it is, from one part of the whole to another."""
    for index, item in enumerate(items):
        if index % EVERY == 0:
            progress(doing, first + (last - first) * index / max(1, len(of)))
        yield item
