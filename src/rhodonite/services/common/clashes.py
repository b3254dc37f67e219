"""Two people who change the same thing: which of their fields differ."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Any, Protocol

from pymysql.cursors import Cursor

from ...core.common.errors import Clash
from ...store.common import journal as journal_rows
from .context import Actor


class Edit(Protocol):
    """Changed fields of one thing, and the revision of it that the person saw when editing."""

    @property
    def id(self) -> str:
        """Of the thing."""

    @property
    def revision(self) -> int:
        """That was seen."""

    @property
    def fields(self) -> Mapping[str, Any]:
        """By name what they become."""


def check_clash(
    cur: Cursor, actor: Actor, what: str, before: Mapping[str, Any], edits: Sequence[Edit],
    plain: Callable[[Any], Any] = lambda value: value,
) -> None:  # fmt: skip
    """Look whether somebody else changed the same fields since they were seen.

    Args:
        what: the thing, for the sentence.
        before: by id as each is now.
        plain: a value as it is told.

    Raises:
        Clash: somebody did, to something else.
    """
    since = {edit.id: edit.revision for edit in edits}
    if not since:
        return
    by = {
        (subject, name): person
        for subject, name, revision, person in journal_rows.changed_since(cur, list(since), min(since.values()))
        if revision > since[subject] and person != actor.person.id
    }
    clashes = [
        {"task_id": None, "field": name, "yours": plain(value), "theirs": plain(getattr(before[edit.id], name)), "by": by[edit.id, name]}
        for edit in edits
        for name, value in edit.fields.items()
        if (edit.id, name) in by and getattr(before[edit.id], name) != value
    ]  # fmt: skip
    if clashes:
        raise Clash(f"Somebody else changed the same {what} since. Choose which value stays.", clashes)
