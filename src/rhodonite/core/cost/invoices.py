"""Invoice sheets: hours of a project gathered to be charged, by task or by person, with rate and sum."""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime
from decimal import Decimal
from typing import Literal

from ..common.bounds import check_day
from ..common.currencies import decimals_of
from ..common.errors import RuleError
from ..time.entries import TimeEntry
from .money import HOUR, RATE_DECIMALS, check_amount, half_even, to_amount, to_minor

Grouped = Literal["task", "person"]
LONGEST_TEXT, LONGEST_NOTE, LONGEST_NUMBER, LONGEST_CLIENT = 300, 2_000, 40, 200
MOST_LINES = 1_000
MOST_MINUTES = 10_000_000
MOST_TAX = Decimal(100)


@dataclass(frozen=True, slots=True)
class InvoiceLine:
    """One line.

    Attributes:
        minutes: that are charged; None of a line that is a sum.
        rate: an hour; None of a sum. ``amount``: of a sum.
        of: the id of the task or person whose hours it gathers; None of one that was added by hand.
    """

    id: str
    text: str
    minutes: int | None = None
    rate: Decimal | None = None
    amount: Decimal | None = None
    of: str | None = None


@dataclass(frozen=True, slots=True)
class Invoice:
    """An invoice sheet.

    Attributes:
        number: under which it is frozen; None while it is a draft.
        first, last: the days whose hours it gathers.
        tax: in a hundred of the sum.
        issued, due: set when it is frozen.
    """

    id: str
    project_id: str
    client: str
    first: date
    last: date
    grouped: Grouped
    currency: str
    person_id: str
    at: datetime
    number: str | None = None
    tax: Decimal = Decimal(0)
    note: str = ""
    issued: date | None = None
    due: date | None = None
    lines: tuple[InvoiceLine, ...] = field(default=())
    frozen_at: datetime | None = None
    cancelled_at: datetime | None = None
    deleted_at: datetime | None = None


@dataclass(frozen=True, slots=True)
class Totals:
    """The sums of a sheet, in its currency: of its lines, the tax on that, and both."""

    lines: tuple[Decimal, ...]
    net: Decimal
    tax: Decimal
    payable: Decimal


def line_sum(line: InvoiceLine, decimals: int) -> Decimal:
    """What a line comes to, rounded once."""
    if line.amount is not None:
        return to_amount(to_minor(line.amount, decimals), decimals)
    scaled = int((line.rate or Decimal(0)).scaleb(RATE_DECIMALS))
    return to_amount(half_even((line.minutes or 0) * scaled * 10**decimals, HOUR * 10**RATE_DECIMALS), decimals)


def totals(invoice: Invoice) -> Totals:
    """The sums of a sheet: the net is the sum of the lines as they are shown.

    >>> from datetime import date, datetime
    >>> lines = (InvoiceLine("1", "Glazing", 90, Decimal("58")), InvoiceLine("2", "Ferry", amount=Decimal("12.40")))
    >>> sheet = Invoice("i", "p", "City", date(2027, 3, 1), date(2027, 3, 31), "task", "EUR", "x", datetime(2027, 4, 1),
    ...                 tax=Decimal(19), lines=lines)
    >>> [str(each) for each in (totals(sheet).net, totals(sheet).tax, totals(sheet).payable)]
    ['99.40', '18.89', '118.29']
    """
    decimals = decimals_of(invoice.currency)
    lines = tuple(line_sum(one, decimals) for one in invoice.lines)
    net = sum(lines, to_amount(0, decimals))
    tax = to_amount(to_minor(net * invoice.tax / 100, decimals), decimals)
    return Totals(lines, net, tax, net + tax)


Charged = tuple[InvoiceLine, list[str]]
"""A line and the ids of the entries that it gathers."""


def gather(
    entries: Iterable[TimeEntry], grouped: Grouped, rate_of: Callable[[str, date], Decimal | None], names: Mapping[str, str],
    new_id: Callable[[], str],
) -> list[Charged]:  # fmt: skip
    """Gather hours into lines: one for each task or person, and for each rate that they are charged at.

    Args:
        rate_of: what an hour of a person is charged at on a day; None where no rate is known: then it is nothing, to be set.
        names: of tasks or people, by id.
    """
    groups: dict[tuple[str, Decimal], list[TimeEntry]] = defaultdict(list)
    for one in entries:
        rate = rate_of(one.person_id, one.day) or Decimal(0)
        groups[one.task_id if grouped == "task" else one.person_id, rate].append(one)
    found = []
    for (of, rate), several in sorted(groups.items(), key=lambda one: (_natural(names.get(one[0][0], "")), one[0][0], one[0][1])):
        line = InvoiceLine(new_id(), names.get(of, "")[:LONGEST_TEXT], sum(each.minutes for each in several), rate, None, of)
        found.append((line, [each.id for each in several]))
    return found


def _natural(name: str) -> tuple[tuple[bool, int, str], ...]:
    """By what names stand in order: numbers within them by their size."""
    return tuple((part.isdigit(), int(part) if part.isdigit() else 0, part) for part in re.findall(r"\d+|\D+", name.casefold()))


def check_invoice(one: Invoice) -> Invoice:
    """Raises RuleError where a sheet cannot be: too many lines, lines that say nothing, days in the wrong order."""
    if one.last < one.first:
        raise RuleError("The last day lies before the first. Choose them again.", "last")
    check_day(one.first, "first")
    check_day(one.last, "last")
    if len(one.client) > LONGEST_CLIENT or len(one.note) > LONGEST_NOTE:
        raise RuleError(f"A client has {LONGEST_CLIENT} characters at most, a note {LONGEST_NOTE}.", "client")
    if not one.tax.is_finite() or not 0 <= one.tax <= MOST_TAX:
        raise RuleError("Tax lies between nothing and a hundred in a hundred.", "tax")
    if len(one.lines) > MOST_LINES:
        raise RuleError(f"A sheet has {MOST_LINES} lines at most. Make several, of fewer days.", "lines")
    if len({line.id for line in one.lines}) < len(one.lines):
        raise RuleError("Two lines have the same id.", "lines")
    for line in one.lines:
        _check_line(line, decimals_of(one.currency))
    return one


def _check_line(line: InvoiceLine, decimals: int) -> None:
    if not line.text.strip() or len(line.text) > LONGEST_TEXT:
        raise RuleError(f"Each line says what it is for, in {LONGEST_TEXT} characters at most.", "lines")
    if line.amount is not None:
        if line.minutes is not None or line.rate is not None:
            raise RuleError("A line is hours with a rate, or a sum.", "lines")
        check_amount(line.amount, "lines", decimals)
        return
    if line.minutes is None or not 0 <= line.minutes <= MOST_MINUTES:
        raise RuleError("Say how many hours a line charges.", "lines")
    if line.rate is None:
        raise RuleError("Say at which rate the hours of a line are charged.", "lines")
    check_amount(line.rate, "lines", RATE_DECIMALS)


def check_freezing(one: Invoice, number: str, issued: date, due: date | None) -> str:
    """The number under which a sheet is frozen.

    Raises:
        RuleError: no number, no client, no lines, or it is due before it is issued.
    """
    number = " ".join(number.split())
    if not number or len(number) > LONGEST_NUMBER:
        raise RuleError(f"A sheet is frozen under a number of at most {LONGEST_NUMBER} characters, such as 2027-014.", "number")
    if not one.client.strip():
        raise RuleError("Say who is charged before the sheet is frozen.", "client")
    if not one.lines:
        raise RuleError("There is nothing on the sheet to be charged.", "lines")
    check_day(issued, "issued")
    if due is not None and due < issued:
        raise RuleError("It cannot be due before it is issued.", "due")
    return number


def next_number(year: int, known: Sequence[str]) -> str:
    """The number after those that there are of a year: ``2027-014`` after ``2027-013``.

    >>> next_number(2027, ["2027-013", "2026-090", "LAN-7"])
    '2027-014'
    """
    taken = [
        int(one.removeprefix(f"{year}-"))
        for one in known
        if one.startswith(f"{year}-") and one.removeprefix(f"{year}-").isdigit()
    ]
    return f"{year}-{max(taken, default=0) + 1:03}"
