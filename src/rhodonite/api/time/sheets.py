"""Time sheets by week, and reports of time."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Literal

from fastapi import Query, Response
from pydantic import BaseModel, Field

from ...core.time.entries import LONGEST_NOTE, WeekState
from ...core.time.report import MOST_GROUPINGS, By, ReportLine
from ...services.time import reports, sheets
from ..common.inputs import Day, Id, make_router
from ..common.tables import TableKind, table_answer, writer_of
from ..common.use import Using, needs
from .entries import TimeEntryModel, entry_out

router = make_router("time")

State = Literal["open"] | WeekState


class SheetRowOut(BaseModel):
    """A task with its entries of a week."""

    code: str
    task_id: str
    number: int
    title: str
    finished: bool
    in_bin: bool = Field(description="True where the task was deleted; its hours stay")
    entries: list[TimeEntryModel]
    may_enter: bool
    why: Literal["", "last_week", "at_work"] = Field(description="Of a task without hours, why it is offered")


class InProjectOut(BaseModel):
    """How a week stands in one project."""

    code: str
    name: str
    minutes: int
    state: State
    word: str
    by_id: str | None
    may_judge: bool


class TimeSheetOut(BaseModel):
    """A person's week."""

    person_id: str
    monday: date
    today: date
    rows: list[SheetRowOut]
    offered: list[SheetRowOut] = Field(description="Tasks without hours: those of the week before, and what one is at work on")
    other: list[int] = Field(description="Minutes by day on work that the reader may not see")
    capacity: list[int] = Field(description="Bookable minutes by day")
    projects: list[InProjectOut]
    state: State
    mine: bool


class WeekIn(BaseModel):
    """A week, by any of its days."""

    day: Day


class JudgeIn(BaseModel):
    """A week to be accepted, or returned with a word."""

    person_id: Id
    day: Day
    codes: Annotated[list[Annotated[str, Field(max_length=20)]], Field(max_length=200)] | None = Field(
        None, description="The projects; null: all that one leads"
    )
    accept: bool
    word: Annotated[str, Field(max_length=LONGEST_NOTE)] = ""


class HandedWeekOut(BaseModel):
    """A week that waits for one, or was returned to one."""

    person_id: str
    monday: date
    code: str
    minutes: int
    state: WeekState
    word: str
    by_id: str


class WeeksOut(BaseModel):
    """What of weeks is to be done."""

    waiting: list[HandedWeekOut] = Field(description="To be accepted or returned by the person who asks")
    returned: list[HandedWeekOut] = Field(description="Their own, to be mended")


def _row(one: sheets.SheetRow, states: dict[str, WeekState]) -> SheetRowOut:
    return SheetRowOut(
        code=one.project.code, task_id=one.task.id, number=one.task.number, title=one.task.title,
        finished=one.finished, in_bin=one.in_bin,
        entries=[entry_out(each, states.get(one.project.id)) for each in one.entries],
        may_enter=one.may_enter and states.get(one.project.id) not in ({"accepted"} if one.leads else {"accepted", "handed_in"}),
        why=one.why,
    )  # fmt: skip


@router.get("/time-sheet", openapi_extra=needs("person"))
def read_sheet(use: Using, person_id: Id | None = None, day: Day | None = None) -> TimeSheetOut:
    """A week of hours: one’s own, or another’s as far as one leads their projects."""
    found = use.read(sheets.read_sheet, person_id, day)
    states = {one.project.id: one.handed.state for one in found.projects if one.handed}
    return TimeSheetOut(
        person_id=found.person.id,
        monday=found.monday,
        today=use.actor.clock.now().date(),
        rows=[_row(one, states) for one in found.rows],
        offered=[_row(one, states) for one in found.offered],
        other=found.other,
        capacity=found.capacity,
        projects=[
            InProjectOut(
                code=one.project.code, name=one.project.name, minutes=one.minutes, state=one.handed.state if one.handed else "open",
                word=one.handed.word if one.handed else "", by_id=one.handed.by_id if one.handed else None, may_judge=one.may_judge,
            )
            for one in found.projects
        ],
        state=found.state,
        mine=found.mine,
    )  # fmt: skip


class ChangedWeek(BaseModel):
    """To take the change back by."""

    change: str


@router.post("/time-sheet/hand-in", openapi_extra=needs("person"))
def hand_in(body: WeekIn, use: Using) -> ChangedWeek:
    """Hand in one’s own week."""
    use.write(sheets.hand_in, body.day)
    return ChangedWeek(change=use.actor.change_id)


@router.post("/time-sheet/take-back", openapi_extra=needs("person"))
def take_week_back(body: WeekIn, use: Using) -> ChangedWeek:
    """Take back one’s own week where it waits."""
    use.write(sheets.take_week_back, body.day)
    return ChangedWeek(change=use.actor.change_id)


@router.post("/time-sheet/judge", openapi_extra=needs("person"))
def judge_week(body: JudgeIn, use: Using) -> ChangedWeek:
    """Accept a week in the projects that one leads, which closes its hours, or return it with a word."""
    use.write(sheets.judge, body.person_id, body.day, body.codes, body.accept, body.word)
    return ChangedWeek(change=use.actor.change_id)


def _waiting(one: sheets.Waiting) -> HandedWeekOut:
    return HandedWeekOut(
        person_id=one.person.id, monday=one.handed.monday, code=one.project.code, minutes=one.minutes, state=one.handed.state,
        word=one.handed.word, by_id=one.handed.by_id,
    )  # fmt: skip


@router.get("/time-sheets", openapi_extra=needs("person"))
def read_weeks(use: Using) -> WeeksOut:
    """The weeks that wait for one, and one’s own that were returned."""
    return WeeksOut(
        waiting=[_waiting(one) for one in use.read(sheets.read_waiting)],
        returned=[_waiting(one) for one in use.read(sheets.read_returned)],
    )


# reports

Groups = Annotated[list[By], Query(min_length=1, max_length=MOST_GROUPINGS)]
IdList = Annotated[list[Id], Query(max_length=500)]
Codes = Annotated[list[Annotated[str, Field(max_length=20)]], Query(max_length=500)]


class ReportLineOut(BaseModel):
    """A group with its sums; ``keys`` are its own and those above it."""

    keys: list[str]
    minutes: int
    billable: int = Field(description="Minutes of them that can be charged")
    entries: int
    estimate: int | None = Field(description="Minutes, of the tasks in the group; null where it is grouped by more than tasks")


class ReportOut(BaseModel):
    """Hours by groups: each before those within it. The sums of the outermost are the total."""

    by: list[By]
    lines: list[ReportLineOut]
    total: ReportLineOut
    labels: dict[str, dict[str, str]] = Field(description="By group and key what it is called")
    tasks: dict[str, str] = Field(description="By task the code of its project")


def _line(one: ReportLine) -> ReportLineOut:
    return ReportLineOut(
        keys=list(one.keys), minutes=one.minutes, billable=one.billable, entries=one.entries, estimate=one.estimate
    )


def _asked(first: date, last: date, by: list[By], people: list[str], teams: list[str], projects: list[str], billable: bool | None) -> reports.Asked:  # fmt: skip
    return reports.Asked(first, last, tuple(by), tuple(people), tuple(teams), tuple(projects), billable)


@router.get("/time-report", openapi_extra=needs("person"))
def read_report(
    use: Using,
    first: Day,
    last: Day,
    by: Groups = ["person", "project"],  # noqa: B006  FastAPI copies it
    people: IdList = [],  # noqa: B006
    teams: IdList = [],  # noqa: B006
    projects: Codes = [],  # noqa: B006
    billable: bool | None = None,
) -> ReportOut:
    """Hours by person, project, task, kind, day, week, month, or whether they can be charged; of what one may see."""
    found = use.read(reports.read_report, _asked(first, last, by, people, teams, projects, billable))
    return ReportOut(
        by=list(found.report.by),
        lines=[_line(one) for one in found.report.lines],
        total=_line(found.report.total),
        labels=found.labels,
        tasks=found.tasks,
    )


@router.get("/time-report.{form}", openapi_extra=needs("person"), response_class=Response)
def export_report(
    form: TableKind,
    use: Using,
    first: Day,
    last: Day,
    by: Groups = ["person", "project"],  # noqa: B006
    people: IdList = [],  # noqa: B006
    teams: IdList = [],  # noqa: B006
    projects: Codes = [],  # noqa: B006
    billable: bool | None = None,
) -> Response:
    """The same as a table: its innermost groups, so that columns can be summed."""
    found = use.read(reports.read_report, _asked(first, last, by, people, teams, projects, billable))
    return table_answer(use, writer_of(form)(*reports.report_table(found)), form, "time report")


@router.get("/time.{form}", openapi_extra=needs("person"), response_class=Response)
def export_time(form: TableKind, use: Using, first: Day, last: Day) -> Response:
    """All entries that one may see, one by one."""
    body = writer_of(form)(reports.ENTRY_HEADS, use.read(reports.entries_out, first, last, None))
    return table_answer(use, body, form, "time")
