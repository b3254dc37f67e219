"""Tied work: what is carried from other projects, what that shows to whom, and progress that follows it."""

from __future__ import annotations

import uuid
from collections.abc import Callable
from typing import Any

import pytest

from rhodonite.core.people.model import Person
from tests.conftest import Caller, state_id

TIED = {"type": "tied", "carries": ["finish", "percent", "state", "owner", "own:Stone"], "progress": True}


@pytest.fixture
def two(ines: Caller) -> Caller:
    """LAN, whose tasks are tied to those of MIL, which one may not see; both are led by Ines."""
    ines("POST", "/projects", {"code": "MIL", "name": "Tide Mill", "start_day": "2027-03-08", "private": True})
    return ines


def tie(caller: Caller, code: str = "LAN", **settings: Any) -> str:
    """Give a project a field that points to work of others; returns its id."""
    one = str(uuid.uuid4())
    caller("POST", f"/projects/{code}/defined/fields", {"id": one, "name": "Tied", "settings": TIED | settings})
    return one


def tied(caller: Caller, row: dict[str, Any], code: str = "LAN") -> dict[str, Any]:
    """What a task is tied to."""
    found: dict[str, Any] = caller("GET", f"/projects/{code}/tied")[row["id"]][0]
    return found


def test_what_is_carried_is_the_same_on_both_sides(two: Caller) -> None:
    field = tie(two)
    item, other = two.add("Roof"), two.add("Slates", "MIL", start="2027-03-22", duration="2 d")
    two.edit(item, **{f"own.{field}": [other["id"]]})
    shown = tied(two, item)["tied"][0]
    by_name = {one["name"]: (one["words"], one["field"]) for one in shown["carried"]}
    assert by_name["finish"] == ("2027-03-23", "finish")
    assert by_name["state"] == ("Ready", "state_id")
    # changed on this side it is changed on the other, with the revision of that side
    edit = {"tasks": [{"id": shown["task_id"], "revision": shown["revision"], "fields": {"finish": "2027-03-24"}}]}
    two("PATCH", f"/projects/{shown['code']}/tasks", edit)
    assert two.rows("MIL")["Slates"]["finish"].startswith("2027-03-24")
    # and changed on the other it is changed here
    two.edit(two.rows("MIL")["Slates"], "MIL", finish="2027-03-26")
    assert {one["name"]: one["words"] for one in tied(two, item)["tied"][0]["carried"]}["finish"] == "2027-03-26"
    view = {"columns": [{"key": f"carried.{field}.finish"}, {"key": f"own.{field}"}]}
    words = two("POST", "/projects/LAN/view?in_words=true", view)["words"]
    assert list(words[f"carried.{field}.finish"].values()) == ["2027-03-26"]
    assert list(words[f"own.{field}"].values()) == [f"MIL {other['number']} Slates"]
    heads, line = (
        two("GET", f"/projects/LAN/tasks.csv?column=title&column=own.{field}&column=carried.{field}.percent")
        .content.decode("utf-8-sig")
        .splitlines()
    )
    assert (heads, line) == ("Title,Tied,Tied: Percent done", f"Roof,MIL {other['number']} Slates,0")


def test_progress_follows_what_is_tied_and_is_taken_back_with_it(two: Caller) -> None:
    field = tie(two)
    item = two.add("Roof")
    a, b = two.add("Slates", "MIL", effort="30 h"), two.add("Gutter", "MIL", effort="10 h")
    two.edit(a, "MIL", percent=40)
    two.edit(item, **{f"own.{field}": [a["id"], b["id"]]})
    assert (two.rows()["Roof"]["percent"], two.rows()["Roof"]["state_class"]) == (30, "active")
    two.edit(two.rows("MIL")["Gutter"], "MIL", percent=80)
    assert two.rows()["Roof"]["percent"] == 50  # (30 × 40 + 10 × 80) / 40
    done = two(
        "PATCH",
        "/projects/MIL/tasks",
        {"tasks": [{"id": one["id"], "revision": 999, "fields": {"percent": 100}} for one in (a, b)]},
    )
    assert (two.rows()["Roof"]["percent"], two.rows()["Roof"]["state_class"]) == (100, "finished")
    two("POST", f"/changes/{done['change']}/undo")
    assert (two.rows()["Roof"]["percent"], two.rows()["Roof"]["state_class"]) == (50, "active")
    refused = two.edit(two.rows()["Roof"], percent=70, expect=422)
    assert "comes from what it is tied to" in refused["detail"]
    two("POST", "/projects/MIL/tasks/delete", {"ids": [b["id"]]})
    assert two.rows()["Roof"]["percent"] == 40
    two.edit(two.rows()["Roof"], **{f"own.{field}": None})
    two.edit(two.rows()["Roof"], percent=70)


def test_progress_of_a_deliverable_is_that_of_what_stands_below_it(two: Caller) -> None:
    field = tie(two)
    top = two.add("Roof of the mill", "MIL", kind="deliverable")
    below = two.add("Slates", "MIL", parent=top["id"])
    item = two.add("Roofs", **{f"own.{field}": [top["id"]]})
    two.edit(below, "MIL", percent=60)
    assert two.rows()["Roofs"]["percent"] == 60
    # along two ties
    third = tie(two, "MIL")
    two("POST", "/projects", {"code": "SEA", "name": "Survey", "start_day": "2027-03-08"})
    count = two.add("Counts", "SEA")
    two.edit(below, "MIL", **{f"own.{third}": [count["id"]]})
    two.edit(count, "SEA", percent=20)
    assert (two.rows("MIL")["Slates"]["percent"], two.rows()["Roofs"]["percent"]) == (20, 20)
    back = tie(two, "SEA")
    refused = two.edit(two.rows("SEA")["Counts"], "SEA", expect=422, **{f"own.{back}": [item["id"]]})
    assert "tied to this task already" in refused["detail"]


def test_who_may_not_see_the_other_project_learns_no_title(
    two: Caller, sign_in: Callable[[str], Caller], people: dict[str, Person]
) -> None:
    field = tie(two)
    other = two.add("Secret slates", "MIL")
    item = two.add("Roof", **{f"own.{field}": [other["id"]]})
    two("PUT", f"/projects/LAN/members/{people['member'].id}", {"role": "contributor"})
    member = sign_in("member")
    assert {name: tied(member, item)[name] for name in ("tied", "hidden")} == {"tied": [], "hidden": 1}
    view = {"columns": [{"key": f"own.{field}"}, {"key": f"carried.{field}.state"}]}
    assert member("POST", "/projects/LAN/view?in_words=true", view)["words"] == {
        f"own.{field}": {item["id"]: "1 more"},
        f"carried.{field}.state": {},
    }
    for path in (
        "/projects/LAN/tasks.csv",
        "/projects/LAN/activity",
        "/projects/LAN/tied",
        "/projects/LAN/tasks",
        f"/tasks/{item['id']}",
    ):
        answer = member("GET", path)
        assert "Secret" not in (answer.text if hasattr(answer, "text") else str(answer)), path
    mine = member.add("Mine")
    member.edit(mine, expect=422, **{f"own.{field}": [other["id"]]})
    member.edit(mine, expect=422, **{f"own.{field}": [item["id"]]})  # of the same project
    member.edit(mine, expect=422, **{f"own.{field}": [str(uuid.uuid4())]})
    # what it is tied to goes on all the same
    two.edit(other, "MIL", percent=50)
    assert member.rows()["Roof"]["percent"] == 50


@pytest.mark.parametrize(
    "settings", [{"carries": ["cost.planned"]}, {"carries": ["own:"]}, {"progress": "yes"}, {"type": "text", "progress": True}]
)
def test_settings_that_cannot_be_are_refused(two: Caller, settings: dict[str, Any]) -> None:
    two("POST", "/projects/LAN/defined/fields", {"name": "Tied", "settings": TIED | settings}, expect=422)


def test_a_state_that_is_finished_by_hand_stays(two: Caller) -> None:
    field = tie(two, progress=False)
    other = two.add("Slates", "MIL")
    item = two.add("Roof", **{f"own.{field}": [other["id"]]})
    two.edit(item, state_id=state_id(two, "Finished"))
    two.edit(other, "MIL", percent=50)
    assert two.rows()["Roof"]["percent"] == 100


def test_a_copy_a_repeat_and_a_blank_are_tied_to_nothing(two: Caller) -> None:
    field = tie(two)
    roof = two.add("Roof", "MIL")
    item = two.add("Coast open", **{f"own.{field}": [roof["id"]]}, percent=20)
    two("POST", "/projects/LAN/copies", {"ids": {item["id"]: str(uuid.uuid4())}, "code": "LAN"})
    two.edit(two.rows()["Coast open"], repeats={"words": "every week", "mode": "finished"})
    two.edit(roof, "MIL", percent=100)
    blank = str(uuid.uuid4())
    two("POST", "/projects/LAN/blanks", {"id": blank, "name": "Opening", "task_id": item["id"]})
    others = [row for row in two("GET", "/projects/LAN/tasks")["rows"] if row["id"] != item["id"]]
    assert len(others) == 2
    assert not any(row["own"].get(field) for row in others)
    assert field not in str(two("GET", "/projects/LAN")["blanks"])
    assert [one["title"] for one in tied(two, item)["tied"]] == ["Roof"]


def test_ties_go_out_and_come_in_as_a_column(two: Caller, sign_in: Callable[[str], Caller], people: dict[str, Person]) -> None:
    field = tie(two)
    roof, hall = two.add("Roof; the north side", "MIL"), two.add("Hall", "MIL", percent=50)
    two.add("Coast open", **{f"own.{field}": [roof["id"], hall["id"]]})
    file = two("GET", "/projects/LAN/tasks.csv").content
    assert f"MIL {roof['number']} Roof; the north side; MIL {hall['number']} Hall" in file.decode()
    two("POST", "/projects/LAN/tasks/delete", {"ids": [two.rows()["Coast open"]["id"]]})

    def bring(caller: Caller, data: bytes) -> Any:
        return caller.client.post("/api/projects/LAN/csv", files={"file": ("t.csv", data)})

    assert bring(two, file).is_success
    again = two.rows()["Coast open"]
    assert (again["own"][field], again["percent"]) == ([roof["id"], hall["id"]], 25)
    for said in ("MIL 999", "LAN 1", "the roof"):
        refused = bring(two, f"Title,Tied\nX,{said}\n".encode())
        assert refused.status_code == 422
        assert f"“{said}”" in refused.json()["detail"]
    assert bring(two, b"Title,Tied\nOnly hidden ones,2 more\n").is_success
    two("PUT", f"/projects/LAN/members/{people['member'].id}", {"role": "contributor"})
    refused = bring(sign_in("member"), file)  # who does not see the other project
    assert refused.status_code == 422
    assert "Roof" not in refused.json()["detail"]


def test_a_formula_names_nothing_that_differs_by_who_reads(two: Caller) -> None:
    tie(two)
    for number, name in enumerate(("Tied", "Tied: Finish")):
        settings = {"type": "computed", "formula": f"[{name}]"}
        refused = two("POST", "/projects/LAN/defined/fields", {"name": f"F{number}", "settings": settings}, expect=422)
        assert name in refused["detail"]


def test_a_refused_circle_leaves_nothing_in_memory(two: Caller) -> None:
    there, here = tie(two, "MIL"), tie(two)
    item, other = two.add("Roof"), two.add("Slates", "MIL")
    two.edit(other, "MIL", **{f"own.{there}": [item["id"]]})
    refused = two.edit(item, expect=422, **{f"own.{here}": [other["id"]]})
    assert "tied to this task already" in refused["detail"]
    assert two.rows()["Roof"]["own"] == {}
    # and what is written next is there at once, under a revision that the refused change had counted up to
    later = two.add("Ridge")
    assert set(two.rows()) == {"Roof", "Ridge"}
    assert two.edit(later, title="Ridge tiles")["title"] == "Ridge tiles"


def test_progress_comes_into_no_circle_by_a_move(two: Caller) -> None:
    there, here = tie(two, "MIL"), tie(two)
    stone, bed = two.add("Stone", "MIL"), two.add("Bed", "MIL")
    item = two.add("Roof")
    two.edit(item, **{f"own.{here}": [stone["id"]]})
    two.edit(bed, "MIL", **{f"own.{there}": [item["id"]]})
    refused = two("POST", "/projects/MIL/tasks/move", {"ids": [bed["id"]], "parent_id": stone["id"]}, expect=422)
    assert "from itself" in refused["detail"]
    assert two.rows("MIL")["Bed"]["parent_id"] is None


def test_progress_comes_into_no_circle_by_a_field_that_takes_it_later(two: Caller) -> None:
    there, here = tie(two, "MIL", progress=False), tie(two)
    stone, item = two.add("Stone", "MIL"), two.add("Roof")
    two.edit(item, **{f"own.{here}": [stone["id"]]})
    two.edit(stone, "MIL", **{f"own.{there}": [item["id"]]})
    change = {"settings": {"progress": True}}
    assert "from itself" in two("PATCH", f"/projects/MIL/defined/fields/{there}", change, expect=422)["detail"]


def test_progress_is_right_as_soon_as_a_field_takes_it_or_is_there_again(two: Caller) -> None:
    field = tie(two, progress=False)
    item, stone = two.add("Roof"), two.add("Stone", "MIL")
    two.edit(item, **{f"own.{field}": [stone["id"]]})
    two.edit(stone, "MIL", percent=40)
    assert two.rows()["Roof"]["percent"] == 0
    two("PATCH", f"/projects/LAN/defined/fields/{field}", {"settings": {"progress": True}})
    assert two.rows()["Roof"]["percent"] == 40
    two("DELETE", f"/projects/LAN/defined/fields/{field}")
    two.edit(two.rows("MIL")["Stone"], "MIL", percent=70)
    assert two.rows()["Roof"]["percent"] == 40
    two("POST", f"/projects/LAN/defined/fields/{field}/restore")
    assert two.rows()["Roof"]["percent"] == 70


def test_progress_is_right_after_a_project_was_archived_and_restored(two: Caller) -> None:
    field = tie(two)
    item, stone = two.add("Roof"), two.add("Stone", "MIL")
    two.edit(item, **{f"own.{field}": [stone["id"]]})
    two("PATCH", "/projects/LAN", {"revision": 99, "archived": True})
    two.edit(stone, "MIL", percent=40)
    two("PATCH", "/projects/LAN", {"revision": 99, "archived": False})
    assert two.rows()["Roof"]["percent"] == 40


def test_a_tied_item_is_not_finished_by_its_state_while_its_work_is_not(two: Caller) -> None:
    field = tie(two)
    item, stone = two.add("Roof"), two.add("Stone", "MIL")
    two.edit(item, **{f"own.{field}": [stone["id"]]})
    two.edit(stone, "MIL", percent=40)
    finished = state_id(two, "Finished")
    assert "tied to" in two.edit(two.rows()["Roof"], expect=422, state_id=finished)["detail"]
    drop = {"ids": [item["id"]], "state_id": finished}
    assert "tied to" in two("POST", "/projects/LAN/tasks/drop", drop, expect=422)["detail"]
    two.edit(two.rows("MIL")["Stone"], "MIL", percent=100)
    assert two.rows()["Roof"]["state_id"] == finished
    back = two.edit(two.rows()["Roof"], expect=422, state_id=state_id(two, "Ready"))
    assert "tied to" in back["detail"]
