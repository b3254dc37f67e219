"""Working calendars of a project: its own and those that tasks may have; holidays, and what a month would hold."""

from __future__ import annotations

import calendar as months
from dataclasses import dataclass, replace
from datetime import date
from typing import Any

import holidays
from pymysql.cursors import Cursor

from ...core.common.calendars import WorkingCalendar
from ...core.common.errors import Missing, RuleError
from ...core.schedule.plan import Plan
from ...core.tasks.hours import hours_of
from ...core.tasks.model import Project
from ...store.tasks import projects as project_rows
from ..common.context import Actor, Log, once, open_project
from ..common.pipeline import changing_project, reschedule
from ..common.plan_cache import make_calendar
from ..common.task_writes import write_many

MOST_YEARS = 12


@dataclass(frozen=True, slots=True)
class PreviewDay:
    """One day of a month: its working minutes, and the name of the exception that gives them, if one does."""

    day: date
    minutes: int
    name: str | None


Week = dict[str, list[list[str]]]
Exceptions = list[dict[str, Any]]


@once
def set_calendar(cur: Cursor, actor: Actor, code: str, week: Week, exceptions: Exceptions) -> None:
    """Replace the project's own working week and its exceptions, and compute the plan anew.

    Raises:
        RuleError: hours that overlap or run backwards, or a week without working time.
    """
    calendar = make_calendar(week, exceptions)
    project = open_project(cur, actor, code, "manage")
    with changing_project(cur, actor, project.id, "changed the working calendar") as (log, plan):
        calendar_id, old_week, old_exceptions = project_rows.calendar(cur, project.id)
        log.record("calendar", project.id, "week", old_week, week)
        log.record("calendar", project.id, "exceptions", old_exceptions, exceptions)
        name = f"{log.project.name}: working time"[:120]
        project_rows.update_calendar(cur, calendar_id, name, week, exceptions)
        stretch_begun(cur, log, plan, plan.project, calendar)
        reschedule(cur, actor, log, plan, calendar=calendar, whole=True)


def stretch_begun(cur: Cursor, log: Log, plan: Plan, project: Project, calendar: WorkingCalendar) -> None:
    """Where work that has begun stands is not computed, but how long it takes is, by hours that are others now."""
    stretched: dict[str, dict[str, Any]] = {}
    for task in plan.tasks.values():
        hours = hours_of(task, project, calendar)
        begun = task.actual_start is not None and task.actual_finish is None and task.deleted_at is None
        if begun and task.start and task.duration and hours is not hours_of(task, plan.project, plan.calendar):
            finish = hours.add_to(task.start, task.duration)
            if finish != task.finish:
                stretched[task.id] = {"finish": finish}
    write_many(cur, log, stretched, plan.tasks)


@once
def write_other(cur: Cursor, actor: Actor, code: str, calendar_id: str, name: str, week: Week, exceptions: Exceptions) -> None:
    """Add or change a calendar that tasks may have beside the project's own.

    Raises:
        RuleError: as ``set_calendar``; no name, or one that another calendar has.
    """
    name = " ".join(name.split())[:120]
    calendar = make_calendar(week, exceptions, name)
    project = open_project(cur, actor, code, "manage")
    others = {one[0]: one for one in project_rows.other_calendars(cur, project.id)}
    _check_name(name, {one[1] for one in others.values() if one[0] != calendar_id})
    what = "changed" if calendar_id in others else "added"
    with changing_project(cur, actor, project.id, f"{what} the calendar {name}"[:80]) as (log, plan):
        _, old_name, old_week, old_exceptions = others.get(calendar_id, (calendar_id, None, None, None))
        for field, old, new in (
            ("name", old_name, name),
            ("week", old_week, week),
            ("exceptions", old_exceptions, exceptions),
        ):
            if old != new:
                log.record("calendar", calendar_id, field, old, new)
        if calendar_id in others:
            project_rows.update_calendar(cur, calendar_id, name, week, exceptions)
        else:  # one of another project has its id already: the database refuses it
            project_rows.insert_calendar(cur, calendar_id, project.id, name, week, exceptions, main=False)
        changed = replace(plan.project, calendars={**plan.project.calendars, calendar_id: calendar})
        stretch_begun(cur, log, plan, changed, plan.calendar)
        reschedule(cur, actor, log, plan, project=changed, whole=True)


def _check_name(name: str, taken: set[str]) -> None:
    if not name:
        raise RuleError("The calendar needs a name, such as “Night shift”.", "name")
    if name.lower() in {one.lower() for one in taken}:
        raise RuleError(f"The project has a calendar called {name} already. Choose another name.", "name")


@once
def delete_other(cur: Cursor, actor: Actor, code: str, calendar_id: str) -> None:
    """Delete a calendar that tasks may have. Raises RuleError where one works by it still."""
    project = open_project(cur, actor, code, "manage")
    others = {one[0]: one[1] for one in project_rows.other_calendars(cur, project.id)}
    if calendar_id not in others:
        raise Missing("calendar")
    with changing_project(cur, actor, project.id, f"deleted the calendar {others[calendar_id]}"[:80]) as (log, plan):
        using = [task for task in plan.tasks.values() if task.calendar_id == calendar_id and task.deleted_at is None]
        if using:
            more = f" and {len(using) - 1} more work" if len(using) > 1 else " works"
            raise RuleError(f"“{using[0].title}”{more} by this calendar. Give them another first.", "calendar_id")
        log.record("calendar", calendar_id, "deleted_at", None, actor.clock.utc())
        project_rows.set_calendar_deleted(cur, calendar_id, actor.clock.utc())


def list_countries() -> dict[str, list[str]]:
    """The countries whose holidays are known, by their code of two letters (ISO 3166), each with its regions."""
    return dict(holidays.list_supported_countries(include_aliases=False))


def public_holidays(country: str, region: str | None, first: int, last: int) -> list[tuple[date, str]]:
    """The public holidays of a country in some years.

    Raises:
        RuleError: a country or region that is not known, or too many years.
    """
    if not first <= last < first + MOST_YEARS:
        raise RuleError(f"Ask for at most {MOST_YEARS} years, the first before the last.", "last")
    try:
        found = holidays.country_holidays(country, subdiv=region or None, years=range(first, last + 1), language="en_US")
    except NotImplementedError as error:
        raise RuleError(f"The holidays of {country} {region or ''} are not known. Choose from the list.", "country") from error
    return sorted(found.items())


def preview_month(
    cur: Cursor, actor: Actor, code: str, week: dict[str, Any], exceptions: list[dict[str, Any]], month: date
) -> list[PreviewDay]:
    """The working minutes of each day of a month, by a calendar that is not saved yet. Raises RuleError as saving would."""
    open_project(cur, actor, code, "see")
    working = make_calendar(week, exceptions)
    days = [month.replace(day=one) for one in range(1, months.monthrange(month.year, month.month)[1] + 1)]
    found = []
    for day in days:
        exception = working.exception_on(day)
        minutes = sum(end - start for start, end in working.hours(day))
        found.append(PreviewDay(day, minutes, exception.name if exception else None))
    return found
