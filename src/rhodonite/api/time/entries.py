"""Time entries of a project and of a task, and the timer."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Any, ClassVar

from fastapi import Query, Response
from pydantic import BaseModel, Field

from ...core.common.bounds import MINUTES_A_DAY
from ...core.common.errors import RuleError
from ...core.time.entries import LONGEST_NOTE, TimeEntry, WeekState, monday_of
from ...core.time.typed import read_hours
from ...services.common.context import new_id
from ...services.time import entries, reports, tables, timers
from ..common.brought import BroughtOut, brought_out
from ..common.inputs import MB, Changes, Day, Id, Ids, Revision, make_router
from ..common.tables import LARGEST_SHORT, TableFile, TableKind, read_upload, table_answer, writer_of
from ..common.use import Using, needs

router = make_router("time")

Minutes = Annotated[int, Field(ge=1, le=MINUTES_A_DAY, examples=[90])]
Started = Annotated[int, Field(ge=0, lt=MINUTES_A_DAY, description="The minute of the day at which it began", examples=[9 * 60])]
Note = Annotated[str, Field(max_length=LONGEST_NOTE)]


class TimeEntryModel(BaseModel):
    """Minutes of a person on a task on a day."""

    id: str
    task_id: str
    person_id: str
    day: date
    minutes: int
    started: int | None
    note: str
    billable: bool
    revision: int
    closed: WeekState | None = Field(None, description="How its week stands, where it was handed in")
    charged: bool = Field(description="True where it stands on an invoice sheet, and does not change")


class Typed(BaseModel):
    """Hours, as minutes or as they are typed; typed ones may say from when to when."""

    minutes: Minutes | None = None
    hours: Annotated[str, Field(max_length=60, examples=["1:30", "9:15-11"])] | None = None

    def read(self) -> dict[str, int | None]:
        """Minutes and, where it was typed, when they began. Raises RuleError where the text is no time."""
        if self.hours is None:
            return {"minutes": self.minutes} if self.minutes is not None else {}
        minutes, started = read_hours(self.hours)
        return {"minutes": minutes} if started is None else {"minutes": minutes, "started": started}


class TimeEntryNew(Typed):
    """Time to be written down."""

    id: Id = Field(default_factory=new_id, description="UUID of version 7, made by the client")
    task_id: Id
    person_id: Id | None = Field(None, description="Whose; null: one’s own. Those of others are for leads")
    day: Day
    started: Started | None = None
    note: Note = ""
    billable: bool = True

    def made(self, person_id: str) -> TimeEntry:
        """As services take it. Raises RuleError where it is not said how long it was."""
        read = {"started": self.started, **self.read()}
        minutes, started = read.get("minutes"), read.get("started")
        if minutes is None:
            raise RuleError("Say how long it was: as 2, 1:30, 45 min or 9:15-11.", "minutes")
        return TimeEntry(
            self.id, "", self.task_id, self.person_id or person_id, self.day, minutes, started, self.note, self.billable
        )


class TimeNew(BaseModel):
    """Several entries, all of them or none."""

    entries: Annotated[list[TimeEntryNew], Field(min_length=1, max_length=entries.MOST_AT_ONCE)]


class TimeEntryEdit(Changes):
    """Changed fields of an entry, and the revision that they were edited at."""

    may_be_null: ClassVar[frozenset[str]] = frozenset({"started"})

    id: Id
    revision: Revision
    task_id: Id | None = None
    day: Day | None = None
    minutes: Minutes | None = None
    hours: Annotated[str, Field(max_length=60)] | None = Field(None, description="As they are typed, in place of minutes")
    started: Started | None = None
    note: Note | None = None
    billable: bool | None = None

    def fields(self) -> dict[str, Any]:
        """What was sent, read. Raises RuleError where typed hours are none."""
        sent = self.sent
        return {name: value for name, value in sent.items() if name in entries.FIELDS} | (
            Typed(hours=sent["hours"]).read() if "hours" in sent else {}
        )


class TimeEdit(BaseModel):
    """Edits of several entries."""

    entries: Annotated[list[TimeEntryEdit], Field(min_length=1, max_length=500)]


class TimeGone(BaseModel):
    """Entries to be taken away."""

    ids: Ids


class ChangedTime(BaseModel):
    """To take the change back by."""

    change: str


class PersonTime(BaseModel):
    """Minutes of one person."""

    person_id: str
    minutes: int = Field(description="On the task itself")
    below: int = Field(description="With all that stands below it")


class TaskTimeOut(BaseModel):
    """The time of one task."""

    people: list[PersonTime]
    spent: int = Field(description="Minutes on the task itself")
    below: int = Field(description="With all that stands below it")
    estimate: int | None
    entries: list[TimeEntryModel] = Field(description="The latest on the task itself, the latest first")
    more: bool
    may_enter: bool
    leads: bool = Field(description="True where one may enter and change the hours of others")


def entry_out(one: TimeEntry, closed: WeekState | None = None) -> TimeEntryModel:
    """An entry as it is told."""
    return TimeEntryModel(
        id=one.id, task_id=one.task_id, person_id=one.person_id, day=one.day, minutes=one.minutes, started=one.started,
        note=one.note, billable=one.billable, revision=one.revision, closed=closed,
        charged=one.invoice_id is not None,
    )  # fmt: skip


@router.get("/tasks/{task_id}/time", openapi_extra=needs("see"))
def read_task_time(task_id: Id, use: Using) -> TaskTimeOut:
    """What was spent on a task: by person, on it and on everything below, against its estimate."""
    found = use.read(entries.read_task_time, task_id)
    return TaskTimeOut(
        people=[PersonTime(person_id=who, minutes=minutes, below=below) for who, minutes, below in found.people],
        spent=found.spent,
        below=found.below,
        estimate=found.estimate,
        entries=[entry_out(one, found.closed.get((one.person_id, monday_of(one.day), one.project_id))) for one in found.entries],
        more=found.more,
        may_enter=found.may_enter,
        leads=found.leads,
    )


@router.post("/projects/{code}/time", openapi_extra=needs("at_work", MB), status_code=201)
def add_time(code: str, body: TimeNew, use: Using) -> ChangedTime:
    """Write time down: as a contributor on any task, else on those that one owns, helps with or is booked on."""
    use.write(entries.add_entries, code, [one.made(use.actor.person.id) for one in body.entries])
    return ChangedTime(change=use.actor.change_id)


@router.patch("/projects/{code}/time", openapi_extra=needs("see"))
def edit_time(code: str, body: TimeEdit, use: Using) -> ChangedTime:
    """Change entries: one’s own, or as a lead anybody’s."""
    use.write(entries.edit_entries, code, [entries.EntryEdit(one.id, one.revision, one.fields()) for one in body.entries])
    return ChangedTime(change=use.actor.change_id)


@router.post("/projects/{code}/time/delete", openapi_extra=needs("see"))
def delete_time(code: str, body: TimeGone, use: Using) -> ChangedTime:
    """Take entries away."""
    use.write(entries.delete_entries, code, body.ids)
    return ChangedTime(change=use.actor.change_id)


@router.post("/projects/{code}/time/table", openapi_extra=needs("at_work", file=LARGEST_SHORT))
def import_time(code: str, file: TableFile, use: Using) -> BroughtOut:
    """Bring time entries in from a table, all rows or none."""
    return brought_out(use, use.write(tables.entries_in, code, read_upload(file, LARGEST_SHORT)))


@router.get("/projects/{code}/time.{form}", openapi_extra=needs("see"), response_class=Response)
def export_project_time(
    code: str, form: TableKind, first: Annotated[Day, Query()], last: Annotated[Day, Query()], use: Using
) -> Response:
    """The time entries of a project, as they are read back in."""
    use.read(entries.check_readable, code)
    body = writer_of(form)(reports.ENTRY_HEADS, use.read(reports.entries_out, first, last, code))
    return table_answer(use, body, form, f"{code.upper()} time")


# the timer


class TimerOut(BaseModel):
    """What one works on now."""

    task_id: str
    code: str | None = Field(description="Of the project; null where one may see it no more")
    number: int | None
    title: str | None
    started: datetime = Field(description="Local time")
    started_at: datetime = Field(description="The instant, in UTC")
    minutes: int = Field(description="That it has run")
    forgotten: bool = Field(description="True where that is longer than a day’s work: say what it really was to stop it")
    note: str
    billable: bool


class TimerState(BaseModel):
    """The timer of the person who asks; null where none runs."""

    timer: TimerOut | None
    used: bool = Field(description="True where a project that one may see records time")


class TimerStart(BaseModel):
    """The task whose time is to be counted. Another timer that runs is stopped first."""

    task_id: Id
    note: Note = ""
    billable: bool = True


class TimerEdit(Changes):
    """What the time goes into, and whether it can be charged."""

    note: Note | None = None
    billable: bool | None = None


class TimerStop(Typed):
    """How a timer ends: with what it really was where it was forgotten."""

    note: Note | None = None


def _timer(use: Using) -> TimerState:
    found, used = use.read(timers.read_timer), use.read(timers.is_used)
    if found is None:
        return TimerState(timer=None, used=used)
    one, task = found.timer, found.task
    return TimerState(
        used=used,
        timer=TimerOut(
            task_id=one.task_id, code=found.project.code if found.project else None, number=task.number if task else None,
            title=task.title if task else None, started=found.started, started_at=one.started_at, minutes=found.minutes,
            forgotten=found.forgotten, note=one.note, billable=one.billable,
        )
    )  # fmt: skip


@router.get("/timer", openapi_extra=needs("person"))
def read_timer(use: Using) -> TimerState:
    """One’s own timer."""
    return _timer(use)


@router.put("/timer", openapi_extra=needs("at_work"))
def start_timer(body: TimerStart, use: Using) -> TimerState:
    """Start to count the time of a task; a timer that runs on it already runs on."""
    use.write(timers.start_timer, body.task_id, body.note, body.billable)
    return _timer(use)


@router.patch("/timer", openapi_extra=needs("person"))
def edit_timer(body: TimerEdit, use: Using) -> TimerState:
    """Change the note of the timer, or whether its time can be charged."""
    use.write(timers.edit_timer, body.note, body.billable)
    return _timer(use)


@router.post("/timer/stop", openapi_extra=needs("person"))
def stop_timer(body: TimerStop, use: Using) -> TimerState:
    """Stop the timer: what it counted becomes an entry."""
    use.write(timers.stop_timer, body.read().get("minutes"), body.note)
    return _timer(use)


@router.delete("/timer", openapi_extra=needs("person"))
def discard_timer(use: Using) -> TimerState:
    """Stop the timer without an entry."""
    use.write(timers.discard_timer)
    return _timer(use)
