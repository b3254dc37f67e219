"""Live updates: a stream of project revisions, never data."""

from __future__ import annotations

from collections.abc import AsyncIterator
from dataclasses import replace

from fastapi import Request
from fastapi.responses import StreamingResponse
from starlette.concurrency import run_in_threadpool

from ...services.people.people import person_of_session
from ...services.tasks.projects import visible_projects
from .inputs import make_router
from .use import Using, needs

router = make_router("live")


@router.get("/live", openapi_extra=needs("person"), response_class=StreamingResponse)
async def follow(request: Request, use: Using) -> StreamingResponse:
    """Server-sent events: ``{"LAN": 42}`` says that LAN is at revision 42. The first event holds all projects one may see."""
    hub = request.app.state.live

    def visible() -> set[str] | None:
        person = use.database.read(person_of_session, use.actor.clock, use.token)
        if person is None:
            return None
        seen = use.database.read(visible_projects, replace(use.actor, person=person))
        return {project.id for project, _ in seen}

    async def see() -> set[str] | None:
        return await run_in_threadpool(visible)

    async def stream() -> AsyncIterator[bytes]:
        async for event in hub.follow(see):
            yield event

    return StreamingResponse(
        stream(), media_type="text/event-stream", headers={"Cache-Control": "no-store", "X-Accel-Buffering": "no"}
    )
