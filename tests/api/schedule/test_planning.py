"""Planning through the API: links, the ripple and consent, agreed plans, replanning, soundness, exchange."""

from __future__ import annotations

import json
from datetime import datetime
from typing import Any

import pytest
from icalendar import Calendar

from rhodonite.core.people.model import Person
from rhodonite.services.common.context import Clock
from tests.api.tasks.test_csv_files import upload
from tests.conftest import Caller


@pytest.fixture
def chain(ines: Caller) -> Caller:
    """Dig 3 d from 15 March, Pour 2 d after it, Cure 2 d a day later, then the milestone."""
    ines.add("Dig", start="2027-03-15", duration="3 d")
    ines.add("Pour", duration="2 d")
    ines.add("Cure", duration="2 d")
    ines.add("Done", kind="milestone")
    for title, waits in (("Pour", "Dig"), ("Cure", "Pour + 1 d"), ("Done", "Cure")):
        ines.edit(ines.rows()[title], waits_for=waits)
    return ines


def finishes(caller: Caller) -> dict[str, str]:
    return {title: row["finish"][:10] for title, row in caller.rows().items() if row["finish"]}


def ask(caller: Caller, task: str, consent: str, expect: int | None = None, **fields: Any) -> Any:
    row = caller.rows()[task]
    body = {"tasks": [{"id": row["id"], "revision": row["revision"], "fields": fields}]}
    return caller("PATCH", "/projects/LAN/tasks", body, expect=expect, headers={"Rhodonite-Ripple": consent})


def test_links_give_the_dates_and_every_row_says_its_slack(chain: Caller) -> None:
    rows = chain.rows()
    assert finishes(chain) == {"Dig": "2027-03-17", "Pour": "2027-03-19", "Cure": "2027-03-24", "Done": "2027-03-24"}
    assert rows["Cure"]["waits"] == "2 + 1 d"
    assert all(row["slack"] == 0 and row["critical"] for row in rows.values())
    spare = chain.add("Spare", start="2027-03-15", duration="1 d")
    assert (spare["slack"], spare["critical"], spare["late_finish"]) == (7 * 450, False, "2027-03-24T17:30:00")


def test_without_consent_a_change_is_applied_and_one_undo_takes_all_of_it_back(chain: Caller) -> None:
    before = finishes(chain)
    row = chain.rows()["Dig"]
    edit = {"tasks": [{"id": row["id"], "revision": row["revision"], "fields": {"duration": "5 d"}}]}
    change = chain("PATCH", "/projects/LAN/tasks", edit)["change"]
    assert finishes(chain)["Done"] == "2027-03-26"
    chain("POST", f"/changes/{change}/undo")
    assert finishes(chain) == before


def test_a_change_that_asks_is_refused_with_its_ripple_and_applied_at_that_revision(chain: Caller) -> None:
    before = finishes(chain)
    told = ask(chain, "Dig", "ask", expect=409, duration="5 d")
    assert told["type"] == "/problems/ripple"
    ripple = told["ripple"]
    assert (ripple["moved"], ripple["finish_before"][:10], ripple["finish"][:10]) == (3, "2027-03-24", "2027-03-26")
    assert [move["title"] for move in ripple["milestones"]] == ["Done"]
    assert finishes(chain) == before
    ask(chain, "Dig", f"all {ripple['revision']}", duration="5 d")
    assert finishes(chain)["Done"] == "2027-03-26"


def test_consent_to_an_older_revision_is_asked_for_again(chain: Caller) -> None:
    ripple = ask(chain, "Dig", "ask", expect=409, duration="5 d")["ripple"]
    chain.edit(chain.rows()["Cure"], duration="4 d")
    again = ask(chain, "Dig", f"all {ripple['revision']}", expect=409, duration="5 d")["ripple"]
    assert again["finish"][:10] == "2027-03-30"
    assert again["revision"] > ripple["revision"]


def test_a_threshold_lets_small_moves_pass(chain: Caller) -> None:
    ask(chain, "Dig", "ask 2", duration="5 d")
    ask(chain, "Dig", "ask 2", expect=409, duration="9 d")
    ask(chain, "Cure", "ask", title="Cure the floor")  # what moves nothing never asks
    bad = ask(chain, "Dig", "perhaps", expect=422, duration="1 d")
    assert "“ask”" in bad["detail"]


def test_only_this_one_breaks_the_link_that_would_carry_on(chain: Caller) -> None:
    ripple = ask(chain, "Dig", "ask", expect=409, start="2027-03-22")["ripple"]
    assert (ripple["can_alone"], ripple["alone"]) == (True, [])
    said = ask(chain, "Dig", "alone 0", expect=409, start="2027-03-22")["ripple"]["alone"]
    assert said == ["“Pour” no longer waits for “Dig”", "“Pour” starts no earlier than 18 Mar"]
    ask(chain, "Dig", f"only {ripple['revision']}", start="2027-03-22")
    assert finishes(chain) == {"Dig": "2027-03-24", "Pour": "2027-03-19", "Cure": "2027-03-24", "Done": "2027-03-24"}


def test_only_this_one_earlier_keeps_the_others_where_they_are(chain: Caller) -> None:
    ripple = ask(chain, "Dig", "ask", expect=409, start="2027-03-10")["ripple"]
    ask(chain, "Dig", f"only {ripple['revision']}", start="2027-03-10")
    rows = chain.rows()
    assert rows["Dig"]["start"][:10] == "2027-03-10"
    assert rows["Pour"]["constraint_type"] == "start_no_earlier"
    assert rows["Cure"]["finish"][:10] == "2027-03-24"
    assert {title for title, row in rows.items() if row["constraint_type"] != "asap"} == {"Dig", "Pour"}


def test_only_this_one_leaves_links_that_do_not_push(chain: Caller) -> None:
    """Seal waits for Dig, which moves, and for Cure, which holds it anyway."""
    numbers = {title: row["number"] for title, row in chain.rows().items()}
    chain.add("Seal", duration="1 d", waits_for=f"{numbers['Dig']}, {numbers['Cure']}")
    said = ask(chain, "Dig", "alone 0", expect=409, start="2027-03-16")["ripple"]["alone"]
    assert said == ["“Pour” no longer waits for “Dig”", "“Pour” starts no earlier than 18 Mar"]
    before = finishes(chain)
    ripple = ask(chain, "Dig", "ask", expect=409, start="2027-03-16")["ripple"]
    ask(chain, "Dig", f"only {ripple['revision']}", start="2027-03-16")
    assert {title: at for title, at in finishes(chain).items() if before[title] != at} == {"Dig": "2027-03-18"}
    assert len(chain.rows()["Seal"]["waits_for"]) == 2


def test_a_link_that_moves_its_task_is_shown_first(chain: Caller) -> None:
    free = chain.add("Free", start="2027-03-15", duration="1 d")
    ripple = ask(chain, "Free", "ask", expect=409, waits_for=str(chain.rows()["Cure"]["number"]))["ripple"]
    assert [(one["title"], one["start"][:10], one["touched"]) for one in ripple["moves"]] == [("Free", "2027-03-25", False)]
    assert not ripple["can_alone"]
    ask(chain, "Free", f"all {ripple['revision']}", waits_for=str(chain.rows()["Cure"]["number"]))
    assert chain.rows()["Free"]["start"][:10] == "2027-03-25"
    assert free["id"] == chain.rows()["Free"]["id"]
    chain.add("Bare", duration="1 d")
    ask(chain, "Bare", "ask 100", waits_for=str(chain.rows()["Dig"]["number"]))


def test_a_task_held_back_is_told_and_may_be_pinned(chain: Caller) -> None:
    ripple = ask(chain, "Pour", "ask", expect=409, start="2027-03-16")["ripple"]
    assert [(one["title"], one["start"][:10], one["waits_for"]) for one in ripple["waiting"]] == [("Pour", "2027-03-18", "Dig")]
    ask(chain, "Pour", f"only {ripple['revision']}", start="2027-03-16")
    pour = chain.rows()["Pour"]
    assert (pour["start"][:10], pour["constraint_type"]) == ("2027-03-16", "must_start")
    why = chain("GET", f"/tasks/{pour['id']}/why")
    assert why["start"] == "pinned by Ines O. on 17 Mar"
    assert why["conflicts"] == ["The pin stands 2 d before Dig allows."]


def test_a_cycle_is_refused_and_named(chain: Caller) -> None:
    told = chain.edit(chain.rows()["Dig"], expect=422, waits_for="Cure")
    assert "“Cure” → “Dig” → “Pour” → “Cure”" in told["detail"]
    assert chain.rows()["Dig"]["waits_for"] == []


def test_a_preview_changes_nothing(chain: Caller) -> None:
    row = chain.rows()["Dig"]
    edit = {"tasks": [{"id": row["id"], "revision": 0, "fields": {"duration": "4 d"}}]}
    ripple = chain("POST", "/projects/LAN/ripple", edit)
    assert ripple["moved"] == 3
    assert chain.rows()["Dig"]["duration"] == 3 * 450


def test_work_that_has_begun_no_longer_moves(chain: Caller) -> None:
    chain.edit(chain.rows()["Pour"], percent=10, state_id=state(chain, "Under way"))
    chain.edit(chain.rows()["Dig"], duration="6 d")
    assert chain.rows()["Pour"]["finish"][:10] == "2027-03-19"


def state(caller: Caller, name: str) -> str:
    return next(one["id"] for one in caller("GET", "/projects/LAN")["states"] if one["name"] == name)


def test_a_holiday_moves_what_it_must(chain: Caller) -> None:
    calendar = chain("GET", "/projects/LAN")["calendar"]
    calendar["exceptions"] = [{"from": "2027-03-18", "to": "2027-03-19", "name": "Harbour days"}]
    told = chain("PUT", "/projects/LAN/calendar", calendar, expect=409, headers={"Rhodonite-Ripple": "ask"})
    assert (told["ripple"]["moved"], told["ripple"]["finish"][:10]) == (3, "2027-03-26")
    chain("PUT", "/projects/LAN/calendar", calendar)
    assert finishes(chain)["Pour"] == "2027-03-23"
    why = chain("GET", f"/tasks/{chain.rows()['Pour']['id']}/why")
    assert why["start"] == "waits for Dig to finish, and begins after Harbour days"


def test_an_agreed_plan_keeps_what_was_promised(chain: Caller) -> None:
    (first,) = chain("POST", "/projects/LAN/agreed", {"name": "Signed", "day": "2027-03-08", "note": "by all"})
    assert first["is_current"]
    chain.edit(chain.rows()["Dig"], duration="5 d")
    chain.add("Afterthought", duration="1 d")
    row = chain.rows()["Cure"]
    assert (row["agreed_finish"][:10], row["variance"]) == ("2027-03-24", 2 * 450)
    facts = chain("GET", "/projects/LAN/scope")["facts"]
    assert (facts["agreed"][:10], facts["agreed_days"]) == ("2027-03-24", 2)
    assert chain("GET", "/projects")[0]["agreed_days"] == 2
    assert "2 days past the agreed date" in chain("GET", "/projects/LAN/brief")["reading"]
    found = chain("GET", f"/projects/LAN/compare?first={first['id']}")
    assert [(one["title"], one["kind"], one["minutes"] // 450) for one in found["tasks"][:2]] == [
        ("Dig", "moved", 2), ("Pour", "moved", 2),
    ]  # fmt: skip
    assert found["tasks"][-1]["kind"] == "added"
    second, _ = chain("POST", "/projects/LAN/agreed", {"name": "Again", "day": "2027-03-17"})
    assert chain.rows()["Cure"]["variance"] == 0
    both = chain("GET", f"/projects/LAN/compare?first={first['id']}&second={second['id']}")
    assert (both["minutes"], len(both["tasks"])) == (2 * 450, 5)
    chain("PATCH", f"/projects/LAN/agreed/{first['id']}", {"is_current": True})
    assert chain.rows()["Cure"]["variance"] == 2 * 450
    left = chain("DELETE", f"/projects/LAN/agreed/{first['id']}")
    assert [one["name"] for one in left] == ["Again"]
    assert chain.rows()["Cure"]["variance"] is None


def test_replanning_copies_the_forecast(chain: Caller) -> None:
    chain.edit(chain.rows()["Dig"], state_id=state(chain, "Under way"), percent=50)
    ahead = chain("GET", f"/tasks/{chain.rows()['Done']['id']}/why")["forecast_finish"]
    assert ahead[:10] == "2027-03-25"
    told = chain("POST", "/projects/LAN/replan", expect=409, headers={"Rhodonite-Ripple": "ask"})
    assert told["ripple"]["moved"] == 4
    chain("POST", "/projects/LAN/replan", headers={"Rhodonite-Ripple": f"all {told['ripple']['revision']}"})
    assert chain.rows()["Done"]["finish"] == ahead
    assert "already" in chain("POST", "/projects/LAN/replan", expect=422)["detail"]


def test_shifting_the_project_moves_what_was_set_by_hand(chain: Caller) -> None:
    chain("POST", "/projects/LAN/shift", {"start": "2027-03-22"})
    assert finishes(chain)["Done"] == "2027-04-07"
    assert chain("GET", "/projects/LAN")["start_day"] == "2027-03-22"


def test_shifting_a_branch_takes_all_under_it(ines: Caller) -> None:
    top = ines.add("Glazing")
    ines.add("Bars", parent=top["id"], start="2027-03-22", duration="2 d")
    ines.add("Panes", parent=top["id"], duration="1 d", waits_for="Bars")
    ines.add("Elsewhere", start="2027-03-22", duration="1 d")
    ines("POST", "/projects/LAN/shift", {"task_id": top["id"], "start": "2027-03-29"})
    assert finishes(ines) == {
        "Glazing": "2027-03-31", "Bars": "2027-03-30", "Panes": "2027-03-31", "Elsewhere": "2027-03-22",
    }  # fmt: skip


def test_soundness_names_the_tasks_and_mends_them(chain: Caller) -> None:
    top = chain.add("Roof")
    chain.add("Tiles", parent=top["id"], start="2027-03-15", duration="25 d")
    chain.add("Sweep", parent=top["id"])
    chain.edit(chain.rows()["Cure"], constraint_type="must_start", constraint_at="2027-03-18", waits_for="Pour - 1 d")
    found = {check["kind"]: [one["title"] for one in check["tasks"]] for check in chain("GET", "/projects/LAN/soundness")}
    assert found["fighting_pins"] == ["Cure"]
    assert found["leads"] == ["Cure"]
    assert found["long"] == ["Tiles"]
    assert found["undated"] == ["Sweep"]
    assert found["no_successor"] == ["Done"]
    assert found["negative_slack"] == ["Dig", "Pour"]
    rows = chain.rows()
    for kind, title in (("fighting_pins", "Cure"), ("leads", "Cure"), ("undated", "Sweep")):
        chain("POST", "/projects/LAN/soundness/mend", {"kind": kind, "ids": [rows[title]["id"]]})
    after = {check["kind"]: check["tasks"] for check in chain("GET", "/projects/LAN/soundness")}
    assert after["fighting_pins"] == after["leads"] == after["undated"] == after["negative_slack"] == []
    told = chain("POST", "/projects/LAN/soundness/mend", {"kind": "long", "ids": [rows["Tiles"]["id"]]}, expect=422)
    assert "cannot be mended by itself" in told["detail"]


def test_a_plan_file_out_and_in_again_has_the_same_dates(chain: Caller) -> None:
    top = chain.add("Roof", deadline="2027-05-01")
    chain.add("Tiles", parent=top["id"], start="2027-03-16", duration="25 d", state_id=state(chain, "Under way"), percent=20)
    chain.edit(chain.rows()["Cure"], constraint_type="must_finish")
    document = chain("GET", "/projects/LAN/plan.json")
    assert document["format"] == "rhodonite-plan/1"
    assert [task["name"] for task in document["tasks"]] == ["Dig", "Pour", "Cure", "Done", "Roof", "Tiles"]
    chain("POST", "/projects", {"code": "NEW", "name": "New", "start_day": "2027-03-08"})
    file = {"file": ("plan.json", json.dumps(document))}
    assert chain("POST", "/projects/NEW/plan.json", files=file)["tasks"] == 6
    shown = ("start", "finish", "duration", "constraint_type", "waits", "percent", "slack", "kind", "state_class")

    def seen(code: str) -> dict[str, Any]:
        return {title: [row[name] for name in shown] for title, row in chain.rows(code).items()}

    assert seen("NEW") == seen("LAN")
    bad = {"file": ("plan.json", json.dumps(document | {"links": [{"from": "x", "to": "y"}]}))}
    assert "plan.json, links[0].from" in chain("POST", "/projects/NEW/plan.json", files=bad, expect=422)["detail"]


def test_csv_carries_links_and_constraints(chain: Caller) -> None:
    chain.edit(chain.rows()["Cure"], constraint_type="must_start")
    columns = "&".join(f"column={one}" for one in ("number", "title", "kind", "start", "duration", "waits_for", "constraint"))
    data = chain("GET", f"/projects/LAN/tasks.csv?{columns}").content
    chain("POST", "/projects", {"code": "NEW", "name": "New", "start_day": "2027-03-08"})
    matching = ["code", "title", "kind", "start", "duration", "waits_for", "constraint"]
    chain("POST", "/projects/NEW/csv", files={"file": ("t.csv", data)}, data={"matching": json.dumps(matching)})
    for title, row in chain.rows("NEW").items():
        assert [row[name] for name in ("finish", "waits", "constraint_type")] == [
            chain.rows()[title][name] for name in ("finish", "waits", "constraint_type")
        ]
    wrong = upload(chain, "csv/preview", b"Title,Predecessors\nA,\nB,7\n", ["title", "waits_for"])
    assert "There is no task" in wrong["problems"][0]["reason"]


def test_a_calendar_is_followed_by_its_secret_until_it_is_withdrawn(chain: Caller, people: dict[str, Person]) -> None:
    chain.edit(chain.rows()["Dig"], owner_id=people["manager"].id)
    chain.add("Someday", owner_id=people["manager"].id)
    made = chain("POST", "/subscriptions", {"code": "LAN"})
    path = made["address"].partition("/api")[2]
    chain.client.cookies.clear()  # a calendar program has no session
    calendar = Calendar.from_ical(chain("GET", path).content)
    events = {str(one["summary"]): one for one in calendar.walk("VEVENT")}
    assert set(events) == {"Dig", "Pour", "Cure", "◆ Done"}
    assert events["Dig"].decoded("dtstart").isoformat() == "2027-03-15T09:00:00+00:00"
    assert [str(one["summary"]) for one in calendar.walk("VTODO")] == ["Someday"]
    assert chain("GET", "/calendars/unknown.ics", expect=404)


def test_a_withdrawn_calendar_answers_no_more(chain: Caller) -> None:
    mine = chain("POST", "/subscriptions", {"code": None})
    path = mine["address"].partition("/api")[2]
    assert b"VCALENDAR" in chain("GET", path).content
    assert [one["code"] for one in chain("GET", "/subscriptions")] == [None]
    chain("DELETE", f"/subscriptions/{mine['id']}")
    chain("GET", path, expect=404)
    chain("DELETE", f"/subscriptions/{mine['id']}", expect=404)


def test_public_holidays_of_many_countries(ines: Caller) -> None:
    countries = {one["code"]: one["regions"] for one in ines("GET", "/holidays/countries")}
    assert len(countries) > 100
    assert "SCT" in countries["GB"]
    days = {one["day"]: one["name"] for one in ines("GET", "/holidays?country=GB&region=SCT&first=2027&last=2027")}
    assert days["2027-11-30"] == "Saint Andrew's Day"
    assert "not known" in ines("GET", "/holidays?country=XX&first=2027&last=2027", expect=422)["detail"]
    assert "at most" in ines("GET", "/holidays?country=GB&first=2027&last=2099", expect=422)["detail"]


def test_a_month_is_previewed_before_the_calendar_is_saved(ines: Caller) -> None:
    body = {
        "week": {"mon": [["09:00", "13:00"]]},
        "exceptions": [{"from": "2027-03-08", "to": "2027-03-08", "name": "Fair"}],
        "month": "2027-03-05",
    }
    days = ines("POST", "/projects/LAN/calendar/preview", body)
    assert [(one["day"], one["minutes"]) for one in days if one["minutes"]] == [
        ("2027-03-01", 240), ("2027-03-15", 240), ("2027-03-22", 240), ("2027-03-29", 240),
    ]  # fmt: skip
    assert days[7]["name"] == "Fair"


def test_a_plan_file_brings_its_calendars_in(ines: Caller, sign_in: Any, people: dict[str, Person]) -> None:
    night = {"mon": [["20:00", "24:00"]], "tue": [["20:00", "24:00"]]}
    ines("PUT", "/projects/LAN/calendar", {"week": night, "exceptions": []})
    first = ines.add("Relamp", duration="8 h")
    ines.add("Test", duration="4 h", waits_for=[{"from_id": first["id"]}])
    file = {"file": ("plan.json", json.dumps(ines("GET", "/projects/LAN/plan.json")))}
    ines("POST", "/projects", {"code": "TWO", "name": "Second", "start_day": "2027-03-08"})
    ines("PUT", f"/projects/TWO/members/{people['member'].id}", {"role": "contributor"})
    refused = sign_in("member")("POST", "/projects/TWO/plan.json", files=file, expect=403)
    assert "Ask a lead to bring it in" in refused["detail"]
    ines("POST", "/projects/TWO/plan.json", files=file)
    assert [one["name"] for one in ines("GET", "/projects/TWO")["calendars"]] == ["Lantern Room Restoration: working time"]
    dates = [{title: (row["start"], row["finish"]) for title, row in ines.rows(code).items()} for code in ("LAN", "TWO")]
    assert dates[0] == dates[1]
    ines("POST", "/projects/TWO/plan.json", files=file)  # it is there by now
    assert len(ines("GET", "/projects/TWO")["calendars"]) == 1


def test_what_has_changed_since_a_day(chain: Caller, clock: Clock) -> None:
    chain.add("Old", start="2027-03-15", duration="1 d")
    clock.set(datetime(2027, 3, 18, 10, 0))
    chain.edit(chain.rows()["Cure"], duration="3 d")
    chain.edit(chain.rows()["Old"], duration="2 d")
    chain.add("New", duration="1 d")
    clock.set(datetime(2027, 3, 19, 10, 0))
    found = chain("GET", "/projects/LAN/compare?first=2027-03-18")
    assert (found["finish_before"][:10], found["finish"][:10]) == ("2027-03-24", "2027-03-25")
    assert [(one["title"], one["kind"], one["minutes"] // 450, one["effect"] // 450) for one in found["tasks"]] == [
        ("Cure", "moved", 1, 1), ("Done", "moved", 1, 1), ("Old", "moved", 1, 0), ("New", "added", 0, 0),
    ]  # fmt: skip
    assert chain("GET", "/projects/LAN/compare?first=2027-03-19")["tasks"] == []


def test_the_plan_of_a_day_has_its_own_summary_tasks_and_finish(ines: Caller, clock: Clock) -> None:
    above = ines.add("Gallery")
    late = ines.add("Paint", parent=above["id"], start="2027-04-05", duration="5 d")
    ines.add("Cut", parent=above["id"], start="2027-03-15", duration="2 d")
    ines.add("Store", start="2027-03-15", duration="3 d")
    clock.set(datetime(2027, 3, 18, 10, 0))
    ines("POST", "/projects/LAN/tasks/delete", {"ids": [late["id"]]})  # today Gallery ends on 16 March
    ines.add("Cut again", parent=ines.rows()["Store"]["id"], start="2027-03-17", duration="1 d")  # Store was no summary then
    clock.set(datetime(2027, 3, 19, 10, 0))
    found = ines("GET", "/projects/LAN/compare?first=2027-03-18")
    assert (found["finish_before"][:10], found["finish"][:10]) == ("2027-04-09", "2027-03-17")
    assert {one["title"]: one["kind"] for one in found["tasks"]} == {"Paint": "gone", "Cut again": "added"}


def test_an_agreed_plan_is_seen_at_once_where_the_plan_in_hand_was_behind(ines: Caller) -> None:
    task = ines.add("Cast bars", start="2027-03-22", duration="3 d")
    ines("GET", "/projects/LAN/brief")  # the plan is in hand
    checklist = ines("POST", f"/tasks/{task['id']}/checklists", {"name": "Foundry", "items": ["Sand"]})
    assert checklist  # a change after which nobody reads the plan
    ines("POST", "/projects/LAN/agreed", {"name": "Signed", "day": "2027-03-17"})
    assert ines("GET", "/projects/LAN/brief")["facts"]["agreed"] == "2027-03-24T17:30:00"
