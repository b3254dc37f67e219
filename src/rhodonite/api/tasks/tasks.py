"""Tasks: rows, edits, moves, the bin, undo."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import datetime
from typing import Annotated, Any, Literal

import orjson
from fastapi import Query, Request
from fastapi.responses import Response
from pydantic import BaseModel, Field

from ...core.common.errors import RuleError
from ...core.schedule.plan import Row
from ...core.tasks.model import BookingShape, ConstraintType, Health, Keeps, LinkType, Priority, ResourceKind, StateClass
from ...formats.rows import json_array, row_values
from ...services.common.context import new_id
from ...services.common.plan_cache import CachedPlan, Mark
from ...services.overview import undo
from ...services.tasks import bulk, outline, tasks
from ...services.tasks.tasks import MOST_AT_ONCE
from ..common.inputs import MB, After, Fields, Id, Ids, Revision, make_router
from ..common.packed import packed
from ..common.use import Use, Using, needs

router = make_router("tasks")


class LinkOut(BaseModel):
    """What a task waits for. The lag is minutes, negative for a lead."""

    from_id: str
    type: LinkType = "FS"
    lag: int = 0
    elapsed: bool = Field(False, description="True where the lag runs through nights and holidays")


class BookingOut(BaseModel):
    """Hours of one person or resource on a task; or units of a material, or a fixed sum."""

    who: str
    minutes: int
    shape: BookingShape = Field(description="Even, falling (front) or rising (back) over the task, or set by day")
    by_day: list[int] = Field(description="Where set by day: minutes of each working day of the person from the task's first")
    resource: bool = Field(description="True for a crew or a role to be filled, a material, a fixed cost")
    of: ResourceKind = "labour"
    amount: int | None = Field(
        0, description="Thousandths of a material’s unit; null of a fixed cost, whose sum is for who may see cost"
    )
    units: int | None = Field(description="The share of somebody's day that it takes, in a hundred; none where it has no length")


class RepeatOut(BaseModel):
    """How a task repeats."""

    words: str = Field(examples=["every second Tuesday"])
    mode: Literal["ahead", "finished"] = Field(description="The next ones are made ahead, or when the last is finished")
    ahead: int
    off_holidays: bool = Field(description="True where a day that is not worked stands for the next one that is")


class TaskRow(BaseModel):
    """A task as lenses receive it. For a summary task, dates, percent and state are computed from those under it."""

    id: str
    number: int
    parent_id: str | None
    place: str = Field(description="Order among siblings: compare as text")
    kind: str = Field(description="A kind that every project has, or the id of one of its own")
    title: str
    owner_id: str | None
    helpers: list[str]
    state_id: str
    state_class: StateClass
    state_since: datetime | None
    board_place: str = Field(description="Order within a column of the board: compare as text")
    held_reason: str | None
    held_since: datetime | None
    held_by_id: str | None = Field(description="The task that holds it, until that is finished")
    held: str | None = Field(description="What holds it, in words: the reason, or the title of the task")
    held_minutes: int = Field(description="Working minutes that it was held before")
    priority: Priority | None
    start: datetime | None
    finish: datetime | None
    duration: int | None = Field(description="Working minutes, or where elapsed minutes on the clock")
    day_minutes: int = Field(description="Of a day of the duration")
    elapsed: bool = Field(description="True where the duration runs through nights and holidays")
    calendar_id: str | None = Field(description="Of its own calendar; none: the project's")
    constraint_type: ConstraintType
    constraint_at: datetime | None
    waits_for: list[LinkOut]
    waits: str = Field(description="What it waits for, as it is typed: 12 + 2 d, start with 15")
    waits_open: int = Field(description="How many unfinished tasks it waits for by a link")
    awaited: int = Field(description="How many unfinished tasks wait for it")
    slack: int | None = Field(description="Total slack in working minutes; less than nothing where a date cannot be met")
    late_finish: datetime | None = Field(description="How late it may finish, where it has slack and is not finished")
    critical: bool = Field(description="Open work without slack: a delay moves the finish of the project")
    agreed_start: datetime | None
    agreed_finish: datetime | None
    variance: int | None = Field(description="Working minutes by which the finish lies after the agreed one")
    deadline: datetime | None
    effort: int | None = Field(description="Minutes of people's work: the estimate")
    booked: int = Field(description="Minutes of it that are booked")
    spent: int = Field(description="Minutes that people entered, with those of all tasks below")
    open: int | None = Field(
        description="Minutes of the estimate that nobody is booked for; less than nothing where more is booked"
    )
    bookings: list[BookingOut]
    keeps: Keeps | None = Field(description="Which of hours, length and units stays where another changes; none: it is asked")
    lane_id: str | None = Field(description="The lane of the board that it was put into by hand")
    period_id: str | None = Field(description="The period of the backlog in which it lies, until it is pulled")
    percent: int
    actual_start: datetime | None
    actual_finish: datetime | None
    pushes: int
    marks: list[str] = Field(description="Ids of the project's marks that are on it")
    own: dict[str, Any] = Field(description="Values of the project's own fields, by the field's id")
    repeats: RepeatOut | None
    comments: int
    files: int
    checks: int = Field(description="How many things to tick its checklists have")
    checks_done: int
    is_summary: bool
    health: Health
    late_days: int = Field(description="Working days since the planned finish, where it is past")
    breaks_deadline: bool
    late_below: int
    tasks_below: int
    finished_below: int
    revision: int = Field(description="Of the project, at the task's last change: send it with an edit")


def row_out(row: Row) -> TaskRow:
    """A row as the API gives it."""
    return TaskRow(**row_values(row))


class RowsOut(BaseModel):
    """Rows of a project. Ask again with ``since`` set to ``mark`` to get what changed."""

    mark: str
    complete: bool = Field(description="True: these are all rows. False: take these over, drop those gone")
    rows: list[TaskRow]
    gone: list[str]
    change: str | None = Field(None, description="The change that was made, by which it can be undone")
    remarks: list[str] = Field([], description="What is to be said of it, such as that a number was rounded")


class TaskNew(BaseModel):
    """A task to be written down. Text is read: dates such as ``next fri``, durations such as ``3 days``."""

    id: Id = Field(default_factory=new_id, description="UUID of version 7, made by the client")
    title: str = Field(max_length=20_000, examples=["Measure glazing bars"])
    parent_id: Id | None = None
    after_id: After = Field("end", description="The sibling to stand behind; null: first; “end”: last")
    fields: Fields = Field({}, examples=[{"duration": "3 days", "start": "next mon"}])


class TasksNew(BaseModel):
    """Tasks to be written down, parents first."""

    tasks: list[TaskNew] = Field(min_length=1, max_length=MOST_AT_ONCE)


class Paste(BaseModel):
    """Lines that become tasks; indentation becomes nesting."""

    text: str = Field(max_length=1_000_000, examples=["Glazing\n  Measure bars\n  Order panes"])
    parent_id: Id | None = None
    after_id: After = "end"


class TaskEditIn(BaseModel):
    """Changed fields of a task, and the revision of the row that was edited."""

    id: Id
    revision: Revision
    fields: Fields = Field(examples=[{"finish": "fri", "percent": 40}])


class TasksEdit(BaseModel):
    """Edits of tasks, all or none."""

    tasks: list[TaskEditIn] = Field(min_length=1, max_length=MOST_AT_ONCE)


class SomeTasks(BaseModel):
    """Some tasks."""

    ids: Ids


class Move(SomeTasks):
    """Where tasks go: under a parent, behind a sibling (null: first, “end”: last)."""

    parent_id: Id | None = None
    after_id: After = "end"


class StepIn(SomeTasks):
    """A move by one step."""

    how: Literal["indent", "outdent", "up", "down"]


class Drop(SomeTasks):
    """Where slips are put down on the board."""

    state_id: Id
    after_id: After = Field(None, description="The slip to stand behind; null: on top")
    fields: Fields = Field({}, description="What the row of the board sets: owner_id, parent_id, kind or priority")


class ShiftMany(SomeTasks):
    """By how far tasks are shifted."""

    days: float = Field(ge=-2000, le=2000, allow_inf_nan=False, description="Working days; less than nothing for an earlier day")


class BinItem(BaseModel):
    """A deleted task."""

    id: str
    number: int
    title: str
    deleted_at: datetime
    parent_id: str | None


def read_mark(text: str | None) -> Mark | None:
    """Read a mark such as ``12.1984332.0``. Raises RuleError where it is none."""
    if not text:
        return None
    parts = text.split(".")
    if len(parts) != 3 or not all(part.isascii() and part.isdigit() and len(part) < 16 for part in parts):
        raise RuleError("A mark is what the last answer gave as “mark”.", "since")
    return Mark(*map(int, parts))


Since = Annotated[str | None, Query(description="The mark of the last answer")]


def rows_document(held: CachedPlan, since: Mark | None, change: str | None = None, remarks: Sequence[str] = ()) -> bytes:
    """All rows of a plan, or what changed since a mark, in the form of ``RowsOut``."""
    complete, rows, gone = held.rows_json(since)
    mark = f"{held.mark.revision}.{held.mark.quarter}.{held.mark.version}"
    head = {"mark": mark, "complete": complete, "gone": gone, "change": change, "remarks": list(remarks)}
    return orjson.dumps(head)[:-1] + b',"rows":' + json_array(rows) + b"}"


def rows_response(use: Use, code: str, since: str | None, *, edits: Sequence[Mapping[str, Any]] = ()) -> Response:
    """After a change: the rows that differ since a mark, the change's id, and what is to be said of what was typed."""
    held = use.read(tasks.read_plan, code)  # which that change has made old
    remarks = tasks.remarks_on(held.plan.project, edits)
    return Response(rows_document(held, read_mark(since), use.actor.change_id, remarks), media_type="application/json")


@router.get("/projects/{code}/tasks", openapi_extra=needs("see"), response_model=RowsOut)
def read_rows(code: str, use: Using, request: Request, since: Since = None) -> Response:
    """All rows of a project, or what changed since a mark."""
    mark = read_mark(since)
    held = use.read(tasks.read_plan, code)
    return packed(request, held, ("rows", mark), lambda: rows_document(held, mark))


@router.post("/projects/{code}/tasks", openapi_extra=needs("edit", 8 * MB), response_model=RowsOut)
def add_tasks(code: str, body: TasksNew, use: Using, since: Since = None) -> Response:
    """Write tasks down."""
    use.write(tasks.add_tasks, code, [tasks.NewTask(**one.model_dump()) for one in body.tasks])
    return rows_response(use, code, since)


@router.post("/projects/{code}/tasks/paste", openapi_extra=needs("edit", 4 * MB), response_model=RowsOut)
def paste_lines(code: str, body: Paste, use: Using, since: Since = None) -> Response:
    """Write one task for each line of a text."""
    use.write(outline.paste_lines, code, body.text, parent_id=body.parent_id, after_id=body.after_id)
    return rows_response(use, code, since)


@router.patch("/projects/{code}/tasks", openapi_extra=needs("edit", 8 * MB), response_model=RowsOut)
def edit_tasks(code: str, body: TasksEdit, use: Using, since: Since = None) -> Response:
    """Change fields of tasks. 409 where somebody else changed the same field since."""
    use.write(tasks.edit_tasks, code, [tasks.TaskEdit(one.id, one.revision, one.fields) for one in body.tasks])
    return rows_response(use, code, since, edits=[one.fields for one in body.tasks])


@router.post("/projects/{code}/tasks/move", openapi_extra=needs("edit"), response_model=RowsOut)
def move_tasks(code: str, body: Move, use: Using, since: Since = None) -> Response:
    """Put tasks elsewhere in the outline."""
    use.write(outline.move_tasks, code, body.ids, parent_id=body.parent_id, after_id=body.after_id)
    return rows_response(use, code, since)


@router.post("/projects/{code}/tasks/step", openapi_extra=needs("edit"), response_model=RowsOut)
def step_tasks(code: str, body: StepIn, use: Using, since: Since = None) -> Response:
    """Indent, outdent or move tasks past a sibling."""
    use.write(outline.step_tasks, code, body.ids, body.how)
    return rows_response(use, code, since)


@router.post("/projects/{code}/tasks/drop", openapi_extra=needs("edit"), response_model=RowsOut)
def drop_on_board(code: str, body: Drop, use: Using, since: Since = None) -> Response:
    """Put slips down on the board."""
    use.write(outline.move_on_board, code, outline.BoardDrop(**body.model_dump()))
    return rows_response(use, code, since)


@router.post("/projects/{code}/tasks/shift", openapi_extra=needs("edit"), response_model=RowsOut)
def shift_tasks(code: str, body: ShiftMany, use: Using, since: Since = None) -> Response:
    """Shift tasks, with all under them, by working days."""
    use.write(bulk.shift_tasks, code, body.ids, body.days)
    return rows_response(use, code, since)


@router.post("/projects/{code}/tasks/in-a-row", openapi_extra=needs("edit"), response_model=RowsOut)
def link_in_a_row(code: str, body: SomeTasks, use: Using, since: Since = None) -> Response:
    """Let tasks wait for one another, in outline order."""
    use.write(bulk.link_in_a_row, code, body.ids)
    return rows_response(use, code, since)


@router.post("/projects/{code}/tasks/delete", openapi_extra=needs("edit"), response_model=RowsOut)
def delete_tasks(code: str, body: SomeTasks, use: Using, since: Since = None) -> Response:
    """Put tasks, with all under them, into the bin."""
    use.write(outline.delete_tasks, code, body.ids)
    return rows_response(use, code, since)


@router.get("/projects/{code}/bin", openapi_extra=needs("see"))
def read_bin(code: str, use: Using) -> list[BinItem]:
    """What was deleted, the latest first."""
    return [
        BinItem(id=t.id, number=t.number, title=t.title, deleted_at=t.deleted_at, parent_id=t.parent_id)
        for t in use.read(outline.read_bin, code)
        if t.deleted_at
    ]


@router.post("/projects/{code}/tasks/restore", openapi_extra=needs("edit"), response_model=RowsOut)
def restore_tasks(code: str, body: SomeTasks, use: Using, since: Since = None) -> Response:
    """Take tasks out of the bin."""
    use.write(outline.restore_tasks, code, body.ids)
    return rows_response(use, code, since)


@router.post("/changes/{change_id}/undo", openapi_extra=needs("edit"), response_model=RowsOut)
def undo_change(change_id: Id, use: Using, since: Since = None) -> Response:
    """Take back a change: to tasks, what hangs on them, drafts, sheets, teams, and what a project defines."""
    code = use.write(undo.undo_change, change_id)
    if code is None:  # it was to no project
        done = RowsOut(mark="0.0.0", complete=False, rows=[], gone=[], change=use.actor.change_id)
        return Response(done.model_dump_json(), media_type="application/json")
    return rows_response(use, code, since)
