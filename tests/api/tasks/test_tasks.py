"""Tasks through the API, on a real MariaDB."""

from __future__ import annotations

import uuid
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import pytest

from rhodonite.core.people.model import Person
from rhodonite.services.common.context import Clock
from rhodonite.store.common.database import Database, fetch_all
from tests.conftest import NOW, Caller, state_id


def order(caller: Caller) -> list[str]:
    """Titles in outline order, indented."""
    rows = caller.rows().values()
    children: dict[Any, list[dict[str, Any]]] = {}
    for row in rows:
        children.setdefault(row["parent_id"], []).append(row)

    def walk(parent: Any, depth: int) -> list[str]:
        found = []
        for row in sorted(children.get(parent, []), key=lambda r: (r["place"], r["number"])):
            found += [" " * depth + row["title"], *walk(row["id"], depth + 1)]
        return found

    return walk(None, 0)


def test_tasks_are_numbered_and_come_in_order(ines: Caller) -> None:
    for title in ("Measure", "Order", "Fit"):
        ines.add(title)
    assert [row["number"] for row in ines.rows().values()] == [1, 2, 3]
    assert order(ines) == ["Measure", "Order", "Fit"]


def test_a_repeated_request_adds_once(ines: Caller) -> None:
    body = {"tasks": [{"id": str(uuid.uuid4()), "title": "Measure"}]}
    headers = {"Rhodonite-Change": str(uuid.uuid4())}
    for _ in range(2):
        ines("POST", "/projects/LAN/tasks", body, headers=headers)
    assert len(ines.rows()) == 1


def test_many_at_once_between_two(ines: Caller) -> None:
    first, _ = ines.add("First"), ines.add("Last")
    ids = [str(uuid.uuid4()) for _ in range(3)]
    after = [first["id"], ids[0], ids[1]]
    ines(
        "POST",
        "/projects/LAN/tasks",
        {"tasks": [{"id": i, "title": f"New {n}", "after_id": a} for n, (i, a) in enumerate(zip(ids, after, strict=True))]},
    )
    assert order(ines) == ["First", "New 0", "New 1", "New 2", "Last"]


def test_pasted_lines_nest(ines: Caller) -> None:
    first = ines.add("First")
    ines.add("Last")
    ines("POST", "/projects/LAN/tasks/paste", {"text": "Glazing\n  Bars\n  Panes\n    Order\nLens", "after_id": first["id"]})
    assert order(ines) == ["First", "Glazing", " Bars", " Panes", "  Order", "Lens", "Last"]


def test_typed_dates_and_durations_are_read(ines: Caller) -> None:
    row = ines.edit(ines.add("Measure"), start="next mon", duration="3 days")
    assert (row["start"], row["finish"], row["duration"]) == ("2027-03-22T09:00:00", "2027-03-24T17:30:00", 1350)
    assert ines.edit(row, finish="26 Mar")["duration"] == 5 * 450
    assert ines.edit(row, percent="40 %")["percent"] == 40


@pytest.mark.parametrize(
    ("fields", "field"),
    [({"start": "soon"}, "start"), ({"duration": "long"}, "duration"), ({"title": ""}, "title"), ({"colour": 1}, "colour")],
)
def test_what_cannot_be_read_says_why(ines: Caller, fields: dict[str, Any], field: str) -> None:
    problem = ines.edit(ines.add("Measure"), expect=422, **fields)
    assert problem["type"] == "/problems/rule-broken"
    assert problem["errors"][0]["field"] == field
    assert problem["detail"]


def test_only_what_changed_is_sent(ines: Caller) -> None:
    a, b = ines.add("A"), ines.add("B")
    mark = ines("GET", "/projects/LAN/tasks")["mark"]
    ines.edit(a, percent=10)
    ines("POST", "/projects/LAN/tasks/delete", {"ids": [b["id"]]})
    answer = ines("GET", f"/projects/LAN/tasks?since={mark}")
    assert (answer["complete"], [row["title"] for row in answer["rows"]], answer["gone"]) == (False, ["A"], [b["id"]])


def test_what_passing_time_changes_is_sent_too(ines: Caller, clock: Clock) -> None:
    ines.add("A", start="2027-03-15", duration="3 d")
    mark = ines("GET", "/projects/LAN/tasks")["mark"]
    clock.set(NOW.replace(day=19))
    answer = ines("GET", f"/projects/LAN/tasks?since={mark}")
    assert [(row["title"], row["late_days"]) for row in answer["rows"]] == [("A", 1)]


def test_a_summary_follows_the_tasks_under_it(ines: Caller) -> None:
    top = ines.add("Glazing")
    child = ines.add("Bars", parent=top["id"], start="2027-03-22", duration="2 d")
    row = ines.rows()["Glazing"]
    assert (row["is_summary"], row["start"], row["finish"]) == (True, child["start"], child["finish"])
    assert ines.edit(row, expect=422, finish="fri")["errors"][0]["field"] == "finish"


def test_moving_and_stepping(ines: Caller) -> None:
    a, b, c = (ines.add(title) for title in "ABC")
    ines("POST", "/projects/LAN/tasks/step", {"ids": [b["id"], c["id"]], "how": "indent"})
    assert order(ines) == ["A", " B", " C"]
    ines("POST", "/projects/LAN/tasks/move", {"ids": [c["id"]], "parent_id": None, "after_id": None})
    assert order(ines) == ["C", "A", " B"]
    problem = ines("POST", "/projects/LAN/tasks/move", {"ids": [a["id"]], "parent_id": b["id"]}, expect=422)
    assert "under itself" in problem["detail"]


def test_a_milestone_holds_no_tasks(ines: Caller) -> None:
    milestone, task = ines.add("Opened", kind="milestone", finish="fri"), ines.add("B")
    ines("POST", "/projects/LAN/tasks/move", {"ids": [task["id"]], "parent_id": milestone["id"]}, expect=422)
    ines("POST", "/projects/LAN/tasks/step", {"ids": [task["id"]], "how": "indent"}, expect=422)


def test_the_board_keeps_its_order(ines: Caller) -> None:
    a, b, c = (ines.add(title) for title in "ABC")
    doing = state_id(ines, "Under way")
    for row in (a, b):
        ines("POST", "/projects/LAN/tasks/drop", {"ids": [row["id"]], "state_id": doing, "after_id": None})
    ines(
        "POST",
        "/projects/LAN/tasks/drop",
        {"ids": [c["id"]], "state_id": doing, "after_id": b["id"], "fields": {"priority": "must"}},
    )
    column = sorted((r for r in ines.rows().values() if r["state_id"] == doing), key=lambda r: r["board_place"])
    assert [row["title"] for row in column] == ["B", "C", "A"]
    assert ines.rows()["C"]["priority"] == "must"
    assert ines.rows()["C"]["actual_start"] == NOW.isoformat()


def test_finishing_and_opening_again_remembers_the_percent(ines: Caller) -> None:
    row = ines.edit(ines.add("A", start="mon"), percent=70)
    row = ines.edit(row, state_id=state_id(ines, "Finished"))
    assert (row["percent"], row["actual_finish"]) == (100, NOW.isoformat())
    row = ines.edit(row, state_id=state_id(ines, "In review"))
    assert (row["percent"], row["actual_finish"]) == (70, None)


def test_the_bin_gives_back_a_branch(ines: Caller) -> None:
    top = ines.add("Glazing")
    ines.add("Bars", parent=top["id"])
    ines("POST", "/projects/LAN/tasks/delete", {"ids": [top["id"]]})
    assert ines.rows() == {}
    assert {item["title"] for item in ines("GET", "/projects/LAN/bin")} == {"Glazing", "Bars"}
    ines("POST", "/projects/LAN/tasks/restore", {"ids": [top["id"]]})
    assert order(ines) == ["Glazing", " Bars"]


def test_a_task_restored_without_its_parent_stands_at_the_top(ines: Caller) -> None:
    top = ines.add("Glazing")
    child = ines.add("Bars", parent=top["id"])
    ines("POST", "/projects/LAN/tasks/delete", {"ids": [top["id"]]})
    ines("POST", "/projects/LAN/tasks/restore", {"ids": [child["id"]]})
    assert order(ines) == ["Bars"]


def undo(caller: Caller, answer: Any, expect: int | None = None) -> Any:
    return caller("POST", f"/changes/{answer['change']}/undo", expect=expect)


def patch(caller: Caller, row: dict[str, Any], **fields: Any) -> Any:
    body = {"tasks": [{"id": row["id"], "revision": row["revision"], "fields": fields}]}
    return caller("PATCH", "/projects/LAN/tasks", body)


@pytest.mark.parametrize(
    "fields",
    [
        {"title": "New"},
        {"start": "mon", "duration": "2 d"},
        {"percent": 100},
        {"held_reason": "rain"},
        {"description": "long"},
        {"priority": "must"},
    ],
)
def test_undo_puts_back_all_that_followed(ines: Caller, fields: dict[str, Any]) -> None:
    ines.add("A")
    before = ines.rows()["A"]
    undone = undo(ines, patch(ines, before, **fields))
    after = ines.rows()["A"]
    assert {**after, "revision": 0} == {**before, "revision": 0}
    undo(ines, undone)  # and what was taken back can be done again
    detail = ines("GET", f"/tasks/{before['id']}")
    name, value = next(iter(fields.items()))
    shown = detail["description"] if name == "description" else detail["row"][name]
    assert shown == value or name == "start"


def test_undo_of_adding_moving_and_deleting(ines: Caller) -> None:
    a = ines.add("A")
    added = ines("POST", "/projects/LAN/tasks", {"tasks": [{"title": "B"}]})
    undo(ines, added)
    assert order(ines) == ["A"]
    b = ines.add("B")
    moved = ines("POST", "/projects/LAN/tasks/step", {"ids": [b["id"]], "how": "indent"})
    undo(ines, moved)
    assert order(ines) == ["A", "B"]
    gone = ines("POST", "/projects/LAN/tasks/delete", {"ids": [a["id"], b["id"]]})
    undo(ines, gone)
    assert order(ines) == ["A", "B"]
    assert "taken back already" in undo(ines, gone, expect=422)["detail"]


def test_undo_does_not_put_back_over_another_persons_edit(ines: Caller, sign_in: Any, people: dict[str, Person]) -> None:
    ines("PUT", f"/projects/LAN/members/{people['member'].id}", {"role": "contributor"})
    answer = patch(ines, ines.add("A"), title="Mine")
    tomas = sign_in("member")
    tomas.edit(tomas.rows()["Mine"], title="Theirs")
    undo(ines, answer, expect=422)
    assert list(ines.rows()) == ["Theirs"]


def test_different_fields_merge_and_the_same_field_clashes(ines: Caller, sign_in: Any, people: dict[str, Person]) -> None:
    ines("PUT", f"/projects/LAN/members/{people['member'].id}", {"role": "contributor"})
    seen = ines.add("A")
    tomas = sign_in("member")
    tomas.edit(seen, priority="must", title="Tomas's")
    merged = ines.edit(seen, percent=30)
    assert (merged["title"], merged["priority"], merged["percent"]) == ("Tomas's", "must", 30)
    problem = ines.edit(seen, expect=409, title="Ines's")
    assert problem["type"] == "/problems/edit-clash"
    assert problem["clashes"] == [
        {"task_id": seen["id"], "field": "title", "yours": "Ines's", "theirs": "Tomas's", "by": people["member"].id}
    ]
    assert ines.edit(merged, title="Ines's")["title"] == "Ines's"


def test_setting_what_another_set_too_is_no_clash(ines: Caller, sign_in: Any, people: dict[str, Person]) -> None:
    ines("PUT", f"/projects/LAN/members/{people['member'].id}", {"role": "contributor"})
    seen = ines.add("A")
    sign_in("member").edit(seen, priority="must")
    assert ines.edit(seen, priority="must")["priority"] == "must"


def test_every_change_is_in_the_journal(ines: Caller, database: Database, people: dict[str, Person]) -> None:
    row = ines.edit(ines.add("A"), title="B", priority="must")
    entries = database.read(
        lambda cur: fetch_all(
            cur,
            "SELECT field, old, new, person_id FROM journal WHERE subject_id = %s AND revision = %s",
            (row["id"], row["revision"]),
        )
    )
    assert set(entries) == {("title", '"A"', '"B"', people["manager"].id), ("priority", None, '"must"', people["manager"].id)}
    told = ines("GET", "/projects/LAN/activity")
    assert told[0]["lines"] == ["B: priority none → must", "B: title A → B"] or set(told[0]["lines"]) == {
        "B: priority none → must", "B: title A → B",
    }  # fmt: skip
    assert [one["revision"] for one in told] == sorted((one["revision"] for one in told), reverse=True)


def test_all_edits_or_none(ines: Caller) -> None:
    a, b = ines.add("A"), ines.add("B")
    body = {
        "tasks": [
            {"id": a["id"], "revision": 9, "fields": {"title": "X"}},
            {"id": b["id"], "revision": 9, "fields": {"title": ""}},
        ]
    }
    ines("PATCH", "/projects/LAN/tasks", body, expect=422)
    assert set(ines.rows()) == {"A", "B"}


def test_writers_take_turns(ines: Caller) -> None:
    """Twenty people add and edit at once: every change lands, with its own revision and number."""
    shared = ines.add("Shared")

    def work(index: int) -> None:
        ines.add(f"T{index}")
        ines.edit(shared, **({"percent": index} if index % 2 else {"effort": index * 60}))

    before = ines("GET", "/projects/LAN")["revision"]
    with ThreadPoolExecutor(8) as pool:
        list(pool.map(work, range(20)))
    rows = ines.rows()
    assert len(rows) == 21
    assert sorted(row["number"] for row in rows.values()) == list(range(1, 22))
    assert ines("GET", "/projects/LAN")["revision"] == before + 40


def test_a_task_in_full(ines: Caller, people: dict[str, Person]) -> None:
    top = ines.add("Glazing")
    row = ines.add(
        "Bars", parent=top["id"], owner_id=people["member"].id, start="mon", duration="2 d", helpers=[people["other"].id]
    )
    detail = ines("GET", f"/tasks/{row['id']}")
    assert (detail["code"], detail["outline"], detail["above"]) == ("LAN", "1.1", [{"id": top["id"], "title": "Glazing"}])
    assert detail["reading"].startswith("**Tomas B.** answers for it: 2 d, 0 % done. Yuki H. helps.")
    assert detail["history"][-1]["lines"][0] == "written down"


def test_scope_horizon_and_brief(ines: Caller, people: dict[str, Person]) -> None:
    ines.add("Late", owner_id=people["manager"].id, start="2027-03-08", duration="2 d")
    ines.add("Soon", start="2027-03-18", duration="1 d", held_reason="rain")
    ines.add("Opened", kind="milestone", finish="2027-04-02")
    scope = ines("GET", "/projects/LAN/scope?owner=me")
    assert (scope["shown"], scope["total"], scope["late"], len(scope["ids"])) == (1, 3, 1, 1)
    everything = ines("GET", "/projects/LAN/scope")
    assert everything["ids"] is None
    assert everything["facts"]["next_milestone"]["title"] == "Opened"
    assert everything["states"][0]["tasks"] == 3
    weeks = {week["monday"]: week["tasks"] for week in ines("GET", "/projects/LAN/horizon")["weeks"]}
    assert (weeks["2027-03-08"], weeks["2027-03-15"]) == (1, 1)
    brief = ines("GET", "/projects/LAN/brief")
    assert [row["title"] for row in brief["late"]] == ["Late"]
    assert [row["title"] for row in brief["due"]] == ["Soon"]
    assert [row["title"] for row in brief["held"]] == ["Soon"]
    assert "One task is late" in brief["reading"]
    assert brief["facts"]["health"] == "strained"


def test_the_desk(ines: Caller, people: dict[str, Person]) -> None:
    me = people["manager"].id
    late = ines.add("Late", owner_id=me, start="2027-03-08", duration="2 d")
    ines.add("Today", helpers=[me], finish="today")
    ines.add("Done", owner_id=me, percent=100)
    summary = ines.add("Above", owner_id=me)
    ines.add("Below", parent=summary["id"])
    items = ines("GET", "/desk")["items"]
    assert [(i["row"]["title"], i["section"], i["mine"]) for i in items] == [("Late", "late", True), ("Today", "today", False)]
    assert ines.edit(late, push_to="next mon")["pushes"] == 1
    assert ines("GET", "/desk")["items"][1]["section"] == "later"
    ines("PATCH", "/projects/LAN", {"revision": 999, "archived": True})
    assert ines("GET", "/desk")["items"] == []


def test_a_request_that_is_refused_half_way_leaves_nothing_and_can_be_repeated(ines: Caller) -> None:
    first, second = ines.add("First"), ines.add("Second")
    headers = {"Rhodonite-Change": str(uuid.uuid4())}
    good = {"id": first["id"], "revision": first["revision"], "fields": {"title": "Changed"}}
    bad = {"id": second["id"], "revision": second["revision"], "fields": {"percent": "many"}}
    for _ in range(2):  # the second time nothing may be taken for done
        ines("PATCH", "/projects/LAN/tasks", {"tasks": [good, bad]}, expect=422, headers=headers)
    assert set(ines.rows()) == {"First", "Second"}
    ines("PATCH", "/projects/LAN/tasks", {"tasks": [good]}, headers=headers)
    assert set(ines.rows()) == {"Changed", "Second"}
    before = ines("GET", "/projects/LAN")["revision"]
    ines("PATCH", "/projects/LAN/tasks", {"tasks": [good]}, headers=headers)
    assert ines("GET", "/projects/LAN")["revision"] == before


def test_what_would_be_refused_because_it_was_done_is_done(ines: Caller) -> None:
    ines.add("First")
    change = ines("GET", "/projects/LAN/activity")[0]["id"]
    headers = {"Rhodonite-Change": str(uuid.uuid4())}
    for _ in range(2):
        ines("POST", f"/changes/{change}/undo", headers=headers)
    assert ines.rows() == {}
    ines("POST", f"/changes/{change}/undo", expect=422)
