"""What routes depend on: the database, the clock, and the person who asks."""

from __future__ import annotations

import uuid
from collections.abc import Callable
from typing import Annotated, Any, TypeVar
from urllib.parse import urlsplit

from fastapi import Depends, Header, Query, Request

from ..core.errors import RuleError
from ..services import people
from ..services.context import Actor, Clock, Consent, Forbidden, new_id
from ..store.database import Database
from .problems import NotSignedIn

COOKIE = "rhodonite_session"
CLIENT_HEADER = "Rhodonite-Client"
CHANGE_HEADER = "Rhodonite-Change"
RIPPLE_HEADER = "Rhodonite-Ripple"
Result = TypeVar("Result")


def needs(what: str) -> dict[str, Any]:
    """Say in OpenAPI which role a route needs; a test walks all routes with all roles by this.

    ``nobody``: no session. ``person``: any session. ``see``, ``comment``, ``edit``, ``manage``: that action in the
    project. ``see_people``, ``create_project``, ``administer``: that action in the organisation.
    """
    return {"x-needs": what}


class Use:
    """One request: runs services for the person who asks."""

    def __init__(self, database: Database, actor: Actor, token: str) -> None:
        self.database = database
        self.actor = actor
        self.token = token

    def read(self, service: Callable[..., Result], *args: Any, **kwargs: Any) -> Result:
        """Run a service that only reads."""
        return self.database.read(service, self.actor, *args, **kwargs)

    def write(self, service: Callable[..., Result], *args: Any, **kwargs: Any) -> Result:
        """Run a service that writes, in one transaction."""
        return self.database.write(service, self.actor, *args, **kwargs)


async def get_database(request: Request) -> Database:
    """The database of this process."""
    return request.app.state.database  # type: ignore[no-any-return]


async def get_clock(request: Request) -> Clock:
    """The clock of this process."""
    return request.app.state.clock  # type: ignore[no-any-return]


def base_url(request: Request) -> str:
    """The address under which people open Rhodonite."""
    return request.app.state.settings.base_url or str(request.base_url).rstrip("/")


async def check_origin(request: Request) -> None:
    """Refuse a change that did not come from Rhodonite's own pages."""
    if request.method in {"GET", "HEAD", "OPTIONS"}:
        return
    origin = request.headers.get("origin")
    foreign = origin is not None and urlsplit(origin).netloc != urlsplit(base_url(request)).netloc
    if CLIENT_HEADER.lower() not in request.headers or foreign:
        raise Forbidden(f"Changes need the header {CLIENT_HEADER} and come from Rhodonite's own address.")


def get_use(
    request: Request,
    database: Annotated[Database, Depends(get_database)],
    clock: Annotated[Clock, Depends(get_clock)],
    _: Annotated[None, Depends(check_origin)],
    rhodonite_change: Annotated[uuid.UUID | None, Header(description="UUID of this change, made by the client")] = None,
    rhodonite_ripple: Annotated[
        str | None,
        Header(
            description="“ask” or “ask 1.5”: refuse with 409 and the ripple where other tasks move (by more working days)."
            " “all 57”, “only 57”: apply what was shown at that revision, to all or to what was touched alone."
        ),
    ] = None,
    rhodonite_draft: Annotated[
        uuid.UUID | None, Header(description="The draft that the person is in: it is read, and changes to tasks go into it")
    ] = None,
    draft: Annotated[uuid.UUID | None, Query(description="As the header Rhodonite-Draft, for links to files")] = None,
) -> Use:
    """The signed-in person. Raises NotSignedIn where there is none."""
    token = request.cookies.get(COOKIE)
    person = database.read(people.person_of_session, clock, token) if token else None
    if person is None or token is None:
        raise NotSignedIn
    in_draft = rhodonite_draft or draft
    actor = Actor(
        person,
        clock,
        str(rhodonite_change or new_id()),
        read_consent(rhodonite_ripple),
        str(in_draft) if in_draft else None,
        base_url(request),
    )
    return Use(database, actor, token)


def read_consent(text: str | None) -> Consent | None:
    """Read the header. Raises RuleError where it says nothing known."""
    if not text:
        return None
    kind, _, number = text.strip().partition(" ")
    try:
        if kind == "ask":
            return Consent("ask", days=float(number or 0))
        if kind in {"all", "only"}:
            return Consent(kind, revision=int(number))  # type: ignore[arg-type]
    except ValueError:
        pass
    raise RuleError(f"The header {RIPPLE_HEADER} says “ask”, “ask 1.5”, “all 57” or “only 57”.", RIPPLE_HEADER)


Using = Annotated[Use, Depends(get_use)]
