"""What hangs on a task besides its fields: comments, files, checklists and relations, and what may be done with them."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from datetime import datetime
from typing import Literal

from ..common.errors import RuleError

PartKind = Literal["comment", "file", "checklist", "check", "relation"]
RelationType = Literal["related", "duplicate", "origin"]
REACTIONS = ("agree", "thanks", "seen", "unsure")
RELATION_WORDS: dict[str, tuple[str, str]] = {
    # as the task says it, and as the other one does
    "related": ("related to", "related to"),
    "duplicate": ("duplicate of", "has the duplicate"),
    "origin": ("comes from", "led to"),
}
LONGEST_ITEM = 500
LONGEST_NAME = 200
MOST_ITEMS = 500
MOST_LISTS = 100
"""Checklists that are read from one cell."""


@dataclass(frozen=True, slots=True)
class Comment:
    """What somebody said on a task. ``body`` is clean HTML; ``reactions`` holds by reaction the ids of those who gave it."""

    id: str
    task_id: str
    person_id: str
    at: datetime
    body: str
    quotes_id: str | None = None
    reactions: Mapping[str, list[str]] = field(default_factory=dict)
    edited_at: datetime | None = None
    resolved_at: datetime | None = None
    resolved_by: str | None = None
    deleted_at: datetime | None = None


@dataclass(frozen=True, slots=True)
class File:
    """An attachment. ``size`` in bytes; an ``inline`` one is an image within a text."""

    id: str
    task_id: str
    person_id: str
    at: datetime
    name: str
    media_type: str
    size: int
    inline: bool = False
    deleted_at: datetime | None = None


@dataclass(frozen=True, slots=True)
class Checklist:
    """A list of things to tick."""

    id: str
    task_id: str
    name: str
    place: str
    deleted_at: datetime | None = None


@dataclass(frozen=True, slots=True)
class Check:
    """One thing to tick."""

    id: str
    task_id: str
    checklist_id: str
    text: str
    place: str
    done_at: datetime | None = None
    done_by: str | None = None
    deleted_at: datetime | None = None


@dataclass(frozen=True, slots=True)
class Relation:
    """How a task stands to another, besides links."""

    id: str
    task_id: str
    to_id: str
    type: RelationType
    deleted_at: datetime | None = None


Part = Comment | File | Checklist | Check | Relation


def clean_item(text: str) -> str:
    """The text of a check, in one line. Raises RuleError where nothing is left or it is too long."""
    text = " ".join(text.split())
    if not text:
        raise RuleError("Write what is to be ticked, or delete the line.", "text")
    if len(text) > LONGEST_ITEM:
        raise RuleError(f"A line to tick has {LONGEST_ITEM} characters at most. Put the rest into the description.", "text")
    return text


def clean_name(name: str, what: str) -> str:
    """A name in one line. Raises RuleError where nothing is left or it is too long."""
    name = " ".join(name.split())
    if not name:
        raise RuleError(f"A {what} needs a name.", "name")
    if len(name) > LONGEST_NAME:
        raise RuleError(f"A name has {LONGEST_NAME} characters at most.", "name")
    return name


def with_reaction(reactions: Mapping[str, list[str]], reaction: str, person_id: str, on: bool) -> dict[str, list[str]]:
    """The reactions of a comment once a person has given one, or taken it back.

    Raises:
        RuleError: there is no such reaction.
    """
    if reaction not in REACTIONS:
        raise RuleError(f"Give one of these reactions: {', '.join(REACTIONS)}.", "reaction")
    given = [one for one in reactions.get(reaction, ()) if one != person_id]
    after = {**reactions, reaction: [*given, person_id] if on else given}
    return {name: people for name, people in after.items() if people}


def may_take_back(kind: PartKind, field: str, writer_id: str | None, by_id: str, person_id: str, role: str | None) -> bool:
    """True where a person may take back what was done to a part: only what they might do themselves.

    Args:
        field: that was changed; ``created`` where it was added.
        writer_id: who wrote or attached it.
        by_id: who made the change.
    """
    edits, says = role in {"lead", "contributor"}, role in {"lead", "contributor", "commenter"}
    if kind == "comment":
        if field in {"created", "deleted_at"}:
            return says and may_rewrite(writer_id or "", person_id, role)
        if field in {"body", "edited_at"}:
            return says and writer_id == person_id
        if field == "reactions":
            return says and by_id == person_id
        return says if field in {"resolved_at", "resolved_by"} else edits
    if kind == "file" and field in {"created", "deleted_at"}:
        return says and may_rewrite(writer_id or "", person_id, role)
    return edits


def may_rewrite(writer_id: str, person_id: str, role: str | None) -> bool:
    """True where a person may change or take away what somebody wrote or attached: their own, or as a lead."""
    return writer_id == person_id or role == "lead"


def say_checklists(lists: Iterable[tuple[str, Iterable[tuple[str, bool]]]]) -> str:
    """Checklists as lines of text, which ``read_checklists`` reads again: the name of each, then ``[x]`` or ``[ ]`` and a thing
    to tick.

    Args:
        lists: by name the things to tick, each with whether it is done.
    """
    lines: list[str] = []
    for name, items in lists:
        lines.append(f"\\{name}" if name.startswith(("[x]", "[ ]", "\\")) else name)
        lines += [f"[{'x' if done else ' '}] {text}" for text, done in items]
    return "\n".join(lines)


def read_checklists(text: str) -> list[tuple[str, list[tuple[str, bool]]]]:
    """The inverse of ``say_checklists``; things to tick before any name stand in a list called Checklist.

    Raises:
        RuleError: a list, or a line of it, that is too long.
    """
    found: list[tuple[str, list[tuple[str, bool]]]] = []
    for line in filter(None, map(str.strip, text.splitlines())):
        tick = re.fullmatch(r"\[([ xX]?)\]\s*(.+)", line)
        if tick is None:
            found.append((clean_name(line.removeprefix("\\"), "checklist"), []))
            if len(found) > MOST_LISTS:
                raise RuleError(f"A task has {MOST_LISTS} checklists at most.")
            continue
        if not found:
            found.append(("Checklist", []))
        found[-1][1].append((clean_item(tick[2]), tick[1].lower() == "x"))
        if len(found[-1][1]) > MOST_ITEMS:
            raise RuleError(f"A checklist has {MOST_ITEMS} lines at most.")
    return found
