"""Hours and money where they meet the bin, a move and a copy: what is spent stays spent, and what is closed stays closed."""

from __future__ import annotations

import uuid
from collections.abc import Callable
from typing import Any

import pytest

from rhodonite.core.people.model import Person
from tests.conftest import Caller

from ..cost.test_costs import resource, row
from ..time.test_time import DAY, enter, entries

SignIn = Callable[[str], Caller]
ASK = {"Rhodonite-Ripple": "ask 0"}


@pytest.fixture
def lan(ines: Caller, people: dict[str, Person]) -> Caller:
    """LAN and MIL, which plan hours, record time and have costs; Tomas contributes to both at 32.50 an hour."""
    ines("POST", "/projects", {"code": "MIL", "name": "Tide Mill", "start_day": "2027-03-08"})
    for code in ("LAN", "MIL"):
        ines("PATCH", f"/projects/{code}", {"revision": 99, "hours": True, "time": True, "costs": True})
        ines("PUT", f"/projects/{code}/members/{people['member'].id}", {"role": "contributor"})
    ines("PUT", "/rates", {"who": people["member"].id, "rates": [{"amount": "32.50"}]})
    return ines


def accept_week(lan: Caller, tomas: Caller, person_id: str) -> None:
    tomas("POST", "/time-sheet/hand-in", {"day": DAY})
    lan("POST", "/time-sheet/judge", {"person_id": person_id, "day": DAY, "accept": True})


def move(caller: Caller, task: dict[str, Any], code: str = "MIL", expect: int | None = None, **more: Any) -> str:
    """Move a task to another project; returns its id there."""
    there = str(uuid.uuid4())
    caller("POST", "/projects/LAN/copies", {"ids": {task["id"]: there}, "code": code, "moves": True, **more}, expect=expect)
    return there


def lost(caller: Caller, task: dict[str, Any], code: str = "MIL", *, moves: bool = True) -> list[str]:
    body = {"ids": {task["id"]: str(uuid.uuid4())}, "code": code, "moves": moves}
    found: list[str] = caller("POST", "/projects/LAN/copies/preview", body)["lost"]
    return found


def test_what_was_spent_on_a_task_in_the_bin_stays_spent(lan: Caller, sign_in: SignIn, people: dict[str, Person]) -> None:
    tomas = sign_in("member")
    task = lan.add("Glaze", start="2027-03-15", duration="5 d")
    task = lan.edit(task, bookings=[{"who": people["member"].id, "minutes": 600}])
    lan("POST", "/projects/LAN/agreed", {"id": str(uuid.uuid4()), "name": "Agreed", "day": DAY})
    enter(tomas, task, 120)
    lan("POST", "/projects/LAN/expenses", {"expenses": [{"task_id": task["id"], "day": DAY, "amount": "12.40"}]})
    lan.edit(lan.rows()["Glaze"], percent=40)
    accept_week(lan, tomas, people["member"].id)
    before = figures(lan)
    assert before["AC"] == "77.40"
    asked = lan("POST", "/projects/LAN/tasks/delete", {"ids": [task["id"]]}, expect=409, headers=ASK)
    said = {"2 h recorded stay in time sheets, reports and costs.", "1 expense stays in the costs."}
    assert set(asked["ripple"]["announced"]) == said
    money = asked["ripple"]["money"]
    assert money["at_completion"] == "77.40", money  # and not less than what is spent
    assert "Glaze" in lan.rows()
    lan("POST", "/projects/LAN/tasks/delete", {"ids": [task["id"]]})
    assert figures(lan) == before
    costs = lan("GET", "/projects/LAN/costs")
    assert (costs["project"]["spent"], costs["project"]["to_come"], costs["in_bin"]["spent"]) == ("77.40", "0.00", "77.40")
    months = lan("GET", "/projects/LAN/costs/months")
    assert [(one["month"], one["spent"]) for one in months["months"]] == [("2027-03", "77.40")]
    assert sum(float(one["spent"]) for one in months["who"]) == 77.40
    sheet = tomas("GET", f"/time-sheet?day={DAY}")
    assert [(one["title"], one["in_bin"], one["may_enter"]) for one in sheet["rows"]] == [("Glaze", True, False)]
    assert (sheet["other"], sheet["projects"][0]["minutes"], sheet["state"]) == ([0] * 7, 120, "accepted")
    assert [line.split(",")[1] for line in table(lan, "/projects/LAN/expenses.csv")[1:]] == ["Glaze"]
    lan("POST", "/projects/LAN/tasks/restore", {"ids": [task["id"]]})
    assert (lan("GET", "/projects/LAN/costs")["in_bin"], row(lan)["spent"]) == (None, "77.40")
    assert figures(lan) == before


def figures(caller: Caller) -> dict[str, str]:
    """The figures of earned value, which the curves have for today too."""
    earned = caller("GET", "/projects/LAN/costs/earned")
    found = {one["key"]: one["amount"] for one in earned["figures"]}
    today = next(one for one in earned["curve"] if one["day"] == DAY)
    assert (today["planned"], today["earned"], today["spent"]) == (found["PV"], found["EV"], found["AC"])
    return {key: found[key] for key in ("BAC", "PV", "EV", "AC")}


def table(caller: Caller, path: str) -> list[str]:
    lines: list[str] = caller("GET", path).content.decode("utf-8-sig").splitlines()
    return lines


def test_hours_that_were_accepted_stay_where_they_were_accepted(lan: Caller, sign_in: SignIn, people: dict[str, Person]) -> None:
    tomas = sign_in("member")
    task = lan.add("Glaze")
    enter(tomas, task, 60)
    enter(lan, task, 45, person_id=people["manager"].id)
    accept_week(lan, tomas, people["member"].id)
    assert lost(lan, task) == ["1 h are submitted, accepted or invoiced: they stay in LAN and count there."]
    there = move(lan, task)
    assert [one["minutes"] for one in entries(lan, {"id": there})] == [45]
    assert row(lan)["spent"] == "32.50"
    assert lan.rows("MIL")["Glaze"]["spent"] == 45
    report = lan("GET", f"/time-report?first={DAY}&last={DAY}&by=project")
    assert {report["labels"]["project"][one["keys"][0]].split()[0]: one["minutes"] for one in report["lines"]} == {
        "LAN": 60,
        "MIL": 45,
    }


def test_a_move_is_not_taken_back_over_hours_that_were_accepted_since(
    lan: Caller, sign_in: SignIn, people: dict[str, Person]
) -> None:
    tomas, task = sign_in("member"), lan.add("Glaze")
    enter(tomas, task, 60)
    there = str(uuid.uuid4())
    change = lan("POST", "/projects/LAN/copies", {"ids": {task["id"]: there}, "code": "MIL", "moves": True})["change"]
    accept_week(lan, tomas, people["member"].id)
    assert "accepted" in lan("POST", f"/changes/{change}/undo", expect=422)["detail"]
    assert [one["minutes"] for one in entries(lan, {"id": there})] == [60]
    lan("POST", "/time-sheet/judge", {"person_id": people["member"].id, "day": DAY, "accept": False, "word": "wait"})
    lan("POST", f"/changes/{change}/undo")
    assert [one["minutes"] for one in entries(lan, task)] == [60]


def test_hours_and_money_go_with_a_task_that_moves_without_attachments(lan: Caller, sign_in: SignIn) -> None:
    task = lan.add("Glaze")
    enter(sign_in("member"), task, 60)
    lan("POST", "/projects/LAN/expenses", {"expenses": [{"task_id": task["id"], "day": DAY, "amount": "12.40"}]})
    assert lost(lan, task) == []
    there = move(lan, task, hanging=False)
    assert [one["minutes"] for one in entries(lan, {"id": there})] == [60]
    assert lan("GET", "/projects/MIL/costs")["project"]["spent"] == "44.90"
    assert row(lan)["spent"] == "0.00"


def test_money_goes_only_with_who_may_see_it_on_both_sides(lan: Caller, sign_in: SignIn, people: dict[str, Person]) -> None:
    permit = resource(lan, "fixed", "Permit")
    task = lan.add("Glaze")
    lan.edit(task, bookings=[{"who": permit, "resource": True, "of": "fixed", "amount": 350_500}])
    lan("POST", "/projects/LAN/expenses", {"expenses": [{"task_id": task["id"], "day": DAY, "amount": "12.40"}]})
    tomas = sign_in("member")
    lan("PUT", f"/projects/MIL/members/{people['member'].id}", {"role": "lead"})
    copied = {"ids": {task["id"]: str(uuid.uuid4())}, "code": "MIL"}
    assert any("you may not see what both projects cost" in line for line in lost(tomas, task, moves=False))
    tomas("POST", "/projects/LAN/copies", copied)
    assert tomas.rows("MIL")["Glaze"]["bookings"] == []
    there = move(tomas, task)
    assert tomas("GET", f"/tasks/{there}/cost")["expenses"] == []
    assert row(lan)["spent"] == "12.40"


def test_a_repeat_moves_with_its_task_and_a_copy_says_that_it_has_none(lan: Caller) -> None:
    task = lan.add("Check the lamp", start="2027-03-22", duration="1 d")
    task = lan.edit(task, repeats={"words": "every week"})
    assert any(line.startswith("The repeat of 1 task") for line in lost(lan, task, moves=False))
    assert lost(lan, task) == []
    move(lan, task)
    assert lan.rows("MIL")["Check the lamp"]["repeats"]["words"] == task["repeats"]["words"]


def test_a_pin_moves_with_its_task(lan: Caller) -> None:
    task = lan.add("Lift", start="2027-03-22", duration="1 d")
    lan.edit(task, constraint_type="must_start", constraint_at="2027-03-22T09:00")
    move(lan, task)
    moved = lan.rows("MIL")["Lift"]
    assert (moved["constraint_type"], moved["constraint_at"][:10]) == ("must_start", "2027-03-22")


def test_a_tie_moves_with_its_task_or_its_loss_is_said(lan: Caller) -> None:
    lan("POST", "/projects", {"code": "SEA", "name": "Seabirds", "start_day": "2027-03-08"})
    settings = {"type": "tied", "carries": ["percent"], "progress": True}
    keys = {}
    for code in ("LAN", "MIL"):
        keys[code] = str(uuid.uuid4())
        lan("POST", f"/projects/{code}/defined/fields", {"id": keys[code], "name": "Work", "settings": settings})
    nest, item = lan.add("Nest boxes", "SEA"), lan.add("Birds")
    lan.edit(item, **{f"own.{keys['LAN']}": [nest["id"]]})
    lan.edit(nest, "SEA", percent=30)
    assert lost(lan, item) == []
    move(lan, item)
    assert lan.rows("MIL")["Birds"]["percent"] == 30
    lan.edit(lan.rows("SEA")["Nest boxes"], "SEA", percent=60)
    assert lan.rows("MIL")["Birds"]["percent"] == 60
    said = lan("POST", "/projects/SEA/copies/preview", {"ids": {nest["id"]: str(uuid.uuid4())}, "code": "LAN", "moves": True})
    assert said["lost"] == ["An item of another project loses its tie."]
    asked = lan("POST", "/projects/SEA/tasks/delete", {"ids": [nest["id"]]}, expect=409, headers=ASK)
    assert asked["ripple"]["announced"] == ["An item of another project loses its tie."]


def test_a_currency_stays_while_sums_are_kept_in_it(lan: Caller, sign_in: SignIn) -> None:
    def pay_in(currency: str | None, expect: int | None = None) -> Any:
        return lan("PATCH", "/projects/LAN", {"revision": 99, "currency": currency}, expect=expect)

    assert "XXQ is not a currency" in pay_in("XXQ", 422)["detail"]
    change = str(uuid.uuid4())
    lan("PATCH", "/projects/LAN", {"revision": 99, "currency": "GBP"}, headers={"Rhodonite-Change": change})
    lan("PUT", "/projects/LAN/budget", {"amount": "1000"})
    task = lan.add("Glaze", start="2027-03-15", duration="5 d")
    refused = pay_in("EUR", 422)["detail"]
    assert refused.startswith("LAN keeps budgets in GBP, which would be read as EUR.")
    assert pay_in("GBP")
    lan("POST", f"/changes/{change}/undo", expect=422)
    lan("PUT", "/projects/LAN/budget", {"amount": None})
    lan("POST", "/projects/LAN/expenses", {"expenses": [{"task_id": task["id"], "day": DAY, "amount": "12.40"}]})
    assert "expenses" in pay_in(None, 422)["detail"]
    lan("POST", "/projects/MIL/expenses", {"expenses": [{"task_id": lan.add("Dig", "MIL")["id"], "day": DAY, "amount": "5"}]})
    refused = sign_in("administrator")("PATCH", "/bookable", {"currency": "CHF"}, expect=422)["detail"]
    assert refused.startswith("MIL keeps expenses in EUR")


def test_many_fields_of_several_tasks_are_changed_at_once(lan: Caller, people: dict[str, Person]) -> None:
    rows = [lan.add(f"Pane {n}") for n in range(3)]
    fields = {"title": "Pane", "percent": 20, "priority": "must", "deadline": "2027-04-09", "effort": "8 h", "start": "2027-03-22",
              "duration": "2 d", "owner_id": people["member"].id, "held_reason": "no glass", "keeps": "length",
              "constraint_type": "start_no_earlier", "constraint_at": "2027-03-22"}  # fmt: skip
    lan("PATCH", "/projects/LAN/tasks", {"tasks": [{"id": one["id"], "revision": 999, "fields": fields} for one in rows]})
    assert lan("GET", "/projects/LAN/activity")[0]["what"] == "changed 11 fields of 3 tasks"
