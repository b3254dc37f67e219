"""Copies of tasks, tasks that move to another project, and two tasks that become one."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from html import escape
from typing import Any

from pymysql.cursors import Cursor

from ..core.access import may_in_project
from ..core.copying import Matched, matched, say_lost
from ..core.errors import RuleError
from ..core.model import Link, Project, Task
from ..core.parts import Check, Checklist, Comment, File, Relation
from ..formats.html import words_of
from ..store import parts as part_rows
from ..store import projects as project_rows
from ..store import tasks as task_rows
from .context import Actor, Log, new_id, once, open_project, pair_of
from .lenses import open_task
from .outline import delete_tasks
from .parts import followers_of, say
from .plans import PLANS
from .projects import NewProject, create_project
from .ripples import write_fields
from .tasks import NewTask, add_tasks, apply_edit, changing, counted, insert_tasks, living
from .words import write_part_words

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
    with PLANS.hold(cur, project, actor.clock.now()) as held:
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


def _match(source: _Source, task_id: str, target: Project) -> Matched:
    return matched(source.tasks[task_id], source.project, target, is_summary=task_id in source.summaries)


def preview_copy(cur: Cursor, actor: Actor, code: str, wish: CopyWish) -> list[str]:
    """What would be lost on the way, in words; empty where everything has its place."""
    project, there = open_project(cur, actor, code, "see"), open_project(cur, actor, wish.code, "edit")
    source = _read_source(cur, actor, project, wish)
    with PLANS.hold(cur, there, actor.clock.now()) as held:
        target = held.plan.project
    lost = say_lost((what for one in source.tasks for what in _match(source, one, target).lost), target)
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
    word = f"{'moved' if wish.moves else 'copied'} {counted(len(wish.ids))} {'in' if here else 'from'} {project.code}"
    source = _read_source(cur, actor, project, wish)
    made = {one: wish.ids.get(one) or new_id() for one in source.tasks}
    with changing(cur, actor, wish.code, word) as (log, there):
        target = there.plan.project
        matches = {one: _match(source, one, target) for one in source.tasks}
        insert_tasks(cur, actor, log, there.plan, [_new(cur, source, wish, one, made, matches[one]) for one in source.tasks])
        for one in source.tasks:
            _write_rest(cur, log, source, wish, one, made, matches[one])
            if wish.hanging:
                hang(cur, log, wish, one, made[one], target.id)
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


def _write_rest(
    cur: Cursor, log: Log, source: _Source, wish: CopyWish, task_id: str, made: Mapping[str, str], match: Matched
) -> None:
    """Links among what comes along; and where it moves, how far it is."""
    task = log.tasks[made[task_id]]
    fields: dict[str, Any] = dict(match.progress) if wish.moves else {}
    if wish.links:
        links = tuple(
            Link(made[link.from_id], link.type, link.lag, link.elapsed)
            for link in source.tasks[task_id].waits_for
            if link.from_id in made
        )
        if links:
            fields["waits_for"] = links
    write_fields(cur, log, task, {name: value for name, value in fields.items() if task.value(name) != value})


def hang(cur: Cursor, log: Log, wish: CopyWish, task_id: str, made: str, project_id: str) -> None:
    """What hangs on a task, hung on its copy: ticks, comments and relations only where it moves."""
    lists = {one.id: replace(one, id=new_id(), task_id=made) for one in part_rows.of_task(cur, Checklist, task_id)}
    checks = [
        replace(one, id=new_id(), task_id=made, checklist_id=lists[one.checklist_id].id,
                done_at=one.done_at if wish.moves else None, done_by=one.done_by if wish.moves else None)
        for one in part_rows.of_task(cur, Check, task_id)
        if one.checklist_id in lists
    ]  # fmt: skip
    files = {one.id: replace(one, id=new_id(), task_id=made) for one in part_rows.of_task(cur, File, task_id)}
    part_rows.insert(cur, lists.values())
    part_rows.insert(cur, checks)
    part_rows.insert(cur, files.values())
    for one, copy in files.items():
        part_rows.copy_pieces(cur, one, copy.id)
        write_part_words(cur, project_id, copy)
    pictures = {one: copy.id for one, copy in files.items() if copy.inline}
    if pictures and (text := task_rows.description(cur, made)):
        task_rows.update_task(cur, made, {"description": _with_pictures(text, pictures)}, log.revision)
    if wish.moves:
        _move_talk(cur, task_id, made, project_id, pictures)
    if lists or files:
        log.record("task", made, "hanging", None, f"{len(lists)} checklists and {len(files)} files")


def _with_pictures(text: str, pictures: Mapping[str, str]) -> str:
    """A text that shows the copies of its pictures: who sees the copy may not see the original."""
    for one, copy in pictures.items():
        text = text.replace(f"/api/files/{one}", f"/api/files/{copy}")
    return text


def _move_talk(cur: Cursor, task_id: str, made: str, project_id: str, pictures: Mapping[str, str]) -> None:
    comments = part_rows.of_task(cur, Comment, task_id)
    ids = {one.id: new_id() for one in comments}
    moved = [
        replace(
            one, id=ids[one.id], task_id=made, quotes_id=ids.get(one.quotes_id or ""), body=_with_pictures(one.body, pictures)
        )
        for one in comments
    ]
    part_rows.insert(cur, moved)
    for one in moved:
        write_part_words(cur, project_id, one)
    part_rows.insert(cur, [replace(one, id=new_id(), task_id=made) for one in part_rows.of_task(cur, Relation, task_id)])
    for _, person, how in part_rows.followings(cur, [task_id]):
        part_rows.set_following(cur, made, person, how)


def make_project(cur: Cursor, actor: Actor, task_id: str, new: NewProject) -> str:
    """Start a project from a task: the tasks below it and the lines of its checklists become tasks there. The task stays,
    and says where its project is. Returns the project's code.

    Raises:
        Missing: there is no such task, or the person may not see it.
        Forbidden: the person may not start projects.
    """
    source = open_task(cur, actor, task_id)
    description = words_of(task_rows.description(cur, task_id))
    code = create_project(cur, actor, replace(new, description=new.description or description))
    with PLANS.hold(cur, source, actor.clock.now()) as held:
        below = list(held.plan.outline.children.get(task_id, ()))
    if below:
        copy_tasks(
            cur, replace(actor, change_id=pair_of(actor.change_id)), source.code, CopyWish({one: new_id() for one in below}, code)
        )
    ticks = [NewTask(new_id(), one.text) for one in part_rows.of_task(cur, Check, task_id) if one.done_at is None]
    if ticks:
        add_tasks(cur, replace(actor, change_id=pair_of(pair_of(actor.change_id))), code, ticks)
    if may_in_project(actor.role_in(source, project_rows.members(cur, source.id).get(actor.person.id)), "comment"):
        body = f'<p>It became the project <a href="/p/{code}/brief">{code} {escape(new.name)}</a>.</p>'
        say(cur, replace(actor, change_id=new_id()), task_id, new_id(), body, None)
    return code


@once
def merge_tasks(cur: Cursor, actor: Actor, code: str, task_id: str, into_id: str) -> None:
    """Make two tasks one: what hangs on the first, its description, the tasks below it and its followers go over to the
    second; the first is dropped, as a duplicate of it.

    Raises:
        RuleError: they are the same, one stands below the other, or the workflow has no state for what is dropped.
    """
    with changing(cur, actor, code, "merged two tasks") as (log, held):
        plan = held.plan
        task, into = living(plan, task_id), living(plan, into_id)
        if task_id == into_id or task_id in plan.outline.ancestors(into_id) or into_id in plan.outline.ancestors(task_id):
            raise RuleError("Choose a task that is neither the same nor above or below it.", "into_id")
        dropped = plan.project.first_state("dropped")
        if dropped is None:
            raise RuleError("The workflow has no state of the class dropped. Add one in the settings.", "state_id")
        people = followers_of(cur, actor, task).people
        texts = [text for text in (task_rows.description(cur, into_id), task_rows.description(cur, task_id)) if text]
        for kind in (Comment, File, Checklist, Check):
            for part_id in part_rows.ids_of_kind(cur, kind, task_id):
                log.record(part_rows.NAMES[kind], part_id, "task_id", task_id, into_id)
                part_rows.update(cur, kind, part_id, {"task_id": into_id})
        if len(texts) == 2 or (texts and not task_rows.description(cur, into_id)):
            write_fields(cur, log, into, {"description": "<hr>".join(texts)})
        children = plan.outline.children.get(task_id, [])
        for child, place in zip(children, plan.outline.places_in(into_id, "end", len(children)), strict=True):
            write_fields(cur, log, plan.tasks[child], {"parent_id": into_id, "place": place})
        for person in people:
            part_rows.set_following(cur, into_id, person, "follows")
        relation = Relation(new_id(), task_id, into_id, "duplicate")
        part_rows.insert(cur, [relation])
        log.record("relation", relation.id, "created", None, {"words": f"duplicate of {into.title}"})
        if not plan.outline.is_summary(task_id):
            apply_edit(cur, actor, log, plan, task_id, {"state_id": dropped.id})
        part_rows.recount(cur, [task_id, into_id], log.revision)
