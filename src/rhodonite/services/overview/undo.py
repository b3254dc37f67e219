"""Taking a change back: the journal says what each field was. It passes the same permissions as the change that it makes."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable, Sequence
from dataclasses import replace
from datetime import datetime
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.errors import Forbidden, Missing, RuleError
from ...core.people.access import ProjectAction, may_in_project
from ...core.schedule.plan import Plan
from ...core.talk.parts import may_take_back
from ...core.tasks.model import Project
from ...store.common import journal as journal_rows
from ...store.common.database import from_json
from ...store.common.journal import Change, Entry
from ...store.talk import parts as part_rows
from ...store.tasks import projects as project_rows
from ...store.tasks import tasks as task_rows
from ..common.context import Actor, Log, check_project, once, pair_of, writing
from ..common.journal_codec import from_plain
from ..common.pipeline import as_before, follow_fields, note_limits, reschedule, spent_on, tell
from ..common.plan_cache import PLANS, read_meta
from ..common.search_index import write_part_words
from ..common.task_writes import write_fields
from ..cost import budgets, invoices
from ..goals import goals, purpose
from ..goals import notes as goal_notes
from ..people import people, teams
from ..resources import rates
from ..resources import undo_bookable as bookable
from ..schedule.drafts import undo_in_draft
from ..talk import kept_checklists
from ..tasks import custom_fields
from ..time import entries as time_entries
from ..time import sheets as time_sheets
from ..time import timers
from ..views import sheets
from ..views.tied import follow_undone
from .undo_settings import SUBJECTS, put_back_settings

BOOKABLE = frozenset({"absence", "resource", "capacity", "bookable"})
SETTLED = frozenset(
    {
        "sheet",
        "team",
        "template",
        "person",
        "rates",
        "time",
        "week",
        "budget",
        "expense",
        "invoice",
        "goal",
        "goal_value",
        "goal_note",
        "goal_settings",
        *BOOKABLE,
        *custom_fields.WORDS,
    }
)
"""What else than tasks, settings and drafts can be taken back: each kind of thing by its own service."""
Before = dict[str, dict[str, Any]]


Taking = Callable[[Cursor, Actor, str | None, Sequence[Entry]], None]
_TAKES_BACK: dict[str, Taking] = {}


def takes_back(subject: str) -> Callable[[Taking], Taking]:
    """Let an area above this one say how what a change did to one of its things is taken back.

    The service gets the code of the project that the change was to, if it was to one, and the entries of the change. It
    says who may; in the activity of a project it is offered to who leads it.
    """

    def register(service: Taking) -> Taking:
        _TAKES_BACK[subject] = service
        return service

    return register


def is_offered(entries: Iterable[tuple[str, str]], by_id: str, person_id: str, role: str | None) -> bool:
    """True where a person who sees a change in a project's activity is offered to take it back.

    Args:
        entries: (subject, field) of what it touched.
        by_id: who made it.
        role: of the person in the project.
    """
    entries = list(entries)
    if not entries or role is None:
        return False
    for subject, field in entries:
        part: Any = subject
        if subject in part_rows.KINDS and not may_take_back(part, field, by_id, by_id, person_id, role):
            return False
        if subject == "report" or (subject == "sheet" and by_id != person_id):
            return False
        if subject in {"time", "expense"} and by_id != person_id and not may_in_project(role, "manage"):
            return False
    if any(
        subject in SUBJECTS or subject in custom_fields.WORDS or subject in {"budget", "invoice"} or subject in _TAKES_BACK
        for subject, _ in entries
    ):
        return may_in_project(role, "manage")
    if all(subject == "time" for subject, _ in entries):
        return may_in_project(role, "see")  # what hours are whose was looked at before
    needed: ProjectAction = "comment" if all(subject in {"comment", "file"} for subject, _ in entries) else "edit"
    return may_in_project(role, needed)


def undo_change(cur: Cursor, actor: Actor, change_id: str) -> str | None:
    """Take back a change; where it was to two projects at once, what it did to the other as well. See ``_undo``.

    Returns:
        The code of the project; None where it was to none.
    """
    change = journal_rows.change(cur, change_id)
    if change is None:
        raise Missing("change")
    project = project_rows.project(cur, change.project_id) if change.project_id else None
    _undo(cur, actor, change)
    pair = journal_rows.change(cur, pair_of(change_id))
    if pair is not None:
        _undo(cur, replace(actor, change_id=pair_of(actor.change_id)), pair)
    return project.code if project else _code_of_draft(cur, change_id)


def _code_of_draft(cur: Cursor, change_id: str) -> str | None:
    """A change to a draft is to no project, but the rows of its project show it."""
    entries = journal_rows.entries_of(cur, change_id)
    if not entries or entries[0].subject != "draft":
        return None
    return project_rows.code_of_draft(cur, entries[0].subject_id)


@once
def _undo(cur: Cursor, actor: Actor, change: Change) -> None:
    """Take back a change, as a change of its own, which can be taken back in turn.

    Raises:
        Missing: there is no such change, or the person may not see it.
        Forbidden: they may not do what taking it back does.
        RuleError: it cannot be taken back, was taken back already, or others have changed the same fields since.
    """
    entries = journal_rows.entries_of(cur, change.id)
    project = project_rows.project(cur, change.project_id) if change.project_id else None
    if (change.project_id and project is None) or not (entries or project):
        raise Missing("change")
    subject = entries[0].subject if entries else None  # what changed nothing is taken back too
    if subject == "draft":
        undo_in_draft(cur, actor, change, entries)
        return
    if subject in SETTLED or subject in _TAKES_BACK:
        _undo_settled(cur, actor, change, entries, project.code if project else None)
        return
    if project is None:
        raise RuleError("This cannot be taken back. A project that was started by mistake can be archived.")
    in_plan = replace(actor, draft=None)  # what was done to the plan is taken back there, wherever the person is now
    member_role = project_rows.members(cur, project.id).get(actor.person.id)
    check_project(in_plan, project, member_role, _needed(entries))
    _check_not_undone(change)
    _check_parts(cur, in_plan, change, entries, in_plan.role_in(project, member_role))
    _put_all_back(cur, in_plan, project.id, change, entries)
    journal_rows.mark_undone(cur, change.id, actor.change_id)


def _check_not_undone(change: Change) -> None:
    if change.undone_by is not None:
        raise RuleError("That change was taken back already.")


def _needed(entries: Sequence[Entry]) -> ProjectAction:
    """What a person must be allowed in the project to take back such entries."""
    if any(entry.subject in SUBJECTS for entry in entries):
        return "manage"
    return "comment" if entries and all(entry.subject in {"comment", "file"} for entry in entries) else "edit"


def _check_parts(cur: Cursor, actor: Actor, change: Change, entries: Sequence[Entry], role: str | None) -> None:
    """Raises Forbidden where what hangs on a task is another person's, and not to be changed by this one."""
    for entry in entries:
        if entry.subject not in part_rows.KINDS:
            continue
        kind: Any = entry.subject
        part: Any = part_rows.part(cur, part_rows.KINDS[kind], entry.subject_id)
        if part is None:
            raise Missing("change")
        writer = getattr(part, "person_id", None)
        if not may_take_back(kind, entry.field, writer, change.person_id, actor.person.id, role):
            raise Forbidden("Only who wrote or attached it may take this back, or for what was taken away a lead.")


def _put_all_back(cur: Cursor, actor: Actor, project_id: str, change: Change, entries: Sequence[Entry]) -> None:
    """Write every field as it was before a change, in a change of its own, and compute the plan anew."""
    on_settings = [entry for entry in entries if entry.subject in SUBJECTS]
    on_parts = [entry for entry in entries if entry.subject in part_rows.KINDS]
    on_tasks = [entry for entry in entries if entry.subject == "task"]
    on_time = [entry for entry in entries if entry.subject == "time"]
    on_expenses = [entry for entry in entries if entry.subject == "expense"]
    if len(on_settings) + len(on_parts) + len(on_tasks) + len(on_time) + len(on_expenses) < len(entries):
        raise RuleError("This cannot be taken back. Change it by hand.")
    what = f"took back: {change.what.removeprefix('took back: ')}"[:80]
    now = actor.clock.now()
    with writing(cur, actor, project_id, what, meta=bool(on_settings)) as log:
        before = _values_before(on_tasks, now)
        parts = _parts_before(on_parts, actor.clock.utc())
        settings: Before = defaultdict(dict)
        for entry in on_settings:
            settings[entry.subject_id][entry.field] = None
        _check_untouched(cur, actor, change, before | {part_id: fields for (_, part_id), fields in parts.items()} | settings)
        held = PLANS.at(cur, as_before(log), now)
        spent_on(cur, held)  # as it was committed
        leaving = frozenset(one for one, fields in before.items() if "state_id" in fields)
        put_back_settings(cur, actor, log, held.plan, on_settings, leaving)
        _put_back(cur, log, parts)
        time_entries.put_back(cur, log, on_time)
        budgets.put_back(cur, log, on_expenses)
        _check_states(cur, project_id, before)
        _put_tasks_back(cur, log, before)
        follow_undone(cur, actor, log, held.plan)
        follow_fields(cur, actor, log, held.plan)
        whole = _compute_anew(cur, actor, log, held.plan, settings=bool(on_settings))
        note_limits(cur, actor, log, held.plan)
        tell(cur, actor, log, held.plan, project=whole)


def _compute_anew(cur: Cursor, actor: Actor, log: Log, plan: Plan, *, settings: bool) -> Project | None:
    """Returns the project as it is now, where its settings were put back."""
    actor = replace(actor, consent=None)
    if not settings:
        reschedule(cur, actor, log, plan)
        return None
    now = project_rows.project(cur, log.project.id)
    assert now is not None
    whole, calendar, _ = read_meta(cur, now)
    reschedule(cur, actor, log, plan, project=whole, calendar=calendar, whole=True)
    return whole


def _undo_settled(cur: Cursor, actor: Actor, change: Change, entries: list[Entry], code: str | None) -> None:
    """Take back what a change did to a sheet, a team, a kept checklist, a person, or something that a project defines; they
    say who may."""
    subject, subject_id = entries[0].subject, entries[0].subject_id
    _check_not_undone(change)
    if subject == "sheet":
        sheets.take_back(cur, actor, code, subject_id, entries)
    elif subject == "team":
        teams.take_back(cur, actor, subject_id, entries)
    elif subject in BOOKABLE:
        if any(entry.subject_id != subject_id for entry in entries):
            bookable.take_file_back(cur, actor, subject, entries)
        else:
            bookable.take_back(cur, actor, subject, subject_id, entries)
    elif subject == "rates":
        rates.take_back(cur, actor, subject_id, entries)
    elif subject == "person":
        people.take_back(cur, actor, subject_id, entries)
    elif subject == "week":
        time_sheets.take_back(cur, actor, subject_id, entries)
    elif subject == "goal":
        goals.take_back(cur, actor, subject_id, entries)
    elif subject == "goal_settings":
        purpose.take_settings_back(cur, actor, entries)
    elif subject in {"goal_value", "goal_note"}:
        goal_notes.take_back(cur, actor, subject, subject_id, entries)
    elif subject in _TAKES_BACK:
        _TAKES_BACK[subject](cur, actor, code, entries)
    elif code is not None and subject == "budget":
        budgets.take_budget_back(cur, actor, code, entries)
    elif code is not None and subject == "invoice":
        invoices.take_back(cur, actor, code, subject_id, entries)
    elif code is not None and subject == "expense":
        budgets.take_expenses_back(cur, actor, code, entries)
    elif code is not None and any(entry.subject == "timer" for entry in entries):
        timers.put_back(cur, actor, code, entries)
    elif code is not None and subject == "time":
        time_entries.take_back(cur, actor, code, entries)
    elif code is not None and subject == "template":
        kept_checklists.take_back(cur, actor, code, entries)
    elif code is not None:
        custom_fields.take_back(cur, actor, code, subject, subject_id, entries)
    journal_rows.mark_undone(cur, change.id, actor.change_id)


def _values_before(entries: Sequence[Entry], now: datetime) -> Before:
    """For each task the fields as they were. A task that was written down goes to the bin, and only that."""
    before: Before = defaultdict(dict)
    created = {entry.subject_id for entry in entries if entry.field == "created"}
    for entry in reversed(entries):  # the first of several entries on one field says what it was
        if entry.subject_id not in created:
            before[entry.subject_id][entry.field] = from_plain(entry.field, from_json(entry.old))
    for subject in created:
        before[subject] = {"deleted_at": now}
    return before


def _put_tasks_back(cur: Cursor, log: Log, before: Before) -> None:
    tasks = {task.id: task for task in task_rows.tasks_by_id(cur, list(before))}
    for task_id, fields in before.items():
        task = tasks[task_id]
        now = {name: task_rows.description(cur, task_id) if name == "description" else task.value(name) for name in fields}
        write_fields(cur, log, task, {name: value for name, value in fields.items() if now[name] != value})


def _parts_before(entries: Sequence[Entry], now: datetime) -> dict[tuple[Any, str], dict[str, Any]]:
    """For each part that a change touched the fields as they were; what was added is taken away."""
    before: dict[tuple[Any, str], dict[str, Any]] = defaultdict(dict)
    created = {(entry.subject, entry.subject_id) for entry in entries if entry.field == "created"}
    for entry in reversed(entries):
        key = (entry.subject, entry.subject_id)
        if key in created:
            before[key] = {"deleted_at": now}
        elif entry.field != "done":  # those are words for done_at, which stands beside it
            old = from_json(entry.old)
            before[key][entry.field] = datetime.fromisoformat(old) if old and entry.field.endswith("_at") else old
    return before


def _put_back(cur: Cursor, log: Log, parts: dict[tuple[Any, str], dict[str, Any]]) -> None:
    left: set[str] = set()  # what was merged goes back to the task that it came from
    for (kind, part_id), fields in parts.items():
        part: Any = part_rows.part(cur, part_rows.KINDS[kind], part_id)
        for name, value in fields.items():
            log.record(kind, part_id, name, getattr(part, name), value)
        left.add(part.task_id)
        part_rows.update(cur, type(part), part_id, fields)
        write_part_words(cur, log.project.id, part_rows.part(cur, type(part), part_id))
    hang_on = part_rows.tasks_of(cur, {kind: {one for k, one in parts if k == kind} for kind, _ in parts})
    part_rows.recount(cur, {*hang_on.values(), *left}, log.revision)


def _check_untouched(cur: Cursor, actor: Actor, change: Change, before: Before) -> None:
    for subject, field, _, person in journal_rows.changed_since(cur, list(before), change.revision):
        if field in before[subject] and person != actor.person.id:
            raise RuleError("Somebody else has changed this since, so it cannot be taken back. Change it by hand.", field)


def _check_states(cur: Cursor, project_id: str, before: Before) -> None:
    known = {state.id for state in project_rows.states(cur, project_id)}
    if any(fields.get("state_id", next(iter(known))) not in known for fields in before.values()):
        raise RuleError("The state that the task stood in has been deleted, so this cannot be taken back.")
