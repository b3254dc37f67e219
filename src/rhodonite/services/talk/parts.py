"""What hangs on a task: comments, attachments, checklists, relations, and who follows it."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, replace
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.errors import Forbidden, Missing, RuleError
from ...core.common.ordering import Room, make_room, place_between
from ...core.people.access import ProjectAction
from ...core.schedule.plan import Plan
from ...core.talk.notices import FOLLOWINGS, Following, Reason, followers
from ...core.talk.parts import (
    MOST_ITEMS,
    RELATION_WORDS,
    Check,
    Checklist,
    Comment,
    File,
    Part,
    Relation,
    clean_item,
    clean_name,
    may_rewrite,
    with_reaction,
)
from ...core.tasks.model import Project, Task
from ...core.tasks.workflow import dropped_state
from ...formats.html import people_in, words_of
from ...formats.media import media_type_of
from ...store.talk import parts as part_rows
from ...store.talk.parts import Kind
from ...store.tasks import projects as project_rows
from ...store.tasks import tasks as task_rows
from ..common.context import Actor, AlreadyDone, Log, check_project, new_id, once, writing
from ..common.left_out import Counted, Format, leaves_out
from ..common.pipeline import changing
from ..common.search_index import write_part_words, written
from ..tasks.tasks import NewTask, apply_edit, insert_tasks
from .notices import tell_of_comment


@dataclass(frozen=True, slots=True)
class Hanging:
    """An open change to what hangs on a task."""

    log: Log
    project: Project
    task: Task
    role: str | None


def _open(cur: Cursor, actor: Actor, task_id: str, action: ProjectAction) -> tuple[Project, Task, str | None]:
    found = task_rows.tasks_by_id(cur, [task_id])
    project = project_rows.project(cur, found[0].project_id) if found else None
    if project is None or found[0].deleted_at is not None:
        raise Missing("task")
    member_role = project_rows.members(cur, project.id).get(actor.person.id)
    check_project(actor, project, member_role, action)
    return project, found[0], actor.role_in(project, member_role)


@contextmanager
def hanging(cur: Cursor, actor: Actor, task_id: str, what: str, action: ProjectAction = "edit") -> Iterator[Hanging]:
    """Open a change to what hangs on a task; what hangs there is counted anew when it ends well.

    Raises:
        Missing: there is no such task, or the person may not see it.
        Forbidden: the person may see it, but not do this.
        AlreadyDone: this change was written before.
    """
    project, task, role = _open(cur, actor, task_id, action)
    with writing(cur, actor, project.id, f"{what} “{task.title}”"[:80]) as log:
        yield Hanging(log, project, task, role)
        part_rows.recount(cur, [task_id], log.revision)


def _part(cur: Cursor, kind: type[Kind], part_id: str, what: str) -> Kind:
    found = part_rows.part(cur, kind, part_id)
    if found is None or found.deleted_at is not None:
        raise Missing(what)
    return found


def _add(cur: Cursor, log: Log, part: Part, words: str) -> None:
    part_rows.insert(cur, [part])
    log.record(part_rows.NAMES[type(part)], part.id, "created", None, {"words": words})


def _change(cur: Cursor, log: Log, part: Part, **fields: Any) -> None:
    changed = {name: value for name, value in fields.items() if getattr(part, name) != value}
    for name, value in changed.items():
        log.record(part_rows.NAMES[type(part)], part.id, name, getattr(part, name), value)
    if changed:
        part_rows.update(cur, type(part), part.id, changed)


@once
def _remove(cur: Cursor, actor: Actor, part: Part, what: str) -> None:
    """Take away a part that anybody who may edit the task may take away."""
    with hanging(cur, actor, part.task_id, what) as at:
        _change(cur, at.log, part, deleted_at=actor.clock.utc())


# --- comments


def _body(body: str) -> str:
    html = written(body, "body")
    if not html:
        raise RuleError("Write something first.", "body")
    return html


@once
def say(cur: Cursor, actor: Actor, task_id: str, comment_id: str, body: str, quotes_id: str | None) -> None:
    """Comment on a task. Who follows it is told, and who is named.

    Args:
        quotes_id: the comment that this one answers.
    """
    html = _body(body)
    with hanging(cur, actor, task_id, "commented on", "comment") as at:
        if quotes_id is not None and _part(cur, Comment, quotes_id, "comment").task_id != task_id:
            raise Missing("comment")
        comment = Comment(comment_id, task_id, actor.person.id, actor.clock.utc(), html, quotes_id)
        words = words_of(html)
        _add(cur, at.log, comment, words[:300])
        write_part_words(cur, at.project.id, comment)
        tell_of_comment(cur, actor, at.project, at.task, words, people_in(html), comment_id, everyone=True)


@once
def edit_comment(cur: Cursor, actor: Actor, comment_id: str, body: str) -> None:
    """Rewrite one's own comment. Who is named now and was not before is told.

    Raises:
        Forbidden: somebody else wrote it.
    """
    html, before = _body(body), _part(cur, Comment, comment_id, "comment")
    with hanging(cur, actor, before.task_id, "rewrote a comment on", "comment") as at:
        if before.person_id != actor.person.id:
            raise Forbidden("Only its writer may rewrite a comment. Answer it instead.")
        _change(cur, at.log, before, body=html, edited_at=actor.clock.utc())
        write_part_words(cur, at.project.id, replace(before, body=html))
        fresh = [one for one in people_in(html) if one not in people_in(before.body)]
        if fresh:
            tell_of_comment(cur, actor, at.project, at.task, words_of(html), fresh, comment_id, everyone=False)


@once
def mark_comment(cur: Cursor, actor: Actor, comment_id: str, *, resolved: bool | None, reaction: str | None, on: bool) -> None:
    """Resolve a comment or open it again; or give it a reaction, or take that back."""
    before = _part(cur, Comment, comment_id, "comment")
    what = "resolved a comment on" if resolved else "opened a comment again on" if resolved is False else "gave a reaction on"
    with hanging(cur, actor, before.task_id, what, "comment") as at:
        if resolved is not None:
            done = (actor.clock.utc(), actor.person.id) if resolved else (None, None)
            _change(cur, at.log, before, resolved_at=done[0], resolved_by=done[1])
        if reaction is not None:
            _change(cur, at.log, before, reactions=with_reaction(before.reactions, reaction, actor.person.id, on))


def delete_comment(cur: Cursor, actor: Actor, comment_id: str) -> None:
    """Take away a comment: one's own, or as a lead anybody's."""
    _take_away(cur, actor, _part(cur, Comment, comment_id, "comment"), "comment", "comment")


@once
def _take_away(cur: Cursor, actor: Actor, part: Comment | File, what: str, action: ProjectAction) -> None:
    with hanging(cur, actor, part.task_id, f"took away a {what} of", action) as at:
        if not may_rewrite(part.person_id, actor.person.id, at.role):
            raise Forbidden(f"Only who added the {what}, or a lead, may take it away.")
        _change(cur, at.log, part, deleted_at=actor.clock.utc())
        write_part_words(cur, at.project.id, replace(part, deleted_at=actor.clock.utc()))


# --- attachments


def attach(cur: Cursor, actor: Actor, task_id: str, file_id: str, name: str, data: bytes, *, inline: bool, most: int) -> File:
    """Attach a file to a task.

    Args:
        inline: True for an image that stands within a text.
        most: bytes that a file may have.

    Raises:
        RuleError: it is empty, too big, or is to stand in a text and is no image.
    """
    name = clean_name(name.replace("/", "_").replace("\\", "_"), "file")
    if not data:
        raise RuleError(f"{name} is empty. Choose another file.", "file")
    if len(data) > most:
        raise RuleError(
            f"{name} has {len(data) >> 20} MB; {most >> 20} MB is the most. Share it elsewhere and link to it.", "file"
        )
    media_type = media_type_of(name, data)
    if inline and not media_type.startswith("image/"):
        raise RuleError(f"{name} is no picture, so it cannot stand in a text. Attach it.", "file")
    file = File(file_id, task_id, actor.person.id, actor.clock.utc(), name, media_type, len(data), inline)
    try:
        with hanging(cur, actor, task_id, "attached a file to", "comment" if inline else "edit") as at:
            _add(cur, at.log, file, name)
            part_rows.write_pieces(cur, file_id, data)
            write_part_words(cur, at.project.id, file)
    except AlreadyDone:
        pass
    return file


def check_file(cur: Cursor, actor: Actor, file_id: str) -> None:
    """Raises Missing where there is no such file, or the person may not see its task."""
    _open(cur, actor, _part(cur, File, file_id, "file").task_id, "see")


def read_file(cur: Cursor, actor: Actor, file_id: str) -> tuple[File, bytes]:
    """A file with its bytes. Raises Missing where the person may not see its task."""
    file = _part(cur, File, file_id, "file")
    _open(cur, actor, file.task_id, "see")
    return file, b"".join(part_rows.read_pieces(cur, file_id))


@once
def rename_file(cur: Cursor, actor: Actor, file_id: str, name: str) -> None:
    """Give an attachment another name."""
    before = _part(cur, File, file_id, "file")
    name = clean_name(name.replace("/", "_").replace("\\", "_"), "file")
    with hanging(cur, actor, before.task_id, "renamed a file of") as at:
        _change(cur, at.log, before, name=name)
        write_part_words(cur, at.project.id, replace(before, name=name))


def delete_file(cur: Cursor, actor: Actor, file_id: str) -> None:
    """Take away an attachment: one's own, or as a lead anybody's."""
    _take_away(cur, actor, _part(cur, File, file_id, "file"), "file", "edit")


# --- checklists


@once
def add_checklist(cur: Cursor, actor: Actor, task_id: str, list_id: str, name: str, items: Sequence[str]) -> None:
    """Add a checklist to a task, with things to tick."""
    with hanging(cur, actor, task_id, "added a checklist to") as at:
        lists = part_rows.of_task(cur, Checklist, task_id)
        place = place_between(lists[-1].place if lists else None, None)
        made = Checklist(list_id, task_id, clean_name(name, "checklist"), place)
        _add(cur, at.log, made, made.name)
        _add_checks(cur, at, made, [(new_id(), one) for one in items], "end")


@once
def add_checks(cur: Cursor, actor: Actor, list_id: str, items: Sequence[tuple[str, str]], after_id: str | None) -> None:
    """Add things to tick to a checklist.

    Args:
        items: an id made by the client and the text of each.
        after_id: the one to stand behind; None for the first place, ``"end"`` for the last.
    """
    made = _part(cur, Checklist, list_id, "checklist")
    with hanging(cur, actor, made.task_id, "added to a checklist of") as at:
        _add_checks(cur, at, made, items, after_id)


def _add_checks(cur: Cursor, at: Hanging, made: Checklist, items: Sequence[tuple[str, str]], after_id: str | None) -> None:
    there = [one for one in part_rows.of_task(cur, Check, made.task_id) if one.checklist_id == made.id]
    if len(there) + len(items) > MOST_ITEMS:
        raise RuleError(f"A checklist has {MOST_ITEMS} lines at most. Begin another.", "items")
    room = make_room(there, after_id, len(items))
    _make_way(cur, at.log, there, room)
    for (check_id, text), place in zip(items, room.places, strict=True):
        one = Check(check_id, made.task_id, made.id, clean_item(text), place)
        _add(cur, at.log, one, one.text)


def _make_way(cur: Cursor, log: Log, there: Sequence[Checklist] | Sequence[Check], room: Room) -> None:
    """Write the new places of those that make room for others."""
    for one in there:
        if one.id in room.others:
            _change(cur, log, one, place=room.others[one.id])


@once
def edit_checklist(cur: Cursor, actor: Actor, list_id: str, fields: dict[str, Any]) -> None:
    """Rename a checklist, or with ``after_id`` move it behind another of its task."""
    before = _part(cur, Checklist, list_id, "checklist")
    with hanging(cur, actor, before.task_id, "changed a checklist of") as at:
        if "name" in fields:
            _change(cur, at.log, before, name=clean_name(fields["name"], "checklist"))
        if "after_id" in fields:
            others = [one for one in part_rows.of_task(cur, Checklist, before.task_id) if one.id != list_id]
            room = make_room(others, fields["after_id"], 1)
            _make_way(cur, at.log, others, room)
            _change(cur, at.log, before, place=room.places[0])


def delete_checklist(cur: Cursor, actor: Actor, list_id: str) -> None:
    """Take a checklist away."""
    _remove(cur, actor, _part(cur, Checklist, list_id, "checklist"), "took away a checklist of")


@once
def edit_check(cur: Cursor, actor: Actor, check_id: str, fields: dict[str, Any]) -> None:
    """Tick a thing or take the tick off (``done``), change its ``text``, or move it: ``after_id``, ``checklist_id``."""
    before = _part(cur, Check, check_id, "line")
    ticks = fields.get("done")
    what = "ticked on" if ticks else "took a tick off" if ticks is False else "changed a checklist of"
    with hanging(cur, actor, before.task_id, what) as at:
        if ticks is not None and ticks != (before.done_at is not None):
            at.log.record("check", check_id, "done", None if ticks else before.text, before.text if ticks else None)
            done = (actor.clock.utc(), actor.person.id) if ticks else (None, None)
            _change(cur, at.log, before, done_at=done[0], done_by=done[1])
        if "text" in fields:
            _change(cur, at.log, before, text=clean_item(fields["text"]))
        if "after_id" in fields:
            target = fields.get("checklist_id") or before.checklist_id
            if _part(cur, Checklist, target, "checklist").task_id != before.task_id:
                raise RuleError("A line can move between the checklists of one task.", "checklist_id")
            others = [o for o in part_rows.of_task(cur, Check, before.task_id) if o.checklist_id == target and o.id != check_id]
            room = make_room(others, fields["after_id"], 1)
            _make_way(cur, at.log, others, room)
            _change(cur, at.log, before, checklist_id=target, place=room.places[0])


def delete_check(cur: Cursor, actor: Actor, check_id: str) -> None:
    """Take a line out of a checklist."""
    _remove(cur, actor, _part(cur, Check, check_id, "line"), "took a line from a checklist of")


@once
def check_to_task(cur: Cursor, actor: Actor, check_id: str, task_id: str) -> None:
    """Turn a line of a checklist into a task below; the line goes."""
    before = _part(cur, Check, check_id, "line")
    project, above, _ = _open(cur, actor, before.task_id, "edit")
    with changing(cur, actor, project.code, f"made a task of “{before.text}”"[:80]) as (log, held):
        owner = {"owner_id": above.owner_id} if above.owner_id else {}
        insert_tasks(cur, actor, log, held.plan, [NewTask(task_id, before.text, above.id, "end", owner)])
        _change(cur, log, before, deleted_at=actor.clock.utc())
        part_rows.recount(cur, [above.id], log.revision)


# --- relations


@once
def relate(cur: Cursor, actor: Actor, task_id: str, relation_id: str, to_id: str, type_: str) -> None:
    """Relate a task to another, in its project or in one that the person may see.

    Raises:
        RuleError: an unknown relation, the task itself, or a relation that is there already.
    """
    if type_ not in RELATION_WORDS:
        raise RuleError(f"Choose a relation: {', '.join(RELATION_WORDS)}.", "type")
    if task_id == to_id:
        raise RuleError("A task cannot be related to itself. Name another.", "to_id")
    other_project, other, _ = _open(cur, actor, to_id, "see")
    with hanging(cur, actor, task_id, "related") as at:
        there = part_rows.of_task(cur, Relation, task_id) + part_rows.relations_to(cur, task_id)
        if any({one.task_id, one.to_id} == {task_id, to_id} and one.type == type_ for one in there):
            raise RuleError(f"It is {RELATION_WORDS[type_][0]} {other.title} already.", "to_id")
        # who reads this may not see the other project
        here, word = other_project.id == at.project.id, RELATION_WORDS[type_][0]
        named = f"{other_project.code} {other.number}" if here or not other_project.private else "a task of another project"
        words = f"{word} {named}{f' {other.title}' if here else ''}"
        _add(cur, at.log, Relation(relation_id, task_id, to_id, type_), words)  # type: ignore[arg-type]


def unrelate(cur: Cursor, actor: Actor, relation_id: str) -> None:
    """Take a relation away."""
    _remove(cur, actor, _part(cur, Relation, relation_id, "relation"), "took away a relation of")


@once
def close_duplicate(cur: Cursor, actor: Actor, relation_id: str) -> None:
    """Drop a task that is a duplicate of another, and let its followers follow that one.

    Raises:
        RuleError: the relation is of another type, or the workflow has no state for what is dropped.
    """
    relation = _part(cur, Relation, relation_id, "relation")
    if relation.type != "duplicate":
        raise RuleError("Only a duplicate can be closed as one.", "type")
    project, task, _ = _open(cur, actor, relation.task_id, "edit")
    kept_in, kept, _ = _open(cur, actor, relation.to_id, "see")
    # who reads this may not see the project of the other
    what = f"closed a duplicate of “{kept.title}”" if kept_in.id == project.id else f"closed “{task.title}” as a duplicate"
    with changing(cur, actor, project.code, what[:80]) as (log, held):
        dropped = dropped_state(held.plan.project, task.state_id)
        if dropped is None:
            raise RuleError("The workflow has no state of the class dropped. Add one in the settings.", "state_id")
        apply_edit(cur, actor, log, held.plan, task.id, {"state_id": dropped.id})
        for person in followers_of(cur, actor, task).people:
            part_rows.set_following(cur, kept.id, person, "follows")


# --- following


@dataclass(frozen=True, slots=True)
class FollowersOfTask:
    """Who follows a task and why, and what the person who asks said of it themselves."""

    people: dict[str, Reason]
    mine: Following | None


def followers_of(cur: Cursor, actor: Actor, task: Task) -> FollowersOfTask:
    """Who follows a task, for the person who asks."""
    concerned = part_rows.concerned(cur, [task.id])
    said: dict[str, Following] = {person: how for _, person, how in concerned if how}  # type: ignore[misc]
    writers = [person for _, person, how in concerned if how is None]
    return FollowersOfTask(followers(task, writers, said), said.get(actor.person.id))


def follow(cur: Cursor, actor: Actor, task_id: str, how: str | None) -> None:
    """Follow a task, leave it, or mute it; with None what follows from owning, helping and writing holds again."""
    if how is not None and how not in FOLLOWINGS:
        raise RuleError("Say follows, left or muted.", "how")
    _open(cur, actor, task_id, "see")
    part_rows.set_following(cur, task_id, actor.person.id, how)


@leaves_out
def _talk_left_out(cur: Cursor, _actor: Actor, plan: Plan, _into: Format) -> Iterable[Counted]:
    """Comments, files, relations and followers, which no file holds."""
    comments, files, relations, followers = part_rows.counts(cur, plan.project.id)
    return [
        (comments, "comment", "comments"),
        (files, "file", "files"),
        (relations, "relation between tasks", "relations between tasks"),
        (followers, "follower", "followers"),
    ]
