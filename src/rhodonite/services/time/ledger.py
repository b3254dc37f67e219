"""The hours of each project, held in memory: after a change only those of the tasks that changed are read again."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from pymysql.cursors import Cursor

from ...core.resources.spent import Spent
from ...core.schedule.plan import Plan
from ...store.time.entries import Spending, spendings
from ..common.context import Actor
from ..common.held import Held
from ..common.left_out import Counted, Format, leaves_out
from ..common.pipeline import knows_what_was_spent
from ..common.plan_cache import CachedPlan

MOST_PROJECTS = 400
FEW = 500
"""Tasks up to which those that changed are read one by one."""


@dataclass(frozen=True, slots=True)
class Ledger:
    """What was entered on the tasks of a project at a revision.

    Attributes:
        by_task: by task its entries: person, ordinal of the day, minutes, billable.
        spent: the same summed up, by task, person and day.
    """

    revision: int
    by_task: Mapping[str, list[Spending]]
    spent: Spent


_held: Held[Ledger] = Held("ledger", MOST_PROJECTS)


def ledger_of(cur: Cursor, held: CachedPlan) -> Ledger:
    """What was entered on the tasks of a plan: read once for each revision."""
    return held.answers.once("ledger", lambda: _followed(cur, held))


def _followed(cur: Cursor, held: CachedPlan) -> Ledger:
    project_id, revision = held.plan.project.id, held.mark.revision
    before = _held.get(cur, project_id)
    changed = (
        [one.id for one in held.plan.tasks.values() if one.revision > before.revision]
        if before is not None and before.revision <= revision
        else None
    )
    if before is None or changed is None or len(changed) > FEW:
        whole = spendings(cur, project_id, None)
        made = Ledger(revision, whole, _by_day(whole))
    elif changed:
        fresh = spendings(cur, project_id, changed)
        rest = before.by_task.keys() - set(changed)
        made = Ledger(
            revision,
            {one: before.by_task[one] for one in rest} | fresh,
            {one: before.spent[one] for one in rest} | _by_day(fresh),
        )
    else:
        made = Ledger(revision, before.by_task, before.spent)
    if before is None or before.revision <= revision:
        _held.put(cur, project_id, made)
    return made


@knows_what_was_spent
def spent_on(cur: Cursor, held: CachedPlan) -> Spent:
    """By task and person the minutes that were entered, by day."""
    return ledger_of(cur, held).spent


def _by_day(entries: Mapping[str, list[Spending]]) -> dict[str, dict[str, dict[int, int]]]:
    found: dict[str, dict[str, dict[int, int]]] = {}
    for task_id, several in entries.items():
        by_who = found[task_id] = {}
        for who, day, minutes, _ in several:
            by_day = by_who.setdefault(who, {})
            by_day[day] = by_day.get(day, 0) + minutes
    return found


@leaves_out
def _hours_left_out(_cur: Cursor, _actor: Actor, plan: Plan, _into: Format) -> Iterable[Counted]:
    """Hours that were recorded: they have a table of their own."""
    yield sum(bool(row.task.spent) for row in plan.rows.values()), "task’s recorded hours", "tasks’ recorded hours"
