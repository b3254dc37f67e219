"""The background worker: says that it is alive, and sweeps up. ``python -m rhodonite.server.worker``."""

from __future__ import annotations

import signal
import threading
from collections.abc import Callable
from datetime import UTC, datetime, timedelta

import structlog
from pymysql.cursors import Cursor

from ..services.context import Clock
from ..services.notices import send_digests
from ..services.repeats import keep_ahead
from ..store.database import Database
from ..store.people import beat
from ..store.tasks import projects_with_repeats
from .settings import Settings

BEAT_EVERY = 5.0
SWEEP_EVERY = 600.0
log = structlog.get_logger()


def sweep(cur: Cursor, at: datetime) -> None:
    """Delete sessions and invitations that have ended, and old failed sign-ins."""
    cur.execute("DELETE FROM sessions WHERE expires_at < %s", (at,))
    cur.execute("DELETE FROM invitations WHERE expires_at < %s", (at,))
    cur.execute("DELETE FROM sign_in_attempts WHERE at < %s", (at - timedelta(days=7),))


def attempt(what: str, work: Callable[..., object], *args: object) -> None:
    """Do one piece of work. What stands in its way is logged, and keeps nothing else from being done."""
    try:
        work(*args)
    except Exception as error:  # the database may be away for a while: go on asking
        log.warning(f"the worker could not {what}", error=str(error))


def keep_all_ahead(database: Database, clock: Clock) -> None:
    """Write in every project what repeats there."""
    for project_id in database.read(projects_with_repeats):
        attempt("write what repeats", database.write, keep_ahead, clock, project_id)


def main() -> None:
    """Work until told to stop."""
    settings = Settings()
    structlog.configure(wrapper_class=structlog.make_filtering_bound_logger(settings.log_level))
    database, clock, stop = Database(settings.database_url, 2), settings.clock(), threading.Event()
    for number in (signal.SIGTERM, signal.SIGINT):
        signal.signal(number, lambda *_: stop.set())
    beats = 0
    while not stop.is_set():
        attempt("say that it is there", database.write, beat, "worker", datetime.now(UTC).replace(tzinfo=None))
        attempt("send digests", database.write, send_digests, clock, settings.base_url)
        if beats % int(SWEEP_EVERY / BEAT_EVERY) == 0:
            attempt("sweep", database.write, sweep, clock.utc())
            attempt("look for what repeats", keep_all_ahead, database, clock)
        beats += 1
        stop.wait(BEAT_EVERY)
    database.close()


if __name__ == "__main__":
    main()
