"""Rates, budgets and expenses as tables."""

from __future__ import annotations

import csv
import io
from collections.abc import Callable
from decimal import Decimal
from typing import Any

import pytest

from rhodonite.core.common.errors import RuleError
from rhodonite.core.people.model import Person
from rhodonite.services.cost.tables import read_amount
from tests.conftest import Caller

from .test_costs import resource


@pytest.fixture
def lan(ines: Caller) -> Caller:
    ines("PATCH", "/projects/LAN", {"revision": 99, "hours": True, "costs": True})
    return ines


def table(caller: Caller, path: str) -> list[list[str]]:
    return list(csv.reader(io.StringIO(caller("GET", path).text.lstrip("\ufeff"))))[1:]


def bring(caller: Caller, path: str, text: str, expect: int | None = None) -> Any:
    return caller("POST", path, files={"file": ("t.csv", text.encode())}, expect=expect)


@pytest.mark.parametrize(
    ("text", "number"),
    [
        ("1250.50", "1250.50"),
        ("1,250.50", "1250.50"),
        ("1250,5", "1250.5"),
        ("1,250", "1250"),
        ("1 250", "1250"),
        ("0.125", "0.125"),
    ],
)
def test_amounts_are_read_as_they_are_typed(text: str, number: str) -> None:
    assert read_amount(text) == Decimal(number)


def test_what_is_no_amount_is_refused() -> None:
    for wrong in ("much", "", "1.2.3", "NaN", "1e400x"):
        with pytest.raises(RuleError):
            read_amount(wrong)


def test_rates_come_and_go_and_are_taken_back_at_once(lan: Caller, people: dict[str, Person]) -> None:
    tomas, yuki = people["member"], people["other"]
    text = f"Who,E-mail,Kind,From,Amount\n{tomas.name},,cost,,32.50\n,{yuki.email},billing,2027-04-01,64\n{tomas.name},,cost,2027-05-01,34"
    text = text.replace(f"\n,{yuki.email}", f"\n{yuki.name},{yuki.email}")
    brought = bring(lan, "/rates/table", text)
    assert (brought["added"], brought["known"]) == (3, 0)
    assert table(lan, "/rates.csv") == [
        [tomas.name, tomas.email, "cost", "", "32.5"],
        [tomas.name, tomas.email, "cost", "2027-05-01", "34"],
        [yuki.name, yuki.email, "billing", "2027-04-01", "64"],
    ]
    assert bring(lan, "/rates/table", text)["known"] == 3
    lan("POST", f"/changes/{brought['change']}/undo")
    assert table(lan, "/rates.csv") == []
    assert bring(lan, "/rates/table", "Who,Amount\nNobody,3", expect=422)["detail"].startswith("Line 2")
    resource(lan, "material", "Panes", "pc")
    assert bring(lan, "/projects/LAN/rates/table", "Who,Amount\nPanes,18.75")["added"] == 1
    assert table(lan, "/projects/LAN/rates.csv") == [["Panes", "", "cost", "", "18.75"]]


def test_budgets_come_and_go(lan: Caller) -> None:
    lens = lan.add("Lens")
    lan.add("Cast bars", parent=lens["id"])
    text = f'Number,Title,Budget\n,,30000\nLAN {lens["number"]},Lens,"1,250.50"'
    brought = bring(lan, "/projects/LAN/budgets/table", text)
    assert brought["added"] == 2
    assert table(lan, "/projects/LAN/budgets.csv") == [["", "Lantern Room Restoration", "30000"], ["1", "Lens", "1250.5"]]
    lan("POST", f"/changes/{brought['change']}/undo")
    assert table(lan, "/projects/LAN/budgets.csv") == []
    assert "deliverable" in bring(lan, "/projects/LAN/budgets/table", "Number,Budget\n2,5", expect=422)["detail"]


def test_expenses_come_and_go(lan: Caller) -> None:
    resource(lan, "material", "Panes", "pc", "18.75")
    lan.add("Glaze")
    text = "Task,What,Day,Units,Amount,Note\n1,Panes,2027-03-16,3,,\n1,,2027-03-15,,12.40,taxi"
    brought = bring(lan, "/projects/LAN/expenses/table", text)
    assert brought["added"] == 2
    assert [one[2:7] for one in table(lan, "/projects/LAN/expenses.csv")] == [
        ["Panes", "2027-03-16", "3", "", ""], ["", "2027-03-15", "", "12.4", "taxi"]]  # fmt: skip
    assert bring(lan, "/projects/LAN/expenses/table", text)["known"] == 2
    lan("POST", f"/changes/{brought['change']}/undo")
    assert table(lan, "/projects/LAN/expenses.csv") == []
    assert "Gold" in bring(lan, "/projects/LAN/expenses/table", "Task,What,Day,Amount\n1,Gold,2027-03-16,3", expect=422)["detail"]


def test_a_file_does_not_tell_who_may_not_see_cost_what_others_spent(
    lan: Caller, sign_in: Callable[[str], Caller], people: dict[str, Person]
) -> None:
    lan("PUT", f"/projects/LAN/members/{people['other'].id}", {"role": "contributor"})
    lan.add("Glaze")
    text = "Task,Day,Amount\n1,2027-03-15,12.40"
    assert bring(lan, "/projects/LAN/expenses/table", text)["added"] == 1
    yuki = sign_in("other")
    assert bring(yuki, "/projects/LAN/expenses/table", text) | {"change": ""} == {"added": 1, "known": 0, "change": ""}
    assert bring(yuki, "/projects/LAN/expenses/table", text)["known"] == 1  # their own they know
