"""Tasks from and to CSV (RFC 4180, with comma, semicolon or tab; UTF-8 with or without byte order mark)."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field
from datetime import date
from typing import Any

from ..core.dates import read_moment
from ..core.durations import read_duration, read_length
from ..core.errors import RuleError
from ..core.links import read_links
from ..core.model import CONSTRAINT_WORDS, KINDS, OWN, Link, Person, State, Task
from ..core.own import OwnField, read_value
from ..core.phrases import find_person

MOST_ROWS = 20_000
FIELDS: dict[str, str] = {
    "title": "Title",
    "outline": "Outline number",
    "parent": "Parent",
    "kind": "Kind",
    "owner": "Owner",
    "helpers": "Helpers",
    "state": "State",
    "priority": "Priority",
    "start": "Start",
    "finish": "Finish",
    "duration": "Duration",
    "deadline": "Deadline",
    "effort": "Effort",
    "percent": "Percent done",
    "code": "Code",
    "waits_for": "Waits for",
    "constraint": "Constraint",
    "description": "Description",
}
"""What a column can be matched to."""

_WORDS: dict[str, tuple[str, ...]] = {
    "title": ("title", "task", "name", "task name", "what", "summary", "activity"),
    "outline": ("outline", "outline number", "wbs", "number", "no", "nr", "#"),
    "parent": ("parent", "parent task", "under", "belongs to", "deliverable"),
    "kind": ("kind", "type"),
    "owner": ("owner", "who", "assignee", "assigned to", "responsible", "person", "assigned"),
    "helpers": ("helpers", "with", "also"),
    "state": ("state", "status", "stage"),
    "priority": ("priority", "prio"),
    "start": ("start", "start date", "begin", "from", "planned start", "starts"),
    "finish": ("finish", "finish date", "end", "end date", "due", "due date", "by", "planned finish", "until"),
    "duration": ("duration", "length", "days"),
    "deadline": ("deadline", "latest"),
    "effort": ("effort", "hours", "work", "estimate"),
    "percent": ("percent", "percent done", "% done", "done", "progress", "complete", "% complete"),
    "code": ("code", "id", "key", "task id"),
    "waits_for": ("waits for", "predecessors", "predecessor", "depends on", "after"),
    "constraint": ("constraint", "date constraint"),
    "description": ("description", "notes", "note", "details", "comment"),
}


@dataclass(frozen=True, slots=True)
class Table:
    """A CSV file as read: its heads and rows, each row with the line it begins on."""

    heads: list[str]
    rows: list[tuple[int, list[str]]]
    delimiter: str


@dataclass(frozen=True, slots=True)
class Problem:
    """A cell that cannot be read: the line of the file, the column's head, and why."""

    line: int
    column: str
    reason: str


@dataclass(slots=True)
class ReadTask:
    """One row of the file as a task. ``parent`` is the index of the row that it stands under; the links in
    ``waits_for`` name rows by their index, as text."""

    line: int
    title: str
    parent: int | None = None
    waits_for: tuple[Link, ...] = ()
    fields: dict[str, Any] = field(default_factory=dict)
    description: str = ""


def read_table(data: bytes) -> Table:
    """Decode and split a file.

    Raises:
        RuleError: it is not UTF-8 text, has no rows, or is too long.
    """
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise RuleError("The file is not UTF-8 text. Save it as “CSV UTF-8” and choose it again.", "file") from error
    if "\0" in text:
        raise RuleError("The file is no text. Save the table as CSV and choose that file.", "file")
    first = next((line for line in text.splitlines() if line.strip()), "")
    delimiter = max((",", ";", "\t"), key=lambda sign: _outside_quotes(first, sign))
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=delimiter)
    rows: list[tuple[int, list[str]]] = []
    line = 1
    try:
        for cells in reader:
            if any(cell.strip() for cell in cells):
                rows.append((line, [cell.strip() for cell in cells]))
            line = reader.line_num + 1
    except csv.Error as error:
        raise RuleError(
            f"Line {reader.line_num} of the file cannot be read: {error}. Check its quotation marks.", "file"
        ) from error
    if len(rows) < 2:
        raise RuleError("The file has no rows under its heads. The first line names the columns.", "file")
    if len(rows) > MOST_ROWS + 1:
        raise RuleError(f"The file has {len(rows) - 1} rows; {MOST_ROWS} is the most. Split it.", "file")
    return Table(rows[0][1], rows[1:], delimiter)


def _outside_quotes(line: str, sign: str) -> int:
    return re.sub(r'"[^"]*"', "", line).count(sign)


def match_columns(heads: Sequence[str], own: Sequence[OwnField] = ()) -> list[str | None]:
    """For each head the field that it names, each field once; None for a column that is left out.

    Args:
        own: the project's own fields, which are named before those that every project has.
    """
    by_name = {one.name.casefold(): one.key for one in own if one.type not in {"computed", "tasks"}}
    taken: set[str] = set()
    matched: list[str | None] = []
    for head in heads:
        word = " ".join(re.sub(r"[_\-]+", " ", head.lower()).split())
        name = by_name.get(head.strip().casefold())
        if name is None or name in taken:
            name = next((f for f, words in _WORDS.items() if word in words and f not in taken), None)
        if name:
            taken.add(name)
        matched.append(name)
    return matched


@dataclass(frozen=True, slots=True)
class Reading:
    """What rows are read against: people, workflow, today, working minutes of a usual day, and the project's own fields."""

    people: Sequence[Person]
    states: Sequence[State]
    today: date
    day_minutes: int
    own: Sequence[OwnField] = ()


def read_tasks(table: Table, matching: Sequence[str | None], against: Reading) -> tuple[list[ReadTask], list[Problem]]:
    """Read every row into a task, and every cell that cannot be read into a problem.

    Args:
        matching: for each column the field, or None.

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
    month_first = _month_comes_first(table, matching)
    problems: list[Problem] = []
    tasks: list[ReadTask] = []
    links: list[tuple[str, str]] = []
    waits: list[tuple[str, str]] = []
    for line, cells in table.rows:
        values = {name: cell for name, cell in zip(matching, cells, strict=False) if name and cell}
        task = ReadTask(line, values.pop("title", ""))
        links.append((values.pop("outline", ""), values.pop("parent", "")))
        waits.append((values.pop("code", ""), values.pop("waits_for", "")))
        if not task.title:
            problems.append(Problem(line, _head(table, matching, "title"), "This row has no title."))
        task.description = values.pop("description", "")
        for name, text in values.items():
            try:
                if name.startswith(OWN):
                    _read_own(task, name, text, against)
                else:
                    _READERS[name](task, text, against, month_first)
            except RuleError as error:
                problems.append(Problem(line, _head(table, matching, name), error.sentence))
        if "constraint_type" in task.fields and "duration" in task.fields:
            task.fields = {name: value for name, value in task.fields.items() if name not in {"start", "finish"}}
        _check_order(task, table, matching, problems)
        tasks.append(task)
    if "waits_for" in chosen:
        _link(tasks, waits, table, matching, against, problems)
    _nest(tasks, links, table, matching, problems)
    return tasks, sorted(problems, key=lambda problem: problem.line)


def _read_own(task: ReadTask, name: str, text: str, against: Reading) -> None:
    one = next(each for each in against.own if each.key == name)
    if one.type == "person":
        person = next((each for each in against.people if text.casefold() in {each.name.casefold(), each.email.casefold()}), None)
        if person is None:
            raise RuleError(f"Nobody is called {text}.")
        task.fields[name] = person.id
    else:
        task.fields[name] = read_value(one, text, against.today)


def _head(table: Table, matching: Sequence[str | None], name: str) -> str:
    return table.heads[list(matching).index(name)]


def _month_comes_first(table: Table, matching: Sequence[str | None]) -> bool:
    """True where a date column has a value such as 3/25/2027, so that 3/8/2027 is in March too."""
    for index, name in enumerate(matching):
        if name not in {"start", "finish", "deadline"}:
            continue
        for _, cells in table.rows:
            found = re.match(r"(\d{1,2})/(\d{1,2})/", cells[index]) if index < len(cells) else None
            if found and int(found[2]) > 12 >= int(found[1]):
                return True
    return False


def _check_order(task: ReadTask, table: Table, matching: Sequence[str | None], problems: list[Problem]) -> None:
    start, finish = task.fields.get("start"), task.fields.get("finish")
    if start and finish and str(finish)[:10] < str(start)[:10]:
        problems.append(Problem(task.line, _head(table, matching, "finish"), "The finish lies before the start."))
    if start and finish:
        task.fields.pop("duration", None)
        task.fields.pop("elapsed", None)


def _read_date(name: str) -> Callable[[ReadTask, str, Reading, bool], None]:
    def read(task: ReadTask, text: str, against: Reading, month_first: bool) -> None:
        task.fields[name] = read_moment(text, against.today, month_first=month_first)

    return read


def _read_length(task: ReadTask, text: str, against: Reading, _: bool) -> None:
    minutes, elapsed = read_length(text.rstrip("?"), against.day_minutes)
    task.fields |= {"duration": minutes, "elapsed": True} if elapsed else {"duration": minutes}


def _read_effort(task: ReadTask, text: str, against: Reading, _: bool) -> None:
    task.fields["effort"] = read_duration(text.rstrip("?"), against.day_minutes, bare="hour")


def _read_owner(task: ReadTask, text: str, against: Reading, _: bool) -> None:
    task.fields["owner_id"] = _person(text, against)


def _read_helpers(task: ReadTask, text: str, against: Reading, _: bool) -> None:
    task.fields["helpers"] = [_person(name, against) for name in re.split(r"[;,/]", text) if name.strip()]


def _person(text: str, against: Reading) -> str:
    notes: list[str] = []
    person = find_person(text, against.people, notes)
    if person is None:
        raise RuleError(notes[0] if notes else f"Nobody is called “{text}”. Write the full name or the e-mail.")
    return person.id


def _read_state(task: ReadTask, text: str, against: Reading, _: bool) -> None:
    found = next((s for s in against.states if s.name.lower() == text.lower()), None)
    found = found or next((s for s in against.states if s.state_class == text.lower()), None)
    if found is None:
        raise RuleError(f"The workflow has no state “{text}”. It has {', '.join(s.name for s in against.states)}.")
    task.fields["state_id"] = found.id


def _read_kind(task: ReadTask, text: str, _: Reading, __: bool) -> None:
    if text.lower() not in KINDS:
        raise RuleError(f"“{text}” is no kind. The kinds are {', '.join(KINDS)}.")
    task.fields["kind"] = text.lower()


def _read_priority(task: ReadTask, text: str, _: Reading, __: bool) -> None:
    value = text.lower().replace("’", "'").replace("'", "")
    if value not in {"must", "should", "could", "wont"}:
        raise RuleError(f"“{text}” is no priority. They are must, should, could and won't.")
    task.fields["priority"] = value


def _read_percent(task: ReadTask, text: str, _: Reading, __: bool) -> None:
    try:
        value = float(text.rstrip("% ").replace(",", "."))
    except ValueError:
        value = -1
    if 0 < value < 1 and "%" not in text:
        value *= 100
    if not 0 <= value <= 100:
        raise RuleError(f"“{text}” is no percentage from 0 to 100.")
    task.fields["percent"] = round(value)


_READERS: dict[str, Callable[[ReadTask, str, Reading, bool], None]] = {
    "kind": _read_kind,
    "owner": _read_owner,
    "helpers": _read_helpers,
    "state": _read_state,
    "priority": _read_priority,
    "start": _read_date("start"),
    "finish": _read_date("finish"),
    "deadline": _read_date("deadline"),
    "duration": _read_length,
    "effort": _read_effort,
    "percent": _read_percent,
}


def _read_constraint(task: ReadTask, text: str, against: Reading, month_first: bool) -> None:
    for kind, words in CONSTRAINT_WORDS.items():
        if text.lower().startswith(words):
            day = text[len(words) :].strip()
            task.fields["constraint_type"] = kind
            if kind not in {"asap", "alap"}:
                task.fields["constraint_at"] = read_moment(day, against.today, month_first=month_first)
            return
    raise RuleError(f"“{text}” is no constraint. They are {', '.join(CONSTRAINT_WORDS.values())}, with a date.")


_READERS["constraint"] = _read_constraint


def _link(
    tasks: list[ReadTask],
    waits: list[tuple[str, str]],
    table: Table,
    matching: Sequence[str | None],
    against: Reading,
    problems: list[Problem],
) -> None:
    """Read what rows wait for: other rows, by the number in their code, else their place in the file, or by title."""
    codes = [re.fullmatch(r"(.*?)\s*(\d+)", code) for code, _ in waits]
    prefix = next((found[1] for found in codes if found and found[1]), "")
    rows = {
        str(index): Task(str(index), "", int(found[2]) if found else index + 1, None, "", "task", task.title, None, "", "")
        for index, (task, found) in enumerate(zip(tasks, codes, strict=True))
    }
    for index, (_, text) in enumerate(waits):
        try:
            tasks[index].waits_for = read_links(text, rows[str(index)], rows, prefix, against.day_minutes)
        except RuleError as error:
            problems.append(Problem(tasks[index].line, _head(table, matching, "waits_for"), error.sentence))


def _nest(
    tasks: list[ReadTask],
    links: list[tuple[str, str]],
    table: Table,
    matching: Sequence[str | None],
    problems: list[Problem],
) -> None:
    """Find each row's parent: from its outline number, else from a parent column that names a title or a number."""
    by_outline = {_outline(number): index for index, (number, _) in enumerate(links) if number}
    by_title: dict[str, int] = {}
    for index, task in enumerate(tasks):
        by_title.setdefault(task.title.lower(), index)
    for index, (number, parent) in enumerate(links):
        if parent:
            found = by_title.get(parent.lower(), by_outline.get(_outline(parent)))
            if found is None or found == index:
                problems.append(Problem(tasks[index].line, _head(table, matching, "parent"), f"No row is called “{parent}”."))
            else:
                tasks[index].parent = found
        elif "." in _outline(number):
            above = _outline(number).rpartition(".")[0]
            while above and above not in by_outline:
                above = above.rpartition(".")[0]
            if above and by_outline[above] != index:
                tasks[index].parent = by_outline[above]
    _refuse_circles(tasks, table, matching, problems)


def _outline(text: str) -> str:
    return re.sub(r"[^0-9.]", "", text).strip(".")


def _refuse_circles(tasks: list[ReadTask], table: Table, matching: Sequence[str | None], problems: list[Problem]) -> None:
    for index, task in enumerate(tasks):
        seen, at = {index}, task.parent
        while at is not None and at not in seen:
            seen.add(at)
            at = tasks[at].parent
        if at is not None:
            problems.append(Problem(task.line, table.heads[0], "This row stands under itself, by way of its parents."))
            task.parent = None


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


def write_csv(heads: Sequence[str], rows: Iterable[Sequence[str]]) -> bytes:
    """A CSV file that spreadsheets open as UTF-8. Text that a spreadsheet would run as a formula is kept as text."""
    out = io.StringIO(newline="")
    writer = csv.writer(out)
    writer.writerow(heads)
    writer.writerows([_safe(cell) for cell in row] for row in rows)
    return out.getvalue().encode("utf-8-sig")


def _safe(cell: str) -> str:
    return f"'{cell}" if cell[:1] in "=+-@\t\r" and cell[:1] and not re.fullmatch(r"[+-]?[\d.,]+%?", cell) else cell
