"""Projects, workflow, calendar, members; and the figures of the list of all work."""

from __future__ import annotations

import uuid
from typing import Any

import pytest

from rhodonite.core.people.model import Person
from rhodonite.core.schedule.plan import judged_at
from rhodonite.services.common.context import Clock
from rhodonite.services.common.plan_cache import PLANS
from rhodonite.services.tasks.projects import _SUMS
from rhodonite.store.common.database import Database
from rhodonite.store.tasks import projects as project_rows
from tests.conftest import Caller, state_id


def test_a_new_project_is_ready_to_work(ines: Caller, people: dict[str, Person]) -> None:
    project = ines("GET", "/projects/lan")
    assert (project["code"], project["role"], project["may"]) == (
        "LAN",
        "lead",
        ["see", "comment", "edit", "see_costs", "manage"],
    )
    assert [state["name"] for state in project["states"]] == ["Ready", "Under way", "In review", "Finished", "Dropped"]
    assert project["members"] == {people["manager"].id: "lead"}
    assert project["day_minutes"] == 450


@pytest.mark.parametrize(("code", "name"), [("LAN", "Other"), ("L", "Other"), ("9AB", "Other"), ("NEW", "  ")])
def test_what_no_project_can_be_called(ines: Caller, code: str, name: str) -> None:
    ines("POST", "/projects", {"code": code, "name": name, "start_day": "2027-03-08"}, expect=422)


def test_a_code_is_proposed(ines: Caller) -> None:
    assert ines("GET", "/project-codes?name=Lantern Room Restoration")["code"] == "LRR"
    assert ines("GET", "/project-codes?name=Lanterns")["code"] == "LAN2"


def test_settings_merge_and_clash_by_field(ines: Caller, sign_in: Any) -> None:
    seen = ines("GET", "/projects/LAN")["revision"]
    sign_in("administrator")("PATCH", "/projects/LAN", {"revision": seen, "name": "Lantern"})
    assert ines("PATCH", "/projects/LAN", {"revision": seen, "description": "Glass"})["name"] == "Lantern"
    problem = ines("PATCH", "/projects/LAN", {"revision": seen, "name": "Lens"}, expect=409)
    assert problem["clashes"][0]["theirs"] == "Lantern"


def test_an_archived_project_is_read_only_until_restored(ines: Caller) -> None:
    ines.add("A")
    assert ines("PATCH", "/projects/LAN", {"revision": 999, "archived": True})["may"] == ["see", "see_costs", "manage"]
    ines("POST", "/projects/LAN/tasks", {"tasks": [{"title": "B"}]}, expect=403)
    assert ines("GET", "/projects") == []
    assert [line["code"] for line in ines("GET", "/projects?archived=true")] == ["LAN"]
    ines("PATCH", "/projects/LAN", {"revision": 999, "archived": False})
    ines.add("B")


def test_the_workflow_can_be_changed(ines: Caller) -> None:
    project = ines("POST", "/projects/LAN/states", {"name": "On the bench", "state_class": "active", "limit": 3})
    assert [s["name"] for s in project["states"]] == ["Ready", "Under way", "In review", "On the bench", "Finished", "Dropped"]
    bench = state_id(ines, "On the bench")
    project = ines("PATCH", f"/projects/LAN/states/{bench}", {"name": "Bench", "after_id": None})
    first = project["states"][0]
    assert [first[name] for name in ("id", "name", "label", "state_class", "limit")] == [bench, "Bench", "Bench", "active", 3]
    assert ines("PATCH", f"/projects/LAN/states/{bench}", {"limit": None})["states"][0]["limit"] is None


def test_deleting_a_state_needs_a_place_for_its_tasks(ines: Caller) -> None:
    ines.add("A", state_id=state_id(ines, "Under way"))
    doomed, review = state_id(ines, "Under way"), state_id(ines, "In review")
    assert "1 tasks stand" in ines("DELETE", f"/projects/LAN/states/{doomed}", expect=422)["detail"]
    ines("DELETE", f"/projects/LAN/states/{doomed}?move_to={review}")
    assert ines.rows()["A"]["state_id"] == review


@pytest.mark.parametrize("name", ["Ready", "Finished"])
def test_a_workflow_keeps_the_classes_it_needs(ines: Caller, name: str) -> None:
    ines("DELETE", f"/projects/LAN/states/{state_id(ines, name)}?move_to={state_id(ines, 'Dropped')}", expect=422)
    ines("PATCH", f"/projects/LAN/states/{state_id(ines, name)}", {"state_class": "dropped"}, expect=422)
    ines("POST", "/projects/LAN/states", {"name": name.lower(), "state_class": "active"}, expect=422)


def test_a_holiday_moves_finishes(ines: Caller) -> None:
    ines.add("A", start="2027-03-18", duration="3 d")
    week = ines("GET", "/projects/LAN")["calendar"]["week"]
    holiday = {"from": "2027-03-19", "to": "2027-03-19", "hours": [], "name": "Harbour day"}
    project = ines("PUT", "/projects/LAN/calendar", {"week": week, "exceptions": [holiday]})
    assert project["calendar"]["exceptions"] == [holiday]
    assert ines.rows()["A"]["finish"] == "2027-03-23T17:30:00"
    ines("PUT", "/projects/LAN/calendar", {"week": {}, "exceptions": []}, expect=422)


def test_members_come_and_go(ines: Caller, people: dict[str, Person], sign_in: Any) -> None:
    tomas = people["member"].id
    assert ines("PUT", f"/projects/LAN/members/{tomas}", {"role": "contributor"})["members"][tomas] == "contributor"
    assert tomas not in ines("PUT", f"/projects/LAN/members/{tomas}", {"role": None})["members"]
    ines("PUT", f"/projects/LAN/members/{tomas}", {"role": "king"}, expect=422)
    ines("PUT", f"/projects/LAN/members/{people['manager'].id}", {"role": "viewer"}, expect=422)


def test_private_projects_are_hidden(ines: Caller, people: dict[str, Person], sign_in: Any) -> None:
    ines("PATCH", "/projects/LAN", {"revision": 999, "private": True})
    member = sign_in("member")
    assert member("GET", "/projects") == []
    member("GET", "/projects/LAN", expect=404)
    assert [line["code"] for line in sign_in("administrator")("GET", "/projects")] == ["LAN"]
    ines("PUT", f"/projects/LAN/members/{people['member'].id}", {"role": "viewer"})
    assert member("GET", "/projects/LAN")["role"] == "viewer"


def test_sums_in_sql_are_the_sums_of_the_core(ines: Caller, database: Database, clock: Clock) -> None:
    """The list of all work sums in SQL what the plan sums in Python: the two must agree."""
    top = ines.add("Top", deadline="2027-03-10")
    for index in range(30):
        ines.add(
            f"T{index}",
            parent=top["id"] if index % 3 else None,
            **({"start": f"2027-03-{1 + index:02}", "duration": f"{1 + index % 5} d"} if index % 4 else {}),
            **({"kind": "milestone", "finish": "2027-03-05"} if index % 11 == 5 else {}),
            percent=(index * 17) % 101,
            state_id=state_id(ines, ["Ready", "Under way", "Dropped"][index % 3]),
            effort=None if index % 2 else 60 * index,
            deadline="2027-03-09" if index % 5 == 1 else None,
            held_reason="rain" if index % 7 == 2 else None,
        )
    _SUMS.clear()
    line = ines("GET", "/projects")[0]
    project = database.read(project_rows.project_by_code, "LAN")
    assert project is not None

    def plan_sums(cur: Any) -> Any:
        held = PLANS.at(cur, project, clock.now())
        return held.plan.sums()

    sums, sql = database.read(plan_sums), _SUMS._values[project.id][2]
    sums.strained = sql.strained = 0  # only the plan knows it; the list does not use it
    assert sql == sums
    assert (line["percent"], line["late"], line["unowned"]) == (sums.percent, sums.late, sums.unowned)
    assert judged_at(clock.now()) == _SUMS._values[project.id][1]


def test_where_replanned_starts_fall_is_a_setting(ines: Caller) -> None:
    assert ines("GET", "/projects/LAN")["start_grid"] == 15
    revision = ines("GET", "/projects/LAN")["revision"]
    assert (
        "whole 1, 15, 30, 60 minutes"
        in ines("PATCH", "/projects/LAN", {"revision": revision, "start_grid": 7}, expect=422)["detail"]
    )
    change = str(uuid.uuid4())
    ines("PATCH", "/projects/LAN", {"revision": revision, "start_grid": 60}, headers={"Rhodonite-Change": change})
    assert ines("GET", "/projects/LAN")["start_grid"] == 60
    ines("POST", f"/changes/{change}/undo")
    assert ines("GET", "/projects/LAN")["start_grid"] == 15


def test_the_parts_of_a_brief_are_chosen_ordered_said_and_taken_back(ines: Caller) -> None:
    before = ines("GET", "/projects/LAN")
    assert before["brief"][:3] == ["reading", "states", "curve"]
    wanted = {"revision": before["revision"], "brief": ["decisions", "reading", "decisions"]}
    assert ines("PATCH", "/projects/LAN", wanted)["brief"] == ["decisions", "reading"]
    line = ines("GET", "/projects/LAN/activity")[0]
    assert line["lines"][0].endswith("→ decisions, reading")
    ines("POST", f"/changes/{line['id']}/undo")
    assert ines("GET", "/projects/LAN")["brief"] == before["brief"]
    for wrong in ([], ["weather"]):
        said = ines("PATCH", "/projects/LAN", {"revision": 99, "brief": wrong}, expect=422)
        assert "Choose one or more of these parts" in said["detail"]


def test_the_lenses_of_a_project_are_chosen_said_and_taken_back(ines: Caller) -> None:
    usual = ["brief", "outline", "board", "schedule"]
    before = ines("GET", "/projects/LAN")
    assert before["lenses"] == usual
    changed = str(uuid.uuid4())
    wanted = {"revision": before["revision"], "lenses": ["schedule", "brief", "brief"]}
    after = ines("PATCH", "/projects/LAN", wanted, headers={"Rhodonite-Change": changed})
    assert after["lenses"] == ["brief", "schedule"]  # each once, in their usual order
    [line, *_] = ines("GET", "/projects/LAN/activity")
    assert line["lines"] == ["lenses in the bar brief, outline, board, schedule → brief, schedule"]
    ines("POST", f"/changes/{changed}/undo")
    assert ines("GET", "/projects/LAN")["lenses"] == usual
    for wrong in ([], ["outline", "weather"]):
        said = ines("PATCH", "/projects/LAN", {"revision": 99, "lenses": wrong}, expect=422)
        assert "Choose one or more of these lenses" in said["detail"]
