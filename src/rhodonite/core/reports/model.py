"""A status report: what is told about a project on a day. It never changes once it was published."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime
from hashlib import sha256
from typing import Literal, get_args

from ..common.errors import RuleError
from ..goals.model import Rhythm
from ..goals.rhythm import after
from ..tasks.model import Project

Health = Literal["steady", "strained", "slipping", "not_judged"]
IndicatorKey = Literal["overall", "time", "cost", "scope"]
SectionKey = Literal["stands", "done", "next", "risks", "cost", "asked"]

INDICATORS: Mapping[IndicatorKey, str] = {"overall": "Overall", "time": "Time", "cost": "Cost", "scope": "Scope"}
SECTIONS: Mapping[SectionKey, str] = {
    "stands": "How it stands",
    "done": "Done since the last report",
    "next": "Next",
    "risks": "Risks and what is held",
    "cost": "Money",
    "asked": "Asked of you",
}
OF_MONEY: frozenset[str] = frozenset({"cost"})
"""The indicator and the section that only those get who may see what work costs."""
LONGEST_TEXT, LONGEST_REASON, MOST_PEOPLE = 10_000, 500, 200


@dataclass(frozen=True, slots=True)
class Source:
    """From what a sentence was made: a task, or a figure and the day for which it holds.

    Attributes:
        words: what it says there.
        task_id, number: of a task.
    """

    words: str
    task_id: str | None = None
    number: int | None = None


@dataclass(frozen=True, slots=True)
class Sentence:
    """One sentence of a section, with what it was made from."""

    text: str
    sources: tuple[Source, ...] = ()


@dataclass(frozen=True, slots=True)
class Indicator:
    """How one side of a project is judged.

    Attributes:
        health: as it is told; ``proposed``: by the rules, and ``why``.
        reason: why it is told otherwise.
    """

    health: Health
    proposed: Health
    why: str
    reason: str = ""


@dataclass(frozen=True, slots=True)
class Told:
    """The figures of a report.

    Attributes:
        phase: the parts of the plan in which work goes on.
        finish: planned; ``agreed``: in the current agreed plan; ``before``: as the report before told it.
        percent: done; ``planned``: that was to be done by now, by the dates of the plan; None where nothing is dated.
        tasks, late, held: counts.
    """

    phase: str = ""
    finish: date | None = None
    agreed: date | None = None
    before: date | None = None
    percent: int = 0
    planned: int | None = None
    tasks: int = 0
    late: int = 0
    held: int = 0


@dataclass(frozen=True, slots=True)
class Draft:
    """A report as it is proposed: everything but the judgement of a person.

    Attributes:
        since: the day from which it tells: that of the report before, or when the project began.
        day: that it is of.
        revision: of the plan from which it was made.
        lens: health as the page of the project shows it, where that is worse than the indicators say.
    """

    since: date
    day: date
    revision: int
    told: Told
    indicators: Mapping[IndicatorKey, Indicator]
    sections: Mapping[SectionKey, tuple[Sentence, ...]]
    lens: Indicator | None = None


@dataclass(frozen=True, slots=True)
class PartTold:
    """How a part of a portfolio stands, as its own page says it."""

    code: str
    name: str
    health: Health
    finish: date | None
    percent: int
    late: int


@dataclass(frozen=True, slots=True)
class StatusReport:
    """A published report.

    Attributes:
        number: counts the reports of the project from one.
        texts: by section what was written; ``sentences``: what was proposed there, with its sources.
        corrects: the number of the report that it corrects.
        people: to whom it was sent.
    """

    id: str
    project_id: str
    number: int
    person_id: str
    at: datetime
    since: date
    day: date
    told: Told
    indicators: Mapping[IndicatorKey, Indicator]
    texts: Mapping[SectionKey, str]
    sentences: Mapping[SectionKey, tuple[Sentence, ...]] = field(default_factory=dict)
    corrects: int | None = None
    people: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class ReportSettings:
    """What the reports of a project hold, on which rhythm they are written, and to whom they go."""

    sections: tuple[SectionKey, ...] = tuple(SECTIONS)
    indicators: tuple[IndicatorKey, ...] = tuple(INDICATORS)
    rhythm: Rhythm | None = None
    people: tuple[str, ...] = ()
    reminded: date | None = None


def check_settings(one: ReportSettings) -> ReportSettings:
    """Settings in the order of sections and indicators. Raises RuleError where nothing is told, or something is unknown."""
    sections = tuple(key for key in get_args(SectionKey) if key in one.sections)
    indicators = tuple(key for key in get_args(IndicatorKey) if key in one.indicators)
    if not sections:
        raise RuleError("A report says something: choose at least one section.", "sections")
    if len(one.people) > MOST_PEOPLE:
        raise RuleError(f"A report goes to {MOST_PEOPLE} people at most.", "people")
    return ReportSettings(sections, indicators, one.rhythm, tuple(dict.fromkeys(one.people)), one.reminded)


def next_report(project: Project, settings: ReportSettings, last: date | None) -> date | None:
    """When the next report of a project is due; None where none is asked for.

    Args:
        last: the day of its newest report.
    """
    if settings.rhythm is None or project.archived_at is not None:
        return None
    return after(last or project.start_day, settings.rhythm)


RANK: Mapping[Health, int] = {"not_judged": 0, "steady": 1, "strained": 2, "slipping": 3}


def overall_of(indicators: Mapping[IndicatorKey, Indicator], lens: Indicator | None = None) -> Indicator:
    """Overall by the rules: the worst of the other indicators as they are told, and of what else weighs on the project.

    Args:
        lens: health as the page of the project shows it, with its reason.
    """
    others = {key: one for key, one in indicators.items() if key != "overall"}
    worst = max(others, key=lambda key: RANK[others[key].health], default=None)
    if lens is not None and RANK[lens.health] > (RANK[others[worst].health] if worst else 0):
        return lens
    if worst is None:
        return Indicator("not_judged", "not_judged", "nothing is judged")
    health = others[worst].health
    alone = sum(one.health == health for one in others.values()) == 1
    return Indicator(health, health, f"{INDICATORS[worst]} is {health.replace('_', ' ')}" if alone else "worst of the others")


def judged(draft: Draft, wanted: Mapping[IndicatorKey, tuple[Health, str]]) -> dict[IndicatorKey, Indicator]:
    """The indicators of a draft as a person judges them.

    Args:
        wanted: by indicator its health and the reason, where that is not what is proposed.

    Raises:
        RuleError: one is judged otherwise without a reason, or is not part of the report.
    """
    found = dict(draft.indicators)
    for key, (health, reason) in sorted(wanted.items(), key=lambda one: one[0] == "overall"):
        if key == "overall" and key in found:
            found[key] = overall_of(found, draft.lens)
        if key not in found:
            raise RuleError(f"{INDICATORS[key]} is no part of these reports.", "indicators")
        one = found[key]
        reason = reason.strip()
        if len(reason) > LONGEST_REASON:
            raise RuleError(f"A reason has {LONGEST_REASON} characters at most.", "indicators")
        if health != one.proposed and not reason:
            raise RuleError(
                f"Say why {INDICATORS[key].lower()} is {health}: by the rules it is {one.proposed.replace('_', ' ')}.",
                "indicators",
            )
        found[key] = Indicator(health, one.proposed, one.why, reason if health != one.proposed else "")
    if "overall" in found and "overall" not in wanted:
        found["overall"] = overall_of(found, draft.lens)
    return found


def fingerprint(draft: Draft) -> str:
    """What tells whether two drafts hold the same facts."""
    facts = repr((draft.since, draft.day, draft.told, sorted(draft.indicators.items()), sorted(draft.sections.items())))
    return sha256(facts.encode()).hexdigest()


def check_texts(texts: Mapping[SectionKey, str], sections: Sequence[SectionKey]) -> dict[SectionKey, str]:
    """What was written, without blanks at the ends. Raises RuleError where it is too long, or says nothing at all."""
    kept = {key: texts.get(key, "").strip() for key in sections}
    if any(len(one) > LONGEST_TEXT for one in kept.values()):
        raise RuleError(f"A section has {LONGEST_TEXT} characters at most.", "texts")
    if not any(kept.values()):
        raise RuleError("The report says nothing yet. Write at least one section.", "texts")
    return kept


def without_money(one: StatusReport) -> StatusReport:
    """A report for who may not see what work costs. Overall, where nobody judged it by hand, is that of what they see."""
    indicators = {key: each for key, each in one.indicators.items() if key not in OF_MONEY}
    if OF_MONEY & one.indicators.keys() and "overall" in indicators and not indicators["overall"].reason:
        indicators["overall"] = overall_of(indicators)
    return StatusReport(
        one.id, one.project_id, one.number, one.person_id, one.at, one.since, one.day, one.told,
        indicators,
        {key: each for key, each in one.texts.items() if key not in OF_MONEY},
        {key: each for key, each in one.sentences.items() if key not in OF_MONEY}, one.corrects, one.people,
    )  # fmt: skip
