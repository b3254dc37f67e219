"""What follows from a change to a task: two of start, finish and duration give the third; a finished task is
done in full; the first move to an active state starts it; a finish moved to a later day is a push."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date, datetime
from typing import Any

from ..common.calendars import WorkingCalendar, datetime_of, minute_of
from ..common.dates import say_day
from ..common.errors import RuleError
from .actuals import begun_at, begun_before, check_actuals, class_for_actuals, read_actuals
from .booked import settle_bookings, settle_length
from .custom_fields import check_required, kind_exists
from .hours import hours_of
from .lateness import is_push
from .model import CONSTRAINT_TYPES, KINDS, OPEN_CLASSES, OWN, PINS, PRIORITIES, Fields, Project, State, Task
from .workflow import workflow_of

LONGEST_TITLE = 500
LONGEST_REASON = 300
EDITABLE = frozenset(
    {
        "title", "kind", "owner_id", "helpers", "state_id", "held_reason", "held_by_id", "marks", "repeats", "priority", "start", "finish", "duration",
        "deadline", "effort", "percent", "push_to", "stretch_to", "constraint_type", "constraint_at", "waits_for", "elapsed", "calendar_id",
        "actual_start", "actual_finish", "bookings", "keeps", "on_length", "lane_id", "period_id",
    }
)  # fmt: skip
COMPUTED_ON_SUMMARY = {
    "start": "start",
    "finish": "finish",
    "duration": "duration",
    "percent": "percent done",
    "effort": "effort",
    "state_id": "state",
    "push_to": "finish",
    "stretch_to": "finish",
    "constraint_type": "dates",
    "constraint_at": "dates",
    "elapsed": "duration",
    "calendar_id": "dates",
    "actual_start": "start",
    "actual_finish": "finish",
    "bookings": "hours",
    "keeps": "hours",
    "on_length": "hours",
    "period_id": "state",
}


def change(
    task: Task,
    wanted: Mapping[str, Any],
    *,
    project: Project,
    calendar: WorkingCalendar,
    now: datetime,
    is_summary: bool = False,
    percent_before_finish: int = 0,
    follows_ties: bool = False,
) -> Fields:
    """Work out every field that a change sets, those that follow from it included.

    Args:
        task: as it stands.
        wanted: the new value of each field touched; dates may be days or moments, durations are minutes.
            ``push_to`` moves the finish to a day and keeps the duration of work that has not begun; ``stretch_to``
            moves the finish and keeps the start. ``bookings`` are ``booked.Wish``; ``on_length`` says once which of hours
            and units stays where the length changes.
        project: for the workflow, and the calendars that a task may have of its own.
        calendar: the project's.
        now: local time.
        is_summary: True where tasks stand under it, so that its dates and percent are computed.
        follows_ties: True where the percent comes from what the task is tied to in other projects.
        percent_before_finish: where a finished task is opened again, the percent it goes back to.

    Returns:
        The fields whose value differs from the task's.

    Raises:
        RuleError: the change breaks a rule; its ``field`` says which.
    """
    if is_summary and (touched := sorted(COMPUTED_ON_SUMMARY.keys() & wanted)):
        word = COMPUTED_ON_SUMMARY[touched[0]]
        raise RuleError(f"The {word} of “{task.title}” is computed from the tasks under it. Change one of those.", touched[0])
    wanted = settle_length(task, wanted)
    fields: Fields = {key: value for key, value in wanted.items() if key not in _SETTLED | _ON_BOOKINGS}
    _check(task, fields, project)
    kind = fields.get("kind", task.kind)
    if kind == "milestone" and is_summary:
        raise RuleError("A task with tasks under it cannot be a milestone. Move those out first.", "kind")
    fields |= _dated(task, *_hours(task, wanted, project, calendar), kind == "milestone")
    settle_bookings(task, fields, wanted)
    if "deadline" in fields:
        fields["deadline"] = _closing(fields["deadline"], calendar)
    _on_board(task, fields, project)
    _follow_state(task, fields, project, calendar, now, percent_before_finish)
    _follow_period(task, fields)
    _follow_held(task, fields, now, calendar)
    same_hours = all(fields.get(name, getattr(task, name)) == getattr(task, name) for name in ("elapsed", "calendar_id"))
    if same_hours and is_push(task, fields, project):  # to work other hours is no push
        fields["pushes"] = task.pushes + 1
    _check_own(task, fields, project)
    changed = {key: value for key, value in fields.items() if task.value(key) != value}
    if "percent" in changed and not follows_ties and takes_percent_from_ties(task, project):
        raise RuleError(
            f"“{task.title}” is at {task.percent} %, which comes from what it is tied to. It goes on with that, or untie it first.",
            next(iter({"percent", "state_id"} & wanted.keys()), "percent"),
        )
    return changed


def takes_percent_from_ties(task: Task, project: Project) -> bool:
    """True for a task that is as far as what it is tied to in other projects."""
    return any(one.progress and task.own.get(one.id) for one in project.fields if one.type == "tied")


def _check_own(task: Task, fields: Fields, project: Project) -> None:
    """What the project defines itself holds: its marks, the states of its kinds, the fields that a state requires."""
    if not set(fields.get("marks", ())) <= {mark.id for mark in project.marks}:
        raise RuleError("That mark is not in the project any more. Choose another.", "marks")
    after = task.with_fields(
        {name: value for name, value in fields.items() if name in {"kind", "state_id"} or name.startswith(OWN)}
    )
    kind = next((one for one in project.kinds if one.id == after.kind), None)
    if kind and kind.states and after.state_id not in kind.states and {"kind", "state_id"} & fields.keys():
        first = next((state for state in project.states if state.id in kind.states), None)
        if "state_id" in fields or first is None:
            raise RuleError(
                f"Tasks of the kind {kind.name} do not pass through {project.state(after.state_id).name}.", "state_id"
            )
        fields["state_id"] = first.id  # a task that becomes of this kind begins at its beginning
        after = after.with_fields({"state_id": first.id})
    check_required(after, task, project)


_DATE_FIELDS = ("start", "finish", "duration")
_ON_BOOKINGS = {"bookings", "on_length"}
_SETTLED = {*_DATE_FIELDS, "push_to", "stretch_to", "constraint_type", "constraint_at"}


def _hours(
    task: Task, wanted: Mapping[str, Any], project: Project, calendar: WorkingCalendar
) -> tuple[Mapping[str, Any], WorkingCalendar]:
    """What is wanted, and the calendar that it is reckoned on. Where that becomes another, the task lasts as long."""
    chosen = {name: wanted[name] for name in ("elapsed", "calendar_id") if name in wanted}
    if not isinstance(chosen.get("elapsed", False), bool):
        raise RuleError("Say true where a duration runs through nights and holidays, else false.", "elapsed")
    own = chosen.get("calendar_id")
    if own is not None and (not isinstance(own, str) or own not in project.calendars):
        raise RuleError("That calendar is not in the project any more. Choose another.", "calendar_id")
    hours = hours_of(task.with_fields(chosen), project, calendar)
    if hours is not hours_of(task, project, calendar) and task.start and task.duration and not _SETTLED & wanted.keys():
        wanted = {**wanted, "duration": task.duration}
    return wanted, hours


def _dated(task: Task, wanted: Mapping[str, Any], calendar: WorkingCalendar, milestone: bool) -> Fields:
    """Dates, duration and constraint that follow from what was typed."""
    fields: Fields = {}
    dates = {key: wanted[key] for key in _DATE_FIELDS if key in wanted}
    if "push_to" in wanted:
        fields = _pushed(task, wanted["push_to"], calendar)
        return fields | _pushed_constraint(task, fields, milestone)
    if "stretch_to" in wanted:
        fields = settle_dates(task, {"finish": wanted["stretch_to"]}, calendar, milestone=milestone)
    elif "finish" in dates and "duration" not in dates and "start" not in dates and _follows(task, dates["finish"]):
        bare = task.with_fields({"start": None, "finish": None})
        fields = settle_dates(bare, dates, calendar, milestone=milestone)
    elif dates or milestone != (task.kind == "milestone"):
        fields = settle_dates(task, dates, calendar, milestone=milestone)
    if task.waits_for and not milestone and dates.get("start", task) is None and "duration" not in dates:
        fields["duration"] = task.duration  # the links find the dates; how long it takes stays said
    if milestone != (task.kind == "milestone"):
        dates.setdefault("finish", fields.get("finish"))
    fields |= _held_by_hand(task, dates, fields, milestone)
    if "constraint_type" in wanted or "constraint_at" in wanted:
        fields |= _constrained(task.with_fields(fields), wanted, milestone, calendar)
    return fields


def _follows(task: Task, finish: Any) -> bool:
    """True where a typed finish moves a task: its length is known, and nobody has set its start."""
    by_hand = task.constraint_type in {"start_no_earlier", "must_start"} or task.actual_start is not None
    return finish is not None and task.duration is not None and not by_hand


def _held_by_hand(task: Task, dates: Fields, fields: Fields, milestone: bool) -> Fields:
    """A typed start is kept as start no earlier than, a typed finish that moves a task as finish no earlier than; a
    pin stays a pin at its new date. A cleared date frees the task."""
    start, finish = (fields.get(name, getattr(task, name)) for name in ("start", "finish"))
    pinned = task.constraint_type in PINS
    if not ({"start", "finish"} & dates.keys()):
        if "duration" in dates and task.constraint_type == "finish_no_earlier" and start is not None:
            return _constraint("start_no_earlier", start)  # its length alone was changed: it stays where it begins
        return {}
    if milestone:
        return _constraint("must_finish" if pinned else "finish_no_earlier", finish) if finish else _constraint("asap", None)
    if dates.get("start") is not None:
        return _constraint("must_start" if pinned else "start_no_earlier", start)
    if dates.get("finish") is not None:
        if task.constraint_type in {"start_no_earlier", "must_start"} or (task.actual_start and start):
            return {}
        return _constraint("must_finish" if pinned else "finish_no_earlier", finish)
    if "start" in dates:
        return _constraint("finish_no_earlier", finish) if finish and not task.waits_for else _constraint("asap", None)
    return {} if task.constraint_type in {"start_no_earlier", "must_start"} else _constraint("asap", None)


def _pushed_constraint(task: Task, fields: Fields, milestone: bool) -> Fields:
    """Work that has begun needs no constraint to stay where it is; other work is held at its new dates."""
    if task.actual_start is not None:
        return {}
    if task.constraint_type in {"must_start", "start_no_earlier"} and not milestone and fields.get("start"):
        return _constraint(task.constraint_type, fields["start"])
    return _constraint("must_finish" if task.constraint_type in PINS else "finish_no_earlier", fields["finish"])


def _constraint(kind: str, at: datetime | None) -> Fields:
    return {"constraint_type": kind, "constraint_at": at}


def _constrained(task: Task, wanted: Mapping[str, Any], milestone: bool, calendar: WorkingCalendar) -> Fields:
    """A constraint chosen by hand; without a date it holds the task where it stands."""
    kind = wanted.get("constraint_type", task.constraint_type) or "asap"
    if kind not in CONSTRAINT_TYPES:
        raise RuleError(f"Choose a constraint: {', '.join(CONSTRAINT_TYPES)}.", "constraint_type")
    if kind in {"asap", "alap"}:
        return _constraint(kind, None)
    if milestone:
        kind = kind.replace("start", "finish")
    on_start = "start" in kind
    at = wanted.get("constraint_at") or (task.start if on_start else task.finish)
    if at is None:
        raise RuleError("Give the date that it speaks of.", "constraint_at")
    return _constraint(kind, _opening(at, calendar) if on_start else _closing(at, calendar))


def _check(task: Task, fields: Fields, project: Project) -> None:
    if "title" in fields:
        fields["title"] = " ".join(str(fields["title"]).split())
        if not fields["title"]:
            raise RuleError("A task needs a title. Type one, or delete the task.", "title")
        if len(fields["title"]) > LONGEST_TITLE:
            raise RuleError(f"A title has {LONGEST_TITLE} characters at most. Put the rest into the description.", "title")
    if "kind" in fields and not kind_exists(fields["kind"], project):
        raise RuleError(f"Choose a kind: {', '.join([*KINDS, *(one.name for one in project.kinds)])}.", "kind")
    if fields.get("priority") is not None and fields["priority"] not in PRIORITIES:
        raise RuleError("Choose a priority: must, should, could or won't.", "priority")
    if "percent" in fields and not 0 <= int(fields["percent"]) <= 100:
        raise RuleError("Percent done lies between 0 and 100.", "percent")
    if (fields.get("effort") or 0) < 0:
        raise RuleError("Effort cannot be less than nothing.", "effort")
    owner = fields.get("owner_id", task.owner_id)
    if "helpers" in fields or ("owner_id" in fields and owner in task.helpers):
        fields["helpers"] = tuple(one for one in dict.fromkeys(fields.get("helpers", task.helpers)) if one != owner)


def settle_dates(task: Task, wanted: Fields, calendar: WorkingCalendar, *, milestone: bool = False) -> Fields:
    """Two of start, finish and duration give the third, in working time.

    A start alone keeps the duration; a finish alone keeps the start; a duration alone keeps the start. Clearing
    one of the three clears the duration as well, where that was computed from it. A day without a time means its
    opening for a start and its closing for a finish.

    Args:
        wanted: any of ``start``, ``finish`` (day, moment or None) and ``duration`` (minutes or None).

    Raises:
        RuleError: the finish lies before the start, or the duration is less than nothing.
    """
    start = _opening(wanted["start"], calendar) if "start" in wanted else task.start
    finish = _closing(wanted["finish"], calendar) if "finish" in wanted else task.finish
    duration = wanted.get("duration", task.duration)
    if duration is not None and duration < 0:
        raise RuleError("A duration cannot be less than nothing.", "duration")
    if milestone:
        if task.kind == "milestone":  # a moment: what was typed last is the date
            at = start if "start" in wanted and "finish" not in wanted else finish
        else:
            at = finish or start
        return {"start": at, "finish": at, "duration": 0 if at else None}
    if task.kind == "milestone":  # it becomes a task: the day of the milestone is its finish
        start, duration = (wanted.get("start") and start), wanted.get("duration")
    cleared = [key for key in wanted if wanted[key] is None]
    if "duration" in cleared and len(cleared) == 1:
        finish = None if start else finish
    elif cleared and "duration" not in wanted:
        duration = None
    finish_rules = wanted.get("finish") is not None and ("duration" not in wanted or wanted.get("start") is not None)
    if start is not None and finish is not None and (finish_rules or duration is None):
        duration = _span(start, finish, calendar)
    elif start is not None and duration is not None:
        finish = calendar.add_to(start, duration)
    elif finish is not None and duration is not None:
        start = calendar.add_to(finish, -duration) if duration else finish
    return {"start": start, "finish": finish, "duration": duration}


def _span(start: datetime, finish: datetime, calendar: WorkingCalendar) -> int:
    if finish < start:
        raise RuleError(
            f"The finish, {say_day(finish.date())}, lies before the start, {say_day(start.date())}. Move the start first.",
            "finish",
        )
    return calendar.minutes_between(start, finish)


def _opening(value: date | datetime | None, calendar: WorkingCalendar) -> datetime | None:
    if isinstance(value, datetime):
        return datetime_of(calendar.next_working(minute_of(value)))
    return calendar.start_of_day(value) if value else None


def _closing(value: date | datetime | None, calendar: WorkingCalendar) -> datetime | None:
    if isinstance(value, datetime):
        return value.replace(second=0, microsecond=0)
    return calendar.end_of_day(value) if value else None


def _pushed(task: Task, to: date, calendar: WorkingCalendar) -> Fields:
    """Move the finish to a day. Work that has begun takes longer; work that has not begins later."""
    # A day that is not worked stands for the next one that is: pushing never moves a task to an earlier day.
    finish = calendar.end_of_day(calendar.start_of_day(to).date())
    if task.actual_start is not None and task.start is not None:
        return settle_dates(task, {"finish": finish}, calendar, milestone=task.kind == "milestone")
    wanted: Fields = {"finish": finish}
    if task.duration is not None:
        bare = task.with_fields({"start": None, "finish": None, "duration": None})
        wanted["duration"] = task.duration
        return settle_dates(bare, wanted, calendar, milestone=task.kind == "milestone")
    if task.start is not None:
        wanted["start"] = min(task.start, calendar.start_of_day(finish.date()))
    return settle_dates(task, wanted, calendar, milestone=task.kind == "milestone")


def _follow_state(
    task: Task, fields: Fields, project: Project, calendar: WorkingCalendar, now: datetime, percent_before: int
) -> None:
    """State, percent and actual dates follow one another."""
    before = project.state(task.state_id).state_class
    typed = read_actuals(fields, hours_of(task, project, calendar), now)
    if "state_id" in fields:
        try:
            after = project.state(fields["state_id"]).state_class
        except KeyError as error:
            raise RuleError("That state is no longer in the workflow. Choose another.", "state_id") from error
    else:
        after = before
        wanted_class = class_for_actuals(typed, before) or _class_for_percent(fields.get("percent"), before)
        if wanted_class:
            kind, workflow = fields.get("kind", task.kind), workflow_of(project, task.state_id)
            state = _first_state(project, kind, wanted_class, workflow) or project.first_state("queued", workflow)
            if state is not None:
                fields["state_id"], after = state.id, state.state_class
    if fields.get("state_id", task.state_id) != task.state_id:
        fields["state_since"] = now
    if after == "active" and task.actual_start is None and "actual_start" not in typed:
        fields["actual_start"] = begun_at(task, fields, now)
    if after == "finished" and before != "finished":
        fields |= {"percent": 100, "held_reason": None, "held_by_id": None}
        fields.setdefault("actual_finish", now)
        if task.actual_start is None and "actual_start" not in typed:
            fields["actual_start"] = min(begun_before(task, fields, project, calendar, now), fields["actual_finish"])
    if before == "finished" and after != "finished":
        fields["actual_finish"] = None
        fields.setdefault("percent", percent_before if after != "queued" else 0)
        if after == "queued":
            fields["actual_start"] = None
    check_actuals(task, fields, after, typed)


def _first_state(project: Project, kind: str, state_class: str, workflow: str | None) -> State | None:
    """The first state of a class in a workflow that tasks of a kind pass through."""
    own = next((one for one in project.kinds if one.id == kind), None)
    states = project.states_of(workflow)
    passes = [s for s in states if s.state_class == state_class and (own is None or not own.states or s.id in own.states)]
    return passes[0] if passes else None


def _on_board(task: Task, fields: Fields, project: Project) -> None:
    """A task lies in the backlog until it is pulled; there it stands in the first state of its workflow."""
    for name, known in (("lane_id", project.lanes), ("period_id", project.periods)):
        if fields.get(name) is not None and fields[name] not in {one.id for one in known}:
            word = "lane is not on the board" if name == "lane_id" else "period is not in the backlog"
            raise RuleError(f"That {word} any more. Choose another.", name)
    if fields.get("period_id") is None:
        return
    there = next((one for one in project.states if one.id == fields.get("state_id", task.state_id)), None)
    if there is None or there.state_class != "queued":
        raise RuleError("Work that has begun does not lie in the backlog. Put it into a queued state first.", "period_id")
    first = project.first_state("queued", there.workflow_id)
    if first is not None and first.id != there.id:
        fields["state_id"] = first.id


def _follow_period(task: Task, fields: Fields) -> None:
    """What goes on to another state is pulled out of the backlog."""
    if "period_id" not in fields and task.period_id and fields.get("state_id", task.state_id) != task.state_id:
        fields["period_id"] = None


def _follow_held(task: Task, fields: Fields, now: datetime, calendar: WorkingCalendar) -> None:
    """One thing holds a task at a time: a reason or another task. How long it was held is kept when that ends."""
    if not {"held_reason", "held_by_id"} & fields.keys():
        return
    if fields.get("held_by_id") == task.id:
        raise RuleError("A task cannot hold itself. Name another.", "held_by_id")
    if "held_reason" in fields:
        fields["held_reason"] = (fields["held_reason"] or "").strip()[:LONGEST_REASON] or None
    if fields.get("held_by_id") is not None:
        fields["held_reason"] = None
    elif fields.get("held_reason") is not None:
        fields["held_by_id"] = None
    after = task.with_fields({name: fields[name] for name in ("held_reason", "held_by_id") if name in fields})
    fields["held_since"] = (task.held_since or now) if after.is_held else None
    if task.held_since is not None and not after.is_held:
        fields["held_minutes"] = task.held_minutes + max(0, calendar.minutes_between(task.held_since, now))


def released(tasks: Mapping[str, Task], changed: Mapping[str, Task], project: Project) -> list[str]:
    """The tasks whose holder is finished, dropped or deleted by a change, so that nothing holds them any more.

    Args:
        tasks: all of the project, with what was changed.
        changed: what was changed, as it is now.
    """
    done = {
        one for one, task in changed.items() if task.deleted_at or project.state(task.state_id).state_class not in OPEN_CLASSES
    }
    return [task.id for task in tasks.values() if task.held_by_id in done] if done else []


def _class_for_percent(percent: int | None, before: str) -> str | None:
    """The class that a typed percent moves a task to, or None where it stays: the first percent begins it."""
    if percent == 100 and before != "finished":
        return "finished"
    if percent is not None and percent < 100 and before == "finished":
        return "active"
    return "active" if percent and before == "queued" else None
