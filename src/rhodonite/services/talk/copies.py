"""What hangs on a task, copied with it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from pymysql.cursors import Cursor

from ...core.talk.parts import Check, Checklist, Comment, File, Relation
from ...store.talk import parts as part_rows
from ...store.tasks import tasks as task_rows
from ..common.context import Log, new_id
from ..common.pipeline import comes_along
from ..common.search_index import write_part_words


@comes_along
def hang(cur: Cursor, log: Log, task_id: str, made: str, project_id: str, moves: bool) -> None:
    """What hangs on a task, hung on its copy: ticks, comments and relations only where it moves."""
    lists = {one.id: replace(one, id=new_id(), task_id=made) for one in part_rows.of_task(cur, Checklist, task_id)}
    checks = [
        replace(one, id=new_id(), task_id=made, checklist_id=lists[one.checklist_id].id,
                done_at=one.done_at if moves else None, done_by=one.done_by if moves else None)
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
    if moves:
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
