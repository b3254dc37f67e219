"""Hours of people: booked in the folio and the outline, seen and given away in the load, asked about when a length changes."""

from __future__ import annotations

import contextlib
import re
from collections.abc import Callable

import pytest
from playwright.sync_api import APIResponse, Error, Locator, Route, expect

from tests.running import Running

from .conftest import Desk, Made

Sit = Callable[..., Desk]


class Crew(Made):
    """A project that plans hours, with a task of six days and thirty hours, and the people that the tests book."""

    def __init__(self, running: Running) -> None:
        super().__init__(running)
        self.ines("PATCH", f"/projects/{self.code}", {"revision": 99, "hours": True})
        people = {one["name"]: one["id"] for one in self.ines("GET", "/people")}
        self.tomas, self.yuki, self.callum = (people[one] for one in ("Tomas Brekke", "Yuki Hartmann", "Callum Reyes"))
        self.add("Cast bars", start="2027-06-07", duration="6 d", effort="30 h", owner_id=self.tomas)

    def book(self, title: str, who: str, hours: float) -> None:
        """Book somebody on a task, through the API."""
        fields = {"bookings": [{"who": who, "minutes": int(hours * 60)}]}
        edit = {"id": self.rows()[title]["id"], "revision": 10**8, "fields": fields}
        self.ines("PATCH", f"/projects/{self.code}/tasks", {"tasks": [edit]})


@pytest.fixture
def lens(running: Running) -> Crew:
    return Crew(running)


def open_task(desk: Desk, made: Made, title: str = "Cast bars") -> None:
    desk.go(f"/p/{made.code}/outline?open={made.rows()[title]['id']}")


def test_thirty_hours_are_booked_on_two_people_and_cut_with_the_length(sit: Sit, lens: Crew) -> None:
    desk = sit()
    open_task(desk, lens)
    page = desk.page
    page.get_by_role("button", name="+ Tomas 30 h").click()
    hours = page.get_by_label("Hours of Tomas Brekke", exact=True)
    expect(hours).to_have_value("30 h")
    hours.fill("18 h")
    hours.press("Enter")
    expect(page.get_by_text("12 h open")).to_be_visible()
    page.get_by_role("button", name="+ book somebody for 12 h").click()
    page.keyboard.type("Yuki")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Hours of Yuki Hartmann", exact=True)).to_have_value("12 h")
    length = page.locator("input[aria-label=Duration]")
    length.fill("4 d")
    length.press("Enter")
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("Tomas Brekke")
    expect(dialog).to_contain_text("12 h, 3 h a day")
    dialog.get_by_role("button", name="Cut the hours to 20 h").click()
    desk.saved()
    row = lens.rows()["Cast bars"]
    assert [one["minutes"] for one in row["bookings"]] == [12 * 60, 8 * 60]
    assert row["effort"] == 20 * 60


def test_the_length_is_put_back_and_an_answer_is_remembered(sit: Sit, lens: Crew) -> None:
    lens.book("Cast bars", lens.tomas, 30)
    desk = sit()
    open_task(desk, lens)
    length = desk.page.locator("input[aria-label=Duration]")
    length.fill("3 d")
    length.press("Enter")
    desk.page.get_by_role("button", name="Put the length back").click()
    expect(length).to_have_value("6 d")
    length.fill("3 d")
    length.press("Enter")
    desk.page.get_by_label("Do the same with this task from now on").check()
    desk.page.get_by_role("button", name="Raise the load a day, keep 30 h").click()
    desk.saved()
    length.fill("5 d")
    length.press("Enter")
    desk.saved()
    row = lens.rows()["Cast bars"]
    assert (row["keeps"], row["duration"], row["booked"]) == ("hours", 5 * 450, 1800)


def test_people_and_hours_are_typed_in_the_outline_and_what_is_understood_is_said(sit: Sit, lens: Crew) -> None:
    desk = sit()
    view = '{"columns":[{"key":"effort"},{"key":"booked"},{"key":"open"},{"key":"people"}]}'
    desk.go(f"/p/{lens.code}/outline?view={view}")
    desk.cell("Cast bars", "people").dblclick()
    field = desk.page.get_by_role("textbox", name="People and hours")
    field.fill("Tomas 10h, Nobody 5h")
    expect(desk.page.get_by_text("Nobody who can be booked is called Nobody")).to_be_visible()
    field.fill("Tomas 10h, Yuki 5h")
    expect(desk.page.get_by_role("status").filter(has_text="Yuki Hartmann: 5 h")).to_be_visible()
    field.press("Enter")
    desk.saved()
    expect(desk.cell("Cast bars", "booked")).to_have_text("15 h")
    expect(desk.cell("Cast bars", "open")).to_have_text("15 h")
    expect(desk.cell("Cast bars", "people")).to_have_text("Tomas Brekke 10 h, Yuki Hartmann 5 h")


def test_an_overload_is_found_by_keys_and_given_to_somebody_else(sit: Sit, lens: Crew) -> None:
    lens.add("Turn pegs", start="2027-06-07", duration="2 d", effort="10 h")
    lens.book("Cast bars", lens.callum, 30)
    lens.book("Turn pegs", lens.callum, 10)
    desk = sit()
    page = desk.go(f"/p/{lens.code}/load?from=2027-06-07&only=this")
    cell = page.get_by_role("gridcell", name=re.compile("Mon 7 Jun, 10 h, .*over by 2.5 h"))
    expect(cell).to_be_visible()
    page.get_by_role("grid").locator("[tabindex='0']").focus()
    while page.evaluate("document.activeElement.dataset.cell") != cell.get_attribute("data-cell"):
        page.keyboard.press("ArrowDown")
    if page.get_by_role("complementary").count() == 0:
        page.keyboard.press("Enter")  # it is the first
    panel = page.get_by_role("complementary", name=re.compile("Callum Reyes, Monday 7 June"))
    expect(panel).to_contain_text("Callum is over by 2.5 h")
    page.keyboard.press("Enter")  # into the panel
    panel.get_by_role("listitem").filter(has_text="Turn pegs").get_by_role("button", name="give to another").click()
    page.keyboard.type("Yuki")
    page.keyboard.press("Enter")
    expect(panel.get_by_role("listitem")).to_have_count(1)
    expect(page.get_by_role("gridcell", name=re.compile("over by"))).to_have_count(2)  # of Yuki, who works half days
    assert [one["who"] for one in lens.rows()["Turn pegs"]["bookings"]] == [lens.yuki]
    panel.get_by_label("Hours on Cast bars").fill("12 h")
    page.keyboard.press("Enter")
    expect(page.get_by_role("gridcell", name=re.compile("Mon 7 Jun, 2 h, "))).to_be_visible()


def test_a_way_out_of_an_overload_is_seen_in_a_draft_and_applied(sit: Sit, lens: Crew) -> None:
    for who in (lens.callum, lens.tomas):
        lens.ines("PUT", f"/projects/{lens.code}/members/{who}", {"role": "contributor"})
    lens.add("Turn pegs", start="2027-08-09", duration="2 d", effort="10 h")  # when no other test books these people
    lens.add("Forge posts", start="2027-08-09", duration="6 d", effort="30 h")
    lens.book("Forge posts", lens.callum, 30)
    lens.book("Turn pegs", lens.callum, 10)
    desk = sit()
    page = desk.go(f"/p/{lens.code}/load?from=2027-08-09&only=this")
    page.get_by_role("gridcell", name=re.compile("Mon 9 Aug, 10 h")).click()
    ways = page.get_by_role("list", name="Ways out")
    card = ways.get_by_role("listitem").filter(has_text="Give 10 h of “Turn pegs” to Tomas Brekke")
    expect(card).to_contain_text("Nobody else is over then. The finish stays.")
    card.get_by_role("button", name=re.compile("^See it")).click()
    expect(page.get_by_role("heading", name=re.compile("Project"))).to_be_visible()
    expect(page).to_have_url(re.compile("compare.draft="))
    assert lens.rows()["Turn pegs"]["bookings"][0]["who"] == lens.callum  # the plan is as it was
    page = desk.go(f"/p/{lens.code}/load?from=2027-08-09&only=this")
    page.get_by_role("gridcell", name=re.compile("Mon 9 Aug, 10 h")).click()
    card.get_by_role("button", name=re.compile("^Apply")).click()
    expect(page.get_by_role("gridcell", name=re.compile("over by"))).to_have_count(0)
    assert lens.rows()["Turn pegs"]["bookings"][0]["who"] == lens.tomas


def test_a_project_is_levelled_in_a_draft(sit: Sit, lens: Crew) -> None:
    for title, length in (("Turn pegs", "2 d"), ("Forge posts", "6 d"), ("Season", "30 d")):
        lens.add(title, start="2027-09-06", duration=length)  # when no other test books these people
    lens.book("Forge posts", lens.callum, 30)
    lens.book("Turn pegs", lens.callum, 10)
    desk = sit()
    page = desk.go(f"/p/{lens.code}/load?from=2027-09-06")
    page.get_by_role("button", name="Level …").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("button", name="Propose").click()
    status = dialog.get_by_role("status")
    expect(status).to_contain_text("1 task moves; the project finishes as before. 1 person is no longer over.")
    dialog.get_by_label("20 seconds, for a better one").check()
    dialog.get_by_role("button", name="Propose again").click()
    expect(dialog.get_by_role("button", name="Looking …")).to_be_disabled()
    expect(status).to_contain_text("1 task moves", timeout=60_000)
    assert len(lens.ines("GET", f"/projects/{lens.code}/drafts")) == 1  # what was proposed before went
    page.get_by_role("button", name="Look at the draft").click()
    expect(page).to_have_url(re.compile("compare.draft="))
    expect(page.get_by_text("Turn pegs").or_(page.get_by_text("Forge posts")).first).to_be_visible()
    page.get_by_role("link", name="Load").click()
    expect(page.get_by_role("grid")).to_be_visible()
    assert lens.rows()["Turn pegs"]["start"].startswith("2027-09-06")


def test_a_task_is_dragged_along_the_days_and_to_another_person(sit: Sit, lens: Crew) -> None:
    for who in (lens.callum, lens.tomas):
        lens.ines("PUT", f"/projects/{lens.code}/members/{who}", {"role": "contributor"})
    lens.add("Turn pegs", start="2027-10-04", duration="2 d", effort="10 h")
    lens.book("Turn pegs", lens.callum, 10)
    desk = sit()
    page = desk.go(f"/p/{lens.code}/load?from=2027-10-04&only=this")
    row = page.get_by_role("row").filter(has=page.get_by_text("Callum Reyes"))
    row.get_by_role("gridcell", name=re.compile("Mon 4 Oct, 5 h")).click()
    expect(page.get_by_role("complementary", name=re.compile("Callum Reyes, Monday 4 October"))).to_be_visible()

    def drag(to: Locator, says: str) -> None:
        page.get_by_title("Drag “Turn pegs” to another row, or along the days").hover()
        page.mouse.down()
        box = to.bounding_box()
        assert box is not None
        page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2, steps=5)
        expect(page.get_by_text(says)).to_be_visible()
        page.mouse.up()

    drag(row.get_by_role("gridcell", name=re.compile("^Wed 6 Oct")), "Move “Turn pegs” to Wed 6 Oct")
    expect(row.get_by_role("gridcell", name=re.compile("Wed 6 Oct, 5 h"))).to_be_visible()
    desk.saved()
    assert lens.rows()["Turn pegs"]["start"].startswith("2027-10-06")
    row.get_by_role("gridcell", name=re.compile("Wed 6 Oct, 5 h")).click()
    panel = page.get_by_role("complementary", name=re.compile("Callum Reyes, Wednesday 6 October"))
    panel.get_by_role("button", name="Move Turn pegs a day later").click()
    page.get_by_role("dialog", name="What this change carries on").get_by_role("button", name="Apply to one").click()
    expect(row.get_by_role("gridcell", name=re.compile("Fri 8 Oct, 5 h"))).to_be_visible()
    row.get_by_role("gridcell", name=re.compile("Thu 7 Oct, 5 h")).click()
    expect(page.get_by_role("complementary", name=re.compile("Callum Reyes, Thursday 7 October"))).to_be_visible()
    other = page.get_by_role("row").filter(has=page.get_by_text("Tomas Brekke"))
    drag(other.get_by_role("gridcell", name=re.compile("^Tue 5 Oct")), "Give “Turn pegs” to Tomas Brekke")
    expect(other.get_by_role("gridcell", name=re.compile("Fri 8 Oct, 5 h"))).to_be_visible()
    desk.saved()
    assert [one["who"] for one in lens.rows()["Turn pegs"]["bookings"]] == [lens.tomas]


def test_material_and_a_fixed_cost_are_added_and_booked(sit: Sit, lens: Crew) -> None:
    desk = sit()
    page = desk.go(f"/p/{lens.code}/settings/hours")
    form = page.get_by_role("form", name="Add a crew, role or material")
    for kind, name, unit in (
        ("Material", "Glass panes", "pc"),
        ("Fixed cost", "Road permit", ""),
        ("Crew or role", "Cutter", ""),
    ):
        form.get_by_label("What it is").select_option(label=kind)
        form.get_by_label("Its name").fill(name)
        if unit:
            form.get_by_label("By which unit").fill(unit)
        form.get_by_role("button", name="Add it").click()
        expect(page.get_by_label(f"Name of {name}")).to_be_visible()
    page.get_by_role("button", name="Rates of Glass panes").click()
    page.get_by_label("A pc costs: amount").fill("18,75")
    page.get_by_role("button", name="Set it").click()
    expect(page.get_by_text("18.75 EUR")).to_be_visible()
    page.keyboard.press("Escape")
    open_task(desk, lens)
    page.get_by_role("button", name=re.compile("^. book somebody")).click()
    page.keyboard.type("Glass")
    page.keyboard.press("Enter")
    page.get_by_label("How many pc").fill("4")
    page.get_by_role("button", name="Book it").click()
    expect(page.get_by_label("How much of Glass panes")).to_have_value("4 pc")
    page.get_by_role("button", name=re.compile("^. book somebody")).click()
    page.keyboard.type("Cutter")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Hours of Cutter", exact=True)).to_have_value("30 h")
    desk.saved()
    page = desk.go(f"/p/{lens.code}/load?from=2027-06-07&only=this")
    expect(page.get_by_role("row").filter(has=page.get_by_text("Glass panes"))).to_contain_text("4 pc")
    page = desk.go(f"/p/{lens.code}/settings/hours")
    page.get_by_role("button", name="Fill it: Cutter").click()
    page.keyboard.type("Yuki")
    page.keyboard.press("Enter")
    desk.saved()
    assert [(one["who"], one["minutes"]) for one in lens.rows()["Cast bars"]["bookings"] if one["of"] == "labour"] == [
        (lens.yuki, 1800)
    ]


def test_own_time_drives_dates_and_rates_are_kept(sit: Sit, lens: Crew) -> None:
    desk = sit()
    page = desk.go(f"/p/{lens.code}/settings/hours")
    page.get_by_label("Let people’s own time drive dates").check()
    desk.saved()
    assert lens.ines("GET", f"/projects/{lens.code}")["own_time"] is True
    page = desk.go("/people")
    page.get_by_role("button", name="Capacity of Aroha Lindqvist").click()
    form = page.get_by_role("form", name="An hour costs: Aroha Lindqvist")
    form.get_by_label("An hour costs: amount").fill("31,5")
    form.get_by_role("button", name="Set it").click()
    expect(form.get_by_role("listitem")).to_contain_text("from the beginning")
    form.get_by_label("An hour costs: amount").fill("thirty")
    form.get_by_role("button", name="Add it").click()
    expect(form.get_by_role("alert")).to_have_text("Write the amount as a number, such as 32.50.")
    form.get_by_label("An hour costs: amount").fill("33")
    form.get_by_label("An hour costs: from, empty: from the beginning").fill("2027-04-01")
    form.get_by_role("button", name="Add it").click()
    expect(form.get_by_role("listitem")).to_have_text([re.compile("31.50 EUR"), re.compile("from 1 Apr.*33.00 EUR")])


def test_absences_come_in_from_a_table(sit: Sit, lens: Crew) -> None:
    desk = sit()
    page = desk.go("/people/crews")
    table = page.get_by_label("Table of absences: Person, Kind, From, To, Note")
    wrong = b"Person,From\nNobody at all,2027-11-01"
    table.set_input_files({"name": "away.csv", "mimeType": "text/csv", "buffer": wrong})
    expect(page.get_by_role("alert")).to_have_text("Line 2: nobody is called Nobody at all. Use the e-mail.")
    right = b"Person,Kind,From,To\nNoor Castellan,leave,2027-11-01,2027-11-02"
    table.set_input_files({"name": "away.csv", "mimeType": "text/csv", "buffer": right})
    expect(page.get_by_text("Brought in 1 absence")).to_be_visible()
    with page.expect_download() as got:
        page.get_by_role("region", name="Absences").get_by_role("link", name="XLSX").click()
    assert got.value.suggested_filename.endswith(".xlsx")
    page = desk.go("/people/load?from=2027-11-01")
    row = page.get_by_role("row").filter(has=page.get_by_text("Noor Castellan"))
    expect(row.get_by_role("gridcell", name=re.compile("Tue 2 Nov, nothing, capacity 0 h, away"))).to_be_visible()


def test_who_is_away_has_no_capacity_and_managers_enter_it(sit: Sit, lens: Crew) -> None:
    desk = sit()
    page = desk.go("/people")
    page.get_by_role("button", name="Capacity of Noor Castellan").click()
    page.get_by_role("textbox", name="First day away").fill("2027-07-05")
    page.get_by_role("textbox", name="Last day away").fill("2027-07-06")
    page.get_by_role("button", name="Enter it").click()
    expect(page.get_by_role("dialog").get_by_text("5 Jul to 6 Jul")).to_be_visible()
    page.get_by_label("Of the day, in %").fill("80")
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_text("Saved", exact=True)).to_be_visible()
    page = desk.go("/people/load?from=2027-07-05")
    row = page.get_by_role("row").filter(has=page.get_by_text("Noor Castellan"))
    expect(row.get_by_role("gridcell", name=re.compile("Mon 5 Jul, nothing, capacity 0 h, away 6 h"))).to_be_visible()
    expect(row.get_by_role("gridcell", name=re.compile("Wed 7 Jul, nothing, capacity 6 h"))).to_be_visible()


def test_hours_are_switched_on_in_the_settings_and_a_crew_is_added(sit: Sit, made: Made) -> None:
    desk = sit()
    page = desk.go(f"/p/{made.code}/settings/hours")
    expect(page.get_by_role("link", name="Load")).to_have_count(0)
    page.get_by_label("Plan the hours of people").check()
    expect(page.get_by_role("link", name="Load")).to_be_visible()
    page.get_by_label("Its name").fill("Divers")
    page.get_by_label("How many people").fill("2")
    page.get_by_role("button", name="Add it").click()
    expect(page.get_by_label("Name of Divers")).to_have_value("Divers")
    found = made.ines("GET", f"/projects/{made.code}/resources")
    assert [(one["name"], one["people"]) for one in found if one["project_id"]] == [("Divers", 2)]


def test_what_is_added_while_the_list_comes_for_the_first_time_is_not_missed(sit: Sit, made: Made) -> None:
    made.ines("PATCH", f"/projects/{made.code}", {"revision": 999, "hours": True})
    desk = sit()
    held: list[tuple[Route, APIResponse]] = []

    def hold(route: Route) -> None:
        """Let the first answer be made now, and given later."""
        if held or route.request.method != "GET":
            route.continue_()
        else:
            held.append((route, route.fetch()))

    desk.page.route(f"**/api/projects/{made.code}/resources", hold)
    page = desk.go(f"/p/{made.code}/settings/hours")
    page.get_by_label("Its name").fill("Divers")
    page.get_by_role("button", name="Add it").click()
    expect(page.get_by_label("Its name")).to_have_value("")
    route, answer = held[0]
    with contextlib.suppress(Error):  # nobody waits for it any more
        route.fulfill(response=answer)
    expect(page.get_by_label("Name of Divers")).to_have_value("Divers")


def test_the_load_is_read_on_a_phone(sit: Sit, lens: Crew) -> None:
    desk = sit(width=390, height=760)
    page = desk.go(f"/p/{lens.code}/load?by=week")
    expect(page.get_by_role("grid", name="Load by week")).to_be_visible()
    assert page.evaluate("document.scrollingElement.scrollWidth <= innerWidth")
    page.get_by_role("gridcell").first.click()
    expect(page.get_by_role("complementary")).to_be_visible()
    page.get_by_role("button", name="Close").click()
    expect(page.get_by_role("complementary")).to_have_count(0)
