"""Jobs: what the worker is asked to do, how far it is, and what came of it."""

from __future__ import annotations

import json
from dataclasses import dataclass
from datetime import datetime
from typing import Any, Literal

from pymysql.cursors import Cursor

from .database import fetch_all, fetch_one

Stage = Literal["waiting", "running", "done", "refused", "cancelled"]


@dataclass(frozen=True, slots=True)
class Job:
    """One job.

    Attributes:
        change_id: of the change that it makes.
        doing: what it is at, in words; percent: how far.
        answer: of one that is done what it found; of one that is refused ``sentence`` and ``field``.
    """

    id: str
    kind: str
    project_id: str | None
    person_id: str
    change_id: str
    input: dict[str, Any]
    stage: Stage
    doing: str
    percent: int
    answer: dict[str, Any] | None
    made_at: datetime
    ended_at: datetime | None


_SELECT = "SELECT id, kind, project_id, person_id, change_id, input, stage, doing, percent, answer, made_at, ended_at FROM jobs"


def _job(row: tuple[Any, ...]) -> Job:
    answer = json.loads(row[9]) if row[9] is not None else None
    job_id, kind, project_id, person_id, change_id, given, stage, doing, percent, _, made_at, ended_at = row
    return Job(
        job_id, kind, project_id, person_id, change_id, json.loads(given), stage, doing, percent, answer, made_at, ended_at
    )


def insert(cur: Cursor, job: Job, file: bytes | None) -> None:
    """Add a job, which waits from then on."""
    cur.execute(
        "INSERT INTO jobs (id, kind, project_id, person_id, change_id, input, file, made_at) VALUES (%s, %s, %s, %s, %s, %s, %s, %s)",
        (job.id, job.kind, job.project_id, job.person_id, job.change_id, json.dumps(job.input), file, job.made_at),
    )


def job(cur: Cursor, job_id: str) -> Job | None:
    """One job."""
    row = fetch_one(cur, f"{_SELECT} WHERE id = %s", (job_id,))
    return _job(row) if row else None


def file_of(cur: Cursor, job_id: str) -> bytes:
    """The file that a job was given."""
    row = fetch_one(cur, "SELECT file FROM jobs WHERE id = %s", (job_id,))
    return bytes(row[0] or b"") if row else b""


def open_of(cur: Cursor, person_id: str) -> list[Job]:
    """What somebody's jobs still wait for or run, the oldest first."""
    sql = f"{_SELECT} WHERE person_id = %s AND stage IN ('waiting', 'running') ORDER BY made_at"
    return [_job(row) for row in fetch_all(cur, sql, (person_id,))]


def take(cur: Cursor) -> Job | None:
    """The job that has waited longest, running from now on."""
    row = fetch_one(cur, f"{_SELECT} WHERE stage = 'waiting' ORDER BY made_at LIMIT 1 FOR UPDATE SKIP LOCKED")
    if row is None:
        return None
    cur.execute("UPDATE jobs SET stage = 'running' WHERE id = %s", (row[0],))
    return _job(row)


def tell(cur: Cursor, job_id: str, doing: str, percent: int) -> bool:
    """Say how far a job is. False where it was cancelled meanwhile."""
    cur.execute("UPDATE jobs SET doing = %s, percent = %s WHERE id = %s AND stage = 'running'", (doing, percent, job_id))
    row = fetch_one(cur, "SELECT stage FROM jobs WHERE id = %s", (job_id,))
    return row is not None and row[0] == "running"


def end(cur: Cursor, job_id: str, stage: Stage, answer: dict[str, Any] | None, at: datetime) -> bool:
    """End a job, and let its file go. False where it has ended before."""
    cur.execute(
        "UPDATE jobs SET stage = %s, answer = %s, ended_at = %s, file = NULL WHERE id = %s AND stage IN ('waiting', 'running')",
        (stage, json.dumps(answer) if answer is not None else None, at, job_id),
    )
    return bool(cur.rowcount)


def run_again(cur: Cursor) -> None:
    """Let what ran when the worker was stopped wait again: nothing of it was written."""
    cur.execute("UPDATE jobs SET stage = 'waiting', percent = 0 WHERE stage = 'running'")


def sweep(cur: Cursor, before: datetime) -> None:
    """Forget jobs that ended before a moment."""
    cur.execute("DELETE FROM jobs WHERE ended_at < %s", (before,))
