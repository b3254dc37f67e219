"""Status reports of projects, who read them, and what they hold."""

from __future__ import annotations

import json
from collections import defaultdict
from collections.abc import Collection
from dataclasses import asdict
from datetime import date, datetime
from typing import Any

from pymysql.cursors import Cursor

from ...core.reports.model import Indicator, ReportSettings, Sentence, Source, StatusReport, Told
from ..common.database import fetch_all, fetch_one, places

_COLUMNS = "id, project_id, number, person_id, at, since, day, body, corrects"
_LINE = _COLUMNS.replace("body", "JSON_REMOVE(body, '$.texts', '$.sentences')")
"""A list tells figures and indicators; its reports come without their texts."""


def _written(one: StatusReport) -> str:
    body = {
        "told": asdict(one.told), "indicators": {key: asdict(each) for key, each in one.indicators.items()}, "texts": dict(one.texts),
        "sentences": {key: [asdict(each) for each in some] for key, some in one.sentences.items()}, "people": list(one.people),
    }  # fmt: skip
    return json.dumps(body, default=lambda value: value.isoformat())


def _made(row: tuple[Any, ...]) -> StatusReport:
    body = json.loads(row[7])
    dates = {
        name: date.fromisoformat(body["told"][name]) if body["told"][name] else None for name in ("finish", "agreed", "before")
    }
    told = Told(**{**body["told"], **dates})
    sentences = {
        key: tuple(Sentence(each["text"], tuple(Source(**source) for source in each["sources"])) for each in some)
        for key, some in body.get("sentences", {}).items()
    }
    indicators = {key: Indicator(**each) for key, each in body["indicators"].items()}
    fields = [*row[:7], told, indicators, body.get("texts", {}), sentences, row[8], tuple(body["people"])]
    return StatusReport(*fields)


def reports(cur: Cursor, project_id: str, limit: int, below: int | None = None) -> list[StatusReport]:
    """The reports of a project without their texts, the latest first.

    Args:
        below: only those with a lower number.
    """
    sql = f"SELECT {_LINE} FROM status_reports WHERE project_id = %s AND number < %s ORDER BY number DESC LIMIT %s"
    return [_made(row) for row in fetch_all(cur, sql, (project_id, 2**31 - 1 if below is None else below, limit))]


def report(cur: Cursor, project_id: str, number: int) -> StatusReport | None:
    """One report of a project."""
    row = fetch_one(cur, f"SELECT {_COLUMNS} FROM status_reports WHERE project_id = %s AND number = %s", (project_id, number))
    return _made(row) if row else None


def newest(cur: Cursor, project_ids: Collection[str]) -> dict[str, StatusReport]:
    """By project its newest report, without its texts."""
    if not project_ids:
        return {}
    sql = (
        f"SELECT {_LINE} FROM status_reports r WHERE project_id IN ({places(len(project_ids))})"
        " AND number = (SELECT MAX(number) FROM status_reports o WHERE o.project_id = r.project_id)"
    )
    return {row[1]: _made(row) for row in fetch_all(cur, sql, tuple(project_ids))}


def last_number(cur: Cursor, project_id: str) -> int:
    """The number of the newest report of a project; nothing before the first."""
    row = fetch_one(cur, "SELECT COALESCE(MAX(number), 0) FROM status_reports WHERE project_id = %s", (project_id,))
    return int(row[0]) if row else 0


def number_of(cur: Cursor, project_id: str, report_id: str) -> int | None:
    """The number of a report in its project."""
    row = fetch_one(cur, "SELECT number FROM status_reports WHERE project_id = %s AND id = %s", (project_id, report_id))
    return row[0] if row else None


def insert(cur: Cursor, one: StatusReport) -> None:
    """Add a report."""
    row = (one.id, one.project_id, one.number, one.person_id, one.at, one.since, one.day, _written(one), one.corrects)
    cur.execute(f"INSERT INTO status_reports ({_COLUMNS}) VALUES ({places(9)})", row)


def readers(cur: Cursor, report_ids: Collection[str]) -> dict[str, list[str]]:
    """By report the ids of those who read it, the first first."""
    found: dict[str, list[str]] = defaultdict(list)
    if report_ids:
        sql = f"SELECT report_id, person_id FROM status_report_readers WHERE report_id IN ({places(len(report_ids))}) ORDER BY at"
        for report_id, person_id in fetch_all(cur, sql, tuple(report_ids)):
            found[report_id].append(person_id)
    return found


def mark_read(cur: Cursor, report_id: str, person_id: str, at: datetime) -> None:
    """Note that a person has read a report."""
    cur.execute(
        "INSERT IGNORE INTO status_report_readers (report_id, person_id, at) VALUES (%s, %s, %s)", (report_id, person_id, at)
    )


_SETTINGS = "project_id, sections, indicators, rhythm, people, reminded"


def _settings(row: tuple[Any, ...]) -> ReportSettings:
    return ReportSettings(tuple(json.loads(row[1])), tuple(json.loads(row[2])), row[3], tuple(json.loads(row[4])), row[5])


def settings(cur: Cursor, project_id: str) -> ReportSettings:
    """What the reports of a project hold."""
    row = fetch_one(cur, f"SELECT {_SETTINGS} FROM report_settings WHERE project_id = %s", (project_id,))
    return _settings(row) if row else ReportSettings()


def all_settings(cur: Cursor) -> dict[str, ReportSettings]:
    """By project what its reports hold, of those that say so."""
    return {row[0]: _settings(row) for row in fetch_all(cur, f"SELECT {_SETTINGS} FROM report_settings")}


def set_settings(cur: Cursor, project_id: str, one: ReportSettings) -> None:
    """Write them."""
    row = (project_id, json.dumps(one.sections), json.dumps(one.indicators), one.rhythm, json.dumps(one.people), one.reminded)
    cur.execute(f"REPLACE INTO report_settings ({_SETTINGS}) VALUES ({places(6)})", row)


def corrected_by(cur: Cursor, project_id: str, number: int) -> int | None:
    """The number of the latest report that corrects another."""
    row = fetch_one(cur, "SELECT MAX(number) FROM status_reports WHERE project_id = %s AND corrects = %s", (project_id, number))
    return row[0] if row else None
