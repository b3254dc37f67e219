"""What hangs on a task, and who is told, through the API on a real MariaDB."""

from __future__ import annotations

import uuid
from collections.abc import Callable
from datetime import datetime
from typing import Any

import pytest

from rhodonite.core.people.model import Person
from rhodonite.services.common.context import Clock
from rhodonite.services.talk.notices import send_digests
from rhodonite.store.common.database import Database
from tests.conftest import Caller, state_id


@pytest.fixture
def tomas(ines: Caller, sign_in: Callable[[str], Caller], people: dict[str, Person]) -> Caller:
    """A contributor of the project."""
    ines("PUT", f"/projects/LAN/members/{people['member'].id}", {"role": "contributor"})
    return sign_in("member")


def said(caller: Caller, task: dict[str, Any], body: str = "<p>Sand comes Thursday</p>", **more: Any) -> str:
    """Comment on a task; gives the comment's id."""
    return str(caller("POST", f"/tasks/{task['id']}/comments", {"body": body, **more})["id"])


def seen(caller: Caller, task: dict[str, Any]) -> Any:
    """The task in full."""
    return caller("GET", f"/tasks/{task['id']}")


def new(caller: Caller) -> list[tuple[str | None, str, str]]:
    """(title, kind, words) of the notices that are not read, the newest first."""
    groups = caller("GET", "/notices?unread=true")["groups"]
    return [(group["title"], one["kind"], one["words"]) for group in groups for one in group["notices"]]


def undo(caller: Caller, change: str) -> None:
    caller("POST", f"/changes/{change}/undo")


def change() -> dict[str, str]:
    return {"Rhodonite-Change": str(uuid.uuid4())}


def test_a_comment_is_said_answered_signed_and_resolved(ines: Caller, tomas: Caller, people: dict[str, Person]) -> None:
    task = ines.add("Cast bars")
    first = said(ines, task)
    said(tomas, task, "<p>Good</p><script>alert(1)</script>", quotes_id=first)
    tomas("PATCH", f"/comments/{first}", {"reaction": "thanks"})
    tomas("PATCH", f"/comments/{first}", {"resolved": True})
    one, two = seen(ines, task)["comments"]
    assert (one["body"], one["reactions"], one["resolved_by"]) == (
        "<p>Sand comes Thursday</p>",
        {"thanks": [people["member"].id]},
        people["member"].id,
    )
    assert (two["body"], two["quotes_id"]) == ("<p>Good</p>", first)
    assert ines.rows()["Cast bars"]["comments"] == 2
    tomas("PATCH", f"/comments/{first}", {"reaction": "thanks", "on": False})
    assert seen(ines, task)["comments"][0]["reactions"] == {}


def test_only_its_writer_rewrites_and_a_lead_may_take_away(ines: Caller, tomas: Caller) -> None:
    task = ines.add("Cast bars")
    mine, theirs = said(ines, task), said(tomas, task)
    tomas("PATCH", f"/comments/{mine}", {"body": "<p>No</p>"}, expect=403)
    tomas("DELETE", f"/comments/{mine}", expect=403)
    ines("DELETE", f"/comments/{theirs}")
    tomas("PATCH", f"/comments/{theirs}", {"body": "<p>Yes</p>"}, expect=404)
    ines("POST", f"/tasks/{task['id']}/comments", {"body": "<p> </p>"}, expect=422)


def test_who_may_comment_takes_back_their_own_words_only(ines: Caller, tomas: Caller, people: dict[str, Person]) -> None:
    task = ines.add("Cast bars")
    theirs, mine = change(), change()
    ines("POST", f"/tasks/{task['id']}/comments", {"body": "<p>Sand comes Thursday</p>"}, headers=theirs)
    ines("PUT", f"/projects/LAN/members/{people['member'].id}", {"role": "commenter"})
    tomas("POST", f"/tasks/{task['id']}/comments", {"body": "<p>Hm</p>"}, headers=mine)
    tomas("POST", f"/changes/{theirs['Rhodonite-Change']}/undo", expect=403)
    undo(tomas, mine["Rhodonite-Change"])
    assert [one["body"] for one in seen(ines, task)["comments"]] == ["<p>Sand comes Thursday</p>"]


def test_what_hangs_on_a_task_can_be_taken_back(ines: Caller) -> None:
    task = ines.add("Cast bars")
    comment = said(ines, task)
    rewrite, tick, gone = change(), change(), change()
    ines("PATCH", f"/comments/{comment}", {"body": "<p>Sand comes Friday</p>"}, headers=rewrite)
    undo(ines, rewrite["Rhodonite-Change"])
    assert seen(ines, task)["comments"][0]["body"] == "<p>Sand comes Thursday</p>"
    ines("POST", f"/tasks/{task['id']}/checklists", {"name": "Foundry", "items": ["Pattern", "Sand"]})
    check = seen(ines, task)["checklists"][0]["checks"][1]
    ines("PATCH", f"/checks/{check['id']}", {"done": True}, headers=tick)
    assert ines.rows()["Cast bars"]["checks_done"] == 1
    undo(ines, tick["Rhodonite-Change"])
    assert ines.rows()["Cast bars"]["checks_done"] == 0
    ines("DELETE", f"/comments/{comment}", headers=gone)
    assert ines("GET", "/find?text=thursday")["tasks"] == []
    undo(ines, gone["Rhodonite-Change"])
    assert ines("GET", "/find?text=thursday")["tasks"][0]["excerpt"] == "Sand comes Thursday"
    lines = [line for one in seen(ines, task)["history"] for line in one["lines"]]
    assert "said “Sand comes Thursday”" not in lines  # it stands there itself
    activity = [line for one in ines("GET", "/projects/LAN/activity") for line in one["lines"]]
    assert "Cast bars: said “Sand comes Thursday”" in activity
    assert "ticked “Sand”" in lines


def test_a_repeated_comment_is_said_once(ines: Caller) -> None:
    task, again = ines.add("Cast bars"), change()
    body = {"id": str(uuid.uuid4()), "body": "<p>Sand</p>"}
    for _ in range(2):
        ines("POST", f"/tasks/{task['id']}/comments", body, headers=again)
    assert len(seen(ines, task)["comments"]) == 1


def test_files_keep_their_bytes_and_cannot_run(ines: Caller) -> None:
    task = ines.add("Cast bars")
    data = bytes(range(256)) * 9000
    for name, body in (("Plan ü.bin", data), ("page.html", b"<script>alert(1)</script>")):
        assert ines.client.post(f"/api/tasks/{task['id']}/files", files={"file": (name, body)}).status_code == 201
    files = {one["name"]: one for one in seen(ines, task)["files"]}
    answer = ines.client.get(f"/api/files/{files['Plan ü.bin']['id']}")
    assert answer.content == data
    assert answer.headers["content-disposition"].startswith("attachment; filename*=UTF-8''%50%6c%61%6e")
    page = ines.client.get(f"/api/files/{files['page.html']['id']}")
    assert page.headers["content-type"] == "application/octet-stream"
    assert page.headers["content-disposition"].startswith("attachment")
    assert "sandbox" in page.headers["content-security-policy"]
    assert ines("GET", "/find?text=page")["tasks"][0]["source"] == "file"


def test_a_file_that_is_empty_or_no_picture_is_refused(ines: Caller) -> None:
    task = ines.add("Cast bars")
    assert ines.client.post(f"/api/tasks/{task['id']}/files", files={"file": ("a.txt", b"")}).status_code == 422
    assert ines.client.post(f"/api/tasks/{task['id']}/pictures", files={"file": ("a.png", b"<svg>")}).status_code == 422
    assert seen(ines, task)["files"] == []


def test_checklists_are_ordered_kept_and_loaded(ines: Caller) -> None:
    task, other = ines.add("Cast bars"), ines.add("Cast more")
    made = ines("POST", f"/tasks/{task['id']}/checklists", {"name": "Foundry", "items": ["A", "B"]})["id"]
    ines("POST", f"/checklists/{made}/checks", {"items": [{"text": "First"}], "after_id": None})
    ids = {one["text"]: one["id"] for one in seen(ines, task)["checklists"][0]["checks"]}
    ines("PATCH", f"/checks/{ids['A']}", {"after_id": ids["B"]})
    assert [one["text"] for one in seen(ines, task)["checklists"][0]["checks"]] == ["First", "B", "A"]
    ines("POST", "/projects/LAN/checklists", {"checklist_id": made})
    ines("POST", "/projects/LAN/checklists", {"checklist_id": made})  # again under its name: replaced
    (template,) = ines("GET", "/projects/LAN/checklists")
    ines("POST", f"/tasks/{other['id']}/checklists", {"name": template["name"], "items": template["items"]})
    assert ines.rows()["Cast more"]["checks"] == 3


def test_a_line_becomes_a_task_below(ines: Caller, people: dict[str, Person]) -> None:
    task = ines.add("Cast bars", owner_id=people["member"].id)
    ines("POST", f"/tasks/{task['id']}/checklists", {"name": "Foundry", "items": ["Pattern", "Sand"]})
    check = seen(ines, task)["checklists"][0]["checks"][1]
    ines("POST", f"/checks/{check['id']}/task")
    rows = ines.rows()
    assert (rows["Sand"]["parent_id"], rows["Sand"]["owner_id"]) == (task["id"], people["member"].id)
    assert rows["Cast bars"]["checks"] == 1


def test_a_duplicate_is_closed_and_its_followers_go_over(ines: Caller, tomas: Caller, people: dict[str, Person]) -> None:
    kept, twice = ines.add("Cast bars"), ines.add("Cast the bars")
    tomas("PUT", f"/tasks/{twice['id']}/following", {"how": "follows"})
    relation = ines("POST", f"/tasks/{twice['id']}/relations", {"to_id": kept["id"], "type": "duplicate"})["id"]
    ines("POST", f"/tasks/{twice['id']}/relations", {"to_id": kept["id"], "type": "duplicate"}, expect=422)
    ines("POST", f"/relations/{relation}/close")
    assert ines.rows()["Cast the bars"]["state_class"] == "dropped"
    found = seen(ines, kept)
    assert [(one["word"], one["title"], one["state_class"]) for one in found["relations"]] == [
        ("has the duplicate", "Cast the bars", "dropped")
    ]
    assert {"person_id": people["member"].id, "reason": "follower"} in found["followers"]


def test_a_relation_to_a_task_that_may_not_be_seen_is_not_shown(ines: Caller, tomas: Caller, sign_in: Any) -> None:
    ines("POST", "/projects", {"code": "HID", "name": "Hidden", "start_day": "2027-03-08", "private": True})
    task, hidden = ines.add("Cast bars"), ines.add("Secret", code="HID")
    ines("POST", f"/tasks/{task['id']}/relations", {"to_id": hidden["id"], "type": "related"})
    assert len(seen(ines, task)["relations"]) == 1
    assert seen(tomas, task)["relations"] == []
    tomas("POST", f"/tasks/{task['id']}/relations", {"to_id": hidden["id"], "type": "origin"}, expect=404)


def test_a_task_is_held_by_another_until_that_is_finished(ines: Caller) -> None:
    sand, bars = ines.add("Fetch sand"), ines.add("Cast bars")
    row = ines.edit(bars, held_by_id=sand["id"])
    assert (row["held"], row["held_reason"], row["held_since"]) == ("Fetch sand", None, "2027-03-17T09:30:00")
    ines.edit(sand, state_id=state_id(ines, "Finished"))
    row = ines.rows()["Cast bars"]
    assert (row["held"], row["held_by_id"], row["held_since"]) == (None, None, None)
    ines.edit(row, held_by_id=row["id"], expect=422)


def test_people_are_told_and_say_of_what(ines: Caller, tomas: Caller, people: dict[str, Person]) -> None:
    task = ines.add("Cast bars", owner_id=people["member"].id)
    assert new(tomas) == [("Cast bars", "given", "made you its owner")]
    assert new(ines) == []
    said(ines, task, f'<p>Sand? <span data-person="{people["other"].id}">@Yuki</span></p>')
    assert new(tomas)[0] == ("Cast bars", "said", "said: Sand? @Yuki")
    tomas("POST", "/notices/read", {"ids": None})
    assert tomas("GET", "/notices/count") == {"unread": 0}
    tomas("PUT", f"/tasks/{task['id']}/following", {"how": "muted"})
    said(ines, task)
    assert new(tomas) == []


def test_the_named_get_mail_at_once_and_the_rest_as_they_wish(
    ines: Caller, tomas: Caller, people: dict[str, Person], database: Database, clock: Clock, sign_in: Any
) -> None:
    admin = sign_in("administrator")
    tomas("PATCH", "/session/preferences", {"mail": {"said": "daily", "given": "none"}, "digest_hour": 8})
    tomas("PATCH", "/session/preferences", {"mail": {"said": "hourly"}}, expect=422)
    task = ines.add("Cast bars", owner_id=people["member"].id)
    said(ines, task)
    assert admin("GET", "/dispatches") == []
    said(ines, task, f'<p><span data-person="{people["member"].id}">@Tomas</span>?</p>')
    (mail,) = admin("GET", "/dispatches")
    assert (mail["recipient"], mail["subject"]) == ("tomas@corvane.example", "LAN 1 Cast bars")
    assert "Ines Oduya named you in a comment: @Tomas?" in mail["body"]
    assert database.write(send_digests, clock, "http://x") == 0  # the hour of today is past: it waits for tomorrow's
    clock.set(datetime(2027, 3, 18, 8, 1))
    assert database.write(send_digests, clock, "http://x") == 1
    assert database.write(send_digests, clock, "http://x") == 0
    assert "said: Sand comes Thursday" in admin("GET", "/dispatches")[0]["body"]


def test_who_waited_is_told_that_it_can_start(ines: Caller, tomas: Caller, people: dict[str, Person]) -> None:
    sand = ines.add("Fetch sand")
    ines.add("Cast bars", owner_id=people["member"].id, waits_for=str(sand["number"]))
    ines.edit(sand, state_id=state_id(ines, "Finished"))
    assert ("Cast bars", "can_start", "finished the last that it waited for: it can start") in new(tomas)


def test_a_description_is_cleaned_found_and_names_people(ines: Caller, tomas: Caller, people: dict[str, Person]) -> None:
    task = ines.add("Cast bars")
    body = f'<h2>Foundry</h2><p onclick="x">Green sand <span data-person="{people["member"].id}">@Tomas</span></p>'
    ines.edit(task, description=body)
    assert "onclick" not in seen(ines, task)["description"]
    assert new(tomas)[0][1] == "named"
    (found,) = ines("GET", "/find?text=green sand")["tasks"]
    assert (found["title"], found["source"]) == ("Cast bars", "description")


def test_who_may_not_see_a_project_is_told_nothing_of_it(ines: Caller, people: dict[str, Person], sign_in: Any) -> None:
    ines("POST", "/projects", {"code": "HID", "name": "Hidden", "start_day": "2027-03-08", "private": True})
    task = ines.add("Secret", code="HID")
    said(ines, task, f'<p><span data-person="{people["other"].id}">@Yuki</span> a secret</p>')
    assert sign_in("administrator")("GET", "/dispatches") == []
    assert new(sign_in("member")) == []
