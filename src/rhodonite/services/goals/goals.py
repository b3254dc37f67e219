"""Goals: set, changed, tied to one another, closed with an outcome."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import replace
from datetime import date
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.errors import Forbidden, Missing, RuleError
from ...core.goals.access import may_aim
from ...core.goals.model import (
    COUNTING,
    LONGEST_DESCRIPTION,
    OUTCOMES,
    Goal,
    Measure,
    Outcome,
    check_goal,
    check_outcome,
    check_word,
    counts_the_same,
)
from ...core.goals.tree import branch, check_tie
from ...formats.html import clean
from ...store.common import journal as journal_rows
from ...store.common.database import from_json
from ...store.common.journal import Entry
from ...store.goals import goals as rows
from ...store.people import people as people_rows
from ...store.people import teams as team_rows
from ..common.clashes import check_version_clash
from ..common.context import Actor, Log, once, writing
from ..tasks.projects import every_visible_project
from . import measuring, telling
from .seen import open_goal

FIELDS = (
    "title", "owner_id", "first", "last", "parent_id", "belongs", "whose", "description", "seen_by", "people", "weight", "measure",
    "rhythm",
)  # fmt: skip
MOST_GOALS = 5_000
_PEOPLES = frozenset({"seen_by", "people", "owner_id"})


@once
def set_goal(cur: Cursor, actor: Actor, one: Goal) -> None:
    """Set a goal.

    Args:
        one: ``at`` is not looked at; an empty owner: the actor.

    Raises:
        Forbidden: a goal of the organisation by somebody who may not set one, or below a goal that they may not edit.
        RuleError: a goal that cannot be.
    """
    actor = replace(actor, draft=None)
    with writing(cur, actor, None, f"set the goal {one.title.strip()}"[:80]) as log:
        rows.count_up(cur)
        insert(cur, actor, log, one)


def insert(cur: Cursor, actor: Actor, log: Log, one: Goal) -> None:
    """Set a goal in a change that is open. Raises as ``set_goal``."""
    made = replace(one, title=" ".join(one.title.split()), owner_id=one.owner_id or actor.person.id, at=actor.clock.utc(),
                   description=_described(one.description))  # fmt: skip
    if rows.count(cur) >= MOST_GOALS:
        raise RuleError(f"{MOST_GOALS:,} goals are the most. Take away those that nobody looks at any more.", "title")
    _check(cur, actor, None, made)
    rows.insert(cur, made)
    rows.follow(cur, made.id, {made.owner_id, actor.person.id})
    log.record("goal", made.id, "created", None, {"title": made.title})
    telling.tell_of_rights(cur, actor, None, made)


def _described(html: str) -> str:
    found = clean(html)
    if len(found) > LONGEST_DESCRIPTION:
        raise RuleError(f"A description has {LONGEST_DESCRIPTION} characters at most. Shorten it.", "description")
    return found


def _check(cur: Cursor, actor: Actor, before: Goal | None, after: Goal) -> None:
    """Raises where a goal cannot become what it would be by this person."""
    check_goal(after)
    everybody = {one.id: one for one in people_rows.all_people(cur)}
    if (before is None or before.belongs != after.belongs) and not may_aim(actor.person, after.belongs):
        words = "Goals of the organisation are set by managers and administrators. Set one of a team or your own." if after.belongs == "organisation" else "Guests set no goals."  # fmt: skip
        raise Forbidden(words)
    if (before is None or before.owner_id != after.owner_id) and not (
        after.owner_id in everybody and everybody[after.owner_id].active
    ):
        raise RuleError("That person is not in the organisation any more. Choose another owner.", "owner_id")
    if before is None or before.people != after.people:
        if any(one not in everybody for one in after.people):
            raise RuleError("Somebody who is named is not in the organisation.", "people")
    if before is None or (before.belongs, before.whose) != (after.belongs, after.whose):
        _check_whose(cur, after, everybody)
    if before is None or (before.parent_id, before.weight) != (after.parent_id, after.weight):
        _check_parent(cur, actor, before, after)
    _check_measure(cur, actor, before, after)


def _check_whose(cur: Cursor, one: Goal, everybody: Collection[str]) -> None:
    known = everybody if one.belongs == "person" else {team.id for team in team_rows.all_teams(cur)}
    if one.whose is not None and one.whose not in known:
        raise RuleError("Choose a team or a person that there is.", "whose")


def _check_parent(cur: Cursor, actor: Actor, before: Goal | None, one: Goal) -> None:
    """Whoever may say something of a goal ties theirs below it. Where it is measured by those below it, that changes its
    figure, and so does their weight: it is for who may edit it."""
    if one.parent_id is None:
        return
    above = open_goal(cur, actor, one.parent_id, "comment")
    if above.measure.kind == "goals":
        open_goal(cur, actor, one.parent_id, "edit")
    if before is not None and before.parent_id == one.parent_id:
        return
    if not above.is_open:
        raise RuleError("The goal above was closed. Open it again, or choose another.", "parent_id")
    check_tie(rows.goals(cur), one.id, one.parent_id)


def _check_measure(cur: Cursor, actor: Actor, before: Goal | None, after: Goal) -> None:
    """Who says what is counted must see all projects in which it is: else they could find out by counts what stands there."""
    if after.measure.kind not in COUNTING or (before is not None and counts_the_same(before, after)):
        return
    seen = every_visible_project(cur, actor)
    if any(one not in seen for one in after.measure.projects):
        if before is None:
            raise Missing("project")
        raise Forbidden("It counts projects that you may not see. What is counted is changed by somebody who sees them all.")
    measuring.check_counting(cur, actor, after)


@once
def edit_goal(cur: Cursor, actor: Actor, goal_id: str, version: int, fields: Mapping[str, Any]) -> None:
    """Change fields of a goal, of ``FIELDS``.

    Args:
        version: of the goal as the person saw it.

    Raises:
        Missing, Forbidden: as ``open_goal``.
        Clash: somebody else changed the same field since.
        RuleError: it was closed, or what would be cannot.
    """
    actor = replace(actor, draft=None)
    open_goal(cur, actor, goal_id, "edit")
    with writing(cur, actor, None, "changed a goal") as log:
        rows.count_up(cur)
        before = open_goal(cur, actor, goal_id, "edit")
        if not before.is_open:
            raise RuleError("The goal was closed. Open it again to change it.", "outcome")
        fields = {name: value for name, value in fields.items() if name in FIELDS}
        check_version_clash(cur, actor, "of the goal", before, version, fields, plain)
        if "title" in fields:
            fields["title"] = " ".join(fields["title"].split())
        if "description" in fields:
            fields["description"] = _described(fields["description"])
        after = replace(before, **fields, version=before.version + 1)
        _check(cur, actor, before, after)
        write(cur, log, before, after)
        rows.follow(cur, goal_id, {after.owner_id} - {before.owner_id})
        if _PEOPLES & fields.keys():
            telling.tell_of_rights(cur, actor, before, after)


def plain(value: Any) -> Any:
    """The value of a field of a goal as the journal keeps it."""
    if isinstance(value, Measure):
        return rows.written_measure(value)
    return value.isoformat() if isinstance(value, date) else dict(value) if isinstance(value, Mapping) else value


def write(cur: Cursor, log: Log, before: Goal, after: Goal) -> None:
    """Write a goal and what changed of it."""
    for name in FIELDS:
        if getattr(before, name) != getattr(after, name):
            log.record("goal", before.id, name, plain(getattr(before, name)), plain(getattr(after, name)))
    rows.update(cur, after)


@once
def delete_goal(cur: Cursor, actor: Actor, goal_id: str) -> None:
    """Take a goal away; goals below it stand below the one above it. Raises as ``open_goal``."""
    _set_gone(cur, actor, goal_id, gone=True)


def _set_gone(cur: Cursor, actor: Actor, goal_id: str, *, gone: bool) -> None:
    actor = replace(actor, draft=None)
    open_goal(cur, actor, goal_id, "edit", deleted=not gone)
    with writing(cur, actor, None, "took a goal away" if gone else "brought a goal back") as log:
        rows.count_up(cur)
        _write_gone(cur, actor, log, open_goal(cur, actor, goal_id, "edit", deleted=not gone), gone=gone)


def _write_gone(cur: Cursor, actor: Actor, log: Log, before: Goal, *, gone: bool) -> None:
    if (before.deleted_at is not None) is gone:
        return
    at = actor.clock.utc() if gone else None
    log.record("goal", before.id, "deleted_at", before.deleted_at, at)
    every = rows.goals(cur)
    if not gone and before.parent_id is not None and before.parent_id not in every:
        before = replace(before, parent_id=None)
    rows.update(cur, replace(before, deleted_at=at, version=before.version + 1))
    for one in every.values() if gone else ():
        if one.parent_id == before.id:
            write(cur, log, one, replace(one, parent_id=before.parent_id, version=one.version + 1))


@once
def close_goal(cur: Cursor, actor: Actor, goal_id: str, outcome: Outcome, word: str) -> None:
    """Close a goal with an outcome and a word on why. It keeps its last value from then on.

    Raises:
        RuleError: it was closed already, or there is no word for what was not met.
    """
    actor, word = replace(actor, draft=None), check_word(word, "word")
    open_goal(cur, actor, goal_id, "edit")
    check_outcome(outcome, word)
    with writing(cur, actor, None, f"closed a goal: {OUTCOMES[outcome]}") as log:
        rows.count_up(cur)
        before = open_goal(cur, actor, goal_id, "edit")
        if not before.is_open:
            raise RuleError(f"The goal was closed already: {OUTCOMES[before.outcome or outcome]}.", "outcome")
        stands = measuring.standings(cur, actor, branch(rows.goals(cur), goal_id))[goal_id]
        after = replace(before, outcome=outcome, word=word, closed_at=actor.clock.utc(), closed_value=stands.value,
                        closed_percent=stands.percent, closed_done=stands.done, closed_total=stands.total, version=before.version + 1)  # fmt: skip
        log.record("goal", goal_id, "outcome", None, outcome)
        log.record("goal", goal_id, "word", before.word, word)
        rows.update(cur, after)
        telling.tell_followers(cur, actor, after, "goal", f"closed it: {OUTCOMES[outcome]}. {word}".strip())


@once
def open_again(cur: Cursor, actor: Actor, goal_id: str) -> None:
    """Open a goal again that was closed: nothing of it is changed but that. Raises RuleError where it is open."""
    actor = replace(actor, draft=None)
    open_goal(cur, actor, goal_id, "edit")
    with writing(cur, actor, None, "opened a goal again") as log:
        rows.count_up(cur)
        before = open_goal(cur, actor, goal_id, "edit")
        if before.is_open:
            raise RuleError("The goal is open.", "outcome")
        log.record("goal", goal_id, "outcome", before.outcome, None)
        log.record("goal", goal_id, "word", before.word, "")
        rows.update(cur, _reopened(before))


def _reopened(one: Goal) -> Goal:
    return replace(
        one,
        outcome=None,
        word="",
        closed_at=None,
        closed_value=None,
        closed_percent=None,
        closed_done=None,
        closed_total=None,
        version=one.version + 1,
    )


def set_following(cur: Cursor, actor: Actor, goal_id: str, on: bool) -> None:
    """Follow a goal, or no more. Raises Missing where the person may not see it."""
    open_goal(cur, replace(actor, draft=None), goal_id, "read")
    if on:
        rows.follow(cur, goal_id, [actor.person.id])
    else:
        rows.leave(cur, goal_id, actor.person.id)


def take_back(cur: Cursor, actor: Actor, goal_id: str, entries: Sequence[Entry]) -> None:
    """Take back what a change did to a goal.

    Raises:
        Missing, Forbidden: the actor may not change it.
        RuleError: it was changed again since.
    """
    by_field = {one.field: one for one in entries if one.subject_id == goal_id}
    made = [one.subject_id for one in entries if one.field == "created"]
    if made:
        _unmake(cur, replace(actor, draft=None), made)
    elif "deleted_at" in by_field:
        _set_gone(cur, actor, goal_id, gone=from_json(by_field["deleted_at"].old) is not None)
        _tie_again(cur, actor, [one for one in entries if one.subject_id != goal_id])
    elif "outcome" in by_field:
        was = from_json(by_field["outcome"].old)
        if was is None:
            open_again(cur, actor, goal_id)
        else:
            close_goal(cur, actor, goal_id, was, from_json(by_field["word"].old) if "word" in by_field else "")
    else:
        now = open_goal(cur, actor, goal_id, "edit")
        if any(plain(getattr(now, name)) != from_json(one.new) for name, one in by_field.items()):
            raise RuleError("The goal was changed again since, so this cannot be taken back. Change it by hand.")
        fields = {name: read_plain(name, from_json(one.old)) for name, one in by_field.items()}
        edit_goal(cur, actor, goal_id, now.version, fields)


def _unmake(cur: Cursor, actor: Actor, made: Sequence[str]) -> None:
    """Take away what was set: who set a goal for somebody else may, as long as nobody else has changed it.

    Args:
        made: of a file several; what is below goes first, so that it is not tied elsewhere before.
    """
    for one in made:
        if {person for _, person, *_ in journal_rows.history_of(cur, [one], 50)} - {actor.person.id}:
            open_goal(cur, actor, one, "edit")
    with writing(cur, actor, None, "took away what was set") as log:
        rows.count_up(cur)
        for one in reversed(made):
            before = rows.goal(cur, one)
            if before is not None and before.deleted_at is None:
                _write_gone(cur, actor, log, before, gone=True)


def _tie_again(cur: Cursor, actor: Actor, entries: Sequence[Entry]) -> None:
    """Let goals stand again below one that was taken away and is back."""
    every = rows.goals(cur)
    for entry in entries:
        one, was = every.get(entry.subject_id), from_json(entry.old)
        if entry.field == "parent_id" and one is not None and one.parent_id == from_json(entry.new) and was in every:
            check_tie(every, one.id, was)
            rows.update(cur, replace(one, parent_id=was, version=one.version + 1))


def read_plain(name: str, value: Any) -> Any:
    """The inverse of ``plain``."""
    if name == "measure":
        return rows.read_measure(value)
    return date.fromisoformat(value) if name in {"first", "last"} else value
