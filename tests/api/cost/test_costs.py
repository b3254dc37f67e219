"""Cost through the API: worked examples, budgets, expenses, earned value, and that no figure reaches who may not see it."""

from __future__ import annotations

import json
import re
import uuid
from collections.abc import Callable
from typing import Any

import pytest

from rhodonite.core.people.model import Person
from rhodonite.services.common.context import Clock
from tests.conftest import Caller

from ..time.test_time import enter, later

SignIn = Callable[[str], Caller]
DAY = "2027-03-17"


@pytest.fixture
def lan(ines: Caller, people: dict[str, Person]) -> Caller:
    """A project that plans hours, records time and reckons cost; an hour of Tomas costs 32.50."""
    ines("PATCH", "/projects/LAN", {"revision": 99, "hours": True, "time": True, "costs": True})
    ines("PUT", f"/projects/LAN/members/{people['member'].id}", {"role": "contributor"})
    ines("PUT", "/rates", {"who": people["member"].id, "rates": [{"amount": "32.50"}]})
    return ines


def resource(caller: Caller, kind: str, name: str, unit: str = "", rate: str | None = None) -> str:
    made = str(uuid.uuid4())
    caller("POST", "/projects/LAN/resources", {"id": made, "name": name, "kind": kind, "unit": unit})
    if rate:
        caller("PUT", "/projects/LAN/rates", {"who": made, "rates": [{"amount": rate}]})
    return made


def row(caller: Caller, task: dict[str, Any] | None = None) -> dict[str, Any]:
    found = caller("GET", "/projects/LAN/costs")
    return found["project"] if task is None else next(one for one in found["rows"] if one["id"] == task["id"])


def glazed(caller: Caller, who: str, panes: str, **more: Any) -> dict[str, Any]:
    """A task with six hours of a person and four panes."""
    task = caller.add("Glaze", start="2027-03-22", duration="1 d", **more)
    bookings = [{"who": who, "minutes": 360}, {"who": panes, "resource": True, "of": "material", "amount": 4000}]
    return caller.edit(task, bookings=bookings)


def test_a_task_costs_its_hours_its_panes_and_its_permit(lan: Caller, people: dict[str, Person]) -> None:
    panes, permit = resource(lan, "material", "Panes", "pc", "18.75"), resource(lan, "fixed", "Permit")
    lens = lan.add("Lens")
    task = glazed(lan, people["member"].id, panes, parent=lens["id"])
    assert row(lan, task)["planned"] == "270.00"
    bookings = [*task["bookings"], {"who": permit, "resource": True, "of": "fixed", "amount": 350_500}]
    lan.edit(lan.rows()["Glaze"], bookings=bookings)
    assert {key: row(lan, lens)[key] for key in ("planned", "spent", "to_come", "at_completion")} == {
        "planned": "620.50",
        "spent": "0.00",
        "to_come": "620.50",
        "at_completion": "620.50",
    }
    detail = lan("GET", f"/tasks/{task['id']}/cost")
    assert [(one["of"], one["booked"], one["planned"]) for one in detail["lines"]] == [
        ("labour", 360, "195.00"),
        ("material", 4000, "75.00"),
        ("fixed", 350_500, "350.50"),
    ]


def test_hours_entered_and_things_spent_are_spent_and_the_rest_is_to_come(
    lan: Caller, sign_in: SignIn, people: dict[str, Person]
) -> None:
    panes = resource(lan, "material", "Panes", "pc", "18.75")
    task = glazed(lan, people["member"].id, panes)
    tomas = sign_in("member")
    enter(tomas, task, 120)
    spent = {"expenses": [{"task_id": task["id"], "resource_id": panes, "day": DAY, "units": "3"}]}
    tomas("POST", "/projects/LAN/expenses", spent)
    taxi = {"expenses": [{"task_id": task["id"], "day": DAY, "amount": "12.40", "note": "taxi with the panes"}]}
    change = lan("POST", "/projects/LAN/expenses", taxi)["change"]
    found = row(lan, task)
    assert (found["planned"], found["spent"], found["to_come"]) == ("270.00", "133.65", "148.75")
    lan("POST", f"/changes/{change}/undo")
    assert row(lan, task)["spent"] == "121.25"
    mine = tomas("GET", f"/tasks/{task['id']}/cost")
    assert (mine["seen"], mine["lines"], mine["below"]) == (False, [], None)
    assert [(one["units"], one["cost"]) for one in mine["expenses"]] == [("3.000", None)]
    edit = {"expenses": [{"id": mine["expenses"][0]["id"], "revision": 99, "units": "4"}]}
    tomas("PATCH", "/projects/LAN/expenses", edit)
    assert row(lan, task)["spent"] == "140.00"
    sign_in("other")("PATCH", "/projects/LAN/expenses", edit, expect=403)
    lan("POST", "/projects/LAN/expenses/delete", {"ids": [mine["expenses"][0]["id"]]})
    assert row(lan, task)["spent"] == "65.00"


@pytest.mark.parametrize(
    ("wrong", "field"),
    [({"units": "3"}, "units"), ({"amount": "0"}, "amount"), ({"amount": "3", "units": "3"}, "units"),
     ({"amount": "12.405"}, "amount"),
     ({"amount": "3", "day": "2027-03-18"}, "day"), ({}, "amount")],
)  # fmt: skip
def test_an_expense_that_cannot_be_is_refused(lan: Caller, wrong: dict[str, str], field: str) -> None:
    task = lan.add("Glaze")
    body = {"expenses": [{"task_id": task["id"], "day": DAY, **wrong}]}
    assert lan("POST", "/projects/LAN/expenses", body, expect=422)["errors"][0]["field"] == field


def test_a_change_that_passes_a_budget_is_asked_about_first(lan: Caller, sign_in: SignIn, people: dict[str, Person]) -> None:
    panes = resource(lan, "material", "Panes", "pc", "18.75")
    task = glazed(lan, people["member"].id, panes)
    lan("PUT", "/projects/LAN/budget", {"amount": "300"})
    more = [{"who": people["member"].id, "minutes": 480}, task["bookings"][1]]
    body = {"tasks": [{"id": task["id"], "revision": 999, "fields": {"bookings": more}}]}
    asked = {"headers": {"Rhodonite-Ripple": "ask 0"}}
    told = lan("PATCH", "/projects/LAN/tasks", body, expect=409, **asked)["ripple"]
    assert (told["moved"], told["money"]["at_completion_before"], told["money"]["at_completion"]) == (0, "270.00", "335.00")
    assert [(one["title"], one["by"]) for one in told["money"]["passed"]] == [("", "35.00")]
    assert row(lan)["planned"] == "270.00"
    sign_in("member")("PATCH", "/projects/LAN/tasks", {"tasks": [{**body["tasks"][0], "fields": {"title": "Glaze it"}}]}, **asked)
    told = lan("PATCH", "/projects/LAN/tasks", body, expect=409, headers={"Rhodonite-Ripple": f"all {told['revision']}"})[
        "ripple"
    ]
    lan("PATCH", "/projects/LAN/tasks", body, headers={"Rhodonite-Ripple": f"all {told['revision']}"})
    assert row(lan)["planned"] == "335.00"
    body["tasks"][0]["fields"] = {"bookings": [{**more[0], "minutes": 600}, more[1]]}
    lan("PATCH", "/projects/LAN/tasks", body, **asked)  # it was passed before
    body["tasks"][0]["fields"] = {"bookings": more}
    lan("PATCH", "/projects/LAN/tasks", body, **asked)


def test_who_may_not_see_cost_is_not_asked_about_a_budget(lan: Caller, sign_in: SignIn, people: dict[str, Person]) -> None:
    task = glazed(lan, people["member"].id, resource(lan, "material", "Panes", "pc", "18.75"))
    lan("PUT", "/projects/LAN/budget", {"amount": "271"})
    more = [{"who": people["member"].id, "minutes": 480}, task["bookings"][1]]
    body = {"tasks": [{"id": task["id"], "revision": 999, "fields": {"bookings": more}}]}
    sign_in("member")("PATCH", "/projects/LAN/tasks", body, headers={"Rhodonite-Ripple": "ask 0"})
    assert row(lan)["worry"] == "over"


def test_cost_alone_books_without_hours_planned(lan: Caller, people: dict[str, Person]) -> None:
    lan("PATCH", "/projects/LAN", {"revision": 99, "hours": False})
    task = glazed(lan, people["member"].id, resource(lan, "material", "Panes", "pc", "18.75"))
    assert row(lan, task)["planned"] == "270.00"
    keys = {one["key"] for one in lan("GET", "/projects/LAN/columns")["columns"]}
    assert {"people", "booked", "cost.planned"} <= keys
    body = {"tasks": [{"id": task["id"], "revision": 999, "fields": {"bookings": []}}]}
    assert lan("POST", "/projects/LAN/ripple", body)["money"]["planned"] == "0.00"


def test_a_later_rate_changes_no_earlier_cost(lan: Caller, people: dict[str, Person]) -> None:
    task = lan.add("Glaze", start="2027-03-15", duration="5 d")
    lan.edit(task, bookings=[{"who": people["member"].id, "minutes": 1800}])
    enter(lan, task, 60, day="2027-03-16", person_id=people["member"].id)
    rates = [{"amount": "32.50"}, {"first": "2027-03-18", "amount": "40"}]
    lan("PUT", "/rates", {"who": people["member"].id, "rates": rates})
    found = row(lan, task)
    assert (found["planned"], found["spent"]) == ("1065.00", "32.50")  # 18 h at 32.50, 12 h at 40


def test_budgets_are_warned_of_before_they_are_passed(lan: Caller, people: dict[str, Person]) -> None:
    panes = resource(lan, "material", "Panes", "pc", "18.75")
    lens = lan.add("Lens")
    glazed(lan, people["member"].id, panes, parent=lens["id"])
    change = lan("PUT", "/projects/LAN/budget", {"amount": "280"})["change"]
    lan("PUT", "/projects/LAN/budget", {"task_id": lens["id"], "amount": "269.99"})
    assert (row(lan)["used"], row(lan)["worry"], row(lan)["variance"]) == (96, "near", "10.00")
    assert (row(lan, lens)["worry"], row(lan, lens)["variance"]) == ("over", "-0.01")
    assert lan("GET", "/projects/LAN")["revision"]
    lan("POST", f"/changes/{change}/undo")
    assert row(lan)["budget"] is None
    leaf = lan.add("Alone")
    assert "deliverable" in lan("PUT", "/projects/LAN/budget", {"task_id": leaf["id"], "amount": "5"}, expect=422)["detail"]


def test_health_knows_of_the_budget(lan: Caller, people: dict[str, Person]) -> None:
    panes = resource(lan, "material", "Panes", "pc", "18.75")
    glazed(lan, people["member"].id, panes)

    def health() -> str:
        return lan("GET", "/projects/LAN/page")["scope"]["facts"]["health"]

    assert health() == "steady"
    for budget, expected in (("280", "strained"), ("260", "slipping"), ("400", "steady")):
        lan("PUT", "/projects/LAN/budget", {"amount": budget})
        assert health() == expected
        assert next(one["health"] for one in lan("GET", "/projects") if one["code"] == "LAN") == expected


def test_the_agreed_plan_freezes_cost_and_earned_value_follows(lan: Caller, sign_in: SignIn, people: dict[str, Person]) -> None:
    assert lan("GET", "/projects/LAN/costs/earned")["figures"] == []
    panes = resource(lan, "material", "Panes", "pc", "18.75")
    task = glazed(lan, people["member"].id, panes)
    lan("POST", "/projects/LAN/agreed", {"name": "Signed", "day": DAY})
    lan.edit(lan.rows()["Glaze"], bookings=[{"who": people["member"].id, "minutes": 720}])
    found = row(lan, task)
    assert (found["planned"], found["agreed"], found["variance"]) == ("390.00", "270.00", "-120.00")
    enter(sign_in("member"), task, 180)
    lan.edit(lan.rows()["Glaze"], percent=50)
    earned = lan("GET", "/projects/LAN/costs/earned")
    figures = {one["key"]: one["amount"] or one["index"] for one in earned["figures"]}
    assert (figures["BAC"], figures["PV"], figures["EV"], figures["AC"]) == ("270.00", "0.00", "135.00", "97.50")
    assert (figures["CV"], figures["CPI"], figures["SPI"]) == ("37.50", "1.385", None)
    assert figures["EAC"] == "195.00"
    assert "no SPI" in earned["why"]
    today = next(one for one in earned["curve"] if one["day"] == DAY)
    assert (today["earned"], today["spent"]) == ("135.00", "97.50")


def test_months_and_people_sum_to_the_project(lan: Caller, people: dict[str, Person]) -> None:
    task = lan.add("Glaze", start="2027-03-25", duration="10 d")
    lan.edit(task, bookings=[{"who": people["member"].id, "minutes": 1001}])
    found, whole = lan("GET", "/projects/LAN/costs/months"), row(lan)
    assert [one["month"] for one in found["months"]] == ["2027-03", "2027-04"]
    for name in ("planned", "spent", "to_come"):
        assert sum(float(one[name]) for one in found["months"]) == pytest.approx(float(whole[name]))
        assert sum(float(one[name]) for one in found["who"]) == pytest.approx(float(whole[name]))


def test_a_project_has_one_currency_and_rates_are_exchanged_into_it(lan: Caller, people: dict[str, Person]) -> None:
    task = lan.add("Glaze", start="2027-03-22", duration="1 d")
    lan.edit(task, bookings=[{"who": people["member"].id, "minutes": 60}])
    lan("PATCH", "/projects/LAN", {"revision": 99, "currency": "jpy", "exchange": "163.2"})
    found = lan("GET", "/projects/LAN/costs")
    assert (found["currency"], found["project"]["planned"]) == ("JPY", "5304")
    lan("PATCH", "/projects/LAN", {"revision": 99, "currency": None})
    assert row(lan)["planned"] == "32.50"
    lan("PATCH", "/projects/LAN", {"revision": 99, "currency": "euro"}, expect=422)


def test_costs_follow_each_change_also_of_days_and_trees(lan: Caller, people: dict[str, Person], clock: Clock) -> None:
    """The book that is held is followed by only those tasks that changed; it must come to the same as one made anew."""
    from rhodonite.services.cost import book

    lens, other = lan.add("Lens"), lan.add("Other", start="2027-03-22", duration="1 d")
    lan.edit(other, bookings=[{"who": people["member"].id, "minutes": 600}])
    for step in range(6):
        if step == 1:
            lan("POST", "/projects/LAN/tasks/move", {"ids": [other["id"]], "parent_id": lens["id"]})
        if step == 2:
            lan.add("Below", parent=other["id"])  # what was booked on it counts no more
        if step == 3:
            lan("POST", "/projects/LAN/tasks/delete", {"ids": [lan.rows()["Below"]["id"]]})
        if step == 4:
            enter(lan, other, 60, person_id=people["member"].id)
        if step == 5:
            later(clock, days=3)
        held = lan("GET", "/projects/LAN/costs")
        book._held.clear()
        lan("PATCH", "/projects/LAN", {"revision": 99, "description": f"step {step}"})
        anew = lan("GET", "/projects/LAN/costs")
        assert {**held, "revision": 0} == {**anew, "revision": 0}, step


# who may not see cost


SECRET = "4711.37"


def tells_secret(text: str) -> bool:
    """True where a text holds the secret sum, in any unit; ids hold any digits by chance."""
    bare = re.sub(r"[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}", "", text)
    return re.search(r"4[,.]?711[.,]?37", bare) is not None


def test_no_figure_reaches_who_may_not_see_cost(lan: Caller, sign_in: SignIn, people: dict[str, Person]) -> None:
    permit = resource(lan, "fixed", "Permit")
    lens = lan.add("Lens")
    task = lan.add("Glaze", parent=lens["id"], start="2027-03-22", duration="1 d")
    lan.edit(task, bookings=[{"who": permit, "resource": True, "of": "fixed", "amount": 4_711_370}])
    lan("PUT", "/projects/LAN/budget", {"amount": SECRET})
    lan("PUT", "/projects/LAN/budget", {"task_id": lens["id"], "amount": SECRET})
    spent = {"expenses": [{"task_id": task["id"], "resource_id": permit, "day": DAY, "amount": SECRET, "note": "paid"}]}
    lan("POST", "/projects/LAN/expenses", spent)
    lan("POST", "/projects/LAN/agreed", {"name": "Signed", "day": DAY})
    columns = ["cost.budget", "cost.planned", "cost.at_completion", "people"]
    tint = {"id": str(uuid.uuid4()), "name": "dear", "colour": "rose", "sign": "flag", "covers": ["row"],
            "where": {"all": [["cost.planned", "more", 1]]}}  # fmt: skip
    view = {"columns": [{"key": one, "foot": "sum"} if one != "people" else {"key": one} for one in columns],
            "sorts": [{"key": "cost.planned", "down": True}], "tints": [tint]}  # fmt: skip
    tomas = sign_in("member")
    project = lan("GET", "/projects/LAN")
    agreed = lan("GET", "/projects/LAN/agreed")[0]["id"]
    reads = [
        ("GET", "/projects/LAN/tasks", None), ("GET", f"/tasks/{task['id']}", None), ("GET", f"/tasks/{lens['id']}", None),
        ("GET", f"/tasks/{task['id']}/cost", None), ("GET", "/projects/LAN/page", None), ("GET", "/projects/LAN/brief", None),
        ("GET", "/projects/LAN/activity", None), ("POST", "/projects/LAN/view", view), ("GET", "/projects/LAN/columns", None),
        ("GET", "/projects/LAN/tasks.csv", None), ("GET", "/projects/LAN/tasks.csv?column=title&column=people", None),
        ("GET", "/projects/LAN/plan.json", None), ("GET", f"/projects/LAN/compare?first={agreed}&second=now", None),
        ("GET", "/projects/LAN/load?first=2027-03-15&last=2027-03-28", None), ("GET", "/find?text=Permit", None),
        ("GET", "/view", None), ("GET", "/projects", None), ("GET", "/desk", None), ("GET", "/notices", None),
        ("POST", "/projects/LAN/bookings/read", {"task_id": task["id"], "text": "Permit"}), ("POST", "/view", {"groups": ["project"]}),
        ("POST", "/projects/LAN/ripple", {"tasks": [{"id": task["id"], "revision": 999, "fields": {"duration": "3 d"}}]}),
    ]  # fmt: skip
    for method, path, body in reads:
        answer = tomas.client.request(method, f"/api{path}", json=body)
        assert answer.status_code < 400 or answer.status_code in {404, 405}, (path, answer.text)
        assert not tells_secret(answer.text), path
    for path in ("costs", "costs/months", "costs/earned"):
        tomas("GET", f"/projects/LAN/{path}", expect=403)
    where = json.dumps({"all": [["cost.planned", "more", 4000]]})
    for path in (
        f"/projects/LAN/page?where={where}",
        f"/projects/LAN/tasks.csv?where={where}",
        "/projects/LAN/tasks.csv?column=cost.budget",
    ):
        tomas("GET", path, expect=422)
    stale = {"tasks": [{"id": task["id"], "revision": 1, "fields": {"bookings": []}}]}
    assert not tells_secret(json.dumps(tomas("PATCH", "/projects/LAN/tasks", stale, expect=409)))
    # and who may see it is told
    assert SECRET in json.dumps(lan("GET", "/projects/LAN/costs"))
    assert "4711.37" in lan("GET", "/projects/LAN/tasks.csv?column=title&column=people").text
    assert "4,711.37" in json.dumps(lan("POST", "/projects/LAN/view", view))
    assert any("4711.37" in one for happening in lan("GET", "/projects/LAN/activity") for one in happening["lines"])
    assert lan("GET", f"/projects/LAN/page?where={where}")["scope"]["shown"] == 1
    assert "see_costs" in project["may"]


def test_a_sum_that_is_not_shown_stays_where_others_change_the_bookings(
    lan: Caller, sign_in: SignIn, people: dict[str, Person]
) -> None:
    permit = resource(lan, "fixed", "Permit")
    task = lan.edit(lan.add("Glaze"), bookings=[{"who": permit, "resource": True, "of": "fixed", "amount": 4_711_370}])
    tomas = sign_in("member")
    seen = tomas.rows()["Glaze"]["bookings"]
    assert seen[0]["amount"] is None
    tomas.edit(tomas.rows()["Glaze"], bookings=[*seen, {"who": people["member"].id, "minutes": 60}])
    assert row(lan, task)["planned"] == "4743.87"
    tomas.edit(tomas.rows()["Glaze"], bookings="Permit, Tomas 2 h")
    assert row(lan, task)["planned"] == "4776.37"
    other = tomas.add("Seal")
    assert "sum" in tomas.edit(other, expect=422, bookings=[{"who": permit, "resource": True, "of": "fixed"}])["detail"]


def test_the_ripple_tells_what_a_change_costs_and_which_budget_it_passes(
    lan: Caller, sign_in: SignIn, people: dict[str, Person]
) -> None:
    who = people["member"].id
    lens = lan.add("Lens")
    first = lan.add("Cast bars", parent=lens["id"], start="2027-03-22", duration="2 d")
    second = lan.add("Fit bars", parent=lens["id"], duration="2 d", waits_for=str(first["number"]))
    lan.edit(lan.rows()["Fit bars"], bookings=[{"who": who, "minutes": 600}])
    lan("PUT", "/rates", {"who": who, "rates": [{"amount": "30"}, {"first": "2027-03-29", "amount": "40"}]})
    lan("PUT", "/projects/LAN/budget", {"task_id": lens["id"], "amount": "350"})
    change = {"tasks": [{"id": first["id"], "revision": 999, "fields": {"duration": "5 d"}}]}
    money = lan("POST", "/projects/LAN/ripple", change)["money"]
    assert (money["planned_before"], money["planned"], money["at_completion"]) == ("300.00", "400.00", "400.00")
    assert [(one["title"], one["by"]) for one in money["passed"]] == [("Lens", "50.00")]
    assert sign_in("member")("POST", "/projects/LAN/ripple", change)["money"] is None
    asked = lan("PATCH", "/projects/LAN/tasks", change, expect=409, headers={"Rhodonite-Ripple": "ask"})
    assert asked["ripple"]["money"]["at_completion"] == "400.00"
    back = {"tasks": [{"id": first["id"], "revision": 999, "fields": {"duration": "2 d"}}]}
    lan("PATCH", "/projects/LAN/tasks", change)
    assert [one["title"] for one in lan("POST", "/projects/LAN/ripple", back)["money"]["kept"]] == ["Lens"]
    assert second["id"]


def test_readings_tell_what_it_costs_to_who_may_see_it(lan: Caller, sign_in: SignIn, people: dict[str, Person]) -> None:
    task = glazed(lan, people["member"].id, resource(lan, "material", "Panes", "pc", "18.75"))
    lan("PUT", "/projects/LAN/budget", {"amount": "250"})
    said = "At completion it costs 270.00 EUR: **20.00 more than its budget** of 250.00."
    assert said in lan("GET", "/projects/LAN/brief")["reading"]
    assert "costs 270.00 EUR, 0.00 of it spent" in lan("GET", f"/tasks/{task['id']}")["reading"]
    tomas = sign_in("member")
    for path in ("/projects/LAN/brief", f"/tasks/{task['id']}", "/projects/LAN/brief"):
        assert "270" not in tomas("GET", path)["reading"]
