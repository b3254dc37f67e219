"""A dashboard on paper: its panels as they stand on the grid, on A4 across."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import datetime
from decimal import Decimal
from typing import Any

from ..core.common.dates import say_day
from ..core.reports.answers import (
    Answer,
    FigureAnswer,
    Item,
    LinesAnswer,
    PeopleAnswer,
    ScatterAnswer,
    TasksAnswer,
    TextAnswer,
    say_amount,
)
from ..core.reports.charts import Chart
from ..core.reports.dashboards import COLUMNS, Options, Panel, placed
from .drawing.letters import FAMILY
from .html import words_of
from .paper import INK, QUIET, ROSE, Colour, Paper

EMBER, RULE, BAND = (178, 58, 16), (208, 199, 207), (239, 235, 238)
SHADES: tuple[Colour, ...] = (RULE, (220, 157, 180), ROSE, INK, (71, 106, 150), (143, 94, 8), (31, 122, 104), (122, 74, 140))
MARGIN, ROW, HEAD = 10.0, 8.2, 6.5
"""Millimetres: round the page, of a row of the grid, of the title of a panel."""
LINE = 4.6


@dataclass(frozen=True, slots=True)
class PaperPanel:
    """A panel with what it shows; without an answer ``problem`` says why."""

    panel: Panel
    name: str
    answer: Answer | None
    problem: str


@dataclass(frozen=True, slots=True)
class _Box:
    """A part of the page, in millimetres."""

    x: float
    y: float
    width: float
    height: float

    @property
    def end(self) -> float:
        """Where it ends below."""
        return self.y + self.height


def write_dashboard_pdf(name: str, said: str, panels: Sequence[PaperPanel], at: datetime) -> bytes:
    """A dashboard as a PDF document.

    Args:
        said: for whom and of when it is, at its head.
        at: when it is printed.
    """
    pdf = Paper(name, f"{name}, {said}", at, across=True)
    pdf.set_auto_page_break(False)
    pdf.set_margins(MARGIN, MARGIN, MARGIN)
    pdf.set_xy(MARGIN, MARGIN)
    pdf.words(name, 17, bold=True)
    pdf.set_x(MARGIN)
    pdf.words(said, 9, QUIET)
    by_id = {one.panel.id: one for one in panels}
    top = pdf.get_y() + 2
    for band in _bands(placed([one.panel for one in panels])):
        first, rows = band[0][2], max(y + one.height for one, _, y in band) - band[0][2]
        room = pdf.h - 16 - top
        if rows * ROW > room and top > MARGIN + 1:
            pdf.add_page()
            top, room = MARGIN, pdf.h - 16 - MARGIN
        scale = min(1.0, room / (rows * ROW))  # one that is higher than a page is made to fit
        for one, x, y in band:
            column = (pdf.w - 2 * MARGIN) / COLUMNS
            box = _Box(MARGIN + x * column, top + (y - first) * ROW * scale, one.width * column, one.height * ROW * scale)
            _draw(pdf, by_id[one.id], box)
        top += rows * ROW * scale
    return bytes(pdf.output())


def _bands(found: Sequence[tuple[Panel, int, int]]) -> Iterator[list[tuple[Panel, int, int]]]:
    """Panels that stand side by side: between two bands no panel reaches over."""
    band: list[tuple[Panel, int, int]] = []
    end = 0
    for one in sorted(found, key=lambda each: (each[2], each[1])):
        if band and one[2] >= end:
            yield band
            band = []
        band.append(one)
        end = max(end, one[2] + one[0].height)
    if band:
        yield band


def _draw(pdf: Paper, one: PaperPanel, box: _Box) -> None:
    pdf.set_draw_color(*RULE)
    pdf.set_line_width(0.2)
    pdf.rect(box.x, box.y, box.width, box.height)
    pdf.line_of(box.x + 2.5, box.y + 1.6, box.width - 5, one.name, 10, bold=True)
    inner = _Box(box.x + 2.5, box.y + HEAD, box.width - 5, box.height - HEAD - 1.5)
    if one.answer is None:
        pdf.line_of(inner.x, inner.y, inner.width, one.problem, 8.5, QUIET)
        return
    with _within(pdf, inner):
        _DRAWS[type(one.answer)](pdf, inner, one.answer, one.panel.options)


@contextmanager
def _within(pdf: Paper, box: _Box) -> Iterator[None]:
    """Nothing is drawn beyond a part of the page."""
    with pdf.rect_clip(x=box.x, y=box.y, w=box.width, h=box.height):
        yield


def _tasks(pdf: Paper, box: _Box, answer: TasksAnswer, _: Options) -> None:
    y = box.y
    share = 0.6 if answer.heads else 0.78
    column = box.width * (1 - share) / max(1, len(answer.heads))
    for at, head in enumerate(answer.heads):
        pdf.line_of(box.x + box.width * share + at * column, y, column, head, 7.5, QUIET)
    y += LINE if answer.heads else 0
    for one in answer.items[: int((box.end - y) / LINE)]:
        pdf.line_of(box.x, y, box.width * share - 2, f"{one.row.task.title}  {one.project.code}", 8.5)
        if answer.heads:
            for at, word in enumerate(one.words):
                pdf.line_of(box.x + box.width * share + at * column, y, column - 1, word, 8)
        else:
            _due(pdf, box.x + box.width * share, y, box.width * (1 - share), one)
        y += LINE
    if not answer.items:
        pdf.line_of(box.x, y, box.width, "Nothing is left by the sentence.", 8.5, QUIET)


def _due(pdf: Paper, x: float, y: float, width: float, one: Item) -> None:
    row = one.row
    late = row.late_days > 0 and row.state_class in {"queued", "active"}
    said = f"{row.late_days} d late" if late else say_day(row.finish.date()) if row.finish else ""
    pdf.line_of(x, y, width, said, 8, EMBER if late else QUIET, bold=late, align="R")


def _figure(pdf: Paper, box: _Box, answer: FigureAnswer, _: Options) -> None:
    tone = INK if answer.met is None else (31, 122, 104) if answer.met else EMBER
    pdf.line_of(box.x, box.y, box.width, answer.said, 20, tone, bold=True)
    words = answer.of
    if answer.target:
        words += (
            f", {'at least' if answer.better == 'up' else 'at most'} {answer.target} wanted: {'met' if answer.met else 'not met'}"
        )
    pdf.line_of(box.x, box.y + 9.4, box.width, words, 8, QUIET)
    pdf.line_of(box.x, box.y + 12.9, box.width, answer.change, 8, QUIET)


def _lines(pdf: Paper, box: _Box, answer: LinesAnswer, _: Options) -> None:
    y, high = box.y, 8.4
    for one in answer.lines[: max(1, int(box.height / high))]:
        wide = box.width * 0.55
        pdf.line_of(box.x, y, wide, f"{one.code} {one.name}".strip(), 8.5, bold=False)
        health = 17 if any(each.health for each in answer.lines) else 0
        left, long = box.x + wide + 2, box.width - wide - 14 - health
        if one.percent is not None and long > 4:
            _bar(pdf, left, y + 0.9, long, one.percent / 100, EMBER if one.worry and answer.heads[1] == "Booked" else INK)
            if one.expected is not None:
                pdf.set_draw_color(*ROSE)
                pdf.set_line_width(0.5)
                at = left + long * min(1.0, one.expected / 100)
                pdf.line(at, y, at, y + 3.6)
            pdf.line_of(left + long + 0.5, y, 11, f"{one.percent} %", 8, bold=True, align="R")
        if one.health:
            pdf.line_of(box.x + box.width - health, y, health, one.health.replace("_", " "), 8, QUIET, align="R")
        pdf.line_of(box.x, y + 3.8, box.width, one.note, 7.5, EMBER if one.worry else QUIET)
        y += high


def _bar(pdf: Paper, x: float, y: float, width: float, share: float, colour: Colour, high: float = 2.0) -> None:
    pdf.set_fill_color(*BAND)
    pdf.rect(x, y, width, high, style="F")
    if share > 0:
        pdf.set_fill_color(*colour)
        pdf.rect(x, y, width * min(1.0, share), high, style="F")


def _people(pdf: Paper, box: _Box, answer: PeopleAnswer, _: Options) -> None:
    most = max(1, min(len(answer.people), int(box.width / 36)))
    column = box.width / most
    for at, one in enumerate(answer.people[:most]):
        x, y = box.x + at * column, box.y
        pdf.line_of(x, y, column - 2, one.name, 8.5, bold=True)
        late = f", {one.late} late" if one.late else ""
        pdf.line_of(x, y + 3.9, column - 2, f"{one.active} of {one.open} under way{late}", 7.5, EMBER if one.late else QUIET)
        y += 8.6
        for item in one.items[: max(0, int((box.end - y) / LINE))]:
            pdf.line_of(x, y, column * 0.68, item.row.task.title, 8)
            _due(pdf, x + column * 0.68, y, column * 0.32 - 2, item)
            y += LINE


def _chart(pdf: Paper, box: _Box, chart: Chart, _: Options) -> None:
    if not chart.marks:
        pdf.line_of(box.x, box.y, box.width, "Nothing is left by the sentence.", 8.5, QUIET)
        return
    top = box.y
    if len(chart.series) > 1:
        x = box.x
        for at, one in enumerate(chart.series):
            pdf.set_fill_color(*SHADES[at % len(SHADES)])
            pdf.rect(x, top + 0.6, 2.2, 2.2, style="F")
            pdf.set_font(FAMILY, "", 7.5)
            width = pdf.get_string_width(one.name) + 2
            pdf.line_of(x + 3, top, width, one.name, 7.5, QUIET)
            x += width + 5
        top += 5
    rest = _Box(box.x, top, box.width, box.end - top)
    totals = [sum((row[at] or Decimal(0) for row in chart.values), Decimal(0)) for at in range(len(chart.marks))]
    (_standing if chart.in_time else _lying)(pdf, rest, chart, totals)


def _lying(pdf: Paper, box: _Box, chart: Chart, totals: Sequence[Decimal]) -> None:
    """Bars from left to right, one under the other."""
    largest, high = max(*totals, Decimal(1)), 6.0
    wide = min(box.width * 0.34, 46.0)
    long = box.width - wide - 16
    for at, mark in enumerate(chart.marks[: max(1, int(box.height / high))]):
        y, x = box.y + at * high, box.x + wide + 1
        pdf.line_of(box.x, y + 0.4, wide - 1, mark.name, 8, align="R")
        for index, row in enumerate(chart.values):
            share = float((row[at] or Decimal(0)) / largest) * long
            if share <= 0:
                continue
            pdf.set_fill_color(*(SHADES[index % len(SHADES)] if len(chart.series) > 1 else INK))
            pdf.rect(x, y + 0.4, share, 3.6, style="F")
            x += share
        pdf.line_of(x + 1, y + 0.4, 15, say_amount(totals[at], chart.unit), 8, QUIET)


def _standing(pdf: Paper, box: _Box, chart: Chart, totals: Sequence[Decimal]) -> None:
    """Bars from the foot up, from left to right in time."""
    largest, column = max(*totals, Decimal(1)), box.width / len(chart.marks)
    foot, room = box.end - 4.5, box.height - 9
    every = max(1, int(14 / column) + 1)
    for at, mark in enumerate(chart.marks):
        x, y = box.x + at * column, foot
        for index, row in enumerate(chart.values):
            high = float((row[at] or Decimal(0)) / largest) * room
            if high <= 0:
                continue
            y -= high
            pdf.set_fill_color(*(SHADES[index % len(SHADES)] if len(chart.series) > 1 else INK))
            pdf.rect(x + column * 0.15, y, column * 0.7, high, style="F")
        if at % every == 0:
            pdf.line_of(x, foot + 0.8, column * every, mark.name, 7, QUIET, align="L" if every > 1 else "C")
            if totals[at]:
                pdf.line_of(
                    x, y - 3.6, column * every, say_amount(totals[at], chart.unit), 7, QUIET, align="L" if every > 1 else "C"
                )


def _scatter(pdf: Paper, box: _Box, answer: ScatterAnswer, _: Options) -> None:
    if not answer.points:
        pdf.line_of(box.x, box.y, box.width, "No task of the sentence has both numbers.", 8.5, QUIET)
        return
    across, up = max(one.across for one in answer.points), max(one.up for one in answer.points)
    foot, left = box.end - 5, box.x + 1
    pdf.set_draw_color(*RULE)
    pdf.line(left, box.y, left, foot)
    pdf.line(left, foot, box.x + box.width, foot)
    pdf.set_fill_color(*ROSE)
    for one in answer.points:
        x = left + float(one.across / across if across else 0) * (box.width - 4)
        y = foot - float(one.up / up if up else 0) * (foot - box.y - 3)
        pdf.circle(x, y, 0.8, style="F")
    said = f"across {answer.heads[0]} up to {say_amount(across, '')}, up {answer.heads[1]} to {say_amount(up, '')}"
    pdf.line_of(box.x, foot + 1, box.width, said, 7.5, QUIET)


def _words(pdf: Paper, box: _Box, answer: TextAnswer, _: Options) -> None:
    pdf.set_font(FAMILY, "", 9)
    pdf.set_text_color(*INK)
    pdf.set_xy(box.x, box.y)
    pdf.multi_cell(box.width, 4.4, words_of(answer.html))


_DRAWS: dict[type, Callable[[Paper, _Box, Any, Options], None]] = {
    TasksAnswer: _tasks, FigureAnswer: _figure, LinesAnswer: _lines, PeopleAnswer: _people, Chart: _chart,
    ScatterAnswer: _scatter, TextAnswer: _words,
}  # fmt: skip
