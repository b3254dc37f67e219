"""One line into a task."""

from __future__ import annotations

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rhodonite.core.people.access import may_in_organisation, may_in_project, project_role
from rhodonite.core.people.model import Person
from rhodonite.core.tasks.quick_entry import ProjectName, ReadLine, Surroundings, find_person, read_line

from ..make import NOW, task

PEOPLE = [
    Person("i", "Ines Oduya", "ines@corvane.example", "manager", "", 0, True),
    Person("t", "Tomas Brekke", "tomas@corvane.example", "member", "", 0, True),
    Person("u", "Tomas Ulrich", "ulrich@corvane.example", "member", "", 0, True),
    Person("y", "Yuki Hartmann", "yuki@corvane.example", "member", "", 0, True),
    Person("z", "Gone Away", "gone@corvane.example", "member", "", 0, False),
]
AROUND = Surroundings(
    PEOPLE,
    [ProjectName("m", "MIL", "Tide Mill Visitor Wing"), ProjectName("l", "LAN", "Lantern Room Restoration")],
    [task("g", title="Glazing", number=7), task("h", title="Hoist", number=8)],
    NOW.date(),
    450,
)


def read(line: str) -> ReadLine:
    return read_line(line, AROUND)


def test_the_example_of_the_paper() -> None:
    found = read("Survey the gallery rail, Yuki, 6h, by fri, in MIL")
    assert found.title == "Survey the gallery rail"
    assert found.project_id == "m"
    assert found.fields == {"owner_id": "y", "duration": 360, "finish": date(2027, 3, 19)}
    assert [one.says for one in found.understood] == ["Yuki Hartmann", "takes 6 h", "finish Fri 19 Mar", "in MIL"]


def test_phrases_come_in_any_order() -> None:
    a, b = read("in LAN, must, fri, Survey, with Yuki, Ines"), read("Survey, Ines, with Yuki, fri, must, in LAN")
    assert (a.title, a.fields, a.project_id, a.helpers) == (b.title, b.fields, b.project_id, b.helpers)
    assert a.fields["priority"] == "must"
    assert a.helpers == ["y"]


def test_what_is_not_understood_stays_in_the_title() -> None:
    found = read("Buy sand, lime, and putty, by fri")
    assert found.title == "Buy sand, lime, and putty"
    assert list(found.fields) == ["finish"]


def test_a_name_that_two_share_is_left_and_told() -> None:
    found = read("Survey, Tomas")
    assert found.title == "Survey, Tomas"
    assert found.notes == ["2 people are called Tomas: write more of the name."]
    assert read("Survey, Tomas B.").fields["owner_id"] == "t"


@pytest.mark.parametrize(
    ("phrase", "field", "value"),
    [("from mon", "start", date(2027, 3, 22)), ("deadline 1 Apr", "deadline", date(2027, 4, 1)), ("defect", "kind", "defect"),
     ("won't", "priority", "wont"), ("under Glazing", "parent_id", "g"), ("under 8", "parent_id", "h"), ("half a day", "duration", 225),
     ("for 3 days", "duration", 1350), ("19 Mar", "finish", date(2027, 3, 19)), ("yuki@corvane.example", "owner_id", "y"),
     ("Hartmann", "owner_id", "y")],
)  # fmt: skip
def test_single_phrases(phrase: str, field: str, value: object) -> None:
    found = read(f"Survey, {phrase}")
    assert (found.title, found.fields) == ("Survey", {field: value})


@pytest.mark.parametrize("phrase", ["in XYZ", "under Nothing", "by soon", "Gone Away", "with nobody", "3"])
def test_phrases_that_mean_nothing_here(phrase: str) -> None:
    assert read(f"Survey, {phrase}").title == f"Survey, {phrase}"


def test_a_line_that_is_all_phrases_keeps_a_title() -> None:
    assert read("must").title == "must"
    assert read("by fri, Ines").title == "Ines"


@given(st.text(max_size=60))
def test_nothing_typed_is_lost(text: str) -> None:
    found = read(text)
    kept = found.title + "".join(one.phrase for one in found.understood)
    assert sorted(kept.replace(",", "").split()) == sorted(text.replace(",", " ").replace(" ", " ").split()) or "," in text


def test_people_who_left_are_not_found() -> None:
    assert find_person("Gone Away", PEOPLE) is None


def test_roles() -> None:
    assert project_role("administrator", None, True) == "lead"
    assert project_role("manager", None, False) == "lead"
    assert project_role("manager", None, True) is None
    assert project_role("manager", "viewer", True) == "viewer"
    assert project_role("member", None, False) == "viewer"
    assert project_role("member", None, True) is None
    assert project_role("guest", None, False) is None
    assert project_role("guest", "commenter", True) == "commenter"


def test_each_role_may_what_the_one_below_may() -> None:
    ladder = ["viewer", "commenter", "contributor", "lead"]
    actions = ["see", "comment", "edit", "manage"]
    for rung, role in enumerate(ladder):
        assert [may_in_project(role, action) for action in actions] == [i <= rung for i in range(4)]  # type: ignore[arg-type]
    assert not may_in_project(None, "see")
    assert may_in_organisation("administrator", "administer")
    assert not may_in_organisation("manager", "administer")
    assert may_in_organisation("manager", "create_project")
    assert not may_in_organisation("member", "create_project")
    assert not may_in_organisation("guest", "see_people")
