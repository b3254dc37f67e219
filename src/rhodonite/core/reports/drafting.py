"""A status report that drafts itself: facts from the plan, each sentence with what it was made from."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from datetime import date, datetime, timedelta

from ..common.counts import count_of
from ..common.dates import say_day
from ..cost.budgets import Standing
from ..overview.progress import Point
from ..schedule.agreed import agreed_finish, variance, whole_days
from ..schedule.plan import Plan, Row
from ..tasks.health import NO_WORRIES, Worries, project_health
from ..tasks.model import OPEN_CLASSES
from .model import (
    RANK,
    Draft,
    Health,
    Indicator,
    IndicatorKey,
    PartTold,
    SectionKey,
    Sentence,
    Source,
    StatusReport,
    Told,
    overall_of,
)

MOST_NAMED = 8
AHEAD_DAYS = 14
TIME_STRAINED = 10
"""Working days past the agreed finish up to which time is strained."""
SCOPE_STEADY, SCOPE_STRAINED = 5, 15
"""In a hundred of the agreed tasks, how many may be added or dropped."""
RULES = (
    "Time is slipping where a deadline is missed. Else it is steady up to the agreed finish (without an agreed plan: while what is done so far lets the plan hold), strained up to "
    f"{TIME_STRAINED} working days past it or while a task is late, slipping beyond that or where the planned finish is past. Cost is "
    "strained above 95 % of the budget at completion, slipping beyond it, and steady otherwise; without a budget the agreed cost "
    f"stands for it. Scope is steady while up to {SCOPE_STEADY} in a hundred of the agreed tasks were added or dropped, strained up to "
    f"{SCOPE_STRAINED}, slipping beyond. Overall is the worst of these, and never better than the health of the project."
)


def draft_report(
    plan: Plan,
    curve: Sequence[Point],
    names: Mapping[str, str],
    before: StatusReport | None,
    forecast_days: int,
    cost: Standing | None,
    cost_words: str,
    sections: Sequence[SectionKey],
    indicators: Sequence[IndicatorKey],
    *,
    reported_at: datetime | None = None,
    worries: Worries = NO_WORRIES,
    parts: Sequence[PartTold] = (),
    hidden_parts: int = 0,
) -> Draft:
    """The report of today, as it is proposed.

    Args:
        curve: done against plan, with a point of today.
        names: short names of people by id.
        before: the report before; of a correction that before the one which it corrects.
        forecast_days: by how many working days the finish is to be expected past the planned one.
        cost: how the budget stands, and in ``cost_words`` what the project costs; None for who may not see that, or where no cost
            is reckoned.
        sections, indicators: those that the reports of the project have.
        reported_at: the local moment at which the report before was published: what was finished later is told now.
        worries: what else weighs on the health of the project.
        parts: of a portfolio those that all its readers may see; ``hidden_parts``: how many more there are.
    """
    today = plan.now.date()
    since = min(before.day, today) if before else plan.project.start_day
    told = _told(plan, curve, before)
    judged: dict[IndicatorKey, Indicator] = {"time": _time(plan, told, forecast_days), "scope": _scope(plan)}
    if cost is not None:
        judged["cost"] = _cost(cost)
    if parts:
        judged["time"] = _worse(judged["time"], _of_parts(parts))
    lens = _lens(plan, worries)
    judged["overall"] = overall_of({key: one for key, one in judged.items() if key in indicators}, lens)
    found: dict[SectionKey, list[Sentence]] = {
        "stands": [*_stands(plan, told, names), *_parts(parts, hidden_parts, today)],
        "done": _done(plan, since, reported_at, names),
        "next": _next(plan, names),
        "risks": _risks(plan, names),
        "asked": _asked(plan),
    }
    if cost is not None and cost_words:
        found["cost"] = [Sentence(_bare(cost_words), (Source(f"costs of {say_day(today)}"),))]
    return Draft(
        since, today, plan.project.revision, told, {key: judged[key] for key in indicators if key in judged},
        {key: tuple(found[key]) for key in sections if key in found}, lens,
    )  # fmt: skip


def _lens(plan: Plan, worries: Worries) -> Indicator:
    """Health as the page of the project shows it, with what makes it so."""
    health = project_health(plan.sums(), plan.now, worries)
    why = "people are overbooked" if worries.overbooked else "the budget is nearly used up or passed" if worries.budget else ""
    return _indicator(health, why or f"the project is {health.replace('_', ' ')}")


def _worse(one: Indicator, other: Indicator) -> Indicator:
    return other if RANK[other.health] > RANK[one.health] else one


def _of_parts(parts: Sequence[PartTold]) -> Indicator:
    """A portfolio is no better than the worst of its parts."""
    worst = max(parts, key=lambda one: RANK[one.health])
    return _indicator(worst.health, f"{worst.code} is {worst.health.replace('_', ' ')}")


def _parts(parts: Sequence[PartTold], hidden: int, today: date) -> list[Sentence]:
    """How the parts of a portfolio stand, the worst first."""
    found = []
    for one in sorted(parts, key=lambda one: (-RANK[one.health], one.code)):
        finish = f", finishes {say_day(one.finish, today)}" if one.finish else ", has no dates yet"
        late = f", {count_of(one.late, 'task')} late" if one.late else ""
        words = f"{one.code} {one.name} is {one.health.replace('_', ' ')}{finish}; {one.percent} % is done{late}."
        found.append(Sentence(words, (Source(f"{one.code}, {say_day(today)}"),)))
    if hidden:
        more = "One more part is" if hidden == 1 else f"{hidden} more parts are"
        found.append(Sentence(f"{more} private, and not described here.", (Source(f"parts of {say_day(today)}"),)))
    return found


def _bare(text: str) -> str:
    return text.replace("**", "")


def _told(plan: Plan, curve: Sequence[Point], before: StatusReport | None) -> Told:
    sums = plan.sums()
    agreed = agreed_finish(plan.agreed)
    by_now = [point for point in curve if point.day <= plan.now.date()]
    return Told(
        phase=_phase(plan), finish=sums.finish.date() if sums.finish else None, agreed=agreed.date() if agreed else None,
        before=before.told.finish if before else None, percent=sums.percent, planned=round(by_now[-1].planned) if by_now else None,
        tasks=sums.tasks, late=sums.late, held=sum(row.task.is_held and row.state_class in OPEN_CLASSES for row in plan.leaves()),
    )  # fmt: skip


def _phase(plan: Plan) -> str:
    """The parts at the top of the tree in which work goes on, the busiest first."""
    active: Counter[str] = Counter()
    for row in plan.leaves():
        if row.state_class == "active":
            above = plan.outline.ancestors(row.task.id)
            active[above[-1] if above else row.task.id] += 1
    return " and ".join(plan.rows[one].task.title for one, _ in active.most_common(2))


def _time(plan: Plan, told: Told, forecast_days: int) -> Indicator:
    sums = plan.sums()
    if sums.finish is None:
        return _indicator("not_judged", "no dates yet")
    if sums.finished == sums.tasks:
        return _indicator("steady", "all of it is finished")
    if sums.finish < plan.now:
        return _indicator("slipping", "the planned finish is past")
    if sums.broken:
        return _indicator("slipping", f"{count_of(sums.broken, 'deadline')} missed")
    agreed = agreed_finish(plan.agreed)
    if agreed is not None:
        past = whole_days(variance(sums.finish, agreed, plan.calendar), plan.calendar)
        if past > 0:
            return _indicator("strained" if past <= TIME_STRAINED else "slipping", f"{count_of(past, 'day')} past agreed")
    elif forecast_days > 0:
        return _indicator("strained", f"{count_of(forecast_days, 'day')} later, by what is done so far")
    if told.late:
        return _indicator("strained", f"{count_of(told.late, 'task')} late")
    return _indicator("steady", "as agreed" if agreed else "as planned")


def _cost(cost: Standing) -> Indicator:
    """By the budget; where there is none by what was agreed."""
    if cost.budget is None and cost.variance is None:
        return _indicator("not_judged", "no budget, and no agreed cost")
    worry = cost.worry if cost.budget is not None else "over" if (cost.variance or 0) < 0 else ""
    words = {"": "within what is allowed", "near": "nearly used up at completion", "over": "passed at completion"}
    return _indicator({"": "steady", "near": "strained", "over": "slipping"}[worry], words[worry])  # type: ignore[arg-type]


def _scope(plan: Plan) -> Indicator:
    if not plan.agreed:
        return _indicator("not_judged", "no agreed plan")
    now = {row.task.id for row in plan.leaves() if row.state_class != "dropped"}
    agreed = {one for one in plan.agreed if one not in plan.rows or not plan.rows[one].is_summary}
    added, gone = len(now - plan.agreed.keys()), len(agreed - now)
    changed = 100 * (added + gone) / max(1, len(agreed))
    words = [f"{added} added" if added else "", f"{gone} dropped" if gone else ""]
    why = f"{' and '.join(one for one in words if one)} of {count_of(len(agreed), 'task')}" if added or gone else "as agreed"
    health: Health = "steady" if changed <= SCOPE_STEADY else "strained" if changed <= SCOPE_STRAINED else "slipping"
    return _indicator(health, why)


def _indicator(health: Health, why: str) -> Indicator:
    return Indicator(health, health, why)


def _of(row: Row, words: str) -> Source:
    return Source(words, row.task.id, row.task.number)


def _stands(plan: Plan, told: Told, names: Mapping[str, str]) -> list[Sentence]:
    today = plan.now.date()
    plan_of = Source(f"plan of {say_day(today)}")
    found: list[Sentence] = []
    if told.finish is None:
        found.append(Sentence("The plan has no dates yet.", (plan_of,)))
    else:
        found.append(Sentence(_finish_sentence(told, today), (plan_of,)))
    deciding = [
        row for row in plan.leaves() if row.critical and row.state_class in OPEN_CLASSES and (row.late_days or row.task.is_held)
    ]
    deciding.sort(key=lambda row: (-row.late_days, row.task.number))
    for row in deciding[:2]:
        how = f"is {count_of(row.late_days, 'day')} late" if row.late_days else f"is held by {row.held}"
        found.append(
            Sentence(
                f"{row.task.title} {how}, and decides the finish.",
                (_of(row, "critical, " + (f"{row.late_days} d late" if row.late_days else "held")),),
            )
        )
    missed = [row for row in plan.leaves() if row.breaks_deadline and row.task.deadline]
    for row in sorted(missed, key=lambda row: (row.task.deadline or datetime.max, row.task.number))[:3]:
        assert row.task.deadline is not None
        due = say_day(row.task.deadline.date(), today)
        found.append(Sentence(f"{row.task.title} misses its deadline of {due}.", (_of(row, f"deadline {due}"),)))
    planned = "" if told.planned is None else f", planned {told.planned} %"
    found.append(Sentence(f"{told.percent} % of the work is done{planned}.", (Source(f"done against plan, {say_day(today)}"),)))
    late = sorted((row for row in plan.leaves() if row.late_days), key=lambda row: (-row.late_days, row.task.number))
    late = [row for row in late if row not in deciding[:2]]
    if late:
        worst = late[0]
        who = f" ({_name(worst, names)})" if _name(worst, names) else ""
        longest = f"{worst.task.title}{who}: {count_of(worst.late_days, 'day')}"
        many = f"One task is late, {longest}." if len(late) == 1 else f"{len(late)} tasks are late, the longest {longest}."
        found.append(Sentence(many, (_of(worst, f"{worst.late_days} d late"),)))
    return found


def _finish_sentence(told: Told, today: date) -> str:
    assert told.finish is not None
    finish = say_day(told.finish, today)
    if told.before is not None and told.before != told.finish:
        start = f"The finish has moved from {say_day(told.before, today)} to {finish}"
    else:
        start = f"The plan finishes on {finish}" + (", as last reported" if told.before else "")
    if told.agreed is None:
        return f"{start}."
    if told.agreed == told.finish:
        return f"{start}, as agreed."
    return f"{start}; agreed was {say_day(told.agreed, today)}."


def _weight(row: Row) -> int:
    return row.effort or row.duration or 0


def _done(plan: Plan, since: date, reported_at: datetime | None, names: Mapping[str, str]) -> list[Sentence]:
    """What was finished, milestones and then the heaviest first. After a report that is what was said to be finished later than
    it, so that nothing falls between two reports, or is told twice."""

    def is_new(row: Row) -> bool:
        said_at = row.task.state_since
        if reported_at is not None and said_at is not None:
            return said_at > reported_at
        return row.task.actual_finish is not None and row.task.actual_finish.date() >= since

    rows = [row for row in plan.leaves() if row.state_class == "finished" and row.task.actual_finish and is_new(row)]
    rows.sort(key=lambda row: (row.task.kind != "milestone", -_weight(row), row.task.number))
    found = []
    for row in rows[:MOST_NAMED]:
        assert row.task.actual_finish is not None
        mark = "◆ " if row.task.kind == "milestone" else ""
        day = say_day(row.task.actual_finish.date(), plan.now.date())
        found.append(Sentence(f"{mark}{row.task.title}{_who(row, names)}.", (_of(row, f"finished {day}"),)))
    if len(rows) > MOST_NAMED:
        found.append(
            Sentence(f"And {count_of(len(rows) - MOST_NAMED, 'task')} more.", (Source(f"finished since {say_day(since)}"),))
        )
    return found


def _who(row: Row, names: Mapping[str, str]) -> str:
    name = _name(row, names)
    return f" ({name})" if name else ""


def _name(row: Row, names: Mapping[str, str]) -> str:
    return names.get(row.task.owner_id or "", "")


def _next(plan: Plan, names: Mapping[str, str]) -> list[Sentence]:
    """What should be finished by now, and what is to begin or to be finished in the next two weeks: what decides the finish
    first."""
    until = plan.now + timedelta(days=AHEAD_DAYS)
    rows = [row for row in plan.leaves() if row.state_class in OPEN_CLASSES and _falls(row, plan.now, until)]
    rows.sort(key=lambda row: (not row.critical, row.finish or datetime.max, row.task.number))
    found = []
    for row in rows[:MOST_NAMED]:
        assert row.finish is not None
        day = say_day(row.finish.date(), plan.now.date())
        mark = "◆ " if row.task.kind == "milestone" else ""
        who = f"{_name(row, names) or 'nobody yet'}, {day}"
        found.append(Sentence(f"{mark}{row.task.title} ({who}).", (_of(row, _why_next(row, plan.now, day)),)))
    return found


def _why_next(row: Row, now: datetime, day: str) -> str:
    if row.finish is not None and row.finish < now:
        return f"was due {day}"
    return "decides the finish" if row.critical else f"planned to {day}"


def _falls(row: Row, first: datetime, last: datetime) -> bool:
    return row.finish is not None and (row.finish <= last or (row.start is not None and first <= row.start <= last))


def _risks(plan: Plan, names: Mapping[str, str]) -> list[Sentence]:
    risks = [row for row in plan.leaves() if row.task.kind == "risk" and row.state_class in OPEN_CLASSES]
    held = [row for row in plan.leaves() if row.task.is_held and row.state_class in OPEN_CLASSES and row not in risks]
    held.sort(key=lambda row: (row.task.held_since or datetime.max, row.task.number))
    found = [Sentence(f"{row.task.title}{_who(row, names)}.", (_of(row, "an open risk"),)) for row in risks[:MOST_NAMED]]
    for row in held[:MOST_NAMED]:
        since = f" since {say_day(row.task.held_since.date(), plan.now.date())}" if row.task.held_since else ""
        found.append(Sentence(f"{row.task.title} is held{since} by {row.held}.", (_of(row, f"held{since}"),)))
    return found


def _asked(plan: Plan) -> list[Sentence]:
    """What only the readers may be able to decide: what nobody owns, and what was pushed again and again."""
    opened = [row for row in plan.leaves() if row.state_class in OPEN_CLASSES]
    unowned = [row for row in opened if row.task.owner_id is None]
    pushed = sorted((row for row in opened if row.task.pushes >= 2), key=lambda row: (-row.task.pushes, row.task.number))
    found = []
    if unowned:
        names = _names(unowned)
        found.append(Sentence(f"Who takes on {names}?", tuple(_of(row, "no owner") for row in unowned[:3])))
    for row in pushed[:3]:
        found.append(
            Sentence(
                f"{row.task.title} was pushed {row.task.pushes} times: is it still wanted then?",
                (_of(row, f"pushed {row.task.pushes} times"),),
            )
        )
    return found


def _names(rows: Iterable[Row]) -> str:
    titles = [row.task.title for row in rows]
    more = f" and {len(titles) - 3} more" if len(titles) > 3 else ""
    return ", ".join(titles[:3]) + more
