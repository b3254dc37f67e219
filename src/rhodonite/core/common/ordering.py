"""Keys that order siblings: between any two keys there is room for another, so a move writes one row only.

A key is a fraction in base 62 written without its leading ``0.``; keys compare as ASCII strings. The method is
that of ordering by fractions (dense linear order); no key ends in the lowest digit, so there is always room below.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Protocol

DIGITS = "0123456789ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz"
_VALUE = {digit: value for value, digit in enumerate(DIGITS)}
_BASE = len(DIGITS)
_WIDTH = 4
_FIELD = _BASE**_WIDTH


def place_between(low: str | None, high: str | None) -> str:
    """A key strictly between two keys; None stands for the end of the row.

    At either end the key counts on by one in a field of four digits, so that a million appended keys stay short.

    Raises:
        ValueError: the keys are not in order.
    """
    if high is None:
        return _after(low) if low else _written(_FIELD // 2 + 1)
    if low is None:
        number = _read(high) - 1
        number -= number % _BASE == 0
        return _written(number) if number > 0 else _middle("", high)
    if low >= high:
        raise ValueError(f"no place between {low!r} and {high!r}")
    return _middle(low, high)


class Placed(Protocol):
    """What has an id and stands at a place."""

    @property
    def id(self) -> str: ...

    @property
    def place(self) -> str: ...


def gap_behind(others: Sequence[Placed], after_id: str | None) -> tuple[str | None, str | None]:
    """The keys between which something is to stand.

    Args:
        others: in order, without the one that moves.
        after_id: the one to stand behind; ``end`` for behind all of them; one that is not there, or None, for the first place.
    """
    if after_id == "end":
        return (others[-1].place if others else None), None
    index = next((n + 1 for n, one in enumerate(others) if one.id == after_id), 0)
    return (others[index - 1].place if index else None), (others[index].place if index < len(others) else None)


LONGEST_KEY = 40
"""Letters of a key. Where many are put into one gap keys grow; beyond this the whole row is written anew."""


@dataclass(frozen=True, slots=True)
class Room:
    """Keys for what is to stand in a row.

    Attributes:
        places: of what comes, in order.
        others: the new keys, by id, of those that stand there and make room; empty nearly always.
    """

    places: list[str]
    others: dict[str, str]


def make_room(others: Sequence[Placed], after_id: str | None, count: int) -> Room:
    """Keys for ``count`` things behind another.

    Args:
        others: those that stand there, in order, without what moves.
        after_id: as for ``gap_behind``.
    """
    low, high = gap_behind(others, after_id)
    if low is not None and high is not None and low >= high:  # two clients chose the same place at once
        high = next((one.place for one in others if one.place > low), None)
    places = places_between(low, high, count)
    if all(len(place) <= LONGEST_KEY for place in places):
        return Room(places, {})
    at = len(others) if after_id == "end" else next((n + 1 for n, one in enumerate(others) if one.id == after_id), 0)
    fresh = places_between(None, None, len(others) + count)
    moved = zip(others, [*fresh[:at], *fresh[at + count :]], strict=True)
    return Room(fresh[at : at + count], {one.id: place for one, place in moved if one.place != place})


def _after(low: str) -> str:
    number = _read(low) + 1
    number += number % _BASE == 0
    return _written(number) if number < _FIELD else low + _written(_FIELD // 2 + 1)


def _read(key: str) -> int:
    number = 0
    for digit in key[:_WIDTH].ljust(_WIDTH, DIGITS[0]):
        number = number * _BASE + _VALUE[digit]
    return number


def _written(number: int) -> str:
    digits = []
    for _ in range(_WIDTH):
        number, value = divmod(number, _BASE)
        digits.append(DIGITS[value])
    return "".join(reversed(digits))


def _middle(low: str, high: str) -> str:
    """The midpoint of two fractions, digit by digit; ``high`` may be empty for one whole."""
    shared = 0
    while shared < len(high) and (low[shared : shared + 1] or DIGITS[0]) == high[shared]:
        shared += 1
    prefix, below, above = high[:shared], low[shared:], high[shared:]
    first = _VALUE[below[0]] if below else 0
    last = _VALUE[above[0]] if above else _BASE
    if last - first > 1:
        return prefix + DIGITS[(first + last) // 2]
    if len(above) > 1:
        return prefix + above[0]
    return prefix + DIGITS[first] + _middle(below[1:], "")


def places_between(low: str | None, high: str | None, count: int) -> list[str]:
    """``count`` keys in order between two keys, spread so that they stay short."""
    if count <= 0:
        return []
    if high is None:
        keys: list[str] = []
        for _ in range(count):
            low = place_between(low, None)
            keys.append(low)
        return keys
    middle = place_between(low, high)
    half = count // 2
    return [*places_between(low, middle, half), middle, *places_between(middle, high, count - half - 1)]
