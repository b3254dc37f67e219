"""What panels of tasks show to a reader: lists, figures, charts, progress, milestones, people side by side."""

from __future__ import annotations

import heapq
from collections import defaultdict
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal
from itertools import islice
from typing import Any

from ...core.common.counts import count_of
from ...core.common.dates import say_day
from ...core.common.errors import RuleError
from ...core.overview.progress import HowFar, how_far
from ...core.people.access import may_in_project
from ...core.reports.answers import (
    Answer,
    FigureAnswer,
    Item,
    Line,
    LinesAnswer,
    PeopleAnswer,
    PersonWork,
    ScatterAnswer,
    ScatterPoint,
    TasksAnswer,
    TextAnswer,
    figure,
    find_column,
    is_near,
    order_of,
)
from ...core.reports.charts import (
    Chart,
    Tallies,
    Tally,
    check_grouping,
    check_summed,
    in_time,
    keys_by,
    make_chart,
    merged,
    points,
    tally,
    thinned,
)
from ...core.reports.dashboards import Options, Panel, check_counted_then, counts_then
from ...core.reports.hands import Hand, in_hand
from ...core.reports.over_time import counted_then, ends_of
from ...core.schedule.plan import Row
from ...core.tasks.model import OPEN_CLASSES
from ...core.views.all_projects import PROJECT, Across
from ...core.views.columns import Column
from ...core.views.conditions import Clause
from ...core.views.tints import Tint, colouring
from ..common.plan_cache import CachedPlan
from .counting import Reader, Sentence

MOST_LISTED = 100
MOST_PEOPLE = 24
MOST_PROJECTS = 12
WEEKS_BEFORE = 8
"""Of the trend of a figure."""


def show_tasks(reader: Reader, panel: Panel, sentence: Sentence) -> TasksAnswer:
    """Tasks, sorted by a field, else by finish."""
    options = panel.options
    found = _listed(reader, sentence, options.sort or "finish", options.down, options.columns, None, "all")
    return replace(found, items=tuple(_tinted(reader, found.items, options.tints))) if options.tints else found


def _tinted(reader: Reader, items: Sequence[Item], tints: Sequence[Tint]) -> list[Item]:
    """Tasks with what colours their rows. A tint that asks for what their project has not colours nothing there."""
    by_project: dict[str, list[Item]] = defaultdict(list)
    for one in items:
        by_project[one.project.id].append(one)
    given: dict[str, Tint | None] = {}
    for some in by_project.values():
        shared = reader.shared(reader.plan(some[0].project))
        for tint in reversed(tints):
            try:
                found = colouring([one.row for one in some], [tint], shared, reader.viewer)
            except RuleError:
                continue
            given |= {one.row.task.id: tint for one in some if found.of(one.row.task.id, "row")}
    return [replace(one, tint=given.get(one.row.task.id)) for one in items]


@dataclass(frozen=True, slots=True)
class _First:
    """Of one plan the first tasks of a list, with their keys, and how many there are."""

    held: CachedPlan
    rows: Sequence[tuple[tuple[int, Any], Row]]
    shown: int
    late: int


def _listed(
    reader: Reader,
    sentence: Sentence,
    sort: str,
    down: bool,
    columns: Sequence[str],
    among: Callable[[Row], bool] | None,
    asked: str,
) -> TasksAnswer:
    def first(held: CachedPlan, rows: Sequence[Row]) -> _First:
        shared = reader.shared(held)
        column = shared.column(sort)
        found = [row for row in rows if among(row)] if among else rows
        keyed = [(order_of(shared, column, row), row) for row in found]
        filled = sorted((one for one in keyed if not one[0][0]), key=lambda one: one[0][1], reverse=down)
        some = [*filled, *(one for one in keyed if one[0][0])][:MOST_LISTED]
        return _First(held, some, len(found), sum(row.late_days > 0 and row.state_class in OPEN_CLASSES for row in found))

    parts = reader.count(sentence, ("list", asked, sort, down), first)
    with_value = [[(key, row, part.held) for key, row in part.rows if not key[0]] for part in parts]
    without = [(key, row, part.held) for part in parts for key, row in part.rows if key[0]]
    by_value: Callable[[Any], Any] = lambda one: one[0][1]  # noqa: E731
    some = [*islice(heapq.merge(*with_value, key=by_value, reverse=down), MOST_LISTED), *without][:MOST_LISTED]
    heads, items = _with_columns(reader, [(held, row) for _, row, held in some], columns)
    return TasksAnswer(heads, items, sum(one.shown for one in parts), sum(one.late for one in parts))


def _with_columns(
    reader: Reader, found: Sequence[tuple[CachedPlan, Row]], columns: Sequence[str]
) -> tuple[tuple[str, ...], tuple[Item, ...]]:
    """Tasks with their values in some columns in words; columns that none of their projects has are left out."""
    shared = {one.plan.project.id: reader.shared(one) for one in {id(held): held for held, _ in found}.values()}
    names: dict[str, str] = {}
    for key in columns:
        for one in shared.values():
            if key in one.columns and key != "title":
                names.setdefault(key, one.columns[key].name)

    def words(project_id: str, row: Row) -> tuple[str, ...]:
        own = shared[project_id]
        return tuple(own.say(key, own.columns[key].value(row)) if key in own.columns else "" for key in names)

    items = tuple(Item(held.plan.project, row, words(held.plan.project.id, row)) for held, row in found)
    return tuple(names.values()), items


def show_milestones(reader: Reader, panel: Panel, sentence: Sentence) -> TasksAnswer:
    """Milestones that come within some days, that are late, or were reached as many days ago at most."""
    days = panel.options.days
    return _listed(reader, sentence, "finish", False, (), lambda row: is_near(row, reader.today, days), f"milestones {days}")


def _columns(reader: Reader, sentence: Sentence) -> Across:
    """The fields of the projects that a sentence asks. Raises RuleError where there is none."""
    projects = reader.asked(sentence)
    if not projects:
        raise RuleError("There is no project here that you may see.")
    return reader.columns(projects)


def _measured(reader: Reader, options: Options, sentence: Sentence) -> Column | None:
    """The number that is summed, with what it is called; None where tasks are counted."""
    return _summed(options, _columns(reader, sentence)) if options.measure != "count" else None


def _summed(options: Options, across: Across) -> Column:
    return check_summed(find_column(across, options.of))


def show_figure(reader: Reader, panel: Panel, sentence: Sentence) -> FigureAnswer:
    """One figure, against its target, with what it was in the weeks before."""
    options, key = panel.options, panel.options.of
    of = _measured(reader, options, sentence)

    def count(held: CachedPlan, rows: Sequence[Row]) -> Tallies:
        return tally(rows, (), reader.shared(held).column(key).value if of else None)

    found = merged(reader.count(sentence, ("figure", options.measure, key), count)).get((), Tally())
    trend: list[tuple[date, Decimal]] = []
    if options.trend and counts_then(sentence.whole, options.measure):
        before = replace(options, period="week", last=WEEKS_BEFORE + 1, by=())
        then = _then(reader, before, sentence, of)
        ends = ends_of(reader.today, "week", WEEKS_BEFORE + 1)[:-1]
        trend = [(day, then.get((day.isoformat(), ""), Tally()).measured(options.measure) or Decimal(0)) for day in ends]
    return figure(found, options, of, trend)


def _then(reader: Reader, options: Options, sentence: Sentence, of: Column | None) -> Tallies:
    """What was counted at the end of each of the latest periods.

    Raises:
        RuleError: the sentence of the dashboard, which may have been changed since, follows from the plan of today.
    """
    check_counted_then(sentence.whole, options.measure)
    asked = [frozenset(one.classes) for one in (sentence.ground, sentence.own) if one.classes]
    classes = frozenset.intersection(*asked) if asked else frozenset()
    if asked and not classes:
        return {}
    before = Sentence(replace(sentence.ground, classes=()), replace(sentence.own, classes=()))
    ends, by = ends_of(reader.today, options.period, options.last), options.by[0] if options.by else ""

    def count(held: CachedPlan, rows: Sequence[Row]) -> Tallies:
        shared = reader.shared(held)
        keys = keys_by(check_grouping(shared.column(by)), "month") if by and by != "class" else None
        number = shared.column(options.of).value if of else None
        return counted_then(rows, ends, reader.history(held), classes, keys, by == "class", number)

    key = ("then", options.period, options.last, by, options.measure, options.of, classes, reader.today)
    return merged(reader.count(before, key, count))


def show_chart(reader: Reader, panel: Panel, sentence: Sentence) -> Chart | ScatterAnswer:
    """A chart by one or two fields, over time, or of two numbers of each task."""
    options = panel.options
    if options.shape == "scatter":
        return _scatter(reader, options, sentence)
    across = _columns(reader, sentence)
    of = _summed(options, across) if options.measure != "count" else None
    columns = [check_grouping(find_column(across, key)) for key in options.by]
    if options.over_time:
        return _over_time(reader, options, sentence, of, columns)

    def count(held: CachedPlan, rows: Sequence[Row]) -> Tallies:
        shared = reader.shared(held)
        number = shared.column(options.of).value if of else None
        return tally(rows, [keys_by(shared.column(key), options.period) for key in options.by], number)

    found = merged(reader.count(sentence, ("chart", options.by, options.period, options.measure, options.of), count))
    return make_chart(found, columns, options.period, options.measure, of)


def _over_time(reader: Reader, options: Options, sentence: Sentence, of: Column | None, columns: Sequence[Column]) -> Chart:
    found = _then(reader, options, sentence, of)
    ends = ends_of(reader.today, options.period, options.last)
    days = Column("", "Day", "text", lambda _: None)
    chart = make_chart(found, [days, *columns], options.period, options.measure, of)
    return in_time(chart, [(day, "today" if day == reader.today else say_day(day)) for day in ends])


def _scatter(reader: Reader, options: Options, sentence: Sentence) -> ScatterAnswer:
    across = _columns(reader, sentence)
    heads = [check_summed(find_column(across, key)) for key in (options.against, options.of)]

    def count(held: CachedPlan, rows: Sequence[Row]) -> list[ScatterPoint]:
        shared = reader.shared(held)
        found = points(rows, shared.column(options.against).value, shared.column(options.of).value)
        plan = held.plan
        return [ScatterPoint(Item(plan.project, plan.rows[one.task_id]), one.across, one.up) for one in found]

    parts = reader.count(sentence, ("scatter", options.against, options.of), count)
    every = [one for part in parts for one in part]
    first, second = (f"{one.name} in {one.unit}" if one.unit else one.name for one in heads)
    return ScatterAnswer((first, second), tuple(thinned(every)), len(every))


def show_progress(reader: Reader, panel: Panel, sentence: Sentence) -> LinesAnswer:
    """How far some work is, and how far it should be by its dates: of all of it, and of each project."""
    parts = reader.count(sentence, ("progress",), lambda held, rows: (held.plan.project, how_far(rows, held.plan)))
    parts = [one for one in parts if one[1].tasks]
    whole = HowFar()
    for _, part in parts:
        whole.add(part)
    lines = [_progress("All of it" if len(parts) != 1 else parts[0][0].name, "", whole)] if parts else []
    if len(parts) > 1:
        parts.sort(key=lambda one: (-one[1].tasks, one[0].code))
        lines += [
            replace(_progress(one.name, one.code, part), where=(Clause(PROJECT, "any", [one.id]),))
            for one, part in parts[:MOST_PROJECTS]
        ]
    return LinesAnswer(("Work", "Done", "Tasks"), tuple(lines))


def _progress(name: str, code: str, far: HowFar) -> Line:
    note = f"{far.finished:,} of {count_of(far.tasks, 'task')} finished{f', {far.late} late' if far.late else ''}"
    return Line(name, code, "", far.percent, far.planned, None, note, worry=bool(far.late))


def show_people(reader: Reader, panel: Panel, sentence: Sentence) -> PeopleAnswer:
    """People side by side: the reader, or those who are named and those of a team, else whoever has open work of the sentence."""
    options = panel.options
    wanted = [reader.viewer.id] if options.mine else list(options.people)
    if options.team_id is not None and not options.mine:
        team = reader.viewer.teams.get(options.team_id, frozenset())
        wanted += sorted(team - set(wanted), key=lambda one: reader.people.get(one, ""))
    by_person: dict[str | None, Hand] = defaultdict(Hand)
    for part in reader.count(sentence, ("people",), lambda held, rows: in_hand(held.plan.project, rows)):
        for person, hand in part.items():
            by_person[person].add(hand)
    if wanted:
        shown: list[str | None] = [one for one in wanted if one in reader.known]
    else:
        shown = sorted(by_person, key=lambda one: (one is None, -by_person[one].open, reader.people.get(one or "", "")))
    people = tuple(_work_of(reader, one, by_person[one]) for one in shown[:MOST_PEOPLE])
    return PeopleAnswer(people, max(0, len(shown) - MOST_PEOPLE))


def _work_of(reader: Reader, person: str | None, hand: Hand) -> PersonWork:
    roles = {project.id: role for project, role in reader.projects}
    first = [replace(one, may_edit=may_in_project(roles.get(one.project.id), "edit")) for one in hand.firsts()]
    name = reader.people.get(person, "somebody") if person else "Without an owner"
    return PersonWork(person, name, hand.open, hand.active, hand.late, tuple(first))


def show_text(_: Reader, panel: Panel, __: Sentence) -> TextAnswer:
    """A text."""
    return TextAnswer(panel.options.text)


Show = Callable[[Reader, Panel, Sentence], Answer]
