"""Sheets that are sent every week: each person gets what they may see of it, as a mail with the table."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from datetime import timedelta
from urllib.parse import parse_qsl, urlencode

from pymysql.cursors import Cursor

from ...core.common.counts import count_of, one_line
from ...core.common.dates import say_day
from ...core.common.errors import Forbidden, Missing, RuleError
from ...core.people.model import Person
from ...core.tasks.model import LENSES, Project
from ...core.views.kept import read_kept, with_columns
from ...formats.csv_table import write_csv
from ...formats.xlsx_table import MEDIA, write_xlsx
from ...standins.dispatch import MailFile, send_mail
from ...store.people import people as people_rows
from ...store.tasks import projects as project_rows
from ...store.views import sheets as rows
from ...store.views.sheets import Sheet
from ..common.context import Actor, Clock, new_id
from . import all_projects, csv_export

SEND_HOUR = 7
"""Local time, from which on a day's sheets are sent."""
MOST_LINES = 40
MOST_BYTES = 8_000_000
"""Of a file that hangs on a mail; what is larger is had by the link."""
Table = tuple[list[str], list[list[str]]]


def is_to_send(one: Sheet, clock: Clock) -> bool:
    """Whether the day on which a sheet is sent has come since it was sent last; one that was missed is made up for."""
    now = clock.now()
    today = now.date()
    day = today - timedelta(days=(today.weekday() - (one.send_on or 0)) % 7)
    if day == today and now.hour < SEND_HOUR:
        day -= timedelta(days=7)
    return one.send_on is not None and (one.sent is None or one.sent < day)


def sheets_to_send(cur: Cursor, clock: Clock) -> list[str]:
    """The ids of the sheets whose day has come."""
    return [one.id for one in rows.to_send(cur) if is_to_send(one, clock)]


def send_sheet(cur: Cursor, clock: Clock, address: str, sheet_id: str) -> int:
    """Send what a sheet shows. Returns how many mails that were."""
    sheet = rows.sheet(cur, sheet_id)
    if sheet is None or sheet.deleted_at is not None or not is_to_send(sheet, clock):
        return 0
    if not rows.mark_sent(cur, sheet.id, clock.now().date()):
        return 0
    people = {one.id: one for one in people_rows.all_people(cur) if one.active}
    project = project_rows.project(cur, sheet.project_id) if sheet.project_id else None
    if sheet.person_id not in people or (project is not None and project.archived_at is not None):
        return 0
    to = [Actor(people[one], clock, address=address) for one in sheet.send_to if one in people]
    return sum(_send(cur, each, people[sheet.person_id], sheet, project) for each in to)


def _send(cur: Cursor, to: Actor, keeper: Person, sheet: Sheet, project: Project | None) -> bool:
    """Send a sheet to one person. Nothing goes to who may not see its project."""
    try:
        heads, table = _table(cur, to, sheet, project)
    except (Missing, Forbidden, RuleError):
        return False
    today = to.clock.now().date()
    name = one_line(sheet.name)
    about = f"{project.code}: {name}" if project else name
    lens = sheet.view.get("lens")
    where = f"/p/{project.code}/{lens if lens in LENSES else 'outline'}" if project else "/desk/all_work"
    query = urlencode([("sheet", sheet.id), *parse_qsl(str(sheet.view.get("query") or ""), keep_blank_values=True)])
    lines = [*_lines(heads, table[:MOST_LINES]), *([f"and {len(table) - MOST_LINES} more"] if len(table) > MOST_LINES else [])]
    head = f"{about}, {say_day(today)}: {count_of(len(table), 'task')}."
    foot = f"{to.address}{where}?{query}\n\n{one_line(keeper.name)} lets this be sent to you every {today:%A}."
    body = "\n".join([head, "", *lines, "", foot])
    files = _files(f"{sheet.name} {say_day(today)}", heads, table)
    send_mail(
        cur, new_id(), to.clock.utc(), to=to.person.email, subject=f"{about}, {say_day(today)}"[:300], body=body, files=files
    )
    return True


def _table(cur: Cursor, to: Actor, sheet: Sheet, project: Project | None) -> Table:
    found: Table = ([], [])

    def take(heads: Sequence[str], table: Iterable[Sequence[str]]) -> bytes:
        found[0].extend(heads)
        found[1].extend([list(row) for row in table])
        return b""

    scope, view = read_kept(sheet.view)
    if project is None:
        all_projects.export_tasks(cur, to, scope, with_columns(view), take)
    else:
        columns = [one.key for one in view.columns] or ["number", "title", "state", "owner", "start", "finish", "percent"]
        csv_export.export_tasks(cur, to, project.code, scope, columns, view.tints, take)
    return found


def _lines(heads: Sequence[str], table: Sequence[Sequence[str]]) -> list[str]:
    """Rows as lines to be read: the code and the title, then what else is known of each. What people typed stays within its
    line, and a sign before each says that it is one of the list: nobody writes a line of the mail itself."""
    return [
        "- " + ", ".join(one_line(value) if index < 2 else f"{one_line(head).lower()} {one_line(value)}" for index, (head, value) in enumerate(zip(heads, row, strict=True)) if value)
        for row in table
    ]  # fmt: skip


def _files(name: str, heads: list[str], table: list[list[str]]) -> list[MailFile]:
    made = [("csv", "text/csv; charset=utf-8", write_csv(heads, table)), ("xlsx", MEDIA, write_xlsx(heads, table))]
    clean = "".join(one for one in name if one.isalnum() or one in " -_,.")[:120]
    return [MailFile(new_id(), f"{clean}.{ending}", media, body) for ending, media, body in made if len(body) <= MOST_BYTES]
