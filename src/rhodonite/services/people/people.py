"""Signing in and out, passwords, invitations, and the people of the organisation."""

from __future__ import annotations

import hashlib
import secrets
from collections.abc import Sequence
from dataclasses import asdict, dataclass
from datetime import timedelta
from functools import cache
from typing import Any

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError
from pymysql.cursors import Cursor

from ...core.common.errors import Forbidden, Missing, RuleError
from ...core.people.access import ORGANISATION_ROLES
from ...core.people.model import Person
from ...core.people.preferences import Preferences, with_changes
from ...standins.dispatch import send_mail
from ...store.common.database import from_json
from ...store.common.journal import Entry
from ...store.people import people as people_rows
from ..common.context import Actor, AlreadyDone, Clock, new_id, writing

SESSION_LASTS = timedelta(days=30)
INVITATION_LASTS = timedelta(days=14)
SHORTEST_PASSWORD = 10
ATTEMPTS_WITHIN = timedelta(minutes=15)
# Of sign-ins that failed within that time: for one e-mail from one address, from one address, and for one e-mail from
# anywhere. The last is high, so that a stranger's guesses do not lock out whose account it is; a known browser is let
# in whatever others guess. Many people may share an address: beyond its number wrong passwords are turned away there,
# right ones of e-mails that nobody guesses are not, until so many have failed that nothing is looked at any more.
ATTEMPTS_BY_BOTH = 6
ATTEMPTS_BY_ADDRESS = 40
MOST_BY_ADDRESS = 400
ATTEMPTS_BY_EMAIL = 100
ATTEMPTS_IN_KNOWN_BROWSER = 20
COLOURS = 12

_hasher = PasswordHasher()


@cache
def _nobodys_hash() -> str:
    """Verified where an e-mail is not known, so that the time taken does not tell which addresses are."""
    return _hasher.hash(secrets.token_urlsafe(16))


class TooManyAttempts(Exception):
    """Sign-in failed too often of late."""

    sentence = "Too many sign-ins failed. Wait a quarter of an hour, then try again."


@dataclass(frozen=True, slots=True)
class SignedIn:
    """A session that was opened: the token for its cookie, whose it is, and the token by which the browser is known."""

    token: str
    person: Person
    browser: str


def hash_token(token: str) -> bytes:
    """What is kept of a token: its SHA-256, so that a copy of the tables opens nothing."""
    return hashlib.sha256(token.encode()).digest()


def check_password(password: str) -> str:
    """Hash a new password. Raises RuleError where it is too short or too long."""
    if not SHORTEST_PASSWORD <= len(password) <= 200:
        raise RuleError(
            f"A password has {SHORTEST_PASSWORD} to 200 characters. A few words in a row are easy to keep.", "password"
        )
    return _hasher.hash(password)


def _verify(stored: str | None, password: str) -> bool:
    nobodys = _nobodys_hash()  # asked for in either case, as making it takes time once
    try:
        return _hasher.verify(stored or nobodys, password) and stored is not None
    except (VerificationError, InvalidHashError):
        return False


@dataclass(frozen=True, slots=True)
class Attempt:
    """A sign-in that is about to be tried, and counted already.

    Attributes:
        known: True in a browser in which the person has signed in before.
        patience: False where a wrong password is one too many.
    """

    email: str
    address: str
    known: bool
    patience: bool


def note_attempt(cur: Cursor, clock: Clock, email: str, address: str, browser: str | None = None) -> Attempt:
    """Count a sign-in before its password is looked at, so that many at once are counted as well.

    Args:
        address: from which the request came.
        browser: the token of a browser in which somebody has signed in before.

    Raises:
        TooManyAttempts: too many failed within a quarter of an hour.
    """
    at, email = clock.utc(), email.strip().lower()
    found = people_rows.person_by_email(cur, email)
    known = bool(browser and found and people_rows.knows_browser(cur, hash_token(browser), found[0].id))
    failed = people_rows.count_attempts(cur, email, address, at - ATTEMPTS_WITHIN)
    if not known and _too_many(failed):
        raise TooManyAttempts
    if not known or failed.both <= ATTEMPTS_IN_KNOWN_BROWSER:  # who is known cannot fill the table either
        people_rows.insert_attempt(cur, email, address, at)
    patience = failed.both < ATTEMPTS_IN_KNOWN_BROWSER if known else failed.address < ATTEMPTS_BY_ADDRESS
    return Attempt(email, address, known, patience)


def sign_in(cur: Cursor, clock: Clock, attempt: Attempt, password: str, browser: str | None = None) -> SignedIn | None:
    """Open a session, or return None where the password is wrong.

    Raises:
        TooManyAttempts: it is wrong, and too many were of late.
    """
    found = people_rows.person_by_email(cur, attempt.email)
    if not _verify(found[1] if found else None, password) or found is None or not found[0].active:
        if not attempt.patience:
            raise TooManyAttempts
        return None
    people_rows.clear_attempts(cur, attempt.email, attempt.address, clock.utc() - timedelta(days=7))
    if found[1] is not None and _hasher.check_needs_rehash(found[1]):
        people_rows.update_person(cur, found[0].id, {"password_hash": _hasher.hash(password)})
    return _open_session(cur, clock, found[0], browser if attempt.known else None)


def _too_many(failed: people_rows.Attempts) -> bool:
    return failed.both >= ATTEMPTS_BY_BOTH or failed.address >= MOST_BY_ADDRESS or failed.email >= ATTEMPTS_BY_EMAIL


def _open_session(cur: Cursor, clock: Clock, person: Person, browser: str | None = None) -> SignedIn:
    token, browser = secrets.token_urlsafe(32), browser or secrets.token_urlsafe(32)
    people_rows.insert_session(cur, hash_token(token), person.id, clock.utc(), clock.utc() + SESSION_LASTS)
    people_rows.keep_browser(cur, hash_token(browser), person.id, clock.utc())
    return SignedIn(token, person, browser)


def demo_people(cur: Cursor) -> list[Person]:
    """In the demo, the first person of each role, as whom one may enter; otherwise nobody."""
    organisation = people_rows.organisation(cur)
    if organisation is None or not organisation[1]:
        return []
    people = [person for person in people_rows.people_by_age(cur) if person.active]
    first = {role: next((p for p in people if p.role == role), None) for role in ("manager", "member", "administrator", "guest")}
    return [person for person in first.values() if person]


def enter_demo(cur: Cursor, clock: Clock, person_id: str) -> SignedIn:
    """Open a session in the demo without a password, as one of the people it offers."""
    for person in demo_people(cur):
        if person.id == person_id:
            return _open_session(cur, clock, person)
    raise Forbidden("Only the demo lets one enter without a password. Sign in with e-mail and password.")


def person_of_session(cur: Cursor, clock: Clock, token: str) -> Person | None:
    """Whose session this is."""
    return people_rows.session_person(cur, hash_token(token), clock.utc())


def sign_out(cur: Cursor, token: str) -> None:
    """End a session."""
    people_rows.delete_session(cur, hash_token(token))


def change_password(
    cur: Cursor, actor: Actor, token: str, current: str, new: str, address: str, browser: str | None = None
) -> bool:
    """Set one's own password; every other session of the person ends, and other browsers are no longer known.

    Returns:
        False where the present password is wrong, which is noted.

    Raises:
        TooManyAttempts: it was wrong too often of late.
        RuleError: the new one is too short or too long.
    """
    at, key = actor.clock.utc(), f"present password of {actor.person.id}"
    if people_rows.count_attempts(cur, key, address, at - ATTEMPTS_WITHIN).email >= ATTEMPTS_BY_BOTH:
        raise TooManyAttempts
    stored = people_rows.password_hash(cur, actor.person.id)
    if stored is not None and not _verify(stored, current):
        people_rows.insert_attempt(cur, key, address, at)
        return False
    people_rows.update_person(cur, actor.person.id, {"password_hash": check_password(new)})
    people_rows.delete_sessions_of(cur, actor.person.id, hash_token(token))
    people_rows.forget_browsers(cur, actor.person.id, hash_token(browser) if browser else b"")
    return True


def list_people(cur: Cursor, actor: Actor) -> Sequence[Person]:
    """Everyone. A guest sees those who share a project with them."""
    people = people_rows.all_people(cur)
    if actor.person.role != "guest":
        return people
    known = people_rows.people_sharing_projects(cur, actor.person.id) | {actor.person.id}
    return [person for person in people if person.id in known]


def invite(cur: Cursor, actor: Actor, name: str, email: str, role: str, title: str) -> Person:
    """Add a person and send them a link by which they choose a password. Invited again, the older link ends.

    Raises:
        Forbidden: the actor is not an administrator.
        RuleError: no name, an unknown role, or the e-mail belongs to somebody who has signed in already.
    """
    actor.require("administer")
    name, email = " ".join(name.split()), email.strip().lower()
    if not name:
        raise RuleError("Write the person's name.", "name")
    _check_role(role)
    found = people_rows.person_by_email(cur, email)
    if found and found[1] is not None:
        raise RuleError(f"{found[0].name} has this e-mail already and can sign in.", "email")
    colour = sum(map(ord, email)) % COLOURS
    person = found[0] if found else Person(new_id(), name, email, role, title.strip(), colour, True)
    try:
        with writing(cur, actor, None, f"invited {person.name}"[:80]) as log:
            if not found:
                people_rows.insert_person(cur, person, None, actor.clock.utc())
                log.record("person", person.id, "created", None, {"name": name, "email": email, "role": role})
            _send_invitation(cur, actor, person)
    except AlreadyDone:
        pass
    return person


def _send_invitation(cur: Cursor, actor: Actor, person: Person) -> None:
    token, at = secrets.token_urlsafe(32), actor.clock.utc()
    people_rows.insert_invitation(cur, hash_token(token), person.id, actor.person.id, at, at + INVITATION_LASTS)
    organisation = people_rows.organisation(cur)
    where = organisation[0] if organisation else "Rhodonite"
    send_mail(
        cur,
        new_id(),
        at,
        to=person.email,
        subject=f"{actor.person.name} invites you to {where}",
        body=(
            f"Hello {person.name.split()[0]},\n\n{actor.person.name} invites you to plan and follow work at {where}.\n"
            f"Choose a password here; the link works for {INVITATION_LASTS.days} days:\n\n"
            f"{actor.address}/invitation/{token}\n"
        ),
    )


def read_invitation(cur: Cursor, clock: Clock, token: str) -> Person:
    """The person that an open invitation is for. Raises Missing where it was used, replaced or has ended."""
    person = people_rows.open_invitation(cur, hash_token(token), clock.utc())
    if person is None:
        raise Missing("invitation")
    return person


def accept_invitation(cur: Cursor, clock: Clock, token: str, password: str) -> SignedIn:
    """Choose a password by an invitation, and sign in."""
    person = read_invitation(cur, clock, token)
    people_rows.update_person(cur, person.id, {"password_hash": check_password(password)})
    people_rows.accept_invitation(cur, hash_token(token), clock.utc())
    return _open_session(cur, clock, person)


def edit_person(cur: Cursor, actor: Actor, person_id: str, fields: dict[str, object]) -> Person:
    """Change a person's name, title, role, or whether they may sign in.

    Raises:
        RuleError: an unknown role, or the organisation would be left without an administrator.
    """
    actor.require("administer")
    person = people_rows.lock_person(cur, person_id)
    if person is None:
        raise Missing("person")
    if "role" in fields:
        _check_role(str(fields["role"]))
    if "name" in fields and not str(fields["name"]).strip():
        raise RuleError("A person needs a name.", "name")
    leaves = fields.get("role", "administrator") != "administrator" or fields.get("active") is False
    if person.role == "administrator" and person.active and leaves and people_rows.count_administrators(cur) < 2:
        raise RuleError("Somebody has to administer the organisation. Make another person administrator first.", "role")
    changed = {name: value for name, value in fields.items() if getattr(person, name) != value}
    try:
        with writing(cur, actor, None, f"changed {person.name}"[:80]) as log:
            for name, value in changed.items():
                log.record("person", person.id, name, getattr(person, name), value)
            if changed:
                people_rows.update_person(cur, person_id, changed)
    except AlreadyDone:
        pass
    if changed.get("active") is False:
        people_rows.delete_sessions_of(cur, person_id)
    found = people_rows.person(cur, person_id)
    assert found is not None
    return found


def take_back(cur: Cursor, actor: Actor, person_id: str, entries: Sequence[Entry]) -> None:
    """Take back what a change did to a person, or to one's own preferences.

    Raises:
        RuleError: it was changed again since, or somebody was invited by it.
    """
    old = {entry.field: from_json(entry.old) for entry in entries}
    if "created" in old:
        raise RuleError("An invitation cannot be taken back. End the person's access instead.")
    if old.keys() <= asdict(Preferences()).keys() and person_id == actor.person.id:
        set_preferences(cur, actor, old)
        return
    actor.require("administer")
    person = people_rows.lock_person(cur, person_id)
    if person is None or any(getattr(person, entry.field, None) != from_json(entry.new) for entry in entries):
        raise RuleError("The person was changed again since, so this cannot be taken back. Change it by hand.")
    edit_person(cur, actor, person_id, old)


def read_preferences(cur: Cursor, actor: Actor) -> Preferences:
    """What the person has set for themselves."""
    return with_changes(Preferences(), people_rows.preferences(cur, actor.person.id))


def set_preferences(cur: Cursor, actor: Actor, changes: dict[str, Any]) -> Preferences:
    """Change one's own preferences. Raises RuleError for a value that cannot be."""
    people_rows.lock_person(cur, actor.person.id)
    before = read_preferences(cur, actor)
    after = with_changes(before, changes)
    try:
        with writing(cur, actor, None, "changed their preferences") as log:
            log.record_changes("person", actor.person.id, before, after, changes)
            people_rows.set_preferences(cur, actor.person.id, asdict(after))
    except AlreadyDone:
        pass
    return after


def _check_role(role: str) -> None:
    if role not in ORGANISATION_ROLES:
        raise RuleError(f"A role in the organisation is one of {', '.join(ORGANISATION_ROLES)}.", "role")


def create_administrator(cur: Cursor, clock: Clock, name: str, email: str, password: str, role: str) -> Person:
    """Add a person from the command line: the first administrator, before anybody can invite.

    Raises:
        RuleError: the e-mail is taken, or the password too short.
    """
    _check_role(role)
    email = email.strip().lower()
    if people_rows.person_by_email(cur, email):
        raise RuleError(f"Somebody with the e-mail {email} is there already.", "email")
    if people_rows.organisation(cur) is None:
        people_rows.set_organisation(cur, "Our organisation", False, clock.utc())
    person = Person(new_id(), " ".join(name.split()), email, role, "", sum(map(ord, email)) % COLOURS, True)
    people_rows.insert_person(cur, person, check_password(password), clock.utc())
    return person
