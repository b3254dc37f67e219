"""Reports of time, over all projects that a person may see; one's own hours are always among them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.dates import say_day
from ...core.common.errors import RuleError
from ...core.people.access import may_in_project
from ...core.people.model import Team
from ...core.tasks.custom_fields import kind_name
from ...core.tasks.model import Project, Task
from ...core.time.entries import TimeEntry, as_read_by
from ...core.time.report import By, Piece, Report, TaskFacts, check_asked, make_report
from ...store.people import people as people_rows
from ...store.people import teams as team_rows
from ...store.time import entries as rows
from ..common.context import Actor
from ..common.plan_cache import PLANS, with_bin
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
    at = _tasks(cur, actor, seen, found) if {"task", "kind", "project"} & set(by) else {}
    facts = {one: TaskFacts(task.kind, effort) for one, (_, task, effort) in at.items()}
    report = make_report(found, by, facts)
    codes = {one: project.code for one, (project, *_) in at.items()}
    return ReportAnswer(report, _labels(cur, actor, report, seen.projects, at), codes)


@dataclass(frozen=True, slots=True)
class _Seen:
    """The projects that a person may see, by id.

    Attributes:
        led: the ids of those that they lead; ``open``: of those in which they read the hours of others.
    """

    projects: dict[str, Project]
    led: set[str]
    open: set[str]


def _seen(cur: Cursor, actor: Actor) -> _Seen:
    every = every_visible_project(cur, actor)
    projects = {one: project for one, (project, _) in every.items()}
    led = {one for one, (_, role) in every.items() if may_in_project(role, "manage")}
    return _Seen(projects, led, led if actor.person.role == "guest" else set(projects))


def _pieces(cur: Cursor, actor: Actor, asked: Asked, seen: _Seen) -> list[Piece]:
    people = set(asked.people)
    teams: dict[str, Team] = {one.id: one for one in team_rows.all_teams(cur)} if asked.teams else {}
    for one in asked.teams:
        people |= teams[one].people if one in teams else set()
    if (asked.people or asked.teams) and not people:
        return []
    codes = {one.upper() for one in asked.projects}
    ids = [one for one, project in seen.projects.items() if not codes or project.code in codes]
    others = [one for one in ids if one in seen.open]
    found = rows.pieces(cur, others, actor.person.id, asked.first, asked.last, sorted(people), asked.billable)
    return [one for one in found if not codes or one.project_id in ids]


_At = dict[str, tuple[Project, Task, int | None]]
"""By task its project, itself, and its effort."""


def _tasks(cur: Cursor, actor: Actor, seen: _Seen, found: Sequence[Piece]) -> _At:
    """The tasks of some pieces, of projects that may be seen, those in the bin too."""
    at: _At = {}
    for project_id in {one.project_id for one in found} & seen.projects.keys():
        plan = PLANS.at(cur, seen.projects[project_id], actor.clock.now()).plan
        tasks = with_bin(cur, plan, (one.task_id for one in found if one.project_id == project_id))
        for one, task in tasks.items():
            row = plan.rows.get(one)
            at[one] = (plan.project, task, row.effort if row else task.effort)
    return at


def _labels(cur: Cursor, actor: Actor, report: Report, seen: dict[str, Project], at: _At) -> dict[str, dict[str, str]]:
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
            return f"{at[key][0].code} {at[key][1].number} {at[key][1].title}" if key in at else HIDDEN
        if by == "kind":
            of = next((project for project, task, _ in at.values() if task.kind == key), None)
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
    ids = [one for one, project in seen.projects.items() if code is None or project.code == code.upper()]
    others = [one for one in ids if one in seen.open]
    read = rows.entries_between(cur, others, actor.person.id, first, last, MOST_ENTRIES + 1)
    found = [
        shown
        for one in read
        if code is None or one.project_id in ids
        if (shown := as_read_by(one, actor.person.id, leads=one.project_id in seen.led, guest=actor.person.role == "guest"))
    ]
    if len(found) > MOST_ENTRIES:
        raise RuleError(f"Those are more than {MOST_ENTRIES} entries. Choose fewer days.", "last")
    people = {one.id: one for one in people_rows.all_people(cur)}
    tasks: dict[str, Task] = {}
    for project_id in {one.project_id for one in found} & seen.projects.keys():
        plan = PLANS.at(cur, seen.projects[project_id], actor.clock.now()).plan
        tasks |= with_bin(cur, plan, (one.task_id for one in found if one.project_id == project_id))

    def line(one: TimeEntry) -> list[Any]:
        who, project, task = people[one.person_id], seen.projects.get(one.project_id), tasks.get(one.task_id)
        begun = f"{one.started // 60:02}:{one.started % 60:02}" if one.started is not None else ""
        return [who.name, who.email, project.code if project else "", str(task.number) if task else "", task.title if task else HIDDEN,
                one.day.isoformat(), begun, *_hours(one.minutes), one.note, "yes" if one.billable else "no"]  # fmt: skip

    return [line(one) for one in found]
