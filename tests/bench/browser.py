"""What a person feels in Chromium: first rows, frames, the time to answer a key, and what an open page asks."""

from __future__ import annotations

import json
import statistics
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager

from playwright.sync_api import BrowserContext, Page, Request, sync_playwright

from .report import Line, Report

ROW = "[role=row][data-row]"
LATENCY = 80
"""Milliseconds added to each answer, for somebody who is not near."""


@contextmanager
def signed_in(port: int, token: str) -> Iterator[BrowserContext]:
    """A browser in which somebody has entered."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=["--no-sandbox", "--disable-gpu"])
        context = browser.new_context(viewport={"width": 1280, "height": 800})
        context.add_cookies([{"name": "rhodonite_session", "value": token, "url": f"http://127.0.0.1:{port}"}])
        yield context
        browser.close()


def measure_browser(report: Report, port: int, token: str, edit: Callable[[int], None]) -> None:
    """The outline and the schedule of a project of 10,000 tasks, and the outline of one of some hundred.

    Args:
        edit: changes a task of the large project, as somebody else.
    """
    url = f"http://127.0.0.1:{port}"
    with signed_in(port, token) as context:
        page = context.new_page()
        plain = statistics.median(page.evaluate(PLAIN_ROWS) for _ in range(5))
        seen = first_rows(page, f"{url}/p/BIG/outline")
        report.add(Line("first rows of 10,000 seen in Chromium", seen, "ms", plain, most=1.5, by_ratio=True))
        report.add(Line("script before the first rows, compressed", page.evaluate(SCRIPT_BYTES) / 1000, "kB", most=170))
        report.add(Line("first rows of 150 seen", first_rows(page, f"{url}/p/SMALL/outline"), "ms", most=400))
        far = first_rows_from_afar(context, f"{url}/p/SMALL/outline")
        report.add(Line(f"the same with {LATENCY} ms added to each answer, and nothing kept", far, "ms", most=700))
        bare = frames(page, PLAIN_LIST, SCROLL, "#list")
        for lens, selector in (("outline", "[role=treegrid]"), ("schedule", "[data-bar]")):
            page.goto(f"{url}/p/BIG/{lens}")
            page.locator(selector).first.wait_for()
            rate = page.evaluate(SCROLL, selector)["rate"]
            report.add(Line(f"frames while scrolling the {lens}", rate, "a second", bare, least=0.8, by_ratio=True))
        rate = page.evaluate(ZOOM)["rate"]
        report.add(Line("frames while zooming the schedule", rate, "a second", bare, least=0.8, by_ratio=True))
        measure_keys(report, page, f"{url}/p/BIG/outline")
        measure_follow(report, page, f"{url}/p/BIG/outline", edit)


def measure_board(report: Report, port: int, token: str) -> None:
    """Dragging a slip over a board of 2,000."""
    with signed_in(port, token) as context:
        page = context.new_page()
        bare = frames(page, PLAIN_LIST, SCROLL, "#list")
        page.goto(f"http://127.0.0.1:{port}/p/BIG/board")
        page.locator("[data-slip]").first.wait_for()
        page.wait_for_timeout(1500)
        rate = page.evaluate(DRAG)["rate"]
        report.add(Line("frames while dragging on a board of 2,000", rate, "a second", bare, least=0.8, by_ratio=True))


def first_rows(page: Page, address: str) -> float:
    """Milliseconds from asking for a page until its first rows are seen, what does not change being kept from before."""
    times = []
    for _ in range(5):
        page.goto("about:blank")
        began = time.perf_counter()
        page.goto(address, wait_until="commit")
        page.locator(ROW).first.wait_for()
        times.append((time.perf_counter() - began) * 1000)
    return statistics.median(times)


def first_rows_from_afar(context: BrowserContext, address: str) -> float:
    """The same where each answer takes longer, and nothing is kept from before."""
    page = context.new_page()
    devtools = context.new_cdp_session(page)
    devtools.send("Network.enable")
    devtools.send("Network.setCacheDisabled", {"cacheDisabled": True})
    nothing = {"offline": False, "downloadThroughput": -1, "uploadThroughput": -1}
    devtools.send("Network.emulateNetworkConditions", {**nothing, "latency": LATENCY})
    seen = first_rows(page, address)
    page.close()
    return seen


def frames(page: Page, content: str, move: str, selector: str) -> float:
    """Frames a second of a page that is made for it."""
    page.goto("about:blank")
    page.set_content(content)
    return float(page.evaluate(move, selector)["rate"])


def measure_keys(report: Report, page: Page, address: str) -> None:
    """How long the page takes to answer keys: walking and typing in the outline; and its longest piece of work."""
    page.goto(address)
    page.locator(ROW).first.wait_for()
    page.wait_for_timeout(1500)
    page.evaluate(WATCH)
    page.locator(f"{ROW} [data-cell=title]").first.click()
    for _ in range(20):
        page.keyboard.press("ArrowDown", delay=20)
    page.keyboard.press("F2")
    page.keyboard.type(" and the sill", delay=40)
    page.keyboard.press("Enter")
    page.wait_for_timeout(1500)
    found: dict[str, list[float]] = json.loads(page.evaluate("() => JSON.stringify(window.watched)"))
    report.add(Line("the longest that a key waits for its picture", max(found["keys"], default=0), "ms", most=200))
    report.add(Line("the longest piece of work while walking and typing", max(found["work"], default=0), "ms", most=100))


def measure_follow(report: Report, page: Page, address: str, edit: Callable[[int], None]) -> None:
    """What an open page asks while somebody else makes 20 edits in 4 seconds, and when the last is seen."""
    page.goto(address)
    page.locator(ROW).first.wait_for()
    page.wait_for_timeout(2000)
    asked: list[str] = []

    def note(request: Request) -> None:
        if "/api/" in request.url:
            asked.append(request.url)

    page.on("request", note)
    for n in range(20):
        edit(n)
        page.wait_for_timeout(200)
    began = time.perf_counter()
    page.locator(ROW).get_by_text("Edit 19 by somebody else").wait_for()
    report.add(Line("20 edits by somebody else: requests of an open page", len(asked), "", most=6))
    report.add(
        Line("20 edits by somebody else: the last is seen within", (time.perf_counter() - began) * 1000 + 200, "ms", most=1000)
    )
    page.remove_listener("request", note)


#: Parses and lays out ten thousand rows of plain text, in milliseconds.
PLAIN_ROWS = """() => {
  const rows = Array.from({length: 10000}, (_, n) => ({id: n, title: `Task ${n} on the stone of the pier`, start: '2027-03-17'}));
  const text = JSON.stringify(rows);
  const began = performance.now();
  document.body.innerHTML = JSON.parse(text).map((row) => `<div style="height:29px">${row.title} ${row.start}</div>`).join('');
  document.body.offsetHeight;
  return performance.now() - began;
}"""

SCRIPT_BYTES = """() => performance.getEntriesByType('resource').filter((one) => one.name.endsWith('.js'))
  .reduce((sum, one) => sum + one.encodedBodySize, 0)"""

#: A virtual list of plain rows, as bare as one can be.
PLAIN_LIST = """<div id="list" style="height:700px;overflow-y:auto"><div style="height:290000px;position:relative"></div></div><script>
  const list = document.getElementById('list'), inner = list.firstChild;
  const draw = () => {
    const first = Math.floor(list.scrollTop / 29);
    inner.innerHTML = Array.from({length: 40}, (_, n) =>
      `<div style="position:absolute;top:${(first + n) * 29}px">Task ${first + n} on the stone of the pier</div>`).join('');
  };
  list.addEventListener('scroll', draw); draw();
</script>"""

#: Calls ``move`` in each frame for four seconds, and says how many frames that were.
_FRAMES = """const times = [];
  const step = now => {
    times.push(now);
    move(now - times[0], times.length);
    if (now - times[0] < 4000) requestAnimationFrame(step);
    else {
      const gaps = times.slice(1).map((at, index) => at - times[index]);
      done({rate: gaps.length / ((times.at(-1) - times[0]) / 1000), slowest: Math.max(...gaps)});
    }
  };
  requestAnimationFrame(step);"""

#: At 3,000 pixels, a hundred rows, a second.
SCROLL = f"""selector => new Promise(done => {{
  let box = document.querySelector(selector);
  while (box && !(box.scrollHeight > box.clientHeight + 10 && getComputedStyle(box).overflowY !== 'visible')) box = box.parentElement;
  const move = (passed) => {{ box.scrollTop = passed * 3; }};
  {_FRAMES}
}})"""

#: In and out again, a click of the wheel each frame, with the pointer in the middle of the bars.
ZOOM = f"""() => new Promise(done => {{
  const box = document.querySelector('[data-bar]').closest('.overflow-auto').getBoundingClientRect();
  const at = {{clientX: box.left + box.width * 0.7, clientY: box.top + box.height / 2, ctrlKey: true, bubbles: true, cancelable: true}};
  const target = document.elementFromPoint(at.clientX, at.clientY);
  const move = (_, count) => target.dispatchEvent(new WheelEvent('wheel', {{...at, deltaY: count % 60 < 30 ? -40 : 40}}));
  {_FRAMES}
}})"""

#: A slip is taken, and goes about the board in circles.
DRAG = f"""() => new Promise(done => {{
  const slip = document.querySelector('[data-slip]');
  const box = slip.getBoundingClientRect();
  const say = (type, x, y, target = document) => target.dispatchEvent(new PointerEvent(type,
    {{clientX: x, clientY: y, button: 0, buttons: 1, isPrimary: true, pointerId: 1, bubbles: true, cancelable: true}}));
  say('pointerdown', box.left + 20, box.top + 20, slip);
  const move = (passed) => say('pointermove', 640 + 400 * Math.cos(passed / 400), 420 + 200 * Math.sin(passed / 400));
  {_FRAMES.replace("done({", "say('pointercancel', 0, 0); done({")}
}})"""

#: Keeps how long keys wait until the page shows what they did, and every piece of work of more than 50 ms.
WATCH = """() => {
  window.watched = {keys: [], work: []};
  new PerformanceObserver((list) => window.watched.keys.push(...list.getEntries().filter((one) => one.interactionId)
    .map((one) => one.duration))).observe({type: 'event', durationThreshold: 16});
  new PerformanceObserver((list) => window.watched.work.push(...list.getEntries().map((one) => one.duration)))
    .observe({type: 'longtask'});
}"""
