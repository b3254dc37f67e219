"""The typeface of drawings, and how wide text is in it."""

from __future__ import annotations

import io
from collections.abc import Iterable
from functools import cache
from pathlib import Path

from fontTools import subset
from fontTools.ttLib import TTFont

FAMILY = "Commissioner"
_FOLDER = Path(__file__).parent / "fonts"


def font_file(bold: bool) -> Path:
    """The font, regular or semibold, as TrueType."""
    return _FOLDER / ("commissioner-600.ttf" if bold else "commissioner-400.ttf")


@cache
def _advances(bold: bool) -> tuple[dict[int, float], float]:
    """By code point the advance of its glyph in parts of the size, and that of a glyph that is missing."""
    with TTFont(font_file(bold)) as font:
        metrics, units = font["hmtx"], font["head"].unitsPerEm
        known = {code: metrics[name][0] / units for code, name in font.getBestCmap().items()}
        return known, metrics[".notdef"][0] / units


def width_of(text: str, size: float, bold: bool = False) -> float:
    """How wide a line of text is, in the unit of its size."""
    known, missing = _advances(bold)
    return size * sum(known.get(ord(one), missing) for one in text)


def fit(text: str, width: float, size: float, bold: bool = False) -> str:
    """As much of a text as fits into a width, with an ellipsis where some of it is left out."""
    if width_of(text, size, bold) <= width:
        return text
    known, missing = _advances(bold)
    room = width - width_of("…", size, bold)
    for index, one in enumerate(text):
        room -= size * known.get(ord(one), missing)
        if room < 0:
            return text[:index].rstrip() + "…" if index else ""
    return text


def font_with(letters: Iterable[str], bold: bool) -> bytes:
    """A font (WOFF) that holds the given letters alone, to be put into a drawing."""
    options = subset.Options(flavor="woff", layout_features=[], notdef_outline=True)
    with subset.load_font(str(font_file(bold)), options) as font:
        subsetter = subset.Subsetter(options)
        subsetter.populate(text="".join(letters) + " ")
        subsetter.subset(font)
        out = io.BytesIO()
        subset.save_font(font, out, options)
    return out.getvalue()
