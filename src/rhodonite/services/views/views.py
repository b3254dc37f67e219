"""Views of a project's tasks."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from pymysql.cursors import Cursor

from ...core.views.catalogue import Catalogue
from ...core.views.conditions import holding, read_group, say_clause
from ...core.views.scope import Scope, within
from ...core.views.tied import Ties
from ...core.views.view import Arranged, arrange, read_view, without_money
from ...store.people import people as people_rows
from ...store.people import teams as team_rows
from ...store.resources import bookable as resource_rows
from ..common.context import Actor, open_project
from ..common.plan_cache import CachedPlan, see_plan
from ..cost.book import may_see_costs
from ..cost.costs import shown_money
from ..people.teams import viewer_of


def catalogue_of(cur: Cursor, actor: Actor, held: CachedPlan, *, ties: bool = True) -> Catalogue:
    """The columns of a plan, with the names of people, and for who may see it what tasks cost.

    Args:
        ties: False where what is carried across from other projects is not asked for.
    """
    plan = held.plan
    people = {one.id: one.name for one in people_rows.all_people(cur)}
    teams = {one.id: one.name for one in team_rows.all_teams(cur)}
    resources = resource_rows.resource_names(cur) if plan.project.books else None
    money, sums = shown_money(cur, actor, held), may_see_costs(cur, actor, plan.project)
    return Catalogue(plan, people, teams, resources, money, sums, _ties[0](cur, actor, held) if ties else None)


_ties: list[Callable[[Cursor, Actor, CachedPlan], Ties | None]] = []


def knows_ties(function: Callable[[Cursor, Actor, CachedPlan], Ties | None]) -> Callable[..., Ties | None]:
    """Registers what knows what the tasks of a plan are tied to."""
    _ties[:] = [function]
    return function


def read_catalogue(cur: Cursor, actor: Actor, code: str) -> Catalogue:
    """Every field by which the tasks of a project can be shown."""
    project = open_project(cur, actor, code, "see")
    held = see_plan(cur, actor, project)
    return catalogue_of(cur, actor, held)


@dataclass(frozen=True, slots=True)
class ViewAnswer:
    """A view made for the tasks within a sentence, with the values of computed columns in words."""

    arranged: Arranged
    words: dict[str, dict[str, str]]
    revision: int


def show_view(
    cur: Cursor, actor: Actor, code: str, scope: Scope, kept: Mapping[str, Any], *, in_words: bool = False
) -> ViewAnswer:
    """Group, sort, sum and colour the tasks within a sentence.

    Args:
        in_words: True where the values of all columns are wanted in words, those too that a lens shows from the rows it holds.

    Raises:
        RuleError: the view cannot be read, or names a field that is there no more.
    """
    view = read_view(kept)
    project = open_project(cur, actor, code, "see")
    held = see_plan(cur, actor, project)
    plan = held.plan
    money = shown_money(cur, actor, held)
    if money is None:
        view = without_money(view)
    catalogue = catalogue_of(cur, actor, held)
    test = within(scope, plan, viewer_of(cur, actor), money)
    rows = [row for row, _, _ in plan.ordered() if test(row)]
    arranged = arrange(rows, view, catalogue, viewer_of(cur, actor))
    shown = [catalogue.columns[one.key] for one in view.columns if one.key in catalogue.columns]
    words = {
        column.key: {row.task.id: said for row in rows if (said := catalogue.say(column.key, column.value(row)))}
        for column in shown
        if in_words or column.own is None or column.own.type in {"computed", "tasks"}
        if in_words or column.key not in _CLIENT_SHOWS
    }
    return ViewAnswer(arranged, words, held.mark.revision)


_CLIENT_SHOWS = frozenset(
    {"title", "state", "owner", "priority", "start", "finish", "deadline", "duration", "percent", "waits", "slack",
     "agreed_finish", "variance"}
)  # fmt: skip
"""Columns that the outline shows from the rows it holds, most in a form that can be edited; the rest is given in words."""


def say_where(cur: Cursor, actor: Actor, code: str, where: str) -> list[str]:
    """Each clause of a condition in words. Raises RuleError for one that cannot be."""
    project = open_project(cur, actor, code, "see")
    held = see_plan(cur, actor, project)
    catalogue = catalogue_of(cur, actor, held)
    group = read_group(where)
    holding(group, catalogue, viewer_of(cur, actor))
    return [say_clause(one, catalogue) for one in group.clauses]
