"""The projects of the demo, saved as files and imported again: every task comes back as it was, or it is said what does not."""

from __future__ import annotations

import json
import re
from collections.abc import Iterator
from typing import Any

import httpx2
import pytest

from tests.running import Running, Visitor

KEPT = (
    "title", "kind", "owner_id", "helpers", "state_id", "priority", "start", "finish", "duration", "elapsed", "deadline", "effort",
    "percent", "actual_start", "actual_finish", "constraint_type", "constraint_at", "marks", "own", "held_reason", "held_by_id",
    "is_summary", "bookings", "keeps", "repeats", "lane_id", "period_id", "calendar_id", "checks", "checks_done", "waits_for",
)  # fmt: skip
_COMPUTED = frozenset({"state_id", "percent", "duration", "elapsed", "actual_start", "actual_finish", "effort", "constraint_type",
                       "constraint_at"})  # fmt: skip
"""Of summary tasks; a constraint from before something stood below it has no effect."""
IN_A_PLAN_FILE = {"title", "duration", "elapsed", "deadline", "constraint_type", "constraint_at", "is_summary", "bookings", "waits_for",
                  "percent", "actual_start", "actual_finish"}  # fmt: skip


def import_file(running: Running, visitor: Visitor, code: str, path: str, file: bytes, answers: Any = None) -> Any:
    """The answer to a file that is sent."""
    done = httpx2.post(
        f"{running.url}/api/projects/{code}/{path}",
        files={"file": ("a", file)},
        data={"answers": json.dumps(answers or {})},
        headers={"Cookie": visitor.cookie, "Rhodonite-Client": "test"},
        timeout=120,
    )
    assert done.is_success, f"{code} {path}: {done.text[:600]}"
    return done.json()


def export(running: Running, visitor: Visitor, path: str) -> bytes:
    """A file of a project."""
    return httpx2.get(f"{running.url}/api/projects/{path}", headers={"Cookie": visitor.cookie}, timeout=120).content


def in_outline_order(rows: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Rows in the order in which they stand below each other."""
    below: dict[str | None, list[dict[str, Any]]] = {}
    for row in sorted(rows, key=lambda one: one["place"]):
        below.setdefault(row["parent_id"], []).append(row)

    def walk(parent: str | None) -> Iterator[dict[str, Any]]:
        for row in below.get(parent, ()):
            yield row
            yield from walk(row["id"])

    return list(walk(None))


def compared(row: dict[str, Any], ids: dict[str, str], fields: set[str]) -> dict[str, Any]:
    """What is kept of a task, other tasks by their place in the outline; what is computed for summary tasks left out."""
    computed = _COMPUTED if row["is_summary"] else frozenset()
    kept: dict[str, Any] = {name: row[name] for name in KEPT if name in fields and name not in computed}
    if row["kind"] == "milestone" and "duration" in kept:
        kept["duration"] = None  # nothing, as none
    if kept.get("repeats"):
        kept["repeats"] = {name: value for name, value in kept["repeats"].items() if name != "by"}
    said = json.dumps(kept, sort_keys=True)
    for one, place in ids.items():
        said = said.replace(one, place)
    found: dict[str, Any] = json.loads(said)
    for name in ("waits_for", "bookings", "marks", "helpers"):
        found[name] = sorted(json.dumps(one, sort_keys=True) for one in found.get(name, ()))
    return found


@pytest.mark.parametrize("form", ["csv", "plan"])
def test_the_projects_of_the_demo_come_back_as_they_were(running: Running, form: str) -> None:
    lead = Visitor(running, "Ines Oduya")
    plan = form == "plan"
    every = (one for one in lead("GET", "/projects") if not one["portfolio"] and not one["archived"])
    projects = [one for one in every if not re.fullmatch(r"T\d{3}", one["code"])]  # those of other tests are left alone
    assert len(projects) > 3
    for code in (one["code"] for one in projects):
        before = lead("GET", f"/projects/{code}/tasks")["rows"]
        file = export(running, lead, f"{code}/{'plan.json' if plan else 'tasks.csv'}")
        asked = import_file(running, lead, code, "plan.json/preview" if plan else "csv/preview", file)
        asked = asked if plan else asked["preview"]
        assert asked["unknown"] == [], code
        done = import_file(running, lead, code, "plan.json" if plan else "csv", file)
        try:
            rows = in_outline_order(lead("GET", f"/projects/{code}/tasks")["rows"])
            old = {row["id"] for row in before}
            after = [row for row in rows if row["id"] not in old]
            now = [row for row in rows if row["id"] in old]
            assert len(after) == len(before) > 0
            fields = IN_A_PLAN_FILE if plan else set(KEPT)
            ids = [{row["id"]: str(place) for place, row in enumerate(several)} for several in (now, after)]
            for was, came in zip(now, after, strict=True):
                was_so, is_so = compared(was, ids[0], fields), compared(came, ids[1], fields)
                changed = {name: (was_so.get(name), is_so[name]) for name in is_so if was_so.get(name) != is_so[name]}
                assert not changed, f"{code} {was['number']} {was['title']}"
        finally:
            lead("POST", f"/changes/{done['change']}/undo", {})
