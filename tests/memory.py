"""What a process holds in memory, held against the tables: after anything that happens both must say the same."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from pymysql.cursors import Cursor

from rhodonite.core.tasks.model import Project
from rhodonite.services.common.context import Clock
from rhodonite.services.common.plan_cache import PLANS, PlanCache, _quarter
from rhodonite.services.cost.book import book_of
from rhodonite.services.resources import capacity
from rhodonite.services.time.ledger import ledger_of
from rhodonite.store.common.database import Database
from rhodonite.store.tasks import projects as project_rows


def check_memory(database: Database, clock: Clock) -> None:
    """Fails where a plan, the hours or the costs that are held of it, or capacities differ from what the tables say."""
    database.read(_check, clock)


def _check(cur: Cursor, clock: Clock) -> None:
    assert capacity.read_capacities(cur).staff == capacity.read_staff(cur)
    for project_id in PLANS.projects:
        project = project_rows.project(cur, project_id)
        if project is None:
            continue
        before = PLANS._held["project", project_id]
        if before.mark.quarter > _quarter(clock.now()):
            continue  # the test has put its clock back
        assert before.mark.revision <= project.revision, f"{project.code}: what is held is newer than what was committed"
        held, fresh = PLANS.at(cur, project, clock.now()), PlanCache().at(cur, project, clock.now())
        ours, theirs = (_without_calendars(one.plan.project) for one in (held, fresh))
        assert ours == theirs, [
            (n, getattr(ours, n), getattr(theirs, n)) for n in ours.__slots__ if getattr(ours, n) != getattr(theirs, n)
        ]
        assert (rows := _differing(held.plan.rows, fresh.plan.rows)) == {}, (project.code, "rows", *map(_said, rows.values()))
        assert _differing(held.encoded, fresh.encoded) == {}, (project.code, "rows as sent")
        assert held.plan.agreed == fresh.plan.agreed, (project.code, "agreed plan")
        if project.time:
            assert ledger_of(cur, held).by_task == _read_anew(cur, fresh, ledger_of).by_task, (project.code, "hours")
        if project.costs:
            ours, theirs = book_of(cur, held), _read_anew(cur, fresh, book_of)
            assert (ours.lines, ours.expenses) == (theirs.lines, theirs.expenses), (project.code, "costs")


def _without_calendars(project: Project) -> Project:
    """Calendars do not compare; where one is another, the dates of rows tell. At which revision the settings were read may be
    later than when they changed."""
    return replace(project, revision=0, meta_revision=0, calendars={}, people_time={})


def _said(pair: tuple[Any, Any]) -> Any:
    """The fields in which a row that is held differs from one that is read anew."""
    ours, theirs = pair
    if ours is None or theirs is None:
        return pair
    return {n: (getattr(ours, n), getattr(theirs, n)) for n in ours.__slots__ if getattr(ours, n) != getattr(theirs, n)}


def _differing(held: Any, fresh: Any) -> dict[str, Any]:
    return {one: (held.get(one), fresh.get(one)) for one in held.keys() | fresh.keys() if held.get(one) != fresh.get(one)}


def _read_anew(cur: Cursor, plan: Any, read: Any) -> Any:
    from rhodonite.services.cost import book
    from rhodonite.services.time import ledger

    kept = ledger._held, book._held
    ledger._held, book._held = type(kept[0])("ledger", 1), type(kept[1])("book", 1)
    try:
        return read(cur, plan)
    finally:
        ledger._held, book._held = kept
