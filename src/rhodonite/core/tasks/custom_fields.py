"""What a project defines for its tasks itself: fields, kinds and marks, and the values that its fields may have."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal

from ..common.errors import RuleError
from .boards import Blank, Lane, Period, Workflow
from .model import KINDS, OPEN_CLASSES, OWN, Project, Task

FieldType = Literal[
    "text", "number", "money", "date", "yes_no", "person", "choice", "choices", "link", "computed", "tasks", "tied"
]
FIELD_TYPES: dict[FieldType, str] = {
    "text": "text",
    "number": "number",
    "money": "money",
    "date": "date",
    "yes_no": "yes or no",
    "person": "person",
    "choice": "one of a list",
    "choices": "several of a list",
    "link": "link to a page",
    "computed": "computed",
    "tasks": "tasks of a kind",
    "tied": "work of other projects",
}
CARRIED: dict[str, str] = {
    "state": "State", "owner": "Owner", "start": "Start", "finish": "Finish", "deadline": "Deadline", "percent": "Percent done",
    "priority": "Priority", "health": "Health", "effort": "Effort", "held_by": "Held by", "marks": "Marks",
    "agreed_finish": "Agreed finish", "variance": "Variance",
}  # fmt: skip
"""What a field that points to tasks of other projects can carry across."""
OF_THE_OTHER = "own:"
"""Before the name of a field of the other project's own, which is carried."""
MOST_CARRIED = 20
SHAPES = ("square", "circle", "triangle", "star", "flag", "drop", "cross", "ring")
COLOURS = ("ink", "rose", "verdigris", "ochre", "ember", "slate", "violet", "moss")
LONGEST_NAME = 60
LONGEST_TEXT = 2000
LONGEST_HTML = 200_000
"""Characters of a description or a comment, marks included."""
LONGEST_TYPED_VALUE = 10_000
LONGEST_NUMBER = 60
LONGEST_OPTION = 120
MOST_OPTIONS = 200
MOST_OF_A_SORT = 100


@dataclass(frozen=True, slots=True)
class Option:
    """One of the list that a field chooses from."""

    id: str
    name: str
    colour: str = "slate"


@dataclass(frozen=True, slots=True)
class CustomField:
    """A field that a project has added to its tasks.

    Attributes:
        help: what to put into it, shown beside it.
        unit: of a number; of money its currency.
        decimals: of a number or money.
        options: of a list.
        formula: of a computed field.
        kinds: the kinds of task that have it; all where empty.
        default: what new tasks have in it, None for nothing.
        required_from: the state from which on it must be filled; None for never.
        target_kind: the kind of the tasks that a field of type ``tasks`` points to.
        carries: of a field of type ``tied`` the fields of the other side that are shown on this one.
        progress: of such a field: the percent done of the task comes from what it is tied to.
        broken: the names of settings that lie in the tables and cannot be read; they stand as if nobody had set them.
    """

    id: str
    name: str
    type: FieldType
    place: str
    help: str = ""
    unit: str = ""
    decimals: int = 0
    options: tuple[Option, ...] = ()
    formula: str = ""
    kinds: tuple[str, ...] = ()
    default: Any = None
    required_from: str | None = None
    target_kind: str | None = None
    carries: tuple[str, ...] = ()
    progress: bool = False
    broken: tuple[str, ...] = ()

    @property
    def key(self) -> str:
        """Under which it stands among the fields of a task."""
        return OWN + self.id

    def is_for(self, kind: str) -> bool:
        """True where tasks of a kind have it."""
        return not self.kinds or kind in self.kinds


@dataclass(frozen=True, slots=True)
class CustomKind:
    """A kind of task that a project has added. ``states`` are those that its tasks pass through; all where empty."""

    id: str
    name: str
    place: str
    shape: str = "square"
    colour: str = "slate"
    states: tuple[str, ...] = ()
    broken: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class ProjectMark:
    """A sign that people of a project put on a task to draw attention."""

    id: str
    name: str
    place: str
    shape: str = "flag"
    colour: str = "rose"
    broken: tuple[str, ...] = ()


Definition = CustomField | CustomKind | ProjectMark | Workflow | Lane | Period | Blank


def kind_exists(kind: str, project: Project) -> bool:
    """True for a kind that every project has, or one of this project's own."""
    return kind in KINDS or any(one.id == kind for one in project.kinds)


def kind_name(kind: str, project: Project) -> str:
    """What a kind is called."""
    return next((one.name for one in project.kinds if one.id == kind), kind)


def check_text(html: Any, field: str = "description") -> str:
    """A text that people write, as it comes in. Raises RuleError where it is none, or longer than a text can be."""
    if not isinstance(html, str):
        raise RuleError("Send a text.", field)
    if len(html) > LONGEST_HTML:
        raise RuleError(f"A text has {LONGEST_HTML} characters at most. Attach it as a file.", field)
    return html


def defaults(project: Project, kind: str) -> dict[str, Any]:
    """What a new task of a kind has in the project's own fields."""
    return {field.key: field.default for field in project.fields if field.default is not None and field.is_for(kind)}


def missing(task: Task, state_id: str, project: Project) -> list[CustomField]:
    """The fields that a task must have filled in a state, and has not: those that are required from it or an earlier one on.

    States of a class that drops work require nothing.
    """
    state = project.state(state_id)
    order = {one.id: index for index, one in enumerate(project.states_of(state.workflow_id))}
    if state.state_class not in OPEN_CLASSES | {"finished"}:
        return []
    return [
        field
        for field in project.fields
        if field.required_from in order
        and order[field.required_from] <= order[state_id]
        and field.is_for(task.kind)
        and task.own.get(field.id) is None
    ]


def check_required(after: Task, before: Task, project: Project) -> None:
    """Raises RuleError where a task has come to a state that requires a field which it has not filled, or where what a state
    requires is taken away."""
    lacking = missing(after, after.state_id, project)
    if before.state_id == after.state_id and lacking:  # what was lacking before is no fault of this change
        known = {one.id for one in missing(before, before.state_id, project)}
        lacking = [one for one in lacking if one.id not in known]
    if lacking:
        names = ", ".join(field.name for field in lacking)
        state = project.state(after.state_id).name
        raise RuleError(f"Fill in {names} first: “{after.title}” needs {'it' if len(lacking) == 1 else 'them'} in {state}.",
                        lacking[0].key)  # fmt: skip
