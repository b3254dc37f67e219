"""The scope sentence: which tasks are shown."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from datetime import date

from ..cost.shown import PREFIX, Money
from ..people.viewer import NOBODY, Viewer
from ..schedule.plan import Plan, Row
from ..tasks.model import OPEN_CLASSES
from .catalogue import Catalogue
from .columns import Columns
from .conditions import Clause, Group, holding


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


_LISTS = (("kinds", "kind"), ("owners", "owner"), ("states", "state"), ("classes", "class"))
"""Of a sentence the lists, each with the field that says the same in a clause."""


def joined(first: Scope, second: Scope) -> Scope:
    """One sentence that leaves the tasks that both leave."""
    parts = [*_all_of(first.where), *_all_of(second.where)]
    lists: dict[str, tuple[str, ...]] = {}
    for name, key in _LISTS:
        one, other = getattr(first, name), getattr(second, name)
        lists[name] = other or one
        if one and other and set(one) != set(other):
            parts.append(Clause(key, "any", list(one)))
    return Scope(
        **lists,
        text=f"{first.text} {second.text}".strip(),
        since=max(filter(None, (first.since, second.since)), default=None),
        until=min(filter(None, (first.until, second.until)), default=None),
        late=first.late or second.late,
        unowned=first.unowned or second.unowned,
        held=first.held or second.held,
        where=Group("all", tuple(parts)),
    )


def _all_of(group: Group) -> tuple[Clause | Group, ...]:
    """The parts of a group that must all hold."""
    if group.joined == "all" or len(group.parts) < 2:
        return group.parts
    return (group,)


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
    tests = _tests(scope, owners, words)
    if columns is not None and scope.where.parts:
        tests.append(holding(scope.where, columns, viewer))
    return _all_hold(tests)


Test = Callable[[Row], bool]


def _all_hold(tests: Sequence[Test]) -> Test:
    """One test of several: of a hundred thousand rows each question costs."""
    if not tests:
        return lambda _: True
    if len(tests) == 1:
        return tests[0]
    if len(tests) == 2:
        first, second = tests
        return lambda row: first(row) and second(row)
    return lambda row: all(test(row) for test in tests)


def _tests(scope: Scope, owners: frozenset[str], words: tuple[str, ...]) -> list[Test]:
    """What a sentence asks of a row besides its further clauses; those first that leave the least."""
    kinds, states, classes = frozenset(scope.kinds), frozenset(scope.states), frozenset(scope.classes)
    found: list[Test] = []
    if scope.late:
        found.append(lambda row: row.late_days > 0)
    if scope.held:
        found.append(lambda row: row.task.is_held and row.state_class in OPEN_CLASSES)
    if scope.unowned:
        found.append(lambda row: row.task.owner_id is None and row.state_class in OPEN_CLASSES)
    if kinds:
        found.append(lambda row: row.task.kind in kinds)
    if owners:
        found.append(lambda row: (row.task.owner_id or NOBODY) in owners)
    if states:
        found.append(lambda row: row.state_id in states)
    if classes:
        found.append(lambda row: row.state_class in classes)
    if words:
        found.append(lambda row: _speaks_of(row, words))
    if scope.since is not None or scope.until is not None:
        found.append(_touching(scope.since or date.min, scope.until or date.max))
    return found


def _speaks_of(row: Row, words: tuple[str, ...]) -> bool:
    title = row.task.title.lower()
    return all(word in title or word == str(row.task.number) for word in words)


def _touching(since: date, until: date) -> Test:
    def touches(row: Row) -> bool:
        start, finish = row.start or row.finish, row.finish or row.start
        return start is not None and finish is not None and finish.date() >= since and start.date() <= until

    return touches


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
