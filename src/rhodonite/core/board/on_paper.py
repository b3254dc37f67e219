"""The board as it is read on paper: columns, rows, and the slips of each cell in their order."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date

from ..people.viewer import Viewer
from ..schedule.plan import Plan, Row, backlog_period
from ..tasks.model import Project, State
from ..views.columns import Columns
from ..views.view import View, arrange
from .cells import Cell, cells_of

MOST_SLIPS = 1000
"""That go on paper."""
ONE_ROW, OWN_LANES, PARENT = "none", "lanes", "parent"


@dataclass(frozen=True, slots=True)
class Head:
    """A column: how many tasks stand in it, whatever is shown, and how many may.

    Attributes:
        stage: of the first step of a split stage, the same of the whole stage where that has a limit.
    """

    name: str
    count: int
    limit: int | None = None
    stage: tuple[int, int] | None = None


@dataclass(frozen=True, slots=True)
class PaperCell:
    """Slips that lie together.

    Attributes:
        span: over how many columns; several where a lane joins them.
        skipped: True where the tasks of its lane do not pass through it.
    """

    span: int
    slips: list[Row] = field(default_factory=list)
    skipped: bool = False


@dataclass(frozen=True, slots=True)
class PaperRow:
    """A row of the board; ``name`` is empty where there is only one."""

    name: str
    cells: list[PaperCell]


@dataclass(frozen=True, slots=True)
class PaperBoard:
    """The board of one workflow, or its backlog, whose columns are periods; one without a row says that nothing lies there."""

    name: str
    heads: list[Head]
    rows: list[PaperRow]


@dataclass(frozen=True, slots=True)
class _Lane:
    """A row with the cells that it has and the ids of the tasks in it; None of these for whatever is in no other."""

    name: str
    cells: list[Cell]
    ids: frozenset[str] | None


def slips_of(rows: Iterable[Row], today: date, days: int) -> list[Row]:
    """The tasks on the board in their order: none that others stand under, none that finished long ago.

    Args:
        days: for how many finished work stays.
    """

    def is_recent(row: Row) -> bool:
        done = row.task.actual_finish
        return row.state_class != "finished" or done is None or (today - done.date()).days < days

    found = [row for row in rows if not row.is_summary and is_recent(row)]
    return sorted(found, key=lambda row: (row.task.board_place, row.task.number))


def fitting(slips: Sequence[Row], most: int = MOST_SLIPS) -> list[Row]:
    """So many slips as go on paper, in their order: of each column the first, of none more than of another that has more."""
    if len(slips) <= most:
        return list(slips)
    standing: Counter[str] = Counter()
    places = []
    for index, row in enumerate(slips):
        places.append((standing[row.state_id], index))
        standing[row.state_id] += 1
    return [slips[index] for _, index in sorted(sorted(places)[:most], key=lambda one: one[1])]


def boards_on_paper(
    plan: Plan, slips: Sequence[Row], by: str, lanes: Mapping[str, str], columns: Columns
) -> list[PaperBoard]:  # fmt: skip
    """The boards of all workflows of a project, each with its backlog before it. A slip stands in exactly one cell.

    Args:
        slips: those shown, in their order.
        by: what makes the rows: ``none``, ``lanes`` (the project's own), ``parent``, or the key of a column.
        lanes: by task the lane of the project's own in which it lies.

    Raises:
        RuleError: there is no such column.
    """
    project = plan.project
    periods = {one.id for one in project.periods}
    counts = Counter(row.state_id for row in plan.rows.values() if not row.is_summary and not backlog_period(row, periods))
    found: list[PaperBoard] = []
    for workflow in (None, *(one.id for one in project.workflows)):
        states = [one for one in project.states_of(workflow) if one.state_class != "dropped" or counts[one.id]]
        ids = {one.id for one in states}
        here = [row for row in slips if row.state_id in ids]
        name = project.name_of_workflow(workflow) if project.workflows else ""
        waiting = [row for row in here if backlog_period(row, periods)]
        if waiting:
            found.append(_backlog(project, name, waiting))
        lying = [row for row in here if not backlog_period(row, periods)]
        rows = [_filled(lane, lying_in) for lane, lying_in in _rows(plan, workflow, states, lying, by, lanes, columns)]
        found.append(PaperBoard(name, [_head(one, counts, states) for one in states], rows))
    return found


def _backlog(project: Project, name: str, slips: Sequence[Row]) -> PaperBoard:
    lying = {one.id: [row for row in slips if row.task.period_id == one.id] for one in project.periods}
    heads = [Head(one.name, len(lying[one.id])) for one in project.periods]
    title = f"{name}: backlog" if name else "Backlog"
    return PaperBoard(title, heads, [PaperRow("", [PaperCell(1, lying[one.id]) for one in project.periods])])


def _head(state: State, counts: Mapping[str, int], states: Sequence[State]) -> Head:
    is_first = bool(state.step) and not state.step_of
    name = f"{state.name}: {state.step}" if is_first else state.name
    whole = sum(counts[one.id] for one in states if state.id in {one.id, one.step_of})
    stage = (whole, state.column_limit) if is_first and state.column_limit is not None else None
    return Head(name, counts[state.id], state.limit, stage)


def _rows(
    plan: Plan, workflow: str | None, states: Sequence[State], slips: Sequence[Row], by: str, lanes: Mapping[str, str],
    columns: Columns,
) -> list[tuple[_Lane, list[Row]]]:  # fmt: skip
    """The rows of one board with their slips; each slip is in the first that names it, else in the last."""
    if not states:
        return []
    found = _lanes(plan, workflow, states, slips, by, lanes, columns)
    rest = list(slips)
    filled: list[tuple[_Lane, list[Row]]] = []
    for lane in found:
        ids = lane.ids
        inside = rest if ids is None else [row for row in rest if row.task.id in ids]
        rest = [] if ids is None else [row for row in rest if row.task.id not in ids]
        filled.append((lane, inside))
    return [one for one in filled if one[1] or len(filled) == 1]


def _lanes(
    plan: Plan, workflow: str | None, states: Sequence[State], slips: Sequence[Row], by: str, lanes: Mapping[str, str],
    columns: Columns,
) -> list[_Lane]:  # fmt: skip
    plain = cells_of(states, None)
    if by == OWN_LANES:
        mine = [one for one in plan.project.lanes if one.workflow == workflow]
        lying: dict[str, set[str]] = {}
        for row in slips:
            lying.setdefault(lanes.get(row.task.id, ""), set()).add(row.task.id)
        own = [_Lane(one.name, cells_of(states, one), frozenset(lying.get(one.id, ()))) for one in mine]
        return [*own, _Lane("Everything else" if own else "", plain, None)]
    if by == ONE_ROW:
        return [_Lane("", plain, None)]
    return [_Lane(name, plain, frozenset(ids)) for name, ids in _named(plan, slips, by, columns)]


def _named(plan: Plan, slips: Sequence[Row], by: str, columns: Columns) -> list[tuple[str, list[str]]]:
    """The ids of slips by what a field holds, with its name, in the order that the field has."""
    if by != PARENT:
        groups = arrange(slips, View(groups=(by,)), columns, Viewer("")).groups or []
        return [(one.names[0][:1].upper() + one.names[0][1:], one.ids) for one in groups]
    under: dict[str | None, list[str]] = {}
    for row in slips:
        under.setdefault(row.task.parent_id, []).append(row.task.id)
    above = [(row.task.title, under[one]) for one, row in plan.rows.items() if one in under]
    return [*above, *([("Under nothing", under[None])] if None in under else [])]


def _filled(lane: _Lane, slips: Sequence[Row]) -> PaperRow:
    in_state: dict[str, list[Row]] = {}
    for row in slips:
        in_state.setdefault(row.state_id, []).append(row)
    cells = []
    for cell in lane.cells:
        lying = [row for state in cell.states for row in in_state.get(state, ())]
        if len(cell.states) > 1:
            lying.sort(key=lambda row: (row.task.board_place, row.task.number))
        cells.append(PaperCell(len(cell.states), lying, cell.skipped))
    return PaperRow(lane.name, cells)
