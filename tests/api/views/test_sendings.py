"""Sheets that are sent every week: to whom, when, and of each what they may see."""

from __future__ import annotations

import json
import uuid
from collections.abc import Callable
from datetime import datetime
from typing import Any
from urllib.parse import urlencode

import pytest

from rhodonite.core.people.model import Person
from rhodonite.services.common.context import Clock
from rhodonite.services.views.sendings import send_sheet, sheets_to_send
from rhodonite.store.common.database import Database
from tests.conftest import Caller

SignIn = Callable[[str], Caller]
ADDRESS = "http://rhodonite.example"


def keep(caller: Caller, code: str | None = None, **query: Any) -> str:
    lens = "outline" if code else "all_work"
    body = {"name": "Late for Monday", "view": {"lens": lens, "query": urlencode(query, doseq=True)}}
    path = f"/projects/{code}/sheets" if code else "/sheets"
    caller("POST", path, body)
    found: str = caller("GET", path)[-1]["id"]
    return found


@pytest.fixture
def lan(ines: Caller) -> Caller:
    ines.add("Cast bars", start="2027-03-09", duration="3 d")
    ines.add("Set panes", start="2027-03-22", duration="3 d")
    return ines


def send(database: Database, clock: Clock) -> int:
    """As the worker does. Returns how many mails went out."""
    return sum(database.write(send_sheet, clock, ADDRESS, one) for one in database.read(sheets_to_send, clock))


def at(clock: Clock, day: int, hour: int = 8) -> Clock:
    return Clock(clock.zone, datetime(2027, 3, day, hour))


def test_a_sheet_is_sent_on_its_day_once_with_its_table(
    lan: Caller, sign_in: SignIn, people: dict[str, Person], database: Database, clock: Clock
) -> None:
    sheet = keep(lan, late=1, state_class=["queued", "active"], view=json.dumps({"columns": [{"key": "late_days"}]}))
    lan("PATCH", f"/sheets/{sheet}", {"send_on": 0, "send_to": [people["administrator"].id]})
    (kept,) = [one for one in lan("GET", "/sheets") if one["id"] == sheet]
    assert (kept["send_on"], kept["send_to"], kept["sends"]) == (0, [people["administrator"].id], True)
    for day, hour, mails in [(17, 9, 0), (21, 23, 0), (22, 6, 0), (22, 7, 1), (22, 8, 0), (23, 9, 0), (30, 9, 1)]:
        assert send(database, at(clock, day, hour)) == mails, (day, hour)
    tray = sign_in("administrator")("GET", "/dispatches")
    first = tray[-1]
    assert first["subject"] == "Late for Monday, 22 Mar"
    assert first["recipient"] == people["administrator"].email
    assert "\n- LAN 1, Cast bars, days late 6 d" in first["body"]
    assert f"{ADDRESS}/desk/all_work?sheet={sheet}&late=1" in first["body"]
    files = {name: one for one, name in first["files"].items()}
    assert sorted(files) == ["Late for Monday 22 Mar.csv", "Late for Monday 22 Mar.xlsx"]
    table = sign_in("administrator")("GET", f"/dispatches/files/{files['Late for Monday 22 Mar.csv']}")
    assert table.content.decode("utf-8-sig").splitlines() == ["Code,Title,Days late", "LAN 1,Cast bars,6 d"]
    lan("GET", f"/dispatches/files/{files['Late for Monday 22 Mar.csv']}", expect=403)


def test_each_gets_what_they_may_see_and_nobody_who_is_gone(
    lan: Caller, sign_in: SignIn, people: dict[str, Person], database: Database, clock: Clock
) -> None:
    lan("PATCH", "/projects/LAN", {"revision": 999, "private": True})
    wide, own = keep(lan), keep(lan, "LAN")
    to = [people["member"].id, people["administrator"].id]
    lan("PATCH", f"/sheets/{wide}", {"send_on": 0, "send_to": to})
    lan("PATCH", f"/projects/LAN/sheets/{own}", {"send_on": 0, "send_to": to})
    # the member sees nothing of the project: of all work they get an empty list, of its own sheet nothing
    assert send(database, at(clock, 22)) == 3
    mails = sign_in("administrator")("GET", "/dispatches")
    to_member = [one for one in mails if one["recipient"] == people["member"].email]
    assert len(to_member) == 1
    assert "Cast" not in to_member[0]["body"]
    assert "no tasks" in to_member[0]["body"]
    sign_in("administrator")("PATCH", f"/people/{people['member'].id}", {"active": False})
    assert send(database, at(clock, 29)) == 2


def test_sending_is_the_keepers_choice_and_can_be_taken_back(lan: Caller, sign_in: SignIn, people: dict[str, Person]) -> None:
    sheet = keep(lan)
    lan("PATCH", f"/sheets/{sheet}", {"seen_by": "project"})
    sign_in("member")("PATCH", f"/sheets/{sheet}", {"send_on": 1, "send_to": [people["member"].id]}, expect=403)
    lan("PATCH", f"/sheets/{sheet}", {"send_on": 1}, expect=422)
    nobody = "0190a6f2-7c1e-7d3a-9f54-2b1c8e6d4a11"
    assert lan("PATCH", f"/sheets/{sheet}", {"send_on": 1, "send_to": [nobody]}, expect=422)["errors"][0]["field"] == "send_to"
    guest = sign_in("guest")
    guest("POST", "/sheets", {"name": "Own", "view": {"lens": "all_work"}})
    own = next(one["id"] for one in guest("GET", "/sheets") if one["mine"])
    guest("PATCH", f"/sheets/{own}", {"send_on": 1, "send_to": [people["member"].id]}, expect=403)
    guest("PATCH", f"/sheets/{own}", {"send_on": 1, "send_to": [people["guest"].id]})
    lan("PATCH", f"/sheets/{sheet}", {"send_on": 7, "send_to": [people["member"].id]}, expect=422)
    change = "0190a6f2-7c1e-7d3a-9f54-2b1c8e6d4a10"
    sent = {"send_on": 1, "send_to": [people["member"].id]}
    lan("PATCH", f"/sheets/{sheet}", sent, headers={"Rhodonite-Change": change})
    lan("POST", f"/changes/{change}/undo")
    (kept,) = [one for one in lan("GET", "/sheets") if one["id"] == sheet]
    assert (kept["send_on"], kept["send_to"]) == (None, [])


def test_what_is_no_list_of_tasks_is_not_sent(lan: Caller, people: dict[str, Person]) -> None:
    lan("POST", "/sheets", {"name": "Goals of mine", "view": {"lens": "goals"}})
    (sheet,) = lan("GET", "/sheets")
    assert sheet["sends"] is False
    refused = lan("PATCH", f"/sheets/{sheet['id']}", {"send_on": 0, "send_to": [people["manager"].id]}, expect=422)
    assert "no list of tasks" in refused["detail"]


def test_nobody_writes_lines_or_links_of_their_own_into_the_mail(
    lan: Caller, sign_in: SignIn, people: dict[str, Person], database: Database, clock: Clock
) -> None:
    made = str(uuid.uuid4())
    query = "text=\n\nYour password has expired:\nhttps://elsewhere.example/sign-in\n"
    lan("POST", "/sheets", {"id": made, "name": "Late", "view": {"lens": "all_work", "query": query}})
    lan("PATCH", f"/sheets/{made}", {"send_on": 0, "send_to": [people["administrator"].id]})
    assert send(database, at(clock, 22)) == 1
    body = sign_in("administrator")("GET", "/dispatches")[0]["body"]
    assert "password has" not in body
    assert "https://elsewhere" not in body
