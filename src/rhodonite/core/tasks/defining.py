"""What a project defines for itself: what can be, and how its settings lie in the tables."""

from __future__ import annotations

import re
from collections.abc import Callable, Collection, Mapping
from dataclasses import replace
from datetime import date
from typing import Any

from ..common.errors import RuleError
from .custom_fields import (
    COLOURS,
    FIELD_TYPES,
    LONGEST_NAME,
    LONGEST_OPTION,
    LONGEST_TEXT,
    MOST_OF_A_SORT,
    MOST_OPTIONS,
    SHAPES,
    CustomField,
    CustomKind,
    Definition,
    Option,
    ProjectMark,
)
from .custom_values import read_value
from .model import Project


def check_definition(one: Definition, others: Collection[Definition], project: Project, known: Collection[str]) -> None:
    """Raises RuleError where a field, kind or mark cannot be.

    Args:
        others: those of the same sort that the project has besides it.
        known: names that no field of its own may have, in lower case.
    """
    word = {CustomField: "field", CustomKind: "kind", ProjectMark: "mark"}[type(one)]
    if not one.name:
        raise RuleError(f"A {word} needs a name.", "name")
    if len(one.name) > LONGEST_NAME:
        raise RuleError(f"A name has {LONGEST_NAME} characters at most.", "name")
    if one.name.casefold() in {other.name.casefold() for other in others} | set(known):
        raise RuleError(f"There is a {word} called {one.name} already. Choose another name.", "name")
    if len(others) >= MOST_OF_A_SORT:
        raise RuleError(f"A project has {MOST_OF_A_SORT} {word}s at most.", "name")
    if isinstance(one, CustomField):
        _check_field(one, project)
    else:
        if one.shape not in SHAPES:
            raise RuleError(f"Choose a shape: {', '.join(SHAPES)}.", "shape")
        if one.colour not in COLOURS:
            raise RuleError(f"Choose a colour: {', '.join(COLOURS)}.", "colour")
        if isinstance(one, CustomKind) and not set(one.states) <= {state.id for state in project.states}:
            raise RuleError("One of those states is no longer in the workflow. Choose again.", "states")


def _check_field(one: CustomField, project: Project) -> None:
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


def _is_text(most: int) -> Callable[[Any], bool]:
    return lambda one: isinstance(one, str) and len(one) <= most


def _is_texts(one: Any) -> bool:
    return isinstance(one, list | tuple) and len(one) <= MOST_OF_A_SORT and all(_is_text(LONGEST_NAME)(each) for each in one)


def _is_option(one: Any) -> bool:
    return (
        isinstance(one, Mapping)
        and one.keys() <= {"id", "name", "colour"}
        and _is_text(LONGEST_NAME)(one.get("id"))
        and _is_text(LONGEST_OPTION)(one.get("name"))
        and one.get("colour", "slate") in COLOURS
    )


def _is_options(one: Any) -> bool:
    return isinstance(one, list | tuple) and len(one) <= MOST_OPTIONS and all(map(_is_option, one))


def _is_default(one: Any) -> bool:
    plain = one is None or isinstance(one, bool | int | float) or _is_text(LONGEST_TEXT)(one)
    return plain or _is_texts(one)


def _or_none(holds: Callable[[Any], bool]) -> Callable[[Any], bool]:
    return lambda one: one is None or holds(one)


_SETTINGS: dict[str, dict[str, Callable[[Any], bool]]] = {
    "field": {
        "type": lambda one: isinstance(one, str) and one in FIELD_TYPES,
        "help": _is_text(500),
        "unit": _is_text(20),
        "decimals": lambda one: isinstance(one, int) and not isinstance(one, bool) and 0 <= one <= 6,
        "options": _is_options,
        "formula": _is_text(LONGEST_TEXT),
        "kinds": _is_texts,
        "default": _is_default,
        "required_from": _or_none(_is_text(LONGEST_NAME)),
        "target_kind": _or_none(_is_text(LONGEST_NAME)),
    },
    "kind": {"shape": _is_text(20), "colour": _is_text(20), "states": _is_texts},
    "mark": {"shape": _is_text(20), "colour": _is_text(20)},
}


_HINTS = {
    "type": f"Choose a type: {', '.join(FIELD_TYPES)}.",
    "help": "The help of a field is a text of 500 characters at most.",
    "unit": "A unit is a text of 20 characters at most.",
    "decimals": "A number has from 0 to 6 decimals.",
    "options": f"The entries of a list need names that differ, {MOST_OPTIONS} at most, each with an id and a colour of the palette.",
    "formula": f"A formula is a text of {LONGEST_TEXT} characters at most.",
    "kinds": "Choose the kinds of task that have the field.",
    "default": "That cannot be what new tasks have in the field.",
}


def check_settings(sort: str, settings: Mapping[str, Any]) -> None:
    """Raises RuleError where a setting of a field, kind or mark is none of it, or of the wrong type."""
    for name, value in settings.items():
        holds = _SETTINGS[sort].get(name)
        if holds is None:
            raise RuleError(f"A {sort} has no setting called {str(name)[:60]}.", str(name)[:60])
        if not holds(value):
            raise RuleError(_HINTS.get(name, f"That cannot be the {name.replace('_', ' ')} of a {sort}."), name)


def kept_definition(sort: str, one_id: str, name: str, place: str, settings: Any) -> Definition:
    """A field, kind or mark as it lies in the tables. Settings that cannot be read are left out, and named in ``broken``."""
    kept = settings if isinstance(settings, Mapping) else {}
    known = _SETTINGS[sort]
    good = {key: value for key, value in kept.items() if key in known and known[key](value)}
    broken = sorted(str(key) for key in kept.keys() - good.keys())
    if sort == "field":
        good.setdefault("type", "text")
    return replace(definition_of(sort, one_id, name, place, good), broken=tuple(broken))


def definition_of(sort: str, one_id: str, name: str, place: str, settings: Mapping[str, Any]) -> Definition:
    """A field, kind or mark from the form that it is kept in. Raises RuleError as ``check_settings``."""
    check_settings(sort, settings)
    if sort == "field" and "type" not in settings:
        raise RuleError(_HINTS["type"], "type")
    if sort == "field":
        options = tuple(Option(**option) for option in settings.get("options", ()))
        rest: dict[str, Any] = {k: tuple(v) if k == "kinds" else v for k, v in settings.items() if k != "options"}
        return CustomField(one_id, name, place=place, options=options, **rest)
    if sort == "kind":
        kind: dict[str, Any] = {k: tuple(v) if k == "states" else v for k, v in settings.items()}
        return CustomKind(one_id, name, place, **kind)
    return ProjectMark(one_id, name, place, **settings)


def settings_of(one: Definition) -> dict[str, Any]:
    """The inverse of ``definition_of``: all but id, name and place, as JSON keeps it."""
    found: dict[str, Any] = {}
    for name in type(one).__slots__:
        if name in {"id", "name", "place", "broken"}:
            continue
        value = getattr(one, name)
        if name == "options":
            value = [{"id": o.id, "name": o.name, "colour": o.colour} for o in value]
        found[name] = list(value) if isinstance(value, tuple) else value
    return found
