"""What the lenses show besides the rows themselves: the scope, the horizon, the brief, one task, what happened."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from pymysql.cursors import Cursor

from ..core.agreed import agreed_finish, variance, whole_days
from ..core.dates import say_day
from ..core.durations import say_duration
from ..core.health import project_health
from ..core.horizon import Horizon, horizon
from ..core.links import write_links
from ..core.model import CONSTRAINT_WORDS, OPEN_CLASSES, Health, Link, Project
from ..core.plan import Plan, Row
from ..core.progress import PercentChange, Point, done_against_plan
from ..core.readings import forecast_finish, project_reading, task_reading
from ..core.rollup import Sums
from ..core.scope import Scope, Selection, holds, select
from ..core.tasks import due_within
from ..store import journal as journal_rows
from ..store import people as people_rows
from ..store import projects as project_rows
from ..store import tasks as task_rows
from ..store.database import from_json
from .context import Actor, Missing, check_project, open_project
from .plans import see_plan


@dataclass(frozen=True, slots=True)
class Facts:
    """The facts of the title line."""

    sums: Sums
    health: Health
    next_milestone: Row | None
    forecast: datetime | None
    forecast_days: int
    agreed: datetime | None
    agreed_days: int


@dataclass(frozen=True, slots=True)
class StateCount:
    """A state, how many tasks of the scope stand in it, and since when the one that stands longest does."""

    state_id: str
    tasks: int
    oldest_since: datetime | None


@dataclass(frozen=True, slots=True)
class ScopeAnswer:
    """What a scope sentence leaves, with the facts of the project."""

    selection: Selection
    facts: Facts
    states: list[StateCount]
    revision: int


def _facts(plan: Plan) -> Facts:
    sums = plan.sums()
    ahead = [r for r in plan.leaves() if r.task.kind == "milestone" and r.state_class in OPEN_CLASSES and r.finish]
    ahead.sort(key=lambda row: (row.finish, row.task.number))
    forecast, days = forecast_finish(plan)
    agreed = agreed_finish(plan.agreed)
    past = whole_days(variance(sums.finish, agreed, plan.calendar), plan.calendar)
    return Facts(sums, project_health(sums, plan.now), ahead[0] if ahead else None, forecast, days, agreed, past)


def read_scope(cur: Cursor, actor: Actor, code: str, scope: Scope) -> ScopeAnswer:
    """Which tasks of a project are within a scope."""
    project = open_project(cur, actor, code, "see")
    with see_plan(cur, actor, project) as held:
        plan = held.plan
        selection = select(plan, scope, actor.person.id)
        return ScopeAnswer(selection, _facts(plan), _state_counts(plan, selection), held.mark.revision)


def _state_counts(plan: Plan, selection: Selection) -> list[StateCount]:
    found: dict[str, list[datetime | None]] = defaultdict(list)
    for task_id in selection.ids:
        row = plan.rows[task_id]
        if not row.is_summary:
            found[row.state_id].append(row.task.state_since)
    return [
        StateCount(state.id, len(found[state.id]), min((at for at in found[state.id] if at), default=None))
        for state in plan.project.states
    ]


def read_horizon(cur: Cursor, actor: Actor, code: str, scope: Scope) -> Horizon:
    """The horizon of the work within a scope. The scope's own dates do not narrow it: it is where they are set."""
    project = open_project(cur, actor, code, "see")
    with see_plan(cur, actor, project) as held:
        words = tuple(scope.text.lower().split())
        rows = [row for row in held.plan.rows.values() if holds(scope, row, actor.person.id, words)]
        return horizon(rows, held.plan.now)


@dataclass(frozen=True, slots=True)
class Brief:
    """How a project stands."""

    reading: str
    facts: Facts
    late: list[Row]
    due: list[Row]
    unowned: list[Row]
    held: list[Row]
    states: list[StateCount]
    curve: list[Point]
    last_change: journal_rows.Change | None


BRIEF_LIST = 50


def read_brief(cur: Cursor, actor: Actor, code: str) -> Brief:
    """The brief of a project: its reading, what needs a decision, what is coming, and done against plan."""
    project = open_project(cur, actor, code, "see")
    people = {person.id: person.short for person in people_rows.all_people(cur)}
    with see_plan(cur, actor, project) as held:
        plan = held.plan
        changes = _percent_changes(cur, actor, project)
        leaves = [row for row in plan.leaves() if row.state_class in OPEN_CLASSES]
        by_finish = sorted(leaves, key=lambda row: (row.finish or datetime.max, row.task.number))
        latest = journal_rows.activity(cur, project.id, None, 1)
        return Brief(
            reading=project_reading(plan, people),
            facts=_facts(plan),
            late=[row for row in by_finish if row.late_days][:BRIEF_LIST],
            due=[row for row in by_finish if due_within(row.finish, plan.now, 7)][:BRIEF_LIST],
            unowned=[row for row in by_finish if row.task.owner_id is None][:BRIEF_LIST],
            held=[row for row in by_finish if row.task.held_reason][:BRIEF_LIST],
            states=_state_counts(plan, select(plan, Scope(), actor.person.id)),
            curve=done_against_plan(plan, changes),
            last_change=_change(project.id, latest[0]) if latest else None,
        )


def _change(project_id: str, row: tuple[Any, ...]) -> journal_rows.Change:
    change_id, revision, person_id, at, what, undone_by = row
    return journal_rows.Change(change_id, project_id, revision, person_id, at, what, undone_by)


def _percent_changes(cur: Cursor, actor: Actor, project: Project) -> list[PercentChange]:
    return [
        PercentChange(subject, actor.clock.local(at), int(from_json(new) or 0))
        for subject, at, new in journal_rows.field_history(cur, project.id, "percent")
    ]


@dataclass(frozen=True, slots=True)
class Happening:
    """One change, in words, with the fields that it touched."""

    change: journal_rows.Change
    lines: list[str]
    subjects: list[str]


@dataclass(frozen=True, slots=True)
class TaskDetail:
    """One task in full."""

    project: Project
    row: Row
    number: str
    above: list[tuple[str, str]]
    description: str
    reading: str
    history: list[Happening]
    created_by: str | None


def open_task(cur: Cursor, actor: Actor, task_id: str) -> Project:
    """The project of a task, once the person may see it. Raises Missing where there is no such task for them."""
    project_id = task_rows.project_of(cur, task_id)
    project = project_rows.project(cur, project_id) if project_id else None
    if project is None:
        raise Missing("task")
    check_project(actor, project, project_rows.members(cur, project.id).get(actor.person.id), "see")
    return project


def read_task(cur: Cursor, actor: Actor, task_id: str) -> TaskDetail:
    """One task with its description, reading and history."""
    project = open_task(cur, actor, task_id)
    people = {person.id: person for person in people_rows.all_people(cur)}
    with see_plan(cur, actor, project) as held:
        plan = held.plan
        row = plan.rows.get(task_id)
        if row is None:
            raise Missing("task")
        history = _history(cur, plan, task_id, {k: p.name for k, p in people.items()})
        return TaskDetail(
            project=plan.project,
            row=row,
            number=plan.outline.number_of(task_id),
            above=[(one, plan.tasks[one].title) for one in reversed(plan.outline.ancestors(task_id))],
            description=task_rows.description(cur, task_id),
            reading=task_reading(plan, row, {k: p.short for k, p in people.items()}),
            history=history,
            created_by=history[-1].change.person_id if history else None,
        )


def _history(cur: Cursor, plan: Plan, task_id: str, names: dict[str, str]) -> list[Happening]:
    by_change: dict[str, list[tuple[Any, ...]]] = {}
    for row in journal_rows.history_of(cur, task_id, 400):
        by_change.setdefault(row[0], []).append(row)
    say = Sayer(plan, names)
    found = []
    for change_id, rows in by_change.items():
        _, person_id, at, *_ = rows[0]
        change = journal_rows.Change(change_id, plan.project.id, 0, person_id, at, "", None)
        lines = [line for _, _, _, name, old, new in reversed(rows) if (line := say.line(name, old, new))]
        if lines:
            found.append(Happening(change, lines, [task_id]))
    return found


def read_activity(cur: Cursor, actor: Actor, code: str, before: int | None, limit: int = 60) -> list[Happening]:
    """What happened in a project, the latest first."""
    project = open_project(cur, actor, code, "see")
    names = {person.id: person.name for person in people_rows.all_people(cur)}
    rows = journal_rows.activity(cur, project.id, before, limit)
    entries: dict[str, list[tuple[Any, ...]]] = defaultdict(list)
    for change_id, *rest in journal_rows.entries_of_changes(cur, [row[0] for row in rows]):
        entries[change_id].append(tuple(rest))
    with see_plan(cur, actor, project) as held:
        say = Sayer(held.plan, names)
        return [_happening(project, row, entries[row[0]], say) for row in rows]


MOST_LINES = 6


def _happening(project: Project, row: tuple[Any, ...], entries: list[tuple[Any, ...]], say: Sayer) -> Happening:
    lines: list[str] = []
    subjects: list[str] = []
    for subject, subject_id, name, old, new in entries:
        line = say.line(name, old, new)
        if line:
            lines.append(say.about(subject, subject_id, line, new))
        if subject == "task" and subject_id not in subjects:
            subjects.append(subject_id)
    more = len(lines) - MOST_LINES
    return Happening(
        _change(project.id, row), lines[:MOST_LINES] + ([f"and {more} more"] if more > 0 else []), subjects[:MOST_LINES]
    )


_FIELD_WORDS = {
    "owner_id": "owner", "state_id": "state", "calendar_id": "calendar", "lead_id": "lead", "start_day": "start day", "held_reason": "held",
    "waits_for": "waits for", "constraint_type": "constraint", "percent": "percent done", "parent_id": "place in the outline", "state_class": "class", "archived_at": "archived",
}  # fmt: skip
_UNSAID = {"place", "board_place", "state_since", "held_since", "actual_start", "actual_finish", "pushes", "constraint_at"}


class Sayer:
    """Puts journal entries into words.

    Args:
        plan: for the names of states and tasks.
        names: of people, by id.
    """

    def __init__(self, plan: Plan, names: dict[str, str]) -> None:
        self._plan = plan
        self._names = names
        self._states = {state.id: state.name for state in plan.project.states}

    def line(self, name: str, old: str | None, new: str | None) -> str | None:
        """One entry in words, or None for what nobody needs to read."""
        before, after = from_json(old), from_json(new)
        if name in _UNSAID:
            return None
        if name == "constraint_type" and {before, after} <= {None, "asap", "start_no_earlier", "finish_no_earlier"}:
            return None  # the date itself is said
        if name == "created":
            return "written down" if isinstance(after, dict) and "title" in after else "created"
        if name == "deleted_at":
            return "deleted" if after else "restored"
        if name == "description":
            return "description rewritten" if after else "description removed"
        if name == "elapsed":
            return "runs through nights and holidays" if after else "counts working time"
        if name in {"week", "exceptions"}:
            return f"{'working week' if name == 'week' else 'days that differ'} changed"
        word = _FIELD_WORDS.get(name, name)
        return f"{word} {self._value(name, before)} → {self._value(name, after)}"

    def about(self, subject: str, subject_id: str, line: str, new: str | None) -> str:
        """Put the name of the subject in front of a line."""
        if subject == "task":
            task = self._plan.tasks.get(subject_id)
            value = from_json(new)
            title = task.title if task else value.get("title") if isinstance(value, dict) else None
            return f"{title or 'A deleted task'}: {line}"
        if subject == "member":
            return f"{self._names.get(subject_id, 'A person')}: {line}"
        if subject == "state":
            return f"{self._states.get(subject_id, 'A state')}: {line}"
        return line

    def _value(self, name: str, value: Any) -> str:
        if value is None or value == "" or value == []:
            return "none"
        if name in {"owner_id", "lead_id"}:
            return self._names.get(value, "somebody")
        if name == "waits_for":
            return write_links([Link(*one) for one in value], self._plan.tasks, self._plan.calendar.day_minutes) or "none"
        if name == "constraint_type":
            return CONSTRAINT_WORDS.get(value, str(value))
        if name == "helpers":
            return ", ".join(self._names.get(one, "somebody") for one in value)
        if name == "state_id":
            return self._states.get(value, "a deleted state")
        if name == "parent_id":
            task = self._plan.tasks.get(value)
            return f"under {task.title}" if task else "elsewhere"
        if name in {"start", "finish", "deadline", "archived_at", "start_day"}:
            return say_day(datetime.fromisoformat(value).date(), self._plan.now.date())
        if name == "calendar_id":
            calendar = self._plan.project.calendars.get(value)
            return calendar.name if calendar else "a deleted calendar"
        if name in {"duration", "effort"}:
            return say_duration(value, self._plan.calendar.day_minutes)
        return f"{value} %" if name == "percent" else "won’t" if value == "wont" else str(value)
