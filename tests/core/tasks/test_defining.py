"""What a project defines for itself, and what people may set: workflow, own fields, kinds, marks, checklists, preferences."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, datetime
from typing import Any

import pytest

from rhodonite.core.common.errors import RuleError
from rhodonite.core.people.preferences import Preferences, with_changes
from rhodonite.core.talk.parts import clean_item, clean_name, may_take_back, with_reaction
from rhodonite.core.tasks.bulk import in_a_row
from rhodonite.core.tasks.custom_fields import (
    CustomField,
    CustomKind,
    Definition,
    Option,
    ProjectMark,
    check_required,
    defaults,
    missing,
)
from rhodonite.core.tasks.custom_values import read_value, say_rounding
from rhodonite.core.tasks.defining import check_definition
from rhodonite.core.tasks.model import Link, State
from rhodonite.core.tasks.workflow import check_classes, check_state

from ..make import PROJECT, STATES, plan, task

TODAY = date(2027, 3, 17)
ID = "0190c0de-0000-7000-8000-000000000001"


def field(kind: Any = "text", **more: Any) -> CustomField:
    return CustomField("f", more.pop("name", "Area"), kind, "A", **more)


@pytest.mark.parametrize(
    ("own", "typed", "kept"),
    [
        (field(), "  glass ", "glass"),
        (field(), 12, "12"),
        (field("number"), "1,200", 1200),
        (field("number"), "1’200", 1200),
        (field("number"), "12,6", 13),
        (field("number"), "-2.5", -3),  # halves away from zero
        (field("number", decimals=2), "0.125", 0.13),
        (field("number", unit="m2"), "12 m2", 12),
        (field("money", unit="EUR", decimals=2), "1 200.50 EUR", 1200.5),
        (field("date"), "fri", "2027-03-19"),
        (field("date"), datetime(2027, 3, 19, 14), "2027-03-19"),
        (field("yes_no"), "Yes", True),
        (field("yes_no"), "-", False),
        (field("person"), ID.upper(), ID),
        (field("choice", options=(Option("o", "Float"),)), "float", "o"),
        (field("choices", options=(Option("o", "Float"), Option("p", "Drawn"))), "drawn; Float, drawn", ["p", "o"]),
        (field("link"), "corvane.example/plans", "https://corvane.example/plans"),
        (field("link"), "mailto:ines@corvane.example", "mailto:ines@corvane.example"),
        (field("tasks"), ID, [ID]),
        *((field(kind), nothing, None) for kind in ("text", "number", "tasks") for nothing in (None, "  ", [])),
    ],
)
def test_a_value_of_an_own_field_is_read(own: CustomField, typed: Any, kept: Any) -> None:
    assert read_value(own, typed, TODAY) == kept


@pytest.mark.parametrize(
    ("own", "typed", "says"),
    [
        (field(), ["a"], "holds a text"),
        (field(), "x" * 2001, "2000 characters at most"),
        (field(), "x" * 10_001, "too long for Area"),
        (field(), {"a": 1}, "nothing that it holds"),
        (field("number"), "many", "is no number"),
        (field("number"), True, "as a number"),
        (field("number"), "NaN", "too large"),
        (field("number"), "1e99", "too large"),
        (field("number"), "1" * 61, "as a number"),
        (field("date"), "1066-10-14", "from 1970 to 2200"),
        (field("date"), [1], "Write a date"),
        (field("yes_no"), "perhaps", "yes or no"),
        (field("person"), "Ines", "Choose one"),
        (field("choice", options=(Option("o", "Float"),)), "Drawn", "not in the list of Area. Choose Float."),
        (field("link"), "javascript:alert(1)", "begin it with https"),
        (field("link"), "not an address", "as an address"),
        (field("tasks"), ["x"], "holds tasks"),
        (field("computed", formula="1"), 3, "is computed"),
    ],
)
def test_a_value_that_an_own_field_cannot_hold_is_refused_at_it(own: CustomField, typed: Any, says: str) -> None:
    with pytest.raises(RuleError, match=says) as refused:
        read_value(own, typed, TODAY)
    assert refused.value.field == own.key


@pytest.mark.parametrize(
    ("own", "typed", "says"),
    [
        (field("number"), "2.5", "Area: 2.5 is kept as 3."),
        (field("number", decimals=1), "2.55", "Area: 2.55 is kept as 2.6."),
        (field("number"), "2", None),
        (field("number"), "2.0", None),
        (field("number"), "", None),
        (field("text"), "2.5", None),
    ],
)
def test_a_number_that_is_rounded_says_so(own: CustomField, typed: Any, says: str | None) -> None:
    assert say_rounding(own, typed) == says


@pytest.mark.parametrize(
    ("one", "says"),
    [
        (field(name=""), "A field needs a name"),
        (field(name="x" * 61), "60 characters at most"),
        (field(name="GLASS"), "There is a field called GLASS already"),
        (field(name="owner"), "There is a field called owner already"),
        (field(name="2nd"), "begins with a letter"),
        (field("colour"), "Choose a type"),
        (field("number", decimals=7), "from 0 to 6"),
        (field("choice"), "at least one entry"),
        (field("choice", options=(Option("a", "Float"), Option("b", "float"))), "names that differ"),
        (field("choice", options=(Option("a", ""),)), "names that differ"),
        (field(required_from="gone"), "no longer in the workflow"),
        (field("computed", formula="1", default=3), "needs no default"),
        (field("number", default="many"), "is no number"),
        (CustomKind("k", "", "A"), "A kind needs a name"),
        (CustomKind("k", "Pane", "A", shape="heart"), "Choose a shape"),
        (CustomKind("k", "Pane", "A", states=("gone",)), "no longer in the workflow"),
        (ProjectMark("m", "Ask", "A", colour="pink"), "Choose a colour"),
    ],
)
def test_what_cannot_be_defined_is_refused_with_its_reason(one: Definition, says: str) -> None:
    with pytest.raises(RuleError, match=says):
        check_definition(one, [replace(one, id="other", name="Glass")], PROJECT, ["owner"])


def test_a_project_has_a_hundred_of_a_sort_at_most() -> None:
    others = [ProjectMark(f"m{number}", f"Mark {number}", "A") for number in range(100)]
    check_definition(ProjectMark("m", "Ask", "A"), others[:99], PROJECT, [])
    with pytest.raises(RuleError, match="100 marks at most"):
        check_definition(ProjectMark("m", "Ask", "A"), others, PROJECT, [])


REQUIRING = replace(PROJECT, fields=(
    field(required_from="review", kinds=("task",)), CustomField("g", "Firm", "text", "B", required_from="doing", default="Ossory"),
))  # fmt: skip


@pytest.mark.parametrize(
    ("state", "kind", "own", "lacking"),
    [
        ("ready", "task", {}, []),
        ("doing", "task", {}, ["Firm"]),
        ("review", "task", {}, ["Area", "Firm"]),
        ("done", "task", {"f": "3"}, ["Firm"]),
        ("review", "defect", {}, ["Firm"]),  # a defect has no area
        ("dropped", "task", {}, []),
    ],
)
def test_what_a_state_requires(state: str, kind: str, own: dict[str, Any], lacking: list[str]) -> None:
    one = task("a", kind=kind, own=own, state_id=state)
    assert [each.name for each in missing(one, state, REQUIRING)] == lacking
    assert defaults(REQUIRING, kind) == {"own.g": "Ossory"}


def test_what_lacked_before_is_no_fault_of_a_change_but_what_it_takes_away_is() -> None:
    before = task("a", own={"g": "Ossory"}, state_id="review")
    check_required(before.with_fields({"title": "b"}), before, REQUIRING)
    with pytest.raises(RuleError, match="Fill in Firm first: “a” needs it in In review"):
        check_required(before.with_fields({"own.g": None}), before, REQUIRING)
    with pytest.raises(RuleError, match="Fill in Area, Firm first: “a” needs them"):
        check_required(task("a", state_id="review"), task("a"), REQUIRING)


@pytest.mark.parametrize(
    ("name", "state_class", "limit", "says"),
    [
        ("", "queued", None, "a name of at most 60"),
        ("x" * 61, "queued", None, "a name of at most 60"),
        (" under  WAY ", "queued", None, "called under WAY already"),
        ("Cut", "open", None, "one of these classes"),
        ("Cut", "queued", 0, "one or more"),
    ],
)
def test_a_state_that_cannot_be(name: str, state_class: str, limit: int | None, says: str) -> None:
    with pytest.raises(RuleError, match=says):
        check_state(STATES, name, state_class, limit)


def test_a_state_keeps_its_own_name_and_a_workflow_what_it_needs() -> None:
    assert check_state(STATES, "  Under   way ", "active", 3, "doing") == "Under way"
    check_classes(STATES)
    for needed in ("queued", "active", "finished"):
        with pytest.raises(RuleError, match=f"at least one {needed} state"):
            check_classes([one for one in STATES if one.state_class != needed])
    check_classes([State("a", "A", "queued", "A"), State("b", "B", "active", "B"), State("c", "C", "finished", "C")])


def test_tasks_in_a_row_wait_for_one_another_beside_what_they_wait_for() -> None:
    made = plan(task("a"), task("b"), task("b1", "b"), task("c", waits_for=(Link("x"),)), task("d", waits_for=(Link("c"),)))
    assert in_a_row(made, {"a", "b", "b1", "c", "d"}) == {"b1": (Link("a"),), "c": (Link("x"), Link("b1"))}
    for too_few in ({"a"}, {"a", "b"}, set()):
        with pytest.raises(RuleError, match="two or more"):
            in_a_row(made, too_few)


def test_a_line_to_tick_and_a_name_are_one_line_each() -> None:
    assert clean_item("  measure \n twice ") == "measure twice"
    assert clean_name(" North\tlight ", "checklist") == "North light"
    for wrong in ("", " \n", "x" * 501):
        with pytest.raises(RuleError):
            clean_item(wrong)
    with pytest.raises(RuleError, match="A checklist needs a name"):
        clean_name(" ", "checklist")


def test_a_person_gives_each_sign_once_and_takes_back_their_own() -> None:
    reactions = with_reaction({}, "agree", "ana", True)
    reactions = with_reaction(with_reaction(reactions, "agree", "ben", True), "agree", "ana", True)
    assert reactions == {"agree": ["ben", "ana"]}
    assert with_reaction(with_reaction(reactions, "agree", "ana", False), "agree", "ben", False) == {}
    with pytest.raises(RuleError, match="one of these reactions"):
        with_reaction({}, "applause", "ana", True)


@pytest.mark.parametrize(
    ("what", "role", "allowed"),
    [
        (("comment", "created", "ana", "ana", "ana"), "commenter", True),
        (("comment", "created", "ana", "ana", "ben"), "contributor", False),
        (("comment", "created", "ana", "ana", "ben"), "lead", True),
        (("comment", "body", "ana", "ana", "ana"), "commenter", True),
        (("comment", "body", "ana", "ana", "ben"), "lead", False),
        (("comment", "reactions", "ana", "ben", "ben"), "commenter", True),
        (("comment", "reactions", "ana", "ben", "ana"), "lead", False),
        (("comment", "resolved_at", "ana", "ben", "cal"), "commenter", True),
        (("comment", "resolved_at", "ana", "ben", "cal"), "viewer", False),
        (("file", "created", "ana", "ana", "ana"), "commenter", True),
        (("file", "deleted_at", "ana", "ben", "ben"), "contributor", False),
        (("checklist", "created", None, "ana", "ben"), "contributor", True),
        (("check", "done_at", None, "ana", "ana"), "commenter", False),
        (("relation", "created", None, "ana", "ana"), None, False),
    ],
)
def test_people_take_back_what_they_might_do_themselves(what: tuple[Any, ...], role: str | None, allowed: bool) -> None:
    assert may_take_back(*what, role) is allowed


def test_preferences_change_one_by_one() -> None:
    after = with_changes(Preferences(), {"ripple_days": 2.5, "mail": {"given": "none"}})
    assert (after.ripple_days, after.longest_days) == (2.5, 20)
    assert after.mail == {"named": "at_once", "given": "none"}


@pytest.mark.parametrize(
    ("changes", "says"),
    [
        ({"colour": 1}, "no preference called colour"),
        ({"ripple_days": -1}, "working days from 0 to 1000"),
        ({"ripple_days": "two"}, "working days from 0 to 1000"),
        ({"ripple_days": float("nan")}, "working days from 0 to 1000"),
        ({"longest_days": 0}, "working days from 0.5"),
        ({"digest_hour": 24}, "an hour from 0 to 23"),
        ({"mail": "daily"}, "for each kind of notice"),
        ({"mail": {"weather": "daily"}}, "for each kind of notice"),
        ({"mail": {"named": "hourly"}}, "for each kind of notice"),
    ],
)
def test_preferences_that_cannot_be(changes: dict[str, Any], says: str) -> None:
    with pytest.raises(RuleError, match=says):
        with_changes(Preferences(), changes)
