"""What a portfolio says of its parts and items, in words."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime

from ..common.counts import count_of
from ..common.dates import say_day
from ..tasks.model import OPEN_CLASSES, Health
from .blocking import Blocker


@dataclass(frozen=True, slots=True)
class ItemLine:
    """An item as it stands in a list or on paper.

    Attributes:
        code: of its project; ``number``: its own there.
        expected, promised, past: see ``core.portfolio.items.Item``.
        marks: their names.
        holds_up: the titles down to the task that has to move first; empty where it is the item itself, or nothing does. ``why``:
            in words.
        troubled: where it asks for attention.
    """

    code: str
    number: int
    title: str
    kind: str
    state: str
    state_class: str
    owner: str
    health: Health
    percent: int
    start: date | None
    expected: date | None
    promised: date | None
    past: int | None
    held: str
    marks: tuple[str, ...]
    holds_up: tuple[str, ...]
    why: str
    troubled: bool


@dataclass(frozen=True, slots=True)
class PartOnPaper:
    """A part, or the portfolio itself, with its items.

    Attributes:
        depth: 0 for the portfolio itself and its own parts, 1 for those of a portfolio that it joins, and so on.
        far: how it stands as a whole, in words.
    """

    code: str
    name: str
    depth: int
    health: Health | None
    far: str
    items: Sequence[ItemLine]


def day_of(at: datetime | None) -> date | None:
    """The day of a moment."""
    return at.date() if at else None


def chain_of(blocker: Blocker | None, item_id: str) -> tuple[str, ...]:
    """The titles from under an item down to what holds it up, that included; empty where that is the item itself."""
    if blocker is None or blocker.row.task.id == item_id:
        return ()
    return (*blocker.path, blocker.row.task.title)


def say_expected(one: ItemLine, today: date) -> str:
    """When an item is expected, against what was promised: ``18 Jun, 3 days past the promise``."""
    at = one.expected
    said = say_day(at, today) if at else "no date"
    if one.past and one.state_class in OPEN_CLASSES:
        said += f", {count_of(abs(one.past), 'day')} {'past' if one.past > 0 else 'before'} the promise"
    return said


def say_holds_up(one: ItemLine) -> str:
    """What holds an item up: ``hinges on Cast the bars: 2 d late``."""
    if one.held:
        return f"held: {one.held}"
    return f"hinges on {one.holds_up[-1]}: {one.why}" if one.holds_up else one.why


def say_part(percent: int, at: date | None, past: int, has_agreed: bool, late: int, held: int, today: date) -> str:
    """How a part stands: ``40 % done, 18 Jun, 3 days past agreed, 2 late``.

    Args:
        at: when it is expected to finish.
        past: working days after what was agreed.
    """
    said = [f"{percent} % done"]
    if at:
        said.append(say_day(at, today))
    if has_agreed and past:
        said.append(f"{count_of(abs(past), 'day')} {'past' if past > 0 else 'before'} agreed")
    said += [f"{many} {what}" for many, what in ((late, "late"), (held, "held")) if many]
    return ", ".join(said)
