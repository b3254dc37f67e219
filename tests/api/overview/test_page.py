"""What every page of a project shows, in one answer that is made once for all who ask the same."""

from __future__ import annotations

import threading
from collections.abc import Callable
from typing import Any

import pytest

from rhodonite.core.people.model import Person
from rhodonite.services.common.context import Actor, Clock
from rhodonite.services.common.plan_cache import PlanCache
from rhodonite.store.common.database import Database
from rhodonite.store.tasks import projects as project_rows
from tests.conftest import Caller


@pytest.fixture
def work(ines: Caller, people: dict[str, Person]) -> Caller:
    ines.add("Cast bars", owner_id=people["manager"].id, start="8 Mar", duration="3 d")
    ines.add("Fit bars", owner_id=people["member"].id, start="29 Mar", duration="2 d", priority="must")
    ines.add("Paint")
    return ines


QUERIES = ["", "owner=me", "text=bars", "late=true", "since=2027-03-08&until=2027-03-12", "unowned=true&state_class=queued"]


@pytest.mark.parametrize("query", QUERIES)
@pytest.mark.parametrize("who", ["manager", "member"])
def test_it_says_what_its_parts_say(work: Caller, sign_in: Callable[[str], Caller], query: str, who: str) -> None:
    one = sign_in(who)
    page = one("GET", f"/projects/LAN/page?{query}")
    assert page["rows"] == one("GET", "/projects/LAN/tasks")
    assert page["scope"] == one("GET", f"/projects/LAN/scope?{query}")
    assert page["horizon"] == one("GET", f"/projects/LAN/horizon?{query}")


def test_what_is_mine_is_not_given_to_another(work: Caller, sign_in: Callable[[str], Caller]) -> None:
    numbers = {row["id"]: row["title"] for row in work.rows().values()}
    shown = {who: sign_in(who)("GET", "/projects/LAN/page?owner=me")["scope"]["ids"] for who in ("manager", "member")}
    assert {who: [numbers[one] for one in ids] for who, ids in shown.items()} == {
        "manager": ["Cast bars"],
        "member": ["Fit bars"],
    }


def test_the_dates_of_the_sentence_do_not_narrow_the_horizon(work: Caller) -> None:
    whole, narrowed = (
        work("GET", f"/projects/LAN/page?{query}")["horizon"] for query in ("", "since=2027-03-08&until=2027-03-12")
    )
    assert whole == narrowed


def test_with_a_mark_only_what_changed_comes(work: Caller) -> None:
    mark = work("GET", "/projects/LAN/page")["rows"]["mark"]
    assert work("GET", f"/projects/LAN/page?mark={mark}")["rows"] == {
        "mark": mark, "complete": False, "rows": [], "gone": [], "change": None, "remarks": [],
    }  # fmt: skip
    work.edit(work.rows()["Paint"], percent=40)
    answer = work("GET", f"/projects/LAN/page?mark={mark}")
    assert [row["title"] for row in answer["rows"]["rows"]] == ["Paint"]
    assert answer["scope"]["revision"] == int(answer["rows"]["mark"].split(".")[0])


def test_a_mark_that_is_none_is_refused(work: Caller) -> None:
    for mark in ("x", "1.2", "1.2.3.4", "٣.٤.٥", "-1.0.0", "9" * 61):
        assert work("GET", "/projects/LAN/page", params={"mark": mark}, expect=422)


def test_it_is_packed_where_that_is_understood_and_says_the_same(work: Caller) -> None:
    for _ in range(30):
        work.add("Bar with a long enough title")
    plain, packed = (work("GET", "/projects/LAN/page", headers={"Accept-Encoding": how}) for how in ("identity", "gzip"))
    assert plain == packed


def test_the_brief_is_kept_and_follows_each_change(work: Caller, sign_in: Callable[[str], Caller]) -> None:
    first = work("GET", "/projects/LAN/brief")
    assert sign_in("member")("GET", "/projects/LAN/brief") == first
    work.edit(work.rows()["Cast bars"], percent=100)
    second = work("GET", "/projects/LAN/brief")
    assert second["facts"]["finished"] == first["facts"]["finished"] + 1
    assert second["last_change"]["what"] != first["last_change"]["what"]


# --- plans that are held


def held(database: Database, plans: PlanCache, clock: Clock) -> Any:
    def read(cur: Any) -> Any:
        project = project_rows.project_by_code(cur, "LAN")
        assert project is not None
        return plans.at(cur, project, clock.now())

    return database.read(read)


def test_who_reads_a_plan_is_not_disturbed_by_the_next(work: Caller, database: Database, clock: Clock) -> None:
    plans = PlanCache()
    before = held(database, plans, clock)
    rows, encoded, outline = dict(before.plan.rows), dict(before.encoded), before.plan.ordered()
    work.edit(work.rows()["Paint"], title="Paint the dome", percent=50)
    work("POST", "/projects/LAN/tasks/delete", {"ids": [work.rows()["Cast bars"]["id"]]})
    after = held(database, plans, clock)
    assert (before.plan.rows, dict(before.encoded), before.plan.ordered()) == (rows, encoded, outline)
    assert after.mark > before.mark
    assert {row.task.title for row in after.plan.rows.values()} == {"Paint the dome", "Fit bars"}
    assert held(database, plans, clock) is after


def test_what_many_ask_at_once_is_made_once(work: Caller, database: Database, clock: Clock, actor: Actor) -> None:
    plan, made, gate = held(database, PlanCache(), clock), [], threading.Barrier(8)

    def make() -> int:
        made.append(1)
        return len(made)

    def ask() -> None:
        gate.wait()
        assert plan.answers.once("the same", make) == 1

    threads = [threading.Thread(target=ask) for _ in range(8)]
    for one in threads:
        one.start()
    for one in threads:
        one.join()
    assert len(made) == 1
    assert plan.answers.once("another", make) == 2
