"""Tasks out as CSV or XLSX: what a lens shows, or all that comes in again."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from decimal import Decimal

from pymysql.cursors import Cursor

from ...core.common.durations import say_duration, say_length
from ...core.people.model import Person
from ...core.schedule.plan import Plan, Row
from ...core.talk.parts import Check, Checklist, say_checklists
from ...core.tasks.booked import KEEPS_WORDS, say_booked
from ...core.tasks.custom_fields import kind_name
from ...core.tasks.model import CONSTRAINT_WORDS, OPEN_CLASSES, OWN, Task
from ...core.tasks.recurrence import read_repeat
from ...core.tasks.recurrence_words import say_repeat
from ...core.views.catalogue import Catalogue
from ...core.views.scope import Scope, select
from ...core.views.tints import Tint, colouring, tells_money
from ...formats.csv_columns import FIELDS
from ...formats.html import from_words, words_of
from ...store.people import people as people_rows
from ...store.resources import bookable as resource_rows
from ...store.talk import parts as part_rows
from ...store.tasks import tasks as task_rows
from ..common.context import Actor, open_project
from ..common.left_out import Counted, Format, leaves_out
from ..common.plan_cache import see_plan
from ..cost.book import may_see_costs
from ..cost.costs import shown_money
from ..people.teams import viewer_of
from .tied import ties_of

COLUMNS = ("number", "outline", "title", "kind", "owner", "helpers", "state", "priority", "start", "finish", "duration",
           "actual_start", "actual_finish", "percent", "waits_for", "constraint", "deadline", "effort", "people", "calendar", "marks",
           "held", "holder", "repeats", "keeps", "checklists", "description", "slack", "late")  # fmt: skip
"""What a file has where nothing is chosen: all that can come in again, and what is computed and reads well beside it."""
_HEADS = {**FIELDS, "number": "Code", "slack": "Slack", "late": "Days late"}


Write = Callable[[Sequence[str], Iterable[Sequence[str]]], bytes]
"""Writes heads and rows as a file."""


def export_tasks(
    cur: Cursor, actor: Actor, code: str, scope: Scope, columns: Sequence[str], tints: Sequence[Tint], write: Write
) -> bytes:
    """The tasks within a scope, in outline order, with the columns that the lens shows, and which tints colour them.

    Args:
        columns: empty for all.

    Raises:
        RuleError: a column that there is none of.
    """
    project = open_project(cur, actor, code, "see")
    people = {person.id: person for person in people_rows.all_people(cur)}
    held = see_plan(cur, actor, project)
    plan = held.plan
    money = shown_money(cur, actor, held)
    catalogue = Catalogue(plan, {one: person.name for one, person in people.items()}, money=money, ties=ties_of(cur, actor, held))
    on_board = [name for name in ("lane", "period") if name in catalogue.columns]
    chosen = list(columns) or [*COLUMNS, *on_board, *(one.key for one in plan.project.fields)]
    heads = [_HEADS.get(name) or catalogue.column(name).name for name in chosen]
    viewer = viewer_of(cur, actor)
    inside = set(select(plan, scope, viewer, money).ids)
    within = [(row, number) for row, _, number in plan.ordered() if row.task.id in inside]
    described = task_rows.descriptions(cur, plan.project.id) if "description" in chosen else {}
    cells = _Cells(
        plan,
        catalogue,
        people,
        described,
        {one.id: plan.project.state_label(one) for one in plan.project.states},
        resource_rows.resource_names(cur),
        may_see_costs(cur, actor, plan.project),
        _checklists_of(cur, [row.task.id for row, _ in within if row.task.checks]) if "checklists" in chosen else {},
        None if columns else {lane.id: lane.name for lane in plan.project.lanes},
    )
    rows = [cells.of_row(chosen, row, number) for row, number in within]
    tints = [one for one in tints if money is not None or not tells_money(one)]
    if tints:
        coloured = colouring([row for row, _ in within], tints, catalogue, viewer)
        heads.append("Tint")
        for one, (row, _) in zip(rows, within, strict=True):
            one.append("; ".join(tint.name for tint in coloured.all_of(row.task.id)))
    return write(heads, rows)


def _checklists_of(cur: Cursor, task_ids: Sequence[str]) -> dict[str, list[tuple[str, list[tuple[str, bool]]]]]:
    """By task the names of its checklists with what is to be ticked."""
    items: dict[str, list[tuple[str, bool]]] = defaultdict(list)
    for check in part_rows.of_tasks(cur, Check, task_ids):
        items[check.checklist_id].append((check.text, check.done_at is not None))
    found: dict[str, list[tuple[str, list[tuple[str, bool]]]]] = defaultdict(list)
    for made in part_rows.of_tasks(cur, Checklist, task_ids):
        found[made.task_id].append((made.name, items[made.id]))
    return found


@dataclass(frozen=True, slots=True)
class _Cells:
    """Writes cells so that they are read as what they were: dates to the minute, durations and names in words."""

    plan: Plan
    catalogue: Catalogue
    people: Mapping[str, Person]
    described: Mapping[str, str]
    states: Mapping[str, str]
    crews: Mapping[str, str]
    money: bool
    checklists: Mapping[str, Sequence[tuple[str, Sequence[tuple[str, bool]]]]]
    lanes: Mapping[str, str] | None
    """Names of lanes where all that can come in again is written: cells then tell what was set by hand, such as the lane or
    why a task is held, not what follows."""

    def of_row(self, names: Sequence[str], row: Row, outline: str) -> list[str]:
        """The cells of one row in some columns."""
        plain = self._plain(row, outline)
        return [plain[name] if name in plain else self._cell(name, row) for name in names]

    def _cell(self, name: str, row: Row) -> str:
        if name.startswith(OWN):
            return self._own(name, row)
        if name == "lane" and self.lanes is not None:
            return self.lanes.get(row.task.lane_id or "", "")
        if name not in COLUMNS:
            return self._said(name, row)
        if name in {"duration", "effort", "slack"}:
            return self._length(name, row)
        return _moment(row.start if name == "start" else row.finish)

    def _said(self, key: str, row: Row) -> str:
        """A value of any other column: numbers without their unit, so that a spreadsheet can reckon with them."""
        raw = self.catalogue.column(key).value(row)
        return f"{raw:f}" if isinstance(raw, Decimal) else self.catalogue.say(key, raw)

    def _own(self, key: str, row: Row) -> str:
        """One of the project's own fields; tasks that it points to by their numbers."""
        column = self.catalogue.column(key)
        raw = column.value(row)
        if not isinstance(raw, tuple):
            return self._said(key, row)
        if column.own is not None and column.own.type == "tasks":
            return ", ".join(str(self.plan.tasks[one].number) for one in raw if one in self.plan.rows)
        return "; ".join(column.choices[one] for one in raw if one in column.choices)

    def _length(self, name: str, row: Row) -> str:
        day = self.plan.calendar.day_minutes
        if name == "duration":
            elapsed = row.task.elapsed and not row.is_summary
            return say_length(row.duration, row.day_minutes, elapsed) if row.duration else ""
        if name == "effort":
            return say_duration(row.effort, day) if row.effort else ""
        if row.slack is None or row.state_class not in OPEN_CLASSES:
            return ""
        return ("-" if row.slack < 0 else "") + say_duration(abs(row.slack), day)

    def _plain(self, row: Row, outline: str) -> dict[str, str]:
        """What stands in most columns, by their names: it costs little to write all of it down."""
        task, project = row.task, self.plan.project
        owner = self.people.get(task.owner_id or "")
        calendar = project.calendars.get(task.calendar_id or "")
        return {
            "number": f"{project.code} {task.number}",
            "outline": outline,
            "title": task.title,
            "kind": kind_name(task.kind, project),
            "owner": owner.name if owner else "",
            "helpers": "; ".join(self.people[one].name for one in task.helpers if one in self.people),
            "state": self.states.get(row.state_id, ""),
            "priority": "won't" if task.priority == "wont" else task.priority or "",
            "actual_start": "" if row.is_summary else _moment(task.actual_start),
            "actual_finish": "" if row.is_summary else _moment(task.actual_finish),
            "deadline": _moment(task.deadline),
            "waits_for": row.waits,
            "constraint": "" if row.is_summary else _constraint(task),
            "calendar": calendar.name if calendar and not row.is_summary else "",
            "marks": "; ".join(mark.name for mark in project.marks if mark.id in task.marks) if task.marks else "",
            "percent": str(row.percent),
            "held": (task.held_reason if self.lanes is not None else row.held) or "",
            "holder": self._code_of(task.held_by_id),
            "repeats": say_repeat(repeat, self.plan.now.date()) if (repeat := read_repeat(task.repeats)) else "",
            "keeps": KEEPS_WORDS[task.keeps] if task.keeps else "",
            "checklists": say_checklists(self.checklists.get(task.id, ())),
            "description": words_of(self.described[task.id]) if task.id in self.described else "",
            "late": str(row.late_days) if row.late_days else "",
            "people": self._people(row) if task.bookings else "",
        }

    def _code_of(self, task_id: str | None) -> str:
        """The code of another task of the project."""
        return f"{self.plan.project.code} {self.plan.tasks[task_id].number}" if task_id in self.plan.rows else ""

    def _people(self, row: Row) -> str:
        """Who is booked, as it is typed."""
        names = ((self.people[one.who].name if one.who in self.people else self.crews.get(one.who, ""), one)
                 for one in row.task.bookings)  # fmt: skip
        return "; ".join(f"{name} {say_booked(one, money=self.money, exact=True)}".rstrip() for name, one in names if name)


def _moment(at: datetime | None) -> str:
    return at.strftime("%Y-%m-%d %H:%M") if at else ""


def _constraint(task: Task) -> str:
    at = f" {_moment(task.constraint_at)}" if task.constraint_at else ""
    return f"{CONSTRAINT_WORDS[task.constraint_type]}{at}"


@leaves_out
def _texts_left_out(cur: Cursor, _actor: Actor, plan: Plan, into: Format) -> Iterable[Counted]:
    """Descriptions: a table holds their words, a plan file none."""
    texts = [text for task_id, text in task_rows.descriptions(cur, plan.project.id).items() if task_id in plan.rows and text]
    if into == "plan":
        yield len(texts), "description", "descriptions"
    else:
        formatted = sum(from_words(words_of(text)) != text for text in texts)
        yield formatted, "description’s formatting and pictures", "descriptions’ formatting and pictures"
