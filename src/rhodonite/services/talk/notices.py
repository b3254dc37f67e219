"""Notices: written with the change that causes them, read on a page, and told by mail as each person wishes."""

from __future__ import annotations

from collections import ChainMap, defaultdict
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from datetime import timedelta
from typing import Any

from pymysql.cursors import Cursor

from ...core.goals.access import right_in
from ...core.people.access import project_role
from ...core.people.model import Person
from ...core.people.preferences import NoticeKind, Preferences, mail_for, with_changes
from ...core.schedule.plan import Plan
from ...core.talk.notices import Reason, ToTell, Touch, can_start_now, followers, is_told, notices_of
from ...core.tasks.model import Project, Task
from ...formats.html import words_of
from ...standins.dispatch import send_mail
from ...store.common import journal as journal_rows
from ...store.goals import goals as goal_rows
from ...store.people import people as people_rows
from ...store.resources import bookable as resource_rows
from ...store.talk import notices as notice_rows
from ...store.talk import parts as part_rows
from ...store.talk.notices import Notice
from ...store.tasks import projects as project_rows
from ...store.tasks import tasks as task_rows
from ..common.context import Actor, Clock, Log, new_id
from ..common.journal_text import Sayer
from ..common.pipeline import After, step
from ..tasks.projects import visible_projects

MOST_SHOWN = 300
LONGEST_WORDS = 1000


@dataclass(frozen=True, slots=True)
class NoticeGroup:
    """The notices of one task, the newest first; of several tasks where ``task_id`` is None; of a goal where there is no project."""

    project: Project | None
    goal_id: str | None
    task_id: str | None
    number: int | None
    title: str | None
    notices: list[Notice]


@step("tell")
def tell_of_tasks(cur: Cursor, actor: Actor, log: Log, plan: Plan, how: After) -> None:
    """Write the notices of a change to tasks, and of people whom a description names anew.

    Args:
        plan: as it stood before; ``log`` holds what was changed.
    """
    for task_id, named in log.named.items():
        if named:
            text = words_of(task_rows.description(cur, task_id))
            tell_of_comment(cur, actor, plan.project, log.tasks[task_id], text, named, None, everyone=False)
    fields: dict[str, set[str]] = defaultdict(set)
    entries: dict[str, list[journal_rows.Entry]] = defaultdict(list)
    for entry in log.entries:
        if entry.subject == "task":
            fields[entry.subject_id].add(entry.field)
            entries[entry.subject_id].append(entry)
    touched = {
        one: Touch(plan.tasks.get(one), log.tasks[one], frozenset(names) - {"created"})
        for one, names in fields.items()
        if one in log.tasks
    }
    tasks = ChainMap(log.tasks, plan.tasks)
    ready = can_start_now(tasks, touched, how.project or plan.project, plan.project)
    touched |= {one: Touch(tasks[one], tasks[one], frozenset()) for one in ready if one not in touched}
    writers, said = _followings(cur, list(touched))
    found = notices_of(touched, writers, said, actor.person.id, ready)
    if found:
        people = people_rows.all_people(cur)
        say = Sayer(plan, also=how.project, names=resource_rows.resource_names(cur) | {one.id: one.name for one in people})
        words = [_words(one, touched, entries, say) for one in found]
        write(cur, actor, plan.project, list(zip(found, words, strict=True)), tasks, people=people)


def _followings(cur: Cursor, task_ids: Sequence[str]) -> tuple[dict[str, set[str]], dict[str, dict[str, Any]]]:
    writers: dict[str, set[str]] = defaultdict(set)
    said: dict[str, dict[str, Any]] = defaultdict(dict)
    for first in range(0, len(task_ids), 2000):
        some = task_ids[first : first + 2000]
        for task_id, person, how in part_rows.concerned(cur, some):
            if how is None:
                writers[task_id].add(person)
            else:
                said[task_id][person] = how
    return writers, said


_SEVERAL = {
    "given": "gave you, or took from you, {}",
    "held": "held {}, or let them go on",
    "state": "moved {} to other states",
    "can_start": "finished what {} waited for: they can start",
    "dates": "moved the dates of {}",
    "changed": "changed {}",
}


def _words(one: ToTell, touched: Mapping[str, Touch], entries: Mapping[str, list[journal_rows.Entry]], say: Sayer) -> str:
    if len(one.task_ids) > 1:
        return _SEVERAL[one.kind].format(f"{len(one.task_ids)} tasks")
    task_id = one.task_ids[0]
    if one.kind == "can_start":
        return "finished the last that it waited for: it can start"
    if one.kind == "given":
        after = touched[task_id].after
        if after.owner_id == one.person_id:
            return "made you its owner"
        return "made you a helper" if one.person_id in after.helpers else "took it off you"
    lines = [line for e in entries[task_id] if (line := say.line(e.field, e.old, e.new))]
    return ", ".join(lines)[:LONGEST_WORDS] or "changed it"


def tell_of_comment(
    cur: Cursor,
    actor: Actor,
    project: Project,
    task: Task,
    words: str,
    named: Collection[str],
    comment_id: str | None,
    *,
    everyone: bool,
) -> None:
    """Write the notices of something said on a task: to those who follow it, and to those whom it names.

    Args:
        comment_id: None where the text is the description.
        everyone: False where only the named are told.
    """
    writers, said = _followings(cur, [task.id])
    people = followers(task, writers.get(task.id, ()), said.get(task.id, {}))
    found: list[tuple[ToTell, str]] = []
    where = "in a comment" if comment_id else "in the description"
    for person in dict.fromkeys([*named, *(people if everyone else ())]):
        kind: NoticeKind = "named" if person in named else "said"
        reason: Reason = people.get(person, "named") if kind == "said" else "named"
        if person != actor.person.id and is_told(kind, reason, said.get(task.id, {}).get(person)):
            start = f"named you {where}: " if kind == "named" else "said: "
            found.append((ToTell(person, kind, reason, (task.id,)), f"{start}{words}"[:LONGEST_WORDS]))
    write(cur, actor, project, found, {task.id: task}, comment_id)


def write(
    cur: Cursor,
    actor: Actor,
    project: Project,
    found: Sequence[tuple[ToTell, str]],
    tasks: Mapping[str, Task],
    comment_id: str | None = None,
    people: Sequence[Person] | None = None,
) -> None:
    """Write notices, and send those by mail that the person wants at once. Who may not see the project is told nothing."""
    if not found:
        return
    roles = project_rows.members(cur, project.id)
    seeing = {
        one.id: one
        for one in people or people_rows.all_people(cur)
        if one.active and project_role(one.role, roles.get(one.id), project.private) is not None
    }
    wishes = people_rows.preferences_of(cur, {one.person_id for one, _ in found})
    rows = []
    for one, words in found:
        if one.person_id not in seeing:
            continue
        how = mail_for(wishes.get(one.person_id, {}), one.kind)
        task = tasks[one.task_ids[0]] if len(one.task_ids) == 1 else None
        notice = Notice(
            new_id(), one.person_id, project.id, task.id if task else None, one.kind, one.reason, actor.person.id,
            actor.clock.utc(), words, comment_id, None, how == "daily",
        )  # fmt: skip
        rows.append(notice)
        if how == "at_once":
            _mail(cur, actor, seeing[one.person_id], project, task, words)
    notice_rows.insert(cur, rows)


def _mail(cur: Cursor, actor: Actor, to: Person, project: Project, task: Task | None, words: str) -> None:
    about = f"{project.code} {task.number} {task.title}" if task else project.name
    address = f"{actor.address}/p/{project.code}/outline" + (f"?open={task.id}" if task else "")
    body = f"{actor.person.name} {words}\n\n{about}\n{address}\n\nYou get this at once because you asked for it: see Notices."
    send_mail(cur, new_id(), actor.clock.utc(), to=to.email, subject=about[:300], body=body)


def read_notices(cur: Cursor, actor: Actor, unread: bool = False) -> list[NoticeGroup]:
    """A person's notices, grouped by task, the task with the newest first. Of projects that they may see no more, none."""
    rows = notice_rows.latest(cur, actor.person.id, unread, MOST_SHOWN)
    projects = {project.id: project for project, _ in visible_projects(cur, actor)}
    titles = notice_rows.titles(cur, {one.task_id for one in rows if one.task_id})
    goals = _goals_seen(cur, actor.person, rows)
    groups: dict[tuple[str, str | None], NoticeGroup] = {}
    for one in rows:
        if one.goal_id in goals:
            group = NoticeGroup(None, one.goal_id, None, None, goals[one.goal_id], [])
            groups.setdefault((one.goal_id, None), group).notices.append(one)
        elif one.project_id in projects:
            number, title, *_ = titles.get(one.task_id or "", (None, None))
            group = NoticeGroup(projects[one.project_id], None, one.task_id, number, title, [])
            groups.setdefault((one.project_id, one.task_id), group).notices.append(one)
    return list(groups.values())


def _goals_seen(cur: Cursor, person: Person, notices: Sequence[Notice]) -> dict[str, str]:
    """Of the goals that some notices speak of those that a person may see now, by id what is aimed at."""
    goals = goal_rows.goals_by_id(cur, {one.goal_id for one in notices if one.goal_id})
    return {one.id: one.title for one in goals if right_in(one, person) is not None}


def count_unread(cur: Cursor, actor: Actor) -> int:
    """How many notices the person has not read, of the projects and goals that they may see."""
    seen = [project.id for project, _ in visible_projects(cur, actor)]
    of_goals = notice_rows.unread_goals(cur, actor.person.id)
    goals = _goals_seen(cur, actor.person, of_goals)
    return notice_rows.count_unread(cur, actor.person.id, seen) + sum(one.goal_id in goals for one in of_goals)


def mark_read(cur: Cursor, actor: Actor, ids: Collection[str] | None, read: bool) -> None:
    """Mark one's own notices as read, or as unread; all of them where no ids are given."""
    notice_rows.mark_read(cur, actor.person.id, ids, actor.clock.utc() if read else None)


def send_digests(cur: Cursor, clock: Clock, address: str) -> int:
    """Send each person their daily digest, once its hour is past. Returns how many were sent."""
    now = clock.now()
    people = {one.id: one for one in people_rows.all_people(cur) if one.active}
    waiting: dict[str, list[Notice]] = defaultdict(list)
    for notice in notice_rows.waiting_for_digest(cur, clock.utc()):
        waiting[notice.person_id].append(notice)
    wishes = people_rows.preferences_of(cur, waiting.keys())
    sent = 0
    for person_id, notices in waiting.items():
        hour = with_changes(Preferences(), wishes.get(person_id, {})).digest_hour
        due = now.replace(hour=int(hour), minute=0, second=0)
        due = due if due <= now else due - timedelta(days=1)
        ripe = [one for one in notices if clock.local(one.at) < due]
        told = _seen_by(cur, clock, people[person_id], ripe) if ripe and person_id in people else []
        if told:
            _digest(cur, clock, address, people, people[person_id], told)
            sent += 1
        notice_rows.told(cur, [one.id for one in ripe])
    return sent


def _seen_by(cur: Cursor, clock: Clock, person: Person, notices: Sequence[Notice]) -> list[Notice]:
    """Those of the projects that the person may see now, whatever they might see when they were written."""
    seen = {
        project.id for archived in (False, True) for project, _ in visible_projects(cur, Actor(person, clock), archived=archived)
    }
    goals = _goals_seen(cur, person, notices)
    return [one for one in notices if one.goal_id in goals or one.project_id in seen]


def _digest(cur: Cursor, clock: Clock, address: str, people: Mapping[str, Person], to: Person, notices: Sequence[Notice]) -> None:
    titles = {one: words[1] for one, words in notice_rows.titles(cur, {one.task_id for one in notices if one.task_id}).items()}
    titles |= _goals_seen(cur, to, notices)
    by_subject: dict[str | None, list[Notice]] = defaultdict(list)
    for one in notices:
        by_subject[one.task_id or one.goal_id].append(one)
    blocks = []
    for subject_id, some in by_subject.items():
        head = titles.get(subject_id or "", "Several tasks")
        lines = [f"  {people[one.by_id].name if one.by_id in people else 'Somebody'} {one.words}" for one in some]
        blocks.append("\n".join([head, *lines]))
    subject = f"{len(notices)} notices" if len(notices) > 1 else "One notice"
    body = "\n\n".join([*blocks, f"{address}/notices"])
    send_mail(cur, new_id(), clock.utc(), to=to.email, subject=f"{subject} from Rhodonite", body=body)
