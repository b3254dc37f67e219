"""What a summary task is, computed from the tasks under it."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from typing import Protocol

from .lateness import breaks_deadline, is_late
from .model import OPEN_CLASSES, Task


class Weighed(Protocol):
    """Work with what is done of it, in minutes and percent-minutes."""

    effort: int
    effort_done: int
    duration: int
    duration_done: int
    tasks: int
    finished: int


def percent_done(work: Weighed) -> int:
    """Percent done: weighted by effort where any task has effort, else by duration.

    Rounded down, so that 100 is said only when all is done. Milestones weigh nothing, unless there is nothing else.
    """
    if work.effort:
        return work.effort_done // work.effort
    if work.duration:
        return work.duration_done // work.duration
    return 100 * work.finished // work.tasks if work.tasks else 0


@dataclass(slots=True)
class Sums:
    """Sums over some leaves of the outline. Effort and durations are minutes; dropped tasks count nowhere.

    ``effort_done`` and ``duration_done`` are percent-minutes: minutes times percent done.
    """

    start: datetime | None = None
    finish: datetime | None = None
    effort: int = 0
    effort_done: int = 0
    duration: int = 0
    duration_done: int = 0
    tasks: int = 0
    finished: int = 0
    begun: int = 0
    late: int = 0
    broken: int = 0
    strained: int = 0
    unowned: int = 0
    held: int = 0
    booked: int = 0
    spent: int = 0

    def add(self, other: Sums) -> None:
        """Take in the sums of other leaves."""
        if other.start is not None and (self.start is None or other.start < self.start):
            self.start = other.start
        if other.finish is not None and (self.finish is None or other.finish > self.finish):
            self.finish = other.finish
        self.effort += other.effort
        self.booked += other.booked
        self.spent += other.spent
        self.effort_done += other.effort_done
        self.duration += other.duration
        self.duration_done += other.duration_done
        self.tasks += other.tasks
        self.finished += other.finished
        self.begun += other.begun
        self.late += other.late
        self.broken += other.broken
        self.strained += other.strained
        self.unowned += other.unowned
        self.held += other.held

    @property
    def percent(self) -> int:
        """Percent done, by ``percent_done``."""
        return percent_done(self)

    @property
    def state_class(self) -> str:
        """Finished when all tasks are, active once one has begun, else queued; dropped where none is left."""
        if not self.tasks:
            return "dropped"
        if self.finished == self.tasks:
            return "finished"
        return "active" if self.begun else "queued"


def leaf_sums(task: Task, state_class: str, now: datetime, day_minutes: int) -> Sums:
    """The sums of one task that has none under it.

    A task without a duration weighs one usual day: it is work, only not yet estimated.
    """
    sums = Sums(spent=task.spent)  # which were spent, whatever became of the task
    if state_class == "dropped":
        return sums
    is_open = state_class in OPEN_CLASSES
    sums.start, sums.finish = task.start or task.finish, task.finish or task.start
    sums.tasks = 1
    sums.finished = int(state_class == "finished")
    sums.begun = int(state_class != "queued")
    if task.kind != "milestone":
        weight = task.duration or day_minutes
        sums.effort, sums.booked = task.effort or 0, task.booked
        sums.effort_done = sums.effort * task.percent
        sums.duration = weight
        sums.duration_done = weight * task.percent
    if is_open:
        sums.late = int(is_late(task.finish, state_class, now))
        sums.broken = int(breaks_deadline(task, task.finish, state_class, now))
        sums.held = int(task.is_held)
        sums.unowned = int(task.owner_id is None)
        sums.strained = int(bool(sums.held) or should_have_begun(task, state_class, now))
    return sums


def should_have_begun(task: Task, state_class: str, now: datetime) -> bool:
    """True where the planned start is past by a day or more and work still stands in the queue."""
    return state_class == "queued" and task.start is not None and task.start.date() < now.date()


def total(parts: Iterable[Sums]) -> Sums:
    """The sums of several."""
    sums = Sums()
    for part in parts:
        sums.add(part)
    return sums
