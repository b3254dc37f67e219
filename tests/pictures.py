"""Takes the pictures of the README from a running demo whose clock stands at 2027-03-17T09:42."""

from __future__ import annotations

import os
import re
import sys
from pathlib import Path

from playwright.sync_api import Page, expect, sync_playwright

FOLDER = Path(__file__).parents[1] / "docs" / "screenshots"
URL = os.environ.get("RHODONITE_PICTURES_URL", "http://127.0.0.1:8470")


def open_task(page: Page) -> None:
    """Open a task that has something to say."""
    page.locator('[role=row]:has(span[title="Cast replacement bars"]) [data-cell=title]').click()
    page.keyboard.press("Alt+Enter")
    page.get_by_role("region", name="Description").wait_for()


def open_sheet(page: Page) -> None:
    """A sheet with groups, sums and tints."""
    page.get_by_role("navigation", name="Sheets").get_by_role("link", name="Glazing look-ahead").click()
    page.get_by_role("rowheader").first.wait_for()


def open_goal(page: Page) -> None:
    """A goal that counts the milestones of three projects."""
    page.get_by_role("treeitem").filter(has_text="Doors open").click()
    page.get_by_role("article").first.wait_for()


def open_dashboard(page: Page) -> None:
    """What the crews look at on Mondays."""
    page.get_by_role("link", name="Monday with the crews").click()
    page.get_by_role("region", name="Hours by project and class").locator("svg").first.wait_for()
    page.wait_for_timeout(600)


def show_vein(page: Page) -> None:
    """All work in the window, with the vein in sight."""
    page.get_by_role("button", name="fit", exact=True).click()
    page.evaluate("document.querySelector('[role=treegrid]').closest('.overflow-auto').scrollTop = 500")


def find_overload(page: Page) -> None:
    """Somebody who is over, and the ways out of it."""
    page.get_by_role("gridcell", name=re.compile("Thu 25 Mar, 12.4 h")).click()
    page.get_by_role("list", name="Ways out").wait_for()
    page.mouse.move(640, 20)


def move_a_bar(page: Page) -> None:
    """Drag a bar by three weeks, and stop at what that carries on."""
    page.get_by_role("button", name="fit", exact=True).click()
    page.evaluate("document.querySelector('[role=treegrid]').closest('.overflow-auto').scrollTop = 300")
    page.wait_for_timeout(400)
    task = page.get_by_role("row").filter(has_text="Lift the lens").get_attribute("data-row")
    box = page.locator(f'[data-row="{task}"] [data-bar]').bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + 4, box["y"] + 10)
    page.mouse.down()
    page.mouse.move(box["x"] + 122, box["y"] + 10, steps=8)
    page.mouse.up()
    page.get_by_role("dialog").wait_for()
    page.mouse.move(640, 20)


def try_in_a_draft(page: Page) -> None:
    """The draft of the demo beside the plan."""
    page.get_by_role("button", name="A second bench for the lens").click()
    page.get_by_role("region", name="Draft").wait_for()
    page.get_by_role("navigation", name="Lenses").get_by_role("link", name="Side by side").click()
    page.get_by_role("region", name="Side by side").wait_for()


PICTURES = {
    "work": ("/work", None),
    "brief": ("/p/LAN/brief", lambda page: page.locator("figure svg").wait_for()),
    "outline": ("/p/LAN/outline", None),
    "folio": ("/p/LAN/outline", open_task),
    "sheet": ("/p/LAN/outline", open_sheet),
    "notices": ("/notices", lambda page: page.get_by_role("article").first.wait_for()),
    "board": ("/p/KIO/board", None),
    "portfolio": ("/p/COAST/portfolio", None),
    "schedule": ("/p/LAN/schedule", show_vein),
    "load": ("/p/LAN/load", find_overload),
    "ripple": ("/p/LAN/schedule", move_a_bar),
    "draft": ("/p/LAN/planning", try_in_a_draft),
    "desk": ("/desk", None),
    "all-work": ("/desk", lambda page: page.get_by_role("link", name="Late or held").click()),
    "time-sheet": ("/desk/time", None),
    "costs": ("/p/LAN/costs", None),
    "goals": ("/goals", open_goal),
    "dashboard": ("/reports", open_dashboard),
    "report": ("/p/LAN/reports/draft", lambda page: page.get_by_label("How it stands", exact=True).wait_for()),
}


def main() -> None:
    """Take them all, or those named on the command line."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=["--no-sandbox", "--disable-gpu"])
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(URL)
        page.get_by_role("button", name="Ines Oduya").click()
        page.get_by_role("navigation", name="Places").wait_for()
        for name in sys.argv[1:] or PICTURES:
            path, act = PICTURES[name]
            page.goto(URL + path)
            page.get_by_role("navigation", name="Places").wait_for()
            page.wait_for_load_state("load")
            expect(page.get_by_role("status", name=re.compile("^Loading"))).to_have_count(0)
            page.wait_for_timeout(900)
            if act:
                act(page)
                expect(page.get_by_role("status", name=re.compile("^Loading"))).to_have_count(0)
                page.wait_for_timeout(300)
            page.screenshot(path=FOLDER / f"{name}.png")
        browser.close()


if __name__ == "__main__":
    main()
