"""An invoice sheet on paper: A4, one page after another, the head of the table on each."""

from __future__ import annotations

from datetime import date, datetime
from decimal import Decimal

from fpdf.enums import TableBordersLayout
from fpdf.fonts import FontFace

from ..core.common.currencies import decimals_of
from ..core.common.dates import say_day
from ..core.cost.invoices import Invoice, Totals, line_sum
from .drawing.letters import FAMILY
from .paper import INK, QUIET, ROSE, Paper


def write_invoice_pdf(invoice: Invoice, totals: Totals, supplier: str, project: str, at: datetime) -> bytes:
    """A sheet as a PDF document.

    Args:
        supplier: the name of the organisation; ``project``: its code and name.
        at: when it is printed, for its properties.
    """
    name = f"Invoice {invoice.number}" if invoice.number else "Invoice, draft"
    pdf = Paper(name, f"{supplier} · {name}", at)
    _head(pdf, invoice, name, supplier, project)
    _table(pdf, invoice, totals)
    if invoice.note:
        pdf.ln(8)
        pdf.words(invoice.note, 9.5, INK)
    return bytes(pdf.output())


def _day(day: date | None) -> str:
    return f"{say_day(day)} {day.year}" if day else ""


def _head(pdf: Paper, invoice: Invoice, name: str, supplier: str, project: str) -> None:
    pdf.words(supplier, 10, QUIET)
    pdf.ln(3)
    pdf.words(name, 18, INK, bold=True)
    if invoice.cancelled_at is not None:
        pdf.words("Cancelled", 12, ROSE, bold=True)
    pdf.ln(4)
    pdf.words(invoice.client or "No client named yet", 11, INK)
    pdf.ln(2)
    said = [f"For {project}", f"Hours from {_day(invoice.first)} to {_day(invoice.last)}"]
    said += [f"Issued {_day(invoice.issued)}"] if invoice.issued else []
    said += [f"Due {_day(invoice.due)}"] if invoice.due else []
    for one in said:
        pdf.words(one, 9.5, QUIET)
    pdf.ln(6)


def _table(pdf: Paper, invoice: Invoice, totals: Totals) -> None:
    pdf.set_font(FAMILY, "", 9.5)
    pdf.set_text_color(*INK)
    pdf.set_draw_color(208, 199, 207)
    head = FontFace(emphasis="BOLD", color=QUIET)
    decimals = decimals_of(invoice.currency)
    with pdf.table(
        col_widths=(92, 22, 24, 28), text_align=("LEFT", "RIGHT", "RIGHT", "RIGHT"), headings_style=head, line_height=6.2,
        borders_layout=TableBordersLayout.HORIZONTAL_LINES,
    ) as table:  # fmt: skip
        heads = table.row()
        for text in ("", "Hours", "Rate", invoice.currency):
            heads.cell(text)
        for line in invoice.lines:
            row = table.row()
            row.cell(line.text)
            row.cell("" if line.minutes is None else f"{line.minutes / 60:,.2f}")
            row.cell("" if line.rate is None else _rate(line.rate))
            row.cell(f"{line_sum(line, decimals):,f}")
        for text, amount in _ends(invoice, totals):
            row = table.row()
            row.cell(text, colspan=3, style=FontFace(emphasis="BOLD"))
            row.cell(f"{amount:,f}", style=FontFace(emphasis="BOLD"))


def _rate(rate: Decimal) -> str:
    """With two decimals, or as many as it has."""
    return f"{rate:,.2f}" if rate == rate.quantize(Decimal("0.01")) else f"{rate:,f}"


def _ends(invoice: Invoice, totals: Totals) -> list[tuple[str, object]]:
    if not invoice.tax:
        return [("Payable", totals.payable)]
    return [("Net", totals.net), (f"Tax, {invoice.tax:f} %", totals.tax), ("Payable", totals.payable)]
