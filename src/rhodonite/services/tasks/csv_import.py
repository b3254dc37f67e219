"""Tasks in from CSV: look at a file, match its columns and names, then bring in all of its rows or none."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import asdict, dataclass, field, replace
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.errors import RuleError
from ...core.schedule.plan import Plan
from ...core.tasks.model import Project
from ...formats import csv_columns, csv_table, csv_tasks, xlsx_table
from ...formats.html import from_words
from ..common.context import Actor, AlreadyDone, new_id, open_project
from ..common.jobs import work
from ..common.pipeline import changing, who_can_be_booked
from ..common.plan_cache import PLANS, read_meta
from ..common.progress import Progress, silent, told
from ..people.people import list_people
from .projects import every_visible_project
from .tasks import NewTask, Seen, insert_tasks, wanted_fields

SHOWN_ROWS = 8
SHOWN_PROBLEMS = 200
LONG = 1_000
"""Rows from which a file is for the worker."""
Answers = Mapping[str, Mapping[str, str | None]]


@dataclass(frozen=True, slots=True)
class Wanted:
    """What a person has said about a file.

    Attributes:
        matching: the field of each column, or None where a column is left out; None for what its heads say.
        answers: by field and name what the name means, an id or None; ``people``, ``bookings``, ``state``, ``kind``,
            ``marks``, ``calendar`` or the key of an own field.
    """

    matching: Sequence[str | None] | None = None
    answers: Answers = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Preview:
    """What a file would bring: its columns, how they are matched, its first rows, what cannot be read, and what is not known.

    Attributes:
        choices: by field what the names in ``unknown`` can mean: names by id.
    """

    fields: dict[str, str]
    heads: list[str]
    matching: list[str | None]
    first_rows: list[list[str]]
    tasks: int
    nested: int
    problems: list[csv_tasks.Problem]
    more_problems: int
    remarks: list[csv_tasks.Problem]
    unknown: list[csv_tasks.Unknown]
    choices: dict[str, dict[str, str]]


@dataclass(slots=True)
class _Understood:
    """A file that was read against a project: its new tasks and, by their ids, the fields that follow from the cells."""

    project: Project
    against: csv_tasks.Reading
    matching: list[str | None]
    file: csv_tasks.ReadFile
    new: list[NewTask]
    ready: dict[str, dict[str, Any]]


def rows_of(data: bytes) -> int:
    """About how many rows a file has; a spreadsheet packs one into twenty bytes at the least."""
    return len(data) // 20 if data.startswith(xlsx_table.SIGN) else data.count(b"\n")


def preview_csv(cur: Cursor, actor: Actor, code: str, data: bytes, wanted: Wanted, progress: Progress = silent) -> Preview:
    """Read a file without writing anything.

    Raises:
        RuleError: the file cannot be read at all, or the matching cannot be.
    """
    project = open_project(cur, actor, code, "edit")
    table = csv_table.read_table(data)
    understood = _understand(cur, actor, project, table, wanted, progress, guessing=wanted.matching is None)
    file, against = understood.file, understood.against
    return Preview(
        fields={**csv_columns.FIELDS, **{one.key: one.name for one in against.own}},
        heads=table.heads,
        matching=understood.matching,
        first_rows=[cells for _, cells in table.rows[:SHOWN_ROWS]],
        tasks=len(table.rows),
        nested=sum(task.parent is not None for task in file.tasks),
        problems=file.problems[:SHOWN_PROBLEMS],
        more_problems=max(0, len(file.problems) - SHOWN_PROBLEMS),
        remarks=file.remarks[:SHOWN_PROBLEMS],
        unknown=file.unknown,
        choices={name: against.choices(name) for name in sorted({one.field for one in file.unknown})},
    )


def import_csv(cur: Cursor, actor: Actor, code: str, data: bytes, wanted: Wanted, progress: Progress = silent) -> int:
    """Bring all rows of a file in as tasks, or none. Returns how many.

    Raises:
        RuleError: a cell cannot be read, or a name is not known and nobody has said what it means; its ``field`` is ``file``.
    """
    project = open_project(cur, actor, code, "edit")
    understood = _understand(cur, actor, project, csv_table.read_table(data), wanted, progress)
    _refuse(understood.file)
    try:
        with changing(cur, actor, code, f"imported {len(understood.new)} tasks from CSV") as (log, held):
            same = held.plan.project.meta_revision == understood.project.meta_revision
            insert_tasks(cur, actor, log, held.plan, understood.new, understood.ready if same else None, progress)
            progress("planning", 0.97)
    except AlreadyDone:
        pass
    return len(understood.new)


def _refuse(file: csv_tasks.ReadFile) -> None:
    if file.problems:
        first = file.problems[0]
        raise RuleError(f"Line {first.line}, {first.column}: {first.reason} Nothing was imported.", "file")
    asked = [one for one in file.unknown if not one.answered]
    if asked:
        names = ", ".join(f"“{one.text[:60]}” ({one.field})" for one in asked[:5])
        raise RuleError(f"Say what these names mean, or that they are left out: {names}. Nothing was imported.", "answers")


def _understand(
    cur: Cursor,
    actor: Actor,
    project: Project,
    table: csv_table.Table,
    wanted: Wanted,
    progress: Progress,
    *,
    guessing: bool = False,
) -> _Understood:
    """Read the cells, and try whether each row keeps the rules; what does not is among the problems.

    Args:
        guessing: True where no row is read yet if no head names the title: the person is to choose it first.
    """
    progress("reading", 0)
    meta, calendar, _ = read_meta(cur, project)
    plan = Plan(meta, calendar, (), actor.clock.now())  # the rules look at the settings, and at no other task
    against = _against(cur, actor, plan, wanted.answers)
    matching = _matching(table, wanted.matching, against)
    if guessing and "title" not in matching:
        return _Understood(meta, against, matching, csv_tasks.ReadFile([], [], [], []), [], {})
    file = csv_tasks.read_tasks(table, matching, against, lambda rows: told(rows, rows, progress, "reading", 0, 0.2))
    ids = [new_id() for _ in file.tasks]
    above = {task.parent for task in file.tasks}
    lines = {ids[index]: task.line for index, task in enumerate(file.tasks)}
    new = [_new_task(file.tasks, index, ids, above) for index in csv_tasks.parents_first(file.tasks)]
    ready: dict[str, dict[str, Any]] = {}
    if not file.problems:
        seen = Seen()
        for one in told(new, new, progress, "checking", 0.2, 0.5):
            try:
                ready[one.id] = wanted_fields(cur, actor, plan, one, seen)
            except RuleError as error:
                file.problems.append(csv_tasks.Problem(lines[one.id], _head_of(error.field, table, matching), error.sentence))
        file.problems.sort(key=lambda problem: problem.line)
    return _Understood(meta, against, matching, file, new, ready)


_COLUMN_OF = {"owner_id": "owner", "state_id": "state", "constraint_type": "constraint", "constraint_at": "constraint",
              "calendar_id": "calendar", "held_reason": "held", "lane_id": "lane", "period_id": "period"}  # fmt: skip


def _head_of(name: str | None, table: csv_table.Table, matching: Sequence[str | None]) -> str:
    """The head of the column that a field comes from; of the title where that is none."""
    column = _COLUMN_OF.get(name or "", name)
    return table.heads[list(matching).index(column if column in matching else "title")]


def _new_task(tasks: Sequence[csv_tasks.ReadTask], index: int, ids: Sequence[str], above: set[int | None]) -> NewTask:
    task = tasks[index]
    return NewTask(
        id=ids[index],
        title=task.title,
        parent_id=ids[task.parent] if task.parent is not None else None,
        after_id="end",
        fields=_leaf_fields(task, index in above),
        description=from_words(task.description),
        waits_for=tuple(replace(link, from_id=ids[int(link.from_id)]) for link in task.waits_for),
        points={name: [ids[int(one)] for one in several] for name, several in task.points.items()},
        held_by=ids[int(task.held_by)] if task.held_by and index not in above else None,
        checklists=task.checklists,
    )


def _matching(table: csv_table.Table, matching: Sequence[str | None] | None, against: csv_tasks.Reading) -> list[str | None]:
    if matching is None:
        return csv_columns.match_columns(table.heads, against.own)
    known = {*csv_columns.FIELDS, *(one.key for one in against.own)}
    if len(matching) != len(table.heads) or any(name and name not in known for name in matching):
        raise RuleError("Match each column of the file to a field, or leave it out.", "matching")
    return list(matching)


def _against(cur: Cursor, actor: Actor, plan: Plan, answers: Answers) -> csv_tasks.Reading:
    meta = plan.project
    return csv_tasks.Reading(
        list_people(cur, actor),  # a guest is offered, and finds, those alone who share a project with them
        [replace(one, name=meta.state_label(one)) for one in meta.states],
        actor.clock.now().date(),
        plan.calendar.day_minutes,
        [one for one in meta.fields if one.type != "computed"],
        {one.id: one.name for one in meta.kinds},
        {one.id: one.name for one in meta.marks},
        {one: hours.name for one, hours in meta.calendars.items()},
        {one: hours.day_minutes for one, hours in meta.calendars.items()},
        answers,
        who_can_be_booked(cur, actor, meta.code),
        {one.id: one.name for one in meta.lanes},
        {one.id: one.name for one in meta.periods},
        _finder(cur, actor, meta),
    )


def _finder(cur: Cursor, actor: Actor, meta: Project) -> Callable[[str, int], str | None]:
    """Finds tasks of other projects that a person may see, by code and number; nothing is read before it is asked."""
    numbers: dict[str, dict[int, str]] = {}
    visible: dict[str, Project] = {}

    def find(code: str, number: int) -> str | None:
        if not visible:
            visible.update({one.code: one for one, _ in every_visible_project(cur, actor).values() if one.id != meta.id})
        if code not in visible:
            return None
        if code not in numbers:
            plan = PLANS.at(cur, visible[code], actor.clock.now()).plan
            numbers[code] = {task.number: task.id for task in plan.tasks.values() if task.id in plan.rows}
        return numbers[code].get(number)

    return find


_COMPUTED = {
    "start", "finish", "duration", "elapsed", "constraint_type", "constraint_at", "percent", "effort", "state_id", "calendar_id",
    "actual_start", "actual_finish", "held_reason", "period_id", "repeats",
}  # fmt: skip


def _leaf_fields(task: csv_tasks.ReadTask, has_tasks_under_it: bool) -> dict[str, Any]:
    """A row with rows under it becomes a summary task: what is computed for those is not taken from the file."""
    if not has_tasks_under_it:
        return task.fields
    return {name: value for name, value in task.fields.items() if name not in _COMPUTED}


def job_input(actor: Actor, code: str, wanted: Wanted) -> dict[str, Any]:
    """What the worker is told about a file."""
    return {"code": code, "matching": wanted.matching, "answers": wanted.answers, "draft": actor.draft}


def _wanted_of(given: Mapping[str, Any]) -> Wanted:
    return Wanted(given["matching"], given["answers"])


@work("csv preview")
def preview_job(cur: Cursor, actor: Actor, given: Mapping[str, Any], data: bytes, progress: Progress) -> dict[str, Any]:
    """``preview_csv`` as a job."""
    return asdict(preview_csv(cur, actor, given["code"], data, _wanted_of(given), progress))


@work("csv import")
def import_job(cur: Cursor, actor: Actor, given: Mapping[str, Any], data: bytes, progress: Progress) -> dict[str, Any]:
    """``import_csv`` as a job."""
    return {"tasks": import_csv(cur, actor, given["code"], data, _wanted_of(given), progress)}
