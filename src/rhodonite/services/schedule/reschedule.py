"""The ripple: after every change the plan is computed anew, and what moves is written, or first shown.

A change asks by ``Consent``. Without one it is applied. With ``ask`` it is applied where nothing else moves, or
nothing by more than the person's threshold; else it is refused with its ripple. ``all`` and ``only`` apply what was
shown, as long as the project stands at the revision that the ripple was made from.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from functools import partial

from pymysql.cursors import Cursor

from ...core.common.calendars import WorkingCalendar
from ...core.cost.effects import MoneyEffect
from ...core.goals.endangered import Endangered
from ...core.resources.effects import Effect
from ...core.schedule.drafts import not_kept
from ...core.schedule.isolate import Isolated, Waiting, isolate, say_isolated, waiting
from ...core.schedule.plan import Plan
from ...core.schedule.planning import check_dates, check_links, computed_dates, follow, planning_fields, schedule_of
from ...core.schedule.ripple import Ripple, ripple
from ...core.schedule.schedule import Schedule
from ...core.tasks.model import Fields, Project, Task
from ..common.context import Actor, Consent, Log
from ..common.pipeline import After, on_goals, on_money, on_people, step
from ..common.task_writes import write_many, write_moves


@dataclass(frozen=True, slots=True)
class RippleAnswer:
    """A ripple as it is shown.

    Attributes:
        revision: of the project that it was made from.
        touched: the tasks that were changed themselves.
        can_alone: True where the change can be applied to them alone.
        alone: what that does, in words, where it was asked for.
        can_try: True where a draft can keep the change.
        people: who becomes over by it, or no longer is.
        money: what it does to money; None for who may not see that.
        goals: which of the goals that the person sees it endangers, or no longer does.
        announced: what it does besides, in sentences.
    """

    ripple: Ripple
    revision: int
    touched: list[str]
    waiting: list[Waiting]
    can_alone: bool
    alone: list[str]
    titles: dict[str, str]
    can_try: bool = False
    people: list[Effect] = field(default_factory=list)
    money: MoneyEffect | None = None
    goals: list[Endangered] = field(default_factory=list)
    announced: list[str] = field(default_factory=list)


class NeedsConsent(Exception):
    """A change moves more than what was touched, and the person is to see that first."""

    def __init__(self, answer: RippleAnswer) -> None:
        super().__init__("This change moves other tasks. Look at what it carries on, then apply it or put it back.")
        self.sentence = str(self)
        self.answer = answer


@step("reschedule")
def reschedule(cur: Cursor, actor: Actor, log: Log, plan: Plan, how: After) -> None:
    """Compute the plan with what was changed, and write the dates of every task that moves.

    Args:
        plan: as it stood before the change; ``log.tasks`` holds what was changed.

    Raises:
        NeedsConsent: the person asked to be shown first what else moves.
        RuleError: the links would close a cycle, or join a task to one above it.
    """
    now, hours, whole = how.project or plan.project, how.calendar or plan.calendar, how.whole
    only_tasks = how.project is None and how.calendar is None
    if only_tasks and not _concerns_planning(plan, log):
        _ask_of_budgets(cur, actor, plan, log)
        if log.announced and _asks(actor, log):
            raise NeedsConsent(replace(preview(cur, actor, plan, dict(log.tasks), log.revision - 1), announced=log.announced))
        return
    tasks = {**plan.tasks, **log.tasks}
    check_links(plan.tasks, log.tasks, tasks)
    after = follow(plan.schedule, now, hours, plan.tasks, tasks, log.tasks)
    consent = actor.consent
    if consent is not None:
        if _asks(actor, log):
            can_try = only_tasks and not any(not_kept(e.subject, e.field) for e in log.entries)
            effects, passes = partial(_with_effects, cur, actor, plan), partial(_weighs, cur, actor, plan)
            _show_first(plan, log, consent, tasks, after, now, hours, {} if whole else log.tasks, can_try, effects, passes)
        elif consent.kind == "only" and not whole:
            alone = _alone(plan, dict(log.tasks), after, now, hours)
            write_many(cur, log, alone.edits, tasks)
            tasks |= log.tasks
            after = schedule_of(now, hours, tasks)
    moves = computed_dates(after, tasks)
    check_dates(tasks, moves)
    write_moves(cur, log, tasks, moves)


def _asks(actor: Actor, log: Log) -> bool:
    """True where the person asked to be shown first what a change does, and was not shown what it does now."""
    consent = actor.consent
    return consent is not None and (consent.kind in {"ask", "alone"} or consent.revision != log.revision - 1)


def _concerns_planning(plan: Plan, log: Log) -> bool:
    names = planning_fields(plan.project)
    for task_id, task in log.tasks.items():
        before = plan.tasks.get(task_id)
        if before is None:
            if task.start or task.finish or task.duration is not None or task.waits_for or task.parent_id:
                return True
        elif any(getattr(before, name) != getattr(task, name) for name in names):
            return True
    return False


def _ask_of_budgets(cur: Cursor, actor: Actor, plan: Plan, log: Log) -> None:
    """Ask first where other bookings, which move nothing, pass a budget. Raises NeedsConsent."""
    consent = actor.consent
    if consent is None or (consent.kind != "ask" and consent.revision == log.revision - 1):
        return
    booked = {one: task for one, task in log.tasks.items() if one in plan.tasks and plan.tasks[one].bookings != task.bookings}
    money = on_money(cur, actor, plan, booked, {}) if booked else None
    if money is not None and (consent.kind != "ask" or money.passed):
        raise NeedsConsent(preview(cur, actor, plan, booked, log.revision - 1))


def _passes_a_budget(cur: Cursor, actor: Actor, plan: Plan, changed: Mapping[str, Task], moves: Mapping[str, Fields]) -> bool:
    """True where a change passes a budget, for who may see that."""
    if not plan.project.costs or not changed:
        return False
    money = on_money(cur, actor, plan, changed, _of_booked(plan, changed, moves))
    return money is not None and bool(money.passed)


def _weighs(cur: Cursor, actor: Actor, plan: Plan, changed: Mapping[str, Task], moves: Mapping[str, Fields]) -> bool:
    """True where a change is shown first though it moves little: it passes a budget, or endangers a goal."""
    if _passes_a_budget(cur, actor, plan, changed, moves):
        return True
    return bool(changed) and any(not one.saved for one in on_goals(cur, actor, plan, changed, moves))


def _of_booked(plan: Plan, changed: Mapping[str, Task], moves: Mapping[str, Fields]) -> dict[str, Fields]:
    return {one: dates for one, dates in moves.items() if (changed.get(one) or plan.tasks[one]).bookings}


def _show_first(
    plan: Plan,
    log: Log,
    consent: Consent,
    tasks: dict[str, Task],
    after: Schedule,
    project: Project,
    calendar: WorkingCalendar,
    touched: dict[str, Task],
    can_try: bool,
    effects: Callable[[RippleAnswer, Mapping[str, Task], Mapping[str, Fields]], RippleAnswer],
    passes: Callable[[Mapping[str, Task], Mapping[str, Fields]], bool],
) -> None:
    result = ripple(plan.schedule, after)
    held = waiting(plan.tasks, touched, after, calendar)
    by_hand = {one: task for one, task in touched.items() if not _moved_by_link(one, task, plan.tasks, result)}
    others = [move for move in result.moved if move.task not in by_hand]
    slight = (
        not log.announced
        and consent.kind == "ask"
        and all(abs(move.by) <= consent.days * calendar.day_minutes for move in others)
    )
    dates = computed_dates(after, tasks)
    if slight and not held and (not others or not result.deadlines_missed) and not passes(touched, dates):
        return
    answer = _answer(by_hand, tasks, result, held, log.revision - 1)
    answer = replace(answer, can_try=can_try, announced=log.announced)
    answer = effects(answer, touched, dates)
    if consent.kind == "alone" and answer.can_alone:
        words = say_isolated(_alone(plan, dict(touched), after, project, calendar), tasks, plan.now.date())
        answer = replace(answer, alone=words)
    raise NeedsConsent(answer)


def _moved_by_link(task_id: str, task: Task, was: Mapping[str, Task], result: Ripple) -> bool:
    """True where nobody set a task's dates, and a link that it was given moves it."""
    before = was.get(task_id)
    if before is None or before.waits_for == task.waits_for or before.start is None:
        return False
    by_hand = any(getattr(before, name) != getattr(task, name) for name in ("constraint_type", "constraint_at", "duration"))
    return not by_hand and any(move.task == task_id for move in result.moved)


def _alone(plan: Plan, touched: dict[str, Task], after: Schedule, project: Project, calendar: WorkingCalendar) -> Isolated:
    """By which fields a change moves nothing but what it touched."""
    held = waiting(plan.tasks, touched, after, calendar)
    return isolate(plan.schedule, plan.tasks, touched, held, project, calendar)


def preview(cur: Cursor, actor: Actor, plan: Plan, changed: dict[str, Task], revision: int) -> RippleAnswer:
    """What changed tasks would carry on. Raises RuleError as ``reschedule`` does."""
    tasks = {**plan.tasks, **changed}
    after = follow(plan.schedule, plan.project, plan.calendar, plan.tasks, tasks, changed)
    held = waiting(plan.tasks, changed, after, plan.calendar)
    answer = _answer(changed, tasks, ripple(plan.schedule, after), held, revision)
    return _with_effects(cur, actor, plan, answer, changed, computed_dates(after, tasks))


def _with_effects(
    cur: Cursor, actor: Actor, plan: Plan, answer: RippleAnswer, changed: Mapping[str, Task], moves: Mapping[str, Fields]
) -> RippleAnswer:
    """The same with what becomes of people, money and goals.

    Args:
        moves: the dates that tasks get by a change.
    """
    titles = answer.titles
    goals = on_goals(cur, actor, plan, changed, moves)
    for one in goals:
        if one.worst is not None:
            titles = titles | {one.worst: (changed.get(one.worst) or plan.tasks[one.worst]).title}
    if not plan.project.books:
        return replace(answer, goals=goals, titles=titles)
    booked = _of_booked(plan, changed, moves)
    money = on_money(cur, actor, plan, changed, booked)
    for subject in [*(one for one, _ in money.passed), *money.kept] if money else ():
        if subject in plan.tasks:
            titles = titles | {subject: plan.tasks[subject].title}
    return replace(answer, people=on_people(cur, actor, plan, changed, booked), money=money, goals=goals, titles=titles)


def _answer(touched: dict[str, Task], tasks: dict[str, Task], result: Ripple, held: list[Waiting], revision: int) -> RippleAnswer:
    return RippleAnswer(
        ripple=result,
        revision=revision,
        touched=list(touched),
        waiting=held,
        can_alone=bool(touched) and (bool(held) or any(move.task not in touched for move in result.moved)),
        alone=[],
        titles={one: tasks[one].title for one in named_in(result) | {one.task for one in held}},
    )


def named_in(result: Ripple) -> set[str]:
    """The ids of all tasks that a ripple names."""
    several = (result.deadlines_missed, result.deadlines_met, result.pins_contradicted, result.became_critical,
               result.no_longer_critical)  # fmt: skip
    return {move.task for move in result.moved} | {one for ids in several for one in ids}
