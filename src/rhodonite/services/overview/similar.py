"""Similar finished work, and help with texts that is made from it."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass

from pymysql.cursors import Cursor

from ...core.common.durations import say_duration
from ...core.overview.similar import DoneWork, Range, Similar, offered_estimate, range_of, similar_work, words_of
from ...core.tasks.model import Project
from ...standins.text_help import DescriptionWish, Example, Length, TasksWish, Tone
from ...store.overview import similar as similar_rows
from ...store.tasks import projects as project_rows
from ...store.tasks import tasks as task_rows
from ..common.context import Actor, open_task
from ..common.plan_cache import kept_calendar
from ..tasks.projects import visible_projects

MOST_CANDIDATES = 300
MOST_POINTS = 40


@dataclass(frozen=True, slots=True)
class SimilarWork:
    """What is like a task, and the ranges of what it took.

    Attributes:
        took: working minutes; ``effort``: minutes planned; ``spent``: minutes entered.
        estimate: minutes that the task may be estimated at.
    """

    found: list[Similar]
    projects: Mapping[str, Project]
    took: Range | None
    effort: Range | None
    spent: Range | None
    estimate: int | None
    day_minutes: int


def read_similar(cur: Cursor, actor: Actor, task_id: str) -> SimilarWork:
    """Finished work that is like a task, in all projects that the person may see."""
    project = open_task(cur, actor, task_id)
    task = task_rows.tasks_by_id(cur, [task_id])[0]
    projects = {one.id: one for archived in (False, True) for one, _ in visible_projects(cur, actor, archived=archived)}
    rows = similar_rows.finished_like(cur, set(words_of(task.title)), list(projects), MOST_CANDIDATES)
    calendars = {
        one: kept_calendar(week, exceptions)
        for one, (week, exceptions) in project_rows.calendars(cur, [*{row[1] for row in rows}, project.id]).items()
    }
    done = [
        DoneWork(one, project_id, number, title, kind, calendars[project_id].minutes_between(start, finish) if start and finish else None,
                 effort, own, spent or None)
        for one, project_id, number, title, kind, start, finish, effort, own, spent in rows
        if one != task_id
    ]  # fmt: skip
    found = similar_work(task.title, task.kind, task.own, done)
    return SimilarWork(
        found,
        projects,
        range_of(one.work.took for one in found),
        range_of(one.work.effort for one in found),
        range_of(one.work.spent for one in found),
        offered_estimate(found),
        calendars[project.id].day_minutes,
    )


def description_wish(
    cur: Cursor, actor: Actor, task_id: str, points: list[str], tone: Tone, length: Length, again: int
) -> DescriptionWish:
    """What a description is to be made of: talking points, and similar work. The service is asked outside the transaction."""
    open_task(cur, actor, task_id)
    task = task_rows.tasks_by_id(cur, [task_id])[0]
    return DescriptionWish(task.title, tuple(points[:MOST_POINTS]), tone, length, _examples(cur, actor, task_id), again)


def tasks_wish(cur: Cursor, actor: Actor, task_id: str, again: int) -> TasksWish:
    """For what tasks are to be proposed: those that stand below already, and similar work."""
    open_task(cur, actor, task_id)
    task = task_rows.tasks_by_id(cur, [task_id])[0]
    known = tuple(title for _, title in similar_rows.below(cur, [task_id]))
    return TasksWish(task.title, known, _examples(cur, actor, task_id), again)


def _examples(cur: Cursor, actor: Actor, task_id: str) -> tuple[Example, ...]:
    similar = read_similar(cur, actor, task_id)
    ids = [one.work.id for one in similar.found]
    steps: dict[str, list[str]] = defaultdict(list)
    for one, text in [*similar_rows.below(cur, ids), *similar_rows.ticked(cur, ids)]:
        steps[one].append(text)
    return tuple(
        Example(
            one.work.title, say_duration(one.work.took, similar.day_minutes) if one.work.took else "", tuple(steps[one.work.id])
        )
        for one in similar.found
    )
