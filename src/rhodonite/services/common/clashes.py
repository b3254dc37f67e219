"""Two people who change the same thing: which of their fields differ."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
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
    fields = [
        (name, value, getattr(before[edit.id], name), by.get((edit.id, name)))
        for edit in edits
        for name, value in edit.fields.items()
    ]
    refuse_clashes(what, fields, plain)


def check_version_clash(
    cur: Cursor, actor: Actor, what: str, before: Any, version: int, fields: Mapping[str, Any], plain: Callable[[Any], Any]
) -> None:  # fmt: skip
    """As ``check_clash``, for one thing outside the projects, whose versions count its changes.

    Args:
        before: as it is now, with its ``id`` and ``version``.
        version: that was seen.
        fields: what would change of it.
    """
    if version >= before.version:
        return
    theirs: dict[str, str] = {}
    changes: set[str] = set()
    for change_id, person, _, _, name, _, _ in journal_rows.history_of(cur, [before.id], 500):  # the newest first
        changes.add(change_id)
        if len(changes) > before.version - version:
            break
        if person != actor.person.id:
            theirs[name] = person
    refuse_clashes(what, [(name, value, getattr(before, name), theirs.get(name)) for name, value in fields.items()], plain)


def refuse_clashes(what: str, fields: Iterable[tuple[str, Any, Any, str | None]], plain: Callable[[Any], Any]) -> None:
    """Raises Clash where somebody else changed a field to something else.

    Args:
        what: the thing, for the sentence.
        fields: (name, what it would become, what it is, who else changed it since).
        plain: a value as it is told.
    """
    clashes = [
        {"task_id": None, "field": name, "yours": plain(yours), "theirs": plain(theirs), "by": by}
        for name, yours, theirs, by in fields
        if by is not None and yours != theirs
    ]
    if clashes:
        raise Clash(f"Somebody else changed the same {what} since. Choose which value stays.", clashes)
