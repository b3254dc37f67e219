"""A server that has just started reads plans ahead."""

from __future__ import annotations

import pytest

from rhodonite.server.process import warm_up
from rhodonite.services.common.context import Clock
from rhodonite.services.common.plan_cache import PLANS
from rhodonite.store.common.database import Database
from tests.conftest import Caller


def test_all_plans_are_in_hand_the_most_worked_on_first(ines: Caller, database: Database, clock: Clock) -> None:
    ines("POST", "/projects", {"code": "BAR", "name": "Barge", "start_day": "2027-03-08"})
    for title in ("Caulk", "Tar", "Paint"):
        ines.add(title, "BAR")
    ids = [ines("GET", f"/projects/{code}")["id"] for code in ("BAR", "LAN")]
    PLANS.clear()
    waited: list[float] = []
    warm_up(database, clock, wait=waited.append)
    assert PLANS.projects == ids
    assert len(waited) == 2
    assert all(one >= 0 for one in waited)


def test_a_database_that_is_away_stops_nothing(database: Database, clock: Clock, monkeypatch: pytest.MonkeyPatch) -> None:
    def away(*_: object) -> None:
        raise OSError("gone")

    monkeypatch.setattr(database, "read", away)
    warm_up(database, clock)
