"""Many tasks at once."""

from __future__ import annotations

from typing import Any

import pytest

from rhodonite.core.people.model import Person
from tests.api.schedule.test_planning import chain, finishes  # noqa: F401
from tests.conftest import Caller, state_id


def many(caller: Caller, titles: list[str], **fields: Any) -> Any:
    rows = caller.rows()
    edits = [{"id": rows[one]["id"], "revision": rows[one]["revision"], "fields": fields} for one in titles]
    return caller("PATCH", "/projects/LAN/tasks", {"tasks": edits})


def ids(caller: Caller, *titles: str) -> list[str]:
    rows = caller.rows()
    return [rows[one]["id"] for one in titles]


def test_any_fields_change_at_once_and_one_undo_takes_all_back(chain: Caller, people: dict[str, Person]) -> None:  # noqa: F811
    before = chain.rows()
    wanted = {"owner_id": people["member"].id, "priority": "must", "deadline": "2027-05-03", "helpers": [people["other"].id]}
    change = many(chain, ["Dig", "Pour", "Cure"], **wanted)["change"]
    for title in ("Dig", "Pour", "Cure"):
        row = chain.rows()[title]
        assert (row["owner_id"], row["priority"], row["helpers"]) == (people["member"].id, "must", [people["other"].id])
        assert row["deadline"] == "2027-05-03T17:30:00"
    assert "of 3 tasks" in chain("GET", "/projects/LAN/activity")[0]["what"]
    chain("POST", f"/changes/{change}/undo")
    after = chain.rows()
    for title, row in before.items():
        assert {k: v for k, v in after[title].items() if k != "revision"} == {k: v for k, v in row.items() if k != "revision"}


def test_slips_that_change_state_together_stand_one_behind_the_other(chain: Caller) -> None:  # noqa: F811
    many(chain, ["Cure", "Dig", "Pour"], state_id=state_id(chain, "In review"))
    rows = chain.rows()
    assert sorted(("Cure", "Dig", "Pour"), key=lambda one: rows[one]["board_place"]) == ["Cure", "Dig", "Pour"]
    assert len({rows[one]["board_place"] for one in ("Cure", "Dig", "Pour")}) == 3


def test_a_second_edit_of_one_task_comes_after_the_first(chain: Caller) -> None:  # noqa: F811
    rows = chain.rows()
    edits = [
        {"id": rows["Dig"]["id"], "revision": 999, "fields": {"percent": percent, "description": f"{percent} done"}}
        for percent in (10, 20)
    ]
    edits.append({"id": rows["Pour"]["id"], "revision": 999, "fields": {"percent": 30}})
    edits.append({"id": rows["Pour"]["id"], "revision": 999, "fields": {"percent": 40}})
    chain("PATCH", "/projects/LAN/tasks", {"tasks": edits})
    assert [chain.rows()[one]["percent"] for one in ("Dig", "Pour")] == [20, 40]
    assert chain("GET", f"/tasks/{rows['Dig']['id']}")["description"] == "20 done"


def test_one_that_cannot_change_leaves_all_as_they_were(chain: Caller) -> None:  # noqa: F811
    chain.add("Below", parent=chain.rows()["Dig"]["id"])
    rows = chain.rows()
    edits = [{"id": rows[one]["id"], "revision": 999, "fields": {"percent": 50}} for one in ("Pour", "Dig")]
    refused = chain("PATCH", "/projects/LAN/tasks", {"tasks": edits}, expect=422)
    assert "“Dig” is computed from the tasks under it" in refused["detail"]
    assert chain.rows()["Pour"]["percent"] == 0


def test_dates_are_shifted_by_working_days_through_the_ripple(chain: Caller) -> None:  # noqa: F811
    body = {"ids": ids(chain, "Dig"), "days": 2}
    told = chain("POST", "/projects/LAN/tasks/shift", body, expect=409, headers={"Rhodonite-Ripple": "ask"})["ripple"]
    assert told["moved"] == 4
    chain("POST", "/projects/LAN/tasks/shift", body)
    assert finishes(chain) == {"Dig": "2027-03-19", "Pour": "2027-03-23", "Cure": "2027-03-26", "Done": "2027-03-26"}
    chain("POST", "/projects/LAN/tasks/shift", {"ids": ids(chain, "Pour", "Cure"), "days": 1})
    assert finishes(chain) == {"Dig": "2027-03-19", "Pour": "2027-03-24", "Cure": "2027-03-29", "Done": "2027-03-29"}
    chain("POST", "/projects/LAN/tasks/shift", {"ids": ids(chain, "Dig"), "days": -2})
    assert chain.rows()["Dig"]["start"][:10] == "2027-03-15"


@pytest.mark.parametrize(("titles", "words"), [(["Loose"], "have no dates"), ([], "List")])
def test_what_cannot_be_shifted_is_refused(chain: Caller, titles: list[str], words: str) -> None:  # noqa: F811
    chain.add("Loose")
    refused = chain("POST", "/projects/LAN/tasks/shift", {"ids": ids(chain, *titles), "days": 1}, expect=422)
    assert words in refused["detail"] or not titles


def test_tasks_are_linked_in_a_row_in_outline_order(ines: Caller) -> None:
    for title in ("Dig", "Pour", "Cure"):
        ines.add(title, duration="1 d")
    ines.edit(ines.rows()["Pour"], waits_for="Dig")
    ines("POST", "/projects/LAN/tasks/in-a-row", {"ids": ids(ines, "Cure", "Dig", "Pour")})
    rows = ines.rows()
    assert [rows[one]["waits"] for one in ("Dig", "Pour", "Cure")] == ["", "1", "2"]
    alone = ines("POST", "/projects/LAN/tasks/in-a-row", {"ids": ids(ines, "Cure")}, expect=422)
    assert "two or more" in alone["detail"]
