"""Fields of a project's own, and views of its work by them, in a real browser."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.ui.conftest import Made, add_field


def define(made: Made, sort: str, name: str, **settings: Any) -> None:
    made.ines("POST", f"/projects/{made.code}/defined/{sort}", {"name": name, "settings": settings})


def shown(page: Page) -> list[str]:
    """The titles in the outline and the heads of its groups, from the top."""
    lines = page.locator("[role=treegrid] [role=row] [data-cell=title] span[title], [role=treegrid] [role=rowheader]")
    return [re.sub(r"^[\d.]+\s*", "", line.strip()) for line in lines.all_inner_texts()]


def test_a_field_is_defined_and_filled(sit: Callable[..., Any], made: Made) -> None:
    made.add("Cast bars")
    page = sit().go(f"/p/{made.code}/settings/fields")
    page.get_by_role("button", name="Add a field").click()
    page.get_by_role("dialog").get_by_label("Name", exact=True).fill("Weight")
    page.get_by_label("Type").select_option("number")
    page.get_by_label("Unit").fill("kg")
    page.get_by_role("button", name="Add the field").click()
    expect(page.get_by_role("button", name="Weight number, in kg")).to_be_visible()
    page.goto(page.url.replace("/settings/fields", f"/outline?open={made.rows()['Cast bars']['id']}"))
    add_field(page, "Weight")
    page.get_by_label("Weight", exact=True).fill("heavy")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("“heavy” is no number")
    page.get_by_label("Weight", exact=True).fill("12")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Weight", exact=True)).to_have_value("12 kg")


def test_marks_are_put_on_and_shown(sit: Callable[..., Any], made: Made) -> None:
    made.add("Cast bars")
    define(made, "marks", "ask the harbour")
    page = sit().go(f"/p/{made.code}/outline?open={made.rows()['Cast bars']['id']}")
    add_field(page, "Marks")
    page.get_by_role("button", name="Marks: none").click()
    page.get_by_label("ask the harbour").check()
    expect(page.locator("[role=row][data-row]").get_by_text("ask the harbour")).to_have_count(1)


def test_columns_are_chosen_summed_and_edited(sit: Callable[..., Any], made: Made) -> None:
    define(made, "fields", "Weight", type="number", unit="kg")
    made.add("Cast bars", "Fit bars")
    page = sit().go(f"/p/{made.code}/outline")
    page.get_by_role("button", name="Columns").click()
    page.get_by_role("button", name="+ column").click()
    page.get_by_label("Find a field").fill("weight")
    page.keyboard.press("Enter")
    page.get_by_label("At the foot of Weight").select_option("sum")
    page.keyboard.press("Escape")
    for title, weight in (("Cast bars", "12"), ("Fit bars", "30")):
        cell = page.locator(f'[role=row]:has(span[title="{title}"]) [data-cell^="own."]')
        cell.click()
        page.keyboard.type(weight)
        page.keyboard.press("Enter")
        expect(cell).to_have_text(f"{weight} kg")
    expect(page.get_by_label("Sums")).to_contain_text("42 kg")
    edge = page.get_by_role("separator", name="Width of Weight")
    before = int(edge.get_attribute("aria-valuenow") or 0)
    edge.focus()
    page.keyboard.press("ArrowRight")
    expect(edge).to_have_attribute("aria-valuenow", str(before + 8))


def test_work_is_grouped_sorted_and_narrowed_in_words(sit: Callable[..., Any], made: Made) -> None:
    made.add("Cast bars", priority="must", duration="3 d")
    made.add("Fit bars", priority="could", duration="1 d")
    made.add("Paint", duration="2 d")
    page = sit().go(f"/p/{made.code}/outline")
    page.get_by_role("button", name="+ arrange").click()
    page.get_by_label("Find a field").first.fill("priority")
    page.keyboard.press("Enter")
    page.keyboard.press("Escape")
    expect(page.get_by_role("rowheader")).to_have_count(3)
    assert shown(page) == ["must1 task", "Cast bars", "could1 task", "Fit bars", "no priority1 task", "Paint"]
    page.get_by_role("button", name="+ narrow").click()
    page.get_by_label("Find a field").fill("duration")
    page.keyboard.press("Enter")
    page.get_by_label("Value for Duration").fill("2")
    page.keyboard.press("Escape")
    expect(page.get_by_role("search")).to_contain_text("where duration is at least 2 d")
    expect(page.get_by_role("search")).to_contain_text("2 of 3 tasks")
    page.get_by_role("button", name="duration is at least 2 d").click()
    page.get_by_role("button", name="or …").click()
    page.get_by_label("Find a field").fill("title")
    page.keyboard.press("Enter")
    page.get_by_label("Value for Title").fill("fit")
    page.keyboard.press("Escape")
    expect(page.get_by_role("search")).to_contain_text("(duration is at least 2 d or title contains fit)")
    expect(page.get_by_role("search")).to_contain_text("3 tasks")


def test_a_tint_that_cannot_show_is_pointed_out_and_mended(sit: Callable[..., Any], made: Made) -> None:
    made.add("Cast bars", start="2027-03-08", duration="1 d")
    made.add("Cast more")
    page = sit().go(f"/p/{made.code}/outline")
    page.get_by_role("button", name="tints", exact=True).click()
    for field, value in (("title", "cast"), ("late", None)):
        page.get_by_role("button", name="Tint by").click()
        page.get_by_label("Find a field").fill(field)
        page.keyboard.press("Enter")
        if value:
            page.get_by_role("button", name="Title …").click()
            page.get_by_label("Value for Title").fill(value)
            page.keyboard.press("Escape")
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("It cannot show: Title takes 1 of its 1 task.")
    dialog.get_by_role("button", name="Move it before Title").click()
    expect(dialog).not_to_contain_text("cannot show")
    page.get_by_role("button", name="Close").click()
    expect(page.locator('[role=row][title="Tint: Days late"]')).to_have_count(1)
    page.get_by_role("link", name="Board").click()
    expect(page.locator('[title="Tint: Days late"]')).to_have_count(1)


def test_a_sheet_is_kept_changed_put_back_and_seen_by_others(sit: Callable[..., Any], made: Made) -> None:
    made.add("Cast bars", "Fit bars")
    page = sit().go(f"/p/{made.code}/outline?where=%7B%22all%22%3A%5B%5B%22title%22%2C%22contains%22%2C%22cast%22%5D%5D%7D")
    page.get_by_role("button", name="+ Keep this sheet").click()
    page.get_by_role("textbox", name="Name").fill("Castings")
    page.get_by_label("everybody in the project").check()
    page.get_by_role("button", name="Keep", exact=True).click()
    sheets = page.get_by_role("navigation", name="Sheets")
    expect(sheets.get_by_role("link", name="Castings")).to_have_attribute("aria-current", "page")
    page.get_by_role("button", name="show all").click()
    expect(page.get_by_text("changed since kept:")).to_be_visible()
    page.get_by_role("button", name="put back").click()
    expect(page.get_by_role("search")).to_contain_text("1 of 2 tasks")
    expect(page.get_by_text("changed since kept:")).to_have_count(0)
    theirs = sit("Tomas Brekke").go(f"/p/{made.code}/brief")
    theirs.get_by_role("link", name="Castings").click()
    expect(theirs.get_by_role("search")).to_contain_text("where title contains cast")


def test_the_board_has_rows_by_a_field_of_its_own(sit: Callable[..., Any], made: Made) -> None:
    define(made, "fields", "Metal", type="choice", options=[{"id": "g", "name": "Gunmetal"}, {"id": "c", "name": "Copper"}])
    metal = "own." + made.ines("GET", f"/projects/{made.code}")["fields"][0]["id"]
    made.add("Cast bars", **{metal: "g"})
    made.add("Bend flashing", **{metal: "c"})
    page = sit().go(f"/p/{made.code}/board")
    page.get_by_role("button", name="one row").click()
    page.get_by_label("rows by metal").check()
    page.keyboard.press("Escape")
    expect(page.get_by_role("list", name="Ready, Copper")).to_contain_text("Bend flashing")
    expect(page.get_by_role("list", name="Ready, Gunmetal")).to_contain_text("Cast bars")


def test_the_default_sheet_opens_first(sit: Callable[..., Any], made: Made) -> None:
    made.add("Cast bars")
    sheet = {"name": "Everything", "seen_by": "project", "view": {"lens": "board", "query": ""}}
    made.ines("POST", f"/projects/{made.code}/sheets", sheet)
    page = sit().go(f"/p/{made.code}")
    expect(page).to_have_url(re.compile("/brief"))
    page.get_by_role("link", name="Everything").click()
    page.get_by_role("button", name="More for the sheet Everything").click()
    page.get_by_role("menuitem", name="Open it first for everybody").click()
    expect(page.get_by_text("opens first")).to_be_visible()
    page.goto(page.url.split("/p/")[0] + f"/p/{made.code}")
    expect(page).to_have_url(re.compile("/board"))


@pytest.mark.parametrize("width", [1280, 390])
def test_twenty_sheets_have_their_place_in_the_bar(sit: Callable[..., Any], made: Made, width: int) -> None:
    for number in range(20):
        sheet = {"name": f"Look-ahead {number}", "seen_by": "private", "view": {"lens": "outline", "query": ""}}
        made.ines("POST", f"/projects/{made.code}/sheets", sheet)
    page = sit(width=width, height=800).go(f"/p/{made.code}/outline")
    bar = page.locator("footer")
    if width == 390:
        bar.get_by_role("button", name="Outline").click()
    else:
        expect(bar.get_by_role("link", name="Look-ahead 0", exact=True)).to_be_visible()
        expect(bar.get_by_role("button", name="Project")).to_be_visible()
        expect(bar.get_by_role("button", name="+ Keep this sheet")).to_be_in_viewport(ratio=1)
        bar.get_by_role("button", name=re.compile(r"\d+ more sheets")).click()
    page.get_by_role("menuitem", name="Look-ahead 19").click()
    expect(bar.get_by_role("button", name="Look-ahead 19")).to_be_visible()
    assert page.evaluate("document.documentElement.scrollWidth") <= width


def test_a_lead_chooses_which_lenses_stand_in_the_bar(sit: Callable[..., Any], made: Made) -> None:
    desk = sit()
    page = desk.go(f"/p/{made.code}/outline")
    lenses = page.get_by_role("navigation", name="Lenses")
    page.get_by_role("button", name="More lenses").click()
    page.get_by_role("checkbox", name="Board").uncheck()
    expect(lenses.get_by_role("link", name="Board")).to_have_count(0)
    page.get_by_role("dialog", name="Lenses").get_by_role("link", name="Board").click()
    expect(lenses.get_by_role("link", name="Board")).to_have_attribute("aria-current", "page")  # as long as it is open
    page.get_by_role("navigation", name="Lenses").get_by_role("link", name="Outline").click()
    page.get_by_role("button", name="Undo").click()
    expect(lenses.get_by_role("link", name="Board")).to_be_visible()
