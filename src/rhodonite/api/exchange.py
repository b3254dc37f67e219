"""The plan file in and out, and calendars to subscribe to."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from fastapi import APIRouter, Depends, Request, UploadFile
from fastapi.responses import Response
from pydantic import BaseModel, Field

from ..core.errors import RuleError
from ..services import exchange, subscriptions
from ..services.context import Clock
from ..store.database import Database
from .use import Using, base_url, get_clock, get_database, needs

router = APIRouter(tags=["exchange"])
LARGEST = 50 * 2**20


class ImportedOut(BaseModel):
    """What was brought in."""

    tasks: int


class SubscriptionNew(BaseModel):
    """A calendar to subscribe to: of a project, or of one's own work."""

    code: str | None = Field(None, description="The code of a project; null: one's own work over all projects")


class SubscriptionOut(BaseModel):
    """A calendar that was made. Its address is told once, when it is made."""

    id: str
    code: str | None
    at: datetime
    address: str | None = None


@router.get("/projects/{code}/plan.json", openapi_extra=needs("see"))
def export_plan(code: str, use: Using) -> Response:
    """The plan as a plan file (docs/plan-file.md)."""
    body = use.read(exchange.export_plan, code)
    disposition = f'attachment; filename="{code.upper()} plan.json"'
    return Response(body, media_type="application/json", headers={"Content-Disposition": disposition})


@router.post("/projects/{code}/plan.json", openapi_extra=needs("edit"))
def import_plan(code: str, file: UploadFile, use: Using) -> ImportedOut:
    """Bring the tasks and links of a plan file in."""
    data = file.file.read(LARGEST + 1)
    if len(data) > LARGEST:
        raise RuleError("The file is larger than 50 MB. Split the plan.", "file")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise RuleError("The file is not UTF-8 text, so it is no plan file.", "file") from error
    return ImportedOut(tasks=use.write(exchange.import_plan, code, text, file.filename or "plan.json"))


@router.get("/subscriptions", openapi_extra=needs("person"))
def list_subscriptions(use: Using) -> list[SubscriptionOut]:
    """One's own calendars."""
    return [SubscriptionOut(id=one.id, code=code, at=one.at) for one, code in use.read(subscriptions.list_subscriptions)]


@router.post("/subscriptions", openapi_extra=needs("person"), status_code=201)
def subscribe(body: SubscriptionNew, request: Request, use: Using) -> SubscriptionOut:
    """Make a calendar. Whoever knows its address can read it, until it is withdrawn."""
    one, secret = use.write(subscriptions.subscribe, body.code)
    return SubscriptionOut(id=one.id, code=body.code, at=one.at, address=f"{base_url(request)}/api/calendars/{secret}.ics")


@router.delete("/subscriptions/{subscription_id}", openapi_extra=needs("person"), status_code=204)
def withdraw(subscription_id: str, use: Using) -> None:
    """Withdraw a calendar: its address answers no more."""
    use.write(subscriptions.withdraw, subscription_id)


@router.get("/calendars/{secret}.ics", openapi_extra=needs("nobody"))
def read_calendar(
    secret: str,
    request: Request,
    database: Annotated[Database, Depends(get_database)],
    clock: Annotated[Clock, Depends(get_clock)],
) -> Response:
    """The calendar that a secret opens, as iCalendar."""
    body = database.read(subscriptions.read_calendar, clock, secret, base_url(request))
    return Response(body, media_type="text/calendar; charset=utf-8")
