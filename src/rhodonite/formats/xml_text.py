"""Text as XML may hold it."""

from __future__ import annotations

import re

_NO_XML = re.compile("[^\t\n\r\x20-\ud7ff\ue000-\ufffd\U00010000-\U0010ffff]")
"""Characters that no document of XML 1.0 may hold (production 2, Char)."""


def xml_text(text: str) -> str:
    """A text without the characters that XML 1.0 does not have."""
    return _NO_XML.sub("", text)
