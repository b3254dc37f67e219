"""Dashboards: kept, shared, arranged, changed panel by panel, taken back."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.errors import Forbidden, Missing, RuleError
from ...core.common.ordering import make_room
from ...core.people.access import may_in_project
from ...core.reports.dashboards import (
    LONGEST_TEXT,
    MOST_DASHBOARDS,
    MOST_OF_ONE,
    MOST_PANELS,
    Dashboard,
    Options,
    Panel,
    check_dashboard,
    check_panel,
    may_change,
    may_read,
)
from ...core.tasks.model import Project
from ...core.views.scope import Scope
from ...formats.html import clean
from ...store.common.database import from_json
from ...store.common.journal import Entry
from ...store.people import people as people_rows
from ...store.reports import dashboards as rows
from ..common.clashes import check_version_clash
from ..common.context import Actor, Log, new_id, once, open_project, writing
from ..overview.search import FoundPage, names_pages
from ..overview.undo import takes_back
from ..tasks.projects import every_visible_project

FIELDS = ("name", "seen_by", "people", "scope", "place", "deleted_at")
PANEL_FIELDS = ("kind", "title", "place", "width", "height", "scope", "options", "deleted_at")


@dataclass(frozen=True, slots=True)
class Shown:
    """A dashboard as a person sees it; ``project``: whose work alone it shows."""

    dashboard: Dashboard
    project: Project | None
    may_change: bool


def list_dashboards(cur: Cursor, actor: Actor) -> list[Shown]:
    """All dashboards that a person sees, in their order."""
    found = [one for one in rows.dashboards(cur) if may_read(one, actor.person)]
    projects = every_visible_project(cur, actor) if any(one.project_id for one in found) else {}
    shown = []
    for one in found:
        if one.project_id is not None and one.project_id not in projects:
            continue
        project, role = projects[one.project_id] if one.project_id else (None, None)
        leads = may_in_project(role, "manage")
        shown.append(Shown(one, project, may_change(one, actor.person, leads=leads)))
    return shown


@names_pages
def name_pages(cur: Cursor, actor: Actor) -> list[FoundPage]:
    """The dashboards that a person sees, to be found by name."""
    return [
        FoundPage(one.dashboard.name, f"/reports/dashboard/{one.dashboard.id}", "a dashboard")
        for one in list_dashboards(cur, actor)
    ]


def open_dashboard(cur: Cursor, actor: Actor, dashboard_id: str, *, to_change: bool = False, deleted: bool = False) -> Shown:
    """A dashboard, once a person may see or change it.

    Raises:
        Missing: there is none, or they do not see it.
        Forbidden: they may see it, but not change it.
    """
    one = rows.dashboard(cur, dashboard_id, locked=to_change)
    if one is None or not may_read(one, actor.person) or (one.deleted_at is not None and not deleted):
        raise Missing("dashboard")
    project, leads = None, False
    if one.project_id is not None:
        seen = every_visible_project(cur, actor).get(one.project_id)
        if seen is None:
            raise Missing("dashboard")
        project, leads = seen[0], may_in_project(seen[1], "manage")
    shown = Shown(one, project, may_change(one, actor.person, leads=leads))
    if to_change and not shown.may_change:
        raise Forbidden("This dashboard is somebody else's. Make a copy of it, which is your own.")
    return shown


def read_dashboard(cur: Cursor, actor: Actor, dashboard_id: str) -> tuple[Shown, list[Panel]]:
    """A dashboard with its panels. Raises Missing where the person does not see it."""
    return open_dashboard(cur, actor, dashboard_id), rows.panels(cur, dashboard_id)


@once
def keep(cur: Cursor, actor: Actor, code: str | None, one: Dashboard, panels: Sequence[Panel], like: str | None) -> None:
    """Keep a dashboard.

    Args:
        code: of the project whose work alone it shows.
        one: ``place``, its project and keeper are not looked at.
        panels: that stand on it, in order.
        like: the id of another, whose panels and sentence it begins with.

    Raises:
        Missing, Forbidden: the person may not see the project, or keep one that everybody sees.
        RuleError: a dashboard or a panel that cannot be.
    """
    actor = replace(actor, draft=None)
    project = open_project(cur, actor, code, "see") if code else None
    _check_sharing(cur, actor, project, one)
    with writing(cur, actor, None, "kept a dashboard") as log:
        others = rows.dashboards(cur)
        if len(others) >= MOST_DASHBOARDS or sum(each.person_id == actor.person.id for each in others) >= MOST_OF_ONE:
            raise RuleError(f"{MOST_OF_ONE} dashboards of one person are the most. Take away those that nobody looks at.", "name")
        if like is not None:
            before, copied = read_dashboard(cur, actor, like)
            one, panels = replace(one, scope=before.dashboard.scope), [replace(each, id=new_id()) for each in copied]
        made = check_dashboard(
            replace(
                one,
                project_id=project.id if project else None,
                person_id=actor.person.id,
                place=make_room(others, "end", 1).places[0],
            )
        )
        rows.insert(cur, made)
        log.record("dashboard", made.id, "created", None, {"name": made.name})
        _check_many(panels)
        for panel, place in zip(panels, make_room([], "end", len(panels)).places, strict=True) if panels else ():
            rows.insert_panel(cur, checked_panel(replace(panel, dashboard_id=made.id, place=place)))


def _check_sharing(cur: Cursor, actor: Actor, project: Project | None, one: Dashboard) -> None:
    if one.seen_by == "everyone":
        if project is None:
            actor.require("see_people")
        elif not may_in_project(every_visible_project(cur, actor)[project.id][1], "edit"):
            raise Forbidden("A dashboard for the whole project is kept by contributors. Keep it for yourself.")
    if one.people:
        known = {each.id for each in people_rows.all_people(cur)}
        if any(each not in known for each in one.people):
            raise RuleError("Somebody who is named is not in the organisation.", "people")


def _check_many(panels: Sequence[Panel]) -> None:
    if len(panels) > MOST_PANELS:
        raise RuleError(f"A dashboard has {MOST_PANELS} panels at most. Keep a second one.", "panels")


def checked_panel(one: Panel) -> Panel:
    """A panel with its text made clean. Raises RuleError for one that cannot be."""
    text = clean(one.options.text)
    if len(text) > LONGEST_TEXT:
        raise RuleError(f"A text has {LONGEST_TEXT:,} characters at most. Shorten it.", "text")
    return check_panel(replace(one, options=replace(one.options, text=text)))


@once
def edit(cur: Cursor, actor: Actor, dashboard_id: str, version: int, fields: Mapping[str, Any]) -> None:
    """Change the name, who sees it, the sentence or (``after_id``) the place of a dashboard.

    Args:
        version: of the dashboard as the person saw it.

    Raises:
        Missing, Forbidden: as ``open_dashboard``.
        Clash: somebody else changed the same since.
        RuleError: a dashboard that cannot be.
    """
    actor = replace(actor, draft=None)
    with writing(cur, actor, None, "changed a dashboard") as log:
        shown = open_dashboard(cur, actor, dashboard_id, to_change=True)
        before = shown.dashboard
        wanted = {name: value for name, value in fields.items() if name in {"name", "seen_by", "people", "scope"}}
        check_version_clash(cur, actor, "of the dashboard", before, version, wanted, plain)
        if "after_id" in fields:
            others = [one for one in rows.dashboards(cur) if one.id != dashboard_id]
            room = make_room(others, fields["after_id"], 1)
            for one in others:
                if one.id in room.others:
                    rows.update(cur, replace(one, place=room.others[one.id]))
            wanted["place"] = room.places[0]
        after = check_dashboard(replace(before, **wanted))
        if {"seen_by", "people"} & wanted.keys():
            _check_sharing(cur, actor, shown.project, after)
        _write(cur, log, before, after)


def plain(value: Any) -> Any:
    """The value of a field of a dashboard or a panel as the journal keeps it."""
    if isinstance(value, Scope):
        return rows.written_scope(value)
    if isinstance(value, Options):
        return rows.written_options(value)
    return list(value) if isinstance(value, tuple) else value.isoformat() if hasattr(value, "isoformat") else value


def _read_plain(name: str, value: Any) -> Any:
    if name == "scope":
        return rows.read_scope(value)
    if name == "options":
        return rows.read_options(value)
    return tuple(value) if name == "people" else value


def _write(cur: Cursor, log: Log, before: Dashboard, after: Dashboard) -> None:
    for name in FIELDS:
        if getattr(before, name) != getattr(after, name):
            log.record("dashboard", before.id, name, plain(getattr(before, name)), plain(getattr(after, name)))
    rows.update(cur, replace(after, version=before.version + 1))


@once
def delete(cur: Cursor, actor: Actor, dashboard_id: str) -> None:
    """Take a dashboard away. Raises as ``open_dashboard``."""
    _set_gone(cur, replace(actor, draft=None), dashboard_id, gone=True)


def _set_gone(cur: Cursor, actor: Actor, dashboard_id: str, *, gone: bool) -> None:
    with writing(cur, actor, None, "took a dashboard away" if gone else "brought a dashboard back") as log:
        before = open_dashboard(cur, actor, dashboard_id, to_change=True, deleted=not gone).dashboard
        _write(cur, log, before, replace(before, deleted_at=actor.clock.utc() if gone else None))


@once
def add_panel(cur: Cursor, actor: Actor, panel: Panel, after_id: str | None) -> None:
    """Put a panel on a dashboard, behind another.

    Raises:
        Missing, Forbidden: as ``open_dashboard``.
        RuleError: a panel that cannot be, or more than a dashboard has.
    """
    actor = replace(actor, draft=None)
    with writing(cur, actor, None, "added a panel") as log:
        before = open_dashboard(cur, actor, panel.dashboard_id, to_change=True).dashboard
        others = rows.panels(cur, before.id)
        _check_many([*others, panel])
        made = checked_panel(replace(panel, place=_make_room(cur, others, after_id)))
        rows.insert_panel(cur, made)
        log.record("panel", made.id, "created", None, {"kind": made.kind, "title": made.title})
        rows.touch(cur, before.id)


def _make_room(cur: Cursor, others: Sequence[Panel], after_id: str | None) -> str:
    room = make_room(others, after_id, 1)
    for one in others:
        if one.id in room.others:
            rows.update_panel(cur, replace(one, place=room.others[one.id]))
    return room.places[0]


@once
def edit_panel(cur: Cursor, actor: Actor, dashboard_id: str, panel_id: str, version: int, fields: Mapping[str, Any]) -> None:
    """Change fields of a panel, of ``PANEL_FIELDS``, or (``after_id``) its place.

    Args:
        version: of the panel as the person saw it.

    Raises:
        Missing, Forbidden: as ``open_dashboard``; there is no such panel on it.
        Clash: somebody else changed the same since.
        RuleError: a panel that cannot be.
    """
    actor = replace(actor, draft=None)
    with writing(cur, actor, None, "changed a panel") as log:
        dashboard = open_dashboard(cur, actor, dashboard_id, to_change=True).dashboard
        before = _panel_of(cur, dashboard_id, panel_id)
        wanted = {name: value for name, value in fields.items() if name in PANEL_FIELDS}
        check_version_clash(cur, actor, "of the panel", before, version, wanted, plain)
        if "after_id" in fields:
            others = [one for one in rows.panels(cur, dashboard_id) if one.id != panel_id]
            wanted["place"] = _make_room(cur, others, fields["after_id"])
        _write_panel(cur, log, dashboard, before, checked_panel(replace(before, **wanted)))


def _panel_of(cur: Cursor, dashboard_id: str, panel_id: str, *, deleted: bool = False) -> Panel:
    found = rows.panel(cur, panel_id)
    if found is None or found.dashboard_id != dashboard_id or (found.deleted_at is not None and not deleted):
        raise Missing("panel")
    return found


def _write_panel(cur: Cursor, log: Log, dashboard: Dashboard, before: Panel, after: Panel) -> None:
    for name in PANEL_FIELDS:
        if getattr(before, name) != getattr(after, name):
            log.record("panel", before.id, name, plain(getattr(before, name)), plain(getattr(after, name)))
    rows.update_panel(cur, replace(after, version=before.version + 1))
    rows.touch(cur, dashboard.id)


@once
def delete_panel(cur: Cursor, actor: Actor, dashboard_id: str, panel_id: str) -> None:
    """Take a panel away. Raises as ``edit_panel``."""
    _set_panel_gone(cur, replace(actor, draft=None), dashboard_id, panel_id, gone=True)


def _set_panel_gone(cur: Cursor, actor: Actor, dashboard_id: str, panel_id: str, *, gone: bool) -> None:
    with writing(cur, actor, None, "took a panel away" if gone else "brought a panel back") as log:
        dashboard = open_dashboard(cur, actor, dashboard_id, to_change=True).dashboard
        before = _panel_of(cur, dashboard_id, panel_id, deleted=not gone)
        if not gone:
            _check_many([*rows.panels(cur, dashboard_id), before])
        _write_panel(cur, log, dashboard, before, replace(before, deleted_at=actor.clock.utc() if gone else None))


_CHANGED_AGAIN = "It was changed again since, so this cannot be taken back. Change it by hand."


@takes_back("dashboard")
def take_back(cur: Cursor, actor: Actor, _: str | None, entries: Sequence[Entry]) -> None:
    """Take back what a change did to a dashboard.

    Raises:
        Missing, Forbidden: the actor may not change it.
        RuleError: it was changed again since.
    """
    actor = replace(actor, draft=None)
    dashboard_id, by_field = entries[0].subject_id, {one.field: one for one in entries}
    if "created" in by_field:
        _set_gone(cur, actor, dashboard_id, gone=True)
    elif "deleted_at" in by_field:
        _set_gone(cur, actor, dashboard_id, gone=from_json(by_field["deleted_at"].old) is not None)
    else:
        now = open_dashboard(cur, actor, dashboard_id, to_change=True).dashboard
        edit_back = _as_before(now, by_field)
        with writing(cur, actor, None, "took back a change of a dashboard") as log:
            _check_sharing(cur, actor, open_dashboard(cur, actor, dashboard_id).project, edit_back)
            _write(cur, log, now, edit_back)


def _as_before(now: Any, by_field: Mapping[str, Entry]) -> Any:
    if any(plain(getattr(now, name)) != from_json(one.new) for name, one in by_field.items()):
        raise RuleError(_CHANGED_AGAIN)
    return replace(now, **{name: _read_plain(name, from_json(one.old)) for name, one in by_field.items()})


@takes_back("panel")
def take_panel_back(cur: Cursor, actor: Actor, _: str | None, entries: Sequence[Entry]) -> None:
    """Take back what a change did to a panel. Raises as ``take_back``."""
    actor = replace(actor, draft=None)
    panel_id, by_field = entries[0].subject_id, {one.field: one for one in entries}
    found = rows.panel(cur, panel_id)
    if found is None:
        raise Missing("panel")
    if "created" in by_field:
        _set_panel_gone(cur, actor, found.dashboard_id, panel_id, gone=True)
    elif "deleted_at" in by_field:
        _set_panel_gone(cur, actor, found.dashboard_id, panel_id, gone=from_json(by_field["deleted_at"].old) is not None)
    else:
        with writing(cur, actor, None, "took back a change of a panel") as log:
            dashboard = open_dashboard(cur, actor, found.dashboard_id, to_change=True).dashboard
            now = _panel_of(cur, found.dashboard_id, panel_id)
            _write_panel(cur, log, dashboard, now, checked_panel(_as_before(now, by_field)))
