"""A view of a project's tasks: what is shown, in which groups and order, with sums at the foot, and tints."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal
from typing import Any, Literal, get_args

from ..common.dates import say_day
from ..common.errors import RuleError
from ..common.rounding import rounded
from ..cost.shown import PREFIX
from ..people.viewer import Viewer
from ..schedule.plan import Row
from .columns import Column, Columns
from .conditions import Group, read_group
from .formula_values import total
from .tints import Tint, TintCount, tells_money, tinted

Foot = Literal["sum", "average", "least", "most", "filled"]
MOST_GROUPS = 2
MOST_SORTS = 4
ProjectLens = Literal["outline", "board", "schedule", "costs"]
PlaceLens = Literal["all_work", "time", "goals"]
"""What a sheet keeps: a lens of a project; the list over all projects, the report of time, or the goals."""
MOST_COLUMNS = 40


@dataclass(frozen=True, slots=True)
class Shown:
    """A column that is shown: how wide in pixels, and what stands at its foot."""

    key: str
    width: int | None = None
    foot: Foot | None = None


@dataclass(frozen=True, slots=True)
class Sort:
    """By what rows are sorted."""

    key: str
    down: bool = False


@dataclass(frozen=True, slots=True)
class View:
    """How work is shown. Without groups and sorts it stands as in the outline."""

    columns: tuple[Shown, ...] = ()
    groups: tuple[str, ...] = ()
    sorts: tuple[Sort, ...] = ()
    tints: tuple[Tint, ...] = ()
    where: Group = field(default_factory=Group)


@dataclass(frozen=True, slots=True)
class ViewGroup:
    """Rows that have the same value. ``path`` names the values from the outermost on; an inner group has two."""

    path: tuple[str, ...]
    names: tuple[str, ...]
    ids: list[str]
    feet: dict[str, str]
    tasks: int


@dataclass(frozen=True, slots=True)
class Arranged:
    """A view made for rows.

    Attributes:
        ids: in order, where it is sorted and not grouped; None where the outline's order stands.
        groups: the innermost groups in order, where it is grouped.
        outer: where there are two levels, the outer groups with their own feet, by their value.
        feet: by column the foot over all rows, in words.
        tints: by task, by what is coloured, the id of the tint.
    """

    ids: list[str] | None
    groups: list[ViewGroup] | None
    outer: dict[str, ViewGroup]
    feet: dict[str, str]
    tints: dict[str, dict[str, str]]
    tint_counts: list[TintCount]


def without_money(view: View) -> View:
    """A view for who may not see cost: without columns, groups, order and tints that show or follow it."""

    return View(
        tuple(one for one in view.columns if not one.key.startswith(PREFIX)),
        tuple(one for one in view.groups if not one.startswith(PREFIX)),
        tuple(one for one in view.sorts if not one.key.startswith(PREFIX)),
        tuple(one for one in view.tints if not tells_money(one)),
        view.where,
    )


def arrange(rows: Sequence[Row], view: View, catalogue: Columns, viewer: Viewer) -> Arranged:
    """Group, sort, sum and colour rows.

    Args:
        rows: those within the sentence, in outline order. Summary tasks are left out of groups and sums: what they
            have is computed from the tasks under them and would count twice.

    Raises:
        RuleError: a column that there is none of, or more levels than can be shown.
    """
    if len(view.groups) > MOST_GROUPS or len(view.sorts) > MOST_SORTS or len(view.columns) > MOST_COLUMNS:
        raise RuleError(f"A view has {MOST_GROUPS} levels of groups, {MOST_SORTS} sorts and {MOST_COLUMNS} columns at most.")
    leaves = [row for row in rows if not row.is_summary]
    ordered = sorted_rows(leaves, view.sorts, catalogue)
    tints, counts = tinted(rows, view.tints, catalogue, viewer) if view.tints else ({}, [])
    groups, outer = None, {}
    if view.groups:
        groups = _grouped(ordered, view, catalogue)
        if len(view.groups) > 1:
            outer = {one.path[0]: one for one in _grouped(ordered, _outer(view), catalogue)}
    ids = [row.task.id for row in ordered] if view.sorts and not view.groups else None
    return Arranged(ids, groups, outer, _feet(leaves, view.columns, catalogue), tints, counts)


def _outer(view: View) -> View:
    return View(view.columns, view.groups[:1], view.sorts)


def sorted_rows(rows: Sequence[Row], sorts: Sequence[Sort], catalogue: Columns) -> list[Row]:
    """Rows in the order of several columns, the first deciding; what has no value stands last either way."""
    found = list(rows)
    for sort in reversed(sorts):
        column = catalogue.column(sort.key)
        keys = {row.task.id: catalogue.order_of(column, row) for row in found}
        filled = [row for row in found if keys[row.task.id][0] == 0]
        empty = [row for row in found if keys[row.task.id][0]]
        filled.sort(key=lambda row: keys[row.task.id], reverse=sort.down)
        found = filled + empty
    return found


def _grouped(rows: Sequence[Row], view: View, catalogue: Columns) -> list[ViewGroup]:
    columns = [catalogue.column(key) for key in view.groups]
    found: dict[tuple[str, ...], list[Row]] = {}
    order: dict[tuple[str, ...], tuple[Any, ...]] = {}
    for row in rows:
        path = tuple(_bucket(column, row) for column in columns)
        found.setdefault(path, []).append(row)
        order.setdefault(path, tuple(catalogue.order_of(column, row) for column in columns))
    return [
        ViewGroup(
            path,
            tuple(_group_name(column, value, catalogue) for column, value in zip(columns, path, strict=True)),
            [row.task.id for row in found[path]],
            _feet(found[path], view.columns, catalogue),
            len(found[path]),
        )
        for path in sorted(found, key=lambda one: order[one])
    ]


def _bucket(column: Column, row: Row) -> str:
    raw = column.value(row)
    if raw is None:
        return ""
    if isinstance(raw, tuple):
        return raw[0] if raw else ""
    if isinstance(raw, Decimal):
        return f"{raw.normalize():f}"
    return {True: "yes", False: "no"}[raw] if isinstance(raw, bool) else str(raw)


def _group_name(column: Column, value: str, catalogue: Columns) -> str:
    if not value:
        return f"no {column.name.lower()}"
    if column.type in {"one_of", "several_of"}:
        return column.choices.get(value, "gone")
    if column.type == "yes_no":
        return f"{column.name}: {value}"
    if column.type == "date":
        day = say_day(date.fromisoformat(value), catalogue.today)
        return f"week of {day}" if column.key.endswith("_week") else day
    return f"{value} {column.unit}".strip()


def _feet(rows: Sequence[Row], columns: Sequence[Shown], catalogue: Columns) -> dict[str, str]:
    return {one.key: foot_of(rows, one.foot, catalogue.column(one.key), catalogue) for one in columns if one.foot}


def foot_of(rows: Sequence[Row], foot: Foot, column: Column, catalogue: Columns) -> str:
    """What stands at the foot of a column: a sum, an average, the least, the most, or how many have a value."""
    values = [column.value(row) for row in rows]
    if foot == "filled":
        return f"{sum(one is not None and one not in {'', ()} for one in values)} of {len(values)}"
    value = total(foot, [one for one in values if not isinstance(one, tuple)])
    if isinstance(value, Decimal):
        value = rounded(value, column.decimals if foot != "average" else max(1, column.decimals))
        said = f"{value:,f}"
        whole = said.rstrip("0").rstrip(".") if "." in said and column.own is None else said
        return f"{whole} {column.unit}".strip()
    return catalogue.say(column.key, value)


def _check_keys(kept: Mapping[str, Any]) -> None:
    """Raises TypeError where a view names its fields by anything but texts, or a foot that there is none of."""
    shown = [*(kept.get("columns") or ()), *(kept.get("sorts") or ())]
    keys = [*(one["key"] for one in shown), *(kept.get("groups") or ())]
    feet = {one.get("foot") for one in kept.get("columns") or ()} - {None}
    if not all(isinstance(one, str) for one in keys) or not feet <= set(get_args(Foot)):
        raise TypeError("no view")


def read_view(kept: Mapping[str, Any]) -> View:
    """A view from the form that sheets and requests keep it in. Raises RuleError where it is of another form."""
    try:
        _check_keys(kept)
        return View(
            columns=tuple(Shown(one["key"], one.get("width"), one.get("foot")) for one in kept.get("columns") or ()),
            groups=tuple(kept.get("groups") or ()),
            sorts=tuple(Sort(one["key"], bool(one.get("down"))) for one in kept.get("sorts") or ()),
            tints=tuple(
                Tint(
                    str(one["id"]), str(one["name"]), read_group(one.get("where")), str(one["colour"]), str(one.get("sign", "square")),
                    tuple(one.get("covers") or ()), one.get("cell"),
                )
                for one in kept.get("tints") or ()
            ),
            where=read_group(kept.get("where")),
        )  # fmt: skip
    except (KeyError, TypeError, AttributeError) as error:
        raise RuleError("That view cannot be read. Choose it again.", "view") from error
