"""The work that sentences leave, plan by plan. What was counted is kept with the plan, so that a change counts anew one project alone."""

from __future__ import annotations

from collections.abc import Callable, Collection, Hashable, Sequence
from dataclasses import dataclass, field
from datetime import date
from typing import Any, TypeVar

from pymysql.cursors import Cursor

from ...core.common.errors import RuleError
from ...core.people.viewer import Viewer
from ...core.reports.over_time import ClassHistory, StateChange, histories
from ...core.schedule.plan import Row
from ...core.tasks.model import Project
from ...core.views.all_projects import Across, Shared, projects_asked
from ...core.views.catalogue import Catalogue
from ...core.views.scope import Scope, joined, within_columns
from ...store.common import journal as journal_rows
from ...store.common.database import from_json
from ...store.people import people as people_rows
from ...store.people import teams as team_rows
from ..common.context import Actor
from ..common.plan_cache import PLANS, CachedPlan
from ..people.people import list_people
from ..people.teams import viewer_of
from ..tasks.projects import visible_projects

Counted = TypeVar("Counted")


Made = TypeVar("Made")


@dataclass(frozen=True, slots=True)
class Sentence:
    """That of a dashboard, and that of a panel within it."""

    ground: Scope = field(default_factory=Scope)
    own: Scope = field(default_factory=Scope)

    @property
    def whole(self) -> Scope:
        """Both in one."""
        return joined(self.ground, self.own)


@dataclass(frozen=True, slots=True)
class Reader:
    """Whoever reads, and what that leaves them.

    Attributes:
        projects: that they may see, in order of code, with their role in each.
        people, teams: names by id.
        known: the people of whom they may know, whether they hold work or not.
        held: the plans that were taken in hand, by project; ``_shared``, ``_columns``: what was made of them.
    """

    cur: Cursor
    actor: Actor
    viewer: Viewer
    projects: tuple[tuple[Project, str], ...]
    people: dict[str, str]
    teams: dict[str, str]
    known: frozenset[str]
    held: dict[str, CachedPlan] = field(default_factory=dict)
    _shared: dict[str, Shared] = field(default_factory=dict)
    _columns: dict[tuple[str, ...], Across] = field(default_factory=dict)
    _made: dict[Hashable, Any] = field(default_factory=dict)

    def once(self, key: Hashable, make: Callable[[], Made]) -> Made:
        """What several panels of a dashboard show alike, made once.

        Args:
            key: says what is made; with whatever it depends on besides the reader.
        """
        if key not in self._made:
            self._made[key] = make()
        found: Made = self._made[key]
        return found

    @property
    def today(self) -> date:
        """By the clock."""
        return self.actor.clock.now().date()

    def asked(self, sentence: Sentence) -> list[Project]:
        """The projects in which a sentence can find something."""
        found = [project for project, _ in self.projects]
        for scope in (sentence.ground, sentence.own):
            named = projects_asked(scope)
            if named is not None:
                found = [one for one in found if one.id in named]
        return found

    def plan(self, project: Project) -> CachedPlan:
        """The plan of a project, the same whenever it is asked for."""
        if project.id not in self.held:
            self.held[project.id] = PLANS.at(self.cur, project, self.actor.clock.now())
        return self.held[project.id]

    def shared(self, held: CachedPlan) -> Shared:
        """The columns of a plan, as they are shared with other projects. None of them tells money."""
        project_id = held.plan.project.id
        if project_id not in self._shared:
            self._shared[project_id] = Shared(Catalogue(held.plan, self.people, self.teams))
        return self._shared[project_id]

    def columns(self, projects: Collection[Project]) -> Across:
        """The columns of some projects together, with the names of all of their values."""
        key = tuple(one.id for one in projects)
        if key not in self._columns:
            across = self._columns[key] = Across(self.people, self.teams, self.today)
            for project in projects:
                across.add(self.shared(self.plan(project)), (), ())
        return self._columns[key]

    def who(self, sentence: Sentence) -> Hashable:
        """What of the reader a sentence depends on."""
        if not (sentence.ground.names_people or sentence.own.names_people):
            return None
        return self.viewer.id, tuple(sorted((team, people) for team, people in self.viewer.teams.items()))

    def rows(self, held: CachedPlan, sentence: Sentence) -> Sequence[Row]:
        """The tasks of a plan that a sentence leaves; summary tasks are left out.

        Raises:
            RuleError: a clause names a field that the project has not.
        """
        who, outer, inner = self.who(sentence), repr(sentence.ground), repr(sentence.own)

        def within(scope: Scope, rows: Sequence[Row]) -> Sequence[Row]:
            if scope.is_everything:
                return rows
            test = within_columns(scope, self.shared(held) if scope.where.parts else None, self.viewer)
            return [row for row in rows if test(row)]

        def base() -> Sequence[Row]:
            return held.answers.once(("work", outer, who), lambda: within(sentence.ground, held.plan.leaves()))

        return held.answers.once(("work", outer, inner, who), lambda: within(sentence.own, base()))

    def count(self, sentence: Sentence, asked: Hashable, make: Callable[[CachedPlan, Sequence[Row]], Counted]) -> list[Counted]:
        """What is made of the work that a sentence leaves, of each plan.

        Args:
            asked: all that it depends on besides the sentence and the reader.

        Raises:
            RuleError: none of the projects has the fields that are asked for.
        """
        found: list[Counted] = []
        unclear: RuleError | None = None
        key = (repr(sentence.ground), repr(sentence.own), self.who(sentence), asked)
        for project in self.asked(sentence):
            held = self.plan(project)
            try:
                found.append(held.answers.once(("counted", key), lambda held=held: make(held, self.rows(held, sentence))))  # type: ignore[misc]
            except RuleError as error:
                unclear = error
        if unclear is not None and not found:
            raise unclear
        return found

    def history(self, held: CachedPlan) -> dict[str, ClassHistory]:
        """When each task of a plan came into being, and in which classes it stood."""
        return held.answers.once(("history",), lambda: self._history(held))

    def _history(self, held: CachedPlan) -> dict[str, ClassHistory]:
        plan, local = held.plan, self.actor.clock.local
        changes = (
            StateChange(
                task, local(at), None if name == "created" else from_json(new), None if name == "created" else from_json(old)
            )
            for task, at, name, old, new in journal_rows.state_history(self.cur, plan.project.id)
        )
        classes = {state.id: state.state_class for state in plan.project.states}
        return histories(changes, classes, {row.task.id: row.state_class for row in plan.leaves()})


def reader_of(cur: Cursor, actor: Actor, project: Project | None = None) -> Reader:
    """Whoever reads.

    Args:
        project: whose work alone is asked for, and which they may see; it may be archived.
    """
    projects = visible_projects(cur, actor)
    if project is not None and project.archived_at is not None:
        projects += [one for one in visible_projects(cur, actor, archived=True) if one[0].id == project.id]
    people = {one.id: one.name for one in people_rows.all_people(cur)}
    return Reader(
        cur,
        actor,
        viewer_of(cur, actor),
        tuple(sorted(projects, key=lambda one: one[0].code)),
        people,
        {one.id: one.name for one in team_rows.all_teams(cur)},
        frozenset(one.id for one in list_people(cur, actor)),
    )
