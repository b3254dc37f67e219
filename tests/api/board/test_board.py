"""The board through the API: workflows, steps, lanes, the backlog, limits and blanks; and all of it taken back."""

from __future__ import annotations

import re
import uuid
from collections.abc import Callable
from datetime import timedelta
from typing import Any

import pytest

from rhodonite.services.common.context import Clock
from tests.conftest import NOW, Caller, state_id


def define(caller: Caller, sort: str, name: str, **settings: Any) -> str:
    """Define something for the board; returns its id."""
    one = str(uuid.uuid4())
    caller("POST", f"/projects/LAN/defined/{sort}", {"id": one, "name": name, "settings": settings})
    return one


def project(caller: Caller) -> dict[str, Any]:
    """The project as it stands."""
    found: dict[str, Any] = caller("GET", "/projects/LAN")
    return found


def states(caller: Caller, workflow: str | None = None) -> list[str]:
    """The names of the states of a workflow, in order."""
    return [one["name"] for one in project(caller)["states"] if one["workflow_id"] == workflow]


def drop(caller: Caller, row: dict[str, Any], state: str, expect: int | None = None, reason: str = "", **fields: Any) -> Any:
    """Put a slip down."""
    body = {"ids": [row["id"]], "state_id": state, "after_id": "end", "fields": fields}
    headers = {"Rhodonite-Reason": reason} if reason else {}
    return caller("POST", "/projects/LAN/tasks/drop", body, expect=expect, headers=headers)


def undo_last(caller: Caller) -> None:
    """Take back the last change of the project that is not taken back yet."""
    done = caller("GET", "/projects/LAN/activity")
    change = next(one for one in done if not one["undone"] and not one["what"].startswith("took back"))
    caller("POST", f"/changes/{change['id']}/undo")


def shape(caller: Caller) -> tuple[Any, ...]:
    """All that makes the board: its states, and what is defined for it; and where each task stands."""
    now = project(caller)
    rows = {row["title"]: (row["state_id"], row["lane_id"], row["period_id"]) for row in caller.rows().values()}
    return *(now[name] for name in ("states", "workflows", "lanes", "periods", "blanks")), rows


def test_a_stage_is_split_and_joined_and_loses_no_task(ines: Caller) -> None:
    under_way = state_id(ines, "Under way")
    ines("PATCH", f"/projects/LAN/states/{under_way}", {"limit": 3})
    ines.add("A", state_id=under_way)
    before = shape(ines)
    step = str(uuid.uuid4())
    ines("POST", f"/projects/LAN/states/{under_way}/steps", {"id": step, "first": "Building", "second": "Ready to try"})
    assert states(ines) == ["Ready", "Under way", "Under way: Ready to try", "In review", "Finished", "Dropped"]
    head = next(one for one in project(ines)["states"] if one["id"] == under_way)
    assert (head["step"], head["limit"], head["column_limit"]) == ("Building", None, 3)
    drop(ines, ines.rows()["A"], step)
    ines("PATCH", f"/projects/LAN/states/{under_way}", {"name": "On the bench", "after_id": state_id(ines, "In review")})
    assert states(ines)[1:4] == ["In review", "On the bench", "On the bench: Ready to try"]
    undo_last(ines)
    undo_last(ines)
    undo_last(ines)
    assert shape(ines) == before
    ines("POST", f"/projects/LAN/states/{under_way}/steps", {"id": str(uuid.uuid4()), "first": "Building", "second": "Picked"})
    picked = state_id(ines, "Under way: Picked")
    drop(ines, ines.rows()["A"], picked)
    ines("POST", f"/projects/LAN/states/{picked}/join")
    assert shape(ines) == before
    undo_last(ines)
    assert ines.rows()["A"]["state_id"] == picked


def test_a_split_stage_goes_with_all_of_its_steps(ines: Caller) -> None:
    under_way, review = state_id(ines, "Under way"), state_id(ines, "In review")
    step = str(uuid.uuid4())
    ines("POST", f"/projects/LAN/states/{under_way}/steps", {"id": step, "first": "Building", "second": "Picked"})
    ines.add("A", state_id=under_way)
    ines.add("B", state_id=step)
    before = shape(ines)
    ines("DELETE", f"/projects/LAN/states/{under_way}", expect=422)
    ines("DELETE", f"/projects/LAN/states/{under_way}?move_to={step}", expect=422)  # that goes too
    ines("DELETE", f"/projects/LAN/states/{under_way}?move_to={review}")
    assert states(ines) == ["Ready", "In review", "Finished", "Dropped"]
    assert {row["state_id"] for row in ines.rows().values()} == {review}
    undo_last(ines)
    assert shape(ines) == before
    ines("PATCH", f"/projects/LAN/states/{step}", {"after_id": review}, expect=422)  # a step stays within its stage
    ines("PATCH", f"/projects/LAN/states/{step}", {"state_class": "queued"}, expect=422)
    ines("PATCH", f"/projects/LAN/states/{under_way}", {"state_class": "queued"})
    assert {one["state_class"] for one in project(ines)["states"] if step in (one["id"],)} == {"queued"}


def test_work_goes_its_way_by_kind_and_by_branch(ines: Caller) -> None:
    fault, plain = ines.add("Fault", kind="defect"), ines.add("Plain")
    branch = ines.add("Pier")
    under = ines.add("Gate", parent=branch["id"], state_id=state_id(ines, "Under way"))
    before = shape(ines)
    way = define(ines, "workflows", "Repairs", kinds=["defect"], branches=[branch["id"]])
    assert states(ines, way) == ["Ready", "Under way", "In review", "Finished", "Dropped"]
    labels = {one["id"]: one["label"] for one in project(ines)["states"]}
    rows = ines.rows()
    assert labels[rows["Fault"]["state_id"]] == "Ready (Repairs)"
    assert labels[rows["Gate"]["state_id"]] == "Under way (Repairs)"
    assert labels[rows["Plain"]["state_id"]] == "Ready (Main)"
    assert labels[ines.add("New fault", kind="defect")["state_id"]] == "Ready (Repairs)"
    assert labels[ines.add("Under the pier", parent=branch["id"])["state_id"]] == "Ready (Repairs)"
    # another kind, another way; put elsewhere by hand it stays there
    assert labels[ines.edit(rows["Plain"], kind="defect")["state_id"]] == "Ready (Repairs)"
    drop(ines, rows["Fault"], plain["state_id"])
    assert labels[ines.edit(ines.rows()["Fault"], title="Old fault")["state_id"]] == "Ready (Main)"
    ines("POST", "/projects/LAN/tasks/move", {"ids": [under["id"]], "parent_id": None})
    assert labels[ines.rows()["Gate"]["state_id"]] == "Under way (Main)"
    # the way that goes leaves no task behind
    ines("DELETE", f"/projects/LAN/defined/workflows/{way}")
    assert {labels[row["state_id"]] for row in ines.rows().values()} <= {"Ready (Main)", "Under way (Main)"}
    undo_last(ines)
    assert labels[ines.rows()["New fault"]["state_id"]] == "Ready (Repairs)"
    assert before[0] == [one | {"label": one["name"]} for one in project(ines)["states"] if not one["workflow_id"]]
    assert fault["id"] in {row["id"] for row in ines.rows().values()}


def test_what_is_designed_is_taken_back_and_all_stands_as_before(ines: Caller) -> None:
    ines.add("A", kind="defect")
    ines.add("B", priority="must")
    before = shape(ines)
    way = define(ines, "workflows", "Repairs", kinds=["defect"])
    lane = define(ines, "lanes", "Urgent", limit=1, where={"all": [["priority", "any", ["must"]]]})
    hand = define(ines, "lanes", "By hand")
    period = define(ines, "periods", "Next quarter", first="2027-04-01", last="2027-06-30")
    ines.edit(ines.rows()["B"], lane_id=hand, period_id=period)
    made = shape(ines)
    ines("PATCH", f"/projects/LAN/defined/lanes/{lane}", {"name": "Now", "settings": {"limit": 2}, "after_id": hand})
    ines("DELETE", f"/projects/LAN/defined/lanes/{hand}?move_to={lane}")
    assert ines.rows()["B"]["lane_id"] == lane
    ines("DELETE", f"/projects/LAN/defined/periods/{period}")
    ines("DELETE", f"/projects/LAN/defined/workflows/{way}")
    for _ in range(4):
        undo_last(ines)
    assert shape(ines) == made
    for _ in range(5):
        undo_last(ines)
    assert shape(ines) == before


def test_the_backlog_is_pulled_from_and_laid_back(ines: Caller) -> None:
    period = define(ines, "periods", "Later")
    row = ines.add("A", period_id=period)
    drop(ines, row, state_id(ines, "Under way"), period_id=None)
    row = ines.rows()["A"]
    assert (row["period_id"], row["state_class"]) == (None, "active")
    drop(ines, row, state_id(ines, "Under way"), 422, period_id=period)
    drop(ines, row, state_id(ines, "Ready"), period_id=period)
    assert ines.rows()["A"]["period_id"] == period
    ines.edit(ines.rows()["A"], percent=20)
    assert ines.rows()["A"]["period_id"] is None
    body = {"tasks": [{"title": "B", "fields": {"lane_id": str(uuid.uuid4())}}]}
    ines("POST", "/projects/LAN/tasks", body, expect=422)
    ines(
        "PATCH",
        f"/projects/LAN/defined/periods/{period}",
        {"settings": {"first": "2027-05-01", "last": "2027-04-01"}},
        expect=422,
    )


def place(caller: Caller, key: str) -> dict[str, Any]:
    """A place with a limit."""
    found = {one["key"]: one for one in caller("GET", "/projects/LAN/board")["places"]}
    return found[key]


def test_beyond_a_limit_it_is_told_asked_about_or_refused(ines: Caller, clock: Clock) -> None:
    under_way = state_id(ines, "Under way")
    ines("PATCH", f"/projects/LAN/states/{under_way}", {"limit": 1})
    rows = [ines.add(one) for one in "ABCD"]
    drop(ines, rows[0], under_way)
    drop(ines, rows[1], under_way)  # told
    here = place(ines, f"column:{under_way}")
    assert (here["count"], here["limit"], [one["until"] for one in here["spells"]]) == (2, 1, [None])
    ines("PATCH", "/projects/LAN", {"revision": 999, "limit_rule": "ask"})
    asked = drop(ines, rows[2], under_way, 409)
    assert (asked["type"], asked["rule"]) == ("/problems/limit-passed", "ask")
    assert asked["limits"] == [{"key": f"column:{under_way}", "name": "Under way", "count": 3, "limit": 1}]
    assert ines.rows()["C"]["state_class"] == "queued"
    clock.set(NOW + timedelta(hours=3))
    drop(ines, rows[2], under_way, reason="The%20trustees%20come%20on%20Friday")
    spell = place(ines, f"column:{under_way}")["spells"][0]
    assert (spell["most"], spell["reason"]) == (3, "The trustees come on Friday")
    ines("PATCH", "/projects/LAN", {"revision": 999, "limit_rule": "refuse"})
    refused = drop(ines, rows[3], under_way, 409, reason="please")
    assert "Finish or move something there first" in refused["detail"]
    ines.edit(ines.rows()["A"], percent=30)  # what stands there already may be changed
    clock.set(NOW + timedelta(hours=5))
    for row in ("A", "B"):
        ines.edit(ines.rows()[row], percent=100)
    here = place(ines, f"column:{under_way}")
    assert (here["count"], here["minutes"]) == (1, 300)
    assert here["spells"][0]["until"] == (NOW + timedelta(hours=5)).isoformat()


def test_limits_hold_on_lanes_cells_and_people_and_follow_what_is_set_and_taken_back(ines: Caller) -> None:
    me = ines("GET", "/session")["person"]
    under_way, review = state_id(ines, "Under way"), state_id(ines, "In review")
    must = {"all": [["priority", "any", ["must"]]]}
    lane = define(ines, "lanes", "Urgent", limit=1, where=must, joins=[[under_way, review]], cells={under_way: 1})
    ines("PATCH", "/projects/LAN", {"revision": 999, "person_limit": 1, "limit_rule": "refuse"})
    a, b = ines.add("A", priority="must"), ines.add("B")
    drop(ines, a, review)
    names = {one["name"] for one in ines.edit(b, priority="must", expect=409)["limits"]}
    assert names == {"the lane Urgent"}
    drop(ines, b, under_way, owner_id=me["id"])
    refused = drop(ines, ines.add("C"), under_way, 409, owner_id=me["id"])
    assert [one["name"] for one in refused["limits"]] == ["Ines Oduya"]
    refused = drop(ines, b, under_way, 409, lane_id=lane)
    assert {one["key"].split(":")[0] for one in refused["limits"]} == {"lane", "cell"}
    assert ines("GET", "/projects/LAN/board")["lanes"] == {a["id"]: lane}
    # a limit that is set below what stands there is passed from then on, and no longer when that is taken back
    ines("PATCH", f"/projects/LAN/states/{under_way}", {"limit": 1})
    drop(ines, ines.rows()["C"], under_way, 409)
    ines("PATCH", "/projects/LAN", {"revision": 999, "limit_rule": "warn"})
    drop(ines, ines.rows()["C"], under_way)
    assert place(ines, f"column:{under_way}")["spells"][0]["until"] is None
    undo_last(ines)
    assert place(ines, f"column:{under_way}")["spells"][0]["until"] is not None


def test_a_task_is_kept_as_a_blank_and_made_from_it(ines: Caller) -> None:
    top = ines.add("Fit a pane", priority="must")
    below = ines.add("Bed it", parent=top["id"], effort=120)
    ines("POST", f"/tasks/{below['id']}/checklists", {"name": "Before", "items": ["Putty", "Dry bars"]})
    blank = str(uuid.uuid4())
    ines("POST", "/projects/LAN/blanks", {"id": blank, "name": "A pane", "task_id": top["id"]})
    kept = project(ines)["blanks"][0]
    assert kept["task"]["below"] == [
        {"title": "Bed it", "kind": "task", "fields": {"effort": 120}, "checks": ["Putty", "Dry bars"]}
    ]
    review, made = state_id(ines, "In review"), str(uuid.uuid4())
    body = {"id": made, "blank_id": blank, "title": "The north pane", "fields": {"state_id": review}}
    ines("POST", "/projects/LAN/tasks/from-blank", body)
    child = next(row for row in ines.rows().values() if row["parent_id"] == made)
    assert (child["title"], child["effort"], child["checks"], child["state_id"]) == ("Bed it", 120, 2, review)
    assert [one["text"] for one in ines("GET", f"/tasks/{child['id']}")["checklists"][0]["checks"]] == ["Putty", "Dry bars"]
    undo_last(ines)
    assert made not in {row["id"] for row in ines.rows().values()}
    ines("POST", "/projects/LAN/tasks/from-blank", {"blank_id": blank}, expect=422)  # it has no title of its own
    ines("POST", "/projects/LAN/tasks/from-blank", {"blank_id": str(uuid.uuid4()), "title": "X"}, expect=404)
    ines("DELETE", f"/projects/LAN/defined/blanks/{blank}")
    assert project(ines)["blanks"] == []


def test_lanes_and_the_backlog_go_out_and_come_in_as_columns(ines: Caller) -> None:
    way = define(ines, "workflows", "Repairs", kinds=["defect"])
    lane, period = define(ines, "lanes", "Urgent"), define(ines, "periods", "Later")
    ines.add("A", lane_id=lane)
    ines.add("B", period_id=period)
    ines.add("C", kind="defect")
    file = ines("GET", "/projects/LAN/tasks.csv").content
    text = file.decode("utf-8-sig")
    assert text.splitlines()[0].endswith("Lane,Backlog")
    assert "Ready (Repairs)" in text
    assert "Ready (Main)" in text
    ines("POST", "/projects/LAN/tasks/delete", {"ids": [row["id"] for row in ines.rows().values()]})
    answer = ines.client.post("/api/projects/LAN/csv", files={"file": ("t.csv", file)})
    assert answer.is_success, answer.text
    rows = ines.rows()
    assert (rows["A"]["lane_id"], rows["B"]["period_id"]) == (lane, period)
    assert rows["C"]["state_id"] in {one["id"] for one in project(ines)["states"] if one["workflow_id"] == way}
    found = ines(
        "POST",
        '/projects/LAN/view?where={"all":[["period","any",["' + period + '"]]]}&in_words=true',
        {"columns": [{"key": "lane"}]},
    )
    assert found["words"] == {"lane": {}}


@pytest.mark.parametrize(
    "settings",
    [{"where": {"all": [["owner", "any", ["me"]]]}}, {"where": {"x": 1}}, {"limit": "2"}, {"skips": [str(uuid.uuid4())]}],
)
def test_a_lane_that_cannot_be_is_refused(ines: Caller, settings: dict[str, Any]) -> None:
    ines("POST", "/projects/LAN/defined/lanes", {"name": "L", "settings": settings}, expect=422)


def test_who_may_not_lead_designs_nothing_and_sees_what_is_there(ines: Caller, sign_in: Callable[[str], Caller]) -> None:
    lane = define(ines, "lanes", "Urgent")
    member = sign_in("member")
    assert member("GET", "/projects/LAN/board")["cells"][lane]
    member("POST", "/projects/LAN/defined/lanes", {"name": "Mine"}, expect=403)
    member("POST", f"/projects/LAN/states/{state_id(ines, 'Ready')}/steps", {"first": "a", "second": "b"}, expect=403)


def test_the_board_goes_on_paper_within_the_sentence(ines: Caller) -> None:
    define(ines, "lanes", "Urgent", where={"all": [["priority", "any", ["must"]]]})
    for at in range(12):
        ines.add(f"Glaze pane {at}", priority="must" if at % 2 else None)

    def pages(query: str) -> int:
        answer = ines("GET", f"/projects/LAN/board.pdf{query}")
        assert answer.content.startswith(b"%PDF")
        assert answer.headers["content-disposition"] == 'attachment; filename="LAN board.pdf"'
        return len(re.findall(rb"/Type /Page\b", answer.content))

    assert pages("") == 2  # twelve slips of one column
    assert pages("?text=pane%201") == pages("?rows=lanes&text=nothing") == 1
    assert pages("?rows=lanes") == pages("?rows=owner") == pages("?rows=parent&days=3") == 2
    ines("GET", "/projects/LAN/board.pdf?rows=own.gone", expect=422)
    ines("GET", "/projects/LAN/board.pdf?days=0", expect=422)
