"""Taking back what was done to the settings of a project: its fields, members, workflow, calendars and agreed plans."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from datetime import date, datetime
from decimal import Decimal
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.errors import RuleError
from ...core.schedule.plan import Plan
from ...core.tasks.defining import definition_of, settings_of
from ...core.tasks.model import State
from ...core.tasks.workflow import check_classes, check_whole_state
from ...store.common.database import from_json
from ...store.common.journal import Entry
from ...store.schedule import agreed as agreed_rows
from ...store.tasks import custom_fields as definition_rows
from ...store.tasks import projects as project_rows
from ...store.tasks import tasks as task_rows
from ..common.context import Actor, Log
from ..common.pipeline import check_currency_change
from ..tasks.custom_fields import ON_BOARD

Undone = tuple[Cursor, Actor, Log, Plan, frozenset[str]]
"""With the ids of the tasks that the same change put elsewhere: they go back where they stood."""
_GONE = "It is not there any more, so this cannot be taken back."


def put_back_settings(
    cur: Cursor, actor: Actor, log: Log, plan: Plan, entries: Sequence[Entry], leaving: frozenset[str] = frozenset()
) -> None:
    """Write settings as they were before some entries, and note that in the journal.

    Args:
        plan: of the project as it stands before.
        leaving: the ids of tasks that go back to other states in the same breath.

    Raises:
        RuleError: what would be is no project that can be: a state that tasks stand in would go, two states would have one
            name, the lead would be no lead.
    """
    for entry in reversed(entries):
        SUBJECTS[entry.subject]((cur, actor, log, plan, leaving), entry)
    if entries:
        _check_workflow(cur, log.project.id)
        _check_lead(cur, log.project.id)


def _goes(entry: Entry) -> bool | None:
    """True where taking an entry back takes its subject away, False where it brings it back, None where it changes a field."""
    if entry.field == "created":
        return True
    if entry.field == "deleted":
        return False
    return entry.new is None if entry.field == "deleted_at" else None


def _set_deleted(at: Undone, entry: Entry, write: Callable[[Cursor, str, datetime | None], None]) -> bool:
    """Take a subject away or bring it back, where that is what the entry asks for."""
    cur, actor, log, *_ = at
    goes = _goes(entry)
    if goes is None:
        return False
    now = actor.clock.utc() if goes else None
    write(cur, entry.subject_id, now)
    log.record(entry.subject, entry.subject_id, "deleted_at", None if goes else actor.clock.utc(), now)
    return True


def _project(at: Undone, entry: Entry) -> None:
    cur, _, log, plan, _ = at
    now = project_rows.project(cur, log.project.id)
    value = from_json(entry.old)
    if entry.field == "currency":
        check_currency_change(cur, plan, value)
    if entry.field == "start_day":
        value = date.fromisoformat(value)
    elif entry.field == "archived_at" and value:
        value = datetime.fromisoformat(value)
    elif entry.field in {"lenses", "brief"}:
        value = tuple(value)
    elif entry.field == "exchange":
        value = Decimal(value)
    elif entry.field == "code" and project_rows.exists_code(cur, value, log.project.id):
        raise RuleError(f"Another project has the code {value} by now, so this cannot be taken back.", "code")
    log.record("project", log.project.id, entry.field, getattr(now, entry.field), value)
    project_rows.update_project(cur, log.project.id, {entry.field: value})


def _member(at: Undone, entry: Entry) -> None:
    cur, _, log, *_ = at
    old = from_json(entry.old)
    log.record("member", entry.subject_id, "role", project_rows.members(cur, log.project.id).get(entry.subject_id), old)
    project_rows.set_member(cur, log.project.id, entry.subject_id, old)


def _state(at: Undone, entry: Entry) -> None:
    cur, _, log, _, leaving = at
    if _goes(entry) is True:
        there = task_rows.tasks_in_state(cur, entry.subject_id)
        if standing := sum(one.deleted_at is None and one.id not in leaving for one in there):
            raise RuleError(f"{standing} tasks stand in that state by now, so it cannot go. Move them first.", "state_id")
    if _set_deleted(at, entry, project_rows.set_state_deleted):
        return
    state = next((one for one in project_rows.states(cur, log.project.id) if one.id == entry.subject_id), None)
    if state is None:
        raise RuleError(_GONE)
    fields: dict[str, Any] = {entry.field: from_json(entry.old)}
    log.record("state", state.id, entry.field, getattr(state, entry.field), fields[entry.field])
    project_rows.update_state(cur, replace(state, **fields))


def _defined(at: Undone, entry: Entry) -> None:
    """Workflows, lanes, periods and blanks: what came goes, what went comes, and a setting is what it was."""
    cur, _, log, *_ = at
    if _set_deleted(at, replace(entry, field="deleted_at") if entry.field == "restored" else entry, definition_rows.set_deleted):
        return
    found = definition_rows.definition(cur, log.project.id, entry.subject_id)
    if found is None:
        raise RuleError(_GONE)
    sort, one = found
    kept = settings_of(one) | {"name": one.name, "place": one.place}
    log.record(sort, one.id, entry.field, kept[entry.field], from_json(entry.old))
    kept[entry.field] = from_json(entry.old)
    name, place = kept.pop("name"), kept.pop("place")
    definition_rows.update(cur, definition_of(sort, one.id, name, place, kept))


def _calendar(at: Undone, entry: Entry) -> None:
    cur, _, log, plan, *_ = at
    project_id = log.project.id
    made = entry.subject_id != project_id and entry.old is None and entry.field != "deleted_at"
    if (made or _goes(entry) is True) and any(
        task.calendar_id == entry.subject_id and task.deleted_at is None for task in plan.tasks.values()
    ):
        raise RuleError("Tasks work by that calendar by now, so it cannot go. Give them another first.", "calendar_id")
    if made:  # several entries say that it was made; one of them is enough
        if entry.field == "name":
            _set_deleted(at, replace(entry, field="created"), project_rows.set_calendar_deleted)
        return
    if entry.field == "deleted_at":
        _set_deleted(at, entry if entry.new is None else replace(entry, field="deleted"), project_rows.set_calendar_deleted)
        return
    main_id, week, exceptions = project_rows.calendar(cur, project_id)
    kept: dict[str, tuple[Any, Any, Any]] = {project_id: ("", week, exceptions)}
    kept |= {one: (name, week, exceptions) for one, name, week, exceptions in project_rows.other_calendars(cur, project_id)}
    if entry.subject_id not in kept:
        raise RuleError(_GONE)
    fields: dict[str, Any] = dict(zip(("name", "week", "exceptions"), kept[entry.subject_id], strict=True))
    old = from_json(entry.old)
    log.record("calendar", entry.subject_id, entry.field, fields[entry.field], old)
    fields[entry.field] = old
    main = entry.subject_id == project_id
    name = f"{log.project.name}: working time"[:120] if main else fields["name"]
    project_rows.update_calendar(cur, main_id if main else entry.subject_id, name, fields["week"], fields["exceptions"])


def _agreed(at: Undone, entry: Entry) -> None:
    cur, _, log, *_ = at
    plan = next((one for one in agreed_rows.agreed_plans(cur, log.project.id) if one.id == entry.subject_id), None)
    if _goes(entry) and plan and plan.is_current:  # noted apart, and before, so that it is current again when it comes back
        log.record("agreed", plan.id, "current", True, False)
        agreed_rows.choose_current(cur, log.project.id, None)
    if _set_deleted(at, entry, agreed_rows.set_deleted):
        return
    if plan is None:
        raise RuleError(_GONE)
    old = from_json(entry.old)
    if entry.field == "current":
        log.record("agreed", plan.id, "current", plan.is_current, old)
        agreed_rows.choose_current(cur, log.project.id, plan.id if old else None)
    else:
        log.record("agreed", plan.id, "name", plan.name, old)
        agreed_rows.update_plan(cur, plan.id, old, plan.day, plan.note)


def _check_workflow(cur: Cursor, project_id: str) -> None:
    states: Sequence[State] = project_rows.states(cur, project_id)
    check_classes(states)
    for state in states:
        check_whole_state([one for one in states if one.workflow_id == state.workflow_id], state)


def _check_lead(cur: Cursor, project_id: str) -> None:
    project = project_rows.project(cur, project_id)
    if project and project.lead_id and project_rows.members(cur, project_id).get(project.lead_id) != "lead":
        raise RuleError("The lead of a project keeps the role of lead, so this cannot be taken back. Name another lead first.")


SUBJECTS: dict[str, Callable[[Undone, Entry], None]] = {
    "project": _project,
    "member": _member,
    "state": _state,
    "calendar": _calendar,
    "agreed": _agreed,
    **dict.fromkeys(ON_BOARD, _defined),
}
