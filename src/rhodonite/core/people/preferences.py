"""What a person may set for themselves."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import asdict, dataclass, field
from typing import Any, Literal

from ..common.errors import RuleError

NoticeKind = Literal[
    "named", "said", "given", "held", "state", "can_start", "dates", "changed", "goal", "goal_due", "report", "report_due"
]

NOTICE_KINDS: dict[NoticeKind, str] = {
    "named": "I am named in a text",
    "said": "somebody comments",
    "given": "a task is given to me or taken from me",
    "held": "a task is held, or goes on",
    "state": "a task moves to another state, or is deleted",
    "can_start": "a task of mine can start",
    "dates": "the dates of a task move",
    "changed": "anything else changes",
    "goal": "something is said of a goal that I follow, or it is closed",
    "goal_due": "a progress note of mine is due",
    "report": "a status report is sent to me",
    "report_due": "a status report of mine is due",
}
MOST_DAYS = 1000
HOMES = ("", "desk", "work", "goals", "reports")
MAILS = ("none", "daily", "at_once")


def _usual_mail() -> dict[str, str]:
    return {"named": "at_once", "given": "at_once"}


@dataclass(frozen=True, slots=True)
class Preferences:
    """What a person has set, or the usual values.

    Attributes:
        ripple_days: working days by which a change may move other tasks before its ripple is shown.
        longest_days: working days beyond which a check of the plan calls a task long.
        digest_hour: the hour of the day, local time, at which the daily digest goes out.
        home: where Rhodonite opens: ``desk``, ``work``, ``goals``, ``reports``, ``p/CODE`` for a project, or
            ``reports/dashboard/ID`` for a dashboard; empty: where one’s role
            works most.
        mail: by kind of notice how it goes out by mail: ``at_once``, ``daily``; not at all where a kind is left out.
    """

    ripple_days: float = 0
    longest_days: float = 20
    digest_hour: float = 7
    home: str = ""
    mail: Mapping[str, str] = field(default_factory=_usual_mail)


def mail_for(changes: Mapping[str, Any], kind: NoticeKind) -> str:
    """How a kind of notice goes out by mail to who has set this: ``at_once``, ``daily`` or ``none``."""
    return with_changes(Preferences(), changes).mail.get(kind, "none")


_SPANS = {"ripple_days": (0.0, MOST_DAYS), "longest_days": (0.5, MOST_DAYS), "digest_hour": (0, 23)}


def with_changes(before: Preferences, changes: Mapping[str, Any]) -> Preferences:
    """The preferences once some have changed.

    Raises:
        RuleError: one that there is none of, or a value that cannot be.
    """
    values = asdict(before)
    for name, value in changes.items():
        if name == "mail":
            values["mail"] = {**values["mail"], **_read_mail(value)}
            continue
        if name == "home":
            values["home"] = _read_home(value)
            continue
        if name not in values:
            raise RuleError(f"There is no preference called {name}.", name)
        least, most = _SPANS[name]
        if not isinstance(value, int | float) or not least <= value <= most:
            what = "an hour" if name == "digest_hour" else "working days"
            raise RuleError(f"Write {what} from {least:g} to {most:g}.", name)
        values[name] = value
    return Preferences(**values)


_HOME = re.compile(r"p/[A-Za-z][A-Za-z0-9]{1,7}|reports/dashboard/[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}")


def _read_home(value: Any) -> str:
    if not isinstance(value, str) or not (value in HOMES or _HOME.fullmatch(value)):
        raise RuleError("Choose a place at which Rhodonite opens: desk, work, goals, reports, a project or a dashboard.", "home")
    return value


def _read_mail(value: Any) -> dict[str, str]:
    if not isinstance(value, Mapping) or not value.keys() <= NOTICE_KINDS.keys() or not set(value.values()) <= set(MAILS):
        raise RuleError("Say for each kind of notice whether it goes out by mail: none, daily or at_once.", "mail")
    return dict(value)
