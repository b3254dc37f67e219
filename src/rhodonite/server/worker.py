"""The background worker: says that it is alive, does what takes long, and sweeps up. ``python -m rhodonite.server.worker``."""

from __future__ import annotations

import signal
import threading
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from typing import TypeVar

import structlog
from pymysql.cursors import Cursor

from ..services.common.context import Clock
from ..services.common.jobs import run_next
from ..services.goals import notes as goal_notes
from ..services.reports import status
from ..services.talk.notices import send_digests
from ..services.tasks.recurrence import keep_ahead
from ..services.views.sendings import send_sheet, sheets_to_send
from ..store.common import jobs as job_rows
from ..store.common.database import Database
from ..store.people.people import beat
from ..store.tasks.tasks import projects_with_repeats
from . import logs
from .settings import Settings

BEAT_EVERY = 5.0
LOOK_EVERY = 0.5
"""Seconds between two looks for a job."""
LONGEST_STOP = 5.0
"""Seconds to wait for a job when told to stop; one that is not done then begins anew at the next start."""
SWEEP_EVERY = 600.0
Result = TypeVar("Result")
log = structlog.get_logger()


def sweep(cur: Cursor, at: datetime) -> None:
    """Delete sessions and invitations that have ended, and old failed sign-ins."""
    cur.execute("DELETE FROM sessions WHERE expires_at < %s", (at,))
    cur.execute("DELETE FROM invitations WHERE expires_at < %s", (at,))
    cur.execute("DELETE FROM sign_in_attempts WHERE at < %s", (at - timedelta(days=7),))
    job_rows.sweep(cur, at - timedelta(days=1))


def attempt(what: str, work: Callable[..., Result], *args: object) -> Result | None:
    """Do one piece of work. What stands in its way is logged, and keeps nothing else from being done."""
    try:
        return work(*args)
    except Exception as error:  # the database may be away for a while: go on asking
        log.warning(f"the worker could not {what}", exc_info=error)
        return None


def keep_all_ahead(database: Database, clock: Clock) -> None:
    """Write in every project what repeats there."""
    for project_id in database.read(projects_with_repeats):
        attempt("write what repeats", database.write, keep_ahead, clock, project_id)


def send_all_sheets(database: Database, clock: Clock, address: str) -> None:
    """Send what the sheets show whose day has come, each by itself."""
    for sheet_id in database.read(sheets_to_send, clock):
        attempt("send a sheet", database.write, send_sheet, clock, address, sheet_id)


def do_jobs(database: Database, clock: Clock, address: str, stop: threading.Event) -> None:
    """Do what people ask of the worker, one job after the other."""
    attempt("take up what it left", database.write, job_rows.run_again)
    while not stop.is_set():
        more = attempt("do a job", run_next, database, clock, address)
        if not more:
            stop.wait(LOOK_EVERY)


def main() -> None:
    """Work until told to stop."""
    settings = Settings()
    logs.configure(settings.log_level)
    database, clock, stop = Database(settings.database_url, 4, lock_wait=60), settings.clock(), threading.Event()
    for number in (signal.SIGTERM, signal.SIGINT):
        signal.signal(number, lambda *_: stop.set())
    jobs = threading.Thread(target=do_jobs, args=(database, clock, settings.address, stop), name="jobs", daemon=True)
    jobs.start()
    beats = 0
    while not stop.is_set():
        attempt("say that it is there", database.write, beat, "worker", datetime.now(UTC).replace(tzinfo=None))
        attempt("send digests", database.write, send_digests, clock, settings.address)
        if beats % int(SWEEP_EVERY / BEAT_EVERY) == 0:
            attempt("sweep", database.write, sweep, clock.utc())
            attempt("look for what repeats", keep_all_ahead, database, clock)
            attempt("remind of progress notes", database.write, goal_notes.remind, clock, settings.address)
            attempt("send sheets", send_all_sheets, database, clock, settings.address)
            attempt("remind of status reports", database.write, status.remind, clock, settings.address)
        beats += 1
        stop.wait(BEAT_EVERY)
    jobs.join(LONGEST_STOP)
    database.close()


if __name__ == "__main__":
    main()
