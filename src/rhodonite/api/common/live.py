"""Live updates: a stream of project revisions, never data."""

from __future__ import annotations

from collections.abc import AsyncIterator

from fastapi import Request
from fastapi.responses import StreamingResponse

from ...services.people.people import hash_token
from .inputs import make_router
from .use import Using, needs

router = make_router("live")


@router.get("/live", openapi_extra=needs("person"), response_class=StreamingResponse)
async def follow(request: Request, use: Using) -> StreamingResponse:
    """Server-sent events: ``{"LAN": 42}`` says that LAN is at revision 42. The first event holds all projects one may see.

    The event ``settings`` says the same of the last change to more than tasks (members, workflow, fields, sheets), the event
    ``notices`` how many notices one has not read.
    """
    hub = request.app.state.live
    token_hash = hash_token(use.token)

    async def see() -> frozenset[str] | None:
        return await hub.visible(token_hash)  # type: ignore[no-any-return]

    async def stream() -> AsyncIterator[bytes]:
        async for event in hub.follow(see, use.actor.person.id):
            yield event

    return StreamingResponse(
        stream(), media_type="text/event-stream", headers={"Cache-Control": "no-store", "X-Accel-Buffering": "no"}
    )
