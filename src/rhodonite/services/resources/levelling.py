"""Levelling a project: a proposal as a draft, which shows all that it moves and can be applied or thrown away."""

from __future__ import annotations

import time as clock
from collections.abc import Callable, Mapping, Sequence
from dataclasses import asdict, dataclass, replace
from datetime import date, datetime, time, timedelta
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.errors import RuleError
from ...core.resources.load import columns
from ...core.resources.proposal import Proposal, propose
from ...core.tasks.model import Project
from ..common.context import Actor, new_id, open_project
from ..common.jobs import work
from ..common.plan_cache import PLANS
from ..common.progress import Progress, silent
from ..schedule.drafts import start_draft
from ..tasks.tasks import TaskEdit, edit_tasks
from .load import hold_loads, load_held

LONGEST = 120
"""Seconds that the worker may look for a better proposal."""
MANY = 2_000
"""Tasks of a project from which on the worker does it, though nobody asked for more than an answer at once."""


@dataclass(frozen=True, slots=True)
class Wanted:
    """What is asked for.

    Attributes:
        draft_id: made by the client, for the draft.
        whom: the people, crews and roles; None: all who are over in these days.
        first, last: the days on which work may begin that is moved.
        within_slack: True where the finish must stay.
        seconds: how long to look for a better proposal than that found at once.
        keeping: tasks that must not move, nor any below them.
    """

    draft_id: str
    whom: Sequence[str] | None
    first: date
    last: date
    within_slack: bool
    seconds: int = 0
    keeping: Sequence[str] = ()


@dataclass(frozen=True, slots=True)
class Still:
    """By how many minutes a person is over from the first day on, before and after, and for how many tasks no room was."""

    who: str
    before: int
    after: int
    without_room: int


@dataclass(frozen=True, slots=True)
class Levelling:
    """What was proposed, and the draft that holds it; none where nothing has to move, or nothing can."""

    draft_id: str | None
    moved: int
    finish_before: datetime
    finish: datetime
    still: list[Still]


def open_hours(cur: Cursor, actor: Actor, code: str) -> Project:
    """A project that may be levelled.

    Raises:
        Missing, Forbidden: the actor may not edit it.
        RuleError: it plans no hours.
    """
    project = open_project(cur, actor, code, "edit")
    if not project.hours:
        raise RuleError("This project plans no hours. Switch them on in its settings first.", "code")
    return project


def takes_long(cur: Cursor, actor: Actor, project: Project, wanted: Wanted) -> bool:
    """True for what the worker has to do."""
    return wanted.seconds > 0 or len(PLANS.at(cur, project, actor.clock.now()).plan.tasks) > MANY


def level_project(cur: Cursor, actor: Actor, code: str, wanted: Wanted, progress: Progress = silent) -> Levelling:
    """Propose how to move work so that people are not over.

    Raises:
        RuleError: the project plans no hours, or days that cannot be.
        Forbidden: the actor may not edit the project.
    """
    project = open_hours(cur, actor, code)
    plain = replace(actor, draft=None)
    progress("looking at what lies on people", 0)
    held = hold_loads(cur, plain, code, everywhere=True, count="hours")
    load = load_held(cur, plain, held, code, columns(wanted.first, wanted.last, "week"))
    names = {who.id for who in load.who if who.kind in {"person", "resource"}}
    over = [line.who for line in load.lines if line.days_over]
    chosen = {one for one in (over if wanted.whom is None else wanted.whom) if one in names}
    key = project.code
    proposal = propose(
        held.plans[key].plan, held.capacities.by_who, held.capacities.usual,
        load=held.loads[key], others=[*(one for other, one in held.loads.items() if other != key), *held.hidden],
        whom=chosen, within_slack=wanted.within_slack, keeping=wanted.keeping, first=datetime.combine(wanted.first, time()),
        last=datetime.combine(wanted.last, time()) + timedelta(days=1), goes_on=_while_there_is_time(wanted.seconds, progress),
    )  # fmt: skip
    if proposal.fields:
        _keep(cur, actor, code, wanted, proposal)
    still = [Still(who, *minutes, len(proposal.over.get(who, ()))) for who, minutes in proposal.still.items()]
    still.sort(key=lambda one: (-one.after, -one.before, one.who))
    draft_id = wanted.draft_id if proposal.fields else None
    return Levelling(draft_id, len(proposal.moved), proposal.finish_before, proposal.finish, still)


def _keep(cur: Cursor, actor: Actor, code: str, wanted: Wanted, proposal: Proposal) -> None:
    name = f"Levelled, {'within slack' if wanted.within_slack else 'the finish moving'}"
    start_draft(cur, actor, code, wanted.draft_id, name, None)
    edits = [TaskEdit(one, 2**31 - 1, dict(fields)) for one, fields in proposal.fields.items()]
    edit_tasks(cur, replace(actor, draft=wanted.draft_id, change_id=new_id(), consent=None), code, edits)


def _while_there_is_time(seconds: int, progress: Progress) -> Callable[[int], bool] | None:
    if not seconds:
        return None
    began = clock.monotonic()

    def goes_on(_: int) -> bool:
        passed = clock.monotonic() - began
        progress("looking for an order in which less is over and the finish comes sooner", min(passed / seconds, 1))
        return passed < seconds

    return goes_on


def job_input(code: str, wanted: Wanted) -> dict[str, Any]:
    """What the worker needs to do it."""
    days = {"first": wanted.first.isoformat(), "last": wanted.last.isoformat()}
    return {**asdict(wanted), **days, "code": code.upper()}


@work("level")
def _level_job(cur: Cursor, actor: Actor, given: Mapping[str, Any], _: bytes, progress: Progress) -> dict[str, Any]:
    first, last = (date.fromisoformat(given[name]) for name in ("first", "last"))
    wanted = Wanted(given["draft_id"], given["whom"], first, last, given["within_slack"], given["seconds"], given["keeping"])
    found = level_project(cur, actor, given["code"], wanted, progress)
    times = {"finish_before": found.finish_before.isoformat(), "finish": found.finish.isoformat()}
    return {**asdict(found), **times}
