"""Teams, and who asks."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import replace

from pymysql.cursors import Cursor

from ...core.common.errors import Missing, RuleError
from ...core.people.model import Team
from ...core.people.viewer import Viewer
from ...store.common.database import from_json
from ...store.common.journal import Entry
from ...store.people import people as people_rows
from ...store.people import teams as team_rows
from ..common.context import Actor, once, writing

LONGEST_NAME = 120


def viewer_of(cur: Cursor, actor: Actor) -> Viewer:
    """The person who acts, as conditions name them and their teams."""
    return Viewer(actor.person.id, {one.id: one.people for one in team_rows.all_teams(cur)})


def list_teams(cur: Cursor, actor: Actor) -> Sequence[Team]:
    """All teams; a guest sees those that they are in."""
    teams = team_rows.all_teams(cur)
    return [one for one in teams if actor.person.role != "guest" or actor.person.id in one.people]


@once
def add_team(cur: Cursor, actor: Actor, team_id: str, name: str, people: Collection[str]) -> None:
    """Name a group of people.

    Raises:
        Forbidden: the actor is not an administrator.
        RuleError: no name, one that there is already, or somebody unknown.
    """
    actor.require("administer")
    team = Team(team_id, _name(cur, name, team_id), _known(cur, people))
    with writing(cur, actor, None, f"named the team {team.name}"[:80]) as log:
        team_rows.insert_team(cur, team)
        log.record("team", team.id, "created", None, {"name": team.name, "people": sorted(team.people)})


@once
def edit_team(cur: Cursor, actor: Actor, team_id: str, name: str | None, people: Collection[str] | None) -> None:
    """Rename a team, or say anew who is in it. Raises as ``add_team``, and Missing where there is none."""
    actor.require("administer")
    before = _open(cur, team_id)
    after = before
    if name is not None:
        after = replace(after, name=_name(cur, name, team_id))
    if people is not None:
        after = replace(after, people=_known(cur, people))
    with writing(cur, actor, None, f"changed the team {before.name}"[:80]) as log:
        if after.name != before.name:
            log.record("team", team_id, "name", before.name, after.name)
        if after.people != before.people:
            log.record("team", team_id, "people", sorted(before.people), sorted(after.people))
        team_rows.update_team(cur, after)


@once
def delete_team(cur: Cursor, actor: Actor, team_id: str) -> None:
    """Take a team away; its people stay."""
    actor.require("administer")
    before = _open(cur, team_id)
    with writing(cur, actor, None, f"took away the team {before.name}"[:80]) as log:
        log.record("team", team_id, "deleted", {"name": before.name, "people": sorted(before.people)}, None)
        team_rows.delete_team(cur, team_id)


def take_back(cur: Cursor, actor: Actor, team_id: str, entries: Sequence[Entry]) -> None:
    """Take back what a change did to a team. Raises RuleError where it was changed again since."""
    actor.require("administer")
    what = entries[0].field
    if what == "created":
        delete_team(cur, actor, team_id)
    elif what == "deleted":
        old = from_json(entries[0].old)
        add_team(cur, actor, team_id, old["name"], old["people"])
    else:
        now = _open(cur, team_id)
        stands = {"name": now.name, "people": sorted(now.people)}
        if any(stands[entry.field] != from_json(entry.new) for entry in entries):
            raise RuleError("The team was changed again since, so this cannot be taken back. Change it by hand.")
        before = {entry.field: from_json(entry.old) for entry in entries}
        edit_team(cur, actor, team_id, before.get("name"), before.get("people"))


def _open(cur: Cursor, team_id: str) -> Team:
    found = next((one for one in team_rows.lock_teams(cur) if one.id == team_id), None)
    if found is None:
        raise Missing("team")
    return found


def _name(cur: Cursor, name: str, team_id: str) -> str:
    name = " ".join(name.split())
    if not name or len(name) > LONGEST_NAME:
        raise RuleError(f"Give the team a name of at most {LONGEST_NAME} characters.", "name")
    if any(one.name.casefold() == name.casefold() and one.id != team_id for one in team_rows.lock_teams(cur)):
        raise RuleError(f"There is a team called {name} already. Choose another name.", "name")
    return name


def _known(cur: Cursor, people: Collection[str]) -> frozenset[str]:
    if not set(people) <= {one.id for one in people_rows.all_people(cur)}:
        raise RuleError("Somebody in that list is not in the organisation. Choose the people again.", "people")
    return frozenset(people)
