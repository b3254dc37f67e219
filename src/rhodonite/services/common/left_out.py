"""What files of a project do not hold. Areas join by registering what they keep of a project beside the fields of its tasks."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import Literal

from pymysql.cursors import Cursor

from ...core.schedule.plan import Plan
from .context import Actor
from .plan_cache import CachedPlan

Format = Literal["table", "plan"]
"""A table of tasks, CSV or XLSX, or a plan file."""
Counted = tuple[int, str, str]
"""How many there are, and the word for one and for several."""
LeavesOut = Callable[[Cursor, Actor, Plan, Format], Iterable[Counted]]
_areas: list[LeavesOut] = []


def leaves_out(function: LeavesOut) -> LeavesOut:
    """Registers what counts what an area keeps of a project that a file does not hold."""
    _areas.append(function)
    return function


def left_out(cur: Cursor, actor: Actor, held: CachedPlan, into: Format) -> list[str]:
    """In words what a project has and a file does not hold, as far as the person may see it: ``12 comments``."""
    found = [counted for area in _areas for counted in area(cur, actor, held.plan, into)]
    return [f"{many:,} {one if many == 1 else several}" for many, one, several in found if many]
