"""Drafts: changes tried beside the plan."""

from __future__ import annotations

from typing import Any

import pytest

from rhodonite.core.people.model import Person
from rhodonite.services.common.plan_cache import PLANS
from tests.api.common.routes import filled
from tests.api.schedule.test_planning import ask, chain, finishes  # noqa: F401
from tests.conftest import Caller, state_id

PLAN = {"Dig": "2027-03-17", "Pour": "2027-03-19", "Cure": "2027-03-24", "Done": "2027-03-24"}


class InDraft:
    """Calls the API from within a draft."""

    def __init__(self, caller: Caller, draft_id: str) -> None:
        self.caller = caller
        self.id = draft_id

    def __call__(self, method: str, path: str, body: Any = None, **kwargs: Any) -> Any:
        return self.caller(method, path, body, headers={"Rhodonite-Draft": self.id}, **kwargs)

    def rows(self) -> dict[str, dict[str, Any]]:
        """The rows of the project by title, as the draft has them."""
        return {row["title"]: row for row in self("GET", "/projects/LAN/tasks")["rows"]}

    def edit(self, title: str, expect: int | None = None, **fields: Any) -> Any:
        """Change a task in the draft."""
        row = self.rows()[title]
        edit = {"tasks": [{"id": row["id"], "revision": row["revision"], "fields": fields}]}
        return self("PATCH", "/projects/LAN/tasks", edit, expect=expect)

    def compare(self) -> Any:
        """The draft beside the plan."""
        return self.caller("GET", f"/projects/LAN/drafts/{self.id}/comparison")


def start(caller: Caller, name: str = "Second crew in May", **more: Any) -> InDraft:
    return InDraft(caller, caller("POST", "/projects/LAN/drafts", {"name": name, **more})["id"])


@pytest.fixture
def draft(chain: Caller) -> InDraft:  # noqa: F811
    return start(chain)


def test_a_draft_moves_what_follows_and_leaves_the_plan_alone(draft: InDraft) -> None:
    draft.edit("Dig", duration="5 d")
    draft.edit("Cure", waits_for="Pour")
    assert {one: row["finish"][:10] for one, row in draft.rows().items()} == {
        "Dig": "2027-03-19", "Pour": "2027-03-23", "Cure": "2027-03-25", "Done": "2027-03-25"}  # fmt: skip
    assert finishes(draft.caller) == PLAN
    assert draft("GET", "/projects/LAN/scope")["facts"]["finish"][:10] == "2027-03-25"
    assert draft.caller("GET", "/projects/LAN/scope")["facts"]["finish"][:10] == "2027-03-24"
    assert draft.caller("GET", "/projects/LAN/drafts")[0]["changes"] == 2


def test_rows_are_followed_by_their_mark(draft: InDraft) -> None:
    mark = draft("GET", "/projects/LAN/tasks")["mark"]
    draft.edit("Cure", duration="3 d")
    answer = draft("GET", f"/projects/LAN/tasks?since={mark}")
    assert not answer["complete"]
    assert {row["title"] for row in answer["rows"]} == {"Cure", "Done"}
    draft.caller.edit(draft.caller.rows()["Dig"], percent=10)  # and so are changes to the plan
    answer = draft("GET", f"/projects/LAN/tasks?since={answer['mark']}")
    assert [(row["title"], row["percent"]) for row in answer["rows"]] == [("Dig", 10)]


def test_compared_side_by_side_with_the_plan(draft: InDraft) -> None:
    draft.edit("Dig", duration="4 d")
    found = draft.compare()
    assert (found["ripple"]["finish_before"][:10], found["ripple"]["finish"][:10]) == ("2027-03-24", "2027-03-25")
    assert [(one["title"], one["finish"][:10]) for one in found["ripple"]["milestones"]] == [("Done", "2027-03-25")]
    assert found["minutes"] == 450
    moved = {one["title"]: one["minutes"] for one in found["differences"]}
    assert moved == {"Dig": 450, "Pour": 450, "Cure": 450, "Done": 450}
    assert found["overtaken"] == []


def test_a_field_that_the_plan_changed_since_is_told(draft: InDraft) -> None:
    draft.edit("Dig", duration="4 d")
    draft.caller.edit(draft.caller.rows()["Dig"], duration="2 d")
    assert [(one["title"], one["field"]) for one in draft.compare()["overtaken"]] == [("Dig", "duration")]
    assert draft.rows()["Dig"]["finish"][:10] == "2027-03-18"
    draft.caller.edit(draft.caller.rows()["Pour"], duration="4 d")  # what the draft does not touch it follows
    assert draft.rows()["Pour"]["finish"][:10] == "2027-03-24"


def test_applied_through_the_ripple_and_taken_back(draft: InDraft) -> None:
    draft.edit("Dig", duration="4 d")
    address, caller = f"/projects/LAN/drafts/{draft.id}/apply", draft.caller
    told = caller("POST", address, expect=409, headers={"Rhodonite-Ripple": "ask"})["ripple"]
    assert told["moved"] == 4
    change = caller("POST", address, headers={"Rhodonite-Ripple": f"all {told['revision']}"})["change"]
    assert finishes(caller)["Done"] == "2027-03-25"
    assert caller("GET", "/projects/LAN/drafts") == []
    assert "applied the draft Second crew in May" in caller("GET", "/projects/LAN/activity")[0]["what"]
    caller("POST", f"/changes/{change}/undo")
    assert finishes(caller) == PLAN
    assert [one["name"] for one in caller("GET", "/projects/LAN/drafts")] == ["Second crew in May"]


def test_each_change_in_a_draft_can_be_taken_back_and_done_again(draft: InDraft) -> None:
    draft.edit("Dig", duration="4 d")
    change = draft.edit("Dig", duration="6 d")["change"]
    back = draft("POST", f"/changes/{change}/undo")["change"]
    assert draft.rows()["Dig"]["finish"][:10] == "2027-03-18"
    draft("POST", f"/changes/{change}/undo", expect=422)
    draft("POST", f"/changes/{back}/undo")
    assert draft.rows()["Dig"]["finish"][:10] == "2027-03-22"


def test_put_back_by_hand_it_keeps_nothing(draft: InDraft) -> None:
    draft.edit("Dig", duration="4 d")
    draft.edit("Dig", duration="3 d")
    assert draft.caller("GET", "/projects/LAN/drafts")[0]["changes"] == 0
    nothing = draft.caller("POST", f"/projects/LAN/drafts/{draft.id}/apply", expect=422)
    assert "changes nothing" in nothing["detail"]


def test_people_states_board_and_replanning_go_into_a_draft_too(draft: InDraft, people: dict[str, Person]) -> None:
    draft.edit("Dig", owner_id=people["member"].id)
    rows = draft.rows()
    drop = {"ids": [rows["Pour"]["id"]], "state_id": state_id(draft.caller, "Under way"), "after_id": None}
    draft("POST", "/projects/LAN/tasks/drop", drop)
    draft("POST", "/projects/LAN/replan")
    assert (draft.rows()["Dig"]["owner_id"], draft.rows()["Pour"]["state_class"]) == (people["member"].id, "active")
    assert draft.rows()["Dig"]["start"][:10] == "2027-03-17"
    plan = draft.caller.rows()
    assert (plan["Dig"]["owner_id"], plan["Pour"]["state_class"], plan["Dig"]["start"][:10]) == (None, "queued", "2027-03-15")


@pytest.mark.parametrize(
    ("method", "path", "body"),
    [
        ("POST", "/tasks/{Dig}/comments", {"body": "<p>Deep</p>"}),
        ("POST", "/tasks/{Dig}/checklists", {"name": "Foundry"}),
        ("PATCH", "/projects/LAN/tasks", {"tasks": [{"id": "{Dig}", "revision": 99, "fields": {"description": "Deep"}}]}),
        ("POST", "/projects/LAN/agreed", {"name": "Signed", "day": "2027-03-17"}),
    ],
)
def test_what_a_draft_does_not_keep_is_refused_and_nothing_is_written(draft: InDraft, method: str, path: str, body: Any) -> None:
    words = {"Dig": draft.rows()["Dig"]["id"]}
    refused = draft(method, filled(path, words), filled(body, words), expect=422)
    assert "leave the draft first" in refused["detail"]
    assert finishes(draft.caller) == PLAN


def test_links_that_close_a_circle_are_refused_in_a_draft(draft: InDraft) -> None:
    assert "circle" in draft.edit("Dig", expect=422, waits_for="Cure")["detail"]
    draft.edit("Dig", waits_for="")
    draft.edit("Cure", waits_for="")
    draft.edit("Dig", waits_for="Cure")
    plan = draft.caller
    plan.edit(plan.rows()["Cure"], duration="3 d")  # the plan goes on; its own links still say Cure waits for Pour
    assert draft.rows()["Cure"]["waits"] == ""


def test_only_its_maker_changes_a_draft_others_see_it_once_shared_and_copy_it(draft: InDraft, sign_in: Any) -> None:
    draft.edit("Dig", duration="4 d")
    tomas: Caller = sign_in("administrator")
    his = InDraft(tomas, draft.id)
    assert tomas("GET", "/projects/LAN/drafts") == []
    his("GET", "/projects/LAN/tasks", expect=404)
    draft.caller("PATCH", f"/projects/LAN/drafts/{draft.id}", {"shared": True})
    assert [(one["name"], one["mine"]) for one in tomas("GET", "/projects/LAN/drafts")] == [("Second crew in May", False)]
    assert his.rows()["Done"]["finish"][:10] == "2027-03-25"
    assert "Make a copy" in his.edit("Dig", expect=403, duration="1 d")["detail"]
    copy = start(tomas, "My own", copy_of=draft.id)
    copy.edit("Dig", duration="5 d")
    assert (copy.rows()["Done"]["finish"][:10], draft.rows()["Done"]["finish"][:10]) == ("2027-03-26", "2027-03-25")


def test_thrown_away_it_is_gone_unless_that_is_taken_back(draft: InDraft) -> None:
    draft.edit("Dig", duration="4 d")
    change = "0192f0c1-0000-7000-8000-000000000002"
    draft.caller("DELETE", f"/projects/LAN/drafts/{draft.id}", headers={"Rhodonite-Change": change})
    draft("GET", "/projects/LAN/tasks", expect=404)
    assert draft.caller("GET", "/projects/LAN/drafts") == []
    draft.caller("POST", f"/changes/{change}/undo")
    assert draft.rows()["Done"]["finish"][:10] == "2027-03-25"


def test_a_repeated_change_is_kept_once(draft: InDraft) -> None:
    row = draft.rows()["Dig"]
    edit = {"tasks": [{"id": row["id"], "revision": row["revision"], "fields": {"duration": "5 d"}}]}
    headers = {"Rhodonite-Draft": draft.id, "Rhodonite-Change": "0192f0c1-0000-7000-8000-000000000001"}
    for _ in range(2):
        assert draft.caller("PATCH", "/projects/LAN/tasks", edit, headers=headers)["rows"]
    assert draft.rows()["Dig"]["duration"] == 5 * 450


def test_a_state_that_the_plan_has_deleted_falls_out_of_the_draft(draft: InDraft) -> None:
    review = state_id(draft.caller, "In review")
    draft.edit("Dig", state_id=review)
    draft.caller("DELETE", f"/projects/LAN/states/{review}")
    assert draft.rows()["Dig"]["state_id"] != review


def test_a_ripple_says_whether_a_draft_can_keep_the_change(chain: Caller) -> None:  # noqa: F811
    assert ask(chain, "Dig", "ask", expect=409, duration="5 d")["ripple"]["can_try"]
    ids = {"ids": [chain.rows()["Dig"]["id"]]}
    gone = chain("POST", "/projects/LAN/tasks/delete", ids, expect=409, headers={"Rhodonite-Ripple": "ask"})
    assert gone["ripple"]["can_try"]


def new_in(draft: InDraft, title: str, **more: Any) -> dict[str, Any]:
    draft("POST", "/projects/LAN/tasks", {"tasks": [{"title": title, **more}]})
    return draft.rows()[title]


def test_a_draft_takes_new_deleted_and_re_nested_tasks_and_the_plan_takes_them_over(draft: InDraft) -> None:
    before = draft.caller.rows()
    phase = new_in(draft, "Second phase")
    coat = new_in(draft, "Second coat", parent_id=phase["id"], fields={"duration": "2 d", "waits_for": "Cure"})
    assert (coat["start"][:10], coat["parent_id"]) == ("2027-03-25", phase["id"])
    draft("POST", "/projects/LAN/tasks/move", {"ids": [before["Cure"]["id"]], "parent_id": phase["id"]})
    draft("POST", "/projects/LAN/tasks/delete", {"ids": [before["Done"]["id"]]})
    draft.edit("Second coat", duration="3 d")
    assert draft("GET", f"/tasks/{coat['id']}")["row"]["finish"][:10] == "2027-03-29"
    assert draft.caller.rows() == before
    draft.caller("GET", f"/tasks/{coat['id']}", expect=404)
    found = {one["title"]: one["kind"] for one in draft.compare()["differences"]}
    assert found == {"Second coat": "added", "Done": "gone"}
    shown = {title: {**row, "revision": 0} for title, row in draft.rows().items()}
    applied = draft.caller("POST", f"/projects/LAN/drafts/{draft.id}/apply")
    after = draft.caller.rows()
    assert {title: {**row, "revision": 0} for title, row in after.items()}.keys() == shown.keys()
    for title, row in shown.items():
        for name in ("number", "parent_id", "start", "finish", "waits", "is_summary"):
            assert after[title][name] == row[name], (title, name)
    draft.caller("POST", f"/changes/{applied['change']}/undo")
    assert draft.caller.rows().keys() == before.keys()
    assert draft.rows().keys() == shown.keys()


def test_what_a_draft_made_can_be_taken_back_and_deleted_in_it(draft: InDraft) -> None:
    made = draft("POST", "/projects/LAN/tasks", {"tasks": [{"title": "Second coat"}]})
    mark, task_id = draft("GET", "/projects/LAN/tasks")["mark"], draft.rows()["Second coat"]["id"]
    undone = draft("POST", f"/changes/{made['change']}/undo")
    assert "Second coat" not in draft.rows()
    assert draft("GET", f"/projects/LAN/tasks?since={mark}")["gone"] == [task_id]
    draft("POST", f"/changes/{undone['change']}/undo")
    draft("POST", "/projects/LAN/tasks/delete", {"ids": [draft.rows()["Second coat"]["id"]]})
    assert draft.caller("GET", "/projects/LAN/drafts")[0]["changes"] == 0


def test_pasted_lines_stand_in_a_draft_and_no_id_of_another_task(draft: InDraft, sign_in: Any) -> None:
    draft("POST", "/projects/LAN/tasks/paste", {"text": "Phase\n\tCut\n\tFit"})
    rows = draft.rows()
    assert rows["Cut"]["parent_id"] == rows["Phase"]["id"]
    other = sign_in("administrator")
    other("POST", "/projects", {"code": "OTH", "name": "Other", "start_day": "2027-03-08", "private": True})
    strange = other.add("Secret", code="OTH")["id"]
    body = {"tasks": [{"id": strange, "title": "Mine"}]}
    assert "in use already" in draft("POST", "/projects/LAN/tasks", body, expect=409)["detail"]


def test_a_new_task_of_a_shared_draft_is_seen_by_its_readers_alone(draft: InDraft, sign_in: Any) -> None:
    task = new_in(draft, "Second coat")
    other = InDraft(sign_in("administrator"), draft.id)
    other("GET", f"/tasks/{task['id']}", expect=404)
    draft.caller("PATCH", f"/projects/LAN/drafts/{draft.id}", {"shared": True})
    assert other("GET", f"/tasks/{task['id']}")["row"]["title"] == "Second coat"
    InDraft(sign_in("guest"), draft.id)("GET", f"/tasks/{task['id']}", expect=404)


def test_a_process_that_has_missed_a_change_and_its_undo_sends_everything(draft: InDraft) -> None:
    """Two processes serve: what one of them has shown and taken back between is not known to the other."""
    draft.edit("Dig", duration="4 d")
    other = dict(PLANS._held)  # how another process stands now

    PLANS.clear()
    answer = draft.edit("Dig", duration="6 d")
    draft("POST", f"/changes/{answer['change']}/undo")
    PLANS.clear()
    PLANS._held.update(other)
    again = draft("GET", f"/projects/LAN/tasks?since={answer['mark']}")
    assert again["complete"]
    assert {row["title"]: row["finish"][:10] for row in again["rows"]}["Dig"] == "2027-03-18"


def test_what_waits_for_a_task_that_the_draft_has_no_more_waits_for_it_no_longer(draft: InDraft) -> None:
    for title in ("Second coat", "Third coat"):
        new_in(draft, title, fields={"duration": "1 d"})
    draft.edit("Third coat", waits_for="Second coat")
    draft.edit("Cure", waits_for="Pour, Second coat", held_by_id=draft.rows()["Second coat"]["id"])
    draft("POST", "/projects/LAN/tasks/delete", {"ids": [draft.rows()["Second coat"]["id"]]})
    rows = draft.rows()
    assert (rows["Third coat"]["waits"], rows["Cure"]["waits"], rows["Cure"]["held"]) == ("", "2", None)
    draft.compare()
    draft.caller("POST", f"/projects/LAN/drafts/{draft.id}/apply")
    assert (draft.caller.rows()["Third coat"]["waits"], draft.caller.rows()["Cure"]["waits"]) == ("", "2")


def test_the_comparison_says_who_becomes_over(draft: InDraft, people: dict[str, Person]) -> None:
    caller, who = draft.caller, people["member"].id
    caller("PATCH", "/projects/LAN", {"revision": caller("GET", "/projects/LAN")["revision"], "hours": True})
    caller.edit(caller.rows()["Dig"], bookings=[{"who": who, "minutes": 450}])
    assert draft.compare()["ripple"]["people"] == []
    draft.edit("Dig", bookings=[{"who": who, "minutes": 3000}])
    (over,) = draft.compare()["ripple"]["people"]
    assert (over["who"], over["more"] > 0, over["less"]) == (who, True, 0)
