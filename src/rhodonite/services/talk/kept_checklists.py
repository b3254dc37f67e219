"""Checklists that a project keeps, for loading on its tasks."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from pymysql.cursors import Cursor

from ...core.common.errors import Missing
from ...core.talk.parts import Check, Checklist
from ...store.common.database import from_json
from ...store.common.journal import Entry
from ...store.talk import parts as part_rows
from ...store.tasks import tasks as task_rows
from ..common.context import Actor, Log, once, open_project, writing


@dataclass(frozen=True, slots=True)
class Template:
    """A checklist that a project keeps for loading."""

    id: str
    name: str
    items: list[str]


def list_templates(cur: Cursor, actor: Actor, code: str) -> list[Template]:
    """The checklists that a project keeps for loading."""
    project = open_project(cur, actor, code, "see")
    return _all(cur, project.id)


def _all(cur: Cursor, project_id: str) -> list[Template]:
    return [Template(*row) for row in part_rows.templates(cur, project_id)]


@once
def keep_template(cur: Cursor, actor: Actor, code: str, template_id: str, list_id: str) -> None:
    """Keep a checklist of one of the project's tasks for loading on others. One of the same name is replaced.

    Raises:
        Missing: the project has no such checklist.
    """
    project = open_project(cur, actor, code, "edit")
    made = part_rows.part(cur, Checklist, list_id)
    if made is None or made.deleted_at is not None or task_rows.project_of(cur, made.task_id) != project.id:
        raise Missing("checklist")
    items = [one.text for one in part_rows.of_task(cur, Check, made.task_id) if one.checklist_id == list_id]
    with writing(cur, actor, project.id, f"kept the checklist {made.name}"[:80]) as log:
        for one in _all(cur, project.id):
            if one.name == made.name:
                _take_away(cur, log, one)
        _put_in(cur, log, project.id, Template(template_id, made.name, items))


@once
def delete_template(cur: Cursor, actor: Actor, code: str, template_id: str) -> None:
    """Keep a checklist for loading no longer. Raises Missing where there is none."""
    project = open_project(cur, actor, code, "edit")
    found = next((one for one in _all(cur, project.id) if one.id == template_id), None)
    if found is None:
        raise Missing("checklist")
    with writing(cur, actor, project.id, f"no longer keeps the checklist {found.name}"[:80]) as log:
        _take_away(cur, log, found)


def take_back(cur: Cursor, actor: Actor, code: str, entries: Sequence[Entry]) -> None:
    """Take back what a change did to the kept checklists: what came goes, what went comes."""
    project = open_project(cur, actor, code, "edit")
    there = {one.id: one for one in _all(cur, project.id)}
    with writing(cur, actor, project.id, "took back a change of the kept checklists") as log:
        for entry in reversed(entries):
            if entry.field == "created" and entry.subject_id in there:
                _take_away(cur, log, there[entry.subject_id])
            elif entry.field == "deleted":
                old = from_json(entry.old)
                _put_in(cur, log, project.id, Template(entry.subject_id, old["words"], old["items"]))


def _put_in(cur: Cursor, log: Log, project_id: str, one: Template) -> None:
    part_rows.insert_template(cur, one.id, project_id, one.name, one.items)
    log.record("template", one.id, "created", None, {"words": one.name, "items": one.items})


def _take_away(cur: Cursor, log: Log, one: Template) -> None:
    part_rows.delete_template(cur, one.id)
    log.record("template", one.id, "deleted", {"words": one.name, "items": one.items}, None)
