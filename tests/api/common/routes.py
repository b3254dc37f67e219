"""What the tests that walk all routes know of them: a body for each, and what has to be there before it is called."""

from __future__ import annotations

import json
import uuid
from collections.abc import Callable
from typing import Any

from rhodonite.core.common.calendars import OFFICE_WEEK, WEEKDAYS, write_hours
from rhodonite.core.people.access import may_in_organisation, may_in_project, project_role
from rhodonite.core.people.model import Person
from rhodonite.server.application import make_app
from rhodonite.server.settings import Settings
from rhodonite.services.common.context import new_id
from rhodonite.services.common.plan_cache import PLANS
from rhodonite.standins.dispatch import MailFile, send_mail
from rhodonite.store.common import jobs as job_rows
from rhodonite.store.common.database import Database
from rhodonite.store.common.jobs import Job
from tests.conftest import NOW, Caller, state_id

APP = make_app(Settings(database_url="mysql://unused@127.0.0.1/unused"))


def routes() -> list[tuple[str, str, str]]:
    """(method, path, need) of every operation in the OpenAPI document."""
    return [
        (method.upper(), path, operation["x-needs"])
        for path, operations in APP.openapi()["paths"].items()
        for method, operation in operations.items()
    ]


BODIES: dict[tuple[str, str], Any] = {
    ("POST", "/api/people"): {"name": "New", "email": "new@corvane.example"},
    ("PATCH", "/api/people/{person_id}"): {"title": "Keeper"},
    ("PUT", "/api/session/password"): {"current": "", "new": "a long new password"},
    ("POST", "/api/projects"): {"code": "NEW", "name": "New", "start_day": "2027-03-08"},
    ("PATCH", "/api/projects/{code}"): {"revision": 999, "description": "x"},
    ("PUT", "/api/projects/{code}/members/{person_id}"): {"role": "viewer"},
    ("PUT", "/api/projects/{code}/calendar"): {"week": {"mon": [["09:00", "17:00"]]}, "exceptions": []},
    ("PUT", "/api/projects/{code}/calendars/{calendar_id}"): {"name": "Night", "week": {"mon": [["20:00", "24:00"]]}},
    ("POST", "/api/projects/{code}/states"): {"name": "New", "state_class": "active"},
    ("PATCH", "/api/projects/{code}/states/{state_id}"): {"limit": 3},
    ("POST", "/api/projects/{code}/states/{state_id}/steps"): {"first": "Doing", "second": "Ready to go on"},
    ("POST", "/api/projects/{code}/tasks"): {"tasks": [{"title": "New"}]},
    ("POST", "/api/projects/{code}/tasks/from-blank"): {"blank_id": "{blank_id}", "title": "From a blank"},
    ("POST", "/api/projects/{code}/parts"): {"code": "{part_code}"},
    ("PATCH", "/api/projects/{code}/parts/{part_id}"): {"shows": "level:1"},
    ("POST", "/api/portfolios"): {"code": "{part_code}P", "name": "Coast", "start_day": "2027-03-08"},
    ("POST", "/api/projects/{code}/blanks"): {"name": "Kept", "task_id": "{task_id}"},
    ("POST", "/api/projects/{code}/tasks/paste"): {"text": "New"},
    ("PATCH", "/api/projects/{code}/tasks"): {"tasks": [{"id": "{task_id}", "revision": 999, "fields": {"percent": 5}}]},
    ("POST", "/api/projects/{code}/ripple"): {"tasks": [{"id": "{task_id}", "revision": 999, "fields": {"duration": "2 d"}}]},
    ("POST", "/api/projects/{code}/agreed"): {"name": "Signed", "day": "2027-03-08"},
    ("PATCH", "/api/projects/{code}/agreed/{plan_id}"): {"is_current": True},
    ("POST", "/api/projects/{code}/shift"): {"task_id": "{task_id}", "start": "2027-04-05"},
    ("POST", "/api/projects/{code}/soundness/mend"): {"kind": "undated", "ids": ["{task_id}"]},
    ("POST", "/api/projects/{code}/drafts"): {"name": "Second crew in May"},
    ("PATCH", "/api/projects/{code}/drafts/{draft_id}"): {"name": "Third crew"},
    ("PATCH", "/api/session/preferences"): {"ripple_days": 1},
    ("POST", "/api/subscriptions"): {"code": None},
    ("POST", "/api/projects/{code}/calendar/preview"): {"week": {"mon": [["09:00", "17:00"]]}, "month": "2027-03-01"},
    ("POST", "/api/projects/{code}/tasks/move"): {"ids": ["{task_id}"]},
    ("POST", "/api/projects/{code}/tasks/step"): {"ids": ["{task_id}"], "how": "up"},
    ("POST", "/api/projects/{code}/tasks/drop"): {"ids": ["{task_id}"], "state_id": "{state_id}"},
    ("POST", "/api/projects/{code}/tasks/shift"): {"ids": ["{task_id}"], "days": 1},
    ("POST", "/api/projects/{code}/tasks/in-a-row"): {"ids": ["{task_id}", "{other_id}"]},
    ("POST", "/api/projects/{code}/tasks/delete"): {"ids": ["{task_id}"]},
    ("POST", "/api/projects/{code}/tasks/restore"): {"ids": ["{task_id}"]},
    ("POST", "/api/tasks/{task_id}/comments"): {"body": "<p>Sand comes Thursday</p>"},
    ("PATCH", "/api/comments/{comment_id}"): {"resolved": True},
    ("PATCH", "/api/files/{file_id}"): {"name": "other.txt"},
    ("POST", "/api/tasks/{task_id}/checklists"): {"name": "Foundry"},
    ("PATCH", "/api/checklists/{list_id}"): {"name": "Foundry"},
    ("POST", "/api/checklists/{list_id}/checks"): {"items": [{"text": "Sand delivered"}]},
    ("PATCH", "/api/checks/{check_id}"): {"done": True},
    ("POST", "/api/projects/{code}/checklists"): {"checklist_id": "{list_id}"},
    ("POST", "/api/tasks/{task_id}/relations"): {"to_id": "{other_id}", "type": "related"},
    ("PUT", "/api/tasks/{task_id}/following"): {"how": "follows"},
    ("POST", "/api/notices/read"): {"ids": None},
    ("POST", "/api/tasks/{task_id}/project"): {"code": "BAR", "name": "Bars", "start_day": "2027-03-08"},
    ("POST", "/api/projects/{code}/copies"): {"ids": {"{task_id}": "{copy_id}"}, "code": "LAN"},
    ("POST", "/api/projects/{code}/copies/preview"): {"ids": {"{task_id}": "{copy_id}"}, "code": "LAN"},
    ("POST", "/api/projects/{code}/tasks/merge"): {"task_id": "{task_id}", "into_id": "{other_id}"},
    ("POST", "/api/tasks/{task_id}/proposals/description"): {"points": ["Twelve bars"]},
    ("POST", "/api/tasks/{task_id}/proposals/tasks"): {},
    ("POST", "/api/projects/{code}/defined/{sort}"): {"name": "Watch {definition_id}"},
    ("PATCH", "/api/projects/{code}/defined/{sort}/{definition_id}"): {"settings": {"shape": "star"}},
    ("POST", "/api/projects/{code}/view"): {"groups": ["owner"]},
    ("POST", "/api/projects/{code}/sheets"): {"name": "Mine", "view": {"lens": "outline"}},
    ("PATCH", "/api/projects/{code}/sheets/{sheet_id}"): {"name": "Ours"},
    ("POST", "/api/view"): {"groups": ["project"]},
    ("POST", "/api/sheets"): {"name": "Mine", "view": {"lens": "all_work"}},
    ("PATCH", "/api/sheets/{sheet_id}"): {"name": "Ours"},
    ("POST", "/api/teams"): {"name": "Glazing crew"},
    ("PATCH", "/api/teams/{team_id}"): {"name": "Glass crew"},
    ("PATCH", "/api/bookable"): {"absence_kinds": ["parental leave"]},
    ("PATCH", "/api/people/{person_id}/capacity"): {"share": 80},
    ("POST", "/api/absences"): {
        "person_id": "{self_id}",
        "kind": "leave",
        "start": "2027-04-05T00:00",
        "end": "2027-04-07T00:00",
    },
    ("PATCH", "/api/absences/{absence_id}"): {"note": "Easter"},
    ("POST", "/api/resources"): {"name": "Scaffolders"},
    ("POST", "/api/projects/{code}/bookings/give"): {"who": "nobody", "to": "{crew_id}", "task_ids": ["{task_id}"]},
    ("PUT", "/api/rates"): {"who": "{self_id}", "rates": [{"amount": "31"}]},
    ("PUT", "/api/projects/{code}/rates"): {"who": "{crew_id}", "rates": [{"amount": "31"}]},
    ("PATCH", "/api/resources/{resource_id}"): {"people": 3},
    ("POST", "/api/projects/{code}/resources"): {"name": "Divers"},
    ("PATCH", "/api/projects/{code}/resources/{resource_id}"): {"people": 3},
    ("POST", "/api/projects/{code}/bookings/length"): {"task_id": "{task_id}", "fields": {"duration": "2 d"}},
    ("POST", "/api/projects/{code}/level"): {"first": "2027-03-15", "last": "2027-04-15"},
    ("POST", "/api/projects/{code}/bookings/read"): {"task_id": "{task_id}", "text": ""},
    ("POST", "/api/lines"): {"line": "Survey, in LAN", "code": None},
    ("POST", "/api/lines/read"): {"line": "Survey, in LAN"},
    ("POST", "/api/projects/{code}/time"): {"entries": [{"task_id": "{task_id}", "day": "2027-03-16", "minutes": 5}]},
    ("PATCH", "/api/projects/{code}/time"): {"entries": [{"id": "{entry_id}", "revision": 999, "minutes": 7}]},
    ("POST", "/api/projects/{code}/time/delete"): {"ids": ["{entry_id}"]},
    ("PUT", "/api/timer"): {"task_id": "{task_id}"},
    ("PUT", "/api/projects/{code}/budget"): {"amount": "1000"},
    ("POST", "/api/projects/{code}/invoices"): {"first": "2027-03-16", "last": "2027-03-16"},
    ("PATCH", "/api/projects/{code}/invoices/{invoice_id}"): {"note": "Thank you"},
    ("POST", "/api/projects/{code}/invoices/{invoice_id}/freeze"): {"number": "{invoice_id}", "issued": "2027-03-16"},
    ("POST", "/api/projects/{code}/expenses"): {"expenses": [{"task_id": "{task_id}", "day": "2027-03-16", "amount": "5"}]},
    ("PATCH", "/api/projects/{code}/expenses"): {"expenses": [{"id": "{expense_id}", "revision": 999, "amount": "7"}]},
    ("POST", "/api/projects/{code}/expenses/delete"): {"ids": ["{expense_id}"]},
    ("POST", "/api/goals"): {
        "title": "A goal",
        "first": "2027-01-01",
        "last": "2027-06-30",
        "belongs": "person",
        "whose": "{self_id}",
    },
    ("PATCH", "/api/goals/{goal_id}"): {"version": 1, "title": "Another"},
    ("PUT", "/api/goals/purpose"): {"purpose": "Keep it open"},
    ("POST", "/api/goals/measure"): {"measure": {}, "first": "2027-01-01", "last": "2027-06-30"},
    ("POST", "/api/goals/{goal_id}/values"): {"day": "2027-03-01", "value": "7"},
    ("POST", "/api/goals/{goal_id}/notes"): {"health": "steady"},
    ("POST", "/api/goals/{goal_id}/close"): {"outcome": "met"},
    ("PUT", "/api/goals/{goal_id}/following"): {"on": True},
    ("POST", "/api/dashboards"): {"name": "Mine"},
    ("PATCH", "/api/dashboards/{dashboard_id}"): {"version": 1, "name": "Ours"},
    ("POST", "/api/dashboards/{dashboard_id}/answers"): {},
    ("POST", "/api/dashboards/{dashboard_id}/preview"): {"kind": "figure"},
    ("POST", "/api/dashboards/{dashboard_id}/panels"): {"kind": "figure"},
    ("PATCH", "/api/dashboards/{dashboard_id}/panels/{panel_id}"): {"version": 1, "width": 4},
    ("POST", "/api/projects/{code}/reports"): {"texts": {"stands": "Well"}},
    ("PUT", "/api/projects/{code}/reports/settings"): {"sections": ["stands"], "indicators": ["time"]},
    ("PATCH", "/api/timer"): {"note": "second pour"},
    ("POST", "/api/timer/stop"): {},
    ("POST", "/api/time-sheet/hand-in"): {"day": "2027-03-16"},
    ("POST", "/api/time-sheet/take-back"): {"day": "2027-03-16"},
    ("POST", "/api/time-sheet/judge"): {"person_id": "{other_person}", "day": "2027-03-16", "accept": True},
}
SPAN = "?first=2027-03-15&last=2027-03-28"
QUERIES = {
    ("GET", "/api/find"): "?text=glass",
    ("GET", "/api/load"): SPAN,
    ("GET", "/api/time-report"): SPAN,
    ("GET", "/api/projects/{code}/chargeable"): SPAN,
    ("GET", "/api/time-report.{form}"): SPAN,
    ("GET", "/api/time.{form}"): SPAN,
    ("GET", "/api/projects/{code}/time.{form}"): SPAN,
    ("GET", "/api/load/tasks"): "?first=2027-03-15&last=2027-03-28",
    ("GET", "/api/load/mends"): "?who={self_id}&first=2027-03-15&last=2027-03-28",
    ("GET", "/api/projects/{code}/load/mends"): "?who={self_id}&first=2027-03-15&last=2027-03-28",
    ("GET", "/api/projects/{code}/load"): "?first=2027-03-15&last=2027-03-28",
    ("GET", "/api/projects/{code}/load/tasks"): "?first=2027-03-15&last=2027-03-28",
    ("GET", "/api/days"): "?text=fri",
    ("GET", "/api/projects/{code}/repeats"): "?words=every week&first=2027-03-16",
    ("GET", "/api/holidays"): "?country=GB&first=2027&last=2028",
    ("GET", "/api/project-codes"): "?name=Glass",
    ("GET", "/api/projects/{code}/waits-for"): "?text=1",
    ("GET", "/api/projects/{code}/compare"): "?first={plan_id}",
}
UPLOADS = {"/api/tasks/{task_id}/files", "/api/tasks/{task_id}/pictures"}
PNG = b"\x89PNG\r\n\x1a\n" + bytes(32)
FILES = {"/api/projects/{code}/csv/preview", "/api/projects/{code}/csv"}
WEEK = {day: write_hours(hours) for day, hours in zip(WEEKDAYS, OFFICE_WEEK, strict=True)}
PLAN = json.dumps(  # with the calendar that the project has: to bring one in is for leads
    {
        "format": "rhodonite-plan/1",
        "project": {"start": "2027-03-08T09:00", "calendar": "c"},
        "tasks": [{"id": "a"}],
        "calendars": [{"id": "c", "week": WEEK}],
    }
).encode()
# without a session they answer all the same, each in its own way; other tests hold them
OPEN = {"/api/session", "/api/session/demo", "/api/invitations/{token}", "/api/health", "/api/metrics",
        "/api/calendars/{secret}.ics"}  # fmt: skip
# a stream has no end to wait for: it has a test of its own
STREAMS = {"/api/live"}


TABLES = {
    "/api/resources/table": "Name\nDivers",
    "/api/projects/{code}/resources/table": "Name\nDivers of LAN",
    "/api/projects/{code}/time/table": "Task,Day,Hours\n1,2027-03-16,0.25",
    "/api/rates/table": "Who,Amount\n{self_name},31",
    "/api/projects/{code}/rates/table": "Who,Amount\n{crew_name},31",
    "/api/projects/{code}/budgets/table": "Number,Budget\n,1000",
    "/api/projects/{code}/expenses/table": "Task,Day,Amount\n1,2027-03-16,5",
    "/api/goals/table": "Goal,First day,Last day\nRelit,2027-01-01,2027-06-30",
    "/api/absences/table": "Person,From\n{self_mail},2027-08-02",
}


def filled(value: Any, words: dict[str, str]) -> Any:
    """Put ids into a path or a body."""
    if isinstance(value, str):
        for name, word in words.items():
            value = value.replace(f"{{{name}}}", word)
        return value
    if isinstance(value, dict):
        return {filled(key, words): filled(one, words) for key, one in value.items()}
    return [filled(one, words) for one in value] if isinstance(value, list) else value


def call(caller: Caller, method: str, path: str, words: dict[str, str]) -> int:
    """The status that a route answers with."""
    address = filled(path + QUERIES.get((method, path), ""), words)
    if path in UPLOADS:
        return caller.client.post(address, files={"file": ("a.png", PNG)}).status_code
    if path in FILES:
        return caller.client.post(address, files={"file": ("t.csv", b"Title\nA\n")}, data={"matching": '["title"]'}).status_code
    if path in TABLES:
        return caller.client.post(address, files={"file": ("t.csv", filled(TABLES[path], words).encode())}).status_code
    if method == "POST" and path in {"/api/projects/{code}/plan.json", "/api/projects/{code}/plan.json/preview"}:
        return caller.client.post(address, files={"file": ("plan.json", PLAN)}).status_code
    return caller.client.request(method, address, json=filled(BODIES.get((method, path)), words)).status_code


def draft_of(caller: Caller, task: dict[str, Any]) -> str:
    """A shared draft that changes a task."""
    draft_id = str(caller("POST", "/projects/LAN/drafts", {"name": "Second crew in May"})["id"])
    caller("PATCH", f"/projects/LAN/drafts/{draft_id}", {"shared": True})
    edit = {"tasks": [{"id": task["id"], "revision": task["revision"], "fields": {"duration": "3 d"}}]}
    caller("PATCH", "/projects/LAN/tasks", edit, headers={"Rhodonite-Draft": draft_id})
    return draft_id


def written(caller: Caller, count: int) -> list[str]:
    """The ids of new tasks with dates, all written at once."""
    ids = [str(uuid.uuid4()) for _ in range(count)]
    fields = {"start": "2027-03-10", "duration": "1 d"}
    caller("POST", "/projects/LAN/tasks", {"tasks": [{"id": one, "title": "A", "fields": fields} for one in ids]})
    return ids


HANGING = ("{comment_id}", "{file_id}", "{list_id}", "{check_id}", "{relation_id}", "{template_id}")


def hang(asked: str, writer: Caller, lead: Caller, task_id: str, other_id: str) -> dict[str, str]:
    """What a route asks for of all that can hang on a task; what only its writer may change is written by ``writer``."""
    if "{comment_id}" in asked:
        return {"comment_id": writer("POST", f"/tasks/{task_id}/comments", {"body": "<p>Sand comes Thursday</p>"})["id"]}
    if "{file_id}" in asked:
        return {"file_id": writer.client.post(f"/api/tasks/{task_id}/pictures", files={"file": ("a.png", PNG)}).json()["id"]}
    if "{relation_id}" in asked:
        relation = {"to_id": other_id, "type": "duplicate"}
        return {"relation_id": lead("POST", f"/tasks/{task_id}/relations", relation)["id"]}
    made = lead("POST", f"/tasks/{task_id}/checklists", {"name": "Foundry", "items": ["Sand"]})["id"]
    if "{template_id}" in asked:
        return {"template_id": lead("POST", "/projects/LAN/checklists", {"checklist_id": made})["id"]}
    return {"list_id": made, "check_id": lead("GET", f"/tasks/{task_id}")["checklists"][0]["checks"][0]["id"]}


def expected(need: str, organisation_role: str, member_role: str | None, private: bool) -> bool | None:
    """True: it must answer; False: 403; None: the person may not even know, 404."""
    if need == "person":
        return True
    if need in {"administer", "create_project", "see_people", "plan_people", "see_rates"}:
        return may_in_organisation(organisation_role, need)  # type: ignore[arg-type]
    role = project_role(organisation_role, member_role, private)
    need = "edit" if need == "at_work" else need  # on work that is somebody else's
    return None if role is None else may_in_project(role, need)  # type: ignore[arg-type]


def own_goal(path: str, lead: Caller, person: Person) -> dict[str, str]:
    """A goal that a person owns, with what a route about it asks for."""
    goal, value, note = (str(uuid.uuid4()) for _ in range(3))
    lead("POST", "/goals", {"id": goal, "title": "Theirs", "first": "2027-01-01", "last": "2027-06-30", "people": {person.id: "edit"},
                            "seen_by": "people"})  # fmt: skip
    lead("POST", f"/goals/{goal}/values", {"id": value, "day": "2027-03-01", "value": "5"})
    lead("POST", f"/goals/{goal}/notes", {"id": note, "health": "steady"})
    if path.endswith("/open"):
        lead("POST", f"/goals/{goal}/close", {"outcome": "met"})
    return {"goal_id": goal, "value_id": value, "note_id": note}


def own_dashboard(caller: Caller) -> dict[str, str]:
    """A dashboard that a person keeps, with a panel."""
    board, panel = str(uuid.uuid4()), str(uuid.uuid4())
    caller("POST", "/dashboards", {"id": board, "name": "Mine", "panels": [{"id": panel, "kind": "figure"}]})
    return {"dashboard_id": board, "panel_id": caller("GET", f"/dashboards/{board}")["panels"][0]["id"]}


def portfolio_of(path: str, lead: Caller, database: Database, person: Person) -> dict[str, str]:
    """LAN as a portfolio, with another project that a person sees, and that is joined where a route is about a part."""
    code = f"Q{uuid.uuid4().hex[:5]}".upper()
    words = {"part_code": code, "part_id": str(uuid.uuid4())}
    if path == "/api/portfolios":
        return words
    database.write(lambda cur: cur.execute("UPDATE projects SET portfolio = TRUE WHERE code = 'LAN'"))
    lead("POST", "/projects", {"code": code, "name": "Part", "start_day": "2027-03-08"})
    PLANS.clear()  # for that was written past the services
    if person.role != "administrator":  # who leads it
        lead("PUT", f"/projects/{code}/members/{person.id}", {"role": "viewer"})
    if "{part_id}" in path:
        lead("POST", "/projects/LAN/parts", {"id": words["part_id"], "code": code})
    return words


def own_hours(path: str, lead: Caller, caller: Caller, other: Caller, person: Person) -> None:
    """What routes about one's own hours ask for: a timer that runs, a week that can be handed in or judged."""
    if not lead.client.get("/api/projects/HRS").is_success:
        lead("POST", "/projects", {"code": "HRS", "name": "Hours", "start_day": "2027-03-08"})
        lead("PATCH", "/projects/HRS", {"revision": 999, "time": True})
        lead("PUT", f"/projects/HRS/members/{person.id}", {"role": "lead"})
        lead.add("Hours", "HRS", owner_id=lead("GET", "/people")[0]["id"])
    task = next(iter(lead.rows("HRS").values()))
    if path.startswith("/api/timer"):
        caller("PUT", "/timer", {"task_id": task["id"]})
    entry = {"entries": [{"task_id": task["id"], "day": "2027-03-16", "minutes": 5}]}
    if path.endswith(("/hand-in", "/take-back")):
        caller.client.post("/api/time-sheet/take-back", json={"day": "2027-03-16"})
        caller("POST", "/projects/HRS/time", entry)
        if path.endswith("/take-back"):
            caller("POST", "/time-sheet/hand-in", {"day": "2027-03-16"})
    if path.endswith("/judge"):
        who = other("GET", "/session")["person"]["id"]
        lead.edit(task, "HRS", owner_id=who)
        other("POST", "/projects/HRS/time", entry)
        other("POST", "/time-sheet/hand-in", {"day": "2027-03-16"})


class Walk:
    """A project, LAN, in which one person has a role, and whatever a route asks for there.

    Args:
        member_role: of the person in the project; ``role``: in the organisation.
    """

    def __init__(
        self, sign_in: Callable[[str], Caller], people: dict[str, Person], database: Database, role: str,
        member_role: str | None = None, private: bool = False,
    ) -> None:  # fmt: skip
        self.sign_in, self.people, self.database = sign_in, people, database
        self.role, self.member_role, self.private = role, member_role, private
        self.lead, self.person = sign_in("administrator"), people[role]
        start = {"code": "LAN", "name": "Lantern", "start_day": "2027-03-08", "private": private, "lead_id": people["other"].id}
        self.lead("POST", "/projects", start)
        if member_role:
            self.lead("PUT", f"/projects/LAN/members/{self.person.id}", {"role": member_role})
        self.caller = sign_in(role)
        self.ready = state_id(self.lead, "Ready")
        self.tasks = written(self.lead, 200)
        self.lead("PATCH", "/projects/LAN", {"revision": 999, "time": True, "costs": True})
        self.caller("PATCH", "/session/preferences", {"ripple_days": 0})  # from then on they are written down

    def may(self, need: str) -> bool | None:
        """As ``expected``, for the person who walks."""
        return expected(need, self.role, self.member_role, self.private)

    def _job(self) -> str:
        """A job that the person asked for."""
        one = Job(new_id(), "csv preview", None, self.person.id, new_id(), {"code": "LAN"}, "waiting", "", 0, None, NOW, None)
        self.database.write(job_rows.insert, one, b"")
        return one.id

    def _sent_file(self) -> str:
        """A file attached to a mail."""
        file = MailFile(new_id(), "a.csv", "text/csv", b"Title")
        self.database.write(
            lambda cur: send_mail(cur, new_id(), NOW, to="a@corvane.example", subject="A", body="A", files=[file])
        )
        return file.id

    def words_for(self, method: str, path: str) -> dict[str, str]:
        """What a route asks for in its path and body, made for it."""
        words = {
            "code": "LAN",
            "form": "csv",
            "state_id": state_id(self.lead, "In review") if path.endswith("{state_id}") else self.ready,
        }
        if "person_id" in path:
            stranger = "other" if "people" in path else "member" if self.role == "guest" else "guest"
            words["person_id"] = self.people[stranger].id
        asked = path + str(BODIES.get((method, path))) + QUERIES.get((method, path), "")
        if "{plan_id}" in asked or "replan" in path or path.endswith("agreed"):
            self.lead.add("Late", start="2027-03-10", duration="1 d")
        if "{plan_id}" in asked:
            words["plan_id"] = self.lead("POST", "/projects/LAN/agreed", {"name": "Signed", "day": "2027-03-08"})[0]["id"]
        if "{job_id}" in path:
            words["job_id"] = self._job()
        if "{subscription_id}" in path:
            words["subscription_id"] = self.caller("POST", "/subscriptions", {"code": None})["id"]
        if any(name in asked for name in ("{task_id}", "{change_id}", *HANGING)):
            words |= {"task_id": self.tasks.pop(), "copy_id": str(uuid.uuid4()), "other_id": self.tasks.pop()}
        if "{change_id}" in asked:
            edit = {"tasks": [{"id": words["task_id"], "revision": 999, "fields": {"title": "B"}}]}
            words["change_id"] = self.lead("PATCH", "/projects/LAN/tasks", edit)["change"]
        if any(name in asked for name in HANGING):
            comments = self.may("comment")
            words |= hang(asked, self.caller if comments else self.lead, self.lead, words["task_id"], words["other_id"])
        if path.endswith(("/print", "/schedule.{form}")):
            self.lead.add("Printed", start="2027-03-10", duration="1 d")
            words["form"] = "pdf"
        if "{calendar_id}" in path:
            words["calendar_id"] = str(uuid.uuid4())
            if method == "DELETE":
                night = {"name": words["calendar_id"], "week": {"mon": [["20:00", "24:00"]]}}
                self.lead("PUT", f"/projects/LAN/calendars/{words['calendar_id']}", night)
        if "{sort}" in path:
            words |= {"sort": "marks", "definition_id": str(uuid.uuid4())}
            if "{definition_id}" in path:
                self.lead("POST", "/projects/LAN/defined/marks", {"id": words["definition_id"], "name": words["definition_id"]})
            if path.endswith("restore"):
                self.lead("DELETE", f"/projects/LAN/defined/marks/{words['definition_id']}")
        if "{blank_id}" in asked:
            words["blank_id"] = str(uuid.uuid4())
            self.lead("POST", "/projects/LAN/defined/blanks", {"id": words["blank_id"], "name": words["blank_id"]})
        if path.endswith("/join"):
            words["state_id"] = str(uuid.uuid4())
            step = {"id": words["state_id"], "first": "Waiting", "second": "Picked"}
            self.lead("POST", f"/projects/LAN/states/{self.ready}/steps", step)
        if "/portfolio" in path or "/parts" in path:
            words |= portfolio_of(path, self.lead, self.database, self.person)
        if "{team_id}" in path:
            words["team_id"] = str(uuid.uuid4())
            self.lead("POST", "/teams", {"id": words["team_id"], "name": words["team_id"]})
        if path.startswith(("/api/timer", "/api/time-sheet/")):
            own_hours(path, self.lead, self.caller, self.sign_in("other"), self.person)
            words["other_person"] = self.people["other"].id
        if "{goal_id}" in path or "{note_id}" in path:
            words |= own_goal(path, self.lead, self.person)
        if "{mail_file_id}" in path:
            words["mail_file_id"] = self._sent_file()
        if "{dashboard_id}" in path:
            words |= own_dashboard(self.caller)
        if "/reports/{number}" in path:
            words |= {
                "number": str(self.lead("POST", "/projects/LAN/reports", {"texts": {"stands": "Well"}})["number"]),
                "kind": "md",
            }
        if "/invoices" in path:
            words["kind"] = "pdf"
            hours = {"task_id": self.tasks.pop(), "day": "2027-03-16", "minutes": 1}
            self.lead("POST", "/projects/LAN/time", {"entries": [hours]})
            if "{invoice_id}" in path:
                words["invoice_id"] = str(uuid.uuid4())
                sheet = {"id": words["invoice_id"], "client": "City", "first": "2027-03-16", "last": "2027-03-16"}
                self.lead("POST", "/projects/LAN/invoices", sheet)
            if path.endswith("/cancel"):
                frozen = {"number": words["invoice_id"], "issued": "2027-03-16"}
                self.lead("POST", f"/projects/LAN/invoices/{words['invoice_id']}/freeze", frozen)
        if "{expense_id}" in asked:
            words["expense_id"] = str(uuid.uuid4())
            edits = self.may("edit")
            expense = {"id": words["expense_id"], "task_id": self.tasks.pop(), "day": "2027-03-16", "amount": "5"}
            (self.caller if edits else self.lead)("POST", "/projects/LAN/expenses", {"expenses": [expense]})
        if "{entry_id}" in asked:
            words["entry_id"] = str(uuid.uuid4())
            entry = {"id": words["entry_id"], "task_id": self.tasks.pop(), "person_id": self.person.id, "day": "2027-03-16",
                     "minutes": 5}  # fmt: skip
            self.lead("POST", "/projects/LAN/time", {"entries": [entry]})
        if path.endswith("/rates/table"):
            words |= {"self_name": self.person.name, "crew_name": "Crew of LAN"}
            if "{code}" in path:
                self.lead("POST", "/projects/LAN/resources", {"name": "Crew of LAN"})
        if path == "/api/absences/table":
            words["self_mail"] = self.person.email
        if "{self_id}" in asked or "{absence_id}" in path:
            words |= {"self_id": self.person.id, "absence_id": str(uuid.uuid4())}
            if "{absence_id}" in path and self.role != "guest":
                away = {**filled(BODIES["POST", "/api/absences"], words), "id": words["absence_id"]}
                self.caller("POST", "/absences", away)
        if path.endswith(("/level", "/bookings/length")):
            self.lead("PATCH", "/projects/LAN", {"revision": 999, "hours": True})
        if "{crew_id}" in asked:
            words["crew_id"] = str(uuid.uuid4())
            self.lead("POST", "/projects/LAN/resources", {"id": words["crew_id"], "name": words["crew_id"]})
        if "{resource_id}" in path:
            words["resource_id"] = str(uuid.uuid4())
            where = "/projects/LAN/resources" if "{code}" in path else "/resources"
            self.lead("POST", where, {"id": words["resource_id"], "name": words["resource_id"]})
        if path == "/api/sheets/{sheet_id}":
            words["sheet_id"] = str(uuid.uuid4())
            self.caller("POST", "/sheets", {"id": words["sheet_id"], "name": "Mine", "view": {"lens": "all_work"}})
        elif "{sheet_id}" in path:
            words["sheet_id"] = str(uuid.uuid4())
            sees = self.may("see")
            sheet = {"id": words["sheet_id"], "name": "Mine", "view": {"lens": "outline"}}
            (self.caller if sees else self.lead)("POST", "/projects/LAN/sheets", sheet)
        if "{draft_id}" in path:
            edits = self.may("edit")
            words["draft_id"] = draft_of(
                self.caller if edits else self.lead, self.lead.add("A", start="2027-03-10", duration="1 d")
            )
        return words
