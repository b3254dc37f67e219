"""What people and resources cost, and are charged at: for managers, and of a project's own resources for its leads."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from decimal import Decimal
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.errors import Missing, RuleError
from ...core.resources.rates import RATE_KINDS, Rate, RateKind, Rates, check_rates
from ...store.common.database import from_json
from ...store.common.journal import Entry
from ...store.people import people as people_rows
from ...store.resources import bookable as resource_rows
from ...store.resources import rates as rows
from ...store.tasks import projects as project_rows
from ..common.context import Actor, once, open_project, writing
from .capacity import read_capacities


def read_rates(cur: Cursor, actor: Actor, code: str | None) -> Rates:
    """The rates of all people and of the organisation's resources; with a project, of the resources that are its own.

    Raises:
        Missing, Forbidden: the person may not see what people cost; of a project they are no lead.
    """
    resources = read_capacities(cur).staff.resources
    if code is not None:
        project = open_project(cur, actor, code, "manage")
        return rows.rates(cur, [one.id for one in resources if one.project_id == project.id])
    actor.require("see_rates")
    others = {one.id for one in resources if one.project_id is not None}
    return {key: found for key, found in rows.rates(cur).items() if key[0] not in others}


@once
def set_rates(cur: Cursor, actor: Actor, code: str | None, who: str, kind: RateKind, wanted: Sequence[Rate]) -> None:
    """Write the rates of a person or resource, all of one kind anew.

    Raises:
        Missing, Forbidden: as ``read_rates``; there is no such person or resource.
        RuleError: rates that cannot be; a fixed cost has none.
    """
    name = _open(cur, actor, code, who)
    _write_rates(cur, actor, f"changed a rate of {name}"[:80], {(who, kind): check_rates(wanted)})


@once
def set_many_rates(cur: Cursor, actor: Actor, code: str | None, wanted: Rates) -> None:
    """Write the rates of several, each kind of each anew. Raises as ``set_rates``."""
    for who in {who for who, _ in wanted}:
        _open(cur, actor, code, who)
    _write_rates(cur, actor, f"changed rates of {len(wanted)}", {key: check_rates(rates) for key, rates in wanted.items()})


def _write_rates(cur: Cursor, actor: Actor, what: str, wanted: Rates) -> None:
    with writing(cur, actor, None, what) as log:
        resource_rows.mark_anew(cur)
        before = rows.rates(cur, {who for who, _ in wanted})
        for (who, kind), rates in wanted.items():
            was = before.get((who, kind), ())
            if _written(was) != _written(rates):
                log.record("rates", who, kind, _written(was), _written(rates))
                rows.set_rates(cur, who, kind, rates)


def _open(cur: Cursor, actor: Actor, code: str | None, who: str) -> str:
    """The name of whose rates these are."""
    project = open_project(cur, actor, code, "manage") if code is not None else None
    if project is None:
        actor.require("see_rates")
        person = people_rows.person(cur, who)
        if person is not None:
            return person.name
    found = resource_rows.resources_by_id(cur, [who]).get(who)
    if found is None or not found[1] or found[0].project_id != (project.id if project else None):
        raise Missing("resource")
    if found[0].kind == "fixed":
        raise RuleError("A fixed cost has no rate: its sum is said where it is booked.", "rates")
    return found[0].name


def _written(rates: Sequence[Rate]) -> list[list[str | None]]:
    return [[one.first.isoformat() if one.first else None, f"{one.amount.normalize():f}"] for one in rates]


def _read(kept: Any) -> list[Rate]:
    return [Rate(date.fromisoformat(first) if first else None, Decimal(amount)) for first, amount in kept or ()]


def take_back(cur: Cursor, actor: Actor, who: str, entries: Sequence[Entry]) -> None:
    """Take back what a change did to rates.

    Raises:
        Missing, Forbidden: the actor may not change them.
        RuleError: they were changed again since.
    """
    found = resource_rows.resources_by_id(cur, [who]).get(who)
    project = project_rows.project(cur, found[0].project_id) if found and found[0].project_id else None
    now = rows.rates(cur, {one.subject_id for one in entries})
    before: dict[tuple[str, RateKind], Sequence[Rate]] = {}
    for entry in entries:
        key = (entry.subject_id, next(one for one in RATE_KINDS if one == entry.field))
        if _written(now.get(key, ())) != from_json(entry.new):
            raise RuleError("The rates were changed again since. Change them by hand.", "rates")
        before[key] = _read(from_json(entry.old))
    set_many_rates(cur, actor, project.code if project else None, before)
