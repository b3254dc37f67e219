"""Booking: who can be booked in a project, what people type, and that whoever is booked is there."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.errors import RuleError
from ...core.people.access import may_in_organisation, may_in_project
from ...core.resources.typed_bookings import Named, Understood, read_bookings
from ...core.schedule.plan import Plan
from ...core.tasks.booked import handed_over
from ...core.tasks.model import OPEN_CLASSES, Booking, Task
from ...store.people import people as people_rows
from ...store.resources import bookable as rows
from ..common.context import Actor, Log, once, open_project
from ..common.pipeline import After, changing, says_who_can_be_booked, step
from ..common.plan_cache import see_plan
from ..common.task_writes import write_many
from ..tasks.tasks import Seen, changed_fields, edited_fields, living


@step("book")
def check_booked(cur: Cursor, actor: Actor, log: Log, plan: Plan, _: After) -> None:
    """Look up who is booked newly by a change.

    Raises:
        RuleError: somebody is not in the organisation, or a crew or role is not the project's.
    """
    fresh = [one for task_id, task in log.tasks.items() for one in _newly(task.bookings, plan.tasks.get(task_id))]
    _check_people(cur, {one.who for one in fresh if not one.resource})
    _check_resources(cur, [one for one in fresh if one.resource], plan.project.id)
    _check_sums(actor, log, plan)


def _check_sums(actor: Actor, log: Log, plan: Plan) -> None:
    """Raises RuleError where a fixed sum would be written over by who may not see it."""
    if may_in_project(actor.role_in(plan.project, plan.project.members.get(actor.person.id)), "see_costs"):
        return
    for task_id, task in log.tasks.items():
        before = (
            {one.who: one.amount for one in plan.tasks[task_id].bookings if one.of == "fixed"} if task_id in plan.tasks else {}
        )
        if any(one.of == "fixed" and before.get(one.who, one.amount) != one.amount for one in task.bookings):
            raise RuleError("That sum is booked already, and you may not see it. Ask a lead to change it.", "bookings")


def _newly(bookings: Iterable[Booking], before: Task | None) -> list[Booking]:
    known = {(one.who, one.of) for one in before.bookings} if before else set()
    return [one for one in bookings if (one.who, one.of) not in known]


def _check_people(cur: Cursor, ids: set[str]) -> None:
    if ids and not ids <= {one.id for one in people_rows.all_people(cur) if one.active}:
        raise RuleError("Somebody who is booked is not in the organisation any more. Choose another.", "bookings")


def _check_resources(cur: Cursor, fresh: Sequence[Booking], project_id: str) -> None:
    found = rows.resources_by_id(cur, {one.who for one in fresh})
    for one in fresh:
        resource, there = found.get(one.who, (None, False))
        if resource is None or not there or resource.project_id not in {None, project_id}:
            raise RuleError("What is booked is not there any more. Choose another crew, role or material.", "bookings")
        if resource.kind != one.of:
            how = {"labour": "by the hour", "material": f"by {resource.unit}", "fixed": "by its sum"}[resource.kind]
            raise RuleError(f"{resource.name} is booked {how}.", "bookings")


@says_who_can_be_booked
def bookable(cur: Cursor, actor: Actor, code: str) -> list[Named]:
    """Who can be booked in a project: the people of the organisation, its crews and roles, and the project's own.

    A guest is given those of the project alone: its members and whoever is booked in it.
    """
    project = open_project(cur, actor, code, "see")
    people = [one for one in people_rows.all_people(cur) if one.active]
    if not may_in_organisation(actor.person.role, "see_people"):
        plan = see_plan(cur, actor, project).plan
        mine = plan.project.members.keys() | {one.who for task in plan.tasks.values() for one in task.bookings}
        people = [one for one in people if one.id in mine]
    resources = [one for one in rows.resources(cur) if one.project_id in {None, project.id}]
    return [Named(one.id, one.name) for one in people] + [
        Named(one.id, one.name, True, one.kind, one.unit, one.people) for one in resources
    ]


def read_typed(cur: Cursor, actor: Actor, code: str, task_id: str, text: str) -> list[Understood]:
    """What bookings that were typed for a task mean. Raises RuleError where they cannot be understood."""
    known = bookable(cur, actor, code)
    plan = see_plan(cur, actor, open_project(cur, actor, code, "edit")).plan
    task = living(plan, task_id)
    return read_bookings(text, known, plan.calendar.day_minutes, task.effort or 0)


@once
def hand_over(cur: Cursor, actor: Actor, code: str, who: str, to: str, ids: Sequence[str] | None) -> None:
    """Make the hours of one another's, such as those of a role of the person who fills it.

    Args:
        who: a person, crew or role; empty for hours of estimates that nobody has.
        to: a person, crew or role.
        ids: the tasks; None: all of the project that are not finished.

    Raises:
        RuleError: ``to`` cannot be booked, or no task has hours of ``who``.
    """
    named = {one.id: one for one in bookable(cur, actor, code)}
    if (target := named.get(to)) is None or target.of != "labour":
        raise RuleError("Hours go to a person, a crew or a role that can be booked in this project.", "to")
    with changing(cur, actor, code, f"gave hours to {target.name}"[:80]) as (log, held):
        plan, seen = held.plan, Seen()
        chosen = [living(plan, one) for one in ids] if ids is not None else _open_with(plan, who)
        many = {
            task.id: edited_fields(
                cur, actor, plan, task.id, {"bookings": handed_over(task, who, to, resource=target.resource)}, seen
            )
            for task in chosen
            if to != who and (not who or any(one.who == who for one in task.bookings))
        }
        if not many:
            raise RuleError("No task has hours that could go over.", "who")
        write_many(cur, log, many, plan.tasks)


def _open_with(plan: Plan, who: str) -> list[Task]:
    return [
        row.task
        for row in plan.leaves()
        if row.state_class in OPEN_CLASSES and who and any(one.who == who and one.of == "labour" for one in row.task.bookings)
    ]


@dataclass(frozen=True, slots=True)
class Stretched:
    """What a change of length does to each booking of a task, whichever way is chosen.

    Attributes:
        was, becomes: the length before and after, in minutes.
        day_minutes: of a day of it.
        cut: the bookings where the load a day is kept; where the hours are, they stay as they are.
    """

    task: Task
    was: int
    becomes: int
    day_minutes: int
    cut: tuple[Booking, ...]
    effort: int | None
    names: dict[str, str]


def preview_length(cur: Cursor, actor: Actor, code: str, task_id: str, fields: dict[str, Any]) -> Stretched | None:
    """What a change would do to the hours booked on a task; None where nobody needs to be asked: it has no bookings, says
    already what stays, or keeps its length."""
    plan = see_plan(cur, actor, open_project(cur, actor, code, "edit")).plan
    task = living(plan, task_id)
    hours = any(one.of == "labour" for one in task.bookings)
    if not plan.project.books or not hours or task.keeps or not task.duration:
        return None
    after = task.with_fields(changed_fields(cur, actor, plan, task, {**fields, "on_length": "units"}))
    if not after.duration or after.duration == task.duration:
        return None
    named = {one.id: one.name for one in bookable(cur, actor, code)}
    day = plan.rows[task_id].day_minutes
    return Stretched(task, task.duration, after.duration, day, after.bookings, after.effort, named)
