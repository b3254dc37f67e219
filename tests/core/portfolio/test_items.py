"""Items of a portfolio: each by its own work, and by what it is tied to in the parts."""

from __future__ import annotations

from dataclasses import replace

from rhodonite.core.portfolio.items import Item, There, find, item_of, with_ties
from rhodonite.core.portfolio.parts import LARGER_ITEMS, Part, all_parts
from rhodonite.core.schedule.plan import Plan
from rhodonite.core.tasks.custom_fields import CustomField
from rhodonite.core.tasks.model import Link, Project
from tests.core.make import NOW, OFFICE, PROJECT, STATES, at, days, plan, task

TIED = CustomField("f", "Tied work", "tied", "a")
COAST = replace(PROJECT, id="coast", code="COAST", portfolio=True, fields=(TIED,))


def mill() -> Plan:
    """Two deliverables, the second waiting for the first by the tasks under them."""
    return plan(
        task("roof", kind="deliverable", title="Roof"),
        task("r1", "roof", title="Rafters", **days("3-15", 5), state_id="doing", actual_start=at("3-15")),
        task("hall", kind="deliverable", title="Hall"),
        task("h1", "hall", title="Plaster", **days("4-05", 3), waits_for=(Link("r1"),)),
    )


def own(*tied: str, **fields: object) -> Item:
    """An item of the portfolio that is tied to some tasks."""
    coast = Plan(COAST, OFFICE, [task("open", title="The mill is open", own={"f": list(tied)}, **fields)], NOW)
    shown = find(coast, LARGER_ITEMS)
    return item_of(coast, shown.rows[0], None, STATES, shown)


def there(*, seen: bool = True) -> There:
    held = mill()
    return There(held, find(held, "deliverables"), seen)


def test_an_item_waits_for_another_where_what_is_under_it_does() -> None:
    shown = find(mill(), "deliverables")
    assert shown.needs == {"hall": ("roof",)}
    assert {one: blocker.row.task.title for one, blocker in shown.blockers.items() if blocker} == {
        "roof": "Rafters",
        "hall": "Rafters",
    }


def test_a_tied_item_is_expected_when_the_last_of_it_is_and_held_up_by_what_holds_that_up() -> None:
    part = there()
    alone = own("roof", "hall", deadline=at("4-01"))
    assert (alone.expected, alone.health, alone.troubled) == (None, "not_judged", False)
    (item,) = with_ties([alone], [part])
    assert item.start == part.plan.rows["roof"].start
    assert item.expected == part.shown.expected["hall"]
    assert item.past == 5  # from Thursday 1 to Wednesday 7 April, over a weekend, in working days, the last of them whole
    assert item.blocker is not None
    assert (item.blocker.row.task.title, item.blocks_in.id) == ("Rafters", part.plan.project.id)
    assert (item.health, item.troubled) == ("slipping", True)


def test_of_a_part_that_may_not_be_seen_nothing_is_named() -> None:
    (item,) = with_ties([own("hall")], [there(seen=False)])
    assert item.expected is not None
    assert item.blocker is None


def test_what_is_finished_or_tied_to_nothing_here_stays_as_it_is() -> None:
    for one in (own("hall", state_id="done", actual_finish=at("3-12")), own()):
        assert with_ties([one], [there()]) == [one]
    (gone,) = with_ties([own("elsewhere")], [there()])
    assert (gone.expected, gone.health) == (None, "not_judged")


def test_parts_come_behind_the_portfolio_that_joins_them_and_once() -> None:
    def project(one: str, **fields: object) -> Project:
        return replace(PROJECT, id=one, code=one.upper(), **fields)  # type: ignore[arg-type]

    projects = {one: project(one) for one in ("lan", "kio", "mil", "inner")} | {"old": project("old", archived_at=NOW)}
    joins = {"coast": ["inner", "lan", "old", "gone"], "inner": ["kio", "lan", "coast"], "kio": ["mil"]}
    every = {one: [Part(f"{one}{other}", one, other, "a") for other in others] for one, others in joins.items()}
    found = [(part.part_id, depth, through.id if through else "") for part, depth, through in all_parts(every, projects, COAST)]
    assert found == [("inner", 0, ""), ("kio", 1, "inner"), ("mil", 2, "kio"), ("lan", 1, "inner")]
