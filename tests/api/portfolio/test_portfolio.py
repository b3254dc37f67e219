"""Portfolios through the API: joined, shown to whom, tied, taken back."""

from __future__ import annotations

import contextlib
import csv
import io
import uuid
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from threading import Barrier, BrokenBarrierError
from typing import Any

import pytest

from rhodonite.core.people.model import Person
from rhodonite.store.portfolio import parts as part_rows
from tests.conftest import Caller, state_id


@pytest.fixture
def three(ines: Caller) -> Caller:
    """A portfolio ALL, and the projects LAN and MIL, of which MIL is private; Ines leads all of them."""
    ines("POST", "/projects", {"code": "MIL", "name": "Tide Mill", "start_day": "2027-03-08", "private": True})
    ines("POST", "/portfolios", {"code": "ALL", "name": "The coast", "start_day": "2027-03-08"})
    return ines


def join(caller: Caller, code: str, to: str = "ALL", expect: int | None = None, **fields: Any) -> str:
    """Join a project to a portfolio; returns the id of the part."""
    one = str(uuid.uuid4())
    caller("POST", f"/projects/{to}/parts", {"id": one, "code": code, **fields}, expect=expect)
    return one


def shown(caller: Caller, code: str = "ALL") -> dict[str, Any]:
    """The portfolio as somebody sees it."""
    found: dict[str, Any] = caller("GET", f"/projects/{code}/portfolio")
    return found


def titles(found: dict[str, Any]) -> list[str]:
    """What is shown, in its order."""
    return [one["title"] for one in found["items"]]


def test_a_portfolio_shows_the_deliverables_of_its_parts_and_what_holds_them_up(three: Caller) -> None:
    roof = three.add("Roof", "MIL", kind="deliverable")
    slates = three.add("Slates", "MIL", parent=roof["id"], start="2027-03-10", duration="2 d")
    three.add("Loose", "MIL")
    three.add("Larger", "ALL")
    join(three, "MIL")
    join(three, "LAN")
    found = shown(three)
    assert titles(found) == ["Larger", "Roof"]
    item = found["items"][1]
    assert (item["code"], item["late_days"] > 0, item["tasks_below"]) == ("MIL", True, 1)
    assert (item["holds_up"]["title"], item["holds_up"]["number"], item["holds_up"]["itself"]) == (
        "Slates",
        slates["number"],
        False,
    )
    assert [one["code"] for one in found["parts"]] == ["MIL", "LAN"]
    assert found["columns"][0]["name"] == "Ready"
    part = found["parts"][0]["id"]
    three(
        "PATCH",
        f"/projects/ALL/parts/{part}",
        {"shows": "level:2", "states": {state_id(three, "Ready", "MIL"): state_id(three, "In review", "ALL")}},
    )
    found = shown(three)
    assert titles(found) == ["Larger", "Slates", "Loose"]
    assert {one["column"] for one in found["items"][1:]} == {state_id(three, "In review", "ALL")}
    three("PATCH", f"/projects/ALL/parts/{part}", {"shows": "kind:nothing"}, expect=422)
    three("GET", "/projects/LAN/portfolio", expect=404)  # it is none


def test_portfolios_join_portfolios_to_any_depth_and_never_themselves(three: Caller) -> None:
    for code in ("PA", "PB", "PC"):
        three("POST", "/portfolios", {"code": code, "name": code, "start_day": "2027-03-08"})
    join(three, "PA")
    join(three, "PB", "PA")
    join(three, "PC", "PB")
    join(three, "MIL", "PC")
    three.add("Of PB", "PB")
    three.add("Roof", "MIL", kind="deliverable")
    found = shown(three)
    assert [(one["code"], one["depth"], one["through"]) for one in found["parts"]] == [
        ("PA", 0, ""), ("PB", 1, "PA"), ("PC", 2, "PB"), ("MIL", 3, "PC"),
    ]  # fmt: skip
    assert titles(found) == ["Of PB", "Roof"]
    for code, to in (("ALL", "PC"), ("PA", "PC"), ("PC", "PC")):
        join(three, code, to, expect=422)
    join(three, "PA", expect=422)  # it is a part already
    join(three, "LAN", "MIL", expect=404)  # a project joins nothing


def test_who_may_not_see_a_part_learns_no_title_but_how_many_there_are(
    three: Caller, sign_in: Callable[[str], Caller], people: dict[str, Person]
) -> None:
    three.add("Secret roof", "MIL", kind="deliverable")
    three.add("Secret floor", "MIL", kind="deliverable")
    three.add("Gallery", "LAN", kind="deliverable")
    secret = join(three, "MIL")
    join(three, "LAN")
    three("PUT", f"/projects/ALL/members/{people['member'].id}", {"role": "lead"})
    member = sign_in("member")
    found = shown(member)
    assert (titles(found), found["hidden_parts"], found["hidden_items"]) == (["Gallery"], 1, 2)
    assert "Secret" not in str(found)
    assert "MIL" not in str(found)
    member("PATCH", f"/projects/ALL/parts/{secret}", {"shows": "level:1"}, expect=404)
    join(member, "MIL", expect=404)
    assert not next(one for one in found["parts"] if one["code"] == "LAN")["may_mark"]
    three("PUT", f"/projects/LAN/members/{people['member'].id}", {"role": "contributor"})
    assert next(one for one in shown(member)["parts"] if one["code"] == "LAN")["may_mark"]


def test_two_parts_that_are_joined_at_once_close_no_circle(three: Caller, monkeypatch: pytest.MonkeyPatch) -> None:
    for code in ("PA", "PB", "PC"):
        three("POST", "/portfolios", {"code": code, "name": code, "start_day": "2027-03-08"})
    join(three, "PB", "PA")
    both, insert = Barrier(2), part_rows.insert

    def late(*args: Any) -> None:
        with contextlib.suppress(BrokenBarrierError):  # where one waits for the other to be through
            both.wait(1)
        insert(*args)

    monkeypatch.setattr(part_rows, "insert", late)
    with ThreadPoolExecutor(2) as pool:
        tried = [pool.submit(join, three, *way) for way in (("PC", "PB"), ("PA", "PC"))]
    assert sum(each.exception() is not None for each in tried) == 1
    assert len(shown(three, "PB")["parts"]) + len(shown(three, "PC")["parts"]) in {1, 2}


def test_a_portfolio_that_may_not_be_seen_is_not_named_by_what_comes_in_through_it(
    three: Caller, sign_in: Callable[[str], Caller]
) -> None:
    three("POST", "/portfolios", {"code": "HID", "name": "Hidden", "start_day": "2027-03-08", "private": True})
    join(three, "HID")
    join(three, "LAN", "HID")
    found = shown(sign_in("member"))
    assert [(one["code"], one["depth"], one["through"]) for one in found["parts"]] == [("LAN", 1, "")]
    assert "HID" not in str(found)


def test_lanes_and_workflows_of_the_portfolio_hold_its_items(three: Caller) -> None:
    lane, way = str(uuid.uuid4()), str(uuid.uuid4())
    settings = {"where": {"all": [["priority", "any", ["must"]]]}}
    three("POST", "/projects/ALL/defined/lanes", {"id": lane, "name": "First", "settings": settings})
    three("POST", "/projects/ALL/defined/workflows", {"id": way, "name": "Faults", "settings": {"kinds": ["defect"]}})
    three.add("By rule", "ALL", priority="must")
    three.add("By hand", "ALL", lane_id=lane)
    three.add("Another way", "ALL", kind="defect")
    items = {one["title"]: one for one in shown(three)["items"]}
    assert {title: one["lane_id"] for title, one in items.items()} == {"By rule": lane, "By hand": lane, "Another way": None}
    assert items["Another way"]["column"] == state_id(three, "Ready", "ALL")


def test_a_portfolio_is_had_as_a_table_and_on_paper(three: Caller, sign_in: Callable[[str], Caller]) -> None:
    roof = three.add("Secret roof", "MIL", kind="deliverable")
    three.add("Slates", "MIL", parent=roof["id"], start="2027-03-10", duration="2 d")
    join(three, "MIL")
    join(three, "LAN")
    three.add("Gallery", "LAN", kind="deliverable", deadline="2027-03-19")
    table = three("GET", "/projects/ALL/portfolio.csv").content.decode("utf-8-sig")
    head, *rows = csv.reader(io.StringIO(table, newline=""))
    assert head[:4] == ["Project", "Number", "Item", "Kind"]
    assert [row[2] for row in rows] == ["Secret roof", "Gallery"]
    assert dict(zip(head, rows[0], strict=True))["Hinges on"] == "Slates"
    member = sign_in("member")
    assert "Secret" not in member("GET", "/projects/ALL/portfolio.csv").text
    assert member("GET", "/projects/ALL/portfolio.xlsx").content.startswith(b"PK")
    assert member("GET", "/projects/ALL/portfolio.pdf").content.startswith(b"%PDF")
    three("GET", "/projects/LAN/portfolio.csv", expect=404)  # it is none


def test_a_panel_shows_larger_items_and_what_asks_for_attention(three: Caller, sign_in: Callable[[str], Caller]) -> None:
    roof = three.add("Secret roof", "MIL", kind="deliverable")
    three.add("Slates", "MIL", parent=roof["id"], start="2027-03-10", duration="2 d")
    three.add("Gallery", "LAN", kind="deliverable")
    three.add("Coast open", "ALL", deadline="2027-05-03")
    join(three, "MIL")
    join(three, "LAN")
    body = {"name": "Trustees", "seen_by": "everyone", "panels": [{"kind": "portfolio", "scope": {}, "options": {}}]}
    board = three("POST", "/dashboards", body)["id"]

    def lines(caller: Caller) -> list[tuple[str, str, bool]]:
        answer = caller("POST", f"/dashboards/{board}/answers", {})[0]["answer"]
        return [(one["name"], one["code"], one["worry"]) for one in answer["lines"]]

    assert lines(three) == [("Coast open", "ALL", False), ("Secret roof", "MIL", True)]
    assert lines(sign_in("member")) == [("Coast open", "ALL", False)]


def test_an_item_is_tied_to_deliverables_of_several_projects_and_goes_on_with_them(three: Caller) -> None:
    field = next(one for one in three("GET", "/projects/ALL")["fields"] if one["type"] == "tied")
    roof, gallery = three.add("Roof", "MIL", kind="deliverable"), three.add("Gallery", "LAN", kind="deliverable")
    below = three.add("Slates", "MIL", parent=roof["id"])
    join(three, "MIL")
    join(three, "LAN")
    three.add("Coast open", "ALL", **{f"own.{field['id']}": [roof["id"], gallery["id"]]})
    three.edit(below, "MIL", percent=60)
    item = next(one for one in shown(three)["items"] if one["title"] == "Coast open")
    assert (item["percent"], set(item["tied"])) == (30, {roof["id"], gallery["id"]})


def test_what_is_joined_is_taken_back(three: Caller) -> None:
    part = join(three, "MIL")
    join(three, "LAN")
    before = shown(three)["parts"]

    def undo() -> None:
        done = three("GET", "/projects/ALL/activity")
        change = next(one for one in done if not one["undone"] and not one["what"].startswith("took back"))
        three("POST", f"/changes/{change['id']}/undo")

    three("PATCH", f"/projects/ALL/parts/{part}", {"shows": "level:1", "after_id": "end"})
    assert [one["code"] for one in shown(three)["parts"]] == ["LAN", "MIL"]
    undo()
    assert shown(three)["parts"] == before
    three("DELETE", f"/projects/ALL/parts/{part}")
    assert [one["code"] for one in shown(three)["parts"]] == ["LAN"]
    undo()
    assert shown(three)["parts"] == before
    three("DELETE", f"/projects/ALL/parts/{part}")
    join(three, "MIL")
    three("DELETE", f"/projects/ALL/parts/{uuid.uuid4()}", expect=404)
    three("PATCH", "/projects/LAN", {"revision": 999, "lenses": ["portfolio"]}, expect=422)
    assert three("GET", "/projects/ALL")["lenses"] == ["brief", "portfolio", "outline", "board", "schedule"]
