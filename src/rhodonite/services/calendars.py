"""Help with working calendars: public holidays of many countries, and what a month would hold."""

from __future__ import annotations

import calendar as months
from dataclasses import dataclass
from datetime import date
from typing import Any

import holidays
from pymysql.cursors import Cursor

from ..core.errors import RuleError
from .context import Actor, open_project
from .plans import make_calendar

MOST_YEARS = 12


@dataclass(frozen=True, slots=True)
class PreviewDay:
    """One day of a month: its working minutes, and the name of the exception that gives them, if one does."""

    day: date
    minutes: int
    name: str | None


def list_countries() -> dict[str, list[str]]:
    """The countries whose holidays are known, by their code of two letters (ISO 3166), each with its regions."""
    return dict(holidays.list_supported_countries(include_aliases=False))


def public_holidays(country: str, region: str | None, first: int, last: int) -> list[tuple[date, str]]:
    """The public holidays of a country in some years.

    Raises:
        RuleError: a country or region that is not known, or too many years.
    """
    if not first <= last < first + MOST_YEARS:
        raise RuleError(f"Ask for at most {MOST_YEARS} years, the first before the last.", "last")
    try:
        found = holidays.country_holidays(country, subdiv=region or None, years=range(first, last + 1), language="en_US")
    except NotImplementedError as error:
        raise RuleError(f"The holidays of {country} {region or ''} are not known. Choose from the list.", "country") from error
    return sorted(found.items())


def preview_month(
    cur: Cursor, actor: Actor, code: str, week: dict[str, Any], exceptions: list[dict[str, Any]], month: date
) -> list[PreviewDay]:
    """The working minutes of each day of a month, by a calendar that is not saved yet. Raises RuleError as saving would."""
    open_project(cur, actor, code, "see")
    working = make_calendar(week, exceptions)
    days = [month.replace(day=one) for one in range(1, months.monthrange(month.year, month.month)[1] + 1)]
    found = []
    for day in days:
        exception = working.exception_on(day)
        minutes = sum(end - start for start, end in working.hours(day))
        found.append(PreviewDay(day, minutes, exception.name if exception else None))
    return found
