"""The schedule on paper: what lies on which page, and the files that it becomes."""

from __future__ import annotations

import io
import re
import xml.etree.ElementTree as ElementTree
from datetime import datetime
from typing import Any

import pytest
from fontTools.ttLib import TTFont
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from rhodonite.core.common.errors import RuleError
from rhodonite.core.people.viewer import Viewer
from rhodonite.core.schedule.plan import Plan
from rhodonite.core.schedule.planning import computed_dates, schedule_of
from rhodonite.core.tasks.model import Link
from rhodonite.core.views.catalogue import Catalogue
from rhodonite.core.views.conditions import read_group
from rhodonite.core.views.tints import Tint, colouring
from rhodonite.formats.drawing.letters import fit, font_with, width_of
from rhodonite.formats.drawing.marks import Page, Path, Rect, Text, clipped
from rhodonite.formats.drawing.pdf import write_pdf
from rhodonite.formats.drawing.png import write_png
from rhodonite.formats.drawing.schedule import Layout, SchedulePrint
from rhodonite.formats.drawing.signs import COLOURS, sign, wash
from rhodonite.formats.drawing.svg import write_svg
from rhodonite.formats.drawing.time_axis import TimeAxis
from tests.core.make import DAY, NOW, OFFICE, PROJECT, at, plan, task

ROSE = "#b23a63"
number = st.floats(-200, 200, allow_nan=False)


def make_plan(count: int = 40) -> Plan:
    """A deliverable with tasks of three days, one after the other, and a milestone at the end."""
    rows = [task("top", title="Floor", place="a")]
    for n in range(count):
        links = (Link(f"t{n - 1}"),) if n else ()
        rows.append(task(f"t{n}", "top", title=f"Lay course {n}", place=f"b{n:04}", duration=3 * DAY, waits_for=links))
    rows.append(task("end", "top", title="Floor done", kind="milestone", place="c", waits_for=(Link(f"t{count - 1}"),)))
    dated = {row.id: row for row in rows}
    moves = computed_dates(schedule_of(PROJECT, OFFICE, dated), dated)
    return plan(*(row.with_fields(moves.get(row.id, {})) for row in rows))


def printing(**choices: Any) -> SchedulePrint:
    return SchedulePrint(make_plan(), None, {}, Layout(**choices), NOW)


def words(page: Page) -> list[str]:
    return [mark.text for mark in page.marks if isinstance(mark, Text)]


@given(st.lists(st.tuples(number, number), min_size=2, max_size=6), number, number, st.floats(1, 100), st.floats(1, 100))
def test_clipped_lines_lie_within_and_on_the_line(points: list[Any], x: float, y: float, wide: float, high: float) -> None:
    box = (x, y, x + wide, y + high)
    for part in clipped([Path(tuple(points), stroke=ROSE)], box):
        assert isinstance(part, Path)
        for px, py in part.points:
            assert box[0] - 1e-6 <= px <= box[2] + 1e-6
            assert box[1] - 1e-6 <= py <= box[3] + 1e-6
    everything = list(clipped([Path(tuple(points), stroke=ROSE)], (-300, -300, 300, 300)))
    assert [part.points for part in everything if isinstance(part, Path)] == [tuple(points)]


@given(number, number, st.floats(0.1, 100), st.floats(0.1, 100))
def test_a_rectangle_cut_in_two_keeps_its_area(x: float, y: float, wide: float, high: float) -> None:
    parts = [*clipped([Rect(x, y, wide, high)], (-500, -500, 0, 500)), *clipped([Rect(x, y, wide, high)], (0, -500, 500, 500))]
    assert sum(one.width * one.height for one in parts if isinstance(one, Rect)) == pytest.approx(wide * high)


@given(st.text(alphabet=st.characters(min_codepoint=32, max_codepoint=0x24F), max_size=60), st.floats(0, 300))
def test_fitted_text_fits(text: str, width: float) -> None:
    shown = fit(text, width, 8)
    assert shown == text or shown == "" or (shown.endswith("…") and width_of(shown, 8) <= width)


def test_every_task_is_on_one_page_and_heads_are_on_all() -> None:
    sheet = printing()
    pages = [sheet.page(number) for number in range(1, sheet.count + 1)]
    assert sheet.count == 2
    for page in pages:
        assert {"Task", "Start", "March 2027", PROJECT.name} <= set(words(page))
    titles = [text for page in pages for text in words(page) if text.startswith("Lay course")]
    assert titles == [f"Lay course {n}" for n in range(40)]
    assert [text for page in pages for text in words(page) if " · page " in text] == [
        "as of 17 Mar, 09:30 · page 1 of 2", "as of 17 Mar, 09:30 · page 2 of 2"]  # fmt: skip


def test_time_goes_on_over_pages_side_by_side() -> None:
    sheet = printing(wide=3, columns=("finish",))
    assert sheet.count == 6
    first, second = sheet.page(1), sheet.page(2)
    assert "Finish" in words(first)
    assert "Finish" not in words(second)  # number and title alone are repeated
    assert "Lay course 3" in words(second)
    assert sum(sheet.slices) == pytest.approx(sheet.axis.width)
    bars = [
        sum(mark.width for mark in sheet.page(page).marks if isinstance(mark, Rect) and mark.stroke and mark.fill)
        for page in (1, 2, 3)
    ]
    shown = sum(bars) + sum(
        mark.width
        for page in (4, 5, 6)
        for mark in sheet.page(page).marks
        if isinstance(mark, Rect) and mark.stroke and mark.fill
    )
    spans = sum(sheet.axis.x(row.finish) - sheet.axis.x(row.start) for row, _, _ in sheet.rows if not row.is_summary
                and row.task.kind != "milestone" and row.start and row.finish)  # fmt: skip
    assert shown == pytest.approx(spans)  # nothing of a bar is lost or drawn twice where pages meet


def test_one_sheet_is_as_large_as_it_takes() -> None:
    sheet = printing(paper="one sheet")
    assert sheet.count == 1
    assert len([text for text in words(sheet.page(1)) if text.startswith("Lay course")]) == 40


def test_only_what_is_within_the_scope_with_what_stands_above_it() -> None:
    sheet = SchedulePrint(make_plan(), ["t3"], {}, Layout(), NOW, "Second crew")
    shown = words(sheet.page(1))
    assert "Lay course 3" in shown
    assert "Floor" in shown
    assert "Lay course 4" not in shown
    assert "What if: Second crew" in shown


@pytest.mark.parametrize(
    ("choices", "field"),
    [
        ({"paper": "B9"}, "paper"),
        ({"size": "huge"}, "size"),
        ({"wide": 40}, "wide"),
        ({"columns": ("price",)}, "columns"),
        ({"landscape": False, "columns": ("owner", "start", "finish", "duration", "slack", "waits", "agreed")}, "columns"),
        ({"first": datetime(2027, 5, 1).date(), "last": datetime(2027, 4, 1).date()}, "last"),
    ],
)
def test_what_cannot_be_printed_says_which_choice_is_in_the_way(choices: dict[str, Any], field: str) -> None:
    with pytest.raises(RuleError) as refused:
        printing(**choices)
    assert refused.value.field == field


def test_the_axis_gives_days_without_work_a_strip() -> None:
    axis = TimeAxis(OFFICE, at("3-08").date(), at("3-14").date(), 544)
    assert axis.x(at("3-08 09:00")) == 0
    assert axis.x(at("3-09 09:00")) == pytest.approx(100)
    assert axis.x(at("3-13 12:00")) - axis.x(at("3-12 17:30")) == pytest.approx(11, abs=0.5)
    assert axis.x(at("4-30")) == 544


def test_the_files_are_what_they_say() -> None:
    sheet = printing()
    pages = [sheet.page(number) for number in range(1, sheet.count + 1)]
    drawing = ElementTree.fromstring(write_svg(pages[0], "A & B"))
    assert drawing.get("width") == "841.89pt"
    assert any(node.text == "Lay course 0" for node in drawing.iter("{http://www.w3.org/2000/svg}text"))
    pdf = write_pdf(pages, "Floor", NOW)
    assert pdf.startswith(b"%PDF-")
    assert len(re.findall(rb"/Type /Page\b", pdf)) == 2
    picture = Image.open(io.BytesIO(write_png(pages[0])))
    assert (picture.format, picture.width) == ("PNG", 1684)
    assert (178, 58, 99) in {colour for _, colour in picture.getcolors(1_000_000) or []}  # now, in rose


def test_a_font_in_a_drawing_holds_its_letters_alone() -> None:
    font = TTFont(io.BytesIO(font_with("Glä", bold=True)))
    assert set(font.getBestCmap()) == {ord(one) for one in "Glä "}


def tinted(*tints: Tint) -> Page:
    made = make_plan(6)
    coloured = colouring(list(made.rows.values()), tints, Catalogue(made, {}), Viewer("ines"))
    return SchedulePrint(made, None, {}, Layout(), NOW, "", coloured).page(1)


def grounds(page: Page, colour: str, share: float) -> list[Rect]:
    return [mark for mark in page.marks if isinstance(mark, Rect) and mark.fill == wash(colour, share)]


def test_tints_colour_rows_cells_and_bars_and_are_named() -> None:
    first = read_group({"any": [["title", "contains", "course 1"], ["title", "contains", "course 2"]]})
    page = tinted(
        Tint("a", "Second and third", first, "violet", "star", ("row",)),
        Tint("b", "Third", read_group({"all": [["title", "contains", "course 2"]]}), "moss", "ring", ("bar", "cell"), "finish"),
        Tint("c", "None at all", read_group({"all": [["title", "contains", "roof"]]}), "ochre", "drop", ("row",)),
    )
    assert len(grounds(page, "violet", 0.17)) == 2  # beside the bars
    assert len(grounds(page, "violet", 0.1)) == 2  # behind them
    assert len(grounds(page, "moss", 0.3)) == 2  # a cell and a bar
    assert sum(isinstance(m, Path) and m.fill == COLOURS["violet"] for m in page.marks) == 3  # two rows, and the name
    assert {"Second and third", "Third"} <= set(words(page))
    assert "None at all" not in words(page)
    rows = {mark.text: mark.y for mark in page.marks if isinstance(mark, Text)}
    (cell, _) = sorted(grounds(page, "moss", 0.3), key=lambda mark: mark.x)
    assert cell.y < rows["Lay course 2"] < cell.y + cell.height


@pytest.mark.parametrize("shape", ["square", "circle", "triangle", "star", "flag", "drop", "cross", "ring"])
def test_a_sign_keeps_to_its_square(shape: str) -> None:
    marks = list(sign(shape, "ember", 10, 20, 6))
    points = [point for mark in marks if isinstance(mark, Path) for point in mark.points]
    assert marks
    assert all(10 <= x <= 16 and 20 <= y <= 26 for x, y in points)
