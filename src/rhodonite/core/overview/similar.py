"""Similar finished work: found by words and fields, with the range of what it took."""

from __future__ import annotations

import math
import re
from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

MOST_SIMILAR = 8
ALIKE_AT_LEAST = 0.25
SAME_KIND, SAME_VALUE = 0.05, 0.05
_NO_WORDS = frozenset(
    ["a", "an", "the", "of", "for", "to", "and", "or", "in", "on", "at", "with", "from", "by", "all", "new", "its", "it"]
)


@dataclass(frozen=True, slots=True)
class DoneWork:
    """A finished task. ``took`` are working minutes from its start to its finish, ``effort`` minutes of people's work that were
    planned, ``spent`` those that were entered."""

    id: str
    project_id: str
    number: int
    title: str
    kind: str
    took: int | None
    effort: int | None
    own: Mapping[str, Any]
    spent: int | None = None


@dataclass(frozen=True, slots=True)
class Similar:
    """A finished task and how alike it is, from 0 to 1."""

    work: DoneWork
    alike: float


@dataclass(frozen=True, slots=True)
class Range:
    """The least, the middle and the most of some amounts in minutes."""

    least: int
    middle: int
    most: int


def words_of(title: str) -> list[str]:
    """The words that a title is compared by, each as its stem: ``Casting replacement bars`` gives cast, replacement, bar."""
    found = re.findall(r"[^\W\d_]+", title.lower())
    return [stem(word) for word in found if word not in _NO_WORDS]


def stem(word: str) -> str:
    """A word without the ending that number and tense give it. Enough to find ``bars`` by ``bar``; no dictionary."""
    for ending in ("ings", "ing", "ies", "es", "ed", "s"):
        if word.endswith(ending) and len(word) - len(ending) >= 3:
            return word[: -len(ending)] + ("y" if ending == "ies" else "")
    return word


def similar_work(
    title: str, kind: str, own: Mapping[str, Any], done: Sequence[DoneWork], most: int = MOST_SIMILAR
) -> list[Similar]:
    """The finished work that is most like a task, the likest first.

    Two titles are as alike as the cosine of their words, each weighed by how rare it is among all of them: the usual
    measure of term frequency and inverse document frequency (Salton and Buckley 1988). The same kind, and the same
    value in a field, count a little more.
    """
    wanted = Counter(words_of(title))
    each = [Counter(words_of(one.title)) for one in done]
    spread = Counter(word for words in [wanted, *each] for word in words)
    rare = {word: math.log(1 + (len(done) + 1) / count) for word, count in spread.items()}
    found = []
    for one, words in zip(done, each, strict=True):
        alike = _cosine(wanted, words, rare)
        if alike >= ALIKE_AT_LEAST:
            alike += SAME_KIND * (one.kind == kind) + SAME_VALUE * sum(own.get(key) == value for key, value in one.own.items())
            found.append(Similar(one, round(min(1.0, alike), 3)))
    return sorted(found, key=lambda one: (-one.alike, one.work.number))[:most]


def _cosine(a: Counter[str], b: Counter[str], weight: Mapping[str, float]) -> float:
    def length(words: Counter[str]) -> float:
        return math.sqrt(sum((count * weight[word]) ** 2 for word, count in words.items()))

    if not a or not b:
        return 0.0
    shared = sum(a[word] * b[word] * weight[word] ** 2 for word in a.keys() & b.keys())
    return shared / (length(a) * length(b))


def range_of(amounts: Iterable[int | None]) -> Range | None:
    """The range of those amounts that there are; None where there is none."""
    known = sorted(one for one in amounts if one)
    if not known:
        return None
    half = len(known) // 2
    middle = known[half] if len(known) % 2 else (known[half - 1] + known[half]) // 2
    return Range(known[0], middle, known[-1])


STEP = 30
"""Minutes: an estimate is offered in whole ones of these."""


def offered_estimate(found: Sequence[Similar]) -> int | None:
    """The effort that a task like finished ones may be estimated at: the median of what they really took, where hours were
    entered on any, else of what was planned for them, in whole half hours. None where neither is known."""
    span = range_of(one.work.spent for one in found) or range_of(one.work.effort for one in found)
    return max(STEP, (span.middle + STEP // 2) // STEP * STEP) if span else None
