"""A status report on paper."""

from __future__ import annotations

from datetime import datetime

from fpdf.enums import TableBordersLayout
from fpdf.fonts import FontFace

from ..core.reports.model import INDICATORS, SECTIONS, StatusReport
from ..core.reports.words import figures, title_of
from .drawing.letters import FAMILY
from .paper import INK, QUIET, Paper


def write_report_pdf(report: StatusReport, code: str, name: str, writer: str, at: datetime) -> bytes:
    """A report as a PDF document.

    Args:
        code, name: of the project; ``writer``: who published it.
        at: when it is printed, for its properties.
    """
    title = title_of(report, code, name)
    pdf = Paper(title, title, at)
    pdf.words(f"{code} {name}", 10, QUIET)
    pdf.ln(2)
    pdf.words(f"Status report {report.number}", 18, bold=True)
    pdf.ln(2)
    correction = f" It corrects number {report.corrects}." if report.corrects else ""
    pdf.words(f"{report.since:%d.%m.%Y} to {report.day:%d.%m.%Y}, by {writer}.{correction}", 9.5, QUIET)
    pdf.ln(5)
    _indicators(pdf, report)
    for line in figures(report):
        pdf.words(line, 10)
        pdf.ln(0.8)
    for key, text in report.texts.items():
        if text:
            pdf.ln(4)
            pdf.words(SECTIONS[key], 12, bold=True)
            pdf.ln(1.2)
            pdf.words(text, 10)
    return bytes(pdf.output())


def _indicators(pdf: Paper, report: StatusReport) -> None:
    if not report.indicators:
        return
    pdf.set_font(FAMILY, "", 9.5)
    pdf.set_text_color(*INK)
    pdf.set_draw_color(208, 199, 207)
    bold = FontFace(emphasis="BOLD")
    with pdf.table(
        col_widths=(26, 30, 110), first_row_as_headings=False, line_height=6, borders_layout=TableBordersLayout.HORIZONTAL_LINES
    ) as table:
        for key, one in report.indicators.items():
            row = table.row()
            row.cell(INDICATORS[key])
            row.cell(one.health.replace("_", " "), style=bold)
            row.cell(one.why + (f"; told so because {one.reason}" if one.reason else ""))
    pdf.ln(4)
