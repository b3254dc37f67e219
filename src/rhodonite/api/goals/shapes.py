"""What is told of goals, and what is sent of them."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date, datetime
from decimal import Decimal
from typing import Annotated, Any, ClassVar

from pydantic import BaseModel, Field

from ...core.goals import model as rules
from ...core.goals.measures import Item, Standing
from ...core.goals.model import Goal, Measure, Step
from ...core.goals.readings import say_how_far, say_measured, say_start
from ...core.goals.rhythm import say_period
from ...services.common.context import new_id
from ...services.goals.notes import CountedProject, GoalDetail
from ...services.goals.seen import Shown
from ..common.inputs import Changes, Day, Id, Name, People

Number = Annotated[Decimal, Field(max_digits=18, decimal_places=4)]
Text = Annotated[str, Field(max_length=rules.LONGEST_WORD)]
Health = rules.GoalHealth
Version = Annotated[int, Field(ge=0, le=2**31 - 1, description="Of the goal as it was seen when editing")]
Weight = Annotated[int, Field(ge=1, le=rules.MOST_WEIGHT)]
NamedPeople = Annotated[dict[Id, rules.Right], Field(max_length=rules.MOST_NAMED, description="By person what they may do")]


class StepModel(BaseModel):
    """Where a goal should stand at the end of a day."""

    day: Day
    value: Number


class MeasureModel(BaseModel):
    """The number that says how far a goal is."""

    kind: rules.MeasureKind = "hand"
    unit: rules.Unit = "number"
    sign: Annotated[str, Field(max_length=rules.LONGEST_SIGN, description="What stands behind a value")] = ""
    decimals: Annotated[int, Field(ge=0, le=rules.MOST_DECIMALS)] = 0
    start: Number = Decimal(0)
    target: Number = Decimal(100)
    projects: Annotated[list[Id], Field(max_length=rules.MOST_PROJECTS, description="Whose work is counted")] = []
    where: Annotated[str, Field(max_length=20_000, description="The clauses that tasks must hold, as JSON")] = ""
    counts: rules.Counts = "tasks"
    by: rules.CountedBy = "count"
    field: Annotated[str, Field(max_length=300, description="The key of the field that is summed")] = ""
    steps: Annotated[list[StepModel], Field(max_length=rules.MOST_STEPS)] = []

    def read(self) -> Measure:
        """As services take it."""
        steps = tuple(Step(one.day, one.value) for one in self.steps)
        return Measure(
            self.kind, self.unit, self.sign.strip(), self.decimals, self.start, self.target, tuple(dict.fromkeys(self.projects)),
            self.where, self.counts, self.by, self.field, steps,
        )  # fmt: skip


class StandingOut(BaseModel):
    """How far a goal is."""

    value: Decimal | None
    percent: Decimal | None = Field(description="Of the way from start to target, between 0 and 100")
    expected: Decimal | None = Field(description="Where that should be by now")
    far: str = Field(description="How far, in words", examples=["11.6 of 6 min"])
    health: Health | None = Field(description="As the latest progress note says, else as proposed")
    proposed: Health | None
    why: str = Field(description="Why that is proposed")


class GoalLine(BaseModel):
    """A goal in the tree."""

    id: str
    title: str
    owner_id: str
    parent_id: str | None = Field(description="The nearest goal above it that one sees")
    first: date
    last: date
    period: str
    belongs: rules.Belongs
    whose: str | None
    kind: rules.MeasureKind
    measured: str = Field(description="How it is measured, in words")
    start: str = Field(description="Where it begins, in words; empty where it measures itself")
    how: StandingOut
    outcome: rules.Outcome | None
    due: date | None = Field(description="When the next progress note is due")
    is_due: bool
    weight: int
    right: rules.Right = Field(description="What one may do with it")
    codes: list[str] = Field(description="The projects that it counts, those that one sees")
    hidden: int = Field(description="How many others it counts")
    follows: bool


class GoalsOut(BaseModel):
    """What the organisation is there for, and its goals."""

    purpose: str
    sections: list[str] = Field(description="The names of the sections of a progress note")
    goals: list[GoalLine]
    may_aim: bool = Field(description="True where one may set goals of the organisation, and say what it is there for")
    rule: str = Field(description="How health is proposed")


class ItemOut(BaseModel):
    """A task or milestone that a goal counts."""

    id: str
    number: int
    title: str
    finish: datetime | None
    finished: bool
    late: bool = Field(description="True where it comes after the goal ends")
    slack_days: float | None


class CountedOut(BaseModel):
    """What a project adds to a goal."""

    code: str
    name: str
    done: Decimal
    total: Decimal
    items: list[ItemOut] = Field(description="The open ones in order of their finish, then those that are finished")
    unclear: str = Field(description="Why it could not be counted; else empty")


class ValueOut(BaseModel):
    """Where a goal stood on a day."""

    id: str
    day: date
    value: Decimal
    person_id: str
    note_id: str | None


class SectionModel(BaseModel):
    """A part of a progress note."""

    name: Annotated[str, Field(max_length=rules.LONGEST_TITLE)]
    text: Annotated[str, Field(max_length=rules.LONGEST_TEXT)]


class NoteOut(BaseModel):
    """What somebody said of a goal."""

    id: str
    person_id: str
    at: datetime
    health: Health | None
    value: Decimal | None
    sections: list[SectionModel]
    people: list[str] = Field(description="To whom it went beside followers")
    readers: list[str]


class GoalOut(GoalLine):
    """A goal in full."""

    version: int
    description: str
    seen_by: rules.SeenBy
    people: dict[str, rules.Right]
    measure: MeasureModel
    rhythm: rules.Rhythm | None
    word: str
    closed: date | None
    reading: str
    above: str | None = Field(description="What the goal above it aims at")
    values: list[ValueOut]
    notes: list[NoteOut]
    followers: list[str]
    below: list[GoalLine]
    counted: list[CountedOut]


class GoalNew(BaseModel):
    """A goal to be set."""

    id: Id = Field(default_factory=new_id, description="UUID of version 7, made by the client")
    title: Name = Field(examples=["Three places open by midsummer"])
    owner_id: Id | None = Field(None, description="null: oneself")
    first: Day
    last: Day
    parent_id: Id | None = None
    belongs: rules.Belongs = "organisation"
    whose: Id | None = Field(None, description="The team or person to whom it belongs")
    description: Annotated[str, Field(max_length=rules.LONGEST_DESCRIPTION)] = ""
    seen_by: rules.SeenBy = "everyone"
    people: NamedPeople = {}
    weight: Weight = 1
    measure: MeasureModel = MeasureModel()
    rhythm: rules.Rhythm | None = None

    def read(self, at: datetime) -> Goal:
        """As services take it."""
        return Goal(
            self.id, self.title, self.owner_id or "", self.first, self.last, at, self.parent_id, self.belongs, self.whose,
            self.description, self.seen_by, dict(self.people), self.weight, self.measure.read(), self.rhythm,
        )  # fmt: skip


class GoalEdit(Changes):
    """Changed fields of a goal, and the version that they were edited at."""

    may_be_null: ClassVar[frozenset[str]] = frozenset({"parent_id", "whose", "rhythm"})

    version: Version
    title: Name | None = None
    owner_id: Id | None = None
    first: Day | None = None
    last: Day | None = None
    parent_id: Id | None = None
    belongs: rules.Belongs | None = None
    whose: Id | None = None
    description: Annotated[str, Field(max_length=rules.LONGEST_DESCRIPTION)] | None = None
    seen_by: rules.SeenBy | None = None
    people: NamedPeople | None = None
    weight: Weight | None = None
    measure: MeasureModel | None = None
    rhythm: rules.Rhythm | None = None

    def fields(self) -> dict[str, Any]:
        """What was sent, as services take it."""
        sent = {name: getattr(self, name) for name in self.sent if name != "version"}
        return sent | ({"measure": self.measure.read()} if self.measure is not None else {})


class PurposeEdit(Changes):
    """What the organisation is there for, and the sections of progress notes."""

    purpose: Text | None = None
    sections: Annotated[list[Annotated[str, Field(max_length=200)]], Field(max_length=rules.MOST_SECTIONS)] | None = None


class ValueNew(BaseModel):
    """Where a goal stood at the end of a day."""

    id: Id = Field(default_factory=new_id)
    day: Day
    value: Number


class NoteNew(BaseModel):
    """A progress note. Health and value are for who may edit the goal."""

    id: Id = Field(default_factory=new_id)
    health: Health | None = None
    value: Number | None = None
    sections: Annotated[list[SectionModel], Field(max_length=rules.MOST_SECTIONS)] = []
    people: People = []


class CloseIn(BaseModel):
    """With what outcome a goal is closed, and why."""

    outcome: rules.Outcome
    word: Text = ""


class FollowIn(BaseModel):
    """Whether one follows."""

    on: bool


class ServedOut(BaseModel):
    """A goal that a project serves, and what it adds."""

    goal: GoalLine
    done: Decimal
    total: Decimal
    adds: str = Field(description="What the project adds, in words")


class DueOut(BaseModel):
    """A goal whose progress note is due."""

    id: str
    title: str
    due: date


class MeasurePreview(BaseModel):
    """What a measure would find now."""

    how: StandingOut
    counted: list[CountedOut]
    fields: dict[str, str] = Field(description="The fields of these projects that can be summed, by key")


class MeasureIn(BaseModel):
    """A measure to be tried."""

    measure: MeasureModel
    first: Day
    last: Day


class ChangedGoal(BaseModel):
    """To take the change back by."""

    change: str


def how_out(goal: Goal, one: Standing) -> StandingOut:
    """How far a goal is."""
    return StandingOut(
        value=one.value, percent=one.percent, expected=one.expected, far=say_how_far(goal, one), health=one.health,
        proposed=one.proposed, why=one.why,
    )  # fmt: skip


def line_out(one: Shown, followed: frozenset[str] = frozenset()) -> GoalLine:
    """A goal in the tree."""
    return GoalLine(**_line(one, followed))


def _line(one: Shown, followed: frozenset[str]) -> dict[str, Any]:
    goal = one.goal
    return {
        "id": goal.id, "title": goal.title, "owner_id": goal.owner_id, "parent_id": one.parent_id, "first": goal.first,
        "last": goal.last, "period": say_period(goal.first, goal.last), "belongs": goal.belongs, "whose": goal.whose,
        "kind": goal.measure.kind, "measured": say_measured(goal.measure, one.codes, one.hidden), "start": say_start(goal.measure),
        "how": how_out(goal, one.standing), "outcome": goal.outcome, "due": one.due, "is_due": one.is_due, "weight": goal.weight, "right": one.right,
        "codes": list(one.codes), "hidden": one.hidden, "follows": goal.id in followed,
    }  # fmt: skip


def counted_out(goal: Goal, one: CountedProject) -> CountedOut:
    """What a project adds to a goal."""
    return CountedOut(
        code=one.code,
        name=one.name,
        done=one.done,
        total=one.total,
        items=[_item(goal, each) for each in one.items],
        unclear=one.unclear,
    )


def _item(goal: Goal, one: Item) -> ItemOut:
    slack = None if one.slack is None or one.finished else round(one.slack / one.day_minutes, 1)
    late = not one.finished and goal.ends_before(one.finish and one.finish.date())
    return ItemOut(
        id=one.task_id, number=one.number, title=one.title, finish=one.finish, finished=one.finished, late=late, slack_days=slack
    )


def detail_out(found: GoalDetail, person_id: str, local: Callable[[datetime], datetime]) -> GoalOut:
    """A goal in full, as a person sees it whose clock shows times so."""
    goal = found.shown.goal
    followed = frozenset({goal.id}) if person_id in found.followers else frozenset()
    return GoalOut(
        **_line(found.shown, followed), version=goal.version, description=goal.description, seen_by=goal.seen_by,
        people=dict(goal.people), measure=_measure(goal.measure), rhythm=goal.rhythm, word=goal.word,
        closed=local(goal.closed_at).date() if goal.closed_at else None, reading=found.reading,
        above=found.above.title if found.above else None, followers=found.followers,
        values=[ValueOut(id=one.id, day=one.day, value=one.value, person_id=one.person_id, note_id=one.note_id) for one in found.values],
        notes=[
            NoteOut(id=one.note.id, person_id=one.note.person_id, at=local(one.note.at), health=one.note.health, value=one.value,
                    sections=[SectionModel(name=name, text=text) for name, text in one.note.sections], people=list(one.note.people),
                    readers=one.readers)
            for one in found.notes
        ],
        below=[line_out(one) for one in found.below], counted=[counted_out(goal, one) for one in found.counted],
    )  # fmt: skip


def _measure(one: Measure) -> MeasureModel:
    return MeasureModel(
        kind=one.kind, unit=one.unit, sign=one.sign, decimals=one.decimals, start=one.start, target=one.target,
        projects=list(one.projects), where=one.where, counts=one.counts, by=one.by, field=one.field,
        steps=[StepModel(day=step.day, value=step.value) for step in one.steps],
    )  # fmt: skip
