"""One server process, on a socket that the supervisor opened and keeps: ``python -m rhodonite.server.process FD``."""

from __future__ import annotations

import gc
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
from .metrics import SERVING

log = structlog.get_logger()
SWITCH_EVERY = 0.001
"""Seconds that a thread computes before another may go on: short, so that who only waits for an answer of the database is
not kept by who computes."""


COLLECT_EVERY = (50_000, 20, 20)
"""How many objects more than before let Python look for circles of objects that nobody uses (see ``gc.set_threshold``). Plans
are millions of objects that stay, and looked through each time."""


def make_room(took: float) -> None:
    """Leave whoever is served at this moment half of the time."""
    if SERVING.count:
        time.sleep(took)


def warm_up(database: Database, clock: Clock, *, wait: Callable[[float], object] = make_room) -> None:
    """Take the plans of all projects in hand, the one most worked on first.

    Args:
        wait: called after each with the seconds that it took.
    """
    try:
        projects = database.read(all_projects)
        for project in sorted(projects, key=lambda one: one.revision, reverse=True):
            began = time.monotonic()
            database.read(take_in_hand, project, clock.now())
            wait(time.monotonic() - began)
        gc.freeze()  # what is held now is not looked through again
    except Exception as error:  # plans are read again when they are asked for
        log.warning("plans were not read ahead", exc_info=error)


def main() -> None:
    """Serve until told to stop."""
    listener = socket.socket(fileno=int(sys.argv[1]))
    sys.setswitchinterval(SWITCH_EVERY)
    gc.set_threshold(*COLLECT_EVERY)
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
