"""People's own time driving the dates of tasks, in projects that say so: a task whose only person is away waits."""

from __future__ import annotations

import uuid
from collections.abc import Mapping
from dataclasses import replace

from pymysql.cursors import Cursor

from ...core.common.calendars import WorkingCalendar
from ...core.resources.capacity import in_common
from ...core.tasks.hours import OWN_TIME
from ...core.tasks.model import Project
from ...store.common import journal as journal_rows
from ...store.tasks import projects as project_rows
from ..common.context import Actor
from ..common.pipeline import changing_project, has_other_time, reschedule
from ..common.plan_cache import knows_the_time_of_people, read_meta
from ..schedule.calendars import stretch_begun
from .capacity import read_capacities


@knows_the_time_of_people
def people_time(cur: Cursor, calendar: WorkingCalendar) -> Mapping[str, WorkingCalendar]:
    """By person when they work within the working time of a project, of those whose hours or absences are their own."""
    capacities = read_capacities(cur)
    staff = capacities.staff
    own = {who for who, kept in staff.kept.items() if kept.week} | {one.person_id for one in staff.absences}
    found = {who: in_common(calendar, capacities.of(who).hours, OWN_TIME) for who in sorted(own)}
    return {who: one for who, one in found.items() if one is not None}


@has_other_time
def follow_people(cur: Cursor, actor: Actor) -> None:
    """Compute anew the plans of projects in which people's own time drives dates. Nobody is asked: it is a consequence of what
    somebody entered, whatever they may change there themselves."""
    for project in project_rows.all_projects(cur):
        if project.own_time and project.archived_at is None:
            change_id = str(uuid.uuid5(uuid.UUID(actor.change_id), project.id))
            _follow(cur, replace(actor, change_id=change_id, consent=None, draft=None), project)


def _follow(cur: Cursor, actor: Actor, project: Project) -> None:
    whole, calendar, _ = read_meta(cur, project)
    with changing_project(cur, actor, project.id, "followed the time of people") as (log, plan):
        changed = replace(plan.project, people_time=whole.people_time)
        stretch_begun(cur, log, plan, changed, calendar)
        reschedule(cur, actor, log, plan, project=changed, whole=True)
    if not log.entries:  # it concerns no task: then nobody needs to read of it
        journal_rows.take_out(cur, actor.change_id)
