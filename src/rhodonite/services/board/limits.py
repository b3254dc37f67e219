"""Limits of the board are held to, and it is kept how long they were passed and why."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import datetime, timedelta

from pymysql.cursors import Cursor

from ...core.board.cells import Cell, cells_of
from ...core.board.limits import LONGEST_REASON, LimitPassed, Limits, Standing, has_limits
from ...core.schedule.plan import Plan
from ...core.tasks.model import Task
from ...core.views.catalogue import Catalogue
from ...core.views.lanes import lanes_of_tasks
from ...store.board import limits as spell_rows
from ...store.board.limits import Spell
from ...store.people import people as people_rows
from ...store.talk import parts as part_rows
from ...store.tasks import projects as project_rows
from ...store.tasks import tasks as task_rows
from ..common.context import Actor, Log, new_id, open_project
from ..common.pipeline import After, knows_limits, step
from ..common.plan_cache import CachedPlan, read_meta, see_plan

_CONCERN = (
    "state_id", "owner_id", "lane_id", "period_id", "parent_id", "deleted_at", "kind",
)  # fmt: skip
"""What makes a task count elsewhere, where no lane has a rule."""


def lanes_in(plan: Plan, *, by_hand: bool = True) -> dict[str, str]:
    """By task the lane in which it lies, or into which the rules alone would put it."""
    return lanes_of_tasks(plan, Catalogue(plan, {}), by_hand=by_hand) if plan.project.lanes else {}


def _may_count_elsewhere(plan: Plan, tasks: Mapping[str, Task]) -> bool:
    if any(lane.where for lane in plan.project.lanes):
        return True
    for one, task in tasks.items():
        before = plan.tasks.get(one)
        if before is None or any(getattr(before, name) != getattr(task, name) for name in _CONCERN):
            return True
    return False


@step("limits")
def _hold(cur: Cursor, actor: Actor, log: Log, plan: Plan, _: After) -> None:
    """What passes a limit is refused, asks for a reason, or is noted, as the project says.

    Raises:
        LimitPassed: it is refused, or asks for a reason and has none.
    """
    if log.in_draft or not has_limits(plan.project) or not _may_count_elsewhere(plan, log.tasks):
        return
    now, _touched = plan.followed(list(log.tasks.values()))
    limits = Limits(plan.project, lambda one: _name(cur, one))
    after = limits.counted(now, lanes_in(now))
    rule = plan.project.limit_rule
    if rule == "refuse" or (rule == "ask" and not actor.reason):
        passed = limits.passed(limits.counted(plan, lanes_in(plan)), after)
        if passed:
            raise LimitPassed(rule, passed)
    _note(cur, actor, log, limits.standing(after))


_SETTINGS = frozenset({"state", "lane", "workflow", "period", "project"})


@knows_limits
def _note_anew(cur: Cursor, actor: Actor, log: Log, plan: Plan) -> None:
    """Note what stands beyond its limit after a change that is held to none: to settings, or one that is taken back."""
    settings = any(entry.subject in _SETTINGS for entry in log.entries)
    if settings:
        plan = _read_anew(cur, actor, log, plan)
    elif not log.tasks or not has_limits(plan.project):
        return
    else:
        plan, _ = plan.followed(list(log.tasks.values()))
    limits = Limits(plan.project)
    _note(cur, actor, log, limits.standing(limits.counted(plan, lanes_in(plan))) if has_limits(plan.project) else [])


def _read_anew(cur: Cursor, actor: Actor, log: Log, before: Plan) -> Plan:
    """The plan as this change leaves it, which is committed nowhere yet; where it has no limits, as it was before."""
    row = project_rows.project(cur, log.project.id)
    assert row is not None
    project, calendar, agreed = read_meta(cur, row)
    if not has_limits(project):
        return before if not has_limits(before.project) else Plan(project, calendar, [], actor.clock.now())
    return Plan(project, calendar, task_rows.tasks_of(cur, project.id), actor.clock.now(), agreed)


def _name(cur: Cursor, person_id: str) -> str:
    person = people_rows.person(cur, person_id)
    return person.name if person else "A person"


def _note(cur: Cursor, actor: Actor, log: Log, standing: list[Standing]) -> None:
    at, reason = actor.clock.utc(), actor.reason[:LONGEST_REASON]
    lasting = spell_rows.open_spells(cur, log.project.id)
    over = {one.place.key: one for one in standing if one.is_over}
    new = [
        Spell(new_id(), key, at, None, one.count, one.place.limit, reason, actor.person.id if reason else None)
        for key, one in over.items()
        if key not in lasting
    ]
    if new:
        spell_rows.insert_spells(cur, log.project.id, new)
    for key, spell in lasting.items():
        if key in over and (over[key].count > spell.most or over[key].place.limit != spell.at_most):
            said = "; ".join(filter(None, (spell.reason, reason)))[:LONGEST_REASON]
            grown = replace(spell, most=max(spell.most, over[key].count), at_most=over[key].place.limit, reason=said)
            spell_rows.grow_spell(cur, replace(grown, person_id=actor.person.id if reason else spell.person_id))
    spell_rows.end_spells(cur, [spell.id for key, spell in lasting.items() if key not in over], at)


DAYS_KEPT_IN_VIEW = 30
MOST_SPELLS = 500


@dataclass(frozen=True, slots=True)
class PlaceNow:
    """A place with a limit, as it stands now and stood in the last 30 days.

    Attributes:
        spells: beyond the limit, the latest first.
        minutes: on the clock in these days that it stood beyond its limit.
    """

    standing: Standing
    spells: list[Spell]
    minutes: int


@dataclass(frozen=True, slots=True)
class Board:
    """What the board shows beside the rows. Moments are local.

    Attributes:
        ruled: by task the lane into which it falls by rule, where nobody puts it elsewhere.
        cells: by lane its cells, from left to right.
        covers: by task the first picture that is attached to it.
    """

    ruled: dict[str, str]
    cells: dict[str, list[Cell]]
    covers: dict[str, str]
    places: list[PlaceNow]
    revision: int


def read_board(cur: Cursor, actor: Actor, code: str, *, covers: bool = False) -> Board:
    """In which lane each task falls, what stands at the places with a limit, and how long they were passed.

    Args:
        covers: True where pictures are asked for.
    """
    project = open_project(cur, actor, code, "see")
    held = see_plan(cur, actor, project)
    plan = held.plan
    ruled = held.answers.once(("ruled",), lambda: lanes_in(plan, by_hand=False))
    cells = {lane.id: cells_of(plan.project.states_of(lane.workflow), lane) for lane in plan.project.lanes}
    pictures = part_rows.first_pictures(cur, project.id) if covers else {}
    places = _places_now(cur, actor, held) if has_limits(plan.project) else []
    return Board(ruled, cells, pictures, places, held.mark.revision)


def _places_now(cur: Cursor, actor: Actor, held: CachedPlan) -> list[PlaceNow]:
    names = {one.id: one.name for one in people_rows.all_people(cur)}
    limits = Limits(held.plan.project, lambda one: names.get(one, "A person"))
    counts = held.answers.once(("limits",), lambda: limits.counted(held.plan, lanes_in(held.plan)))
    now = actor.clock.utc()
    since = now - timedelta(days=DAYS_KEPT_IN_VIEW)
    spells: dict[str, list[Spell]] = {}
    for one in spell_rows.spells_since(cur, held.plan.project.id, since, MOST_SPELLS):
        spells.setdefault(one.place, []).append(one)
    return [
        PlaceNow(one, [_local(actor, spell) for spell in there], _minutes(there, since, now))
        for one in limits.standing(counts)
        for there in (spells.get(one.place.key, []),)
    ]


def _local(actor: Actor, spell: Spell) -> Spell:
    until = spell.until and actor.clock.local(spell.until)
    return replace(spell, since=actor.clock.local(spell.since), until=until)


def _minutes(spells: list[Spell], since: datetime, now: datetime) -> int:
    return sum(max(0, int(((one.until or now) - max(one.since, since)).total_seconds())) for one in spells) // 60
