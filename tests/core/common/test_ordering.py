"""Keys that order siblings: between any two there is room, and where many are put into one gap they are spread anew."""

from __future__ import annotations

import random
from dataclasses import dataclass, replace

import pytest

from rhodonite.core.common.ordering import LONGEST_KEY, make_room, place_between, places_between


@dataclass(frozen=True, slots=True)
class Thing:
    id: str
    place: str


def put(row: list[Thing], name: str, at: int) -> None:
    """One more thing in a row, as a service writes it."""
    room = make_room(row, row[at - 1].id if at else None, 1)
    if room.others:
        row[:] = [replace(one, place=room.others.get(one.id, one.place)) for one in row]
    row.insert(at, Thing(name, room.places[0]))


@pytest.mark.parametrize("where", ["first", "second", "behind the last one put", "last"])
def test_five_thousand_in_one_gap_keep_their_order_and_their_room(where: str) -> None:
    row = [Thing("a", "V001"), Thing("b", "V002")]
    for number in range(5000):
        at = {"first": 0, "second": 1, "last": len(row)}.get(where, number + 1)
        put(row, str(number), at)
    places = [one.place for one in row]
    assert places == sorted(set(places))
    assert max(map(len, places)) <= LONGEST_KEY


def test_several_come_together_and_only_a_full_gap_moves_others() -> None:
    row = [Thing("a", "V"), Thing("b", "W")]
    room = make_room(row, "a", 3)
    assert room.others == {}
    assert "V" < room.places[0] < room.places[1] < room.places[2] < "W"
    full = [Thing("a", "V" * LONGEST_KEY), Thing("b", "V" * LONGEST_KEY + "1")]
    room = make_room(full, "a", 2)
    assert set(room.others) == {"a", "b"}
    assert room.others["a"] < room.places[0] < room.places[1] < room.others["b"]


def test_two_at_one_place_leave_room_behind_both() -> None:
    row = [Thing("a", "V"), Thing("b", "V"), Thing("c", "W")]
    assert "V" < make_room(row, "a", 1).places[0] < "W"


def test_keys_lie_where_they_are_put() -> None:
    chance = random.Random(7)
    keys = places_between(None, None, 20)
    for _ in range(2000):
        at = chance.randrange(1, len(keys))
        keys.insert(at, place_between(keys[at - 1], keys[at]))
    assert keys == sorted(set(keys))
