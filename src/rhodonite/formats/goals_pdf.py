"""Goals on paper: the tree of them, each with how far it is and should be."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from ..core.goals.readings import GoalLine
from .paper import INK, QUIET, ROSE, Paper

HIGH, BAR = 11.0, 44.0
"""Millimetres: of a goal, and of its bar."""


def write_goals_pdf(purpose: str, goals: Sequence[GoalLine], said: str, at: datetime) -> bytes:
    """The goals that somebody sees as a PDF document.

    Args:
        purpose: what the organisation is there for; may be empty.
        said: for whom and of when it is.
        at: when it is printed.
    """
    pdf = Paper("Goals", f"Goals, {said}", at)
    pdf.words("Goals", 18, bold=True)
    pdf.words(said, 9, QUIET)
    pdf.ln(2)
    if purpose:
        pdf.words(purpose, 10)
        pdf.ln(3)
    for one in goals:
        if pdf.get_y() + HIGH > pdf.h - 22:
            pdf.add_page()
        _draw(pdf, one)
    if not goals:
        pdf.words("No goals.", 10, QUIET)
    return bytes(pdf.output())


def _draw(pdf: Paper, one: GoalLine) -> None:
    top, left = pdf.get_y(), pdf.l_margin + min(one.depth, 8) * 5
    right = pdf.w - pdf.r_margin
    pdf.line_of(left, top, right - left - BAR - 26, one.title, 9.5, bold=one.depth == 0)
    pdf.line_of(left, top + 4.8, right - left - BAR - 26, f"{one.owner}, {one.period}, {one.far}", 8, QUIET)
    start = right - BAR - 24
    pdf.set_fill_color(239, 235, 238)
    pdf.rect(start, top + 1.2, BAR, 2.4, style="F")
    if one.percent is not None:
        pdf.set_fill_color(*INK)
        pdf.rect(start, top + 1.2, BAR * float(one.percent) / 100, 2.4, style="F")
    if one.expected is not None:
        pdf.set_draw_color(*ROSE)
        pdf.set_line_width(0.5)
        at = start + BAR * min(1.0, float(one.expected) / 100)
        pdf.line(at, top + 0.2, at, top + 4.6)
    percent = "" if one.percent is None else f"{one.percent:.0f} %"
    pdf.line_of(start + BAR + 1, top, 23, percent, 9, bold=True, align="R")
    pdf.line_of(start + BAR + 1, top + 4.8, 23, one.health.replace("_", " "), 8, QUIET, align="R")
    pdf.set_draw_color(228, 222, 227)
    pdf.set_line_width(0.2)
    pdf.line(pdf.l_margin, top + HIGH - 1, right, top + HIGH - 1)
    pdf.set_xy(pdf.l_margin, top + HIGH)
