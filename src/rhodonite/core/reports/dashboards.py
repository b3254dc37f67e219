"""Dashboards: panels in order on a grid of twelve columns, each with a sentence of its own within that of the dashboard."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime
from decimal import Decimal
from typing import Literal

from ..common.errors import RuleError
from ..people.access import may_in_organisation
from ..people.model import Person
from ..views.all_projects import PROJECT
from ..views.conditions import Clause, Group
from ..views.scope import Scope, joined
from ..views.tints import Tint, check_tints, tells_money

PanelKind = Literal[
    "tasks", "milestones", "figure", "progress", "chart", "projects", "portfolio", "people", "load", "cost", "goals", "reports",
    "text",
]  # fmt: skip
Shape = Literal["bars", "stacked", "line", "area", "scatter"]
MeasureBy = Literal["count", "sum", "mean"]
Period = Literal["day", "week", "month", "quarter"]
Better = Literal["up", "down"]
SeenBy = Literal["private", "people", "everyone"]

KIND_NAMES: dict[PanelKind, str] = {
    "tasks": "List of tasks", "milestones": "Milestones", "people": "People side by side", "figure": "Figure", "chart": "Chart",
    "progress": "Progress", "projects": "Projects", "portfolio": "Portfolio", "load": "Load", "cost": "Cost", "goals": "Goals",
    "reports": "Status reports", "text": "Text",
}  # fmt: skip
"""What a panel is called that has no title of its own."""
COLUMNS = 12
LEAST_WIDTH, LEAST_HEIGHT, MOST_HEIGHT = 2, 2, 24
"""Of a panel: columns, and rows of the grid."""
MOST_PANELS = 40
MOST_DASHBOARDS, MOST_OF_ONE = 2_000, 100
MOST_COLUMNS_SHOWN, MOST_TINTS = 6, 10
MOST_BY = 2
MOST_CLAUSES = 25
"""Of one sentence: those of a dashboard and of a panel together are still one that can be opened."""
LONGEST_NAME, LONGEST_TEXT = 120, 20_000
MOST_DAYS, MOST_PERIODS, MOST_WEEKS = 366, 60, 26
COUNTED_THEN = frozenset(
    {"kind", "owner", "helpers", "priority", "marks", "deadline", "title", "number", "duration", "effort", PROJECT}
)
"""What clauses may ask where work is counted as it was: what a task has, and not what follows from the plan of today."""


@dataclass(frozen=True, slots=True)
class Options:
    """What a panel shows of the work that its sentence leaves. Each kind of panel looks at its own.

    Attributes:
        columns: keys of the fields shown beside the titles of tasks; ``sort``, ``down``: their order; ``tints``: their colours.
        by: keys of the fields by which a chart groups, at most two; ``period``: of days, and of a chart over time.
        measure: how tasks are counted; ``of``: the number that is summed; ``against``: of a scatter the number across.
        over_time: as it was at the end of each of the ``last`` periods, by the journal.
        target: that a figure should come to, and from which side; ``trend``: with what it was in the weeks before.
        days: milestones so many days ahead, and as many back; ``weeks``: of load.
        people, team_id: side by side; with neither all who hold work.
        mine: only the goals that the reader owns or follows; of people side by side the reader alone.
        text: HTML.
    """

    columns: tuple[str, ...] = ()
    sort: str = ""
    down: bool = False
    tints: tuple[Tint, ...] = ()
    by: tuple[str, ...] = ()
    period: Period = "month"
    measure: MeasureBy = "count"
    of: str = ""
    against: str = ""
    shape: Shape = "bars"
    over_time: bool = False
    last: int = 12
    target: Decimal | None = None
    better: Better = "up"
    trend: bool = False
    days: int = 31
    weeks: int = 4
    people: tuple[str, ...] = ()
    team_id: str | None = None
    mine: bool = False
    text: str = ""


@dataclass(frozen=True, slots=True)
class Panel:
    """One panel of a dashboard. ``place`` orders them; ``width`` counts columns, ``height`` rows of the grid."""

    id: str
    dashboard_id: str
    kind: PanelKind
    title: str
    place: str
    width: int
    height: int
    scope: Scope = field(default_factory=Scope)
    options: Options = field(default_factory=Options)
    version: int = 1
    deleted_at: datetime | None = None


@dataclass(frozen=True, slots=True)
class Dashboard:
    """Panels under a name. ``project_id``: whose work alone it shows; None: of all that the reader may see."""

    id: str
    project_id: str | None
    person_id: str
    name: str
    place: str
    seen_by: SeenBy
    people: tuple[str, ...]
    scope: Scope = field(default_factory=Scope)
    version: int = 1
    deleted_at: datetime | None = None


def may_read(one: Dashboard, person: Person) -> bool:
    """True where a person sees a dashboard, once they see its project if it has one. What stands on it follows their rights.

    Of those over all projects that everyone sees guests see none.
    """
    if one.person_id == person.id or (one.seen_by == "people" and person.id in one.people):
        return True
    return one.seen_by == "everyone" and (one.project_id is not None or may_in_organisation(person.role, "see_people"))


def may_change(one: Dashboard, person: Person, *, leads: bool) -> bool:
    """True for its keeper; of one that a project or everybody sees also for who leads the project, or administers.

    Args:
        leads: whether the person may manage its project.
    """
    if one.person_id == person.id:
        return True
    if one.seen_by != "everyone":
        return False
    return leads if one.project_id else may_in_organisation(person.role, "administer")


def check_dashboard(one: Dashboard) -> Dashboard:
    """A dashboard with its name made clean. Raises RuleError for one that cannot be."""
    name = " ".join(one.name.split())
    if not name or len(name) > LONGEST_NAME:
        raise RuleError(f"Give the dashboard a name of at most {LONGEST_NAME} characters.", "name")
    _check_scope(one.scope)
    return replace(one, name=name)


def _check_scope(scope: Scope) -> None:
    if len(scope.where.clauses) > MOST_CLAUSES:
        raise RuleError(f"A sentence of a dashboard has {MOST_CLAUSES} clauses at most.", "where")
    if scope.names_money:
        raise RuleError("Dashboards do not ask by what work costs: not everybody may see that. Use the panel of cost.", "where")
    if scope.states:
        raise RuleError("States are those of one project. Ask by class, or by the field State.", "state")


def check_panel(one: Panel) -> Panel:
    """A panel with its title made clean. Raises RuleError for one that cannot be."""
    title = " ".join(one.title.split())
    if len(title) > LONGEST_NAME:
        raise RuleError(f"A title has {LONGEST_NAME} characters at most.", "title")
    if not (LEAST_WIDTH <= one.width <= COLUMNS and LEAST_HEIGHT <= one.height <= MOST_HEIGHT):
        words = f"A panel is {LEAST_WIDTH} to {COLUMNS} columns wide and {LEAST_HEIGHT} to {MOST_HEIGHT} rows high."
        raise RuleError(words, "width")
    _check_scope(one.scope)
    _check_tints(one.options.tints)
    if one.kind == "chart":
        _check_chart(one)
    if one.kind == "figure":
        _check_number(one.options)
        if one.options.trend:
            check_counted_then(one.scope, one.options.measure)
    return replace(one, title=title)


def _check_tints(tints: Sequence[Tint]) -> None:
    check_tints(tints)
    if len(tints) > MOST_TINTS or sum(len(one.where.clauses) for one in tints) > 2 * MOST_CLAUSES:
        raise RuleError(f"A panel has {MOST_TINTS} tints and {2 * MOST_CLAUSES} clauses of theirs at most.", "tints")
    if any(tells_money(one) for one in tints):
        raise RuleError("Dashboards are not coloured by what work costs: not everybody may see that.", "tints")


def _check_number(options: Options) -> None:
    if options.measure != "count" and not options.of:
        raise RuleError(f"Choose the number of which the {options.measure} is shown.", "of")


def _check_chart(one: Panel) -> None:
    options = one.options
    if options.shape == "scatter":
        if not options.of or not options.against:
            raise RuleError(
                "A scatter chart sets one number against another. Choose both.", "of" if not options.of else "against"
            )
        return
    _check_number(options)
    if options.over_time:
        check_counted_then(one.scope, options.measure)
        if len(options.by) > 1:
            raise RuleError("Over time there is one grouping at most.", "by")
    elif not options.by:
        raise RuleError("Choose the field by which the chart groups.", "by")
    if len(set(options.by)) < len(options.by):
        raise RuleError("The second grouping is the first once more. Choose another.", "by")


def check_counted_then(scope: Scope, measure: MeasureBy) -> None:
    """Raises RuleError where work cannot be counted as it was: by a sentence that follows from the plan of today."""
    if not counts_then(scope, "count"):
        raise RuleError(
            "What was counted in earlier weeks follows from states in the journal. Ask by kind, owner, class, priority, mark,"
            " deadline, project or a field of your own; what is late or held, and dates, are known of today alone.", "where",
        )  # fmt: skip
    if measure == "mean":
        raise RuleError("Over time tasks are counted or a number is summed. A mean is of today alone.", "measure")


def counts_then(scope: Scope, measure: MeasureBy) -> bool:
    """Whether work can be counted as it was, by ``check_counted_then``."""
    asked = {clause.key for clause in scope.where.clauses if not clause.key.startswith("named.")} - COUNTED_THEN
    return measure != "mean" and not (scope.late or scope.held or scope.unowned or scope.since or scope.until or asked)


def scope_of(dashboard: Dashboard, panel: Panel) -> Scope:
    """The one sentence that leaves what a panel counts."""
    return joined(ground_of(dashboard), panel.scope)


def ground_of(dashboard: Dashboard) -> Scope:
    """The sentence for all panels of a dashboard."""
    if dashboard.project_id is None:
        return dashboard.scope
    own = Scope(where=Group("all", (Clause(PROJECT, "any", [dashboard.project_id]),)))
    return joined(own, dashboard.scope)


def placed(panels: Sequence[Panel]) -> list[tuple[Panel, int, int]]:
    """Where panels stand on the grid: each with its column and row, from 0.

    They stand in their order; one that has no room in what is left of a row stands in the next where it has.
    """
    taken: set[tuple[int, int]] = set()
    found = []
    x = y = 0
    for one in panels:
        while x + one.width > COLUMNS or any((column, row) in taken for column, row in _cells(one, x, y)):
            x, y = (x + 1, y) if x + one.width < COLUMNS else (0, y + 1)
        taken.update(_cells(one, x, y))
        found.append((one, x, y))
        x += one.width
    return found


def _cells(one: Panel, x: int, y: int) -> list[tuple[int, int]]:
    return [(column, row) for column in range(x, x + one.width) for row in range(y, y + one.height)]
