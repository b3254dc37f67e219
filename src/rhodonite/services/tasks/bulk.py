"""Many tasks at once: shifted by working days, linked in a row. Fields of many are changed by ``tasks.edit_tasks``."""

from __future__ import annotations

from collections.abc import Sequence

from pymysql.cursors import Cursor

from ...core.schedule.replan import shifted_by
from ...core.tasks.bulk import in_a_row
from ..common.context import Actor, once
from ..common.pipeline import changing
from ..common.task_writes import write_many
from .tasks import check_count, counted


@once
def shift_tasks(cur: Cursor, actor: Actor, code: str, ids: Sequence[str], days: float) -> None:
    """Shift tasks, with all under them, by working days. Raises RuleError where nothing of it can be shifted."""
    check_count(len(ids))
    with changing(cur, actor, code, f"shifted {counted(len(ids))} by {days:g} d", whole=True) as (log, held):
        write_many(cur, log, shifted_by(held.plan, set(ids), days), held.plan.tasks)


@once
def link_in_a_row(cur: Cursor, actor: Actor, code: str, ids: Sequence[str]) -> None:
    """Let tasks wait for one another in outline order. Raises RuleError where that cannot be."""
    check_count(len(ids))
    with changing(cur, actor, code, f"linked {counted(len(ids))} in a row") as (log, held):
        links = {one: {"waits_for": links} for one, links in in_a_row(held.plan, set(ids)).items()}
        write_many(cur, log, links, held.plan.tasks)
