"""Bars, milestones, slack, agreed dates and links of the schedule as marks. A row is ``h`` high, its top at ``y``."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime, time

from ...core.schedule.plan import Row
from ...core.tasks.model import PINS
from .letters import width_of
from .marks import Mark, Path, Point, Rect, Text
from .time_axis import BAND, INK, INK_2, ROSE, TimeAxis

INK_3, EMBER, OCHRE, SLATE, SHEET = "#786d7c", "#bf3f13", "#a86f0c", "#476a96", "#ffffff"


@dataclass(frozen=True, slots=True)
class Place:
    """The ends of a bar; of a milestone both are its point."""

    left: float
    right: float
    point: bool


def place_of(row: Row, axis: TimeAxis) -> Place | None:
    """Where a row's bar lies; None where it is undated."""
    start, finish = row.start or row.finish, row.finish or row.start
    if start is None or finish is None:
        return None
    if row.task.kind == "milestone" and not row.is_summary:
        return Place(axis.x(finish), axis.x(finish), True)
    left = axis.x(start if row.start else datetime.combine(start.date(), time()))
    right = axis.x(finish if row.finish else datetime.combine(finish.date(), time(23, 59)))
    return Place(left, max(left + 1.5, right), False)


def bar_marks(row: Row, axis: TimeAxis, y: float, h: float) -> Iterator[Mark]:
    """Everything that stands in a row of the schedule."""
    place = place_of(row, axis)
    if place is None:
        return
    yield from _tail(row, axis, place, y, h)
    yield from _agreed(row, axis, y, h)
    if place.point:
        yield from _milestone(row, axis, place, y, h)
    elif row.is_summary:
        yield from _bracket(row, place, y, h)
    else:
        yield from _plain(row, place, y, h)
    if row.task.deadline is not None:
        yield _flag(axis.x(row.task.deadline), row.breaks_deadline, y, h)


def _tone(row: Row) -> str:
    if row.late_days:
        return EMBER
    if row.critical:
        return INK
    return OCHRE if row.health == "strained" else INK_3


def _plain(row: Row, place: Place, y: float, h: float) -> Iterator[Mark]:
    top, tall, wide, tone = y + h * 0.33, h * 0.34, place.right - place.left, _tone(row)
    fill = SHEET if row.critical and not row.late_days else BAND
    yield Rect(place.left, top, wide, tall, fill=fill, stroke=tone, line=1.3 if row.critical else 0.7)
    if row.percent:
        yield Rect(place.left, top, wide * row.percent / 100, tall, fill=tone)
    if row.held:
        middle = (place.left + place.right) / 2
        for x in (middle - 1.6, middle + 1.6):
            yield Path(((x, y + h * 0.2), (x, y + h * 0.8)), stroke=EMBER, line=1.3)
        yield Text(place.right + 5, y + h * 0.66, f"held: {row.held}", h * 0.48, EMBER)
    if row.task.constraint_type in PINS:
        yield from pin(place.right if row.task.constraint_type == "must_finish" else place.left, y, h)


def pin(x: float, y: float, h: float) -> Iterator[Mark]:
    """The sign of a date that holds a task in place: a ring with a point, here eight-sided."""
    r, cy = h * 0.16, y + h * 0.3
    corners = ((1, 0.41), (0.41, 1), (-0.41, 1), (-1, 0.41), (-1, -0.41), (-0.41, -1), (0.41, -1), (1, -0.41))
    ring = tuple((x + a * r, cy + b * r) for a, b in corners)
    yield Path(ring, fill=SHEET)
    yield Path((*ring, ring[0]), stroke=INK, line=0.8)
    yield Rect(x - 0.7, cy - 0.7, 1.4, 1.4, fill=INK)


def _diamond(x: float, y: float, r: float) -> tuple[Point, ...]:
    return (x, y - r), (x + r, y), (x, y + r), (x - r, y)


def _milestone(row: Row, axis: TimeAxis, place: Place, y: float, h: float) -> Iterator[Mark]:
    late = row.late_days > 0 and row.state_class != "finished"
    tone = EMBER if late else INK if row.critical or row.state_class == "finished" else INK_3
    yield Path(_diamond(place.left, y + h / 2, h * 0.26), fill=tone)
    if row.task.constraint_type in PINS:
        yield from pin(place.left, y, h)
    words = place.left + h * 0.5
    if row.task.deadline is not None and -9 < axis.x(row.task.deadline) - words < 20:
        words = axis.x(row.task.deadline) + 8  # clear of the flag
    yield Text(words, y + h * 0.66, row.task.title, h * 0.48, INK_2, bold=True)


def _bracket(row: Row, place: Place, y: float, h: float) -> Iterator[Mark]:
    top, foot = y + h * 0.42, y + h * 0.68
    points = ((place.left, foot), (place.left, top), (place.right, top), (place.right, foot))
    yield Path(points, stroke=INK_2, line=1.5)
    if row.percent:
        yield Rect(place.left, top - 0.4, (place.right - place.left) * row.percent / 100, h * 0.13, fill=INK)


def _tail(row: Row, axis: TimeAxis, place: Place, y: float, h: float) -> Iterator[Mark]:
    """Slack: a dotted tail that ends in a stop."""
    if row.late_finish is None or row.is_summary:
        return
    end, line, begin = axis.x(row.late_finish), y + h * 0.72, place.right + 1 + _words_after(row, h)
    if end - begin >= 3:
        yield Path(((begin, line), (end, line)), stroke=INK_3, line=0.8, dash=(0.9, 1.8))
        yield Path(((end, y + h * 0.52), (end, y + h * 0.78)), stroke=INK_3, line=0.8)


def _words_after(row: Row, h: float) -> float:
    """How much room the words behind a bar take, so that its slack begins after them."""
    if row.task.kind == "milestone":
        return h * 0.5 + width_of(row.task.title, h * 0.48, True) + 2
    return 7 + width_of(f"held: {row.held}", h * 0.48) if row.held else 0.0


def _agreed(row: Row, axis: TimeAxis, y: float, h: float) -> Iterator[Mark]:
    """Where it was agreed that a task stands, where that is elsewhere: a thin line under the bar."""
    agreed = row.agreed
    if agreed is None or (agreed.start, agreed.finish) == (row.start, row.finish):
        return
    start, finish = agreed.start or agreed.finish, agreed.finish or agreed.start
    if start is None or finish is None:
        return
    if row.task.kind == "milestone" and not row.is_summary:
        points = _diamond(axis.x(finish), y + h * 0.8, h * 0.16)
        yield Path((*points, points[0]), stroke=SLATE, line=0.8)
    else:
        yield Rect(axis.x(start), y + h * 0.8, max(1.5, axis.x(finish) - axis.x(start)), h * 0.09, fill=SLATE)


def _flag(x: float, broken: bool, y: float, h: float) -> Mark:
    points = (
        (x, y + h * 0.84),
        (x, y + h * 0.2),
        (x + 5, y + h * 0.2),
        (x + 3.4, y + h * 0.32),
        (x + 5, y + h * 0.44),
        (x, y + h * 0.44),
    )
    return Path(points, stroke=EMBER if broken else INK_2, line=0.8)


def link_marks(kind: str, a: Place, ay: float, b: Place, by: float, h: float, critical: bool) -> Iterator[Mark]:
    """A link from bar ``a`` to bar ``b``, ``ay`` and ``by`` being the middles of their rows."""
    points, tip = _route(kind, a, ay, b, by, h)
    stroke, line = (INK, 1.4) if critical else (INK_3, 0.6)
    yield Path(tuple(points), stroke=stroke, line=line)
    (x, y), (before_x, before_y) = points[-1], points[-2]
    along = (1.0 if x > before_x else -1.0, 0.0) if tip == "x" else (0.0, 1.0 if y > before_y else -1.0)
    side = (along[1], along[0])
    size = 2.6
    base = (x - along[0] * size, y - along[1] * size)
    yield Path(((x, y), (base[0] + side[0] * 1.8, base[1] + side[1] * 1.8), (base[0] - side[0] * 1.8, base[1] - side[1] * 1.8)),
               fill=stroke)  # fmt: skip


def _route(kind: str, a: Place, ay: float, b: Place, by: float, h: float) -> tuple[list[Point], str]:
    """The corners of a link, and whether its arrow comes in along x or y."""
    out, into = (1 if kind[0] == "F" else -1), (1 if kind[1] == "S" else -1)
    half_a, half_b = (h * 0.26 if a.point else 0.0), (h * 0.26 if b.point else 0.0)
    x1 = (a.right + half_a) if out > 0 else (a.left - half_a)
    x2 = (b.left - half_b) if into > 0 else (b.right + half_b)
    down = 1 if by > ay else -1
    turn, room = x1 + out * 4, b.right - b.left
    onto = b.left + min(room - 1, 8) if room > 6 else x1 + 4  # straight down onto the bar that waits, the usual case
    if kind == "FS" and b.left - 1 <= turn <= onto and x1 <= b.left + max(1.0, room - 4):
        x = max(turn, b.left + 1.5) if room > 6 else b.left + min(room / 2, 2.5)
        return [(x1, ay), (x, ay), (x, by - down * h * (0.26 if b.point else 0.17))], "y"
    gap = x2 - into * 5
    if out == into and out * (gap - turn) >= -1:
        return [(x1, ay), (turn, ay), (turn, by), (x2, by)], "x"
    if out != into:
        x = max(turn, gap) if out > 0 else min(turn, gap)
        return [(x1, ay), (x, ay), (x, by), (x2, by)], "x"
    between = by - down * h / 2
    return [(x1, ay), (turn, ay), (turn, between), (gap, between), (gap, by), (x2, by)], "x"


def legend(x: float, y: float, size: float) -> Iterator[Mark]:
    """What the signs mean, along one line."""

    def words(text: str) -> Iterator[Mark]:
        nonlocal x
        yield Text(x, y, text, size, INK_2)
        x += width_of(text, size) + 14

    middle = y - size * 0.32
    yield Path(((x, middle), (x + 16, middle)), stroke=INK, line=1.6)
    x += 20
    yield from words("vein: decides the finish")
    yield Path(((x, middle), (x + 16, middle)), stroke=INK_3, line=0.8, dash=(0.9, 1.8))
    x += 20
    yield from words("slack")
    yield Rect(x, middle - 1, 16, 2, fill=SLATE)
    x += 20
    yield from words("agreed")
    yield Path(_diamond(x + 4, middle, 3.6), fill=INK_3)
    x += 12
    yield from words("milestone")
    yield _flag(x, False, middle - 5, 9)
    x += 10
    yield from words("deadline")
    yield from pin(x + 4, middle - 5.4, 18)
    x += 12
    yield from words("pinned by hand")
    yield Path(((x, middle - 4), (x, middle + 4)), stroke=ROSE, line=1)
    x += 5
    yield from words("now")
