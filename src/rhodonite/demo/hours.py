"""Who of the demo's people works how much, when they are away, and what is booked on the tasks of projects that plan hours."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from datetime import date, timedelta
from typing import Any

from ..core.resources.bookable import Resource
from ..core.resources.rates import RateKind
from ..services.common.context import new_id

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

#: Materials and fixed costs, by project: kind, name, unit, the task that they are booked on, thousandths.
USED = {
    "LAN": (
        ("material", "Glass panes", "pc", "Fit bars and dry-run panes", 12_000),
        ("material", "Lime putty", "kg", "Limewash the tower room", 140_000),
        ("fixed", "Road permit for the crane", "", "Lift the lens to the workshop", 350_000),
    )
}
#: By person their rates an hour: what it costs and what it is charged at, each from a day or from the beginning.
RATES: dict[str, dict[RateKind, tuple[tuple[date | None, str], ...]]] = {
    "IN": {"cost": ((None, "48.00"),), "billing": ((None, "82.00"),)},
    "CR": {"cost": ((None, "31.00"), (date(2027, 4, 1), "32.50")), "billing": ((None, "58.00"),)},
    "PN": {"cost": ((None, "34.00"),), "billing": ((None, "61.00"),)},
    "TB": {"cost": ((None, "29.50"),), "billing": ((None, "54.00"),)},
    "YH": {"cost": ((None, "36.00"),), "billing": ((None, "64.00"),)},
    "NC": {"cost": ((None, "38.00"),), "billing": ((None, "66.00"),)},
    "ZM": {"cost": ((None, "33.00"),), "billing": ((None, "60.00"),)},
    "SV": {"cost": ((None, "35.50"),), "billing": ((None, "62.00"),)},
    "LT": {"cost": ((None, "31.00"),), "billing": ((None, "56.00"),)},
    "DO": {"cost": ((None, "30.00"),), "billing": ((None, "52.00"),)},
    "HK": {"cost": ((None, "46.00"),), "billing": ((None, "78.00"),)},
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


def resources_of(code: str) -> Iterator[tuple[Resource, str, dict[str, Any]]]:
    """What a project can book besides people: the resource, the task that it is booked on, and the booking as it is sent."""
    for name, size, title, booked in CREWS.get(code, ()):
        crew = Resource(new_id(), None, name, size)
        yield crew, title, {"who": crew.id, "resource": True, "minutes": booked * 60}
    for kind, name, unit, title, amount in USED.get(code, ()):
        used = Resource(new_id(), None, name, 1, kind, unit)  # type: ignore[arg-type]
        yield used, title, {"who": used.id, "resource": True, "of": kind, "amount": amount}


def away(today: date, first: int, days: int) -> tuple[date, date]:
    """The first day of an absence, and the day after its last."""
    begins = today + timedelta(days=first)
    return begins, begins + timedelta(days=days)
