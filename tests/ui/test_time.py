"""Time: the timer in every browser, the sheet of a week by keys alone, weeks that are handed in, the report."""

from __future__ import annotations

import re
from collections.abc import Callable

import pytest
from playwright.sync_api import Page, expect

from tests.running import Running, Visitor

from .conftest import Desk, Made

Sit = Callable[..., Desk]
MONDAY = "2027-03-15"


class Timed(Made):
    """A project that records time, with two tasks of Tomas, who contributes to it."""

    def __init__(self, running: Running) -> None:
        super().__init__(running)
        self.ines("PATCH", f"/projects/{self.code}", {"revision": 99, "time": True})
        people = {one["name"]: one["id"] for one in self.ines("GET", "/people")}
        self.tomas = people["Tomas Brekke"]
        self.ines("PUT", f"/projects/{self.code}/members/{self.tomas}", {"role": "contributor"})
        self.bars, self.pane = f"Cast bars {self.code}", f"Set a pane {self.code}"
        self.add(self.bars, self.pane, owner_id=self.tomas, start="2027-03-15", duration="3 d", effort="4 h")

    def entries(self, title: str) -> list[dict[str, object]]:
        """The entries on a task."""
        return self.ines("GET", f"/tasks/{self.rows()[title]['id']}/time")["entries"]  # type: ignore[no-any-return]


@pytest.fixture
def timed(running: Running) -> Timed:
    return Timed(running)


def stop_all(running: Running) -> None:
    """No timer of Tomas runs, whatever a test before left."""
    tomas = Visitor(running, "Tomas Brekke")
    if tomas("GET", "/timer")["timer"]:
        tomas("DELETE", "/timer")


def open_task(desk: Desk, timed: Timed, title: str = "") -> Page:
    return desk.go(f"/p/{timed.code}/outline?open={timed.rows()[title or timed.bars]['id']}")


def test_the_timer_runs_in_every_browser_and_becomes_an_entry(sit: Sit, timed: Timed, running: Running) -> None:
    stop_all(running)
    desk, other = sit("Tomas Brekke"), sit("Tomas Brekke")
    page, far = open_task(desk, timed), other.go("/work")
    page.get_by_role("region", name="Time").get_by_role("button", name=f"Start the timer on {timed.bars}").click()
    for one in (page, far):  # the other hears of it
        expect(one.get_by_role("button", name=re.compile(f"Timer: 0:01 on {timed.bars}"))).to_be_visible()
    far.reload()
    far.get_by_role("button", name=re.compile("Timer:")).click()
    far.get_by_label("Note of the timer").fill("second pour")
    far.get_by_label("Note of the timer").press("Enter")
    far.get_by_label("How long it really was").fill("1:30")
    far.get_by_role("button", name="Stop the timer").last.click()
    expect(page.get_by_role("button", name=re.compile("Timer:"))).to_have_count(0)
    expect(page.get_by_role("region", name="Time")).to_contain_text("1.5 h spent of 4 h, 2.5 h left")
    assert [(one["minutes"], one["note"]) for one in timed.entries(timed.bars)] == [(90, "second pour")]


def test_the_timer_is_started_from_rows_slips_and_the_masthead_and_by_a_key(sit: Sit, timed: Timed, running: Running) -> None:
    stop_all(running)
    desk = sit("Tomas Brekke")
    page = desk.go(f"/p/{timed.code}/outline")
    desk.row(timed.bars).hover()
    desk.row(timed.bars).get_by_role("button", name=f"Start the timer on {timed.bars}").click()
    expect(page.get_by_role("button", name=re.compile(f"Timer: .* on {timed.bars}"))).to_be_visible()
    desk.cell(timed.pane, "title").click()
    page.keyboard.press("Alt+t")  # the one before is entered
    expect(page.get_by_role("button", name=re.compile(f"Timer: .* on {timed.pane}"))).to_be_visible()
    page.keyboard.press("Alt+t")
    expect(page.get_by_role("button", name="Start the timer", exact=True)).to_be_visible()
    assert [len(timed.entries(one)) for one in (timed.bars, timed.pane)] == [1, 1]
    page = desk.go(f"/p/{timed.code}/board")
    slip = page.get_by_role("listitem").filter(has_text=timed.bars)
    slip.hover()
    slip.get_by_role("button", name=f"Start the timer on {timed.bars}").click()
    page.get_by_role("button", name=re.compile("Timer:")).click()
    page.get_by_role("button", name="Discard it").click()
    page.get_by_role("button", name="Start the timer", exact=True).click()
    page.get_by_role("option", name=re.compile(timed.pane)).click()
    expect(page.get_by_role("button", name=re.compile(f"Timer: .* on {timed.pane}"))).to_be_visible()
    page.get_by_role("button", name="Stop the timer", exact=True).click()
    expect(page.get_by_role("button", name="Start the timer", exact=True)).to_be_visible()
    assert [len(timed.entries(one)) for one in (timed.bars, timed.pane)] == [1, 2]


def test_time_is_entered_changed_and_taken_back_in_the_folio(sit: Sit, timed: Timed) -> None:
    desk = sit("Tomas Brekke")
    page = open_task(desk, timed)
    form = page.get_by_role("form", name="Enter time")
    form.get_by_label("How long").fill("soon")
    form.get_by_role("button", name="Enter").click()
    expect(form.get_by_role("alert")).to_contain_text("no time. Write it as 2, 1:30")
    expect(form.get_by_label("How long")).to_have_value("soon")
    form.get_by_label("How long").fill("9:15-11")
    form.get_by_label("Note", exact=True).fill("first pour")
    form.get_by_label("Note", exact=True).press("Enter")
    hours = page.get_by_label("Time of Tomas Brekke on 17 Mar")
    expect(hours).to_have_value("1:45")
    hours.fill("5")
    hours.press("Enter")
    expect(page.get_by_text("5 h spent of 4 h, 1 h more than estimated")).to_be_visible()
    desk.saved()
    page.get_by_role("button", name="Take this entry away").click()
    expect(hours).to_have_count(0)
    page.get_by_role("heading", name="Time").click()
    page.keyboard.press("Control+z")
    expect(hours).to_have_value("5:00")


def test_a_week_is_typed_by_keys_alone_handed_in_returned_and_accepted(sit: Sit, timed: Timed) -> None:
    desk = sit("Tomas Brekke")
    page = desk.go(f"/desk/time?week={MONDAY}")
    bars = page.get_by_role("gridcell", name=f"{timed.bars}, Mon 15: nothing")
    bars.focus()
    page.keyboard.type("2")
    page.keyboard.press("Tab")
    page.keyboard.type("1:30")
    page.keyboard.press("Enter")
    expect(page.get_by_role("gridcell", name=f"{timed.bars}, Mon 15: 2:00")).to_be_visible()
    expect(page.get_by_role("gridcell", name=f"{timed.bars}, Tue 16: 1:30")).to_be_visible()
    page.get_by_role("gridcell", name=f"{timed.pane}, Tue 16: nothing").focus()
    page.keyboard.type("30")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_have_text("Enter between a minute and 24 hours.")
    page.get_by_role("textbox", name=f"{timed.pane}, Tue 16").fill("9-12")
    page.keyboard.press("Enter")
    expect(page.get_by_role("gridcell", name=f"{timed.pane}, Tue 16: 3:00")).to_be_visible()
    expect(page.get_by_role("alert")).to_have_count(0)
    desk.saved()
    page.get_by_role("button", name="Hand in the week").click()
    expect(page.get_by_role("button", name="Take it back")).to_be_visible()
    expect(page.get_by_role("gridcell", name=f"{timed.bars}, Mon 15: 2:00")).to_have_attribute("aria-readonly", "true")
    lead = sit("Ines Oduya")
    far = lead.go("/people/time-sheets")
    far.get_by_role("link", name=re.compile(f"Tomas Brekke.*{timed.code}")).click()
    far.get_by_role("button", name="Return it …").click()
    far.get_by_role("button", name="Return it", exact=True).click()
    expect(far.get_by_role("dialog").get_by_role("alert")).to_contain_text("Say in a word why")
    far.get_by_label("What is to be mended").fill("Wednesday is missing")
    far.get_by_role("button", name="Return it", exact=True).click()
    lead.saved()
    page = desk.go("/desk")
    page.get_by_role("link", name=re.compile("Your week of 15 Mar was returned .*: Wednesday is missing")).click()
    page.get_by_role("gridcell", name=f"{timed.pane}, Wed 17: nothing").focus()
    page.keyboard.type("4")
    page.keyboard.press("Enter")
    expect(page.get_by_role("gridcell", name=f"{timed.pane}, Wed 17: 4:00")).to_be_visible()
    desk.saved()
    page.get_by_role("button", name="Hand in the week").click()
    expect(page.get_by_role("button", name="Take it back")).to_be_visible()
    far = lead.go("/people/time-sheets")
    far.get_by_role("link", name=re.compile(f"Tomas Brekke.*{timed.code}")).click()
    far.get_by_role("button", name=re.compile(f"Accept .*{timed.code}")).click()
    lead.saved()
    page = open_task(desk, timed)
    expect(page.get_by_role("list", name="Time entries").get_by_text("accepted").first).to_be_visible()
    expect(page.get_by_role("button", name="Take this entry away")).to_have_count(0)


def test_the_cell_stays_on_its_task_where_a_row_moves_up(sit: Sit, timed: Timed) -> None:
    desk = sit("Tomas Brekke")
    page = desk.go(f"/desk/time?week={MONDAY}")
    row = page.get_by_role("row").filter(has=page.get_by_role("link", name=timed.pane))
    expect(row).to_contain_text("yours")  # offered, behind others
    page.get_by_role("gridcell", name=f"{timed.pane}, Mon 15: nothing").focus()
    page.keyboard.type("2")
    page.keyboard.press("Enter")
    expect(row).not_to_contain_text("yours")  # it stands among the tasks with hours now
    desk.saved()
    page.get_by_role("gridcell", name=f"{timed.pane}, Mon 15: 2:00").focus()
    page.keyboard.press("ArrowRight")
    page.keyboard.type("1")
    page.keyboard.press("Tab")
    expect(page.get_by_role("gridcell", name=f"{timed.pane}, Tue 16: 1:00")).to_be_visible()
    expect(page.get_by_role("gridcell", name=f"{timed.pane}, Wed 17: nothing")).to_be_focused()


def test_the_report_is_asked_for_by_a_sentence_and_kept(sit: Sit, timed: Timed) -> None:
    rows = timed.rows()
    for title, minutes in ((timed.bars, 300), (timed.pane, 90)):
        entry = {"task_id": rows[title]["id"], "day": "2027-03-16", "minutes": minutes}
        timed.ines("POST", f"/projects/{timed.code}/time", {"entries": [entry]})
    desk = sit("Ines Oduya")
    page = desk.go(f"/people/time?by=project,task&projects={timed.code}&period=this_month")
    expect(page.get_by_role("row", name=re.compile(f"{timed.code} 1 {timed.bars} 5:00 .*4:00"))).to_be_visible()
    page.get_by_role("button", name="project, then task").click()
    page.get_by_role("checkbox", name=re.compile("^task")).uncheck()
    page.keyboard.press("Escape")
    expect(page.get_by_role("row", name=re.compile(timed.bars))).to_have_count(0)
    expect(page.get_by_role("row", name=re.compile(f"{timed.code} Project {timed.code} 6:30"))).to_be_visible()
    page.get_by_role("button", name="+ Keep this sheet").click()
    page.get_by_role("textbox", name="Name").fill(f"Hours of {timed.code}")
    page.get_by_role("button", name="Keep", exact=True).click()
    desk.saved()
    page = desk.go("/people/time")
    page.get_by_role("link", name=f"Hours of {timed.code}").click()
    expect(page.get_by_role("row", name=re.compile("All of it 6:30"))).to_be_visible()
    page.get_by_role("button", name=re.compile(f"{timed.code} Project {timed.code}")).click()  # opens what it counts
    page.get_by_role("link", name=re.compile(timed.bars)).click()
    expect(page.get_by_role("region", name="Time")).to_contain_text("5 h spent of 4 h")
    expect(desk.go("/desk").get_by_role("link", name=f"Hours of {timed.code}")).to_have_count(0)


def test_the_sheet_can_be_used_on_a_phone(sit: Sit, timed: Timed) -> None:
    desk = sit("Tomas Brekke", 390, 780)
    page = desk.go(f"/desk/time?week={MONDAY}")
    cell = page.get_by_role("gridcell", name=f"{timed.pane}, Mon 15: nothing")
    cell.scroll_into_view_if_needed()
    cell.dblclick()
    page.keyboard.type("1:15")
    page.keyboard.press("Enter")
    expect(page.get_by_role("gridcell", name=f"{timed.pane}, Mon 15: 1:15")).to_be_visible()
    assert page.evaluate("() => document.documentElement.scrollWidth") <= 390
