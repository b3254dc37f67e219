"""What people do with one task, beyond its fields, in a real browser."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any

from playwright.sync_api import Page, expect

from tests.ui.conftest import Made


def opened(sit: Callable[..., Any], made: Made, title: str) -> Page:
    """A browser in which the task is open."""
    return sit().go(f"/p/{made.code}/outline?open={made.rows()[title]['id']}")


def folio(page: Page) -> Any:
    return page.get_by_role("complementary", name="Task")


def more(page: Page, item: str) -> None:
    """Choose from the folio's menu."""
    folio(page).get_by_role("button", name="More", exact=True).first.click()
    page.get_by_role("menuitem", name=item).click()


def say(page: Page, text: str) -> None:
    page.get_by_role("button", name=re.compile("^Say something")).click()
    page.get_by_role("textbox", name="Say something").press_sequentially(text)
    page.keyboard.press("Control+Enter")


def test_a_comment_is_rewritten_signed_answered_and_taken_away(sit: Callable[..., Any], made: Made) -> None:
    made.add("Cast bars")
    page = opened(sit, made, "Cast bars")
    say(page, "Sand comes Thursday")
    expect(folio(page)).to_contain_text("Sand comes Thursday")
    page.get_by_role("button", name="rewrite").click()
    page.get_by_role("textbox", name="Rewrite the comment").press_sequentially(" morning")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(folio(page)).to_contain_text("Sand comes Thursday morning")
    expect(folio(page)).to_contain_text("rewritten")
    page.get_by_role("button", name="react", exact=True).click()
    page.get_by_role("menuitem", name="agree", exact=True).click()
    signed = folio(page).get_by_role("button", name=re.compile(r"^agree \d"))
    expect(signed).to_contain_text("1")
    signed.click()
    expect(signed).to_have_count(0)
    page.get_by_role("button", name="answer").click()
    expect(folio(page)).to_contain_text("answering Ines O.: Sand comes Thursday morning")
    page.get_by_role("textbox", name="Say something").press_sequentially("Then we pour on Friday")
    page.get_by_role("button", name="Say it").click()
    expect(folio(page).get_by_role("button", name="take away")).to_have_count(2)
    page.get_by_role("button", name="take away").first.click()
    expect(folio(page).get_by_role("button", name="take away")).to_have_count(1)
    page.get_by_role("button", name="Undo").click()
    expect(folio(page).get_by_role("button", name="take away")).to_have_count(2)


def test_what_is_left_to_tick_is_shown_alone_and_becomes_a_task(sit: Callable[..., Any], made: Made) -> None:
    made.add("Cast bars")
    row = made.rows()["Cast bars"]
    made.ines("POST", f"/tasks/{row['id']}/checklists", {"name": "Foundry", "items": ["Pattern", "Sand", "Pour"]})
    page = opened(sit, made, "Cast bars")
    page.get_by_role("checkbox", name="Pattern").check()
    expect(page.get_by_text("1 of 3", exact=True)).to_be_visible()
    page.get_by_role("button", name="hide ticked").click()
    expect(page.get_by_role("checkbox", name="Pattern")).to_have_count(0)
    page.get_by_role("button", name="show ticked").click()
    page.get_by_role("button", name="More for Pour").focus()
    page.keyboard.press("Enter")
    page.get_by_role("menuitem", name="Make it a task below").click()
    expect(page.get_by_role("checkbox", name="Pour")).to_have_count(0)
    expect(page.locator("[role=row][data-row]").filter(has_text="Pour")).to_be_visible()
    assert made.rows()["Pour"]["parent_id"] == row["id"]


def test_a_task_is_copied_beside_itself(sit: Callable[..., Any], made: Made) -> None:
    made.add("Cast bars", duration="2 d")
    row = made.rows()["Cast bars"]
    made.ines("POST", f"/tasks/{row['id']}/checklists", {"name": "Foundry", "items": ["Pattern"]})
    page = opened(sit, made, "Cast bars")
    more(page, "Copy or move")
    page.get_by_role("button", name="Copy", exact=True).click()
    expect(page.locator("[role=row][data-row]")).to_have_count(2)
    rows = made.ines("GET", f"/projects/{made.code}/tasks")["rows"]
    assert {one["title"] for one in rows} == {"Cast bars", "Cast bars, copy"}
    assert {(one["duration"], one["checks"]) for one in rows} == {(row["duration"], 1)}


def test_two_tasks_become_one(sit: Callable[..., Any], made: Made) -> None:
    made.add("Cast bars", "Cast the bars")
    page = opened(sit, made, "Cast the bars")
    say(page, "Sand comes Thursday")
    more(page, "Merge into another task")
    page.get_by_label("Find a task").fill("Cast bars")
    page.get_by_role("option", name="Cast bars").click()
    expect(folio(page).get_by_role("textbox", name="Title")).to_have_value("Cast bars")
    expect(folio(page)).to_contain_text("Sand comes Thursday")
    assert made.rows()["Cast the bars"]["state_id"] != made.rows()["Cast bars"]["state_id"]


def test_a_task_becomes_a_project(sit: Callable[..., Any], made: Made) -> None:
    made.add("Foundry")
    row = made.rows()["Foundry"]
    made.ines(
        "POST", f"/projects/{made.code}/tasks", {"tasks": [{"title": "Line the furnace", "parent_id": row["id"], "fields": {}}]}
    )
    made.ines("POST", f"/tasks/{row['id']}/checklists", {"name": "To do", "items": ["Order coke"]})
    page = opened(sit, made, "Foundry")
    more(page, "Make it a project")
    page.get_by_label("Code").fill(f"{made.code}F")
    page.get_by_role("button", name="Start the project").click()
    expect(page.get_by_role("heading", name="Foundry", level=1)).to_be_visible()
    for title in ("Line the furnace", "Order coke"):
        expect(page.locator("[role=row][data-row]").filter(has_text=title)).to_be_visible()


def test_a_kind_of_its_own_passes_through_its_states_only(sit: Callable[..., Any], made: Made) -> None:
    made.add("Sign in")
    page = sit().go(f"/p/{made.code}/settings/kinds")
    page.get_by_label("Name of a new kind").fill("story")
    page.get_by_role("button", name="Add a kind").click()
    page.get_by_role("button", name="through all states").click()
    page.get_by_role("checkbox", name="In review").uncheck()
    page.keyboard.press("Escape")
    expect(page.get_by_role("button", name=re.compile(r"\d of \d states"))).to_be_visible()
    page = opened(sit, made, "Sign in")
    page.get_by_role("button", name="Kind: task").click()
    page.get_by_role("menuitem", name="story").click()
    expect(page.get_by_role("button", name="Kind: story")).to_be_visible()
    folio(page).get_by_role("button", name=re.compile("^State")).click()
    expect(page.get_by_role("menuitem", name="Under way")).to_be_visible()
    expect(page.get_by_role("menuitem", name="In review")).to_have_count(0)


def test_a_field_that_is_needed_keeps_a_task_from_going_on(sit: Callable[..., Any], made: Made) -> None:
    made.add("Cast bars")
    states = made.ines("GET", f"/projects/{made.code}")["states"]
    review = next(one["id"] for one in states if one["name"] == "In review")
    settings = {"type": "text", "required_from": review, "help": "Who looked at it"}
    made.ines("POST", f"/projects/{made.code}/defined/fields", {"name": "Checked by", "settings": settings})
    page = opened(sit, made, "Cast bars")
    folio(page).get_by_role("button", name=re.compile("^State")).click()
    page.get_by_role("menuitem", name="In review").click()
    expect(page.get_by_text("Fill in Checked by first")).to_be_visible()
    page.get_by_label("Checked by", exact=True).fill("Noor")
    page.keyboard.press("Enter")
    folio(page).get_by_role("button", name=re.compile("^State")).click()
    page.get_by_role("menuitem", name="In review").click()
    expect(folio(page).get_by_role("button", name=re.compile("^State"))).to_contain_text("In review")


def test_what_was_said_without_a_connection_arrives_later(sit: Callable[..., Any], made: Made) -> None:
    made.add("Cast bars")
    page = opened(sit, made, "Cast bars")
    page.get_by_role("button", name=re.compile("^Say something")).click()
    page.get_by_role("textbox", name="Say something").press_sequentially("The tide took the bridge")
    page.context.set_offline(True)
    page.get_by_role("button", name="Say it").click()
    expect(page.get_by_text("Offline")).to_be_visible()
    page.context.set_offline(False)
    expect(page.get_by_role("status").filter(has_text="All saved")).to_be_visible()
    expect(folio(page).get_by_role("listitem").filter(has_text="The tide took the bridge")).to_be_visible()
    assert len(made.ines("GET", f"/tasks/{made.rows()['Cast bars']['id']}")["comments"]) == 1


def test_what_was_said_after_the_session_ended_is_said_once_one_is_back(sit: Callable[..., Any], made: Made) -> None:
    made.add("Cast bars")
    page = opened(sit, made, "Cast bars")
    page.get_by_role("button", name=re.compile("^Say something")).click()
    page.get_by_role("textbox", name="Say something").press_sequentially("Long lunch")
    page.context.clear_cookies()
    page.get_by_role("button", name="Say it").click()
    page.get_by_role("dialog", name="Your session has ended").get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("status").filter(has_text="All saved")).to_be_visible()
    expect(folio(page).get_by_role("listitem").filter(has_text="Long lunch")).to_be_visible()


def test_a_story_says_in_which_release_it_is(sit: Callable[..., Any], made: Made) -> None:
    made.add("Search", "Spring release")
    field = "0192f0c1-0000-7000-8000-" + made.code.encode().hex().rjust(12, "0")[-12:]
    made.ines("POST", f"/projects/{made.code}/defined/fields", {"id": field, "name": "Stories", "settings": {"type": "tasks"}})
    rows = made.rows()
    release = rows["Spring release"]
    edit = {"id": release["id"], "revision": release["revision"], "fields": {f"own.{field}": [rows["Search"]["id"]]}}
    made.ines("PATCH", f"/projects/{made.code}/tasks", {"tasks": [edit]})
    page = opened(sit, made, "Search")
    expect(folio(page)).to_contain_text("Stories of")
    folio(page).get_by_role("button", name="Spring release").click()
    expect(folio(page).get_by_role("textbox", name="Title")).to_have_value("Spring release")


def test_a_kept_checklist_is_taken_away_in_the_settings(sit: Callable[..., Any], made: Made) -> None:
    made.add("Cast bars")
    row = made.rows()["Cast bars"]
    one = made.ines("POST", f"/tasks/{row['id']}/checklists", {"name": "Foundry", "items": ["Pattern", "Sand"]})["id"]
    made.ines("POST", f"/projects/{made.code}/checklists", {"checklist_id": one})
    page = sit().go(f"/p/{made.code}/settings/checklists")
    page.get_by_text("Foundry", exact=True).click()
    expect(page.get_by_text("Pattern")).to_be_visible()
    page.get_by_role("button", name="Take away the checklist Foundry").click()
    expect(page.get_by_text("None is kept yet")).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_text("Foundry", exact=True)).to_be_visible()


def test_a_list_is_walked_by_the_arrow_keys(sit: Callable[..., Any], made: Made) -> None:
    made.add("Cast bars")
    desk = sit()
    page = desk.go(f"/p/{made.code}/outline")
    desk.cell("Cast bars", "owner").get_by_role("button").click()
    page.get_by_label("Find a person").fill("to")
    # those of whose name a word begins with it come first
    expect(page.get_by_role("option").first).to_have_text("Tomas Brekke")
    page.get_by_label("Find a person").fill("")
    expect(page.get_by_role("option", name="No owner")).to_have_attribute("aria-selected", "true")
    page.keyboard.press("ArrowDown")
    walked = page.locator("[role=option][aria-selected=true]").inner_text()
    page.keyboard.press("Enter")
    expect(desk.cell("Cast bars", "owner").get_by_role("img", name=walked.split("\n")[-1])).to_be_visible()


def test_summary_tasks_fold_in_the_schedule_too(sit: Callable[..., Any], made: Made) -> None:
    made.add("Foundry")
    above = made.rows()["Foundry"]["id"]
    made.ines("POST", f"/projects/{made.code}/tasks", {"tasks": [{"title": "Cast bars", "parent_id": above, "fields": {}}]})
    desk = sit()
    page = desk.go(f"/p/{made.code}/schedule")
    desk.cell("Foundry", "bar").click()
    page.keyboard.press("Home")
    page.keyboard.press("ArrowLeft")
    expect(desk.row("Cast bars")).to_have_count(0)
    expect(desk.row("Foundry")).to_have_attribute("aria-expanded", "false")
    page.get_by_role("navigation", name="Lenses").get_by_role("link", name="Outline").click()
    expect(desk.row("Foundry")).to_have_attribute("aria-expanded", "false")
    page.get_by_role("button", name="Unfold Foundry").click()
    expect(desk.row("Cast bars")).to_be_visible()
