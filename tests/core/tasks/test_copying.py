"""Copies of tasks: what goes along within a project and into another, and what is lost on the way."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest

from rhodonite.core.tasks.copying import BookableThere, match_state, matched, say_lost
from rhodonite.core.tasks.custom_fields import CustomField, CustomKind, Option, ProjectMark
from rhodonite.core.tasks.model import Booking, Link, Project, State

from ..make import DAY, PROJECT, STATES, at, days, task

GLASS = (Option("o1", "Float"), Option("o2", "Drawn"))
SOURCE = replace(
    PROJECT,
    fields=(
        CustomField("f1", "Area", "number", "A"),
        CustomField("f2", "Glass", "choice", "B", options=GLASS),
        CustomField("f3", "Glasses", "choices", "C", options=GLASS),
        CustomField("f4", "Cost", "computed", "D", formula="Area * 2"),
        CustomField("f5", "Panes", "tasks", "E"),
    ),
    kinds=(CustomKind("k1", "Pane", "A"),),
    marks=(ProjectMark("m1", "Ask first", "A"), ProjectMark("m2", "Lift", "B")),
)
OTHER = Project(
    "q", "MIL", "Mill", "", None, PROJECT.start_day, False, None, 1, 1,
    (
        State("w", "Waiting", "queued", "A"), State("g", "Under way", "active", "B"),
        State("c", "Closed", "finished", "C"), State("u", "Finished", "active", "D"),
    ), {},
    fields=(
        CustomField("x1", "area", "number", "A"),
        CustomField("x2", "Glass", "choice", "B", options=(Option("z2", "drawn"),)),
        CustomField("x3", "Glasses", "choices", "C", options=(Option("z1", "float"), Option("z2", "drawn"))),
    ),
    kinds=(CustomKind("k9", "PANE", "A"),),
    marks=(ProjectMark("m9", "ask first", "A"),),
)  # fmt: skip


@pytest.mark.parametrize(
    ("state", "wanted"),
    [
        ("doing", "g"),  # of the same name and class
        ("ready", "w"),  # of the same class
        ("review", "g"),
        ("done", "c"),  # the namesake there is of another class
        ("dropped", "c"),  # there is none of its class: what is over stays over
    ],
)
def test_states_answer_by_name_and_class_then_by_class(state: str, wanted: str) -> None:
    held = next(one for one in STATES if one.id == state)
    assert match_state(held, OTHER).id == wanted


def test_a_copy_in_its_project_has_all_that_is_planned() -> None:
    glass = task("a", title="Cut", kind="k1", priority="must", effort=90, helpers=("p1",), owner_id="p2", elapsed=True,
                 marks=("m1", "m2"), own={"f1": 3, "f2": "o1", "f4": 6, "f5": ["b"]}, deadline=at("3-30"), percent=40,
                 state_id="doing", actual_start=at("3-15"), **days("3-15", 2))  # fmt: skip
    found = matched(glass, SOURCE, SOURCE, is_summary=False)
    assert found.fields == {
        "title": "Cut", "kind": "k1", "priority": "must", "effort": 90, "helpers": ("p1",), "owner_id": "p2", "elapsed": True,
        "marks": ["m1", "m2"], "own.f1": 3, "own.f2": "o1", "own.f5": ["b"], "deadline": at("3-30"), "duration": 2 * DAY, "start": at("3-15"),
    }  # fmt: skip
    assert found.lost == []
    assert {name: found.progress[name] for name in ("percent", "actual_start", "state_id")} == {
        "percent": 40, "actual_start": at("3-15"), "state_id": "doing",
    }  # fmt: skip


def test_in_another_project_things_go_by_their_names() -> None:
    glass = task("a", kind="k1", marks=("m1", "m2"), own={"f1": 3, "f2": "o2", "f3": ["o2", "o1"], "f5": ["b"]}, state_id="done")
    found = matched(glass, SOURCE, OTHER, is_summary=False)
    assert found.fields == {"title": "a", "kind": "k9", "marks": ["m9"], "own.x1": 3, "own.x2": "z2", "own.x3": ["z2", "z1"]}
    assert found.progress["state_id"] == "c"
    assert sorted(found.lost) == ["the field Panes", "the mark Lift"]


def test_who_has_left_is_given_no_new_work() -> None:
    there = BookableThere({"p1": "p1"})
    cut = task("a", owner_id="p2", helpers=("p1", "p3"), bookings=(Booking("p1", 60), Booking("p3", 30)))
    found = matched(cut, SOURCE, SOURCE, is_summary=False, bookable=there)
    assert found.fields == {"title": "a", "kind": "task", "helpers": ("p1",), "bookings": (Booking("p1", 60),)}
    assert sorted(say_lost(found.lost, OTHER)) == [
        "A helper who has left, of 1 task.",
        "An owner who has left, of 1 task.",
        "The booking of somebody who has left, of 1 task.",
    ]


def test_what_has_no_place_there_is_lost_and_said() -> None:
    bare = replace(OTHER, fields=(), kinds=(), marks=())
    cut = task("a", kind="k1", marks=("m1",), own={"f1": 3, "f2": "o1"})
    found = matched(cut, SOURCE, bare, is_summary=False)
    assert found.fields == {"title": "a", "kind": "task"}
    assert found.lost == ["the kind Pane", "the field Area", "the field Glass", "the mark Ask first"]
    choice = matched(task("b", own={"f2": "o1"}), SOURCE, OTHER, is_summary=False)  # its list there has no such entry
    assert choice.lost == ["the field Glass"]
    assert say_lost([*found.lost, *choice.lost], OTHER) == [
        "The kind Pane of 1 task: MIL has none of that name.",
        "The field Area of 1 task: MIL has none of that name.",
        "The field Glass of 2 tasks: MIL has none of that name.",
        "The mark Ask first of 1 task: MIL has none of that name.",
    ]


@pytest.mark.parametrize(
    ("fields", "wanted"),
    [
        (days("3-15", 2), {"duration": 2 * DAY, "start": at("3-15")}),
        ({**days("3-15", 2), "waits_for": (Link("b"),)}, {"duration": 2 * DAY}),  # it starts when what it waits for lets it
        ({"finish": at("3-19 17:30")}, {"finish": at("3-19 17:30")}),
        ({"kind": "milestone", "finish": at("3-19"), "start": at("3-19")}, {"finish": at("3-19")}),
        ({"kind": "milestone"}, {}),
        ({}, {}),
    ],
)
def test_dates_that_were_given_go_along(fields: dict[str, Any], wanted: dict[str, Any]) -> None:
    found = matched(task("a", **fields), SOURCE, SOURCE, is_summary=False).fields
    assert {name: value for name, value in found.items() if name not in {"title", "kind"}} == wanted


def test_a_summary_task_brings_no_dates_and_no_progress_of_its_own() -> None:
    found = matched(task("a", percent=40, **days("3-15", 2)), SOURCE, SOURCE, is_summary=True)
    assert found.fields == {"title": "a", "kind": "task"}
    assert found.progress == {}
