"""The scope sentence: which tasks are shown."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import date

from ..cost.shown import PREFIX, Money
from ..people.viewer import NOBODY, Viewer
from ..schedule.plan import Plan, Row
from ..tasks.model import OPEN_CLASSES
from .catalogue import Catalogue, Columns
from .conditions import Group, holding


@dataclass(frozen=True, slots=True)
class Scope:
    """The clauses of a scope sentence; an empty one shows all work. All clauses must hold.

    Args:
        kinds, owners, states, classes: any of these; ``owners`` may hold ``me``, ``my_team``, ``nobody`` and teams.
        text: words that must all stand in the title, or the code of a task.
        since, until: the task's dates touch this span of days.
        late, unowned, held: only such tasks.
        where: further clauses, over any field.
    """

    kinds: tuple[str, ...] = ()
    owners: tuple[str, ...] = ()
    states: tuple[str, ...] = ()
    classes: tuple[str, ...] = ()
    text: str = ""
    since: date | None = None
    until: date | None = None
    late: bool = False
    unowned: bool = False
    held: bool = False
    where: Group = field(default_factory=Group)

    @property
    def is_everything(self) -> bool:
        """True where the sentence leaves nothing out."""
        return self == Scope()

    @property
    def names_money(self) -> bool:
        """True where it asks what tasks cost."""
        return any(clause.key.startswith(PREFIX) for clause in self.where.clauses)

    @property
    def names_people(self) -> bool:
        """True where what it leaves may depend on who asks: it may say “me”, or name a team."""
        return bool(self.owners or self.where.parts)


@dataclass(frozen=True, slots=True)
class Selection:
    """What a scope leaves: the ids, and what a manager asks about them. Summary tasks do not count."""

    ids: list[str]
    shown: int
    total: int
    late: int
    unowned: int
    held: int


def within(scope: Scope, plan: Plan, viewer: Viewer, money: Money | None = None) -> Callable[[Row], bool]:
    """A scope made ready to be asked of many rows. Raises RuleError where a clause names a field that is there no more.

    Args:
        money: what tasks cost, for who may see it.
    """
    return within_columns(scope, Catalogue(plan, {}, money=money) if scope.where.parts else None, viewer)


def within_columns(scope: Scope, columns: Columns | None, viewer: Viewer) -> Callable[[Row], bool]:
    """As ``within``, for clauses over some columns; None where there are no clauses."""
    if scope.is_everything:
        return lambda _: True
    words, owners = tuple(scope.text.lower().split()), viewer.people(scope.owners)
    if scope.owners and not owners:  # a team without people
        return lambda _: False
    if columns is None:
        return lambda row: _holds(scope, row, owners, words)
    test = holding(scope.where, columns, viewer)
    return lambda row: _holds(scope, row, owners, words) and test(row)


def _holds(scope: Scope, row: Row, owners: frozenset[str], words: tuple[str, ...]) -> bool:
    task = row.task
    if scope.kinds and task.kind not in scope.kinds:
        return False
    if owners and (task.owner_id or NOBODY) not in owners:
        return False
    if scope.states and row.state_id not in scope.states:
        return False
    if scope.classes and row.state_class not in scope.classes:
        return False
    if (scope.late and not row.late_days) or (scope.held and not (task.is_held and row.state_class in OPEN_CLASSES)):
        return False
    if scope.unowned and (task.owner_id is not None or row.state_class not in OPEN_CLASSES):
        return False
    if words and not _speaks_of(row, words):
        return False
    return _touches(scope, row)


def _speaks_of(row: Row, words: tuple[str, ...]) -> bool:
    title = row.task.title.lower()
    return all(word in title or word == str(row.task.number) for word in words)


def _touches(scope: Scope, row: Row) -> bool:
    if scope.since is None and scope.until is None:
        return True
    start, finish = row.start or row.finish, row.finish or row.start
    if start is None or finish is None:
        return False
    return (scope.since is None or finish.date() >= scope.since) and (scope.until is None or start.date() <= scope.until)


def select(plan: Plan, scope: Scope, viewer: Viewer, money: Money | None = None) -> Selection:
    """The tasks of a plan within a scope.

    Args:
        viewer: for sentences that say “me” or “my team”.
        money: what tasks cost, for who may see it.

    Returns:
        ids of all tasks within the scope, summary tasks included where they are within it themselves.
    """
    test = within(scope, plan, viewer, money)
    ids: list[str] = []
    shown = total = late = unowned = held = 0
    for task_id, row in plan.rows.items():
        inside = test(row)
        if inside:
            ids.append(task_id)
        if row.is_summary:
            continue
        total += 1
        if inside:
            shown += 1
            is_open = row.state_class in OPEN_CLASSES
            late += row.late_days > 0
            unowned += is_open and row.task.owner_id is None
            held += is_open and row.task.is_held
    return Selection(ids, shown, total, late, unowned, held)
