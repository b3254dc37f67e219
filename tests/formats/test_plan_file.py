"""The plan file: what is read, what is refused, and that nothing is lost on the way out and in."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given, settings

from rhodonite.core.schedule.ripple import ripple
from rhodonite.core.schedule.schedule import Schedule
from rhodonite.formats.plan_document import SCHEMAS, ChangesFile, PlanFile, schema_text
from rhodonite.formats.plan_file import FileError, changed, read_document, read_text, to_plan, write_plan
from rhodonite.formats.plan_results import write_ripple, write_schedule
from rhodonite.server.settings import ROOT
from tests.core.schedule.test_passes_laws import plans

WEEK = {day: [["09:00", "17:00"]] for day in ("mon", "tue", "wed", "thu", "fri")}


def document(**parts: Any) -> PlanFile:
    whole = {
        "format": "rhodonite-plan/1",
        "project": {"name": "Shed", "start": "2027-03-08T09:00", "calendar": "c"},
        "calendars": [{"id": "c", "week": WEEK}],
        "tasks": [{"id": "s"}, {"id": "a", "parent": "s", "duration": 480}, {"id": "b", "duration": 480}],
        "links": [{"from": "a", "to": "b"}],
    }
    found: PlanFile = read_text(json.dumps(whole | parts), PlanFile, "plan.json")
    return found


@settings(max_examples=40, deadline=None)
@given(plans())
def test_what_is_written_is_read_back_with_the_same_schedule(plan: Any) -> None:
    again = to_plan(read_text(write_plan(plan, "x").model_dump_json(by_alias=True), PlanFile, "x"))
    assert (again.tasks, again.links, again.start) == (list(plan.tasks), list(plan.links), plan.start)
    assert write_schedule(Schedule(again)) == write_schedule(Schedule(plan))


def test_a_schedule_as_a_document() -> None:
    written = write_schedule(Schedule(to_plan(document(tasks=[
        {"id": "s"}, {"id": "a", "parent": "s", "duration": 480}, {"id": "loose"},
        {"id": "b", "duration": 480, "constraint": {"type": "must_start", "at": "2027-03-08T09:00"}},
    ]))))  # fmt: skip
    by_id = {one["id"]: one for one in written["tasks"]}
    assert by_id["a"]["because"] == {"kind": "project_start"}
    assert by_id["b"]["because"] == {"kind": "pin", "constraint": "must_start"}
    assert by_id["loose"] | {"id": ""} == {
        "id": "", "early_start": None, "early_finish": None, "late_start": None, "late_finish": None, "start": None,
        "finish": None, "total_slack": None, "free_slack": None, "critical": False, "because": {"kind": "undated"},
    }  # fmt: skip
    assert written["conflicts"] == [{"kind": "link_broken_by_pin", "task": "b", "link": ["a", "b", "FS"], "minutes": 480}]


def changes(**parts: Any) -> ChangesFile:
    found: ChangesFile = read_text(json.dumps({"format": "rhodonite-changes/1"} | parts), ChangesFile, "changes.json")
    return found


def test_changes_are_made_in_their_order_and_leave_the_rest() -> None:
    after = changed(
        document(),
        changes(
            start="2027-03-09T09:00",
            add_tasks=[{"id": "new", "duration": 60}],
            change_tasks=[{"id": "a", "duration": 960, "deadline": "2027-03-12T17:00"}, {"id": "new", "name": "New"}],
            add_links=[{"from": "b", "to": "new", "lag": 60}],
        ),
    )
    assert [task.id for task in after.tasks] == ["s", "a", "b", "new"]
    assert (after.tasks[1].duration, after.tasks[1].parent, after.tasks[3].name) == (960, "s", "New")
    told = write_ripple(ripple(Schedule(to_plan(document())), Schedule(to_plan(after))))
    assert (told["finish_before"], told["finish_after"]) == ("2027-03-09T17:00", "2027-03-12T11:00")


def test_a_task_that_goes_takes_those_under_it_and_their_links() -> None:
    after = changed(document(), changes(remove_tasks=["s"]))
    assert [task.id for task in after.tasks] == ["b"]
    assert after.links == []


def test_a_cleared_field_is_cleared() -> None:
    held = document(tasks=[{"id": "a", "duration": 480, "deadline": "2027-03-08T17:00"}, {"id": "b"}])
    assert changed(held, changes(change_tasks=[{"id": "a", "deadline": None}])).tasks[0].deadline is None


@pytest.mark.parametrize(
    ("parts", "words"),
    [
        ({"change_tasks": [{"id": "x"}]}, "change_tasks[0].id"),
        ({"add_tasks": [{"id": "a"}]}, "add_tasks[0].id"),
        ({"remove_tasks": ["x"]}, "remove_tasks[0]"),
        ({"remove_links": [{"from": "b", "to": "a"}]}, "remove_links[0]"),
    ],
)
def test_changes_to_what_is_not_there_are_refused(parts: dict[str, Any], words: str) -> None:
    with pytest.raises(FileError) as caught:
        changed(document(), changes(**parts))
    assert words in caught.value.sentence


@pytest.mark.parametrize(
    ("parts", "words"),
    [
        ({"tasks": [{"id": "a"}, {"id": "a"}]}, "tasks[1].id: another task"),
        ({"tasks": [{"id": "a", "parent": "x"}]}, "tasks[0].parent"),
        ({"tasks": [{"id": "a", "calendar": "x"}], "links": []}, "tasks[0].calendar"),
        ({"tasks": [{"id": "a", "actual_start": "2027-03-09T09:00", "actual_finish": "2027-03-08T09:00"}]}, "actual_finish"),
        ({"calendars": [{"id": "c", "week": WEEK}, {"id": "c", "week": WEEK}]}, "calendars[1].id"),
        ({"calendars": [{"id": "c", "week": {}}]}, "working time on at least one weekday"),
    ],
)
def test_names_that_do_not_fit_are_refused_with_their_place(parts: dict[str, Any], words: str) -> None:
    with pytest.raises(FileError) as caught:
        to_plan(document(**parts))
    assert words in caught.value.sentence


@pytest.mark.parametrize(
    ("task", "words"),
    [
        ({"id": "a", "constraint": {"type": "must_start"}}, "tasks[0].constraint: must_start needs a moment"),
        ({"id": "a", "percent": 101}, "tasks[0].percent"),
        ({"id": "a", "deadline": "2027-03-08T09:00+01:00"}, "tasks[0].deadline"),
    ],
)
def test_values_that_cannot_be_are_refused_with_their_place(task: dict[str, Any], words: str) -> None:
    with pytest.raises(FileError) as caught:
        document(tasks=[task])
    assert words in caught.value.sentence


def test_a_file_that_cannot_be_read_says_so(tmp_path: Path) -> None:
    with pytest.raises(FileError, match="No such file"):
        read_document(tmp_path / "none.json", PlanFile)


@pytest.mark.parametrize("name", SCHEMAS)
def test_the_published_schemas_are_current(name: str) -> None:
    assert (ROOT / "docs" / name).read_text() == schema_text(SCHEMAS[name])
