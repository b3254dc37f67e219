"""The cells of the board: of which columns each lane has which."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..tasks.boards import Lane
from ..tasks.model import Project, State


@dataclass(frozen=True, slots=True)
class Cell:
    """Where slips lie.

    Attributes:
        states: those that stand in it, in order; several where a lane joins them. What is put down here comes into the first.
        skipped: True where the tasks of its lane do not pass through it: nothing is put down here.
    """

    states: tuple[str, ...]
    skipped: bool = False

    @property
    def state_id(self) -> str:
        """By which it is named."""
        return self.states[0]


def cells_of(states: Sequence[State], lane: Lane | None) -> list[Cell]:
    """The cells of a lane, from left to right: each state stands in exactly one.

    Args:
        states: of the lane's workflow, in order.
        lane: None for what no lane takes.
    """
    ids = [one.id for one in states]
    if lane is None:
        return [Cell((one,)) for one in ids]
    run_from = {first: last for first, last in lane.joins if first in ids and last in ids and ids.index(first) < ids.index(last)}
    found, at = [], 0
    while at < len(ids):
        end = ids.index(run_from[ids[at]]) if ids[at] in run_from else at
        found.append(Cell(tuple(ids[at : end + 1]), end == at and ids[at] in lane.skips))
        at = end + 1
    return found


def cell_of(project: Project, lane: Lane, state_id: str) -> Cell | None:
    """The cell of a lane in which a state stands; None where it is of another workflow."""
    return next((one for one in cells_of(project.states_of(lane.workflow), lane) if state_id in one.states), None)
