"""Reports of time, over all projects that a person may see; one's own hours are always among them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.dates import say_day
from ...core.common.errors import RuleError
from ...core.people.model import Team
from ...core.schedule.plan import Row
from ...core.tasks.custom_fields import kind_name
from ...core.tasks.model import Project
from ...core.time.entries import TimeEntry
from ...core.time.report import By, Piece, Report, TaskFacts, check_asked, make_report
from ...store.people import people as people_rows
from ...store.people import teams as team_rows
from ...store.time import entries as rows
from ..common.context import Actor
from ..common.plan_cache import PLANS
from ..tasks.projects import every_visible_project

HIDDEN = "work that you may not see"


@dataclass(frozen=True, slots=True)
class Asked:
    """What a report is asked for.

    Attributes:
        by: the groups, from the outermost on.
        people, teams: ids; whose hours; with neither everybody's. ``projects``: codes; empty: all.
        billable: only what is, or is not, to be charged.
    """

    first: date
    last: date
    by: tuple[str, ...] = ("person", "project")
    people: tuple[str, ...] = ()
    teams: tuple[str, ...] = ()
    projects: tuple[str, ...] = ()
    billable: bool | None = None


@dataclass(frozen=True, slots=True)
class ReportAnswer:
    """A report with what its keys are called.

    Attributes:
        labels: by group and key.
        tasks: by id of a task the code of its project, for a link to it.
    """

    report: Report
    labels: dict[str, dict[str, str]]
    tasks: dict[str, str]


def read_report(cur: Cursor, actor: Actor, asked: Asked) -> ReportAnswer:
    """Hours by groups, with their sums.

    Raises:
        RuleError: days or groups that cannot be, or more lines than can be shown.
    """
    by = check_asked(asked.first, asked.last, asked.by)
    actor = replace(actor, draft=None)
    seen = _seen(cur, actor)
    found = _pieces(cur, actor, asked, seen)
    at = _rows(cur, actor, seen, found) if {"task", "kind", "project"} & set(by) else {}
    facts = {one: TaskFacts(row.task.kind, row.effort) for one, (_, row) in at.items()}
    report = make_report(found, by, facts)
    return ReportAnswer(report, _labels(cur, actor, report, seen, at), {one: project.code for one, (project, _) in at.items()})


def _seen(cur: Cursor, actor: Actor) -> dict[str, Project]:
    return {one: project for one, (project, _) in every_visible_project(cur, actor).items()}


def _pieces(cur: Cursor, actor: Actor, asked: Asked, seen: dict[str, Project]) -> list[Piece]:
    people = set(asked.people)
    teams: dict[str, Team] = {one.id: one for one in team_rows.all_teams(cur)} if asked.teams else {}
    for one in asked.teams:
        people |= teams[one].people if one in teams else set()
    if (asked.people or asked.teams) and not people:
        return []
    codes = {one.upper() for one in asked.projects}
    ids = [one for one, project in seen.items() if not codes or project.code in codes]
    own = actor.person.id if not codes else None
    return rows.pieces(cur, ids, own, asked.first, asked.last, sorted(people), asked.billable)


def _rows(cur: Cursor, actor: Actor, seen: dict[str, Project], found: Sequence[Piece]) -> dict[str, tuple[Project, Row]]:
    """The rows of the tasks of some pieces, of projects that may be seen."""
    at: dict[str, tuple[Project, Row]] = {}
    for project_id in {one.project_id for one in found} & seen.keys():
        plan = PLANS.at(cur, seen[project_id], actor.clock.now()).plan
        at |= {one.task_id: (plan.project, plan.rows[one.task_id]) for one in found if one.task_id in plan.rows}
    return at


def _labels(
    cur: Cursor, actor: Actor, report: Report, seen: dict[str, Project], at: dict[str, tuple[Project, Row]]
) -> dict[str, dict[str, str]]:
    used: dict[By, set[str]] = {by: set() for by in report.by}
    for line in report.lines:
        used[report.by[len(line.keys) - 1]].add(line.keys[-1])
    people = {one.id: one.name for one in people_rows.all_people(cur)} if "person" in used else {}
    today = actor.clock.now().date()

    def label(by: By, key: str) -> str:
        if by == "person":
            return people.get(key, "somebody")
        if by == "project":
            return f"{seen[key].code} {seen[key].name}" if key in seen else HIDDEN
        if by == "task":
            return f"{at[key][0].code} {at[key][1].task.number} {at[key][1].task.title}" if key in at else HIDDEN
        if by == "kind":
            of = next((project for project, row in at.values() if row.task.kind == key), None)
            return kind_name(key, of) if of else key
        if by == "month":
            return date.fromisoformat(f"{key}-01").strftime("%B %Y")
        if by == "billable":
            return "to be charged" if key == "yes" else "not to be charged"
        day = say_day(date.fromisoformat(key), today)
        return f"week of {day}" if by == "week" else f"{date.fromisoformat(key):%a} {day}"

    return {by: {key: label(by, key) for key in keys} for by, keys in used.items()}


HEADS = {"person": "Person", "project": "Project", "task": "Task", "kind": "Kind", "day": "Day", "week": "Week", "month": "Month",
         "billable": "To be charged"}  # fmt: skip


def report_table(answer: ReportAnswer) -> tuple[list[str], list[list[str]]]:
    """A report as a table: a column for each group, then hours. Only the innermost groups, so that its columns can be summed."""
    by = answer.report.by
    heads = [*(HEADS[one] for one in by), "Hours", "Hours to be charged", "Entries", "Estimate in hours"]
    found = [
        [*(answer.labels[group][key] for group, key in zip(by, line.keys, strict=True)), *_hours(line.minutes, line.billable),
         str(line.entries), *(_hours(line.estimate) if line.estimate is not None else [""])]
        for line in answer.report.lines
        if len(line.keys) == len(by)
    ]  # fmt: skip
    return heads, found


def _hours(*minutes: int) -> list[str]:
    return [f"{one / 60:.4f}".rstrip("0").rstrip(".") for one in minutes]


ENTRY_HEADS = ("Person", "E-mail", "Project", "Task", "Title", "Day", "From", "Hours", "Note", "Billable")
MOST_ENTRIES = 100_000


def entries_out(cur: Cursor, actor: Actor, first: date, last: date, code: str | None) -> list[list[str]]:
    """Entries one by one, as they are read back in: of a project, or of all that a person may see with their own.

    Raises:
        RuleError: days that cannot be, or more entries than a file takes.
    """
    check_asked(first, last, ("day",))
    actor = replace(actor, draft=None)
    seen = _seen(cur, actor)
    ids = [one for one, project in seen.items() if code is None or project.code == code.upper()]
    found = rows.entries_between(cur, ids, actor.person.id if code is None else None, first, last, MOST_ENTRIES + 1)
    if len(found) > MOST_ENTRIES:
        raise RuleError(f"Those are more than {MOST_ENTRIES} entries. Choose fewer days.", "last")
    people = {one.id: one for one in people_rows.all_people(cur)}
    plans = {one: PLANS.at(cur, seen[one], actor.clock.now()).plan for one in {each.project_id for each in found} & seen.keys()}

    def line(one: TimeEntry) -> list[Any]:
        who, plan = people[one.person_id], plans.get(one.project_id)
        task = plan.tasks.get(one.task_id) if plan else None
        begun = f"{one.started // 60:02}:{one.started % 60:02}" if one.started is not None else ""
        return [who.name, who.email, plan.project.code if plan else "", str(task.number) if task else "", task.title if task else HIDDEN,
                one.day.isoformat(), begun, *_hours(one.minutes), one.note, "yes" if one.billable else "no"]  # fmt: skip

    return [line(one) for one in found]
