"""What the tasks of each project cost, held in memory: after a change only those that changed are reckoned again."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from pymysql.cursors import Cursor

from ...core.cost.costs import CostLine, Costs, Expense, Ground, lines_in_bin, lines_of, sum_up
from ...core.cost.money import Prices, prices_of, to_minor
from ...core.people.access import may_in_project
from ...core.schedule.plan import Plan
from ...core.tasks.model import Project
from ...store.cost import money as rows
from ...store.resources import bookable as resource_rows
from ...store.resources import rates as rate_rows
from ...store.tasks import projects as project_rows
from ..common.context import Actor
from ..common.held import Held
from ..common.plan_cache import CachedPlan
from ..resources.capacity import read_capacities
from ..time.ledger import ledger_of

MOST_PROJECTS = 200
FEW = 500
"""Tasks up to which those that changed are read one by one."""


@dataclass(frozen=True, slots=True)
class Book:
    """What the tasks of a project cost at a revision.

    Attributes:
        mark: of rates and capacities; ``day``: for which it was reckoned; ``settings``: currency, exchange rate, what is on.
        summaries: the tasks that had others below them.
        lines: by task what each person and resource costs on it, of those that cost anything.
        expenses: by task.
        ground: from what it was reckoned.
    """

    revision: int
    mark: str
    day: date
    settings: tuple[object, ...]
    summaries: frozenset[str]
    lines: Mapping[str, Sequence[CostLine]]
    expenses: Mapping[str, Sequence[Expense]]
    ground: Ground


_held: Held[Book] = Held("book", MOST_PROJECTS)


def currency_of(cur: Cursor, project: Project) -> str:
    """The currency of a project: its own, or that of the organisation."""
    return project.currency or resource_rows.common(cur).currency


def prices_in(cur: Cursor, project: Project, kind: str) -> Prices:
    """What an hour or unit costs, or is charged at, in the currency of a project."""
    own = frozenset(one.id for one in read_capacities(cur).staff.resources if one.project_id == project.id)
    currency = currency_of(cur, project)
    foreign = project.currency is not None and project.currency != resource_rows.common(cur).currency
    return prices_of(rate_rows.rates(cur), kind, currency, project.exchange if foreign else Decimal(1), own)


def may_see_costs(cur: Cursor, actor: Actor, project: Project) -> bool:
    """True where a person may see what a project costs."""
    return may_in_project(actor.role_in(project, project_rows.members(cur, project.id).get(actor.person.id)), "see_costs")


def book_of(cur: Cursor, held: CachedPlan) -> Book:
    """The book of a plan: read once for each revision, day and set of rates."""
    mark, day = read_capacities(cur).mark, held.plan.now.date()
    return held.answers.once(("book", mark, day), lambda: _followed(cur, held, mark, day))


def costs_of(cur: Cursor, held: CachedPlan) -> Costs:
    """What a plan costs, summed up its tree."""
    book = book_of(cur, held)
    return held.answers.once(("costs", book.mark, book.day), lambda: sum_up(held.plan, book.lines))


def _followed(cur: Cursor, held: CachedPlan, mark: str, day: date) -> Book:
    plan, revision = held.plan, held.mark.revision
    project = plan.project
    settings = (currency_of(cur, project), project.exchange, project.time, project.meta_revision)
    if held.mark.version:  # a draft: the tasks that differ in it carry no revision, so all are reckoned
        return _reckon(cur, held, mark, day, settings, None, None)
    before = _held.get(cur, project.id)
    follows = (
        before is not None and before.revision <= revision and (before.mark, before.day, before.settings) == (mark, day, settings)
    )
    changed = _changed(plan, before) if before is not None and follows else None
    made = _reckon(cur, held, mark, day, settings, before, changed if changed is not None and len(changed) <= FEW else None)
    if before is None or before.revision <= revision:
        _held.put(cur, project.id, made)
    return made


def _summaries(plan: Plan) -> frozenset[str]:
    return frozenset(one for one, children in plan.outline.children.items() if one is not None and children)


def _changed(plan: Plan, before: Book) -> set[str]:
    """The tasks that changed since, and those that have tasks below them now and had not, or the reverse."""
    return {one.id for one in plan.tasks.values() if one.revision > before.revision} | (before.summaries ^ _summaries(plan))


def _reckon(
    cur: Cursor, held: CachedPlan, mark: str, day: date, settings: tuple[object, ...], before: Book | None,
    changed: Collection[str] | None,
) -> Book:  # fmt: skip
    """The book of a plan; with ``changed`` only those tasks are reckoned, and the rest is taken from before."""
    plan, capacities = held.plan, read_capacities(cur)
    ground = before.ground if before and changed is not None else None
    ground = ground or Ground(prices_in(cur, plan.project, "cost"), capacities.by_who, capacities.usual)
    entries = ledger_of(cur, held).by_task
    found: dict[str, list[Expense]] = defaultdict(list)
    for one in rows.expenses(cur, plan.project.id, changed):
        found[one.task_id].append(one)
    expenses: Mapping[str, Sequence[Expense]] = found
    kept: dict[str, Sequence[CostLine]] = {}
    if before is not None and changed is not None:
        gone = set(changed)
        kept = {one: lines for one, lines in before.lines.items() if one not in gone}
        expenses = {one: some for one, some in before.expenses.items() if one not in gone} | found
    kept = {one: lines for one, lines in kept.items() if one in plan.rows}
    for task_id in (entries.keys() | expenses.keys()) - plan.rows.keys():
        kept[task_id] = lines_in_bin(plan, ground.prices, entries.get(task_id, ()), expenses.get(task_id, ()))
    for task_id in plan.rows if changed is None else changed:
        if task_id not in plan.rows:
            continue
        lines = lines_of(plan.tasks[task_id], plan, ground, entries.get(task_id, ()), expenses.get(task_id, ()))
        if lines:
            kept[task_id] = lines
    return Book(held.mark.revision, mark, day, settings, _summaries(plan), kept, expenses, ground)


def budgets_of(cur: Cursor, held: CachedPlan) -> dict[str, int]:
    """By the id of the project or of a task what it may cost, in minor units."""
    decimals = book_of(cur, held).ground.prices.decimals
    return {one: to_minor(amount, decimals) for one, amount in rows.budgets(cur, held.plan.project.id).items()}
