"""The application: routers, error documents, security headers, the web files."""

from __future__ import annotations

import secrets
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from datetime import UTC, datetime, timedelta
from mimetypes import guess_type
from pathlib import Path

from anyio.to_thread import current_default_thread_limiter
from fastapi import FastAPI, Request
from fastapi.responses import FileResponse, HTMLResponse, JSONResponse, Response
from pydantic import BaseModel
from starlette.middleware.gzip import GZipMiddleware
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from .. import __version__
from ..api.board import board
from ..api.common import days, live
from ..api.common.inputs import make_router
from ..api.common.problems import UnexpectedErrors, add_problem_handlers, problem
from ..api.common.use import needs
from ..api.cost import costs, invoices
from ..api.cost import tables as cost_tables
from ..api.goals import goals
from ..api.overview import jobs, lenses, search, similar
from ..api.people import people, sessions, teams
from ..api.portfolio import portfolio
from ..api.reports import dashboards, status
from ..api.resources import bookings, capacity, levelling, load, rates
from ..api.resources import tables as resource_tables
from ..api.schedule import calendars, drafts, plan_files, planning, ripples
from ..api.talk import notices, parts
from ..api.tasks import copying, csv_files, custom_fields, projects, recurrence, tasks
from ..api.time import entries as time_entries
from ..api.time import sheets as time_sheets
from ..api.views import printing, sheets, tied, views
from ..standins.text_help import RemoteTextHelp, StandInTextHelp
from ..store.common.database import Database, fetch_one
from ..store.people.people import last_beat
from . import logs
from .live import LiveHub
from .metrics import MetricsMiddleware, render_metrics
from .settings import ROOT, Settings

DIST = ROOT / "web" / "dist"
THREADS = 10
"""Requests that a process works on at once. With more of them, whoever holds the lock of a project waits at each answer of the
database until all others have computed a while: 200 people on one project wait two to four times as long with 40."""
WORKER_SILENT_AFTER = timedelta(seconds=30)

_POLICY = (
    "default-src 'self'; script-src 'self'; style-src 'self'{}; img-src 'self' data: blob:; font-src 'self'; "
    "connect-src 'self'; object-src 'none'; base-uri 'none'; frame-ancestors 'none'; form-action 'self'"
)
_HEADERS = [
    (b"x-content-type-options", b"nosniff"),
    (b"referrer-policy", b"same-origin"),
    (b"x-frame-options", b"DENY"),
    (b"content-security-policy", _POLICY.format("").encode()),
]
_CODINGS = {"br": "br", "gzip": "gz"}
"""How files of the web application lie packed beside themselves, the smallest first, and how those files end."""
_NOT_KEPT = (b"cache-control", b"no-store")


class SecurityHeaders:
    """Adds headers that keep pages from being framed, sniffed or scripted from elsewhere, and answers of the API from being
    kept past the right to see them."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        async def add(message: Message) -> None:
            if message["type"] == "http.response.start":
                own = {name.lower() for name, _ in message["headers"]}  # a file says itself what it may do
                more = [*_HEADERS, _NOT_KEPT] if scope["path"].startswith("/api/") else _HEADERS
                message["headers"] = [*message["headers"], *(one for one in more if one[0] not in own)]
            await send(message)

        await self.app(scope, receive, add if scope["type"] == "http" else send)


class HealthOut(BaseModel):
    """Whether each part is alive."""

    server: str
    database: str
    worker: str
    version: str


system = make_router("system")


@system.get("/health", openapi_extra=needs("nobody"), response_model=HealthOut)
def health(request: Request) -> HealthOut | Response:
    """Whether server, database and worker are alive; 503 where one is not."""
    database, worker = "alive", "alive"
    try:
        request.app.state.database.read(lambda cur: fetch_one(cur, "SELECT 1"))
        at = request.app.state.database.read(last_beat, "worker")
        # The worker's beat is real time, even where the plan's clock stands still.
        if at is None or datetime.now(UTC).replace(tzinfo=None) - at > WORKER_SILENT_AFTER:
            worker = "silent"
    except Exception:
        database, worker = "away", "unknown"
    out = HealthOut(server="alive", database=database, worker=worker, version=__version__)
    if database != "alive" or worker != "alive":
        return Response(out.model_dump_json(), 503, media_type="application/json")
    return out


@system.get("/metrics", openapi_extra=needs("nobody"), response_class=Response)
def metrics() -> Response:
    """Figures for Prometheus."""
    body, content_type = render_metrics()
    return Response(body, media_type=content_type)


def make_app(settings: Settings, database: Database | None = None, document: Path | None = None) -> FastAPI:
    """Build the application.

    Args:
        settings: where the database is, and how to serve.
        database: an open pool, where there is one.
        document: where the API's document is written down, once it is.
    """
    pool = database or Database(settings.database_url, settings.connections)

    @asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        current_default_thread_limiter().total_tokens = THREADS
        await app.state.live.start()
        yield
        await app.state.live.stop()
        if database is None:
            pool.close()

    app = FastAPI(
        title="Rhodonite",
        version=__version__,
        summary="Plan a team's project, run it, and report on it.",
        lifespan=lifespan,
        openapi_url=None,
        docs_url=None,
        redoc_url=None,
    )
    app.state.settings, app.state.database, app.state.clock = settings, pool, settings.clock()
    app.state.live = LiveHub(pool, app.state.clock)
    app.state.text_help = RemoteTextHelp(settings.text_help_url) if settings.text_help_url else StandInTextHelp()
    add_problem_handlers(app)
    ripples.add_handler(app)
    board.add_limit_handler(app)
    for module in (
        sessions,
        people,
        notices,
        parts,
        projects,
        tasks,
        ripples,
        planning,
        drafts,
        printing,
        plan_files,
        calendars,
        lenses,
        csv_files,
        search,
        days,
        live,
        views,
        sheets,
        teams,
        custom_fields,
        board,
        tied,
        portfolio,
        similar,
        copying,
        recurrence,
        bookings,
        capacity,
        load,
        levelling,
        rates,
        resource_tables,
        time_entries,
        time_sheets,
        costs,
        invoices,
        goals,
        status,
        dashboards,
        cost_tables,
        jobs,
    ):
        app.include_router(module.router, prefix="/api")
    app.include_router(system, prefix="/api")
    add_document(app, document)
    add_pages(app, DIST)
    app.add_middleware(UnexpectedErrors)
    app.add_middleware(GZipMiddleware, minimum_size=1500, compresslevel=1)
    app.add_middleware(SecurityHeaders)
    app.add_middleware(MetricsMiddleware)
    return app


def add_document(app: FastAPI, written: Path | None) -> None:
    """Serve the API's document: as it was written when the servers started, or made now while that is not there yet."""

    @app.get("/api/openapi.json", include_in_schema=False)
    def document() -> Response:
        return (
            FileResponse(written, media_type="application/json") if written and written.is_file() else JSONResponse(app.openapi())
        )


def add_pages(app: FastAPI, folder: Path) -> None:
    """Serve the built web application; every address that is not a file is a page of it."""
    root = folder.resolve()

    @app.api_route("/{path:path}", methods=["GET", "HEAD"], include_in_schema=False)
    def page(path: str, request: Request) -> Response:
        if path.startswith("api/"):
            return problem(404, "missing", "There is nothing at this address.")
        file = _file_at(root, path)
        if file is not None:
            lasting = path.startswith("assets/")  # their names change with their contents
            headers = {"Cache-Control": "public, max-age=31536000, immutable" if lasting else "no-cache"}
            taken = request.headers.get("accept-encoding", "")
            for coding, ending in _CODINGS.items():
                small = file.with_name(f"{file.name}.{ending}")
                if coding in taken and small.is_file():
                    more = {"Content-Encoding": coding, "Vary": "Accept-Encoding"}
                    return FileResponse(small, headers=headers | more, media_type=guess_type(file.name)[0])
            return FileResponse(file, headers=headers)
        if not (root / "index.html").is_file():
            return problem(503, "not-built", "The web application has not been built. Start Rhodonite with ./rhodonite.")
        return _start_page(root / "index.html")


def _file_at(root: Path, path: str) -> Path | None:
    """The file of the web application at an address, if there is one."""
    try:
        file = (root / path).resolve()
        return file if path and file.is_file() and file.is_relative_to(root) and file.name != "index.html" else None
    except (ValueError, OSError):  # no path: it holds a null, or is too long
        return None


def _start_page(index: Path) -> Response:
    """The page that every address of the web application gives. Styles that its parts add carry a number used once."""
    nonce = secrets.token_urlsafe(18)
    html = index.read_text("utf-8").replace("<head>", f'<head><meta property="csp-nonce" nonce="{nonce}" />', 1)
    policy = _POLICY.format(f" 'nonce-{nonce}'")
    return HTMLResponse(html, headers={"Cache-Control": "no-cache", "Content-Security-Policy": policy})


def app_from_environment() -> FastAPI:
    """The application for a server process, with settings from the environment."""
    settings = Settings()
    logs.configure(settings.log_level)
    return make_app(settings, document=settings.api_document)
