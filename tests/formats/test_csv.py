"""CSV in: columns, forms of dates, nesting, and what cannot be read."""

from __future__ import annotations

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rhodonite.core.errors import RuleError
from rhodonite.core.model import Person
from rhodonite.formats.csv_tasks import Reading, match_columns, parents_first, read_table, read_tasks, write_csv
from tests.core.make import NOW, STATES

PEOPLE = [Person("t", "Tomas Brekke", "tomas@corvane.example", "member", "", 0, True)]
AGAINST = Reading(PEOPLE, STATES, NOW.date(), 450)


def read(text: str, matching: list[str | None] | None = None):  # type: ignore[no-untyped-def]
    table = read_table(text.encode())
    return read_tasks(table, matching or match_columns(table.heads), AGAINST)


@pytest.mark.parametrize(
    ("data", "delimiter"),
    [(b"Title,Start\nA,fri\n", ","), (b"Title;Start\r\nA;fri\r\n", ";"), (b"Title\tStart\nA\tfri", "\t"),
     ("\ufeffTitle;Start\nÅse;fri\n".encode(), ";"), (b'"Title, long";Start\nA;fri\n', ";")],
)  # fmt: skip
def test_delimiters_and_encodings(data: bytes, delimiter: str) -> None:
    table = read_table(data)
    assert table.delimiter == delimiter
    assert len(table.heads) == 2
    assert len(table.rows) == 1


@pytest.mark.parametrize("data", [b"", b"Title\n", b"\xff\xfeT\x00", b"Title\nA\0B\n", "Größe\nA".encode("latin-1")])
def test_files_that_cannot_be_read(data: bytes) -> None:
    with pytest.raises(RuleError) as caught:
        read_table(data)
    assert caught.value.field == "file"


def test_columns_are_matched_by_their_heads() -> None:
    heads = ["WBS", "Task name", "Assigned to", "Start date", "Due", "Colour", "% done", "Notes", "Due date"]
    assert match_columns(heads) == ["outline", "title", "owner", "start", "finish", None, "percent", "description", None]


def test_a_row_in_full() -> None:
    tasks, problems = read(
        'Title,Owner,State,Priority,Start,Duration,Effort,% done,Notes,Kind\n"Measure, twice",tomas@corvane.example,under way,Won\'t,8 Mar,3 days,12,40%,"two\nlines",defect\n'
    )
    assert problems == []
    assert tasks[0].title == "Measure, twice"
    assert tasks[0].description == "two\nlines"
    assert tasks[0].fields == {
        "owner_id": "t", "state_id": "doing", "priority": "wont", "start": date(2027, 3, 8), "duration": 1350, "effort": 720,
        "percent": 40, "kind": "defect",
    }  # fmt: skip


@pytest.mark.parametrize("text", ["2027-03-08", "8/3/2027", "8.3.2027", "8 Mar 2027", "Mar 8, 2027", "8.3."])
def test_forms_of_dates(text: str) -> None:
    tasks, problems = read(f'Title,Start\nA,"{text}"\n')
    assert problems == []
    assert tasks[0].fields["start"] == date(2027, 3, 8)


def test_months_come_first_where_one_date_says_so() -> None:
    tasks, _ = read("Title,Start\nA,3/25/2027\nB,3/8/2027\n")
    assert [task.fields["start"] for task in tasks] == [date(2027, 3, 25), date(2027, 3, 8)]


def test_nesting_from_outline_numbers() -> None:
    tasks, problems = read("No,Title\n1,Glazing\n1.1,Bars\n1.1.1,Count\n1.3.2,Orphan\n2,Lens\n")
    assert problems == []
    assert [task.parent for task in tasks] == [None, 0, 1, 0, None]


def test_nesting_from_a_parent_column() -> None:
    tasks, problems = read("Title,Parent\nBars,Glazing\nGlazing,\nCount,bars\n")
    assert problems == []
    assert [task.parent for task in tasks] == [1, None, 0]
    assert parents_first(tasks) == [1, 0, 2]


def test_every_cell_that_cannot_be_read_is_told() -> None:
    _, problems = read(
        "Title,Owner,Start,Finish,Duration,State,Percent,Parent\n"
        "A,Nobody,soon,,long,Somewhere,150,Nothing\n"
        '"B\nb",,2027-03-10,2027-03-08,,,,\n'
        ",Tomas,,,,,,\n"
    )
    found = [(p.line, p.column) for p in problems]
    assert found == [
        (2, "Owner"),
        (2, "Start"),
        (2, "Duration"),
        (2, "State"),
        (2, "Percent"),
        (2, "Parent"),
        (3, "Finish"),
        (5, "Title"),
    ]
    assert all(p.reason.endswith(".") for p in problems)


def test_rows_in_a_circle_are_told() -> None:
    _, problems = read("Title,Parent\nA,B\nB,A\n")
    assert problems


@pytest.mark.parametrize("matching", [[None, "start"], ["title", "title"]])
def test_a_matching_that_cannot_be(matching: list[str | None]) -> None:
    with pytest.raises(RuleError):
        read("X,Y\nA,B\n", matching)


@given(
    st.lists(
        st.text(alphabet=st.characters(codec="utf-8", exclude_characters="\0\r"), min_size=1).filter(str.strip),
        min_size=1,
        max_size=8,
    )
)
def test_what_is_written_is_read_again(titles: list[str]) -> None:
    table = read_table(write_csv(["Title"], [[title] for title in titles]))
    assert [cells[0].lstrip("'").strip() for _, cells in table.rows] == [title.strip().lstrip("'").strip() for title in titles]


def test_formulas_stay_text() -> None:
    assert b"'=1+1" in write_csv(["Title"], [["=1+1"], ["-5"]])
    assert b"\r\n-5" in write_csv(["Title"], [["=1+1"], ["-5"]])
