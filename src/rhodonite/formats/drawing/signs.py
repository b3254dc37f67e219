"""The signs of tints, marks and kinds as marks of a drawing, and the palette that they are drawn in."""

from __future__ import annotations

from collections.abc import Iterator
from math import cos, pi, sin

from .marks import Mark, Path, Point

COLOURS = {
    "ink": "#231a24", "rose": "#b23a63", "verdigris": "#1f7a68", "ochre": "#8f5e08", "ember": "#b23a10", "slate": "#476a96",
    "violet": "#7a4a8c", "moss": "#59662c",
}  # fmt: skip
GRID = 12
"""The side of the square that shapes are given in."""


def _round(radius: float) -> tuple[Point, ...]:
    return tuple((6 + radius * cos(n * pi / 8), 6 + radius * sin(n * pi / 8)) for n in range(16))


_SHAPES: dict[str, tuple[tuple[Point, ...], ...]] = {
    "square": (((2.5, 2.5), (9.5, 2.5), (9.5, 9.5), (2.5, 9.5)),),
    "circle": (_round(4.2),),
    "triangle": (((6, 1.8), (10.6, 10), (1.4, 10)),),
    "star": (((6, 1), (7.5, 4.3), (11.1, 4.7), (8.4, 7.1), (9.2, 10.7), (6, 8.9), (2.8, 10.7), (3.6, 7.1), (0.9, 4.7), (4.5, 4.3)),),
    "flag": (((2.4, 1.2), (3.4, 1.2), (3.4, 11), (2.4, 11)), ((4, 1.6), (10, 1.6), (8.2, 4.2), (10, 6.8), (4, 6.8))),
    "drop": (
        ((6, 1), (7.7, 3.4), (9.1, 5.6), (9.4, 7.3), (8.4, 9.7), (6, 10.7), (3.6, 9.7), (2.6, 7.3), (2.9, 5.6), (4.3, 3.4)),
    ),
    "cross": (
        ((4.6, 1.4), (7.4, 1.4), (7.4, 4.6), (10.6, 4.6), (10.6, 7.4), (7.4, 7.4), (7.4, 10.6), (4.6, 10.6), (4.6, 7.4),
         (1.4, 7.4), (1.4, 4.6), (4.6, 4.6)),
    ),
}  # fmt: skip


def sign(shape: str, colour: str, x: float, y: float, size: float) -> Iterator[Mark]:
    """A sign whose square has its upper left corner at a point.

    Args:
        shape, colour: as tints name them; unknown ones become a square in slate.
        size: the side of the square, in points.
    """
    scale, tone = size / GRID, COLOURS.get(colour, COLOURS["slate"])
    if shape == "ring":
        ring = tuple((x + a * scale, y + b * scale) for a, b in _round(3.7))
        yield Path((*ring, ring[0]), stroke=tone, line=1.8 * scale)
        return
    for points in _SHAPES.get(shape, _SHAPES["square"]):
        yield Path(tuple((x + a * scale, y + b * scale) for a, b in points), fill=tone)


def wash(colour: str, share: float = 0.17) -> str:
    """A colour of the palette as a ground: so much of it, the rest white paper."""
    tone = COLOURS.get(colour, COLOURS["slate"])
    parts = (int(tone[n : n + 2], 16) for n in (1, 3, 5))
    return "#" + "".join(f"{round(255 + (part - 255) * share):02x}" for part in parts)
