"""What a portfolio shows, as its reader may see it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Any

from pymysql.cursors import Cursor

from ...core.overview.readings import forecast_finish
from ...core.people.access import may_in_project
from ...core.portfolio.blocking import Blocker, forecasts, what_holds_up
from ...core.portfolio.parts import LARGER_ITEMS, Part, chosen, column_of, health_of_tied, is_troubled
from ...core.schedule.agreed import agreed_finish, variance, whole_days
from ...core.schedule.plan import Plan, Row
from ...core.tasks.health import project_health
from ...core.tasks.model import OPEN_CLASSES, Health, Project
from ...core.views.tied import tied_to
from ...store.portfolio import parts as part_rows
from ...store.tasks import projects as project_rows
from ..board.limits import lanes_in
from ..common.context import Actor
from ..common.pipeline import worries_of
from ..common.plan_cache import PLANS, CachedPlan
from ..tasks.projects import every_visible_project
from .parts import open_portfolio


@dataclass(frozen=True, slots=True)
class Item:
    """A larger item of the portfolio, or of a part what is shown of it.

    Attributes:
        project: in which it is a task.
        column: the state of the portfolio in whose column it stands; None where it stands in none.
        start: of its own; of an item that is tied and has none the earliest of what it is tied to.
        expected: when it is expected to finish: of what is tied when that is. ``promised``: the agreed finish, else the deadline;
            ``past`` by how many working days it is expected after that.
        blocker: what holds it up, and ``blocks_in`` the project in which that is.
        needs: ids of other items of the same part that it waits for, or that something under it waits for.
        tied: ids of tasks of other projects that it is tied to, whoever may see them.
        judged: its health, where that is not its own.
        lane: of the portfolio's own board; None where no lane takes it, and for items of parts.
    """

    project: Project
    row: Row
    state: str
    column: str | None
    start: datetime | None
    expected: datetime | None
    promised: datetime | None
    past: int | None
    blocker: Blocker | None
    blocks_in: Project
    needs: tuple[str, ...] = ()
    tied: tuple[str, ...] = ()
    lane: str | None = None
    judged: Health | None = None

    @property
    def health(self) -> Health:
        """As it is judged: of an item without dates that is tied by what it is tied to."""
        return self.judged or self.row.health

    @property
    def troubled(self) -> bool:
        """True where it asks for attention."""
        return is_troubled(self.row, self.health, self.past)


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


@dataclass(frozen=True, slots=True)
class _Shown:
    """What is found of a plan once, for whoever reads it."""

    rows: list[Row]
    expected: Mapping[str, datetime]
    blockers: Mapping[str, Blocker | None]
    needs: Mapping[str, tuple[str, ...]]


def read_portfolio(cur: Cursor, actor: Actor, code: str) -> Portfolio:
    """The items of a portfolio and of its parts, to any depth, with what holds each up."""
    portfolio = open_portfolio(cur, actor, code, "see")
    held = PLANS.at(cur, portfolio, actor.clock.now())
    columns = held.plan.project.states_of(None)
    lanes = held.answers.once(("main lanes",), lambda: _main_lanes(held.plan))
    larger = _shown(held, LARGER_ITEMS)
    own = [_item(held.plan, row, None, columns, larger) for row in larger.rows]
    items = [replace(one, lane=lanes.get(one.row.task.id)) for one in own]
    there_is: list[tuple[Plan, _Shown, bool]] = []
    visible = every_visible_project(cur, actor)
    every = part_rows.every_part(cur)
    projects = project_rows.projects_by_id(cur, {part.part_id for some in every.values() for part in some})
    lines: list[PartLine] = []
    hidden_parts = hidden_items = 0
    for part, depth, through in _all_parts(every, projects, portfolio):
        joined = projects[part.part_id]
        there = PLANS.at(cur, joined, actor.clock.now())
        shown = _shown(there, LARGER_ITEMS if joined.portfolio else part.shows)
        there_is.append((there.plan, shown, joined.id in visible))
        if joined.id not in visible:
            hidden_parts += 1
            hidden_items += len(shown.rows)
            continue
        mapped = part if part.portfolio_id == portfolio.id else replace(part, states={})
        items += [_item(there.plan, row, mapped, columns, shown) for row in shown.rows]
        way = through.code if through is not None and through.id in visible else ""
        lines.append(_line(cur, actor, there, mapped, depth, way, visible[joined.id][1], len(shown.rows)))
    items = [_with_ties(one, there_is) if one.tied else one for one in items]
    return Portfolio(held.plan.project, items, lines, hidden_parts, hidden_items)


def _main_lanes(plan: Plan) -> dict[str, str]:
    main = {lane.id for lane in plan.project.lanes if lane.workflow is None}
    return {task: lane for task, lane in lanes_in(plan).items() if lane in main}


def _with_ties(item: Item, there_is: Sequence[tuple[Plan, _Shown, bool]]) -> Item:
    """An item that is tied to work of the parts is expected when that is, and held up by what holds up the last of it."""
    if item.row.state_class not in OPEN_CLASSES:
        return item
    tied = [
        (shown.expected.get(one), plan.rows[one], plan, shown, seen)
        for plan, shown, seen in there_is
        for one in item.tied
        if one in plan.rows
    ]
    starts = [row.start for _, row, *_ in tied if row.start] if item.row.start is None else [item.row.start]
    item = replace(item, start=min(starts, default=None))
    still = [one for one in tied if one[0] is not None and one[1].state_class in OPEN_CLASSES]
    if still:
        at, row, plan, shown, seen = max(still, key=lambda one: one[0] or datetime.min)
        past = whole_days(variance(at, item.promised, plan.calendar), plan.calendar) if item.promised else None
        blocker = what_holds_up(plan, row.task.id, shown.expected) if seen else None
        item = replace(item, expected=at, past=past, blocker=blocker, blocks_in=plan.project)
    return replace(item, judged=health_of_tied(item.row.health, item.past, [row.health for _, row, *_ in tied]))


def _all_parts(
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


def _shown(held: CachedPlan, shows: str) -> _Shown:
    return held.answers.once(("portfolio", shows), lambda: _find(held.plan, shows))


def _find(plan: Plan, shows: str) -> _Shown:
    rows = chosen(plan, shows)
    expected = forecasts(plan)
    blockers = {row.task.id: what_holds_up(plan, row.task.id, expected) for row in rows}
    return _Shown(rows, expected, blockers, _needs(plan, rows))


def _needs(plan: Plan, rows: Sequence[Row]) -> dict[str, tuple[str, ...]]:
    """By item the others that it, or what stands below it, waits for."""
    item_of: dict[str, str] = {}
    for row in rows:
        for one in [row.task.id, *plan.outline.below(row.task.id)]:
            item_of.setdefault(one, row.task.id)
    found: dict[str, dict[str, None]] = {}
    for one, item in item_of.items():
        for link in plan.tasks[one].waits_for:
            other = item_of.get(link.from_id)
            if other is not None and other != item:
                found.setdefault(item, {})[other] = None
    return {item: tuple(others) for item, others in found.items()}


def _item(plan: Plan, row: Row, part: Part | None, columns: Sequence[Any], shown: _Shown) -> Item:
    task_id = row.task.id
    is_open = row.state_class in OPEN_CLASSES
    expected = shown.expected.get(task_id) if is_open else row.finish
    promised = row.agreed.finish if row.agreed and row.agreed.finish else row.task.deadline
    past = whole_days(variance(expected, promised, plan.calendar), plan.calendar) if promised and expected else None
    tied = tuple(one for some in tied_to(plan, task_id).values() for one in some)
    state = plan.project.state_label(plan.project.state(row.state_id))
    return Item(
        plan.project, row, state, column_of(row, part, columns), row.start, expected, promised, past, shown.blockers[task_id],
        plan.project, shown.needs.get(task_id, ()), tied,
    )  # fmt: skip


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
