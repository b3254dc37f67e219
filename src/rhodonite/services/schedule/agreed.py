"""Agreed plans: freeze what was promised, choose which is current, compare any two."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime, time
from decimal import Decimal
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.calendars import WorkingCalendar
from ...core.common.errors import Missing, RuleError
from ...core.schedule.agreed import AgreedPlan, AgreedTask, Difference, agreed_finish, differences, variance
from ...core.schedule.plan import Plan
from ...core.tasks.model import Project, Task
from ...store.common import journal as journal_rows
from ...store.common.database import from_json
from ...store.schedule import agreed as agreed_rows
from ..common.context import Actor, AlreadyDone, new_id, once, open_project, writing
from ..common.journal_codec import from_plain
from ..common.pipeline import as_before, planned_cost
from ..common.plan_cache import PLANS, see_plan

NOW = "now"
"""The plan as it stands, where two plans are compared."""


@dataclass(frozen=True, slots=True)
class Comparison:
    """Two plans side by side: when each finishes, and every task that differs, with its title and number."""

    finish_before: datetime | None
    finish_after: datetime | None
    by: int
    differences: list[Difference]
    titles: dict[str, tuple[int, str]]


def list_agreed(cur: Cursor, actor: Actor, code: str) -> list[AgreedPlan]:
    """The agreed plans of a project, the latest first."""
    return agreed_rows.agreed_plans(cur, open_project(cur, actor, code, "see").id)


def agree(cur: Cursor, actor: Actor, code: str, name: str, day: date, note: str) -> str:
    """Freeze the plan as it stands, and make it the current agreed plan. Returns its id.

    Raises:
        RuleError: no name, or nothing is dated.
    """
    project = open_project(cur, actor, code, "manage")
    name = " ".join(name.split())
    if not name:
        raise RuleError("An agreed plan needs a name, such as “Signed by the council”.", "name")
    plan_id = new_id()
    try:
        with writing(cur, actor, project.id, f"agreed the plan: {name}"[:80], meta=True) as log:
            before = as_before(log)
            held = PLANS.at(cur, before, actor.clock.now())
            tasks = _with_cost(frozen(held.plan), held.plan.project, planned_cost(cur, held))
            if not any(task.finish for task in tasks.values()):
                raise RuleError("Nothing in the plan is dated yet, so there is nothing to agree. Give the tasks dates first.")
            current = next((one for one in agreed_rows.agreed_plans(cur, project.id) if one.is_current), None)
            if current is not None:
                log.record("agreed", current.id, "current", True, False)
            agreed_rows.choose_current(cur, project.id, None)
            made = AgreedPlan(plan_id, project.id, name, day, note.strip(), True, actor.person.id, actor.clock.utc())
            agreed_rows.insert_plan(cur, made, tasks.items())
            log.record("agreed", plan_id, "created", None, {"name": name, "tasks": len(tasks)})
    except AlreadyDone:
        pass
    return plan_id


def frozen(plan: Plan) -> dict[str, AgreedTask]:
    """The plan as it would be agreed."""
    return {
        row.task.id: AgreedTask(row.start, row.finish, row.duration, row.effort, row.is_summary)
        for row in plan.rows.values()
        if row.state_class != "dropped"
    }


def _with_cost(tasks: Mapping[str, AgreedTask], project: Project, costs: Mapping[str, Decimal]) -> dict[str, AgreedTask]:
    """The same with what each task is planned to cost, where the project reckons that."""
    if not project.costs:
        return dict(tasks)
    nothing = Decimal(0)
    return {
        one: task if task.is_summary and one not in costs else replace(task, cost=costs.get(one, nothing))
        for one, task in tasks.items()
    }


@once
def edit_agreed(cur: Cursor, actor: Actor, code: str, plan_id: str, *, current: bool | None, name: str | None) -> None:
    """Make an agreed plan the current one (or none), or rename it. Its dates are frozen."""
    project = open_project(cur, actor, code, "manage")
    plan = _plan(cur, project.id, plan_id)
    with writing(cur, actor, project.id, "changed the agreed plan", meta=True) as log:
        if current is not None and current != plan.is_current:
            agreed_rows.choose_current(cur, project.id, plan_id if current else None)
            log.record("agreed", plan_id, "current", plan.is_current, current)
        if name is not None and name.strip() and name.strip() != plan.name:
            agreed_rows.update_plan(cur, plan_id, name.strip()[:120], plan.day, plan.note)
            log.record("agreed", plan_id, "name", plan.name, name.strip())


@once
def delete_agreed(cur: Cursor, actor: Actor, code: str, plan_id: str) -> None:
    """Delete an agreed plan."""
    project = open_project(cur, actor, code, "manage")
    plan = _plan(cur, project.id, plan_id)
    with writing(cur, actor, project.id, f"deleted the agreed plan {plan.name}"[:80], meta=True) as log:
        agreed_rows.set_deleted(cur, plan_id, actor.clock.utc())
        log.record("agreed", plan_id, "deleted", {"name": plan.name}, None)


def _plan(cur: Cursor, project_id: str, plan_id: str) -> AgreedPlan:
    for plan in agreed_rows.agreed_plans(cur, project_id):
        if plan.id == plan_id:
            return plan
    raise Missing("agreed plan")


def compare(cur: Cursor, actor: Actor, code: str, first: str, second: str) -> Comparison:
    """Two plans side by side: the id of an agreed plan, a day such as ``2027-03-10`` for the plan as it stood when that
    day began, or ``"now"``."""
    project = open_project(cur, actor, code, "see")
    # what is compared is made apart, so that nobody waits for it
    held = see_plan(cur, actor, project)
    plan = held.plan
    stands = _Stands(plan.project, plan.calendar, plan.now, dict(plan.tasks), _side(plan))
    before, after = (_plan_of(cur, actor, one, stands) for one in (first, second))
    was, now = agreed_finish(before.tasks), agreed_finish(after.tasks)
    found = differences(before.tasks, after.tasks, stands.calendar, after.slack, before.slack)
    titles = {one.task_id: _named(stands.tasks, one.task_id) for one in found}
    return Comparison(was, now, variance(now, was, stands.calendar) or 0, found, titles)


@dataclass(frozen=True, slots=True)
class _Side:
    """One of two plans: its tasks and, where its links are known, their slack."""

    tasks: Mapping[str, AgreedTask]
    slack: Mapping[str, int | None]


@dataclass(frozen=True, slots=True)
class _Stands:
    """The plan as it stands."""

    project: Project
    calendar: WorkingCalendar
    now: datetime
    tasks: dict[str, Task]
    side: _Side


def _side(plan: Plan) -> _Side:
    return _Side(frozen(plan), {task_id: row.slack for task_id, row in plan.rows.items()})


def _plan_of(cur: Cursor, actor: Actor, which: str, stands: _Stands) -> _Side:
    if which == NOW:
        return stands.side
    try:
        day = date.fromisoformat(which)
    except ValueError:
        return _Side(agreed_rows.agreed_tasks(cur, _plan(cur, stands.project.id, which).id), {})
    return _as_on(cur, actor, day, stands)


def _as_on(cur: Cursor, actor: Actor, day: date, stands: _Stands) -> _Side:
    """The plan as it stood when a day began: each field is what the journal says it was before it was first changed since;
    what follows from the fields, as the dates of summary tasks and slack, is computed for that day."""
    since = datetime.combine(day, time()).replace(tzinfo=actor.clock.zone).astimezone(UTC).replace(tzinfo=None)
    was: dict[str, dict[str, Any]] = {}
    for subject, field, old in journal_rows.first_values_since(cur, stands.project.id, since, ("created", *_PLANNED_FIELDS)):
        was.setdefault(subject, {})[field] = from_json(old)
    states = {state.id for state in stands.project.states}
    tasks = {one: task for one, task in stands.tasks.items() if "created" not in was.get(one, {})}
    for task_id in tasks.keys() & was.keys():
        fields = {name: from_plain(name, old) for name, old in was[task_id].items()}
        if fields.get("state_id") not in states:  # it was taken out of the workflow since
            fields.pop("state_id", None)
        tasks[task_id] = tasks[task_id].with_fields(fields)
    return _side(Plan(stands.project, stands.calendar, tasks.values(), stands.now))


_PLANNED_FIELDS = (
    "deleted_at", "parent_id", "kind", "state_id", "start", "finish", "duration", "elapsed", "calendar_id", "effort", "percent",
    "constraint_type", "constraint_at", "deadline", "waits_for", "actual_start", "actual_finish",
)  # fmt: skip


def _named(tasks: Mapping[str, Task], task_id: str) -> tuple[int, str]:
    task = tasks.get(task_id)
    return (task.number, task.title) if task else (0, "A deleted task")
