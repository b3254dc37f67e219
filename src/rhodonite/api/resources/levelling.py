"""Levelling a project, in a draft. What takes long is done by the worker: the answer then names the job."""

from __future__ import annotations

from dataclasses import asdict
from datetime import datetime
from typing import Annotated

from pydantic import BaseModel, Field
from pymysql.cursors import Cursor

from ...services.common import jobs
from ...services.common.context import Actor, new_id
from ...services.resources import levelling
from ..common.inputs import Day, Id, make_router
from ..common.use import Using, needs

router = make_router("levelling")


class LevelAsked(BaseModel):
    """What may be moved to take overloads away."""

    draft_id: Id = Field(default_factory=new_id, description="Of the draft that is to hold the proposal, made by the client")
    whom: Annotated[list[Id], Field(max_length=500)] | None = Field(None, description="None: all who are over in these days")
    first: Day
    last: Day
    within_slack: bool = Field(True, description="False: the finish may move too")
    keeping: Annotated[list[Id], Field(max_length=500)] = Field(
        default=[], description="Tasks that must not move, nor any below them"
    )
    seconds: Annotated[int, Field(ge=0, le=levelling.LONGEST)] = Field(
        0, description="How long the worker looks for a better proposal; 0: none but what is found at once"
    )


class StillOut(BaseModel):
    """By how much somebody is over from the first day on, by all of their work, before and after what is proposed."""

    who: str
    before: int = Field(description="Minutes")
    after: int
    without_room: int = Field(description="For how many of their tasks there was no room where they may stand")


class LevelledOut(BaseModel):
    """What is proposed."""

    job: str | None = Field(None, description="The job of the worker that looks for it; nothing else is said then")
    draft_id: str | None = Field(None, description="None where nothing has to move, or nothing can")
    moved: int = 0
    finish_before: datetime | None = None
    finish: datetime | None = None
    still: list[StillOut] = Field(default=[], description="Those who are over in these days, the most of what is left first")


@router.post("/projects/{code}/level", openapi_extra=needs("edit"))
def level_project(code: str, body: LevelAsked, use: Using) -> LevelledOut:
    """Propose how to move work so that people are not over, in a draft; the plan stays as it is."""
    wanted = levelling.Wanted(body.draft_id, body.whom, body.first, body.last, body.within_slack, body.seconds, body.keeping)

    def ask(cur: Cursor, actor: Actor) -> str | None:
        project = levelling.open_hours(cur, actor, code)
        if not levelling.takes_long(cur, actor, project, wanted):
            return None
        return jobs.start_job(cur, actor, "level", project.id, levelling.job_input(code, wanted), b"").id

    if job := use.write(ask):
        return LevelledOut(job=job)
    return LevelledOut.model_validate(asdict(use.write(levelling.level_project, code, wanted)))
