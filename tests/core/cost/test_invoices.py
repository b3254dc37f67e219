"""Invoice sheets: lines gathered from hours, and their sums."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, datetime
from decimal import Decimal
from itertools import count
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rhodonite.core.common.errors import RuleError
from rhodonite.core.cost.invoices import (
    Invoice,
    InvoiceLine,
    check_freezing,
    check_invoice,
    gather,
    line_sum,
    next_number,
    totals,
)
from rhodonite.core.time.entries import TimeEntry

DAY = date(2027, 3, 17)
SHEET = Invoice("i", "p", "City", date(2027, 3, 1), date(2027, 3, 31), "task", "EUR", "x", datetime(2027, 4, 1),
                lines=(InvoiceLine("1", "Glazing", 90, Decimal("58")),))  # fmt: skip
ENTRIES = st.lists(
    st.builds(TimeEntry, st.uuids().map(str), st.just("p"), st.sampled_from(["t1", "t2"]), st.sampled_from(["tomas", "yuki"]),
              st.dates(date(2027, 3, 1), date(2027, 3, 31)), st.integers(1, 900)),
    max_size=20, unique_by=lambda one: one.id,
)  # fmt: skip


def rate_of(who: str, day: date) -> Decimal | None:
    return Decimal("54") if who == "tomas" and day < DAY else Decimal("56") if who == "tomas" else None


@given(ENTRIES, st.sampled_from(["task", "person"]))
def test_every_entry_is_gathered_once_and_no_minute_is_lost(entries: list[TimeEntry], grouped: Any) -> None:
    ids = count()
    found = gather(entries, grouped, rate_of, {"t1": "Cast bars"}, lambda: str(next(ids)))
    assert sorted(one for _, some in found for one in some) == sorted(one.id for one in entries)
    assert sum(line.minutes or 0 for line, _ in found) == sum(one.minutes for one in entries)
    assert len({(line.of, line.rate) for line, _ in found}) == len(found)


def test_hours_of_one_task_at_two_rates_are_two_lines() -> None:
    entries = [TimeEntry("a", "p", "t1", "tomas", date(2027, 3, 10), 60), TimeEntry("b", "p", "t1", "tomas", DAY, 30),
               TimeEntry("c", "p", "t1", "zoe", DAY, 15)]  # fmt: skip
    found = gather(entries, "task", rate_of, {"t1": "Cast bars"}, lambda: "id")
    assert [(line.text, line.minutes, line.rate) for line, _ in found] == [
        ("Cast bars", 15, Decimal(0)), ("Cast bars", 60, Decimal(54)), ("Cast bars", 30, Decimal(56))]  # fmt: skip


LINES = st.lists(
    st.one_of(
        st.builds(
            InvoiceLine, st.uuids().map(str), st.just("x"), st.integers(0, 10_000), st.decimals(0, 300, allow_nan=False, places=4)
        ),
        st.builds(InvoiceLine, st.uuids().map(str), st.just("x"), amount=st.decimals(0, 9999, allow_nan=False, places=3)),
    ),
    max_size=8,
)


@given(LINES, st.decimals(0, 30, allow_nan=False, places=2), st.sampled_from(["EUR", "JPY", "KWD"]))
def test_the_net_is_the_sum_of_the_lines_as_they_are_shown(lines: list[InvoiceLine], tax: Decimal, currency: str) -> None:
    found = totals(replace(SHEET, lines=tuple(lines), tax=tax, currency=currency))
    assert sum(found.lines, Decimal(0)) == found.net
    assert found.net + found.tax == found.payable
    assert abs(found.tax - found.net * tax / 100) <= Decimal(1) / 2


@pytest.mark.parametrize(
    ("line", "comes_to"),
    [(InvoiceLine("1", "x", 100, Decimal("58")), "96.67"), (InvoiceLine("1", "x", 30, Decimal("0.05")), "0.02"),
     (InvoiceLine("1", "x", amount=Decimal("12.345")), "12.34"), (InvoiceLine("1", "x", 0, Decimal("58")), "0.00")],
)  # fmt: skip
def test_a_line_is_rounded_once_half_even(line: InvoiceLine, comes_to: str) -> None:
    assert str(line_sum(line, 2)) == comes_to


@pytest.mark.parametrize(
    "wrong",
    [{"last": date(2027, 2, 1)}, {"tax": Decimal(101)}, {"lines": (InvoiceLine("1", " ", 60, Decimal(1)),)},
     {"lines": (InvoiceLine("1", "x"),)}, {"lines": (InvoiceLine("1", "x", 60, Decimal(1), Decimal(1)),)},
     {"lines": (InvoiceLine("1", "x", 60),)}, {"lines": SHEET.lines * 2}, {"client": "x" * 201}],
)  # fmt: skip
def test_a_sheet_that_cannot_be_is_refused(wrong: dict[str, Any]) -> None:
    with pytest.raises(RuleError):
        check_invoice(replace(SHEET, **wrong))


@pytest.mark.parametrize(
    ("sheet", "number", "due"),
    [(SHEET, " ", None), (replace(SHEET, client=" "), "2027-001", None), (replace(SHEET, lines=()), "2027-001", None),
     (SHEET, "2027-001", date(2027, 3, 1))],
)  # fmt: skip
def test_what_is_not_ready_is_not_frozen(sheet: Invoice, number: str, due: date | None) -> None:
    with pytest.raises(RuleError):
        check_freezing(sheet, number, DAY, due)


def test_numbers_go_on_from_the_last_of_the_year() -> None:
    assert next_number(2027, []) == "2027-001"
    assert next_number(2027, ["2027-009", "2027-X", "2028-050"]) == "2027-010"
