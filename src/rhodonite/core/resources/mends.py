"""Mends: changes that take an overload away, each of one task: move it, give its hours to another, let it last longer, or
split it around the days that are too full."""

from __future__ import annotations

import re
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime
from fractions import Fraction
from typing import Any, Literal

from ..common.bounds import MOST_BOOKED_DAYS
from ..common.calendars import WorkingCalendar, datetime_of, minute_of
from ..schedule.plan import Plan, Row
from ..tasks.booked import write_booking
from ..tasks.hours import hours_of
from ..tasks.model import OPEN_CLASSES, PINS, Booking, Task
from .capacity import Capacity
from .load import lay_task
from .spent import NOTHING, Spent

LONGEST_MOVE = 40
"""Working days by which a task is moved at most."""
LONGEST_SPLIT = 120
"""Days within which what is split finds its places."""
LONGEST_STRETCH = 3
"""Times its length that a task is stretched to at most."""


_NAMES = ("who", "minutes", "shape", "by_day", "resource", "of", "amount")


@dataclass(frozen=True, slots=True)
class Mend:
    """A change of one task that takes an overload away, or a part of it.

    Attributes:
        fields: of the task, as they are sent.
        days: working days by which it moves or lasts longer, or on which it rests.
        minutes: that are given to another; ``to``: whom; ``free``: how many minutes they have free in those days; ``done``:
            how many finished tasks of such a title they worked on.
        relief: minutes over that it takes away.
    """

    kind: Literal["move", "give", "stretch", "split"]
    task_id: str
    fields: Mapping[str, Any]
    relief: int
    days: int = 0
    minutes: int = 0
    to: str | None = None
    free: int = 0
    done: int = 0


@dataclass(frozen=True, slots=True)
class People:
    """The capacity of everybody, and what lies on them by the ordinal of the day, over all projects."""

    capacities: Mapping[str, Capacity]
    usual: Capacity
    load: Mapping[str, Mapping[int, int]]
    spent: Spent = field(default_factory=dict)

    def capacity(self, who: str) -> Capacity:
        """Of one of them."""
        return self.capacities.get(who, self.usual)

    def over(self, who: str, days: Iterable[int], change: Mapping[int, int] | None = None) -> int:
        """Minutes over on some days, with what a change adds."""
        capacity, lies, more = self.capacity(who), self.load.get(who, {}), change or {}
        return sum(max(0, lies.get(day, 0) + more.get(day, 0) - capacity.on(day)) for day in days)


def mends(plan: Plan, who: str, days: Sequence[int], people: People, others: Sequence[str]) -> list[Mend]:
    """Ways to take away by how much somebody is over on some days, by changing one task of a plan.

    Args:
        days: ordinals of the days that are looked at.
        others: who may be given hours, the project's people.

    Returns:
        of each task and kind the least change that takes away most; in no order.
    """
    over = [day for day in days if people.over(who, [day])]
    found: list[Mend] = []
    done = finished_work(plan) if over else []
    for row in plan.leaves():
        mine = next((one for one in row.task.bookings if one.who == who and one.of == "labour"), None)
        if not over or mine is None or row.state_class not in OPEN_CLASSES or not row.start or not row.finish:
            continue
        now = _laid(row.task, plan, people)
        if not any(now.get(who, {}).get(day) for day in over):
            continue
        ways = (_move(row, plan, who, over, people, now), _give(row, mine, plan, over, people, now, others, done),
                _stretch(row, plan, who, over, people, now), _split(row, mine, plan, over, people, now))  # fmt: skip
        found += [one for one in ways if one is not None and one.relief > 0]
    return found


def _sent(one: Booking) -> dict[str, Any]:
    return dict(zip(_NAMES, write_booking(one), strict=False))


def _laid(task: Task, plan: Plan, people: People) -> dict[str, Mapping[int, int]]:
    spent = people.spent.get(task.id, NOTHING)
    return dict(lay_task(task, plan, people.capacities, people.usual, spent=spent))


def _change(before: Mapping[int, int], after: Mapping[int, int]) -> dict[int, int]:
    return {day: after.get(day, 0) - before.get(day, 0) for day in before.keys() | after.keys()}


def _harms(before: Mapping[str, Mapping[int, int]], after: Mapping[str, Mapping[int, int]], people: People) -> int:
    """Minutes over that a change brings to anybody on any day."""
    harm = 0
    for who in before.keys() | after.keys():
        change = _change(before.get(who, {}), after.get(who, {}))
        harm += sum(max(0, people.over(who, [day], change) - people.over(who, [day])) for day in change)
    return harm


def _relief(who: str, over: Sequence[int], before: Mapping[int, int], after: Mapping[int, int], people: People) -> int:
    return people.over(who, over) - people.over(who, over, _change(before, after))


def _is_free_to_move(row: Row) -> bool:
    return row.state_class == "queued" and row.task.actual_start is None and row.task.constraint_type not in PINS


def _move(
    row: Row, plan: Plan, who: str, over: Sequence[int], people: People, now: Mapping[str, Mapping[int, int]]
) -> Mend | None:
    """Later by the fewest days by which it helps most, as far as its slack allows."""
    calendar = hours_of(row.task, plan.project, plan.calendar)
    if not _is_free_to_move(row) or not row.slack or not row.duration or row.start is None:
        return None
    best: Mend | None = None
    for days in range(1, min(row.slack // row.day_minutes, LONGEST_MOVE) + 1):
        start = _opening(calendar, calendar.add_to(row.start, days * calendar.day_minutes))
        moved = row.task.with_fields({"start": start, "finish": calendar.add_to(start, row.duration)})
        after = _laid(moved, plan, people)
        relief = _relief(who, over, now[who], after.get(who, {}), people)
        if relief > (best.relief if best else 0) and not _harms(now, after, people):
            fields = {"constraint_type": "start_no_earlier", "constraint_at": start.isoformat(timespec="minutes")}
            best = Mend("move", row.task.id, fields, relief, days=days)
        if best and not any(after.get(who, {}).get(day) for day in over):
            break  # further on it takes nothing more away
    return best


def _opening(calendar: WorkingCalendar, at: datetime) -> datetime:
    return datetime_of(calendar.next_working(minute_of(at)))


def _give(
    row: Row, mine: Booking, plan: Plan, over: Sequence[int], people: People, now: Mapping[str, Mapping[int, int]],
    others: Sequence[str], done: FinishedWork,
) -> Mend | None:  # fmt: skip
    """Its hours, or a part of them, to somebody who has room: who takes most, has done such work before, has most room."""
    best: Mend | None = None
    for other in others:
        if other == mine.who or any(one.who == other for one in row.task.bookings):
            continue
        one = next(filter(None, (_give_part(row, mine, other, part, plan, over, people, now, done) for part in _PARTS)), None)
        if one and (best is None or (one.relief, one.done, one.free) > (best.relief, best.done, best.free)):
            best = one
    return best


_PARTS = (Fraction(1), Fraction(3, 4), Fraction(1, 2), Fraction(1, 4))
"""Of the hours of a booking what is given, the most that harms nobody."""
_GIVEN_IN = 30
"""Minutes, of which parts are whole multiples."""


def _give_part(
    row: Row, mine: Booking, other: str, part: Fraction, plan: Plan, over: Sequence[int], people: People,
    now: Mapping[str, Mapping[int, int]], done: FinishedWork,
) -> Mend | None:  # fmt: skip
    minutes = mine.minutes if part == 1 else int(mine.minutes * part) // _GIVEN_IN * _GIVEN_IN
    if not minutes or (part != 1 and mine.shape == "by_day"):
        return None
    kept = [] if part == 1 else [replace(mine, minutes=mine.minutes - minutes)]
    given = [Booking(other, minutes, "even"), *kept]
    bookings = tuple(each for one in row.task.bookings for each in (given if one is mine else [one]))
    after = _laid(row.task.with_fields({"bookings": bookings}), plan, people)
    relief = _relief(mine.who, over, now[mine.who], after.get(mine.who, {}), people)
    if relief <= 0 or _harms(now, after, people):
        return None
    days = after.get(other, {}).keys()
    free = sum(people.capacity(other).on(day) - people.load.get(other, {}).get(day, 0) for day in days)
    fields = {"bookings": [_sent(one) for one in bookings]}
    known = times_done(done, other, row.task.title)
    return Mend("give", row.task.id, fields, relief, minutes=minutes, to=other, free=free, done=known)


def _stretch(
    row: Row, plan: Plan, who: str, over: Sequence[int], people: People, now: Mapping[str, Mapping[int, int]]
) -> Mend | None:
    """Longer by the fewest days by which it helps most: where the hours of a day fit, else as far as that goes."""
    if not row.duration or row.start is None or row.task.constraint_type in PINS or row.task.elapsed:
        return None
    ratio = Fraction(1)
    for day in over:
        lies = now[who].get(day, 0)
        too_much = people.over(who, [day])
        if lies and too_much < lies:
            ratio = max(ratio, Fraction(lies, lies - too_much))
        elif lies:  # the day is full without it
            ratio = Fraction(LONGEST_STRETCH)
    day_minutes = row.day_minutes
    best: Mend | None = None
    enough = -int(-(row.duration * (ratio - 1)) // day_minutes)
    days = enough if ratio < LONGEST_STRETCH else 1
    calendar = hours_of(row.task, plan.project, plan.calendar)
    while days >= 1 and row.duration + days * day_minutes <= LONGEST_STRETCH * row.duration:
        duration = row.duration + days * day_minutes
        longer = row.task.with_fields({"duration": duration, "finish": calendar.add_to(row.start, duration)})
        after = _laid(longer, plan, people)
        relief = _relief(who, over, now[who], after.get(who, {}), people)
        if relief > (best.relief if best else 0) and not _harms(now, after, people):
            best = Mend("stretch", row.task.id, {"duration": duration, "on_length": "hours"}, relief, days=days)
        if best and days >= enough:
            break
        days += 1
    return best


def _split(
    row: Row, mine: Booking, plan: Plan, over: Sequence[int], people: People, now: Mapping[str, Mapping[int, int]]
) -> Mend | None:
    """Rest on the days that are too full, and do what lay there on the days after: the hours are set by day."""
    who = mine.who
    if not row.duration or row.start is None or row.task.constraint_type in PINS or row.task.elapsed:
        return None
    laid = now.get(who, {})
    parts = [laid[day] for day in sorted(laid) if laid[day]]
    by_day = _around(row.start.toordinal(), parts, set(over), people.capacity(who))
    rests = by_day.count(0) if by_day else 0
    if not by_day or not rests or by_day[0] == 0 or len(by_day) > MOST_BOOKED_DAYS:
        return None  # it would not begin before it rests: that is a move
    calendar = hours_of(row.task, plan.project, plan.calendar)
    duration = row.duration + rests * row.day_minutes
    split = replace(mine, shape="by_day", by_day=tuple(by_day))
    bookings = tuple(split if one is mine else one for one in row.task.bookings)
    longer = {"duration": duration, "finish": calendar.add_to(row.start, duration), "bookings": bookings}
    after = _laid(row.task.with_fields(longer), plan, people)
    relief = _relief(who, over, laid, after.get(who, {}), people)
    if not relief or _harms(now, after, people):
        return None
    fields = {"duration": duration, "on_length": "hours", "bookings": [_sent(one) for one in bookings]}
    return Mend("split", row.task.id, fields, relief, days=rests)


def _around(first: int, parts: Sequence[int], full: Collection[int], capacity: Capacity) -> list[int]:
    """Some minutes laid on the working days of a person from a day on, each on one, with none on days that are full.

    Returns:
        Minutes by working day, up to the last on which some lie; nothing where they find no place.
    """
    by_day: list[int] = []
    left = list(parts)
    for day in range(first, first + LONGEST_SPLIT):
        if not left:
            break
        if capacity.hours_on(day):
            by_day.append(0 if day in full else left.pop(0))
    return [] if left else by_day


FinishedWork = Sequence[tuple[frozenset[str], frozenset[str | None]]]
"""Of each finished task the longer words of its title, and who owned it or helped."""


def finished_work(plan: Plan) -> FinishedWork:
    """What the finished tasks of a plan were, and who worked on them."""
    return [
        (_words(row.task.title), frozenset((row.task.owner_id, *row.task.helpers)))
        for row in plan.leaves()
        if row.state_class == "finished"
    ]


def times_done(done: FinishedWork, who: str, title: str) -> int:
    """On how many finished tasks, with a longer word of this title in theirs, somebody worked."""
    words = _words(title)
    return sum(who in people and bool(words & known) for known, people in done)


_LEAST_FIRST = {"wont": 0, "could": 1, None: 2, "should": 3, "must": 4}
"""Work that is least missed is touched first."""


def rank(relief: int, later: int, over: int, others: int, steps: Sequence[tuple[Mend, Task]]) -> tuple[object, ...]:
    """By what ways out are ranked, the best first: what makes nobody overbooked, then what helps most, then what moves the
    finish, other people and other tasks least, then what takes fewest steps and days, and touches what is least missed.

    Args:
        relief: minutes over that it takes away.
        later: minutes by which the project finishes later.
        over: minutes over that it brings to anybody.
        others: tasks that move with it.
        steps: what it changes.
    """
    touched = [(_LEAST_FIRST[task.priority], task.number) for _, task in steps]
    return over > 0, -relief, later, over, others, len(steps), sum(mend.days for mend, _ in steps), touched


def _words(title: str) -> frozenset[str]:
    return frozenset(word for word in re.findall(r"\w+", title.casefold()) if len(word) > 4)
