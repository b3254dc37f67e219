"""Dashboards and their panels."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import asdict, fields
from datetime import date
from decimal import Decimal
from typing import Any

from pymysql.cursors import Cursor

from ...core.reports.dashboards import Dashboard, Options, Panel
from ...core.views.conditions import read_group, write_group
from ...core.views.scope import Scope
from ...core.views.tints import Tint
from ...core.views.view import read_view
from ..common.database import fetch_all, fetch_one, places

_COLUMNS = "id, project_id, person_id, name, place, seen_by, people, scope, version, deleted_at"
_PANEL = "id, dashboard_id, kind, title, place, width, height, scope, options, version, deleted_at"
_LISTS = ("kinds", "owners", "states", "classes")
_DAYS = ("since", "until")


def written_scope(one: Scope) -> dict[str, Any]:
    """A sentence as it is kept: what it leaves out is left out."""
    found: dict[str, Any] = {
        name: list(value) if name in _LISTS else value for name in Scope.__slots__ if (value := getattr(one, name))
    }
    for name in _DAYS:
        if name in found:
            found[name] = found[name].isoformat()
    found.pop("where", None)
    if one.where.parts:
        found["where"] = write_group(one.where)
    return found


def read_scope(kept: Mapping[str, Any]) -> Scope:
    """The inverse of ``written_scope``."""
    given: dict[str, Any] = {
        name: tuple(value) if name in _LISTS else value for name, value in kept.items() if name in Scope.__slots__
    }
    for name in _DAYS:
        if name in given:
            given[name] = date.fromisoformat(given[name])
    given["where"] = read_group(kept.get("where"))
    return Scope(**given)


_USUAL = asdict(Options())


def written_options(one: Options) -> dict[str, Any]:
    """Options as they are kept: what is as usual is left out."""
    found = {name: value for name, value in asdict(one).items() if value != _USUAL[name]}
    if one.target is not None:
        found["target"] = str(one.target)
    if one.tints:
        found["tints"] = [written_tint(each) for each in one.tints]
    return {name: list(value) if isinstance(value, tuple) else value for name, value in found.items()}


def written_tint(one: Tint) -> dict[str, Any]:
    """A tint as it is kept."""
    return {"id": one.id, "name": one.name, "where": write_group(one.where), "colour": one.colour, "sign": one.sign,
            "covers": list(one.covers), "cell": one.cell}  # fmt: skip


def read_options(kept: Mapping[str, Any]) -> Options:
    """The inverse of ``written_options``."""
    known = {one.name for one in fields(Options)}
    given: dict[str, Any] = {
        name: tuple(value) if isinstance(value, list) else value for name, value in kept.items() if name in known
    }
    if given.get("target") is not None:
        given["target"] = Decimal(given["target"])
    if "tints" in given:
        given["tints"] = read_view({"tints": given["tints"]}).tints
    return Options(**given)


def _made(row: tuple[Any, ...]) -> Dashboard:
    values = [*row[:6], tuple(json.loads(row[6])), read_scope(json.loads(row[7])), *row[8:]]
    return Dashboard(*values)


def _panel(row: tuple[Any, ...]) -> Panel:
    values = [*row[:7], read_scope(json.loads(row[7])), read_options(json.loads(row[8])), *row[9:]]
    return Panel(*values)


def dashboards(cur: Cursor) -> list[Dashboard]:
    """All that there are, in their order."""
    return [
        _made(row) for row in fetch_all(cur, f"SELECT {_COLUMNS} FROM dashboards WHERE deleted_at IS NULL ORDER BY place, id")
    ]


def count(cur: Cursor) -> int:
    """How many there are."""
    row = fetch_one(cur, "SELECT COUNT(*) FROM dashboards WHERE deleted_at IS NULL")
    return int(row[0]) if row else 0


def changes(cur: Cursor) -> int:
    """Another after every change to a dashboard or a panel."""
    row = fetch_one(cur, "SELECT COALESCE(SUM(changes), 0) FROM dashboards")
    return int(row[0]) if row else 0


def dashboard(cur: Cursor, dashboard_id: str, *, locked: bool = False) -> Dashboard | None:
    """One dashboard, taken away or not.

    Args:
        locked: until the transaction ends nobody else changes it or its panels.
    """
    row = fetch_one(cur, f"SELECT {_COLUMNS} FROM dashboards WHERE id = %s{' FOR UPDATE' if locked else ''}", (dashboard_id,))
    return _made(row) if row else None


def insert(cur: Cursor, one: Dashboard) -> None:
    """Add a dashboard."""
    row = (one.id, one.project_id, one.person_id, one.name, one.place, one.seen_by, json.dumps(one.people),
           json.dumps(written_scope(one.scope)), one.version, one.deleted_at)  # fmt: skip
    cur.execute(f"INSERT INTO dashboards ({_COLUMNS}) VALUES ({places(10)})", row)


def update(cur: Cursor, one: Dashboard) -> None:
    """Write a dashboard anew; whose it is and where it belongs stays."""
    scope = json.dumps(written_scope(one.scope))
    cur.execute(
        "UPDATE dashboards SET name = %s, place = %s, seen_by = %s, people = %s, scope = %s, version = %s, deleted_at = %s,"
        " changes = changes + 1 WHERE id = %s",
        (one.name, one.place, one.seen_by, json.dumps(one.people), scope, one.version, one.deleted_at, one.id),
    )


def touch(cur: Cursor, dashboard_id: str) -> None:
    """Let others know that a panel of a dashboard is another."""
    cur.execute("UPDATE dashboards SET changes = changes + 1 WHERE id = %s", (dashboard_id,))


def panels(cur: Cursor, dashboard_id: str, *, deleted: bool = False) -> list[Panel]:
    """The panels of a dashboard, in their order; with those that were taken away where they are asked for."""
    sql = f"SELECT {_PANEL} FROM dashboard_panels WHERE dashboard_id = %s"
    sql += "" if deleted else " AND deleted_at IS NULL"
    return [_panel(row) for row in fetch_all(cur, f"{sql} ORDER BY place, id", (dashboard_id,))]


def panel(cur: Cursor, panel_id: str) -> Panel | None:
    """One panel, taken away or not."""
    row = fetch_one(cur, f"SELECT {_PANEL} FROM dashboard_panels WHERE id = %s", (panel_id,))
    return _panel(row) if row else None


def insert_panel(cur: Cursor, one: Panel) -> None:
    """Add a panel."""
    row = (one.id, one.dashboard_id, *_values(one), one.version, one.deleted_at)
    cur.execute(f"INSERT INTO dashboard_panels ({_PANEL}) VALUES ({places(11)})", row)


def update_panel(cur: Cursor, one: Panel) -> None:
    """Write a panel anew."""
    cur.execute(
        "UPDATE dashboard_panels SET kind = %s, title = %s, place = %s, width = %s, height = %s, scope = %s, options = %s,"
        " version = %s, deleted_at = %s WHERE id = %s",
        (*_values(one), one.version, one.deleted_at, one.id),
    )


def _values(one: Panel) -> tuple[Any, ...]:
    scope, options = json.dumps(written_scope(one.scope)), json.dumps(written_options(one.options))
    return one.kind, one.title, one.place, one.width, one.height, scope, options
