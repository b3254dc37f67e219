"""HTML that people write: cleaned of all that could run, and read as plain words."""

from __future__ import annotations

import re
from html.parser import HTMLParser

import nh3

_TAGS = {
    "p", "br", "hr", "h2", "h3", "ul", "ol", "li", "blockquote", "pre", "code", "strong", "em", "s", "u", "a", "img",
    "table", "thead", "tbody", "tr", "th", "td", "colgroup", "col", "span",
}  # fmt: skip
_ATTRIBUTES = {
    "a": {"href", "data-task"},
    "img": {"src", "alt", "width"},
    "span": {"data-person"},
    "th": {"colspan", "rowspan"},
    "td": {"colspan", "rowspan"},
    "ol": {"start"},
}
_OWN_FILE = re.compile(r"/api/files/[0-9a-f-]{36}")
_ID = re.compile(r"[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}")


def _attribute(tag: str, name: str, value: str) -> str | None:
    if name == "src":  # nothing is fetched from elsewhere
        return value if _OWN_FILE.fullmatch(value) else None
    if name in {"data-task", "data-person"}:
        return value if _ID.fullmatch(value) else None
    if name in {"colspan", "rowspan", "width", "start"}:
        return value if value.isdigit() and len(value) < 5 else None
    return value


def clean(html: str) -> str:
    """HTML with only the marks that a text may have, and nothing that can run. Empty where no words and no image are left."""
    found = nh3.clean(
        html,
        tags=_TAGS,
        attributes=_ATTRIBUTES,
        attribute_filter=_attribute,
        url_schemes={"http", "https", "mailto", "tel"},
        link_rel="noopener noreferrer",
    )
    return found if words_of(found) or "<img" in found else ""


_BREAKS = {"p", "br", "hr", "h2", "h3", "li", "tr", "blockquote", "pre", "table"}


class _Reader(HTMLParser):
    def __init__(self) -> None:
        super().__init__()
        self.parts: list[str] = []
        self.people: list[str] = []

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        if tag in _BREAKS:
            self.parts.append("\n")
        elif tag in {"td", "th"}:
            self.parts.append(" ")
        self.people += [value for name, value in attrs if name == "data-person" and value]

    def handle_data(self, data: str) -> None:
        self.parts.append(data)


def _read(html: str) -> _Reader:
    reader = _Reader()
    reader.feed(html)
    reader.close()
    return reader


def words_of(html: str) -> str:
    """The words of a text, a line for each paragraph."""
    lines = (" ".join(line.split()) for line in "".join(_read(html).parts).split("\n"))
    return "\n".join(line for line in lines if line)


def people_in(html: str) -> list[str]:
    """The ids of the people that a text names."""
    return list(dict.fromkeys(_read(html).people))


def from_words(text: str) -> str:
    """Plain text as HTML, a paragraph for each line."""
    escaped = text.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")
    return "".join(f"<p>{line}</p>" for line in escaped.split("\n")) if text.strip() else ""
