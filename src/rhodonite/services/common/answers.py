"""Answers that are made once for all who ask the same, and kept as long as what they are made of."""

from __future__ import annotations

import threading
from collections.abc import Callable, Hashable
from typing import Any, TypeVar

MOST = 200
"""Answers: what is asked is bounded, but there are many ways to ask."""
MOST_BYTES = 32_000_000
Answer = TypeVar("Answer")


class Answers:
    """What was made, by what was asked. Safe for use by several threads."""

    def __init__(self) -> None:
        self._made: dict[Hashable, Any] = {}
        self._bytes = 0
        self._making = threading.RLock()

    def once(self, asked: Hashable, make: Callable[[], Answer]) -> Answer:
        """What ``make`` gives, made once for all who ask the same.

        Args:
            asked: all that the answer depends on besides what it is made of.
        """
        try:
            return self._made[asked]  # type: ignore[no-any-return]
        except KeyError:
            pass
        with self._making:  # whoever asks the same meanwhile takes what is being made
            if asked in self._made:
                return self._made[asked]  # type: ignore[no-any-return]
            answer = make()
            self._keep(asked, answer, len(answer) if isinstance(answer, bytes) else 0)
            return answer

    def _keep(self, asked: Hashable, answer: Any, size: int) -> None:
        if len(self._made) >= MOST or self._bytes + size > MOST_BYTES:
            self._made.clear()
            self._bytes = 0
        if size <= MOST_BYTES:
            self._made[asked] = answer
            self._bytes += size
