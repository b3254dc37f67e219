"""Help with working calendars: public holidays, and a preview of a month."""

from __future__ import annotations

from datetime import date

from fastapi import APIRouter
from pydantic import BaseModel, Field

from ..services import calendars
from .projects import CalendarModel, kept
from .use import Using, needs

router = APIRouter(tags=["calendars"])


class CountryOut(BaseModel):
    """A country whose holidays are known."""

    code: str = Field(description="ISO 3166, two letters")
    regions: list[str]


class HolidayOut(BaseModel):
    """A public holiday."""

    day: date
    name: str


class PreviewIn(CalendarModel):
    """A calendar that is not saved yet, and a day of the month to look at."""

    month: date


class PreviewDayOut(BaseModel):
    """One day of a month."""

    day: date
    minutes: int = Field(description="Working minutes")
    name: str | None = Field(description="Of the days that differ, where this is one")


@router.get("/holidays/countries", openapi_extra=needs("person"))
def list_countries(use: Using) -> list[CountryOut]:
    """The countries whose public holidays are known."""
    return [CountryOut(code=code, regions=regions) for code, regions in calendars.list_countries().items()]


@router.get("/holidays", openapi_extra=needs("person"))
def public_holidays(use: Using, country: str, first: int, last: int, region: str | None = None) -> list[HolidayOut]:
    """The public holidays of a country in some years."""
    return [HolidayOut(day=day, name=name) for day, name in calendars.public_holidays(country, region, first, last)]


@router.post("/projects/{code}/calendar/preview", openapi_extra=needs("see"))
def preview_month(code: str, body: PreviewIn, use: Using) -> list[PreviewDayOut]:
    """The working minutes of each day of a month. Nothing is changed."""
    found = use.read(calendars.preview_month, code, *kept(body), body.month)
    return [PreviewDayOut(day=one.day, minutes=one.minutes, name=one.name) for one in found]
