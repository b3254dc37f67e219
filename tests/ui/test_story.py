"""The story: from nothing to a plan that two people work from."""

from __future__ import annotations

from collections.abc import Callable

from playwright.sync_api import Page, expect

from tests.ui.conftest import Desk

TASKS = [
    "Boat house", "Clear the slip", "Cut new doors", "Hang the doors", "Paint", "Jetty", "Survey the piles", "Order piles",
    "Drive piles", "Lay planks", "Rail", "Boats", "Caulk the skiff", "Varnish oars", "Check life vests", "Opening",
    "Invite neighbours", "Bake", "Speech", "Boats in the water",
]  # fmt: skip


def type_into(desk: Desk, title: str, column: str, text: str) -> None:
    """Double-click a cell, type, Enter."""
    desk.cell(title, column).dblclick()
    desk.page.keyboard.press("Control+a")
    desk.page.keyboard.type(text)
    desk.page.keyboard.press("Enter")


def drag(page: Page, source: object, target: object) -> None:
    """Drag with the pointer, in small steps as a hand does."""
    a, b = source.bounding_box(), target.bounding_box()  # type: ignore[attr-defined]
    page.mouse.move(a["x"] + a["width"] / 2, a["y"] + a["height"] / 2)
    page.mouse.down()
    page.mouse.move(a["x"] + a["width"] / 2 + 12, a["y"] + a["height"] / 2 + 6, steps=4)
    page.mouse.move(b["x"] + b["width"] / 2, b["y"] + min(60, b["height"] / 2), steps=12)
    page.mouse.up()


def test_from_nothing_to_a_plan_that_a_team_works_from(sit: Callable[..., Desk]) -> None:
    ines = sit("Ines Oduya")
    page = ines.go("/work")
    page.get_by_role("button", name="New project").click()
    page.get_by_label("Name").fill("Boat House by the Mill")
    expect(page.get_by_label("Code")).not_to_have_value("")
    page.get_by_label("Code").fill("BOA")
    page.get_by_role("button", name="Start the project").click()
    expect(page.get_by_role("heading", name="Boat House by the Mill")).to_be_visible()

    # twenty tasks, one after the other
    line = page.get_by_label("Write a task and press Enter")
    line.click()
    for title in TASKS:
        page.keyboard.type(title)
        page.keyboard.press("Enter")
    expect(page.get_by_role("status").filter(has_text="All saved")).to_be_visible()
    expect(page.get_by_role("search")).to_contain_text("20 tasks")

    # nested under deliverables with the keyboard
    for first, count in (("Clear the slip", 4), ("Survey the piles", 5), ("Caulk the skiff", 3), ("Invite neighbours", 3)):
        ines.cell(first, "title").click()
        for _ in range(count - 1):
            page.keyboard.press("Shift+ArrowDown")
        page.keyboard.press("Alt+ArrowRight")
        expect(ines.row(first)).to_have_attribute("aria-level", "2")
        page.keyboard.press("Escape")
    assert [title.split()[0] for title in ines.titles()] == [
        "1", "1.1", "1.2", "1.3", "1.4", "2", "2.1", "2.2", "2.3", "2.4", "2.5", "3", "3.1", "3.2", "3.3", "4", "4.1", "4.2", "4.3", "5",
    ]  # fmt: skip

    # owner, start, duration and state
    ines.cell("Clear the slip", "owner").get_by_role("button").click()
    page.get_by_label("Find a person").fill("Tomas")
    page.keyboard.press("Enter")
    expect(ines.cell("Clear the slip", "owner").get_by_role("img", name="Tomas Brekke")).to_be_visible()
    type_into(ines, "Clear the slip", "start", "15 Mar")
    type_into(ines, "Clear the slip", "duration", "3 days")
    expect(ines.cell("Clear the slip", "finish")).to_have_text("17 Mar")
    type_into(ines, "Cut new doors", "start", "8 Mar")
    type_into(ines, "Cut new doors", "duration", "2 d")
    expect(ines.cell("Boat house", "start")).to_have_text("8 Mar")
    ines.cell("Clear the slip", "state").get_by_role("button").click()
    page.get_by_role("menuitem", name="Under way").click()
    expect(ines.cell("Clear the slip", "state")).to_have_text("Under way")

    # a colleague in another browser
    tomas = sit("Tomas Brekke")
    theirs = tomas.go("/p/BOA/outline")
    expect(tomas.cell("Clear the slip", "state")).to_have_text("Under way")
    type_into(ines, "Hang the doors", "title", "Hang both doors")
    expect(tomas.row("Hang both doors")).to_be_visible(timeout=2000)

    # the board, seen live
    theirs.get_by_role("link", name="Board").click()
    page.get_by_role("link", name="Board").click()
    slip = page.locator("[data-slip]").filter(has_text="Clear the slip")
    drag(page, slip, page.get_by_role("list", name="In review"))
    column = theirs.get_by_role("list", name="In review")
    expect(column.get_by_text("Clear the slip")).to_be_visible(timeout=3000)

    # bars in time
    page.get_by_role("link", name="Schedule").click()
    expect(page.locator("[data-bar]").filter(visible=True).first).to_be_visible()

    # and what the brief says is late and unowned
    page.get_by_role("link", name="Brief").click()
    expect(page.get_by_role("region", name="Brief")).to_contain_text("Cut new doors")
    expect(page.get_by_role("region", name="Brief")).to_contain_text("is late")
    expect(page.get_by_role("region", name="Brief")).to_contain_text("15 tasks have no owner")

    # next day everything is still there
    again = sit("Ines Oduya")
    again.go("/p/BOA/outline")
    expect(again.row("Hang both doors")).to_be_visible()
    assert len(again.titles()) == 20
