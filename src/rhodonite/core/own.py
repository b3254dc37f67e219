"""What a project defines for its tasks itself: fields, kinds and marks, and the values that its fields may have."""

from __future__ import annotations

import re
from collections.abc import Collection, Mapping
from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal, InvalidOperation
from typing import Any, Literal

from .dates import read_day
from .errors import RuleError
from .model import KINDS, OPEN_CLASSES, OWN, Project, Task

FieldType = Literal["text", "number", "money", "date", "yes_no", "person", "choice", "choices", "link", "computed", "tasks"]
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
}
SHAPES = ("square", "circle", "triangle", "star", "flag", "drop", "cross", "ring")
COLOURS = ("ink", "rose", "verdigris", "ochre", "ember", "slate", "violet", "moss")
LONGEST_NAME = 60
LONGEST_TEXT = 2000
MOST_OPTIONS = 200
MOST_OF_A_SORT = 100


@dataclass(frozen=True, slots=True)
class Option:
    """One of the list that a field chooses from."""

    id: str
    name: str
    colour: str = "slate"


@dataclass(frozen=True, slots=True)
class OwnField:
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

    @property
    def key(self) -> str:
        """Under which it stands among the fields of a task."""
        return OWN + self.id

    def is_for(self, kind: str) -> bool:
        """True where tasks of a kind have it."""
        return not self.kinds or kind in self.kinds


@dataclass(frozen=True, slots=True)
class OwnKind:
    """A kind of task that a project has added. ``states`` are those that its tasks pass through; all where empty."""

    id: str
    name: str
    place: str
    shape: str = "square"
    colour: str = "slate"
    states: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class ProjectMark:
    """A sign that people of a project put on a task to draw attention."""

    id: str
    name: str
    place: str
    shape: str = "flag"
    colour: str = "rose"


Definition = OwnField | OwnKind | ProjectMark


def check_definition(one: Definition, others: Collection[Definition], project: Project, known: Collection[str]) -> None:
    """Raises RuleError where a field, kind or mark cannot be.

    Args:
        others: those of the same sort that the project has besides it.
        known: names that no field of its own may have, in lower case.
    """
    word = {OwnField: "field", OwnKind: "kind", ProjectMark: "mark"}[type(one)]
    if not one.name:
        raise RuleError(f"A {word} needs a name.", "name")
    if len(one.name) > LONGEST_NAME:
        raise RuleError(f"A name has {LONGEST_NAME} characters at most.", "name")
    if one.name.casefold() in {other.name.casefold() for other in others} | set(known):
        raise RuleError(f"There is a {word} called {one.name} already. Choose another name.", "name")
    if len(others) >= MOST_OF_A_SORT:
        raise RuleError(f"A project has {MOST_OF_A_SORT} {word}s at most.", "name")
    if isinstance(one, OwnField):
        _check_field(one, project)
    else:
        if one.shape not in SHAPES:
            raise RuleError(f"Choose a shape: {', '.join(SHAPES)}.", "shape")
        if one.colour not in COLOURS:
            raise RuleError(f"Choose a colour: {', '.join(COLOURS)}.", "colour")
        if isinstance(one, OwnKind) and not set(one.states) <= {state.id for state in project.states}:
            raise RuleError("One of those states is no longer in the workflow. Choose again.", "states")


def _check_field(one: OwnField, project: Project) -> None:
    if one.type not in FIELD_TYPES:
        raise RuleError(f"Choose a type: {', '.join(FIELD_TYPES.values())}.", "type")
    if not re.match(r"[^\W\d]", one.name):
        raise RuleError("The name of a field begins with a letter, so that formulas can name it.", "name")
    if not 0 <= one.decimals <= 6:
        raise RuleError("A number has from 0 to 6 decimals.", "decimals")
    if one.type in {"choice", "choices"}:
        names = [option.name.casefold() for option in one.options]
        if not names:
            raise RuleError("Give the list at least one entry to choose.", "options")
        if len(names) > MOST_OPTIONS or not all(names) or len(set(names)) < len(names):
            raise RuleError(f"The entries of a list need names that differ, {MOST_OPTIONS} at most.", "options")
    if one.required_from is not None and one.required_from not in {state.id for state in project.states}:
        raise RuleError("That state is no longer in the workflow. Choose another.", "required_from")
    if one.type == "computed" and (one.required_from or one.default is not None):
        raise RuleError("A computed field needs no default and cannot be required.", "formula")
    if one.default is not None:
        read_value(one, one.default, date(2000, 1, 1))


def kind_exists(kind: str, project: Project) -> bool:
    """True for a kind that every project has, or one of this project's own."""
    return kind in KINDS or any(one.id == kind for one in project.kinds)


def kind_name(kind: str, project: Project) -> str:
    """What a kind is called."""
    return next((one.name for one in project.kinds if one.id == kind), kind)


def read_value(field: OwnField, typed: Any, today: date) -> Any:
    """Read what was typed into a field, into the form that it is kept in.

    Returns:
        text and link: str; number and money: a number; date: ISO text; yes_no: bool; person: id; choice: an option's
        id; choices and tasks: a list of ids. None for nothing.

    Raises:
        RuleError: it cannot be read, or the field is computed.
    """
    if field.type == "computed":
        raise RuleError(f"{field.name} is computed. Change what it is computed from.", field.key)
    if typed is None or (isinstance(typed, str) and not typed.strip()) or typed == []:
        return None
    try:
        return _READERS[field.type](field, typed, today)
    except RuleError as error:
        raise RuleError(error.sentence, field.key) from error


def _text(field: OwnField, typed: Any, _: date) -> str:
    text = str(typed).strip()
    if len(text) > LONGEST_TEXT:
        raise RuleError(f"{field.name} has {LONGEST_TEXT} characters at most.")
    return text


def _number(field: OwnField, typed: Any, _: date) -> float | int:
    text = str(typed).replace(field.unit, "") if field.unit else str(typed)
    cleaned = re.sub(r"[\s’']", "", text)
    if re.fullmatch(r"-?\d{1,3}(,\d{3})+(\.\d+)?", cleaned):
        cleaned = cleaned.replace(",", "")
    try:
        number = round(Decimal(cleaned.replace(",", ".")), field.decimals)
    except InvalidOperation as error:
        raise RuleError(f"“{typed}” is no number. Write {field.name} as 1200 or 12.5.") from error
    if not number.is_finite() or abs(number) >= 10**15:
        raise RuleError(f"{field.name} is too large.")
    return float(number) if field.decimals else int(number)


def _date(_: OwnField, typed: Any, today: date) -> str:
    if isinstance(typed, datetime):
        return typed.date().isoformat()
    return typed.isoformat() if isinstance(typed, date) else read_day(str(typed), today).isoformat()


_YES = {"yes", "y", "true", "1", "x", "✓"}
_NO = {"no", "n", "false", "0", "-"}


def _yes_no(field: OwnField, typed: Any, _: date) -> bool:
    word = str(typed).strip().lower()
    if word not in _YES | _NO:
        raise RuleError(f"Write yes or no for {field.name}.")
    return word in _YES


def _option(field: OwnField, typed: Any) -> str:
    text = str(typed).strip()
    for option in field.options:
        if text == option.id or text.casefold() == option.name.casefold():
            return option.id
    raise RuleError(f"“{text}” is not in the list of {field.name}. Choose {', '.join(o.name for o in field.options[:12])}.")


def _options(field: OwnField, typed: Any, _: date) -> list[str]:
    several = typed if isinstance(typed, list | tuple) else re.split(r"[;,]", str(typed))
    found = [_option(field, one) for one in several if str(one).strip()]
    return list(dict.fromkeys(found))


def _link(field: OwnField, typed: Any, _: date) -> str:
    address = str(typed).strip()
    if re.match(r"(?!https?:|mailto:)[a-z][a-z0-9+.-]*:(?!\d)", address, re.I):
        raise RuleError(f"{field.name} leads to pages only: begin it with https:// or http://.")
    if "://" not in address and not address.startswith("mailto:"):
        address = f"https://{address}"
    if not re.fullmatch(r"(https?://[^\s/]+\S*|mailto:\S+@\S+)", address) or len(address) > LONGEST_TEXT:
        raise RuleError(f"Write {field.name} as an address, such as https://corvane.example/plans.")
    return address


def _ids(_: OwnField, typed: Any, __: date) -> list[str]:
    return list(dict.fromkeys(str(one) for one in (typed if isinstance(typed, list | tuple) else [typed])))


_READERS: dict[str, Any] = {
    "text": _text,
    "number": _number,
    "money": _number,
    "date": _date,
    "yes_no": _yes_no,
    "person": lambda _, typed, __: str(typed),
    "choice": lambda field, typed, _: _option(field, typed),
    "choices": _options,
    "link": _link,
    "tasks": _ids,
}


def defaults(project: Project, kind: str) -> dict[str, Any]:
    """What a new task of a kind has in the project's own fields."""
    return {field.key: field.default for field in project.fields if field.default is not None and field.is_for(kind)}


def missing(task: Task, state_id: str, project: Project) -> list[OwnField]:
    """The fields that a task must have filled in a state, and has not: those that are required from it or an earlier one on.

    States of a class that drops work require nothing.
    """
    order = {state.id: index for index, state in enumerate(project.states)}
    state = project.state(state_id)
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


def check_required(task: Task, state_before: str | None, project: Project) -> None:
    """Raises RuleError where a task has come to a state that requires a field which it has not filled."""
    if state_before == task.state_id:
        return
    if lacking := missing(task, task.state_id, project):
        names = ", ".join(field.name for field in lacking)
        state = project.state(task.state_id).name
        raise RuleError(f"Fill in {names} first: “{task.title}” needs {'it' if len(lacking) == 1 else 'them'} in {state}.",
                        lacking[0].key)  # fmt: skip


def definition_of(sort: str, one_id: str, name: str, place: str, settings: Mapping[str, Any]) -> Definition:
    """A field, kind or mark from the form that it is kept in."""
    if sort == "field":
        options = tuple(Option(**option) for option in settings.get("options", ()))
        rest: dict[str, Any] = {k: tuple(v) if k == "kinds" else v for k, v in settings.items() if k != "options"}
        return OwnField(one_id, name, place=place, options=options, **rest)
    if sort == "kind":
        kind: dict[str, Any] = {k: tuple(v) if k == "states" else v for k, v in settings.items()}
        return OwnKind(one_id, name, place, **kind)
    return ProjectMark(one_id, name, place, **settings)


def settings_of(one: Definition) -> dict[str, Any]:
    """The inverse of ``definition_of``: all but id, name and place, as JSON keeps it."""
    found: dict[str, Any] = {}
    for name in type(one).__slots__:
        if name in {"id", "name", "place"}:
            continue
        value = getattr(one, name)
        if name == "options":
            value = [{"id": o.id, "name": o.name, "colour": o.colour} for o in value]
        found[name] = list(value) if isinstance(value, tuple) else value
    return found
