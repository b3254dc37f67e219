"""A page as PNG, drawn with Pillow at twice its size and made smaller, so that lines are smooth."""

from __future__ import annotations

import io
import math
from functools import lru_cache
from itertools import pairwise

from PIL import Image, ImageDraw, ImageFont

from .letters import font_file
from .marks import Mark, Page, Path, Point, Rect

DOTS = 144
"""Dots an inch."""
_MOST = 40_000_000
"""As many dots are drawn at most, before a page is made smaller; a very large one is drawn coarser instead."""


def write_png(page: Page) -> bytes:
    """The page as a PNG picture."""
    scale = DOTS / 72
    fine = 2
    while page.width * page.height * (scale * fine) ** 2 > _MOST and fine * scale > 0.5:
        if fine == 2:
            fine = 1
        else:
            scale *= 0.8
    image = Image.new("RGB", (round(page.width * scale * fine), round(page.height * scale * fine)), "white")
    draw = ImageDraw.Draw(image)
    for mark in page.marks:
        _draw(draw, mark, scale * fine)
    if fine > 1:
        image = image.resize((image.width // fine, image.height // fine), Image.Resampling.LANCZOS)
    out = io.BytesIO()
    image.save(out, "PNG", dpi=(72 * scale, 72 * scale))
    return out.getvalue()


@lru_cache(maxsize=64)
def _font(bold: bool, size: float) -> ImageFont.FreeTypeFont:
    return ImageFont.truetype(str(font_file(bold)), size)


def _draw(draw: ImageDraw.ImageDraw, mark: Mark, scale: float) -> None:
    if isinstance(mark, Rect):
        corners = [(mark.x, mark.y), (mark.x + mark.width, mark.y), (mark.x + mark.width, mark.y + mark.height),
                   (mark.x, mark.y + mark.height)]  # fmt: skip
        _draw_lines(draw, corners, mark, scale, closed=True)
    elif isinstance(mark, Path):
        _draw_lines(draw, list(mark.points), mark, scale, closed=mark.fill is not None)
    else:
        anchor = "rs" if mark.right else "ls"
        font = _font(mark.bold, round(mark.size * scale, 1))
        draw.text((mark.x * scale, mark.y * scale), mark.text, fill=mark.colour, font=font, anchor=anchor)


def _draw_lines(draw: ImageDraw.ImageDraw, points: list[Point], mark: Rect | Path, scale: float, *, closed: bool) -> None:
    scaled = [(x * scale, y * scale) for x, y in points]
    if mark.fill:
        draw.polygon(scaled, fill=mark.fill)
    if not mark.stroke:
        return
    if closed:
        scaled.append(scaled[0])
    width = max(1, round(mark.line * scale))
    if mark.dash is None:
        draw.line(scaled, fill=mark.stroke, width=width)
        return
    for a, b in pairwise(scaled):
        for first, last in _dashes(a, b, mark.dash[0] * scale, mark.dash[1] * scale):
            draw.line([first, last], fill=mark.stroke, width=width)


def _dashes(a: Point, b: Point, dash: float, gap: float) -> list[tuple[Point, Point]]:
    length = math.dist(a, b)
    found, at = [], 0.0
    while at < length:
        end = min(at + dash, length)
        found.append(tuple((a[0] + (b[0] - a[0]) * part / length, a[1] + (b[1] - a[1]) * part / length) for part in (at, end)))
        at += dash + gap
    return found  # type: ignore[return-value]
