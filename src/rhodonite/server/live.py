"""The hub of live updates. Each process polls the revisions of all projects once, for all its clients."""

from __future__ import annotations

import asyncio
import contextlib
from collections import Counter
from collections.abc import AsyncIterator, Awaitable, Callable, Collection
from dataclasses import dataclass, field
from typing import Any

import orjson
import structlog
from pymysql.cursors import Cursor
from starlette.concurrency import run_in_threadpool

from ..services.common.context import Clock
from ..services.tasks.seen import Seen, read_seen
from ..store.common.database import Database
from ..store.goals.goals import version as goals_version
from ..store.people.people import access_version
from ..store.reports.dashboards import changes as dashboards_version
from ..store.resources.bookable import mark
from ..store.talk.notices import unread_of
from ..store.tasks.projects import revisions
from ..store.time.entries import timers_of

POLL_EVERY = 0.25
SEE_AGAIN_EVERY = 15.0
log = structlog.get_logger()

See = Callable[[], Awaitable[Collection[str] | None]]


@dataclass(frozen=True, slots=True)
class News:
    """How the installation stood when it was last looked at.

    Attributes:
        projects: by id the code, the revision, and that of the last change to more than tasks.
        access: differs where what somebody may see may have changed.
        unread: by person how many notices are not read, of those who follow.
        bookable: is another after every change to who can be booked when.
        timers: by person what is another whenever their timer is, of those who follow.
        goals: is another after every change to a goal; ``dashboards``: to a dashboard.
    """

    projects: dict[str, tuple[str, int, int]] = field(default_factory=dict)
    access: tuple[int, ...] = ()
    unread: dict[str, int] = field(default_factory=dict)
    bookable: str = ""
    timers: dict[str, str] = field(default_factory=dict)
    goals: int = 0
    dashboards: int = 0


class LiveHub:
    """Tells its clients of new revisions.

    Args:
        database: to poll.
        clock: by which sessions end.
    """

    def __init__(self, database: Database, clock: Clock) -> None:
        self._database = database
        self._clock = clock
        self._now = News()
        self._seen: Seen | None = None
        self._changed: asyncio.Event = asyncio.Event()
        self._people: Counter[str] = Counter()
        self._task: asyncio.Task[None] | None = None
        self._closing = False

    @property
    def clients(self) -> int:
        """How many follow this process."""
        return self._people.total()

    async def start(self) -> None:
        """Begin to poll."""
        self._task = asyncio.create_task(self._poll())

    async def stop(self) -> None:
        """End every stream, then stop polling."""
        self._closing = True
        self._changed.set()
        if self._task:
            self._task.cancel()
            with contextlib.suppress(asyncio.CancelledError):
                await self._task

    async def _poll(self) -> None:
        while True:
            if self.clients:
                try:
                    await self._look()
                except Exception as error:  # the database may be away for a while: keep asking
                    log.warning("live updates wait for the database", exc_info=error)
            await asyncio.sleep(POLL_EVERY)

    async def _look(self) -> None:
        news, seen = await run_in_threadpool(self._database.read, self._read, list(self._people))
        self._seen = seen or self._seen
        if news != self._now:
            self._now = news
            self._changed.set()
            self._changed = asyncio.Event()

    def _read(self, cur: Cursor, people: list[str]) -> tuple[News, Seen | None]:
        rows = revisions(cur)
        access = (access_version(cur), sum(meta for *_, meta in rows), len(rows))
        projects = {one: (code, revision, meta) for one, code, revision, meta in rows}
        same = access == self._now.access and self._seen is not None
        news = News(
            projects,
            access,
            unread_of(cur, people),
            mark(cur),
            timers_of(cur, people),
            goals_version(cur),
            dashboards_version(cur),
        )
        return news, None if same else read_seen(cur, self._clock.utc())

    async def visible(self, token_hash: bytes) -> frozenset[str] | None:
        """The projects that may be seen in a session; None where it has ended. Asks the database for a new session only."""
        if self._seen is None or token_hash not in self._seen.sessions:
            self._seen = await run_in_threadpool(self._database.read, read_seen, self._clock.utc())
        return self._seen.by(token_hash, self._clock.utc())

    async def follow(self, see: See, person_id: str = "") -> AsyncIterator[bytes]:
        """Events for one client.

        Args:
            see: gives the ids of the projects that the client may see, or None where they may see nothing any more, which
                ends the stream; asked again whenever somebody's access may have changed, before anything more is told.
            person_id: whose notices are told of.
        """
        self._people[person_id] += 1
        try:
            await self._look()
            visible: Collection[str] | None = ()
            seen_at = -SEE_AGAIN_EVERY
            access: tuple[int, ...] = ()
            told = _Told()
            while not self._closing:
                changed, now = self._changed, asyncio.get_running_loop().time()
                news = self._now
                if now - seen_at >= SEE_AGAIN_EVERY or access != news.access:
                    access = news.access
                    visible, seen_at = await see(), now
                if visible is None:
                    return
                yield told.events(news, visible, person_id) or b": still here\n\n"
                with contextlib.suppress(TimeoutError):
                    await asyncio.wait_for(changed.wait(), SEE_AGAIN_EVERY)
        finally:
            self._people[person_id] -= 1
            self._people += Counter()  # those whom nobody is any more go


class _Told:
    """What one client has been told."""

    def __init__(self) -> None:
        self._revisions: dict[str, int] = {}
        self._settings: dict[str, int] = {}
        self._unread: int | None = None
        self._bookable: str | None = None
        self._timer: str | None = None
        self._goals: int | None = None
        self._dashboards: int | None = None

    def events(self, news: News, visible: Collection[str], person_id: str) -> bytes:
        """What is new for the client; nothing where nothing is."""
        seen = {code: (revision, meta) for one, (code, revision, meta) in news.projects.items() if one in visible}
        fresh = {code: revision for code, (revision, _) in seen.items() if self._revisions.get(code) != revision}
        settings = {code: meta for code, (_, meta) in seen.items() if self._settings.get(code) != meta}
        self._revisions |= fresh
        self._settings |= settings
        unread = news.unread.get(person_id, 0)
        told, self._unread = self._unread, unread
        known, self._bookable = self._bookable, news.bookable
        timer, self._timer = self._timer, news.timers.get(person_id, "")
        goals, self._goals = self._goals, news.goals
        boards, self._dashboards = self._dashboards, news.dashboards
        return (
            (_event(fresh) if fresh else b"")
            + (_event(settings, b"settings") if settings else b"")
            + (_event(unread, b"notices") if person_id and told != unread else b"")
            + (_event(1, b"timer") if timer not in {None, self._timer} else b"")
            + (_event(1, b"goals") if goals not in {None, news.goals} else b"")
            + (_event(1, b"dashboards") if boards not in {None, news.dashboards} else b"")
            + (_event(1, b"capacity") if known not in {None, news.bookable} else b"")
        )


def _event(data: Any, name: bytes = b"") -> bytes:
    head = b"event: " + name + b"\n" if name else b""
    return head + b"data: " + orjson.dumps(data) + b"\n\n"
