"""Views of a project's tasks, and the sheets that keep them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

from pymysql.cursors import Cursor

from ..core.access import may_in_project
from ..core.catalogue import Catalogue
from ..core.conditions import holding, read_group, say_clause
from ..core.errors import RuleError
from ..core.model import Project
from ..core.places import place_behind
from ..core.plan import Plan
from ..core.scope import Scope, within
from ..core.views import Arranged, arrange, read_view
from ..store import people as people_rows
from ..store import projects as project_rows
from ..store import sheets as sheet_rows
from ..store.sheets import Sheet
from .context import Actor, Forbidden, Missing, check_project, once, open_project, writing
from .plans import see_plan

LENSES = ("outline", "board", "schedule")
SEEN_BY = ("private", "people", "project")
LONGEST_NAME = 120
LONGEST_VIEW = 100_000


def catalogue_of(cur: Cursor, plan: Plan) -> Catalogue:
    """The columns of a plan, with the names of people."""
    return Catalogue(plan, {one.id: one.name for one in people_rows.all_people(cur)})


def read_catalogue(cur: Cursor, actor: Actor, code: str) -> Catalogue:
    """Every field by which the tasks of a project can be shown."""
    project = open_project(cur, actor, code, "see")
    with see_plan(cur, actor, project) as held:
        return catalogue_of(cur, held.plan)


@dataclass(frozen=True, slots=True)
class ViewAnswer:
    """A view made for the tasks within a sentence, with the values of computed columns in words."""

    arranged: Arranged
    words: dict[str, dict[str, str]]
    revision: int


def show_view(cur: Cursor, actor: Actor, code: str, scope: Scope, kept: Mapping[str, Any]) -> ViewAnswer:
    """Group, sort, sum and colour the tasks within a sentence.

    Raises:
        RuleError: the view cannot be read, or names a field that is there no more.
    """
    view = read_view(kept)
    project = open_project(cur, actor, code, "see")
    with see_plan(cur, actor, project) as held:
        plan = held.plan
        catalogue = catalogue_of(cur, plan)
        test = within(scope, plan, actor.person.id)
        rows = [row for row, _, _ in plan.ordered() if test(row)]
        arranged = arrange(rows, view, catalogue, actor.person.id)
        shown = [catalogue.columns[one.key] for one in view.columns if one.key in catalogue.columns]
        words = {
            column.key: {row.task.id: said for row in rows if (said := catalogue.say(column.key, column.value(row)))}
            for column in shown
            if column.own is None or column.own.type in {"computed", "tasks"}
            if column.key not in _CLIENT_SHOWS
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
    with see_plan(cur, actor, project) as held:
        catalogue = catalogue_of(cur, held.plan)
        group = read_group(where)
        holding(group, catalogue, actor.person.id)
        return [say_clause(one, catalogue) for one in group.clauses]


# --- sheets


def list_sheets(cur: Cursor, actor: Actor, code: str) -> list[Sheet]:
    """The sheets of a project that a person sees: their own, those for them, and the project's."""
    project = open_project(cur, actor, code, "see")
    return [one for one in sheet_rows.of_project(cur, project.id) if _may_see(one, actor)]


def _may_see(one: Sheet, actor: Actor) -> bool:
    me = actor.person.id
    return one.person_id == me or one.seen_by == "project" or (one.seen_by == "people" and me in one.people)


@once
def keep_sheet(
    cur: Cursor, actor: Actor, code: str, sheet_id: str, name: str, seen_by: str, people: list[str], view: dict[str, Any]
) -> None:
    """Keep a view under a name.

    Raises:
        Forbidden: a sheet for the project needs a contributor.
        RuleError: no name, or a view that cannot be read.
    """
    project = open_project(cur, actor, code, "see")
    _check_rights(cur, actor, project, seen_by)
    with writing(cur, actor, project.id, f"kept the sheet {name}"[:80]) as log:
        place = place_behind(sheet_rows.of_project(cur, project.id), "end")
        one = Sheet(sheet_id, project.id, actor.person.id, "", place, seen_by, tuple(people), False, _checked(view))
        one = replace(one, name=_name(name))
        sheet_rows.write(cur, one)
        log.record("sheet", one.id, "created", None, {"name": one.name, "seen_by": one.seen_by, "view": one.view})


@once
def edit_sheet(cur: Cursor, actor: Actor, code: str, sheet_id: str, changes: dict[str, Any]) -> None:
    """Rename a sheet, show it to others, move it (``after_id``), make it the project's default, or keep another view in it.

    Raises:
        Missing: there is none, or the person does not see it.
        Forbidden: it is somebody else's, and the person does not lead the project.
    """
    project = open_project(cur, actor, code, "see")
    before = _open(cur, actor, project, sheet_id)
    if "seen_by" in changes:
        _check_rights(cur, actor, project, changes["seen_by"])
    if "is_default" in changes and not _leads(cur, actor, project):
        raise Forbidden("Only a lead chooses the sheet that opens first for everybody.")
    with writing(cur, actor, project.id, f"changed the sheet {before.name}"[:80]) as log:
        fields = {name: value for name, value in changes.items() if name in {"seen_by", "is_default"}}
        if "name" in changes:
            fields["name"] = _name(changes["name"])
        if "people" in changes:
            fields["people"] = tuple(changes["people"])
        if "view" in changes:
            fields["view"] = _checked(changes["view"])
        if "after_id" in changes:
            others = [one for one in sheet_rows.of_project(cur, project.id) if one.id != sheet_id]
            fields["place"] = place_behind(others, changes["after_id"])
        after = replace(before, **fields, version=before.version + 1)
        if fields.get("is_default"):
            if after.seen_by != "project":
                raise RuleError("Only a sheet that the whole project sees can open first for everybody.", "is_default")
            sheet_rows.clear_default(cur, project.id)
        for name in fields:
            if getattr(before, name) != getattr(after, name):
                log.record("sheet", sheet_id, name, getattr(before, name), getattr(after, name))
        sheet_rows.write(cur, after)


@once
def delete_sheet(cur: Cursor, actor: Actor, code: str, sheet_id: str) -> None:
    """Take a sheet away."""
    project = open_project(cur, actor, code, "see")
    before = _open(cur, actor, project, sheet_id)
    with writing(cur, actor, project.id, f"took away the sheet {before.name}"[:80]) as log:
        log.record("sheet", sheet_id, "deleted", {"name": before.name, "view": before.view}, None)
        sheet_rows.write(cur, replace(before, deleted_at=actor.clock.utc(), is_default=False))


def _open(cur: Cursor, actor: Actor, project: Project, sheet_id: str) -> Sheet:
    one = sheet_rows.sheet(cur, sheet_id)
    if one is None or one.deleted_at or one.project_id != project.id or not _may_see(one, actor):
        raise Missing("sheet")
    if one.person_id != actor.person.id and not _leads(cur, actor, project):
        raise Forbidden("That sheet is somebody else's. Keep one of your own.")
    return one


def _role(cur: Cursor, actor: Actor, project: Project) -> str | None:
    return actor.role_in(project, project_rows.members(cur, project.id).get(actor.person.id))


def _leads(cur: Cursor, actor: Actor, project: Project) -> bool:
    return may_in_project(_role(cur, actor, project), "manage")


def _check_rights(cur: Cursor, actor: Actor, project: Project, seen_by: str) -> None:
    if seen_by not in SEEN_BY:
        raise RuleError("Say who sees the sheet: private, people or project.", "seen_by")
    if seen_by == "project":
        check_project(actor, project, project_rows.members(cur, project.id).get(actor.person.id), "edit")


def _name(name: str) -> str:
    name = " ".join(name.split())
    if not name or len(name) > LONGEST_NAME:
        raise RuleError(f"Give the sheet a name of at most {LONGEST_NAME} characters.", "name")
    return name


def _checked(view: dict[str, Any]) -> dict[str, Any]:
    if view.get("lens") not in LENSES:
        raise RuleError(f"A sheet keeps one of these lenses: {', '.join(LENSES)}.", "view")
    if len(str(view)) > LONGEST_VIEW:
        raise RuleError("That view is too large to keep. Take some tints away.", "view")
    read_view(view)
    return view
