"""What a drawing is made of. Lengths are points, 1/72 inch; y grows downward."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field, replace
from itertools import pairwise

Point = tuple[float, float]
Box = tuple[float, float, float, float]
"""Left, top, right, bottom."""


@dataclass(frozen=True, slots=True)
class Rect:
    """A rectangle, filled, outlined or both."""

    x: float
    y: float
    width: float
    height: float
    fill: str | None = None
    stroke: str | None = None
    line: float = 1
    dash: tuple[float, float] | None = None


@dataclass(frozen=True, slots=True)
class Path:
    """Straight lines from point to point; closed where it is filled."""

    points: tuple[Point, ...]
    stroke: str | None = None
    fill: str | None = None
    line: float = 1
    dash: tuple[float, float] | None = None


@dataclass(frozen=True, slots=True)
class Text:
    """One line of text; ``x`` is its left end, or its right end where ``right`` is true, ``y`` its base line."""

    x: float
    y: float
    text: str
    size: float
    colour: str
    bold: bool = False
    right: bool = False


Mark = Rect | Path | Text


@dataclass(slots=True)
class Page:
    """A page with its marks, from the back to the front."""

    width: float
    height: float
    marks: list[Mark] = field(default_factory=list)


def shifted(mark: Mark, dx: float, dy: float) -> Mark:
    """A mark elsewhere."""
    if isinstance(mark, Path):
        return replace(mark, points=tuple((x + dx, y + dy) for x, y in mark.points))
    return replace(mark, x=mark.x + dx, y=mark.y + dy)


def clipped(marks: Iterable[Mark], box: Box) -> Iterator[Mark]:
    """What of some marks lies within a box. Text and filled paths are kept whole where they begin inside."""
    left, top, right, bottom = box
    for mark in marks:
        if isinstance(mark, Rect):
            x0, x1 = max(mark.x, left), min(mark.x + mark.width, right)
            y0, y1 = max(mark.y, top), min(mark.y + mark.height, bottom)
            if x1 > x0 and y1 > y0:
                yield replace(mark, x=x0, y=y0, width=x1 - x0, height=y1 - y0)
        elif isinstance(mark, Text):
            if left <= mark.x < right and top <= mark.y <= bottom:
                yield mark
        elif mark.fill is not None:
            x, y = mark.points[0]
            if left <= x <= right and top <= y <= bottom:
                yield mark
        else:
            yield from _clipped_lines(mark, box)


def _clipped_lines(path: Path, box: Box) -> Iterator[Path]:
    run: list[Point] = []
    for a, b in pairwise(path.points):
        part = _clipped_line(a, b, box)
        if part is None:
            continue
        if run and run[-1] == part[0]:
            run.append(part[1])
        else:
            if run:
                yield replace(path, points=tuple(run))
            run = list(part)
    if run:
        yield replace(path, points=tuple(run))


def _clipped_line(a: Point, b: Point, box: Box) -> tuple[Point, Point] | None:
    """The part of a line within a box (Liang and Barsky, 1984)."""
    (x0, y0), (dx, dy) = a, (b[0] - a[0], b[1] - a[1])
    enter, leave = 0.0, 1.0
    for step, room in ((-dx, x0 - box[0]), (dx, box[2] - x0), (-dy, y0 - box[1]), (dy, box[3] - y0)):
        if step == 0:
            if room < 0:
                return None
        elif step < 0:
            enter = max(enter, room / step)
        else:
            leave = min(leave, room / step)
    if enter > leave:
        return None
    first = a if enter == 0 else (x0 + enter * dx, y0 + enter * dy)
    last = b if leave == 1 else (x0 + leave * dx, y0 + leave * dy)
    return first, last
