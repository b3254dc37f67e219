"""Invoice sheets, and which entries are charged on them."""

from __future__ import annotations

import json
from collections.abc import Collection, Sequence
from datetime import date
from decimal import Decimal
from typing import Any

from pymysql.cursors import Cursor

from ...core.cost.invoices import Invoice, InvoiceLine
from ...core.time.entries import TimeEntry
from ..common.database import fetch_all, fetch_one, is_duplicate, places
from ..time.entries import ENTRY_COLUMNS, read_entry

_COLUMNS = (
    "id, project_id, client, first_day, last_day, grouped, currency, person_id, at, number, tax, note, issued, due, sheet_lines,"
    " frozen_at, cancelled_at, deleted_at"
)


def read_lines(kept: Any) -> tuple[InvoiceLine, ...]:
    """Lines from the form that they are kept in."""
    return tuple(
        InvoiceLine(one["id"], one["text"], one["minutes"], _decimal(one["rate"]), _decimal(one["amount"]), one["of"])
        for one in kept
    )


def written_lines(lines: Sequence[InvoiceLine]) -> list[dict[str, Any]]:
    """The inverse of ``read_lines``."""
    return [
        {
            "id": one.id,
            "text": one.text,
            "minutes": one.minutes,
            "rate": _text(one.rate),
            "amount": _text(one.amount),
            "of": one.of,
        }
        for one in lines
    ]


def _decimal(text: str | None) -> Decimal | None:
    return None if text is None else Decimal(text)


def _text(amount: Decimal | None) -> str | None:
    return None if amount is None else f"{amount:f}"


def _invoice(row: tuple[Any, ...]) -> Invoice:
    return Invoice(row[0], row[1], row[2], row[3], row[4], row[5], row[6], row[7], row[8], row[9], row[10].normalize(), row[11],
                   row[12], row[13], read_lines(json.loads(row[14])), row[15], row[16], row[17])  # fmt: skip


def of_project(cur: Cursor, project_id: str) -> list[Invoice]:
    """The sheets of a project, the latest first."""
    sql = f"SELECT {_COLUMNS} FROM invoices WHERE project_id = %s AND deleted_at IS NULL ORDER BY at DESC, id DESC"
    return [_invoice(row) for row in fetch_all(cur, sql, (project_id,))]


def invoice(cur: Cursor, invoice_id: str) -> Invoice | None:
    """One sheet, deleted or not."""
    row = fetch_one(cur, f"SELECT {_COLUMNS} FROM invoices WHERE id = %s", (invoice_id,))
    return _invoice(row) if row else None


def insert(cur: Cursor, one: Invoice) -> None:
    """Write a new sheet."""
    cur.execute(f"INSERT INTO invoices ({_COLUMNS}) VALUES ({', '.join(['%s'] * 18)})", _row(one))


def _row(one: Invoice) -> tuple[Any, ...]:
    return (one.id, one.project_id, one.client, one.first, one.last, one.grouped, one.currency, one.person_id, one.at, one.number,
            one.tax, one.note, one.issued, one.due, json.dumps(written_lines(one.lines)), one.frozen_at, one.cancelled_at,
            one.deleted_at)  # fmt: skip


def update(cur: Cursor, one: Invoice) -> bool:
    """Write a sheet anew. False where another has its number."""
    try:
        cur.execute(
            "UPDATE invoices SET client = %s, number = %s, tax = %s, note = %s, issued = %s, due = %s, sheet_lines = %s, frozen_at = %s,"
            " cancelled_at = %s, deleted_at = %s WHERE id = %s",
            (one.client, one.number, one.tax, one.note, one.issued, one.due, json.dumps(written_lines(one.lines)), one.frozen_at,
             one.cancelled_at, one.deleted_at, one.id),
        )  # fmt: skip
    except Exception as error:
        if is_duplicate(error):  # type: ignore[arg-type]
            return False
        raise
    return True


def numbers(cur: Cursor, year: int) -> list[str]:
    """The numbers of a year that are taken."""
    return [row[0] for row in fetch_all(cur, "SELECT number FROM invoices WHERE number LIKE %s", (f"{year}-%",))]


# what is charged


def chargeable(cur: Cursor, project_id: str, first: date, last: date, *, lock: bool = False) -> list[TimeEntry]:
    """The entries of a project that can be charged and are on no sheet; locked where they are about to be charged."""
    sql = f"""SELECT {ENTRY_COLUMNS} FROM time_entries WHERE project_id = %s AND day BETWEEN %s AND %s AND billable
      AND deleted_at IS NULL AND invoice_id IS NULL ORDER BY day, id{" FOR UPDATE" if lock else ""}"""
    return [read_entry(row) for row in fetch_all(cur, sql, (project_id, first, last))]


def charge(cur: Cursor, invoice_id: str, line_id: str, entry_ids: Collection[str]) -> int:
    """Mark entries as charged on a line. Returns how many there were that are on no other."""
    if not entry_ids:
        return 0
    cur.execute(
        f"UPDATE time_entries SET invoice_id = %s, invoice_line = %s WHERE invoice_id IS NULL AND deleted_at IS NULL"
        f" AND id IN ({places(len(entry_ids))})",
        (invoice_id, line_id, *entry_ids),
    )
    return int(cur.rowcount)


def release(cur: Cursor, invoice_id: str, line_ids: Collection[str] | None = None) -> dict[str, list[str]]:
    """Let the entries of a sheet, or of some of its lines, be charged elsewhere. Returns them by line."""
    some = f" AND invoice_line IN ({places(len(line_ids))})" if line_ids is not None else ""
    if line_ids is not None and not line_ids:
        return {}
    args = (invoice_id, *(line_ids or ()))
    found: dict[str, list[str]] = {}
    for entry_id, line_id in fetch_all(cur, f"SELECT id, invoice_line FROM time_entries WHERE invoice_id = %s{some}", args):
        found.setdefault(line_id, []).append(entry_id)
    cur.execute(f"UPDATE time_entries SET invoice_id = NULL, invoice_line = NULL WHERE invoice_id = %s{some}", args)
    return found


def entries_on(cur: Cursor, invoice_id: str) -> list[tuple[str, TimeEntry]]:
    """(line, entry) of what is charged on a sheet."""
    sql = f"SELECT {ENTRY_COLUMNS}, invoice_line FROM time_entries WHERE invoice_id = %s ORDER BY day, id"
    return [(row[-1], read_entry(row[:-1])) for row in fetch_all(cur, sql, (invoice_id,))]
