"""Status reports through the API: drafted from facts, judged, published for good, read; without money for who may not see it."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import pytest

from rhodonite.core.people.model import Person
from rhodonite.services.common.context import Clock
from rhodonite.services.reports import status
from rhodonite.store.common.database import Database, fetch_all
from tests.conftest import Caller, state_id

from ..time.test_time import later

SignIn = Callable[[str], Caller]


@pytest.fixture
def lan(ines: Caller, people: dict[str, Person]) -> Caller:
    """A project that is at work: something finished, something late and held, a risk, something nobody owns."""
    member = people["member"].id
    ines("PUT", f"/projects/LAN/members/{member}", {"role": "contributor"})
    top = ines.add("Glazing")
    done = ines.add("Order panes", parent=top["id"], start="2027-03-08", duration="2 d", effort="8 h")
    ines.add("Cast bars", parent=top["id"], start="2027-03-09", duration="3 d", owner_id=member, percent=40)
    ines.add("Set panes", parent=top["id"], start="2027-03-22", duration="3 d", owner_id=member)
    ines.add("Glazing signed off", parent=top["id"], kind="milestone", start="2027-03-26")
    ines.add("Storm in the bay", kind="risk", start="2027-03-08", duration="30 d")
    ines.edit(ines.rows()["Order panes"], state_id=state_id(ines, "Finished"))
    ines.edit(ines.rows()["Cast bars"], state_id=state_id(ines, "Under way"), held_reason="foundry sand")
    assert done["title"] == "Order panes"
    return ines


def texts(caller: Caller) -> dict[str, str]:
    found = caller("GET", "/projects/LAN/reports/draft")
    return {one["key"]: " ".join(each["text"] for each in one["sentences"]) for one in found["sections"]}


def publish(caller: Caller, expect: int | None = None, **more: Any) -> Any:
    return caller("POST", "/projects/LAN/reports", {"texts": {"stands": "It stands well."}, **more}, expect=expect)


def test_a_report_drafts_itself_and_every_sentence_says_from_what(lan: Caller) -> None:
    draft = lan("GET", "/projects/LAN/reports/draft")
    assert (draft["since"], draft["day"], draft["told"]["phase"]) == ("2027-03-08", "2027-03-17", "Glazing")
    said = texts(lan)
    assert said["done"] == "Order panes."
    assert "Set panes (Tomas B., 24 Mar)." in said["next"]
    assert "◆ Glazing signed off (nobody yet, 26 Mar)." in said["next"]
    assert said["risks"] == "Storm in the bay. Cast bars is held since 17 Mar by foundry sand."
    assert "Who takes on" in said["asked"]
    assert all(each["sources"] for one in draft["sections"] for each in one["sentences"])
    done = next(one for one in draft["sections"] if one["key"] == "done")
    assert done["sentences"][0]["sources"] == [
        {"words": "finished 17 Mar", "task_id": lan.rows()["Order panes"]["id"], "number": 2}
    ]
    assert draft["indicators"]["time"]["proposed"] == "strained"
    assert draft["indicators"]["scope"] == {
        "health": "not_judged",
        "proposed": "not_judged",
        "why": "no agreed plan",
        "reason": "",
    }
    assert draft["indicators"]["overall"]["proposed"] == "strained"
    assert "cost" not in draft["indicators"]


def test_the_figures_of_a_report_are_those_of_the_lens_and_later_changes_leave_it_as_it_was(lan: Caller) -> None:
    facts = lan("GET", "/projects/LAN/brief")["facts"]
    publish(lan)
    before = lan("GET", "/projects/LAN/reports/1")
    told = before["told"]
    assert (told["percent"], told["finish"], told["late"], told["held"], told["tasks"]) == (
        facts["percent"], facts["finish"][:10], facts["late"], facts["held"], facts["tasks"])  # fmt: skip
    lan.edit(lan.rows()["Set panes"], duration="30 d")
    assert lan("GET", "/projects/LAN/reports/1") == before
    activity = lan("GET", "/projects/LAN/activity")
    change = next(one for one in activity if one["what"] == "published a status report")
    assert not change["may_undo"]
    lan("POST", f"/changes/{change['id']}/undo", expect=422)
    assert len(lan("GET", "/projects/LAN/reports")["reports"]) == 1


def test_scope_and_finish_are_told_against_what_was_agreed_and_told_before(lan: Caller, clock: Clock) -> None:
    lan("POST", "/projects/LAN/agreed", {"name": "Signed", "day": "2027-03-08"})
    publish(lan)
    later(clock, days=7)
    lan.add("Extra coat", start="2027-03-29", duration="20 d")
    draft = lan("GET", "/projects/LAN/reports/draft")
    assert draft["since"] == "2027-03-17"
    assert draft["indicators"]["scope"]["why"] == "1 added of 5 tasks"
    assert draft["indicators"]["scope"]["proposed"] == "slipping"
    assert draft["told"]["before"] != draft["told"]["finish"]
    assert "The finish has moved from" in texts(lan)["stands"]
    assert texts(lan)["done"] == ""


def test_who_judges_otherwise_says_why(lan: Caller) -> None:
    assert (
        "Say why time is steady: by the rules it is strained."
        in publish(lan, 422, judged={"time": {"health": "steady"}})["detail"]
    )
    publish(lan, 422, judged={"cost": {"health": "steady"}})
    publish(lan, judged={"time": {"health": "steady", "reason": "the sand came today"}})
    assert lan("GET", "/projects/LAN/reports/1")["indicators"]["time"] == {
        "health": "steady", "proposed": "strained", "why": "7 days later, by what is done so far", "reason": "the sand came today"}  # fmt: skip
    publish(lan, 422, texts={"stands": "  "})
    publish(lan, 404, corrects=7)
    publish(lan, corrects=1)
    assert [(one["number"], one["corrects"]) for one in lan("GET", "/projects/LAN/reports")["reports"]] == [(2, 1), (1, None)]


def test_a_reader_without_the_right_to_cost_gets_none(lan: Caller, sign_in: SignIn, people: dict[str, Person]) -> None:
    lan("PATCH", "/projects/LAN", {"revision": 99, "costs": True})
    lan("PUT", "/projects/LAN/budget", {"amount": "4321"})
    lan("PUT", "/rates", {"who": people["member"].id, "rates": [{"amount": "40"}]})
    body = {
        "texts": {"stands": "Well", "cost": "We keep within 4321 EUR"},
        "people": [people["member"].id, people["administrator"].id],
    }
    assert "4,321.00" in texts(lan)["cost"]
    lan("POST", "/projects/LAN/reports", body)
    assert lan("GET", "/projects/LAN/reports/1")["indicators"]["cost"]["proposed"] == "steady"
    tomas = sign_in("member")
    seen = [tomas("GET", "/projects/LAN/reports/1"), tomas("GET", "/projects/LAN/reports"), tomas("GET", "/reports"),
            tomas("GET", "/projects/LAN/reports/1/file.md").text]  # fmt: skip
    assert all("4321" not in str(one) and "4,321" not in str(one) for one in seen)
    assert all("cost" not in one["indicators"] for one in seen[1]["reports"])
    mails = {
        one["recipient"]: one["body"]
        for one in sign_in("administrator")("GET", "/dispatches")
        if "status report" in one["subject"]
    }
    assert "4321" not in mails[people["member"].email]
    assert "4321" in mails[people["administrator"].email]
    tomas("GET", "/projects/LAN/reports/draft", expect=403)
    tomas("POST", "/projects/LAN/reports", body, expect=403)


def test_it_is_read_had_as_pdf_and_asked_for_on_a_rhythm(lan: Caller, sign_in: SignIn, people: dict[str, Person]) -> None:
    settings = {"sections": ["next", "stands"], "indicators": ["time"], "rhythm": "weekly", "people": [people["member"].id]}
    lan("PUT", "/projects/LAN/reports/settings", settings)
    page = lan("GET", "/projects/LAN/reports")
    assert (page["settings"]["sections"], page["due"]) == (["stands", "next"], "2027-03-15")
    assert [(one["code"], one["due"]) for one in lan("GET", "/reports")] == [("LAN", "2027-03-15")]
    publish(lan)
    assert lan("GET", "/projects/LAN/reports")["due"] == "2027-03-24"
    tomas = sign_in("member")
    group = next(one for one in tomas("GET", "/notices")["groups"] if one["task_id"] is None)
    assert group["notices"][0]["words"] == "published status report 1 of 17 Mar"
    assert [one["read"] for one in tomas("GET", "/reports")] == [False]
    tomas("POST", "/projects/LAN/reports/1/read")
    lan("POST", "/projects/LAN/reports/1/read")
    assert lan("GET", "/projects/LAN/reports/1")["readers"] == [people["member"].id]
    assert lan("GET", "/projects/LAN/reports/1/file.pdf").content[:4] == b"%PDF"
    text = tomas("GET", "/projects/LAN/reports/1/file.md").text
    assert text.startswith("# LAN Lantern Room Restoration: status report 1, 17 Mar 2027")
    assert "## How it stands\n\nIt stands well." in text
    lan("PUT", "/projects/LAN/reports/settings", {**settings, "sections": []}, expect=422)
    tomas("PUT", "/projects/LAN/reports/settings", settings, expect=403)
    lan("GET", "/projects/LAN/reports/9", expect=404)


def test_a_correction_tells_of_the_same_time_as_what_it_corrects(lan: Caller, clock: Clock) -> None:
    publish(lan)
    later(clock, days=7)
    publish(lan, texts={"stands": "Wrong."})
    assert lan("GET", "/projects/LAN/reports/draft")["since"] == lan("GET", "/projects/LAN/reports/draft")["day"]
    draft = lan("GET", "/projects/LAN/reports/draft?corrects=2")
    assert (draft["since"], draft["day"]) == ("2027-03-17", "2027-03-24")
    assert publish(lan, corrects=2) == {"number": 3}
    wrong, right = (lan("GET", f"/projects/LAN/reports/{number}") for number in (2, 3))
    assert (right["since"], right["told"], right["corrects"]) == (wrong["since"], wrong["told"], 2)
    assert lan("GET", "/projects/LAN/reports/draft?corrects=1")["since"] == "2027-03-08"
    lan("GET", "/projects/LAN/reports/draft?corrects=9", expect=404)
    lan("GET", "/projects/LAN/reports/draft?corrects=0", expect=422)


def test_what_reports_hold_is_taken_back_by_who_leads(lan: Caller, sign_in: SignIn, people: dict[str, Person]) -> None:
    before = lan("GET", "/projects/LAN/reports")["settings"]
    settings = {"sections": ["next"], "indicators": ["time"], "rhythm": "weekly", "people": [people["member"].id]}
    lan("PUT", "/projects/LAN/reports/settings", settings)
    said = "changed what status reports hold"
    tomas = sign_in("member")
    seen = next(one for one in tomas("GET", "/projects/LAN/activity") if one["what"] == said)
    assert not seen["may_undo"]
    tomas("POST", f"/changes/{seen['id']}/undo", expect=403)
    change = next(one for one in lan("GET", "/projects/LAN/activity") if one["what"] == said)
    assert change["may_undo"]
    lan("POST", f"/changes/{change['id']}/undo")
    assert lan("GET", "/projects/LAN/reports")["settings"] == before
    lan("POST", f"/changes/{change['id']}/undo", expect=422)
    lan("PUT", "/projects/LAN/reports/settings", settings)
    later_change = next(one for one in lan("GET", "/projects/LAN/activity") if one["what"] == said)
    lan("PUT", "/projects/LAN/reports/settings", {**settings, "rhythm": "monthly"})
    lan("POST", f"/changes/{later_change['id']}/undo", expect=422)


def test_a_lead_is_asked_once_for_each_report_that_is_due(lan: Caller, database: Database, clock: Clock) -> None:
    settings = {"sections": ["stands"], "indicators": ["time"], "rhythm": "weekly", "people": []}
    lan("PUT", "/projects/LAN/reports/settings", settings)
    lan("PATCH", "/session/preferences", {"mail": {"report_due": "at_once"}})
    assert lan("GET", "/projects/LAN/reports")["is_due"]
    assert lan("GET", "/reports")[0]["is_due"]
    assert [database.write(status.remind, clock, "http://here") for _ in range(2)] == [1, 0]
    notices = [one for group in lan("GET", "/notices")["groups"] for one in group["notices"]]
    assert [one["words"] for one in notices] == ["is asked for a status report, due 15 Mar"]
    publish(lan)
    assert not lan("GET", "/projects/LAN/reports")["is_due"]
    later(clock, days=6)
    assert database.write(status.remind, clock, "http://here") == 0
    later(clock, days=1)
    assert database.write(status.remind, clock, "http://here") == 1
    sql = "SELECT body FROM dispatches WHERE subject LIKE %s ORDER BY id"
    mails = database.read(lambda cur: fetch_all(cur, sql, ("%is due",)))
    assert [body.startswith("Ines Oduya is asked for a status report, due") for (body,) in mails] == [True, True]
    assert "http://here/p/LAN/reports/draft" in mails[0][0]


def test_a_report_is_published_with_the_facts_that_were_shown(lan: Caller) -> None:
    shown = lan("GET", "/projects/LAN/reports/draft")
    lan.edit(lan.rows()["Cast bars"], title="Cast the bars")
    refused = publish(lan, 422, facts=shown["facts"])
    assert "changed since these facts were shown" in refused["detail"]
    assert lan("GET", "/projects/LAN/reports")["reports"] == []
    publish(lan, facts=lan("GET", "/projects/LAN/reports/draft")["facts"])


def test_what_is_finished_later_on_the_day_of_a_report_is_in_the_next(lan: Caller, clock: Clock) -> None:
    publish(lan)
    later(clock, hours=3)
    lan.edit(lan.rows()["Set panes"], state_id=state_id(lan, "Finished"))
    later(clock, days=7)
    assert texts(lan)["done"] == "Set panes (Tomas B.)."  # and not again what the report before had told


def test_overdue_work_and_missed_deadlines_are_told_and_weigh_as_on_the_page(lan: Caller) -> None:
    lan.add("Seal the roof", start="2027-03-22", duration="2 d", deadline="2027-03-19")
    said, draft = texts(lan), lan("GET", "/projects/LAN/reports/draft")
    assert "Cast bars (Tomas B., 11 Mar)." in said["next"]
    assert "Seal the roof misses its deadline of 19 Mar." in said["stands"]
    health = lan("GET", "/projects/LAN/brief")["facts"]["health"]
    assert (draft["indicators"]["time"]["proposed"], draft["indicators"]["overall"]["proposed"]) == (health, health)
    assert health == "slipping"


def test_overall_follows_what_was_judged_and_tells_nothing_of_cost_to_others(
    lan: Caller, sign_in: SignIn, people: dict[str, Person]
) -> None:
    publish(lan, judged={"time": {"health": "slipping", "reason": "the boat is gone"}})
    overall = lan("GET", "/projects/LAN/reports/1")["indicators"]["overall"]
    assert (overall["health"], overall["why"]) == ("slipping", "Time is slipping")
    lan("PATCH", "/projects/LAN", {"revision": 99, "costs": True})
    lan("PUT", "/projects/LAN/budget", {"amount": "1"})
    lan("PUT", "/rates", {"who": people["member"].id, "rates": [{"amount": "40"}]})
    lan.edit(lan.rows()["Cast bars"], bookings=[{"who": people["member"].id, "minutes": 600}])
    publish(lan)
    assert lan("GET", "/projects/LAN/reports/2")["indicators"]["overall"]["health"] == "slipping"
    tomas = sign_in("member")
    assert tomas("GET", "/projects/LAN/reports/2")["indicators"]["overall"]["health"] == "strained"
    assert lan("GET", "/projects/LAN/brief")["facts"]["health"] == "slipping"
    assert tomas("GET", "/projects/LAN/brief")["facts"]["health"] == "strained"
    assert next(one for one in tomas("GET", "/projects") if one["code"] == "LAN")["health"] == "strained"


def test_a_corrected_report_says_so(lan: Caller) -> None:
    publish(lan)
    publish(lan, corrects=1)
    assert lan("GET", "/projects/LAN/reports/1")["corrected_by"] == 2
    assert lan("GET", "/projects/LAN/reports/2")["corrected_by"] is None


def test_a_portfolio_reports_on_its_parts(lan: Caller, sign_in: SignIn) -> None:
    lan("POST", "/portfolios", {"code": "COA", "name": "Coast", "start_day": "2027-03-08"})
    lan("POST", "/projects", {"code": "SEC", "name": "Quiet works", "start_day": "2027-03-08", "private": True})
    for code in ("LAN", "SEC"):
        lan("POST", "/projects/COA/parts", {"code": code})
    draft = lan("GET", "/projects/COA/reports/draft")
    stands = next(one for one in draft["sections"] if one["key"] == "stands")
    said = " ".join(one["text"] for one in stands["sentences"])
    assert "LAN Lantern Room Restoration is strained" in said
    assert "Quiet" not in said
    assert "One more part is private" in said
    assert draft["indicators"]["time"]["proposed"] == "strained"
