"""A board on paper."""

from __future__ import annotations

import re

from rhodonite.core.board.on_paper import Head, PaperBoard, PaperCell, PaperRow
from rhodonite.core.schedule.plan import Plan, Row
from rhodonite.formats.board_pdf import lines_of, say_count, write_board_pdf
from rhodonite.formats.paper import Paper
from tests.core.make import NOW, OFFICE, PROJECT, task


def slips(count: int) -> list[Row]:
    return list(
        Plan(PROJECT, OFFICE, [task(f"t{n}", title="Glaze " * 30, owner_id="i") for n in range(count)], NOW).rows.values()
    )


def printed(columns: int, cell: PaperCell) -> bytes:
    heads = [Head(f"Column {n}", 3, 2 if n else None, None if n else (5, 4)) for n in range(columns)]
    rest = [PaperCell(1, skipped=True) for _ in range(columns - cell.span)]
    board = PaperBoard("Repairs", heads, [PaperRow("Urgent", [cell, *rest])])
    return write_board_pdf("LAN Lantern Room: board", "3 slips", [board], {"i": "Ines O."}, NOW)


def pages(pdf: bytes) -> int:
    return len(re.findall(rb"/Type /Page\b", pdf))


def test_it_goes_over_as_many_pages_as_its_longest_column_takes() -> None:
    assert [pages(printed(4, PaperCell(1, slips(many)))) for many in (0, 1, 8, 9, 40)] == [1, 1, 1, 2, 5]


def test_slips_of_a_joined_cell_lie_side_by_side() -> None:
    assert [lines_of(PaperCell(span, slips(5))) for span in (1, 2, 3, 5)] == [5, 3, 2, 1]
    assert pages(printed(4, PaperCell(4, slips(32)))) == 1


def test_a_board_of_many_columns_goes_on_larger_paper() -> None:
    def width(pdf: bytes) -> float:
        found = re.search(rb"/MediaBox \[0 0 ([\d.]+)", pdf)
        assert found is not None
        return float(found[1])

    assert width(printed(5, PaperCell(1))) < 850 < width(printed(12, PaperCell(1)))


def test_a_column_says_how_many_stand_in_it_and_may() -> None:
    assert [say_count(Head("Ready", 1200)), say_count(Head("Ready", 5, 4))] == ["1,200", "5 of 4"]


def test_without_a_state_there_is_nothing() -> None:
    assert pages(write_board_pdf("LAN: board", "no slips", [PaperBoard("", [], [])], {}, NOW)) == 1


def test_a_title_is_broken_between_words_and_cut_at_its_last_line() -> None:
    pdf = Paper("x", "x", NOW)
    assert pdf.wrapped("Glaze the lantern", 60, 2, 8) == ["Glaze the lantern"]
    lines = pdf.wrapped("Glaze the lantern room again", 20, 2, 8)
    assert len(lines) == 2
    assert lines[0] == "Glaze the"
    assert lines[1].startswith("lantern")
    assert lines[1].endswith("…")
    long = pdf.wrapped("Lanternroomrestorationproject", 20, 2, 8)
    assert len(long) == 1
    assert long[0].endswith("…")
    assert pdf.wrapped("", 20, 2, 8) == []
