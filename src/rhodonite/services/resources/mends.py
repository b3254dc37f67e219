"""Mends for an overload: found in the core, each tried on its plan, the least harmful first."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from datetime import date

from pymysql.cursors import Cursor

from ...core.common.calendars import datetime_of
from ...core.people.access import may_in_project
from ...core.resources.effects import Effect
from ...core.resources.load import columns
from ...core.resources.mends import Mend, People, harm, mends
from ...core.schedule.plan import Row
from ...core.tasks.model import Project
from ..common.context import Actor
from ..schedule.reschedule import RippleAnswer, preview
from ..tasks.projects import visible_projects
from ..tasks.tasks import changed_fields
from .load import hold_loads

MOST_TRIED = 12
MOST_SHOWN = 4


@dataclass(frozen=True, slots=True)
class Offered:
    """A mend with its whole effect.

    Attributes:
        others: how many other tasks move.
        finish_before, finish: of the project, as minute numbers' moments.
        people: who becomes over, or no longer is.
    """

    mend: Mend
    project: Project
    row: Row
    others: int
    finish_before: date
    finish: date
    later: int
    people: list[Effect]


def find_mends(
    cur: Cursor, actor: Actor, code: str | None, who: str, first: date, last: date, *, everywhere: bool = True
) -> list[Offered]:
    """Up to four ways to take away by how much somebody is over, in projects that the person may edit.

    Whom a change would harm is judged by all work, whatever is looked at.

    Ranked by harm: by how much the finish moves, how much others become over, how many tasks move; then by how much it takes
    away.

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
        plan, people = at.plan, People(held.capacities.by_who, held.capacities.usual, lies, held.loads[key].spent)
        members = sorted(one for one, role in plan.project.members.items() if may_in_project(role, "edit"))
        found = mends(plan, who, range(span.first, span.edges[-1]), people, members)
        for mend in sorted(found, key=lambda one: (-one.relief, one.days, one.task_id))[:MOST_TRIED]:
            task = plan.tasks[mend.task_id]
            after = task.with_fields(changed_fields(cur, actor, plan, task, dict(mend.fields)))
            answer = preview(cur, actor, plan, {task.id: after}, at.mark.revision)
            offered.append(_offered(mend, plan.project, plan.rows[task.id], answer))
    offered.sort(key=lambda one: harm(one.mend, one.later, sum(each.more for each in one.people), one.others))
    return offered[:MOST_SHOWN]


def _offered(mend: Mend, project: Project, row: Row, answer: RippleAnswer) -> Offered:
    ripple = answer.ripple
    others = sum(move.task != mend.task_id for move in ripple.moved)
    finishes = (datetime_of(ripple.finish_before).date(), datetime_of(ripple.finish_after).date())
    later = max(0, ripple.finish_after - ripple.finish_before)
    return Offered(mend, project, row, others, *finishes, later, answer.people)
