"""Copies of tasks, and tasks that move to another project."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.errors import RuleError
from ...core.tasks.copying import BookableThere, Matched, matched, say_lost
from ...core.tasks.model import Link, Project, Task
from ...store.people import people as people_rows
from ...store.resources import bookable as resource_rows
from ...store.talk import parts as part_rows
from ...store.tasks import tasks as task_rows
from ...store.tasks import ties as tie_rows
from ..common.context import Actor, new_id, once, open_project, pair_of
from ..common.pipeline import Way, bring_along, changing, said_before_move
from ..common.plan_cache import PLANS
from ..common.task_writes import write_many
from .outline import delete_tasks
from .tasks import NewTask, counted, insert_tasks, living

MOST_COPIED = 2000


@dataclass(frozen=True, slots=True)
class CopyWish:
    """What is to be copied or moved, and to where.

    Attributes:
        ids: made by the client, by the id of each task in question; those below get ids of their own.
        code: of the project that it goes to.
        branch: with the tasks below.
        hanging: with description and checklists, attachments too; comments only where it moves.
        links: with the links among what is copied.
        moves: True where the originals go.
    """

    ids: Mapping[str, str]
    code: str
    parent_id: str | None = None
    branch: bool = True
    hanging: bool = True
    links: bool = True
    moves: bool = False


@dataclass(frozen=True, slots=True)
class _Source:
    """What comes along, as it stood at one moment: no plan is held while another is written to.

    Attributes:
        tasks: those that come along, parents before those below them.
        summaries: the ids of those that have tasks below which come along.
        outside: how many links to other tasks are lost.
    """

    project: Project
    tasks: dict[str, Task]
    summaries: frozenset[str]
    outside: int


def _read_source(cur: Cursor, actor: Actor, project: Project, wish: CopyWish) -> _Source:
    held = PLANS.at(cur, project, actor.clock.now())
    plan = held.plan
    for one in wish.ids:
        living(plan, one)
    below = [each for one in wish.ids for each in plan.outline.below(one)] if wish.branch else []
    wanted = {*wish.ids, *below}
    tasks = {task_id: plan.tasks[task_id] for task_id, _, _ in plan.outline.walk() if task_id in wanted}
    if len(tasks) > MOST_COPIED:
        raise RuleError(f"That is {len(tasks)} tasks at once; {MOST_COPIED} is the most. Do it in parts.")
    outside = sum(link.from_id not in tasks for task in tasks.values() for link in task.waits_for)
    if wish.moves:
        others = (task for task in plan.tasks.values() if task.id not in tasks)
        outside += sum(link.from_id in tasks for task in others for link in task.waits_for)
    summaries = frozenset(one for one in tasks if plan.outline.is_summary(one))
    return _Source(plan.project, tasks, summaries, outside if wish.links else 0)


def _match(source: _Source, task_id: str, target: Project, bookable: BookableThere) -> Matched:
    is_summary = task_id in source.summaries
    return matched(source.tasks[task_id], source.project, target, is_summary=is_summary, bookable=bookable)


def _way(actor: Actor, source: _Source, made: Mapping[str, str], target: Project, wish: CopyWish) -> Way:
    return Way(actor, made, source.project, target, wish.moves, wish.hanging)


def _there(cur: Cursor, way: Way) -> BookableThere:
    sums = way.source.id == way.target.id or way.allows("see_costs")
    return replace(bookable_there(cur, way.target.id), sums=sums, moves=way.moves)


def _tie_elsewhere(cur: Cursor, source: Project, target: Project, matches: Iterable[Matched]) -> None:
    """Let tasks that move stay tied to work of other projects, but not to that of the project to which they go."""
    keys = [one.key for one in target.fields if one.type == "tied"]
    matches = [one for one in matches if any(one.fields.get(key) for key in keys)]
    where = tie_rows.projects_of_tasks(cur, {each for one in matches for key in keys for each in one.fields.get(key) or ()})
    for one in matches:
        for key in keys:
            tied = one.fields.pop(key, None) or []
            if kept := [each for each in tied if where.get(each, target.id) != target.id]:
                one.fields[key] = kept
            if len(kept) < len(tied):
                one.lost.append("a tie to a task of the same project")


def bookable_there(cur: Cursor, project_id: str) -> BookableThere:
    """Who and what can be booked in a project, by the ids that they have in others."""
    ids = {one.id: one.id for one in people_rows.all_people(cur) if one.active}
    resources = resource_rows.resources(cur)
    there = [one for one in resources if one.project_id in {None, project_id}]
    by_name = {(one.name.casefold(), one.kind): one.id for one in there}
    for one in resources:
        if same := by_name.get((one.name.casefold(), one.kind)):
            ids[one.id] = same
    ids |= {one.id: one.id for one in there}
    return BookableThere(ids, {one.id: one.name for one in resources})


def preview_copy(cur: Cursor, actor: Actor, code: str, wish: CopyWish) -> list[str]:
    """What would be lost on the way, in words; empty where everything has its place."""
    project, there = open_project(cur, actor, code, "see"), open_project(cur, actor, wish.code, "edit")
    source = _read_source(cur, actor, project, wish)
    held = PLANS.at(cur, there, actor.clock.now())
    target = held.plan.project
    way = _way(actor, source, {one: one for one in source.tasks}, target, wish)
    bookable = _there(cur, way)
    matches = [_match(source, one, target, bookable) for one in source.tasks]
    _tie_elsewhere(cur, source.project, target, matches)
    lost = say_lost((what for one in matches for what in one.lost), target) + said_before_move(cur, way)
    if source.outside:
        lost.append(f"{source.outside} link{'' if source.outside == 1 else 's'} to tasks that do not come along.")
    return lost


@once
def copy_tasks(cur: Cursor, actor: Actor, code: str, wish: CopyWish) -> None:
    """Copy tasks, or move them to another project.

    Raises:
        RuleError: they are to move within their project, or more come along than can.
    """
    project = open_project(cur, actor, code, "edit" if wish.moves else "see")
    here = project.code == wish.code.upper()
    if wish.moves and here:
        raise RuleError("They are in that project already. Choose another.", "code")
    origin = "in this project" if here else "from another project" if project.private else f"from {project.code}"
    word = f"{'moved' if wish.moves else 'copied'} {counted(len(wish.ids))} {origin}"
    source = _read_source(cur, actor, project, wish)
    made = {one: wish.ids.get(one) or new_id() for one in source.tasks}
    with changing(cur, actor, wish.code, word) as (log, there):
        target = there.plan.project
        way = _way(actor, source, made, target, wish)
        bookable = _there(cur, way)
        matches = {one: _match(source, one, target, bookable) for one in source.tasks}
        _tie_elsewhere(cur, source.project, target, matches.values())
        insert_tasks(cur, actor, log, there.plan, [_new(cur, source, wish, one, made, matches[one]) for one in source.tasks])
        new = {one: log.tasks[one] for one in made.values()}
        write_many(cur, log, {made[one]: _rest(new[made[one]], source, wish, one, made, matches[one]) for one in made}, new)
        bring_along(cur, log, way)
        part_rows.recount(cur, list(made.values()), log.revision)
    if wish.moves:
        delete_tasks(cur, replace(actor, change_id=pair_of(actor.change_id), consent=None), code, list(wish.ids))


def _new(cur: Cursor, source: _Source, wish: CopyWish, task_id: str, made: Mapping[str, str], match: Matched) -> NewTask:
    fields = dict(match.fields)
    title = fields.pop("title")
    above = source.tasks[task_id].parent_id
    here = source.project.code == wish.code.upper()
    parent = made.get(above or "", above if here and wish.parent_id is None else wish.parent_id)
    if here and task_id in wish.ids and parent == above:
        title = f"{title}, copy"  # it stands beside its original
    description = task_rows.description(cur, task_id) if wish.hanging else ""
    return NewTask(made[task_id], title, parent, task_id if here and parent == above else "end", fields, description)


def _rest(task: Task, source: _Source, wish: CopyWish, task_id: str, made: Mapping[str, str], match: Matched) -> dict[str, Any]:
    """Of a copy the links among what comes along; and where it moves, how far it is."""
    fields: dict[str, Any] = match.placed | (match.progress if wish.moves else {})
    if wish.links:
        links = tuple(
            Link(made[link.from_id], link.type, link.lag, link.elapsed)
            for link in source.tasks[task_id].waits_for
            if link.from_id in made
        )
        if links:
            fields["waits_for"] = links
    return {name: value for name, value in fields.items() if task.value(name) != value}
