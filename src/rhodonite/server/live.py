"""The hub of live updates. Each process polls the revisions of all projects once, for all its clients."""

from __future__ import annotations

import asyncio
import contextlib
from collections.abc import AsyncIterator, Awaitable, Callable

import orjson
import structlog
from pymysql.cursors import Cursor
from starlette.concurrency import run_in_threadpool

from ..store.common.database import Database
from ..store.people.people import access_version
from ..store.tasks.projects import revisions

POLL_EVERY = 0.25
SEE_AGAIN_EVERY = 15.0
log = structlog.get_logger()


class LiveHub:
    """Tells its clients of new revisions.

    Args:
        database: to poll.
    """

    def __init__(self, database: Database) -> None:
        self._database = database
        self._known: dict[str, tuple[str, int]] = {}
        self._access: tuple[int, ...] = ()
        self._news: asyncio.Event = asyncio.Event()
        self._clients = 0
        self._task: asyncio.Task[None] | None = None
        self._closing = False

    @property
    def clients(self) -> int:
        """How many follow this process."""
        return self._clients

    async def start(self) -> None:
        """Begin to poll."""
        self._task = asyncio.create_task(self._poll())

    async def stop(self) -> None:
        """End every stream, then stop polling."""
        self._closing = True
        self._news.set()
        if self._task:
            self._task.cancel()
            with contextlib.suppress(asyncio.CancelledError):
                await self._task

    async def _poll(self) -> None:
        while True:
            if self._clients:
                try:
                    await self._look()
                except Exception as error:  # the database may be away for a while: keep asking
                    log.warning("live updates wait for the database", exc_info=error)
            await asyncio.sleep(POLL_EVERY)

    async def _look(self) -> None:
        rows, version = await run_in_threadpool(self._database.read, _read)
        now = {project_id: (code, revision) for project_id, code, revision, _ in rows}
        access = (version, sum(meta for *_, meta in rows), len(rows))  # what may change what somebody sees
        if now != self._known or access != self._access:
            self._known, self._access = now, access
            self._news.set()
            self._news = asyncio.Event()

    async def follow(self, see: Callable[[], Awaitable[set[str] | None]]) -> AsyncIterator[bytes]:
        """Events for one client.

        Args:
            see: gives the ids of the projects that the client may see, or None where they may see nothing any more, which
                ends the stream; asked again whenever somebody's access may have changed, before anything more is told.
        """
        self._clients += 1
        try:
            await self._look()
            visible: set[str] | None = set()
            seen_at = -SEE_AGAIN_EVERY
            access: tuple[int, ...] = ()
            sent: dict[str, tuple[str, int]] = {}
            while not self._closing:
                news, now = self._news, asyncio.get_running_loop().time()
                if now - seen_at >= SEE_AGAIN_EVERY or access != self._access:
                    access = self._access
                    visible, seen_at = await see(), now
                if visible is None:
                    return
                fresh = {k: v for k, v in self._known.items() if k in visible and sent.get(k) != v}
                sent |= fresh | {k: v for k, v in self._known.items() if k not in visible}
                yield b"data: " + orjson.dumps(dict(fresh.values())) + b"\n\n" if fresh else b": still here\n\n"
                with contextlib.suppress(TimeoutError):
                    await asyncio.wait_for(news.wait(), SEE_AGAIN_EVERY)
        finally:
            self._clients -= 1


def _read(cur: Cursor) -> tuple[list[tuple[str, str, int, int]], int]:
    return revisions(cur), access_version(cur)
