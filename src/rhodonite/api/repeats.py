"""Repeating tasks: what a rule gives."""

from __future__ import annotations

from datetime import date

from fastapi import APIRouter
from pydantic import BaseModel

from ..services import repeats
from .use import Using, needs

router = APIRouter(tags=["tasks"])


class RepeatPreviewOut(BaseModel):
    """A rule in words as it was understood, and the next ten days that it gives."""

    says: str
    days: list[date]


@router.get("/projects/{code}/repeats", openapi_extra=needs("see"))
def preview_repeat(code: str, words: str, first: date, use: Using, off_holidays: bool = True) -> RepeatPreviewOut:
    """What a rule in words would give, from a first day on."""
    found = use.read(repeats.preview_repeat, code, words, first, off_holidays)
    return RepeatPreviewOut(says=found.says, days=found.days)
