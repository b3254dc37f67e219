"""Drafts: try changes beside the plan, compare, share, apply or throw them away."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from dataclasses import dataclass, replace
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.errors import Forbidden, Missing, RuleError
from ...core.resources.effects import Effect
from ...core.schedule.agreed import Difference, agreed_finish, differences, variance
from ...core.schedule.drafts import Draft, Kept, new_tasks, not_kept, note_change, overtaken, refusal, to_apply
from ...core.schedule.plan import Plan
from ...core.schedule.planning import follow
from ...core.schedule.ripple import Ripple, ripple
from ...core.tasks.model import Project
from ...store.common import journal as journal_rows
from ...store.common.database import from_json, to_json
from ...store.schedule import drafts as draft_rows
from ...store.tasks import projects as project_rows
from ..common.context import Actor, AlreadyDone, Log, check_new, check_project, once, open_project, writing
from ..common.journal_codec import from_plain, plain
from ..common.pipeline import as_before, on_people, opens_drafts, reschedule
from ..common.plan_cache import PLANS, CachedPlan, open_draft
from ..common.task_writes import write_made, write_many
from .agreed import frozen
from .reschedule import NeedsConsent, named_in


@dataclass(frozen=True, slots=True)
class DraftComparison:
    """A draft and the plan side by side.

    Attributes:
        ripple: what the draft carries on, as before any change.
        differences: the tasks that stand elsewhere, those with the most effect on the finish first.
        people: who becomes over by the draft, or no longer is.
        overtaken: (task, field) that the plan has changed since the draft did.
        tasks: number and title of every task that is named.
    """

    draft: Draft
    ripple: Ripple
    differences: list[Difference]
    minutes: int
    people: list[Effect]
    overtaken: list[tuple[str, str]]
    tasks: dict[str, tuple[int, str]]


def list_drafts(cur: Cursor, actor: Actor, code: str) -> list[tuple[Draft, int]]:
    """One's own drafts of a project and those shared with all, each with how many tasks it changes."""
    project = open_project(cur, actor, code, "see")
    return draft_rows.drafts_of(cur, project.id, actor.person.id)


def read_draft(cur: Cursor, actor: Actor, code: str, draft_id: str) -> Draft:
    """One draft."""
    return open_draft(cur, actor, open_project(cur, actor, code, "see"), draft_id)


@once
def start_draft(cur: Cursor, actor: Actor, code: str, draft_id: str, name: str, copy_of: str | None) -> None:
    """Start a draft, empty or as a copy of another.

    Raises:
        RuleError: it has no name.
    """
    project = open_project(cur, actor, code, "edit")
    name = _read_name(name)
    kept = open_draft(cur, actor, project, copy_of).kept if copy_of else {}
    with _noting(cur, actor, f"started the draft {name}") as log:
        draft = Draft(draft_id, project.id, name, actor.person.id, False, 0, actor.clock.utc(), {})
        draft_rows.insert(cur, draft)
        log.record("draft", draft_id, "created", None, {"name": name, "project": project.code})
        if kept:
            draft_rows.write_kept(cur, draft_id, _plain(kept))


def _read_name(name: str) -> str:
    name = " ".join(name.split())[:120]
    if not name:
        raise RuleError("A draft needs a name, such as “Second crew in May”.", "name")
    return name


@contextmanager
def _noting(cur: Cursor, actor: Actor, what: str) -> Iterator[Log]:
    """A change to a draft is no change to its project, so it stands in the journal by itself."""
    with writing(cur, replace(actor, draft=None), None, what[:80]) as log:
        yield log


@once
def edit_draft(cur: Cursor, actor: Actor, code: str, draft_id: str, *, name: str | None, shared: bool | None) -> None:
    """Rename a draft, share it with all who see the project, or keep it to oneself again."""
    project = open_project(cur, actor, code, "edit")
    draft = open_draft(cur, actor, project, draft_id, lock=True)
    _check_own(actor, draft)
    wanted: dict[str, Any] = {}
    if name is not None and (name := _read_name(name)) != draft.name:
        wanted["name"] = name
    if shared is not None and shared != draft.shared:
        wanted["shared"] = shared
    if not wanted:
        return
    with _noting(cur, actor, f"changed the draft {draft.name}") as log:
        draft_rows.update(cur, draft_id, wanted)
        for field, value in wanted.items():
            log.record("draft", draft_id, field, getattr(draft, field), value)


def _check_own(actor: Actor, draft: Draft) -> None:
    if draft.person_id != actor.person.id:
        raise Forbidden("This draft is another person's: you may look at it. Make a copy to change it.")


@once
def delete_draft(cur: Cursor, actor: Actor, code: str, draft_id: str) -> None:
    """Throw a draft away. Its maker may, and whoever leads the project."""
    project = open_project(cur, actor, code, "edit")
    draft = open_draft(cur, actor, project, draft_id, lock=True)
    if draft.person_id != actor.person.id:
        open_project(cur, actor, code, "manage")
    with _noting(cur, actor, f"threw away the draft {draft.name}") as log:
        draft_rows.update(cur, draft_id, {"deleted_at": actor.clock.utc()})
        log.record("draft", draft_id, "deleted_at", None, actor.clock.utc())


@opens_drafts
@contextmanager
def drafting(cur: Cursor, actor: Actor, project: Project, draft_id: str, what: str) -> Iterator[tuple[Log, CachedPlan]]:
    """Open a change to tasks that goes into a draft: the plan as the draft has it; what was touched is kept in it.

    Raises:
        Forbidden: the draft is another person's.
        RuleError: the change is none that a draft keeps.
    """
    draft = open_draft(cur, actor, project, draft_id, lock=True)
    check_new(cur, actor, None)  # once it is locked: the same request may be written at this moment
    _check_own(actor, draft)
    now = actor.clock.now()
    base, held = PLANS.at(cur, project, now), PLANS.draft_at(cur, project, draft, now)
    change = journal_rows.Change(actor.change_id, None, 0, actor.person.id, actor.clock.utc(), what, None)
    log = Log(change, project, in_draft=True)
    yield log, held
    if any(not_kept(entry.subject, entry.field) for entry in log.entries):
        raise refusal()
    kept = {
        task_id: note_change(draft.kept, base.plan.tasks.get(task_id), held.plan.tasks.get(task_id), after)
        for task_id, after in log.tasks.items()
    }
    plan = held.plan  # computed once here, for links that close a circle are refused
    follow(plan.schedule, plan.project, plan.calendar, plan.tasks, {**plan.tasks, **log.tasks}, log.tasks)
    _write(cur, change, draft, kept)


def _write(cur: Cursor, change: journal_rows.Change, draft: Draft, kept: Kept) -> None:
    after = _plain(kept)
    before = _plain({task_id: draft.kept.get(task_id, {}) for task_id in kept})
    draft_rows.write_kept(cur, draft.id, after)
    log = Log(change, None)
    for task_id in kept:
        log.record("draft", draft.id, task_id, before[task_id], after[task_id])
    journal_rows.insert_change(cur, change)
    if log.entries:
        journal_rows.insert_entries(cur, change, log.entries)


def _plain(kept: Kept) -> Kept:
    return {
        task_id: {name: (plain(name, was), plain(name, new)) for name, (was, new) in fields.items()}
        for task_id, fields in kept.items()
    }


def undo_in_draft(cur: Cursor, actor: Actor, change: journal_rows.Change, entries: list[journal_rows.Entry]) -> None:
    """Take back what a change did to a draft.

    Raises:
        RuleError: the same tasks were changed in the draft since, or it is no change to what a draft keeps.
    """
    whole = [entry.field for entry in entries] == ["deleted_at"]  # it was thrown away, or brought back
    thrown_away = whole and entries[0].new is not None
    draft = draft_rows.draft(cur, entries[0].subject_id, from_plain, lock=True, deleted=thrown_away)
    project = project_rows.project(cur, draft.project_id) if draft else None
    if draft is None or project is None:
        raise Missing("change")
    check_project(actor, project, project_rows.members(cur, project.id).get(actor.person.id), "edit")
    if change.undone_by is not None and change.undone_by != actor.change_id:
        raise RuleError("That change was taken back already.")
    if thrown_away:
        _restore(cur, actor, draft, change)
        return
    _check_own(actor, draft)
    if whole:
        delete_draft(cur, actor, project.code, draft.id)
        journal_rows.mark_undone(cur, change.id, actor.change_id)
        return
    if any(len(entry.field) != 36 for entry in entries):
        raise RuleError("Only changes to tasks can be taken back here. Change the draft by hand.")
    if any(_as_json(draft.kept.get(entry.field, {})) != (from_json(entry.new) or {}) for entry in entries):
        raise RuleError("The draft was changed again since, so this cannot be taken back. Change it by hand.")
    try:
        check_new(cur, actor, None)
        back = {entry.field: _from_json(from_json(entry.old) or {}) for entry in entries}
        what = f"took back: {change.what.removeprefix('took back: ')}"[:80]
        _write(cur, journal_rows.Change(actor.change_id, None, 0, actor.person.id, actor.clock.utc(), what, None), draft, back)
        journal_rows.mark_undone(cur, change.id, actor.change_id)
    except AlreadyDone:
        return


@once
def _restore(cur: Cursor, actor: Actor, draft: Draft, change: journal_rows.Change) -> None:
    if change.person_id != actor.person.id:
        raise Forbidden("Somebody else threw this draft away: only they can take that back.")
    with _noting(cur, actor, f"took back: {change.what}") as log:
        draft_rows.update(cur, draft.id, {"deleted_at": None})
        log.record("draft", draft.id, "deleted_at", "then", None)
    journal_rows.mark_undone(cur, change.id, actor.change_id)


def _as_json(fields: dict[str, tuple[Any, Any]]) -> Any:
    return from_json(to_json({name: (plain(name, was), plain(name, new)) for name, (was, new) in fields.items()}))


def _from_json(fields: dict[str, list[Any]]) -> dict[str, tuple[Any, Any]]:
    return {name: (from_plain(name, was), from_plain(name, new)) for name, (was, new) in fields.items()}


def compare(cur: Cursor, actor: Actor, code: str, draft_id: str) -> DraftComparison:
    """A draft and the plan side by side."""
    project = open_project(cur, actor, code, "see")
    draft = open_draft(cur, actor, project, draft_id)
    now = actor.clock.now()
    base, held = PLANS.at(cur, project, now), PLANS.draft_at(cur, project, draft, now)
    plan, tried = base.plan, held.plan
    before, after = frozen(plan), frozen(tried)
    slack, slack_before = ({one: row.slack for one, row in each.rows.items()} for each in (tried, plan))
    found = differences(before, after, plan.calendar, slack, slack_before)
    carried = ripple(plan.schedule, tried.schedule)
    old = overtaken(plan, draft.kept)
    named = {one.task_id for one in found} | {task_id for task_id, _ in old} | named_in(carried)
    return DraftComparison(
        draft=draft,
        ripple=carried,
        differences=found,
        minutes=variance(agreed_finish(after), agreed_finish(before), plan.calendar) or 0,
        overtaken=old,
        people=_on_people(cur, actor, plan, tried),
        tasks={one: (task.number, task.title) for one in named if (task := tried.tasks.get(one) or plan.tasks.get(one))},
    )


def _on_people(cur: Cursor, actor: Actor, plan: Plan, tried: Plan) -> list[Effect]:
    """Who becomes over by a draft, or no longer is."""
    dates = {one: {"start": row.start, "finish": row.finish} for one, row in tried.rows.items()}
    after = {one: task for one, task in tried.tasks.items() if task != plan.tasks.get(one)}
    moves = {
        one: at
        for one, at in dates.items()
        if (was := plan.rows.get(one)) is None or (was.start, was.finish) != (at["start"], at["finish"])
    }
    return on_people(cur, actor, plan, after, moves)


@once
def apply_draft(cur: Cursor, actor: Actor, code: str, draft_id: str) -> None:
    """Put what a draft keeps into the plan; the draft is done then, unless that is taken back.

    Raises:
        NeedsConsent: the person asked to be shown first what it carries on.
        RuleError: it changes nothing, or its links would close a circle with those of the plan.
    """
    project = open_project(cur, actor, code, "edit")
    draft = open_draft(cur, actor, project, draft_id, lock=True)
    with writing(cur, actor, project.id, f"applied the draft {draft.name}"[:80]) as log:
        before = as_before(log)
        held = PLANS.at(cur, before, actor.clock.now())
        _put_in(cur, actor, log, held.plan, draft)
        try:
            reschedule(cur, actor, log, held.plan, whole=True)
        except NeedsConsent as asked:
            raise NeedsConsent(replace(asked.answer, can_try=False)) from None  # it comes from a draft
        draft_rows.update(cur, draft_id, {"applied": actor.change_id})


def _put_in(cur: Cursor, actor: Actor, log: Log, plan: Plan, draft: Draft) -> None:
    fields_of: Mapping[str, dict[str, Any]] = to_apply(plan, draft.kept)
    made = [replace(task, revision=log.revision) for task in new_tasks(plan, draft.kept) if task.id not in plan.tasks]
    if not fields_of and not made:
        raise RuleError("This draft changes nothing: the plan is as it says already.")
    write_made(cur, actor, log, made, {})
    write_many(cur, log, fields_of, plan.tasks)
