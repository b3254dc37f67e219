"""Views over all projects that a person may see."""

from __future__ import annotations

from collections.abc import Collection, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, replace

from pymysql.cursors import Cursor

from ...core.people.viewer import NOBODY
from ...core.schedule.plan import Row
from ...core.tasks.model import OPEN_CLASSES, Project
from ...core.views.all_projects import Across, Shared, keys_of, projects_asked
from ...core.views.catalogue import Catalogue
from ...core.views.conditions import holding, read_group, say_clause
from ...core.views.scope import Scope, within_columns
from ...core.views.tints import Colouring
from ...core.views.view import Arranged, View, arrange
from ...store.people import people as people_rows
from ...store.people import teams as team_rows
from ...store.resources import bookable as resource_rows
from ...store.tasks import tasks as task_rows
from ..common.context import Actor
from ..common.plan_cache import PLANS
from ..people.teams import viewer_of
from ..tasks.projects import visible_projects
from .csv_export import Write

MOST_SHOWN = 2_000


@dataclass(frozen=True, slots=True)
class AcrossRow:
    """A task with the project that it is in."""

    project: Project
    row: Row


@dataclass(frozen=True, slots=True)
class AcrossAnswer:
    """A view over all projects.

    Attributes:
        rows: in order, those of the first tasks.
        heads: by column its name.
        words: by column, by task, its value in words.
        shown, late, unowned, held: counts over all that the sentence leaves.
    """

    arranged: Arranged
    rows: list[AcrossRow]
    heads: dict[str, str]
    words: dict[str, dict[str, str]]
    shown: int
    late: int
    unowned: int
    held: int


def _names(cur: Cursor) -> tuple[dict[str, str], dict[str, str]]:
    people = {one.id: one.name for one in people_rows.all_people(cur)}
    return people, {one.id: one.name for one in team_rows.all_teams(cur)}


def _resources(cur: Cursor, project: Project) -> dict[str, str]:
    return resource_rows.resource_names(cur) if project.books else {}


@contextmanager
def _shared(cur: Cursor, actor: Actor, project: Project, names: tuple[dict[str, str], dict[str, str]]) -> Iterator[Shared]:
    held = PLANS.at(cur, project, actor.clock.now())
    yield Shared(Catalogue(held.plan, *names, _resources(cur, project)))


def read_columns(cur: Cursor, actor: Actor) -> Across:
    """Every field by which the tasks of all projects can be shown together."""
    names = _names(cur)
    across = Across(*names, actor.clock.now().date())
    for project, _ in visible_projects(cur, actor):
        with _shared(cur, actor, project, names) as shared:
            across.add(shared, (), ())
    return across


def show_across(cur: Cursor, actor: Actor, scope: Scope, view: View, most: int | None = MOST_SHOWN) -> AcrossAnswer:
    """Filter, group, sort, sum and colour the tasks of all projects that a person may see; summary tasks are left out.

    Args:
        most: how many rows are given; None for all.

    Raises:
        RuleError: the view cannot be read, or names a field that no project has.
    """
    names, viewer = _names(cur), viewer_of(cur, actor)
    across = Across(*names, actor.clock.now().date())
    found: list[AcrossRow] = []
    projects = _asked(cur, actor, scope, viewer.people(scope.owners))
    for project in projects:
        with _shared(cur, actor, project, names) as shared:
            test = within_columns(scope, shared if scope.where.parts else None, viewer)
            rows = [row for row, _, _ in shared.plan.ordered() if not row.is_summary and test(row)]
            across.add(shared, rows, keys_of(view))
            found += [AcrossRow(shared.plan.project, row) for row in rows]
    shows = _known(view, across) if projects else View()  # without a project there is no field to ask for
    arranged = arrange([one.row for one in found], shows, across, viewer)
    return _answer(arranged, view, across, found, most)


def _known(view: View, across: Across) -> View:
    """A view without the columns, groups and sorts of fields that none of the projects has which the sentence leaves."""
    return replace(
        view,
        columns=tuple(one for one in view.columns if one.key in across.columns),
        groups=tuple(one for one in view.groups if one in across.columns),
        sorts=tuple(one for one in view.sorts if one.key in across.columns),
    )


def _asked(cur: Cursor, actor: Actor, scope: Scope, owners: Collection[str]) -> list[Project]:
    """The projects in which a sentence can find something, in order of code. Reads no plan that it need not."""
    projects = [project for project, _ in visible_projects(cur, actor)]
    named = projects_asked(scope)
    if named is not None:
        projects = [one for one in projects if one.id in named]
    if scope.owners and NOBODY not in owners:
        owned = task_rows.projects_owned_in(cur, owners) if owners else set()
        projects = [one for one in projects if one.id in owned]
    return sorted(projects, key=lambda one: one.code)


def _answer(arranged: Arranged, view: View, across: Across, found: list[AcrossRow], most: int | None) -> AcrossAnswer:
    by_id = {one.row.task.id: one for one in found}
    order = list(by_id)
    if arranged.groups is not None:
        order = [one for group in arranged.groups for one in group.ids]
    elif arranged.ids is not None:
        order = arranged.ids
    shown = order[:most]
    among = set(shown)
    groups = None
    if arranged.groups is not None:
        cut = [replace(group, ids=[one for one in group.ids if one in among]) for group in arranged.groups]
        groups = [group for group in cut if group.ids]
    columns = [across.columns[one.key] for one in view.columns if one.key in across.columns]
    rows = [by_id[one] for one in shown]
    opened = [one.row for one in found if one.row.state_class in OPEN_CLASSES]
    return AcrossAnswer(
        arranged=replace(arranged, ids=shown, groups=groups, tints={k: v for k, v in arranged.tints.items() if k in among}),
        rows=rows,
        heads={column.key: column.name for column in columns},
        words={
            column.key: {one.row.task.id: said for one in rows if (said := across.say(column.key, column.value(one.row)))}
            for column in columns
        },
        shown=len(found),
        late=sum(row.late_days > 0 for row in opened),
        unowned=sum(row.task.owner_id is None for row in opened),
        held=sum(row.task.is_held for row in opened),
    )


def export_tasks(cur: Cursor, actor: Actor, scope: Scope, view: View, write: Write) -> bytes:
    """What a view over all projects shows; tints are named in a column of their own."""
    answer = show_across(cur, actor, scope, view, None)
    coloured = Colouring({one.id: one for one in view.tints}, answer.arranged.tints)
    columns = [one.key for one in view.columns if one.key in answer.heads and one.key != "title"]
    heads = ["Code", "Title", *(answer.heads[key] for key in columns), *(["Tint"] if view.tints else [])]
    rows = [
        [
            f"{one.project.code} {one.row.task.number}",
            one.row.task.title,
            *(answer.words.get(key, {}).get(one.row.task.id, "") for key in columns),
            *(["; ".join(tint.name for tint in coloured.all_of(one.row.task.id))] if view.tints else []),
        ]
        for one in answer.rows
    ]
    return write(heads, rows)


def say_where(cur: Cursor, actor: Actor, where: str) -> list[str]:
    """Each clause of a condition in words. Raises RuleError for one that cannot be."""
    columns = read_columns(cur, actor)
    group = read_group(where)
    holding(group, columns, viewer_of(cur, actor))
    return [say_clause(one, columns) for one in group.clauses]
