"""Tasks in the outline and on the board: paste lines, move, drop, delete and restore."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.errors import RuleError
from ...core.common.ordering import Room, make_room
from ...core.schedule.plan import Plan
from ...core.tasks import outline as outlines
from ...core.tasks import rules as task_rules
from ...core.tasks.model import Task
from ...store.tasks import tasks as task_rows
from ..common.context import Actor, Log, new_id, once, open_project
from ..common.pipeline import changing, said_before_bin
from ..common.task_writes import write_fields, write_many
from .tasks import NewTask, add_tasks, apply_edit, counted, living


def paste_lines(cur: Cursor, actor: Actor, code: str, text: str, *, parent_id: str | None, after_id: str | None) -> int:
    """Write one task for each pasted line; indentation becomes nesting. Returns how many.

    Args:
        after_id: the sibling that the outermost lines stand behind; None: first, ``"end"``: last.

    Raises:
        RuleError: there is no line with anything in it.
    """
    lines = outlines.read_lines(text)
    if not lines:
        raise RuleError("There is nothing to paste: copy some lines of text first.", "text")
    ids = [new_id() for _ in lines]
    new: list[NewTask] = []
    for task_id, line, above in zip(ids, lines, outlines.nest(lines), strict=True):
        if above is not None:
            new.append(NewTask(task_id, line.title[: task_rules.LONGEST_TITLE], ids[above], "end"))
        else:
            new.append(NewTask(task_id, line.title[: task_rules.LONGEST_TITLE], parent_id, after_id))
            after_id = after_id if after_id == "end" else task_id
    add_tasks(cur, actor, code, new)
    return len(new)


@once
def move_tasks(cur: Cursor, actor: Actor, code: str, ids: Sequence[str], *, parent_id: str | None, after_id: str | None) -> None:
    """Put tasks, with all under them, beneath a parent, behind a sibling."""
    with changing(cur, actor, code, f"moved {counted(len(ids))}") as (log, held):
        plan = held.plan
        for one in [*ids, *([parent_id] if parent_id else [])]:
            living(plan, one)
        if parent_id and plan.tasks[parent_id].kind == "milestone":
            raise RuleError("A milestone is a moment and holds no tasks. Choose another place.", "parent_id")
        _write_placings(cur, log, plan, outlines.move(plan.outline, ids, parent_id, after_id))


@once
def step_tasks(cur: Cursor, actor: Actor, code: str, ids: Sequence[str], how: outlines.Step) -> None:
    """Indent, outdent or move tasks past a sibling."""
    words = {"indent": "indented", "outdent": "outdented", "up": "moved up", "down": "moved down"}
    with changing(cur, actor, code, f"{words[how]} {counted(len(ids))}") as (log, held):
        for one in ids:
            living(held.plan, one)
        placings = outlines.step(held.plan.outline, ids, how)
        above = {held.plan.tasks[p.parent_id] for p in placings if p.parent_id}
        if any(task.kind == "milestone" for task in above):
            raise RuleError("A milestone is a moment and holds no tasks.", "parent_id")
        _write_placings(cur, log, held.plan, placings)


def _write_placings(cur: Cursor, log: Log, plan: Plan, placings: Sequence[outlines.Placing]) -> None:
    placed: dict[str, dict[str, Any]] = {}
    for placing in placings:
        task = plan.tasks[placing.task_id]
        fields = {"parent_id": placing.parent_id, "place": placing.place}
        placed[task.id] = {k: v for k, v in fields.items() if getattr(task, k) != v}
    write_many(cur, log, placed, plan.tasks)


@dataclass(frozen=True, slots=True)
class BoardDrop:
    """Where slips are put down: the column, the slip to stand behind (None: on top), and what its row sets."""

    ids: list[str]
    state_id: str
    after_id: str | None
    fields: dict[str, Any]


@once
def move_on_board(cur: Cursor, actor: Actor, code: str, drop: BoardDrop) -> None:
    """Put slips into a column, behind a slip; a row of the board may set the owner, parent, kind or priority too."""
    with changing(cur, actor, code, f"moved {counted(len(drop.ids))} on the board") as (log, held):
        plan = held.plan
        room = _board_room(plan, drop)
        write_many(cur, log, {one: {"board_place": place} for one, place in room.others.items()}, plan.tasks)
        for task_id, place in zip(drop.ids, room.places, strict=True):
            _drop_one(cur, actor, log, plan, task_id, place, drop)


def _drop_one(cur: Cursor, actor: Actor, log: Log, plan: Plan, task_id: str, place: str, drop: BoardDrop) -> None:
    task = living(plan, task_id)
    wanted = dict(drop.fields)
    parent_id = wanted.pop("parent_id", task.parent_id)
    if task.state_id != drop.state_id:
        wanted["state_id"] = drop.state_id
    if parent_id != task.parent_id:
        _write_placings(cur, log, plan, outlines.move(plan.outline, [task_id], parent_id, "end"))
    apply_edit(cur, actor, log, plan, task_id, wanted)
    write_fields(cur, log, task, {"board_place": place})


@dataclass(frozen=True, slots=True)
class _Slip:
    """A task as it stands in a column of the board."""

    id: str
    place: str


def _board_room(plan: Plan, drop: BoardDrop) -> Room:
    column = sorted(
        (t for t in plan.tasks.values() if t.state_id == drop.state_id and t.deleted_at is None and t.id not in drop.ids),
        key=lambda t: (t.board_place, t.number),
    )
    slips = [_Slip(task.id, task.board_place) for task in column]
    after = drop.after_id if drop.after_id is None or any(one.id == drop.after_id for one in slips) else "end"
    return make_room(slips, after, len(drop.ids))


@once
def delete_tasks(cur: Cursor, actor: Actor, code: str, ids: Sequence[str]) -> None:
    """Put tasks, with all under them, into the bin."""
    with changing(cur, actor, code, f"deleted {counted(len(ids))}") as (log, held):
        plan, at = held.plan, actor.clock.now()
        doomed = dict.fromkeys(one for top in ids if top in plan.rows for one in [top, *plan.outline.below(top)])
        if actor.consent is not None:
            log.announced += said_before_bin(cur, actor, plan, doomed)
        write_many(cur, log, {one: {"deleted_at": at} for one in doomed}, plan.tasks)


def read_bin(cur: Cursor, actor: Actor, code: str) -> list[Task]:
    """What was deleted from a project, the latest first."""
    project = open_project(cur, actor, code, "see")
    return task_rows.tasks_in_bin(cur, project.id, 500)


@once
def restore_tasks(cur: Cursor, actor: Actor, code: str, ids: Sequence[str]) -> None:
    """Take tasks out of the bin, with those under them that went in with them.

    A task whose parent is still in the bin comes back at the top level.
    """
    with changing(cur, actor, code, f"restored {counted(len(ids))}") as (log, held):
        binned = {t.id: t for t in task_rows.tasks_in_bin(cur, held.plan.project.id, 100_000)}
        wanted = _with_companions(binned, [one for one in ids if one in binned])
        back: dict[str, dict[str, Any]] = {one: {"deleted_at": None} for one in wanted}
        for task in wanted.values():
            if task.parent_id and task.parent_id not in held.plan.rows and task.parent_id not in wanted:
                back[task.id]["parent_id"] = None
        write_many(cur, log, back, wanted)


def _with_companions(binned: dict[str, Task], ids: Sequence[str]) -> dict[str, Task]:
    chosen = {one: binned[one] for one in ids}
    while True:
        more = {
            t.id: t
            for t in binned.values()
            if t.id not in chosen and t.parent_id in chosen and t.deleted_at == chosen[t.parent_id].deleted_at
        }
        if not more:
            return chosen
        chosen |= more
