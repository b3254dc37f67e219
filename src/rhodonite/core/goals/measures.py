"""How far goals are, where they should be by now, and what that says of their health."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime
from decimal import ROUND_HALF_EVEN, Decimal

from ..schedule.plan import Row
from ..tasks.model import OPEN_CLASSES
from .model import HUNDRED, ZERO, Goal, GoalHealth, Measure, Value

STEADY_BEHIND, STRAINED_BEHIND = Decimal(5), Decimal(20)
"""By how many points of a hundred a goal may stand behind where it should be, to be steady, and to be strained."""
HEALTH_RULE = (
    f"Steady up to {STEADY_BEHIND} points of a hundred behind where it should be by now, strained up to {STRAINED_BEHIND}, "
    "slipping beyond that, or once its period is over and the target was not reached. A progress note can say otherwise."
)
_TENTH = Decimal("0.1")
MOST_ITEMS = 200


@dataclass(frozen=True, slots=True)
class Item:
    """A milestone, or a task, that a goal counts."""

    task_id: str
    number: int
    title: str
    finish: datetime | None
    finished: bool
    slack: int | None
    day_minutes: int


@dataclass(frozen=True, slots=True)
class Part:
    """What one project adds to a goal.

    Attributes:
        done, total: numbers of tasks, or minutes of effort; of a field its sum, in ``done``.
        count: how many tasks were counted; ``bare``: how many of them have no effort, where it is counted by that.
        items: the first of those that are counted, the open ones in order of their finish first.
        unfinished: the ids of all of them that are not finished.
        unclear: why it could not be counted; empty where it could.
        due: of milestones how many were to be reached by now: by their agreed date, else their deadline, else their planned one.
    """

    done: Decimal = ZERO
    total: Decimal = ZERO
    count: int = 0
    bare: int = 0
    items: tuple[Item, ...] = ()
    unfinished: tuple[str, ...] = ()
    unclear: str = ""
    due: Decimal = ZERO


@dataclass(frozen=True, slots=True)
class Standing:
    """How far a goal is.

    Attributes:
        value: in the unit of its measure; None where it has none.
        percent: of the way from start to target, between 0 and 100 with one decimal; None where nothing is known yet.
        expected: where that should be by now.
        done, total: of tasks or of minutes of effort, where it counts them; of goals below.
        proposed: what the distance says of its health, and ``why``.
        health: said by the latest progress note that judges it, else what is proposed.
    """

    value: Decimal | None = None
    percent: Decimal | None = None
    expected: Decimal | None = None
    done: Decimal | None = None
    total: Decimal | None = None
    proposed: GoalHealth | None = None
    why: str = ""
    health: GoalHealth | None = None
    bare: int = 0


def percent_of(measure: Measure, value: Decimal) -> Decimal:
    """How much of the way from start to target a value is, between 0 and 100.

    >>> percent_of(Measure(start=Decimal(12), target=Decimal(20)), Decimal(15))
    Decimal('37.5')
    """
    return _bounded((value - measure.start) / (measure.target - measure.start) * HUNDRED)


def _bounded(percent: Decimal) -> Decimal:
    return min(HUNDRED, max(ZERO, percent)).quantize(_TENTH, ROUND_HALF_EVEN)


def expected_by(measure: Measure, first: date, last: date, day: date) -> Decimal:
    """Where a goal should be at the end of a day, in percent: by the steps that were set, between them and without them by the
    time that has passed."""
    marks = [
        (step.day.toordinal(), percent_of(measure, step.value) if measure.has_value else step.value) for step in measure.steps
    ]
    at = day.toordinal()
    before = (first.toordinal() - 1, ZERO)
    for mark in [*marks, *([] if marks and marks[-1][0] == last.toordinal() else [(last.toordinal(), HUNDRED)])]:
        if at <= mark[0]:
            share = Decimal(max(0, at - before[0])) / Decimal(mark[0] - before[0])
            return _bounded(before[1] + (mark[1] - before[1]) * share)
        before = mark
    return HUNDRED if not marks else _bounded(before[1])


def propose_health(percent: Decimal | None, expected: Decimal, last: date, day: date) -> tuple[GoalHealth | None, str]:
    """What the distance to where a goal should be says of its health, and why."""
    if percent is None:
        return None, "Nothing is known of it yet."
    if day > last and percent < HUNDRED:
        return "slipping", f"Its period is over at {_say(percent)} %."
    behind = expected - percent
    if behind <= 0:
        ahead = f"{_say(-behind)} points ahead" if behind else "just where it should be"
        return "steady", f"{_say(percent)} %, {_say(expected)} % expected by now: {ahead}."
    health: GoalHealth = "steady" if behind <= STEADY_BEHIND else "strained" if behind <= STRAINED_BEHIND else "slipping"
    return health, f"{_say(percent)} %, {_say(expected)} % expected by now: {_say(behind)} points behind."


def _say(number: Decimal) -> str:
    return f"{number.normalize():f}"


def count_rows(
    rows: Iterable[Row], measure: Measure, number_of: Callable[[Row], object] | None = None, today: date | None = None
) -> Part:
    """What the tasks of one project add to a measure. Dropped tasks and summary tasks do not count.

    Args:
        rows: those that the measure's clauses leave.
        number_of: the field that is summed, where that is what is measured.
        today: by which milestones are looked at that were to be reached.
    """
    done, total, bare = ZERO, ZERO, 0
    due = ZERO
    counted = [row for row in rows if not row.is_summary and row.state_class != "dropped" and _is_counted(row, measure)]
    for row in counted:
        finished = row.state_class == "finished"
        if measure.kind == "field":
            found = number_of(row) if number_of else None
            done += found if isinstance(found, Decimal) else ZERO
        elif measure.by == "effort":
            effort = row.effort or 0
            bare += not effort
            total += effort
            done += Decimal(effort) * (100 if finished else row.percent) / 100
        else:
            total += 1
            done += finished
            due += today is not None and _was_due(row, today)
    return Part(done, total, len(counted), bare, _items(counted),
                tuple(row.task.id for row in counted if row.state_class != "finished"), due=due)  # fmt: skip


def _was_due(row: Row, today: date) -> bool:
    at = (row.agreed.finish if row.agreed else None) or row.task.deadline or row.finish
    return at is not None and at.date() <= today


def _is_counted(row: Row, measure: Measure) -> bool:
    return measure.kind == "field" or (row.task.kind == "milestone") == (measure.counts == "milestones")


def _items(rows: Sequence[Row]) -> tuple[Item, ...]:
    shown = sorted(
        rows,
        key=lambda row: (row.state_class not in OPEN_CLASSES, row.finish is None, row.finish or datetime.max, row.task.number),
    )
    return tuple(
        Item(row.task.id, row.task.number, row.task.title, row.finish, row.state_class == "finished", row.slack, row.day_minutes)
        for row in shown[:MOST_ITEMS]
    )


@dataclass(frozen=True, slots=True)
class Facts:
    """From what goals are measured.

    Attributes:
        parts: by goal what each project adds, for those that count tasks.
        values: by goal its values, for those that are measured by hand; the latest decides.
        said: by goal the health that its latest note judges.
    """

    parts: Mapping[str, Sequence[Part]] = field(default_factory=dict)
    values: Mapping[str, Sequence[Value]] = field(default_factory=dict)
    said: Mapping[str, GoalHealth] = field(default_factory=dict)


def measure_all(goals: Mapping[str, Goal], facts: Facts, today: date) -> dict[str, Standing]:
    """How far each goal is, those below a goal before it.

    Args:
        goals: by id, none of them in a circle; a goal whose parent is not among them stands alone.
    """
    below: dict[str | None, list[Goal]] = {}
    for one in goals.values():
        below.setdefault(one.parent_id if one.parent_id in goals else None, []).append(one)
    found: dict[str, Standing] = {}
    order = list(below.get(None, ()))
    for one in order:  # grows while it is walked: parents stand before what is below them
        order += below.get(one.id, ())
    for one in reversed(order):
        found[one.id] = _measured(one, facts, [(each, found[each.id]) for each in below.get(one.id, ())], today)
    return found


def _measured(one: Goal, facts: Facts, below: Sequence[tuple[Goal, Standing]], today: date) -> Standing:
    made = _reached(one, facts, below)
    day = min(today, one.closed_at.date()) if one.closed_at else today
    expected = _expected(one, facts.parts.get(one.id, ()), day)
    if not one.is_open:
        health = made.health
        return Standing(
            one.closed_value, one.closed_percent, expected, one.closed_done, one.closed_total, None, "", health, made.bare
        )
    proposed, why = propose_health(made.percent, expected, one.last, day)
    return Standing(
        made.value, made.percent, expected, made.done, made.total, proposed, why, facts.said.get(one.id, proposed), made.bare
    )


def _expected(one: Goal, parts: Sequence[Part], day: date) -> Decimal:
    """Where a goal should be at the end of a day. Milestones have dates of their own: where no steps were set, as many of them
    should be reached as were to be by then."""
    measure = one.measure
    total = sum((each.total for each in parts), ZERO)
    if measure.kind == "tasks" and measure.counts == "milestones" and not measure.steps and total and one.is_open:
        return _bounded(sum((each.due for each in parts), ZERO) / total * HUNDRED)
    return expected_by(measure, one.first, one.last, day)


def _reached(one: Goal, facts: Facts, below: Sequence[tuple[Goal, Standing]]) -> Standing:
    measure = one.measure
    if measure.kind == "hand":
        values = facts.values.get(one.id, ())
        if not values:
            return Standing()
        value = max(values, key=lambda each: (each.day, each.at)).value
        return Standing(value, percent_of(measure, value))
    if measure.kind == "goals":
        known = [(goal.weight, how.percent) for goal, how in below if how.percent is not None and goal.outcome != "withdrawn"]
        if not known:
            return Standing()
        weighed = sum((weight * percent for weight, percent in known), ZERO) / sum(weight for weight, _ in known)
        reached = sum(percent == HUNDRED for _, percent in known)
        return Standing(None, _bounded(weighed), done=Decimal(reached), total=Decimal(len(known)))
    parts = facts.parts.get(one.id, ())
    done, total = sum((each.done for each in parts), ZERO), sum((each.total for each in parts), ZERO)
    if measure.kind == "field":
        return Standing(done, percent_of(measure, done)) if any(each.count for each in parts) else Standing()
    bare = sum(each.bare for each in parts)
    return Standing(None, _bounded(done / total * HUNDRED) if total else None, done=done, total=total, bare=bare)
