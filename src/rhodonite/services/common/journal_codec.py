"""Values of a task's fields as JSON keeps them, in the journal and in drafts, and back."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from ...core.tasks.booked import read_booking, write_booking
from ...core.tasks.model import Link

_MOMENTS = frozenset(
    {"start", "finish", "constraint_at", "deadline", "actual_start", "actual_finish", "held_since", "state_since", "deleted_at"}
)


def plain(name: str, value: Any) -> Any:
    """A value as JSON keeps it: links and bookings as lists. Moments are turned into text by ``store.common.database.to_json``."""
    if name == "waits_for":
        return [[link.from_id, link.type, link.lag, link.elapsed] for link in value or ()]
    if name == "bookings":
        return [write_booking(one) for one in value or ()]
    return value


def from_plain(name: str, value: Any) -> Any:
    """The inverse of ``plain``, after a journey through JSON."""
    if name in _MOMENTS and value is not None:
        return datetime.fromisoformat(value)
    if name in {"helpers", "marks"}:
        return tuple(value or ())
    if name == "waits_for":
        return tuple(Link(*one) for one in value or ())
    if name == "bookings":
        return tuple(map(read_booking, value or ()))
    return "" if name == "description" and value is None else value
