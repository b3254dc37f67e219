"""Sheets: views kept under a name, of a project or, on the desk, over all of them.

Where a service takes the code of a project, None stands for all projects.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any, get_args

from pymysql.cursors import Cursor

from ...core.common.errors import Forbidden, Missing, RuleError
from ...core.common.ordering import make_room
from ...core.people.access import may_in_organisation, may_in_project
from ...core.tasks.model import Project
from ...core.views.kept import read_kept
from ...core.views.view import PlaceLens, ProjectLens, read_view
from ...store.common.database import from_json, to_json
from ...store.common.journal import Entry
from ...store.people import people as people_rows
from ...store.tasks import projects as project_rows
from ...store.views import sheets as sheet_rows
from ...store.views.sheets import Sheet
from ..common.context import Actor, check_project, once, open_project, writing

LENSES: tuple[str, ...] = get_args(ProjectLens)
PLACES: tuple[str, ...] = get_args(PlaceLens)
SEEN_BY = ("private", "people", "project")
LONGEST_NAME = 120
LONGEST_VIEW = 100_000


def list_sheets(cur: Cursor, actor: Actor, code: str | None) -> list[Sheet]:
    """The sheets of a project that a person sees: their own, those for them, and the project's."""
    project = _ground(cur, actor, code)
    return [one for one in sheet_rows.of_project(cur, _id(project)) if _may_see(one, actor)]


def _may_see(one: Sheet, actor: Actor) -> bool:
    me = actor.person.id
    return one.person_id == me or one.seen_by == "project" or (one.seen_by == "people" and me in one.people)


def _concerns_others(seen_by: str) -> bool:
    """True where others are told of a change to a sheet: it is none that its keeper alone sees."""
    return seen_by != "private"


@once
def keep_sheet(
    cur: Cursor, actor: Actor, code: str | None, sheet_id: str, name: str, seen_by: str, people: list[str], view: dict[str, Any]
) -> None:
    """Keep a view under a name.

    Raises:
        Forbidden: a sheet for the project needs a contributor.
        RuleError: no name, or a view that cannot be read.
    """
    project = _ground(cur, actor, code)
    _check_rights(cur, actor, project, seen_by)
    with writing(cur, actor, _id(project), _what("kept", name, seen_by), meta=_concerns_others(seen_by)) as log:
        place = make_room(sheet_rows.of_project(cur, _id(project)), "end", 1).places[0]
        one = Sheet(sheet_id, _id(project), actor.person.id, "", place, seen_by, tuple(people), False, _checked(project, view))
        one = replace(one, name=_name(name))
        sheet_rows.insert(cur, one)
        log.record("sheet", one.id, "created", None, {"name": one.name, "seen_by": one.seen_by, "view": one.view})


@once
def edit_sheet(cur: Cursor, actor: Actor, code: str | None, sheet_id: str, changes: dict[str, Any]) -> None:
    """Rename a sheet, show it to others, move it (``after_id``), make it the project's default, keep another view in it, or
    let what it shows be sent every week (``send_on``, ``send_to``).

    Raises:
        Missing: there is none, or the person does not see it.
        Forbidden: it is somebody else's, and the person does not lead the project.
    """
    project = _ground(cur, actor, code)
    seen = _open(cur, actor, project, sheet_id)
    if "seen_by" in changes:
        _check_rights(cur, actor, project, changes["seen_by"])
    _check_default(cur, actor, project, changes)
    concerns = _concerns_others(seen.seen_by) or _concerns_others(changes.get("seen_by", seen.seen_by))
    with writing(cur, actor, _id(project), _what("changed", seen.name, seen.seen_by), meta=concerns) as log:
        before = _open(cur, actor, project, sheet_id, lock=True)
        fields = {name: value for name, value in changes.items() if name in {"seen_by", "is_default"}}
        if "name" in changes:
            fields["name"] = _name(changes["name"])
        if "people" in changes:
            fields["people"] = tuple(changes["people"])
        if "view" in changes:
            fields["view"] = _checked(project, changes["view"])
        if "send_to" in changes:
            fields["send_to"] = _recipients(cur, actor, changes["send_to"])
        if "send_on" in changes:
            fields |= {"send_on": changes["send_on"], "sent": actor.clock.now().date()}
        if "after_id" in changes:
            others = [one for one in sheet_rows.of_project(cur, _id(project)) if one.id != sheet_id]
            room = make_room(others, changes["after_id"], 1)
            for one in others:
                if one.id in room.others:
                    sheet_rows.update(cur, replace(one, place=room.others[one.id]))
            fields["place"] = room.places[0]
        after = replace(before, **fields, version=before.version + 1)
        if fields.get("is_default"):
            if project is None or after.seen_by != "project":
                raise RuleError("Only a sheet that a whole project sees can open first for everybody.", "is_default")
            sheet_rows.clear_default(cur, project.id)
        _check_sending(after)
        log.record_changes("sheet", sheet_id, before, after, fields.keys() - {"sent"})
        sheet_rows.update(cur, after)


@once
def delete_sheet(cur: Cursor, actor: Actor, code: str | None, sheet_id: str) -> None:
    """Take a sheet away."""
    project = _ground(cur, actor, code)
    seen = _open(cur, actor, project, sheet_id)
    what = _what("took away", seen.name, seen.seen_by)
    with writing(cur, actor, _id(project), what, meta=_concerns_others(seen.seen_by)) as log:
        before = _open(cur, actor, project, sheet_id, lock=True)
        log.record("sheet", sheet_id, "deleted", {"name": before.name, "view": before.view}, None)
        sheet_rows.update(cur, replace(before, deleted_at=actor.clock.utc(), is_default=False))


def take_back(cur: Cursor, actor: Actor, code: str | None, sheet_id: str, entries: Sequence[Entry]) -> None:
    """Take back what a change did to a sheet.

    Raises:
        RuleError: it was changed again since.
    """
    project = _ground(cur, actor, code)
    seen = _open(cur, actor, project, sheet_id, deleted=True)
    what = entries[0].field
    said = _what("took back a change of", seen.name, seen.seen_by)
    with writing(cur, actor, _id(project), said, meta=_concerns_others(seen.seen_by)) as log:
        before = _open(cur, actor, project, sheet_id, deleted=True, lock=True)
        if what in {"created", "deleted"}:
            gone = what == "created"
            log.record("sheet", sheet_id, "deleted" if gone else "created", {"name": before.name}, {"name": before.name})
            sheet_rows.update(cur, replace(before, deleted_at=actor.clock.utc() if gone else None, is_default=False))
            return
        if any(to_json(getattr(before, entry.field)) != entry.new for entry in entries):
            raise RuleError("The sheet was changed again since, so this cannot be taken back. Change it by hand.")
        old = {entry.field: from_json(entry.old) for entry in entries}
        for name in {"people", "send_to"} & old.keys():
            old[name] = tuple(old[name])
        _check_rights(cur, actor, project, old.get("seen_by", before.seen_by))
        _check_default(cur, actor, project, old)
        if project and old.get("is_default"):
            sheet_rows.clear_default(cur, project.id)
        for entry in entries:
            log.record("sheet", sheet_id, entry.field, getattr(before, entry.field), old[entry.field])
        sheet_rows.update(cur, replace(before, **old, version=before.version + 1))


def _what(did: str, name: str, seen_by: str) -> str:
    """The change in words. Everybody reads them, so the name of a private sheet is not among them."""
    return f"{did} a sheet of their own" if seen_by == "private" else f"{did} the sheet {name}"[:80]


def _open(
    cur: Cursor, actor: Actor, project: Project | None, sheet_id: str, *, deleted: bool = False, lock: bool = False
) -> Sheet:
    one = sheet_rows.sheet(cur, sheet_id, lock=lock)
    if one is None or (one.deleted_at and not deleted) or one.project_id != _id(project) or not _may_see(one, actor):
        raise Missing("sheet")
    if one.person_id != actor.person.id and not _leads(cur, actor, project):
        raise Forbidden("That sheet is somebody else's. Keep one of your own.")
    return one


def _ground(cur: Cursor, actor: Actor, code: str | None) -> Project | None:
    """The project that sheets are kept for; None for those over all projects."""
    return open_project(cur, actor, code, "see") if code else None


def _id(project: Project | None) -> str | None:
    return project.id if project else None


def _leads(cur: Cursor, actor: Actor, project: Project | None) -> bool:
    if project is None:
        return may_in_organisation(actor.person.role, "administer")
    return may_in_project(actor.role_in(project, _member_role(cur, actor, project)), "manage")


def _member_role(cur: Cursor, actor: Actor, project: Project) -> str | None:
    return project_rows.members(cur, project.id).get(actor.person.id)


def _check_sending(one: Sheet) -> None:
    """Raises RuleError where a sheet would be sent that shows no tasks, or to nobody."""
    if one.send_on is None:
        return
    if not shows_tasks(one):
        raise RuleError("What this sheet shows is no list of tasks, and is not sent.", "send_on")
    if not one.send_to:
        raise RuleError("Say to whom it is sent.", "send_to")


def _recipients(cur: Cursor, actor: Actor, people: Sequence[str]) -> tuple[str, ...]:
    """Those to whom a sheet is sent. Raises RuleError for who is not there, Forbidden for a guest who names others."""
    known = {one.id for one in people_rows.all_people(cur) if one.active}
    if any(one not in known for one in people):
        raise RuleError("Somebody to whom it would be sent is not in the organisation. Take them out.", "send_to")
    if set(people) - {actor.person.id}:
        actor.require("see_people")
    return tuple(dict.fromkeys(people))


def shows_tasks(one: Sheet) -> bool:
    """Whether a sheet shows tasks: those of a project, or all work."""
    return one.project_id is not None or one.view.get("lens") == "all_work"


def _check_rights(cur: Cursor, actor: Actor, project: Project | None, seen_by: str) -> None:
    if seen_by not in SEEN_BY:
        raise RuleError("Say who sees the sheet: private, people or project.", "seen_by")
    if seen_by != "project":
        return
    if project is None:
        actor.require("see_people")
    else:
        check_project(actor, project, _member_role(cur, actor, project), "edit")


def _check_default(cur: Cursor, actor: Actor, project: Project | None, changes: Mapping[str, Any]) -> None:
    if "is_default" in changes and not _leads(cur, actor, project):
        raise Forbidden("Only a lead chooses the sheet that opens first for everybody.")


def _name(name: str) -> str:
    name = " ".join(name.split())
    if not name or len(name) > LONGEST_NAME:
        raise RuleError(f"Give the sheet a name of at most {LONGEST_NAME} characters.", "name")
    return name


def kept_view(one: Sheet) -> tuple[dict[str, Any], bool]:
    """What a sheet shows, and whether what lies in the tables cannot be read: then it is the plain outline, or all work."""
    usual = {"lens": LENSES[0] if one.project_id else PLACES[0], "query": ""}
    try:
        if one.view.get("lens") not in (LENSES if one.project_id else PLACES) or not isinstance(one.view.get("query", ""), str):
            return usual, True
        read_view(one.view)
        read_kept(one.view)
    except (RuleError, ValueError, TypeError, AttributeError, RecursionError):
        return usual, True
    return one.view, False


def _checked(project: Project | None, view: dict[str, Any]) -> dict[str, Any]:
    lenses = LENSES if project else PLACES
    if view.get("lens") not in lenses:
        raise RuleError(f"A sheet keeps one of these lenses: {', '.join(lenses)}.", "view")
    if len(str(view)) > LONGEST_VIEW:
        raise RuleError("That view is too large to keep. Take some tints away.", "view")
    read_view(view)
    return view
