"""The field in the masthead: find work and people, or read a line into a task."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from datetime import datetime

from pymysql.cursors import Cursor

from ...core.common.calendars import OFFICE_WEEK, WorkingCalendar
from ...core.common.errors import RuleError
from ...core.goals.access import right_in
from ...core.goals.model import Goal
from ...core.people.access import may_in_organisation, may_in_project
from ...core.people.model import Person
from ...core.tasks.model import Project, Task
from ...core.tasks.quick_entry import ProjectName, ReadLine, Surroundings, read_line
from ...store.goals import goals as goal_rows
from ...store.overview import search as search_rows
from ...store.people import people as people_rows
from ...store.resources import bookable as resource_rows
from ...store.tasks import projects as project_rows
from ...store.tasks import tasks as task_rows
from ..common.context import Actor
from ..common.plan_cache import kept_calendar
from ..tasks.projects import visible_projects
from ..tasks.tasks import NewTask, add_tasks
from ..views.sheets import list_sheets, shows_tasks

MOST_FOUND = 12


@dataclass(frozen=True, slots=True)
class FoundTask:
    """A task that was found."""

    id: str
    code: str
    number: int
    title: str
    state_class: str
    owner_id: str | None
    percent: int
    finish: datetime | None
    source: str | None = None
    """Where it was found, unless in the title: description, comment, file or field."""
    excerpt: str | None = None


@dataclass(frozen=True, slots=True)
class FoundResource:
    """A crew, role, material or fixed cost that was found, and the code of the project whose it is; None: the organisation's."""

    id: str
    name: str
    kind: str
    code: str | None


@dataclass(frozen=True, slots=True)
class FoundPage:
    """A page that has a name: a dashboard, a kept sheet.

    Attributes:
        to: its address within Rhodonite.
        what: it is, in words.
    """

    name: str
    to: str
    what: str


Named = Callable[[Cursor, Actor], Iterable[FoundPage]]
_NAMED: list[Named] = []


def names_pages(service: Named) -> Named:
    """Let an area above this one say which pages of its own a person sees that have names, so that they are found."""
    _NAMED.append(service)
    return service


@dataclass(frozen=True, slots=True)
class Found:
    """What was found, the best first in each list."""

    tasks: list[FoundTask]
    projects: list[Project]
    people: list[Person]
    resources: list[FoundResource]
    goals: list[Goal]
    pages: list[FoundPage]


def find(cur: Cursor, actor: Actor, text: str, code: str | None = None) -> Found:
    """Tasks by code, number or words; projects, people and goals by name. An empty text finds nothing.

    Args:
        code: of the only project to look in; in all that the person may see where it is left out.
    """
    text = " ".join(text.split())[:200]
    if not text:
        return Found([], [], [], [], [], [])
    visible = {p.id: p for p, _ in visible_projects(cur, actor) if code is None or p.code == code.upper()}
    people, resources = _people(cur, actor, text), _resources(cur, actor, visible, text)
    pages = _pages(cur, actor, text) if code is None else []
    return Found(_tasks(cur, visible, text), _projects(visible, text), people, resources, _goals(cur, actor, text), pages)


def _tasks(cur: Cursor, visible: dict[str, Project], text: str) -> list[FoundTask]:
    rows = []
    coded = re.fullmatch(r"([A-Za-z][A-Za-z0-9]{1,7})[ -]?(\d+)", text)
    for project in visible.values():
        if coded and project.code == coded[1].upper():
            rows += search_rows.find_task_by_number(cur, project.id, int(coded[2]))
    rows += [row for row in search_rows.find_tasks(cur, text, list(visible), MOST_FOUND) if row[0] not in {r[0] for r in rows}]
    classes: dict[str, str] = {}
    for project_id in {row[1] for row in rows}:
        classes.update({state.id: state.state_class for state in project_rows.states(cur, project_id)})
    return [
        FoundTask(
            task_id, visible[project_id].code, number, title, classes.get(state_id, "queued"), owner_id, percent, finish,
            source, excerpt(words, text) if words else None,
        )
        for task_id, project_id, number, title, state_id, owner_id, percent, finish, source, words in rows[:MOST_FOUND]
    ]  # fmt: skip


MOST_PAGES = 5


def _pages(cur: Cursor, actor: Actor, text: str) -> list[FoundPage]:
    """Dashboards, and kept sheets over all projects."""
    words = text.lower().split()
    sheets = (
        FoundPage(one.name, f"/desk/all_work?sheet={one.id}&{one.view.get('query') or ''}", "a kept report")
        for one in list_sheets(cur, actor, None)
        if shows_tasks(one)
    )
    every = [*sheets, *(page for service in _NAMED for page in service(cur, actor))]
    found = [one for one in every if all(word in one.name.lower() for word in words)]
    return sorted(found, key=lambda one: (not one.name.lower().startswith(words[0]), one.name.casefold()))[:MOST_PAGES]


EXCERPT = 90


def excerpt(words: str, text: str) -> str:
    """The part of a text around the first of the words that were looked for."""
    line = " ".join(words.split())
    at = min((found.start() for one in text.split() if (found := re.search(re.escape(one), line, re.I))), default=0)
    first = max(0, at - EXCERPT // 3)
    cut = line[first : first + EXCERPT].strip()
    return f"{'…' if first else ''}{cut}{'…' if first + EXCERPT < len(line) else ''}"


def _projects(visible: dict[str, Project], text: str) -> list[Project]:
    words = text.lower().split()
    found = [p for p in visible.values() if all(w in f"{p.code} {p.name}".lower() for w in words)]
    return sorted(found, key=lambda p: (p.code.lower() != text.lower(), not p.name.lower().startswith(text.lower()), p.name))[:5]


def _people(cur: Cursor, actor: Actor, text: str) -> list[Person]:
    if actor.person.role == "guest":
        return []
    words = text.lower().split()
    return [p for p in people_rows.all_people(cur) if p.active and all(w in p.name.lower() for w in words)][:5]


def _resources(cur: Cursor, actor: Actor, visible: dict[str, Project], text: str) -> list[FoundResource]:
    """Those of projects that book and that the person may see, and of the organisation where they may see people."""
    words = text.lower().split()
    own = {None} if may_in_organisation(actor.person.role, "see_people") else set()
    seen = own | {one for one, project in visible.items() if project.books}
    return [
        FoundResource(one.id, one.name, one.kind, visible[one.project_id].code if one.project_id else None)
        for one in resource_rows.resources(cur)
        if one.project_id in seen and all(word in one.name.lower() for word in words)
    ][:5]


def _goals(cur: Cursor, actor: Actor, text: str) -> list[Goal]:
    """Those that the person sees and whose title holds the words."""
    ids = goal_rows.find(cur, text, MOST_FOUND)
    seen = {one.id: one for one in goal_rows.goals_by_id(cur, ids) if right_in(one, actor.person) is not None}
    return [seen[one] for one in ids if one in seen][:5]


@dataclass(frozen=True, slots=True)
class LineAnswer:
    """What a line says, and the project that its task would go to; None where that is not clear yet."""

    line: ReadLine
    project: Project | None


def understand(cur: Cursor, actor: Actor, text: str, code: str | None) -> LineAnswer:
    """Read a line without writing anything.

    Args:
        code: of the project on the screen, where a task without ``in ...`` goes.
    """
    visible = [(p, role) for p, role in visible_projects(cur, actor) if may_in_project(role, "edit")]
    here = next((p for p, _ in visible if code and p.code == code.upper()), None)
    people = people_rows.all_people(cur) if actor.person.role != "guest" else [actor.person]
    names = [ProjectName(p.id, p.code, p.name) for p, _ in visible]
    today = actor.clock.now().date()
    line = read_line(text, Surroundings(people, names, _tasks_for(cur, here, text), today, _day_minutes(cur, here)))
    project = next((p for p, _ in visible if p.id == line.project_id), here)
    if project is not None and project is not here:  # durations and parents belong to the project that was named
        line = read_line(text, Surroundings(people, names, _tasks_for(cur, project, text), today, _day_minutes(cur, project)))
    return LineAnswer(line, project)


def _tasks_for(cur: Cursor, project: Project | None, text: str) -> list[Task]:
    return task_rows.tasks_of(cur, project.id) if project and re.search(r",\s*under\s", text, re.I) else []


def _day_minutes(cur: Cursor, project: Project | None) -> int:
    if project is None:
        return WorkingCalendar(OFFICE_WEEK).day_minutes
    _, week, exceptions = project_rows.calendar(cur, project.id)
    return kept_calendar(week, exceptions).day_minutes


def write_line(cur: Cursor, actor: Actor, text: str, code: str | None, task_id: str) -> tuple[str, str]:
    """Write the task that a line says. Returns the project's code and the task's title.

    Raises:
        RuleError: no project is named and none is on the screen, or the line has no title.
    """
    answer = understand(cur, actor, text, code)
    if answer.project is None:
        raise RuleError("Say which project the task is for: add “in” and its code, such as “in LAN”.", "line")
    fields = dict(answer.line.fields)
    parent_id = fields.pop("parent_id", None)
    if answer.line.helpers:
        fields["helpers"] = answer.line.helpers
    new = NewTask(task_id, answer.line.title, str(parent_id) if parent_id else None, "end", fields)
    add_tasks(cur, actor, answer.project.code, [new])
    return answer.project.code, answer.line.title
