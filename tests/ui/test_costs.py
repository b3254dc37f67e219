"""Costs: the lens, budgets, what is spent, the ripple's money, invoice sheets; nothing of it for who may not see cost."""

from __future__ import annotations

import re
from collections.abc import Callable

import pytest
from playwright.sync_api import expect

from tests.running import Running

from .conftest import Desk, Made

Sit = Callable[..., Desk]


class Costed(Made):
    """A project that plans hours, records time and reckons cost: ten hours of Noor, whose hour costs 38.00, in a summary task."""

    def __init__(self, running: Running) -> None:
        super().__init__(running)
        self.ines(
            "PATCH", f"/projects/{self.code}", {"revision": 99, "hours": True, "time": True, "costs": True, "client": "City"}
        )
        people = {one["name"]: one["id"] for one in self.ines("GET", "/people")}
        self.noor, self.tomas = people["Noor Castellan"], people["Tomas Brekke"]
        self.ines("PUT", f"/projects/{self.code}/members/{self.tomas}", {"role": "contributor"})
        self.add("Lens")
        task = {
            "title": "Grind prisms",
            "parent_id": self.rows()["Lens"]["id"],
            "fields": {"start": "2027-03-22", "duration": "2 d"},
        }
        self.ines("POST", f"/projects/{self.code}/tasks", {"tasks": [task]})
        edit = {
            "id": self.rows()["Grind prisms"]["id"],
            "revision": 10**8,
            "fields": {"bookings": [{"who": self.noor, "minutes": 600}]},
        }
        self.ines("PATCH", f"/projects/{self.code}/tasks", {"tasks": [edit]})


@pytest.fixture
def costed(running: Running) -> Costed:
    return Costed(running)


def test_budgets_are_typed_in_the_tree_and_warned_of(sit: Sit, costed: Costed) -> None:
    desk = sit()
    page = desk.go(f"/p/{costed.code}/costs")
    expect(page.get_by_text("At completion it costs 380.00 EUR, and no budget is set")).to_be_visible()
    cell = page.locator(f'[data-row="{costed.rows()["Lens"]["id"]}"] [data-cell=budget]')
    cell.click()
    page.keyboard.type("390")
    page.keyboard.press("Enter")
    desk.saved()
    expect(page.locator(f'[data-row="{costed.rows()["Lens"]["id"]}"] [data-cell=variance]')).to_contain_text(
        "nearly used up10.00"
    )
    page.get_by_role("button", name="+ Keep this sheet").click()
    page.get_by_role("textbox", name="Name").fill(f"Money of {costed.code}")
    page.get_by_role("button", name="Keep", exact=True).click()
    desk.saved()
    page = desk.go(f"/p/{costed.code}/outline")
    page.get_by_role("link", name=f"Money of {costed.code}").click()
    whole = page.get_by_label("Budget of the project")
    whole.fill("1.2.3")
    whole.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("is no sum")
    whole.fill("350")
    whole.press("Enter")
    expect(page.get_by_text("▼ 108 %, 30.00 too much")).to_be_visible()
    expect(page.get_by_text("Slipping").first).to_be_visible()


def test_what_is_spent_is_entered_on_the_task_and_seen_by_leads_alone(sit: Sit, costed: Costed) -> None:
    tomas, ines = sit("Tomas Brekke"), sit()
    address = f"/p/{costed.code}/outline?open={costed.rows()['Grind prisms']['id']}"
    page = tomas.go(address)
    form = page.get_by_role("form", name="Enter what was spent")
    form.get_by_label("How much").fill("1,204.50")
    form.get_by_label("Note on what was spent").fill("diamond wheels")
    form.get_by_role("button", name="Enter").click()
    spent = page.get_by_role("list", name="Used and spent")
    expect(spent).to_contain_text("diamond wheels")
    tomas.saved()
    expect(page.get_by_text("at completion")).to_have_count(0)
    expect(page.get_by_role("link", name="Costs")).to_have_count(0)
    expect(tomas.go(f"/p/{costed.code}/costs").get_by_text("What this project costs is for its leads")).to_be_visible()
    far = ines.go(address)
    expect(far.get_by_role("region", name="Cost")).to_contain_text("1,584.50 EUR at completion, 1,204.50 spent")
    far.get_by_label("How much on 17 Mar").fill("1000")
    far.get_by_label("How much on 17 Mar").press("Enter")
    expect(far.get_by_role("region", name="Cost")).to_contain_text("1,380.00 EUR at completion, 1,000.00 spent")
    ines.saved()
    far.get_by_role("button", name="Take this away").click()
    expect(far.get_by_role("region", name="Cost")).to_contain_text("380.00 EUR at completion, 0.00 spent")


def test_earned_value_is_shown_with_its_formulas(sit: Sit, costed: Costed) -> None:
    desk = sit()
    page = desk.go(f"/p/{costed.code}/costs")
    expect(page.get_by_text("No cost was agreed")).to_be_visible()
    costed.ines("POST", f"/projects/{costed.code}/agreed", {"name": "Signed", "day": "2027-03-17"})
    earned = page.get_by_role("region", name="Earned value")
    expect(earned.get_by_title(re.compile("estimate at completion: AC .* ANSI"))).to_contain_text("not given")
    expect(earned.get_by_title(re.compile("budget at completion"))).to_contain_text("380.00")
    earned.get_by_role("button", name="as a table").click()
    expect(earned.get_by_role("row", name=re.compile("380.00"))).not_to_have_count(0)
    expect(page.get_by_role("region", name="By month").get_by_role("row", name=re.compile("Mar 2027 380.00"))).to_be_visible()
    expect(page.get_by_role("region", name="By person and resource")).to_contain_text("Noor Castellan")


def test_the_ripple_tells_of_money(sit: Sit, costed: Costed) -> None:
    rates = [{"amount": "38"}, {"first": "2027-04-01", "amount": "48"}]
    costed.ines("PUT", "/rates", {"who": costed.noor, "rates": rates})
    try:
        costed.add("Lift the lens", start="2027-03-18", duration="2 d")
        lift, grind = costed.rows()["Lift the lens"], costed.rows()["Grind prisms"]
        fields = {"waits_for": str(lift["number"])}
        costed.ines(
            "PATCH", f"/projects/{costed.code}/tasks", {"tasks": [{"id": grind["id"], "revision": 10**8, "fields": fields}]}
        )
        costed.ines("PUT", f"/projects/{costed.code}/budget", {"amount": "400"})
        desk = sit()
        page = desk.go(f"/p/{costed.code}/outline?open={lift['id']}")
        length = page.locator("input[aria-label=Duration]")
        length.fill("15 d")
        length.press("Enter")
        card = page.get_by_role("dialog", name="What this change carries on")
        expect(card).to_contain_text("At completion 480.00 EUR, 100.00 more")
        expect(card).to_contain_text("▼ passes the budget by 80.00")
        card.get_by_role("button", name="Put back").click()
    finally:
        costed.ines("PUT", "/rates", {"who": costed.noor, "rates": rates[:1]})


def test_hours_become_an_invoice_sheet_that_is_frozen(sit: Sit, costed: Costed) -> None:
    entry = {"task_id": costed.rows()["Grind prisms"]["id"], "person_id": costed.noor, "day": "2027-03-16", "minutes": 120}
    costed.ines("POST", f"/projects/{costed.code}/time", {"entries": [entry]})
    desk = sit()
    desk.go(f"/p/{costed.code}/brief")
    desk.page_of_project("Invoice sheets")
    page = desk.page
    expect(page.get_by_text("2:00 can be charged and stand on no sheet yet: 132.00 EUR")).to_be_visible()
    page.get_by_label("Rate of an hour").fill("70")
    expect(page.get_by_text("140.00 EUR at that rate")).to_be_visible()
    page.get_by_label("Rate of an hour").fill("")
    page.get_by_label("Tax in a hundred").fill("19")
    page.get_by_role("button", name="Make a sheet of them").click()
    hours = page.get_by_label(re.compile("^Hours of .* Grind prisms"))
    hours.fill("1:30")
    hours.press("Enter")
    expect(page.get_by_text("2:00 were entered")).to_be_visible()
    form = page.get_by_role("form", name="Add a line")
    form.get_by_label("What is charged").fill("Ferry")
    form.get_by_label("Sum to charge").fill("12.40")
    form.get_by_role("button", name="Add a line").click()
    expect(page.get_by_role("row", name=re.compile("Payable"))).to_contain_text("132.57")
    desk.saved()
    page.get_by_role("button", name="Freeze it …").click()
    page.get_by_role("textbox", name="Number").fill(f"{costed.code}-1")
    page.get_by_role("button", name="Freeze it", exact=True).click()
    expect(page.get_by_role("heading", name=f"Invoice sheet {costed.code}-1")).to_be_visible()
    expect(page.get_by_label(re.compile("^Hours of .* Grind prisms"))).to_have_attribute("readonly", "")
    with page.expect_download() as got:
        page.get_by_role("link", name="UBL").click()
    assert got.value.suggested_filename == f"invoice {costed.code}-1.xml"
    page.get_by_role("link", name="All invoice sheets").click()
    expect(page.get_by_text("No hours of these days can be charged")).to_be_visible()


def test_cost_is_switched_on_in_the_settings_in_a_currency_of_its_own(sit: Sit, made: Made) -> None:
    desk = sit()
    page = desk.go(f"/p/{made.code}/settings/time")
    page.get_by_label("Reckon what the work costs").check()
    currency = page.get_by_label("Currency of the project")
    currency.fill("usd")
    currency.press("Enter")
    exchange = page.get_by_label("How many USD one EUR buys")
    exchange.fill("1,08")
    exchange.press("Enter")
    desk.saved()
    project = made.ines("GET", f"/projects/{made.code}")
    assert (project["costs"], project["currency"], float(project["exchange"])) == (True, "USD", 1.08)
    expect(page.get_by_role("link", name="Costs")).to_be_visible()
