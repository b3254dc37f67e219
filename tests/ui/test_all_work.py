"""Work over all projects, and teams, in a real browser."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any

from playwright.sync_api import Page, expect

from tests.ui.conftest import Made


def tasks(page: Page) -> list[str]:
    return page.locator("[role=row] [data-title]").all_inner_texts()


def narrow_to(page: Page, made: Made) -> None:
    """Narrow the sentence to one project."""
    page.get_by_role("button", name="+ narrow").click()
    page.get_by_label("Find a field").fill("project")
    page.keyboard.press("Enter")
    page.get_by_label(made.ines("GET", f"/projects/{made.code}")["name"], exact=True).check()
    page.keyboard.press("Escape")


def test_all_work_is_narrowed_grouped_kept_and_opened(sit: Callable[..., Any], made: Made) -> None:
    made.add("Cast bars", priority="must", duration="3 d")
    made.add("Fit bars", priority="could", duration="1 d")
    page = sit().go("/desk")
    page.get_by_role("navigation", name="Lenses").get_by_role("link", name="All work").click()
    expect(page.get_by_text(re.compile(r"\d+ tasks"))).to_be_visible()
    narrow_to(page, made)
    expect(page.get_by_text("2 tasks")).to_be_visible()
    page.get_by_role("button", name="+ arrange").click()
    page.get_by_label("Find a field").first.fill("priority")
    page.keyboard.press("Enter")
    page.keyboard.press("Escape")
    expect(page.get_by_role("rowheader", name="must")).to_be_visible()
    assert tasks(page) == ["Cast bars", "Fit bars"]
    page.get_by_role("button", name="+ Keep this sheet").click()
    page.get_by_label("Name", exact=True).fill(f"Bars of {made.code}")
    page.get_by_role("button", name="Keep", exact=True).click()
    kept = page.get_by_role("navigation", name="Sheets").get_by_role("link", name=f"Bars of {made.code}")
    expect(kept).to_have_attribute("aria-current", "page")
    page.goto(page.url.split("/desk")[0] + "/desk")
    kept.click()
    expect(page.get_by_role("rowheader", name="could")).to_be_visible()


def test_tasks_are_walked_and_changed_from_all_work(sit: Callable[..., Any], made: Made) -> None:
    made.add("Cast bars", "Fit bars")
    page = sit().go("/desk/all_work")
    narrow_to(page, made)
    expect(page.get_by_text("2 tasks")).to_be_visible()
    page.get_by_role("row").filter(has_text="Cast bars").locator("[data-cell=state]").click()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Home")
    expect(page.get_by_role("gridcell", name="Fit bars")).to_be_focused()
    page.keyboard.press("Enter")
    folio = page.get_by_role("complementary", name="Task")
    expect(folio.get_by_role("textbox", name="Title")).to_have_value("Fit bars")
    folio.get_by_role("textbox", name="Title").fill("Fit the bars")
    page.keyboard.press("Enter")
    expect(page.get_by_role("gridcell", name="Fit the bars")).to_be_visible()
    page.keyboard.press("Alt+PageUp")
    expect(folio.get_by_role("textbox", name="Title")).to_have_value("Cast bars")


def test_what_is_shown_comes_as_csv(sit: Callable[..., Any], made: Made) -> None:
    made.add("Cast bars")
    page = sit().go("/desk/all_work")
    narrow_to(page, made)
    expect(page.get_by_text("1 task ·")).to_be_visible()
    with page.expect_download() as download:
        page.get_by_role("link", name="CSV", exact=True).click()
    lines = download.value.path().read_text("utf-8-sig").splitlines()
    assert lines[0] == "Code,Title,Project,State,Owner,Start,Finish,Percent done"
    assert lines[1].startswith(f"{made.code} 1,Cast bars,")


def test_a_team_is_named_and_a_sentence_speaks_of_it(sit: Callable[..., Any], made: Made) -> None:
    page = sit("Beatrix Eze").go("/people/teams")
    page.get_by_role("button", name="Name a team").click()
    page.get_by_label("Name", exact=True).fill(f"Crew of {made.code}")
    for name in ("Ines Oduya", "Tomas Brekke"):
        page.get_by_role("dialog").get_by_label(name).check()
    page.get_by_role("button", name="Name it").click()
    expect(page.get_by_role("heading", name=f"Crew of {made.code}")).to_contain_text("2 people")
    people = {one["name"]: one["id"] for one in made.ines("GET", "/people")}
    made.add("Cast bars", owner_id=people["Tomas Brekke"])
    made.add("Fit bars", owner_id=people["Zoltan Mbeki"])
    page = sit().go(f"/p/{made.code}/outline")
    page.get_by_role("button", name="anyone").click()
    page.get_by_label("my team").check()
    page.keyboard.press("Escape")
    expect(page.get_by_text("1 of 2 tasks")).to_be_visible()
    page.get_by_role("button", name="my team").click()
    page.get_by_label("my team").uncheck()
    page.get_by_label(f"Crew of {made.code}").check()
    page.keyboard.press("Escape")
    expect(page.get_by_role("button", name=f"Crew of {made.code}")).to_be_visible()
    expect(page.get_by_text("1 of 2 tasks")).to_be_visible()


def test_a_team_of_a_name_that_is_taken_stays_typed(sit: Callable[..., Any]) -> None:
    page = sit("Beatrix Eze").go("/people/teams")
    page.get_by_role("button", name="Name a team").click()
    page.get_by_label("Name", exact=True).fill("glazing crew")
    page.get_by_role("button", name="Name it").click()
    expect(page.get_by_role("dialog")).to_contain_text("There is a team called glazing crew already.")
    expect(page.get_by_role("dialog").get_by_role("textbox")).to_have_value("glazing crew")


def test_a_clause_on_a_list_is_chosen_by_keyboard_and_by_pointer(sit: Callable[..., Any], made: Made) -> None:
    made.add("Cast bars", priority="must")
    made.add("Fit bars", priority="could")
    page = sit().go(f"/p/{made.code}/outline")
    page.get_by_role("button", name="+ narrow").focus()
    page.keyboard.press("Enter")
    page.get_by_label("Find a field").fill("priority")
    page.keyboard.press("Enter")
    page.get_by_label("must", exact=True).check()
    page.keyboard.press("Escape")
    expect(page.get_by_text("1 of 2 tasks")).to_be_visible()
    page.get_by_role("button", name="priority is must").click()
    page.get_by_role("button", name="or …").click()
    page.get_by_role("option", name="Priority", exact=True).click()
    page.get_by_label("could", exact=True).check()
    page.keyboard.press("Escape")
    expect(page.get_by_text("1 of 2 tasks")).to_have_count(0)
    expect(page.get_by_role("search")).to_contain_text("(priority is must or priority is could)")
    page.get_by_role("button", name="show all").click()
    expect(page.get_by_role("search")).not_to_contain_text("priority")


def test_a_sheet_and_a_team_are_taken_back(sit: Callable[..., Any], made: Made) -> None:
    desk = sit("Beatrix Eze")
    page = desk.go("/people/teams")
    page.get_by_role("button", name="Name a team").click()
    page.get_by_label("Name", exact=True).fill(f"Night crew of {made.code}")
    page.get_by_role("button", name="Name it").click()
    named = page.get_by_role("heading", name=f"Night crew of {made.code}")
    expect(named).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(named).to_have_count(0)
    page.get_by_role("button", name="Do it again").click()
    expect(named).to_be_visible()
    page.goto(page.url.replace("/people/teams", "/desk/all_work"))
    page.get_by_role("button", name="+ Keep this sheet").click()
    page.get_by_label("Name", exact=True).fill(f"All of {made.code}")
    page.get_by_role("button", name="Keep", exact=True).click()
    sheet = page.get_by_role("navigation", name="Sheets").get_by_role("link", name=f"All of {made.code}")
    expect(sheet).to_be_visible()
    page.keyboard.press("Escape")
    page.keyboard.press("Control+z")
    expect(sheet).to_have_count(0)
