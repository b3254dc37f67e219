"""The load of people over one project or all that a person may see; what they may not see counts without names."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Literal

from pymysql.cursors import Cursor

from ...core.people.access import may_in_organisation, may_in_project
from ...core.people.model import Team
from ...core.resources.bookable import Resource
from ...core.resources.effects import Effect, effects
from ...core.resources.load import (
    NOBODY,
    Bookable,
    By,
    Line,
    PlanLoad,
    Span,
    columns,
    line,
    load_of,
    tasks_line,
    within_days,
)
from ...core.resources.overload import WEEKS_AHEAD, Overload, is_overbooked, overloads
from ...core.schedule.plan import Plan, Row
from ...core.tasks.model import Fields, Project, Task
from ...store.people import people as people_rows
from ...store.people import teams as team_rows
from ...store.tasks import projects as project_rows
from ..common.context import Actor, open_project
from ..common.pipeline import knows_overbooked, says_who_is_over, spent_on
from ..common.plan_cache import PLANS, CachedPlan, see_plan
from ..tasks.projects import visible_projects
from .capacity import Capacities, read_capacities

Count = Literal["hours", "tasks"]


@dataclass(frozen=True, slots=True)
class Who:
    """Whose load a line is: a person with their team, a crew or role, a material with its unit, or hours that nobody has
    yet."""

    id: str
    kind: Literal["person", "resource", "material", "nobody"]
    name: str
    team: str = ""
    unit: str = ""


@dataclass(frozen=True, slots=True)
class Load:
    """The load of many.

    Attributes:
        projects: those whose hours or tasks are shown by name, by their codes.
        undated: how many tasks with bookings have no dates, and so lie nowhere.
    """

    span: Span
    who: list[Who]
    lines: list[Line]
    projects: dict[str, str]
    undated: int


@dataclass(frozen=True, slots=True)
class Held:
    """The plans behind a load, by code of the project, with what each lays on people."""

    plans: dict[str, CachedPlan]
    loads: dict[str, PlanLoad]
    hidden: list[PlanLoad]
    capacities: Capacities


def hold_loads(cur: Cursor, actor: Actor, code: str | None, *, everywhere: bool, count: Count) -> Held:
    """Take in hand what lies on people.

    Args:
        code: of a project whose people are asked for; None: of the organisation.
        everywhere: True where all projects count, and not this one alone.
        count: projects that do not plan hours have tasks all the same.

    Raises:
        Missing, Forbidden: the person may not see the project, or without one the people.
    """
    own = open_project(cur, actor, code, "see") if code else None
    if own is None:
        actor.require("see_people")
    capacities = read_capacities(cur)
    plans: dict[str, CachedPlan] = {}
    hidden: list[PlanLoad] = []
    everywhere = own is None or (everywhere and may_in_organisation(actor.person.role, "see_people"))
    visible = {project.id for project, _ in visible_projects(cur, actor)} if everywhere else set()
    for project in project_rows.all_projects(cur) if everywhere else [own] if own else []:
        if not (project.hours or count == "tasks"):
            continue
        at = see_plan(cur, actor, project) if own and project.id == own.id else PLANS.at(cur, project, actor.clock.now())
        if project.id in visible or (own and project.id == own.id):
            plans[project.code] = at
        else:
            hidden.append(_load(cur, at, capacities))
    return Held(plans, {one: _load(cur, at, capacities) for one, at in plans.items()}, hidden, capacities)


def _load(cur: Cursor, held: CachedPlan, capacities: Capacities) -> PlanLoad:
    asked = ("load", capacities.mark)
    return held.answers.once(asked, lambda: load_of(held.plan, capacities.by_who, capacities.usual, spent_on(cur, held)))


def read_load(
    cur: Cursor,
    actor: Actor,
    code: str | None,
    first: date,
    last: date,
    by: By,
    *,
    everywhere: bool = True,
    count: Count = "hours",
) -> Load:
    """The load of the people of a project, or of all, from one day to another. Raises as ``hold_loads``, and RuleError for days
    that cannot be."""
    span = columns(first, last, by)
    return load_held(cur, actor, hold_loads(cur, actor, code, everywhere=everywhere, count=count), code, span, count)


def load_held(cur: Cursor, actor: Actor, held: Held, code: str | None, span: Span, count: Count = "hours") -> Load:
    """The load of what was taken in hand, as ``read_load``."""
    who = _who(cur, actor, held, code)
    make = line if count == "hours" else tasks_line
    lines = [make(_bookable(one, held.capacities), span, held.loads, held.hidden) for one in who]
    kept = [(one, each) for one, each in zip(who, lines, strict=True) if one.kind == "person" or each.bands or any(each.other)]
    names = {key: at.plan.project.name for key, at in held.plans.items()}
    undated = sum(len(load.undated) for load in held.loads.values())
    return Load(span, [one for one, _ in kept], [each for _, each in kept], names, undated)


def _bookable(one: Who, capacities: Capacities) -> Bookable:
    if one.kind in {"nobody", "material"}:
        return Bookable(one.id, None)
    return Bookable(one.id, capacities.of(one.id), capacities.present.get(one.id))


def _who(cur: Cursor, actor: Actor, held: Held, code: str | None) -> list[Who]:
    """People by team, then crews and roles, then material, then what nobody has."""
    people = {one.id: one for one in people_rows.all_people(cur)}
    teams = _first_teams(team_rows.all_teams(cur))
    if code is not None:
        at = held.plans.get(code.upper())
        mine = _of_project(at, {one.id for one in people.values() if one.role == "guest"}) if at else set()
    else:
        mine = {one.id for one in people.values() if one.active and one.role != "guest"}
        mine |= {one for load in held.loads.values() for one in load.by_who.keys() & people.keys()}
    found = [Who(one.id, "person", one.name, teams.get(one.id, "")) for one in people.values() if one.id in mine]
    found.sort(key=lambda one: (not one.team, one.team.casefold(), one.name.casefold(), one.id))
    resources = _seen(held.capacities.staff.resources, held.plans.values())
    crews = [Who(one.id, "resource", one.name) for one in resources if one.kind == "labour"]
    used = [Who(one.id, "material", one.name, unit=one.unit) for one in resources if one.kind == "material"]
    return [*found, *crews, *used, Who(NOBODY, "nobody", "Not given to anyone")]


def _first_teams(teams: Iterable[Team]) -> dict[str, str]:
    found: dict[str, str] = {}
    for team in teams:
        for person in team.people:
            found.setdefault(person, team.name)
    return found


def _of_project(held: CachedPlan, guests: set[str]) -> set[str]:
    """Its members and whoever works in it; guests only where they do."""
    plan = held.plan
    mine: set[str | None] = (plan.project.members.keys() | {plan.project.lead_id}) - guests
    for task in plan.tasks.values():
        mine |= {task.owner_id, *task.helpers, *(one.who for one in task.bookings)}
    return {one for one in mine if one}


def _seen(resources: Iterable[Resource], plans: Iterable[CachedPlan]) -> list[Resource]:
    seen = {at.plan.project.id for at in plans}
    return [one for one in resources if one.project_id is None or one.project_id in seen]


@dataclass(frozen=True, slots=True)
class CellTask:
    """One task behind a cell of the load.

    Attributes:
        minutes: of this person on it, within the days asked for.
        booked: their minutes on it in all.
    """

    project: Project
    row: Row
    minutes: int
    booked: int
    outside: int
    may_edit: bool


@dataclass(frozen=True, slots=True)
class Cell:
    """What lies on one person from one day to another."""

    tasks: list[CellTask]
    other: int
    capacity: int


def read_cell(cur: Cursor, actor: Actor, code: str | None, who: str, first: date, last: date, *, everywhere: bool = True) -> Cell:
    """The bookings behind the load of one person or resource, the largest first."""
    span = columns(first, last, "day")
    held = hold_loads(cur, actor, code, everywhere=everywhere, count="hours")
    begin, end = span.first, span.edges[-1]
    roles = {project.code: role for project, role in visible_projects(cur, actor)}
    found = [
        CellTask(held.plans[key].plan.project, row, minutes, one.booking.minutes or one.booking.amount, one.laid.outside,
                 may_in_project(roles.get(key), "edit"))
        for key, load in held.loads.items()
        for one in load.booked.get(who, ())
        if (minutes := within_days(one.laid, begin, end)) and (row := held.plans[key].plan.rows.get(one.task_id))
    ]  # fmt: skip
    found.sort(key=lambda one: (-one.minutes, one.project.code, one.row.task.number))
    other = sum(within_days(one.laid, begin, end) for load in held.hidden for one in load.booked.get(who, ()))
    known = {one.id for one in held.capacities.staff.resources if one.kind != "labour"}
    capacity = held.capacities.of(who) if who != NOBODY and who not in known else None
    return Cell(found, other, sum(capacity.on(day) for day in range(begin, end)) if capacity else 0)


def _weeks_ahead(actor: Actor) -> tuple[date, date]:
    today = actor.clock.now().date()
    monday = today - timedelta(days=today.weekday())
    return monday, monday + timedelta(weeks=WEEKS_AHEAD, days=-1)


def read_overloads(cur: Cursor, actor: Actor, project: Project) -> list[Overload]:
    """Who of the people of a project is over in the weeks ahead, by all of their work; nobody where hours are not planned."""
    if not project.hours:
        return []
    found = read_load(cur, actor, project.code, *_weeks_ahead(actor), "week")
    return overloads([line for who, line in zip(found.who, found.lines, strict=True) if who.kind == "person"], found.span)


def read_own_overloads(cur: Cursor, actor: Actor) -> list[Overload]:
    """When the person is over in the weeks ahead; a guest is not told, who sees no more than a project."""
    if not may_in_organisation(actor.person.role, "see_people"):
        return []
    span = columns(*_weeks_ahead(actor), "week")
    held = hold_loads(cur, actor, None, everywhere=True, count="hours")
    mine = Bookable(actor.person.id, held.capacities.of(actor.person.id))
    return overloads([line(mine, span, held.loads, held.hidden)], span)


@knows_overbooked
def is_overbooked_now(cur: Cursor, actor: Actor, project: Project) -> bool:
    """True where the bookings of a project alone are more than a person can do in the weeks ahead. It is the same for every
    reader: what other projects ask of people is not told by it."""
    if not project.hours:
        return False
    capacities, held = read_capacities(cur), PLANS.at(cur, project, actor.clock.now())
    first = _weeks_ahead(actor)[0].toordinal()

    def judge() -> bool:
        people = {one.id for one in people_rows.all_people(cur)}
        return is_overbooked(_load(cur, held, capacities), capacities.by_who, capacities.usual, people, first)

    return held.answers.once(("overbooked", capacities.mark, first), judge)


@says_who_is_over
def on_people(cur: Cursor, actor: Actor, plan: Plan, after: Mapping[str, Task], moves: Mapping[str, Fields]) -> list[Effect]:
    """Who becomes over by a change to a plan, or no longer is, by all of their work; a guest is told of that plan's alone."""
    capacities = read_capacities(cur)
    everywhere = may_in_organisation(actor.person.role, "see_people")
    others = [
        _load(cur, PLANS.at(cur, project, actor.clock.now()), capacities)
        for project in (project_rows.all_projects(cur) if everywhere else ())
        if project.hours and project.id != plan.project.id
    ]
    held = PLANS.holding(cur, plan)
    load = _load(cur, held, capacities) if held else load_of(plan, capacities.by_who, capacities.usual)
    return effects(plan, after, moves, load, others, capacities.by_who, capacities.usual)
