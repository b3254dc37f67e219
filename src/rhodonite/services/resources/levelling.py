"""Levelling a project: a proposal as a draft, which shows all that it moves and can be applied or thrown away."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime, time, timedelta

from pymysql.cursors import Cursor

from ...core.common.errors import RuleError
from ...core.resources.proposal import Proposal, propose
from ..common.context import Actor, new_id, open_project
from ..common.plan_cache import PLANS
from ..schedule.drafts import start_draft
from ..tasks.tasks import TaskEdit, edit_tasks
from .capacity import read_capacities
from .load import read_load


@dataclass(frozen=True, slots=True)
class Levelling:
    """What was proposed, and the draft that holds it; none where nothing has to move, or nothing can."""

    draft_id: str | None
    proposal: Proposal


def level_project(
    cur: Cursor,
    actor: Actor,
    code: str,
    draft_id: str,
    whom: Sequence[str] | None,
    first: date,
    last: date,
    *,
    within_slack: bool,
) -> Levelling:
    """Propose how to move work so that people are not over.

    Args:
        draft_id: made by the client, for the draft.
        whom: the people, crews and roles; None: all who are over in these days.
        first, last: the days on which work may begin that is moved.
        within_slack: True where the finish must stay.

    Raises:
        RuleError: the project plans no hours, or days that cannot be.
        Forbidden: the actor may not edit the project.
    """
    project = open_project(cur, actor, code, "edit")
    if not project.hours:
        raise RuleError("This project plans no hours. Switch them on in its settings first.", "code")
    load = read_load(cur, replace(actor, draft=None), code, first, last, "week", everywhere=False)
    names = {who.id: who.name for who in load.who if who.kind != "nobody"}
    over = [line.who for line in load.lines if line.days_over]
    chosen = {one for one in (over if whom is None else whom) if one in names}
    capacities = read_capacities(cur)
    plan = PLANS.at(cur, project, actor.clock.now()).plan
    proposal = propose(
        plan, capacities.by_who, capacities.usual, whom=chosen, within_slack=within_slack,
        first=datetime.combine(first, time()), last=datetime.combine(last, time()) + timedelta(days=1),
    )  # fmt: skip
    if not proposal.fields:
        return Levelling(None, proposal)
    name = f"Levelled, {'within slack' if within_slack else 'the finish moving'}"
    start_draft(cur, actor, code, draft_id, name, None)
    edits = [TaskEdit(one, 2**31 - 1, dict(fields)) for one, fields in proposal.fields.items()]
    edit_tasks(cur, replace(actor, draft=draft_id, change_id=new_id(), consent=None), code, edits)
    return Levelling(draft_id, proposal)
