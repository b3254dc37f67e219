"""What the organisation is there for, and which sections progress notes have."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from pymysql.cursors import Cursor

from ...core.common.errors import Forbidden, RuleError
from ...core.goals.access import may_aim
from ...core.goals.model import check_section_names, check_word
from ...store.common.database import from_json
from ...store.common.journal import Entry
from ...store.goals import goals as rows
from ..common.context import Actor, Log, once, writing


@once
def set_purpose(cur: Cursor, actor: Actor, purpose: str | None, sections: Sequence[str] | None) -> None:
    """Say what the organisation is there for, and which sections progress notes have.

    Raises:
        Forbidden: the person is neither manager nor administrator.
        RuleError: too long, or sections that cannot be.
    """
    actor = replace(actor, draft=None)
    if not may_aim(actor.person, "organisation"):
        raise Forbidden("What the organisation is there for is said by managers and administrators.")
    with writing(cur, actor, None, "changed what the organisation is there for") as log:
        rows.count_up(cur)
        before = rows.settings(cur)
        after = replace(
            before,
            purpose=before.purpose if purpose is None else check_word(purpose, "purpose"),
            sections=before.sections if sections is None else check_section_names(tuple(sections)),
        )
        _write_settings(cur, log, before, after)


def _write_settings(cur: Cursor, log: Log, before: rows.GoalSettings, after: rows.GoalSettings) -> None:
    log.record_changes("goal_settings", str(log.change.id), before, after, ("purpose", "sections"))
    rows.set_settings(cur, after.purpose, after.sections)


def take_settings_back(cur: Cursor, actor: Actor, entries: Sequence[Entry]) -> None:
    """Take back what a change did to the settings of goals. Raises RuleError where they were changed again since."""
    now = rows.settings(cur)
    stands = {"purpose": now.purpose, "sections": list(now.sections)}
    if any(stands[one.field] != from_json(one.new) for one in entries):
        raise RuleError("It was changed again since, so this cannot be taken back. Change it by hand.")
    old = {one.field: from_json(one.old) for one in entries}
    set_purpose(cur, actor, old.get("purpose"), old.get("sections"))
