"""Who may see a goal, say something of it, and change it."""

from __future__ import annotations

from ..people.access import may_in_organisation
from ..people.model import Person
from .model import Belongs, Goal, Right

_RANK = {"read": 1, "comment": 2, "edit": 3}


def right_in(goal: Goal, person: Person) -> Right | None:
    """What a person may do with a goal; None where they may not see it.

    Its owner and administrators edit it, for whom it is named as it says; where everyone sees it, everybody but guests
    reads it and may say something.
    """
    if person.id == goal.owner_id or person.role == "administrator":
        return "edit"
    named = goal.people.get(person.id)
    if goal.seen_by == "everyone" and may_in_organisation(person.role, "see_people"):
        return max(named or "comment", "comment", key=lambda one: _RANK[one])
    return named


def may(right: Right | None, wanted: Right) -> bool:
    """True where one right holds another."""
    return right is not None and _RANK[right] >= _RANK[wanted]


def may_aim(person: Person, belongs: Belongs) -> bool:
    """True where a person may set goals: for the organisation managers and administrators, for teams and people all but guests."""
    return may_in_organisation(person.role, "create_project" if belongs == "organisation" else "see_people")
