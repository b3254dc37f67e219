"""What people do in the lenses, with pointer and keyboard."""

from __future__ import annotations

import json
import re
from collections.abc import Callable
from urllib.parse import urlencode

import pytest
from playwright.sync_api import Page, expect

from tests.ui.conftest import AXE, Desk, Made, add_field
from tests.ui.test_story import drag, type_into


def test_pasted_lines_become_nested_tasks_and_one_undo_takes_them_back(sit: Callable[..., Desk], made: Made) -> None:
    desk = sit()
    page = desk.go(f"/p/{made.code}/outline")
    page.get_by_label("Write a task and press Enter").focus()
    page.evaluate(
        """text => { const data = new DataTransfer(); data.setData('text/plain', text);
        document.activeElement.dispatchEvent(new ClipboardEvent('paste', {clipboardData: data, bubbles: true, cancelable: true})) }""",
        "Glazing\n  Bars\n  Panes\nLens",
    )
    expect(desk.row("Panes")).to_have_attribute("aria-level", "2")
    assert desk.titles() == ["1 Glazing", "1.1 Bars", "1.2 Panes", "2 Lens"]
    page.get_by_role("button", name="Undo").click()
    expect(desk.row("Glazing")).to_have_count(0)
    page.get_by_role("button", name="Do it again").click()
    expect(desk.row("Lens")).to_be_visible()


def test_the_outline_is_a_grid_for_the_keyboard(sit: Callable[..., Desk], made: Made) -> None:
    made.add("A", "B", "C")
    desk = sit()
    page = desk.go(f"/p/{made.code}/outline")
    # as on a slow machine, where a key comes while an earlier answer is still being drawn
    page.context.new_cdp_session(page).send("Emulation.setCPUThrottlingRate", {"rate": 4})
    desk.cell("A", "title").click()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("F2")
    page.keyboard.type("Better B")
    page.keyboard.press("Enter")
    expect(desk.row("Better B")).to_be_visible()
    expect(desk.cell("C", "title")).to_be_focused()
    page.keyboard.press("Alt+ArrowUp")
    expect(page.locator("[role=row][data-row]").nth(1)).to_contain_text("C")
    page.keyboard.press("Alt+ArrowRight")
    expect(desk.row("C")).to_have_attribute("aria-level", "2")
    page.keyboard.press("ArrowLeft")  # to its parent
    expect(desk.cell("A", "title")).to_be_focused()
    page.keyboard.press("ArrowLeft")  # which folds
    expect(desk.row("A")).to_have_attribute("aria-expanded", "false")
    expect(desk.row("C")).to_have_count(0)
    page.keyboard.press("ArrowRight")
    expect(desk.row("C")).to_be_visible()
    desk.cell("Better B", "title").click()
    page.keyboard.press("Delete")
    expect(desk.row("Better B")).to_have_count(0)
    page.keyboard.press("Control+z")
    expect(desk.row("Better B")).to_be_visible()


def test_what_cannot_be_read_stays_typed_with_the_reason(sit: Callable[..., Desk], made: Made) -> None:
    made.add("A")
    desk = sit()
    page = desk.go(f"/p/{made.code}/outline")
    type_into(desk, "A", "start", "soonish")
    expect(page.get_by_role("alert")).to_contain_text("“soonish” is no date")
    expect(page.get_by_role("textbox", name="Start")).to_have_value("soonish")
    page.keyboard.press("Escape")
    expect(desk.cell("A", "start")).to_have_text("")


def test_rows_are_dragged_many_at_once(sit: Callable[..., Desk], made: Made) -> None:
    made.add("A", "B", "C", "D")
    desk = sit()
    page = desk.go(f"/p/{made.code}/outline")
    desk.cell("C", "title").click()
    desk.cell("D", "title").click(modifiers=["Shift"])
    desk.row("C").hover()
    grip = desk.row("C").locator("[data-grip]").bounding_box()
    first = desk.row("A").bounding_box()
    assert grip
    assert first
    page.mouse.move(grip["x"] + 6, grip["y"] + 8)
    page.mouse.down()
    page.mouse.move(grip["x"] + 6, grip["y"] - 30, steps=5)
    page.mouse.move(grip["x"] + 6, first["y"] + 2, steps=8)
    page.mouse.up()
    expect(page.locator("[role=row][data-row]").first).to_contain_text("C")
    assert [title.split()[1] for title in desk.titles()] == ["C", "D", "A", "B"]


def test_the_sentence_narrows_and_stays_in_the_address(sit: Callable[..., Desk], made: Made) -> None:
    made.add("Glass", owner_id=None)
    made.add("Leak", kind="defect", start="2027-03-08", duration="2 d")
    desk = sit()
    page = desk.go(f"/p/{made.code}/outline")
    page.get_by_role("button", name="all work").click()
    page.get_by_label("defects").check()
    page.keyboard.press("Escape")
    expect(desk.row("Glass")).to_have_count(0)
    expect(page.get_by_role("search")).to_contain_text("1 of 2 tasks")
    page.get_by_role("link", name="Board").click()
    expect(page.locator("[data-slip]")).to_have_count(1)
    again = sit()
    again.go(page.url.removeprefix(again.url).replace("board", "outline"))
    expect(again.row("Leak")).to_be_visible()
    expect(again.row("Glass")).to_have_count(0)
    again.page.get_by_role("button", name="show all").click()
    expect(again.row("Glass")).to_be_visible()


def test_two_edits_of_one_field_are_shown_side_by_side(sit: Callable[..., Desk], made: Made) -> None:
    made.add("A")
    ines, beatrix = sit(), sit("Beatrix Eze")
    ines.go(f"/p/{made.code}/outline")
    beatrix.go(f"/p/{made.code}/outline")
    row = made.rows()["A"]
    expect(ines.row("A")).to_be_visible()
    # hold the news back from Ines, so that she edits what she saw
    ines.page.route("**/api/projects/*/page?*", lambda route: route.abort())
    type_into(beatrix, "A", "title", "Theirs")
    expect(beatrix.row("Theirs")).to_be_visible()
    type_into(ines, "A", "title", "Mine")
    dialog = ines.page.get_by_role("dialog", name="Two people changed the same field")
    expect(dialog).to_contain_text("Mine")
    expect(dialog).to_contain_text("Theirs")
    expect(dialog).to_contain_text("Beatrix Eze")
    ines.page.unroute("**/api/projects/*/page?*")
    dialog.get_by_role("button", name="Keep mine").click()
    expect(beatrix.row("Mine")).to_be_visible()
    assert made.rows()["Mine"]["id"] == row["id"]


def test_changes_wait_while_the_server_is_away(sit: Callable[..., Desk], made: Made) -> None:
    made.add("A")
    desk = sit()
    page = desk.go(f"/p/{made.code}/outline")
    expect(desk.row("A")).to_be_visible()
    page.context.set_offline(True)
    type_into(desk, "A", "title", "Typed offline")
    expect(page.get_by_role("status").filter(has_text="Offline: 1 change waiting")).to_be_visible()
    page.context.set_offline(False)
    expect(page.get_by_role("status").filter(has_text="All saved")).to_be_visible()
    assert "Typed offline" in made.rows()


def test_a_session_that_ended_is_opened_over_the_page(sit: Callable[..., Desk], made: Made) -> None:
    made.add("A")
    desk = sit()
    page = desk.go(f"/p/{made.code}/outline")
    desk.cell("A", "title").dblclick()
    page.get_by_role("textbox", name="Title").fill("Typed before")
    page.context.clear_cookies()  # while somebody types
    page.keyboard.press("Enter")
    page.get_by_role("dialog", name="Your session has ended").get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("status").filter(has_text="All saved")).to_be_visible()
    assert "Typed before" in made.rows()


def test_a_slip_that_arrives_late_does_not_take_the_focus_back(sit: Callable[..., Desk], made: Made) -> None:
    made.add("A", "B")
    desk = sit()
    page = desk.go(f"/p/{made.code}/board")
    slip = lambda title: page.locator("[data-slip]").filter(has_text=re.compile(f"^{title}"))  # noqa: E731
    slip("A").focus()
    desk.answers_take(700)
    page.keyboard.press("Alt+ArrowRight")
    expect(page.get_by_role("list", name="Under way").get_by_text("A")).to_be_visible()
    slip("B").focus()
    page.get_by_role("status").filter(has_text="All saved").wait_for()
    expect(slip("B")).to_be_focused()
    page.keyboard.press("Alt+ArrowRight")
    expect(page.get_by_role("list", name="Under way").locator("[data-slip]")).to_have_count(2)


def test_the_board_with_pointer_and_keyboard(sit: Callable[..., Desk], made: Made) -> None:
    made.add("A", "B", "C")
    desk = sit()
    page = desk.go(f"/p/{made.code}/board")
    slip = lambda title: page.locator("[data-slip]").filter(has_text=re.compile(f"^{title}"))  # noqa: E731
    drag(page, slip("B"), page.get_by_role("list", name="Finished"))
    expect(page.get_by_role("list", name="Finished").get_by_text("B")).to_be_visible()
    page.get_by_role("status").filter(has_text="All saved").wait_for()
    assert (made.rows()["B"]["percent"], made.rows()["B"]["state_class"]) == (100, "finished")
    slip("A").focus()
    page.keyboard.press("Alt+ArrowRight")
    expect(page.get_by_role("list", name="Under way").get_by_text("A")).to_be_visible()
    slip("C").focus()
    page.keyboard.press("Alt+ArrowRight")
    expect(page.get_by_role("list", name="Under way").locator("[data-slip]").first).to_contain_text("C")
    slip("C").focus()
    page.keyboard.press("Alt+ArrowDown")
    expect(page.get_by_role("list", name="Under way").locator("[data-slip]").first).to_contain_text("A")
    page.get_by_role("status").filter(has_text="All saved").wait_for()
    page.reload()
    expect(page.get_by_role("list", name="Under way").locator("[data-slip]").nth(1)).to_contain_text("C")


def test_limits_show_in_notches_and_rows_can_be_chosen(sit: Callable[..., Desk]) -> None:
    desk = sit()
    page = desk.go("/p/LAN/board")
    expect(page.get_by_role("img", name="4 of 3, over the limit")).to_be_visible()
    page.get_by_role("button", name="one row").click()
    page.get_by_label("rows by owner").check()
    expect(page.get_by_role("heading", name="Callum Reyes")).to_be_visible()
    assert "rows=owner" in page.url


def test_bars_are_moved_and_stretched(sit: Callable[..., Desk], made: Made) -> None:
    made.add("A", start="2027-03-17", duration="3 d")
    desk = sit()
    page = desk.go(f"/p/{made.code}/schedule")
    bar = page.locator("[data-bar]").bounding_box()
    assert bar
    page.mouse.move(bar["x"] + 20, bar["y"] + 10)
    page.mouse.down()
    page.mouse.move(bar["x"] + 20 + 22, bar["y"] + 10, steps=6)  # a working day at the scale of weeks
    expect(page.get_by_text("+1 d")).to_be_visible()
    page.mouse.up()
    expect(desk.cell("A", "start")).to_have_text("18 Mar")
    expect(desk.cell("A", "finish")).to_have_text("22 Mar")
    expect(desk.cell("A", "bar")).to_be_focused()
    page.keyboard.press("Alt+Shift+ArrowRight")
    expect(desk.cell("A", "finish")).to_have_text("23 Mar")
    page.keyboard.press("Alt+ArrowLeft")
    expect(desk.cell("A", "start")).to_have_text("17 Mar")
    expect(desk.cell("A", "bar")).to_have_accessible_name(re.compile("Wednesday 17 March 2027, 09:00 to Monday 22 March"))
    page.get_by_role("button", name="day", exact=True).click()
    expect(page.get_by_role("button", name="day", exact=True)).to_have_attribute("aria-pressed", "true")


def test_the_horizon_limits_every_lens(sit: Callable[..., Desk], made: Made) -> None:
    made.add("Early", start="2027-03-08", duration="2 d")
    made.add("Late", start="2027-04-19", duration="2 d")
    desk = sit()
    page = desk.go(f"/p/{made.code}/outline")
    strip = page.get_by_role("application", name=re.compile("^Horizon"))
    box = strip.bounding_box()
    assert box
    page.mouse.move(box["x"] + box["width"] * 0.6, box["y"] + 20)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] - 20, box["y"] + 20, steps=5)
    page.mouse.up()
    expect(desk.row("Early")).to_have_count(0)
    expect(desk.row("Late")).to_be_visible()
    expect(page.get_by_role("search")).to_contain_text("at work between")
    strip.focus()
    page.keyboard.press("Escape")
    expect(desk.row("Early")).to_be_visible()


def test_one_field_finds_and_writes(sit: Callable[..., Desk], made: Made) -> None:
    desk = sit()
    page = desk.go("/work")
    page.keyboard.press("/")
    page.keyboard.type("curved panes")
    page.get_by_role("option", name="Order curved panes").click()
    expect(page.get_by_label("Task", exact=True).get_by_label("Title")).to_have_value("Order curved panes")
    page.keyboard.press("Escape")
    page.get_by_placeholder("Find work").fill(f"Survey the gallery rail, Tomas, 6h, by fri, in {made.code}")
    for words in ("Tomas Brekke", "takes 6 h", "finish Fri 19 Mar", f"in {made.code}"):
        expect(page.get_by_role("option").get_by_text(words)).to_be_visible()
    page.keyboard.press("Control+Enter")
    expect(page.get_by_role("status").filter(has_text="Added")).to_be_visible()
    assert made.rows()["Survey the gallery rail"]["duration"] == 360


def test_the_folio_edits_every_field(sit: Callable[..., Desk], made: Made) -> None:
    made.add("A")
    desk = sit()
    page = desk.go(f"/p/{made.code}/outline?open={made.rows()['A']['id']}")
    folio = page.get_by_label("Task", exact=True)
    for label, text in (
        ("Start", "mon"),
        ("Duration", "2 days"),
        ("Deadline", "1 Apr"),
        ("Percent done", "30"),
        ("Effort", "12"),
        ("Held by", "rain"),
    ):
        if label in {"Deadline", "Effort", "Held by"}:
            add_field(page, label)
            expect(folio.get_by_label(label, exact=True)).to_be_focused()
        folio.get_by_label(label, exact=True).fill(text)
        page.keyboard.press("Enter")
        expect(page.get_by_role("status").filter(has_text="All saved")).to_be_visible()
    folio.get_by_role("button", name="Describe").click()
    folio.get_by_role("textbox", name="Description").fill("Until the last pane sits.")
    folio.get_by_role("button", name="Save", exact=True).click()
    expect(folio.get_by_role("textbox", name="Description")).to_have_count(0)  # it closes once it is saved
    expect(folio).to_contain_text("Held since today by rain")
    row = made.rows()["A"]
    assert (row["finish"], row["effort"], row["percent"], row["held_reason"]) == ("2027-03-23T17:30:00", 720, 30, "rain")
    assert made.ines("GET", f"/tasks/{row['id']}")["description"] == "<p>Until the last pane sits.</p>"
    folio.get_by_role("button", name=re.compile("^Owner")).click()
    page.get_by_role("option", name="Yuki Hartmann").click()
    expect(folio).to_contain_text("Yuki H. answers for it")


def test_what_has_really_happened_is_typed_in_the_folio_and_the_outline(sit: Callable[..., Desk], made: Made) -> None:
    made.add("A", start="2027-03-10", duration="3 d")
    desk = sit()
    page = desk.go(f"/p/{made.code}/outline?open={made.rows()['A']['id']}")
    folio = page.get_by_label("Task", exact=True)
    add_field(page, "Started on")
    folio.get_by_label("Started on", exact=True).fill("11 mar")
    page.keyboard.press("Enter")
    expect(folio.get_by_role("button", name="State: Under way")).to_be_visible()
    add_field(page, "Finished on")
    folio.get_by_label("Finished on", exact=True).fill("15 mar")
    page.keyboard.press("Enter")
    expect(folio.get_by_role("button", name="State: Finished")).to_be_visible()
    folio.get_by_label("Finished on", exact=True).fill("next fri")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("lies in the past")
    view = json.dumps({"columns": [{"key": "actual_start"}, {"key": "actual_finish"}]})
    desk.go(f"/p/{made.code}/outline?{urlencode({'view': view})}")
    expect(desk.cell("A", "actual_finish")).to_have_text("15 Mar")
    desk.cell("A", "actual_finish").dblclick()
    page.keyboard.type("12 mar")
    page.keyboard.press("Enter")
    expect(desk.cell("A", "actual_finish")).to_have_text("12 Mar")
    row = made.rows()["A"]
    assert (row["actual_start"], row["actual_finish"]) == ("2027-03-11T09:00:00", "2027-03-12T17:30:00")


def choose_csv(page: Page, text: str) -> None:
    file = {"name": "plan.csv", "mimeType": "text/csv", "buffer": text.encode()}
    page.set_input_files("input[type=file]", [file])  # type: ignore[arg-type]


def test_csv_comes_in_after_a_look(sit: Callable[..., Desk], made: Made) -> None:
    desk = sit()
    page = desk.go(f"/p/{made.code}/import")
    choose_csv(page, "No,Task,When\n1,Glazing,\n1.1,Bars,soon\n")
    expect(page.get_by_label("Field for Task")).to_have_value("title")
    page.get_by_label("Field for When").select_option("start")
    expect(page.get_by_text("“soon” is no date")).to_be_visible()
    expect(page.get_by_role("button", name="Import 2 tasks")).to_be_disabled()
    page.get_by_label("Field for When").select_option("")
    page.get_by_role("button", name="Import 2 tasks").click()
    expect(desk.row("Bars")).to_have_attribute("aria-level", "2")


def test_names_in_a_csv_file_are_matched_by_hand(sit: Callable[..., Desk], made: Made) -> None:
    desk = sit()
    page = desk.go(f"/p/{made.code}/import")
    choose_csv(page, "Task,Who,Status\nBars,Tomas Breke,Cancelled\nPanes,Night crew,Ready\n")
    names = page.get_by_role("region", name="Names to match")
    expect(names.get_by_label("State meant by Cancelled").locator("option:checked")).to_have_text("Dropped")
    expect(names.get_by_label("Person meant by Night crew").locator("option:checked")).to_have_text("leave out: nobody")
    names.get_by_label("Person meant by Night crew").select_option("Yuki Hartmann")
    page.get_by_role("button", name="Import 2 tasks").click()
    expect(desk.row("Panes")).to_be_visible()
    people = {one["id"]: one["name"] for one in made.ines("GET", "/people")}
    owners = {title: people[row["owner_id"]] for title, row in made.rows().items()}
    assert owners == {"Bars": "Tomas Brekke", "Panes": "Yuki Hartmann"}
    assert made.rows()["Bars"]["state_class"] == "dropped"


def test_a_long_csv_file_comes_in_by_the_worker_and_can_be_cancelled(sit: Callable[..., Desk], made: Made) -> None:
    desk = sit()
    page = desk.go(f"/p/{made.code}/import")
    choose_csv(page, "Task\n" + "".join(f"Pane {number}\n" for number in range(3000)))
    page.get_by_role("button", name="Import 3,000 tasks").click()
    page.get_by_role("button", name="Cancel", exact=True).click()
    expect(page.get_by_text("Cancelled: nothing was imported")).to_be_visible()
    assert made.rows() == {}
    page.get_by_role("button", name="Import 3,000 tasks").click()
    expect(page.get_by_role("progressbar")).to_be_visible()
    expect(desk.row("Pane 0")).to_be_visible(timeout=60_000)
    assert len(made.rows()) == 3000


def test_the_desk_pushes_work(sit: Callable[..., Desk], made: Made) -> None:
    made.add("Overdue", owner_id=made.ines("GET", "/session")["person"]["id"], start="2027-03-15", duration="1 d")
    desk = sit()
    page = desk.go("/desk")
    page.get_by_role("button", name="Overdue: to Monday").click()
    later = page.get_by_role("listitem").filter(has_text="Overdue").filter(has_text="pushed once")
    expect(later).to_contain_text("due Mon")
    assert made.rows()["Overdue"]["finish"] == "2027-03-22T17:30:00"


def test_settings_change_the_workflow(sit: Callable[..., Desk], made: Made) -> None:
    made.add("A")
    desk = sit()
    page = desk.go(f"/p/{made.code}/settings/workflow")
    page.get_by_label("Name of a new state").fill("On the bench")
    page.get_by_role("button", name="Add a state").click()
    page.get_by_label("Limit of On the bench").fill("3")
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Delete In review").click()
    page.get_by_role("button", name="Delete the state").click()
    desk.saved()
    expect(page.get_by_role("button", name="Delete In review")).to_have_count(0)
    names = [(state["name"], state["limit"]) for state in made.ines("GET", f"/projects/{made.code}")["states"]]
    assert names == [("Ready", None), ("Under way", None), ("On the bench", 3), ("Finished", None), ("Dropped", None)]


def test_an_invitation_from_the_tray_to_the_desk(sit: Callable[..., Desk]) -> None:
    desk = sit("Beatrix Eze")
    page = desk.go("/people")
    page.get_by_role("button", name="Invite somebody").click()
    page.get_by_label("Name").fill("Rui Abara")
    page.get_by_label("E-mail").fill("rui@corvane.example")
    page.get_by_role("button", name="Send the invitation").click()
    page.get_by_role("link", name="Dispatch tray").click()
    address = page.locator("a[href*=invitation]").first.get_attribute("href")
    assert address
    page.context.clear_cookies()
    page.goto(address)
    page.get_by_label("Password").fill("a boat on the tide")
    page.get_by_role("button", name="Enter").click()
    expect(page.get_by_role("heading", name="Wednesday 17 March")).to_be_visible()


def test_a_viewer_is_offered_nothing_that_would_fail(sit: Callable[..., Desk], made: Made) -> None:
    made.add("A")
    desk = sit("Tomas Brekke")
    page = desk.go(f"/p/{made.code}/outline")
    expect(desk.row("A")).to_be_visible()
    expect(page.get_by_label("Write a task and press Enter")).to_have_count(0)
    page.get_by_role("button", name="Project", exact=False).last.click()
    expect(page.get_by_role("menuitem", name="Activity")).to_be_visible()
    expect(page.get_by_role("menuitem", name="Import")).to_have_count(0)
    page.keyboard.press("Escape")
    desk.cell("A", "title").dblclick()
    expect(page.get_by_role("textbox", name="Title")).to_have_count(0)


SCREENS = [
    "/work",
    "/desk",
    "/desk/all_work",
    "/people",
    "/people/teams",
    "/people/load",
    "/people/load?by=week&count=tasks",
    "/people/crews",
    "/people/time",
    "/people/time-sheets",
    "/goals",
    "/reports",
    "/reports/kept",
    "/desk/time",
    "/account",
    "/notices",
    "/p/LAN/task/8",
    "/p/KIO/board",
    "/p/KIO/board?arranging=yes",
    "/p/COAST/portfolio",
    "/p/COAST/portfolio?as=list",
    "/p/COAST/portfolio?as=schedule",
    *(
        f"/p/LAN/{lens}"
        for lens in (
            "brief",
            "outline",
            "board",
            "schedule",
            "load",
            "costs",
            "invoices",
            "reports",
            "reports/draft",
            "activity",
            "bin",
            "import",
            "settings",
        )
    ),
    *(
        f"/p/LAN/settings/{section}"
        for section in ("members", "workflow", "fields", "kinds", "checklists", "working-time", "hours", "time")
    ),
]


SHEETS = ["/desk/all_work#Late or held", "/p/LAN/outline#Glazing look-ahead"]


@pytest.mark.parametrize("path", [*SCREENS, *SHEETS, "/p/LAN/board?rows=owner", "/p/LAN/outline?open=first"])
def test_axe_finds_nothing(sit: Callable[..., Desk], path: str) -> None:
    desk = sit()
    address, _, sheet = path.replace("?open=first", "").partition("#")
    page = desk.go(address)
    page.wait_for_load_state("load")
    expect(page.get_by_role("status", name=re.compile("^Loading"))).to_have_count(0)
    if sheet:
        page.get_by_role("navigation", name="Sheets").get_by_role("link", name=sheet).click()
        expect(page.get_by_title("Tint:").first).to_be_visible()
    if path.endswith("first"):
        page.locator("[role=row][data-row]").nth(3).hover()
        page.locator("[role=row][data-row]").nth(3).get_by_text("open").click()
        expect(page.get_by_role("region", name="Description")).to_be_visible()
    page.evaluate(AXE.read_text())
    found = page.evaluate("() => axe.run(document, {resultTypes: ['violations']})")
    assert [(v["id"], [n["html"][:160] for n in v["nodes"][:3]]) for v in found["violations"]] == []


@pytest.mark.parametrize(
    "path",
    [
        "/desk",
        "/desk/time",
        "/people/time",
        "/p/LAN/brief",
        "/p/LAN/outline",
        "/p/LAN/load",
        "/p/LAN/costs",
        "/p/LAN/invoices",
        "/p/KIO/board",
        "/p/COAST/portfolio",
    ],
)
def test_small_screens_stay_usable(sit: Callable[..., Desk], path: str) -> None:
    desk = sit(width=390, height=780)
    page = desk.go(path)
    expect(page.get_by_role("main")).to_be_visible()
    assert page.evaluate("document.documentElement.scrollWidth") <= 390


def test_typing_begins_an_edit_and_nothing_typed_waits_for_the_server(sit: Callable[..., Desk], made: Made) -> None:
    made.add("A", "B", "C")
    desk = sit()
    page = desk.go(f"/p/{made.code}/outline")
    # a slow server: each answer takes a while, typing goes on
    desk.answers_take(ms=150)
    desk.cell("A", "duration").click()
    for text in ("2 d", "6h", "1 w"):
        page.keyboard.type(text)
        page.keyboard.press("Enter")
    expect(desk.cell("C", "duration")).to_have_text("5 d")
    desk.saved()
    rows = made.rows()
    assert [rows[title]["duration"] for title in "ABC"] == [900, 360, 2250]


def test_titles_typed_in_a_hurry_keep_their_order(sit: Callable[..., Desk], made: Made) -> None:
    desk = sit()
    page = desk.go(f"/p/{made.code}/outline")
    page.get_by_label("Write a task and press Enter").click()
    titles = [f"Stone {number}" for number in range(1, 31)]
    for title in titles:
        page.keyboard.insert_text(title)
        page.keyboard.press("Enter")
    expect(page.get_by_role("status").filter(has_text="All saved")).to_be_visible()
    rows = sorted(made.rows().values(), key=lambda row: row["place"])
    assert [row["title"] for row in rows] == titles
    assert [row["number"] for row in rows] == list(range(1, 31))


def choose_all(desk: Desk, first: str) -> None:
    desk.cell(first, "title").click()
    desk.page.keyboard.press("Escape")
    desk.page.keyboard.press("Control+a")


def test_fields_of_many_tasks_change_at_once_with_one_undo(sit: Callable[..., Desk], made: Made) -> None:
    made.add("Dig", "Pour", "Cure", duration="2 d")
    made.add("Paint", priority="must")
    desk = sit()
    page = desk.go(f"/p/{made.code}/outline")
    choose_all(desk, "Dig")
    page.get_by_role("button", name="Do with them").click()
    page.get_by_role("menuitem", name="Change fields").click()
    dialog = page.get_by_role("dialog", name="Change 4 tasks")
    dialog.get_by_label("Field").select_option("Priority")
    expect(dialog).to_contain_text("now: none 3 · must 1")
    dialog.get_by_label("New priority").select_option("must")
    expect(dialog.get_by_role("status")).to_contain_text("3 of 4 will change; 1 have it already")
    dialog.get_by_role("button", name="+ another field").click()
    dialog.get_by_label("Field").nth(1).select_option("Deadline")
    dialog.get_by_label("New deadline").fill("sometime")
    dialog.get_by_role("button", name="Change 4 tasks").click()
    expect(dialog.get_by_role("alert")).to_contain_text("sometime")
    dialog.get_by_label("New deadline").fill("1 May")
    dialog.get_by_role("button", name="Change 4 tasks").click()
    expect(desk.cell("Cure", "priority")).to_have_text("must")
    assert {row["deadline"][:10] for row in made.rows().values()} == {"2027-04-30"}  # the first of May is a Saturday
    page.get_by_role("button", name="Undo").click()
    expect(desk.cell("Cure", "priority")).not_to_have_text("must")
    assert made.rows()["Paint"]["priority"] == "must"


def test_many_are_linked_in_a_row_shifted_and_renamed(sit: Callable[..., Desk], made: Made) -> None:
    made.add("Dig pit", start="2027-03-15", duration="2 d")
    made.add("Line pit", "Fill pit", duration="1 d")
    desk = sit()
    page = desk.go(f"/p/{made.code}/outline")
    choose_all(desk, "Dig pit")
    page.get_by_role("button", name="Do with them").click()
    page.get_by_role("menuitem", name="Link in a row").click()
    page.get_by_role("dialog", name="What this change carries on").get_by_role("button", name="Apply to all 2").click()
    expect(desk.cell("Fill pit", "finish")).to_have_text("18 Mar")
    page.get_by_role("button", name="Do with them").click()
    page.get_by_role("menuitem", name="Shift dates").click()
    page.get_by_label("Shift by").fill("3")
    page.get_by_role("button", name="Shift 3 tasks").click()
    page.get_by_role("dialog", name="What this change carries on").get_by_role("button", name="Apply to all 3").click()
    expect(desk.cell("Fill pit", "finish")).to_have_text("23 Mar")
    page.get_by_role("button", name="Do with them").click()
    page.get_by_role("menuitem", name="Find and replace in titles").click()
    dialog = page.get_by_role("dialog", name="Find and replace in the titles of 3 tasks")
    dialog.get_by_label("Find", exact=True).fill("PIT")
    dialog.get_by_label("Replace with").fill("basin")
    expect(dialog.get_by_role("status")).to_contain_text("All 3 will change")
    dialog.get_by_role("button", name="Replace in 3 titles").click()
    expect(desk.row("Line basin")).to_be_visible()


def test_cells_are_copied_out_and_a_block_is_pasted_in(sit: Callable[..., Desk], made: Made) -> None:
    made.add("Dig", "Pour", "Cure", duration="1 d")
    desk = sit()
    page = desk.go(f"/p/{made.code}/outline")

    def put(text: str) -> None:
        page.evaluate(
            "text => { const data = new DataTransfer(); data.setData('text/plain', text);"
            " document.activeElement.dispatchEvent(new ClipboardEvent('paste', {clipboardData: data, bubbles: true, cancelable: true})); }",
            text,
        )

    desk.cell("Pour", "duration").click()
    put("3 d\t1 Apr\n2 h\t2 Apr\n")
    expect(desk.cell("Pour", "duration")).to_have_text("3 d")
    expect(desk.cell("Cure", "duration")).to_have_text("2 h")
    expect(desk.cell("Cure", "deadline")).to_have_text("2 Apr")
    desk.cell("Dig", "title").click()
    page.keyboard.press("ArrowRight")
    put("Under way\nNowhere")
    expect(page.get_by_role("alert")).to_contain_text("“Nowhere” is no state here. Nothing was pasted.")
    choose_all(desk, "Dig")
    copied = page.evaluate(
        "() => { const data = new DataTransfer(); const event = new ClipboardEvent('copy', {clipboardData: data, bubbles: true,"
        " cancelable: true}); document.activeElement.dispatchEvent(event); return data.getData('text/plain'); }"
    )
    lines = copied.split("\n")
    assert lines[0].split("\t")[:3] == ["Task", "State", "Owner"]
    assert [line.split("\t")[0] for line in lines[1:]] == ["Dig", "Pour", "Cure"]


def test_help_says_what_the_page_in_view_understands(sit: Callable[..., Desk], made: Made) -> None:
    made.add("A")
    desk = sit()
    page = desk.go(f"/p/{made.code}/outline")
    desk.cell("A", "title").click()
    page.keyboard.press("?")
    help_ = page.get_by_role("dialog", name="What is understood here")
    expect(help_.get_by_role("heading", level=3).first).to_have_text("On the outline")
    expect(help_).to_contain_text("12 + 3 d elapsed")
    page.keyboard.press("Escape")
    expect(help_).to_have_count(0)
    desk.cell("A", "title").press("F2")
    page.keyboard.press("End")
    page.keyboard.type(" or B?")  # where one types it is a letter
    page.keyboard.press("Enter")
    expect(desk.row("A or B?")).to_be_visible()
    page.goto(page.url.replace("outline", "schedule"))
    page.get_by_role("button", name="What is understood here").click()
    expect(help_.get_by_role("heading", level=3).first).to_have_text("On the schedule")


def test_a_title_is_opened_by_enter_and_by_the_word_beside_it(sit: Callable[..., Desk], made: Made) -> None:
    made.add("A", "B")
    desk = sit()
    page = desk.go(f"/p/{made.code}/outline")
    desk.cell("A", "title").click()
    page.keyboard.press("Enter")
    expect(page.get_by_role("complementary")).to_contain_text("A")
    page.get_by_role("button", name="Close the task").click()
    desk.row("B").hover()
    desk.row("B").get_by_role("button", name="open", exact=True).click()
    expect(page.get_by_role("button", name="Close the task")).to_be_visible()


def test_groups_of_facts_fold_and_stay_folded(sit: Callable[..., Desk], made: Made) -> None:
    made.add("A", "B", deadline="2027-04-01")
    desk = sit()
    page = desk.go(f"/p/{made.code}/outline?open={made.rows()['A']['id']}")
    expect(page.get_by_label("Deadline", exact=True)).to_be_visible()
    page.get_by_role("button", name="When").click()
    expect(page.get_by_label("Deadline", exact=True)).to_have_count(0)
    desk.cell("B", "title").click()
    page.keyboard.press("Enter")
    expect(page.get_by_role("textbox", name="Title")).to_have_value("B")
    expect(page.get_by_label("Deadline", exact=True)).to_have_count(0)
    page.get_by_role("button", name="When").click()
    expect(page.get_by_label("Deadline", exact=True)).to_be_visible()


def test_on_a_phone_rows_show_owner_and_finish_and_one_button_leads_everywhere(sit: Callable[..., Desk], made: Made) -> None:
    made.add("A", start="2027-03-17", duration="2 d")
    desk = sit(width=390, height=780)
    page = desk.go(f"/p/{made.code}/outline")
    expect(desk.cell("A", "finish")).to_have_text("18 Mar")
    expect(desk.cell("A", "owner")).to_be_in_viewport(ratio=1)
    page.locator("footer").get_by_role("button", name="Outline").click()
    page.get_by_role("menuitem", name="Settings").click()
    expect(page.get_by_role("region", name="Settings")).to_be_visible()
    expect(page.locator("footer").get_by_role("button", name="Settings")).to_be_visible()
