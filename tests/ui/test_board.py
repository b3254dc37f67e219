"""The board as its users shape and use it, with pointer and keyboard."""

from __future__ import annotations

import re
from collections.abc import Callable

from playwright.sync_api import Locator, Page, expect

from tests.ui.conftest import Desk, Made


def slip(page: Page, title: str) -> Locator:
    """A slip by its title."""
    return page.locator("[data-slip]").filter(has_text=re.compile(f"^{title}"))


def cell(page: Page, name: str) -> Locator:
    """The slips of a cell."""
    return page.get_by_role("list", name=name, exact=True)


def add_by_name(page: Page, button: str, field: str, *names: str) -> None:
    """Add things by their names from a small form, and close it."""
    page.get_by_role("button", name=button, exact=True).click()
    for name in names:
        page.get_by_label(field).fill(name)
        page.keyboard.press("Enter")
        expect(page.get_by_label(field)).to_have_value("")
    page.keyboard.press("Escape")


def test_the_board_is_shaped_on_the_board_and_taken_back(sit: Callable[..., Desk], made: Made) -> None:
    made.add("A", "B")
    desk = sit()
    page = desk.go(f"/p/{made.code}/board")
    page.get_by_role("button", name="+ arrange the board").click()
    add_by_name(page, "Column", "Name of a new column", "Packed")
    expect(page.get_by_role("heading", name="Packed")).to_be_visible()
    page.get_by_role("button", name="Change the column Under way").click()
    page.get_by_role("button", name="Split into steps").click()
    page.get_by_label("What stands here is").fill("Building")
    page.get_by_label("and goes on to").fill("Picked")
    page.get_by_role("button", name="Split", exact=True).click()
    expect(page.get_by_role("heading", name="Picked")).to_be_visible()
    page.keyboard.press("Escape")
    slip(page, "A").focus()
    page.keyboard.press("Alt+ArrowRight")
    expect(cell(page, "Under way: Building").get_by_text("A")).to_be_visible()
    page.keyboard.press("Alt+ArrowRight")
    expect(cell(page, "Under way: Picked").get_by_text("A")).to_be_visible()
    desk.saved()
    page.get_by_role("button", name="Change the column Under way: Picked").click()
    page.get_by_role("button", name="Join to Building").click()
    expect(cell(page, "Under way").get_by_text("A")).to_be_visible()
    page.keyboard.press("Escape")
    desk.saved()
    page.get_by_role("button", name="Undo").click()
    expect(cell(page, "Under way: Picked").get_by_text("A")).to_be_visible()


def test_lanes_take_slips_by_rule_and_by_hand(sit: Callable[..., Desk], made: Made) -> None:
    made.add("A", "B", priority="must")
    made.add("C")
    desk = sit()
    page = desk.go(f"/p/{made.code}/board?arranging=yes")
    add_by_name(page, "Lane", "Name of a new lane", "Urgent", "Waiting")
    page.get_by_role("button", name="Change the lane Urgent").click()
    page.get_by_role("button", name="rule").click()
    page.get_by_label("Find a field").fill("priority")
    page.keyboard.press("Enter")
    page.get_by_role("checkbox", name="must").check()
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    expect(cell(page, "Ready, Urgent").locator("[data-slip]")).to_have_count(2)
    expect(cell(page, "Ready, Everything else").get_by_text("C")).to_be_visible()
    slip(page, "C").focus()
    page.keyboard.press("Alt+ArrowUp")  # into the lane above
    expect(cell(page, "Ready, Waiting").get_by_text("C")).to_be_visible()
    slip(page, "C").drag_to(page.get_by_role("list", name="Under way, Urgent"))
    expect(cell(page, "Under way, Urgent").get_by_text("C")).to_be_visible()
    desk.saved()
    page.reload()
    expect(cell(page, "Under way, Urgent").get_by_text("C")).to_be_visible()
    expect(page.get_by_role("heading", name="Waiting")).to_be_visible()  # empty, folded to a line


def test_work_is_pulled_from_the_backlog(sit: Callable[..., Desk], made: Made) -> None:
    made.add("A")
    desk = sit()
    page = desk.go(f"/p/{made.code}/board?arranging=yes")
    add_by_name(page, "Period of the backlog", "Name of a new period", "This quarter", "Later")
    page.get_by_role("button", name="Add to Backlog, Later").click()
    page.get_by_label("New task in Backlog, Later").fill("Someday")
    page.keyboard.press("Enter")
    expect(cell(page, "Backlog, Later").get_by_text("Someday")).to_be_visible()
    page.keyboard.press("Escape")
    slip(page, "A").focus()
    page.keyboard.press("Alt+ArrowLeft")
    expect(cell(page, "Backlog, This quarter").get_by_text("A")).to_be_visible()
    page.keyboard.press("Alt+ArrowDown")
    expect(cell(page, "Backlog, Later").get_by_text("A", exact=True)).to_be_visible()
    slip(page, "Someday").drag_to(page.get_by_role("list", name="Under way"))
    expect(cell(page, "Under way").get_by_text("Someday")).to_be_visible()
    desk.saved()
    assert made.rows()["Someday"]["period_id"] is None


def test_beyond_a_limit_a_reason_is_asked_for_and_kept(sit: Callable[..., Desk], made: Made) -> None:
    made.add("A", "B")
    desk = sit()
    page = desk.go(f"/p/{made.code}/board?arranging=yes")
    page.get_by_label("Where a limit is passed").select_option("ask")
    page.get_by_role("button", name="Change the column Under way").click()
    page.get_by_label("Limit of the column").fill("1")
    page.keyboard.press("Enter")
    expect(page.get_by_role("img", name="0 of 1")).to_be_visible()
    page.keyboard.press("Escape")
    slip(page, "A").focus()
    page.keyboard.press("Alt+ArrowRight")
    desk.saved()
    slip(page, "B").focus()
    page.keyboard.press("Alt+ArrowRight")
    dialog = page.get_by_role("dialog", name="That passes a limit")
    expect(dialog.get_by_text("would hold 2 of 1")).to_be_visible()
    dialog.get_by_role("button", name="Put it back").click()
    expect(cell(page, "Ready").get_by_text("B")).to_be_visible()
    slip(page, "B").focus()
    page.keyboard.press("Alt+ArrowRight")
    dialog.get_by_label("Why it is passed").fill("The boat sails on Friday")
    dialog.get_by_role("button", name="Pass the limit").click()
    expect(cell(page, "Under way").get_by_text("B")).to_be_visible()
    expect(page.get_by_role("img", name="2 of 1, over the limit")).to_be_visible()
    desk.saved()
    page.get_by_role("button", name="Change the column Under way").click()
    expect(page.get_by_text("The boat sails on Friday")).to_be_visible()


def test_slips_have_sizes_fields_and_columns_fold(sit: Callable[..., Desk], made: Made) -> None:
    made.add("A", effort="6 h")
    made.add(
        "B",
        state_id=next(one["id"] for one in made.ines("GET", f"/projects/{made.code}")["states"] if one["name"] == "In review"),
    )
    desk = sit()
    page = desk.go(f"/p/{made.code}/board")
    page.get_by_role("button", name="usual slips").click()
    page.get_by_label("slips with fields").check()
    page.get_by_label("Find a field").fill("effort")
    page.keyboard.press("Enter")
    expect(slip(page, "A").get_by_text("6 h")).to_be_visible()
    page.get_by_label("Size of the board").fill("70")
    page.keyboard.press("Escape")
    assert "zoom=70" in page.url
    before = slip(page, "A").bounding_box()
    page.get_by_role("button", name="Fold In review").click()
    expect(page.get_by_role("button", name="Unfold In review")).to_be_visible()
    after = slip(page, "A").bounding_box()
    assert before
    assert after
    assert after["width"] > before["width"]  # the others share its room
    expect(slip(page, "B")).to_be_hidden()
    slip(page, "A").focus()
    page.keyboard.press("ArrowRight")  # over the folded column, to nothing
    expect(slip(page, "A")).to_be_focused()
    page.wait_for_url(re.compile("folded="))
    page.reload()
    expect(page.get_by_role("button", name="Unfold In review")).to_be_visible()


def test_the_board_goes_on_paper_with_the_rows_that_it_has(sit: Callable[..., Desk], made: Made) -> None:
    made.add("A")
    page = sit().go(f"/p/{made.code}/board?rows=owner&text=A")
    link = page.get_by_role("link", name="PDF")
    address = link.get_attribute("href") or ""
    assert "rows=owner" in address
    assert "text=A" in address
    with page.expect_download() as waiting:
        link.click()
    assert waiting.value.suggested_filename == f"{made.code} board.pdf"
    assert waiting.value.path().read_bytes().startswith(b"%PDF")


def test_two_streams_stand_one_under_the_other_and_blanks_are_offered(sit: Callable[..., Desk]) -> None:
    desk = sit()
    page = desk.go("/p/KIO/board")
    expect(page.get_by_role("heading", name="Features")).to_be_visible()
    expect(page.get_by_text("what is of the kind defect goes this way")).to_be_visible()
    page.get_by_role("button", name="Add to Reported").click()
    page.get_by_label("New task in Reported").fill("Screen stays dark")
    page.get_by_role("button", name="From a blank").click()
    page.get_by_role("menuitem", name="Fault on a machine").click()
    expect(cell(page, "Reported").get_by_text("Screen stays dark")).to_be_visible()
    expect(slip(page, "Screen stays dark").get_by_text("0/3")).to_be_visible()
    page.get_by_role("button", name="Fold the backlog of Features").click()
    expect(page.get_by_role("group", name="Backlog of Features")).to_have_count(0)
    page.get_by_role("button", name="Unfold the backlog of Features").click()
    expect(page.get_by_role("group", name="Backlog of Features")).to_be_visible()
    page.get_by_role("button", name="Fold the workflow Features").click()
    expect(page.get_by_role("heading", name="In review")).to_have_count(0)
    expect(cell(page, "Reported").get_by_text("Screen stays dark")).to_be_visible()
    desk.saved()
    page.get_by_role("button", name="Undo").click()
    expect(slip(page, "Screen stays dark")).to_have_count(0)
