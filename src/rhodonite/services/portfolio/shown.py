"""What a portfolio shows, as its reader may see it."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime

from pymysql.cursors import Cursor

from ...core.overview.readings import forecast_finish
from ...core.people.access import may_in_project
from ...core.portfolio.items import Item, Shown, There, find, item_of, with_ties
from ...core.portfolio.parts import LARGER_ITEMS, Part, all_parts
from ...core.schedule.agreed import agreed_finish, variance, whole_days
from ...core.schedule.plan import Plan
from ...core.tasks.health import project_health
from ...core.tasks.model import Health, Project
from ...store.portfolio import parts as part_rows
from ...store.tasks import projects as project_rows
from ..board.limits import lanes_in
from ..common.context import Actor
from ..common.pipeline import worries_of
from ..common.plan_cache import PLANS, CachedPlan
from ..tasks.projects import every_visible_project
from .parts import open_portfolio


@dataclass(frozen=True, slots=True)
class PartLine:
    """A part as a whole.

    Attributes:
        depth: 0 for parts of the portfolio itself, 1 for those of a portfolio that it joins, and so on.
        through: the code of the portfolio by which it comes in; empty for the portfolio itself, and where the reader may not see
            that.
    """

    part: Part
    project: Project
    depth: int
    through: str
    role: str
    health: Health
    percent: int
    start: datetime | None
    finish: datetime | None
    expected: datetime | None
    agreed: datetime | None
    agreed_days: int
    late: int
    held: int
    items: int


@dataclass(frozen=True, slots=True)
class Portfolio:
    """A portfolio at one moment, as one reader may see it.

    Attributes:
        items: its own first, then those of the parts in their order.
        hidden_parts, hidden_items: how many more there are.
    """

    project: Project
    items: list[Item]
    parts: list[PartLine]
    hidden_parts: int
    hidden_items: int


def read_portfolio(cur: Cursor, actor: Actor, code: str) -> Portfolio:
    """The items of a portfolio and of its parts, to any depth, with what holds each up."""
    portfolio = open_portfolio(cur, actor, code, "see")
    held = PLANS.at(cur, portfolio, actor.clock.now())
    columns = held.plan.project.states_of(None)
    lanes = held.answers.once(("main lanes",), lambda: _main_lanes(held.plan))
    larger = _shown(held, LARGER_ITEMS)
    own = [item_of(held.plan, row, None, columns, larger) for row in larger.rows]
    items = [replace(one, lane=lanes.get(one.row.task.id)) for one in own]
    there_is: list[There] = []
    visible = every_visible_project(cur, actor)
    every = part_rows.every_part(cur)
    projects = project_rows.projects_by_id(cur, {part.part_id for some in every.values() for part in some})
    lines: list[PartLine] = []
    hidden_parts = hidden_items = 0
    for part, depth, through in all_parts(every, projects, portfolio):
        joined = projects[part.part_id]
        there = PLANS.at(cur, joined, actor.clock.now())
        shown = _shown(there, LARGER_ITEMS if joined.portfolio else part.shows)
        there_is.append(There(there.plan, shown, joined.id in visible))
        if joined.id not in visible:
            hidden_parts += 1
            hidden_items += len(shown.rows)
            continue
        mapped = part if part.portfolio_id == portfolio.id else replace(part, states={})
        items += [item_of(there.plan, row, mapped, columns, shown) for row in shown.rows]
        way = through.code if through is not None and through.id in visible else ""
        lines.append(_line(cur, actor, there, mapped, depth, way, visible[joined.id][1], len(shown.rows)))
    return Portfolio(held.plan.project, with_ties(items, there_is), lines, hidden_parts, hidden_items)


def _main_lanes(plan: Plan) -> dict[str, str]:
    main = {lane.id for lane in plan.project.lanes if lane.workflow is None}
    return {task: lane for task, lane in lanes_in(plan).items() if lane in main}


def _shown(held: CachedPlan, shows: str) -> Shown:
    return held.answers.once(("portfolio", shows), lambda: find(held.plan, shows))


def _line(cur: Cursor, actor: Actor, held: CachedPlan, part: Part, depth: int, through: str, role: str, items: int) -> PartLine:
    plan, sums = held.plan, held.plan.sums()
    expected, _ = forecast_finish(plan)
    agreed = agreed_finish(plan.agreed)
    days = whole_days(variance(expected or sums.finish, agreed, plan.calendar), plan.calendar)
    health = project_health(sums, plan.now, worries_of(cur, actor, plan.project))
    return PartLine(
        part, plan.project, depth, through, role, health, sums.percent, sums.start, sums.finish, expected, agreed, days, sums.late,
        sums.held, items,
    )  # fmt: skip


def may_mark(line_role: str, project: Project) -> bool:
    """True where somebody with a role may put marks on tasks of a part."""
    return may_in_project(line_role, "edit") and project.archived_at is None
