"""What is said of slack and of dates that are missed."""

from __future__ import annotations

from typing import Any

import pytest

from rhodonite.core.overview.readings import conflict_sentences, slack_sentence
from rhodonite.core.schedule.plan import Plan
from rhodonite.core.tasks.model import Link

from ..make import DAY, at, days, plan, task
from ..schedule.test_replan import settled


def chain(**fields: Any) -> Plan:
    """Dig, three days, and Pour, one, which waits for it; beside them Paint, one day."""
    return settled(
        plan(
            task("dig", **days("3-17", 3)),
            task("pour", duration=DAY, waits_for=(Link("dig"),), **fields),
            task("paint", duration=DAY, constraint_type="alap"),
            task("late", duration=DAY, waits_for=(Link("pour"),)),
        ),
        {},
    )


@pytest.mark.parametrize(
    ("fields", "says"),
    [
        ({"constraint_type": "start_no_later", "constraint_at": at("3-19 09:00")}, "It starts 1 d later than 19 Mar, the latest start that was set."),
        ({"constraint_type": "finish_no_later", "constraint_at": at("3-19 17:30")}, "It finishes 1 d later than 19 Mar, the latest finish that was set."),
        ({"deadline": at("3-19 17:30")}, "It finishes 1 d after its deadline."),
    ],
)  # fmt: skip
def test_a_date_that_is_missed_is_named(fields: dict[str, Any], says: str) -> None:
    made = chain(**fields)
    assert conflict_sentences(made, "pour") == [says]
    assert slack_sentence(made, made.rows["pour"]) == "1 d later than its own dates allow"
    assert slack_sentence(made, made.rows["dig"]) == "1 d too late for what must follow"


def test_what_stands_as_late_as_possible_cannot_slip() -> None:
    made = chain()
    assert slack_sentence(made, made.rows["paint"]) == "stands as late as possible: it could begin 4 d sooner, and no later"
    assert slack_sentence(made, made.rows["pour"]) == "no slack: a delay moves the finish of the project"
