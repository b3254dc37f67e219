"""Goals: set, measured, told of, walked by the keys and closed, in the real interface."""

from __future__ import annotations

import re
import uuid
from collections.abc import Callable
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.running import Running, Visitor

from .conftest import Desk, Made

Sit = Callable[..., Desk]
HALF = {"first": "2027-01-01", "last": "2027-06-30"}


class Aiming(Made):
    """A project, and goals of its own names."""

    def aim(self, title: str, **more: Any) -> str:
        one = str(uuid.uuid4())
        self.ines("POST", "/goals", {"id": one, "title": f"{title} {self.code}", **HALF, **more})
        return one


@pytest.fixture
def aiming(running: Running) -> Aiming:
    return Aiming(running)


def item(page: Page, title: str) -> Any:
    return page.get_by_role("treeitem", name=re.compile(re.escape(title)))


def test_a_goal_is_set_gets_its_value_and_is_closed(sit: Sit, aiming: Aiming) -> None:
    title = f"Queue under six minutes {aiming.code}"
    desk = sit()
    page = desk.go("/goals")
    page.get_by_role("button", name="Set a goal").click()
    form = page.get_by_role("dialog", name="Set a goal")
    form.get_by_label("What is aimed at").fill(title)
    form.get_by_label("Where it begins").fill("14")
    form.get_by_label("Its target").fill("6")
    form.get_by_label("What stands behind the number").fill("min")
    form.get_by_label("Decimals").select_option("1")
    form.get_by_label("Reminder of a progress note").select_option("weekly")
    form.get_by_role("button", name="Set it").click()
    beside = page.get_by_role("complementary", name="Goal")
    expect(beside).to_contain_text("No value was entered yet.")
    beside.get_by_role("button", name="Enter a value").click()
    value = beside.get_by_role("form", name="Value")
    value.get_by_label("Where it stood").fill("eleven")
    value.get_by_role("button", name="Enter").click()
    expect(value.get_by_role("alert")).to_contain_text("“eleven” is no number.")
    value.get_by_label("Where it stood").fill("12.4")
    value.get_by_role("button", name="Enter").click()
    expect(beside).to_contain_text("12.4 of 6.0 min (20 %) is reached; by now it should be at 42 %.")
    expect(item(page, title)).to_contain_text("Slipping")
    page.keyboard.press("Control+z")
    expect(beside).to_contain_text("No value was entered yet.")
    beside.get_by_role("button", name="Write a note").click()
    note = beside.get_by_role("form", name="Progress note")
    note.get_by_label("Strained").check()
    note.get_by_label("Where it stands now").fill("10")
    note.get_by_label("In the way").fill("one till only")
    page.reload()
    beside.get_by_role("button", name="Write a note").click()
    expect(note.get_by_label("In the way")).to_have_value("one till only")
    note.get_by_role("button", name="Publish the note").click()
    expect(beside.get_by_role("article")).to_contain_text("In the way one till only")
    expect(item(page, title)).to_contain_text("Strained")
    beside.get_by_role("button", name="Close with an outcome").click()
    end = page.get_by_role("dialog", name=re.compile("^Close"))
    end.get_by_label("not met").check()
    end.get_by_role("button", name="Close it").click()
    expect(end.get_by_role("alert")).to_contain_text("Say in a word why")
    end.get_by_label("Why").fill("The second till came late")
    end.get_by_role("button", name="Close it").click()
    expect(beside).to_contain_text("Closed: not met at 10.0 of 6.0 min. The second till came late")
    expect(item(page, title)).to_have_count(0)
    page.get_by_role("button", name="open", exact=True).click()
    page.get_by_role("checkbox", name="open or closed").click()
    expect(item(page, title)).to_contain_text("not met")


def test_a_goal_measures_itself_from_the_milestones_of_a_project(sit: Sit, aiming: Aiming) -> None:
    aiming.add("Lens relit", start="2027-07-02", kind="milestone")
    aiming.add("Doors open", start="2027-05-02", kind="milestone")
    desk = sit()
    page = desk.go("/goals")
    page.get_by_role("button", name="Set a goal").click()
    form = page.get_by_role("dialog", name="Set a goal")
    form.get_by_label("What is aimed at").fill(f"Open {aiming.code}")
    form.get_by_label("tasks or milestones").check()
    form.get_by_label("What is counted").select_option("milestones")
    form.get_by_role("button", name="choose projects").click()
    page.get_by_role("checkbox", name=re.compile(f"^{aiming.code} ")).click()
    page.keyboard.press("Escape")
    expect(form.get_by_role("status")).to_have_text("Now: 0 of 2 milestones")
    form.get_by_role("button", name="Set it").click()
    beside = page.get_by_role("complementary", name="Goal")
    expect(beside).to_contain_text("Lens relit is planned for 2 Jul, 2 days after the goal ends")
    # live, while somebody else finishes one
    done = aiming.rows()["Doors open"]
    states = {one["state_class"]: one["id"] for one in aiming.ines("GET", f"/projects/{aiming.code}")["states"]}
    edit = {"id": done["id"], "revision": 10**8, "fields": {"state_id": states["finished"]}}
    aiming.ines("PATCH", f"/projects/{aiming.code}/tasks", {"tasks": [edit]})
    expect(beside).to_contain_text("1 of 2 milestones")
    page.goto(f"{desk.url}/p/{aiming.code}/brief")
    served = page.get_by_role("region", name="Goals that it serves")
    expect(served).to_contain_text("adds 1 of 2 milestones")
    # a change that makes a milestone miss the goal is told of
    aiming.ines("PATCH", f"/projects/{aiming.code}/tasks", {"tasks": [
        {"id": aiming.rows()["Lens relit"]["id"], "revision": 10**8, "fields": {"start": "2027-06-28"}}]})  # fmt: skip
    aiming.add("Lift the lens", start="2027-06-21", duration="2 d")
    lift, relit = aiming.rows()["Lift the lens"], aiming.rows()["Lens relit"]
    aiming.ines("PATCH", f"/projects/{aiming.code}/tasks", {"tasks": [
        {"id": relit["id"], "revision": 10**8, "fields": {"waits_for": str(lift["number"])}}]})  # fmt: skip
    page.goto(f"{desk.url}/p/{aiming.code}/outline?open={lift['id']}")
    length = page.locator("input[aria-label=Duration]")
    length.fill("15 d")
    length.press("Enter")
    card = page.get_by_role("dialog", name="What this change carries on")
    expect(card).to_contain_text(f"▼ endangers Open {aiming.code}: Lens relit comes")
    card.get_by_role("button", name="Put back").click()


def test_the_tree_is_walked_by_the_keys_and_kept_as_a_sheet(sit: Sit, aiming: Aiming) -> None:
    top = aiming.aim("Top", measure={"kind": "goals"})
    aiming.aim("Below", parent_id=top)
    desk = sit()
    page = desk.go("/goals")
    item(page, f"Top {aiming.code}").click()
    page.keyboard.press("ArrowDown")
    expect(item(page, f"Below {aiming.code}")).to_be_focused()
    expect(item(page, f"Below {aiming.code}")).to_have_attribute("aria-level", "2")
    page.keyboard.press("ArrowLeft")
    expect(item(page, f"Top {aiming.code}")).to_be_focused()
    page.keyboard.press("ArrowLeft")
    expect(item(page, f"Below {aiming.code}")).to_have_count(0)
    page.keyboard.press("ArrowRight")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    expect(page.get_by_role("complementary", name="Goal")).to_contain_text(f"under Top {aiming.code}")
    page.keyboard.press("Escape")
    expect(page.get_by_role("complementary", name="Goal")).to_have_count(0)
    page.get_by_role("button", name="everyone", exact=True).click()
    page.get_by_role("checkbox", name="me", exact=True).click()
    page.keyboard.press("Escape")
    page.get_by_role("button", name="+ Keep this sheet").click()
    page.get_by_role("dialog").get_by_role("textbox", name="Name").fill(f"Mine {aiming.code}")
    page.get_by_role("dialog").get_by_role("button", name=re.compile("^Keep")).click()
    desk.saved()
    desk.go("/goals")
    page.get_by_role("link", name=f"Mine {aiming.code}").click()
    expect(page.get_by_role("search")).to_contain_text("goals of me")
    expect(item(page, f"Top {aiming.code}")).to_be_visible()


def test_a_guest_sees_what_they_are_named_for_and_a_note_that_is_due_stands_on_the_desk(
    sit: Sit, aiming: Aiming, running: Running
) -> None:
    people = {one["name"]: one["id"] for one in aiming.ines("GET", "/people")}
    aiming.aim("For the city", seen_by="people", people={people["Mila Farouk"]: "comment"}, rhythm="weekly")
    aiming.aim("For us")
    guest = sit("Mila Farouk")
    page = guest.go("/goals")
    expect(item(page, f"For us {aiming.code}")).to_have_count(0)
    item(page, f"For the city {aiming.code}").click()
    page.get_by_role("button", name="Say something").click()
    page.get_by_role("form", name="Progress note").get_by_label("What you say").fill("The city agrees")
    page.get_by_role("button", name="Say it").click()
    expect(page.get_by_role("article")).to_contain_text("The city agrees")
    assert Visitor(running, "Tomas Brekke")("GET", "/goals/due") == []
    # what was set today is due in a week; Ines takes over one whose note was due before
    assert f"For the city {aiming.code}" not in str(aiming.ines("GET", "/goals/due"))
    beatrix = Visitor(running, "Beatrix Eze")
    ledges = next(one for one in beatrix("GET", "/goals")["goals"] if one["title"] == "Ledges counted")
    change = str(uuid.uuid4())
    over = {"version": beatrix("GET", f"/goals/{ledges['id']}")["version"], "owner_id": people["Ines Oduya"]}
    beatrix("PATCH", f"/goals/{ledges['id']}", over, change=change)
    page = sit().go("/desk")
    page.get_by_role("link", name=re.compile("A note on “Ledges counted” is due since")).click()
    expect(page.get_by_role("complementary", name="Goal")).to_contain_text("Ledges counted")
    beatrix("POST", f"/changes/{change}/undo")
    page.get_by_role("combobox", name=re.compile("Find work")).fill(f"city {aiming.code}")
    expect(page.get_by_role("option", name=re.compile(f"For the city {aiming.code}"))).to_be_visible()
