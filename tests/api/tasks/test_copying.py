"""Copies, moves to another project and merged tasks, through the API on a real MariaDB."""

from __future__ import annotations

import itertools
import uuid
from typing import Any

import pytest

from rhodonite.core.people.model import Person
from tests.conftest import Caller, state_id


@pytest.fixture
def two(ines: Caller) -> Caller:
    """A second project, KIO, with a field and a mark of the same name as in the first and one state called otherwise."""
    ines("POST", "/projects", {"code": "KIO", "name": "Kiosk", "start_day": "2027-03-08"})
    for code, options in (("LAN", ["Oak", "Brass"]), ("KIO", ["Brass", "Oak"])):
        settings = {"type": "choice", "options": [{"id": f"{code}-{name}", "name": name} for name in options]}
        ines("POST", f"/projects/{code}/defined/fields", {"name": "Material", "settings": settings})
    ines("POST", "/projects/LAN/defined/fields", {"name": "Weight", "settings": {"type": "number"}})
    return ines


def own(caller: Caller, name: str, code: str = "LAN") -> str:
    return next(str(one["id"]) for one in caller("GET", f"/projects/{code}")["fields"] if one["name"] == name)


def copied(caller: Caller, *rows: dict[str, Any], code: str = "LAN", preview: bool = False, **wish: Any) -> Any:
    change = {"Rhodonite-Change": str(uuid.uuid4())}
    body = {"ids": {row["id"]: str(uuid.uuid4()) for row in rows}, "code": code, **wish}
    answer = caller("POST", f"/projects/LAN/copies{'/preview' if preview else ''}", body, headers=change)
    return answer["lost"] if preview else change["Rhodonite-Change"]


def branch(caller: Caller) -> dict[str, Any]:
    """Two linked tasks below one, with something hanging on the first."""
    above = caller.add("Glazing")
    for title in ("Bars", "Panes"):
        caller(
            "POST", "/projects/LAN/tasks", {"tasks": [{"title": title, "parent_id": above["id"], "fields": {"duration": "2 d"}}]}
        )
    rows = caller.rows()
    caller.edit(rows["Panes"], waits_for=str(rows["Bars"]["number"]))
    caller("POST", f"/tasks/{rows['Bars']['id']}/checklists", {"name": "Foundry", "items": ["Sand"]})
    caller("POST", f"/tasks/{rows['Bars']['id']}/comments", {"body": "<p>Sand comes Thursday</p>"})
    caller.client.post(f"/api/tasks/{rows['Bars']['id']}/files", files={"file": ("a.txt", b"12 bars")})
    return caller.rows()["Glazing"]


def test_a_branch_is_copied_with_links_and_what_hangs_on_it(ines: Caller) -> None:
    glazing = branch(ines)
    change = copied(ines, glazing)
    rows = sorted((row for row in ines.rows().values() if row["number"] > 3), key=lambda row: row["number"])
    assert [row["title"] for row in rows] == ["Glazing, copy", "Bars", "Panes"]
    bars, panes = rows[1:]
    assert [link["from_id"] for link in panes["waits_for"]] == [bars["id"]]
    assert (bars["checks"], bars["files"], bars["comments"]) == (1, 1, 0)
    file = ines("GET", f"/tasks/{bars['id']}")["files"][0]
    assert ines.client.get(f"/api/files/{file['id']}").content == b"12 bars"
    ines("POST", f"/changes/{change}/undo")
    assert len(ines.rows()) == 3


def test_a_task_alone_is_copied_without_what_is_not_wanted(ines: Caller) -> None:
    glazing = branch(ines)
    copied(ines, glazing, branch=False, hanging=False, links=False)
    assert [row["title"] for row in ines.rows().values() if row["number"] > 3] == ["Glazing, copy"]


def test_a_move_matches_by_name_and_says_what_is_lost(two: Caller, people: dict[str, Person]) -> None:
    material, weight = own(two, "Material"), own(two, "Weight")
    row = two.add("Rail", owner_id=people["member"].id, **{f"own.{material}": "Oak", f"own.{weight}": 3})
    two.edit(two.rows()["Rail"], state_id=state_id(two, "In review"), percent=40)
    two.add("Paint", waits_for=str(row["number"]))
    lost = copied(two, row, code="KIO", moves=True, preview=True)
    assert lost == ["The field Weight of 1 task: KIO has none of that name.", "1 link to tasks that do not come along."]
    change = copied(two, row, code="KIO", moves=True)
    assert "Rail" not in two.rows()
    moved = two.rows("KIO")["Rail"]
    assert (moved["own"], moved["percent"], moved["owner_id"]) == (
        {own(two, "Material", "KIO"): "KIO-Oak"},
        40,
        people["member"].id,
    )
    assert moved["state_id"] == state_id(two, "In review", "KIO")
    two("POST", f"/changes/{change}/undo")
    assert (list(two.rows("KIO")), two.rows()["Rail"]["percent"]) == ([], 40)


def test_what_is_said_moves_along_and_is_found_there(two: Caller) -> None:
    glazing = branch(two)
    copied(two, glazing, code="KIO", moves=True)
    bars = two.rows("KIO")["Bars"]
    assert (bars["comments"], bars["checks"], bars["files"]) == (1, 1, 1)
    assert [one["code"] for one in two("GET", "/find?text=thursday")["tasks"]] == ["KIO"]


def test_pictures_in_texts_come_along(two: Caller) -> None:
    row = two.add("Rail")
    png = b"\x89PNG\r\n\x1a\n" + bytes(32)
    picture = two.client.post(f"/api/tasks/{row['id']}/pictures", files={"file": ("a.png", png)}).json()["id"]
    two.edit(row, description=f'<p>So:</p><img src="/api/files/{picture}">')
    copied(two, two.rows()["Rail"], code="KIO", moves=True)
    text = two("GET", f"/tasks/{two.rows('KIO')['Rail']['id']}")["description"]
    address = text.split('src="')[1].split('"')[0]
    assert picture not in address
    assert two.client.get(address).content == png


def test_nobody_copies_to_where_they_may_not_write(ines: Caller, sign_in: Any, people: dict[str, Person]) -> None:
    row = ines.add("Rail")
    ines("POST", "/projects", {"code": "KIO", "name": "Kiosk", "start_day": "2027-03-08"})
    ines("PUT", f"/projects/LAN/members/{people['member'].id}", {"role": "contributor"})
    body = {"ids": {row["id"]: str(uuid.uuid4())}, "code": "KIO", "moves": True}
    sign_in("member")("POST", "/projects/LAN/copies", body, expect=403)
    assert "Rail" in ines.rows()


def test_two_tasks_become_one_and_two_again(ines: Caller, people: dict[str, Person]) -> None:
    branch(ines)
    bars, other = ines.rows()["Bars"], ines.add("Cast bars")
    change = {"Rhodonite-Change": str(uuid.uuid4())}
    ines("POST", "/projects/LAN/tasks/merge", {"task_id": bars["id"], "into_id": other["id"]}, headers=change)
    rows = ines.rows()
    assert (rows["Bars"]["state_class"], rows["Bars"]["comments"]) == ("dropped", 0)
    assert (rows["Cast bars"]["comments"], rows["Cast bars"]["checks"], rows["Cast bars"]["files"]) == (1, 1, 1)
    assert ines("GET", f"/tasks/{bars['id']}")["relations"][0]["word"] == "duplicate of"
    ines("POST", f"/changes/{change['Rhodonite-Change']}/undo")
    rows = ines.rows()
    assert (rows["Bars"]["comments"], rows["Bars"]["state_class"], rows["Cast bars"]["comments"]) == (1, "queued", 0)
    glazing = rows["Glazing"]
    ines("POST", "/projects/LAN/tasks/merge", {"task_id": bars["id"], "into_id": glazing["id"]}, expect=422)


def test_a_task_becomes_a_project(ines: Caller, sign_in: Any, people: dict[str, Person]) -> None:
    glazing = branch(ines)
    ines("POST", f"/tasks/{glazing['id']}/checklists", {"name": "To do", "items": ["Scaffold", "Done already"]})
    done = ines("GET", f"/tasks/{glazing['id']}")["checklists"][0]["checks"][1]
    ines("PATCH", f"/checks/{done['id']}", {"done": True})
    wish = {"code": "GLZ", "name": "Glazing & bars", "start_day": "2027-03-22"}
    assert ines("POST", f"/tasks/{glazing['id']}/project", wish) == {"code": "GLZ"}
    rows = ines.rows("GLZ")
    assert sorted(rows) == ["Bars", "Panes", "Scaffold"]
    assert rows["Panes"]["waits_for"][0]["from_id"] == rows["Bars"]["id"]
    assert "Glazing &amp; bars" in ines("GET", f"/tasks/{glazing['id']}")["comments"][0]["body"]
    ines("PUT", f"/projects/LAN/members/{people['member'].id}", {"role": "lead"})
    sign_in("member")("POST", f"/tasks/{glazing['id']}/project", {**wish, "code": "GL2"}, expect=403)


def test_what_stands_below_a_merged_task_goes_over_and_both_descriptions_are_kept(ines: Caller) -> None:
    bars, other = ines.add("Cast bars"), ines.add("Order bars")
    first, second = (ines.add(title, parent=bars["id"]) for title in ("Pattern", "Sand"))
    ines.edit(bars, description="<p>Twelve of them</p>")
    ines.edit(other, description="<p>From the foundry</p>")
    change = {"Rhodonite-Change": str(uuid.uuid4())}
    ines("POST", "/projects/LAN/tasks/merge", {"task_id": bars["id"], "into_id": other["id"]}, headers=change)
    rows = ines.rows()
    assert {rows[title]["parent_id"] for title in ("Pattern", "Sand")} == {other["id"]}
    assert rows["Pattern"]["place"] < rows["Sand"]["place"]
    described = ines("GET", f"/tasks/{other['id']}")["description"]
    assert "From the foundry" in described
    assert "Twelve of them" in described
    ines("POST", f"/changes/{change['Rhodonite-Change']}/undo")
    assert {row["parent_id"] for row in ines.rows().values() if row["id"] in {first["id"], second["id"]}} == {bars["id"]}
    assert ines("GET", f"/tasks/{other['id']}")["description"] == "<p>From the foundry</p>"


def test_merging_needs_two_tasks_apart_and_a_state_for_what_is_dropped(ines: Caller) -> None:
    bars = ines.add("Cast bars")
    sand, other = ines.add("Sand", parent=bars["id"]), ines.add("Order bars")
    for task, into in ((bars, bars), (bars, sand), (sand, bars)):
        refused = ines("POST", "/projects/LAN/tasks/merge", {"task_id": task["id"], "into_id": into["id"]}, expect=422)
        assert "neither the same nor above or below" in refused["detail"]
    dropped = state_id(ines, "Dropped")
    ines("DELETE", f"/projects/LAN/states/{dropped}")
    refused = ines("POST", "/projects/LAN/tasks/merge", {"task_id": sand["id"], "into_id": other["id"]}, expect=422)
    assert "no state of the class dropped" in refused["detail"]


def test_many_copies_keep_their_links_and_come_back_by_one_undo(ines: Caller) -> None:
    rows = [ines.add(f"Pane {number}", duration="1 d") for number in range(6)]
    for before, after in itertools.pairwise(rows):
        ines.edit(after, waits_for=[{"from_id": before["id"], "type": "FS", "lag": 30}])
    ids = {row["id"]: str(uuid.uuid4()) for row in rows}
    change = {"Rhodonite-Change": str(uuid.uuid4())}
    ines("POST", "/projects/LAN/copies", {"ids": ids, "code": "LAN"}, headers=change)
    copies = {row["id"]: row for row in ines("GET", "/projects/LAN/tasks")["rows"]}
    for before, after in itertools.pairwise(rows):
        [link] = copies[ids[after["id"]]]["waits_for"]
        assert (link["from_id"], link["lag"]) == (ids[before["id"]], 30)
    assert copies[ids[rows[-1]["id"]]]["finish"] == copies[rows[-1]["id"]]["finish"]
    ines("POST", f"/changes/{change['Rhodonite-Change']}/undo")
    assert len(ines.rows()) == 6
