"""Projects: start them, change them, their members, workflow and calendar; archive and restore."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.calendars import OFFICE_WEEK, WEEKDAYS, write_hours
from ...core.common.currencies import check_currency, check_exchange
from ...core.common.errors import Clash, RuleError
from ...core.common.ordering import places_between
from ...core.people.access import PROJECT_ROLES, ProjectAction, may_in_project, project_role
from ...core.schedule.agreed import variance, whole_days
from ...core.schedule.plan import judged_at
from ...core.schedule.replan import START_GRIDS
from ...core.tasks.boards import Workflow
from ...core.tasks.custom_fields import Definition
from ...core.tasks.health import project_health
from ...core.tasks.model import USUAL_LENSES, Health, Project, State
from ...core.tasks.rollup import Sums
from ...core.tasks.workflow import DEFAULT_STATES, LARGEST_LIMIT, check_brief, check_lenses, check_limit_rule
from ...store.common import journal as journal_rows
from ...store.people import people as people_rows
from ...store.schedule import agreed as agreed_rows
from ...store.tasks import custom_fields as definition_rows
from ...store.tasks import projects as project_rows
from ..common.context import Actor, AlreadyDone, Log, new_id, once, open_project, writing
from ..common.held import Held
from ..common.pipeline import changing_project, check_currency_change, reschedule, worries_of
from ..common.plan_cache import PLANS, calendar_name, kept_calendar, read_meta


@dataclass(frozen=True, slots=True)
class ProjectDetail:
    """A project with all that a lens needs besides its tasks.

    Attributes:
        others: the calendars that tasks may have beside the project's own: id, name, week, exceptions.
    """

    project: Project
    role: str
    week: dict[str, list[list[str]]]
    exceptions: list[dict[str, Any]]
    day_minutes: int
    others: list[tuple[str, str, dict[str, list[list[str]]], list[dict[str, Any]]]]
    defined: list[Definition]


@dataclass(frozen=True, slots=True)
class ProjectLine:
    """A project in the list of all work, with what its tasks sum up to."""

    project: Project
    role: str
    sums: Sums
    health: Health
    agreed_days: int | None


def _whole(cur: Cursor, project: Project) -> Project:
    return replace(project, states=project_rows.states(cur, project.id), members=project_rows.members(cur, project.id))


def read_project(cur: Cursor, actor: Actor, code: str) -> ProjectDetail:
    """One project with its members, workflow and calendar."""
    project = _whole(cur, open_project(cur, actor, code, "see"))
    _, week, exceptions = project_rows.calendar(cur, project.id)
    role = actor.role_in(project, project.members.get(actor.person.id))
    assert role is not None
    others = project_rows.other_calendars(cur, project.id)
    defined = [one for _, one in definition_rows.of_project(cur, project.id)]
    project = replace(project, workflows=tuple(one for one in defined if isinstance(one, Workflow)))
    return ProjectDetail(project, role, week, exceptions, kept_calendar(week, exceptions).day_minutes, others, defined)


def visible_projects(cur: Cursor, actor: Actor, *, archived: bool = False) -> list[tuple[Project, str]]:
    """The projects that a person may see, each with their role in it."""
    mine = project_rows.roles_of(cur, actor.person.id)
    found = []
    for project in project_rows.all_projects(cur, archived=archived):
        role = project_role(actor.person.role, mine.get(project.id), project.private)
        if role is not None:
            found.append((project, role))
    return found


def every_visible_project(cur: Cursor, actor: Actor) -> dict[str, tuple[Project, str]]:
    """By id the projects that somebody may see, archived ones too, with their role in each."""
    both = [*visible_projects(cur, actor), *visible_projects(cur, actor, archived=True)]
    return {project.id: (project, role) for project, role in both}


_SUMS: Held[tuple[int, datetime, Sums]] = Held("sums", 10_000)
"""What the tasks of a project sum up to, with its revision and the quarter of an hour: few change between two readings."""


def list_projects(cur: Cursor, actor: Actor, *, archived: bool = False) -> list[ProjectLine]:
    """All work that a person may see."""
    now = judged_at(actor.clock.now())
    visible = visible_projects(cur, actor, archived=archived)
    sums = _sums_of(cur, [project for project, _ in visible], now)
    past = _agreed_days(cur, {one: each.finish for one, each in sums.items()})
    return [
        ProjectLine(p, role, sums[p.id], project_health(sums[p.id], now, worries_of(cur, actor, p)), past.get(p.id))
        for p, role in visible
    ]


def _sums_of(cur: Cursor, projects: Sequence[Project], now: datetime) -> dict[str, Sums]:
    held = {project.id: _SUMS.get(cur, project.id) for project in projects}
    fresh = _read_sums(cur, [p for p in projects if (one := held[p.id]) is None or one[:2] != (p.revision, now)], now)
    for project_id, read in fresh.items():
        _SUMS.put(cur, project_id, read)
    return {one: read[2] for one, read in (held | fresh).items() if read is not None}


def _agreed_days(cur: Cursor, finishes: Mapping[str, datetime | None]) -> dict[str, int]:
    """Working days by which projects are planned to finish after their agreed date, for those that have one."""
    agreed = agreed_rows.agreed_finishes(cur, list(finishes))
    found = {}
    for project_id, (week, exceptions) in project_rows.calendars(cur, list(agreed)).items():
        finish = finishes[project_id]
        if finish is not None:
            calendar = kept_calendar(week, exceptions)
            found[project_id] = whole_days(variance(finish, agreed[project_id], calendar), calendar)
    return found


def _read_sums(cur: Cursor, projects: Sequence[Project], now: datetime) -> dict[str, tuple[int, datetime, Sums]]:
    if not projects:
        return {}
    ids = [project.id for project in projects]
    rows = project_rows.totals(cur, ids, now)
    read: dict[str, tuple[int, datetime, Sums]] = {}
    for project in projects:
        row = rows.get(project.id)
        read[project.id] = (project.revision, now, _sums(cur, project, row) if row else Sums())
    _add_summary_deadlines(cur, projects, read, now)
    return read


def _sums(cur: Cursor, project: Project, row: tuple[Any, ...]) -> Sums:
    start, finish, *numbers = row
    effort, effort_done, duration, duration_done, tasks, finished, begun, late, broken, unowned, held, bare, bare_done = map(
        int, numbers
    )
    if bare:  # a task without a duration weighs one usual day: see core.rollup.leaf_sums
        _, week, exceptions = project_rows.calendar(cur, project.id)
        day = kept_calendar(week, exceptions).day_minutes
        duration, duration_done = duration + bare * day, duration_done + bare_done * day
    return Sums(
        start, finish, effort, effort_done, duration, duration_done, tasks, finished, begun, late, broken, 0, unowned, held
    )


def _add_summary_deadlines(
    cur: Cursor, projects: Sequence[Project], read: dict[str, tuple[int, datetime, Sums]], now: datetime
) -> None:
    """A deadline on a summary task is judged by its computed finish, which only the plan knows."""
    by_id = {project.id: project for project in projects}
    concerned = {project_id for project_id, _ in project_rows.summary_deadlines(cur, list(by_id))}
    for project_id in concerned:
        held = PLANS.at(cur, by_id[project_id], now)
        read[project_id][2].broken = held.plan.sums().broken


def clean_code(code: str) -> str:
    """A project's code in capitals. Raises RuleError unless it is two to eight letters or digits."""
    code = code.strip().upper()
    if not re.fullmatch(r"[A-Z][A-Z0-9]{1,7}", code):
        raise RuleError("A code has two to eight letters or digits and begins with a letter, such as LAN.", "code")
    return code


@dataclass(frozen=True, slots=True)
class NewProject:
    """A project to be started."""

    id: str
    code: str
    name: str
    description: str
    start_day: date
    private: bool
    lead_id: str | None = None
    portfolio: bool = False


def create_project(cur: Cursor, actor: Actor, new: NewProject) -> str:
    """Start a project with a workflow and a working week to begin with. Returns its code.

    Raises:
        RuleError: no name, or a code that is taken.
    """
    actor.require("create_project")
    code, name = clean_code(new.code), " ".join(new.name.split())
    if not name:
        raise RuleError("A project needs a name.", "name")
    try:
        with writing(cur, actor, None, f"started {code}") as log:
            if project_rows.exists_code(cur, code):
                raise RuleError(f"Another project has the code {code}. Choose a different one.", "code")
            lead = new.lead_id or actor.person.id
            _check_person(cur, lead)
            project = Project(new.id, code, name, new.description, lead, new.start_day, new.private, None, 1, 1)
            if new.portfolio:
                project = replace(project, portfolio=True, lenses=("brief", "portfolio", *USUAL_LENSES[1:]))
            project_rows.insert_project(cur, project, actor.clock.utc())
            for (state, state_class), place in zip(DEFAULT_STATES, places_between(None, None, len(DEFAULT_STATES)), strict=True):
                project_rows.insert_state(cur, project.id, State(new_id(), state, state_class, place))
            week = {day: write_hours(hours) for day, hours in zip(WEEKDAYS, OFFICE_WEEK, strict=True)}
            project_rows.insert_calendar(cur, new_id(), project.id, calendar_name(project), week, [])
            project_rows.set_member(cur, project.id, lead, "lead")
            log.record("project", project.id, "created", None, {"code": code, "name": name})
    except AlreadyDone:
        pass
    return code


def _check_person(cur: Cursor, person_id: str) -> None:
    person = people_rows.person(cur, person_id)
    if person is None or not person.active:
        raise RuleError("That person is not in the organisation any more. Choose another.", "person_id")


def edit_project(cur: Cursor, actor: Actor, code: str, revision: int, fields: dict[str, Any]) -> str:
    """Change name, code, description, lead, start day, privacy, or archive and restore. Returns the code.

    Raises:
        Clash: somebody else changed the same field since ``revision``.
        RuleError: a value that cannot be.
    """
    project = open_project(cur, actor, code, "manage")
    what = (
        "archived the project"
        if fields.get("archived")
        else "restored the project"
        if "archived" in fields
        else "changed the project"
    )
    try:
        with changing_project(cur, actor, project.id, what) as (log, plan):
            wanted = _project_fields(cur, actor, log.project, dict(fields))
            if "currency" in wanted:
                check_currency_change(cur, plan, wanted["currency"])
            _check_project_clash(cur, actor, log.project, revision, wanted)
            changed = {name: value for name, value in wanted.items() if getattr(log.project, name) != value}
            for name, value in changed.items():
                log.record("project", project.id, name, getattr(log.project, name), value)
            if changed:
                project_rows.update_project(cur, project.id, changed)
            if "start_day" in changed:
                reschedule(cur, actor, log, plan, project=replace(plan.project, start_day=changed["start_day"]), whole=True)
            if "own_time" in changed:
                now = project_rows.project(cur, project.id)
                whole = read_meta(cur, now)[0] if now else plan.project
                reschedule(cur, actor, log, plan, project=whole, whole=True)
            if changed.get("lead_id"):
                _set_member(cur, log, project.id, changed["lead_id"], "lead")
            return str(wanted.get("code", project.code))
    except AlreadyDone:
        now = project_rows.project(cur, project.id)
        return now.code if now else code


def _project_fields(cur: Cursor, actor: Actor, project: Project, fields: dict[str, Any]) -> dict[str, Any]:
    if "archived" in fields:
        fields["archived_at"] = (project.archived_at or actor.clock.utc()) if fields.pop("archived") else None
    if "code" in fields:
        fields["code"] = clean_code(fields["code"])
        if project_rows.exists_code(cur, fields["code"], project.id):
            raise RuleError(f"Another project has the code {fields['code']}. Choose a different one.", "code")
    if "name" in fields:
        fields["name"] = " ".join(fields["name"].split())
        if not fields["name"]:
            raise RuleError("A project needs a name.", "name")
    if fields.get("start_grid", 1) not in START_GRIDS:
        raise RuleError(f"Starts fall on whole {', '.join(map(str, START_GRIDS))} minutes. Choose one of these.", "start_grid")
    if "lenses" in fields:
        fields["lenses"] = check_lenses(fields["lenses"])
        if "portfolio" in fields["lenses"] and not project.portfolio:
            raise RuleError("Only a portfolio has that lens. Start one, and join this project to it.", "lenses")
    if "brief" in fields:
        fields["brief"] = check_brief(fields["brief"])
    if fields.get("hours", project.hours) != project.hours:  # the lens of hours comes and goes with them
        kept = [one for one in fields.get("lenses", project.lenses) if one != "load"]
        fields["lenses"] = check_lenses([*kept, "load"] if fields["hours"] else kept or USUAL_LENSES)
    if fields.get("currency") is not None:
        fields["currency"] = check_currency(fields["currency"])
    if "exchange" in fields:
        fields["exchange"] = check_exchange(fields["exchange"])
    if fields.get("costs", project.costs) != project.costs:  # as the lens of hours
        kept = [one for one in fields.get("lenses", project.lenses) if one != "costs"]
        fields["lenses"] = check_lenses([*kept, "costs"] if fields["costs"] else kept or USUAL_LENSES)
    if "limit_rule" in fields:
        fields["limit_rule"] = check_limit_rule(fields["limit_rule"])
    if fields.get("person_limit") is not None and not 1 <= fields["person_limit"] <= LARGEST_LIMIT:
        raise RuleError(f"A limit lies between 1 and {LARGEST_LIMIT}. Leave it empty for no limit.", "person_limit")
    if "workflow_name" in fields:
        fields["workflow_name"] = " ".join(fields["workflow_name"].split())
        if not fields["workflow_name"]:
            raise RuleError("A workflow needs a name.", "workflow_name")
    if fields.get("lead_id"):
        _check_person(cur, fields["lead_id"])
    return fields


def _check_project_clash(cur: Cursor, actor: Actor, project: Project, revision: int, wanted: dict[str, Any]) -> None:
    changed = {name: by for _, name, _, by in journal_rows.changed_since(cur, [project.id], revision) if by != actor.person.id}
    clashes = [
        {"task_id": None, "field": name, "yours": value, "theirs": getattr(project, name), "by": changed[name]}
        for name, value in wanted.items()
        if name in changed and getattr(project, name) != value
    ]
    if clashes:
        raise Clash("Somebody else changed the same field of this project. Choose which value stays.", clashes)


@once
def set_member(cur: Cursor, actor: Actor, code: str, person_id: str, role: str | None) -> None:
    """Give a person a role in a project, or take it away with None.

    Raises:
        RuleError: an unknown role, or the role of the project's lead would be taken away.
    """
    project = open_project(cur, actor, code, "manage")
    if role is not None and role not in PROJECT_ROLES:
        raise RuleError(f"A role in a project is one of {', '.join(PROJECT_ROLES)}.", "role")
    if role is not None:
        _check_person(cur, person_id)
    if project.lead_id == person_id and role != "lead":
        raise RuleError("The lead of a project keeps the role of lead. Name another lead first.", "role")
    with writing(cur, actor, project.id, "changed the members", meta=True) as log:
        _set_member(cur, log, project.id, person_id, role)


def _set_member(cur: Cursor, log: Log, project_id: str, person_id: str, role: str | None) -> None:
    before = project_rows.members(cur, project_id).get(person_id)
    if before != role:
        log.record("member", person_id, "role", before, role)
        project_rows.set_member(cur, project_id, person_id, role)


def may(detail: ProjectDetail) -> list[str]:
    """What the person may do in a project, for the interface to show only what works."""
    actions: tuple[ProjectAction, ...] = ("see", "comment", "edit", "see_costs", "manage")
    frozen = detail.project.archived_at is not None
    return [a for a in actions if may_in_project(detail.role, a) and not (frozen and a in {"comment", "edit"})]


def suggest_code(cur: Cursor, actor: Actor, name: str) -> str:
    """A free code from the words of a name: ``Lantern Room Restoration`` gives ``LRR``, a single word its first letters."""
    actor.require("create_project")
    words = re.findall(r"[A-Za-z][A-Za-z0-9]*", name)
    base = "".join(word[0] for word in words[:4]).upper() if len(words) > 2 else "".join(words)[:3].upper()
    base = base if len(base) > 1 else (base + "PRJ")[:3]
    taken = project_rows.codes(cur)
    return next(code for code in [base, *(f"{base[:6]}{n}" for n in range(2, 10_000))] if code not in taken)
