"""What goals have to do with one project: those that it serves, and those that a change of it endangers."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from pymysql.cursors import Cursor

from ...core.goals.access import right_in
from ...core.goals.endangered import Endangered, endangered
from ...core.goals.measures import Part
from ...core.schedule.plan import Plan
from ...core.tasks.model import Fields, Task
from ...store.goals import goals as rows
from ..common.context import Actor, open_project
from ..common.pipeline import says_which_goals
from ..common.plan_cache import PLANS
from . import measuring
from .seen import Shown, shown_to


@dataclass(frozen=True, slots=True)
class Served:
    """A goal that a project serves, and what the project adds to it."""

    shown: Shown
    part: Part


def read_served(cur: Cursor, actor: Actor, code: str) -> list[Served]:
    """The open goals that count the work of a project, of those that the person sees.

    Raises:
        Missing: the person may not see the project.
    """
    project = open_project(cur, actor, code, "see")
    mine = [one for one in rows.goals_of_project(cur, project.id) if right_in(one, actor.person) is not None]
    if not mine:
        return []
    ground = measuring.ground_of(cur, actor, mine)
    parts = {one.id: measuring.parts_of(cur, actor, ground, one) for one in mine}
    stand = measuring.standings(cur, actor, {one.id: one for one in mine})
    shown = {one.goal.id: one for one in shown_to(cur, actor, rows.goals(cur), stand)}
    return [Served(shown[one.id], parts[one.id].get(project.id, Part())) for one in mine]


@says_which_goals
def on_goals(cur: Cursor, actor: Actor, plan: Plan, after: Mapping[str, Task], moves: Mapping[str, Fields]) -> list[Endangered]:
    """Which goals a change of tasks endangers, or endangers no longer, of those that the person sees."""
    held = PLANS.holding(cur, plan)
    finishes = {one: task.finish for one, task in after.items()}
    finishes |= {one: dates["finish"] for one, dates in moves.items() if "finish" in dates}
    if held is None or not finishes:
        return []
    goals = [
        one for one in rows.goals_of_project(cur, plan.project.id) if one.measure.kind == "tasks" and right_in(one, actor.person)
    ]
    if not goals:
        return []
    ground = measuring.ground_of(cur, actor, goals)
    counted = {one.id: measuring.part_of(held, ground, one).unfinished for one in goals}
    before = {one: plan.tasks[one].finish if one in plan.tasks else None for one in finishes}
    return endangered(goals, counted, before, finishes)
