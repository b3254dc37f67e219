"""The schedule on paper."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from pymysql.cursors import Cursor

from ..core.scope import Scope, select
from ..formats.drawing.schedule import Layout, SchedulePrint
from ..store import people as people_rows
from .context import Actor, open_project
from .plans import open_draft, see_plan
from .teams import asker_of


@dataclass(frozen=True, slots=True)
class Printed:
    """What is printed, under which title, and when."""

    schedule: SchedulePrint
    title: str
    at: datetime


def print_schedule(cur: Cursor, actor: Actor, code: str, scope: Scope, layout: Layout) -> Printed:
    """Put the tasks within a scope on pages. Raises RuleError where that cannot be."""
    project = open_project(cur, actor, code, "see")
    draft = open_draft(cur, actor, project, actor.draft).name if actor.draft else ""
    people = {person.id: person.short for person in people_rows.all_people(cur)}
    now = actor.clock.now()
    with see_plan(cur, actor, project) as held:
        ids = None if scope == Scope() else select(held.plan, scope, asker_of(cur, actor)).ids
        schedule = SchedulePrint(held.plan, ids, people, layout, now, draft)
    return Printed(schedule, f"{project.code} {project.name}: schedule", now)
