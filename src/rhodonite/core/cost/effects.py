"""What a change of tasks does to money: what it is planned to cost, and will have cost, before and after, and which budgets it
passes."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ..resources.load import NO_DATES
from ..schedule.plan import Plan
from ..tasks.model import Fields, Task
from .costs import Cost, Costs, Expense, Ground, SpentEntry, lines_in_bin, lines_of, own_cost


@dataclass(frozen=True, slots=True)
class MoneyEffect:
    """What becomes of the money of a project, in minor units.

    Attributes:
        passed: the ids of the project or tasks whose budget is passed at completion by the change and was not before, each with
            by how much; ``kept``: those whose budget was passed and is no longer.
    """

    currency: str
    decimals: int
    planned_before: int
    planned: int
    at_completion_before: int
    at_completion: int
    passed: list[tuple[str, int]]
    kept: list[str]

    def __bool__(self) -> bool:
        """True where anything changes at all."""
        return self.planned != self.planned_before or self.at_completion != self.at_completion_before


def money_effect(
    plan: Plan,
    after: Mapping[str, Task],
    moves: Mapping[str, Fields],
    costs: Costs,
    ground: Ground,
    entries: Mapping[str, Sequence[SpentEntry]],
    expenses: Mapping[str, Sequence[Expense]],
    budgets: Mapping[str, int],
    currency: str,
) -> MoneyEffect:
    """What a change does to money. Only the tasks that it touches or moves are reckoned again.

    Args:
        plan: before the change.
        after: the tasks that differ in more than their dates, as they would be.
        moves: of others, and of these, the dates that they get.
        costs: before the change.
        entries, expenses: by task.
        budgets: by the id of the project or of a task, in minor units.
    """
    planned: dict[str, int] = defaultdict(int)  # by what has a budget, and of the project, by how much it changes
    ends: dict[str, int] = defaultdict(int)
    for task_id in after.keys() | moves.keys():
        task = after.get(task_id) or plan.tasks.get(task_id)
        spent = own_cost(lines_in_bin(plan, ground.prices, entries.get(task_id, ()), expenses.get(task_id, ()))).spent
        goes = task is None or task.deleted_at is not None
        # what was spent stays with the project while the task lies in the bin
        stays = (spent if goes else 0) - (spent if task_id not in plan.rows else 0)
        now = Cost()
        if task is not None and not goes:
            dates = moves.get(task_id, NO_DATES)
            now = own_cost(lines_of(task, plan, ground, entries.get(task_id, ()), expenses.get(task_id, ()), dates))
        was = costs.of_task.get(task_id) or Cost()
        if (now.planned, now.at_completion) == (was.planned, was.at_completion):
            continue
        above = plan.outline.ancestors(task_id) if task_id in plan.rows else _above(plan, task)
        for subject in (plan.project.id, task_id, *above):
            planned[subject] += now.planned - was.planned
            ends[subject] += now.at_completion - was.at_completion
        ends[plan.project.id] += stays
    whole = costs.whole
    passed, kept = _against(budgets, ends, costs, plan.project.id)
    project = plan.project.id
    return MoneyEffect(currency, ground.prices.decimals, whole.planned, whole.planned + planned[project], whole.at_completion,
                       whole.at_completion + ends[project], passed, kept)  # fmt: skip


def _above(plan: Plan, task: Task | None) -> list[str]:
    parent = task.parent_id if task else None
    return [parent, *plan.outline.ancestors(parent)] if parent in plan.rows and parent is not None else []


def _against(
    budgets: Mapping[str, int], ends: Mapping[str, int], costs: Costs, project_id: str
) -> tuple[list[tuple[str, int]], list[str]]:
    passed, kept = [], []
    for subject, budget in budgets.items():
        by = ends.get(subject, 0)
        before = costs.whole if subject == project_id else costs.below.get(subject)
        if not by or before is None:
            continue
        was, now = before.at_completion, before.at_completion + by
        if was <= budget < now:
            passed.append((subject, now - budget))
        elif now <= budget < was:
            kept.append(subject)
    return sorted(passed, key=lambda one: (one[0] != project_id, -one[1], one[0])), sorted(kept)
