"""What-if drafts, as people use them: tried, compared, shared, applied, thrown away."""

from __future__ import annotations

import re
from collections.abc import Callable

from playwright.sync_api import Page, expect

from tests.ui.conftest import AXE, Desk, Made
from tests.ui.test_schedule import DAY, bar, chain, drag, edit, schedule

__all__ = ["chain"]


def strip(page: Page):  # type: ignore[no-untyped-def]
    return page.get_by_role("region", name="Draft")


def start(desk: Desk, made: Made, name: str = "Second crew") -> Page:
    page = desk.go(f"/p/{made.code}/planning")
    page.get_by_label("Name of the new draft").fill(name)
    page.get_by_role("button", name="Start a draft").click()
    expect(strip(page)).to_contain_text("Change anything: the plan stays as it is")
    return page


def lens(page: Page, name: str) -> None:
    if name == "Planning":
        page.get_by_role("button", name=re.compile("^Project")).click()
        page.get_by_role("menuitem", name=name).click()
        return
    page.get_by_role("navigation", name="Lenses").get_by_role("link", name=name).click()


def test_several_changes_are_tried_compared_and_applied(sit: Callable[..., Desk], chain: Made) -> None:
    desk = sit()
    page = start(desk, chain)
    lens(page, "Schedule")
    desk.cell("Dig", "finish").wait_for()
    box = bar(desk, "Dig")
    drag(page, box["x"] + box["width"] - 1, box["y"] + 10, 2 * DAY)  # no card: nothing happens to the plan
    expect(strip(page)).to_contain_text("finish 26 Mar, in the plan 24 Mar (+2 d)")
    lens(page, "Outline")
    desk.cell("Cure", "duration").dblclick()
    page.keyboard.press("Control+A")
    page.keyboard.type("1 d")
    page.keyboard.press("Enter")
    expect(strip(page)).to_contain_text("2 tasks changed, 4 move; finish 25 Mar, in the plan 24 Mar (+1 d)")
    assert chain.rows()["Floor done"]["finish"][:10] == "2027-03-24"
    lens(page, "Side by side")
    sides = page.get_by_role("region", name="Side by side")
    expect(sides.get_by_role("row", name="Finish of the project")).to_contain_text("Wed 24 MarThu 25 Mar+1 d")
    expect(sides.get_by_role("row", name="◆ Floor done")).to_contain_text("+1 d")
    expect(sides).to_contain_text("4 tasks stand elsewhere")
    page.evaluate(AXE.read_text())
    found = page.evaluate("() => axe.run(document, {resultTypes: ['violations']})")
    assert [(v["id"], [n["html"][:160] for n in v["nodes"][:3]]) for v in found["violations"]] == []
    strip(page).get_by_role("button", name="Apply to the plan").click()
    page.get_by_role("dialog", name="What this change carries on").get_by_role("button", name="Apply to all 4").click()
    expect(strip(page)).not_to_be_visible()
    expect(page.get_by_text("Finish 25 Mar")).to_be_visible()
    assert chain.rows()["Floor done"]["finish"][:10] == "2027-03-25"
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_text("Finish 24 Mar")).to_be_visible()
    lens(page, "Planning")
    expect(page.get_by_role("button", name="Second crew")).to_be_visible()


def test_a_ripple_can_be_kept_as_a_draft_and_taken_back_there(sit: Callable[..., Desk], chain: Made) -> None:
    desk = sit()
    page = schedule(desk, chain)
    box = bar(desk, "Dig")
    drag(page, box["x"] + box["width"] - 1, box["y"] + 10, 2 * DAY)
    page.get_by_role("button", name="Try in a draft").click()
    expect(strip(page)).to_contain_text("1 task changed, 4 move; finish 26 Mar")
    expect(desk.cell("Dig", "finish")).to_have_text("19 Mar")
    expect(page.get_by_label("Name of the draft")).to_have_value("Stretched “Dig”")
    desk.cell("Dig", "title").click()
    page.get_by_role("button", name="Close the task").click()
    desk.cell("Dig", "bar").focus()
    page.keyboard.press("Alt+Shift+ArrowRight")
    expect(desk.cell("Dig", "finish")).to_have_text("22 Mar")
    page.get_by_role("button", name="Undo").click()
    expect(desk.cell("Dig", "finish")).to_have_text("19 Mar")
    strip(page).get_by_role("button", name="Back to the plan").click()
    expect(desk.cell("Dig", "finish")).to_have_text("17 Mar")


def test_a_colleague_opens_a_shared_draft_and_makes_a_copy(sit: Callable[..., Desk], chain: Made) -> None:
    ines = sit()
    page = start(ines, chain)
    lens(page, "Outline")
    ines.row("Dig").wait_for()
    address = page.url
    person = next(one["id"] for one in chain.ines("GET", "/people") if one["name"] == "Tomas Brekke")
    chain.ines("PUT", f"/projects/{chain.code}/members/{person}", {"role": "contributor"})
    tomas = sit("Tomas Brekke")
    his = tomas.go(address.removeprefix(tomas.url))
    expect(his.get_by_text("There is no such draft")).to_be_visible()
    strip(page).get_by_role("button", name="More").click()
    page.get_by_role("menuitem", name="Share with the project").click()
    expect(strip(page)).to_contain_text("shared")
    his.reload()
    expect(strip(his)).to_contain_text("Ines O. made this")
    expect(strip(his).get_by_role("button", name="Apply to the plan")).not_to_be_visible()
    strip(his).get_by_role("button", name="More").click()
    his.get_by_role("menuitem", name="Make a copy").click()
    expect(his.get_by_label("Name of the draft")).to_have_value("Second crew, again")


def test_what_the_plan_changed_since_is_told_and_a_draft_thrown_away_comes_back(sit: Callable[..., Desk], chain: Made) -> None:
    desk = sit()
    page = start(desk, chain)
    lens(page, "Outline")
    desk.cell("Dig", "duration").dblclick()
    page.keyboard.press("Control+A")
    page.keyboard.type("5 d")
    page.keyboard.press("Enter")
    expect(strip(page)).to_contain_text("1 task changed")
    edit(chain, "Dig", duration="2 d")
    lens(page, "Side by side")
    expect(page.get_by_role("note")).to_contain_text("duration of Dig")
    strip(page).get_by_role("button", name="More").click()
    page.get_by_role("menuitem", name="Throw it away").click()
    expect(strip(page)).not_to_be_visible()
    page.get_by_role("button", name="Take it back").click()
    expect(strip(page)).to_contain_text("1 task changed")


def test_in_a_draft_nothing_can_be_taken_hold_of_that_it_does_not_keep(sit: Callable[..., Desk], chain: Made) -> None:
    desk = sit()
    page = desk.go(f"/p/{chain.code}/outline")
    start(desk, chain)
    lens(page, "Outline")
    desk.cell("Dig", "title").click()
    page.keyboard.press("Alt+Enter")
    expect(page.get_by_label("Title")).to_have_value("Dig")
    expect(page.get_by_label("Description")).to_have_count(0)


def test_a_draft_takes_new_tasks_nests_them_anew_and_deletes(sit: Callable[..., Desk], chain: Made) -> None:
    desk = sit()
    page = desk.go(f"/p/{chain.code}/outline")
    start(desk, chain)
    lens(page, "Outline")
    line = page.get_by_label("Write a task and press Enter")
    line.fill("Second coat")
    line.press("Enter")
    expect(desk.row("Second coat")).to_be_visible()
    desk.saved()
    desk.cell("Second coat", "title").click()
    page.keyboard.press("Alt+ArrowRight")
    expect(desk.row("Second coat")).to_have_attribute("aria-level", "2")
    desk.cell("Second coat", "duration").dblclick()
    page.keyboard.type("2 d")
    page.keyboard.press("Enter")
    desk.saved()
    desk.cell("Second coat", "title").click()
    page.keyboard.press("Alt+Enter")
    expect(page.get_by_label("Title")).to_have_value("Second coat")
    page.get_by_role("button", name="Close the task").click()
    desk.cell("Floor done", "title").click()
    page.keyboard.press("Delete")
    expect(desk.row("Floor done")).to_have_count(0)
    desk.saved()
    assert "Floor done" in chain.rows()
    assert "Second coat" not in chain.rows()
    lens(page, "Side by side")
    expect(page.get_by_role("region", name="Side by side")).to_contain_text("Second coat")
    strip(page).get_by_role("button", name="Apply to the plan").click()
    expect(strip(page)).not_to_be_visible()
    assert "Second coat" in chain.rows()
    assert "Floor done" not in chain.rows()
