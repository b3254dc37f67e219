"""Who of the demo's people works how much, when they are away, and what is booked on the tasks of projects that plan hours."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date, timedelta
from typing import Any

#: Projects that plan hours, with the hours that a day of a task takes where its plan does not say.
PLANNED = {"LAN": 5.0, "MIL": 4.0, "FOS": 3.0}
#: Of the hours of a task that its owner has; the rest is its helpers', or open where it has none.
OWNED = {
    "Refit the lens": 0.6,
    "Scaffold the gallery": 0.5,
    "Clean and regrind prisms": 0.8,
    "Laser survey of the gallery": 0.5,
    "Lift the lens to the workshop": 0.6,
    "Fit bars and dry-run panes": 0.6,
    "Replace corroded posts": 0.75,
}
SHAPES = {"Heritage consent, city office": "front", "Keeper's handbook": "back", "Clean and regrind prisms": "front"}
#: Crews and roles without a sign-in, by project, with how many people they have; and the task that they are booked on.
CREWS = {
    "LAN": (
        ("Harbour scaffolders", 2.0, "Scaffold the gallery", 40),
        ("Stone cutter, to be found", 1.0, "Limewash the tower room", 20),
    )
}

HALF_DAYS = {day: [["09:00", "13:00"]] for day in ("mon", "tue", "wed", "thu", "fri")}
#: By person their week, where it is their own, and the share of the day that can be booked.
CAPACITY: dict[str, dict[str, Any]] = {
    "IN": {"share": 60},
    "YH": {"week": HALF_DAYS},
    "SV": {"share": 80},
    "HK": {"share": 85},
}
#: Person, kind, first day and number of days after today, note.
ABSENCES = (
    ("PN", "leave", 12, 4, "Her sister’s wedding"),
    ("DO", "training", 6, 2, "Rope rescue course"),
    ("TB", "leave", 26, 5, ""),
    ("LT", "illness", -3, 2, ""),
)


def bookings_of(code: str, title: str, effort: int | None, days: int, owner: str | None, helpers: list[str],
                people: Mapping[str, str]) -> dict[str, Any]:  # fmt: skip
    """The estimate and the bookings of one task, as fields.

    Args:
        effort: hours that its plan says.
        days: how long it lasts.
        owner, helpers: initials.
        people: ids by initials.
    """
    minutes = int((effort or days * PLANNED[code]) * 60)
    fields: dict[str, Any] = {"effort": minutes}
    if owner is None:
        return fields
    own = int(minutes * OWNED.get(title, 0.7 if helpers else 1.0)) // 30 * 30
    bookings: list[dict[str, Any]] = [{"who": people[owner], "minutes": own, "shape": SHAPES.get(title, "even")}]
    left = minutes - own
    for one in helpers:
        bookings.append({"who": people[one], "minutes": left // len(helpers) // 30 * 30, "shape": "even"})
    return fields | {"bookings": bookings}


def away(today: date, first: int, days: int) -> tuple[date, date]:
    """The first day of an absence, and the day after its last."""
    begins = today + timedelta(days=first)
    return begins, begins + timedelta(days=days)
