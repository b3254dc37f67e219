"""Status reports: the draft, publishing, the history, one report as page, PDF and Markdown."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Any, Literal

from fastapi import Query, Response
from pydantic import BaseModel, Field

from ...core.goals.model import Rhythm
from ...core.reports import model
from ...core.reports.drafting import RULES
from ...core.reports.words import write_markdown
from ...formats.report_pdf import write_report_pdf
from ...services.common.context import new_id
from ...services.reports import status
from ..common.inputs import MB, Code, Id, make_router
from ..common.use import Using, needs

router = make_router("reports")

Number = Annotated[int, Field(ge=1, le=2**31 - 1, description="Of the report in its project")]
Corrects = Annotated[int | None, Query(ge=1, le=2**31 - 1, description="The number of the report that it is to correct")]
Texts = Annotated[dict[model.SectionKey, Annotated[str, Field(max_length=model.LONGEST_TEXT)]], Field(max_length=10)]
People = Annotated[list[Id], Field(max_length=model.MOST_PEOPLE)]


class SourceOut(BaseModel):
    """From what a sentence was made."""

    words: str
    task_id: str | None
    number: int | None


class SentenceOut(BaseModel):
    """A proposed sentence with its sources."""

    text: str
    sources: list[SourceOut]


class IndicatorOut(BaseModel):
    """How one side of a project is judged."""

    health: model.Health
    proposed: model.Health
    why: str
    reason: str = Field(description="Why it is told otherwise than proposed")


class ToldOut(BaseModel):
    """The figures of a report."""

    phase: str
    finish: date | None
    agreed: date | None
    before: date | None = Field(description="The finish as the report before told it")
    percent: int
    planned: int | None = Field(description="Percent that was to be done by then")
    tasks: int
    late: int
    held: int


class SectionDraft(BaseModel):
    """A section as it is proposed."""

    key: model.SectionKey
    name: str
    sentences: list[SentenceOut]


class StatusDraftOut(BaseModel):
    """A report as it is proposed."""

    since: date
    day: date
    facts: str = Field(description="Sent with the report that is published, so that it is refused where they are others by then")
    told: ToldOut
    indicators: dict[model.IndicatorKey, IndicatorOut]
    sections: list[SectionDraft]
    rules: str = Field(description="By which indicators are proposed")


class ReportLine(BaseModel):
    """A published report in the history."""

    id: str
    number: int
    person_id: str
    at: datetime
    since: date
    day: date
    told: ToldOut
    indicators: dict[model.IndicatorKey, IndicatorOut]
    corrects: int | None
    people: list[str]
    readers: list[str]


class StatusReportOut(ReportLine):
    """A published report in full."""

    texts: dict[model.SectionKey, str]
    sentences: dict[model.SectionKey, list[SentenceOut]]
    names: dict[str, str] = Field(description="What its sections are called")
    corrected_by: int | None = Field(description="The number of the latest report that corrects it")


class ReportSettingsModel(BaseModel):
    """What the reports of a project hold, on which rhythm they are written, and to whom they go."""

    sections: Annotated[list[model.SectionKey], Field(max_length=10)]
    indicators: Annotated[list[model.IndicatorKey], Field(max_length=10)]
    rhythm: Rhythm | None = None
    people: People = []


class ReportsOut(BaseModel):
    """The reports of a project, the latest first."""

    reports: list[ReportLine]
    settings: ReportSettingsModel
    sections: dict[str, str] = Field(description="All sections that there are, by key their names")
    indicators: dict[str, str]
    due: date | None = Field(description="When the next is due")
    is_due: bool
    may_write: bool


class JudgedIn(BaseModel):
    """How an indicator is told, and why, where that is not what is proposed."""

    health: model.Health
    reason: Annotated[str, Field(max_length=model.LONGEST_REASON)] = ""


class ReportNew(BaseModel):
    """A report to be published, with the facts as they are at that moment."""

    id: Id = Field(default_factory=new_id, description="UUID of version 7, made by the client")
    texts: Texts
    judged: Annotated[dict[model.IndicatorKey, JudgedIn], Field(max_length=10)] = {}
    corrects: Number | None = None
    people: People = []
    facts: Annotated[str, Field(max_length=64)] | None = Field(None, description="Of the draft that was shown")


class NewestOut(BaseModel):
    """The newest report of a project."""

    code: str
    name: str
    report: ReportLine | None
    read: bool
    due: date | None
    is_due: bool
    may_write: bool
    leads: bool = Field(description="True where one leads the project, so that one is reminded")


class PublishedOut(BaseModel):
    """The number that a report got."""

    number: int


def _sentences(some: tuple[model.Sentence, ...]) -> list[SentenceOut]:
    return [
        SentenceOut(
            text=one.text, sources=[SourceOut(words=each.words, task_id=each.task_id, number=each.number) for each in one.sources]
        )
        for one in some
    ]


def _told(one: model.Told) -> ToldOut:
    return ToldOut.model_validate(one, from_attributes=True)


def _indicators(found: Any) -> dict[model.IndicatorKey, IndicatorOut]:
    return {key: IndicatorOut.model_validate(one, from_attributes=True) for key, one in found.items()}


def _line(use: Using, one: model.StatusReport, readers: list[str]) -> dict[str, Any]:
    return {
        "id": one.id, "number": one.number, "person_id": one.person_id, "at": use.actor.clock.local(one.at), "since": one.since,
        "day": one.day, "told": _told(one.told), "indicators": _indicators(one.indicators), "corrects": one.corrects,
        "people": list(one.people), "readers": readers,
    }  # fmt: skip


@router.get("/reports", openapi_extra=needs("person"))
def read_newest(use: Using) -> list[NewestOut]:
    """Of every project that one sees the newest status report, those first that are due."""
    return [
        NewestOut(
            code=one.project.code, name=one.project.name, report=ReportLine(**_line(use, one.report, [])) if one.report else None,
            read=one.read, due=one.due, is_due=one.is_due, may_write=one.may_write, leads=one.leads,
        )
        for one in use.read(status.read_newest)
    ]  # fmt: skip


@router.get("/projects/{code}/reports", openapi_extra=needs("see"))
def read_reports(code: Code, use: Using) -> ReportsOut:
    """The status reports of a project, the latest first."""
    page = use.read(status.read_reports, code)
    settings = page.settings
    return ReportsOut(
        reports=[ReportLine(**_line(use, one, page.readers.get(one.id, []))) for one in page.reports],
        settings=ReportSettingsModel(sections=list(settings.sections), indicators=list(settings.indicators), rhythm=settings.rhythm,
                                     people=list(settings.people)),
        sections=dict(model.SECTIONS), indicators=dict(model.INDICATORS), due=page.due, is_due=page.is_due, may_write=page.may_write,
    )  # fmt: skip


@router.get("/projects/{code}/reports/draft", openapi_extra=needs("manage"))
def read_draft(code: Code, use: Using, corrects: Corrects = None) -> StatusDraftOut:
    """The report of today as it is proposed, or a correction of one: facts, each with what it was made from."""
    found = use.read(status.draft, code, corrects)
    return StatusDraftOut(
        since=found.since, day=found.day, facts=model.fingerprint(found), told=_told(found.told), indicators=_indicators(found.indicators), rules=RULES,
        sections=[SectionDraft(key=key, name=model.SECTIONS[key], sentences=_sentences(some)) for key, some in found.sections.items()],
    )  # fmt: skip


@router.post("/projects/{code}/reports", openapi_extra=needs("manage", MB), status_code=201)
def publish(code: Code, body: ReportNew, use: Using) -> PublishedOut:
    """Publish a report. It never changes; a correction is a new one that says so."""
    judged = {key: (one.health, one.reason) for key, one in body.judged.items()}
    use.write(status.publish, code, status.NewReport(body.id, body.texts, judged, body.corrects, tuple(body.people), body.facts))
    return PublishedOut(number=use.read(status.number_of, code, body.id))


@router.put("/projects/{code}/reports/settings", openapi_extra=needs("manage"), status_code=204)
def set_settings(code: Code, body: ReportSettingsModel, use: Using) -> None:
    """Say what the reports of a project hold, on which rhythm they are written, and to whom they go."""
    use.write(
        status.set_settings,
        code,
        model.ReportSettings(tuple(body.sections), tuple(body.indicators), body.rhythm, tuple(body.people)),
    )


@router.get("/projects/{code}/reports/{number}", openapi_extra=needs("see"))
def read_report(code: Code, number: Number, use: Using) -> StatusReportOut:
    """One report."""
    one = use.read(status.read_report, code, number)
    return StatusReportOut(
        **_line(use, one, use.read(status.readers_of, one.id)), texts=dict(one.texts),
        sentences={key: _sentences(some) for key, some in one.sentences.items()}, names=dict(model.SECTIONS),
        corrected_by=use.read(status.corrected_by, one),
    )  # fmt: skip


@router.post("/projects/{code}/reports/{number}/read", openapi_extra=needs("see"), status_code=204)
def mark_read(code: Code, number: Number, use: Using) -> None:
    """Note that one has read a report."""
    use.write(status.mark_read, code, number)


@router.get("/projects/{code}/reports/{number}/file.{kind}", openapi_extra=needs("see"), response_class=Response)
def export_report(code: Code, number: Number, kind: Literal["pdf", "md"], use: Using) -> Response:
    """A report as PDF or Markdown."""
    one = use.read(status.read_report, code, number)
    name, writer = use.read(status.names_of, one)
    if kind == "pdf":
        body, media = write_report_pdf(one, code.upper(), name, writer, use.actor.clock.now()), "application/pdf"
    else:
        body, media = write_markdown(one, code.upper(), name, writer).encode(), "text/markdown; charset=utf-8"
    headers = {"Content-Disposition": f'attachment; filename="{code.upper()} status report {number}.{kind}"'}
    return Response(body, media_type=media, headers=headers)
