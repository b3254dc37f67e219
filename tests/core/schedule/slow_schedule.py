"""Dates by a slow and obvious method, for holding the fast one to: every minute is looked at, and every rule is applied
again and again until nothing moves."""

from __future__ import annotations

from dataclasses import replace
from functools import cache

from rhodonite.core.common.calendars import WorkingCalendar, datetime_of
from rhodonite.core.schedule.network import PlanInput, PlanLink, PlanTask


@cache
def works(calendar: WorkingCalendar, minute: int) -> bool:
    """True where work goes on during the minute that begins here."""
    at = datetime_of(minute)
    return any(a <= at.hour * 60 + at.minute < b for a, b in calendar.hours(at.date()))


def opening(calendar: WorkingCalendar, minute: int) -> int:
    while not works(calendar, minute):
        minute += 1
    return minute


def walk(calendar: WorkingCalendar, minute: int, duration: int) -> int:
    """Forward by so many worked minutes, or back where the duration is less than nothing."""
    while duration > 0:
        duration -= works(calendar, minute)
        minute += 1
    while duration < 0:
        minute -= 1
        duration += works(calendar, minute)
    return minute


def worked(calendar: WorkingCalendar, start: int, end: int) -> int:
    if end < start:
        return -worked(calendar, end, start)
    return sum(works(calendar, minute) for minute in range(start, end))


class SlowSchedule:
    """Early dates of a plan without progress."""

    def __init__(self, plan: PlanInput) -> None:
        self.plan = plan
        self.project = plan.calendars[plan.calendar]
        self.parents = {task.parent_id for task in plan.tasks}
        self.leaves = [task for task in plan.tasks if task.id not in self.parents]
        self.start: dict[str, int] = {}
        self.finish: dict[str, int] = {}
        for task in self.leaves:
            self._place(task, plan.start)
        while self._settle():
            pass

    def calendar(self, task: PlanTask) -> WorkingCalendar:
        return self.plan.calendars[task.calendar or self.plan.calendar]

    def duration(self, task: PlanTask) -> int:
        if task.milestone:
            return 0
        return self.calendar(task).day_minutes if task.duration is None else task.duration

    def below(self, task_id: str) -> list[PlanTask]:
        parent = {task.id: task.parent_id for task in self.plan.tasks}

        def is_under(one: str | None) -> bool:
            return one is not None and (one == task_id or is_under(parent[one]))

        return [task for task in self.leaves if is_under(task.id)]

    def _place(self, task: PlanTask, bound: int) -> None:
        calendar, duration = self.calendar(task), self.duration(task)
        closes = self.plan.milestones_close and duration == 0 and works(calendar, bound - 1)
        start = bound if closes else opening(calendar, bound)
        self.start[task.id] = start
        self.finish[task.id] = start + duration if task.elapsed else walk(calendar, start, duration)

    def _settle(self) -> bool:
        """Apply every rule once. True where something moved."""
        before = dict(self.start)
        for task in self.leaves:
            bounds = [self.plan.start]
            calendar, duration = self.calendar(task), self.duration(task)

            def back(minute: int, calendar: WorkingCalendar = calendar, task: PlanTask = task, duration: int = duration) -> int:
                return minute - duration if task.elapsed else walk(calendar, minute, -duration)

            if task.constraint == "start_no_earlier":
                bounds.append(task.at or 0)
            if task.constraint == "finish_no_earlier":
                bounds.append(back(task.at or 0))
            for link in self.plan.links:
                if task in self.below(link.to_id):
                    minute = self.given(link)
                    bounds.append(back(minute) if link.type[1] == "F" else minute)
            if task.constraint == "must_start":
                bounds = [task.at or 0]
            if task.constraint == "must_finish":
                bounds = [back(task.at or 0)]
            self._place(task, max(bounds))
        return before != self.start

    def given(self, link: PlanLink) -> int:
        """The minute that a link gives to the end that waits."""
        below = [task.id for task in self.below(link.from_id)]
        minute = max(self.finish[one] for one in below) if link.type[0] == "F" else min(self.start[one] for one in below)
        return minute + link.lag if link.elapsed else walk(self.project, minute, link.lag)

    @property
    def end(self) -> int:
        return max(self.finish.values())

    def delayed(self, task_id: str, minutes: int) -> SlowSchedule:
        """The same with one task held back by so many of its working minutes."""
        task = next(one for one in self.plan.tasks if one.id == task_id)
        calendar = self.calendar(task)
        start = self.start[task_id]
        held = walk(calendar, start, minutes) if self.duration(task) == 0 else opening(calendar, walk(calendar, start, minutes))
        tasks = [replace(one, constraint="start_no_earlier", at=held) if one is task else one for one in self.plan.tasks]
        return SlowSchedule(replace(self.plan, tasks=tasks))
