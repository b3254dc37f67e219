"""The schedule on paper: rows at the left, bars at the right, over as many pages as it takes, with repeated heads."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from math import ceil

from ...core.common.dates import say_day
from ...core.common.durations import say_duration, say_length
from ...core.common.errors import RuleError
from ...core.schedule.agreed import agreed_finish
from ...core.schedule.plan import Plan, Row, on_vein
from ...core.tasks.model import OPEN_CLASSES
from ...core.views.tints import Colouring
from .bars import bar_marks, legend, link_marks, pin, place_of
from .letters import fit, width_of
from .marks import Mark, Page, Path, Rect, Text, clipped, shifted
from .signs import sign, wash
from .time_axis import INK, INK_2, ROSE, RULE, TimeAxis

PAPERS = {"A4": (210, 297), "A3": (297, 420), "A2": (420, 594), "A1": (594, 841), "A0": (841, 1189),
          "Letter": (215.9, 279.4), "Legal": (215.9, 355.6), "Tabloid": (279.4, 431.8)}  # fmt: skip
"""Paper sizes in millimetres, upright (ISO 216, ANSI/ASME Y14.1)."""
ONE_SHEET = "one sheet"
SIZES = {"small": 0.8, "normal": 1.0, "large": 1.3}
MOST_PAGES = 600
MOST_WIDE = 12
COLUMNS = ("owner", "start", "finish", "duration", "slack", "waits", "percent", "agreed", "variance")
_HEADS = {"owner": "Owner", "start": "Start", "finish": "Finish", "duration": "Duration", "slack": "Slack", "waits": "Waits for",
          "percent": "Done", "agreed": "Agreed", "variance": "Variance"}  # fmt: skip
_WIDTHS = {"owner": 58, "start": 40, "finish": 40, "duration": 42, "slack": 36, "waits": 64, "percent": 30, "agreed": 40,
           "variance": 42}  # fmt: skip
_CELLS = {"agreed": "agreed_finish"}
"""Columns that a tint knows by another name."""
_LEFT_ALIGNED = {"owner", "waits"}
_POINTS = 72 / 25.4
MARGIN, TOP, AXIS, FOOT, ROW = 30.0, 40.0, 27.0, 20.0, 14.0
EMBER = "#bf3f13"


@dataclass(frozen=True, slots=True)
class Layout:
    """How the schedule is put on paper.

    Attributes:
        paper: a name of ``PAPERS``, or ``ONE_SHEET``: as large as it takes.
        wide: over how many pages, side by side, the time goes.
        size: of rows and letters: a name of ``SIZES``.
        columns: names of ``COLUMNS``, in order, beside number and title.
        first, last: the days at the ends of the axis; None: what the tasks need.
    """

    paper: str = "A4"
    landscape: bool = True
    wide: int = 1
    size: str = "normal"
    columns: Sequence[str] = ("owner", "start", "finish", "slack")
    first: date | None = None
    last: date | None = None


class SchedulePrint:
    """The schedule put on pages, which are drawn when asked for: then the plan may go on.

    Args:
        ids: the tasks within the scope, None for all.
        people: short names by id.
        now: the moment that it stands for.
        draft: the name of the draft that the plan is seen with.
        coloured: which tints colour rows, cells and bars.

    Attributes:
        count: of pages, across first, then down.

    Raises:
        RuleError: it cannot be printed so; the field says which choice is in the way.
    """

    def __init__(
        self,
        plan: Plan,
        ids: Collection[str] | None,
        people: Mapping[str, str],
        layout: Layout,
        now: datetime,
        draft: str = "",
        coloured: Colouring | None = None,
    ) -> None:
        _check(layout)
        self.coloured = coloured or Colouring()
        self.project, self.people, self.layout, self.now, self.draft = plan.project, people, layout, now, draft
        self.day_minutes = plan.calendar.day_minutes
        self.facts = _facts(plan, now)
        self.rows = _within(plan, ids)
        if not self.rows:
            raise RuleError("There is nothing to print: the sentence leaves no task. Take a clause out of it.", "columns")
        factor = SIZES[layout.size]
        self.row, self.letters = ROW * factor, 7.6 * factor
        self.axis_height = AXIS * factor
        self.number_width = 8 * factor + max(width_of(number, self.letters) for _, _, number in self.rows)
        self.title_width = 150 * factor
        self.columns = [(name, _WIDTHS[name] * factor) for name in layout.columns]
        first, last = self._span()
        self.size = self._page_size(first, last)
        self.left_first = self.number_width + self.title_width + sum(width for _, width in self.columns)
        self.left_more = self.number_width + self.title_width
        inner = self.size[0] - 2 * MARGIN
        if inner - self.left_first < 120:
            raise RuleError("The columns leave no room for bars. Choose fewer columns or larger paper.", "columns")
        self.slices = [inner - self.left_first] + [inner - self.left_more] * (layout.wide - 1)
        self.axis = TimeAxis(plan.calendar, first, last, sum(self.slices))
        room = self.size[1] - 2 * MARGIN - TOP - self.axis_height - FOOT
        self.rows_a_page = max(1, int(room / self.row + 1e-6))
        self.high = ceil(len(self.rows) / self.rows_a_page)
        self.count = self.high * layout.wide
        if self.count > MOST_PAGES:
            raise RuleError(
                f"That makes {self.count} pages; {MOST_PAGES} is the most. Choose larger paper, smaller letters, or fewer tasks.",
                "paper",
            )
        self.index = {row.task.id: index for index, (row, _, _) in enumerate(self.rows)}
        self.links = list(self._links(plan))

    def _span(self) -> tuple[date, date]:
        layout = self.layout
        moments = [at for row, _, _ in self.rows for at in (row.start, row.finish, row.task.deadline) if at is not None]
        first = layout.first or (min(moments).date() if moments else self.project.start_day) - timedelta(days=3)
        end = max(moments).date() if moments else self.project.start_day
        room = timedelta(days=max(14, (end - first).days // 8))  # for the title of the last milestone
        last = layout.last or end + room
        if last < first:
            raise RuleError("The last day lies before the first. Turn them round.", "last")
        if (last - first).days > 366 * 30:
            raise RuleError("More than thirty years do not fit. Narrow the days.", "last")
        return first, max(last, first + timedelta(days=6))

    def _page_size(self, first: date, last: date) -> tuple[float, float]:
        layout = self.layout
        if layout.paper == ONE_SHEET:
            left = self.number_width + self.title_width + sum(width for _, width in self.columns)
            wide = max(420.0, (last - first).days * 5.5 * SIZES[layout.size])
            return 2 * MARGIN + left + wide, 2 * MARGIN + TOP + self.axis_height + FOOT + len(self.rows) * self.row + 1
        short, long = (side * _POINTS for side in PAPERS[layout.paper])
        return (long, short) if layout.landscape else (short, long)

    def _links(self, plan: Plan) -> Iterator[tuple[int, int, str, bool]]:
        for to, (row, _, _) in enumerate(self.rows):
            for link in row.task.waits_for:
                before = plan.rows.get(link.from_id)
                if before is not None and link.from_id in self.index:
                    yield self.index[link.from_id], to, link.type, on_vein(before, row)

    def page(self, number: int) -> Page:
        """A page by its number, from 1. Raises RuleError where there is none of that number."""
        if not 1 <= number <= self.count:
            raise RuleError(f"There is no such page: ask for one from 1 to {self.count}.", "page")
        down, across = divmod(number - 1, self.layout.wide)
        page = Page(*self.size)
        first = down * self.rows_a_page
        rows = self.rows[first : first + self.rows_a_page]
        left = MARGIN + (self.left_first if across == 0 else self.left_more)
        top = MARGIN + TOP + self.axis_height
        page.marks.extend(self._chart(first, len(rows), across, left, top))
        page.marks.extend(self._table(rows, across == 0, top))
        page.marks.extend(self._head())
        page.marks.extend(self._foot(number))
        return page

    def _chart(self, first: int, count: int, across: int, left: float, top: float) -> Iterator[Mark]:
        """The bars of some rows within one slice of time."""
        begin = sum(self.slices[:across])
        end, height = begin + self.slices[across], count * self.row
        # tints lie at the very back, so that links, days without work and the line of now stay in sight
        marks = [mark for n in range(count) for mark in self._tinted_bar(self.rows[first + n][0], begin, end, n * self.row)]
        marks.extend(self.axis.ground(begin, end, height, self.now))
        marks.extend(Path(((begin, n * self.row), (end, n * self.row)), stroke=RULE, line=0.4) for n in range(1, count + 1))
        marks.extend(self._link_marks(first, count))
        for n in range(count):
            marks.extend(bar_marks(self.rows[first + n][0], self.axis, n * self.row, self.row))
        for mark in clipped(marks, (begin, 0, end, height)):
            placed = shifted(mark, left - begin, top)
            yield self._fitted(placed, left + end - begin) if isinstance(placed, Text) else placed
        for mark in clipped(
            self.axis.heads(begin, end, self.axis_height, self.letters * 0.92), (begin, 0, end, self.axis_height)
        ):
            placed = shifted(mark, left - begin, top - self.axis_height)
            if not isinstance(placed, Text) or self._fitted(placed, left + end - begin) == placed:
                yield placed

    def _tinted_bar(self, row: Row, begin: float, end: float, y: float) -> Iterator[Mark]:
        """The grounds that tints give to a row and to its bar, between two places of the axis."""
        if tint := self.coloured.of(row.task.id, "row"):
            yield Rect(begin, y + 0.2, end - begin, self.row - 0.4, fill=wash(tint.colour, 0.1))
        tint, place = self.coloured.of(row.task.id, "bar"), place_of(row, self.axis)
        if tint and place:
            room = 5 if place.point else 2
            yield Rect(
                place.left - room,
                y + self.row * 0.17,
                place.right - place.left + 2 * room,
                self.row * 0.66,
                fill=wash(tint.colour, 0.3),
            )

    def _tinted_cells(self, row: Row, y: float, edge: float, columns: Sequence[tuple[str, float]]) -> Iterator[Mark]:
        """The grounds that tints give to a row and its cells left of the bars."""
        if tint := self.coloured.of(row.task.id, "row"):
            yield Rect(MARGIN, y + 0.2, edge - MARGIN, self.row - 0.4, fill=wash(tint.colour))
        for name, x, wide in self._places(columns):
            if tint := self.coloured.of(row.task.id, f"cell:{_CELLS.get(name, name)}"):
                yield Rect(x, y + 0.2, wide, self.row - 0.4, fill=wash(tint.colour, 0.3))

    def _fitted(self, text: Text, edge: float) -> Text:
        words = fit(text.text, edge - text.x, text.size, text.bold)
        return Text(text.x, text.y, words, text.size, text.colour, text.bold, text.right)

    def _link_marks(self, first: int, count: int) -> Iterator[Mark]:
        last = first + count - 1
        for a, b, kind, critical in self.links:
            if max(a, b) < first or min(a, b) > last:
                continue
            begin, end = place_of(self.rows[a][0], self.axis), place_of(self.rows[b][0], self.axis)
            if begin is not None and end is not None:
                middle = [(one - first + 0.5) * self.row for one in (a, b)]
                yield from link_marks(kind, begin, middle[0], end, middle[1], self.row, critical)

    def _table(self, rows: Sequence[tuple[Row, int, str]], full: bool, top: float) -> Iterator[Mark]:
        columns = self.columns if full else []
        right = self.size[0] - MARGIN
        edge = MARGIN + (self.left_first if full else self.left_more)
        head = top - self.axis_height * 0.14
        yield Text(MARGIN, head, "No", self.letters * 0.92, INK_2)
        yield Text(MARGIN + self.number_width, head, "Task", self.letters * 0.92, INK_2)
        for name, x, wide in self._places(columns):
            yield self._cell(_HEADS[name], x, wide, head, name, INK_2, False, self.letters * 0.92)
        yield Path(((MARGIN, top), (right, top)), stroke=INK, line=0.8)
        yield Path(((edge - 0.5, top - self.axis_height), (edge - 0.5, top + len(rows) * self.row)), stroke=RULE, line=0.8)
        for n, (row, depth, number) in enumerate(rows):
            y = top + n * self.row
            base = y + self.row * 0.68
            yield from self._tinted_cells(row, y, edge, columns)
            yield Path(((MARGIN, y + self.row), (edge, y + self.row)), stroke=RULE, line=0.4)
            yield Text(MARGIN, base, number, self.letters, INK_2)
            indent = min(depth * 8.0, self.title_width / 2)
            if tint := self.coloured.of(row.task.id, "row"):
                yield from sign(
                    tint.sign, tint.colour, MARGIN + self.number_width + indent, base - self.letters * 0.75, self.letters
                )
                indent += self.letters + 2
            words = fit(row.task.title, self.title_width - indent - 6, self.letters, row.is_summary)
            colour = INK_2 if row.state_class in {"finished", "dropped"} else INK
            yield Text(MARGIN + self.number_width + indent, base, words, self.letters, colour, row.is_summary)
            if row.state_class == "dropped":
                x = MARGIN + self.number_width + indent
                yield Path(((x, base - 2.5), (x + width_of(words, self.letters), base - 2.5)), stroke=INK_2, line=0.6)
            for name, x, wide in self._places(columns):
                late = (name == "finish" and row.late_days > 0) or (name == "slack" and (row.slack or 0) < 0)
                text = _VALUES[name](self, row)
                cell = self._cell(text, x, wide, base, name, EMBER if late else INK, row.is_summary, self.letters)
                yield cell
                if not row.is_summary and row.task.constraint_type == f"must_{name}":
                    yield from pin(cell.x - width_of(cell.text, cell.size) - 5, y + self.row * 0.2, self.row)

    def _places(self, columns: Sequence[tuple[str, float]]) -> Iterator[tuple[str, float, float]]:
        x = MARGIN + self.number_width + self.title_width
        for name, wide in columns:
            yield name, x, wide
            x += wide

    def _cell(self, text: str, x: float, wide: float, y: float, name: str, colour: str, bold: bool, size: float) -> Text:
        words = fit(text, wide - 6, size, bold)
        if name in _LEFT_ALIGNED:
            return Text(x + 2, y, words, size, colour, bold)
        return Text(x + wide - 6, y, words, size, colour, bold, right=True)

    def _head(self) -> Iterator[Mark]:
        project, right, words = self.project, self.size[0] - MARGIN, self.facts
        yield Text(MARGIN, MARGIN + 14, project.code, 8, ROSE, bold=True)
        x = MARGIN + width_of(project.code, 8, True) + 7
        room = right - x - width_of(words, 8.5) - 20
        yield Text(x, MARGIN + 14, fit(project.name, room, 15, True), 15, INK, bold=True)
        x = MARGIN
        if self.draft:
            draft = fit(f"What if: {self.draft}", right - MARGIN, 9, True)
            yield Text(MARGIN, MARGIN + 28, draft, 9, ROSE, bold=True)
            x += width_of(draft, 9, True) + 16
        yield from clipped(self._tint_names(x, MARGIN + 28), (MARGIN, 0, right, self.size[1]))
        yield Text(right, MARGIN + 14, words, 8.5, INK_2, right=True)

    def _tint_names(self, x: float, y: float) -> Iterator[Mark]:
        """The sign and name of each tint that colours something here."""
        shows = {one for given in self.coloured.given.values() for one in given.values()}
        for tint in (tint for one, tint in self.coloured.tints.items() if one in shows):
            yield from sign(tint.sign, tint.colour, x, y - 6.5, 8)
            yield Text(x + 11, y, tint.name, 8, INK_2)
            x += 11 + width_of(tint.name, 8) + 14

    def _foot(self, number: int) -> Iterator[Mark]:
        y = self.size[1] - MARGIN
        right = self.size[0] - MARGIN
        printed = f"as of {say_day(self.now.date())}, {self.now:%H:%M}"
        words = f"{printed} · page {number} of {self.count}"
        yield Path(((MARGIN, y - 11), (right, y - 11)), stroke=RULE, line=0.6)
        yield Text(right, y, words, 7.5, INK_2, right=True)
        yield from clipped(legend(MARGIN, y, 7.5), (0, 0, right - width_of(words, 7.5) - 70, self.size[1]))


def _facts(plan: Plan, now: datetime) -> str:
    """What the head of every page says of the project."""
    sums, agreed = plan.sums(), agreed_finish(plan.agreed)
    facts = [f"{sums.percent} % done"]
    if sums.finish:
        facts.append(f"finish {say_day(sums.finish.date(), now.date())}")
    if agreed:
        facts.append(f"agreed {say_day(agreed.date(), now.date())}")
    return " · ".join(facts)


def _check(layout: Layout) -> None:
    if layout.paper != ONE_SHEET and layout.paper not in PAPERS:
        raise RuleError(f"There is no paper {layout.paper}. Choose one of {', '.join(PAPERS)} or {ONE_SHEET}.", "paper")
    if layout.size not in SIZES:
        raise RuleError(f"Letters are {', '.join(SIZES)}.", "size")
    if not 1 <= layout.wide <= MOST_WIDE or (layout.paper == ONE_SHEET and layout.wide != 1):
        raise RuleError(f"The time goes over 1 to {MOST_WIDE} pages side by side, on one sheet over one.", "wide")
    if unknown := [name for name in layout.columns if name not in COLUMNS]:
        raise RuleError(f"There is no column {unknown[0]}. The columns are {', '.join(COLUMNS)}.", "columns")


def _within(plan: Plan, ids: Collection[str] | None) -> list[tuple[Row, int, str]]:
    """The rows to be printed: those within, with the tasks above them."""
    if ids is None:
        return plan.ordered()
    wanted = {above for one in ids for above in (one, *plan.outline.ancestors(one))}
    return [entry for entry in plan.ordered() if entry[0].task.id in wanted]


def _day(at: datetime | None, printing: SchedulePrint) -> str:
    return say_day(at.date(), printing.now.date()) if at else ""


def _minutes(minutes: int | None, printing: SchedulePrint, none: str = "none") -> str:
    if minutes is None:
        return ""
    if minutes == 0:
        return none
    return ("−" if minutes < 0 else "") + say_duration(abs(minutes), printing.day_minutes)


def _length(row: Row) -> str:
    if not row.duration:
        return "" if row.duration is None else "0 d"
    return say_length(row.duration, row.day_minutes, row.task.elapsed and not row.is_summary)


def _slack(printing: SchedulePrint, row: Row) -> str:
    return _minutes(row.slack, printing) if row.state_class in OPEN_CLASSES else ""


_VALUES: dict[str, Callable[[SchedulePrint, Row], str]] = {
    "owner": lambda p, row: p.people.get(row.task.owner_id or "", ""),
    "start": lambda p, row: _day(row.start, p),
    "finish": lambda p, row: _day(row.finish, p),
    "duration": lambda p, row: _length(row),
    "slack": _slack,
    "waits": lambda p, row: row.waits,
    "percent": lambda p, row: f"{row.percent} %",
    "agreed": lambda p, row: _day(row.agreed.finish if row.agreed else None, p),
    "variance": lambda p, row: _minutes(row.variance, p, "as agreed"),
}
