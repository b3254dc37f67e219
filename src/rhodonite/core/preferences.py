"""What a person may set for themselves."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass
from typing import Any

from .errors import RuleError

MOST_DAYS = 1000


@dataclass(frozen=True, slots=True)
class Preferences:
    """What a person has set, or the usual values.

    Attributes:
        ripple_days: working days by which a change may move other tasks before its ripple is shown.
        longest_days: working days beyond which a check of the plan calls a task long.
    """

    ripple_days: float = 0
    longest_days: float = 20


def with_changes(before: Preferences, changes: Mapping[str, Any]) -> Preferences:
    """The preferences once some have changed.

    Raises:
        RuleError: one that there is none of, or a value that cannot be.
    """
    values = asdict(before)
    for name, value in changes.items():
        if name not in values:
            raise RuleError(f"There is no preference called {name}.", name)
        least = 0.5 if name == "longest_days" else 0
        if not isinstance(value, int | float) or not least <= value <= MOST_DAYS:
            raise RuleError(f"Write working days from {least:g} to {MOST_DAYS}.", name)
        values[name] = value
    return Preferences(**values)
