"""Mends for an overload: found in the core, each tried on its plan, the least harmful first."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date

from pymysql.cursors import Cursor

from ...core.common.calendars import datetime_of
from ...core.people.access import may_in_project
from ...core.resources.effects import Effect, minutes_moved
from ...core.resources.load import PlanLoad, columns, load_of
from ...core.resources.mends import Mend, People, mends, rank
from ...core.schedule.plan import Row
from ...core.schedule.planning import computed_dates, follow
from ...core.tasks.model import Project, Task
from ..common.context import Actor
from ..common.plan_cache import CachedPlan
from ..schedule.reschedule import preview
from ..tasks.projects import visible_projects
from ..tasks.tasks import changed_fields
from .load import hold_loads

MOST_TRIED = 12
MOST_SHOWN = 4
MOST_STEPS = 3
"""Changes that are put together where one alone leaves something over."""


@dataclass(frozen=True, slots=True)
class Offered:
    """A way out with its whole effect.

    Attributes:
        steps: the changes that it takes, each of one task, with the task as it stands.
        relief: minutes over that it takes away; ``remains``: that are left.
        others: how many other tasks move.
        finish_before, finish: of the project.
        people: who becomes over, or no longer is.
    """

    steps: Sequence[tuple[Mend, Row]]
    project: Project
    relief: int
    remains: int
    others: int
    finish_before: date
    finish: date
    later: int
    people: list[Effect]


@dataclass(frozen=True, slots=True)
class _Ground:
    """Where ways out are looked for: a plan, its people, and the days that are looked at."""

    actor: Actor
    held: CachedPlan
    people: People
    members: Sequence[str]
    who: str
    days: range

    @property
    def over(self) -> int:
        """Minutes over on the days that are looked at."""
        return self.people.over(self.who, self.days)


def find_mends(
    cur: Cursor, actor: Actor, code: str | None, who: str, first: date, last: date, *, everywhere: bool = True
) -> list[Offered]:
    """Up to four ways to take away by how much somebody is over, in projects that the person may edit.

    Each says what it leaves. Where the best change of one task leaves something, up to three are put together. Whom a change
    would harm is judged by all work, whatever is looked at.

    Raises:
        Missing, Forbidden, RuleError: as ``read_load``.
    """
    span = columns(first, last, "day")
    held = hold_loads(cur, actor, code, everywhere=True, count="hours")
    lies: dict[str, dict[int, int]] = defaultdict(lambda: defaultdict(int))
    for load in (*held.loads.values(), *held.hidden):
        for one, by_day in load.by_who.items():
            for day, minutes in by_day.items():
                lies[one][day] += minutes
    roles = {project.code: role for project, role in visible_projects(cur, actor)}
    offered: list[Offered] = []
    for key, at in held.plans.items():
        if not may_in_project(roles.get(key), "edit") or not (everywhere or code is None or key == code.upper()):
            continue
        people = People(held.capacities.by_who, held.capacities.usual, lies, held.loads[key].spent)
        members = sorted(one for one, role in at.plan.project.members.items() if may_in_project(role, "edit"))
        offered += _in_plan(cur, _Ground(actor, at, people, members, who, range(span.first, span.edges[-1])), held.loads[key])
    offered.sort(key=_rank)
    return offered[:MOST_SHOWN]


def _rank(one: Offered) -> tuple[object, ...]:
    steps = [(mend, row.task) for mend, row in one.steps]
    return rank(one.relief, one.later, sum(each.more for each in one.people), one.others, steps)


def _in_plan(cur: Cursor, ground: _Ground, load: PlanLoad) -> list[Offered]:
    """The ways out that one plan has: changes of one task, and several together where the best of these leaves something."""
    found = [_offered(cur, ground, [one]) for one in _best(ground)[:MOST_TRIED]]
    found.sort(key=_rank)
    if not found or not found[0].remains:
        return found
    together = _together(cur, ground, load, found[0].steps[0][0])
    return [*found, _offered(cur, ground, together)] if len(together) > 1 else found


def _best(ground: _Ground) -> list[Mend]:
    found = mends(ground.held.plan, ground.who, ground.days, ground.people, ground.members)
    return sorted(found, key=lambda one: (-one.relief, one.days, ground.held.plan.tasks[one.task_id].number))


def _together(cur: Cursor, ground: _Ground, load: PlanLoad, first: Mend) -> list[Mend]:
    """A change of one task, and those that take most of what it leaves, one after the other."""
    steps, now = [first], ground
    while len(steps) < MOST_STEPS:
        now, load = _after(cur, now, load, steps[-1])
        taken = {one.task_id for one in steps}
        more = [one for one in _best(now) if one.task_id not in taken] if now.over else []
        if not more:
            break
        steps.append(more[0])
    return steps


def _after(cur: Cursor, ground: _Ground, load: PlanLoad, mend: Mend) -> tuple[_Ground, PlanLoad]:
    """The plan and its people once a change was made, with all that moves by it."""
    plan, people = ground.held.plan, ground.people
    changed = _changed(cur, ground, [mend])
    tasks = {**plan.tasks, **changed}
    moves = computed_dates(follow(plan.schedule, plan.project, plan.calendar, plan.tasks, tasks, changed), tasks)
    made, _ = plan.followed([tasks[one].with_fields(moves.get(one, {})) for one in changed.keys() | moves.keys()])
    lies = {who: dict(by_day) for who, by_day in people.load.items()}
    for who, by_day in minutes_moved(plan, changed, moves, load, people.capacities, people.usual).items():
        mine = lies.setdefault(who, {})
        for day, minutes in by_day.items():
            mine[day] = mine.get(day, 0) + minutes
    held = replace(ground.held, plan=made)
    return (
        replace(ground, held=held, people=replace(people, load=lies)),
        load_of(made, people.capacities, people.usual, people.spent),
    )


def _changed(cur: Cursor, ground: _Ground, steps: Sequence[Mend]) -> dict[str, Task]:
    plan = ground.held.plan
    found = {}
    for mend in steps:
        task = plan.tasks[mend.task_id]
        found[task.id] = task.with_fields(changed_fields(cur, ground.actor, plan, task, dict(mend.fields)))
    return found


def _offered(cur: Cursor, ground: _Ground, steps: Sequence[Mend]) -> Offered:
    plan, changed = ground.held.plan, _changed(cur, ground, steps)
    answer = preview(cur, ground.actor, plan, changed, ground.held.mark.revision)
    ripple = answer.ripple
    others = sum(move.task not in changed for move in ripple.moved)
    finishes = (datetime_of(ripple.finish_before).date(), datetime_of(ripple.finish_after).date())
    later = max(0, ripple.finish_after - ripple.finish_before)
    relief = steps[0].relief if len(steps) == 1 else sum(one.relief for one in steps)
    rows = [(one, plan.rows[one.task_id]) for one in steps]
    return Offered(rows, plan.project, relief, max(0, ground.over - relief), others, *finishes, later, answer.people)
