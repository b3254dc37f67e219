"""Tints: ordered rules, each a condition and a colour. The first that holds wins, and each says what it catches."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal

from ..common.errors import RuleError
from ..cost.shown import PREFIX
from ..people.viewer import Viewer
from ..schedule.plan import Row
from ..tasks.custom_fields import COLOURS
from .columns import Columns
from .conditions import Group, holding

Covers = Literal["row", "cell", "slip", "bar"]
COVERS: tuple[Covers, ...] = ("row", "cell", "slip", "bar")
MOST_TINTS = 40


@dataclass(frozen=True, slots=True)
class Tint:
    """One rule.

    Attributes:
        where: what it holds for.
        colour: of the palette; ``sign`` stands beside it, for those who do not see the colour.
        covers: the whole row, one cell of it (of the column ``cell``), the slip on the board, or the bar of the schedule.
    """

    id: str
    name: str
    where: Group
    colour: str
    sign: str = "square"
    covers: tuple[Covers, ...] = ("row", "slip", "bar")
    cell: str | None = None


@dataclass(frozen=True, slots=True)
class TintCount:
    """What one rule catches.

    Attributes:
        shows: tasks that it colours now.
        holds: tasks that its condition holds for.
        taken: by the id of an earlier rule how many of these that one took.
        hidden: True where it holds for some and can show for none, because earlier rules take them all.
        move_before: the rule before which it would have to stand to show.
    """

    id: str
    shows: int
    holds: int
    taken: dict[str, int]
    hidden: bool
    move_before: str | None


@dataclass(frozen=True, slots=True)
class Colouring:
    """What is coloured by which rule.

    Attributes:
        tints: the rules by id, in their order.
        given: by task, by what is coloured (``row``, ``cell:finish``, ``slip``, ``bar``) the id of the rule.
    """

    tints: Mapping[str, Tint] = field(default_factory=dict)
    given: Mapping[str, Mapping[str, str]] = field(default_factory=dict)

    def of(self, task_id: str, target: str) -> Tint | None:
        """The rule that colours one thing of a task; None for none."""
        found = self.given.get(task_id, {}).get(target)
        return self.tints[found] if found else None

    def all_of(self, task_id: str) -> list[Tint]:
        """Every rule that colours something of a task, in their order."""
        found = set(self.given.get(task_id, {}).values())
        return [tint for one, tint in self.tints.items() if one in found]


def colouring(rows: Sequence[Row], tints: Sequence[Tint], columns: Columns, viewer: Viewer) -> Colouring:
    """What some rules colour of some rows. Raises RuleError as ``tinted``."""
    given, _ = tinted(rows, tints, columns, viewer)
    return Colouring({one.id: one for one in tints}, given)


def check_tints(tints: Sequence[Tint]) -> None:
    """Raises RuleError where a rule cannot be."""
    if len(tints) > MOST_TINTS:
        raise RuleError(f"A view has {MOST_TINTS} tints at most.", "tints")
    for one in tints:
        if not one.name.strip():
            raise RuleError("A tint needs a name, which is shown where it colours.", "tints")
        if one.colour not in COLOURS:
            raise RuleError(f"Choose a colour: {', '.join(COLOURS)}.", "tints")
        if not one.covers or not set(one.covers) <= set(COVERS) or ("cell" in one.covers and not one.cell):
            raise RuleError("Say what the tint colours: the row, a cell, the slip or the bar.", "tints")


def _targets(tint: Tint) -> list[str]:
    return [f"cell:{tint.cell}" if one == "cell" else one for one in tint.covers]


def tinted(
    rows: Sequence[Row], tints: Sequence[Tint], catalogue: Columns, viewer: Viewer
) -> tuple[dict[str, dict[str, str]], list[TintCount]]:
    """Which rule colours what of each task, and what each rule catches.

    Two rules are in each other's way only where they colour the same thing: a row and one of its cells can both be coloured.

    Returns:
        by task, by what is coloured (``row``, ``cell:finish``, ``slip``, ``bar``) the id of the rule; and the counts in
        the order of the rules.
    """
    check_tints(tints)
    ready = [(one, holding(one.where, catalogue, viewer), _targets(one)) for one in tints]
    found: dict[str, dict[str, str]] = {}
    shows = dict.fromkeys((one.id for one in tints), 0)
    holds = dict.fromkeys((one.id for one in tints), 0)
    taken: dict[str, dict[str, int]] = {one.id: {} for one in tints}
    for row in rows:
        given: dict[str, str] = {}
        for tint, test, targets in ready:
            if not test(row):
                continue
            holds[tint.id] += 1
            free = [target for target in targets if target not in given]
            shows[tint.id] += bool(free)
            if not free:  # the earliest of those that stand in its way took it
                first = next(one.id for one in tints if one.id in {given[target] for target in targets})
                taken[tint.id][first] = taken[tint.id].get(first, 0) + 1
            given |= dict.fromkeys(free, tint.id)
        if given:
            found[row.task.id] = given
    return found, [_count(one, tints, shows, holds, taken) for one in tints]


def _count(
    tint: Tint, tints: Sequence[Tint], shows: dict[str, int], holds: dict[str, int], taken: dict[str, dict[str, int]]
) -> TintCount:
    hidden = holds[tint.id] > 0 and shows[tint.id] == 0
    first = next((one.id for one in tints if one.id in taken[tint.id]), None) if hidden else None
    return TintCount(tint.id, shows[tint.id], holds[tint.id], taken[tint.id], hidden, first)


def tells_money(tint: Tint) -> bool:
    """True for a tint whose rule asks what tasks cost: it is for who may see that."""
    return any(clause.key.startswith(PREFIX) for clause in tint.where.clauses)
