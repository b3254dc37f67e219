"""Tasks from the rows of a table: which column is which field, what each cell says, and what stands under what.

The readers of all columns stand together here, so it is longer than other modules.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime
from typing import Any

from ..core.common.bounds import MOST_LINKS_OF_A_TASK
from ..core.common.dates import read_moment
from ..core.common.divided import divided
from ..core.common.durations import read_duration, read_length
from ..core.common.errors import RuleError
from ..core.people.model import Person
from ..core.resources.typed_bookings import Named, read_bookings, sent
from ..core.talk.parts import read_checklists
from ..core.tasks.booked import KEEPS_WORDS
from ..core.tasks.custom_fields import CustomField
from ..core.tasks.custom_values import read_value, say_rounding
from ..core.tasks.model import CONSTRAINT_WORDS, KINDS, OPEN_CLASSES, OWN, Link, State, Task
from ..core.tasks.quick_entry import find_person
from ..core.tasks.recurrence_words import read_repeat_line, say_repeat
from ..core.tasks.typed_links import TaskNames, read_links
from .csv_columns import FIELDS
from .csv_names import nearest
from .csv_table import Table


@dataclass(frozen=True, slots=True)
class Problem:
    """A cell that cannot be read, or is not taken as it stands: the line of the file, the column's head, and why."""

    line: int
    column: str
    reason: str


@dataclass(slots=True)
class Unknown:
    """A name in the file that nobody and nothing here has, to be matched by hand.

    Attributes:
        field: ``people``, ``bookings``, ``state``, ``kind``, ``marks``, ``calendar``, or the key of an own field that is a choice.
        rows: in how many cells it stands.
        means: the id that it is taken for; None leaves it out.
        answered: True where a person has said what it means, False where ``means`` is a proposal.
    """

    field: str
    text: str
    rows: int = 0
    means: str | None = None
    answered: bool = False


@dataclass(slots=True)
class ReadTask:
    """One row of the file as a task. ``parent`` is the index of the row that it stands under; the links in
    ``waits_for``, and the values of own fields that point to tasks in ``points``, name rows by their index, as text; so does ``held_by``."""

    line: int
    title: str
    parent: int | None = None
    waits_for: tuple[Link, ...] = ()
    points: dict[str, list[str]] = field(default_factory=dict)
    fields: dict[str, Any] = field(default_factory=dict)
    description: str = ""
    held_by: str | None = None
    checklists: list[tuple[str, list[tuple[str, bool]]]] = field(default_factory=list)


@dataclass(slots=True)
class ReadFile:
    """What a file says: its tasks, the cells that cannot be read, the names to be matched by hand, and what is worth a word."""

    tasks: list[ReadTask]
    problems: list[Problem]
    unknown: list[Unknown]
    remarks: list[Problem]


@dataclass(frozen=True, slots=True)
class Reading:
    """What rows are read against.

    Attributes:
        day_minutes: working minutes of a usual day.
        own: the project's own fields.
        kinds, marks, calendars: names by id of those that the project has of its own.
        hours: by id of a calendar the working minutes of its usual day.
        answers: by field and text what names mean that nobody here has, an id or None.
        bookable: who can be booked; none: the people.
        far: gives the id of a task of another project by the code of that and its number; None where there is none that the
            person may see.
    """

    people: Sequence[Person]
    states: Sequence[State]
    today: date
    day_minutes: int
    own: Sequence[CustomField] = ()
    kinds: Mapping[str, str] = field(default_factory=dict)
    marks: Mapping[str, str] = field(default_factory=dict)
    calendars: Mapping[str, str] = field(default_factory=dict)
    hours: Mapping[str, int] = field(default_factory=dict)
    answers: Mapping[str, Mapping[str, str | None]] = field(default_factory=dict)
    bookable: Sequence[Named] = ()
    lanes: Mapping[str, str] = field(default_factory=dict)
    periods: Mapping[str, str] = field(default_factory=dict)
    far: Callable[[str, int], str | None] = lambda _code, _number: None

    def can_be_booked(self) -> Sequence[Named]:
        """Who can be booked."""
        return self.bookable or [Named(one.id, one.name) for one in self.people if one.active]

    def choices(self, name: str) -> dict[str, str]:
        """What a name in a field can mean: names by id. Empty for a field that has no names."""
        if name == "people":
            return {one.id: one.name for one in self.people if one.active}
        if name == "bookings":
            return {one.id: one.name for one in self.can_be_booked()}
        if name == "state":
            return {one.id: one.name for one in self.states}
        if name == "kind":
            return {**{kind: kind for kind in KINDS}, **self.kinds}
        if name in {"marks", "calendar"}:
            return dict(self.marks if name == "marks" else self.calendars)
        if name in {"lane", "period"}:
            return dict(self.lanes if name == "lane" else self.periods)
        own = next((one for one in self.own if one.key == name), None)
        return {option.id: option.name for option in own.options} if own else {}


_CODE_AND_NUMBER = re.compile(r"\s*([A-Za-z][A-Za-z0-9]{1,19}) (\d{1,9})\b")
_MORE = re.compile(r"\s*\d+ more\s*")

Rows = list[tuple[int, list[str]]]
LONGEST_OUTLINE = 200


def read_tasks(
    table: Table,
    matching: Sequence[str | None],
    against: Reading,
    through: Callable[[Rows], Iterable[tuple[int, list[str]]]] = iter,
) -> ReadFile:
    """Read every row into a task, every cell that cannot be read into a problem, and every name that is not known.

    Args:
        matching: for each column the field, or None.
        through: goes through the rows, so that it can be told how far the reading is.

    Raises:
        RuleError: no column is the title, or a field is matched twice.
    """
    chosen = [name for name in matching if name]
    if "title" not in chosen:
        raise RuleError("Choose which column is the title.", "matching")
    if len(chosen) != len(set(chosen)):
        twice = next(name for name in chosen if chosen.count(name) > 1)
        called = next((one.name for one in against.own if one.key == twice), FIELDS.get(twice, twice)).lower()
        raise RuleError(f"Two columns are matched to {called}. Leave one of them out.", "matching")
    reader = _Reader(table, matching, against)
    for line, cells in through(table.rows):
        reader.read_row(line, cells)
    reader.link()
    reader.nest()
    return ReadFile(
        reader.tasks, sorted(reader.problems, key=lambda one: one.line), list(reader.unknown.values()), reader.remarks
    )


MOST_UNKNOWN = 200
"""Different names of one field that are matched by hand."""
_SEVERAL = re.compile(r"[;,]")


class _Reader:
    """Reads the rows of one table one after the other, and then how they hang together."""

    def __init__(self, table: Table, matching: Sequence[str | None], against: Reading) -> None:
        self.table, self.matching, self.against = table, matching, against
        self.heads = {name: table.heads[index] for index, name in reversed(list(enumerate(matching))) if name}
        self.tasks: list[ReadTask] = []
        self.problems: list[Problem] = []
        self.remarks: list[Problem] = []
        self.unknown: dict[tuple[str, str], Unknown] = {}
        self.own = {one.key: one for one in against.own}
        self.month_first = _month_comes_first(table, matching)
        self.above: list[tuple[str, str]] = []  # outline number and parent of each row
        self.waits: list[tuple[str, str]] = []  # code, and what it waits for
        self.pointing: list[dict[str, str]] = []
        self.bookable = {named.id: named for named in against.can_be_booked()}
        self._names: dict[str, dict[str, str]] = {}
        self._people: dict[str, str | None] = {}

    def wrong(self, line: int, name: str, reason: str) -> None:
        """Note a cell that cannot be read."""
        self.problems.append(Problem(line, self.heads.get(name, self.table.heads[0]), reason))

    def read_row(self, line: int, cells: Sequence[str]) -> None:
        """Read one row, but for what it says of other rows."""
        values = {name: cell for name, cell in zip(self.matching, cells, strict=False) if name and cell}
        task = ReadTask(line, values.pop("title", ""))
        self.above.append((values.pop("outline", ""), values.pop("parent", "")))
        self.waits.append((values.pop("code", ""), values.pop("waits_for", "")))
        points = {name for name in values if name == "holder" or (name in self.own and self.own[name].type == "tasks")}
        self.pointing.append({name: values.pop(name) for name in points})
        if not task.title:
            self.wrong(line, "title", "This row has no title.")
        task.description = values.pop("description", "")
        for name in sorted(values, key=_when_read):
            try:
                if name.startswith(OWN):
                    self.read_own(task, name, values[name])
                else:
                    _READERS[name](self, task, values[name])
            except RuleError as error:
                self.wrong(line, name, error.sentence)
        self._settle(task)
        self.tasks.append(task)

    def _settle(self, task: ReadTask) -> None:
        """Of start, finish and duration those that rule. Work that is planned by a constraint finds its dates; what has
        begun, or is done, keeps those that it has."""
        fields = task.fields
        start, finish = fields.get("start"), fields.get("finish")
        if "constraint_type" in fields and "duration" in fields and not self._has_begun(fields):
            for name in ("start", "finish"):
                fields.pop(name, None)
        if not (start and finish):
            return
        if str(finish)[:10] < str(start)[:10]:
            self.wrong(task.line, "finish", "The finish lies before the start.")
        if "start" in fields:
            fields.pop("duration", None)

    def _has_begun(self, fields: Mapping[str, Any]) -> bool:
        if "actual_start" in fields or "actual_finish" in fields:
            return True
        state = next((one for one in self.against.states if one.id == fields.get("state_id")), None)
        return state is not None and (state.state_class not in OPEN_CLASSES or state.state_class == "active")

    def read_own(self, task: ReadTask, name: str, text: str) -> None:
        """A value of one of the project's own fields."""
        one = self.own[name]
        if one.type == "person":
            value: Any = self.person(text)
        elif one.type == "choice":
            value = self.known(name, text)
        elif one.type == "choices":
            value = self.several(name, text) or None
        elif one.type == "tied":
            value = self.tied(text)
        else:
            value = read_value(one, text, self.against.today)
            if one.type in {"number", "money"} and (said := say_rounding(one, text)):
                self.remarks.append(Problem(task.line, self.heads[name], said))
        if value is not None:
            task.fields[name] = value

    def tied(self, text: str) -> list[str]:
        """Tasks of other projects, as they go out: ``LAN 6 Glazing; MIL 2 Shell; 1 more``. The titles are for people, and how
        many more there are that somebody could not see is nothing to be tied to.

        Raises:
            RuleError: one is not there, or the person may not see it.
        """
        found: dict[str, None] = {}
        for part in text.split(";"):
            named = _CODE_AND_NUMBER.match(part)
            if named is None:
                if found or _MORE.fullmatch(part):  # a title that has this sign in it goes on
                    continue
                raise RuleError(f"“{part.strip()[:60]}” names no task of another project. Write its code, such as LAN 12.")
            task_id = self.against.far(named[1].upper(), int(named[2]))
            if task_id is None:
                raise RuleError(
                    f"“{named[0].strip()}” is no task of another project that you may see. Write another, or leave it out."
                )
            found[task_id] = None
        return list(found)

    def names(self, name: str) -> dict[str, str]:
        """What a name in a field can mean: ids by folded name."""
        if name not in self._names:
            self._names[name] = {words.casefold(): meant for meant, words in self.against.choices(name).items()}
        return self._names[name]

    def booked_by(self, text: str) -> Named | None:
        """Who or what a booking means by a name that nobody alone is called, None where it is left out."""
        return self.bookable.get(self._matched("bookings", text) or "")

    def known(self, name: str, text: str) -> str | None:
        """What a name means: what is called so, else what a person said that it means, else the nearest, to be confirmed."""
        found = self.names(name).get(text.casefold())
        return found if found is not None else self._matched(name, text)

    def _matched(self, name: str, text: str) -> str | None:
        key = (name, text.casefold())
        if key not in self.unknown:
            if sum(field == name for field, _ in self.unknown) >= MOST_UNKNOWN:
                raise RuleError(
                    f"“{text[:100]}” is not known here, and {MOST_UNKNOWN} other names are not. Leave the column out."
                )
            answers = self.against.answers.get(name, {})
            said = {words.casefold(): one for words, one in answers.items()}
            choices = self.against.choices(name)
            answered = text.casefold() in said and (said[text.casefold()] is None or said[text.casefold()] in choices)
            means = said[text.casefold()] if answered else nearest(name, text, choices, self.against.states)
            self.unknown[key] = Unknown(name, text, 0, means, answered)
        self.unknown[key].rows += 1
        return self.unknown[key].means

    def person(self, text: str) -> str | None:
        """Whom a name means."""
        word = text.strip()
        if word not in self._people:
            found = find_person(word, self.against.people)
            self._people[word] = found.id if found else None
        return self._people[word] or self._matched("people", word)

    def several(self, name: str, text: str, signs: re.Pattern[str] = _SEVERAL) -> list[str]:
        """Several names in one cell. A name that has such a sign in it is found as a whole."""
        one = self.person if name == "people" else lambda word: self.known(name, word)
        names = self.names(name)
        signs = re.compile(";") if ";" in text and text.casefold() not in names else signs
        found = [one(part) for part in divided(text, signs, names)]
        return list(dict.fromkeys(each for each in found if each is not None))

    def moment(self, text: str) -> date | datetime:
        """A date of the file."""
        return read_moment(text, self.against.today, month_first=self.month_first)

    def link(self) -> None:
        """Read what rows wait for and point to: other rows, by the number in their code, else their place in the file, or
        by title."""
        if "waits_for" not in self.heads and not any(self.pointing):
            return
        codes = [re.fullmatch(r"(.*?)\s*(\d{1,9})", code) for code, _ in self.waits]
        prefix = next((found[1] for found in codes if found and found[1]), "")
        rows = [
            Task(str(index), "", int(found[2]) if found else index + 1, None, "", "task", task.title, None, "", "")
            for index, (task, found) in enumerate(zip(self.tasks, codes, strict=True))
        ]
        names = TaskNames(rows, prefix)
        for task, row, (_, text), points in zip(self.tasks, rows, self.waits, self.pointing, strict=True):
            for name, words in [("waits_for", text), *points.items()]:
                try:
                    links = read_links(words, row if name == "waits_for" else None, names, self.against.day_minutes)
                    if len(links) > MOST_LINKS_OF_A_TASK:
                        raise RuleError(f"{MOST_LINKS_OF_A_TASK} tasks are the most.")
                    if name == "holder":
                        self._hold(task, row.id, links)
                except RuleError as error:
                    self.wrong(task.line, name, error.sentence)
                    continue
                if name == "waits_for":
                    task.waits_for = links
                elif name != "holder":
                    task.points[name] = [link.from_id for link in links]

    def _hold(self, task: ReadTask, own: str, links: Sequence[Link]) -> None:
        """Who holds a task that is not done. Raises RuleError where that is the task itself, or several are named."""
        if len(links) > 1 or any(link.from_id == own for link in links):
            raise RuleError("A task is held by one other task. Name that alone.")
        state = next((one for one in self.against.states if one.id == task.fields.get("state_id")), None)
        if links and (state is None or state.state_class in OPEN_CLASSES):
            task.held_by = links[0].from_id

    def nest(self) -> None:
        """Find each row's parent: from its outline number, else from a parent column that names a title or a number."""
        numbers = [_outline(number) for number, _ in self.above]
        by_outline = {number: index for index, number in enumerate(numbers) if number}
        by_title: dict[str, int] = {}
        for index, task in enumerate(self.tasks):
            by_title.setdefault(task.title.lower(), index)
        for index, (number, (_, parent)) in enumerate(zip(numbers, self.above, strict=True)):
            if parent:
                found = by_title.get(parent.lower(), by_outline.get(_outline(parent)))
                if found is None or found == index:
                    self.wrong(self.tasks[index].line, "parent", f"No row is called “{parent}”.")
                else:
                    self.tasks[index].parent = found
            elif "." in number:
                above = number.rpartition(".")[0]
                while above and above not in by_outline:
                    above = above.rpartition(".")[0]
                if above and by_outline[above] != index:
                    self.tasks[index].parent = by_outline[above]
        self._refuse_circles()

    def _refuse_circles(self) -> None:
        """Each row is looked at once: one from which the way up comes back to itself stands nowhere."""
        settled: set[int] = set()
        for index in range(len(self.tasks)):
            way: dict[int, None] = {}
            at: int | None = index
            while at is not None and at not in settled and at not in way:
                way[at] = None
                at = self.tasks[at].parent
            if at is not None and at not in settled:
                self.wrong(self.tasks[at].line, "parent", "This row stands under itself, by way of its parents.")
                self.tasks[at].parent = None
            settled |= way.keys()


def _when_read(name: str) -> int:
    """Columns that others count by come first: a calendar before a duration, dates before a repeat."""
    return 0 if name == "calendar" else 2 if name == "repeats" else 1


def _month_comes_first(table: Table, matching: Sequence[str | None]) -> bool:
    """True where a date column has a value such as 3/25/2027, so that 3/8/2027 is in March too."""
    for index, name in enumerate(matching):
        if name not in {"start", "finish", "deadline", "actual_start", "actual_finish"}:
            continue
        for _, cells in table.rows:
            found = re.match(r"(\d{1,2})/(\d{1,2})/", cells[index]) if index < len(cells) else None
            if found and int(found[2]) > 12 >= int(found[1]):
                return True
    return False


def _read_date(name: str) -> Callable[[_Reader, ReadTask, str], None]:
    def read(reader: _Reader, task: ReadTask, text: str) -> None:
        task.fields[name] = at = reader.moment(text)
        if name.startswith("actual") and str(at)[:10] > reader.against.today.isoformat():
            del task.fields[name]
            raise RuleError("What has really happened lies in the past.")

    return read


def _read_length(reader: _Reader, task: ReadTask, text: str) -> None:
    day = reader.against.hours.get(task.fields.get("calendar_id", ""), reader.against.day_minutes)
    minutes, elapsed = read_length(text.rstrip("?"), day)
    task.fields |= {"duration": minutes, "elapsed": True} if elapsed else {"duration": minutes}


def _read_effort(reader: _Reader, task: ReadTask, text: str) -> None:
    task.fields["effort"] = read_duration(text.rstrip("?"), reader.against.day_minutes, bare="hour")


def _read_helpers(reader: _Reader, task: ReadTask, text: str) -> None:
    task.fields["helpers"] = reader.several("people", text, re.compile(r"[;,/]"))


def _read_people(reader: _Reader, task: ReadTask, text: str) -> None:
    found = read_bookings(
        text, list(reader.bookable.values()), reader.against.day_minutes, task.fields.get("effort") or 0, reader.booked_by
    )
    task.fields["bookings"] = sent(found)


def _read_marks(reader: _Reader, task: ReadTask, text: str) -> None:
    task.fields["marks"] = reader.several("marks", text)


def _read_name(name: str, column: str) -> Callable[[_Reader, ReadTask, str], None]:
    def read(reader: _Reader, task: ReadTask, text: str) -> None:
        found = reader.person(text) if column == "people" else reader.known(column, text)
        if found is not None:
            task.fields[name] = found

    return read


def _read_priority(_: _Reader, task: ReadTask, text: str) -> None:
    value = text.lower().replace("’", "'").replace("'", "")
    if value not in {"must", "should", "could", "wont"}:
        raise RuleError(f"“{text}” is no priority. They are must, should, could and won't.")
    task.fields["priority"] = value


def _read_held(_: _Reader, task: ReadTask, text: str) -> None:
    task.fields["held_reason"] = text


def _read_repeats(reader: _Reader, task: ReadTask, text: str) -> None:
    at = task.fields.get("start") or task.fields.get("finish") or reader.against.today
    first = at.date() if isinstance(at, datetime) else at
    task.fields["repeats"] = say_repeat(read_repeat_line(text, reader.against.today, first), reader.against.today)


def _read_keeps(_: _Reader, task: ReadTask, text: str) -> None:
    found = next((keeps for keeps, words in KEEPS_WORDS.items() if text.casefold() in {keeps, words}), None)
    if found is None:
        raise RuleError(f"“{text}” is none of {', '.join(KEEPS_WORDS.values())}.")
    task.fields["keeps"] = found


def _read_checklists(_: _Reader, task: ReadTask, text: str) -> None:
    task.checklists = read_checklists(text)


def _read_percent(_: _Reader, task: ReadTask, text: str) -> None:
    try:
        value = float(text.rstrip("% ").replace(",", "."))
    except ValueError:
        value = -1
    if 0 < value < 1 and "%" not in text:
        value *= 100
    if not 0 <= value <= 100:
        raise RuleError(f"“{text}” is no percentage from 0 to 100.")
    task.fields["percent"] = round(value)


def _read_constraint(reader: _Reader, task: ReadTask, text: str) -> None:
    for kind, words in CONSTRAINT_WORDS.items():
        if text.lower().startswith(words):
            day = text[len(words) :].strip()
            task.fields["constraint_type"] = kind
            if kind not in {"asap", "alap"}:
                task.fields["constraint_at"] = reader.moment(day)
            return
    raise RuleError(f"“{text}” is no constraint. They are {', '.join(CONSTRAINT_WORDS.values())}, with a date.")


_READERS: dict[str, Callable[[_Reader, ReadTask, str], None]] = {
    "kind": _read_name("kind", "kind"),
    "owner": _read_name("owner_id", "people"),
    "helpers": _read_helpers,
    "state": _read_name("state_id", "state"),
    "priority": _read_priority,
    "start": _read_date("start"),
    "finish": _read_date("finish"),
    "actual_start": _read_date("actual_start"),
    "actual_finish": _read_date("actual_finish"),
    "deadline": _read_date("deadline"),
    "duration": _read_length,
    "effort": _read_effort,
    "people": _read_people,
    "percent": _read_percent,
    "constraint": _read_constraint,
    "calendar": _read_name("calendar_id", "calendar"),
    "marks": _read_marks,
    "held": _read_held,
    "repeats": _read_repeats,
    "keeps": _read_keeps,
    "checklists": _read_checklists,
    "lane": _read_name("lane_id", "lane"),
    "period": _read_name("period_id", "period"),
}


def _outline(text: str) -> str:
    return re.sub(r"[^0-9.]", "", text[:LONGEST_OUTLINE]).strip(".")


def parents_first(tasks: Sequence[ReadTask]) -> list[int]:
    """The order in which to write rows so that a parent comes before the rows under it; else as in the file."""
    order: list[int] = []
    done: set[int] = set()
    for index in range(len(tasks)):
        line: list[int] = []
        at: int | None = index
        while at is not None and at not in done:
            line.append(at)
            done.add(at)
            at = tasks[at].parent
        order += reversed(line)
    return order
