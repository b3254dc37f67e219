"""Agreed plans: freeze what was promised, choose which is current, compare any two."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime, time
from typing import Any

from pymysql.cursors import Cursor

from ..core.agreed import AgreedPlan, AgreedTask, Difference, agreed_finish, differences, variance
from ..core.errors import RuleError
from ..core.plan import Plan
from ..store import agreed as agreed_rows
from ..store import journal as journal_rows
from ..store.database import from_json
from .context import Actor, AlreadyDone, Missing, new_id, open_project, writing
from .plans import PLANS, see_plan

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
            before = replace(log.project, revision=log.revision - 1)
            with PLANS.hold(cur, before, actor.clock.now()) as held:
                tasks = frozen(held.plan)
            if not any(task.finish for task in tasks.values()):
                raise RuleError("Nothing in the plan is dated yet, so there is nothing to agree. Give the tasks dates first.")
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


def edit_agreed(cur: Cursor, actor: Actor, code: str, plan_id: str, *, current: bool | None, name: str | None) -> None:
    """Make an agreed plan the current one (or none), or rename it. Its dates are frozen."""
    project = open_project(cur, actor, code, "manage")
    plan = _plan(cur, project.id, plan_id)
    try:
        with writing(cur, actor, project.id, "changed the agreed plan", meta=True) as log:
            if current is not None and current != plan.is_current:
                agreed_rows.choose_current(cur, project.id, plan_id if current else None)
                log.record("agreed", plan_id, "current", plan.is_current, current)
            if name is not None and name.strip() and name.strip() != plan.name:
                agreed_rows.update_plan(cur, plan_id, name.strip()[:120], plan.day, plan.note)
                log.record("agreed", plan_id, "name", plan.name, name.strip())
    except AlreadyDone:
        return


def delete_agreed(cur: Cursor, actor: Actor, code: str, plan_id: str) -> None:
    """Delete an agreed plan."""
    project = open_project(cur, actor, code, "manage")
    plan = _plan(cur, project.id, plan_id)
    try:
        with writing(cur, actor, project.id, f"deleted the agreed plan {plan.name}"[:80], meta=True) as log:
            agreed_rows.delete_plan(cur, plan_id)
            log.record("agreed", plan_id, "deleted", {"name": plan.name}, None)
    except AlreadyDone:
        return


def _plan(cur: Cursor, project_id: str, plan_id: str) -> AgreedPlan:
    for plan in agreed_rows.agreed_plans(cur, project_id):
        if plan.id == plan_id:
            return plan
    raise Missing("agreed plan")


def compare(cur: Cursor, actor: Actor, code: str, first: str, second: str) -> Comparison:
    """Two plans side by side: the id of an agreed plan, a day such as ``2027-03-10`` for the plan as it stood when that
    day began, or ``"now"``."""
    project = open_project(cur, actor, code, "see")
    with see_plan(cur, actor, project) as held:
        plan = held.plan
        before, after = (_tasks(cur, actor, project.id, one, plan) for one in (first, second))
        was, now = agreed_finish(before), agreed_finish(after)
        slack = {row.task.id: row.slack for row in plan.rows.values()}
        found = differences(before, after, plan.calendar, slack)
        titles = {one.task_id: _named(plan, one.task_id) for one in found}
        return Comparison(was, now, variance(now, was, plan.calendar) or 0, found, titles)


def _tasks(cur: Cursor, actor: Actor, project_id: str, which: str, plan: Plan) -> Mapping[str, AgreedTask]:
    if which == NOW:
        return frozen(plan)
    try:
        day = date.fromisoformat(which)
    except ValueError:
        return agreed_rows.agreed_tasks(cur, _plan(cur, project_id, which).id)
    return _as_on(cur, actor, project_id, day, plan)


def _as_on(cur: Cursor, actor: Actor, project_id: str, day: date, plan: Plan) -> Mapping[str, AgreedTask]:
    """The plan as it stood when a day began: what the journal says each field was before it was first changed since."""
    since = datetime.combine(day, time()).replace(tzinfo=actor.clock.zone).astimezone(UTC).replace(tzinfo=None)
    was: dict[str, dict[str, Any]] = {}
    for subject, field, old in journal_rows.first_values_since(cur, project_id, since, _FROZEN_FIELDS):
        was.setdefault(subject, {})[field] = from_json(old)
    tasks = dict(frozen(plan))
    for task_id, fields in was.items():
        if "created" in fields:
            tasks.pop(task_id, None)
            continue
        stands = plan.tasks.get(task_id)
        now = tasks.get(task_id)
        if stands is None or (now is None and fields.get("deleted_at", stands.deleted_at) is not None):
            continue
        if now is None or not now.is_summary:
            values = {name: fields.get(name, getattr(stands, name)) for name in ("start", "finish", "duration", "effort")}
            tasks[task_id] = AgreedTask(_moment(values["start"]), _moment(values["finish"]), values["duration"], values["effort"])
    return tasks


_FROZEN_FIELDS = ("created", "deleted_at", "start", "finish", "duration", "effort")


def _moment(value: Any) -> datetime | None:
    return datetime.fromisoformat(value) if isinstance(value, str) else value


def _named(plan: Plan, task_id: str) -> tuple[int, str]:
    task = plan.tasks.get(task_id)
    return (task.number, task.title) if task else (0, "A deleted task")
