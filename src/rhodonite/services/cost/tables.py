"""Rates, budgets and expenses out and in as tables: all rows of a file, or none."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping
from datetime import date
from decimal import Decimal, InvalidOperation
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.dates import read_day
from ...core.common.errors import RuleError
from ...core.cost.costs import Expense
from ...core.resources.bookable import Resource
from ...core.resources.rates import RATE_KINDS, Rate, RateKind
from ...core.schedule.plan import Plan
from ...formats.csv_table import naming_line
from ...store.common.locks import lock_organisation, lock_project
from ...store.cost import money as rows
from ...store.people import people as people_rows
from ..common.context import Actor, new_id, open_project
from ..common.plan_cache import PLANS, with_bin
from ..resources import rates as rate_services
from ..resources.capacity import read_capacities
from ..resources.tables import Brought, numbers_of, read_rows, task_in
from .book import may_see_costs
from .budgets import MOST_AT_ONCE, add_expenses, check_reckons, set_budgets

RATE_HEADS = ("Who", "E-mail", "Kind", "From", "Amount")
BUDGET_HEADS = ("Number", "Title", "Budget")
EXPENSE_HEADS = ("Task", "Title", "What", "Day", "Units", "Amount", "Note", "Person")


def read_amount(text: str) -> Decimal:
    """A number as people type it: ``1,250.50`` and ``1250,5`` are read. Raises RuleError where it is none."""
    bare = text.replace(" ", "").replace("’", "")
    whole, _, part = bare.rpartition(",")
    bare = (
        bare.replace(",", "")
        if not whole or (len(part) == 3 and part.isdigit()) or "." in part
        else f"{whole.replace(',', '')}.{part}"
    )
    try:
        found = Decimal(bare)
    except InvalidOperation as error:
        raise RuleError(f"“{text[:40]}” is no number. Write it as 1250.50.", "file") from error
    if not found.is_finite():
        raise RuleError(f"“{text[:40]}” is no number. Write it as 1250.50.", "file")
    return found


# rates


def rates_out(cur: Cursor, actor: Actor, code: str | None) -> list[list[str]]:
    """The rates of people and of the organisation's resources; of a project of its own. As ``rates_in`` reads them."""
    found = rate_services.read_rates(cur, actor, code)
    people = {one.id: one for one in people_rows.all_people(cur)}
    resources = {one.id: one.name for one in read_capacities(cur).staff.resources}
    lines = []
    for (who, kind), several in found.items():
        name = people[who].name if who in people else resources.get(who, "")
        mail = people[who].email if who in people else ""
        lines += [[name, mail, kind, one.first.isoformat() if one.first else "", f"{one.amount:f}"] for one in several if name]
    return sorted(lines)


def rates_in(cur: Cursor, actor: Actor, code: str | None, data: bytes) -> Brought:
    """Bring rates of a file in: each row sets what holds from a day on, in place of what began on that day.

    Raises:
        RuleError: a row that cannot be, with its line.
        Missing, Forbidden: as for setting them by hand.
    """
    lock_organisation(cur)
    now = {key: list(several) for key, several in rate_services.read_rates(cur, actor, code).items()}
    named = _named(cur, code and open_project(cur, actor, code, "manage").id)
    changed: dict[tuple[str, RateKind], list[Rate]] = {}
    added = known = 0
    for line, row in read_rows(data, RATE_HEADS, needs=("who", "amount")):
        with naming_line(line):
            who = _who(row, named)
            kind = next((one for one in RATE_KINDS if one == (row["kind"].casefold() or "cost")), None)
            if kind is None:
                raise RuleError(f"A rate is one of {', '.join(RATE_KINDS)}.", "file")
            first = read_day(row["from"], actor.clock.now().date()) if row["from"] else None
            rate = Rate(first, read_amount(row["amount"]))
        key = (who, kind)
        before = changed.get(key, now.get(key, []))
        if rate in before:
            known += 1
            continue
        changed[key] = sorted([*(one for one in before if one.first != first), rate], key=lambda one: one.first or date.min)
        added += 1
    if changed:
        rate_services.set_many_rates(cur, actor, code, changed)
    return Brought(added, known)


def _named(cur: Cursor, project_id: str | None) -> dict[str, set[str]]:
    """Ids by name and e-mail in lower case, of whom rates are kept: of a project of its own resources alone."""
    found: dict[str, set[str]] = defaultdict(set)
    if project_id is None:
        for person in people_rows.all_people(cur):
            found[person.name.casefold()].add(person.id)
            found[person.email.casefold()].add(person.id)
    for one in read_capacities(cur).staff.resources:
        if one.project_id == project_id and one.kind != "fixed":
            found[one.name.casefold()].add(one.id)
    return found


def _who(row: Mapping[str, str], named: Mapping[str, set[str]]) -> str:
    for name in (row["e-mail"], row["who"]):
        ids = named.get(name.casefold(), set()) if name else set()
        if len(ids) == 1:
            return next(iter(ids))
    raise RuleError(f"Nobody alone, and no resource, is called {row['who'][:60]}. Use the e-mail.", "file")


# budgets


def budgets_out(cur: Cursor, actor: Actor, code: str) -> list[list[str]]:
    """The budgets of a project, as ``budgets_in`` reads them: its own has no number."""
    project = open_project(cur, actor, code, "see_costs")
    plan = PLANS.at(cur, project, actor.clock.now()).plan
    found = rows.budgets(cur, project.id)
    lines = [["", project.name, f"{found[project.id]:f}"]] if project.id in found else []
    return lines + [
        [str(row.task.number), row.task.title, f"{found[row.task.id]:f}"] for row, _, _ in plan.ordered() if row.task.id in found
    ]


def budgets_in(cur: Cursor, actor: Actor, code: str, data: bytes) -> Brought:
    """Bring budgets of a file in: of deliverables and tasks with others below them by their number, of the project without one.

    Raises:
        RuleError: a row that cannot be, with its line.
        Missing, Forbidden: as for setting them by hand.
    """
    project = open_project(cur, actor, code, "manage")
    check_reckons(project)
    plan = PLANS.at(cur, project, actor.clock.now()).plan
    numbers = numbers_of(plan)
    wanted: dict[str | None, Decimal] = {}
    now = rows.budgets(cur, project.id)
    read = read_rows(data, BUDGET_HEADS, needs=("budget",))
    for line, row in read:
        with naming_line(line):
            task_id = task_in(row["number"], numbers, plan.project.code) if row["number"] else None
            wanted[task_id] = read_amount(row["budget"])
    fresh = {one: amount for one, amount in wanted.items() if now.get(one or project.id) != amount}
    if fresh:
        set_budgets(cur, actor, code, fresh)
    return Brought(len(fresh), len(read) - len(fresh))


# expenses


def expenses_out(cur: Cursor, actor: Actor, code: str) -> list[list[str]]:
    """What was used and spent in a project, the latest first, as ``expenses_in`` reads it."""
    project = open_project(cur, actor, code, "see_costs")
    plan = PLANS.at(cur, project, actor.clock.now()).plan
    people = {one.id: one.name for one in people_rows.all_people(cur)}
    names = {one.id: one.name for one in read_capacities(cur).staff.resources}
    found = rows.expenses(cur, project.id)
    tasks = with_bin(cur, plan, (one.task_id for one in found))
    return [
        [str(tasks[one.task_id].number), tasks[one.task_id].title, names.get(one.resource_id or "", ""),
         one.day.isoformat(), _said(one.units), _said(one.amount), one.note, people.get(one.person_id, "")]
        for one in found
    ]  # fmt: skip


def _said(amount: Decimal | None) -> str:
    return "" if amount is None else f"{amount.normalize():f}"


def expenses_in(cur: Cursor, actor: Actor, code: str, data: bytes) -> Brought:
    """Bring what was used and spent in from a file. What is there already, of the same task, thing, day and amount, stays.

    Raises:
        RuleError: a row that cannot be, with its line.
        Missing, Forbidden: as for entering it by hand.
    """
    project = open_project(cur, actor, code, "edit")
    plan = PLANS.at(cur, project, actor.clock.now()).plan
    known = {
        one.name.casefold(): one
        for one in read_capacities(cur).staff.resources
        if one.project_id in {None, project.id} and one.kind != "labour"
    }
    read, numbers = [], numbers_of(plan)
    for line, row in read_rows(data, EXPENSE_HEADS, needs=("task", "day"), most=MOST_AT_ONCE):
        with naming_line(line):
            read.append(_expense(row, plan, numbers, known, actor))
    lock_project(cur, project.id)  # what the same file brings at this moment is there then
    sees = may_see_costs(cur, actor, project)  # who may not is not told either that somebody else spent the same
    there = {_key(one) for one in rows.expenses(cur, project.id) if sees or one.person_id == actor.person.id}
    fresh = [one for one in read if _key(one) not in there]
    if fresh:
        add_expenses(cur, actor, code, fresh)
    return Brought(len(fresh), len(read) - len(fresh))


def _key(one: Expense) -> tuple[Any, ...]:
    return one.task_id, one.resource_id, one.day, _said(one.units), _said(one.amount), one.note


def _expense(
    row: Mapping[str, str], plan: Plan, numbers: Mapping[str, str], known: Mapping[str, Resource], actor: Actor
) -> Expense:
    resource = known.get(row["what"].casefold()) if row["what"] else None
    if row["what"] and resource is None:
        raise RuleError(f"No material or fixed cost is called {row['what'][:60]} here.", "file")
    units = read_amount(row["units"]) if row["units"] else None
    amount = read_amount(row["amount"]) if row["amount"] else None
    day = read_day(row["day"], actor.clock.now().date())
    return Expense(new_id(), plan.project.id, task_in(row["task"], numbers, plan.project.code), resource.id if resource else None, day, units, amount,
                   row["note"], actor.person.id)  # fmt: skip
