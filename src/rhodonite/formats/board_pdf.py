"""The board on paper: columns across, rows one under the other, each slip with what one asks of it first."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import datetime

from ..core.board.on_paper import Head, PaperBoard, PaperCell, PaperRow
from ..core.common.counts import count_of
from ..core.common.dates import say_day
from ..core.schedule.plan import Row
from .paper import INK, QUIET, ROSE, Paper

MARGIN, FOOT, HEAD, LANE, SLIP, GAP = 12.0, 18.0, 11.0, 7.0, 15.5, 1.5
"""Millimetres: round the page, kept free below, of heads of columns, of names of rows, of a slip, and between slips."""
TITLE = 8.0
"""Points."""
NARROW = 34.0
"""Millimetres; where columns on A4 would be narrower, the board goes on A3."""
EMBER, BAND, RULE, SHEET = (178, 58, 16), (239, 235, 238), (206, 196, 205), (252, 250, 251)
WORRIES = {"strained": (160, 104, 16), "slipping": EMBER}


def write_board_pdf(title: str, said: str, boards: Sequence[PaperBoard], people: Mapping[str, str], at: datetime) -> bytes:
    """The boards of a project as a PDF document, as large as its columns ask for.

    Args:
        said: which tasks these are, and of when.
        people: short names by id.
        at: when it is printed.
    """
    most = max((len(one.heads) or 1 for one in boards), default=1)
    pdf = Paper(title, f"{title}, {said}", at, across=True, size="A3" if (297 - 2 * MARGIN) / most < NARROW else "A4")
    pdf.set_auto_page_break(False)
    pdf.set_margins(MARGIN, MARGIN, MARGIN)
    pdf.set_xy(MARGIN, MARGIN)
    pdf.words(title, 16, bold=True)
    pdf.words(said, 9, QUIET)
    pdf.ln(3)
    for board in boards:
        _Board(pdf, board, people, at).draw()
        pdf.ln(5)
    return bytes(pdf.output())


class _Board:
    """One board, drawn from where the page stands."""

    def __init__(self, pdf: Paper, board: PaperBoard, people: Mapping[str, str], at: datetime) -> None:
        self._pdf = pdf
        self._board = board
        self._people = people
        self._at = at
        self._wide = (pdf.w - 2 * MARGIN) / max(1, len(board.heads))

    def draw(self) -> None:
        """Name, heads and rows."""
        self._make_room((8 if self._board.name else 0) + HEAD + LANE + SLIP, heads=False)
        if self._board.name:
            self._pdf.line_of(MARGIN, self._pdf.get_y(), 160, self._board.name, 12, bold=True)
            self._pdf.set_xy(MARGIN, self._pdf.get_y() + 7)
        self._heads()
        for row in self._board.rows:
            self._row(row)
        if not any(cell.slips for row in self._board.rows for cell in row.cells):
            self._pdf.words("Nothing lies here.", 9, QUIET)

    def _make_room(self, high: float, *, heads: bool = True) -> bool:
        """Go on with the next page where there is no room; True where that was done."""
        if self._pdf.get_y() + high <= self._pdf.h - FOOT:
            return False
        self._pdf.add_page()
        self._pdf.set_xy(MARGIN, MARGIN)
        if heads:
            self._heads()
        return True

    def _heads(self) -> None:
        top = self._pdf.get_y()
        for at, head in enumerate(self._board.heads):
            x = MARGIN + at * self._wide
            over = head.limit is not None and head.count > head.limit
            self._pdf.line_of(x + 1, top, self._wide - 17, head.name, 9, bold=True)
            self._pdf.line_of(x + self._wide - 17, top, 15, say_count(head), 8, EMBER if over else QUIET, bold=over, align="R")
            if head.stage is not None:
                count, limit = head.stage
                said = f"{count:,} of {limit:,} in the whole stage"
                self._pdf.line_of(
                    x + 1, top + 3.9, self._wide - 2, said, 7, EMBER if count > limit else QUIET, bold=count > limit
                )
        self._rule(top + HEAD - 3, INK)
        self._pdf.set_xy(MARGIN, top + HEAD - 1.5)

    def _row(self, row: PaperRow) -> None:
        deep = max((lines_of(cell) for cell in row.cells), default=0)
        if not deep and row.name == "":
            return
        self._make_room((LANE if row.name else 0) + SLIP)
        self._name(row.name)
        done = 0
        while done < deep:
            if self._make_room(SLIP):
                self._name(f"{row.name}, continued" if row.name else "")
            lines = min(deep - done, int((self._pdf.h - FOOT - self._pdf.get_y() + GAP) // (SLIP + GAP)))
            self._lines(row, done, max(1, lines))
            done += max(1, lines)

    def _name(self, name: str) -> None:
        if not name:
            return
        top = self._pdf.get_y()
        self._pdf.set_fill_color(*BAND)
        self._pdf.rect(MARGIN, top, self._pdf.w - 2 * MARGIN, LANE - 1.8, style="F")
        self._pdf.line_of(MARGIN + 1, top + 0.6, self._pdf.w - 2 * MARGIN - 2, name, 8.5, bold=True)
        self._pdf.set_xy(MARGIN, top + LANE - 0.6)

    def _lines(self, row: PaperRow, first: int, count: int) -> None:
        """So many lines of slips of a row, from one on."""
        top, at = self._pdf.get_y(), 0
        high = count * (SLIP + GAP)
        for cell in row.cells:
            x = MARGIN + at * self._wide
            if cell.skipped:
                self._pdf.set_fill_color(*BAND)
                self._pdf.rect(x + 1, top, self._wide - 2, high - GAP, style="F")
            elif cell.span > 1:
                self._joined(x, top, self._wide * cell.span, high)
            for place, slip in enumerate(cell.slips[first * cell.span : (first + count) * cell.span]):
                down, along = divmod(place, cell.span)
                self._slip(slip, x + along * self._wide + 0.7, top + down * (SLIP + GAP))
            at += cell.span
        self._pdf.set_xy(MARGIN, top + high)

    def _joined(self, x: float, y: float, wide: float, high: float) -> None:
        """A frame round what lies over several columns."""
        self._pdf.set_draw_color(*RULE)
        self._pdf.set_line_width(0.2)
        self._pdf.set_dash_pattern(1, 1)
        self._pdf.rect(x + 0.2, y - 0.5, wide - 0.4, high - GAP + 1)
        self._pdf.set_dash_pattern()

    def _slip(self, row: Row, x: float, y: float) -> None:
        pdf, wide = self._pdf, self._wide - 1.4
        worry = WORRIES.get(row.health)
        pdf.set_fill_color(*SHEET)
        pdf.set_draw_color(*RULE)
        pdf.set_line_width(0.2)
        pdf.rect(x, y, wide, SLIP, style="DF")
        if worry:
            pdf.set_fill_color(*worry)
            pdf.rect(x, y, 1, SLIP, style="F")
        room = wide - 4
        pdf.line_of(x + 2, y + 0.9, room / 2, str(row.task.number), 6.5, ROSE, bold=True)
        pdf.line_of(x + 2 + room / 2, y + 0.9, room / 2, _standing(row), 6.5, worry or QUIET, bold=bool(worry), align="R")
        for at, line in enumerate(pdf.wrapped(row.task.title, room, 2, TITLE)):
            pdf.line_of(x + 2, y + 4 + at * 3.5, room, line, TITLE)
        owner = self._people.get(row.task.owner_id or "", "nobody")
        pdf.line_of(x + 2, y + SLIP - 3.8, room * 0.55, owner, 6.5, QUIET)
        due = say_day(row.finish.date(), self._at.date()) if row.finish else ""
        late = row.late_days > 0
        pdf.line_of(x + 2 + room * 0.55, y + SLIP - 3.8, room * 0.45, due, 6.5, EMBER if late else QUIET, bold=late, align="R")

    def _rule(self, y: float, colour: tuple[int, int, int]) -> None:
        self._pdf.set_draw_color(*colour)
        self._pdf.set_line_width(0.3)
        self._pdf.line(MARGIN, y, self._pdf.w - MARGIN, y)


def lines_of(cell: PaperCell) -> int:
    """How many lines the slips of a cell take, side by side where it has several columns."""
    return -(-len(cell.slips) // cell.span)


def say_count(head: Head) -> str:
    """How many stand in a column, and how many may."""
    return f"{head.count:,} of {head.limit:,}" if head.limit is not None else f"{head.count:,}"


def _standing(row: Row) -> str:
    """What one asks of a slip first: what stops it, that it goes badly, or how far it is."""
    if row.task.is_held and row.state_class != "finished":
        return "held"
    if row.health in WORRIES:
        late = f", {count_of(row.late_days, 'day')} late" if row.late_days > 0 else ""
        return f"{row.health}{late}"
    return f"{row.percent} %" if row.state_class == "active" else ""
