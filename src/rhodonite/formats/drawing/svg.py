"""A page as SVG (1.1, W3C), its font within, so that it looks the same everywhere."""

from __future__ import annotations

import base64
from xml.sax.saxutils import escape, quoteattr

from .letters import FAMILY, font_with
from .marks import Mark, Page, Path, Rect, Text


def write_svg(page: Page, title: str) -> bytes:
    """The page as an SVG document."""
    texts = [mark for mark in page.marks if isinstance(mark, Text)]
    fonts = "".join(_font({one for mark in texts if mark.bold == bold for one in mark.text}, bold) for bold in (False, True))
    head = (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{_n(page.width)}pt" height="{_n(page.height)}pt" '
        f'viewBox="0 0 {_n(page.width)} {_n(page.height)}" font-family="{FAMILY}, sans-serif" role="img">'
        f"<title>{escape(title)}</title><style>{fonts}text{{white-space:pre}}</style>"
        f'<rect width="{_n(page.width)}" height="{_n(page.height)}" fill="#ffffff"/>'
    )
    return (head + "".join(map(_mark, page.marks)) + "</svg>").encode()


def _font(letters: set[str], bold: bool) -> str:
    if not letters:
        return ""
    data = base64.b64encode(font_with(sorted(letters), bold)).decode()
    weight = 600 if bold else 400
    return f"@font-face{{font-family:{FAMILY};font-weight:{weight};src:url(data:font/woff;base64,{data})}}"


def _n(number: float) -> str:
    return f"{number:.2f}".rstrip("0").rstrip(".")


def _look(fill: str | None, stroke: str | None, line: float, dash: tuple[float, float] | None) -> str:
    parts = [f'fill="{fill or "none"}"']
    if stroke:
        parts.append(f'stroke="{stroke}" stroke-width="{_n(line)}"')
        if dash:
            parts.append(f'stroke-dasharray="{_n(dash[0])} {_n(dash[1])}"')
    return " ".join(parts)


def _mark(mark: Mark) -> str:
    if isinstance(mark, Rect):
        look = _look(mark.fill, mark.stroke, mark.line, mark.dash)
        return f'<rect x="{_n(mark.x)}" y="{_n(mark.y)}" width="{_n(mark.width)}" height="{_n(mark.height)}" {look}/>'
    if isinstance(mark, Path):
        points = "L".join(f"{_n(x)},{_n(y)}" for x, y in mark.points)
        return f'<path d="M{points}{"Z" if mark.fill else ""}" {_look(mark.fill, mark.stroke, mark.line, mark.dash)}/>'
    more = (' font-weight="600"' if mark.bold else "") + (' text-anchor="end"' if mark.right else "")
    place = f'x="{_n(mark.x)}" y="{_n(mark.y)}" font-size="{_n(mark.size)}" fill={quoteattr(mark.colour)}'
    return f"<text {place}{more}>{escape(mark.text)}</text>"
