"""Pages as one PDF (ISO 32000), written with fpdf2, the font's used letters within."""

from __future__ import annotations

import logging
from collections.abc import Sequence
from datetime import datetime

from fpdf import FPDF

from .letters import FAMILY, font_file, width_of
from .marks import Mark, Page, Path, Rect

logging.getLogger("fontTools").setLevel(logging.WARNING)  # it tells of every table that it drops


def write_pdf(pages: Sequence[Page], title: str, at: datetime) -> bytes:
    """The pages as a PDF document.

    Args:
        at: when it is printed, for its properties.
    """
    pdf = FPDF(unit="pt")
    pdf.set_auto_page_break(False)
    pdf.set_title(title)
    pdf.set_creator("Rhodonite")
    pdf.set_lang("en")
    pdf.set_creation_date(at.astimezone())
    for bold in (False, True):
        pdf.add_font(FAMILY, "B" if bold else "", font_file(bold))
    for page in pages:
        pdf.add_page(format=(page.width, page.height))
        for mark in page.marks:
            _draw(pdf, mark)
    return bytes(pdf.output())


def _rgb(colour: str) -> tuple[int, int, int]:
    return int(colour[1:3], 16), int(colour[3:5], 16), int(colour[5:7], 16)


def _draw(pdf: FPDF, mark: Mark) -> None:
    if isinstance(mark, Rect | Path):
        if mark.fill:
            pdf.set_fill_color(*_rgb(mark.fill))
        if mark.stroke:
            pdf.set_draw_color(*_rgb(mark.stroke))
            pdf.set_line_width(mark.line)
            if mark.dash:
                pdf.set_dash_pattern(dash=mark.dash[0], gap=mark.dash[1])
        style = ("D" if mark.stroke else "") + ("F" if mark.fill else "")
        if isinstance(mark, Rect):
            pdf.rect(mark.x, mark.y, mark.width, mark.height, style)
        else:
            pdf.polyline(list(mark.points), polygon=mark.fill is not None, style=style)
        if mark.dash:
            pdf.set_dash_pattern()
        return
    pdf.set_font(FAMILY, "B" if mark.bold else "", mark.size)
    pdf.set_text_color(*_rgb(mark.colour))
    left = mark.x - width_of(mark.text, mark.size, mark.bold) if mark.right else mark.x
    pdf.text(left, mark.y, mark.text)
