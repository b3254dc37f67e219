"""Work over several projects in one view: the fields that their tasks share.

Built-in fields are the same everywhere. A field of a project's own is one with those of the same name, type and unit in
other projects; states, kinds and marks are one where they have one name.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import replace
from datetime import date
from typing import get_args

from ..common.errors import RuleError
from ..schedule.plan import Row
from .catalogue import NAMED_IN, Catalogue
from .columns import Column, Columns, ColumnType, Raw
from .conditions import Clause
from .scope import Scope
from .view import View

PROJECT = "project"
_PREFIX = "named."
_BY_NAME = frozenset({"state", "kind", "marks"})
"""Built-in columns whose ids are a project's own."""


def shared_key(column: Column) -> str | None:
    """Under which key a column stands among those of other projects; None for one that is of use in its own only."""
    if column.own is None:
        return None if column.key.startswith(NAMED_IN) else column.key
    if column.own.type == "tasks":
        return None
    return f"{_PREFIX}{column.type}.{column.unit}.{column.name.casefold()}"


class _Joint(Columns):
    """Columns beside which other projects may have more."""

    def column(self, key: str) -> Column:
        """A column by its key; where only other projects have it, one without values. Raises RuleError for no such key."""
        return self.columns.get(key) or Column(key, key.rsplit(".", 1)[-1], _type_in(key), lambda _: None)


class Shared(_Joint):
    """The columns of one plan as they are shared with other projects: ids that are the project's own become names."""

    def __init__(self, catalogue: Catalogue) -> None:
        super().__init__(catalogue.people, catalogue.teams, catalogue.today)
        self.plan = catalogue.plan
        project = catalogue.plan.project
        self.columns[PROJECT] = Column(PROJECT, "Project", "one_of", lambda _: project.id, choices={project.id: project.name})
        for column in catalogue.columns.values():
            key = shared_key(column)
            if key is not None and key not in self.columns:
                own_ids = column.own is not None and column.own.type in {"choice", "choices"}
                self.columns[key] = replace(_named(column) if own_ids or key in _BY_NAME else column, key=key)


def _type_in(key: str) -> ColumnType:
    """The type that a key of a shared own field tells. Raises RuleError for what is no such key."""
    kind = key.removeprefix(_PREFIX).split(".", 1)[0]
    if not key.startswith(_PREFIX) or kind not in get_args(ColumnType):
        raise RuleError("There is no such field in any project. Choose another.", key)
    return kind  # type: ignore[return-value]


def _named(column: Column) -> Column:
    """A column whose ids have become the names that they stand for."""
    names, value = column.choices, column.value

    def by_name(row: Row) -> Raw:
        raw = value(row)
        if isinstance(raw, tuple):
            return tuple(names[one] for one in raw if one in names)
        return names.get(str(raw)) if raw is not None else None

    return replace(column, value=by_name, choices={name: name for name in names.values()})


class Across(_Joint):
    """The columns of several plans. Values are taken once, plan by plan, so that no two plans have to stand still at once."""

    def __init__(self, people: Mapping[str, str], teams: Mapping[str, str], today: date) -> None:
        super().__init__(people, teams, today)
        self._values: dict[str, dict[str, Raw]] = {}

    def add(self, shared: Shared, rows: Sequence[Row], keys: Collection[str]) -> None:
        """Add the columns of one plan, and the values that some of its rows have in those that are asked for."""
        for key, column in shared.columns.items():
            known = self.columns.get(key)
            choices = {**known.choices, **column.choices} if known else column.choices
            self.columns[key] = replace(known or column, value=self._value_of(key), choices=choices)
        columns = [shared.column(key) for key in keys]
        for row in rows:
            self._values[row.task.id] = {column.key: column.value(row) for column in columns}

    def _value_of(self, key: str) -> Callable[[Row], Raw]:
        values = self._values
        return lambda row: values[row.task.id].get(key)


def keys_of(view: View) -> set[str]:
    """The columns that a view takes values from."""
    tints = {clause.key for tint in view.tints for clause in tint.where.clauses}
    return {one.key for one in view.columns} | set(view.groups) | {one.key for one in view.sorts} | tints


def projects_asked(scope: Scope) -> set[str] | None:
    """The ids of the projects that a sentence names in a clause that must hold; None where it may be any."""
    if scope.where.joined == "any" and len(scope.where.parts) > 1:
        return None
    found: set[str] | None = None
    for part in scope.where.parts:
        if isinstance(part, Clause) and (part.key, part.operator) == (PROJECT, "any"):
            named = set(part.value if isinstance(part.value, list | tuple) else [part.value])
            found = named if found is None else found & named
    return found
