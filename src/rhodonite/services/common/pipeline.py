"""What happens around a change of tasks, in one stated order. Areas join by registering their step; none is imported here.

``changing`` opens a change with the plan as it stands before. When the block ends well, the steps follow:

1. ``route``: what is of another kind or branch goes on in the workflow of that (tasks).
2. ``tied``: what is tied to work of other projects goes on with it (views).
3. ``release``: what was held by a task that is done goes on (tasks).
4. ``recur``: the next ones of tasks that repeat are written (tasks).
5. ``reschedule``: the plan is computed, and what moves is written, or first shown (schedule).
6. ``limits``: what passes a limit of the board is asked about, refused or noted (board).
7. ``tell``: those whom it concerns are told (talk).

``rhodonite.services`` imports every area that registers, so that no step is missing wherever a change comes from.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator, Mapping, Sequence
from contextlib import AbstractContextManager, contextmanager
from dataclasses import dataclass, replace
from decimal import Decimal
from typing import Literal

from pymysql.cursors import Cursor

from ...core.common.calendars import WorkingCalendar
from ...core.cost.effects import MoneyEffect
from ...core.goals.endangered import Endangered
from ...core.people.access import ProjectAction, may_in_project
from ...core.resources.capacity import Absence
from ...core.resources.effects import Effect
from ...core.resources.spent import Spent
from ...core.resources.typed_bookings import Named
from ...core.schedule.plan import Plan
from ...core.tasks.health import Worries
from ...core.tasks.model import Fields, Project, Task
from .context import Actor, Log, open_project, writing
from .plan_cache import PLANS, CachedPlan


@dataclass(frozen=True, slots=True)
class After:
    """What a step needs to know beside the tasks that were changed.

    Attributes:
        project, calendar: where the change is to these, as they are now.
        whole: True where the change is to the plan as a whole, so that everything that moves is shown in its ripple.
    """

    project: Project | None = None
    calendar: WorkingCalendar | None = None
    whole: bool = False


Step = Callable[[Cursor, Actor, Log, Plan, After], None]
"""Takes the plan as it stood before; ``log.tasks`` holds what was changed."""
InDraft = Callable[[Cursor, Actor, Project, str, str], AbstractContextManager[tuple[Log, CachedPlan]]]
"""Takes a draft's id and what is done, in words: opens a change that goes into the draft."""


@dataclass(frozen=True, slots=True)
class Way:
    """Tasks on their way to copies of them.

    Attributes:
        copies: by task the id of its copy.
        source, target: the projects of the tasks and of their copies, with their members.
        moves: True where the originals go.
        hanging: True where description, checklists, files and comments come along.
    """

    actor: Actor
    copies: Mapping[str, str]
    source: Project
    target: Project
    moves: bool = False
    hanging: bool = True

    def allows(self, action: ProjectAction) -> bool:
        """True where the person may do something at both ends."""
        ends = (self.source, self.target)
        return all(may_in_project(self.actor.role_in(one, one.members.get(self.actor.person.id)), action) for one in ends)


Along = Callable[[Cursor, Log, Way], None]
"""Copies or moves what an area keeps of tasks."""
SaidBeforeBin = Callable[[Cursor, Actor, Plan, Collection[str]], list[str]]
"""Takes a plan and the ids of tasks that go into the bin: gives what becomes of what an area keeps of them, in sentences."""
SaidBeforeMove = Callable[[Cursor, Way], list[str]]
"""Gives what an area keeps of tasks that does not come along, in sentences."""

Bookable = Callable[[Cursor, Actor, str], Sequence[Named]]
"""Takes the code of a project: gives who can be booked in it, as far as the person may know them."""

OnPeople = Callable[[Cursor, Actor, Plan, Mapping[str, Task], Mapping[str, Fields]], list[Effect]]
"""Takes a plan before a change, the tasks that were changed, and the dates of all that move by it: gives who becomes over, or
no longer is."""

OnMoney = Callable[[Cursor, Actor, Plan, Mapping[str, Task], Mapping[str, Fields]], MoneyEffect | None]
"""Takes the same: gives what becomes of the money of the project; None for who may not see it."""

OnGoals = Callable[[Cursor, Actor, Plan, Mapping[str, Task], Mapping[str, Fields]], list[Endangered]]
"""Takes the same: gives which goals that endangers, of those that the person
sees."""

ORDER = ("route", "tied", "book", "release", "recur", "reschedule", "limits", "tell")
_steps: dict[str, Step] = {}
_in_draft: list[InDraft] = []
_along: list[Along] = []
_before_bin: list[SaidBeforeBin] = []
_before_move: list[SaidBeforeMove] = []
_bookable: list[Bookable] = []
_on_people: list[OnPeople] = []
_on_money: list[OnMoney] = []
_on_goals: list[OnGoals] = []
Overbooked = Callable[[Cursor, Actor, Project], bool]
_overbooked: list[Overbooked] = []
OnBudget = Callable[[Cursor, Actor, Project], Literal["", "near", "over"]]
_budget: list[OnBudget] = []
OtherTime = Callable[[Cursor, Actor], None]
_other_time: list[OtherTime] = []


AbsencesSeen = Callable[[Cursor, Actor], Sequence[Absence]]
_absences: list[AbsencesSeen] = []
CurrencyChange = Callable[[Cursor, Plan, str | None], None]
_currency: list[CurrencyChange] = []


def checks_currency(function: CurrencyChange) -> CurrencyChange:
    """Registers what refuses another currency of a project where sums are kept in the one that it has."""
    _currency[:] = [function]
    return function


def check_currency_change(cur: Cursor, plan: Plan, currency: str | None) -> None:
    """Raises RuleError where a project cannot have another currency; None: that of the organisation."""
    _currency[0](cur, plan, currency)


PlannedCost = Callable[[Cursor, CachedPlan], Mapping[str, Decimal]]
_planned_cost: list[PlannedCost] = []


def knows_planned_cost(function: PlannedCost) -> PlannedCost:
    """Registers what knows what tasks are planned to cost."""
    _planned_cost[:] = [function]
    return function


def planned_cost(cur: Cursor, held: CachedPlan) -> Mapping[str, Decimal]:
    """By task what it is planned to cost, those below it left out; nothing where a project reckons no cost."""
    return _planned_cost[0](cur, held) if held.plan.project.costs else {}


SpentOn = Callable[[Cursor, CachedPlan], Spent]
_spent_on: list[SpentOn] = []


def knows_what_was_spent(function: SpentOn) -> SpentOn:
    """Registers what gives the hours that were entered on the tasks of a plan."""
    _spent_on[:] = [function]
    return function


def spent_on(cur: Cursor, held: CachedPlan) -> Spent:
    """By task and person the minutes that were entered, by day; nothing where a project records no time."""
    return _spent_on[0](cur, held) if held.plan.project.time else {}


OnLimits = Callable[[Cursor, Actor, Log, Plan], None]
_limits: list[OnLimits] = []


def knows_limits(function: OnLimits) -> OnLimits:
    """Registers what notes what stands beyond its limit on the board of a plan."""
    _limits[:] = [function]
    return function


def note_limits(cur: Cursor, actor: Actor, log: Log, plan: Plan) -> None:
    """Note what stands beyond its limit after a change that is held to none: to settings, or one that is taken back.

    Args:
        plan: as it stood before.
    """
    _limits[0](cur, actor, log, plan)


_ties: list[OnLimits] = []


def knows_ties_of_fields(function: OnLimits) -> OnLimits:
    """Registers what follows where the fields by which work is tied, or whether a project is archived, are changed."""
    _ties[:] = [function]
    return function


def follow_fields(cur: Cursor, actor: Actor, log: Log, plan: Plan) -> None:
    """Let what is tied follow a change to the settings of a project.

    Args:
        plan: as it stood before.
    """
    if any(entry.subject == "field" or (entry.subject, entry.field) == ("project", "archived_at") for entry in log.entries):
        _ties[0](cur, actor, log, plan)


def step(name: str) -> Callable[[Step], Step]:
    """Registers a step under one of the names of ``ORDER``."""
    assert name in ORDER, name

    def register(function: Step) -> Step:
        _steps[name] = function
        return function

    return register


def opens_drafts(function: InDraft) -> InDraft:
    """Registers what opens a change that goes into a draft."""
    _in_draft[:] = [function]
    return function


def comes_along(function: Along) -> Along:
    """Registers what hangs on a task and is copied with it."""
    _along.append(function)
    return function


def says_before_bin(function: SaidBeforeBin) -> SaidBeforeBin:
    """Registers what says what becomes of what an area keeps of tasks that go into the bin."""
    _before_bin.append(function)
    return function


def says_before_move(function: SaidBeforeMove) -> SaidBeforeMove:
    """Registers what says what an area keeps of tasks that does not come along when they move or are copied."""
    _before_move.append(function)
    return function


def says_who_can_be_booked(function: Bookable) -> Bookable:
    """Registers what knows who can be booked."""
    _bookable[:] = [function]
    return function


def who_can_be_booked(cur: Cursor, actor: Actor, code: str) -> Sequence[Named]:
    """People, crews and roles that can be booked in a project, by the names that people type."""
    return _bookable[0](cur, actor, code)


def knows_overbooked(function: Overbooked) -> Overbooked:
    """Registers what knows whether a project books people for more than they can do."""
    _overbooked[:] = [function]
    return function


def knows_budget(function: OnBudget) -> OnBudget:
    """Registers what knows how a project stands against its budget."""
    _budget[:] = [function]
    return function


def worries_of(cur: Cursor, actor: Actor, project: Project) -> Worries:
    """What else than dates weighs on a project, as far as the person may know it."""
    return Worries(_overbooked[0](cur, actor, project), _budget[0](cur, actor, project))


def knows_absences(function: AbsencesSeen) -> AbsencesSeen:
    """Registers what knows when people are away, as far as a person may read it."""
    _absences[:] = [function]
    return function


def absences_seen(cur: Cursor, actor: Actor) -> Sequence[Absence]:
    """When people are away, as far as the person may read it; nothing for guests."""
    return _absences[0](cur, actor)


def has_other_time(function: OtherTime) -> OtherTime:
    """Registers what is to be done where people work, or are away, at other times than before."""
    _other_time[:] = [function]
    return function


def follow_other_time(cur: Cursor, actor: Actor) -> None:
    """Let the plans follow where people work, or are away, at other times."""
    _other_time[0](cur, actor)


def says_who_is_over(function: OnPeople) -> OnPeople:
    """Registers what knows the load of people."""
    _on_people[:] = [function]
    return function


def on_people(cur: Cursor, actor: Actor, plan: Plan, after: Mapping[str, Task], moves: Mapping[str, Fields]) -> list[Effect]:
    """What a change of tasks does to people."""
    return _on_people[0](cur, actor, plan, after, moves) if plan.project.hours else []


def says_what_it_costs(function: OnMoney) -> OnMoney:
    """Registers what knows what a change costs."""
    _on_money[:] = [function]
    return function


def on_money(cur: Cursor, actor: Actor, plan: Plan, after: Mapping[str, Task], moves: Mapping[str, Fields]) -> MoneyEffect | None:
    """What a change of tasks does to money; None where no cost is reckoned, or for who may not see it."""
    return _on_money[0](cur, actor, plan, after, moves) if plan.project.costs else None


def says_which_goals(function: OnGoals) -> OnGoals:
    """Registers what knows which goals count the work of a project."""
    _on_goals[:] = [function]
    return function


def on_goals(cur: Cursor, actor: Actor, plan: Plan, after: Mapping[str, Task], moves: Mapping[str, Fields]) -> list[Endangered]:
    """Which goals a change of tasks endangers, or endangers no longer."""
    return _on_goals[0](cur, actor, plan, after, moves)


def as_before(log: Log) -> Project:
    """The project as it stood before a change, which has counted it up."""
    before = log.revision - 1
    return replace(log.project, revision=before, meta_revision=min(log.project.meta_revision, before))


@contextmanager
def changing(
    cur: Cursor, actor: Actor, code: str, what: str, action: ProjectAction = "edit", *, whole: bool = False
) -> Iterator[tuple[Log, CachedPlan]]:
    """Open a change to a project's tasks, with its plan as it stands before; the steps follow it.

    Args:
        whole: True where the change is to the plan as a whole, so that everything that moves is shown in its ripple.
    """
    project = open_project(cur, actor, code, action)
    if actor.draft is not None:
        with _in_draft[0](cur, actor, project, actor.draft, what) as (log, held):
            yield log, held
        return
    with writing(cur, actor, project.id, what, seen=project) as log:
        held = PLANS.at(cur, as_before(log), actor.clock.now())
        spent_on(cur, held)  # before anything is written: what is held in memory is what was committed
        yield log, held
        for name in ORDER:
            _steps[name](cur, actor, log, held.plan, After(whole=whole))


@contextmanager
def changing_project(cur: Cursor, actor: Actor, project_id: str, what: str) -> Iterator[tuple[Log, Plan]]:
    """Open a change to more than tasks, with the plan of the project as it stands before. No step follows by itself: where
    dates may move, ``reschedule`` is called once the change is known."""
    with writing(cur, actor, project_id, what, meta=True) as log:
        plan = PLANS.at(cur, as_before(log), actor.clock.now()).plan
        yield log, plan
        follow_fields(cur, actor, log, plan)
        note_limits(cur, actor, log, plan)


def reschedule(
    cur: Cursor,
    actor: Actor,
    log: Log,
    plan: Plan,
    *,
    project: Project | None = None,
    calendar: WorkingCalendar | None = None,
    whole: bool = False,
) -> None:
    """Do the step ``reschedule`` alone: after a change to a project, its calendar, or tasks that nobody is to be told of."""
    _steps["reschedule"](cur, actor, log, plan, After(project, calendar, whole))


def follow_on(cur: Cursor, actor: Actor, log: Log, plan: Plan) -> None:
    """Do all that follows a change of tasks that nobody asked for by hand: it asks nobody and is refused by no limit.

    Args:
        plan: as it stood before.
    """
    actor = replace(actor, consent=None)
    for name in ("route", "book", "release", "recur", "reschedule"):
        _steps[name](cur, actor, log, plan, After())
    note_limits(cur, actor, log, plan)
    _steps["tell"](cur, actor, log, plan, After())


def tell(cur: Cursor, actor: Actor, log: Log, plan: Plan, *, project: Project | None = None) -> None:
    """Do the step ``tell`` alone: after tasks were written otherwise than by ``changing``.

    Args:
        project: where the change is to it too, as it is now.
    """
    _steps["tell"](cur, actor, log, plan, After(project))


def bring_along(cur: Cursor, log: Log, way: Way) -> None:
    """Copy or move what areas keep of tasks to their copies."""
    for function in _along:
        function(cur, log, way)


def said_before_bin(cur: Cursor, actor: Actor, plan: Plan, ids: Collection[str]) -> list[str]:
    """What becomes of what areas keep of tasks that go into the bin, in sentences."""
    return [sentence for function in _before_bin for sentence in function(cur, actor, plan, ids)]


def said_before_move(cur: Cursor, way: Way) -> list[str]:
    """What areas keep of tasks that does not come along with them, in sentences."""
    return [sentence for function in _before_move for sentence in function(cur, way)]
