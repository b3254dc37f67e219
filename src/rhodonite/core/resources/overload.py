"""Who is booked for more than they can do, in which week, in words."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass
from datetime import date

from ..common.dates import say_day
from ..common.durations import say_hours
from .capacity import Capacity
from .load import Line, PlanLoad, Span

WEEKS_AHEAD = 8


@dataclass(frozen=True, slots=True)
class Overload:
    """By how many minutes somebody is over in the week that begins on a Monday."""

    who: str
    monday: date
    minutes: int


def overloads(lines: Iterable[Line], span: Span) -> list[Overload]:
    """Every week in which somebody is over, the worst first.

    Args:
        lines: by week.
        span: of the same weeks.
    """
    found = [
        Overload(line.who, date.fromordinal(edge), minutes)
        for line in lines
        for edge, minutes in zip(span.edges, line.over, strict=False)
        if minutes
    ]
    return sorted(found, key=lambda one: (-one.minutes, one.monday, one.who))


def is_overbooked(
    load: PlanLoad, capacities: Mapping[str, Capacity], usual: Capacity, people: Collection[str], first: int
) -> bool:
    """True where one plan alone books a person for more than they can do on some day of the weeks ahead.

    Args:
        people: the ids of people: crews, materials and hours that nobody has do not count.
        first: the ordinal of the first day.
    """
    end = first + 7 * WEEKS_AHEAD
    return any(
        minutes > capacities.get(who, usual).on(ordinal)
        for who, by_day in load.by_who.items()
        if who in people
        for ordinal, minutes in by_day.items()
        if first <= ordinal < end
    )


def say_overloads(found: list[Overload], names: Mapping[str, str], today: date) -> str:
    """The worst of them in a sentence, and how many more people are over; nothing where nobody is.

    Args:
        found: as ``overloads`` gives them.
        names: short names of people by id.
    """
    if not found:
        return ""
    worst = found[0]
    more = len({one.who for one in found} - {worst.who})
    others = f"; {more} more {'is' if more == 1 else 'are'} over too" if more else ""
    return (
        f"**{names.get(worst.who, 'Somebody')} is booked {say_hours(worst.minutes)} over** {_week(worst.monday, today)}{others}."
    )


def say_own(found: list[Overload], today: date) -> str:
    """The same to the person themself."""
    if not found:
        return ""
    first = min(found, key=lambda one: one.monday)
    more = (
        f", and over in {len(found) - 1} more weeks"
        if len(found) > 2
        else ", and over in one more week"
        if len(found) > 1
        else ""
    )
    return f"You are booked {say_hours(first.minutes)} over {_week(first.monday, today)}{more}."


def _week(monday: date, today: date) -> str:
    return "this week" if monday <= today and (today - monday).days < 7 else f"in the week of {say_day(monday, today)}"
