"""Invoice sheets through the API: hours are charged once, what is frozen never changes, documents can be had."""

from __future__ import annotations

import csv
import io
import uuid
from collections.abc import Callable
from typing import Any
from xml.etree import ElementTree

import pytest

from rhodonite.core.people.model import Person
from tests.conftest import Caller

from ..time.test_time import enter

SignIn = Callable[[str], Caller]
MARCH = {"first": "2027-03-01", "last": "2027-03-31"}
CBC = "{urn:oasis:names:specification:ubl:schema:xsd:CommonBasicComponents-2}"
CAC = "{urn:oasis:names:specification:ubl:schema:xsd:CommonAggregateComponents-2}"


@pytest.fixture
def lan(ines: Caller, people: dict[str, Person]) -> Caller:
    """A project that records time for a client; an hour of Tomas is charged at 54.00."""
    ines("PATCH", "/projects/LAN", {"revision": 99, "time": True, "client": "City of Corvane"})
    ines("PUT", f"/projects/LAN/members/{people['member'].id}", {"role": "contributor"})
    ines("PUT", "/rates", {"who": people["member"].id, "kind": "billing", "rates": [{"amount": "54"}]})
    return ines


@pytest.fixture
def hours(lan: Caller, sign_in: SignIn) -> dict[str, Any]:
    """Three hours of Tomas on two tasks, and half an hour that is not to be charged."""
    tomas = sign_in("member")
    bars, pane = lan.add("Cast bars"), lan.add("Set a pane")
    return {"bars": bars, "pane": pane, "first": enter(tomas, bars, 90, day="2027-03-10"), "second": enter(tomas, pane, 90),
            "own": enter(tomas, pane, 30, billable=False)}  # fmt: skip


def gather(caller: Caller, **more: Any) -> Any:
    return caller("POST", "/projects/LAN/invoices", {**MARCH, "client": "City of Corvane", **more})


def test_hours_become_lines_with_rate_and_sum(lan: Caller, hours: dict[str, Any]) -> None:
    waits = lan("GET", "/projects/LAN/chargeable", params=MARCH)
    assert (waits["minutes"], waits["amount"], waits["number"]) == (180, "162.00", "2027-001")
    sheet = gather(lan, tax="19")
    assert [(one["text"], one["minutes"], one["rate"], one["sum"], one["entered"]) for one in sheet["lines"]] == [
        ("LAN 1 Cast bars", 90, "54", "81.00", 90), ("LAN 2 Set a pane", 90, "54", "81.00", 90)]  # fmt: skip
    assert (sheet["state"], sheet["net"], sheet["tax_sum"], sheet["payable"]) == ("draft", "162.00", "30.78", "192.78")
    assert lan("GET", "/projects/LAN/chargeable", params=MARCH)["minutes"] == 0
    assert "on no sheet yet" in lan("POST", "/projects/LAN/invoices", MARCH, expect=422)["detail"]


def test_by_person_and_with_lines_of_ones_own(lan: Caller, hours: dict[str, Any]) -> None:
    sheet = gather(lan, grouped="person")
    assert [(one["text"], one["minutes"]) for one in sheet["lines"]] == [("Tomas Brekke", 180)]
    ferry = {"text": "Ferry", "amount": "12.40"}
    lines = [{**{name: sheet["lines"][0][name] for name in ("id", "text", "rate")}, "minutes": 150}, ferry]
    after = lan("PATCH", f"/projects/LAN/invoices/{sheet['id']}", {"lines": lines, "note": "Payable in 30 days"})
    assert ([one["sum"] for one in after["lines"]], after["payable"]) == (["135.00", "12.40"], "147.40")
    assert [one["entered"] for one in after["lines"]] == [180, None]


def test_all_hours_can_be_charged_at_one_rate(lan: Caller, hours: dict[str, Any]) -> None:
    waiting = lan("GET", "/projects/LAN/chargeable", params=MARCH | {"rate": "61.25"})
    assert (waiting["minutes"], waiting["amount"], waiting["unpriced"]) == (180, "183.76", 0)
    sheet = gather(lan, rate="61.25")
    assert [(one["minutes"], one["rate"], one["sum"]) for one in sheet["lines"]] == [(90, "61.25", "91.88")] * 2
    assert sheet["net"] == "183.76"


def test_hours_on_a_sheet_are_not_changed_behind_it(lan: Caller, hours: dict[str, Any], sign_in: SignIn) -> None:
    sheet = gather(lan)
    edit = {"entries": [{"id": hours["first"]["id"], "revision": 99, "minutes": 10}]}
    for caller in (sign_in("member"), lan):
        assert "invoice sheet" in caller("PATCH", "/projects/LAN/time", edit, expect=403)["detail"]
        caller("POST", "/projects/LAN/time/delete", {"ids": [hours["first"]["id"]]}, expect=403)
        caller("POST", f"/changes/{hours['first']['change']}/undo", expect=403)
    lan("DELETE", f"/projects/LAN/invoices/{sheet['id']}")
    lan("PATCH", "/projects/LAN/time", edit)


def test_a_line_that_is_taken_out_lets_its_hours_go_and_undo_takes_them_back(lan: Caller, hours: dict[str, Any]) -> None:
    sheet = gather(lan)
    kept = [{name: sheet["lines"][0][name] for name in ("id", "text", "minutes", "rate")}]
    change = str(uuid.uuid4())
    headers = {"Rhodonite-Change": change}
    lan("PATCH", f"/projects/LAN/invoices/{sheet['id']}", {"lines": kept}, headers=headers)
    assert lan("GET", "/projects/LAN/chargeable", params=MARCH)["minutes"] == 90
    lan("POST", f"/changes/{change}/undo")
    assert len(lan("GET", f"/projects/LAN/invoices/{sheet['id']}")["lines"]) == 2
    assert lan("GET", "/projects/LAN/chargeable", params=MARCH)["minutes"] == 0
    gone = str(uuid.uuid4())
    lan("DELETE", f"/projects/LAN/invoices/{sheet['id']}", headers={"Rhodonite-Change": gone})
    assert lan("GET", "/projects/LAN/invoices") == []
    other = gather(lan)
    assert "another sheet" in lan("POST", f"/changes/{gone}/undo", expect=422)["detail"]
    lan("DELETE", f"/projects/LAN/invoices/{other['id']}")
    lan("POST", f"/changes/{gone}/undo")
    assert [one["entered"] for one in lan("GET", f"/projects/LAN/invoices/{sheet['id']}")["lines"]] == [90, 90]


def test_what_is_frozen_never_changes_and_its_hours_are_on_no_other(lan: Caller, hours: dict[str, Any], sign_in: SignIn) -> None:
    sheet = gather(lan)
    where = f"/projects/LAN/invoices/{sheet['id']}"
    lan("GET", f"{where}/file.xml", expect=422)
    frozen = lan("POST", f"{where}/freeze", {"number": " 2027-001 ", "issued": "2027-03-31", "due": "2027-04-30"})
    assert (frozen["state"], frozen["number"], frozen["due"]) == ("frozen", "2027-001", "2027-04-30")
    for method, path, body in (("PATCH", where, {"client": "Somebody"}), ("DELETE", where, None),
                               ("POST", f"{where}/freeze", {"number": "2027-002", "issued": "2027-03-31"})):  # fmt: skip
        assert "never changes" in lan(method, path, body, expect=403)["detail"]
    enter(sign_in("member"), hours["bars"], 60, day="2027-03-11")
    second = gather(lan)
    assert [one["minutes"] for one in second["lines"]] == [60]
    taken = {"number": "2027-001", "issued": "2027-03-31"}
    assert "has the number" in lan("POST", f"/projects/LAN/invoices/{second['id']}/freeze", taken, expect=422)["detail"]
    assert lan("GET", "/projects/LAN/chargeable", params=MARCH)["number"] == "2027-002"
    cancelled = lan("POST", f"{where}/cancel")
    assert (cancelled["state"], cancelled["payable"]) == ("cancelled", "162.00")
    assert lan("GET", "/projects/LAN/chargeable", params=MARCH)["minutes"] == 180
    lan("POST", f"{where}/cancel", expect=422)


def test_a_sheet_is_had_as_pdf_table_and_open_document(lan: Caller, hours: dict[str, Any]) -> None:
    sheet = gather(lan, tax="19")
    where = f"/projects/LAN/invoices/{sheet['id']}"
    lan("PATCH", where, {"client": "City & Harbour <office>", "note": "Thank you"})
    lan("POST", f"{where}/freeze", {"number": "2027-001", "issued": "2027-03-31", "due": "2027-04-30"})
    assert lan("GET", f"{where}/file.pdf").content[:5] == b"%PDF-"
    assert lan("GET", f"{where}/file.xlsx").content[:2] == b"PK"
    rows = list(csv.reader(io.StringIO(lan("GET", f"{where}/file.csv").text.lstrip("\ufeff"))))
    assert rows[0] == ["Text", "Hours", "Rate", "Sum"]
    assert rows[1] == ["LAN 1 Cast bars", "1.50", "54", "81.00"]
    assert rows[-1][-1] == "192.78"
    root = ElementTree.fromstring(lan("GET", f"{where}/file.xml").content)

    def text(path: str) -> Any:
        found = root.find(path)
        return None if found is None else found.text

    assert root.tag == "{urn:oasis:names:specification:ubl:schema:xsd:Invoice-2}Invoice"
    assert (text(f"{CBC}ID"), text(f"{CBC}IssueDate"), text(f"{CBC}DocumentCurrencyCode")) == ("2027-001", "2027-03-31", "EUR")
    assert text(f"{CAC}AccountingCustomerParty/{CAC}Party/{CAC}PartyName/{CBC}Name") == "City & Harbour <office>"
    assert text(f"{CAC}LegalMonetaryTotal/{CBC}PayableAmount") == "192.78"
    assert text(f"{CAC}TaxTotal/{CBC}TaxAmount") == "30.78"
    lines = root.findall(f"{CAC}InvoiceLine")
    assert sum(float(one.findtext(f"{CBC}LineExtensionAmount") or 0) for one in lines) == 162.0
    quantity = lines[0].find(f"{CBC}InvoicedQuantity")
    assert quantity is not None
    assert (quantity.text, quantity.get("unitCode")) == ("1.5", "HUR")


def test_sheets_are_for_leads(lan: Caller, hours: dict[str, Any], sign_in: SignIn) -> None:
    sheet = gather(lan)
    tomas = sign_in("member")
    tomas("GET", "/projects/LAN/invoices", expect=403)
    tomas("GET", f"/projects/LAN/invoices/{sheet['id']}", expect=403)
    lan("POST", "/projects", {"code": "MIL", "name": "Mill", "start_day": "2027-03-08"})
    lan("GET", f"/projects/MIL/invoices/{sheet['id']}", expect=404)
    for path in ("/projects/LAN/activity", f"/tasks/{hours['bars']['id']}/time"):
        assert "81.00" not in tomas.client.get(f"/api{path}").text


def test_rates_in_another_currency_are_charged_with_four_decimals(
    lan: Caller, hours: dict[str, Any], people: dict[str, Person]
) -> None:
    lan("PUT", "/rates", {"who": people["member"].id, "kind": "billing", "rates": [{"amount": "54.37"}]})
    lan("PATCH", "/projects/LAN", {"revision": 99, "currency": "USD", "exchange": "1.0847"})
    waits = lan("GET", "/projects/LAN/chargeable", params=MARCH)
    sheet = gather(lan)
    assert [(one["rate"], one["sum"]) for one in sheet["lines"]] == [("58.9751", "88.46"), ("58.9751", "88.46")]
    assert sheet["net"] == waits["amount"] == "176.92"  # what was told of before is what the sheet comes to
    again = [{"id": one["id"], "text": one["text"], "minutes": 60, "rate": one["rate"]} for one in sheet["lines"]]
    assert lan("PATCH", f"/projects/LAN/invoices/{sheet['id']}", {"lines": again})["net"] == "117.96"


def test_an_archived_project_is_read_and_not_charged(lan: Caller, hours: dict[str, Any]) -> None:
    sheet = gather(lan)
    lan("PATCH", "/projects/LAN", {"revision": 99, "archived": True})
    assert lan("GET", f"/projects/LAN/invoices/{sheet['id']}")["state"] == "draft"
    for method, path, body in (
        ("POST", "", MARCH), ("PATCH", f"/{sheet['id']}", {"client": "Nobody"}), ("DELETE", f"/{sheet['id']}", None),
        ("POST", f"/{sheet['id']}/freeze", {"number": "1", "issued": "2027-03-17"}),
    ):  # fmt: skip
        assert "is archived" in lan(method, f"/projects/LAN/invoices{path}", body, expect=403)["detail"]
