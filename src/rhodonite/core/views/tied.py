"""Tied work: what a field that points to tasks of other projects carries across, and how far what is tied is."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal
from typing import TYPE_CHECKING

from ..common.rounding import rounded
from ..schedule.plan import Plan, Row
from ..tasks.custom_fields import CARRIED, OF_THE_OTHER, CustomField
from .formula_values import Value

if TYPE_CHECKING:
    from .catalogue import Catalogue
    from .columns import ColumnType

PREFIX = "carried."
_EARLIEST = frozenset({"start"})
_DATES = frozenset({"start", "finish", "deadline", "agreed_finish"})
_NUMBERS = frozenset({"percent", "effort", "variance"})


@dataclass(frozen=True, slots=True)
class TiedTask:
    """A task of another project that something is tied to, with the columns of that project."""

    row: Row
    columns: Catalogue


@dataclass(frozen=True, slots=True)
class Ties:
    """What the tasks of a project are tied to, as far as one reader may see it.

    Attributes:
        by_item: by task, by the field, the tasks that it points to.
        hidden: by task, by the field, how many more there are.
    """

    by_item: Mapping[str, Mapping[str, Sequence[TiedTask]]] = field(default_factory=dict)
    hidden: Mapping[str, Mapping[str, int]] = field(default_factory=dict)

    def of(self, task_id: str, field_id: str) -> Sequence[TiedTask]:
        """What one field of a task points to."""
        return self.by_item.get(task_id, {}).get(field_id, ())

    def more(self, task_id: str, field_id: str) -> int:
        """How many more it points to that the reader may not see."""
        return self.hidden.get(task_id, {}).get(field_id, 0)


def carried_key(one: CustomField, name: str) -> str:
    """The key of the column that shows a carried field."""
    return f"{PREFIX}{one.id}.{name}"


def carried_name(name: str) -> str:
    """What a carried field is called."""
    return name.removeprefix(OF_THE_OTHER) if name.startswith(OF_THE_OTHER) else CARRIED[name]


def carried_type(name: str) -> ColumnType:
    """How the column of a carried field compares."""
    return "date" if name in _DATES else "number" if name in _NUMBERS else "text"


def value_of(one: TiedTask, name: str) -> Value:
    """What a tied task has in a field: a date or a number as such, all else in words. Fields of its project's own go by name."""
    columns = one.columns
    key = name
    if name.startswith(OF_THE_OTHER):
        wanted = name.removeprefix(OF_THE_OTHER).casefold()
        key = next((each.key for each in columns.columns.values() if each.own and each.name.casefold() == wanted), "")
    column = columns.columns.get(key)
    if column is None:
        return None
    raw = column.value(one.row)
    return raw if carried_type(name) != "text" else columns.say(key, raw) or None


def carried_value(several: Sequence[TiedTask], name: str) -> Value:
    """What is carried from all that a task is tied to: the earliest start, the latest of other dates, the percent of the whole,
    the sum of other numbers, and of words each once."""
    if name == "percent" and several:
        return Decimal(tied_percent([one.row for one in several]))
    found = [value for one in several if (value := value_of(one, name)) is not None]
    if not found:
        return None
    if name in _DATES:
        days = [one for one in found if isinstance(one, date)]
        return min(days) if name in _EARLIEST else max(days)
    if name in _NUMBERS:
        return sum((one for one in found if isinstance(one, Decimal)), Decimal(0))
    return ", ".join(dict.fromkeys(map(str, found)))


def tied_percent(rows: Iterable[Row]) -> int:
    """How far some work is: the mean of its percents by effort; where not all have one, by length; else each alike.

    What was dropped does not count. Of nothing it is 0.
    """
    left = [row for row in rows if row.state_class != "dropped"]
    if not left:
        return 0
    for weights in ([row.effort or 0 for row in left], [row.duration or 0 for row in left], [1] * len(left)):
        if all(weights):
            whole = sum(row.percent * weight for row, weight in zip(left, weights, strict=True))
            percent = rounded(Decimal(whole) / sum(weights), 0)
            # rounding finishes nothing that is not finished
            return int(percent) if percent < 100 or all(row.percent == 100 for row in left) else 99
    return 0


def tied_to(plan: Plan, task_id: str) -> dict[str, list[str]]:
    """By the field what a task points to in other projects."""
    task = plan.tasks.get(task_id)
    if task is None:
        return {}
    return {one.id: list(task.own[one.id]) for one in plan.project.fields if one.type == "tied" and task.own.get(one.id)}
