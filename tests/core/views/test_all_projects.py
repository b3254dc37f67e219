"""Fields that several projects share, and who asks."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from decimal import Decimal
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rhodonite.core.common.errors import RuleError
from rhodonite.core.people.viewer import ME, MY_TEAM, NOBODY, Viewer
from rhodonite.core.schedule.plan import Plan, Row
from rhodonite.core.tasks.custom_fields import CustomField, CustomKind, Option, ProjectMark
from rhodonite.core.tasks.model import State
from rhodonite.core.views.all_projects import Across, Shared, keys_of, projects_asked
from rhodonite.core.views.catalogue import Catalogue
from rhodonite.core.views.conditions import holding, read_group, say_clause
from rhodonite.core.views.scope import Scope
from rhodonite.core.views.view import Shown, Sort, View, arrange
from tests.core.make import NOW, OFFICE, PROJECT, task

PEOPLE = {"ines": "Ines", "tomas": "Tomas"}
TODAY = date(2027, 3, 17)


def project(of: str, unit: str = "kg", **more: Any) -> Any:
    """A project whose own ids are its own, with names that others have too."""
    fields = (
        CustomField(f"{of}-weight", "Weight", "number", "a", unit=unit, decimals=1),
        CustomField(
            f"{of}-stone", "Stone", "choice", "b", options=(Option(f"{of}-lime", "Lime"), Option(f"{of}-slate", "Slate"))
        ),
    )
    states = [State(f"{of}-{one.id}", one.name, one.state_class, one.place) for one in PROJECT.states]
    marks = (ProjectMark(f"{of}-wet", "wet", "a"),)
    kinds = (CustomKind(f"{of}-story", "story", "a"),)
    return replace(
        PROJECT, id=of, code=of.upper(), name=of.title(), fields=fields, states=states, marks=marks, kinds=kinds, **more
    )


def made(of: str, weights: list[float | None], stone: str = "lime", **more: Any) -> Plan:
    """A plan with one task for each weight."""
    where = project(of, **more)
    first = where.states[0].id
    rows = []
    for n, weight in enumerate(weights):
        own: dict[str, Any] = {f"{of}-stone": f"{of}-{stone}"}
        if weight is not None:
            own[f"{of}-weight"] = weight
        rows.append(task(f"{of}{n}", title=f"{of} {n}", own=own, state_id=first, marks=(f"{of}-wet",)))
    return Plan(where, OFFICE, [row.with_fields({"project_id": of}) for row in rows], NOW)


def over(*plans: Plan, view: View | None = None) -> tuple[Across, list[Row]]:
    across = Across(PEOPLE, {"t": "Crew"}, TODAY)
    rows: list[Row] = []
    for one in plans:
        mine = [row for row, _, _ in one.ordered()]
        across.add(Shared(Catalogue(one, PEOPLE)), mine, keys_of(view or View()))
        rows += mine
    return across, rows


WEIGHT, STONE = "named.number.kg.weight", "named.one_of..stone"
weights = st.lists(st.one_of(st.none(), st.decimals(0, 1000, places=1).map(float)), min_size=1, max_size=6)


@given(weights, weights)
def test_a_sum_over_projects_is_the_sum_of_their_sums(first: list[float | None], second: list[float | None]) -> None:
    view = View(columns=(Shown(WEIGHT, foot="sum"),), groups=("project",), sorts=(Sort(WEIGHT),))
    across, rows = over(made("barge", first), made("lantern", second), view=view)
    found = arrange(rows, view, across, Viewer("ines"))
    assert found.groups is not None
    assert {one.names[0]: one.tasks for one in found.groups} == {"Barge": len(first), "Lantern": len(second)}
    assert sorted(one for group in found.groups for one in group.ids) == sorted(row.task.id for row in rows)
    filled = [Decimal(str(one)) for one in first + second if one is not None]
    assert found.feet[WEIGHT] == (f"{sum(filled):,.1f} kg" if filled else "")


@given(weights)
def test_over_one_project_a_view_says_what_the_project_says(one: list[float | None]) -> None:
    mine = made("barge", one)
    catalogue, rows = Catalogue(mine, PEOPLE), [row for row, _, _ in mine.ordered()]
    shared = Shared(catalogue)
    for key, column in shared.columns.items():
        if key in catalogue.columns:
            for row in rows:
                assert shared.say(key, column.value(row)) == catalogue.say(key, catalogue.column(key).value(row)), key


def test_names_are_one_where_ids_are_each_projects_own() -> None:
    view = View(groups=(STONE,), columns=(Shown("state"), Shown("marks")))
    across, rows = over(made("barge", [1]), made("lantern", [2]), made("mill", [3], "slate"), view=view)
    found = arrange(rows, view, across, Viewer("ines"))
    assert found.groups is not None
    assert [(one.names[0], one.tasks) for one in found.groups] == [("Lime", 2), ("Slate", 1)]
    assert len({across.column("state").value(row) for row in rows}) == 1
    assert {across.say("marks", across.column("marks").value(row)) for row in rows} == {"wet"}
    assert list(across.column("project").choices) == ["barge", "lantern", "mill"]


def test_a_field_of_another_unit_is_another_field() -> None:
    across, _ = over(made("barge", [1]), made("lantern", [2], unit="t"))
    assert {WEIGHT, "named.number.t.weight"} <= across.columns.keys()


def test_a_field_that_a_project_lacks_is_empty_there_and_one_that_none_has_is_refused() -> None:
    shared = Shared(Catalogue(made("barge", [1]), PEOPLE))
    (row,) = made("barge", [1]).rows.values()
    lacking = read_group({"all": [["named.text..berth", "empty"]]})
    assert holding(lacking, shared, Viewer("ines"))(row)
    assert not holding(read_group({"all": [["named.text..berth", "contains", "quay"]]}), shared, Viewer("ines"))(row)
    for key in ("own.gone", "named.colour..paint", "nothing"):
        with pytest.raises(RuleError, match="no such field in any project"):
            holding(read_group({"all": [[key, "filled"]]}), shared, Viewer("ines"))


@pytest.mark.parametrize(
    ("where", "asked"),
    [
        (None, None),
        ({"all": [["project", "any", ["barge"]]]}, {"barge"}),
        ({"all": [["project", "any", ["barge", "mill"]], ["project", "any", ["mill"]]]}, {"mill"}),
        ({"all": [["late", "yes"], ["project", "any", "mill"]]}, {"mill"}),
        ({"any": [["project", "any", ["barge"]]]}, {"barge"}),
        ({"any": [["project", "any", ["barge"]], ["late", "yes"]]}, None),
        ({"all": [{"any": [["project", "any", ["barge"]], ["late", "yes"]]}]}, None),
        ({"all": [["project", "none", ["barge"]]]}, None),
    ],
)
def test_only_a_clause_that_must_hold_says_which_projects_are_read(where: Any, asked: set[str] | None) -> None:
    assert projects_asked(Scope(where=read_group(where))) == asked


people = st.sampled_from(["ines", "tomas", "zoltan", "mila"])
teams = st.dictionaries(st.sampled_from(["glaziers", "masons", "divers"]), st.frozensets(people), max_size=3)


@given(people, teams)
def test_my_team_is_everybody_who_shares_one_with_me(me: str, of: dict[str, frozenset[str]]) -> None:
    viewer = Viewer(me, of)
    assert me in viewer.team
    for other in viewer.team - {me}:
        assert any({me, other} <= together for together in of.values())
    assert viewer.people([MY_TEAM]) == viewer.team
    assert viewer.people([ME, NOBODY]) == {me, NOBODY}
    for team, members in of.items():
        assert viewer.people([team]) == members
    assert viewer.people(["mila"]) == {"mila"}


def test_teams_are_said_by_name() -> None:
    across, _ = over(made("barge", [1]))
    (clause,) = read_group({"all": [["owner", "any", ["my_team", "t", "tomas", "gone"]]]}).clauses
    assert say_clause(clause, across) == "owner is my team, Crew, Tomas or gone"
