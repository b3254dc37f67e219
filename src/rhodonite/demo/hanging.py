"""Hangs on the demo's tasks what ``demo.talk`` says, through the services."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Mapping
from datetime import date, datetime, time
from functools import partial
from typing import Any

from ..core.people.model import Person
from ..services.common.context import Actor, Clock, new_id
from ..services.talk import kept_checklists as templates
from ..services.talk import parts
from ..services.tasks import tasks as task_services
from ..store.common.database import Database
from ..store.tasks import tasks as task_rows
from .plans import DemoProject
from .talk import ORDER, TALK, Comment, Talk, drawing

Event = tuple[datetime, Callable[[], None]]
MOST = 1 << 20


class Hanger:
    """Lays out who wrote what and when on the tasks of one project.

    Args:
        clock: that of the demo, which is moved to each event.
        people: by initials.
        ids: of the project's tasks, by title.
    """

    def __init__(
        self, database: Database, clock: Clock, people: Mapping[str, Person], demo: DemoProject, ids: Mapping[str, str]
    ) -> None:
        self._database = database
        self._clock = clock
        self._people = people
        self._demo = demo
        self._ids = ids

    def events(self, day: Callable[[int], date]) -> Iterator[Event]:
        """What is to be done when. ``day`` gives the working day so many days from today."""
        for talk in TALK:
            if talk.project == self._demo.code:
                yield from self._of(talk, day)

    def _of(self, talk: Talk, day: Callable[[int], date]) -> Iterator[Event]:
        task_id, lead = self._ids[talk.task], self._demo.lead
        begun = datetime.combine(day(-6), time(9, 30))
        for who in talk.follows:
            yield begun, self._use(who, parts.follow, task_id, "follows")
        if talk.description:
            yield begun, lambda: self._edit(task_id, {"description": self._text(talk.description)})
        for index, (name, items) in enumerate(talk.checklists):
            yield begun, partial(self._checklist, task_id, name, items, talk.keep and not index)
        for name, what in talk.files:
            data = drawing() if what == "drawing" else ORDER.encode()
            yield begun, self._use(lead, parts.attach, task_id, new_id(), name, data, inline=False, most=MOST)
        for word, title in talk.related:
            yield begun, self._use(lead, parts.relate, task_id, new_id(), self._ids[title], word)
        if talk.repeats:
            yield begun, partial(self._edit, task_id, {"repeats": {"words": talk.repeats}})
        if talk.held_by:
            holder = self._ids[talk.held_by]
            yield datetime.combine(day(-2), time(11, 5)), lambda: self._edit(task_id, {"held_by_id": holder})
        said = [new_id() for _ in talk.comments]
        for index, comment in enumerate(talk.comments):
            answers = said[index - comment.answers] if comment.answers else None
            at = datetime.combine(day(-comment.ago), time.fromisoformat(comment.at))
            yield at, partial(self._say, task_id, comment, said[index], answers)
            yield from self._marks(at, comment, said[index])

    def _marks(self, at: datetime, comment: Comment, comment_id: str) -> Iterator[Event]:
        for reaction, who in comment.reactions:
            yield at, self._use(who, parts.mark_comment, comment_id, resolved=None, reaction=reaction, on=True)
        if comment.resolved_by:
            yield at, self._use(comment.resolved_by, parts.mark_comment, comment_id, resolved=True, reaction=None, on=False)

    def _as(self, initials: str) -> Actor:
        return Actor(self._people[initials], self._clock)

    def _use(self, initials: str, service: Callable[..., Any], *args: Any, **kwargs: Any) -> Callable[[], None]:
        return lambda: self._database.write(service, self._as(initials), *args, **kwargs)

    def _text(self, html: str) -> str:
        """A text with the people and tasks that it names."""

        def person(found: re.Match[str]) -> str:
            one = self._people[found[1]]
            return f'<span data-person="{one.id}">@{one.name}</span>'

        def task(found: re.Match[str]) -> str:
            task_id = self._ids[found[1]]
            row = self._database.read(lambda cur: task_rows.tasks_by_id(cur, [task_id]))[0]
            code = self._demo.code
            return f'<a data-task="{task_id}" href="/p/{code}/outline?open={task_id}">{code} {row.number} {found[1]}</a>'

        return re.sub(r"#([^#]+)#", task, re.sub(r"\{([A-Z]{2})\}", person, html))

    def _say(self, task_id: str, comment: Comment, comment_id: str, answers: str | None) -> None:
        self._use(comment.who, parts.say, task_id, comment_id, self._text(comment.body), answers)()

    def _edit(self, task_id: str, fields: dict[str, Any]) -> None:
        edit = task_services.TaskEdit(task_id, 2**31 - 1, fields)
        self._database.write(task_services.edit_tasks, self._as(self._demo.lead), self._demo.code, [edit])

    def _checklist(self, task_id: str, name: str, items: tuple[str, ...], keep: bool) -> None:
        actor, list_id = self._as(self._demo.lead), new_id()
        self._database.write(parts.add_checklist, actor, task_id, list_id, name, [one.removeprefix("x ") for one in items])
        ticked = {one.removeprefix("x ") for one in items if one.startswith("x ")}
        for check_id, text in self._database.read(self._checks, list_id):
            if text in ticked:
                self._database.write(parts.edit_check, self._as(self._demo.lead), check_id, {"done": True})
        if keep:
            self._database.write(templates.keep_template, self._as(self._demo.lead), self._demo.code, new_id(), list_id)

    @staticmethod
    def _checks(cur: Any, list_id: str) -> list[tuple[str, str]]:
        cur.execute("SELECT id, text FROM checks WHERE checklist_id = %s", (list_id,))
        return list(cur.fetchall())
