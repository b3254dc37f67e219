"""Links as people write them: ``12``, ``12 + 2 days``, ``start with 12``, ``finish with 15 - 4 h``."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping

from .durations import read_length, say_length
from .errors import RuleError
from .model import Link, LinkType, Task

# How each type is written: what waits, which end of the other it waits for.
_FORMS: tuple[tuple[re.Pattern[str], LinkType], ...] = (
    (re.compile(r"start with (?P<what>.+)", re.IGNORECASE), "SS"),
    (re.compile(r"finish with (?P<what>.+)", re.IGNORECASE), "FF"),
    (re.compile(r"finish once (?P<what>.+?) starts", re.IGNORECASE), "SF"),
    (re.compile(r"(?:after )?(?P<what>.+)", re.IGNORECASE), "FS"),
)
_LAG = re.compile(r"^(?P<rest>.*\S)\s+(?P<sign>[+\-−–])\s*(?P<lag>\d.*|half\b.*|an?\s.*)$")
_WRITTEN: dict[LinkType, str] = {"FS": "{}", "SS": "start with {}", "FF": "finish with {}", "SF": "finish once {} starts"}
_SPOKEN: dict[LinkType, str] = {
    "FS": "waits for {} to finish",
    "SS": "starts when {} starts",
    "FF": "finishes when {} finishes",
    "SF": "finishes once {} starts",
}


def read_links(text: str, task: Task | None, tasks: Mapping[str, Task], code: str, day_minutes: int) -> tuple[Link, ...]:
    """Read what a task waits for, several separated by commas.

    Args:
        text: what was typed; each part names a task by its number or its title.
        task: the one that waits; None for a new one.
        tasks: of the project, by id.
        code: of the project: ``LAN 12`` is understood as well as ``12``.
        day_minutes: working minutes of a usual day.

    Raises:
        RuleError: a part that cannot be read, or a name that no task has or several have.
    """
    living = [one for one in tasks.values() if one.deleted_at is None and (task is None or one.id != task.id)]
    found: dict[tuple[str, LinkType], Link] = {}
    for part in _parts(text, living):
        link = _read_one(part, task, living, code, day_minutes)
        found[link.from_id, link.type] = link
    return tuple(found.values())


def _parts(text: str, living: list[Task]) -> list[str]:
    """Split at commas, but not within a title that has one."""
    parts: list[str] = []
    titles = {_plain(one.title) for one in living if "," in one.title}
    for piece in text.split(","):
        piece = piece.strip()
        before = _plain(parts[-1]) if parts else ""
        joined = f"{parts[-1]}, {piece}" if parts else piece
        if parts and any(
            title not in before and (title in _plain(joined) or title.startswith(_plain(joined))) for title in titles
        ):
            parts[-1] = joined
        elif piece:
            parts.append(piece)
    return parts


def _plain(text: str) -> str:
    return " ".join(text.lower().split())


def _read_one(part: str, task: Task | None, living: list[Task], code: str, day_minutes: int) -> Link:
    rest, lag, elapsed = part, 0, False
    match = _LAG.match(part)
    if match and not _by_title(part, living):
        rest = match["rest"]
        lag, elapsed = read_length(match["lag"], day_minutes)
        if match["sign"] != "+":
            lag = -lag
    for form, link_type in _FORMS:
        if shape := form.fullmatch(rest.strip()):
            other = _named(shape["what"].strip(), living, code, task)
            return Link(other.id, link_type, lag, elapsed and lag != 0)
    raise RuleError(f"“{part}” is no task. Write its number, such as 12, or its title.", "waits_for")


def _by_title(name: str, living: list[Task]) -> list[Task]:
    return [one for one in living if _plain(one.title) == _plain(name)]


def _named(name: str, living: list[Task], code: str, task: Task | None) -> Task:
    number = re.fullmatch(rf"(?:{re.escape(code)}\s*|#)?(\d+)", name, re.IGNORECASE)
    if number:
        wanted = int(number[1])
        for one in living:
            if one.number == wanted:
                return one
        if task is not None and task.number == wanted:
            raise RuleError("A task cannot wait for itself. Name another.", "waits_for")
        raise RuleError(f"There is no task {code} {wanted}. Write the number of one, or its title.", "waits_for")
    title = name.strip("“”\"'")
    found = _by_title(title, living) or [one for one in living if _plain(one.title).startswith(_plain(title))]
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
