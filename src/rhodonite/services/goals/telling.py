"""Who is told what of a goal: notices, and mail as each person wishes."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from datetime import date
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.dates import say_day
from ...core.goals.access import right_in
from ...core.goals.model import Goal
from ...core.people.model import Person
from ...core.people.preferences import NoticeKind, mail_for
from ...standins.dispatch import send_mail
from ...store.goals import goals as rows
from ...store.people import people as people_rows
from ...store.talk import notices as notice_rows
from ...store.talk.notices import Notice
from ..common.context import Actor, new_id

LONGEST_WORDS = 1_000


def tell(cur: Cursor, actor: Actor, goal: Goal, kind: NoticeKind, words: Mapping[str, str], mailed: Collection[str] = ()) -> None:
    """Tell people of a goal, those who may see it, but for who did it.

    Args:
        words: by person what happened.
        mailed: those who get it by mail at once, whatever they wish.
    """
    people = {one.id: one for one in people_rows.all_people(cur) if one.active and one.id in words and one.id != actor.person.id}
    told = [one for one in people.values() if right_in(goal, one) is not None]
    wishes = people_rows.preferences_of(cur, {one.id for one in told})
    notices = []
    for one in told:
        how = mail_for(wishes.get(one.id, {}), kind)
        text = words[one.id][:LONGEST_WORDS]
        notices.append(Notice(new_id(), one.id, None, None, kind, "owner" if one.id == goal.owner_id else "follower", actor.person.id,
                              actor.clock.utc(), text, None, None, how == "daily" and one.id not in mailed, goal.id))  # fmt: skip
        if how == "at_once" or one.id in mailed:
            _mail(cur, actor, goal, one, text)
    notice_rows.insert(cur, notices)


def _mail(cur: Cursor, actor: Actor, goal: Goal, to: Person, words: str) -> None:
    body = f"{actor.person.name} {words}\n\n{goal.title}\n{actor.address}/goals?open={goal.id}"
    send_mail(cur, new_id(), actor.clock.utc(), to=to.email, subject=goal.title[:300], body=body)


def tell_followers(cur: Cursor, actor: Actor, goal: Goal, kind: NoticeKind, words: str, others: Collection[str] = ()) -> None:
    """Tell those who follow a goal, its owner, and others, who get it by mail."""
    tell(cur, actor, goal, kind, dict.fromkeys([*rows.followers(cur, goal.id), goal.owner_id, *others], words), others)


def tell_of_rights(cur: Cursor, actor: Actor, before: Goal | None, after: Goal) -> None:
    """Tell those for whom a goal is named anew, and who became its owner."""
    words = {}
    for one, right in after.people.items():
        if before is None or before.people.get(one) != right:
            words[one] = {"read": "shows you a goal", "comment": "asks what you say of a goal", "edit": "lets you edit a goal"}[
                right
            ]
    if before is None or before.owner_id != after.owner_id:
        words[after.owner_id] = "made you the owner of a goal"
    tell(cur, actor, after, "goal", words)


def remind(cur: Cursor, owner: Actor, goal: Goal, due: date, wishes: Mapping[str, Any]) -> None:
    """Tell the owner of a goal that its progress note is due: by nobody but themselves.

    Args:
        wishes: what the owner has set for themselves.
    """
    how = mail_for(wishes, "goal_due")
    words = f"is asked for a progress note, due {say_day(due)}"
    notice_rows.insert(cur, [Notice(new_id(), owner.person.id, None, None, "goal_due", "owner", owner.person.id, owner.clock.utc(), words, None,
                                    None, how == "daily", goal.id)])  # fmt: skip
    if how == "at_once":
        _mail(cur, owner, goal, owner.person, words)
