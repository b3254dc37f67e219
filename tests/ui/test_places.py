"""The places around the lenses: starting and settling projects, people, the account, the bin, what happened."""

from __future__ import annotations

import re
import time
from collections.abc import Callable

import pytest
from playwright.sync_api import expect

from tests.running import Running
from tests.ui.conftest import Desk, Made
from tests.ui.test_story import drag, type_into


def test_the_first_minute_goes_from_line_to_line(sit: Callable[..., Desk]) -> None:
    """Whoever starts a project types on: the dialog's first field has the focus, then the line for the first task."""
    desk = sit()
    page = desk.go("/work")
    page.get_by_role("button", name="New project").click()
    expect(page.get_by_label("Name", exact=True)).to_be_focused()
    page.keyboard.type("Harbour light")
    expect(page.get_by_label("Code")).not_to_have_value("")
    page.get_by_role("button", name="Start the project").click()
    line = page.get_by_label("Write a task and press Enter")
    expect(line).to_be_focused()
    for title in ("Survey the tower", "Order glass"):
        page.keyboard.type(title)
        page.keyboard.press("Enter")
        expect(desk.row(title)).to_be_visible()
        expect(line).to_be_focused()
    desk.saved()
    page.keyboard.press("Control+z")
    expect(desk.row("Order glass")).to_have_count(0)
    expect(line).to_be_focused()
    line.evaluate(
        "(field) => { const data = new DataTransfer(); data.setData('text/plain', 'Cut\\nFit');"
        " field.dispatchEvent(new ClipboardEvent('paste', {clipboardData: data, bubbles: true, cancelable: true})); }"
    )
    expect(desk.row("Fit")).to_be_visible()
    expect(line).to_be_focused()
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(desk.row("Fit")).to_have_count(0)
    expect(line).to_be_focused()


def test_a_project_with_tasks_leaves_the_focus_to_the_page(sit: Callable[..., Desk], made: Made) -> None:
    made.add("A")
    desk = sit()
    page = desk.go(f"/p/{made.code}/outline")
    expect(desk.row("A")).to_be_visible()
    expect(page.get_by_label("Write a task and press Enter")).not_to_be_focused()


def test_a_code_that_is_taken_is_told_at_its_field(sit: Callable[..., Desk], made: Made) -> None:
    desk = sit()
    page = desk.go("/work")
    page.get_by_role("button", name="New project").click()
    page.get_by_role("button", name="Start the project").click()
    expect(page.get_by_text("A project needs a name.")).to_be_visible()
    page.get_by_label("Name").fill("Another one")
    page.get_by_label("Code").fill(made.code)
    page.get_by_role("button", name="Start the project").click()
    expect(page.get_by_text(f"Another project has the code {made.code}")).to_be_visible()
    expect(page.get_by_label("Name")).to_have_value("Another one")
    page.get_by_role("button", name="Cancel").click()
    expect(page.get_by_role("dialog")).to_have_count(0)


def test_a_member_is_not_offered_to_start_projects(sit: Callable[..., Desk]) -> None:
    page = sit("Tomas Brekke").go("/work")
    expect(page.get_by_role("link", name=re.compile("Lantern Room Restoration"))).to_be_visible()
    expect(page.get_by_role("button", name="New project")).to_have_count(0)
    expect(page.get_by_text("Opening Weekend")).to_have_count(0)  # it is private


def test_a_guest_sees_only_what_they_were_asked_into(sit: Callable[..., Desk]) -> None:
    page = sit("Mila Farouk").go("/work")
    expect(page.get_by_role("link", name=re.compile("Lantern Room Restoration"))).to_be_visible()
    expect(page.get_by_role("link", name=re.compile("Tide Mill"))).to_have_count(0)
    expect(page.get_by_role("navigation", name="Places").get_by_role("link", name="People")).to_have_count(0)


def test_the_list_of_all_work_is_live(sit: Callable[..., Desk], made: Made) -> None:
    desk = sit()
    page = desk.go("/work")
    line = page.get_by_role("row").filter(has_text=f"Project {made.code}")
    expect(line).to_contain_text("0 tasks")
    made.add("Overdue", start="2027-03-08", duration="1 d")
    expect(line).to_contain_text("1 task")
    expect(line).to_contain_text("Slipping")


def test_a_project_is_renamed_archived_and_restored(sit: Callable[..., Desk], made: Made) -> None:
    made.add("A")
    desk = sit()
    page = desk.go(f"/p/{made.code}/settings")
    page.get_by_label("Name", exact=True).first.fill("Boat shed")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_role("heading", name="Boat shed")).to_be_visible()
    page.get_by_role("button", name="Archive the project").click()
    expect(page.get_by_text("Archived: it can be read, not changed")).to_be_visible()
    desk.go(f"/p/{made.code}/outline")
    expect(desk.row("A")).to_be_visible()
    expect(page.get_by_label("Write a task and press Enter")).to_have_count(0)
    desk.go("/work")
    page.get_by_role("button", name="at work").click()
    expect(page.get_by_role("link", name=re.compile("Boat shed"))).to_be_visible()
    desk.go(f"/p/{made.code}/settings")
    page.get_by_role("button", name="Restore the project").click()
    expect(page.get_by_text("Archived: it can be read")).to_have_count(0)


def test_members_are_added_and_their_role_changed(sit: Callable[..., Desk], made: Made) -> None:
    desk = sit()
    page = desk.go(f"/p/{made.code}/settings/members")
    page.get_by_role("button", name="Add a member").click()
    page.get_by_role("option", name="Tomas Brekke").click()
    expect(page.get_by_label("Role of Tomas Brekke")).to_have_value("contributor")
    page.get_by_label("Role of Tomas Brekke").select_option("viewer")
    desk.saved()
    tomas = next(p["id"] for p in made.ines("GET", "/people") if p["name"] == "Tomas Brekke")
    assert made.ines("GET", f"/projects/{made.code}")["members"][tomas] == "viewer"
    page.get_by_role("button", name="Take Tomas Brekke out").click()
    expect(page.get_by_label("Role of Tomas Brekke")).to_have_count(0)


def test_a_holiday_moves_the_finish(sit: Callable[..., Desk], made: Made) -> None:
    made.add("A", start="2027-03-18", duration="3 d")
    desk = sit()
    page = desk.go(f"/p/{made.code}/settings/working-time")
    page.get_by_label("Monday").fill("whenever")
    page.get_by_role("button", name="Save the calendar").click()
    expect(page.get_by_role("alert")).to_contain_text("Monday: write hours as")
    page.get_by_label("Monday").fill("9-13, 14-17:30")
    page.get_by_role("button", name="+ a day that differs").click()
    page.get_by_label("First day").fill("2027-03-19")
    page.get_by_label("Name", exact=True).last.fill("Harbour day")
    page.get_by_role("button", name="Save the calendar").click()
    page.get_by_role("dialog", name="What this change carries on").get_by_role("button", name="Apply to one").click()
    desk.saved()
    desk.go(f"/p/{made.code}/outline")
    expect(desk.cell("A", "finish")).to_have_text("23 Mar")


def test_the_order_of_states_is_the_order_of_columns(sit: Callable[..., Desk], made: Made) -> None:
    made.add("A")
    desk = sit()
    page = desk.go(f"/p/{made.code}/settings/workflow")
    page.get_by_role("button", name="Move In review up").click()
    desk.saved()
    desk.go(f"/p/{made.code}/board")
    heads = page.get_by_role("region", name="Board").get_by_role("heading", level=2)
    expect(heads).to_have_text(["Ready", "In review", "Under way", "Finished"])


def test_what_was_deleted_is_restored_from_the_bin(sit: Callable[..., Desk], made: Made) -> None:
    made.add("Keep", "Throw away")
    desk = sit()
    page = desk.go(f"/p/{made.code}/outline")
    desk.cell("Throw away", "title").click()
    page.keyboard.press("Delete")
    expect(desk.row("Throw away")).to_have_count(0)
    desk.page_of_project("Bin")
    item = page.get_by_role("listitem").filter(has_text="Throw away")
    expect(item).to_contain_text("deleted today")
    item.get_by_role("button", name="Restore").click()
    expect(page.get_by_text("The bin is empty")).to_be_visible()
    page.get_by_role("link", name="Outline").click()
    expect(desk.row("Throw away")).to_be_visible()


def test_activity_tells_who_changed_what(sit: Callable[..., Desk], made: Made) -> None:
    made.add("A")
    desk = sit()
    page = desk.go(f"/p/{made.code}/outline")
    type_into(desk, "A", "duration", "2 days")
    desk.saved()
    desk.page_of_project("Activity")
    first = page.get_by_role("region", name="Activity").get_by_role("listitem").first
    expect(first).to_contain_text("Ines Oduya changed duration")
    expect(first).to_contain_text("A: duration none → 2 d")
    page.get_by_role("region", name="Activity").get_by_role("button", name="open").first.click()
    expect(page.get_by_label("Task", exact=True).get_by_label("Title")).to_have_value("A")
    page.keyboard.press("Escape")
    expect(page.get_by_label("Task", exact=True)).to_have_count(0)


def test_a_password_is_chosen_and_used(sit: Callable[..., Desk]) -> None:
    desk = sit("Mila Farouk")
    page = desk.go("/account")
    page.get_by_label("New password").fill("short")
    page.get_by_role("button", name="Change the password").click()
    expect(page.get_by_role("alert")).to_contain_text("10 to 200 characters")
    page.get_by_label("New password").fill("limestone and lichen")
    page.get_by_role("button", name="Change the password").click()
    expect(page.get_by_text("Your password is changed")).to_be_visible()
    page.get_by_role("button", name="Mila Farouk: account").click()
    page.get_by_role("menuitem", name="Sign out").click()
    page.get_by_label("E-mail").fill("mila.farouk@corvane.example")
    page.get_by_label("Password").fill("wrong word here")
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("alert")).to_contain_text("do not match")
    page.get_by_label("Password").fill("limestone and lichen")
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("navigation", name="Places")).to_be_visible()


def test_roles_of_people_change(sit: Callable[..., Desk]) -> None:
    desk = sit("Beatrix Eze")
    page = desk.go("/people")
    page.get_by_label("Role of Lucia Tamaki").select_option("guest")
    desk.saved()
    page.reload()
    expect(page.get_by_label("Role of Lucia Tamaki")).to_have_value("guest")
    page.get_by_label("Role of Lucia Tamaki").select_option("member")
    page.get_by_label("Role of Beatrix Eze").select_option("guest")
    expect(page.get_by_role("alert")).to_contain_text("Somebody has to administer")


@pytest.mark.parametrize("lens", ["outline", "board", "schedule"])
def test_the_csv_file_holds_what_the_lens_shows(sit: Callable[..., Desk], made: Made, lens: str) -> None:
    made.add("Glass", start="mon", duration="2 d")
    made.add("Leak", kind="defect")
    page = sit().go(f"/p/{made.code}/{lens}?kind=defect")
    with page.expect_download() as waiting:
        page.get_by_role("link", name="CSV", exact=True).click()
    text = waiting.value.path().read_text("utf-8-sig")
    assert text.splitlines()[0].startswith("Code,")
    assert "Leak" in text
    assert "Glass" not in text


def test_rows_of_the_board_set_what_they_stand_for(sit: Callable[..., Desk], made: Made) -> None:
    tomas = next(p["id"] for p in made.ines("GET", "/people") if p["name"] == "Tomas Brekke")
    made.add("His", owner_id=tomas)
    made.add("Nobody's")
    page = sit().go(f"/p/{made.code}/board?rows=owner")
    slip = page.locator("[data-slip]").filter(has_text="Nobody's")
    drag(page, slip, page.get_by_role("list", name="Under way, Tomas Brekke"))
    expect(page.get_by_role("list", name="Under way, Tomas Brekke").get_by_text("Nobody's")).to_be_visible()
    page.get_by_role("status").filter(has_text="All saved").wait_for()
    row = made.rows()["Nobody's"]
    assert (row["owner_id"], row["state_class"]) == (tomas, "active")


def test_finished_work_leaves_the_board_after_the_period_shown(sit: Callable[..., Desk]) -> None:
    page = sit().go("/p/LAN/board?days=3")
    finished = page.get_by_role("list", name="Finished")
    expect(finished.get_by_text("Renew stair nosings")).to_have_count(0)
    page.get_by_role("button", name="last 3 days").click()
    page.get_by_label("last 90 days").check()
    expect(finished.get_by_text("Renew stair nosings")).to_be_visible()
    expect(finished.get_by_text("Measure glazing bars")).to_be_visible()


def test_one_change_on_many_chosen_tasks(sit: Callable[..., Desk], made: Made) -> None:
    made.add("A", "B", "C")
    desk = sit()
    page = desk.go(f"/p/{made.code}/outline")
    desk.cell("A", "title").click()
    page.keyboard.press("Shift+ArrowDown")
    expect(page.get_by_text("2 tasks chosen")).to_be_visible()
    desk.cell("A", "priority").get_by_role("button").click()
    page.get_by_role("menuitem", name="must").click()
    expect(desk.cell("B", "priority")).to_have_text("must")
    expect(desk.cell("C", "priority")).to_have_text("")
    page.get_by_role("button", name="Undo").click()
    expect(desk.cell("A", "priority")).to_have_text("")
    expect(desk.cell("B", "priority")).to_have_text("")


def test_the_facet_is_the_button_for_state(sit: Callable[..., Desk], made: Made) -> None:
    made.add("A")
    desk = sit()
    page = desk.go(f"/p/{made.code}/outline")
    desk.row("A").hover()
    desk.row("A").get_by_role("button", name="State of A", exact=True).click()
    page.get_by_role("menuitem", name="Finished").click()
    expect(desk.row("A").get_by_role("img", name="finished")).to_be_visible()
    expect(desk.cell("A", "percent")).to_have_text("100 %")


def test_summaries_are_read_and_not_typed(sit: Callable[..., Desk], made: Made) -> None:
    made.ines("POST", f"/projects/{made.code}/tasks/paste", {"text": "Top\n  Under"})
    desk = sit()
    page = desk.go(f"/p/{made.code}/outline")
    desk.cell("Top", "finish").dblclick()
    expect(page.get_by_role("textbox", name="Finish")).to_have_count(0)
    expect(desk.cell("Top", "finish")).to_have_attribute("aria-readonly", "true")
    type_into(desk, "Under", "finish", "fri")
    expect(desk.cell("Top", "finish")).to_have_text("19 Mar")


def test_an_address_that_leads_nowhere_says_so(sit: Callable[..., Desk]) -> None:
    desk = sit()
    page = desk.page
    page.goto(f"{desk.url}/p/NOPE/outline")
    expect(page.get_by_role("alert")).to_contain_text("There is no such project, or you may not see it")
    page.goto(f"{desk.url}/nowhere")
    expect(page.get_by_text("There is nothing at this address")).to_be_visible()


def test_an_empty_project_offers_the_first_step(sit: Callable[..., Desk], made: Made) -> None:
    desk = sit()
    page = desk.go(f"/p/{made.code}/brief")
    expect(page.get_by_role("region", name="Brief")).to_contain_text("Nothing is written down yet")
    for lens, words in (
        ("outline", "Write down what has to be done"),
        ("board", "Move work as it moves"),
        ("schedule", "See the work in time"),
        ("bin", "The bin is empty"),
    ):
        desk.go(f"/p/{made.code}/{lens}")
        expect(page.get_by_text(words)).to_be_visible()


def test_the_changes_of_another_ask_little_of_a_page_and_nothing_of_other_projects(
    sit: Callable[..., Desk], made: Made, running: Running
) -> None:
    made.add(*[f"Task {n}" for n in range(20)])
    elsewhere = Made(running)
    elsewhere.add("Quiet")
    here, there = sit(), sit("Tomas Brekke")
    asked: dict[str, list[str]] = {"here": [], "there": []}
    for desk, project in ((here, made), (there, elsewhere)):
        page = desk.go(f"/p/{project.code}/outline")
        page.locator("[role=row][data-row]").first.wait_for()
        page.get_by_role("button", name="Columns").wait_for()  # what can be shown is known: nothing of the first load is left
        page.get_by_role("button", name="Keep this sheet").wait_for()
    for desk, where in ((here, "here"), (there, "there")):
        desk.page.on("request", lambda request, where=where: asked[where].append(request.url) if "/api/" in request.url else None)
    rows, began = made.rows(), time.monotonic()
    for n in range(20):
        edit = {"id": rows[f"Task {n}"]["id"], "revision": rows[f"Task {n}"]["revision"], "fields": {"title": f"Done {n}"}}
        made.ines("PATCH", f"/projects/{made.code}/tasks", {"tasks": [edit]})
    for n in range(20):
        expect(here.row(f"Done {n}")).to_be_visible()
    # about one a second, the first at once and one after the last, however long this machine takes for the edits
    assert len(asked["here"]) <= 2 + (time.monotonic() - began) / 0.9, asked["here"]
    assert [one for one in asked["there"] if "/notices/count" not in one] == []  # which is asked once a minute


STANDS_IN = """() => {
  window.stoodIn = [];
  const note = () => document.querySelectorAll('[role=status]').forEach((one) => window.stoodIn.push(one.ariaLabel || one.textContent));
  document.addEventListener('DOMContentLoaded', () => new MutationObserver(note).observe(document.body, {childList: true, subtree: true}));
}"""


def test_nothing_stands_in_for_a_page_whose_code_is_there(sit: Callable[..., Desk], made: Made) -> None:
    made.add("A")
    desk = sit()
    page = desk.go(f"/p/{made.code}/outline")
    expect(desk.row("A")).to_be_visible()
    page.add_init_script(f"({STANDS_IN})()")
    page.reload()
    expect(desk.row("A")).to_be_visible()
    stood_in = {one for one in page.evaluate("window.stoodIn") if one and one.startswith("Loading")}
    assert "Loading Rhodonite" in stood_in, "while code and session come"
    of_data = {"Loading the project", "Loading the tasks"}  # whichever of the two answers first
    assert stood_in - of_data == {"Loading Rhodonite"}, "a page or a lens was fetched after it was drawn"


def test_a_slow_network_shows_what_is_coming_and_then_the_page(sit: Callable[..., Desk], made: Made) -> None:
    made.add("A")
    desk = sit()
    desk.go("/work")
    page = desk.page
    page.route(re.compile(r"/assets/.*\.js"), lambda route: (page.wait_for_timeout(30), route.continue_()))
    page.goto(f"{desk.url}/p/{made.code}/board")
    expect(page.locator("[data-slip]").first).to_be_visible()
    page.get_by_role("link", name="Outline").click()
    expect(desk.row("A")).to_be_visible()


def test_each_chooses_where_it_opens(sit: Callable[..., Desk], made: Made) -> None:
    desk = sit("Tomas Brekke")
    page = desk.go("/")
    expect(page).to_have_url(re.compile("/desk$"))
    desk.go("/account")
    page.get_by_label("Rhodonite opens at").select_option("reports")
    expect(page.get_by_text("Kept.")).to_be_visible()
    desk.go("/")
    expect(page).to_have_url(re.compile("/reports$"))
    desk.go("/account")
    page.get_by_label("Rhodonite opens at").select_option("")
    expect(page.get_by_text("Kept.").first).to_be_visible()
