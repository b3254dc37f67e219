"""What can be booked and signs in nowhere: crews, roles, materials and fixed costs."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.errors import Missing, RuleError
from ...core.resources.bookable import Resource, check_resource
from ...formats.csv_table import naming_line
from ...store.resources import bookable as rows
from ..common.context import Actor, AlreadyDone, Log, once, open_project, writing
from .capacity import read_capacities


def whose(cur: Cursor, actor: Actor, code: str | None) -> str | None:
    """The id of the project whose crews and roles are changed; None for those of the organisation.

    Raises:
        Missing, Forbidden: the actor may not edit the project, or for the organisation not plan people.
    """
    if code is None:
        actor.require("plan_people")
        return None
    return open_project(cur, actor, code, "edit").id


def list_resources(cur: Cursor, actor: Actor, code: str) -> list[Resource]:
    """The crews and roles that can be booked in a project: its own, and those of the organisation."""
    project = open_project(cur, actor, code, "see")
    return [one for one in read_capacities(cur).staff.resources if one.project_id in {None, project.id}]


@once
def add_resource(cur: Cursor, actor: Actor, code: str | None, wanted: Resource) -> None:
    """Add a crew or a role to be filled, a material or a fixed cost: to a project, or without one to the organisation.

    Raises:
        Missing, Forbidden: as ``whose``.
        RuleError: no name, one that there is already, a size that cannot be, or a material without a unit.
    """
    project_id = whose(cur, actor, code)
    made = check_resource(replace(wanted, project_id=project_id))
    with writing(cur, actor, None, f"added {made.name}"[:80]) as log:
        rows.mark_anew(cur)
        _check_name(cur, made)
        _insert(cur, log, made)


def _insert(cur: Cursor, log: Log, one: Resource) -> None:
    rows.insert_resource(cur, one)
    log.record("resource", one.id, "created", None, {"name": one.name, "people": one.people, "kind": one.kind})


def insert_resources(cur: Cursor, actor: Actor, code: str | None, read: Sequence[tuple[int, Resource]]) -> int:
    """Add the resources of a file, each with its line; one of the same name and kind stays as it is. Returns how many are new.

    Raises:
        Missing, Forbidden, RuleError: as ``add_resource``, naming the line.
    """
    project_id = whose(cur, actor, code)
    try:
        with writing(cur, actor, None, f"added {len(read)} resources from a file") as log:
            rows.mark_anew(cur)
            there = {(one.name.casefold(), one.kind) for one in rows.resources(cur) if one.project_id in {None, project_id}}
            added = 0
            for line, wanted in read:
                with naming_line(line):
                    made = check_resource(replace(wanted, project_id=project_id))
                    if (made.name.casefold(), made.kind) in there:
                        continue
                    _check_name(cur, made)
                there.add((made.name.casefold(), made.kind))
                _insert(cur, log, made)
                added += 1
            return added
    except AlreadyDone:
        return 0


def _check_name(cur: Cursor, one: Resource) -> None:
    for other in rows.resources(cur):  # not those of other projects: that they are there is not for everybody to know
        if other.id != one.id and other.project_id in {None, one.project_id} and other.name.casefold() == one.name.casefold():
            raise RuleError(f"There is {one.name} already. Choose another name.", "name")


def open_resource(cur: Cursor, project_id: str | None, resource_id: str, *, gone: bool = False) -> Resource:
    """One of a project, or of the organisation, to be changed, locked. Raises Missing."""
    rows.mark_anew(cur)
    found = rows.resources_by_id(cur, [resource_id]).get(resource_id)
    if found is None or found[1] is gone or found[0].project_id != project_id:
        raise Missing("resource")
    return found[0]


@once
def edit_resource(cur: Cursor, actor: Actor, code: str | None, resource_id: str, fields: dict[str, Any]) -> None:
    """Change a resource: its ``name``, how many ``people`` a crew has, or the ``unit`` of a material. Raises as
    ``add_resource``."""
    project_id = whose(cur, actor, code)
    with writing(cur, actor, None, "changed a crew or role") as log:
        before = open_resource(cur, project_id, resource_id)
        after = check_resource(replace(before, **fields))
        _check_name(cur, after)
        log.record_changes("resource", resource_id, before, after, fields)
        rows.update_resource(cur, after)


@once
def delete_resource(cur: Cursor, actor: Actor, code: str | None, resource_id: str) -> None:
    """Take a crew or role away. What is booked of it stays written on its tasks."""
    project_id = whose(cur, actor, code)
    with writing(cur, actor, None, "took a crew or role away") as log:
        before = open_resource(cur, project_id, resource_id)
        log.record("resource", resource_id, "deleted_at", None, actor.clock.utc())
        rows.update_resource(cur, before, actor.clock.utc())


@once
def bring_resource_back(cur: Cursor, actor: Actor, code: str | None, resource_id: str) -> None:
    """Bring a resource back that was taken away."""
    project_id = whose(cur, actor, code)
    with writing(cur, actor, None, "brought back a crew or role") as log:
        found = open_resource(cur, project_id, resource_id, gone=True)
        _check_name(cur, found)
        log.record("resource", resource_id, "deleted_at", actor.clock.utc(), None)
        rows.update_resource(cur, found)
