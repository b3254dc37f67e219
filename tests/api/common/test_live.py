"""What live updates tell, and to whom."""

from __future__ import annotations

import asyncio
import json
from collections.abc import Callable
from datetime import timedelta
from typing import Any

import pytest

from rhodonite.core.people.model import Person
from rhodonite.server.live import LiveHub
from rhodonite.services.common.context import Actor, Clock
from rhodonite.services.people.people import _open_session, hash_token
from rhodonite.services.tasks.projects import visible_projects
from rhodonite.services.tasks.seen import read_seen
from rhodonite.store.common.database import Database
from rhodonite.store.people import people as people_rows
from tests.conftest import Caller, run_apart

ROLES = ["manager", "member", "administrator", "guest"]


@pytest.fixture
def many(ines: Caller, sign_in: Callable[[str], Caller], people: dict[str, Person]) -> None:
    """Projects of every sort: open, private, archived, with and without members."""
    admin = sign_in("administrator")
    for code, private in (("OPN", False), ("PRI", True), ("MEM", True), ("OLD", False)):
        admin("POST", "/projects", {"code": code, "name": code, "start_day": "2027-03-08", "private": private})
    for role in ("member", "guest"):
        admin("PUT", f"/projects/MEM/members/{people[role].id}", {"role": "viewer"})
    revision = admin("GET", "/projects/OLD")["revision"]
    admin("PATCH", "/projects/OLD", {"revision": revision, "archived": True})


@pytest.mark.parametrize("role", ROLES)
def test_what_is_known_of_access_is_what_the_lists_of_projects_show(
    many: None, database: Database, clock: Clock, people: dict[str, Person], role: str
) -> None:
    token = database.write(_open_session, clock, people[role]).token
    shown = {project.id for project, _ in database.read(visible_projects, Actor(people[role], clock))}
    assert database.read(read_seen, clock.utc()).by(hash_token(token), clock.utc()) == shown


def test_a_session_that_ended_or_never_was_sees_nothing(database: Database, clock: Clock, people: dict[str, Person]) -> None:
    token = database.write(_open_session, clock, people["member"]).token
    seen = database.read(read_seen, clock.utc())
    assert seen.by(hash_token("another"), clock.utc()) is None
    assert seen.by(hash_token(token), clock.utc() + timedelta(days=400)) is None
    database.write(people_rows.update_person, people["member"].id, {"active": False})
    assert database.read(read_seen, clock.utc()).by(hash_token(token), clock.utc()) is None


def told(events: bytes) -> dict[str, Any]:
    """By the name of an event what it says; the one without a name is that of revisions."""
    found = {}
    for one in events.decode().strip().split("\n\n"):
        lines = dict(line.split(": ", 1) for line in one.split("\n") if not line.startswith(":"))
        if lines:
            found[lines.get("event", "revisions")] = json.loads(lines["data"])
    return found


def stream_of(database: Database, clock: Clock, person: Person, *acts: Callable[[], Any]) -> list[dict[str, Any]]:
    """What one person is told at first, and after each act."""
    token = database.write(_open_session, clock, person).token

    async def follow() -> list[dict[str, Any]]:
        hub = LiveHub(database, clock)
        stream = hub.follow(lambda: hub.visible(hash_token(token)), person.id)
        found = [told(await anext(stream))]
        for act in acts:
            await asyncio.to_thread(act)
            await hub._look()
            found.append(told(await anext(stream)))
        await stream.aclose()
        assert hub.clients == 0
        return found

    return run_apart(asyncio.wait_for(follow(), 20))


def test_a_change_to_tasks_tells_the_revision_and_one_to_settings_both(
    ines: Caller, database: Database, clock: Clock, people: dict[str, Person]
) -> None:
    first, second, third = stream_of(
        database, clock, people["manager"],
        lambda: ines.add("News"),
        lambda: ines("POST", "/projects/LAN/states", {"name": "Curing", "state_class": "active"}),
    )  # fmt: skip
    assert set(first) == {"revisions", "settings", "notices"}
    assert second == {"revisions": {"LAN": first["revisions"]["LAN"] + 1}}
    assert third == {"revisions": {"LAN": second["revisions"]["LAN"] + 1}, "settings": {"LAN": second["revisions"]["LAN"] + 1}}


@pytest.mark.parametrize(("seen_by", "told_of"), [("project", True), ("private", False)])
def test_a_kept_sheet_is_told_of_where_others_see_it(
    ines: Caller, database: Database, clock: Clock, people: dict[str, Person], seen_by: str, told_of: bool
) -> None:
    view = {"lens": "outline", "query": ""}
    sheet = {"id": "01a2141b-3c2b-79cf-8d67-6d48b0f6d2b8", "name": "Glazing", "seen_by": seen_by, "people": [], "view": view}
    _, second = stream_of(database, clock, people["manager"], lambda: ines("POST", "/projects/LAN/sheets", sheet))
    assert ("settings" in second) is told_of


def test_somebody_is_told_of_their_notices_and_nobody_of_others(
    ines: Caller, database: Database, clock: Clock, people: dict[str, Person]
) -> None:
    row = ines.add("Cast bars")
    give = lambda: ines.edit(ines.rows()["Cast bars"], owner_id=people["member"].id)  # noqa: E731
    first, second = stream_of(database, clock, people["member"], give)
    assert (first["notices"], second["notices"]) == (0, 1)
    assert row["owner_id"] is None
    _, other = stream_of(database, clock, people["administrator"], lambda: ines.edit(ines.rows()["Cast bars"], percent=20))
    assert "notices" not in other


def test_who_comes_to_see_a_project_is_told_of_it(
    many: None, sign_in: Callable[[str], Caller], database: Database, clock: Clock, people: dict[str, Person]
) -> None:
    admin = sign_in("administrator")
    let_in = lambda: admin("PUT", f"/projects/PRI/members/{people['guest'].id}", {"role": "viewer"})  # noqa: E731
    first, second = stream_of(database, clock, people["guest"], let_in)
    assert set(first["revisions"]) == {"MEM"}
    assert set(second["revisions"]) == {"PRI"}


def test_a_change_of_capacity_is_told_to_whoever_looks_at_the_load(
    ines: Caller, database: Database, clock: Clock, people: dict[str, Person]
) -> None:
    change = lambda: ines("PATCH", f"/people/{people['member'].id}/capacity", {"share": 70})  # noqa: E731
    first, second, third = stream_of(database, clock, people["manager"], change, lambda: ines.add("News"))
    assert ("capacity" in first, "capacity" in second, "capacity" in third) == (False, True, False)
