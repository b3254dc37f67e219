"""The words of a task that the search finds besides its title."""

from __future__ import annotations

import uuid
from collections.abc import Iterable
from typing import Any

from pymysql.cursors import Cursor

from ...core.talk.parts import Comment, File, Part
from ...core.tasks.custom_fields import CustomField, check_text
from ...core.tasks.model import Task
from ...formats.html import clean, words_of
from ...store.talk import parts as part_rows
from ...store.tasks import custom_fields as definition_rows


def write_field_words(cur: Cursor, tasks: Iterable[Task]) -> None:
    """Keep what can be found of the project's own fields of some tasks, all of one project: texts, links and list entries."""
    tasks = list(tasks)
    if not tasks:
        return
    defined = [one for _, one in definition_rows.of_project(cur, tasks[0].project_id)]
    fields = [one for one in defined if isinstance(one, CustomField) and one.type in {"text", "link", "choice", "choices"}]
    rows = [
        (
            _field_words_id(task.id),
            task.id,
            task.project_id,
            "field",
            "\n".join(said for one in fields if (said := _said(one, task.own.get(one.id)))),
        )
        for task in tasks
    ]
    part_rows.write_many_words(cur, rows)


def _field_words_id(task_id: str) -> str:
    return str(uuid.uuid5(uuid.UUID(task_id), "the project's own fields"))


def _said(one: CustomField, value: Any) -> str:
    if value is None:
        return ""
    names = {option.id: option.name for option in one.options}
    several = value if isinstance(value, list) else [value]
    return f"{one.name}: {', '.join(names.get(each, str(each)) for each in several)}"


def written(html: Any, field: str) -> str:
    """A text that people wrote, cleaned. Raises RuleError where it is none, or longer than a text can be."""
    found = clean(check_text(html, field))
    return check_text(found, field)


def write_part_words(cur: Cursor, project_id: str, *parts: Part | None) -> None:
    """Keep what can be found of comments and attachments; of those that were taken away nothing."""
    rows = []
    for part in parts:
        if isinstance(part, Comment):
            words, source = words_of(part.body), "comment"
        elif isinstance(part, File) and not part.inline:
            words, source = part.name, "file"
        else:
            continue
        rows.append((part.id, part.task_id, project_id, source, "" if part.deleted_at else words))
    part_rows.write_many_words(cur, rows)
