"""What a status report proposes: worked examples of each indicator, and the laws that hold of all reports."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, datetime, timedelta
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rhodonite.core.common.errors import RuleError
from rhodonite.core.cost.budgets import Standing
from rhodonite.core.overview.progress import Point
from rhodonite.core.reports.drafting import SCOPE_STEADY, SCOPE_STRAINED, TIME_STRAINED, draft_report
from rhodonite.core.reports.model import (
    INDICATORS,
    SECTIONS,
    Draft,
    ReportSettings,
    StatusReport,
    Told,
    check_texts,
    judged,
    next_report,
)
from rhodonite.core.schedule.agreed import AgreedTask
from rhodonite.core.schedule.plan import Plan
from rhodonite.core.tasks.model import Task

from ..make import NOW, OFFICE, PROJECT, at, days, task

TODAY = NOW.date()
RANK = {"not_judged": 0, "steady": 1, "strained": 2, "slipping": 3}


def made(*tasks: Task, agreed: dict[str, AgreedTask] | None = None) -> Plan:
    return Plan(PROJECT, OFFICE, tasks, NOW, agreed=agreed or {})


def promised(*tasks: Task) -> dict[str, AgreedTask]:
    return {one.id: AgreedTask(one.start, one.finish, one.duration, None) for one in tasks}


def drafted(
    plan: Plan, before: StatusReport | None = None, forecast: int = 0, cost: Standing | None = None, **more: Any
) -> Draft:
    return draft_report(plan, more.get("curve", []), {"ines": "Ines O."}, before, forecast, cost, "It costs **400.00 EUR**.",
                        tuple(SECTIONS), tuple(INDICATORS))  # fmt: skip


def told_on(day: date, finish: date | None = None) -> StatusReport:
    return StatusReport("r", "p", 1, "ines", datetime(2027, 1, 1), day, day, Told(finish=finish), {}, {})


@pytest.mark.parametrize(
    ("tasks", "forecast", "health", "why"),
    [
        ((task("a"),), 0, "not_judged", "no dates yet"),
        ((task("a", **days("3-18", 2)),), 0, "steady", "as planned"),
        ((task("a", **days("3-18", 2)),), 3, "strained", "3 days later, by what is done so far"),
        ((task("a", **days("3-08", 2)),), 0, "slipping", "the planned finish is past"),
        ((task("a", **days("3-08", 2)), task("b", **days("3-18", 2))), 0, "strained", "1 task late"),
        ((task("a", state_id="done", **days("3-08", 2)),), 9, "steady", "all of it is finished"),
    ],
)  # fmt: skip
def test_time_without_an_agreed_plan(tasks: tuple[Task, ...], forecast: int, health: str, why: str) -> None:
    time = drafted(made(*tasks), forecast=forecast).indicators["time"]
    assert (time.proposed, time.why) == (health, why)


@pytest.mark.parametrize(
    ("past", "health"), [(0, "steady"), (1, "strained"), (TIME_STRAINED, "strained"), (TIME_STRAINED + 1, "slipping")]
)
def test_time_against_the_agreed_finish(past: int, health: str) -> None:
    agreed = promised(task("a", **days("3-18", 2)))
    time = drafted(made(task("a", **days("3-18", 2 + past)), agreed=agreed), forecast=50).indicators["time"]
    assert time.proposed == health  # the forecast counts only where nothing was agreed


@pytest.mark.parametrize(
    ("cost", "health"),
    [
        (Standing(None, None, None, None, ""), "not_judged"),
        (Standing(100, None, 10, 90, ""), "steady"),
        (Standing(100, None, 3, 97, "near"), "strained"),
        (Standing(100, None, -1, 101, "over"), "slipping"),
        (Standing(None, 100, 0, None, ""), "steady"),
        (Standing(None, 100, -1, None, ""), "slipping"),
    ],
)
def test_cost_by_the_budget_and_without_one_by_what_was_agreed(cost: Standing, health: str) -> None:
    assert drafted(made(task("a", **days("3-18", 2))), cost=cost).indicators["cost"].proposed == health


def test_who_may_not_see_costs_is_told_nothing_of_them() -> None:
    draft = drafted(made(task("a", **days("3-18", 2))))
    assert "cost" not in draft.indicators
    assert "cost" not in draft.sections
    seen = drafted(made(task("a", **days("3-18", 2))), cost=Standing(100, None, 10, 90, ""))
    assert seen.sections["cost"][0].text == "It costs 400.00 EUR."


@pytest.mark.parametrize(
    ("added", "dropped", "health"),
    [(0, 0, "steady"), (SCOPE_STEADY, 0, "steady"), (3, 3, "strained"), (0, SCOPE_STRAINED, "strained"), (8, 8, "slipping")],
)
def test_scope_by_how_much_of_a_hundred_was_added_or_dropped(added: int, dropped: int, health: str) -> None:
    old = [task(f"t{index:03}", **days("3-18", 1)) for index in range(100)]
    new = [task(f"n{index:03}", **days("3-18", 1)) for index in range(added)]
    now = [one.with_fields({"state_id": "dropped"}) if index < dropped else one for index, one in enumerate(old)]
    scope = drafted(made(*now, *new, agreed=promised(*old))).indicators["scope"]
    assert scope.proposed == health
    assert scope.why == (
        "as agreed" if not added + dropped else " and ".join(
            words for words in (f"{added} added" if added else "", f"{dropped} dropped" if dropped else "") if words
        ) + " of 100 tasks"
    )  # fmt: skip


@given(
    past=st.integers(0, 30), forecast=st.integers(-3, 20), dropped=st.integers(0, 3),
    variance=st.one_of(st.none(), st.integers(-50, 50)),
)  # fmt: skip
def test_overall_is_the_worst_of_the_others(past: int, forecast: int, dropped: int, variance: int | None) -> None:
    old = [task(f"t{index}", **days("3-18", 2)) for index in range(4)]
    now = [
        one.with_fields({"state_id": "dropped"}) if index < dropped else task(one.id, **days("3-18", 2 + past))
        for index, one in enumerate(old)
    ]
    cost = Standing(None, 100, variance, None, "")
    indicators = dict(drafted(made(*now, agreed=promised(*old)), forecast=forecast, cost=cost).indicators)
    overall = indicators.pop("overall")
    assert RANK[overall.proposed] == max(RANK[one.proposed] for one in indicators.values())


@given(st.integers(-400, 3))
def test_a_report_never_begins_after_its_day_and_leaves_no_day_out(ago: int) -> None:
    before = told_on(TODAY + timedelta(days=min(ago, 0)))
    draft = drafted(made(task("a", **days("3-18", 2))), before)
    assert before.day <= draft.since <= draft.day == TODAY
    assert draft.since == before.day  # what was finished on it after the report is told now


def test_what_was_done_is_told_since_the_last_report_milestones_first() -> None:
    def finished(name: str, day: str, **fields: Any) -> Task:
        return task(name, state_id="done", actual_finish=at(f"{day} 12:00"), **days("3-08", 1), **fields)

    plan = made(finished("old", "3-10"), finished("big", "3-12", effort=900), finished("small", "3-12", effort=60),
                finished("gate", "3-15", kind="milestone"), task("open", owner_id="ines", **days("3-18", 2)))  # fmt: skip
    draft = drafted(plan, told_on(date(2027, 3, 11)))
    assert [one.text for one in draft.sections["done"]] == ["◆ gate.", "big.", "small."]
    assert [one.text for one in draft.sections["next"]] == ["open (Ines O., 19 Mar)."]
    assert drafted(plan).since == PROJECT.start_day


def test_the_finish_is_told_against_what_was_agreed_and_told() -> None:
    plan = made(task("a", **days("3-18", 3)), agreed=promised(task("a", **days("3-18", 2))))
    first = drafted(plan).sections["stands"][0]
    assert first.text == "The plan finishes on 22 Mar; agreed was 19 Mar."
    moved = drafted(plan, told_on(date(2027, 3, 10), date(2027, 3, 19))).sections["stands"][0]
    assert moved.text == "The finish has moved from 19 Mar to 22 Mar; agreed was 19 Mar."
    same = drafted(made(task("a", **days("3-18", 3))), told_on(date(2027, 3, 10), date(2027, 3, 22))).sections["stands"][0]
    assert same.text == "The plan finishes on 22 Mar, as last reported."


def test_done_against_plan_is_that_of_today() -> None:
    curve = [Point(date(2027, 3, 16), 20, 10), Point(TODAY, 34.6, 12), Point(date(2027, 3, 18), 80, None)]
    draft = drafted(made(task("a", **days("3-18", 2))), curve=curve)
    assert draft.told.planned == 35
    assert any("planned 35 %" in one.text for one in draft.sections["stands"])


def test_every_sentence_says_from_what_it_was_made() -> None:
    plan = made(
        task("late", owner_id="ines", **days("3-08", 2)), task("pushed", pushes=3, **days("3-22", 2)),
        task("risk", kind="risk", **days("3-08", 30)),
        task("done", state_id="done", actual_finish=at("3-16 12:00"), **days("3-08", 2)),
    )  # fmt: skip
    draft = drafted(plan, cost=Standing(100, None, 10, 90, ""))
    sentences = [one for some in draft.sections.values() for one in some]
    assert len(sentences) > 6
    assert all(one.sources for one in sentences)
    asked = [one.text for one in draft.sections["asked"]]
    assert asked[1] == "pushed was pushed 3 times: is it still wanted then?"


def test_who_judges_otherwise_gives_a_reason_which_stays_only_then() -> None:
    draft = drafted(made(task("a", **days("3-08", 2))))
    with pytest.raises(RuleError, match="Say why time is steady"):
        judged(draft, {"time": ("steady", " ")})
    kept = judged(draft, {"time": ("steady", " the sand came "), "scope": ("not_judged", "no matter")})
    assert (kept["time"].health, kept["time"].proposed, kept["time"].reason) == ("steady", "slipping", "the sand came")
    assert kept["scope"].reason == ""


def test_texts_keep_to_the_sections_of_the_reports() -> None:
    assert check_texts({"stands": " Well ", "cost": "dear"}, ("stands", "next")) == {"stands": "Well", "next": ""}
    with pytest.raises(RuleError):
        check_texts({"cost": "dear"}, ("stands",))


def test_when_the_next_report_is_due() -> None:
    weekly = ReportSettings(rhythm="weekly")
    assert next_report(PROJECT, weekly, None) == PROJECT.start_day + timedelta(days=7)
    assert next_report(PROJECT, weekly, date(2027, 3, 20)) == date(2027, 3, 27)
    assert next_report(PROJECT, ReportSettings(), None) is None
    assert next_report(replace(PROJECT, archived_at=NOW), weekly, None) is None
