"""Portfolios: started, and joined to projects."""

from __future__ import annotations

import uuid
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.errors import Missing, RuleError
from ...core.common.ordering import make_room
from ...core.portfolio.parts import MOST_PARTS, Part, check_no_circle, check_part
from ...core.tasks.model import Project
from ...store.common.database import from_json
from ...store.common.journal import Entry
from ...store.portfolio import parts as part_rows
from ...store.tasks import projects as project_rows
from ..common.context import Actor, Log, once, open_project
from ..common.pipeline import changing_project
from ..common.plan_cache import PLANS
from ..overview.undo import takes_back
from ..tasks.custom_fields import add_definition
from ..tasks.projects import NewProject, create_project, every_visible_project

TIED_WORK = "Tied work"
_CARRIED = ["state", "percent", "finish", "owner"]


def start_portfolio(cur: Cursor, actor: Actor, new: NewProject) -> str:
    """Start a portfolio: a project whose tasks are larger items, with a field that ties them to work of its parts.

    Returns:
        its code. Raises RuleError as ``create_project``.
    """
    code = create_project(cur, actor, replace(new, portfolio=True))
    its_own = replace(actor, change_id=str(uuid.uuid5(uuid.UUID(actor.change_id), "tied work")))
    field = str(uuid.uuid5(uuid.UUID(new.id), "tied work"))
    settings = {
        "type": "tied",
        "carries": _CARRIED,
        "progress": True,
        "help": "Deliverables of the parts that this item is made of",
    }
    add_definition(cur, its_own, code, "field", field, TIED_WORK, settings)
    return code


def open_portfolio(cur: Cursor, actor: Actor, code: str, action: Any) -> Project:
    """A portfolio that a person may act on. Raises Missing where there is none, Forbidden where they may not."""
    project = open_project(cur, actor, code, action)
    if not project.portfolio:
        raise Missing("portfolio")
    return project


@dataclass(frozen=True, slots=True)
class NewPart:
    """What is to be joined: the code of the project, and what is shown of it."""

    id: str
    code: str
    shows: str
    states: Mapping[str, str]


@once
def join_part(cur: Cursor, actor: Actor, code: str, new: NewPart) -> None:
    """Join a project, or another portfolio, to a portfolio.

    Raises:
        RuleError: it is joined already, contains the portfolio, or what is to be shown cannot be.
    """
    portfolio = open_portfolio(cur, actor, code, "manage")
    joined = open_project(cur, actor, new.code, "see")
    with changing_project(cur, actor, portfolio.id, "joined a part") as (log, plan):
        every = part_rows.lock_parts(cur)
        parts = every.get(portfolio.id, [])
        if any(one.part_id == joined.id for one in parts):
            raise RuleError(f"{joined.code} is a part of it already.", "code")
        if len(parts) >= MOST_PARTS:
            raise RuleError(f"A portfolio has {MOST_PARTS} parts at most. Join another portfolio instead.", "code")
        check_no_circle({one: [p.part_id for p in some] for one, some in every.items()}, portfolio.id, joined)
        part = Part(new.id, portfolio.id, joined.id, make_room(parts, "end", 1).places[0], new.shows, dict(new.states))
        check_part(part, plan.project, _whole(cur, actor, joined))
        part_rows.insert(cur, part)
        log.record("part", part.id, "created", None, {"shows": part.shows})


def _whole(cur: Cursor, actor: Actor, project: Project) -> Project:
    return PLANS.at(cur, project, actor.clock.now()).plan.project


@once
def edit_part(cur: Cursor, actor: Actor, code: str, part_id: str, fields: Mapping[str, Any]) -> None:
    """Change what is shown of a part, or move it: ``after_id`` is the part to stand behind, None for the first place.

    Raises:
        Missing: there is no such part, or the person may not see what it joins.
        RuleError: what is to be shown cannot be.
    """
    portfolio = open_portfolio(cur, actor, code, "manage")
    with changing_project(cur, actor, portfolio.id, "changed a part") as (log, plan):
        parts = part_rows.parts_of(cur, portfolio.id)
        part = next((one for one in parts if one.id == part_id), None)
        visible = every_visible_project(cur, actor)
        if part is None or part.part_id not in visible:
            raise Missing("part")
        after = replace(part, **{name: value for name, value in fields.items() if name in {"shows", "states"}})
        if "after_id" in fields:
            others = [one for one in parts if one.id != part_id]
            room = make_room(others, fields["after_id"], 1)
            for one in others:
                if one.id in room.others:
                    log.record("part", one.id, "place", one.place, room.others[one.id])
                    part_rows.update(cur, replace(one, place=room.others[one.id]))
            after = replace(after, place=room.places[0])
        check_part(after, plan.project, _whole(cur, actor, visible[part.part_id][0]))
        log.record_changes("part", part_id, part, after, ("shows", "states", "place"))
        part_rows.update(cur, after)


@once
def leave_part(cur: Cursor, actor: Actor, code: str, part_id: str) -> None:
    """Take a part out of a portfolio; what is tied to its work stays tied.

    Raises:
        Missing: there is none, or the person may not see what it joins.
    """
    portfolio = open_portfolio(cur, actor, code, "manage")
    part = next((one for one in part_rows.parts_of(cur, portfolio.id) if one.id == part_id), None)
    if part is None or part.part_id not in every_visible_project(cur, actor):
        raise Missing("part")
    with changing_project(cur, actor, portfolio.id, "took a part out") as (log, _):
        log.record("part", part_id, "deleted", {"shows": part.shows}, None)
        part_rows.set_deleted(cur, part_id, actor.clock.utc())


@takes_back("part")
def take_back(cur: Cursor, actor: Actor, code: str | None, entries: Sequence[Entry]) -> None:
    """Take back what a change did to the parts of a portfolio.

    Raises:
        RuleError: it is joined again since, or would contain itself by now.
    """
    if code is None:
        raise Missing("part")
    portfolio = open_portfolio(cur, actor, code, "manage")
    with changing_project(cur, actor, portfolio.id, "took back a change of the parts") as (log, _):
        for entry in reversed(entries):
            _put_back(cur, actor, log, portfolio, entry)


def _put_back(cur: Cursor, actor: Actor, log: Log, portfolio: Project, entry: Entry) -> None:
    part = part_rows.part(cur, portfolio.id, entry.subject_id)
    if part is None or part.part_id not in every_visible_project(cur, actor):
        raise Missing("part")
    if entry.field in {"created", "deleted"}:
        goes = entry.field == "created"
        if not goes:
            _check_comes_back(cur, portfolio, part)
        said = {"shows": part.shows}
        log.record("part", part.id, "deleted" if goes else "created", said if goes else None, None if goes else said)
        part_rows.set_deleted(cur, part.id, actor.clock.utc() if goes else None)
        return
    old = from_json(entry.old)
    log.record("part", part.id, entry.field, getattr(part, entry.field), old)
    part_rows.update(cur, replace(part, **{entry.field: old}))


def _check_comes_back(cur: Cursor, portfolio: Project, part: Part) -> None:
    every = part_rows.lock_parts(cur)
    joined = project_rows.project(cur, part.part_id)
    if joined is None or any(one.part_id == part.part_id for one in every.get(portfolio.id, ())):
        raise RuleError("It was joined again since, or is gone, so this cannot be taken back.")
    check_no_circle({one: [p.part_id for p in some] for one, some in every.items()}, portfolio.id, joined)
