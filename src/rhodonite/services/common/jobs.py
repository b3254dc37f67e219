"""Jobs: what takes long is done by the worker, so that nobody waits for it; it tells how far it is, and can be cancelled."""

from __future__ import annotations

import time
from collections.abc import Callable, Mapping
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.errors import Clash, Forbidden, Missing, RuleError, Taken
from ...store.common import jobs as job_rows
from ...store.common.database import Database
from ...store.common.jobs import Job
from ...store.people import people as people_rows
from .context import Actor, Clock, new_id
from .progress import Progress

MOST_OPEN = 3
"""Jobs of one person that wait or run."""
TELL_EVERY = 0.5
"""Seconds between two words on how far a job is."""


class Cancelled(Exception):
    """The person who asked for the job does not want it any more."""


Work = Callable[[Cursor, Actor, Mapping[str, Any], bytes, Progress], dict[str, Any]]
_WORKS: dict[str, Work] = {}


def work(kind: str) -> Callable[[Work], Work]:
    """Registers what a kind of job does, in one transaction."""

    def register(function: Work) -> Work:
        _WORKS[kind] = function
        return function

    return register


def start_job(cur: Cursor, actor: Actor, kind: str, project_id: str | None, given: dict[str, Any], file: bytes) -> Job:
    """Ask the worker for something. The same change asked for twice is one job.

    Raises:
        RuleError: the person waits for too many already.
    """
    waiting = job_rows.open_of(cur, actor.person.id)
    for one in waiting:
        if one.change_id == actor.change_id and one.kind == kind:
            return one
    if len(waiting) >= MOST_OPEN:
        raise RuleError(f"The worker does {len(waiting)} things for you already. Wait for one of them, or cancel it.", "file")
    made = Job(
        new_id(), kind, project_id, actor.person.id, actor.change_id, given, "waiting", "", 0, None, actor.clock.utc(), None
    )
    job_rows.insert(cur, made, file)
    return made


def list_jobs(cur: Cursor, actor: Actor) -> list[Job]:
    """One's own jobs that wait or run."""
    return job_rows.open_of(cur, actor.person.id)


def get_job(cur: Cursor, actor: Actor, job_id: str) -> Job:
    """One of one's own jobs. Raises Missing where there is none."""
    found = job_rows.job(cur, job_id)
    if found is None or found.person_id != actor.person.id:
        raise Missing("job")
    return found


def cancel_job(cur: Cursor, actor: Actor, job_id: str) -> None:
    """Stop one of one's own jobs: nothing of it is kept. One that has ended stays as it is."""
    get_job(cur, actor, job_id)
    job_rows.end(cur, job_id, "cancelled", None, actor.clock.utc())


def run_next(database: Database, clock: Clock, address: str) -> bool:
    """Do the job that has waited longest. False where none waits."""
    job = database.write(job_rows.take)
    if job is None:
        return False
    progress = _teller(database, job)
    try:
        database.write(_run, clock, job, address, progress)
    except Cancelled:
        pass
    except (RuleError, Missing, Forbidden, Clash, Taken) as error:
        answer = {"sentence": error.sentence, "field": getattr(error, "field", None)}
        database.write(job_rows.end, job.id, "refused", answer, clock.utc())
    except Exception:
        answer = {"sentence": "This went wrong on our side, and nothing was written. Try it again.", "field": None}
        database.write(job_rows.end, job.id, "refused", answer, clock.utc())
        raise
    return True


def _run(cur: Cursor, clock: Clock, job: Job, address: str, progress: Progress) -> None:
    """Do one job, and note what came of it in the same transaction."""
    person = people_rows.person(cur, job.person_id)
    if person is None or not person.active:
        raise Missing("person")
    actor = Actor(person, clock, job.change_id, address=address, draft=job.input.get("draft"))
    file = job_rows.file_of(cur, job.id)
    answer = _WORKS[job.kind](cur, actor, job.input, file, progress)
    if not job_rows.end(cur, job.id, "done", answer, clock.utc()):
        raise Cancelled


def _teller(database: Database, job: Job) -> Progress:
    """Tells how far a job is, now and then, and stops it where it was cancelled."""
    last = 0.0

    def tell(doing: str, part: float) -> None:
        nonlocal last
        if time.monotonic() - last < TELL_EVERY:
            return
        last = time.monotonic()
        if not database.write(job_rows.tell, job.id, doing, min(99, int(100 * part))):
            raise Cancelled

    return tell
