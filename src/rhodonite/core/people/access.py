"""Who may do what. One table for the organisation, one for a project; services ask here and nowhere else."""

from __future__ import annotations

from typing import Literal

ORGANISATION_ROLES = ("administrator", "manager", "member", "guest")
PROJECT_ROLES = ("lead", "contributor", "commenter", "viewer")

ProjectAction = Literal["see", "comment", "edit", "see_costs", "manage"]
OrganisationAction = Literal["see_people", "create_project", "plan_people", "see_rates", "administer"]

_PROJECT: dict[str, frozenset[str]] = {
    "lead": frozenset({"see", "comment", "edit", "see_costs", "manage"}),
    "contributor": frozenset({"see", "comment", "edit"}),
    "commenter": frozenset({"see", "comment"}),
    "viewer": frozenset({"see"}),
}
_ORGANISATION: dict[str, frozenset[str]] = {
    "administrator": frozenset({"see_people", "create_project", "plan_people", "see_rates", "administer"}),
    "manager": frozenset({"see_people", "create_project", "plan_people", "see_rates"}),
    "member": frozenset({"see_people"}),
    "guest": frozenset(),
}


def project_role(organisation_role: str, member_role: str | None, private: bool) -> str | None:
    """The role that a person has in a project, or None where they may not see it.

    An administrator leads every project. A manager leads every project that is not private. A member of the
    organisation may read what is not private. A guest has what the project gives, and nothing else.
    """
    if organisation_role == "administrator" or (organisation_role == "manager" and not private):
        return "lead"
    if member_role is not None:
        return member_role
    return "viewer" if organisation_role in {"manager", "member"} and not private else None


def may_in_project(role: str | None, action: ProjectAction) -> bool:
    """True where a project role allows an action."""
    return role is not None and action in _PROJECT[role]


def may_in_organisation(role: str, action: OrganisationAction) -> bool:
    """True where a role in the organisation allows an action."""
    return action in _ORGANISATION[role]
