"""Agreed plans, replanning, soundness, exchange and the working calendar, as people use them."""

from __future__ import annotations

import json
import re
from collections.abc import Callable
from pathlib import Path

import pytest
from playwright.sync_api import expect

from tests.running import Running
from tests.ui.conftest import AXE, Desk, Made, add_field
from tests.ui.test_schedule import chain, edit, own_threshold

__all__ = ["chain", "own_threshold"]


def test_a_plan_is_agreed_and_what_slips_is_told_everywhere(sit: Callable[..., Desk], chain: Made) -> None:
    desk = sit()
    page = desk.go(f"/p/{chain.code}/planning")
    page.get_by_label("Name of the agreed plan").fill("Signed by the harbour")
    page.get_by_role("button", name="Agree the plan").click()
    expect(page.get_by_text("current", exact=True)).to_be_visible()
    expect(page.get_by_text("Nothing differs: every date is as agreed.")).to_be_visible()
    edit(chain, "Dig", duration="5 d")
    expect(page.get_by_text("The finish moves from 24 Mar to 26 Mar, +2 d; 4 tasks differ.")).to_be_visible()
    expect(page.get_by_text("Finish 26 Mar, 2 days past the agreed date")).to_be_visible()
    desk.go("/work")
    row = page.get_by_role("row").filter(has_text=f"Project {chain.code}")
    expect(row).to_contain_text("2 days past the agreed date")
    desk.go(f"/p/{chain.code}/schedule")
    page.get_by_role("button", name="Columns").click()
    page.get_by_role("menuitem", name="Variance").click()
    page.keyboard.press("Escape")
    expect(desk.cell("Cure", "variance")).to_have_text("+2 d")


def test_replanning_shows_its_ripple_first(sit: Callable[..., Desk], chain: Made) -> None:
    desk = sit()
    page = desk.go(f"/p/{chain.code}/planning")
    page.get_by_role("button", name="Replan from today").click()
    card = page.get_by_role("dialog", name="What this change carries on")
    expect(card).to_contain_text("5 tasks move; the project finishes 29 Mar, not 24 Mar")
    card.get_by_role("button", name="Apply to all 5").click()
    expect(page.get_by_text("Finish 29 Mar")).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_text("Finish 24 Mar")).to_be_visible()


def test_replanning_from_a_status_day(sit: Callable[..., Desk], chain: Made) -> None:
    desk = sit()
    page = desk.go(f"/p/{chain.code}/planning")
    page.get_by_label("Status day").fill("2027-03-22")
    page.get_by_role("button", name="Replan from that day").click()
    card = page.get_by_role("dialog", name="What this change carries on")
    expect(card).to_contain_text("5 tasks move; the project finishes 31 Mar, not 24 Mar")
    card.get_by_role("button", name="Apply to all 5").click()
    expect(page.get_by_text("Finish 31 Mar")).to_be_visible()
    assert chain.rows()["Dig"]["start"] == "2027-03-22T09:00:00"


@pytest.mark.usefixtures("own_threshold")
def test_a_person_says_from_which_length_a_task_is_long(sit: Callable[..., Desk], chain: Made) -> None:
    desk = sit()
    page = desk.go(f"/p/{chain.code}/planning")
    expect(page.get_by_text("longer than 20 days")).to_be_visible()
    limit = page.get_by_label("A task is long beyond")
    limit.fill("2.5")
    limit.press("Enter")
    expect(page.get_by_role("heading", name="Longer than 2.5 days · 1 task")).to_be_visible()


def test_shifting_the_project(sit: Callable[..., Desk], chain: Made) -> None:
    desk = sit()
    page = desk.go(f"/p/{chain.code}/planning")
    page.get_by_label("Shift the project to start on").fill("2027-03-15")
    page.get_by_role("button", name="Shift", exact=True).click()
    page.get_by_role("dialog").get_by_role("button", name="Apply to all 5").click()
    expect(page.get_by_text("Finish 31 Mar")).to_be_visible()


def test_a_branch_is_shifted_from_its_folio(sit: Callable[..., Desk], chain: Made) -> None:
    desk = sit()
    page = desk.go(f"/p/{chain.code}/outline")
    desk.cell("Dig", "title").click()
    page.keyboard.press("Alt+Enter")
    folio = page.get_by_role("complementary", name="Task")
    folio.get_by_role("button", name="More").click()
    page.get_by_role("menuitem", name="Shift to a new start").click()
    form = page.get_by_role("form", name="Shift to a new start")
    form.get_by_label("Let it start on").fill("2027-03-22")
    form.get_by_role("button", name="Shift", exact=True).click()
    page.get_by_role("dialog", name="What this change carries on").get_by_role("button", name="Apply to all 4").click()
    expect(desk.cell("Cure", "finish")).to_have_text("31 Mar")
    expect(form).to_have_count(0)


def test_what_is_unsound_is_named_and_mended(sit: Callable[..., Desk], chain: Made) -> None:
    edit(chain, "Pour", constraint_type="must_start", constraint_at="2027-03-16")
    desk = sit()
    page = desk.go(f"/p/{chain.code}/planning")
    heading = page.get_by_role("heading", name=re.compile("^Pins that fight links"))
    expect(heading).to_be_visible()
    page.get_by_role("button", name="Take the pin off, so that its links find its dates").click()
    page.get_by_role("dialog").get_by_role("button", name=re.compile("^Apply")).click()
    desk.saved()
    expect(heading).to_have_count(0)
    assert chain.rows()["Pour"]["start"] == "2027-03-18T09:00:00"


def test_a_plan_file_is_saved_and_brought_into_another_project(
    sit: Callable[..., Desk], chain: Made, running: Running, tmp_path: Path
) -> None:
    desk = sit()
    page = desk.go(f"/p/{chain.code}/planning")
    with page.expect_download() as saving:
        page.get_by_role("link", name="Save as a plan file").click()
    saving.value.save_as(tmp_path / "plan.json")
    other = Made(running)
    desk.go(f"/p/{other.code}/planning")
    page.get_by_label("Plan file").set_input_files(tmp_path / "plan.json")
    expect(page.get_by_text("Brought in 5 tasks")).to_be_visible()
    assert other.rows()["Cure"]["waits"] == "2 + 1 d"
    document = json.loads((tmp_path / "plan.json").read_text())
    (tmp_path / "bad.json").write_text(json.dumps(document | {"format": "other"}))
    page.get_by_label("Plan file").set_input_files(tmp_path / "bad.json")
    expect(page.get_by_role("alert")).to_contain_text("bad.json, format")


def test_who_is_booked_in_a_plan_file_is_matched_by_key(sit: Callable[..., Desk], made: Made, tmp_path: Path) -> None:
    made.ines("PATCH", f"/projects/{made.code}", {"revision": 999, "hours": True})
    made.add("Fit", duration="2 d")
    tomas = next(one["id"] for one in made.ines("GET", f"/projects/{made.code}/bookable") if one["name"] == "Tomas Brekke")
    plan = made.ines("GET", f"/projects/{made.code}/plan.json")
    plan["resources"] = [{"id": "k", "name": "Kran"}]
    plan["bookings"] = [{"task": plan["tasks"][0]["id"], "resource": "k", "minutes": 0, "shape": "by_day", "by_day": [300, 60]}]
    (tmp_path / "plan.json").write_text(json.dumps(plan))
    page = sit().go(f"/p/{made.code}/planning")
    expect(page.get_by_text("The file does not hold")).to_have_count(0)  # there is nothing that it leaves out
    page.get_by_label("Plan file").set_input_files(tmp_path / "plan.json")
    chosen = page.get_by_role("region", name="Names to match").get_by_label("Booked meant by Kran")
    chosen.focus()
    page.keyboard.type("Tomas B")
    expect(chosen).to_have_value(tomas)
    page.get_by_role("button", name="Import 1 task").press("Enter")
    expect(page.get_by_text("Brought in 1 task")).to_be_visible()
    came = max(made.ines("GET", f"/projects/{made.code}/tasks")["rows"], key=lambda row: row["number"])
    assert [(one["who"], one["by_day"]) for one in came["bookings"]] == [(tomas, [300, 60])]
    made.ines("POST", f"/tasks/{came['id']}/comments", {"body": "<p>Sand comes</p>"})
    page.reload()
    expect(page.get_by_text("The file does not hold")).to_contain_text("1 comment")


def test_a_calendar_address_is_made_and_withdrawn(sit: Callable[..., Desk], chain: Made) -> None:
    desk = sit()
    page = desk.go(f"/p/{chain.code}/planning")
    page.get_by_role("button", name=f"Address for {chain.code}").click()
    address = page.get_by_label("Address of the calendar").input_value()
    assert "SUMMARY:Cure" in page.request.get(address).text()
    with page.expect_response(lambda answer: answer.request.method == "DELETE" and answer.ok):
        page.get_by_role("listitem").filter(has_text=chain.code).get_by_role("button", name="Withdraw").click()
    expect(page.get_by_label("Address of the calendar")).to_have_count(0)
    assert page.request.get(address).status == 404


def test_holidays_are_added_previewed_and_move_what_they_must(sit: Callable[..., Desk], chain: Made) -> None:
    desk = sit()
    page = desk.go(f"/p/{chain.code}/settings/working-time")
    page.get_by_label("Country").select_option("IE")  # St Patrick's Day is 17 March
    page.get_by_role("button", name=re.compile(r"^Add 2027")).click()
    days = page.get_by_label("Working time by day")
    expect(days.get_by_role("listitem").filter(has_text=re.compile(r"^17(7\.5 h|off)$"))).to_have_text("17off")
    expect(page.get_by_text("157.5 h of work")).to_be_visible()
    page.get_by_role("button", name="Save the calendar").click()
    card = page.get_by_role("dialog", name="What this change carries on")
    expect(card).to_contain_text("the project finishes 25 Mar, not 24 Mar")
    card.get_by_role("button", name=re.compile("^Apply")).click()
    expect(page.get_by_text("Finish 25 Mar")).to_be_visible()


def test_the_schedule_is_printed_as_it_is_previewed(sit: Callable[..., Desk], chain: Made, tmp_path: Path) -> None:
    desk = sit()
    page = desk.go(f"/p/{chain.code}/schedule")
    desk.row("Dig").wait_for()
    page.get_by_role("button", name="Print").click()
    dialog = page.get_by_role("dialog", name="Print the schedule")
    expect(dialog.get_by_alt_text("Page 1 of 1")).to_be_visible()
    dialog.get_by_label("Time goes over").select_option("3")
    expect(dialog.get_by_alt_text("Page 1 of 3")).to_be_visible()
    dialog.get_by_role("button", name="Next page").click()
    expect(dialog.get_by_alt_text("Page 2 of 3")).to_be_visible()
    dialog.get_by_label("To").fill("2027-02-01")
    dialog.get_by_label("From").fill("2027-03-01")
    expect(dialog.get_by_role("alert")).to_contain_text("Turn them round")
    dialog.get_by_label("To").fill("")
    dialog.get_by_label("Paper").select_option("A3")
    expect(dialog.get_by_alt_text("Page 1 of 3")).to_be_visible()
    page.evaluate(AXE.read_text())
    found = page.evaluate("() => axe.run(document, {resultTypes: ['violations']})")
    assert [(v["id"], [n["html"][:160] for n in v["nodes"][:3]]) for v in found["violations"]] == []
    with page.expect_download() as download:
        dialog.get_by_role("link", name="PDF").click()
    path = tmp_path / "schedule.pdf"
    download.value.save_as(path)
    assert download.value.suggested_filename == f"{chain.code} schedule.pdf"
    assert len(re.findall(rb"/Type /Page\b", path.read_bytes())) == 3


def test_a_task_gets_a_calendar_of_its_own_and_an_elapsed_duration(sit: Callable[..., Desk], chain: Made) -> None:
    desk = sit()
    page = desk.go(f"/p/{chain.code}/settings/working-time")
    page.get_by_role("button", name="+ for some tasks").click()
    form = page.get_by_role("form", name="New calendar")
    form.get_by_role("button", name="Add the calendar").scroll_into_view_if_needed()
    form.get_by_label("Saturday").fill("08:00-12:00")
    form.get_by_role("button", name="Add the calendar").click()
    expect(form.get_by_role("alert")).to_contain_text("The calendar needs a name")
    form.get_by_label("Name", exact=True).fill("Saturdays")
    form.get_by_role("button", name="Add the calendar").click()
    expect(page.get_by_role("form", name="Saturdays")).to_be_visible()
    desk.go(f"/p/{chain.code}/schedule")
    desk.cell("Cure", "title").click()
    add_field(page, "Calendar")
    page.get_by_role("button", name="Calendar: the project’s").click()
    page.get_by_role("menuitem", name="Saturdays").click()
    page.get_by_role("dialog", name="What this change carries on").get_by_role("button", name="Apply to both").click()
    expect(page.get_by_role("button", name="Calendar: Saturdays")).to_be_visible()
    expect(desk.cell("Cure", "finish")).to_have_text("17 Apr")
    page.get_by_role("button", name="Close the task").click()
    desk.cell("Dig", "title").click()
    duration = page.get_by_label("Duration")
    expect(duration).to_have_value("3 d")
    duration.fill("2 days elapsed")
    duration.press("Enter")
    page.get_by_role("dialog", name="What this change carries on").get_by_role("button", name=re.compile("^Apply")).click()
    expect(duration).to_have_value("2 d elapsed")
    page.get_by_role("status").filter(has_text="All saved").wait_for()
    desk.go(f"/p/{chain.code}/settings/working-time")
    page.get_by_role("button", name="Saturdays").click()
    page.get_by_role("button", name="Delete it").click()
    expect(page.get_by_role("alert")).to_contain_text("“Cure” works by this calendar. Give them another first.")


def test_a_day_is_typed_as_people_say_it_or_chosen_from_a_month(sit: Callable[..., Desk], chain: Made) -> None:
    page = sit().go(f"/p/{chain.code}/planning")
    day = page.get_by_label("Status day")
    expect(day).to_have_value("17 Mar 2027")
    day.fill("next mon")
    expect(page.get_by_text("22 Mar 2027")).to_be_visible()  # said before it is used
    page.get_by_label("Shift the project to start on").click()
    expect(day).to_have_value("22 Mar 2027")
    expect(page.get_by_role("button", name="Replan from that day")).to_be_visible()
    day.fill("someday")
    expect(page.get_by_role("alert")).to_contain_text("someday")
    expect(day).to_have_value("someday")  # what was typed stays
    day.press("Alt+ArrowDown")
    expect(page.get_by_role("grid", name="March 2027")).to_be_visible()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    expect(day).to_have_value("24 Mar 2027")
    expect(page.get_by_role("alert")).to_have_count(0)
