"""Status reports in the real interface: written in two minutes, kept as typed, published for good, read by others."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any

import pytest
from playwright.sync_api import expect

from tests.running import Running

from .conftest import Desk, Made

Sit = Callable[..., Desk]


@pytest.fixture
def told(running: Running) -> Made:
    """A project of which there is something to tell."""
    made = Made(running)
    made.add("Cast bars", start="2027-03-08", duration="3 d")
    made.add("Set panes", start="2027-03-18", duration="3 d")
    people = {one["name"]: one["id"] for one in made.ines("GET", "/people")}
    made.ines("PUT", f"/projects/{made.code}/members/{people['Tomas Brekke']}", {"role": "contributor"})
    return made


def test_a_report_is_drafted_judged_kept_and_published(sit: Sit, told: Made) -> None:
    desk = sit()
    page = desk.go(f"/p/{told.code}/brief")
    desk.page_of_project("Status reports")
    expect(page.get_by_text("Nothing was reported yet")).to_be_visible()
    page.get_by_role("button", name="Write this week’s report").click()
    form = page.get_by_role("form", name="Status report")
    expect(form.get_by_label("Next", exact=True)).to_have_value(re.compile("Set panes"))
    expect(form.get_by_role("link", name=f"{told.code} 2 decides the finish")).to_be_visible()
    stands = form.get_by_label("How it stands", exact=True)
    expect(stands).to_have_value(re.compile("One task is late, Cast bars: "))
    stands.fill("The foundry is closed until Monday.")
    form.get_by_label("Overall, as you judge it").select_option("slipping")
    page.reload()
    expect(stands).to_have_value("The foundry is closed until Monday.")
    form.get_by_role("button", name="Publish").click()
    expect(form.get_by_role("alert")).to_contain_text("Say why overall is slipping")
    form.get_by_label("Why Overall is told otherwise").fill("only one task hangs")
    form.get_by_role("button", name="Send it to somebody").or_(form.get_by_role("button", name="+ and to …")).first.click()
    page.get_by_role("combobox", name="Find a person").fill("Tomas")
    page.keyboard.press("Enter")
    form.get_by_role("button", name="Publish").click()
    report = page.get_by_role("article", name="Status report 1")
    expect(report).to_contain_text("The foundry is closed until Monday.")
    expect(report).to_contain_text("told so: only one task hangs")
    expect(report).to_contain_text("nobody yet; not yet by Tomas B.")
    with page.expect_download() as had:
        report.get_by_role("link", name="PDF").click()
    assert had.value.suggested_filename == f"{told.code} status report 1.pdf"
    # who gets it is told, reads it, and is seen to have read it
    other = sit("Tomas Brekke")
    far = other.go("/notices")
    expect(far.get_by_text("published status report 1 of 17 Mar").first).to_be_visible()
    far = other.go(f"/p/{told.code}/reports/1")
    expect(far.get_by_role("article", name="Status report 1")).to_contain_text("The foundry is closed")
    expect(far.get_by_role("button", name="Write this week’s report")).to_have_count(0)
    page.reload()
    expect(report.get_by_role("region", name="Read by")).not_to_contain_text("nobody yet")
    # a correction is a new one that says so; the two stand side by side
    report.get_by_role("link", name="correct it").click()
    form.get_by_label("How it stands", exact=True).fill("The foundry opens tomorrow.")
    form.get_by_role("button", name="Publish").click()
    expect(page.get_by_role("article", name="Status report 2")).to_contain_text("corrects 1")
    page.get_by_label("Side by side with").select_option("1")
    expect(page.get_by_role("article")).to_have_count(2)
    expect(report).to_contain_text("The foundry is closed until Monday.")
    expect(page.get_by_role("region", name="Told before").get_by_role("row", name=re.compile("^Overall"))).to_be_visible()


def test_what_reports_hold_and_when_they_are_due_is_the_leads_choice(sit: Sit, told: Made) -> None:
    desk = sit()
    page = desk.go(f"/p/{told.code}/reports")
    page.get_by_role("button", name="What they hold").click()
    form = page.get_by_role("form", name="What reports hold")
    for name in ("Asked of you", "Scope"):
        form.get_by_label(name).uncheck()
    form.get_by_label("Reminder of the lead").select_option("weekly")
    form.get_by_role("button", name="Save").click()
    expect(page.get_by_text(re.compile("The next is due since"))).to_be_visible()
    page.goto(f"{desk.url}/desk")
    expect(page.get_by_role("link", name=re.compile(f"A status report of {told.code} is due since"))).to_be_visible()
    page.goto(f"{desk.url}/reports")
    line = page.get_by_role("row", name=re.compile(f"^{told.code} "))
    expect(line).to_contain_text("nothing yet")
    line.get_by_role("link", name=re.compile("write it, due since")).click()
    draft = page.get_by_role("form", name="Status report")
    expect(draft.get_by_label("Next", exact=True)).to_be_visible()
    expect(draft.get_by_label("Asked of you")).to_have_count(0)
    expect(draft.get_by_label("Scope, as you judge it")).to_have_count(0)
    draft.get_by_role("button", name="Publish").click()
    expect(page.get_by_role("article", name="Status report 1")).to_be_visible()
    page.goto(f"{desk.url}/reports")
    expect(line).to_contain_text("17 Mar, Ines O.")
    expect(line).to_contain_text("due 24 Mar")


def test_a_correction_begins_with_what_it_corrects(sit: Sit, told: Made) -> None:
    judged = {"overall": {"health": "steady", "reason": "the sand came"}}
    told.ines("POST", f"/projects/{told.code}/reports", {"texts": {"stands": "It stands wel."}, "judged": judged})
    page = sit().go(f"/p/{told.code}/reports/1")
    page.get_by_role("link", name="correct it").click()
    form = page.get_by_role("form", name="Status report")
    expect(form.get_by_role("heading", name="Correction of report 1")).to_be_visible()
    expect(form.get_by_label("Why Overall is told otherwise")).to_have_value("the sand came")
    stands = form.get_by_label("How it stands", exact=True)
    expect(stands).to_have_value("It stands wel.")
    stands.fill("It stands well.")
    page.goto(page.url.split("?")[0])  # what is typed for a correction is not that of the next report
    expect(stands).to_have_value(re.compile("The plan finishes on|The finish"))
    page.go_back()
    expect(stands).to_have_value("It stands well.")
    form.get_by_role("button", name="Publish").click()
    report = page.get_by_role("article", name="Status report 2")
    expect(report).to_contain_text("It stands well.")
    expect(report).to_contain_text("corrects 1")


def test_what_changes_before_a_page_hears_of_changes_is_asked_for(sit: Sit, told: Made) -> None:
    """Tasks that are read late hold the change already, so that nothing of them says that the rest of the page does not."""
    desk = sit()
    rows: list[Any] = []
    live: list[Any] = []

    def hold_rows(route: Any) -> None:
        rows.append(route)

    def hold_live(route: Any) -> None:
        live.append(route)

    desk.page.route(re.compile(f"/api/projects/{told.code}/page"), hold_rows)
    desk.page.route(re.compile("/api/live"), hold_live)
    page = desk.go(f"/p/{told.code}/reports")
    expect(page.get_by_text("Nothing was reported yet")).to_be_visible()
    told.ines("POST", f"/projects/{told.code}/reports", {"texts": {"stands": "It stands well."}})
    with page.expect_response(re.compile(f"/api/projects/{told.code}/page")):
        rows[0].continue_()
    live[0].continue_()
    expect(page.get_by_role("article", name="Status report 1")).to_contain_text("It stands well.")
