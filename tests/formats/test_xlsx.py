"""Spreadsheets: what goes out comes in again as it was, and what is none is refused."""

from __future__ import annotations

import io
import zipfile

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from openpyxl import load_workbook

from rhodonite.core.common.errors import RuleError
from rhodonite.formats import xlsx_table
from rhodonite.formats.csv_table import read_table
from rhodonite.formats.xlsx_table import write_xlsx

# no spaces at the ends, which a table drops, and no text that is a number or a moment in another form
words = st.text(st.characters(codec="utf-8", exclude_categories=("C", "Z"), exclude_characters="0123456789"), max_size=12)


@settings(max_examples=40, deadline=None)
@given(st.lists(st.lists(words, min_size=2, max_size=4), min_size=1, max_size=6))
def test_text_comes_in_again_as_it_went_out(rows: list[list[str]]) -> None:
    rows = [["x", *row] for row in rows]
    read = read_table(write_xlsx(["A", "B", "C", "D", "E"], rows))
    assert [[*cells, *[""] * 5][:5] for _, cells in read.rows] == [[*row, *[""] * 5][:5] for row in rows]


def test_numbers_and_moments_are_what_they_say_and_formulas_are_text() -> None:
    row = ["12", "0.25", "007", "2027-03-17", "2027-03-17 09:00", "=1+1", "1.2.3"]
    data = write_xlsx([f"H{n}" for n in range(7)], [row])
    sheet = load_workbook(io.BytesIO(data)).worksheets[0]
    assert [cell.data_type for cell in sheet[2]] == ["n", "n", "s", "d", "d", "s", "s"]
    assert read_table(data).rows == [(2, row)]


@pytest.mark.parametrize("data", [b"PK\x03\x04", b"PK\x03\x04" + b"x" * 500])
def test_what_is_no_spreadsheet_is_refused(data: bytes) -> None:
    with pytest.raises(RuleError):
        read_table(data)


def test_a_packed_file_of_something_else_is_refused() -> None:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as packed:
        packed.writestr("hello.txt", "hello")
    with pytest.raises(RuleError):
        read_table(out.getvalue())


def test_a_file_that_unpacks_to_too_much_is_refused(monkeypatch: pytest.MonkeyPatch) -> None:
    data = write_xlsx(["A"], [["x"]])
    monkeypatch.setattr(xlsx_table, "LARGEST", 100)
    with pytest.raises(RuleError, match="too large"):
        read_table(data)
