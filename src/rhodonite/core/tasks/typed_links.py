"""Links as people write them: ``12``, ``12 + 2 days``, ``12+2d``, ``start with 12``, ``finish with 15 - 4 h``."""

from __future__ import annotations

import re
from bisect import bisect_left
from collections.abc import Iterable, Mapping
from functools import cached_property

from ..common.durations import read_length, say_length
from ..common.errors import RuleError
from .model import Link, LinkType, Task

# How each type is written: what waits, which end of the other it waits for.
_FORMS: tuple[tuple[re.Pattern[str], LinkType], ...] = (
    (re.compile(r"start with (?P<what>.+)", re.IGNORECASE), "SS"),
    (re.compile(r"finish with (?P<what>.+)", re.IGNORECASE), "FF"),
    (re.compile(r"finish once (?P<what>.+?) starts", re.IGNORECASE), "SF"),
    (re.compile(r"(?:after )?(?P<what>.+)", re.IGNORECASE), "FS"),
)
_LAG = re.compile(r"^(?P<rest>.*\S)\s+(?P<sign>[+\-−–])\s*(?P<lag>\d.*|half\b.*|an?\s.*)$")
_CLOSE_LAG = re.compile(r"^(?P<rest>.*\d)(?P<sign>[+\-−–])(?P<lag>\d[\d.,]*\s*[a-z].*)$", re.IGNORECASE)
_ODD_LAG = re.compile(r"^(?P<rest>.*\d)\s*(?P<sign>[+\-−–])\s*(?P<lag>\S.*)$")
_WRITTEN: dict[LinkType, str] = {"FS": "{}", "SS": "start with {}", "FF": "finish with {}", "SF": "finish once {} starts"}
_SPOKEN: dict[LinkType, str] = {
    "FS": "waits for {} to finish",
    "SS": "starts when {} starts",
    "FF": "finishes when {} finishes",
    "SF": "finishes once {} starts",
}


class TaskNames:
    """The tasks of a project by what they are called when a link is typed: their numbers and their titles.

    Args:
        tasks: of the project; those in the bin are not among them.
        code: of the project: ``LAN 12`` is understood as well as ``12``.
    """

    def __init__(self, tasks: Iterable[Task], code: str) -> None:
        self.code = code
        self._number = re.compile(rf"(?:{re.escape(code)}\s*|#)?(\d+)", re.IGNORECASE)
        self._living = [one for one in tasks if one.deleted_at is None]

    @cached_property
    def by_number(self) -> dict[int, Task]:
        """The tasks by their numbers."""
        return {one.number: one for one in self._living}

    @cached_property
    def _by_title(self) -> dict[str, list[Task]]:
        found: dict[str, list[Task]] = {}
        for one in self._living:
            found.setdefault(_plain(one.title), []).append(one)
        return found

    @cached_property
    def _titles(self) -> list[str]:
        return sorted(self._by_title)

    @cached_property
    def with_commas(self) -> list[str]:
        """The titles that have a comma in them."""
        return [title for title in self._titles if "," in title]

    def number_in(self, name: str) -> int | None:
        """The number that a name is, such as ``12``, ``#12`` or ``LAN 12``."""
        found = self._number.fullmatch(name)
        return int(found[1]) if found and len(found[1]) < 10 else None

    def called(self, title: str) -> list[Task]:
        """The tasks of exactly this title."""
        return self._by_title.get(_plain(title), [])

    def beginning(self, title: str) -> list[Task]:
        """The tasks whose titles begin so."""
        start = _plain(title)
        first = bisect_left(self._titles, start)
        found: list[Task] = []
        for title in self._titles[first:]:
            if not title.startswith(start):
                break
            found += self._by_title[title]
        return found


def read_links(text: str, task: Task | None, names: TaskNames, day_minutes: int) -> tuple[Link, ...]:
    """Read what a task waits for, several separated by commas.

    Args:
        text: what was typed; each part names a task by its number or its title.
        task: the one that waits; None for a new one.
        names: of the project's tasks.
        day_minutes: working minutes of a usual day.

    Raises:
        RuleError: a part that cannot be read, or a name that no task has or several have.
    """
    found: dict[tuple[str, LinkType], Link] = {}
    for part in _parts(text, names):
        link = _read_one(part, task, names, day_minutes)
        found[link.from_id, link.type] = link
    return tuple(found.values())


def _parts(text: str, names: TaskNames) -> list[str]:
    """Split at commas, but not within a title that has one."""
    parts: list[str] = []
    for piece in text.split(","):
        piece = piece.strip()
        before = _plain(parts[-1]) if parts else ""
        joined = f"{parts[-1]}, {piece}" if parts else piece
        if parts and any(
            title not in before and (title in _plain(joined) or title.startswith(_plain(joined))) for title in names.with_commas
        ):
            parts[-1] = joined
        elif piece:
            parts.append(piece)
    return parts


def _plain(text: str) -> str:
    return " ".join(text.lower().split())


def _read_one(part: str, task: Task | None, names: TaskNames, day_minutes: int) -> Link:
    rest, lag, elapsed = part, 0, False
    match = _LAG.match(part) or _CLOSE_LAG.match(part) or _odd_lag(part, names)
    if match and not names.called(part):
        rest = match["rest"]
        lag, elapsed = _read_lag(match["lag"], day_minutes, bare=_LAG.match(part) is not None)
        if match["sign"] != "+":
            lag = -lag
    for form, link_type in _FORMS:
        if shape := form.fullmatch(rest.strip()):
            other = _named(shape["what"].strip(), names, task)
            return Link(other.id, link_type, lag, elapsed and lag != 0)
    raise RuleError(f"“{part}” is no task. Write its number, such as 12, or its title.", "waits_for")


def _odd_lag(part: str, names: TaskNames) -> re.Match[str] | None:
    """A sign after the number of a task has a lag behind it, also one that cannot be read."""
    match = _ODD_LAG.match(part)
    if not match or names.beginning(part):
        return None
    shapes = (form.fullmatch(match["rest"].strip()) for form, _ in _FORMS)
    return match if any(shape and names.number_in(shape["what"].strip()) in names.by_number for shape in shapes) else None


def _read_lag(text: str, day_minutes: int, *, bare: bool) -> tuple[int, bool]:
    """A lag; without a unit, where ``bare``, days: ``12 + 3`` is one, ``12-15`` may mean all from 12 to 15."""
    try:
        if not bare and text.isdigit():
            raise RuleError("A lag needs its unit.")
        return read_length(text, day_minutes)
    except RuleError as error:
        raise RuleError(f"“{text}” is no lag. Write it as 12 + 2 d, 12 - 4 h or 12 + 1 d elapsed.", "waits_for") from error


def _named(name: str, names: TaskNames, task: Task | None) -> Task:
    itself = task.id if task else None
    number = names.number_in(name)
    if number is not None:
        one = names.by_number.get(number)
        if one is not None and one.id != itself:
            return one
        if task is not None and task.number == number:
            raise RuleError("A task cannot wait for itself. Name another.", "waits_for")
        raise RuleError(
            f"There is no task {f'{names.code} {number}'.strip()}. Write the number of one, or its title.", "waits_for"
        )
    title = name.strip("“”\"'")
    found = [one for one in names.called(title) if one.id != itself] or [
        one for one in names.beginning(title) if one.id != itself
    ]
    if len(found) > 1:
        numbers = ", ".join(str(one.number) for one in sorted(found, key=lambda one: one.number)[:6])
        raise RuleError(f"{len(found)} tasks are called “{title}”: write the number of one ({numbers}).", "waits_for")
    if not found:
        raise RuleError(f"No task is called “{title}”. Write its number, such as 12, or how its title begins.", "waits_for")
    return found[0]


def write_links(links: Iterable[Link], tasks: Mapping[str, Task], day_minutes: int) -> str:
    """Links in the form in which they are typed. A task in the bin is left out."""
    parts = []
    for link in links:
        other = tasks.get(link.from_id)
        if other is not None and other.deleted_at is None:
            parts.append(_WRITTEN[link.type].format(other.number) + write_lag(link, day_minutes))
    return ", ".join(parts)


def write_lag(link: Link, day_minutes: int) -> str:
    """`` + 2 d``, `` - 4 h``, `` + 3 d elapsed``; nothing for no lag."""
    if not link.lag:
        return ""
    return f" {'+' if link.lag > 0 else '-'} {say_length(abs(link.lag), day_minutes, link.elapsed)}"


def say_link(link: Link, title: str, day_minutes: int) -> str:
    """A link in a few words: ``waits for Order curved panes to finish, plus 1 d``."""
    said = _SPOKEN[link.type].format(title)
    if not link.lag:
        return said
    return f"{said}, {'plus' if link.lag > 0 else 'less'} {say_length(abs(link.lag), day_minutes, link.elapsed)}"
