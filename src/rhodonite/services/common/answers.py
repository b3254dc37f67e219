"""Answers that are made once for all who ask the same, and kept as long as what they are made of."""

from __future__ import annotations

import threading
from collections.abc import Callable, Hashable
from typing import Any, TypeVar

from ...store.common.database import Transaction

MOST = 200
"""Answers: what is asked is bounded, but there are many ways to ask."""
MOST_BYTES = 32_000_000
Answer = TypeVar("Answer")


class Answers:
    """What was made, by what was asked. Safe for use by several threads.

    Those that a transaction which writes has in hand are its own: what it makes before its first write goes to all, what
    it makes afterwards stays with it, for that may come from rows that are never committed.

    Args:
        shared: the answers of all, where these are those of one transaction.
    """

    def __init__(self, shared: Answers | None = None, transaction: Transaction | None = None) -> None:
        self._shared, self._transaction = shared, transaction
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
        if self._shared is not None and self._transaction is not None:
            if not self._transaction.writes:
                return self._shared.once(asked, make)
            if self._shared.has(asked):
                return self._shared.once(asked, make)
        with self._making:  # whoever asks the same meanwhile takes what is being made
            if asked in self._made:
                return self._made[asked]  # type: ignore[no-any-return]
            answer = make()
            self._keep(asked, answer, len(answer) if isinstance(answer, bytes) else 0)
            return answer

    def has(self, asked: Hashable) -> bool:
        """True where that was asked before."""
        return asked in self._made

    def _keep(self, asked: Hashable, answer: Any, size: int) -> None:
        if len(self._made) >= MOST or self._bytes + size > MOST_BYTES:
            self._made.clear()
            self._bytes = 0
        if size <= MOST_BYTES:
            self._made[asked] = answer
            self._bytes += size
