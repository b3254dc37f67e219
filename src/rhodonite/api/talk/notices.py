"""Notices: what is new, why it reaches one, and what goes out by mail."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from pydantic import BaseModel, Field

from ...core.people.preferences import NOTICE_KINDS
from ...services.talk import notices
from ..common.inputs import Id, make_router
from ..common.use import Using, needs

router = make_router("notices")


class NoticeOut(BaseModel):
    """One notice. ``words`` say what happened, without who."""

    id: str
    kind: str
    reason: str = Field(description="Why it reaches one: owner, helper, writer, follower or named")
    by_id: str
    at: datetime
    words: str
    comment_id: str | None
    read: bool


class NoticeGroupOut(BaseModel):
    """The notices of one task, the newest first; of several tasks of a project where there is no task; of a goal where there is
    no project."""

    code: str | None
    project: str | None
    goal_id: str | None
    task_id: str | None
    number: int | None
    title: str | None
    notices: list[NoticeOut]


class NoticesOut(BaseModel):
    """What is new, and the kinds that there are, in words."""

    groups: list[NoticeGroupOut]
    kinds: dict[str, str]


class CountOut(BaseModel):
    """How many notices are not read."""

    unread: int


class ReadIn(BaseModel):
    """Which notices to mark; all where no ids are given."""

    ids: Annotated[list[Id], Field(max_length=1000)] | None = None
    read: bool = True


@router.get("/notices", openapi_extra=needs("person"))
def read_notices(use: Using, unread: bool = False) -> NoticesOut:
    """One's own notices, grouped by task."""
    local = use.actor.clock.local
    groups = [
        NoticeGroupOut(
            code=group.project.code if group.project else None,
            project=group.project.name if group.project else None,
            goal_id=group.goal_id,
            task_id=group.task_id,
            number=group.number,
            title=group.title,
            notices=[
                NoticeOut(
                    id=one.id,
                    kind=one.kind,
                    reason=one.reason,
                    by_id=one.by_id,
                    at=local(one.at),
                    words=one.words,
                    comment_id=one.comment_id,
                    read=one.read_at is not None,
                )
                for one in group.notices
            ],
        )
        for group in use.read(notices.read_notices, unread)
    ]
    return NoticesOut(groups=groups, kinds={**NOTICE_KINDS})


@router.get("/notices/count", openapi_extra=needs("person"))
def count_notices(use: Using) -> CountOut:
    """How many notices one has not read."""
    return CountOut(unread=use.read(notices.count_unread))


@router.post("/notices/read", openapi_extra=needs("person"), status_code=204)
def mark_read(body: ReadIn, use: Using) -> None:
    """Mark one's own notices as read, or as unread."""
    use.write(notices.mark_read, body.ids, body.read)
