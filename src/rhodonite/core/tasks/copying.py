"""Copies of tasks: in their project, or in another, where states, kinds, fields and marks are matched by their names."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from typing import Any

from .boards import Lane, Period
from .custom_fields import CustomField
from .model import KINDS, OPEN_CLASSES, Booking, Project, State, Task

_ALIKE = ("title", "owner_id", "helpers", "priority", "effort", "deadline", "keeps")
LEFT = "who has left"
REPEAT = "the repeat"
SUM = "the fixed sum"
_WHY = {
    REPEAT: ": a copy does not repeat, so that nothing is made twice",
    SUM: ": you may not see what both projects cost",
}
"""Of what is lost for another reason than that the project has none of that name."""
_PROGRESS = ("percent", "actual_start", "actual_finish", "state_since", "pushes", "held_reason", "held_since", "held_minutes")


@dataclass(slots=True)
class Matched:
    """What a task is to have in another project.

    Attributes:
        fields: as for a new task.
        progress: what is set besides where the task goes on rather than begins anew.
        placed: its lane, period and calendar there, set as they are.
        lost: what has no place there, each in words with the name it has.
    """

    fields: dict[str, Any] = field(default_factory=dict)
    progress: dict[str, Any] = field(default_factory=dict)
    placed: dict[str, Any] = field(default_factory=dict)
    lost: list[str] = field(default_factory=list)


@dataclass(frozen=True, slots=True)
class BookableThere:
    """Who and what can be booked in a project.

    Attributes:
        ids: of people and resources, wherever they are known, the id that they have there: resources of the project's own
            answer by name and kind.
        names: of resources, for what has no place there.
        sums: whether fixed sums come along: they do for who may see cost on both sides.
        moves: True where the task goes there, and does not stay beside its copy.
    """

    ids: Mapping[str, str]
    names: Mapping[str, str] = field(default_factory=dict)
    sums: bool = True
    moves: bool = False


def matched(task: Task, source: Project, target: Project, *, is_summary: bool, bookable: BookableThere | None = None) -> Matched:
    """Match a task to a project: by name, and states without a namesake by their class.

    Args:
        bookable: None where everything can that is booked.
        is_summary: True where its dates and progress are computed from tasks that come along.
    """
    found = Matched({name: getattr(task, name) for name in _ALIKE if getattr(task, name) not in (None, ())})
    if bookings := _bookings(task, found, bookable):
        found.fields["bookings"] = bookings
    if bookable is not None:
        _without_who_has_left(found, bookable)
    found.fields["kind"] = _kind(task, source, target, found)
    if not is_summary:
        _dates(task, found)
    _own(task, source, target, found, bookable)
    marks = [target_id for one in task.marks if (target_id := _mark(one, source, target, found))]
    if marks:
        found.fields["marks"] = marks
    if not is_summary:
        state = match_state(source.state(task.state_id), target)
        found.progress = {name: getattr(task, name) for name in _PROGRESS} | {"state_id": state.id}
        if task.constraint_type != "asap":
            found.progress |= {"constraint_type": task.constraint_type, "constraint_at": task.constraint_at}
    if task.repeats and bookable is not None:
        if bookable.moves:
            found.progress["repeats"] = task.repeats
        else:
            found.lost.append(REPEAT)
    _placed(task, source, target, found)
    return found


def _placed(task: Task, source: Project, target: Project, found: Matched) -> None:
    """Its lane, period and calendar: the same in its project, else those of the same name."""
    for name, what, there, here in (
        ("lane_id", "the lane", _names(source.lanes), _names(target.lanes)),
        ("period_id", "the period", _names(source.periods), _names(target.periods)),
        ("calendar_id", "the calendar", _calendar_names(source), _calendar_names(target)),
    ):
        one = getattr(task, name)
        if one is None or one not in there:
            continue
        other = one if one in here else next((each for each, called in here.items() if called == there[one]), None)
        if other is None:
            found.lost.append(f"{what} {there[one]}")
        else:
            found.placed[name] = other


def _names(several: Iterable[Lane] | Iterable[Period]) -> dict[str, str]:
    return {one.id: one.name for one in several}


def _calendar_names(project: Project) -> dict[str, str]:
    return {one: calendar.name for one, calendar in project.calendars.items()}


def _without_who_has_left(found: Matched, bookable: BookableThere) -> None:
    """Nobody is given new work who has left the organisation."""
    owner, helpers = found.fields.get("owner_id"), found.fields.get("helpers", ())
    if owner is not None and owner not in bookable.ids:
        del found.fields["owner_id"]
        found.lost.append(f"an owner {LEFT}")
    stay = tuple(one for one in helpers if one in bookable.ids)
    if len(stay) < len(helpers):
        found.fields["helpers"] = stay
        found.lost.append(f"a helper {LEFT}")


def _bookings(task: Task, found: Matched, bookable: BookableThere | None) -> tuple[Booking, ...]:
    if bookable is None:
        return task.bookings
    kept = []
    for one in task.bookings:
        if one.of == "fixed" and not bookable.sums:
            found.lost.append(SUM)
            continue
        who = bookable.ids.get(one.who)
        if who is not None:
            kept.append(replace(one, who=who))
        else:
            found.lost.append(f"the booking of {bookable.names.get(one.who, f'somebody {LEFT}')}")
    return tuple(kept)


def match_state(state: State, target: Project) -> State:
    """The state of a project that answers to one of another: of the same name, else the first of its class."""
    for one in target.states:
        if one.id == state.id:  # it stays in its project
            return one
    for one in target.states:
        if one.name.casefold() == state.name.casefold() and one.state_class == state.state_class:
            return one
    wanted = target.first_state(state.state_class) or target.first_state(
        "active" if state.state_class in OPEN_CLASSES else "finished"
    )
    return wanted or target.states[0]


def _kind(task: Task, source: Project, target: Project, found: Matched) -> str:
    if task.kind in KINDS or source.id == target.id:
        return task.kind
    name = next((one.name for one in source.kinds if one.id == task.kind), "")
    other = next((one.id for one in target.kinds if one.name.casefold() == name.casefold()), None)
    if other is None:
        found.lost.append(f"the kind {name}")
    return other or "task"


def _dates(task: Task, found: Matched) -> None:
    if task.kind == "milestone":
        if task.finish:
            found.fields["finish"] = task.finish
        return
    if task.duration is not None:
        found.fields["duration"] = task.duration
    elif task.finish is not None:
        found.fields["finish"] = task.finish
    if task.start is not None and not task.waits_for:
        found.fields["start"] = task.start
    if task.elapsed:
        found.fields["elapsed"] = True


def _mark(mark_id: str, source: Project, target: Project, found: Matched) -> str | None:
    name = next((one.name for one in source.marks if one.id == mark_id), "")
    other = next((one.id for one in target.marks if one.name.casefold() == name.casefold()), None)
    if other is None and name:
        found.lost.append(f"the mark {name}")
    return other


def _own(task: Task, source: Project, target: Project, found: Matched, bookable: BookableThere | None) -> None:
    for one in source.fields:
        value = task.own.get(one.id)
        if value is None or one.type == "computed" or (one.type == "tied" and source.id == target.id):
            continue  # what a copy stands for is tied to nothing yet
        if bookable is not None and one.type == "person" and value not in bookable.ids:
            found.lost.append(f"the field {one.name}")
            continue
        other = one if source.id == target.id else _namesake(one, target)
        said = _in_terms_of(one, other, value, moves=bookable is not None and bookable.moves) if other else None
        if other is None or said is None:
            found.lost.append(f"the field {one.name}")
        else:
            found.fields[other.key] = said


def _namesake(one: CustomField, target: Project) -> CustomField | None:
    alike = [other for other in target.fields if other.name.casefold() == one.name.casefold() and other.type == one.type]
    return alike[0] if alike else None


def _in_terms_of(one: CustomField, other: CustomField, value: Any, *, moves: bool) -> Any:
    """A value with the ids that the other field's list has. None where it has no such entry; tasks of its own project stay
    behind, those of others stay tied to what moves."""
    if one.type == "tied":
        return value if moves else None
    if one.id == other.id or one.type not in {"choice", "choices", "tasks"}:
        return value
    if one.type == "tasks":
        return None
    names = {option.id: option.name.casefold() for option in one.options}
    ids = {option.name.casefold(): option.id for option in other.options}
    several = [ids.get(names.get(each, "")) for each in (value if isinstance(value, list) else [value])]
    if None in several:
        return None
    return several if isinstance(value, list) else several[0]


def say_lost(lost: Iterable[str], target: Project) -> list[str]:
    """What has no place in a project, each once with how many tasks it concerns."""
    return [_say_lost(what, count, target) for what, count in Counter(lost).items()]


def _say_lost(what: str, count: int, target: Project) -> str:
    left = what.endswith(LEFT)
    why = "" if left else _WHY.get(what, f": {target.code} has none of that name")
    return f"{what[0].upper()}{what[1:]}{',' if left else ''} of {count} task{'' if count == 1 else 's'}{why}."
