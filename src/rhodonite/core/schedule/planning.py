"""A project's tasks as a plan to be scheduled: which take part, and what holds each where it is."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from datetime import datetime, time

from ..common.bounds import FIRST_DAY, LAST_DAY, MOST_LINKS
from ..common.calendars import WorkingCalendar, datetime_of, minute_of
from ..common.errors import RuleError
from ..tasks.hours import calendar_key
from ..tasks.model import Project, Task
from .network import Network, PlanInput, PlanLink, PlanTask
from .schedule import Schedule

CALENDAR = "project"
# What a plan depends on. An edit that touches none of these moves nothing.
PLANNING_FIELDS = frozenset(
    {
        "parent_id", "kind", "state_id", "start", "finish", "duration", "constraint_type", "constraint_at", "deadline",
        "elapsed", "calendar_id", "deleted_at", "waits_for",
    }
)  # fmt: skip
# By whom a task is worked: what a plan depends on besides where people's time drives dates.
_PEOPLE_FIELDS = frozenset({"owner_id", "helpers", "bookings"})
# What only the forecast depends on.
PROGRESS_FIELDS = frozenset({"percent", "actual_start", "actual_finish"})
_STRUCTURE = ("parent_id", "kind", "deleted_at", "waits_for")


def planning_fields(project: Project) -> frozenset[str]:
    """The fields that move something where an edit touches them."""
    return PLANNING_FIELDS | _PEOPLE_FIELDS if project.people_time else PLANNING_FIELDS


def plan_input(project: Project, calendar: WorkingCalendar, tasks: Mapping[str, Task]) -> PlanInput:
    """What is to be scheduled of a project: living tasks that were not dropped, and the links between them.

    A task that has begun or is finished stands in the plan where it stood. One with a single date, no duration and no
    link stays as it was typed: nothing is computed for it.
    """
    dropped = {state.id for state in project.states if state.state_class == "dropped"}
    queued = {state.id for state in project.states if state.state_class == "queued"}
    living = {task.id: task for task in tasks.values() if task.deleted_at is None}
    above = {task.parent_id for task in living.values()}
    taking_part = {task.id for task in living.values() if task.id in above or task.state_id not in dropped}
    links = [
        PlanLink(link.from_id, task.id, link.type, link.lag, link.elapsed)
        for task in living.values()
        if task.waits_for and task.id in taking_part
        for link in task.waits_for
        if link.from_id in taking_part
    ]
    linked = {end for link in links for end in (link.from_id, link.to_id)}
    rows = [
        _summary(task) if task.id in above else _leaf(task, project, task.id in linked, task.state_id in queued)
        for task in living.values()
        if task.id in taking_part
    ]
    return PlanInput(
        _project_start(project, calendar),
        CALENDAR,
        _calendars(project, calendar),
        rows,
        links,
        milestones_close=True,
        before_start=True,
    )


def _calendars(project: Project, calendar: WorkingCalendar) -> dict[str, WorkingCalendar]:
    return {CALENDAR: calendar, **project.calendars, **project.people_time}


def _minute(at: datetime | None) -> int | None:
    return None if at is None else minute_of(at)


def _summary(task: Task) -> PlanTask:
    return PlanTask(task.id, task.title, task.parent_id, deadline=_minute(task.deadline))


def _leaf(task: Task, project: Project, linked: bool, queued: bool) -> PlanTask:
    milestone = task.kind == "milestone"
    if not linked and task.duration is None and (task.start is None or task.finish is None):
        constraint, at = "asap", None
    else:
        constraint, at = task.constraint_type, _minute(task.constraint_at)
    start, finish = task.start or task.actual_start, task.finish or task.actual_finish
    begun = not queued and start is not None and finish is not None
    return PlanTask(
        id=task.id,
        name=task.title,
        parent_id=task.parent_id,
        duration=task.duration,
        milestone=milestone and (task.duration is not None or linked),
        elapsed=task.elapsed and not milestone,
        calendar=calendar_key(task, project),
        constraint=constraint,  # type: ignore[arg-type]
        at=at,
        deadline=_minute(task.deadline),
        percent=task.percent,
        actual_start=_minute(task.actual_start) if begun else None,
        actual_finish=_minute(task.actual_finish) if begun else None,
        planned_start=_minute(start) if begun else None,
        planned_finish=_minute(max(finish, start)) if begun and finish and start else None,
    )


def schedule_of(project: Project, calendar: WorkingCalendar, tasks: Mapping[str, Task]) -> Schedule:
    """The plan of a project's tasks. Raises RuleError where links close a cycle, or join a task to one above it."""
    return Schedule(plan_input(project, calendar, tasks))


def readable_schedule(project: Project, calendar: WorkingCalendar, tasks: Mapping[str, Task]) -> Schedule:
    """As ``schedule_of``, but that a plan can be read even where its links close a cycle: then none of them counts.

    No change to tasks leaves such links behind. A state that no longer counts as dropped may bring some back; whoever
    changes a task next is told of the cycle.
    """
    try:
        return schedule_of(project, calendar, tasks)
    except RuleError:
        return schedule_of(project, calendar, {one: task.with_fields({"waits_for": ()}) for one, task in tasks.items()})


def follow(
    before: Schedule,
    project: Project,
    calendar: WorkingCalendar,
    was: Mapping[str, Task],
    now: Mapping[str, Task],
    changed: Iterable[str],
) -> Schedule:
    """The plan after some tasks changed. Where the network is the same, only the two passes are made again.

    Args:
        before, project, calendar, was, now, changed: as for ``network_after``.
    """
    net = network_after(before, project, calendar, was, now, changed)
    return Schedule(net) if net is not None else schedule_of(project, calendar, now)


def network_after(
    before: Schedule,
    project: Project,
    calendar: WorkingCalendar,
    was: Mapping[str, Task],
    now: Mapping[str, Task],
    changed: Iterable[str],
) -> Network | None:
    """The network after some tasks changed; None where it has to be made anew.

    Args:
        before: the schedule of the tasks as they were.
        was, now: all tasks before and after.
        changed: the ids of those that differ.
    """
    dropped = {state.id for state in project.states if state.state_class == "dropped"}
    queued = {state.id for state in project.states if state.state_class == "queued"}
    same = before.plan.calendars == _calendars(project, calendar)
    replaced: dict[str, PlanTask] = {}
    for task_id in changed if same else ():
        old, new = was.get(task_id), now[task_id]
        if (
            old is None
            or any(getattr(old, name) != getattr(new, name) for name in _STRUCTURE)
            or (old.state_id in dropped) != (new.state_id in dropped)
        ):
            same = False
        elif task_id in before.net.index:
            summary = before.net.is_summary[before.net.index[task_id]]
            if summary and old.deadline != new.deadline:
                same = False
            elif not summary:
                replaced[task_id] = _leaf(new, project, before.base.is_linked(task_id), new.state_id in queued)
    start = _project_start(project, calendar)
    return before.base.with_tasks(replaced) if same and start == before.plan.start else None


def _project_start(project: Project, calendar: WorkingCalendar) -> int:
    return calendar.next_working(minute_of(datetime.combine(project.start_day, time())))


def check_links(plan_tasks: Mapping[str, Task], changed: Mapping[str, Task], tasks: Mapping[str, Task]) -> None:
    """Raises RuleError where a change brings more links than a project can hold.

    Args:
        plan_tasks: all tasks as they were.
        changed: what was changed, as it is now.
        tasks: all tasks, with what was changed.
    """
    before = sum(len(plan_tasks[one].waits_for) for one in changed if one in plan_tasks)
    if sum(len(task.waits_for) for task in changed.values()) <= before:
        return
    if sum(len(task.waits_for) for task in tasks.values() if task.deleted_at is None) > MOST_LINKS:
        raise RuleError(f"A project holds {MOST_LINKS} links at most. Put milestones between groups of tasks.", "waits_for")


def check_dates(tasks: Mapping[str, Task], moves: Mapping[str, Mapping[str, object]]) -> None:
    """Raises RuleError where computed dates lie beyond the days that a plan can hold."""
    for task_id, fields in moves.items():
        for name in ("start", "finish"):
            at = fields.get(name)
            if isinstance(at, datetime) and not FIRST_DAY <= at.date() <= LAST_DAY:
                where = f"after {LAST_DAY.year}" if at.date() > LAST_DAY else f"before {FIRST_DAY.year}"
                raise RuleError(
                    f"“{tasks[task_id].title}” would stand {where}. Shorten what it waits for, or how long it takes.", name
                )


def computed_dates(schedule: Schedule, tasks: Mapping[str, Task]) -> dict[str, dict[str, object]]:
    """The fields by which stored tasks differ from their computed dates, by id.

    A linked task without a duration lasts a day (``docs``: where nothing else says), which is written down with it.
    """
    found: dict[str, dict[str, object]] = {}
    calendars = schedule.plan.calendars
    linked = {i for ends in schedule.net.ends for i in ends}
    rows = zip(schedule.plan.tasks, schedule.starts, schedule.finishes, schedule.net.is_summary, strict=True)
    for index, (row, start, finish, is_summary) in enumerate(rows):
        if is_summary or start is None or finish is None or row.planned_start is not None:
            continue
        task = tasks[row.id]
        if task.duration is None and index not in linked:
            continue
        fields: dict[str, object] = {}
        if task.start is None or minute_of(task.start) != start:
            fields["start"] = datetime_of(start)
        if task.finish is None or minute_of(task.finish) != finish:
            fields["finish"] = datetime_of(finish)
        if task.duration is None:
            fields["duration"] = 0 if task.kind == "milestone" else calendars[row.calendar or CALENDAR].day_minutes
        if fields:
            found[row.id] = fields
    return found
