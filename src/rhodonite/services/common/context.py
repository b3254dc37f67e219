"""What every use of the program carries: who acts and when, and how a change is written down."""

from __future__ import annotations

import secrets
import time
import uuid
from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from datetime import UTC, datetime
from functools import wraps
from types import EllipsisType
from typing import Any, Concatenate, Literal, ParamSpec
from zoneinfo import ZoneInfo

from pymysql.cursors import Cursor

from ...core.common.errors import Clash, Forbidden, Missing, RuleError, Taken
from ...core.people.access import OrganisationAction, ProjectAction, may_in_organisation, may_in_project, project_role
from ...core.people.model import Person
from ...core.schedule.drafts import refusal
from ...core.tasks.model import Project, Task
from ...store.common import journal as journal_rows
from ...store.common.database import take_back, to_json, transaction_of
from ...store.schedule import drafts as draft_rows
from ...store.tasks import projects as project_rows
from ...store.tasks import tasks as task_rows

Args = ParamSpec("Args")


class Clock:
    """The one clock. Frozen where a moment is given, which tests and pictures use.

    Args:
        zone: the time zone of the organisation; the plan's local time.
        frozen: local time at which to stand still.
    """

    def __init__(self, zone: ZoneInfo, frozen: datetime | None = None) -> None:
        self.zone = zone
        self._frozen = frozen

    def now(self) -> datetime:
        """Local time, naive, to the second: the time that a plan is read at."""
        return self._frozen or datetime.now(self.zone).replace(tzinfo=None, microsecond=0)

    def utc(self) -> datetime:
        """UTC, naive: the time that an instant is written down with."""
        if self._frozen is None:
            return datetime.now(UTC).replace(tzinfo=None)
        return self._frozen.replace(tzinfo=self.zone).astimezone(UTC).replace(tzinfo=None)

    def local(self, instant: datetime) -> datetime:
        """The local time of a UTC instant."""
        return instant.replace(tzinfo=UTC).astimezone(self.zone).replace(tzinfo=None)

    def set(self, local: datetime) -> None:
        """Move a frozen clock: the demo lays out its history by this."""
        self._frozen = local


def new_id() -> str:
    """A UUID of version 7 (RFC 9562): 48 bits of Unix milliseconds, then random bits."""
    value = (int(time.time() * 1000) << 80) | secrets.randbits(80)
    value = value & ~(0xF << 76) | 0x7 << 76
    value = value & ~(0x3 << 62) | 0x2 << 62
    return str(uuid.UUID(int=value))


def pair_of(change_id: str) -> str:
    """The id of the change in the other project, where one use of the program changes two."""
    return str(uuid.uuid5(uuid.UUID(change_id), "the other project"))


@dataclass(frozen=True, slots=True)
class Consent:
    """How a change that moves other tasks is to be taken: see ``services.schedule.reschedule``.

    Attributes:
        days: with ``ask``, how far others may move, in working days, before the ripple is shown.
        revision: with the others, the revision of the project that the ripple was made from.
    """

    kind: Literal["ask", "all", "only", "alone"]
    days: float = 0
    revision: int = 0


@dataclass(frozen=True, slots=True)
class Actor:
    """The person who acts, when, the id that the client gave this use of the program, and the draft that they are in."""

    person: Person
    clock: Clock
    change_id: str = field(default_factory=new_id)
    consent: Consent | None = None
    draft: str | None = None
    reason: str = ""
    """Why a limit of the board is passed."""
    address: str = ""
    """Under which people open Rhodonite, for links in mail."""

    def require(self, action: OrganisationAction) -> None:
        """Raises Forbidden where the person's role in the organisation does not allow this."""
        if not may_in_organisation(self.person.role, action):
            words = {
                "see_people": "see people", "create_project": "start projects", "administer": "administer the organisation",
                "plan_people": "plan the time of other people", "see_rates": "see what people cost",
            }  # fmt: skip
            raise Forbidden(f"Your role, {self.person.role}, may not {words[action]}. Ask an administrator.")

    def role_in(self, project: Project, member_role: str | None) -> str | None:
        """The person's role in a project."""
        return project_role(self.person.role, member_role, project.private)


def open_project(cur: Cursor, actor: Actor, code: str, action: ProjectAction) -> Project:
    """The project with a code, once the person may do this in it.

    Raises:
        Missing: there is none, or the person may not see it.
        Forbidden: the person may see it, but not do this; or it is archived and this would change it.
    """
    found = project_rows.project_and_role(cur, code.upper(), actor.person.id)
    if found is None:
        raise Missing("project")
    check_project(actor, *found, action)
    return found[0]


def check_not_archived(project: Project) -> None:
    """Raises Forbidden where a project is archived: it is read, not changed."""
    if project.archived_at is not None:
        raise Forbidden(f"{project.code} is archived and cannot be changed. Restore it first.")


def check_project(actor: Actor, project: Project, member_role: str | None, action: ProjectAction) -> None:
    """Raises Missing or Forbidden as ``open_project`` does."""
    role = actor.role_in(project, member_role)
    if not may_in_project(role, "see"):
        raise Missing("project")
    if not may_in_project(role, action):
        needed = {
            "manage": "a lead",
            "see_costs": "a lead",
            "edit": "a contributor",
            "comment": "a commenter",
            "see": "a member",
        }[action]
        raise Forbidden(f"You are {role} in {project.code}; this needs {needed}. Ask its lead for that role.")
    if action in {"edit", "comment"}:
        check_not_archived(project)


def open_task(cur: Cursor, actor: Actor, task_id: str) -> Project:
    """The project of a task, once the person may see it. Raises Missing where there is no such task for them."""
    project_id = task_rows.project_of(cur, task_id)
    if project_id is None and actor.draft is not None:  # it may be one that only the draft has
        project_id = draft_rows.project_of(cur, actor.draft, task_id)
    project = project_rows.project(cur, project_id) if project_id else None
    if project is None:
        raise Missing("task")
    check_project(actor, project, project_rows.members(cur, project.id).get(actor.person.id), "see")
    return project


class Log:
    """Collects what one change writes, for the journal.

    Attributes:
        revision: of the project, after this change; 0 outside a project.
        in_draft: True where the change is to a draft, so that no row of a task is written.
        tasks: those that the change has touched, as they are now.
        named: by task the ids of those whom its description names anew.
        announced: what the change does besides, in sentences: who asks to be shown first what it carries on is shown them.
    """

    def __init__(self, change: journal_rows.Change, project: Project | None, *, in_draft: bool = False) -> None:
        self.change = change
        self.revision = change.revision
        self.in_draft = in_draft
        self._project = project
        self.entries: list[journal_rows.Entry] = []
        self.tasks: dict[str, Task] = {}
        self.named: dict[str, list[str]] = {}
        self.announced: list[str] = []

    @property
    def project(self) -> Project:
        """The project as this change found it, but that its revision has been counted up."""
        assert self._project is not None
        return self._project

    def record(self, subject: str, subject_id: str, field: str, old: Any, new: Any) -> None:
        """Note one field: what it was, what it became."""
        self.entries.append(journal_rows.Entry(subject, subject_id, field, to_json(old), to_json(new)))

    def record_changes(self, subject: str, subject_id: str, before: Any, after: Any, fields: Iterable[str]) -> None:
        """Note of some fields those that differ between two things."""
        for name in fields:
            if getattr(before, name) != getattr(after, name):
                self.record(subject, subject_id, name, getattr(before, name), getattr(after, name))


class AlreadyDone(Exception):
    """The change with this id was written before: the request is a repeat and must do nothing."""


def once(service: Callable[Concatenate[Cursor, Actor, Args], None]) -> Callable[Concatenate[Cursor, Actor, Args], None]:
    """Let a service that gives nothing do nothing where its change was written before, whatever it looks at first.

    ``writing`` looks for that. It is looked for here where the service is refused, which may be because it was done: what
    it deletes is there no more. To look first would cost each use of the program a question more.
    """

    @wraps(service)
    def done(cur: Cursor, actor: Actor, *args: Args.args, **kwargs: Args.kwargs) -> None:
        try:
            service(cur, actor, *args, **kwargs)
        except AlreadyDone:
            return
        except (RuleError, Missing, Forbidden, Clash, Taken):
            if not _was_written(cur, actor):
                raise

    return done  # type: ignore[return-value]  # it differs in the names of its first two parameters only


def _was_written(cur: Cursor, actor: Actor) -> bool:
    take_back(cur)  # or the change itself, refused half way, would be found
    try:
        check_new(cur, actor)
    except AlreadyDone:
        return True
    return False


def check_new(cur: Cursor, actor: Actor, project_id: str | EllipsisType | None = ...) -> None:
    """Look whether this change was written before.

    Args:
        project_id: of the project that it is to; left out where that is not known yet.

    Raises:
        AlreadyDone: it was, by the same person.
        Taken: another change has its id.
    """
    found = journal_rows.change(cur, actor.change_id)
    if found is None:
        return
    if found.person_id != actor.person.id or (not isinstance(project_id, EllipsisType) and found.project_id != project_id):
        raise Taken
    raise AlreadyDone


LONGEST_WHAT = 80
"""Characters of a change in words."""


@contextmanager
def writing(
    cur: Cursor, actor: Actor, project_id: str | None, what: str, *, meta: bool = False, seen: Project | None = None
) -> Iterator[Log]:
    """Open a change: lock the project, count it up, and write change and journal when the block ends well.

    Args:
        seen: the project as it was read in this transaction, which is not asked for again where nobody changed it since.
        what: the use of the program in words, for the activity page.
        meta: True where more than tasks changes (name, members, workflow, calendar).

    Raises:
        AlreadyDone: this change was written before.
        Taken: its id is that of another change.
        RuleError: the person is in a draft, which holds no such changes.
    """
    if project_id is not None and actor.draft is not None:
        check_new(cur, actor, project_id)
        raise refusal()
    at = actor.clock.utc()
    with transaction_of(cur).opening():
        project = project_rows.count_up(cur, project_id, at, actor.change_id, meta=meta, seen=seen) if project_id else None
        if project is None:
            check_new(cur, actor, project_id)
        revision = project.revision if project else 0
        log = Log(
            journal_rows.Change(actor.change_id, project_id, revision, actor.person.id, at, what[:LONGEST_WHAT], None), project
        )
        journal_rows.insert_change(cur, log.change)  # first, so that the same request sent twice at once is written once
    yield log
    if log.entries:
        journal_rows.insert_entries(cur, log.change, log.entries)
