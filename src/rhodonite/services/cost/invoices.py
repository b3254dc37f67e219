"""Invoice sheets: hours gathered to be charged, adjusted, frozen under a number. An hour is on one sheet at most."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.errors import Forbidden, Missing, RuleError
from ...core.cost.invoices import (
    Grouped,
    Invoice,
    InvoiceLine,
    Totals,
    check_freezing,
    check_invoice,
    gather,
    line_sum,
    next_number,
    totals,
)
from ...core.cost.money import to_amount
from ...core.tasks.model import Project
from ...core.time.entries import TimeEntry
from ...store.common.database import from_json
from ...store.common.journal import Entry
from ...store.cost import invoices as rows
from ...store.people import people as people_rows
from ...store.tasks import tasks as task_rows
from ..common.context import Actor, AlreadyDone, Log, check_not_archived, new_id, once, open_project, writing
from .book import currency_of, prices_in


@dataclass(frozen=True, slots=True)
class Sheet:
    """A sheet with its sums.

    Attributes:
        hours: minutes of the entries behind each line, by its id.
    """

    invoice: Invoice
    totals: Totals
    hours: Mapping[str, int]
    organisation: str


@dataclass(frozen=True, slots=True)
class Wish:
    """What a sheet is to be made of.

    Attributes:
        rate: at which every hour is charged; None for each person's own.
    """

    id: str
    client: str
    first: date
    last: date
    grouped: Grouped
    tax: Decimal
    rate: Decimal | None = None


def _open(cur: Cursor, actor: Actor, code: str, invoice_id: str, *, deleted: bool = False) -> tuple[Project, Invoice]:
    project = open_project(cur, replace(actor, draft=None), code, "see_costs")
    found = rows.invoice(cur, invoice_id)
    if found is None or found.project_id != project.id or (found.deleted_at is not None and not deleted):
        raise Missing("invoice sheet")
    return project, found


def _organisation(cur: Cursor) -> str:
    found = people_rows.organisation(cur)
    return found[0] if found else ""


def _open_to_write(cur: Cursor, actor: Actor, code: str, invoice_id: str, *, deleted: bool = False) -> tuple[Project, Invoice]:
    """The same to be changed. Raises Forbidden where the project is archived."""
    project, found = _open(cur, actor, code, invoice_id, deleted=deleted)
    check_not_archived(project)
    return project, found


def list_sheets(cur: Cursor, actor: Actor, code: str) -> list[Sheet]:
    """The invoice sheets of a project, the latest first.

    Raises:
        Missing, Forbidden: the person may not see what the project costs.
    """
    project = open_project(cur, actor, code, "see_costs")
    name = _organisation(cur)
    return [Sheet(one, totals(one), {}, name) for one in rows.of_project(cur, project.id)]


def read_sheet(cur: Cursor, actor: Actor, code: str, invoice_id: str) -> Sheet:
    """One sheet, with the hours that were really entered behind each line."""
    _, found = _open(cur, actor, code, invoice_id)
    hours: dict[str, int] = {}
    for line_id, entry in rows.entries_on(cur, found.id):
        hours[line_id] = hours.get(line_id, 0) + entry.minutes
    return Sheet(found, totals(found), hours, _organisation(cur))


def read_entries(cur: Cursor, actor: Actor, code: str, invoice_id: str) -> list[tuple[str, TimeEntry]]:
    """What is charged on a sheet: the line, and the entry."""
    _, found = _open(cur, actor, code, invoice_id)
    return rows.entries_on(cur, found.id)


@dataclass(frozen=True, slots=True)
class Waiting:
    """What could be charged: minutes, and what they come to."""

    minutes: int
    amount: Decimal
    currency: str
    unpriced: int


def read_chargeable(cur: Cursor, actor: Actor, code: str, first: date, last: date, rate: Decimal | None) -> Waiting:
    """What of some days could be charged and stands on no sheet yet: what a sheet of them by task would come to.

    Args:
        rate: at which every hour would be charged; None for each person's own.
    """
    project = open_project(cur, actor, code, "see_costs")
    prices, rate_of = prices_in(cur, project, "billing"), _rate_of(cur, project, rate)
    entries = rows.chargeable(cur, project.id, first, last)
    lines = [line for line, _ in gather(entries, "task", rate_of, {}, new_id)]
    amount = sum((line_sum(one, prices.decimals) for one in lines), to_amount(0, prices.decimals))
    unpriced = sum(one.minutes for one in entries if rate_of(one.person_id, one.day) is None)
    return Waiting(sum(one.minutes for one in entries), amount, currency_of(cur, project), unpriced)


def _rate_of(cur: Cursor, project: Project, rate: Decimal | None) -> Callable[[str, date], Decimal | None]:
    return prices_in(cur, project, "billing").rate_on if rate is None else lambda who, day: rate


def make_sheet(cur: Cursor, actor: Actor, code: str, wish: Wish) -> None:
    """Gather the hours of some days that can be charged and stand on no sheet yet into a draft.

    Raises:
        Missing, Forbidden: as ``list_sheets``.
        RuleError: days that cannot be, or nothing to charge.
    """
    actor = replace(actor, draft=None)
    project = open_project(cur, actor, code, "see_costs")
    check_not_archived(project)
    try:
        with writing(cur, actor, project.id, "gathered hours to be charged", seen=project) as log:
            draft = Invoice(wish.id, project.id, wish.client.strip(), wish.first, wish.last, wish.grouped, currency_of(cur, project),
                            actor.person.id, actor.clock.utc(), tax=wish.tax)  # fmt: skip
            check_invoice(draft)
            entries = rows.chargeable(cur, project.id, wish.first, wish.last, lock=True)
            if not entries:
                raise RuleError("No hours of these days can be charged and stand on no sheet yet. Choose other days.", "first")
            lines = gather(
                entries,
                wish.grouped,
                _rate_of(cur, project, wish.rate),
                _names(cur, project, entries, wish.grouped),
                new_id,
            )
            made = check_invoice(replace(draft, lines=tuple(line for line, _ in lines)))
            rows.insert(cur, made)
            for line, ids in lines:
                rows.charge(cur, made.id, line.id, ids)
            log.record("invoice", made.id, "created", None, {"client": made.client, "entries": len(entries)})
    except AlreadyDone:
        pass


def _names(cur: Cursor, project: Project, entries: Sequence[TimeEntry], grouped: Grouped) -> dict[str, str]:
    if grouped == "person":
        return {one.id: one.name for one in people_rows.all_people(cur)}
    tasks = task_rows.tasks_by_id(cur, {one.task_id for one in entries})
    return {one.id: f"{project.code} {one.number} {one.title}" for one in tasks}


def _check_draft(one: Invoice) -> None:
    if one.frozen_at is not None:
        raise Forbidden(f"The sheet is frozen as {one.number} and never changes. Cancel it, and make another.")


@once
def edit_sheet(cur: Cursor, actor: Actor, code: str, invoice_id: str, fields: Mapping[str, Any]) -> None:
    """Change a draft: its client, tax, note and lines. The hours of lines that are taken out can be charged elsewhere.

    Raises:
        Forbidden: it is frozen.
        RuleError: what would be cannot.
    """
    actor = replace(actor, draft=None)
    project, _ = _open_to_write(cur, actor, code, invoice_id)
    with writing(cur, actor, project.id, "changed an invoice sheet", seen=project) as log:
        _, before = _open(cur, actor, code, invoice_id)
        _check_draft(before)
        _write(cur, log, before, replace(before, **fields))


def _write(cur: Cursor, log: Log, before: Invoice, after: Invoice) -> None:
    after = replace(after, lines=_kept_ties(before, after.lines))
    check_invoice(after)
    gone = {one.id for one in before.lines} - {one.id for one in after.lines}
    released = rows.release(cur, before.id, gone)
    for name in ("client", "tax", "note"):
        log.record_changes("invoice", before.id, before, after, [name])
    if before.lines != after.lines:
        old = {"lines": rows.written_lines(before.lines), "released": released}
        log.record("invoice", before.id, "lines", old, {"lines": rows.written_lines(after.lines)})
    rows.update(cur, after)


def _kept_ties(before: Invoice, lines: Sequence[InvoiceLine]) -> tuple[InvoiceLine, ...]:
    """What hours a line gathers is not for a client of the API to say."""
    ties = {one.id: one.of for one in before.lines}
    return tuple(replace(one, of=ties.get(one.id)) for one in lines)


@once
def delete_sheet(cur: Cursor, actor: Actor, code: str, invoice_id: str) -> None:
    """Take a draft away: its hours can be charged elsewhere. Raises Forbidden where it is frozen."""
    actor = replace(actor, draft=None)
    project, _ = _open_to_write(cur, actor, code, invoice_id)
    with writing(cur, actor, project.id, "took an invoice sheet away", seen=project) as log:
        _, before = _open(cur, actor, code, invoice_id)
        _check_draft(before)
        log.record("invoice", before.id, "deleted_at", {"released": rows.release(cur, before.id)}, actor.clock.utc())
        rows.update(cur, replace(before, deleted_at=actor.clock.utc()))


@once
def freeze_sheet(cur: Cursor, actor: Actor, code: str, invoice_id: str, number: str, issued: date, due: date | None) -> None:
    """Freeze a draft under a number: from then on it never changes.

    Raises:
        Forbidden: it is frozen already.
        RuleError: a number that is taken, no client, nothing to charge, a line without a rate.
    """
    actor = replace(actor, draft=None)
    project, _ = _open_to_write(cur, actor, code, invoice_id)
    with writing(cur, actor, project.id, "froze an invoice sheet", seen=project) as log:
        _, before = _open(cur, actor, code, invoice_id)
        _check_draft(before)
        number = check_freezing(before, number, issued, due)
        frozen = replace(before, number=number, issued=issued, due=due, frozen_at=actor.clock.utc())
        if not rows.update(cur, frozen):
            raise RuleError(f"Another sheet has the number {number}. Choose the next one.", "number")
        log.record("invoice", before.id, "number", None, number)


@once
def cancel_sheet(cur: Cursor, actor: Actor, code: str, invoice_id: str) -> None:
    """Cancel a frozen sheet: it stays as it is, says so, keeps its number, and its hours can be charged anew.

    Raises:
        RuleError: it is a draft, or was cancelled already.
    """
    actor = replace(actor, draft=None)
    project, _ = _open_to_write(cur, actor, code, invoice_id)
    with writing(cur, actor, project.id, "cancelled an invoice sheet", seen=project) as log:
        _, before = _open(cur, actor, code, invoice_id)
        if before.frozen_at is None or before.cancelled_at is not None:
            raise RuleError("Only a frozen sheet is cancelled, once. A draft is taken away.", "cancelled_at")
        rows.release(cur, before.id)
        log.record("invoice", before.id, "cancelled_at", None, actor.clock.utc())
        rows.update(cur, replace(before, cancelled_at=actor.clock.utc()))


def suggest_number(cur: Cursor, actor: Actor, code: str) -> str:
    """The number after those that there are of this year."""
    open_project(cur, actor, code, "see_costs")
    year = actor.clock.now().year
    return next_number(year, rows.numbers(cur, year))


def take_back(cur: Cursor, actor: Actor, code: str, invoice_id: str, entries: Sequence[Entry]) -> None:
    """Take back what a change did to a draft.

    Raises:
        RuleError: it was frozen or cancelled, changed again since, or its hours are charged elsewhere by now.
    """
    actor = replace(actor, draft=None)
    project, before = _open_to_write(cur, actor, code, invoice_id, deleted=True)
    fields = {one.field: one for one in entries}
    if {"number", "cancelled_at"} & fields.keys() or before.frozen_at is not None:
        raise RuleError("What was frozen stays. Cancel the sheet, and make another.", "number")
    if "created" in fields:
        delete_sheet(cur, actor, code, invoice_id)
        return
    with writing(cur, actor, project.id, "took back a change of an invoice sheet", seen=project) as log:
        if (deleted := fields.get("deleted_at")) is not None:
            if before.deleted_at is None:
                raise RuleError("The sheet is there again.")
            old = from_json(deleted.old)
            _charge_again(cur, before.id, old["released"])
            log.record(
                "invoice",
                before.id,
                "created",
                None,
                {"client": before.client, "entries": sum(map(len, old["released"].values()))},
            )
            rows.update(cur, replace(before, deleted_at=None))
            return
        for name, entry in fields.items():
            _put_back(cur, log, before, name, from_json(entry.old), from_json(entry.new))


def _put_back(cur: Cursor, log: Log, before: Invoice, name: str, old: Any, new: Any) -> None:
    """Write one field of a draft as it was before a change."""
    now = rows.invoice(cur, before.id)
    assert now is not None
    changed = RuleError("The sheet was changed again since. Change it by hand.")
    if name == "lines":
        if rows.written_lines(now.lines) != new["lines"]:
            raise changed
        log.record("invoice", now.id, "lines", {"lines": new["lines"], "released": {}}, {"lines": old["lines"]})
        rows.update(cur, replace(now, lines=rows.read_lines(old["lines"])))
        _charge_again(cur, now.id, old["released"])
        return
    was: Any = Decimal(old) if name == "tax" else old
    is_now: Any = Decimal(new) if name == "tax" else new
    if getattr(now, name) != is_now:
        raise changed
    log.record("invoice", now.id, name, is_now, was)
    rows.update(cur, replace(now, **{name: was}))


def _charge_again(cur: Cursor, invoice_id: str, released: Mapping[str, Sequence[str]]) -> None:
    for line_id, ids in released.items():
        if rows.charge(cur, invoice_id, line_id, ids) < len(ids):
            raise RuleError("Some of its hours are charged on another sheet by now, or were taken away. Make a new sheet.")


HEADS = ("Text", "Hours", "Rate", "Sum")


def table_of(sheet: Sheet, decimals: int) -> list[list[str]]:
    """The lines of a sheet and its sums, as a table."""
    lines = [
        [one.text, "" if one.minutes is None else f"{one.minutes / 60:.2f}", "" if one.rate is None else f"{one.rate:f}",
         f"{line_sum(one, decimals):f}"]
        for one in sheet.invoice.lines
    ]  # fmt: skip
    ends = [("Net", sheet.totals.net), (f"Tax {sheet.invoice.tax:f} %", sheet.totals.tax), ("Payable", sheet.totals.payable)]
    return [*lines, *([name, "", "", f"{amount:f}"] for name, amount in ends)]


def project_name(cur: Cursor, actor: Actor, code: str) -> str:
    """The name of a project, for paper."""
    return open_project(cur, actor, code, "see_costs").name


def check_sent(one: Invoice) -> None:
    """Raises RuleError for what is not sent as a document: a draft, which can still change, and a sheet that was cancelled."""
    if one.cancelled_at is not None:
        raise RuleError("The sheet was cancelled, so nothing is asked for by it. Its PDF says so.", "cancelled_at")
    if one.frozen_at is None:
        raise RuleError("Freeze the sheet under a number first: a document that is sent does not change any more.", "number")
