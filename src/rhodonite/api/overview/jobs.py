"""What the worker does for somebody: how far it is, what came of it, and an end to it."""

from __future__ import annotations

from pydantic import BaseModel, Field

from ...services.common import jobs
from ...store.common.jobs import Job
from ..common.inputs import Id, make_router
from ..common.use import Using, needs
from ..resources.levelling import LevelledOut
from ..tasks.csv_files import PreviewOut

router = make_router("jobs")


class JobOut(BaseModel):
    """What the worker does for somebody, and how far it is."""

    id: str
    kind: str
    code: str | None
    stage: str = Field(description="waiting, running, done, refused or cancelled")
    doing: str
    percent: int
    change: str = Field(description="The change that it makes, to undo it by")
    sentence: str | None = Field(None, description="Why it was refused")
    tasks: int | None = Field(None, description="How many tasks came in")
    preview: PreviewOut | None = None
    levelled: LevelledOut | None = None


def _job_out(job: Job) -> JobOut:
    done = job.stage == "done"
    answer = job.answer or {}
    found = answer if done else None
    return JobOut(
        id=job.id,
        kind=job.kind,
        code=job.input.get("code"),
        stage=job.stage,
        doing=job.doing,
        percent=100 if done else job.percent,
        change=job.change_id,
        sentence=answer.get("sentence"),
        tasks=answer.get("tasks") if job.kind in {"csv import", "plan file"} else None,
        preview=PreviewOut.model_validate(found) if found and job.kind == "csv preview" else None,
        levelled=LevelledOut.model_validate(found) if found and job.kind == "level" else None,
    )


@router.get("/jobs", openapi_extra=needs("person"))
def list_jobs(use: Using) -> list[JobOut]:
    """One's own jobs that wait or run."""
    return [_job_out(one) for one in use.read(jobs.list_jobs)]


@router.get("/jobs/{job_id}", openapi_extra=needs("person"))
def get_job(job_id: Id, use: Using) -> JobOut:
    """How far one of one's own jobs is, and what came of it; for a day after it has ended."""
    return _job_out(use.read(jobs.get_job, job_id))


@router.delete("/jobs/{job_id}", openapi_extra=needs("person"), status_code=204)
def cancel_job(job_id: Id, use: Using) -> None:
    """Cancel a job. Nothing of it is kept; one that has ended stays as it is."""
    use.write(jobs.cancel_job, job_id)
