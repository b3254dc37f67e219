"""Calendars that other programs subscribe to: made, read by their secret, withdrawn."""

from __future__ import annotations

import hashlib
import secrets
from collections.abc import Iterable
from datetime import UTC, datetime, timedelta

from pymysql.cursors import Cursor

from ...core.common.errors import Missing, RuleError
from ...core.people.access import may_in_project
from ...core.schedule.plan import Row
from ...core.tasks.model import Project
from ...formats.ical import Entry, write_calendar
from ...store.calendar import feeds as subscription_rows
from ...store.calendar.feeds import Subscription
from ...store.people import people as people_rows
from ...store.tasks import projects as project_rows
from ..common.context import Actor, Clock, new_id, open_project
from ..common.plan_cache import PLANS
from ..overview.desk import read_desk
from ..tasks.projects import visible_projects


def _hash(secret: str) -> str:
    return hashlib.sha256(secret.encode()).hexdigest()


MOST = 50
"""Subscriptions of one person."""


def subscribe(cur: Cursor, actor: Actor, code: str | None, days: int) -> tuple[Subscription, str]:
    """Make a subscription to a project, or with None to one's own work. Returns it with its secret, which is told once.

    Args:
        days: after which it ends.

    Raises:
        RuleError: the person has too many.
    """
    project_id = open_project(cur, actor, code, "see").id if code else None
    if len(subscription_rows.of_person(cur, actor.person.id)) >= MOST:
        raise RuleError(f"A person has {MOST} calendar addresses at most. Withdraw one first.")
    secret, at = secrets.token_urlsafe(24), actor.clock.utc()
    one = Subscription(new_id(), actor.person.id, project_id, at, at + timedelta(days=days))
    subscription_rows.insert(cur, one, _hash(secret))
    return one, secret


def list_subscriptions(cur: Cursor, actor: Actor) -> list[tuple[Subscription, str | None]]:
    """A person's own subscriptions, each with the code of its project where they may see that still."""
    seen = {
        project.id: project.code for archived in (False, True) for project, _ in visible_projects(cur, actor, archived=archived)
    }
    found = []
    for one in subscription_rows.of_person(cur, actor.person.id):
        found.append((one, seen.get(one.project_id or "")))
    return found


def withdraw(cur: Cursor, actor: Actor, subscription_id: str) -> None:
    """Withdraw one's own subscription: its address answers no more."""
    if subscription_id not in {one.id for one in subscription_rows.of_person(cur, actor.person.id)}:
        raise Missing("subscription")
    subscription_rows.delete(cur, subscription_id)


def read_calendar(cur: Cursor, clock: Clock, secret: str, base_url: str) -> bytes:
    """The calendar that a secret opens, as far as its maker may see it today.

    Raises:
        Missing: the secret was withdrawn or has ended, or its maker may no longer see the project.
    """
    one = subscription_rows.by_secret(cur, _hash(secret), clock.utc())
    person = people_rows.person(cur, one.person_id) if one else None
    if one is None or person is None or not person.active:
        raise Missing("calendar")
    actor = Actor(person, clock)
    if one.read_at is None or clock.utc() - one.read_at > timedelta(hours=1):
        subscription_rows.note_read(cur, one.id, clock.utc())
    if one.project_id is None:
        items = [(item.project, item.row) for item in read_desk(cur, actor).items]
        return write_calendar(f"Work of {person.name}", _entries(items, clock, base_url))
    project = project_rows.project(cur, one.project_id)
    role = actor.role_in(project, project_rows.members(cur, project.id).get(person.id)) if project else None
    if project is None or not may_in_project(role, "see"):
        raise Missing("calendar")
    held = PLANS.at(cur, project, clock.now())
    rows = [(project, row) for row, _, _ in held.plan.ordered() if not row.is_summary and row.state_class != "dropped"]
    return write_calendar(project.name, _entries(rows, clock, base_url))


def _entries(rows: Iterable[tuple[Project, Row]], clock: Clock, base_url: str) -> list[Entry]:
    def instant(at: datetime | None) -> datetime | None:
        return at.replace(tzinfo=clock.zone).astimezone(UTC) if at else None

    stamp = clock.utc().replace(tzinfo=UTC, microsecond=0)
    status = {"queued": "NEEDS-ACTION", "active": "IN-PROCESS", "finished": "COMPLETED", "dropped": "CANCELLED"}
    return [
        Entry(
            uid=f"{row.task.id}@rhodonite",
            title=f"{'◆ ' if row.task.kind == 'milestone' else ''}{row.task.title}",
            start=instant(row.start),
            finish=instant(row.finish),
            url=f"{base_url}/p/{project.code}/schedule?open={row.task.id}",
            words=f"{project.code} {row.task.number}, {row.percent} % done",
            percent=row.percent,
            status=status[row.state_class],
            changed=stamp,
        )
        for project, row in rows
    ]
