"""The desk: one person's open work over all projects."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from pymysql.cursors import Cursor

from ...core.overview.desk import Section, desk_section
from ...core.overview.horizon import Horizon, horizon
from ...core.resources.overload import say_own
from ...core.schedule.plan import Row, judged_at
from ...core.tasks.model import Project
from ...store.tasks import tasks as task_rows
from ..common.context import Actor
from ..common.plan_cache import PLANS
from ..resources.load import read_own_overloads
from ..tasks.projects import visible_projects


@dataclass(frozen=True, slots=True)
class DeskItem:
    """One task on the desk. ``mine`` where the person owns it, else they help; ``encoded`` is its row in JSON."""

    project: Project
    row: Row
    encoded: bytes
    section: Section
    mine: bool


@dataclass(frozen=True, slots=True)
class Desk:
    """All open work of one person, the earliest finish first, their horizon, and in words where they are booked too much."""

    items: list[DeskItem]
    horizon: Horizon
    over: str = ""


def read_desk(cur: Cursor, actor: Actor) -> Desk:
    """What a person owns or helps with and is not finished, in the projects they may see."""
    now = judged_at(actor.clock.now())
    visible = {project.id: project for project, _ in visible_projects(cur, actor)}
    by_project: dict[str, list[str]] = {}
    for project_id, task_id in task_rows.open_tasks_for(cur, actor.person.id):
        if project_id in visible:
            by_project.setdefault(project_id, []).append(task_id)
    items: list[DeskItem] = []
    for project_id, ids in by_project.items():
        held = PLANS.at(cur, visible[project_id], now)
        for row in (held.plan.rows[one] for one in ids if one in held.plan.rows):
            section = desk_section(row.finish, row.state_class, now)
            mine = row.task.owner_id == actor.person.id
            items.append(DeskItem(held.plan.project, row, held.encoded[row.task.id], section, mine))
    items.sort(key=lambda item: (item.row.finish or datetime.max, item.project.code, item.row.task.number))
    over = say_own(read_own_overloads(cur, actor), now.date())
    return Desk(items, horizon([item.row for item in items], now), over)
