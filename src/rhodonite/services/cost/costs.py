"""What projects and tasks cost, for who may see it."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from pymysql.cursors import Cursor

from ...core.common.currencies import decimals_of
from ...core.common.errors import Missing
from ...core.cost.budgets import Standing, Worry, standing_of, worry_of
from ...core.cost.costs import Cost, CostLine, Costs, Expense, lines_of
from ...core.cost.earned import CurvePoint, EarnedValue, agreed_below, agreed_costs, curves, measure, spent_by_day
from ...core.cost.effects import MoneyEffect, money_effect
from ...core.cost.money import to_amount, to_minor
from ...core.cost.months import MonthCost, by_month
from ...core.cost.readings import say_cost, say_estimates
from ...core.cost.shown import Money
from ...core.people.access import may_in_project
from ...core.schedule.plan import Plan
from ...core.tasks.model import Fields, Project, Task
from ...store.common import journal as journal_rows
from ...store.common.database import from_json
from ...store.cost import money as rows
from ..common.context import Actor, open_project, open_task
from ..common.left_out import Counted, Format, leaves_out
from ..common.pipeline import knows_budget, knows_planned_cost, says_what_it_costs
from ..common.plan_cache import PLANS, CachedPlan, see_plan
from ..time.ledger import ledger_of
from .book import Book, book_of, budgets_of, costs_of, currency_of, may_see_costs
from .budgets import check_reckons


@dataclass(frozen=True, slots=True)
class CostsPage:
    """The costs of a project at one revision.

    Attributes:
        budgets: by the id of the project or of a task, in minor units.
        agreed: by task its agreed cost with all below it; of the project under its id; empty where none was agreed.
        decimals: of the currency.
    """

    held: CachedPlan
    book: Book
    costs: Costs
    budgets: Mapping[str, int]
    agreed: Mapping[str, int]
    currency: str
    decimals: int

    def standing(self, subject_id: str, cost: Cost) -> Standing:
        """How a cost stands against its budget, or where it has none against what was agreed."""
        return standing_of(cost, self.budgets.get(subject_id), self.agreed.get(subject_id))


def read_costs(cur: Cursor, actor: Actor, code: str) -> CostsPage:
    """What a project costs: planned, spent, to come, by task and by person.

    Raises:
        Missing, Forbidden: the person may not see it.
        RuleError: the project reckons no cost.
    """
    project = open_project(cur, actor, code, "see_costs")
    check_reckons(project)
    return page_of(cur, project, see_plan(cur, actor, project))


def page_of(cur: Cursor, project: Project, held: CachedPlan) -> CostsPage:
    """The same of a plan that was taken in hand, whoever asks."""
    currency = currency_of(cur, project)
    book = book_of(cur, held)
    own = held.answers.once(("agreed costs", currency), lambda: _agreed(held.plan, decimals_of(currency)))
    agreed = held.answers.once(("agreed below", currency), lambda: agreed_below(held.plan, own))
    return CostsPage(held, book, costs_of(cur, held), budgets_of(cur, held), agreed, currency, decimals_of(currency))


def _agreed(plan: Plan, decimals: int) -> dict[str, int]:
    return agreed_costs(plan, lambda amount: to_minor(amount, decimals))


@dataclass(frozen=True, slots=True)
class Months:
    """Costs by month, and people and resources with what each costs, the most first."""

    currency: str
    decimals: int
    months: list[MonthCost]
    who: list[CostLine]


def read_months(cur: Cursor, actor: Actor, code: str) -> Months:
    """What a project costs by month, and by person and resource. Raises as ``read_costs``."""
    page = read_costs(cur, actor, code)
    book, held = page.book, page.held

    def reckon() -> list[MonthCost]:
        return by_month(held.plan, book.lines, book.ground, ledger_of(cur, held).by_task, book.expenses)

    months = held.answers.once(("months", book.mark, book.day), reckon)
    who = sorted(page.costs.by_who.values(), key=lambda one: (-one.cost.at_completion, -one.cost.planned, one.who))
    return Months(page.currency, page.decimals, months, who)


@dataclass(frozen=True, slots=True)
class Earned:
    """Earned value today, with its curves; the figures are None where no cost was agreed."""

    currency: str
    decimals: int
    value: EarnedValue | None
    curve: list[CurvePoint]
    estimates: str = ""
    """Why EAC differs from what the plan gives at completion."""


def read_earned(cur: Cursor, actor: Actor, code: str) -> Earned:
    """Earned value of a project from its current agreed plan. Raises as ``read_costs``."""
    page = read_costs(cur, actor, code)
    held, plan = page.held, page.held.plan
    own = _agreed(plan, page.decimals)
    if not own:
        return Earned(page.currency, page.decimals, None, [])

    def draw() -> tuple[EarnedValue, list[CurvePoint]]:
        percents: dict[str, list[tuple[date, int]]] = defaultdict(list)
        for task_id, at, new in journal_rows.field_history(cur, plan.project.id, "percent"):
            percents[task_id].append((actor.clock.local(at).date(), int(from_json(new) or 0)))
        in_bin = {one: changes[-1][1] for one, changes in percents.items() if one not in plan.rows}
        value = measure(plan, own, page.costs.whole.spent, actor.clock.now(), in_bin)
        book = page.book
        spent = spent_by_day(plan, book.lines, book.ground.prices, ledger_of(cur, held).by_task, book.expenses)
        points = curves(plan, own, percents, spent, actor.clock.now().date(), value)
        return value, points

    value, points = held.answers.once(("earned", page.book.mark, actor.clock.now().date()), draw)
    ends = page.costs.whole.at_completion
    said = say_estimates(value.eac, ends, page.decimals, page.currency) if value.eac is not None else ""
    return Earned(page.currency, page.decimals, value, points, said)


@dataclass(frozen=True, slots=True)
class TaskCost:
    """What one task costs.

    Attributes:
        page: None for who may not see cost: they are told of the expenses that they entered themselves, and nothing else.
        lines: by person and resource, of the task itself.
        below: with all below it.
    """

    project: Project
    task: Task
    page: CostsPage | None
    lines: Sequence[CostLine]
    below: Cost
    expenses: list[Expense]
    may_enter: bool
    leads: bool


def read_task_cost(cur: Cursor, actor: Actor, task_id: str) -> TaskCost:
    """What a task costs, by person and resource, with what was used and spent on it."""
    project = open_task(cur, actor, task_id)
    held = see_plan(cur, actor, project)
    task = held.plan.tasks.get(task_id)
    if task is None or task_id not in held.plan.rows:
        raise Missing("task")
    role = actor.role_in(project, held.plan.project.members.get(actor.person.id))
    enters = project.costs and project.archived_at is None and may_in_project(role, "edit") and actor.draft is None
    expenses = rows.expenses(cur, project.id, [task_id])
    if not may_see_costs(cur, actor, project):
        mine = [one for one in expenses if one.person_id == actor.person.id]
        return TaskCost(held.plan.project, task, None, (), Cost(), mine, enters, False)
    page = page_of(cur, project, held)
    entries = ledger_of(cur, held).by_task.get(task_id, ())
    lines = lines_of(task, held.plan, page.book.ground, entries, expenses)
    return TaskCost(
        held.plan.project, task, page, lines, page.costs.below[task_id], expenses, enters, may_in_project(role, "manage")
    )


@knows_planned_cost
def planned_costs(cur: Cursor, held: CachedPlan) -> dict[str, Decimal]:
    """By task what it is planned to cost, those below it left out: for a plan that is agreed."""
    book = book_of(cur, held)
    return {one: to_amount(cost.planned, book.ground.prices.decimals) for one, cost in costs_of(cur, held).of_task.items()}


def shown_money(cur: Cursor, actor: Actor, held: CachedPlan) -> Money | None:
    """What the tasks of a plan cost, as columns and sentences show it; None for who may not see it, and where a project reckons
    no cost."""
    project = held.plan.project
    if not project.costs or not may_see_costs(cur, actor, project):
        return None
    page = page_of(cur, project, held)
    return Money(page.currency, page.decimals, page.costs.below, page.budgets, page.agreed)


@knows_budget
def on_budget(cur: Cursor, actor: Actor, project: Project) -> Worry:
    """Whether the budget of a project is passed at completion, or nearly: for who may see what it costs. Health that says so
    to others would tell them too."""
    if not project.costs:
        return ""
    budget = rows.budgets(cur, project.id).get(project.id)
    if budget is None or not may_see_costs(cur, actor, project):
        return ""
    held = PLANS.at(cur, project, actor.clock.now())
    decimals = book_of(cur, held).ground.prices.decimals
    return worry_of(costs_of(cur, held).whole.at_completion, to_minor(budget, decimals))


@says_what_it_costs
def on_money(cur: Cursor, actor: Actor, plan: Plan, after: Mapping[str, Task], moves: Mapping[str, Fields]) -> MoneyEffect | None:
    """What a change of tasks does to money, for who may see it."""
    project = plan.project
    held = PLANS.holding(cur, plan)
    if held is None or not may_see_costs(cur, actor, project):
        return None
    book = book_of(cur, held)
    entries = ledger_of(cur, held).by_task
    return money_effect(plan, after, moves, costs_of(cur, held), book.ground, entries, book.expenses, budgets_of(cur, held),
                        currency_of(cur, project))  # fmt: skip


def cost_reading(cur: Cursor, actor: Actor, held: CachedPlan, task_id: str | None = None) -> str:
    """What a project, or a task of it, costs in a sentence; nothing for who may not see it."""
    project = held.plan.project
    if not project.costs or not may_see_costs(cur, actor, project):
        return ""
    page = page_of(cur, project, held)
    cost = page.costs.whole if task_id is None else page.costs.below.get(task_id, Cost())
    return say_cost(cost, page.standing(task_id or project.id, cost), page.decimals, page.currency)


@leaves_out
def _money_left_out(cur: Cursor, actor: Actor, plan: Plan, _into: Format) -> Iterable[Counted]:
    """Expenses and budgets: they have tables of their own. Sums are left out for who may not see cost."""
    if may_see_costs(cur, actor, plan.project):
        yield len(rows.expenses(cur, plan.project.id)), "expense", "expenses"
        yield len(rows.budgets(cur, plan.project.id)), "budget", "budgets"
    elif fixed := sum(one.of == "fixed" for row in plan.rows.values() for one in row.task.bookings):
        yield fixed, "fixed sum, which you may not see", "fixed sums, which you may not see"
