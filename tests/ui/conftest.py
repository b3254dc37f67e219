"""A running instance for the interface, and people in real browsers."""

from __future__ import annotations

import itertools
import re
import shutil
import signal
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Browser, BrowserType, Page, expect

from tests.conftest import make_folder
from tests.running import Running, Visitor

expect.set_options(timeout=30_000)  # a machine may be busy with other things
_codes = (f"T{number:03}" for number in itertools.count(1))


@pytest.fixture(scope="session")
def running() -> Iterator[Running]:
    folder = make_folder("demo")
    one = Running(folder, RHODONITE_NOW="2027-03-17T09:42")
    one.start()
    yield one
    one.stop(signal.SIGINT)
    shutil.rmtree(folder, ignore_errors=True)


@pytest.fixture(scope="session")
def browser(browser_type: BrowserType) -> Iterator[Browser]:
    """Debian's Chromium, where there is one without a window that costs nothing to draw."""
    program = shutil.which("chromium-headless-shell") or "/usr/bin/chromium"
    one = browser_type.launch(executable_path=program, args=["--no-sandbox", "--disable-gpu"])
    yield one
    one.close()


class Desk:
    """One person at one browser, signed in by the cookie."""

    def __init__(self, page: Page, running: Running, name: str) -> None:
        self.page = page
        self.url = running.url
        self.errors: list[str] = []
        page.on("pageerror", lambda error: self.errors.append(str(error)))
        cookie, _, token = Visitor(running, name).cookie.partition("=")
        page.context.add_cookies([{"name": cookie, "value": token, "url": self.url}])

    def go(self, path: str) -> Page:
        """Open an address."""
        self.page.goto(self.url + path)
        self.page.wait_for_selector("h1")
        return self.page

    def row(self, title: str) -> Any:
        """The row of a task in the outline."""
        return self.page.locator(f'[role=row]:has(span[title="{title}"])')

    def cell(self, title: str, column: str) -> Any:
        """A cell of a task in the outline or the schedule. The bar of a row stands in a pane of its own."""
        if column == "bar":
            return self.page.locator(f'[data-row="{self.row(title).get_attribute("data-row")}"] [data-cell=bar]')
        return self.row(title).locator(f"[data-cell={column}]")

    def saved(self) -> None:
        """Wait until what was done has arrived: no dialog stands open, and nothing is on its way. Ask the server, or
        whether something has gone from the page, only after this: an open dialog hides all else from roles."""
        expect(self.page.get_by_role("dialog")).to_have_count(0)
        expect(self.page.get_by_role("alertdialog")).to_have_count(0)
        expect(self.page.get_by_role("status").filter(has_text="All saved")).to_be_visible()

    def page_of_project(self, name: str) -> None:
        """Open a page on the project itself, by the menu in the sheet bar."""
        self.page.get_by_role("button", name=re.compile("^Project")).click()
        self.page.get_by_role("menuitem", name=name).click()

    def answers_take(self, ms: int) -> None:
        """Make the network slow: each answer takes that many milliseconds more, for this page alone. The browser itself
        waits, so nothing that is under way when the test ends has to be let through."""
        session = self.page.context.new_cdp_session(self.page)
        session.send("Network.enable")
        session.send(
            "Network.emulateNetworkConditions",
            {"offline": False, "latency": ms, "downloadThroughput": -1, "uploadThroughput": -1},
        )

    def titles(self) -> list[str]:
        """The titles in the outline from the top, with their outline numbers."""
        cells = self.page.locator("[role=row][data-row] [data-cell=title] > span.truncate").all()
        return [re.sub(r"^([\d.]+)\s*", r"\1 ", cell.inner_text().strip()) for cell in cells]


@pytest.fixture
def sit(browser: Browser, running: Running) -> Iterator[Callable[..., Desk]]:
    """``sit("Ines Oduya")``: a browser of that person's own."""
    desks: list[tuple[Any, Desk]] = []

    def enter(name: str = "Ines Oduya", width: int = 1280, height: int = 800) -> Desk:
        context = browser.new_context(viewport={"width": width, "height": height})
        desks.append((context, Desk(context.new_page(), running, name)))
        return desks[-1][1]

    yield enter
    errors = [error for _, desk in desks for error in desk.errors]
    for context, _ in desks:
        context.close()
    assert errors == []


class Made:
    """A project made for one test, through the API."""

    def __init__(self, running: Running) -> None:
        self.ines = Visitor(running, "Ines Oduya")
        self.code = next(_codes)
        self.ines("POST", "/projects", {"code": self.code, "name": f"Project {self.code}", "start_day": "2027-03-08"})

    def add(self, *titles: str, **fields: Any) -> None:
        """Write tasks down at the end."""
        self.ines("POST", f"/projects/{self.code}/tasks", {"tasks": [{"title": title, "fields": fields} for title in titles]})

    def rows(self) -> dict[str, dict[str, Any]]:
        """The rows by title."""
        return {row["title"]: row for row in self.ines("GET", f"/projects/{self.code}/tasks")["rows"]}


@pytest.fixture
def made(running: Running) -> Made:
    return Made(running)


AXE = Path(__file__).parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js"


def add_field(page: Page, name: str) -> None:
    """Show an empty field of the task in the folio."""
    page.get_by_role("button", name="+ add a field").click()
    page.get_by_role("menuitem", name=name, exact=True).click()
