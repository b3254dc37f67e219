"""What a project defines for its board: further workflows, lanes, the periods of its backlog, and blanks for slips."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date
from typing import Any

MOST_IN_A_BLANK = 60
"""Tasks of a blank, those below included."""
MOST_CHECKS = 100
DEEPEST_BLANK = 5
LONGEST_BLANK = 100_000
"""Characters of all that a blank holds, as it is kept."""


@dataclass(frozen=True, slots=True)
class Workflow:
    """A way that work goes, beside the main one of its project. Its states name it.

    Attributes:
        kinds: the kinds of task that go through it.
        branches: ids of tasks; all that stands under them goes through it, whatever its kind.
    """

    id: str
    name: str
    place: str
    kinds: tuple[str, ...] = ()
    branches: tuple[str, ...] = ()
    broken: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Lane:
    """A row of the board.

    Attributes:
        workflow: of whose board; None for the main one.
        limit: of open tasks in it.
        where: the condition by which tasks fall into it, as it is kept; None where they are put there by hand alone.
        joins: runs of neighbouring columns that are one cell in it, each as the ids of its first and its last state.
        skips: ids of states that its tasks do not pass through.
        cells: limits of its cells, by the id of the (first) state.
    """

    id: str
    name: str
    place: str
    workflow: str | None = None
    limit: int | None = None
    shape: str = "square"
    colour: str = "slate"
    where: Mapping[str, Any] | None = field(default=None, hash=False)
    joins: tuple[tuple[str, str], ...] = ()
    skips: tuple[str, ...] = ()
    cells: Mapping[str, int] = field(default_factory=dict, hash=False)
    broken: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Period:
    """A stretch of the backlog, such as *this quarter*, *next*, *later*."""

    id: str
    name: str
    place: str
    first: date | None = None
    last: date | None = None
    broken: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Blank:
    """A prepared task that the add line of a cell offers.

    Attributes:
        task: what it makes: ``title`` (empty: what is typed), ``kind``, ``fields``, ``checks`` and ``below``, a list of the same.
    """

    id: str
    name: str
    place: str
    task: Mapping[str, Any] = field(default_factory=dict, hash=False)
    broken: tuple[str, ...] = ()


def blank_fault(task: Any, depth: int = 1) -> str | None:
    """What is wrong with the task of a blank, in a sentence; None where nothing is.

    Args:
        depth: at which it stands, the topmost at 1.
    """
    if not isinstance(task, Mapping) or not task.keys() <= {"title", "kind", "fields", "checks", "below"}:
        return "A blank has a title, a kind, fields, things to tick and tasks below."
    if depth > DEEPEST_BLANK:
        return f"A blank is {DEEPEST_BLANK} levels deep at most."
    if not isinstance(task.get("title", ""), str) or len(task.get("title", "")) > 500 or (depth > 1 and not task.get("title")):
        return "Each task of a blank has a title of 500 characters at most."
    if not isinstance(task.get("kind", "task"), str) or not isinstance(task.get("fields", {}), Mapping):
        return "The kind and the fields of a blank are those of a task."
    if len(task.get("fields", {})) > 100:
        return "A blank has 100 fields at most."
    checks = task.get("checks", [])
    if not isinstance(checks, list | tuple) or len(checks) > MOST_CHECKS:
        return f"A blank has {MOST_CHECKS} things to tick at most."
    if not all(isinstance(one, str) and 0 < len(one) <= 500 for one in checks):
        return "Each thing to tick is a text of 500 characters at most."
    below = task.get("below", [])
    if not isinstance(below, list | tuple):
        return "The tasks below are a list."
    if depth == 1 and len(json.dumps(task, default=str)) > LONGEST_BLANK:
        return "A blank is too long. Put less into its fields."
    if depth == 1 and tasks_in(task) > MOST_IN_A_BLANK:
        return f"A blank makes {MOST_IN_A_BLANK} tasks at most."
    return next((fault for one in below if (fault := blank_fault(one, depth + 1))), None)


def tasks_in(task: Any) -> int:
    """How many tasks a blank makes."""
    below = task.get("below", ()) if isinstance(task, Mapping) else ()
    return 1 + (sum(map(tasks_in, below)) if isinstance(below, list | tuple) else 0)
