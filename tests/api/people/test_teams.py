"""Teams: who names them, and what a sentence makes of them."""

from __future__ import annotations

import json
import uuid
from collections.abc import Callable
from urllib.parse import quote

import pytest

from rhodonite.core.people.model import Person
from tests.conftest import Caller


@pytest.fixture
def crew(sign_in: Callable[[str], Caller], people: dict[str, Person]) -> str:
    """A team of the member and one more."""
    team = str(uuid.uuid4())
    body = {"id": team, "name": "Glazing crew", "people": [people["member"].id, people["other"].id]}
    sign_in("administrator")("POST", "/teams", body)
    return team


def test_a_team_is_named_changed_and_taken_away(crew: str, sign_in: Callable[[str], Caller], people: dict[str, Person]) -> None:
    administrator = sign_in("administrator")
    (team,) = sign_in("member")("GET", "/teams")
    assert (team["name"], len(team["people"])) == ("Glazing crew", 2)
    administrator("PATCH", f"/teams/{crew}", {"name": " Glass  crew ", "people": [people["member"].id]})
    (team,) = administrator("GET", "/teams")
    assert (team["name"], team["people"]) == ("Glass crew", [people["member"].id])
    administrator("DELETE", f"/teams/{crew}")
    assert administrator("GET", "/teams") == []
    administrator("DELETE", f"/teams/{crew}", expect=404)


def test_a_team_that_cannot_be_says_why(crew: str, sign_in: Callable[[str], Caller]) -> None:
    administrator = sign_in("administrator")
    again = administrator("POST", "/teams", {"name": "glazing CREW"}, expect=422)
    assert "already" in again["errors"][0]["detail"]
    assert "name" in administrator("POST", "/teams", {"name": "  "}, expect=422)["errors"][0]["detail"]
    stranger = {"name": "Others", "people": [str(uuid.uuid4())]}
    assert "not in the organisation" in administrator("POST", "/teams", stranger, expect=422)["errors"][0]["detail"]
    sign_in("manager")("POST", "/teams", {"name": "Mine"}, expect=403)


def test_a_change_sent_twice_is_made_once(sign_in: Callable[[str], Caller]) -> None:
    headers, body = {"Rhodonite-Change": str(uuid.uuid4())}, {"id": str(uuid.uuid4()), "name": "Glazing crew"}
    for _ in range(2):
        sign_in("administrator")("POST", "/teams", body, headers=headers)
    assert len(sign_in("administrator")("GET", "/teams")) == 1


def test_a_guest_sees_the_teams_that_they_are_in(crew: str, sign_in: Callable[[str], Caller], people: dict[str, Person]) -> None:
    assert sign_in("guest")("GET", "/teams") == []
    sign_in("administrator")("PATCH", f"/teams/{crew}", {"people": [people["guest"].id]})
    assert [one["name"] for one in sign_in("guest")("GET", "/teams")] == ["Glazing crew"]


def test_a_sentence_speaks_of_my_team_and_of_any_other(
    crew: str, ines: Caller, sign_in: Callable[[str], Caller], people: dict[str, Person]
) -> None:
    tomas = sign_in("member")
    for title, who in (("Cut", "member"), ("Lead", "other"), ("Order", "manager")):
        ines.edit(ines.add(title), owner_id=people[who].id)
    ines.add("Sweep")

    def within(caller: Caller, owner: str) -> set[str]:
        by_words = set(caller("GET", f"/projects/LAN/scope?owner={owner}")["ids"])
        where = quote(json.dumps({"all": [["owner", "any", [owner]]]}))
        assert by_words == set(caller("GET", f"/projects/LAN/scope?where={where}")["ids"])
        return {row["title"] for row in ines.rows().values() if row["id"] in by_words}

    assert within(tomas, "my_team") == {"Cut", "Lead"}
    assert within(ines, "my_team") == {"Order"}  # in no team: only one's own
    assert within(ines, crew) == {"Cut", "Lead"}
    assert within(ines, "nobody") == {"Sweep"}
    where = quote(json.dumps({"all": [["owner", "any", ["my_team", crew]]]}))
    assert ines("GET", f"/projects/LAN/clauses?where={where}")["clauses"] == ["owner is my team or Glazing crew"]
