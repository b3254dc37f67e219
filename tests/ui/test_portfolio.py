"""Portfolios and tied work in the browser."""

from __future__ import annotations

import re
import uuid
from collections.abc import Callable

from playwright.sync_api import expect

from tests.ui.conftest import Desk, Made, add_field


def test_a_portfolio_is_started_joined_and_read_down_to_what_blocks(sit: Callable[..., Desk], made: Made) -> None:
    desk = sit()
    page = desk.go("/work")
    page.get_by_role("button", name="New portfolio").click()
    page.get_by_label("Name", exact=True).fill(f"Coast of {made.code}")
    page.get_by_label("Code").fill(f"P{made.code}")
    page.get_by_role("button", name="Start the portfolio").click()
    expect(page.get_by_role("heading", name="See many projects at once")).to_be_visible()
    page.get_by_role("button", name="Join a project").first.click()
    page.get_by_label("Find a project").fill("Lantern")
    page.keyboard.press("Enter")
    expect(page.get_by_role("link", name=re.compile("LAN ?Lantern Room Restoration"))).to_be_visible()
    page.get_by_role("button", name="Change what is shown of LAN").click()
    page.get_by_label("Shown of it").select_option("level:1")
    page.keyboard.press("Escape")
    glazing = page.get_by_role("listitem").filter(has_text="Glazing")
    expect(glazing.get_by_text("hinges on")).to_be_visible()
    glazing.get_by_text("hinges on").click()
    expect(page.get_by_role("complementary").get_by_text("foundry sand").first).to_be_visible()
    expect(page).to_have_url(re.compile("in=LAN"))
    page.keyboard.press("Escape")
    # a larger item of its own, moved by key and tied
    page.get_by_role("button", name="Add a larger item to Ready").click()
    page.get_by_label("New larger item in Ready").fill("Light again")
    page.keyboard.press("Enter")
    page.keyboard.press("Escape")
    own = page.get_by_role("list", name="Ready, of the portfolio").get_by_role("listitem").filter(has_text="Light again")
    own.get_by_role("button", name="+ tie: Light again").click()
    page.get_by_label("Find an item").fill("Glazing")
    page.keyboard.press("Enter")
    page.keyboard.press("Escape")
    moved = page.get_by_role("listitem").filter(has_text="Light again")
    expect(moved.get_by_role("button", name="tied to 1: Light again")).to_be_visible()
    expect(
        page.get_by_role("list", name="Under way, of the portfolio").get_by_text("Light again")
    ).to_be_visible()  # by its progress
    moved.locator("[data-slip]").focus()
    page.keyboard.press("Alt+ArrowRight")
    expect(page.get_by_role("list", name="In review, of the portfolio").get_by_text("Light again")).to_be_visible()
    desk.saved()
    page.get_by_role("button", name="list", exact=True).click()
    expect(page.get_by_role("row").filter(has_text="Glazing")).to_be_visible()
    page.get_by_label(re.compile("only what is late")).check()
    expect(page.get_by_role("row").filter(has_text="Light again")).to_have_count(0)
    page.get_by_role("button", name="schedule", exact=True).click()
    expect(page.get_by_role("img", name=re.compile("^Bars of"))).to_be_visible()


def test_own_items_stand_in_lanes_and_the_list_is_sorted(sit: Callable[..., Desk], made: Made) -> None:
    code, lane = f"Q{made.code}", str(uuid.uuid4())
    made.ines("POST", "/portfolios", {"code": code, "name": f"Lanes of {made.code}", "start_day": "2027-03-08"})
    made.ines("POST", f"/projects/{code}/defined/lanes", {"id": lane, "name": "First of all", "settings": {"limit": 1}})
    made.ines("POST", f"/projects/{code}/parts", {"code": "LAN", "shows": "level:1"})
    desk = sit()
    page = desk.go(f"/p/{code}/portfolio")
    page.get_by_role("button", name="Add a larger item to Ready").click()
    page.get_by_label("New larger item in Ready").fill("Light again")
    page.keyboard.press("Enter")
    page.keyboard.press("Escape")
    item = page.get_by_role("list", name="Ready, of the portfolio").get_by_text("Light again")
    expect(item).to_be_visible()
    item.drag_to(page.get_by_role("list", name="Under way, First of all"))
    expect(page.get_by_role("list", name="Under way, First of all").get_by_text("Light again")).to_be_visible()
    expect(page.get_by_text("1 of 1", exact=True)).to_be_visible()
    desk.saved()
    page.get_by_role("button", name="list", exact=True).click()
    done = page.get_by_role("columnheader", name="Done").get_by_role("button")
    done.click()
    done.click()
    expect(page.get_by_role("columnheader", name="Done")).to_have_attribute("aria-sort", "descending")
    percents = [int(one.split()[0]) for one in page.get_by_role("cell", name=re.compile(r"^\d+ %$")).all_text_contents()]
    assert percents == sorted(percents, reverse=True)
    assert percents[0] > 0
    with page.expect_download() as download:
        page.get_by_role("link", name="PDF").click()
    assert download.value.suggested_filename == f"{code} portfolio.pdf"


def test_a_mark_is_raised_that_the_team_sees(sit: Callable[..., Desk], made: Made) -> None:
    desk = sit()
    page = desk.go("/p/COAST/portfolio")
    page.get_by_role("button", name="Marks of Stair and tower: none").click()
    page.get_by_role("checkbox", name="photograph first").check()
    page.keyboard.press("Escape")
    expect(page.get_by_role("button", name="Marks of Stair and tower: photograph first")).to_be_visible()
    desk.saved()
    marks = {one["id"]: one["name"] for one in made.ines("GET", "/projects/LAN")["marks"]}
    row = next(one for one in made.ines("GET", "/projects/LAN/tasks")["rows"] if one["title"] == "Stair and tower")
    assert [marks[one] for one in row["marks"]] == ["photograph first"]


def test_who_may_not_see_a_part_sees_how_many_more_there_are(sit: Callable[..., Desk]) -> None:
    page = sit("Tomas Brekke").go("/p/COAST/portfolio")
    expect(page.get_by_text(re.compile(r"and 1 part with \d+ items that you may not see"))).to_be_visible()
    expect(page.get_by_text("Opening Weekend")).to_have_count(0)
    expect(page.get_by_role("button", name="Join a project")).to_have_count(0)


def test_a_carried_field_is_changed_on_this_side_and_on_the_other(sit: Callable[..., Desk], made: Made) -> None:
    other = Made.__new__(Made)
    other.ines, other.code = made.ines, f"O{made.code}"
    made.ines("POST", "/projects", {"code": other.code, "name": f"Other {made.code}", "start_day": "2027-03-08"})
    made.add("Roof")
    other.add("Slates", start="2027-03-22", duration="2 d")
    desk = sit()
    page = desk.go(f"/p/{made.code}/settings/fields")
    page.get_by_role("button", name="Add a field").click()
    page.get_by_label("Name", exact=True).fill("Made of")
    page.get_by_label("Type").select_option("tied")
    for name in ("finish", "owner"):
        page.get_by_role("checkbox", name=name, exact=True).check()
    page.get_by_role("dialog").get_by_role("button", name="Add the field").click()
    desk.saved()
    page = desk.go(f"/p/{made.code}/outline")
    page.get_by_role("row").filter(has_text="Roof").get_by_role("gridcell").first.click()
    page.keyboard.press("Alt+Enter")
    add_field(page, "Made of")
    page.get_by_role("button", name="+ task of another project").click()
    page.get_by_label("Find a task").fill(f"{other.code} 1")
    page.get_by_role("option", name=re.compile("Slates")).click()
    finish = page.get_by_label(f"Finish of {other.code} 1")
    expect(finish).to_have_value("23 Mar")
    finish.fill("24 mar")
    page.keyboard.press("Enter")
    expect(finish).to_have_value("24 Mar")
    desk.saved()
    assert other.rows()["Slates"]["finish"].startswith("2027-03-24")
    made.ines(
        "PATCH",
        f"/projects/{other.code}/tasks",
        {"tasks": [{"id": other.rows()["Slates"]["id"], "revision": 999, "fields": {"finish": "2027-03-26"}}]},
    )
    expect(finish).to_have_value("26 Mar")  # the other side is live here too
