"""Undo and redo where the board, workflows and states that finish work meet."""

from __future__ import annotations

import uuid
from typing import Any

import pytest

from tests.conftest import Caller, state_id


def undo(caller: Caller, change: str) -> str:
    """Take a change back; returns the change that does."""
    own = str(uuid.uuid4())
    caller("POST", f"/changes/{change}/undo", headers={"Rhodonite-Change": own})
    return own


@pytest.mark.parametrize("name", ["Finished", "Dropped"])
def test_a_move_to_the_end_of_the_board_is_taken_back_and_done_again(ines: Caller, name: str) -> None:
    task = ines.add("Cast bars", start="2027-03-15", duration="2 d", effort="8 h")
    end = state_id(ines, name)
    change = ines("POST", "/projects/LAN/tasks/drop", {"ids": [task["id"]], "state_id": end})["change"]
    done = ines.rows()["Cast bars"]
    back = undo(ines, change)
    assert ines.rows()["Cast bars"]["state_id"] == task["state_id"]
    again = undo(ines, back)
    assert without_revision(ines.rows()["Cast bars"]) == without_revision(done)
    undo(ines, again)
    assert without_revision(ines.rows()["Cast bars"]) == without_revision(task)


def without_revision(row: dict[str, Any]) -> dict[str, Any]:
    return {name: value for name, value in row.items() if name not in {"revision", "changed_at"}}


def test_a_workflow_with_kinds_is_taken_back_with_finished_work(ines: Caller) -> None:
    kind, flow = str(uuid.uuid4()), str(uuid.uuid4())
    ines("POST", "/projects/LAN/defined/kinds", {"id": kind, "name": "Inspection"})
    one = ines.add("Rail", kind=kind)
    two = ines.add("Stairs", kind=kind)
    ines.edit(two, state_id=state_id(ines, "Finished"))
    body = {"id": flow, "name": "Inspections", "settings": {"kinds": [kind]}}
    change = str(uuid.uuid4())
    ines("POST", "/projects/LAN/defined/workflows", body, headers={"Rhodonite-Change": change})
    before = ines.rows()
    assert before["Stairs"]["state_class"] == "finished"
    back = undo(ines, change)
    assert ines.rows()["Stairs"]["state_id"] == state_id(ines, "Finished")
    assert ines.rows()["Rail"]["state_id"] == one["state_id"]
    undo(ines, back)
    assert ines.rows()["Stairs"]["state_class"] == "finished"


def test_a_column_deleted_into_finished_finishes_its_tasks(ines: Caller) -> None:
    task = ines.add("Cast bars", start="2027-03-15", duration="2 d")
    review = state_id(ines, "In review")
    ines.edit(task, state_id=review)
    before = ines.rows()["Cast bars"]
    change = str(uuid.uuid4())
    finished = state_id(ines, "Finished")
    ines("DELETE", f"/projects/LAN/states/{review}?move_to={finished}", headers={"Rhodonite-Change": change})
    row = ines.rows()["Cast bars"]
    assert (row["state_id"], row["percent"], row["state_class"]) == (finished, 100, "finished")
    assert row["actual_finish"] is not None
    back = undo(ines, change)
    assert without_revision(ines.rows()["Cast bars"]) == without_revision(before)
    undo(ines, back)
    assert without_revision(ines.rows()["Cast bars"]) == without_revision(row)
