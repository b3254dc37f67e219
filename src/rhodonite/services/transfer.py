"""Tasks in and out as CSV."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from decimal import Decimal

from pymysql.cursors import Cursor

from ..core.catalogue import Catalogue
from ..core.dates import say_day
from ..core.durations import say_duration, say_length
from ..core.errors import RuleError
from ..core.model import CONSTRAINT_WORDS, OPEN_CLASSES, Person
from ..core.own import OwnField
from ..core.plan import Plan, Row
from ..core.scope import Scope, select
from ..core.tints import Tint, colouring
from ..formats import csv_tasks
from ..formats.html import from_words
from ..store import definitions as definition_rows
from ..store import people as people_rows
from ..store import projects as project_rows
from .context import Actor, AlreadyDone, new_id, open_project
from .plans import make_calendar, see_plan
from .ripples import write_fields
from .tasks import NewTask, changing, insert_tasks
from .teams import asker_of

SHOWN_ROWS = 8
SHOWN_PROBLEMS = 200


@dataclass(frozen=True, slots=True)
class Preview:
    """What a file would bring: its columns, how they are matched, its first rows, and what cannot be read."""

    heads: list[str]
    matching: list[str | None]
    first_rows: list[list[str]]
    tasks: int
    nested: int
    problems: list[csv_tasks.Problem]
    more_problems: int


def preview_csv(cur: Cursor, actor: Actor, code: str, data: bytes, matching: Sequence[str | None] | None) -> Preview:
    """Read a file without writing anything.

    Args:
        matching: the field of each column, where the person has corrected it.

    Raises:
        RuleError: the file cannot be read at all, or the matching cannot be.
    """
    open_project(cur, actor, code, "edit")
    table = csv_tasks.read_table(data)
    against = _against(cur, actor, code)
    chosen = _matching(table, matching, against)
    tasks: list[csv_tasks.ReadTask] = []
    problems: list[csv_tasks.Problem] = []
    if matching is not None or "title" in chosen:
        tasks, problems = csv_tasks.read_tasks(table, chosen, against)
    return Preview(
        heads=table.heads,
        matching=chosen,
        first_rows=[cells for _, cells in table.rows[:SHOWN_ROWS]],
        tasks=len(table.rows),
        nested=sum(task.parent is not None for task in tasks),
        problems=problems[:SHOWN_PROBLEMS],
        more_problems=max(0, len(problems) - SHOWN_PROBLEMS),
    )


def _matching(table: csv_tasks.Table, matching: Sequence[str | None] | None, against: csv_tasks.Reading) -> list[str | None]:
    if matching is None:
        return csv_tasks.match_columns(table.heads, against.own)
    known = {*csv_tasks.FIELDS, *(one.key for one in against.own)}
    if len(matching) != len(table.heads) or any(name and name not in known for name in matching):
        raise RuleError("Match each column of the file to a field, or leave it out.", "matching")
    return list(matching)


def _against(cur: Cursor, actor: Actor, code: str) -> csv_tasks.Reading:
    project = open_project(cur, actor, code, "edit")
    _, week, exceptions = project_rows.calendar(cur, project.id)
    return csv_tasks.Reading(
        people_rows.all_people(cur),
        project_rows.states(cur, project.id),
        actor.clock.now().date(),
        make_calendar(week, exceptions).day_minutes,
        _own_fields(cur, project.id),
    )


def _own_fields(cur: Cursor, project_id: str) -> list[OwnField]:
    """The fields of a project's own that a file can fill."""
    defined = [one for _, one in definition_rows.of_project(cur, project_id)]
    return [one for one in defined if isinstance(one, OwnField) and one.type not in {"computed", "tasks"}]


def fields_of_csv(cur: Cursor, actor: Actor, code: str) -> dict[str, str]:
    """What a column of a file can be matched to, the project's own fields included."""
    project = open_project(cur, actor, code, "edit")
    return {**csv_tasks.FIELDS, **{one.key: one.name for one in _own_fields(cur, project.id)}}


def import_csv(cur: Cursor, actor: Actor, code: str, data: bytes, matching: Sequence[str | None]) -> int:
    """Bring all rows of a file in as tasks, or none. Returns how many.

    Raises:
        RuleError: a row cannot be read; its ``field`` is ``file``.
    """
    table = csv_tasks.read_table(data)
    against = _against(cur, actor, code)
    tasks, problems = csv_tasks.read_tasks(table, _matching(table, matching, against), against)
    if problems:
        first = problems[0]
        raise RuleError(f"Line {first.line}, {first.column}: {first.reason} Nothing was imported.", "file")
    ids = [new_id() for _ in tasks]
    above = {task.parent for task in tasks}
    new = [
        NewTask(
            id=ids[index],
            title=tasks[index].title,
            parent_id=ids[parent] if (parent := tasks[index].parent) is not None else None,
            after_id="end",
            fields=_leaf_fields(tasks[index], index in above),
            description=from_words(tasks[index].description),
        )
        for index in csv_tasks.parents_first(tasks)
    ]
    try:
        with changing(cur, actor, code, f"imported {len(new)} tasks from CSV") as (log, held):
            insert_tasks(cur, actor, log, held.plan, new)
            for index, task in enumerate(tasks):
                if task.waits_for:
                    links = tuple(replace(link, from_id=ids[int(link.from_id)]) for link in task.waits_for)
                    write_fields(cur, log, log.tasks[ids[index]], {"waits_for": links})
    except AlreadyDone:
        pass
    return len(new)


_COMPUTED = {"start", "finish", "duration", "elapsed", "constraint_type", "constraint_at", "percent", "effort", "state_id"}


def _leaf_fields(task: csv_tasks.ReadTask, has_tasks_under_it: bool) -> dict[str, object]:
    """A row with rows under it becomes a summary task: what is computed for those is not taken from the file."""
    if not has_tasks_under_it:
        return task.fields
    return {name: value for name, value in task.fields.items() if name not in _COMPUTED}


COLUMNS = ("number", "outline", "title", "kind", "owner", "helpers", "state", "priority", "start", "finish",
           "duration", "waits_for", "constraint", "slack", "deadline", "effort", "percent", "held", "late")  # fmt: skip
_HEADS = {**csv_tasks.FIELDS, "number": "Code", "slack": "Slack", "held": "Held", "late": "Days late"}


def export_csv(cur: Cursor, actor: Actor, code: str, scope: Scope, columns: Sequence[str], tints: Sequence[Tint]) -> bytes:
    """The tasks within a scope, in outline order, with the columns that the lens shows, and which tints colour them.

    Raises:
        RuleError: a column that there is none of.
    """
    project = open_project(cur, actor, code, "see")
    people = {person.id: person for person in people_rows.all_people(cur)}
    with see_plan(cur, actor, project) as held:
        plan = held.plan
        catalogue = Catalogue(plan, {one: person.name for one, person in people.items()})
        chosen = list(columns) or [*COLUMNS, *(one.key for one in plan.project.fields)]
        heads = [_HEADS.get(name) or catalogue.column(name).name for name in chosen]
        asker = asker_of(cur, actor)
        inside = set(select(plan, scope, asker).ids)
        within = [(row, number) for row, _, number in plan.ordered() if row.task.id in inside]
        rows = [
            [_cell(name, row, number, plan, people) if name in COLUMNS else _said(catalogue, name, row) for name in chosen]
            for row, number in within
        ]
        if tints:
            coloured = colouring([row for row, _ in within], tints, catalogue, asker)
            heads.append("Tint")
            for cells, (row, _) in zip(rows, within, strict=True):
                cells.append("; ".join(tint.name for tint in coloured.all_of(row.task.id)))
    return csv_tasks.write_csv(heads, rows)


def _said(catalogue: Catalogue, key: str, row: Row) -> str:
    """A value of any other column: numbers without their unit, so that a spreadsheet can reckon with them."""
    raw = catalogue.column(key).value(row)
    return f"{raw:f}" if isinstance(raw, Decimal) else catalogue.say(key, raw)


def _cell(name: str, row: Row, outline: str, plan: Plan, people: dict[str, Person]) -> str:
    task = row.task
    if name in {"start", "finish"}:
        at = row.start if name == "start" else row.finish
        return at.strftime("%Y-%m-%d %H:%M") if at else ""
    if name == "duration":
        return say_length(row.duration, row.day_minutes, task.elapsed and not row.is_summary) if row.duration else ""
    if name == "effort":
        return say_duration(row.effort, plan.calendar.day_minutes) if row.effort else ""
    if name == "slack":
        return "" if row.slack is None or row.state_class not in OPEN_CLASSES else _slack(row.slack, plan)
    owner = people.get(task.owner_id or "")
    state = next((s.name for s in plan.project.states if s.id == row.state_id), "")
    return {
        "number": f"{plan.project.code} {task.number}",
        "outline": outline,
        "title": task.title,
        "kind": task.kind,
        "owner": owner.name if owner else "",
        "helpers": "; ".join(people[one].name for one in task.helpers if one in people),
        "state": state,
        "priority": "won't" if task.priority == "wont" else task.priority or "",
        "deadline": task.deadline.strftime("%Y-%m-%d") if task.deadline else "",
        "waits_for": row.waits,
        "constraint": _constraint(row),
        "percent": str(row.percent),
        "held": row.held or "",
        "late": str(row.late_days) if row.late_days else "",
    }[name]


def _slack(minutes: int, plan: Plan) -> str:
    said = say_duration(abs(minutes), plan.calendar.day_minutes)
    return f"-{said}" if minutes < 0 else said


def _constraint(row: Row) -> str:
    task = row.task
    if row.is_summary:
        return ""
    at = task.constraint_at.strftime(" %Y-%m-%d %H:%M") if task.constraint_at else ""
    return f"{CONSTRAINT_WORDS[task.constraint_type]}{at}"


def export_name(actor: Actor, code: str) -> str:
    """A file name for an export, with the day."""
    return f"{code.upper()} tasks {say_day(actor.clock.now().date())}.csv"
