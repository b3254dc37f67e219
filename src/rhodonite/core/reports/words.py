"""A status report as text: Markdown, which is also what a mail says."""

from __future__ import annotations

from ..common.dates import say_day
from .model import INDICATORS, SECTIONS, StatusReport


def title_of(report: StatusReport, code: str, name: str) -> str:
    """What a report is called."""
    correction = f", a correction of number {report.corrects}" if report.corrects else ""
    return f"{code} {name}: status report {report.number}, {say_day(report.day)} {report.day.year}{correction}"


def write_markdown(report: StatusReport, code: str, name: str, writer: str) -> str:
    """A report as Markdown (CommonMark)."""
    told = report.told
    lines = [
        f"# {title_of(report, code, name)}",
        "",
        f"By {writer}, of {say_day(report.since)} to {say_day(report.day)} {report.day.year}.",
        "",
    ]
    for key, one in report.indicators.items():
        reason = f"; told so because {one.reason}" if one.reason else ""
        lines.append(f"- **{INDICATORS[key]}: {one.health.replace('_', ' ')}** ({one.why}{reason})")
    lines.append("")
    lines += [f"- {one}" for one in figures(report)]
    for section, text in report.texts.items():
        if text:
            lines += ["", f"## {SECTIONS[section]}", "", text]
    if told.tasks:
        lines += ["", f"{told.tasks} tasks, {told.late} late, {told.held} held."]
    return "\n".join(lines) + "\n"


def figures(report: StatusReport) -> list[str]:
    """The figures of a report in words."""
    told, found = report.told, []
    if told.phase:
        found.append(f"Phase: {told.phase}")
    if told.finish:
        agreed = f", agreed {say_day(told.agreed)}" if told.agreed else ""
        before = f", last reported {say_day(told.before)}" if told.before and told.before != told.finish else ""
        found.append(f"Finish: {say_day(told.finish)} {told.finish.year}{agreed}{before}")
    planned = f", planned {told.planned} %" if told.planned is not None else ""
    found.append(f"Done: {told.percent} %{planned}")
    return found
