"""An invoice sheet on paper: A4, one page after another, the head of the table on each."""

from __future__ import annotations

from datetime import date, datetime
from decimal import Decimal

from fpdf import FPDF
from fpdf.enums import TableBordersLayout
from fpdf.fonts import FontFace

from ..core.common.currencies import decimals_of
from ..core.common.dates import say_day
from ..core.cost.invoices import Invoice, Totals, line_sum
from .drawing.letters import FAMILY, font_file

_INK, _QUIET, _ROSE = (35, 26, 36), (90, 78, 92), (178, 58, 99)


class _Paper(FPDF):
    """Pages with a foot that says which sheet and page they are."""

    def __init__(self, foot: str) -> None:
        super().__init__(format="A4")
        self._foot = foot

    def footer(self) -> None:
        """The line at the foot of each page."""
        self.set_y(-14)
        self.set_font(FAMILY, "", 8)
        self.set_text_color(*_QUIET)
        self.cell(0, 5, self._foot)
        self.cell(0, 5, f"{self.page_no()} of {{nb}}", align="R")


def write_invoice_pdf(invoice: Invoice, totals: Totals, supplier: str, project: str, at: datetime) -> bytes:
    """A sheet as a PDF document.

    Args:
        supplier: the name of the organisation; ``project``: its code and name.
        at: when it is printed, for its properties.
    """
    name = f"Invoice {invoice.number}" if invoice.number else "Invoice, draft"
    pdf = _Paper(f"{supplier} · {name}")
    for bold in (False, True):
        pdf.add_font(FAMILY, "B" if bold else "", font_file(bold))
    pdf.set_title(name)
    pdf.set_creator("Rhodonite")
    pdf.set_lang("en")
    pdf.set_creation_date(at.astimezone())
    pdf.set_margins(22, 22, 22)
    pdf.set_auto_page_break(True, 22)
    pdf.add_page()
    _head(pdf, invoice, name, supplier, project)
    _table(pdf, invoice, totals)
    if invoice.note:
        pdf.ln(8)
        _words(pdf, invoice.note, 9.5, _INK)
    return bytes(pdf.output())


def _words(pdf: FPDF, text: str, size: float, colour: tuple[int, int, int], *, bold: bool = False) -> None:
    pdf.set_font(FAMILY, "B" if bold else "", size)
    pdf.set_text_color(*colour)
    pdf.multi_cell(0, size * 0.52, text, new_x="LMARGIN", new_y="NEXT")


def _day(day: date | None) -> str:
    return f"{say_day(day)} {day.year}" if day else ""


def _head(pdf: FPDF, invoice: Invoice, name: str, supplier: str, project: str) -> None:
    _words(pdf, supplier, 10, _QUIET)
    pdf.ln(3)
    _words(pdf, name, 18, _INK, bold=True)
    if invoice.cancelled_at is not None:
        _words(pdf, "Cancelled", 12, _ROSE, bold=True)
    pdf.ln(4)
    _words(pdf, invoice.client or "No client named yet", 11, _INK)
    pdf.ln(2)
    said = [f"For {project}", f"Hours from {_day(invoice.first)} to {_day(invoice.last)}"]
    said += [f"Issued {_day(invoice.issued)}"] if invoice.issued else []
    said += [f"Due {_day(invoice.due)}"] if invoice.due else []
    for one in said:
        _words(pdf, one, 9.5, _QUIET)
    pdf.ln(6)


def _table(pdf: FPDF, invoice: Invoice, totals: Totals) -> None:
    pdf.set_font(FAMILY, "", 9.5)
    pdf.set_text_color(*_INK)
    pdf.set_draw_color(208, 199, 207)
    head = FontFace(emphasis="BOLD", color=_QUIET)
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
