"""What follows for the hours booked on a task: effort = duration × units, and which of the three stays.

*Hours stay*: units follow the length, the length follows units. *Length stays*: hours follow units, units follow hours.
*Units stay*: hours follow the length, the length follows hours; the longest booking decides.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from decimal import Decimal
from fractions import Fraction
from itertools import groupby
from typing import Any

from ..common.bounds import LONGEST_DURATION, MOST_BOOKED_DAYS, MOST_BOOKINGS, MOST_EFFORT
from ..common.durations import say_hours
from ..common.errors import RuleError
from .model import KEEPS, Booking, BookingShape, Fields, Keeps, ResourceKind, Task

FULL = 100
"""Units in a hundred: all of somebody's day."""
MOST_UNITS = 100_000
PARTS = 1_000
"""Of a unit of material, or of the currency: amounts are whole numbers of them."""
MOST_AMOUNT = 10**15


@dataclass(frozen=True, slots=True)
class Wish:
    """A booking as it is asked for: with minutes, or with units in a hundred of somebody's day; with an amount in thousandths
    where it is of a material or a fixed cost."""

    who: str
    minutes: int | None = None
    units: float | None = None
    shape: BookingShape = "even"
    by_day: tuple[int, ...] = ()
    resource: bool = False
    of: ResourceKind = "labour"
    amount: int = 0


def write_booking(one: Booking) -> list[Any]:
    """A booking as it is kept."""
    kept = [one.who, one.minutes, one.shape, list(one.by_day), one.resource]
    return kept if one.of == "labour" else [*kept, one.of, one.amount]


def read_booking(kept: list[Any]) -> Booking:
    """The inverse of ``write_booking``."""
    who, minutes, shape, by_day, resource, *of = kept
    return Booking(who, minutes, shape, tuple(by_day), bool(resource), *of)


KEEPS_WORDS: dict[Keeps, str] = {"hours": "hours stay", "length": "length stays", "units": "units stay"}
SHAPE_WORDS: dict[BookingShape, str] = {"even": "", "front": "most at first", "back": "most at last"}
"""How hours lie over a task, as it is typed behind them; hours set by day are typed as a sum."""


def say_booked(one: Booking, *, money: bool = False, exact: bool = False) -> str:
    """How much is booked: hours, units of a material without their name, or for who may see ``money`` a sum.

    Args:
        exact: so that it is read back as it was, with how the hours lie over the task.
    """
    if one.of == "fixed" and not money:
        return ""
    if one.of != "labour":
        return say_amount(one.of, one.amount)
    if not exact:
        return say_hours(one.minutes)
    return say_days(one.by_day) if one.by_day else f"{say_hours(one.minutes)} {SHAPE_WORDS.get(one.shape, '')}".rstrip()


def say_days(by_day: Sequence[int]) -> str:
    """Hours set by day as the sum that is typed: ``2 × 5 h + 1 h``."""
    runs = [(say_hours(minutes), len(list(run))) for minutes, run in groupby(by_day)]
    said = " + ".join(hours if days == 1 else f"{days} × {hours}" for hours, days in runs)
    return said if len(by_day) > 1 else f"1 × {said}"


def without_sums(bookings: Iterable[Booking]) -> list[Booking]:
    """Bookings as they are told to who may not see cost."""
    return [replace(one, amount=0) if one.of == "fixed" else one for one in bookings]


def say_amount(of: ResourceKind, amount: int) -> str:
    """So many units, or a sum with two decimals at least."""
    exact = f"{Decimal(amount) / PARTS:f}"
    whole, _, part = exact.partition(".")
    part = part.rstrip("0")
    if of == "fixed":
        part = part.ljust(2, "0")
    return f"{whole}.{part}" if part else whole


def units_of(booking: Booking, duration: int | None) -> int | None:
    """The share of the day that a booking takes, in a hundred; None where the task has no length."""
    return int(booking.minutes * FULL / duration + 0.5) if duration else None


def check_bookings(wishes: tuple[Wish, ...]) -> None:
    """Raises RuleError where bookings cannot be: too many, the same person twice, or more than a task can hold."""
    if len(wishes) > MOST_BOOKINGS:
        raise RuleError(f"A task has {MOST_BOOKINGS} bookings at most. Divide it into several.", "bookings")
    if len({one.who for one in wishes}) < len(wishes):
        raise RuleError("Somebody is booked twice. Put their hours into one booking.", "bookings")
    for one in wishes:
        if one.minutes is not None and not 0 <= one.minutes <= MOST_EFFORT:
            raise RuleError("Book between nothing and a million hours.", "bookings")
        if one.units is not None and not 0 < one.units <= MOST_UNITS:
            raise RuleError("Book a share of the day of more than nothing, such as 50 %.", "bookings")
        least = 0 if one.of == "fixed" else 1  # without a sum a fixed cost stays as it stands: not everybody is shown that
        if one.of != "labour" and not (one.resource and least <= one.amount <= MOST_AMOUNT and not one.minutes and not one.units):
            raise RuleError("Of a material say how many units are used, of a fixed cost the sum: more than nothing.", "bookings")
        if len(one.by_day) > MOST_BOOKED_DAYS:
            raise RuleError(f"Hours are set by day for {MOST_BOOKED_DAYS} days at most.", "bookings")


def handed_over(task: Task, who: str, to: str, *, resource: bool) -> tuple[Wish, ...]:
    """The bookings of a task once the hours of one are another's; who has some on it already gets them besides.

    Args:
        who: whose they are; empty for hours of the estimate that nobody has, all of which go over.
        to: whose they become; ``resource``: True for a crew or role.
    """
    moved = next((one for one in task.bookings if one.who == who and one.of == "labour"), None)
    minutes = moved.minutes if moved else 0 if who else max(0, (task.effort or 0) - task.booked)
    rest = [one for one in task.bookings if one is not moved]
    there = next((one for one in rest if one.who == to), None)
    if not minutes and not moved:
        return tuple(_as_wish(one) for one in rest)
    if there:
        both = Wish(to, there.minutes + minutes, resource=resource)
        return tuple(both if one is there else _as_wish(one) for one in rest)
    fresh = replace(_as_wish(moved), who=to, resource=resource) if moved else Wish(to, minutes, resource=resource)
    return (*map(_as_wish, rest), fresh)


def _as_wish(one: Booking) -> Wish:
    return Wish(one.who, one.minutes, None, one.shape, one.by_day, one.resource, one.of, one.amount)


def settle_length(task: Task, wanted: Mapping[str, Any]) -> Mapping[str, Any]:
    """What a change of bookings does to the length of a task, where that follows.

    Args:
        wanted: what a change asks for; dates and length that it sets itself stay as they are asked for.

    Returns:
        The same, with a ``duration`` where it follows.
    """
    if "bookings" not in wanted or not task.duration or {"duration", "start", "finish", "push_to", "stretch_to"} & wanted.keys():
        return wanted
    keeps = wanted.get("keeps", task.keeps)
    before = {one.who: one for one in task.bookings}
    lengths: list[Fraction] = []
    for wish in wanted["bookings"]:
        old = before.get(wish.who)
        if keeps == "units" and wish.minutes is not None:
            minutes = sum(wish.by_day) if wish.shape == "by_day" else wish.minutes
            lengths.append(Fraction(minutes * task.duration, old.minutes) if old and old.minutes else Fraction(minutes))
        elif keeps == "hours" and wish.units is not None and old and old.minutes:
            lengths.append(Fraction(old.minutes * FULL) / Fraction(wish.units))
    longest = min(int(max(lengths, default=Fraction()) + Fraction(1, 2)), LONGEST_DURATION)
    return {**wanted, "duration": longest} if longest > 0 and longest != task.duration else wanted


def settle_bookings(task: Task, fields: Fields, wanted: Mapping[str, Any]) -> None:
    """Add to the fields of a change what follows for bookings, effort and helpers.

    Who is booked and does not own the task helps with it; who helps no more is booked no more. Where the task gets
    another owner, the hours of the former one go over.

    Args:
        task: as it stood.
        fields: that the change sets, its length among them; bookings, effort and helpers are added.
        wanted: what was asked for.

    Raises:
        RuleError: bookings that cannot be.
    """
    if wanted.get("keeps") is not None and wanted["keeps"] not in KEEPS:
        raise RuleError("Choose what stays: hours, length or units.", "keeps")
    duration = fields.get("duration", task.duration)
    if "bookings" in wanted:
        check_bookings(wanted["bookings"])
        fields["bookings"] = tuple(_settled(wish, task, duration) for wish in wanted["bookings"])
    elif task.bookings and task.duration and duration and duration != task.duration and not _cuts(task, wanted):
        fields["bookings"] = tuple(squeezed(one, Fraction(duration, task.duration)) for one in task.bookings)
    elif task.bookings and task.duration and duration and duration != task.duration:
        ratio = Fraction(duration, task.duration)
        fields["bookings"] = tuple(scaled(one, ratio) for one in task.bookings)
        if task.effort and "effort" not in wanted:
            fields["effort"] = _times(task.effort, ratio)
    _follow_people(task, fields, wanted)


def _cuts(task: Task, wanted: Mapping[str, Any]) -> bool:
    """True where hours follow the length."""
    return (wanted.get("on_length") or wanted.get("keeps") or task.keeps) == "units"


def _times(minutes: int, ratio: Fraction) -> int:
    return int(minutes * ratio + Fraction(1, 2))


def scaled(booking: Booking, ratio: Fraction) -> Booking:
    """A booking of the same units on a task that lasts so many times as long. Of hours set by day the last ones fall away, or
    the last is repeated."""
    if booking.of != "labour":
        return booking
    if booking.shape != "by_day" or not booking.by_day:
        return replace(booking, minutes=_times(booking.minutes, ratio))
    days = max(1, min(_times(len(booking.by_day), ratio), MOST_BOOKED_DAYS))
    by_day = (booking.by_day + booking.by_day[-1:] * days)[:days]
    return replace(booking, minutes=sum(by_day), by_day=by_day)


def squeezed(booking: Booking, ratio: Fraction) -> Booking:
    """A booking of the same hours on a task that becomes shorter. Hours set by day keep their course over fewer days, so that
    none lie after the end: each new day takes its part of the days that it stands for.

    >>> squeezed(Booking("t", 600, "by_day", (300, 60, 240)), Fraction(2, 3)).by_day
    (330, 270)
    """
    before = booking.by_day
    days = max(1, _times(len(before), ratio))
    if booking.shape != "by_day" or ratio >= 1 or days >= len(before):
        return booking
    each = Fraction(len(before), days)

    def until(day: int) -> int:
        whole, part = divmod(each * day, 1)
        return int(sum(before[: int(whole)]) + (before[int(whole)] * part if part else 0) + Fraction(1, 2))

    return replace(booking, by_day=tuple(until(day + 1) - until(day) for day in range(days)))


def _settled(wish: Wish, task: Task, duration: int | None) -> Booking:
    if wish.of != "labour":
        amount = wish.amount or next((one.amount for one in task.bookings if (one.who, one.of) == (wish.who, wish.of)), 0)
        if not amount:
            raise RuleError("Of a material say how many units are used, of a fixed cost the sum: more than nothing.", "bookings")
        return Booking(wish.who, 0, "even", (), True, wish.of, amount)
    by_day = wish.by_day if wish.shape == "by_day" else ()
    if wish.shape == "by_day":
        minutes = sum(by_day)
    elif wish.minutes is not None:
        minutes = wish.minutes
    else:
        old = next((one for one in task.bookings if one.who == wish.who), None)
        if not duration:
            raise RuleError("Say how long the task lasts before a share of somebody’s day is booked, or book hours.", "bookings")
        by_hours = task.keeps == "hours" and old is not None and old.minutes and duration != task.duration
        minutes = old.minutes if by_hours and old else int(duration * (wish.units or 0) / FULL + 0.5)
    return Booking(wish.who, minutes, wish.shape, by_day, wish.resource)


def _follow_people(task: Task, fields: Fields, wanted: Mapping[str, Any]) -> None:
    owner = fields.get("owner_id", task.owner_id)
    bookings = fields.get("bookings", task.bookings)
    if "bookings" not in wanted and owner != task.owner_id and owner and not any(one.who == owner for one in bookings):
        bookings = tuple(replace(one, who=owner) if one.who == task.owner_id else one for one in bookings)
    helpers = fields.get("helpers", task.helpers)
    if "helpers" in wanted and "bookings" not in wanted:
        stay = {owner, *helpers}
        bookings = tuple(one for one in bookings if one.resource or one.who in stay or one.who not in task.helpers)
    if bookings == task.bookings:
        fields.pop("bookings", None)
        return
    fields["bookings"] = bookings
    booked = [one.who for one in bookings if not one.resource and one.who != owner]
    fields["helpers"] = tuple(dict.fromkeys([*helpers, *booked]))
