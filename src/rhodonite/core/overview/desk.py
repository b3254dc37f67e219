"""The desk: one person's open work over all projects, in order of consequence."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Literal

from ..tasks.lateness import is_late

Section = Literal["late", "today", "this_week", "later", "undated"]


def desk_section(finish: datetime | None, state_class: str, now: datetime) -> Section:
    """Where a task stands on the desk. This week ends on Sunday."""
    if finish is None:
        return "undated"
    if is_late(finish, state_class, now):
        return "late"
    day, today = finish.date(), now.date()
    if day <= today:
        return "today"
    return "this_week" if day <= today + timedelta(days=6 - today.weekday()) else "later"
