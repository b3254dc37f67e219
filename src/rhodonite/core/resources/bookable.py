"""Who and what can be booked, and the rules for what is said of them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from typing import Any, get_args

from ..common.bounds import check_day
from ..common.errors import RuleError
from ..people.access import may_in_organisation
from ..tasks.model import ResourceKind
from .capacity import FULL_SHARE, Absence

ABSENCE_KINDS = ("leave", "illness", "training")
"""Kinds of absence that every organisation has."""
MOST_KINDS = 30
LONGEST_KIND = 60
LONGEST_NOTE = 300
LONGEST_NAME = 120
MOST_PEOPLE_OF_A_CREW = 1000
LONGEST_UNIT = 20
RESOURCE_KINDS = get_args(ResourceKind)
_LONGEST_ABSENCE = timedelta(days=3660)
Week = Mapping[str, list[list[str]]]


@dataclass(frozen=True, slots=True)
class Common:
    """What holds for all who can be booked.

    Attributes:
        week: of the organisation's working time, as calendars keep it; none: office hours.
        absence_kinds: those that the organisation names beside ``ABSENCE_KINDS``.
        currency: of rates, by its three letters (ISO 4217).
        closed: days on which nobody works, as calendars keep their exceptions.
    """

    week: Week | None = None
    absence_kinds: tuple[str, ...] = ()
    currency: str = "EUR"
    closed: tuple[Mapping[str, Any], ...] = ()


@dataclass(frozen=True, slots=True)
class Kept:
    """What was set of a person's capacity.

    Attributes:
        week: their own; None: the organisation's.
        share: of the working day that can be booked, in a hundred.
        first, last: the days from which and until which they can be booked.
    """

    week: Week | None = None
    share: int = FULL_SHARE
    first: date | None = None
    last: date | None = None


@dataclass(frozen=True, slots=True)
class Resource:
    """What can be booked and signs in nowhere: a crew or a role to be filled (labour), a material, a fixed cost.

    Attributes:
        project_id: whose it is; None: the organisation's.
        people: of labour, how many of them work side by side.
        unit: of a material, such as pc or m².
    """

    id: str
    project_id: str | None
    name: str
    people: float = 1
    kind: ResourceKind = "labour"
    unit: str = ""


@dataclass(frozen=True, slots=True)
class Staff:
    """Everything that capacities are made of.

    Attributes:
        kept: by person.
    """

    common: Common = field(default_factory=Common)
    kept: Mapping[str, Kept] = field(default_factory=dict)
    absences: Sequence[Absence] = ()
    resources: Sequence[Resource] = ()


def check_capacity(kept: Kept) -> None:
    """Raises RuleError where a capacity cannot be."""
    if not 1 <= kept.share <= FULL_SHARE:
        raise RuleError("The bookable share of a day lies between 1 and 100 %.", "share")
    for name, day in (("first", kept.first), ("last", kept.last)):
        if day is not None:
            check_day(day, name)
    if kept.first and kept.last and kept.last < kept.first:
        raise RuleError("The last day lies before the first. Choose them again.", "last")


def check_absence(one: Absence, kinds: Sequence[str]) -> None:
    """Raises RuleError where an absence cannot be.

    Args:
        kinds: those that the organisation names.
    """
    if one.kind not in (*ABSENCE_KINDS, *kinds):
        raise RuleError(f"Choose a kind of absence: {', '.join((*ABSENCE_KINDS, *kinds))}.", "kind")
    for name, at in (("start", one.start), ("end", one.end)):
        check_day(at, name)
    if one.end <= one.start:
        raise RuleError("An absence ends after it begins. Choose its days again.", "end")
    if one.end - one.start > _LONGEST_ABSENCE:
        raise RuleError("An absence lasts ten years at most. Set the person’s last day instead.", "end")
    if len(one.note) > LONGEST_NOTE:
        raise RuleError(f"A note has {LONGEST_NOTE} characters at most.", "note")


def clean_kinds(kinds: Sequence[str]) -> tuple[str, ...]:
    """The names of kinds of absence, each once. Raises RuleError where one cannot be."""
    names = [" ".join(one.split()) for one in kinds]
    if len(names) > MOST_KINDS or any(not one or len(one) > LONGEST_KIND for one in names):
        raise RuleError(f"Name {MOST_KINDS} kinds at most, each in {LONGEST_KIND} characters.", "absence_kinds")
    return tuple({one.casefold(): one for one in names if one.casefold() not in ABSENCE_KINDS}.values())


def check_resource(one: Resource) -> Resource:
    """A resource with its name and unit cleaned. Raises RuleError where it cannot be."""
    name, unit, people = " ".join(one.name.split()), " ".join(one.unit.split()), one.people
    if one.kind not in RESOURCE_KINDS:
        raise RuleError(f"Choose what it is: {', '.join(RESOURCE_KINDS)}.", "kind")
    if not name or len(name) > LONGEST_NAME:
        raise RuleError(f"Give it a name of at most {LONGEST_NAME} characters, such as Outside scaffolders.", "name")
    if not 0 < people <= MOST_PEOPLE_OF_A_CREW:
        raise RuleError(f"A crew has more than nobody and at most {MOST_PEOPLE_OF_A_CREW} people.", "people")
    if len(unit) > LONGEST_UNIT or (one.kind == "material" and not unit):
        raise RuleError(f"Say by which unit it is used, in {LONGEST_UNIT} characters at most, such as pc or m².", "unit")
    labour, material = one.kind == "labour", one.kind == "material"
    return replace(one, name=name, people=people if labour else 1, unit=unit if material else "")


def may_read_reason(role: str, own: bool) -> bool:
    """True where somebody may read why a person is away: they themselves, managers and administrators."""
    return own or may_in_organisation(role, "plan_people")
