"""Bookings as people type them: ``Tomas 10h, Yuki 50 %, Oona 3h a day, scaffolders 2 d, glass panes 12, permit 350``.

How the hours lie over the task may follow: ``Tomas 10 h most at first``; hours of each day are a sum: ``Yuki 2 × 5 h + 1 h``.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from decimal import Decimal
from itertools import islice
from typing import Any

from ..common.bounds import LONGEST_TYPED, MOST_BOOKED_DAYS, MOST_BOOKINGS
from ..common.divided import divided
from ..common.durations import read_duration, read_rate, say_hours
from ..common.errors import RuleError
from ..tasks.booked import FULL, MOST_AMOUNT, PARTS, SHAPE_WORDS, say_amount, say_days
from ..tasks.model import BookingShape, ResourceKind

_NUMBERS_IN_A_NAME = 10
"""Places within a name that is not known at which an amount is looked for."""
_SIGNS = re.compile(r"[;\n]|,(?!\d)")
_TIMES = re.compile(r"(?P<days>\d{1,4})\s*[×x]\s*(?P<amount>.+)")
LONGEST = 10_000
"""Characters of typed bookings."""
_AMOUNT = re.compile(
    r"(?P<name>.*?)(?:^|[\s:]+)(?P<amount>(?:[\d.,]*[\d½¼¾]|half\b|full\b|whole\b|an?\s+(?:day|week|hour)\b).*)", re.IGNORECASE
)


class _NotFound(RuleError):
    """A name that is nobody's, or several people's."""


@dataclass(frozen=True, slots=True)
class Named:
    """Who or what can be booked, by the name that people type.

    Attributes:
        unit: of a material.
        people: of a crew, how many work side by side.
    """

    id: str
    name: str
    resource: bool = False
    of: ResourceKind = "labour"
    unit: str = ""
    people: float = 1


@dataclass(frozen=True, slots=True)
class Understood:
    """One booking that was understood.

    Attributes:
        minutes: of the booking, or None where a share of the day was typed: ``units`` in a hundred.
        said: the same in words.
        amount: of a material or a fixed cost, in thousandths.
    """

    who: Named
    minutes: int | None
    units: float | None
    said: str
    amount: int = 0
    shape: BookingShape = "even"
    by_day: tuple[int, ...] = ()


def read_bookings(
    text: str, known: Sequence[Named], day_minutes: int, open_minutes: int, ask: Callable[[str], Named | None] | None = None
) -> list[Understood]:
    """Read typed bookings. A name without an amount takes what is open; a bare number is hours.

    Args:
        known: who can be booked.
        day_minutes: of a day's work.
        open_minutes: of the estimate that nobody is booked for, once what is typed is no longer counted.
        ask: whom a name means that is nobody's or several people's, None to leave that booking out.

    Raises:
        RuleError: a name that is nobody's or several people's, an amount that cannot be read, or nothing to take.
    """
    if len(text) > LONGEST:
        raise RuleError(f"Bookings are typed in {LONGEST} characters at most.", "text")
    pieces = _pieces(text, known)
    if len(pieces) > MOST_BOOKINGS:
        raise RuleError(f"A task has {MOST_BOOKINGS} bookings at most. Divide it into several.", "text")
    found: list[Understood] = []
    for piece in pieces:
        try:
            who, amount = _divided(piece, known)
        except _NotFound:
            if ask is None:
                raise
            name, amount = _name_and_amount(piece, day_minutes)
            meant = ask(name)
            if meant is None:
                continue
            who = meant
        if any(one.who.id == who.id for one in found):
            raise RuleError(f"{who.name} is named twice. Put their hours together.", "text")
        found.append(_understood(who, amount, day_minutes, open_minutes - sum(one.minutes or 0 for one in found)))
    return found


def sent(understood: Sequence[Understood]) -> list[dict[str, Any]]:
    """Bookings that were understood, in the form in which the field of a task is sent."""
    return [
        {"who": one.who.id, "resource": one.who.resource, "minutes": one.minutes, "units": one.units}
        | (
            {"of": one.who.of, "amount": one.amount}
            if one.who.of != "labour"
            else {"shape": one.shape, "by_day": list(one.by_day)}
        )
        for one in understood
    ]


def _pieces(text: str, known: Sequence[Named]) -> list[str]:
    """What is typed for each who is booked. A name may have a comma or semicolon in it."""
    if not _SIGNS.search(text):
        return divided(text, _SIGNS, ())
    folded = (" ".join(named.name.casefold().split()) for named in known)
    signed = {name for name in folded if _SIGNS.search(name)}
    return divided(text, _SIGNS, signed, lambda part: any(_begins(" ".join(part.split()).casefold(), name) for name in signed))


def _divided(piece: str, known: Sequence[Named]) -> tuple[Named, str]:
    """Who is meant, and how much. A name may end in a number: the longest name with which the text begins is meant."""
    folded = " ".join(piece.split()).casefold()
    longest = max((one for one in known if _begins(folded, one.name)), key=lambda one: len(one.name), default=None)
    if longest is not None and sum(one.name.casefold() == longest.name.casefold() for one in known) == 1:
        return longest, folded[len(longest.name) :].strip(" :")
    if len([one for one in known if f" {folded}" in f" {one.name.casefold()}"]) == 1:  # the beginning of one name alone
        return _find(piece, known), ""
    match = _AMOUNT.fullmatch(piece)
    name, amount = (match["name"].strip(" :"), match["amount"].strip()) if match else (piece, "")
    return _find(name, known), amount


def _name_and_amount(piece: str, day_minutes: int) -> tuple[str, str]:
    """A name that is not known, which may end in a number, and the longest amount behind it that can be read."""
    anybody = Named("", "somebody")
    for at in islice(re.finditer(r"[\s:]+(?=[\d½¼¾]|half\b|full\b|whole\b)", piece), _NUMBERS_IN_A_NAME):
        amount = piece[at.end() :].casefold()
        try:
            _understood(anybody, amount, day_minutes, 0)
        except RuleError:
            continue
        return piece[: at.start()].strip(), amount
    return piece, ""


def _begins(folded: str, name: str) -> bool:
    """True where a text is a name, or begins with it and goes on with something else."""
    called = " ".join(name.split()).casefold()
    return folded == called or (folded.startswith(called) and folded[len(called)] in " :")


def _understood(who: Named, amount: str, day_minutes: int, left: int) -> Understood:
    if who.of == "fixed" and not amount:
        return Understood(who, None, None, f"{who.name}: as it stands", 0)
    if who.of != "labour":
        number = _amount(who, amount)
        return Understood(who, None, None, f"{who.name}: {f'{say_amount(who.of, number)} {who.unit}'.strip()}", number)
    if "+" in amount or _TIMES.fullmatch(amount):
        by_day = _hours_by_day(amount, day_minutes)
        return Understood(who, sum(by_day), None, f"{who.name}: {say_days(by_day)}, day by day", 0, "by_day", by_day)
    if len(amount) > LONGEST_TYPED:
        raise RuleError(f"Say how many hours {who.name} is booked for, such as {who.name.split()[0]} 10 h.", "text")
    amount, shape = _shaped(amount)
    if shape != "even":
        rest = _understood(who, amount, day_minutes, left)
        return replace(rest, said=f"{rest.said}, {SHAPE_WORDS[shape]}", shape=shape)
    if amount.endswith("%"):
        _number(amount[:-1])  # says what is wrong with it
    rate = read_rate(amount, day_minutes) if amount else None
    if rate is not None:
        units = float(rate * FULL / day_minutes)
        if not 0 < units <= FULL * 10:
            raise RuleError("Book a share of the day of more than nothing, such as 50 %.", "text")
        hours = "" if "%" in amount else f"{say_hours(round(rate))} a day, "
        return Understood(who, None, units, f"{who.name}: {hours}{units:.4g} % of the day")
    if amount:
        minutes = read_duration(amount, day_minutes, bare="hour")
    elif left > 0:
        minutes = left
    else:
        raise RuleError(f"Say how many hours {who.name} is booked for, such as {who.name.split()[0]} 10 h.", "text")
    return Understood(who, minutes, None, f"{who.name}: {say_hours(minutes)}")


def _shaped(amount: str) -> tuple[str, BookingShape]:
    """An amount without the words that say how it lies over the task, and these."""
    for shape, words in SHAPE_WORDS.items():
        if words and amount.endswith(words):
            return amount.removesuffix(words).strip(), shape
    return amount, "even"


def _hours_by_day(text: str, day_minutes: int) -> tuple[int, ...]:
    """The minutes of each day of a sum such as ``2 × 5 h + 1 h``."""
    days: list[int] = []
    for part in text.split("+"):
        many = _TIMES.fullmatch(part.strip())
        days += [read_duration(many["amount"] if many else part, day_minutes, bare="hour")] * (int(many["days"]) if many else 1)
        if len(days) > MOST_BOOKED_DAYS:
            raise RuleError(f"Hours are set by day for {MOST_BOOKED_DAYS} days at most.", "text")
    return tuple(days)


def _amount(who: Named, text: str) -> int:
    """Thousandths of a unit or of the currency; the unit may stand behind the number, and a comma before three digits divides
    thousands, as it is shown."""
    bare = re.sub(r",(?=\d{3}(?!\d))", "", re.sub(r"[^\d.,]+$", "", text).strip()).replace(",", ".")
    what = "how many are used" if who.of == "material" else "the sum"
    try:
        number = int(Decimal(bare or "0") * PARTS)
    except ArithmeticError as error:
        raise RuleError(f"“{text}” is no number. Say {what}, such as {who.name} 12.", "text") from error
    if not 0 < number <= MOST_AMOUNT:
        raise RuleError(f"Say {what}, such as {who.name} 12.", "text")
    return number


def _number(text: str) -> float:
    try:
        return float(text.strip().replace(",", "."))
    except ValueError as error:
        raise RuleError(f"“{text.strip()} %” is no share of the day. Write it as 50 %.", "text") from error


def _find(name: str, known: Sequence[Named]) -> Named:
    """Who is meant: by the whole name, else by its beginning or that of one of its words."""
    wanted = " ".join(name.casefold().split())
    if not wanted:
        raise RuleError("Name somebody before the hours, such as Tomas 10 h.", "text")
    whole = [one for one in known if one.name.casefold() == wanted]
    begins = whole or [one for one in known if f" {one.name.casefold()}".find(f" {wanted}") >= 0]
    if not begins:
        raise _NotFound(f"Nobody who can be booked is called {name[:60]}.", "text")
    if len(begins) > 1:
        names = ", ".join(one.name for one in begins[:3])
        raise _NotFound(f"“{name[:60]}” may be {names}. Type more of the name.", "text")
    return begins[0]
