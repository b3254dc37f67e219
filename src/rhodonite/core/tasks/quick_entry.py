"""One line into a task: comma-separated phrases in any order, such as
``Survey the gallery rail, Tomas, 6h, by fri, in MIL``.

A phrase that is understood sets a field; what is not understood stays in the title, commas and all.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import date

from ..common.dates import read_day, say_day
from ..common.durations import read_duration, say_duration
from ..common.errors import RuleError
from ..people.model import Person
from .model import PRIORITY_WORDS, Priority, Task

_PRIORITIES: dict[str, Priority] = {
    "must": "must",
    "should": "should",
    "could": "could",
    "won't": "wont",
    "wont": "wont",
    "won’t": "wont",
}
_KINDS = ("milestone", "deliverable", "defect", "risk", "request")
_DATE_WORDS = {
    "by": "finish", "due": "finish", "until": "finish", "finish": "finish",
    "from": "start", "starts": "start", "start": "start", "starting": "start",
    "deadline": "deadline",
}  # fmt: skip
_MONTH_NAMES = "jan|feb|mar|apr|may|jun|jul|aug|sep|oct|nov|dec"
_LOOKS_LIKE_DATE = re.compile(
    rf"(?:next\s+)?(?:mon|tue|wed|thu|fri|sat|sun)[a-z]*|tomorrow|today|\d{{4}}-\d\d-\d\d|\d{{1,2}}\.?\s+(?:{_MONTH_NAMES})[a-z]*.*",
    re.IGNORECASE,
)


@dataclass(frozen=True, slots=True)
class ProjectName:
    """A project that a line may be for."""

    id: str
    code: str
    name: str


@dataclass(frozen=True, slots=True)
class Understood:
    """One phrase and what it was taken for."""

    phrase: str
    field: str
    says: str


@dataclass(slots=True)
class ReadLine:
    """What a line says: the title, the fields, and how each phrase was understood.

    ``notes`` tells of phrases that nearly meant something, such as a name that two people share.
    """

    title: str = ""
    project_id: str | None = None
    fields: dict[str, object] = field(default_factory=dict)
    helpers: list[str] = field(default_factory=list)
    understood: list[Understood] = field(default_factory=list)
    notes: list[str] = field(default_factory=list)


@dataclass(frozen=True, slots=True)
class Surroundings:
    """What a line is read against.

    Args:
        people, projects: whom and what it may name.
        tasks: of the project at hand, for ``under ...``.
        today: the day that relative dates count from.
        day_minutes: working minutes of a usual day.
    """

    people: Sequence[Person]
    projects: Sequence[ProjectName]
    tasks: Sequence[Task]
    today: date
    day_minutes: int


def read_line(line: str, around: Surroundings) -> ReadLine:
    """Read one line. The first phrase that means nothing else is the title; so is the first of all, if every one does."""
    phrases = [part.strip() for part in line.split(",")]
    found = ReadLine()
    kept: list[str] = []
    for index, phrase in enumerate(phrases):
        is_only = not kept and index == len(phrases) - 1
        if not phrase or is_only or not _understand(phrase, around, found):
            kept.append(phrase)
    found.title = ", ".join(part for part in kept if part)
    return found


def _understand(phrase: str, around: Surroundings, found: ReadLine) -> bool:
    for reader in (_project, _parent, _priority, _kind, _duration, _dated, _helper, _owner):
        said = reader(phrase, around, found)
        if said:
            found.understood.append(Understood(phrase, *said))
            return True
    return False


Said = tuple[str, str] | None


def _project(phrase: str, around: Surroundings, found: ReadLine) -> Said:
    word = phrase.lower().removeprefix("in ").strip() if phrase.lower().startswith("in ") else None
    if word is None or found.project_id:
        return None
    for project in around.projects:
        if word in {project.code.lower(), project.name.lower()}:
            found.project_id = project.id
            return "project", f"in {project.code}"
    return None


def _parent(phrase: str, around: Surroundings, found: ReadLine) -> Said:
    if not phrase.lower().startswith("under ") or "parent_id" in found.fields:
        return None
    word = phrase[6:].strip().lower()
    number = word.split()[-1] if word.split() else ""
    matches = [t for t in around.tasks if t.title.lower() == word or (number.isdigit() and t.number == int(number))]
    matches = matches or [t for t in around.tasks if t.title.lower().startswith(word)]
    if len(matches) != 1:
        found.notes.append(
            f"No single task is called “{phrase[6:].strip()}”." if not matches else f"{len(matches)} tasks match “{word}”."
        )
        return None
    found.fields["parent_id"] = matches[0].id
    return "parent", f"under {matches[0].title}"


def _priority(phrase: str, around: Surroundings, found: ReadLine) -> Said:
    value = _PRIORITIES.get(phrase.lower())
    if value is None:
        return None
    found.fields["priority"] = value
    return "priority", PRIORITY_WORDS[value]


def _kind(phrase: str, around: Surroundings, found: ReadLine) -> Said:
    if phrase.lower() not in _KINDS:
        return None
    found.fields["kind"] = phrase.lower()
    return "kind", phrase.lower()


def _duration(phrase: str, around: Surroundings, found: ReadLine) -> Said:
    if "duration" in found.fields:
        return None
    try:
        minutes = read_duration(phrase.lower().removeprefix("for "), around.day_minutes, bare=None)
    except RuleError:
        return None
    found.fields["duration"] = minutes
    return "duration", f"takes {say_duration(minutes, around.day_minutes)}"


def _dated(phrase: str, around: Surroundings, found: ReadLine) -> Said:
    word, _, rest = phrase.partition(" ")
    name = _DATE_WORDS.get(word.lower())
    if name is None and _LOOKS_LIKE_DATE.fullmatch(phrase):
        name, rest = "finish", phrase
    if name is None or name in found.fields:
        return None
    try:
        day = read_day(rest, around.today)
    except RuleError:
        return None
    found.fields[name] = day
    weekday = ("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun")[day.weekday()]
    return name, f"{name} {weekday} {say_day(day, around.today)}"


def _helper(phrase: str, around: Surroundings, found: ReadLine) -> Said:
    if not phrase.lower().startswith("with "):
        return None
    person = find_person(phrase[5:], around.people, found.notes)
    if person is None or person.id in found.helpers:
        return None
    found.helpers.append(person.id)
    return "helper", f"with {person.name}"


def _owner(phrase: str, around: Surroundings, found: ReadLine) -> Said:
    if "owner_id" in found.fields:
        return None
    person = find_person(phrase.removeprefix("for "), around.people, found.notes)
    if person is None:
        return None
    found.fields["owner_id"] = person.id
    return "owner", person.name


def find_person(text: str, people: Sequence[Person], notes: list[str] | None = None) -> Person | None:
    """The one active person that a name, first name, short name or e-mail means; None where none or several do."""
    word = " ".join(text.lower().split())
    if not word:
        return None
    active = [person for person in people if person.active]
    exact = [p for p in active if word in {p.name.lower(), p.email.lower(), p.short.lower(), p.short.lower().rstrip(".")}]
    matches = exact or [p for p in active if word == p.name.lower().split()[0] or word == p.name.lower().split()[-1]]
    if len(matches) > 1 and notes is not None:
        notes.append(f"{len(matches)} people are called {text.strip()}: write more of the name.")
    return matches[0] if len(matches) == 1 else None
