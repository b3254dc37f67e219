"""One server process, on a socket that the supervisor opened and keeps: ``python -m rhodonite.server.process FD``."""

from __future__ import annotations

import socket
import sys
import threading
import time
from collections.abc import Callable

import structlog
import uvicorn

from ..services.common.context import Clock
from ..services.common.plan_cache import take_in_hand
from ..store.common.database import Database
from ..store.tasks.projects import all_projects
from .application import app_from_environment

log = structlog.get_logger()
SWITCH_EVERY = 0.001
"""Seconds that a thread computes before another may go on: short, so that who only waits for an answer of the database is
not kept by who computes."""


def warm_up(database: Database, clock: Clock, *, wait: Callable[[float], object] = time.sleep) -> None:
    """Take the plans of all projects in hand, the one most worked on first.

    Args:
        wait: called after each with the seconds that it took, so that whoever is served meanwhile has half of the time.
    """
    try:
        projects = database.read(all_projects)
        for project in sorted(projects, key=lambda one: one.revision, reverse=True):
            began = time.monotonic()
            database.read(take_in_hand, project, clock.now())
            wait(time.monotonic() - began)
    except Exception as error:  # plans are read again when they are asked for
        log.warning("plans were not read ahead", exc_info=error)


def main() -> None:
    """Serve until told to stop."""
    listener = socket.socket(fileno=int(sys.argv[1]))
    sys.setswitchinterval(SWITCH_EVERY)
    app = app_from_environment()
    threading.Thread(target=warm_up, args=(app.state.database, app.state.clock), daemon=True).start()
    settings = app.state.settings
    config = uvicorn.Config(
        app,
        log_level="warning",
        access_log=False,
        timeout_graceful_shutdown=3,
        backlog=2048,
        proxy_headers=bool(settings.trusted_proxies),
        forwarded_allow_ips=settings.trusted_proxies,
        server_header=False,
        timeout_keep_alive=75,  # longer than a person thinks
    )
    uvicorn.Server(config).run(sockets=[listener])


if __name__ == "__main__":
    main()
