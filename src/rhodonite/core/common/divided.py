"""Several names in one text, divided at signs that may stand within a name too."""

from __future__ import annotations

import re
from collections.abc import Callable, Collection


def divided(text: str, signs: re.Pattern[str], names: Collection[str], is_name: Callable[[str], bool] | None = None) -> list[str]:
    """A text divided at signs, but not within one of the names, of which the longest counts.

    Args:
        names: folded.
        is_name: True for a part that is, or begins with, a name; by itself where it is one.

    >>> divided("north; south; lee; west", re.compile(";"), {"north", "south; lee", "west"})
    ['north', 'south; lee', 'west']
    """
    if not signs.search(text):
        return [text.strip()] if text.strip() else []
    is_name = is_name or (lambda part: part.casefold() in names)
    most = max((len(signs.findall(name)) for name in names), default=0)  # so that a long text does not take long
    ends = [found.span() for found in signs.finditer(text)] + [(len(text), len(text))]
    parts: list[str] = []
    start = at = 0
    while at < len(ends):
        further = range(min(at + most, len(ends) - 1), at, -1)
        longest = next((end for end in further if is_name(text[start : ends[end][0]].strip())), at)
        parts.append(text[start : ends[longest][0]].strip())
        start, at = ends[longest][1], longest + 1
    return [part for part in parts if part]
