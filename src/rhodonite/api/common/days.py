"""Days as people type them, read for a field of the page."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from fastapi import Query
from pydantic import BaseModel, Field

from ...core.common.bounds import LONGEST_TYPED, check_day
from ...core.common.dates import read_day
from .inputs import make_router
from .use import Using, needs

router = make_router("days")


class DayOut(BaseModel):
    """A day that was typed."""

    day: date = Field(examples=["2027-03-19"])


@router.get("/days", openapi_extra=needs("person"))
def understand_day(text: Annotated[str, Query(max_length=LONGEST_TYPED, examples=["next fri"])], use: Using) -> DayOut:
    """The day that a text says, as every field for dates reads it."""
    return DayOut(day=check_day(read_day(text, use.actor.clock.now().date())))
