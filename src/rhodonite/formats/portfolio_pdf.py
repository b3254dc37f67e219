"""A portfolio on paper: each part with its items, when they are expected and what they hinge on."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from ..core.portfolio.readings import ItemLine, PartOnPaper, say_expected, say_holds_up
from .paper import INK, QUIET, ROSE, Paper

PART, LINE, MARGIN, FOOT = 10.0, 9.0, 14.0, 18.0
"""Millimetres: of the head of a part, of an item, round the page, and kept free below."""
EMBER, BAND, RULE = (178, 58, 16), (239, 235, 238), (228, 222, 227)
WIDTHS = (94.0, 48.0, 30.0, 16.0)
"""Of an item: its title, its state, its bar, and its percent; what is left is when it is expected."""


def write_portfolio_pdf(name: str, said: str, parts: Sequence[PartOnPaper], hidden: str, at: datetime) -> bytes:
    """A portfolio as a PDF document.

    Args:
        said: for whom and of when it is.
        hidden: how much more there is that its reader may not see, in words; may be empty.
        at: when it is printed.
    """
    pdf = Paper(name, f"{name}, {said}", at, across=True)
    pdf.set_auto_page_break(False)
    pdf.set_margins(MARGIN, MARGIN, MARGIN)
    pdf.set_xy(MARGIN, MARGIN)
    pdf.words(name, 17, bold=True)
    pdf.words(said + hidden, 9, QUIET)
    pdf.ln(4)
    for part in parts:
        _make_room(pdf, PART + LINE * min(1, len(part.items)))
        _head(pdf, part)
        for one in part.items:
            _make_room(pdf, LINE)
            _item(pdf, one, at)
        pdf.ln(3)
    if not parts:
        pdf.words("Nothing is joined that you may see.", 10, QUIET)
    return bytes(pdf.output())


def _make_room(pdf: Paper, high: float) -> None:
    if pdf.get_y() + high > pdf.h - FOOT:
        pdf.add_page()
        pdf.set_xy(MARGIN, MARGIN)


def _head(pdf: Paper, part: PartOnPaper) -> None:
    top, left = pdf.get_y(), MARGIN + 4 * min(part.depth, 6)
    pdf.line_of(left, top, 14, part.code, 8.5, ROSE, bold=True)
    pdf.line_of(left + 15, top, 105, part.name, 11, bold=True)
    health = part.health.replace("_", " ") if part.health else ""
    said = ", ".join(filter(None, (health, part.far)))
    pdf.line_of(left + 122, top + 0.6, pdf.w - MARGIN - left - 122, said, 8.5, QUIET, align="R")
    _rule(pdf, top + 6.5, INK)
    pdf.set_xy(MARGIN, top + 7.5)


def _item(pdf: Paper, one: ItemLine, at: datetime) -> None:
    top, x = pdf.get_y(), MARGIN
    title, state, bar, percent = WIDTHS
    worry = EMBER if one.troubled else QUIET
    pdf.line_of(x, top, title - 3, f"{one.code} {one.number}  {one.title}", 9)
    pdf.line_of(x, top + 4.2, pdf.w - 2 * MARGIN, say_holds_up(one), 7.5, worry)
    x += title
    pdf.line_of(x, top, state - 2, ", ".join(filter(None, (one.state, one.owner))), 8, QUIET)
    x += state
    pdf.set_fill_color(*BAND)
    pdf.rect(x, top + 0.9, bar, 2.2, style="F")
    if one.percent:
        pdf.set_fill_color(*INK)
        pdf.rect(x, top + 0.9, bar * one.percent / 100, 2.2, style="F")
    pdf.line_of(x + bar, top, percent - 4, f"{one.percent} %", 8, bold=True, align="R")
    x += bar + percent
    pdf.line_of(x, top, pdf.w - MARGIN - x - 20, say_expected(one, at.date()), 8.5, worry if one.past and one.past > 0 else INK)
    pdf.line_of(pdf.w - MARGIN - 20, top, 20, one.health.replace("_", " "), 8, QUIET, align="R")
    _rule(pdf, top + LINE - 1, RULE)
    pdf.set_xy(MARGIN, top + LINE)


def _rule(pdf: Paper, y: float, colour: tuple[int, int, int]) -> None:
    pdf.set_draw_color(*colour)
    pdf.set_line_width(0.2)
    pdf.line(MARGIN, y, pdf.w - MARGIN, y)
