"""One server process, on a socket that the supervisor opened and keeps: ``python -m rhodonite.server.process FD``."""

from __future__ import annotations

import socket
import sys

import uvicorn

from .application import app_from_environment


def main() -> None:
    """Serve until told to stop."""
    listener = socket.socket(fileno=int(sys.argv[1]))
    config = uvicorn.Config(
        app_from_environment(),
        log_level="warning",
        access_log=False,
        timeout_graceful_shutdown=3,
        backlog=2048,
        proxy_headers=True,
    )
    uvicorn.Server(config).run(sockets=[listener])


if __name__ == "__main__":
    main()
