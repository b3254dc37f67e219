"""Dashboards in the real interface: built by sentence, arranged by pointer and keys, read by others, live; work handed over."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.running import Running

from .conftest import AXE, Desk, Made

Sit = Callable[..., Desk]


@pytest.fixture
def work(running: Running) -> Made:
    """A project with work of two people; one task follows another."""
    made = Made(running)
    people = {one["name"]: one["id"] for one in made.ines("GET", "/people")}
    for name in ("Tomas Brekke", "Callum Reyes"):
        made.ines("PUT", f"/projects/{made.code}/members/{people[name]}", {"role": "contributor"})
    made.add("Cast bars", start="2027-03-15", duration="3 d", effort="10 h", owner_id=people["Tomas Brekke"])
    made.add("Set panes", start="2027-03-22", duration="3 d", effort="6 h", owner_id=people["Callum Reyes"])
    made.add("Seal panes", start="2027-03-29", duration="2 d")
    return made


def keep(made: Made, *panels: dict[str, Any], **more: Any) -> str:
    body = {"name": f"Round of {made.code}", "code": made.code, "panels": list(panels), **more}
    return f"/reports/dashboard/{made.ines('POST', '/dashboards', body)['id']}"


def panel_of(page: Page, name: str) -> Any:
    return page.get_by_role("region", name=name, exact=True)


def test_a_dashboard_is_built_by_sentence_and_every_bar_opens_its_tasks(sit: Sit, work: Made) -> None:
    desk = sit()
    page = desk.go("/reports")
    page.get_by_role("button", name="+ A dashboard").click()
    form = page.get_by_role("dialog", name="A dashboard")
    form.get_by_role("textbox", name="Name").fill("Round of the glaziers")
    form.get_by_label("Whose work it shows").select_option(work.code)
    form.get_by_role("button", name="Keep it").click()
    expect(page.get_by_role("heading", name="Round of the glaziers")).to_be_visible()
    page.get_by_role("button", name=re.compile("^Chart")).click()
    form = page.get_by_role("dialog", name="Add: Chart")
    now = form.get_by_role("region", name="As it stands now")
    expect(now).to_contain_text("Callum Reyes")
    # Show bars of the sum of effort by owner
    form.get_by_role("button", name="the number").click()
    page.get_by_label("the sum").check()
    page.keyboard.press("Escape")
    form.get_by_role("button", name="a number …").click()
    page.get_by_role("combobox", name="Find a field").fill("Effort")
    page.keyboard.press("Enter")
    expect(now).to_contain_text("10 h")
    form.get_by_label("Title").fill("Hours by person")
    form.get_by_role("button", name="Put it on the dashboard").click()
    desk.saved()
    panel = panel_of(page, "Hours by person")
    expect(panel).to_contain_text("10 h")
    panel.get_by_role("button", name="More for the panel Hours by person").click()
    page.get_by_role("menuitem", name="As a table").click()
    panel.get_by_role("link", name="10", exact=False).first.click()
    expect(page.get_by_role("heading", name="All work, over all projects")).to_be_visible()
    expect(page.get_by_role("row").filter(has_text="Cast bars")).to_be_visible()
    expect(page.get_by_role("row").filter(has_text="Set panes")).to_have_count(0)


def test_what_is_changed_elsewhere_shows_at_once(sit: Sit, work: Made) -> None:
    at = keep(work, {"kind": "figure", "title": "Open", "width": 3, "height": 3, "scope": {"state_class": ["queued", "active"]}})
    desk = sit()
    page = desk.go(at)
    panel = panel_of(page, "Open")
    expect(panel.get_by_role("link")).to_have_text("3")
    work.add("Clean up")
    expect(panel.get_by_role("link")).to_have_text("4")
    other = sit("Beatrix Eze")
    board = at.rsplit("/", 1)[1]
    work.ines("PATCH", f"/dashboards/{board}", {"version": 1, "seen_by": "everyone"})
    far = other.go(at)
    expect(panel_of(far, "Open").get_by_role("link")).to_have_text("4")
    page.get_by_role("button", name="More for the panel Open").click()
    page.get_by_role("menuitem", name="Take it away").click()
    expect(panel_of(far, "Open")).to_have_count(0)
    desk.saved()
    page.keyboard.press("Control+z")
    expect(panel_of(far, "Open")).to_be_visible()


def test_panels_are_moved_and_resized_by_keys_and_pointer(sit: Sit, work: Made) -> None:
    at = keep(
        work,
        {"kind": "figure", "title": "One", "width": 4, "height": 4},
        {"kind": "tasks", "title": "Two", "width": 4, "height": 4},
        {"kind": "progress", "title": "Three", "width": 4, "height": 4},
    )
    board = at.rsplit("/", 1)[1]

    def kept() -> list[tuple[str, int, int]]:
        found = work.ines("GET", f"/dashboards/{board}")["panels"]
        return [(one["title"], one["width"], one["height"]) for one in found]

    desk = sit()
    page = desk.go(at)
    page.get_by_role("button", name="arrange").click()
    handle = page.get_by_role("button", name=re.compile("^Move One"))
    handle.press("ArrowRight")
    expect(page.locator("[data-panel]").first).to_have_attribute("aria-label", "Two")
    desk.saved()
    assert [title for title, *_ in kept()] == ["Two", "One", "Three"]
    page.get_by_role("button", name=re.compile("^Move One")).press("Shift+ArrowRight")
    expect(page.get_by_role("button", name=re.compile("^Move One.*5 columns"))).to_be_visible()
    page.get_by_role("button", name=re.compile("^Move One.*5 columns")).press("Shift+ArrowDown")
    expect(page.get_by_role("button", name=re.compile("^Move One.*5 rows high"))).to_be_visible()
    desk.saved()
    assert ("One", 5, 5) in kept()
    # by pointer: drawn onto the first, and its corner to the left
    grip = page.get_by_role("button", name=re.compile("^Move Three"))
    grip.hover()
    page.mouse.down()
    first = panel_of(page, "Two").bounding_box()
    assert first is not None
    page.mouse.move(first["x"] + 60, first["y"] + 60, steps=8)
    page.mouse.up()
    expect(page.locator("[data-panel]").first).to_have_attribute("aria-label", "Three")
    desk.saved()
    corner = panel_of(page, "Three").locator('[title="Draw it larger or smaller"]')
    corner.hover()
    page.mouse.down()
    box = corner.bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + 220, box["y"] + 50, steps=6)
    page.mouse.up()
    expect(page.get_by_role("button", name=re.compile("^Move Three.*6 columns"))).to_be_visible()
    desk.saved()
    assert kept()[0] == ("Three", 6, 5)


def test_work_is_handed_over_by_drawing_it_to_another_name_and_by_keys(sit: Sit, work: Made) -> None:
    at = keep(work, {"kind": "people", "title": "In hand", "width": 12, "height": 9})
    desk = sit()
    page = desk.go(at)
    panel = panel_of(page, "In hand")
    callum, tomas = panel.get_by_role("region", name="Callum Reyes"), panel.get_by_role("region", name="Tomas Brekke")
    expect(tomas).to_contain_text("Cast bars")
    tomas.get_by_role("listitem").filter(has_text="Cast bars").hover()
    page.mouse.down()
    over = callum.bounding_box()
    assert over is not None
    page.mouse.move(over["x"] + 60, over["y"] + 120, steps=8)
    page.mouse.up()
    expect(callum).to_contain_text("Cast bars")
    expect(tomas).to_have_count(0)
    desk.saved()
    names = {one["id"]: one["name"] for one in work.ines("GET", "/people")}
    assert names[work.rows()["Cast bars"]["owner_id"]] == "Callum Reyes"
    callum.get_by_role("button", name="Hand Set panes over").focus()
    page.keyboard.press("Enter")
    page.get_by_role("combobox", name="Find a person").fill("Tomas")
    page.keyboard.press("Enter")
    expect(tomas).to_contain_text("Set panes")
    desk.saved()
    page.keyboard.press("Control+z")
    expect(callum).to_contain_text("Set panes")


def test_a_change_that_moves_others_waits_for_an_answer_on_a_dashboard_too(sit: Sit, work: Made) -> None:
    rows = work.rows()
    links = {"tasks": [{"id": rows["Set panes"]["id"], "revision": rows["Set panes"]["revision"], "fields": {"waits_for": "1"}}]}
    work.ines("PATCH", f"/projects/{work.code}/tasks", links)
    at = keep(work, {"kind": "tasks", "title": "Work", "width": 6, "height": 8})
    desk = sit()
    page = desk.go(at)
    panel_of(page, "Work").get_by_role("button", name="Cast bars").click()
    length = page.locator("input[aria-label=Duration]")
    length.fill("9 d")
    length.press("Enter")
    ripple = page.get_by_role("dialog", name="What this change carries on")
    expect(ripple).to_contain_text("Set panes")
    ripple.get_by_role("button", name=re.compile("^Apply")).first.click()
    desk.saved()
    assert work.rows()["Set panes"]["start"] > "2027-03-25"


def test_a_sentence_is_tried_put_back_and_kept(sit: Sit, work: Made) -> None:
    at = keep(work, {"kind": "figure", "title": "Count", "width": 3, "height": 3}, seen_by="everyone")
    desk, other = sit(), sit("Tomas Brekke")
    page, far = desk.go(at), other.go(at)
    expect(far.get_by_role("button", name="Add a panel")).to_have_count(0)
    for one in (page, far):
        one.get_by_role("button", name="anyone").click()
        one.get_by_role("checkbox", name="Callum Reyes").check()
        one.keyboard.press("Escape")
        expect(panel_of(one, "Count").get_by_role("link")).to_have_text("1")
    far.get_by_role("button", name="put back").click()
    expect(panel_of(far, "Count").get_by_role("link")).to_have_text("3")
    page.get_by_role("button", name="keep", exact=True).click()
    expect(panel_of(far, "Count").get_by_role("link")).to_have_text("1")
    expect(page.get_by_role("button", name="put back")).to_have_count(0)


def test_dashboards_turn_on_the_whole_screen(sit: Sit, work: Made) -> None:
    at = keep(work, {"kind": "figure", "title": "First", "width": 3, "height": 3})
    keep(work, {"kind": "figure", "title": "Second", "width": 3, "height": 3}, name=f"Other of {work.code}")
    page = sit().go(at)
    page.get_by_role("button", name="full screen").click()
    wall = page.get_by_role("dialog", name=f"Round of {work.code}")
    expect(wall.get_by_role("region", name="First")).to_contain_text("3")
    wall.get_by_role("button", name="+ others in turn").click()
    page.get_by_label(f"Other of {work.code}").check()
    page.keyboard.press("Escape")
    page.get_by_role("button", name="The next one").click()
    expect(page.get_by_role("dialog", name=f"Other of {work.code}").get_by_role("region", name="Second")).to_be_visible()
    page.get_by_role("button", name="Rest here").click()
    page.get_by_role("button", name="Leave the full screen").click()
    expect(page.get_by_role("dialog")).to_have_count(0)


def test_a_kept_report_is_sent_every_week_and_read_in_the_tray(sit: Sit, running: Running) -> None:
    desk = sit()
    page = desk.go("/reports/kept")
    page.get_by_role("link", name="Overdue").click()
    expect(page.get_by_text("held by anyone that is")).to_be_visible()
    page.get_by_role("button", name="+ Keep this sheet").click()
    form = page.get_by_role("dialog", name="Keep this sheet")
    form.get_by_role("textbox", name="Name").fill("Overdue for Monday")
    form.get_by_role("button", name="Keep").click()
    desk.saved()
    page = desk.go("/reports/kept")
    line = page.get_by_role("listitem").filter(has_text="Overdue for Monday")
    line.get_by_role("button", name="Send it every week").click()
    form = page.get_by_role("dialog", name="Send Overdue for Monday every week")
    form.get_by_label("Day").select_option("Thursday")
    form.get_by_role("button", name="Send it every Thursday").click()
    expect(line).to_contain_text("sent every Thursday to you")
    line.get_by_role("button", name="Change").click()
    form.get_by_role("button", name="Send it no more").click()
    expect(line).not_to_contain_text("sent every")


def test_axe_finds_nothing_on_dashboards_and_on_a_phone_they_are_read(sit: Sit) -> None:
    desk = sit()
    page = desk.go("/reports")
    page.get_by_role("link", name="Monday with the crews").click()
    expect(panel_of(page, "Late, the worst first")).to_contain_text("5 d")
    page.evaluate(AXE.read_text())
    found = page.evaluate("() => axe.run(document, {resultTypes: ['violations']})")
    assert [(one["id"], [node["html"] for node in one["nodes"]]) for one in found["violations"]] == []
    address = page.url.removeprefix(desk.url)
    phone = sit(width=390, height=800).go(address)
    expect(panel_of(phone, "Who works on what")).to_contain_text("Tomas Brekke")
    assert phone.evaluate("document.documentElement.scrollWidth") <= 390


def test_rhodonite_opens_at_a_dashboard_which_is_found_by_its_name(sit: Sit, work: Made) -> None:
    at = keep(work, {"kind": "figure", "title": "Count", "width": 3, "height": 3}, name=f"Home of {work.code}")
    desk = sit("Beatrix Eze")
    work.ines("PATCH", f"/dashboards/{at.rsplit('/', 1)[1]}", {"version": 1, "seen_by": "everyone"})
    page = desk.go("/account")
    page.get_by_label("Rhodonite opens at").select_option(label=f"the dashboard Home of {work.code}")
    expect(page.get_by_text("Kept.")).to_be_visible()
    desk.go("/")
    expect(page.get_by_role("heading", name=f"Home of {work.code}")).to_be_visible()
    page = desk.go("/work")
    page.get_by_role("combobox", name="Find work, or write a new task").fill(f"home {work.code}")
    page.get_by_role("option", name=f"Home of {work.code}").click()
    expect(panel_of(page, "Count")).to_contain_text("3")
    page = desk.go("/account")
    page.get_by_label("Rhodonite opens at").select_option("")
    expect(page.get_by_text("Kept.")).to_be_visible()


def test_the_brief_has_the_parts_and_the_order_that_its_lead_chooses(sit: Sit, work: Made) -> None:
    desk, other = sit(), sit("Tomas Brekke")
    page, far = desk.go(f"/p/{work.code}/brief"), other.go(f"/p/{work.code}/brief")
    expect(far.get_by_role("button", name="arrange the brief")).to_have_count(0)
    page.get_by_role("button", name="arrange the brief").click()
    page.get_by_role("checkbox", name="Tasks by state").uncheck()
    expect(far.get_by_role("heading", name=re.compile("^Tasks by state"))).to_have_count(0)
    page.get_by_role("button", name="Due in the next seven days: earlier").click()
    page.get_by_role("button", name="Due in the next seven days: earlier").click()
    page.keyboard.press("Escape")
    desk.saved()
    kept = work.ines("GET", f"/projects/{work.code}")["brief"]
    assert "states" not in kept
    assert kept.index("due") < kept.index("report")
