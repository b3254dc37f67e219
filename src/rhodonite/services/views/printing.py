"""The schedule on paper."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from pymysql.cursors import Cursor

from ...core.views.catalogue import Catalogue
from ...core.views.scope import Scope, select
from ...core.views.tints import Tint, colouring, tells_money
from ...formats.drawing.schedule import Layout, SchedulePrint
from ...store.people import people as people_rows
from ..common.context import Actor, open_project
from ..common.plan_cache import open_draft, see_plan
from ..cost.costs import shown_money
from ..people.teams import viewer_of


@dataclass(frozen=True, slots=True)
class Printed:
    """What is printed, under which title, and when."""

    schedule: SchedulePrint
    title: str
    at: datetime


def print_schedule(cur: Cursor, actor: Actor, code: str, scope: Scope, layout: Layout, tints: Sequence[Tint]) -> Printed:
    """Put the tasks within a scope on pages, coloured by tints. Raises RuleError where that cannot be."""
    project = open_project(cur, actor, code, "see")
    draft = open_draft(cur, actor, project, actor.draft).name if actor.draft else ""
    everybody, now = people_rows.all_people(cur), actor.clock.now()
    held = see_plan(cur, actor, project)
    plan, viewer, money = held.plan, viewer_of(cur, actor), shown_money(cur, actor, held)
    ids = None if scope == Scope() else select(plan, scope, viewer, money).ids
    within = plan.rows.values() if ids is None else [plan.rows[one] for one in ids]
    tints = [one for one in tints if money is not None or not tells_money(one)]
    coloured = colouring(list(within), tints, Catalogue(plan, {one.id: one.name for one in everybody}, money=money), viewer)
    schedule = SchedulePrint(plan, ids, {one.id: one.short for one in everybody}, layout, now, draft, coloured)
    return Printed(schedule, f"{project.code} {project.name}: schedule", now)
