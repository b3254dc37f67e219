"""What routes depend on: the database, the clock, and the person who asks."""

from __future__ import annotations

import re
import uuid
from collections.abc import Callable
from typing import Annotated, Any, TypeVar
from urllib.parse import unquote, urlsplit

from fastapi import Depends, Header, Query, Request

from ...core.board.limits import LONGEST_REASON
from ...core.common.errors import Forbidden, RuleError
from ...services.common.context import Actor, Clock, Consent, new_id
from ...services.people import people
from ...store.common.database import Database
from .problems import NotSignedIn

COOKIE = "rhodonite_session"
CLIENT_HEADER = "Rhodonite-Client"
RIPPLE_HEADER = "Rhodonite-Ripple"
Result = TypeVar("Result")
ROUND_A_FILE = 3 << 20
"""Bytes of what is sent beside a file."""


def needs(what: str, body: int | None = None, file: int | None = None) -> dict[str, Any]:
    """Say in OpenAPI which role a route needs; a test walks all routes with all roles by this.

    Args:
        body: bytes that its body may have, where that is not the usual; 0: as much as an attachment.
        file: bytes of the file that it takes; what else stands in its body comes on top of that.

    ``nobody``: no session. ``person``: any session. ``see``, ``comment``, ``edit``, ``see_costs``, ``manage``: that action in the
    project. ``at_work``: contributors on any task, whoever sees the project on those that they own, help with or are booked
    on. ``see_people``, ``create_project``, ``plan_people``, ``see_rates``, ``administer``: that action in the organisation.
    """
    if file is not None:
        return {"x-needs": what, "x-body": file + ROUND_A_FILE, "x-file": file}
    return {"x-needs": what} if body is None else {"x-needs": what, "x-body": body}


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
    """The address under which the person who asks has opened Rhodonite: for what they alone are shown."""
    settings = request.app.state.settings
    try:
        return settings.base_url or str(request.base_url).rstrip("/")
    except ValueError:  # a Host that is none
        return str(settings.address)


def _place(address: str) -> str | None:
    """Host and port of an address; None where it is none."""
    try:
        parts = urlsplit(address)
        return parts.netloc if parts.port != 0 and parts.scheme in {"http", "https"} and parts.username is None else None
    except ValueError:
        return None


async def check_origin(request: Request) -> None:
    """Refuse a change that did not come from Rhodonite's own pages."""
    if request.method in {"GET", "HEAD", "OPTIONS"}:
        return
    origin = request.headers.get("origin")
    settings = request.app.state.settings
    own = _place(settings.base_url) if settings.base_url else request.headers.get("host")
    foreign = origin is not None and (_place(origin) is None or _place(origin) != own)
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
            " “all 57”, “only 57”: apply what was shown at that revision, to all or to what was touched alone. “alone 57”:"
            " refuse with what “only” does, in words."
        ),
    ] = None,
    rhodonite_draft: Annotated[
        uuid.UUID | None, Header(description="The draft that the person is in: it is read, and changes to tasks go into it")
    ] = None,
    rhodonite_reason: Annotated[
        str | None, Header(max_length=4000, description="Why a limit of the board is passed, percent-encoded as in an address")
    ] = None,
    draft: Annotated[uuid.UUID | None, Query(description="As the header Rhodonite-Draft, for links to files")] = None,
) -> Use:
    """The signed-in person. Raises NotSignedIn where there is none."""
    token = request.cookies.get(COOKIE)
    person = database.look(people.person_of_session, clock, token) if token else None
    if person is None or token is None:
        raise NotSignedIn
    in_draft = rhodonite_draft or draft
    actor = Actor(
        person,
        clock,
        str(rhodonite_change or new_id()),
        read_consent(rhodonite_ripple),
        str(in_draft) if in_draft else None,
        unquote(rhodonite_reason or "").strip()[:LONGEST_REASON],
        request.app.state.settings.address,
    )
    return Use(database, actor, token)


def read_consent(text: str | None) -> Consent | None:
    """Read the header. Raises RuleError where it says nothing known."""
    if not text:
        return None
    kind, _, number = text.strip().partition(" ")
    if kind == "ask" and (not number or re.fullmatch(r"\d{1,4}(\.\d{1,4})?", number)):
        return Consent("ask", days=float(number or 0))
    if kind in {"all", "only", "alone"} and re.fullmatch(r"\d{1,12}", number):
        return Consent(kind, revision=int(number))  # type: ignore[arg-type]
    raise RuleError(f"The header {RIPPLE_HEADER} says “ask”, “ask 1.5”, “all 57”, “only 57” or “alone 57”.", RIPPLE_HEADER)


Using = Annotated[Use, Depends(get_use)]
