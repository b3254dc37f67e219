"""Drafts: changes tried beside the plan.

Whoever sends the header Rhodonite-Draft is in a draft: every lens shows the plan as the draft has it, and changes to
tasks go into it.
"""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime

from fastapi.responses import Response
from pydantic import BaseModel, Field

from ...core.schedule.drafts import Draft
from ...services.common.context import new_id
from ...services.schedule import drafts
from ...services.schedule.drafts import DraftComparison
from ...services.schedule.reschedule import RippleAnswer
from ..common.inputs import Changes, Id, make_router
from ..common.use import Use, Using, needs
from ..tasks.tasks import RowsOut, Since, rows_response
from .planning import DifferenceOut, difference_out
from .ripples import RippleOut, ripple_out

router = make_router("drafts")


class DraftOut(BaseModel):
    """A draft: changes kept beside the plan under a name."""

    id: str
    name: str
    person_id: str
    shared: bool = Field(description="True where everybody who sees the project may see it")
    mine: bool = Field(description="Only its maker changes a draft; others make a copy")
    at: datetime
    changes: int = Field(description="As many tasks are changed in it")


class DraftNew(BaseModel):
    """A draft to be started."""

    id: Id = Field(default_factory=new_id, description="UUID of version 7, made by the client")
    name: str = Field(max_length=400, examples=["Second crew in May"])
    copy_of: Id | None = Field(None, description="Another draft of the project, to begin with what it keeps")


class DraftEdit(Changes):
    """Rename a draft, share it, or keep it to oneself again."""

    name: str | None = Field(None, max_length=400)
    shared: bool | None = None


class OvertakenOut(BaseModel):
    """A field that the plan has changed since the draft did."""

    id: str
    title: str
    field: str


class DraftComparisonOut(BaseModel):
    """A draft and the plan side by side."""

    draft: DraftOut
    ripple: RippleOut
    minutes: int = Field(description="Working minutes by which the draft finishes later than the plan")
    differences: list[DifferenceOut] = Field(description="Every task that stands elsewhere")
    overtaken: list[OvertakenOut]


def _draft(use: Use, one: Draft, changes: int) -> DraftOut:
    return DraftOut(
        id=one.id,
        name=one.name,
        person_id=one.person_id,
        shared=one.shared,
        mine=one.person_id == use.actor.person.id,
        at=use.actor.clock.local(one.at),
        changes=changes,
    )


@router.get("/projects/{code}/drafts", openapi_extra=needs("see"))
def list_drafts(code: str, use: Using) -> list[DraftOut]:
    """One's own drafts and those shared with all, the latest first."""
    return [_draft(use, one, changes) for one, changes in use.read(drafts.list_drafts, code)]


@router.post("/projects/{code}/drafts", openapi_extra=needs("edit"), status_code=201)
def start_draft(code: str, body: DraftNew, use: Using) -> DraftOut:
    """Start a draft, empty or as a copy."""
    use.write(drafts.start_draft, code, body.id, body.name, body.copy_of)
    one = use.read(drafts.read_draft, code, body.id)
    return _draft(use, one, len(one.kept))


@router.patch("/projects/{code}/drafts/{draft_id}", openapi_extra=needs("edit"))
def edit_draft(code: str, draft_id: Id, body: DraftEdit, use: Using) -> DraftOut:
    """Rename or share one's own draft."""
    use.write(drafts.edit_draft, code, draft_id, name=body.name, shared=body.shared)
    one = use.read(drafts.read_draft, code, draft_id)
    return _draft(use, one, len(one.kept))


@router.delete("/projects/{code}/drafts/{draft_id}", openapi_extra=needs("edit"), status_code=204)
def delete_draft(code: str, draft_id: Id, use: Using) -> None:
    """Throw a draft away."""
    use.write(drafts.delete_draft, code, draft_id)


@router.get("/projects/{code}/drafts/{draft_id}/comparison", openapi_extra=needs("see"))
def compare_draft(code: str, draft_id: Id, use: Using) -> DraftComparisonOut:
    """A draft and the plan side by side: finish, milestones, deadlines, and every task that moves."""
    found: DraftComparison = use.read(drafts.compare, code, draft_id)
    titles = {one: title for one, (_, title) in found.tasks.items()}
    answer = RippleAnswer(found.ripple, 0, [], [], False, [], titles, people=found.people)
    return DraftComparisonOut(
        draft=_draft(use, found.draft, len(found.draft.kept)),
        ripple=ripple_out(answer),
        minutes=found.minutes,
        differences=[difference_out(one, found.tasks) for one in found.differences],
        overtaken=[OvertakenOut(id=one, title=titles[one], field=name) for one, name in found.overtaken],
    )


@router.post("/projects/{code}/drafts/{draft_id}/apply", openapi_extra=needs("edit"), response_model=RowsOut)
def apply_draft(code: str, draft_id: Id, use: Using, since: Since = None) -> Response:
    """Put what a draft keeps into the plan."""
    in_plan = Use(use.database, replace(use.actor, draft=None), use.token)
    in_plan.write(drafts.apply_draft, code, draft_id)
    return rows_response(in_plan, code, since)
