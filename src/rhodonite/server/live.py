"""The hub of live updates. Each process polls the revisions of all projects once, for all its clients."""

from __future__ import annotations

import asyncio
import contextlib
from collections.abc import AsyncIterator, Awaitable, Callable

import orjson
import structlog
from starlette.concurrency import run_in_threadpool

from ..store.database import Database
from ..store.projects import revisions

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
                    log.warning("live updates wait for the database", error=str(error))
            await asyncio.sleep(POLL_EVERY)

    async def _look(self) -> None:
        rows = await run_in_threadpool(self._database.read, revisions)
        now = {project_id: (code, revision) for project_id, code, revision, _ in rows}
        if now != self._known:
            self._known = now
            self._news.set()
            self._news = asyncio.Event()

    async def follow(self, see: Callable[[], Awaitable[set[str]]]) -> AsyncIterator[bytes]:
        """Events for one client.

        Args:
            see: gives the ids of the projects that the client may see; asked again from time to time.
        """
        self._clients += 1
        try:
            await self._look()
            visible = await see()
            seen_at = asyncio.get_running_loop().time()
            sent: dict[str, tuple[str, int]] = {}
            while not self._closing:
                news = self._news
                if asyncio.get_running_loop().time() - seen_at > SEE_AGAIN_EVERY or self._known.keys() - sent.keys() - visible:
                    visible, seen_at = await see(), asyncio.get_running_loop().time()
                fresh = {k: v for k, v in self._known.items() if k in visible and sent.get(k) != v}
                sent |= fresh | {k: v for k, v in self._known.items() if k not in visible}
                yield b"data: " + orjson.dumps(dict(fresh.values())) + b"\n\n" if fresh else b": still here\n\n"
                with contextlib.suppress(TimeoutError):
                    await asyncio.wait_for(news.wait(), SEE_AGAIN_EVERY)
        finally:
            self._clients -= 1
