"""What a project defines for itself: what can be, and how its settings lie in the tables."""

from __future__ import annotations

import re
from collections.abc import Callable, Collection, Mapping
from dataclasses import replace
from datetime import date
from typing import Any

from ..common.errors import RuleError
from .boards import Blank, Lane, Period, Workflow, blank_fault
from .custom_fields import (
    CARRIED,
    COLOURS,
    FIELD_TYPES,
    LONGEST_NAME,
    LONGEST_OPTION,
    LONGEST_TEXT,
    MOST_CARRIED,
    MOST_OF_A_SORT,
    MOST_OPTIONS,
    OF_THE_OTHER,
    SHAPES,
    CustomField,
    CustomKind,
    Definition,
    Option,
    ProjectMark,
)
from .custom_values import read_value
from .model import Project
from .workflow import LARGEST_LIMIT


def check_definition(one: Definition, others: Collection[Definition], project: Project, known: Collection[str]) -> None:
    """Raises RuleError where a field, kind or mark cannot be.

    Args:
        others: those of the same sort that the project has besides it.
        known: names that no field of its own may have, in lower case.
    """
    word = {
        CustomField: "field", CustomKind: "kind", ProjectMark: "mark", Workflow: "workflow", Lane: "lane", Period: "period",
        Blank: "blank",
    }[type(one)]  # fmt: skip
    if not one.name:
        raise RuleError(f"A {word} needs a name.", "name")
    if len(one.name) > LONGEST_NAME:
        raise RuleError(f"A name has {LONGEST_NAME} characters at most.", "name")
    if one.name.casefold() in {other.name.casefold() for other in others} | set(known):
        raise RuleError(f"There is a {word} called {one.name} already. Choose another name.", "name")
    if isinstance(one, Workflow) and one.name.casefold() == project.workflow_name.casefold():
        raise RuleError(f"The main workflow is called {one.name} already. Choose another name.", "name")
    if len(others) >= MOST_OF_A_SORT:
        raise RuleError(f"A project has {MOST_OF_A_SORT} {word}s at most.", "name")
    if isinstance(one, CustomField):
        _check_field(one, project)
    elif isinstance(one, Workflow):
        _check_workflow(one, others)
    elif isinstance(one, Lane):
        _check_lane(one, project)
    elif isinstance(one, Period):
        if one.first and one.last and one.last < one.first:
            raise RuleError("A period ends after it begins. Choose its days again.", "last")
    elif isinstance(one, CustomKind | ProjectMark):
        if one.shape not in SHAPES:
            raise RuleError(f"Choose a shape: {', '.join(SHAPES)}.", "shape")
        if one.colour not in COLOURS:
            raise RuleError(f"Choose a colour: {', '.join(COLOURS)}.", "colour")
        if isinstance(one, CustomKind) and not set(one.states) <= {state.id for state in project.states}:
            raise RuleError("One of those states is no longer in the workflow. Choose again.", "states")


def _check_workflow(one: Workflow, others: Collection[Definition]) -> None:
    """What goes through one workflow goes through no other."""
    for other in others:
        if not isinstance(other, Workflow):
            continue
        if set(one.kinds) & set(other.kinds):
            raise RuleError(f"Those kinds go through {other.name} already. Take them away there first.", "kinds")
        if set(one.branches) & set(other.branches):
            raise RuleError(f"That branch goes through {other.name} already. Take it away there first.", "branches")


def _check_lane(one: Lane, project: Project) -> None:
    """Its cells are of the board that it lies on: joined runs go forward and do not meet."""
    if one.shape not in SHAPES or one.colour not in COLOURS:
        raise RuleError(f"Choose a sign: {', '.join(SHAPES)}, in {', '.join(COLOURS)}.", "shape")
    order = {state.id: index for index, state in enumerate(project.states_of(one.workflow))}
    if not order:
        raise RuleError("That workflow is gone. Choose another.", "workflow")
    taken: set[int] = set()
    for first, last in one.joins:
        if first not in order or last not in order or order[first] >= order[last]:
            raise RuleError("Joined cells run from a column to a later one. Choose them again.", "joins")
        run = set(range(order[first], order[last] + 1))
        if run & taken:
            raise RuleError("A cell is joined once. Choose the columns again.", "joins")
        taken |= run
    if not {*one.skips, *one.cells} <= order.keys():
        raise RuleError("One of those states is no longer in the workflow. Choose again.", "skips")
    if any(order[skipped] in taken for skipped in one.skips):
        raise RuleError("A lane either joins a column or skips it.", "skips")
    if len(set(one.skips)) >= len(order):
        raise RuleError("A lane passes through one column at least.", "skips")


def cells_there(lane: Lane, project: Project) -> Lane:
    """A lane without what it says of states that are gone."""
    there = {state.id for state in project.states_of(lane.workflow)}
    return replace(
        lane,
        joins=tuple(run for run in lane.joins if set(run) <= there),
        skips=tuple(one for one in lane.skips if one in there),
        cells={one: limit for one, limit in lane.cells.items() if one in there},
    )


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
    if one.type != "tied" and (one.carries or one.progress):
        raise RuleError("Only a field that points to work of other projects carries fields across.", "carries")
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


def _are_carried(one: Any) -> bool:
    return (
        isinstance(one, list | tuple)
        and len(one) <= MOST_CARRIED
        and all(isinstance(name, str) and (name in CARRIED or _names_other(name)) for name in one)
    )


def _names_other(name: str) -> bool:
    return name.startswith(OF_THE_OTHER) and 0 < len(name) - len(OF_THE_OTHER) <= LONGEST_NAME


def _is_limit(one: Any) -> bool:
    return isinstance(one, int) and not isinstance(one, bool) and 1 <= one <= LARGEST_LIMIT


def _is_limits(one: Any) -> bool:
    return isinstance(one, Mapping) and len(one) <= MOST_OF_A_SORT and all(map(_is_limit, one.values()))


def _is_runs(one: Any) -> bool:
    return (
        isinstance(one, list | tuple)
        and len(one) <= MOST_OF_A_SORT
        and all(isinstance(run, list | tuple) and len(run) == 2 and _is_texts(run) for run in one)
    )


def _is_day(one: Any) -> bool:
    try:
        return isinstance(one, str) and bool(date.fromisoformat(one))
    except ValueError:
        return False


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
        "carries": _are_carried,
        "progress": lambda one: isinstance(one, bool),
    },
    "kind": {"shape": _is_text(20), "colour": _is_text(20), "states": _is_texts},
    "mark": {"shape": _is_text(20), "colour": _is_text(20)},
    "workflow": {"kinds": _is_texts, "branches": _is_texts},
    "lane": {
        "workflow": _or_none(_is_text(LONGEST_NAME)),
        "limit": _or_none(_is_limit),
        "shape": _is_text(20),
        "colour": _is_text(20),
        "where": _or_none(lambda one: isinstance(one, Mapping)),
        "joins": _is_runs,
        "skips": _is_texts,
        "cells": _is_limits,
    },
    "period": {"first": _or_none(_is_day), "last": _or_none(_is_day)},
    "blank": {"task": lambda one: blank_fault(one) is None},
}


_HINTS = {
    "type": f"Choose a type: {', '.join(FIELD_TYPES)}.",
    "help": "The help of a field is a text of 500 characters at most.",
    "unit": "A unit is a text of 20 characters at most.",
    "decimals": "A number has from 0 to 6 decimals.",
    "options": f"The entries of a list need names that differ, {MOST_OPTIONS} at most, each with an id and a colour of the palette.",
    "formula": f"A formula is a text of {LONGEST_TEXT} characters at most.",
    "kinds": "Choose the kinds of task that have the field.",
    "carries": f"Choose the fields that are carried across, {MOST_CARRIED} at most.",
    "default": "That cannot be what new tasks have in the field.",
    "limit": f"A limit lies between 1 and {LARGEST_LIMIT}.",
    "cells": f"The limit of a cell lies between 1 and {LARGEST_LIMIT}.",
    "joins": "Joined cells are runs, each from one column to another.",
    "first": "A period begins on a day, such as 2027-04-01.",
    "last": "A period ends on a day, such as 2027-06-30.",
}


def check_settings(sort: str, settings: Mapping[str, Any]) -> None:
    """Raises RuleError where a setting of a field, kind or mark is none of it, or of the wrong type."""
    for name, value in settings.items():
        holds = _SETTINGS[sort].get(name)
        if holds is None:
            raise RuleError(f"A {sort} has no setting called {str(name)[:60]}.", str(name)[:60])
        if sort == "blank" and name == "task" and (fault := blank_fault(value)):
            raise RuleError(fault, name)
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
        rest: dict[str, Any] = {k: tuple(v) if k in {"kinds", "carries"} else v for k, v in settings.items() if k != "options"}
        return CustomField(one_id, name, place=place, options=options, **rest)
    if sort == "kind":
        kind: dict[str, Any] = {k: tuple(v) if k == "states" else v for k, v in settings.items()}
        return CustomKind(one_id, name, place, **kind)
    if sort == "workflow":
        return Workflow(one_id, name, place, tuple(settings.get("kinds", ())), tuple(settings.get("branches", ())))
    if sort == "lane":
        lane: dict[str, Any] = {k: tuple(v) if k == "skips" else v for k, v in settings.items()}
        return Lane(one_id, name, place, **lane | {"joins": tuple((a, b) for a, b in settings.get("joins", ()))})
    if sort == "period":
        first, last = (date.fromisoformat(day) if (day := settings.get(end)) else None for end in ("first", "last"))
        return Period(one_id, name, place, first, last)
    if sort == "blank":
        return Blank(one_id, name, place, **settings)
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
        elif name == "joins":
            value = [list(run) for run in value]
        elif isinstance(value, date):
            value = value.isoformat()
        found[name] = list(value) if isinstance(value, tuple) else value
    return found
