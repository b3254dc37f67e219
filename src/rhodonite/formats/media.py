"""What kind of file some bytes are, as far as they may be shown in a page; everything else is only for saving."""

from __future__ import annotations

_BEGINNINGS: tuple[tuple[bytes, str], ...] = (
    (b"\x89PNG\r\n\x1a\n", "image/png"),
    (b"\xff\xd8\xff", "image/jpeg"),
    (b"GIF87a", "image/gif"),
    (b"GIF89a", "image/gif"),
    (b"%PDF-", "application/pdf"),
)
_TEXTS = {"txt", "md", "csv", "log", "json", "ini", "yaml", "yml", "tsv"}
OTHER = "application/octet-stream"
SHOWN = frozenset({"image/png", "image/jpeg", "image/gif", "image/webp", "application/pdf", "text/plain"})


def media_type_of(name: str, data: bytes) -> str:
    """The media type of a file by its bytes. What a browser could run (HTML, SVG, script) is given as plain bytes."""
    for beginning, media_type in _BEGINNINGS:
        if data.startswith(beginning):
            return media_type
    if data[:4] == b"RIFF" and data[8:12] == b"WEBP":
        return "image/webp"
    if name.rpartition(".")[2].lower() in _TEXTS and _is_text(data):
        return "text/plain"
    return OTHER


def _is_text(data: bytes) -> bool:
    try:
        return "\0" not in data.decode("utf-8")
    except UnicodeDecodeError:
        return False
