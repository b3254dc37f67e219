"""A portfolio as a table and on paper: of what its reader may see."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date

from pymysql.cursors import Cursor

from ...core.portfolio.items import Item
from ...core.portfolio.readings import ItemLine, PartOnPaper, chain_of, day_of, say_part
from ...core.tasks.custom_fields import kind_name
from ...store.people import people as people_rows
from ..common.context import Actor
from .shown import PartLine, Portfolio, read_portfolio

HEADS = (
    "Project", "Number", "Item", "Kind", "State", "Owner", "Health", "Percent", "Start", "Expected", "Promised", "Days past", "Held",
    "Marks", "Hinges on", "Why",
)  # fmt: skip


def items_out(cur: Cursor, actor: Actor, code: str) -> list[list[str]]:
    """All items of a portfolio that a person sees, its own first, then those of its parts."""
    names = _names(cur)
    lines = [line_of(one, names) for one in read_portfolio(cur, actor, code).items]
    return [
        [
            one.code, str(one.number), one.title, one.kind, one.state, one.owner, one.health.replace("_", " "), str(one.percent), _day(one.start),
            _day(one.expected), _day(one.promised), "" if one.past is None else str(one.past), one.held, ", ".join(one.marks),
            " › ".join(one.holds_up), one.why,
        ]
        for one in lines
    ]  # fmt: skip


def _names(cur: Cursor) -> dict[str, str]:
    return {one.id: one.name for one in people_rows.all_people(cur)}


def _day(day: date | None) -> str:
    return day.isoformat() if day else ""


def line_of(one: Item, names: Mapping[str, str]) -> ItemLine:
    """An item in words.

    Args:
        names: of people, by id.
    """
    row, task, project = one.row, one.row.task, one.project
    return ItemLine(
        project.code,
        task.number,
        task.title,
        kind_name(task.kind, project),
        one.state,
        row.state_class,
        names.get(task.owner_id or "", ""),
        one.health,
        row.percent,
        day_of(one.start),
        day_of(one.expected or row.finish),
        day_of(one.promised),
        one.past,
        row.held or "",
        tuple(mark.name for mark in project.marks if mark.id in task.marks),
        chain_of(one.blocker, task.id),
        one.blocker.why if one.blocker else "",
        one.troubled,
    )


def on_paper(cur: Cursor, actor: Actor, code: str) -> tuple[Portfolio, list[PartOnPaper]]:
    """A portfolio as it is printed: its own items, then each part with what is shown of it."""
    found = read_portfolio(cur, actor, code)
    names, today = _names(cur), actor.clock.now().date()
    items: dict[str, list[ItemLine]] = {}
    for one in found.items:
        items.setdefault(one.project.id, []).append(line_of(one, names))
    parts = [_on_paper(one, items, today) for one in found.parts]
    if own := items.get(found.project.id):
        parts.insert(0, PartOnPaper(found.project.code, "Larger items", 0, None, "", own))
    return found, parts


def _on_paper(one: PartLine, items: Mapping[str, list[ItemLine]], today: date) -> PartOnPaper:
    at = day_of(one.expected or one.finish)
    far = say_part(one.percent, at, one.agreed_days, one.agreed is not None, one.late, one.held, today)
    return PartOnPaper(one.project.code, one.project.name, one.depth, one.health, far, items.get(one.project.id, ()))
