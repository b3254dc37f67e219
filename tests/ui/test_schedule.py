"""Planning in the schedule: bars, links, slack, the ripple, with pointer and keyboard."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.ui.conftest import AXE, Desk, Made


@pytest.fixture
def chain(made: Made) -> Made:
    """Dig, then Pour, then Cure and the milestone Floor done; and Paint, which waits for nothing."""
    made.add("Dig", start="2027-03-15", duration="3 d")
    made.add("Pour", "Cure", duration="2 d")
    made.add("Floor done", kind="milestone")
    made.add("Paint", start="2027-03-16", duration="1 d")
    for waits, text in (("Pour", "Dig"), ("Cure", "Pour + 1 d"), ("Floor done", "Cure")):
        edit(made, waits, waits_for=text)
    return made


def edit(made: Made, title: str, **fields: Any) -> None:
    row = made.rows()[title]
    body = {"tasks": [{"id": row["id"], "revision": row["revision"], "fields": fields}]}
    made.ines("PATCH", f"/projects/{made.code}/tasks", body)


def schedule(desk: Desk, made: Made) -> Page:
    page = desk.go(f"/p/{made.code}/schedule")
    desk.row("Dig").wait_for()
    return page


def bar(desk: Desk, title: str) -> dict[str, float]:
    box = desk.cell(title, "bar").locator("[data-bar]").bounding_box()
    assert box is not None
    return dict(box)


def drag(page: Page, x: float, y: float, dx: float, dy: float = 0) -> None:
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + dx / 2, y + dy / 2, steps=4)
    page.mouse.move(x + dx, y + dy, steps=4)
    page.mouse.up()


DAY = 22  # pixels, at the scale of weeks, which the schedule opens with


def test_a_hand_that_is_quicker_than_the_screen_stretches_a_bar_by_its_end(sit: Callable[..., Desk], chain: Made) -> None:
    desk = sit()
    page = schedule(desk, chain)
    box = bar(desk, "Dig")
    x, y = box["x"] + box["width"] - 1, box["y"] + 10
    held = desk.cell("Dig", "bar").locator("[data-bar]")
    expect(desk.cell("Dig", "bar").locator("[data-stretch]")).to_have_count(0)  # the pointer was not over it before
    held.dispatch_event("pointerdown", {"clientX": x, "clientY": y, "button": 0, "bubbles": True})
    held.dispatch_event("pointermove", {"clientX": x + 2 * DAY, "clientY": y, "bubbles": True})
    held.dispatch_event("pointerup", {"clientX": x + 2 * DAY, "clientY": y, "bubbles": True})
    card = page.get_by_role("dialog", name="What this change carries on")
    card.get_by_role("button", name="Apply to all 3").click()
    expect(desk.cell("Dig", "finish")).to_have_text("19 Mar")
    dig = chain.rows()["Dig"]
    assert (dig["start"][:10], dig["finish"][:10]) == ("2027-03-15", "2027-03-19")


def test_a_drag_that_moves_others_shows_its_ripple_first(sit: Callable[..., Desk], chain: Made) -> None:
    desk = sit()
    page = schedule(desk, chain)
    box = bar(desk, "Dig")
    drag(page, box["x"] + 10, box["y"] + 10, 2 * DAY)
    card = page.get_by_role("dialog", name="What this change carries on")
    expect(card).to_contain_text("3 tasks move; the project finishes 26 Mar, not 24 Mar")
    expect(card).to_contain_text("◆ Floor done")
    expect(card.get_by_role("button", name="Apply to all 3")).to_be_focused()
    expect(desk.cell("Dig", "start")).to_have_text("15 Mar")  # nothing has moved yet
    assert page.locator("rect[fill='var(--color-rose)'][opacity='.8']").count() >= 3  # ghosts show where they would be
    page.keyboard.press("Enter")
    expect(desk.cell("Dig", "start")).to_have_text("17 Mar")
    expect(desk.cell("Cure", "finish")).to_have_text("26 Mar")
    page.keyboard.press("Control+z")
    expect(desk.cell("Cure", "finish")).to_have_text("24 Mar")
    expect(desk.cell("Dig", "start")).to_have_text("15 Mar")


def test_a_ripple_is_put_back_with_escape(sit: Callable[..., Desk], chain: Made) -> None:
    desk = sit()
    page = schedule(desk, chain)
    desk.cell("Dig", "bar").click(position={"x": 4, "y": 4})
    page.keyboard.press("Alt+Shift+ArrowRight")
    expect(page.get_by_role("dialog")).to_contain_text("3 tasks move")
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)
    assert chain.rows()["Dig"]["finish"] == "2027-03-17T17:30:00"


def test_moving_one_alone_says_which_link_it_breaks(sit: Callable[..., Desk], chain: Made) -> None:
    desk = sit()
    page = schedule(desk, chain)
    box = bar(desk, "Dig")
    drag(page, box["x"] + 10, box["y"] + 10, 2 * DAY)
    page.get_by_role("button", name="Move this one only").click()
    expect(page.get_by_role("dialog")).to_contain_text("“Pour” no longer waits for “Dig”")
    expect(page.get_by_role("dialog")).to_contain_text("“Pour” starts no earlier than 18 Mar")
    page.get_by_role("button", name="Do that").click()
    expect(desk.cell("Dig", "start")).to_have_text("17 Mar")
    expect(desk.cell("Pour", "start")).to_have_text("18 Mar")
    assert chain.rows()["Pour"]["waits_for"] == []


def test_a_bar_held_back_by_its_links_says_so_and_may_be_pinned(sit: Callable[..., Desk], chain: Made) -> None:
    desk = sit()
    page = schedule(desk, chain)
    edit(chain, "Pour", start="2027-03-25")
    expect(desk.cell("Pour", "start")).to_have_text("25 Mar")
    desk.cell("Pour", "start").dblclick()
    page.keyboard.type("16 mar")
    page.keyboard.press("Enter")
    card = page.get_by_role("dialog")
    expect(card).to_contain_text("Pour stays at 18 Mar: it waits for Dig")
    card.get_by_role("button", name="Move this one only").click()
    expect(card).to_contain_text("“Pour” is pinned to 16 Mar")
    card.get_by_role("button", name="Do that").click()
    expect(desk.cell("Pour", "start")).to_contain_text("⊙")
    expect(desk.cell("Pour", "start")).to_contain_text("16 Mar")
    desk.cell("Pour", "title").click()
    expect(page.get_by_role("complementary", name="Task")).to_contain_text("The pin stands 2 d before Dig allows.")


def test_a_change_by_somebody_else_recomputes_the_open_ripple(sit: Callable[..., Desk], chain: Made) -> None:
    desk = sit()
    page = schedule(desk, chain)
    box = bar(desk, "Dig")
    drag(page, box["x"] + 10, box["y"] + 10, 2 * DAY)
    card = page.get_by_role("dialog")
    expect(card).to_contain_text("not 24 Mar")
    edit(chain, "Cure", duration="4 d")
    expect(card).to_contain_text("Somebody else changed the plan")
    expect(card).to_contain_text("finishes 30 Mar, not 26 Mar")
    card.get_by_role("button", name="Apply to all 3").click()
    expect(desk.cell("Cure", "finish")).to_have_text("30 Mar")


@pytest.fixture
def own_threshold(chain: Made) -> Iterator[None]:
    """Puts what Ines has set for herself back to the usual values."""
    yield
    chain.ines("PATCH", "/session/preferences", {"ripple_days": 0, "longest_days": 20})


@pytest.mark.usefixtures("own_threshold")
def test_small_moves_below_ones_own_threshold_need_no_card(sit: Callable[..., Desk], chain: Made) -> None:
    desk = sit()
    page = schedule(desk, chain)
    box = bar(desk, "Dig")
    drag(page, box["x"] + 10, box["y"] + 10, DAY)
    threshold = page.get_by_label("Ask when others move by more than")
    threshold.fill("-2")
    threshold.press("Enter")
    expect(page.get_by_text("Write working days from 0 to 1000.")).to_be_visible()
    threshold.fill("2")
    threshold.press("Enter")
    page.get_by_role("button", name="Put back").click()
    desk = sit()  # it is kept with the person, not with the browser
    page = schedule(desk, chain)
    box = bar(desk, "Dig")
    drag(page, box["x"] + 10, box["y"] + 10, 2 * DAY)
    expect(desk.cell("Cure", "finish")).to_have_text("26 Mar")
    expect(page.get_by_role("dialog")).to_have_count(0)
    page.keyboard.press("Control+z")
    expect(desk.cell("Cure", "finish")).to_have_text("24 Mar")


def test_a_link_is_drawn_from_end_to_end(sit: Callable[..., Desk], chain: Made) -> None:
    desk = sit()
    page = schedule(desk, chain)
    paint, cure = bar(desk, "Paint"), bar(desk, "Cure")
    page.mouse.move(cure["x"] + 6, cure["y"] + 10)
    knob = desk.cell("Cure", "bar").locator("[data-knob$=start]").bounding_box()
    assert knob is not None
    drag(page, knob["x"] + 4, knob["y"] + 4, paint["x"] + 3 - knob["x"] - 4, paint["y"] + 10 - knob["y"] - 4)
    form = page.get_by_role("form", name="Link")
    expect(form.get_by_role("radio", name=re.compile("^start to start"))).to_be_checked()
    form.get_by_label("Lag").fill("1 d")
    form.get_by_role("button", name="Link").click()
    card = page.get_by_role("dialog", name="What this change carries on")
    expect(card).to_contain_text("Paint")  # nobody moved it: its new link does
    card.get_by_role("button", name="Apply to one").click()
    desk.saved()
    assert chain.rows()["Paint"]["waits"] == "start with 3 + 1 d"
    expect(desk.cell("Paint", "start")).to_have_text("24 Mar")
    line = page.locator(f"[data-link='{chain.rows()['Cure']['id']} {chain.rows()['Paint']['id']} SS']")
    line.dispatch_event("click", {"clientX": 900, "clientY": 400, "bubbles": True})
    form.get_by_role("button", name="Delete the link").click()
    card.get_by_role("button", name="Apply to one").click()
    desk.saved()
    expect(page.locator("[data-link$=SS]")).to_have_count(0)
    assert chain.rows()["Paint"]["waits_for"] == []


def test_a_link_is_made_with_the_keyboard(sit: Callable[..., Desk], chain: Made) -> None:
    desk = sit()
    page = schedule(desk, chain)
    desk.cell("Cure", "bar").focus()
    desk.cell("Cure", "bar").click(position={"x": 3, "y": 3})
    page.keyboard.press("l")
    expect(page.get_by_role("status").filter(has_text="Link from Cure")).to_be_visible()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("l")
    form = page.get_by_role("form", name="Link")
    expect(form.get_by_role("radio", name=re.compile("^finish to start"))).to_be_focused()
    page.keyboard.press("Enter")
    page.get_by_role("dialog", name="What this change carries on").get_by_role("button", name="Apply to one").press("Enter")
    expect(form).to_have_count(0)
    expect(desk.cell("Paint", "bar")).to_be_focused()
    desk.saved()
    assert chain.rows()["Paint"]["waits"] == "3"


def test_a_link_from_a_task_out_of_sight_is_kept_when_another_is_made(sit: Callable[..., Desk], made: Made) -> None:
    made.add("Order sand")
    made.add("Cast bars")
    made.add("Fit bars", waits_for="1")
    desk = sit()
    page = desk.go(f"/p/{made.code}/schedule?text=bars")
    expect(desk.row("Order sand")).to_have_count(0)
    desk.cell("Cast bars", "bar").click(position={"x": 3, "y": 3})
    page.keyboard.press("l")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("l")
    form = page.get_by_role("form", name="Link")
    expect(form.get_by_role("radio", name=re.compile("^finish to start"))).to_be_focused()
    page.keyboard.press("Enter")
    expect(form).to_have_count(0)
    desk.saved()
    assert sorted(made.rows()["Fit bars"]["waits"].split(", ")) == ["1", "2"]


def test_links_are_typed_and_what_is_understood_is_shown(sit: Callable[..., Desk], chain: Made) -> None:
    desk = sit()
    page = schedule(desk, chain)
    page.get_by_role("button", name="Columns").click()
    page.get_by_role("menuitem", name="Waits for").click()
    page.keyboard.press("Escape")
    expect(desk.cell("Cure", "waits")).to_have_text("2 + 1 d")
    desk.cell("Paint", "waits").dblclick()
    page.keyboard.type("finish with cure - 4 h")
    expect(page.get_by_role("status").filter(has_text="finishes when Cure finishes, less 4 h")).to_be_visible()
    page.keyboard.press("Enter")
    page.get_by_role("dialog", name="What this change carries on").get_by_role("button", name="Apply to one").click()
    expect(desk.cell("Paint", "waits")).to_have_text("finish with 3 - 4 h")
    desk.cell("Pour", "waits").dblclick()
    page.keyboard.press("Control+a")
    page.keyboard.type("Cure")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("wait for one another in a circle: “Cure” → “Pour” → “Cure”")
    page.keyboard.press("Escape")
    expect(desk.cell("Pour", "waits")).to_have_text("1")


def test_an_undated_task_gets_a_bar_by_drawing_it(sit: Callable[..., Desk], chain: Made) -> None:
    chain.add("Sweep", "Survey")
    desk = sit()
    page = schedule(desk, chain)
    dig = bar(desk, "Dig")
    row = desk.row("Sweep").bounding_box()
    assert row is not None
    drag(page, dig["x"] + 5, row["y"] + 14, 2 * DAY)
    expect(desk.cell("Sweep", "start")).to_have_text("15 Mar")
    expect(desk.cell("Sweep", "finish")).to_have_text("17 Mar")
    desk.cell("Survey", "bar").click(position={"x": 600, "y": 14})
    page.keyboard.press("d")
    expect(desk.cell("Survey", "start")).to_have_text("17 Mar")


def test_percent_is_dragged(sit: Callable[..., Desk], chain: Made) -> None:
    desk = sit()
    page = schedule(desk, chain)
    box = bar(desk, "Dig")
    page.mouse.move(box["x"] + 20, box["y"] + 10)
    knob = desk.cell("Dig", "bar").locator("[data-percent]").bounding_box()
    assert knob is not None
    drag(page, knob["x"] + 4, knob["y"] + 6, box["width"] / 2)
    expect(desk.cell("Dig", "bar").locator("[data-percent]")).to_have_attribute("title", re.compile("^50 % done"))


def test_hovering_says_why_and_the_key_too(sit: Callable[..., Desk], chain: Made) -> None:
    desk = sit()
    page = schedule(desk, chain)
    desk.cell("Cure", "bar").locator("[data-bar]").hover()
    tip = page.get_by_role("tooltip")
    expect(tip).to_contain_text("Waits for Pour to finish, plus 1 d.")
    expect(tip).to_contain_text("No slack: a delay moves the finish of the project.")
    page.mouse.move(640, 60)
    expect(tip).to_have_count(0)
    desk.cell("Paint", "bar").click(position={"x": 3, "y": 3})
    page.keyboard.press("w")
    expect(tip).to_contain_text("Starts no earlier than 16 Mar, set by Ines O. on 17 Mar.")
    expect(desk.cell("Paint", "slack")).to_have_text("6 d")


def test_scales_zoom_and_fit(sit: Callable[..., Desk], chain: Made) -> None:
    desk = sit()
    page = schedule(desk, chain)
    wide = bar(desk, "Dig")["width"]
    page.get_by_role("button", name="month", exact=True).click()
    expect(page.get_by_role("button", name="month", exact=True)).to_have_attribute("aria-pressed", "true")
    assert bar(desk, "Dig")["width"] < wide / 2
    page.get_by_role("button", name="hour", exact=True).click()
    expect(page.get_by_text(re.compile(r"^\w+day \d+ \w+$")).first).to_be_visible()
    page.get_by_role("button", name="fit", exact=True).click()
    box = bar(desk, "Floor done")
    assert 400 < box["x"] < 1280
    # the wheel zooms about the pointer: what lies under it stays there
    dig = bar(desk, "Dig")
    page.mouse.move(dig["x"] + 1, dig["y"] + 10)
    page.keyboard.down("Control")
    page.mouse.wheel(0, -120)
    page.keyboard.up("Control")
    page.wait_for_function(
        "width => document.querySelector('[data-bar]').getBoundingClientRect().width > width", arg=dig["width"] + 2
    )
    assert abs(bar(desk, "Dig")["x"] - dig["x"]) < 4


def test_the_schedule_is_clean_for_axe_with_a_ripple_open(sit: Callable[..., Desk], chain: Made) -> None:
    desk = sit()
    page = schedule(desk, chain)
    box = bar(desk, "Dig")
    drag(page, box["x"] + 10, box["y"] + 10, 2 * DAY)
    page.get_by_role("dialog").wait_for()
    page.evaluate(AXE.read_text())
    found = page.evaluate("() => axe.run(document, {resultTypes: ['violations']})")
    assert [(v["id"], [n["html"][:160] for n in v["nodes"][:3]]) for v in found["violations"]] == []
