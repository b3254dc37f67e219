"""Which of the moves that levelling found are worth making: none leaves anybody more overbooked, none helps nobody."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

MOST_TRIED = 400
"""Times that the whole is laid out anew: beyond that what was accepted so far is the answer."""

Over = Mapping[str, int]
"""By person the minutes by which they are overbooked."""
Try = Callable[[Sequence[str]], Over]
"""Gives who is overbooked by how much where some tasks are moved and no others."""


def worth_moving(moves: Sequence[str], before: Over, attempt: Try) -> list[str]:
    """Choose moves so that the sum of what people are overbooked becomes less, and nobody's becomes more.

    Moves are accepted together where together they help; else in halves, down to single ones. What is left over is tried
    again as long as anything was accepted, for some moves help only after others. At last each that can be left out without
    loss is left out.

    Args:
        moves: the ids of tasks that could be moved, those first that are to be placed first.
        before: who is overbooked by how much where nothing moves.

    Returns:
        Those that are worth it, in the same order.
    """
    search = _Search(before, attempt)
    waiting = list(moves)
    while waiting and search.tries < MOST_TRIED:
        refused = search.accept(waiting)
        if len(refused) == len(waiting):
            break
        waiting = refused
    search.leave_out()
    return [one for one in moves if one in set(search.kept)]


class _Search:
    """The moves that were accepted so far, and what they come to."""

    def __init__(self, before: Over, attempt: Try) -> None:
        self.before, self.attempt = before, attempt
        self.kept: list[str] = []
        self.now: Over = before
        self.tries = 0

    def _over(self, moves: Sequence[str]) -> Over:
        self.tries += 1
        return self.attempt(moves)

    def _harms_nobody(self, then: Over) -> bool:
        return all(minutes <= self.before.get(who, 0) for who, minutes in then.items())

    def accept(self, moves: Sequence[str]) -> list[str]:
        """Take what helps; returns what did not."""
        refused: list[str] = []
        chunks = [list(moves)]
        while chunks:
            chunk = chunks.pop()
            if self.tries >= MOST_TRIED:
                refused += chunk
                continue
            then = self._over([*self.kept, *chunk])
            if self._harms_nobody(then) and sum(then.values()) < sum(self.now.values()):
                self.kept, self.now = [*self.kept, *chunk], then
            elif len(chunk) > 1:
                half = len(chunk) // 2
                chunks += [chunk[half:], chunk[:half]]
            else:
                refused += chunk
        return refused

    def leave_out(self) -> None:
        """Leave out each move without which nobody is worse off."""
        for one in reversed(list(self.kept)):
            if self.tries >= MOST_TRIED:
                return
            rest = [each for each in self.kept if each != one]
            then = self._over(rest)
            if self._harms_nobody(then) and sum(then.values()) <= sum(self.now.values()):
                self.kept, self.now = rest, then
