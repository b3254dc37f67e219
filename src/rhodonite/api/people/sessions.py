"""Signing in and out, passwords, invitations."""

from __future__ import annotations

from dataclasses import asdict
from typing import Annotated, Any

from fastapi import Depends, Path, Request, Response
from pydantic import BaseModel, Field

from ...core.common.errors import RuleError
from ...core.people.model import Person
from ...core.tasks.model import KIND_PLURALS, KINDS, PRIORITIES, PRIORITY_WORDS, STATE_CLASSES
from ...services.common.context import Clock
from ...services.people import people
from ...store.common.database import Database
from ...store.people import people as people_rows
from ..common.inputs import Changes, Id, Name, make_router
from ..common.problems import problem
from ..common.use import COOKIE, Using, check_origin, get_clock, get_database, needs

Amount = Annotated[float, Field(allow_inf_nan=False)]
Token = Annotated[str, Path(max_length=200)]
router = make_router("session")
Db = Annotated[Database, Depends(get_database)]
Now = Annotated[Clock, Depends(get_clock)]
Own = Annotated[None, Depends(check_origin)]


class PersonOut(BaseModel):
    """A person of the organisation."""

    id: str
    name: str
    short: str
    email: str
    role: str
    title: str
    colour: int
    active: bool
    can_sign_in: bool

    @classmethod
    def of(cls, person: Person) -> PersonOut:
        return cls(
            id=person.id, name=person.name, short=person.short, email=person.email, role=person.role, title=person.title,
            colour=person.colour, active=person.active, can_sign_in=person.can_sign_in,
        )  # fmt: skip


class WordOut(BaseModel):
    """A word of the vocabulary, and the key under which the API knows it."""

    id: str
    name: str
    plural: str


class VocabularyOut(BaseModel):
    """What every project knows, in the order in which it is offered."""

    kinds: list[WordOut]
    classes: list[str] = Field(description="Classes of states, from the first to the last")
    priorities: list[WordOut] = Field(description="From the most pressing on")


VOCABULARY = VocabularyOut(
    kinds=[WordOut(id=one, name=one, plural=KIND_PLURALS[one]) for one in KINDS],
    classes=list(STATE_CLASSES),
    priorities=[WordOut(id=one, name=PRIORITY_WORDS[one], plural=PRIORITY_WORDS[one]) for one in PRIORITIES],
)


class SessionOut(BaseModel):
    """Who is signed in, and the words of the work. In the demo, also as whom one may enter."""

    organisation: str
    person: PersonOut | None
    demo: list[PersonOut]
    now: str = Field(description="Local time of the organisation, ISO 8601")
    vocabulary: VocabularyOut


class PreferencesEdit(Changes):
    """What a person sets for themselves; what is left out stays."""

    ripple_days: Amount | None = Field(None, description="Working days that others may move before a ripple is shown")
    longest_days: Amount | None = Field(None, description="Working days beyond which a task is called long")
    digest_hour: Amount | None = Field(None, description="Hour of the day at which the daily digest of notices goes out")
    home: Name | None = Field(
        None, description="Where Rhodonite opens: desk, work, goals, reports, p/CODE, reports/dashboard/ID; empty: by one’s role"
    )
    mail: dict[Name, Name] | None = Field(
        None,
        max_length=40,
        description="By kind of notice whether it goes out by mail: none, daily or at_once; kinds left out stay",
    )


class PreferencesOut(BaseModel):
    """What a person has set for themselves, or the usual values."""

    ripple_days: float
    longest_days: float
    digest_hour: float
    home: str
    mail: dict[str, str]


class SignIn(BaseModel):
    """E-mail and password."""

    email: str = Field(max_length=254, examples=["ines.oduya@corvane.example"])
    password: str = Field(max_length=200)


class EnterDemo(BaseModel):
    """As whom to enter the demo."""

    person_id: Id


class NewPassword(BaseModel):
    """A new password; the present one proves who asks."""

    current: str = Field(max_length=200)
    new: str = Field(max_length=200)


class Accept(BaseModel):
    """The password that an invited person chooses."""

    password: str = Field(max_length=200)


class InvitationOut(BaseModel):
    """For whom an invitation is."""

    name: str
    email: str
    organisation: str


BROWSER = "rhodonite_browser"
"""The cookie by which a browser is known in which somebody has signed in before. It opens nothing."""
BROWSER_LASTS = 400 * 24 * 3600


def _set_cookie(request: Request, response: Response, signed_in: people.SignedIn) -> None:
    secure = request.app.state.settings.cookies_are_secure
    flags: dict[str, Any] = {"httponly": True, "samesite": "lax", "secure": secure, "path": "/"}
    response.set_cookie(
        COOKIE,
        signed_in.token,
        max_age=int(people.SESSION_LASTS.total_seconds()),
        **flags,
    )
    response.set_cookie(BROWSER, signed_in.browser, max_age=BROWSER_LASTS, **flags)


def _address(request: Request) -> str:
    return request.client.host if request.client else "unknown"


def _browser(request: Request) -> str | None:
    return (request.cookies.get(BROWSER) or "")[:200] or None


@router.get("/session", openapi_extra=needs("nobody"))
def read_session(request: Request, database: Db, clock: Now) -> SessionOut:
    """Who is signed in."""
    token = request.cookies.get(COOKIE)
    person = database.read(people.person_of_session, clock, token) if token else None
    organisation = database.read(people_rows.organisation)
    demo = [] if person else database.read(people.demo_people)
    return SessionOut(
        organisation=organisation[0] if organisation else "Rhodonite",
        person=PersonOut.of(person) if person else None,
        demo=[PersonOut.of(one) for one in demo],
        now=clock.now().isoformat(),
        vocabulary=VOCABULARY,
    )


@router.post("/session", openapi_extra=needs("nobody"), response_model=PersonOut)
def sign_in(body: SignIn, request: Request, response: Response, database: Db, clock: Now, _: Own) -> PersonOut | Response:
    """Sign in with e-mail and password."""
    browser = _browser(request)
    attempt = database.write(people.note_attempt, clock, body.email, _address(request), browser)
    signed_in = database.write(people.sign_in, clock, attempt, body.password, browser)
    if signed_in is None:
        return problem(401, "wrong-password", "E-mail and password do not match. Check both, or ask for a new invitation.")
    _set_cookie(request, response, signed_in)
    return PersonOut.of(signed_in.person)


@router.post("/session/demo", openapi_extra=needs("nobody"))
def enter_demo(body: EnterDemo, request: Request, response: Response, database: Db, clock: Now, _: Own) -> PersonOut:
    """Enter the demo as one of the people it offers."""
    signed_in = database.write(people.enter_demo, clock, body.person_id)
    _set_cookie(request, response, signed_in)
    return PersonOut.of(signed_in.person)


@router.delete("/session", openapi_extra=needs("nobody"), status_code=204)
def sign_out(request: Request, response: Response, database: Db, _: Own) -> None:
    """Sign out."""
    if token := request.cookies.get(COOKIE):
        database.write(people.sign_out, token)
    response.delete_cookie(COOKIE, path="/")


@router.put("/session/password", openapi_extra=needs("person"), status_code=204)
def change_password(body: NewPassword, request: Request, use: Using) -> None:
    """Change one's own password. Other sessions end."""
    given = (body.current, body.new, _address(request), _browser(request))
    if not use.write(people.change_password, use.token, *given):
        raise RuleError("That is not your present password.", "current")


@router.get("/session/preferences", openapi_extra=needs("person"))
def read_preferences(use: Using) -> PreferencesOut:
    """One's own preferences."""
    return PreferencesOut(**asdict(use.read(people.read_preferences)))


@router.patch("/session/preferences", openapi_extra=needs("person"))
def set_preferences(body: PreferencesEdit, use: Using) -> PreferencesOut:
    """Change one's own preferences."""
    return PreferencesOut(**asdict(use.write(people.set_preferences, body.sent)))


@router.get("/invitations/{token}", openapi_extra=needs("nobody"))
def read_invitation(token: Token, database: Db, clock: Now) -> InvitationOut:
    """For whom an invitation is."""
    person = database.write(people.read_invitation, clock, token)
    organisation = database.read(people_rows.organisation)
    return InvitationOut(name=person.name, email=person.email, organisation=organisation[0] if organisation else "Rhodonite")


@router.post("/invitations/{token}", openapi_extra=needs("nobody"))
def accept_invitation(
    token: Token, body: Accept, request: Request, response: Response, database: Db, clock: Now, _: Own
) -> PersonOut:
    """Choose a password by an invitation, and sign in."""
    signed_in = database.write(people.accept_invitation, clock, token, body.password)
    _set_cookie(request, response, signed_in)
    return PersonOut.of(signed_in.person)
