"""Answers that are made and compressed once for all who ask the same."""

from __future__ import annotations

import zlib
from collections.abc import Callable, Hashable

from fastapi import Request
from fastapi.responses import Response

from ...services.common.plan_cache import CachedPlan

WORTH_IT = 1500
"""Bytes from which on an answer is compressed."""
LARGE = 64_000
"""Bytes from which on it is worth to compress well."""
_GZIP = 31
_SIGN = b"\x1f\x8b"


def packed(request: Request, held: CachedPlan, asked: Hashable, make: Callable[[], bytes]) -> Response:
    """An answer in JSON.

    Args:
        held: the plan that it is made of: it is kept with it, and goes with it.
        asked: all that it depends on besides that.
    """
    takes_gzip = "gzip" in request.headers.get("accept-encoding", "")

    def pack() -> bytes:
        body = make()
        if not takes_gzip or len(body) < WORTH_IT:
            return body
        return zlib.compress(body, 5 if len(body) >= LARGE else 1, wbits=_GZIP)

    body = held.answers.once((asked, takes_gzip), pack)
    headers = {"Content-Encoding": "gzip"} if body[:2] == _SIGN else {}
    return Response(body, media_type="application/json", headers={**headers, "Vary": "Accept-Encoding"})
