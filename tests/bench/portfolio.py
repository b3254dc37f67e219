"""A portfolio over fifty projects, against bare SQL of the same rows; and the board of two thousand slips."""

from __future__ import annotations

import statistics
from collections.abc import Callable

import orjson
from playwright.sync_api import Page

from .browser import WATCH, signed_in
from .goals import TASKS, bare_ms, timed_ms
from .report import Line, Report

PROJECTS, SIZE, PEOPLE = 50, 500, 20


def join_all(ask: Callable[..., bytes]) -> None:
    """A portfolio that joins every project, and shows of each the second level."""
    ask("POST", "/portfolios", {"code": "ALL", "name": "All", "start_day": "2027-01-04"})
    for line in orjson.loads(ask("GET", "/projects")):
        if line["code"] != "ALL":
            ask("POST", "/projects/ALL/parts", {"code": line["code"], "shows": "level:2"})


def measure_portfolio(report: Report, url: str, ask: Callable[..., bytes], code: str, task_id: str) -> None:
    """The portfolio with what holds each item up, after an edit of one task, and when nothing has changed."""
    found = orjson.loads(ask("GET", "/projects/ALL/portfolio"))  # with the plans in hand
    assert len(found["parts"]) == PROJECTS
    assert any(one["holds_up"] and not one["holds_up"]["itself"] for one in found["items"])

    def edit(n: int) -> None:
        fields = {"percent": 10 + n}
        ask("PATCH", f"/projects/{code}/tasks", {"tasks": [{"id": task_id, "revision": 10**8, "fields": fields}]})

    reference = bare_ms(url, TASKS)
    name = f"a portfolio over {PROJECTS} projects of {SIZE}, {len(found['items']):,} items"
    took = timed_ms(lambda: ask("GET", "/projects/ALL/portfolio"), edit)
    report.add(Line(f"{name}, after an edit", took, "ms", reference, most=2, by_ratio=True))


def measure_moves(report: Report, port: int, token: str) -> None:
    """How long the eye waits on a board of 2,000 slips for a move, a fold, and what is typed: from the key or the click to the
    picture, as the browser itself reckons it."""
    with signed_in(port, token) as context:
        page = context.new_page()
        page.set_content(PLAIN_BOARD)
        page.evaluate(WATCH)
        page.locator("button").nth(5).focus()
        bare = _median(page, lambda n: page.keyboard.press("ArrowRight"))
        page.goto(f"http://127.0.0.1:{port}/p/BIG/board")
        page.locator("[data-slip]").first.wait_for()
        page.wait_for_timeout(1500)
        page.evaluate(WATCH)

        def move(n: int) -> None:
            page.locator("[data-slip]").nth(45 if n % 2 else 5).focus()
            page.keyboard.press("Alt+ArrowLeft" if n % 2 else "Alt+ArrowRight")

        def fold(_: int) -> None:
            page.locator('[aria-label$="old In review"]').click()

        def type_letter(n: int) -> None:
            if n == 0:
                page.locator("[data-add]").first.click()
            page.keyboard.press("a")

        for name, act in (
            ("a slip that is moved by a key", move),
            ("a column that is folded", fold),
            ("a letter that is typed", type_letter),
        ):
            report.add(Line(f"a board of 2,000: {name} is seen within", _median(page, act), "ms", bare, most=50))


def _median(page: Page, act: Callable[[int], None]) -> float:
    """The median of some rounds, each when the page has come to rest; of a round the event that waited longest."""
    times = []
    for n in range(9):
        page.evaluate("() => { window.watched.keys = []; }")
        act(n)
        page.wait_for_timeout(900)
        waited = page.evaluate("() => window.watched.keys")
        times.append(max(waited, default=16))  # what takes less than a frame is not told
    return statistics.median(times[2:])


#: Three columns of plain boxes, as bare as they can be; an arrow puts the one in focus on top of the next column.
PLAIN_BOARD = """<style>body{display:grid;grid-template-columns:repeat(3,1fr);gap:8px;font:13px sans-serif}
button{display:block;width:100%;height:60px;margin-bottom:7px;border:1px solid #ccc;background:#fff;text-align:left}</style><div></div><div></div>
<div></div><script>
  const columns = [...document.querySelectorAll('div')];
  for (const column of columns) for (let n = 0; n < 40; n++) {
    const box = document.createElement('button');
    box.textContent = `Task ${n} on the stone of the pier`;
    column.append(box);
  }
  document.addEventListener('keydown', () => {
    const box = document.activeElement, at = columns.indexOf(box.parentElement);
    columns[(at + 1) % 3].prepend(box);
    box.focus();
  });
</script>"""
