"""The items of a portfolio: what is shown of a plan, when each is expected and what holds it up, alone and by what it is tied to."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from ..schedule.agreed import variance, whole_days
from ..schedule.plan import Plan, Row
from ..tasks.model import OPEN_CLASSES, Health, Project, State
from ..views.tied import tied_to
from .blocking import Blocker, forecasts, what_holds_up
from .parts import Part, chosen, column_of, health_of_tied, is_troubled


@dataclass(frozen=True, slots=True)
class Item:
    """A larger item of the portfolio, or of a part what is shown of it.

    Attributes:
        project: in which it is a task.
        column: the state of the portfolio in whose column it stands; None where it stands in none.
        start: of its own; of an item that is tied and has none the earliest of what it is tied to.
        expected: when it is expected to finish: of what is tied when that is. ``promised``: the agreed finish, else the deadline;
            ``past`` by how many working days it is expected after that.
        blocker: what holds it up, and ``blocks_in`` the project in which that is.
        needs: ids of other items of the same part that it waits for, or that something under it waits for.
        tied: ids of tasks of other projects that it is tied to, whoever may see them.
        judged: its health, where that is not its own.
        lane: of the portfolio's own board; None where no lane takes it, and for items of parts.
    """

    project: Project
    row: Row
    state: str
    column: str | None
    start: datetime | None
    expected: datetime | None
    promised: datetime | None
    past: int | None
    blocker: Blocker | None
    blocks_in: Project
    needs: tuple[str, ...] = ()
    tied: tuple[str, ...] = ()
    lane: str | None = None
    judged: Health | None = None

    @property
    def health(self) -> Health:
        """As it is judged: of an item without dates that is tied by what it is tied to."""
        return self.judged or self.row.health

    @property
    def troubled(self) -> bool:
        """True where it asks for attention."""
        return is_troubled(self.row, self.health, self.past)


@dataclass(frozen=True, slots=True)
class Shown:
    """What is found of a plan once, for whoever reads it.

    Attributes:
        rows: those that the portfolio shows, in outline order.
        expected: by task when it is expected to finish.
        blockers: by item what holds it up.
        needs: by item the others that it, or what stands below it, waits for.
    """

    rows: list[Row]
    expected: Mapping[str, datetime]
    blockers: Mapping[str, Blocker | None]
    needs: Mapping[str, tuple[str, ...]]


def find(plan: Plan, shows: str) -> Shown:
    """What a portfolio shows of a plan; see ``Part.shows``."""
    rows = chosen(plan, shows)
    expected = forecasts(plan)
    blockers = {row.task.id: what_holds_up(plan, row.task.id, expected) for row in rows}
    return Shown(rows, expected, blockers, _needs(plan, rows))


def _needs(plan: Plan, rows: Sequence[Row]) -> dict[str, tuple[str, ...]]:
    """By item the others that it, or what stands below it, waits for."""
    item_of: dict[str, str] = {}
    for row in rows:
        for one in [row.task.id, *plan.outline.below(row.task.id)]:
            item_of.setdefault(one, row.task.id)
    found: dict[str, dict[str, None]] = {}
    for one, item in item_of.items():
        for link in plan.tasks[one].waits_for:
            other = item_of.get(link.from_id)
            if other is not None and other != item:
                found.setdefault(item, {})[other] = None
    return {item: tuple(others) for item, others in found.items()}


def item_of(plan: Plan, row: Row, part: Part | None, columns: Sequence[State], shown: Shown) -> Item:
    """A row of a plan as an item, by its own work alone.

    Args:
        part: None for the portfolio's own.
        columns: the states of the portfolio's main workflow, in order.
        shown: of that plan.
    """
    task_id = row.task.id
    is_open = row.state_class in OPEN_CLASSES
    expected = shown.expected.get(task_id) if is_open else row.finish
    promised = row.agreed.finish if row.agreed and row.agreed.finish else row.task.deadline
    past = whole_days(variance(expected, promised, plan.calendar), plan.calendar) if promised and expected else None
    tied = tuple(one for some in tied_to(plan, task_id).values() for one in some)
    state = plan.project.state_label(plan.project.state(row.state_id))
    return Item(
        plan.project, row, state, column_of(row, part, columns), row.start, expected, promised, past, shown.blockers[task_id],
        plan.project, shown.needs.get(task_id, ()), tied,
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class There:
    """A plan of the portfolio, with what is found of it.

    Attributes:
        seen: True where the reader may see its tasks.
    """

    plan: Plan
    shown: Shown
    seen: bool


def with_ties(items: Sequence[Item], parts: Iterable[There]) -> list[Item]:
    """Items, those that are tied to work of the parts judged by that: see ``_tied``. Grows with parts × ties."""
    wanted = {one for item in items for one in item.tied}
    where = {one: there for there in parts for one in wanted if one in there.plan.rows}
    return [_tied(one, where) if one.tied else one for one in items]


def _tied(item: Item, where: Mapping[str, There]) -> Item:
    """An item that is tied to work of the parts is expected when that is, and held up by what holds up the last of it."""
    if item.row.state_class not in OPEN_CLASSES:
        return item
    tied = [
        (there.shown.expected.get(one), there.plan.rows[one], there) for one in item.tied if (there := where.get(one)) is not None
    ]
    starts = [row.start for _, row, _ in tied if row.start] if item.row.start is None else [item.row.start]
    item = replace(item, start=min(starts, default=None))
    still = [one for one in tied if one[0] is not None and one[1].state_class in OPEN_CLASSES]
    if still:
        at, row, there = max(still, key=lambda one: one[0] or datetime.min)
        plan = there.plan
        past = whole_days(variance(at, item.promised, plan.calendar), plan.calendar) if item.promised else None
        blocker = what_holds_up(plan, row.task.id, there.shown.expected) if there.seen else None
        item = replace(item, expected=at, past=past, blocker=blocker, blocks_in=plan.project)
    return replace(item, judged=health_of_tied(item.row.health, item.past, [row.health for _, row, _ in tied]))
