"""Help with working calendars: public holidays, and a preview of a month."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from pydantic import BaseModel, Field

from ...core.common.bounds import FIRST_DAY, LAST_DAY
from ...services.schedule import calendars
from ..common.inputs import MB, Day, make_router
from ..common.use import Using, needs
from ..tasks.projects import CalendarModel, kept

Country = Annotated[str, Field(max_length=20)]
Year = Annotated[int, Field(ge=FIRST_DAY.year, le=LAST_DAY.year)]
router = make_router("calendars")


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

    month: Day


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
def public_holidays(use: Using, country: Country, first: Year, last: Year, region: Country | None = None) -> list[HolidayOut]:
    """The public holidays of a country in some years."""
    return [HolidayOut(day=day, name=name) for day, name in calendars.public_holidays(country, region, first, last)]


@router.post("/projects/{code}/calendar/preview", openapi_extra=needs("see", MB))
def preview_month(code: str, body: PreviewIn, use: Using) -> list[PreviewDayOut]:
    """The working minutes of each day of a month. Nothing is changed."""
    found = use.read(calendars.preview_month, code, *kept(body), body.month)
    return [PreviewDayOut(day=one.day, minutes=one.minutes, name=one.name) for one in found]
