"""What projects and tasks cost, budgets and expenses. Sums are in the project's currency, as decimal text."""

from __future__ import annotations

from datetime import date
from decimal import Decimal
from typing import Annotated, Any

import orjson
from fastapi import Response
from pydantic import BaseModel, Field

from ...core.cost.budgets import Worry
from ...core.cost.costs import Cost, CostLine, Expense, expense_cost
from ...core.cost.earned import FORMULAS, SOURCE, EarnedValue
from ...core.cost.expenses import LONGEST_NOTE
from ...core.cost.money import to_amount
from ...core.tasks.model import ResourceKind
from ...services.common.context import new_id
from ...services.cost import budgets, costs
from ..common.inputs import Changes, Day, Id, Ids, Revision, make_router
from ..common.use import Using, needs

router = make_router("cost")

Sum = Annotated[Decimal, Field(ge=0, max_digits=15, decimal_places=3, examples=["1250.00"])]
Note = Annotated[str, Field(max_length=LONGEST_NOTE)]


class CostOut(BaseModel):
    """What something costs."""

    planned: Decimal = Field(description="Hours at the rates of their days, material, fixed sums")
    spent: Decimal
    to_come: Decimal
    at_completion: Decimal = Field(description="Spent and to come")
    unpriced: int = Field(description="Minutes of people without a rate, which are in none of the sums")


class CostRow(CostOut):
    """The same of a task with all below it, or of the project, against what is allowed."""

    id: str
    budget: Decimal | None
    agreed: Decimal | None = Field(description="In the current agreed plan")
    variance: Decimal | None = Field(description="What is left of the budget, or of the agreed cost, at completion")
    used: int | None = Field(description="At completion in a hundred of the budget")
    worry: Worry = Field(description="near: above 95 % of the budget; over: beyond it")


class CostsOut(BaseModel):
    """The costs of a project; tasks that cost nothing are left out."""

    currency: str
    decimals: int
    revision: int
    project: CostRow = Field(description="With what was spent on tasks that are in the bin")
    in_bin: CostOut | None = Field(description="What was spent on tasks that are in the bin: it stays spent")
    rows: list[CostRow]


class MonthOut(BaseModel):
    """What a month costs."""

    month: str = Field(examples=["2027-03"])
    planned: Decimal
    spent: Decimal
    to_come: Decimal


class WhoCostOut(CostOut):
    """What a person or resource costs; with an empty id what nobody planned."""

    who: str
    of: ResourceKind
    booked: int = Field(description="Minutes, or thousandths of a unit or of the currency")
    used: int


class MonthsOut(BaseModel):
    """Costs by month, and by person and resource. Both sum to the costs of the project."""

    currency: str
    months: list[MonthOut]
    who: list[WhoCostOut]


class FigureOut(BaseModel):
    """One figure of earned value."""

    key: str = Field(examples=["CPI"])
    name: str
    formula: str
    amount: Decimal | None = Field(description="A sum; null for an index, and for what is not given")
    index: Decimal | None


class CurveOut(BaseModel):
    """The curves at the end of a day."""

    day: date
    planned: Decimal
    earned: Decimal | None
    spent: Decimal | None


class EarnedOut(BaseModel):
    """Earned value today, from the current agreed plan; no figures where no cost was agreed."""

    currency: str
    source: str
    figures: list[FigureOut]
    why: str = Field(description="Why a figure is not given")
    estimates: str = Field(description="Why EAC differs from the cost at completion that the plan gives")
    curve: list[CurveOut]


class ExpenseModel(BaseModel):
    """What was used of a material, or spent as a sum."""

    id: str
    task_id: str
    resource_id: str | None
    day: date
    units: Decimal | None
    amount: Decimal | None
    cost: Decimal | None = Field(description="What it costs; null for who may not see cost")
    note: str
    person_id: str
    revision: int


class TaskCostOut(BaseModel):
    """What a task costs. Who may not see cost is told of nothing but the expenses that they entered."""

    seen: bool = Field(description="False for who may not see cost")
    currency: str | None
    lines: list[WhoCostOut] = Field(description="By person and resource, of the task itself")
    below: CostRow | None = Field(description="With all below it")
    expenses: list[ExpenseModel]
    may_enter: bool
    leads: bool


class BudgetIn(BaseModel):
    """What the project, or a deliverable or summary task, may cost; null takes that back."""

    task_id: Id | None = Field(None, description="null: the project")
    amount: Sum | None


class ExpenseNew(BaseModel):
    """Something used or spent: units of a material, or a sum."""

    id: Id = Field(default_factory=new_id, description="UUID of version 7, made by the client")
    task_id: Id
    resource_id: Id | None = Field(None, description="The material or fixed cost; null for a sum that nobody planned")
    day: Day
    units: Sum | None = None
    amount: Sum | None = None
    note: Note = ""


class ExpensesNew(BaseModel):
    """Several expenses, all of them or none."""

    expenses: Annotated[list[ExpenseNew], Field(min_length=1, max_length=500)]


class ExpenseEdit(Changes):
    """Changed fields of an expense, and the revision that they were edited at."""

    id: Id
    revision: Revision
    day: Day | None = None
    units: Sum | None = None
    amount: Sum | None = None
    note: Note | None = None


class ExpensesEdit(BaseModel):
    """Edits of several expenses."""

    expenses: Annotated[list[ExpenseEdit], Field(min_length=1, max_length=500)]


class ExpensesGone(BaseModel):
    """Expenses to be taken away."""

    ids: Ids


class ChangedCost(BaseModel):
    """To take the change back by."""

    change: str


def _sums(cost: Cost, decimals: int) -> dict[str, Any]:
    return {
        "planned": f"{to_amount(cost.planned, decimals):f}",
        "spent": f"{to_amount(cost.spent, decimals):f}",
        "to_come": f"{to_amount(cost.to_come, decimals):f}",
        "at_completion": f"{to_amount(cost.at_completion, decimals):f}",
        "unpriced": cost.unpriced,
    }


def _row(page: costs.CostsPage, subject_id: str, cost: Cost) -> dict[str, Any]:
    stands = page.standing(subject_id, cost)

    def amount(minor: int | None) -> str | None:
        return None if minor is None else f"{to_amount(minor, page.decimals):f}"

    return {
        "id": subject_id, **_sums(cost, page.decimals), "budget": amount(stands.budget), "agreed": amount(stands.agreed),
        "variance": amount(stands.variance), "used": stands.used, "worry": stands.worry,
    }  # fmt: skip


def _encoded(page: costs.CostsPage) -> bytes:
    tells = page.budgets.keys() | page.agreed.keys()
    rows = [
        _row(page, one, cost)
        for one, cost in page.costs.below.items()
        if one in tells or cost.planned or cost.spent or cost.to_come or cost.unpriced
    ]
    project = page.held.plan.project
    return orjson.dumps(
        {"currency": page.currency, "decimals": page.decimals, "revision": page.held.mark.revision,
         "project": _row(page, project.id, page.costs.whole),
         "in_bin": _sums(page.costs.in_bin, page.decimals) if page.costs.in_bin.spent or page.costs.in_bin.unpriced else None,
         "rows": rows}
    )  # fmt: skip


@router.get("/projects/{code}/costs", openapi_extra=needs("see_costs"), response_model=CostsOut)
def read_costs(code: str, use: Using) -> Response:
    """Planned, spent, to come and at completion, up the tree, against budgets and what was agreed."""
    page = use.read(costs.read_costs, code)
    body = page.held.answers.once(("costs json", page.book.mark, page.book.day), lambda: _encoded(page))
    return Response(body, media_type="application/json")


def _who(one: CostLine, decimals: int) -> WhoCostOut:
    return WhoCostOut(who=one.who, of=one.of, booked=one.booked, used=one.used, **_sums(one.cost, decimals))


@router.get("/projects/{code}/costs/months", openapi_extra=needs("see_costs"))
def read_months(code: str, use: Using) -> MonthsOut:
    """Costs by month, and by person and resource."""
    found = use.read(costs.read_months, code)

    def amount(minor: int) -> Decimal:
        return to_amount(minor, found.decimals)

    return MonthsOut(
        currency=found.currency,
        months=[
            MonthOut(month=f"{one.year}-{one.month:02}", planned=amount(one.planned), spent=amount(one.spent), to_come=amount(one.to_come))
            for one in found.months
        ],
        who=[_who(one, found.decimals) for one in found.who],
    )  # fmt: skip


@router.get("/projects/{code}/costs/earned", openapi_extra=needs("see_costs"))
def read_earned(code: str, use: Using) -> EarnedOut:
    """Earned value under its trade names, each with its formula, and the curves of planned, earned and spent."""
    found = use.read(costs.read_earned, code)

    def amount(minor: int | None) -> Decimal | None:
        return None if minor is None else to_amount(minor, found.decimals)

    return EarnedOut(
        currency=found.currency,
        source=SOURCE,
        figures=[] if found.value is None else [_figure(key, found.value, found.decimals) for key in FORMULAS],
        estimates=found.estimates,
        why=found.value.why if found.value else "No cost was agreed: agree the plan while the project reckons cost.",
        curve=[
            CurveOut(day=one.day, planned=to_amount(one.planned, found.decimals), earned=amount(one.earned), spent=amount(one.spent))
            for one in found.curve
        ],
    )  # fmt: skip


def _figure(key: str, value: EarnedValue, decimals: int) -> FigureOut:
    name, formula = FORMULAS[key]
    found = getattr(value, key.lower())
    index = key in {"SPI", "CPI"}
    return FigureOut(
        key=key, name=name, formula=formula, amount=None if index or found is None else to_amount(found, decimals),
        index=found if index else None,
    )  # fmt: skip


@router.get("/tasks/{task_id}/cost", openapi_extra=needs("see"))
def read_task_cost(task_id: Id, use: Using) -> TaskCostOut:
    """What a task costs, by person and resource, with what was used and spent on it."""
    found = use.read(costs.read_task_cost, task_id)
    page = found.page
    return TaskCostOut(
        seen=page is not None,
        currency=page.currency if page else None,
        lines=[_who(one, page.decimals) for one in found.lines] if page else [],
        below=CostRow(**_row(page, found.task.id, found.below)) if page else None,
        expenses=[_expense(one, page) for one in found.expenses],
        may_enter=found.may_enter,
        leads=found.leads,
    )


def _expense(one: Expense, page: costs.CostsPage | None) -> ExpenseModel:
    cost = to_amount(expense_cost(one, page.book.ground.prices), page.decimals) if page else None
    return ExpenseModel(
        id=one.id, task_id=one.task_id, resource_id=one.resource_id, day=one.day, units=one.units, amount=one.amount, cost=cost,
        note=one.note, person_id=one.person_id, revision=one.revision,
    )  # fmt: skip


@router.put("/projects/{code}/budget", openapi_extra=needs("manage"))
def set_budget(code: str, body: BudgetIn, use: Using) -> ChangedCost:
    """Say what the project, a deliverable or a summary task may cost."""
    use.write(budgets.set_budget, code, body.task_id, body.amount)
    return ChangedCost(change=use.actor.change_id)


@router.post("/projects/{code}/expenses", openapi_extra=needs("edit"), status_code=201)
def add_expenses(code: str, body: ExpensesNew, use: Using) -> ChangedCost:
    """Write down what was used of materials, or spent as sums."""
    new = [
        Expense(one.id, "", one.task_id, one.resource_id, one.day, one.units, one.amount, one.note, use.actor.person.id)
        for one in body.expenses
    ]
    use.write(budgets.add_expenses, code, new)
    return ChangedCost(change=use.actor.change_id)


@router.patch("/projects/{code}/expenses", openapi_extra=needs("edit"))
def edit_expenses(code: str, body: ExpensesEdit, use: Using) -> ChangedCost:
    """Change expenses: one’s own, or as a lead anybody’s."""
    edits = [
        budgets.ExpenseEdit(one.id, one.revision, {name: value for name, value in one.sent.items() if name in budgets.EXPENSE_FIELDS})
        for one in body.expenses
    ]  # fmt: skip
    use.write(budgets.edit_expenses, code, edits)
    return ChangedCost(change=use.actor.change_id)


@router.post("/projects/{code}/expenses/delete", openapi_extra=needs("edit"))
def delete_expenses(code: str, body: ExpensesGone, use: Using) -> ChangedCost:
    """Take expenses away."""
    use.write(budgets.set_expenses_gone, code, body.ids, gone=True)
    return ChangedCost(change=use.actor.change_id)
