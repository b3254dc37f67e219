"""Budgets of a project and its deliverables, and what is spent of materials and sums."""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.currencies import decimals_of
from ...core.common.errors import Forbidden, Missing, RuleError
from ...core.cost.budgets import check_budget
from ...core.cost.costs import Expense
from ...core.cost.expenses import check_expense
from ...core.cost.money import check_amount
from ...core.people.access import may_in_project
from ...core.schedule.plan import Plan
from ...core.tasks.model import Project
from ...store.common.database import from_json
from ...store.common.journal import Entry
from ...store.cost import money as rows
from ...store.resources import bookable as resource_rows
from ...store.resources import rates as rate_rows
from ...store.schedule import agreed as agreed_rows
from ...store.tasks import projects as project_rows
from ...store.tasks import tasks as task_rows
from ..common.clashes import check_clash
from ..common.context import Actor, Log, check_not_archived, once, open_project, writing
from ..common.pipeline import Way, checks_currency, comes_along, says_before_bin, says_before_move
from ..common.plan_cache import PLANS
from ..resources.capacity import read_capacities
from .book import currency_of, may_see_costs

MOST_EXPENSES = 1_000
"""On one task."""
MOST_AT_ONCE = 2_000
EXPENSE_FIELDS = frozenset({"day", "units", "amount", "note"})


def check_reckons(project: Project) -> None:
    """Raises RuleError where a project does not reckon cost."""
    if not project.costs:
        raise RuleError(f"{project.code} reckons no cost. A lead switches that on in the settings of the project.", "costs")


@once
def set_budget(cur: Cursor, actor: Actor, code: str, task_id: str | None, amount: Decimal | None) -> None:
    """Say what a project, or a deliverable or summary task of it, may cost; None takes that back. Raises as ``set_budgets``."""
    set_budgets(cur, actor, code, {task_id: amount})


@once
def set_budgets(cur: Cursor, actor: Actor, code: str, wanted: Mapping[str | None, Decimal | None]) -> None:
    """Say what a project, or deliverables and summary tasks of it, may cost.

    Args:
        wanted: by task, None for the project; None takes a budget back.

    Raises:
        Missing, Forbidden: the person does not lead the project, or a task is not there.
        RuleError: a sum that cannot be, or a task is neither a deliverable nor has tasks below it.
    """
    actor = replace(actor, draft=None)
    project = open_project(cur, actor, code, "manage")
    check_not_archived(project)
    check_reckons(project)
    rows_of, decimals = PLANS.at(cur, project, actor.clock.now()).plan.rows, decimals_of(currency_of(cur, project))
    for task_id, amount in wanted.items():
        if amount is not None:
            check_amount(amount, "amount", decimals)
        if task_id is None:
            continue
        row = rows_of.get(task_id)
        if row is None:
            raise Missing("task")
        check_budget(row, amount)
    what = "changed a budget" if len(wanted) == 1 else f"changed {len(wanted)} budgets"
    with writing(cur, actor, project.id, what, seen=project) as log:
        for task_id, amount in wanted.items():
            _write_budget(cur, log, task_id or project.id, amount)


def _write_budget(cur: Cursor, log: Log, subject: str, amount: Decimal | None) -> None:
    before = rows.budgets(cur, log.project.id).get(subject)
    if before != amount:
        log.record("budget", subject, "amount", before, amount)
        rows.set_budget(cur, log.project.id, subject, amount)


def take_budget_back(cur: Cursor, actor: Actor, code: str, entries: Sequence[Entry]) -> None:
    """Take back what a change did to budgets. Raises RuleError where one was changed again since, else as ``set_budget``."""
    project = open_project(cur, replace(actor, draft=None), code, "manage")
    with writing(cur, replace(actor, draft=None), project.id, "took back: changed a budget", seen=project) as log:
        now = rows.budgets(cur, project.id)
        for one in entries:
            if now.get(one.subject_id) != _amount(from_json(one.new)):
                raise RuleError("The budget was changed again since. Change it by hand.", "amount")
            _write_budget(cur, log, one.subject_id, _amount(from_json(one.old)))


def _amount(text: str | None) -> Decimal | None:
    return None if text is None else Decimal(text).normalize()


# expenses


@once
def add_expenses(cur: Cursor, actor: Actor, code: str, new: Sequence[Expense]) -> None:
    """Write down what was used of materials, or spent as sums, all of it or none.

    Args:
        new: ``project_id`` and ``person_id`` are not looked at.

    Raises:
        Missing, Forbidden: a task that is not there, or the person may not edit the project.
        RuleError: units or sums that cannot be, a day still to come, something that is not booked by units or sums.
    """
    actor = replace(actor, draft=None)
    project = open_project(cur, actor, code, "edit")
    check_reckons(project)
    if not 1 <= len(new) <= MOST_AT_ONCE:
        raise RuleError(f"Send between one and {MOST_AT_ONCE} expenses at once.", "expenses")
    made = [replace(one, project_id=project.id, person_id=actor.person.id, note=one.note.strip()) for one in new]
    what = "entered an expense" if len(made) == 1 else f"entered {len(made)} expenses"
    with writing(cur, actor, project.id, what, seen=project) as log:
        tasks = {one.id: one for one in task_rows.tasks_by_id(cur, {one.task_id for one in made})}
        for one in made:
            task = tasks.get(one.task_id)
            if task is None or task.project_id != project.id or task.deleted_at is not None:
                raise Missing("task")
        _check(cur, actor, project, made)
        counts = rows.counts_on(cur, tasks.keys()) + Counter(one.task_id for one in made)
        if max(counts.values()) > MOST_EXPENSES:
            raise RuleError(f"A task holds {MOST_EXPENSES} expenses at most. Enter the rest on a task below it.", "task_id")
        rows.insert_expenses(cur, made, log.revision)
        rows.touch(cur, list(tasks), log.revision)
        for one in made:
            log.record("expense", one.id, "created", None, _written(one))


def _check(cur: Cursor, actor: Actor, project: Project, several: Sequence[Expense]) -> None:
    """Raises RuleError where one of them cannot have been used or spent so."""
    known = resource_rows.resources_by_id(cur, {one.resource_id for one in several if one.resource_id is not None})
    decimals = decimals_of(currency_of(cur, project))
    for one in several:
        resource, _ = known.get(one.resource_id or "", (None, False))
        check_expense(one, resource, project.id, actor.clock.now().date(), decimals)


def _written(one: Expense) -> dict[str, Any]:
    return {
        "task_id": one.task_id, "resource_id": one.resource_id, "day": one.day.isoformat(), "note": one.note,
        "units": None if one.units is None else f"{one.units:f}", "amount": None if one.amount is None else f"{one.amount:f}",
    }  # fmt: skip


def _open_expenses(cur: Cursor, actor: Actor, project: Project, ids: Sequence[str], *, gone: bool = False) -> dict[str, Expense]:
    """Expenses that the actor may change: their own, or as a lead anybody's. Raises Missing or Forbidden."""
    found = rows.expenses_by_id(cur, set(ids))
    leads = may_in_project(actor.role_in(project, project_rows.members(cur, project.id).get(actor.person.id)), "manage")
    opened = {}
    for one in ids:
        if one not in found or found[one][1] is gone or found[one][0].project_id != project.id:
            raise Missing("expense")
        if not leads and found[one][0].person_id != actor.person.id:
            raise Forbidden("Somebody else entered that. They change it, or a lead of the project.")
        opened[one] = found[one][0]
    return opened


@dataclass(frozen=True, slots=True)
class ExpenseEdit:
    """Changed fields of one expense, and the revision of it that the person saw when editing."""

    id: str
    revision: int
    fields: Mapping[str, Any]


@once
def edit_expenses(cur: Cursor, actor: Actor, code: str, edits: Sequence[ExpenseEdit]) -> None:
    """Change ``day``, ``units``, ``amount`` or ``note`` of expenses.

    Raises:
        Clash: somebody else changed the same field since.
        Missing, Forbidden, RuleError: as ``add_expenses``.
    """
    actor = replace(actor, draft=None)
    project = open_project(cur, actor, code, "edit")
    with writing(cur, actor, project.id, "changed an expense", seen=project) as log:
        before = _open_expenses(cur, actor, project, [one.id for one in edits])
        check_clash(cur, actor, "expense", before, edits, _plain)
        after = [replace(before[edit.id], **edit.fields) for edit in edits]
        _check(cur, actor, project, after)
        for one in after:
            log.record_changes("expense", one.id, before[one.id], one, EXPENSE_FIELDS)
        rows.update_expenses(cur, after, log.revision)
        rows.touch(cur, {one.task_id for one in before.values()}, log.revision)


def _plain(value: Any) -> Any:
    return f"{value:f}" if isinstance(value, Decimal) else value.isoformat() if isinstance(value, date) else value


@once
def set_expenses_gone(cur: Cursor, actor: Actor, code: str, ids: Sequence[str], *, gone: bool) -> None:
    """Take expenses away, or bring them back. Raises as ``edit_expenses``."""
    actor = replace(actor, draft=None)
    project = open_project(cur, actor, code, "edit")
    ids = list(dict.fromkeys(ids))
    what = f"{'took away' if gone else 'brought back'} {'an expense' if len(ids) == 1 else f'{len(ids)} expenses'}"
    with writing(cur, actor, project.id, what, seen=project) as log:
        opened = _open_expenses(cur, actor, project, ids, gone=not gone)
        now = actor.clock.utc()
        rows.update_expenses(cur, opened.values(), log.revision, now if gone else None)
        for one in opened.values():
            log.record("expense", one.id, "deleted_at", None if gone else now, now if gone else None)
        rows.touch(cur, {one.task_id for one in opened.values()}, log.revision)


def take_expenses_back(cur: Cursor, actor: Actor, code: str, entries: Sequence[Entry]) -> None:
    """Take back what a change did to expenses. Raises RuleError where one was changed again since, else as ``edit_expenses``."""
    ids = list(dict.fromkeys(one.subject_id for one in entries))
    first = entries[0]
    if first.field in {"created", "deleted_at"}:
        set_expenses_gone(cur, actor, code, ids, gone=first.field == "created" or from_json(first.old) is not None)
        return
    now = rows.expenses_by_id(cur, ids)
    edits: dict[str, dict[str, Any]] = {}
    for one in entries:
        if one.subject_id in now and getattr(now[one.subject_id][0], one.field) != _read(one.field, from_json(one.new)):
            raise RuleError("The expense was changed again since. Change it by hand.")
        edits.setdefault(one.subject_id, {})[one.field] = _read(one.field, from_json(one.old))
    edit_expenses(cur, actor, code, [ExpenseEdit(one, 2**31 - 1, fields) for one, fields in edits.items()])


def _read(name: str, value: Any) -> Any:
    if value is None or name == "note":
        return value
    return date.fromisoformat(value) if name == "day" else Decimal(value)


@comes_along
def move_along(cur: Cursor, log: Log, way: Way) -> None:
    """What was spent on tasks that move to another project goes with them, where the mover may see cost in both; a copy
    begins without."""
    if way.moves and _may_go(cur, way):
        expenses_go_over(cur, log, way.copies)


@checks_currency
def check_no_sums(cur: Cursor, plan: Plan, currency: str | None) -> None:
    """Another currency would read every sum that is kept as one of that: it is refused while there are sums.

    Raises:
        RuleError: the project has budgets, expenses, fixed sums, rates of its own resources, or agreed costs.
    """
    before, after = currency_of(cur, plan.project), currency or resource_rows.common(cur).currency
    if before == after:
        return
    own = [one.id for one in read_capacities(cur).staff.resources if one.project_id == plan.project.id]
    sums = {
        "budgets": bool(rows.budgets(cur, plan.project.id)),
        "expenses": any(one.amount is not None for one in rows.expenses(cur, plan.project.id)),
        "fixed sums": any(one.of == "fixed" for task in plan.tasks.values() for one in task.bookings),
        "rates of its own": bool(rate_rows.rates(cur, own)),
        "agreed costs": agreed_rows.has_costs(cur, plan.project.id),
    }
    kept = [name for name, there in sums.items() if there]
    if kept:
        said = f"{plan.project.code} keeps {' and '.join([', '.join(kept[:-1])] * (len(kept) > 1) + kept[-1:])} in {before}"
        raise RuleError(f"{said}, which would be read as {after}. Take them away first, or plan it in a new project.", "currency")


def _may_go(cur: Cursor, way: Way) -> bool:
    same = currency_of(cur, way.source) == currency_of(cur, way.target)  # a sum keeps its currency
    return way.target.costs and same and way.allows("see_costs")


@says_before_move
def say_what_stays(cur: Cursor, way: Way) -> list[str]:
    """What was spent that does not come along, for who may know of it."""
    if not way.moves or not may_see_costs(cur, way.actor, way.source):
        return []
    found = rows.expenses_on(cur, list(way.copies))
    if not found or _may_go(cur, way):
        return []
    return [f"{counted_expenses(len(found))} {'stays' if len(found) == 1 else 'stay'} in {way.source.code} and count there."]


@says_before_bin
def say_what_is_kept(cur: Cursor, actor: Actor, plan: Plan, ids: Collection[str]) -> list[str]:
    """What was spent on tasks that go into the bin, for who may know of it: it stays."""
    if not plan.project.costs or not may_see_costs(cur, actor, plan.project):
        return []
    found = rows.expenses_on(cur, list(ids))
    return [f"{counted_expenses(len(found))} {'stays' if len(found) == 1 else 'stay'} in the costs."] if found else []


def counted_expenses(count: int) -> str:
    """One expense, or so many."""
    return "1 expense" if count == 1 else f"{count} expenses"


def expenses_go_over(cur: Cursor, log: Log, over: Mapping[str, str]) -> None:
    """Let what was spent on tasks belong to others in the project of the change.

    Args:
        over: by task the one that gets it.
    """
    found = rows.expenses_on(cur, list(over))
    there = [replace(one, task_id=over[one.task_id], project_id=log.project.id) for one in found]
    rows.update_expenses(cur, there, log.revision)
    for one in found:
        log.record("expense", one.id, "task_id", one.task_id, over[one.task_id])


def put_back(cur: Cursor, log: Log, entries: Sequence[Entry]) -> None:
    """Take back, within a change that is open, that expenses went to other tasks."""
    found = rows.expenses_by_id(cur, {one.subject_id for one in entries})
    for one in entries:
        was = from_json(one.old)
        project_id = task_rows.project_of(cur, was) if one.field == "task_id" else None
        if one.subject_id not in found or project_id is None or found[one.subject_id][0].task_id != from_json(one.new):
            raise RuleError("The expenses of the task were changed since, so this cannot be taken back.")
        now = found[one.subject_id][0]
        rows.update_expenses(cur, [replace(now, task_id=was, project_id=project_id)], log.revision)
        log.record("expense", one.subject_id, "task_id", now.task_id, was)
        rows.touch(cur, [one for one in (was, now.task_id) if task_rows.project_of(cur, one) == log.project.id], log.revision)
