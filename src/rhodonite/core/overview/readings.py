"""Readings: a few plain sentences, computed, that say how a task or a project stands and why.

What a reader should see first is wrapped in ``**``; the interface sets it in bold.
"""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime

from ..common.calendars import datetime_of
from ..common.counts import count_of
from ..common.dates import say_day
from ..common.durations import say_duration, say_length
from ..schedule.agreed import agreed_finish, variance, whole_days
from ..schedule.plan import Plan, Row
from ..schedule.planning import schedule_of
from ..schedule.schedule import Because
from ..tasks.lateness import due_within
from ..tasks.model import OPEN_CLASSES, Link
from ..tasks.typed_links import say_link


def project_reading(plan: Plan, names: dict[str, str]) -> str:
    """How a project stands: how far, when it finishes, what is late and worst, what has no owner or is held.

    Args:
        names: short names of people by id.
    """
    sums = plan.sums()
    today = plan.now.date()
    if not sums.tasks:
        return "Nothing is written down yet. **Add the first tasks** in the outline."
    sentences = [_progress_sentence(plan)]
    late = sorted((row for row in plan.leaves() if row.late_days), key=lambda row: (-row.late_days, row.task.number))
    if late:
        sentences.append(_late_sentence(late, names))
    broken = [row for row in plan.rows.values() if row.breaks_deadline]
    if broken:
        worst = broken[0]
        assert worst.task.deadline is not None
        more = f", and {count_of(len(broken) - 1, 'more is', 'more are')}" if len(broken) > 1 else ""
        day = say_day(worst.task.deadline.date(), today)
        how = "is past" if worst.task.deadline < plan.now else "is planned to finish after"
        sentences.append(f"**{worst.task.title}** {how} its deadline, {day}{more}.")
    held = [row for row in plan.leaves() if row.task.is_held and row.state_class in OPEN_CLASSES]
    if held:
        one = held[0]
        since = _held_days(one, plan)
        more = f"; {count_of(len(held) - 1, 'more is', 'more are')} held too" if len(held) > 1 else ""
        sentences.append(f"**{one.task.title}** has been held{since} by {one.held}{more}.")
    if sums.unowned:
        sentences.append(f"**{count_of(sums.unowned, 'task').capitalize()}** {'has' if sums.unowned == 1 else 'have'} no owner.")
    coming = [row for row in plan.leaves() if _due_soon(row, plan.now)]
    sentences.append(
        f"{count_of(len(coming), 'task').capitalize()} {'is' if len(coming) == 1 else 'are'} due in the next seven days."
    )
    return " ".join(sentences)


def _progress_sentence(plan: Plan) -> str:
    sums, today = plan.sums(), plan.now.date()
    if sums.finished == sums.tasks:
        return f"All of the work is **finished**: {count_of(sums.tasks, 'task')}."
    start = f"The project is **{sums.percent} % done**"
    if sums.finish is None:
        return f"{start}; it has **no dates** yet, so nobody can say when it finishes."
    day = f"**{say_day(sums.finish.date(), today)}**"
    if sums.finish < plan.now:
        return f"{start}; its planned finish, {day}, **is past**."
    ahead, days = forecast_finish(plan)
    against = _against_agreed(plan, sums.finish)
    if ahead is None or not days:
        return f"{start} and is planned to finish on {day}{against}."
    return f"{start}. The plan finishes on {day}{against}; by what is done so far **{say_day(ahead.date(), today)}** is to be expected."


def _against_agreed(plan: Plan, finish: datetime) -> str:
    days = whole_days(variance(finish, agreed_finish(plan.agreed), plan.calendar), plan.calendar)
    if not days:
        return ", as agreed" if plan.agreed else ""
    return f", {count_of(abs(days), 'day')} {'past' if days > 0 else 'before'} the agreed date"


def forecast_finish(plan: Plan) -> tuple[datetime | None, int]:
    """The finish to be expected from what has been done by now, and by how many working days it is past the planned
    one; (None, 0) where nothing is left to be done or nothing is dated."""
    sums = plan.sums()
    if sums.finish is None or sums.finished == sums.tasks:
        return None, 0
    ahead = datetime_of(plan.forecast.finish)
    return ahead, max(0, int(plan.calendar.days_between(sums.finish, ahead) + 0.5))


def _late_sentence(late: list[Row], names: dict[str, str]) -> str:
    worst = late[0]
    who = f" ({names[worst.task.owner_id]})" if worst.task.owner_id in names else ""
    days = count_of(worst.late_days, "day")
    pushed = f" and pushed {_times(worst.task.pushes)}" if worst.task.pushes else ""
    if len(late) == 1:
        return f"One task is late: **{worst.task.title}**{who}, by {days}{pushed}."
    return f"**{count_of(len(late), 'task')} are late**; the longest is **{worst.task.title}**{who}: {days} late{pushed}."


def _times(number: int) -> str:
    return {1: "once", 2: "twice"}.get(number, f"{number} times")


def _held_days(row: Row, plan: Plan) -> str:
    if row.task.held_since is None:
        return ""
    days = int(plan.calendar.days_between(row.task.held_since, plan.now) + 0.5)
    return f" for {count_of(days, 'working day')}" if days else " since today"


def _due_soon(row: Row, now: datetime) -> bool:
    return row.state_class in OPEN_CLASSES and due_within(row.finish, now, 7)


def task_reading(plan: Plan, row: Row, names: dict[str, str]) -> str:
    """How one task stands: who answers for it, how long and how far, whether it is late, held or pushed."""
    task, today = row.task, plan.now.date()
    if row.is_summary:
        return _summary_reading(plan, row, names)
    sentences = [_owner_sentence(plan, row, names)]
    if row.state_class == "finished" and task.actual_finish:
        sentences.append(_finished_sentence(plan, row))
    elif row.state_class == "dropped":
        sentences.append("It was dropped and counts nowhere.")
    elif row.late_days:
        sentences.append(f"It is **{count_of(row.late_days, 'day')} late**.")
    elif row.finish is not None:
        sentences.append(_due_sentence(row.finish, plan))
    else:
        sentences.append("It has **no dates** yet.")
    if row.breaks_deadline and task.deadline:
        sentences.append(f"Its deadline of **{say_day(task.deadline.date(), today)}** is broken.")
    if task.is_held and row.state_class in OPEN_CLASSES:
        sentences.append(f"Held{_held_days(row, plan)} by **{row.held}**.")
    if task.pushes:
        sentences.append(f"Its finish has been pushed {_times(task.pushes)}.")
    if row.state_class in OPEN_CLASSES:
        sentences += _neighbour_sentences(plan, row)
    return " ".join(sentences)


def _neighbour_sentences(plan: Plan, row: Row) -> list[str]:
    """What an open task waits for, what a delay of it would do, and what waits for it."""
    said = []
    before = [plan.rows[link.from_id] for link in row.task.waits_for if link.from_id in plan.rows]
    if still := [one.task.title for one in before if one.state_class in OPEN_CLASSES]:
        said.append(f"It waits for {_first_of(still)}.")
    by_deadline = row.task.deadline and row.finish and plan.calendar.minutes_between(row.finish, row.task.deadline) == row.slack
    if row.slack == 0:
        tells = "its deadline is the end" if by_deadline else "each day of delay moves the finish"
        said.append(f"It has **no slack**: {tells}.")
    elif row.slack and not by_deadline:
        said.append(f"It {slack_sentence(plan, row)}." if row.slack > 0 else f"It is {slack_sentence(plan, row)}.")
    after = [one.task.title for one in plan.awaited_by(row.task.id) if one.state_class in OPEN_CLASSES]
    if after:
        said.append(f"{_first_of(after)} {'waits' if len(after) == 1 else 'wait'} for it.")
    return said


def _first_of(titles: list[str]) -> str:
    more = f" and {len(titles) - 1} more" if len(titles) > 1 else ""
    return f"**{titles[0]}**{more}"


def why_sentence(plan: Plan, task_id: str, set_by: str | None = None) -> str:
    """Why a task starts when it does: ``waits for Order curved panes to finish, plus 1 d``.

    Args:
        set_by: who set its constraint by hand and when, such as ``Ines on 3 Mar``.
    """
    schedule = plan.schedule
    index = schedule.net.index.get(task_id)
    because = schedule.because(index) if index is not None else None
    if index is None or because is None:
        task = plan.tasks[task_id]
        return "a date typed by hand" if task.start or task.finish else "no date yet"
    said = _reason(plan, task_id, because, set_by)
    if because.through is not None and because.through in plan.tasks:
        said += f", as all under {plan.tasks[because.through].title}"
    return said + (f", and begins after {because.exception}" if because.exception else "")


def _reason(plan: Plan, task_id: str, because: Because, set_by: str | None) -> str:
    task = plan.tasks[task_id]
    by = f" by {set_by}" if set_by else " by hand"
    if because.link is not None:
        link = Link(because.link.from_id, because.link.type, because.link.lag, because.link.elapsed)
        return say_link(link, plan.tasks[link.from_id].title, plan.calendar.day_minutes)
    if because.kind == "pin":
        cost = _cost_of_pin(plan, task_id)
        costs = f": costs {say_duration(cost, plan.calendar.day_minutes)} of slack" if cost > 0 else ""
        return f"pinned{by}{costs}"
    if because.kind == "constraint" and task.constraint_at is not None:
        words = {"start_no_earlier": "starts no earlier than", "finish_no_earlier": "finishes no earlier than"}
        day = say_day(task.constraint_at.date(), plan.now.date())
        return f"{words.get(task.constraint_type, 'held at')} {day}, set{by}"
    return {
        "project_start": "starts with the project",
        "begun": "has begun, so the plan no longer moves it",
        "as_late_as_possible": "placed as late as possible",
    }.get(because.kind, "placed by the plan")


def _cost_of_pin(plan: Plan, task_id: str) -> int:
    """Working minutes by which a pin holds a task later than its links would."""
    free = {**plan.tasks, task_id: plan.tasks[task_id].with_fields({"constraint_type": "asap", "constraint_at": None})}
    without = schedule_of(plan.project, plan.calendar, free)
    start, pinned = without.starts[without.net.index[task_id]], plan.schedule.starts[plan.schedule.net.index[task_id]]
    return plan.calendar.between(start, pinned) if start is not None and pinned is not None else 0


def conflict_sentences(plan: Plan, task_id: str) -> list[str]:
    """What cannot be met at a task, in words."""
    said = []
    for one in plan.schedule.conflicts():
        by = say_duration(one.minutes, plan.calendar.day_minutes)
        if one.task != task_id:
            continue
        if one.link is not None:
            said.append(f"The pin stands {by} before {plan.tasks[one.link.from_id].title} allows.")
        elif one.kind == "constraint_missed":
            said.append(_missed_constraint(plan, task_id, by))
        else:
            said.append(f"It finishes {by} after its deadline.")
    return said


def _missed_constraint(plan: Plan, task_id: str, by: str) -> str:
    task = plan.tasks[task_id]
    assert task.constraint_at is not None
    day = say_day(task.constraint_at.date(), plan.now.date())
    verb, noun = ("starts", "start") if task.constraint_type == "start_no_later" else ("finishes", "finish")
    return f"It {verb} {by} later than {day}, the latest {noun} that was set."


def slack_sentence(plan: Plan, row: Row) -> str:
    """What slack a task has, in words."""
    if row.slack is None:
        return ""
    if row.slack < 0:
        by = say_duration(-row.slack, plan.calendar.day_minutes)
        own = any(one.task == row.task.id and one.link is None for one in plan.schedule.conflicts())
        return f"{by} later than its own dates allow" if own else f"{by} too late for what must follow"
    if row.slack == 0:
        return "no slack: a delay moves the finish of the project"
    if row.task.constraint_type == "alap" and not row.is_summary:
        by = say_duration(row.slack, plan.calendar.day_minutes)
        return f"stands as late as possible: it could begin {by} sooner, and no later"
    return f"can slip {say_duration(row.slack, plan.calendar.day_minutes)} before the finish of the project moves"


def _owner_sentence(plan: Plan, row: Row, names: dict[str, str]) -> str:
    task = row.task
    owner = names.get(task.owner_id or "")
    who = f"**{owner}** answers for it" if owner else "**Nobody** answers for it yet"
    if task.kind == "milestone":
        return f"{who}; it is a milestone."
    elapsed = row.task.elapsed and not row.is_summary
    length = f": {say_length(row.duration, row.day_minutes, elapsed)}, {row.percent} % done" if row.duration else ""
    helpers = [names[one] for one in task.helpers if one in names]
    return f"{who}{length}.{' ' + _joined(helpers) + (' helps.' if len(helpers) == 1 else ' help.') if helpers else ''}"


def _joined(words: Iterable[str]) -> str:
    *most, last = words
    return f"{', '.join(most)} and {last}" if most else last


def _finished_sentence(plan: Plan, row: Row) -> str:
    actual = row.task.actual_finish
    assert actual is not None
    said = f"It was finished on **{say_day(actual.date(), plan.now.date())}**"
    if row.finish is None or actual.date() == row.finish.date():
        return said + "."
    days = abs(int(plan.calendar.days_between(row.finish, actual)))
    if not days:
        return said + "."
    return f"{said}, {count_of(days, 'day')} {'after' if actual > row.finish else 'before'} its planned finish."


def _due_sentence(finish: datetime, plan: Plan) -> str:
    days = (finish.date() - plan.now.date()).days
    word = {0: "today", 1: "tomorrow"}.get(days, f"on {say_day(finish.date(), plan.now.date())}")
    return f"It is due **{word}**."


def _summary_reading(plan: Plan, row: Row, names: dict[str, str]) -> str:
    owner = names.get(row.task.owner_id or "")
    who = f"**{owner}** answers for it. " if owner else ""
    done = f"{row.finished_below} of {count_of(row.tasks_below, 'task')} under it finished, **{row.percent} % done**"
    when = f", to finish on **{say_day(row.finish.date(), plan.now.date())}**" if row.finish else ""
    late = f" {count_of(row.late_below, 'task is', 'tasks are').capitalize()} late." if row.late_below else ""
    return f"{who}{done}{when}.{late}"
