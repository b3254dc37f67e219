"""Limits of the board: on a column, a step, a lane, a cell and a person; how many stand there, and what a change passes."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass

from ..schedule.plan import Plan, Row, backlog_period
from ..tasks.model import OPEN_CLASSES, LimitRule, Project, State
from .cells import cell_of

LONGEST_REASON = 300


@dataclass(frozen=True, slots=True)
class Place:
    """What has a limit.

    Attributes:
        key: ``column:STATE`` (a split stage as a whole), ``step:STATE``, ``lane:LANE``, ``cell:LANE:STATE`` or ``person:PERSON``.
        name: in words.
    """

    key: str
    name: str
    limit: int


@dataclass(frozen=True, slots=True)
class Standing:
    """How many tasks stand at a place."""

    place: Place
    count: int

    @property
    def is_over(self) -> bool:
        """True beyond its limit."""
        return self.count > self.place.limit


class LimitPassed(Exception):
    """A change passes limits, and the project asks for a reason or refuses it.

    Args:
        rule: which of these.
        passed: the places, with what would stand there.
    """

    def __init__(self, rule: LimitRule, passed: list[Standing]) -> None:
        said = "; ".join(f"{one.place.name} would hold {one.count} of {one.place.limit}" for one in passed)
        what = "Finish or move something there first." if rule == "refuse" else "Say why, or put it back."
        super().__init__(said)
        self.rule = rule
        self.passed = passed
        self.sentence = f"That passes a limit: {said}. {what}"


def has_limits(project: Project) -> bool:
    """True where anything of a project's board has a limit."""
    return (
        project.person_limit is not None
        or any(state.limit or state.column_limit for state in project.states)
        or any(lane.limit or lane.cells for lane in project.lanes)
    )


class Limits:
    """The limits of a project.

    Args:
        project: with its states and lanes.
        person: gives the name of somebody.
    """

    def __init__(self, project: Project, person: Callable[[str], str] = lambda _: "A person") -> None:
        self._project = project
        self._person = person
        self._states = {state.id: state for state in project.states}
        self._lanes = {lane.id: lane for lane in project.lanes}
        self._periods = {period.id for period in project.periods}
        self._cells = {
            (lane.id, state.id): cell
            for lane in project.lanes
            if lane.cells
            for state in project.states_of(lane.workflow)
            if (cell := cell_of(project, lane, state.id)) is not None and cell.state_id in lane.cells
        }

    def places(self) -> list[Place]:
        """All that have a limit, but for people."""
        found = []
        for state in self._project.states:
            label = self._project.state_label(state)
            if state.column_limit and not state.step_of:
                found.append(Place(f"column:{state.id}", label, state.column_limit))
            if state.limit:
                name = f"{label}, {state.step}" if state.step and not state.step_of else label
                found.append(Place(f"step:{state.id}" if state.step else f"column:{state.id}", name, state.limit))
        for lane in self._project.lanes:
            if lane.limit:
                found.append(Place(f"lane:{lane.id}", f"the lane {lane.name}", lane.limit))
            for state_id, limit in lane.cells.items():
                if state_id in self._states:
                    name = f"{lane.name} in {self._states[state_id].name}"
                    found.append(Place(f"cell:{lane.id}:{state_id}", name, limit))
        return found

    def stands_at(self, row: Row, lane_id: str | None) -> list[str]:
        """The keys of the places with a limit at which a task counts. What lies in the backlog counts nowhere."""
        state = self._states.get(row.state_id)
        if state is None or row.is_summary or backlog_period(row, self._periods):
            return []
        found = list(self._of_state(state))
        lane = self._lanes.get(lane_id or "")
        if lane is not None:
            if lane.limit and row.state_class in OPEN_CLASSES:
                found.append(f"lane:{lane.id}")
            if (cell := self._cells.get((lane.id, state.id))) is not None:
                found.append(f"cell:{lane.id}:{cell.state_id}")
        if self._project.person_limit and row.state_class == "active" and row.task.owner_id:
            found.append(f"person:{row.task.owner_id}")
        return found

    def _of_state(self, state: State) -> Iterable[str]:
        if state.limit:
            yield f"step:{state.id}" if state.step else f"column:{state.id}"
        head = self._states.get(state.step_of or state.id)
        if head is not None and head.column_limit:
            yield f"column:{head.id}"

    def counted(self, plan: Plan, lanes: Mapping[str, str]) -> Counter[str]:
        """How many tasks of a plan stand at each place. Grows with its tasks.

        Args:
            lanes: by task the lane in which it lies.
        """
        found: Counter[str] = Counter()
        for task_id, row in plan.rows.items():
            found.update(self.stands_at(row, lanes.get(task_id)))
        return found

    def standing(self, counts: Mapping[str, int]) -> list[Standing]:
        """Each place with what stands there; of people those who have work under way."""
        found = [Standing(place, counts.get(place.key, 0)) for place in self.places()]
        if self._project.person_limit:
            people = [key for key in counts if key.startswith("person:")]
            found += [Standing(self.person_place(key), counts[key]) for key in sorted(people)]
        return found

    def person_place(self, key: str) -> Place:
        """The place that is a person's own."""
        return Place(key, self._person(key.removeprefix("person:")), self._project.person_limit or 0)

    def passed(self, before: Mapping[str, int], after: Mapping[str, int]) -> list[Standing]:
        """What stands beyond its limit after a change, and more than before it."""
        return [one for one in self.standing(after) if one.is_over and one.count > before.get(one.place.key, 0)]
