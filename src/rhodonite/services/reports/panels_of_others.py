"""What panels show of the other areas: projects, load, cost, goals, status reports; each by the rights that hold there."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta
from functools import partial

from ...core.common.counts import count_of
from ...core.common.dates import say_day
from ...core.common.errors import RuleError
from ...core.cost.readings import say_money
from ...core.goals.readings import say_how_far
from ...core.people.access import may_in_organisation, may_in_project
from ...core.portfolio.readings import ItemLine, say_expected, say_holds_up
from ...core.reports.answers import Line, LinesAnswer, PeopleAnswer, PersonWork
from ...core.reports.dashboards import Panel
from ...core.tasks.model import Project
from ..cost.costs import page_of
from ..goals.seen import read_goals
from ..portfolio.shown import read_portfolio
from ..portfolio.tables import line_of
from ..resources.load import Load, read_load
from ..tasks.projects import list_projects
from . import panels
from .counting import Reader, Sentence
from .status import read_newest


def show_projects(reader: Reader, panel: Panel, sentence: Sentence) -> LinesAnswer:
    """The projects with work that the sentence leaves: how far, how they stand, when they finish."""
    left = reader.count(sentence, ("some",), lambda held, rows: (held.plan.project.id, bool(rows)))
    wanted = {project for project, some in left if some}
    lines = []
    for one in reader.once("projects", lambda: list_projects(reader.cur, reader.actor)):
        if one.project.id not in wanted:
            continue
        sums, past = one.sums, one.agreed_days
        note = f"finish {say_day(sums.finish.date(), reader.today)}" if sums.finish else "without dates"
        if past:
            note += f", {count_of(abs(past), 'day')} {'past' if past > 0 else 'before'} agreed"
        finished = sums.tasks and sums.finished == sums.tasks
        lines.append(
            Line(
                one.project.name,
                one.project.code,
                f"/p/{one.project.code}",
                sums.percent,
                None,
                one.health,
                "finished" if finished else note,
                worry=bool(past and past > 0),
            )
        )
    return LinesAnswer(("Project", "Done", "Finish"), tuple(sorted(lines, key=lambda one: one.code)))


def show_portfolios(reader: Reader, panel: Panel, sentence: Sentence) -> LinesAnswer:
    """The larger items of portfolios that the sentence leaves; then, of the work of their parts, what asks for attention."""
    lines = []
    for project in reader.asked(sentence):
        if not project.portfolio:
            continue
        left = {row.task.id for row in reader.rows(reader.plan(project), sentence)}
        for own, task_id, line in reader.once(("portfolio", project.id), partial(_items, reader, project)):
            if (own and task_id in left) or (not own and line.worry):
                lines.append(line)
    return LinesAnswer(("Item", "Done", "Expected"), tuple(lines))


def _items(reader: Reader, project: Project) -> list[tuple[bool, str, Line]]:
    """The items of a portfolio: whether each is its own, its task, and how it is shown."""
    return [
        (one.project.id == project.id, one.row.task.id, _item(line_of(one, reader.people), reader.today))
        for one in read_portfolio(reader.cur, reader.actor, project.code).items
    ]


def _load(reader: Reader, code: str | None, first: date, last: date) -> Load:
    """Load by weeks of one project's people, or of all."""
    return reader.once(("load", code, first, last), lambda: read_load(reader.cur, reader.actor, code, first, last, "week"))


def _item(one: ItemLine, today: date) -> Line:
    said = "; ".join(filter(None, (say_expected(one, today), say_holds_up(one))))
    return Line(one.title, one.code, f"/p/{one.code}/task/{one.number}", one.percent, None, one.health, said, worry=one.troubled)


def show_load(reader: Reader, panel: Panel, sentence: Sentence) -> LinesAnswer:
    """How full people are over some weeks, by all work that counts there: of one project's people, or of all."""
    monday = reader.today - timedelta(days=reader.today.weekday())
    last = monday + timedelta(weeks=panel.options.weeks, days=-1)
    asked = reader.asked(sentence)
    code = asked[0].code if len(asked) == 1 else None
    load = _load(reader, code, monday, last)
    named = reader.viewer.people((*sentence.ground.owners, *sentence.own.owners))
    lines = []
    for who, line in zip(load.who, load.lines, strict=True):
        if who.kind != "person" or (named and who.id not in named):
            continue
        booked = sum(map(sum, line.bands.values())) + sum(line.other)
        capacity, over = sum(line.capacity), sum(line.over)
        note = f"{_hours(booked)} of {_hours(capacity)} h" + (f", {_hours(over)} h over" if over else "")
        lines.append(
            Line(
                who.name,
                "",
                f"/p/{code}/load" if code else "/people/load",
                100 * booked // capacity if capacity else None,
                None,
                None,
                note,
                worry=over > 0,
            )
        )
    lines.sort(key=lambda one: -(one.percent or 0))
    return LinesAnswer(("Person", "Booked", "Hours"), tuple(lines))


def _hours(minutes: int) -> str:
    return f"{minutes / 60:.1f}".rstrip("0").rstrip(".")


def show_people(reader: Reader, panel: Panel, sentence: Sentence) -> PeopleAnswer:
    """People side by side, with how full this week is of those whose load the reader may see."""
    found = panels.show_people(reader, panel, sentence)
    if not may_in_organisation(reader.actor.person.role, "see_people"):
        return found
    monday = reader.today - timedelta(days=reader.today.weekday())
    load = _load(reader, None, monday, monday + timedelta(days=6))
    lines = {who.id: line for who, line in zip(load.who, load.lines, strict=True)}

    def filled(one: PersonWork) -> PersonWork:
        line = lines.get(one.person_id or "")
        booked = sum(map(sum, line.bands.values())) + sum(line.other) if line else 0
        return replace(one, booked=booked, capacity=sum(line.capacity), over=sum(line.over)) if line and booked else one

    return replace(found, people=tuple(map(filled, found.people)))


def show_cost(reader: Reader, panel: Panel, sentence: Sentence) -> LinesAnswer:
    """What projects spent, and what they will have cost, against their budgets; only of those whose cost the reader may see."""
    roles = {project.id: role for project, role in reader.projects}
    lines = []
    for project in reader.asked(sentence):
        if not project.costs or not may_in_project(roles[project.id], "see_costs"):
            continue
        page = reader.once(("costs", project.id), partial(page_of, reader.cur, project, reader.plan(project)))
        whole = page.costs.whole
        standing = page.standing(project.id, whole)
        allowed = standing.budget if standing.budget is not None else standing.agreed
        spent, at_completion = (say_money(one, page.decimals, page.currency) for one in (whole.spent, whole.at_completion))
        note = f"{spent} spent, {at_completion} at completion"
        if allowed is not None:
            note += (
                f", {say_money(allowed, page.decimals, page.currency)} {'budget' if standing.budget is not None else 'agreed'}"
            )
        percent = 100 * whole.spent // allowed if allowed else None
        lines.append(
            Line(project.name, project.code, f"/p/{project.code}/costs", percent, None, None, note, worry=standing.worry != "")
        )
    if not lines:
        raise RuleError("No project here reckons cost that you may see.")
    return LinesAnswer(("Project", "Spent", "Cost"), tuple(lines))


def show_goals(reader: Reader, panel: Panel, _: Sentence) -> LinesAnswer:
    """Goals that the reader sees, open ones: how far, and how far by now."""
    page = reader.once("goals", lambda: read_goals(reader.cur, reader.actor))
    lines = []
    for one in page.goals:
        goal, how = one.goal, one.standing
        mine = goal.owner_id == reader.viewer.id or goal.id in page.followed
        if not goal.is_open or (panel.options.mine and not mine):
            continue
        lines.append(
            Line(
                goal.title,
                "",
                f"/goals?open={goal.id}",
                int(how.percent) if how.percent is not None else None,
                int(how.expected) if how.expected is not None else None,
                how.health,
                say_how_far(goal, how),
            )
        )
    return LinesAnswer(("Goal", "So far", "Stands at"), tuple(lines))


def show_reports(reader: Reader, panel: Panel, sentence: Sentence) -> LinesAnswer:
    """The newest status report of each project that the sentence asks."""
    asked = {one.id for one in reader.asked(sentence)}
    lines = []
    for one in reader.once("reports", lambda: read_newest(reader.cur, reader.actor)):
        if one.project.id not in asked or one.report is None:
            continue
        report, code = one.report, one.project.code
        overall = report.indicators.get("overall")
        said = f"of {say_day(report.day, reader.today)}, {reader.people.get(report.person_id, 'somebody')}"
        due = f", next due {say_day(one.due, reader.today)}" if one.due else ""
        lines.append(
            Line(
                one.project.name,
                code,
                f"/p/{code}/reports/{report.number}",
                report.told.percent,
                report.told.planned,
                overall.health if overall else None,
                said + due,
                worry=one.is_due,
            )
        )
    return LinesAnswer(("Project", "Done, as told", "Told"), tuple(lines))
