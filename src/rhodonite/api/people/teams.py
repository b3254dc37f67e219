"""Teams of the organisation."""

from __future__ import annotations

from pydantic import BaseModel, Field

from ...services.common.context import new_id
from ...services.people import teams
from ..common.inputs import Changes, Id, Name, People, make_router
from ..common.use import Using, needs

router = make_router("people")


class TeamOut(BaseModel):
    """A named group of people."""

    id: str
    name: str
    people: list[str]


class TeamNew(BaseModel):
    """A team to be named."""

    id: Id = Field(default_factory=new_id)
    name: Name = Field(examples=["Foundry crew"])
    people: People = []


class TeamEdit(Changes):
    """What changes of a team."""

    name: Name | None = None
    people: People | None = Field(None, description="Everybody who is in it from now on")


@router.get("/teams", openapi_extra=needs("person"))
def list_teams(use: Using) -> list[TeamOut]:
    """All teams. A guest sees those that they are in."""
    return [TeamOut(id=one.id, name=one.name, people=sorted(one.people)) for one in use.read(teams.list_teams)]


@router.post("/teams", openapi_extra=needs("administer"), status_code=204)
def add_team(body: TeamNew, use: Using) -> None:
    """Name a group of people."""
    use.write(teams.add_team, body.id, body.name, body.people)


@router.patch("/teams/{team_id}", openapi_extra=needs("administer"), status_code=204)
def edit_team(team_id: Id, body: TeamEdit, use: Using) -> None:
    """Rename a team, or say anew who is in it."""
    use.write(teams.edit_team, team_id, body.name, body.people)


@router.delete("/teams/{team_id}", openapi_extra=needs("administer"), status_code=204)
def delete_team(team_id: Id, use: Using) -> None:
    """Take a team away; its people stay."""
    use.write(teams.delete_team, team_id)
