"""What a portfolio joins, and what it shows of each part."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass, field

from ..common.errors import RuleError
from ..schedule.plan import Plan, Row
from ..tasks.custom_fields import kind_exists
from ..tasks.model import OPEN_CLASSES, Health, Project, State

DELIVERABLES = "deliverables"
LARGER_ITEMS = ""
KIND = "kind:"
LEVEL = "level:"
DEEPEST_LEVEL = 9
MOST_PARTS = 200
MOST_ITEMS = 2000
"""Of one part, so that a level chosen too deep does not fill the page."""


@dataclass(frozen=True, slots=True)
class Part:
    """A project, or a portfolio, that a portfolio joins.

    Attributes:
        part_id: of the project.
        shows: ``deliverables``, ``kind:`` and a kind, or ``level:`` and a level of the outline, the topmost being 1.
        states: by a state of the part the state of the portfolio in whose column it stands; what is not named stands by class.
    """

    id: str
    portfolio_id: str
    part_id: str
    place: str
    shows: str = DELIVERABLES
    states: Mapping[str, str] = field(default_factory=dict, hash=False)


def check_part(part: Part, portfolio: Project, joined: Project) -> None:
    """Raises RuleError where what a portfolio is to show of a part cannot be."""
    if part.shows.startswith(KIND):
        if not kind_exists(part.shows.removeprefix(KIND), joined):
            raise RuleError(f"{joined.code} has no such kind. Choose another.", "shows")
    elif part.shows.startswith(LEVEL):
        level = part.shows.removeprefix(LEVEL)
        if not level.isascii() or not level.isdigit() or not 1 <= int(level) <= DEEPEST_LEVEL:
            raise RuleError(f"A level of the outline lies between 1 and {DEEPEST_LEVEL}.", "shows")
    elif part.shows != DELIVERABLES:
        raise RuleError("Show deliverables, a kind, or a level of the outline.", "shows")
    theirs, ours = {one.id for one in joined.states}, {one.id for one in portfolio.states}
    if not part.states.keys() <= theirs or not set(part.states.values()) <= ours:
        raise RuleError("One of those states is no longer in its workflow. Choose again.", "states")


def reaches(joins: Mapping[str, Collection[str]], start: str) -> set[str]:
    """All that a portfolio joins, along any number of portfolios, itself left out unless it is reached again.

    Args:
        joins: by portfolio the projects that it joins.
    """
    found: set[str] = set()
    ways = list(joins.get(start, ()))
    while ways:
        one = ways.pop()
        if one not in found:
            found.add(one)
            ways += joins.get(one, ())
    return found


def check_no_circle(joins: Mapping[str, Collection[str]], portfolio_id: str, joined: Project) -> None:
    """Raises RuleError where a portfolio would contain itself."""
    if joined.id == portfolio_id or portfolio_id in reaches(joins, joined.id):
        raise RuleError(f"{joined.code} contains this portfolio, so it cannot be a part of it. Choose another.", "code")


def all_parts(
    every: Mapping[str, list[Part]], projects: Mapping[str, Project], portfolio: Project
) -> list[tuple[Part, int, Project | None]]:
    """The parts in their order, each behind the portfolio by which it comes in; a project that comes in twice is shown once."""
    found: list[tuple[Part, int, Project | None]] = []
    seen = {portfolio.id}
    waiting: list[tuple[Part, int, Project | None]] = [(part, 0, None) for part in reversed(every.get(portfolio.id, ()))]
    while waiting:
        part, depth, through = waiting.pop()
        joined = projects.get(part.part_id)
        if joined is None or joined.id in seen or joined.archived_at is not None:
            continue
        seen.add(joined.id)
        found.append((part, depth, through))
        waiting += [(one, depth + 1, joined) for one in reversed(every.get(joined.id, ()))]
    return found


def chosen(plan: Plan, shows: str) -> list[Row]:
    """The rows of a plan that a portfolio shows, in outline order: of deliverables and kinds the topmost, of a level all that
    stand on it and what ends above it; of a portfolio, itself or a part, its larger items."""
    found: list[Row] = []
    if shows == LARGER_ITEMS:
        return [row for row, _, _ in plan.ordered() if not row.is_summary][:MOST_ITEMS]
    if shows.startswith(LEVEL):
        level = int(shows.removeprefix(LEVEL))
        found = [row for row, depth, _ in plan.ordered() if depth == level - 1 or (depth < level - 1 and not row.is_summary)]
        return found[:MOST_ITEMS]
    kind = "deliverable" if shows == DELIVERABLES else shows.removeprefix(KIND)
    below: int | None = None
    for row, depth, _ in plan.ordered():
        if below is not None and depth > below:
            continue
        below = None
        if row.task.kind == kind:
            found.append(row)
            below = depth
            if len(found) == MOST_ITEMS:
                break
    return found


def column_of(row: Row, part: Part | None, columns: Iterable[State]) -> str | None:
    """The state of the portfolio in whose column a row stands: that which its own state is mapped to, else the first of its
    class. None where there is none, such as for what was dropped.

    Args:
        part: None for the portfolio's own items: these stand in their own state, or where it is of another workflow by class.
        columns: the states of the portfolio's main workflow, in order.
    """
    states = list(columns)
    mapped = row.state_id if part is None else part.states.get(row.state_id)
    if mapped is not None and any(one.id == mapped for one in states) and not row.is_summary:
        return mapped
    return next((one.id for one in states if one.state_class == row.state_class), None)


def is_troubled(row: Row, health: Health, past: int | None) -> bool:
    """True for an open item that is late, held, slipping, or expected after what was promised.

    Args:
        past: working days by which it is expected after that; None where nothing was promised.
    """
    return row.state_class in OPEN_CLASSES and bool(row.late_days or row.held or (past or 0) > 0 or health == "slipping")


def health_of_tied(own: Health, past: int | None, tied: Iterable[Health]) -> Health:
    """Health of an open item that is tied to work of the parts: where it has no dates of its own to be judged by, slipping when
    that work is expected after what was promised, strained when any of it is strained or slipping, else as that stands.

    Args:
        tied: of the work that it is tied to.
    """
    if own != "not_judged":
        return own
    held = set(tied)
    if (past or 0) > 0:
        return "slipping"
    if held & {"slipping", "strained"}:
        return "strained"
    return "steady" if "steady" in held else "not_judged"
