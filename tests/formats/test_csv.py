"""CSV in: columns, forms of dates, nesting, and what cannot be read."""

from __future__ import annotations

from dataclasses import replace
from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rhodonite.core.common.errors import RuleError
from rhodonite.core.people.model import Person
from rhodonite.core.tasks.custom_fields import CustomField
from rhodonite.formats.csv_columns import match_columns
from rhodonite.formats.csv_table import read_table, write_csv
from rhodonite.formats.csv_tasks import Problem, ReadFile, Reading, ReadTask, parents_first, read_tasks
from tests.core.make import NOW, STATES

PEOPLE = [Person("t", "Tomas Brekke", "tomas@corvane.example", "member", "", 0, True)]
AGAINST = Reading(PEOPLE, STATES, NOW.date(), 450)


def read_all(text: str, matching: list[str | None] | None = None, against: Reading = AGAINST) -> ReadFile:
    table = read_table(text.encode())
    return read_tasks(table, matching or match_columns(table.heads, against.own), against)


def read(text: str, matching: list[str | None] | None = None) -> tuple[list[ReadTask], list[Problem]]:
    file = read_all(text, matching)
    return file.tasks, file.problems


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
        "Title,Owner,Start,Finish,Duration,Started on,Percent,Parent\n"
        "A,Nobody,soon,,long,next fri,150,Nothing\n"
        '"B\nb",,2027-03-10,2027-03-08,,,,\n'
        ",Tomas,,,,,,\n"
    )
    found = [(p.line, p.column) for p in problems]
    assert found == [
        (2, "Start"),
        (2, "Duration"),
        (2, "Started on"),
        (2, "Percent"),
        (2, "Parent"),
        (3, "Finish"),
        (5, "Title"),
    ]
    assert all(p.reason.endswith(".") for p in problems)


def test_rows_in_a_circle_are_told() -> None:
    _, problems = read("Title,Parent\nA,B\nB,A\nC,A\n")
    assert [p.line for p in problems] == [2]


def test_names_that_nothing_has_are_asked_about_once_each() -> None:
    file = read_all("Title,Owner,State,Kind,Helpers\nA,Nobody,Done,Snag,Tomas; Nobody\nB,nobody,under way,defect,\n")
    assert file.problems == []
    asked = [(one.field, one.text, one.rows, one.means) for one in file.unknown]
    assert sorted(asked) == [("kind", "Snag", 1, None), ("people", "Nobody", 3, None), ("state", "Done", 1, "done")]
    answers = {"people": {"NOBODY": "t"}, "kind": {"Snag": "defect"}, "state": {"Done": None}}
    file = read_all("Title,Owner,State,Kind\nA,Nobody,Done,Snag\n", against=replace(AGAINST, answers=answers))
    assert file.tasks[0].fields == {"owner_id": "t", "kind": "defect"}
    assert all(one.answered for one in file.unknown)


def test_what_has_begun_keeps_its_dates_and_what_is_planned_its_length() -> None:
    file = read_all(
        "Title,State,Start,Finish,Duration,Constraint,Started on,Finished on\n"
        "A,,2027-03-10,2027-03-12,2 d,as soon as possible,,\n"
        "B,done,2027-03-08,2027-03-10,2 d,as soon as possible,2027-03-08,2027-03-10\n"
    )
    assert file.tasks[0].fields == {"duration": 900, "constraint_type": "asap"}
    assert file.tasks[1].fields == {
        "state_id": "done", "start": date(2027, 3, 8), "finish": date(2027, 3, 10), "constraint_type": "asap",
        "actual_start": date(2027, 3, 8), "actual_finish": date(2027, 3, 10),
    }  # fmt: skip


def test_numbers_that_are_rounded_say_so_and_own_fields_point_to_rows() -> None:
    cost = CustomField("c", "Cost", "number", "a", decimals=1)
    parts = CustomField("p", "Parts", "tasks", "b")
    file = read_all(
        'Code,Title,Cost,Parts\nX 1,A,1.25,"2, 3"\nX 2,B,7.5,\nX 3,C,,\n', against=replace(AGAINST, own=[cost, parts])
    )
    assert file.problems == []
    assert [remark.reason for remark in file.remarks] == ["Cost: 1.25 is kept as 1.3."]
    assert file.tasks[0].fields == {"own.c": 1.3}
    assert file.tasks[0].points == {"own.p": ["1", "2"]}


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
    assert [cells[0].strip() for _, cells in table.rows] == [title.strip() for title in titles]


@pytest.mark.parametrize("cell", ["=1+1", "'=1+1", "''@x", "@you", "-5", "+4 %", "-rail", "'quoted'", "it's"])
def test_an_escape_comes_back_without_itself(cell: str) -> None:
    assert read_table(write_csv(["Title"], [[cell]])).rows[0][1] == [cell]


@pytest.mark.parametrize("cell", ["'\t", " '=1", "\t=1"])
def test_blanks_around_an_escape_are_no_part_of_it(cell: str) -> None:
    assert read_table(write_csv(["Title"], [[cell]])).rows[0][1] == [cell.strip()]


def test_formulas_stay_text() -> None:
    assert b"'=1+1" in write_csv(["Title"], [["=1+1"], ["-5"]])
    assert b"\r\n-5" in write_csv(["Title"], [["=1+1"], ["-5"]])
    for sign in "＝＋－＠":  # the wide forms, which a spreadsheet reads as the signs
        text = f"{sign}1+1"
        assert f"'{text}" in write_csv(["Title"], [[text]]).decode()
        assert read_table(write_csv(["Title"], [[text]])).rows[0][1] == [text]
