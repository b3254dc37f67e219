"""What nobody may infer: figures, names and times that are for others reach no reader by another way."""

from __future__ import annotations

import uuid
from collections.abc import Callable

import pytest

from rhodonite.core.people.model import Person
from tests.conftest import Caller

from ..time.test_time import DAY, enter, entries

SignIn = Callable[[str], Caller]


@pytest.fixture
def lan(ines: Caller, people: dict[str, Person]) -> Caller:
    """A project with hours, time and costs; Tomas contributes, Mila reads as a guest; an hour of Tomas costs 32.50."""
    ines("PATCH", "/projects/LAN", {"revision": 99, "hours": True, "time": True, "costs": True})
    ines("PUT", f"/projects/LAN/members/{people['member'].id}", {"role": "contributor"})
    ines("PUT", f"/projects/LAN/members/{people['guest'].id}", {"role": "viewer"})
    ines("PUT", "/rates", {"who": people["member"].id, "rates": [{"amount": "32.50"}]})
    return ines


def test_the_activity_names_neither_client_nor_number_of_an_invoice(lan: Caller, sign_in: SignIn) -> None:
    task = lan.add("Glaze")
    enter(sign_in("member"), task, 60)
    sheet = str(uuid.uuid4())
    lan("POST", "/projects/LAN/invoices", {"id": sheet, "client": "Quietwater Bank", "first": DAY, "last": DAY})
    lan("PATCH", f"/projects/LAN/invoices/{sheet}", {"client": "Quietwater Trust"})
    lan("POST", f"/projects/LAN/invoices/{sheet}/freeze", {"number": "2027-0815", "issued": DAY})
    for role in ("member", "guest"):
        said = str(sign_in(role)("GET", "/projects/LAN/activity"))
        assert "Quietwater" not in said
        assert "0815" not in said


def test_a_guest_reads_hours_of_others_only_as_a_sum(lan: Caller, sign_in: SignIn, people: dict[str, Person]) -> None:
    task = lan.add("Glaze", owner_id=people["guest"].id)
    enter(sign_in("member"), task, 60, started=555, note="private matter")
    mila = sign_in("guest")
    enter(mila, task, 30)
    seen = mila("GET", f"/tasks/{task['id']}/time")
    assert (seen["spent"], [one["minutes"] for one in seen["entries"]]) == (90, [30])
    assert [one["person_id"] for one in seen["people"]] == [people["guest"].id]
    assert "private matter" not in mila("GET", f"/projects/LAN/time.csv?first={DAY}&last={DAY}").text
    report = mila("GET", f"/time-report?first={DAY}&last={DAY}&by=person")
    assert report["total"]["minutes"] == 30
    # a member of the organisation reads who spent how much, but not when on the day
    yuki = sign_in("other")
    others = entries(yuki, task)
    assert {one["minutes"] for one in others} == {60, 30}
    assert all(one["started"] is None for one in others)
    assert "09:15" not in yuki("GET", f"/projects/LAN/time.csv?first={DAY}&last={DAY}").text
    assert "09:15" in lan("GET", f"/projects/LAN/time.csv?first={DAY}&last={DAY}").text
    assert {one["started"] for one in entries(lan, task)} == {555, None}


def test_taking_back_that_a_part_was_joined_asks_as_joining_does(lan: Caller, sign_in: SignIn, people: dict[str, Person]) -> None:
    beatrix, guest = sign_in("administrator"), people["manager"].id
    beatrix("POST", "/projects", {"code": "SEC", "name": "Hidden", "start_day": "2027-03-08", "private": True})
    lan("POST", "/portfolios", {"code": "COA", "name": "Coast", "start_day": "2027-03-08"})
    assert guest == lan("GET", "/projects/COA")["lead_id"]
    change = str(uuid.uuid4())
    beatrix("POST", "/projects/COA/parts", {"code": "SEC"}, headers={"Rhodonite-Change": change})
    assert lan("POST", f"/changes/{change}/undo", expect=404)
    assert len(beatrix("GET", "/projects/COA/portfolio")["parts"]) == 1
    own = str(uuid.uuid4())
    beatrix("POST", f"/changes/{change}/undo", headers={"Rhodonite-Change": own})
    lan("POST", f"/changes/{own}/undo", expect=404)
