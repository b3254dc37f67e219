"""What goals are measured by: values that were typed, and the plans of the projects that they count."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass
from datetime import date
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.errors import RuleError
from ...core.goals.access import right_in
from ...core.goals.measures import Facts, Part, Standing, count_rows, measure_all
from ...core.goals.model import COUNTING, Goal, Measure
from ...core.people.viewer import Viewer
from ...core.tasks.model import Project
from ...core.views.all_projects import Shared
from ...core.views.catalogue import Catalogue
from ...core.views.columns import Column
from ...core.views.conditions import holding, read_group
from ...core.views.scope import Scope
from ...store.goals import goals as rows
from ...store.people import people as people_rows
from ...store.people import teams as team_rows
from ...store.tasks import projects as project_rows
from ..common.context import Actor
from ..common.plan_cache import PLANS, CachedPlan


@dataclass(frozen=True, slots=True)
class Ground:
    """From what measures are read: the projects that there are, and the people and teams whom clauses name."""

    projects: Mapping[str, Project]
    people: Mapping[str, str]
    teams: Mapping[str, str]
    in_teams: Mapping[str, frozenset[str]]
    today: date

    def viewer(self, goal: Goal) -> Viewer:
        """Clauses that say “me” speak of the owner of the goal."""
        return Viewer(goal.owner_id, self.in_teams)


def ground_of(cur: Cursor, actor: Actor, goals: Iterable[Goal]) -> Ground:
    """What the measures of some goals need."""
    wanted = {one for goal in goals if goal.measure.kind in COUNTING for one in goal.measure.projects}
    teams = team_rows.all_teams(cur)
    return Ground(
        project_rows.projects_by_id(cur, wanted),
        {one.id: one.name for one in people_rows.all_people(cur)},
        {one.id: one.name for one in teams},
        {one.id: one.people for one in teams},
        actor.clock.now().date(),
    )


def facts_of(cur: Cursor, actor: Actor, goals: Collection[Goal]) -> Facts:
    """What some goals are measured by."""
    ground = ground_of(cur, actor, goals)
    parts = {
        one.id: [*parts_of(cur, actor, ground, one).values()] for one in goals if one.measure.kind in COUNTING and one.is_open
    }
    said: dict[str, Any] = {goal_id: health for goal_id, (health, _) in rows.latest_notes(cur).items()}
    return Facts(parts, rows.latest_values(cur), said)


def standings(cur: Cursor, actor: Actor, goals: Mapping[str, Goal]) -> dict[str, Standing]:
    """How far goals are, of those that the person sees. What a goal takes from those below it comes from those that they see
    too: from a sum they could infer how far a hidden one is."""
    goals = {one: goal for one, goal in goals.items() if right_in(goal, actor.person) is not None}
    return measure_all(goals, facts_of(cur, actor, goals.values()), actor.clock.now().date())


def parts_of(cur: Cursor, actor: Actor, ground: Ground, goal: Goal) -> dict[str, Part]:
    """By project what it adds to a goal."""
    now = actor.clock.now()
    return {
        one: part_of(PLANS.at(cur, ground.projects[one], now), ground, goal)
        for one in goal.measure.projects
        if one in ground.projects
    }


def part_of(held: CachedPlan, ground: Ground, goal: Goal) -> Part:
    """What a project adds to a goal. It is kept with its plan, so that only what changed is counted again."""
    teams = frozenset(one for one, people in ground.in_teams.items() if goal.owner_id in people)
    asked = ("goal", goal.measure, goal.owner_id, teams, ground.today)
    return held.answers.once(asked, lambda: _counted(held, goal.measure, ground, ground.viewer(goal)))


def _counted(held: CachedPlan, measure: Measure, ground: Ground, viewer: Viewer) -> Part:
    shared = Shared(Catalogue(held.plan, ground.people, ground.teams))
    try:
        column = column_of(shared, measure.field) if measure.kind == "field" else None
        test = holding(read_group(measure.where or None), shared, viewer) if measure.where else None
    except RuleError as error:  # a field that the project has not, or no longer
        return Part(unclear=str(error))
    leaves = (row for row, _, _ in held.plan.ordered() if test is None or test(row))
    return count_rows(leaves, measure, column.value if column else None, ground.today)


def column_of(columns: Shared, key: str) -> Column:
    """The field that a measure sums. Raises RuleError where there is none of that key, or it is no number that all may see."""
    column = columns.columns.get(key)
    if column is None or column.type != "number" or column.money:
        raise RuleError("That field cannot be summed. Choose a number.", "field")
    return column


def check_counting(cur: Cursor, actor: Actor, goal: Goal) -> None:
    """Raises RuleError where clauses cannot be read, or no project has the fields that a measure asks for."""
    measure = goal.measure
    if measure.kind not in COUNTING:
        return
    if Scope(where=read_group(measure.where or None)).names_money:
        raise RuleError("A goal cannot be measured by what work costs: not everybody may see that.", "where")
    parts = parts_of(cur, actor, ground_of(cur, actor, [goal]), goal)
    if parts and all(one.unclear for one in parts.values()):
        raise RuleError(next(iter(parts.values())).unclear, "where" if measure.kind == "tasks" else "field")


def fields_of(cur: Cursor, actor: Actor, projects: Iterable[Project]) -> dict[str, str]:
    """The fields of some projects that can be summed, by key their names."""
    found: dict[str, str] = {}
    for project in projects:
        held = PLANS.at(cur, project, actor.clock.now())
        for one in Shared(Catalogue(held.plan, {}, {})).columns.values():
            if one.type == "number" and not one.money:
                found.setdefault(one.key, one.name)
    return found
