"""Health: how a task or a project stands, and the rule that says so."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from .lateness import breaks_deadline, is_late
from .model import OPEN_CLASSES, Health, Task
from .rollup import Sums, should_have_begun

PROJECT_RULE = (
    "Slipping when the planned finish is past, a deadline is broken or the budget is passed at completion; strained when any "
    "task is late, people are booked here for more than they can do in the eight weeks ahead, or more than 95 % of the budget "
    "is used at completion; "
    "steady otherwise; not judged without dates."
)


@dataclass(frozen=True, slots=True)
class Worries:
    """What else than dates weighs on a project.

    Attributes:
        overbooked: True where its own bookings are more than people can do.
        budget: ``near`` where more than 95 % of it is used at completion, ``over`` where it is passed.
    """

    overbooked: bool = False
    budget: Literal["", "near", "over"] = ""


NO_WORRIES = Worries()


def project_health(sums: Sums, now: datetime, worries: Worries = NO_WORRIES) -> Health:
    """Health of a project, or of a summary task, from the sums of its leaves: see ``PROJECT_RULE``."""
    if sums.finish is None:
        return "not_judged"
    unfinished = sums.state_class in OPEN_CLASSES
    if unfinished and (sums.finish < now or sums.broken or worries.budget == "over"):
        return "slipping"
    strained = sums.late or (unfinished and (worries.overbooked or worries.budget == "near"))
    return "strained" if strained else "steady"


def task_health(task: Task, state_class: str, now: datetime) -> Health:
    """Health of a task with none under it.

    Slipping when it is late or its deadline is broken; strained when it is held, or should have begun; not
    judged while it is open and has no dates; steady otherwise.
    """
    if state_class not in OPEN_CLASSES:
        return "steady"
    if is_late(task.finish, state_class, now) or breaks_deadline(task, task.finish, state_class, now):
        return "slipping"
    if task.is_held or should_have_begun(task, state_class, now):
        return "strained"
    return "steady" if task.finish or task.start else "not_judged"
