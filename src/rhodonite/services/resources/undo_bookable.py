"""Taking back what was done to who can be booked."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, datetime
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.errors import RuleError
from ...core.resources.bookable import Common, Kept, Resource
from ...core.resources.capacity import Absence
from ...store.common.database import from_json, to_json
from ...store.common.journal import Entry
from ...store.resources import bookable as rows
from ...store.tasks import projects as project_rows
from ..common.context import Actor, writing
from ..common.pipeline import follow_other_time
from .absences import bring_absence_back, delete_absence, edit_absence, open_absence
from .bookable_resources import bring_resource_back, delete_resource, edit_resource, open_resource, whose
from .capacity import set_capacity, set_common

_READ: dict[str, Any] = {"start": datetime.fromisoformat, "end": datetime.fromisoformat, "first": date.fromisoformat,
                         "last": date.fromisoformat, "absence_kinds": tuple, "closed": tuple}  # fmt: skip


def take_back(cur: Cursor, actor: Actor, subject: str, subject_id: str, entries: Sequence[Entry]) -> None:
    """Take back what a change did to who can be booked.

    Raises:
        Missing, Forbidden: the actor may not change it.
        RuleError: it was changed again since.
    """
    _check_unchanged(cur, subject, subject_id, entries)
    old = {
        entry.field: None if (value := from_json(entry.old)) is None else _READ.get(entry.field, _as_it_is)(value)
        for entry in entries
    }
    if subject == "absence":
        if _was_brought(entries):
            delete_absence(cur, actor, subject_id)
        elif "deleted_at" in old:
            bring_absence_back(cur, actor, subject_id)
        else:
            edit_absence(cur, actor, subject_id, old)
    elif subject == "resource":
        code = _code_of(cur, subject_id)
        if _was_brought(entries):
            delete_resource(cur, actor, code, subject_id)
        elif "deleted_at" in old:
            bring_resource_back(cur, actor, code, subject_id)
        else:
            edit_resource(cur, actor, code, subject_id, old)
    elif subject == "capacity":
        set_capacity(cur, actor, subject_id, old)
    else:
        set_common(cur, actor, old)


def take_file_back(cur: Cursor, actor: Actor, subject: str, entries: Sequence[Entry]) -> None:
    """Take back what a file brought, absences or resources; or bring back what was so taken back.

    Raises:
        Missing, Forbidden: the actor may not change them, or one of them is there no more.
    """
    gone = _was_brought(entries)
    ids = list(dict.fromkeys(entry.subject_id for entry in entries))
    now = actor.clock.utc()
    what = f"{'took away' if gone else 'brought back'} {len(ids)} {subject}s"
    with writing(cur, actor, None, what) as log:
        for one in ids:
            if subject == "absence":
                rows.update_absence(cur, open_absence(cur, actor, one, gone=not gone), now if gone else None)
            else:
                found = open_resource(cur, whose(cur, actor, _code_of(cur, one)), one, gone=not gone)
                rows.update_resource(cur, found, now if gone else None)
            log.record(subject, one, "deleted_at", None if gone else now, now if gone else None)
    if subject == "absence":
        follow_other_time(cur, actor)


def _was_brought(entries: Sequence[Entry]) -> bool:
    """True where a change wrote its subjects, or brought them back: taking it back takes them away."""
    return any(one.field == "created" or (one.field == "deleted_at" and one.new is None) for one in entries)


def _as_it_is(value: Any) -> Any:
    return value


def _code_of(cur: Cursor, resource_id: str) -> str | None:
    found = rows.resources_by_id(cur, [resource_id]).get(resource_id)
    if found is None or found[0].project_id is None:
        return None
    project = project_rows.project(cur, found[0].project_id)
    return project.code if project else None


def _check_unchanged(cur: Cursor, subject: str, subject_id: str, entries: Sequence[Entry]) -> None:
    now = _now(cur, subject, subject_id)
    for entry in entries:
        if entry.field in {"created", "deleted_at"} or now is None:
            continue
        if from_json(to_json(getattr(now, entry.field))) != from_json(entry.new):
            raise RuleError("It was changed again since, so this cannot be taken back. Change it by hand.")


def _now(cur: Cursor, subject: str, subject_id: str) -> Absence | Resource | Kept | Common | None:
    if subject == "absence":
        found = rows.absence(cur, subject_id)
        return found[0] if found else None
    if subject == "resource":
        one = rows.resources_by_id(cur, [subject_id]).get(subject_id)
        return one[0] if one else None
    return rows.capacities(cur).get(subject_id, Kept()) if subject == "capacity" else rows.common(cur)
