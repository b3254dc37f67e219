"""The tree of tasks: its order, its numbers, and moves in it."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterable, Iterator, Mapping
from dataclasses import dataclass
from typing import Literal

from ..common.errors import RuleError
from ..common.ordering import Room, make_room
from .model import Task

Step = Literal["indent", "outdent", "up", "down"]
DEEPEST = 20


def _stands(task: Task) -> tuple[object, ...]:
    """Where a task stands in the tree."""
    return task.parent_id, task.place, task.number, task.deleted_at is None


class Outline:
    """The living tasks of a project as a tree, each row of siblings in order of its place.

    Args:
        tasks: by id; those in the bin are left out.
    """

    def __init__(self, tasks: Mapping[str, Task]) -> None:
        self.tasks = tasks
        self.children: dict[str | None, list[str]] = defaultdict(list)
        for task in tasks.values():
            if task.deleted_at is None:
                self.children[task.parent_id].append(task.id)
        for siblings in self.children.values():
            siblings.sort(key=self._place)

    def _place(self, task_id: str) -> tuple[str, int]:
        task = self.tasks[task_id]
        return task.place, task.number

    def is_summary(self, task_id: str) -> bool:
        """True for a task with tasks under it."""
        return bool(self.children.get(task_id))

    def over(self, tasks: Mapping[str, Task]) -> Outline:
        """A copy over other tasks that stand where those of this one do."""
        other = object.__new__(Outline)
        other.tasks, other.children = tasks, self.children.copy()
        return other

    def replace(self, changed: Iterable[tuple[Task | None, Task]]) -> None:
        """Take over changed tasks, each as it was before and as it stands in ``tasks`` now."""
        left: dict[str | None, set[str]] = defaultdict(set)
        joined: dict[str | None, list[str]] = defaultdict(list)
        for before, after in changed:
            if before is not None and _stands(before) == _stands(after):
                continue
            if before is not None and before.deleted_at is None:
                left[before.parent_id].add(before.id)
            if after.deleted_at is None:
                joined[after.parent_id].append(after.id)
        for parent in left.keys() | joined.keys():
            gone = left.get(parent, set())
            siblings = [one for one in self.children[parent] if one not in gone] + joined.get(parent, [])
            siblings.sort(key=self._place)
            self.children[parent] = siblings

    def walk(self, root: str | None = None) -> Iterator[tuple[str, int, str]]:
        """Every task below ``root`` in order, as (id, depth from 0, number such as ``1.2.3``)."""
        stack = [(iter(self.children.get(root, ())), "", 0)]
        while stack:
            siblings, prefix, count = stack.pop()
            task_id = next(siblings, None)
            if task_id is None:
                continue
            stack.append((siblings, prefix, count + 1))
            number = f"{prefix}{count + 1}"
            yield task_id, len(stack) - 1, number
            if below := self.children.get(task_id):
                stack.append((iter(below), f"{number}.", 0))

    def below(self, task_id: str) -> list[str]:
        """All tasks under a task, in order."""
        return [found for found, _, _ in self.walk(task_id)]

    def ancestors(self, task_id: str) -> list[str]:
        """The tasks above a task, the nearest first."""
        found: list[str] = []
        parent = self.tasks[task_id].parent_id
        while parent is not None and parent not in found:
            found.append(parent)
            parent = self.tasks[parent].parent_id
        return found

    def number_of(self, task_id: str) -> str:
        """The outline number of one task."""
        parts = []
        for one in [task_id, *self.ancestors(task_id)]:
            parts.append(str(self.children[self.tasks[one].parent_id].index(one) + 1))
        return ".".join(reversed(parts))

    def tops_of(self, ids: Collection[str]) -> list[str]:
        """Those of the tasks that stand under none of the others, in outline order."""
        chosen = set(ids)
        tops = {one for one in chosen if not chosen.intersection(self.ancestors(one))}
        if len(tops) == 1:
            return list(tops)
        return [one for one, _, _ in self.walk() if one in tops]

    def room_in(self, parent_id: str | None, after_id: str | None, count: int, moved: Collection[str] = ()) -> Room:
        """Places for ``count`` tasks under a parent, behind a sibling; None puts them first, ``"end"`` last.

        Args:
            moved: tasks that are on their way to these places and so do not count as siblings.
        """
        siblings = [self.tasks[one] for one in self.children.get(parent_id, ()) if one not in moved]
        return make_room(siblings, after_id, count)


@dataclass(frozen=True, slots=True)
class Placing:
    """Where a task is to stand."""

    task_id: str
    parent_id: str | None
    place: str


def move(outline: Outline, ids: Collection[str], parent_id: str | None, after_id: str | None) -> list[Placing]:
    """Put tasks (with all under them) beneath a parent, behind a sibling, in their outline order.

    Args:
        after_id: the sibling to stand behind; None for the first place, ``"end"`` for the last.

    Raises:
        RuleError: a task would come to stand under itself, or the outline would grow too deep.
    """
    tops = outline.tops_of(ids)
    line = [parent_id, *outline.ancestors(parent_id)] if parent_id else []
    for one in tops:
        if one in line:
            raise RuleError(f"“{outline.tasks[one].title}” cannot stand under itself. Choose another place.", "parent_id")
    if len(line) >= DEEPEST:
        raise RuleError(f"The outline is {DEEPEST} levels deep at most. Move the task further up.", "parent_id")
    siblings = outline.children.get(parent_id, ())
    if after_id and after_id != "end" and (after_id not in siblings or after_id in tops):
        left = [one for one in siblings[: siblings.index(after_id)] if one not in tops] if after_id in siblings else []
        after_id = left[-1] if left else None
    room = outline.room_in(parent_id, after_id, len(tops), tops)
    placings = [Placing(one, parent_id, place) for one, place in zip(tops, room.places, strict=True)]
    return placings + [Placing(one, parent_id, place) for one, place in room.others.items()]


def step(outline: Outline, ids: Collection[str], how: Step) -> list[Placing]:
    """Move tasks by one step: under the sibling before, beside the parent, or past a sibling.

    Tasks that cannot take the step (the first of a row cannot be indented) stay where they are.
    """
    tops = outline.tops_of(ids)
    if not tops:
        return []
    parent = outline.tasks[tops[0]].parent_id
    row = [one for one in tops if outline.tasks[one].parent_id == parent]
    siblings = outline.children[parent]
    first, last = siblings.index(row[0]), siblings.index(row[-1])
    if how == "indent":
        return move(outline, row, siblings[first - 1], "end") if first else []
    if how == "outdent":
        return move(outline, row, outline.tasks[parent].parent_id, parent) if parent else []
    if how == "up":
        return move(outline, row, parent, siblings[first - 2] if first > 1 else None) if first else []
    return move(outline, row, parent, siblings[last + 1]) if last + 1 < len(siblings) else []


@dataclass(frozen=True, slots=True)
class Line:
    """One pasted line: its title and how deep it stands under the lines before it."""

    title: str
    depth: int


def read_lines(text: str) -> list[Line]:
    """Read pasted lines into titles and depths. Indentation (tabs or spaces) becomes nesting.

    List signs in front of a title (``-``, ``*``, ``1.``, ``1.2``) are taken off; empty lines are left out. A line
    stands at most one level below the line before it.
    """
    found: list[Line] = []
    widths: list[int] = []
    for raw in text.replace("\r\n", "\n").replace("\r", "\n").split("\n"):
        if not raw.strip():
            continue
        body = raw.expandtabs(4)
        width = len(body) - len(body.lstrip())
        while widths and width < widths[-1]:
            widths.pop()
        if not widths or width > widths[-1]:
            widths.append(width)
        found.append(Line(_bare_title(body.strip()), min(len(widths) - 1, DEEPEST - 1)))
    return found


def _bare_title(text: str) -> str:
    head, _, rest = text.partition(" ")
    is_number = head.rstrip(".)").replace(".", "").isdigit() and (head.endswith((".", ")")) or "." in head)
    return rest.strip() if rest.strip() and (head in {"-", "*", "•", "–"} or is_number) else text


def nest(lines: Iterable[Line]) -> list[int | None]:
    """For each line the index of the line that it stands under, or None."""
    above: list[int] = []
    parents: list[int | None] = []
    for index, line in enumerate(lines):
        del above[line.depth :]
        parents.append(above[-1] if above else None)
        above.append(index)
    return parents
