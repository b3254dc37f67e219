"""How much of a resource is taken over time, and when there is room for more."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterator

_EPSILON = 1e-9


class Profile:
    """The units of one resource that are taken, as steps over whole minutes.

    Args:
        capacity: units that there are.
    """

    def __init__(self, capacity: float) -> None:
        self.capacity = capacity
        self._from: list[int] = []  # where each step begins, ascending
        self._taken: list[float] = []  # from there to the next

    def add(self, start: int, end: int, units: float) -> None:
        """Take units from one minute to before another."""
        if end <= start:
            return
        first, last = self._cut(start), self._cut(end)
        taken = self._taken
        for index in range(first, last):
            taken[index] += units

    def _cut(self, at: int) -> int:
        """The step that begins at a minute, made where there is none."""
        index = bisect_right(self._from, at)
        if index and self._from[index - 1] == at:
            return index - 1
        self._from.insert(index, at)
        self._taken.insert(index, self._taken[index - 1] if index else 0.0)
        return index

    def room_after(self, start: int, end: int, units: float) -> int | None:
        """None where units can be taken from a minute to before another; else the end of the first stretch in which they
        cannot."""
        allowed = self.capacity - units + _EPSILON
        begins, taken = self._from, self._taken
        index = max(bisect_right(begins, start) - 1, 0)
        count = len(begins)
        while index < count and begins[index] < end:
            if taken[index] > allowed and (index + 1 == count or begins[index + 1] > start):
                index += 1
                while index < count and taken[index] > allowed:
                    index += 1
                return begins[index] if index < count else None
            index += 1
        return None

    def most(self) -> float:
        """The most units that are taken at one time."""
        return max(self._taken, default=0.0)

    def steps(self) -> Iterator[tuple[int, int, float]]:
        """Where something is taken: minutes from and to, and the units."""
        for index, taken in enumerate(self._taken[:-1]):
            if taken > _EPSILON:
                yield self._from[index], self._from[index + 1], taken
