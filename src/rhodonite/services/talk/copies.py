"""What hangs on tasks, copied with them."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from dataclasses import replace

from pymysql.cursors import Cursor

from ...core.talk.parts import Check, Checklist, Comment, File, Relation
from ...store.talk import parts as part_rows
from ...store.tasks import tasks as task_rows
from ..common.context import Log, new_id
from ..common.pipeline import Way, comes_along
from ..common.search_index import write_part_words

Copies = Mapping[str, str]
"""By what was copied, the copy: ids."""


@comes_along
def hang(cur: Cursor, log: Log, way: Way) -> None:
    """What hangs on tasks, hung on their copies: ticks, comments and relations only where they move."""
    if not way.hanging:
        return
    copies, project_id, moves = way.copies, way.target.id, way.moves
    lists = _copy_checklists(cur, copies, moves)
    files = part_rows.of_tasks(cur, File, list(copies))
    made = {one.id: replace(one, id=new_id(), task_id=copies[one.task_id]) for one in files}
    part_rows.insert(cur, made.values())
    part_rows.copy_pieces(cur, {one: copy.id for one, copy in made.items()})
    write_part_words(cur, project_id, *made.values())
    pictures = {one: copy.id for one, copy in made.items() if copy.inline}
    _show_copied_pictures(cur, log, {copies[one.task_id] for one in files if one.inline}, pictures)
    if moves:
        _move_talk(cur, copies, project_id, pictures)
    of_lists, of_files = Counter(one.task_id for one in lists), Counter(one.task_id for one in files)
    for one in [one for one in copies if of_lists[one] or of_files[one]]:
        log.record("task", copies[one], "hanging", None, f"{of_lists[one]} checklists and {of_files[one]} files")


def _copy_checklists(cur: Cursor, copies: Copies, moves: bool) -> list[Checklist]:
    """The lists that were copied, as they stand on the originals."""
    lists = part_rows.of_tasks(cur, Checklist, list(copies))
    made = {one.id: replace(one, id=new_id(), task_id=copies[one.task_id]) for one in lists}
    checks = [
        replace(one, id=new_id(), task_id=copies[one.task_id], checklist_id=made[one.checklist_id].id,
                done_at=one.done_at if moves else None, done_by=one.done_by if moves else None)
        for one in part_rows.of_tasks(cur, Check, list(copies))
        if one.checklist_id in made
    ]  # fmt: skip
    part_rows.insert(cur, made.values())
    part_rows.insert(cur, checks)
    return lists


def _show_copied_pictures(cur: Cursor, log: Log, task_ids: set[str], pictures: Copies) -> None:
    texts = {one: text for one, text in task_rows.descriptions_of(cur, task_ids).items() if text}
    task_rows.update_tasks(
        cur, {one: {"description": _with_pictures(text, pictures)} for one, text in texts.items()}, log.revision
    )


def _with_pictures(text: str, pictures: Copies) -> str:
    """A text that shows the copies of its pictures: who sees the copy may not see the original."""
    for one, copy in pictures.items():
        text = text.replace(f"/api/files/{one}", f"/api/files/{copy}")
    return text


def _move_talk(cur: Cursor, copies: Copies, project_id: str, pictures: Copies) -> None:
    task_ids = list(copies)
    comments = part_rows.of_tasks(cur, Comment, task_ids)
    ids = {one.id: new_id() for one in comments}
    moved = [
        replace(
            one,
            id=ids[one.id],
            task_id=copies[one.task_id],
            quotes_id=ids.get(one.quotes_id or ""),
            body=_with_pictures(one.body, pictures),
        )
        for one in comments
    ]
    part_rows.insert(cur, moved)
    write_part_words(cur, project_id, *moved)
    relations = part_rows.of_tasks(cur, Relation, task_ids)
    part_rows.insert(cur, [replace(one, id=new_id(), task_id=copies[one.task_id]) for one in relations])
    followings = part_rows.followings(cur, task_ids)
    part_rows.insert_followings(cur, [(copies[task_id], person, how) for task_id, person, how in followings])
