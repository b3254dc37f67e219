"""Dashboards: where panels stand, whose they are, what may stand on them; the one sentence that two sentences make."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from decimal import Decimal
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rhodonite.core.common.errors import RuleError
from rhodonite.core.overview.progress import HowFar, how_far
from rhodonite.core.people.model import Person
from rhodonite.core.people.viewer import Viewer
from rhodonite.core.reports.answers import figure, say_amount, table_of
from rhodonite.core.reports.charts import Tally
from rhodonite.core.reports.dashboards import COLUMNS, Dashboard, Options, Panel, check_panel, may_change, may_read, placed
from rhodonite.core.tasks.rollup import leaf_sums, total
from rhodonite.core.views.conditions import Clause, Group
from rhodonite.core.views.scope import Scope, joined, select

from ..make import DAY, NOW, days, plan, task

ME = Person("me", "Ines", "i@corvane.example", "member", "", 1, True)


def panel(**more: Any) -> Panel:
    return Panel("a", "d", more.pop("kind", "figure"), "", "a", more.pop("width", 4), more.pop("height", 4), **more)


@given(st.lists(st.tuples(st.integers(2, COLUMNS), st.integers(2, 8)), max_size=15))
def test_panels_stand_beside_and_under_each_other_and_never_on_one_another(sizes: list[tuple[int, int]]) -> None:
    found = placed([replace(panel(width=width, height=height), id=str(n)) for n, (width, height) in enumerate(sizes)])
    cells = [(column, row) for one, x, y in found for column in range(x, x + one.width) for row in range(y, y + one.height)]
    assert len(cells) == len(set(cells))
    assert all(0 <= column < COLUMNS for column, _ in cells)
    order = [(y, x) for _, x, y in found]
    assert order == sorted(order)


CLASSES = ["queued", "active", "finished", "dropped"]
sentences = st.builds(
    Scope,
    owners=st.lists(st.sampled_from(["t", "y", "nobody", "me", "crew"]), max_size=2, unique=True).map(tuple),
    kinds=st.lists(st.sampled_from(["task", "milestone"]), max_size=2, unique=True).map(tuple),
    classes=st.lists(st.sampled_from(CLASSES), max_size=3, unique=True).map(tuple),
    text=st.sampled_from(["", "pane", "set"]),
    since=st.none() | st.sampled_from([date(2027, 3, 9), date(2027, 3, 12)]),
    until=st.none() | st.sampled_from([date(2027, 3, 10), date(2027, 3, 15)]),
    late=st.booleans(),
    unowned=st.booleans(),
    where=st.sampled_from([
        Group(), Group("all", (Clause("effort", "filled"),)),
        Group("any", (Clause("effort", "least", 2), Clause("owner", "empty"))),
    ]),
)  # fmt: skip
MADE = plan(
    task("a", title="set pane", owner_id="t", effort=60, **days("3-08", 2)),
    task("b", title="pane", owner_id="y", effort=180, state_id="doing", **days("3-10", 3)),
    task("c", title="set", state_id="done", **days("3-11", 1)),
    task("d", title="signed", kind="milestone", owner_id="me"),
    task("e", title="set the pane", **days("3-15", 4)),
)
VIEWER = Viewer("me", {"crew": frozenset({"t", "me"})})


@given(sentences, sentences)
def test_two_sentences_in_one_leave_what_both_leave(one: Scope, other: Scope) -> None:
    both = set(select(MADE, one, VIEWER).ids) & set(select(MADE, other, VIEWER).ids)
    assert set(select(MADE, joined(one, other), VIEWER).ids) == both


def test_who_sees_and_changes_a_dashboard() -> None:
    own = Dashboard("d", None, "me", "Round", "a", "private", ())
    theirs = replace(own, person_id="other")
    assert may_read(own, ME)
    assert not may_read(theirs, ME)
    assert may_read(replace(theirs, seen_by="people", people=("me",)), ME)
    assert not may_read(replace(theirs, people=("me",)), ME)  # who was named once, and is not any more
    everybodys = replace(theirs, seen_by="everyone")
    guest = replace(ME, role="guest")
    assert not may_read(everybodys, guest)
    assert may_read(replace(everybodys, project_id="p"), guest)
    assert may_read(replace(theirs, seen_by="people", people=("me",)), guest)
    assert may_read(everybodys, ME)
    assert not may_change(everybodys, ME, leads=False)
    assert may_change(everybodys, replace(ME, role="administrator"), leads=False)
    assert may_change(replace(everybodys, project_id="p"), ME, leads=True)
    assert not may_change(replace(theirs, project_id="p"), ME, leads=True)


@pytest.mark.parametrize(
    ("wrong", "words"),
    [
        ({"width": 1}, "2 to 12 columns"),
        ({"height": 25}, "2 to 24 rows"),
        ({"scope": Scope(states=("ready",))}, "States are those of one project"),
        ({"scope": Scope(where=Group("all", tuple(Clause("late", "yes") for _ in range(26))))}, "25 clauses"),
        ({"kind": "figure", "options": Options(measure="mean")}, "Choose the number"),
    ],
)
def test_a_panel_that_cannot_be(wrong: dict[str, Any], words: str) -> None:
    with pytest.raises(RuleError, match=words):
        check_panel(panel(**wrong))


def test_a_figure_says_how_it_stands_against_its_target_and_before() -> None:
    least = Options(target=Decimal(8))
    found = figure(Tally(6), least, None, [(date(2027, 3, 7), Decimal(2))])
    assert (found.said, found.percent, found.met, found.change) == ("6", 75, False, "4 more than on 7 Mar")
    assert figure(Tally(6), replace(least, better="down"), None).met
    assert table_of(found) == (["Day", "Tasks"], [["7 Mar", "2"], ["today", "6"]])
    assert (say_amount(Decimal("1240.50"), "h"), say_amount(Decimal(40), "%")) == ("1,240.5 h", "40 %")


def test_how_far_is_what_summary_tasks_say_and_what_the_dates_say() -> None:
    made = plan(
        task("a", percent=100, state_id="done", **days("3-08", 2)),
        task("b", percent=50, state_id="doing", **days("3-15", 4)),
        task("c", state_id="dropped", **days("3-08", 9)),
        task("m", kind="milestone"),
    )
    far = how_far(made.leaves(), made)
    sums = total(leaf_sums(row.task, row.state_class, NOW, DAY) for row in made.leaves())
    assert (far.percent, far.tasks, far.finished) == (sums.percent, sums.tasks, sums.finished) == (66, 3, 1)
    # of six days two are past, and of four half a day less than two and a half
    passed = made.calendar.minutes_between(made.rows["b"].start, NOW)  # type: ignore[arg-type]
    assert far.planned == (100 * 2 * DAY + 4 * DAY * (100 * passed // (4 * DAY))) // (6 * DAY)
    twice = HowFar()
    twice.add(far)
    twice.add(far)
    assert (twice.percent, twice.planned, twice.tasks) == (far.percent, far.planned, 6)
