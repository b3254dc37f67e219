"""One figure in several places is one figure: of projects made by chance, each is asked of every place that shows it.

``PLACES`` names the figures and where each is found. A place that shows a figure joins by a line there.
"""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal
from typing import Any

import pytest

from rhodonite.core.people.model import Person
from tests.api.common.test_round_trips import World
from tests.api.reports.test_dashboards import keep, panel
from tests.conftest import NOW, Caller


@dataclass
class Seen:
    """What every place says of one project, read once."""

    line: Any
    facts: Any
    rows: list[Any]
    table: list[dict[str, str]]
    costs: Any
    months: Any
    earned: Any
    panels: dict[str, Any]
    draft: Any
    paper: str
    ripple: Any
    money_ripple: Any
    report: Any
    portfolio: Any
    own_costs: dict[str, Any]
    view: Any

    def figure(self, key: str) -> Any:
        """One of the figures of earned value."""
        return next(one["amount"] for one in self.earned["figures"] if one["key"] == key)


def read(ines: Caller) -> Seen:
    """Ask all places."""
    board = keep(
        ines, panel("projects"), panel("cost"), panel("progress"), panel("figure", measure="sum", of="spent"),
        panel("figure", {"state_class": ["finished"]}), panel("chart", by=["class"], over_time=True, last=2, period="day"),
        panel("figure", {"late": True}), panel("figure", {"held": True}), code="LAN",
    )  # fmt: skip
    names = ("projects", "cost", "progress", "spent", "finished", "classes", "late", "held")
    answers = ines("POST", f"/dashboards/{board}/answers", {})
    assert [one["problem"] for one in answers] == [""] * len(names)
    draft = ines("GET", "/projects/LAN/reports/draft")
    ines("POST", "/projects/LAN/reports", {"texts": {"stands": "Well"}, "facts": draft["facts"]})
    columns = ("title", "outline", "finish", "percent", "spent", "booked", "cost.planned", "cost.at_completion", "late")
    text = ines("GET", "/projects/LAN/tasks.csv?" + "&".join(f"column={one}" for one in columns)).content.decode("utf-8-sig")
    table = [dict(zip(columns, cells, strict=True)) for cells in list(csv.reader(io.StringIO(text)))[1:]]
    rows = ines("GET", "/projects/LAN/tasks")["rows"]
    leaf = min((row for row in rows if not row["is_summary"]), key=lambda row: row["state_class"] != "queued")
    tried = {"tasks": [{"id": leaf["id"], "revision": leaf["revision"], "fields": {"priority": "should"}}]}
    longer = {"tasks": [{"id": leaf["id"], "revision": leaf["revision"], "fields": {"duration": "30 d"}}]}
    view = {"columns": [{"key": "cost.planned", "foot": "sum"}, {"key": "spent", "foot": "sum"}]}
    return Seen(
        line=next(one for one in ines("GET", "/projects") if one["code"] == "LAN"),
        facts=ines("GET", "/projects/LAN/brief")["facts"],
        rows=rows,
        table=table,
        costs=ines("GET", "/projects/LAN/costs"),
        months=ines("GET", "/projects/LAN/costs/months"),
        earned=ines("GET", "/projects/LAN/costs/earned"),
        panels={name: one["answer"] for name, one in zip(names, answers, strict=True)},
        draft=draft,
        paper=ines("GET", "/projects/LAN/reports/1/file.md").text,
        ripple=ines("POST", "/projects/LAN/ripple", tried),
        money_ripple=ines("POST", "/projects/LAN/ripple", longer),
        report=ines("GET", "/time-report?first=2027-01-01&last=2027-12-31&by=task"),
        portfolio=ines("GET", "/projects/PRT/portfolio")["parts"][0],
        own_costs={row["id"]: ines("GET", f"/tasks/{row['id']}/cost") for row in rows},
        view=ines("POST", "/projects/LAN/view", view),
    )


def day_of(text: str) -> date:
    """The day of a moment, or of words such as 20 Apr 2027."""
    found = re.search(r"\d{1,2} [A-Z][a-z]{2}(?: \d{4})?", text)
    if found is None:
        return datetime.fromisoformat(text).date()
    words = found[0] if found[0][-4:].isdigit() else f"{found[0]} {NOW.year}"
    return datetime.strptime(words, "%d %b %Y").date()


def number(text: str) -> Decimal:
    """A number in words such as 1,200.50 EUR or 4 %."""
    return Decimal(re.sub(r"[^\d.-]", "", text.replace("−", "-")) or "0")


def total(values: list[Any]) -> Decimal:
    """A sum of amounts in text."""
    return sum((Decimal(one or "0") for one in values), Decimal())


def top(seen: Seen) -> list[dict[str, str]]:
    """The rows of the table that stand under none."""
    return [one for one in seen.table if "." not in one["outline"].strip(".")]


def leaves(seen: Seen) -> list[Any]:
    """Rows with none below them."""
    return [row for row in seen.rows if not row["is_summary"]]


def in_note(seen: Seen, words: str) -> Decimal:
    """A sum of the panel of cost, by the word behind it."""
    note = seen.panels["cost"]["lines"][0]["note"]
    found = re.search(rf"(-?[\d,.]+) EUR {words}", note.replace("−", "-"))
    assert found, note
    return number(found[1])


PLACES: Mapping[str, Mapping[str, Callable[[Seen], Any]]] = {
    "finish": {
        "list of projects": lambda s: day_of(s.line["finish"]),
        "brief": lambda s: day_of(s.facts["finish"]),
        "outline": lambda s: max(day_of(row["finish"]) for row in s.rows if row["finish"]),
        "table": lambda s: max(day_of(row["finish"][:10]) for row in s.table if row["finish"]),
        "ripple": lambda s: day_of(s.ripple["finish_before"]),
        "ripple of another change": lambda s: day_of(s.money_ripple["finish_before"]),
        "draft of the report": lambda s: day_of(s.draft["told"]["finish"]),
        "report on paper": lambda s: day_of(next(line for line in s.paper.splitlines() if line.startswith("- Finish"))),
        "panel of projects": lambda s: day_of(s.panels["projects"]["lines"][0]["note"]),
        "portfolio": lambda s: day_of(s.portfolio["finish"]),
    },
    "percent": {
        "list of projects": lambda s: s.line["percent"],
        "brief": lambda s: s.facts["percent"],
        "draft of the report": lambda s: s.draft["told"]["percent"],
        "report on paper": lambda s: int(number(re.findall(r"Done: (\d+) %", s.paper)[0])),
        "panel of projects": lambda s: s.panels["projects"]["lines"][0]["percent"],
        "panel of progress": lambda s: s.panels["progress"]["lines"][0]["percent"],
        "portfolio": lambda s: s.portfolio["percent"],
    },
    "health": {
        "list of projects": lambda s: s.line["health"],
        "brief": lambda s: s.facts["health"],
        "panel of projects": lambda s: s.panels["projects"]["lines"][0]["health"],
        "portfolio": lambda s: s.portfolio["health"],
    },
    "tasks that are late": {
        "list of projects": lambda s: s.line["late"],
        "brief": lambda s: s.facts["late"],
        "draft of the report": lambda s: s.draft["told"]["late"],
        "panel": lambda s: int(s.panels["late"]["value"]),
        "outline": lambda s: sum(row["late_days"] > 0 for row in leaves(s)),
        "table": lambda s: sum(bool(one["late"]) for one in s.table if one["title"] in {row["title"] for row in leaves(s)}),
    },
    "tasks that are held": {
        "list of projects": lambda s: s.line["held"],
        "brief": lambda s: s.facts["held"],
        "draft of the report": lambda s: s.draft["told"]["held"],
        "panel": lambda s: int(s.panels["held"]["value"]),
    },
    "finished tasks": {
        "list of projects": lambda s: s.line["finished"],
        "brief": lambda s: s.facts["finished"],
        "panel": lambda s: int(s.panels["finished"]["value"]),
        "chart over time, its last day": lambda s: next(
            (row[-1] for one, row in zip(s.panels["classes"]["series"], s.panels["classes"]["values"], strict=True)
             if one["name"] == "finished"), 0),
    },
    "hours spent": {
        "outline": lambda s: sum(row["spent"] for row in leaves(s)),
        "table": lambda s: total([one["spent"] for one in top(s)]) * 60,
        "time report": lambda s: s.report["total"]["minutes"],
        "panel": lambda s: round(Decimal(s.panels["spent"]["value"]), 1) if s.panels["spent"] else 0,
    },
    "planned cost": {
        "costs": lambda s: Decimal(s.costs["project"]["planned"]),
        "costs by task": lambda s: total([one["planned"] for one in s.costs["rows"] if one["id"] in {r["id"] for r in top_rows(s)}]),
        "months": lambda s: total([one["planned"] for one in s.months["months"]]),
        "people": lambda s: total([one["planned"] for one in s.months["who"]]),
        "table": lambda s: total([one["cost.planned"] for one in top(s)]),
        "foot of the outline": lambda s: number(s.view["feet"]["cost.planned"]),
        "ripple": lambda s: Decimal(s.money_ripple["money"]["planned_before"]) if s.money_ripple["money"] else None,
        "folios": lambda s: total([line["planned"] for row in leaves(s) for line in s.own_costs[row["id"]]["lines"]]),
    },
    "spent": {
        "costs": lambda s: Decimal(s.costs["project"]["spent"]),
        "months": lambda s: total([one["spent"] for one in s.months["months"]]),
        "people": lambda s: total([one["spent"] for one in s.months["who"]]),
        "earned value": lambda s: Decimal(s.figure("AC")),
        "curve": lambda s: Decimal(today_of(s)["spent"]),
        "panel": lambda s: in_note(s, "spent"),
    },
    "cost at completion": {
        "costs": lambda s: Decimal(s.costs["project"]["at_completion"]),
        "months": lambda s: total([one[name] for one in s.months["months"] for name in ("spent", "to_come")]),
        "people": lambda s: total([one["at_completion"] for one in s.months["who"]]),
        "table": lambda s: total([one["cost.at_completion"] for one in top(s)]),
        "panel": lambda s: in_note(s, "at completion"),
        "ripple": lambda s: Decimal(s.money_ripple["money"]["at_completion_before"]) if s.money_ripple["money"] else None,
    },
    "planned value": {
        "earned value": lambda s: Decimal(s.figure("PV")),
        "curve": lambda s: Decimal(today_of(s)["planned"]),
    },
    "earned value": {
        "earned value": lambda s: Decimal(s.figure("EV")),
        "curve": lambda s: Decimal(today_of(s)["earned"]),
    },
    "agreed cost": {
        "costs": lambda s: Decimal(s.costs["project"]["agreed"]),
        "earned value": lambda s: Decimal(s.figure("BAC")),
        "curve, its last day": lambda s: Decimal(s.earned["curve"][-1]["planned"]),
    },
}  # fmt: skip


def top_rows(seen: Seen) -> list[Any]:
    """Rows of the outline that stand under none."""
    return [row for row in seen.rows if row["parent_id"] is None]


def today_of(seen: Seen) -> Any:
    """The point of the curves at the status day."""
    return next(one for one in seen.earned["curve"] if one["day"] == NOW.date().isoformat())


@pytest.fixture
def world(ines: Caller, people: dict[str, Person], sign_in: Any, request: pytest.FixtureRequest) -> Seen:
    made = World(ines, people, request.param)
    made.fill(9)
    rows = [row for row in ines.rows().values() if not row["is_summary"]]
    boss = sign_in("administrator")
    for one, amount in zip(made.people, ("31", "42.50", "18"), strict=True):
        boss("PUT", "/rates", {"who": one, "rates": [{"amount": amount}]})
    ines("PUT", "/projects/LAN/rates", {"who": made.resources["Crane 2"]["id"], "rates": [{"amount": "77.70"}]})
    ines("PUT", "/projects/LAN/rates", {"who": made.resources["Glass panes"]["id"], "rates": [{"amount": "12.35"}]})
    ines("PUT", "/projects/LAN/budget", {"amount": str(made.chance.choice([500, 90_000]))})
    ines("POST", "/projects/LAN/agreed", {"name": "Signed", "day": "2027-03-08"})
    states = {one["name"]: one["id"] for one in ines("GET", "/projects/LAN")["states"]}
    for row in made.chance.sample(rows, min(3, len(rows))):
        fresh = next(one for one in ines.rows().values() if one["id"] == row["id"])
        body = {"tasks": [{"id": row["id"], "revision": fresh["revision"], "fields": {"state_id": states["Finished"]}}]}
        ines.client.patch("/api/projects/LAN/tasks", json=body)
    for row in made.chance.sample(rows, min(3, len(rows))):
        minutes = made.chance.choice([15, 75, 240])
        ines("POST", "/projects/LAN/time", {"entries": [{"task_id": row["id"], "day": "2027-03-15", "minutes": minutes}]})
        expense = {"task_id": row["id"], "day": "2027-03-16", "amount": made.chance.choice(["55.55", "0.01"])}
        ines("POST", "/projects/LAN/expenses", {"expenses": [expense]})
    ines("POST", "/portfolios", {"code": "PRT", "name": "Coast", "start_day": "2027-03-08"})
    ines("POST", "/projects/PRT/parts", {"code": "LAN"})
    return read(ines)


@pytest.mark.parametrize("world", range(4), indirect=True)
def test_every_place_shows_the_same_figure(world: Seen) -> None:
    for figure, places in PLACES.items():
        said = {place: found for place, ask in places.items() if (found := ask(world)) is not None}
        if figure == "hours spent" and "panel" in said:  # it counts in hours with one decimal
            assert abs(said.pop("panel") - Decimal(said["outline"]) / 60) <= Decimal("0.05")
        assert len(set(said.values())) == 1, (figure, said)
    assert world.costs["project"]["at_completion"] != "0.00"
