"""What a project's work is once it has gone out as a file and come in again: CSV, XLSX and the plan file, field by field.

A field of a task is held by a format, or said to be left out, or it is counted by the program itself: a new field that is none of
these fails here.
"""

from __future__ import annotations

import dataclasses
import json
import random
from collections.abc import Mapping
from datetime import datetime
from typing import Any

import pytest

from rhodonite.core.people.model import Person
from rhodonite.core.schedule.plan import Plan, Row
from rhodonite.core.tasks.model import Booking, Link, Task
from rhodonite.formats.csv_columns import COLUMN_OF
from rhodonite.formats.plan_file import HELD, NOT_HELD
from rhodonite.services.common.context import Clock, new_id
from rhodonite.services.common.plan_cache import PLANS
from rhodonite.store.common.database import Database
from rhodonite.store.tasks import projects as project_rows
from tests.api.tasks.test_csv_files import define, upload
from tests.conftest import Caller

OWN_ACCOUNT = {
    "id", "project_id", "board_place", "held_since", "held_minutes", "state_since", "pushes", "comments", "files", "spent",
    "deleted_at", "revision", "changed_at",
}  # fmt: skip
"""What the program counts or keeps on its own account; what is attached to tasks is said to be left out."""
FIELDS = {one.name for one in dataclasses.fields(Task)}


def test_every_field_is_held_by_a_table_or_a_column_of_its_own() -> None:
    assert COLUMN_OF.keys() | OWN_ACCOUNT | {"own"} == FIELDS


def test_every_field_is_held_by_a_plan_file_or_said_to_be_left_out() -> None:
    assert HELD | NOT_HELD.keys() | OWN_ACCOUNT == FIELDS
    assert not HELD & NOT_HELD.keys()


class World:
    """A project with something of everything that a task can have, made by chance from a seed."""

    def __init__(self, ines: Caller, people: Mapping[str, Person], seed: int) -> None:
        self.call, self.chance = ines, random.Random(seed)
        revision = ines("GET", "/projects/LAN")["revision"]
        ines("PATCH", "/projects/LAN", {"revision": revision, "hours": True, "time": True, "costs": True})
        self.people = [people[role].id for role in ("member", "other", "manager")]
        self.fields = {
            sort: define(ines, "fields", name, type=sort, **settings)
            for sort, name, settings in [
                ("text", "Remark", {}),
                ("number", "Weight", {"decimals": 2}),
                ("money", "Quote", {}),
                ("date", "Survey", {}),
                ("yes_no", "Insured", {}),
                ("choice", "Side", {"options": [{"id": "n", "name": "north"}, {"id": "s", "name": "south; lee"}]}),
                ("choices", "Sides", {"options": [{"id": "n", "name": "north"}, {"id": "s", "name": "south, lee"}]}),
                ("person", "Inspector", {}),
                ("tasks", "Parts", {}),
            ]
        }
        self.marks = [define(ines, "marks", name) for name in ("Heavy", "Fragile; north")]
        self.lane = define(ines, "lanes", "Gallery")
        self.period = define(ines, "periods", "Later")
        self.calendar = new_id()
        week = {"mon": [["20:00", "24:00"]], "tue": [["20:00", "24:00"]]}
        ines("PUT", f"/projects/LAN/calendars/{self.calendar}", {"name": "Night", "week": week})
        for name, of in [("Crane 2", {}), ("Glass panes", {"kind": "material", "unit": "pc"}), ("Permit", {"kind": "fixed"})]:
            ines("POST", "/projects/LAN/resources", {"name": name, **of})
        self.resources = {one["name"]: one for one in ines("GET", "/projects/LAN/bookable") if one["resource"]}

    def fill(self, many: int) -> None:
        """Write tasks, some below others, with fields by chance."""
        pick = self.chance
        for number in range(many):
            above = [row["id"] for row in self.call.rows().values()]
            self.call.add(f"Work {number}, {pick.choice(['bars; glass', '“north”', '=sum'])}",
                          parent=pick.choice([None, *above]) if above else None, duration=pick.choice(["3 d", "90 min", "2 d elapsed"]))  # fmt: skip
        rows = list(self.call.rows().values())
        leaves = [row["id"] for row in rows if not row["is_summary"]]
        for row in rows:
            fields = self.any_fields(leaves, row["id"]) if row["id"] in leaves else self.summary_fields()
            for name, value in fields.items():
                fresh = {one["id"]: one for one in self.call.rows().values()}[row["id"]]
                body = {"tasks": [{"id": row["id"], "revision": fresh["revision"], "fields": {name: value}}]}
                status = self.call.client.patch("/api/projects/LAN/tasks", json=body).status_code
                assert status == 200 or (status == 422 and name not in _ALWAYS), name  # by chance some fields exclude others
            self.hang(row["id"])

    def summary_fields(self) -> dict[str, Any]:
        """Fields that summary tasks have too."""
        pick = self.chance
        return {
            "priority": pick.choice(["must", "could", None]),
            "deadline": "2027-09-01T12:30",
            "owner_id": pick.choice(self.people),
        }

    def any_fields(self, leaves: list[str], own_id: str) -> dict[str, Any]:
        """Some of all fields, each with a value by chance."""
        pick = self.chance
        others = [one for one in leaves if one < own_id]  # so that no circle closes
        person, crane, panes, permit = (
            pick.choice(self.people),
            *(self.resources[one] for one in ("Crane 2", "Glass panes", "Permit")),
        )
        bookings = pick.choice([
            [{"who": person, "minutes": 75, "shape": "front"}, {"who": crane["id"], "resource": True, "minutes": 607}],
            [{"who": person, "minutes": 0, "shape": "by_day", "by_day": [300, 300, 0, 75]}],
            [{"who": panes["id"], "resource": True, "of": "material", "amount": 12500},
             {"who": permit["id"], "resource": True, "of": "fixed", "amount": 350125}, {"who": person, "minutes": 90, "shape": "back"}],
        ])  # fmt: skip
        every: dict[str, Any] = {
            "owner_id": person, "helpers": [pick.choice(self.people)], "priority": pick.choice(["must", "wont"]),
            "effort": pick.choice([75, 3000]), "bookings": bookings, "keeps": pick.choice(["hours", "length", "units"]),
            "deadline": "2027-05-07T11:00", "marks": pick.sample(self.marks, pick.randint(1, 2)), "calendar_id": self.calendar,
            "constraint": None, "lane_id": self.lane, "period_id": self.period, "held_reason": "rain, “north”; 3 d",
            "repeats": pick.choice([
                {"words": "every second Tuesday"}, {"words": "FREQ=MONTHLY;BYMONTHDAY=-2;INTERVAL=2", "off_holidays": False},
            ]),
            "description": "<p>Two lines:</p><p>@ the gallery, “=1+1”</p>",
            f"own.{self.fields['text']}": "=plain, “text”", f"own.{self.fields['number']}": 12.25, f"own.{self.fields['money']}": 99.5,
            f"own.{self.fields['date']}": "2027-04-01", f"own.{self.fields['yes_no']}": pick.choice([True, False]),
            f"own.{self.fields['person']}": person,
            f"own.{self.fields['tasks']}": pick.sample(leaves, min(2, len(leaves))),
        }  # fmt: skip
        if others:
            every["waits_for"] = [{"from_id": pick.choice(others), "type": pick.choice(["FS", "SS", "FF"]), "lag": 45}]
            every["held_by_id"] = pick.choice(others)
        if pick.random() < 0.3:
            every |= {"start": "2027-03-08T10:15", "actual_start": "2027-03-08T10:15", "percent": 40}
        elif pick.random() < 0.5:
            every |= {"constraint_type": "start_no_earlier", "constraint_at": "2027-04-01T14:30"}
        del every["constraint"]
        chosen = set(pick.sample(sorted(every), pick.randint(4, len(every))))
        if {"held_reason", "held_by_id"} <= chosen:
            chosen.discard("held_reason")
        if "constraint_at" in every:
            chosen |= {"constraint_type", "constraint_at"}
        return {name: value for name, value in every.items() if name in chosen}

    def hang(self, task_id: str) -> None:
        """Checklists by chance."""
        if self.chance.random() < 0.4:
            list_id = new_id()
            body = {"id": list_id, "name": "[x] Foundry", "items": ["Sand, dry", "“Bars”"]}
            self.call("POST", f"/tasks/{task_id}/checklists", body)
            check = self.call("GET", f"/tasks/{task_id}")["checklists"][0]["checks"][0]
            self.call("PATCH", f"/checks/{check['id']}", {"done": True})


_ALWAYS = {"owner_id", "priority", "effort", "bookings", "marks", "deadline", "description"}


def read_project(database: Database, clock: Clock) -> Plan:
    """The plan as the tables hold it."""

    def read(cur: Any) -> Plan:
        project = project_rows.project_by_code(cur, "LAN")
        assert project is not None
        return PLANS.at(cur, project, clock.now()).plan

    return database.read(read)


def plain(plan: Plan, row: Row, at: Mapping[str, int], fields: set[str]) -> dict[str, Any]:
    """Fields of a task with other tasks by their place among those that are compared."""
    task = row.task

    def said(value: Any) -> Any:
        if isinstance(value, Link):
            return dataclasses.replace(value, from_id=str(at.get(value.from_id, "elsewhere")))
        if isinstance(value, Booking):
            return value
        if isinstance(value, tuple | list):
            return sorted((said(one) for one in value), key=repr)
        if isinstance(value, Mapping):
            return {name: said(one) for name, one in value.items()}
        return at.get(value, value) if isinstance(value, str) else value

    kept = {name: said(getattr(task, name)) for name in sorted(fields - {"number", "place", "start", "finish", "repeats"})}
    kept |= {"start": row.start, "finish": row.finish, "summary": row.is_summary}
    if task.repeats and "repeats" in fields:
        kept["repeats"] = {name: value for name, value in task.repeats.items() if name != "by"}
    if row.is_summary:  # computed from below
        for name in ("state_id", "percent", "duration", "elapsed", "actual_start", "actual_finish", "effort"):
            kept.pop(name, None)
    return kept


def compare(plan: Plan, went: int, since: int, fields: set[str]) -> None:
    """Hold tasks that came in against those that went out, one by one in outline order.

    Args:
        went: the highest number of a task that went out; since: of any that was there before they came in.
    """
    ordered = [row for row, _, _ in plan.ordered()]
    before = [row for row in ordered if row.task.number <= went]
    after = [row for row in ordered if row.task.number > since]
    assert len(before) == len(after) > 0
    places = [{row.task.id: index for index, row in enumerate(rows)} for rows in (before, after)]
    for old, new in zip(before, after, strict=True):
        assert plain(plan, new, places[1], fields) == plain(plan, old, places[0], fields), old.task.title


def highest(plan: Plan) -> int:
    """The highest number of a task."""
    return max(row.task.number for row in plan.rows.values())


def describe(ines: Caller, rows: list[Row]) -> list[Any]:
    """What hangs on tasks: descriptions and checklists."""
    seen = [ines("GET", f"/tasks/{row.task.id}") for row in rows]
    return [
        (one["description"], [(each["name"], [(c["text"], c["done_at"] is not None) for c in each["checks"]]) for each in one["checklists"]])
        for one in seen
    ]  # fmt: skip


@pytest.mark.parametrize("seed", range(3))
def test_files_bring_back_what_they_hold(
    ines: Caller, people: dict[str, Person], database: Database, clock: Clock, seed: int
) -> None:
    World(ines, people, seed).fill(7)
    went = highest(read_project(database, clock))
    tables = [ines("GET", f"/projects/LAN/tasks.{form}").content for form in ("csv", "xlsx")]
    document = json.dumps(ines("GET", "/projects/LAN/plan.json"))
    for file in tables:
        since = highest(read_project(database, clock))
        preview = upload(ines, "csv/preview", file)
        assert (preview["problems"], preview["unknown"], preview["remarks"]) == ([], [], [])
        upload(ines, "csv", file)
        compare(read_project(database, clock), went, since, set(COLUMN_OF) | {"own"})
    ordered = [row for row, _, _ in read_project(database, clock).ordered()]
    third = len(ordered) // 3
    assert describe(ines, ordered[:third]) == describe(ines, ordered[third : 2 * third]) == describe(ines, ordered[2 * third :])
    since = highest(read_project(database, clock))
    ines("POST", "/projects/LAN/plan.json", files={"file": ("plan.json", document)})
    compare(read_project(database, clock), went, since, set(HELD) - {"kind"})
    said = " ".join(json.loads(document)["left_out"])
    assert "owner" in said or "priorit" in said


def test_two_names_that_mean_the_same_are_put_together(ines: Caller, people: dict[str, Person]) -> None:
    World(ines, people, 1)
    ines.add("Fit", duration="2 d")
    named = {one["name"]: one["id"] for one in ines("GET", "/projects/LAN/bookable")}
    who = people["member"].id
    ines.edit(
        ines.rows()["Fit"], bookings=[{"who": named["Crane 2"], "resource": True, "minutes": 600}, {"who": who, "minutes": 90}]
    )
    text = json.dumps(ines("GET", "/projects/LAN/plan.json")).replace("Crane 2", "Kran")
    answers = {"answers": json.dumps({"bookings": {"Kran": who}})}
    ines("POST", "/projects/LAN/plan.json", files={"file": ("plan.json", text.encode())}, data=answers)
    came = max(ines("GET", "/projects/LAN/tasks")["rows"], key=lambda row: row["number"])
    assert [(one["who"], one["minutes"]) for one in came["bookings"]] == [(who, 690)]


def test_hostile_cells_are_refused_in_words(ines: Caller, people: dict[str, Person]) -> None:
    World(ines, people, 1)
    cells = {
        "People and hours": ["Nobody " + "1 " * 4_000, "Tomas Brekke " + "1 h + " * 3_000 + "1 h", "Tomas Brekke 9999 × 9999 h",
                             "Tomas Brekke 99999999 h + 1 h"],
        "Repeats": ["every week; from 9999-12-31", "every week; made up to 0001-01-01; 99 ahead", ";" * 5_000, "x" * 50_000],
        "Checklists": ["A\n" * 900, "[ ] x\n" * 900, "[x]"],
        "Held by task": ["1", "1, 2", "99"],
        "When hours change": ["everything stays"],
    }  # fmt: skip
    for head, several in cells.items():
        for cell in several:
            file = f'Code,Title,{head}\n1,A,"{cell}"\n2,B,\n'.encode()
            preview = ines("POST", "/projects/LAN/csv/preview", files={"file": ("a.csv", file)})["preview"]
            assert preview["problems"] or preview["unknown"] or head in {"Checklists", "Repeats"}, (head, cell[:40])
            status = ines.client.post("/api/projects/LAN/csv", files={"file": ("a.csv", file)}).status_code
            assert status in {201, 422}, (head, cell[:40])


def test_who_is_booked_under_another_name_is_matched_by_hand(ines: Caller, people: dict[str, Person]) -> None:
    World(ines, people, 1)
    line = b"Title,Effort,People and hours\nFit,10 h,Glas pains 12; Cranes 2 16 h; Tomas Brekke 5 h\n"
    preview = upload(ines, "csv/preview", line)
    assert [(one["field"], one["text"]) for one in preview["unknown"]] == [("bookings", "Glas pains"), ("bookings", "Cranes 2")]
    named = {one["name"]: one["id"] for one in ines("GET", "/projects/LAN/bookable")}
    assert preview["choices"]["bookings"][named["Crane 2"]] == "Crane 2"
    upload(ines, "csv", line, expect=422)
    answers = {"bookings": {"Glas pains": named["Glass panes"], "Cranes 2": None}}
    upload(ines, "csv", line, answers=answers)
    booked = {one["who"]: (one["of"], one["minutes"], one["amount"]) for one in ines.rows()["Fit"]["bookings"]}
    assert booked == {named["Glass panes"]: ("material", 0, 12000), named["Tomas Brekke"]: ("labour", 300, 0)}


def test_a_plan_file_asks_whom_its_names_mean(ines: Caller, people: dict[str, Person]) -> None:
    World(ines, people, 1)
    ines.add("Fit", duration="2 d")
    named = {one["name"]: one["id"] for one in ines("GET", "/projects/LAN/bookable")}
    ines.edit(ines.rows()["Fit"], bookings=[{"who": named["Crane 2"], "resource": True, "minutes": 600}])
    ines("POST", "/absences", {"person_id": people["member"].id, "kind": "leave", "start": "2027-04-05T00:00", "end": "2027-04-07T00:00"})  # fmt: skip
    text = json.dumps(ines("GET", "/projects/LAN/plan.json")).replace("Crane 2", "Kran")
    send = lambda path, expect=None, **data: ines(  # noqa: E731
        "POST", f"/projects/LAN/{path}", files={"file": ("plan.json", text.encode())}, data=data, expect=expect
    )
    preview = send("plan.json/preview")
    assert [one["text"] for one in preview["unknown"]] == ["Kran"]
    refused = send("plan.json", expect=422)
    assert "Kran" in refused["detail"]
    assert len(ines.rows()) == 1
    send("plan.json", answers=json.dumps({"bookings": {"Kran": named["Crane 2"]}}))
    rows = ines("GET", "/projects/LAN/tasks")["rows"]
    assert [[(one["who"], one["minutes"]) for one in row["bookings"]] for row in rows] == [[(named["Crane 2"], 600)]] * 2


def test_what_files_do_not_hold_is_said(ines: Caller, people: dict[str, Person]) -> None:
    ines.add("Fit", owner_id=people["member"].id)
    task = ines.rows()["Fit"]["id"]
    ines("POST", f"/tasks/{task}/comments", {"body": "<p>Sand comes</p>"})
    ines.edit(ines.rows()["Fit"], description="<p>Sand <strong>comes</strong></p>")
    said = ines("GET", "/projects/LAN/left-out")
    assert set(said["table"]) == {"1 comment", "1 description’s formatting and pictures"}
    assert set(said["plan"]) == {"1 owner", "1 comment", "1 description"}


def test_a_repeat_that_came_in_makes_no_second_row_of_what_was_made(ines: Caller, clock: Clock) -> None:
    ines.add("Watch", duration="1 d", start="2027-03-16")
    ines.edit(ines.rows()["Watch"], repeats={"words": "every week", "mode": "ahead", "ahead": 3})
    made = len(ines("GET", "/projects/LAN/tasks")["rows"])
    assert made == 4
    upload(ines, "csv", ines("GET", "/projects/LAN/tasks.csv").content)
    assert len(ines("GET", "/projects/LAN/tasks")["rows"]) == 2 * made
    assert datetime.fromisoformat(ines.rows()["Watch"]["start"]).year == 2027
