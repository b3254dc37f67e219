"""The board on paper."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from pymysql.cursors import Cursor

from ...core.board.on_paper import OWN_LANES, PaperBoard, boards_on_paper, fitting, slips_of
from ...core.common.counts import count_of
from ...core.common.dates import say_day
from ...core.views.catalogue import Catalogue
from ...core.views.scope import Scope, select
from ...store.people import people as people_rows
from ..common.context import Actor, open_project
from ..common.plan_cache import open_draft, see_plan
from ..cost.costs import shown_money
from ..people.teams import viewer_of
from .limits import lanes_in


@dataclass(frozen=True, slots=True)
class PrintedBoard:
    """The boards of a project, under which title and with which words; ``people``: short names by id."""

    boards: list[PaperBoard]
    title: str
    said: str
    people: dict[str, str]
    at: datetime


def print_board(cur: Cursor, actor: Actor, code: str, scope: Scope, by: str, days: int) -> PrintedBoard:
    """The board as it goes on paper.

    Args:
        by: what makes the rows: ``none``, ``lanes``, ``parent``, or the key of a field.
        days: for how many finished work stays.

    Raises:
        RuleError: a clause or the rows name a field that there is none of.
    """
    project = open_project(cur, actor, code, "see")
    draft = open_draft(cur, actor, project, actor.draft).name if actor.draft else ""
    everybody, now = people_rows.all_people(cur), actor.clock.now()
    held = see_plan(cur, actor, project)
    plan, money = held.plan, shown_money(cur, actor, held)
    ids = select(plan, scope, viewer_of(cur, actor), money).ids
    found = slips_of((plan.rows[one] for one in ids), now.date(), days)
    slips = fitting(found)
    columns = Catalogue(plan, {one.id: one.name for one in everybody})
    lanes = lanes_in(plan) if by == OWN_LANES else {}
    boards = boards_on_paper(plan, slips, by, lanes, columns)
    many = count_of(len(slips), "slip") if len(slips) == len(found) else f"the first {len(slips):,} of {len(found):,} slips"
    said = f"{many}, {say_day(now.date())} {now.year}" + (f", draft {draft}" if draft else "")
    return PrintedBoard(boards, f"{project.code} {project.name}: board", said, {one.id: one.short for one in everybody}, now)
