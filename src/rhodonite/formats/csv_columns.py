"""The columns of a CSV file of tasks: what each can be, and which head means which."""

from __future__ import annotations

import re
from collections.abc import Sequence

from ..core.tasks.custom_fields import CustomField

FIELDS: dict[str, str] = {
    "title": "Title",
    "outline": "Outline number",
    "parent": "Parent",
    "kind": "Kind",
    "owner": "Owner",
    "helpers": "Helpers",
    "state": "State",
    "priority": "Priority",
    "start": "Start",
    "finish": "Finish",
    "duration": "Duration",
    "deadline": "Deadline",
    "effort": "Effort",
    "people": "People and hours",
    "actual_start": "Started on",
    "actual_finish": "Finished on",
    "percent": "Percent done",
    "code": "Code",
    "waits_for": "Waits for",
    "constraint": "Constraint",
    "calendar": "Calendar",
    "marks": "Marks",
    "held": "Held",
    "holder": "Held by task",
    "repeats": "Repeats",
    "keeps": "When hours change",
    "checklists": "Checklists",
    "lane": "Lane",
    "period": "Backlog",
    "description": "Description",
}
"""What a column can be matched to."""

COLUMN_OF: dict[str, str] = {
    "title": "title", "kind": "kind", "owner_id": "owner", "helpers": "helpers", "state_id": "state", "priority": "priority",
    "start": "start", "finish": "finish", "duration": "duration", "elapsed": "duration", "deadline": "deadline",
    "effort": "effort", "bookings": "people", "actual_start": "actual_start", "actual_finish": "actual_finish",
    "percent": "percent", "number": "code", "waits_for": "waits_for", "constraint_type": "constraint",
    "constraint_at": "constraint", "calendar_id": "calendar", "marks": "marks", "held_reason": "held", "held_by_id": "holder",
    "lane_id": "lane", "period_id": "period", "repeats": "repeats", "keeps": "keeps", "checks": "checklists",
    "checks_done": "checklists", "parent_id": "outline", "place": "outline",
}  # fmt: skip
"""By field of a task the column that holds it. Own fields have columns of their own."""


_WORDS: dict[str, tuple[str, ...]] = {
    "title": ("title", "task", "name", "task name", "what", "summary", "activity"),
    "outline": ("outline", "outline number", "wbs", "number", "no", "nr", "#"),
    "parent": ("parent", "parent task", "under", "belongs to", "deliverable"),
    "kind": ("kind", "type"),
    "owner": ("owner", "who", "assignee", "assigned to", "responsible", "person", "assigned"),
    "helpers": ("helpers", "with", "also"),
    "state": ("state", "status", "stage"),
    "priority": ("priority", "prio"),
    "start": ("start", "start date", "begin", "from", "planned start", "starts"),
    "finish": ("finish", "finish date", "end", "end date", "due", "due date", "by", "planned finish", "until"),
    "duration": ("duration", "length", "days"),
    "deadline": ("deadline", "latest"),
    "effort": ("effort", "hours", "work", "estimate"),
    "people": ("people and hours", "bookings", "booked", "resources", "resource names"),
    "actual_start": ("actual start", "started on", "started", "really started", "begun on"),
    "actual_finish": ("actual finish", "finished on", "finished", "actual end", "completed", "completed on", "done on"),
    "percent": ("percent", "percent done", "% done", "done", "progress", "complete", "% complete"),
    "code": ("code", "id", "key", "task id"),
    "waits_for": ("waits for", "predecessors", "predecessor", "depends on", "after"),
    "constraint": ("constraint", "date constraint"),
    "lane": ("lane", "row of the board"),
    "period": ("backlog", "period", "backlog period"),
    "calendar": ("calendar", "task calendar", "working calendar"),
    "marks": ("marks", "mark", "labels", "label"),
    "held": ("held", "held because", "why held"),
    "holder": ("held by task", "held by", "blocked by"),
    "repeats": ("repeats", "repeat", "recurrence"),
    "keeps": ("when hours change", "what stays"),
    "checklists": ("checklists", "checklist"),
    "description": ("description", "notes", "note", "details", "comment"),
}


def match_columns(heads: Sequence[str], own: Sequence[CustomField] = ()) -> list[str | None]:
    """For each head the field that it names, each field once; None for a column that is left out.

    Args:
        own: the project's own fields, which are named before those that every project has.
    """
    by_name = {one.name.casefold(): one.key for one in own if one.type != "computed"}
    taken: set[str] = set()
    matched: list[str | None] = []
    for head in heads:
        word = " ".join(re.sub(r"[_\-]+", " ", head.lower()).split())
        name = by_name.get(head.strip().casefold())
        if name is None or name in taken:
            name = next((f for f, words in _WORDS.items() if word in words and f not in taken), None)
        if name:
            taken.add(name)
        matched.append(name)
    return matched
