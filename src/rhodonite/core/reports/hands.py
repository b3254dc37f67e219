"""What people have in hand: how much is open, under way and late, and what they turn to first."""

from __future__ import annotations

import heapq
from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any

from ..schedule.plan import Row
from ..tasks.model import OPEN_CLASSES, Project
from .answers import Item, in_turn

MOST_OF_A_PERSON = 30


@dataclass(slots=True)
class Hand:
    """What somebody has in hand in one plan or several: how much, and the first of it."""

    open: int = 0
    active: int = 0
    late: int = 0
    first: list[Item] = field(default_factory=list)

    def add(self, other: Hand) -> None:
        """Take in what they have in another plan."""
        self.open += other.open
        self.active += other.active
        self.late += other.late
        self.first += other.first

    def firsts(self) -> list[Item]:
        """What comes first of all plans."""
        return heapq.nsmallest(MOST_OF_A_PERSON, self.first, key=_turn)


def _turn(one: Item) -> tuple[Any, ...]:
    return (*in_turn(one.row)[:3], one.project.code, one.row.task.number)


def in_hand(project: Project, rows: Sequence[Row]) -> dict[str | None, Hand]:
    """By person what they have in hand of some work of a project; None for what nobody owns."""
    by_person = defaultdict[str | None, list[Row]](list)
    names = {state.id: state.name for state in project.states}
    for row in rows:
        if row.state_class in OPEN_CLASSES:
            by_person[row.task.owner_id].append(row)
    return {
        person: Hand(
            len(some),
            sum(row.state_class == "active" for row in some),
            sum(row.late_days > 0 for row in some),
            [Item(project, row, (names.get(row.state_id, ""),)) for row in heapq.nsmallest(MOST_OF_A_PERSON, some, key=in_turn)],
        )
        for person, some in by_person.items()
    }
