"""What the lenses show besides the rows themselves: the scope, the horizon, the brief, one task, what happened."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Hashable
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.errors import Missing
from ...core.cost.shown import Money
from ...core.overview.horizon import Horizon, horizon
from ...core.overview.progress import PercentChange, Point, done_against_plan
from ...core.overview.readings import forecast_finish, project_reading, task_reading
from ...core.people.viewer import Viewer
from ...core.resources.overload import Overload, say_overloads
from ...core.schedule.agreed import agreed_finish, variance, whole_days
from ...core.schedule.plan import Plan, Row
from ...core.talk.parts import RELATION_WORDS, Check, Checklist, Comment, File, Relation
from ...core.tasks.health import Worries, project_health
from ...core.tasks.lateness import due_within
from ...core.tasks.model import OPEN_CLASSES, Health, Project, Task
from ...core.tasks.rollup import Sums
from ...core.views.catalogue import Catalogue, pointing_in
from ...core.views.scope import Scope, Selection, select, within
from ...store.common import journal as journal_rows
from ...store.common.database import from_json
from ...store.people import people as people_rows
from ...store.resources import bookable as resource_rows
from ...store.talk import parts as part_rows
from ...store.tasks import projects as project_rows
from ...store.tasks import tasks as task_rows
from ..common.context import Actor, open_project, open_task
from ..common.journal_text import Sayer
from ..common.pipeline import worries_of
from ..common.plan_cache import CachedPlan, see_plan
from ..cost.book import may_see_costs
from ..cost.costs import cost_reading, shown_money
from ..people.teams import viewer_of
from ..resources.load import read_overloads
from ..talk.parts import FollowersOfTask, followers_of
from ..tasks.projects import visible_projects
from .undo import is_offered


@dataclass(frozen=True, slots=True)
class Facts:
    """The facts of the title line."""

    sums: Sums
    health: Health
    next_milestone: Row | None
    forecast: datetime | None
    forecast_days: int
    agreed: datetime | None
    agreed_days: int


@dataclass(frozen=True, slots=True)
class StateCount:
    """A state, how many tasks of the scope stand in it, and since when the one that stands longest does."""

    state_id: str
    tasks: int
    oldest_since: datetime | None


@dataclass(frozen=True, slots=True)
class ScopeAnswer:
    """What a scope sentence leaves, with the facts of the project."""

    selection: Selection
    facts: Facts
    states: list[StateCount]
    revision: int


def _facts(held: CachedPlan, worries: Worries) -> Facts:
    """Those of a plan, found once."""
    return held.answers.once(("facts", worries), lambda: _find_facts(held.plan, worries))


def _find_facts(plan: Plan, worries: Worries) -> Facts:
    sums = plan.sums()
    ahead = [r for r in plan.leaves() if r.task.kind == "milestone" and r.state_class in OPEN_CLASSES and r.finish]
    ahead.sort(key=lambda row: (row.finish, row.task.number))
    forecast, days = forecast_finish(plan)
    agreed = agreed_finish(plan.agreed)
    past = whole_days(variance(sums.finish, agreed, plan.calendar), plan.calendar)
    return Facts(sums, project_health(sums, plan.now, worries), ahead[0] if ahead else None, forecast, days, agreed, past)


@dataclass(frozen=True, slots=True)
class Page:
    """What every page of a project shows, at one moment: its rows, what a sentence leaves of them, the horizon.

    Attributes:
        asked: all that it depends on besides the plan and the mark that one stands at.
    """

    held: CachedPlan
    asked: Hashable
    _scope: Scope
    _viewer: Viewer
    _money: Money | None
    _worries: Worries

    def scope(self) -> ScopeAnswer:
        """What the sentence leaves."""
        plan = self.held.plan
        selection = select(plan, self._scope, self._viewer, self._money)
        facts = _facts(self.held, self._worries)
        return ScopeAnswer(selection, facts, _state_counts(plan, selection), self.held.mark.revision)

    def horizon(self) -> Horizon:
        """The horizon of the work within the sentence, but for its dates: it is where they are set."""
        test = within(replace(self._scope, since=None, until=None), self.held.plan, self._viewer, self._money)
        return horizon([row for row in self.held.plan.rows.values() if test(row)], self.held.plan.now)


def read_page(cur: Cursor, actor: Actor, code: str, scope: Scope) -> Page:
    """What a page of a project shows."""
    project = open_project(cur, actor, code, "see")
    held = see_plan(cur, actor, project)
    viewer = viewer_of(cur, actor) if scope.names_people else Viewer(actor.person.id)
    who = (viewer.id, repr(viewer.teams)) if scope.names_people else None
    worries = worries_of(cur, actor, project)
    money = shown_money(cur, actor, held) if scope.names_money else None
    return Page(held, ("page", repr(scope), who, worries, money is not None), scope, viewer, money, worries)


def _state_counts(plan: Plan, selection: Selection) -> list[StateCount]:
    found: dict[str, list[datetime | None]] = defaultdict(list)
    for task_id in selection.ids:
        row = plan.rows[task_id]
        if not row.is_summary:
            found[row.state_id].append(row.task.state_since)
    return [
        StateCount(state.id, len(found[state.id]), min((at for at in found[state.id] if at), default=None))
        for state in plan.project.states
    ]


@dataclass(frozen=True, slots=True)
class Brief:
    """How a project stands."""

    reading: str
    facts: Facts
    late: list[Row]
    due: list[Row]
    unowned: list[Row]
    held: list[Row]
    states: list[StateCount]
    curve: list[Point]
    last_change: journal_rows.Change | None


BRIEF_LIST = 50


@dataclass(frozen=True, slots=True)
class BriefPage:
    """The brief of a project at one moment.

    Attributes:
        asked: all that it depends on besides the plan; None where it is of an earlier moment than the plan that is held.
        over: when people of the project are over, by all of their work; ``over_said``: the worst of it in a sentence.
        cost_said: what it costs in a sentence; empty for who may not see that.
    """

    held: CachedPlan
    asked: Hashable
    brief: Brief
    over: list[Overload]
    over_said: str
    cost_said: str


def read_brief(cur: Cursor, actor: Actor, code: str) -> BriefPage:
    """The brief of a project: its reading, what needs a decision, what is coming, and done against plan."""
    project = open_project(cur, actor, code, "see")
    people = {person.id: person.short for person in people_rows.all_people(cur)}
    held = see_plan(cur, actor, project)
    over = read_overloads(cur, actor, project)
    over_said = say_overloads(over, people, held.plan.now.date())
    worries = worries_of(cur, actor, project)
    cost_said = cost_reading(cur, actor, held)
    if held.mark.revision != project.revision:
        return BriefPage(held, None, _brief(cur, actor, project, held, people, worries), over, over_said, cost_said)
    asked = ("brief", tuple(people.items()), worries)
    brief = held.answers.once(asked, lambda: _brief(cur, actor, project, held, people, worries))
    return BriefPage(held, (asked, tuple(over), cost_said), brief, over, over_said, cost_said)


def read_curve(cur: Cursor, actor: Actor, held: CachedPlan) -> list[Point]:
    """Done against plan of a plan, found once."""
    project = held.plan.project
    return held.answers.once(("curve",), lambda: done_against_plan(held.plan, _percent_changes(cur, actor, project)))


def _brief(cur: Cursor, actor: Actor, project: Project, held: CachedPlan, people: dict[str, str], worries: Worries) -> Brief:
    plan = held.plan
    leaves = [row for row in plan.leaves() if row.state_class in OPEN_CLASSES]
    by_finish = sorted(leaves, key=lambda row: (row.finish or datetime.max, row.task.number))
    latest = journal_rows.activity(cur, project.id, None, 1)
    return Brief(
        reading=project_reading(plan, people),
        facts=_facts(held, worries),
        late=[row for row in by_finish if row.late_days][:BRIEF_LIST],
        due=[row for row in by_finish if due_within(row.finish, plan.now, 7)][:BRIEF_LIST],
        unowned=[row for row in by_finish if row.task.owner_id is None][:BRIEF_LIST],
        held=[row for row in by_finish if row.task.is_held][:BRIEF_LIST],
        states=_state_counts(plan, select(plan, Scope(), Viewer(actor.person.id))),
        curve=done_against_plan(plan, _percent_changes(cur, actor, project)),
        last_change=_change(project.id, latest[0]) if latest else None,
    )


def _change(project_id: str, row: tuple[Any, ...]) -> journal_rows.Change:
    change_id, revision, person_id, at, what, undone_by = row
    return journal_rows.Change(change_id, project_id, revision, person_id, at, what, undone_by)


def _percent_changes(cur: Cursor, actor: Actor, project: Project) -> list[PercentChange]:
    return [
        PercentChange(subject, actor.clock.local(at), int(from_json(new) or 0))
        for subject, at, new in journal_rows.field_history(cur, project.id, "percent")
    ]


@dataclass(frozen=True, slots=True)
class Happening:
    """One change, in words, with the fields that it touched."""

    change: journal_rows.Change
    lines: list[str]
    subjects: list[str]
    may_undo: bool = False


@dataclass(frozen=True, slots=True)
class TaskDetail:
    """One task in full."""

    project: Project
    row: Row
    number: str
    above: list[tuple[str, str]]
    description: str
    reading: str
    history: list[Happening]
    created_by: str | None
    hanging: Hanging
    waits_for: list[Row]
    awaited_by: list[Row]
    computed: dict[str, str]
    named_in: list[tuple[str, Row]]


@dataclass(frozen=True, slots=True)
class Hanging:
    """What hangs on a task."""

    comments: list[Comment]
    files: list[File]
    checklists: list[Checklist]
    checks: list[Check]
    relations: list[Related]
    followers: FollowersOfTask


@dataclass(frozen=True, slots=True)
class Related:
    """A relation as one of its two tasks sees it: ``word`` says how that one stands to the other."""

    id: str
    type: str
    word: str
    outgoing: bool
    task_id: str
    code: str
    number: int
    title: str
    state_class: str


def read_task(cur: Cursor, actor: Actor, task_id: str) -> TaskDetail:
    """One task with its description, reading and history."""
    project = open_task(cur, actor, task_id)
    people = {person.id: person for person in people_rows.all_people(cur)}
    held = see_plan(cur, actor, project)
    plan = held.plan
    row = plan.rows.get(task_id)
    if row is None:
        raise Missing("task")
    money = may_see_costs(cur, actor, project)
    history = _history(cur, plan, task_id, {k: p.name for k, p in people.items()}, money=money)
    return TaskDetail(
        project=plan.project,
        row=row,
        number=plan.outline.number_of(task_id),
        above=[(one, plan.tasks[one].title) for one in reversed(plan.outline.ancestors(task_id))],
        description=task_rows.description(cur, task_id),
        reading=f"{task_reading(plan, row, {k: p.short for k, p in people.items()})} {cost_reading(cur, actor, held, task_id)}".strip(),
        history=history,
        created_by=history[-1].change.person_id if history else None,
        hanging=_hanging(cur, actor, row.task),
        waits_for=[plan.rows[link.from_id] for link in row.task.waits_for if link.from_id in plan.rows],
        awaited_by=plan.awaited_by(task_id),
        computed=_computed(plan, row),
        named_in=_named_in(plan, row),
    )


def _computed(plan: Plan, row: Row) -> dict[str, str]:
    """The values of a task's computed fields in words, by the field's id."""
    fields = [one for one in plan.project.fields if one.type == "computed"]
    catalogue = Catalogue(plan, {}) if fields else None
    return {one.id: catalogue.say(one.key, catalogue.computed(one, row.task.id)) for one in fields} if catalogue else {}


def _named_in(plan: Plan, row: Row) -> list[tuple[str, Row]]:
    """The name of each field that points to a task, with the task that it is filled in for."""
    fields = [one for one in plan.project.fields if one.type == "tasks"]
    return [(one.name, plan.rows[at]) for one in fields for at in pointing_in(plan.rows.values(), one).get(row.task.id, ())]


def _hanging(cur: Cursor, actor: Actor, task: Task) -> Hanging:
    return Hanging(
        comments=part_rows.of_task(cur, Comment, task.id),
        files=[one for one in part_rows.of_task(cur, File, task.id) if not one.inline],
        checklists=part_rows.of_task(cur, Checklist, task.id),
        checks=part_rows.of_task(cur, Check, task.id),
        relations=_related(cur, actor, task),
        followers=followers_of(cur, actor, task),
    )


def _related(cur: Cursor, actor: Actor, task: Task) -> list[Related]:
    """The relations of a task in both directions; with tasks that the person may not see, none."""
    found = [(one, one.to_id, True) for one in part_rows.of_task(cur, Relation, task.id)]
    found += [(one, one.task_id, False) for one in part_rows.relations_to(cur, task.id)]
    tasks = {one.id: one for one in task_rows.tasks_by_id(cur, {other for _, other, _ in found}) if one.deleted_at is None}
    if not tasks:
        return []
    projects = {project.id: project for project, _ in visible_projects(cur, actor)}
    classes = {one: project_rows.states(cur, one) for one in {t.project_id for t in tasks.values()} & projects.keys()}
    related = []
    for one, other_id, outgoing in found:
        other = tasks.get(other_id)
        if other is not None and other.project_id in projects:
            state = next(state for state in classes[other.project_id] if state.id == other.state_id)
            word, code = RELATION_WORDS[one.type][0 if outgoing else 1], projects[other.project_id].code
            related.append(
                Related(one.id, one.type, word, outgoing, other.id, code, other.number, other.title, state.state_class)
            )
    return related


def _history(cur: Cursor, plan: Plan, task_id: str, names: dict[str, str], *, money: bool) -> list[Happening]:
    by_change: dict[str, list[tuple[Any, ...]]] = {}
    for row in journal_rows.history_of(cur, [task_id, *part_rows.ids_of(cur, task_id)], 400):
        by_change.setdefault(row[0], []).append(row)
    say = Sayer(plan, resource_rows.resource_names(cur) | names, money=money)
    found = []
    for change_id, rows in by_change.items():
        _, person_id, at, *_ = rows[0]
        change = journal_rows.Change(change_id, plan.project.id, 0, person_id, at, "", None)
        lines = [
            line
            for *_, subject, name, old, new in reversed(rows)
            if not (subject == "comment" and name == "created") and (line := say.line(name, old, new, subject))
        ]  # a comment stands there itself
        if lines:
            found.append(Happening(change, lines, [task_id]))
    return found


def read_activity(cur: Cursor, actor: Actor, code: str, before: int | None, limit: int = 60) -> list[Happening]:
    """What happened in a project, the latest first."""
    project = open_project(cur, actor, code, "see")
    names = {person.id: person.name for person in people_rows.all_people(cur)}
    rows = journal_rows.activity(cur, project.id, before, limit)
    entries: dict[str, list[tuple[Any, ...]]] = defaultdict(list)
    written = journal_rows.entries_of_changes(cur, [row[0] for row in rows])
    hangs_on = _hangs_on(cur, written)
    for change_id, subject, subject_id, *rest in written:
        entries[change_id].append((subject, hangs_on.get(subject_id, subject_id), *rest))
    held = see_plan(cur, actor, project)
    say = Sayer(held.plan, resource_rows.resource_names(cur) | names, money=may_see_costs(cur, actor, project))
    role = actor.role_in(project, held.plan.project.members.get(actor.person.id))
    found = [_happening(project, row, entries[row[0]], say) for row in rows]
    return [
        replace(
            one,
            may_undo=one.change.undone_by is None
            and is_offered(
                ((subject, name) for subject, _, name, *_ in entries[one.change.id]), one.change.person_id, actor.person.id, role
            ),
        )
        for one in found
    ]


def _hangs_on(cur: Cursor, written: list[tuple[Any, ...]]) -> dict[str, str]:
    """The task of each part that some journal entries speak of."""
    parts: dict[Any, set[str]] = defaultdict(set)
    for _, subject, subject_id, *_ in written:
        if subject in part_rows.KINDS:
            parts[subject].add(subject_id)
    return part_rows.tasks_of(cur, parts)


MOST_LINES = 6


def _happening(project: Project, row: tuple[Any, ...], entries: list[tuple[Any, ...]], say: Sayer) -> Happening:
    lines: list[str] = []
    subjects: list[str] = []
    for subject, subject_id, name, old, new in entries:
        line = say.line(name, old, new, subject)
        if line:
            lines.append(say.about(subject, subject_id, line, new))
        if (subject == "task" or subject in part_rows.KINDS) and subject_id not in subjects:
            subjects.append(subject_id)
    more = len(lines) - MOST_LINES
    return Happening(
        _change(project.id, row), lines[:MOST_LINES] + ([f"and {more} more"] if more > 0 else []), subjects[:MOST_LINES]
    )
