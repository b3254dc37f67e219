"""Goals as a person sees them, and what they may do with each."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date

from pymysql.cursors import Cursor

from ...core.common.errors import Forbidden, Missing
from ...core.goals.access import may, may_aim, right_in
from ...core.goals.measures import Standing
from ...core.goals.model import COUNTING, Goal, Right
from ...core.goals.rhythm import is_due, next_due
from ...core.goals.tree import shown_parent
from ...store.goals import goals as rows
from ..common.context import Actor, Clock
from ..tasks.projects import every_visible_project
from . import measuring


@dataclass(frozen=True, slots=True)
class Shown:
    """A goal as a person sees it.

    Attributes:
        parent_id: the nearest goal above it that they see.
        due: when its next progress note is due; None where none is asked for; ``is_due``: whether that day has come.
        codes: of the projects that it counts, those that they see; ``hidden``: how many others there are.
    """

    goal: Goal
    parent_id: str | None
    standing: Standing
    right: Right
    due: date | None
    is_due: bool
    codes: tuple[str, ...]
    hidden: int


@dataclass(frozen=True, slots=True)
class GoalsPage:
    """All goals that a person sees, the earliest first, and the settings of goals."""

    settings: rows.GoalSettings
    goals: list[Shown]
    may_aim: bool
    followed: frozenset[str]


def read_goals(cur: Cursor, actor: Actor) -> GoalsPage:
    """All goals that a person sees, with how far each is."""
    every = rows.goals(cur)
    stand = measuring.standings(cur, actor, every)
    shown = shown_to(cur, actor, every, stand)
    return GoalsPage(
        rows.settings(cur), shown, may_aim(actor.person, "organisation"), frozenset(rows.followed_by(cur, actor.person.id))
    )


def shown_to(cur: Cursor, actor: Actor, every: Mapping[str, Goal], stand: Mapping[str, Standing]) -> list[Shown]:
    """Those goals that a person sees, of those whose standing is given.

    Args:
        every: all goals, by id: below which one stands follows from those that are seen.
    """
    rights = {one.id: right for one in every.values() if (right := right_in(one, actor.person)) is not None}
    codes = {one: project.code for one, (project, _) in every_visible_project(cur, actor).items()}
    noted, today = noted_days(cur, actor.clock), actor.clock.now().date()
    found = []
    for goal_id, right in rights.items():
        one = every[goal_id]
        if goal_id not in stand:
            continue
        counted = one.measure.projects if one.measure.kind in COUNTING else ()
        seen = tuple(sorted(codes[each] for each in counted if each in codes))
        due = next_due(one, noted.get(goal_id))
        found.append(
            Shown(
                one,
                shown_parent(every, rights, one),
                stand[goal_id],
                right,
                due,
                is_due(due, today),
                seen,
                len(counted) - len(seen),
            )
        )
    return found


def noted_days(cur: Cursor, clock: Clock) -> dict[str, date]:
    """By goal the day of the latest note that judges it."""
    return {goal_id: clock.local(at).date() for goal_id, (_, at) in rows.latest_notes(cur).items()}


def open_goal(cur: Cursor, actor: Actor, goal_id: str, wanted: Right, *, deleted: bool = False) -> Goal:
    """A goal, once a person may do this with it.

    Raises:
        Missing: there is none, or they may not see it.
        Forbidden: they may see it, but not do this.
    """
    found = rows.goal(cur, goal_id)
    right = right_in(found, actor.person) if found is not None else None
    if found is None or right is None or (found.deleted_at is not None and not deleted):
        raise Missing("goal")
    if not may(right, wanted):
        needed = "may only be read by you" if right == "read" else "is changed by its owner and those who are named to edit it"
        raise Forbidden(f"The goal {needed}. Ask its owner.")
    return found
