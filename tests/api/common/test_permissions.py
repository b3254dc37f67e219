"""Every route with every role: nobody gets further than the route says."""

from __future__ import annotations

import uuid
from typing import Any

import pytest
from fastapi.routing import APIRoute

from rhodonite.core.people.access import may_in_project, project_role
from rhodonite.core.people.model import Person
from rhodonite.store.common.database import Database
from tests.conftest import ROLES

from .routes import APP, HANGING, OPEN, STREAMS, Walk, call, expected, routes


def test_every_route_says_what_it_needs() -> None:
    assert len(routes()) > 35
    assert all(
        isinstance(route, APIRoute)
        for route in APP.routes
        if getattr(route, "include_in_schema", False) and "/api/" in route.path
    )  # type: ignore[attr-defined]


MEMBER_ROLES = (None, "viewer", "commenter", "contributor", "lead")
CASES = [(role, member, private) for role in ROLES for member in MEMBER_ROLES for private in (False, True)]


IN_PROJECT = {"see", "comment", "edit", "see_costs", "manage", "at_work"}


def one_of_each() -> list[tuple[str, str | None, bool, frozenset[str]]]:
    """One way to come by each role in a project, which walks the routes of projects, and one by each role in the
    organisation, which walks the others: how the two meet is for ``test_every_role_comes_to_its_role_in_the_project``."""
    found: dict[tuple[str, str | None, bool], set[str]] = {}
    for needs in (IN_PROJECT, {"person", "see_people", "create_project", "plan_people", "see_rates", "administer", "nobody"}):
        seen: set[str | None] = set()
        for role, member, private in sorted(CASES, key=lambda case: case[0] == "administrator"):
            has = project_role(role, member, private) if needs is IN_PROJECT else role
            if has not in seen:
                seen.add(has)
                found.setdefault((role, member, private), set()).update(needs)
    return [(*case, frozenset(needs)) for case, needs in found.items()]


@pytest.mark.parametrize(("organisation_role", "member_role", "private"), CASES)
def test_every_role_comes_to_its_role_in_the_project(
    organisation_role: str, member_role: str | None, private: bool, sign_in: Any, people: dict[str, Person]
) -> None:
    lead = sign_in("administrator")
    start = {"code": "LAN", "name": "Lantern", "start_day": "2027-03-08", "private": private, "lead_id": people["other"].id}
    lead("POST", "/projects", start)
    task = lead.add("A")
    if member_role:
        lead("PUT", f"/projects/LAN/members/{people[organisation_role].id}", {"role": member_role})
    words = {"code": "LAN", "task_id": task["id"]}
    for need, method, path in (
        ("see", "GET", "/api/projects/{code}/tasks"),
        ("comment", "POST", "/api/tasks/{task_id}/comments"),
        ("edit", "PATCH", "/api/projects/{code}/tasks"),
        ("manage", "PATCH", "/api/projects/{code}"),
    ):
        wanted = expected(need, organisation_role, member_role, private)
        status = call(sign_in(organisation_role), method, path, words)
        assert status < 400 if wanted else status == (404 if wanted is None else 403), (need, status)


@pytest.mark.parametrize(("organisation_role", "member_role", "private", "walked"), one_of_each())
def test_routes_keep_to_what_they_need(
    organisation_role: str,
    member_role: str | None,
    private: bool,
    walked: frozenset[str],
    sign_in: Any,
    people: dict[str, Person],
    database: Database,
) -> None:
    walk = Walk(sign_in, people, database, organisation_role, member_role, private)
    for method, path, need in routes():
        if path in OPEN or path in STREAMS or need not in walked:
            continue
        words = walk.words_for(method, path)
        status = call(walk.caller, method, path, words)
        wanted = walk.may(need)
        where = f"{method} {path} needs {need}: {status} for {organisation_role}, {member_role}, private {private}"
        if path == "/api/lines":  # it needs the right to edit the project that the line names
            may = may_in_project(project_role(organisation_role, member_role, private), "edit")
            assert status == (201 if may else 422), where
        elif path == "/api/tasks/{task_id}/project":  # it needs the right to see the task as well
            sees = walk.may("see")
            assert status == (404 if not sees else 201 if wanted else 403), where
        elif wanted:
            assert status < 400, where
        else:
            assert status == (404 if wanted is None else 403), where


def test_without_a_session_only_the_door_opens(sign_in: Any) -> None:
    nobody = sign_in("nobody")
    words = {
        "code": "LAN",
        "task_id": "x",
        "state_id": "x",
        "person_id": "x",
        "change_id": str(uuid.uuid4()),
        "subscription_id": "x",
        "token": "x",
        "plan_id": "x",
        "draft_id": "x",
        "calendar_id": str(uuid.uuid4()),
        "form": "pdf",
        "sort": "marks",
        "definition_id": "x",
        "sheet_id": "x",
        "team_id": "x",
        "absence_id": "x",
        "resource_id": "x",
        "self_id": "x",
        "entry_id": "x",
        "expense_id": "x",
        "invoice_id": "x",
        "mail_file_id": "x",
        "part_id": "x",
        "kind": "pdf",
        "other_person": "x",
        **{name.strip("{}"): "x" for name in HANGING},
    }
    for method, path, need in routes():
        status = call(nobody, method, path, words)
        if need == "nobody":
            assert status != 401 or (method, path) == ("POST", "/api/session"), (method, path)
        else:
            assert status == 401, (method, path)
