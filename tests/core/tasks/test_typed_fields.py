"""What people type into the fields of a task, and what cannot be: tables of cases for every field."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, date, datetime
from typing import Any

import pytest

from rhodonite.core.common.bounds import LONGEST_DURATION, MOST_LINKS_OF_A_TASK
from rhodonite.core.common.errors import RuleError
from rhodonite.core.schedule.plan import Plan
from rhodonite.core.tasks.custom_fields import CustomField
from rhodonite.core.tasks.model import Link
from rhodonite.core.tasks.typed_fields import read_fields

from ..make import DAY, NOW, OFFICE, PROJECT, at, task

ANA, DIG, POUR, CURE = (f"0190c0de-0000-7000-8000-00000000000{number}" for number in range(1, 5))
NAMED = replace(PROJECT, fields=(CustomField(ANA, "Panes", "tasks", "A"), CustomField(DIG, "Area", "number", "B")))
PLAN = Plan(NAMED, OFFICE, [task(DIG, number=12, title="Dig"), task(POUR, number=13, title="Pour")], NOW)


def read(name: str, value: Any, task_id: str | None = POUR) -> Any:
    return read_fields({name: value}, PLAN, NOW, PLAN.tasks[task_id] if task_id else None)[name]


@pytest.mark.parametrize(
    ("name", "typed", "wanted"),
    [
        ("title", "Cut glass", "Cut glass"),
        ("title", "", ""),  # that it needs one is a rule of tasks, said there
        ("owner_id", ANA.upper(), ANA),
        ("owner_id", "", None),
        ("helpers", [ANA, ANA.upper()], (ANA,)),
        ("helpers", None, ()),
        ("held_reason", "", ""),
        ("priority", "  ", None),
        ("start", "fri", date(2027, 3, 19)),
        ("start", "2027-03-19T14:30", at("3-19 14:30")),
        ("start", None, None),
        ("finish", "next mon", date(2027, 3, 22)),
        ("push_to", "2027-03-19T14:30", date(2027, 3, 19)),
        ("actual_start", datetime(2027, 3, 16, 9, 15, 42), at("3-16 09:15")),
        ("duration", 450, 450),
        ("duration", "2 d", 2 * DAY),
        ("duration", "90 min", 90),
        ("effort", "3", 180),  # a bare number is hours
        ("effort", "2 d", 2 * DAY),
        ("effort", 45.0, 45),
        ("percent", "40 %", 40),
        ("percent", None, 0),
        ("elapsed", True, True),
        ("waits_for", "12 + 2 d", (Link(DIG, "FS", 2 * DAY),)),
        ("waits_for", "", ()),
        ("waits_for", [{"from_id": DIG, "type": "SS", "lag": 30}, {"from_id": DIG, "type": "SS", "lag": 60}], (Link(DIG, "SS", 60),)),
        ("held_by_id", DIG, DIG),
        (f"own.{ANA}", [DIG], [DIG]),
        (f"own.{DIG}", "12", 12),
        (f"own.{DIG}", "", None),
    ],
)  # fmt: skip
def test_a_value_is_read(name: str, typed: Any, wanted: Any) -> None:
    assert read(name, typed) == wanted


def test_a_duration_in_words_says_whether_it_elapses() -> None:
    assert read_fields({"duration": "3 elapsed days"}, PLAN, NOW) == {"duration": 3 * 24 * 60, "elapsed": True}
    assert read_fields({"duration": "3 d"}, PLAN, NOW) == {"duration": 3 * DAY, "elapsed": False}
    assert read_fields({"duration": 60}, PLAN, NOW) == {"duration": 60}


@pytest.mark.parametrize(
    ("name", "typed", "says"),
    [
        ("title", 3, "Send a text."),
        ("owner_id", "Ana", "the id of one that there is"),
        ("state_id", None, "A task stands in a state"),
        ("state_id", "", "A task stands in a state"),
        ("helpers", ANA, "a list of ids"),
        ("helpers", ["x"], "a list of ids"),
        ("helpers", [ANA] * 501, "500 are the most"),
        ("start", 20270319, "a date as text"),
        ("start", "someday soon", "someday soon"),
        ("start", "1" * 501, "too long for a date"),
        ("start", "1969-12-31", "from 1970 to 2200"),
        ("deadline", date(2201, 1, 1), "from 1970 to 2200"),
        ("deadline", datetime(2027, 3, 19, tzinfo=UTC), "leave the time zone out"),
        ("duration", True, "minutes as a whole number"),
        ("duration", float("nan"), "minutes as a whole number"),
        ("duration", float("inf"), "minutes as a whole number"),
        ("duration", 1.5, "whole minutes"),
        ("duration", LONGEST_DURATION + 1, "longer than a plan can hold"),
        ("duration", "9" * 501, "too long for a duration"),
        ("duration", "99999999 w", "longer than a plan can hold"),
        ("effort", 60_000_001, "A million hours"),
        ("percent", True, "a number from 0 to 100"),
        ("percent", "forty", "a number from 0 to 100"),
        ("percent", "9" * 30, "a number from 0 to 100"),
        ("elapsed", 1, "Say true"),
        ("push_to", "", "which day"),
        ("stretch_to", None, "which day"),
        ("repeats", 7, "Say how it repeats"),
        ("repeats", {"words": "weekly", "ahead": "3"}, "Say “ahead” as a whole number"),
        ("repeats", {"words": "now and then"}, "now and then"),
        ("waits_for", 12, "links as a list"),
        ("waits_for", "1" * 5001, "5000 characters at most"),
        ("waits_for", [{"from_id": POUR}], "cannot wait for itself"),
        ("waits_for", [{"from_id": CURE}], "The task to wait for is gone"),
        ("waits_for", [{"from_id": DIG, "type": "XX"}], "FS, SS, FF or SF"),
        ("waits_for", [{"from_id": DIG, "lag": 0.5}], "whole minutes"),
        ("waits_for", [{"from_id": DIG, "lag": True}], "whole minutes"),
        ("waits_for", [{"from_id": DIG, "lag": LONGEST_DURATION + 1}], "longer than a plan can hold"),
        ("waits_for", ["12"], "A link needs from_id"),
        ("waits_for", [{}] * (MOST_LINKS_OF_A_TASK + 1), "Put a milestone between"),
        ("held_by_id", CURE, "The task that holds it is gone"),
        (f"own.{ANA}", [CURE], "1 of these tasks are gone"),
        (f"own.{CURE}", "x", "not in the project any more"),
        (f"own.{DIG}", "many", "is no number"),
        ("colour", "red", "no field called colour"),
        ("project_id", ANA, "no field called project_id"),
    ],
)
def test_what_cannot_be_is_refused_at_its_field(name: str, typed: Any, says: str) -> None:
    with pytest.raises(RuleError, match=says) as refused:
        read(name, typed)
    assert refused.value.field == name


def test_dates_count_from_the_calendar_of_the_task() -> None:
    long_days = replace(NAMED, calendars={ANA: OFFICE})
    made = Plan(long_days, OFFICE, [task(DIG)], NOW)
    assert read_fields({"calendar_id": ANA, "duration": "1 d"}, made, NOW)["duration"] == OFFICE.day_minutes
    assert read_fields({"calendar_id": "", "duration": "1 d"}, made, NOW)["calendar_id"] is None
