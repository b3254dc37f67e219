"""Journal entries in words."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from ...core.common.dates import say_day
from ...core.common.durations import say_duration, say_hours
from ...core.schedule.plan import Plan
from ...core.tasks.booked import KEEPS_WORDS, read_booking, say_booked
from ...core.tasks.custom_fields import CustomField, kind_name
from ...core.tasks.model import CONSTRAINT_WORDS, Link, Project
from ...core.tasks.recurrence_words import say_rule
from ...core.tasks.typed_links import write_links
from ...store.common.database import from_json
from ...store.talk.parts import KINDS

LONGEST_QUOTE = 60


def shortened(text: Any) -> str:
    """The beginning of a text, for a line about it."""
    line = " ".join(str(text).split())
    return line if len(line) <= LONGEST_QUOTE else f"{line[: LONGEST_QUOTE - 1].rstrip()}…"


_PART_WORDS = {
    "comment": "comment",
    "file": "attachment",
    "checklist": "checklist",
    "check": "thing to tick",
    "relation": "relation",
}
_ADDED = {
    "comment": "said",
    "file": "attached",
    "checklist": "added the checklist",
    "check": "added to tick",
    "relation": "related",
}
_FIELD_WORDS = {
    "owner_id": "owner", "state_id": "state", "calendar_id": "calendar", "lead_id": "lead", "start_day": "start day", "start_grid": "grid of starts", "lenses": "lenses in the bar", "brief": "parts of the brief", "lane_id": "lane", "period_id": "backlog", "workflow_name": "name of the workflow", "limit_rule": "beyond a limit", "person_limit": "limit of a person", "column_limit": "limit of the column", "entry_rule": "on entry", "exit_rule": "on exit", "step_of": "stage", "bookings": "booked", "keeps": "what stays", "hours": "hours", "held_reason": "held",
    "held_by_id": "held by", "waits_for": "waits for", "constraint_type": "constraint", "percent": "percent done", "parent_id": "place in the outline", "state_class": "class", "archived_at": "archived",
}  # fmt: skip
_UNSAID = {
    "place",
    "board_place",
    "state_since",
    "held_since",
    "actual_start",
    "actual_finish",
    "pushes",
    "constraint_at",
    "held_minutes",
    "hanging",
}


DEFINED = frozenset({"field", "kind", "mark", "workflow", "lane", "period", "blank"})


def _defined_line(name: str, before: Any, after: Any) -> str | None:
    """One entry on what a project defines; that it came or went is said by the change."""
    if name in {"created", "deleted", "restored", "place"}:
        return None
    word = name.replace("_", " ")
    if any(isinstance(one, list | dict) for one in (before, after)) or name in {"required_from", "target_kind"}:
        return f"{word} changed"
    return f"{word} {'none' if before in {None, ''} else before} → {'none' if after in {None, ''} else after}"


class Sayer:
    """Puts journal entries into words.

    Args:
        plan: for the names of states and tasks.
        names: of people, by id.
        also: the project as it is now, where a change is to its states too.
        money: True for who may see sums.
    """

    def __init__(self, plan: Plan, names: dict[str, str], *, also: Project | None = None, money: bool = False) -> None:
        self._money = money
        self._plan = plan
        self._names = names
        self._states = {state.id: one.state_label(state) for one in (plan.project, also) if one for state in one.states}
        self._on_board: dict[str, str] = {one.id: one.name for one in plan.project.lanes} | {
            one.id: one.name for one in plan.project.periods
        }
        self._fields = {one.key: one for one in plan.project.fields}
        self._marks = {one.id: one.name for one in plan.project.marks}

    def line(self, name: str, old: str | None, new: str | None, subject: str = "task") -> str | None:
        """One entry in words, or None for what nobody needs to read."""
        before, after = from_json(old), from_json(new)
        if subject in KINDS:
            return self._part_line(subject, name, before, after)
        if subject in {"sheet", "template"}:
            return None  # the change says it; and what a sheet shows is its owner's matter
        if subject == "invoice":
            return None  # the change says it, and the rest is for who may see cost
        if subject in {"budget", "expense"}:
            return self._money_line(subject, name, after)
        if subject == "time":
            return self._time_line(name, before, after)
        if subject == "part":  # not everybody who reads this may see what was joined
            return f"{name} of a part changed" if name in {"shows", "states"} else None
        if subject in DEFINED:
            return _defined_line(name, before, after)
        if name in _UNSAID:
            return None
        if name == "constraint_type" and {before, after} <= {None, "asap", "start_no_earlier", "finish_no_earlier"}:
            return None  # the date itself is said
        if name == "created":
            return "written down" if isinstance(after, dict) and "title" in after else "created"
        if name == "deleted_at":
            return "deleted" if after else "restored"
        if name == "repeats":
            return f"repeats {say_rule(after['rule'], self._plan.now.date())}" if after else "does not repeat any more"
        if name == "description":
            return "description rewritten" if after else "description removed"
        if name == "elapsed":
            return "runs through nights and holidays" if after else "counts working time"
        if name in {"week", "exceptions"}:
            return f"{'working week' if name == 'week' else 'days that differ'} changed"
        word = self._fields[name].name if name in self._fields else _FIELD_WORDS.get(name, name)
        return f"{word} {self._value(name, before)} → {self._value(name, after)}"

    def _time_line(self, name: str, before: Any, after: Any) -> str | None:
        """One entry on hours that were spent."""
        if name == "created":
            day = say_day(date.fromisoformat(after["day"]), self._plan.now.date())
            return f"{say_hours(after['minutes'])} of {self._names.get(after['person_id'], 'somebody')} on {day}"
        if name == "deleted_at":
            return f"hours {'taken away' if after else 'brought back'}"
        if name == "minutes":
            return f"hours {say_hours(before)} → {say_hours(after)}"
        if name == "task_id":
            task = self._plan.tasks.get(after)
            return f"hours went to {task.title if task else 'another task'}"
        if name == "day":
            return f"day of the hours {say_day(date.fromisoformat(before))} → {say_day(date.fromisoformat(after))}"
        return f"hours {'can be charged' if after else 'are not to be charged'}" if name == "billable" else None

    @staticmethod
    def _money_line(subject: str, name: str, after: Any) -> str | None:
        """One entry on money, without its figures: not everybody who reads this may see them."""
        if subject == "budget":
            return "budget set" if after is not None else "budget taken back"
        if name == "created":
            return "something spent was entered"
        if name == "deleted_at":
            return f"something spent was {'taken away' if after else 'brought back'}"
        return "what was spent was changed"

    def _part_line(self, subject: str, name: str, before: Any, after: Any) -> str | None:
        """One entry on what hangs on a task."""
        word = _PART_WORDS[subject]
        if name == "created":
            said = after.get("words") if isinstance(after, dict) else None
            if subject == "relation" and said:
                return str(said)
            return f"{_ADDED[subject]}{f' “{shortened(said)}”' if said else ''}"
        if name == "deleted_at":
            return f"{word} {'taken away' if after else 'put back'}"
        if name == "done_at":
            return None  # said by the words that stand with it
        if name == "done":
            return f"{'ticked' if after else 'took the tick off'} “{shortened(after or before)}”"
        if name == "resolved_at":
            return "comment resolved" if after else "comment opened again"
        if name == "task_id":
            return f"{word} came from another task"
        if name in {"body", "name", "text"}:
            return f"{word} {'rewritten' if name == 'body' else f'renamed {after}'}"
        return None

    def about(self, subject: str, subject_id: str, line: str, new: str | None) -> str:
        """Put the name of the subject in front of a line. Of a part that is the task that it hangs on."""
        if subject == "task" or subject in KINDS:
            task = self._plan.tasks.get(subject_id)
            value = from_json(new)
            title = task.title if task else value.get("title") if isinstance(value, dict) else None
            return f"{title or 'A deleted task'}: {line}"
        if subject == "budget":
            at = self._plan.tasks.get(subject_id)
            return f"{at.title}: {line}" if at else line
        if subject in {"time", "expense"} and new and isinstance(made := from_json(new), dict):
            at = self._plan.tasks.get(made.get("task_id", ""))
            return f"{at.title if at else 'A deleted task'}: {line}"
        if subject == "member":
            return f"{self._names.get(subject_id, 'A person')}: {line}"
        if subject == "state":
            return f"{self._states.get(subject_id, 'A state')}: {line}"
        return line

    def _own_value(self, one: CustomField, value: Any) -> str:
        names = {option.id: option.name for option in one.options} | (self._names if one.type == "person" else {})
        if one.type == "tied":  # who reads this may not see those
            return f"{len(value)} {'task' if len(value) == 1 else 'tasks'} of other projects"
        if one.type == "tasks":
            names = {each: self._plan.tasks[each].title for each in value if each in self._plan.tasks}
        if isinstance(value, list):
            return ", ".join(names.get(each, "gone") for each in value)
        if isinstance(value, bool):
            return "yes" if value else "no"
        return f"{names.get(value, value)} {one.unit}".strip()

    def _value(self, name: str, value: Any) -> str:
        if value is None or value == "" or value == []:
            return "none"
        if name in self._fields:
            return self._own_value(self._fields[name], value)
        if name == "marks":
            return ", ".join(self._marks.get(one, "a mark") for one in value)
        if name in {"lenses", "brief"}:
            return ", ".join(value)
        if name == "kind":
            return kind_name(value, self._plan.project)
        if name in {"owner_id", "lead_id"}:
            return self._names.get(value, "somebody")
        if name == "waits_for":
            return write_links([Link(*one) for one in value], self._plan.tasks, self._plan.calendar.day_minutes) or "none"
        if name == "constraint_type":
            return CONSTRAINT_WORDS.get(value, str(value))
        if name == "bookings":
            return ", ".join(
                f"{self._names.get(one[0], 'a crew or resource')} {say_booked(read_booking(one), money=self._money)}".rstrip()
                for one in value
            )
        if name == "keeps":
            return KEEPS_WORDS[value]
        if name == "helpers":
            return ", ".join(self._names.get(one, "somebody") for one in value)
        if name == "state_id":
            return self._states.get(value, "a deleted state")
        if name in {"lane_id", "period_id"}:
            return self._on_board.get(value, "one that is gone")
        if name == "held_by_id":
            task = self._plan.tasks.get(value)
            return task.title if task else "another task"
        if name == "parent_id":
            task = self._plan.tasks.get(value)
            return f"under {task.title}" if task else "elsewhere"
        if name in {"start", "finish", "deadline", "archived_at", "start_day"}:
            return say_day(datetime.fromisoformat(value).date(), self._plan.now.date())
        if name == "calendar_id":
            calendar = self._plan.project.calendars.get(value)
            return calendar.name if calendar else "a deleted calendar"
        if name == "effort":
            return say_hours(value)
        if name == "duration":
            return say_duration(value, self._plan.calendar.day_minutes)
        return f"{value} %" if name == "percent" else "won’t" if value == "wont" else str(value)
