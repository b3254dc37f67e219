"""Status reports: drafted from the plan, judged by a person, published once and for all, read and reminded of."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from typing import Any

from pymysql.cursors import Cursor

from ...core.common.dates import say_day
from ...core.common.errors import Missing, RuleError
from ...core.cost.budgets import Standing
from ...core.goals.rhythm import is_due
from ...core.overview.readings import forecast_finish
from ...core.people.access import may_in_project, project_role
from ...core.people.model import Person
from ...core.people.preferences import NoticeKind, mail_for
from ...core.reports.drafting import draft_report
from ...core.reports.model import (
    Draft,
    Health,
    IndicatorKey,
    PartTold,
    ReportSettings,
    SectionKey,
    StatusReport,
    check_settings,
    check_texts,
    fingerprint,
    judged,
    next_report,
    without_money,
)
from ...core.reports.words import title_of, write_markdown
from ...core.tasks.model import Project
from ...standins.dispatch import send_mail
from ...store.common.database import from_json
from ...store.common.journal import Entry
from ...store.people import people as people_rows
from ...store.reports import reports as rows
from ...store.talk import notices as notice_rows
from ...store.talk.notices import Notice
from ...store.tasks import projects as project_rows
from ..common.context import Actor, Clock, check_not_archived, new_id, once, open_project, writing
from ..common.pipeline import as_before, worries_of
from ..common.plan_cache import PLANS, CachedPlan
from ..cost.book import may_see_costs
from ..cost.costs import cost_reading, page_of
from ..overview.lenses import read_curve
from ..overview.undo import takes_back
from ..portfolio.shown import read_portfolio
from ..tasks.projects import visible_projects

MOST_LISTED = 200
SETTINGS = ("sections", "indicators", "rhythm", "people")


@dataclass(frozen=True, slots=True)
class ReportsPage:
    """The reports of a project.

    Attributes:
        reports: the latest first, without money for who may not see it.
        readers: by report who has read it.
        due: when the next is due; None where none is asked for; ``is_due``: whether that day has come.
        may_write: True for who may write one.
    """

    project: Project
    settings: ReportSettings
    reports: list[StatusReport]
    readers: dict[str, list[str]]
    due: date | None
    is_due: bool
    may_write: bool


def read_reports(cur: Cursor, actor: Actor, code: str) -> ReportsPage:
    """The reports of a project, and what they hold. Raises Missing where the person may not see it."""
    actor = replace(actor, draft=None)
    project = open_project(cur, actor, code, "see")
    sees = may_see_costs(cur, actor, project)
    settings = rows.settings(cur, project.id)
    found = rows.reports(cur, project.id, MOST_LISTED)
    writes = may_in_project(_role(cur, actor, project), "manage") and project.archived_at is None
    due = next_report(project, settings, found[0].day if found else None)
    return ReportsPage(
        project, settings, [one if sees else without_money(one) for one in found], rows.readers(cur, [one.id for one in found]),
        due, is_due(due, actor.clock.now().date()), writes,
    )  # fmt: skip


def _role(cur: Cursor, actor: Actor, project: Project) -> str | None:
    return actor.role_in(project, project_rows.members(cur, project.id).get(actor.person.id))


def read_report(cur: Cursor, actor: Actor, code: str, number: int) -> StatusReport:
    """One report, without money for who may not see it. Raises Missing where there is none, or it may not be seen."""
    project = open_project(cur, replace(actor, draft=None), code, "see")
    found = rows.report(cur, project.id, number)
    if found is None:
        raise Missing("status report")
    return found if may_see_costs(cur, actor, project) else without_money(found)


def draft(cur: Cursor, actor: Actor, code: str, corrects: int | None = None) -> Draft:
    """The report of today as it is proposed: facts with their sources.

    Args:
        corrects: the number of the report that it is to correct: it tells of the same time, and on to today.

    Raises:
        Missing, Forbidden: the person does not lead the project, or the report that is corrected is not there.
    """
    actor = replace(actor, draft=None)
    project = open_project(cur, actor, code, "manage")
    return _drafted(cur, actor, project, rows.settings(cur, project.id), corrects)


def _drafted(cur: Cursor, actor: Actor, project: Project, settings: ReportSettings, corrects: int | None) -> Draft:
    """The facts of a project as its row says that it stands."""
    if corrects is not None and rows.report(cur, project.id, corrects) is None:
        raise Missing("status report")
    held = PLANS.at(cur, project, actor.clock.now())
    names = {one.id: one.short for one in people_rows.all_people(cur)}
    before = rows.reports(cur, project.id, 1, below=corrects)
    _, days = forecast_finish(held.plan)
    curve = read_curve(cur, actor, held)
    cost, words = _cost(cur, actor, held)
    parts, hidden = _parts(cur, actor, project)
    return draft_report(
        held.plan, curve, names, before[0] if before else None, days, cost, words, settings.sections, settings.indicators,
        reported_at=actor.clock.local(before[0].at) if before else None, worries=worries_of(cur, actor, project), parts=parts,
        hidden_parts=hidden,
    )  # fmt: skip


def _parts(cur: Cursor, actor: Actor, project: Project) -> tuple[list[PartTold], int]:
    """The parts of a portfolio that all who read its reports may see, and how many more there are: a report is the same for all."""
    if not project.portfolio:
        return [], 0
    found = read_portfolio(cur, actor, project.code)
    lines = {one.project.id: one for one in found.parts}
    seen = [
        PartTold(one.project.code, one.project.name, one.health, one.finish.date() if one.finish else None, one.percent, one.late)
        for one in lines.values()
        if not one.project.private
    ]
    return seen, found.hidden_parts + len(lines) - len(seen)


def _cost(cur: Cursor, actor: Actor, held: CachedPlan) -> tuple[Standing | None, str]:
    project = held.plan.project
    if not project.costs or not may_see_costs(cur, actor, project):
        return None, ""
    page = page_of(cur, project, held)
    return page.standing(project.id, page.costs.whole), cost_reading(cur, actor, held)


@dataclass(frozen=True, slots=True)
class NewReport:
    """A report to be published.

    Attributes:
        judged: by indicator its health, and the reason where that is not what is proposed.
        corrects: the number of the report that it corrects.
        people: to whom it goes beside those to whom reports of the project always go.
        facts: the fingerprint of the facts that were shown when it was written; None: whatever they are now.
    """

    id: str
    texts: Mapping[SectionKey, str]
    judged: Mapping[IndicatorKey, tuple[Health, str]]
    corrects: int | None
    people: tuple[str, ...]
    facts: str | None = None


@once
def publish(cur: Cursor, actor: Actor, code: str, new: NewReport) -> None:
    """Publish a report, with the facts that were shown when it was written. It never changes afterwards.

    Raises:
        Missing, Forbidden: the person does not lead the project, or it is archived; the report that is corrected is not there.
        RuleError: it says nothing, or judges otherwise than the rules without a reason; the facts are others by now.
    """
    actor = replace(actor, draft=None)
    project = open_project(cur, actor, code, "manage")
    check_not_archived(project)
    with writing(cur, actor, project.id, "published a status report", seen=project) as log:
        settings = rows.settings(cur, project.id)
        proposed = _drafted(cur, actor, as_before(log), settings, new.corrects)
        if new.facts is not None and new.facts != fingerprint(proposed):
            raise RuleError(
                "The plan has changed since these facts were shown. Compare the new ones with your text, then publish.", "facts"
            )
        indicators = judged(proposed, new.judged)
        texts = check_texts(new.texts, settings.sections)
        number = rows.last_number(cur, project.id) + 1
        people = _recipients(cur, project, (*settings.people, *new.people))
        one = StatusReport(new.id, project.id, number, actor.person.id, actor.clock.utc(), proposed.since, proposed.day, proposed.told,
                           indicators, texts, proposed.sections, new.corrects, tuple(one.id for one, _ in people))  # fmt: skip
        rows.insert(cur, one)
        log.record("report", one.id, "created", None, {"number": number})
        _send(cur, actor, project, one, people)


def _recipients(cur: Cursor, project: Project, ids: tuple[str, ...]) -> list[tuple[Person, str]]:
    """Those to whom a report goes, who may see the project now, each with their role in it; others are left out."""
    roles = project_rows.members(cur, project.id)
    asked = [one for one in people_rows.all_people(cur) if one.id in ids and one.active]
    found = ((one, project_role(one.role, roles.get(one.id), project.private)) for one in asked)
    return [(one, role) for one, role in found if role is not None]


def _send(cur: Cursor, actor: Actor, project: Project, report: StatusReport, people: Sequence[tuple[Person, str]]) -> None:
    """Tell recipients by a notice and by mail, each as much as they may see."""
    title = title_of(report, project.code, project.name)
    address = f"{actor.address}/p/{project.code}/reports/{report.number}"
    notices = []
    for one, role in people:
        told = report if may_in_project(role, "see_costs") else without_money(report)
        text = write_markdown(told, project.code, project.name, actor.person.name)
        send_mail(cur, new_id(), actor.clock.utc(), to=one.email, subject=title[:300], body=f"{text}\n{address}\n")
        if one.id != actor.person.id:
            words = f"published status report {report.number} of {say_day(report.day)}"
            notices.append(_notice(actor, project, one.id, "report", words))
    notice_rows.insert(cur, notices)


def number_of(cur: Cursor, actor: Actor, code: str, report_id: str) -> int:
    """The number that a report got. Raises Missing where there is none, or it may not be seen."""
    project = open_project(cur, replace(actor, draft=None), code, "see")
    number = rows.number_of(cur, project.id, report_id)
    if number is None:
        raise Missing("status report")
    return number


def _notice(actor: Actor, project: Project, person_id: str, kind: NoticeKind, words: str, *, daily: bool = False) -> Notice:
    return Notice(
        new_id(), person_id, project.id, None, kind, "named", actor.person.id, actor.clock.utc(), words, None, None, daily
    )


def mark_read(cur: Cursor, actor: Actor, code: str, number: int) -> None:
    """Note that a person has read a report; who wrote it has not to."""
    found = read_report(cur, actor, code, number)
    if found.person_id != actor.person.id:
        rows.mark_read(cur, found.id, actor.person.id, actor.clock.utc())


@once
def set_settings(cur: Cursor, actor: Actor, code: str, wanted: ReportSettings) -> None:
    """Say what the reports of a project hold, on which rhythm they are written, and to whom they go.

    Raises:
        Missing, Forbidden: the person does not lead the project.
        RuleError: nothing would be told, or somebody who may not see the project would get them.
    """
    actor = replace(actor, draft=None)
    project = open_project(cur, actor, code, "manage")
    check_not_archived(project)
    after_ = check_settings(wanted)
    if len(_recipients(cur, project, after_.people)) < len(after_.people):
        raise RuleError("Somebody to whom reports would go may not see the project. Make them a member first.", "people")
    with writing(cur, actor, project.id, "changed what status reports hold", seen=project, meta=True) as log:
        before = rows.settings(cur, project.id)
        log.record_changes("report_settings", project.id, before, after_, SETTINGS)
        rows.set_settings(cur, project.id, replace(after_, reminded=before.reminded))


@takes_back("report_settings")
def take_settings_back(cur: Cursor, actor: Actor, code: str | None, entries: Sequence[Entry]) -> None:
    """Take back what a change did to the settings of reports.

    Raises:
        Missing, Forbidden: the person does not lead the project.
        RuleError: they were changed again since.
    """
    if code is None:
        raise Missing("change")
    project = open_project(cur, actor, code, "manage")
    now: Any = rows.settings(cur, project.id)
    plain = {name: list(value) if isinstance(value := getattr(now, name), tuple) else value for name in SETTINGS}
    if any(plain[one.field] != from_json(one.new) for one in entries):
        raise RuleError("It was changed again since, so this cannot be taken back. Change it by hand.")
    old = {one.field: from_json(one.old) for one in entries}
    set_settings(
        cur, actor, code, replace(now, **{name: tuple(was) if isinstance(was, list) else was for name, was in old.items()})
    )


@dataclass(frozen=True, slots=True)
class Newest:
    """The newest report of a project, and when the next is due; ``leads``: whether that is the person's own to write."""

    project: Project
    report: StatusReport | None
    read: bool
    due: date | None
    is_due: bool
    may_write: bool
    leads: bool


def read_newest(cur: Cursor, actor: Actor) -> list[Newest]:
    """Of every project that a person sees the newest report: those that are due first, then by code."""
    actor = replace(actor, draft=None)
    visible = visible_projects(cur, actor)
    found = rows.newest(cur, [project.id for project, _ in visible])
    settings = rows.all_settings(cur)
    readers = rows.readers(cur, [one.id for one in found.values()])
    today, lines = actor.clock.now().date(), []
    for project, role in visible:
        report = found.get(project.id)
        if report is not None and not may_in_project(role, "see_costs"):
            report = without_money(report)
        read = report is not None and (report.person_id == actor.person.id or actor.person.id in readers.get(report.id, ()))
        due = next_report(project, settings.get(project.id, ReportSettings()), report.day if report else None)
        lines.append(
            Newest(
                project, report, read, due, is_due(due, today), may_in_project(role, "manage"), project.lead_id == actor.person.id
            )
        )
    return sorted(lines, key=lambda one: (not one.is_due, one.due or date.max, one.project.code))


def remind(cur: Cursor, clock: Clock, address: str) -> int:
    """Tell leads once of each report that is due. Returns how many were told."""
    people = {one.id: one for one in people_rows.all_people(cur) if one.active}
    settings = {one: each for one, each in rows.all_settings(cur).items() if each.rhythm is not None}
    newest, today = rows.newest(cur, settings.keys()), clock.now().date()
    found = []
    for project in project_rows.projects_by_id(cur, settings.keys()).values():
        each, last = settings[project.id], newest.get(project.id)
        due = next_report(project, each, last.day if last else None)
        lead = people.get(project.lead_id or "")
        if due is not None and is_due(due, today) and lead is not None and not (each.reminded and each.reminded >= due):
            found.append((lead, project, each, due))
    wishes = people_rows.preferences_of(cur, {lead.id for lead, _, _, _ in found})
    for lead, project, each, due in found:
        how = mail_for(wishes.get(lead.id, {}), "report_due")
        _remind(cur, Actor(lead, clock, address=address), project, due, how)
        rows.set_settings(cur, project.id, replace(each, reminded=today))
    return len(found)


def _remind(cur: Cursor, lead: Actor, project: Project, due: date, how: str) -> None:
    words = f"is asked for a status report, due {say_day(due)}"
    notice_rows.insert(cur, [_notice(lead, project, lead.person.id, "report_due", words, daily=how == "daily")])
    if how == "at_once":
        body = f"{lead.person.name} {words}.\n\n{project.name}\n{lead.address}/p/{project.code}/reports/draft"
        subject = f"{project.code}: a status report is due"
        send_mail(cur, new_id(), lead.clock.utc(), to=lead.person.email, subject=subject, body=body)


def readers_of(cur: Cursor, actor: Actor, report_id: str) -> list[str]:
    """The ids of those who read a report that was opened."""
    return rows.readers(cur, [report_id]).get(report_id, [])


def corrected_by(cur: Cursor, actor: Actor, report: StatusReport) -> int | None:
    """The number of the latest report that corrects one that was opened."""
    return rows.corrected_by(cur, report.project_id, report.number)


def names_of(cur: Cursor, actor: Actor, report: StatusReport) -> tuple[str, str]:
    """The name of the project of a report that was opened, and of who wrote it."""
    project = project_rows.project(cur, report.project_id)
    people = {one.id: one.name for one in people_rows.all_people(cur)}
    return project.name if project else "", people.get(report.person_id, "somebody")
