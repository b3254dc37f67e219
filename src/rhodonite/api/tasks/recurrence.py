"""Repeating tasks: what a rule gives."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from fastapi import Query
from pydantic import BaseModel, Field

from ...core.tasks.recurrence import LONGEST
from ...services.tasks import recurrence
from ..common.inputs import Day, make_router
from ..common.use import Using, needs

Words = Annotated[str, Query(max_length=LONGEST)]
router = make_router("tasks")


class RepeatPreviewOut(BaseModel):
    """A rule in words as it was understood, and the next ten days that it gives."""

    says: str
    note: str = Field(description="What becomes of a day that some months have not; empty where there is nothing to know")
    days: list[date]


@router.get("/projects/{code}/repeats", openapi_extra=needs("see"))
def preview_repeat(code: str, words: Words, first: Day, use: Using, off_holidays: bool = True) -> RepeatPreviewOut:
    """What a rule in words would give, from a first day on."""
    found = use.read(recurrence.preview_repeat, code, words, first, off_holidays)
    return RepeatPreviewOut(says=found.says, note=found.note, days=found.days)
