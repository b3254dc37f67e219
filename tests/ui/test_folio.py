"""A task in full: what people write, tick, attach, relate and are told of, in a real browser."""

from __future__ import annotations

import re
from collections.abc import Callable
from pathlib import Path
from typing import Any

from playwright.sync_api import Page, Route, expect

from tests.ui.conftest import Made, add_field

PNG = bytes.fromhex(
    "89504e470d0a1a0a0000000d4948445200000001000000010806000000 1f15c4890000000d49444154789c6360f8cfc0000003010100c9fe92ef0000000049454e44ae426082".replace(" ", "")
)  # fmt: skip


def opened(sit: Callable[..., Any], made: Made, title: str, name: str = "Ines Oduya") -> Page:
    """A browser in which the task is open."""
    row = made.rows()[title]
    return sit(name).go(f"/p/{made.code}/outline?open={row['id']}")


def folio(page: Page) -> Any:
    return page.get_by_role("complementary", name="Task")


def test_a_comment_names_a_person_who_is_told_and_answers(sit: Callable[..., Any], made: Made) -> None:
    made.add("Cast bars")
    tomas = next(one["id"] for one in made.ines("GET", "/people") if one["name"] == "Tomas Brekke")
    made.ines("PUT", f"/projects/{made.code}/members/{tomas}", {"role": "commenter"})
    page = opened(sit, made, "Cast bars")
    page.get_by_role("button", name=re.compile("^Say something")).click()
    page.get_by_role("textbox", name="Say something").press_sequentially("Sand? @Tom")
    page.get_by_role("option", name="Tomas Brekke").click()
    page.keyboard.press("Control+Enter")
    expect(folio(page).locator(".rich")).to_contain_text("Sand? @Tomas Brekke")
    theirs = sit("Tomas Brekke").go("/notices")
    line = theirs.get_by_role("listitem").filter(has_text="named you in a comment: Sand?").first
    expect(line).to_contain_text("you are named")
    theirs.get_by_role("article").filter(has_text="Cast bars").get_by_role("link").first.click()
    theirs.get_by_role("button", name="answer").click()
    theirs.get_by_role("textbox", name="Say something").press_sequentially("On Thursday")
    theirs.get_by_role("button", name="Say it").click()
    expect(folio(page)).to_contain_text("On Thursday")  # without loading the page again
    page.get_by_role("button", name="resolve").first.click()
    expect(folio(page)).to_contain_text("resolved by Ines O.")


def test_what_is_typed_stays_while_the_folio_is_asked_for_again(sit: Callable[..., Any], made: Made) -> None:
    made.add("Cast bars", start="2027-06-07", duration="6 d")
    row = made.rows()["Cast bars"]
    page = opened(sit, made, "Cast bars")
    length = folio(page).get_by_role("textbox", name="Duration")
    expect(length).to_have_value("6 d")
    held: list[Route] = []
    page.route(f"**/api/tasks/{row['id']}", lambda route: held.append(route))  # the folio's own answer does not come
    length.fill("3 d")
    with page.expect_response(lambda answer: answer.request.method == "PATCH"):
        length.press("Enter")
    expect(folio(page).get_by_role("textbox", name="Finish")).to_have_value(re.compile("9 June|9 Jun"))
    expect(length).to_have_value("3 d")
    assert held
    for route in held:
        route.abort()


def test_what_arrives_in_a_field_that_is_all_selected_is_typed_over(sit: Callable[..., Any], made: Made) -> None:
    made.add("Cast bars", start="2027-06-07", duration="6 d")
    row = made.rows()["Cast bars"]
    page = opened(sit, made, "Cast bars")
    length = folio(page).get_by_role("textbox", name="Duration")
    length.focus()
    edit = {"id": row["id"], "revision": row["revision"], "fields": {"duration": "3 d"}}
    made.ines("PATCH", f"/projects/{made.code}/tasks", {"tasks": [edit]})  # somebody else does that
    expect(length).to_have_value("3 d")
    page.keyboard.type("5 d")
    expect(length).to_have_value("5 d")


def test_text_survives_a_closed_tab(sit: Callable[..., Any], made: Made) -> None:
    made.add("Cast bars")
    page = opened(sit, made, "Cast bars")
    page.get_by_role("button", name=re.compile("^Say something")).click()
    page.get_by_role("textbox", name="Say something").press_sequentially("Half a thought")
    page.get_by_role("button", name="Describe").click()
    page.get_by_role("textbox", name="Description").press_sequentially("Half a description")
    address = page.url
    again = page.context.new_page()
    page.close()
    again.goto(address)
    expect(again.get_by_role("textbox", name="Say something")).to_have_text("Half a thought")
    again.get_by_role("button", name="Go on with it").click()
    expect(again.get_by_role("textbox", name="Description")).to_have_text("Half a description")
    again.get_by_role("button", name="Save", exact=True).click()
    expect(again.get_by_role("region", name="Description").locator(".rich")).to_have_text("Half a description")
    again.reload()
    expect(again.get_by_text("not saved yet")).to_have_count(0)


def test_a_description_has_lists_and_pictures(sit: Callable[..., Any], made: Made, tmp_path: Path) -> None:
    made.add("Cast bars")
    picture = tmp_path / "bar.png"
    picture.write_bytes(PNG)
    page = opened(sit, made, "Cast bars")
    page.get_by_role("button", name="Describe").click()
    page.get_by_role("button", name="List", exact=True).click()
    page.get_by_role("textbox", name="Description").press_sequentially("Twelve bars")
    with page.expect_file_chooser() as chooser:
        page.get_by_role("button", name="Picture").click()
    chooser.value.set_files(picture)
    expect(page.locator(".rich-edit img")).to_be_visible()
    page.get_by_role("button", name="Save", exact=True).click()
    text = page.get_by_role("region", name="Description").locator(".rich")
    expect(text.locator("li")).to_have_text("Twelve bars")
    expect(text.locator("img")).to_have_js_property("naturalWidth", 1)


def test_a_checklist_is_ticked_by_keyboard_and_loaded_elsewhere(sit: Callable[..., Any], made: Made) -> None:
    made.add("Cast bars", "Cast more")
    page = opened(sit, made, "Cast bars")
    page.get_by_role("button", name="+ checklist").click()
    page.get_by_role("menuitem", name="An empty one").click()
    for text in ("Pattern", "Sand"):
        page.get_by_label("Add to To do").fill(text)
        page.keyboard.press("Enter")
        expect(page.get_by_role("checkbox", name=text)).to_be_visible()
    page.get_by_role("checkbox", name="Sand").focus()
    page.keyboard.press("Alt+ArrowUp")
    expect(page.get_by_role("region", name="To do").get_by_role("checkbox").first).to_have_accessible_name("Sand")
    page.get_by_role("checkbox", name="Sand").press("Space")
    expect(page.get_by_role("region", name="To do")).to_contain_text("1 of 2")
    page.get_by_role("button", name="hide ticked").click()
    expect(page.get_by_role("checkbox", name="Sand")).to_have_count(0)
    page.get_by_role("button", name="More for To do").click()
    page.get_by_role("menuitem", name="Keep for other tasks").click()
    page.get_by_role("button", name="The next row").click()
    expect(page.get_by_label("Title")).to_have_value("Cast more")
    page.get_by_role("button", name="+ checklist").click()
    page.get_by_role("menuitem", name="To do, 2 to tick").click()
    page.get_by_role("button", name="More for Pattern").focus()
    page.keyboard.press("Enter")
    page.get_by_role("menuitem", name="Make it a task below").click()
    expect(page.locator('[role=row] span[title="Pattern"]')).to_be_visible()


def test_files_are_attached_shown_and_taken_away(sit: Callable[..., Any], made: Made) -> None:
    made.add("Cast bars")
    page = opened(sit, made, "Cast bars")
    files = [
        {"name": "bar.png", "mimeType": "image/png", "buffer": PNG},
        {"name": "order.txt", "mimeType": "text/plain", "buffer": b"12 bars"},
        {"name": "empty.txt", "mimeType": "text/plain", "buffer": b""},
    ]
    page.locator("input[type=file][multiple]").set_input_files(files)  # type: ignore[arg-type]
    section = page.get_by_role("region", name="Attachments")
    expect(section).to_contain_text("empty.txt is empty. Choose another file.")
    section.get_by_role("button", name="Leave it").click()
    section.get_by_role("button", name="order.txt", exact=True).click()
    expect(page.get_by_role("dialog").locator("pre")).to_have_text("12 bars")
    page.keyboard.press("Escape")
    section.get_by_role("button", name="More for order.txt").click()
    page.get_by_role("menuitem", name="Take away").click()
    expect(section.get_by_role("button", name="order.txt", exact=True)).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    expect(section.get_by_role("button", name="order.txt", exact=True)).to_be_visible()


def test_a_task_is_held_by_another_and_goes_on_by_itself(sit: Callable[..., Any], made: Made) -> None:
    made.add("Fetch sand", "Cast bars")
    page = opened(sit, made, "Cast bars")
    add_field(page, "Held by")
    page.get_by_role("button", name="by a task").click()
    page.get_by_label("Find a task").fill("sand")
    page.get_by_role("option", name=re.compile("Fetch sand")).click()
    row = page.locator('[role=row]:has(span[title="Cast bars"])')
    expect(row).to_contain_text("Held: Fetch sand")
    made.ines("PATCH", f"/projects/{made.code}/tasks", {"tasks": [
        {"id": made.rows()["Fetch sand"]["id"], "revision": 99, "fields": {"percent": 100}}]})  # fmt: skip
    expect(row).not_to_contain_text("Held")


def test_a_duplicate_is_related_and_closed(sit: Callable[..., Any], made: Made) -> None:
    made.add("Cast bars", "Cast the bars")
    page = opened(sit, made, "Cast the bars")
    page.get_by_role("button", name="+ relation").click()
    page.get_by_text("duplicate of").click()
    page.get_by_label("Find a task").fill(f"{made.code} 1")
    page.get_by_role("option", name=re.compile("Cast bars")).click()
    page.get_by_role("button", name="Close as duplicate").click()
    expect(page.get_by_role("button", name="State: Dropped")).to_be_visible()


def test_a_task_has_a_page_and_steps_to_the_next_row(sit: Callable[..., Any], made: Made) -> None:
    made.add("First", "Second", "Third")
    page = sit().go(f"/p/{made.code}/task/2")
    expect(page.get_by_label("Title")).to_have_value("Second")
    folio(page).focus()
    page.keyboard.press("Alt+PageDown")
    expect(page.get_by_label("Title")).to_have_value("Third")
    expect(page).to_have_url(re.compile(rf"/p/{made.code}/task/3"))
    page.get_by_role("button", name="Close the task").click()
    expect(page).to_have_url(re.compile(rf"/p/{made.code}/outline"))


def test_following_and_muting(sit: Callable[..., Any], made: Made) -> None:
    made.add("Cast bars")
    page = opened(sit, made, "Cast bars")
    page.get_by_role("button", name="follow", exact=True).click()
    page.get_by_role("button", name="Follow it", exact=True).click()
    expect(page.get_by_role("button", name="followed by 1")).to_be_visible()
    page.get_by_role("button", name=re.compile("^Mute it")).click()
    expect(page.get_by_role("button", name="followed by 1, muted")).to_be_visible()


def test_what_goes_out_by_mail_is_chosen_by_kind(sit: Callable[..., Any]) -> None:
    desk = sit("Tomas Brekke")
    page = desk.go("/notices")
    page.get_by_label("By mail: somebody comments").select_option("daily")
    desk.saved()
    page.reload()
    expect(page.get_by_label("By mail: somebody comments")).to_have_value("daily")


def test_a_task_repeats_by_a_rule_in_words(sit: Callable[..., Any], made: Made) -> None:
    made.add("Check the lamp", start="2027-03-16", duration="1 d")
    page = opened(sit, made, "Check the lamp")
    add_field(page, "Repeats")
    page.get_by_role("button", name="Repeats: not").click()
    page.get_by_label("How often").fill("sometimes")
    expect(page.get_by_role("alert")).to_contain_text("was not understood")
    page.get_by_label("How often").fill("every second tuesday")
    expect(page.get_by_role("list", name="The next days").get_by_role("listitem").first).to_have_text("Tue 30 Mar")
    page.get_by_label("How many are kept ahead").fill("2")
    page.get_by_role("button", name="Repeat it so").click()
    expect(page.get_by_role("button", name="Repeats: every second Tuesday, 2 ahead")).to_be_visible()
    expect(page.locator('[role=row] span[title="Check the lamp"]')).to_have_count(3)
    page.get_by_role("button", name="Undo").click()
    expect(page.locator('[role=row] span[title="Check the lamp"]')).to_have_count(1)


def test_a_description_and_tasks_are_proposed_and_reviewed(sit: Callable[..., Any], made: Made) -> None:
    made.add("Cast bars")
    page = opened(sit, made, "Cast bars")
    page.get_by_role("button", name="Draft it").click()
    page.get_by_label("Talking points").fill("twelve bars in gunmetal")
    page.get_by_role("button", name="Propose").click()
    expect(page.get_by_role("region", name="Proposed description")).to_contain_text("Twelve bars in gunmetal.")
    expect(page.get_by_role("dialog")).to_contain_text("Composed by the local stand-in")
    page.get_by_role("button", name="Take it into the description").click()
    expect(page.get_by_role("textbox", name="Description")).to_contain_text("Twelve bars in gunmetal.")
    page.get_by_role("button", name="Put back").click()
    page.get_by_role("button", name="More", exact=True).click()
    page.get_by_role("menuitem", name="Propose tasks below").click()
    page.get_by_role("button", name="Propose", exact=True).click()
    page.get_by_label("Title 1").fill("Make the pattern")
    page.get_by_label("Order what is needed").uncheck()
    page.get_by_role("button", name="Write 5 tasks below").click()
    expect(page.locator('[role=row] span[title="Make the pattern"]')).to_be_visible()
    expect(page.locator('[role=row] span[title="Order what is needed"]')).to_have_count(0)


def test_tasks_move_to_another_project_once_what_is_lost_was_said(sit: Callable[..., Any], made: Made) -> None:
    made.ines("POST", f"/projects/{made.code}/defined/fields", {"name": "Weight", "settings": {"type": "number"}})
    weight = made.ines("GET", f"/projects/{made.code}")["fields"][0]["id"]
    made.add("Cast bars", **{f"own.{weight}": 3})
    page = opened(sit, made, "Cast bars")
    page.get_by_role("button", name="More", exact=True).click()
    page.get_by_role("menuitem", name="Copy or move").click()
    page.get_by_label("To the project").select_option("OPN")
    page.get_by_label("move them there").check()
    expect(page.get_by_role("dialog")).to_contain_text("The field Weight of 1 task: OPN has none of that name.")
    page.get_by_role("button", name="Move", exact=True).click()
    expect(page.locator('[role=row] span[title="Cast bars"]')).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    expect(page.locator('[role=row] span[title="Cast bars"]')).to_have_count(1)
