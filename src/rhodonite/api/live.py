"""Live updates: a stream of project revisions, never data."""

from __future__ import annotations

from collections.abc import AsyncIterator

from fastapi import APIRouter, Request
from fastapi.responses import StreamingResponse
from starlette.concurrency import run_in_threadpool

from ..services.projects import visible_projects
from .use import Using, needs

router = APIRouter(tags=["live"])


@router.get("/live", openapi_extra=needs("person"), response_class=StreamingResponse)
async def follow(request: Request, use: Using) -> StreamingResponse:
    """Server-sent events: ``{"LAN": 42}`` says that LAN is at revision 42. The first event holds all projects one may see."""
    hub = request.app.state.live

    def visible() -> set[str]:
        people = use.database.read(visible_projects, use.actor)
        return {project.id for project, _ in people}

    async def see() -> set[str]:
        return await run_in_threadpool(visible)

    async def stream() -> AsyncIterator[bytes]:
        async for event in hub.follow(see):
            yield event

    return StreamingResponse(
        stream(), media_type="text/event-stream", headers={"Cache-Control": "no-store", "X-Accel-Buffering": "no"}
    )
