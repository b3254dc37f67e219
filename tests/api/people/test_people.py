"""Signing in, invitations, roles in the organisation, and what is sent."""

from __future__ import annotations

from typing import Any

import pytest

from rhodonite.core.people.model import Person
from rhodonite.services.common.context import Clock
from rhodonite.services.people.people import ATTEMPTS_BY_BOTH, check_password
from rhodonite.store.common.database import Database
from rhodonite.store.people import people as people_rows
from tests.conftest import NOW

PASSWORD = "four plain words here"


@pytest.fixture
def tomas(database: Database, people: dict[str, Person]) -> Person:
    database.write(people_rows.update_person, people["member"].id, {"password_hash": check_password(PASSWORD)})
    return people["member"]


def test_sign_in_and_out(tomas: Person, sign_in: Any) -> None:
    caller = sign_in("nobody")
    assert caller("GET", "/session")["person"] is None
    caller("GET", "/desk", expect=401)
    assert caller("POST", "/session", {"email": " Tomas@Corvane.example ", "password": PASSWORD})["name"] == "Tomas Brekke"
    assert caller("GET", "/session")["person"]["id"] == tomas.id
    caller("GET", "/desk")
    caller("DELETE", "/session", expect=204)
    caller("GET", "/desk", expect=401)


def test_the_cookie_is_kept_from_scripts(tomas: Person, sign_in: Any) -> None:
    answer = sign_in("nobody").client.post("/api/session", json={"email": tomas.email, "password": PASSWORD})
    cookie = answer.headers["set-cookie"].lower()
    assert "httponly" in cookie
    assert "samesite=lax" in cookie


def test_wrong_passwords_are_throttled(tomas: Person, sign_in: Any, clock: Clock) -> None:
    caller = sign_in("nobody")
    for _ in range(ATTEMPTS_BY_BOTH):
        assert (
            caller("POST", "/session", {"email": tomas.email, "password": "wrong"}, expect=401)["type"]
            == "/problems/wrong-password"
        )
    caller("POST", "/session", {"email": tomas.email, "password": PASSWORD}, expect=429)
    clock.set(NOW.replace(hour=10))
    caller("POST", "/session", {"email": tomas.email, "password": PASSWORD})


def test_a_session_ends_by_itself(tomas: Person, sign_in: Any, clock: Clock) -> None:
    caller = sign_in("nobody")
    caller("POST", "/session", {"email": tomas.email, "password": PASSWORD})
    clock.set(NOW.replace(month=5))
    caller("GET", "/desk", expect=401)


def test_a_new_password_ends_other_sessions(tomas: Person, sign_in: Any) -> None:
    other, mine = sign_in("member"), sign_in("nobody")
    mine("POST", "/session", {"email": tomas.email, "password": PASSWORD})
    mine("PUT", "/session/password", {"current": "wrong", "new": "another long word"}, expect=422)
    mine("PUT", "/session/password", {"current": PASSWORD, "new": "short"}, expect=422)
    mine("PUT", "/session/password", {"current": PASSWORD, "new": "another long word"}, expect=204)
    mine("GET", "/desk")
    other("GET", "/desk", expect=401)


def test_an_invitation_leads_in_once(sign_in: Any, people: dict[str, Person]) -> None:
    beatrix, guest = sign_in("administrator"), sign_in("nobody")
    beatrix("POST", "/people", {"name": "Noor Castellan", "email": "noor@corvane.example", "role": "member"})
    sent = beatrix("GET", "/dispatches")[0]
    assert sent["recipient"] == "noor@corvane.example"
    token = sent["body"].split("/invitation/")[1].split()[0]
    assert guest("GET", f"/invitations/{token}")["name"] == "Noor Castellan"
    guest("POST", f"/invitations/{token}", {"password": "short"}, expect=422)
    assert guest("POST", f"/invitations/{token}", {"password": PASSWORD})["can_sign_in"] in (True, False)
    assert guest("GET", "/session")["person"]["name"] == "Noor Castellan"
    guest("GET", f"/invitations/{token}", expect=404)
    beatrix("POST", "/people", {"name": "Noor", "email": "noor@corvane.example"}, expect=422)


def test_a_second_invitation_ends_the_first(sign_in: Any) -> None:
    beatrix = sign_in("administrator")
    for _ in range(2):
        beatrix("POST", "/people", {"name": "Noor Castellan", "email": "noor@corvane.example"})
    tokens = [one["body"].split("/invitation/")[1].split()[0] for one in beatrix("GET", "/dispatches")]
    found = [sign_in("nobody").client.get(f"/api/invitations/{token}").status_code for token in tokens]
    assert sorted(found) == [200, 404]


def test_ending_access_ends_sessions(sign_in: Any, people: dict[str, Person]) -> None:
    member = sign_in("member")
    member("GET", "/desk")
    sign_in("administrator")("PATCH", f"/people/{people['member'].id}", {"active": False})
    member("GET", "/desk", expect=401)


def test_somebody_always_administers(sign_in: Any, people: dict[str, Person]) -> None:
    beatrix = sign_in("administrator")
    for body in ({"role": "member"}, {"active": False}):
        beatrix("PATCH", f"/people/{people['administrator'].id}", body, expect=422)
    beatrix("PATCH", f"/people/{people['manager'].id}", {"role": "administrator"})
    beatrix("PATCH", f"/people/{people['administrator'].id}", {"role": "member"})


def test_a_guest_sees_those_they_work_with(ines: Any, sign_in: Any, people: dict[str, Person]) -> None:
    guest = sign_in("guest")
    assert [p["name"] for p in guest("GET", "/people")] == ["Mila Farouk"]
    ines("PUT", f"/projects/LAN/members/{people['guest'].id}", {"role": "viewer"})
    assert {p["name"] for p in guest("GET", "/people")} == {"Mila Farouk", "Ines Oduya"}


def test_only_the_demo_lets_one_in_without_a_password(sign_in: Any, people: dict[str, Person]) -> None:
    caller = sign_in("nobody")
    assert caller("GET", "/session")["demo"] == []
    caller("POST", "/session/demo", {"person_id": people["administrator"].id}, expect=403)


def test_changes_from_elsewhere_are_refused(ines: Any) -> None:
    client = ines.client
    body = {"code": "NEW", "name": "New", "start_day": "2027-03-08"}
    assert client.post("/api/projects", json=body, headers={"Origin": "https://elsewhere.example"}).status_code == 403
    del client.headers["Rhodonite-Client"]
    assert client.post("/api/projects", json=body).status_code == 403
    assert client.get("/api/projects").status_code == 200


def test_preferences_are_kept_with_the_person(sign_in: Any) -> None:
    ines, tomas = sign_in("manager"), sign_in("member")
    usual = {"ripple_days": 0, "longest_days": 20, "digest_hour": 7, "home": "", "mail": {"named": "at_once", "given": "at_once"}}
    assert ines("GET", "/session/preferences") == usual
    assert ines("PATCH", "/session/preferences", {"ripple_days": 1.5}) == {**usual, "ripple_days": 1.5}
    assert ines("PATCH", "/session/preferences", {"longest_days": 10}) == {
        **usual,
        "ripple_days": 1.5,
        "longest_days": 10,
    }
    assert tomas("GET", "/session/preferences") == usual
    refused = ines("PATCH", "/session/preferences", {"longest_days": 0}, expect=422)
    assert refused["detail"] == "Write working days from 0.5 to 1000."


def test_each_chooses_where_it_opens(ines: Any, sign_in: Any) -> None:
    board = "reports/dashboard/0190a6f2-7c1e-7d3a-9f54-2b1c8e6d4a10"
    for home in (board, "p/LAN"):
        assert ines("PATCH", "/session/preferences", {"home": home})["home"] == home
    assert sign_in("member")("GET", "/session/preferences")["home"] == ""
    for wrong in ("//evil.example", "p/", "p/../account", "people", "javascript:alert(1)"):
        assert ines("PATCH", "/session/preferences", {"home": wrong}, expect=422)["errors"][0]["field"] == "home"
    assert ines("PATCH", "/session/preferences", {"home": ""})["home"] == ""
