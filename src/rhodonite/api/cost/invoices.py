"""Invoice sheets of a project: gathered from hours, adjusted, frozen, and had as PDF, table and UBL."""

from __future__ import annotations

from datetime import date, datetime
from decimal import Decimal
from typing import Annotated, Any, Literal

from fastapi import Response
from pydantic import BaseModel, Field

from ...core.common.currencies import decimals_of
from ...core.cost import invoices as rules
from ...core.cost.invoices import InvoiceLine
from ...formats import ubl
from ...formats.invoice_pdf import write_invoice_pdf
from ...services.common.context import new_id
from ...services.cost import invoices
from ..common.inputs import MB, Changes, Day, Id, make_router
from ..common.tables import media_of, writer_of
from ..common.use import Using, needs

router = make_router("cost")

Amount = Annotated[Decimal, Field(ge=0, max_digits=15, decimal_places=4)]
Tax = Annotated[Decimal, Field(ge=0, le=100, max_digits=6, decimal_places=3)]
Client = Annotated[str, Field(max_length=rules.LONGEST_CLIENT)]


class InvoiceLineModel(BaseModel):
    """A line of a sheet: hours with a rate, or a sum."""

    id: Id = Field(default_factory=new_id)
    text: Annotated[str, Field(max_length=rules.LONGEST_TEXT)]
    minutes: Annotated[int, Field(ge=0, le=rules.MOST_MINUTES)] | None = None
    rate: Amount | None = None
    amount: Amount | None = None

    def read(self) -> InvoiceLine:
        """As services take it."""
        return InvoiceLine(self.id, self.text.strip(), self.minutes, self.rate, self.amount)


class InvoiceLineOut(InvoiceLineModel):
    """The same with what it comes to."""

    sum: Decimal
    entered: int | None = Field(description="Minutes that were really entered behind it; null of one added by hand")


class InvoiceSummary(BaseModel):
    """A sheet in the list of a project."""

    id: str
    number: str | None
    client: str
    first: date
    last: date
    state: Literal["draft", "frozen", "cancelled"]
    currency: str
    tax: Decimal = Field(description="In a hundred of the net")
    net: Decimal
    payable: Decimal
    issued: date | None


class InvoiceOut(InvoiceSummary):
    """A sheet in full."""

    grouped: rules.Grouped
    tax_sum: Decimal
    note: str
    due: date | None
    lines: list[InvoiceLineOut]
    made_at: datetime


class InvoiceNew(BaseModel):
    """What a sheet is to be made of: the hours of some days that can be charged and stand on no sheet yet."""

    id: Id = Field(default_factory=new_id, description="UUID of version 7, made by the client")
    client: Client = ""
    first: Day
    last: Day
    grouped: rules.Grouped = "task"
    tax: Tax = Decimal(0)
    rate: Amount | None = Field(None, description="At which every hour is charged; null: each person’s own")


class InvoiceEdit(Changes):
    """Changed fields of a draft. The hours of lines that are left out can be charged elsewhere."""

    client: Client | None = None
    tax: Tax | None = None
    note: Annotated[str, Field(max_length=rules.LONGEST_NOTE)] | None = None
    lines: Annotated[list[InvoiceLineModel], Field(max_length=rules.MOST_LINES)] | None = None


class FreezeIn(BaseModel):
    """The number under which a sheet is frozen."""

    number: Annotated[str, Field(max_length=rules.LONGEST_NUMBER)]
    issued: Day
    due: Day | None = None


class ChargeableOut(BaseModel):
    """What could be charged, and the number that a sheet would get."""

    minutes: int
    amount: Decimal
    currency: str
    unpriced: int = Field(description="Minutes of people without a rate at which they are charged")
    number: str


def _state(one: rules.Invoice) -> Literal["draft", "frozen", "cancelled"]:
    return "cancelled" if one.cancelled_at else "frozen" if one.frozen_at else "draft"


def _line(sheet: invoices.Sheet) -> dict[str, Any]:
    one = sheet.invoice
    return {
        "id": one.id, "number": one.number, "client": one.client, "first": one.first, "last": one.last, "state": _state(one),
        "currency": one.currency, "net": sheet.totals.net, "payable": sheet.totals.payable, "issued": one.issued, "tax": one.tax,
    }  # fmt: skip


def _out(sheet: invoices.Sheet) -> InvoiceOut:
    one = sheet.invoice
    lines = [
        InvoiceLineOut(id=line.id, text=line.text, minutes=line.minutes, rate=line.rate, amount=line.amount, sum=amount,
                entered=sheet.hours.get(line.id, 0) if line.of else None)
        for line, amount in zip(one.lines, sheet.totals.lines, strict=True)
    ]  # fmt: skip
    return InvoiceOut(**_line(sheet), grouped=one.grouped, tax_sum=sheet.totals.tax, note=one.note, due=one.due,
                      lines=lines, made_at=one.at)  # fmt: skip


@router.get("/projects/{code}/invoices", openapi_extra=needs("see_costs"))
def list_invoices(code: str, use: Using) -> list[InvoiceSummary]:
    """The invoice sheets of a project, the latest first."""
    return [InvoiceSummary(**_line(one)) for one in use.read(invoices.list_sheets, code)]


@router.get("/projects/{code}/chargeable", openapi_extra=needs("see_costs"))
def read_chargeable(code: str, first: Day, last: Day, use: Using, rate: Amount | None = None) -> ChargeableOut:
    """What of some days could be charged and stands on no sheet yet, at one rate or at each person’s own."""
    found = use.read(invoices.read_chargeable, code, first, last, rate)
    return ChargeableOut(
        minutes=found.minutes, amount=found.amount, currency=found.currency, unpriced=found.unpriced,
        number=use.read(invoices.suggest_number, code),
    )  # fmt: skip


@router.post("/projects/{code}/invoices", openapi_extra=needs("see_costs"), status_code=201)
def make_invoice(code: str, body: InvoiceNew, use: Using) -> InvoiceOut:
    """Gather hours into a draft."""
    use.write(invoices.make_sheet, code, invoices.Wish(**body.model_dump()))
    return _out(use.read(invoices.read_sheet, code, body.id))


@router.get("/projects/{code}/invoices/{invoice_id}", openapi_extra=needs("see_costs"))
def read_invoice(code: str, invoice_id: Id, use: Using) -> InvoiceOut:
    """One sheet."""
    return _out(use.read(invoices.read_sheet, code, invoice_id))


@router.patch("/projects/{code}/invoices/{invoice_id}", openapi_extra=needs("see_costs", MB))
def edit_invoice(code: str, invoice_id: Id, body: InvoiceEdit, use: Using) -> InvoiceOut:
    """Change a draft: client, tax, note, lines."""
    fields = {name: getattr(body, name) for name in body.sent if name != "lines"}
    if body.lines is not None:
        fields["lines"] = tuple(one.read() for one in body.lines)
    use.write(invoices.edit_sheet, code, invoice_id, fields)
    return _out(use.read(invoices.read_sheet, code, invoice_id))


@router.delete("/projects/{code}/invoices/{invoice_id}", openapi_extra=needs("see_costs"), status_code=204)
def delete_invoice(code: str, invoice_id: Id, use: Using) -> None:
    """Take a draft away; its hours can be charged elsewhere."""
    use.write(invoices.delete_sheet, code, invoice_id)


@router.post("/projects/{code}/invoices/{invoice_id}/freeze", openapi_extra=needs("see_costs"))
def freeze_invoice(code: str, invoice_id: Id, body: FreezeIn, use: Using) -> InvoiceOut:
    """Freeze a draft under a number."""
    use.write(invoices.freeze_sheet, code, invoice_id, body.number, body.issued, body.due)
    return _out(use.read(invoices.read_sheet, code, invoice_id))


@router.post("/projects/{code}/invoices/{invoice_id}/cancel", openapi_extra=needs("see_costs"))
def cancel_invoice(code: str, invoice_id: Id, use: Using) -> InvoiceOut:
    """Cancel a frozen sheet; its hours can be charged anew."""
    use.write(invoices.cancel_sheet, code, invoice_id)
    return _out(use.read(invoices.read_sheet, code, invoice_id))


@router.get("/projects/{code}/invoices/{invoice_id}/file.{kind}", openapi_extra=needs("see_costs"), response_class=Response)
def export_invoice(code: str, invoice_id: Id, kind: Literal["pdf", "csv", "xlsx", "xml"], use: Using) -> Response:
    """A sheet as PDF, as a table, or frozen as a UBL 2.1 invoice document (xml)."""
    sheet = use.read(invoices.read_sheet, code, invoice_id)
    one = sheet.invoice
    if kind == "pdf":
        project = f"{code.upper()} {use.read(invoices.project_name, code)}"
        body, media = write_invoice_pdf(one, sheet.totals, sheet.organisation, project, use.actor.clock.now()), "application/pdf"
    elif kind == "xml":
        invoices.check_sent(one)
        body, media = ubl.write_ubl(one, sheet.totals, sheet.organisation), ubl.MEDIA
    else:
        body, media = writer_of(kind)(invoices.HEADS, invoices.table_of(sheet, decimals_of(one.currency))), media_of(kind)
    name = "".join(each if each.isalnum() or each in "-_" else "-" for each in (one.number or "draft"))
    return Response(body, media_type=media, headers={"Content-Disposition": f'attachment; filename="invoice {name}.{kind}"'})
