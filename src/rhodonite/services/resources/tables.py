"""Resources and absences out and in as tables: all rows of a file, or none."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, time, timedelta
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.errors import RuleError
from ...core.people.model import Person
from ...core.resources.bookable import RESOURCE_KINDS, Resource
from ...core.resources.capacity import Absence
from ...core.schedule.plan import Plan
from ...formats.csv_table import Table, read_table
from ...store.common.locks import lock_organisation
from ...store.people import people as people_rows
from ..common.context import Actor, new_id, open_project
from .absences import insert_absences
from .bookable_resources import insert_resources, list_resources, whose
from .capacity import readable_staff

RESOURCE_HEADS = ("Name", "Kind", "People", "Unit")
ABSENCE_HEADS = ("Person", "Kind", "From", "To", "Note")
MOST_ROWS = 2_000
"""Of a file of resources or absences."""
Rows = list[list[str]]


@dataclass(frozen=True, slots=True)
class Brought:
    """How many rows of a file came in, and how many were there already."""

    added: int
    known: int


def numbers_of(plan: Plan) -> dict[str, str]:
    """By its number the id of each task of a plan, for ``task_in``."""
    return {str(row.task.number): row.task.id for row in plan.rows.values()}


def task_in(text: str, numbers: Mapping[str, str], code: str) -> str:
    """The id of a task that a cell names by its number, with or without the code of its project. Raises RuleError where none is."""
    found = numbers.get(text.upper().removeprefix(code).strip())
    if found is None:
        raise RuleError(f"“{text[:40]}” is no task here. Name it by its number, such as {code} 42.", "file")
    return found


def resources_out(cur: Cursor, actor: Actor, code: str | None) -> Rows:
    """The resources of a project, or of the organisation, as ``resources_in`` reads them."""
    if code is None:
        found: Sequence[Resource] = readable_staff(cur, actor).resources
    else:
        project = open_project(cur, actor, code, "see")
        found = [one for one in list_resources(cur, actor, code) if one.project_id == project.id]
    return [[one.name, one.kind, f"{one.people:g}" if one.kind == "labour" else "", one.unit] for one in found]


def absences_out(cur: Cursor, actor: Actor) -> Rows:
    """All absences, as ``absences_in`` reads them; why others are away is for managers."""
    staff = readable_staff(cur, actor)
    names = {one.id: one.name for one in people_rows.all_people(cur)}
    return [[names.get(one.person_id, ""), one.kind, *_said(one), one.note] for one in staff.absences if one.person_id in names]


def _said(one: Absence) -> tuple[str, str]:
    """From when to when: days, of which the last counts, where whole ones are meant."""
    if one.start.time() == one.end.time() == time():
        return f"{one.start:%Y-%m-%d}", f"{one.end - timedelta(days=1):%Y-%m-%d}"
    return f"{one.start:%Y-%m-%d %H:%M}", f"{one.end:%Y-%m-%d %H:%M}"


def resources_in(cur: Cursor, actor: Actor, code: str | None, data: bytes) -> Brought:
    """Bring resources of a file in. One that is there by its name and kind stays as it is.

    Raises:
        RuleError: a row that cannot be, with its line.
        Missing, Forbidden: as for adding one by hand.
    """
    whose(cur, actor, code)  # before anything is said of the file
    read = [
        (line, Resource(new_id(), None, row["name"], _number(row["people"] or "1", line), _kind(row["kind"]), row["unit"]))
        for line, row in read_rows(data, RESOURCE_HEADS, needs=("name",))
    ]  # fmt: skip
    lock_organisation(cur)  # what the same file brings at this moment is there then
    added = insert_resources(cur, actor, code, read)
    return Brought(added, len(read) - added)


def _kind(text: str) -> Any:
    """What is not known is told by the rule on kinds."""
    return next((one for one in RESOURCE_KINDS if one == text.casefold()), text.casefold() or "labour")


def _number(text: str, line: int) -> float:
    try:
        return float(text.replace(",", "."))
    except ValueError as error:
        raise RuleError(f"Line {line}: “{text[:40]}” is no number of people.", "file") from error


def absences_in(cur: Cursor, actor: Actor, data: bytes) -> Brought:
    """Bring absences of a file in: people by name or e-mail, days or moments. Those that are there stay as they are.

    Raises:
        RuleError: a row that cannot be, with its line.
        Forbidden: they are another's, and the actor is neither manager nor administrator.
    """
    actor.require("see_people")
    people = people_rows.all_people(cur)
    by_mail = {one.email.casefold(): one for one in people}
    by_name: dict[str, list[Person]] = {}
    for one in people:
        by_name.setdefault(one.name.casefold(), []).append(one)
    read = []
    for line, row in read_rows(data, ABSENCE_HEADS, needs=("person", "from")):
        named = by_name.get(row["person"].casefold(), [])
        person = by_mail.get(row["person"].casefold()) or (named[0] if len(named) == 1 else None)
        if person is None:
            many = "several are" if named else "nobody is"
            raise RuleError(f"Line {line}: {many} called {row['person'][:60]}. Use the e-mail.", "file")
        start, end = _moment(row["from"], line, end=False), _moment(row["to"] or row["from"], line, end=True)
        read.append((line, Absence(new_id(), person.id, row["kind"].casefold() or "leave", start, end, row["note"])))
    lock_organisation(cur)
    added = insert_absences(cur, actor, read)
    return Brought(added, len(read) - added)


def _moment(text: str, line: int, *, end: bool) -> datetime:
    """A day, whose end is that of the day, or a moment."""
    try:
        at = datetime.fromisoformat(text)
    except ValueError as error:
        raise RuleError(f"Line {line}: “{text[:40]}” is no day. Write it as 2027-03-17, or 2027-03-17 13:00.", "file") from error
    at = at.replace(tzinfo=None, second=0, microsecond=0)
    return at + timedelta(days=1) if end and len(text) <= len("2027-03-17") else at


def read_rows(data: bytes, heads: Sequence[str], needs: Sequence[str], most: int = MOST_ROWS) -> list[tuple[int, dict[str, str]]]:
    """The rows of a table with known columns: each with its line and its cells by the name of the column in lower case.

    Raises:
        RuleError: it is no table, has too many rows, or lacks what is needed.
    """
    table = read_table(data)
    if len(table.rows) > most:
        raise RuleError(f"The file has {len(table.rows)} rows; {most} is the most. Split it.", "file")
    places = _places(table, [one.casefold() for one in heads])
    for name in needs:
        if name not in places:
            raise RuleError(f"The file has no column {name.capitalize()}. Its columns are {', '.join(heads)}.", "file")
    found = []
    for line, cells in table.rows:
        row = {one.casefold(): _cell(cells, places.get(one.casefold())) for one in heads}
        for name in needs:
            if not row[name]:
                raise RuleError(f"Line {line}: {name.capitalize()} is empty.", "file")
        found.append((line, row))
    return found


def _places(table: Table, names: Sequence[str]) -> Mapping[str, int]:
    heads = [one.casefold().strip() for one in table.heads]
    return {name: heads.index(name) for name in names if name in heads}


def _cell(cells: Sequence[str], place: int | None) -> str:
    return cells[place].strip() if place is not None and place < len(cells) else ""
