"""The plan file in and out, and calendars to subscribe to."""

from __future__ import annotations

from dataclasses import asdict
from datetime import datetime
from typing import Annotated

from fastapi import Depends, Path, Request, UploadFile
from fastapi.responses import Response
from pydantic import BaseModel, Field
from pymysql.cursors import Cursor

from ...core.common.errors import RuleError
from ...services.calendar import feeds as subscriptions
from ...services.common import jobs
from ...services.common.context import Actor, Clock, open_project
from ...services.schedule import plan_files
from ...store.calendar.feeds import Subscription
from ...store.common.database import Database
from ..common.inputs import Code, Id, make_router
from ..common.use import Use, Using, base_url, get_clock, get_database, needs
from ..tasks.csv_files import AnswersForm, ImportedOut, UnknownOut, read_answers

router = make_router("exchange")
LARGEST = 50 * 2**20
LONG = 300_000
"""Bytes from which a plan file is for the worker."""


class SubscriptionNew(BaseModel):
    """A calendar to subscribe to: of a project, or of one's own work."""

    code: Code | None = Field(None, description="The code of a project; null: one's own work over all projects")


class SubscriptionOut(BaseModel):
    """A calendar that was made. Its address is told once, when it is made."""

    id: str
    code: str | None
    project: bool = Field(description="True for one of a project; its code is told as long as one may see it")
    at: datetime
    until: datetime = Field(description="When its address ends")
    read: datetime | None = Field(description="When a program last read it")
    address: str | None = None


@router.get("/projects/{code}/plan.json", openapi_extra=needs("see"))
def export_plan(code: str, use: Using) -> Response:
    """The plan as a plan file (docs/plan-file.md)."""
    body = use.read(plan_files.export_plan, code)
    disposition = f'attachment; filename="{code.upper()} plan.json"'
    return Response(body, media_type="application/json", headers={"Content-Disposition": disposition})


class PlanPreviewOut(BaseModel):
    """What a plan file would bring."""

    tasks: int
    unknown: list[UnknownOut]
    choices: dict[str, dict[str, str]] = Field(description="What its names can mean: names by id")
    left_out: list[str] = Field(description="What the file says and is not brought in, in words")


def _read(file: UploadFile) -> tuple[bytes, str, str]:
    """The bytes of a file, its text and its name."""
    data = file.file.read(LARGEST + 1)
    if len(data) > LARGEST:
        raise RuleError("The file is larger than 50 MB. Split the plan into several files.", "file")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise RuleError("The file is not UTF-8 text, so it is no plan file.", "file") from error
    return data, text, (file.filename or "plan.json")[:255]


@router.post("/projects/{code}/plan.json/preview", openapi_extra=needs("edit", file=LARGEST))
def preview_plan(code: str, file: UploadFile, use: Using) -> PlanPreviewOut:
    """Read a plan file without writing anything."""
    _, text, name = _read(file)
    return PlanPreviewOut.model_validate(asdict(use.read(plan_files.preview_plan, code, text, name)))


@router.post("/projects/{code}/plan.json", openapi_extra=needs("edit", file=LARGEST))
def import_plan(code: str, file: UploadFile, use: Using, answers: AnswersForm = None) -> ImportedOut:
    """Bring the tasks, links and calendars of a plan file in. A long one is read by the worker."""
    data, text, name = _read(file)
    means = read_answers(answers).get("bookings", {})
    if len(data) <= LONG:
        return ImportedOut(tasks=use.write(plan_files.import_plan, code, text, name, means), change=use.actor.change_id)

    def start(cur: Cursor, actor: Actor) -> str:
        project = open_project(cur, actor, code, "edit")
        return jobs.start_job(cur, actor, "plan file", project.id, {"code": code, "name": name, "means": means}, data).id

    return ImportedOut(change=use.actor.change_id, job=use.write(start))


class LeftOutOut(BaseModel):
    """What a project has and files of it do not hold, in words."""

    table: list[str] = Field(description="CSV or XLSX of its tasks, with all columns", examples=[["12 comments", "4 files"]])
    plan: list[str] = Field(description="Its plan file")


@router.get("/projects/{code}/left-out", openapi_extra=needs("see"))
def list_left_out(code: str, use: Using) -> LeftOutOut:
    """What files of a project do not hold, as far as one may see it."""
    return LeftOutOut.model_validate(use.read(plan_files.read_left_out, code))


@router.get("/subscriptions", openapi_extra=needs("person"))
def list_subscriptions(use: Using) -> list[SubscriptionOut]:
    """One's own calendars."""
    return [_subscription_out(use, one, code) for one, code in use.read(subscriptions.list_subscriptions)]


def _subscription_out(use: Use, one: Subscription, code: str | None, address: str | None = None) -> SubscriptionOut:
    local = use.actor.clock.local
    return SubscriptionOut(
        id=one.id,
        code=code,
        project=one.project_id is not None,
        at=local(one.at),
        until=local(one.expires_at),
        read=local(one.read_at) if one.read_at else None,
        address=address,
    )


@router.post("/subscriptions", openapi_extra=needs("person"), status_code=201)
def subscribe(body: SubscriptionNew, request: Request, use: Using) -> SubscriptionOut:
    """Make a calendar. Whoever knows its address can read it, until it is withdrawn."""
    one, secret = use.write(subscriptions.subscribe, body.code, request.app.state.settings.feed_days)
    return _subscription_out(use, one, body.code, f"{base_url(request)}/api/calendars/{secret}.ics")


@router.delete("/subscriptions/{subscription_id}", openapi_extra=needs("person"), status_code=204)
def withdraw(subscription_id: Id, use: Using) -> None:
    """Withdraw a calendar: its address answers no more."""
    use.write(subscriptions.withdraw, subscription_id)


@router.get("/calendars/{secret}.ics", openapi_extra=needs("nobody"))
def read_calendar(
    secret: Annotated[str, Path(max_length=200)],
    request: Request,
    database: Annotated[Database, Depends(get_database)],
    clock: Annotated[Clock, Depends(get_clock)],
) -> Response:
    """The calendar that a secret opens, as iCalendar."""
    body = database.write(subscriptions.read_calendar, clock, secret, base_url(request))
    return Response(body, media_type="text/calendar; charset=utf-8")
