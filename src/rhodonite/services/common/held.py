"""Totals that a process holds for all readers, by project or under one name."""

from __future__ import annotations

import threading
from collections import OrderedDict
from typing import Generic, TypeVar

from pymysql.cursors import Cursor

from ...store.common.database import transaction_of

Value = TypeVar("Value")


class Held(Generic[Value]):
    """Values by key, the least used let go first. Safe for use by several threads.

    What a transaction puts here after its first write stays with that transaction, for it may come from rows that are
    never committed.

    Args:
        name: tells what is held here from what is held elsewhere.
        most: how many are held.
    """

    def __init__(self, name: str, most: int) -> None:
        self._name, self._most = name, most
        self._values: OrderedDict[str, Value] = OrderedDict()
        self._lock = threading.Lock()

    def get(self, cur: Cursor, key: str) -> Value | None:
        """What is held under a key, as this transaction may see it."""
        own: Value | None = transaction_of(cur).kept((self._name, key))
        if own is not None:
            return own
        with self._lock:
            if key in self._values:
                self._values.move_to_end(key)
            return self._values.get(key)

    def put(self, cur: Cursor, key: str, value: Value) -> None:
        """Hold a value, for all where nothing was written yet."""
        transaction = transaction_of(cur)
        if transaction.writes:
            transaction.keep((self._name, key), value)
            return
        with self._lock:
            self._values[key] = value
            self._values.move_to_end(key)
            while len(self._values) > self._most:
                self._values.popitem(last=False)

    def clear(self) -> None:
        """Let go of all of them."""
        with self._lock:
            self._values.clear()
