"""Who is told of a change, of which kind it is to them, and why it reaches them."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass
from typing import Literal

from ..people.preferences import NOTICE_KINDS, NoticeKind
from ..tasks.model import OPEN_CLASSES, Project, Task

Reason = Literal["owner", "helper", "writer", "follower", "named"]
Following = Literal["follows", "left", "muted"]

FOLLOWINGS: tuple[Following, ...] = ("follows", "left", "muted")
MOST_OF_A_KIND = 5
"""More notices of one kind than this, from one change to one person, become one that counts them."""

_FIELD_KINDS: tuple[tuple[NoticeKind, frozenset[str]], ...] = (
    ("held", frozenset({"held_reason", "held_by_id"})),
    ("state", frozenset({"state_id", "deleted_at"})),
    ("dates", frozenset({"start", "finish"})),
    (
        "changed",
        frozenset({"title", "description", "deadline", "priority", "effort", "percent", "kind", "parent_id", "waits_for"}),
    ),
)
_BY_REASON: dict[Reason, frozenset[NoticeKind]] = {
    "owner": frozenset(NOTICE_KINDS),
    "helper": frozenset(NOTICE_KINDS),
    # who has only written or follows is not told of each small change
    "writer": frozenset({"named", "said", "held", "state"}),
    "follower": frozenset({"named", "said", "held", "state", "dates"}),
    "named": frozenset({"named"}),
}


@dataclass(frozen=True, slots=True)
class Touch:
    """What one change did to one task: the names of the fields that it set."""

    before: Task | None
    after: Task
    fields: frozenset[str]


@dataclass(frozen=True, slots=True)
class ToTell:
    """One notice to be written. ``task_ids`` are several where it counts them."""

    person_id: str
    kind: NoticeKind
    reason: Reason
    task_ids: tuple[str, ...]


def followers(task: Task, writers: Collection[str], said: Mapping[str, Following]) -> dict[str, Reason]:
    """Who follows a task, and why: its owner, its helpers, who wrote on it, and who asked to; not those who left.

    Args:
        writers: ids of those who have commented on it.
        said: by person what they said of following it themselves. Who has muted it is not told, but still stands here.
    """
    found: dict[str, Reason] = dict.fromkeys((one for one, how in said.items() if how != "left"), "follower")
    found |= dict.fromkeys(writers, "writer")
    found |= dict.fromkeys(task.helpers, "helper")
    if task.owner_id:
        found[task.owner_id] = "owner"
    return {one: why for one, why in found.items() if said.get(one) != "left" or why in {"owner", "helper"}}


def is_told(kind: NoticeKind, reason: Reason, how: Following | None) -> bool:
    """True where a notice of a kind reaches a person: who muted a task hears only of their own name and of being given it."""
    return kind in {"named", "given"} if how == "muted" else kind in _BY_REASON[reason]


def notices_of(
    touched: Mapping[str, Touch],
    writers: Mapping[str, Collection[str]],
    said: Mapping[str, Mapping[str, Following]],
    actor_id: str,
    can_start: Collection[str] = (),
) -> list[ToTell]:
    """The notices that a change to tasks gives, one for each person and task, of the kind that matters most.

    Args:
        touched: by task what was done to it.
        writers, said: by task, as for ``followers``.
        actor_id: who made the change, and is not told of it.
        can_start: tasks that wait for nothing any more, as ``can_start_now`` finds them.
    """
    found: list[ToTell] = []
    for task_id, touch in touched.items():
        kind = _kind_of(touch.fields)
        task_said = said.get(task_id, {})
        told = set()
        for person, reason in _given(touch).items():
            if person != actor_id and is_told("given", reason, task_said.get(person)):
                found.append(ToTell(person, "given", reason, (task_id,)))
                told.add(person)
        if kind is None:
            continue
        for person, reason in followers(touch.after, writers.get(task_id, ()), task_said).items():
            if person != actor_id and person not in told and is_told(kind, reason, task_said.get(person)):
                found.append(ToTell(person, kind, reason, (task_id,)))
    for task_id in can_start:
        owner = touched[task_id].after.owner_id if task_id in touched else None
        if owner and is_told("can_start", "owner", said.get(task_id, {}).get(owner)):
            found = [one for one in found if one.person_id != owner or task_id not in one.task_ids or one.kind == "given"]
            found.append(ToTell(owner, "can_start", "owner", (task_id,)))
    return _counted(found)


def _kind_of(fields: frozenset[str]) -> NoticeKind | None:
    return next((kind for kind, names in _FIELD_KINDS if fields & names), None)


def _given(touch: Touch) -> dict[str, Reason]:
    """Who became or is no longer owner or helper."""
    before, after = touch.before, touch.after
    was = {before.owner_id, *before.helpers} if before else {None}
    now = {after.owner_id, *after.helpers}
    people: dict[str, Reason] = {}
    for person in (was ^ now) - {None}:
        people[str(person)] = "owner" if person in {after.owner_id, before and before.owner_id} else "helper"
    if before and before.owner_id != after.owner_id:  # from helper to owner, or back
        people |= {one: "owner" for one in (before.owner_id, after.owner_id) if one}
    return people


def _counted(found: Iterable[ToTell]) -> list[ToTell]:
    alike: dict[tuple[str, NoticeKind], list[ToTell]] = defaultdict(list)
    for one in found:
        alike[one.person_id, one.kind].append(one)
    out: list[ToTell] = []
    for (person, kind), some in alike.items():
        if len(some) <= MOST_OF_A_KIND:
            out += some
        else:
            out.append(ToTell(person, kind, some[0].reason, tuple(one.task_ids[0] for one in some)))
    return out


def can_start_now(
    tasks: Mapping[str, Task], changed: Mapping[str, Touch], project: Project, before: Project | None = None
) -> list[str]:
    """The tasks that waited for one that a change has finished, and now wait for nothing that is open.

    Only finish-to-start and finish-to-finish links keep a task waiting for a finish; the first kind for its start.

    Args:
        before: the project as it stood before, where the change is to its states too.
    """
    finished = {one for one, touch in changed.items() if _finished_now(touch, project, before or project)}
    if not finished:
        return []
    return [
        task.id
        for task in tasks.values()
        if task.deleted_at is None
        and project.state(task.state_id).state_class == "queued"
        and any(link.from_id in finished and link.type == "FS" for link in task.waits_for)
        and not any(link.type == "FS" and _is_open(tasks.get(link.from_id), project) for link in task.waits_for)
    ]


def _finished_now(touch: Touch, project: Project, was: Project) -> bool:
    before = touch.before
    return not _is_open(touch.after, project) and (before is None or _is_open(before, was))


def _is_open(task: Task | None, project: Project) -> bool:
    return task is not None and task.deleted_at is None and project.state(task.state_id).state_class in OPEN_CLASSES
