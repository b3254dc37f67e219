"""Figures for Prometheus, gathered over all server processes."""

from __future__ import annotations

import os
import time
from dataclasses import dataclass

from prometheus_client import CONTENT_TYPE_LATEST, CollectorRegistry, Counter, Histogram, generate_latest
from prometheus_client.multiprocess import MultiProcessCollector
from starlette.types import ASGIApp, Message, Receive, Scope, Send

REQUESTS = Counter("rhodonite_requests", "Requests answered", ["method", "route", "status"])
SECONDS = Histogram("rhodonite_request_seconds", "Time to answer", ["method", "route"])


LIVE = "/api/live"
"""A stream, which lasts as long as the page is open."""


@dataclass(slots=True)
class Serving:
    """How many requests this process is answering."""

    count: int = 0


SERVING = Serving()


class MetricsMiddleware:
    """Counts and times requests by the pattern of their route."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http" or scope["path"] == LIVE:
            await self.app(scope, receive, send)
            return
        began, status = time.perf_counter(), 500
        SERVING.count += 1

        async def watch(message: Message) -> None:
            nonlocal status
            if message["type"] == "http.response.start":
                status = message["status"]
            await send(message)

        try:
            await self.app(scope, receive, watch)
        finally:
            SERVING.count -= 1
            route = getattr(scope.get("route"), "path", "other")
            REQUESTS.labels(scope["method"], route, status).inc()
            SECONDS.labels(scope["method"], route).observe(time.perf_counter() - began)


def render_metrics() -> tuple[bytes, str]:
    """All figures in the text format of Prometheus, and its content type."""
    if "PROMETHEUS_MULTIPROC_DIR" in os.environ:
        registry = CollectorRegistry()
        MultiProcessCollector(registry)  # type: ignore[no-untyped-call]
        return generate_latest(registry), CONTENT_TYPE_LATEST
    return generate_latest(), CONTENT_TYPE_LATEST
