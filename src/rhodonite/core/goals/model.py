"""What is aimed at: a goal, the number that says how far it is, and what can be said of it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date, datetime
from decimal import Decimal
from itertools import pairwise
from typing import Literal

from ..common.bounds import check_day
from ..common.dates import say_day
from ..common.errors import RuleError

Belongs = Literal["organisation", "team", "person"]
SeenBy = Literal["everyone", "people"]
Right = Literal["read", "comment", "edit"]
MeasureKind = Literal["hand", "goals", "tasks", "field"]
Unit = Literal["number", "percent", "money"]
Counts = Literal["tasks", "milestones"]
CountedBy = Literal["count", "effort"]
Rhythm = Literal["weekly", "fortnightly", "monthly", "quarterly"]
Outcome = Literal["met", "partly_met", "not_met", "withdrawn"]
GoalHealth = Literal["steady", "strained", "slipping"]

OUTCOMES: Mapping[Outcome, str] = {
    "met": "met", "partly_met": "partly met", "not_met": "not met", "withdrawn": "withdrawn",
}  # fmt: skip
LONGEST_TITLE, LONGEST_SIGN, LONGEST_WORD, LONGEST_TEXT = 200, 20, 2_000, 10_000
LONGEST_DESCRIPTION = 50_000
MOST_DECIMALS, MOST_PROJECTS, MOST_STEPS, MOST_NAMED, MOST_SECTIONS = 4, 50, 60, 200, 8
LARGEST = Decimal(10) ** 13
LONGEST_DAYS = 3_700
MOST_WEIGHT = 1_000
USUAL_SECTIONS = ("Reached", "In the way", "Next")
ZERO, HUNDRED = Decimal(0), Decimal(100)
COUNTING: frozenset[MeasureKind] = frozenset({"tasks", "field"})
"""The measures that read plans."""


@dataclass(frozen=True, slots=True)
class Step:
    """Where a goal should stand at the end of a day: in the unit of its measure, in percent where it measures itself."""

    day: date
    value: Decimal


@dataclass(frozen=True, slots=True)
class Measure:
    """The number that says how far a goal is.

    Attributes:
        kind: ``hand``: values are typed; ``goals``: from the goals below it, weighted; ``tasks``: from tasks or milestones that
            are done; ``field``: the sum of a field over tasks.
        unit, sign, decimals: of a value; ``sign`` is what is written behind it, such as visitors, min or EUR.
        start, target: from where to where; the target may lie below the start.
        projects: ids of those whose tasks are counted; ``where``: the clauses that they must hold, as JSON, empty for all.
        counts, by: what of tasks is counted, and whether by number or by effort.
        field: the key of the field that is summed.
        steps: where it should stand when; without them that follows from the time that has passed.
    """

    kind: MeasureKind = "hand"
    unit: Unit = "number"
    sign: str = ""
    decimals: int = 0
    start: Decimal = ZERO
    target: Decimal = HUNDRED
    projects: tuple[str, ...] = ()
    where: str = ""
    counts: Counts = "tasks"
    by: CountedBy = "count"
    field: str = ""
    steps: tuple[Step, ...] = ()

    @property
    def has_value(self) -> bool:
        """True where it has a value of its own unit, beside a percentage."""
        return self.kind in {"hand", "field"}


@dataclass(frozen=True, slots=True)
class Goal:
    """What is aimed at.

    Attributes:
        first, last: its period.
        belongs: to the organisation, a team or a person, whose id is ``whose``.
        people: by person what those may do for whom it is named; others than these may read and comment where everyone sees it.
        weight: what it counts in the measure of the goal above it.
        rhythm: on which its owner is reminded to write a progress note; None: not at all.
        outcome, word: how it was closed, and why; ``closed_value``, ``closed_percent``, ``closed_done`` and
            ``closed_total``: where it stood then.
        version: counts its changes, so that an edit tells what it was made from.
    """

    id: str
    title: str
    owner_id: str
    first: date
    last: date
    at: datetime
    parent_id: str | None = None
    belongs: Belongs = "organisation"
    whose: str | None = None
    description: str = ""
    seen_by: SeenBy = "everyone"
    people: Mapping[str, Right] = field(default_factory=dict)
    weight: int = 1
    measure: Measure = field(default_factory=Measure)
    rhythm: Rhythm | None = None
    outcome: Outcome | None = None
    word: str = ""
    closed_at: datetime | None = None
    closed_value: Decimal | None = None
    closed_percent: Decimal | None = None
    closed_done: Decimal | None = None
    closed_total: Decimal | None = None
    reminded: date | None = None
    version: int = 1
    deleted_at: datetime | None = None

    def ends_before(self, finish: date | None) -> bool:
        """True where what finishes then comes too late for it."""
        return finish is not None and finish > self.last

    @property
    def is_open(self) -> bool:
        """True while it was not closed."""
        return self.closed_at is None


@dataclass(frozen=True, slots=True)
class Value:
    """Where a goal that is measured by hand stood at the end of a day; ``note_id``: the progress note that said so."""

    id: str
    goal_id: str
    day: date
    value: Decimal
    person_id: str
    at: datetime
    note_id: str | None = None
    deleted_at: datetime | None = None


@dataclass(frozen=True, slots=True)
class ProgressNote:
    """What somebody said of a goal on a day.

    Attributes:
        health: as they judge it; None where they only say something.
        sections: what was reached, what is in the way and so on: (name, text).
        people: those to whom it was sent beside followers.
    """

    id: str
    goal_id: str
    person_id: str
    at: datetime
    health: GoalHealth | None
    sections: tuple[tuple[str, str], ...]
    people: tuple[str, ...] = ()
    deleted_at: datetime | None = None


def check_goal(one: Goal) -> Goal:
    """A goal that can be, its title without blanks at the ends.

    Raises:
        RuleError: no title, a period that ends before it begins, a measure that cannot be.
    """
    if not one.title or len(one.title) > LONGEST_TITLE:
        raise RuleError(f"Say what is aimed at, in {LONGEST_TITLE} characters at most.", "title")
    check_day(one.first, "first")
    check_day(one.last, "last")
    if one.last < one.first:
        raise RuleError("The last day lies before the first. Choose them again.", "last")
    if (one.last - one.first).days > LONGEST_DAYS:
        raise RuleError("A goal has ten years at most. Set a nearer one, and another after it.", "last")
    if (one.whose is None) != (one.belongs == "organisation"):
        raise RuleError("Say to which team or person the goal belongs.", "whose")
    if not 1 <= one.weight <= MOST_WEIGHT:
        raise RuleError(f"A weight lies between 1 and {MOST_WEIGHT}.", "weight")
    if len(one.people) > MOST_NAMED:
        raise RuleError(f"{MOST_NAMED} people at most can be named. Let everyone see it.", "people")
    check_measure(one.measure, one.first, one.last)
    return one


def check_measure(one: Measure, first: date, last: date) -> None:
    """Raises RuleError where a measure cannot be: without a way to go, without projects, steps in the wrong order."""
    for name in ("start", "target"):
        check_value(one, getattr(one, name), name)
    if one.has_value and one.start == one.target:
        raise RuleError("Start and target are the same, so there is no way to go. Change one of them.", "target")
    if len(one.sign) > LONGEST_SIGN:
        raise RuleError(f"What stands behind the number has {LONGEST_SIGN} characters at most.", "sign")
    if one.kind in COUNTING and not 1 <= len(one.projects) <= MOST_PROJECTS:
        raise RuleError(f"Choose between one and {MOST_PROJECTS} projects whose work is counted.", "projects")
    if one.kind == "field" and not one.field:
        raise RuleError("Choose the field that is summed.", "field")
    if len(one.steps) > MOST_STEPS:
        raise RuleError(f"{MOST_STEPS} steps are the most. Take some out.", "steps")
    days = [step.day for step in one.steps]
    if any(earlier >= later for earlier, later in pairwise(days)):
        raise RuleError("Each step lies on a later day than the one before it.", "steps")
    for step in one.steps:
        if not first <= step.day <= last:
            raise RuleError(f"The step of {say_day(step.day)} lies outside the goal’s period.", "steps")
        check_value(one if one.has_value else Measure("hand", "percent", decimals=2), step.value, "steps")


def check_value(measure: Measure, value: Decimal, name: str = "value") -> Decimal:
    """A value that a goal may have. Raises RuleError where it is no number, too large, or has more decimals than it may."""
    if not 0 <= measure.decimals <= MOST_DECIMALS:
        raise RuleError(f"A value has {MOST_DECIMALS} decimals at most.", "decimals")
    if not value.is_finite() or abs(value) > LARGEST:
        raise RuleError("That number is too large.", name)
    if -int(value.normalize().as_tuple().exponent) > measure.decimals:
        raise RuleError(f"{value:f} has more decimals than the goal: {measure.decimals or 'none'}. Round it.", name)
    return value


def check_new_value(goal: Goal, one: Value, today: date) -> None:
    """Raises RuleError where a value cannot be entered: the goal was closed or measures itself, or the day is still to come."""
    check_open(goal)
    if goal.measure.kind != "hand":
        raise RuleError("That goal measures itself. Its value is not typed.", "value")
    if one.day > today:
        raise RuleError(f"A value is entered once it was reached. Choose a day up to today, {say_day(today)}.", "day")
    check_value(goal.measure, one.value)


def check_open(goal: Goal) -> None:
    """Raises RuleError where a goal was closed."""
    if not goal.is_open:
        raise RuleError("The goal was closed. Open it again first.", "outcome")


def check_word(text: str, field: str) -> str:
    """A word without blanks at its ends. Raises RuleError where it is too long."""
    text = text.strip()
    if len(text) > LONGEST_WORD:
        raise RuleError(f"That is longer than {LONGEST_WORD} characters. Shorten it.", field)
    return text


def check_outcome(outcome: Outcome, word: str) -> None:
    """Raises RuleError where there is no word on why a goal was not met."""
    if not word and outcome != "met":
        raise RuleError("Say in a word why, so that the next goal can learn from it.", "word")


def clean_sections(sections: tuple[tuple[str, str], ...]) -> tuple[tuple[str, str], ...]:
    """The sections of a note that say something. Raises RuleError where one is too long, or there are too many."""
    kept = tuple((name.strip(), text.strip()) for name, text in sections if text.strip())
    if len(kept) > MOST_SECTIONS or any(len(name) > LONGEST_TITLE or len(text) > LONGEST_TEXT for name, text in kept):
        raise RuleError(f"A note has {MOST_SECTIONS} sections of {LONGEST_TEXT} characters at most.", "sections")
    return kept


def check_section_names(names: tuple[str, ...]) -> tuple[str, ...]:
    """The names of the sections of progress notes. Raises RuleError where there are none, too many, or two alike."""
    kept = tuple(" ".join(one.split()) for one in names)
    if not 1 <= len(kept) <= MOST_SECTIONS or any(not one or len(one) > 60 for one in kept):
        raise RuleError(
            f"A note has between one and {MOST_SECTIONS} sections, each with a name of at most 60 characters.", "sections"
        )
    if len({one.casefold() for one in kept}) < len(kept):
        raise RuleError("Two sections have the same name.", "sections")
    return kept


def counts_the_same(before: Goal, after: Goal) -> bool:
    """True where two states of a goal count the same work: only where it begins, its target, unit or steps may differ. Clauses may
    say “me”, which is the owner."""
    one, other = before.measure, after.measure
    same_owner = before.owner_id == after.owner_id or not other.where
    return same_owner and (one.kind, one.projects, one.where, one.counts, one.by, one.field) == (
        other.kind, other.projects, other.where, other.counts, other.by, other.field)  # fmt: skip
